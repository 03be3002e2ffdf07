//! Kind `levels`: what a decoder must take.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::levels::Levels;
use ratiomet_core::space::Delivery;
use ratiomet_core::{FrameRate, Raster};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;

/// The request.
#[derive(Clone, Debug)]
pub struct LevelsRequest {
    frame: Raster<Delivery>,
    rate: FrameRate,
}

record!(
    /// A frame at a rate, progressive.
    "LevelsRequest", "frames" for LevelsRequest {
        /// Pixels across and down.
        frame: Raster<Delivery> = Required, |request| request.frame;
        /// Frames a second.
        rate: FrameRate = Required, |request| request.rate.clone();
    }
    |frame, rate| Ok(LevelsRequest { frame, rate })
);

impl Kind for LevelsRequest {
    fn calculation(self) -> Calculation {
        Calculation::Levels(self.frame, self.rate)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        if let Calculation::Levels(frame, rate) = calculation.clone() { Some(Self { frame, rate }) } else { None }
    }
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
