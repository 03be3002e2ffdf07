//! [`ListReading`]: how a list was understood.

use std::collections::HashMap;

use ratiomet_core::project::{Aspect, BroughtFraming, Deliverable, Footage, Origin};
use ratiomet_wire::describe::Values;
use ratiomet_wire::names::{FrameValues, SourceValues};
use serde::Serialize;
use utoipa::ToSchema;

use super::{ListCells, Role, row};
use crate::clip::PlannedFraming;

/// What a column holds, in an answer.
type RoleName = Values<Role>;
/// A framing, in an answer.
type FramingValues = Values<BroughtFraming>;
/// Where values were read, in an answer.
type OriginValues = Values<Origin>;

/// How a list was understood.
#[derive(Debug, Serialize, ToSchema)]
pub struct ListReading {
    /// What separates the cells: tab, comma, semicolon, bar, or nothing.
    pub separator: &'static str,
    /// Whether the first row holds headings.
    pub headed: bool,
    /// How many rows were titles above the headings, headings again, or marks of parts.
    pub passed_over: usize,
    /// What was noticed about the list as a whole.
    pub remarks: Vec<String>,
    /// The columns.
    pub columns: Vec<ListColumn>,
    /// The rows, headings left out, in order.
    pub rows: Vec<ListRow>,
    /// Frames that the list names beside its footage: templates of a Framing Decision List, frames of a
    /// timeline of ours.
    pub frames: Vec<FrameValues>,
    /// Framings of its rows in its frames, as an edit that brings them has them: the source is the place of the row,
    /// which is its line less 1.
    pub framings: Vec<FramingValues>,
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
    pub role: Option<RoleName>,
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
    /// Where its values were read, for the source that is made of it; null while it is not understood.
    pub origin: Option<OriginValues>,
    /// What is to be said about its cells.
    pub remarks: Vec<ListRemark>,
}

impl ListRow {
    /// The source that it describes, with where it was read.
    pub fn source(&self) -> Option<Footage> {
        let Values(footage) = self.values.as_ref()?;
        let origin = self.origin.as_ref().map(|Values(origin)| origin.clone());
        Some(Footage { origin, ..footage.clone() })
    }
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

impl ListColumn {
    /// A column without a heading.
    pub(super) const fn without_heading(role: Option<Role>) -> Self {
        Self {
            heading: String::new(),
            role: match role {
                Some(role) => Some(Values(role)),
                None => None,
            },
        }
    }

    /// A column under a heading.
    pub(super) fn headed(heading: &str, role: Option<Role>) -> Self {
        Self { heading: heading.to_owned(), role: role.map(Values) }
    }
}

impl ListReading {
    /// What the rows mean, given what the columns hold.
    pub(super) fn of(
        separator: &'static str,
        headed: bool,
        remarks: Vec<String>,
        columns: Vec<ListColumn>,
        rows: Vec<ListCells>,
    ) -> Self {
        let roles: Vec<_> = columns.iter().map(|column| column.role.as_ref().map(|role| role.0)).collect();
        let mut rows: Vec<_> = rows.into_iter().map(|row| row::understand(row, &roles)).collect();
        for row in &mut rows {
            row.origin = origin(row, &columns).map(Values);
        }
        mark_twins(&mut rows, &roles);
        let (frames, framings, passed_over) = (Vec::new(), Vec::new(), 0);
        Self { separator, headed, passed_over, remarks, columns, rows, frames, framings, good: 0, doubtful: 0, bad: 0 }
            .counted()
    }

    /// With the frames that it names beside its footage, and what of it they show.
    pub(super) fn with_frames(mut self, frames: Vec<Deliverable>, framings: Vec<PlannedFraming>) -> Self {
        self.frames = frames.into_iter().map(Values).collect();
        let framing = |PlannedFraming { clip, frame, framed }| Values(BroughtFraming { source: clip, frame, framed });
        self.framings = framings.into_iter().map(framing).collect();
        self
    }

    /// With what stands in columns that are not used and may say something of the picture: each such cell is a doubt.
    pub(super) fn with_unused(mut self, matters: &[bool], passed_over: usize) -> Self {
        self.passed_over = passed_over;
        for row in &mut self.rows {
            let unused =
                row.cells.iter().enumerate().zip(matters).filter(|((_, cell), matters)| **matters && !cell.is_empty());
            // A focal length says nothing of what the lens did to the picture.
            let unused = unused.filter(|((_, cell), _)| !cell.to_lowercase().ends_with("mm"));
            for ((at, cell), _) in unused {
                let text = format!("Unused column {}: {cell}.", self.columns[at].heading);
                row.remarks.push(ListRemark { column: Some(at), state: RowState::Doubtful, text });
                row.state = row.state.max(RowState::Doubtful);
            }
        }
        self.counted()
    }

    /// With other rows.
    pub(super) fn with_rows(mut self, rows: Vec<ListRow>) -> Self {
        self.rows = rows;
        self.counted()
    }

    fn counted(mut self) -> Self {
        let count = |state| self.rows.iter().filter(|row| row.state == state).count();
        (self.good, self.doubtful, self.bad) = (count(RowState::Good), count(RowState::Doubtful), count(RowState::Bad));
        self
    }
}

/// What a list is called that came without a name.
pub const PASTED: &str = "pasted list";

/// Where the values of a row stand in its list.
fn origin(row: &ListRow, columns: &[ListColumn]) -> Option<Origin> {
    let Values(footage) = row.values.as_ref()?;
    let mut said: Vec<(Aspect, String)> = Vec::new();
    for (column, _) in columns.iter().zip(&row.cells).filter(|(_, cell)| !cell.is_empty()) {
        let Some(of) = column.role.as_ref().and_then(|role| role.0.aspect()) else { continue };
        if said.iter().all(|(known, _)| *known != of) {
            let place = if column.heading.is_empty() { String::new() } else { format!("{}, ", column.heading) };
            said.push((of, format!("{place}line {}", row.line)));
        }
    }
    footage.clone().read_from(PASTED, said).origin
}

/// Says of a name that comes again that it does.
fn mark_twins(rows: &mut [ListRow], roles: &[Option<Role>]) {
    let column = roles.iter().position(|role| *role == Some(Role::Name));
    let mut lines: HashMap<String, u32> = HashMap::new();
    for row in rows {
        let Some(Values(values)) = &row.values else { continue };
        if let Some(first) = lines.get(values.name.as_str()) {
            let text = format!("Line {first} has the same name.");
            row.remarks.push(ListRemark { column, state: RowState::Doubtful, text });
            row.state = row.state.max(RowState::Doubtful);
        } else {
            lines.insert(values.name.as_str().to_owned(), row.line);
        }
    }
}
