//! [`Trouble`]: what is the matter with a data file, by what SQLite says of it.

/// What is the matter with a data file.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Trouble {
    /// Another program works on it.
    InUse,
    /// It may not be written.
    ReadOnly,
    /// There is no room.
    Full,
    /// It cannot be made out.
    Damaged,
    /// It is no database.
    NoDatabase,
}

impl Trouble {
    /// By SQLite's own sentence for its result codes (`sqlite3_errstr`).
    pub fn of(said: &str) -> Option<Self> {
        let sorts = [
            ("is locked", Self::InUse),
            ("readonly database", Self::ReadOnly),
            ("read-only", Self::ReadOnly),
            ("is full", Self::Full),
            ("is malformed", Self::Damaged),
            ("malformed database schema", Self::Damaged),
            ("file is not a database", Self::NoDatabase),
        ];
        sorts.into_iter().find(|(words, _)| said.contains(words)).map(|(_, sort)| sort)
    }
}
