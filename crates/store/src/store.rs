//! [`Store`]: the records of a data file and the rules of writing them.

use std::path::Path;
use std::time::{SystemTime, UNIX_EPOCH};

use diesel::prelude::*;
use ratiomet_core::project::{Choice, Deliverable, Footage, Name};

use crate::data_file::{self, OpenError};
use crate::error::StoreError;
use crate::row::{ConversionRow, ConversionValues, FrameRow, FrameValues, SourceRow, SourceValues};
use crate::schema::{conversions, frames, projects, sources};

type Answer<T> = Result<T, StoreError>;

/// A value with the number and the version under which it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct Record<T> {
    /// Its number, never used twice.
    pub id: i32,
    /// Grows by 1 with every change.
    pub version: i32,
    /// What is kept.
    pub value: T,
}

/// A project without its contents.
#[derive(Clone, Debug, PartialEq)]
pub struct ProjectInfo {
    /// What it is called.
    pub name: Name,
    /// When it or anything in it was last changed, in milliseconds since 1970, UTC.
    pub changed_at: i64,
    /// How many sources it has.
    pub sources: i64,
    /// How many frames it has.
    pub frames: i64,
}

/// Which conversion is meant.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct ConversionKey {
    /// The source's number.
    pub source: i32,
    /// The frame's number.
    pub frame: i32,
}

/// All that a project holds.
#[derive(Debug)]
pub struct Contents {
    /// Its footage, in the order of entry.
    pub sources: Vec<Record<Footage>>,
    /// Its delivery frames, in the order of entry.
    pub frames: Vec<Record<Deliverable>>,
    /// The conversions that somebody has touched.
    pub choices: Vec<(ConversionKey, Record<Choice>)>,
}

/// A project to show what the program does.
#[derive(Debug)]
pub struct Demo {
    /// What it is called.
    pub name: Name,
    /// Its footage.
    pub footage: Vec<Footage>,
    /// Its frames, each with the conversions that have a framing of their own, by the place of
    /// their footage in the list above.
    pub frames: Vec<(Deliverable, Vec<(usize, Choice)>)>,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = projects)]
struct ProjectRow {
    id: i32,
    version: i32,
    name: String,
    changed_at: i64,
    deleted_at: Option<i64>,
}

/// An open data file.
pub struct Store {
    connection: SqliteConnection,
}

fn now() -> i64 {
    let since = SystemTime::now().duration_since(UNIX_EPOCH).unwrap_or_default();
    i64::try_from(since.as_millis()).unwrap_or(i64::MAX)
}

/// The rule of writing: the record is there, and its version is the one that the write names.
fn check_version(stored: i32, named: i32) -> Answer<()> {
    if stored == named { Ok(()) } else { Err(StoreError::Stale { current: stored }) }
}

fn find_project(connection: &mut SqliteConnection, id: i32) -> Answer<ProjectRow> {
    let row = projects::table.find(id).select(ProjectRow::as_select()).first(connection).optional()?;
    row.ok_or(StoreError::Unknown { what: "project", id })
}

fn open_project(connection: &mut SqliteConnection, id: i32) -> Answer<ProjectRow> {
    let row = find_project(connection, id)?;
    if row.deleted_at.is_some() { Err(StoreError::Deleted { what: "project", id }) } else { Ok(row) }
}

fn project_record(connection: &mut SqliteConnection, row: &ProjectRow) -> Answer<Record<ProjectInfo>> {
    let name = Name::new(&row.name).ok_or_else(|| StoreError::Corrupt {
        table: "projects",
        id: row.id,
        why: "its name is not sound".to_owned(),
    })?;
    let value = ProjectInfo {
        name,
        changed_at: row.changed_at,
        sources: sources::table
            .filter(sources::project_id.eq(row.id).and(sources::deleted_at.is_null()))
            .count()
            .get_result(connection)?,
        frames: frames::table
            .filter(frames::project_id.eq(row.id).and(frames::deleted_at.is_null()))
            .count()
            .get_result(connection)?,
    };
    Ok(Record { id: row.id, version: row.version, value })
}

fn touch(connection: &mut SqliteConnection, project: i32) -> Answer<()> {
    diesel::update(projects::table.find(project)).set(projects::changed_at.eq(now())).execute(connection)?;
    Ok(())
}

/// Sources and frames are kept by the same rules in two tables; the rules stand here once.
macro_rules! shelf {
    (
        $what:literal, $table:ident, $Row:ident, $Values:ident, $Value:ident, $read:ident,
        find: $find:ident, rows: $list_rows:ident, list: $list:ident, get: $get:ident, add: $add:ident,
        replace: $replace:ident, delete: $delete:ident, restore: $restore:ident
    ) => {
        fn $find(connection: &mut SqliteConnection, project: i32, id: i32) -> Answer<$Row> {
            open_project(connection, project)?;
            let row = $table::table.find(id).select($Row::as_select()).first(connection).optional()?;
            row.filter(|row| row.project_id == project).ok_or(StoreError::Unknown { what: $what, id })
        }

        fn $list_rows(connection: &mut SqliteConnection, project: i32) -> Answer<Vec<Record<$Value>>> {
            open_project(connection, project)?;
            let rows: Vec<$Row> = $table::table
                .filter($table::project_id.eq(project).and($table::deleted_at.is_null()))
                .order($table::id)
                .select($Row::as_select())
                .load(connection)?;
            rows.iter().map(|row| Ok(Record { id: row.id, version: row.version, value: row.$read()? })).collect()
        }

        impl Store {
            /// Those of the project that are not deleted, in the order of entry.
            ///
            /// # Errors
            /// When the project is unknown or deleted.
            pub fn $list(&mut self, project: i32) -> Answer<Vec<Record<$Value>>> {
                $list_rows(&mut self.connection, project)
            }

            /// One of them.
            ///
            /// # Errors
            /// When it or its project is unknown or deleted.
            pub fn $get(&mut self, project: i32, id: i32) -> Answer<Record<$Value>> {
                let row = $find(&mut self.connection, project, id)?;
                if row.deleted_at.is_some() {
                    return Err(StoreError::Deleted { what: $what, id });
                }
                Ok(Record { id, version: row.version, value: row.$read()? })
            }

            /// A new one at the end.
            ///
            /// # Errors
            /// When the project is unknown or deleted.
            pub fn $add(&mut self, project: i32, value: &$Value) -> Answer<Record<$Value>> {
                let id = self.write(|connection| {
                    open_project(connection, project)?;
                    touch(connection, project)?;
                    Ok(diesel::insert_into($table::table)
                        .values(($Values::from(value), $table::project_id.eq(project)))
                        .returning($table::id)
                        .get_result(connection)?)
                })?;
                self.$get(project, id)
            }

            /// Puts a value in the place of the one that has this version.
            ///
            /// # Errors
            /// When it or its project is unknown or deleted, or it has another version.
            pub fn $replace(&mut self, project: i32, id: i32, version: i32, value: &$Value) -> Answer<Record<$Value>> {
                self.write(|connection| {
                    let row = $find(connection, project, id)?;
                    if row.deleted_at.is_some() {
                        return Err(StoreError::Deleted { what: $what, id });
                    }
                    check_version(row.version, version)?;
                    touch(connection, project)?;
                    diesel::update($table::table.find(id))
                        .set(($Values::from(value), $table::version.eq(version + 1)))
                        .execute(connection)?;
                    Ok(())
                })?;
                self.$get(project, id)
            }

            /// Deletes it; it can be restored.
            ///
            /// # Errors
            /// When it or its project is unknown or deleted, or it has another version.
            pub fn $delete(&mut self, project: i32, id: i32, version: i32) -> Answer<()> {
                self.write(|connection| {
                    let row = $find(connection, project, id)?;
                    if row.deleted_at.is_some() {
                        return Err(StoreError::Deleted { what: $what, id });
                    }
                    check_version(row.version, version)?;
                    touch(connection, project)?;
                    diesel::update($table::table.find(id))
                        .set(($table::deleted_at.eq(now()), $table::version.eq(version + 1)))
                        .execute(connection)?;
                    Ok(())
                })
            }

            /// Brings a deleted one back; one that is not deleted stays as it is.
            ///
            /// # Errors
            /// When it or its project is unknown, or the project is deleted.
            pub fn $restore(&mut self, project: i32, id: i32) -> Answer<Record<$Value>> {
                self.write(|connection| {
                    let row = $find(connection, project, id)?;
                    if row.deleted_at.is_some() {
                        touch(connection, project)?;
                        diesel::update($table::table.find(id))
                            .set(($table::deleted_at.eq(None::<i64>), $table::version.eq(row.version + 1)))
                            .execute(connection)?;
                    }
                    Ok(())
                })?;
                self.$get(project, id)
            }
        }
    };
}

shelf!(
    "source", sources, SourceRow, SourceValues, Footage, footage,
    find: find_source, rows: list_sources, list: sources, get: source, add: add_source,
    replace: replace_source, delete: delete_source, restore: restore_source
);
shelf!(
    "frame", frames, FrameRow, FrameValues, Deliverable, deliverable,
    find: find_frame, rows: list_frames, list: frames, get: frame, add: add_frame,
    replace: replace_frame, delete: delete_frame, restore: restore_frame
);

impl Store {
    /// Opens the data file, or makes a new one, and brings it up to date.
    ///
    /// # Errors
    /// See [`OpenError`].
    pub fn open(path: &Path) -> Result<Self, OpenError> {
        Ok(Self { connection: data_file::open(path)? })
    }

    /// One transaction that holds the file's write lock from its start, so that what it has read
    /// is still true when it writes.
    fn write<T>(&mut self, work: impl FnOnce(&mut SqliteConnection) -> Answer<T>) -> Answer<T> {
        self.connection.immediate_transaction(work)
    }

    /// Every project that is not deleted, the last changed first.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn projects(&mut self) -> Answer<Vec<Record<ProjectInfo>>> {
        let rows: Vec<ProjectRow> = projects::table
            .filter(projects::deleted_at.is_null())
            .order((projects::changed_at.desc(), projects::id.desc()))
            .select(ProjectRow::as_select())
            .load(&mut self.connection)?;
        rows.iter().map(|row| project_record(&mut self.connection, row)).collect()
    }

    /// One project.
    ///
    /// # Errors
    /// When it is unknown or deleted.
    pub fn project(&mut self, id: i32) -> Answer<Record<ProjectInfo>> {
        let row = open_project(&mut self.connection, id)?;
        project_record(&mut self.connection, &row)
    }

    /// A new, empty project.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn add_project(&mut self, name: &Name) -> Answer<Record<ProjectInfo>> {
        let id = self.write(|connection| insert_project(connection, name, false))?;
        self.project(id)
    }

    /// Gives a project another name.
    ///
    /// # Errors
    /// When it is unknown or deleted, or has another version.
    pub fn rename_project(&mut self, id: i32, version: i32, name: &Name) -> Answer<Record<ProjectInfo>> {
        self.write(|connection| {
            check_version(open_project(connection, id)?.version, version)?;
            diesel::update(projects::table.find(id))
                .set((
                    projects::name.eq(name.as_str()),
                    projects::version.eq(version + 1),
                    projects::changed_at.eq(now()),
                ))
                .execute(connection)?;
            Ok(())
        })?;
        self.project(id)
    }

    /// Deletes a project with all that it holds; it can be restored.
    ///
    /// # Errors
    /// When it is unknown or deleted, or has another version.
    pub fn delete_project(&mut self, id: i32, version: i32) -> Answer<()> {
        self.write(|connection| {
            check_version(open_project(connection, id)?.version, version)?;
            diesel::update(projects::table.find(id))
                .set((projects::deleted_at.eq(now()), projects::version.eq(version + 1)))
                .execute(connection)?;
            Ok(())
        })
    }

    /// Brings a deleted project back; one that is not deleted stays as it is.
    ///
    /// # Errors
    /// When it is unknown.
    pub fn restore_project(&mut self, id: i32) -> Answer<Record<ProjectInfo>> {
        self.write(|connection| {
            let row = find_project(connection, id)?;
            if row.deleted_at.is_some() {
                diesel::update(projects::table.find(id))
                    .set((projects::deleted_at.eq(None::<i64>), projects::version.eq(row.version + 1)))
                    .execute(connection)?;
            }
            Ok(())
        })?;
        self.project(id)
    }

    /// All that a project holds, read at one moment.
    ///
    /// # Errors
    /// When it is unknown or deleted.
    pub fn contents(&mut self, project: i32) -> Answer<Contents> {
        self.connection.transaction(|connection| Store::read_contents(connection, project))
    }

    fn read_contents(connection: &mut SqliteConnection, project: i32) -> Answer<Contents> {
        let rows: Vec<ConversionRow> = conversions::table
            .inner_join(sources::table)
            .filter(sources::project_id.eq(project))
            .select(ConversionRow::as_select())
            .load(connection)?;
        let choice = |row: &ConversionRow| {
            let key = ConversionKey { source: row.source_id, frame: row.frame_id };
            Ok((key, Record { id: row.source_id, version: row.version, value: row.choice()? }))
        };
        Ok(Contents {
            sources: list_sources(connection, project)?,
            frames: list_frames(connection, project)?,
            choices: rows.iter().map(choice).collect::<Answer<_>>()?,
        })
    }

    /// What a conversion adds to its source and frame, with version 0 while nobody has touched it.
    ///
    /// # Errors
    /// When its source, frame or project is unknown or deleted.
    pub fn choice(&mut self, project: i32, key: ConversionKey) -> Answer<Record<Choice>> {
        self.source(project, key.source)?;
        self.frame(project, key.frame)?;
        find_choice(&mut self.connection, key)
    }

    /// Sets what a conversion adds, if it has this version.
    ///
    /// # Errors
    /// When its source, frame or project is unknown or deleted, or it has another version.
    pub fn set_choice(
        &mut self,
        project: i32,
        key: ConversionKey,
        version: i32,
        choice: &Choice,
    ) -> Answer<Record<Choice>> {
        self.write(|connection| {
            let (source, frame) =
                (find_source(connection, project, key.source)?, find_frame(connection, project, key.frame)?);
            if source.deleted_at.is_some() {
                return Err(StoreError::Deleted { what: "source", id: key.source });
            }
            if frame.deleted_at.is_some() {
                return Err(StoreError::Deleted { what: "frame", id: key.frame });
            }
            check_version(find_choice(connection, key)?.version, version)?;
            touch(connection, project)?;
            let place = (conversions::source_id.eq(key.source), conversions::frame_id.eq(key.frame));
            diesel::insert_into(conversions::table)
                .values((ConversionValues::from(choice), place, conversions::version.eq(version + 1)))
                .on_conflict((conversions::source_id, conversions::frame_id))
                .do_update()
                .set((ConversionValues::from(choice), conversions::version.eq(version + 1)))
                .execute(connection)?;
            find_choice(connection, key)
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
    pub fn seed_demo(&mut self, demo: &Demo) -> Answer<i32> {
        self.write(|connection| {
            diesel::delete(projects::table.filter(projects::demo)).execute(connection)?;
            let project = insert_project(connection, &demo.name, true)?;
            let mut sources = Vec::new();
            for footage in &demo.footage {
                sources.push(
                    diesel::insert_into(sources::table)
                        .values((SourceValues::from(footage), sources::project_id.eq(project)))
                        .returning(sources::id)
                        .get_result::<i32>(connection)?,
                );
            }
            for (frame, choices) in &demo.frames {
                let frame_id: i32 = diesel::insert_into(frames::table)
                    .values((FrameValues::from(frame), frames::project_id.eq(project)))
                    .returning(frames::id)
                    .get_result(connection)?;
                for (footage, choice) in choices {
                    let Some(source_id) = sources.get(*footage) else { continue };
                    let place = (conversions::source_id.eq(source_id), conversions::frame_id.eq(frame_id));
                    diesel::insert_into(conversions::table)
                        .values((ConversionValues::from(choice), place))
                        .execute(connection)?;
                }
            }
            Ok(project)
        })
    }
}

fn insert_project(connection: &mut SqliteConnection, name: &Name, demo: bool) -> Answer<i32> {
    Ok(diesel::insert_into(projects::table)
        .values((projects::name.eq(name.as_str()), projects::demo.eq(demo), projects::changed_at.eq(now())))
        .returning(projects::id)
        .get_result(connection)?)
}

fn find_choice(connection: &mut SqliteConnection, key: ConversionKey) -> Answer<Record<Choice>> {
    let row = conversions::table
        .find((key.source, key.frame))
        .select(ConversionRow::as_select())
        .first(connection)
        .optional()?;
    match row {
        Some(row) => Ok(Record { id: key.source, version: row.version, value: row.choice()? }),
        None => Ok(Record { id: key.source, version: 0, value: Choice::Follows }),
    }
}
