//! [`Store`]: the records of a data file and the rules of writing them.

use std::path::Path;
use std::time::{SystemTime, UNIX_EPOCH};

use diesel::prelude::*;
use ratiomet_core::project::{
    Choice, ChoicePatch, Deliverable, Footage, HouseActivePicture, HouseFrame, Layout, Pair, ProjectSettings,
};
use ratiomet_wire::project::ProjectContents;

use crate::data_file::{self, OpenError};
use crate::edits::value;
use crate::error::StoreError;
use crate::history::{self, BRANCH_DAYS, Change, Head, Subject};
use crate::kept::Kept;
use crate::schema::{projects, records, states};

pub(crate) type Answer<T> = Result<T, StoreError>;

/// The project in which the house keeps its own; no list shows it.
pub const HOUSE: i32 = 0;

/// A value with the number and the version under which it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct Record<T> {
    /// Its number, never used twice.
    pub id: i32,
    /// Grows by 1 with every change.
    pub version: i32,
    /// What is kept.
    pub value: T,
    pub(crate) state: i32,
}

/// A project without its contents.
#[derive(Clone, Debug, PartialEq)]
pub struct ProjectInfo {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change of its own values.
    pub version: i32,
    /// Its own values.
    pub settings: ProjectSettings,
    /// When it or anything in it was last changed, in milliseconds since 1970, UTC.
    pub changed_at: i64,
    /// How many sources it has.
    pub sources: i64,
    /// How many frames it has.
    pub frames: i64,
}

/// All that a project holds, read at one moment.
#[derive(Debug)]
pub struct Contents {
    /// The project.
    pub info: ProjectInfo,
    /// Where its history stands.
    pub head: Head,
    /// Its footage, in the order of entry.
    pub sources: Vec<Record<Footage>>,
    /// Its delivery frames, in the order of entry.
    pub frames: Vec<Record<Deliverable>>,
    /// The conversions that somebody has touched, with their versions.
    pub choices: Vec<(Pair, i32, Choice)>,
}

/// An open project: where its history stands.
pub(crate) struct OpenProject {
    pub at: i32,
    changed_at: i64,
}

/// An open data file.
pub struct Store {
    connection: SqliteConnection,
}

pub(crate) fn now() -> i64 {
    let since = SystemTime::now().duration_since(UNIX_EPOCH).unwrap_or_default();
    i64::try_from(since.as_millis()).unwrap_or(i64::MAX)
}

/// The rule of writing: the record is there, and its version is the one that the write names.
fn check_version(stored: i32, named: i32) -> Answer<()> {
    if stored == named { Ok(()) } else { Err(StoreError::Stale { current: stored }) }
}

type ProjectRow = (i64, Option<i64>, Option<i32>);

fn project_row(connection: &mut SqliteConnection, id: i32) -> Answer<ProjectRow> {
    let row = projects::table
        .find(id)
        .select((projects::changed_at, projects::deleted_at, projects::step_id))
        .first(connection)
        .optional()?;
    row.ok_or(StoreError::Unknown { what: "project", id })
}

pub(crate) fn open_project(connection: &mut SqliteConnection, id: i32) -> Answer<OpenProject> {
    let (changed_at, deleted_at, step) = project_row(connection, id)?;
    match (deleted_at, step) {
        (Some(_), _) => Err(StoreError::Deleted { what: "project", id }),
        (None, Some(at)) => Ok(OpenProject { at, changed_at }),
        (None, None) => Err(StoreError::Corrupt { table: "projects", id, why: "it has no history".to_owned() }),
    }
}

type RecordRow = (i32, i32, Option<i32>, Option<String>);

/// A record that is not deleted.
pub(crate) fn find<T: Kept>(connection: &mut SqliteConnection, project: i32, id: i32) -> Answer<Record<T>> {
    let row: Option<RecordRow> = records::table
        .left_join(states::table.on(records::state_id.eq(states::id.nullable())))
        .filter(records::id.eq(id))
        .filter(records::project_id.eq(project))
        .filter(records::kind.eq(T::KIND))
        .select((records::id, records::version, records::state_id, states::body.nullable()))
        .first(connection)
        .optional()?;
    match row {
        None => Err(StoreError::Unknown { what: T::NOUN, id }),
        Some((id, version, Some(state), Some(body))) => Ok(Record { id, version, value: value(id, &body)?, state }),
        Some(_) => Err(StoreError::Deleted { what: T::NOUN, id }),
    }
}

/// All records of a kind that are not deleted, in the order of entry.
pub(crate) fn list<T: Kept>(connection: &mut SqliteConnection, project: i32) -> Answer<Vec<Record<T>>> {
    let rows: Vec<(i32, i32, i32, String)> = records::table
        .inner_join(states::table.on(records::state_id.eq(states::id.nullable())))
        .filter(records::project_id.eq(project))
        .filter(records::kind.eq(T::KIND))
        .order(records::id)
        .select((records::id, records::version, states::id, states::body))
        .load(connection)?;
    rows.into_iter()
        .map(|(id, version, state, body)| Ok(Record { id, version, value: value(id, &body)?, state }))
        .collect()
}

fn count(connection: &mut SqliteConnection, project: i32, kind: &str) -> Answer<i64> {
    Ok(records::table
        .filter(records::project_id.eq(project))
        .filter(records::kind.eq(kind))
        .filter(records::state_id.is_not_null())
        .count()
        .get_result(connection)?)
}

pub(crate) fn settings(connection: &mut SqliteConnection, project: i32) -> Answer<Record<ProjectSettings>> {
    list::<ProjectSettings>(connection, project)?.pop().ok_or(StoreError::Unknown { what: "project", id: project })
}

fn info(connection: &mut SqliteConnection, id: i32) -> Answer<ProjectInfo> {
    let open = open_project(connection, id)?;
    let own = settings(connection, id)?;
    Ok(ProjectInfo {
        id,
        version: own.version,
        settings: own.value,
        changed_at: open.changed_at,
        sources: count(connection, id, Footage::KIND)?,
        frames: count(connection, id, Deliverable::KIND)?,
    })
}

fn choices(connection: &mut SqliteConnection, project: i32) -> Answer<Vec<(Pair, i32, Choice)>> {
    type Row = (i32, Option<i32>, Option<i32>, i32, Option<String>);
    let rows: Vec<Row> = records::table
        .left_join(states::table.on(records::state_id.eq(states::id.nullable())))
        .filter(records::project_id.eq(project))
        .filter(records::kind.eq(Choice::KIND))
        .order(records::id)
        .select((records::id, records::source_id, records::frame_id, records::version, states::body.nullable()))
        .load(connection)?;
    let mut choices = Vec::with_capacity(rows.len());
    for (id, source, frame, version, body) in rows {
        let Some((source, frame)) = source.zip(frame) else { continue };
        let choice = body.map_or_else(|| Ok(Choice::default()), |body| value(id, &body))?;
        choices.push((Pair { source, frame }, version, choice));
    }
    Ok(choices)
}

pub(crate) fn contents(connection: &mut SqliteConnection, project: i32) -> Answer<Contents> {
    Ok(Contents {
        info: info(connection, project)?,
        head: history::head(connection, project)?,
        sources: list(connection, project)?,
        frames: list(connection, project)?,
        choices: choices(connection, project)?,
    })
}

fn find_choice(connection: &mut SqliteConnection, pair: Pair) -> Answer<(Subject, i32, Choice)> {
    let row: Option<RecordRow> = records::table
        .left_join(states::table.on(records::state_id.eq(states::id.nullable())))
        .filter(records::source_id.eq(pair.source))
        .filter(records::frame_id.eq(pair.frame))
        .select((records::id, records::version, records::state_id, states::body.nullable()))
        .first(connection)
        .optional()?;
    match row {
        None => Ok((Subject::New { kind: Choice::KIND, pair: Some(pair) }, 0, Choice::default())),
        Some((id, version, state, body)) => {
            let choice = body.map_or_else(|| Ok(Choice::default()), |body| value(id, &body))?;
            Ok((Subject::There { id, state }, version, choice))
        }
    }
}

/// Puts a whole project in, its history beginning with it.
fn plant(connection: &mut SqliteConnection, contents: &ProjectContents, demo: bool, label: &str) -> Answer<i32> {
    let project: i32 = diesel::insert_into(projects::table)
        .values((projects::demo.eq(demo), projects::changed_at.eq(now())))
        .returning(projects::id)
        .get_result(connection)?;
    let mut sources = Vec::with_capacity(contents.sources.len());
    for footage in &contents.sources {
        sources.push(history::plant(connection, project, Footage::KIND, None, &footage.body())?);
    }
    let mut frames = Vec::with_capacity(contents.frames.len());
    for frame in &contents.frames {
        let straight = Deliverable { through: None, ..frame.clone() };
        frames.push(history::plant(connection, project, Deliverable::KIND, None, &straight.body())?);
    }
    for (frame, id) in contents.frames.iter().zip(&frames) {
        // Ways name places until every frame has its number. The states are new: nothing else holds them.
        let through = frame.through.and_then(|place| frames.get(usize::try_from(place).ok()?.checked_sub(1)?));
        if let Some(through) = through {
            let body = Deliverable { through: Some(*through), ..frame.clone() }.body();
            let state = records::table.find(id).select(records::state_id).single_value();
            diesel::update(states::table.filter(states::id.nullable().eq(state)))
                .set(states::body.eq(body))
                .execute(connection)?;
        }
    }
    history::plant(connection, project, ProjectSettings::KIND, None, &contents.settings.body())?;
    for (source, frame, choice) in &contents.conversions {
        if let (false, Some(source), Some(frame)) = (choice.is_empty(), sources.get(*source), frames.get(*frame)) {
            let pair = Pair { source: *source, frame: *frame };
            history::plant(connection, project, Choice::KIND, Some(pair), &choice.body())?;
        }
    }
    history::begin(connection, project, label)?;
    Ok(project)
}

impl Store {
    /// Opens the data file, or makes a new one, brings it up to date, and prunes old branches of the
    /// histories.
    ///
    /// # Errors
    /// See [`OpenError`].
    pub fn open(path: &Path) -> Result<Self, OpenError> {
        let mut store = Self { connection: data_file::open(path)? };
        store
            .prune(now() - BRANCH_DAYS * 86_400_000)
            .map_err(|error| OpenError::Unreachable { path: path.to_owned(), why: error.to_string() })?;
        Ok(store)
    }

    /// One transaction that holds the file's write lock from its start, so that what it has read
    /// is still true when it writes.
    pub(crate) fn write<T>(&mut self, work: impl FnOnce(&mut SqliteConnection) -> Answer<T>) -> Answer<T> {
        self.connection.immediate_transaction(work)
    }

    /// One transaction that sees one moment.
    pub(crate) fn read<T>(&mut self, work: impl FnOnce(&mut SqliteConnection) -> Answer<T>) -> Answer<T> {
        self.connection.transaction(work)
    }

    /// Every project that is not deleted, the last changed first.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn projects(&mut self) -> Answer<Vec<ProjectInfo>> {
        self.read(|connection| {
            let ids: Vec<i32> = projects::table
                .filter(projects::deleted_at.is_null())
                .filter(projects::id.ne(HOUSE))
                .order((projects::changed_at.desc(), projects::id.desc()))
                .select(projects::id)
                .load(connection)?;
            ids.into_iter().map(|id| info(connection, id)).collect()
        })
    }

    /// One project.
    ///
    /// # Errors
    /// When it is unknown or deleted.
    pub fn project(&mut self, id: i32) -> Answer<ProjectInfo> {
        self.read(|connection| info(connection, id))
    }

    /// A new project with these contents. `label` is what the first line of its history says.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn add_project(&mut self, contents: &ProjectContents, label: &str) -> Answer<ProjectInfo> {
        let id = self.write(|connection| plant(connection, contents, false, label))?;
        self.project(id)
    }

    /// Deletes a project with all that it holds; it can be restored.
    ///
    /// # Errors
    /// When it is unknown or deleted, or has another version.
    pub fn delete_project(&mut self, id: i32, version: i32) -> Answer<()> {
        self.write(|connection| {
            check_version(info(connection, id)?.version, version)?;
            diesel::update(projects::table.find(id)).set(projects::deleted_at.eq(now())).execute(connection)?;
            Ok(())
        })
    }

    /// Brings a deleted project back; one that is not deleted stays as it is.
    ///
    /// # Errors
    /// When it is unknown.
    pub fn restore_project(&mut self, id: i32) -> Answer<ProjectInfo> {
        self.write(|connection| {
            project_row(connection, id)?;
            diesel::update(projects::table.find(id)).set(projects::deleted_at.eq(None::<i64>)).execute(connection)?;
            info(connection, id)
        })
    }

    /// Gives a project other values.
    ///
    /// # Errors
    /// When it is unknown or deleted, or has another version.
    pub fn set_project(&mut self, id: i32, version: i32, after: &ProjectSettings) -> Answer<ProjectInfo> {
        self.write(|connection| {
            open_project(connection, id)?;
            let own = settings(connection, id)?.id;
            replace(connection, id, own, version, after)?;
            info(connection, id)
        })
    }

    /// All records of a kind, in the order of entry.
    ///
    /// # Errors
    /// When the project is unknown or deleted.
    pub fn list<T: Kept>(&mut self, project: i32) -> Answer<Vec<Record<T>>> {
        self.read(|connection| {
            open_project(connection, project)?;
            list(connection, project)
        })
    }

    /// One record.
    ///
    /// # Errors
    /// When it or its project is unknown or deleted.
    pub fn get<T: Kept>(&mut self, project: i32, id: i32) -> Answer<Record<T>> {
        self.read(|connection| {
            open_project(connection, project)?;
            find(connection, project, id)
        })
    }

    /// A new record.
    ///
    /// # Errors
    /// When the project is unknown or deleted.
    pub fn add<T: Kept>(&mut self, project: i32, value: &T) -> Answer<Record<T>> {
        self.write(|connection| {
            value.check(connection, project, None)?;
            let change = Change { record: Subject::New { kind: T::KIND, pair: None }, after: Some(value.body()) };
            let label = format!("Add {}", value.title());
            let (_, numbers) = history::commit(connection, project, &label, vec![change])?;
            find(connection, project, numbers[0])
        })
    }

    /// Puts a value in the place of the one that has this version.
    ///
    /// # Errors
    /// When it or its project is unknown or deleted, or it has another version.
    pub fn replace<T: Kept>(&mut self, project: i32, id: i32, version: i32, after: &T) -> Answer<Record<T>> {
        self.write(|connection| {
            open_project(connection, project)?;
            replace(connection, project, id, version, after)
        })
    }

    /// Deletes a record; undo brings it back.
    ///
    /// # Errors
    /// When it or its project is unknown or deleted, or it has another version.
    pub fn delete<T: Kept>(&mut self, project: i32, id: i32, version: i32) -> Answer<()> {
        self.write(|connection| {
            open_project(connection, project)?;
            let record = find::<T>(connection, project, id)?;
            check_version(record.version, version)?;
            let change = Change { record: Subject::There { id, state: Some(record.state) }, after: None };
            history::commit(connection, project, &format!("Delete {}", record.value.title()), vec![change])?;
            Ok(())
        })
    }

    /// All that a project holds, read at one moment.
    ///
    /// # Errors
    /// When it is unknown or deleted.
    pub fn contents(&mut self, project: i32) -> Answer<Contents> {
        self.read(|connection| contents(connection, project))
    }

    /// What a conversion adds to its source and frame, with version 0 while nobody has touched it.
    ///
    /// # Errors
    /// When its source, frame or project is unknown or deleted.
    pub fn choice(&mut self, project: i32, pair: Pair) -> Answer<(i32, Choice)> {
        self.read(|connection| {
            open_project(connection, project)?;
            find::<Footage>(connection, project, pair.source)?;
            find::<Deliverable>(connection, project, pair.frame)?;
            let (_, version, choice) = find_choice(connection, pair)?;
            Ok((version, choice))
        })
    }

    /// Sets parts of what a conversion adds, if it has this version.
    ///
    /// # Errors
    /// When its source, frame or project is unknown or deleted, or it has another version.
    pub fn set_choice(&mut self, project: i32, pair: Pair, version: i32, patch: &ChoicePatch) -> Answer<(i32, Choice)> {
        self.write(|connection| {
            open_project(connection, project)?;
            let source = find::<Footage>(connection, project, pair.source)?;
            let frame = find::<Deliverable>(connection, project, pair.frame)?;
            let (record, stored, before) = find_choice(connection, pair)?;
            check_version(stored, version)?;
            let after = patch.apply(&before);
            if before == after {
                return Ok((stored, before));
            }
            let label = format!("{} on {} into {}", after.change(&before), source.value.title(), frame.value.title());
            let body = (!after.is_empty()).then(|| after.body());
            history::commit(connection, project, &label, vec![Change { record, after: body }])?;
            let (_, version, choice) = find_choice(connection, pair)?;
            Ok((version, choice))
        })
    }

    /// Takes in house frames and active pictures as one step. What the house has already is left as
    /// it is; another thing of the same name comes in beside it under a name with "(imported)".
    /// Gives how many came in.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn import_library(&mut self, frames: &[HouseFrame], pictures: &[HouseActivePicture]) -> Answer<usize> {
        use ratiomet_core::project::Name;
        let beside = |name: &Name| Name::new(&format!("{} (imported)", name.as_str())).unwrap_or_else(|| name.clone());
        self.write(|connection| {
            let own_frames = list::<HouseFrame>(connection, HOUSE)?;
            let own_pictures = list::<HouseActivePicture>(connection, HOUSE)?;
            let mut changes = Vec::new();
            let new = |kind, body| Change { record: Subject::New { kind, pair: None }, after: Some(body) };
            for frame in frames {
                if own_frames.iter().any(|own| own.value == *frame) {
                    continue;
                }
                let mut frame = frame.clone();
                if own_frames.iter().any(|own| own.value.group == frame.group && own.value.title() == frame.title()) {
                    frame.frame.name = beside(&frame.frame.name);
                }
                changes.push(new(HouseFrame::KIND, frame.body()));
            }
            for picture in pictures {
                if own_pictures.iter().any(|own| own.value == *picture) {
                    continue;
                }
                let mut picture = picture.clone();
                if own_pictures.iter().any(|own| own.value.name == picture.name) {
                    picture.name = beside(&picture.name);
                }
                changes.push(new(HouseActivePicture::KIND, picture.body()));
            }
            let count = changes.len();
            if count > 0 {
                history::commit(connection, HOUSE, &format!("Import {count} from a file"), changes)?;
            }
            Ok(count)
        })
    }

    /// Whether the file has ever been given the demo project, deleted or not.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn has_demo(&mut self) -> Answer<bool> {
        let count: i64 = projects::table.filter(projects::demo).count().get_result(&mut self.connection)?;
        Ok(count > 0)
    }

    /// Puts the demo project in, in place of an earlier one; other projects are not touched.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn seed_demo(&mut self, demo: &ProjectContents) -> Answer<i32> {
        self.write(|connection| {
            diesel::delete(projects::table.filter(projects::demo)).execute(connection)?;
            plant(connection, demo, true, "The demo project")
        })
    }
}

impl Contents {
    /// What its conversions are computed from.
    pub fn layout(&self) -> Layout<'_> {
        let frames = self.frames.iter().map(|frame| (frame.id, &frame.value));
        let choices = self.choices.iter().map(|(pair, _, choice)| (*pair, choice));
        Layout::new(frames, choices, self.info.settings.method)
    }

    /// The same free of numbers, as it goes into a file.
    pub fn without_numbers(&self) -> ProjectContents {
        let place = |ids: &[i32], id: i32| ids.binary_search(&id).ok();
        let sources: Vec<i32> = self.sources.iter().map(|record| record.id).collect();
        let frames: Vec<i32> = self.frames.iter().map(|record| record.id).collect();
        let conversion = |(pair, _, choice): &(Pair, i32, Choice)| {
            let places = place(&sources, pair.source).zip(place(&frames, pair.frame));
            places.filter(|_| !choice.is_empty()).map(|(source, frame)| (source, frame, choice.clone()))
        };
        let through = |id: i32| i32::try_from(place(&frames, id)? + 1).ok();
        let frame = |record: &Record<Deliverable>| Deliverable {
            through: record.value.through.and_then(through),
            ..record.value.clone()
        };
        ProjectContents {
            settings: self.info.settings.clone(),
            sources: self.sources.iter().map(|record| record.value.clone()).collect(),
            frames: self.frames.iter().map(frame).collect(),
            conversions: self.choices.iter().filter_map(conversion).collect(),
        }
    }
}

fn replace<T: Kept>(
    connection: &mut SqliteConnection,
    project: i32,
    id: i32,
    version: i32,
    after: &T,
) -> Answer<Record<T>> {
    let record = find::<T>(connection, project, id)?;
    check_version(record.version, version)?;
    if record.value == *after {
        return Ok(record);
    }
    after.check(connection, project, Some(id))?;
    let change = Change { record: Subject::There { id, state: Some(record.state) }, after: Some(after.body()) };
    history::commit(connection, project, &after.change(&record.value), vec![change])?;
    find(connection, project, id)
}
