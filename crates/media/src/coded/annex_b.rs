//! Streams of units that begin with start codes: H.264 and HEVC (Annex B of each), MPEG-1, 2 and 4.

use super::units::units;
use super::{Coded, h264, hevc, mpeg2, mpeg4};

/// How pictures are coded.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Coding {
    Mpeg2,
    Mpeg4,
    H264,
    Hevc,
}

impl Coding {
    /// What it is called.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Mpeg2 => "MPEG-2",
            Self::Mpeg4 => "MPEG-4",
            Self::H264 => "H.264",
            Self::Hevc => "HEVC",
        }
    }

    /// The coding of a stream that begins with a start code, by what its first units are.
    pub fn of(bytes: &[u8]) -> Option<Self> {
        if !bytes.starts_with(&[0, 0, 1]) && !bytes.starts_with(&[0, 0, 0, 1]) {
            return None;
        }
        let first = *units(bytes).next()?.first()?;
        match first {
            0xB3 => Some(Self::Mpeg2),
            0xB0 | 0x00 => Some(Self::Mpeg4),
            // Parameter sets, delimiters and messages: what streams begin with.
            _ if first & 0x80 == 0 && matches!(first & 0x1F, 6..=9) && first & 0x60 != 0x40 || first == 0x09 => {
                Some(Self::H264)
            }
            _ if first & 0x80 == 0 && matches!(first >> 1, 32..=35 | 39) => Some(Self::Hevc),
            _ => None,
        }
    }
}

/// What a stream says, as soon as its header is there whole.
pub(crate) fn stream(coding: Coding, bytes: &[u8]) -> Option<Coded> {
    match coding {
        Coding::Mpeg2 => mpeg2::head(bytes),
        Coding::Mpeg4 => mpeg4::head(bytes),
        Coding::H264 => {
            units(bytes).filter(|unit| unit.first().is_some_and(|head| head & 0x1F == 7)).find_map(h264::parameter_set)
        }
        Coding::Hevc => {
            units(bytes).filter(|unit| unit.first().is_some_and(|head| head >> 1 == 33)).find_map(hevc::parameter_set)
        }
    }
}
