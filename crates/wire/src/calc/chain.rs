//! Kind `chain`: a picture through working frames.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::chain::Chain;
use ratiomet_core::project::SourceSpec;
use serde::Serialize;
use utoipa::ToSchema;

use super::{ConversionResult, Kind};
use crate::describe::{List, record};
use crate::geometry::PlacedFrame;
use crate::number::AxesResult;

type Steps = List<PlacedFrame, 1, { Chain::LONGEST }>;

/// The request.
#[derive(Clone, Debug)]
pub struct ChainRequest {
    source: SourceSpec,
    steps: Steps,
}

record!(
    /// The picture is placed in the first frame, that whole frame in the next, and so on.
    "ChainRequest", "chains" for ChainRequest {
        /// The footage.
        source: SourceSpec = Required, |request| request.source.clone();
        /// From 1 to 8 steps.
        steps: Steps = Required, |request| request.steps.clone();
    }
    |source, steps| Ok(ChainRequest { source, steps })
);

impl Kind for ChainRequest {
    fn calculation(self) -> Calculation {
        let steps = self.steps.0.into_iter().map(PlacedFrame::parts).collect();
        Calculation::Chain(self.source.into_source(), steps)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Chain(source, steps) = calculation.clone() else { return None };
        let steps = List(steps.into_iter().map(PlacedFrame::of).collect());
        Some(Self { source: source.into(), steps })
    }
}

/// What is left of the picture at the end.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChainResult {
    /// The plan of each step.
    pub steps: Vec<ConversionResult>,
    /// Pixels of the last frame per stored pixel of the source, along the axes of the frames.
    pub scale: AxesResult,
    /// How much of the source's resolution is left, at most 1: the smallest that any step leaves.
    pub detail: AxesResult,
    /// How much the same size would have left without the steps between.
    pub direct: AxesResult,
    /// Whether a step threw away detail that the end needed.
    pub detour: bool,
}

impl From<Chain> for ChainResult {
    fn from(chain: Chain) -> Self {
        Self {
            detour: chain.is_detour(),
            steps: chain.steps.into_iter().map(Into::into).collect(),
            scale: chain.scale.into(),
            detail: chain.detail.into(),
            direct: chain.direct.into(),
        }
    }
}
