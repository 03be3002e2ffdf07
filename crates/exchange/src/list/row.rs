//! From a row to a source.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Footage, Name, Note, SourceSpec};
use ratiomet_core::signal::{Projection, Scan, SignalRange};
use ratiomet_core::sphere::SphereForm;
use ratiomet_core::subject::SubjectSpec;
use ratiomet_core::{FrameRate, Insets, PixelAspect, Raster, Rotation, Squeeze};
use ratiomet_wire::describe::Values;
use ratiomet_wire::problem::must_be;

use super::cell::{self, Meant};
use super::{LONGEST_CELL, ListCells, ListRemark, ListRow, Role, RowState};

/// The remarks about one row, as they are found.
#[derive(Default)]
struct Remarks(Vec<ListRemark>);

impl Remarks {
    fn add(&mut self, column: Option<usize>, state: RowState, text: impl Into<String>) {
        self.0.push(ListRemark { column, state, text: text.into() });
    }

    /// The value of a cell, its remarks noted.
    fn settle<T>(&mut self, column: usize, read: Result<Meant<T>, String>) -> Option<T> {
        match read {
            Ok(Meant { value, note, doubt }) => {
                if let Some(note) = note {
                    self.add(Some(column), RowState::Good, note);
                }
                if let Some(doubt) = doubt {
                    self.add(Some(column), RowState::Doubtful, doubt);
                }
                Some(value)
            }
            Err(accepted) => {
                self.add(Some(column), RowState::Bad, must_be(&accepted));
                None
            }
        }
    }
}

/// What the cells of a row say.
#[derive(Default)]
struct Told {
    name: Option<Name>,
    note: Option<Note>,
    raster: Option<Raster<ratiomet_core::space::Stored>>,
    sides: [Option<u32>; 2],
    pixel_aspect: Option<Written<PixelAspect>>,
    squeeze: Option<Written<Squeeze>>,
    rotation: Option<Rotation>,
    rate: Option<Written<FrameRate>>,
    interlaced: bool,
    scan: Option<Scan>,
    signal_range: Option<SignalRange>,
    projection: Option<(Projection, SphereForm)>,
    insets: [Option<u32>; 4],
    subject: Option<SubjectSpec>,
}

/// What a row means, given what its columns hold.
pub(super) fn understand(row: ListCells, roles: &[Option<Role>]) -> ListRow {
    let ListCells { line, mut cells } = row;
    cells.resize(roles.len(), String::new());
    let mut remarks = Remarks::default();
    let mut told = Told::default();
    for (column, cell) in cells.iter_mut().enumerate() {
        let length = cell.chars().count();
        if length > LONGEST_CELL {
            let text = format!("a cell of at most {LONGEST_CELL} characters; this one has {length}");
            remarks.add(Some(column), RowState::Bad, text);
            *cell = cell.chars().take(80).chain(['…']).collect();
        } else if let (Some(role), false) = (roles[column], cell.is_empty()) {
            take(&mut told, &mut remarks, role, column, cell);
        }
    }
    let footage = footage(told, &mut remarks, roles);
    let state = remarks.0.iter().map(|remark| remark.state).max().unwrap_or(RowState::Good);
    let values = footage.filter(|_| state != RowState::Bad).map(Values);
    ListRow { line, cells, state, values, origin: None, remarks: remarks.0 }
}

fn take(told: &mut Told, remarks: &mut Remarks, role: Role, column: usize, cell: &str) {
    let free_words = matches!(role, Role::Name | Role::Note);
    if cell::is_formula(cell) {
        if free_words {
            remarks.add(Some(column), RowState::Doubtful, "Looks like a formula; kept as plain text.");
        } else {
            remarks.add(Some(column), RowState::Bad, "Must be a value; this is a formula. Paste its result.");
            return;
        }
    }
    // Our own lists put an apostrophe before what a spreadsheet would compute.
    let words = cell.strip_prefix('\'').filter(|rest| rest.starts_with(['=', '+', '-', '@', '\''])).unwrap_or(cell);
    match role {
        Role::Name => {
            let name = Name::new(words);
            told.name = remarks.settle(
                column,
                name.map(plain).ok_or_else(|| format!("a name of at most {} characters", Name::LONGEST)),
            );
        }
        Role::Note => {
            let note = Note::new(words);
            told.note =
                remarks.settle(column, note.map(plain).ok_or_else(|| "a note without control characters".to_owned()));
        }
        Role::Size => {
            if let Some(cell::Sized { raster, rate, interlaced }) = remarks.settle(column, cell::size_and_rate(cell)) {
                told.raster = Some(raster);
                told.interlaced |= interlaced == Some(true);
                if let (None, Some(Ok(rate))) = (&told.rate, rate.map(|rate| cell::rate(&rate))) {
                    told.rate = remarks.settle(column, Ok(rate.meant));
                }
            }
        }
        Role::Width => told.sides[0] = remarks.settle(column, cell::side(cell)),
        Role::Height => told.sides[1] = remarks.settle(column, cell::side(cell)),
        Role::PixelAspect => told.pixel_aspect = remarks.settle(column, cell::pixel_aspect(cell)),
        Role::Squeeze => told.squeeze = remarks.settle(column, cell::squeeze(cell)),
        Role::Rotation => told.rotation = remarks.settle(column, cell::rotation(cell)),
        Role::Rate => {
            let rate = cell::rate(cell);
            told.interlaced |= rate.as_ref().is_ok_and(|rate| rate.interlaced);
            told.rate = remarks.settle(column, rate.map(|rate| rate.meant));
        }
        Role::Scan => told.scan = remarks.settle(column, cell::scan(cell)),
        Role::SignalRange => told.signal_range = remarks.settle(column, cell::signal_range(cell)),
        Role::Projection => told.projection = remarks.settle(column, cell::projection(cell)),
        Role::Insets => {
            if let Some(sides) = remarks.settle(column, cell::insets(cell)) {
                told.insets = sides.map(Some);
            }
        }
        Role::Subject => told.subject = remarks.settle(column, cell::subject(cell)),
        Role::Left | Role::Top | Role::Right | Role::Bottom => {
            let side = [Role::Left, Role::Top, Role::Right, Role::Bottom].iter().position(|each| *each == role);
            if let Some(side) = side {
                told.insets[side] = remarks.settle(column, cell::side(cell));
            }
        }
    }
}

fn plain<T>(value: T) -> Meant<T> {
    Meant { value, note: None, doubt: None }
}

fn footage(told: Told, remarks: &mut Remarks, roles: &[Option<Role>]) -> Option<Footage> {
    let at = |role: Role| roles.iter().position(|each| *each == Some(role));
    let missing = |remarks: &mut Remarks, role: Role, text: &str| {
        let column = at(role);
        let already = column.is_some_and(|at| {
            remarks.0.iter().any(|remark| remark.column == Some(at) && remark.state == RowState::Bad)
        });
        if !already {
            remarks.add(column, RowState::Bad, text);
        }
    };
    if told.name.is_none() {
        missing(remarks, Role::Name, "Must have a name; this row has none.");
    }
    let raster = match (told.raster, told.sides) {
        (Some(raster), _) => Some(raster),
        (None, [Some(width), Some(height)]) => match Raster::new(width, height) {
            Ok(raster) => Some(raster),
            Err(error) => {
                remarks.add(at(Role::Width), RowState::Bad, must_be(&error.to_string()));
                None
            }
        },
        (None, _) => {
            let role = if at(Role::Size).is_some() { Role::Size } else { Role::Width };
            missing(remarks, role, "Must have a stored size such as 3840x2160; this row has none.");
            None
        }
    };
    let scan = told.scan.or_else(|| told.interlaced.then_some(Scan::Interlaced));
    let [left, top, right, bottom] = told.insets.map(|side| side.unwrap_or(0));
    let geometry = SourceSpec::new(
        raster?,
        told.pixel_aspect.unwrap_or_else(|| Written::of(PixelAspect::SQUARE, PixelAspect::value)),
        told.squeeze.unwrap_or_else(|| Written::of(Squeeze::NONE, Squeeze::value)),
        Insets { left, top, right, bottom },
        told.rotation.unwrap_or_default(),
    );
    let geometry = match geometry {
        Ok(geometry) => geometry,
        Err(error) => {
            remarks.add(at(Role::Insets).or_else(|| at(Role::Left)), RowState::Bad, must_be(&error.to_string()));
            return None;
        }
    };
    let (projection, sphere) = told.projection.unwrap_or_default();
    Some(Footage {
        note: told.note.unwrap_or_default(),
        rate: told.rate,
        scan,
        signal_range: told.signal_range,
        projection,
        sphere,
        // A turn that is stated settles which way up it is; none at all is what a list says of anything.
        upright_known: told.rotation.is_some_and(|rotation| rotation != Rotation::None),
        subject: told.subject,
        ..Footage::of(told.name?, geometry)
    })
}
