//! [`Extraction`]: a frame of a given ratio out of a container.

use crate::error::Parameter;
use crate::published::{self, PublishedFrame};
use crate::space::{Delivery, Size};
use crate::{DisplayRatio, Error, Exact, PixelAspect, Raster, Rounding, Step};

/// Which side of the container is held.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Keep {
    /// The width stays, the height follows.
    Width,
    /// The height stays, the width follows.
    Height,
    /// Whichever of the two stays within the container; with equal ratios the width is held.
    #[default]
    Inside,
}

impl Keep {
    /// Every side that can be held.
    pub const ALL: [Self; 3] = [Self::Width, Self::Height, Self::Inside];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Width => "width",
            Self::Height => "height",
            Self::Inside => "inside",
        }
    }
}

/// What is asked: a frame of `ratio` from `container`.
#[derive(Clone, Debug, PartialEq)]
pub struct ExtractionRequest {
    /// The frame that is cut or extended.
    pub container: Raster<Delivery>,
    /// The shape of its pixels.
    pub pixel_aspect: PixelAspect,
    /// The ratio that is wanted.
    pub ratio: DisplayRatio,
    /// Which side is held.
    pub keep: Keep,
    /// The grid for the side that follows.
    pub step: Step,
    /// How that side is rounded.
    pub rounding: Rounding,
}

/// One rounding of the frame.
#[derive(Clone, Debug)]
pub struct Candidate {
    /// The grid it lies on.
    pub step: Step,
    /// The frame.
    pub frame: Raster<Delivery>,
    /// Width over height of the frame, as seen.
    pub ratio: Exact,
    /// That ratio over the one wanted, less 1.
    pub deviation: Exact,
}

/// Whole pixels that a centred cut takes off each side.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Cut {
    /// Off the left, on the step.
    pub left: u32,
    /// Off the top, on the step.
    pub top: u32,
    /// Off the right: the rest.
    pub right: u32,
    /// Off the bottom: the rest.
    pub bottom: u32,
}

/// A frame of a ratio.
#[derive(Clone, Debug)]
pub struct Extraction {
    /// The frame before rounding.
    pub exact: Size<Delivery>,
    /// The frame after rounding; the held side is never rounded.
    pub chosen: Candidate,
    /// The frame's share of the container's area; none when the frame is larger.
    pub kept: Option<Exact>,
    /// What a centred cut takes off; none when the frame is larger.
    pub lost: Option<Cut>,
    /// The nearest frame on each step.
    pub candidates: Vec<Candidate>,
    /// Published frames with the held side whose ratio is within 1 % of the one wanted.
    pub published: Vec<&'static PublishedFrame>,
}

impl Extraction {
    /// The published frame that is meant by the ratio: the nearest to it with the held side, where one is within
    /// 3/1000 of it (common practice). It comes before what rounding gives: 1920x804 for 2.39 in HD, and not 802. A
    /// frame that has the ratio exactly was meant itself.
    pub fn proposed(&self) -> Option<&'static PublishedFrame> {
        let (wanted, seen) = (&self.exact.width / &self.exact.height, |frame: &PublishedFrame| {
            Exact::whole(frame.width) / Exact::whole(frame.height)
        });
        let off = |frame: &PublishedFrame| (seen(frame) / &wanted - Exact::ONE).abs();
        let near = self.published.iter().copied().filter(|frame| off(frame) <= Exact::fraction(3, 1000));
        near.min_by_key(|frame| off(frame)).filter(|frame| !self.chosen.deviation.is_zero() || off(frame).is_zero())
    }

    /// The frame that the request asks for.
    ///
    /// # Errors
    /// [`Error::is_too_large`] at `ratio` when the side that follows passes the largest side of a
    /// frame, in the answer or in a candidate.
    ///
    /// ```
    /// use ratiomet_core::*;
    /// let scope = Extraction::of(&ExtractionRequest {
    ///     container: Raster::new(3840, 2160)?,
    ///     pixel_aspect: PixelAspect::SQUARE,
    ///     ratio: DisplayRatio::parse("2.35")?,
    ///     keep: Keep::Width,
    ///     step: Step::Two,
    ///     rounding: Rounding::Down,
    /// })?;
    /// assert_eq!(scope.exact.height.to_string(), "76800/47");
    /// assert_eq!(scope.chosen.frame.height(), 1634);
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(request: &ExtractionRequest) -> Result<Self, Error> {
        let Size { width, height, .. } = request.container.size();
        let (aspect, ratio) = (request.pixel_aspect.value(), request.ratio.value());
        let following_height = &width * aspect / ratio;
        let hold_width = match request.keep {
            Keep::Width => true,
            Keep::Height => false,
            Keep::Inside => following_height <= height,
        };
        let exact = if hold_width {
            Size::new(width.clone(), following_height)
        } else {
            Size::new(&height * ratio / aspect, height.clone())
        };
        let candidate = |rounding: Rounding, step: Step| -> Result<Candidate, Error> {
            let frame = if hold_width {
                Raster::new(request.container.width(), rounding.side(&exact.height, step, "height")?)?
            } else {
                Raster::new(rounding.side(&exact.width, step, "width")?, request.container.height())?
            };
            let shown = Exact::whole(frame.width()) * aspect / Exact::whole(frame.height());
            Ok(Candidate { step, frame, deviation: &shown / ratio - Exact::ONE, ratio: shown })
        };
        let at_ratio = |error: Error| error.at(Parameter::Ratio);
        let chosen = candidate(request.rounding, request.step).map_err(at_ratio)?;
        let candidates = Step::ALL
            .into_iter()
            .map(|step| candidate(Rounding::Nearest, step))
            .collect::<Result<Vec<_>, _>>()
            .map_err(at_ratio)?;

        let inside =
            chosen.frame.width() <= request.container.width() && chosen.frame.height() <= request.container.height();
        let share = || chosen.frame.size().area() / request.container.size().area();
        let cut = || {
            let across = request.container.width() - chosen.frame.width();
            let down = request.container.height() - chosen.frame.height();
            let first = |total: u32| total / 2 / request.step.pixels() * request.step.pixels();
            Cut { left: first(across), top: first(down), right: across - first(across), bottom: down - first(down) }
        };
        Ok(Self {
            kept: inside.then(share),
            lost: inside.then(cut),
            published: published::with_side(request.container, hold_width, ratio),
            exact,
            chosen,
            candidates,
        })
    }
}
