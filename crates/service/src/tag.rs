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
            let first = if sphere.right_first { ", the right one first" } else { "" };
            let [beside, above] = sphere.stereo.eyes();
            let eye = reading.raster.as_ref().map(|raster| [raster.value.0 / beside, raster.value.1 / above]);
            let part = match (sphere.part_of, eye) {
                (Some([width, height, ..]), Some(eye)) if [width, height] != eye => {
                    format!(", of a sphere of {width}x{height}")
                }
                _ => String::new(),
            };
            format!("{}, {eyes}{first}{part} ({})", sphere.projection, said.by)
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

/// Whether the frame is one that goes with what is said of it: as many pixels to a degree across as up, to half a pixel.
fn doubt((width, height): (u32, u32), tag: Tag) -> Option<String> {
    let [beside, above] = match tag.stereo {
        Stereo::Mono => [1.0, 1.0],
        Stereo::TopBottom => [1.0, 2.0],
        Stereo::SideBySide => [2.0, 1.0],
    };
    let [across, up] = tag.span;
    let ratio = across * beside / (up * above);
    let goes = (f64::from(height) * ratio - f64::from(width)).abs() <= 0.5_f64.max(ratio / 2.0);
    let ratio = (ratio * 1000.0).round() / 1000.0;
    (!goes).then(|| format!("the frame is {width}x{height}; {across}x{up} degrees in this layout are {ratio}:1"))
}

/// Degrees across and up.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Span(pub [f64; 2]);

/// Degrees across and up out of a text; the error is a sentence.
pub fn span(text: &str) -> Result<Span, String> {
    let parts: Vec<f64> = text.split('x').filter_map(|part| part.trim().parse().ok()).collect();
    match parts[..] {
        [across, up] if (1.0..=360.0).contains(&across) && (1.0..=180.0).contains(&up) => Ok(Span([across, up])),
        _ => Err("degrees across and up, such as 180x180: from 1 to 360 and to 180".to_owned()),
    }
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
        && let Some(why) = doubt(raster.value, tag)
    {
        eprintln!("ratiomet: {why}");
    }
    Ok(ExitCode::SUCCESS)
}

#[cfg(test)]
mod tests {
    use ratiomet_media::Stereo;

    use ratiomet_media::tag::Tag;

    use super::{Span, View, doubt, span, view};

    #[test]
    fn views_are_three_angles_within_their_bounds() {
        assert_eq!(view("30,-10,0"), Ok(View([30.0, -10.0, 0.0])));
        assert_eq!(view(" -180 , 90, 12.5 "), Ok(View([-180.0, 90.0, 12.5])));
        for bad in ["", "1,2", "1,2,3,4", "181,0,0", "0,91,0", "x,0,0", "nan,0,0"] {
            assert!(view(bad).is_err_and(|why| why.contains("30,-10,0")), "{bad}");
        }
    }

    #[test]
    fn spans_are_degrees_within_their_bounds() {
        assert_eq!(span("180x180"), Ok(Span([180.0, 180.0])));
        assert_eq!(span("360 x 120.5"), Ok(Span([360.0, 120.5])));
        for bad in ["", "180", "361x180", "180x181", "0x90", "halfxhalf", "180x180x1", "nanx90"] {
            assert!(span(bad).is_err_and(|why| why.contains("180x180")), "{bad}");
        }
    }

    #[test]
    fn a_frame_that_does_not_go_with_its_sphere_is_doubted() {
        let tag = |stereo, span| Tag { stereo, right_first: false, span, initial_view: [0.0; 3] };
        let whole = |stereo| tag(stereo, Tag::WHOLE);
        let half = |stereo| tag(stereo, [180.0, 180.0]);
        assert_eq!(doubt((3840, 1920), whole(Stereo::Mono)), None);
        assert_eq!(doubt((3840, 3840), whole(Stereo::TopBottom)), None);
        assert_eq!(doubt((7680, 1920), whole(Stereo::SideBySide)), None);
        assert_eq!(doubt((2880, 2880), half(Stereo::Mono)), None);
        assert_eq!(doubt((5760, 2880), half(Stereo::SideBySide)), None);
        // 120.5 degrees up of 3600 rows to 180 are 2410.
        assert_eq!(doubt((7200, 2410), tag(Stereo::Mono, [360.0, 120.5])), None);
        assert!(doubt((3840, 2160), whole(Stereo::Mono)).is_some_and(|why| why.ends_with("are 2:1")));
        assert!(doubt((3840, 1920), whole(Stereo::TopBottom)).is_some_and(|why| why.ends_with("are 1:1")));
        assert!(doubt((3840, 1920), half(Stereo::Mono)).is_some_and(|why| why.contains("180x180 degrees")));
    }
}
