//! Rates: patterns that practitioners know, a reference that shows frame after frame, promises.

use num_bigint::BigInt;
use num_rational::BigRational;
use proptest::prelude::*;
use ratiomet_core::cadence::{Cadence, Intent, Relation};
use ratiomet_core::*;

use crate::numbers::big;

fn rate(text: &str) -> FrameRate {
    FrameRate::parse(text).expect("a rate")
}

fn real_time(from: &FrameRate, to: &FrameRate) -> (Exact, Option<Vec<i64>>, Relation) {
    match Cadence::of(from, to, Intent::RealTime) {
        Cadence::RealTime { ratio, cycle, relation, .. } => (ratio, cycle, relation),
        other => panic!("{other:?}"),
    }
}

#[track_caller]
fn case(from: &str, to: &str, relation: Relation, cycle: Option<&[i64]>, words: &str) {
    let (_, found, related) = real_time(&rate(from), &rate(to));
    assert_eq!(related, relation, "{from} at {to}");
    if cycle.is_some() {
        assert_eq!(found.as_deref(), cycle, "{from} at {to}");
    }
    assert_eq!(Cadence::of(&rate(from), &rate(to), Intent::RealTime).to_string(), words, "{from} at {to}");
}

// Common practice: the patterns that film and video have been shown with.
#[test]
fn the_familiar_patterns_come_out() {
    case("25", "25", Relation::Same, Some(&[1]), "frame for frame");
    case("24000/1001", "24000/1001", Relation::Same, Some(&[1]), "frame for frame");
    case("50", "25", Relation::Drop, Some(&[1, 0]), "every 2nd frame");
    case("60", "20", Relation::Drop, Some(&[1, 0, 0]), "every 3rd frame");
    case("120", "24", Relation::Drop, Some(&[1, 0, 0, 0, 0]), "every 5th frame");
    case("240", "20", Relation::Drop, None, "every 12th frame");
    case("25", "50", Relation::Repeat, Some(&[2]), "each frame 2 times");
    case("30", "120", Relation::Repeat, Some(&[4]), "each frame 4 times");
    // Pulldown of film, three and two times.
    case("24", "60", Relation::Mixed, Some(&[3, 2]), "pattern 3:2");
    case("24000/1001", "60000/1001", Relation::Mixed, Some(&[3, 2]), "pattern 3:2");
    // Of four frames one twice.
    case("24", "30", Relation::Mixed, Some(&[2, 1, 1, 1]), "pattern 2:1:1:1");
    case("30", "24", Relation::Mixed, Some(&[1, 1, 1, 1, 0]), "pattern 1:1:1:1:0");
    // One frame a second more.
    case("24", "25", Relation::Mixed, None, "mixed, 24 into 25");
    // NTSC and whole rates meet only after 1001 frames: longer than a cycle that is listed.
    case("24000/1001", "24", Relation::Mixed, None, "mixed, 1000 into 1001");
    case("24", "24000/1001", Relation::Mixed, None, "mixed, 1001 into 1000");
}

// Worked by hand: 24 against 24000/1001 is 24/1001 frames a second apart: one frame in 1001/24 = 41.7 seconds.
#[test]
fn rates_that_are_not_equal_slip_by_a_frame_now_and_then() {
    let slip = |from: &str, to: &str| match Cadence::of(&rate(from), &rate(to), Intent::RealTime) {
        Cadence::RealTime { slip, .. } => slip.map(|slip| slip.to_string()),
        other => panic!("{other:?}"),
    };
    assert_eq!(slip("24", "24000/1001").as_deref(), Some("1001/24"));
    assert_eq!(slip("24000/1001", "24").as_deref(), Some("1001/24"));
    assert_eq!(slip("24", "25").as_deref(), Some("1"));
    assert_eq!(slip("60", "24").as_deref(), Some("1/36"));
    assert_eq!(slip("25", "25"), None);
}

#[test]
fn slow_motion_has_its_speed_and_its_length() {
    let case = |from: &str, to: &str, speed: (i32, u32), words: &str| {
        let cadence = Cadence::of(&rate(from), &rate(to), Intent::EveryFrame);
        let Cadence::EveryFrame { speed: found, duration } = &cadence else { panic!("{cadence:?}") };
        assert_eq!(*found, Exact::fraction(speed.0, speed.1), "{from} at {to}");
        assert_eq!(found * duration, Exact::ONE, "{from} at {to}");
        assert!(!cadence.is_mixed());
        assert_eq!(cadence.to_string(), words);
    };
    case("120", "24", (1, 5), "20 % speed, 5 times as long");
    case("60000/1001", "24000/1001", (2, 5), "40 % speed, 2.5 times as long");
    case("24", "25", (25, 24), "104.17 % speed, 0.96 times as long");
    case("25", "25", (1, 1), "every frame at normal speed");
}

/// How often each source frame of a cycle is shown, found by going through the delivery frames: the
/// j-th of them shows the source frame that runs at the moment j over the rate.
fn shown(from: &FrameRate, to: &FrameRate, frames: usize) -> Vec<i64> {
    let step = big(from.value()) / big(to.value());
    let mut times = vec![0; frames];
    for delivered in 0_i64.. {
        let source = (&step * BigRational::from(BigInt::from(delivered))).floor().to_integer();
        match usize::try_from(source) {
            Ok(source) if source < frames => times[source] += 1,
            _ => return times,
        }
    }
    unreachable!("the delivery goes past the cycle")
}

fn any_rate() -> impl Strategy<Value = FrameRate> {
    prop_oneof![
        prop::sample::select(
            &["24", "25", "30", "48", "50", "60", "120", "24000/1001", "30000/1001", "60000/1001"][..]
        )
        .prop_map(rate),
        (1_i32..=240, 1_u32..=12).prop_map(|(a, b)| FrameRate::new(Exact::fraction(a, b)).expect("a rate")),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(600))]

    #[test]
    fn a_cycle_is_what_going_through_the_frames_shows(from in any_rate(), to in any_rate()) {
        let (ratio, cycle, relation) = real_time(&from, &to);
        let (shown_a_cycle, frames) = ratio.short_terms().expect("short terms");
        prop_assert_eq!(cycle.is_none(), frames > Cadence::LONGEST_CYCLE);
        if let Some(cycle) = cycle {
            prop_assert_eq!(i64::try_from(cycle.len()).expect("short"), frames);
            prop_assert_eq!(cycle.iter().sum::<i64>(), shown_a_cycle);
            // As even as it can be.
            let (least, most) = (cycle.iter().min().expect("one"), cycle.iter().max().expect("one"));
            prop_assert!(most - least <= 1);
            prop_assert_eq!(&cycle, &shown(&from, &to, cycle.len()));
            let even = least == most;
            prop_assert_eq!(even, matches!(relation, Relation::Same | Relation::Repeat));
        }
    }

    #[test]
    fn the_relation_is_that_of_the_rates(from in any_rate(), to in any_rate()) {
        let (ratio, _, relation) = real_time(&from, &to);
        let back = Exact::ONE / &ratio;
        let whole = |value: &Exact| Exact::from(value.ceil_whole()) == *value;
        let expected = match (whole(&ratio), whole(&back)) {
            (true, true) => Relation::Same,
            (true, false) => Relation::Repeat,
            (false, true) => Relation::Drop,
            (false, false) => Relation::Mixed,
        };
        prop_assert_eq!(relation, expected);
    }
}

// Common practice: the NTSC rates are 1000/1001 of whole pixels and are written with two or three
// decimals, rounded or cut short.
#[test]
fn decimal_names_of_ntsc_rates_are_the_exact_rates() {
    for (spoken, exact) in [
        ("23.976", "24000/1001"),
        ("23.98", "24000/1001"),
        ("23.97", "24000/1001"),
        ("29.97", "30000/1001"),
        ("47.95", "48000/1001"),
        ("47.952", "48000/1001"),
        ("59.94", "60000/1001"),
        ("119.88", "120000/1001"),
        ("239.76", "240000/1001"),
        ("14.985", "15000/1001"),
        // These are what they say.
        ("24.00", "24"),
        ("23.9", "239/10"),
        ("29.99", "2999/100"),
        ("12.5", "25/2"),
        ("12.50", "25/2"),
        ("24", "24"),
        ("23.976/1", "2997/125"),
        ("23.9760", "2997/125"),
    ] {
        assert_eq!(FrameRate::spoken(spoken).expect(spoken), rate(exact), "{spoken}");
    }
    for bad in ["", "0", "0.00", "-23.976", "23,976", "23.976 ", "1001", "24/0"] {
        assert!(FrameRate::spoken(bad).is_err(), "{bad:?}");
    }
}
