//! [`Changes`]: what an edit makes of a project, before anything is written.

use std::collections::HashSet;
use std::fmt;

use crate::Error;
use crate::project::{Choice, Deliverable, Followed, Footage, FrameId, Pair, ProjectSettings, SourceId};

/// What an edit makes of a project.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Changes {
    /// What was done, in words.
    pub label: String,
    /// What becomes of each thing that changes, in the order of the edit.
    pub changes: Vec<Change>,
    /// How many of those named already were like that.
    pub unchanged: usize,
    /// How many of those named the edit is not for.
    pub skipped: usize,
    /// How many framings are left out: they come for another size than that at which their source is stored.
    pub left_out: usize,
    /// The framings that go along with it.
    pub followed: Vec<Followed>,
    /// How many of the changes go along with it, of framings and views: they stand last.
    pub along: usize,
}

impl Changes {
    /// Which conversions they touch.
    pub(super) fn touched(&self) -> impl Fn(Pair) -> bool {
        let (mut sources, mut frames, mut pairs) = (HashSet::new(), HashSet::new(), HashSet::new());
        let mut all = false;
        for change in &self.changes {
            match change {
                Change::Settings(_) => all = true,
                Change::Source(id, _) => drop(sources.insert(*id)),
                Change::Frame(id, _) => drop(frames.insert(*id)),
                Change::Choice(pair, _) => drop(pairs.insert(*pair)),
                Change::NewSource(_) | Change::NewFrame(_) | Change::NewChoice(..) => {}
            }
        }
        move |pair| all || sources.contains(&pair.source) || frames.contains(&pair.frame) || pairs.contains(&pair)
    }

    /// How many of the things that the edit names change; what goes along with them does not count.
    pub fn named(&self) -> usize {
        self.changes.len() - self.along
    }
}

/// What one thing becomes.
#[derive(Clone, Debug, PartialEq)]
pub enum Change {
    /// The project itself.
    Settings(ProjectSettings),
    /// A source; none when it goes.
    Source(SourceId, Option<Box<Footage>>),
    /// A frame; none when it goes.
    Frame(FrameId, Option<Box<Deliverable>>),
    /// What a conversion adds; nothing lets it follow.
    Choice(Pair, Box<Choice>),
    /// A source that comes.
    NewSource(Box<Footage>),
    /// A frame that comes.
    NewFrame(Box<Deliverable>),
    /// What a conversion adds of which the source or the frame comes with it.
    NewChoice(Party<SourceId>, Party<FrameId>, Box<Choice>),
}

/// A source or a frame of a conversion.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Party<Id> {
    /// One that is there.
    There(Id),
    /// One that comes: which of the new ones, from 0.
    Coming(usize),
}

impl<Id: Copy> Party<Id> {
    /// Which it is, when these are the new ones.
    pub fn among(self, new: &[Id]) -> Option<Id> {
        match self {
            Self::There(id) => Some(id),
            Self::Coming(place) => new.get(place).copied(),
        }
    }
}

/// Why an edit cannot be carried out. Nothing of it is.
#[derive(Clone, Debug, PartialEq)]
pub enum EditError {
    /// There is no such source.
    NoSource(SourceId),
    /// There is no such frame.
    NoFrame(FrameId),
    /// There would be more of something than a project holds.
    Full {
        /// Of what.
        what: &'static str,
        /// The most of it.
        most: usize,
    },
    /// A thing would not be sound.
    Refused {
        /// Its place among those that the edit names or adds.
        place: usize,
        /// What it is called.
        name: String,
        /// Why not.
        why: Error,
    },
}

impl EditError {
    pub(super) fn refused(place: usize, name: &str, why: Error) -> Self {
        Self::Refused { place, name: name.to_owned(), why }
    }
}

impl fmt::Display for EditError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::NoSource(id) => write!(f, "source {id} does not exist"),
            Self::NoFrame(id) => write!(f, "frame {id} does not exist"),
            Self::Full { what, most } => {
                write!(f, "a project has at most {most} {what}; make another project for the rest")
            }
            Self::Refused { name, why, .. } => write!(f, "{name}: must be {why}"),
        }
    }
}

impl std::error::Error for EditError {}
