//! [`Codec`], [`Profile`] and [`Container`]: what a movie file is made of, and what goes with what.

use crate::recipe::Chroma;

/// What holds picture and sound together.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Container {
    /// ISO/IEC 14496-14.
    Mp4,
    /// The older file of the same build, for editing.
    QuickTime,
    /// SMPTE ST 377-1.
    Mxf,
    /// IETF RFC 9559.
    Matroska,
}

impl Container {
    /// Every container.
    pub const ALL: [Self; 4] = [Self::Mp4, Self::QuickTime, Self::Mxf, Self::Matroska];

    /// The word for it, which is also the ending of its files.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Mp4 => "mp4",
            Self::QuickTime => "mov",
            Self::Mxf => "mxf",
            Self::Matroska => "mkv",
        }
    }

    /// Whether it holds whatever sound a source has.
    pub const fn holds_any_sound(self) -> bool {
        matches!(self, Self::QuickTime | Self::Matroska)
    }

    /// What can become of sound in it, beside none: as the source has it where it holds any (`None`), and the
    /// codings that it holds.
    pub fn codings(self) -> impl Iterator<Item = Option<SoundCodec>> {
        let any = self.holds_any_sound().then_some(None);
        any.into_iter().chain(self.sounds().iter().copied().map(Some))
    }

    /// The codings of sound that it holds.
    pub const fn sounds(self) -> &'static [SoundCodec] {
        match self {
            Self::Mp4 => &[SoundCodec::Aac],
            Self::Mxf => &[SoundCodec::Pcm],
            Self::QuickTime | Self::Matroska => &[SoundCodec::Pcm, SoundCodec::Aac],
        }
    }
}

/// How sound is coded.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum SoundCodec {
    /// Every sample as it is.
    Pcm,
    /// ISO/IEC 14496-3, low complexity.
    Aac,
}

impl SoundCodec {
    /// Both ways.
    pub const ALL: [Self; 2] = [Self::Pcm, Self::Aac];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Pcm => "pcm",
            Self::Aac => "aac",
        }
    }
}

/// A family of coded pictures.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Codec {
    /// ITU-T H.264.
    H264,
    /// ITU-T H.265.
    H265,
    /// AV1.
    Av1,
    /// ITU-T H.262.
    Mpeg2,
    /// SMPTE RDD 36.
    Prores,
    /// SMPTE ST 2019-1, of any raster.
    Vc3,
    /// IETF RFC 9043.
    Ffv1,
}

impl Codec {
    /// Every family.
    pub const ALL: [Self; 7] = [Self::H264, Self::H265, Self::Av1, Self::Mpeg2, Self::Prores, Self::Vc3, Self::Ffv1];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::H264 => "h264",
            Self::H265 => "h265",
            Self::Av1 => "av1",
            Self::Mpeg2 => "mpeg2",
            Self::Prores => "prores",
            Self::Vc3 => "vc3",
            Self::Ffv1 => "ffv1",
        }
    }

    /// What it is called on sheets and screens.
    pub const fn title(self) -> &'static str {
        match self {
            Self::H264 => "H.264",
            Self::H265 => "H.265",
            Self::Av1 => "AV1",
            Self::Mpeg2 => "MPEG-2",
            Self::Prores => "ProRes",
            Self::Vc3 => "VC-3",
            Self::Ffv1 => "FFV1",
        }
    }

    /// The containers that hold it.
    pub const fn containers(self) -> &'static [Container] {
        use Container::{Matroska, Mp4, Mxf, QuickTime};
        match self {
            Self::H264 => &[Mp4, QuickTime, Mxf, Matroska],
            Self::H265 => &[Mp4, QuickTime, Matroska],
            Self::Av1 => &[Mp4, Matroska],
            Self::Mpeg2 => &[Mxf, QuickTime, Matroska],
            Self::Prores => &[QuickTime, Mxf, Matroska],
            Self::Vc3 => &[Mxf, QuickTime, Matroska],
            Self::Ffv1 => &[Matroska],
        }
    }

    /// Its profiles, the plainest first.
    pub const fn profiles(self) -> &'static [Profile] {
        match self {
            Self::H264 => &H264,
            Self::H265 => &H265,
            Self::Av1 => &AV1,
            Self::Mpeg2 => &MPEG2,
            Self::Prores => &PRORES,
            Self::Vc3 => &VC3,
            Self::Ffv1 => &FFV1,
        }
    }

    /// What decides how many bits a picture gets.
    pub const fn budget(self) -> Budget {
        match self {
            Self::H264 | Self::H265 => Budget::QualityOrRate { worst: 51 },
            Self::Av1 => Budget::QualityOrRate { worst: 63 },
            Self::Mpeg2 => Budget::Rate,
            Self::Prores | Self::Vc3 | Self::Ffv1 => Budget::Profile,
        }
    }

    /// Whether its pictures lean on others, so that whole ones come at a distance.
    pub const fn has_keyframes(self) -> bool {
        !matches!(self.budget(), Budget::Profile)
    }

    /// Whether its standard has levels that are worked out here.
    pub const fn has_levels(self) -> bool {
        matches!(self, Self::H264 | Self::H265)
    }
}

/// What decides how many bits a picture gets.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Budget {
    /// A constant quality from 0, the best, to a worst, or a rate of bits.
    QualityOrRate {
        /// The largest number.
        worst: u8,
    },
    /// A rate of bits.
    Rate,
    /// The profile alone.
    Profile,
}

/// How far a codec may go.
#[derive(Debug, PartialEq, Eq)]
pub struct Profile {
    /// The word for it, the same in every format.
    pub word: &'static str,
    /// What it is called.
    pub title: &'static str,
    /// Bits of a sample, the fewest first.
    pub depths: &'static [u8],
    /// How colour is sampled, the least first.
    pub chromas: &'static [Chroma],
    /// How many bits it takes.
    pub(super) bits: Bits,
}

/// How many bits a profile takes.
#[derive(Debug, PartialEq, Eq)]
pub(super) enum Bits {
    /// Those that are asked for; a level allows so many thousandths of what its table says.
    Asked(u32),
    /// A picture has the same number of bytes for each macroblock, in 255ths, and a frame whole blocks of 4096.
    Macroblock(u32),
    /// About so many millions a second at 1920x1080 and 30000/1001 frames a second.
    About(u32),
    /// Nobody can tell before.
    Open,
}

const fn profile(
    (word, title): (&'static str, &'static str),
    depths: &'static [u8],
    chromas: &'static [Chroma],
    bits: Bits,
) -> Profile {
    Profile { word, title, depths, chromas, bits }
}

const QUARTER: &[Chroma] = &[Chroma::Quarter];
const HALF: &[Chroma] = &[Chroma::Half];
const FULL: &[Chroma] = &[Chroma::Full];
const TO_HALF: &[Chroma] = &[Chroma::Quarter, Chroma::Half];
const TO_FULL: &[Chroma] = &[Chroma::Quarter, Chroma::Half, Chroma::Full];

/// ITU-T H.264 (2021), clause A.2; what a level allows by Table A-2 (from memory).
static H264: [Profile; 5] = [
    profile(("main", "Main"), &[8], QUARTER, Bits::Asked(1000)),
    profile(("high", "High"), &[8], QUARTER, Bits::Asked(1250)),
    profile(("high_10", "High 10"), &[8, 10], QUARTER, Bits::Asked(3000)),
    profile(("high_422", "High 4:2:2"), &[8, 10], TO_HALF, Bits::Asked(4000)),
    profile(("high_444", "High 4:4:4 Predictive"), &[8, 10], TO_FULL, Bits::Asked(4000)),
];

/// ITU-T H.265 (2021), clause A.3; what a level allows by Table A.10 (from memory).
static H265: [Profile; 6] = [
    profile(("main", "Main"), &[8], QUARTER, Bits::Asked(1000)),
    profile(("main_10", "Main 10"), &[8, 10], QUARTER, Bits::Asked(1000)),
    profile(("main_12", "Main 12"), &[8, 10, 12], QUARTER, Bits::Asked(1500)),
    profile(("main_422_10", "Main 4:2:2 10"), &[8, 10], TO_HALF, Bits::Asked(1667)),
    profile(("main_444", "Main 4:4:4"), &[8], TO_FULL, Bits::Asked(2000)),
    profile(("main_444_10", "Main 4:4:4 10"), &[8, 10], TO_FULL, Bits::Asked(2500)),
];

/// AV1 Bitstream and Decoding Process Specification, section A.2 (from memory).
static AV1: [Profile; 3] = [
    profile(("main", "Main"), &[8, 10], QUARTER, Bits::Asked(1000)),
    profile(("high", "High"), &[8, 10], FULL, Bits::Asked(1000)),
    profile(("professional", "Professional"), &[8, 10, 12], HALF, Bits::Asked(1000)),
];

/// ITU-T H.262, clause 8 (from memory).
static MPEG2: [Profile; 2] = [
    profile(("main", "Main"), &[8], QUARTER, Bits::Asked(1000)),
    profile(("422", "4:2:2"), &[8], TO_HALF, Bits::Asked(1000)),
];

/// SMPTE RDD 36; the rates are common practice (from memory).
static PRORES: [Profile; 6] = [
    profile(("422_proxy", "422 Proxy"), &[10], HALF, Bits::About(45)),
    profile(("422_lt", "422 LT"), &[10], HALF, Bits::About(102)),
    profile(("422", "422"), &[10], HALF, Bits::About(147)),
    profile(("422_hq", "422 HQ"), &[10], HALF, Bits::About(220)),
    profile(("4444", "4444"), &[12], FULL, Bits::About(330)),
    profile(("4444_xq", "4444 XQ"), &[12], FULL, Bits::About(500)),
];

/// SMPTE ST 2019-1, the profiles of any raster: bytes of a macroblock (from memory).
static VC3: [Profile; 5] = [
    profile(("lb", "LB"), &[8], HALF, Bits::Macroblock(5_888)),
    profile(("sq", "SQ"), &[8], HALF, Bits::Macroblock(18_944)),
    profile(("hq", "HQ"), &[8], HALF, Bits::Macroblock(28_672)),
    profile(("hqx", "HQX"), &[10], HALF, Bits::Macroblock(28_672)),
    profile(("444", "444"), &[10], FULL, Bits::Macroblock(57_344)),
];

/// IETF RFC 9043, version 3.
static FFV1: [Profile; 1] = [profile(("version_3", "version 3"), &[8, 10, 12, 16], TO_FULL, Bits::Open)];
