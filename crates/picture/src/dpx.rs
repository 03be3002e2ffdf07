//! DPX (SMPTE ST 268-1): the samples of its first image element.

use image::{DynamicImage, ImageBuffer};

use crate::Problem;
use crate::limits::room;

/// Numbers in the order of bytes that the file has.
struct Words<'a> {
    bytes: &'a [u8],
    big: bool,
}

impl Words<'_> {
    fn u16(&self, at: usize) -> Option<u16> {
        let two = self.bytes.get(at..at + 2)?.try_into().ok()?;
        Some(if self.big { u16::from_be_bytes(two) } else { u16::from_le_bytes(two) })
    }

    fn u32(&self, at: usize) -> Option<u32> {
        let four = self.bytes.get(at..at + 4)?.try_into().ok()?;
        Some(if self.big { u32::from_be_bytes(four) } else { u32::from_le_bytes(four) })
    }
}

pub(crate) fn read(bytes: &[u8]) -> Result<DynamicImage, Problem> {
    let words = Words { bytes, big: bytes.starts_with(b"SDPX") };
    let short = || Problem::new("this DPX file is shorter than its header");
    let head = |at: usize| words.u32(at).ok_or_else(short);
    let (width, height) = (head(772)?, head(776)?);
    let byte = |at: usize| bytes.get(at).copied().ok_or_else(short);
    let (descriptor, depth) = (byte(800)?, byte(803)?);
    let (packing, encoding) = (words.u16(804).ok_or_else(short)?, words.u16(806).ok_or_else(short)?);
    let unset = |value: u32| if value == u32::MAX { 0 } else { value };
    let (start, padding) = (unset(head(808)?), unset(head(812)?));
    let start = if start == 0 { head(4)? } else { start };
    let channels: usize = match descriptor {
        1..=6 => 1,
        50 => 3,
        51 => 4,
        other => {
            return Err(Problem::new(format!(
                "this DPX file holds image elements of kind {other}; one channel (1 to 6), RGB (50) and RGBA (51) are read"
            )));
        }
    };
    if encoding != 0 && encoding != u16::MAX {
        return Err(Problem::new("this DPX file is run-length encoded; plain ones are read"));
    }
    room([width, height], u64::from(width) * u64::from(height) * channels as u64 * 2)?;
    let in_line = width as usize * channels;
    let bits = usize::from(depth);
    let line_bytes = match (depth, packing) {
        (8, _) => in_line.div_ceil(4) * 4,
        (10, 1 | 2) => in_line.div_ceil(3) * 4,
        (12, 1 | 2) => (in_line * 2).div_ceil(4) * 4,
        (16, _) => (in_line * 2).div_ceil(4) * 4,
        (10 | 12, 0) => (in_line * bits).div_ceil(32) * 4,
        (depth, packing) => {
            return Err(Problem::new(format!(
                "this DPX file has samples of {depth} bit, packed by method {packing}; 8, 10, 12 and 16 bit are read"
            )));
        }
    } + padding as usize;
    let data = bytes.get(start as usize..).unwrap_or_default();
    // Lines of 8 and 16 bit are written without filling too: how much is there tells.
    let bare = if matches!(depth, 8 | 16) { in_line * bits / 8 } else { line_bytes };
    let height_lines = height as usize;
    let line_bytes = if data.len() < line_bytes * height_lines { bare } else { line_bytes };
    if data.len() < line_bytes * height_lines {
        return Err(Problem::new(format!("this DPX file ends before its {height} lines do")));
    }
    let most = (1_u32 << depth) - 1;
    let spread = |value: u32| {
        let wide = (value.min(most) * 2 * 65_535 + most) / (2 * most);
        u16::try_from(wide).unwrap_or(u16::MAX)
    };
    let mut wide = Vec::with_capacity(if depth == 8 { 0 } else { in_line * height_lines });
    let mut narrow = Vec::with_capacity(if depth == 8 { in_line * height_lines } else { 0 });
    for line in data.chunks(line_bytes.max(1)).take(height_lines) {
        let line = Words { bytes: line, big: words.big };
        for at in 0..in_line {
            let value = match (depth, packing) {
                (8, _) => {
                    narrow.push(line.bytes[at]);
                    continue;
                }
                (16, _) => line.u16(at * 2).map(u32::from),
                (10, 1 | 2) => {
                    let filled = if packing == 1 { 2 } else { 0 };
                    // The first sample stands highest.
                    line.u32(at / 3 * 4).map(|word| word >> (filled + 10 * (2 - at % 3)) & most)
                }
                (12, 1) => line.u16(at * 2).map(|word| u32::from(word >> 4)),
                (12, _) if packing == 2 => line.u16(at * 2).map(|word| u32::from(word & 0x0FFF)),
                // Packed without filling: words of 32 bit, the first sample lowest.
                _ => {
                    let (word, from) = (at * bits / 32, at * bits % 32);
                    let low = line.u32(word * 4).map(u64::from);
                    let high = line.u32(word * 4 + 4).map_or(0, u64::from);
                    low.and_then(|low| u32::try_from(((high << 32 | low) >> from) & u64::from(most)).ok())
                }
            };
            wide.push(if depth == 16 {
                u16::try_from(value.unwrap_or(0)).unwrap_or(0)
            } else {
                spread(value.unwrap_or(0))
            });
        }
    }
    let made = match (depth, channels) {
        (8, 1) => ImageBuffer::from_raw(width, height, narrow).map(DynamicImage::ImageLuma8),
        (8, 3) => ImageBuffer::from_raw(width, height, narrow).map(DynamicImage::ImageRgb8),
        (8, _) => ImageBuffer::from_raw(width, height, narrow).map(DynamicImage::ImageRgba8),
        (_, 1) => ImageBuffer::from_raw(width, height, wide).map(DynamicImage::ImageLuma16),
        (_, 3) => ImageBuffer::from_raw(width, height, wide).map(DynamicImage::ImageRgb16),
        (_, _) => ImageBuffer::from_raw(width, height, wide).map(DynamicImage::ImageRgba16),
    };
    made.ok_or_else(|| Problem::new("this DPX file has fewer samples than its size says"))
}
