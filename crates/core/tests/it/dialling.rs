//! Dialling in: what is typed is what is read, rounding costs what another way of reckoning says, and
//! pictures rest where it is promised.

use num_rational::BigRational;
use num_traits::{Signed, ToPrimitive};
use proptest::prelude::*;
use ratiomet_core::checks::Checked;
use ratiomet_core::dial_in::{Convention, Entered, Entry, carried, framing_for, reading, rounding_costs};
use ratiomet_core::error::Parameter;
use ratiomet_core::fraction::{Sign, parse, writable_text};
use ratiomet_core::rests::{Reason, Rests};
use ratiomet_core::space::Axis;
use ratiomet_core::*;

use crate::inputs::{frame, framing, source};
use crate::numbers::big;

fn is_short(value: &Exact) -> bool {
    parse(&writable_text(value), Sign::Allowed).is_ok_and(|same| same == *value)
}

fn plain(width: u32, height: u32) -> Source {
    let raster = Raster::new(width, height).expect("a raster");
    Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, Insets::default(), Rotation::None).expect("a source")
}

fn delivery(width: u32, height: u32) -> DeliveryFrame {
    let raster = Raster::new(width, height).expect("a raster");
    DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::Two).expect("a frame")
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(1_500))]

    /// Whatever is typed into whichever dial: the dial then reads it, exactly where the framing can be
    /// written, else to twelve digits; and what the entry does not speak of stays.
    #[test]
    fn a_dial_reads_what_was_typed_into_it(
        source in source(), frame in frame(), framing in framing(),
        convention in prop::sample::select(&Convention::ALL[..]), down in any::<bool>(), by in -40_i32..40,
    ) {
        let axis = if down { Axis::Y } else { Axis::X };
        let plan = Plan::of(&source, &frame, &framing);
        let Some(now) = reading(convention, &plan, &frame) else { return Ok(()) };
        let value = (now.of(axis) + now.of(axis).abs() * Exact::fraction(by, 64)).reduced();
        let entered = match Entered::new(value.clone()) {
            Ok(entered) => entered,
            Err(error) => {
                // The picture lies so far off that no field takes the number.
                prop_assert!(error.is_range() && now.of(axis).abs() > Exact::whole(500_000_000));
                return Ok(());
            }
        };
        let entry = Entry { convention, axis, value: entered };
        let found = match framing_for(&source, &frame, &framing, &entry) {
            Ok(found) => found,
            Err(error) => {
                prop_assert!(error.is_range() && !error.to_string().is_empty());
                return Ok(());
            }
        };
        let after = Plan::of(&source, &frame, &found);
        let read = reading(convention, &after, &frame).expect("it was seen before");
        // A window that is not filled holds the whole picture, whatever was typed.
        let whole = |axis: Axis| after.bars.any_along(axis);
        let windows = matches!(convention, Convention::WindowCorner | Convention::WindowSize);
        if !windows || !(whole(Axis::X) || whole(Axis::Y)) {
            let off = (big(read.of(axis)) - big(&value)).abs();
            let written = [found.zoom.value(), found.shift_x.value(), found.shift_y.value()];
            let exact = written.iter().all(|value| is_short(value)) && *read.of(axis) == value;
            let scale = big(&value).abs().max(big(&plan.image.size.area().max(Exact::ONE)));
            prop_assert!(exact || off <= scale / BigRational::from_integer(100_000_000.into()), "{read:?} is not {value}");
        }
        if convention.is_scale() {
            prop_assert_eq!((&found.shift_x, &found.shift_y), (&framing.shift_x, &framing.shift_y));
        } else if convention != Convention::WindowSize {
            prop_assert_eq!(&found.zoom, &framing.zoom);
        }
        prop_assert_eq!(found.method, framing.method);
    }

    /// Places and sizes rounded as a program would, the image reckoned in another way.
    #[test]
    fn rounding_costs_what_a_program_that_rounds_would_show(
        source in source(), frame in frame(), framing in framing(), places in 0_u32..5,
    ) {
        let plan = Plan::of(&source, &frame, &framing);
        for cost in rounding_costs(&source, &frame, &plan, places) {
            let exact = reading(cost.convention, &plan, &frame).expect("it was read");
            let half = BigRational::new(1.into(), (2 * 10_i64.pow(places)).into());
            let mut far = BigRational::from_integer(0.into());
            for axis in Axis::BOTH {
                let (rounded, true_value) = (big(cost.rounded.of(axis)), big(exact.of(axis)));
                prop_assert!((&rounded - &true_value).abs() <= half);
                let off = match cost.convention {
                    // The whole clip grows by its share about its own middle, and its picture with it.
                    convention if convention.is_scale() => {
                        let half = BigRational::new(1.into(), 2.into()) * big(frame.raster().size().along(axis));
                        let middle = half + big(plan.dial.uncut.centre_offset.of(axis));
                        let ends = [big(plan.image.start(axis)), big(&plan.image.end(axis))];
                        let farthest = ends.map(|end| (end - &middle).abs()).into_iter().max().expect("two ends");
                        (rounded / true_value - BigRational::from_integer(1.into())).abs() * farthest
                    }
                    Convention::CentreOffset | Convention::TopLeft => (rounded - true_value).abs(),
                    Convention::CentreShare | Convention::TopLeftShare => {
                        (rounded - true_value).abs() * big(frame.raster().size().along(axis))
                    }
                    _ => continue,
                };
                far = far.max(off);
            }
            if !matches!(cost.convention, Convention::WindowCorner | Convention::WindowSize) {
                prop_assert_eq!(big(&cost.edge), far, "{:?}", cost.convention);
            }
            prop_assert!(cost.uncovered <= cost.edge);
        }
    }

    /// The same picture in the same frame is carried on unchanged; in another one the same point stands
    /// in the middle, or the picture is at the end of its travel.
    #[test]
    fn a_place_is_carried_on(source in source(), frame in frame(), other in frame(), framing in framing()) {
        let plan = Plan::of(&source, &frame, &framing);
        let within = |axis, shift: &Exact| shift.abs() <= *plan.travel.of(axis);
        let framing = Framing {
            shift_x: if within(Axis::X, framing.shift_x.value()) { framing.shift_x.clone() } else { Shift::NONE },
            shift_y: if within(Axis::Y, framing.shift_y.value()) { framing.shift_y.clone() } else { Shift::NONE },
            ..framing
        };
        let back = carried((&source, &frame, &framing), (&source, &frame)).framing;
        prop_assert!(!is_short(framing.shift_x.value()) || back.shift_x == framing.shift_x);
        let there = carried((&source, &frame, &framing), (&source, &other)).framing;
        let (here, there_plan) = (Plan::of(&source, &frame, &framing), Plan::of(&source, &other, &there));
        for axis in Axis::BOTH {
            let middle = |plan: &Plan| {
                let area = plan.picture_area.rect();
                (area.centre(axis) - plan.image.start(axis)) / plan.image.size.along(axis)
            };
            let shift = if axis == Axis::X { there.shift_x.value() } else { there.shift_y.value() };
            let travel = there_plan.travel.of(axis);
            let off = (big(&middle(&here)) - big(&middle(&there_plan))).abs().to_f64().expect("a number");
            let at_end = (big(&shift.abs()) - big(travel)).abs().to_f64().expect("a number") < 1e-3
                || shift.abs() == Exact::whole(1_000_000);
            prop_assert!(off < 1e-6 || at_end, "{off} off, {shift} of {travel}");
        }
    }

    /// Rests keep their promises, as they are typed too.
    #[test]
    fn pictures_rest_where_it_is_promised(source in source(), frame in frame(), framing in framing()) {
        let rests = Rests::of(&source, &frame, &framing, None);
        for (axis, rests) in [(Axis::X, &rests.x), (Axis::Y, &rests.y)] {
            prop_assert!(rests.iter().any(|rest| rest.at.is_zero()));
            prop_assert!(rests.windows(2).all(|pair| pair[0].at < pair[1].at));
            for rest in rests.iter().filter(|rest| limits::SHIFT.hold(&rest.at)) {
                let shift = Shift::new(rest.typed()).expect("within bounds");
                let moved = match axis {
                    Axis::X => Framing { shift_x: shift, shift_y: Shift::NONE, ..framing.clone() },
                    Axis::Y => Framing { shift_y: shift, shift_x: Shift::NONE, ..framing.clone() },
                };
                let Checked { plan, findings } = Checked::of(&source, &frame, &moved);
                // Nothing is uncovered by resting.
                prop_assert!(!findings.iter().any(|finding| finding.code() == "off_edge"), "{rest:?}");
                if rest.reason == Reason::Third {
                    // A third line of the picture on the same one of the area.
                    let area = plan.picture_area.rect();
                    let line = |start: &Exact, length: &Exact, at: u32| start + length * Exact::fraction(1, 3) * Exact::whole(at);
                    let off = [1, 2].map(|at| {
                        let picture = line(plan.image.start(axis), plan.image.size.along(axis), at);
                        (picture - line(area.start(axis), area.size.along(axis), at)).abs()
                    });
                    prop_assert!(off.iter().any(|off| off.to_f64() < 1e-3), "{off:?}");
                }
            }
        }
        for rest in &rests.zoom {
            let Ok(zoom) = Zoom::new(rest.typed()) else { continue };
            let plan = Plan::of(&source, &frame, &Framing { zoom, shift_x: Shift::NONE, shift_y: Shift::NONE, ..framing.clone() });
            let percent = plan.dial.native_percent.y.to_f64();
            match rest.reason {
                Reason::Covers => prop_assert_eq!(plan.covered, Exact::ONE),
                Reason::Fits => prop_assert_eq!(plan.kept, Exact::ONE),
                Reason::OneToOne => prop_assert!((percent - 100.0).abs() < 1e-4, "{percent}"),
                Reason::Clean => prop_assert!((percent / 10.0 - (percent / 10.0).round()).abs() < 1e-4 * percent, "{percent}"),
                _ => {}
            }
        }
    }
}

#[test]
fn typed_numbers_give_the_framing_that_a_hand_would_reckon() {
    // UHD into HD: 50 % of native fits. Zoom 1 is 50 %.
    #[track_caller]
    fn case(convention: Convention, axis: Axis, typed: &str, zoom: &str, shift: [&str; 2]) {
        let fit = Framing::of(Method::Fit);
        let entry = Entry { convention, axis, value: Entered::parse(typed).expect("a number") };
        let found = framing_for(&plain(3840, 2160), &delivery(1920, 1080), &fit, &entry).expect("a framing");
        assert_eq!(writable_text(found.zoom.value()), zoom, "{convention:?}");
        let texts = [&found.shift_x, &found.shift_y].map(|shift| writable_text(shift.value()));
        assert_eq!(texts, shift, "{convention:?}");
    }
    case(Convention::NativePercent, Axis::X, "75", "1.5", ["0", "0"]);
    case(Convention::OverFit, Axis::Y, "1.25", "1.25", ["0", "0"]);
    case(Convention::OverFill, Axis::Y, "2", "2", ["0", "0"]);
    case(Convention::CentreOffset, Axis::X, "-90", "1", ["-90", "0"]);
    case(Convention::CentreShare, Axis::Y, "0.6", "1", ["0", "108"]);
    case(Convention::TopLeft, Axis::Y, "12", "1", ["0", "12"]);
    case(Convention::TopLeftShare, Axis::X, "-0.1", "1", ["-192", "0"]);
    // 1920 of 3840 columns: twice as large, and the middle stays.
    case(Convention::WindowSize, Axis::X, "1920", "2", ["0", "0"]);
}

#[test]
fn a_turned_window_is_typed_in_stored_pixels() {
    // Stored 1920 by 1080, turned clockwise: upright 1080 by 1920, into a square. Fill shows 1080 of
    // 1920 stored columns, from 420; the upright's top is the stored left.
    let raster = Raster::new(1920, 1080).expect("a raster");
    for (rotation, shift) in [(Rotation::Quarter, "420"), (Rotation::ThreeQuarters, "-420")] {
        let source = Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, Insets::default(), rotation);
        let source = source.expect("a source");
        let entry = Entry {
            convention: Convention::WindowCorner,
            axis: Axis::X,
            value: Entered::parse("0").expect("a number"),
        };
        let found = framing_for(&source, &delivery(1080, 1080), &Framing::of(Method::Fill), &entry).expect("a framing");
        assert_eq!(writable_text(found.shift_y.value()), shift, "{rotation:?}");
    }
}

#[test]
fn numbers_that_no_framing_gives_are_refused_with_those_that_would_do() {
    #[track_caller]
    fn case(convention: Convention, axis: Axis, typed: &str, says: &str) {
        let entry = Entry { convention, axis, value: Entered::parse(typed).expect("a number") };
        let fill = Framing::of(Method::Fill);
        let error = framing_for(&plain(3840, 2160), &delivery(1080, 1080), &fill, &entry).expect_err(typed);
        assert!(error.is_range() && error.parameter() == Some(Parameter::Value));
        assert!(error.to_string().contains(says), "{error}");
    }
    case(Convention::NativePercent, Axis::Y, "0", "from 0.05 to 50000");
    case(Convention::OverFit, Axis::Y, "-1", "from 0.0018 to 1777.7778");
    // The window is 2160 wide: it can begin from 0 to 1680.
    case(Convention::WindowCorner, Axis::X, "1681", "from 0 to 1680");
    case(Convention::WindowCorner, Axis::Y, "1", "whole side is visible");
    case(Convention::WindowSize, Axis::X, "4000", "from 0 to 3840");
    case(Convention::WindowSize, Axis::X, "0", "from 0 to 3840");
    case(Convention::CentreOffset, Axis::X, "1000001", "1000000");
    let away = Framing { shift_x: Shift::new(Exact::whole(9_000)).expect("a shift"), ..Framing::of(Method::Fill) };
    let entry =
        Entry { convention: Convention::WindowSize, axis: Axis::X, value: Entered::parse("100").expect("a number") };
    let error = framing_for(&plain(3840, 2160), &delivery(1080, 1080), &away, &entry).expect_err("nothing is seen");
    assert!(error.to_string().contains("visible picture"), "{error}");
}

#[test]
fn long_fractions_are_written_as_the_nearest_decimal() {
    let case = |above: i64, below: i64, text: &str| {
        assert_eq!(writable_text(&(Exact::from(above) / Exact::from(below))), text);
    };
    case(1, 3, "1/3");
    case(1_500_000, 1_000_000, "1.5");
    case(-7, 8, "-0.875");
    // Thirteen digits below the line: twelve digits of the decimal number, at most eleven behind the point.
    case(1_000_000_000_001, 3_000_000_000_001, "0.33333333333");
    case(123_456_789_012_345, 1_000_000_000_007, "123.456789011");
}
