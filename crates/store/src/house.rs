//! What the house keeps: a project of its own, with a history like any other.

use std::collections::BTreeMap;

use diesel::sqlite::SqliteConnection;
use ratiomet_core::project::{
    ActivePictureId, House, HouseChange, HouseChanges, HouseEdit, HouseFrameId, NotKept, ProfileId, StepId,
};
use ratiomet_wire::kept::Kind;

use crate::commit::{self, Write};
use crate::error::{Answer, StoreError};
use crate::head::{self, Head};
use crate::rows::{self, HOUSE, RecordRow};
use crate::set_aside::SetAside;
use crate::store::Store;

/// What the house keeps, read at one moment.
#[derive(Clone, Debug)]
pub struct HouseContents {
    /// What it keeps.
    pub house: House,
    /// Where its history stands.
    pub head: Head,
    /// What of it cannot be read.
    pub set_aside: Vec<SetAside>,
    frames: BTreeMap<HouseFrameId, RecordRow>,
    pictures: BTreeMap<ActivePictureId, RecordRow>,
    profiles: BTreeMap<ProfileId, RecordRow>,
}

/// A thing of the house.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum HouseSubject {
    /// A frame.
    Frame(HouseFrameId),
    /// An active picture.
    Picture(ActivePictureId),
    /// A typing profile.
    Profile(ProfileId),
}

/// The version that somebody saw last of a thing of the house.
#[derive(Clone, Copy, Debug)]
pub struct HouseExpected {
    /// Of what.
    pub subject: HouseSubject,
    /// Which.
    pub version: i32,
}

/// What an edit of the house has done.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct HouseOutcome {
    /// The step in its history; none when nothing changed.
    pub step: Option<StepId>,
    /// The numbers of the things that it wrote, in order.
    pub written: Vec<i32>,
    /// How many were there already.
    pub known: usize,
}

impl HouseContents {
    fn load(connection: &mut SqliteConnection) -> Answer<Self> {
        let mut contents = Self {
            house: House::default(),
            head: head::head(connection, HOUSE, None)?,
            set_aside: Vec::new(),
            frames: BTreeMap::new(),
            pictures: BTreeMap::new(),
            profiles: BTreeMap::new(),
        };
        for row in rows::records_of(connection, HOUSE)? {
            match Kind::of(&row.kind) {
                Some(Kind::HouseFrame) => {
                    if let Some(value) = row.value(&mut contents.set_aside) {
                        let id = HouseFrameId::new(row.id);
                        contents.frames.insert(id, row.row());
                        contents.house.put_frame(id, Some(value));
                    }
                }
                Some(Kind::ActivePicture) => {
                    if let Some(value) = row.value(&mut contents.set_aside) {
                        let id = ActivePictureId::new(row.id);
                        contents.pictures.insert(id, row.row());
                        contents.house.put_picture(id, Some(value));
                    }
                }
                Some(Kind::TypingProfile) => {
                    if let Some(value) = row.value(&mut contents.set_aside) {
                        let id = ProfileId::new(row.id);
                        contents.profiles.insert(id, row.row());
                        contents.house.put_profile(id, Some(value));
                    }
                }
                _ if row.is_there() => {
                    row.set_aside("the house keeps nothing of this kind".to_owned(), &mut contents.set_aside);
                }
                _ => {}
            }
        }
        Ok(contents)
    }

    /// The version of something; none when it is not there.
    pub fn version(&self, subject: HouseSubject) -> Option<i32> {
        match subject {
            HouseSubject::Frame(id) => self.frames.get(&id).map(|row| row.version),
            HouseSubject::Picture(id) => self.pictures.get(&id).map(|row| row.version),
            HouseSubject::Profile(id) => self.profiles.get(&id).map(|row| row.version),
        }
    }

    fn write(&self, change: &HouseChange) -> Write {
        match change {
            HouseChange::NewFrame(frame) => Write::new(&**frame),
            HouseChange::NewPicture(picture) => Write::new(&**picture),
            // OK because the changes are those of what was loaded with these rows.
            HouseChange::Frame(id, frame) => Write::to(&self.frames[id], frame.as_deref()),
            HouseChange::Picture(id, picture) => Write::to(&self.pictures[id], picture.as_deref()),
            HouseChange::NewProfile(profile) => Write::new(&**profile),
            HouseChange::Profile(id, profile) => Write::to(&self.profiles[id], profile.as_deref()),
        }
    }
}

/// Why a thing of the house is not there.
fn missing(connection: &mut SqliteConnection, subject: HouseSubject) -> Answer<StoreError> {
    match subject {
        HouseSubject::Frame(id) => rows::missing(connection, HOUSE, Kind::HouseFrame, HouseFrameId::NOUN, id.number()),
        HouseSubject::Picture(id) => {
            rows::missing(connection, HOUSE, Kind::ActivePicture, ActivePictureId::NOUN, id.number())
        }
        HouseSubject::Profile(id) => {
            rows::missing(connection, HOUSE, Kind::TypingProfile, ProfileId::NOUN, id.number())
        }
    }
}

impl Store {
    /// What the house keeps, read at one moment.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn house(&self) -> Answer<HouseContents> {
        self.read(|connection, _| HouseContents::load(connection))
    }

    /// Why a thing of the house is not there.
    pub fn missing_in_house(&self, subject: HouseSubject) -> StoreError {
        self.read(|connection, _| missing(connection, subject)).unwrap_or_else(|error| error)
    }

    /// Carries out an edit of the house as one step.
    ///
    /// # Errors
    /// When what it names is unknown or deleted, or has another version than was expected.
    pub fn edit_house(&self, edit: &HouseEdit, expected: Option<HouseExpected>) -> Answer<HouseOutcome> {
        self.write(|connection, _| {
            let made = self.made();
            let contents = HouseContents::load(connection)?;
            if let Some(HouseExpected { subject, version }) = expected {
                match contents.version(subject) {
                    Some(current) if current == version => {}
                    Some(current) => return Err(StoreError::Stale { current }),
                    None => return Err(missing(connection, subject)?),
                }
            }
            let HouseChanges { label, changes, known } = match contents.house.apply(edit) {
                Ok(changes) => changes,
                Err(NotKept::Frame(id)) => return Err(missing(connection, HouseSubject::Frame(id))?),
                Err(NotKept::Picture(id)) => return Err(missing(connection, HouseSubject::Picture(id))?),
                Err(NotKept::Profile(id)) => return Err(missing(connection, HouseSubject::Profile(id))?),
            };
            if changes.is_empty() {
                return Ok(HouseOutcome { known, ..HouseOutcome::default() });
            }
            let writes = changes.iter().map(|change| contents.write(change)).collect();
            let (step, rows) = commit::step(connection, HOUSE, &label, writes, &made)?;
            Ok(HouseOutcome { step: Some(step), written: rows.into_iter().map(|row| row.id).collect(), known })
        })
    }
}
