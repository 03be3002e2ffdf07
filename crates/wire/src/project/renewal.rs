//! What files say now of sources that are there, as JSON.

use ratiomet_core::project::{Difference, Renewal};
use serde::Serialize;
use utoipa::ToSchema;

/// A source of the project of which its file says something else now.
#[derive(Debug, Serialize, ToSchema)]
pub struct RenewalResult {
    /// The source's number.
    pub source: i32,
    /// The place of what was read among all that was sent, from 0.
    pub place: usize,
    /// Whether an update would change the source: not where all that differs was typed over.
    pub changes: bool,
    /// What differs, in words.
    #[schema(example = "raster 1920x1080 to 3840x2160")]
    pub words: String,
    /// What differs, value by value.
    pub differences: Vec<DifferenceResult>,
}

/// One value that differs.
#[derive(Debug, Serialize, ToSchema)]
pub struct DifferenceResult {
    /// Of what.
    #[schema(example = "raster")]
    pub of: &'static str,
    /// As the source has it; empty for what is not known.
    pub before: String,
    /// As the file has it.
    pub after: String,
    /// Whether somebody has typed over what was read: then it stays.
    pub typed: bool,
}

impl From<&Renewal> for RenewalResult {
    fn from(renewal: &Renewal) -> Self {
        let one = |difference: &Difference| DifferenceResult {
            of: difference.of.word(),
            before: difference.before.clone(),
            after: difference.after.clone(),
            typed: difference.typed,
        };
        Self {
            source: renewal.id.number(),
            place: renewal.place,
            changes: renewal.changes(),
            words: renewal.words(),
            differences: renewal.differences.iter().map(one).collect(),
        }
    }
}
