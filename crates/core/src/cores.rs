//! Work that every core does some of, on threads of its own: the system shares its time fairly with what others wait for,
//! however long it is.

use std::collections::VecDeque;
use std::num::NonZero;
use std::ops::Range;
use std::thread::ScopedJoinHandle;

/// How many cores there are.
pub fn count() -> usize {
    std::thread::available_parallelism().map_or(1, NonZero::get)
}

/// What is made of some places, in their order: each core makes some of it.
pub fn shared<P: IntoIterator<Item = T>, T: Send>(places: Range<usize>, make: impl Fn(usize) -> P + Sync) -> Vec<T> {
    let share = places.len().div_ceil(count()).max(1);
    let make = &make;
    std::thread::scope(|scope| {
        let work = |first: usize| {
            let some = first..(first + share).min(places.end);
            scope.spawn(move || some.flat_map(make).collect::<Vec<T>>())
        };
        let threads: Vec<_> = places.clone().step_by(share).map(work).collect();
        threads.into_iter().flat_map(ended).collect()
    })
}

/// Makes parts by their places and hands them over in their order: the cores are ahead of who takes them by a few.
pub fn ahead<P: Send, R>(
    parts: usize,
    make: impl Fn(usize) -> P + Sync,
    take: impl FnOnce(&mut dyn Iterator<Item = P>) -> R,
) -> R {
    let make = &make;
    std::thread::scope(|scope| {
        let mut begun = (0..parts).map(|at| scope.spawn(move || make(at)));
        let mut waiting: VecDeque<_> = begun.by_ref().take(2 * count()).collect();
        take(&mut std::iter::from_fn(|| {
            let next = waiting.pop_front()?;
            waiting.extend(begun.next());
            Some(ended(next))
        }))
    })
}

/// What a thread has made; where it broke off, so does this one.
fn ended<T>(thread: ScopedJoinHandle<'_, T>) -> T {
    thread.join().unwrap_or_else(|cause| std::panic::resume_unwind(cause))
}

#[cfg(test)]
mod tests {
    use std::sync::atomic::{AtomicUsize, Ordering};

    use super::{ahead, count, shared};

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
}
