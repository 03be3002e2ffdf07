//! Hand-offs: made in the background for the application, at once for the command line.

use std::collections::BTreeMap;
use std::io::{IsTerminal, Write};
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError};

use axum::body::Bytes;
use ratiomet_core::project::{FrameId, House, HouseProfile, Package, Project, Selection, SourceId};
use ratiomet_core::recipe::Chroma;
use ratiomet_core::words::counted;
use ratiomet_exchange::{Added, Unmatched, fdl, otio};
use ratiomet_handoff::{Format, archive};
use ratiomet_store::{Contents, Store};

/// The day of a project's last change, in UTC.
fn day(contents: &Contents) -> String {
    let changed = jiff::Timestamp::from_millisecond(contents.changed_at).unwrap_or(jiff::Timestamp::UNIX_EPOCH);
    changed.to_string().chars().take(10).collect()
}

/// What is handed over of a project; none when it was stopped.
pub fn package(contents: &Contents, selection: &Selection, go_on: impl FnMut() -> bool) -> Option<Package> {
    Package::of(&contents.project, &day(contents), selection, go_on)
}

/// A timeline or a framing list of somebody else with what is known added.
pub fn add_to(contents: &Contents, selection: &Selection, text: &str) -> Result<Added, String> {
    let package = package(contents, selection, || true).ok_or("it was stopped")?;
    if text.contains("\"OTIO_SCHEMA\"") { otio::add_to(&package, text) } else { fdl::add_to(&package, text) }
}

/// How far a hand-off is.
#[derive(Clone, Copy, Debug)]
pub struct Progress {
    /// Steps that are done.
    pub done: usize,
    /// Steps that there are, as far as it is known.
    pub all: usize,
}

/// What comes of a hand-off: an archive, a sentence why there is none, or an empty one when it was stopped.
type Outcome = Result<Bytes, String>;

/// A hand-off that is made.
#[derive(Debug, Default)]
pub struct Job {
    /// The name of the archive.
    pub name: String,
    done: AtomicUsize,
    all: AtomicUsize,
    stop: AtomicBool,
    outcome: Mutex<Option<Outcome>>,
}

impl Job {
    /// A hand-off of so many conversions.
    fn new(name: String, conversions: usize) -> Self {
        Self { name, all: AtomicUsize::new(conversions), ..Self::default() }
    }

    /// What has come of it; none while it is made.
    pub fn outcome(&self) -> Option<Outcome> {
        self.outcome.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// How far it is.
    pub fn progress(&self) -> Progress {
        Progress { done: self.done.load(Ordering::Relaxed), all: self.all.load(Ordering::Relaxed) }
    }

    /// Ends it at the next step.
    pub fn stop(&self) {
        self.stop.store(true, Ordering::Relaxed);
    }

    fn step(&self) -> bool {
        self.done.fetch_add(1, Ordering::Relaxed);
        !self.stop.load(Ordering::Relaxed)
    }

    fn made(&self, contents: &Contents, selection: &Selection, formats: &[Format]) -> Outcome {
        let package = package(contents, selection, || self.step()).ok_or_else(String::new)?;
        self.all.fetch_add(archive::steps(&package, formats), Ordering::Relaxed);
        archive::write(&package, formats, &|| self.step()).map(Bytes::from)
    }

    /// Carries it out. Whatever happens, something comes of it.
    fn work(&self, make: impl FnOnce(&Self) -> Outcome) {
        let made = catch_unwind(AssertUnwindSafe(|| make(self))).unwrap_or_else(|_| {
            tracing::error!(name = self.name, "making a hand-off panicked");
            Err("it broke off inside the program; what the server prints says where".to_owned())
        });
        *self.outcome.lock().unwrap_or_else(PoisonError::into_inner) = Some(made);
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
    /// Begins a new one on a thread of its own, and gives its number. The oldest makes room for it.
    pub fn begin(
        &self,
        name: String,
        contents: Arc<Contents>,
        selection: Selection,
        formats: Vec<Format>,
    ) -> (u64, Arc<Job>) {
        let count = |chosen: usize, all: usize| if chosen == 0 { all } else { chosen };
        let conversions = count(selection.sources.len(), contents.project.sources().len())
            * count(selection.frames.len(), contents.project.frames().len());
        let job = Arc::new(Job::new(name, conversions));
        let number = self.keep(&job);
        let working = job.clone();
        tokio::task::spawn_blocking(move || working.work(|job| job.made(&contents, &selection, &formats)));
        (number, job)
    }

    fn keep(&self, job: &Arc<Job>) -> u64 {
        let mut jobs = self.jobs.lock().unwrap_or_else(PoisonError::into_inner);
        jobs.0 += 1;
        let number = jobs.0;
        jobs.1.insert(number, job.clone());
        while jobs.1.len() > MOST {
            if let Some((_, oldest)) = jobs.1.pop_first() {
                oldest.stop();
            }
        }
        number
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
    /// The typing profile of the house, by its name; none for what most programs ask for.
    pub profile: Option<String>,
    /// A timeline or a framing list that takes it in, instead of an archive.
    pub into: Option<PathBuf>,
}

fn one_of<T: Copy>(all: &[T], word_of: fn(T) -> &'static str, word: &str, what: &str) -> Result<T, String> {
    all.iter().copied().find(|each| word_of(*each) == word).ok_or_else(|| {
        let list: Vec<_> = all.iter().copied().map(word_of).collect();
        format!("{word:?} is no {what}; there are {}", list.join(", "))
    })
}

/// The things that somebody named, by their names or numbers.
fn named<'a, I: Copy>(
    wanted: &[String],
    all: impl Iterator<Item = (I, i32, &'a str)>,
    what: &str,
) -> Result<Vec<I>, String> {
    let all: Vec<_> = all.collect();
    let find = |wanted: &String| {
        let by_name = all.iter().find(|(_, _, name)| name == wanted);
        let by_number = || all.iter().find(|(_, number, _)| wanted.parse() == Ok(*number));
        let found = by_name.or_else(by_number).map(|(id, ..)| *id);
        found.ok_or_else(|| format!("there is no {what} {wanted:?} in this project"))
    };
    wanted.iter().map(find).collect()
}

/// A typing profile of the house, by its name.
fn profile(house: &House, wanted: &str) -> Result<HouseProfile, String> {
    let found = house.profiles().find(|(_, profile)| profile.name.as_str() == wanted);
    found.map(|(_, profile)| profile.clone()).ok_or_else(|| {
        let names: Vec<_> = house.profiles().map(|(_, profile)| format!("{:?}", profile.name.as_str())).collect();
        let there =
            if names.is_empty() { "the house has none".to_owned() } else { format!("there are {}", names.join(", ")) };
        format!("there is no typing profile {wanted:?}; {there}")
    })
}

/// What is handed over, by the names on the command line.
fn selection(project: &Project, house: &House, chosen: &Chosen) -> Result<Selection, String> {
    let sources = project.sources().map(|(id, footage)| (id, id.number(), footage.name.as_str()));
    let frames = project.frames().map(|(id, frame)| (id, id.number(), frame.name.as_str()));
    let sources: Vec<SourceId> = named(&chosen.sources, sources, "source")?;
    let frames: Vec<FrameId> = named(&chosen.frames, frames, "frame")?;
    let chroma = one_of(&Chroma::ALL, Chroma::word, &chosen.chroma, "sampling")?;
    let profile = chosen.profile.as_deref().map(|wanted| profile(house, wanted)).transpose()?;
    Ok(Selection { sources, frames, chroma, profile })
}

/// Writes an archive to a file. The error is a sentence.
pub fn export(data: &Path, chosen: &Chosen, out: &Path) -> Result<ExitCode, String> {
    if !data.exists() {
        return Err(format!("there is no data file {}; name one with --data", data.display()));
    }
    let formats: Vec<Format> = if chosen.formats.is_empty() {
        Format::ALL.to_vec()
    } else {
        let format = |word: &String| one_of(&Format::ALL, Format::word, word, "format");
        chosen.formats.iter().map(format).collect::<Result<_, _>>()?
    };
    // What is only handed over is only read.
    let store = Store::open_for_reading(data).map_err(|error| error.to_string())?;
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
    if !contents.set_aside.is_empty() {
        let count = counted(contents.set_aside.len(), "record");
        eprintln!("ratiomet: {count} of this project cannot be read and will not be in it");
    }
    let house = store.house().map_err(|error| error.to_string())?.house;
    let selection = selection(&contents.project, &house, chosen)?;
    let package = package(&contents, &selection, || true).ok_or("it was stopped")?;
    if !package.is_ready() {
        eprintln!("ratiomet: stop findings stand; answer or accept them first:");
        for packaged in &package.conversions {
            for stop in packaged.stops() {
                eprintln!("  {}: {}", package.name_of(packaged), stop.message);
            }
        }
        return Ok(ExitCode::from(1));
    }
    if let Some(file) = &chosen.into {
        let text =
            std::fs::read_to_string(file).map_err(|error| format!("{} cannot be read: {error}", file.display()))?;
        let added = add_to(&contents, &selection, &text).map_err(|why| format!("{}: {why}", file.display()))?;
        std::fs::write(out, &added.bytes).map_err(|error| format!("{} cannot be written: {error}", out.display()))?;
        let (found, missing) = (added.found, counted(added.missing.len(), "source"));
        let clips = if found == 1 { "clip or canvas" } else { "clips or canvases" };
        let placements = counted(added.placements, "placement");
        println!("{}: {placements} on {found} {clips}, {missing} without one", out.display());
        for Unmatched { name, nearest } in &added.unmatched {
            let like = nearest.as_ref().map_or_else(String::new, |source| format!("; most like it is {source}"));
            println!("  {name} is no source{like}");
        }
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
    for left in archive::left_out(&package, &formats) {
        eprintln!("ratiomet: {} is left out: {}", left.path, left.why);
    }
    println!("{}: {}, {} bytes", out.display(), counted(package.conversions.len(), "conversion"), bytes.len());
    Ok(ExitCode::SUCCESS)
}

#[cfg(test)]
mod tests {
    use super::Job;

    #[test]
    fn a_job_that_panics_ends_as_failed_and_says_so() {
        let job = Job::new("x.zip".to_owned(), 1);
        assert!(job.outcome().is_none());
        job.work(|_| panic!("a chart cannot be drawn"));
        let why = job.outcome().expect("an outcome").expect_err("failed");
        assert!(why.contains("broke off"), "{why}");
    }
}
