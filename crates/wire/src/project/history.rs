//! The history of a project as JSON.

use ratiomet_core::project::StepId;
use serde::Serialize;
use utoipa::ToSchema;

use crate::describe::record;

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
    /// Whether undo or redo come by it; other steps stand on an abandoned branch.
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
    /// The most steps that are kept of a history; older ones go.
    pub most_steps: usize,
    /// For how many days a branch is kept after it was left.
    pub branch_days: i64,
}

/// Where to go.
#[derive(Clone, Copy, Debug)]
pub struct GoRequest {
    /// The step where the history stands, as it was last seen.
    pub from: StepId,
    /// The step to go to.
    pub to: StepId,
}

record!(
    /// A wish to go to a step.
    "GoRequest", "wishes" for GoRequest {
        /// The step where the history stands, as it was last seen.
        from: StepId = Required, |go| go.from;
        /// The step to go to.
        to: StepId = Required, |go| go.to;
    }
    |from, to| Ok(GoRequest { from, to })
);
