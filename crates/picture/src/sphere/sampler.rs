//! [`Sampler`]: a picture at places between its pixels.

use ratiomet_core::resampling::Filter;

use super::How;
use crate::filter::taps;
use crate::light;
use crate::resample::Sample;

/// What lies beyond the edges.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Edges {
    /// Left and right are one; beyond a pole it goes on at the other side.
    Sphere,
    /// Left and right are one.
    Around,
    /// Nothing.
    Ends,
}

/// How finely places between two pixels are told apart.
pub(super) const PHASES: u16 = 512;
/// Widths of a filter in each doubling.
const RUNGS: f32 = 64.0;
/// No filter is wider than this: what is seen has so many more pixels than the outcome that none of them counts.
const WIDEST: f32 = 64.0;

/// A filter at one width: the weights for each place between the centres of two pixels.
struct Kernel {
    /// From the pixel whose centre lies before the place to the first one that counts.
    lead: i32,
    count: usize,
    /// Rows of so many weights.
    weights: Vec<f32>,
    /// Whether there is nothing between two pixels.
    nearest: bool,
}

impl Kernel {
    fn new(filter: Filter, step: f32) -> Self {
        // Far from both ends of a long line.
        let (middle, length) = (4096.5, 8192);
        let phases: Vec<_> = (0..=PHASES)
            .map(|phase| taps(filter, middle + f64::from(phase) / f64::from(PHASES), f64::from(step), length))
            .collect();
        let first = phases.iter().map(|taps| taps.first).min().unwrap_or_default();
        let end = phases.iter().map(crate::filter::Taps::end).max().unwrap_or_default();
        let count = end - first;
        let mut weights = vec![0.0; phases.len() * count];
        for (row, taps) in weights.chunks_exact_mut(count).zip(&phases) {
            let at = taps.first - first;
            row[at..at + taps.count].copy_from_slice(taps.weights());
        }
        #[expect(clippy::cast_possible_truncation, clippy::cast_possible_wrap, reason = "within a few hundred pixels")]
        let lead = first as i32 - 4096;
        Self { lead, count, weights, nearest: filter == Filter::Nearest }
    }

    /// The first pixel that counts, and where the weights of all begin.
    #[inline(always)]
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a place in a picture")]
    fn at(&self, place: f32) -> (i32, usize) {
        let place = place - 0.5;
        let whole = place.floor();
        let part = place - whole;
        let part = if self.nearest { (part + 0.5).floor() } else { part };
        let phase = (part * f32::from(PHASES) + 0.5) as usize;
        (whole as i32 + self.lead, phase.min(usize::from(PHASES)) * self.count)
    }
}

/// A kernel of at most so many pixels, spread over the samples of three channels.
pub(super) struct Narrow<const COUNT: usize, const WIDE: usize> {
    lead: i32,
    across: Vec<[f32; WIDE]>,
    down: Vec<[f32; COUNT]>,
}

impl<const COUNT: usize, const WIDE: usize> Narrow<COUNT, WIDE> {
    fn of(kernel: &Kernel) -> Option<Self> {
        if kernel.count > COUNT || kernel.nearest {
            return None;
        }
        let down: Vec<[f32; COUNT]> = kernel
            .weights
            .chunks_exact(kernel.count)
            .map(|row| std::array::from_fn(|at| row.get(at).copied().unwrap_or_default()))
            .collect();
        let spread = |row: &[f32; COUNT]| std::array::from_fn(|at| row.get(at / 3).copied().unwrap_or_default());
        Some(Self { lead: kernel.lead, across: down.iter().map(spread).collect(), down })
    }
}

/// Kernels that most pictures go through.
pub(super) enum Narrowed {
    /// Lines and cubics.
    Four(Narrow<4, 16>),
    /// Lanczos.
    Six(Narrow<6, 32>),
}

impl Narrowed {
    fn of(kernel: &Kernel) -> Option<Self> {
        Narrow::of(kernel).map(Self::Four).or_else(|| Narrow::of(kernel).map(Self::Six))
    }
}

pub(super) struct Sampler<'a, S, const CHANNELS: usize, const CLEAR: bool> {
    samples: &'a [S],
    size: [i32; 2],
    edges: Edges,
    kernels: Vec<Kernel>,
    /// The rung of the first kernel.
    first: f32,
    /// The only kernel, where it is narrow and there are three channels: what most pictures go through.
    narrow: Option<Narrowed>,
    /// Light of every code value, and back.
    light: Option<(ratiomet_core::resampling::Transfer, Vec<f32>)>,
}

fn rung(filter: Filter, step: f32) -> f32 {
    let least = match filter {
        Filter::Area => 1.0 / WIDEST,
        _ => 1.0,
    };
    match filter {
        Filter::Nearest => 0.0,
        _ => (step.clamp(least, WIDEST).log2() * RUNGS).round(),
    }
}

impl<'a, S: Sample, const CHANNELS: usize, const CLEAR: bool> Sampler<'a, S, CHANNELS, CLEAR> {
    pub fn new(samples: &'a [S], size: [u32; 2], edges: Edges, steps: [f32; 2], how: How) -> Self {
        let [first, last] = steps.map(|step| rung(how.filter, step));
        #[expect(clippy::cast_possible_truncation, reason = "a few hundred")]
        let kernels = (first as i32..=last as i32).map(|rung| {
            #[expect(clippy::cast_precision_loss, reason = "a few hundred")]
            let step = (rung as f32 / RUNGS).exp2();
            Kernel::new(how.filter, step)
        });
        let full = S::FULL;
        let light = how.light.filter(|_| full > 1.0).map(|transfer| {
            #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "256 or 65,536 code values")]
            let codes = 0..=full as u32;
            #[expect(clippy::cast_precision_loss, reason = "as few")]
            let light = codes.map(|code| light::light(transfer, code as f32 / full) * full).collect();
            (transfer, light)
        });
        #[expect(clippy::cast_possible_wrap, reason = "a side has at most 65,536 pixels")]
        let size = size.map(|side| side as i32);
        let kernels: Vec<Kernel> = kernels.collect();
        let narrow = match &kernels[..] {
            [only] if CHANNELS == 3 && !CLEAR && light.is_none() => Narrowed::of(only),
            _ => None,
        };
        Self { samples, size, edges, kernels, narrow, first, light }
    }

    /// The only kernel, where it is narrow and there are three channels.
    pub const fn narrowed(&self) -> Option<&Narrowed> {
        self.narrow.as_ref()
    }

    /// The picture between few pixels each way, from a column and a line on, by the weights for a place between them;
    /// black where those are none of a place.
    #[inline(always)]
    #[expect(
        clippy::cast_sign_loss,
        clippy::cast_possible_truncation,
        clippy::cast_possible_wrap,
        reason = "within the picture, or found to be outside"
    )]
    pub fn narrow<Simd: pulp::Simd, const COUNT: usize, const WIDE: usize>(
        &self,
        simd: Simd,
        narrow: &Narrow<COUNT, WIDE>,
        whole: [i32; 2],
        phase: [u32; 2],
    ) -> [f32; 4] {
        let [left, top] = whole.map(|whole| whole.wrapping_add(narrow.lead));
        let [across, down] = phase.map(|phase| phase as usize);
        let (Some(across), Some(down)) = (narrow.across.get(across), narrow.down.get(down)) else {
            return [0.0; 4];
        };
        let line = self.size[0] as usize * 3;
        // A line above the first one, or below the last, is no part of the samples.
        if (left as u32) < self.size[0].wrapping_sub(COUNT as i32 - 1).max(0) as u32 {
            let start = (top as usize).wrapping_mul(line).wrapping_add((left as usize).wrapping_mul(3));
            // The last row may end before as many samples as are read at once.
            let end = start.wrapping_add((COUNT - 1).wrapping_mul(line)).wrapping_add(WIDE);
            if let Some(rows) = self.samples.get(start..end) {
                let mut sums = [simd.splat_f32s(0.0); WIDE];
                for (row, weight) in down.iter().enumerate() {
                    let Some(samples) = rows.get(row * line..).and_then(|row| row.first_chunk::<WIDE>()) else { break };
                    let mut numbers = [0.0_f32; WIDE];
                    for (number, sample) in numbers.iter_mut().zip(samples) {
                        *number = sample.number();
                    }
                    let weight = simd.splat_f32s(*weight);
                    for (sum, numbers) in sums.iter_mut().zip(Simd::as_simd_f32s(&numbers).0) {
                        *sum = simd.mul_add_f32s(weight, *numbers, *sum);
                    }
                }
                let mut weighed = [0.0_f32; WIDE];
                let weights = Simd::as_simd_f32s(across).0;
                for ((weighed, sum), weight) in
                    Simd::as_mut_simd_f32s(&mut weighed).0.iter_mut().zip(&sums).zip(weights)
                {
                    *weighed = simd.mul_f32s(*sum, *weight);
                }
                // Four at a time, though the fourth is of no use.
                let of = |pixel: usize| -> [f32; 4] { std::array::from_fn(|channel| weighed[pixel * 3 + channel]) };
                let mut sum = of(0);
                for pixel in 1..COUNT {
                    let more = of(pixel);
                    sum = std::array::from_fn(|channel| sum[channel] + more[channel]);
                }
                return sum;
            }
        }
        let across: [f32; COUNT] = std::array::from_fn(|at| across[3 * at]);
        self.anywhere([left, top], &across, down)
    }

    /// A sample as what is weighted.
    #[inline(always)]
    pub fn number(&self, sample: S) -> f32 {
        match &self.light {
            None => sample.number(),
            Some((_, table)) => sample.place().map_or_else(|| sample.number(), |place| table[place]),
        }
    }

    /// What was weighted as a sample.
    #[inline(always)]
    pub fn back(&self, value: f32) -> S {
        match &self.light {
            None => S::of(value),
            Some((transfer, _)) => S::of(light::code(*transfer, (value / S::FULL).clamp(0.0, 1.0)) * S::FULL),
        }
    }

    /// The picture at a place, where one pixel of the outcome covers `step` of it. With transparency, colours count for
    /// as much as they are seen.
    #[inline(always)]
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_possible_wrap,
        clippy::cast_sign_loss,
        reason = "places in a picture and in a table"
    )]
    pub fn at(&self, x: f32, y: f32, step: f32) -> [f32; 4] {
        let kernel = if self.kernels.len() == 1 {
            &self.kernels[0]
        } else {
            let rung = (step.max(f32::MIN_POSITIVE).log2() * RUNGS).round() - self.first;
            &self.kernels[(rung.max(0.0) as usize).min(self.kernels.len() - 1)]
        };
        let ((left, across), (top, down)) = (kernel.at(x), kernel.at(y));
        let (across, down) = (&kernel.weights[across..], &kernel.weights[down..]);
        let [width, height] = self.size;
        let count = kernel.count as i32;
        let inside = left >= 0 && top >= 0 && left + count <= width && top + count <= height;
        if inside && !CLEAR && self.light.is_none() {
            let start = (top as usize * width as usize + left as usize) * CHANNELS;
            let sum = match (kernel.count, CHANNELS) {
                (2, ..3) => self.block::<2, 4>(start, across, down),
                (2, _) => self.block::<2, 8>(start, across, down),
                (4, 1) => self.block::<4, 4>(start, across, down),
                (4, 2) => self.block::<4, 8>(start, across, down),
                (4, _) => self.block::<4, 16>(start, across, down),
                (6, ..3) => self.block::<6, 16>(start, across, down),
                (6, _) => self.block::<6, 24>(start, across, down),
                _ => None,
            };
            if let Some(sum) = sum {
                return sum;
            }
        }
        self.anywhere([left, top], &across[..kernel.count], &down[..kernel.count])
    }

    /// The sum of a block that lies inside; none where reading so many samples would pass the last one.
    #[inline(always)]
    fn block<const COUNT: usize, const WIDE: usize>(
        &self,
        start: usize,
        across: &[f32],
        down: &[f32],
    ) -> Option<[f32; 4]> {
        #[expect(clippy::cast_sign_loss, reason = "a side")]
        let line = self.size[0] as usize * CHANNELS;
        let (across, down) = (across.first_chunk::<COUNT>()?, down.first_chunk::<COUNT>()?);
        let rows = self.samples.get(start..start + (COUNT - 1) * line + WIDE)?;
        let mut sums = [0.0_f32; WIDE];
        for row in 0..COUNT {
            let samples = rows[row * line..].first_chunk::<WIDE>()?;
            for at in 0..WIDE {
                sums[at] += samples[at].number() * down[row];
            }
        }
        let mut made = [0.0; 4];
        for pixel in 0..COUNT {
            for channel in 0..CHANNELS {
                made[channel] += sums[pixel * CHANNELS + channel] * across[pixel];
            }
        }
        Some(made)
    }

    /// The sum wherever it lies.
    #[inline(never)]
    fn anywhere(&self, [left, top]: [i32; 2], across: &[f32], down: &[f32]) -> [f32; 4] {
        let mut made = [0.0; 4];
        let mut whole = 0.0;
        for (y, weight_y) in (top..).zip(down) {
            for (x, weight_x) in (left..).zip(across) {
                let Some(pixel) = self.pixel(x, y) else { continue };
                let weight = weight_x * weight_y;
                whole += weight;
                if CLEAR {
                    let seen = pixel[CHANNELS - 1].number();
                    let share = weight * seen / S::FULL;
                    for (sum, sample) in made.iter_mut().zip(&pixel[..CHANNELS - 1]) {
                        *sum += self.number(*sample) * share;
                    }
                    made[CHANNELS - 1] += weight * seen;
                } else {
                    for (sum, sample) in made.iter_mut().zip(pixel) {
                        *sum += self.number(*sample) * weight;
                    }
                }
            }
        }
        // What is not there has no part.
        if whole.abs() > 1e-6 { made.map(|sum| sum / whole) } else { made }
    }

    #[expect(clippy::cast_sign_loss, reason = "held within the picture")]
    fn pixel(&self, x: i32, y: i32) -> Option<&[S]> {
        let [width, height] = self.size;
        let (mut x, mut y) = (x, y);
        if self.edges == Edges::Sphere && !(0..height).contains(&y) {
            y = if y < 0 { -1 - y } else { 2 * height - 1 - y };
            x += width / 2;
        }
        if self.edges != Edges::Ends {
            x = x.rem_euclid(width);
        }
        if !(0..width).contains(&x) || !(0..height).contains(&y) {
            return None;
        }
        let start = (y as usize * width as usize + x as usize) * CHANNELS;
        Some(&self.samples[start..start + CHANNELS])
    }
}
