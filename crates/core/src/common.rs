//! [`Common`]: what several frames have of one picture in common.

use crate::space::{Axis, Rect, Size, Upright};
use crate::{DeliveryFrame, Exact, Framing, Plan, Source};

/// The part of a picture that every frame shows, and the part that some frame shows.
#[derive(Clone, Debug)]
pub struct Common {
    /// The picture, in units of one stored line.
    pub upright: Size<Upright>,
    /// The part of the picture that each frame shows, in the order of the frames; none where a frame
    /// shows nothing.
    pub windows: Vec<Option<Rect<Upright>>>,
    /// What every frame shows: keep the action there. None when there is no such part.
    pub every: Option<Rect<Upright>>,
    /// What some frame shows, in rectangles that do not overlap, from top to bottom and left to
    /// right: keep the boom out of there.
    pub some: Vec<Rect<Upright>>,
}

impl Common {
    /// What these frames have in common.
    ///
    /// ```
    /// use ratiomet_core::{common::Common, *};
    /// let source = Source::new(
    ///     Raster::new(3840, 2160)?,
    ///     PixelAspect::SQUARE,
    ///     Squeeze::NONE,
    ///     Insets::default(),
    ///     Rotation::None,
    /// )?;
    /// let frame = |width, height| DeliveryFrame::new(Raster::new(width, height)?, PixelAspect::SQUARE, None, Step::Two);
    /// let fill = Framing::of(Method::Fill);
    /// let common = Common::of(&source, &[(frame(4096, 1716)?, fill.clone()), (frame(1080, 1080)?, fill)]);
    /// // A wide band and the square in its middle cross.
    /// assert_eq!(common.every.unwrap().size.width, Exact::whole(2160));
    /// assert_eq!(common.some.len(), 3);
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(source: &Source, frames: &[(DeliveryFrame, Framing)]) -> Self {
        let windows: Vec<_> = frames.iter().map(|(frame, framing)| Plan::of(source, frame, framing).seen()).collect();
        let every = windows.iter().cloned().reduce(|one, other| one?.intersection(&other?)).flatten();
        let shown: Vec<&Rect<Upright>> = windows.iter().flatten().collect();
        let some = union(&shown);
        Self { upright: source.upright(), windows, every, some }
    }

    /// The share of the picture that every frame shows, 0 to 1.
    pub fn every_share(&self) -> Exact {
        self.every.as_ref().map_or(Exact::ZERO, |every| (every.size.area() / self.upright.area()).reduced())
    }

    /// The share of the picture that some frame shows, 0 to 1.
    pub fn some_share(&self) -> Exact {
        let area = self.some.iter().fold(Exact::ZERO, |sum, part| (sum + part.size.area()).reduced());
        (area / self.upright.area()).reduced()
    }
}

/// A stretch of one axis.
type Span = (Exact, Exact);

/// The union of rectangles, cut into bands between their upper and lower edges; bands of the same
/// spans are put together again.
fn union(rects: &[&Rect<Upright>]) -> Vec<Rect<Upright>> {
    let mut edges: Vec<Exact> = rects.iter().flat_map(|rect| [rect.y.clone(), rect.end(Axis::Y)]).collect();
    edges.sort();
    edges.dedup();
    let mut bands: Vec<(Span, Vec<Span>)> = Vec::new();
    for pair in edges.windows(2) {
        let [top, bottom] = pair else { continue };
        let across = rects.iter().filter(|rect| rect.y <= *top && rect.end(Axis::Y) >= *bottom);
        let spans = joined(across.map(|rect| (rect.x.clone(), rect.end(Axis::X))).collect());
        match bands.last_mut() {
            Some(((_, end), above)) if *above == spans && end == top => *end = bottom.clone(),
            _ if spans.is_empty() => {}
            _ => bands.push(((top.clone(), bottom.clone()), spans)),
        }
    }
    let parts = bands.into_iter().flat_map(|((top, bottom), spans)| {
        spans.into_iter().map(move |(left, right)| {
            let size = Size::new((right - &left).reduced(), (&bottom - &top).reduced());
            Rect::new(left, top.clone(), size)
        })
    });
    parts.collect()
}

/// Spans in order, those that touch made one.
fn joined(mut spans: Vec<Span>) -> Vec<Span> {
    spans.sort();
    let mut whole: Vec<Span> = Vec::new();
    for (start, end) in spans {
        match whole.last_mut() {
            Some((_, last)) if start <= *last => *last = last.clone().max(end),
            _ => whole.push((start, end)),
        }
    }
    whole
}
