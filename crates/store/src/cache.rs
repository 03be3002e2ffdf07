//! [`Cache`]: projects as they were loaded last, as long as nobody else has written to the file.

use std::sync::Arc;

use diesel::prelude::*;
use diesel::sql_types::Integer;
use ratiomet_core::project::ProjectId;

use crate::contents::Contents;
use crate::error::Answer;

/// The most projects that are kept in memory.
const MOST: usize = 8;

/// Projects as they were loaded last, the latest used at the end.
#[derive(Default)]
pub(crate) struct Cache {
    /// What SQLite counts of the changes that others make.
    others: i32,
    kept: Vec<Arc<Contents>>,
}

#[derive(QueryableByName)]
struct DataVersion {
    #[diesel(sql_type = Integer)]
    data_version: i32,
}

impl Cache {
    /// A project as it is in the file now.
    pub fn get(&mut self, connection: &mut SqliteConnection, id: ProjectId) -> Answer<Arc<Contents>> {
        let now = diesel::sql_query("PRAGMA data_version").get_result::<DataVersion>(connection)?.data_version;
        if now != self.others {
            self.kept.clear();
            self.others = now;
        }
        let loaded = match self.kept.iter().position(|contents| contents.id == id) {
            Some(place) => self.kept.remove(place),
            None => Arc::new(Contents::load(connection, id)?),
        };
        self.put(loaded.clone());
        Ok(loaded)
    }

    /// Keeps a project as it is now.
    pub fn put(&mut self, contents: Arc<Contents>) {
        self.forget(contents.id);
        self.kept.push(contents);
        if self.kept.len() > MOST {
            self.kept.remove(0);
        }
    }

    /// Forgets a project.
    pub fn forget(&mut self, id: ProjectId) {
        self.kept.retain(|contents| contents.id != id);
    }

    /// Forgets everything.
    pub fn clear(&mut self) {
        self.kept.clear();
    }
}
