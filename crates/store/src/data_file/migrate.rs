//! Changes of the schema: which ones a file has, and the others carried out.

use std::path::Path;

use diesel::connection::SimpleConnection;
use diesel::migration::{Migration, MigrationSource, MigrationVersion};
use diesel::prelude::*;
use diesel::sqlite::Sqlite;
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

use super::OpenError;
use crate::schema::meta;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("migrations");

/// The version of the program.
const OWN: &str = env!("CARGO_PKG_VERSION");

/// The name under which the version of the program that wrote the file stands in it.
const WRITER: &str = "written_by";

fn known() -> Result<Vec<MigrationVersion<'static>>, String> {
    let all: Vec<Box<dyn Migration<Sqlite>>> = MIGRATIONS.migrations().map_err(|error| error.to_string())?;
    Ok(all.iter().map(|each| each.name().version().as_owned()).collect())
}

/// The newest change that this program knows.
pub(super) fn newest_known() -> Result<String, String> {
    known()?.into_iter().max().map(|version| version.to_string()).ok_or_else(|| "there are no changes".to_owned())
}

/// The changes that a file has; one without a table of them has none, and none is made.
fn applied(connection: &mut SqliteConnection) -> Result<Vec<MigrationVersion<'static>>, String> {
    let there =
        diesel::sql_query("SELECT count(*) AS number FROM sqlite_master WHERE name = '__diesel_schema_migrations'");
    let there = there.get_result::<super::Number>(connection).map_err(|error| error.to_string())?.number;
    if there == 0 {
        return Ok(Vec::new());
    }
    connection.applied_migrations().map_err(|error| error.to_string())
}

/// Refuses a file that has a change which this program does not know.
pub(super) fn check_age(connection: &mut SqliteConnection, path: &Path) -> Result<(), OpenError> {
    let unreachable = |why: String| OpenError::unreachable(path, why);
    let known = known().map_err(unreachable)?;
    let applied = applied(connection).map_err(unreachable)?;
    let Some(newest) = applied.into_iter().filter(|version| !known.contains(version)).max() else { return Ok(()) };
    let writer: Result<String, _> = meta::table.find(WRITER).select(meta::value).first(connection);
    let writer = writer.map_or_else(|_| format!("one that knows the change {newest}"), |own| format!("version {own}"));
    Err(OpenError::Newer { path: path.to_owned(), writer, own: OWN })
}

/// Whether a file lacks a change.
pub(super) fn is_pending(connection: &mut SqliteConnection, path: &Path) -> Result<bool, OpenError> {
    let unreachable = |why: String| OpenError::unreachable(path, why);
    let applied = applied(connection).map_err(unreachable)?;
    Ok(known().map_err(unreachable)?.iter().any(|version| !applied.contains(version)))
}

/// Carries out what a file lacks: all of it or nothing.
pub(super) fn run(connection: &mut SqliteConnection, path: &Path) -> Result<(), OpenError> {
    let unreachable = |error: &dyn std::fmt::Display| OpenError::unreachable(path, error);
    // Tables are made again under the names by which others refer to them.
    connection.batch_execute("PRAGMA foreign_keys = OFF").map_err(|error| unreachable(&error))?;
    let run = connection.immediate_transaction(|connection| {
        connection.run_pending_migrations(MIGRATIONS).map_err(diesel::result::Error::QueryBuilderError)?;
        let broken = diesel::sql_query("SELECT count(*) AS number FROM pragma_foreign_key_check()");
        match broken.get_result::<super::Number>(connection)?.number {
            0 => Ok(()),
            count => {
                let why = format!("{count} rows refer to others that are not there");
                Err(diesel::result::Error::QueryBuilderError(why.into()))
            }
        }
    });
    run.map_err(|error: diesel::result::Error| unreachable(&error))?;
    connection.batch_execute("PRAGMA foreign_keys = ON").map_err(|error| unreachable(&error))
}

/// Writes into a file which version of the program has it now.
pub(super) fn sign(connection: &mut SqliteConnection) -> QueryResult<()> {
    let signed: Option<String> = meta::table.find(WRITER).select(meta::value).first(connection).optional()?;
    if signed.as_deref() != Some(OWN) {
        diesel::replace_into(meta::table).values((meta::name.eq(WRITER), meta::value.eq(OWN))).execute(connection)?;
    }
    Ok(())
}
