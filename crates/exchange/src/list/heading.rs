//! Where the headings of a list stand, and what its columns hold.

use super::vocabulary::{Certainty, could_matter, role_of, speaks_of_something_else};
use super::{LONGEST_CELL, ListCells, ListColumn, Role, cell};

/// How many rows from the top may stand before the headings.
const DEEPEST: usize = 60;
/// Single words that begin or end a part of a log and say nothing themselves.
const SECTIONS: &[&str] = &["data", "column", "columns", "heading", "global headers", "daten", "end", "total"];

/// A table as it is understood: what its columns hold, and its rows.
pub(super) struct Headed {
    pub headed: bool,
    pub columns: Vec<ListColumn>,
    pub rows: Vec<ListCells>,
    /// What was noticed.
    pub remarks: Vec<String>,
    /// For each column that is not used whether it may say something of the picture.
    pub matters: Vec<bool>,
    /// How many rows were titles, headings again, and marks of parts.
    pub passed_over: usize,
}

/// How many columns a row names as headings do; none where it holds values.
fn named(row: &ListCells) -> usize {
    if row.cells.iter().any(|cell| cell.len() < LONGEST_CELL && cell::size(cell).is_ok()) {
        return 0;
    }
    let mut found: Vec<Role> = Vec::new();
    for (role, certainty) in row.cells.iter().filter_map(|cell| role_of(cell)) {
        if certainty >= Certainty::Often && !found.contains(&role) {
            found.push(role);
        }
    }
    found.len()
}

/// Where the headings stand: the row that names most of the columns, the first of equals. One heading alone is
/// enough only in the first row.
fn place(rows: &[ListCells]) -> Option<usize> {
    let counts: Vec<usize> = rows.iter().take(DEEPEST).map(named).collect();
    let most = counts.iter().copied().max()?;
    let at = counts.iter().position(|count| *count == most)?;
    (most >= 2 || (most == 1 && at == 0)).then_some(at)
}

/// What the columns hold: by their headings wherever these stand, else by their cells.
pub(super) fn understand(mut rows: Vec<ListCells>) -> Headed {
    let width = rows.first().map_or(0, |row| row.cells.len());
    let Some(at) = place(&rows) else {
        let mut roles = vec![None; width];
        guess(&mut roles, &vec![String::new(); width], &rows);
        let columns = roles.iter().map(|role| ListColumn::headed("", *role)).collect();
        return Headed {
            headed: false,
            columns,
            rows,
            remarks: Vec::new(),
            matters: vec![false; width],
            passed_over: 0,
        };
    };
    let mut remarks = Vec::new();
    let mut body = rows.split_off(at);
    let heading = body.remove(0);
    let titles = rows;
    let mut headings = heading.cells;
    // A heading over several columns stands above the first of them.
    let above = titles.last().filter(|row| row.cells.iter().filter(|cell| !cell.is_empty()).count() > 1);
    for (cell, above) in headings.iter_mut().zip(above.map(|row| &row.cells[..]).unwrap_or_default()) {
        if cell.is_empty() {
            cell.clone_from(above);
        }
    }
    let mut passed_over = titles.len();
    // Below one over several columns stand those of each: in a row that holds nothing but headings.
    let below = |row: &ListCells| {
        let mut filled = row.cells.iter().filter(|cell| !cell.is_empty()).peekable();
        filled.peek().is_some() && filled.all(|cell| role_of(cell).is_some())
    };
    if headings.iter().any(String::is_empty) && body.first().is_some_and(below) {
        let row = body.remove(0);
        passed_over += 1;
        for (heading, own) in headings.iter_mut().zip(row.cells) {
            if !own.is_empty() {
                *heading = own;
            }
        }
    }
    tell_titles(&titles, &mut remarks);
    passed_over += parts(&mut headings, &mut body, &mut remarks);
    let mut roles = by_headings(&headings, &body);
    guess(&mut roles, &headings, &body);
    from_head(&titles, &mut headings, &mut roles, &mut body, &mut remarks);
    let matters: Vec<bool> =
        headings.iter().zip(&roles).map(|(heading, role)| role.is_none() && could_matter(heading)).collect();
    let unused: Vec<&str> = headings
        .iter()
        .enumerate()
        .filter(|(at, heading)| roles[*at].is_none() && !heading.is_empty() && holds(&body, *at))
        .map(|(_, heading)| heading.as_str())
        .collect();
    if !unused.is_empty() {
        remarks.push(format!("Unused columns: {}.", unused.join(", ")));
    }
    let columns = headings.iter().zip(&roles).map(|(heading, role)| ListColumn::headed(heading, *role)).collect();
    Headed { headed: true, columns, rows: body, remarks, matters, passed_over }
}

fn holds(rows: &[ListCells], column: usize) -> bool {
    rows.iter().any(|row| row.cells.get(column).is_some_and(|cell| !cell.is_empty()))
}

fn tell_titles(titles: &[ListCells], remarks: &mut Vec<String>) {
    if titles.is_empty() {
        return;
    }
    let words =
        |row: &ListCells| row.cells.iter().filter(|cell| !cell.is_empty()).cloned().collect::<Vec<_>>().join(" ");
    let mut all: Vec<String> = titles.iter().map(words).collect();
    let (count, rows) = (all.len(), if all.len() == 1 { "row was" } else { "rows were" });
    all.truncate(4);
    let more = if count > all.len() { ", …" } else { "" };
    let quoted: Vec<String> = all.iter().map(|words| words.chars().take(60).collect()).collect();
    remarks.push(format!("{count} {rows} skipped above the headings: {}{more}.", quoted.join("; ")));
}

/// Takes marks of parts and headings that come again out of the rows; a part with other headings has its cells
/// moved under those that are meant. How many rows were taken out.
fn parts(headings: &mut Vec<String>, body: &mut Vec<ListCells>, remarks: &mut Vec<String>) -> usize {
    let first = headings.clone();
    let mut moved: Option<Vec<usize>> = None;
    let mut titles: Vec<String> = Vec::new();
    let before = body.len();
    let all = std::mem::take(body);
    let mut rest = all.into_iter().peekable();
    while let Some(mut row) = rest.next() {
        let mut filled = row.cells.iter().filter(|cell| !cell.is_empty());
        let only = filled.next().filter(|_| filled.next().is_none() && first.len() > 2).cloned();
        let headings_follow = rest.peek().is_some_and(|next| named(next) >= 2);
        if let Some(only) = only {
            let mark = SECTIONS.contains(&only.trim_end_matches(':').to_lowercase().as_str());
            if mark || headings_follow {
                if !mark {
                    titles.push(only);
                }
                continue;
            }
        }
        if named(&row) >= 2 {
            moved = (row.cells != first).then(|| {
                let mut place = |cell: &String| {
                    let same = |known: &String| known.eq_ignore_ascii_case(cell);
                    let known = headings.iter().position(same).or_else(|| {
                        let role = role_of(cell)?.0;
                        headings.iter().position(|known| role_of(known).is_some_and(|(known, _)| known == role))
                    });
                    known.unwrap_or_else(|| {
                        headings.push(cell.clone());
                        headings.len() - 1
                    })
                };
                row.cells.iter().map(&mut place).collect()
            });
            continue;
        }
        if let Some(places) = &moved {
            let mut cells = vec![String::new(); headings.len()];
            for (cell, place) in row.cells.into_iter().zip(places) {
                if !cell.is_empty() {
                    cells[*place] = cell;
                }
            }
            row.cells = cells;
        }
        body.push(row);
    }
    for row in body.iter_mut() {
        row.cells.resize(headings.len(), String::new());
    }
    if !titles.is_empty() {
        titles.truncate(6);
        remarks.push(format!("Section titles skipped: {}.", titles.join(", ")));
    }
    before - body.len()
}

/// What the columns hold by their headings: the surest heading has a role, the first of equals; one that is not sure
/// has it only if its cells bear it out.
fn by_headings(headings: &[String], body: &[ListCells]) -> Vec<Option<Role>> {
    let mut roles = vec![None; headings.len()];
    let mut said: Vec<(usize, Role, Certainty)> = headings
        .iter()
        .enumerate()
        .filter_map(|(at, heading)| role_of(heading).map(|(role, certainty)| (at, role, certainty)))
        .collect();
    said.sort_by_key(|(at, _, certainty)| (std::cmp::Reverse(*certainty), *at));
    for (at, role, certainty) in said {
        let free = !roles.contains(&Some(role));
        if free && (certainty == Certainty::Sure || mostly(body, at, &|cell| bears_out(role, cell))) {
            roles[at] = Some(role);
        }
    }
    roles
}

/// Whether a cell is one of a column with this role.
fn bears_out(role: Role, text: &str) -> bool {
    match role {
        Role::Size => cell::size(text).is_ok(),
        Role::Rate => cell::rate(text).is_ok_and(|rate| rate.likely),
        Role::Squeeze => cell::squeeze(text).is_ok(),
        Role::PixelAspect => cell::pixel_aspect(text).is_ok(),
        Role::Scan => cell::scan(text).is_ok(),
        Role::SignalRange => cell::signal_range(text).is_ok(),
        Role::Rotation => cell::rotation(text).is_ok(),
        Role::Projection => cell::projection(text).is_ok(),
        Role::Insets => cell::insets(text).is_ok(),
        Role::Subject => cell::subject(text).is_ok(),
        Role::Width | Role::Height | Role::Left | Role::Top | Role::Right | Role::Bottom => cell::side(text).is_ok(),
        Role::Name | Role::Note => true,
    }
}

/// Whether most of the filled cells of a column hold something.
fn mostly(rows: &[ListCells], at: usize, holds: &dyn Fn(&str) -> bool) -> bool {
    let sample = &rows[..rows.len().min(100)];
    let filled: Vec<_> =
        sample.iter().filter_map(|row| row.cells.get(at)).map(String::as_str).filter(|cell| !cell.is_empty()).collect();
    !filled.is_empty()
        && filled.iter().filter(|cell| cell.len() < LONGEST_CELL && holds(cell)).count() * 2 > filled.len()
}

/// What a log says once for all its clips, above the headings, becomes a column where there is none for it.
fn from_head(
    titles: &[ListCells],
    headings: &mut Vec<String>,
    roles: &mut Vec<Option<Role>>,
    body: &mut [ListCells],
    remarks: &mut Vec<String>,
) {
    const FOR_ALL: [Role; 6] =
        [Role::Size, Role::Rate, Role::PixelAspect, Role::Squeeze, Role::Scan, Role::SignalRange];
    for row in titles {
        let filled: Vec<&str> = row.cells.iter().map(String::as_str).filter(|cell| !cell.is_empty()).collect();
        // "FPS | 24", "FPS: 24", or several of them side by side.
        let mut pairs: Vec<(&str, &str)> = filled
            .iter()
            .filter_map(|cell| cell.split_once(':'))
            .map(|(key, value)| (key.trim(), value.trim()))
            .collect();
        pairs.extend(filled.windows(2).map(|two| (two[0].trim_end_matches(':').trim(), two[1])));
        for (key, value) in pairs {
            let Some((role, Certainty::Sure)) = role_of(key) else { continue };
            let sized = role == Role::Size && (roles.contains(&Some(Role::Width)) || roles.contains(&Some(Role::Size)));
            if !FOR_ALL.contains(&role) || roles.contains(&Some(role)) || sized || !bears_out(role, value) {
                continue;
            }
            headings.push(key.to_owned());
            roles.push(Some(role));
            for row in body.iter_mut() {
                row.cells.push(value.to_owned());
            }
            remarks.push(format!("{key} {value}, above the headings, applies to every row."));
        }
    }
}

/// Finds a size, a name and a rate among the columns that no heading explains. A heading that speaks of something else
/// explains its column; a rate is found in one without a heading only.
fn guess(roles: &mut [Option<Role>], headings: &[String], rows: &[ListCells]) {
    let free = |roles: &[Option<Role>], holds: &dyn Fn(&str) -> bool| {
        (0..roles.len())
            .find(|at| roles[*at].is_none() && !speaks_of_something_else(&headings[*at]) && mostly(rows, *at, holds))
    };
    let sized = |roles: &[Option<Role>]| roles.contains(&Some(Role::Size)) || roles.contains(&Some(Role::Width));
    if !sized(roles)
        && let Some(at) = free(roles, &|cell| cell::size(cell).is_ok())
    {
        roles[at] = Some(Role::Size);
    }
    if !sized(roles) {
        let pixels = |cell: &str| cell.parse::<u32>().is_ok_and(|side| (64..=65_536).contains(&side));
        if let Some(at) = free(roles, &pixels) {
            roles[at] = Some(Role::Width);
            if let Some(at) = free(roles, &pixels) {
                roles[at] = Some(Role::Height);
            }
        }
    }
    if !roles.contains(&Some(Role::Name))
        && let Some(at) = free(roles, &|cell| cell.chars().any(char::is_alphabetic) && cell::size(cell).is_err())
    {
        roles[at] = Some(Role::Name);
    }
    let rate = |at: &usize| {
        roles[*at].is_none()
            && headings[*at].is_empty()
            && mostly(rows, *at, &|cell| cell::rate(cell).is_ok_and(|rate| rate.likely))
    };
    if !roles.contains(&Some(Role::Rate))
        && let Some(at) = (0..roles.len()).find(rate)
    {
        roles[at] = Some(Role::Rate);
    }
}
