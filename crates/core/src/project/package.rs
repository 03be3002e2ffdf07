//! [`Package`]: what is handed over of a project, computed once for all formats.

use std::borrow::Cow;
use std::collections::{BTreeSet, HashMap};
use std::fmt;
use std::ops::Range;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError};

use crate::cadence::Intent;
use crate::cores;
use crate::file::FileWeight;
use crate::project::{
    Conversion, Deliverable, Footage, FrameId, HouseProfile, Judgement, Name, Onward, Pair, Passage, Pictured, Point,
    Project, Share, SourceId,
};
use crate::recipe::{Chroma, Recipe};
use crate::typing::{ToType, TypingProfile};
use crate::weight::Seconds;
use crate::{Error, Exact, Finding, Framing, Plan, Severity};

/// Which part of a project is handed over. Empty lists mean all.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Selection {
    /// The sources.
    pub sources: Vec<SourceId>,
    /// The frames.
    pub frames: Vec<FrameId>,
    /// How the colour of recipes is sampled.
    pub chroma: Chroma,
    /// What the program of whoever gets it asks for; without one, what most programs ask for.
    pub profile: Option<HouseProfile>,
}

impl Selection {
    /// Whether a conversion is part of it.
    pub fn holds(&self, pair: Pair) -> bool {
        self.holds_source(pair.source) && self.holds_frame(pair.frame)
    }

    fn holds_source(&self, id: SourceId) -> bool {
        self.sources.is_empty() || self.sources.contains(&id)
    }

    fn holds_frame(&self, id: FrameId) -> bool {
        self.frames.is_empty() || self.frames.contains(&id)
    }
}

/// A finding as it stands at the hand-off.
#[derive(Clone, Debug)]
pub struct Standing {
    /// The stable code.
    pub code: &'static str,
    /// How much it matters.
    pub severity: Severity,
    /// Its sentence.
    pub message: String,
    /// Why it may stay, if somebody accepted it as it is now.
    pub accepted: Option<String>,
}

/// A finding of one of its conversions that somebody has accepted.
#[derive(Clone, Debug)]
pub struct Settled {
    /// The place of its source in [`Package::sources`].
    pub source: usize,
    /// The place of its frame in [`Package::frames`].
    pub frame: usize,
    /// Its sentence.
    pub message: String,
    /// Why it may stay.
    pub reason: String,
}

/// One conversion of a package.
#[derive(Clone, Debug)]
pub struct Packaged {
    /// The place of its source in [`Package::sources`].
    pub source: usize,
    /// The place of its frame in [`Package::frames`].
    pub frame: usize,
    /// The plan and the framing that counts.
    pub conversion: Conversion,
    /// The frames through which it is made in the project, when there are any. Its recipe goes straight from the source.
    pub through: Option<Through>,
    /// Its findings.
    pub findings: Vec<Standing>,
    /// The plan in whole pixels, worked out when somebody asks for it: that takes longer than all else.
    made: OnceLock<Arc<Made>>,
}

/// A conversion in whole pixels.
#[derive(Debug)]
struct Made {
    recipe: Result<Recipe, Error>,
    onward: Option<Onward>,
}

/// The way of a project's frame that a recipe does not go.
#[derive(Clone, Debug)]
pub struct Through {
    /// The names of the frames before it, in their order.
    pub names: Vec<Name>,
    /// What would be left of the source there.
    pub passage: Passage,
}

impl fmt::Display for Through {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let names = self.names.iter().map(Name::as_str).collect::<Vec<_>>().join(" and ");
        write!(f, "made from {names} in the project; straight from the source here: ")?;
        let lacking = self.passage.lacks.and_then(|place| self.names.get(place));
        match lacking {
            Some(name) => write!(f, "{} lacks some of this picture", name.as_str()),
            None if self.passage.is_detour() => write!(f, "so no detail is lost on the way"),
            None => write!(f, "it shows the same picture at the same size"),
        }
    }
}

impl Packaged {
    /// Findings that must not go out and that nobody has accepted.
    pub fn stops(&self) -> impl Iterator<Item = &Standing> {
        self.findings.iter().filter(|finding| finding.severity == Severity::Stop && finding.accepted.is_none())
    }

    fn settled(&self) -> impl Iterator<Item = Settled> {
        let (source, frame) = (self.source, self.frame);
        self.findings.iter().filter_map(move |finding| {
            Some(Settled { source, frame, message: finding.message.clone(), reason: finding.accepted.clone()? })
        })
    }
}

/// What is handed over. Of a large project conversions are worked out again whenever somebody asks for them: all at once
/// would fill the memory.
#[derive(Debug)]
pub struct Package<'a> {
    /// The project's name.
    pub project: String,
    /// The day of its last change, such as `2026-11-26`.
    pub day: String,
    /// The sources, in their order.
    pub sources: Vec<(SourceId, &'a Footage)>,
    /// The spheres that they look out of, for each of them that is a view.
    pub spheres: Vec<Option<&'a Footage>>,
    /// The frames, in their order.
    pub frames: Vec<(FrameId, &'a Deliverable)>,
    /// What stands open in them, by its cause, and what was accepted.
    pub points: Vec<Point>,
    /// How many findings must not go out and nobody has accepted.
    pub open_stops: usize,
    /// What was accepted, conversion by conversion.
    pub settled: Vec<Settled>,
    /// How the colour of recipes is sampled where the file of the frame does not say so.
    pub chroma: Chroma,
    /// What the numbers to type are for.
    pub profile: HouseProfile,
    /// Where all of it comes from.
    origin: &'a Project,
    /// Every conversion, source by source, where they are few.
    kept: Option<Vec<Packaged>>,
    /// For each source the place of the first one of the same geometry, where there are several.
    alike: Vec<Option<usize>>,
    /// Conversions in whole pixels by source and frame, for sources that are alike.
    known: Mutex<HashMap<(usize, usize), Vec<Known>>>,
}

/// A conversion in whole pixels by the framing that it has.
type Known = (Framing, Arc<Made>);

/// The most conversions that are kept: some 100 MB.
const MOST_KEPT: usize = 20_000;
/// The most framings of sources that are alike in one frame whose recipes are kept: looking through more takes longer
/// than it saves.
const MOST_FRAMINGS: usize = 64;
/// So many are worked out at a time where they are not.
const AT_A_TIME: usize = 512;

impl<'a> Package<'a> {
    /// The package of a part of a project. `go_on` is asked at each conversion, and ends the work by `false`;
    /// then there is no package.
    pub fn of(project: &'a Project, day: &str, selection: &Selection, go_on: impl Fn() -> bool + Sync) -> Option<Self> {
        let sources: Vec<_> = project.sources().filter(|(id, _)| selection.holds_source(*id)).collect();
        let frames: Vec<_> = project.frames().filter(|(id, _)| selection.holds_frame(*id)).collect();
        let mut package = Self {
            project: project.settings().name.as_str().to_owned(),
            day: day.to_owned(),
            spheres: sources.iter().map(|(_, footage)| project.pictured(footage).sphere).collect(),
            sources,
            frames,
            points: Vec::new(),
            open_stops: 0,
            settled: Vec::new(),
            chroma: selection.chroma,
            profile: selection.profile.clone().unwrap_or_else(usual),
            origin: project,
            kept: None,
            alike: Vec::new(),
            known: Mutex::default(),
        };
        package.alike = alike(&package.sources);
        if package.count() <= MOST_KEPT {
            package.kept = Some(package.some(0..package.sources.len(), &go_on)?);
        }
        let (mut open_stops, mut settled, mut found) = (0, Vec::new(), Vec::new());
        let told = |packaged: &Packaged| {
            let found = Share::of(package.pair(packaged), &packaged.conversion).affected;
            (found, packaged.stops().count(), packaged.settled().collect::<Vec<_>>())
        };
        let is_over = package.each(told, |all| {
            for (affected, stops, accepted) in all {
                found.extend(affected);
                open_stops += stops;
                settled.extend(accepted);
                // Those that are kept were counted as they were worked out.
                if package.kept.is_none() && !go_on() {
                    return true;
                }
            }
            false
        });
        if is_over {
            return None;
        }
        let points = project.points_of(found);
        Some(Self { points, open_stops, settled, ..package })
    }

    /// How many conversions there are: every one of the sources in every one of the frames.
    pub const fn count(&self) -> usize {
        self.sources.len() * self.frames.len()
    }

    /// Makes something of every conversion and hands it over, source by source: the cores are ahead of who takes it by a
    /// few parts.
    pub fn each<T: Send, R>(
        &self,
        make: impl Fn(&Packaged) -> T + Sync,
        take: impl FnOnce(&mut dyn Iterator<Item = T>) -> R,
    ) -> R {
        let share = (AT_A_TIME / cores::count()).max(1).div_ceil(self.frames.len().max(1));
        let part = |at: usize| {
            let sources = at * share..((at + 1) * share).min(self.sources.len());
            sources.flat_map(|source| self.of_source(source).iter().map(&make).collect::<Vec<_>>()).collect::<Vec<T>>()
        };
        cores::ahead(self.sources.len().div_ceil(share), part, |parts| take(&mut parts.flatten()))
    }

    /// The plan of a conversion in whole pixels, or why there is none.
    ///
    /// # Errors
    /// Those of [`Recipe::of`].
    pub fn recipe<'p>(&self, packaged: &'p Packaged) -> Result<&'p Recipe, &'p Error> {
        self.made(packaged).recipe.as_ref()
    }

    /// What is done to the file of the working frame before it instead, where that is part of the package and gives
    /// the same picture.
    pub fn onward<'p>(&self, packaged: &'p Packaged) -> Option<&'p Onward> {
        self.made(packaged).onward.as_ref()
    }

    fn made<'p>(&self, packaged: &'p Packaged) -> &'p Made {
        packaged.made.get_or_init(|| {
            // What goes through a working frame asks for more than its own geometry.
            let alike = self.alike[packaged.source].filter(|_| packaged.through.is_none());
            let Some(alike) = alike else { return Arc::new(self.make(packaged)) };
            let (key, placed) = ((alike, packaged.frame), &packaged.conversion.placed);
            let find =
                |known: &[Known]| known.iter().find(|(framing, _)| framing == placed).map(|(_, made)| Arc::clone(made));
            if let Some(made) = self.known().get(&key).and_then(|known| find(known)) {
                return made;
            }
            let made = Arc::new(self.make(packaged));
            let mut known = self.known();
            let known = known.entry(key).or_default();
            if known.len() < MOST_FRAMINGS {
                known.push((placed.clone(), Arc::clone(&made)));
            }
            made
        })
    }

    fn known(&self) -> MutexGuard<'_, HashMap<(usize, usize), Vec<Known>>> {
        self.known.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn make(&self, packaged: &Packaged) -> Made {
        let (footage, deliverable) = (self.source_of(packaged), self.frame_of(packaged));
        let (conversion, geometry) = (&packaged.conversion, deliverable.geometry.frame());
        let chroma = deliverable.file.as_ref().map_or(self.chroma, |file| file.parts().chroma);
        let recipe = Recipe::of(footage.geometry.source(), geometry, &conversion.placed, chroma);
        let onward = packaged.through.as_ref().filter(|through| through.passage.lacks.is_none()).and_then(|_| {
            let Pair { source, frame } = self.pair(packaged);
            let id = *self.origin.way(frame).iter().nth_back(1)?;
            let from = self.frames.iter().position(|(frame, _)| *frame == id)?;
            let before = self.origin.conversion(Pair::new(source, id))?;
            let working = (footage, self.frames[from].1, &before.plan);
            Onward::of(from, working, (deliverable, &conversion.plan), chroma)
        });
        Made { recipe, onward }
    }

    /// Every conversion, source by source.
    pub fn conversions(&self) -> Conversions<'_> {
        Conversions { package: self, made: Vec::new().into_iter(), next: 0 }
    }

    /// The conversions of the source at a place, one after the other.
    pub fn of_source(&self, source: usize) -> Cow<'_, [Packaged]> {
        let frames = self.frames.len();
        match &self.kept {
            Some(kept) => Cow::Borrowed(&kept[source * frames..(source + 1) * frames]),
            None => Cow::Owned(self.work_out(source..source + 1, &|| true).unwrap_or_default()),
        }
    }

    /// What a conversion is of.
    pub fn pair(&self, packaged: &Packaged) -> Pair {
        Pair::new(self.sources[packaged.source].0, self.frames[packaged.frame].0)
    }

    /// The source of a conversion.
    pub fn source_of(&self, packaged: &Packaged) -> &'a Footage {
        self.sources[packaged.source].1
    }

    /// The source of a conversion with what its picture is made of.
    pub fn pictured(&self, packaged: &Packaged) -> Pictured<'a> {
        self.pictured_at(packaged.source)
    }

    /// The source at a place with what its picture is made of.
    pub fn pictured_at(&self, source: usize) -> Pictured<'a> {
        Pictured { footage: self.sources[source].1, sphere: self.spheres[source] }
    }

    /// The frame of a conversion.
    pub fn frame_of(&self, packaged: &Packaged) -> &'a Deliverable {
        self.frames[packaged.frame].1
    }

    /// What a conversion is called.
    pub fn name_of(&self, packaged: &Packaged) -> String {
        format!("{} into {}", self.source_of(packaged).name.as_str(), self.frame_of(packaged).name.as_str())
    }

    /// Who is affected by a point: the names of its sources and of its frames, each once.
    pub fn affected_by(&self, point: &Point) -> [Vec<&str>; 2] {
        // Both are in the order of their numbers, as they are in the project.
        let sources: BTreeSet<SourceId> = point.affected.iter().map(|each| each.pair.source).collect();
        let frames: BTreeSet<FrameId> = point.affected.iter().map(|each| each.pair.frame).collect();
        let source = |id: &SourceId| Some(self.sources[self.sources.binary_search_by_key(id, |(id, _)| *id).ok()?].1);
        let frame = |id: &FrameId| Some(self.frames[self.frames.binary_search_by_key(id, |(id, _)| *id).ok()?].1);
        [
            sources.iter().filter_map(source).map(|source| source.name.as_str()).collect(),
            frames.iter().filter_map(frame).map(|frame| frame.name.as_str()).collect(),
        ]
    }

    /// What to type for a conversion.
    pub fn to_type(&self, packaged: &Packaged) -> ToType {
        let (source, frame) = (self.source_of(packaged), self.frame_of(packaged));
        let plan = &packaged.conversion.plan;
        ToType::of(&self.profile.profile, source.geometry.source(), frame.geometry.frame(), plan)
    }

    /// How long the outcome of a conversion runs, where that is known.
    pub fn seconds_of(&self, packaged: &Packaged) -> Option<Seconds> {
        let (source, frame) = (self.source_of(packaged), self.frame_of(packaged));
        let frames = source.origin.as_ref()?.frames?;
        let rate = match source.playback {
            Intent::EveryFrame => frame.rate.as_ref().or(source.rate.as_ref()),
            Intent::RealTime => source.rate.as_ref(),
        };
        Seconds::new(Exact::whole(frames) / rate?.value().value()).ok()
    }

    /// What the file of a conversion weighs, where all that it takes is known.
    pub fn weight_of(&self, packaged: &Packaged) -> Option<FileWeight> {
        let (source, frame) = (self.source_of(packaged), self.frame_of(packaged));
        let rate = frame.rate.as_ref().or(source.rate.as_ref())?.value();
        frame.file.as_ref()?.weight(frame.geometry.frame().raster(), rate, &self.seconds_of(packaged)?)
    }

    /// The conversions of some of the sources. None when the work was ended.
    fn some(&self, sources: Range<usize>, go_on: &(impl Fn() -> bool + Sync)) -> Option<Vec<Packaged>> {
        let over = AtomicBool::new(false);
        let part = |source| {
            let part = if over.load(Ordering::Relaxed) { None } else { self.work_out(source..source + 1, go_on) };
            over.fetch_or(part.is_none(), Ordering::Relaxed);
            [part]
        };
        let parts: Option<Vec<Vec<Packaged>>> = cores::shared(sources, part).into_iter().collect();
        Some(parts?.into_iter().flatten().collect())
    }

    /// The same on this core.
    fn work_out(&self, sources: Range<usize>, go_on: &(impl Fn() -> bool + Sync)) -> Option<Vec<Packaged>> {
        let project = self.origin;
        let mut conversions = Vec::with_capacity(sources.len() * self.frames.len());
        for source in sources {
            let (source_id, footage) = self.sources[source];
            for (frame, (frame_id, _)) in self.frames.iter().enumerate() {
                // OK because both are in the project that they were taken from.
                let conversion = project.conversion(Pair::new(source_id, *frame_id)).expect("both are there");
                let findings = conversion.findings.iter().map(|finding| standing(&conversion, finding)).collect();
                let through = project.through(source_id, footage, *frame_id, &conversion.plan);
                conversions.push(Packaged { source, frame, conversion, through, findings, made: OnceLock::new() });
                if !go_on() {
                    return None;
                }
            }
        }
        Some(conversions)
    }

    /// Whether nothing stands that must be answered first.
    pub const fn is_ready(&self) -> bool {
        self.open_stops == 0
    }
}

/// The conversions of a package, one after the other.
#[derive(Debug)]
pub struct Conversions<'a> {
    package: &'a Package<'a>,
    /// Those that were worked out last.
    made: std::vec::IntoIter<Packaged>,
    /// Which comes next: the conversion where they are kept, the source where they are not.
    next: usize,
}

impl<'a> Iterator for Conversions<'a> {
    type Item = Cow<'a, Packaged>;

    fn next(&mut self) -> Option<Self::Item> {
        if let Some(kept) = &self.package.kept {
            self.next += 1;
            return kept.get(self.next - 1).map(Cow::Borrowed);
        }
        if self.made.len() == 0 {
            let sources = AT_A_TIME.div_ceil(self.package.frames.len().max(1));
            let some = self.next..(self.next + sources).min(self.package.sources.len());
            self.next = some.end;
            self.made = self.package.some(some, &|| true)?.into_iter();
        }
        self.made.next().map(Cow::Owned)
    }
}

/// For each source the place of the first one of the same geometry, where there are several.
fn alike(sources: &[(SourceId, &Footage)]) -> Vec<Option<usize>> {
    let mut first: HashMap<&str, (usize, usize)> = HashMap::new();
    let kinds: Vec<String> = sources.iter().map(|(_, footage)| format!("{:?}", footage.geometry.source())).collect();
    for (at, kind) in kinds.iter().enumerate() {
        first.entry(kind).or_insert((at, 0)).1 += 1;
    }
    kinds.iter().map(|kind| first.get(&**kind).filter(|(_, count)| *count > 1).map(|(at, _)| *at)).collect()
}

/// What most programs ask for.
fn usual() -> HouseProfile {
    HouseProfile { name: Name::new("usual").expect("a short name"), profile: TypingProfile::default() }
}

fn standing(conversion: &Conversion, finding: &Finding) -> Standing {
    Standing {
        code: finding.code(),
        severity: finding.severity(),
        message: finding.to_string(),
        accepted: match conversion.judgement(finding) {
            Judgement::Accepted(acceptance) => Some(acceptance.reason.as_str().to_owned()),
            Judgement::Open | Judgement::Lapsed(_) => None,
        },
    }
}

impl Project {
    /// The way that leads to a frame, when one does.
    fn through(&self, source: SourceId, footage: &Footage, frame: FrameId, plan: &Plan) -> Option<Through> {
        let way = self.way(frame);
        let (_, before) = way.split_last()?;
        let names: Vec<_> = before.iter().filter_map(|id| Some(self.frame(*id)?.name.clone())).collect();
        let passage = self.passage_to(source, footage, before, plan)?;
        (!names.is_empty()).then_some(Through { names, passage })
    }

    /// How many conversions of a part of it have a stop that nobody has accepted.
    pub fn stopped(&self, selection: &Selection) -> usize {
        let chosen = self.board().filter(|(pair, _)| selection.holds(*pair));
        chosen.filter(|(_, conversion)| conversion.severity() == Some(Severity::Stop)).count()
    }
}
