//! Says of a file that it shows a sphere, or that it does not, in a copy of it: of movies (MP4, MOV) by both generations of
//! the published boxes, of stills (JPEG, PNG) by panorama metadata in XMP. Nothing else of the file changes.

mod movie;
mod still;

use std::io::{self, Read, Seek, SeekFrom, Write};

use crate::reading::Stereo;

/// What is said of a sphere that is unrolled as an equirectangular frame.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Tag {
    /// How the eyes share the frame.
    pub stereo: Stereo,
    /// Where a player looks first: yaw to the right, pitch up, roll with the clock, in degrees.
    pub initial_view: [f64; 3],
}

/// Why there is no copy.
#[derive(Debug, thiserror::Error)]
pub enum TagError {
    /// The file is not one that can be tagged, as a sentence.
    #[error("{0}")]
    Refused(String),
    /// It was stopped.
    #[error("it was stopped")]
    Stopped,
    /// It cannot be read or written.
    #[error(transparent)]
    Io(#[from] io::Error),
}

fn refused(why: impl Into<String>) -> TagError {
    TagError::Refused(why.into())
}

/// Writes a copy of a file that says what it shows: a sphere, or nothing of spheres. Progress is told in bytes of the copy
/// and of the file, and ends the work by `false`.
///
/// # Errors
/// A sentence for a file that cannot be tagged; and what reading and writing say.
pub fn copy(
    file: &mut (impl Read + Seek),
    tag: Option<Tag>,
    out: &mut impl Write,
    mut progress: impl FnMut(u64, u64) -> bool,
) -> Result<(), TagError> {
    let mut head = Vec::new();
    file.seek(SeekFrom::Start(0))?;
    file.by_ref().take(8).read_to_end(&mut head)?;
    file.seek(SeekFrom::Start(0))?;
    if !still::is_one(&head) {
        return movie::copy(file, tag, out, progress);
    }
    let mut bytes = Vec::new();
    file.take(still::MOST + 1).read_to_end(&mut bytes)?;
    let tagged = still::tagged(&bytes, tag)?;
    let all = tagged.len() as u64;
    if !progress(0, all) {
        return Err(TagError::Stopped);
    }
    out.write_all(&tagged)?;
    progress(all, all);
    Ok(())
}
