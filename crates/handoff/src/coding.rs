//! How a file is made, as arguments of the ffmpeg command line.

use std::fmt::Write as _;

use ratiomet_core::Exact;
use ratiomet_core::file::{Codec, Container, FileSpec, Sound, SoundAmount, SoundCodec};
use ratiomet_core::fraction::Written;
use ratiomet_core::recipe::Chroma;
use ratiomet_core::weight::Megabits;

/// The layout of pixels of a sampling and a depth.
fn pixels(chroma: Chroma, depth: u8) -> String {
    let sampling = match chroma {
        Chroma::Quarter => "420",
        Chroma::Half => "422",
        Chroma::Full => "444",
    };
    if depth == 8 { format!("yuv{sampling}p") } else { format!("yuv{sampling}p{depth}le") }
}

fn bits(rate: &Written<Megabits>) -> i64 {
    (rate.value().value() * Exact::whole(1_000_000)).floor_whole()
}

/// The picture: encoder, profile, level, samples, quality or bit rate, whole pictures. Every word is one of ours or a
/// number: a shell may take them apart at the spaces.
pub(crate) fn picture(file: &FileSpec) -> String {
    let parts = file.parts();
    // Its encoder takes no more than ten bits, whatever is kept of them in the file.
    let depth = if parts.codec == Codec::Prores { 10 } else { parts.depth };
    let mut words = format!("-c:v {} -pix_fmt {}", encoder(file), pixels(parts.chroma, depth));
    // OK because writing to a string does not fail.
    if let Some(quality) = parts.constant_quality {
        let _ = write!(words, " -crf {quality}");
        if parts.codec == Codec::Av1 && parts.highest.is_none() {
            words += " -b:v 0";
        }
    }
    if let Some(average) = &parts.average {
        let _ = write!(words, " -b:v {}", bits(average));
    }
    let highest = parts.highest.as_ref().or(parts.average.as_ref().filter(|_| parts.codec == Codec::Mpeg2));
    if let Some(highest) = highest.filter(|_| parts.codec != Codec::Av1) {
        // A second of it may wait.
        let _ = write!(words, " -maxrate {0} -bufsize {0}", bits(highest));
    }
    if let Some(frames) = parts.keyframe_distance {
        let _ = write!(words, " -g {frames}");
    }
    if parts.codec == Codec::H265 && matches!(parts.container, Container::Mp4 | Container::QuickTime) {
        words += " -tag:v hvc1";
    }
    words
}

fn encoder(file: &FileSpec) -> String {
    let parts = file.parts();
    let profile = file.profile().word;
    match parts.codec {
        Codec::H264 => {
            let profile = profile.replace('_', "");
            let level = parts.level.as_ref().map_or(String::new(), |level| format!(" -level:v {level}"));
            format!("libx264 -preset slow -profile:v {profile}{level}")
        }
        Codec::H265 => {
            let profile = match profile {
                "main_422_10" => "main422-10",
                "main_444" => "main444-8",
                "main_444_10" => "main444-10",
                "main_10" => "main10",
                "main_12" => "main12",
                plain => plain,
            };
            let level = parts.level.as_ref().map_or(String::new(), |level| {
                let (number, high) = level.split_once(' ').map_or((level.as_str(), "0"), |(number, _)| (number, "1"));
                format!(":level-idc={number}:high-tier={high}")
            });
            format!("libx265 -preset medium -profile:v {profile} -x265-params log-level=error{level}")
        }
        Codec::Av1 => "libaom-av1 -cpu-used 6 -row-mt 1".to_owned(),
        Codec::Mpeg2 => format!("mpeg2video -profile:v {}", if profile == "422" { 0 } else { 4 }),
        Codec::Prores => {
            let number = Codec::Prores.profiles().iter().position(|each| each.word == profile).unwrap_or(0);
            format!("prores_ks -profile:v {number}")
        }
        Codec::Vc3 => format!("dnxhd -profile:v dnxhr_{profile}"),
        Codec::Ffv1 => "ffv1 -level 3 -g 1 -slicecrc 1".to_owned(),
    }
}

/// Whether the codec says of a picture that it has two fields.
pub(crate) const fn marks_fields(codec: Codec) -> bool {
    matches!(codec, Codec::H264 | Codec::Mpeg2 | Codec::Prores | Codec::Ffv1)
}

/// The sound: `copy` as it is, `none`, or the arguments that code it anew.
pub(crate) fn sound(sound: &Sound) -> String {
    let Sound::Coded { codec, rate, amount, channels } = sound else {
        return if *sound == Sound::None { "none" } else { "copy" }.to_owned();
    };
    let coding = match (codec, amount) {
        (SoundCodec::Pcm, SoundAmount::Sample(bits)) => format!("-c:a pcm_s{bits}le"),
        (SoundCodec::Aac, SoundAmount::Rate(rate)) => {
            format!("-c:a aac -b:a {}", (rate.value().value() * Exact::whole(1_000)).floor_whole())
        }
        // OK because a file checks that amount and coding go together.
        (SoundCodec::Pcm, SoundAmount::Rate(_)) | (SoundCodec::Aac, SoundAmount::Sample(_)) => "-c:a copy".to_owned(),
    };
    let channels = channels.map_or(String::new(), |channels| format!(" -ac {channels}"));
    format!("{coding} -ar {rate}{channels}")
}
