//! Numbers alone: a pocket calculator, a side and a ratio, ratios with each other.

use ratiomet_core::published::RATIOS;
use ratiomet_core::{Exact, Keep};

use super::frames::{HEIGHTS, extraction, out_of};
use super::parts::Parts;
use super::question::{Question, size_text, value};
use super::shapes::{nearest_pixel_shape, ratio_of};
use super::time;
use super::words::{Key, Word};

/// Ratios of pictures lie under it, rates at it or over it.
const LEAST_RATE: u32 = 16;

fn is_side(text: &str) -> bool {
    value(text).is_some_and(|value| value >= Exact::whole(100)) && text.parse::<u32>().is_ok()
}

fn is_ratio(text: &str) -> bool {
    value(text).is_some_and(|value| value.is_positive() && value < Exact::whole(LEAST_RATE))
}

/// What is asked by numbers alone.
pub(super) fn of(parts: &Parts<'_>) -> Option<Question> {
    let numbers = parts.numbers();
    let rates = parts.count(|word| matches!(word, Word::Rate(_)));
    match numbers[..] {
        _ if rates > 0 => time::cadence(parts),
        [only] if only.contains('/') => divided(parts, only),
        [only] if parts.has(Key::PixelShape) => {
            parts.first_ratio()?;
            nearest_pixel_shape(only)
        }
        [only] if is_ratio(only) => {
            parts.first_ratio()?;
            Some(ratio_alone(only))
        }
        [one, other] if is_side(one) && is_side(other) => sides(parts, one, other),
        [one, other] if is_side(one) != is_side(other) => side_and_ratio(parts, one, other),
        [one, other] if is_ratio(one) && is_ratio(other) => {
            parts.first_ratio()?;
            parts.first_ratio()?;
            ratios(parts, one, other)
        }
        [_, _] => time::cadence(parts),
        _ => None,
    }
}

/// 1920/2.35 in one word.
fn divided(parts: &Parts<'_>, only: &str) -> Option<Question> {
    let (side, ratio) = only.split_once('/')?;
    let side = value(side).filter(|side| *side >= Exact::whole(100))?;
    let across = u32::try_from(side.ceil_whole()).ok()?;
    parts.ratio()?;
    if value(ratio)? < Exact::whole(LEAST_RATE) {
        Some(held_side(Side::Width(across), ratio)?)
    } else {
        Some(ratio_of([across, ratio.parse().ok()?]))
    }
}

/// The frames that a ratio is most often cut out of.
fn ratio_alone(ratio: &str) -> Question {
    let [hd, rest @ ..] = [[1920, 1080], [3840, 2160], [2048, 1080], [4096, 2160]];
    let (understood, calculation) = out_of(ratio, hd);
    let question = Question::new(understood, || calculation);
    rest.into_iter().fold(question, |question, size| {
        let (understood, calculation) = out_of(ratio, size);
        question.or(understood, calculation)
    })
}

/// Two ratios: "4:3 in 16:9" stands inside, and "16:9 to 4:3" is cut to it.
fn ratios(parts: &Parts<'_>, one: &str, other: &str) -> Option<Question> {
    if parts.has(Key::Into) && !parts.any(&[Key::In, Key::From, Key::Fit]) {
        Some(ratio_in_ratio(other, one)?.or_all(ratio_in_ratio(one, other)?))
    } else {
        ratio_in_ratio(one, other)
    }
}

/// One ratio inside another: the second one is taken 1080 lines high, or as wide.
fn ratio_in_ratio(one: &str, other: &str) -> Option<Question> {
    // 1.78 is how 16:9 is written in short.
    let known = RATIOS.iter().filter_map(|ratio| value(ratio.ratio));
    let (said, close) = (value(other).filter(Exact::is_positive)?, Exact::fraction(2, 1_000));
    let outer = known.into_iter().find(|known| (known / &said - Exact::ONE).abs() < close).unwrap_or(said);
    let wide = |value: Exact| value.to_decimal(0).parse::<u32>().ok().map(|side| side.max(1));
    let container = if outer >= Exact::ONE {
        [wide(&outer * Exact::whole(1_080))?, 1_080]
    } else {
        [1_080, wide(Exact::whole(1_080) / &outer)?]
    };
    let understood = format!("{one} in {other} (as {})", size_text(container));
    Some(extraction(understood, container, one, Keep::Inside))
}

/// Two sides: the ratio of a frame, or the factor from one to the other.
fn sides(parts: &Parts<'_>, one: &str, other: &str) -> Option<Question> {
    let (from, to) = (one.parse().ok()?, other.parse().ok()?);
    let is_frame = parts.any(&[Key::Over, Key::RatioOf, Key::Times]);
    // Smaller numbers are rates.
    if !is_frame && u32::min(from, to) <= 240 {
        return time::cadence(parts);
    }
    if !is_frame && !parts.any(&[Key::Into, Key::From, Key::In, Key::At]) {
        return None;
    }
    parts.first_ratio()?;
    parts.first_ratio()?;
    if is_frame {
        return Some(ratio_of([from, to]));
    }
    let reversed = parts.has(Key::From) && !parts.any(&[Key::Into, Key::In, Key::At]);
    let (from, to) = if reversed { (to, from) } else { (from, to) };
    let factor = Exact::whole(to) / Exact::whole(from);
    let percent = (&factor * Exact::whole(100)).to_short_decimal(4);
    let sentence = format!("{}x, {percent} % on each side.", factor.to_short_decimal(4));
    Some(Question::figure(format!("a side of {from} into {to}"), sentence))
}

/// A side that is held.
#[derive(Clone, Copy)]
enum Side {
    Width(u32),
    Height(u32),
}

/// A side and a ratio; with a rate in the place of the ratio, two rates.
fn side_and_ratio(parts: &Parts<'_>, one: &str, other: &str) -> Option<Question> {
    let (side, ratio) = if is_side(one) { (one, other) } else { (other, one) };
    // 120 at 24: no ratio is that large.
    if parts.has(Key::Slow) || !is_ratio(ratio) {
        return time::cadence(parts);
    }
    let pixels: u32 = side.parse().ok()?;
    let asks = |key| parts.has(Key::How) && parts.has(key);
    let beside = |key| !parts.has(Key::How) && parts.has_beside(key, |_| true);
    let said = if parts.has(Key::Over) || asks(Key::High) || beside(Key::Wide) {
        Some(Side::Width(pixels))
    } else if parts.has(Key::Times) || asks(Key::Wide) || beside(Key::High) {
        Some(Side::Height(pixels))
    } else if parts.has(Key::High) {
        Some(Side::Width(pixels))
    } else if parts.has(Key::Wide) {
        Some(Side::Height(pixels))
    } else {
        None
    };
    parts.use_number(side);
    parts.ratio()?;
    if let Some(held) = said {
        return held_side(held, ratio);
    }
    // Portrait frames go by their width, and so do sides that no raster is as high as.
    let (width, height) = (Side::Width(pixels), Side::Height(pixels));
    let is_height = HEIGHTS.contains(&pixels) && value(ratio)? >= Exact::ONE;
    let (held, less) = if is_height { (height, width) } else { (width, height) };
    let (question, other) = (held_side(held, ratio)?, held_side(less, ratio));
    Some(match other.filter(|_| HEIGHTS.contains(&pixels)) {
        Some(other) => question.or_all(other),
        None => question,
    })
}

fn held_side(held: Side, ratio: &str) -> Option<Question> {
    let number = value(ratio).filter(Exact::is_positive)?;
    let up = |value: Exact| u32::try_from(value.ceil_whole()).unwrap_or(u32::MAX).max(1);
    let (container, keep, understood) = match held {
        Side::Width(width) => {
            ([width, up(Exact::whole(width) / &number)], Keep::Width, format!("{ratio}, {width} pixels wide"))
        }
        Side::Height(height) => {
            ([up(Exact::whole(height) * &number), height], Keep::Height, format!("{ratio}, {height} lines high"))
        }
    };
    Some(extraction(understood, container, ratio, keep))
}
