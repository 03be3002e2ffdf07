//! A pocket calculator: numbers, the four signs and brackets, reckoned exactly.

use ratiomet_core::Exact;
use ratiomet_core::fraction::{self, Sign};

use super::question::Question;

/// What a sum comes to; none for one that cannot be reckoned.
pub(super) fn of(text: &str) -> Option<Question> {
    let sum = plain(text);
    let mut reader = Reader { rest: &sum };
    let value = reader.sum()?.reduced();
    if !reader.rest.trim().is_empty() {
        return None;
    }
    let decimal = value.to_short_decimal(4);
    let exact = fraction::parse(&decimal, Sign::Allowed).is_ok_and(|parsed| parsed == value);
    let sentence = if exact { format!("{decimal}.") } else { format!("{decimal}, exactly {value}.") };
    Some(Question::figure(sum.split_whitespace().collect::<Vec<_>>().join(" "), sentence))
}

/// Whether a text is a sum: nothing but numbers, signs and brackets, and no question about a frame, as a side and a
/// ratio are.
pub(super) fn is_sum(text: &str) -> bool {
    let sum = plain(text);
    let known = |c: char| c.is_ascii_digit() || matches!(c, '.' | ',' | '+' | '-' | '*' | '/' | '(' | ')' | ' ');
    sum.contains(['+', '-', '*', '/']) && sum.chars().all(known) && !is_of_a_frame(&sum)
}

/// A sum with the signs that are known.
fn plain(text: &str) -> String {
    let sum = text.trim().trim_end_matches(['=', '?', ' ']).to_lowercase();
    sum.replace(" x ", " * ").replace(['×', '∗'], "*").replace('÷', "/").replace(['−', '–'], "-")
}

/// A side by a ratio of pictures, or a side over a side, is a frame.
fn is_of_a_frame(sum: &str) -> bool {
    let sides: Vec<&str> = sum.split(['*', '/']).map(str::trim).collect();
    let [one, other] = sides[..] else { return false };
    let (Some(one), Some(other)) = (number(one), number(other)) else { return false };
    let is_side = |value: &Exact| *value >= Exact::whole(240);
    let is_ratio = |value: &Exact| *value > Exact::ONE && *value < Exact::whole(4);
    // 1920/1080 is a size, and 16/9 a ratio.
    let is_size = is_side(&one) && is_side(&other);
    let is_plain_ratio = one < Exact::whole(100) && other < Exact::whole(100) && !sum.contains([' ', '*']);
    let is_product = sum.contains('*') && is_side(&other) && is_ratio(&one);
    is_size || is_plain_ratio || is_product || (is_side(&one) && is_ratio(&other))
}

/// A number, with a point or a comma.
fn number(text: &str) -> Option<Exact> {
    fraction::parse(&text.replace(',', "."), Sign::Never).ok()
}

/// Reads a sum from the left.
struct Reader<'a> {
    rest: &'a str,
}

impl Reader<'_> {
    /// The next sign, where it is one of these.
    fn sign(&mut self, signs: [char; 2]) -> Option<char> {
        let rest = self.rest.trim_start();
        let sign = rest.chars().next().filter(|sign| signs.contains(sign))?;
        self.rest = &rest[1..];
        Some(sign)
    }

    fn sum(&mut self) -> Option<Exact> {
        let mut value = self.product()?;
        while let Some(sign) = self.sign(['+', '-']) {
            let next = self.product()?;
            value = if sign == '+' { value + next } else { value - next };
        }
        Some(value)
    }

    fn product(&mut self) -> Option<Exact> {
        let mut value = self.factor()?;
        while let Some(sign) = self.sign(['*', '/']) {
            let next = self.factor()?;
            value = if sign == '*' { value * next } else { (!next.is_zero()).then(|| value / next)? };
        }
        Some(value)
    }

    fn factor(&mut self) -> Option<Exact> {
        let rest = self.rest.trim_start();
        if let Some(inner) = rest.strip_prefix('(') {
            self.rest = inner;
            let value = self.sum()?;
            self.rest = self.rest.trim_start().strip_prefix(')')?;
            return Some(value);
        }
        let end = rest.find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | ','))).unwrap_or(rest.len());
        let value = number(&rest[..end])?;
        self.rest = &rest[end..];
        Some(value)
    }
}
