//! The folder of footage that a server was started with: looked into, and never out of.
//!
//! Every path is opened relative to the folder through [`cap_std`], which follows neither `..` nor
//! links that lead outside.

use std::io;
use std::path::{Component, Path};

use cap_std::ambient_authority;
use cap_std::fs::{Dir, OpenOptions, OpenOptionsExt};
use ratiomet_media::source::{NOT_WAITING, Whole};
use ratiomet_media::{Failure, Reading};

/// A folder of footage.
#[derive(Debug)]
pub struct MediaFolder {
    root: Dir,
}

/// What is in a folder.
#[derive(Debug, Default)]
pub struct Listing {
    /// The folders in it, by name.
    pub folders: Vec<String>,
    /// The files in it, by name.
    pub files: Vec<String>,
    /// How many more there are than are listed.
    pub left_out: usize,
}

/// The most entries of one folder that are listed.
const MOST_ENTRIES: usize = 20_000;

impl MediaFolder {
    /// Opens a folder. The error is a sentence.
    pub fn open(path: &Path) -> Result<Self, String> {
        match Dir::open_ambient_dir(path, ambient_authority()) {
            Ok(root) => Ok(Self { root }),
            Err(error) => Err(format!("the folder {} cannot be opened: {error}", path.display())),
        }
    }

    /// What is in a folder below; the empty path is the folder itself.
    pub fn list(&self, below: &str) -> io::Result<Listing> {
        let path = inside(below)?;
        let entries = if below.is_empty() { self.root.entries()? } else { self.root.open_dir(path)?.entries()? };
        let mut listing = Listing::default();
        for entry in entries {
            let entry = entry?;
            // A name that is no text cannot travel as JSON; hidden files are nobody's footage.
            let Ok(name) = entry.file_name().into_string() else { continue };
            if name.starts_with('.') {
                continue;
            }
            if listing.folders.len() + listing.files.len() >= MOST_ENTRIES {
                listing.left_out += 1;
                continue;
            }
            let kind = entry.file_type()?;
            let folder = kind.is_dir() || (kind.is_symlink() && self.is_folder(below, &name));
            if folder { listing.folders.push(name) } else { listing.files.push(name) }
        }
        listing.folders.sort_unstable();
        listing.files.sort_unstable();
        Ok(listing)
    }

    fn is_folder(&self, below: &str, name: &str) -> bool {
        self.root.metadata(Path::new(below).join(name)).is_ok_and(|about| about.is_dir())
    }

    /// Opens a file below for reading. What is no plain file, such as a pipe, is never waited for.
    pub fn file(&self, file: &str) -> io::Result<std::fs::File> {
        let mut reading = OpenOptions::new();
        reading.read(true).custom_flags(NOT_WAITING);
        inside(file).and_then(|path| self.root.open_with(path, &reading)).map(cap_std::fs::File::into_std)
    }

    /// What the header of a file below says.
    pub fn read(&self, file: &str) -> Result<Reading, Failure> {
        match self.file(file).and_then(Whole::new) {
            Ok(whole) => ratiomet_media::read(&whole),
            Err(error) => Err(Failure::Unreadable(format!("the file cannot be opened: {error}"))),
        }
    }
}

/// A path that stays below; others are refused before anything is opened.
fn inside(path: &str) -> io::Result<&Path> {
    let path = Path::new(path);
    if path.components().all(|part| matches!(part, Component::Normal(_))) {
        Ok(path)
    } else {
        Err(io::Error::new(io::ErrorKind::PermissionDenied, "this path leads out of the media folder"))
    }
}
