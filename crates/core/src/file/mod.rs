//! [`FileSpec`]: how the file of a frame is made, where somebody has said so.

pub(crate) mod codec;
mod practice;

use std::fmt::{self, Write as _};

use crate::error::Parameter;
use crate::fraction::Written;
use crate::levels::Load;
use crate::recipe::Chroma;
use crate::space::Delivery;
use crate::weight::{Kilobits, Megabits, Seconds};
use crate::{Error, Exact, FrameRate, Raster};

use codec::Bits;
pub use codec::{Budget, Codec, Container, Profile, SoundCodec};
pub use practice::Practice;

/// How a file is made, as it was entered.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FileParts {
    /// What holds picture and sound.
    pub container: Container,
    /// The family of the coded picture.
    pub codec: Codec,
    /// The word of its profile.
    pub profile: String,
    /// Bits of a sample.
    pub depth: u8,
    /// How colour is sampled.
    pub chroma: Chroma,
    /// What a decoder must take, as its standard names it; without one, the lowest that does.
    pub level: Option<String>,
    /// The same quality all along, from 0, the best.
    pub constant_quality: Option<u8>,
    /// Bits a second of the picture on average.
    pub average: Option<Written<Megabits>>,
    /// The most bits a second at any time.
    pub highest: Option<Written<Megabits>>,
    /// The most frames from one whole picture to the next; without it, what the encoder takes.
    pub keyframe_distance: Option<u16>,
    /// What becomes of the sound.
    pub sound: Sound,
}

/// What becomes of the sound.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub enum Sound {
    /// It stays as the source has it.
    #[default]
    AsSource,
    /// There is none.
    None,
    /// It is coded anew.
    Coded {
        /// How.
        codec: SoundCodec,
        /// Samples a second.
        rate: u32,
        /// How large a sample is, or how many bits a second there are: the one that the coding asks for.
        amount: SoundAmount,
        /// How many channels; without a number, as many as the source has.
        channels: Option<u8>,
    },
}

/// How much of sound is kept.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum SoundAmount {
    /// Bits of a sample.
    Sample(u8),
    /// Thousands of bits a second, all channels together.
    Rate(Written<Kilobits>),
}

/// How the file of a frame is made.
///
/// # Guarantees
/// The container holds picture and sound; the profile takes depth and chroma; quality and bit rate are set
/// where the codec has them, and are one of the two; the highest rate is no less than the average.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FileSpec {
    parts: FileParts,
    profile: &'static Profile,
}

/// Samples of sound a second that are used (common practice).
const SOUND_RATES: [u32; 4] = [32_000, 44_100, 48_000, 96_000];
/// Bits of a sample of sound.
const SOUND_DEPTHS: [u8; 3] = [16, 24, 32];
/// The most channels of sound in one track.
const MOST_CHANNELS: u8 = 16;
/// The most frames from one whole picture to the next.
const MOST_KEYFRAME_DISTANCE: u16 = 1_000;

impl FileSpec {
    /// A file of these parts.
    ///
    /// # Errors
    /// [`Error::is_range`] at the part that does not go with those before it, with what would.
    ///
    /// ```
    /// use ratiomet_core::file::*;
    /// use ratiomet_core::recipe::Chroma;
    /// let parts = FileParts {
    ///     container: Container::Mp4, codec: Codec::H264, profile: "high".into(), depth: 8,
    ///     chroma: Chroma::Quarter, level: None, constant_quality: Some(18), average: None, highest: None,
    ///     keyframe_distance: Some(50), sound: Sound::None,
    /// };
    /// assert_eq!(FileSpec::new(parts.clone())?.words(), "MP4, H.264 High, 8 bit 4:2:0, quality 18, no sound");
    /// let deep = FileSpec::new(FileParts { depth: 10, ..parts });
    /// assert_eq!(deep.unwrap_err().to_string(), "8 for H.264 High");
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn new(parts: FileParts) -> Result<Self, Error> {
        let codec = parts.codec;
        let one_of = |words: &[&str]| match words {
            [one] => (*one).to_owned(),
            [rest @ .., last] => format!("{} or {last}", rest.join(", ")),
            [] => String::new(),
        };
        let refuse = |parameter, accepted: String| Err(Error::file(accepted).at(parameter));
        if !codec.containers().contains(&parts.container) {
            let words: Vec<_> = codec.containers().iter().map(|each| each.word()).collect();
            return refuse(Parameter::Container, format!("{} for {}", one_of(&words), codec.title()));
        }
        let Some(profile) = codec.profiles().iter().find(|profile| profile.word == parts.profile) else {
            let words: Vec<_> = codec.profiles().iter().map(|each| each.word).collect();
            return refuse(Parameter::Profile, format!("{} for {}", one_of(&words), codec.title()));
        };
        let named = format!("{} {}", codec.title(), profile.title);
        if !profile.depths.contains(&parts.depth) {
            let words: Vec<_> = profile.depths.iter().map(ToString::to_string).collect();
            let words: Vec<_> = words.iter().map(String::as_str).collect();
            return refuse(Parameter::Depth, format!("{} for {named}", one_of(&words)));
        }
        if !profile.chromas.contains(&parts.chroma) {
            let words: Vec<_> = profile.chromas.iter().map(|each| each.word()).collect();
            return refuse(Parameter::Chroma, format!("{} for {named}", one_of(&words)));
        }
        if let Some(level) = &parts.level
            && !crate::levels::names(codec).any(|name| name == level)
        {
            let words: Vec<_> = crate::levels::names(codec).collect();
            let accepted = if words.is_empty() { format!("left out for {}", codec.title()) } else { one_of(&words) };
            return refuse(Parameter::Level, accepted);
        }
        Self::check_budget(&parts)?;
        if parts.keyframe_distance.is_some() && !codec.has_keyframes() {
            return refuse(
                Parameter::KeyframeDistance,
                format!("left out: every picture of {} is whole", codec.title()),
            );
        }
        if parts.keyframe_distance.is_some_and(|frames| !(1..=MOST_KEYFRAME_DISTANCE).contains(&frames)) {
            return refuse(Parameter::KeyframeDistance, format!("1 to {MOST_KEYFRAME_DISTANCE} frames"));
        }
        Self::check_sound(&parts)?;
        Ok(Self { parts, profile })
    }

    fn check_budget(parts: &FileParts) -> Result<(), Error> {
        let title = parts.codec.title();
        let refuse = |parameter, accepted: String| Err(Error::file(accepted).at(parameter));
        let (quality, average, highest) = (parts.constant_quality, &parts.average, &parts.highest);
        match parts.codec.budget() {
            Budget::Profile if quality.is_some() => {
                return refuse(Parameter::ConstantQuality, format!("left out: the profile of {title} sets it"));
            }
            Budget::Profile if average.is_some() || highest.is_some() => {
                let at = if average.is_some() { Parameter::AverageRate } else { Parameter::HighestRate };
                return refuse(at, format!("left out: the profile of {title} sets it"));
            }
            Budget::Rate if quality.is_some() => {
                return refuse(Parameter::ConstantQuality, format!("left out: {title} goes by a bit rate"));
            }
            Budget::Rate if average.is_none() => {
                return refuse(Parameter::AverageRate, format!("a bit rate for {title}, such as 50"));
            }
            Budget::QualityOrRate { worst } if quality.is_some_and(|quality| quality > worst) => {
                return refuse(Parameter::ConstantQuality, format!("0, the best, to {worst} for {title}"));
            }
            Budget::QualityOrRate { worst } if quality.is_none() && average.is_none() => {
                let or = format!("a quality from 0 to {worst}, unless there is an average bit rate");
                return refuse(Parameter::ConstantQuality, or);
            }
            Budget::QualityOrRate { .. } if quality.is_some() && average.is_some() => {
                return refuse(Parameter::AverageRate, "left out where there is a constant quality".to_owned());
            }
            _ => {}
        }
        if average.as_ref().is_some_and(|average| *average.value().value() == Exact::ZERO) {
            return refuse(Parameter::AverageRate, "a bit rate over 0".to_owned());
        }
        if let Some(highest) = highest
            && (highest.value().value() == &Exact::ZERO
                || average.as_ref().is_some_and(|average| highest.value() < average.value()))
        {
            return refuse(Parameter::HighestRate, "a bit rate over 0 and no less than the average".to_owned());
        }
        Ok(())
    }

    fn check_sound(parts: &FileParts) -> Result<(), Error> {
        let refuse = |accepted: String| Err(Error::file(accepted).at(Parameter::Sound));
        let holder = parts.container.word();
        match &parts.sound {
            Sound::None => Ok(()),
            Sound::AsSource if parts.container.holds_any_sound() => Ok(()),
            Sound::AsSource => refuse(format!("coded anew, or none: {holder} does not hold every sound of a source")),
            Sound::Coded { codec, rate, amount, channels } => {
                if !parts.container.sounds().contains(codec) {
                    let words: Vec<_> = parts.container.sounds().iter().map(|each| each.word()).collect();
                    return refuse(format!("{} in {holder}", words.join(" or ")));
                }
                if !SOUND_RATES.contains(rate) {
                    return refuse("32000, 44100, 48000 or 96000 samples a second".to_owned());
                }
                if channels.is_some_and(|channels| !(1..=MOST_CHANNELS).contains(&channels)) {
                    return refuse(format!("1 to {MOST_CHANNELS} channels"));
                }
                if parts.container == Container::Mxf && (*rate != 48_000 || *amount == SoundAmount::Sample(32)) {
                    return refuse("16 or 24 bits at 48000 samples a second in mxf".to_owned());
                }
                match (codec, amount) {
                    (SoundCodec::Pcm, SoundAmount::Sample(bits)) if SOUND_DEPTHS.contains(bits) => Ok(()),
                    (SoundCodec::Pcm, _) => refuse("16, 24 or 32 bits a sample for pcm".to_owned()),
                    (SoundCodec::Aac, SoundAmount::Rate(rate)) if *rate.value().value() >= Exact::whole(16) => Ok(()),
                    (SoundCodec::Aac, _) => refuse("a bit rate from 16 kb/s for aac".to_owned()),
                }
            }
        }
    }

    /// What was entered.
    pub const fn parts(&self) -> &FileParts {
        &self.parts
    }

    /// The profile that its word names.
    pub const fn profile(&self) -> &'static Profile {
        self.profile
    }

    /// What a decoder has to take of it; without a rate, each picture alone.
    fn load<'a>(&self, frame: Raster<Delivery>, rate: Option<&'a FrameRate>) -> Load<'a> {
        let most = self.parts.highest.as_ref().or(self.parts.average.as_ref());
        let allowed = match self.profile.bits {
            Bits::Asked(thousandths) => Exact::fraction(thousandths.try_into().unwrap_or(i32::MAX), 1_000),
            _ => Exact::ONE,
        };
        let kilobits = most.map(|most| most.value().value() * Exact::whole(1_000) / allowed);
        Load { frame, rate, kilobits }
    }

    /// The level that a decoder must have: the lowest that takes the frame at its rate and bit rate. None where no
    /// level does, and for a codec without levels.
    pub fn level_needed(&self, frame: Raster<Delivery>, rate: Option<&FrameRate>) -> Option<&'static str> {
        crate::levels::lowest(self.parts.codec, &self.load(frame, rate))
    }

    /// Whether the level that is set, or else any, takes the frame at its rate and bit rate.
    pub fn is_within_level(&self, frame: Raster<Delivery>, rate: Option<&FrameRate>) -> bool {
        let load = self.load(frame, rate);
        match &self.parts.level {
            Some(level) => crate::levels::takes(self.parts.codec, level, &load),
            None => !self.parts.codec.has_levels() || self.level_needed(frame, rate).is_some(),
        }
    }

    /// Bits a second of the picture, and whether that is only about so. None where the picture decides.
    pub fn picture_bits(&self, frame: Raster<Delivery>, rate: &FrameRate) -> Option<(Exact, bool)> {
        let blocks = |side: u32| u64::from(side.div_ceil(16));
        let blocks = i64::try_from(blocks(frame.width()) * blocks(frame.height())).ok()?;
        match self.profile.bits {
            Bits::Asked(_) => {
                let average = self.parts.average.as_ref()?;
                Some(((average.value().value() * Exact::whole(1_000_000)).reduced(), false))
            }
            Bits::Macroblock(bytes) => {
                let bytes = (Exact::from(blocks) * Exact::whole(bytes) / Exact::whole(255)).floor_whole();
                // To the nearest block of 4096 bytes, and two of them at least.
                let bytes = ((bytes + 2_048) / 4_096 * 4_096).max(8_192);
                Some(((Exact::from(bytes * 8) * rate.value()).reduced(), false))
            }
            Bits::About(megabits) => {
                let full = Exact::whole(8_160) * Exact::whole(30_000) / Exact::whole(1_001);
                let share = Exact::from(blocks) * rate.value() / full;
                Some(((Exact::whole(megabits) * Exact::whole(1_000_000) * share).reduced(), true))
            }
            Bits::Open => None,
        }
    }

    /// Bits a second of the sound; none where the source decides.
    pub fn sound_bits(&self) -> Option<Exact> {
        match &self.parts.sound {
            Sound::AsSource => None,
            Sound::None => Some(Exact::ZERO),
            Sound::Coded { amount: SoundAmount::Rate(rate), .. } => Some(rate.value().value() * Exact::whole(1_000)),
            Sound::Coded { amount: SoundAmount::Sample(bits), rate, channels, .. } => {
                Some(Exact::whole(*rate) * Exact::whole(u32::from(*bits)) * Exact::whole(u32::from((*channels)?)))
            }
        }
    }

    /// What so many seconds of a frame weigh.
    pub fn weight(&self, frame: Raster<Delivery>, rate: &FrameRate, seconds: &Seconds) -> Option<FileWeight> {
        let (picture, about) = self.picture_bits(frame, rate)?;
        let sound = self.sound_bits();
        let bits = (picture + sound.clone().unwrap_or(Exact::ZERO)) * seconds.value();
        let bytes = (bits / Exact::whole(8)).reduced().ceil();
        Some(FileWeight { bytes, about, without_sound: sound.is_none() })
    }

    /// What is said of it on a line: `"MP4, H.264 High, 8 bit 4:2:0, 12 Mb/s, AAC 48 kHz 320 kb/s"`.
    pub fn words(&self) -> String {
        let parts = &self.parts;
        let container = parts.container.word().to_uppercase();
        let mut words = format!("{container}, {} {}", parts.codec.title(), self.profile.title);
        let mut add = |part: String| {
            // OK because writing to a string does not fail.
            let _ = write!(words, "{part}");
        };
        add(format!(", {} bit {}", parts.depth, parts.chroma.word()));
        if let Some(level) = &parts.level {
            add(format!(", level {level}"));
        }
        if let Some(quality) = parts.constant_quality {
            add(format!(", quality {quality}"));
        }
        if let Some(average) = &parts.average {
            add(format!(", {} Mb/s", average.text()));
        }
        if let Some(highest) = &parts.highest {
            add(format!(", at most {} Mb/s", highest.text()));
        }
        add(match &parts.sound {
            Sound::AsSource => ", sound as the source".to_owned(),
            Sound::None => ", no sound".to_owned(),
            Sound::Coded { codec, rate, amount, channels } => {
                let kilohertz = (Exact::whole(*rate) / Exact::whole(1_000)).to_short_decimal(1);
                let amount = match amount {
                    SoundAmount::Sample(bits) => format!("{bits} bit"),
                    SoundAmount::Rate(rate) => format!("{} kb/s", rate.text()),
                };
                let channels = channels.map_or(String::new(), |channels| format!(" {channels} ch"));
                format!(", {} {kilohertz} kHz {amount}{channels}", codec.word().to_uppercase())
            }
        });
        words
    }
}

/// What a file weighs.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct FileWeight {
    /// Bytes, rounded up.
    pub bytes: i128,
    /// Whether the encoder may take more or fewer.
    pub about: bool,
    /// Whether the sound comes on top: nobody has said how much there is.
    pub without_sound: bool,
}

impl fmt::Display for FileWeight {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let whole = |bytes: i128| Exact::from(i64::try_from(bytes).unwrap_or(i64::MAX));
        let units = [(1_000_000_000_000, "TB"), (1_000_000_000, "GB"), (1_000_000, "MB"), (1_000, "kB")];
        let (unit, name) = units.into_iter().find(|(unit, _)| self.bytes >= *unit).unwrap_or((1, "bytes"));
        let amount = whole(self.bytes) / whole(unit);
        let about = if self.about { "about " } else { "" };
        let sound = if self.without_sound { ", sound not counted" } else { "" };
        write!(f, "{about}{} {name}{sound}", amount.to_short_decimal(2))
    }
}
