//! What the header of a file said, as a row of a list: looked at and mended like any other.

use ratiomet_media::{Failure, Reading, Said};

use super::{COLUMNS, ListCells, ListReading, ListRemark, ListRow, Role, RowState, headed, reading, row};

/// A clip that was looked at: what it is called, and what its header said.
#[derive(Debug)]
pub struct Looked<'a> {
    /// The name of the file, with folders and ending.
    pub name: &'a str,
    /// What its header said.
    pub reading: &'a Result<Reading, Failure>,
}

/// What somebody may have meant where the file only knows square pixels: shapes that anamorphic lenses
/// fill (common practice).
const NARROW: std::ops::RangeInclusive<f64> = 1.15..=1.40;

/// Files as a list, numbered from a line on.
pub fn of_files(files: &[Looked<'_>], first_line: u32) -> ListReading {
    let mut read = reading("nothing", true, Vec::new(), headed(), Vec::new());
    read.rows = (first_line..).zip(files).map(|(line, file)| as_row(line, file)).collect();
    let count = |state| read.rows.iter().filter(|row| row.state == state).count();
    (read.good, read.doubtful, read.bad) = (count(RowState::Good), count(RowState::Doubtful), count(RowState::Bad));
    read
}

fn as_row(line: u32, file: &Looked<'_>) -> ListRow {
    let name = called(file.name);
    match file.reading {
        Ok(reading) => {
            let cells = cells(name, reading);
            let roles = COLUMNS.map(|(role, _)| Some(role));
            let mut row = row::understand(ListCells { line, cells }, &roles);
            row.remarks.extend(remarks(reading));
            row.state = row.remarks.iter().map(|remark| remark.state).max().unwrap_or(RowState::Good);
            row
        }
        Err(failure) => {
            let why = match failure {
                Failure::Unreadable(why) => why.clone(),
                Failure::Needs(..) => "not all of its header is at hand".to_owned(),
            };
            let mut cells = vec![super::neutral(&name)];
            cells.resize(COLUMNS.len(), String::new());
            let remark = ListRemark { column: None, state: RowState::Bad, text: format!("Not read: {why}") };
            ListRow { line, cells, state: RowState::Bad, values: None, remarks: vec![remark] }
        }
    }
}

/// A file's name without folders and ending; a sequence keeps its numbers.
fn called(file: &str) -> String {
    let last = file.rsplit(['/', '\\']).next().unwrap_or(file);
    let (stem, numbers) = match last.rsplit_once(' ') {
        Some((pattern, numbers)) if pattern.contains('#') => (pattern, format!(" {numbers}")),
        _ => (last, String::new()),
    };
    let stem = stem.rsplit_once('.').map_or(stem, |(stem, _)| if stem.is_empty() { last } else { stem });
    let plain: String = stem.chars().map(|each| if each.is_control() { ' ' } else { each }).collect();
    format!("{}{numbers}", plain.trim())
}

fn cells(name: String, reading: &Reading) -> Vec<String> {
    fn text<T>(said: Option<&Said<T>>, words: impl Fn(&T) -> String) -> String {
        said.map(|said| words(&said.value)).unwrap_or_default()
    }
    let fraction = |(a, b): &(u32, u32)| if *b == 1 { a.to_string() } else { format!("{a}/{b}") };
    // A name that a spreadsheet would compute is protected, as in lists that we write.
    vec![
        super::neutral(&name),
        text(reading.raster.as_ref(), |(width, height)| format!("{width}x{height}")),
        text(reading.pixel_aspect.as_ref(), |aspect| {
            if *aspect == (1, 1) { "1".to_owned() } else { format!("{}:{}", aspect.0, aspect.1) }
        }),
        String::new(),
        text(reading.insets.as_ref(), |[left, top, right, bottom]| format!("{left}/{top}/{right}/{bottom}")),
        text(reading.rotation.as_ref(), u32::to_string),
        text(reading.rate.as_ref(), fraction),
        text(reading.interlaced.as_ref(), |interlaced| {
            if *interlaced { "interlaced" } else { "progressive" }.to_owned()
        }),
        text(reading.full_range.as_ref(), |full| if *full { "full" } else { "narrow" }.to_owned()),
        note(reading),
    ]
}

fn note(reading: &Reading) -> String {
    let mut note = reading.format.to_owned();
    if let Some(codec) = &reading.codec {
        note.push(' ');
        note.extend(codec.chars().filter(|each| !each.is_control()));
    }
    if let Some(Said { value, by }) = &reading.sphere {
        note.push_str(&format!("; sphere, {}, {} by {by}", value.projection, value.stereo.word().replace('_', " ")));
        if let Some([width, height, left, top]) = value.part_of {
            note.push_str(&format!(", a part of {width}x{height} at {left}, {top}"));
        }
    }
    note
}

/// Where each value stands, what contradicts itself, and what only the lens could know.
fn remarks(reading: &Reading) -> Vec<ListRemark> {
    let at = |role: Role| COLUMNS.iter().position(|(each, _)| *each == role);
    let mut remarks = Vec::new();
    let mut stands = |role: Role, by: Option<&String>| {
        if let Some(by) = by {
            remarks.push(ListRemark { column: at(role), state: RowState::Good, text: format!("from {by}") });
        }
    };
    stands(Role::Size, reading.raster.as_ref().map(|said| &said.by));
    stands(Role::PixelAspect, reading.pixel_aspect.as_ref().map(|said| &said.by));
    stands(Role::Insets, reading.insets.as_ref().map(|said| &said.by));
    stands(Role::Rotation, reading.rotation.as_ref().map(|said| &said.by));
    stands(Role::Rate, reading.rate.as_ref().map(|said| &said.by));
    stands(Role::Scan, reading.interlaced.as_ref().map(|said| &said.by));
    stands(Role::SignalRange, reading.full_range.as_ref().map(|said| &said.by));
    for remark in &reading.remarks {
        remarks.push(ListRemark { column: None, state: RowState::Doubtful, text: remark.clone() });
    }
    let square = reading.pixel_aspect.as_ref().is_none_or(|said| said.value == (1, 1));
    if let (true, None, Some(Said { value: (width, height), .. })) = (square, &reading.sphere, &reading.raster) {
        let shape = f64::from(*width) / f64::from(*height);
        if NARROW.contains(&shape) && *width >= 1200 {
            let text = format!(
                "stored {shape:.2} wide with square pixels: if the lens squeezed it, type by how much (2 would show {:.2})",
                2.0 * shape
            );
            remarks.push(ListRemark { column: at(Role::Squeeze), state: RowState::Doubtful, text });
        }
    }
    remarks
}
