//! Readings against edges, circles and plans whose truth is known.

use image::{DynamicImage, GrayImage, ImageBuffer, Luma};
use ratiomet_core::project::Scene;
use ratiomet_core::resampling::{Amount, Filter, Radius, Resampling, Sharpening, Smoothing, Steps};
use ratiomet_core::{DeliveryFrame, Framing, Method, PixelAspect, Plan, Raster, Rotation, Source, Squeeze, Step};
use ratiomet_picture::board::Outcome;
use ratiomet_picture::proof::{Ellipse, Region, black, edge, level, ring};
use ratiomet_picture::scene::{Marks, taken};
use ratiomet_picture::{Still, carry};

use crate::support::still;

const SIDE: u32 = 160;
const ALL: Region = Region { left: 0, top: 0, width: SIDE, height: SIDE };

/// A picture of 16 bit with an edge that leans, whose profile is known: from 0 to 1 by the distance in pixels.
fn edge_of(lean: f64, turned: bool, profile: impl Fn(f64) -> f64) -> Still {
    let upright = (1.0 + lean * lean).sqrt();
    let picture = ImageBuffer::from_fn(SIDE, SIDE, |x, y| {
        let (x, y) = if turned { (y, x) } else { (x, y) };
        let beside = (f64::from(x) + 0.5 - 80.3 - lean * (f64::from(y) + 0.5 - 80.0)) / upright;
        Luma([((0.2 + 0.6 * profile(beside)) * 65_535.0).round() as u16])
    });
    still(DynamicImage::ImageLuma16(picture))
}

/// The integral of the bell curve, to 7 places (Abramowitz and Stegun 1964, 7.1.26).
fn bell(x: f64) -> f64 {
    let t = 1.0 / (1.0 + 0.327_591_1 * (x / 2.0_f64.sqrt()).abs());
    let terms = [0.254_829_592, -0.284_496_736, 1.421_413_741, -1.453_152_027, 1.061_405_429];
    let sum = terms.iter().rev().fold(0.0, |sum, term| (sum + term) * t);
    let erf = 1.0 - sum * (-x * x / 2.0).exp();
    if x < 0.0 { (1.0 - erf) / 2.0 } else { (1.0 + erf) / 2.0 }
}

// For a bell of standard deviation s an edge is 2 * 1.28155 s wide from 10 to 90 %, and its response is
// exp(-2 (pi s f)^2), half of it at 0.187390 / s.
#[test]
fn soft_edges_are_as_wide_and_respond_as_they_were_made() {
    for deviation in [0.8, 1.2, 2.0, 3.5] {
        for (lean, turned) in [(0.0875, false), (-0.0875, false), (0.0875, true), (0.15, true)] {
            let name = format!("{deviation} px, leaning {lean}, turned {turned}");
            let found = edge(&edge_of(lean, turned, |beside| bell(beside / deviation)), ALL).expect(&name);
            let wide = 2.563_103 * deviation;
            assert!((found.width - wide).abs() < 0.02 * wide + 0.03, "{name}: {} for {wide}", found.width);
            let half = 0.187_390 / deviation;
            let response = found.half.unwrap_or_else(|| panic!("{name}: no half of {:?}", found.response));
            assert!((response - half).abs() < 0.03 * half + 0.004, "{name}: {response} for {half}");
            let at = |cycles: f64| (-2.0 * (std::f64::consts::PI * deviation * cycles).powi(2)).exp();
            for (step, value) in found.response.iter().enumerate().take(17) {
                let truth = at(step as f64 / 64.0);
                assert!((value - truth).abs() < 0.03, "{name}: {value} for {truth} at {step}/64");
            }
            assert!(found.ringing < 0.3 && found.noise < 0.2, "{name}: {found:?}");
        }
    }
}

// A step of which nothing above a frequency is left swings over by 8.949 % (Gibbs): 1/2 + Si(x)/pi.
#[test]
fn ringing_is_what_is_left_of_a_step_without_its_high_frequencies() {
    let sine_integral = |x: f64| {
        let steps = 400;
        let by = x / f64::from(steps);
        (0..steps).map(|at| (f64::from(at) + 0.5) * by).map(|at| at.sin() / at * by).sum::<f64>()
    };
    let ringing = edge_of(0.0875, false, |beside| 0.5 + sine_integral(beside * 1.4) / std::f64::consts::PI);
    let found = edge(&ringing, ALL).expect("an edge");
    assert!((found.ringing - 8.95).abs() < 0.5, "{found:?}");
}

#[test]
fn noise_is_told_from_the_edge() {
    let mut rng = fastrand::Rng::with_seed(4);
    for deviation in [1.0, 3.0, 6.0] {
        let smooth = edge_of(0.0875, false, |beside| bell(beside / 1.5));
        let DynamicImage::ImageLuma16(mut picture) = smooth.samples else { panic!("gray") };
        for pixel in picture.pixels_mut() {
            // The sum of twelve even numbers is nearly a bell of deviation 1.
            let bell = (0..12).map(|_| rng.f64()).sum::<f64>() - 6.0;
            pixel.0[0] = (f64::from(pixel.0[0]) + bell * deviation * 257.0).clamp(0.0, 65_535.0) as u16;
        }
        let found = edge(&still(DynamicImage::ImageLuma16(picture)), ALL).expect("an edge");
        assert!((found.noise - deviation).abs() < 0.12 * deviation, "{} for {deviation}", found.noise);
        assert!((found.width - 3.845).abs() < 0.35, "{} px with noise of {deviation}", found.width);
    }
}

#[test]
fn what_is_no_edge_is_said_to_be_none() {
    let flat = still(DynamicImage::ImageLuma8(GrayImage::from_pixel(SIDE, SIDE, Luma([90]))));
    assert!(edge(&flat, ALL).expect_err("flat").0.contains("there is no edge"));
    let outside = Region { left: 100, top: 0, width: 100, height: 20 };
    assert!(edge(&flat, outside).expect_err("outside").0.contains("outside the picture"));
    let tiny = Region { left: 0, top: 0, width: 7, height: 40 };
    assert!(edge(&flat, tiny).expect_err("tiny").0.contains("at least 8 by 8"));
    let sharp = edge_of(0.0875, false, |beside| f64::from(u8::from(beside > 0.0)));
    let aside = Region { left: 79, top: 0, width: 60, height: 12 };
    assert!(edge(&sharp, aside).is_err(), "an edge at the end of its mark");
    // One that stands upright to the pixel has a width, and no response.
    let upright = edge(&edge_of(0.0, false, |beside| bell(beside / 1.2)), ALL).expect("an edge");
    assert!(upright.response.is_empty() && (upright.width - 3.08).abs() < 0.3, "{upright:?}");
}

#[test]
fn rings_are_found_to_a_small_part_of_a_pixel() {
    let mut rng = fastrand::Rng::with_seed(9);
    for _ in 0..12 {
        let truth = Ellipse {
            centre: [100.0 + rng.f64() * 4.0, 90.0 + rng.f64() * 4.0],
            radii: [60.0 + rng.f64() * 10.0, 55.0 + rng.f64() * 10.0],
        };
        let picture = GrayImage::from_fn(200, 180, |x, y| {
            // Many points of each pixel.
            let inside = (0..64).filter(|at| {
                let (dx, dy) = (f64::from(at % 8) / 8.0 + 1.0 / 16.0, f64::from(at / 8) / 8.0 + 1.0 / 16.0);
                let [u, v] = [f64::from(x) + dx - truth.centre[0], f64::from(y) + dy - truth.centre[1]];
                let far = f64::hypot(u / truth.radii[0], v / truth.radii[1]);
                ((far - 1.0) * truth.radii[0].min(truth.radii[1])).abs() < 1.2
            });
            Luma([(60.0 + 180.0 * inside.count() as f64 / 64.0) as u8])
        });
        let near = Ellipse { centre: [102.0, 92.0], radii: [truth.radii[0] * 1.02, truth.radii[1] * 0.985] };
        let found = ring(&still(DynamicImage::ImageLuma8(picture)), near).expect("a ring");
        for axis in 0..2 {
            let (place, radius) = (found.centre[axis], found.radii[axis]);
            assert!((place - truth.centre[axis]).abs() < 0.1, "{found:?} for {truth:?}");
            assert!((radius - truth.radii[axis]).abs() < 0.15, "{found:?} for {truth:?}");
        }
    }
    let nothing = still(DynamicImage::ImageLuma8(GrayImage::from_pixel(200, 180, Luma([60]))));
    assert_eq!(ring(&nothing, Ellipse { centre: [100.0, 90.0], radii: [60.0, 60.0] }), None);
}

fn camera([width, height]: [u32; 2], squeeze: &str, insets: [u32; 4], rotation: Rotation) -> Source {
    let [left, top, right, bottom] = insets;
    let insets = ratiomet_core::Insets { left, top, right, bottom };
    let squeeze = Squeeze::parse(squeeze).expect("a squeeze");
    Source::new(Raster::new(width, height).expect("sides"), PixelAspect::SQUARE, squeeze, insets, rotation)
        .expect("a source")
}

fn frame([width, height]: [u32; 2], aspect: &str) -> DeliveryFrame {
    let aspect = PixelAspect::parse(aspect).expect("an aspect");
    DeliveryFrame::new(Raster::new(width, height).expect("sides"), aspect, None, Step::One).expect("a frame")
}

#[test]
fn plans_come_out_as_they_are_planned_and_wrong_ones_are_noticed() {
    let sources = [
        camera([2880, 2160], "2", [0; 4], Rotation::None),
        camera([1920, 1080], "1", [0; 4], Rotation::Quarter),
        camera([720, 576], "1", [8, 4, 10, 6], Rotation::None),
        camera([1600, 1200], "1", [0, 40, 0, 20], Rotation::Half),
    ];
    let frames =
        [frame([3840, 2160], "1"), frame([1080, 1920], "1"), frame([720, 576], "16:15"), frame([1024, 428], "1")];
    let methods = [Method::Fit, Method::Fill, Method::Width, Method::Native, Method::Stretch];
    let (mut rings, mut known) = (0, 0);
    for source in &sources {
        let chart = taken(Scene::Chart, source, None, false, 1).expect("a chart");
        for (at, frame) in frames.iter().enumerate() {
            let method = methods[at % methods.len()];
            let plan = Plan::of(source, frame, &Framing::of(method));
            let outcome = Outcome::of(&chart, source, frame, &plan).expect("an outcome");
            assert_eq!(outcome.differences(), Vec::<String>::new(), "{method:?} {frame:?}: {outcome:?}");
            rings += usize::from(outcome.apart().is_some_and(|apart| apart < 0.01));
            if outcome.grays[1] < 5 {
                // So far in that there is little to know it by.
                continue;
            }
            known += 1;
            // The same picture upside down is not what was planned.
            let turned = Still { samples: chart.samples.rotate180(), ..chart.clone() };
            let outcome = Outcome::of(&turned, source, frame, &plan).expect("an outcome");
            assert!(!outcome.differences().is_empty(), "{method:?} {frame:?}: turned, and nobody sees it");
            // Nor is one that was squeezed into it otherwise.
            let wide = carry::out(&chart, source, frame, &plan, &Resampling::by(Filter::Area)).expect("an outcome");
            let marks = Marks::of(source, &plan);
            if let Some(found) = ring(&wide, marks.ring) {
                assert!((found.radii[0] / marks.ring.radii[0] - 1.0).abs() < 0.01, "{found:?} {marks:?}");
            }
        }
    }
    assert!(rings >= 8 && known >= 8, "{rings} circles were measured, {known} turns noticed");
}

#[test]
fn black_lines_and_levels_are_those_of_the_plan() {
    let source = camera([800, 600], "1", [0; 4], Rotation::None);
    let chart = taken(Scene::Chart, &source, None, false, 1).expect("a chart");
    let frame = frame([1000, 600], "1");
    let plan = Plan::of(&source, &frame, &Framing::of(Method::Fit));
    let outcome = carry::out(&chart, &source, &frame, &plan, &Resampling::by(Filter::Nearest)).expect("an outcome");
    assert_eq!(black(&outcome), [100, 0, 100, 0]);
    for (place, gray) in Marks::of(&source, &plan).grays {
        let found = level(&outcome, place).expect("inside");
        assert!((found - gray).abs() < 1.0, "{found} for {gray}");
    }
    assert_eq!(level(&outcome, [5_000.0, 3.0]), None);
}

#[test]
fn whole_enlargement_first_goes_through_a_larger_picture() {
    let mut rng = fastrand::Rng::with_seed(3);
    let picture = image::RgbImage::from_fn(40, 30, |_, _| image::Rgb([rng.u8(..), rng.u8(..), rng.u8(..)]));
    let picture = still(DynamicImage::ImageRgb8(picture));
    let source = camera([40, 30], "1", [3, 2, 1, 4], Rotation::Quarter);
    let whole = |filter| Resampling { steps: Steps::WholeFirst, ..Resampling::by(filter) };
    let made = |size: [u32; 2], how: &Resampling| {
        let frame = frame(size, "1");
        let plan = Plan::of(&source, &frame, &Framing::of(Method::Stretch));
        carry::out(&picture, &source, &frame, &plan, how).expect("an outcome").samples
    };
    // Twice as large each way is one step either way; anything else is not.
    let (turned, odd) = ([24 * 2, 36 * 2], [61, 83]);
    assert_eq!(made(turned, &whole(Filter::Lanczos3)), made(turned, &Resampling::by(Filter::Lanczos3)));
    assert_ne!(made(odd, &whole(Filter::Lanczos3)), made(odd, &Resampling::by(Filter::Lanczos3)));
    // By the nearest sample the way does not matter where every pixel of the larger one is one of the smaller.
    assert_eq!(made(turned, &whole(Filter::Nearest)), made(turned, &Resampling::by(Filter::Nearest)));
    // Smaller goes at once.
    assert_eq!(made([12, 18], &whole(Filter::Mitchell)), made([12, 18], &Resampling::by(Filter::Mitchell)));
}

/// An outcome as large as its source.
fn same_size(picture: &Still, how: &Resampling) -> DynamicImage {
    let [width, height] = picture.size();
    let source = camera([width, height], "1", [0; 4], Rotation::None);
    let frame = frame([width, height], "1");
    let plan = Plan::of(&source, &frame, &Framing::of(Method::Fill));
    carry::out(picture, &source, &frame, &plan, how).expect("an outcome").samples
}

#[test]
fn sharpening_adds_the_difference_to_a_blur() {
    let mut rng = fastrand::Rng::with_seed(8);
    let picture = ImageBuffer::from_fn(24, 18, |_, _| Luma([rng.u16(20_000..45_000)]));
    let picture = still(DynamicImage::ImageLuma16(picture));
    let by = |amount: &str| Resampling {
        sharpening: Some(Sharpening {
            radius: Radius::parse("0.8").expect("a radius"),
            amount: Amount::parse(amount).expect("an amount"),
        }),
        ..Resampling::by(Filter::Nearest)
    };
    assert_eq!(same_size(&picture, &by("0")), picture.samples);
    let sharp = same_size(&picture, &by("1.5")).to_luma16();
    let before = picture.samples.to_luma16();
    // By the definition: a bell of the radius over what is there, with its edges left out.
    for (x, y, pixel) in sharp.enumerate_pixels() {
        let (mut sum, mut weights) = (0.0, 0.0);
        for (u, v, near) in before.enumerate_pixels() {
            let far = (f64::from(u) - f64::from(x)).powi(2) + (f64::from(v) - f64::from(y)).powi(2);
            let weight = (-far / (2.0 * 0.8 * 0.8)).exp();
            sum += f64::from(near.0[0]) * weight;
            weights += weight;
        }
        let now = f64::from(before.get_pixel(x, y).0[0]);
        let truth = (now + 1.5 * (now - sum / weights)).clamp(0.0, 65_535.0);
        assert!((f64::from(pixel.0[0]) - truth).abs() < 40.0, "{} for {truth} at {x}, {y}", pixel.0[0]);
    }
}

#[test]
fn the_median_takes_stray_samples_away_and_leaves_edges() {
    let clean = GrayImage::from_fn(40, 30, |x, _| Luma([if x < 20 { 40 } else { 200 }]));
    let mut noisy = clean.clone();
    for (x, y) in [(5, 5), (12, 20), (30, 11), (39, 29), (0, 0)] {
        noisy.put_pixel(x, y, Luma([255 - noisy.get_pixel(x, y).0[0]]));
    }
    for smoothing in [Smoothing::Median3, Smoothing::Median5] {
        let how = Resampling { smoothing, ..Resampling::by(Filter::Nearest) };
        let smooth = same_size(&still(DynamicImage::ImageLuma8(noisy.clone())), &how);
        assert_eq!(smooth, DynamicImage::ImageLuma8(clean.clone()), "{smoothing:?}");
    }
    let plain = same_size(&still(DynamicImage::ImageLuma8(noisy.clone())), &Resampling::by(Filter::Nearest));
    assert_eq!(plain, DynamicImage::ImageLuma8(noisy));
}
