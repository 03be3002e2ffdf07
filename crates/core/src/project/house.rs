//! [`House`]: what is kept by name across projects.

use std::collections::BTreeMap;

use crate::active_picture::ActivePicture;
use crate::project::{ActivePictureId, Deliverable, FramePatch, HouseFrameId, Name};
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

/// What is kept by name across projects.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct House {
    frames: BTreeMap<HouseFrameId, HouseFrame>,
    pictures: BTreeMap<ActivePictureId, HouseActivePicture>,
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
    /// What another house keeps. What is here already is left as it is; another thing of the same name comes
    /// in beside it under a name with "(imported)".
    Import(Vec<HouseFrame>, Vec<HouseActivePicture>),
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
                    Some(picture) => one(picture_words(before, picture), HouseChange::Picture(*id, after.clone())),
                    None => one(format!("Delete {}", before.name.as_str()), HouseChange::Picture(*id, None)),
                }
            }
            HouseEdit::Import(frames, pictures) => Ok(self.imported(frames, pictures)),
        }
    }

    fn imported(&self, frames: &[HouseFrame], pictures: &[HouseActivePicture]) -> HouseChanges {
        let mut out = HouseChanges::default();
        // What is here, and what has come in before it from the same file.
        let mut own: Vec<HouseFrame> = self.frames.values().cloned().collect();
        for frame in frames {
            let renamed = HouseFrame {
                frame: Deliverable { name: beside(&frame.frame.name), ..frame.frame.clone() },
                ..frame.clone()
            };
            let taken = |own: &HouseFrame| own.group == frame.group && own.frame.name == frame.frame.name;
            if own.contains(frame) || (own.iter().any(taken) && own.contains(&renamed)) {
                out.known += 1;
                continue;
            }
            let frame = if own.iter().any(taken) { renamed } else { frame.clone() };
            out.changes.push(HouseChange::NewFrame(Box::new(frame.clone())));
            own.push(frame);
        }
        let mut own: Vec<HouseActivePicture> = self.pictures.values().cloned().collect();
        for picture in pictures {
            let renamed = HouseActivePicture { name: beside(&picture.name), ..picture.clone() };
            let taken = |own: &HouseActivePicture| own.name == picture.name;
            if own.contains(picture) || (own.iter().any(taken) && own.contains(&renamed)) {
                out.known += 1;
                continue;
            }
            let picture = if own.iter().any(taken) { renamed } else { picture.clone() };
            out.changes.push(HouseChange::NewPicture(Box::new(picture.clone())));
            own.push(picture);
        }
        out.label = format!("Import {} from a file", out.changes.len());
        out
    }
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

fn picture_words(before: &HouseActivePicture, after: &HouseActivePicture) -> String {
    if before.name == after.name {
        format!("Change {}", after.name.as_str())
    } else {
        format!("Name {} {}", before.name.as_str(), after.name.as_str())
    }
}
