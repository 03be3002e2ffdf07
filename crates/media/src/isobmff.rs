//! MP4 and MOV: boxes of ISO/IEC 14496-12 and of the file format that it grew out of.
//!
//! The few boxes that hold geometry are read here, `pasp`, `clap` and the spherical ones among them.
//! Numbers of clauses are from memory.

use crate::reading::{Reading, Said, Sphere, Stereo, known_rate, lowest64};
use crate::sphere_xml;
use crate::view::{Stop, View, Words};

/// The most boxes that are looked at between two positions.
const MOST_BOXES: usize = 4096;
/// The most entries of a table of times that are looked at.
const MOST_TIMES: u64 = 4096;
/// The user type of the first generation of spherical video metadata.
const SPHERICAL: [u8; 16] =
    [0xFF, 0xCC, 0x82, 0x63, 0xF8, 0x55, 0x4A, 0x93, 0x88, 0x14, 0x58, 0x7A, 0x02, 0x52, 0x1F, 0xDD];

/// A box: its type, where its content begins, and where it ends.
#[derive(Clone, Copy)]
struct Box4 {
    kind: [u8; 4],
    start: u64,
    end: u64,
}

impl Box4 {
    fn length(&self) -> u64 {
        self.end - self.start
    }
}

/// The boxes between two positions (clause 4.2).
fn boxes(view: &View<'_>, from: u64, end: u64) -> Result<Vec<Box4>, Stop> {
    let mut found = Vec::new();
    let mut at = from;
    while at + 8 <= end && found.len() < MOST_BOXES {
        let head = view.bytes(at, 8)?;
        let kind = [head[4], head[5], head[6], head[7]];
        let (start, size) = match head.be32(0) {
            0 => (at + 8, end - at),
            1 => (at + 16, if at + 16 <= end { view.bytes(at + 8, 8)?.be64(0) } else { 0 }),
            size => (at + 8, u64::from(size)),
        };
        let Some(next) = at.checked_add(size).filter(|next| *next >= start) else {
            // MOV files end some lists with four zero bytes; anything else is damage.
            return if size == 0 {
                Ok(found)
            } else {
                Err(Stop::broken("a box of this file is shorter than its own head"))
            };
        };
        found.push(Box4 { kind, start, end: next.min(end) });
        if next > end {
            // Cut short; what the box says may still be there.
            break;
        }
        at = next;
    }
    Ok(found)
}

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let top = boxes(view, 0, view.length())?;
    let brand = match top.iter().find(|each| &each.kind == b"ftyp") {
        Some(found) if found.length() >= 4 => view.bytes(found.start, 4)?,
        _ => b"qt  ".to_vec(),
    };
    let mut reading = Reading::of(if brand == b"qt  " { "MOV" } else { "MP4" });
    let Some(moov) = top.iter().find(|each| &each.kind == b"moov") else {
        return Err(Stop::broken("this file has no index (moov): it is truncated or was never finished"));
    };
    let fragments: Vec<Box4> = top.iter().filter(|each| &each.kind == b"moof").take(1).copied().collect();
    let mut best: Option<(u64, Reading)> = None;
    for trak in boxes(view, moov.start, moov.end)?.iter().filter(|each| &each.kind == b"trak") {
        let mut found = Reading::of(reading.format);
        if track(view, trak, &fragments, &mut found)? {
            let area = found.raster.as_ref().map_or(0, |said| u64::from(said.value.0) * u64::from(said.value.1));
            if best.as_ref().is_none_or(|(largest, _)| area > *largest) {
                best = Some((area, found));
            }
        }
    }
    if let Some((_, found)) = best {
        reading = found;
    }
    Ok(reading)
}

fn child(view: &View<'_>, of: &Box4, kind: &[u8; 4]) -> Result<Option<Box4>, Stop> {
    Ok(boxes(view, of.start, of.end)?.into_iter().find(|each| &each.kind == kind))
}

/// Reads a track, if it is one of pictures.
fn track(view: &View<'_>, trak: &Box4, fragments: &[Box4], reading: &mut Reading) -> Result<bool, Stop> {
    let inside = boxes(view, trak.start, trak.end)?;
    let of = |kind: &[u8; 4]| inside.iter().find(|each| &each.kind == kind);
    let Some(mdia) = of(b"mdia") else { return Ok(false) };
    let media = boxes(view, mdia.start, mdia.end)?;
    let in_media = |kind: &[u8; 4]| media.iter().find(|each| &each.kind == kind);
    match in_media(b"hdlr") {
        Some(hdlr) if hdlr.length() >= 12 && view.bytes(hdlr.start + 8, 4)? == b"vide" => {}
        _ => return Ok(false),
    }
    let Some(minf) = in_media(b"minf") else { return Ok(false) };
    let Some(stbl) = child(view, minf, b"stbl")? else { return Ok(false) };
    let tables = boxes(view, stbl.start, stbl.end)?;
    let table = |kind: &[u8; 4]| tables.iter().find(|each| &each.kind == kind);
    if let Some(stsd) = table(b"stsd") {
        sample_entry(view, stsd, reading)?;
    }
    if let Some(tkhd) = of(b"tkhd") {
        track_head(view, tkhd, reading)?;
    }
    if let (Some(mdhd), Some(stts)) = (in_media(b"mdhd"), table(b"stts")) {
        let scale = time_scale(view, mdhd)?;
        rate(view, scale, stts, reading)?;
        if let (None, Some(tkhd)) = (&reading.rate, of(b"tkhd")) {
            rate_of_fragments(view, scale, fragments, track_id(view, tkhd)?, reading)?;
        }
    }
    for uuid in inside.iter().filter(|each| &each.kind == b"uuid" && each.length() > 16) {
        if view.bytes(uuid.start, 16)? == SPHERICAL {
            let xml = view.bytes(uuid.start + 16, (uuid.length() - 16).min(sphere_xml::LONGEST as u64))?;
            if let Some(said) = sphere_xml::sphere(&xml, "spherical metadata of the first generation (uuid)") {
                reading.second(
                    |reading| &mut reading.sphere,
                    "the projection",
                    said,
                    |sphere| sphere.projection.clone(),
                );
            }
        }
    }
    Ok(true)
}

/// The first sample entry (clause 12.1.3) and the boxes behind its 78 fixed bytes.
fn sample_entry(view: &View<'_>, stsd: &Box4, reading: &mut Reading) -> Result<(), Stop> {
    let Some(entry) = boxes(view, stsd.start + 8, stsd.end)?.into_iter().next() else { return Ok(()) };
    if entry.length() < 78 {
        return Err(Stop::broken("the sample entry of this file is truncated"));
    }
    let fixed = view.bytes(entry.start, 78)?;
    reading.codec = Some(
        entry
            .kind
            .iter()
            .map(|byte| if byte.is_ascii_graphic() { char::from(*byte) } else { ' ' })
            .collect::<String>()
            .trim()
            .to_owned(),
    );
    let raster = (u32::from(fixed.be16(24)), u32::from(fixed.be16(26)));
    reading.raster = Some(Said::new(raster, "the sample entry"));
    let inside = boxes(view, entry.start + 78, entry.end)?;
    for found in &inside {
        match &found.kind {
            b"pasp" if found.length() >= 8 => {
                let pasp = view.bytes(found.start, 8)?;
                reading.pixel_aspect = Some(Said::new((pasp.be32(0), pasp.be32(4)), "pasp"));
            }
            b"clap" if found.length() >= 32 => clean_aperture(&view.bytes(found.start, 32)?, raster, reading),
            b"colr" if found.length() >= 11 => {
                let colr = view.bytes(found.start, 11)?;
                if &colr[..4] == b"nclx" {
                    reading.full_range = Some(Said::new(colr[10] & 0x80 != 0, "colr"));
                }
            }
            b"fiel" if found.length() >= 1 => {
                reading.interlaced = Some(Said::new(view.bytes(found.start, 1)?[0] == 2, "fiel"));
            }
            b"avcC" if found.length() <= 4096 => stream_h264(&view.bytes(found.start, found.length())?, reading),
            b"st3d" if found.length() >= 5 => {
                let stereo = match view.bytes(found.start + 4, 1)?[0] {
                    1 => Stereo::TopBottom,
                    2 => Stereo::SideBySide,
                    _ => Stereo::Mono,
                };
                let flat = Sphere { projection: String::new(), stereo, part_of: None };
                reading.sphere.get_or_insert_with(|| Said::new(flat, "st3d")).value.stereo = stereo;
            }
            b"sv3d" => projection(view, found, raster, reading)?,
            _ => {}
        }
    }
    // Two eyes without a projection are no sphere.
    if reading.sphere.as_ref().is_some_and(|said| said.value.projection.is_empty()) {
        let stereo = reading.sphere.take().map(|said| said.value.stereo).unwrap_or_default();
        if stereo != Stereo::Mono {
            reading.remark(format!("Two eyes in one frame ({}), from st3d.", stereo.word()));
        }
    }
    Ok(())
}

/// The second generation of spherical metadata: `proj` with `equi` or `cbmp`.
fn projection(view: &View<'_>, sv3d: &Box4, (width, height): (u32, u32), reading: &mut Reading) -> Result<(), Stop> {
    let Some(proj) = child(view, sv3d, b"proj")? else { return Ok(()) };
    for found in boxes(view, proj.start, proj.end)? {
        let name = match &found.kind {
            b"equi" => "equirectangular",
            b"cbmp" => "cubemap",
            b"mshp" => "mesh",
            _ => continue,
        };
        let mut part_of = None;
        if &found.kind == b"equi" && found.length() >= 20 {
            // Shares of 2^32 that lie outside at top, bottom, left and right.
            let bounds = view.bytes(found.start + 4, 16)?;
            let outside = [0, 4, 8, 12].map(|at| f64::from(bounds.be32(at)) / 4_294_967_296.0);
            if outside.iter().any(|share| *share > 0.0) {
                let whole = |side: u32, shares: f64| (f64::from(side) / (1.0 - shares).max(0.001)).round();
                let (across, down) = (whole(width, outside[2] + outside[3]), whole(height, outside[0] + outside[1]));
                #[expect(
                    clippy::cast_possible_truncation,
                    clippy::cast_sign_loss,
                    reason = "at most 65,535,000, at least 0"
                )]
                let pixels = [across, down, across * outside[2], down * outside[0]].map(|side| side.round() as u32);
                part_of = Some(pixels);
            }
        }
        let stereo = reading.sphere.as_ref().map(|said| said.value.stereo).unwrap_or_default();
        reading.sphere = Some(Said::new(Sphere { projection: name.to_owned(), stereo, part_of }, "sv3d"));
    }
    Ok(())
}

/// The clean aperture (clause 12.1.4): a size, and how far its middle is from the picture's, all as
/// fractions of pixels.
fn clean_aperture(clap: &[u8], (width, height): (u32, u32), reading: &mut Reading) {
    let fraction = |at: usize| {
        let (above, below) = (clap.be32(at).cast_signed(), clap.be32(at + 4).cast_signed());
        if below > 0 { Some(f64::from(above) / f64::from(below)) } else { None }
    };
    let read = || Some([fraction(0)?, fraction(8)?, fraction(16)?, fraction(24)?]);
    let Some([across, down, right, lower]) = read() else {
        reading.remark("The clean aperture (clap) divides by zero; ignored.");
        return;
    };
    let edges = |whole: u32, kept: f64, moved: f64| {
        let whole = f64::from(whole);
        let before = (whole - kept) / 2.0 + moved;
        (before, whole - kept - before)
    };
    let ((left, right), (top, bottom)) = (edges(width, across, right), edges(height, down, lower));
    let sides = [left, top, right, bottom];
    if sides.iter().any(|side| !(0.0..=65_536.0).contains(side)) {
        reading.remark(format!("The clean aperture (clap) of {across} × {down} is outside the picture; ignored."));
        return;
    }
    if sides.iter().any(|side| side.fract() != 0.0) {
        reading.remark("The clean aperture (clap) was widened to whole pixels.");
    }
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "from 0 to 65,536")]
    let insets = sides.map(|side| side as u32);
    reading.insets = Some(Said::new(insets, "clap"));
}

/// What the stream itself says: pixel shape and range of the sequence parameter set (ITU-T H.264, Annex E).
fn stream_h264(avcc: &[u8], reading: &mut Reading) {
    let Ok(record) = h264_reader::avcc::AvcDecoderConfigurationRecord::try_from(avcc) else { return };
    let Ok(context) = record.create_context() else { return };
    let Some(sps) = context.sps().next() else { return };
    if let Ok((width, height)) = sps.pixel_dimensions() {
        let words = |(width, height): &(u32, u32)| format!("{width}x{height}");
        reading.second(
            |reading| &mut reading.raster,
            "the stored size",
            Said::new((width, height), "the stream"),
            words,
        );
    }
    if let Some(vui) = &sps.vui_parameters {
        if let Some((across, down)) = vui.aspect_ratio_info.as_ref().and_then(|info| info.get()) {
            let (across, down) = crate::reading::lowest(u32::from(across), u32::from(down));
            if let Some(said) = &mut reading.pixel_aspect {
                said.value = crate::reading::lowest(said.value.0, said.value.1);
            }
            if across > 0 && down > 0 {
                let words = |(across, down): &(u32, u32)| format!("{across}:{down}");
                let said = Said::new((across, down), "the stream's sample aspect");
                reading.second(|reading| &mut reading.pixel_aspect, "the pixel aspect", said, words);
            }
        }
        if let Some(signal) = &vui.video_signal_type {
            let words = |full: &bool| if *full { "full".to_owned() } else { "narrow".to_owned() };
            let said = Said::new(signal.video_full_range_flag, "the stream");
            reading.second(|reading| &mut reading.full_range, "the signal range", said, words);
        }
    }
    if reading.interlaced.is_none() && matches!(sps.frame_mbs_flags, h264_reader::nal::sps::FrameMbsFlags::Frames) {
        reading.interlaced = Some(Said::new(false, "the stream"));
    }
}

/// The turn of the track (clause 8.3.2): a matrix of which quarter turns are understood.
fn track_head(view: &View<'_>, tkhd: &Box4, reading: &mut Reading) -> Result<(), Stop> {
    let long = tkhd.length() >= 1 && view.bytes(tkhd.start, 1)?[0] == 1;
    let matrix = if long { 52 } else { 40 };
    if tkhd.length() < matrix + 44 {
        return Ok(());
    }
    let bytes = view.bytes(tkhd.start + matrix, 44)?;
    let at = |place: usize| bytes.be32(place * 4).cast_signed();
    let signs = [at(0), at(1), at(3), at(4)].map(i32::signum);
    let turn = match signs {
        [1, 0, 0, 1] => Some(0),
        [0, 1, -1, 0] => Some(90),
        [-1, 0, 0, -1] => Some(180),
        [0, -1, 1, 0] => Some(270),
        _ => None,
    };
    match turn {
        Some(turn) => reading.rotation = Some(Said::new(turn, "the track's matrix")),
        None if matches!(signs, [-1, 0, 0, 1] | [1, 0, 0, -1] | [0, 1, 1, 0] | [0, -1, -1, 0]) => {
            reading.remark("The track's matrix mirrors the picture; ignored.");
        }
        None => reading.remark("The rotation of the track's matrix is not a multiple of 90°; ignored."),
    }
    // Some files tell the pixel shape only by the size that the track is shown at.
    let (shown_across, shown_down) = (bytes.be32(36) >> 16, bytes.be32(40) >> 16);
    if let (None, Some(Said { value: (width, height), .. })) = (&reading.pixel_aspect, &reading.raster) {
        let (across, down) = (u64::from(shown_across) * u64::from(*height), u64::from(shown_down) * u64::from(*width));
        if shown_down == *height
            && shown_across > 0
            && across.abs_diff(down) * 200 > down
            && let Some((a, b)) = lowest64(across, down)
        {
            reading.remark(format!(
                "No pasp, but the track is shown {shown_across} × {shown_down}: the pixel aspect may be {a}:{b}."
            ));
        }
    }
    Ok(())
}

/// Units of time to a second (clause 8.4.2).
fn time_scale(view: &View<'_>, mdhd: &Box4) -> Result<u32, Stop> {
    let long = mdhd.length() >= 1 && view.bytes(mdhd.start, 1)?[0] == 1;
    let place = if long { 20 } else { 12 };
    if mdhd.length() < place + 4 { Ok(0) } else { Ok(view.bytes(mdhd.start + place, 4)?.be32(0)) }
}

fn track_id(view: &View<'_>, tkhd: &Box4) -> Result<u32, Stop> {
    let long = tkhd.length() >= 1 && view.bytes(tkhd.start, 1)?[0] == 1;
    let place = if long { 20 } else { 12 };
    if tkhd.length() < place + 4 { Ok(0) } else { Ok(view.bytes(tkhd.start + place, 4)?.be32(0)) }
}

/// The rate of a file whose frames are described piece by piece (clause 8.8): by the first piece.
fn rate_of_fragments(view: &View<'_>, scale: u32, pieces: &[Box4], id: u32, reading: &mut Reading) -> Result<(), Stop> {
    for piece in pieces {
        for traf in boxes(view, piece.start, piece.end)?.iter().filter(|each| &each.kind == b"traf") {
            let inside = boxes(view, traf.start, traf.end)?;
            let Some(tfhd) = inside.iter().find(|each| &each.kind == b"tfhd" && each.length() >= 8) else { continue };
            let head = view.bytes(tfhd.start, tfhd.length().min(40))?;
            if head.be32(4) != id {
                continue;
            }
            let flags = head.be32(0);
            let before = 8 + if flags & 1 != 0 { 8 } else { 0 } + if flags & 2 != 0 { 4 } else { 0 };
            let mut length = if flags & 8 != 0 { head.be32(before) } else { 0 };
            if let (0, Some(trun)) = (length, inside.iter().find(|each| &each.kind == b"trun")) {
                let run = view.bytes(trun.start, trun.length().min(24))?;
                let flags = run.be32(0);
                let before = 8 + if flags & 1 != 0 { 4 } else { 0 } + if flags & 4 != 0 { 4 } else { 0 };
                length = if flags & 0x100 != 0 { run.be32(before) } else { 0 };
            }
            if length > 0 && scale > 0 {
                reading.rate = Some(Said::new(exact_rate(scale, length), "tfhd and mdhd"));
                return Ok(());
            }
        }
    }
    Ok(())
}

/// Units to a second over units to a frame. A scale that has no exact length for the rate gives a
/// fraction nobody meant.
fn exact_rate(scale: u32, length: u32) -> (u32, u32) {
    let exact = crate::reading::lowest(scale, length);
    if exact.1 <= 1001 { exact } else { known_rate(f64::from(scale) / f64::from(length)) }
}

/// The rate of most of the frames (clause 8.6.1.2).
fn rate(view: &View<'_>, scale: u32, stts: &Box4, reading: &mut Reading) -> Result<(), Stop> {
    if stts.length() < 8 {
        return Ok(());
    }
    let said = u64::from(view.bytes(stts.start + 4, 4)?.be32(0));
    let count = said.min(MOST_TIMES).min((stts.length() - 8) / 8);
    let times = view.bytes(stts.start + 8, count * 8)?;
    // The length that most frames have; the last one is often different.
    let mut lengths: Vec<(u32, u64)> = Vec::new();
    for entry in times.chunks_exact(8) {
        let (frames, length) = (u64::from(entry.be32(0)), entry.be32(4));
        if let Some((_, sum)) = lengths.iter_mut().find(|(known, _)| *known == length) {
            *sum += frames;
        } else if lengths.len() < 64 {
            lengths.push((length, frames));
        }
    }
    let all: u64 = lengths.iter().map(|(_, frames)| frames).sum();
    let Some(&(length, frames)) = lengths.iter().max_by_key(|(_, frames)| *frames) else { return Ok(()) };
    if length == 0 || scale == 0 {
        return Ok(());
    }
    let rate = if frames * 10 >= all * 9 {
        exact_rate(scale, length)
    } else {
        let real = |frames: u64| u32::try_from(frames).map_or(f64::from(u32::MAX), f64::from);
        let sum: f64 = lengths.iter().map(|(length, frames)| f64::from(*length) * real(*frames)).sum();
        reading.remark("Variable frame rate; the rate is the average.");
        known_rate(real(all) * f64::from(scale) / sum.max(1.0))
    };
    reading.rate = Some(Said::new(rate, "stts and mdhd"));
    Ok(())
}
