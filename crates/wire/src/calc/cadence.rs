//! Kind `cadence`: what becomes of the frames of one rate at another.

use ratiomet_core::cadence::{Cadence, Intent, Relation};
use ratiomet_core::calculation::Calculation;
use ratiomet_core::{Exact, FrameRate};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;
use crate::number::ExactNumber;

/// The request.
#[derive(Clone, Debug)]
pub struct CadenceRequest {
    from: FrameRate,
    to: FrameRate,
    intent: Intent,
}

record!(
    /// From one rate to another.
    "CadenceRequest", "pairs of rates" for CadenceRequest {
        /// Frames a second before.
        from: FrameRate = Required, |request| request.from.clone();
        /// Frames a second after.
        to: FrameRate = Required, |request| request.to.clone();
        /// What is to be kept.
        intent: Intent = Required, |request| request.intent;
    }
    |from, to, intent| Ok(CadenceRequest { from, to, intent })
);

impl Kind for CadenceRequest {
    fn calculation(self) -> Calculation {
        Calculation::Cadence(self.from, self.to, self.intent)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Cadence(from, to, intent) = calculation.clone() else { return None };
        Some(Self { from, to, intent })
    }
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
        /// Seconds between two frames that are left out or repeated; null where the rates are equal.
        slip: Option<ExactNumber>,
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
            Cadence::RealTime { ratio, cycle, relation, slip } => Self::RealTime {
                speed: ExactNumber(Exact::ONE),
                ratio: ExactNumber(ratio),
                cycle,
                relation: match relation {
                    Relation::Same => RelationName::Same,
                    Relation::Drop => RelationName::Drop,
                    Relation::Repeat => RelationName::Repeat,
                    Relation::Mixed => RelationName::Mixed,
                },
                slip: slip.map(ExactNumber),
            },
        }
    }
}
