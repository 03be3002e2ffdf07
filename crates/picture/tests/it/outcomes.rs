//! Outcomes against a reference that shares no code with them: each pixel by itself, in two dimensions at once, from the
//! definition of its filter, in double precision.

use image::DynamicImage;
use ratiomet_core::resampling::{Filter, Resampling, Transfer};
use ratiomet_core::space::Axis;
use ratiomet_core::{
    DeliveryFrame, Framing, Insets, Method, PixelAspect, Plan, Raster, Rotation, Source, Squeeze, Step,
};
use ratiomet_picture::Still;
use ratiomet_picture::carry::out;

use crate::support::{any_conversion, busy, kernel, still};

/// A pixel of the outcome: where its centre lies in the picture and how much it covers, across and down.
fn sampled(upright: &[Vec<[f64; 3]>], filter: Filter, centre: [f64; 2], step: [f64; 2]) -> [f64; 3] {
    let (width, height) = (upright[0].len(), upright.len());
    if filter == Filter::Nearest {
        // On the line between two samples the second one counts, whichever way doubles have rounded it.
        let at = |place: f64, length: usize| ((place + 1e-9).floor().max(0.0) as usize).min(length - 1);
        return upright[at(centre[1], height)][at(centre[0], width)];
    }
    let weight = |sample: usize, axis: usize| {
        let from = sample as f64;
        if filter == Filter::Area {
            let (left, right) = (centre[axis] - step[axis] / 2.0, centre[axis] + step[axis] / 2.0);
            ((from + 1.0).min(right) - from.max(left)).max(0.0)
        } else {
            kernel(filter, (from + 0.5 - centre[axis]) / step[axis].max(1.0))
        }
    };
    let (mut sum, mut made) = (0.0, [0.0; 3]);
    // What has no weight is not looked at: nearly all of it.
    let along = |length: usize, axis: usize| {
        (0..length).map(move |sample| (sample, weight(sample, axis))).filter(|(_, weight)| *weight != 0.0)
    };
    let across: Vec<(usize, f64)> = along(width, 0).collect();
    for (row, down) in along(height, 1) {
        for (column, across) in &across {
            let (pixel, weight) = (upright[row][*column], across * down);
            sum += weight;
            for (made, sample) in made.iter_mut().zip(pixel) {
                *made += weight * sample;
            }
        }
    }
    made.map(|made| made / sum)
}

/// The picture upright, without its insets.
fn upright(picture: &DynamicImage, source: &Source) -> Vec<Vec<[f64; 3]>> {
    let samples = picture.to_rgb32f();
    let Insets { left, top, right, bottom } = source.insets();
    let (width, height) = (source.raster().width() - left - right, source.raster().height() - top - bottom);
    let pixel = |x: u32, y: u32| samples.get_pixel(left + x, top + y).0.map(f64::from);
    let (across, down) = if source.rotation().swaps_axes() { (height, width) } else { (width, height) };
    let at = |x: u32, y: u32| match source.rotation() {
        Rotation::None => pixel(x, y),
        // Clockwise: the stored bottom lies left.
        Rotation::Quarter => pixel(y, height - 1 - x),
        Rotation::Half => pixel(width - 1 - x, height - 1 - y),
        Rotation::ThreeQuarters => pixel(width - 1 - y, x),
    };
    (0..down).map(|y| (0..across).map(|x| at(x, y)).collect()).collect()
}

/// The outcome by definition, from 0 to 1.
fn reference(
    picture: &DynamicImage,
    source: &Source,
    frame: &DeliveryFrame,
    plan: &Plan,
    filter: Filter,
) -> Vec<[f64; 3]> {
    let upright = upright(picture, source);
    let area = plan.picture_area.rect();
    let bounds = |rect: [f64; 2], centre: f64| rect[0] <= centre && centre < rect[1];
    let image = [Axis::X, Axis::Y].map(|axis| [plan.image.start(axis).to_f64(), plan.image.end(axis).to_f64()]);
    let area = [Axis::X, Axis::Y].map(|axis| [area.start(axis).to_f64(), area.end(axis).to_f64()]);
    let samples = [upright[0].len() as f64, upright.len() as f64];
    let step = [0, 1].map(|axis| samples[axis] / (image[axis][1] - image[axis][0]));
    let mut outcome = Vec::new();
    for y in 0..frame.raster().height() {
        for x in 0..frame.raster().width() {
            let centre = [f64::from(x) + 0.5, f64::from(y) + 0.5];
            let seen = [0, 1].into_iter().all(|axis| {
                // Centres exactly on an edge are told apart by the plan's fractions, not by these doubles.
                bounds([image[axis][0] - 1e-9, image[axis][1] - 1e-9], centre[axis]) && bounds(area[axis], centre[axis])
            });
            let place = [0, 1].map(|axis| (centre[axis] - image[axis][0]) * step[axis]);
            outcome.push(if seen { sampled(&upright, filter, place, step) } else { [0.0; 3] });
        }
    }
    outcome
}

/// The share of samples that differ by more than 2 of 255, and the largest difference.
fn apart(outcome: &Still, reference: &[[f64; 3]]) -> (f64, f64) {
    let samples = outcome.samples.to_rgb32f();
    let (mut off, mut most, mut count) = (0_u32, 0.0_f64, 0_u32);
    for (pixel, wanted) in samples.pixels().zip(reference) {
        for (made, wanted) in pixel.0.iter().zip(wanted) {
            let apart = (f64::from(*made) - wanted.clamp(0.0, 1.0)).abs() * 255.0;
            off += u32::from(apart > 2.0);
            count += 1;
            most = most.max(apart);
        }
    }
    (f64::from(off) / f64::from(count), most)
}

#[test]
fn outcomes_are_those_of_the_definition() {
    let mut random = fastrand::Rng::with_seed(20_26);
    let mut shown = 0;
    for round in 0..240 {
        let (source, frame, framing) = any_conversion(&mut random);
        let plan = Plan::of(&source, &frame, &framing);
        let rgb = busy(source.raster().width(), source.raster().height(), &mut random);
        let picture = match round % 3 {
            0 => DynamicImage::ImageRgb8(rgb),
            1 => DynamicImage::ImageRgb16(DynamicImage::ImageRgb8(rgb).to_rgb16()),
            _ => DynamicImage::ImageLuma8(DynamicImage::ImageRgb8(rgb).to_luma8()),
        };
        let filter = Filter::ALL[round % 6];
        let how = Resampling::by(filter);
        let outcome = out(&still(picture.clone()), &source, &frame, &plan, &how).expect("an outcome");
        assert_eq!(outcome.samples.color(), picture.color());
        assert_eq!(outcome.size(), [frame.raster().width(), frame.raster().height()]);
        let wanted = reference(&picture, &source, &frame, &plan, filter);
        shown += usize::from(plan.window.is_some());
        let (share, most) = apart(&outcome, &wanted);
        assert!(
            share <= 0.001,
            "{round}: {share} of samples off, by {most}, {filter:?}, {source:?}, {frame:?}, {framing:?}"
        );
    }
    assert!(shown > 200, "{shown} showed something");
}

// Lines are made several at a time, with room for more channels than some layouts have: none may touch another, nor the bars.
#[test]
fn every_layout_of_samples_gives_the_same_gray() {
    let mut random = fastrand::Rng::with_seed(31);
    for round in 0..40 {
        let (source, frame, framing) = any_conversion(&mut random);
        let plan = Plan::of(&source, &frame, &framing);
        let how = Resampling::by(Filter::ALL[round % 6]);
        let gray = DynamicImage::ImageRgb8(busy(source.raster().width(), source.raster().height(), &mut random));
        let gray = DynamicImage::ImageLuma8(gray.to_luma8());
        let made = |picture: DynamicImage| {
            let colour = picture.color();
            let made = out(&still(picture), &source, &frame, &plan, &how).expect("an outcome").samples;
            assert_eq!(made.color(), colour);
            made.to_rgba32f()
        };
        let wanted = made(gray.clone());
        for picture in [
            gray.to_luma_alpha8().into(),
            gray.to_rgb8().into(),
            gray.to_rgba8().into(),
            gray.to_luma16().into(),
            gray.to_luma_alpha16().into(),
            gray.to_rgb16().into(),
            gray.to_rgba16().into(),
            gray.to_rgb32f().into(),
            DynamicImage::from(gray.to_rgba32f()),
        ] {
            let colour = picture.color();
            for (made, wanted) in made(picture).pixels().zip(wanted.pixels()) {
                for (made, wanted) in made.0.iter().zip(wanted.0) {
                    // Float goes past black and white; the others are a code value apart at most.
                    assert!((made.clamp(0.0, 1.0) - wanted).abs() < 1.5 / 255.0, "{round} {colour:?}: {made} {wanted}");
                }
            }
        }
    }
}

fn source_of(width: u32, height: u32, insets: Insets) -> Source {
    let raster = Raster::new(width, height).expect("a raster");
    Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, insets, Rotation::None).expect("a source")
}

fn frame_of(width: u32, height: u32) -> DeliveryFrame {
    DeliveryFrame::new(Raster::new(width, height).expect("a raster"), PixelAspect::SQUARE, None, Step::Two)
        .expect("a frame")
}

// What lies outside the insets is as bright as it can be, and nothing of it is seen.
#[test]
fn nothing_of_the_insets_bleeds_in() {
    let insets = Insets { left: 3, top: 5, right: 4, bottom: 2 };
    let source = source_of(64, 48, insets);
    let picture = image::GrayImage::from_fn(64, 48, |x, y| {
        image::Luma([if (3..60).contains(&x) && (5..46).contains(&y) { 100 } else { 255 }])
    });
    for (size, method) in [((40, 30), Method::Fill), ((111, 97), Method::Fill), ((57, 41), Method::Native)] {
        let frame = frame_of(size.0, size.1);
        let plan = Plan::of(&source, &frame, &Framing::of(method));
        for filter in Filter::ALL {
            let how = Resampling::by(filter);
            let outcome = out(&still(picture.clone().into()), &source, &frame, &plan, &how).expect("an outcome");
            let wrong = outcome.samples.to_luma8().pixels().filter(|pixel| pixel.0[0] != 100).count();
            assert_eq!(wrong, 0, "{filter:?} into {size:?}");
        }
    }
}

#[test]
fn a_plan_that_changes_nothing_keeps_every_sample() {
    let mut random = fastrand::Rng::with_seed(7);
    let rgb = busy(90, 60, &mut random);
    let deep = image::ImageBuffer::<image::Rgb<u16>, _>::from_fn(90, 60, |x, y| {
        image::Rgb([random.u16(..), (x * y) as u16, 65_535])
    });
    let (source, frame) = (source_of(90, 60, Insets::default()), frame_of(90, 60));
    let plan = Plan::of(&source, &frame, &Framing::of(Method::Fit));
    for picture in [DynamicImage::ImageRgb8(rgb), DynamicImage::ImageRgb16(deep)] {
        // All but Mitchell, which softens by nature, are 1 at a sample and 0 at every other.
        for filter in Filter::ALL.into_iter().filter(|filter| *filter != Filter::Mitchell) {
            let how = Resampling::by(filter);
            let outcome = out(&still(picture.clone()), &source, &frame, &plan, &how).expect("an outcome");
            assert_eq!(outcome.samples, picture, "{filter:?}");
        }
    }
}

#[test]
fn a_still_of_half_the_size_lands_where_the_whole_one_does() {
    let source = source_of(128, 96, Insets { left: 4, top: 0, right: 9, bottom: 6 });
    let frame = frame_of(100, 100);
    let plan = Plan::of(&source, &frame, &Framing::of(Method::Fit));
    // A slope, which every size shows alike.
    let of = |part: u32| {
        image::GrayImage::from_fn(128 / part, 96 / part, |x, y| {
            image::Luma([((f64::from(x) + 0.5) * f64::from(part) + (f64::from(y) + 0.5) * f64::from(part)) as u8])
        })
    };
    let how = Resampling::by(Filter::Bilinear);
    let whole = out(&still(of(1).into()), &source, &frame, &plan, &how).expect("an outcome").samples.to_luma8();
    let half = out(&still(of(2).into()), &source, &frame, &plan, &how).expect("an outcome").samples.to_luma8();
    for ((x, y, one), other) in whole.enumerate_pixels().zip(half.pixels()) {
        assert!(one.0[0].abs_diff(other.0[0]) <= 2, "{x} {y}: {one:?} {other:?}");
        assert_eq!(one.0[0] == 0, other.0[0] == 0, "{x} {y}: what is black");
    }
    let third = still(image::GrayImage::new(43, 32).into());
    let refused = out(&third, &source, &frame, &plan, &how).expect_err("another size");
    assert_eq!(
        refused.to_string(),
        "the still is 43x32 and the source 128x96; it must be the same size, or a whole fraction of it"
    );
}

// The mean of black and white is half the light, which is not half the code value.
#[test]
fn light_is_averaged_as_light() {
    let source = source_of(64, 64, Insets::default());
    let frame = frame_of(8, 8);
    let plan = Plan::of(&source, &frame, &Framing::of(Method::Fit));
    let picture = image::GrayImage::from_fn(64, 64, |x, y| image::Luma([if (x + y) % 2 == 0 { 255 } else { 0 }]));
    let middle = |light| {
        let how = Resampling { light, ..Resampling::by(Filter::Area) };
        let outcome = out(&still(picture.clone().into()), &source, &frame, &plan, &how).expect("an outcome");
        outcome.samples.to_luma8().get_pixel(4, 4).0[0]
    };
    assert_eq!(middle(None), 128);
    // IEC 61966-2-1: half of the light is the code value 188; a power of 2.4 makes 191 of it, and BT.709 180.
    assert_eq!(middle(Some(Transfer::Srgb)), 188);
    assert_eq!(middle(Some(Transfer::Bt1886)), 191);
    assert_eq!(middle(Some(Transfer::Bt709)), 180);
}

#[test]
fn what_is_clear_lends_no_colour() {
    let source = source_of(40, 40, Insets::default());
    let frame = frame_of(20, 10);
    let plan = Plan::of(&source, &frame, &Framing::of(Method::Fit));
    // Clear pixels hold a green that nobody sees.
    let picture = image::RgbaImage::from_fn(40, 40, |x, _| {
        if x < 20 { image::Rgba([200, 0, 0, 255]) } else { image::Rgba([0, 255, 0, 0]) }
    });
    for filter in Filter::ALL {
        let how = Resampling::by(filter);
        let outcome = out(&still(picture.clone().into()), &source, &frame, &plan, &how).expect("an outcome");
        for (x, _, pixel) in outcome.samples.to_rgba8().enumerate_pixels() {
            let bar = !(5..15).contains(&x);
            assert!(pixel.0[1] <= 1 || pixel.0[3] == 0, "{filter:?}: {pixel:?}");
            assert!(!bar || pixel.0 == [0, 0, 0, 255], "{filter:?}: bars are black, not clear");
        }
    }
}
