//! Exact numbers as digits and as doubles.

use std::fmt;

use num_traits::ToPrimitive;

use super::{Exact, Repr};

/// Below this a whole number is its own double.
const EXACT_IN_F64: u64 = 1 << 53;

impl Exact {
    /// The nearest double.
    pub fn to_f64(&self) -> f64 {
        match &self.0 {
            Repr::Small { numerator, denominator }
                if numerator.unsigned_abs() < EXACT_IN_F64 && denominator.get().unsigned_abs() < EXACT_IN_F64 =>
            {
                // OK because both are exact doubles, and one division rounds once.
                #[expect(clippy::cast_precision_loss, reason = "both are below 2^53")]
                let value = *numerator as f64 / denominator.get() as f64;
                value
            }
            _ => self.to_long().to_f64().unwrap_or(f64::INFINITY),
        }
    }

    /// The most decimals that a number is written with.
    pub const MOST_PLACES: u32 = 11;

    /// The value as a decimal number with so many places, the last one rounded to the nearest, a tie
    /// up. Past the reach of `i128` it is the nearest double.
    ///
    /// ```
    /// # use ratiomet_core::Exact;
    /// assert_eq!(Exact::fraction(-76800, 47).to_decimal(2), "-1634.04");
    /// ```
    pub fn to_decimal(&self, places: u32) -> String {
        let places = places.min(Self::MOST_PLACES);
        let power = 10_i64.pow(places);
        let scaled = (self * Exact::from(power) + Exact::fraction(1, 2)).floor();
        if scaled == i128::MAX || scaled == i128::MIN {
            return self.to_f64().to_string();
        }
        let sign = if scaled < 0 { "-" } else { "" };
        // Short ones are divided and written several times as fast.
        if let (Ok(scaled), width) = (i64::try_from(scaled), places as usize) {
            let (whole, decimals) =
                (scaled.unsigned_abs() / power.unsigned_abs(), scaled.unsigned_abs() % power.unsigned_abs());
            return if width == 0 { format!("{sign}{whole}") } else { format!("{sign}{whole}.{decimals:0width$}") };
        }
        let power = u128::from(power.unsigned_abs());
        let (whole, decimals) = (scaled.unsigned_abs() / power, scaled.unsigned_abs() % power);
        match places {
            0 => format!("{sign}{whole}"),
            places => format!("{sign}{whole}.{decimals:0width$}", width = places as usize),
        }
    }

    /// As [`Self::to_decimal`], without zeros at the end: `1.5` and not `1.500`.
    pub fn to_short_decimal(&self, places: u32) -> String {
        let text = self.to_decimal(places);
        if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
    }
}

/// In lowest terms, `numerator/denominator`, without `/1` for a whole number.
impl fmt::Display for Exact {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match (self.short_terms(), &self.0) {
            (Some((numerator, 1)), _) => write!(f, "{numerator}"),
            (Some((numerator, denominator)), _) => write!(f, "{numerator}/{denominator}"),
            (None, Repr::Long(value)) if value.is_integer() => write!(f, "{}", value.numer()),
            (None, Repr::Long(value)) => write!(f, "{}/{}", value.numer(), value.denom()),
            // OK because only a long value has no short terms.
            (None, Repr::Small { .. }) => Err(fmt::Error),
        }
    }
}

impl fmt::Debug for Exact {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        fmt::Display::fmt(self, f)
    }
}
