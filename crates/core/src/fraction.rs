//! Fractions as people write them: `2.39`, `16:9`, `24000/1001`.

use crate::limits::DIGITS;
use crate::{Error, Exact};

/// Whether a minus sign may stand in front.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Sign {
    /// Only 0 and above can be written.
    Never,
    /// A minus sign may stand in front.
    Allowed,
}

/// The value of a written fraction.
///
/// A string of digits with at most one decimal point, optionally over a second one behind `/` or
/// `:`. At most 12 digits stand in each part, leading and trailing zeros counted.
///
/// # Errors
/// [`Error::is_syntax`] for anything else: a plus sign, spaces, an exponent, a point without digits
/// on both sides, a zero below the line.
///
/// ```
/// use ratiomet_core::{Exact, fraction::{Sign, parse}};
/// assert_eq!(parse("2.39:1", Sign::Never)?, Exact::fraction(239, 100));
/// assert_eq!(parse("24000/1001", Sign::Never)?, Exact::fraction(24000, 1001));
/// assert!(parse(".5", Sign::Never).is_err());
/// assert!(parse("1:0", Sign::Never).is_err());
/// # Ok::<(), ratiomet_core::Error>(())
/// ```
pub fn parse(text: &str, sign: Sign) -> Result<Exact, Error> {
    let refuse = || Error::syntax(sign);
    let (negative, digits) = match text.strip_prefix('-') {
        Some(rest) if sign == Sign::Allowed => (true, rest),
        Some(_) => return Err(refuse()),
        None => (false, text),
    };
    let (above, below) = match digits.find(['/', ':']) {
        Some(at) => (&digits[..at], Some(&digits[at + 1..])),
        None => (digits, None),
    };
    let (top, top_places) = part(above).ok_or_else(refuse)?;
    let (bottom, bottom_places) = below.map_or(Some((1, 1)), part).ok_or_else(refuse)?;
    // OK because 12 digits times a power of ten below 10^12 stay under 10^24.
    let numerator = top * bottom_places;
    Exact::from_parts(if negative { -numerator } else { numerator }, bottom * top_places).ok_or_else(refuse)
}

/// The digits of one part as a whole number, and the power of ten that they stand over.
fn part(text: &str) -> Option<(i128, i128)> {
    let (whole, decimals) = match text.split_once('.') {
        Some((whole, decimals)) if !decimals.is_empty() => (whole, decimals),
        Some(_) => return None,
        None => (text, ""),
    };
    let count = whole.len() + decimals.len();
    if whole.is_empty() || count > DIGITS {
        return None;
    }
    let mut value = 0_i128;
    for digit in whole.bytes().chain(decimals.bytes()) {
        if !digit.is_ascii_digit() {
            return None;
        }
        value = value * 10 + i128::from(digit - b'0');
    }
    let places = u32::try_from(decimals.len()).ok()?;
    Some((value, 10_i128.pow(places)))
}

/// The value, if it can be written by the rules of requests; else the nearest decimal that can.
pub fn writable(value: &Exact) -> Exact {
    let value = value.clone().reduced();
    let text = value.to_string();
    if text.trim_start_matches('-').split('/').all(|part| part.len() <= DIGITS) {
        return value;
    }
    let whole = value.abs().to_decimal(0).len();
    let places = u32::try_from(DIGITS.saturating_sub(whole)).unwrap_or(0).min(Exact::MOST_PLACES);
    nearest(&value, places)
}

/// The text of [`writable`]: a decimal number where that is exact, else a fraction.
///
/// ```
/// use ratiomet_core::{Exact, fraction::writable_text};
/// assert_eq!(writable_text(&Exact::fraction(-3, 2)), "-1.5");
/// assert_eq!(writable_text(&Exact::fraction(180, 143)), "180/143");
/// ```
pub fn writable_text(value: &Exact) -> String {
    let value = writable(value);
    let decimal = value.to_short_decimal(Exact::MOST_PLACES);
    match parse(&decimal, Sign::Allowed) {
        Ok(same) if same == value => decimal,
        _ => value.to_string(),
    }
}

/// The nearest number of so many decimals; a tie goes up.
pub(crate) fn nearest(value: &Exact, places: u32) -> Exact {
    let power = Exact::from(10_i64.pow(places));
    let whole = (value * &power + Exact::fraction(1, 2)).floor_whole();
    (Exact::from(whole) / power).reduced()
}

/// A checked number together with the spelling that a person gave it: `12:11` stays `12:11`.
///
/// Two are equal when their spellings are.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Written<T> {
    text: String,
    value: T,
}

impl<T> Written<T> {
    /// The number that a text spells, by the rule that the type `T` names.
    ///
    /// # Errors
    /// Those of `rule`.
    pub fn parse(text: &str, rule: impl FnOnce(&str) -> Result<T, Error>) -> Result<Self, Error> {
        Ok(Self { value: rule(text)?, text: text.to_owned() })
    }

    /// A number that was not typed, in the spelling that it has in requests.
    pub fn of(value: T, exact: impl FnOnce(&T) -> &Exact) -> Self {
        Self { text: writable_text(exact(&value)), value }
    }

    /// A number that needs no check, in its plain spelling.
    pub(crate) fn plain(text: &str, value: T) -> Self {
        Self { text: text.to_owned(), value }
    }

    /// The spelling.
    pub fn text(&self) -> &str {
        &self.text
    }

    /// The number.
    pub const fn value(&self) -> &T {
        &self.value
    }
}
