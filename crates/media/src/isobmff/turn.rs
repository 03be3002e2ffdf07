//! Which way up a track is shown, and how large.

use super::Box4;
use crate::reading::{Reading, Said, lowest64};
use crate::view::{Stop, View, Words};

/// The signs of a matrix: across to across and down, down to across and down.
type Signs = [i32; 4];

fn signs(matrix: &[u8]) -> Signs {
    [0, 1, 3, 4].map(|place| matrix.be32(place * 4).cast_signed().signum())
}

/// The matrix of the whole movie (clause 8.2.2), if it does anything.
pub(super) fn of_movie(view: &View<'_>, mvhd: &Box4) -> Result<Option<Signs>, Stop> {
    let long = mvhd.length() >= 1 && view.bytes(mvhd.start, 1)?[0] == 1;
    let matrix = if long { 48 } else { 36 };
    if mvhd.length() < matrix + 36 {
        return Ok(None);
    }
    let found = signs(&view.bytes(mvhd.start + matrix, 36)?);
    Ok((found != [1, 0, 0, 1] && found != [0; 4]).then_some(found))
}

/// The turn of the track (clause 8.3.2): a matrix of which quarter turns are understood.
pub(super) fn track_head(
    view: &View<'_>,
    tkhd: &Box4,
    movie: Option<Signs>,
    reading: &mut Reading,
) -> Result<(), Stop> {
    let long = tkhd.length() >= 1 && view.bytes(tkhd.start, 1)?[0] == 1;
    let matrix = if long { 52 } else { 40 };
    if tkhd.length() < matrix + 44 {
        return Ok(());
    }
    let bytes = view.bytes(tkhd.start + matrix, 44)?;
    let own = signs(&bytes);
    // The track is laid into the movie, which is then turned itself.
    let signs = movie.map_or(own, |[a, b, c, d]| {
        let [e, f, g, h] = own;
        [e * a + f * c, e * b + f * d, g * a + h * c, g * b + h * d]
    });
    let by = if movie.is_some() { "the matrices of track and movie" } else { "the track's matrix" };
    let turn = match signs {
        [1, 0, 0, 1] => Some(0),
        [0, 1, -1, 0] => Some(90),
        [-1, 0, 0, -1] => Some(180),
        [0, -1, 1, 0] => Some(270),
        _ => None,
    };
    match turn {
        Some(turn) => reading.rotation = Some(Said::new(turn, by)),
        None if matches!(signs, [-1, 0, 0, 1] | [1, 0, 0, -1] | [0, 1, 1, 0] | [0, -1, -1, 0]) => {
            reading.remark("The track's matrix mirrors the picture; ignored.");
        }
        None => reading.remark("The rotation of the track's matrix is not a multiple of 90°; ignored."),
    }
    // Some files tell the pixel shape only by the size that the track is shown at.
    let (shown_across, shown_down) = (bytes.be32(36) >> 16, bytes.be32(40) >> 16);
    if let (None, Some(Said { value: (width, height), .. })) = (&reading.pixel_aspect, &reading.raster) {
        let (across, down) = (u64::from(shown_across) * u64::from(*height), u64::from(shown_down) * u64::from(*width));
        if shown_down == *height
            && shown_across > 0
            && across.abs_diff(down) * 200 > down
            && let Some((a, b)) = lowest64(across, down)
        {
            reading.remark(format!(
                "No pasp, but the track is shown {shown_across} × {shown_down}: the pixel aspect may be {a}:{b}."
            ));
        }
    }
    Ok(())
}
