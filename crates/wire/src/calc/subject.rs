//! Kind `subject`: a frame placed around a subject.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::project::{FrameSpec, SourceSpec};
use ratiomet_core::safe_area::Percent;
use ratiomet_core::subject::{Around, Margin, Room, SubjectSpec};
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
    room: Room,
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
        /// Method, zoom, and a shift counted from the place where the subject is in the middle.
        framing: Framing = Required, |request| request.framing.clone();
        /// What should stay free on each side of the subject, as a share of the picture area.
        margin: Margin = Default(r#""1/20""#), |request| request.room.margin.clone();
        /// The safe area in which the subject should stand when it fits, as a percentage of the raster's sides;
        /// null for none.
        safe: Option<Percent> = Default("null"), |request| request.room.safe.clone();
    }
    |source, subject, delivery, framing, margin, safe|
        Ok(SubjectRequest { source, subject, delivery, framing, room: Room { margin, safe } })
);

impl Kind for SubjectRequest {
    fn calculation(self) -> Calculation {
        let (source, frame) = (self.source.into_source(), self.delivery.into_frame());
        Calculation::Subject(source, self.subject.subject().clone(), frame, self.framing, self.room)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Subject(source, subject, frame, framing, room) = calculation.clone() else { return None };
        Some(Self { source: source.into(), subject: subject.into(), delivery: frame.into(), framing, room })
    }
}

/// The frame around the subject.
#[derive(Debug, Serialize, ToSchema)]
pub struct SubjectResult {
    /// The shift that was found, in delivery pixels right and down.
    pub shift: AxesResult,
    /// How far the subject's middle stands from that of the picture area, in delivery pixels right and down.
    pub off_middle: AxesResult,
    /// The part of the picture area's side that is free beside the subject where that is least; under 0 when the
    /// subject passes the area.
    pub free: ExactNumber,
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
            off_middle: around.off_middle.into(),
            free: ExactNumber(around.free),
            shown: ExactNumber(around.shown),
            plan: ConversionResult::of(around.plan, findings),
        }
    }
}
