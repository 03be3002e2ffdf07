//! Questions about one frame placed in another.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::fraction::writable_text;
use ratiomet_core::{
    DeliveryFrame, DisplayRatio, Error, Exact, Framing, Insets, Method, PixelAspect, Rotation, Source, Squeeze, Step,
    Tolerance, Zoom,
};

use super::parts::Parts;
use super::question::{Question, raster, size_text, value};
use super::shapes::{Standard, desqueeze, squeeze_said, standards};
use super::words::Key;

pub(super) fn picture_words(ratio: Option<&str>) -> String {
    ratio.map(|ratio| format!(" with a {ratio} picture")).unwrap_or_default()
}

/// How one frame is placed in another.
#[derive(Clone, Default)]
struct Placing<'a> {
    method: Method,
    turned: bool,
    squeeze: Option<&'a str>,
    /// On top of the method, 1 for none.
    zoom: Option<Exact>,
    ratio: Option<&'a str>,
    /// The pixels of the source, and those of the frame, where they are not square.
    from: Option<Standard>,
    to: Option<Standard>,
}

impl Placing<'_> {
    fn words(&self, from: [u32; 2], to: [u32; 2]) -> String {
        let seen = |shape: Option<Standard>| shape.map(|shape| format!(" seen at {}", shape.seen)).unwrap_or_default();
        let words = if self.method == Method::Fit { "fitted into" } else { "filling" };
        let turn = if self.turned { ", rotated 90°" } else { "" };
        let squeeze = self.squeeze.map(|squeeze| format!(" with a {squeeze}x squeeze")).unwrap_or_default();
        let percent = |zoom: &Exact| (zoom * &Exact::whole(100)).to_short_decimal(4);
        let zoom = self.zoom.as_ref().map(|zoom| format!(", zoomed to {} %", percent(zoom))).unwrap_or_default();
        let (source, frame) = (size_text(from) + &seen(self.from), size_text(to) + &seen(self.to));
        format!("{source}{squeeze}{turn} {words} {frame}{}{zoom}", picture_words(self.ratio))
    }

    fn calculation(&self, from: [u32; 2], to: [u32; 2]) -> Result<Calculation, Error> {
        let rotation = if self.turned { Rotation::Quarter } else { Rotation::None };
        let squeeze = self.squeeze.map_or(Ok(Squeeze::NONE), Squeeze::parse)?;
        let aspect =
            |shape: Option<Standard>| shape.map_or(Ok(PixelAspect::SQUARE), |shape| PixelAspect::parse(shape.aspect));
        // What is no picture at the sides of a standard raster is cut off.
        let side = self.from.map_or(0, |shape| (shape.stored[0] - shape.picture[0]) / 2);
        let insets = Insets { left: side, right: side, ..Insets::default() };
        let source = Source::new(raster(from)?, aspect(self.from)?, squeeze, insets, rotation)?;
        let ratio = self.ratio.map(DisplayRatio::parse).transpose()?;
        let frame = DeliveryFrame::new(raster(to)?, aspect(self.to)?, ratio, Step::Two)?;
        let zoom = self.zoom.as_ref().map_or(Ok(Zoom::NONE), |zoom| Zoom::parse(&writable_text(zoom)))?;
        let framing = Framing { zoom, ..Framing::of(self.method) };
        Ok(Calculation::Conversion(source, frame, framing, Tolerance::default()))
    }

    fn question(&self, from: [u32; 2], to: [u32; 2]) -> Question {
        Question::new(self.words(from, to), || self.calculation(from, to))
    }
}

/// The method that is said; pictures are made to fill.
fn method(parts: &Parts<'_>) -> Method {
    if parts.has(Key::Fit) { Method::Fit } else { Method::Fill }
}

/// Two frames: one placed in the other, or the factors from one to the other.
pub(super) fn two(parts: &Parts<'_>) -> Option<Question> {
    let (from, to) = parts.both_sizes()?;
    let percent = parts.percent().and_then(value).map(|percent| percent / Exact::whole(100));
    let zoom = percent.or_else(|| parts.factor().and_then(value));
    let ratio = parts.next_picture_ratio();
    // A ratio at which a standard raster is seen says which one it is.
    let (own, ratio) = match standards(from, ratio) {
        shapes if ratio.is_some() && shapes.is_empty() => (standards(from, None), ratio),
        shapes => {
            let is_own = !shapes.is_empty();
            (shapes, ratio.filter(|_| !is_own))
        }
    };
    let placing = Placing { method: method(parts), turned: parts.has(Key::Rotate), zoom, ratio, ..Placing::default() };
    let frames = standards(to, None);
    if from != to && !(own.is_empty() && frames.is_empty()) {
        return shaped(&placing, (from, &own), (to, &frames));
    }
    let said = parts.any(&[Key::Room, Key::Fill, Key::Fit, Key::Rotate]);
    if said || placing.zoom.is_some() || ratio.is_some() {
        return Some(placing.question(from, to));
    }
    let scale = Question::new(format!("{} into {}", size_text(from), size_text(to)), || {
        Ok(Calculation::Scale(raster(from)?, raster(to)?))
    });
    // Unlike shapes are cut, or get bars.
    if u64::from(from[0]) * u64::from(to[1]) == u64::from(to[0]) * u64::from(from[1]) {
        return Some(scale);
    }
    let fitted = Placing { method: Method::Fit, ..placing.clone() };
    Some(scale.or_all(placing.question(from, to)).or_all(fitted.question(from, to)))
}

/// A frame of another in which one has pixels that are not square: each of the shapes that it may have.
fn shaped(
    placing: &Placing<'_>,
    (from, own): ([u32; 2], &[Standard]),
    (to, frames): ([u32; 2], &[Standard]),
) -> Option<Question> {
    let each = |shapes: &[Standard]| -> Vec<Option<Standard>> {
        if shapes.is_empty() { vec![None] } else { shapes.iter().copied().map(Some).collect() }
    };
    let mut all = Vec::new();
    for from in each(own) {
        for to in each(frames) {
            all.push(Placing { from, to, ..placing.clone() });
        }
    }
    // With bars too, unless something was said.
    if placing.method == Method::Fill {
        let fitted: Vec<_> = all.iter().map(|one| Placing { method: Method::Fit, ..one.clone() }).collect();
        all.extend(fitted);
    }
    let mut questions = all.into_iter().map(|one| one.question(from, to));
    let first = questions.next()?;
    Some(questions.fold(first, Question::or_all))
}

/// A squeezed picture in a frame.
pub(super) fn squeezed(parts: &Parts<'_>) -> Option<Question> {
    let squeeze = squeeze_said(parts)?;
    let from = parts.squeezed_size(parts.reversed())?;
    let (to, ratio) = (parts.size()?, parts.next_picture_ratio());
    let placing = Placing { method: method(parts), squeeze: Some(squeeze), ratio, ..Placing::default() };
    let target = ratio.map_or_else(|| format!("{}:{}", to[0], to[1]), str::to_owned);
    let alone = desqueeze(from, squeeze, Some(&target));
    Some(placing.question(from, to).or(format!("{squeeze}x squeeze on {} into {target}", size_text(from)), alone))
}
