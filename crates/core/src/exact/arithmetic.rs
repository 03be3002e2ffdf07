//! Sums, products, quotients and order: in one machine word, in two, or as long as it takes.

use std::cmp::Ordering;
use std::ops::{Add, Div, Mul, Neg, Sub};

use super::{Exact, Repr};

/// A numerator, and a denominator above 0.
type Terms = [i64; 2];

/// Whether all four are so short that a sum of two products fits in one word: nearly all are.
#[inline]
const fn are_half_words([a, b]: Terms, [c, d]: Terms) -> bool {
    (a.unsigned_abs() | b.unsigned_abs() | c.unsigned_abs() | d.unsigned_abs()) >> 31 == 0
}

/// Terms that are as wide as products of two words.
#[inline]
fn widened([a, b]: Terms, [c, d]: Terms) -> [i128; 4] {
    [i128::from(a), i128::from(b), i128::from(c), i128::from(d)]
}

#[inline]
fn sum(one: Terms, other: Terms) -> Exact {
    if are_half_words(one, other) {
        let ([a, b], [c, d]) = (one, other);
        // OK because a sum of two products of half words fits in one word, here and below.
        return if b == d {
            Exact::small(a.wrapping_add(c), b)
        } else {
            Exact::small(a.wrapping_mul(d).wrapping_add(c.wrapping_mul(b)), b.wrapping_mul(d))
        };
    }
    let [a, b, c, d] = widened(one, other);
    // OK because every product of two words is below 2^126.
    if b == d { Exact::wide(a + c, b) } else { Exact::wide(a * d + c * b, b * d) }
}

#[inline]
fn difference(one: Terms, [c, d]: Terms) -> Exact {
    sum(one, [-c, d])
}

#[inline]
fn product(one: Terms, other: Terms) -> Exact {
    if are_half_words(one, other) {
        let ([a, b], [c, d]) = (one, other);
        return Exact::small(a.wrapping_mul(c), b.wrapping_mul(d));
    }
    let [a, b, c, d] = widened(one, other);
    Exact::wide(a * c, b * d)
}

#[inline]
fn quotient(one: Terms, other: Terms) -> Exact {
    assert!(other[0] != 0, "division by zero");
    if are_half_words(one, other) {
        let ([a, b], [c, d]) = (one, other);
        let (n, m) = (a.wrapping_mul(d), b.wrapping_mul(c));
        return if c < 0 { Exact::small(n.wrapping_neg(), m.wrapping_neg()) } else { Exact::small(n, m) };
    }
    let [a, b, c, d] = widened(one, other);
    if c < 0 { Exact::wide(-a * d, b * -c) } else { Exact::wide(a * d, b * c) }
}

#[inline]
fn order(one: Terms, other: Terms) -> Ordering {
    if are_half_words(one, other) {
        let ([a, b], [c, d]) = (one, other);
        return a.wrapping_mul(d).cmp(&c.wrapping_mul(b));
    }
    let [a, b, c, d] = widened(one, other);
    (a * d).cmp(&(c * b))
}

/// Values that are given away are taken apart: of short ones nothing is left to be freed.
macro_rules! operations {
    ($($(#[$note:meta])* $op:ident $method:ident: $short:ident;)*) => {$(
        $(#[$note])*
        impl $op for &Exact {
            type Output = Exact;
            #[inline]
            fn $method(self, other: &Exact) -> Exact {
                match (&self.0, &other.0) {
                    (Repr::Small { numerator: a, denominator: b }, Repr::Small { numerator: c, denominator: d }) => {
                        $short([*a, b.get()], [*c, d.get()])
                    }
                    _ => Exact::long($op::$method(self.to_long(), other.to_long())),
                }
            }
        }
        impl $op for Exact {
            type Output = Exact;
            #[inline]
            fn $method(self, other: Exact) -> Exact {
                match (self.0, other.0) {
                    (Repr::Small { numerator: a, denominator: b }, Repr::Small { numerator: c, denominator: d }) => {
                        $short([a, b.get()], [c, d.get()])
                    }
                    (one, other) => (&Exact(one)).$method(&Exact(other)),
                }
            }
        }
        impl $op<&Exact> for Exact {
            type Output = Exact;
            #[inline]
            fn $method(self, other: &Exact) -> Exact {
                match (self.0, &other.0) {
                    (Repr::Small { numerator: a, denominator: b }, Repr::Small { numerator: c, denominator: d }) => {
                        $short([a, b.get()], [*c, d.get()])
                    }
                    (one, _) => (&Exact(one)).$method(other),
                }
            }
        }
        impl $op<Exact> for &Exact {
            type Output = Exact;
            #[inline]
            fn $method(self, other: Exact) -> Exact {
                match (&self.0, other.0) {
                    (Repr::Small { numerator: a, denominator: b }, Repr::Small { numerator: c, denominator: d }) => {
                        $short([*a, b.get()], [c, d.get()])
                    }
                    (_, other) => self.$method(&Exact(other)),
                }
            }
        }
    )*};
}

operations! {
    Add add: sum;
    Sub sub: difference;
    Mul mul: product;
    /// # Panics
    /// If the divisor is 0, as for whole numbers. The core divides only by values whose types exclude 0.
    Div div: quotient;
}

impl Neg for &Exact {
    type Output = Exact;
    #[inline]
    fn neg(self) -> Exact {
        match &self.0 {
            Repr::Small { numerator, denominator } => {
                Exact(Repr::Small { numerator: -numerator, denominator: *denominator })
            }
            Repr::Long(value) => Exact::long(-(**value).clone()),
        }
    }
}

impl Neg for Exact {
    type Output = Exact;
    #[inline]
    fn neg(self) -> Exact {
        match self.0 {
            Repr::Small { numerator, denominator } => Exact(Repr::Small { numerator: -numerator, denominator }),
            Repr::Long(value) => Exact::long(-*value),
        }
    }
}

impl Ord for Exact {
    #[inline]
    fn cmp(&self, other: &Self) -> Ordering {
        match (&self.0, &other.0) {
            (Repr::Small { numerator: a, denominator: b }, Repr::Small { numerator: c, denominator: d }) => {
                order([*a, b.get()], [*c, d.get()])
            }
            _ => self.to_long().cmp(&other.to_long()),
        }
    }
}

impl PartialOrd for Exact {
    #[inline]
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl PartialEq for Exact {
    #[inline]
    fn eq(&self, other: &Self) -> bool {
        self.cmp(other) == Ordering::Equal
    }
}

impl Eq for Exact {}
