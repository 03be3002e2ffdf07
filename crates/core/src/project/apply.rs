//! Edits worked out: what becomes of each thing, whether it is sound, and what the step is called.

use std::collections::{BTreeMap, HashSet};

use super::choice::taken_words;
use super::ways::fault;
use crate::Error;
use crate::dial_in::held_within;
use crate::project::{
    Change, Changes, Choice, Conversion, Deliverable, Edit, EditError, Footage, FrameId, FramePatch, FramingSpec, Pair,
    Project, SourceId, SourcePatch,
};
use crate::words::{counted, sentence};

type Outcome<T> = Result<T, EditError>;

impl Project {
    /// What an edit makes of the project. Nothing is changed yet: see [`Project::with`].
    ///
    /// # Errors
    /// When it names what is not there, or something would not be sound; then nothing is to be changed.
    pub fn apply(&self, edit: &Edit) -> Outcome<Changes> {
        let mut changes = self.worked_out(edit)?;
        let new = |is: fn(&Change) -> bool| changes.changes.iter().filter(|change| is(change)).count();
        let sources = new(|change| matches!(change, Change::NewSource(_)));
        let frames = new(|change| matches!(change, Change::NewFrame(_)));
        if sources + frames > 0 {
            self.has_room(sources, frames)?;
        }
        self.check_ways(edit, &changes)?;
        self.let_looks_follow(&mut changes);
        self.let_follow(&mut changes);
        Ok(changes)
    }

    fn worked_out(&self, edit: &Edit) -> Outcome<Changes> {
        match edit {
            Edit::SetProject(settings) if settings == self.settings() => {
                Ok(Changes { unchanged: 1, ..Changes::default() })
            }
            Edit::SetProject(settings) => Ok(Changes {
                label: sentence(&settings.words_since(self.settings())),
                changes: vec![Change::Settings(settings.clone())],
                ..Changes::default()
            }),
            Edit::ReplaceSource { id, footage } => {
                let before = self.found_source(*id)?;
                let words = SourcePatch::between(before, footage).words();
                Ok(replaced(before == &**footage, &words, &before.name, || Change::Source(*id, Some(footage.clone()))))
            }
            Edit::ReplaceFrame { id, frame } => {
                let before = self.found_frame(*id)?;
                let words = FramePatch::between(before, frame).words();
                Ok(replaced(before == &**frame, &words, &before.name, || Change::Frame(*id, Some(frame.clone()))))
            }
            Edit::SetChoice { pair, patch } => {
                let before = self.choice(*pair);
                self.conversions(&[*pair], &patch.apply(&before).words_since(&before), |_, _, choice| {
                    patch.apply(choice)
                })
            }
            Edit::SetSources { ids, patch } => self.sources_each(ids, &patch.words(), |footage| {
                let after = patch.apply(footage)?;
                let is_not_for_it = after == *footage && footage.view.is_some() && patch.is_of_lens();
                Ok((!is_not_for_it).then_some(after))
            }),
            Edit::ApplyActivePicture { ids, picture } => {
                let words = format!("active picture {}", picture.name.as_str());
                self.sources_each(ids, &words, |footage| {
                    let geometry = &footage.geometry;
                    let insets = picture.picture.insets_for(geometry.raster(), geometry.pixel_aspect().value())?;
                    insets.map(|insets| SourcePatch::insets(insets).apply(footage)).transpose()
                })
            }
            Edit::SetFrames { ids, patch } => self.frames_each(ids, patch),
            Edit::SetConversions { pairs, own } => {
                let words = own.as_ref().map_or_else(|| "follow".to_owned(), FramingSpec::words);
                self.conversions(pairs, &words, |_, parties, choice| Choice {
                    own: own.as_ref().map(|own| held(own, parties)),
                    ..choice.clone()
                })
            }
            Edit::SetResampling { pairs, taken } => {
                let words = taken_words(taken.as_ref());
                self.conversions(pairs, &words, |_, _, choice| Choice { taken: taken.clone(), ..choice.clone() })
            }
            Edit::SetFramings(each) => {
                let own: BTreeMap<Pair, &FramingSpec> = each.iter().map(|(pair, own)| (*pair, own)).collect();
                let pairs: Vec<Pair> = each.iter().map(|(pair, _)| *pair).collect();
                let alike = each.iter().all(|(_, own)| own == &each[0].1);
                let words = if alike {
                    each.first().map_or_else(String::new, |(_, own)| own.words())
                } else {
                    "framings".to_owned()
                };
                self.conversions(&pairs, &words, |pair, parties, choice| Choice {
                    own: own.get(&pair).map(|own| held(own, parties)),
                    ..choice.clone()
                })
            }
            Edit::JudgeFinding { pairs, code, reason } => {
                let what = code.replace('_', " ");
                let words = match reason {
                    Some(reason) => format!("accept {what} ({})", reason.as_str()),
                    None => format!("reopen {what}"),
                };
                self.conversions(pairs, &words, |pair, _, choice| {
                    let found = self.conversion_with(pair, choice);
                    let found = found.as_ref().map_or(&[][..], |conversion| &conversion.findings);
                    choice.judged(code, reason.as_ref(), found)
                })
            }
            Edit::SetFramingParts { pairs, patch } => {
                self.conversions(pairs, &patch.words(), |_, (footage, frame), choice| {
                    let (_, now) = Conversion::framing_of(footage, frame, choice, self.settings().method);
                    Choice { own: Some(held(&patch.apply(&now), (footage, frame))), ..choice.clone() }
                })
            }
            Edit::AddSources(footage) => {
                let one = footage.first().map(|first| first.name.as_str());
                let new = footage.iter().map(|each| Change::NewSource(Box::new(each.clone())));
                Ok(added(one, "source", new.collect()))
            }
            Edit::AddFrames(frames) => {
                let one = frames.first().map(|first| first.name.as_str());
                let new = frames.iter().map(|each| Change::NewFrame(Box::new(each.clone())));
                Ok(added(one, "frame", new.collect()))
            }
            Edit::Bring { sources, frames, framings, update } => self.bringing((sources, frames), framings, *update),
            Edit::TurnFrames(ids) => {
                let turned: Vec<Deliverable> =
                    ids.iter().enumerate().map(|(at, id)| self.turned(at, *id)).collect::<Outcome<_>>()?;
                let one = turned.first().map(|first| format!("{} by rotating", first.name.as_str()));
                let new = turned.into_iter().map(|each| Change::NewFrame(Box::new(each)));
                Ok(added(one.as_deref(), "rotated frame", new.collect()))
            }
            Edit::Delete { sources, frames } => self.without(sources, frames),
        }
    }

    fn found_source(&self, id: SourceId) -> Outcome<&Footage> {
        self.source(id).ok_or(EditError::NoSource(id))
    }

    fn found_frame(&self, id: FrameId) -> Outcome<&Deliverable> {
        self.frame(id).ok_or(EditError::NoFrame(id))
    }

    /// What `change` makes of each of some sources. Where it gives nothing the edit is not for that source.
    fn sources_each(
        &self,
        ids: &[SourceId],
        words: &str,
        change: impl Fn(&Footage) -> Result<Option<Footage>, Error>,
    ) -> Outcome<Changes> {
        let mut out = Changes::default();
        let each = distinct(ids);
        for (place, id) in each.iter().copied().enumerate() {
            let before = self.found_source(id)?;
            match change(before).map_err(|why| EditError::refused(place, before.name.as_str(), why))? {
                Some(after) if after == *before => out.unchanged += 1,
                Some(after) => out.changes.push(Change::Source(id, Some(Box::new(after)))),
                None => out.skipped += 1,
            }
        }
        let only = if let [only] = each[..] { self.source(only).map(|footage| footage.name.as_str()) } else { None };
        out.label = on(words, only, out.changes.len(), "source");
        Ok(out)
    }

    fn frames_each(&self, ids: &[FrameId], patch: &FramePatch) -> Outcome<Changes> {
        let mut out = Changes::default();
        let each = distinct(ids);
        for (place, id) in each.iter().copied().enumerate() {
            let before = self.found_frame(id)?;
            let after = patch.apply(before).map_err(|why| EditError::refused(place, before.name.as_str(), why))?;
            if after == *before {
                out.unchanged += 1;
            } else {
                out.changes.push(Change::Frame(id, Some(Box::new(after))));
            }
        }
        let only = if let [only] = each[..] { self.frame(only).map(|frame| frame.name.as_str()) } else { None };
        out.label = on(&patch.words(), only, out.changes.len(), "frame");
        Ok(out)
    }

    /// What each of some conversions becomes.
    fn conversions(
        &self,
        pairs: &[Pair],
        words: &str,
        become_of: impl Fn(Pair, (&Footage, &Deliverable), &Choice) -> Choice,
    ) -> Outcome<Changes> {
        let mut out = Changes::default();
        let each = distinct(pairs);
        for pair in each.iter().copied() {
            let parties = (self.found_source(pair.source)?, self.found_frame(pair.frame)?);
            let before = self.choice(pair);
            let after = become_of(pair, parties, &before);
            if before == after {
                out.unchanged += 1;
            } else {
                out.changes.push(Change::Choice(pair, Box::new(after)));
            }
        }
        let name = |pair: Pair| {
            let (source, frame) = (self.source(pair.source)?, self.frame(pair.frame)?);
            Some(format!("{} into {}", source.name.as_str(), frame.name.as_str()))
        };
        let only = if let [only] = each[..] { name(only) } else { None };
        out.label = on(words, only.as_deref(), out.changes.len(), "conversion");
        Ok(out)
    }

    /// A turned copy of a frame. A way through a frame that is gone is not copied.
    fn turned(&self, place: usize, id: FrameId) -> Outcome<Deliverable> {
        let frame = self.found_frame(id)?;
        let turned = frame.turned().map_err(|why| EditError::refused(place, frame.name.as_str(), why))?;
        let through = turned.through.filter(|through| self.frame(*through).is_some());
        Ok(Deliverable { through, ..turned })
    }

    fn without(&self, sources: &[SourceId], frames: &[FrameId]) -> Outcome<Changes> {
        let (sources, frames) = (distinct(sources), distinct(frames));
        let mut names = Vec::new();
        let mut changes = Vec::new();
        for id in &sources {
            names.push(self.found_source(*id)?.name.as_str());
            changes.push(Change::Source(*id, None));
        }
        for id in &frames {
            names.push(self.found_frame(*id)?.name.as_str());
            changes.push(Change::Frame(*id, None));
        }
        let words = match names[..] {
            [only] => only.to_owned(),
            _ => [(sources.len(), "source"), (frames.len(), "frame")]
                .into_iter()
                .filter(|(count, _)| *count > 0)
                .map(|(count, noun)| counted(count, noun))
                .collect::<Vec<_>>()
                .join(" and "),
        };
        Ok(Changes { label: format!("Delete {words}"), changes, ..Changes::default() })
    }

    /// Refuses changes that lead pictures through a frame that is not there, in a circle, or too far: of the
    /// frames that the edit names, and of those that lie beyond them. A way that was broken before and is not
    /// touched stays as it is: it must not keep its frame from being edited.
    fn check_ways(&self, edit: &Edit, changes: &Changes) -> Outcome<()> {
        let before: BTreeMap<FrameId, Option<FrameId>> = self.frames().map(|(id, frame)| (id, frame.through)).collect();
        let mut after = before.clone();
        // Frames whose way this edit sets, with their place in it and their names.
        let mut set: Vec<(usize, FrameId, &str)> = Vec::new();
        let mut new = FrameId::new(i32::MIN);
        for (place, change) in changes.changes.iter().enumerate() {
            match change {
                Change::Frame(id, Some(frame)) if before.get(id) != Some(&frame.through) => {
                    after.insert(*id, frame.through);
                    set.push((self.place(edit, *id, place), *id, frame.name.as_str()));
                }
                Change::Frame(id, None) => drop(after.remove(id)),
                Change::NewFrame(frame) if frame.through.is_some() => {
                    after.insert(new, frame.through);
                    set.push((place, new, frame.name.as_str()));
                    new = FrameId::new(new.number() + 1);
                }
                _ => {}
            }
        }
        if set.is_empty() {
            return Ok(());
        }
        let faulty = |of: &BTreeMap<FrameId, Option<FrameId>>, id: FrameId| {
            fault(id, |id| of.contains_key(&id), |id| of.get(&id).copied().flatten())
        };
        for (place, id, name) in &set {
            if let Some(why) = faulty(&after, *id) {
                return Err(EditError::refused(*place, name, why));
            }
        }
        // Beyond them: no way that was sound may break.
        for id in before.keys().filter(|id| faulty(&before, **id).is_none()) {
            if let (Some(why), [(place, _, name), ..]) =
                (faulty(&after, *id).filter(|_| after.contains_key(id)), &set[..])
            {
                return Err(EditError::refused(*place, name, why));
            }
        }
        Ok(())
    }

    /// The place of a frame among those that an edit names.
    fn place(&self, edit: &Edit, id: FrameId, otherwise: usize) -> usize {
        match edit {
            Edit::SetFrames { ids, .. } => ids.iter().position(|each| *each == id).unwrap_or(otherwise),
            _ => otherwise,
        }
    }
}

/// A framing that is given to a conversion: it stops where the picture ends.
fn held(spec: &FramingSpec, (footage, frame): (&Footage, &Deliverable)) -> FramingSpec {
    let plain = spec.framing();
    let held = held_within(footage.geometry.source(), frame.geometry.frame(), &plain);
    if held == plain {
        return spec.clone();
    }
    let FramingSpec { shift_x, shift_y, .. } = FramingSpec::written(&held);
    FramingSpec { shift_x, shift_y, ..spec.clone() }
}

/// Each once, in their order.
fn distinct<T: Copy + Eq + std::hash::Hash>(all: &[T]) -> Vec<T> {
    let mut seen = HashSet::with_capacity(all.len());
    all.iter().copied().filter(|each| seen.insert(*each)).collect()
}

fn on(words: &str, only: Option<&str>, changed: usize, noun: &str) -> String {
    let on = only.map_or_else(|| counted(changed, noun), str::to_owned);
    format!("{} on {on}", sentence(words))
}

fn replaced(same: bool, words: &str, name: &super::Name, change: impl FnOnce() -> Change) -> Changes {
    if same {
        return Changes { unchanged: 1, ..Changes::default() };
    }
    Changes { label: on(words, Some(name.as_str()), 1, ""), changes: vec![change()], ..Changes::default() }
}

fn added(first: Option<&str>, noun: &str, changes: Vec<Change>) -> Changes {
    let what = match (first, changes.len()) {
        (Some(only), 1) => only.to_owned(),
        (_, count) => counted(count, noun),
    };
    Changes { label: format!("Add {what}"), changes, ..Changes::default() }
}
