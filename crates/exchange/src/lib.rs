//! What Ratiomet takes in and gives out in forms that others know: lists that people paste, headers of files,
//! questions in plain words, Framing Decision Lists, timelines, and files of its own.
//!
//! Each form is one module that reads and writes, so that its two directions cannot drift. All of them give
//! and take values of the core; nothing here computes.

mod added;
mod clip;
mod crowded;
mod file_head;
mod one_by_one;

pub mod ask;
pub mod fdl;
pub mod library_file;
pub mod list;
pub mod otio;
pub mod project_file;

pub use added::{Added, Unmatched};
pub use clip::{Clip, MOST_CLIPS, Plan};
