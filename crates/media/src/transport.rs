//! MPEG transport streams (ITU-T H.222.0, 2.4): packets of 188 bytes, alone, behind four bytes of time as cameras
//! and discs write them, or before sixteen of correction.

use crate::coded::{self, Coding};
use crate::reading::{Reading, Said, known_rate};
use crate::view::{Stop, View, Words};

const SYNC: u8 = 0x47;
const PACKET: usize = 188;
/// How long packets are, and what stands before them.
const LAYOUTS: [(usize, usize); 3] = [(188, 0), (192, 4), (204, 0)];
/// How much of a file is looked through, and how much at once.
const LONGEST: u64 = 6 << 20;
const AT_ONCE: u64 = 192 << 10;
/// How much of a stream of pictures is kept.
const MOST_KEPT: usize = 1 << 20;
/// How many times of pictures tell their rate.
const TIMES: usize = 24;

/// How the packets of a file are laid out, if it has such.
fn layout(head: &[u8]) -> Option<(usize, usize)> {
    LAYOUTS.into_iter().find(|(length, before)| (0..3).all(|count| head.get(before + count * length) == Some(&SYNC)))
}

/// The bytes that tell whether a file is one.
pub(crate) const HEAD: u64 = 3 * 204;

pub(crate) fn begins(head: &[u8]) -> bool {
    layout(head).is_some()
}

/// The kinds of streams that are pictures (Table 2-34).
fn coding(kind: u8) -> Option<(&'static str, Option<Coding>)> {
    match kind {
        0x01 => Some(("MPEG-1", Some(Coding::Mpeg2))),
        0x02 => Some(("MPEG-2", Some(Coding::Mpeg2))),
        0x10 => Some(("MPEG-4", Some(Coding::Mpeg4))),
        0x1B | 0x1F | 0x20 => Some(("H.264", Some(Coding::H264))),
        0x24 | 0x25 => Some(("HEVC", Some(Coding::Hevc))),
        0x21 => Some(("JPEG 2000", None)),
        0x33 => Some(("VVC", None)),
        0xEA => Some(("VC-1", None)),
        _ => None,
    }
}

/// What is followed through the packets.
#[derive(Default)]
struct Followed {
    tables: Vec<u16>,
    pictures: Option<(u16, &'static str, Option<Coding>)>,
    others: usize,
    stream: Vec<u8>,
    times: Vec<u64>,
}

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let head = view.up_to(0, HEAD)?;
    let (length, before) = layout(&head).ok_or_else(|| Stop::broken("this is no transport stream"))?;
    let mut followed = Followed::default();
    let mut told = None;
    let (mut at, mut rest) = (0, Vec::new());
    while told.is_none() || followed.times.len() < TIMES {
        let part = view.up_to(at, AT_ONCE.min(LONGEST.saturating_sub(at)))?;
        if part.is_empty() {
            break;
        }
        at += part.len() as u64;
        rest.extend(part);
        let whole = rest.len() / length * length;
        for packet in rest[..whole].chunks_exact(length).map(|packet| &packet[before..before + PACKET]) {
            followed.take(packet);
        }
        rest.drain(..whole);
        if let (None, Some((_, _, Some(coding)))) = (&told, followed.pictures) {
            told = coded::stream(coding, &followed.stream);
        }
        // Where the stream says its rate, the times of its pictures need not be looked for.
        if told.as_ref().is_some_and(|told| told.rate.is_some()) {
            break;
        }
    }
    let mut reading = Reading::of("MPEG transport stream");
    let Some((_, name, coding)) = followed.pictures else { return Ok(reading) };
    reading.codec = Some(name.to_owned());
    match (told, coding) {
        (Some(told), _) => told.tell(&mut reading),
        (None, Some(_)) => {
            return Err(Stop::broken(format!("no header of the {name} stream was found near the beginning")));
        }
        (None, None) => return Err(Stop::broken(format!("the headers of {name} streams are not read"))),
    }
    if reading.rate.is_none() {
        reading.rate = rate(&mut followed.times).map(|rate| Said::new(rate, "the times of its pictures"));
    }
    if followed.others > 0 {
        reading.remark(format!("{} more streams of pictures; the first is read.", followed.others));
    }
    Ok(reading)
}

/// The rate that the times of pictures, 90,000 to a second, have most of the time.
fn rate(times: &mut Vec<u64>) -> Option<(u32, u32)> {
    times.sort_unstable();
    times.dedup();
    // The last ones may have a gap that a later one fills.
    times.truncate(times.len().saturating_sub(4).max(2));
    let mut steps: Vec<u64> = times.windows(2).map(|two| two[1] - two[0]).collect();
    steps.sort_unstable();
    let (first, last, count) = (times.first()?, times.last()?, u32::try_from(steps.len()).ok()?);
    let middle = *steps.get(steps.len() / 2)?;
    let even = steps.iter().all(|step| step.abs_diff(middle) <= 90);
    let span = u32::try_from(if even { last - first } else { middle }).ok().filter(|span| *span > 0)?;
    Some(known_rate(90_000.0 * f64::from(if even { count } else { 1 }) / f64::from(span)))
}

impl Followed {
    fn take(&mut self, packet: &[u8]) {
        let id = packet.be16(1) & 0x1FFF;
        let begins = packet[1] & 0x40 != 0;
        let adaptation = if packet[3] & 0x20 != 0 { usize::from(packet[4]) + 1 } else { 0 };
        let Some(payload) = packet.get(4 + adaptation..).filter(|_| packet[0] == SYNC && packet[3] & 0x10 != 0) else {
            return;
        };
        match self.pictures {
            Some((pictures, ..)) if pictures == id => self.picture(payload, begins),
            _ if begins && id == 0 => self.programs(section(payload)),
            _ if begins && self.tables.contains(&id) => self.program(section(payload)),
            _ => {}
        }
    }

    /// The table of programs (2.4.4.4): where the tables of each are.
    fn programs(&mut self, section: &[u8]) {
        if section.first() != Some(&0) {
            return;
        }
        for program in body(section, 8).chunks_exact(4).filter(|program| program.be16(0) != 0) {
            let id = program.be16(2) & 0x1FFF;
            if !self.tables.contains(&id) && self.tables.len() < 64 {
                self.tables.push(id);
            }
        }
    }

    /// The table of a program (2.4.4.9): its streams.
    fn program(&mut self, section: &[u8]) {
        if section.first() != Some(&2) || self.pictures.is_some() {
            return;
        }
        let mut rest = body(section, 12);
        let about = usize::from(section.be16(10) & 0x0FFF);
        rest = rest.get(about..).unwrap_or_default();
        while rest.len() >= 5 {
            let (kind, id, about) = (rest[0], rest.be16(1) & 0x1FFF, usize::from(rest.be16(3) & 0x0FFF));
            if let Some((name, coding)) = coding(kind) {
                if self.pictures.is_none() {
                    self.pictures = Some((id, name, coding));
                } else {
                    self.others += 1;
                }
            }
            rest = rest.get(5 + about..).unwrap_or_default();
        }
    }

    /// A piece of the pictures: the head of a packet of the stream (2.4.3.6) is taken off.
    fn picture(&mut self, payload: &[u8], begins: bool) {
        let mut payload = payload;
        if begins && payload.starts_with(&[0, 0, 1]) {
            let (time, content) = packet(payload);
            if let Some(time) = time.filter(|_| self.times.len() < 4 * TIMES) {
                self.times.push(time);
            }
            payload = content;
        }
        if self.stream.len() < MOST_KEPT && (begins || !self.stream.is_empty()) {
            self.stream.extend(payload);
        }
    }
}

/// A table that begins in a packet, behind the byte that says where.
fn section(payload: &[u8]) -> &[u8] {
    let skipped = payload.first().map_or(0, |pointer| usize::from(*pointer) + 1);
    payload.get(skipped..).unwrap_or_default()
}

/// What a table holds behind its head, without its checksum.
fn body(section: &[u8], head: usize) -> &[u8] {
    let end = 3 + usize::from(section.be16(1) & 0x0FFF);
    section.get(head..end.saturating_sub(4).min(section.len())).unwrap_or_default()
}

/// The time of a packet of a stream, if it has one, and what it holds.
pub(crate) fn packet(packet: &[u8]) -> (Option<u64>, &[u8]) {
    let Some(&[flags, length]) = packet.get(7..9) else { return (None, &[]) };
    let time = packet.get(9..14).filter(|_| flags & 0x80 != 0).map(|time| {
        let part = |at: usize, mask: u8| u64::from(time[at] & mask);
        part(0, 0x0E) << 29 | part(1, 0xFF) << 22 | part(2, 0xFE) << 14 | part(3, 0xFF) << 7 | part(4, 0xFE) >> 1
    });
    (time, packet.get(9 + usize::from(length)..).unwrap_or_default())
}
