//! The sample entry: how the pictures of a track are stored.

use super::{Box4, boxes, child};
use crate::coded;
use crate::reading::{Reading, Said, Sphere, Stereo};
use crate::view::{Stop, View, Words};

/// The most of a configuration that is read.
const LONGEST: u64 = 65_536;

/// The first sample entry (clause 12.1.3) and the boxes behind its 78 fixed bytes.
pub(super) fn sample_entry(view: &View<'_>, stsd: &Box4, reading: &mut Reading) -> Result<(), Stop> {
    let entries = boxes(view, stsd.start + 8, stsd.end)?;
    let Some(entry) = entries.first().copied() else { return Ok(()) };
    if entry.length() < 78 {
        return Err(Stop::broken("the sample entry of this file is truncated"));
    }
    let fixed = view.bytes(entry.start, 78)?;
    reading.codec = Some(
        entry
            .kind
            .iter()
            .map(|byte| if byte.is_ascii_graphic() { char::from(*byte) } else { ' ' })
            .collect::<String>()
            .trim()
            .to_owned(),
    );
    let raster = (u32::from(fixed.be16(24)), u32::from(fixed.be16(26)));
    reading.raster = Some(Said::new(raster, "the sample entry"));
    for other in entries.iter().skip(1).filter(|other| other.length() >= 78).take(8) {
        let fixed = view.bytes(other.start, 78)?;
        let size = (u32::from(fixed.be16(24)), u32::from(fixed.be16(26)));
        if size != raster {
            reading.remark(format!("The track changes to {} × {} on the way; its first size is used.", size.0, size.1));
            break;
        }
    }
    if matches!(&entry.kind, b"jpeg" | b"mjpa" | b"mjpb") {
        reading.full_range = Some(Said::new(true, "JPEG, whose values run from 0 on"));
    }
    let inside = boxes(view, entry.start + 78, entry.end)?;
    let (mut told, mut sphere) = (None, None);
    for found in &inside {
        match &found.kind {
            b"pasp" if found.length() >= 8 => {
                let pasp = view.bytes(found.start, 8)?;
                reading.pixel_aspect = Some(Said::new((pasp.be32(0), pasp.be32(4)), "pasp"));
            }
            b"clap" if found.length() >= 32 => clean_aperture(&view.bytes(found.start, 32)?, raster, reading),
            b"colr" if found.length() >= 11 => {
                let colr = view.bytes(found.start, 11)?;
                if &colr[..4] == b"nclx" {
                    reading.full_range = Some(Said::new(colr[10] & 0x80 != 0, "colr"));
                }
            }
            b"fiel" if found.length() >= 1 => {
                reading.interlaced = Some(Said::new(view.bytes(found.start, 1)?[0] == 2, "fiel"));
            }
            b"vpcC" if found.length() >= 7 => {
                let full = view.bytes(found.start + 6, 1)?[0] & 1 == 1;
                reading.full_range.get_or_insert_with(|| Said::new(full, "vpcC"));
            }
            b"avcC" | b"hvcC" | b"av1C" | b"esds" if found.length() <= LONGEST => {
                let record = view.bytes(found.start, found.length())?;
                told = match &found.kind {
                    b"avcC" => coded::avc_configuration(&record),
                    b"hvcC" => coded::hevc_configuration(&record),
                    b"av1C" => coded::av1_configuration(&record),
                    // Behind descriptors of which only the content begins with a start code.
                    _ => coded::mpeg4_head(&record).or_else(|| coded::mpeg2_head(&record)),
                };
            }
            b"st3d" if found.length() >= 5 => {
                let stereo = match view.bytes(found.start + 4, 1)?[0] {
                    1 => Stereo::TopBottom,
                    2 => Stereo::SideBySide,
                    _ => Stereo::Mono,
                };
                let flat = Sphere { projection: String::new(), stereo, right_first: false, part_of: None };
                reading.sphere.get_or_insert_with(|| Said::new(flat, "st3d")).value.stereo = stereo;
            }
            b"sv3d" => sphere = Some(found),
            _ => {}
        }
    }
    if let Some(told) = told {
        told.tell(reading);
    }
    // How much is held is said of one eye.
    if let Some(found) = sphere {
        projection(view, found, raster, reading)?;
    }
    // Two eyes without a projection are no sphere.
    if reading.sphere.as_ref().is_some_and(|said| said.value.projection.is_empty()) {
        let stereo = reading.sphere.take().map(|said| said.value.stereo).unwrap_or_default();
        if stereo != Stereo::Mono {
            reading.remark(format!("Two eyes in one frame ({}), from st3d.", stereo.word()));
        }
    }
    Ok(())
}

/// The second generation of spherical metadata: `proj` with `equi` or `cbmp`.
fn projection(view: &View<'_>, sv3d: &Box4, raster: (u32, u32), reading: &mut Reading) -> Result<(), Stop> {
    let Some(proj) = child(view, sv3d, b"proj")? else { return Ok(()) };
    for found in boxes(view, proj.start, proj.end)? {
        let name = match &found.kind {
            b"equi" => "equirectangular",
            b"cbmp" => "cubemap",
            b"mshp" => "mesh",
            _ => continue,
        };
        let stereo = reading.sphere.as_ref().map(|said| said.value.stereo).unwrap_or_default();
        let mut part_of = None;
        if &found.kind == b"equi" && found.length() >= 20 {
            let bounds = view.bytes(found.start + 4, 16)?;
            part_of = Sphere::part_by([0, 4, 8, 12].map(|at| bounds.be32(at)), raster, stereo);
        }
        reading.sphere =
            Some(Said::new(Sphere { projection: name.to_owned(), stereo, right_first: false, part_of }, "sv3d"));
    }
    Ok(())
}

/// The clean aperture (clause 12.1.4): a size, and how far its middle is from the picture's, all as
/// fractions of pixels.
pub(super) fn clean_aperture(clap: &[u8], (width, height): (u32, u32), reading: &mut Reading) {
    let fraction = |at: usize| {
        let (above, below) = (clap.be32(at).cast_signed(), clap.be32(at + 4).cast_signed());
        if below > 0 { Some(f64::from(above) / f64::from(below)) } else { None }
    };
    let read = || Some([fraction(0)?, fraction(8)?, fraction(16)?, fraction(24)?]);
    let Some([across, down, right, lower]) = read() else {
        reading.remark("The clean aperture (clap) divides by zero; ignored.");
        return;
    };
    let edges = |whole: u32, kept: f64, moved: f64| {
        let whole = f64::from(whole);
        let before = (whole - kept) / 2.0 + moved;
        (before, whole - kept - before)
    };
    let ((left, right), (top, bottom)) = (edges(width, across, right), edges(height, down, lower));
    let sides = [left, top, right, bottom];
    if sides.iter().any(|side| !(0.0..=65_536.0).contains(side)) {
        reading.remark(format!("The clean aperture (clap) of {across} × {down} is outside the picture; ignored."));
        return;
    }
    if sides.iter().any(|side| side.fract() != 0.0) {
        reading.remark("The clean aperture (clap) was widened to whole pixels.");
    }
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "from 0 to 65,536")]
    let insets = sides.map(|side| side as u32);
    reading.insets = Some(Said::new(insets, "clap"));
}
