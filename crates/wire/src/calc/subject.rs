//! Kind `subject`: a frame placed around a subject.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::project::{FrameSpec, SourceSpec};
use ratiomet_core::subject::{Around, SubjectSpec};
use ratiomet_core::{Finding, Framing};
use serde::Serialize;
use utoipa::ToSchema;

use super::{ConversionResult, Kind};
use crate::describe::record;
use crate::number::{AxesResult, ExactNumber};

/// The request.
#[derive(Clone, Debug)]
pub struct SubjectRequest {
    source: SourceSpec,
    subject: SubjectSpec,
    delivery: FrameSpec,
    framing: Framing,
}

record!(
    /// One frame around a subject.
    "SubjectRequest", "frames around subjects" for SubjectRequest {
        /// The footage.
        source: SourceSpec = Required, |request| request.source.clone();
        /// What the frame should show whole.
        subject: SubjectSpec = Required, |request| request.subject.clone();
        /// The frame.
        delivery: FrameSpec = Required, |request| request.delivery.clone();
        /// Method, zoom and the shift to stay near.
        framing: Framing = Required, |request| request.framing.clone();
    }
    |source, subject, delivery, framing| Ok(SubjectRequest { source, subject, delivery, framing })
);

impl Kind for SubjectRequest {
    fn calculation(self) -> Calculation {
        let (source, frame) = (self.source.into_source(), self.delivery.into_frame());
        Calculation::Subject(source, self.subject.subject().clone(), frame, self.framing)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Subject(source, subject, frame, framing) = calculation.clone() else { return None };
        Some(Self { source: source.into(), subject: subject.into(), delivery: frame.into(), framing })
    }
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

impl SubjectResult {
    /// A frame around its subject, and what there is to say about its plan.
    pub(super) fn of(around: Around, findings: &[Finding]) -> Self {
        Self {
            whole: around.is_whole(),
            shift: AxesResult {
                x: ExactNumber(around.framing.shift_x.value().clone()),
                y: ExactNumber(around.framing.shift_y.value().clone()),
            },
            moved: around.moved.into(),
            shown: ExactNumber(around.shown),
            plan: ConversionResult::of(around.plan, findings),
        }
    }
}
