//! YUV4MPEG2: one line of text (the stream format of mjpegtools, from memory).

use crate::reading::{Reading, Said};
use crate::view::{Stop, View};

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let head = view.up_to(0, 1024)?;
    let line = head.split(|byte| *byte == b'\n').next().unwrap_or_default();
    if line.len() == head.len() {
        return Err(Stop::broken("the first line of this YUV4MPEG2 file does not end"));
    }
    let line =
        std::str::from_utf8(line).map_err(|_| Stop::broken("the first line of this YUV4MPEG2 file is not text"))?;
    let mut reading = Reading::of("YUV4MPEG2");
    let fraction = |text: &str| {
        let (a, b) = text.split_once(':')?;
        Some((a.parse().ok()?, b.parse().ok()?))
    };
    let (mut width, mut height) = (None, None);
    for word in line.split(' ').skip(1) {
        let Some((tag, rest)) = word.split_at_checked(1) else { continue };
        let by = || format!("{tag} of the stream header");
        match tag {
            "W" => width = rest.parse().ok(),
            "H" => height = rest.parse().ok(),
            "F" => reading.rate = fraction(rest).map(|rate| Said::new(rate, by())),
            "A" => reading.pixel_aspect = fraction(rest).map(|aspect| Said::new(aspect, by())),
            "I" if rest != "?" => reading.interlaced = Some(Said::new(rest != "p", by())),
            "C" => reading.codec = Some(format!("raw {rest}")),
            "X" if rest.eq_ignore_ascii_case("COLORRANGE=FULL") => reading.full_range = Some(Said::new(true, by())),
            "X" if rest.eq_ignore_ascii_case("COLORRANGE=LIMITED") => reading.full_range = Some(Said::new(false, by())),
            _ => {}
        }
    }
    reading.raster = width.zip(height).map(|raster| Said::new(raster, "W and H of the stream header"));
    Ok(reading)
}
