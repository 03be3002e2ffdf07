//! [`House`]: what is kept by name across projects.

use std::collections::BTreeMap;

use crate::active_picture::ActivePicture;
use crate::project::{ActivePictureId, Deliverable, FramePatch, HouseFrameId, Name, ProfileId};
use crate::typing::TypingProfile;
use crate::words::sentence;

/// A frame that the house delivers again and again.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HouseFrame {
    /// The heading under which it is listed.
    pub group: Name,
    /// The frame, under its own name.
    pub frame: Deliverable,
}

/// An active picture under a name: the border of a recorder, the guide of a camera.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HouseActivePicture {
    /// What it is called.
    pub name: Name,
    /// The rule.
    pub picture: ActivePicture,
}

/// A typing profile under a name: what the program of somebody asks for.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HouseProfile {
    /// What it is called.
    pub name: Name,
    /// The answers.
    pub profile: TypingProfile,
}

/// What is kept by name across projects.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct House {
    frames: BTreeMap<HouseFrameId, HouseFrame>,
    pictures: BTreeMap<ActivePictureId, HouseActivePicture>,
    profiles: BTreeMap<ProfileId, HouseProfile>,
}

/// A change of the house.
#[derive(Clone, Debug)]
pub enum HouseEdit {
    /// A frame that comes.
    AddFrame(Box<HouseFrame>),
    /// Another value for a frame; none takes it out.
    SetFrame(HouseFrameId, Option<Box<HouseFrame>>),
    /// An active picture that comes.
    AddPicture(Box<HouseActivePicture>),
    /// Another value for an active picture; none takes it out.
    SetPicture(ActivePictureId, Option<Box<HouseActivePicture>>),
    /// A typing profile that comes.
    AddProfile(Box<HouseProfile>),
    /// Another value for a typing profile; none takes it out.
    SetProfile(ProfileId, Option<Box<HouseProfile>>),
    /// What another house keeps. What is here already is left as it is; another thing of the same name comes
    /// in beside it under a name with "(imported)".
    Import(Vec<HouseFrame>, Vec<HouseActivePicture>, Vec<HouseProfile>),
}

/// What one thing of the house becomes.
#[derive(Clone, Debug, PartialEq)]
pub enum HouseChange {
    /// A frame that comes.
    NewFrame(Box<HouseFrame>),
    /// A frame; none when it goes.
    Frame(HouseFrameId, Option<Box<HouseFrame>>),
    /// An active picture that comes.
    NewPicture(Box<HouseActivePicture>),
    /// An active picture; none when it goes.
    Picture(ActivePictureId, Option<Box<HouseActivePicture>>),
    /// A typing profile that comes.
    NewProfile(Box<HouseProfile>),
    /// A typing profile; none when it goes.
    Profile(ProfileId, Option<Box<HouseProfile>>),
}

/// What an edit makes of the house.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct HouseChanges {
    /// What was done, in words.
    pub label: String,
    /// What becomes of each thing that changes.
    pub changes: Vec<HouseChange>,
    /// How many were there already.
    pub known: usize,
}

/// There is no such thing in the house.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NotKept {
    /// No frame of this number.
    Frame(HouseFrameId),
    /// No active picture of this number.
    Picture(ActivePictureId),
    /// No typing profile of this number.
    Profile(ProfileId),
}

impl House {
    /// Its frames, in the order of entry.
    pub fn frames(&self) -> impl Iterator<Item = (HouseFrameId, &HouseFrame)> {
        self.frames.iter().map(|(id, frame)| (*id, frame))
    }

    /// Its active pictures, in the order of entry.
    pub fn pictures(&self) -> impl Iterator<Item = (ActivePictureId, &HouseActivePicture)> {
        self.pictures.iter().map(|(id, picture)| (*id, picture))
    }

    /// Its typing profiles, in the order of entry.
    pub fn profiles(&self) -> impl Iterator<Item = (ProfileId, &HouseProfile)> {
        self.profiles.iter().map(|(id, profile)| (*id, profile))
    }

    /// Puts a typing profile in its place, or takes it out.
    pub fn put_profile(&mut self, id: ProfileId, profile: Option<HouseProfile>) {
        match profile {
            Some(profile) => drop(self.profiles.insert(id, profile)),
            None => drop(self.profiles.remove(&id)),
        }
    }

    /// Puts a frame in its place, or takes it out.
    pub fn put_frame(&mut self, id: HouseFrameId, frame: Option<HouseFrame>) {
        match frame {
            Some(frame) => drop(self.frames.insert(id, frame)),
            None => drop(self.frames.remove(&id)),
        }
    }

    /// Puts an active picture in its place, or takes it out.
    pub fn put_picture(&mut self, id: ActivePictureId, picture: Option<HouseActivePicture>) {
        match picture {
            Some(picture) => drop(self.pictures.insert(id, picture)),
            None => drop(self.pictures.remove(&id)),
        }
    }

    /// What an edit makes of the house. Nothing is changed yet.
    ///
    /// # Errors
    /// When it names what is not there.
    pub fn apply(&self, edit: &HouseEdit) -> Result<HouseChanges, NotKept> {
        let one = |label: String, change| Ok(HouseChanges { label, changes: vec![change], known: 0 });
        match edit {
            HouseEdit::AddFrame(frame) => {
                one(format!("Add {}", frame.frame.name.as_str()), HouseChange::NewFrame(frame.clone()))
            }
            HouseEdit::AddPicture(picture) => {
                one(format!("Add {}", picture.name.as_str()), HouseChange::NewPicture(picture.clone()))
            }
            HouseEdit::SetFrame(id, after) => {
                let before = self.frames.get(id).ok_or(NotKept::Frame(*id))?;
                match after {
                    Some(after) if **after == *before => Ok(HouseChanges { known: 1, ..HouseChanges::default() }),
                    Some(frame) => one(frame_words(before, frame), HouseChange::Frame(*id, after.clone())),
                    None => one(format!("Delete {}", before.frame.name.as_str()), HouseChange::Frame(*id, None)),
                }
            }
            HouseEdit::SetPicture(id, after) => {
                let before = self.pictures.get(id).ok_or(NotKept::Picture(*id))?;
                match after {
                    Some(after) if **after == *before => Ok(HouseChanges { known: 1, ..HouseChanges::default() }),
                    Some(picture) => {
                        one(named_words(&before.name, &picture.name), HouseChange::Picture(*id, after.clone()))
                    }
                    None => one(format!("Delete {}", before.name.as_str()), HouseChange::Picture(*id, None)),
                }
            }
            HouseEdit::AddProfile(profile) => {
                one(format!("Add {}", profile.name.as_str()), HouseChange::NewProfile(profile.clone()))
            }
            HouseEdit::SetProfile(id, after) => {
                let before = self.profiles.get(id).ok_or(NotKept::Profile(*id))?;
                match after {
                    Some(after) if **after == *before => Ok(HouseChanges { known: 1, ..HouseChanges::default() }),
                    Some(profile) => {
                        one(named_words(&before.name, &profile.name), HouseChange::Profile(*id, after.clone()))
                    }
                    None => one(format!("Delete {}", before.name.as_str()), HouseChange::Profile(*id, None)),
                }
            }
            HouseEdit::Import(frames, pictures, profiles) => Ok(self.imported(frames, pictures, profiles)),
        }
    }

    fn imported(
        &self,
        frames: &[HouseFrame],
        pictures: &[HouseActivePicture],
        profiles: &[HouseProfile],
    ) -> HouseChanges {
        let mut out = HouseChanges::default();
        let (frames, known_frames) = new_among(
            self.frames.values(),
            frames,
            |own, new| own.group == new.group && own.frame.name == new.frame.name,
            |frame| HouseFrame {
                frame: Deliverable { name: beside(&frame.frame.name), ..frame.frame.clone() },
                ..frame.clone()
            },
        );
        let (pictures, known_pictures) = new_among(
            self.pictures.values(),
            pictures,
            |own, new| own.name == new.name,
            |picture| HouseActivePicture { name: beside(&picture.name), ..picture.clone() },
        );
        let (profiles, known_profiles) = new_among(
            self.profiles.values(),
            profiles,
            |own, new| own.name == new.name,
            |profile| HouseProfile { name: beside(&profile.name), ..profile.clone() },
        );
        out.known = known_frames + known_pictures + known_profiles;
        out.changes.extend(frames.into_iter().map(|frame| HouseChange::NewFrame(Box::new(frame))));
        out.changes.extend(pictures.into_iter().map(|picture| HouseChange::NewPicture(Box::new(picture))));
        out.changes.extend(profiles.into_iter().map(|profile| HouseChange::NewProfile(Box::new(profile))));
        out.label = format!("Import {} from a file", out.changes.len());
        out
    }
}

/// What of some things is new beside those that are here, and how many are known. A thing whose name is taken by
/// another comes in under a name of its own.
fn new_among<'a, T: Clone + PartialEq + 'a>(
    here: impl Iterator<Item = &'a T>,
    things: &[T],
    same_name: impl Fn(&T, &T) -> bool,
    renamed: impl Fn(&T) -> T,
) -> (Vec<T>, usize) {
    // What is here, and what has come in before it from the same file.
    let mut own: Vec<T> = here.cloned().collect();
    let mut new = Vec::new();
    let mut known = 0;
    for thing in things {
        let taken = own.iter().any(|own| same_name(own, thing));
        let beside = renamed(thing);
        if own.contains(thing) || (taken && own.contains(&beside)) {
            known += 1;
            continue;
        }
        let thing = if taken { beside } else { thing.clone() };
        new.push(thing.clone());
        own.push(thing);
    }
    (new, known)
}

/// The name of a thing beside another one of its name; as it is where it is too long for the addition.
fn beside(name: &Name) -> Name {
    Name::new(&format!("{} (imported)", name.as_str())).unwrap_or_else(|| name.clone())
}

fn frame_words(before: &HouseFrame, after: &HouseFrame) -> String {
    if before.group == after.group {
        let words = FramePatch::between(&before.frame, &after.frame).words();
        format!("{} on {}", sentence(&words), before.frame.name.as_str())
    } else {
        format!("{} under {}", after.frame.name.as_str(), after.group.as_str())
    }
}

fn named_words(before: &Name, after: &Name) -> String {
    if before == after {
        format!("Change {}", after.as_str())
    } else {
        format!("Name {} {}", before.as_str(), after.as_str())
    }
}
