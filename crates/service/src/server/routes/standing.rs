//! What stands on spheres while hands are on them, for the routes that show spheres and those that put pictures on them.

use ratiomet_core::project::{Footage, OnSphere};
use ratiomet_core::signal::Projection;
use ratiomet_core::sphere::{FieldOfView, Orientation, SpherePlace};
use ratiomet_wire::Whole;
use ratiomet_wire::describe::{Values, record};
use ratiomet_wire::problem::Problem;
use serde::Serialize;
use utoipa::ToSchema;

use super::stills::refused;
use crate::server::refusal::Refusal;

pub(super) type OrientationValues = Values<Orientation>;

/// Refuses a source that is no sphere.
pub(super) fn sphere_of(footage: &Footage) -> Result<(), Refusal> {
    if footage.projection == Projection::Sphere {
        return Ok(());
    }
    Err(Problem::new(
        422,
        "not_a_sphere",
        "The source is no sphere",
        format!("{} is set to a flat picture.", footage.name.as_str()),
        "Set its picture to a sphere.",
    )
    .into())
}

/// A picture that a hand moves.
#[derive(Clone, Debug)]
pub(super) struct Moved {
    picture: Whole<0, 63>,
    width: FieldOfView,
    orientation: Orientation,
}

record!(
    /// One of the pictures on a sphere as a hand has moved it.
    "MovedOnSphere", "moved pictures" for Moved {
        /// Which of them, from 0.
        picture: Whole<0, 63> = Required, |moved| moved.picture;
        /// Degrees that it is seen to be wide.
        width: FieldOfView = Required, |moved| moved.width.clone();
        /// Where its middle stands.
        orientation: Orientation = Default("{}"), |moved| moved.orientation.clone();
    }
    |picture, width, orientation| Ok(Moved { picture, width, orientation })
);

impl Moved {
    pub const fn new(picture: Whole<0, 63>, width: FieldOfView, orientation: Orientation) -> Self {
        Self { picture, width, orientation }
    }

    pub const fn picture(&self) -> Whole<0, 63> {
        self.picture
    }

    pub fn width(&self) -> FieldOfView {
        self.width.clone()
    }

    pub fn orientation(&self) -> Orientation {
        self.orientation.clone()
    }
}

/// A sphere while hands are on it: turned, with what stands on it where it stood, and one of that moved.
pub(super) fn in_hand(footage: &Footage, turn: &Orientation, moved: Option<Moved>) -> Footage {
    let mut shown = footage.turned(turn);
    if let Some(Moved { picture, width, orientation }) = moved
        && let Some(picture) = shown.on_sphere.get_mut(picture.get() as usize)
    {
        (picture.width, picture.orientation) = (width, orientation);
    }
    shown
}

/// Where a picture stands on a sphere.
#[derive(Debug, Serialize, ToSchema)]
pub(super) struct OnSphereSeen {
    /// Where its middle stands.
    orientation: OrientationValues,
    /// Its border, longitudes and latitudes.
    outline: Vec<[f64; 2]>,
    /// Degrees that it is seen to be high.
    height: f64,
    /// How far it stands, in its own widths.
    distance: f64,
    /// Pixels of the sphere, on the equator, for each of the picture in its middle: over 1 it is enlarged.
    scale: f64,
    /// How wide the picture must be to be neither enlarged nor reduced there.
    native_width: f64,
    /// Whether it crosses the seam of the turned sphere.
    crosses_seam: bool,
    /// Whether a pole lies in it.
    holds_pole: bool,
}

/// Where the pictures of a sphere stand.
pub(super) fn places(shown: &Footage) -> Result<Vec<OnSphereSeen>, Refusal> {
    let places = shown.places().map_err(|error| refused(&error.to_string()))?;
    let seen = |(picture, place): (&OnSphere, SpherePlace)| {
        let pole = place.holds_pole;
        OnSphereSeen {
            orientation: Values(picture.orientation.clone()),
            outline: place.outline,
            height: place.height_degrees,
            distance: place.distance,
            scale: place.picture_scale,
            native_width: place.picture_width_for_native,
            crosses_seam: place.wraps && !pole,
            holds_pole: pole,
        }
    };
    Ok(shown.on_sphere.iter().zip(places).map(seen).collect())
}
