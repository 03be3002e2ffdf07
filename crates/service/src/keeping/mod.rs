//! Keeping data files: copies of them, whether they are sound, and how they come back.

mod backup;
mod check;
mod daily;
mod restore;

pub use backup::run as backup;
pub use check::run as check;
pub use daily::{Copies, make as copy_daily, of as copies_of};
pub use restore::run as restore;
