//! Kind `sphere_frame`: sizes of an equirectangular frame.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::levels::Levels;
use ratiomet_core::sphere::{EquirectangularFrame, EyeSize, Layout, PixelsPerDegree, Span};
use ratiomet_core::{FrameRate, Step};
use serde::Serialize;
use utoipa::ToSchema;

use super::{Kind, LevelsResult};
use crate::describe::{Given, Refused, record};
use crate::number::AxesResult;
use crate::shapes::sides;
use crate::whole::{Side, Whole};

/// An equirectangular frame.
#[derive(Clone, Debug)]
pub struct SphereFrameRequest {
    size: EyeSize,
    span: Span,
    layout: Layout,
    step: Step,
    rate: Option<FrameRate>,
}

record!(
    /// An equirectangular frame. Exactly one of `width`, `height` and `pixels_per_degree` is given; it speaks of one eye.
    "SphereFrameRequest", "spheres" for SphereFrameRequest {
        /// The width of one eye.
        width: Given<Side> = Optional, |request| match request.size {
            EyeSize::Width(width) => Given(Some(Whole::new(width))),
            _ => Given(None),
        };
        /// The height of one eye.
        height: Given<Side> = Optional, |request| match request.size {
            EyeSize::Height(height) => Given(Some(Whole::new(height))),
            _ => Given(None),
        };
        /// Pixels of one eye for each degree.
        pixels_per_degree: Given<PixelsPerDegree> = Optional, |request| match &request.size {
            EyeSize::PixelsPerDegree(fine) => Given(Some(fine.clone())),
            _ => Given(None),
        };
        /// Degrees across and up.
        span: Span = Default("[360,180]"), |request| request.span.clone();
        /// How two eyes stand in it.
        layout: Layout = Default(r#""mono""#), |request| request.layout;
        /// The grid of the sides.
        step: Step = Default("2"), |request| request.step;
        /// Frames a second, for the levels.
        rate: Given<FrameRate> = Optional, |request| Given(request.rate.clone());
    }
    |width, height, pixels_per_degree, span, layout, step, rate| {
        let width = width.0.map(|width| EyeSize::Width(width.get()));
        let height = height.0.map(|height| EyeSize::Height(height.get()));
        let mut given = [width, height, pixels_per_degree.0.map(EyeSize::PixelsPerDegree)].into_iter().flatten();
        match (given.next(), given.next()) {
            (Some(size), None) => Ok(SphereFrameRequest { size, span, layout, step, rate: rate.0 }),
            _ => Err(Refused::Accepted("exactly one of width, height and pixels_per_degree")),
        }
    }
);

impl Kind for SphereFrameRequest {
    fn calculation(self) -> Calculation {
        Calculation::SphereFrame(self.size, self.span, self.layout, self.step, self.rate)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::SphereFrame(size, span, layout, step, rate) = calculation.clone() else { return None };
        Some(Self { size, span, layout, step, rate })
    }
}

/// Its sizes.
#[derive(Debug, Serialize, ToSchema)]
pub struct SphereFrameResult {
    /// One eye.
    pub eye: [u32; 2],
    /// The whole frame.
    pub frame: [u32; 2],
    /// Pixels of one eye for each degree.
    pub pixels_per_degree: AxesResult,
    /// What a decoder must take, if a rate is given.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub levels: Option<LevelsResult>,
}

impl SphereFrameResult {
    /// The sizes, and the levels where a rate was given.
    pub(super) fn of(sphere: EquirectangularFrame, levels: Option<Levels>) -> Self {
        Self {
            eye: sides(sphere.eye),
            frame: sides(sphere.frame),
            pixels_per_degree: sphere.pixels_per_degree.into(),
            levels: levels.map(Into::into),
        }
    }
}
