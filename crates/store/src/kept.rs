//! [`Kept`]: what can be kept as a record, in the JSON of the API, and how its changes are worded.

use ratiomet_core::project::{
    Choice, Deliverable, Footage, FramePatch, HouseActivePicture, HouseFrame, ProjectSettings, SourcePatch,
};
use ratiomet_wire::project::{
    ActivePictureValues, ChoiceValues, FrameValues, HouseFrameValues, ProjectValues, SourceValues, read_active_picture,
    read_choice, read_frame_values, read_house_frame, read_project_values, read_source_values,
};
use ratiomet_wire::read::{Field, Reader};
use serde::Serialize;

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
}

/// The value of a body.
pub(crate) fn from_body<T: Kept>(body: &str) -> Result<T, String> {
    Reader::read(body.as_bytes(), T::read).map_err(|problem| problem.detail)
}

fn json(values: &impl Serialize) -> String {
    // OK because the values are plain data with text keys.
    serde_json::to_string(values).unwrap_or_default()
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
        match self {
            Self::Follows => "follow".to_owned(),
            Self::Own(framing) => {
                let moved = [&framing.shift_x, &framing.shift_y].iter().any(|shift| !shift.value().value().is_zero());
                let zoomed = *framing.zoom.value().value() != ratiomet_core::Exact::ONE;
                let mut words = framing.method.word().to_owned();
                if zoomed {
                    words = format!("{words}, zoom {}", framing.zoom.text());
                }
                if moved {
                    words = format!("{words}, shift {} {}", framing.shift_x.text(), framing.shift_y.text());
                }
                words
            }
        }
    }

    fn change(&self, _: &Self) -> String {
        sentence(&self.title())
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
