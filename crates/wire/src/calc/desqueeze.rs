//! Kind `desqueeze`: stored pixels made into square ones.

use ratiomet_core::{self as core, Desqueeze, DisplayRatio, PixelAspect, SquareFrame, Squeeze};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use super::extraction::{RoundName, read_round};
use crate::geometry::read_step;
use crate::number::{AxesResult, ExactNumber, FractionText, RectResult};
use crate::read::{Field, Object};

/// Stored pixels made into square ones.
#[derive(Debug, Serialize, ToSchema)]
pub struct DesqueezeRequest {
    /// Stored pixels across and down.
    #[schema(example = json!([2880, 2160]), minimum = 1, maximum = 65536)]
    pub raster: [u32; 2],
    /// Width of one stored pixel over its height, from 1/10 to 10.
    #[schema(default = "1", required = false)]
    pub pixel_aspect: FractionText,
    /// How many times the lens narrowed the picture, from 1/10 to 10.
    #[schema(default = "1", required = false)]
    pub squeeze: FractionText,
    /// The ratio to cut it to, from 1/100 to 100; null for no cut.
    #[schema(required = false)]
    pub target_ratio: Option<FractionText>,
    /// The grid for rounded sides, in pixels: 1, 2, 4, 8 or 16.
    #[schema(default = 2, required = false)]
    pub step: u32,
    /// How they are rounded.
    #[schema(default = "down", required = false)]
    pub round: RoundName,
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
        Self { frame: [square.frame.width(), square.frame.height()], distortion: ExactNumber(square.distortion) }
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

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let raster = object.required("raster", Field::raster);
    let pixel_aspect = object.fraction("pixel_aspect", "1", PixelAspect::parse);
    let squeeze = object.fraction("squeeze", "1", Squeeze::parse);
    let target = object.nullable("target_ratio", |field| field.fraction(DisplayRatio::parse));
    let step = read_step(object);
    let rounding = read_round(object);
    object.done()?;
    let request = core::DesqueezeRequest {
        raster: raster?,
        pixel_aspect: pixel_aspect?.value().clone(),
        squeeze: squeeze?.value().clone(),
        target: target?.map(|ratio| ratio.value().clone()),
        step: step?,
        rounding: rounding?,
    };
    let square = object.as_field().settle(Desqueeze::of(&request))?;
    Some(CalcResult::Desqueeze(Box::new(DesqueezeResult {
        factor: ExactNumber(square.factor),
        ratio: ExactNumber(square.ratio),
        widened: square.widened.into(),
        flattened: square.flattened.into(),
        target: square.target.map(|cut| TargetCutResult {
            window: cut.window.into(),
            kept: ExactNumber(cut.kept),
            room: cut.room.into(),
            widened: [cut.widened.width(), cut.widened.height()],
            flattened: [cut.flattened.width(), cut.flattened.height()],
        }),
    })))
}
