//! One conversion of a project: its plan, what was typed into its dials, what would help.

use ratiomet_core::dial_in::{self, Convention, Entered, Entry};
use ratiomet_core::project::{Choice, Conversion, FramingSpec, Judgement, Pair, Proposal};
use ratiomet_core::space::{Axes, Axis};
use ratiomet_core::{DeliveryFrame, Exact, fraction, rests};
use serde::Serialize;
use utoipa::ToSchema;

use super::resources::Crossing;
use crate::calc::{CadenceResult, ConversionResult, FindingResult, SeverityName};
use crate::describe::{Given, Values, record};
use crate::names::{
    AcceptedFinding, ChoiceValues, EditRequest, FindingCode, FindingNumbers, FrameValues, FramingChoice,
};
use crate::number::{AxesResult, ExactNumber, RectResult};
use crate::shapes::{EdgesResult, FrameShape};
use crate::values::Code;

/// One source into one frame of a project, with its whole plan.
#[derive(Debug, Serialize, ToSchema)]
#[schema(as = Conversion)]
pub struct ConversionResource {
    /// The source's number.
    pub source: i32,
    /// The frame's number.
    pub frame: i32,
    /// 0 while nobody has touched it; `If-Match` names it.
    pub version: i32,
    /// What was entered for it.
    pub choice: ChoiceValues,
    /// The framing that counts.
    pub framing: FramingChoice,
    /// The same as it is planned, and as `ratiomet calc` takes it: around a subject, with the shift that
    /// was found. Its method is never `subject`.
    pub placed: FramingChoice,
    /// The part of the upright picture that reaches the picture area, in units of one stored line.
    pub seen: Option<RectResult>,
    /// What is cut off each side of the upright picture, in the same units; null when all of it is.
    pub cut: Option<EdgesResult>,
    /// The plan; computed, never stored. Its findings end with those that the project adds.
    pub plan: ConversionResult,
    /// The same findings, each with how it was judged.
    pub findings: Vec<JudgedFinding>,
    /// Two more conventions of the dial: places in sides of the raster.
    pub shares: SharesResult,
    /// Where a picture that is moved by hand likes to rest.
    pub rests: RestsResult,
    /// What becomes of the frames; null while a rate is not known.
    pub cadence: Option<CadenceResult>,
    /// The same as it stands on the board.
    pub crossing: Crossing,
}

/// A finding, and how somebody has judged it.
#[derive(Debug, Serialize, ToSchema)]
pub struct JudgedFinding {
    /// The stable code.
    pub code: FindingCode,
    /// How much it matters in this conversion.
    pub severity: SeverityName,
    /// How much it matters as a point of the project, once for all conversions that have it.
    pub weight: SeverityName,
    /// A sentence with its numbers.
    pub message: String,
    /// The same numbers by their names: what an acceptance of it is kept by.
    pub numbers: FindingNumbers,
    /// Why it may stay; null while nobody has accepted it.
    pub accepted: Option<AcceptedFinding>,
    /// Whether it was accepted when it had other numbers, so that it is open again.
    pub lapsed: bool,
}

/// Places in sides of the delivery raster, from its top left corner.
#[derive(Debug, Serialize, ToSchema)]
pub struct SharesResult {
    /// The image's centre; 1/2 for the middle.
    pub centre: AxesResult,
    /// The image's top left corner; 0 for that of the raster.
    pub top_left: AxesResult,
}

/// A place to rest.
#[derive(Debug, Serialize, ToSchema)]
pub struct Rest {
    /// The shift in delivery pixels, or the zoom.
    pub at: ExactNumber,
    /// The same as it is typed: at most 12 digits a part, held inwards where that rounds.
    pub text: String,
    /// Why: middle, end, third, `subject_middle`, `subject_third`; of a zoom: method, `one_to_one`,
    /// fits, covers, clean.
    pub reason: &'static str,
}

/// The places to rest around a placement.
#[derive(Debug, Serialize, ToSchema)]
pub struct RestsResult {
    /// Shifts across.
    pub x: Vec<Rest>,
    /// Shifts down.
    pub y: Vec<Rest>,
    /// Zooms.
    pub zoom: Vec<Rest>,
}

impl From<rests::Rest> for Rest {
    fn from(rest: rests::Rest) -> Self {
        Self { text: fraction::writable_text(&rest.typed()), at: ExactNumber(rest.at), reason: rest.reason.word() }
    }
}

impl From<rests::Rests> for RestsResult {
    fn from(rests::Rests { x, y, zoom }: rests::Rests) -> Self {
        let each = |rests: Vec<rests::Rest>| rests.into_iter().map(Into::into).collect();
        Self { x: each(x), y: each(y), zoom: each(zoom) }
    }
}

impl ConversionResource {
    /// The resource of a conversion between two stored records.
    pub fn new(
        pair: Pair,
        version: i32,
        choice: &Choice,
        conversion: Conversion,
        frame: &DeliveryFrame,
        rests: rests::Rests,
    ) -> Self {
        let share = |convention| {
            let read = dial_in::reading(convention, &conversion.plan, frame);
            read.unwrap_or_else(|| Axes::new(Exact::ZERO, Exact::ZERO)).into()
        };
        let judged = |finding| {
            let FindingResult { code, severity, message, .. } = FindingResult::from(finding);
            let (accepted, lapsed) = match conversion.judgement(finding) {
                Judgement::Open => (None, false),
                Judgement::Accepted(acceptance) => (Some(Values(acceptance.clone())), false),
                Judgement::Lapsed(acceptance) => (Some(Values(acceptance.clone())), true),
            };
            JudgedFinding {
                code: Values(Code(code)),
                severity,
                weight: finding.weight().into(),
                message,
                numbers: Values(finding.key()),
                accepted,
                lapsed,
            }
        };
        Self {
            source: pair.source.number(),
            frame: pair.frame.number(),
            version,
            choice: Values(choice.clone()),
            framing: Values(conversion.framing.clone()),
            placed: Values(FramingSpec::written(&conversion.placed)),
            crossing: Crossing::new(pair, version, &conversion),
            seen: conversion.plan.seen().map(Into::into),
            cut: conversion.plan.cut().map(Into::into),
            findings: conversion.findings.iter().map(judged).collect(),
            shares: SharesResult { centre: share(Convention::CentreShare), top_left: share(Convention::TopLeftShare) },
            rests: rests.into(),
            cadence: conversion.cadence.map(Into::into),
            plan: ConversionResult::of(conversion.plan, &conversion.findings),
        }
    }
}

/// What a conversion would be.
#[derive(Clone, Debug)]
pub struct PreviewRequest {
    /// With another framing, or following; without one the stored choice stays.
    pub own: Option<Option<FramingSpec>>,
    /// With a number typed into a dial of that framing.
    pub entry: Option<Entry>,
    /// With the place of the picture that another conversion shows.
    pub like: Option<Pair>,
}

record!(
    /// What a conversion would be.
    "PreviewRequest", "previews" for PreviewRequest {
        /// With another framing; null to follow. Left out, the stored one stays.
        own: Given<Option<FramingSpec>> = Optional, |preview| Given(preview.own.clone());
        /// With a number typed into a dial of that framing.
        entry: Option<Entry> = Default("null"), |preview| preview.entry.clone();
        /// With the place of the picture that another conversion shows, as [source, frame]: its method and
        /// zoom, and the same point of the picture in the middle of the area.
        like: Option<Pair> = Default("null"), |preview| preview.like;
    }
    |own, entry, like| Ok(PreviewRequest { own: own.0, entry, like })
);

record!(
    /// A number typed into a dial.
    "EntryRequest", "entries" for Entry {
        /// In which of the numbers.
        convention: Convention = Required, |entry| entry.convention;
        /// Of the delivery, or of the stored raster for a window.
        axis: Axis = Required, |entry| entry.axis;
        /// The number.
        value: Entered = Required, |entry| entry.value.clone();
    }
    |convention, axis, value| Ok(Entry { convention, axis, value })
);

/// What it costs when a program keeps only so many decimals.
#[derive(Debug, Serialize, ToSchema)]
pub struct RoundingCostResult {
    /// In which convention.
    pub convention: &'static str,
    /// The rounded numbers.
    pub rounded: AxesResult,
    /// How far an edge of the image lands from its place, in delivery pixels, at most.
    pub edge: ExactNumber,
    /// How many pixels of the area are uncovered at a side that the plan covers, at most.
    pub uncovered: ExactNumber,
}

impl From<dial_in::RoundingCost> for RoundingCostResult {
    fn from(cost: dial_in::RoundingCost) -> Self {
        Self {
            convention: cost.convention.word(),
            rounded: cost.rounded.into(),
            edge: ExactNumber(cost.edge),
            uncovered: ExactNumber(cost.uncovered),
        }
    }
}

/// What would help against a finding.
#[derive(Debug, Serialize, ToSchema)]
pub struct ProposalResult {
    /// The finding's code.
    pub against: &'static str,
    /// In words.
    #[schema(example = "Fill instead")]
    pub words: String,
    /// How far it reaches: this conversion, its source in every frame, or its frame for every source.
    pub reach: &'static str,
    /// The edit that does it.
    pub edit: EditRequest,
    /// The conversion as it would be.
    pub after: Crossing,
    /// The codes of findings that would be there anew.
    pub adds: Vec<&'static str>,
    /// The frame as it would be.
    pub frame: FrameValues,
    /// What that amounts to.
    pub shape: FrameShape,
}

impl ProposalResult {
    /// The proposal for a conversion as it is now.
    pub fn new(pair: Pair, now: &Conversion, proposal: Proposal) -> Self {
        let known = |code: &str| now.findings.iter().any(|finding| finding.code() == code);
        let adds = proposal.after.findings.iter().map(ratiomet_core::Finding::code);
        Self {
            against: proposal.against,
            reach: proposal.reach.word(),
            adds: adds.filter(|code| !known(code)).collect(),
            after: Crossing::new(pair, 0, &proposal.after),
            shape: (&proposal.frame).into(),
            words: proposal.words,
            edit: Values(proposal.edit),
            frame: Values(proposal.frame),
        }
    }
}
