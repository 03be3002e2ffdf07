//! DNG (the raw form of TIFF, DNG specification 1.7, from memory): the full-size picture of its directories, which is
//! seldom the first.

use crate::reading::{Reading, Said, known_rate, lowest64};
use crate::view::{Stop, View};

/// The tag that says that a file is one.
const VERSION: u16 = 50_706;
/// How deep directories may lie in each other, and how many there may be.
const DEEPEST: usize = 3;
const MOST: usize = 64;
/// The most values of a tag that are read.
const MOST_VALUES: u32 = 64;

/// The directories of a file in either order of bytes.
struct Directories<'a, 'b> {
    view: &'a View<'b>,
    little: bool,
}

/// A tag: what it is, how its values are written, how many there are, and where.
#[derive(Clone, Copy)]
struct Entry {
    tag: u16,
    kind: u16,
    count: u32,
    at: u64,
}

/// A directory.
type Directory = Vec<Entry>;

/// Reads a file, if it is one.
pub(super) fn read(view: &View<'_>) -> Result<Option<Reading>, Stop> {
    let head = view.up_to(0, 8)?;
    let file = Directories { view, little: head.starts_with(b"II") };
    if head.len() < 8 || file.short(&head[2..]) != 42 {
        return Ok(None);
    }
    let (first, _) = file.directory(u64::from(file.long(&head[4..])))?;
    if !first.iter().any(|entry| entry.tag == VERSION) {
        return Ok(None);
    }
    let mut all = vec![first.clone()];
    file.below(&first, DEEPEST, &mut all)?;
    let mut reading = Reading::of("DNG");
    let mut best: Option<(u64, Directory)> = None;
    for directory in all {
        // 0 is the full-size picture; 1 a smaller one, 4 a mask.
        if file.one(&directory, 254)?.unwrap_or(0.0) != 0.0 {
            continue;
        }
        let (width, height) = (file.one(&directory, 256)?.unwrap_or(0.0), file.one(&directory, 257)?.unwrap_or(0.0));
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "products of two of 32 bits")]
        let area = (width * height) as u64;
        if area > 0 && best.as_ref().is_none_or(|(largest, _)| area > *largest) {
            best = Some((area, directory));
        }
    }
    let Some((_, directory)) = best else { return Ok(Some(reading)) };
    picture(&file, &first, &directory, &mut reading)?;
    Ok(Some(reading))
}

fn picture(file: &Directories<'_, '_>, first: &Directory, own: &Directory, reading: &mut Reading) -> Result<(), Stop> {
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a cast that saturates")]
    let side = |value: f64| value.round() as u32;
    let raster = (side(file.one(own, 256)?.unwrap_or(0.0)), side(file.one(own, 257)?.unwrap_or(0.0)));
    reading.raster = Some(Said::new(raster, "ImageWidth and ImageLength of the full-size picture"));
    // The picture without masked pixels, and within it the part that is meant to be shown.
    let area = match file.all(own, 50_829)?.as_slice() {
        [top, left, bottom, right] => [*left, *top, *right, *bottom],
        _ => [0.0, 0.0, f64::from(raster.0), f64::from(raster.1)],
    };
    let (corner, size) = (file.all(own, 50_719)?, file.all(own, 50_720)?);
    let shown = match (corner.as_slice(), size.as_slice()) {
        ([x, y], [width, height]) => [area[0] + x, area[1] + y, area[0] + x + width, area[1] + y + height],
        _ => area,
    };
    let insets = [shown[0], shown[1], f64::from(raster.0) - shown[2], f64::from(raster.1) - shown[3]];
    if insets.iter().all(|side| *side >= 0.0) {
        reading.insets = Some(Said::new(insets.map(|inset| side(inset.floor())), "ActiveArea and DefaultCrop"));
        if insets.iter().any(|side| side.fract() != 0.0) {
            reading.remark("The crop (DefaultCrop) was widened to whole pixels.");
        }
    } else {
        reading.remark("The crop (DefaultCrop) is outside the picture; ignored.");
    }
    if let [across, down] = file.all(own, 50_718)?[..] {
        let thousandths = |scale: f64| side(scale * 100_000.0);
        let shape = lowest64(u64::from(thousandths(across)), u64::from(thousandths(down)));
        reading.pixel_aspect = shape.map(|shape| Said::new(shape, "DefaultScale"));
    }
    if let Some(turn) = file.one(first, 274)? {
        super::super::turn(side(turn), "Orientation", reading);
    }
    if let Some(rate) = file.one(first, 51_044)?.filter(|rate| *rate > 0.0) {
        reading.rate = Some(Said::new(known_rate(rate), "FrameRate"));
    }
    reading.full_range = Some(Said::new(true, "DNG, which holds what the sensor counted"));
    reading.interlaced = Some(Said::new(false, "DNG, of which each is one moment"));
    Ok(())
}

impl Directories<'_, '_> {
    fn short(&self, bytes: &[u8]) -> u16 {
        let two = bytes.first_chunk().copied().unwrap_or_default();
        if self.little { u16::from_le_bytes(two) } else { u16::from_be_bytes(two) }
    }

    fn long(&self, bytes: &[u8]) -> u32 {
        let four = bytes.first_chunk().copied().unwrap_or_default();
        if self.little { u32::from_le_bytes(four) } else { u32::from_be_bytes(four) }
    }

    /// A directory, and where the next one is.
    fn directory(&self, at: u64) -> Result<(Directory, u64), Stop> {
        let count = u64::from(self.short(&self.view.bytes(at, 2)?));
        let bytes = self.view.up_to(at + 2, count * 12 + 4)?;
        let entries = bytes.chunks_exact(12).take(usize::try_from(count).unwrap_or(0)).enumerate();
        let entry = |(number, bytes): (usize, &[u8])| Entry {
            tag: self.short(bytes),
            kind: self.short(&bytes[2..]),
            count: self.long(&bytes[4..]),
            at: at + 2 + number as u64 * 12 + 8,
        };
        let next = bytes.get(usize::try_from(count * 12).unwrap_or(0)..).map_or(0, |rest| self.long(rest));
        Ok((entries.map(entry).collect(), u64::from(next)))
    }

    /// The directories that one refers to.
    fn below(&self, directory: &Directory, deep: usize, all: &mut Vec<Directory>) -> Result<(), Stop> {
        for at in self.all(directory, 330)? {
            if all.len() >= MOST || deep == 0 {
                return Ok(());
            }
            #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "it was of 32 bits")]
            let (found, _) = self.directory(at as u64)?;
            all.push(found.clone());
            self.below(&found, deep - 1, all)?;
        }
        Ok(())
    }

    fn one(&self, directory: &Directory, tag: u16) -> Result<Option<f64>, Stop> {
        Ok(self.all(directory, tag)?.first().copied())
    }

    /// The values of a tag as numbers; none for a tag that is not there.
    fn all(&self, directory: &Directory, tag: u16) -> Result<Vec<f64>, Stop> {
        let Some(entry) = directory.iter().find(|entry| entry.tag == tag) else { return Ok(Vec::new()) };
        let size: u64 = match entry.kind {
            3 => 2,
            4 | 13 => 4,
            5 | 10 => 8,
            _ => return Ok(Vec::new()),
        };
        let length = size * u64::from(entry.count.min(MOST_VALUES));
        // Up to four bytes stand where else is said where they are.
        let at = if length <= 4 { entry.at } else { u64::from(self.long(&self.view.bytes(entry.at, 4)?)) };
        let bytes = self.view.bytes(at, length)?;
        let value = |bytes: &[u8]| match entry.kind {
            3 => f64::from(self.short(bytes)),
            5 => f64::from(self.long(bytes)) / f64::from(self.long(&bytes[4..]).max(1)),
            10 => f64::from(self.long(bytes).cast_signed()) / f64::from(self.long(&bytes[4..]).cast_signed().max(1)),
            _ => f64::from(self.long(bytes)),
        };
        Ok(bytes.chunks_exact(usize::try_from(size).unwrap_or(1)).map(value).collect())
    }
}
