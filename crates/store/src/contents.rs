//! [`Contents`]: a project as it is loaded, with the numbers under which its parts are kept.

use std::collections::BTreeMap;

use diesel::sqlite::SqliteConnection;
use ratiomet_core::project::{Choice, FrameId, Name, Pair, Project, ProjectId, ProjectSettings, SourceId, StepId};
use ratiomet_wire::kept::Kind;

use crate::error::{Answer, StoreError};
use crate::rows::{self, RecordRow};
use crate::set_aside::SetAside;

/// A project without its contents.
#[derive(Clone, Debug, PartialEq)]
pub struct ProjectInfo {
    /// Its number.
    pub id: ProjectId,
    /// Grows by 1 with every change of its own values.
    pub version: i32,
    /// Its own values.
    pub settings: ProjectSettings,
    /// When it or anything in it was last changed, in milliseconds since 1970, UTC.
    pub changed_at: i64,
    /// How many sources it has.
    pub sources: usize,
    /// How many frames it has.
    pub frames: usize,
}

impl ProjectInfo {
    /// Reads a project's own values, and counts what it holds; things that cannot be read are among them.
    pub(crate) fn load(connection: &mut SqliteConnection, id: ProjectId) -> Answer<Self> {
        let changed_at = rows::project_row(connection, id)?.changed_at;
        let own = rows::records_of_kind(connection, id, Kind::Project)?.pop();
        let own = own.ok_or(StoreError::Unknown { what: ProjectId::NOUN, id: id.number() })?;
        let count = |kind, connection: &mut SqliteConnection| rows::count(connection, id, kind);
        Ok(Self {
            id,
            version: own.row().version,
            settings: own.value(&mut Vec::new()).unwrap_or_else(|| nameless(id)),
            changed_at,
            sources: count(Kind::Source, connection)?,
            frames: count(Kind::Frame, connection)?,
        })
    }
}

/// A thing of a project that has a version.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Subject {
    /// The project itself.
    Settings,
    /// A source.
    Source(SourceId),
    /// A frame.
    Frame(FrameId),
    /// What a conversion adds.
    Choice(Pair),
}

/// The version that somebody saw last of what a change is of.
#[derive(Clone, Copy, Debug)]
pub struct Expected {
    /// Of what.
    pub subject: Subject,
    /// Which.
    pub version: i32,
}

/// All that a project holds, read at one moment.
#[derive(Clone, Debug)]
pub struct Contents {
    /// The project's number.
    pub id: ProjectId,
    /// What it holds.
    pub project: Project,
    /// The step after which it is as it is now.
    pub at: StepId,
    /// When it or anything in it was last changed, in milliseconds since 1970, UTC.
    pub changed_at: i64,
    /// What of it cannot be read.
    pub set_aside: Vec<SetAside>,
    pub(crate) settings: RecordRow,
    pub(crate) sources: BTreeMap<SourceId, RecordRow>,
    pub(crate) frames: BTreeMap<FrameId, RecordRow>,
    pub(crate) choices: BTreeMap<Pair, RecordRow>,
}

impl Contents {
    /// Loads a project.
    pub(crate) fn load(connection: &mut SqliteConnection, id: ProjectId) -> Answer<Self> {
        let rows::ProjectRow { changed_at, at } = rows::project_row(connection, id)?;
        let at = StepId::new(at);
        let mut set_aside = Vec::new();
        let (mut settings, mut own) = (None, None);
        let (mut sources, mut frames, mut choices) = (BTreeMap::new(), BTreeMap::new(), BTreeMap::new());
        let mut footage = Vec::new();
        let mut deliverables = Vec::new();
        let mut added = Vec::new();
        for row in rows::records_of(connection, id)? {
            match Kind::of(&row.kind) {
                Some(Kind::Project) => {
                    settings = Some(row.row());
                    own = row.value::<ProjectSettings>(&mut set_aside);
                }
                Some(Kind::Source) => {
                    if let Some(value) = row.value(&mut set_aside) {
                        let id = SourceId::new(row.id);
                        sources.insert(id, row.row());
                        footage.push((id, value));
                    }
                }
                Some(Kind::Frame) => {
                    if let Some(value) = row.value(&mut set_aside) {
                        let id = FrameId::new(row.id);
                        frames.insert(id, row.row());
                        deliverables.push((id, value));
                    }
                }
                Some(Kind::Conversion) => {
                    let Some((source, frame)) = row.source.zip(row.frame) else { continue };
                    let pair = Pair::new(SourceId::new(source), FrameId::new(frame));
                    choices.insert(pair, row.row());
                    added.push((pair, row.value::<Choice>(&mut set_aside).unwrap_or_default()));
                }
                Some(Kind::HouseFrame | Kind::ActivePicture | Kind::TypingProfile) => {}
                None if row.is_there() => {
                    row.set_aside("this version of Ratiomet knows nothing of this kind".to_owned(), &mut set_aside);
                }
                None => {}
            }
        }
        let settings = settings.ok_or(StoreError::Unknown { what: ProjectId::NOUN, id: id.number() })?;
        let mut project = Project::new(own.unwrap_or_else(|| nameless(id)));
        for (id, value) in footage {
            project.put_source(id, Some(value));
        }
        for (id, value) in deliverables {
            project.put_frame(id, Some(value));
        }
        for (pair, choice) in added {
            project.put_choice(pair, choice);
        }
        Ok(Self { id, project, at, changed_at, set_aside, settings, sources, frames, choices })
    }

    /// The version of something; none when it is not there. What nobody has touched of a conversion has 0.
    pub fn version(&self, subject: Subject) -> Option<i32> {
        match subject {
            Subject::Settings => Some(self.settings.version),
            Subject::Source(id) => self.sources.get(&id).map(|row| row.version),
            Subject::Frame(id) => self.frames.get(&id).map(|row| row.version),
            Subject::Choice(pair) => {
                self.project.holds(pair).then(|| self.choices.get(&pair).map_or(0, |row| row.version))
            }
        }
    }

    /// The project without its contents.
    pub fn info(&self) -> ProjectInfo {
        ProjectInfo {
            id: self.id,
            version: self.settings.version,
            settings: self.project.settings().clone(),
            changed_at: self.changed_at,
            sources: self.project.sources().len(),
            frames: self.project.frames().len(),
        }
    }
}

/// The settings of a project of which they cannot be read.
fn nameless(id: ProjectId) -> ProjectSettings {
    let name = Name::new(&format!("Project {id}, whose name cannot be read")).expect("a short name on one line");
    ProjectSettings::named(name)
}
