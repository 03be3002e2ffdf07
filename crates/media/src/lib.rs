//! What the headers of a file say of its picture: stored size, pixel shape, turn, rate, scan, range,
//! projection, and where each of them stands.
//!
//! Only headers are read, through [`ByteSource`], so that a file of any length, or a few slices of it,
//! will do. Nothing is decoded and nothing is trusted: lengths are checked before memory is taken, a
//! reading ends after [`view::BUDGET`] bytes, and a file that makes no sense is [`Failure::Unreadable`].
//!
//! Start at [`read`].

pub mod exr_head;
pub mod sequence;
pub mod source;
pub mod tag;

mod avi;
mod coded;
mod ffprobe;
mod isobmff;
mod matroska;
mod mediainfo;
mod mxf;
mod program;
mod reading;
mod riff;
mod sphere_xml;
mod stills;
mod transport;
mod view;
mod y4m;

pub use reading::{Reading, Said, Sphere, Stereo};
pub use source::{ByteSource, Slices};
pub use view::BUDGET;

use view::{Stop, View};

/// Why there is no reading.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Failure {
    /// A part of the file that is not at hand: its first byte and its length.
    Needs(u64, u64),
    /// What is wrong, as a sentence.
    Unreadable(String),
}

/// Reads what the headers of a file say. The format is told by the file's first bytes, not by its name.
///
/// # Errors
/// [`Failure::Needs`] where the source has only slices and another one is wanted;
/// [`Failure::Unreadable`] for a format that is not known, a file without a picture, and one that is
/// cut short or damaged.
///
/// ```
/// use ratiomet_media::{Failure, read};
/// let file = b"YUV4MPEG2 W720 H576 F25:1 It A12:11 C420\nFRAME\n";
/// let reading = read(&file[..]).unwrap();
/// assert_eq!(reading.raster.unwrap().value, (720, 576));
/// assert_eq!(reading.pixel_aspect.unwrap().value, (12, 11));
/// assert!(matches!(read(&b"plain words"[..]), Err(Failure::Unreadable(_))));
/// ```
pub fn read(source: &(impl ByteSource + ?Sized)) -> Result<Reading, Failure> {
    let view = View::new(&source);
    match by_first_bytes(&view) {
        Ok(reading) => reading.sound(),
        Err(Stop::Needs(at, length)) => Err(Failure::Needs(at, length)),
        Err(Stop::Broken(why)) => Err(Failure::Unreadable(why)),
    }
}

fn by_first_bytes(view: &View<'_>) -> Result<Reading, Stop> {
    if view.length() == 0 {
        return Err(Stop::broken("the file is empty"));
    }
    let head = view.up_to(0, transport::HEAD)?;
    let first = head.iter().find(|byte| !byte.is_ascii_whitespace());
    let at = |offset: usize, magic: &[u8]| head.get(offset..).is_some_and(|rest| rest.starts_with(magic));
    if let Some(format) = isobmff::heif::format(&head) {
        return isobmff::heif::read(view, format);
    }
    match () {
        () if at(4, b"ftyp")
            || at(4, b"moov")
            || at(4, b"wide")
            || at(4, b"mdat")
            || at(4, b"free")
            || at(4, b"skip") =>
        {
            isobmff::read(view)
        }
        () if at(0, &[0x1A, 0x45, 0xDF, 0xA3]) => matroska::read(view),
        () if at(0, b"YUV4MPEG2 ") => y4m::read(view),
        () if at(0, b"\x89PNG\r\n\x1a\n") => stills::png::read(view),
        () if at(0, &[0xFF, 0xD8, 0xFF]) => stills::jpeg::read(view),
        () if at(0, b"II*\0") || at(0, b"MM\0*") || at(0, b"II+\0") || at(0, b"MM\0+") => stills::tiff::read(view),
        () if at(0, &[0x76, 0x2F, 0x31, 0x01]) => stills::exr::read(view),
        () if at(0, b"SDPX") || at(0, b"XPDS") => stills::dpx::read(view),
        () if stills::webp::begins(&head) => stills::webp::read(view),
        () if avi::begins(&head) => avi::read(view),
        () if at(0, &coded::DV_HEAD) => avi::bare_dv(view),
        () if program::begins(&head) => program::read(view),
        () if matches!(first, Some(b'{' | b'[')) => ffprobe::read(view),
        () if first == Some(&b'<') || at(0, b"\xEF\xBB\xBF<") => mediainfo::of_xml(view),
        () if mxf::begins(view)? => mxf::read(view),
        () if transport::begins(&head) => transport::read(view),
        () => match program::bare(view)? {
            Some(reading) => Ok(reading),
            None => {
                Err(Stop::broken("this format is not read; movies, stills and reports of ffprobe or MediaInfo are"))
            }
        },
    }
}
