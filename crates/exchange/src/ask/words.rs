//! The words of a question: sizes, ratios, factors, numbers with their units, and what stands between.

use ratiomet_core::fraction::{self, Sign};
use ratiomet_core::published::{self, NamedSize};

/// One word, or several that belong together.
#[derive(Clone, Debug, PartialEq)]
pub enum Word {
    /// Pixels across and down.
    Size([u32; 2]),
    /// A ratio with a colon or a stroke, as it is written in requests.
    Ratio(String),
    /// A factor with an x behind it: a squeeze.
    Factor(String),
    /// A bare number.
    Number(String),
    /// Frames a second.
    Rate(String),
    /// Seconds.
    Seconds(String),
    /// Megabits a second.
    Megabits(String),
    /// Kilobits a second.
    Kilobits(String),
    /// A word of the grammar.
    Key(Key),
    /// What is not understood.
    Other(String),
}

/// The words of the grammar.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Key {
    /// from, out of, in
    From,
    /// into, to
    Into,
    /// on
    On,
    /// at, shown at
    At,
    /// sphere, equirectangular
    Sphere,
    /// view, sees
    View,
    /// level, decoder
    Level,
    /// screen, watched
    Screen,
    /// slow, every frame once
    Slow,
    /// wide: the width is asked for, the height is held
    Wide,
    /// high: the height is asked for, the width is held
    High,
}

const KEYS: &[(&str, Key)] = &[
    ("from", Key::From),
    ("out", Key::From),
    ("of", Key::From),
    ("in", Key::From),
    ("inside", Key::From),
    ("into", Key::Into),
    ("to", Key::Into),
    ("on", Key::On),
    ("at", Key::At),
    ("sphere", Key::Sphere),
    ("spherical", Key::Sphere),
    ("equirectangular", Key::Sphere),
    ("equirect", Key::Sphere),
    ("view", Key::View),
    ("sees", Key::View),
    ("fov", Key::View),
    ("level", Key::Level),
    ("levels", Key::Level),
    ("decoder", Key::Level),
    ("screen", Key::Screen),
    ("watched", Key::Screen),
    ("slow", Key::Slow),
    ("wide", Key::Wide),
    ("high", Key::High),
    ("tall", Key::High),
];

/// Words that say nothing here.
const EMPTY: &[&str] = &[
    "a",
    "an",
    "the",
    "how",
    "what",
    "which",
    "is",
    "do",
    "does",
    "i",
    "get",
    "it",
    "frame",
    "sensor",
    "lens",
    "picture",
    "shown",
    "played",
    "with",
    "and",
    "for",
    "px",
    "pixels",
    "degree",
    "degrees",
    "deg",
    "ratio",
    "squeeze",
    "anamorphic",
    "as",
    "many",
    "much",
    "big",
    "factor",
    "anamorph",
];

/// The words of a text, and what was taken for granted in reading them.
pub fn words(text: &str) -> (Vec<Word>, Vec<String>) {
    let mut remarks = Vec::new();
    let text = text.to_lowercase().replace(['×', '✕'], "x").replace(['°', '?', '!', ';'], " ");
    let mut pieces: Vec<String> = text
        .split_whitespace()
        .map(|piece| piece.trim_matches(|c| matches!(c, ',' | '.' | '"' | '\'' | '(' | ')')).to_owned())
        .filter(|piece| !piece.is_empty())
        .collect();
    // "3840 x 2160" and "3840 by 2160" are one size; "12 mbps" one number with its unit.
    let mut at = 0;
    while at + 1 < pieces.len() {
        let between = at + 2 < pieces.len() && ["x", "by", "*"].contains(&pieces[at + 1].as_str());
        if between && is_side(&pieces[at]) && is_side(&pieces[at + 2]) {
            let joined = format!("{}x{}", pieces[at], pieces[at + 2]);
            pieces.splice(at..=at + 2, [joined]);
        } else if number(&pieces[at]).is_some() && unit(&pieces[at + 1]).is_some() {
            let joined = format!("{}{}", pieces[at], pieces[at + 1]);
            pieces.splice(at..=at + 1, [joined]);
        } else {
            at += 1;
        }
    }
    let found = pieces.iter().filter_map(|piece| word(piece, &mut remarks)).collect();
    (found, remarks)
}

fn is_side(text: &str) -> bool {
    (1..=5).contains(&text.len()) && text.bytes().all(|byte| byte.is_ascii_digit())
}

/// A number as requests spell it: a decimal comma becomes a point.
fn number(text: &str) -> Option<String> {
    let plain = if text.matches(',').count() == 1 { text.replace(',', ".") } else { text.to_owned() };
    let plain = match plain.strip_prefix('.') {
        Some(rest) => format!("0.{rest}"),
        None => plain,
    };
    fraction::parse(&plain, Sign::Never).is_ok().then_some(plain)
}

fn unit(text: &str) -> Option<fn(String) -> Word> {
    Some(match text {
        "fps" | "p" | "hz" | "i" => Word::Rate,
        "s" | "sec" | "secs" | "second" | "seconds" => Word::Seconds,
        "min" | "minutes" | "minute" => |minutes: String| {
            let seconds = fraction::parse(&minutes, Sign::Never).map(|value| value * ratiomet_core::Exact::whole(60));
            seconds.map_or(Word::Other(minutes), |seconds| Word::Seconds(fraction::writable_text(&seconds)))
        },
        "mbps" | "mbit/s" | "mbit" | "mb/s" => Word::Megabits,
        "kbps" | "kbit/s" | "kbit" | "kb/s" => Word::Kilobits,
        _ => return None,
    })
}

fn word(piece: &str, remarks: &mut Vec<String>) -> Option<Word> {
    if let Some((_, key)) = KEYS.iter().find(|(word, _)| *word == piece) {
        return Some(Word::Key(*key));
    }
    if EMPTY.contains(&piece) {
        return None;
    }
    if let Some(size) = size(piece, remarks) {
        return Some(Word::Size(size));
    }
    if let Some(plain) = number(piece) {
        if piece.contains(',') {
            remarks.push(format!("{piece} is read as {plain}"));
        }
        return Some(if plain.contains([':', '/']) { Word::Ratio(plain) } else { Word::Number(plain) });
    }
    // A number with something behind it.
    let digits = piece.find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | ',' | '/' | ':')))?;
    let (front, back) = piece.split_at(digits);
    let known = number(front).and_then(|front| match back {
        "x" => Some(Word::Factor(front)),
        _ => unit(back).map(|make| make(front)),
    });
    Some(known.unwrap_or_else(|| Word::Other(piece.to_owned())))
}

/// A size by its sides or by a name of the trade.
fn size(piece: &str, remarks: &mut Vec<String>) -> Option<[u32; 2]> {
    if let Some((width, height)) = piece.split_once('x')
        && is_side(width)
        && is_side(height)
    {
        return Some([width.parse().ok()?, height.parse().ok()?]);
    }
    let NamedSize { size: sides, doubt } = published::named_size(piece)?;
    if let Some(doubt) = doubt {
        let [width, height] = sides;
        remarks.push(format!("{} is read as {width}×{height}: {doubt}", piece.to_uppercase()));
    }
    Some(sides)
}
