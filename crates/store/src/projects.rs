//! Projects: listed, made, changed, deleted, brought back.

use std::collections::BTreeMap;
use std::sync::Arc;

use diesel::prelude::*;
use ratiomet_core::project::{
    Changes, Deliverable, Edit, EditError, Followed, FrameId, Pair, Project, ProjectId, SourceId, StepId,
};
use ratiomet_wire::kept::{self, Kind};

use crate::commit::{self, States};
use crate::contents::{Contents, Expected, ProjectInfo, Subject};
use crate::error::{Answer, StoreError};
use crate::history;
use crate::rows::{self, HOUSE};
use crate::schema::projects;
use crate::store::{Made, Store};

/// What an edit has done, or would do.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Outcome {
    /// The step in the history; none when nothing changed, or in a preview.
    pub step: Option<StepId>,
    /// What was done, in words.
    pub label: String,
    /// How many records changed.
    pub changed: usize,
    /// How many of those named already were like that.
    pub unchanged: usize,
    /// How many of those named the edit is not for.
    pub skipped: usize,
    /// How many framings are left out: they come for another size than that at which their source is stored.
    pub left_out: usize,
    /// The numbers of new sources.
    pub sources: Vec<SourceId>,
    /// The numbers of new frames.
    pub frames: Vec<FrameId>,
    /// The framings that went along with it.
    pub followed: Vec<Followed>,
}

impl Outcome {
    fn of(changes: &Changes) -> Self {
        Self {
            label: changes.label.clone(),
            changed: changes.named(),
            unchanged: changes.unchanged,
            skipped: changes.skipped,
            left_out: changes.left_out,
            followed: changes.followed.clone(),
            ..Self::default()
        }
    }
}

/// How often a change is worked out again when others were quicker.
const TRIES: usize = 10;

impl Store {
    /// Every project that is not deleted, the last changed first.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn projects(&self) -> Answer<Vec<ProjectInfo>> {
        self.read(|connection, _| {
            let ids: Vec<i32> = projects::table
                .filter(projects::deleted_at.is_null())
                .filter(projects::id.ne(HOUSE.number()))
                .order((projects::changed_at.desc(), projects::id.desc()))
                .select(projects::id)
                .load(connection)?;
            ids.into_iter().map(|id| ProjectInfo::load(connection, ProjectId::new(id))).collect()
        })
    }

    /// All that a project holds, read at one moment.
    ///
    /// # Errors
    /// When it is unknown or deleted.
    pub fn contents(&self, project: ProjectId) -> Answer<Arc<Contents>> {
        self.read(|connection, cache| cache.get(connection, project))
    }

    /// A new project. `label` is what the first line of its history says.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn add_project(&self, project: &Project, label: &str) -> Answer<Arc<Contents>> {
        let id = self.write(|connection, _| plant(connection, project, false, label, &self.made()))?;
        self.changed(id);
        self.contents(id)
    }

    /// Deletes a project with all that it holds; it can be restored.
    ///
    /// # Errors
    /// When it is unknown or deleted, or has another version.
    pub fn delete_project(&self, id: ProjectId, version: i32) -> Answer<()> {
        let deleted = self.write(|connection, cache| {
            let now = self.now();
            let current = cache.get(connection, id)?.settings.version;
            if current != version {
                return Err(StoreError::Stale { current });
            }
            diesel::update(projects::table.find(id.number())).set(projects::deleted_at.eq(now)).execute(connection)?;
            cache.forget(id);
            Ok(())
        });
        if deleted.is_ok() {
            self.changed(id);
        }
        deleted
    }

    /// Brings a deleted project back; one that is not deleted stays as it is.
    ///
    /// # Errors
    /// When it is unknown.
    pub fn restore_project(&self, id: ProjectId) -> Answer<Arc<Contents>> {
        let restored = self.write(|connection, cache| {
            diesel::update(projects::table.find(id.number()))
                .set(projects::deleted_at.eq(None::<i64>))
                .execute(connection)?;
            cache.forget(id);
            cache.get(connection, id)
        })?;
        self.changed(id);
        Ok(restored)
    }

    /// Carries out an edit as one step. It is worked out while the file is free, and once more where
    /// somebody else has changed the project meanwhile.
    ///
    /// # Errors
    /// When something that it names is unknown or deleted, has another version than was expected, or would
    /// not be sound.
    pub fn edit(&self, project: ProjectId, edit: &Edit, expected: Option<Expected>) -> Answer<Outcome> {
        for _ in 0..TRIES {
            let contents = self.contents(project)?;
            self.expect(&contents, expected)?;
            let changes = contents.project.apply(edit).map_err(|error| self.refused(project, error))?;
            if changes.changes.is_empty() {
                return Ok(Outcome::of(&changes));
            }
            if let Some(outcome) = self.commit(contents, &changes)? {
                self.changed(project);
                return Ok(outcome);
            }
        }
        Err(StoreError::Busy)
    }

    /// What an edit would do.
    ///
    /// # Errors
    /// As [`Store::edit`].
    pub fn preview(&self, project: ProjectId, edit: &Edit) -> Answer<Outcome> {
        let contents = self.contents(project)?;
        let changes = contents.project.apply(edit).map_err(|error| self.refused(project, error))?;
        Ok(Outcome::of(&changes))
    }

    /// Writes changes down, if the project still is as it was when they were worked out.
    fn commit(&self, contents: Arc<Contents>, changes: &Changes) -> Answer<Option<Outcome>> {
        let writes = commit::writes(&contents, changes);
        self.write(|connection, cache| {
            let made = self.made();
            let current = cache.get(connection, contents.id)?;
            if current.at != contents.at || current.settings.version != contents.settings.version {
                return Ok(None);
            }
            drop(current);
            cache.forget(contents.id);
            let (step, rows) = commit::step(connection, contents.id, &changes.label, writes, &made)?;
            let mut after = Arc::unwrap_or_clone(contents);
            let (sources, frames) = commit::settle(&mut after, changes, rows);
            (after.at, after.changed_at) = (step, made.at);
            cache.put(Arc::new(after));
            Ok(Some(Outcome { step: Some(step), sources, frames, ..Outcome::of(changes) }))
        })
    }

    fn expect(&self, contents: &Contents, expected: Option<Expected>) -> Answer<()> {
        let Some(Expected { subject, version }) = expected else { return Ok(()) };
        match contents.version(subject) {
            Some(current) if current == version => Ok(()),
            Some(current) => Err(StoreError::Stale { current }),
            None => Err(self.missing(contents.id, subject)),
        }
    }

    /// Why something of a project is not there.
    pub fn missing(&self, project: ProjectId, subject: Subject) -> StoreError {
        let source = |id: SourceId| (Kind::Source, SourceId::NOUN, id.number());
        let frame = |id: FrameId| (Kind::Frame, FrameId::NOUN, id.number());
        let missing = self.read(|connection, cache| {
            let contents = cache.get(connection, project)?;
            let (kind, noun, id) = match subject {
                Subject::Settings => return Ok(StoreError::Unknown { what: ProjectId::NOUN, id: project.number() }),
                Subject::Source(id) => source(id),
                Subject::Choice(Pair { source: id, .. }) if contents.project.source(id).is_none() => source(id),
                Subject::Frame(id) | Subject::Choice(Pair { frame: id, .. }) => frame(id),
            };
            rows::missing(connection, project, kind, noun, id)
        });
        missing.unwrap_or_else(|error| error)
    }

    fn refused(&self, project: ProjectId, error: EditError) -> StoreError {
        match error {
            EditError::NoSource(id) => self.missing(project, Subject::Source(id)),
            EditError::NoFrame(id) => self.missing(project, Subject::Frame(id)),
            refused @ (EditError::Refused { .. } | EditError::Full { .. }) => StoreError::Refused(refused),
        }
    }

    /// Whether the file has ever been given the demo project, deleted or not.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn has_demo(&self) -> Answer<bool> {
        self.read(|connection, _| {
            let count: i64 = projects::table.filter(projects::demo).count().get_result(connection)?;
            Ok(count > 0)
        })
    }

    /// Puts the demo project in, in place of an earlier one; other projects are not touched.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn seed_demo(&self, demo: &Project) -> Answer<ProjectId> {
        self.write(|connection, cache| {
            let made = self.made();
            cache.clear();
            let earlier: Vec<i32> = projects::table.filter(projects::demo).select(projects::id).load(connection)?;
            crate::tidy::purge(connection, &earlier)?;
            plant(connection, demo, true, "The demo project", &made)
        })
    }
}

/// Puts a whole project in, its history beginning with it.
fn plant(connection: &mut SqliteConnection, from: &Project, demo: bool, label: &str, made: &Made) -> Answer<ProjectId> {
    let project: i32 = diesel::insert_into(projects::table)
        .values((projects::demo.eq(demo), projects::changed_at.eq(made.at)))
        .returning(projects::id)
        .get_result(connection)?;
    let project = ProjectId::new(project);
    let states = &mut States::default();
    let mut sources = BTreeMap::new();
    let mut frames = BTreeMap::new();
    // Numbers keep their order, and everything has its own before anything names it: the sphere that a view looks out of,
    // the frame through which pictures reach another.
    let records = from.sources().map(|(id, _)| (id.number(), Kind::Source));
    let mut records: Vec<_> = records.chain(from.frames().map(|(id, _)| (id.number(), Kind::Frame))).collect();
    records.sort_by_key(|(number, _)| *number);
    for (before, kind) in records {
        let number = commit::reserve(connection, project, kind)?;
        if kind == Kind::Source {
            sources.insert(SourceId::new(before), SourceId::new(number));
        } else {
            frames.insert(FrameId::new(before), FrameId::new(number));
        }
    }
    for (id, footage) in from.sources() {
        let footage = footage.renumbered(|sphere| sources.get(&sphere).copied());
        commit::fill(connection, sources[&id].number(), kept::write(&footage), states)?;
    }
    for (id, frame) in from.frames() {
        let through = frame.through.and_then(|through| frames.get(&through)).copied();
        let frame = Deliverable { through, ..frame.clone() };
        commit::fill(connection, frames[&id].number(), kept::write(&frame), states)?;
    }
    commit::plant(connection, project, Kind::Project, None, kept::write(from.settings()), states)?;
    for (pair, choice) in from.choices().filter(|(_, choice)| !choice.is_empty()) {
        let pair = Pair::new(sources[&pair.source], frames[&pair.frame]);
        commit::plant(connection, project, Kind::Conversion, Some(pair), kept::write(choice), states)?;
    }
    history::begin(connection, project, label, made)?;
    Ok(project)
}
