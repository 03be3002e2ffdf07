//! The file of what a house keeps across projects: frames, active pictures and typing profiles.

use ratiomet_core::project::{House, HouseActivePicture, HouseFrame, HouseProfile};
use ratiomet_wire::Whole;
use ratiomet_wire::describe::{As, List, Values, record, words};
use ratiomet_wire::kept::{self, Kind};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::read::Reader;
use serde_json::Value;

use crate::file_head::{NEWEST, newest};

/// The most things of a sort in one file.
const MOST: usize = 100_000;

/// What such a file says it is.
pub const FORMAT: &str = "ratiomet library";

#[derive(Clone, Copy, Debug)]
struct Format;

words!(
    /// What the file is.
    "LibraryFormat" for Format, [Format], |_| FORMAT
);

/// What a house keeps.
#[derive(Clone, Debug, PartialEq)]
pub struct LibraryFile {
    /// Its frames, in order.
    pub frames: Vec<HouseFrame>,
    /// Its active pictures, in order.
    pub pictures: Vec<HouseActivePicture>,
    /// Its typing profiles, in order.
    pub profiles: Vec<HouseProfile>,
}

record!(
    /// The file of a library.
    "LibraryDocument", "library files" for LibraryFile {
        /// What the file is.
        format: Format = Required, |_| Format;
        /// The version of the format; a program refuses a newer one than it knows, and reads every older one.
        format_version: Whole<1, NEWEST> = Required, |_| Whole::new(NEWEST);
        /// The frames of the house, in order.
        frames: List<HouseFrame, 0, MOST> = Default("[]"), |file| List(file.frames.clone());
        /// Its active pictures, in order.
        active_pictures: List<HouseActivePicture, 0, MOST> = Default("[]"), |file| List(file.pictures.clone());
        /// Its typing profiles, in order.
        profiles: List<HouseProfile, 0, MOST> = Default("[]"), |file| List(file.profiles.clone());
    }
    |_, _, frames, pictures, profiles| {
        Ok(LibraryFile { frames: frames.0, pictures: pictures.0, profiles: profiles.0 })
    }
);

/// The file of a library in the description of the API.
pub type LibraryDocument = Values<LibraryFile>;

impl From<&House> for LibraryFile {
    fn from(house: &House) -> Self {
        Self {
            frames: house.frames().map(|(_, frame)| frame.clone()).collect(),
            pictures: house.pictures().map(|(_, picture)| picture.clone()).collect(),
            profiles: house.profiles().map(|(_, profile)| profile.clone()).collect(),
        }
    }
}

/// The file. The same contents give the same text.
///
/// # Panics
/// Never: files are plain data with text keys.
pub fn write(library: &LibraryFile) -> String {
    let text = serde_json::to_string_pretty(&As(library)).expect("plain data with text keys");
    format!("{text}\n")
}

/// Reads such a file, of any version that ever was.
///
/// # Errors
/// A problem with everything that is not sound.
pub fn read(text: &[u8]) -> Result<LibraryFile, Box<Problem>> {
    let text = newest(text, FORMAT, |version, file| {
        let lists =
            [("frames", Kind::HouseFrame), ("active_pictures", Kind::ActivePicture), ("profiles", Kind::TypingProfile)];
        for (list, kind) in lists {
            for each in file.get_mut(list).and_then(Value::as_array_mut).into_iter().flatten() {
                *each = kept::upgrade(kind, version, each.take())?;
            }
        }
        Ok(())
    })?;
    Reader::request(&text)
}
