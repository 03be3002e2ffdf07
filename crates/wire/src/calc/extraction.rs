//! Kind `extraction`: a frame of a given ratio from a container.

use ratiomet_core::published::PublishedFrame;
use ratiomet_core::{self as core, Candidate, DisplayRatio, Extraction, Keep, PixelAspect, Rounding};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use crate::geometry::read_step;
use crate::number::{ExactNumber, FractionText, pair};
use crate::read::{Field, Object};

/// A frame of a ratio out of a container.
#[derive(Debug, Serialize, ToSchema)]
pub struct ExtractionRequest {
    /// Pixels across and down.
    #[schema(example = json!([3840, 2160]), minimum = 1, maximum = 65536)]
    pub container: [u32; 2],
    /// Width of one pixel over its height, from 1/10 to 10.
    #[schema(default = "1", required = false)]
    pub pixel_aspect: FractionText,
    /// The ratio that is wanted, from 1/100 to 100.
    pub ratio: FractionText,
    /// Which side is held.
    #[schema(default = "inside", required = false)]
    pub keep: KeepName,
    /// The grid for the side that follows, in pixels: 1, 2, 4, 8 or 16.
    #[schema(default = 2, required = false)]
    pub step: u32,
    /// How that side is rounded.
    #[schema(default = "down", required = false)]
    pub round: RoundName,
}

/// Which side of the container is held.
#[derive(Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum KeepName {
    /// The width.
    Width,
    /// The height.
    Height,
    /// Whichever stays within the container.
    Inside,
}

/// How an exact side becomes a multiple of the step.
#[derive(Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum RoundName {
    /// The largest multiple not above it.
    Down,
    /// The smallest multiple not below it.
    Up,
    /// The nearest multiple; a tie goes up.
    Nearest,
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

/// A published frame.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PublishedResult {
    /// What the trade calls it.
    pub name: &'static str,
    /// Width and height.
    pub frame: [u32; 2],
    /// Width over height, as seen.
    pub ratio: ExactNumber,
    /// Where it is laid down.
    pub source: &'static str,
}

impl From<&'static PublishedFrame> for PublishedResult {
    fn from(frame: &'static PublishedFrame) -> Self {
        Self {
            name: frame.name,
            frame: [frame.width, frame.height],
            ratio: ExactNumber(frame.ratio()),
            source: frame.source,
        }
    }
}

pub(super) fn read_round(object: &Object<'_>) -> Option<Rounding> {
    object.optional("round", Rounding::default, |field| {
        field.word(&[("down", Rounding::Down), ("up", Rounding::Up), ("nearest", Rounding::Nearest)])
    })
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let container = object.required("container", Field::raster);
    let pixel_aspect = object.fraction("pixel_aspect", "1", PixelAspect::parse);
    let ratio = object.required("ratio", |field| field.fraction(DisplayRatio::parse));
    let keep = object.optional("keep", Keep::default, |field| {
        field.word(&[("width", Keep::Width), ("height", Keep::Height), ("inside", Keep::Inside)])
    });
    let step = read_step(object);
    let rounding = read_round(object);
    object.done()?;
    let request = core::ExtractionRequest {
        container: container?,
        pixel_aspect: pixel_aspect?.value().clone(),
        ratio: ratio?.value().clone(),
        keep: keep?,
        step: step?,
        rounding: rounding?,
    };
    let extraction = object.as_field().settle(Extraction::of(&request))?;
    let chosen = CandidateResult::from(extraction.chosen);
    Some(CalcResult::Extraction(Box::new(ExtractionResult {
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
        published: extraction.published.into_iter().map(Into::into).collect(),
    })))
}
