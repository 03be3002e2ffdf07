//! AV1: the sequence header (AV1 bitstream specification, 5.5).

use std::io::Cursor;

use scuffle_av1::seq::SequenceHeaderObu;
use scuffle_av1::{ObuHeader, ObuType};

use super::{Coded, clocked, side};

/// The bytes of a configuration record before its units (AV1 in ISO base media files, 2.3).
const FIXED: usize = 4;
/// The most units that are looked at.
const MOST_UNITS: usize = 16;

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
