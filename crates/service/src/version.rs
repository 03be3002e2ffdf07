//! What was built.

/// The version of the program, and the commit that it was built of.
pub const VERSION: &str = concat!(env!("CARGO_PKG_VERSION"), " (", env!("RATIOMET_COMMIT"), ")");
