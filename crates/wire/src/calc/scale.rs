//! Kind `scale`: the factors from one frame to another.

use ratiomet_core::{Direction, Enlargement};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use crate::number::ExactNumber;
use crate::read::{Field, Object};

/// From one frame to another.
#[derive(Debug, Serialize, ToSchema)]
pub struct ScaleRequest {
    /// Pixels across and down before.
    #[schema(example = json!([1920, 1080]), minimum = 1, maximum = 65536)]
    pub from: [u32; 2],
    /// Pixels across and down after.
    #[schema(example = json!([3840, 2160]), minimum = 1, maximum = 65536)]
    pub to: [u32; 2],
}

/// The factors.
#[derive(Debug, Serialize, ToSchema)]
pub struct ScaleResult {
    /// Across.
    pub x: ExactNumber,
    /// Up and down.
    pub y: ExactNumber,
    /// Of the area.
    pub area: ExactNumber,
    /// Whether both axes have the same factor.
    pub uniform: bool,
    /// Which way the pixels go.
    pub direction: DirectionName,
    /// The whole enlargement that covers it.
    pub whole: WholeEnlargement,
}

/// Which way the pixels go.
#[derive(Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum DirectionName {
    /// Both frames are equal.
    Same,
    /// Neither factor is under 1.
    Up,
    /// Neither factor is over 1.
    Down,
    /// One axis grows, the other shrinks.
    Mixed,
}

/// The smallest whole enlargement that covers both axes.
#[derive(Debug, Serialize, ToSchema)]
pub struct WholeEnlargement {
    /// Its factor; 1 when nothing is enlarged.
    pub factor: i64,
    /// The larger factor over it.
    pub residual: ExactNumber,
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let from = object.required("from", Field::raster);
    let to = object.required("to", Field::raster);
    object.done()?;
    let scale = Enlargement::of(from?, to?);
    Some(CalcResult::Scale(Box::new(ScaleResult {
        x: ExactNumber(scale.factor.x),
        y: ExactNumber(scale.factor.y),
        area: ExactNumber(scale.area),
        uniform: scale.uniform,
        direction: match scale.direction {
            Direction::Same => DirectionName::Same,
            Direction::Up => DirectionName::Up,
            Direction::Down => DirectionName::Down,
            Direction::Mixed => DirectionName::Mixed,
        },
        whole: WholeEnlargement { factor: scale.whole, residual: ExactNumber(scale.residual) },
    })))
}
