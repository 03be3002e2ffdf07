//! How many plans a second one core works out, beside the same geometry in num-rational's
//! `BigRational`, the general-purpose crate for exact fractions.
//!
//! How many a second there would be if a plan were nothing but the operations on fractions in it, which is where exactness
//! has its floor; and how many recipes, plans in whole pixels.
//!
//! Run with `cargo bench --package ratiomet-core`.

use std::hint::black_box;

use criterion::{Criterion, Throughput};
use num_bigint::BigInt;
use num_rational::BigRational;
use ratiomet_core::checks::Checked;
use ratiomet_core::recipe::{Chroma, Recipe};
use ratiomet_core::*;

#[path = "../tests/it/reference.rs"]
#[expect(dead_code, reason = "the tests compare more of it")]
mod reference;

use reference::Inputs;

/// A fraction as people write it.
fn fraction(text: &str) -> BigRational {
    let (above, below) = text.split_once(':').unwrap_or((text, "1"));
    let decimal = |text: &str| {
        let (whole, decimals) = text.split_once('.').unwrap_or((text, ""));
        let digits: BigInt = format!("{whole}{decimals}").parse().expect("digits");
        BigRational::new(digits, BigInt::from(10).pow(u32::try_from(decimals.len()).expect("short")))
    };
    decimal(above) / decimal(below)
}

/// A plan as both ways of working it out take it.
struct Work {
    source: Source,
    frame: DeliveryFrame,
    framing: Framing,
    inputs: Inputs,
}

/// Raster, pixel aspect, squeeze, insets, turn.
type Footage = ([u32; 2], &'static str, &'static str, [u32; 4], u32);

/// Every source of a mixed bin into every frame of a delivery list (raster, picture ratio), under four
/// framings (method, zoom, shift across).
const SOURCES: [Footage; 7] = [
    ([2880, 2160], "1", "2", [0; 4], 0),
    ([4608, 3164], "1", "1", [0; 4], 0),
    ([5120, 2700], "1", "1", [0; 4], 0),
    ([1920, 1080], "1", "1", [0; 4], 90),
    ([720, 576], "12:11", "1", [8, 4, 10, 6], 0),
    ([6240, 4160], "1", "1.5", [0; 4], 0),
    ([3840, 2160], "1", "1.8", [0; 4], 0),
];
const FRAMES: [([u32; 2], Option<&str>); 5] = [
    ([4096, 1716], None),
    ([3840, 2160], None),
    ([1920, 1080], Some("2.00")),
    ([1080, 1920], None),
    ([1080, 1350], None),
];
const FRAMINGS: [(Method, &str, &str); 4] =
    [(Method::Fit, "1", "0"), (Method::Fill, "1", "0"), (Method::Native, "1", "0"), (Method::Fill, "1.1", "-37.5")];

fn work() -> Vec<Work> {
    let mut work = Vec::new();
    for (stored, aspect, squeeze, insets, degrees) in SOURCES {
        let [left, top, right, bottom] = insets;
        let source = Source::new(
            Raster::new(stored[0], stored[1]).expect("a raster"),
            PixelAspect::parse(aspect).expect("an aspect"),
            Squeeze::parse(squeeze).expect("a squeeze"),
            Insets { left, top, right, bottom },
            Rotation::new(degrees).expect("a quarter turn"),
        );
        let source = source.expect("a source");
        for (delivered, ratio) in FRAMES {
            let raster = Raster::new(delivered[0], delivered[1]).expect("a raster");
            let display = ratio.map(|text| DisplayRatio::parse(text).expect("a ratio"));
            let frame = DeliveryFrame::new(raster, PixelAspect::SQUARE, display, Step::Two).expect("a frame");
            for (method, zoom, shift) in FRAMINGS {
                let framing = Framing {
                    method,
                    zoom: Zoom::parse(zoom).expect("a zoom"),
                    shift_x: Shift::parse(shift).expect("a shift"),
                    shift_y: Shift::NONE,
                };
                let inputs = Inputs {
                    stored,
                    insets,
                    shape: fraction(aspect) * fraction(squeeze),
                    degrees,
                    delivered,
                    delivered_shape: fraction("1"),
                    ratio: ratio.map(fraction),
                    step: 2,
                    method: method.word(),
                    zoom: fraction(zoom),
                    shift: [fraction(shift), fraction("0")],
                };
                work.push(Work { source: source.clone(), frame: frame.clone(), framing, inputs });
            }
        }
    }
    work
}

fn plans(criterion: &mut Criterion) {
    let work = work();
    let mut group = criterion.benchmark_group("plans");
    group.throughput(Throughput::Elements(work.len() as u64));
    group.bench_function("whole plans with their findings, Exact", |bencher| {
        bencher.iter(|| {
            for Work { source, frame, framing, .. } in &work {
                black_box(Checked::of(source, frame, framing));
            }
        });
    });
    group.bench_function("geometry alone, num-rational BigRational", |bencher| {
        bencher.iter(|| {
            for Work { inputs, .. } in &work {
                black_box(reference::plan(inputs));
            }
        });
    });
    // Counted over this very work: sums, products, quotients and comparisons of a plan.
    let short = [Exact::whole(3840), Exact::fraction(47, 20), Exact::whole(2160), Exact::fraction(12, 11)];
    group.bench_function("the operations of as many plans alone", |bencher| {
        bencher.iter(|| {
            for _ in &work {
                let short = black_box(&short);
                let pair = |at: usize| (&short[at % 4], &short[(at + 1) % 4]);
                for (one, other) in (0..32).map(pair) {
                    black_box(one + other);
                }
                for (one, other) in (0..30).map(pair) {
                    black_box(one * other);
                }
                for (one, other) in (0..40).map(pair) {
                    black_box(one / other);
                }
                for (one, other) in (0..22).map(pair) {
                    black_box(one < other);
                }
            }
        });
    });
    group.finish();
}

/// Plans in whole pixels: many ways are weighed for each.
fn recipes(criterion: &mut Criterion) {
    let work = work();
    let mut group = criterion.benchmark_group("recipes");
    group.throughput(Throughput::Elements(work.len() as u64));
    group.bench_function("recipes at 4:2:0", |bencher| {
        bencher.iter(|| {
            for Work { source, frame, framing, .. } in &work {
                // OK because some show nothing, and that is told.
                black_box(Recipe::of(source, frame, framing, Chroma::Quarter).ok());
            }
        });
    });
    group.finish();
}

fn main() {
    let mut criterion = Criterion::default().configure_from_args();
    plans(&mut criterion);
    recipes(&mut criterion);
    criterion.final_summary();
}
