//! Work that every core does some of, on threads of its own: the system shares its time fairly with what others wait for,
//! however long it is.

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

/// What a thread has made; where it broke off, so does this one.
pub fn ended<T>(thread: ScopedJoinHandle<'_, T>) -> T {
    thread.join().unwrap_or_else(|cause| std::panic::resume_unwind(cause))
}

#[cfg(test)]
mod tests {
    use super::shared;

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
    #[should_panic(expected = "of its own")]
    fn where_one_part_breaks_off_all_do() {
        shared(0..100, |at| {
            assert!(at != 70, "for a reason of its own");
            [at]
        });
    }
}
