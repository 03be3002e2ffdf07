//! MXF (SMPTE ST 377-1): the picture descriptor of the header metadata. Keys and tags are from memory.

use crate::reading::{Reading, Said, lowest, lowest64};
use crate::view::{Stop, View, Words};

/// The first 13 bytes of the key of a header partition pack, behind the run-in: what comes after them differs.
const PARTITION: [u8; 13] = [0x06, 0x0E, 0x2B, 0x34, 0x02, 0x05, 0x01, 0x01, 0x0D, 0x01, 0x02, 0x01, 0x01];
/// The key of a set of the header metadata, up to the byte that tells which.
const SET: [u8; 4] = [0x06, 0x0E, 0x2B, 0x34];
const KIND: [u8; 10] = [0x02, 0x53, 0x01, 0x01, 0x0D, 0x01, 0x01, 0x01, 0x01, 0x01];
/// The sets that describe pictures: generic, coded luminance and colour difference, RGBA, MPEG.
const DESCRIPTORS: [u8; 4] = [0x27, 0x28, 0x29, 0x51];
const LONGEST_RUN_IN: u64 = 65_536;
const MOST_SETS: usize = 20_000;

fn run_in(view: &View<'_>) -> Result<Option<u64>, Stop> {
    let head = view.up_to(0, 16)?;
    if head.starts_with(&PARTITION) {
        return Ok(Some(0));
    }
    // A run-in is a speciality; looking for it in any file would only cost time.
    if !head.starts_with(b"RIFF") && !head.starts_with(&[0; 4]) {
        return Ok(None);
    }
    let head = view.up_to(0, LONGEST_RUN_IN)?;
    Ok(head.windows(PARTITION.len()).position(|part| part == PARTITION).map(|at| at as u64))
}

pub(crate) fn begins(view: &View<'_>) -> Result<bool, Stop> {
    Ok(run_in(view)?.is_some())
}

/// A key, where its value begins, and how long that is.
fn packet(view: &View<'_>, at: u64) -> Result<Option<(Vec<u8>, u64, u64)>, Stop> {
    let head = view.up_to(at, 25)?;
    if head.len() < 17 || head[..4] != SET {
        return Ok(None);
    }
    let (start, length) = match head[16] {
        short @ 0..0x80 => (17, u64::from(short)),
        long => {
            let count = usize::from(long & 0x7F);
            let Some(bytes) = head.get(17..17 + count).filter(|_| count <= 8) else { return Ok(None) };
            (17 + count as u64, bytes.iter().fold(0, |sum, byte| sum << 8 | u64::from(*byte)))
        }
    };
    Ok(Some((head[..16].to_vec(), at + start, length)))
}

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    let mut reading = Reading::of("MXF");
    let mut at = run_in(view)?.unwrap_or_default();
    for _ in 0..MOST_SETS {
        let Some((key, start, length)) = packet(view, at)? else { break };
        // Essence begins: the metadata before it is all there is in the header.
        if key[4..8] == [0x01, 0x02, 0x01, 0x01] {
            break;
        }
        let Some(end) = start.checked_add(length).filter(|end| *end <= view.length()) else { break };
        if key[4..14] == KIND && DESCRIPTORS.contains(&key[14]) {
            let set = view.bytes(start, length.min(65_536))?;
            descriptor(&set, &mut reading);
            if reading.raster.is_some() {
                return Ok(reading);
            }
        }
        at = end;
    }
    Ok(reading)
}

/// The values of a set: two bytes of tag, two of length, each.
fn descriptor(set: &[u8], reading: &mut Reading) {
    let mut values: Vec<(u16, &[u8])> = Vec::new();
    let mut rest = set;
    while rest.len() >= 4 {
        let (tag, length) = (rest.be16(0), usize::from(rest.be16(2)));
        let Some(value) = rest.get(4..4 + length) else { break };
        values.push((tag, value));
        rest = &rest[4 + length..];
    }
    let find = |tag: u16, length: usize| {
        values.iter().find(|(each, value)| *each == tag && value.len() >= length).map(|(_, value)| *value)
    };
    let number = |tag: u16| find(tag, 4).map(|value| value.be32(0));
    let fraction = |tag: u16| find(tag, 8).map(|value| (value.be32(0), value.be32(4)));
    let layout = find(0x320C, 1).map_or(0, |value| value[0]);
    // Separate fields tell the height of one of them.
    let fields = if matches!(layout, 1 | 2) { 2 } else { 1 };
    let side = |tag: u16, times: u32| number(tag).and_then(|side| side.checked_mul(times));
    let (Some(width), Some(height)) = (side(0x3203, 1), side(0x3202, fields)) else { return };
    let display = (side(0x3209, 1).unwrap_or(width), side(0x3208, fields).unwrap_or(height));
    let sampled = (side(0x3205, 1).unwrap_or(width), side(0x3204, fields).unwrap_or(height));
    // Padding of the coding is no picture: the sampled size is what is stored of it.
    let raster = if sampled.0 > 0 && sampled.1 > 0 { sampled } else { (width, height) };
    reading.raster = Some(Said::new(raster, "the picture descriptor"));
    let (above, left) = (number(0x320B).unwrap_or(0), number(0x320A).unwrap_or(0));
    let (above, left) = (above.saturating_mul(fields), left);
    if display.0 > 0 && display.1 > 0 && (display != raster) {
        let right = raster.0.checked_sub(display.0).and_then(|room| room.checked_sub(left));
        let below = raster.1.checked_sub(display.1).and_then(|room| room.checked_sub(above));
        if let (Some(right), Some(below)) = (right, below) {
            reading.insets = Some(Said::new([left, above, right, below], "the display size of the picture descriptor"));
        }
    }
    if let Some((across, down)) = fraction(0x320E).filter(|(across, down)| *across > 0 && *down > 0) {
        let shape = (u64::from(across) * u64::from(display.1), u64::from(down) * u64::from(display.0));
        let by = format!("the aspect ratio {}:{} of the picture descriptor", across, down);
        reading.pixel_aspect = lowest64(shape.0, shape.1).map(|shape| Said::new(shape, by));
    }
    reading.rate = fraction(0x3001).map(|(above, below)| Said::new(lowest(above, below), "the sample rate"));
    reading.interlaced = Some(Said::new(matches!(layout, 1..=3), "the frame layout"));
    reading.codec =
        find(0x3201, 16).map(|label| format!("essence {:02x}{:02x}{:02x}", label[13], label[14], label[15]));
    if let (Some(black), Some(depth)) = (number(0x3304), number(0x3301)) {
        // Black at 0 is the whole range (SMPTE ST 377-1, G.2.20, from memory).
        reading.full_range = (depth > 0).then(|| Said::new(black == 0, "the black level of the picture descriptor"));
    }
}
