//! Panorama metadata in the XMP (ISO 16684-1) of JPEG and PNG files. Other metadata there stays as it is.

use super::{Tag, TagError, refused};
use crate::reading::Stereo;

/// The most bytes of a still.
pub(super) const MOST: u64 = 512 << 20;

const PNG: &[u8] = b"\x89PNG\r\n\x1a\n";
const JPEG: &[u8] = &[0xFF, 0xD8, 0xFF];
/// What XMP begins with in a segment of JPEG, and its keyword in PNG (XMP Specification, Part 3).
const IN_JPEG: &[u8] = b"http://ns.adobe.com/xap/1.0/\0";
const IN_PNG: &[u8] = b"XML:com.adobe.xmp\0";
/// The namespace of panoramas.
const PANORAMA: &str = "http://ns.google.com/photos/1.0/panorama/";
const BEFORE: &str = "<?xpacket begin=\"\u{feff}\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?><x:xmpmeta xmlns:x=\"adobe:ns:meta/\">\
                      <rdf:RDF xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\">";
const END: &str = "</rdf:RDF>";
const AFTER: &str = "</x:xmpmeta><?xpacket end=\"w\"?>";

/// Whether a file that begins like this is a still.
pub(super) fn is_one(head: &[u8]) -> bool {
    head.starts_with(PNG) || head.starts_with(JPEG)
}

/// The still with what is to be said.
pub(super) fn tagged(bytes: &[u8], tag: Option<Tag>) -> Result<Vec<u8>, TagError> {
    if bytes.len() as u64 > MOST {
        return Err(refused(format!("the still has more than {} MB", MOST >> 20)));
    }
    if tag.is_some_and(|tag| tag.stereo != Stereo::Mono) {
        return Err(refused("the panorama metadata of stills knows one picture for both eyes: leave --stereo out"));
    }
    let parts = if bytes.starts_with(PNG) { png(bytes)? } else { jpeg(bytes)? };
    let packet = match parts.packet {
        Some([from, to]) => Some(
            std::str::from_utf8(&bytes[from..to]).map_err(|_| refused("the XMP of the still is no text in UTF-8"))?,
        ),
        None => None,
    };
    let said = packet_with(packet, tag.map(|tag| description(tag, parts.size)))?;
    let made = match &said {
        None => Vec::new(),
        Some(said) if bytes.starts_with(PNG) => chunk(said)?,
        Some(said) => segment(said)?,
    };
    let [from, to] = parts.room;
    Ok([&bytes[..from], &made, &bytes[to..]].concat())
}

/// Where things stand in a still.
struct Parts {
    /// Its size.
    size: [u32; 2],
    /// What XMP takes with all around it, or where it belongs.
    room: [usize; 2],
    /// The text itself.
    packet: Option<[usize; 2]>,
}

fn damaged() -> TagError {
    refused("the still is damaged: a part of it is longer than the file")
}

fn png(bytes: &[u8]) -> Result<Parts, TagError> {
    let number = |at: usize| -> Option<u32> { Some(u32::from_be_bytes(*bytes.get(at..)?.first_chunk()?)) };
    let size = [number(16).ok_or_else(damaged)?, number(20).ok_or_else(damaged)?];
    // The first chunk is the head.
    let mut at = PNG.len();
    let mut room = None;
    loop {
        let length = number(at).ok_or_else(damaged)? as usize;
        let kind = bytes.get(at + 4..at + 8).ok_or_else(damaged)?;
        let end = at.checked_add(length).and_then(|end| end.checked_add(12)).filter(|end| *end <= bytes.len());
        let end = end.ok_or_else(damaged)?;
        let content = &bytes[at + 8..end - 4];
        if kind == b"iTXt" && content.starts_with(IN_PNG) {
            // Packed or not, by which method, then language and keyword of the language, each ended by a zero.
            let rest = &content[IN_PNG.len()..];
            if rest.first() != Some(&0) {
                return Err(refused("the XMP of this PNG file is packed: unpack it first"));
            }
            let zeros: Vec<usize> =
                rest.iter().enumerate().skip(2).filter(|(_, byte)| **byte == 0).map(|(at, _)| at).take(2).collect();
            let [_, last] = zeros[..] else { return Err(damaged()) };
            let from = at + 8 + IN_PNG.len() + last + 1;
            return Ok(Parts { size, room: [at, end], packet: Some([from, end - 4]) });
        }
        room.get_or_insert(end);
        if kind == b"IEND" || end == bytes.len() {
            let place = room.unwrap_or(end);
            return Ok(Parts { size, room: [place, place], packet: None });
        }
        at = end;
    }
}

fn jpeg(bytes: &[u8]) -> Result<Parts, TagError> {
    let mut at = 2;
    let mut size = None;
    let mut found = None;
    // After what tells of the file: JFIF and EXIF come first.
    let mut place = 2;
    loop {
        let [0xFF, marker] = *bytes.get(at..at + 2).ok_or_else(damaged)? else { return Err(damaged()) };
        if marker == 0xFF {
            at += 1;
            continue;
        }
        if marker == 0xDA || marker == 0xD9 {
            break;
        }
        let length = bytes.get(at + 2..at + 4).ok_or_else(damaged)?;
        let length = usize::from(u16::from_be_bytes([length[0], length[1]]));
        let end = at + 2 + length;
        let content = bytes.get(at + 4..end).ok_or_else(damaged)?;
        match marker {
            0xE1 if content.starts_with(IN_JPEG) && found.is_none() => found = Some([at, end]),
            0xE0 => place = end,
            0xE1 if content.starts_with(b"Exif\0") => place = end,
            // A frame of any kind (ITU-T T.81, Table B.1).
            0xC0..=0xCF if !matches!(marker, 0xC4 | 0xC8 | 0xCC) => {
                if let [_, a, b, c, d, ..] = *content {
                    size = Some([u16::from_be_bytes([c, d]), u16::from_be_bytes([a, b])].map(u32::from));
                }
            }
            _ => {}
        }
        at = end;
    }
    let size = size.ok_or_else(|| refused("the still is damaged: it does not say its size"))?;
    Ok(match found {
        Some([from, to]) => Parts { size, room: [from, to], packet: Some([from + 4 + IN_JPEG.len(), to]) },
        None => Parts { size, room: [place, place], packet: None },
    })
}

fn segment(packet: &str) -> Result<Vec<u8>, TagError> {
    let length = u16::try_from(2 + IN_JPEG.len() + packet.len())
        .map_err(|_| refused("the XMP of this JPEG file has no room for more"))?;
    Ok([&[0xFF, 0xE1], &length.to_be_bytes()[..], IN_JPEG, packet.as_bytes()].concat())
}

fn chunk(packet: &str) -> Result<Vec<u8>, TagError> {
    let content = [b"iTXt", IN_PNG, &[0, 0, 0, 0], packet.as_bytes()].concat();
    let length = u32::try_from(content.len() - 4).map_err(|_| refused("the XMP of this PNG file is too long"))?;
    Ok([&length.to_be_bytes()[..], &content, &crc32fast::hash(&content).to_be_bytes()].concat())
}

/// What is said of a still of this size: it is the whole sphere, or the middle of it.
fn description(tag: Tag, [width, height]: [u32; 2]) -> String {
    let [yaw, pitch, roll] = tag.initial_view;
    let heading = yaw.rem_euclid(360.0);
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "a cast that saturates, of a positive number"
    )]
    let whole = |side: u32, held: f64, all: f64| (f64::from(side) * all / held).round() as u32;
    let full = [whole(width, tag.span[0], Tag::WHOLE[0]), whole(height, tag.span[1], Tag::WHOLE[1])];
    let [left, top] = [(full[0] - width) / 2, (full[1] - height) / 2];
    let [full_width, full_height] = full;
    format!(
        "<rdf:Description rdf:about=\"\" xmlns:GPano=\"{PANORAMA}\" GPano:UsePanoramaViewer=\"True\" \
         GPano:ProjectionType=\"equirectangular\" GPano:FullPanoWidthPixels=\"{full_width}\" \
         GPano:FullPanoHeightPixels=\"{full_height}\" GPano:CroppedAreaImageWidthPixels=\"{width}\" \
         GPano:CroppedAreaImageHeightPixels=\"{height}\" GPano:CroppedAreaLeftPixels=\"{left}\" \
         GPano:CroppedAreaTopPixels=\"{top}\" GPano:InitialViewHeadingDegrees=\"{heading}\" \
         GPano:InitialViewPitchDegrees=\"{pitch}\" GPano:InitialViewRollDegrees=\"{roll}\"/>"
    )
}

/// A packet that says what is to be said and nothing else of panoramas; none where nothing is left in it.
fn packet_with(packet: Option<&str>, description: Option<String>) -> Result<Option<String>, TagError> {
    let mut text = match packet {
        Some(packet) => without(packet)?,
        None => [BEFORE, END, AFTER].concat(),
    };
    if let Some(description) = description {
        let at = text.rfind(END).ok_or_else(|| refused("the XMP of the still is damaged: it has no end"))?;
        text.insert_str(at, &description);
    }
    Ok((text != [BEFORE, END, AFTER].concat()).then_some(text))
}

/// A packet without anything of panoramas: its elements, its attributes, and the prefix itself.
fn without(packet: &str) -> Result<String, TagError> {
    let mut text = packet.to_owned();
    while let Some(prefix) = prefix_of(&text) {
        let damaged = || refused("the XMP of the still is damaged");
        while let Some(start) = text.find(&format!("<{prefix}:")) {
            let name_end = text[start..].find(|each: char| each.is_whitespace() || each == '>' || each == '/');
            let name = text[start + 1..start + name_end.ok_or_else(damaged)?].to_owned();
            let head_end = start + text[start..].find('>').ok_or_else(damaged)?;
            let end = if text[..head_end].ends_with('/') {
                head_end + 1
            } else {
                let close = format!("</{name}>");
                head_end + text[head_end..].find(&close).ok_or_else(damaged)? + close.len()
            };
            text.replace_range(start..end, "");
        }
        for begin in [format!("{prefix}:"), format!("xmlns:{prefix}=")] {
            while let Some(at) = text.find(&begin) {
                let quote_at = at + text[at..].find(['"', '\'']).ok_or_else(damaged)?;
                let quote = if text[quote_at..].starts_with('"') { '"' } else { '\'' };
                let end = quote_at + 1 + text[quote_at + 1..].find(quote).ok_or_else(damaged)? + 1;
                let start = text[..at].trim_end().len();
                text.replace_range(start..end, "");
            }
        }
        for empty in ["<rdf:Description rdf:about=\"\"/>", "<rdf:Description rdf:about=\"\"></rdf:Description>"] {
            text = text.replace(empty, "");
        }
    }
    Ok(text)
}

/// The prefix by which a packet speaks of panoramas.
fn prefix_of(text: &str) -> Option<String> {
    let at = text.find(PANORAMA)?;
    let before = text[..at].trim_end_matches(['"', '\'']).trim_end().strip_suffix('=')?.trim_end();
    let start = before.rfind("xmlns:")? + "xmlns:".len();
    let prefix = &before[start..];
    let plain = !prefix.is_empty() && prefix.chars().all(|each| each.is_alphanumeric() || each == '-' || each == '_');
    plain.then(|| prefix.to_owned())
}
