//! Exact arithmetic against num-rational's `BigRational`.

use num_rational::BigRational;
use num_traits::Zero;
use proptest::prelude::*;
use ratiomet_core::fraction::{Sign, parse};
use ratiomet_core::{Exact, Rounding, Step};

use crate::numbers::big;
use crate::reference::is_nearest_double;

/// Short and long fractions of either sign, up to what three products of 12-digit parts reach.
fn exact() -> impl Strategy<Value = Exact> {
    let small = (-5_000_i64..5_000, 1_i64..500).prop_map(|(a, b)| Exact::from(a) / Exact::from(b));
    let edge = (any::<i64>(), 1_i64..i64::MAX).prop_map(|(a, b)| Exact::from(a) / Exact::from(b));
    let long = (any::<i64>(), any::<i64>(), 1_i64..i64::MAX, 1_i64..i64::MAX)
        .prop_map(|(a, b, c, d)| Exact::from(a) * Exact::from(b) / (Exact::from(c) * Exact::from(d)));
    prop_oneof![2 => small, 1 => edge, 1 => long]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(2_000))]

    #[test]
    fn every_operation_gives_the_true_result(a in exact(), b in exact()) {
        prop_assert_eq!(big(&(&a + &b)), big(&a) + big(&b));
        prop_assert_eq!(big(&(&a - &b)), big(&a) - big(&b));
        prop_assert_eq!(big(&(&a * &b)), big(&a) * big(&b));
        if !b.is_zero() {
            prop_assert_eq!(big(&(&a / &b)), big(&a) / big(&b));
        }
        prop_assert_eq!(a.cmp(&b), big(&a).cmp(&big(&b)));
        prop_assert_eq!(a.is_negative(), big(&a) < BigRational::zero());
    }

    #[test]
    fn the_text_is_in_lowest_terms(a in exact()) {
        prop_assert_eq!(a.to_string(), big(&a).to_string());
        prop_assert_eq!(a.clone().reduced().to_string(), a.to_string());
    }

    #[test]
    fn the_double_is_the_nearest(a in exact()) {
        prop_assert!(is_nearest_double(a.to_f64(), &big(&a)), "{} is not nearest to {}", a.to_f64(), a);
    }

    #[test]
    fn rounding_keeps_its_promises(a in exact(), step in prop::sample::select(&Step::ALL[..])) {
        let limit = Exact::from(1_000_000_000_i64);
        prop_assume!(a.abs() < limit);
        let size = Exact::whole(step.pixels());
        let (down, up) = (Rounding::Down.to_step(&a, step), Rounding::Up.to_step(&a, step));
        let nearest = Rounding::Nearest.to_step(&a, step);
        for side in [down, up, nearest] {
            prop_assert_eq!(side % i64::from(step.pixels()), 0);
        }
        prop_assert!(Exact::from(down) <= a && a < Exact::from(down) + &size);
        prop_assert!(Exact::from(up) >= a && a > Exact::from(up) - &size);
        let off = (Exact::from(nearest) - &a).abs();
        prop_assert!(off <= size.half());
        if off == size.half() {
            prop_assert_eq!(nearest, up, "a tie goes up");
        }
    }
}

#[track_caller]
fn reads(text: &str, sign: Sign, expected: &str) {
    assert_eq!(parse(text, sign).map(|value| value.to_string()), Ok(expected.to_owned()), "{text}");
}

#[track_caller]
fn refuses(text: &str, sign: Sign) {
    let refused = parse(text, sign).expect_err(text);
    assert!(refused.is_syntax(), "{text}: {refused}");
}

#[test]
fn fractions_are_read_by_their_digits() {
    reads("2.39", Sign::Never, "239/100");
    reads("2.39:1", Sign::Never, "239/100");
    reads("24000/1001", Sign::Never, "24000/1001");
    reads("16:9.0", Sign::Never, "16/9");
    reads("016:9", Sign::Never, "16/9");
    reads("0.50", Sign::Never, "1/2");
    reads("-12.5", Sign::Allowed, "-25/2");
    reads("-0", Sign::Allowed, "0");
    // The longest parts: 12 digits each.
    reads("999999999999/0.00000000001", Sign::Never, "99999999999900000000000");
}

#[test]
fn anything_else_is_no_fraction() {
    for text in [
        "",
        ".5",
        "5.",
        "+1",
        " 1",
        "1 ",
        "1e3",
        "NaN",
        "inf",
        "1/0",
        "1:0.0",
        "1/2/3",
        "1:2/3",
        "1..2",
        "1/",
        "/1",
        "--1",
        "1/-2",
        "0x10",
        "1,5",
        "１",
        "1234567890123",
        "0000000000001",
        "1.234567890123",
        "1/1234567890123",
    ] {
        refuses(text, Sign::Allowed);
    }
    // A minus sign only where the value may be negative.
    refuses("-1", Sign::Never);
    refuses("-0", Sign::Never);
}

#[test]
fn decimals_round_to_the_nearest_and_a_tie_up() {
    #[track_caller]
    fn case(value: Exact, places: u32, expected: &str) {
        assert_eq!(value.to_decimal(places), expected);
    }
    case(Exact::fraction(1, 8), 2, "0.13");
    case(Exact::fraction(-1, 8), 2, "-0.12");
    case(Exact::fraction(-1, 1000), 2, "0.00");
    case(Exact::fraction(5, 2), 0, "3");
    case(Exact::whole(65_536), 3, "65536.000");
}
