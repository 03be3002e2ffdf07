//! What comes from elsewhere at once: sources, frames, and framings between them.

use std::collections::hash_map::Entry;
use std::collections::{BTreeMap, HashMap, HashSet};

use crate::project::{
    Change, Changes, Choice, Deliverable, EditError, Footage, FrameId, FramingSpec, Pair, Party, Project, SourceId,
};
use crate::showing::Showing;
use crate::space::{Rect, Stored};
use crate::words::{counted, sentence};

/// A framing that comes from elsewhere.
#[derive(Clone, Debug, PartialEq)]
pub struct BroughtFraming {
    /// The place of the source among those that come with it, from 0.
    pub source: usize,
    /// The place of the frame among those that come with it, from 0.
    pub frame: usize,
    /// How it is told.
    pub framed: Framed,
}

/// How a framing that comes is told.
#[derive(Clone, Debug, PartialEq)]
pub enum Framed {
    /// As a framing.
    Own(FramingSpec),
    /// By the part of the stored raster that the frame shows.
    Part(Rect<Stored>),
}

impl Project {
    /// What an edit that brings these makes of the project.
    pub(super) fn bringing(
        &self,
        (sources, frames): (&[Footage], &[Deliverable]),
        framings: &[BroughtFraming],
        update: bool,
    ) -> Result<Changes, EditError> {
        let mut changes = Changes::default();
        let renewed = if update { self.all_renewed(sources)? } else { HashMap::new() };
        let mut namesakes: HashMap<&str, Vec<(Party<SourceId>, &Footage)>> = HashMap::new();
        for (id, footage) in self.sources() {
            namesakes.entry(footage.name.as_str()).or_default().push((Party::There(id), footage));
        }
        let framed_ones: HashSet<usize> = framings.iter().map(|framing| framing.source).collect();
        let mut coming: Vec<&Footage> = Vec::new();
        let mut parties: Vec<Party<SourceId>> = Vec::new();
        for ((place, footage), known) in sources.iter().enumerate().zip(self.known(sources)) {
            let namesakes = namesakes.entry(footage.name.as_str()).or_default();
            // What is framed by pixels is another one where it is stored at another size.
            let same = namesakes.iter().find(|(_, other)| {
                !framed_ones.contains(&place) || other.geometry.raster() == footage.geometry.raster()
            });
            let known = known.map(Party::There).or_else(|| same.map(|(party, _)| *party));
            parties.push(known.unwrap_or_else(|| {
                changes.changes.push(Change::NewSource(Box::new(footage.clone())));
                coming.push(footage);
                let party = Party::Coming(coming.len() - 1);
                namesakes.push((party, footage));
                party
            }));
        }
        let new_sources = coming.len();
        let same = |frame: &Deliverable, other: &Deliverable| {
            frame.name == other.name && frame.geometry.frame().raster() == other.geometry.frame().raster()
        };
        let mut ends: Vec<Party<FrameId>> = Vec::new();
        let mut new_frames: Vec<&Deliverable> = Vec::new();
        for frame in frames {
            let there = self.frames().find(|(_, known)| same(known, frame)).map(|(id, _)| Party::There(id));
            let twice = || new_frames.iter().position(|known| same(known, frame)).map(Party::Coming);
            ends.push(there.or_else(twice).unwrap_or_else(|| {
                changes.changes.push(Change::NewFrame(Box::new(frame.clone())));
                new_frames.push(frame);
                Party::Coming(new_frames.len() - 1)
            }));
        }
        let new = new_frames.len();
        changes.skipped = sources.len() - new_sources + frames.len() - new;
        let mut framed = 0;
        let number = |place: usize| i32::try_from(place).unwrap_or(i32::MAX);
        let mut given: Vec<(Party<SourceId>, Party<FrameId>, FramingSpec)> = Vec::new();
        let mut places: HashMap<(Party<SourceId>, Party<FrameId>), usize> = HashMap::new();
        for BroughtFraming { source, frame, framed } in framings {
            let party = *parties.get(*source).ok_or_else(|| EditError::NoSource(SourceId::new(number(*source))))?;
            let end = *ends.get(*frame).ok_or_else(|| EditError::NoFrame(FrameId::new(number(*frame))))?;
            let footage = match party {
                Party::There(id) => renewed.get(&id).or_else(|| self.source(id)),
                Party::Coming(place) => coming.get(place).copied(),
            };
            let frame = match end {
                Party::There(id) => self.frame(id),
                Party::Coming(place) => new_frames.get(place).copied(),
            };
            let (Some(footage), Some(frame)) = (footage, frame) else { continue };
            if footage.geometry.raster() != sources[*source].geometry.raster() {
                changes.left_out += 1;
                continue;
            }
            match framing_of(footage, frame, framed) {
                // Of two framings of one conversion the last counts.
                Some(own) => match places.entry((party, end)) {
                    Entry::Occupied(place) => given[*place.get()].2 = own,
                    Entry::Vacant(place) => {
                        place.insert(given.len());
                        given.push((party, end, own));
                    }
                },
                None => changes.skipped += 1,
            }
        }
        for (party, end, own) in given {
            framed += 1;
            changes.changes.push(match (party, end) {
                (Party::There(source), Party::There(frame)) => {
                    let pair = Pair::new(source, frame);
                    let choice = self.choice(pair);
                    // What a hand has set since stays, beside what comes.
                    let by_hand = choice.own.clone().filter(|mine| choice.imported.as_ref() != Some(mine));
                    let framing = by_hand.unwrap_or_else(|| own.clone());
                    let after = Choice { own: Some(framing), imported: Some(own), ..choice.clone() };
                    if after == choice {
                        framed -= 1;
                        changes.unchanged += 1;
                        continue;
                    }
                    Change::Choice(pair, Box::new(after))
                }
                (source, frame) => {
                    let choice = Choice { own: Some(own.clone()), imported: Some(own), ..Choice::default() };
                    Change::NewChoice(source, frame, Box::new(choice))
                }
            });
        }
        let updated = renewed.len();
        changes.skipped -= changes.skipped.min(updated);
        // In the order of the sources.
        let renewed: BTreeMap<SourceId, Footage> = renewed.into_iter().collect();
        let renewed = renewed.into_iter().map(|(id, footage)| Change::Source(id, Some(Box::new(footage))));
        changes.changes.splice(0..0, renewed);
        let parts = [(new_sources, "source"), (new, "frame"), (framed, "framing")];
        let words: Vec<String> =
            parts.into_iter().filter(|(count, _)| *count > 0).map(|(count, noun)| counted(count, noun)).collect();
        let import = (!words.is_empty()).then(|| format!("import {}", words.join(", ")));
        let update = (updated > 0).then(|| format!("update {} from files", counted(updated, "source")));
        let said: Vec<String> = import.into_iter().chain(update).collect();
        changes.label = if said.is_empty() { "Import nothing new".to_owned() } else { sentence(&said.join("; ")) };
        Ok(changes)
    }

    /// The sources of which files say something else now, as they are then.
    fn all_renewed(&self, read: &[Footage]) -> Result<HashMap<SourceId, Footage>, EditError> {
        let mut all = HashMap::new();
        for renewal in self.renewals(read) {
            let refused = |why| EditError::refused(renewal.place, read[renewal.place].name.as_str(), why);
            if let Some(after) = self.renewed(&renewal, read).map_err(refused)? {
                all.insert(renewal.id, after);
            }
        }
        Ok(all)
    }
}

/// A framing that comes, as it comes; none for a part that no framing shows.
fn framing_of(footage: &Footage, frame: &Deliverable, framed: &Framed) -> Option<FramingSpec> {
    let (source, frame) = (footage.geometry.source(), frame.geometry.frame());
    match framed {
        Framed::Own(own) => Some(own.clone()),
        Framed::Part(part) => Some(FramingSpec::written(&Showing::of(source, frame, part)?.framing)),
    }
}
