//! Steps: every change is one, and going to another step puts every record where it was then.

use std::collections::{BTreeMap, HashMap, HashSet};

use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use ratiomet_core::project::Pair;

use crate::error::StoreError;
use crate::schema::{changes, projects, records, states, steps};
use crate::store::{Answer, Store, now, open_project};

/// A branch that was left is pruned when its newest step is older than this many days.
pub const BRANCH_DAYS: i64 = 30;

/// The most steps that are listed at once.
const LISTED: i64 = 500;

/// One record that a step changes: which, from which state, and what it becomes.
pub(crate) struct Change {
    pub record: Subject,
    pub after: Option<String>,
}

/// The record of a change.
pub(crate) enum Subject {
    /// It is there, with this state.
    There { id: i32, state: Option<i32> },
    /// It has to be made.
    New { kind: &'static str, pair: Option<Pair> },
}

/// A step of a history.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Step {
    /// Its number.
    pub id: i32,
    /// The step that it followed; none for the beginning.
    pub parent: Option<i32>,
    /// What was done.
    pub label: String,
    /// When, in milliseconds since 1970, UTC.
    pub made_at: i64,
    /// How many records it changed.
    pub changes: i64,
    /// Whether undo or redo come by it.
    pub on_line: bool,
}

/// Steps of a history, the newest first.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Steps {
    /// The step after which things are as they are now.
    pub at: i32,
    /// The steps.
    pub steps: Vec<Step>,
    /// Whether there are older ones.
    pub more: bool,
}

/// Where a history stands, and what undo and redo would do: to which step, and what that takes back
/// or carries out again.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Head {
    /// The step after which things are as they are now.
    pub at: i32,
    /// One step back.
    pub undo: Option<(i32, String)>,
    /// One step forth.
    pub redo: Option<(i32, String)>,
}

#[derive(Queryable, Selectable, Clone)]
#[diesel(table_name = steps)]
struct StepRow {
    id: i32,
    parent_id: Option<i32>,
    redo_id: Option<i32>,
    label: String,
    made_at: i64,
}

fn all_steps(connection: &mut SqliteConnection, project: i32) -> Answer<HashMap<i32, StepRow>> {
    let rows: Vec<StepRow> =
        steps::table.filter(steps::project_id.eq(project)).select(StepRow::as_select()).load(connection)?;
    Ok(rows.into_iter().map(|row| (row.id, row)).collect())
}

fn find_step(connection: &mut SqliteConnection, project: i32, id: i32) -> Answer<StepRow> {
    let row = steps::table
        .filter(steps::project_id.eq(project))
        .filter(steps::id.eq(id))
        .select(StepRow::as_select())
        .first(connection)
        .optional()?;
    row.ok_or(StoreError::Unknown { what: "step", id })
}

/// The first step of a new project.
pub(crate) fn begin(connection: &mut SqliteConnection, project: i32, label: &str) -> Answer<i32> {
    let step: i32 = diesel::insert_into(steps::table)
        .values((steps::project_id.eq(project), steps::label.eq(label), steps::made_at.eq(now())))
        .returning(steps::id)
        .get_result(connection)?;
    diesel::update(projects::table.find(project))
        .set((projects::step_id.eq(step), projects::changed_at.eq(now())))
        .execute(connection)?;
    Ok(step)
}

/// Makes new records of a project that has no history to keep of them.
pub(crate) fn plant(
    connection: &mut SqliteConnection,
    project: i32,
    kind: &'static str,
    pair: Option<Pair>,
    body: &str,
) -> Answer<i32> {
    let state = add_state(connection, body)?;
    Ok(diesel::insert_into(records::table)
        .values((
            records::project_id.eq(project),
            records::kind.eq(kind),
            records::source_id.eq(pair.map(|pair| pair.source)),
            records::frame_id.eq(pair.map(|pair| pair.frame)),
            records::state_id.eq(state),
        ))
        .returning(records::id)
        .get_result(connection)?)
}

fn add_state(connection: &mut SqliteConnection, body: &str) -> Answer<i32> {
    Ok(diesel::insert_into(states::table).values(states::body.eq(body)).returning(states::id).get_result(connection)?)
}

/// Carries out a step. Gives its number and the numbers of the records, in the order of the changes.
pub(crate) fn commit(
    connection: &mut SqliteConnection,
    project: i32,
    label: &str,
    subjects: Vec<Change>,
) -> Answer<(i32, Vec<i32>)> {
    let parent = open_project(connection, project)?.at;
    let step: i32 = diesel::insert_into(steps::table)
        .values((
            steps::project_id.eq(project),
            steps::parent_id.eq(parent),
            steps::label.eq(label),
            steps::made_at.eq(now()),
        ))
        .returning(steps::id)
        .get_result(connection)?;
    diesel::update(steps::table.find(parent)).set(steps::redo_id.eq(step)).execute(connection)?;
    let mut numbers = Vec::with_capacity(subjects.len());
    // Many records of an edit become the same, such as a framing: they share the state.
    let mut written: HashMap<String, i32> = HashMap::new();
    for Change { record, after } in subjects {
        let after = match after {
            None => None,
            Some(body) => Some(match written.get(&body) {
                Some(state) => *state,
                None => {
                    let state = add_state(connection, &body)?;
                    written.insert(body, state);
                    state
                }
            }),
        };
        let (id, before) = match record {
            Subject::There { id, state } => {
                diesel::update(records::table.find(id))
                    .set((records::state_id.eq(after), records::version.eq(records::version + 1)))
                    .execute(connection)?;
                (id, state)
            }
            Subject::New { kind, pair } => {
                let id: i32 = diesel::insert_into(records::table)
                    .values((
                        records::project_id.eq(project),
                        records::kind.eq(kind),
                        records::source_id.eq(pair.map(|pair| pair.source)),
                        records::frame_id.eq(pair.map(|pair| pair.frame)),
                        records::state_id.eq(after),
                    ))
                    .returning(records::id)
                    .get_result(connection)?;
                (id, None)
            }
        };
        diesel::insert_into(changes::table)
            .values((
                changes::step_id.eq(step),
                changes::record_id.eq(id),
                changes::before_id.eq(before),
                changes::after_id.eq(after),
            ))
            .execute(connection)?;
        numbers.push(id);
    }
    stand_at(connection, project, step)?;
    Ok((step, numbers))
}

fn stand_at(connection: &mut SqliteConnection, project: i32, step: i32) -> Answer<()> {
    diesel::update(projects::table.find(project))
        .set((projects::step_id.eq(step), projects::changed_at.eq(now())))
        .execute(connection)?;
    Ok(())
}

/// The states that a step's records had before it, or have after it.
fn states_of(connection: &mut SqliteConnection, step: i32, after: bool) -> Answer<Vec<(i32, Option<i32>)>> {
    let of_step = changes::table.filter(changes::step_id.eq(step));
    Ok(if after {
        of_step.select((changes::record_id, changes::after_id)).load(connection)?
    } else {
        of_step.select((changes::record_id, changes::before_id)).load(connection)?
    })
}

/// The way from one step to another: the steps to take back, and those to carry out.
fn way(steps: &HashMap<i32, StepRow>, from: i32, to: i32) -> (Vec<i32>, Vec<i32>) {
    let line = |step: i32| std::iter::successors(Some(step), |step| steps.get(step).and_then(|row| row.parent_id));
    let above: HashSet<i32> = line(to).collect();
    let back: Vec<i32> = line(from).take_while(|step| !above.contains(step)).collect();
    let common = line(from).find(|step| above.contains(step));
    let mut forth: Vec<i32> = line(to).take_while(|step| Some(*step) != common).collect();
    forth.reverse();
    (back, forth)
}

impl Store {
    /// Where the history of a project stands.
    ///
    /// # Errors
    /// When the project is unknown or deleted.
    pub fn head(&mut self, project: i32) -> Answer<Head> {
        self.read(|connection| head(connection, project))
    }

    /// The steps of a project that are older than one, or the newest.
    ///
    /// # Errors
    /// When the project is unknown or deleted.
    pub fn steps(&mut self, project: i32, before: Option<i32>) -> Answer<Steps> {
        self.read(|connection| {
            let at = open_project(connection, project)?.at;
            let all = all_steps(connection, project)?;
            let mut line: HashSet<i32> =
                std::iter::successors(Some(at), |step| all.get(step).and_then(|row| row.parent_id)).collect();
            line.extend(std::iter::successors(Some(at), |step| all.get(step).and_then(|row| row.redo_id)));
            let counts: HashMap<i32, i64> = changes::table
                .inner_join(steps::table.on(steps::id.eq(changes::step_id)))
                .filter(steps::project_id.eq(project))
                .group_by(changes::step_id)
                .select((changes::step_id, diesel::dsl::count_star()))
                .load(connection)?
                .into_iter()
                .collect();
            let mut rows: Vec<&StepRow> =
                all.values().filter(|row| before.is_none_or(|before| row.id < before)).collect();
            rows.sort_by_key(|row| std::cmp::Reverse(row.id));
            let listed = usize::try_from(LISTED).unwrap_or(usize::MAX);
            let more = rows.len() > listed;
            rows.truncate(listed);
            let step = |row: &StepRow| Step {
                id: row.id,
                parent: row.parent_id,
                label: row.label.clone(),
                made_at: row.made_at,
                changes: counts.get(&row.id).copied().unwrap_or(0),
                on_line: line.contains(&row.id),
            };
            Ok(Steps { at, steps: rows.into_iter().map(step).collect(), more })
        })
    }

    /// Goes to a step: every record becomes what it was after it.
    ///
    /// # Errors
    /// [`StoreError::Stale`] when the history does not stand at `from`; unknown or deleted as ever.
    pub fn go(&mut self, project: i32, from: i32, to: i32) -> Answer<Head> {
        self.write(|connection| {
            let at = open_project(connection, project)?.at;
            if at != from {
                return Err(StoreError::Stale { current: at });
            }
            find_step(connection, project, to)?;
            let all = all_steps(connection, project)?;
            let (back, forth) = way(&all, at, to);
            let mut target: BTreeMap<i32, Option<i32>> = BTreeMap::new();
            for step in back {
                target.extend(states_of(connection, step, false)?);
            }
            for step in forth {
                target.extend(states_of(connection, step, true)?);
                if let Some(parent) = all.get(&step).and_then(|row| row.parent_id) {
                    diesel::update(steps::table.find(parent)).set(steps::redo_id.eq(step)).execute(connection)?;
                }
            }
            for (record, state) in target {
                diesel::update(records::table.find(record))
                    .set((records::state_id.eq(state), records::version.eq(records::version + 1)))
                    .execute(connection)?;
            }
            stand_at(connection, project, to)?;
            head(connection, project)
        })
    }

    /// Prunes the branches whose newest step is older than a moment, in milliseconds since 1970, UTC.
    /// A branch is what undo and redo do not come by. Gives the number of steps pruned.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn prune(&mut self, older_than: i64) -> Answer<usize> {
        self.write(|connection| {
            let lines: Vec<(i32, Option<i32>)> =
                projects::table.select((projects::id, projects::step_id)).load(connection)?;
            let mut pruned = 0;
            for (project, at) in lines {
                let all = all_steps(connection, project)?;
                for step in dead(&all, at, older_than) {
                    pruned += diesel::delete(steps::table.find(step)).execute(connection)?;
                }
            }
            if pruned > 0 {
                connection.batch_execute(
                    "DELETE FROM states WHERE id NOT IN (SELECT state_id FROM records WHERE state_id IS NOT NULL \
                     UNION SELECT before_id FROM changes WHERE before_id IS NOT NULL \
                     UNION SELECT after_id FROM changes WHERE after_id IS NOT NULL)",
                )?;
            }
            Ok(pruned)
        })
    }
}

/// The steps of old branches, the newest first.
fn dead(all: &HashMap<i32, StepRow>, at: Option<i32>, older_than: i64) -> Vec<i32> {
    let mut alive: HashSet<i32> =
        std::iter::successors(at, |step| all.get(step).and_then(|row| row.parent_id)).collect();
    alive.extend(std::iter::successors(at, |step| all.get(step).and_then(|row| row.redo_id)));
    // A young step keeps the whole way to it.
    for row in all.values().filter(|row| row.made_at >= older_than) {
        alive.extend(std::iter::successors(Some(row.id), |step| all.get(step).and_then(|row| row.parent_id)));
    }
    let mut dead: Vec<i32> = all.keys().copied().filter(|step| !alive.contains(step)).collect();
    dead.sort_by_key(|step| std::cmp::Reverse(*step));
    dead
}

pub(crate) fn head(connection: &mut SqliteConnection, project: i32) -> Answer<Head> {
    let at = open_project(connection, project)?.at;
    let here = find_step(connection, project, at)?;
    let redo = match here.redo_id {
        Some(step) => Some((step, find_step(connection, project, step)?.label)),
        None => None,
    };
    Ok(Head { at, undo: here.parent_id.map(|parent| (parent, here.label)), redo })
}
