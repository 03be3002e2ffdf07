//! [`SpherePlace`]: a flat picture onto a sphere.

use super::angle::{FieldOfView, Latitude, Turn};
use super::direction::{Direction, Flat};
use super::view::A_SIDE;
use super::{Orientation, Point};
use crate::Raster;
use crate::space::{Delivery, Stored};

/// A flat rectangle that touches the sphere in its middle.
#[derive(Clone, Debug, PartialEq)]
pub struct SpherePlaceRequest {
    /// One eye, which holds the whole sphere.
    pub eye: Raster<Delivery>,
    /// The flat picture.
    pub picture: Raster<Stored>,
    /// Where its middle stands, to the right.
    pub longitude: Turn,
    /// Where its middle stands, upwards.
    pub latitude: Latitude,
    /// Clockwise, as seen from the middle of the sphere.
    pub roll: Turn,
    /// How wide it is seen to be.
    pub width: FieldOfView,
}

/// Whole pixels around a part of a sphere.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Bounds {
    /// The left column, from 0 to the width less 1.
    pub x: u32,
    /// The top line.
    pub y: u32,
    /// Columns; `x + width` may pass the frame's width, and goes on at its left.
    pub width: u32,
    /// Lines.
    pub height: u32,
}

/// Where such a picture lands.
#[derive(Clone, Debug)]
pub struct SpherePlace {
    /// How high it is seen to be, in degrees.
    pub height_degrees: f64,
    /// How far it stands from the middle of the sphere, in its own widths.
    pub distance: f64,
    /// Sphere pixels on the equator per picture pixel in its middle, both per radian; over 1 it is enlarged.
    pub picture_scale: f64,
    /// How wide the picture must be for a scale of 1.
    pub picture_width_for_native: f64,
    /// Points along its border, from the top left corner clockwise.
    pub outline: Vec<Point>,
    /// Its corners, from the top left clockwise.
    pub corners: [Point; 4],
    /// The sphere's pixels around it.
    pub bounds: Bounds,
    /// Whether it crosses the seam or holds a pole.
    pub wraps: bool,
    /// Whether it holds a pole.
    pub holds_pole: bool,
}

/// An edge as near as this to the border of a pixel lies on it.
const ON_BORDER: f64 = 1e-6;

fn down_to_pixel(value: f64) -> f64 {
    if (value - value.round()).abs() < ON_BORDER { value.round() } else { value.floor() }
}

fn up_to_pixel(value: f64) -> f64 {
    if (value - value.round()).abs() < ON_BORDER { value.round() } else { value.ceil() }
}

fn whole(value: f64, most: u32) -> u32 {
    // OK because it is held between 0 and a side of a frame first.
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "held within a frame side")]
    let whole = value.clamp(0.0, f64::from(most)) as u32;
    whole
}

impl SpherePlaceRequest {
    /// How the picture is turned away from the middle of the frame.
    pub fn orientation(&self) -> Orientation {
        Orientation { yaw: self.longitude.clone(), pitch: self.latitude.clone(), roll: self.roll.clone() }
    }
}

impl SpherePlace {
    /// Where the picture lands.
    pub fn of(request: &SpherePlaceRequest) -> Self {
        let (width, height) = (f64::from(request.picture.width()), f64::from(request.picture.height()));
        let half = (request.width.radians() / 2.0).tan();
        let turn = [request.longitude.radians(), request.latitude.radians(), request.roll.radians()];
        let flat = Flat { half: [half, half * height / width], turn };
        let distance = 0.5 / half;
        let eye = [request.eye.width(), request.eye.height()];
        let picture_scale = f64::from(eye[0]) / std::f64::consts::TAU / (width * distance);
        let (bounds, wraps) = bounds(&flat, eye);
        let holds_pole = flat.extent().longitudes.is_none();
        Self {
            height_degrees: (2.0 * (half * height / width).atan()).to_degrees(),
            distance,
            picture_scale,
            picture_width_for_native: width * picture_scale,
            outline: flat.outline(A_SIDE),
            corners: flat.corners().map(Direction::point),
            bounds,
            wraps,
            holds_pole,
        }
    }
}

fn bounds(flat: &Flat, [width, height]: [u32; 2]) -> (Bounds, bool) {
    let extent = flat.extent();
    let (across, down) = (f64::from(width), f64::from(height));
    let line = |latitude: f64| (0.5 - latitude / 180.0) * down;
    let [low, high] = extent.latitudes;
    let y = whole(down_to_pixel(line(high)), height);
    let bottom = whole(up_to_pixel(line(low)), height);
    let rows = |x, width| Bounds { x, y, width, height: bottom - y };
    let Some([left, right]) = extent.longitudes else { return (rows(0, width), true) };
    let column = |longitude: f64| (longitude / 360.0 + 0.5) * across;
    let (first, last) = (down_to_pixel(column(left)), up_to_pixel(column(right)));
    let columns = whole(last - first, width);
    let x = whole(first.rem_euclid(across), width - 1);
    (rows(x, columns), x + columns > width)
}
