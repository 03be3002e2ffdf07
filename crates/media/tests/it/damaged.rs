//! Files cut short, changed at random, and made of noise: an answer or a refusal, never anything else.

use std::sync::OnceLock;

use proptest::prelude::*;
use ratiomet_media::{ByteSource, Failure, Slices, read};

use crate::built::dng;
use crate::made::{bytes, make};

/// How many formats ffmpeg makes, and how many samples there are in all.
const KINDS: usize = 23;
const SAMPLES: usize = KINDS + 2;
/// A report as MediaInfo writes it.
const REPORT: &str = r#"<?xml version="1.0" encoding="UTF-8"?><MediaInfo><media ref="a.mov"><track type="Video">
    <Width>1920</Width><Height>1080</Height><PixelAspectRatio>1.000</PixelAspectRatio><Rotation>90.000</Rotation>
    <FrameRate>25.000</FrameRate><ScanType>Interlaced</ScanType></track></media></MediaInfo>"#;

/// One small file of every format.
fn samples() -> &'static [Vec<u8>] {
    static SAMPLES: OnceLock<Vec<Vec<u8>>> = OnceLock::new();
    SAMPLES.get_or_init(|| {
        let folder = tempfile::tempdir().expect("a folder");
        let video = ["-frames:v", "2"];
        let kinds: [(&str, &[&str]); KINDS] = [
            ("a.mp4", &["-c:v", "libx264", "-pix_fmt", "yuv420p"]),
            ("a.mov", &["-c:v", "prores_ks", "-vf", "setsar=2/1"]),
            ("b.mp4", &["-c:v", "libx264", "-pix_fmt", "yuv420p", "-movflags", "+faststart"]),
            ("a.mkv", &["-c:v", "ffv1"]),
            ("a.webm", &["-c:v", "libvpx-vp9", "-pix_fmt", "yuv420p"]),
            ("a.mxf", &["-c:v", "mpeg2video", "-pix_fmt", "yuv422p"]),
            ("a.y4m", &["-pix_fmt", "yuv420p"]),
            ("a.png", &["-vf", "setsar=4/3", "-frames:v", "1"]),
            ("a.jpg", &["-frames:v", "1"]),
            ("a.tiff", &["-frames:v", "1"]),
            ("a.exr", &["-frames:v", "1", "-pix_fmt", "gbrpf32le"]),
            ("a.dpx", &["-frames:v", "1"]),
            ("h.mp4", &["-c:v", "libx265", "-pix_fmt", "yuv420p"]),
            ("1.mkv", &["-c:v", "libsvtav1", "-pix_fmt", "yuv420p"]),
            ("9.mp4", &["-c:v", "libvpx-vp9", "-pix_fmt", "yuv420p"]),
            ("a.ts", &["-c:v", "mpeg2video"]),
            ("h.ts", &["-c:v", "libx265", "-pix_fmt", "yuv420p"]),
            ("a.mpg", &["-c:v", "mpeg1video"]),
            ("a.avi", &["-c:v", "mpeg4"]),
            ("d.avi", &["-vf", "scale=720:576", "-c:v", "dvvideo", "-pix_fmt", "yuv420p"]),
            ("a.m4v", &["-c:v", "mpeg4", "-f", "m4v"]),
            ("a.h264", &["-c:v", "libx264", "-pix_fmt", "yuv420p"]),
            ("a.avif", &["-c:v", "libsvtav1", "-pix_fmt", "yuv420p", "-frames:v", "1"]),
        ];
        let made = kinds.iter().map(|(name, more)| {
            let arguments: Vec<&str> = video.iter().chain(more.iter()).copied().collect();
            let size = if more.contains(&"libsvtav1") { (128, 96) } else { (64, 48) };
            bytes(&make(folder.path(), name, size, "25", &arguments))
        });
        made.chain([dng(), REPORT.as_bytes().to_vec()]).collect()
    })
}

/// An answer or a refusal that says something.
fn settles(file: &[u8]) {
    match read(file) {
        Ok(reading) => {
            let (width, height) = reading.raster.expect("a reading has a size").value;
            assert!((1..=65_536).contains(&width) && (1..=65_536).contains(&height));
            if let Some(insets) = reading.insets {
                let [left, top, right, bottom] = insets.value;
                assert!(left + right + 2 <= width && top + bottom + 2 <= height);
            }
        }
        Err(Failure::Unreadable(why)) => assert!(!why.is_empty()),
        Err(Failure::Needs(..)) => panic!("all of the file is at hand"),
    }
}

/// How many damaged files of each sort: more, for minutes, where `RATIOMET_FUZZ_CASES` says so.
fn cases() -> u32 {
    std::env::var("RATIOMET_FUZZ_CASES").ok().and_then(|cases| cases.parse().ok()).unwrap_or(4000)
}

#[test]
fn every_cut_of_every_format_settles() {
    for file in samples() {
        let head = file.len().min(3000);
        for length in (0..head).chain((head..file.len()).step_by(997)) {
            settles(&file[..length]);
        }
        // Cut at the other end: the slices are there, the rest of a long file is not.
        for length in (0..head).step_by(7) {
            let slices = Slices::new(1 << 40, vec![(0, file[..length].to_vec())]);
            let _ = read(&slices);
        }
    }
}

// What coverage-guided fuzzing found: each was a panic, or took too long.
#[test]
fn what_a_fuzzer_found_settles() {
    // MPEG-2: a rate multiplied by each of many sequence extensions.
    let mut extended = b"\0\0\x01\xB3\x2D\x02\x40\x33\xFF\xFF\xE0\x18".to_vec();
    extended.extend(b"\0\0\x01\xB5\x1F\xFF\xFF\xFF\xFF\x7F".repeat(64));
    settles(&extended);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(cases()))]

    #[test]
    fn changed_bytes_settle(
        which in 0_usize..SAMPLES,
        changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..12),
        near in any::<bool>(),
    ) {
        let mut file = samples()[which].clone();
        // Headers are at the ends.
        let reach = if near { file.len().min(700) } else { file.len() };
        for (at, value) in &changes {
            let at = at.index(reach);
            file[at] = *value;
        }
        settles(&file);
    }

    #[test]
    fn lengths_that_lie_settle(which in 0_usize..SAMPLES, at in any::<prop::sample::Index>(), value in prop::sample::select(&[0_u32, 1, 2, 7, 0x7FFF_FFFF, 0x8000_0000, 0xFFFF_FFFF, 0xFFFF_FFFE][..])) {
        let mut file = samples()[which].clone();
        let at = at.index(file.len().min(2000) - 4);
        file[at..at + 4].copy_from_slice(&value.to_be_bytes());
        settles(&file);
        file[at..at + 4].copy_from_slice(&value.to_le_bytes());
        settles(&file);
    }

    #[test]
    fn noise_behind_a_good_beginning_settles(which in 0_usize..SAMPLES, keep in 4_usize..200, noise in prop::collection::vec(any::<u8>(), 0..600)) {
        let mut file = samples()[which].clone();
        file.truncate(keep);
        file.extend(noise);
        settles(&file);
    }
}

#[test]
fn slices_that_overlap_are_one_file() {
    let file: Vec<u8> = (0..=255_u8).cycle().take(60_000).collect();
    // Each slice goes 2 bytes into the next one; they come backwards, and some twice.
    let slice = |at: usize| (at as u64, file[at..file.len().min(at + 6)].to_vec());
    let mut parts: Vec<(u64, Vec<u8>)> = (0..file.len()).step_by(4).rev().map(slice).collect();
    parts.extend((0..100).map(slice));
    let slices = Slices::new(file.len() as u64, parts);
    for at in 0..file.len() - 9 {
        let mut read = [0; 9];
        slices.fill(at as u64, &mut read).expect("all of it is at hand");
        assert_eq!(read, file[at..at + 9]);
    }
    let holes = Slices::new(100, vec![(0, vec![1; 10]), (20, vec![2; 10])]);
    assert!(holes.fill(5, &mut [0; 10]).is_err() && holes.fill(22, &mut [0; 8]).is_ok());
}
