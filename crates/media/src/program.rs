//! MPEG program streams (ITU-T H.222.0, 2.5; ISO/IEC 11172-1), and streams of pictures in no file format at all.

use crate::coded::{self, Coding};
use crate::reading::Reading;
use crate::transport;
use crate::view::{Stop, View, Words};

const PACK: [u8; 4] = [0, 0, 1, 0xBA];
/// How much of a file is looked through.
const LONGEST: u64 = 4 << 20;
/// How much of a stream of pictures is kept.
const MOST_KEPT: usize = 1 << 20;
/// How much of a bare stream is looked at.
const BARE: u64 = 1 << 20;

pub(crate) fn begins(head: &[u8]) -> bool {
    head.starts_with(&PACK)
}

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let mut reading = Reading::of("MPEG program stream");
    let (mut at, mut stream, mut id) = (0, Vec::new(), None);
    while at < LONGEST && stream.len() < MOST_KEPT {
        let head = view.up_to(at, 14)?;
        if head.len() < 6 || head[..3] != [0, 0, 1] {
            break;
        }
        match head[3] {
            // The end; a pack, of which the first generation has a shorter head.
            0xB9 => break,
            0xBA if head.len() == 14 && head[4] & 0xC0 == 0x40 => at += 14 + u64::from(head[13] & 7),
            0xBA => at += 12,
            code => {
                let length = 6 + u64::from(head.be16(4));
                if matches!(code, 0xE0..=0xEF) && id.is_none_or(|id| id == code) {
                    id = Some(code);
                    stream.extend(content(&view.up_to(at, length)?));
                    if let Some((coding, told)) =
                        Coding::of(&stream).and_then(|coding| Some((coding, coded::stream(coding, &stream)?)))
                        && stream.len() > 4096
                    {
                        reading.codec = Some(coding.name().to_owned());
                        told.tell(&mut reading);
                        return Ok(reading);
                    }
                }
                at += length;
            }
        }
    }
    let told = Coding::of(&stream).and_then(|coding| Some((coding, coded::stream(coding, &stream)?)));
    if let Some((coding, told)) = told {
        reading.codec = Some(coding.name().to_owned());
        told.tell(&mut reading);
    }
    Ok(reading)
}

/// What a packet holds, in either generation.
fn content(packet: &[u8]) -> &[u8] {
    if packet.get(6).is_some_and(|flags| flags & 0xC0 == 0x80) {
        return transport::packet(packet).1;
    }
    let mut rest = packet.get(6..).unwrap_or_default();
    while let Some(filled) = rest.strip_prefix(&[0xFF]) {
        rest = filled;
    }
    if rest.first().is_some_and(|byte| byte & 0xC0 == 0x40) {
        rest = rest.get(2..).unwrap_or_default();
    }
    let head = match rest.first().map(|byte| byte >> 4) {
        Some(2) => 5,
        Some(3) => 10,
        _ => 1,
    };
    rest.get(head..).unwrap_or_default()
}

/// A stream of pictures by itself, if it is one.
pub(crate) fn bare(view: &View<'_>) -> Result<Option<Reading>, Stop> {
    let Some(coding) = Coding::of(&view.up_to(0, 64)?) else { return Ok(None) };
    let Some(told) = coded::stream(coding, &view.up_to(0, BARE)?) else { return Ok(None) };
    let mut reading = Reading::of("bare stream");
    reading.codec = Some(coding.name().to_owned());
    told.tell(&mut reading);
    Ok(Some(reading))
}
