//! Kind `sphere_place`: a flat picture onto a sphere.

use ratiomet_core::Raster;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::space::{Delivery, Stored};
use ratiomet_core::sphere::{Bounds, FieldOfView, Latitude, SpherePlace, SpherePlaceRequest, Turn};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;

record!(
    /// A flat picture that touches the sphere in its middle. Angles in degrees.
    "SpherePlaceRequest", "pictures" for SpherePlaceRequest {
        /// One eye, which holds the whole sphere.
        eye: Raster<Delivery> = Required, |request| request.eye;
        /// The flat picture in pixels.
        picture: Raster<Stored> = Required, |request| request.picture;
        /// Where its middle stands to the right.
        longitude: Turn = Default("0"), |request| request.longitude.clone();
        /// Where its middle stands upwards.
        latitude: Latitude = Default("0"), |request| request.latitude.clone();
        /// Clockwise.
        roll: Turn = Default("0"), |request| request.roll.clone();
        /// How wide it is seen to be.
        width_degrees: FieldOfView = Required, |request| request.width.clone();
    }
    |eye, picture, longitude, latitude, roll, width| {
        Ok(SpherePlaceRequest { eye, picture, longitude, latitude, roll, width })
    }
);

impl Kind for SpherePlaceRequest {
    fn calculation(self) -> Calculation {
        Calculation::SpherePlace(self)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        if let Calculation::SpherePlace(request) = calculation { Some(request.clone()) } else { None }
    }
}

/// Whole sphere pixels around it.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub struct SphereBounds {
    /// The left column, from 0 to the width less 1.
    pub x: u32,
    /// The top line.
    pub y: u32,
    /// Columns; `x + width` may pass the frame's width.
    pub width: u32,
    /// Lines.
    pub height: u32,
}

impl From<Bounds> for SphereBounds {
    fn from(bounds: Bounds) -> Self {
        Self { x: bounds.x, y: bounds.y, width: bounds.width, height: bounds.height }
    }
}

/// Where it lands. Points are [longitude, latitude] in degrees, longitudes over -180 up to 180.
#[derive(Debug, Serialize, ToSchema)]
pub struct SpherePlaceResult {
    /// How high it is seen to be.
    pub height_degrees: f64,
    /// How far it stands from the middle of the sphere, in its own widths.
    pub distance: f64,
    /// Sphere pixels on the equator per picture pixel in its middle, both per radian.
    pub picture_scale: f64,
    /// The width of the picture at which that is 1.
    pub picture_width_for_native: f64,
    /// Its border, from the top left corner clockwise.
    pub outline: Vec<[f64; 2]>,
    /// Its corners, from the top left clockwise.
    pub corners: [[f64; 2]; 4],
    /// The sphere's pixels around it.
    pub bounds: SphereBounds,
    /// Whether it crosses the seam or holds a pole.
    pub wraps: bool,
}

impl From<SpherePlace> for SpherePlaceResult {
    fn from(place: SpherePlace) -> Self {
        Self {
            height_degrees: place.height_degrees,
            distance: place.distance,
            picture_scale: place.picture_scale,
            picture_width_for_native: place.picture_width_for_native,
            outline: place.outline,
            corners: place.corners,
            bounds: place.bounds.into(),
            wraps: place.wraps,
        }
    }
}
