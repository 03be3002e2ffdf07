//! [`Practice`]: how files of a kind of frame are usually made.
//!
//! All of it is common practice: starting points for whoever has no sheet from the client. Nothing takes them
//! unasked.

use crate::fraction::Written;
use crate::project::Deliverable;
use crate::recipe::Chroma;
use crate::signal::{Projection, Scan};
use crate::weight::{Kilobits, Megabits};
use crate::{Exact, FrameRate};

use super::{Codec, Container, FileParts, FileSpec, Sound, SoundAmount, SoundCodec};

/// A usual way to make the file of a frame.
#[derive(Clone, Debug)]
pub struct Practice {
    /// What such a file is for.
    pub title: &'static str,
    /// How it is made.
    pub file: FileSpec,
}

impl Practice {
    /// What is usual for a frame, the likeliest first. Nothing that its sides do not take.
    pub fn of(frame: &Deliverable) -> Vec<Self> {
        let kind = Kind::of(frame);
        let raster = frame.geometry.frame().raster();
        let is_hd = [raster.width(), raster.height()] == [1920, 1080];
        let all: Vec<(&'static str, Option<FileSpec>)> = match kind {
            Kind::Sphere => vec![("Sphere for players", kind.stream_deep(frame)), ("Master", master("422_hq"))],
            Kind::Cinema => {
                vec![("Master", deep_master()), ("Screening copy", kind.stream_deep(frame)), ("Archive", archive())]
            }
            Kind::Tape => vec![("Broadcast file", broadcast()), ("Review copy", review(frame)), ("Archive", archive())],
            Kind::Screen => vec![
                ("Online", kind.stream(frame)),
                ("Online, 10 bit", kind.stream_deep(frame)),
                ("Review copy", review(frame)),
                ("Master", master("422_hq")),
                ("Broadcast file", if is_hd { broadcast() } else { None }),
                ("Exchange", exchange()),
                ("Editing proxy", master("422_proxy")),
                ("Archive", archive()),
            ],
        };
        let fits = |file: &FileSpec| file.parts().chroma.misfits(frame.geometry.frame()).is_empty();
        let each = all.into_iter().filter_map(|(title, file)| Some(Self { title, file: file?.clone() }));
        each.filter(|practice| fits(&practice.file)).collect()
    }
}

/// What a frame is for, as far as its numbers tell.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Kind {
    Sphere,
    Cinema,
    Tape,
    Screen,
}

/// Sides of the frames of digital cinema: 2K and 4K, flat, scope and full (SMPTE ST 428-1 and common practice).
const CINEMA: [[u32; 2]; 6] = [[2048, 858], [1998, 1080], [2048, 1080], [4096, 1716], [3996, 2160], [4096, 2160]];

impl Kind {
    fn of(frame: &Deliverable) -> Self {
        let raster = frame.geometry.frame().raster();
        match () {
            () if frame.projection == Projection::Sphere => Self::Sphere,
            () if CINEMA.contains(&[raster.width(), raster.height()]) => Self::Cinema,
            () if frame.scan == Scan::Interlaced || [480, 486, 576].contains(&raster.height()) => Self::Tape,
            () => Self::Screen,
        }
    }

    /// Bits for each pixel of a stream, in hundredths: a sphere shows only a part of its pixels at a time.
    const fn hundredths(self) -> u32 {
        match self {
            Self::Sphere => 10,
            _ => 20,
        }
    }

    fn stream(self, frame: &Deliverable) -> Option<FileSpec> {
        self.streamed(frame, Codec::H264, "high", 8, 1)
    }

    /// The newer codec asks for about two thirds of the bits.
    fn stream_deep(self, frame: &Deliverable) -> Option<FileSpec> {
        self.streamed(frame, Codec::H265, "main_10", 10, 2)
    }

    fn streamed(self, frame: &Deliverable, codec: Codec, profile: &str, depth: u8, thirds: u32) -> Option<FileSpec> {
        let raster = frame.geometry.frame().raster();
        let pixels = raster.size().area() * Exact::whole(self.hundredths()) / Exact::whole(100_000_000);
        let share = if thirds == 1 { Exact::ONE } else { Exact::fraction(2, 3) };
        let average = frame.rate.as_ref().map(|rate| even_rate(&(pixels * rate.value().value() * share)));
        let megabits = |value: u32| Written::parse(&value.to_string(), Megabits::parse).ok();
        FileSpec::new(FileParts {
            container: Container::Mp4,
            codec,
            profile: profile.to_owned(),
            depth,
            chroma: Chroma::Quarter,
            level: None,
            constant_quality: if average.is_none() { Some(18) } else { None },
            average: average.and_then(megabits),
            highest: average.and_then(|average| megabits((average * 3).div_ceil(2))),
            keyframe_distance: seconds_of(frame, 2),
            sound: coded_sound("320"),
        })
        .ok()
    }
}

/// Rates that people write, in millions of bits a second.
const EVEN: [u32; 22] = [1, 2, 3, 4, 5, 6, 8, 10, 12, 16, 20, 25, 30, 40, 50, 60, 80, 100, 120, 160, 200, 300];

/// The rate that people would write for it.
fn even_rate(megabits: &Exact) -> u32 {
    let near = |even: &u32| (Exact::whole(*even) - megabits).abs();
    EVEN.into_iter().min_by(|one, other| near(one).cmp(&near(other))).unwrap_or(1)
}

/// So many seconds in whole frames.
fn seconds_of(frame: &Deliverable, seconds: u32) -> Option<u16> {
    let frames = |rate: &FrameRate| (rate.value() * Exact::whole(seconds) + Exact::fraction(1, 2)).floor_whole();
    frame.rate.as_ref().and_then(|rate| u16::try_from(frames(rate.value())).ok()).filter(|frames| *frames > 0)
}

fn coded_sound(kilobits: &str) -> Sound {
    match Written::parse(kilobits, Kilobits::parse) {
        Ok(rate) => {
            Sound::Coded { codec: SoundCodec::Aac, rate: 48_000, amount: SoundAmount::Rate(rate), channels: Some(2) }
        }
        Err(_) => Sound::None,
    }
}

/// Sound as it is worked with.
const fn plain_sound() -> Sound {
    Sound::Coded { codec: SoundCodec::Pcm, rate: 48_000, amount: SoundAmount::Sample(24), channels: None }
}

fn review(frame: &Deliverable) -> Option<FileSpec> {
    FileSpec::new(FileParts {
        container: Container::Mp4,
        codec: Codec::H264,
        profile: "high".to_owned(),
        depth: 8,
        chroma: Chroma::Quarter,
        level: None,
        constant_quality: Some(20),
        average: None,
        highest: None,
        keyframe_distance: seconds_of(frame, 1),
        sound: coded_sound("192"),
    })
    .ok()
}

/// A file of which every picture is whole.
fn whole(container: Container, codec: Codec, profile: &str, depth: u8, chroma: Chroma) -> Option<FileSpec> {
    FileSpec::new(FileParts {
        container,
        codec,
        profile: profile.to_owned(),
        depth,
        chroma,
        level: None,
        constant_quality: None,
        average: None,
        highest: None,
        keyframe_distance: None,
        sound: plain_sound(),
    })
    .ok()
}

fn master(profile: &str) -> Option<FileSpec> {
    whole(Container::QuickTime, Codec::Prores, profile, 10, Chroma::Half)
}

fn deep_master() -> Option<FileSpec> {
    whole(Container::QuickTime, Codec::Prores, "4444", 12, Chroma::Full)
}

fn exchange() -> Option<FileSpec> {
    whole(Container::Mxf, Codec::Vc3, "hqx", 10, Chroma::Half)
}

fn archive() -> Option<FileSpec> {
    whole(Container::Matroska, Codec::Ffv1, "version_3", 10, Chroma::Half)
}

fn broadcast() -> Option<FileSpec> {
    let rate = Written::parse("50", Megabits::parse).ok()?;
    FileSpec::new(FileParts {
        container: Container::Mxf,
        codec: Codec::Mpeg2,
        profile: "422".to_owned(),
        depth: 8,
        chroma: Chroma::Half,
        level: None,
        constant_quality: None,
        average: Some(rate.clone()),
        highest: Some(rate),
        keyframe_distance: Some(12),
        sound: plain_sound(),
    })
    .ok()
}
