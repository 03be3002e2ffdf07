//! What rate alone does not say of a signal: [`Scan`] and [`SignalRange`].

/// Whether a picture holds all its lines at one moment.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Scan {
    /// All lines belong to one moment.
    #[default]
    Progressive,
    /// Odd and even lines belong to two moments.
    Interlaced,
}

impl Scan {
    /// Both ways.
    pub const ALL: [Self; 2] = [Self::Progressive, Self::Interlaced];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Progressive => "progressive",
            Self::Interlaced => "interlaced",
        }
    }
}

/// Which code values stand for black and white.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum SignalRange {
    /// 16 to 235 of 255, with head and foot room (ITU-R BT.709, narrow range).
    #[default]
    Narrow,
    /// 0 to 255 of 255.
    Full,
}

impl SignalRange {
    /// Both ranges.
    pub const ALL: [Self; 2] = [Self::Narrow, Self::Full];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Narrow => "narrow",
            Self::Full => "full",
        }
    }
}
