//! [`Face`]: letters, how wide they are, and what stands in for those that a face has not.

use std::sync::LazyLock;

use unicode_normalization::UnicodeNormalization;

/// The faces that are shipped.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Face {
    Words,
    Bold,
    Figures,
    BoldFigures,
    /// Letters of every script, of dots: for those that the face which is asked for has not.
    Spare,
}

/// The spare face as it is shipped.
const SPARE: &[u8] = include_bytes!("../fonts/Unifont.woff2");

static UNPACKED: LazyLock<Vec<u8>> =
    LazyLock::new(|| wuff::decompress_woff2(SPARE).expect("a face that is shipped is sound"));

impl Face {
    /// Every face; the spare one is the last.
    pub const ALL: [Self; 5] = [Self::Words, Self::Bold, Self::Figures, Self::BoldFigures, Self::Spare];

    /// The face as programs of fonts take it.
    pub fn file(self) -> &'static [u8] {
        match self {
            Self::Words => include_bytes!("../fonts/InstrumentSans-Regular.ttf"),
            Self::Bold => include_bytes!("../fonts/InstrumentSans-Bold.ttf"),
            Self::Figures => include_bytes!("../fonts/IBMPlexMono-Regular.ttf"),
            Self::BoldFigures => include_bytes!("../fonts/IBMPlexMono-SemiBold.ttf"),
            Self::Spare => &UNPACKED,
        }
    }

    /// The face as pages carry it: its media type and its bytes.
    pub fn carried(self) -> (&'static str, &'static [u8]) {
        match self {
            Self::Spare => ("font/woff2", SPARE),
            other => ("font/ttf", other.file()),
        }
    }

    /// Family, and weight, as styles name them.
    pub const fn css(self) -> (&'static str, u16) {
        match self {
            Self::Words => ("Instrument Sans", 400),
            Self::Bold => ("Instrument Sans", 700),
            Self::Figures => ("IBM Plex Mono", 400),
            Self::BoldFigures => ("IBM Plex Mono", 600),
            Self::Spare => ("Unifont", 400),
        }
    }

    /// The metrics of the face.
    fn metrics(self) -> &'static ttf_parser::Face<'static> {
        type Metrics = LazyLock<ttf_parser::Face<'static>>;
        const fn of(face: Face) -> Metrics {
            match face {
                Face::Words => LazyLock::new(|| parsed(Face::Words)),
                Face::Bold => LazyLock::new(|| parsed(Face::Bold)),
                Face::Figures => LazyLock::new(|| parsed(Face::Figures)),
                Face::BoldFigures => LazyLock::new(|| parsed(Face::BoldFigures)),
                Face::Spare => LazyLock::new(|| parsed(Face::Spare)),
            }
        }
        fn parsed(face: Face) -> ttf_parser::Face<'static> {
            ttf_parser::Face::parse(face.file(), 0).expect("a face that is shipped is sound")
        }
        static METRICS: [Metrics; 5] =
            [of(Face::Words), of(Face::Bold), of(Face::Figures), of(Face::BoldFigures), of(Face::Spare)];
        &METRICS[self as usize]
    }

    fn has(self, letter: char) -> bool {
        // Every face has the letters of ASCII.
        matches!(letter, ' '..='~') || self.metrics().glyph_index(letter).is_some()
    }

    /// Whether a text has letters that the face has not.
    pub fn needs_spare(self, text: &str) -> bool {
        text.chars().any(|letter| !self.has(letter))
    }

    /// The number of a letter's shape in the face; that of the shape for what is missing if it has none.
    pub fn glyph(self, letter: char) -> u16 {
        self.metrics().glyph_index(letter).map_or(0, |glyph| glyph.0)
    }

    /// How far a letter moves on, against the size.
    pub fn advance(self, letter: char) -> f32 {
        static PLAIN: LazyLock<[[f32; 128]; 4]> = LazyLock::new(|| {
            let plain = |code: usize| u8::try_from(code).map_or(' ', char::from);
            [Face::Words, Face::Bold, Face::Figures, Face::BoldFigures]
                .map(|face| std::array::from_fn(|code| face.looked_up(plain(code))))
        });
        match PLAIN.get(self as usize).and_then(|plain| plain.get(letter as usize)) {
            Some(advance) => *advance,
            None => self.looked_up(letter),
        }
    }

    /// The same, by the tables of the face.
    fn looked_up(self, letter: char) -> f32 {
        let of = |face: Self| {
            let metrics = face.metrics();
            let units = metrics.glyph_index(letter).and_then(|glyph| metrics.glyph_hor_advance(glyph))?;
            Some(f32::from(units) / f32::from(metrics.units_per_em()))
        };
        of(self)
            .or_else(|| of(Self::Spare))
            .unwrap_or_else(|| number(letter).chars().map(|each| self.looked_up(each)).sum())
    }
}

/// What stands for a letter that no face has.
fn number(letter: char) -> String {
    format!("[U+{:04X}]", u32::from(letter))
}

/// A text without what has no shape: controls are blanks, marks of direction and of shape are left out, letters that
/// stand in pieces are put together.
pub(crate) fn cleaned(text: &str) -> String {
    let shapeless = |letter: char| {
        matches!(u32::from(letter),
            0xAD | 0x200B..=0x200F | 0x202A..=0x202E | 0x2060..=0x206F | 0xFE00..=0xFE0F | 0xFEFF | 0xE0000..=0xE0FFF)
    };
    text.nfc()
        .filter(|letter| !shapeless(*letter))
        .map(|letter| if letter.is_control() { ' ' } else { letter })
        .collect()
}

/// A text in parts of one face each. Letters that the face has not are of the spare one, with the blanks and points between
/// them, so that a line that runs from right to left stays in one; what that one has not either is named by its number.
pub(crate) fn parts(text: &str, face: Face) -> Vec<(Face, String)> {
    if !face.needs_spare(text) {
        return vec![(face, text.to_owned())];
    }
    let mut parts: Vec<(Face, String)> = Vec::new();
    // Blanks and points whose face hangs on what comes after them.
    let mut between = String::new();
    let mut add = |face: Face, text: &str| match parts.last_mut() {
        _ if text.is_empty() => {}
        Some((last, part)) if *last == face => part.push_str(text),
        _ => parts.push((face, text.to_owned())),
    };
    let mut last = face;
    for letter in text.chars() {
        if face.has(letter) && !letter.is_alphanumeric() {
            between.push(letter);
            continue;
        }
        let (now, shown) = match letter {
            _ if face.has(letter) => (face, letter.to_string()),
            _ if Face::Spare.has(letter) => (Face::Spare, letter.to_string()),
            _ => (face, number(letter)),
        };
        add(if last == now { now } else { face }, &std::mem::take(&mut between));
        add(now, &shown);
        last = now;
    }
    add(face, &between);
    parts
}

/// How wide a text is, by the metrics of its face.
pub(crate) fn text_width(text: &str, size: f32, face: Face) -> f32 {
    text.chars().map(|each| face.advance(each)).sum::<f32>() * size
}

/// A text that is no wider than a room, with a mark where it was cut.
pub(crate) fn fitted(text: &str, room: f32, size: f32, face: Face) -> String {
    if text_width(text, size, face) <= room {
        return text.to_owned();
    }
    let mut left = room / size - face.advance('…');
    let fits = |each: &char| {
        left -= face.advance(*each);
        left >= 0.0
    };
    let short: String = text.chars().take_while(fits).collect();
    short + "…"
}

/// A text in lines no wider than a room, at most so many; the last one is cut where there is more.
pub(crate) fn wrapped(text: &str, room: f32, size: f32, face: Face, most: usize) -> Vec<String> {
    let mut lines: Vec<String> = Vec::new();
    let mut words = text.split_whitespace();
    while let Some(word) = words.next() {
        let room_for_more = lines.len() < most;
        let Some(line) = lines.last_mut() else {
            lines.push(word.to_owned());
            continue;
        };
        let longer = format!("{line} {word}");
        if text_width(&longer, size, face) <= room {
            *line = longer;
        } else if room_for_more {
            lines.push(word.to_owned());
        } else {
            let rest: Vec<&str> = std::iter::once(word).chain(words.by_ref()).collect();
            *line = fitted(&format!("{line} {}", rest.join(" ")), room, size, face);
        }
    }
    lines
}
