//! [`Outcomes`]: whoever carries conversions out.

use std::sync::Arc;

use ratiomet_core::project::{Footage, Packaged};

/// Carries conversions out on the stills of their sources.
pub trait Outcomes: Sync {
    /// Why a conversion cannot be carried out, if it cannot.
    fn lacks(&self, packaged: &Packaged) -> Option<String>;

    /// The outcome, as PNG.
    ///
    /// # Errors
    /// A sentence when it cannot be made.
    fn png(&self, packaged: &Packaged) -> Result<Vec<u8>, String>;

    /// What stands on a sphere and nothing else, clear around it, as PNG of the size of its frame: over the sphere as it is
    /// stored, or as it is turned.
    ///
    /// # Errors
    /// A sentence when it cannot be made.
    fn overlay(&self, sphere: &Footage, stored: bool) -> Result<Vec<u8>, String>;

    /// The outcome as a picture (JPEG) with sides of at most so many pixels; none where it cannot be made.
    fn small(&self, packaged: &Packaged, side: u32) -> Option<Arc<Vec<u8>>>;

    /// The source of a conversion as it is stored, likewise.
    fn stored(&self, packaged: &Packaged, side: u32) -> Option<Arc<Vec<u8>>>;
}
