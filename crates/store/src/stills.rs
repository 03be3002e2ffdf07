//! Which stills are referred to, by any state of any record.

use std::collections::HashSet;

use diesel::prelude::*;
use ratiomet_core::project::Content;

use crate::Store;
use crate::error::Answer;
use crate::schema::states;

/// How the content of a still begins in a state.
const MARK: &str = "\"content\":\"";

impl Store {
    /// The stills that anything refers to: undo and redo need them as much as what stands.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn stills(&self) -> Answer<HashSet<Content>> {
        self.read(|connection, _| {
            let bodies: Vec<String> =
                states::table.filter(states::body.like(format!("%{MARK}%"))).select(states::body).load(connection)?;
            let found = bodies.iter().flat_map(|body| body.split(MARK).skip(1));
            Ok(found.filter_map(|rest| Content::parse(rest.get(..64)?)).collect())
        })
    }
}
