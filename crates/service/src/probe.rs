//! `ratiomet probe`: what the headers of files say, as text or JSON.

use std::fs::File;
use std::io::{self, Write};
use std::path::PathBuf;

use ratiomet_media::source::Whole;
use ratiomet_media::{Failure, Reading, sequence};
use ratiomet_wire::list::{ListColumn, ListReading, ListRow, Looked, RowState, of_files};

/// Reads each file and tells what it says; how many were not read.
pub fn run(files: &[PathBuf], json: bool) -> io::Result<usize> {
    let names: Vec<String> = files.iter().map(|file| file.display().to_string()).collect();
    let clips = sequence::clips(&names);
    let mut out = io::BufWriter::new(io::stdout().lock());
    let mut bad = 0;
    for clip in &clips {
        let reading = read(&clip.first);
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

fn read(file: &str) -> Result<Reading, Failure> {
    match File::open(file).and_then(Whole::new) {
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
            let by = by.filter_map(|remark| remark.text.strip_prefix("from ")).next().map(|by| format!("   ({by})"));
            writeln!(out, "  {heading:<13} {}{}", plain(cell), by.unwrap_or_default())?;
        }
    }
    for remark in row.remarks.iter().filter(|remark| remark.state != RowState::Good) {
        writeln!(out, "  {}", plain(&remark.text))?;
    }
    Ok(())
}
