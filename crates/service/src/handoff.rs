//! Hand-offs: made in the background for the application, at once for the command line.

use std::io::{IsTerminal, Write};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError};

use ratiomet_core::project::{
    Footage, FrameId, House, HouseProfile, Package, Packaged, Project, Selection, SourceId, StillSpec,
};
use ratiomet_core::recipe::Chroma;
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::words::counted;
use ratiomet_exchange::{Added, Unmatched, fdl, otio};
use ratiomet_handoff::{Format, Order, Outcomes};
use ratiomet_picture::Still;
use ratiomet_picture::still::Fit;
use ratiomet_store::{Contents, Store};

use crate::archive::Archive;
use crate::jobs::Jobs;
use crate::stills::{Shown, Stills, View, carried_out};
use crate::whole_file;

/// The day of a project's last change, in UTC.
fn day(contents: &Contents) -> String {
    let changed = jiff::Timestamp::from_millisecond(contents.changed_at).unwrap_or(jiff::Timestamp::UNIX_EPOCH);
    changed.to_string().chars().take(10).collect()
}

/// What is handed over of a project; none when it was stopped.
pub fn package<'a>(
    contents: &'a Contents,
    selection: &Selection,
    go_on: impl Fn() -> bool + Sync,
) -> Option<Package<'a>> {
    Package::of(&contents.project, &day(contents), selection, go_on)
}

/// A timeline or a framing list of somebody else with what is known added.
pub fn add_to(
    contents: &Contents,
    selection: &Selection,
    text: &str,
    go_on: impl Fn() -> bool + Sync,
) -> Result<Added, String> {
    let package = package(contents, selection, go_on).ok_or("it was stopped")?;
    if text.contains("\"OTIO_SCHEMA\"") { otio::add_to(&package, text) } else { fdl::add_to(&package, text) }
}

/// What is handed over.
#[derive(Clone)]
pub struct Wanted {
    /// Of what.
    pub selection: Selection,
    /// In which formats.
    pub formats: Vec<Format>,
    /// Whether plan sheets and charts show what comes out.
    pub pictures: bool,
}

/// Begins a hand-off in the background and gives its number; none when too many wait.
pub fn begin(
    handoffs: &Jobs<Archive>,
    name: String,
    contents: Arc<Contents>,
    wanted: Wanted,
    stills: Arc<Stills>,
) -> Option<u64> {
    let Wanted { selection, formats, pictures } = wanted;
    let count = |chosen: usize, all: usize| if chosen == 0 { all } else { chosen };
    let conversions = count(selection.sources.len(), contents.project.sources().len())
        * count(selection.frames.len(), contents.project.frames().len());
    handoffs.begin(name, conversions, move |job| {
        let package = package(&contents, &selection, || job.step()).ok_or_else(String::new)?;
        let outcomes = CarriedOut::new(&package, &stills);
        let order = Order { package: &package, formats: &formats, outcomes: &outcomes, pictures };
        job.more(order.steps());
        Archive::of(|out| order.write(&|| job.step(), out))
    })
}

/// Conversions of a package carried out on stills that are kept.
pub struct CarriedOut<'a> {
    package: &'a Package<'a>,
    stills: &'a Stills,
    /// The still of the source that was carried out last: most sources go into several frames.
    last: Mutex<Option<(SourceId, Arc<Still>)>>,
}

impl<'a> CarriedOut<'a> {
    /// Those of a package, on the stills of its data file.
    pub const fn new(package: &'a Package<'a>, stills: &'a Stills) -> Self {
        Self { package, stills, last: Mutex::new(None) }
    }

    fn still(&self, packaged: &Packaged) -> Result<Arc<Still>, String> {
        let id = self.package.sources[packaged.source].0;
        let mut last = self.last.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((known, still)) = last.as_ref()
            && *known == id
        {
            return Ok(still.clone());
        }
        // The one before it makes room first.
        *last = None;
        let still = Arc::new(self.stills.upright(self.package.pictured(packaged), 1)?);
        *last = Some((id, still.clone()));
        Ok(still)
    }
}

impl Outcomes for CarriedOut<'_> {
    fn lacks(&self, packaged: &Packaged) -> Option<String> {
        let footage = self.package.source_of(packaged);
        if footage.view.is_some() {
            let pictured = self.package.pictured(packaged);
            return pictured.key().is_none().then(|| "the sphere of this view has no still".to_owned());
        }
        match &footage.still {
            None => Some("its source has no still".to_owned()),
            Some(StillSpec::Scene(_)) => None,
            Some(StillSpec::File(file)) => {
                let (raster, size) = (footage.geometry.raster(), [file.raster.width(), file.raster.height()]);
                (Fit::of(size, raster) == Fit::Other).then(|| {
                    let (source, still) = (Sides(raster.width(), raster.height()), Sides(size[0], size[1]));
                    format!("the still of its source is {still} and the source {source}")
                })
            }
        }
    }

    fn png(&self, packaged: &Packaged) -> Result<Vec<u8>, String> {
        let footage = self.package.source_of(packaged);
        let still = self.still(packaged)?;
        let frame = self.package.frame_of(packaged);
        let conversion = &packaged.conversion;
        let how = conversion.taken.clone().unwrap_or_default();
        let made = carried_out(&still, footage, frame, &conversion.plan, &how, 1)?;
        let mut png = Vec::new();
        made.write_png(&mut png).map_err(|problem| problem.to_string())?;
        Ok(png)
    }

    fn overlay(&self, sphere: &Footage, stored: bool) -> Result<Vec<u8>, String> {
        let mut png = Vec::new();
        self.stills.overlay(sphere, stored)?.write_png(&mut png).map_err(|problem| problem.to_string())?;
        Ok(png)
    }

    fn small(&self, packaged: &Packaged, side: u32) -> Option<Arc<Vec<u8>>> {
        let footage = self.package.source_of(packaged);
        let still = self.still(packaged).ok()?;
        let frame = self.package.frame_of(packaged);
        let raster = frame.geometry.frame().raster();
        let times = raster.width().max(raster.height()).div_ceil(side);
        let (plan, how) = (&packaged.conversion.plan, Resampling::by(Filter::Area));
        let made = carried_out(&still, footage, frame, plan, &how, times).ok()?;
        made.as_jpeg(85).ok().map(Arc::new)
    }

    fn stored(&self, packaged: &Packaged, side: u32) -> Option<Arc<Vec<u8>>> {
        self.stills.shown(self.package.pictured(packaged), View { shown: Shown::Stored, side, exact: false }).ok()
    }
}

/// Width and height as they are said.
struct Sides(u32, u32);

impl std::fmt::Display for Sides {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{}x{}", self.0, self.1)
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
    /// Whether plan sheets and charts show what comes out.
    pub pictures: bool,
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
        Format::usual()
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
        for packaged in package.conversions() {
            for stop in packaged.stops() {
                eprintln!("  {}: {}", package.name_of(&packaged), stop.message);
            }
        }
        return Ok(ExitCode::from(1));
    }
    if let Some(file) = &chosen.into {
        let text =
            std::fs::read_to_string(file).map_err(|error| format!("{} cannot be read: {error}", file.display()))?;
        let added =
            add_to(&contents, &selection, &text, || true).map_err(|why| format!("{}: {why}", file.display()))?;
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
    let stills = Stills::beside(data);
    let outcomes = CarriedOut::new(&package, &stills);
    let order = Order { package: &package, formats: &formats, outcomes: &outcomes, pictures: chosen.pictures };
    let all = order.steps();
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
    let bytes = whole_file::write(out, |file| order.write(&progress, file))?;
    if shown {
        eprintln!();
    }
    for left in order.left_out(&|| true) {
        eprintln!("ratiomet: {} is left out: {}", left.path, left.why);
    }
    println!("{}: {}, {bytes} bytes", out.display(), counted(package.count(), "conversion"));
    Ok(ExitCode::SUCCESS)
}
