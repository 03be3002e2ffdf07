//! [`SphereView`]: a flat view out of a sphere.

use super::angle::{FieldOfView, Latitude, Span, Turn};
use super::direction::{Direction, Flat};
use super::{Orientation, Point};
use crate::Raster;
use crate::space::{Delivery, Stored};

/// How many points a side of an outline has.
pub(super) const A_SIDE: u32 = 16;

/// A camera in the middle of a sphere.
#[derive(Clone, Debug, PartialEq)]
pub struct SphereViewRequest {
    /// The picture of one eye.
    pub eye: Raster<Stored>,
    /// How much of the sphere it holds.
    pub span: Span,
    /// The flat view.
    pub view: Raster<Delivery>,
    /// How wide the view is.
    pub fov: FieldOfView,
    /// To the right.
    pub yaw: Turn,
    /// Upwards.
    pub pitch: Latitude,
    /// Clockwise, as seen from behind.
    pub roll: Turn,
}

/// What such a camera sees.
#[derive(Clone, Debug)]
pub struct SphereView {
    /// How high the view is, in degrees.
    pub vertical_fov: f64,
    /// View pixels per radian in the middle over sphere pixels per radian on the equator; over 1 the
    /// sphere is enlarged there.
    pub centre_scale: f64,
    /// The same at the left and right edge of the horizontal midline.
    pub edge_scale: f64,
    /// How wide one eye must be for a centre scale of 1.
    pub width_for_native: f64,
    /// Points along the view's border, from the top left corner clockwise.
    pub outline: Vec<Point>,
    /// Where it looks.
    pub centre: Point,
    /// Its corners, from the top left clockwise.
    pub corners: [Point; 4],
    /// Whether part of it lies outside what the frame holds.
    pub outside: bool,
}

/// What counts as on the border of a span, in degrees.
const ON_BORDER: f64 = 1e-9;

impl SphereViewRequest {
    /// How the camera is turned.
    pub fn orientation(&self) -> Orientation {
        Orientation { yaw: self.yaw.clone(), pitch: self.pitch.clone(), roll: self.roll.clone() }
    }
}

impl SphereView {
    /// What the camera sees.
    pub fn of(request: &SphereViewRequest) -> Self {
        let (width, height) = (f64::from(request.view.width()), f64::from(request.view.height()));
        let half = (request.fov.radians() / 2.0).tan();
        let turn = [request.yaw.radians(), request.pitch.radians(), request.roll.radians()];
        let flat = Flat { half: [half, half * height / width], turn };
        let (across, up) = (request.span.across.value().to_f64(), request.span.up.value().to_f64());
        let eye = f64::from(request.eye.width());
        let per_radian = width / (2.0 * half);
        let centre_scale = per_radian / (eye / across.to_radians());
        let extent = flat.extent();
        let beyond = |value: f64, half: f64| value.abs() > half + ON_BORDER;
        let outside = extent.latitudes.iter().any(|latitude| beyond(*latitude, up / 2.0))
            || (!request.span.is_full_across()
                && extent.longitudes.is_none_or(|ends| ends.iter().any(|end| beyond(*end, across / 2.0))));
        Self {
            vertical_fov: (2.0 * (half * height / width).atan()).to_degrees(),
            centre_scale,
            edge_scale: centre_scale * (1.0 + half * half),
            width_for_native: centre_scale * eye,
            outline: flat.outline(A_SIDE),
            centre: Direction::new(0.0, 0.0, 1.0).turned(turn).point(),
            corners: flat.corners().map(Direction::point),
            outside,
        }
    }
}
