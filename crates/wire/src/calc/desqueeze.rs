//! Kind `desqueeze`: stored pixels to square ones.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::space::Stored;
use ratiomet_core::{
    Desqueeze, DesqueezeRequest, DisplayRatio, PixelAspect, Raster, Rounding, SquareFrame, Squeeze, Step,
};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;
use crate::number::{AxesResult, ExactNumber, RectResult};
use crate::shapes::sides;

record!(
    /// Stored pixels made into square ones.
    "DesqueezeRequest", "rasters" for DesqueezeRequest {
        /// Stored pixels across and down.
        raster: Raster<Stored> = Required, |request| request.raster;
        /// Width of one stored pixel over its height.
        pixel_aspect: PixelAspect = Default(r#""1""#), |request| request.pixel_aspect.clone();
        /// How many times the lens narrowed the picture.
        squeeze: Squeeze = Default(r#""1""#), |request| request.squeeze.clone();
        /// The ratio to cut it to; null for no cut.
        target_ratio: Option<DisplayRatio> = Default("null"), |request| request.target.clone();
        /// The grid for rounded sides, in pixels.
        step: Step = Default("2"), |request| request.step;
        /// How they are rounded.
        round: Rounding = Default(r#""down""#), |request| request.rounding;
    }
    |raster, pixel_aspect, squeeze, target, step, rounding| {
        Ok(DesqueezeRequest { raster, pixel_aspect, squeeze, target, step, rounding })
    }
);

impl Kind for DesqueezeRequest {
    fn calculation(self) -> Calculation {
        Calculation::Desqueeze(self)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        if let Calculation::Desqueeze(request) = calculation { Some(request.clone()) } else { None }
    }
}

/// Both ways of making a squeezed raster square.
#[derive(Debug, Serialize, ToSchema)]
pub struct DesqueezeResult {
    /// Pixel aspect times squeeze.
    pub factor: ExactNumber,
    /// Width over height, as seen.
    pub ratio: ExactNumber,
    /// The lines kept, the width multiplied.
    pub widened: SquareFrameResult,
    /// The columns kept, the height divided.
    pub flattened: SquareFrameResult,
    /// The cut to the target ratio, if one was asked for.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub target: Option<TargetCutResult>,
}

/// A whole square-pixel frame.
#[derive(Debug, Serialize, ToSchema)]
pub struct SquareFrameResult {
    /// Width and height.
    pub frame: [u32; 2],
    /// Its ratio over the true one, less 1.
    pub distortion: ExactNumber,
}

impl From<SquareFrame> for SquareFrameResult {
    fn from(square: SquareFrame) -> Self {
        Self { frame: sides(square.frame), distortion: ExactNumber(square.distortion) }
    }
}

/// The centred cut to a ratio.
#[derive(Debug, Serialize, ToSchema)]
pub struct TargetCutResult {
    /// The part of the stored raster that stays, in stored pixels.
    pub window: RectResult,
    /// Its share of the raster's area.
    pub kept: ExactNumber,
    /// Stored pixels free on each side.
    pub room: AxesResult,
    /// The cut made square by widening.
    pub widened: [u32; 2],
    /// The cut made square by flattening.
    pub flattened: [u32; 2],
}

impl From<Desqueeze> for DesqueezeResult {
    fn from(square: Desqueeze) -> Self {
        Self {
            factor: ExactNumber(square.factor),
            ratio: ExactNumber(square.ratio),
            widened: square.widened.into(),
            flattened: square.flattened.into(),
            target: square.target.map(|cut| TargetCutResult {
                window: cut.window.into(),
                kept: ExactNumber(cut.kept),
                room: cut.room.into(),
                widened: sides(cut.widened),
                flattened: sides(cut.flattened),
            }),
        }
    }
}
