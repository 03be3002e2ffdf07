//! Kind `levels`: what a decoder must take.

use ratiomet_core::FrameRate;
use ratiomet_core::levels::Levels;
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use crate::number::FractionText;
use crate::read::{Field, Object};

/// A frame at a rate, progressive.
#[derive(Debug, Serialize, ToSchema)]
pub struct LevelsRequest {
    /// Pixels across and down.
    #[schema(example = json!([3840, 1920]), minimum = 1, maximum = 65536)]
    pub frame: [u32; 2],
    /// Frames a second, from 1/1000 to 1000.
    pub rate: FractionText,
}

/// The lowest level of each standard that takes it; null when no level does.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub struct LevelsResult {
    /// Of ITU-T H.264, Table A-1, without level 1b.
    #[schema(example = "5.1")]
    pub h264: Option<&'static str>,
    /// Of ITU-T H.265, Tables A.8 and A.9.
    #[schema(example = "5")]
    pub h265: Option<&'static str>,
}

impl From<Levels> for LevelsResult {
    fn from(levels: Levels) -> Self {
        Self { h264: levels.h264, h265: levels.h265 }
    }
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let frame = object.required("frame", Field::raster);
    let rate = object.required("rate", |field| field.fraction(FrameRate::parse));
    object.done()?;
    Some(CalcResult::Levels(Levels::of(frame?, rate?.value()).into()))
}
