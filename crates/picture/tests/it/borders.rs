//! Borders of pictures that were given some, against those that were given and against ffmpeg's cropdetect.

use std::path::Path;
use std::process::Command;

use image::{GrayImage, Luma};
use ratiomet_picture::borders::{Borders, find};

use crate::support::still;

/// How a picture with borders is made.
#[derive(Clone, Debug)]
struct Made {
    insets: [u32; 4],
    black: f64,
    noise: f64,
    /// How bright the picture is, 1 for as it was taken.
    fade: f64,
    /// How much the right end of the borders above and below lies deeper than the left one, in pixels.
    tilt: f64,
    kind: u32,
}

const SIZE: (u32, u32) = (360, 288);

fn picture(made: &Made, random: &mut fastrand::Rng) -> GrayImage {
    let [left, top, right, bottom] = made.insets.map(f64::from);
    let (width, height) = (f64::from(SIZE.0), f64::from(SIZE.1));
    let seed = random.f64() * 9.0;
    let normal = |random: &mut fastrand::Rng| (0..6).map(|_| random.f64() - 0.5).sum::<f64>() * 1.414;
    GrayImage::from_fn(SIZE.0, SIZE.1, |x, y| {
        let (x, y) = (f64::from(x), f64::from(y));
        let lean = made.tilt * (x + 0.5) / width;
        // How much of the pixel is picture.
        let share = |from: f64, to: f64, at: f64| ((at + 1.0).min(to) - at.max(from)).clamp(0.0, 1.0);
        let seen = share(left, width - right, x) * share(top + lean, height - bottom + lean, y);
        let scene = match made.kind {
            // A bright one, a textured one, one that is dark at a side, a night with lights.
            0 => 150.0 + 60.0 * ((x / 31.0 + seed).sin() + (y / 23.0).cos()),
            1 => 40.0 + 150.0 * ((x / 7.0 + seed).sin() * (y / 5.0).sin()).abs(),
            2 => 24.0 + 200.0 * (x / width).powi(2) + 30.0 * (y / 11.0 + seed).sin().abs(),
            _ => 22.0 + 190.0 * f64::from(u8::from(((x / 17.0 + seed).sin() * (y / 13.0 - seed).sin()) > 0.35)),
        };
        let level = made.black + seen * (scene * made.fade - made.black).max(-made.black) + made.noise * normal(random);
        Luma([level.round().clamp(0.0, 255.0) as u8])
    })
}

fn wanted(made: &Made) -> [u32; 4] {
    let [left, top, right, bottom] = made.insets;
    // Nothing of a leaning border stays.
    let deep = made.tilt.abs().ceil() as u32;
    if made.tilt > 0.0 { [left, top + deep, right, bottom] } else { [left, top, right, bottom + deep] }
}

/// What cropdetect finds in each of numbered stills, as insets, with its limit of 24 and round to 2.
fn cropdetect(folder: &Path) -> Vec<Option<[u32; 4]>> {
    let output = Command::new("ffmpeg")
        .args(["-hide_banner", "-i"])
        .arg(folder.join("%d.tif"))
        .args(["-vf", "cropdetect=limit=24:round=2:skip=0:reset=1", "-f", "null", "-"])
        .output()
        .expect("ffmpeg is installed");
    let said = String::from_utf8_lossy(&output.stderr);
    let insets = |crop: &str| {
        let parts: Vec<u32> = crop.split_whitespace().next()?.split(':').filter_map(|part| part.parse().ok()).collect();
        let [width, height, x, y] = parts[..] else { return None };
        Some([x, y, SIZE.0.checked_sub(width + x)?, SIZE.1.checked_sub(height + y)?])
    };
    said.split("crop=").skip(1).map(insets).collect()
}

fn any(random: &mut fastrand::Rng) -> Made {
    let side = |random: &mut fastrand::Rng| if random.u8(0..3) == 0 { 0 } else { 2 * random.u32(1..20) };
    Made {
        insets: [side(random), side(random), side(random), side(random)],
        black: random.choice([0.0, 2.0, 16.0]).expect("one"),
        noise: random.choice([0.0, 1.0, 3.0]).expect("one"),
        fade: random.choice([1.0, 1.0, 0.5]).expect("one"),
        tilt: 0.0,
        kind: random.u32(0..4),
    }
}

#[test]
fn borders_are_found_to_the_pixel_at_least_as_often_as_cropdetect_finds_them() {
    let folder = tempfile::tempdir().expect("a folder");
    let mut random = fastrand::Rng::with_seed(11);
    let (mut ours, mut sure_and_wrong, mut all) = (0, 0, Vec::new());
    const ROUNDS: u32 = 120;
    for round in 0..ROUNDS {
        let mut made = any(&mut random);
        if round % 4 == 3 {
            made.tilt = random.choice([-3.0, -2.0, 2.0, 3.0]).expect("one");
            made.insets[1] = made.insets[1].max(6);
            made.insets[3] = made.insets[3].max(6);
        }
        let picture = picture(&made, &mut random);
        picture.save(folder.path().join(format!("{round}.tif"))).expect("written");
        let found = find(&[still(picture.into())]).expect("borders");
        let right = found.insets == wanted(&made);
        ours += u32::from(right);
        sure_and_wrong += u32::from(!right && found.confidence() > 0.9);
        if !right && std::env::var_os("RATIOMET_TELL").is_some() {
            println!("{made:?}\n   {:?} {:?}", found.insets, found.sides);
        }
        all.push(Some(wanted(&made)));
    }
    let found = cropdetect(folder.path());
    assert_eq!(found.len(), all.len());
    let theirs: u32 = found.iter().zip(&all).map(|(found, wanted)| u32::from(found == wanted)).sum();
    println!("of {ROUNDS}: {ours} to the pixel, cropdetect {theirs}; {sure_and_wrong} sure and wrong");
    assert!(ours >= theirs, "{ours} against {theirs}");
    assert!(ours * 10 >= ROUNDS * 8, "{ours} of {ROUNDS}");
    assert!(sure_and_wrong * 20 <= ROUNDS, "{sure_and_wrong} sure and wrong");
}

fn plain(insets: [u32; 4]) -> Made {
    Made { insets, black: 16.0, noise: 1.0, fade: 1.0, tilt: 0.0, kind: 0 }
}

fn sure(found: &Borders, insets: [u32; 4]) {
    assert_eq!(found.insets, insets);
    assert!(found.confidence() > 0.7, "{found:?}");
}

#[test]
fn a_picture_without_borders_has_none() {
    let mut random = fastrand::Rng::with_seed(5);
    let made = Made { black: 0.0, noise: 0.0, ..plain([0; 4]) };
    sure(&find(&[still(picture(&made, &mut random).into())]).expect("borders"), [0; 4]);
}

#[test]
fn one_dark_picture_among_several_does_not_fool() {
    let mut random = fastrand::Rng::with_seed(6);
    let made = plain([8, 4, 10, 6]);
    let dark = GrayImage::from_fn(SIZE.0, SIZE.1, |_, _| Luma([16]));
    let stills = [dark.clone(), picture(&made, &mut random), dark.clone()].map(|picture| still(picture.into()));
    sure(&find(&stills).expect("borders"), [8, 4, 10, 6]);
    // Alone it says that it knows nothing.
    let alone = find(&[still(dark.into())]).expect("borders");
    assert_eq!((alone.insets, alone.confidence() < 0.1), ([0; 4], true));
    let other = find(&[still(GrayImage::new(9, 9).into()), still(GrayImage::new(9, 8).into())]).expect_err("two sizes");
    assert_eq!(other.to_string(), "the pictures are not of one size: 9x9 and 9x8");
    assert_eq!(find(&[]).expect_err("none").to_string(), "no picture to look at");
}

// Line signals of archive tapes lie in the border above the picture; a dim first line is picture.
#[test]
fn signals_in_the_border_and_dim_lines_do_not_fool() {
    let mut random = fastrand::Rng::with_seed(8);
    let mut signals = picture(&plain([8, 12, 10, 6]), &mut random);
    for x in 0..SIZE.0 {
        signals.put_pixel(x, 0, Luma([if x / 9 % 2 == 0 { 16 } else { 200 }]));
    }
    assert_eq!(find(&[still(signals.into())]).expect("borders").insets[0], 8);
    let mut dim = picture(&plain([8, 12, 10, 6]), &mut random);
    for x in 8..SIZE.0 - 10 {
        let level = dim.get_pixel(x, 12).0[0];
        dim.put_pixel(x, 12, Luma([16 + (level - 16) / 2]));
    }
    sure(&find(&[still(dim.into())]).expect("borders"), [8, 12, 10, 6]);
}
