//! Lists of footage as people paste them: rows out of a spreadsheet, CSV, TSV.
//!
//! `encoding` makes text of bytes, `split` finds the cells, `heading` what the columns hold by the `vocabulary`, `cell`
//! what a cell means, `row` makes sources of rows; `clips` makes rows of what other files say; `write` is the way back.
//! Nothing is dropped: a row that is not understood stays in the answer with what is wrong with it.

mod cell;
mod clips;
mod encoding;
mod heading;
mod reading;
mod role;
mod row;
mod split;
mod vocabulary;
mod write;

use ratiomet_wire::describe::{List, Refused, record};
use ratiomet_wire::{Text, Whole};

use crate::{Plan, crowded, fdl, otio};

pub use clips::{Looked, of_files};
pub use encoding::text_of;
pub use reading::{ListColumn, ListReading, ListRemark, ListRow, PASTED, RowState};
pub use role::Role;
pub use write::{neutral, sources_csv};

/// The most rows of one list.
pub const MOST_ROWS: usize = 20_000;
/// The most characters of one cell.
pub const LONGEST_CELL: usize = 1_000;
/// The most columns of one list.
pub const MOST_COLUMNS: usize = 200;

/// A list to be read.
#[derive(Clone, Debug)]
pub enum ListRequest {
    /// Its text as it was pasted.
    Text(String),
    /// Its cells with what the columns hold.
    Cells(Vec<Option<Role>>, Vec<ListCells>),
}

/// The cells of a row.
#[derive(Clone, Debug)]
pub struct ListCells {
    /// The line of the list where the row begins, from 1.
    pub line: u32,
    /// Its cells.
    pub cells: Vec<String>,
}

type Cells = List<Text<{ usize::MAX }>, 0, MOST_COLUMNS>;
type Columns = List<Option<Role>, 0, MOST_COLUMNS>;
type Rows = List<ListCells, 0, MOST_ROWS>;

record!(
    /// The cells of a row.
    "ListCells", "rows" for ListCells {
        /// The line of the list where the row begins, from 1.
        line: Whole<0, { u32::MAX }> = Required, |row| Whole::new(row.line);
        /// Its cells.
        cells: Cells = Required, |row| List(row.cells.iter().cloned().map(Text).collect());
    }
    |line, cells| Ok(ListCells { line: line.get(), cells: cells.0.into_iter().map(|cell| cell.0).collect() })
);

record!(
    /// A list to be read: either its text, or its cells with what each column holds.
    "ListRequest", "lists" for ListRequest {
        /// The text as it was pasted.
        text: Option<Text<{ usize::MAX }>> = Default("null"), |list| match list {
            ListRequest::Text(text) => Some(Text(text.clone())),
            ListRequest::Cells(..) => None,
        };
        /// What each column holds; null for a column that is not used.
        columns: Option<Columns> = Default("null"), |list| match list {
            ListRequest::Text(_) => None,
            ListRequest::Cells(columns, _) => Some(List(columns.clone())),
        };
        /// The rows to be read again.
        rows: Option<Rows> = Default("null"), |list| match list {
            ListRequest::Text(_) => None,
            ListRequest::Cells(_, rows) => Some(List(rows.clone())),
        };
    }
    |text, columns, rows| match (text, columns, rows) {
        (Some(text), None, None) => Ok(ListRequest::Text(text.0)),
        (None, Some(columns), Some(rows)) => Ok(ListRequest::Cells(columns.0, rows.0)),
        _ => Err(Refused::Accepted("either text, or both columns and rows")),
    }
);

impl ListRequest {
    /// How it is understood.
    ///
    /// # Errors
    /// A sentence, when it has too many rows or columns.
    pub fn understand(self) -> Result<ListReading, String> {
        match self {
            Self::Cells(columns, rows) => {
                let columns = columns.into_iter().map(ListColumn::without_heading).collect();
                Ok(ListReading::of("nothing", false, Vec::new(), columns, rows))
            }
            Self::Text(text) => match plan(&text) {
                Some(plan) => Ok(clips::of_plan(plan?)),
                None => table(&text),
            },
        }
    }
}

/// A text that is a file of another program; none for any other text.
///
/// # Errors
/// A sentence, for JSON that is damaged or that is no such file.
fn plan(text: &str) -> Option<Result<Plan, String>> {
    let text = text.trim_start_matches('\u{feff}').trim_start();
    if !text.starts_with('{') {
        return None;
    }
    let known = "a list, an OpenTimelineIO file or a Framing Decision List";
    if let Err(why) = crowded::refuse(text.as_bytes()) {
        return Some(Err(why));
    }
    Some(match serde_json::from_str(text) {
        Err(error) => Err(format!("{known}; this looks like JSON but is not valid: {error}")),
        Ok(json) if otio::is(&json) => otio::read(&json),
        Ok(json) if fdl::is(&json) => fdl::read(&json),
        Ok(_) => Err(format!("{known}; this JSON is something else")),
    })
}

fn table(text: &str) -> Result<ListReading, String> {
    let split::Table { separator, rows, mut remarks } = split::split(text)?;
    let any = !rows.is_empty();
    let headed = heading::understand(rows);
    if any && !headed.headed {
        remarks.push(
            "The first row has no known headings; the content of the columns was guessed from their cells.".to_owned(),
        );
    }
    remarks.extend(headed.remarks);
    let reading = ListReading::of(separator, headed.headed, remarks, headed.columns, headed.rows);
    Ok(reading.with_unused(&headed.matters, headed.passed_over))
}
