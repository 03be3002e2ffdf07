//! Rows of records with the states that count for them, and rows of projects.

use diesel::prelude::*;
use ratiomet_core::project::ProjectId;
use ratiomet_wire::kept::{self, Kept, Kind};

use crate::error::{Answer, StoreError};
use crate::schema::{projects, records, states};
use crate::set_aside::SetAside;

/// Records with the states that count for them.
macro_rules! full_rows {
    () => {
        records::table.left_join(states::table.on(records::state_id.eq(states::id.nullable()))).select((
            records::id,
            records::kind,
            records::source_id,
            records::frame_id,
            records::version,
            records::state_id,
            states::format.nullable(),
            states::body.nullable(),
        ))
    };
}

/// The project in which the house keeps its own; no list shows it.
pub(crate) const HOUSE: ProjectId = ProjectId::new(0);

/// The row of a record and what was kept of it last.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct RecordRow {
    pub id: i32,
    pub version: i32,
    pub state: Option<i32>,
}

/// A record as it is read from the file.
#[derive(Queryable)]
pub(crate) struct FullRow {
    pub id: i32,
    pub kind: String,
    pub source: Option<i32>,
    pub frame: Option<i32>,
    version: i32,
    state: Option<i32>,
    format: Option<i32>,
    body: Option<String>,
}

impl FullRow {
    pub fn row(&self) -> RecordRow {
        RecordRow { id: self.id, version: self.version, state: self.state }
    }

    pub const fn is_there(&self) -> bool {
        self.state.is_some()
    }

    /// The value; none for a record that is deleted. One that cannot be read is set aside.
    pub fn value<T: Kept>(&self, aside: &mut Vec<SetAside>) -> Option<T> {
        let (format, body) = self.format.zip(self.body.as_ref())?;
        match kept::read(format, body) {
            Ok(value) => Some(value),
            Err(why) => {
                self.set_aside(why, aside);
                None
            }
        }
    }

    /// Sets it aside as it is kept.
    pub fn set_aside(&self, why: String, aside: &mut Vec<SetAside>) {
        if let Some((format, body)) = self.format.zip(self.body.as_ref()) {
            let kind = self.kind.clone();
            aside.push(SetAside { kind, id: self.id, why, format, body: body.clone() });
        }
    }
}

/// Every record of a project, in the order of entry.
pub(crate) fn records_of(connection: &mut SqliteConnection, project: ProjectId) -> Answer<Vec<FullRow>> {
    Ok(full_rows!().filter(records::project_id.eq(project.number())).order(records::id).load(connection)?)
}

/// The records of one kind, in the order of entry.
pub(crate) fn records_of_kind(
    connection: &mut SqliteConnection,
    project: ProjectId,
    kind: Kind,
) -> Answer<Vec<FullRow>> {
    let of_project = full_rows!().filter(records::project_id.eq(project.number()));
    Ok(of_project.filter(records::kind.eq(kind.word())).order(records::id).load(connection)?)
}

/// How many records of a kind are not deleted.
pub(crate) fn count(connection: &mut SqliteConnection, project: ProjectId, kind: Kind) -> Answer<usize> {
    let count: i64 = records::table
        .filter(records::project_id.eq(project.number()))
        .filter(records::kind.eq(kind.word()))
        .filter(records::state_id.is_not_null())
        .count()
        .get_result(connection)?;
    Ok(usize::try_from(count).unwrap_or(0))
}

/// Why a thing of a project is not there: it is deleted, set aside, or never was.
pub(crate) fn missing(
    connection: &mut SqliteConnection,
    project: ProjectId,
    kind: Kind,
    what: &'static str,
    id: i32,
) -> Answer<StoreError> {
    let found: Option<Option<i32>> = records::table
        .filter(records::id.eq(id))
        .filter(records::project_id.eq(project.number()))
        .filter(records::kind.eq(kind.word()))
        .select(records::state_id)
        .first(connection)
        .optional()?;
    Ok(match found {
        None => StoreError::Unknown { what, id },
        Some(None) => StoreError::Deleted { what, id },
        Some(Some(_)) => {
            let why = "it is set aside as it was kept, and can be taken out as a file".to_owned();
            StoreError::Unreadable { what, id, why }
        }
    })
}

/// A project that is there.
pub(crate) struct ProjectRow {
    pub changed_at: i64,
    /// Where its history stands.
    pub at: i32,
}

/// The row of a project that is not deleted.
pub(crate) fn project_row(connection: &mut SqliteConnection, project: ProjectId) -> Answer<ProjectRow> {
    let id = project.number();
    let row: Option<(i64, Option<i64>, Option<i32>)> = projects::table
        .find(id)
        .select((projects::changed_at, projects::deleted_at, projects::step_id))
        .first(connection)
        .optional()?;
    match row {
        None => Err(StoreError::Unknown { what: ProjectId::NOUN, id }),
        Some((_, Some(_), _)) => Err(StoreError::Deleted { what: ProjectId::NOUN, id }),
        Some((changed_at, None, Some(at))) => Ok(ProjectRow { changed_at, at }),
        Some((_, None, None)) => Err(StoreError::Corrupt { table: "projects", id, why: "it has no history" }),
    }
}
