//! Lists of footage as people paste them: rows out of a spreadsheet, CSV, TSV.
//!
//! `split` finds the cells, `heading` what the columns hold, `cell` what a cell means, `row` makes
//! sources of rows; `file` makes rows of what files say, `plan_file` of timelines and framing lists; `write` is the way back. Nothing is dropped: a row that is not understood stays
//! in the answer with what is wrong with it.

mod cell;
mod file;
mod heading;
mod plan_file;
mod row;
mod split;
mod write;

use serde::Serialize;
use utoipa::ToSchema;

use crate::project::{FrameValues, SourceValues};
use crate::read::{Field, Object};
pub use file::{Looked, of_files};
pub use heading::Role;
pub use write::{neutral, sources_csv};

/// The most rows of one list.
pub const MOST_ROWS: usize = 20_000;
/// The most characters of one cell.
pub const LONGEST_CELL: usize = 1_000;
/// The most columns of one list.
pub const MOST_COLUMNS: usize = 200;

/// The columns of rows that come from files and not from a person.
const COLUMNS: [(Role, &str); 10] = [
    (Role::Name, "name"),
    (Role::Size, "stored size"),
    (Role::PixelAspect, "pixel aspect"),
    (Role::Squeeze, "squeeze"),
    (Role::Insets, "insets"),
    (Role::Rotation, "turn"),
    (Role::Rate, "rate"),
    (Role::Scan, "scan"),
    (Role::SignalRange, "range"),
    (Role::Note, "note"),
];

fn headed() -> Vec<ListColumn> {
    COLUMNS.map(|(role, heading)| ListColumn { heading: heading.to_owned(), role: Some(role) }).into()
}

/// A list to be read: either its text, or its cells with what each column holds.
#[derive(Debug, Serialize, ToSchema)]
pub struct ListRequest {
    /// The text as it was pasted.
    #[schema(required = false)]
    pub text: Option<String>,
    /// What each column holds; null for a column that is not used.
    #[schema(required = false)]
    pub columns: Option<Vec<Option<Role>>>,
    /// The rows to be read again.
    #[schema(required = false)]
    pub rows: Option<Vec<ListCells>>,
}

/// The cells of a row.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ListCells {
    /// The line of the list where the row begins, from 1.
    pub line: u32,
    /// Its cells.
    pub cells: Vec<String>,
}

/// How a list was understood.
#[derive(Debug, Serialize, ToSchema)]
pub struct ListReading {
    /// What separates the cells: tab, comma, semicolon, bar, or nothing.
    pub separator: &'static str,
    /// Whether the first row holds headings.
    pub headed: bool,
    /// What was noticed about the list as a whole.
    pub remarks: Vec<String>,
    /// The columns.
    pub columns: Vec<ListColumn>,
    /// The rows, headings left out, in order.
    pub rows: Vec<ListRow>,
    /// Frames that the list names beside its footage: templates of a Framing Decision List, frames of a
    /// timeline of ours.
    pub frames: Vec<FrameValues>,
    /// How many rows are understood without doubt, with doubt, and not at all.
    pub good: usize,
    /// With doubt.
    pub doubtful: usize,
    /// Not at all.
    pub bad: usize,
}

/// A column of a list.
#[derive(Debug, Serialize, ToSchema)]
pub struct ListColumn {
    /// Its heading as it stands; empty without one.
    pub heading: String,
    /// What it holds; null when it is not used.
    pub role: Option<Role>,
}

/// A row of a list.
#[derive(Debug, Serialize, ToSchema)]
pub struct ListRow {
    /// The line of the list where it begins, from 1.
    pub line: u32,
    /// Its cells, one for each column; very long ones are cut short.
    pub cells: Vec<String>,
    /// How well it is understood.
    pub state: RowState,
    /// The source that it describes; null when it is not understood.
    pub values: Option<SourceValues>,
    /// What is to be said about its cells.
    pub remarks: Vec<ListRemark>,
}

/// How well a row is understood.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum RowState {
    /// Without doubt.
    Good,
    /// Something was assumed that should be looked at.
    Doubtful,
    /// Something is missing or cannot be read.
    Bad,
}

/// A remark about a cell or a row.
#[derive(Debug, Serialize, ToSchema)]
pub struct ListRemark {
    /// The column; null for the row as a whole.
    pub column: Option<usize>,
    /// How much it matters: good for what is only said, doubtful, bad.
    pub state: RowState,
    /// What is said.
    pub text: String,
}

/// A list that has been read from a request.
#[derive(Debug)]
pub enum List {
    /// Its text.
    Text(String),
    /// Its cells with what the columns hold.
    Cells(Vec<Option<Role>>, Vec<ListCells>),
}

/// Reads a request.
pub fn read_list(field: &Field<'_>) -> Option<List> {
    let object = field.object()?;
    let text = object.nullable("text", |field| field.string("a text").map(|text| text.into_owned()));
    let columns = object.nullable("columns", |field| {
        let accepted = format!("an array of what each of at most {MOST_COLUMNS} columns holds");
        let fields = field.array(&accepted)?;
        if fields.len() > MOST_COLUMNS {
            return field.refuse(accepted);
        }
        let role = |field: &Field<'_>| if field.is_null() { Some(None) } else { field.word(&Role::WORDS).map(Some) };
        fields.iter().map(role).collect::<Vec<_>>().into_iter().collect::<Option<Vec<_>>>()
    });
    let rows = object.nullable("rows", read_rows);
    object.done()?;
    match (text?, columns?, rows?) {
        (Some(text), None, None) => Some(List::Text(text)),
        (None, Some(columns), Some(rows)) => Some(List::Cells(columns, rows)),
        _ => field.refuse("either text, or both columns and rows"),
    }
}

fn read_rows(field: &Field<'_>) -> Option<Vec<ListCells>> {
    let accepted = format!("an array of at most {MOST_ROWS} rows");
    let rows = field.array(&accepted)?;
    if rows.len() > MOST_ROWS {
        return field.refuse(accepted);
    }
    let read = |field: &Field<'_>| {
        let object: Object<'_> = field.object()?;
        let line = object.required("line", |field| field.whole("the number of a line"));
        let cells = object.required("cells", |field| {
            let cells = field.array("an array of texts")?;
            let text = |field: &Field<'_>| field.string("a text").map(|text| text.into_owned());
            cells.iter().map(text).collect::<Vec<_>>().into_iter().collect::<Option<Vec<_>>>()
        });
        object.done()?;
        Some(ListCells { line: line?, cells: cells? })
    };
    rows.iter().map(read).collect::<Vec<_>>().into_iter().collect()
}

impl List {
    /// How it is understood.
    ///
    /// # Errors
    /// A sentence, when it has too many rows or columns.
    pub fn understand(self) -> Result<ListReading, String> {
        match self {
            Self::Cells(columns, rows) => {
                let columns = columns.into_iter().map(|role| ListColumn { heading: String::new(), role }).collect();
                Ok(reading("nothing", false, Vec::new(), columns, rows))
            }
            Self::Text(text) => {
                if let Some(plan) = plan_file::read(&text) {
                    let plan = plan?;
                    let mut read = reading("nothing", true, plan.remarks, headed(), plan.rows);
                    read.frames = plan.frames.iter().map(Into::into).collect();
                    return Ok(read);
                }
                let split::Table { separator, mut rows, mut remarks } = split::split(&text)?;
                let columns = heading::columns(&rows);
                if columns.headed && !rows.is_empty() {
                    rows.remove(0);
                } else if !rows.is_empty() {
                    remarks.push(
                        "The first row holds no headings that are known: what the columns hold was guessed from their \
                         cells."
                            .to_owned(),
                    );
                }
                Ok(reading(separator, columns.headed, remarks, columns.columns, rows))
            }
        }
    }
}

fn reading(
    separator: &'static str,
    headed: bool,
    remarks: Vec<String>,
    columns: Vec<ListColumn>,
    rows: Vec<ListCells>,
) -> ListReading {
    let roles: Vec<_> = columns.iter().map(|column| column.role).collect();
    let mut rows: Vec<_> = rows.into_iter().map(|row| row::understand(row, &roles)).collect();
    row::mark_twins(&mut rows, &roles);
    let count = |state| rows.iter().filter(|row| row.state == state).count();
    ListReading {
        separator,
        headed,
        remarks,
        columns,
        good: count(RowState::Good),
        doubtful: count(RowState::Doubtful),
        bad: count(RowState::Bad),
        frames: Vec::new(),
        rows,
    }
}
