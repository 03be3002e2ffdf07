//! Checking a data file: whether it is whole, whether everything in it can be read, and whether histories hold together.

use std::collections::{HashMap, HashSet};

use diesel::prelude::*;
use diesel::sql_types::Text;
use ratiomet_core::project::{
    Choice, Deliverable, Footage, HouseActivePicture, HouseFrame, HouseProfile, ProjectSettings,
};
use ratiomet_wire::kept::{self, Kept, Kind};

use crate::error::Answer;
use crate::schema::{changes, projects, records, states, steps};
use crate::store::Store;

/// The most faults that are told.
const MOST: usize = 100;

/// What was looked at, and what is wrong with it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Checked {
    /// Projects, those that are deleted among them; the library of the house is none.
    pub projects: usize,
    /// Steps of all histories.
    pub steps: usize,
    /// States of records.
    pub states: usize,
    /// What is wrong, a sentence each; the first hundred.
    pub faults: Vec<String>,
}

impl Checked {
    fn fault(&mut self, said: impl Into<String>) {
        if self.faults.len() < MOST {
            self.faults.push(said.into());
        }
    }
}

#[derive(QueryableByName)]
struct Said {
    #[diesel(sql_type = Text)]
    said: String,
}

fn said(connection: &mut SqliteConnection, query: &str) -> Answer<Vec<String>> {
    Ok(diesel::sql_query(query).load::<Said>(connection)?.into_iter().map(|row| row.said).collect())
}

fn readable<T: Kept>(format: i32, body: &str) -> Result<(), String> {
    kept::read::<T>(format, body).map(drop)
}

/// Whether a state of a record can be read, and otherwise why not.
fn read(kind: &str, format: i32, body: &str) -> Result<(), String> {
    match Kind::of(kind) {
        Some(Kind::Project) => readable::<ProjectSettings>(format, body),
        Some(Kind::Source) => readable::<Footage>(format, body),
        Some(Kind::Frame) => readable::<Deliverable>(format, body),
        Some(Kind::Conversion) => readable::<Choice>(format, body),
        Some(Kind::HouseFrame) => readable::<HouseFrame>(format, body),
        Some(Kind::ActivePicture) => readable::<HouseActivePicture>(format, body),
        Some(Kind::TypingProfile) => readable::<HouseProfile>(format, body),
        None => Err("this version of Ratiomet knows nothing of this kind".to_owned()),
    }
}

impl Store {
    /// Looks at everything in the file. Nothing is changed.
    ///
    /// # Errors
    /// When it cannot be read at all.
    pub fn check(&self) -> Answer<Checked> {
        self.read(|connection, _| {
            let mut checked = Checked::default();
            for fault in said(connection, "SELECT integrity_check AS said FROM pragma_integrity_check")? {
                if fault != "ok" {
                    checked.fault(format!("SQLite: {fault}"));
                }
            }
            let dangling = "SELECT \"table\" || ' row ' || coalesce(rowid, '?') || ' names a row of ' || parent || \
                            ' that is not there' AS said FROM pragma_foreign_key_check";
            for fault in said(connection, dangling)? {
                checked.fault(fault);
            }
            check_states(connection, &mut checked)?;
            let all: Vec<(i32, Option<i32>)> =
                projects::table.order(projects::id).select((projects::id, projects::step_id)).load(connection)?;
            checked.projects = all.iter().filter(|(id, _)| *id != crate::rows::HOUSE.number()).count();
            for (project, at) in all {
                check_history(connection, project, at, &mut checked)?;
            }
            Ok(checked)
        })
    }
}

/// Every state of every record, whether it counts now or in some step.
fn check_states(connection: &mut SqliteConnection, checked: &mut Checked) -> Answer<()> {
    let kinds: HashMap<i32, String> =
        records::table.select((records::id, records::kind)).load::<(i32, String)>(connection)?.into_iter().collect();
    let mut used: HashMap<i32, i32> = HashMap::new();
    for (record, state) in
        records::table.select((records::id, records::state_id)).load::<(i32, Option<i32>)>(connection)?
    {
        used.extend(state.map(|state| (state, record)));
    }
    for (record, before, after) in changes::table
        .select((changes::record_id, changes::before_id, changes::after_id))
        .load::<(i32, Option<i32>, Option<i32>)>(connection)?
    {
        used.extend([before, after].into_iter().flatten().map(|state| (state, record)));
    }
    let mut ids: Vec<i32> = used.keys().copied().collect();
    ids.sort_unstable();
    checked.states = ids.len();
    for some in ids.chunks(500) {
        let rows: Vec<(i32, i32, String)> = states::table
            .filter(states::id.eq_any(some))
            .select((states::id, states::format, states::body))
            .load(connection)?;
        for (id, format, body) in rows {
            let record = used[&id];
            let kind = kinds.get(&record).map_or("?", String::as_str);
            if let Err(why) = read(kind, format, &body) {
                checked.fault(format!("state {id} of the {kind} {record} cannot be read: {why}"));
            }
        }
    }
    Ok(())
}

/// That a history leads from its beginning to where it stands, and that its changes make of every record what it is.
fn check_history(
    connection: &mut SqliteConnection,
    project: i32,
    at: Option<i32>,
    checked: &mut Checked,
) -> Answer<()> {
    let rows: Vec<(i32, Option<i32>, Option<i32>)> = steps::table
        .filter(steps::project_id.eq(project))
        .select((steps::id, steps::parent_id, steps::redo_id))
        .load(connection)?;
    checked.steps += rows.len();
    let parents: HashMap<i32, Option<i32>> = rows.iter().map(|(id, parent, _)| (*id, *parent)).collect();
    for (id, _, redo) in &rows {
        if let Some(redo) = redo
            && parents.get(redo).copied().flatten() != Some(*id)
        {
            checked.fault(format!(
                "redo leads from step {id} of project {project} to step {redo}, which does not follow it"
            ));
        }
    }
    let Some(at) = at.filter(|at| parents.contains_key(at)) else {
        checked.fault(format!("the history of project {project} stands nowhere"));
        return Ok(());
    };
    let mut line = Vec::new();
    let mut seen = HashSet::new();
    let mut next = Some(at);
    while let Some(step) = next {
        if !seen.insert(step) {
            checked.fault(format!("the history of project {project} goes in a circle at step {step}"));
            return Ok(());
        }
        line.push(step);
        next = match parents.get(&step) {
            Some(parent) => *parent,
            None => {
                checked.fault(format!("step {step} of project {project} is not there"));
                None
            }
        };
    }
    let mut now: HashMap<i32, Option<i32>> = HashMap::new();
    for step in line.into_iter().rev() {
        let changed: Vec<(i32, Option<i32>, Option<i32>)> = changes::table
            .filter(changes::step_id.eq(step))
            .select((changes::record_id, changes::before_id, changes::after_id))
            .load(connection)?;
        for (record, before, after) in changed {
            if now.insert(record, after).is_some_and(|known| known != before) {
                checked.fault(format!(
                    "step {step} of project {project} changes a state that record {record} did not have"
                ));
            }
        }
    }
    let kept: Vec<(i32, Option<i32>)> = records::table
        .filter(records::project_id.eq(project))
        .select((records::id, records::state_id))
        .load(connection)?;
    for (record, state) in kept {
        if now.get(&record).is_some_and(|known| *known != state) {
            checked.fault(format!("record {record} of project {project} is not what its history makes of it"));
        }
    }
    Ok(())
}
