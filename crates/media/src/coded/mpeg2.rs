//! MPEG-1 and MPEG-2 pictures: the sequence header and its extensions (ITU-T H.262, 6.2.2; ISO/IEC 11172-2).

use bitstream_io::{BigEndian, BitRead, BitReader};

use super::units::units;
use super::{Coded, lowest};

const SEQUENCE: u8 = 0xB3;
const EXTENSION: u8 = 0xB5;
/// The extensions that are read, by their numbers.
const OF_SEQUENCE: u8 = 1;
const OF_DISPLAY: u8 = 2;
const OF_PICTURE: u8 = 8;

/// The rates by their numbers (Table 6-4).
const RATES: [(u32, u32); 9] =
    [(0, 0), (24_000, 1001), (24, 1), (25, 1), (30_000, 1001), (30, 1), (50, 1), (60_000, 1001), (60, 1)];
/// The shapes of pixels of MPEG-1, height to width in ten-thousandths (ISO/IEC 11172-2, 2.4.3.2, from memory).
const SHAPES: [u32; 15] =
    [0, 10_000, 6735, 7031, 7615, 8055, 8437, 8935, 9157, 9815, 10_255, 10_695, 10_950, 11_575, 12_015];

/// What a head says; none for what is none.
pub(super) fn head(bytes: &[u8]) -> Option<Coded> {
    let all: Vec<&[u8]> = units(bytes).collect();
    let at = all.iter().position(|unit| unit.first() == Some(&SEQUENCE))?;
    let mut bits = BitReader::endian(&all[at][1..], BigEndian);
    let (width, height) = (bits.read::<12, u32>().ok()?, bits.read::<12, u32>().ok()?);
    let (shape, rate) = (bits.read::<4, u8>().ok()?, bits.read::<4, u8>().ok()?);
    let mut coded = Coded { rate: RATES.get(usize::from(rate)).copied().filter(|rate| rate.0 > 0), ..Coded::default() };
    // Levels of black and white are those of BT.601 and BT.709 (Table 6-9).
    coded.full_range = Some(false);
    let plain = coded.rate;
    let (mut raster, mut shown, mut second) = ((width, height), None, false);
    for unit in &all[at + 1..] {
        if unit.first() != Some(&EXTENSION) {
            continue;
        }
        let mut bits = BitReader::endian(&unit[1..], BigEndian);
        match bits.read::<4, u8>().ok()? {
            OF_SEQUENCE => {
                second = true;
                bits.skip(8).ok()?;
                let progressive = bits.read_bit().ok()?;
                coded.interlaced = progressive.then_some(false);
                bits.skip(2).ok()?;
                let (wide, high) = (bits.read::<2, u32>().ok()?, bits.read::<2, u32>().ok()?);
                raster = (width | wide << 12, height | high << 12);
                bits.skip(12 + 1 + 8 + 1).ok()?;
                let (above, below) = (bits.read::<2, u32>().ok()? + 1, bits.read::<5, u32>().ok()? + 1);
                coded.rate = plain.map(|(a, b)| lowest(a * above, b * below));
            }
            OF_DISPLAY => {
                bits.skip(3).ok()?;
                if bits.read_bit().ok()? {
                    bits.skip(24).ok()?;
                }
                let across = bits.read::<14, u32>().ok()?;
                bits.skip(1).ok()?;
                shown = Some((across, bits.read::<14, u32>().ok()?)).filter(|(across, down)| *across > 0 && *down > 0);
            }
            OF_PICTURE if coded.interlaced.is_none() => {
                // Four sizes of vectors, precision, structure, and seven flags before the one of the frame.
                bits.skip(16 + 2).ok()?;
                let whole = bits.read::<2, u8>().ok()? == 3;
                bits.skip(8).ok()?;
                coded.interlaced = Some(!(whole && bits.read_bit().ok()?));
            }
            _ => {}
        }
    }
    coded.raster = Some(raster);
    if !second {
        coded.interlaced = Some(false);
        let shape = SHAPES.get(usize::from(shape)).copied().filter(|shape| *shape > 0);
        coded.pixel_aspect = shape.map(|shape| known_shape(10_000, shape));
        return Some(coded);
    }
    // The shape of the picture that is shown (Table 6-3), which need not be all of it.
    let (across, down) = match shape {
        1 => (0, 0),
        2 => (4, 3),
        3 => (16, 9),
        4 => (221, 100),
        _ => return Some(coded),
    };
    let (wide, high) = shown.unwrap_or(raster);
    coded.pixel_aspect = Some(if shape == 1 { (1, 1) } else { lowest(across * high, down * wide) });
    Some(coded)
}

/// A shape of four decimals as the fraction that was meant.
fn known_shape(above: u32, below: u32) -> (u32, u32) {
    const KNOWN: [(u32, u32); 4] = [(12, 11), (10, 11), (16, 11), (40, 33)];
    let near = |(a, b): &(u32, u32)| (u64::from(above) * u64::from(*b)).abs_diff(u64::from(below) * u64::from(*a));
    let found = KNOWN.into_iter().find(|known| near(known) * 200 < u64::from(above) * u64::from(known.1));
    found.unwrap_or_else(|| lowest(above, below))
}
