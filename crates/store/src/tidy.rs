//! Tidying up: branches that were left long ago, projects that were deleted long ago, and the oldest steps of
//! histories that have become too long. What is kept of the rest is never touched.

use std::collections::{HashMap, HashSet};

use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use diesel::sql_types::Integer;

use crate::error::Answer;
use crate::schema::{meta, projects, steps};
use crate::store::Store;

/// For how many days a branch is kept after it was left, and a project after it was deleted.
pub const DAYS: i64 = 30;

/// In milliseconds.
const DAY: i64 = 86_400_000;

/// The moment, as far as it is believed, at which the file was tidied up last.
const SEEN: &str = "seen_at";

/// The most steps that are kept of a history; the oldest ones go.
pub const MOST_STEPS: usize = 10_000;

/// What was taken away.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Tidied {
    /// Steps of branches, and the oldest ones of long histories.
    pub steps: usize,
    /// Projects.
    pub projects: usize,
}

#[derive(QueryableByName)]
struct Id {
    #[diesel(sql_type = Integer)]
    id: i32,
}

fn ids(connection: &mut SqliteConnection, query: &str) -> Answer<Vec<i32>> {
    let rows: Vec<Id> = diesel::sql_query(query).load(connection)?;
    Ok(rows.into_iter().map(|row| row.id).collect())
}

impl Store {
    /// Takes away branches that were left, and projects that were deleted, more than [`DAYS`] days ago, and
    /// all but [`MOST_STEPS`] steps of every history. Days count on which the file was in use: from one time to the
    /// next a day at most is believed to have passed, so that nothing goes because a clock has jumped ahead.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn tidy(&self) -> Answer<Tidied> {
        self.write(|connection, cache| {
            let now = self.now();
            let cutoff = believed(connection, now)?.saturating_sub(DAYS * DAY);
            let deleted: Vec<i32> =
                projects::table.filter(projects::deleted_at.lt(cutoff)).select(projects::id).load(connection)?;
            purge(connection, &deleted)?;
            let mut tidied = Tidied { projects: deleted.len(), steps: 0 };
            let left: Vec<i32> =
                steps::table.filter(steps::left_at.lt(cutoff)).select(steps::project_id).distinct().load(connection)?;
            let long = ids(
                connection,
                &format!("SELECT project_id AS id FROM steps GROUP BY project_id HAVING count(*) > {MOST_STEPS}"),
            )?;
            let mut touched: Vec<i32> = left.into_iter().chain(long).collect();
            touched.sort_unstable();
            touched.dedup();
            for project in touched {
                let mut tree = Tree::load(connection, project)?;
                let mut doomed = tree.left_before(cutoff);
                doomed.extend(tree.too_old());
                take_steps(connection, &doomed, tree.root)?;
                tidied.steps += doomed.len();
            }
            if tidied != Tidied::default() {
                cache.clear();
            }
            Ok(tidied)
        })
    }
}

/// What a clock says, as far as it is believed after what it said last; notes it.
fn believed(connection: &mut SqliteConnection, now: i64) -> Answer<i64> {
    let seen: Option<String> = meta::table.find(SEEN).select(meta::value).first(connection).optional()?;
    let seen = seen.and_then(|seen| seen.parse::<i64>().ok());
    // A clock that was set back is believed, for as long as it says so: what goes later harms nobody.
    let moment = seen.map_or(now, |seen| now.min(seen.saturating_add(DAY)));
    let latest = seen.unwrap_or(now).max(moment);
    diesel::replace_into(meta::table)
        .values((meta::name.eq(SEEN), meta::value.eq(latest.to_string())))
        .execute(connection)?;
    Ok(moment)
}

/// A step, the one before it, the one that redo takes from it, and when it was left.
type Branching = (i32, Option<i32>, Option<i32>, Option<i64>);

/// The steps of a project.
struct Tree {
    children: HashMap<i32, Vec<i32>>,
    left: Vec<(i32, i64)>,
    redos: HashMap<i32, i32>,
    count: usize,
    root: i32,
    at: Option<i32>,
}

impl Tree {
    fn load(connection: &mut SqliteConnection, project: i32) -> Answer<Self> {
        let rows = steps::table
            .filter(steps::project_id.eq(project))
            .order(steps::id)
            .select((steps::id, steps::parent_id, steps::redo_id, steps::left_at))
            .load::<Branching>(connection)?;
        let at = projects::table.find(project).select(projects::step_id).first(connection)?;
        let mut tree =
            Self { children: HashMap::new(), left: Vec::new(), redos: HashMap::new(), count: rows.len(), root: 0, at };
        for (id, parent, redo, left) in rows {
            match parent {
                Some(parent) => tree.children.entry(parent).or_default().push(id),
                None => tree.root = id,
            }
            tree.left.extend(left.map(|left| (id, left)));
            tree.redos.extend(redo.map(|redo| (id, redo)));
        }
        Ok(tree)
    }

    /// Adds a step and all that follow it; what is there already is not walked again.
    fn add_below(&self, step: i32, found: &mut HashSet<i32>) {
        let mut open = vec![step];
        while let Some(step) = open.pop() {
            if found.insert(step) {
                open.extend(self.children.get(&step).into_iter().flatten());
            }
        }
    }

    /// The steps of branches that were left before a moment. What branches off a branch was left even earlier.
    fn left_before(&mut self, cutoff: i64) -> HashSet<i32> {
        let mut doomed = HashSet::new();
        for (step, _) in self.left.iter().filter(|(_, left)| *left < cutoff) {
            self.add_below(*step, &mut doomed);
        }
        self.count -= doomed.len();
        doomed
    }

    /// The oldest steps of a history that is too long, with the branches that begin there. The history never
    /// begins behind where it stands.
    fn too_old(&mut self) -> HashSet<i32> {
        let mut doomed = HashSet::new();
        while self.count > MOST_STEPS && Some(self.root) != self.at {
            let Some(next) = self.redos.get(&self.root).copied() else { break };
            let before = doomed.len();
            for step in self.children.get(&self.root).into_iter().flatten().filter(|step| **step != next) {
                self.add_below(*step, &mut doomed);
            }
            doomed.insert(self.root);
            self.count = self.count.saturating_sub(doomed.len() - before);
            self.root = next;
        }
        doomed
    }
}

/// Tables of numbers that are only seen by this connection, for what goes.
const DOOMED: &str = "CREATE TEMP TABLE IF NOT EXISTS doomed_steps (id INTEGER PRIMARY KEY);
    CREATE TEMP TABLE IF NOT EXISTS doomed_states (id INTEGER PRIMARY KEY);
    CREATE TEMP TABLE IF NOT EXISTS doomed_records (id INTEGER PRIMARY KEY);
    DELETE FROM doomed_steps; DELETE FROM doomed_states; DELETE FROM doomed_records;";

/// States to which nothing points any more.
const ORPHANS: &str = "DELETE FROM states WHERE id IN (SELECT id FROM doomed_states)
    AND NOT EXISTS (SELECT 1 FROM records WHERE state_id = states.id)
    AND NOT EXISTS (SELECT 1 FROM changes WHERE before_id = states.id)
    AND NOT EXISTS (SELECT 1 FROM changes WHERE after_id = states.id);";

/// Takes away steps, with the records that only they knew and the states that only they pointed to.
fn take_steps(connection: &mut SqliteConnection, doomed: &HashSet<i32>, root: i32) -> Answer<()> {
    connection.batch_execute(DOOMED)?;
    for step in doomed {
        diesel::sql_query("INSERT INTO doomed_steps (id) VALUES (?)").bind::<Integer, _>(step).execute(connection)?;
    }
    connection.batch_execute(
        "INSERT OR IGNORE INTO doomed_states (id) SELECT before_id FROM changes
            WHERE step_id IN (SELECT id FROM doomed_steps) AND before_id IS NOT NULL;
        INSERT OR IGNORE INTO doomed_states (id) SELECT after_id FROM changes
            WHERE step_id IN (SELECT id FROM doomed_steps) AND after_id IS NOT NULL;
        INSERT OR IGNORE INTO doomed_records (id) SELECT record_id FROM changes
            WHERE step_id IN (SELECT id FROM doomed_steps);
        UPDATE steps SET redo_id = NULL WHERE redo_id IN (SELECT id FROM doomed_steps);",
    )?;
    diesel::update(steps::table.find(root)).set(steps::parent_id.eq(None::<i32>)).execute(connection)?;
    connection.batch_execute(
        "DELETE FROM changes WHERE step_id IN (SELECT id FROM doomed_steps);
        DELETE FROM steps WHERE id IN (SELECT id FROM doomed_steps);
        DELETE FROM records WHERE id IN (SELECT id FROM doomed_records) AND state_id IS NULL AND kind <> 'conversion'
            AND NOT EXISTS (SELECT 1 FROM changes WHERE record_id = records.id);",
    )?;
    connection.batch_execute(ORPHANS)?;
    Ok(())
}

/// Takes away whole projects with all that they hold.
pub(crate) fn purge(connection: &mut SqliteConnection, doomed: &[i32]) -> Answer<()> {
    for project in doomed {
        connection.batch_execute(DOOMED)?;
        connection.batch_execute(&format!(
            "INSERT OR IGNORE INTO doomed_states (id) SELECT state_id FROM records
                WHERE project_id = {project} AND state_id IS NOT NULL;
            INSERT OR IGNORE INTO doomed_states (id) SELECT before_id FROM changes JOIN steps ON steps.id = step_id
                WHERE project_id = {project} AND before_id IS NOT NULL;
            INSERT OR IGNORE INTO doomed_states (id) SELECT after_id FROM changes JOIN steps ON steps.id = step_id
                WHERE project_id = {project} AND after_id IS NOT NULL;
            UPDATE projects SET step_id = NULL WHERE id = {project};
            DELETE FROM changes WHERE step_id IN (SELECT id FROM steps WHERE project_id = {project});
            DELETE FROM projects WHERE id = {project};"
        ))?;
        connection.batch_execute(ORPHANS)?;
    }
    Ok(())
}
