//! Kind `sphere_view`: a flat view out of a sphere.

use ratiomet_core::Raster;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::space::{Delivery, Stored};
use ratiomet_core::sphere::{FieldOfView, Latitude, Span, SphereView, SphereViewRequest, Turn};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;

record!(
    /// A camera in the middle of a sphere. Angles in degrees.
    "SphereViewRequest", "views" for SphereViewRequest {
        /// The equirectangular picture of one eye.
        eye: Raster<Stored> = Required, |request| request.eye;
        /// Degrees across and up that it holds.
        span: Span = Default("[360,180]"), |request| request.span.clone();
        /// The flat view in pixels.
        view: Raster<Delivery> = Required, |request| request.view;
        /// How wide it sees.
        fov: FieldOfView = Required, |request| request.fov.clone();
        /// To the right.
        yaw: Turn = Default("0"), |request| request.yaw.clone();
        /// Upwards.
        pitch: Latitude = Default("0"), |request| request.pitch.clone();
        /// Clockwise as seen from behind the camera.
        roll: Turn = Default("0"), |request| request.roll.clone();
    }
    |eye, span, view, fov, yaw, pitch, roll| Ok(SphereViewRequest { eye, span, view, fov, yaw, pitch, roll })
);

impl Kind for SphereViewRequest {
    fn calculation(self) -> Calculation {
        Calculation::SphereView(self)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        if let Calculation::SphereView(request) = calculation { Some(request.clone()) } else { None }
    }
}

/// What it sees. Points are [longitude, latitude] in degrees, longitudes over -180 up to 180.
#[derive(Debug, Serialize, ToSchema)]
pub struct SphereViewResult {
    /// How high it sees.
    pub vertical_fov: f64,
    /// View pixels per radian in the middle over sphere pixels per radian on the equator.
    pub centre_scale: f64,
    /// The same at the edge of the horizontal midline.
    pub edge_scale: f64,
    /// The width of one eye at which the centre scale is 1.
    pub width_for_native: f64,
    /// The view's border, from the top left corner clockwise.
    pub outline: Vec<[f64; 2]>,
    /// Where it looks.
    pub centre: [f64; 2],
    /// Its corners, from the top left clockwise.
    pub corners: [[f64; 2]; 4],
    /// Whether part of it lies outside the span.
    pub outside: bool,
}

impl From<SphereView> for SphereViewResult {
    fn from(view: SphereView) -> Self {
        Self {
            vertical_fov: view.vertical_fov,
            centre_scale: view.centre_scale,
            edge_scale: view.edge_scale,
            width_for_native: view.width_for_native,
            outline: view.outline,
            centre: view.centre,
            corners: view.corners,
            outside: view.outside,
        }
    }
}
