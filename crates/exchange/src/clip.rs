//! [`Clip`]: what another file says of a clip, as it says it; and [`Plan`], several of them.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Aspect, Deliverable, Footage, FrameSpec, Framed, Name};
use ratiomet_core::{DisplayRatio, PixelAspect, Raster, Step};
use serde_json::Value;

/// The most clips of one file.
pub const MOST_CLIPS: usize = 20_000;

/// What another file says of a clip, in its own spelling; what it does not say is empty.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash)]
pub struct Clip {
    /// What it is called.
    pub name: String,
    /// Stored pixels, such as `3840x2160`.
    pub size: String,
    /// The shape of its pixels.
    pub pixel_aspect: String,
    /// What the lens did.
    pub squeeze: String,
    /// Off left, top, right and bottom, apart by strokes.
    pub insets: String,
    /// The clockwise turn.
    pub rotation: String,
    /// Frames a second.
    pub rate: String,
    /// Progressive or interlaced.
    pub scan: String,
    /// Narrow or full.
    pub signal_range: String,
    /// Flat or sphere.
    pub projection: String,
    /// Free words.
    pub note: String,
}

/// What a file of another program says.
#[derive(Debug, Default)]
pub struct Plan {
    /// What somebody should know of it.
    pub remarks: Vec<String>,
    /// Its clips, or its canvases.
    pub clips: Vec<Clip>,
    /// Frames that it names beside them.
    pub frames: Vec<Deliverable>,
    /// Framings of its clips in its frames.
    pub framings: Vec<PlannedFraming>,
}

/// A framing that another file tells.
#[derive(Clone, Debug, PartialEq)]
pub struct PlannedFraming {
    /// The place of the clip.
    pub clip: usize,
    /// The place of the frame.
    pub frame: usize,
    /// How it is told.
    pub framed: Framed,
}

impl Clip {
    /// What a source of ours is, in the same spelling.
    pub(crate) fn of(footage: &Footage) -> Self {
        let written = |of| footage.written(of);
        Self {
            name: footage.name.as_str().to_owned(),
            size: written(Aspect::Raster),
            pixel_aspect: written(Aspect::PixelAspect),
            squeeze: written(Aspect::Squeeze),
            insets: written(Aspect::Insets),
            rotation: written(Aspect::Rotation),
            rate: written(Aspect::Rate),
            scan: written(Aspect::Scan),
            signal_range: written(Aspect::SignalRange),
            projection: written(Aspect::Projection),
            note: footage.note.as_str().to_owned(),
        }
    }
}

/// A text or a number as text; empty for anything else.
pub(crate) fn text(value: &Value) -> String {
    match value {
        Value::String(text) => text.clone(),
        Value::Number(number) => number.to_string(),
        _ => String::new(),
    }
}

/// A length in whole pixels, and whether it is one.
pub(crate) fn pixels(value: &Value) -> Option<(u32, bool)> {
    let real = value.as_f64().filter(|real| (0.0..=70_000.0).contains(real))?;
    let whole = (real + 1e-6).floor();
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "from 0 to 70,000")]
    let side = whole as u32;
    Some((side, (real - whole).abs() < 1e-3))
}

/// A double with at most so many decimals.
pub(crate) fn decimal(value: f64, places: usize) -> String {
    format!("{value:.places$}").trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// A frame that a file names; none when it makes no sound one.
pub(crate) fn deliverable(
    name: &str,
    (width, height): (u32, u32),
    aspect: &str,
    ratio: Option<&str>,
) -> Option<Deliverable> {
    let aspect = Written::parse(if aspect.is_empty() { "1" } else { aspect }, PixelAspect::parse).ok()?;
    let ratio = ratio.map(|ratio| Written::parse(ratio, DisplayRatio::parse)).transpose().ok()?;
    let geometry = FrameSpec::new(Raster::new(width, height).ok()?, aspect, ratio, Step::Two).ok()?;
    Some(Deliverable::of(Name::new(name)?, geometry))
}
