//! [`Progress`]: who is told how far the work is.

/// Is told of each step of the work; the work ends when it answers `false`, which it does from then on.
pub type Progress<'a> = &'a (dyn Fn() -> bool + Sync);

/// Each of them is a step. They end early when the work does: what is made of them is thrown away then.
pub(crate) fn told<T>(progress: Progress<'_>, all: impl Iterator<Item = T>) -> impl Iterator<Item = T> {
    all.take_while(move |_| progress())
}
