//! [`Kept`]: what can be kept as a record, in the JSON of the API, and how its changes are worded.

use std::collections::HashMap;

use diesel::sqlite::SqliteConnection;
use ratiomet_core::project::{
    Choice, Deliverable, Footage, FramePatch, FramingSpec, HouseActivePicture, HouseFrame, Placing, ProjectSettings,
    SourcePatch,
};
use ratiomet_core::project::{LONGEST_WAY, way};
use ratiomet_wire::project::{
    ActivePictureValues, ChoiceValues, FrameValues, HouseFrameValues, ProjectValues, SourceValues, read_active_picture,
    read_choice, read_frame_values, read_house_frame, read_project_values, read_source_values,
};
use ratiomet_wire::read::{Field, Reader};
use serde::Serialize;

use crate::error::StoreError;
use crate::store::list;

/// Something that is kept as a record.
pub trait Kept: Sized + Clone + PartialEq {
    /// The word in the table.
    #[doc(hidden)]
    const KIND: &'static str;
    /// What one is called in a sentence.
    #[doc(hidden)]
    const NOUN: &'static str;

    /// Reads what was kept, through the same door as anybody's request.
    #[doc(hidden)]
    fn read(field: &Field<'_>) -> Option<Self>;
    /// What is kept.
    #[doc(hidden)]
    fn body(&self) -> String;
    /// Its name.
    #[doc(hidden)]
    fn title(&self) -> String;
    /// What a change is called in the history.
    #[doc(hidden)]
    fn change(&self, before: &Self) -> String;
    /// Whether it goes with the other records of its project; `own` is its number, if it has one.
    #[doc(hidden)]
    fn check(&self, _: &mut SqliteConnection, _project: i32, _own: Option<i32>) -> Result<(), StoreError> {
        Ok(())
    }
}

/// The value of a body.
pub(crate) fn from_body<T: Kept>(body: &str) -> Result<T, String> {
    Reader::read(body.as_bytes(), T::read).map_err(|problem| problem.detail)
}

fn json(values: &impl Serialize) -> String {
    // OK because the values are plain data with text keys.
    serde_json::to_string(values).unwrap_or_default()
}

/// A framing in words.
pub(crate) fn framing_words(framing: &FramingSpec) -> String {
    let moved = [&framing.shift_x, &framing.shift_y].iter().any(|shift| !shift.value().value().is_zero());
    let mut words = match framing.method {
        Placing::AroundSubject => "around subject".to_owned(),
        Placing::By(method) => method.word().to_owned(),
    };
    if *framing.zoom.value().value() != ratiomet_core::Exact::ONE {
        words = format!("{words}, zoom {}", framing.zoom.text());
    }
    if moved {
        words = format!("{words}, shift {} {}", framing.shift_x.text(), framing.shift_y.text());
    }
    words
}

/// The first letter made a capital.
pub(crate) fn sentence(words: &str) -> String {
    let mut letters = words.chars();
    letters.next().map(|first| first.to_uppercase().chain(letters).collect()).unwrap_or_default()
}

impl Kept for Footage {
    const KIND: &'static str = "source";
    const NOUN: &'static str = "source";

    fn read(field: &Field<'_>) -> Option<Self> {
        read_source_values(field)
    }

    fn body(&self) -> String {
        json(&SourceValues::from(self))
    }

    fn title(&self) -> String {
        self.name.as_str().to_owned()
    }

    fn change(&self, before: &Self) -> String {
        format!("{} on {}", sentence(&SourcePatch::between(before, self).words()), before.title())
    }
}

impl Kept for Deliverable {
    const KIND: &'static str = "frame";
    const NOUN: &'static str = "frame";

    fn read(field: &Field<'_>) -> Option<Self> {
        read_frame_values(field)
    }

    fn body(&self) -> String {
        json(&FrameValues::from(self))
    }

    fn title(&self) -> String {
        self.name.as_str().to_owned()
    }

    fn change(&self, before: &Self) -> String {
        format!("{} on {}", sentence(&FramePatch::between(before, self).words()), before.title())
    }

    fn check(&self, connection: &mut SqliteConnection, project: i32, own: Option<i32>) -> Result<(), StoreError> {
        let Some(through) = self.through else { return Ok(()) };
        let refuse = |why| Err(StoreError::NoWay { name: self.title(), through, why });
        let frames: HashMap<i32, Option<i32>> = list::<Self>(connection, project)?
            .into_iter()
            .map(|frame| (frame.id, if Some(frame.id) == own { Some(through) } else { frame.value.through }))
            .collect();
        if !frames.contains_key(&through) {
            return refuse("there is no such frame");
        }
        let onward = way(through, |id| frames.get(&id).copied().flatten());
        match own {
            Some(own) if through == own => refuse("it is the frame itself"),
            Some(own) if onward.contains(&own) => refuse("that frame goes through this one"),
            _ if onward.len() >= LONGEST_WAY => refuse("the way would be too long"),
            _ => Ok(()),
        }
    }
}

impl Kept for Choice {
    const KIND: &'static str = "conversion";
    const NOUN: &'static str = "conversion";

    fn read(field: &Field<'_>) -> Option<Self> {
        read_choice(field)
    }

    fn body(&self) -> String {
        json(&ChoiceValues::from(self))
    }

    fn title(&self) -> String {
        self.own.as_ref().map_or_else(|| "follow".to_owned(), framing_words)
    }

    fn change(&self, before: &Self) -> String {
        if self.own != before.own {
            return sentence(&self.title());
        }
        let new = self.accepted.iter().find(|acceptance| !before.accepted.contains(acceptance));
        match new {
            Some(new) => format!("Accept {} ({})", new.code.replace('_', " "), new.reason.as_str()),
            None if self.accepted.len() < before.accepted.len() => "No longer accept a finding".to_owned(),
            None if self.pins.len() < before.pins.len() => "Take off a pin".to_owned(),
            None => "Pin a framing".to_owned(),
        }
    }
}

impl Kept for ProjectSettings {
    const KIND: &'static str = "project";
    const NOUN: &'static str = "project";

    fn read(field: &Field<'_>) -> Option<Self> {
        read_project_values(field)
    }

    fn body(&self) -> String {
        json(&ProjectValues::from(self))
    }

    fn title(&self) -> String {
        self.name.as_str().to_owned()
    }

    fn change(&self, before: &Self) -> String {
        sentence(&self.words_since(before))
    }
}

impl Kept for HouseFrame {
    const KIND: &'static str = "house_frame";
    const NOUN: &'static str = "house frame";

    fn read(field: &Field<'_>) -> Option<Self> {
        read_house_frame(field)
    }

    fn body(&self) -> String {
        json(&HouseFrameValues::from(self))
    }

    fn title(&self) -> String {
        self.frame.title()
    }

    fn change(&self, before: &Self) -> String {
        if self.group == before.group {
            self.frame.change(&before.frame)
        } else {
            format!("{} under {}", self.title(), self.group.as_str())
        }
    }
}

impl Kept for HouseActivePicture {
    const KIND: &'static str = "active_picture";
    const NOUN: &'static str = "active picture";

    fn read(field: &Field<'_>) -> Option<Self> {
        read_active_picture(field)
    }

    fn body(&self) -> String {
        json(&ActivePictureValues::from(self))
    }

    fn title(&self) -> String {
        self.name.as_str().to_owned()
    }

    fn change(&self, before: &Self) -> String {
        if self.name == before.name {
            format!("Change {}", self.title())
        } else {
            format!("Name {} {}", before.title(), self.title())
        }
    }
}
