//! Extraction, desqueeze and enlargement: their promises.

use proptest::prelude::*;
use ratiomet_core::error::Parameter;
use ratiomet_core::*;

use crate::inputs::{pixel_aspect, raster, ratio, step};

fn rounding() -> impl Strategy<Value = Rounding> {
    prop::sample::select(&[Rounding::Down, Rounding::Up, Rounding::Nearest][..])
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(1_000))]

    #[test]
    fn an_extraction_holds_one_side_and_rounds_the_other(
        container in raster(), pixel_aspect in pixel_aspect(), ratio in ratio(), step in step(), rounding in rounding(),
        keep in prop::sample::select(&[Keep::Width, Keep::Height, Keep::Inside][..]),
    ) {
        let request = ExtractionRequest { container, pixel_aspect: pixel_aspect.clone(), ratio: ratio.clone(), keep, step, rounding };
        let answer = match Extraction::of(&request) {
            Ok(answer) => answer,
            Err(refused) => {
                prop_assert!(refused.is_too_large() && refused.parameter() == Some(Parameter::Ratio));
                return Ok(());
            }
        };
        // Before rounding the frame has exactly the ratio.
        prop_assert_eq!(&answer.exact.width * pixel_aspect.value() / &answer.exact.height, ratio.value().clone());
        let frame = answer.chosen.frame;
        let width_held = match keep {
            Keep::Width => true,
            Keep::Height => false,
            // Where the ratios are equal the width is held.
            Keep::Inside => answer.exact.width == Exact::whole(container.width()),
        };
        let following = if width_held { frame.height() } else { frame.width() };
        prop_assert!(frame.width() == container.width() || frame.height() == container.height());
        prop_assert!(step.holds(following) && following >= step.pixels());
        if keep == Keep::Inside {
            prop_assert!(answer.exact.width <= Exact::whole(container.width()));
            prop_assert!(answer.exact.height <= Exact::whole(container.height()));
        }
        prop_assert_eq!(&answer.chosen.ratio / ratio.value() - Exact::ONE, answer.chosen.deviation.clone());
        // What is kept and what is lost make up the container.
        if let (Some(kept), Some(cut)) = (&answer.kept, &answer.lost) {
            prop_assert_eq!(cut.left + frame.width() + cut.right, container.width());
            prop_assert_eq!(cut.top + frame.height() + cut.bottom, container.height());
            prop_assert!(cut.right >= cut.left && cut.right - cut.left < 2 * step.pixels());
            prop_assert!(step.holds(cut.left) && step.holds(cut.top));
            prop_assert_eq!(kept * container.size().area(), frame.size().area());
        } else {
            prop_assert!(frame.width() > container.width() || frame.height() > container.height());
        }
        // No candidate on a finer grid is further off than the one on a coarser grid.
        let off: Vec<_> = answer.candidates.iter().map(|each| {
            let exact = if width_held { &answer.exact.height } else { &answer.exact.width };
            let side = if width_held { each.frame.height() } else { each.frame.width() };
            (Exact::whole(side) - exact).abs()
        }).collect();
        prop_assert!(off.windows(2).all(|pair| pair[0] <= pair[1]));
    }

    #[test]
    fn both_square_frames_show_the_true_ratio_but_for_their_rounding(
        raster in raster(), pixel_aspect in pixel_aspect(), target in prop::option::of(ratio()), step in step(), rounding in rounding(),
    ) {
        let request = DesqueezeRequest { raster, pixel_aspect, squeeze: Squeeze::NONE, target: target.clone(), step, rounding };
        let answer = match Desqueeze::of(&request) {
            Ok(answer) => answer,
            Err(refused) => {
                prop_assert!(refused.is_too_large());
                return Ok(());
            }
        };
        prop_assert_eq!(answer.widened.frame.height(), raster.height());
        prop_assert_eq!(answer.flattened.frame.width(), raster.width());
        for square in [&answer.widened, &answer.flattened] {
            let shown = Exact::whole(square.frame.width()) / Exact::whole(square.frame.height());
            prop_assert_eq!(shown, &answer.ratio * (Exact::ONE + &square.distortion));
        }
        if let (Some(cut), Some(target)) = (answer.target, target) {
            // The window shows exactly the target and touches one pair of edges.
            prop_assert_eq!(&cut.window.size.width * &answer.factor / &cut.window.size.height, target.value().clone());
            prop_assert!(cut.room.x.is_zero() || cut.room.y.is_zero());
            prop_assert_eq!(cut.window.size.area() / raster.size().area(), cut.kept);
        }
    }

    #[test]
    fn the_whole_enlargement_is_the_smallest_that_covers(from in raster(), to in raster()) {
        let answer = Enlargement::of(from, to);
        let largest = answer.factor.x.clone().max(answer.factor.y.clone());
        let whole = Exact::from(answer.whole);
        prop_assert!(whole >= largest);
        prop_assert!(answer.whole == 1 || Exact::from(answer.whole - 1) < largest);
        prop_assert_eq!(whole * answer.residual, largest);
        prop_assert_eq!(answer.uniform, answer.factor.x == answer.factor.y);
        prop_assert_eq!(answer.area, &answer.factor.x * &answer.factor.y);
    }
}

#[test]
fn the_direction_looks_at_both_axes() {
    #[track_caller]
    fn case(from: (u32, u32), to: (u32, u32), direction: Direction) {
        let raster = |(width, height)| Raster::new(width, height).expect("a raster");
        assert_eq!(Enlargement::of(raster(from), raster(to)).direction, direction);
    }
    case((1920, 1080), (1920, 1080), Direction::Same);
    case((1920, 1080), (1920, 1200), Direction::Up);
    case((1920, 1080), (1900, 1080), Direction::Down);
    case((1920, 1080), (1900, 1200), Direction::Mixed);
}

#[test]
fn equal_ratios_hold_the_width() {
    let request = ExtractionRequest {
        container: Raster::new(3840, 1081).expect("a raster"),
        pixel_aspect: PixelAspect::SQUARE,
        ratio: DisplayRatio::parse("3840/1081").expect("a ratio"),
        keep: Keep::Inside,
        step: Step::Two,
        rounding: Rounding::Down,
    };
    // The held side is never rounded; the height, though exact, is brought to the step.
    let frame = Extraction::of(&request).expect("a frame").chosen.frame;
    assert_eq!((frame.width(), frame.height()), (3840, 1080));
}

#[test]
fn nothing_is_left_is_said_where_it_is() {
    let tiny = Raster::new(100, 100).expect("a raster");
    let insets = Insets { left: 50, right: 49, ..Insets::default() };
    let refused =
        Source::new(tiny, PixelAspect::SQUARE, Squeeze::NONE, insets, Rotation::None).expect_err("too little");
    assert!(refused.is_nothing_left());
    assert_eq!(refused.parameter(), Some(Parameter::Active));
    assert!(refused.to_string().contains("1 × 100"), "{refused}");

    let wide = DisplayRatio::parse("100").expect("a ratio");
    let narrow = Raster::new(20, 100).expect("a raster");
    let refused = DeliveryFrame::new(narrow, PixelAspect::SQUARE, Some(wide), Step::Sixteen);
    // 16 lines of bar at each end leave 4: still a picture.
    assert_eq!(refused.map(|frame| frame.picture_area().height), Ok(4));
    let short = Raster::new(20, 96).expect("a raster");
    let wide = DisplayRatio::parse("100").expect("a ratio");
    let refused = DeliveryFrame::new(short, PixelAspect::SQUARE, Some(wide), Step::Sixteen).expect_err("no picture");
    assert!(refused.is_nothing_left());
    assert_eq!(refused.parameter(), Some(Parameter::PictureRatio));
}
