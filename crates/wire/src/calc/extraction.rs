//! Kind `extraction`: a frame of a given ratio from a container.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::space::Delivery;
use ratiomet_core::{
    Candidate, DisplayRatio, Extraction, ExtractionRequest, Keep, PixelAspect, Raster, Rounding, Step,
};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;
use crate::number::{ExactNumber, pair};
use crate::shapes::PublishedResult;

record!(
    /// A frame of a ratio out of a container.
    "ExtractionRequest", "extractions" for ExtractionRequest {
        /// Pixels across and down.
        container: Raster<Delivery> = Required, |request| request.container;
        /// Width of one pixel over its height.
        pixel_aspect: PixelAspect = Default(r#""1""#), |request| request.pixel_aspect.clone();
        /// The ratio that is wanted.
        ratio: DisplayRatio = Required, |request| request.ratio.clone();
        /// Which side is held.
        keep: Keep = Default(r#""inside""#), |request| request.keep;
        /// The grid for the side that follows, in pixels.
        step: Step = Default("2"), |request| request.step;
        /// How that side is rounded.
        round: Rounding = Default(r#""down""#), |request| request.rounding;
    }
    |container, pixel_aspect, ratio, keep, step, rounding| {
        Ok(ExtractionRequest { container, pixel_aspect, ratio, keep, step, rounding })
    }
);

impl Kind for ExtractionRequest {
    fn calculation(self) -> Calculation {
        Calculation::Extraction(self)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        if let Calculation::Extraction(request) = calculation { Some(request.clone()) } else { None }
    }
}

/// The frame of that ratio.
#[derive(Debug, Serialize, ToSchema)]
pub struct ExtractionResult {
    /// Width and height before rounding.
    pub exact: [ExactNumber; 2],
    /// Width and height after rounding.
    pub frame: [u32; 2],
    /// Width over height of the rounded frame, as seen.
    pub ratio: ExactNumber,
    /// That ratio over the one wanted, less 1.
    pub deviation: ExactNumber,
    /// The frame's share of the container's area; null when the frame is larger.
    pub kept: Option<ExactNumber>,
    /// What a centred cut takes off; null when the frame is larger.
    pub lost: Option<CutResult>,
    /// The nearest frame on each step.
    pub candidates: Vec<CandidateResult>,
    /// Published frames with the held side and a ratio within 1 %.
    pub published: Vec<PublishedResult>,
    /// The one of them that is meant: the nearest within 3/1000 of the ratio; it comes before the rounded frame.
    pub proposed: Option<PublishedResult>,
}

/// Whole pixels that a centred cut takes off each side.
#[derive(Debug, Serialize, ToSchema)]
pub struct CutResult {
    /// Off the left.
    pub left: u32,
    /// Off the top.
    pub top: u32,
    /// Off the right.
    pub right: u32,
    /// Off the bottom.
    pub bottom: u32,
}

/// The nearest frame on a step.
#[derive(Debug, Serialize, ToSchema)]
pub struct CandidateResult {
    /// The step in pixels.
    pub step: u32,
    /// Width and height.
    pub frame: [u32; 2],
    /// Width over height, as seen.
    pub ratio: ExactNumber,
    /// That ratio over the one wanted, less 1.
    pub deviation: ExactNumber,
}

impl From<Candidate> for CandidateResult {
    fn from(candidate: Candidate) -> Self {
        Self {
            step: candidate.step.pixels(),
            frame: [candidate.frame.width(), candidate.frame.height()],
            ratio: ExactNumber(candidate.ratio),
            deviation: ExactNumber(candidate.deviation),
        }
    }
}

impl From<Extraction> for ExtractionResult {
    fn from(extraction: Extraction) -> Self {
        let proposed = extraction.proposed().map(Into::into);
        let chosen = CandidateResult::from(extraction.chosen);
        Self {
            exact: pair(extraction.exact),
            frame: chosen.frame,
            ratio: chosen.ratio,
            deviation: chosen.deviation,
            kept: extraction.kept.map(ExactNumber),
            lost: extraction.lost.map(|cut| CutResult {
                left: cut.left,
                top: cut.top,
                right: cut.right,
                bottom: cut.bottom,
            }),
            candidates: extraction.candidates.into_iter().map(Into::into).collect(),
            proposed,
            published: extraction.published.into_iter().map(Into::into).collect(),
        }
    }
}
