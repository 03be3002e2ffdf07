//! TIFF 6.0 and its long form.

mod dng;

use ::tiff::decoder::{Decoder, Limits};
use ::tiff::tags::Tag;

use crate::reading::{Reading, Said, lowest64};
use crate::sphere_xml;
use crate::view::{Stop, View};

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let failed = |error: ::tiff::TiffError| view.failed("this TIFF file", error);
    let mut limits = Limits::default();
    limits.decoding_buffer_size = 1 << 20;
    limits.ifd_value_size = 1 << 20;
    limits.intermediate_buffer_size = 1 << 20;
    if let Some(reading) = dng::read(view)? {
        return Ok(reading);
    }
    let mut decoder = Decoder::new(view.cursor(0)).map_err(failed)?.with_limits(limits);
    let mut reading = Reading::of("TIFF");
    reading.raster = Some(Said::new(decoder.dimensions().map_err(failed)?, "ImageWidth and ImageLength"));
    reading.full_range = Some(Said::new(true, "TIFF, whose values run from 0 on"));
    let mut resolution = |tag| {
        let value = decoder.find_tag(tag).ok().flatten()?;
        match value {
            ::tiff::decoder::ifd::Value::Rational(above, below) => Some((u64::from(above), u64::from(below))),
            _ => None,
        }
    };
    if let (Some(across), Some(down)) = (resolution(Tag::XResolution), resolution(Tag::YResolution)) {
        // Pixels to a length: the more of them, the narrower each.
        let shape = lowest64(down.0.saturating_mul(across.1), down.1.saturating_mul(across.0));
        reading.pixel_aspect = shape.map(|shape| Said::new(super::nearly_square(shape), "XResolution and YResolution"));
    }
    if let Ok(Some(orientation)) = decoder.find_tag_unsigned::<u32>(Tag::Orientation) {
        super::turn(orientation, "Orientation", &mut reading);
    }
    if let Ok(Some(value)) = decoder.find_tag(Tag::Unknown(700))
        && let Ok(xml) = value.into_u8_vec()
    {
        reading.sphere = sphere_xml::sphere(&xml, "XMP");
    }
    Ok(reading)
}
