//! [`Exact`]: a fraction of whole numbers, as long as it needs to be.

mod arithmetic;
mod text;

use std::num::NonZeroI64;

use num_bigint::BigInt;
use num_integer::Integer;
use num_rational::BigRational;
use num_traits::{Signed, ToPrimitive};

/// A number kept as a fraction, so that nothing is rounded before a rule says so.
///
/// # Guarantees
/// - The value is exact: every operation gives the true result, however long its digits.
/// - Two values compare as the numbers they are; there is no tolerance.
///
/// Most values fit in two machine words and are computed there, every product checked in twice the
/// width. The fraction is brought to lowest terms only when a word would overflow and when it is
/// shown; what still does not fit goes on as a [`BigRational`] and comes back as soon as it does.
///
/// ```
/// use ratiomet_core::Exact;
/// let height = Exact::whole(3840) / Exact::fraction(47, 20);
/// assert_eq!(height.to_string(), "76800/47");
/// assert_eq!(height.to_f64(), 1634.0425531914893);
/// ```
#[derive(Clone)]
pub struct Exact(Repr);

#[derive(Clone)]
enum Repr {
    /// `numerator` is above `i64::MIN` and `denominator` above 0, so that a sum of two products
    /// stays within `i128`. That it is not 0 keeps the value within two words.
    Small { numerator: i64, denominator: NonZeroI64 },
    /// In lowest terms, and too long for `Small`.
    Long(Box<BigRational>),
}

impl Exact {
    /// Nothing.
    pub const ZERO: Self = Self::small(0, 1);
    /// One whole.
    pub const ONE: Self = Self::small(1, 1);

    /// The denominator is above 0.
    #[inline]
    const fn small(numerator: i64, denominator: i64) -> Self {
        Self(Repr::Small { numerator, denominator: NonZeroI64::new(denominator).expect("above 0") })
    }

    /// A whole number.
    pub const fn whole(value: u32) -> Self {
        // OK because every u32 fits in an i64.
        Self::small(value as i64, 1)
    }

    /// `numerator / denominator`, for literals.
    ///
    /// # Panics
    /// If the denominator is 0.
    pub const fn fraction(numerator: i32, denominator: u32) -> Self {
        assert!(denominator > 0, "a denominator is at least 1");
        // OK because both types fit in an i64.
        Self::small(numerator as i64, denominator as i64)
    }

    /// `numerator / denominator` from wide parts, or `None` for a denominator that is not positive.
    pub fn from_parts(numerator: i128, denominator: i128) -> Option<Self> {
        (denominator > 0).then(|| Self::wide(numerator, denominator))
    }

    /// The denominator is above 0.
    #[inline]
    fn wide(numerator: i128, denominator: i128) -> Self {
        if let Some(fits) = Self::narrow(numerator, denominator) {
            return fits;
        }
        let shared = gcd(numerator.unsigned_abs(), denominator.unsigned_abs());
        // OK because the shared divisor of an i128 and a positive i128 is at most the latter.
        #[expect(clippy::cast_possible_wrap, reason = "at most the denominator")]
        let shared = shared as i128;
        let (numerator, denominator) = (numerator / shared, denominator / shared);
        Self::narrow(numerator, denominator)
            .unwrap_or_else(|| Self(Repr::Long(Box::new(BigRational::new_raw(numerator.into(), denominator.into())))))
    }

    #[inline]
    fn narrow(numerator: i128, denominator: i128) -> Option<Self> {
        let (n, d) = (i64::try_from(numerator).ok()?, i64::try_from(denominator).ok()?);
        (n > i64::MIN).then(|| Self::small(n, d))
    }

    fn long(value: BigRational) -> Self {
        match (value.numer().to_i64(), value.denom().to_i64()) {
            (Some(n), Some(d)) if n > i64::MIN => Self::small(n, d),
            _ => Self(Repr::Long(Box::new(value))),
        }
    }

    fn to_long(&self) -> BigRational {
        match &self.0 {
            Repr::Small { numerator, denominator } => {
                BigRational::new(BigInt::from(*numerator), BigInt::from(denominator.get()))
            }
            Repr::Long(value) => (**value).clone(),
        }
    }

    /// The same value with the shared divisors taken out, which keeps later steps short.
    #[must_use]
    #[inline]
    pub fn reduced(self) -> Self {
        match self.0 {
            Repr::Small { numerator, denominator } if denominator.get() != 1 => {
                let shared = gcd64(numerator, denominator.get());
                Self::small(numerator / shared, denominator.get() / shared)
            }
            own => Self(own),
        }
    }

    /// The same value, its shared divisors taken out where it has grown so long that the next steps would leave one word.
    #[must_use]
    #[inline]
    pub(crate) fn kept_short(self) -> Self {
        const LONG: u32 = 20;
        match self.0 {
            Repr::Small { numerator, denominator }
                if (numerator.unsigned_abs() | denominator.get().unsigned_abs()) >> LONG != 0 =>
            {
                self.reduced()
            }
            own => Self(own),
        }
    }

    /// The largest whole number not above the value, as far as an `i128` goes.
    fn floor(&self) -> i128 {
        match &self.0 {
            Repr::Small { numerator, denominator } => i128::from(numerator.div_euclid(denominator.get())),
            Repr::Long(value) => {
                value.floor().to_integer().to_i128().unwrap_or(if value.is_negative() { i128::MIN } else { i128::MAX })
            }
        }
    }

    /// The largest whole number not above the value, held within `i64`.
    pub fn floor_whole(&self) -> i64 {
        let whole = self.floor();
        i64::try_from(whole).unwrap_or(if whole < 0 { i64::MIN } else { i64::MAX })
    }

    /// The smallest whole number not below the value, held within `i64`.
    pub fn ceil_whole(&self) -> i64 {
        (-self).floor_whole().saturating_neg()
    }

    /// The smallest whole number not below the value, as far as an `i128` goes.
    pub(crate) fn ceil(&self) -> i128 {
        (-self).floor().saturating_neg()
    }

    /// Numerator and denominator in lowest terms, where both are short.
    pub fn short_terms(&self) -> Option<(i64, i64)> {
        match self.0 {
            Repr::Small { numerator, denominator } if denominator.get() == 1 => Some((numerator, 1)),
            Repr::Small { numerator, denominator } => {
                let shared = gcd64(numerator, denominator.get());
                Some((numerator / shared, denominator.get() / shared))
            }
            Repr::Long(_) => None,
        }
    }

    /// Numerator and denominator as they are kept, where both are short.
    pub const fn terms(&self) -> Option<(i64, i64)> {
        match self.0 {
            Repr::Small { numerator, denominator } => Some((numerator, denominator.get())),
            Repr::Long(_) => None,
        }
    }

    /// Whether both are kept as the same two words; unlike equality that costs nothing.
    pub fn is_same_fraction(&self, other: &Self) -> bool {
        match (&self.0, &other.0) {
            (&Repr::Small { numerator: a, denominator: b }, &Repr::Small { numerator: c, denominator: d }) => {
                a == c && b == d
            }
            _ => false,
        }
    }

    /// Whether the value is 0.
    pub fn is_zero(&self) -> bool {
        matches!(self.0, Repr::Small { numerator: 0, .. })
    }

    /// Whether the value is under 0.
    pub fn is_negative(&self) -> bool {
        match &self.0 {
            Repr::Small { numerator, .. } => *numerator < 0,
            Repr::Long(value) => value.is_negative(),
        }
    }

    /// Whether the value is over 0.
    pub fn is_positive(&self) -> bool {
        !self.is_zero() && !self.is_negative()
    }

    /// The value without its sign.
    #[must_use]
    pub fn abs(&self) -> Self {
        if self.is_negative() { -self } else { self.clone() }
    }

    /// The smaller of two values.
    #[must_use]
    pub fn min(self, other: Self) -> Self {
        if other < self { other } else { self }
    }

    /// The larger of two values.
    #[must_use]
    pub fn max(self, other: Self) -> Self {
        if other > self { other } else { self }
    }

    /// Half of the value.
    #[must_use]
    #[inline]
    pub fn half(&self) -> Self {
        match self.0 {
            Repr::Small { numerator, denominator } if numerator % 2 == 0 => {
                Self(Repr::Small { numerator: numerator / 2, denominator })
            }
            _ => self / &Self::small(2, 1),
        }
    }
}

/// Two wide numbers, the second above 0.
fn gcd(a: u128, b: u128) -> u128 {
    match (u64::try_from(a), u64::try_from(b)) {
        (Ok(a), Ok(b)) => u128::from(a.gcd(&b)),
        // One division brings the longer of the two down to the length of the other.
        _ if a > b => (a % b).gcd(&b),
        _ if a > 0 => (b % a).gcd(&a),
        _ => b,
    }
}

/// The second is above 0.
#[inline]
fn gcd64(a: i64, b: i64) -> i64 {
    // Most fractions here are far from lowest terms and simple once they are there: a few divisions
    // find their divisor, where taking out twos would go through every bit.
    const DIVISIONS: usize = 6;
    let (mut a, mut b) = (a.unsigned_abs(), b.unsigned_abs());
    for _ in 0..DIVISIONS {
        let rest = a % b;
        if rest == 0 {
            // OK because the shared divisor is at most the second of the two.
            return i64::try_from(b).unwrap_or(1);
        }
        (a, b) = (b, rest);
    }
    // OK because the shared divisor is at most the second of the two.
    i64::try_from(a.gcd(&b)).unwrap_or(1)
}

impl From<u32> for Exact {
    fn from(value: u32) -> Self {
        Self::whole(value)
    }
}

impl From<i64> for Exact {
    fn from(value: i64) -> Self {
        Self::wide(i128::from(value), 1)
    }
}
