//! DV (IEC 61834 and SMPTE ST 314, from memory): what the blocks of a frame say.

use super::{Coded, lowest};

/// What a frame begins with: the head of its first block.
pub(crate) const DV_HEAD: [u8; 3] = [0x1F, 0x07, 0x00];
/// The length of a block.
const BLOCK: usize = 80;

/// What a frame says; none for what is none.
pub(crate) fn dv(frame: &[u8]) -> Option<Coded> {
    if !frame.starts_with(&DV_HEAD) {
        return None;
    }
    let fifty = frame.get(3)? & 0x80 != 0;
    // The sort of signal stands in the source pack of the picture.
    let sort = frame.get(BLOCK * 5 + 48 + 3)? & 0x1F;
    let (raster, rate, interlaced) = match (sort, fifty) {
        (0x14, false) => ((1280, 1080), (30_000, 1001), true),
        (0x14, true) => ((1440, 1080), (25, 1), true),
        (0x18, false) => ((960, 720), (60_000, 1001), false),
        (0x18, true) => ((960, 720), (50, 1), false),
        (_, false) => ((720, 480), (30_000, 1001), true),
        (_, true) => ((720, 576), (25, 1), true),
    };
    let control = frame.get(BLOCK * 3 + 8..BLOCK * 3 + 13).filter(|pack| pack[0] == 0x61);
    let wide = control.is_some_and(|pack| {
        let shown = pack[2] & 0x07;
        shown == 2 || (frame[4] & 0x07 == 0 && shown == 7)
    });
    let fields = control.map(|pack| pack[3] & 0x10 != 0);
    // Pictures of many lines are always wide.
    let (across, down) = if wide || sort & 0x10 != 0 { (16, 9) } else { (4, 3) };
    Some(Coded {
        raster: Some(raster),
        pixel_aspect: Some(lowest(across * raster.1, down * raster.0)),
        // Levels are those of BT.601 and BT.709.
        full_range: Some(false),
        interlaced: Some(fields.unwrap_or(interlaced)),
        rate: Some(rate),
    })
}
