//! Numbers that practitioners know by heart. All of them are common practice.

use ratiomet_core::checks::Checked;
use ratiomet_core::*;

#[track_caller]
fn height(container: (u32, u32), ratio: &str, expected: u32) {
    let request = ExtractionRequest {
        container: Raster::new(container.0, container.1).expect("a raster"),
        pixel_aspect: PixelAspect::SQUARE,
        ratio: DisplayRatio::parse(ratio).expect("a ratio"),
        keep: Keep::Width,
        step: Step::Two,
        rounding: Rounding::Down,
    };
    let frame = Extraction::of(&request).expect("a frame").chosen.frame;
    assert_eq!((frame.width(), frame.height()), (container.0, expected), "{ratio} out of {container:?}");
}

#[test]
fn scope_heights_are_the_familiar_ones() {
    height((1920, 1080), "2.35", 816);
    height((3840, 2160), "2.35", 1634);
    height((4096, 2160), "2.35", 1742);
    height((1920, 1080), "2.66", 720);
    height((1920, 1080), "2.4", 800);
    height((3840, 2160), "2.39", 1606);
}

fn source(raster: (u32, u32), squeeze: &str, degrees: u32) -> Source {
    Source::new(
        Raster::new(raster.0, raster.1).expect("a raster"),
        PixelAspect::SQUARE,
        Squeeze::parse(squeeze).expect("a squeeze"),
        Insets::default(),
        Rotation::new(degrees).expect("a quarter turn"),
    )
    .expect("a source")
}

fn frame(width: u32, height: u32) -> DeliveryFrame {
    let raster = Raster::new(width, height).expect("a raster");
    DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::Two).expect("a frame")
}

#[test]
fn a_1_8_squeeze_on_16_9_shows_3_2_and_fills_scope_at_1_34_over_fit() {
    let source = source((3840, 2160), "1.8", 0);
    let upright = source.upright();
    assert_eq!(upright.width / upright.height, Exact::fraction(16, 5));
    let plan = Plan::of(&source, &frame(4096, 1716), &Framing::of(Method::Fill));
    assert_eq!(plan.dial.cut.sizes.over_fit.x.to_decimal(2), "1.34");
    assert_eq!(plan.dial.cut.sizes.over_fit.x, Exact::fraction(429, 320));
}

#[test]
fn hd_stored_sideways_needs_exactly_200_percent_in_upright_uhd() {
    let plan = Plan::of(&source((1920, 1080), "1", 90), &frame(2160, 3840), &Framing::of(Method::Fill));
    assert_eq!(plan.dial.native_percent.x, Exact::whole(200));
    assert_eq!(plan.dial.native_percent.y, Exact::whole(200));
    assert_eq!((plan.kept, plan.covered), (Exact::ONE, Exact::ONE));
}

#[test]
fn uhd_in_hd_stands_at_50_percent_with_a_reserve_of_2() {
    let Checked { plan, findings } =
        Checked::of(&source((3840, 2160), "1", 0), &frame(1920, 1080), &Framing::default());
    assert_eq!(plan.dial.native_percent.x, Exact::whole(50));
    assert_eq!(plan.reserve.x, Exact::whole(2));
    assert_eq!(findings, []);
}

#[test]
fn a_2x_lens_on_a_4_3_guide_shows_2_67() {
    let desqueeze = Desqueeze::of(&DesqueezeRequest {
        raster: Raster::new(2880, 2160).expect("a raster"),
        pixel_aspect: PixelAspect::SQUARE,
        squeeze: Squeeze::parse("2").expect("a squeeze"),
        target: Some(DisplayRatio::parse("2.39").expect("a ratio")),
        step: Step::Two,
        rounding: Rounding::Down,
    })
    .expect("square frames");
    assert_eq!(desqueeze.ratio, Exact::fraction(8, 3));
    // 2.39 of 2160 lines is 5162.4 square columns, 2581.2 stored ones.
    let target = desqueeze.target.expect("a cut");
    assert_eq!(target.window.size.width.to_decimal(1), "2581.2");
    assert_eq!((target.widened.width(), target.widened.height()), (5162, 2160));
}

#[test]
fn hd_to_uhd_is_a_2x_enlargement_without_remainder() {
    let up = Enlargement::of(Raster::new(1920, 1080).expect("a raster"), Raster::new(3840, 2160).expect("a raster"));
    assert_eq!((up.whole, up.residual, up.direction), (2, Exact::ONE, Direction::Up));
}
