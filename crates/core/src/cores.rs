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
