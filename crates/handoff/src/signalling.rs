//! What a stream or a file of each frame is to signal, with the standard that says so.

use ratiomet_core::levels::Levels;
use ratiomet_core::project::Deliverable;
use ratiomet_core::published::PIXEL_ASPECTS;
use ratiomet_core::{Exact, PixelAspect};
use serde::Serialize;
use utoipa::ToSchema;

/// What one frame is to signal.
#[derive(Debug, Serialize, ToSchema)]
pub struct Signals {
    /// The frame's name.
    pub frame: String,
    /// Pixels across and down.
    pub raster: [u32; 2],
    /// `aspect_ratio_idc` of ITU-T H.264 and H.265, Table E-1; 255 for a shape of one's own.
    pub aspect_ratio_idc: u8,
    /// Width to height of one pixel, as `pasp` (ISO/IEC 14496-12) and `sample_aspect_ratio` have it.
    pub pixel_aspect: String,
    /// The clean aperture of the picture (ISO/IEC 14496-12, `clap`): width, height, and how far its
    /// middle is from the frame's, right and down, each as a fraction.
    pub clean_aperture: [String; 4],
    /// The bars, where there are any.
    #[serde(flatten)]
    pub picture: PictureSignals,
    /// The lowest level of ITU-T H.264 at its rate; null where none takes it or no rate is settled.
    pub h264_level: Option<String>,
    /// The lowest level of ITU-T H.265 at its rate; likewise.
    pub h265_level: Option<String>,
}

/// What a picture signals that is only a part of its raster.
#[derive(Debug, Serialize, ToSchema)]
pub struct PictureSignals {
    /// The active format of SMPTE ST 2016-1, as four bits; null where it has no code for this.
    pub active_format: Option<&'static str>,
    /// How thick the bars are: pixels or lines at left, top, right, bottom; null without bars.
    pub bars: Option<[u32; 4]>,
    /// The same as bar data has it (SMPTE ST 2016-1): the last pixel of the left bar, the last line of the top bar, the
    /// first pixel of the right bar, the first line of the bottom bar, counted from 1 in the raster; null for a side
    /// without a bar, and without any.
    pub bar_data: Option<[Option<u32>; 4]>,
}

/// What a picture at a place of a frame signals: left, top, width and height in pixels.
pub(crate) fn of_picture(frame: &Deliverable, [left, top, width, height]: [u32; 4]) -> PictureSignals {
    let geometry = frame.geometry.frame();
    let raster = geometry.raster();
    let (right, bottom) = (raster.width().saturating_sub(left + width), raster.height().saturating_sub(top + height));
    let bars = [left, top, right, bottom];
    let any = bars.iter().any(|bar| *bar > 0);
    let data = [left, top, raster.width() - right + 1, raster.height() - bottom + 1];
    let shape = Exact::whole(width.max(1)) * geometry.pixel_aspect().value() / Exact::whole(height.max(1));
    PictureSignals {
        active_format: active_format(frame, &shape),
        bars: any.then_some(bars),
        bar_data: any.then(|| std::array::from_fn(|side| (bars[side] > 0).then_some(data[side]))),
    }
}

/// The signals of a frame. Tables and codes are from memory.
pub(crate) fn of(frame: &Deliverable) -> Signals {
    let geometry = frame.geometry.frame();
    let (raster, area) = (geometry.raster(), geometry.picture_area());
    let aspect = geometry.pixel_aspect();
    let idc =
        PIXEL_ASPECTS.iter().position(|(across, down)| *aspect.value() == Exact::whole(*across) / Exact::whole(*down));
    let (right, bottom) = (raster.width() - area.x - area.width, raster.height() - area.y - area.height);
    let off = |before: u32, after: u32| {
        let moved = (Exact::whole(before) - Exact::whole(after)).half().reduced().to_string();
        if moved.contains('/') { moved } else { format!("{moved}/1") }
    };
    let levels = frame.rate.as_ref().map(|rate| Levels::of(raster, rate.value()));
    Signals {
        frame: frame.name.as_str().to_owned(),
        raster: [raster.width(), raster.height()],
        // OK because the table has fewer than 255 rows.
        aspect_ratio_idc: idc.and_then(|at| u8::try_from(at + 1).ok()).unwrap_or(255),
        pixel_aspect: pair(aspect),
        clean_aperture: [
            format!("{}/1", area.width),
            format!("{}/1", area.height),
            off(area.x, right),
            off(area.y, bottom),
        ],
        picture: of_picture(frame, [area.x, area.y, area.width, area.height]),
        h264_level: levels.as_ref().and_then(|levels| levels.h264.map(str::to_owned)),
        h265_level: levels.as_ref().and_then(|levels| levels.h265.map(str::to_owned)),
    }
}

fn pair(aspect: &PixelAspect) -> String {
    let text = aspect.value().clone().reduced().to_string();
    if text.contains('/') { text.replace('/', ":") } else { format!("{text}:1") }
}

/// The code for the picture in a frame of 16:9 or 4:3 (SMPTE ST 2016-1, Table 1, from memory).
fn active_format(frame: &Deliverable, picture: &Exact) -> Option<&'static str> {
    let geometry = frame.geometry.frame();
    let ratio = |above: u32, below: u32| Exact::whole(above) / Exact::whole(below);
    let near = |one: &Exact, other: &Exact| (one / other - Exact::ONE).abs() < Exact::fraction(1, 100);
    let (wide, old) = (ratio(16, 9), ratio(4, 3));
    let whole = geometry.ratio();
    if !near(&whole, &wide) && !near(&whole, &old) {
        return None;
    }
    if near(picture, &whole) {
        return Some("1000");
    }
    match picture {
        picture if near(picture, &old) => Some("1001"),
        picture if near(picture, &wide) => Some("1010"),
        picture if near(picture, &ratio(14, 9)) => Some("1011"),
        picture if *picture > wide => Some("0100"),
        _ => None,
    }
}
