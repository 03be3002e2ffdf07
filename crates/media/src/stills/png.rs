//! PNG (W3C, third edition).

use crate::reading::{Reading, Said, lowest};
use crate::sphere_xml;
use crate::view::{Stop, View};

/// The most bytes of XMP that are unfolded.
const LONGEST_XMP: usize = 1 << 20;

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let limits = ::png::Limits { bytes: 8 << 20 };
    let decoder = ::png::Decoder::new_with_limits(std::io::BufReader::with_capacity(512, view.cursor(0)), limits);
    let reader = decoder.read_info().map_err(|error| view.failed("this PNG file", error))?;
    let info = reader.info();
    let mut reading = Reading::of("PNG");
    reading.raster = Some(Said::new((info.width, info.height), "IHDR"));
    reading.full_range = Some(Said::new(true, "PNG, whose values run from 0 on"));
    if let Some(pixels) = info.pixel_dims {
        let (across, down) = lowest(pixels.xppu, pixels.yppu);
        // Pixels to a metre: the more of them, the narrower each. Without a unit most programs mean the
        // shape itself, which is not what the standard says.
        let by_standard = pixels.unit == ::png::Unit::Meter;
        let shape = if by_standard { super::nearly_square((down, across)) } else { (across, down) };
        reading.pixel_aspect = Some(Said::new(shape, "pHYs"));
        if across != down && !by_standard {
            reading.remark(format!(
                "pHYs has no unit: taken as pixels of {across}:{down}, as common practice has it; the PNG standard would \
                 have {down}:{across}"
            ));
        }
    }
    if let Some(block) = &info.exif_metadata {
        super::exif(block.to_vec(), &mut reading);
    }
    for text in info.utf8_text.iter().filter(|text| text.keyword == "XML:com.adobe.xmp") {
        // A few bytes may stand for gigabytes.
        let mut text = text.clone();
        if text.decompress_text_with_limit(LONGEST_XMP).is_err() {
            reading.remark("The XMP in it is damaged, or unfolds to more than 1 MB; it was passed by.");
        } else if let Ok(xml) = text.get_text() {
            reading.sphere = sphere_xml::sphere(xml.as_bytes(), "XMP");
        }
    }
    Ok(reading)
}
