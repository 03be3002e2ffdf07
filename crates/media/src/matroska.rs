//! Matroska and WebM (RFC 9559): the first track of pictures.

use mkv_element::io::blocking_impl::ReadFrom;
use mkv_element::prelude::*;

use crate::coded;
use crate::reading::{Reading, Said, Sphere, Stereo, known_rate, lowest64};
use crate::view::{Stop, View};

/// The most that a description of tracks is long.
const LONGEST: u64 = 4 << 20;
const MOST_ELEMENTS: usize = 4096;

/// An element: its number, where its content begins, and where it ends (none when that is not said).
struct Extent {
    id: VInt64,
    start: u64,
    end: Option<u64>,
}

/// The head of an element (RFC 8794); none for what is no head.
fn element(view: &View<'_>, at: u64) -> Result<Option<Extent>, Stop> {
    let head = view.up_to(at, 12)?;
    let mut rest = head.as_slice();
    let Ok(id) = VInt64::read_from(&mut rest) else { return Ok(None) };
    let before = rest.len();
    let Ok(size) = VInt64::read_from(&mut rest) else { return Ok(None) };
    let start = at + (head.len() - rest.len()) as u64;
    // A size of which every bit is set is not known, however many bytes it takes.
    let unknown = size.is_unknown || *size == (1 << (7 * (before - rest.len()))) - 1;
    Ok(Some(Extent { id, start, end: if unknown { None } else { start.checked_add(*size) } }))
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
    let mut seconds = None;
    for _ in 0..MOST_ELEMENTS {
        if at >= view.length() {
            break;
        }
        let found = element(view, at)?.ok_or_else(broken)?;
        match found.id {
            Segment::ID => at = found.start,
            Info::ID => {
                let end = found.end.ok_or_else(broken)?;
                if end.saturating_sub(found.start) <= LONGEST {
                    let body = view.bytes(found.start, end - found.start)?;
                    seconds = Info::decode_body(&mut &body[..]).ok().and_then(|info| seconds_of(&info));
                }
                at = end;
            }
            Tracks::ID => {
                let end = found.end.ok_or_else(broken)?;
                if end - found.start > LONGEST {
                    return Err(broken());
                }
                let body = view.bytes(found.start, end - found.start)?;
                let tracks =
                    Tracks::decode_body(&mut &body[..]).map_err(|error| view.failed("this Matroska file", error))?;
                let entry = video(&tracks, &mut reading);
                reading.frames = frames_of(seconds, reading.rate.as_ref());
                if let Some(entry) = entry {
                    stream(view, entry, end, &mut reading)?;
                }
                return Ok(reading);
            }
            Cluster::ID if found.end.is_none() => break,
            _ => at = found.end.ok_or_else(broken)?,
        }
    }
    Ok(reading)
}

/// How the eyes share the frame, by the number for it.
pub(crate) const fn stereo_of(mode: u64) -> Stereo {
    match mode {
        1 | 11 => Stereo::SideBySide,
        2 | 3 => Stereo::TopBottom,
        _ => Stereo::Mono,
    }
}

/// Whether the right eye comes first, by the same number.
const fn is_right_first(mode: u64) -> bool {
    matches!(mode, 2 | 11)
}

/// How long it is, in seconds.
fn seconds_of(info: &Info) -> Option<f64> {
    let ticks = **info.duration.as_ref()?;
    let scale = u32::try_from(*info.timestamp_scale).ok()?;
    Some(ticks * f64::from(scale) / 1e9).filter(|seconds| (0.0..1e9).contains(seconds))
}

/// How many pictures that is at a rate.
fn frames_of(seconds: Option<f64>, rate: Option<&Said<(u32, u32)>>) -> Option<Said<u64>> {
    let (above, below) = rate?.value;
    let frames = (seconds? * f64::from(above) / f64::from(below.max(1))).round();
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a cast that saturates")]
    (frames >= 1.0).then(|| Said::new(frames as u64, "Duration"))
}

/// Reads the first track of pictures, and which it is.
fn video<'a>(tracks: &'a Tracks, reading: &mut Reading) -> Option<&'a TrackEntry> {
    let (entry, video) = tracks.track_entry.iter().find_map(|entry| Some((entry, entry.video.as_ref()?)))?;
    reading.codec = Some(entry.codec_id.to_string().chars().filter(char::is_ascii_graphic).take(40).collect());
    let side = |value: u64| u32::try_from(value).unwrap_or(u32::MAX);
    let (width, height) = (*video.pixel_width, *video.pixel_height);
    reading.raster = Some(Said::new((side(width), side(height)), "PixelWidth and PixelHeight"));
    let [left, top, right, bottom] =
        [*video.pixel_crop_left, *video.pixel_crop_top, *video.pixel_crop_right, *video.pixel_crop_bottom];
    reading.insets = Some(Said::new([side(left), side(top), side(right), side(bottom)], "PixelCrop"));
    let shown = (width.saturating_sub(left).saturating_sub(right), height.saturating_sub(top).saturating_sub(bottom));
    let (stereo, right_first) = (stereo_of(*video.stereo_mode), is_right_first(*video.stereo_mode));
    // The size at which it is shown is that of one eye.
    let [beside, above] = stereo.eyes().map(u64::from);
    let unit = *video.display_unit;
    let said = [video.display_width.as_deref().copied(), video.display_height.as_deref().copied()];
    // Pixels, centimetres, inches or a ratio: all of them tell the shape. Of pixels, one that is not said is that of
    // the picture (RFC 9559, 5.1.4.1.28.14 and 15).
    let [across, down] = if unit == 0 {
        [said[0].or(said[1].map(|_| shown.0 / beside)), said[1].or(said[0].map(|_| shown.1 / above))]
    } else {
        said
    };
    let whole = |size: Option<u64>, eyes: u64| size.and_then(|size| size.checked_mul(eyes));
    if let (Some(across), Some(down)) = (whole(across, beside), whole(down, above))
        && unit <= 3
    {
        let shape = across.checked_mul(shown.1).zip(down.checked_mul(shown.0)).and_then(|(a, b)| lowest64(a, b));
        let by = match (unit, said) {
            (3, _) => "the display ratio",
            (_, [Some(_), None]) => "DisplayWidth",
            (_, [None, Some(_)]) => "DisplayHeight",
            _ => "DisplayWidth and DisplayHeight",
        };
        if let (Some(shape), true) = (shape, shown != (width, height)) {
            let whole = across.checked_mul(height).zip(down.checked_mul(width)).and_then(|(a, b)| lowest64(a, b));
            if let Some((a, b)) = whole.filter(|whole| *whole != shape) {
                reading.remark(format!(
                    "The size it is shown at is taken as that of what the crop leaves; if it is that of the whole picture, \
                     the pixel aspect is {a}:{b}."
                ));
            }
        }
        reading.pixel_aspect = shape.map(|shape| Said::new(shape, by));
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
    if let Some(projection) = &video.projection {
        let name = match *projection.projection_type {
            1 => Some("equirectangular"),
            2 => Some("cubemap"),
            3 => Some("mesh"),
            _ => None,
        };
        match name {
            Some(name) => {
                // The data are those of the published box: its version and flags, then the bounds.
                let private = projection.projection_private.as_deref().unwrap_or_default();
                let bounds = private.get(4..20).filter(|_| name == "equirectangular").unwrap_or(&[0; 16]);
                let bounds =
                    [0, 4, 8, 12].map(|at| bounds[at..at + 4].iter().fold(0, |all, byte| all << 8 | u32::from(*byte)));
                let part_of = Sphere::part_by(bounds, (side(width), side(height)), stereo);
                let sphere = Sphere { projection: name.to_owned(), stereo, right_first, part_of };
                reading.sphere = Some(Said::new(sphere, "Projection"));
            }
            None => turn(*projection.projection_pose_roll, reading),
        }
    }
    if stereo != Stereo::Mono && reading.sphere.is_none() {
        let first = if right_first { ", the right one first" } else { "" };
        reading.remark(format!("Two eyes in one frame ({}{first}), from StereoMode.", stereo.word()));
    }
    Some(entry)
}

/// What the stream itself says: by its private data, or by its first frame.
fn stream(view: &View<'_>, track: &TrackEntry, behind: u64, reading: &mut Reading) -> Result<(), Stop> {
    let private = track.codec_private.as_deref().unwrap_or_default();
    let coding = reading.codec.clone().unwrap_or_default();
    let told = match coding.as_str() {
        "V_MPEG4/ISO/AVC" => coded::avc_configuration(private),
        "V_MPEGH/ISO/HEVC" => coded::hevc_configuration(private),
        "V_AV1" => coded::av1_configuration(private),
        "V_MPEG1" | "V_MPEG2" => match coded::mpeg2_head(private) {
            // Its extension for pictures, which says whether they have fields, is not kept there.
            Some(told) if told.interlaced.is_some() => Some(told),
            told => first_frame(view, track, behind)?.and_then(|frame| coded::mpeg2_head(&frame)).or(told),
        },
        "V_MPEG4/ISO/ASP" | "V_MPEG4/ISO/SP" => coded::mpeg4_head(private),
        "V_VP9" => first_frame(view, track, behind)?.and_then(|frame| coded::vp9_frame(&frame)),
        "V_PRORES" => first_frame(view, track, behind)?.and_then(|frame| coded::prores_frame(&frame)),
        "V_MJPEG" => {
            jpeg(reading);
            None
        }
        // The coding stands in a BITMAPINFOHEADER.
        "V_MS/VFW/FOURCC" => {
            if let Some(code) = private.get(16..20).filter(|code| code.iter().all(u8::is_ascii_graphic)) {
                reading.codec = Some(String::from_utf8_lossy(code).into_owned());
                if code.eq_ignore_ascii_case(b"MJPG") {
                    jpeg(reading);
                }
            }
            None
        }
        _ => None,
    };
    if let Some(told) = told {
        told.tell(reading);
    }
    Ok(())
}

/// JPEG has one range, whatever stands beside it.
fn jpeg(reading: &mut Reading) {
    let said = Said::new(true, "JPEG, whose values run from 0 on");
    if let Some(other) = reading.full_range.replace(said).filter(|other| !other.value) {
        reading.remark(format!("{} says narrow range; JPEG is decoded as full, which is used.", other.by));
    }
}

/// The beginning of the first frame of a track, in the clusters from a position on.
fn first_frame(view: &View<'_>, track: &TrackEntry, from: u64) -> Result<Option<Vec<u8>>, Stop> {
    const MOST: u64 = 4096;
    let mut at = from;
    for _ in 0..MOST_ELEMENTS {
        if at >= view.length() {
            break;
        }
        let Some(found) = element(view, at)? else { break };
        let Some(end) = (match found.id {
            // Into these: frames are in groups, groups in clusters.
            Cluster::ID | BlockGroup::ID => Some(found.start),
            SimpleBlock::ID | Block::ID => {
                let block = view.up_to(found.start, found.end.map_or(MOST, |end| (end - found.start).min(MOST)))?;
                let mut rest = block.as_slice();
                let number = VInt64::read_from(&mut rest).ok();
                if number.is_some_and(|number| *number == *track.track_number) {
                    // The time, two bytes, and flags.
                    return Ok(rest.get(3..).map(<[u8]>::to_vec));
                }
                found.end
            }
            _ => found.end,
        }) else {
            break;
        };
        at = end;
    }
    Ok(None)
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
