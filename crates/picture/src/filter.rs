//! [`taps`]: by which samples a filter makes one of the outcome, and how much each of them counts.

use std::f64::consts::PI;

use ratiomet_core::resampling::Filter;

/// A cubic of the family of Mitchell and Netravali (1988), at a distance in samples.
fn cubic(b: f64, c: f64, x: f64) -> f64 {
    let sum = match x {
        _ if x < 1.0 => {
            (12.0 - 9.0 * b - 6.0 * c) * x.powi(3) + (-18.0 + 12.0 * b + 6.0 * c) * x.powi(2) + 6.0 - 2.0 * b
        }
        _ if x < 2.0 => {
            (-b - 6.0 * c) * x.powi(3)
                + (6.0 * b + 30.0 * c) * x.powi(2)
                + (-12.0 * b - 48.0 * c) * x
                + 8.0 * b
                + 24.0 * c
        }
        _ => 0.0,
    };
    sum / 6.0
}

fn triangle(x: f64) -> f64 {
    (1.0 - x).max(0.0)
}

fn catmull_rom(x: f64) -> f64 {
    cubic(0.0, 0.5, x)
}

fn mitchell(x: f64) -> f64 {
    cubic(1.0 / 3.0, 1.0 / 3.0, x)
}

fn lanczos3(x: f64) -> f64 {
    let sinc = |x: f64| if x == 0.0 { 1.0 } else { (PI * x).sin() / (PI * x) };
    if x < 3.0 { sinc(x) * sinc(x / 3.0) } else { 0.0 }
}

/// The samples that make one of the outcome, and how much of each: the outcome's pixel covers `step` samples around
/// `centre`, and there are `length` of them. What lies beyond the first and the last has no part.
pub(crate) fn taps(filter: Filter, centre: f64, step: f64, length: u32) -> Taps {
    match filter {
        Filter::Nearest => nearest(centre, length),
        Filter::Area => {
            let half = step / 2.0;
            let covered = |left: f64| ((left + 1.0).min(centre + half) - left.max(centre - half)).max(0.0);
            weighed(centre, half, length, covered)
        }
        Filter::Bilinear => curve(centre, step, length, (1.0, triangle)),
        Filter::CatmullRom => curve(centre, step, length, (2.0, catmull_rom)),
        Filter::Mitchell => curve(centre, step, length, (2.0, mitchell)),
        Filter::Lanczos3 => curve(centre, step, length, (3.0, lanczos3)),
    }
}

/// Those of a curve that reaches so far either way; making a picture smaller widens it.
fn curve(centre: f64, step: f64, length: u32, (radius, value): (f64, fn(f64) -> f64)) -> Taps {
    let wide = step.max(1.0);
    weighed(centre, radius * wide, length, |left| value(((left + 0.5 - centre) / wide).abs()))
}

fn nearest(centre: f64, length: u32) -> Taps {
    // A place on the line between two samples belongs to the second one, whichever way it was rounded.
    let place = (centre + 1e-9).floor().clamp(0.0, f64::from(length) - 1.0);
    Taps::new(index(place), vec![1.0])
}

/// The samples within reach, each by the weight of its left edge.
fn weighed(centre: f64, reach: f64, length: u32, weight: impl Fn(f64) -> f64) -> Taps {
    let last = f64::from(length) - 1.0;
    let first = (centre - reach).floor().clamp(0.0, last);
    let end = (centre + reach).ceil().clamp(first + 1.0, last + 1.0);
    #[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 samples")]
    let mut weights: Vec<f64> = (0..index(end - first)).map(|sample| weight(first + sample as f64)).collect();
    let sum: f64 = weights.iter().sum();
    if sum.abs() < 1e-9 {
        // Nothing within reach.
        return nearest(centre, length);
    }
    weights.iter_mut().for_each(|weight| *weight /= sum);
    let skipped = weights.iter().take_while(|weight| **weight == 0.0).count();
    weights.drain(..skipped);
    while weights.last() == Some(&0.0) {
        weights.pop();
    }
    #[expect(clippy::cast_possible_truncation, reason = "weights are kept in single precision")]
    let weights = weights.into_iter().map(|weight| weight as f32).collect();
    Taps::new(index(first) + skipped, weights)
}

/// The samples around one that a blur of this standard deviation mixes; those at an edge stand for what lies beyond.
pub(crate) fn gauss(deviation: f64, pixel: u32, length: u32) -> Taps {
    let centre = f64::from(pixel) + 0.5;
    weighed(centre, 3.0 * deviation + 0.5, length, |left| (-((left + 0.5 - centre) / deviation).powi(2) / 2.0).exp())
}

/// Samples that make one of the outcome.
pub(crate) struct Taps {
    pub first: usize,
    /// How many there are.
    pub count: usize,
    /// How much each of them counts; filled up with nothing to a multiple of four.
    weights: Vec<f32>,
}

impl Taps {
    fn new(first: usize, mut weights: Vec<f32>) -> Self {
        let count = weights.len();
        weights.resize(count.next_multiple_of(4), 0.0);
        Self { first, count, weights }
    }

    /// How much each sample counts.
    pub fn weights(&self) -> &[f32] {
        &self.weights[..self.count]
    }

    /// The same, four at a time.
    pub fn fours(&self) -> &[[f32; 4]] {
        self.weights.as_chunks().0
    }

    pub fn end(&self) -> usize {
        self.first + self.count
    }
}

#[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "held between 0 and a side")]
const fn index(place: f64) -> usize {
    place as usize
}
