//! Movies (ISO/IEC 14496-12): both generations of the published boxes are written, and taken out again. Nothing else of the
//! file changes but the places that point behind them.

use std::io::{Read, Seek, SeekFrom, Write};

use super::{Carrier, Tag, TagError, refused};
use crate::reading::Stereo;

/// The user type of the first generation.
const FIRST: [u8; 16] =
    [0xff, 0xcc, 0x82, 0x63, 0xf8, 0x55, 0x4a, 0x93, 0x88, 0x14, 0x58, 0x7a, 0x02, 0x52, 0x1f, 0xdd];
/// Boxes that hold boxes and nothing else, down to where samples are described.
const HOLDERS: [&[u8; 4]; 5] = [b"moov", b"trak", b"mdia", b"minf", b"stbl"];
/// The most bytes of an index.
const MOST_INDEX: u64 = 256 << 20;
/// Bytes of a description of pictures before its boxes (ISO/IEC 14496-12, 12.1.3).
const VISUAL: usize = 78;

/// A box of the index: its type, and what is in it.
#[derive(Clone, Debug)]
struct Node {
    kind: [u8; 4],
    inside: Inside,
}

#[derive(Clone, Debug)]
enum Inside {
    /// As it is.
    Bytes(Vec<u8>),
    /// Bytes, then boxes.
    Boxes(Vec<u8>, Vec<Node>),
}

impl Node {
    fn bytes(kind: &[u8; 4], bytes: Vec<u8>) -> Self {
        Self { kind: *kind, inside: Inside::Bytes(bytes) }
    }

    fn boxes(kind: &[u8; 4], head: Vec<u8>, boxes: Vec<Self>) -> Self {
        Self { kind: *kind, inside: Inside::Boxes(head, boxes) }
    }

    /// The boxes in a stretch of an index.
    fn all(mut bytes: &[u8], within: &[u8; 4]) -> Result<Vec<Self>, TagError> {
        let mut nodes = Vec::new();
        while !bytes.is_empty() {
            // Some writers end a list of boxes by a word of zeros.
            if bytes.len() < 8 {
                nodes.push(Self { kind: [0; 4], inside: Inside::Bytes(bytes.to_vec()) });
                break;
            }
            let damaged = || refused("the index of the file is damaged: a box is longer than what holds it");
            let size = u32::from_be_bytes([bytes[0], bytes[1], bytes[2], bytes[3]]) as usize;
            let kind = [bytes[4], bytes[5], bytes[6], bytes[7]];
            let size = if size == 0 { bytes.len() } else { size };
            if size < 8 || size > bytes.len() {
                return Err(damaged());
            }
            let inner = &bytes[8..size];
            nodes.push(Self::one(kind, inner, within)?);
            bytes = &bytes[size..];
        }
        Ok(nodes)
    }

    fn one(kind: [u8; 4], inner: &[u8], within: &[u8; 4]) -> Result<Self, TagError> {
        let holds = HOLDERS.contains(&&kind) && (kind == *b"moov" || HOLDERS.contains(&within));
        if holds {
            return Ok(Self::boxes(&kind, Vec::new(), Self::all(inner, &kind)?));
        }
        // A full box with a count, then the descriptions.
        if kind == *b"stsd" && inner.len() >= 8 {
            return Ok(Self::boxes(&kind, inner[..8].to_vec(), Self::all(&inner[8..], b"stsd")?));
        }
        Ok(Self::bytes(&kind, inner.to_vec()))
    }

    fn children(&mut self, kind: &[u8; 4]) -> impl Iterator<Item = &mut Self> {
        let boxes = if let Inside::Boxes(_, boxes) = &mut self.inside { boxes.as_mut_slice() } else { &mut [] };
        boxes.iter_mut().filter(move |node| node.kind == *kind)
    }

    fn list(&mut self) -> Option<&mut Vec<Self>> {
        if let Inside::Boxes(_, boxes) = &mut self.inside { Some(boxes) } else { None }
    }

    fn content(&self) -> &[u8] {
        if let Inside::Bytes(bytes) = &self.inside { bytes } else { &[] }
    }

    fn write(&self, out: &mut Vec<u8>) -> Result<(), TagError> {
        if self.kind == [0; 4] {
            out.extend_from_slice(self.content());
            return Ok(());
        }
        let start = out.len();
        out.extend_from_slice(&[0; 4]);
        out.extend_from_slice(&self.kind);
        match &self.inside {
            Inside::Bytes(bytes) => out.extend_from_slice(bytes),
            Inside::Boxes(head, boxes) => {
                out.extend_from_slice(head);
                boxes.iter().try_for_each(|node| node.write(out))?;
            }
        }
        let size = u32::try_from(out.len() - start).map_err(|_| refused("the index of the file is too long"))?;
        out[start..start + 4].copy_from_slice(&size.to_be_bytes());
        Ok(())
    }

    fn written(&self) -> Result<Vec<u8>, TagError> {
        let mut bytes = Vec::new();
        self.write(&mut bytes)?;
        Ok(bytes)
    }
}

/// A full box of version 0.
fn full(kind: &[u8; 4], rest: &[u8]) -> Node {
    Node::bytes(kind, [&[0; 4], rest].concat())
}

/// Degrees in 16.16 fixed point.
fn fixed(degrees: f64) -> [u8; 4] {
    #[expect(clippy::cast_possible_truncation, reason = "at most 360 degrees")]
    let fixed = (degrees * 65_536.0).round() as i32;
    fixed.to_be_bytes()
}

impl Tag {
    /// The word of the first generation for how eyes share the frame.
    const fn word(self) -> &'static str {
        match self.stereo {
            Stereo::Mono => "mono",
            Stereo::TopBottom => "top-bottom",
            Stereo::SideBySide => "left-right",
        }
    }

    /// The first generation: a text in a box of its own, whole degrees.
    fn first(self) -> Node {
        let [yaw, pitch, roll] = self.initial_view.map(f64::round);
        let text = format!(
            "<?xml version=\"1.0\"?><rdf:SphericalVideo xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\" \
             xmlns:GSpherical=\"http://ns.google.com/videos/1.0/spherical/\">\
             <GSpherical:Spherical>true</GSpherical:Spherical><GSpherical:Stitched>true</GSpherical:Stitched>\
             <GSpherical:StitchingSoftware>Ratiomet</GSpherical:StitchingSoftware>\
             <GSpherical:ProjectionType>equirectangular</GSpherical:ProjectionType>\
             <GSpherical:StereoMode>{}</GSpherical:StereoMode>\
             <GSpherical:InitialViewHeadingDegrees>{yaw}</GSpherical:InitialViewHeadingDegrees>\
             <GSpherical:InitialViewPitchDegrees>{pitch}</GSpherical:InitialViewPitchDegrees>\
             <GSpherical:InitialViewRollDegrees>{roll}</GSpherical:InitialViewRollDegrees></rdf:SphericalVideo>",
            self.word()
        );
        Node::bytes(b"uuid", [&FIRST, text.as_bytes()].concat())
    }

    /// The second generation: boxes in the description of the pictures.
    fn second(self) -> [Node; 2] {
        let eyes = match self.stereo {
            Stereo::Mono => 0,
            Stereo::TopBottom => 1,
            Stereo::SideBySide => 2,
        };
        let [yaw, pitch, roll] = self.initial_view.map(fixed);
        let boxes = vec![
            full(b"svhd", b"Ratiomet\0"),
            Node::boxes(
                b"proj",
                Vec::new(),
                vec![full(b"prhd", &[yaw, pitch, roll].concat()), full(b"equi", &self.bounds())],
            ),
        ];
        [full(b"st3d", &[eyes]), Node::boxes(b"sv3d", Vec::new(), boxes)]
    }
}

/// Takes whatever is said of spheres out of the descriptions of pictures, and says what is to be said. How many tracks of
/// pictures there are.
fn say(moov: &mut Node, tag: Option<Tag>) -> Result<usize, TagError> {
    let mut tracks = 0;
    for trak in moov.children(b"trak") {
        let pictures = trak
            .children(b"mdia")
            .flat_map(|mdia| mdia.children(b"hdlr"))
            .any(|hdlr| hdlr.content().get(8..12) == Some(&b"vide"[..]));
        if !pictures {
            continue;
        }
        tracks += 1;
        for mdia in trak.children(b"mdia") {
            for minf in mdia.children(b"minf") {
                for stsd in minf.children(b"stbl").flat_map(|stbl| stbl.children(b"stsd")) {
                    for entry in stsd.list().into_iter().flatten() {
                        describe(entry, tag)?;
                    }
                }
            }
        }
        if let Some(boxes) = trak.list() {
            boxes.retain(|node| !(node.kind == *b"uuid" && node.content().starts_with(&FIRST)));
            // Readers of the first generation take what it says for a whole sphere.
            boxes.extend(tag.filter(|tag| tag.span == Tag::WHOLE).map(Tag::first));
        }
    }
    Ok(tracks)
}

/// One description of pictures.
fn describe(entry: &mut Node, tag: Option<Tag>) -> Result<(), TagError> {
    let Inside::Bytes(bytes) = &entry.inside else { return Ok(()) };
    let Some((head, boxes)) = bytes.split_at_checked(VISUAL) else {
        return Err(refused("the index of the file is damaged: its pictures are not described"));
    };
    let mut boxes = Node::all(boxes, &entry.kind)?;
    boxes.retain(|node| node.kind != *b"st3d" && node.kind != *b"sv3d");
    // What ends the list by zeros stays last.
    let end = boxes.iter().position(|node| node.kind == [0; 4]).unwrap_or(boxes.len());
    if let Some(tag) = tag {
        boxes.splice(end..end, tag.second());
    }
    entry.inside = Inside::Boxes(head.to_vec(), boxes);
    Ok(())
}

/// Moves every place of the media that lies behind the index. Places that no longer go into 32 bits get 64.
fn shift(moov: &mut Node, behind: u64, by: i64) -> Result<(), TagError> {
    for trak in moov.children(b"trak") {
        for minf in trak.children(b"mdia").flat_map(|mdia| mdia.children(b"minf")) {
            for stbl in minf.children(b"stbl") {
                for table in stbl.list().into_iter().flatten() {
                    moved(table, behind, by)?;
                }
            }
        }
    }
    Ok(())
}

fn moved(table: &mut Node, behind: u64, by: i64) -> Result<(), TagError> {
    let wide = match &table.kind {
        b"stco" => 4,
        b"co64" => 8,
        _ => return Ok(()),
    };
    let damaged = || refused("the index of the file is damaged: its table of places is cut short");
    let bytes = table.content();
    let (head, places) = bytes.split_at_checked(8).ok_or_else(damaged)?;
    let count = u32::from_be_bytes([head[4], head[5], head[6], head[7]]) as usize;
    if places.len() < count.checked_mul(wide).ok_or_else(damaged)? {
        return Err(damaged());
    }
    let place = |bytes: &[u8]| bytes.iter().fold(0_u64, |place, byte| place << 8 | u64::from(*byte));
    let places: Vec<u64> = places[..count * wide]
        .chunks_exact(wide)
        .map(place)
        .map(|place| if place >= behind { place.checked_add_signed(by).ok_or_else(damaged) } else { Ok(place) })
        .collect::<Result<_, _>>()?;
    let narrow = table.kind == *b"stco" && places.iter().all(|place| u32::try_from(*place).is_ok());
    let mut bytes = head.to_vec();
    for place in places {
        let all = place.to_be_bytes();
        bytes.extend_from_slice(if narrow { &all[4..] } else { &all });
    }
    let kind: &[u8; 4] = if narrow { b"stco" } else { b"co64" };
    *table = Node::bytes(kind, bytes);
    Ok(())
}

/// A box of the file: its type, where it begins, how long its head is and all of it.
struct Part {
    kind: [u8; 4],
    start: u64,
    head: u64,
    size: u64,
}

/// The boxes of a file, in their order.
fn parts(file: &mut (impl Read + Seek)) -> Result<Vec<Part>, TagError> {
    let end = file.seek(SeekFrom::End(0))?;
    let mut parts = Vec::new();
    let mut start = 0;
    while start < end {
        let cut_short = || refused("this is no MP4, MOV or Matroska file, or it is cut short");
        let mut head = [0; 16];
        file.seek(SeekFrom::Start(start))?;
        let read = usize::try_from((end - start).min(16)).unwrap_or(16);
        file.read_exact(&mut head[..read])?;
        if read < 8 {
            return Err(cut_short());
        }
        let kind = [head[4], head[5], head[6], head[7]];
        let (length, size) = match u32::from_be_bytes([head[0], head[1], head[2], head[3]]) {
            0 => (8, end - start),
            1 if read == 16 => (16, head[8..].iter().fold(0_u64, |size, byte| size << 8 | u64::from(*byte))),
            size => (8, u64::from(size)),
        };
        if size < length
            || size > end - start
            || (start == 0
                && kind != *b"ftyp"
                && kind != *b"moov"
                && kind != *b"wide"
                && kind != *b"mdat"
                && kind != *b"free")
        {
            return Err(cut_short());
        }
        parts.push(Part { kind, start, head: length, size });
        start += size;
    }
    Ok(parts)
}

/// Writes a copy of a movie that says what it shows: a sphere, or nothing of spheres.
///
/// # Errors
/// A sentence for a file that is no MP4 or MOV, has no pictures, or lies in fragments; and what reading and writing say.
pub(super) fn copy<O: Write, P: FnMut(u64, u64) -> bool>(
    file: &mut (impl Read + Seek),
    tag: Option<Tag>,
    out: &mut Carrier<'_, O, P>,
) -> Result<(), TagError> {
    let parts = parts(file)?;
    if parts.iter().any(|part| part.kind == *b"moof") {
        return Err(refused("the movie lies in fragments: put it into one piece first (ffmpeg -i IN -c copy OUT)"));
    }
    let mut indexes = parts.iter().filter(|part| part.kind == *b"moov");
    let (Some(index), None) = (indexes.next(), indexes.next()) else {
        return Err(refused("the file has no index (moov), or several"));
    };
    let length = index.size - index.head;
    if length > MOST_INDEX {
        return Err(refused(format!("the index of the file has more than {} MB", MOST_INDEX >> 20)));
    }
    let mut bytes = vec![0; usize::try_from(length).map_err(|_| refused("the index of the file is too long"))?];
    file.seek(SeekFrom::Start(index.start + index.head))?;
    file.read_exact(&mut bytes)?;
    let mut moov = Node::one(*b"moov", &bytes, b"file")?;
    if say(&mut moov, tag)? == 0 {
        return Err(refused("the file has no track of pictures"));
    }
    // Longer places make the index longer, which moves them again.
    let (plain, behind) = (moov, index.start + index.size);
    let mut by = 0;
    let written = loop {
        let mut moved = plain.clone();
        shift(&mut moved, behind, by)?;
        let written = moved.written()?;
        let now = i64::try_from(written.len()).unwrap_or(i64::MAX) - i64::try_from(index.size).unwrap_or(i64::MAX);
        if now == by {
            break written;
        }
        by = now;
    };
    for part in &parts {
        if part.start == index.start {
            out.write(&written, part.size)?;
        } else {
            out.carry(file, part.start, part.size)?;
        }
    }
    Ok(())
}
