//! HEIC and AVIF stills (ISO/IEC 23008-12): the properties of the primary item.

use super::{Box4, boxes, child, entry};
use crate::coded;
use crate::reading::{Reading, Said};
use crate::view::{Stop, View, Words};

/// The brands of such stills.
const BRANDS: [(&[u8; 4], &str); 9] = [
    (b"heic", "HEIC"),
    (b"heix", "HEIC"),
    (b"heim", "HEIC"),
    (b"heis", "HEIC"),
    (b"hevc", "HEIC"),
    (b"hevx", "HEIC"),
    (b"avif", "AVIF"),
    (b"avis", "AVIF"),
    (b"mif1", "HEIF"),
];
const LONGEST: u64 = 65_536;

/// What a file of a brand is called, if it is a still.
pub(crate) fn format(head: &[u8]) -> Option<&'static str> {
    let brand = head.get(8..12).filter(|_| head.get(4..8) == Some(b"ftyp"))?;
    BRANDS.iter().find(|(known, _)| *known == brand).map(|(_, name)| *name)
}

pub(crate) fn read(view: &View<'_>, format: &'static str) -> Result<Reading, Stop> {
    let mut reading = Reading::of(format);
    let top = boxes(view, 0, view.length())?;
    let Some(meta) = top.iter().find(|each| &each.kind == b"meta") else {
        // A sequence of pictures is a movie.
        return super::read(view);
    };
    let inside = boxes(view, meta.start + 4, meta.end)?;
    let of = |kind: &[u8; 4]| inside.iter().find(|each| &each.kind == kind);
    let primary = of(b"pitm").map(|pitm| number(view, pitm)).transpose()?.unwrap_or(1);
    let Some(iprp) = of(b"iprp") else { return Ok(reading) };
    let Some(ipco) = child(view, iprp, b"ipco")? else { return Ok(reading) };
    let properties = boxes(view, ipco.start, ipco.end)?;
    let mut ours = Vec::new();
    for ipma in boxes(view, iprp.start, iprp.end)?.iter().filter(|each| &each.kind == b"ipma") {
        ours.extend(of_item(&view.bytes(ipma.start, ipma.length().min(LONGEST))?, primary));
    }
    let mut told = None;
    for at in ours {
        let Some(found) = usize::from(at).checked_sub(1).and_then(|at| properties.get(at)) else { continue };
        property(view, found, &mut reading, &mut told)?;
    }
    if let Some(told) = told {
        // The size of tiles and of what is coded is not that of the picture, and a still has no fields.
        coded::Coded { raster: None, interlaced: None, rate: None, ..told }.tell(&mut reading);
    }
    Ok(reading)
}

fn number(view: &View<'_>, pitm: &Box4) -> Result<u32, Stop> {
    let bytes = view.bytes(pitm.start, pitm.length().min(8))?;
    Ok(if bytes.first() == Some(&0) { u32::from(bytes.be16(4)) } else { bytes.be32(4) })
}

/// The numbers of the properties of an item (9.3.3), from 1.
fn of_item(ipma: &[u8], item: u32) -> Vec<u16> {
    let (long_ids, long) =
        (ipma.first().is_some_and(|version| *version > 0), ipma.get(3).is_some_and(|flags| flags & 1 == 1));
    let mut rest = ipma.get(8..).unwrap_or_default();
    for _ in 0..ipma.be32(4).min(4096) {
        let (id, head) = if long_ids { (rest.be32(0), 4) } else { (u32::from(rest.be16(0)), 2) };
        let Some(count) = rest.get(head).map(|count| usize::from(*count)) else { break };
        let each = if long { 2 } else { 1 };
        let Some(numbers) = rest.get(head + 1..head + 1 + count * each) else { break };
        if id == item {
            let number = |bytes: &[u8]| if long { bytes.be16(0) & 0x7FFF } else { u16::from(bytes[0] & 0x7F) };
            return numbers.chunks_exact(each).map(number).collect();
        }
        rest = &rest[head + 1 + count * each..];
    }
    Vec::new()
}

fn property(view: &View<'_>, found: &Box4, reading: &mut Reading, told: &mut Option<coded::Coded>) -> Result<(), Stop> {
    let bytes = |most: u64| view.bytes(found.start, found.length().min(most));
    match &found.kind {
        b"ispe" if found.length() >= 12 => {
            let size = bytes(12)?;
            reading.raster = Some(Said::new((size.be32(4), size.be32(8)), "ispe"));
        }
        b"pasp" if found.length() >= 8 => {
            let shape = bytes(8)?;
            reading.pixel_aspect = Some(Said::new((shape.be32(0), shape.be32(4)), "pasp"));
        }
        // Quarters against the clock.
        b"irot" if found.length() >= 1 => {
            let quarters = u32::from(bytes(1)?[0] & 3);
            reading.rotation = Some(Said::new((4 - quarters) % 4 * 90, "irot"));
        }
        b"imir" => reading.remark("The picture is mirrored (imir); ignored."),
        b"clap" if found.length() >= 32 => {
            if let Some(raster) = reading.raster.as_ref().map(|said| said.value) {
                entry::clean_aperture(&bytes(32)?, raster, reading);
            }
        }
        b"colr" if found.length() >= 11 => {
            let colr = bytes(11)?;
            if &colr[..4] == b"nclx" {
                reading.full_range = Some(Said::new(colr[10] & 0x80 != 0, "colr"));
            }
        }
        b"hvcC" => {
            reading.codec = Some("HEVC".to_owned());
            *told = coded::hevc_configuration(&bytes(LONGEST)?);
        }
        b"av1C" => {
            reading.codec = Some("AV1".to_owned());
            *told = coded::av1_configuration(&bytes(LONGEST)?);
        }
        b"avcC" => {
            reading.codec = Some("H.264".to_owned());
            *told = coded::avc_configuration(&bytes(LONGEST)?);
        }
        _ => {}
    }
    Ok(())
}
