//! The people of a shared server: a file with names, roles, and what their passwords and tokens are checked against.

mod command;
mod password;

pub use command::{Command, run};
pub use password::{Password, check as is_password};

use std::fmt;
use std::fs;
use std::io::Write;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::SystemTime;

use clap::ValueEnum;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::secret::digest;
use crate::whole_file;

/// The form of the file that this version writes.
const FORMAT: u32 = 1;
/// The longest file that is read.
const LONGEST: u64 = 1 << 20;
/// What a token begins with, so that it is known for one where it is found.
const TOKEN: &str = "rtm_";

/// What somebody may do; each may do what those before it may.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema, ValueEnum)]
#[serde(rename_all = "lowercase")]
#[schema(as = PersonRole)]
pub enum Role {
    /// Read everything, calculate, and take hand-offs
    Look,
    /// Change projects
    Plan,
    /// Change the library of the house too, and who it is that it belongs to
    House,
}

impl fmt::Display for Role {
    fn fmt(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        formatter.write_str(match self {
            Self::Look => "look",
            Self::Plan => "plan",
            Self::House => "house",
        })
    }
}

/// Somebody who is known.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Person {
    /// The name that is typed to log in.
    pub name: String,
    /// What is allowed.
    pub role: Role,
    /// The password, as Argon2id keeps it (PHC string).
    pub password: String,
}

/// A script that is known.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Token {
    /// What it is for.
    name: String,
    /// What is allowed.
    role: Role,
    /// When it ends.
    until: Timestamp,
    /// SHA-256 of the token, in hexadecimal digits.
    sha256: String,
}

/// Who is known, as it stands in the file.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct People {
    format: u32,
    people: Vec<Person>,
    #[serde(default)]
    tokens: Vec<Token>,
}

/// Who calls.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Caller {
    /// The person's name, or that of the token.
    pub name: String,
    /// What is allowed.
    pub role: Role,
}

impl Default for People {
    fn default() -> Self {
        Self { format: FORMAT, people: Vec::new(), tokens: Vec::new() }
    }
}

impl People {
    /// Reads the file.
    ///
    /// # Errors
    /// A sentence that names the file, and says what would be right.
    pub fn read(path: &Path) -> Result<Self, String> {
        let failed = |why: &dyn fmt::Display| {
            format!("the people in {} cannot be read: {why}; ratiomet people add makes such a file", path.display())
        };
        let about = fs::metadata(path).map_err(|error| failed(&error))?;
        if !about.is_file() || about.len() > LONGEST {
            return Err(failed(&"it is no file of people"));
        }
        let text = fs::read_to_string(path).map_err(|error| failed(&error))?;
        let people: Self = serde_json::from_str(&text).map_err(|error| failed(&error))?;
        if people.format > FORMAT {
            return Err(failed(&format!("it has format {}, and this version knows {FORMAT}", people.format)));
        }
        if let Some(person) = people.people.iter().find(|person| !password::is_kept(&person.password)) {
            return Err(failed(&format!("the password of {} is not kept as Argon2id", person.name)));
        }
        Ok(people)
    }

    /// Writes the file, which nobody else may read.
    ///
    /// # Errors
    /// A sentence that names the file; then what was there is as it was.
    pub fn write(&self, path: &Path) -> Result<(), String> {
        whole_file::write_for(whole_file::Readers::Owner, path, |file| {
            let text = serde_json::to_string_pretty(self).expect("plain data with text keys");
            writeln!(file, "{text}").map_err(|error| format!("{} cannot be written: {error}", path.display()))
        })?;
        Ok(())
    }

    /// Somebody by name; capitals do not matter.
    pub fn person(&self, name: &str) -> Option<&Person> {
        let name = name.to_lowercase();
        self.people.iter().find(|person| person.name.to_lowercase() == name)
    }

    fn person_mut(&mut self, name: &str) -> Option<&mut Person> {
        let name = name.to_lowercase();
        self.people.iter_mut().find(|person| person.name.to_lowercase() == name)
    }

    /// Gives somebody another password.
    ///
    /// # Errors
    /// A sentence when nobody has that name.
    pub fn set_password(&mut self, name: &str, password: &Password) -> Result<(), String> {
        let person = self.person_mut(name).ok_or_else(|| format!("nobody is called {name}"))?;
        person.password = password.kept();
        Ok(())
    }

    /// Whose token it is, if it counts at that moment.
    pub fn of_token(&self, token: &str, now: Timestamp) -> Option<Caller> {
        let sha256 = digest(token);
        // What is compared are digests: how long that takes says nothing of the token.
        let found = self.tokens.iter().find(|token| token.sha256 == sha256 && now < token.until)?;
        Some(Caller { name: found.name.clone(), role: found.role })
    }
}

/// The file of people of a running server, read again when it has changed.
pub struct PeopleFile {
    path: PathBuf,
    read: Mutex<Read>,
}

struct Read {
    people: Arc<People>,
    seen: Option<(SystemTime, u64)>,
}

fn stamp(path: &Path) -> Option<(SystemTime, u64)> {
    let about = fs::metadata(path).ok()?;
    Some((about.modified().ok()?, about.len()))
}

impl PeopleFile {
    /// Reads it first.
    ///
    /// # Errors
    /// As [`People::read`]; also when there is nobody in it.
    pub fn open(path: &Path) -> Result<Self, String> {
        let seen = stamp(path);
        let people = People::read(path)?;
        if people.people.is_empty() {
            return Err(format!(
                "there is nobody in {}; add somebody with ratiomet people add NAME --people {0}",
                path.display()
            ));
        }
        Ok(Self { path: path.to_owned(), read: Mutex::new(Read { people: Arc::new(people), seen }) })
    }

    /// Who is known now. A file that cannot be read just then counts as it was.
    pub fn now(&self) -> Arc<People> {
        let mut read = self.read.lock().unwrap_or_else(PoisonError::into_inner);
        let seen = stamp(&self.path);
        if seen != read.seen {
            match People::read(&self.path) {
                Ok(people) => *read = Read { people: Arc::new(people), seen },
                Err(why) => {
                    tracing::error!("{why}; those that were known stay known");
                    read.seen = seen;
                }
            }
        }
        read.people.clone()
    }

    /// Changes it.
    ///
    /// # Errors
    /// A sentence; then it is as it was.
    pub fn change(&self, change: impl FnOnce(&mut People) -> Result<(), String>) -> Result<(), String> {
        let mut read = self.read.lock().unwrap_or_else(PoisonError::into_inner);
        let mut people = People::read(&self.path)?;
        change(&mut people)?;
        people.write(&self.path)?;
        *read = Read { people: Arc::new(people), seen: stamp(&self.path) };
        Ok(())
    }
}
