//! [`Point`]: one cause behind findings, with everything that has them.

use std::cmp::Reverse;
use std::collections::{BTreeMap, BinaryHeap, HashMap, HashSet};

use crate::finding::{Squeezing, is_slip};
use crate::fraction::Written;
use crate::project::{Conversion, Edit, FrameId, FramingSpec, Judgement, Pair, Project, SourceId, Tolerances};
use crate::signal::{Projection, Signal, SignalRange};
use crate::words::counted;
use crate::{Exact, Finding, FrameRate, Severity, Tolerance};

/// What is behind findings of one code.
#[derive(Clone, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Cause {
    /// A source, wherever it goes.
    Source(SourceId),
    /// A frame, whatever comes.
    Frame(FrameId),
    /// Two rates, as fractions: that of sources and that of frames.
    Rates(String, String),
    /// Every source that leaves something unsaid.
    Unsaid,
}

/// A conversion that has the findings of a point.
#[derive(Clone, Debug)]
pub struct Affected {
    /// The conversion.
    pub pair: Pair,
    /// What it finds.
    pub finding: Finding,
    /// Why it may stay, if somebody has accepted it.
    pub accepted: Option<String>,
}

/// What a conversion has to do with the points of its project.
#[derive(Clone, Debug)]
pub struct Found {
    /// Its findings that have a part in points.
    pub affected: Vec<Affected>,
    /// Whether it needs a look or must not go out, for something of its own.
    pub is_flagged: bool,
    /// Whether it loses most of the picture.
    pub is_mostly_lost: bool,
}

impl Found {
    /// That of a conversion.
    pub fn of(pair: Pair, conversion: &Conversion) -> Self {
        let accepted = |finding: &Finding| match conversion.judgement(finding) {
            Judgement::Accepted(acceptance) => Some(acceptance.reason.as_str().to_owned()),
            Judgement::Open | Judgement::Lapsed(_) => None,
        };
        let affected = |finding: &Finding| Affected { pair, finding: finding.clone(), accepted: accepted(finding) };
        Self {
            affected: conversion.findings.iter().filter(|finding| is_point(finding)).map(affected).collect(),
            is_flagged: conversion.severity() > Some(Severity::Note),
            is_mostly_lost: conversion.findings.iter().any(|finding| matches!(finding, Finding::MostlyLost { .. })),
        }
    }
}

/// One cause behind findings.
#[derive(Clone, Debug)]
pub struct Point {
    /// The code of its findings.
    pub code: &'static str,
    /// What is behind them.
    pub cause: Cause,
    /// How much it matters: as much as the heaviest that nobody has accepted, or of all where all are.
    pub severity: Severity,
    /// Who is affected, in the order of the board.
    pub affected: Vec<Affected>,
    /// What it is, in a few words.
    pub title: String,
    /// What that means, with its numbers.
    pub detail: String,
}

/// What would help against a point, for all at once.
#[derive(Clone, Debug)]
pub struct PointRemedy {
    /// In words.
    pub words: String,
    /// The edit that does it.
    pub edit: Edit,
    /// How many of the affected conversions are rid of the finding.
    pub solves: usize,
    /// The affected conversions as they would be.
    pub after: Vec<(Pair, Conversion)>,
}

impl Point {
    /// What it is known by while its cause is there.
    pub fn key(&self) -> String {
        match &self.cause {
            Cause::Source(id) => format!("{}-source-{id}", self.code),
            Cause::Frame(id) => format!("{}-frame-{id}", self.code),
            Cause::Unsaid => self.code.to_owned(),
            Cause::Rates(from, to) => format!("{}-{}-{}", self.code, from.replace('/', ":"), to.replace('/', ":")),
        }
    }

    /// Whether some of it has not been accepted.
    pub fn is_open(&self) -> bool {
        self.affected.iter().any(|affected| affected.accepted.is_none())
    }

    /// Why it may stay, where all of it was accepted: the reason given first.
    pub fn reason(&self) -> Option<&str> {
        if self.is_open() { None } else { self.affected.first().and_then(|first| first.accepted.as_deref()) }
    }
}

/// The most affected conversions that are asked what would help them, each for itself.
const ASKED: usize = 600;

impl Project {
    /// What stands open in the project, by its cause: the heaviest first, then what affects most. What was
    /// accepted everywhere comes last.
    pub fn points(&self) -> Vec<Point> {
        self.points_of(self.board().flat_map(|(pair, conversion)| Found::of(pair, &conversion).affected))
    }

    /// The points behind what was found in conversions, which come in the order of the board.
    pub fn points_of(&self, found: impl IntoIterator<Item = Affected>) -> Vec<Point> {
        let mut settled: BTreeMap<(usize, Cause), Vec<Affected>> = BTreeMap::new();
        // Findings of source and frame together: either may be what they have in common.
        let mut shared: BTreeMap<usize, Vec<Affected>> = BTreeMap::new();
        for affected in found {
            let code = place(&affected.finding);
            match cause(&affected.finding, affected.pair) {
                Some(cause) => settled.entry((code, cause)).or_default().push(affected),
                None => shared.entry(code).or_default().push(affected),
            }
        }
        let mut points: Vec<Point> = Vec::new();
        for ((_, cause), affected) in settled {
            points.extend(self.point(cause, affected));
        }
        for affected in shared.into_values() {
            points.extend(by_cause(affected).into_iter().filter_map(|(cause, affected)| self.point(cause, affected)));
        }
        points.sort_by_cached_key(|point| {
            let open = point.affected.iter().filter(|affected| affected.accepted.is_none()).count();
            (!point.is_open(), Reverse(point.severity), Reverse(open), point.key())
        });
        points
    }

    fn point(&self, cause: Cause, affected: Vec<Affected>) -> Option<Point> {
        let open = || affected.iter().filter(|each| each.accepted.is_none());
        let heaviest = open().map(|each| each.finding.weight()).max();
        let severity = heaviest.or_else(|| affected.iter().map(|each| each.finding.weight()).max())?;
        let code = affected.first()?.finding.code();
        let (title, detail) = self.says(&cause, &affected)?;
        Some(Point { code, cause, severity, affected, title, detail })
    }

    /// What a point is called, and what it means.
    fn says(&self, cause: &Cause, affected: &[Affected]) -> Option<(String, String)> {
        let name = match cause {
            Cause::Source(id) => self.source(*id)?.name.as_str(),
            Cause::Frame(id) => self.frame(*id)?.name.as_str(),
            Cause::Rates(..) | Cause::Unsaid => "",
        };
        let frames = affected.iter().map(|each| each.pair.frame).collect::<HashSet<_>>().len();
        let clips = affected.iter().map(|each| each.pair.source).collect::<HashSet<_>>().len();
        let of_source = matches!(cause, Cause::Source(_));
        let among = if of_source { format!("in {}", counted(frames, "frame")) } else { counted(clips, "clip") };
        let first = &affected.first()?.finding;
        let range = |numbers: Vec<Exact>, unit: &str| spread(numbers, unit);
        Some(match first {
            Finding::RateMixed { from, to, cadence } => {
                let (a, b) = (from.to_short_decimal(3), to.to_short_decimal(3));
                let meaning =
                    if is_slip(from, to) { first.to_string() } else { faster(from, to, &cadence.to_string()) };
                (format!("{a} fps into {b} fps: {}", counted(clips, "clip")), meaning)
            }
            Finding::NotSaid(signal) => {
                let (what, meaning) = match signal {
                    Signal::Scan => ("Scan", "nothing says progressive or interlaced; planned as progressive"),
                    Signal::Range => {
                        ("Signal range", "nothing says narrow or full; the values are passed on unchanged")
                    }
                };
                (format!("{what} unknown: {}", counted(clips, "clip")), meaning.to_owned())
            }
            Finding::Interlaced => (
                format!("{name} is interlaced: {}", counted(frames, "frame")),
                "the frames are progressive: motion will show combing".to_owned(),
            ),
            Finding::Range { from, to } => (
                format!("{name} has {} range: {}", from.word(), counted(frames, "frame")),
                format!(
                    "the frames have {} range: black and white come out {}",
                    to.word(),
                    if *to == SignalRange::Narrow { "clipped" } else { "grey" }
                ),
            ),
            Finding::OverLevel { codec, set, needed } => (
                match set {
                    Some(set) => format!("{name} is over {codec} level {set}"),
                    None => format!("{name} is over every level of {codec}"),
                },
                match needed {
                    Some(needed) => format!("its size, rate and bit rate need level {needed}"),
                    None => "no level takes its size, rate and bit rate: decoders may not play it".to_owned(),
                },
            ),
            Finding::Detour { through, .. } => {
                let left = affected.iter().filter_map(|each| match &each.finding {
                    Finding::Detour { detail, .. } => Some(detail.x.clone().min(detail.y.clone())),
                    _ => None,
                });
                (
                    format!("Detour on the way to {name}: {}", counted(clips, "clip")),
                    format!("made from {through}, {} of the detail is left", range(left.collect(), " %")),
                )
            }
            Finding::Squeeze(Squeezing::Missing { squeeze, set, alike, .. }) => {
                let squeeze = squeeze.to_short_decimal(3);
                let has = if *set == Exact::ONE {
                    "no squeeze".to_owned()
                } else {
                    format!("squeeze {}", set.to_short_decimal(3))
                };
                (
                    format!("{name} has {has}, {alike} clips like it have {squeeze}"),
                    "same raster, pixel aspect and camera".to_owned(),
                )
            }
            Finding::Squeeze(Squeezing::Twice { .. }) => (format!("{name} may be desqueezed twice"), first.to_string()),
            Finding::Sideways { .. } => (
                format!("Which way up is {name} stored?"),
                format!("by its numbers it may lie on its side: asked once, {among}"),
            ),
            Finding::Projection { from: Projection::Sphere, .. } => (
                format!("{name} is a sphere in {}", counted(frames, "flat frame")),
                "unrolled, nothing straight stays straight: take a flat view out of it".to_owned(),
            ),
            Finding::Projection { .. } => (
                format!("{name} is for a sphere: {}", counted(clips, "flat clip")),
                "a flat picture would be wrapped around the viewer: place it on the sphere instead".to_owned(),
            ),
            Finding::SphereForm { from, to } => (
                format!("{name} wants a sphere that lies otherwise: {}", counted(clips, "clip")),
                format!("a {from}, where a {to} is wanted"),
            ),
            Finding::SphereShape { .. } => (format!("{name} has not the shape of a sphere"), first.to_string()),
            Finding::SphereCut { .. } => (format!("The sphere of {name} is cut or rotated"), first.to_string()),
            Finding::SphereUnsaid => (format!("{name} does not say that it is a sphere"), first.to_string()),
            Finding::SphereEnlarged { .. } => {
                let scales = affected.iter().filter_map(|each| match &each.finding {
                    Finding::SphereEnlarged { scale } => Some(scale.clone()),
                    _ => None,
                });
                let title =
                    if of_source { format!("{name} is enlarged {among}") } else { format!("{name} enlarges {among}") };
                (title, format!("to {} of the sphere's own pixels", range(scales.collect(), " %")))
            }
            Finding::SphereGone => (format!("{name} looks out of a sphere that is not there"), first.to_string()),
            Finding::OddSize { .. } | Finding::NearPublished { .. } => {
                (format!("The size of {name}"), first.to_string())
            }
            Finding::Enlarged { .. } => {
                let scales = affected.iter().filter_map(|each| match &each.finding {
                    Finding::Enlarged { scale, .. } => Some(scale.x.clone().min(scale.y.clone())),
                    _ => None,
                });
                let title =
                    if of_source { format!("{name} is enlarged {among}") } else { format!("{name} enlarges {among}") };
                (title, format!("to {} of the stored size", range(scales.collect(), " %")))
            }
            Finding::SubjectCut { .. } => {
                let cut = affected.iter().filter_map(|each| match &each.finding {
                    Finding::SubjectCut { shown } => Some(Exact::ONE - shown),
                    _ => None,
                });
                let title = if of_source {
                    format!("The subject of {name} is cut {among}")
                } else {
                    format!("{name} cuts the subject of {among}")
                };
                (title, format!("{} of it is cut off", range(cut.collect(), " %")))
            }
            Finding::MostlyLost { .. } => {
                let kept = affected.iter().filter_map(|each| match &each.finding {
                    Finding::MostlyLost { kept, .. } => Some(kept.clone()),
                    _ => None,
                });
                let title = if of_source {
                    format!("Little is left of {name} {among}")
                } else {
                    format!("{name} keeps little of {among}")
                };
                (title, format!("{} of the picture is kept, less than the ratios cost", range(kept.collect(), " %")))
            }
            Finding::Bars { .. } => {
                let title =
                    if of_source { format!("{name} leaves bars {among}") } else { format!("{name} has bars: {among}") };
                (
                    title,
                    if affected.len() == 1 {
                        first.to_string()
                    } else {
                        "the picture does not fill the frame".to_owned()
                    },
                )
            }
            Finding::DoubleBoxed { .. } => (
                if of_source {
                    format!("{name} has bars on all four sides {among}")
                } else {
                    format!("Bars on all four sides of {name}: {among}")
                },
                "a player will add more bars, or crop".to_owned(),
            ),
            Finding::OffEdge { .. } => (
                if of_source {
                    format!("{name} is shifted past its edge {among}")
                } else {
                    format!("Shifted past the edge in {name}: {among}")
                },
                if affected.len() == 1 { first.to_string() } else { "black shows beside the picture".to_owned() },
            ),
            Finding::Distorted { .. } => (
                if of_source { format!("{name} is stretched {among}") } else { format!("{name} stretches {among}") },
                if affected.len() == 1 { first.to_string() } else { "circles do not stay round".to_owned() },
            ),
            Finding::EnlargedOneWay { .. } | Finding::NoSubject | Finding::SubjectTight { .. } => return None,
        })
    }

    /// What would help against a point, for all at once. Nothing is offered that makes any conversion worse
    /// than it is.
    pub fn remedies(&self, point: &Point) -> Vec<PointRemedy> {
        let mut ideas: Vec<(String, Idea)> = Vec::new();
        for affected in point.affected.iter().filter(|affected| affected.accepted.is_none()).take(ASKED) {
            let Some((_, proposals)) = self.proposals(affected.pair) else { continue };
            for proposal in proposals.into_iter().filter(|proposal| proposal.against == point.code) {
                let Some(idea) = Idea::of(proposal.edit) else { continue };
                match ideas.iter_mut().find(|(words, known)| *words == proposal.words && known.goes_with(&idea)) {
                    Some((_, known)) => known.take(idea),
                    None => ideas.push((proposal.words, idea)),
                }
            }
        }
        let mut edits: Vec<(String, Edit)> = ideas.into_iter().map(|(words, idea)| (words, idea.edit())).collect();
        edits.extend(self.tolerating(point));
        let found = edits.into_iter().filter_map(|(words, edit)| self.remedy(point, words, edit));
        let mut found: Vec<PointRemedy> = found.collect();
        found.sort_by_key(|remedy| Reverse(remedy.solves));
        found
    }

    fn remedy(&self, point: &Point, words: String, edit: Edit) -> Option<PointRemedy> {
        let changes = self.apply(&edit).ok()?;
        let after = self.with(&changes);
        // What the edit touches beside the point must not become worse either.
        let touched = changes.touched();
        let others = self.board().map(|(pair, _)| pair).filter(|pair| touched(*pair));
        let affected: HashSet<Pair> = point.affected.iter().map(|affected| affected.pair).collect();
        let worse = |pair: Pair| {
            let (before, after) = (self.conversion(pair), after.conversion(pair));
            before.zip(after).is_some_and(|(before, after)| after.severity() > before.severity())
        };
        if others.filter(|pair| !affected.contains(pair)).any(worse) {
            return None;
        }
        let mut solves = 0;
        let mut outcome = Vec::new();
        for affected in &point.affected {
            let (before, now) = (self.conversion(affected.pair)?, after.conversion(affected.pair)?);
            if now.severity() > before.severity() {
                return None;
            }
            let still = now.findings.iter().find(|finding| finding.code() == point.code);
            if still.is_none_or(|still| still.weight() < affected.finding.weight()) {
                solves += 1;
            }
            outcome.push((affected.pair, now));
        }
        (solves > 0).then_some(PointRemedy { words, edit, solves, after: outcome })
    }

    /// Saying that it is fine in this project.
    fn tolerating(&self, point: &Point) -> Option<(String, Edit)> {
        let mut settings = self.settings().clone();
        let words = match &point.cause {
            Cause::Rates(from, to) => {
                let rate = |text: &str| Written::parse(text, FrameRate::spoken).ok();
                let pair = [rate(from)?, rate(to)?];
                let Finding::RateMixed { from, to, .. } = &point.affected.first()?.finding else { return None };
                let words = format!(
                    "{} fps into {} fps is fine in this project",
                    from.to_short_decimal(3),
                    to.to_short_decimal(3)
                );
                if settings.tolerances.rates.len() >= Tolerances::MOST_RATES {
                    return None;
                }
                settings.tolerances.rates.push(pair);
                words
            }
            _ if point.code == "enlarged" => {
                let scales = point.affected.iter().filter_map(|each| match &each.finding {
                    Finding::Enlarged { scale, .. } => Some(scale.x.clone().min(scale.y.clone())),
                    _ => None,
                });
                // In steps of five percent, and not past what nobody would leave unseen.
                let twenty = Exact::whole(20);
                let up_to = Exact::from((scales.max()? * &twenty).ceil_whole()) / twenty;
                if up_to > Exact::whole(2) {
                    return None;
                }
                let percent = (&up_to * Exact::whole(100)).to_short_decimal(0);
                settings.tolerances.enlarged =
                    Written::of(Tolerance::new(crate::fraction::writable(&up_to)).ok()?, Tolerance::value);
                format!("Enlarging needs no look up to {percent} % in this project")
            }
            _ => return None,
        };
        Some((words, Edit::SetProject(settings)))
    }
}

/// Whether a finding is a point of the project: what needs a look somewhere, and the questions which way up it is
/// and what nobody has said.
fn is_point(finding: &Finding) -> bool {
    finding.weight() > Severity::Note
        || matches!(finding, Finding::Sideways { .. } | Finding::RateMixed { .. } | Finding::NotSaid(_))
}

/// The place of its code among all.
fn place(finding: &Finding) -> usize {
    Finding::CODES.iter().position(|code| *code == finding.code()).unwrap_or(Finding::CODES.len())
}

/// The cause of a finding that has one by its nature.
fn cause(finding: &Finding, pair: Pair) -> Option<Cause> {
    match finding {
        Finding::RateMixed { from, to, .. } => Some(Cause::Rates(from.to_string(), to.to_string())),
        Finding::NotSaid(_) => Some(Cause::Unsaid),
        Finding::Interlaced
        | Finding::Range { .. }
        | Finding::Squeeze(_)
        | Finding::Sideways { .. }
        | Finding::NoSubject
        | Finding::EnlargedOneWay { .. }
        | Finding::SphereShape { of_frame: false, .. }
        | Finding::SphereCut { .. }
        | Finding::SphereUnsaid
        | Finding::SphereGone
        | Finding::Projection { from: Projection::Sphere, .. } => Some(Cause::Source(pair.source)),
        Finding::Detour { .. }
        | Finding::OddSize { .. }
        | Finding::OverLevel { .. }
        | Finding::SphereForm { .. }
        | Finding::SphereShape { .. }
        | Finding::NearPublished { .. }
        | Finding::Projection { .. } => Some(Cause::Frame(pair.frame)),
        Finding::Bars { .. }
        | Finding::OffEdge { .. }
        | Finding::DoubleBoxed { .. }
        | Finding::Distorted { .. }
        | Finding::Enlarged { .. }
        | Finding::SphereEnlarged { .. }
        | Finding::MostlyLost { .. }
        | Finding::SubjectTight { .. }
        | Finding::SubjectCut { .. } => None,
    }
}

/// The conversions by what most of them share, source or frame, as long as any is left.
fn by_cause(affected: Vec<Affected>) -> Vec<(Cause, Vec<Affected>)> {
    let causes = |each: &Affected| [Cause::Source(each.pair.source), Cause::Frame(each.pair.frame)];
    let mut members: HashMap<Cause, Vec<usize>> = HashMap::new();
    for (at, each) in affected.iter().enumerate() {
        for cause in causes(each) {
            members.entry(cause).or_default().push(at);
        }
    }
    let mut counts: HashMap<Cause, usize> = members.iter().map(|(cause, of)| (cause.clone(), of.len())).collect();
    // The one that most share is on top; some counts are those of before others were taken out.
    let mut most: BinaryHeap<(usize, Reverse<Cause>)> =
        counts.iter().map(|(cause, count)| (*count, Reverse(cause.clone()))).collect();
    let mut left: Vec<Option<Affected>> = affected.into_iter().map(Some).collect();
    let mut groups = Vec::new();
    while let Some((count, Reverse(cause))) = most.pop() {
        let now = counts[&cause];
        if now < count {
            most.push((now, Reverse(cause)));
            continue;
        }
        let taken: Vec<Affected> = members[&cause].iter().filter_map(|at| left[*at].take()).collect();
        if taken.is_empty() {
            continue;
        }
        for cause in taken.iter().flat_map(causes) {
            counts.entry(cause).and_modify(|count| *count -= 1);
        }
        groups.push((cause, taken));
    }
    groups
}

/// Shares from the smallest to the largest: `"12.8 to 40 %"`.
fn spread(mut numbers: Vec<Exact>, unit: &str) -> String {
    numbers.sort();
    let percent = |value: &Exact| (value * Exact::whole(100)).to_short_decimal(1);
    match (numbers.first().map(percent), numbers.last().map(percent)) {
        (Some(least), Some(most)) if least != most => format!("{least} to {most}{unit}"),
        (Some(only), _) => format!("{only}{unit}"),
        _ => String::new(),
    }
}

/// What can be done about two rates that do not go evenly into each other.
fn faster(from: &Exact, to: &Exact, cadence: &str) -> String {
    let speed = to / from;
    let by = ((&speed - Exact::ONE).abs() * Exact::whole(100)).to_short_decimal(2);
    let way = if speed > Exact::ONE { "faster" } else { "slower" };
    format!("uneven motion ({cadence}), or run every frame {by} % {way}")
}

/// An edit for one conversion that can be made one for many.
enum Idea {
    Sources(Vec<SourceId>, Box<crate::project::SourcePatch>),
    Frames(Vec<FrameId>, Box<crate::project::FramePatch>),
    Framings(Vec<(Pair, FramingSpec)>),
}

impl Idea {
    fn of(edit: Edit) -> Option<Self> {
        match edit {
            Edit::SetSources { ids, patch } => Some(Self::Sources(ids, patch)),
            Edit::SetFrames { ids, patch } => Some(Self::Frames(ids, patch)),
            Edit::SetConversions { pairs, own: Some(own) } => {
                Some(Self::Framings(pairs.into_iter().map(|pair| (pair, own.clone())).collect()))
            }
            _ => None,
        }
    }

    fn goes_with(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Sources(_, one), Self::Sources(_, other)) => one == other,
            (Self::Frames(_, one), Self::Frames(_, other)) => one == other,
            (Self::Framings(_), Self::Framings(_)) => true,
            _ => false,
        }
    }

    fn take(&mut self, other: Self) {
        match (self, other) {
            (Self::Sources(ids, _), Self::Sources(more, _)) => {
                ids.extend(more.into_iter().filter(|id| !ids.contains(id)).collect::<Vec<_>>());
            }
            (Self::Frames(ids, _), Self::Frames(more, _)) => {
                ids.extend(more.into_iter().filter(|id| !ids.contains(id)).collect::<Vec<_>>());
            }
            (Self::Framings(each), Self::Framings(more)) => each.extend(more),
            _ => {}
        }
    }

    fn edit(self) -> Edit {
        match self {
            Self::Sources(ids, patch) => Edit::SetSources { ids, patch },
            Self::Frames(ids, patch) => Edit::SetFrames { ids, patch },
            Self::Framings(each) => Edit::SetFramings(each),
        }
    }
}

#[cfg(test)]
mod tests {
    use std::cmp::Reverse;
    use std::collections::HashMap;

    use proptest::prelude::*;

    use super::{Affected, Cause, by_cause};
    use crate::Finding;
    use crate::project::{FrameId, Pair, SourceId};

    /// What most share, counted anew each time.
    fn counted_anew(mut left: Vec<Pair>) -> Vec<(Cause, Vec<Pair>)> {
        let mut groups = Vec::new();
        while !left.is_empty() {
            let mut counts: HashMap<Cause, usize> = HashMap::new();
            for pair in &left {
                *counts.entry(Cause::Source(pair.source)).or_default() += 1;
                *counts.entry(Cause::Frame(pair.frame)).or_default() += 1;
            }
            let most = counts.into_iter().max_by_key(|(cause, count)| (*count, Reverse(cause.clone())));
            let (cause, _) = most.expect("some are left");
            let (taken, rest) = left
                .into_iter()
                .partition(|pair| cause == Cause::Source(pair.source) || cause == Cause::Frame(pair.frame));
            left = rest;
            groups.push((cause, taken));
        }
        groups
    }

    proptest! {
        #[test]
        fn causes_are_those_that_most_share(pairs in prop::collection::btree_set((0..9, 0..9), 0..60)) {
            let pairs: Vec<Pair> =
                pairs.into_iter().map(|(source, frame)| Pair::new(SourceId::new(source), FrameId::new(frame))).collect();
            let affected = |pair: &Pair| Affected { pair: *pair, finding: Finding::Interlaced, accepted: None };
            let groups = by_cause(pairs.iter().map(affected).collect());
            let groups: Vec<(Cause, Vec<Pair>)> = groups
                .into_iter()
                .map(|(cause, of)| (cause, of.iter().map(|each| each.pair).collect()))
                .collect();
            prop_assert_eq!(groups, counted_anew(pairs));
        }
    }
}
