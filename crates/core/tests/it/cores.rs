//! Work that every core does some of.

use std::sync::atomic::{AtomicUsize, Ordering};

use ratiomet_core::cores::{ahead, count, shared};

#[test]
fn what_is_shared_keeps_its_order() {
    for count in [0, 1, 2, 3, 7, 1000] {
        let made = shared(0..count, |at| [at, at * at]);
        let alone: Vec<usize> = (0..count).flat_map(|at| [at, at * at]).collect();
        assert_eq!(made, alone);
    }
    assert_eq!(shared(5..9, Some), [5, 6, 7, 8]);
}

#[test]
fn what_is_made_ahead_comes_in_order_and_ends_with_who_takes_it() {
    let begun = AtomicUsize::new(0);
    let make = |at| {
        begun.fetch_add(1, Ordering::Relaxed);
        at
    };
    let all: Vec<usize> = ahead(1000, make, |parts| parts.collect());
    assert!(all.into_iter().eq(0..1000));
    begun.store(0, Ordering::Relaxed);
    assert_eq!(ahead(1000, make, |parts| parts.nth(4)), Some(4));
    assert!(begun.into_inner() <= 5 + 2 * count(), "no more than a few are made for nobody");
}

#[test]
#[should_panic(expected = "of its own")]
fn where_one_part_breaks_off_all_do() {
    shared(0..100, |at| {
        assert!(at != 70, "for a reason of its own");
        [at]
    });
}
