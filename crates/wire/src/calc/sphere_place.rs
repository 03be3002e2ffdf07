//! Kind `sphere_place`: a flat picture onto a sphere.

use ratiomet_core::sphere::{Angle, Bounds, SpherePlace, SpherePlaceRequest as Request};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use super::sphere_view::read_angle;
use crate::number::FractionText;
use crate::read::{Field, Object};

/// A flat picture that touches the sphere in its middle. Angles in degrees.
#[derive(Debug, Serialize, ToSchema)]
pub struct SpherePlaceRequest {
    /// One eye, which holds the whole sphere.
    #[schema(example = json!([5760, 2880]), minimum = 1, maximum = 65536)]
    pub eye: [u32; 2],
    /// The flat picture in pixels.
    #[schema(example = json!([1920, 1080]), minimum = 1, maximum = 65536)]
    pub picture: [u32; 2],
    /// Where its middle stands to the right, within 360 either way.
    #[schema(default = 0, required = false)]
    pub longitude: FractionText,
    /// Where its middle stands upwards, within 90 either way.
    #[schema(default = 0, required = false)]
    pub latitude: FractionText,
    /// Clockwise, within 360 either way.
    #[schema(default = 0, required = false)]
    pub roll: FractionText,
    /// How wide it is seen to be, over 0 and under 180.
    pub width_degrees: FractionText,
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

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let eye = object.required("eye", Field::raster);
    let picture = object.required("picture", Field::raster);
    let (longitude, latitude, roll) =
        (read_angle(object, "longitude", 360), read_angle(object, "latitude", 90), read_angle(object, "roll", 360));
    let width = object.required("width_degrees", |field| field.fraction(Angle::of_view));
    object.done()?;
    let request = Request {
        eye: eye?,
        picture: picture?,
        longitude: longitude?,
        latitude: latitude?,
        roll: roll?,
        width: width?.value().clone(),
    };
    Some(CalcResult::SpherePlace(Box::new(SpherePlace::of(&request).into())))
}
