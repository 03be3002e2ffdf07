//! The history of a project as JSON.

use serde::Serialize;
use utoipa::ToSchema;

use crate::read::Field;

/// Where a history stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct HistoryHead {
    /// The step after which things are as they are now.
    pub at: i32,
    /// The step that undo takes back, and the one that it goes to; null at the beginning.
    pub undo: Option<Turn>,
    /// The step that redo carries out again; null at an end.
    pub redo: Option<Turn>,
}

/// One step back or forth.
#[derive(Debug, Serialize, ToSchema)]
pub struct Turn {
    /// Where it leads.
    pub to: i32,
    /// What it takes back or carries out again.
    pub label: String,
}

/// One step of a history.
#[derive(Debug, Serialize, ToSchema)]
pub struct HistoryStep {
    /// Its number.
    pub id: i32,
    /// The step that it followed; null for the beginning.
    pub parent: Option<i32>,
    /// What was done.
    #[schema(example = "Squeeze 2 on 14 sources")]
    pub label: String,
    /// When, in milliseconds since 1970, UTC.
    pub made_at: i64,
    /// How many records it changed.
    pub changes: i64,
    /// Whether undo or redo come by it; other steps stand on a branch that was left.
    pub on_line: bool,
}

/// A history, the newest step first.
#[derive(Debug, Serialize, ToSchema)]
pub struct History {
    /// The step after which things are as they are now.
    pub at: i32,
    /// The steps, at most 500.
    pub steps: Vec<HistoryStep>,
    /// Whether there are older ones; ask again with `before`.
    pub more: bool,
}

/// A wish to go to a step.
#[derive(Debug, Serialize, ToSchema)]
pub struct GoRequest {
    /// The step where the history stands, as it was last seen.
    pub from: i32,
    /// The step to go to.
    pub to: i32,
}

/// Reads where to go: from, and to.
pub fn read_go(field: &Field<'_>) -> Option<(i32, i32)> {
    let object = field.object()?;
    let step = |name| object.required(name, |field| number(field, "the number of a step"));
    let (from, to) = (step("from"), step("to"));
    object.done()?;
    Some((from?, to?))
}

/// The number of a record or a step.
pub(super) fn number(field: &Field<'_>, accepted: &str) -> Option<i32> {
    match i32::try_from(field.whole(accepted)?) {
        Ok(number) => Some(number),
        Err(_) => field.refuse(accepted),
    }
}
