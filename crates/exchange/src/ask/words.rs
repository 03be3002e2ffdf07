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
    /// Percent.
    Percent(String),
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
            Self::Percent(text) => format!("{text} %"),
            Self::Thousands(across) => format!("{across} across"),
            Self::Key(_) => return None,
        })
    }
}

/// The words of the grammar.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Key {
    /// from, out of
    From,
    /// in: a ratio in a frame is out of it, a frame in a frame goes into it
    In,
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
    /// how: what follows is asked for
    How,
    /// times, divided by: a pocket calculator
    Times,
    /// divided by
    Over,
    /// proxy, smaller working copies
    Proxy,
    /// room, push in
    Room,
    /// fill, crop
    Fill,
    /// fit, letterbox
    Fit,
    /// rotate
    Rotate,
    /// half the size
    Half,
    /// the shape of pixels
    PixelShape,
    /// top and bottom
    TopBottom,
    /// side by side
    SideBySide,
    /// the ratio of a size
    RatioOf,
    /// squeeze, desqueeze
    Squeeze,
    /// upright
    Upright,
}

const KEYS: &[(&str, Key)] = &[
    ("from", Key::From),
    ("out", Key::From),
    ("of", Key::From),
    ("off", Key::From),
    ("in", Key::In),
    ("inside", Key::In),
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
    ("360", Key::Sphere),
    ("vr", Key::Sphere),
    ("vr360", Key::Sphere),
    ("slow", Key::Slow),
    ("slowed", Key::Slow),
    ("slowmo", Key::Slow),
    ("slomo", Key::Slow),
    ("how", Key::How),
    ("times", Key::Times),
    ("*", Key::Times),
    ("x", Key::Times),
    ("/", Key::Over),
    ("÷", Key::Over),
    ("over", Key::Over),
    ("divided", Key::Over),
    ("proxy", Key::Proxy),
    ("proxies", Key::Proxy),
    ("offline", Key::Proxy),
    ("room", Key::Room),
    ("push", Key::Room),
    ("punch", Key::Room),
    ("fill", Key::Fill),
    ("filled", Key::Fill),
    ("fills", Key::Fill),
    ("crop", Key::Fill),
    ("cropped", Key::Fill),
    ("fit", Key::Fit),
    ("fitted", Key::Fit),
    ("letterbox", Key::Fit),
    ("letterboxed", Key::Fit),
    ("pillarbox", Key::Fit),
    ("pillarboxed", Key::Fit),
    ("rotate", Key::Rotate),
    ("rotated", Key::Rotate),
    ("turned", Key::Rotate),
    ("sideways", Key::Rotate),
    ("half", Key::Half),
    ("par", Key::PixelShape),
    ("tb", Key::TopBottom),
    ("stereo", Key::TopBottom),
    ("stereoscopic", Key::TopBottom),
    ("sbs", Key::SideBySide),
    ("ratio", Key::RatioOf),
    ("aspect", Key::RatioOf),
    ("shape", Key::RatioOf),
    ("ar", Key::RatioOf),
    ("squeeze", Key::Squeeze),
    ("squeezed", Key::Squeeze),
    ("desqueeze", Key::Squeeze),
    ("desqueezed", Key::Squeeze),
    ("unsqueeze", Key::Squeeze),
    ("anamorphic", Key::Squeeze),
    ("anamorph", Key::Squeeze),
    ("upright", Key::Upright),
    ("vertical", Key::Upright),
    ("vertically", Key::Upright),
    ("portrait", Key::Upright),
    ("story", Key::Upright),
    ("reel", Key::Upright),
    ("wide", Key::Wide),
    ("high", Key::High),
    ("tall", Key::High),
];

/// Words that say nothing here.
const EMPTY: &[&str] = &[
    "a",
    "an",
    "the",
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
    "as",
    "many",
    "much",
    "big",
    "factor",
    "can",
    "could",
    "should",
    "would",
    "you",
    "me",
    "my",
    "we",
    "need",
    "want",
    "give",
    "make",
    "made",
    "have",
    "has",
    "are",
    "there",
    "be",
    "will",
    "when",
    "if",
    "by",
    "video",
    "footage",
    "clip",
    "clips",
    "film",
    "file",
    "size",
    "sizes",
    "resolution",
    "raster",
    "container",
    "timeline",
    "sequence",
    "delivery",
    "deliver",
    "from:",
    "scale",
    "scaled",
    "upscale",
    "upscaled",
    "downscale",
    "downscaled",
    "enlarge",
    "enlarged",
    "resize",
    "resized",
    "convert",
    "extract",
    "extraction",
    "long",
    "far",
    "fast",
    "large",
    "motion",
    "open",
    "gate",
    "pixel",
    "fps:",
    "frames",
    "rate",
    "speed",
    "per",
    "about",
    "use",
    "using",
    "mode",
    "mono",
    "then",
    "up",
    "down",
    "version",
    "copy",
    "copies",
    "working",
    "side",
    "top",
    "bottom",
    "under",
    "heavy",
    "bitrate",
];

/// The words of a text, and what was taken for granted in reading them.
pub fn words(text: &str) -> (Vec<Word>, Vec<String>) {
    let mut remarks = Vec::new();
    let text = text.to_lowercase().replace(['×', '✕'], "x").replace(['°', '?', '!', ';'], " ");
    let text = apart(&text);
    let text = phrases(&text, &mut remarks);
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
    let found = pieces.iter().flat_map(|piece| word(piece, &mut remarks)).collect();
    (found, remarks)
}

/// Several words that mean one thing, and words of the trade for ratios and frames.
const PHRASES: &[(&str, &str)] = &[
    ("top and bottom", "tb"),
    ("top bottom", "tb"),
    ("top/bottom", "tb"),
    ("over under", "tb"),
    ("over/under", "tb"),
    ("side by side", "sbs"),
    ("side-by-side", "sbs"),
    ("divided by", "/"),
    ("slow motion", "slow"),
    ("slow-motion", "slow"),
    ("every frame once", "slow"),
    ("flat view", "view"),
    ("field of view", "view"),
    ("dci 4k", "dci4k"),
    ("dci 2k", "dci2k"),
    ("4k dci", "dci4k"),
    ("2k dci", "dci2k"),
    ("cinema 4k", "dci4k"),
    ("cinema 2k", "dci2k"),
    ("uhd 4k", "uhd"),
    ("uhd 8k", "8k"),
    ("4k uhd", "uhd"),
    ("8k uhd", "8k"),
    ("full hd", "hd"),
    ("hd 720", "720p"),
    ("open gate", "open"),
    ("pixel aspect ratio", "par"),
    ("aspect ratio", "ratio"),
    ("pixel aspect", "par"),
    ("pixel shape", "par"),
    ("cinema scope", "scope"),
    ("cinema flat", "flatratio"),
    ("flat 1.85", "1.85"),
    ("scope 2.39", "2.39"),
    ("scope 2.40", "2.40"),
];

/// Names of ratios, with what they are taken for (common practice).
const RATIO_NAMES: &[(&str, &str, &str)] = &[
    ("scope", "2.39", "scope is read as 2.39; older scope is 2.35, discs have 2.40"),
    ("cinemascope", "2.39", "scope is read as 2.39; older scope is 2.35, discs have 2.40"),
    ("flatratio", "1.85", "flat is read as 1.85"),
    ("flat", "1.85", "flat is read as 1.85"),
    ("square", "1:1", "square is read as 1:1"),
    ("academy", "1.375", "academy is read as 1.375"),
    ("ultrawide", "2.39", "ultrawide is read as 2.39; 21:9 screens are 64:27 or 43:18"),
    ("widescreen", "16:9", "widescreen is read as 16:9"),
];

/// Signs of a calculation stand apart from their numbers.
fn apart(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for each in text.chars() {
        if matches!(each, '*' | '÷' | '=') {
            out.push(' ');
            if each != '=' {
                out.push(each);
            }
            out.push(' ');
        } else {
            out.push(each);
        }
    }
    out
}

fn phrases(text: &str, remarks: &mut Vec<String>) -> String {
    let mut text = format!(" {} ", text.split_whitespace().collect::<Vec<_>>().join(" "));
    for (phrase, word) in PHRASES {
        text = text.replace(&format!(" {phrase} "), &format!(" {word} "));
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
        "fps" | "p" | "hz" | "i" | "fps." => Word::Rate,
        "s" | "sec" | "secs" | "second" | "seconds" => Word::Seconds,
        "min" | "minutes" | "minute" => |minutes: String| {
            let seconds = fraction::parse(&minutes, Sign::Never).map(|value| value * ratiomet_core::Exact::whole(60));
            seconds.map_or(Word::Other(minutes), |seconds| Word::Seconds(fraction::writable_text(&seconds)))
        },
        "h" | "hr" | "hour" | "hours" => |hours: String| {
            let seconds = fraction::parse(&hours, Sign::Never).map(|value| value * ratiomet_core::Exact::whole(3600));
            seconds.map_or(Word::Other(hours), |seconds| Word::Seconds(fraction::writable_text(&seconds)))
        },
        "%" | "percent" => Word::Percent,
        "mbps" | "mbit/s" | "mbit" | "mb/s" => Word::Megabits,
        "kbps" | "kbit/s" | "kbit" | "kb/s" => Word::Kilobits,
        _ => return None,
    })
}

fn word(piece: &str, remarks: &mut Vec<String>) -> Vec<Word> {
    if let Some((_, key)) = KEYS.iter().find(|(word, _)| *word == piece) {
        return vec![Word::Key(*key)];
    }
    if EMPTY.contains(&piece) {
        return Vec::new();
    }
    if let Some(size) = size(piece, remarks) {
        return vec![Word::Size(size)];
    }
    if let Some(plain) = number(piece) {
        if piece.contains(',') {
            remarks.push(format!("{piece} is read as {plain}"));
        }
        return vec![if plain.contains([':', '/']) { Word::Ratio(plain) } else { Word::Number(plain) }];
    }
    if let Some(both) = size_and_rate(piece, remarks) {
        return both;
    }
    if let Some(across) = piece.strip_suffix('k').and_then(thousands) {
        return vec![Word::Thousands(across)];
    }
    // A number with something behind it.
    let other = || vec![Word::Other(piece.to_owned())];
    let Some(digits) = piece.find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | ',' | '/' | ':'))) else {
        return other();
    };
    let (front, back) = piece.split_at(digits);
    let known = number(front).and_then(|front| match back {
        "x" => Some(Word::Factor(front)),
        _ => unit(back).map(|make| make(front)),
    });
    known.map_or_else(other, |known| vec![known])
}

/// So many thousands of pixels, as cameras and spheres are called: 5.7k is 5760 across (common practice).
fn thousands(text: &str) -> Option<u32> {
    const KNOWN: &[(&str, u32)] = &[
        ("3", 3072),
        ("3.2", 3200),
        ("3.4", 3424),
        ("4.5", 4448),
        ("4.6", 4608),
        ("5", 5120),
        ("5.1", 5120),
        ("5.2", 5248),
        ("5.7", 5760),
        ("6", 6144),
        ("6.2", 6240),
        ("11", 11520),
        ("12", 12288),
    ];
    KNOWN.iter().find(|(known, _)| *known == text).map(|(_, across)| *across)
}

/// A size and a rate in one word: 1080p60, 4k24, uhd50, 1080i50.
fn size_and_rate(piece: &str, remarks: &mut Vec<String>) -> Option<Vec<Word>> {
    for (at, _) in piece.char_indices().skip(2) {
        let (front, back) = piece.split_at(at);
        let rate = number(back).filter(|rate| !rate.contains(['/', ':']));
        if let (Some(rate), true) = (rate, front.ends_with(|last: char| last.is_alphabetic()))
            && let Some(size) = size(front, remarks)
        {
            // 50i is 25 whole pictures a second (common practice).
            let fields = front.ends_with('i');
            if fields {
                remarks.push(format!("{piece} is read as {rate} fields a second: half as many frames"));
            }
            let rate = if fields {
                let half = fraction::parse(&rate, Sign::Never).ok()?.half();
                fraction::writable_text(&half)
            } else {
                rate
            };
            return Some(vec![Word::Size(size), Word::Rate(rate)]);
        }
    }
    None
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
