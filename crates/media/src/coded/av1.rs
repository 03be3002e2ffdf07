//! AV1: the sequence header (AV1 bitstream specification, 5.5).

use std::io::Cursor;

use scuffle_av1::seq::SequenceHeaderObu;
use scuffle_av1::{ObuHeader, ObuType};

use super::{Coded, clocked, side};

/// The bytes of a configuration record before its units (AV1 in ISO base media files, 2.3).
const FIXED: usize = 4;
/// The most units that are looked at.
const MOST_UNITS: usize = 16;
/// No header has so many bytes of zeros in a row; the library counts zeros in eight bits.
const TOO_MANY_ZEROS: [u8; 31] = [0; 31];

/// What a configuration record says.
pub(super) fn configuration(record: &[u8]) -> Option<Coded> {
    units(record.get(FIXED..)?)
}

/// What the first sequence header among some units says.
pub(super) fn units(units: &[u8]) -> Option<Coded> {
    let mut rest = Cursor::new(units);
    for _ in 0..MOST_UNITS {
        let header = ObuHeader::parse(&mut rest).ok()?;
        if header.obu_type == ObuType::SequenceHeader {
            let unit = units.get(usize::try_from(rest.position()).ok()?..)?;
            let end =
                header.size.and_then(|size| usize::try_from(size).ok()).map_or(unit.len(), |size| size.min(unit.len()));
            let mut rest = Cursor::new(&unit[..end]);
            if unit[..end].windows(TOO_MANY_ZEROS.len()).any(|bytes| bytes == TOO_MANY_ZEROS) {
                return None;
            }
            return SequenceHeaderObu::parse(header, &mut rest).ok().map(|header| coded(&header));
        }
        rest.set_position(rest.position().checked_add(header.size?)?);
    }
    None
}

fn coded(header: &SequenceHeaderObu) -> Coded {
    let timing = header.timing_info.as_ref();
    Coded {
        raster: side(header.max_frame_width).zip(side(header.max_frame_height)),
        pixel_aspect: None,
        full_range: Some(header.color_config.full_color_range),
        // There is no coding of fields.
        interlaced: Some(false),
        rate: timing.and_then(|timing| {
            let ticks = side(timing.num_ticks_per_picture?)?;
            clocked(timing.time_scale, timing.num_units_in_display_tick.checked_mul(ticks)?)
        }),
    }
}

#[cfg(test)]
mod tests {
    use super::units;

    /// A sequence header with timing whose ticks for each picture begin with so many zeros.
    fn header(zeros: usize) -> Vec<u8> {
        let bits = format!("000001{:032b}{:032b}1{}1{}", 1, 24, "0".repeat(zeros), "0".repeat(64));
        let bytes =
            bits.as_bytes().chunks_exact(8).map(|byte| byte.iter().fold(0, |value, bit| value << 1 | (bit - b'0')));
        let payload: Vec<u8> = bytes.collect();
        // A sequence header whose size follows.
        let mut unit = vec![0x0A, u8::try_from(payload.len()).expect("small")];
        unit.extend(payload);
        unit
    }

    #[test]
    fn zeros_without_end_are_no_header() {
        assert!(units(&header(0)).is_some());
        for zeros in [31, 255, 256, 300, 600] {
            // Whatever it makes of them, it comes back.
            let _ = units(&header(zeros));
        }
        assert_eq!(units(&header(300)), None);
    }
}
