//! Elements of EBML (RFC 8794), taken apart and put together so that what does not change keeps its bytes.

use super::{TagError, refused};

/// An empty stretch.
pub(super) const VOID: u32 = 0xEC;
/// A sum over what follows it in what holds it.
pub(super) const CRC: u32 = 0xBF;

/// The head of an element: what it is, how long its content is (none when that is not said), and how many bytes its number
/// and its length take.
pub(super) struct Head {
    pub id: u32,
    pub size: Option<u64>,
    pub of_id: usize,
    pub of_size: usize,
}

impl Head {
    pub fn read(bytes: &[u8]) -> Option<Self> {
        let of_id = bytes.first()?.leading_zeros() as usize + 1;
        let id = bytes.get(..of_id).filter(|_| of_id <= 4)?.iter().fold(0, |id, byte| id << 8 | u32::from(*byte));
        let rest = &bytes[of_id..];
        let of_size = rest.first()?.leading_zeros() as usize + 1;
        let size =
            rest.get(..of_size).filter(|_| of_size <= 8)?.iter().fold(0, |size, byte| size << 8 | u64::from(*byte));
        let most = longest(of_size) + 1;
        let size = size & most;
        Some(Self { id, size: (size != most).then_some(size), of_id, of_size })
    }

    pub const fn length(&self) -> usize {
        self.of_id + self.of_size
    }
}

/// The longest content whose length goes into so many bytes; all bits set mean that it is not known.
pub(super) const fn longest(of_size: usize) -> u64 {
    (1 << (7 * of_size)) - 2
}

/// The head of an element whose length takes at least so many bytes.
pub(super) fn head(id: u32, size: u64, least: usize) -> Result<Vec<u8>, TagError> {
    let of_size = (least.max(1)..=8)
        .find(|width| size <= longest(*width))
        .ok_or_else(|| refused("an element of the file would be too long"))?;
    let id: Vec<u8> = id.to_be_bytes().into_iter().skip_while(|byte| *byte == 0).collect();
    let size = (size | 1 << (7 * of_size)).to_be_bytes();
    Ok([&id[..], &size[8 - of_size..]].concat())
}

pub(super) fn element(id: u32, content: &[u8], least: usize) -> Result<Vec<u8>, TagError> {
    Ok([&head(id, content.len() as u64, least)?[..], content].concat())
}

/// A number in at least so many bytes.
pub(super) fn number(id: u32, value: u64, least: usize, of_size: usize) -> Result<Vec<u8>, TagError> {
    let bytes = value.to_be_bytes();
    let needed = 8 - bytes.iter().take_while(|byte| **byte == 0).count();
    element(id, &bytes[8 - needed.max(least)..], of_size)
}

pub(super) fn value(bytes: &[u8]) -> Result<u64, TagError> {
    if bytes.len() > 8 {
        return Err(damaged());
    }
    Ok(bytes.iter().fold(0, |value, byte| value << 8 | u64::from(*byte)))
}

/// An empty stretch of so many bytes in all, two at least, which keeps of what was in it as much as there is room.
pub(super) fn void(length: usize, kept: &[u8], least: usize) -> Result<Vec<u8>, TagError> {
    let of_size = (least.max(1)..=8)
        .chain(1..least)
        .find(|of_size| length > *of_size && (length - 1 - of_size) as u64 <= longest(*of_size))
        .ok_or_else(|| refused("the empty stretches of the file do not add up"))?;
    let mut content = kept.to_vec();
    content.resize(length - 1 - of_size, 0);
    element(VOID, &content, of_size)
}

/// An element in memory: its head, its content, and both together.
pub(super) struct Element<'a> {
    pub head: Head,
    pub content: &'a [u8],
    pub whole: &'a [u8],
}

pub(super) fn damaged() -> TagError {
    refused("the file is damaged: an element is longer than what holds it")
}

pub(super) fn elements(mut bytes: &[u8]) -> Result<Vec<Element<'_>>, TagError> {
    let mut all = Vec::new();
    while !bytes.is_empty() {
        let head = Head::read(bytes).ok_or_else(damaged)?;
        let size = usize::try_from(head.size.ok_or_else(damaged)?).map_err(|_| damaged())?;
        let end = head.length().checked_add(size).filter(|end| *end <= bytes.len()).ok_or_else(damaged)?;
        all.push(Element { content: &bytes[head.length()..end], whole: &bytes[..end], head });
        bytes = &bytes[end..];
    }
    Ok(all)
}

/// The content of an element out of what is in it now. A sum at its beginning is counted anew.
pub(super) fn joined(parts: &[Vec<u8>]) -> Vec<u8> {
    let mut all = parts.concat();
    // A sum is little endian, over all that follows it (RFC 8794, 11.3.1).
    if let Some(Head { id: CRC, size: Some(4), of_id, of_size }) = Head::read(&all) {
        let at = of_id + of_size;
        let sum = crc32fast::hash(&all[at + 4..]).to_le_bytes();
        all[at..at + 4].copy_from_slice(&sum);
    }
    all
}

/// An element with another in place of each of its children.
pub(super) fn rewritten(
    found: &Element<'_>,
    child: impl FnMut(&Element<'_>) -> Result<Vec<u8>, TagError>,
) -> Result<Vec<u8>, TagError> {
    let parts: Vec<_> = elements(found.content)?.iter().map(child).collect::<Result<_, _>>()?;
    element(found.head.id, &joined(&parts), found.head.of_size)
}
