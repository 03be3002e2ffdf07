//! [`Cache`]: projects as they were loaded last.

use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use diesel::prelude::*;
use ratiomet_core::project::ProjectId;

use crate::contents::Contents;
use crate::error::Answer;
use crate::rows::{self, ProjectRow};

/// The most projects that are kept in memory.
const MOST: usize = 8;

/// Projects as they were loaded last, the latest used at the end. A connection is given one only where the project is in
/// what that sees as it was then.
#[derive(Default)]
pub(crate) struct Cache {
    kept: Mutex<Vec<Arc<Contents>>>,
}

impl Cache {
    /// A project as it is in the file now.
    pub fn get(&self, connection: &mut SqliteConnection, id: ProjectId) -> Answer<Arc<Contents>> {
        let ProjectRow { changed_at, at } = rows::project_row(connection, id)?;
        let is_it =
            |contents: &Arc<Contents>| (contents.id, contents.at.number(), contents.changed_at) == (id, at, changed_at);
        let kept = self.kept().iter().find(|contents| is_it(contents)).cloned();
        let loaded = match kept {
            Some(contents) => contents,
            None => Arc::new(Contents::load(connection, id)?),
        };
        self.put(loaded.clone());
        Ok(loaded)
    }

    /// Keeps a project as it is now.
    pub fn put(&self, contents: Arc<Contents>) {
        let mut kept = self.kept();
        kept.retain(|other| other.id != contents.id);
        kept.push(contents);
        if kept.len() > MOST {
            kept.remove(0);
        }
    }

    /// Forgets a project.
    pub fn forget(&self, id: ProjectId) {
        self.kept().retain(|contents| contents.id != id);
    }

    /// Forgets everything.
    pub fn clear(&self) {
        self.kept().clear();
    }

    /// Nothing that is done under this lock leaves anything half done.
    fn kept(&self) -> MutexGuard<'_, Vec<Arc<Contents>>> {
        self.kept.lock().unwrap_or_else(PoisonError::into_inner)
    }
}
