//! [`Filter`]: how samples between stored ones are worked out.

use std::f64::consts::PI;

/// A filter for resampling. Making a picture smaller widens it by the same factor.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Filter {
    /// The stored sample whose pixel holds the point.
    Nearest,
    /// Straight lines between samples: a triangle of radius 1.
    Bilinear,
    /// The cubic with B = 0, C = 1/2 (Mitchell and Netravali 1988).
    CatmullRom,
    /// The cubic with B = C = 1/3 (Mitchell and Netravali 1988).
    Mitchell,
    /// A sinc in the window of a wider one, radius 3.
    #[default]
    Lanczos3,
    /// The mean over what an outcome's pixel covers.
    Area,
}

impl Filter {
    /// Every filter.
    pub const ALL: [Self; 6] =
        [Self::Nearest, Self::Bilinear, Self::CatmullRom, Self::Mitchell, Self::Lanczos3, Self::Area];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Nearest => "nearest",
            Self::Bilinear => "bilinear",
            Self::CatmullRom => "catmull-rom",
            Self::Mitchell => "mitchell",
            Self::Lanczos3 => "lanczos3",
            Self::Area => "area",
        }
    }

    /// How far it reaches either way, in samples.
    const fn radius(self) -> f64 {
        match self {
            Self::Nearest | Self::Area => 0.5,
            Self::Bilinear => 1.0,
            Self::CatmullRom | Self::Mitchell => 2.0,
            Self::Lanczos3 => 3.0,
        }
    }

    /// Its value at a distance in samples.
    fn at(self, x: f64) -> f64 {
        let x = x.abs();
        let cubic = |b: f64, c: f64| {
            if x < 1.0 {
                ((12.0 - 9.0 * b - 6.0 * c) * x.powi(3) + (-18.0 + 12.0 * b + 6.0 * c) * x.powi(2) + 6.0 - 2.0 * b)
                    / 6.0
            } else if x < 2.0 {
                ((-b - 6.0 * c) * x.powi(3)
                    + (6.0 * b + 30.0 * c) * x.powi(2)
                    + (-12.0 * b - 48.0 * c) * x
                    + 8.0 * b
                    + 24.0 * c)
                    / 6.0
            } else {
                0.0
            }
        };
        let sinc = |x: f64| if x == 0.0 { 1.0 } else { (PI * x).sin() / (PI * x) };
        match self {
            Self::Nearest | Self::Area => f64::from(u8::from(x <= 0.5)),
            Self::Bilinear => (1.0 - x).max(0.0),
            Self::CatmullRom => cubic(0.0, 0.5),
            Self::Mitchell => cubic(1.0 / 3.0, 1.0 / 3.0),
            Self::Lanczos3 if x < 3.0 => sinc(x) * sinc(x / 3.0),
            Self::Lanczos3 => 0.0,
        }
    }

    /// The samples that make one of the outcome, and how much of each: the outcome's pixel covers `step` samples around
    /// `centre`, and there are `length` of them. What lies beyond the first and the last has no part.
    pub(crate) fn taps(self, centre: f64, step: f64, length: u32) -> Taps {
        let last = f64::from(length) - 1.0;
        let wide = step.max(1.0);
        let reach = match self {
            // A place on the line between two samples belongs to the second one, whichever way it was rounded.
            Self::Nearest => {
                return Taps::new(index((centre + 1e-9).floor().clamp(0.0, last)), vec![1.0]);
            }
            Self::Area => step / 2.0,
            _ => self.radius() * wide,
        };
        let first = (centre - reach).floor().clamp(0.0, last);
        let end = (centre + reach).ceil().clamp(first + 1.0, last + 1.0);
        let weight = |sample: usize| {
            #[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 samples")]
            let left = first + sample as f64;
            match self {
                Self::Area => ((left + 1.0).min(centre + reach) - left.max(centre - reach)).max(0.0),
                _ => self.at((left + 0.5 - centre) / wide),
            }
        };
        let mut weights: Vec<f64> = (0..index(end - first)).map(weight).collect();
        let sum: f64 = weights.iter().sum();
        if sum.abs() < 1e-9 {
            // Nothing within reach: the nearest sample.
            return Self::Nearest.taps(centre, step, length);
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
