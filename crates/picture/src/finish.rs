//! What is done to samples beside resampling: noise taken away before, sharpness added after.

use image::{DynamicImage, ImageBuffer, Pixel};
use ratiomet_core::resampling::Sharpening;
use rayon::prelude::*;

use crate::filter::{Taps, gauss};
use crate::resample::{Sample, each_depth};

/// The median of so many by so many samples around each, channel by channel; beyond the edges the nearest one counts.
pub(crate) fn median(picture: &DynamicImage, side: u32) -> DynamicImage {
    fn each<P: Pixel>(picture: &mut ImageBuffer<P, Vec<P::Subpixel>>, side: usize)
    where
        P::Subpixel: Sample + PartialOrd,
    {
        let (width, height) = (picture.width() as usize, picture.height() as usize);
        let channels = usize::from(P::CHANNEL_COUNT);
        let from = picture.as_raw().clone();
        let half = side / 2;
        let line = width * channels;
        picture.par_chunks_exact_mut(line).enumerate().for_each_init(Vec::new, |around, (y, out)| {
            let rows = (0..side).map(|at| (y + at).saturating_sub(half).min(height - 1) * line);
            let rows: Vec<usize> = rows.collect();
            for (at, sample) in out.iter_mut().enumerate() {
                let (x, channel) = (at / channels, at % channels);
                around.clear();
                for row in &rows {
                    let columns = (0..side).map(|at| (x + at).saturating_sub(half).min(width - 1));
                    around.extend(columns.map(|column| from[row + column * channels + channel]));
                }
                let middle = around.len() / 2;
                let order = |one: &P::Subpixel, other: &P::Subpixel| one.number().total_cmp(&other.number());
                *sample = *around.select_nth_unstable_by(middle, order).1;
            }
        });
    }
    let mut smooth = picture.clone();
    if side > 1 {
        each_depth!(&mut smooth, samples => each(samples, side as usize));
    }
    smooth
}

/// Adds to a part of a picture a share of its difference to a blur of the same part: what lies around it has no part.
pub(crate) fn sharpen(picture: &mut DynamicImage, at: [u32; 2], size: [u32; 2], how: &Sharpening) {
    let radius = how.radius.value().to_f64();
    #[expect(clippy::cast_possible_truncation, reason = "an amount from 0 to 5")]
    let amount = how.amount.value().to_f64() as f32;
    let taps = size.map(|side| (0..side).map(|pixel| gauss(radius, pixel, side)).collect::<Vec<Taps>>());
    each_depth!(picture, samples => sharpened(samples, at, size, &taps, amount));
}

fn sharpened<P: Pixel>(
    picture: &mut ImageBuffer<P, Vec<P::Subpixel>>,
    [left, top]: [u32; 2],
    [across, down]: [u32; 2],
    [columns, rows]: &[Vec<Taps>; 2],
    amount: f32,
) where
    P::Subpixel: Sample,
{
    let channels = usize::from(P::CHANNEL_COUNT);
    // How much is seen stays as it is.
    let colours = if matches!(channels, 2 | 4) { channels - 1 } else { channels };
    let whole = picture.width() as usize * channels;
    let (begin, line) = (left as usize * channels, across as usize * channels);
    let lines = top as usize * whole..(top + down) as usize * whole;
    let samples: &mut [P::Subpixel] = &mut picture.as_mut()[lines];
    // Down first, from the picture as it is, then across.
    let rows_of = samples.chunks_exact(whole);
    let from: Vec<f32> =
        rows_of.flat_map(|row| row[begin..begin + line].iter().map(|sample| sample.number())).collect();
    let out = samples.par_chunks_exact_mut(whole).enumerate();
    out.for_each_init(
        || vec![0.0_f32; line],
        |sums, (y, out)| {
            sums.fill(0.0);
            let taps = &rows[y];
            for (row, weight) in from[taps.first * line..].chunks_exact(line).zip(taps.weights()) {
                sums.iter_mut().zip(row).for_each(|(sum, sample)| *sum += sample * weight);
            }
            let now = &from[y * line..(y + 1) * line];
            for (x, taps) in columns.iter().enumerate() {
                for channel in 0..colours {
                    let near = sums[taps.first * channels + channel..].iter().step_by(channels);
                    let blur: f32 = near.zip(taps.weights()).map(|(sum, weight)| sum * weight).sum();
                    let sample = now[x * channels + channel];
                    out[begin + x * channels + channel] = P::Subpixel::of(sample + amount * (sample - blur));
                }
            }
        },
    );
}
