//! One conversion of a project: its plan, what was typed into its dials, what would help.

use ratiomet_core::dial_in::{self, Convention};
use ratiomet_core::project::{self as core, ChoicePatch, FramingSpec, Pair, ProposedChange};
use ratiomet_core::rests;
use ratiomet_core::space::{Axes, Axis};
use ratiomet_core::{DeliveryFrame, Exact, fraction};
use serde::Serialize;
use utoipa::ToSchema;

use super::edit::{EditRequest, FrameSet, SourceSet};
use super::history::number;
use super::screens::Crossing;
use super::values::{AcceptedFinding, ChoiceValues, FrameValues, FramingChoice, read_own, safe_area_texts};
use crate::calc::{CadenceResult, ConversionResult, EdgesResult, FindingResult, SeverityName};
use crate::geometry::FrameShape;
use crate::number::{AxesResult, ExactNumber, FractionText, RectResult};
use crate::read::Field;

/// One source into one frame of a project, with its whole plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct Conversion {
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
    pub code: &'static str,
    /// How much it matters.
    pub severity: SeverityName,
    /// A sentence with its numbers.
    pub message: String,
    /// Why it may stay; null while nobody has accepted it.
    pub accepted: Option<AcceptedFinding>,
    /// Whether it was accepted when it said something else, so that it is open again.
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

impl Conversion {
    /// The resource of a conversion between two stored records.
    pub fn new(
        pair: Pair,
        version: i32,
        choice: &core::Choice,
        crossing: core::Crossing,
        frame: &DeliveryFrame,
        rests: rests::Rests,
    ) -> Self {
        let share = |convention| {
            let nothing = || Axes::new(Exact::ZERO, Exact::ZERO);
            dial_in::reading(convention, &crossing.plan, frame).unwrap_or_else(nothing).into()
        };
        let judged = |finding| {
            let FindingResult { code, severity, message, .. } = FindingResult::from(finding);
            let (accepted, lapsed) = match crossing.judgement(finding) {
                core::Judgement::Open => (None, false),
                core::Judgement::Accepted(acceptance) => (Some(acceptance.into()), false),
                core::Judgement::Lapsed(acceptance) => (Some(acceptance.into()), true),
            };
            JudgedFinding { code, severity, message, accepted, lapsed }
        };
        Self {
            source: pair.source,
            frame: pair.frame,
            version,
            choice: choice.into(),
            framing: (&crossing.framing).into(),
            placed: (&FramingSpec::written(&crossing.placed)).into(),
            crossing: Crossing::new((pair.source, pair.frame), version, &crossing),
            seen: crossing.plan.seen().map(Into::into),
            cut: crossing.plan.cut().map(Into::into),
            findings: crossing.plan.findings.iter().map(judged).collect(),
            shares: SharesResult { centre: share(Convention::CentreShare), top_left: share(Convention::TopLeftShare) },
            rests: rests.into(),
            plan: crossing.plan.into(),
            cadence: crossing.cadence.map(Into::into),
        }
    }
}

/// What a conversion would be.
#[derive(Debug, Serialize, ToSchema)]
pub struct PreviewRequest {
    /// With another framing; null to follow. Left out, the stored one stays.
    #[schema(required = false)]
    pub own: Option<FramingChoice>,
    /// With a number typed into a dial of that framing.
    #[schema(required = false)]
    pub entry: Option<EntryRequest>,
    /// With the place of the picture that another conversion shows, as [source, frame]: its method and
    /// zoom, and the same point of the picture in the middle of the area.
    #[schema(required = false)]
    pub like: Option<[i32; 2]>,
}

/// A number typed into a dial.
#[derive(Debug, Serialize, ToSchema)]
pub struct EntryRequest {
    /// `native_percent`, `over_fit`, `over_fill`, `uncorrected`, `centre_offset`, `centre_share`,
    /// `top_left`, `top_left_share`, `window_corner` or `window_size`.
    #[schema(example = "native_percent")]
    pub convention: String,
    /// `x` or `y`: of the delivery, or of the stored raster for a window.
    #[schema(example = "y")]
    pub axis: String,
    /// The number.
    pub value: FractionText,
}

/// A preview that was read.
#[derive(Debug)]
pub struct Preview {
    /// The choice with what is asked for.
    pub patch: ChoicePatch,
    /// A number typed into a dial.
    pub entry: Option<dial_in::Entry>,
    /// The conversion whose place is taken.
    pub like: Option<Pair>,
}

/// Reads what is to be previewed.
pub fn read_preview(field: &Field<'_>) -> Option<Preview> {
    let object = field.object()?;
    let own = read_own(&object);
    let entry = object.nullable("entry", read_entry);
    let like = object.nullable("like", |field| {
        let accepted = "a pair of numbers, [source, frame]";
        match field.array(accepted)?.as_slice() {
            [source, frame] => Some(Pair { source: number(source, accepted)?, frame: number(frame, accepted)? }),
            _ => field.refuse(accepted),
        }
    });
    object.done()?;
    Some(Preview { patch: ChoicePatch { own: own?, ..ChoicePatch::default() }, entry: entry?, like: like? })
}

fn read_entry(field: &Field<'_>) -> Option<dial_in::Entry> {
    let object = field.object()?;
    let convention =
        object.required("convention", |field| field.word(&Convention::ALL.map(|each| (each.word(), each))));
    let axis = object.required("axis", |field| field.word(&[("x", Axis::X), ("y", Axis::Y)]));
    let value = object.required("value", |field| field.fraction(|text| fraction::parse(text, fraction::Sign::Allowed)));
    object.done()?;
    Some(dial_in::Entry { convention: convention?, axis: axis?, value: value?.value().clone() })
}

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
    #[schema(example = "Fill the area instead")]
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
    /// The proposal for the conversion of this source and this frame.
    pub fn new(pair: Pair, now: &core::Crossing, proposal: core::Proposal) -> Self {
        let known = |code: &str| now.plan.findings.iter().any(|finding| finding.code() == code);
        let adds = proposal.after.plan.findings.iter().map(ratiomet_core::Finding::code);
        let (reach, edit) = match proposal.change {
            ProposedChange::Source(patch) => {
                ("source", EditRequest::SetSources { sources: vec![pair.source], set: Box::new(source_set(&patch)) })
            }
            ProposedChange::Frame(patch) => {
                ("frame", EditRequest::SetFrames { frames: vec![pair.frame], set: Box::new(frame_set(&patch)) })
            }
            ProposedChange::Framing(own) => (
                "conversion",
                EditRequest::SetConversions { conversions: vec![[pair.source, pair.frame]], own: Some((&*own).into()) },
            ),
        };
        Self {
            against: proposal.against,
            words: proposal.words,
            reach,
            edit,
            adds: adds.filter(|code| !known(code)).collect(),
            after: Crossing::new((pair.source, pair.frame), 0, &proposal.after),
            frame: (&proposal.frame).into(),
            shape: (&proposal.frame).into(),
        }
    }
}

fn text<T>(written: &fraction::Written<T>) -> FractionText {
    FractionText(written.text().to_owned())
}

/// What proposals set in sources.
fn source_set(patch: &core::SourcePatch) -> SourceSet {
    SourceSet {
        pixel_aspect: patch.pixel_aspect.as_ref().map(text),
        squeeze: patch.squeeze.as_ref().map(text),
        rotation: patch.rotation.map(ratiomet_core::Rotation::degrees),
        playback: patch.playback.map(Into::into),
        ..SourceSet::default()
    }
}

/// What proposals set in frames.
fn frame_set(patch: &core::FramePatch) -> FrameSet {
    FrameSet {
        raster: patch.raster.map(|raster| [raster.width(), raster.height()]),
        picture_ratio: patch.picture_ratio.as_ref().map(|ratio| ratio.as_ref().map(text)),
        safe_areas: patch.safe_areas.as_deref().map(safe_area_texts),
        through: patch.through,
        ..FrameSet::default()
    }
}
