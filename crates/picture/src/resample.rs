//! Resampling by the definition of the filters, for every depth: rows are weighted, then columns, in single precision
//! between, so that what overshoots is cut off only at the end.

use image::DynamicImage;
use rayon::prelude::*;

use crate::filter::Taps;
use crate::light;
use ratiomet_core::resampling::Transfer;

/// A sample of some depth, as a number from 0 on; whole ones are rounded and held to their range.
pub(crate) trait Sample: Copy + Send + Sync {
    const FULL: f32;
    fn number(self) -> f32;
    fn of(number: f32) -> Self;
    /// Its place in a table of every code value, if there are few.
    fn place(self) -> Option<usize>;
}

macro_rules! whole_samples {
    ($($sample:ty: $full:literal;)*) => {$(
        impl Sample for $sample {
            const FULL: f32 = $full;
            #[inline(always)]
            fn number(self) -> f32 {
                f32::from(self)
            }
            #[inline(always)]
            #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "rounded and held to the range")]
            fn of(number: f32) -> Self {
                (number + 0.5).clamp(0.0, $full) as Self
            }
            #[inline(always)]
            fn place(self) -> Option<usize> {
                Some(usize::from(self))
            }
        }
    )*};
}

whole_samples! {
    u8: 255.0;
    u16: 65_535.0;
}

impl Sample for f32 {
    const FULL: f32 = 1.0;
    #[inline(always)]
    fn number(self) -> f32 {
        self
    }
    #[inline(always)]
    fn of(number: f32) -> Self {
        number
    }
    #[inline(always)]
    fn place(self) -> Option<usize> {
        None
    }
}

/// Does the same to a picture of any depth and layout: of one, or of two that are alike.
macro_rules! each_depth {
    ($picture:expr, $name:ident => $work:expr) => {{
        use image::DynamicImage as Any;
        match $picture {
            Any::ImageLuma8($name) => $work,
            Any::ImageLumaA8($name) => $work,
            Any::ImageRgb8($name) => $work,
            Any::ImageRgba8($name) => $work,
            Any::ImageLuma16($name) => $work,
            Any::ImageLumaA16($name) => $work,
            Any::ImageRgb16($name) => $work,
            Any::ImageRgba16($name) => $work,
            Any::ImageRgb32F($name) => $work,
            Any::ImageRgba32F($name) => $work,
            _ => unreachable!("stills are kept in these layouts"),
        }
    }};
}
pub(crate) use each_depth;

/// The outcome's pixels from `at` on, each made of its taps across and down, written into `into`. Taps count from a
/// `corner` of the picture.
pub(crate) fn resample(
    from: &DynamicImage,
    corner: [u32; 2],
    into: &mut DynamicImage,
    at: [u32; 2],
    taps: [&[Taps]; 2],
    light: Option<Transfer>,
) {
    macro_rules! alike {
        ($($variant:ident: $channels:literal, $clear:literal;)*) => {
            match (from, into) {
                $((DynamicImage::$variant(from), DynamicImage::$variant(into)) => {
                    let lines = [from.width(), into.width()].map(|width| width as usize * $channels);
                    let start = corner[1] as usize * lines[0] + corner[0] as usize * $channels;
                    weighted::<_, $channels, $clear>(&from.as_raw()[start..], into, lines, at, taps, light);
                })*
                _ => unreachable!("an outcome is as deep as its picture"),
            }
        };
    }
    alike!(
        ImageLuma8: 1, false;
        ImageLumaA8: 2, true;
        ImageRgb8: 3, false;
        ImageRgba8: 4, true;
        ImageLuma16: 1, false;
        ImageLumaA16: 2, true;
        ImageRgb16: 3, false;
        ImageRgba16: 4, true;
        ImageRgb32F: 3, false;
        ImageRgba32F: 4, true;
    );
}

/// Samples that are weighted together; the last channel of `CLEAR` ones tells how much is seen.
fn weighted<S: Sample, const CHANNELS: usize, const CLEAR: bool>(
    from: &[S],
    into: &mut [S],
    [line, out_line]: [usize; 2],
    [left, top]: [u32; 2],
    [across, down]: [&[Taps]; 2],
    light: Option<Transfer>,
) {
    let (Some(begin), Some(end)) = (across.iter().map(|taps| taps.first).min(), across.iter().map(Taps::end).max())
    else {
        return;
    };
    let full = S::FULL;
    // Float pictures hold light already.
    let table: Option<(Transfer, Vec<f32>)> = light.filter(|_| full > 1.0).map(|transfer| {
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "256 or 65,536 code values")]
        let codes = 0..=full as u32;
        #[expect(clippy::cast_precision_loss, reason = "as few")]
        let light = codes.map(|code| light::light(transfer, code as f32 / full) * full).collect();
        (transfer, light)
    });
    let arch = pulp::Arch::new();
    let out = into.par_chunks_mut(out_line).skip(top as usize).take(down.len());
    // More than there are: they are taken sixteen at a time.
    let sums = || vec![0.0_f32; (end - begin) * CHANNELS + MORE];
    out.zip(down).for_each_init(sums, |sums, (out, rows)| {
        let out = &mut out[left as usize * CHANNELS..];
        let line = Line { from, line, begin, rows, across, sums, out };
        match &table {
            None => arch.dispatch(Weighed::<_, _, _, CHANNELS, CLEAR> { line, number: S::number, back: S::of }),
            Some((transfer, table)) => arch.dispatch(Weighed::<_, _, _, CHANNELS, CLEAR> {
                line,
                number: |sample: S| sample.place().map_or_else(|| sample.number(), |place| table[place]),
                back: |light: f32| S::of(light::code(*transfer, (light / full).clamp(0.0, 1.0)) * full),
            }),
        }
    });
}

/// A line of the outcome, and what it is made of.
struct Line<'a, S> {
    from: &'a [S],
    line: usize,
    /// The first column that has a part in the outcome.
    begin: usize,
    rows: &'a Taps,
    across: &'a [Taps],
    sums: &'a mut Vec<f32>,
    out: &'a mut [S],
}

/// The work on a line, compiled for each kind of processor.
struct Weighed<'a, S, N, B, const CHANNELS: usize, const CLEAR: bool> {
    line: Line<'a, S>,
    /// A sample as a number that is weighted.
    number: N,
    /// Such a number as a sample.
    back: B,
}

/// How many samples are summed at once: they stay in the processor.
const BLOCK: usize = 64;
/// Sums behind the last one, always 0.
const MORE: usize = 16;

impl<S, N, B, const CHANNELS: usize, const CLEAR: bool> pulp::WithSimd for Weighed<'_, S, N, B, CHANNELS, CLEAR>
where
    S: Sample,
    N: Fn(S) -> f32,
    B: Fn(f32) -> S,
{
    type Output = ();

    #[inline(always)]
    fn with_simd<Simd: pulp::Simd>(self, _: Simd) {
        let Self { line: Line { from, line, begin, rows, across, sums, out }, number, back } = self;
        let used = sums.len() - MORE;
        let start = rows.first * line + begin * CHANNELS;
        let seen = CHANNELS - 1;
        if CLEAR {
            sums.fill(0.0);
            for (row, weight) in rows.weights().iter().enumerate() {
                let row = &from[start + row * line..start + row * line + used];
                for (sums, pixel) in sums.chunks_exact_mut(CHANNELS).zip(row.chunks_exact(CHANNELS)) {
                    // Colour counts for as much as it is seen.
                    let share = pixel[seen].number() / S::FULL * weight;
                    for (sum, sample) in sums[..seen].iter_mut().zip(pixel) {
                        *sum += number(*sample) * share;
                    }
                    sums[seen] += share;
                }
            }
        } else {
            let mut blocks = sums[..used].chunks_exact_mut(BLOCK);
            let mut at = start;
            for block in blocks.by_ref() {
                let mut sum = [0.0_f32; BLOCK];
                let mut place = at;
                for weight in rows.weights() {
                    let Some(samples) = from.get(place..).and_then(|rest| rest.first_chunk::<BLOCK>()) else { break };
                    for (sum, sample) in sum.iter_mut().zip(samples) {
                        *sum += number(*sample) * weight;
                    }
                    place += line;
                }
                block.copy_from_slice(&sum);
                at += BLOCK;
            }
            for (offset, sum) in blocks.into_remainder().iter_mut().enumerate() {
                let places = (at + offset..).step_by(line);
                *sum = places.zip(rows.weights()).map(|(place, weight)| number(from[place]) * weight).sum();
            }
        }
        for (pixel, columns) in out.chunks_exact_mut(CHANNELS).zip(across) {
            // Four taps at a time, of four channels each: what is too much of either has no weight, or no place.
            let (mut even, mut odd) = ([0.0_f32; 4], [0.0_f32; 4]);
            let mut rest = &sums[(columns.first - begin) * CHANNELS..];
            for four in columns.fours() {
                let Some(sums) = rest.first_chunk::<16>() else { break };
                for channel in 0..4 {
                    even[channel] += sums[channel] * four[0] + sums[2 * CHANNELS + channel] * four[2];
                    odd[channel] += sums[CHANNELS + channel] * four[1] + sums[3 * CHANNELS + channel] * four[3];
                }
                rest = rest.get(4 * CHANNELS..).unwrap_or_default();
            }
            let made: [f32; 4] = std::array::from_fn(|channel| even[channel] + odd[channel]);
            if CLEAR {
                let share = made[seen].clamp(0.0, 1.0);
                for (sample, made) in pixel[..seen].iter_mut().zip(made) {
                    *sample = if share > 0.0 { back(made / share) } else { S::of(0.0) };
                }
                pixel[seen] = S::of(share * S::FULL);
            } else {
                for (sample, made) in pixel.iter_mut().zip(made) {
                    *sample = back(made);
                }
            }
        }
    }
}
