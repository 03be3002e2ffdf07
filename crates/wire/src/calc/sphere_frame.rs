//! Kind `sphere_frame`: sizes of an equirectangular frame.

use ratiomet_core::levels::Levels;
use ratiomet_core::sphere::{EquirectangularFrame, EyeSize, Layout, PixelsPerDegree, Span};
use ratiomet_core::{Exact, FrameRate, limits};
use serde::Serialize;
use utoipa::ToSchema;

use super::{CalcResult, LevelsResult};
use crate::geometry::read_step;
use crate::number::{AxesResult, FractionText};
use crate::read::{Field, Object};

/// How the pictures for two eyes stand in one frame.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LayoutName {
    /// One picture for both.
    Mono,
    /// The left eye above the right one.
    TopBottom,
    /// The left eye beside the right one.
    SideBySide,
}

/// An equirectangular frame. Exactly one of `width`, `height` and `pixels_per_degree` is given; it speaks of one eye.
#[derive(Debug, Serialize, ToSchema)]
pub struct SphereFrameRequest {
    /// The width of one eye.
    #[schema(required = false, minimum = 1, maximum = 65536)]
    pub width: Option<u32>,
    /// The height of one eye.
    #[schema(required = false, minimum = 1, maximum = 65536)]
    pub height: Option<u32>,
    /// Pixels of one eye for each degree, over 0.
    #[schema(required = false)]
    pub pixels_per_degree: Option<FractionText>,
    /// Degrees across, over 0 up to 360, and up, over 0 up to 180.
    #[schema(default = json!([360, 180]), required = false)]
    pub span: [FractionText; 2],
    /// How two eyes stand in it.
    #[schema(default = "mono", required = false)]
    pub layout: LayoutName,
    /// The grid of the sides.
    #[schema(default = 2, required = false)]
    pub step: u32,
    /// Frames a second, for the levels.
    #[schema(required = false)]
    pub rate: Option<FractionText>,
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

/// Reads a span; its second part may be left out.
pub(super) fn read_span(field: &Field<'_>) -> Option<Span> {
    let accepted = "degrees across and up, such as [360, 180]";
    let parts = field.array(accepted)?;
    let (across, up) = match parts.as_slice() {
        [across] => (across.fraction(Span::across), Some(Exact::whole(180))),
        [across, up] => (across.fraction(Span::across), up.fraction(Span::up).map(|up| up.value().clone())),
        _ => return field.refuse(accepted),
    };
    field.settle(Span::new(across?.value().clone(), up?))
}

fn side(field: &Field<'_>) -> Option<u32> {
    let accepted = format!("a whole number of pixels from 1 to {}", limits::LARGEST_SIDE);
    let side = field.whole(&accepted)?;
    if (1..=limits::LARGEST_SIDE).contains(&side) { Some(side) } else { field.refuse(accepted) }
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let given = [
        object.take("width").map(|field| side(&field).map(EyeSize::Width)),
        object.take("height").map(|field| side(&field).map(EyeSize::Height)),
        object.take("pixels_per_degree").map(|field| {
            let fine = field.fraction(PixelsPerDegree::parse)?;
            Some(EyeSize::PixelsPerDegree(fine.value().clone()))
        }),
    ];
    let span = object.optional("span", || Span::FULL, read_span);
    let layout = object.optional("layout", Layout::default, |field| field.word(&Layout::WORDS));
    let step = read_step(object);
    let rate = object.optional("rate", || None, |field| field.fraction(FrameRate::parse).map(Some));
    let mut given = given.into_iter().flatten();
    let size = match (given.next(), given.next()) {
        (Some(size), None) => size,
        _ => object.as_field().refuse("exactly one of width, height and pixels_per_degree"),
    };
    object.done()?;
    let sphere = EquirectangularFrame::of(&size?, &span?, layout?, step?);
    let sphere = object.as_field().settle(sphere)?;
    let levels = rate?.map(|rate| Levels::of(sphere.frame, rate.value()).into());
    Some(CalcResult::SphereFrame(Box::new(SphereFrameResult {
        eye: [sphere.eye.width(), sphere.eye.height()],
        frame: [sphere.frame.width(), sphere.frame.height()],
        pixels_per_degree: sphere.pixels_per_degree.into(),
        levels,
    })))
}
