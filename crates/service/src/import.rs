//! `ratiomet import`: footage, lists, timelines and framing lists into a project, each by its content.

use std::collections::HashMap;
use std::fs;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use ratiomet_core::project::{BroughtFraming, Deliverable, Edit, Footage, Name, Project, ProjectId, ProjectSettings};
use ratiomet_core::words::counted;
use ratiomet_exchange::list::{ListReading, ListRequest, ListRow, Looked, PASTED, RowState, of_files, text_of};
use ratiomet_media::source::Whole;
use ratiomet_media::{Failure, sequence};
use ratiomet_store::Store;
use ratiomet_wire::describe::Values;

/// The longest list that is read.
const LONGEST_LIST: u64 = 30 << 20;

/// What is asked for.
#[derive(Debug)]
pub struct Asked {
    /// The name or the number of the project; one that is not there is made.
    pub project: String,
    /// The files.
    pub files: Vec<PathBuf>,
    /// Whether sources that are there take what their files say now.
    pub update: bool,
}

/// What comes of all files.
#[derive(Default)]
struct Coming {
    sources: Vec<Footage>,
    frames: Vec<Deliverable>,
    framings: Vec<BroughtFraming>,
    doubtful: usize,
    not_taken: usize,
}

/// Takes files into a project and tells what was made of each. The error is a sentence.
pub fn run(data: &Path, asked: &Asked) -> Result<ExitCode, String> {
    let mut coming = Coming::default();
    // A name that is not UTF-8 is shown as far as it can be, and opened as it is.
    let names: Vec<String> = asked.files.iter().map(|file| file.display().to_string()).collect();
    let by_name: HashMap<&str, &Path> =
        names.iter().map(String::as_str).zip(asked.files.iter().map(PathBuf::as_path)).collect();
    for clip in sequence::clips(&names) {
        let path = by_name.get(clip.first.as_str()).copied().unwrap_or(Path::new(&clip.first));
        let reading = read(path, &clip.name);
        coming.take(&clip.name, reading);
    }
    if coming.sources.is_empty() && coming.frames.is_empty() {
        return Err("nothing in these files can be imported; the project is unchanged".to_owned());
    }
    let store = Store::open(data).map_err(|error| error.to_string())?;
    let project = project(&store, &asked.project)?;
    let told = carry_out(&store, project, &coming, asked.update)?;
    println!("{told}");
    if coming.doubtful > 0 {
        println!("{} to look at; the lines above say why.", counted(coming.doubtful, "source"));
    }
    if coming.not_taken > 0 {
        eprintln!("ratiomet: {} not imported", counted(coming.not_taken, "row"));
        return Ok(ExitCode::from(1));
    }
    Ok(ExitCode::SUCCESS)
}

/// What a file holds: footage by its header, anything else as a list.
fn read(path: &Path, name: &str) -> Result<ListReading, String> {
    let whole = Whole::open(path).map_err(|error| format!("the file cannot be opened: {error}"))?;
    let reading = ratiomet_media::read(&whole);
    match &reading {
        Ok(_) => Ok(of_files(&[Looked { name, reading: &reading }], 1)),
        Err(Failure::Unreadable(why)) => {
            let length = fs::metadata(path).map_or(u64::MAX, |about| about.len());
            let bytes = if length <= LONGEST_LIST { fs::read(path).unwrap_or_default() } else { Vec::new() };
            let text = text_of(&bytes);
            // What is no text is footage that could not be read.
            if bytes.is_empty() || text.chars().take(4096).any(|each| each.is_control() && !each.is_whitespace()) {
                return Err(why.clone());
            }
            let list = ListRequest::Text(text).understand()?;
            let none = !list.headed && list.good + list.doubtful == 0 && list.frames.is_empty();
            if none { Err("this is neither footage nor a list of it".to_owned()) } else { Ok(list) }
        }
        Err(Failure::Needs(..)) => Err("the header is incomplete".to_owned()),
    }
}

impl Coming {
    /// Takes what a file holds, and tells it.
    fn take(&mut self, name: &str, reading: Result<ListReading, String>) {
        let name = plain(name);
        let reading = match reading {
            Ok(reading) => reading,
            Err(why) => {
                println!("{name}: not imported: {}", plain(&why));
                self.not_taken += 1;
                return;
            }
        };
        let mut places = HashMap::new();
        for row in &reading.rows {
            if let Some(footage) = row.source() {
                places.insert(row.line, self.sources.len());
                self.sources.push(named_file(footage, &name));
            }
        }
        let first_frame = self.frames.len();
        self.frames.extend(reading.frames.iter().map(|Values(frame)| frame.clone()));
        let before = self.framings.len();
        for Values(framing) in &reading.framings {
            let line = u32::try_from(framing.source + 1).unwrap_or(u32::MAX);
            if let Some(source) = places.get(&line) {
                let frame = first_frame + framing.frame;
                self.framings.push(BroughtFraming { source: *source, frame, framed: framing.framed.clone() });
            }
        }
        self.doubtful += reading.doubtful;
        self.not_taken += reading.bad;
        let mut parts = vec![counted(reading.good + reading.doubtful, "source")];
        if !reading.frames.is_empty() {
            parts.push(counted(reading.frames.len(), "frame"));
        }
        if self.framings.len() > before {
            parts.push(counted(self.framings.len() - before, "framing"));
        }
        for (count, words) in [(reading.doubtful, "doubtful"), (reading.bad, "not imported")] {
            if count > 0 {
                parts.push(format!("{count} {words}"));
            }
        }
        println!("{name}: {}", parts.join(", "));
        for remark in &reading.remarks {
            println!("  {}", plain(remark));
        }
        let many = reading.rows.len() > 1;
        for row in reading.rows.iter().filter(|row| row.state != RowState::Good) {
            tell(row, many);
        }
    }
}

/// A source with the name of the file that its list was read from.
fn named_file(footage: Footage, name: &str) -> Footage {
    let mut footage = footage;
    if let Some(origin) = &mut footage.origin
        && origin.file.as_str() == PASTED
        && let Some(file) = ratiomet_core::project::Note::new(name)
    {
        origin.file = file;
    }
    footage
}

fn tell(row: &ListRow, many: bool) {
    let place = if many { format!("line {}: ", row.line) } else { String::new() };
    for remark in row.remarks.iter().filter(|remark| remark.state != RowState::Good) {
        println!("  {place}{}", plain(&remark.text));
    }
}

/// Names and cells come from anywhere: nothing in them may steer a terminal.
fn plain(text: &str) -> String {
    text.chars().map(|each| if each.is_control() { '?' } else { each }).collect()
}

/// The project of a name or a number; one that is not there is made.
fn project(store: &Store, wanted: &str) -> Result<ProjectId, String> {
    let projects = store.projects().map_err(|error| error.to_string())?;
    let by_name = projects.iter().find(|project| project.settings.name.as_str() == wanted);
    let found = by_name.or_else(|| projects.iter().find(|project| project.id.to_string() == wanted));
    if let Some(project) = found {
        return Ok(project.id);
    }
    let name = Name::new(wanted)
        .ok_or_else(|| format!("the name of a project must have 1 to {} characters", Name::LONGEST))?;
    let new = Project::new(ProjectSettings::named(name));
    let contents = store.add_project(&new, "New project").map_err(|error| error.to_string())?;
    println!("project {wanted:?} is new");
    Ok(contents.id)
}

/// Carries it out as one step.
fn carry_out(store: &Store, project: ProjectId, coming: &Coming, update: bool) -> Result<String, String> {
    let contents = store.contents(project).map_err(|error| error.to_string())?;
    for renewal in contents.project.renewals(&coming.sources) {
        let outcome = if update { "taken" } else { "kept; use --update to change it" };
        let name = coming.sources[renewal.place].name.as_str();
        println!("{} already exists with other values: {} ({outcome})", plain(name), plain(&renewal.words()));
    }
    let edit = Edit::Bring {
        sources: coming.sources.clone(),
        frames: coming.frames.clone(),
        framings: coming.framings.clone(),
        update,
    };
    let brought = store.edit(project, &edit, None).map_err(|error| error.to_string())?;
    let there = if brought.skipped > 0 { format!("; {} already there", brought.skipped) } else { String::new() };
    let out = if brought.left_out > 0 {
        let framings = counted(brought.left_out, "framing");
        format!("; {framings} left out, for another size than that at which the source is stored")
    } else {
        String::new()
    };
    Ok(if brought.step.is_some() {
        format!("{}{there}{out}", brought.label)
    } else {
        format!("Nothing new{there}{out}")
    })
}
