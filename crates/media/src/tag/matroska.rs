//! Matroska and WebM (RFC 9559): the projection and the order of the eyes are written into the tracks of pictures, and taken
//! out again. An empty stretch behind the tracks gives the room where there is one; else what lies behind them moves, and
//! what points to it (seek heads, cues, positions of clusters) follows.

use std::collections::BTreeMap;
use std::io::{Read, Seek, SeekFrom, Write};

use super::ebml::{CRC, Element, Head, VOID, damaged, element, elements, head, joined, number, rewritten, value, void};
use super::{Carrier, Tag, TagError, refused};
use crate::matroska::stereo_of;
use crate::reading::Stereo;

const EBML: u32 = 0x1A45_DFA3;
const SEGMENT: u32 = 0x1853_8067;
const SEEK_HEAD: u32 = 0x114D_9B74;
const SEEK: u32 = 0x4DBB;
const SEEK_POSITION: u32 = 0x53AC;
const CLUSTER: u32 = 0x1F43_B675;
const POSITION: u32 = 0xA7;
const CUES: u32 = 0x1C53_BB6B;
const CUE_POINT: u32 = 0xBB;
const CUE_TRACK_POSITIONS: u32 = 0xB7;
const CUE_CLUSTER_POSITION: u32 = 0xF1;
const CUE_CODEC_STATE: u32 = 0xEA;
const CUE_REFERENCE: u32 = 0xDB;
const CUE_REF_CLUSTER: u32 = 0x97;
const TRACKS: u32 = 0x1654_AE6B;
const TRACK_ENTRY: u32 = 0xAE;
const VIDEO: u32 = 0xE0;
const STEREO_MODE: u32 = 0x53B8;
const PIXEL_SIZE: [u32; 2] = [0xB0, 0xBA];
/// Left and right, top and bottom.
const PIXEL_CROP: [[u32; 2]; 2] = [[0x54CC, 0x54DD], [0x54BB, 0x54AA]];
const DISPLAY_SIZE: [u32; 2] = [0x54B0, 0x54BA];
const DISPLAY_UNIT: u32 = 0x54B2;
/// The unit of a size that is only a ratio.
const RATIO: u64 = 3;
const PROJECTION: u32 = 0x7670;
const PROJECTION_TYPE: u32 = 0x7671;
const PROJECTION_PRIVATE: u32 = 0x7672;
const PROJECTION_POSE: [u32; 3] = [0x7673, 0x7674, 0x7675];

/// The most bytes of the tracks, and of what points into the file.
const MOST_INDEX: u64 = 256 << 20;
/// The most parts of a segment.
const MOST_PARTS: usize = 4_000_000;
/// Where the position of a cluster stands: among its first elements.
const CLUSTER_HEAD: u64 = 64;
/// How often positions may grow longer and so move again: none is longer than eight bytes.
const MOST_ROUNDS: usize = 64;

/// Whether a file begins as one of these.
pub(super) fn is_one(head: &[u8]) -> bool {
    head.starts_with(&EBML.to_be_bytes())
}

impl Tag {
    /// The order of the eyes, and the projection.
    fn elements(self) -> Result<Vec<Vec<u8>>, TagError> {
        let eyes: Option<u8> = match (self.stereo, self.right_first) {
            (Stereo::Mono, _) => None,
            (Stereo::SideBySide, false) => Some(1),
            (Stereo::SideBySide, true) => Some(11),
            (Stereo::TopBottom, false) => Some(3),
            (Stereo::TopBottom, true) => Some(2),
        };
        // The private data are those of the published box: its version, its flags, and the bounds.
        let private = [&[0; 4][..], &self.bounds()].concat();
        let mut inside = vec![element(PROJECTION_TYPE, &[1], 1)?, element(PROJECTION_PRIVATE, &private, 1)?];
        for (id, degrees) in PROJECTION_POSE.into_iter().zip(self.initial_view) {
            inside.push(element(id, &degrees.to_be_bytes(), 1)?);
        }
        let projection = element(PROJECTION, &inside.concat(), 1)?;
        let eyes = eyes.map(|eyes| element(STEREO_MODE, &[eyes], 1)).transpose()?;
        Ok(eyes.into_iter().chain([projection]).collect())
    }
}

/// Whether a projection is one of a sphere; a flat one may turn the picture.
fn of_sphere(projection: &Element<'_>) -> Result<bool, TagError> {
    let kinds = elements(projection.content)?;
    Ok(kinds.iter().any(|each| each.head.id == PROJECTION_TYPE && each.content.iter().any(|byte| *byte != 0)))
}

/// A description of pictures, saying what is to be said.
fn video(video: &Element<'_>, tag: Option<Tag>) -> Result<Vec<u8>, TagError> {
    let mut inner = elements(video.content)?;
    let mut sphere = false;
    for each in inner.iter().filter(|each| each.head.id == PROJECTION) {
        sphere |= of_sphere(each)?;
    }
    if tag.is_none() && !sphere {
        return Ok(video.whole.to_vec());
    }
    // A size that stands behind the projection was written with it.
    let written = inner.iter().position(|each| each.head.id == PROJECTION).unwrap_or(inner.len());
    let ours = inner[written..].iter().any(|each| DISPLAY_SIZE.contains(&each.head.id));
    if ours {
        let mut at = 0;
        inner.retain(|each| {
            at += 1;
            at <= written || !(DISPLAY_SIZE.contains(&each.head.id) || each.head.id == DISPLAY_UNIT)
        });
    }
    // What is left of the sizes is then of the whole frame.
    let before = if ours { Stereo::Mono } else { stereo_of(said(&inner, STEREO_MODE)?.unwrap_or(0)) };
    let after = tag.map_or(Stereo::Mono, |tag| tag.stereo);
    let display = display(&inner, before.eyes().map(u64::from), after.eyes().map(u64::from))?;
    let mut parts = Vec::new();
    for each in inner.iter().filter(|each| !matches!(each.head.id, STEREO_MODE | PROJECTION)) {
        let size = display.iter().find(|(id, _)| *id == each.head.id);
        parts.push(match size {
            Some((id, size)) => number(*id, *size, each.content.len(), each.head.of_size)?,
            None => each.whole.to_vec(),
        });
    }
    parts.extend(tag.map(Tag::elements).transpose()?.unwrap_or_default());
    for (id, size) in display.iter().filter(|(id, _)| inner.iter().all(|each| each.head.id != *id)) {
        parts.push(number(*id, *size, 1, 1)?);
    }
    element(VIDEO, &joined(&parts), video.head.of_size)
}

fn said(inner: &[Element<'_>], id: u32) -> Result<Option<u64>, TagError> {
    inner.iter().find(|each| each.head.id == id).map(|each| value(each.content)).transpose()
}

/// The size at which it is shown is that of one eye. Where the eyes come to lie otherwise it follows, so that the pixels
/// keep their shape; a size that cannot be divided becomes a ratio.
fn display(inner: &[Element<'_>], before: [u64; 2], after: [u64; 2]) -> Result<Vec<(u32, u64)>, TagError> {
    let unit = said(inner, DISPLAY_UNIT)?.unwrap_or(0);
    if before == after || unit > RATIO {
        return Ok(Vec::new());
    }
    let mut shown = [0; 2];
    for axis in [0, 1] {
        let mut cropped = said(inner, PIXEL_SIZE[axis])?.unwrap_or(0);
        for crop in PIXEL_CROP[axis] {
            cropped = cropped.saturating_sub(said(inner, crop)?.unwrap_or(0));
        }
        // What is not said is the size of the picture.
        let size = said(inner, DISPLAY_SIZE[axis])?.unwrap_or(cropped / before[axis]);
        shown[axis] = size.checked_mul(before[axis]).ok_or_else(damaged)?;
    }
    let whole = (0..2).all(|axis| shown[axis].is_multiple_of(after[axis]));
    let mut display: Vec<_> = (0..2)
        .map(|axis| {
            let size = if whole { shown[axis] / after[axis] } else { shown[axis].saturating_mul(after[1 - axis]) };
            (DISPLAY_SIZE[axis], size)
        })
        .collect();
    if !whole {
        display.push((DISPLAY_UNIT, RATIO));
    }
    Ok(display)
}

/// The tracks, saying what is to be said, and how many of them are of pictures.
fn say(tracks: &Element<'_>, tag: Option<Tag>) -> Result<(Vec<u8>, usize), TagError> {
    let mut pictures = 0;
    let mut entry = |entry: &Element<'_>| {
        rewritten(entry, |each| {
            if each.head.id != VIDEO {
                return Ok(each.whole.to_vec());
            }
            pictures += 1;
            video(each, tag)
        })
    };
    let written = rewritten(tracks, |each| match each.head.id {
        TRACK_ENTRY => entry(each),
        _ => Ok(each.whole.to_vec()),
    })?;
    Ok((written, pictures))
}

/// A part of the segment: where it begins in the file, and its head.
struct Part {
    start: u64,
    head: Head,
    size: u64,
}

impl Part {
    const fn length(&self) -> u64 {
        self.head.length() as u64 + self.size
    }
}

/// Where the parts of the segment begin in the copy, counted like those in the file from where its content begins.
struct Moved {
    from: Vec<u64>,
    to: Vec<u64>,
}

impl Moved {
    fn of(parts: &[Part], begin: u64, replaced: &BTreeMap<usize, Vec<u8>>) -> Self {
        let mut at = 0;
        let to = parts.iter().enumerate().map(|(index, part)| {
            let start = at;
            at += replaced.get(&index).map_or(part.length(), |bytes| bytes.len() as u64);
            start
        });
        Self { to: to.collect(), from: parts.iter().map(|part| part.start - begin).collect() }
    }

    /// Where that lies in the copy.
    fn place(&self, place: u64) -> u64 {
        match self.from.partition_point(|from| *from <= place).checked_sub(1) {
            Some(part) => self.to[part] + (place - self.from[part]),
            None => place,
        }
    }

    /// A place in as many bytes as it had, or more.
    fn number(&self, found: &Element<'_>) -> Result<Vec<u8>, TagError> {
        let before = value(found.content)?;
        // The state of a codec is at no place of its own where it is zero.
        if before == 0 && found.head.id == CUE_CODEC_STATE {
            return Ok(found.whole.to_vec());
        }
        number(found.head.id, self.place(before), found.content.len(), found.head.of_size)
    }

    /// A seek head or cues, pointing to where things are in the copy.
    fn pointing(&self, found: &Element<'_>) -> Result<Vec<u8>, TagError> {
        let child = |each: &Element<'_>| {
            Ok(match each.head.id {
                SEEK | CUE_POINT | CUE_TRACK_POSITIONS | CUE_REFERENCE => self.pointing(each)?,
                SEEK_POSITION | CUE_CLUSTER_POSITION | CUE_CODEC_STATE | CUE_REF_CLUSTER => self.number(each)?,
                _ => each.whole.to_vec(),
            })
        };
        rewritten(found, child)
    }
}

/// The beginning of a cluster that has moved: its position follows in as many bytes, or goes where it needs more. A sum over
/// a cluster that changes goes with it.
fn cluster(beginning: &mut [u8], moved: &Moved) -> Result<(), TagError> {
    let (mut at, mut sum) = (0, None);
    while let Some(head) = beginning.get(at..).and_then(Head::read) {
        let start = at + head.length();
        let Some(content) = head.size.and_then(|size| usize::try_from(size).ok()) else { break };
        let Some(end) = start.checked_add(content).filter(|end| *end <= beginning.len()) else { break };
        if head.id == CRC {
            sum = Some(at);
        }
        if head.id == POSITION {
            let before = value(&beginning[start..end])?;
            let now = moved.place(before);
            if now != before {
                let bytes = now.to_be_bytes();
                if content == 8 || now >> (8 * content) == 0 {
                    beginning[start..end].copy_from_slice(&bytes[8 - content..]);
                } else {
                    beginning[at] = 0xEC;
                }
                if let Some(sum) = sum {
                    beginning[sum] = 0xEC;
                }
            }
            break;
        }
        at = end;
    }
    Ok(())
}

/// Head and bounds of what is at a place of the file.
fn part(file: &mut (impl Read + Seek), start: u64, end: u64) -> Result<Part, TagError> {
    let cut_short = || refused("this Matroska file is damaged or cut short");
    let mut bytes = Vec::new();
    file.seek(SeekFrom::Start(start))?;
    file.by_ref().take(12.min(end - start)).read_to_end(&mut bytes)?;
    let head = Head::read(&bytes).ok_or_else(cut_short)?;
    let left = end.checked_sub(start + head.length() as u64).ok_or_else(cut_short)?;
    let size = match head.size {
        Some(size) if size <= left => size,
        // A segment that does not say how long it is goes to the end of the file.
        None if head.id == SEGMENT => left,
        None => {
            return Err(refused(
                "the file is a live recording that does not say how long its parts are: write it anew first \
                 (ffmpeg -i IN -c copy OUT)",
            ));
        }
        Some(_) => return Err(cut_short()),
    };
    Ok(Part { start, head, size })
}

fn content(file: &mut (impl Read + Seek), part: &Part) -> Result<Vec<u8>, TagError> {
    if part.length() > MOST_INDEX {
        return Err(refused(format!("the tracks or the index of the file have more than {} MB", MOST_INDEX >> 20)));
    }
    let mut bytes = Vec::new();
    file.seek(SeekFrom::Start(part.start))?;
    file.by_ref().take(part.length()).read_to_end(&mut bytes)?;
    Ok(bytes)
}

fn only<'a>(found: &'a [Element<'a>]) -> Result<&'a Element<'a>, TagError> {
    if let [only] = found { Ok(only) } else { Err(damaged()) }
}

/// What is written in place of which parts of the segment, and where everything is then.
fn replaced(
    file: &mut (impl Read + Seek),
    parts: &[Part],
    begin: u64,
    tag: Option<Tag>,
) -> Result<(BTreeMap<usize, Vec<u8>>, Moved), TagError> {
    let mut places = parts.iter().enumerate().filter(|(_, part)| part.head.id == TRACKS);
    let (Some((at, tracks)), None) = (places.next(), places.next()) else {
        return Err(refused("the file describes its tracks not at all, or several times"));
    };
    let before = content(file, tracks)?;
    let (written, pictures) = say(only(&elements(&before)?)?, tag)?;
    if pictures == 0 {
        return Err(refused("the file has no track of pictures"));
    }
    let mut replaced = BTreeMap::new();
    let both = |next: &Part| usize::try_from(tracks.length() + next.length()).ok();
    let empty = parts.get(at + 1).filter(|next| next.head.id == VOID && next.length() <= MOST_INDEX);
    if let Some((next, left)) = empty.and_then(|next| Some((next, both(next)?.checked_sub(written.len())?)))
        && left != 1
    {
        let bytes = content(file, next)?;
        let kept = only(&elements(&bytes)?)?.content.to_vec();
        replaced.insert(at + 1, if left == 0 { Vec::new() } else { void(left, &kept, next.head.of_size)? });
    }
    replaced.insert(at, written);
    let mut pointing = Vec::new();
    for (index, part) in parts.iter().enumerate() {
        match part.head.id {
            SEEK_HEAD | CUES => pointing.push((index, content(file, part)?)),
            // Over the whole segment: it would no longer be true.
            CRC if part.length() >= 2 => {
                let length = usize::try_from(part.length()).map_err(|_| damaged())?;
                replaced.insert(index, void(length, &[], 1)?);
            }
            _ => {}
        }
    }
    // Longer places make longer what holds them, which moves all behind it once more.
    for _ in 0..MOST_ROUNDS {
        let moved = Moved::of(parts, begin, &replaced);
        let mut settled = true;
        for (index, bytes) in &pointing {
            let now = moved.pointing(only(&elements(bytes)?)?)?;
            settled &= replaced.get(index).map_or(bytes.len(), Vec::len) == now.len();
            replaced.insert(*index, now);
        }
        if settled {
            return Ok((replaced, moved));
        }
    }
    Err(refused("the places that the file points to do not settle"))
}

/// Writes a copy that says what it shows: a sphere, or nothing of spheres.
///
/// # Errors
/// A sentence for a file that is damaged, has no pictures, or does not say how long its parts are; and what reading and
/// writing say.
pub(super) fn copy<O: Write, P: FnMut(u64, u64) -> bool>(
    file: &mut (impl Read + Seek),
    tag: Option<Tag>,
    out: &mut Carrier<'_, O, P>,
) -> Result<(), TagError> {
    let end = file.seek(SeekFrom::End(0))?;
    let ebml = part(file, 0, end)?;
    let segment = part(file, ebml.length(), end)?;
    if segment.head.id != SEGMENT {
        return Err(refused("this Matroska file is damaged: no segment follows its head"));
    }
    let begin = segment.start + segment.head.length() as u64;
    let behind = begin + segment.size;
    let mut parts = Vec::new();
    let mut start = begin;
    while start < behind {
        if parts.len() == MOST_PARTS {
            return Err(refused(format!("the file has more than {MOST_PARTS} parts")));
        }
        let next = part(file, start, behind)?;
        start += next.length();
        parts.push(next);
    }
    let (replaced, moved) = replaced(file, &parts, begin, tag)?;
    out.carry(file, 0, segment.start)?;
    let length = parts.iter().enumerate().map(|(index, part)| match replaced.get(&index) {
        Some(bytes) => bytes.len() as u64,
        None => part.length(),
    });
    match segment.head.size {
        Some(_) => out.write(&head(SEGMENT, length.sum(), segment.head.of_size)?, segment.head.length() as u64)?,
        None => out.carry(file, segment.start, segment.head.length() as u64)?,
    }
    for (index, part) in parts.iter().enumerate() {
        if let Some(bytes) = replaced.get(&index) {
            out.write(bytes, part.length())?;
            continue;
        }
        let mut from = part.start;
        if part.head.id == CLUSTER && moved.to[index] != moved.from[index] {
            let of_head = part.head.length();
            let mut bytes = Vec::new();
            file.seek(SeekFrom::Start(part.start))?;
            file.by_ref().take(part.length().min(of_head as u64 + CLUSTER_HEAD)).read_to_end(&mut bytes)?;
            cluster(&mut bytes[of_head..], &moved)?;
            out.write(&bytes, bytes.len() as u64)?;
            from += bytes.len() as u64;
        }
        out.carry(file, from, part.start + part.length() - from)?;
    }
    out.carry(file, behind, end - behind)
}
