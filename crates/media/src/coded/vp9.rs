//! VP9: the head of a key frame (VP9 bitstream specification, 6.2).

use bitstream_io::{BigEndian, BitRead, BitReader};

use super::Coded;

/// What a key frame begins with, behind its flags.
const SYNC: u32 = 0x49_83_42;
/// The colour space that is RGB, which has no narrow range.
const RGB: u8 = 7;

/// What a frame says; none for one that is no key frame.
pub(super) fn frame(frame: &[u8]) -> Option<Coded> {
    let mut bits = BitReader::endian(frame, BigEndian);
    if bits.read::<2, u8>().ok()? != 2 {
        return None;
    }
    let (low, high) = (bits.read_bit().ok()?, bits.read_bit().ok()?);
    let profile = u8::from(low) | u8::from(high) << 1;
    if profile == 3 && bits.read_bit().ok()? {
        return None;
    }
    let (again, later, _shown, _resilient) =
        (bits.read_bit().ok()?, bits.read_bit().ok()?, bits.read_bit().ok()?, bits.read_bit().ok()?);
    if again || later || bits.read::<24, u32>().ok()? != SYNC {
        return None;
    }
    if profile >= 2 {
        bits.skip(1).ok()?;
    }
    let full = if bits.read::<3, u8>().ok()? == RGB {
        bits.skip(if profile & 1 == 1 { 1 } else { 0 }).ok()?;
        true
    } else {
        let full = bits.read_bit().ok()?;
        bits.skip(if profile & 1 == 1 { 3 } else { 0 }).ok()?;
        full
    };
    let (width, height) = (bits.read::<16, u32>().ok()? + 1, bits.read::<16, u32>().ok()? + 1);
    Some(Coded {
        raster: Some((width, height)),
        full_range: Some(full),
        // There is no coding of fields.
        interlaced: Some(false),
        ..Coded::default()
    })
}
