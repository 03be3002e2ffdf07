//! [`SphereLevel`]: the turn that levels a horizon.

use nalgebra::{DMatrix, Matrix3, Vector3};

use super::angle::{Latitude, Turn};
use crate::Error;
use crate::error::Parameter;

/// A point of the sphere as somebody marked it.
#[derive(Clone, Debug, PartialEq)]
pub struct Mark {
    /// To the right.
    pub longitude: Turn,
    /// Upwards.
    pub latitude: Latitude,
}

impl Mark {
    fn direction(&self) -> Vector3<f64> {
        let (sin_lon, cos_lon) = self.longitude.radians().sin_cos();
        let (sin_lat, cos_lat) = self.latitude.radians().sin_cos();
        Vector3::new(cos_lat * sin_lon, sin_lat, cos_lat * cos_lon)
    }
}

/// What should be level afterwards.
#[derive(Clone, Debug, PartialEq)]
pub enum Marks {
    /// Points that should come to lie on the equator, at least two.
    Horizon(Vec<Mark>),
    /// Lines along things that should stand upright, at least one.
    Uprights(Vec<[Mark; 2]>),
}

impl Marks {
    /// The most points of a horizon.
    pub const MOST_POINTS: usize = 64;
    /// The most upright lines.
    pub const MOST_LINES: usize = 32;

    const fn parameter(&self) -> Parameter {
        match self {
            Self::Horizon(_) => Parameter::Horizon,
            Self::Uprights(_) => Parameter::Uprights,
        }
    }
}

/// What is asked: a turn.
#[derive(Clone, Debug, PartialEq)]
pub struct SphereLevelRequest {
    /// What should be level.
    pub marks: Marks,
    /// The point that should come into the middle across; its height above the horizon stays.
    pub centre: Option<Mark>,
}

/// The turn that levels a sphere.
#[derive(Clone, Debug)]
pub struct SphereLevel {
    /// A direction d of the levelled frame is found at `matrix` d in the frame as it is.
    pub matrix: [[f64; 3]; 3],
    /// The same as yaw, pitch and roll in degrees, in the conventions of a view: the matrix is
    /// Ry(yaw) Rx(pitch) Rz(roll).
    pub angles: [f64; 3],
    /// Degrees between the up that was found and the frame's own.
    pub tilt: f64,
    /// By how many degrees the mark that fits worst misses.
    pub residual: f64,
}

/// Sines under this are rounding: two directions that are one, or an up that lies on the equator.
const NOTHING: f64 = 1e-12;

impl SphereLevel {
    /// The turn of the request.
    ///
    /// # Errors
    /// [`Error::is_unsettled`] at the marks when they settle no up, or one that lies on the equator; at the
    /// centre when that is the pole.
    ///
    /// ```
    /// use ratiomet_core::sphere::*;
    /// let mark = |longitude, latitude| -> Result<Mark, ratiomet_core::Error> {
    ///     Ok(Mark { longitude: Turn::parse(longitude)?, latitude: Latitude::parse(latitude)? })
    /// };
    /// // The horizon rises by 10 degrees in front, and is level at the sides.
    /// let horizon = vec![mark("0", "10")?, mark("90", "0")?];
    /// let level = SphereLevel::of(&SphereLevelRequest { marks: Marks::Horizon(horizon), centre: None })?;
    /// assert!((level.tilt - 10.0).abs() < 1e-9);
    /// assert!((level.angles[1] - 10.0).abs() < 1e-9);
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(request: &SphereLevelRequest) -> Result<Self, Error> {
        let unsettled = || Error::unsettled().at(request.marks.parameter());
        let normals = match &request.marks {
            Marks::Horizon(points) => points.iter().map(Mark::direction).collect(),
            Marks::Uprights(lines) => lines
                .iter()
                .map(|[from, to]| unit(from.direction().cross(&to.direction())))
                .collect::<Option<Vec<_>>>()
                .ok_or_else(unsettled)?,
        };
        let up = up(&normals).filter(|up| up.y.abs() > NOTHING).ok_or_else(unsettled)?;
        let up = if up.y > 0.0 { up } else { -up };
        let ahead = request.centre.as_ref().map_or_else(Vector3::z, Mark::direction);
        let forward = unit(ahead - up * up.dot(&ahead)).ok_or_else(|| Error::pole().at(Parameter::Centre))?;
        let matrix = Matrix3::from_columns(&[up.cross(&forward), up, forward]);
        let miss = |normal: &Vector3<f64>| normal.dot(&up).clamp(-1.0, 1.0).asin().abs();
        let right = matrix.column(0);
        Ok(Self {
            angles: [
                forward.x.atan2(forward.z).to_degrees(),
                forward.y.clamp(-1.0, 1.0).asin().to_degrees(),
                (-right.y).atan2(up.y).to_degrees(),
            ],
            tilt: up.x.hypot(up.z).atan2(up.y).to_degrees(),
            residual: normals.iter().map(miss).fold(0.0, f64::max).to_degrees(),
            matrix: [0, 1, 2].map(|row| [0, 1, 2].map(|column| matrix[(row, column)])),
        })
    }
}

fn unit(vector: Vector3<f64>) -> Option<Vector3<f64>> {
    vector.try_normalize(NOTHING)
}

/// The direction with the least sum of squared dot products with some others; of a single one, what is
/// nearest to the frame's own up.
fn up(normals: &[Vector3<f64>]) -> Option<Vector3<f64>> {
    match normals {
        [only] => unit(Vector3::y() - only * only.y),
        [one, other] => unit(one.cross(other)),
        many => {
            let rows = DMatrix::from_fn(many.len(), 3, |row, column| many[row][column]);
            let parts = rows.svd(false, true);
            // Sorted, the largest first.
            let (values, turn) = (parts.singular_values, parts.v_t?);
            let settled = values[1] - values[2] > NOTHING * values[0];
            settled.then(|| turn.row(2).transpose().fixed_rows::<3>(0).into_owned())
        }
    }
}
