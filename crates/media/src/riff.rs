//! RIFF, the chunks of AVI and WebP (from memory).

use crate::view::{Stop, View};

/// The most chunks that are looked at between two positions.
const MOST_CHUNKS: usize = 2048;

/// A part of a file, or a list of parts.
pub(crate) struct Chunk {
    pub kind: [u8; 4],
    /// Of a list, what it is of.
    pub of: [u8; 4],
    pub start: u64,
    pub end: u64,
}

/// The parts between two positions.
pub(crate) fn chunks(view: &View<'_>, from: u64, end: u64) -> Result<Vec<Chunk>, Stop> {
    let (mut found, mut at) = (Vec::new(), from);
    while at + 8 <= end && found.len() < MOST_CHUNKS {
        let head = view.up_to(at, 12)?;
        if head.len() < 8 {
            break;
        }
        let four = |at: usize| [head[at], head[at + 1], head[at + 2], head[at + 3]];
        let length = u64::from(u32::from_le_bytes(four(4)));
        let list = head.len() == 12 && matches!(&four(0), b"LIST" | b"RIFF");
        let start = at + if list { 12 } else { 8 };
        let next = at + 8 + length + length % 2;
        found.push(Chunk {
            kind: four(0),
            of: if list { four(8) } else { [0; 4] },
            start,
            end: (at + 8 + length).min(end).max(start),
        });
        // Written live, or cut short: what it holds goes on to the end.
        if length == 0 && list {
            break;
        }
        at = next;
    }
    Ok(found)
}
