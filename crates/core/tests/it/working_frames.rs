//! Chains of working frames and proxies: known detours, promises, brute force.

use num_rational::BigRational;
use num_traits::One;
use proptest::prelude::*;
use ratiomet_core::chain::Chain;
use ratiomet_core::error::Parameter;
use ratiomet_core::proxy::Proxies;
use ratiomet_core::space::{Axis, Stored};
use ratiomet_core::*;

use crate::inputs::{frame, framing, raster, source, step};
use crate::numbers::big;

fn picture(width: u32, height: u32) -> Source {
    let raster = Raster::new(width, height).expect("a raster");
    Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, Insets::default(), Rotation::None).expect("a picture")
}

fn square(width: u32, height: u32) -> DeliveryFrame {
    let raster = Raster::new(width, height).expect("a raster");
    DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::Two).expect("a frame")
}

fn texts<U>(axes: &space::Axes<U>) -> (String, String) {
    (axes.x.to_string(), axes.y.to_string())
}

fn pair(x: &str, y: &str) -> (String, String) {
    (x.to_owned(), y.to_owned())
}

// Common practice: editing in a small frame and finishing in a large one loses the difference.
#[test]
fn a_small_working_frame_costs_detail_and_a_large_one_does_not() {
    let uhd = picture(3840, 2160);
    let fit = Framing::default();
    let case = |steps: &[(u32, u32)], scale: &str, detail: &str, detour: bool| {
        let steps: Vec<_> = steps.iter().map(|(w, h)| (square(*w, *h), fit.clone())).collect();
        let chain = Chain::of(&uhd, &steps).expect("a chain");
        assert_eq!(texts(&chain.scale), pair(scale, scale));
        assert_eq!(texts(&chain.detail), pair(detail, detail));
        assert_eq!(chain.is_detour(), detour);
        assert_eq!(chain.steps.len(), steps.len());
    };
    case(&[(3840, 2160)], "1", "1", false);
    case(&[(1920, 1080)], "1/2", "1/2", false);
    case(&[(1280, 720), (3840, 2160)], "1", "1/3", true);
    case(&[(1280, 720), (1920, 1080)], "1/2", "1/3", true);
    case(&[(1920, 1080), (1920, 1080)], "1/2", "1/2", false);
    case(&[(7680, 4320), (3840, 2160)], "1", "1", false);
    case(&[(1920, 1080), (3840, 2160), (960, 540), (3840, 2160)], "1", "1/4", true);
}

#[test]
fn a_frame_is_handed_on_as_it_stands() {
    // Turned and desqueezed in the first step only; the pixel shape of the frame goes on.
    let phone = Source::new(
        Raster::new(1920, 1080).expect("a raster"),
        PixelAspect::SQUARE,
        Squeeze::parse("2").expect("a squeeze"),
        Insets::default(),
        Rotation::Quarter,
    )
    .expect("a source");
    let pal = DeliveryFrame::new(
        Raster::new(720, 576).expect("a raster"),
        PixelAspect::parse("16:11").expect("a shape"),
        None,
        Step::Two,
    )
    .expect("a frame");
    let chain = Chain::of(&phone, &[(pal, Framing::default()), (square(1920, 1080), Framing::default())]).expect("one");
    assert_eq!(chain.steps[0].plan.upright.height, Exact::whole(3840));
    assert_eq!(chain.steps[1].plan.upright.width.to_string(), "11520/11");
    assert_eq!(chain.steps[1].plan.upright.height, Exact::whole(576));
    // A frame of one line cannot be footage again; as the last one it can stand.
    let line = square(100, 1);
    let refused = Chain::of(&phone, &[(line.clone(), Framing::default()), (square(4, 4), Framing::default())]);
    let (place, error) = refused.expect_err("refused");
    assert_eq!((place, error.parameter(), error.is_nothing_left()), (0, Some(Parameter::Raster), true));
    assert!(Chain::of(&phone, &[(line, Framing::default())]).is_ok());
}

/// A frame that can be handed on.
fn working() -> impl Strategy<Value = (DeliveryFrame, Framing)> {
    (frame(), framing())
        .prop_filter("at least 2 pixels", |(frame, _)| frame.raster().width() > 1 && frame.raster().height() > 1)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    #[test]
    fn what_is_left_is_the_smallest_product_on_the_way(source in source(), steps in prop::collection::vec(working(), 1..5)) {
        let chain = Chain::of(&source, &steps).expect("a chain");
        // The first step is the plan that it would be alone.
        let alone = Plan::of(&source, &steps[0].0, &steps[0].1);
        prop_assert_eq!(&chain.steps[0].plan.image, &alone.image);
        for axis in [Axis::X, Axis::Y] {
            let one = BigRational::one();
            let (mut product, mut least) = (one.clone(), one.clone());
            for step in &chain.steps {
                product *= big(step.plan.scale.of(axis));
                least = least.min(product.clone());
            }
            prop_assert_eq!(big(chain.scale.of(axis)), product.clone());
            prop_assert_eq!(big(chain.detail.of(axis)), least);
            prop_assert_eq!(big(chain.direct.of(axis)), product.min(one));
            prop_assert!(chain.detail.of(axis) <= chain.direct.of(axis));
        }
        if steps.len() == 1 {
            prop_assert!(!chain.is_detour());
        }
    }

    #[test]
    fn a_proxy_is_the_nearest_frame_on_the_step(raster in raster::<Stored>(), step in step()) {
        let proxies = Proxies::of(raster, step).expect("proxies");
        prop_assert_eq!(proxies.sizes.iter().map(|size| size.n).collect::<Vec<_>>(), Proxies::TIMES);
        for proxy in &proxies.sizes {
            for (exact, side) in [(&proxy.exact.width, proxy.frame.width()), (&proxy.exact.height, proxy.frame.height())] {
                prop_assert!(step.holds(side));
                let off = Exact::whole(side) - exact;
                let half = Exact::whole(step.pixels()).half();
                // A side is never under one step.
                prop_assert!(off.abs() <= half || (side == step.pixels() && !off.is_negative()));
            }
            let same = u64::from(proxy.frame.width()) * u64::from(raster.height())
                == u64::from(proxy.frame.height()) * u64::from(raster.width());
            prop_assert_eq!(proxy.distortion.is_zero(), same);
        }
    }

    #[test]
    fn the_largest_true_proxy_is_the_best_of_all(width in 1_u32..700, height in 1_u32..700, step in step()) {
        let raster = Raster::<Stored>::new(width, height).expect("a raster");
        let on_step = |limit: u32| (1..=limit / 2 / step.pixels()).map(|times| times * step.pixels());
        let heights: std::collections::HashSet<u32> = on_step(height).collect();
        let best = on_step(width)
            .filter(|w| (w * height).is_multiple_of(width) && heights.contains(&(w * height / width)))
            .max()
            .map(|w| (w, w * height / width));
        let found = Proxies::of(raster, step).expect("proxies").largest_true;
        prop_assert_eq!(found.map(|frame| (frame.width(), frame.height())), best);
    }
}
