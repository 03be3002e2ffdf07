//! The words of a question: sizes, ratios, factors, numbers with their units, and what stands between.

use ratiomet_core::fraction::{self, Sign};
use ratiomet_core::published::{self, NamedSize};
use ratiomet_core::{DisplayRatio, Exact};

pub(super) use super::vocabulary::Key;
use super::vocabulary::{EMPTY, KEYS, PHRASES, RATIO_NAMES, SHARES, THOUSANDS};

/// One word, or several that belong together.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum Word {
    /// Pixels across and down.
    Size([u32; 2]),
    /// A ratio with a colon or a stroke, as it is written in requests.
    Ratio(String),
    /// A factor with an x behind it: a squeeze, or an enlargement.
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
    /// Thousand millions of bytes.
    Gigabytes(String),
    /// Percent.
    Percent(String),
    /// A share by its name, and as a number.
    Share(&'static str, &'static str),
    /// Thousands of pixels across.
    Thousands(u32),
    /// A word of the grammar.
    Key(Key),
    /// What is not understood.
    Other(String),
}

impl Word {
    /// What holds a value, or is not known, as it was written.
    pub fn text(&self) -> Option<String> {
        Some(match self {
            Self::Size([width, height]) => format!("{width}×{height}"),
            Self::Ratio(text) | Self::Number(text) | Self::Other(text) => text.clone(),
            Self::Factor(text) => format!("{text}x"),
            Self::Rate(text) => format!("{text} fps"),
            Self::Seconds(text) => format!("{text} s"),
            Self::Megabits(text) => format!("{text} Mbit/s"),
            Self::Kilobits(text) => format!("{text} kbit/s"),
            Self::Gigabytes(text) => format!("{text} GB"),
            Self::Percent(text) => format!("{text} %"),
            Self::Share(name, _) => (*name).to_owned(),
            Self::Thousands(across) => format!("{across} across"),
            Self::Key(_) => return None,
        })
    }
}

/// Which size is meant by a name that has two.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Meaning {
    First,
    Second,
}

/// A text as words.
pub(super) struct Words {
    pub words: Vec<Word>,
    /// What was taken for granted in reading them.
    pub remarks: Vec<String>,
    /// How the first name was read that means two sizes.
    pub reading: Option<String>,
}

/// The words of a text.
pub(super) fn words(text: &str, meaning: Meaning) -> Words {
    let text = text.to_lowercase().replace(['×', '✕'], "x").replace(['?', '!', ';', '"', '“', '”', '’', '\''], " ");
    let text = apart(&text);
    let mut remarks = Vec::new();
    let text = phrases(&text, &mut remarks);
    // Scope and flat are pictures of cinema: its container is meant by a name that has two meanings.
    let cinema = RATIO_NAMES
        .iter()
        .any(|(name, _, says)| matches!(*name, "scope" | "flat") && remarks.contains(&(*says).to_owned()));
    let mut pieces: Vec<String> = text
        .split_whitespace()
        .map(|piece| piece.trim_matches(|c| matches!(c, ',' | '.' | '(' | ')')).to_owned())
        .filter(|piece| !piece.is_empty())
        .collect();
    join(&mut pieces);
    let mut reader = PieceReader { meaning, cinema, remarks, reading: None };
    let mut words: Vec<Word> = pieces.iter().flat_map(|piece| reader.word(piece)).collect();
    reader.cameras(&mut words);
    turn_upright(&mut words);
    Words { words, remarks: reader.remarks, reading: reader.reading }
}

/// "3840 x 2160" and "3840 by 2160" are one size; "12 mbps" one number with its unit.
fn join(pieces: &mut Vec<String>) {
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
}

/// Signs stand apart from their numbers; arrows and signs of degrees are words.
fn apart(text: &str) -> String {
    let text = text.replace("->", " into ").replace("=>", " into ");
    let mut out = String::with_capacity(text.len());
    for each in text.chars() {
        match each {
            '→' | '⇒' | '➜' => out.push_str(" into "),
            '°' => out.push_str(" degrees "),
            '=' => out.push(' '),
            '*' | '÷' | '@' => out.extend([' ', each, ' ']),
            _ => out.push(each),
        }
    }
    out
}

fn phrases(text: &str, remarks: &mut Vec<String>) -> String {
    let mut text = format!(" {} ", text.split_whitespace().collect::<Vec<_>>().join(" "));
    for (phrase, word) in PHRASES {
        text = text.replace(&format!(" {phrase} "), &format!(" {word} "));
    }
    // "DCI scope 2K": the container is named in two places.
    for (short, container) in [(" 2k ", " dci2k "), (" 4k ", " dci4k ")] {
        if text.contains(" dci ") && text.contains(short) {
            text = text.replace(" dci ", " ").replace(short, container);
        }
    }
    for (name, ratio, says) in RATIO_NAMES {
        let named = format!(" {name} ");
        if text.contains(&named) {
            text = text.replace(&named, &format!(" {ratio} "));
            remarks.push((*says).to_owned());
        }
    }
    if text.contains(" 21:9 ") {
        remarks.push("21:9 is used for 2.33, 2.37 and 2.39; it is read as 21:9, which is 2.333".to_owned());
    }
    text
}

pub(super) fn is_side(text: &str) -> bool {
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

/// A number times a unit's size, or over it.
fn converted(text: String, by: &Exact, make: fn(String) -> Word) -> Word {
    let value = fraction::parse(&text, Sign::Never).map(|value| value * by);
    value.map_or(Word::Other(text), |value| make(fraction::writable_text(&value)))
}

fn unit(text: &str) -> Option<fn(String) -> Word> {
    Some(match text {
        "fps" | "p" | "hz" | "i" | "fps." => Word::Rate,
        "s" | "sec" | "secs" | "second" | "seconds" => Word::Seconds,
        "min" | "mins" | "minutes" | "minute" => |text| converted(text, &Exact::whole(60), Word::Seconds),
        "h" | "hr" | "hrs" | "hour" | "hours" => |text| converted(text, &Exact::whole(3600), Word::Seconds),
        "%" | "percent" => Word::Percent,
        "mbps" | "mbit/s" | "mbit" | "mbits" | "mbits/s" | "mb/s" | "megabit" | "megabits" => Word::Megabits,
        "gbps" | "gbit/s" => |text| converted(text, &Exact::whole(1_000), Word::Megabits),
        "kbps" | "kbit/s" | "kbit" | "kb/s" => Word::Kilobits,
        "gb" | "gigabyte" | "gigabytes" => Word::Gigabytes,
        "tb" | "terabyte" | "terabytes" => |text| converted(text, &Exact::whole(1_000), Word::Gigabytes),
        "mb" | "megabyte" | "megabytes" => |text| converted(text, &Exact::fraction(1, 1_000), Word::Gigabytes),
        _ => return None,
    })
}

/// What words are read by, and what was noticed on the way.
struct PieceReader {
    meaning: Meaning,
    cinema: bool,
    remarks: Vec<String>,
    reading: Option<String>,
}

impl PieceReader {
    fn word(&mut self, piece: &str) -> Vec<Word> {
        if let Some((key, _)) = KEYS.iter().find(|(_, words)| words.contains(&piece)) {
            return vec![Word::Key(*key)];
        }
        if let Some((name, share)) = SHARES.iter().find(|(name, _)| *name == piece) {
            return vec![Word::Share(name, share)];
        }
        if EMPTY.contains(&piece) || unit(piece).is_some() {
            return Vec::new();
        }
        if let Some(size) = self.size(piece) {
            return vec![Word::Size(size)];
        }
        if let Some(plain) = number(piece) {
            if piece.contains(',') {
                self.remarks.push(format!("{piece} is read as {plain}"));
            }
            return vec![if plain.contains([':', '/']) { Word::Ratio(plain) } else { Word::Number(plain) }];
        }
        if let Some(both) = self.size_and_rate(piece) {
            return both;
        }
        if let Some(thousands) = piece.strip_suffix('k')
            && let Some((_, across)) = THOUSANDS.iter().find(|(known, _)| *known == thousands)
        {
            return vec![Word::Thousands(*across)];
        }
        if let Some(rate) = piece.strip_suffix('i').and_then(number).filter(|rate| !rate.contains(['/', ':'])) {
            return vec![self.fields(piece, rate)];
        }
        vec![with_unit(piece).unwrap_or_else(|| Word::Other(piece.to_owned()))]
    }

    /// A size and a rate in one word: 1080p60, 4k24, uhd50, 1080i50, 1920x1080p25.
    fn size_and_rate(&mut self, piece: &str) -> Option<Vec<Word>> {
        for (at, _) in piece.char_indices().skip(2) {
            let (front, back) = piece.split_at(at);
            let Some(rate) = number(back).filter(|rate| !rate.contains(['/', ':'])) else { continue };
            if !front.ends_with(|last: char| last.is_alphabetic()) {
                continue;
            }
            let Some(size) = self.size(front) else { continue };
            let rate = if front.ends_with('i') { self.fields(piece, rate) } else { Word::Rate(rate) };
            return Some(vec![Word::Size(size), rate]);
        }
        None
    }

    /// 50i is 25 whole pictures a second, and 25i too (common practice).
    fn fields(&mut self, piece: &str, rate: String) -> Word {
        let value = fraction::parse(&rate, Sign::Never).ok().filter(|value| *value > Exact::whole(30));
        let Some(value) = value else { return Word::Rate(rate) };
        self.remarks.push(format!("{piece} is read as {rate} fields a second: half as many frames"));
        Word::Rate(fraction::writable_text(&value.half()))
    }

    /// A size by its sides or by a name of the trade.
    fn size(&mut self, piece: &str) -> Option<[u32; 2]> {
        if let Some((width, height)) = piece.split_once('x')
            && is_side(width)
            && is_side(height.trim_end_matches(['p', 'i']))
        {
            return Some([width.parse().ok()?, height.trim_end_matches(['p', 'i']).parse().ok()?]);
        }
        let NamedSize { size, doubt, other } = published::named_size(piece)?;
        let Some(doubt) = doubt else { return Some(size) };
        let name = piece.to_uppercase();
        let is_cinema = self.cinema && piece == "4k";
        let meant = match other.filter(|_| is_cinema != (self.meaning == Meaning::Second)) {
            Some(other) => other,
            None => size,
        };
        let read = |size: [u32; 2]| format!("{name} as {}×{}", size[0], size[1]);
        self.remarks.push(match other {
            Some(_) if meant != size => read(meant).replacen(" as ", " is read as ", 1),
            _ => format!("{}: {doubt}", read(meant).replacen(" as ", " is read as ", 1)),
        });
        if other.is_some() && self.reading.is_none() {
            self.reading = Some(read(meant));
        }
        Some(meant)
    }

    /// Thousands of pixels across, where no sphere is spoken of, are the width of a camera's picture: of the shape
    /// that is written behind them, or of 16:9.
    fn cameras(&mut self, words: &mut Vec<Word>) {
        let sphere = [Key::Sphere, Key::HalfSphere, Key::View, Key::Degrees, Key::TopBottom, Key::SideBySide];
        if words.iter().any(|word| matches!(word, Word::Key(key) if sphere.contains(key))) {
            return;
        }
        let alone = words.len() == 1;
        let mut at = 0;
        while let Some(word) = words.get(at) {
            if let Word::Thousands(across) = *word
                && !(alone && across == 5760)
            {
                let ratio = |at: usize| match words.get(at) {
                    Some(Word::Ratio(text)) if text.contains(':') => Some(text.clone()),
                    _ => None,
                };
                let shape = ratio(at + 1);
                let text = shape.clone().unwrap_or_else(|| "16:9".to_owned());
                let Ok(ratio) = DisplayRatio::parse(&text) else { return };
                let high = (Exact::whole(across) / ratio.value()).to_decimal(0).parse().unwrap_or(1).max(1);
                let thousands = THOUSANDS.iter().find(|(_, known)| *known == across).map_or("", |(name, _)| *name);
                self.remarks.push(if shape.is_some() {
                    format!("{thousands}K is read as {across}×{high}")
                } else {
                    format!("{thousands}K is read as {across}×{high}, {text}; cameras record other heights too")
                });
                words.splice(at..=at + usize::from(shape.is_some()), [Word::Size([across, high])]);
            }
            at += 1;
        }
    }
}

/// "UHD into upright HD": of two sizes the one is turned that the word stands next to.
fn turn_upright(words: &mut Vec<Word>) {
    let is_size = |at: &usize| matches!(words.get(*at), Some(Word::Size(_)));
    if (0..words.len()).filter(is_size).count() < 2 {
        return;
    }
    let Some(at) = words.iter().position(|word| *word == Word::Key(Key::Upright)) else { return };
    let beside = Some(at + 1).filter(is_size).or_else(|| at.checked_sub(1).filter(is_size));
    if let Some(beside) = beside
        && let Some(Word::Size(size)) = words.get_mut(beside)
    {
        size.sort_unstable();
        words.remove(at);
    }
}

/// A number with something behind it.
fn with_unit(piece: &str) -> Option<Word> {
    let digits = piece.find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | ',' | '/' | ':')))?;
    let (front, back) = piece.split_at(digits);
    let front = number(front)?;
    match back {
        "x" => Some(Word::Factor(front)),
        _ => unit(back).map(|make| make(front)),
    }
}
