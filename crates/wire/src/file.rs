//! How files are made, as JSON: what is entered, what it amounts to, and what there is to choose from.

use ratiomet_core::file::{
    Budget, Codec, Container, FileParts, FileSpec, FileWeight, Practice, Sound, SoundAmount, SoundCodec,
};
use ratiomet_core::fraction::Written;
use ratiomet_core::project::Deliverable;
use ratiomet_core::recipe::Chroma;
use ratiomet_core::weight::{Kilobits, Megabits, Seconds};
use serde::Serialize;
use utoipa::ToSchema;

use crate::describe::{Refused, Values, record, words};
use crate::values::Text;
use crate::whole::Whole;

words!(
    /// What holds picture and sound together.
    "ContainerName" for Container, Container::ALL, Container::word
);

words!(
    /// A family of coded pictures.
    "CodecName" for Codec, Codec::ALL, Codec::word
);

/// What becomes of the sound, by a word.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Coding {
    AsSource,
    None,
    By(SoundCodec),
}

impl Coding {
    const ALL: [Self; 4] = [Self::AsSource, Self::None, Self::By(SoundCodec::Pcm), Self::By(SoundCodec::Aac)];

    const fn word(self) -> &'static str {
        match self {
            Self::AsSource => "as_source",
            Self::None => "none",
            Self::By(codec) => codec.word(),
        }
    }

    const fn of(sound: &Sound) -> Self {
        match sound {
            Sound::AsSource => Self::AsSource,
            Sound::None => Self::None,
            Sound::Coded { codec, .. } => Self::By(*codec),
        }
    }
}

words!(
    /// What becomes of the sound: it stays as the source has it, there is none, or it is coded anew.
    "SoundCoding" for Coding, Coding::ALL, Coding::word
);

type Amount = Option<Whole<0, { u32::MAX }>>;

fn coded(sound: &Sound) -> Option<(u32, &SoundAmount, Option<u8>)> {
    match sound {
        Sound::Coded { rate, amount, channels, .. } => Some((*rate, amount, *channels)),
        Sound::AsSource | Sound::None => None,
    }
}

record!(
    /// What becomes of the sound.
    "SoundValues", "sounds" for Sound {
        /// How it is coded.
        coding: Coding = Required, |sound| Coding::of(sound);
        /// Samples a second; null unless it is coded anew.
        rate: Amount = Default("null"), |sound| coded(sound).map(|(rate, ..)| Whole::new(rate));
        /// Bits of a sample of pcm; null otherwise.
        bits: Amount = Default("null"), |sound| match coded(sound) {
            Some((_, SoundAmount::Sample(bits), _)) => Some(Whole::new(u32::from(*bits))),
            _ => None,
        };
        /// Thousands of bits a second of aac, all channels together; null otherwise.
        kbps: Option<Written<Kilobits>> = Default("null"), |sound| match coded(sound) {
            Some((_, SoundAmount::Rate(rate), _)) => Some(rate.clone()),
            _ => None,
        };
        /// How many channels; null for as many as the source has.
        channels: Amount = Default("null"),
            |sound| coded(sound).and_then(|(.., channels)| channels).map(|channels| Whole::new(u32::from(channels)));
    }
    |coding, rate, bits, kbps, channels| {
        let Coding::By(codec) = coding else {
            if rate.is_some() || bits.is_some() || kbps.is_some() || channels.is_some() {
                return Err(Refused::Accepted("a coding alone where the sound is not coded anew"));
            }
            return Ok(if coding == Coding::None { Sound::None } else { Sound::AsSource });
        };
        let Some(rate) = rate.map(Whole::get) else {
            return Err(Refused::Accepted("with a rate, such as 48000, where the sound is coded anew"));
        };
        let amount = match (bits.map(|bits| u8::try_from(bits.get()).unwrap_or(u8::MAX)), kbps) {
            (Some(bits), None) => SoundAmount::Sample(bits),
            (None, Some(kbps)) => SoundAmount::Rate(kbps),
            _ => return Err(Refused::Accepted("with bits for pcm or kbps for aac, one of the two")),
        };
        let channels = channels.map(|channels| u8::try_from(channels.get()).unwrap_or(u8::MAX));
        Ok(Sound::Coded { codec, rate, amount, channels })
    }
);

/// The longest word of a profile or a level.
const WORD: usize = 40;

record!(
    /// How the file of a frame is made.
    "FileValues", "files" for FileSpec {
        /// What holds picture and sound.
        container: Container = Required, |file| file.parts().container;
        /// The family of the coded picture.
        codec: Codec = Required, |file| file.parts().codec;
        /// The word of its profile.
        profile: Text<WORD> = Required, |file| Text(file.parts().profile.clone());
        /// Bits of a sample.
        depth: Whole<1, 32> = Required, |file| Whole::new(u32::from(file.parts().depth));
        /// How colour is sampled.
        chroma: Chroma = Required, |file| file.parts().chroma;
        /// What a decoder must take, such as "5.1"; null for the lowest level that does.
        level: Option<Text<WORD>> = Default("null"), |file| file.parts().level.clone().map(Text);
        /// The same quality all along, from 0, the best; null for a bit rate.
        constant_quality: Option<Whole<0, 255>> = Default("null"),
            |file| file.parts().constant_quality.map(|quality| Whole::new(u32::from(quality)));
        /// Megabits a second of the picture, on average; null for a quality, and where the profile sets it.
        average_mbps: Option<Written<Megabits>> = Default("null"), |file| file.parts().average.clone();
        /// The most megabits a second at any time; null for no bound.
        highest_mbps: Option<Written<Megabits>> = Default("null"), |file| file.parts().highest.clone();
        /// The most frames from one whole picture to the next; null for what the encoder takes.
        keyframe_distance: Option<Whole<0, 65_535>> = Default("null"),
            |file| file.parts().keyframe_distance.map(|frames| Whole::new(u32::from(frames)));
        /// What becomes of the sound.
        sound: Sound = Default(r#"{"coding":"as_source"}"#), |file| file.parts().sound.clone();
    }
    |container, codec, profile, depth, chroma, level, constant_quality, average_mbps, highest_mbps, keyframe_distance,
     sound| {
        // OK because each lies within the bounds of its field.
        let byte = |value: u32| u8::try_from(value).unwrap_or(u8::MAX);
        Ok(FileSpec::new(FileParts {
            container,
            codec,
            profile: profile.0,
            depth: byte(depth.get()),
            chroma,
            level: level.map(|level| level.0),
            constant_quality: constant_quality.map(|quality| byte(quality.get())),
            average: average_mbps,
            highest: highest_mbps,
            keyframe_distance: keyframe_distance.map(|frames| u16::try_from(frames.get()).unwrap_or(u16::MAX)),
            sound,
        })?)
    }
);

/// How the file of a frame is made.
pub type FileValues = Values<FileSpec>;

/// What a file weighs.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FileWeightResult {
    /// Bytes.
    #[schema(value_type = i64)]
    pub bytes: i128,
    /// Whether the encoder may take more or fewer.
    pub about: bool,
    /// Whether the sound comes on top: nobody has said how much there is.
    pub without_sound: bool,
    /// The same in words.
    #[schema(example = "about 66.15 GB, sound not counted")]
    pub words: String,
}

impl From<FileWeight> for FileWeightResult {
    fn from(weight: FileWeight) -> Self {
        Self {
            bytes: weight.bytes,
            about: weight.about,
            without_sound: weight.without_sound,
            words: weight.to_string(),
        }
    }
}

/// What the file of a frame amounts to.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FileShape {
    /// All of it on a line.
    #[schema(example = "MP4, H.264 High, 8 bit 4:2:0, 12 Mb/s, no sound")]
    pub words: String,
    /// The lowest level that takes size, rate and bit rate; null for a codec without levels, or where none does.
    #[schema(example = "4.1")]
    pub level_needed: Option<&'static str>,
    /// Whether the level that is set, or any, takes it.
    pub within_level: bool,
    /// What an hour weighs; null where the picture decides, and without a rate.
    pub hour: Option<FileWeightResult>,
    /// What is odd for the chroma of the file, as sentences.
    pub misfits: Vec<String>,
}

impl FileShape {
    /// What the file of a frame amounts to, where it has one.
    pub fn of(frame: &Deliverable) -> Option<Self> {
        let file = frame.file.as_ref()?;
        let (raster, rate) = (frame.geometry.frame().raster(), frame.rate.as_ref().map(Written::value));
        let hour = Seconds::parse("3600").ok();
        Some(Self {
            words: file.words(),
            level_needed: file.level_needed(raster, rate),
            within_level: file.is_within_level(raster, rate),
            hour: rate.zip(hour).and_then(|(rate, hour)| file.weight(raster, rate, &hour)).map(Into::into),
            misfits: file.parts().chroma.misfits(frame.geometry.frame()).iter().map(ToString::to_string).collect(),
        })
    }
}

/// A usual way to make the file of a frame (common practice).
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct UsualFile {
    /// What such a file is for.
    #[schema(example = "Review copy")]
    pub title: &'static str,
    /// All of it on a line.
    pub words: String,
    /// How it is made.
    pub file: FileValues,
}

impl From<Practice> for UsualFile {
    fn from(practice: Practice) -> Self {
        Self { title: practice.title, words: practice.file.words(), file: Values(practice.file) }
    }
}

/// A family of coded pictures, with what goes with it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CodecEntry {
    /// The word for it.
    #[schema(example = "h264")]
    pub codec: &'static str,
    /// What it is called.
    #[schema(example = "H.264")]
    pub title: &'static str,
    /// The containers that hold it.
    pub containers: Vec<&'static str>,
    /// Its profiles.
    pub profiles: Vec<ProfileEntry>,
    /// The names of its levels, the lowest first; empty where they are not worked out.
    pub levels: Vec<&'static str>,
    /// The largest number of a constant quality; null where there is none.
    pub worst_quality: Option<u8>,
    /// Whether it goes by bit rates.
    pub has_rates: bool,
    /// Whether whole pictures come at a distance.
    pub has_keyframes: bool,
}

/// How far a codec may go.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ProfileEntry {
    /// The word for it.
    #[schema(example = "high_10")]
    pub profile: &'static str,
    /// What it is called.
    #[schema(example = "High 10")]
    pub title: &'static str,
    /// Bits of a sample.
    pub depths: &'static [u8],
    /// How colour is sampled.
    pub chromas: Vec<&'static str>,
}

/// A container, with the codings of sound that it holds.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ContainerEntry {
    /// The word for it, which is also the ending of its files.
    #[schema(example = "mp4")]
    pub container: &'static str,
    /// Codings of sound.
    pub sounds: Vec<&'static str>,
}

/// What there is to choose from.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FileChoices {
    /// Families of coded pictures.
    pub codecs: Vec<CodecEntry>,
    /// Containers.
    pub containers: Vec<ContainerEntry>,
}

impl FileChoices {
    /// All of it.
    pub fn all() -> Self {
        let codec = |codec: Codec| CodecEntry {
            codec: codec.word(),
            title: codec.title(),
            containers: codec.containers().iter().map(|container| container.word()).collect(),
            profiles: codec
                .profiles()
                .iter()
                .map(|profile| ProfileEntry {
                    profile: profile.word,
                    title: profile.title,
                    depths: profile.depths,
                    chromas: profile.chromas.iter().map(|chroma| chroma.word()).collect(),
                })
                .collect(),
            levels: ratiomet_core::levels::names(codec).collect(),
            worst_quality: match codec.budget() {
                Budget::QualityOrRate { worst } => Some(worst),
                Budget::Rate | Budget::Profile => None,
            },
            has_rates: codec.budget() != Budget::Profile,
            has_keyframes: codec.has_keyframes(),
        };
        let container = |container: Container| ContainerEntry {
            container: container.word(),
            sounds: container.codings().map(|sound| sound.map_or("as_source", SoundCodec::word)).collect(),
        };
        Self {
            codecs: Codec::ALL.into_iter().map(codec).collect(),
            containers: Container::ALL.into_iter().map(container).collect(),
        }
    }
}
