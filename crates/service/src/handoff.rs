//! Hand-offs: made in the background for the application, at once for the command line.

use std::collections::BTreeMap;
use std::io::{IsTerminal, Write};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError};

use ratiomet_core::recipe::Chroma;
use ratiomet_handoff::{Added, Format, Package, Selection, archive, fdl, otio};
use ratiomet_store::{Contents, Store};

/// The day of a project's last change, in UTC.
pub fn day(contents: &Contents) -> String {
    let changed = jiff::Timestamp::from_millisecond(contents.info.changed_at).unwrap_or_default();
    changed.to_string().chars().take(10).collect()
}

/// What is handed over of a project; none when it was stopped.
pub fn package(contents: &Contents, selection: &Selection, done: impl FnMut() -> bool) -> Option<Package> {
    let sources = contents.sources.iter().map(|record| (record.id, record.value.clone())).collect();
    let frames = contents.frames.iter().map(|record| (record.id, record.value.clone())).collect();
    let name = contents.info.settings.name.as_str();
    Package::of((name, &day(contents)), sources, frames, &contents.layout(), selection, done)
}

/// A timeline or a framing list of somebody else with what is known added.
pub fn add_to(contents: &Contents, selection: &Selection, text: &str) -> Result<Added, String> {
    let package = package(contents, selection, || true).ok_or("it was stopped")?;
    if text.contains("\"OTIO_SCHEMA\"") { otio::add_to(&package, text) } else { fdl::add_to(&package, text) }
}

/// How far a hand-off is.
#[derive(Debug, Default)]
pub struct Job {
    /// The name of the archive.
    pub name: String,
    /// Steps that are done.
    pub done: AtomicUsize,
    /// Steps that there are, as far as it is known.
    pub all: AtomicUsize,
    stop: AtomicBool,
    outcome: Mutex<Option<Result<Arc<Vec<u8>>, String>>>,
}

impl Job {
    /// What has come of it; none while it is made, an empty sentence when it was stopped.
    pub fn outcome(&self) -> Option<Result<Arc<Vec<u8>>, String>> {
        self.outcome.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// Ends it at the next step.
    pub fn stop(&self) {
        self.stop.store(true, Ordering::Relaxed);
    }

    fn step(&self) -> bool {
        self.done.fetch_add(1, Ordering::Relaxed);
        !self.stop.load(Ordering::Relaxed)
    }

    /// Makes the archive.
    pub fn work(&self, contents: &Contents, selection: &Selection, formats: &[Format]) {
        let made = package(contents, selection, || self.step()).ok_or_else(String::new).and_then(|package| {
            self.all.fetch_add(archive::steps(&package, formats), Ordering::Relaxed);
            archive::write(&package, formats, &|| self.step())
        });
        *self.outcome.lock().unwrap_or_else(PoisonError::into_inner) = Some(made.map(Arc::new));
    }
}

/// The hand-offs of a running server, the latest few.
#[derive(Debug, Default)]
pub struct Handoffs {
    jobs: Mutex<(u64, BTreeMap<u64, Arc<Job>>)>,
}

/// How many finished hand-offs are kept for fetching.
const MOST: usize = 4;

impl Handoffs {
    /// A new one, with its number. The oldest makes room for it.
    pub fn begin(&self, name: String, conversions: usize) -> (u64, Arc<Job>) {
        let job = Arc::new(Job { name, all: AtomicUsize::new(conversions), ..Job::default() });
        let mut jobs = self.jobs.lock().unwrap_or_else(PoisonError::into_inner);
        jobs.0 += 1;
        let number = jobs.0;
        jobs.1.insert(number, job.clone());
        while jobs.1.len() > MOST {
            if let Some((_, oldest)) = jobs.1.pop_first() {
                oldest.stop();
            }
        }
        (number, job)
    }

    /// One of them.
    pub fn get(&self, number: u64) -> Option<Arc<Job>> {
        self.jobs.lock().unwrap_or_else(PoisonError::into_inner).1.get(&number).cloned()
    }
}

/// What somebody asked for on the command line.
pub struct Chosen {
    /// Name or number of the project.
    pub project: String,
    /// Words of formats.
    pub formats: Vec<String>,
    /// Names or numbers of sources.
    pub sources: Vec<String>,
    /// Names or numbers of frames.
    pub frames: Vec<String>,
    /// The word of a sampling.
    pub chroma: String,
    /// A timeline or a framing list that takes it in, instead of an archive.
    pub into: Option<PathBuf>,
}

fn one_of<T: Copy>(words: &[(&'static str, T)], word: &str, what: &str) -> Result<T, String> {
    words.iter().find(|(known, _)| *known == word).map(|(_, value)| *value).ok_or_else(|| {
        let list: Vec<_> = words.iter().map(|(word, _)| *word).collect();
        format!("{word:?} is no {what}; there are {}", list.join(", "))
    })
}

/// The numbers of records that somebody named.
fn numbers<'a>(named: &[String], all: impl Iterator<Item = (i32, &'a str)>, what: &str) -> Result<Vec<i32>, String> {
    let all: Vec<_> = all.collect();
    let find = |named: &String| {
        let by_name = all.iter().find(|(_, name)| name == named).map(|(id, _)| *id);
        let by_number = || named.parse().ok().filter(|id| all.iter().any(|(known, _)| known == id));
        by_name.or_else(by_number).ok_or_else(|| format!("there is no {what} {named:?} in this project"))
    };
    named.iter().map(find).collect()
}

/// Writes an archive to a file. The error is a sentence.
pub fn export(data: &Path, chosen: &Chosen, out: &Path) -> Result<ExitCode, String> {
    if !data.exists() {
        return Err(format!("there is no data file {}; name one with --data", data.display()));
    }
    let formats: Vec<Format> = if chosen.formats.is_empty() {
        Format::ALL.iter().map(|(_, format)| *format).collect()
    } else {
        chosen.formats.iter().map(|word| one_of(&Format::ALL, word, "format")).collect::<Result<_, _>>()?
    };
    let chroma = one_of(&Chroma::ALL, &chosen.chroma, "sampling")?;
    let mut store = Store::open(data).map_err(|error| error.to_string())?;
    let projects = store.projects().map_err(|error| error.to_string())?;
    let project = projects
        .iter()
        .find(|project| project.settings.name.as_str() == chosen.project)
        .or_else(|| projects.iter().find(|project| project.id.to_string() == chosen.project))
        .ok_or_else(|| {
            let names: Vec<_> =
                projects.iter().map(|project| format!("{:?}", project.settings.name.as_str())).collect();
            format!("there is no project {:?}; there are {}", chosen.project, names.join(", "))
        })?;
    let contents = store.contents(project.id).map_err(|error| error.to_string())?;
    let sources = contents.sources.iter().map(|record| (record.id, record.value.name.as_str()));
    let frames = contents.frames.iter().map(|record| (record.id, record.value.name.as_str()));
    let selection = Selection {
        sources: numbers(&chosen.sources, sources, "source")?,
        frames: numbers(&chosen.frames, frames, "frame")?,
        chroma,
    };
    let package = package(&contents, &selection, || true).ok_or("it was stopped")?;
    if !package.is_ready() {
        eprintln!("ratiomet: stop findings stand; answer or accept them first:");
        for conversion in &package.conversions {
            for stop in conversion.stops() {
                let (source, frame) = (package.source_of(conversion), package.frame_of(conversion));
                eprintln!("  {} into {}: {}", source.name.as_str(), frame.name.as_str(), stop.message);
            }
        }
        return Ok(ExitCode::from(1));
    }
    if let Some(file) = &chosen.into {
        let text =
            std::fs::read_to_string(file).map_err(|error| format!("{} cannot be read: {error}", file.display()))?;
        let added = add_to(&contents, &selection, &text).map_err(|why| format!("{}: {why}", file.display()))?;
        std::fs::write(out, &added.bytes).map_err(|error| format!("{} cannot be written: {error}", out.display()))?;
        println!("{}: {} clips or canvases, {} sources without one", out.display(), added.found, added.missing.len());
        return Ok(ExitCode::SUCCESS);
    }
    let all = archive::steps(&package, &formats);
    let done = AtomicUsize::new(0);
    let shown = std::io::stderr().is_terminal();
    let progress = || {
        let now = done.fetch_add(1, Ordering::Relaxed) + 1;
        if shown {
            // OK because progress that is not seen is no failure.
            let _ = write!(std::io::stderr(), "\r{} of {all}", now.min(all));
        }
        true
    };
    let bytes = archive::write(&package, &formats, &progress)?;
    if shown {
        eprintln!();
    }
    std::fs::write(out, &bytes).map_err(|error| format!("{} cannot be written: {error}", out.display()))?;
    println!("{}: {} conversions, {} bytes", out.display(), package.conversions.len(), bytes.len());
    Ok(ExitCode::SUCCESS)
}
