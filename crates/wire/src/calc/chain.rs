//! Kind `chain`: a picture through working frames.

use ratiomet_core::chain::Chain;
use ratiomet_core::project::FramingSpec;
use ratiomet_core::{DeliveryFrame, Framing, Method};
use serde::Serialize;
use utoipa::ToSchema;

use super::{CalcResult, ConversionResult};
use crate::geometry::{DeliveryGeometry, FramingValues, SourceGeometry, read_delivery, read_framing, read_source};
use crate::number::AxesResult;
use crate::read::{Field, Object};

/// The picture is placed in the first frame, that whole frame in the next, and so on.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChainRequest {
    /// The footage.
    pub source: SourceGeometry,
    /// From 1 to 8 steps.
    #[schema(min_items = 1, max_items = 8)]
    pub steps: Vec<ChainStep>,
}

/// One step of a chain.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChainStep {
    /// The frame.
    pub delivery: DeliveryGeometry,
    /// Where the picture is put; fit and centred when left out.
    #[schema(required = false)]
    pub framing: FramingValues,
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

pub(super) fn read_step(field: &Field<'_>) -> Option<(DeliveryFrame, Framing)> {
    let object = field.object()?;
    let delivery = object.required("delivery", read_delivery);
    let framing = object.optional("framing", || FramingSpec::of(Method::default()), read_framing);
    object.done()?;
    Some((delivery?.frame().clone(), framing?.framing()))
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let source = object.required("source", read_source);
    let accepted = format!("an array of 1 to {} steps", Chain::LONGEST);
    let read = object.required("steps", |field| {
        let fields = field.array(&accepted)?;
        if !(1..=Chain::LONGEST).contains(&fields.len()) {
            return field.refuse(accepted.clone());
        }
        let steps: Option<Vec<_>> = fields.iter().map(read_step).collect::<Vec<_>>().into_iter().collect();
        Some((fields, steps?))
    });
    object.done()?;
    let (fields, steps) = read?;
    match Chain::of(source?.source(), &steps) {
        Ok(chain) => Some(CalcResult::Chain(Box::new(chain.into()))),
        Err((place, error)) => fields[place].object()?.take("delivery")?.settle(Err(error)),
    }
}
