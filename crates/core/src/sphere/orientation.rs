//! [`Orientation`]: how a camera, or a whole sphere, is turned.

use super::angle::{Latitude, Turn};
use super::direction::Direction;
use super::{Matrix, Point};

/// A turn: first it rolls, then pitches, then yaws.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Orientation {
    /// To the right.
    pub yaw: Turn,
    /// Upwards.
    pub pitch: Latitude,
    /// Clockwise, as seen from behind.
    pub roll: Turn,
}

impl Default for Orientation {
    fn default() -> Self {
        Self::NONE
    }
}

/// Which way a sphere may be turned by a hand.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Hold {
    /// Any way: the point comes to lie under the hand.
    #[default]
    Free,
    /// Around the upright axis alone: what is level stays level.
    Around,
    /// Around the axis out of the middle of the frame alone: the middle stays where it is.
    Roll,
}

impl Hold {
    /// Every hold.
    pub const ALL: [Self; 3] = [Self::Free, Self::Around, Self::Roll];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Free => "free",
            Self::Around => "around",
            Self::Roll => "roll",
        }
    }
}

fn times(one: &Matrix, other: &Matrix) -> Matrix {
    std::array::from_fn(|row| {
        std::array::from_fn(|column| (0..3).map(|part| one[row][part] * other[part][column]).sum())
    })
}

fn transposed(matrix: &Matrix) -> Matrix {
    std::array::from_fn(|row| std::array::from_fn(|column| matrix[column][row]))
}

/// So near to a pole, in degrees, an upright camera has no horizon to hold to.
const NEAR_POLE: f64 = 0.01;

/// Under this, an angle in degrees is rounding.
const NOTHING: f64 = 1e-7;

impl Orientation {
    /// No turn at all.
    pub const NONE: Self = Self { yaw: Turn::NONE, pitch: Latitude::NONE, roll: Turn::NONE };

    /// Whether it turns nothing.
    pub fn is_none(&self) -> bool {
        *self == Self::NONE
    }

    /// Ry(yaw) Rx(pitch) Rz(roll): a direction d of what is turned is found at `matrix` d in what it is turned out of.
    pub fn matrix(&self) -> Matrix {
        let turn = [self.yaw.radians(), self.pitch.radians(), self.roll.radians()];
        let columns = [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]].map(|[x, y, z]| {
            let Direction { x, y, z } = Direction::new(x, y, z).turned(turn);
            [x, y, z]
        });
        std::array::from_fn(|row| columns.map(|column| column[row]))
    }

    /// The turn of a matrix, to a millionth of a degree.
    pub fn of_matrix(matrix: &Matrix) -> Self {
        let [[right_x, _, forward_x], [right_y, up_y, forward_y], [right_z, _, forward_z]] = *matrix;
        let pitch = forward_y.clamp(-1.0, 1.0).asin().to_degrees();
        // Straight up or down, yaw and roll are one.
        let [yaw, roll] = if pitch.abs() > 90.0 - NOTHING {
            [f64::atan2(-right_z, right_x), 0.0]
        } else {
            [f64::atan2(forward_x, forward_z), f64::atan2(-right_y, up_y)]
        };
        Self { yaw: turn_of(yaw), pitch: latitude_of(pitch.to_radians()), roll: turn_of(roll) }
    }

    /// How it is said: `"yaw 12.5°, pitch -3°, roll 0°"`.
    pub fn words(&self) -> String {
        let parts = [("yaw", self.yaw.value()), ("pitch", self.pitch.value()), ("roll", self.roll.value())];
        let parts = parts.map(|(name, degrees)| format!("{name} {}°", degrees.to_short_decimal(2)));
        parts.join(", ")
    }

    /// This turn after another one: what is seen through both.
    #[must_use]
    pub fn within(&self, outer: &Self) -> Self {
        match (self.is_none(), outer.is_none()) {
            (_, true) => self.clone(),
            (true, _) => outer.clone(),
            _ => Self::of_matrix(&times(&outer.matrix(), &self.matrix())),
        }
    }

    /// The same look in a sphere that was turned in one way, and is turned in another now: at the same thing, rolled as
    /// before.
    #[must_use]
    pub fn carried(&self, before: &Self, now: &Self) -> Self {
        if before == now {
            return self.clone();
        }
        let there = Self::of_matrix(&times(&transposed(&now.matrix()), &times(&before.matrix(), &self.matrix())));
        // Straight up or down, yaw and roll are one.
        let at_pole = there.pitch.value().to_f64().abs() > 90.0 - NEAR_POLE;
        if at_pole { there } else { Self { roll: self.roll.clone(), ..there } }
    }

    /// The turn of a sphere after a hand has taken what is seen `from` a point to another one: with a free hold it comes
    /// to lie there exactly, on the shortest way.
    #[must_use]
    pub fn dragged(&self, from: Point, to: Point, hold: Hold) -> Self {
        let [from, to] = [from, to].map(direction);
        // The turn of the frame: what is now found at `to` was found at `from`.
        let by: Matrix = match hold {
            Hold::Free => shortest(to, from),
            Hold::Around => {
                let angle = f64::atan2(from[0], from[2]) - f64::atan2(to[0], to[2]);
                let (s, c) = angle.sin_cos();
                [[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]]
            }
            Hold::Roll => {
                let angle = f64::atan2(from[1], from[0]) - f64::atan2(to[1], to[0]);
                let (s, c) = angle.sin_cos();
                [[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]
            }
        };
        Self::of_matrix(&times(&self.matrix(), &by))
    }
}

/// Degrees of radians, to a millionth, as text.
fn degrees(radians: f64) -> String {
    let text = format!("{:.6}", radians.to_degrees());
    let text = text.trim_end_matches('0').trim_end_matches('.');
    if matches!(text, "-0" | "") { "0".to_owned() } else { text.to_owned() }
}

// OK because arc functions stay within a turn.
fn turn_of(radians: f64) -> Turn {
    Turn::parse(&degrees(radians)).unwrap_or(Turn::NONE)
}

fn latitude_of(radians: f64) -> Latitude {
    Latitude::parse(&degrees(radians)).unwrap_or(Latitude::NONE)
}

fn direction([longitude, latitude]: Point) -> [f64; 3] {
    let ((sin_lon, cos_lon), (sin_lat, cos_lat)) = (longitude.to_radians().sin_cos(), latitude.to_radians().sin_cos());
    [cos_lat * sin_lon, sin_lat, cos_lat * cos_lon]
}

/// The matrix that takes one direction to another around the axis that is square to both.
fn shortest(one: [f64; 3], other: [f64; 3]) -> Matrix {
    let cosine: f64 = (0..3).map(|part| one[part] * other[part]).sum();
    let [x, y, z] = [
        one[1] * other[2] - one[2] * other[1],
        one[2] * other[0] - one[0] * other[2],
        one[0] * other[1] - one[1] * other[0],
    ];
    if cosine < -1.0 + 1e-12 {
        // Opposite: around the upright axis, as good as any.
        return [[-1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, -1.0]];
    }
    let k = 1.0 / (1.0 + cosine);
    [
        [cosine + k * x * x, k * x * y - z, k * x * z + y],
        [k * x * y + z, cosine + k * y * y, k * y * z - x],
        [k * x * z - y, k * y * z + x, cosine + k * z * z],
    ]
}

/// A pixel of a flat view, from its middle: to the right and upwards, where the view is one wide at its field of view.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct InView {
    /// From -1/2 at the left edge to 1/2.
    pub right: f64,
    /// In the same measure.
    pub up: f64,
}

impl InView {
    /// The place of a pixel, counted from the top left, where the view is shown at some size.
    pub fn of_pixel(size: [u32; 2], [x, y]: [u32; 2]) -> Self {
        let [width, height] = size.map(f64::from);
        Self { right: f64::from(x) / width - 0.5, up: (height / 2.0 - f64::from(y)) / width }
    }
}

impl Orientation {
    /// Where a camera of this field of view looks after a hand has taken what is seen at one place of its view to
    /// another: the camera yaws and pitches, and rolls as before.
    #[must_use]
    pub fn looked(&self, fov: &super::FieldOfView, from: InView, to: InView) -> Self {
        let wide = 2.0 * (fov.radians() / 2.0).tan();
        let ray = |at: InView| Direction::new(at.right * wide, at.up * wide, 1.0);
        let turn = [self.yaw.radians(), self.pitch.radians(), self.roll.radians()];
        let held = ray(from).turned(turn);
        let length = |d: Direction| (d.x * d.x + d.y * d.y + d.z * d.z).sqrt();
        let sine = held.y / length(held);
        let rolled = ray(to).turned([0.0, 0.0, turn[2]]);
        // Pitched by p, its height is y cos p + z sin p of its length.
        let reach = rolled.y.hypot(rolled.z) / length(rolled);
        let pitch = (sine / reach).clamp(-1.0, 1.0).asin() - rolled.y.atan2(rolled.z);
        let pitch = pitch.clamp(-std::f64::consts::FRAC_PI_2, std::f64::consts::FRAC_PI_2);
        let pitched = rolled.turned([0.0, pitch, 0.0]);
        let yaw = held.x.atan2(held.z) - pitched.x.atan2(pitched.z);
        let yaw = (yaw + std::f64::consts::PI).rem_euclid(std::f64::consts::TAU) - std::f64::consts::PI;
        Self { yaw: turn_of(yaw), pitch: latitude_of(pitch), roll: self.roll.clone() }
    }

    /// The point of the sphere that a camera of this field of view has at a place of its view.
    pub fn sees(&self, fov: &super::FieldOfView, at: InView) -> Point {
        let wide = 2.0 * (fov.radians() / 2.0).tan();
        let turn = [self.yaw.radians(), self.pitch.radians(), self.roll.radians()];
        Direction::new(at.right * wide, at.up * wide, 1.0).turned(turn).point()
    }

    /// Where a point of the turned frame is found in the stored one.
    pub fn found(&self, point: Point) -> Point {
        let turn = [self.yaw.radians(), self.pitch.radians(), self.roll.radians()];
        let [x, y, z] = direction(point);
        Direction::new(x, y, z).turned(turn).point()
    }

    /// Where a point of the stored frame comes to lie in the turned one.
    pub fn lies(&self, point: Point) -> Point {
        let turn = [self.yaw.radians(), self.pitch.radians(), self.roll.radians()];
        let [x, y, z] = direction(point);
        Direction::new(x, y, z).turned_back(turn).point()
    }

    /// Where the seam of the stored frame comes to lie in the turned one, from pole to pole.
    pub fn seam(&self) -> Vec<Point> {
        (0..=24).map(|step| self.lies([180.0, f64::from(step) * 7.5 - 90.0])).collect()
    }

    /// Where its zenith comes to lie.
    pub fn zenith(&self) -> Point {
        self.lies([0.0, 90.0])
    }

    /// Where its horizon is found, all around.
    pub fn horizon(&self) -> Vec<Point> {
        (0..=72).map(|step| self.found([f64::from(step) * 5.0 - 180.0, 0.0])).collect()
    }

    /// The turn that takes this one back.
    #[must_use]
    pub fn inverse(&self) -> Self {
        Self::of_matrix(&transposed(&self.matrix()))
    }
}
