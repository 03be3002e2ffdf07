//! ProRes (SMPTE RDD 36, 5.1, from memory): the header of a frame.

use super::Coded;
use crate::view::Words;

/// What a frame says; with or without the eight bytes of size and mark before its header.
pub(super) fn frame(frame: &[u8]) -> Option<Coded> {
    let header = if frame.get(4..8)? == b"icpf" { frame.get(8..)? } else { frame };
    if header.len() < 20 || header.be16(0) < 20 {
        return None;
    }
    let raster = (u32::from(header.be16(8)), u32::from(header.be16(10)));
    let interlaced = match header[12] >> 2 & 3 {
        0 => Some(false),
        1 | 2 => Some(true),
        _ => None,
    };
    Some(Coded { raster: Some(raster), interlaced, ..Coded::default() })
}
