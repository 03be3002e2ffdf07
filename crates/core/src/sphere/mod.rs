//! Equirectangular spheres: their sizes, flat views out of them, flat pictures onto
//! them, and the turn that levels them.
//!
//! Here, and only here, numbers are floating point: sines and tangents have no fractions. x runs to the
//! right, y up, z forward. Longitude 0 and latitude 0 lie in the middle of the frame; longitude grows to
//! the right, latitude upwards; a direction is (cos lat sin lon, sin lat, cos lat cos lon). Angles are
//! degrees wherever they are given or come back.

mod angle;
mod detail;
mod direction;
mod equirectangular;
mod form;
mod level;
mod orientation;
mod place;
mod view;

pub use angle::{Across, Distance, FieldOfView, Latitude, Span, Turn, UpAndDown};
pub use detail::Detail;
pub use equirectangular::{EquirectangularFrame, EyeSize, Layout, PixelsPerDegree};
pub use form::{Eyes, SphereForm};
pub use level::{Mark, Marks, SphereLevel, SphereLevelRequest};
pub use orientation::{Hold, InView, Orientation};
pub use place::{Bounds, SpherePlace, SpherePlaceRequest};
pub use view::{SphereView, SphereViewRequest};

/// A turn as three rows: a direction d of what is turned is found at the matrix times d.
pub type Matrix = [[f64; 3]; 3];

/// A point of the sphere: longitude over -180 up to 180, and latitude, in degrees.
pub type Point = [f64; 2];
