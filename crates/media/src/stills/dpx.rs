//! DPX (SMPTE ST 268-1): fields of its fixed header, by their offsets (from memory).

use crate::reading::{Reading, Said, known_rate};
use crate::view::{Stop, View, Words};

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let head = view.bytes(0, view.length().min(2048))?;
    if head.len() < 1664 {
        return Err(Stop::broken("the header of this DPX file is truncated"));
    }
    let little = head.starts_with(b"XPDS");
    let word = |at: usize| if little { head.be32(at).swap_bytes() } else { head.be32(at) };
    let short = |at: usize| if little { head.be16(at).swap_bytes() } else { head.be16(at) };
    let known = |value: u32| (value != u32::MAX).then_some(value);
    let mut reading = Reading::of("DPX");
    reading.raster = known(word(772)).zip(known(word(776))).map(|raster| Said::new(raster, "the image header"));
    match short(768) {
        0 | u16::MAX => {}
        3 => reading.rotation = Some(Said::new(180, "the image orientation")),
        other => reading.remark(format!("Orientation {other} is not supported; ignored.")),
    }
    reading.pixel_aspect =
        known(word(1628)).zip(known(word(1632))).map(|shape| Said::new(shape, "the orientation header"));
    let real = |at: usize| {
        Some(f64::from(f32::from_bits(word(at)))).filter(|rate| rate.is_finite() && (1.0..=1000.0).contains(rate))
    };
    if head.len() >= 2048 {
        let rate = real(1724)
            .map(|rate| (rate, "the film header"))
            .or_else(|| real(1940).map(|rate| (rate, "the television header")));
        reading.rate = rate.map(|(rate, by)| Said::new(known_rate(rate), by));
        reading.interlaced = match head[1928] {
            0 => Some(Said::new(false, "the television header")),
            1 => Some(Said::new(true, "the television header")),
            _ => None,
        };
    }
    Ok(reading)
}
