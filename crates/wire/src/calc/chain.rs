//! Kind `chain`: a picture through working frames.

use ratiomet_core::chain::Chain;
use serde::Serialize;
use utoipa::ToSchema;

use super::{CalcResult, ConversionResult};
use crate::geometry::{PlacedFrame, SourceGeometry, read_placed_frames, read_source};
use crate::number::AxesResult;
use crate::read::Object;

/// The picture is placed in the first frame, that whole frame in the next, and so on.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChainRequest {
    /// The footage.
    pub source: SourceGeometry,
    /// From 1 to 8 steps.
    #[schema(min_items = 1, max_items = 8)]
    pub steps: Vec<PlacedFrame>,
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
            steps: chain.plans.into_iter().map(Into::into).collect(),
            scale: chain.scale.into(),
            detail: chain.detail.into(),
            direct: chain.direct.into(),
        }
    }
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let source = object.required("source", read_source);
    let read = object.required("steps", |field| read_placed_frames(field, Chain::LONGEST, "steps"));
    object.done()?;
    let (fields, steps) = read?;
    match Chain::of(source?.source(), &steps) {
        Ok(chain) => Some(CalcResult::Chain(Box::new(chain.into()))),
        Err((place, error)) => fields[place].object()?.take("delivery")?.settle(Err(error)),
    }
}
