//! Steps: every change is one, and going to another step puts every record where it was then.

use std::collections::{BTreeMap, HashMap, HashSet};

use diesel::prelude::*;
use ratiomet_core::project::{ProjectId, StepId};

use crate::error::{Answer, StoreError};
use crate::head::{Head, StepRow, find_step, head};
use crate::rows::{self, HOUSE};
use crate::schema::{changes, projects, records, steps};
use crate::store::{Made, Store};

/// The most steps that are listed at once.
const LISTED: i64 = 500;

/// A step of a history.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Step {
    /// Its number.
    pub id: StepId,
    /// The step that it followed; none for the beginning.
    pub parent: Option<StepId>,
    /// What was done.
    pub label: String,
    /// When, in milliseconds since 1970, UTC.
    pub made_at: i64,
    /// By whom, where people are known.
    pub made_by: Option<String>,
    /// The earlier step that it takes back, if it does.
    pub takes_back: Option<StepId>,
    /// How many records it changed.
    pub changes: i64,
    /// Whether undo or redo come by it.
    pub on_line: bool,
}

/// Steps of a history, the newest first.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Steps {
    /// The step after which things are as they are now.
    pub at: StepId,
    /// The steps.
    pub steps: Vec<Step>,
    /// Whether there are older ones.
    pub more: bool,
    /// Who has made steps of it, by name.
    pub people: Vec<String>,
}

/// Which steps of a history are asked for: all, or fewer.
#[derive(Clone, Debug, Default)]
pub struct Which {
    /// Only those older than this one.
    pub before: Option<StepId>,
    /// Only those of this person.
    pub by: Option<String>,
}

/// The first step of a new project.
pub(crate) fn begin(connection: &mut SqliteConnection, project: ProjectId, label: &str, made: &Made) -> Answer<StepId> {
    let step: i32 = diesel::insert_into(steps::table)
        .values((
            steps::project_id.eq(project.number()),
            steps::label.eq(label),
            steps::made_at.eq(made.at),
            steps::made_by.eq(made.by.as_deref()),
        ))
        .returning(steps::id)
        .get_result(connection)?;
    stand_at(connection, project, step, made.at)?;
    Ok(StepId::new(step))
}

/// A further step, after the one where the history stands. It stands at the new one then, and what could be
/// done again before is a branch that was left.
pub(crate) fn add_step(
    connection: &mut SqliteConnection,
    project: ProjectId,
    label: &str,
    made: &Made,
) -> Answer<StepId> {
    let parent = rows::project_row(connection, project)?.at;
    let step: i32 = diesel::insert_into(steps::table)
        .values((
            steps::project_id.eq(project.number()),
            steps::parent_id.eq(parent),
            steps::label.eq(label),
            steps::made_at.eq(made.at),
            steps::made_by.eq(made.by.as_deref()),
        ))
        .returning(steps::id)
        .get_result(connection)?;
    lead_on(connection, parent, step, made.at)?;
    stand_at(connection, project, step, made.at)?;
    Ok(StepId::new(step))
}

/// From now on redo leads from a step to this one; the branch to which it led before is left.
fn lead_on(connection: &mut SqliteConnection, from: i32, to: i32, now: i64) -> Answer<()> {
    let before: Option<i32> = steps::table.find(from).select(steps::redo_id).first(connection)?;
    if before == Some(to) {
        return Ok(());
    }
    if let Some(left) = before {
        diesel::update(steps::table.find(left)).set(steps::left_at.eq(now)).execute(connection)?;
    }
    diesel::update(steps::table.find(to)).set(steps::left_at.eq(None::<i64>)).execute(connection)?;
    diesel::update(steps::table.find(from)).set(steps::redo_id.eq(to)).execute(connection)?;
    Ok(())
}

fn stand_at(connection: &mut SqliteConnection, project: ProjectId, step: i32, now: i64) -> Answer<()> {
    diesel::update(projects::table.find(project.number()))
        .set((projects::step_id.eq(step), projects::changed_at.eq(now)))
        .execute(connection)?;
    Ok(())
}

/// How the steps of a project hang together: the parent of each, and where redo leads from it.
struct Lines {
    parents: HashMap<i32, Option<i32>>,
    redos: HashMap<i32, i32>,
}

impl Lines {
    fn load(connection: &mut SqliteConnection, project: ProjectId) -> Answer<Self> {
        let rows: Vec<(i32, Option<i32>, Option<i32>)> = steps::table
            .filter(steps::project_id.eq(project.number()))
            .select((steps::id, steps::parent_id, steps::redo_id))
            .load(connection)?;
        let redos = rows.iter().filter_map(|(id, _, redo)| Some((*id, (*redo)?))).collect();
        Ok(Self { parents: rows.iter().map(|(id, parent, _)| (*id, *parent)).collect(), redos })
    }

    /// A step and those before it, back to the beginning.
    fn back(&self, from: i32) -> impl Iterator<Item = i32> {
        std::iter::successors(Some(from), |step| self.parents.get(step).copied().flatten())
    }

    /// Where undo and redo come by from a step.
    fn line(&self, at: i32) -> HashSet<i32> {
        let forth = std::iter::successors(Some(at), |step| self.redos.get(step).copied());
        self.back(at).chain(forth).collect()
    }

    /// The way from one step to another: the steps to take back, and those to carry out.
    fn way(&self, from: i32, to: i32) -> (Vec<i32>, Vec<i32>) {
        let above: HashSet<i32> = self.back(to).collect();
        let back: Vec<i32> = self.back(from).take_while(|step| !above.contains(step)).collect();
        let common = self.back(from).find(|step| above.contains(step));
        let mut forth: Vec<i32> = self.back(to).take_while(|step| Some(*step) != common).collect();
        forth.reverse();
        (back, forth)
    }
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

fn go(connection: &mut SqliteConnection, project: ProjectId, from: StepId, to: StepId, now: i64) -> Answer<()> {
    let at = rows::project_row(connection, project)?.at;
    if at != from.number() {
        return Err(StoreError::Stale { current: at });
    }
    let to = find_step(connection, project, to.number())?.id;
    let lines = Lines::load(connection, project)?;
    let (back, forth) = lines.way(at, to);
    let mut target: BTreeMap<i32, Option<i32>> = BTreeMap::new();
    for step in back {
        target.extend(states_of(connection, step, false)?);
    }
    for step in forth {
        target.extend(states_of(connection, step, true)?);
        if let Some(Some(parent)) = lines.parents.get(&step) {
            lead_on(connection, *parent, step, now)?;
        }
    }
    for (record, state) in target {
        diesel::update(records::table.find(record))
            .set((records::state_id.eq(state), records::version.eq(records::version + 1)))
            .execute(connection)?;
    }
    stand_at(connection, project, to, now)
}

fn listed(connection: &mut SqliteConnection, project: ProjectId, Which { before, by }: Which) -> Answer<Steps> {
    let at = rows::project_row(connection, project)?.at;
    let line = Lines::load(connection, project)?.line(at);
    let before = before.map_or(i32::MAX, StepId::number);
    let of_project = steps::table.filter(steps::project_id.eq(project.number()));
    let people: Vec<Option<String>> = of_project
        .filter(steps::made_by.is_not_null())
        .select(steps::made_by)
        .distinct()
        .order(steps::made_by)
        .load(connection)?;
    let mut asked = of_project.filter(steps::id.lt(before)).into_boxed();
    if let Some(name) = by {
        asked = asked.filter(steps::made_by.eq(name));
    }
    let mut some: Vec<StepRow> =
        asked.order(steps::id.desc()).limit(LISTED + 1).select(StepRow::as_select()).load(connection)?;
    let more = i64::try_from(some.len()).is_ok_and(|found| found > LISTED);
    if more {
        some.pop();
    }
    let ids: Vec<i32> = some.iter().map(|row| row.id).collect();
    let counts: HashMap<i32, i64> = changes::table
        .filter(changes::step_id.eq_any(ids))
        .group_by(changes::step_id)
        .select((changes::step_id, diesel::dsl::count_star()))
        .load(connection)?
        .into_iter()
        .collect();
    let step = |row: StepRow| Step {
        on_line: line.contains(&row.id),
        changes: counts.get(&row.id).copied().unwrap_or(0),
        id: StepId::new(row.id),
        parent: row.parent_id.map(StepId::new),
        label: row.label,
        made_at: row.made_at,
        made_by: row.made_by,
        takes_back: row.takes_back_id.map(StepId::new),
    };
    let steps = some.into_iter().map(step).collect();
    Ok(Steps { at: StepId::new(at), steps, more, people: people.into_iter().flatten().collect() })
}

/// A step that makes of every record that another one changed what it was before.
fn take_back(connection: &mut SqliteConnection, project: ProjectId, step: StepId, made: &Made) -> Answer<()> {
    let label = find_step(connection, project, step.number())?.label;
    let before = states_of(connection, step.number(), false)?;
    let now = states_of(connection, step.number(), true)?;
    let taking = add_step(connection, project, &format!("Undo: {label}"), made)?.number();
    diesel::update(steps::table.find(taking)).set(steps::takes_back_id.eq(step.number())).execute(connection)?;
    for ((record, before), (_, now)) in before.into_iter().zip(now) {
        diesel::update(records::table.find(record))
            .set((records::state_id.eq(before), records::version.eq(records::version + 1)))
            .execute(connection)?;
        diesel::insert_into(changes::table)
            .values((
                changes::step_id.eq(taking),
                changes::record_id.eq(record),
                changes::before_id.eq(now),
                changes::after_id.eq(before),
            ))
            .execute(connection)?;
    }
    Ok(())
}

/// The library has a history like a project's, and is none.
fn no_house(project: ProjectId) -> Answer<()> {
    if project == HOUSE { Err(StoreError::Unknown { what: ProjectId::NOUN, id: project.number() }) } else { Ok(()) }
}

impl Store {
    /// Where the history of a project stands.
    ///
    /// # Errors
    /// When the project is unknown or deleted.
    pub fn head(&self, project: ProjectId) -> Answer<Head> {
        no_house(project)?;
        self.read(|connection, _| head(connection, project, self.hand()))
    }

    /// Where the history of the house stands.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn house_head(&self) -> Answer<Head> {
        self.read(|connection, _| head(connection, HOUSE, None))
    }

    /// The newest steps of a project, or the newest of those that are asked for.
    ///
    /// # Errors
    /// When the project is unknown or deleted.
    pub fn steps(&self, project: ProjectId, which: Which) -> Answer<Steps> {
        no_house(project)?;
        self.read(|connection, _| listed(connection, project, which))
    }

    /// Goes to a step: every record becomes what it was after it.
    ///
    /// # Errors
    /// [`StoreError::Stale`] when the history does not stand at `from`; unknown or deleted as ever.
    pub fn go(&self, project: ProjectId, from: StepId, to: StepId) -> Answer<Head> {
        no_house(project)?;
        self.go_anywhere(project, from, to)
    }

    fn go_anywhere(&self, project: ProjectId, from: StepId, to: StepId) -> Answer<Head> {
        let hand = if project == HOUSE { None } else { self.hand() };
        let head = self.write(|connection, cache| {
            let now = self.now();
            cache.forget(project);
            go(connection, project, from, to, now)?;
            head(connection, project, hand)
        })?;
        self.changed(project);
        Ok(head)
    }

    /// Takes a step back that others have followed, by a step of its own: every record that it changed becomes what it was
    /// before. It is the one that [`Head::undo`] names for whoever has the store in hand.
    ///
    /// # Errors
    /// [`StoreError::Stale`] when the history does not stand at `from`, or when undo would take another step back;
    /// [`StoreError::Looped`] when frames would lead to each other.
    pub fn take_back(&self, project: ProjectId, from: StepId, step: StepId) -> Answer<Head> {
        no_house(project)?;
        let head = self.write(|connection, cache| {
            let made = self.made();
            let now = head(connection, project, self.hand())?;
            if now.at != from || now.undo.as_ref().is_none_or(|undo| undo.takes_back != Some(step)) {
                return Err(StoreError::Stale { current: now.at.number() });
            }
            cache.forget(project);
            take_back(connection, project, step, &made)?;
            if cache.get(connection, project)?.project.faulty_way().is_some() {
                return Err(StoreError::Looped);
            }
            head(connection, project, self.hand())
        })?;
        self.changed(project);
        Ok(head)
    }

    /// Goes to a step of the house's history.
    ///
    /// # Errors
    /// As [`Store::go`].
    pub fn go_in_house(&self, from: StepId, to: StepId) -> Answer<Head> {
        self.go_anywhere(HOUSE, from, to)
    }
}
