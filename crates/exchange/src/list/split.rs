//! From text to cells, whatever separates them.

use super::{LONGEST_CELL, ListCells, MOST_COLUMNS, MOST_ROWS, vocabulary};

/// The cells of a text.
pub(super) struct Table {
    /// What separates them.
    pub separator: &'static str,
    /// The rows that hold anything.
    pub rows: Vec<ListCells>,
    /// What was noticed.
    pub remarks: Vec<String>,
}

const SEPARATORS: [(u8, &str); 4] = [(b'\t', "tab"), (b';', "semicolon"), (b'|', "bar"), (b',', "comma")];

/// Splits a text into rows and cells.
///
/// # Errors
/// A sentence, when there are too many rows or columns.
pub(super) fn split(text: &str) -> Result<Table, String> {
    let text = text.strip_prefix('\u{feff}').unwrap_or(text);
    let text = text.replace("\r\n", "\n").replace('\r', "\n");
    let mut remarks = Vec::new();
    bounded(&text)?;
    let (separator, name) = separator(&text);
    let mut rows = match quoted(&text, separator) {
        Some(rows) => rows,
        None => {
            remarks.push(
                "A quotation mark is opened and never closed: each line was read as a row, quotation marks at the ends \
                 of cells were taken off."
                    .to_owned(),
            );
            unquoted(&text, separator)
        }
    };
    let usual = rows.iter().map(|row| row.cells.len()).max().unwrap_or(0);
    let mut resplit = 0;
    for row in rows.iter_mut().filter(|row| row.cells.len() == 1 && usual > 1) {
        let other = SEPARATORS.iter().map(|(other, _)| char::from(*other)).find(|other| row.cells[0].contains(*other));
        if let Some(other) = other {
            row.cells = row.cells[0].split(other).map(tidy).collect();
            resplit += 1;
        }
    }
    if resplit > 0 {
        remarks.push(format!("{resplit} rows use a different separator and were split by it."));
    }
    rows.retain(|row| row.cells.iter().any(|cell| !cell.is_empty()));
    if rows.len() > MOST_ROWS + 1 {
        return Err(too_many_rows(rows.len()));
    }
    let columns = rows.iter().map(|row| row.cells.len()).max().unwrap_or(0);
    if columns > MOST_COLUMNS {
        return Err(format!("at most {MOST_COLUMNS} columns; this list has {columns}"));
    }
    for row in &mut rows {
        row.cells.resize(columns, String::new());
    }
    Ok(Table { separator: name, rows, remarks })
}

fn too_many_rows(rows: usize) -> String {
    format!("at most {MOST_ROWS} rows at once; this list has {rows}, so paste it in parts")
}

/// Refuses what has far more lines, or separators on a line, than a list may have, before anything is made of it: cells may
/// go on over a few lines, and hold separators.
fn bounded(text: &str) -> Result<(), String> {
    let lines = text.lines().filter(|line| !line.trim().is_empty()).count();
    if lines > MOST_ROWS * 4 + 1 {
        return Err(too_many_rows(lines));
    }
    for (separator, _) in SEPARATORS {
        let all = text.bytes().filter(|byte| *byte == separator).count();
        let most = text.lines().map(|line| line.bytes().filter(|byte| *byte == separator).count()).max().unwrap_or(0);
        if most > MOST_COLUMNS * LONGEST_CELL || all > MOST_ROWS * MOST_COLUMNS {
            return Err(format!("at most {MOST_COLUMNS} columns; a line of this list has up to {}", most + 1));
        }
    }
    Ok(())
}

/// What stands between known headings near the top. Without any: a tab where there is one, for
/// cells hold none by themselves; else what most lines hold, where a semicolon goes before a comma,
/// which may be a decimal one.
fn separator(text: &str) -> (u8, &'static str) {
    let lines: Vec<String> = text.lines().filter(|line| !line.trim().is_empty()).take(50).map(outside_quotes).collect();
    // The line with the most of them may have titles above it.
    let headings = |separator: u8| {
        let known = |line: &str| {
            let cells = line.split(char::from(separator)).take(MOST_COLUMNS);
            cells.filter(|cell| vocabulary::role_of(cell).is_some()).count()
        };
        text.lines().filter(|line| !line.trim().is_empty()).take(60).map(known).max().unwrap_or(0)
    };
    // The last of equals is taken, so the order is turned round.
    if let Some(known) = SEPARATORS.into_iter().rev().max_by_key(|(separator, _)| headings(*separator))
        && headings(known.0) > 1
    {
        return known;
    }
    let holding = |separator: u8| lines.iter().filter(|line| line.contains(char::from(separator))).count();
    SEPARATORS
        .into_iter()
        .find(|(separator, _)| holding(*separator) * 2 > lines.len())
        .or_else(|| SEPARATORS.into_iter().max_by_key(|(separator, _)| holding(*separator)))
        .filter(|(separator, _)| holding(*separator) > 0)
        .unwrap_or((b'\t', "nothing"))
}

/// A line without what stands between quotation marks.
fn outside_quotes(line: &str) -> String {
    line.split('"').step_by(2).collect()
}

/// The cells by the rules of CSV (RFC 4180); none when a quotation mark is never closed.
fn quoted(text: &str, separator: u8) -> Option<Vec<ListCells>> {
    let mut reader =
        csv::ReaderBuilder::new().delimiter(separator).has_headers(false).flexible(true).from_reader(text.as_bytes());
    let mut rows = Vec::new();
    for record in reader.records() {
        let record = record.ok()?;
        let line = record.position().map_or(0, csv::Position::line);
        // A cell that goes on over many lines was opened by a stray quotation mark.
        if record.iter().any(|cell| cell.matches('\n').count() > 3) {
            return None;
        }
        rows.push(ListCells {
            line: u32::try_from(line).unwrap_or(u32::MAX),
            cells: record.iter().map(tidy).collect(),
        });
    }
    let ends_inside = rows.last().and_then(|row: &ListCells| row.cells.last()).is_some_and(|cell| cell.contains(' '))
        && text.matches('"').count() % 2 == 1
        && rows.len() < text.lines().filter(|line| !line.trim().is_empty()).count();
    (!ends_inside).then_some(rows)
}

fn unquoted(text: &str, separator: u8) -> Vec<ListCells> {
    let cells =
        |line: &str| line.split(char::from(separator)).map(|cell| tidy(cell.trim().trim_matches('"'))).collect();
    (1..).zip(text.lines()).map(|(line, text)| ListCells { line, cells: cells(text) }).collect()
}

/// A cell without spaces at its ends, on one line.
fn tidy(cell: &str) -> String {
    // Spaces that do not break, or are thin, stand in numbers.
    let spaces = ['\n', '\u{a0}', '\u{2007}', '\u{2009}', '\u{200a}', '\u{202f}'];
    cell.split(spaces).map(str::trim).collect::<Vec<_>>().join(" ").trim().to_owned()
}
