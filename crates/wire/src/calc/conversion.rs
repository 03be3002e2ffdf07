//! Kind `conversion`: one source into one delivery frame.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::project::{FrameSpec, SourceSpec};
use ratiomet_core::{Checked, Dial, Finding, Framing, Plan, Sizes, Tolerance, Typed};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use super::finding::FindingResult;
use crate::describe::record;
use crate::number::{AxesResult, ExactNumber, RectResult};
use crate::shapes::{EdgesResult, UprightResult, WholeRect};

/// How far something needs no look.
#[derive(Clone, Debug)]
pub struct Tolerances(Tolerance);

record!(
    /// How far something needs no look.
    "Tolerances", "tolerances" for Tolerances {
        /// Delivery pixels per stored pixel up to which an enlargement is only noted.
        enlarged: Tolerance = Default(r#""1.1""#), |tolerances| tolerances.0.clone();
    }
    |enlarged| Ok(Tolerances(enlarged))
);

/// One source into one delivery frame.
#[derive(Clone, Debug)]
pub struct ConversionRequest {
    source: SourceSpec,
    delivery: FrameSpec,
    framing: Framing,
    tolerance: Tolerances,
}

record!(
    /// One source into one delivery frame.
    "ConversionRequest", "conversions" for ConversionRequest {
        /// The footage.
        source: SourceSpec = Required, |request| request.source.clone();
        /// The frame.
        delivery: FrameSpec = Required, |request| request.delivery.clone();
        /// Where the picture is put; fit and centred when left out.
        framing: Framing = Default("{}"), |request| request.framing.clone();
        /// How far something needs no look.
        tolerance: Tolerances = Default("{}"), |request| request.tolerance.clone();
    }
    |source, delivery, framing, tolerance| Ok(ConversionRequest { source, delivery, framing, tolerance })
);

impl Kind for ConversionRequest {
    fn calculation(self) -> Calculation {
        let (source, frame) = (self.source.into_source(), self.delivery.into_frame());
        Calculation::Conversion(source, frame, self.framing, self.tolerance.0)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Conversion(source, frame, framing, tolerance) = calculation.clone() else { return None };
        let (source, delivery) = (source.into(), frame.into());
        Some(Self { source, delivery, framing, tolerance: Tolerances(tolerance) })
    }
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

/// One placement in each of the numbers that editing programs ask for, measured against the whole
/// delivery raster. The first six are for a program that holds the clip cut and turned.
#[derive(Debug, Serialize, ToSchema)]
pub struct DialResult {
    /// Percent, where 100 puts one upright unit on one delivery line; the same whether the clip is cut or not.
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
    /// The same for a program that holds the whole stored raster, turned: what was cut away continues the image.
    pub uncut: TypedResult,
    /// For a program that fits the whole clip as it lies, and turns it afterwards.
    pub unturned: SizesResult,
}

/// A placement in the numbers of a program that holds a picture of some size.
#[derive(Debug, Serialize, ToSchema)]
pub struct TypedResult {
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

/// Multiples of the size that a program begins with.
#[derive(Debug, Serialize, ToSchema)]
pub struct SizesResult {
    /// Of the size that just fits the raster.
    pub over_fit: AxesResult,
    /// Of the size that just fills the raster.
    pub over_fill: AxesResult,
}

impl From<Sizes> for SizesResult {
    fn from(sizes: Sizes) -> Self {
        Self { over_fit: sizes.over_fit.into(), over_fill: sizes.over_fill.into() }
    }
}

impl From<Typed> for TypedResult {
    fn from(typed: Typed) -> Self {
        Self {
            over_fit: typed.sizes.over_fit.into(),
            over_fill: typed.sizes.over_fill.into(),
            uncorrected: typed.uncorrected.into(),
            centre_offset: typed.centre_offset.into(),
            top_left: typed.top_left.into(),
        }
    }
}

impl From<Dial> for DialResult {
    fn from(dial: Dial) -> Self {
        let TypedResult { over_fit, over_fill, uncorrected, centre_offset, top_left } = dial.cut.into();
        Self {
            native_percent: dial.native_percent.into(),
            over_fit,
            over_fill,
            uncorrected,
            centre_offset,
            top_left,
            uncut: dial.uncut.into(),
            unturned: dial.unturned.into(),
        }
    }
}

impl From<Checked> for ConversionResult {
    fn from(checked: Checked) -> Self {
        Self::of(checked.plan, &checked.findings)
    }
}

impl ConversionResult {
    /// A plan, and what there is to say about it.
    pub fn of(plan: Plan, findings: &[Finding]) -> Self {
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
            dial: plan.dial.into(),
            findings: findings.iter().map(Into::into).collect(),
        }
    }
}
