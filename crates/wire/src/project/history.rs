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
    /// What undo does; null when there is nothing to undo. Where people are known it takes their own newest change back.
    pub undo: Option<UndoTurn>,
    /// The step that redo carries out again; null at an end.
    pub redo: Option<Turn>,
    /// Why nothing can be undone, where others have changed the same later.
    pub in_the_way: Option<InTheWay>,
}

/// What undo does.
#[derive(Debug, Serialize, ToSchema)]
pub struct UndoTurn {
    /// Where it leads.
    pub to: i32,
    /// What it takes back.
    pub label: String,
    /// The step to send to `history/take-back`, when others have made steps since; null when `to` is a step to go to.
    pub takes_back: Option<i32>,
}

/// A later step that has changed the same.
#[derive(Debug, Serialize, ToSchema)]
pub struct InTheWay {
    /// What would have been taken back.
    pub undo: String,
    /// The later step.
    pub label: String,
    /// Whose it is; null where people are not known.
    pub by: Option<String>,
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
    /// Whose it is; null where people are not known.
    pub made_by: Option<String>,
    /// The earlier step that it takes back; null for others.
    pub takes_back: Option<i32>,
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
    /// Who has made steps of it, by name; ask for those of one with `by`.
    pub people: Vec<String>,
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

/// Which step to take back.
#[derive(Clone, Copy, Debug)]
pub struct TakeBackRequest {
    /// The step where the history stands, as it was last seen.
    pub from: StepId,
    /// The step to take back.
    pub step: StepId,
}

record!(
    /// A wish to take a step back that others have followed.
    "TakeBackRequest", "wishes" for TakeBackRequest {
        /// The step where the history stands, as it was last seen.
        from: StepId = Required, |wish| wish.from;
        /// The step to take back: the one that undo names.
        step: StepId = Required, |wish| wish.step;
    }
    |from, step| Ok(TakeBackRequest { from, step })
);
