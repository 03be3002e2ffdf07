//! Kind `cadence`: what becomes of the frames of one rate at another.

use ratiomet_core::FrameRate;
use ratiomet_core::cadence::{Cadence, Intent, Relation};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use crate::number::{ExactNumber, FractionText};
use crate::read::{Field, Object};

/// From one rate to another.
#[derive(Debug, Serialize, ToSchema)]
pub struct CadenceRequest {
    /// Frames a second before, from 1/1000 to 1000.
    pub from: FractionText,
    /// Frames a second after, from 1/1000 to 1000.
    pub to: FractionText,
    /// What is to be kept.
    pub intent: IntentName,
}

/// What is to be kept.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum IntentName {
    /// Each frame is shown once; the running time changes.
    EveryFrame,
    /// The running time stays; frames are repeated or left out.
    RealTime,
}

/// What becomes of the frames.
#[derive(Debug, Serialize, ToSchema)]
#[serde(untagged)]
pub enum CadenceResult {
    /// Each frame is shown once.
    EveryFrame {
        /// The speed of all movement, 1 for as it was.
        speed: ExactNumber,
        /// The running time, 1 for as it was.
        duration: ExactNumber,
    },
    /// The running time stays.
    RealTime {
        /// Always 1.
        speed: ExactNumber,
        /// The rate after over the rate before.
        ratio: ExactNumber,
        /// How many times each frame of a cycle appears; null for a cycle of over 1,000 frames.
        cycle: Option<Vec<i64>>,
        /// What that amounts to.
        relation: RelationName,
    },
}

/// How the frames are shown.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum RelationName {
    /// Both rates are equal.
    Same,
    /// Every k-th frame is shown.
    Drop,
    /// Each frame is shown k times.
    Repeat,
    /// Some frames are shown more often than others.
    Mixed,
}

impl From<Cadence> for CadenceResult {
    fn from(cadence: Cadence) -> Self {
        match cadence {
            Cadence::EveryFrame { speed, duration } => {
                Self::EveryFrame { speed: ExactNumber(speed), duration: ExactNumber(duration) }
            }
            Cadence::RealTime { ratio, cycle, relation } => Self::RealTime {
                speed: ExactNumber(ratiomet_core::Exact::ONE),
                ratio: ExactNumber(ratio),
                cycle,
                relation: match relation {
                    Relation::Same => RelationName::Same,
                    Relation::Drop => RelationName::Drop,
                    Relation::Repeat => RelationName::Repeat,
                    Relation::Mixed => RelationName::Mixed,
                },
            },
        }
    }
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let rate = |field: &Field<'_>| field.fraction(FrameRate::parse);
    let from = object.required("from", rate);
    let to = object.required("to", rate);
    let intent = object.required("intent", |field| field.word(&Intent::ALL.map(|intent| (intent.word(), intent))));
    object.done()?;
    let cadence = Cadence::of(from?.value(), to?.value(), intent?);
    Some(CalcResult::Cadence(Box::new(cadence.into())))
}
