//! Where a history stands.

use diesel::prelude::*;
use ratiomet_core::project::{ProjectId, StepId};

use crate::error::{Answer, StoreError};
use crate::rows;
use crate::schema::steps;

/// Where a history stands, and what undo and redo would do: to which step, and what that takes back
/// or carries out again.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Head {
    /// The step after which things are as they are now.
    pub at: StepId,
    /// One step back.
    pub undo: Option<(StepId, String)>,
    /// One step forth.
    pub redo: Option<(StepId, String)>,
}

/// A step as it is kept.
#[derive(Queryable, Selectable, Clone)]
#[diesel(table_name = steps)]
pub(crate) struct StepRow {
    pub id: i32,
    pub parent_id: Option<i32>,
    pub redo_id: Option<i32>,
    pub label: String,
    pub made_at: i64,
}

/// A step of a project.
pub(crate) fn find_step(connection: &mut SqliteConnection, project: ProjectId, id: i32) -> Answer<StepRow> {
    let row = steps::table
        .filter(steps::project_id.eq(project.number()))
        .filter(steps::id.eq(id))
        .select(StepRow::as_select())
        .first(connection)
        .optional()?;
    row.ok_or(StoreError::Unknown { what: StepId::NOUN, id })
}

/// Where the history of a project stands.
pub(crate) fn head(connection: &mut SqliteConnection, project: ProjectId) -> Answer<Head> {
    let at = rows::project_row(connection, project)?.at;
    let here = find_step(connection, project, at)?;
    let redo = match here.redo_id {
        Some(step) => Some((StepId::new(step), find_step(connection, project, step)?.label)),
        None => None,
    };
    let undo = here.parent_id.map(|parent| (StepId::new(parent), here.label));
    Ok(Head { at: StepId::new(at), undo, redo })
}
