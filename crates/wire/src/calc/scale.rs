//! Kind `scale`: from one frame to another.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::space::Delivery;
use ratiomet_core::{Direction, Enlargement, Raster};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;
use crate::number::ExactNumber;

/// The request.
#[derive(Clone, Debug)]
pub struct ScaleRequest {
    from: Raster<Delivery>,
    to: Raster<Delivery>,
}

record!(
    /// From one frame to another.
    "ScaleRequest", "pairs of frames" for ScaleRequest {
        /// Pixels across and down before.
        from: Raster<Delivery> = Required, |request| request.from;
        /// Pixels across and down after.
        to: Raster<Delivery> = Required, |request| request.to;
    }
    |from, to| Ok(ScaleRequest { from, to })
);

impl Kind for ScaleRequest {
    fn calculation(self) -> Calculation {
        Calculation::Scale(self.from, self.to)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        if let Calculation::Scale(from, to) = calculation.clone() { Some(Self { from, to }) } else { None }
    }
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

impl From<Enlargement> for ScaleResult {
    fn from(scale: Enlargement) -> Self {
        Self {
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
        }
    }
}
