//! Kind `sphere_level`: levelling the horizon.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::sphere::{Mark, Marks, SphereLevel, SphereLevelRequest};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::{Given, List, Refused, record};

type Horizon = List<Mark, 2, { Marks::MOST_POINTS }>;
type Uprights = List<[Mark; 2], 1, { Marks::MOST_LINES }>;

record!(
    /// Marks on a sphere that should be level: exactly one of `horizon` and `uprights`. A point is [longitude,
    /// latitude] in degrees.
    "SphereLevelRequest", "levellings" for SphereLevelRequest {
        /// Points that should come to lie on the equator.
        horizon: Given<Horizon> = Optional, |request| match &request.marks {
            Marks::Horizon(points) => Given(Some(List(points.clone()))),
            Marks::Uprights(_) => Given(None),
        };
        /// Lines along things that should stand upright.
        uprights: Given<Uprights> = Optional, |request| match &request.marks {
            Marks::Uprights(lines) => Given(Some(List(lines.clone()))),
            Marks::Horizon(_) => Given(None),
        };
        /// The point that should come into the middle across; its height above the horizon stays.
        centre: Given<Mark> = Optional, |request| Given(request.centre.clone());
    }
    |horizon, uprights, centre| {
        let marks = match (horizon.0, uprights.0) {
            (Some(points), None) => Marks::Horizon(points.0),
            (None, Some(lines)) => Marks::Uprights(lines.0),
            _ => return Err(Refused::Accepted("exactly one of horizon and uprights")),
        };
        Ok(SphereLevelRequest { marks, centre: centre.0 })
    }
);

impl Kind for SphereLevelRequest {
    fn calculation(self) -> Calculation {
        Calculation::SphereLevel(self)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        if let Calculation::SphereLevel(request) = calculation { Some(request.clone()) } else { None }
    }
}

/// The turn that levels it. Angles in degrees.
#[derive(Debug, Serialize, ToSchema)]
pub struct SphereLevelResult {
    /// A direction d of the levelled frame is found at `matrix` d in the frame as it is: three rows.
    pub matrix: [[f64; 3]; 3],
    /// The same as a turn to the right, after which the middle of the picture is what a view of these three
    /// angles sees in its middle.
    pub yaw: f64,
    /// Upwards.
    pub pitch: f64,
    /// Clockwise.
    pub roll: f64,
    /// How far the up that was found is from the frame's own.
    pub tilt: f64,
    /// By how much the mark that fits worst misses.
    pub residual: f64,
}

impl From<SphereLevel> for SphereLevelResult {
    fn from(level: SphereLevel) -> Self {
        let [yaw, pitch, roll] = level.angles;
        Self { matrix: level.matrix, yaw, pitch, roll, tilt: level.tilt, residual: level.residual }
    }
}
