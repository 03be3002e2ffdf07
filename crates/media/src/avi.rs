//! AVI (the RIFF form of pictures with sound, from memory) and bare DV.

use crate::coded;
use crate::reading::{Reading, Said, lowest, lowest64};
use crate::riff::{Chunk, chunks};
use crate::view::{Stop, View};

/// The most of a frame that is looked at.
const FRAME: u64 = 8192;

pub(crate) fn begins(head: &[u8]) -> bool {
    head.starts_with(b"RIFF") && head.get(8..11) == Some(b"AVI")
}

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let mut reading = Reading::of("AVI");
    let top = chunks(view, 12, view.length())?;
    let list = |of: &[u8; 4]| top.iter().find(|chunk| &chunk.kind == b"LIST" && &chunk.of == of);
    let Some(headers) = list(b"hdrl") else {
        return Err(Stop::broken("this AVI file has no list of headers (hdrl): it is truncated"));
    };
    let streams = chunks(view, headers.start, headers.end)?;
    let streams = streams.iter().filter(|chunk| &chunk.kind == b"LIST" && &chunk.of == b"strl");
    for (number, stream) in streams.enumerate() {
        let parts = chunks(view, stream.start, stream.end)?;
        let part = |kind: &[u8; 4]| parts.iter().find(|chunk| &chunk.kind == kind);
        let bytes = |chunk: Option<&Chunk>| match chunk {
            Some(chunk) => view.up_to(chunk.start, (chunk.end - chunk.start).min(4096)),
            None => Ok(Vec::new()),
        };
        let (head, format) = (bytes(part(b"strh"))?, bytes(part(b"strf"))?);
        let little = |bytes: &[u8], at: usize| {
            bytes.get(at..at + 4).map(|four| u32::from_le_bytes([four[0], four[1], four[2], four[3]]))
        };
        let interleaved = head.starts_with(b"iavs");
        if !head.starts_with(b"vids") && !interleaved {
            continue;
        }
        if let (Some(length), Some(units)) = (little(&head, 20), little(&head, 24)) {
            reading.rate = Some(Said::new(lowest(units, length), "strh"));
            let frames = little(&head, 32).filter(|frames| *frames > 0);
            reading.frames = frames.map(|frames| Said::new(u64::from(frames), "strh"));
        }
        let mut coding: String = head.get(4..8).map(words).unwrap_or_default();
        let mut extra: &[u8] = &[];
        if !interleaved && let (Some(width), Some(height)) = (little(&format, 4), little(&format, 8)) {
            // A height below zero only says which line is first.
            reading.raster = Some(Said::new((width, height.cast_signed().unsigned_abs()), "strf"));
            coding = format.get(16..20).map(words).filter(|words| !words.is_empty()).unwrap_or(coding);
            extra = format.get(40..).unwrap_or_default();
        }
        reading.codec = Some(if coding.is_empty() { "raw".to_owned() } else { coding.clone() });
        let shown = bytes(part(b"vprp"))?;
        if let (Some(shape), Some((width, height))) =
            (little(&shown, 20), reading.raster.as_ref().map(|said| said.value))
        {
            let (across, down) = (u64::from(shape >> 16), u64::from(shape & 0xFFFF));
            let (wide, high) = (
                little(&shown, 24).filter(|side| *side > 0).unwrap_or(width),
                little(&shown, 28).filter(|side| *side > 0).unwrap_or(height),
            );
            if across > 0 && down > 0 {
                let shape = lowest64(across * u64::from(high), down * u64::from(wide));
                reading.pixel_aspect = shape.map(|shape| Said::new(shape, "vprp"));
            }
            if let Some(fields @ 1..=2) = little(&shown, 32) {
                reading.interlaced = Some(Said::new(fields == 2, "vprp"));
            }
        }
        first_frame(view, &top, number, &coding.to_lowercase(), extra, &mut reading)?;
        return Ok(reading);
    }
    Ok(reading)
}

/// What the first frame of a stream says, where its coding says anything.
fn first_frame(
    view: &View<'_>,
    top: &[Chunk],
    number: usize,
    coding: &str,
    extra: &[u8],
    reading: &mut Reading,
) -> Result<(), Stop> {
    if matches!(coding, "mjpg" | "jpeg" | "ijpg" | "avrn") {
        reading.full_range = Some(Said::new(true, "JPEG, whose values run from 0 on"));
        return Ok(());
    }
    let mpeg4 = matches!(coding, "xvid" | "divx" | "dx50" | "fmp4" | "mp4v" | "3iv2" | "mp4s");
    let h264 = matches!(coding, "h264" | "x264" | "avc1");
    let dv = matches!(coding, "dvsd" | "dv25" | "dv50" | "dvhd" | "dvh1" | "dvsl" | "cdvc" | "dvc" | "dvp1" | "dvpn");
    let mpeg2 = matches!(coding, "mpg2" | "mpeg" | "mpg1" | "xmpg");
    if !mpeg4 && !h264 && !dv && !mpeg2 {
        return Ok(());
    }
    let mut told = if mpeg4 { coded::mpeg4_head(extra) } else { None };
    if told.is_none()
        && let Some(movie) = top.iter().find(|chunk| &chunk.kind == b"LIST" && &chunk.of == b"movi")
    {
        let mark = [b'0' + u8::try_from(number / 10 % 10).unwrap_or(0), b'0' + u8::try_from(number % 10).unwrap_or(0)];
        let (mut from, mut end) = (movie.start, movie.end);
        let mut frame = None;
        // Frames may stand in lists of their own.
        for _ in 0..2 {
            let found = first_of(view, from, end, mark)?;
            match found {
                Some(chunk) if &chunk.kind == b"LIST" => (from, end) = (chunk.start, chunk.end),
                other => {
                    frame = other;
                    break;
                }
            }
        }
        if let Some(frame) = frame {
            let bytes = view.up_to(frame.start, (frame.end - frame.start).min(if h264 { 1 << 16 } else { FRAME }))?;
            told = if dv {
                coded::dv(&bytes)
            } else if h264 {
                coded::stream(coded::Coding::H264, &bytes)
            } else if mpeg2 {
                coded::mpeg2_head(&bytes)
            } else {
                coded::mpeg4_head(&bytes)
            };
        }
    }
    if let Some(told) = told {
        told.tell(reading);
    }
    Ok(())
}

/// The first chunk of a stream, or the first list, between two positions.
fn first_of(view: &View<'_>, from: u64, end: u64, mark: [u8; 2]) -> Result<Option<Chunk>, Stop> {
    let mut at = from;
    for _ in 0..64 {
        if at + 8 > end {
            return Ok(None);
        }
        let Some(chunk) = chunks(view, at, (at + 12).min(end))?.into_iter().next() else { return Ok(None) };
        let head = view.up_to(at, 8)?;
        let length = u64::from(u32::from_le_bytes([head[4], head[5], head[6], head[7]]));
        let whole = Chunk { end: (at + 8 + length).min(end).max(chunk.start), ..chunk };
        if whole.kind[..2] == mark && !matches!(&whole.kind[2..], b"wb" | b"tx") || &whole.of == b"rec " {
            return Ok(Some(whole));
        }
        at += 8 + length + length % 2;
    }
    Ok(None)
}

fn words(four: &[u8]) -> String {
    four.iter().filter(|byte| byte.is_ascii_graphic()).map(|byte| char::from(*byte)).collect()
}

/// DV without a file around it.
pub(crate) fn bare_dv(view: &View<'_>) -> Result<Reading, Stop> {
    let mut reading = Reading::of("DV");
    let told = coded::dv(&view.up_to(0, FRAME)?)
        .ok_or_else(|| Stop::broken("the first frame of this DV file is truncated"))?;
    told.tell(&mut reading);
    Ok(reading)
}
