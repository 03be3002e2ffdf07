//! [`ProjectSettings`]: what a project itself keeps.

use crate::project::{Name, Placing};

/// What a project itself keeps.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ProjectSettings {
    /// What it is called.
    pub name: Name,
    /// The method of every conversion for which nothing nearer has one.
    pub method: Placing,
}

impl ProjectSettings {
    /// What differs from earlier settings, in words.
    pub fn words_since(&self, before: &Self) -> String {
        let mut words = Vec::new();
        if self.method != before.method {
            words.push(self.method.words());
        }
        if self.name != before.name {
            words.push(format!("rename the project to {}", self.name.as_str()));
        }
        words.join(", ")
    }
}
