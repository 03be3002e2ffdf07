//! `ratiomet tag`: a copy of a movie or a still that says that it shows a sphere, or no longer does.

use std::fs::File;
use std::io::{IsTerminal, Write};
use std::path::Path;
use std::process::ExitCode;

use ratiomet_media::source::Whole;
use ratiomet_media::tag::{self, Tag};
use ratiomet_media::{Failure, Reading, Stereo};

use crate::whole_file;

/// What a file says of spheres, in words.
fn words(reading: &Reading) -> String {
    match &reading.sphere {
        None => "nothing of a sphere".to_owned(),
        Some(said) => {
            let sphere = &said.value;
            let eyes = match sphere.stereo {
                Stereo::Mono => "one eye",
                Stereo::TopBottom => "two eyes, top and bottom",
                Stereo::SideBySide => "two eyes, side by side",
            };
            format!("{}, {eyes} ({})", sphere.projection, said.by)
        }
    }
}

fn reading(file: &Path) -> Result<Reading, String> {
    let failed = |why: &dyn std::fmt::Display| format!("{} cannot be read: {why}", file.display());
    let opened = File::open(file).and_then(Whole::new).map_err(|error| failed(&error))?;
    ratiomet_media::read(&opened).map_err(|failure| match failure {
        Failure::Unreadable(why) => failed(&why),
        Failure::Needs(..) => failed(&"it is cut short"),
    })
}

/// Whether the frame is one that goes with what is said of it.
fn doubt(raster: (u32, u32), stereo: Stereo) -> Option<String> {
    let (width, height) = (u64::from(raster.0), u64::from(raster.1));
    let ([across, down], ratio) = match stereo {
        Stereo::Mono => ([1, 1], "2:1"),
        Stereo::TopBottom => ([1, 2], "1:1"),
        Stereo::SideBySide => ([2, 1], "4:1"),
    };
    let whole = width * down == 2 * height * across;
    (!whole).then(|| format!("the frame is {width}x{height}; a whole sphere in this layout is {ratio}"))
}

/// Yaw, pitch and roll, in degrees.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct View(pub [f64; 3]);

/// Yaw, pitch and roll out of a text; the error is a sentence.
pub fn view(text: &str) -> Result<View, String> {
    let parts: Vec<f64> = text.split(',').filter_map(|part| part.trim().parse().ok()).collect();
    match parts[..] {
        [yaw, pitch, roll] if yaw.abs() <= 180.0 && pitch.abs() <= 90.0 && roll.abs() <= 180.0 => {
            Ok(View([yaw, pitch, roll]))
        }
        _ => Err("yaw, pitch and roll in degrees, such as 30,-10,0: up to 180, 90 and 180 either way".to_owned()),
    }
}

/// Writes the copy, or the file anew where no other one is named; the error is a sentence for the person who typed it.
pub fn run(file: &Path, out: Option<&Path>, tag: Option<Tag>) -> Result<ExitCode, String> {
    let same =
        |one: &Path, other: &Path| one.canonicalize().ok().zip(other.canonicalize().ok()).is_some_and(|(a, b)| a == b);
    if out.is_some_and(|out| same(file, out)) {
        return Err("the copy must be another file: name another one with --out, or say --in-place".to_owned());
    }
    // In its place it is written whole beside it first.
    let out = out.unwrap_or(file);
    let before = reading(file)?;
    let mut movie = File::open(file).map_err(|error| format!("{} cannot be read: {error}", file.display()))?;
    let shown = std::io::stderr().is_terminal();
    let mut told = 0;
    let progress = |done: u64, all: u64| {
        let percent = done * 100 / all.max(1);
        if shown && percent != told {
            told = percent;
            // OK because progress that is not seen is no failure.
            let _ = write!(std::io::stderr(), "\r{percent} %");
        }
        true
    };
    let copied = whole_file::write(out, |copy| {
        tag::copy(&mut movie, tag, copy, progress).map_err(|why| format!("{}: {why}", file.display()))
    });
    if shown {
        eprintln!();
    }
    copied?;
    let after = reading(out)?;
    println!("{}: it said {}; now it says {}", out.display(), words(&before), words(&after));
    if let Some((tag, raster)) = tag.zip(after.raster.as_ref())
        && let Some(why) = doubt(raster.value, tag.stereo)
    {
        eprintln!("ratiomet: {why}");
    }
    Ok(ExitCode::SUCCESS)
}

#[cfg(test)]
mod tests {
    use ratiomet_media::Stereo;

    use super::{View, doubt, view};

    #[test]
    fn views_are_three_angles_within_their_bounds() {
        assert_eq!(view("30,-10,0"), Ok(View([30.0, -10.0, 0.0])));
        assert_eq!(view(" -180 , 90, 12.5 "), Ok(View([-180.0, 90.0, 12.5])));
        for bad in ["", "1,2", "1,2,3,4", "181,0,0", "0,91,0", "x,0,0", "nan,0,0"] {
            assert!(view(bad).is_err_and(|why| why.contains("30,-10,0")), "{bad}");
        }
    }

    #[test]
    fn a_frame_that_is_no_whole_sphere_is_doubted() {
        assert_eq!(doubt((3840, 1920), Stereo::Mono), None);
        assert_eq!(doubt((3840, 3840), Stereo::TopBottom), None);
        assert_eq!(doubt((7680, 1920), Stereo::SideBySide), None);
        assert!(doubt((3840, 2160), Stereo::Mono).is_some_and(|why| why.contains("2:1")));
        assert!(doubt((3840, 1920), Stereo::TopBottom).is_some_and(|why| why.contains("1:1")));
    }
}
