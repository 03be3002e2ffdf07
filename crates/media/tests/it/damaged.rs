//! Files cut short, changed at random, and made of noise: an answer or a refusal, never anything else.

use std::sync::OnceLock;

use proptest::prelude::*;
use ratiomet_media::{Failure, Slices, read};

use crate::made::{bytes, make};

/// One small file of every format.
fn samples() -> &'static [Vec<u8>] {
    static SAMPLES: OnceLock<Vec<Vec<u8>>> = OnceLock::new();
    SAMPLES.get_or_init(|| {
        let folder = tempfile::tempdir().expect("a folder");
        let video = ["-frames:v", "2"];
        let kinds: [(&str, &[&str]); 12] = [
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
        ];
        let made = kinds.iter().map(|(name, more)| {
            let arguments: Vec<&str> = video.iter().chain(more.iter()).copied().collect();
            bytes(&make(folder.path(), name, (64, 48), "25", &arguments))
        });
        made.collect()
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

proptest! {
    #![proptest_config(ProptestConfig::with_cases(cases()))]

    #[test]
    fn changed_bytes_settle(
        which in 0_usize..12,
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
    fn lengths_that_lie_settle(which in 0_usize..12, at in any::<prop::sample::Index>(), value in prop::sample::select(&[0_u32, 1, 2, 7, 0x7FFF_FFFF, 0x8000_0000, 0xFFFF_FFFF, 0xFFFF_FFFE][..])) {
        let mut file = samples()[which].clone();
        let at = at.index(file.len().min(2000) - 4);
        file[at..at + 4].copy_from_slice(&value.to_be_bytes());
        settles(&file);
        file[at..at + 4].copy_from_slice(&value.to_le_bytes());
        settles(&file);
    }

    #[test]
    fn noise_behind_a_good_beginning_settles(which in 0_usize..12, keep in 4_usize..200, noise in prop::collection::vec(any::<u8>(), 0..600)) {
        let mut file = samples()[which].clone();
        file.truncate(keep);
        file.extend(noise);
        settles(&file);
    }
}
