//! WebP (RFC 9649): its chunks.

use crate::reading::{Reading, Said};
use crate::riff::chunks;
use crate::sphere_xml;
use crate::view::{Stop, View, Words};

/// The most of EXIF or XMP that is looked at.
const MOST: u64 = 1 << 20;

pub(crate) fn begins(head: &[u8]) -> bool {
    head.starts_with(b"RIFF") && head.get(8..12) == Some(b"WEBP")
}

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let mut reading = Reading::of("WebP");
    reading.full_range = Some(Said::new(true, "WebP, whose values run from 0 on"));
    for chunk in chunks(view, 12, view.length())? {
        let bytes = |most: u64| view.up_to(chunk.start, (chunk.end - chunk.start).min(most));
        let two = |data: &[u8], at: usize| u32::from(data.be16(at).swap_bytes());
        match &chunk.kind {
            // The canvas, a pixel less on each side, in 24 bits.
            b"VP8X" => {
                let data = bytes(10)?;
                let side = |at: usize| data.get(at..at + 3).map(|three| two(three, 0) | u32::from(three[2]) << 16);
                if let (Some(across), Some(down)) = (side(4), side(7)) {
                    reading.raster = Some(Said::new((across + 1, down + 1), "VP8X"));
                }
            }
            b"VP8 " if reading.raster.is_none() => {
                let data = bytes(10)?;
                if data.get(3..6) == Some(&[0x9D, 0x01, 0x2A]) {
                    let size = (two(&data, 6) & 0x3FFF, two(&data, 8) & 0x3FFF);
                    reading.raster = Some(Said::new(size, "the frame header"));
                }
            }
            b"VP8L" if reading.raster.is_none() => {
                let data = bytes(5)?;
                if data.first() == Some(&0x2F) {
                    let bits = data.be32(1).swap_bytes();
                    let size = ((bits & 0x3FFF) + 1, (bits >> 14 & 0x3FFF) + 1);
                    reading.raster = Some(Said::new(size, "the lossless header"));
                }
            }
            b"EXIF" => {
                let data = bytes(MOST)?;
                super::exif(data.strip_prefix(b"Exif\0\0").unwrap_or(&data).to_vec(), &mut reading);
            }
            b"XMP " => reading.sphere = sphere_xml::sphere(&bytes(MOST)?, "XMP").or(reading.sphere),
            b"ANIM" => reading.remark("A moving WebP: how fast it plays is not read."),
            _ => {}
        }
    }
    Ok(reading)
}
