//! JPEG (ITU-T T.81) with JFIF, EXIF and XMP: its markers up to the frame header.

use crate::reading::{Reading, Said, lowest};
use crate::sphere_xml;
use crate::view::{Stop, View, Words};

const MOST_MARKERS: usize = 1000;
const XMP: &[u8] = b"http://ns.adobe.com/xap/1.0/\0";

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let mut reading = Reading::of("JPEG");
    reading.full_range = Some(Said::new(true, "JPEG, whose values run from 0 on"));
    let mut at = 2;
    for _ in 0..MOST_MARKERS {
        let head = view.bytes(at, 4)?;
        if head[0] != 0xFF {
            return Err(Stop::broken("a marker of this JPEG file is not where it should be"));
        }
        let (marker, length) = (head[1], u64::from(head.be16(2)));
        match marker {
            // Fill bytes, and markers without a length.
            0xFF => {
                at += 1;
                continue;
            }
            0x01 | 0xD0..=0xD8 => {
                at += 2;
                continue;
            }
            0xD9 | 0xDA => break,
            _ => {}
        }
        if length < 2 {
            return Err(Stop::broken("a segment of this JPEG file is shorter than its own head"));
        }
        let segment = |most: u64| view.bytes(at + 4, (length - 2).min(most));
        match marker {
            // Frame headers; C4, C8 and CC are something else.
            0xC0..=0xCF if !matches!(marker, 0xC4 | 0xC8 | 0xCC) => {
                let frame = segment(5)?;
                if frame.len() == 5 {
                    reading.raster =
                        Some(Said::new((u32::from(frame.be16(3)), u32::from(frame.be16(1))), "the frame header"));
                }
                break;
            }
            0xE0 => {
                let jfif = segment(14)?;
                if jfif.starts_with(b"JFIF\0") && jfif.len() >= 12 {
                    let (across, down) = (u32::from(jfif.be16(8)), u32::from(jfif.be16(10)));
                    // The more pixels there are to a length, the narrower each (ITU-T T.871, 10.1).
                    let shape = lowest(down, across);
                    if jfif[7] == 0 && shape.0 != shape.1 {
                        reading.remark(format!(
                            "JFIF density without a unit: pixels of {}:{} by the standard; some programs write it the other \
                             way round, and mean {}:{}.",
                            shape.0, shape.1, shape.1, shape.0
                        ));
                    }
                    let shape = if jfif[7] == 0 { shape } else { super::nearly_square(shape) };
                    reading.pixel_aspect = Some(Said::new(shape, "JFIF density"));
                }
            }
            0xE1 => {
                let data = segment(65_533)?;
                if let Some(block) = data.strip_prefix(b"Exif\0\0") {
                    super::exif(block.to_vec(), &mut reading);
                } else if let Some(xml) = data.strip_prefix(XMP) {
                    reading.sphere = sphere_xml::sphere(xml, "XMP").or(reading.sphere);
                }
            }
            _ => {}
        }
        at += 2 + length;
    }
    Ok(reading)
}
