//! Directions from the middle of the sphere, turned and put back on it.

use super::Point;

/// A direction; its length does not matter.
#[derive(Clone, Copy, Debug)]
pub(super) struct Direction {
    pub x: f64,
    pub y: f64,
    pub z: f64,
}

/// How near to the axis a direction counts as a pole.
const POLE: f64 = 1e-12;

impl Direction {
    pub const fn new(x: f64, y: f64, z: f64) -> Self {
        Self { x, y, z }
    }

    /// Turned by a camera that rolls, then pitches, then yaws; radians. A positive roll turns the camera
    /// clockwise as seen from behind, a positive pitch looks up, a positive yaw to the right.
    pub fn turned(self, [yaw, pitch, roll]: [f64; 3]) -> Self {
        let (s, c) = roll.sin_cos();
        let (x, y, z) = (self.x * c + self.y * s, self.y * c - self.x * s, self.z);
        let (s, c) = pitch.sin_cos();
        let (y, z) = (y * c + z * s, z * c - y * s);
        let (s, c) = yaw.sin_cos();
        Self::new(x * c + z * s, y, z * c - x * s)
    }

    /// The turn of [`Direction::turned`] taken back.
    pub fn turned_back(self, [yaw, pitch, roll]: [f64; 3]) -> Self {
        let (s, c) = yaw.sin_cos();
        let (x, z) = (self.x * c - self.z * s, self.z * c + self.x * s);
        let (s, c) = pitch.sin_cos();
        let (y, z) = (self.y * c - z * s, z * c + self.y * s);
        let (s, c) = roll.sin_cos();
        Self::new(x * c - y * s, y * c + x * s, z)
    }

    /// Longitude and latitude in degrees.
    pub fn point(self) -> Point {
        let longitude = self.x.atan2(self.z).to_degrees();
        [if longitude <= -180.0 { 180.0 } else { longitude }, self.latitude()]
    }

    pub fn latitude(self) -> f64 {
        self.y.atan2(self.x.hypot(self.z)).to_degrees()
    }
}

/// A flat rectangle seen from the middle of the sphere: half its sides at distance 1, and its turn.
pub(super) struct Flat {
    pub half: [f64; 2],
    pub turn: [f64; 3],
}

/// Between which longitudes and latitudes a flat rectangle lies.
pub(super) struct Extent {
    /// From the left to the right edge, in degrees; the right one may pass 180. None around a pole.
    pub longitudes: Option<[f64; 2]>,
    /// The lowest and the highest, in degrees.
    pub latitudes: [f64; 2],
}

impl Flat {
    /// The four corners from the top left clockwise.
    pub fn corners(&self) -> [Direction; 4] {
        let [w, h] = self.half;
        [[-w, h], [w, h], [w, -h], [-w, -h]].map(|[x, y]| Direction::new(x, y, 1.0).turned(self.turn))
    }

    /// Points along the border, so many a side, from the top left corner clockwise.
    pub fn outline(&self, a_side: u32) -> Vec<Point> {
        let corners = self.corners();
        let sides = (0..4).map(|side| (corners[side], corners[(side + 1) % 4]));
        sides
            .flat_map(|(from, to)| {
                (0..a_side).map(move |step| between(from, to, f64::from(step) / f64::from(a_side)).point())
            })
            .collect()
    }

    /// Whether it holds the pole at this end of the y axis.
    fn holds_pole(&self, up: f64) -> bool {
        let pole = Direction::new(0.0, up, 0.0).turned_back(self.turn);
        let [w, h] = self.half;
        pole.z > POLE && pole.x.abs() <= w * pole.z + POLE && pole.y.abs() <= h * pole.z + POLE
    }

    /// Where it lies. Its sides are straight, so each lies on a great circle: the longitude runs one way
    /// along it, and the latitude has at most one turning point.
    pub fn extent(&self) -> Extent {
        let corners = self.corners();
        let sides: Vec<_> = (0..4).map(|side| (corners[side], corners[(side + 1) % 4])).collect();
        let latitudes = corners
            .iter()
            .copied()
            .chain(sides.iter().filter_map(|(from, to)| turning_point(*from, *to)))
            .map(Direction::latitude);
        let (mut low, mut high) =
            latitudes.fold((90.0_f64, -90.0_f64), |(low, high), each| (low.min(each), high.max(each)));
        let (north, south) = (self.holds_pole(1.0), self.holds_pole(-1.0));
        if north {
            high = 90.0;
        }
        if south {
            low = -90.0;
        }
        let longitudes = (!north && !south).then(|| {
            let first = corners[0].point()[0];
            let (mut at, mut left, mut right) = (first, first, first);
            for (from, to) in &sides {
                // Each side is shorter than half a turn.
                let mut by = to.point()[0] - from.point()[0];
                if by > 180.0 {
                    by -= 360.0;
                } else if by < -180.0 {
                    by += 360.0;
                }
                at += by;
                left = left.min(at);
                right = right.max(at);
            }
            [left, right]
        });
        Extent { longitudes, latitudes: [low, high] }
    }
}

fn between(from: Direction, to: Direction, part: f64) -> Direction {
    let at = |from: f64, to: f64| from + (to - from) * part;
    Direction::new(at(from.x, to.x), at(from.y, to.y), at(from.z, to.z))
}

/// Where the latitude turns along a straight line, if it does between its ends.
fn turning_point(from: Direction, to: Direction) -> Option<Direction> {
    let by = Direction::new(to.x - from.x, to.y - from.y, to.z - from.z);
    // y over the length, with y = a + b t and the length the root of c + 2 d t + e t².
    let (a, b) = (from.y, by.y);
    let dot = |one: Direction, other: Direction| one.x * other.x + one.y * other.y + one.z * other.z;
    let (c, d, e) = (dot(from, from), dot(from, by), dot(by, by));
    let part = (a * d - b * c) / (b * d - a * e);
    (part > 0.0 && part < 1.0).then(|| between(from, to, part))
}
