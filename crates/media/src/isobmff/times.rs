//! How many pictures a track has to a second.

use super::{Box4, boxes};
use crate::reading::{Reading, Said, known_rate, lowest};
use crate::view::{Stop, View, Words};

/// The most entries of a table of times that are looked at.
const MOST_TIMES: u64 = 4096;

/// Units of time to a second (clause 8.4.2).
pub(super) fn time_scale(view: &View<'_>, mdhd: &Box4) -> Result<u32, Stop> {
    let long = mdhd.length() >= 1 && view.bytes(mdhd.start, 1)?[0] == 1;
    let place = if long { 20 } else { 12 };
    if mdhd.length() < place + 4 { Ok(0) } else { Ok(view.bytes(mdhd.start + place, 4)?.be32(0)) }
}

pub(super) fn track_id(view: &View<'_>, tkhd: &Box4) -> Result<u32, Stop> {
    let long = tkhd.length() >= 1 && view.bytes(tkhd.start, 1)?[0] == 1;
    let place = if long { 20 } else { 12 };
    if tkhd.length() < place + 4 { Ok(0) } else { Ok(view.bytes(tkhd.start + place, 4)?.be32(0)) }
}

/// The rate of a file whose frames are described piece by piece (clause 8.8): by the first piece.
pub(super) fn rate_of_fragments(
    view: &View<'_>,
    scale: u32,
    pieces: &[Box4],
    id: u32,
    reading: &mut Reading,
) -> Result<(), Stop> {
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
    let exact = lowest(scale, length);
    if exact.1 <= 1001 { exact } else { known_rate(f64::from(scale) / f64::from(length)) }
}

/// The rate of most of the frames (clause 8.6.1.2).
pub(super) fn rate(view: &View<'_>, scale: u32, stts: &Box4, reading: &mut Reading) -> Result<(), Stop> {
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
    // Of a table that is cut short, or has more lengths than are kept, not all are counted.
    if all > 0 && said == count && lengths.len() < 64 {
        reading.frames = Some(Said::new(all, "stts"));
    }
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
