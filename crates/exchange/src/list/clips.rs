//! What other files say, as rows of a list: looked at and mended like any other.

use ratiomet_core::Exact;
use ratiomet_core::project::{Note, Origin, Witness};
use ratiomet_core::published::is_often_squeezed;
use ratiomet_core::sphere::{Layout, SphereForm};
use ratiomet_media::{Failure, Reading, Said, Sphere, Stereo};
use ratiomet_wire::describe::Values;

use super::{ListCells, ListColumn, ListReading, ListRemark, ListRow, Role, RowState, neutral, row};
use crate::clip::{Clip, Plan};

/// The columns of rows that come from files and not from a person.
const COLUMNS: [(Role, &str); 11] = [
    (Role::Name, "name"),
    (Role::Size, "stored size"),
    (Role::PixelAspect, "pixel aspect"),
    (Role::Squeeze, "squeeze"),
    (Role::Insets, "insets"),
    (Role::Rotation, "turn"),
    (Role::Rate, "rate"),
    (Role::Scan, "scan"),
    (Role::SignalRange, "range"),
    (Role::Projection, "picture"),
    (Role::Note, "note"),
];

impl Clip {
    /// Its cells under [`COLUMNS`]. Words that a spreadsheet would compute are protected, as in lists that we
    /// write.
    fn cells(self) -> Vec<String> {
        let Self { name, size, pixel_aspect, squeeze, insets, rotation, rate, scan, signal_range, projection, note } =
            self;
        let (name, note) = (neutral(&name), neutral(&note));
        vec![name, size, pixel_aspect, squeeze, insets, rotation, rate, scan, signal_range, projection, note]
    }
}

fn headed(remarks: Vec<String>, rows: Vec<ListCells>) -> ListReading {
    let columns = COLUMNS.map(|(role, heading)| ListColumn::headed(heading, Some(role)));
    ListReading::of("nothing", true, remarks, columns.into(), rows)
}

/// A file of another program as a list.
pub(super) fn of_plan(plan: Plan) -> ListReading {
    let rows = (1..).zip(plan.clips).map(|(line, clip)| ListCells { line, cells: clip.cells() });
    headed(plan.remarks, rows.collect()).with_frames(plan.frames, plan.framings)
}

/// A clip that was looked at: what it is called, and what its header said.
#[derive(Debug)]
pub struct Looked<'a> {
    /// The name of the file, with folders and ending.
    pub name: &'a str,
    /// What its header said.
    pub reading: &'a Result<Reading, Failure>,
}

/// Files as a list, numbered from a line on.
pub fn of_files(files: &[Looked<'_>], first_line: u32) -> ListReading {
    let rows = (first_line..).zip(files).map(|(line, file)| as_row(line, file)).collect();
    headed(Vec::new(), Vec::new()).with_rows(rows)
}

fn as_row(line: u32, file: &Looked<'_>) -> ListRow {
    let name = called(file.name);
    match file.reading {
        Ok(reading) => {
            let cells = clip_of(name, reading).cells();
            let roles = COLUMNS.map(|(role, _)| Some(role));
            let origin = origin(file.name, reading, &cells);
            let mut row = row::understand(ListCells { line, cells }, &roles);
            row.origin = origin.map(Values);
            row.remarks.extend(remarks(reading));
            row.state = row.remarks.iter().map(|remark| remark.state).max().unwrap_or(RowState::Good);
            row
        }
        Err(failure) => {
            let why = match failure {
                Failure::Unreadable(why) => why.clone(),
                Failure::Needs(..) => "the header is incomplete".to_owned(),
            };
            let cells = Clip { name, ..Clip::default() }.cells();
            let remark = ListRemark { column: None, state: RowState::Bad, text: why };
            ListRow { line, cells, state: RowState::Bad, values: None, origin: None, remarks: vec![remark] }
        }
    }
}

/// Where the values of a file stand in its headers.
fn origin(file: &str, reading: &Reading, cells: &[String]) -> Option<Origin> {
    let plain = |text: &str| text.chars().map(|each| if each.is_control() { ' ' } else { each }).collect::<String>();
    let note = |text: &str| Note::new(&plain(text).chars().take(Note::LONGEST).collect::<String>());
    let witness = |((role, _), cell): (&(Role, &str), &String)| {
        let by = place(reading, *role).filter(|_| !cell.is_empty())?;
        Some(Witness { of: role.aspect()?, value: note(cell)?, by: note(by)? })
    };
    let said = COLUMNS.iter().zip(cells).filter_map(witness).collect();
    let frames = reading.frames.as_ref().and_then(|said| u32::try_from(said.value).ok()).or_else(|| stills(file));
    let frames = frames.filter(|frames| *frames > 0);
    // A report of another program is not the footage.
    let footage = !matches!(reading.format, "ffprobe's JSON" | "MediaInfo's report");
    Some(Origin { file: note(file)?, said, footage, frames })
}

/// How many stills a sequence has, by the numbers in its name.
fn stills(file: &str) -> Option<u32> {
    let (pattern, numbers) = file.rsplit_once(' ')?;
    let (first, last) = numbers.split_once('-').filter(|_| pattern.contains('#'))?;
    last.parse::<u32>().ok()?.checked_sub(first.parse().ok()?)?.checked_add(1)
}

/// Where what a column holds stands in the headers.
fn place(reading: &Reading, role: Role) -> Option<&str> {
    let by = match role {
        Role::Size => reading.raster.as_ref().map(|said| &said.by),
        Role::PixelAspect => reading.pixel_aspect.as_ref().map(|said| &said.by),
        Role::Insets => reading.insets.as_ref().map(|said| &said.by),
        Role::Rotation => reading.rotation.as_ref().map(|said| &said.by),
        Role::Rate => reading.rate.as_ref().map(|said| &said.by),
        Role::Scan => reading.interlaced.as_ref().map(|said| &said.by),
        Role::SignalRange => reading.full_range.as_ref().map(|said| &said.by),
        Role::Projection => reading.sphere.as_ref().map(|said| &said.by),
        _ => None,
    };
    by.map(String::as_str)
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

fn clip_of(name: String, reading: &Reading) -> Clip {
    fn text<T>(said: Option<&Said<T>>, words: impl Fn(&T) -> String) -> String {
        said.map(|said| words(&said.value)).unwrap_or_default()
    }
    let fraction = |(a, b): &(u32, u32)| if *b == 1 { a.to_string() } else { format!("{a}/{b}") };
    Clip {
        name,
        size: text(reading.raster.as_ref(), |(width, height)| format!("{width}x{height}")),
        pixel_aspect: text(reading.pixel_aspect.as_ref(), |aspect| {
            if *aspect == (1, 1) { "1".to_owned() } else { format!("{}:{}", aspect.0, aspect.1) }
        }),
        squeeze: String::new(),
        insets: text(reading.insets.as_ref(), |[left, top, right, bottom]| format!("{left}/{top}/{right}/{bottom}")),
        rotation: text(reading.rotation.as_ref(), u32::to_string),
        rate: text(reading.rate.as_ref(), fraction),
        scan: text(reading.interlaced.as_ref(), |interlaced| {
            if *interlaced { "interlaced" } else { "progressive" }.to_owned()
        }),
        signal_range: text(reading.full_range.as_ref(), |full| if *full { "full" } else { "narrow" }.to_owned()),
        projection: text(reading.sphere.as_ref(), |sphere| sphere_words(sphere, reading)),
        note: note(reading),
    }
}

/// A sphere as lists write it: with its span where the stored picture is a middle part of it, and its layout.
fn sphere_words(sphere: &Sphere, reading: &Reading) -> String {
    let mut words = "sphere".to_owned();
    if let (Some([width, height, left, top]), Some((own_width, own_height))) =
        (sphere.part_of, reading.raster.as_ref().map(|said| said.value))
    {
        let form = SphereForm {
            layout: match sphere.stereo {
                Stereo::Mono => Layout::Mono,
                Stereo::TopBottom => Layout::TopBottom,
                Stereo::SideBySide => Layout::SideBySide,
            },
            ..SphereForm::default()
        };
        let [eye_width, eye_height] = form.eye([own_width, own_height]);
        let middle = |whole: u32, before: u32, own: u32| whole >= own && (whole - own).abs_diff(2 * before) <= 2;
        if width > 0 && height > 0 && middle(width, left, eye_width) && middle(height, top, eye_height) {
            let degrees = |own: u32, whole: u32, all: u32| {
                (Exact::whole(all) * Exact::whole(own) / Exact::whole(whole)).to_short_decimal(4)
            };
            words.push_str(&format!(" {}x{}", degrees(eye_width, width, 360), degrees(eye_height, height, 180)));
        }
    }
    if sphere.stereo != Stereo::Mono {
        words.push(' ');
        words.push_str(sphere.stereo.word());
        if sphere.right_first {
            words.push_str(" right_first");
        }
    }
    words
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
    for (column, (role, _)) in COLUMNS.iter().enumerate() {
        if let Some(by) = place(reading, *role) {
            remarks.push(ListRemark { column: Some(column), state: RowState::Good, text: format!("from {by}") });
        }
    }
    for remark in &reading.remarks {
        remarks.push(ListRemark { column: None, state: RowState::Doubtful, text: remark.clone() });
    }
    let square = reading.pixel_aspect.as_ref().is_none_or(|said| said.value == (1, 1));
    if let (true, None, Some(Said { value: (width, height), .. })) = (square, &reading.sphere, &reading.raster) {
        let shape = Exact::whole(*width) / Exact::whole(*height);
        if is_often_squeezed(&shape) && *width >= 1200 {
            let twice = &shape * &Exact::whole(2);
            let text = format!(
                "Stored {} wide with square pixels. If it is anamorphic, enter the squeeze (2 would show {}).",
                shape.to_decimal(2),
                twice.to_decimal(2)
            );
            remarks.push(ListRemark { column: at(Role::Squeeze), state: RowState::Doubtful, text });
        }
    }
    remarks
}
