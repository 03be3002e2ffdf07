//! Says of a file that it shows a sphere, or that it does not, in a copy of it: of movies (MP4, MOV) by both generations of
//! the published boxes, of Matroska and WebM by their own elements, of stills (JPEG, PNG) by panorama metadata in XMP.
//! Nothing else of the file changes.

mod ebml;
mod matroska;
mod movie;
mod still;

use std::io::{self, Read, Seek, SeekFrom, Write};

use crate::reading::Stereo;

/// What is said of a sphere that is unrolled as an equirectangular frame.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Tag {
    /// How the eyes share the frame.
    pub stereo: Stereo,
    /// Whether the right eye comes first of two.
    pub right_first: bool,
    /// How much of the sphere each eye's picture holds, around its middle: degrees across, up to 360, and up, up to 180.
    pub span: [f64; 2],
    /// Where a player looks first: yaw to the right, pitch up, roll with the clock, in degrees.
    pub initial_view: [f64; 3],
}

impl Tag {
    /// All of the sphere.
    pub const WHOLE: [f64; 2] = [360.0, 180.0];

    /// What lies outside the pictures at top, bottom, left and right, as shares of 2^32 of the sphere: the bounds in the
    /// published box, which Matroska holds as they are.
    fn bounds(self) -> [u8; 16] {
        let outside = |held: f64, all: f64| {
            #[expect(
                clippy::cast_possible_truncation,
                clippy::cast_sign_loss,
                reason = "less than half of 2^32, at least 0"
            )]
            let share = ((1.0 - held / all) / 2.0 * 4_294_967_296.0).round() as u32;
            share.to_be_bytes()
        };
        let [across, up] = [outside(self.span[0], Self::WHOLE[0]), outside(self.span[1], Self::WHOLE[1])];
        let mut bounds = [0; 16];
        for (place, share) in bounds.chunks_exact_mut(4).zip([up, up, across, across]) {
            place.copy_from_slice(&share);
        }
        bounds
    }
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

/// How much of a file is copied at once.
const PIECE: u64 = 1 << 20;

/// Carries a file over into its copy, and tells how far it is.
struct Carrier<'a, O, P> {
    out: &'a mut O,
    /// Is told the bytes of the file that are done, and all of them; ends the work by `false`.
    progress: P,
    done: u64,
    all: u64,
}

impl<O: Write, P: FnMut(u64, u64) -> bool> Carrier<'_, O, P> {
    /// Writes these bytes in place of so many of the file.
    fn write(&mut self, bytes: &[u8], of_file: u64) -> Result<(), TagError> {
        self.out.write_all(bytes)?;
        self.told(of_file)
    }

    /// A stretch of the file as it is.
    fn carry(&mut self, file: &mut (impl Read + Seek), from: u64, length: u64) -> Result<(), TagError> {
        file.seek(SeekFrom::Start(from))?;
        let mut left = length;
        while left > 0 {
            let now = left.min(PIECE);
            if io::copy(&mut file.take(now), self.out)? < now {
                return Err(refused("the file has become shorter meanwhile"));
            }
            left -= now;
            self.told(now)?;
        }
        Ok(())
    }

    fn told(&mut self, by: u64) -> Result<(), TagError> {
        self.done += by;
        if (self.progress)(self.done, self.all) { Ok(()) } else { Err(TagError::Stopped) }
    }
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
    progress: impl FnMut(u64, u64) -> bool,
) -> Result<(), TagError> {
    let all = file.seek(SeekFrom::End(0))?;
    let mut out = Carrier { out, progress, done: 0, all };
    let mut head = Vec::new();
    file.seek(SeekFrom::Start(0))?;
    file.by_ref().take(8).read_to_end(&mut head)?;
    file.seek(SeekFrom::Start(0))?;
    if matroska::is_one(&head) {
        return matroska::copy(file, tag, &mut out);
    }
    if tag.is_some_and(|tag| tag.right_first && tag.stereo != Stereo::Mono) {
        return Err(refused(
            "only Matroska and WebM can say that the right eye comes first: put the left one first, or make such a file",
        ));
    }
    if !still::is_one(&head) {
        return movie::copy(file, tag, &mut out);
    }
    let mut bytes = Vec::new();
    file.take(still::MOST + 1).read_to_end(&mut bytes)?;
    out.told(0)?;
    out.write(&still::tagged(&bytes, tag)?, all)
}
