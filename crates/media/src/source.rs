//! [`ByteSource`]: bytes of a file, all of them or some.

use std::fs::{File, OpenOptions};
use std::io;
use std::os::unix::fs::{FileExt, OpenOptionsExt};
use std::path::Path;

/// Bytes of a file.
pub trait ByteSource {
    /// How long the file is.
    fn length(&self) -> u64;

    /// Fills the buffer from a position on; the caller keeps within the length.
    ///
    /// # Errors
    /// When the bytes cannot be read; with [`Absent`] inside when they are not at hand.
    fn fill(&self, at: u64, buffer: &mut [u8]) -> io::Result<()>;
}

/// Bytes that are not at hand.
#[derive(Debug)]
pub struct Absent;

impl std::fmt::Display for Absent {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str("these bytes are not at hand")
    }
}

impl std::error::Error for Absent {}

impl ByteSource for [u8] {
    fn length(&self) -> u64 {
        self.len() as u64
    }

    fn fill(&self, at: u64, buffer: &mut [u8]) -> io::Result<()> {
        let start = usize::try_from(at).map_err(io::Error::other)?;
        let part = start.checked_add(buffer.len()).and_then(|end| self.get(start..end));
        buffer.copy_from_slice(part.ok_or(io::ErrorKind::UnexpectedEof)?);
        Ok(())
    }
}

impl<T: ByteSource + ?Sized> ByteSource for &T {
    fn length(&self) -> u64 {
        (**self).length()
    }

    fn fill(&self, at: u64, buffer: &mut [u8]) -> io::Result<()> {
        (**self).fill(at, buffer)
    }
}

/// An open file, and how long it was when it was opened.
#[derive(Debug)]
pub struct Whole {
    file: File,
    length: u64,
}

/// The flag of opening that never waits for what is no plain file, such as a pipe that nobody writes to.
pub const NOT_WAITING: i32 = libc::O_NONBLOCK;

impl Whole {
    /// The bytes of a file. What is no plain file is refused without waiting for it.
    ///
    /// # Errors
    /// When it cannot be opened, and as [`Whole::new`].
    pub fn open(path: &Path) -> io::Result<Self> {
        Self::new(OpenOptions::new().read(true).custom_flags(NOT_WAITING).open(path)?)
    }

    /// The bytes of an open file.
    ///
    /// # Errors
    /// When its length cannot be told, and for what is no plain file.
    pub fn new(file: File) -> io::Result<Self> {
        let about = file.metadata()?;
        if !about.is_file() {
            return Err(io::Error::other("this is not a plain file"));
        }
        Ok(Self { length: about.len(), file })
    }
}

impl ByteSource for Whole {
    fn length(&self) -> u64 {
        self.length
    }

    fn fill(&self, at: u64, buffer: &mut [u8]) -> io::Result<()> {
        self.file.read_exact_at(buffer, at)
    }
}

/// Slices of a file of which the rest is somewhere else.
#[derive(Debug)]
pub struct Slices {
    length: u64,
    parts: Vec<(u64, Vec<u8>)>,
}

impl Slices {
    /// Slices, each with the position of its first byte, of a file of some length. Where they overlap the first counts.
    pub fn new(length: u64, mut parts: Vec<(u64, Vec<u8>)>) -> Self {
        parts.sort_by_key(|(start, _)| *start);
        let mut end = 0;
        for (start, bytes) in &mut parts {
            let known = usize::try_from(end - end.min(*start)).map_or(bytes.len(), |known| known.min(bytes.len()));
            bytes.drain(..known);
            *start += known as u64;
            end = end.max(start.saturating_add(bytes.len() as u64));
        }
        parts.retain(|(_, bytes)| !bytes.is_empty());
        Self { length, parts }
    }

    /// What is at hand from a position on.
    fn from(&self, at: u64) -> Option<&[u8]> {
        let after = self.parts.partition_point(|(start, _)| *start <= at);
        let (start, bytes) = self.parts[..after].last()?;
        bytes.get(usize::try_from(at - start).ok()?..).filter(|from| !from.is_empty())
    }
}

impl ByteSource for Slices {
    fn length(&self) -> u64 {
        self.length
    }

    fn fill(&self, at: u64, buffer: &mut [u8]) -> io::Result<()> {
        let (mut at, mut rest) = (at, buffer);
        while !rest.is_empty() {
            let from = self.from(at).ok_or_else(|| io::Error::other(Absent))?;
            let count = from.len().min(rest.len());
            let (now, later) = rest.split_at_mut(count);
            now.copy_from_slice(&from[..count]);
            (at, rest) = (at + count as u64, later);
        }
        Ok(())
    }
}
