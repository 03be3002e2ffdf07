//! [`Places`]: where each pixel of an outcome is found in the picture that it is made of.

use std::f32::consts::{FRAC_PI_2, PI};

use ratiomet_core::sphere::{FieldOfView, Matrix, Span};

use super::sampler::Edges;

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
    columns: Vec<[f32; 2]>,
    /// The fewest and the most pixels of the picture that one of the outcome covers.
    steps: [f32; 2],
}

/// The places of a row, or of a part of it: NaN where nothing is found.
#[derive(Default)]
pub(super) struct Row {
    x: Vec<f32>,
    y: Vec<f32>,
    step: Vec<f32>,
}

impl Row {
    /// Those from a column on, up to another one: across, down, and how much a pixel covers.
    pub fn between(&self, from: usize, to: usize) -> impl Iterator<Item = (f32, f32, f32)> + '_ {
        self.x[from..to].iter().zip(&self.y[from..to]).zip(&self.step[from..to]).map(|((x, y), step)| (*x, *y, *step))
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
        Self { kind, matrix: matrix.map(|row| row.map(single)), columns: Vec::new(), steps }
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

    pub const fn steps(&self) -> [f32; 2] {
        self.steps
    }

    /// The places of a row from a column on; past the last one it goes on with the first.
    #[inline(always)]
    pub fn fill(&self, row: u32, [first, count]: [u32; 2], into: &mut Row) {
        let count = count as usize;
        for part in [&mut into.x, &mut into.y, &mut into.step] {
            part.resize(count, 0.0);
        }
        let [mx, my, mz] = self.matrix;
        let down = side(row) + 0.5;
        let places = into.x.iter_mut().zip(&mut into.y).zip(&mut into.step);
        match self.kind {
            Kind::View { size: [width, height], pixel, surface } => {
                let y = -(down - height / 2.0) * pixel;
                let step = self.steps[1];
                let mut column = side(first) + 0.5 - width / 2.0;
                for ((at_x, at_y), at_step) in places {
                    let x = column * pixel;
                    let to = |m: [f32; 3]| m[0] * x + m[1] * y + m[2];
                    [*at_x, *at_y] = surface.place([to(mx), to(my), to(mz)]);
                    *at_step = step / (1.0 + x * x + y * y).sqrt();
                    column += 1.0;
                }
            }
            Kind::Turned { frame, surface } => {
                let (s, c) = frame.latitude(down).sin_cos();
                let step = self.steps[1];
                let columns = self.columns.iter().cycle().skip(first as usize);
                for (((at_x, at_y), at_step), [sin, cos]) in places.zip(columns) {
                    let [x, y, z] = [c * sin, s, c * cos];
                    let to = |m: [f32; 3]| m[0] * x + m[1] * y + m[2] * z;
                    [*at_x, *at_y] = surface.place([to(mx), to(my), to(mz)]);
                    *at_step = step;
                }
            }
            Kind::Placed { frame, size: [width, height], density } => {
                let (s, c) = frame.latitude(down).sin_cos();
                let step = self.steps[0];
                let columns = self.columns.iter().cycle().skip(first as usize);
                for (((at_x, at_y), at_step), [sin, cos]) in places.zip(columns) {
                    let [x, y, z] = [c * sin, s, c * cos];
                    let to = |m: [f32; 3]| m[0] * x + m[1] * y + m[2] * z;
                    let ahead = to(mz);
                    let [x, y] = [to(mx) / ahead, to(my) / ahead];
                    let [left, top] = [width / 2.0 + x * density, height / 2.0 - y * density];
                    let inside = ahead > 0.0 && left >= 0.0 && left < width && top >= 0.0 && top < height;
                    [*at_x, *at_y] = if inside { [left, top] } else { [f32::NAN; 2] };
                    *at_step = step * (1.0 + x * x + y * y);
                }
            }
        }
    }
}

fn longitudes(frame: &Surface) -> Vec<[f32; 2]> {
    let [density, _] = frame.density();
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a side of a picture")]
    let width = frame.size[0] as u32;
    (0..width)
        .map(|column| {
            let longitude = (side(column) + 0.5 - frame.size[0] / 2.0) / density;
            let (sin, cos) = longitude.sin_cos();
            [sin, cos]
        })
        .collect()
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
