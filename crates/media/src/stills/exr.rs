//! OpenEXR: display window, data window, pixel aspect, and frames a second.

use ::exr::meta::MetaData;
use ::exr::meta::attribute::AttributeValue;

use crate::exr_head;
use crate::reading::{Reading, Said, known_rate};
use crate::view::{Stop, View};

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    if !exr_head::is_plausible(view.cursor(0)).map_err(|error| view.failed("this OpenEXR file", error))? {
        return Err(Stop::broken("the header of this OpenEXR file holds more than 4096 attributes"));
    }
    let meta = MetaData::read_from_unbuffered(view.cursor(0), false)
        .map_err(|error| view.failed("this OpenEXR file", error))?;
    let mut reading = Reading::of("OpenEXR");
    let Some(header) = meta.headers.first() else { return Ok(reading) };
    let shared = &header.shared_attributes;
    let display = bounds(shared.display_window)?;
    let data = bounds(header.own_attributes.layer_position.into_bounds(header.layer_size))?;
    // What is outside the display window is not meant to be seen. What is outside the data window is empty, but
    // belongs to the picture: programs cut a render to where it holds anything.
    let all = [display[0].min(data[0]), display[1].min(data[1]), display[2].max(data[2]), display[3].max(data[3])];
    let side = |from: i64, to: i64| u32::try_from(to - from).unwrap_or(u32::MAX);
    let between = |outer: [i64; 4], inner: [i64; 4]| {
        [side(outer[0], inner[0]), side(outer[1], inner[1]), side(inner[2], outer[2]), side(inner[3], outer[3])]
    };
    let by = "display and data window";
    reading.raster = Some(Said::new((side(all[0], all[2]), side(all[1], all[3])), by));
    reading.insets = Some(Said::new(between(all, display), by));
    let empty = data[0] >= display[2] || data[2] <= display[0] || data[1] >= display[3] || data[3] <= display[1];
    if empty {
        reading.remark("The data window lies outside the display window.");
    } else if data != display {
        let sizes = format!(
            "The data window is {} × {}, the display window {} × {}",
            side(data[0], data[2]),
            side(data[1], data[3]),
            side(display[0], display[2]),
            side(display[1], display[3])
        );
        let seen = [data[0].max(display[0]), data[1].max(display[1]), data[2].min(display[2]), data[3].min(display[3])];
        let [left, top, right, bottom] = between(all, seen);
        reading.remark(if seen == display {
            format!("{sizes}.")
        } else {
            format!("{sizes}. If the empty edges are a border, enter insets of {left}/{top}/{right}/{bottom}.")
        });
    }
    reading.pixel_aspect = shape(f64::from(shared.pixel_aspect)).map(|shape| Said::new(shape, "pixelAspectRatio"));
    reading.full_range = Some(Said::new(true, "OpenEXR, which holds linear light"));
    let rate = header.own_attributes.frames_per_second.or_else(|| {
        shared.other.iter().find_map(|(name, value)| match value {
            AttributeValue::Rational(rate) if name.eq_case_insensitive("framesPerSecond") => Some(*rate),
            _ => None,
        })
    });
    if let Some((above, below)) = rate.filter(|(above, _)| *above > 0) {
        let known = known_rate(f64::from(above) / f64::from(below.max(1)));
        reading.rate = Some(Said::new(known, "framesPerSecond"));
    }
    Ok(reading)
}

fn bounds(window: ::exr::prelude::IntegerBounds) -> Result<[i64; 4], Stop> {
    let (x, y) = (i64::from(window.position.x()), i64::from(window.position.y()));
    let side = |side: usize| i64::try_from(side).ok().filter(|side| *side > 0 && *side < 1 << 31);
    match (side(window.size.width()), side(window.size.height())) {
        (Some(width), Some(height)) => Ok([x, y, x + width, y + height]),
        _ => Err(Stop::broken("a window of this OpenEXR file has no size")),
    }
}

/// The fraction that a floating number was meant as: a short one within a millionth of it.
fn shape(aspect: f64) -> Option<(u32, u32)> {
    if !(0.01..=100.0).contains(&aspect) {
        return None;
    }
    (1..=1000_u32).find_map(|below| {
        let above = (aspect * f64::from(below)).round();
        let near = (above / f64::from(below) / aspect - 1.0).abs() < 1e-6;
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "from 0 to 100,000")]
        near.then_some((above as u32, below))
    })
}

/// A position and a size as bounds.
trait IntoBounds {
    fn into_bounds(self, size: ::exr::prelude::Vec2<usize>) -> ::exr::prelude::IntegerBounds;
}

impl IntoBounds for ::exr::prelude::Vec2<i32> {
    fn into_bounds(self, size: ::exr::prelude::Vec2<usize>) -> ::exr::prelude::IntegerBounds {
        ::exr::prelude::IntegerBounds::new(self, size)
    }
}
