//! Kind `subject`: a frame placed around a subject.

use ratiomet_core::subject::{Around, Share, SubjectSpec};
use serde::Serialize;
use utoipa::ToSchema;

use super::{CalcResult, ConversionResult};
use crate::geometry::{DeliveryGeometry, FramingValues, SourceGeometry, read_delivery, read_framing, read_source};
use crate::number::{AxesResult, ExactNumber, FractionText};
use crate::read::{Field, Object};

/// One frame around a subject.
#[derive(Debug, Serialize, ToSchema)]
pub struct SubjectRequest {
    /// The footage.
    pub source: SourceGeometry,
    /// What the frame should show whole.
    pub subject: SubjectBox,
    /// The frame.
    pub delivery: DeliveryGeometry,
    /// Method, zoom and the shift to stay near.
    pub framing: FramingValues,
}

/// A box in shares of the upright picture, 0 to 1; x to the right, y downwards.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SubjectBox {
    /// Its left edge.
    pub x: FractionText,
    /// Its upper edge.
    pub y: FractionText,
    /// How wide it is, over 0.
    pub width: FractionText,
    /// How high it is, over 0.
    pub height: FractionText,
}

/// The frame around the subject.
#[derive(Debug, Serialize, ToSchema)]
pub struct SubjectResult {
    /// The shift that was found, in delivery pixels right and down.
    pub shift: AxesResult,
    /// How far that is from the shift asked for.
    pub moved: AxesResult,
    /// The part of the subject's area that the frame shows, 0 to 1.
    pub shown: ExactNumber,
    /// Whether all of it is seen.
    pub whole: bool,
    /// What comes of it.
    pub plan: ConversionResult,
}

impl From<&SubjectSpec> for SubjectBox {
    fn from(subject: &SubjectSpec) -> Self {
        let [x, y, width, height] = subject.texts().map(|text| FractionText(text.to_owned()));
        Self { x, y, width, height }
    }
}

/// Reads a subject.
pub(crate) fn read_subject_box(field: &Field<'_>) -> Option<SubjectSpec> {
    let object = field.object()?;
    let share = |name| object.required(name, |field| field.fraction(Share::parse));
    let (x, y, width, height) = (share("x"), share("y"), share("width"), share("height"));
    object.done()?;
    field.settle(SubjectSpec::new([x?, y?, width?, height?]))
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let source = object.required("source", read_source);
    let subject = object.required("subject", read_subject_box);
    let delivery = object.required("delivery", read_delivery);
    let framing = object.required("framing", read_framing);
    object.done()?;
    let around = Around::of(source?.source(), delivery?.frame(), &framing?.framing(), subject?.subject());
    Some(CalcResult::Subject(Box::new(SubjectResult {
        whole: around.is_whole(),
        shift: AxesResult {
            x: ExactNumber(around.framing.shift_x.value().clone()),
            y: ExactNumber(around.framing.shift_y.value().clone()),
        },
        moved: around.moved.into(),
        shown: ExactNumber(around.shown),
        plan: around.plan.into(),
    })))
}
