//! Subjects and common parts: brute force finds nothing better.

use num_rational::BigRational;
use proptest::prelude::*;
use ratiomet_core::common::Common;
use ratiomet_core::error::Parameter;
use ratiomet_core::safe_area::Percent;
use ratiomet_core::space::{Axis, Rect, Upright};
use ratiomet_core::subject::{Around, Margin, Room, Share, Subject};
use ratiomet_core::*;

use crate::inputs::{frame, framing, source};
use crate::numbers::big;

fn share(numerator: u32, denominator: u32) -> Share {
    Share::new(Exact::whole(numerator) / Exact::whole(denominator)).expect("a share")
}

fn subject() -> impl Strategy<Value = (Subject, [(u32, u32); 2])> {
    let span = || (0_u32..60, 1_u32..=60).prop_filter("inside", |(start, length)| start + length <= 60);
    (span(), span()).prop_map(|(across, down)| {
        let subject = Subject::new([share(across.0, 60), share(down.0, 60)], [share(across.1, 60), share(down.1, 60)]);
        (subject.expect("inside"), [across, down])
    })
}

/// How much of a span is seen between two edges.
fn seen(start: &BigRational, end: &BigRational, low: &BigRational, high: &BigRational) -> BigRational {
    let zero = BigRational::from_integer(0.into());
    (end.min(high) - start.max(low)).max(zero)
}

fn room() -> impl Strategy<Value = Room> {
    (0_u32..=9, prop::option::of(1_u32..=100)).prop_map(|(margin, safe)| Room {
        margin: Margin::new(Exact::fraction(1, 20) * Exact::whole(margin)).expect("a margin"),
        safe: safe.map(|safe| Percent::new(Exact::whole(safe)).expect("a percentage")),
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(2_000))]

    #[test]
    fn no_shift_within_the_travel_shows_more_of_the_subject_or_stands_nearer_to_where_it_was_wanted(
        source in source(), frame in frame(), framing in framing(), (subject, spans) in subject(), room in room(), steps in 3_i64..24,
    ) {
        let around = Around::of(&source, &frame, &framing, &subject, &room);
        let centred = Framing { shift_x: Shift::NONE, shift_y: Shift::NONE, ..framing.clone() };
        let plan = Plan::of(&source, &frame, &centred);
        let area = plan.picture_area.rect();
        for (axis, (start, length)) in [Axis::X, Axis::Y].into_iter().zip(spans) {
            // Where the subject stands with no shift, by its share of the image.
            let image = big(plan.image.size.along(axis));
            let share = |part: u32| BigRational::new(part.into(), 60.into()) * &image + big(plan.image.start(axis));
            let (start, end) = (share(start), share(start + length));
            let (low, high) = (big(area.start(axis)), big(&area.end(axis)));
            let travel = big(plan.travel.of(axis)).min(big(&Exact::whole(1_000_000)));
            let (found, asked) = match axis {
                Axis::X => (&around.framing.shift_x, &framing.shift_x),
                Axis::Y => (&around.framing.shift_y, &framing.shift_y),
            };
            // Asked for from the middle.
            let half = BigRational::new(1.into(), 2.into());
            let (found, asked) = (big(found.value()), big(asked.value()));
            let asked = asked + (&low + &high) * &half - (&start + &end) * &half;
            // The smallest room that takes the subject, worked out from the side of the frame or of the area.
            let middle = (&low + &high) * &half;
            let length = &end - &start;
            let whole = &high - &low;
            let margin = big(room.margin.value());
            let side = big(frame.raster().size().along(axis));
            let mut rooms = vec![&whole * (BigRational::from_integer(1.into()) - &margin - &margin), whole.clone()];
            if let Some(safe) = &room.safe {
                rooms.insert(0, (side * big(safe.value()) / BigRational::from_integer(100.into())).min(whole.clone()));
            }
            let held = rooms.into_iter().find(|held| length <= *held);
            let keeps = |shift: &BigRational| held.as_ref().is_none_or(|held| {
                &start + shift >= &middle - held * &half && &end + shift <= &middle + held * &half
            });
            prop_assert!(found <= travel && found >= -&travel, "a bar would appear");
            let shown = |shift: &BigRational| seen(&(&start + shift), &(&end + shift), &low, &high);
            let far = |shift: &BigRational| if *shift > asked { shift - &asked } else { &asked - shift };
            let (best, distance, kept) = (shown(&found), far(&found), keeps(&found));
            // Evenly spread, and where something changes.
            let spread = (0..=steps).map(|at| &travel * BigRational::new((2 * at - steps).into(), steps.into()));
            let changes = [&low - &start, &high - &end, &low - &end, &high - &start, asked.clone(), &middle - (&start + &end) * &half];
            for shift in spread.chain(changes).filter(|shift| *shift <= travel && *shift >= -&travel) {
                let other = shown(&shift);
                prop_assert!(other <= best, "{shift} shows more");
                // Where the bounds of a shift keep all of it out of reach, the nearest is as good.
                let out_of_reach = best == BigRational::from_integer(0.into());
                let nearer = far(&shift) < distance;
                let roomy = keeps(&shift);
                prop_assert!(kept || !roomy, "{shift} keeps the room");
                prop_assert!(other < best || out_of_reach || !nearer || (kept && !roomy) || held.is_some() && !kept,
                    "{shift} shows as much, keeps the room and lies nearer");
            }
        }
        // The plan is the one of that framing, and says how much is seen.
        prop_assert_eq!(&around.plan.image, &Plan::of(&source, &frame, &around.framing).image);
        prop_assert_eq!(&around.plan.covered, &plan.covered);
        let visible = around.plan.seen().and_then(|seen| seen.intersection(&subject.within(&around.plan.upright)));
        let part = visible.map_or(Exact::ZERO, |part| part.size.area() / subject.within(&around.plan.upright).size.area());
        prop_assert_eq!(around.is_whole(), part == Exact::ONE);
        prop_assert_eq!(part, around.shown);
    }

    #[test]
    fn a_point_is_in_the_common_part_when_every_window_holds_it(
        source in source(), frames in prop::collection::vec((frame(), framing()), 1..7), points in prop::collection::vec((1_u32..9_973, 1_u32..9_973), 30),
    ) {
        let common = Common::of(&source, &frames);
        let windows: Vec<Option<Rect<Upright>>> =
            frames.iter().map(|(frame, framing)| Plan::of(&source, frame, framing).seen()).collect();
        prop_assert_eq!(&common.windows, &windows);
        for (across, down) in points {
            let at = [
                &common.upright.width * Exact::fraction(1, 9_973) * Exact::whole(across),
                &common.upright.height * Exact::fraction(1, 9_973) * Exact::whole(down),
            ];
            let axes = [(Axis::X, &at[0]), (Axis::Y, &at[1])];
            let holds = |rect: &Rect<Upright>| axes.iter().all(|(axis, at)| rect.start(*axis) < *at && **at < rect.end(*axis));
            let on_edge = |rect: &Rect<Upright>| axes.iter().any(|(axis, at)| rect.start(*axis) == *at || **at == rect.end(*axis));
            let edges = windows.iter().flatten().chain(&common.every).chain(&common.some);
            if edges.clone().any(on_edge) {
                continue;
            }
            let held = windows.iter().filter(|window| window.as_ref().is_some_and(holds)).count();
            prop_assert_eq!(common.every.as_ref().is_some_and(holds), held == windows.len());
            // In exactly one of the parts: they do not overlap.
            prop_assert_eq!(common.some.iter().filter(|part| holds(part)).count(), usize::from(held > 0));
        }
        for (place, part) in common.some.iter().enumerate() {
            prop_assert!(part.size.width.is_positive() && part.size.height.is_positive());
            prop_assert!(common.some[..place].iter().all(|other| other.intersection(part).is_none()));
        }
        prop_assert!(common.every_share() <= common.some_share() && common.some_share() <= Exact::ONE);
        // Two windows: both, less what they share (inclusion and exclusion).
        if let [Some(one), Some(other)] = &windows[..] {
            let shared = one.intersection(other).map_or(Exact::ZERO, |both| both.size.area());
            let area = one.size.area() + other.size.area() - shared;
            prop_assert_eq!(common.some_share() * common.upright.area(), area);
        }
    }
}

#[test]
fn a_subject_lies_inside_the_picture() {
    let case = |corner: [(u32, u32); 2], size: [(u32, u32); 2]| {
        let share = |(a, b): (u32, u32)| share(a, b);
        Subject::new(corner.map(share), size.map(share)).map_err(|error| error.parameter())
    };
    assert!(case([(0, 1), (0, 1)], [(1, 1), (1, 1)]).is_ok());
    assert!(case([(1, 3), (1, 3)], [(2, 3), (1, 3)]).is_ok());
    assert_eq!(case([(1, 3), (0, 1)], [(3, 4), (1, 1)]), Err(Some(Parameter::Width)));
    assert_eq!(case([(0, 1), (1, 1)], [(1, 1), (1, 2)]), Err(Some(Parameter::Height)));
    assert_eq!(case([(0, 1), (0, 1)], [(0, 1), (1, 1)]), Err(Some(Parameter::Width)));
    for bad in ["-0.1", "1.01", "2", "x"] {
        assert!(Share::parse(bad).is_err(), "{bad}");
    }
}

/// UHD into 1080x1920: 1215 of 3840 columns are seen, 8/9 of a frame's pixel each, so that the picture travels 3498 2/3
/// delivery pixels in all. What stands at these shares of the picture's width, is found at these columns of the frame.
#[track_caller]
fn stands(span: (u32, u32), room: &Room, shift: &str, expected: [i32; 2]) -> Around {
    let source = Source::new(
        Raster::new(3840, 2160).expect("a raster"),
        PixelAspect::SQUARE,
        Squeeze::NONE,
        Insets::default(),
        Rotation::None,
    )
    .expect("a source");
    let story = DeliveryFrame::new(Raster::new(1080, 1920).expect("a raster"), PixelAspect::SQUARE, None, Step::Two);
    let story = story.expect("a frame");
    let subject = Subject::new([share(span.0, 48), share(1, 4)], [share(span.1, 48), share(1, 2)]).expect("a subject");
    let framing = Framing { shift_x: Shift::parse(shift).expect("a shift"), ..Framing::of(Method::Fill) };
    let around = Around::of(&source, &story, &framing, &subject, room);
    let image = &around.plan.image;
    let at = |part: u32| (&image.x + &image.size.width * Exact::fraction(1, 48) * Exact::whole(part)).reduced();
    // An exact third or two of a pixel may remain: the cases are in whole pixels, rounded down.
    let found = [at(span.0), at(span.0 + span.1)].map(|edge| edge.to_f64().floor());
    assert_eq!(found, expected.map(f64::from), "{around:?}");
    around
}

// Worked by hand: the image is 1920 x 16/9 = 3413 1/3 wide, a 48th of it 71 1/9.
#[test]
fn a_subject_stands_in_the_middle_as_far_as_the_travel_permits() {
    let (plain, none) = (Room::default(), Room { margin: Margin::parse("0").expect("none"), safe: None });
    // A sixth of the picture wide, 568 8/9: (1080 - 568 8/9) / 2 = 255 5/9 are free on either side.
    let middle = stands((30, 8), &plain, "0", [255, 824]);
    assert_eq!((middle.off_middle.x.clone(), middle.is_whole()), (Exact::ZERO, true));
    assert_eq!(middle.free, Exact::fraction(115, 486));
    // At the left end of the picture there is nothing to its left: it stays flush, and says so.
    let flush = stands((0, 8), &plain, "0", [0, 568]);
    assert!(flush.free.is_zero() && flush.off_middle.x.is_negative());
    // Asked for to the left of the middle, it keeps a twentieth, 54 pixels; without a margin it goes to the edge.
    stands((30, 8), &plain, "-100", [155, 724]);
    stands((30, 8), &plain, "-900", [54, 622]);
    stands((30, 8), &none, "-900", [0, 568]);
    stands((30, 8), &plain, "900", [457, 1026]);
    // In a safe area of 80 % when it fits: 108 pixels; one of 50 % is too small for it, and the margin counts.
    let safe = |percent| Room { safe: Some(Percent::parse(percent).expect("a percentage")), ..Room::default() };
    stands((30, 8), &safe("80"), "-900", [108, 676]);
    stands((30, 8), &safe("50"), "-900", [54, 622]);
    // As wide as 14 48ths, 995 5/9, it takes more than the frame less its margin; as wide as 16, more than the frame.
    stands((20, 14), &plain, "-900", [0, 995]);
    let wide = stands((20, 16), &plain, "0", [-29, 1108]);
    assert!(wide.free.is_negative() && !wide.is_whole());
}
