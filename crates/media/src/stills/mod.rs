//! Stills: the headers of single pictures, which also make sequences.

pub(crate) mod dpx;
pub(crate) mod exr;
pub(crate) mod jpeg;
pub(crate) mod png;
pub(crate) mod tiff;
pub(crate) mod webp;

use crate::reading::{Reading, Said};

/// What an orientation of EXIF and TIFF 6.0 asks for; mirrors are told, not kept.
fn turn(orientation: u32, by: &str, reading: &mut Reading) {
    let (turn, mirrored) = match orientation {
        1 => (0, false),
        2 => (0, true),
        3 => (180, false),
        4 => (180, true),
        5 => (270, true),
        6 => (90, false),
        7 => (90, true),
        8 => (270, false),
        _ => return,
    };
    reading.rotation = Some(Said::new(turn, by));
    if mirrored {
        reading.remark(format!("{by} {orientation} mirrors the picture; ignored."));
    }
}

/// The orientation in a block of EXIF.
fn exif(block: Vec<u8>, reading: &mut Reading) {
    let Ok(exif) = ::exif::Reader::new().read_raw(block) else {
        reading.remark("The EXIF data is damaged; ignored.");
        return;
    };
    let field = exif.get_field(::exif::Tag::Orientation, ::exif::In::PRIMARY);
    if let Some(orientation) = field.and_then(|field| field.value.get_uint(0)) {
        turn(orientation, "EXIF orientation", reading);
    }
}

/// A shape told by how many pixels there are to a length: one that rounding has made, at most a hundredth off,
/// is a square.
fn nearly_square((across, down): (u32, u32)) -> (u32, u32) {
    let near = u64::from(across.abs_diff(down)) * 100 <= u64::from(across.max(down));
    if near { (1, 1) } else { (across, down) }
}
