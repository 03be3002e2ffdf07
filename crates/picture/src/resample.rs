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

/// The nearest whole number, a half to the even one, of a number within four million; any of one that is none. As a cast it
/// would not be worked out for many at once.
#[inline(always)]
pub(crate) const fn nearest(number: f32) -> i32 {
    // Up here single precision has no places behind the point, and what was added stands in the lowest bits.
    const FAR: f32 = 12_582_912.0;
    (number + FAR).to_bits().wrapping_sub(FAR.to_bits()).cast_signed()
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
            #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "held to the range")]
            fn of(number: f32) -> Self {
                let number = if number > 0.0 { number } else { 0.0 };
                nearest(if number < $full { number } else { $full }) as Self
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
        ($($variant:ident: $channels:literal, $room:literal, $clear:literal;)*) => {
            match (from, into) {
                $((DynamicImage::$variant(from), DynamicImage::$variant(into)) => {
                    let lines = [from.width(), into.width()].map(|width| width as usize * $channels);
                    let start = corner[1] as usize * lines[0] + corner[0] as usize * $channels;
                    weighted::<_, $channels, $room, $clear>(&from.as_raw()[start..], into, lines, at, taps, light);
                })*
                _ => unreachable!("an outcome is as deep as its picture"),
            }
        };
    }
    alike!(
        ImageLuma8: 1, 1, false;
        ImageLumaA8: 2, 2, true;
        ImageRgb8: 3, 4, false;
        ImageRgba8: 4, 4, true;
        ImageLuma16: 1, 1, false;
        ImageLumaA16: 2, 2, true;
        ImageRgb16: 3, 4, false;
        ImageRgba16: 4, 4, true;
        ImageRgb32F: 3, 4, false;
        ImageRgba32F: 4, 4, true;
    );
}

/// How many numbers are worked on side by side.
const LANES: usize = 16;
/// How many samples of a line are summed down at once: they stay in the processor. Whole pixels, however many channels.
const BLOCK: usize = 192;
/// How many pixels of the outcome are made at once.
pub(crate) const PART: usize = 64;

/// A column of sums: one pixel of as many lines of the outcome as have room in it.
#[derive(Clone, Copy)]
#[repr(align(64))]
struct Column([f32; LANES]);

/// Samples that are weighted together, each pixel with `ROOM` for its channels; the last channel of `CLEAR` ones tells how
/// much is seen.
fn weighted<S: Sample, const CHANNELS: usize, const ROOM: usize, const CLEAR: bool>(
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
    let band = LANES / ROOM;
    let bands = into[top as usize * out_line..].par_chunks_mut(band * out_line).zip(down.par_chunks(band));
    // Three more than there are: taps are taken four at a time.
    let columns = || vec![Column([0.0; LANES]); end - begin + 3];
    bands.for_each_init(columns, |columns, (out, down)| {
        let out = &mut out[left as usize * CHANNELS..];
        let band = Band { from, lines: [line, out_line], begin, down, across, columns, out };
        match &table {
            None => arch.dispatch(Weighed::<_, _, _, CHANNELS, ROOM, CLEAR> { band, number: S::number, back: S::of }),
            Some((transfer, table)) => arch.dispatch(Weighed::<_, _, _, CHANNELS, ROOM, CLEAR> {
                band,
                number: |sample: S| sample.place().map_or_else(|| sample.number(), |place| table[place]),
                back: |light: f32| S::of(light::code(*transfer, (light / full).clamp(0.0, 1.0)) * full),
            }),
        }
    });
}

/// A few lines of the outcome, and what they are made of.
struct Band<'a, S> {
    from: &'a [S],
    /// From one line to the next, there and in the outcome.
    lines: [usize; 2],
    /// The first column that has a part in the outcome.
    begin: usize,
    down: &'a [Taps],
    across: &'a [Taps],
    columns: &'a mut [Column],
    out: &'a mut [S],
}

/// The work on a band, compiled for each kind of processor.
struct Weighed<'a, S, N, B, const CHANNELS: usize, const ROOM: usize, const CLEAR: bool> {
    band: Band<'a, S>,
    /// A sample as a number that is weighted.
    number: N,
    /// Such a number as a sample.
    back: B,
}

impl<S, N, B, const CHANNELS: usize, const ROOM: usize, const CLEAR: bool> pulp::WithSimd
    for Weighed<'_, S, N, B, CHANNELS, ROOM, CLEAR>
where
    S: Sample,
    N: Fn(S) -> f32,
    B: Fn(f32) -> S,
{
    type Output = ();

    #[inline(always)]
    fn with_simd<Simd: pulp::Simd>(self, simd: Simd) {
        let Self { band: Band { from, lines: [line, out_line], begin, down, across, columns, out }, number, back } =
            self;
        let used = columns.len() - 3;
        for (block, columns) in columns[..used].chunks_mut(BLOCK / CHANNELS).enumerate() {
            for (row, taps) in down.iter().enumerate() {
                let start = taps.first * line + begin * CHANNELS + block * BLOCK;
                let lines = || (start..).step_by(line).zip(taps.weights());
                let sums = if columns.len() == BLOCK / CHANNELS {
                    summed::<_, CHANNELS, CLEAR>(lines().map(|(at, weight)| (&from[at..at + BLOCK], weight)), &number)
                } else {
                    let some = columns.len() * CHANNELS;
                    summed::<_, CHANNELS, CLEAR>(lines().map(|(at, weight)| (&from[at..at + some], weight)), &number)
                };
                for (pixel, column) in columns.iter_mut().enumerate() {
                    column.0[row * ROOM..][..ROOM].copy_from_slice(&sums[pixel * CHANNELS..][..ROOM]);
                }
            }
        }
        let mut sums = [[0.0; LANES]; PART];
        let mut made = [[S::of(0.0); LANES]; PART];
        for (part, across) in across.chunks(PART).enumerate() {
            for (sums, taps) in sums.iter_mut().zip(across) {
                crossed(simd, &columns[taps.first - begin..], taps, sums);
            }
            finished::<_, _, CHANNELS, ROOM, CLEAR>(sums.as_flattened(), made.as_flattened_mut(), &back);
            for row in 0..down.len() {
                let line = &mut out[row * out_line + part * PART * CHANNELS..];
                put::<_, CHANNELS, ROOM, LANES>(line, &made[..across.len()], row * ROOM);
            }
        }
    }
}

/// Samples of several lines, each line by its weight. Colour counts for as much as it is seen.
#[inline(always)]
fn summed<'a, S: Sample + 'a, const CHANNELS: usize, const CLEAR: bool>(
    lines: impl Iterator<Item = (&'a [S], &'a f32)>,
    number: impl Fn(S) -> f32,
) -> [f32; BLOCK + 3] {
    let mut sums = [0.0_f32; BLOCK + 3];
    let seen = CHANNELS - 1;
    for (samples, weight) in lines {
        if CLEAR {
            for (sums, pixel) in sums.chunks_exact_mut(CHANNELS).zip(samples.chunks_exact(CHANNELS)) {
                let share = pixel[seen].number() / S::FULL * weight;
                for (sum, sample) in sums[..seen].iter_mut().zip(pixel) {
                    *sum += number(*sample) * share;
                }
                sums[seen] += share;
            }
        } else {
            for (sum, sample) in sums.iter_mut().zip(samples) {
                *sum += number(*sample) * weight;
            }
        }
    }
    sums
}

/// Sums of columns, each by its weight: one pixel of every line.
#[inline(always)]
fn crossed<Simd: pulp::Simd>(simd: Simd, columns: &[Column], taps: &Taps, into: &mut [f32; LANES]) {
    let mut even = [simd.splat_f32s(0.0); LANES];
    let mut odd = even;
    let add = |sums: &mut [Simd::f32s], column: &Column, weight: f32| {
        let weight = simd.splat_f32s(weight);
        for (sum, numbers) in sums.iter_mut().zip(Simd::as_simd_f32s(&column.0).0) {
            *sum = simd.mul_add_f32s(weight, *numbers, *sum);
        }
    };
    for (weights, columns) in taps.fours().iter().zip(columns.as_chunks::<4>().0) {
        add(&mut even, &columns[0], weights[0]);
        add(&mut odd, &columns[1], weights[1]);
        add(&mut even, &columns[2], weights[2]);
        add(&mut odd, &columns[3], weights[3]);
    }
    for ((into, even), odd) in Simd::as_mut_simd_f32s(into).0.iter_mut().zip(&even).zip(&odd) {
        *into = simd.add_f32s(*even, *odd);
    }
}

/// Sums as samples; colour that was seen in part is seen as itself.
#[inline(always)]
fn finished<S: Sample, B: Fn(f32) -> S, const CHANNELS: usize, const ROOM: usize, const CLEAR: bool>(
    sums: &[f32],
    made: &mut [S],
    back: B,
) {
    if CLEAR {
        let seen = CHANNELS - 1;
        for (made, sums) in made.chunks_exact_mut(ROOM).zip(sums.chunks_exact(ROOM)) {
            let share = sums[seen].clamp(0.0, 1.0);
            for (made, sum) in made[..seen].iter_mut().zip(sums) {
                *made = if share > 0.0 { back(sum / share) } else { S::of(0.0) };
            }
            made[seen] = S::of(share * S::FULL);
        }
    } else {
        for (made, sum) in made.iter_mut().zip(sums) {
            *made = back(*sum);
        }
    }
}

/// Writes into a line of each pixel what stands from a place on. What stands in the room behind the channels of one is
/// overwritten by the next, and the last one has none.
#[inline(always)]
pub(crate) fn put<S: Sample, const CHANNELS: usize, const ROOM: usize, const WIDE: usize>(
    line: &mut [S],
    made: &[[S; WIDE]],
    from: usize,
) {
    let Some((last, others)) = made.split_last() else { return };
    let line = &mut line[..made.len() * CHANNELS];
    for (pixel, made) in others.iter().enumerate() {
        line[pixel * CHANNELS..][..ROOM].copy_from_slice(&made[from..][..ROOM]);
    }
    line[others.len() * CHANNELS..].copy_from_slice(&last[from..][..CHANNELS]);
}
