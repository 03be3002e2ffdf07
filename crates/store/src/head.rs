//! Where a history stands, and what undo and redo would do for whoever asks.

use std::collections::{HashMap, HashSet};

use diesel::prelude::*;
use ratiomet_core::project::{ProjectId, StepId};

use crate::error::{Answer, StoreError};
use crate::rows;
use crate::schema::{changes, records, steps};

/// Where a history stands, and what undo and redo would do: to which step, and what that takes back
/// or carries out again.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Head {
    /// The step after which things are as they are now.
    pub at: StepId,
    /// What undo does.
    pub undo: Option<Undo>,
    /// One step forth.
    pub redo: Option<(StepId, String)>,
    /// What is in the way of undo, where something of others is.
    pub in_the_way: Option<InTheWay>,
}

/// What undo does.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Undo {
    /// Where it leads; where it takes a step back that others have followed, to a new one.
    pub to: StepId,
    /// What it takes back.
    pub label: String,
    /// The step that it takes back by a new one, since others have followed it.
    pub takes_back: Option<StepId>,
}

/// A later step of somebody else that has changed the same.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct InTheWay {
    /// What would have been taken back.
    pub undo: String,
    /// The later step.
    pub label: String,
    /// Whose it is, where that is known.
    pub by: Option<String>,
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
    pub made_by: Option<String>,
    pub takes_back_id: Option<i32>,
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

/// Where the history of a project stands, for somebody who may have a name. Who has none undoes whatever was done last.
pub(crate) fn head(connection: &mut SqliteConnection, project: ProjectId, hand: Option<&str>) -> Answer<Head> {
    let at = rows::project_row(connection, project)?.at;
    let here = find_step(connection, project, at)?;
    let redo = match here.redo_id {
        Some(step) => Some(find_step(connection, project, step)?),
        None => None,
    };
    let back = here.parent_id.map(StepId::new);
    let Some(hand) = hand else {
        let undo = back.map(|to| Undo { to, label: here.label, takes_back: None });
        let redo = redo.map(|step| (StepId::new(step.id), step.label));
        return Ok(Head { at: StepId::new(at), undo, redo, in_the_way: None });
    };
    let is_own = |step: &StepRow| step.made_by.as_deref().is_none_or(|by| by == hand);
    // What somebody has taken back is done again by going back before that.
    let redo = match (here.takes_back_id, back) {
        (Some(step), Some(back)) if is_own(&here) => Some((back, find_step(connection, project, step)?.label)),
        _ => redo
            .filter(|step| is_own(step) && step.takes_back_id.is_none())
            .map(|step| (StepId::new(step.id), step.label)),
    };
    let head = Head { at: StepId::new(at), undo: None, redo, in_the_way: None };
    if is_own(&here) && here.takes_back_id.is_none() {
        return Ok(Head { undo: back.map(|to| Undo { to, label: here.label, takes_back: None }), ..head });
    }
    let line = line(connection, project, at)?;
    let Some(place) = newest_own(&line, is_own) else { return Ok(head) };
    let own = &line[place];
    Ok(match in_the_way(connection, own, &line[..place])? {
        Some(in_the_way) => Head { in_the_way: Some(in_the_way), ..head },
        None => {
            let step = StepId::new(own.id);
            Head { undo: Some(Undo { to: step, label: own.label.clone(), takes_back: Some(step) }), ..head }
        }
    })
}

/// The steps from one back to the beginning.
fn line(connection: &mut SqliteConnection, project: ProjectId, at: i32) -> Answer<Vec<StepRow>> {
    let rows: Vec<StepRow> =
        steps::table.filter(steps::project_id.eq(project.number())).select(StepRow::as_select()).load(connection)?;
    let mut steps: HashMap<i32, StepRow> = rows.into_iter().map(|row| (row.id, row)).collect();
    let mut next = Some(at);
    Ok(std::iter::from_fn(|| {
        let step = steps.remove(&next?)?;
        next = step.parent_id;
        Some(step)
    })
    .collect())
}

/// The place of the newest step on a line that somebody made and that nobody has taken back. The beginning is none.
fn newest_own(line: &[StepRow], is_own: impl Fn(&StepRow) -> bool) -> Option<usize> {
    let mut taken = HashSet::new();
    line.iter().position(|step| match step.takes_back_id {
        Some(back) => {
            taken.insert(back);
            false
        }
        None => step.parent_id.is_some() && is_own(step) && !taken.contains(&step.id),
    })
}

/// The newest of the later steps that has changed what a step has changed, or what hangs on what it has made.
fn in_the_way(connection: &mut SqliteConnection, own: &StepRow, later: &[StepRow]) -> Answer<Option<InTheWay>> {
    let changed: Vec<(i32, Option<i32>, Option<i32>)> = changes::table
        .filter(changes::step_id.eq(own.id))
        .select((changes::record_id, changes::before_id, changes::after_id))
        .load(connection)?;
    let after: HashMap<i32, Option<i32>> = changed.iter().map(|(record, _, after)| (*record, *after)).collect();
    let mut touched: HashSet<i32> = HashSet::new();
    for some in changed.chunks(500) {
        let all: Vec<i32> = some.iter().map(|(record, ..)| *record).collect();
        let now: Vec<(i32, Option<i32>)> =
            records::table.filter(records::id.eq_any(all)).select((records::id, records::state_id)).load(connection)?;
        touched.extend(now.into_iter().filter(|(id, state)| after[id] != *state).map(|(id, _)| id));
        let made: Vec<i32> =
            some.iter().filter(|(_, before, _)| before.is_none()).map(|(record, ..)| *record).collect();
        let hanging: Vec<i32> = records::table
            .filter(records::source_id.eq_any(&made).or(records::frame_id.eq_any(&made)))
            .filter(records::state_id.is_not_null())
            .select(records::id)
            .load(connection)?;
        touched.extend(hanging.into_iter().filter(|id| !after.contains_key(id)));
    }
    for step in later {
        let theirs: Vec<i32> =
            changes::table.filter(changes::step_id.eq(step.id)).select(changes::record_id).load(connection)?;
        if theirs.iter().any(|record| touched.contains(record)) {
            let (undo, label, by) = (own.label.clone(), step.label.clone(), step.made_by.clone());
            return Ok(Some(InTheWay { undo, label, by }));
        }
    }
    Ok(None)
}
