//! How many plans a second one core works out, beside the same geometry in num-rational's
//! `BigRational`, the general-purpose crate for exact fractions.
//!
//! Run with `cargo bench --package ratiomet-core`.

use std::hint::black_box;

use criterion::{Criterion, Throughput};
use num_rational::BigRational;
use ratiomet_core::*;

#[path = "../tests/it/reference.rs"]
#[expect(dead_code, reason = "the tests compare more of it")]
mod reference;

/// Every source of a mixed bin into every frame of a delivery list, under four framings.
fn work() -> Vec<(Source, BigRational, DeliveryFrame, Framing)> {
    let source = |raster: (u32, u32), aspect: &str, squeeze: &str, insets: [u32; 4], degrees: u32| {
        let [left, top, right, bottom] = insets;
        let aspect = PixelAspect::parse(aspect).expect("an aspect");
        let squeeze = Squeeze::parse(squeeze).expect("a squeeze");
        let narrowing = BigRational::from(aspect.value()) * BigRational::from(squeeze.value());
        let raster = Raster::new(raster.0, raster.1).expect("a raster");
        let rotation = Rotation::new(degrees).expect("a quarter turn");
        let source = Source::new(raster, aspect, squeeze, Insets { left, top, right, bottom }, rotation);
        (source.expect("a source"), narrowing)
    };
    let sources = [
        source((2880, 2160), "1", "2", [0; 4], 0),
        source((4608, 3164), "1", "1", [0; 4], 0),
        source((5120, 2700), "1", "1", [0; 4], 0),
        source((1920, 1080), "1", "1", [0; 4], 90),
        source((720, 576), "12:11", "1", [8, 4, 10, 6], 0),
        source((6240, 4160), "1", "1.5", [0; 4], 0),
        source((3840, 2160), "1", "1.8", [0; 4], 0),
    ];
    let frames =
        [(4096, 1716, None), (3840, 2160, None), (1920, 1080, Some("2.00")), (1080, 1920, None), (1080, 1350, None)]
            .map(|(width, height, ratio)| {
                let ratio = ratio.map(|text| DisplayRatio::parse(text).expect("a ratio"));
                let raster = Raster::new(width, height).expect("a raster");
                DeliveryFrame::new(raster, PixelAspect::SQUARE, ratio, Step::Two).expect("a frame")
            });
    let moved = Framing {
        method: Method::Fill,
        zoom: Zoom::parse("1.1").expect("a zoom"),
        shift_x: Shift::parse("-37.5").expect("a shift"),
        shift_y: Shift::NONE,
    };
    let framings = [Framing::of(Method::Fit), Framing::of(Method::Fill), Framing::of(Method::Native), moved];
    let mut work = Vec::new();
    for (source, narrowing) in &sources {
        for frame in &frames {
            for framing in &framings {
                work.push((source.clone(), narrowing.clone(), frame.clone(), framing.clone()));
            }
        }
    }
    work
}

fn plans(criterion: &mut Criterion) {
    let work = work();
    let mut group = criterion.benchmark_group("plans");
    group.throughput(Throughput::Elements(work.len() as u64));
    group.bench_function("whole plans, Exact", |bencher| {
        bencher.iter(|| {
            for (source, _, frame, framing) in &work {
                black_box(Plan::of(source, frame, framing));
            }
        });
    });
    group.bench_function("geometry alone, num-rational BigRational", |bencher| {
        bencher.iter(|| {
            for (source, narrowing, frame, framing) in &work {
                black_box(reference::plan(source, narrowing, frame, framing));
            }
        });
    });
    group.finish();
}

fn main() {
    let mut criterion = Criterion::default().configure_from_args();
    plans(&mut criterion);
    criterion.final_summary();
}
