//! MP4 and MOV: boxes of ISO/IEC 14496-12 and of the file format that it grew out of.
//!
//! The few boxes that hold geometry are read here: `entry` is how pictures are stored, `turn` which way up they are,
//! `times` how many there are to a second, `heif` stills. Numbers of clauses are from memory.

mod entry;
pub(crate) mod heif;
mod times;
mod turn;

use crate::coded;
use crate::reading::Reading;
use crate::sphere_xml;
use crate::view::{Stop, View, Words};

/// The most boxes that are looked at between two positions.
const MOST_BOXES: usize = 4096;
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
    let head = child(view, moov, b"mvhd")?;
    let movie = head.map(|mvhd| turn::of_movie(view, &mvhd)).transpose()?.flatten();
    let fragments: Vec<Box4> = top.iter().filter(|each| &each.kind == b"moof").take(1).copied().collect();
    let mut best: Option<(u64, Reading)> = None;
    for trak in boxes(view, moov.start, moov.end)?.iter().filter(|each| &each.kind == b"trak") {
        let mut found = Reading::of(reading.format);
        if track(view, trak, movie, &fragments, &mut found)? {
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
fn track(
    view: &View<'_>,
    trak: &Box4,
    movie: Option<[i32; 4]>,
    fragments: &[Box4],
    reading: &mut Reading,
) -> Result<bool, Stop> {
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
        entry::sample_entry(view, stsd, reading)?;
        stream(view, &tables, reading)?;
    }
    if let Some(tkhd) = of(b"tkhd") {
        turn::track_head(view, tkhd, movie, reading)?;
    }
    if let (Some(mdhd), Some(stts)) = (in_media(b"mdhd"), table(b"stts")) {
        let scale = times::time_scale(view, mdhd)?;
        times::rate(view, scale, stts, reading)?;
        if let (None, Some(tkhd)) = (&reading.rate, of(b"tkhd")) {
            times::rate_of_fragments(view, scale, fragments, times::track_id(view, tkhd)?, reading)?;
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

/// What the first picture of a track says, for codings of which the sample entry keeps no header.
fn stream(view: &View<'_>, tables: &[Box4], reading: &mut Reading) -> Result<(), Stop> {
    let told: fn(&[u8]) -> Option<coded::Coded> = match reading.codec.as_deref().unwrap_or_default() {
        "vp09" => coded::vp9_frame,
        "apch" | "apcn" | "apcs" | "apco" | "ap4h" | "ap4x" => coded::prores_frame,
        coding if coding.starts_with("dv") && coding.len() >= 3 => coded::dv,
        "m2v1" | "mpeg" | "mp2v" => coded::mpeg2_head,
        coding if coding.starts_with("xd") || coding.starts_with("hdv") || coding.starts_with("mx") => {
            coded::mpeg2_head
        }
        _ => return Ok(()),
    };
    if let Some(sample) = first_sample(view, tables)?
        && let Some(told) = told(&sample)
    {
        told.tell(reading);
    }
    Ok(())
}

/// The beginning of the first sample (clauses 8.7.3 and 8.7.5): as much of it as headers take.
fn first_sample(view: &View<'_>, tables: &[Box4]) -> Result<Option<Vec<u8>>, Stop> {
    const MOST: u64 = 4096;
    let table = |kind: &[u8; 4]| tables.iter().find(|each| &each.kind == kind);
    let at = match (table(b"stco"), table(b"co64")) {
        (Some(stco), _) if stco.length() >= 12 => u64::from(view.bytes(stco.start + 8, 4)?.be32(0)),
        (_, Some(co64)) if co64.length() >= 16 => view.bytes(co64.start + 8, 8)?.be64(0),
        _ => return Ok(None),
    };
    // A file that is cut short has no first sample.
    let sample = view.up_to(at, MOST)?;
    Ok((!sample.is_empty()).then_some(sample))
}
