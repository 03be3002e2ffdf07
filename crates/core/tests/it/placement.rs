//! Plans against the independent reference, and the promises that every plan keeps.

use proptest::prelude::*;
use ratiomet_core::checks::Checked;
use ratiomet_core::space::{Axis, Rect};
use ratiomet_core::*;

use crate::inputs::{frame, framing, source};
use crate::numbers::{big, inputs};
use crate::reference::{self, Edges};

fn edges<S>(rect: &Rect<S>) -> Edges {
    Edges { left: big(&rect.x), top: big(&rect.y), right: big(&rect.end(Axis::X)), bottom: big(&rect.end(Axis::Y)) }
}

const AXES: [Axis; 2] = [Axis::X, Axis::Y];

proptest! {
    #![proptest_config(ProptestConfig::with_cases(1_500))]

    #[test]
    fn a_plan_is_where_the_reference_puts_it(source in source(), frame in frame(), framing in framing()) {
        let plan = Plan::of(&source, &frame, &framing);
        let expected = reference::plan(&inputs(&source, &frame, &framing));
        prop_assert_eq!(edges(&plan.image), expected.image);
        prop_assert_eq!(plan.window.as_ref().map(edges), expected.window);
        prop_assert_eq!(big(&plan.kept), expected.kept);
        prop_assert_eq!(big(&plan.covered), expected.covered);
        prop_assert_eq!(big(&plan.distortion), expected.distortion);
    }

    #[test]
    fn the_window_lies_inside_the_active_picture(source in source(), frame in frame(), framing in framing()) {
        let plan = Plan::of(&source, &frame, &framing);
        let active = source.active();
        if let Some(window) = &plan.window {
            for axis in AXES {
                prop_assert!(window.start(axis) >= active.start(axis));
                prop_assert!(window.end(axis) <= active.end(axis));
                prop_assert!(window.size.along(axis).is_positive());
            }
            // The window's share of the stored picture is what is kept.
            prop_assert_eq!(window.size.area() / active.size.area(), plan.kept.clone());
        }
        prop_assert_eq!(plan.window.is_none(), plan.kept.is_zero());
    }

    #[test]
    fn kept_picture_and_covered_area_are_the_same_pixels(source in source(), frame in frame(), framing in framing()) {
        let plan = Plan::of(&source, &frame, &framing);
        let area = plan.picture_area.rect();
        prop_assert_eq!(&plan.kept * plan.image.size.area(), &plan.covered * area.size.area());
        prop_assert!(!plan.kept.is_negative() && plan.kept <= Exact::ONE);
        prop_assert!(!plan.covered.is_negative() && plan.covered <= Exact::ONE);
    }

    #[test]
    fn fill_leaves_no_bar_and_fit_cuts_nothing(source in source(), frame in frame()) {
        let fill = Plan::of(&source, &frame, &Framing::of(Method::Fill));
        prop_assert_eq!(&fill.covered, &Exact::ONE);
        prop_assert!(AXES.iter().all(|axis| !fill.bars.any_along(*axis)));
        let fit = Plan::of(&source, &frame, &Framing::of(Method::Fit));
        prop_assert_eq!(&fit.kept, &Exact::ONE);
        // And each is the tightest that does: one axis meets the area exactly.
        for plan in [&fill, &fit] {
            prop_assert!(plan.travel.x.is_zero() || plan.travel.y.is_zero());
            prop_assert!(plan.distortion.is_zero());
        }
        let stretch = Plan::of(&source, &frame, &Framing::of(Method::Stretch));
        prop_assert_eq!((&stretch.kept, &stretch.covered), (&Exact::ONE, &Exact::ONE));
    }

    #[test]
    fn within_its_travel_a_shift_costs_nothing(source in source(), frame in frame(), part in -100_i32..=100) {
        let centred = Plan::of(&source, &frame, &Framing::of(Method::Fill));
        let share = Exact::fraction(part, 100);
        let shift = |axis| Shift::new(centred.travel.of(axis) * &share);
        if let (Ok(shift_x), Ok(shift_y)) = (shift(Axis::X), shift(Axis::Y)) {
            let framing = Framing { shift_x, shift_y, ..Framing::of(Method::Fill) };
            let Checked { plan: moved, findings } = Checked::of(&source, &frame, &framing);
            prop_assert_eq!(&moved.covered, &Exact::ONE);
            prop_assert_eq!(&moved.kept, &centred.kept);
            prop_assert!(findings.iter().all(|finding| finding.code() != "off_edge"));
        }
    }

    #[test]
    fn zooming_by_the_reserve_reaches_native_size(source in source(), frame in frame()) {
        let fill = Plan::of(&source, &frame, &Framing::of(Method::Fill));
        if let Ok(zoom) = Zoom::new(fill.reserve.x.clone()) {
            let native = Plan::of(&source, &frame, &Framing { zoom, ..Framing::of(Method::Fill) });
            prop_assert_eq!(native.scale.x, Exact::ONE);
        }
    }

    #[test]
    fn the_dial_places_the_same_image(source in source(), frame in frame(), framing in framing()) {
        let plan = Plan::of(&source, &frame, &framing);
        let raster = frame.raster().size();
        for axis in AXES {
            // Corner and centre say the same.
            let centre = plan.dial.cut.top_left.of(axis) + plan.image.size.along(axis).half();
            prop_assert_eq!(centre - raster.along(axis).half(), plan.dial.cut.centre_offset.of(axis).clone());
            // Percent of native, from the upright picture to delivery lines.
            let lines = plan.upright.along(axis) * plan.dial.native_percent.of(axis) / Exact::whole(100);
            let aspect = if axis == Axis::X { frame.pixel_aspect().value().clone() } else { Exact::ONE };
            prop_assert_eq!(lines, plan.image.size.along(axis) * aspect);
        }
        // Over fit and over fill differ by the step from fit to fill.
        prop_assert_eq!(&plan.dial.cut.sizes.over_fit.x * &plan.dial.cut.sizes.over_fill.y, &plan.dial.cut.sizes.over_fit.y * &plan.dial.cut.sizes.over_fill.x);
        // What a program makes that was not told of the squeeze, multiplied, is the same picture.
        let stored = source.active().size;
        let (across, down) = if source.rotation().swaps_axes() { (stored.height, stored.width) } else { (stored.width, stored.height) };
        let lines = &raster.width * frame.pixel_aspect().value();
        let fitted = (&lines / &across).min(&raster.height / &down);
        prop_assert_eq!(across * &fitted * plan.dial.cut.uncorrected.x, &plan.image.size.width * frame.pixel_aspect().value());
        prop_assert_eq!(down * &fitted * plan.dial.cut.uncorrected.y, plan.image.size.height.clone());
    }

    #[test]
    fn cut_and_seen_make_up_the_upright_picture(source in source(), frame in frame(), framing in framing()) {
        let plan = Plan::of(&source, &frame, &framing);
        match (plan.seen(), plan.cut()) {
            (Some(seen), Some(cut)) => {
                prop_assert_eq!(&cut.left + &seen.size.width + &cut.right, plan.upright.width.clone());
                prop_assert_eq!(&cut.top + &seen.size.height + &cut.bottom, plan.upright.height.clone());
                prop_assert_eq!(seen.size.area() / plan.upright.area(), plan.kept);
                prop_assert!(!cut.left.is_negative() && !cut.bottom.is_negative());
            }
            (seen, cut) => prop_assert!(seen.is_none() && cut.is_none() && plan.window.is_none()),
        }
    }

    #[test]
    fn a_masked_picture_keeps_its_bars_equal_and_on_the_step(frame in frame()) {
        let (area, raster, step) = (frame.picture_area(), frame.raster(), frame.step());
        prop_assert!(area.x == 0 || area.y == 0);
        prop_assert_eq!(2 * area.x + area.width, raster.width());
        prop_assert_eq!(2 * area.y + area.height, raster.height());
        prop_assert!(step.holds(area.x) && step.holds(area.y));
    }
}
