//! Every finding at its threshold, and just past it.

use ratiomet_core::checks::Checked;
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
    let Checked { findings, .. } = Checked::of(source, frame, framing);
    let mut found: Vec<_> = findings.iter().map(|finding| (finding.code(), finding.severity())).collect();
    let mut expected = expected.to_vec();
    found.sort_unstable();
    expected.sort_unstable();
    assert_eq!(found, expected);
    for finding in &findings {
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
    let found = Checked::of(&source(1440, 810), &frame(3840, 2160), &Framing::default()).findings;
    let Some(Finding::Enlarged { scale, whole, remainder, .. }) = found.first() else {
        panic!("not enlarged: {found:?}");
    };
    assert_eq!((scale.x.to_string(), *whole, remainder.x.to_string()), ("8/3".into(), 3, "8/9".into()));
}

#[test]
fn desqueezing_enlarges_one_way_by_nature() {
    let raster = Raster::new(2880, 2160).expect("a raster");
    let squeeze = Squeeze::parse("2").expect("a squeeze");
    let scope = Source::new(raster, PixelAspect::SQUARE, squeeze, Insets::default(), Rotation::None).expect("a source");
    case(&scope, &frame(3840, 2160), &Framing::of(Method::Fill), &[("enlarged_one_way", Note)]);
}

#[test]
fn a_sliver_of_a_bar_is_noted_because_whole_pixels_will_cover_it() {
    // 4096 by 1716 fitted into 1920 by 804 leaves (804 - 1920 * 1716 / 4096) / 2 = 3/16 of a line above and below.
    case(&source(4096, 1716), &frame(1920, 804), &Framing::default(), &[("bars", Note)]);
    // 806 lines: 1 and 3/16, which is a bar.
    case(&source(4096, 1716), &frame(1920, 806), &Framing::default(), &[("bars", Caution), ("near_published", Note)]);
}

#[test]
fn how_far_enlarging_needs_no_look_can_be_set() {
    let severity = |tolerance: &str| {
        let tolerance = Tolerance::parse(tolerance).expect("a tolerance");
        let found = Checked::within(&source(1000, 500), &frame(1500, 750), &Framing::default(), &tolerance).findings;
        found.iter().map(Finding::severity).collect::<Vec<_>>()
    };
    assert_eq!(severity("1.1"), [Caution]);
    assert_eq!(severity("1.49"), [Caution]);
    assert_eq!(severity("1.5"), [Note]);
    assert!(Tolerance::parse("0.9").is_err() && Tolerance::parse("10.1").is_err());
}

// The axis that is enlarged less decides whether anything is said, the other one how much: 1000 by 500 with a
// squeeze of 5/4 into 1500 by 600 becomes 1.5 by 1.2.
#[test]
fn unequal_enlargements_are_told_for_each_axis() {
    let raster = Raster::new(1000, 500).expect("a raster");
    let squeeze = Squeeze::parse("5:4").expect("a squeeze");
    let lens = Source::new(raster, PixelAspect::SQUARE, squeeze, Insets::default(), Rotation::None).expect("a source");
    let found = Checked::of(&lens, &frame(1500, 600), &Framing::default()).findings;
    let Some(Finding::Enlarged { scale, whole, remainder, .. }) = found.first() else { panic!("{found:?}") };
    assert_eq!((scale.x.to_string(), scale.y.to_string(), *whole), ("3/2".to_owned(), "6/5".to_owned(), 2));
    assert_eq!((remainder.x.to_string(), remainder.y.to_string()), ("3/4".to_owned(), "3/5".to_owned()));
}

#[test]
fn losing_most_of_the_picture_is_looked_at_where_the_framing_does_it() {
    // A fifth of the height of 2:1 stays at 10:1; two fifths exactly is not yet mostly lost.
    case(&source(2000, 1000), &frame(2000, 400), &Framing::of(Method::Fill), &[]);
    // The ratios cost it, not the framing.
    case(&source(2000, 1000), &frame(2000, 398), &Framing::of(Method::Fill), &[("mostly_lost", Note)]);
    // Three quarters of what filling keeps: a zoom that keeps less is somebody's choice.
    let zoomed = |zoom: &str| moved(Method::Fill, zoom, "0", "0");
    case(&source(8000, 4000), &frame(2000, 398), &zoomed("1.15"), &[("mostly_lost", Note)]);
    case(&source(8000, 4000), &frame(2000, 398), &zoomed("1.16"), &[("mostly_lost", Caution)]);
}

#[test]
fn a_picture_left_sideways_is_seen() {
    // HD held upright but not turned, into an upright frame.
    let upright = frame(1080, 1920);
    case(&source(1920, 1080), &upright, &Framing::default(), &[("bars", Caution), ("sideways", Note)]);
    case(&turned(1920, 1080, 90), &upright, &Framing::default(), &[]);
    // A square is on neither side.
    case(&source(1920, 1080), &frame(1080, 1080), &Framing::of(Method::Fill), &[]);
    // Near square there is too little to gain by rotating.
    case(&source(2200, 2000), &frame(1000, 1100), &Framing::of(Method::Fill), &[]);
}

#[test]
fn every_code_is_listed_and_none_comes_twice() {
    let mut codes = Finding::CODES.to_vec();
    codes.sort_unstable();
    codes.dedup();
    assert_eq!(codes.len(), Finding::CODES.len());
    // What the core can say, drawn from many plans and projects, is in the list: the list is complete.
    let square = |width, height| source(width, height);
    let found = [
        Checked::of(&square(1440, 1080), &masked(1920, 1080, "2"), &moved(Method::Fit, "1", "900", "9")).findings,
        Checked::of(&square(64, 10), &frame(1081, 1921), &moved(Method::Stretch, "40", "0", "0")).findings,
        Checked::of(&square(4096, 1714), &frame(4096, 1714), &Framing::default()).findings,
    ];
    for finding in found.iter().flatten() {
        assert!(Finding::CODES.contains(&finding.code()), "{}", finding.code());
        assert!(finding.key().numbers().keys().all(|name| !name.is_empty()), "{finding}");
    }
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
    case(&source(1920, 901), &frame(1920, 901), &Framing::default(), &[("odd_size", Caution)]);
}
