//! What rate alone does not say of a signal: [`Scan`], [`SignalRange`] and [`Playback`].

use crate::cadence::Intent;

/// Whether a picture holds all its lines at one moment.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
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
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
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

/// At which speed footage is meant to run in the frames.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Playback {
    /// It keeps its running time: frames are repeated or left out.
    #[default]
    RealTime,
    /// Each frame is shown once: slow or fast motion.
    EveryFrame,
}

impl Playback {
    /// Both ways.
    pub const ALL: [Self; 2] = [Self::RealTime, Self::EveryFrame];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::RealTime => "real_time",
            Self::EveryFrame => "every_frame",
        }
    }

    /// What that asks of a cadence.
    pub const fn intent(self) -> Intent {
        match self {
            Self::RealTime => Intent::RealTime,
            Self::EveryFrame => Intent::EveryFrame,
        }
    }
}
