//! Sums, products, quotients and order: in one machine word, in two, or as long as it takes.

use std::cmp::Ordering;
use std::ops::{Add, Div, Mul, Neg, Sub};

use super::{Exact, Repr};

/// Whether all four are so short that a sum of two products fits in one word: nearly all are.
#[inline]
const fn are_half_words(a: i64, b: i64, c: i64, d: i64) -> bool {
    (a.unsigned_abs() | b.unsigned_abs() | c.unsigned_abs() | d.unsigned_abs()) >> 31 == 0
}

impl Add for &Exact {
    type Output = Exact;
    #[inline]
    fn add(self, other: &Exact) -> Exact {
        match (&self.0, &other.0) {
            (&Repr::Small { numerator: a, denominator: b }, &Repr::Small { numerator: c, denominator: d }) => {
                if are_half_words(a, b, c, d) {
                    return if b == d { Exact::small(a + c, b) } else { Exact::small(a * d + c * b, b * d) };
                }
                let (a, b, c, d) = (i128::from(a), i128::from(b), i128::from(c), i128::from(d));
                // OK because every product of two words is below 2^126.
                if b == d { Exact::wide(a + c, b) } else { Exact::wide(a * d + c * b, b * d) }
            }
            _ => Exact::long(self.to_long() + other.to_long()),
        }
    }
}

impl Mul for &Exact {
    type Output = Exact;
    #[inline]
    fn mul(self, other: &Exact) -> Exact {
        match (&self.0, &other.0) {
            (&Repr::Small { numerator: a, denominator: b }, &Repr::Small { numerator: c, denominator: d }) => {
                if are_half_words(a, b, c, d) {
                    return Exact::small(a * c, b * d);
                }
                Exact::wide(i128::from(a) * i128::from(c), i128::from(b) * i128::from(d))
            }
            _ => Exact::long(self.to_long() * other.to_long()),
        }
    }
}

/// # Panics
/// If the divisor is 0, as for whole numbers. The core divides only by values whose types exclude 0.
impl Div for &Exact {
    type Output = Exact;
    #[inline]
    fn div(self, other: &Exact) -> Exact {
        assert!(!other.is_zero(), "division by zero");
        match (&self.0, &other.0) {
            (&Repr::Small { numerator: a, denominator: b }, &Repr::Small { numerator: c, denominator: d }) => {
                if are_half_words(a, b, c, d) {
                    return if c < 0 { Exact::small(-a * d, b * -c) } else { Exact::small(a * d, b * c) };
                }
                let (n, m) = (i128::from(a) * i128::from(d), i128::from(b) * i128::from(c));
                if m < 0 { Exact::wide(-n, -m) } else { Exact::wide(n, m) }
            }
            _ => Exact::long(self.to_long() / other.to_long()),
        }
    }
}

impl Neg for &Exact {
    type Output = Exact;
    fn neg(self) -> Exact {
        match &self.0 {
            Repr::Small { numerator, denominator } => Exact::small(-numerator, *denominator),
            Repr::Long(value) => Exact::long(-(**value).clone()),
        }
    }
}

impl Neg for Exact {
    type Output = Exact;
    fn neg(self) -> Exact {
        -&self
    }
}

impl Sub for &Exact {
    type Output = Exact;
    #[inline]
    fn sub(self, other: &Exact) -> Exact {
        self + &-other
    }
}

macro_rules! by_value {
    ($($op:ident $method:ident),*) => {$(
        impl $op for Exact {
            type Output = Exact;
            #[inline]
            fn $method(self, other: Exact) -> Exact { (&self).$method(&other) }
        }
        impl $op<&Exact> for Exact {
            type Output = Exact;
            #[inline]
            fn $method(self, other: &Exact) -> Exact { (&self).$method(other) }
        }
        impl $op<Exact> for &Exact {
            type Output = Exact;
            #[inline]
            fn $method(self, other: Exact) -> Exact { self.$method(&other) }
        }
    )*};
}
by_value!(Add add, Sub sub, Mul mul, Div div);

impl Ord for Exact {
    #[inline]
    fn cmp(&self, other: &Self) -> Ordering {
        match (&self.0, &other.0) {
            (&Repr::Small { numerator: a, denominator: b }, &Repr::Small { numerator: c, denominator: d }) => {
                if are_half_words(a, b, c, d) {
                    return (a * d).cmp(&(c * b));
                }
                (i128::from(a) * i128::from(d)).cmp(&(i128::from(c) * i128::from(b)))
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
    fn eq(&self, other: &Self) -> bool {
        self.cmp(other) == Ordering::Equal
    }
}

impl Eq for Exact {}
