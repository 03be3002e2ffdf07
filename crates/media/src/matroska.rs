//! Matroska and WebM (RFC 9559): the first track of pictures.

use mkv_element::io::blocking_impl::ReadFrom;
use mkv_element::prelude::*;

use crate::reading::{Reading, Said, Sphere, Stereo, known_rate, lowest64};
use crate::view::{Stop, View};

/// The most that a description of tracks is long.
const LONGEST: u64 = 4 << 20;
const MOST_ELEMENTS: usize = 4096;

/// An element: its number, where its content begins, and where it ends (none when that is not said).
struct Found {
    id: VInt64,
    start: u64,
    end: Option<u64>,
}

/// The head of an element (RFC 8794); none for what is no head.
fn element(view: &View<'_>, at: u64) -> Result<Option<Found>, Stop> {
    let head = view.up_to(at, 12)?;
    let mut rest = head.as_slice();
    let Ok(id) = VInt64::read_from(&mut rest) else { return Ok(None) };
    let before = rest.len();
    let Ok(size) = VInt64::read_from(&mut rest) else { return Ok(None) };
    let start = at + (head.len() - rest.len()) as u64;
    // A size of which every bit is set is not known, however many bytes it takes.
    let unknown = size.is_unknown || *size == (1 << (7 * (before - rest.len()))) - 1;
    Ok(Some(Found { id, start, end: if unknown { None } else { start.checked_add(*size) } }))
}

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let broken = || Stop::broken("this Matroska file is truncated or damaged");
    let head = element(view, 0)?.filter(|head| head.id == Ebml::ID).ok_or_else(broken)?;
    let mut reading = Reading::of("Matroska");
    let mut at = head.end.ok_or_else(broken)?;
    let mut inner = head.start;
    while let Some(found) = element(view, inner)? {
        let Some(end) = found.end.filter(|end| *end <= at) else { break };
        if found.id == DocType::ID && view.up_to(found.start, end - found.start)? == b"webm" {
            reading.format = "WebM";
        }
        inner = end;
        if inner >= at {
            break;
        }
    }
    for _ in 0..MOST_ELEMENTS {
        if at >= view.length() {
            break;
        }
        let found = element(view, at)?.ok_or_else(broken)?;
        match found.id {
            Segment::ID => at = found.start,
            Tracks::ID => {
                let end = found.end.ok_or_else(broken)?;
                if end - found.start > LONGEST {
                    return Err(broken());
                }
                let body = view.bytes(found.start, end - found.start)?;
                let tracks =
                    Tracks::decode_body(&mut &body[..]).map_err(|error| view.failed("this Matroska file", error))?;
                video(&tracks, &mut reading);
                return Ok(reading);
            }
            Cluster::ID if found.end.is_none() => break,
            _ => at = found.end.ok_or_else(broken)?,
        }
    }
    Ok(reading)
}

fn video(tracks: &Tracks, reading: &mut Reading) {
    let Some((entry, video)) = tracks.track_entry.iter().find_map(|entry| Some((entry, entry.video.as_ref()?))) else {
        return;
    };
    reading.codec = Some(entry.codec_id.to_string().chars().filter(char::is_ascii_graphic).take(40).collect());
    let side = |value: u64| u32::try_from(value).unwrap_or(u32::MAX);
    let (width, height) = (*video.pixel_width, *video.pixel_height);
    reading.raster = Some(Said::new((side(width), side(height)), "PixelWidth and PixelHeight"));
    let [left, top, right, bottom] =
        [*video.pixel_crop_left, *video.pixel_crop_top, *video.pixel_crop_right, *video.pixel_crop_bottom];
    reading.insets = Some(Said::new([side(left), side(top), side(right), side(bottom)], "PixelCrop"));
    let shown = (width.saturating_sub(left).saturating_sub(right), height.saturating_sub(top).saturating_sub(bottom));
    if let (Some(across), Some(down)) = (&video.display_width, &video.display_height) {
        let (across, down) = (**across, **down);
        let unit = *video.display_unit;
        // Pixels, centimetres, inches or a ratio: all of them tell the shape.
        if unit <= 3 {
            let shape = across.checked_mul(shown.1).zip(down.checked_mul(shown.0)).and_then(|(a, b)| lowest64(a, b));
            let by = if unit == 3 { "the display ratio" } else { "DisplayWidth and DisplayHeight" };
            reading.pixel_aspect = shape.map(|shape| Said::new(shape, by));
        }
    }
    reading.interlaced = match *video.flag_interlaced {
        1 => Some(Said::new(true, "FlagInterlaced")),
        2 => Some(Said::new(false, "FlagInterlaced")),
        _ => None,
    };
    if let Some(range) = video.colour.as_ref().map(|colour| *colour.range) {
        reading.full_range = match range {
            1 => Some(Said::new(false, "Colour Range")),
            2 => Some(Said::new(true, "Colour Range")),
            _ => None,
        };
    }
    if let Some(duration) = entry.default_duration.as_deref().filter(|duration| **duration > 0) {
        // Whole nanoseconds: the rate that was meant is a known one nearby.
        let rate = known_rate(1e9 / u32::try_from(*duration).map_or(f64::INFINITY, f64::from));
        reading.rate = Some(Said::new(rate, "DefaultDuration"));
    }
    let stereo = match *video.stereo_mode {
        1 | 11 => Stereo::SideBySide,
        2 | 3 => Stereo::TopBottom,
        _ => Stereo::Mono,
    };
    if let Some(projection) = &video.projection {
        let name = match *projection.projection_type {
            1 => Some("equirectangular"),
            2 => Some("cubemap"),
            3 => Some("mesh"),
            _ => None,
        };
        match name {
            Some(name) => {
                let sphere = Sphere { projection: name.to_owned(), stereo, part_of: None };
                reading.sphere = Some(Said::new(sphere, "Projection"));
            }
            None => turn(*projection.projection_pose_roll, reading),
        }
    }
    if stereo != Stereo::Mono && reading.sphere.is_none() {
        reading.remark(format!("Two eyes in one frame ({}), from StereoMode.", stereo.word()));
    }
}

/// A flat picture is turned by the roll of its projection, against the clock.
fn turn(roll: f64, reading: &mut Reading) {
    let turn = [0_u32, 90, 180, 270].into_iter().find(|turn| {
        let off = (-roll - f64::from(*turn)).rem_euclid(360.0);
        !(0.01..=359.99).contains(&off)
    });
    match turn {
        Some(turn) => reading.rotation = Some(Said::new(turn, "ProjectionPoseRoll")),
        None => reading.remark("The rotation of the picture is not a multiple of 90°; ignored."),
    }
}
