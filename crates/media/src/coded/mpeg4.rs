//! MPEG-4 part 2: the video object layer (ISO/IEC 14496-2, 6.2.2 and 6.2.3, from memory).

use bitstream_io::{BigEndian, BitRead, BitReader};

use super::units::units;
use super::{Coded, sample_aspect};

/// The code of a visual object, which says the signal range.
const VISUAL_OBJECT: u8 = 0xB5;
/// The codes of video object layers.
const LAYERS: std::ops::RangeInclusive<u8> = 0x20..=0x2F;
/// The shape of pixels that is written out.
const OWN_SHAPE: u8 = 15;

/// What a head says; none for what is none.
pub(super) fn head(bytes: &[u8]) -> Option<Coded> {
    let mut coded = Coded::default();
    for unit in units(bytes) {
        match unit.first() {
            Some(&VISUAL_OBJECT) => coded.full_range = range(&unit[1..]),
            Some(code) if LAYERS.contains(code) => {
                layer(&unit[1..], &mut coded)?;
                return Some(coded);
            }
            _ => {}
        }
    }
    None
}

fn range(unit: &[u8]) -> Option<bool> {
    let mut bits = BitReader::endian(unit, BigEndian);
    if bits.read_bit().ok()? {
        bits.skip(7).ok()?;
    }
    // Type 1 is video, 2 a still texture; both may say their signal.
    if !matches!(bits.read::<4, u8>().ok()?, 1 | 2) || !bits.read_bit().ok()? {
        return None;
    }
    bits.skip(3).ok()?;
    bits.read_bit().ok()
}

fn layer(unit: &[u8], coded: &mut Coded) -> Option<()> {
    let mut bits = BitReader::endian(unit, BigEndian);
    bits.skip(1 + 8).ok()?;
    if bits.read_bit().ok()? {
        bits.skip(4 + 3).ok()?;
    }
    let shape = bits.read::<4, u8>().ok()?;
    coded.pixel_aspect = if shape == OWN_SHAPE {
        Some((bits.read::<8, u32>().ok()?, bits.read::<8, u32>().ok()?))
    } else {
        sample_aspect(shape).filter(|_| shape <= 5)
    };
    if bits.read_bit().ok()? {
        bits.skip(2 + 1).ok()?;
        if bits.read_bit().ok()? {
            // How much a decoder must hold.
            bits.skip(79).ok()?;
        }
    }
    // Anything but a rectangle has no size of its own.
    if bits.read::<2, u8>().ok()? != 0 {
        return None;
    }
    bits.skip(1).ok()?;
    let ticks = bits.read::<16, u32>().ok()?;
    bits.skip(1).ok()?;
    if bits.read_bit().ok()? {
        let wide = (32 - ticks.saturating_sub(1).leading_zeros()).max(1);
        let length = bits.read_var::<u32>(wide).ok()?;
        coded.rate = super::clocked(ticks, length);
    }
    bits.skip(1).ok()?;
    let width = bits.read::<13, u32>().ok()?;
    bits.skip(1).ok()?;
    let height = bits.read::<13, u32>().ok()?;
    bits.skip(1).ok()?;
    coded.raster = Some((width, height));
    coded.interlaced = Some(bits.read_bit().ok()?);
    Some(())
}
