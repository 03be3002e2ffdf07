//! [`OneByOne`]: the long part of a file, made while it is written, so that all of it is never in memory at once.

use std::io::{self, Write};

use serde::{Serialize, Serializer};
use serde_json::Value;

/// Parts that are made by their place, in their order, as long as somebody wants to go on.
pub(crate) struct OneByOne<'a> {
    count: usize,
    make: &'a dyn Fn(usize) -> Value,
    go_on: &'a dyn Fn() -> bool,
}

impl<'a> OneByOne<'a> {
    pub fn new(count: usize, make: &'a dyn Fn(usize) -> Value, go_on: &'a dyn Fn() -> bool) -> Self {
        Self { count, make, go_on }
    }
}

impl Serialize for OneByOne<'_> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_seq((0..self.count).take_while(|_| (self.go_on)()).map(self.make))
    }
}

/// JSON as people read it.
pub(crate) fn write_pretty(file: &impl Serialize, out: &mut dyn Write) -> io::Result<()> {
    let mut out = io::BufWriter::with_capacity(1 << 16, out);
    serde_json::to_writer_pretty(&mut out, file)?;
    out.flush()
}
