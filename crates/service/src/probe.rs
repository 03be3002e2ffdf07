//! `ratiomet probe`: what the headers of files say, as text or JSON.

use std::collections::HashMap;
use std::io::{self, Write};
use std::path::{Path, PathBuf};

use ratiomet_exchange::list::{ListColumn, ListReading, ListRow, Looked, RowState, of_files};
use ratiomet_media::source::Whole;
use ratiomet_media::{Failure, Reading, sequence};

/// Reads each file and tells what it says; how many were not read.
pub fn run(files: &[PathBuf], json: bool) -> io::Result<usize> {
    // A name that is not UTF-8 is shown as far as it can be, and opened as it is.
    let names: Vec<String> = files.iter().map(|file| file.display().to_string()).collect();
    let by_name: HashMap<&str, &Path> =
        names.iter().map(String::as_str).zip(files.iter().map(PathBuf::as_path)).collect();
    let clips = sequence::clips(&names);
    let mut out = io::BufWriter::new(io::stdout().lock());
    let mut bad = 0;
    for clip in &clips {
        let reading = read(by_name.get(clip.first.as_str()).copied().unwrap_or(Path::new(&clip.first)));
        let looked = Looked { name: &clip.name, reading: &reading };
        let ListReading { columns, mut rows, .. } = of_files(&[looked], 1);
        let Some(row) = rows.pop() else { continue };
        bad += usize::from(row.state == RowState::Bad);
        if json {
            let line = serde_json::json!({ "file": clip.first, "files": clip.count, "row": row });
            writeln!(out, "{line}")?;
        } else {
            tell(&mut out, &clip.name, &columns, &row)?;
        }
    }
    out.flush()?;
    Ok(bad)
}

fn read(file: &Path) -> Result<Reading, Failure> {
    match Whole::open(file) {
        Ok(whole) => ratiomet_media::read(&whole),
        Err(error) => Err(Failure::Unreadable(format!("the file cannot be opened: {error}"))),
    }
}

fn tell(out: &mut impl Write, name: &str, columns: &[ListColumn], row: &ListRow) -> io::Result<()> {
    // Names come from anywhere: nothing in them may steer a terminal.
    let plain = |text: &str| text.chars().map(|each| if each.is_control() { '?' } else { each }).collect::<String>();
    writeln!(out, "{}", plain(name))?;
    for (at, (ListColumn { heading, .. }, cell)) in columns.iter().zip(&row.cells).enumerate().skip(1) {
        if !cell.is_empty() {
            let by = row.remarks.iter().filter(|remark| remark.column == Some(at));
            let by = by
                .filter_map(|remark| remark.text.strip_prefix("from "))
                .next()
                .map(|by| format!("   ({})", plain(by)));
            writeln!(out, "  {heading:<13} {}{}", plain(cell), by.unwrap_or_default())?;
        }
    }
    for remark in row.remarks.iter().filter(|remark| remark.state != RowState::Good) {
        writeln!(out, "  {}", plain(&remark.text))?;
    }
    Ok(())
}
