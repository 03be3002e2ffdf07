//! [`Progress`]: who is told how far the work is.

/// Is told of each step of the work; the work ends when it answers `false`.
pub type Progress<'a> = &'a (dyn Fn() -> bool + Sync);
