//! [`View`]: a source, read within a budget, in the words of file formats.

use std::cell::Cell;
use std::io::{self, Read, Seek, SeekFrom};

use crate::source::{Absent, ByteSource};

/// The most bytes that one reading takes from a file.
pub const BUDGET: u64 = 16 << 20;

/// Why reading stops.
#[derive(Debug)]
pub(crate) enum Stop {
    /// Bytes are not at hand.
    Needs(u64, u64),
    /// The file is not as it should be.
    Broken(String),
}

impl Stop {
    pub fn broken(why: impl Into<String>) -> Self {
        Self::Broken(why.into())
    }
}

pub(crate) struct View<'a> {
    source: &'a dyn ByteSource,
    left: Cell<u64>,
    absent: Cell<Option<(u64, u64)>>,
}

impl<'a> View<'a> {
    pub fn new(source: &'a dyn ByteSource) -> Self {
        Self { source, left: Cell::new(BUDGET), absent: Cell::new(None) }
    }

    pub fn length(&self) -> u64 {
        self.source.length()
    }

    /// So many bytes from a position on.
    pub fn bytes(&self, at: u64, length: u64) -> Result<Vec<u8>, Stop> {
        if at.checked_add(length).is_none_or(|end| end > self.length()) {
            return Err(Stop::broken("the file is truncated"));
        }
        let left = self.left.get().checked_sub(length);
        self.left.set(left.ok_or_else(|| Stop::broken("the headers of this file are not plausible"))?);
        let mut bytes = vec![0; usize::try_from(length).expect("a length within the budget fits in memory")];
        self.source.fill(at, &mut bytes).map_err(|error| {
            if error.get_ref().is_some_and(|inner| inner.is::<Absent>()) {
                self.absent.set(Some((at, length)));
                Stop::Needs(at, length)
            } else {
                Stop::broken(format!("the file cannot be read: {error}"))
            }
        })?;
        Ok(bytes)
    }

    /// So many bytes, or as many as there are.
    pub fn up_to(&self, at: u64, length: u64) -> Result<Vec<u8>, Stop> {
        self.bytes(at, length.min(self.length().saturating_sub(at)))
    }

    /// A position, for parsers that read on by themselves.
    pub fn cursor(&self, at: u64) -> Cursor<'_> {
        Cursor { view: self, at, kept: Vec::new(), from: 0 }
    }

    /// What a parser's failure means: bytes that were not at hand, or a damaged file.
    pub fn failed(&self, what: &str, why: impl std::fmt::Display) -> Stop {
        match self.absent.take() {
            Some((at, length)) => Stop::Needs(at, length),
            None => Stop::broken(format!("{what} cannot be read: {why}")),
        }
    }
}

/// A position in a view. It takes a little more than it is asked for, so that reading byte by byte is
/// no burden.
pub(crate) struct Cursor<'a> {
    view: &'a View<'a>,
    at: u64,
    kept: Vec<u8>,
    from: u64,
}

const AHEAD: u64 = 4096;

impl Read for Cursor<'_> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let inside = self.at.checked_sub(self.from).and_then(|offset| usize::try_from(offset).ok());
        let mut part = inside.and_then(|offset| self.kept.get(offset..)).unwrap_or_default();
        if part.is_empty() {
            let left = self.view.length().saturating_sub(self.at);
            let length = left.min(AHEAD.max(buffer.len() as u64));
            if length == 0 {
                return Ok(0);
            }
            self.kept = self.view.bytes(self.at, length).map_err(|stop| match stop {
                Stop::Needs(..) => io::Error::other(Absent),
                Stop::Broken(why) => io::Error::other(why),
            })?;
            self.from = self.at;
            part = &self.kept;
        }
        let count = part.len().min(buffer.len());
        buffer[..count].copy_from_slice(&part[..count]);
        self.at += count as u64;
        Ok(count)
    }
}

impl Seek for Cursor<'_> {
    fn seek(&mut self, to: SeekFrom) -> io::Result<u64> {
        let from = |base: u64, by: i64| base.checked_add_signed(by);
        let at = match to {
            SeekFrom::Start(at) => Some(at),
            SeekFrom::Current(by) => from(self.at, by),
            SeekFrom::End(by) => from(self.view.length(), by),
        };
        self.at = at.ok_or(io::ErrorKind::InvalidInput)?;
        Ok(self.at)
    }
}

/// Numbers out of bytes that are long enough; 0 beyond their end, which callers rule out.
pub(crate) trait Words {
    fn be16(&self, at: usize) -> u16;
    fn be32(&self, at: usize) -> u32;
    fn be64(&self, at: usize) -> u64;
}

impl Words for [u8] {
    fn be16(&self, at: usize) -> u16 {
        self.get(at..at + 2).map_or(0, |two| u16::from_be_bytes([two[0], two[1]]))
    }

    fn be32(&self, at: usize) -> u32 {
        self.get(at..at + 4).map_or(0, |four| u32::from_be_bytes([four[0], four[1], four[2], four[3]]))
    }

    fn be64(&self, at: usize) -> u64 {
        u64::from(self.be32(at)) << 32 | u64::from(self.be32(at + 4))
    }
}
