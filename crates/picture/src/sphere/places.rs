//! [`Places`]: where each pixel of an outcome is found in the picture that it is made of.

use std::f32::consts::{FRAC_PI_2, PI};

use ratiomet_core::sphere::{FieldOfView, Matrix, Span};

use super::sampler::Edges;
use crate::resample::nearest;

/// A picture that holds longitudes across and latitudes down.
#[derive(Clone, Copy, Debug)]
pub(super) struct Surface {
    size: [f32; 2],
    /// Half of what it holds, in radians.
    half: [f32; 2],
}

/// What still counts as all around.
const ALMOST: f32 = 1e-6;

#[expect(clippy::cast_possible_truncation, reason = "single precision finds a place to a hundredth of a pixel")]
const fn single(value: f64) -> f32 {
    value as f32
}

#[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 pixels")]
const fn side(pixels: u32) -> f32 {
    pixels as f32
}

impl Surface {
    pub fn of(size: [u32; 2], span: &Span) -> Self {
        let half = |degrees: f64| single((degrees / 2.0).to_radians());
        Self { size: size.map(side), half: [half(span.across.value().to_f64()), half(span.up.value().to_f64())] }
    }

    /// What lies beyond its edges.
    pub fn edges(&self) -> Edges {
        let around = self.half[0] > PI - ALMOST;
        match around {
            true if self.half[1] > FRAC_PI_2 - ALMOST => Edges::Sphere,
            true => Edges::Around,
            false => Edges::Ends,
        }
    }

    /// Pixels for each radian, across and down.
    fn density(&self) -> [f32; 2] {
        [0, 1].map(|axis| self.size[axis] / (2.0 * self.half[axis]))
    }
}

/// What the pixels of an outcome are found by.
#[derive(Clone, Copy, Debug)]
enum Kind {
    /// A flat view: the tangent of half its width in pixels, for one of them.
    View { size: [f32; 2], pixel: f32, surface: Surface },
    /// A sphere out of a sphere.
    Turned { frame: Surface, surface: Surface },
    /// A sphere that shows a flat picture of this size, so many pixels for each unit of its tangent.
    Placed { frame: Surface, size: [f32; 2], density: f32 },
}

pub(super) struct Places {
    kind: Kind,
    matrix: [[f32; 3]; 3],
    /// Sines and cosines of the outcome's longitudes.
    columns: [Vec<f32>; 2],
    /// The fewest and the most pixels of the picture that one of the outcome covers.
    steps: [f32; 2],
}

/// The places of a row, or of a part of it: NaN where nothing is found.
#[derive(Default)]
pub(super) struct Row {
    x: Vec<f32>,
    y: Vec<f32>,
    step: Vec<f32>,
    /// The pixels whose centres lie before each place, and how far behind them it lies.
    whole: [Vec<i32>; 2],
    phase: [Vec<u32>; 2],
    /// What is made of a row of three channels, each pixel with room for four.
    made: Vec<[f32; 4]>,
}

impl Row {
    /// Finds the pixels whose centres lie before each place, and how far behind them it lies, in parts of the way to the next.
    #[inline(always)]
    pub fn settle(&mut self, parts: f32) {
        for (places, (whole, phase)) in
            [&self.x, &self.y].into_iter().zip(self.whole.iter_mut().zip(self.phase.iter_mut()))
        {
            let count = places.len();
            whole.resize(count, 0);
            phase.resize(count, 0);
            let (places, whole, phase) = (&places[..count], &mut whole[..count], &mut phase[..count]);
            for at in 0..count {
                let place = places[at] - 0.5;
                let floor = place.floor();
                whole[at] = nearest(floor);
                phase[at] = nearest((place - floor) * parts).cast_unsigned();
            }
        }
    }

    /// Makes the channels of each place that has been settled; what is found nowhere is black.
    #[inline(always)]
    pub fn make(&mut self, see: impl Fn([i32; 2], [u32; 2]) -> [f32; 4]) {
        self.made.resize(self.x.len(), [0.0; 4]);
        let whole = self.whole[0].iter().zip(&self.whole[1]);
        let phase = self.phase[0].iter().zip(&self.phase[1]);
        for (((left, top), (across, down)), made) in whole.zip(phase).zip(&mut self.made) {
            *made = see([*left, *top], [*across, *down]);
        }
    }

    /// Across, down, and how much of the picture a pixel of the outcome covers.
    pub fn places(&self) -> impl Iterator<Item = (f32, f32, f32)> + '_ {
        self.x.iter().zip(&self.y).zip(&self.step).map(|((x, y), step)| (*x, *y, *step))
    }

    /// What has been made.
    pub fn made(&self) -> &[[f32; 4]] {
        &self.made
    }
}

impl Places {
    pub fn view([width, height]: [u32; 2], fov: &FieldOfView, matrix: &Matrix, surface: &Surface) -> Self {
        let size = [side(width), side(height)];
        let half = single((fov.value().to_f64().to_radians() / 2.0).tan());
        let pixel = 2.0 * half / size[0];
        let kind = Kind::View { size, pixel, surface: *surface };
        let corner = half.hypot(half * size[1] / size[0]);
        let middle = pixel * surface.density()[1];
        let steps = [middle / corner.hypot(1.0), middle];
        Self { kind, matrix: matrix.map(|row| row.map(single)), columns: [const { Vec::new() }; 2], steps }
    }

    pub fn turned(frame: &Surface, matrix: &Matrix, surface: &Surface) -> Self {
        let step = surface.density()[1] / frame.density()[1];
        let kind = Kind::Turned { frame: *frame, surface: *surface };
        Self { kind, matrix: matrix.map(|row| row.map(single)), columns: longitudes(frame), steps: [step, step] }
    }

    pub fn placed(frame: &Surface, [width, height]: [u32; 2], wide: &FieldOfView, matrix: &Matrix) -> Self {
        let size = [side(width), side(height)];
        let half = single((wide.value().to_f64().to_radians() / 2.0).tan());
        let density = size[0] / (2.0 * half);
        let corner = half.hypot(half * size[1] / size[0]);
        let middle = density / frame.density()[1];
        // Turned back: from the sphere into the picture.
        let matrix = std::array::from_fn(|row| std::array::from_fn(|column| single(matrix[column][row])));
        Self {
            kind: Kind::Placed { frame: *frame, size, density },
            matrix,
            columns: longitudes(frame),
            steps: [middle, middle * (1.0 + corner * corner)],
        }
    }

    /// Whether the outcome shows nothing but what is found: no ground that is seen beside it.
    pub const fn are_all_there_is(&self) -> bool {
        !matches!(self.kind, Kind::Placed { .. })
    }

    pub const fn steps(&self) -> [f32; 2] {
        self.steps
    }

    /// The places of a row from a column on.
    #[inline(always)]
    pub fn fill(&self, row: u32, [first, count]: [u32; 2], into: &mut Row) {
        let (begin, count) = (first as usize, count as usize);
        for part in [&mut into.x, &mut into.y, &mut into.step] {
            part.resize(count, 0.0);
        }
        let (xs, ys, steps) = (&mut into.x[..count], &mut into.y[..count], &mut into.step[..count]);
        let [mx, my, mz] = self.matrix;
        let down = side(row) + 0.5;
        let step = self.steps;
        match self.kind {
            Kind::View { size: [width, height], pixel, surface } => {
                let y = -(down - height / 2.0) * pixel;
                let left = side(first) + 0.5 - width / 2.0;
                for at in 0..count {
                    let x = (left + counted(at)) * pixel;
                    let to = |m: [f32; 3]| m[0] * x + m[1] * y + m[2];
                    [xs[at], ys[at]] = surface.place([to(mx), to(my), to(mz)]);
                    steps[at] = step[1] / (1.0 + x * x + y * y).sqrt();
                }
            }
            Kind::Turned { frame, surface } => {
                let (s, c) = frame.latitude(down).sin_cos();
                let [sines, cosines] = &self.columns;
                let (sines, cosines) = (&sines[begin..begin + count], &cosines[begin..begin + count]);
                for at in 0..count {
                    let [x, y, z] = [c * sines[at], s, c * cosines[at]];
                    let to = |m: [f32; 3]| m[0] * x + m[1] * y + m[2] * z;
                    [xs[at], ys[at]] = surface.place([to(mx), to(my), to(mz)]);
                    steps[at] = step[1];
                }
            }
            Kind::Placed { frame, size: [width, height], density } => {
                let (s, c) = frame.latitude(down).sin_cos();
                let [sines, cosines] = &self.columns;
                let (sines, cosines) = (&sines[begin..begin + count], &cosines[begin..begin + count]);
                for at in 0..count {
                    let [x, y, z] = [c * sines[at], s, c * cosines[at]];
                    let to = |m: [f32; 3]| m[0] * x + m[1] * y + m[2] * z;
                    let ahead = to(mz);
                    let [x, y] = [to(mx) / ahead, to(my) / ahead];
                    let [left, top] = [width / 2.0 + x * density, height / 2.0 - y * density];
                    let inside = ahead > 0.0 && left >= 0.0 && left < width && top >= 0.0 && top < height;
                    [xs[at], ys[at]] = if inside { [left, top] } else { [f32::NAN; 2] };
                    steps[at] = step[0] * (1.0 + x * x + y * y);
                }
            }
        }
    }
}

#[inline(always)]
#[expect(
    clippy::cast_precision_loss,
    clippy::cast_possible_truncation,
    clippy::cast_possible_wrap,
    reason = "a side has at most 65,536 pixels, and signed numbers are the quicker ones"
)]
const fn counted(at: usize) -> f32 {
    at as i32 as f32
}

fn longitudes(frame: &Surface) -> [Vec<f32>; 2] {
    let [density, _] = frame.density();
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a side of a picture")]
    let width = frame.size[0] as u32;
    (0..width).map(|column| ((side(column) + 0.5 - frame.size[0] / 2.0) / density).sin_cos()).unzip().into()
}

impl Surface {
    fn latitude(&self, down: f32) -> f32 {
        (self.size[1] / 2.0 - down) / self.density()[1]
    }

    /// Where a direction lies, in pixels; NaN where it does not.
    #[inline(always)]
    fn place(&self, [x, y, z]: [f32; 3]) -> [f32; 2] {
        let [across, up] = [arc(x, z), arc(y, (x * x + z * z).sqrt())];
        let [dense_x, dense_y] = self.density();
        let beyond = across.abs() > self.half[0] + ALMOST || up.abs() > self.half[1] + ALMOST;
        let x = self.size[0] / 2.0 + across * dense_x;
        [if beyond { f32::NAN } else { x }, self.size[1] / 2.0 - up * dense_y]
    }
}

/// The angle whose tangent is `y / x`, within 180 degrees: a polynomial that misses by less than a ten-millionth.
#[inline(always)]
fn arc(y: f32, x: f32) -> f32 {
    const PARTS: [f32; 9] = [
        1.,
        -0.333_330_66,
        0.199_924_84,
        -0.142_025_71,
        0.106_367_54,
        -0.074_954_46,
        0.042_587_608,
        -0.016_005_032,
        0.002_834_064,
    ];
    let (across, along) = (x.abs(), y.abs());
    let (least, most) = if along > across { (across, along) } else { (along, across) };
    let tangent = least / most.max(f32::MIN_POSITIVE);
    let square = tangent * tangent;
    let mut sum = 0.0;
    for part in PARTS.iter().rev() {
        sum = sum * square + part;
    }
    let angle = sum * tangent;
    let angle = if along > across { FRAC_PI_2 - angle } else { angle };
    let angle = if x < 0.0 { PI - angle } else { angle };
    angle.copysign(y)
}

#[cfg(test)]
mod tests {
    use super::arc;

    #[test]
    fn the_arc_is_that_of_the_library() {
        let mut worst = 0.0_f64;
        for step in 0..20_000 {
            let angle = f64::from(step) / 20_000.0 * std::f64::consts::TAU - std::f64::consts::PI;
            let (y, x) = angle.sin_cos();
            let found = f64::from(arc(super::single(y), super::single(x)));
            // At the seam either end is right.
            let off = (found - angle).abs();
            worst = worst.max(off.min((off - std::f64::consts::TAU).abs()));
        }
        assert!(worst < 4e-7, "{worst}");
    }
}
