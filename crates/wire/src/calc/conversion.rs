//! Kind `conversion`: one source into one delivery frame.

use std::borrow::Cow;
use std::collections::BTreeMap;

use ratiomet_core::finding::{Finding, Severity, Squeezing};
use ratiomet_core::project::FramingSpec;
use ratiomet_core::space::{Axis, Edges, Size, Upright};
use ratiomet_core::{Exact, Method, Plan};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use crate::geometry::{
    DeliveryGeometry, FramingValues, SourceGeometry, WholeRect, read_delivery, read_framing, read_source,
};
use crate::number::{AxesResult, ExactNumber, RectResult, pair};
use crate::read::Object;

/// One source into one delivery frame.
#[derive(Debug, Serialize, ToSchema)]
pub struct ConversionRequest {
    /// The footage.
    pub source: SourceGeometry,
    /// The frame.
    pub delivery: DeliveryGeometry,
    /// Where the picture is put; fit and centred when left out.
    #[schema(required = false)]
    pub framing: FramingValues,
}

/// How the source lands in the frame.
#[derive(Debug, Serialize, ToSchema)]
pub struct ConversionResult {
    /// The picture as it is seen.
    pub upright: UprightResult,
    /// The part of the frame that the picture should fill, in delivery pixels.
    pub picture_area: WholeRect,
    /// Where the whole active picture lands, in delivery pixels; it may pass the frame.
    pub image: RectResult,
    /// Delivery pixels per stored pixel along the delivery's axes.
    pub scale: AxesResult,
    /// Delivery pixels of the picture area that stay uncovered.
    pub bars: EdgesResult,
    /// The part of the stored raster that reaches the picture area, in stored pixels before turning.
    pub window: Option<RectResult>,
    /// The visible part of the upright picture's area, 0 to 1.
    pub kept: ExactNumber,
    /// The part of the picture area that is covered, 0 to 1.
    pub covered: ExactNumber,
    /// How much wider than high a circle comes out, less 1.
    pub distortion: ExactNumber,
    /// How far the shift may go either way before the coverage changes, in delivery pixels.
    pub travel: AxesResult,
    /// Further zoom until an axis reaches one delivery pixel per stored pixel.
    pub reserve: AxesResult,
    /// The same placement as editing programs ask for it.
    pub dial: DialResult,
    /// What the plan says about itself.
    pub findings: Vec<FindingResult>,
}

/// The picture as it is seen: desqueezed, pixel shape corrected, turned.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct UprightResult {
    /// Width and height, in units of the height of one stored pixel.
    pub size: [ExactNumber; 2],
    /// Width over height.
    pub ratio: ExactNumber,
}

impl From<Size<Upright>> for UprightResult {
    fn from(size: Size<Upright>) -> Self {
        Self { ratio: ExactNumber(&size.width / &size.height), size: pair(size) }
    }
}

/// Exact lengths at each side.
#[derive(Debug, Serialize, ToSchema)]
pub struct EdgesResult {
    /// At the left.
    pub left: ExactNumber,
    /// At the top.
    pub top: ExactNumber,
    /// At the right.
    pub right: ExactNumber,
    /// At the bottom.
    pub bottom: ExactNumber,
}

impl<S> From<Edges<S>> for EdgesResult {
    fn from(edges: Edges<S>) -> Self {
        Self {
            left: ExactNumber(edges.left),
            top: ExactNumber(edges.top),
            right: ExactNumber(edges.right),
            bottom: ExactNumber(edges.bottom),
        }
    }
}

/// One placement in each of the numbers that editing programs ask for, measured against the whole
/// delivery raster.
#[derive(Debug, Serialize, ToSchema)]
pub struct DialResult {
    /// Percent, where 100 puts one upright unit on one delivery line.
    pub native_percent: AxesResult,
    /// Multiples of the size that just fits the raster.
    pub over_fit: AxesResult,
    /// Multiples of the size that just fills the raster.
    pub over_fill: AxesResult,
    /// Multipliers where the program takes stored pixels as square and has fitted that picture.
    pub uncorrected: AxesResult,
    /// From the raster's centre to the image's, delivery pixels right and down.
    pub centre_offset: AxesResult,
    /// From the raster's top left corner to the image's, delivery pixels right and down.
    pub top_left: AxesResult,
}

/// How much a finding matters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum SeverityName {
    /// Must not go out like this.
    Stop,
    /// Needs a look.
    Caution,
    /// Good to know.
    Note,
}

impl From<Severity> for SeverityName {
    fn from(severity: Severity) -> Self {
        match severity {
            Severity::Stop => Self::Stop,
            Severity::Caution => Self::Caution,
            Severity::Note => Self::Note,
        }
    }
}

/// One thing to know about a plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct FindingResult {
    /// The stable code.
    #[schema(example = "bars")]
    pub code: &'static str,
    /// How much it matters.
    pub severity: SeverityName,
    /// A sentence with the numbers in it.
    pub message: String,
    /// The numbers by name.
    pub data: BTreeMap<&'static str, FindingData>,
}

/// A value in the data of a finding.
#[derive(Debug, Serialize, ToSchema)]
#[serde(untagged)]
pub enum FindingData {
    /// One exact number.
    Number(ExactNumber),
    /// One exact number for each axis.
    Axes(AxesResult),
    /// A whole number.
    Whole(i64),
    /// A raster in pixels.
    Raster([u32; 2]),
    /// A name.
    Text(Cow<'static, str>),
}

impl From<&Finding> for FindingResult {
    fn from(finding: &Finding) -> Self {
        use FindingData::{Axes, Number, Raster, Text, Whole};
        let number = |value: &Exact| Number(ExactNumber(value.clone()));
        let word = |text: &'static str| Text(Cow::Borrowed(text));
        let data: Vec<(&'static str, FindingData)> = match finding {
            Finding::Bars { each_side } => vec![("each_side", Axes(each_side.clone().into()))],
            Finding::OffEdge { beyond, travel } => {
                vec![("beyond", Axes(beyond.clone().into())), ("travel", Axes(travel.clone().into()))]
            }
            Finding::DoubleBoxed { black } => vec![("black", Axes(black.clone().into()))],
            Finding::Distorted { distortion } => vec![("distortion", number(distortion))],
            Finding::Enlarged { scale, whole, remainder } => {
                vec![("scale", number(scale)), ("whole", Whole(*whole)), ("remainder", number(remainder))]
            }
            Finding::EnlargedOneWay { axis, scale } => vec![
                (
                    "axis",
                    word(match axis {
                        Axis::X => "x",
                        Axis::Y => "y",
                    }),
                ),
                ("scale", number(scale)),
            ],
            Finding::OddSize { raster, step } => {
                vec![("raster", Raster([raster.width(), raster.height()])), ("step", Whole(i64::from(step.pixels())))]
            }
            Finding::MostlyLost { kept } => vec![("kept", number(kept))],
            Finding::Sideways { now, turned } => vec![("now", number(now)), ("turned", number(turned))],
            Finding::NearPublished { raster, published } => vec![
                ("raster", Raster([raster.width(), raster.height()])),
                ("name", word(published.name)),
                ("published", Raster([published.width, published.height])),
                ("source", word(published.source)),
            ],
            Finding::SubjectCut { shown } => vec![("shown", number(shown))],
            Finding::NoSubject => Vec::new(),
            Finding::Squeeze(Squeezing::Missing { squeeze }) => vec![("squeeze", number(squeeze))],
            Finding::Squeeze(Squeezing::Twice { pixel_aspect, squeeze }) => {
                vec![("pixel_aspect", number(pixel_aspect)), ("squeeze", number(squeeze))]
            }
            Finding::Detour { detail, direct, through } => vec![
                ("detail", Axes(detail.clone().into())),
                ("direct", Axes(direct.clone().into())),
                ("through", Text(Cow::Owned(through.clone()))),
            ],
            Finding::RateMixed { from, to, .. } => vec![("from", number(from)), ("to", number(to))],
            Finding::Interlaced => Vec::new(),
            Finding::Range { from, to } => vec![("from", word(from.word())), ("to", word(to.word()))],
        };
        Self {
            code: finding.code(),
            severity: finding.severity().into(),
            message: finding.to_string(),
            data: data.into_iter().collect(),
        }
    }
}

impl From<Plan> for ConversionResult {
    fn from(plan: Plan) -> Self {
        let findings = plan.findings.iter().map(Into::into).collect();
        Self {
            upright: plan.upright.into(),
            picture_area: plan.picture_area.into(),
            image: plan.image.into(),
            scale: plan.scale.into(),
            bars: plan.bars.into(),
            window: plan.window.map(Into::into),
            kept: ExactNumber(plan.kept),
            covered: ExactNumber(plan.covered),
            distortion: ExactNumber(plan.distortion),
            travel: plan.travel.into(),
            reserve: plan.reserve.into(),
            dial: DialResult {
                native_percent: plan.dial.native_percent.into(),
                over_fit: plan.dial.over_fit.into(),
                over_fill: plan.dial.over_fill.into(),
                uncorrected: plan.dial.uncorrected.into(),
                centre_offset: plan.dial.centre_offset.into(),
                top_left: plan.dial.top_left.into(),
            },
            findings,
        }
    }
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let source = object.required("source", read_source);
    let delivery = object.required("delivery", read_delivery);
    let framing = object.optional("framing", || FramingSpec::of(Method::default()), read_framing);
    object.done()?;
    let plan = Plan::of(source?.source(), delivery?.frame(), &framing?.framing());
    Some(CalcResult::Conversion(Box::new(plan.into())))
}
