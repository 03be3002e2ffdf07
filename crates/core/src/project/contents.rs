//! [`Project`]: all that a project holds, and what is computed from it.

use std::collections::BTreeMap;

use crate::common::Common;
use crate::dial_in::{self, Entry, RoundingCost};
use crate::project::neighbours::{Known, Neighbours};
use crate::project::ways::way;
use crate::project::{
    Change, Changes, Choice, Conversion, Deliverable, EditError, Footage, FrameId, FramingSpec, Pair, Placing,
    ProjectSettings, Proposal, SourceId,
};
use crate::rests::Rests;
use crate::subject::SubjectSpec;
use crate::{DeliveryFrame, Error, Framing};

/// Sources, frames and what is added to their conversions.
///
/// Every answer is computed from what it holds; it remembers none. What a conversion adds stays when its
/// source or frame goes, so that it is there again when that comes back.
#[derive(Clone, Debug, PartialEq)]
pub struct Project {
    settings: ProjectSettings,
    sources: BTreeMap<SourceId, Footage>,
    frames: BTreeMap<FrameId, Deliverable>,
    choices: BTreeMap<Pair, Choice>,
    /// What its clips say of each other.
    known: Known,
}

impl Project {
    /// A project with nothing in it.
    pub const fn new(settings: ProjectSettings) -> Self {
        Self {
            settings,
            sources: BTreeMap::new(),
            frames: BTreeMap::new(),
            choices: BTreeMap::new(),
            known: Known::nothing(),
        }
    }

    /// What the project itself keeps.
    pub const fn settings(&self) -> &ProjectSettings {
        &self.settings
    }

    /// Its footage, in the order of entry.
    pub fn sources(&self) -> impl ExactSizeIterator<Item = (SourceId, &Footage)> {
        self.sources.iter().map(|(id, footage)| (*id, footage))
    }

    /// Its delivery frames, in the order of entry.
    pub fn frames(&self) -> impl ExactSizeIterator<Item = (FrameId, &Deliverable)> {
        self.frames.iter().map(|(id, frame)| (*id, frame))
    }

    /// What is added to conversions whose source and frame are there.
    pub fn choices(&self) -> impl Iterator<Item = (Pair, &Choice)> {
        let there = |(pair, choice)| self.holds(pair).then_some((pair, choice));
        self.choices.iter().map(|(pair, choice)| (*pair, choice)).filter_map(there)
    }

    /// One source.
    pub fn source(&self, id: SourceId) -> Option<&Footage> {
        self.sources.get(&id)
    }

    /// One frame.
    pub fn frame(&self, id: FrameId) -> Option<&Deliverable> {
        self.frames.get(&id)
    }

    /// What is added to a conversion; nothing where nobody has touched it.
    pub fn choice(&self, pair: Pair) -> Choice {
        self.choices.get(&pair).cloned().unwrap_or_default()
    }

    /// What is added to a conversion, if anything is.
    pub(super) fn added(&self, pair: Pair) -> Option<&Choice> {
        self.choices.get(&pair)
    }

    /// Whether source and frame of a conversion are there.
    pub fn holds(&self, pair: Pair) -> bool {
        self.sources.contains_key(&pair.source) && self.frames.contains_key(&pair.frame)
    }

    /// Sets its own values.
    pub fn put_settings(&mut self, settings: ProjectSettings) {
        self.settings = settings;
    }

    /// Puts a source in its place, or takes it out.
    pub fn put_source(&mut self, id: SourceId, footage: Option<Footage>) {
        self.known = Known::nothing();
        match footage {
            Some(footage) => drop(self.sources.insert(id, footage)),
            None => drop(self.sources.remove(&id)),
        }
    }

    /// Puts a frame in its place, or takes it out.
    pub fn put_frame(&mut self, id: FrameId, frame: Option<Deliverable>) {
        match frame {
            Some(frame) => drop(self.frames.insert(id, frame)),
            None => drop(self.frames.remove(&id)),
        }
    }

    /// Sets what a conversion adds.
    pub fn put_choice(&mut self, pair: Pair, choice: Choice) {
        if choice.is_empty() {
            self.choices.remove(&pair);
        } else {
            self.choices.insert(pair, choice);
        }
    }

    /// The project as it is with some changes carried out; what is new gets the next numbers.
    #[must_use]
    pub fn with(&self, changes: &Changes) -> Self {
        let mut after = self.clone();
        let next = |last: Option<i32>| last.map_or(1, |last| last.saturating_add(1));
        let (mut sources, mut frames) = (Vec::new(), Vec::new());
        for change in &changes.changes {
            match change.clone() {
                Change::Settings(settings) => after.put_settings(settings),
                Change::Source(id, footage) => after.put_source(id, footage.map(|footage| *footage)),
                Change::Frame(id, frame) => after.put_frame(id, frame.map(|frame| *frame)),
                Change::Choice(pair, choice) => after.put_choice(pair, *choice),
                Change::NewSource(footage) => {
                    let id = SourceId::new(next(after.sources.keys().last().map(|id| id.number())));
                    after.put_source(id, Some(*footage));
                    sources.push(id);
                }
                Change::NewFrame(frame) => {
                    let id = FrameId::new(next(after.frames.keys().last().map(|id| id.number())));
                    after.put_frame(id, Some(*frame));
                    frames.push(id);
                }
                Change::NewChoice(source, frame, choice) => {
                    if let (Some(source), Some(frame)) = (source.among(&sources), frame.among(&frames)) {
                        after.put_choice(Pair::new(source, frame), *choice);
                    }
                }
            }
        }
        after
    }

    /// The most sources, frames and conversions of a project: far more than anybody plans, and as many as are worked out
    /// in a few seconds.
    pub const MOST_SOURCES: usize = 25_000;
    /// The most frames.
    pub const MOST_FRAMES: usize = 1_000;
    /// The most conversions: sources times frames.
    pub const MOST_CONVERSIONS: usize = 300_000;

    /// Whether there is room for so many more sources and frames.
    ///
    /// # Errors
    /// Of what there would be too many.
    pub fn has_room(&self, sources: usize, frames: usize) -> Result<(), EditError> {
        let (sources, frames) = (self.sources.len() + sources, self.frames.len() + frames);
        match () {
            () if sources > Self::MOST_SOURCES => Err(EditError::Full { what: "sources", most: Self::MOST_SOURCES }),
            () if frames > Self::MOST_FRAMES => Err(EditError::Full { what: "frames", most: Self::MOST_FRAMES }),
            () if sources * frames > Self::MOST_CONVERSIONS => {
                Err(EditError::Full { what: "conversions of sources into frames", most: Self::MOST_CONVERSIONS })
            }
            () => Ok(()),
        }
    }

    /// The same under the numbers 1, 2, 3 and so on: how it goes into a file. A way through a frame that is
    /// gone is left out, as is what was added to conversions that are.
    #[must_use]
    pub fn renumbered(&self) -> Self {
        let sources: BTreeMap<SourceId, SourceId> =
            self.sources.keys().copied().zip((1..).map(SourceId::new)).collect();
        let frames: BTreeMap<FrameId, FrameId> = self.frames.keys().copied().zip((1..).map(FrameId::new)).collect();
        let mut after = Self::new(self.settings.clone());
        for (id, footage) in &self.sources {
            after.put_source(sources[id], Some(footage.renumbered(|sphere| sources.get(&sphere).copied())));
        }
        for (id, frame) in &self.frames {
            let through = frame.through.and_then(|through| frames.get(&through)).copied();
            after.put_frame(frames[id], Some(Deliverable { through, ..frame.clone() }));
        }
        for (pair, choice) in self.choices() {
            after.put_choice(Pair::new(sources[&pair.source], frames[&pair.frame]), choice.clone());
        }
        after
    }

    /// The frames on the way to a frame, which comes last. Frames that are gone are left out, and what lay
    /// before them.
    pub fn way(&self, frame: FrameId) -> Vec<FrameId> {
        way(frame, |id| self.frames.get(&id)?.through.filter(|through| self.frames.contains_key(through)))
    }

    /// The conversion of a source into a frame; none when one of them is not there.
    pub fn conversion(&self, pair: Pair) -> Option<Conversion> {
        self.conversion_on(pair, self.choices.get(&pair), &self.way(pair.frame))
    }

    /// The same with another choice than the one that is kept.
    pub fn conversion_with(&self, pair: Pair, choice: &Choice) -> Option<Conversion> {
        self.conversion_on(pair, Some(choice), &self.way(pair.frame))
    }

    fn conversion_on(&self, pair: Pair, choice: Option<&Choice>, way: &[FrameId]) -> Option<Conversion> {
        let (footage, frame) = (self.sources.get(&pair.source)?, self.frames.get(&pair.frame)?);
        let nothing = Choice::default();
        let mut conversion = Conversion::of(footage, frame, choice.unwrap_or(&nothing), &self.settings);
        conversion.heed(self.neighbours(), pair.source, footage, frame);
        if footage.view.is_some() {
            conversion.look(footage, self.looking(footage).as_ref());
        }
        if way.len() > 1
            && let Some((_, before)) = way.split_last()
            && let Some(passage) = self.passage_to(pair.source, footage, before, &conversion.plan)
        {
            let names =
                way.iter().filter(|id| **id != pair.frame).filter_map(|id| Some(self.frame(*id)?.name.as_str()));
            conversion.note_passage(&passage, &names.collect::<Vec<_>>().join(" and "));
        }
        Some(conversion)
    }

    /// What its clips say of each other.
    pub(super) fn neighbours(&self) -> &Neighbours {
        self.known.get(|| Neighbours::of(self.sources()))
    }

    /// Every conversion: all frames of the first source, then of the next.
    pub fn board(&self) -> impl Iterator<Item = (Pair, Conversion)> {
        let ways: Vec<(FrameId, Vec<FrameId>)> = self.frames.keys().map(|id| (*id, self.way(*id))).collect();
        self.sources.keys().flat_map(move |source| {
            let of = |(frame, way): &(FrameId, Vec<FrameId>)| {
                let pair = Pair::new(*source, *frame);
                Some((pair, self.conversion_on(pair, self.choices.get(&pair), way)?))
            };
            ways.iter().filter_map(of).collect::<Vec<_>>()
        })
    }

    /// A frame of the project with the framing that counts for a source in it, as it is planned.
    pub(super) fn placed(&self, source: SourceId, footage: &Footage, id: FrameId) -> Option<(DeliveryFrame, Framing)> {
        let frame = self.frames.get(&id)?;
        let nothing = Choice::default();
        let choice = self.choices.get(&Pair::new(source, id)).unwrap_or(&nothing);
        let (_, spec) = Conversion::framing_of(footage, frame, choice, self.settings.method);
        Some((
            frame.geometry.frame().clone(),
            Conversion::placed(footage, frame, &spec, self.settings().tolerances.margin.value()),
        ))
    }

    /// What some frames show of a source, each under the framing that counts.
    pub fn common(&self, source: SourceId, frames: &[FrameId]) -> Option<Common> {
        let footage = self.sources.get(&source)?;
        let placed: Vec<_> = frames.iter().filter_map(|id| self.placed(source, footage, *id)).collect();
        Some(Common::of(footage.geometry.source(), &placed))
    }

    /// Where the picture of a conversion likes to rest when it is moved by hand.
    pub fn rests(&self, pair: Pair, framing: &Framing) -> Option<Rests> {
        let (footage, frame) = (self.sources.get(&pair.source)?, self.frames.get(&pair.frame)?);
        let subject = footage.subject.as_ref().map(SubjectSpec::subject);
        Some(Rests::of(footage.geometry.source(), frame.geometry.frame(), framing, subject))
    }

    /// What it costs when a program keeps only so many decimals of the numbers of a conversion.
    pub fn rounding_costs(&self, pair: Pair, places: u32) -> Option<Vec<RoundingCost>> {
        let conversion = self.conversion(pair)?;
        let (footage, frame) = (self.sources.get(&pair.source)?, self.frames.get(&pair.frame)?);
        Some(dial_in::rounding_costs(footage.geometry.source(), frame.geometry.frame(), &conversion.plan, places))
    }

    /// The framing that a choice gives, with a number typed into its dial.
    ///
    /// # Errors
    /// Those of [`dial_in::framing_for`].
    pub fn dialled(&self, pair: Pair, choice: &Choice, entry: &Entry) -> Option<Result<FramingSpec, Error>> {
        let (footage, frame) = (self.sources.get(&pair.source)?, self.frames.get(&pair.frame)?);
        let (_, spec) = Conversion::framing_of(footage, frame, choice, self.settings.method);
        let placed = Conversion::placed(footage, frame, &spec, self.settings().tolerances.margin.value());
        let found = dial_in::framing_for(footage.geometry.source(), frame.geometry.frame(), &placed, entry);
        Some(found.map(|found| {
            let written = FramingSpec::written(&found);
            // A size alone does not take the picture off its subject.
            let still = spec.method == Placing::AroundSubject && entry.convention.is_scale();
            if still { FramingSpec { zoom: written.zoom, ..spec } } else { written }
        }))
    }

    /// The framing of a conversion that shows the place which another one shows.
    pub fn like(&self, pair: Pair, other: Pair) -> Option<FramingSpec> {
        let geometry = |pair: Pair| {
            let (footage, frame) = (self.sources.get(&pair.source)?, self.frames.get(&pair.frame)?);
            Some((footage.geometry.source(), frame.geometry.frame()))
        };
        let footage = self.sources.get(&other.source)?;
        let (_, placed) = self.placed(other.source, footage, other.frame)?;
        let ((source, frame), (to_source, to_frame)) = (geometry(other)?, geometry(pair)?);
        Some(FramingSpec::written(&dial_in::carried((source, frame, &placed), (to_source, to_frame)).framing))
    }

    /// What would help against the findings of a conversion, in their order.
    pub fn proposals(&self, pair: Pair) -> Option<(Conversion, Vec<Proposal>)> {
        let (footage, frame) = (self.sources.get(&pair.source)?, self.frames.get(&pair.frame)?);
        let now = self.conversion(pair)?;
        let found = Proposal::all(self, pair, (footage, frame), &self.choice(pair), &now);
        Some((now, found))
    }
}
