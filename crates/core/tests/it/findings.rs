//! Every finding at its threshold, and just past it.

use ratiomet_core::*;

fn source(width: u32, height: u32) -> Source {
    turned(width, height, 0)
}

fn turned(width: u32, height: u32, degrees: u32) -> Source {
    let rotation = Rotation::new(degrees).expect("a quarter turn");
    let raster = Raster::new(width, height).expect("a raster");
    Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, Insets::default(), rotation).expect("a source")
}

fn frame(width: u32, height: u32) -> DeliveryFrame {
    DeliveryFrame::new(Raster::new(width, height).expect("a raster"), PixelAspect::SQUARE, None, Step::Two)
        .expect("a frame")
}

fn masked(width: u32, height: u32, ratio: &str) -> DeliveryFrame {
    let ratio = DisplayRatio::parse(ratio).expect("a ratio");
    DeliveryFrame::new(Raster::new(width, height).expect("a raster"), PixelAspect::SQUARE, Some(ratio), Step::Two)
        .expect("a frame")
}

fn moved(method: Method, zoom: &str, x: &str, y: &str) -> Framing {
    Framing {
        method,
        zoom: Zoom::parse(zoom).expect("a zoom"),
        shift_x: Shift::parse(x).expect("a shift"),
        shift_y: Shift::parse(y).expect("a shift"),
    }
}

#[track_caller]
fn case(source: &Source, frame: &DeliveryFrame, framing: &Framing, expected: &[(&str, Severity)]) {
    let plan = Plan::of(source, frame, framing);
    let mut found: Vec<_> = plan.findings.iter().map(|finding| (finding.code(), finding.severity())).collect();
    let mut expected = expected.to_vec();
    found.sort_unstable();
    expected.sort_unstable();
    assert_eq!(found, expected);
    let weighs = |(_, severity): &(&str, Severity)| *severity != Severity::Note;
    assert_eq!(plan.is_clean(), !expected.iter().any(weighs));
    for finding in &plan.findings {
        let sentence = finding.to_string();
        assert!(sentence.ends_with('.') || sentence.ends_with('?'), "{sentence}");
    }
}

use Severity::{Caution, Note, Stop};

#[test]
fn the_same_shape_is_clean() {
    case(&source(3840, 2160), &frame(1920, 1080), &Framing::default(), &[]);
}

#[test]
fn bars_are_those_of_the_centred_picture() {
    case(&source(1440, 1080), &frame(1920, 1080), &Framing::default(), &[("bars", Caution)]);
    // Moved to one side within its travel, the picture still leaves a bar, and no edge is passed.
    case(&source(1440, 1080), &frame(1920, 1080), &moved(Method::Fit, "1", "240", "0"), &[("bars", Caution)]);
    case(
        &source(1440, 1080),
        &frame(1920, 1080),
        &moved(Method::Fit, "1", "240.5", "0"),
        &[("bars", Caution), ("off_edge", Stop)],
    );
}

#[test]
fn a_shift_past_its_travel_stops() {
    // 1920x1080 filling a square of 1080 travels 420 pixels across.
    let (source, frame) = (source(1920, 1080), frame(1080, 1080));
    case(&source, &frame, &moved(Method::Fill, "1", "-420", "0"), &[]);
    case(&source, &frame, &moved(Method::Fill, "1", "-421", "0"), &[("off_edge", Stop)]);
    // No travel up and down: any shift stops, and the bar joins the other axis only if there is one.
    case(&source, &frame, &moved(Method::Fill, "1", "0", "1"), &[("off_edge", Stop)]);
    case(&source, &frame, &moved(Method::Fill, "1", "421", "1"), &[("off_edge", Stop), ("double_boxed", Stop)]);
}

#[test]
fn a_boxed_picture_in_a_masked_frame_is_boxed_twice() {
    // 4:3 fitted into the 2.00 picture of an HD frame: black on all four sides.
    case(
        &source(1440, 1080),
        &masked(1920, 1080, "2"),
        &Framing::default(),
        &[("bars", Caution), ("double_boxed", Stop)],
    );
    case(&source(1920, 960), &masked(1920, 1080, "2"), &Framing::default(), &[]);
}

#[test]
fn distortion_is_noted_and_past_a_thousandth_it_stops() {
    case(&source(1000, 1000), &frame(1000, 1000), &Framing::of(Method::Stretch), &[]);
    // 1001 over 1000 is exactly one thousandth.
    let step_one = |width, height| {
        let raster = Raster::new(width, height).expect("a raster");
        DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::One).expect("a frame")
    };
    let stretch = Framing::of(Method::Stretch);
    case(&source(4000, 4000), &step_one(1001, 1000), &stretch, &[("distorted", Note)]);
    case(&source(4000, 4000), &step_one(1002, 1000), &stretch, &[("distorted", Stop)]);
    case(&source(4000, 4000), &step_one(999, 1000), &stretch, &[("distorted", Note)]);
    case(&source(4000, 4000), &step_one(998, 1000), &stretch, &[("distorted", Stop)]);
}

#[test]
fn enlarging_is_noted_up_to_a_tenth() {
    case(&source(1000, 500), &frame(1100, 550), &Framing::default(), &[("enlarged", Note)]);
    case(&source(1000, 500), &frame(1102, 551), &Framing::default(), &[("enlarged", Caution), ("odd_size", Caution)]);
    case(&source(1000, 500), &frame(1000, 500), &Framing::default(), &[]);
}

#[test]
fn a_whole_enlargement_is_named_with_what_remains() {
    let plan = Plan::of(&source(1440, 810), &frame(3840, 2160), &Framing::default());
    let Some(Finding::Enlarged { scale, whole, remainder }) = plan.findings.first() else {
        panic!("not enlarged: {:?}", plan.findings);
    };
    assert_eq!((scale.to_string(), *whole, remainder.to_string()), ("8/3".into(), 3, "8/9".into()));
}

#[test]
fn desqueezing_enlarges_one_way_by_nature() {
    let raster = Raster::new(2880, 2160).expect("a raster");
    let squeeze = Squeeze::parse("2").expect("a squeeze");
    let scope = Source::new(raster, PixelAspect::SQUARE, squeeze, Insets::default(), Rotation::None).expect("a source");
    case(&scope, &frame(3840, 2160), &Framing::of(Method::Fill), &[("enlarged_one_way", Note)]);
}

#[test]
fn losing_more_than_three_fifths_is_a_caution() {
    // A fifth of the height of 2:1 stays at 10:1; two fifths exactly is not yet mostly lost.
    case(&source(2000, 1000), &frame(2000, 400), &Framing::of(Method::Fill), &[]);
    case(&source(2000, 1000), &frame(2000, 398), &Framing::of(Method::Fill), &[("mostly_lost", Caution)]);
}

#[test]
fn a_picture_left_sideways_is_seen() {
    // HD held upright but not turned, into an upright frame.
    let upright = frame(1080, 1920);
    case(&source(1920, 1080), &upright, &Framing::default(), &[("bars", Caution), ("sideways", Caution)]);
    case(&turned(1920, 1080, 90), &upright, &Framing::default(), &[]);
    // A square is on neither side.
    case(&source(1920, 1080), &frame(1080, 1080), &Framing::of(Method::Fill), &[]);
    // Near square there is too little to gain by turning.
    case(&source(2200, 2000), &frame(1000, 1100), &Framing::of(Method::Fill), &[]);
}

#[test]
fn almost_a_published_frame_is_noted() {
    case(&source(4096, 1714), &frame(4096, 1714), &Framing::default(), &[("near_published", Note)]);
    case(&source(4096, 1716), &frame(4096, 1716), &Framing::default(), &[]);
    // Over 1 % off is a frame of its own.
    case(&source(4096, 1690), &frame(4096, 1690), &Framing::default(), &[]);
}

#[test]
fn an_odd_side_is_a_caution() {
    case(&source(1920, 817), &frame(1920, 817), &Framing::default(), &[("odd_size", Caution)]);
}
