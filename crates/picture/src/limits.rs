//! How large pictures may be.

use crate::Problem;

/// The most bytes of a file.
pub const MOST_BYTES: u64 = 512 << 20;
/// The most pixels of a side.
pub const MOST_SIDE: u32 = 65_536;
/// The most bytes that a picture has when it is unpacked.
pub const MOST_UNPACKED: u64 = 2 << 30;

/// Whether a picture of a size has room.
pub(crate) fn room([width, height]: [u32; 2], bytes: u64) -> Result<(), Problem> {
    if width == 0 || height == 0 || width > MOST_SIDE || height > MOST_SIDE {
        return Err(Problem::new(format!(
            "the picture has {width}x{height} pixels; each side must be 1 to {MOST_SIDE}"
        )));
    }
    if bytes > MOST_UNPACKED {
        return Err(Problem::new(format!(
            "the picture has {width}x{height} pixels and {} MB when it is unpacked; at most {} MB are read",
            bytes >> 20,
            MOST_UNPACKED >> 20
        )));
    }
    Ok(())
}
