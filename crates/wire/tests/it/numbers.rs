//! A number is written as the fraction that it is and as the nearest double, whatever was written before it.

use proptest::collection::vec;
use proptest::prelude::*;
use ratiomet_core::Exact;
use ratiomet_wire::number::ExactNumber;
use serde_json::Value;

/// Few enough that they come again, and many enough that they meet in one place.
fn number() -> impl Strategy<Value = (i128, i128)> {
    let short = (-20_i128..20, 1_i128..2_000);
    let long = (any::<i64>().prop_map(i128::from), 1_i128..i128::from(i64::MAX));
    prop_oneof![8 => short, 2 => long, 1 => (Just(i128::MAX / 3), 1_i128..9)]
}

fn shared(a: i128, b: i128) -> i128 {
    if b == 0 { a.abs() } else { shared(b, a % b) }
}

proptest! {
    #[test]
    fn numbers_are_written_as_they_are(numbers in vec(number(), 1..600)) {
        for (numerator, denominator) in numbers {
            let exact = Exact::from_parts(numerator, denominator).expect("above 0");
            let written = serde_json::to_string(&ExactNumber(exact.clone())).expect("JSON");
            prop_assert!(serde_json::from_str::<Value>(&written).is_ok(), "{}", written);
            // Reckoned here once more.
            let divisor = shared(numerator, denominator).max(1);
            let terms = match denominator / divisor {
                1 => (numerator / divisor).to_string(),
                below => format!("{}/{below}", numerator / divisor),
            };
            let (exactly, double) = written.split_once(r#"","value":"#).expect("two fields");
            prop_assert_eq!(exactly, format!(r#"{{"exact":"{terms}"#));
            // Read by the language itself, which rounds to the nearest.
            prop_assert_eq!(double.trim_end_matches('}').parse::<f64>(), Ok(exact.to_f64()));
        }
    }
}
