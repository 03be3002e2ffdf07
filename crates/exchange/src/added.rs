//! [`Added`]: a file of somebody else with ours added.

use std::collections::HashSet;

use ratiomet_core::project::Package;
use serde_json::Value;

/// A file of somebody else with ours added.
#[derive(Debug, Default)]
pub struct Added {
    /// The file.
    pub bytes: Vec<u8>,
    /// How many of its clips or canvases have the name of a source.
    pub found: usize,
    /// How many framings they have got.
    pub placements: usize,
    /// The sources of which it has none.
    pub missing: Vec<String>,
    seen: HashSet<usize>,
}

impl Added {
    /// Notes one that has the name of a source, and how many framings it gets.
    pub(crate) fn found(&mut self, source: usize, placements: usize) {
        self.found += 1;
        self.placements += placements;
        self.seen.insert(source);
    }

    /// Writes the file down; one in which nothing was found is refused.
    pub(crate) fn settle(mut self, package: &Package, file: &Value) -> Result<Self, String> {
        let sources = package.sources.iter().enumerate();
        self.missing = sources
            .filter(|(at, _)| !self.seen.contains(at))
            .map(|(_, (_, footage))| footage.name.as_str().to_owned())
            .collect();
        if self.found == 0 {
            return Err("no name in this file matches a selected source".to_owned());
        }
        self.bytes = pretty(file);
        Ok(self)
    }
}

/// A file as it is written.
pub(crate) fn pretty(file: &Value) -> Vec<u8> {
    serde_json::to_vec_pretty(file).expect("JSON values have text keys")
}
