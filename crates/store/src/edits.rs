//! Edits: many records changed in one step.

use std::collections::hash_map::Entry;
use std::collections::{HashMap, HashSet};

use diesel::prelude::*;
use ratiomet_core::Error;
use ratiomet_core::project::{Acceptance, Choice, Crossing, Deliverable, Edit, Footage, Name, Pair, SourcePatch};

use crate::error::StoreError;
use crate::history::{self, Change, Subject};
use crate::kept::{Kept, framing_words, from_body, sentence};
use crate::schema::{records, states};
use crate::store::{Answer, Store, contents, find, open_project, settings};

/// What an edit has done, or would do.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Outcome {
    /// The step in the history; none when nothing changed, or in a preview.
    pub step: Option<i32>,
    /// What was done, in words.
    pub label: String,
    /// How many records changed.
    pub changed: usize,
    /// How many of those named already were like that.
    pub unchanged: usize,
    /// How many of those named the edit is not for.
    pub skipped: usize,
    /// The numbers of new records.
    pub added: Vec<i32>,
}

/// The changes of an edit before they are carried out.
#[derive(Default)]
struct Draft {
    label: String,
    changes: Vec<Change>,
    unchanged: usize,
    skipped: usize,
}

impl Store {
    /// Carries out an edit as one step.
    ///
    /// # Errors
    /// When a record that it names is unknown or deleted, or would not be sound.
    pub fn edit(&mut self, project: i32, edit: &Edit) -> Answer<Outcome> {
        self.write(|connection| {
            let draft = draft(connection, project, edit)?;
            let adds = matches!(edit, Edit::AddSources(_) | Edit::AddFrames(_) | Edit::TurnFrames(_));
            let mut outcome = outcome(&draft);
            if !draft.changes.is_empty() {
                let (step, numbers) = history::commit(connection, project, &draft.label, draft.changes)?;
                outcome.step = Some(step);
                outcome.added = if adds { numbers } else { Vec::new() };
            }
            Ok(outcome)
        })
    }

    /// What an edit would do.
    ///
    /// # Errors
    /// As [`Store::edit`].
    pub fn preview(&mut self, project: i32, edit: &Edit) -> Answer<Outcome> {
        self.read(|connection| Ok(outcome(&draft(connection, project, edit)?)))
    }
}

fn outcome(draft: &Draft) -> Outcome {
    Outcome {
        label: draft.label.clone(),
        changed: draft.changes.len(),
        unchanged: draft.unchanged,
        skipped: draft.skipped,
        ..Outcome::default()
    }
}

fn draft(connection: &mut SqliteConnection, project: i32, edit: &Edit) -> Answer<Draft> {
    open_project(connection, project)?;
    match edit {
        Edit::SetSources { ids, patch } => {
            let mut draft = each(connection, project, ids, |footage: &Footage| patch.apply(footage).map(Some))?;
            draft.name(&patch.words());
            Ok(draft.into())
        }
        Edit::SetFrames { ids, patch } => {
            let mut draft = each(connection, project, ids, |frame: &Deliverable| patch.apply(frame).map(Some))?;
            draft.name(&patch.words());
            Ok(draft.into())
        }
        Edit::ApplyActivePicture { ids, picture } => {
            let mut draft = each(connection, project, ids, |footage: &Footage| {
                let geometry = &footage.geometry;
                let insets = picture.picture.insets_for(geometry.raster(), geometry.pixel_aspect().value())?;
                insets.map(|insets| SourcePatch::insets(insets).apply(footage)).transpose()
            })?;
            draft.name(&format!("active picture {}", picture.name.as_str()));
            Ok(draft.into())
        }
        Edit::SetConversions { pairs, own } => {
            let words = own.as_ref().map_or_else(|| "follow".to_owned(), framing_words);
            conversions(connection, project, pairs, &words, |_, _, _, choice| Choice {
                own: own.clone(),
                ..choice.clone()
            })
        }
        Edit::JudgeFinding { pairs, code, reason } => {
            let whole = contents(connection, project)?;
            let layout = whole.layout();
            let what = code.replace('_', " ");
            let words = match reason {
                Some(reason) => format!("accept {what} ({})", reason.as_str()),
                None => format!("no longer accept {what}"),
            };
            conversions(connection, project, pairs, &words, |pair, footage, _, choice| {
                let crossing = layout.crossing(pair.source, footage, pair.frame, Some(choice));
                crossing.map_or_else(|| choice.clone(), |crossing| judged(choice, code, reason.as_ref(), &crossing))
            })
        }
        Edit::SetFramingParts { pairs, patch } => {
            let board = settings(connection, project)?.value.method;
            conversions(connection, project, pairs, &patch.words(), |_, footage, frame, choice| {
                let framing = patch.apply(&Crossing::framing_of(footage, frame, choice, board).1);
                Choice { own: Some(framing), ..choice.clone() }
            })
        }
        Edit::AddSources(footage) => Ok(added(footage)),
        Edit::AddFrames(frames) => Ok(added(frames)),
        Edit::TurnFrames(ids) => {
            let mut turned = Vec::new();
            for id in ids {
                let frame = find::<Deliverable>(connection, project, *id)?;
                turned.push(frame.value.turned().map_err(|why| refused(&frame.value, why))?);
            }
            let mut draft = added(&turned);
            draft.label = match turned.as_slice() {
                [only] => format!("Add {} by turning", only.title()),
                many => format!("Add {} turned frames", many.len()),
            };
            Ok(draft)
        }
        Edit::Delete { sources, frames } => {
            let gone_sources = each(connection, project, sources, |_: &Footage| Ok(None))?;
            let gone_frames = each(connection, project, frames, |_: &Deliverable| Ok(None))?;
            let mut changes = gone_sources.gone;
            changes.extend(gone_frames.gone);
            let words = match (gone_sources.only, gone_frames.only, changes.len()) {
                (Some(name), _, 1) | (_, Some(name), 1) => name,
                _ => [(sources.len(), "source"), (frames.len(), "frame")]
                    .into_iter()
                    .filter(|(count, _)| *count > 0)
                    .map(|(count, noun)| counted(count, noun))
                    .collect::<Vec<_>>()
                    .join(" and "),
            };
            Ok(Draft { label: format!("Delete {words}"), changes, ..Draft::default() })
        }
    }
}

fn counted(count: usize, noun: &str) -> String {
    if count == 1 { format!("1 {noun}") } else { format!("{count} {noun}s") }
}

fn refused<T: Kept>(value: &T, why: Error) -> StoreError {
    StoreError::Refused { name: value.title(), why }
}

fn added<T: Kept>(values: &[T]) -> Draft {
    let label = match values {
        [only] => format!("Add {}", only.title()),
        many => format!("Add {}", counted(many.len(), T::NOUN)),
    };
    let new = |value: &T| Change { record: Subject::New { kind: T::KIND, pair: None }, after: Some(value.body()) };
    Draft { label, changes: values.iter().map(new).collect(), ..Draft::default() }
}

/// The changes of an edit that names records.
struct Each {
    draft: Draft,
    noun: &'static str,
    /// The name of the only record.
    only: Option<String>,
    /// The changes of those for which there was no new value.
    gone: Vec<Change>,
}

impl std::ops::Deref for Each {
    type Target = Draft;

    fn deref(&self) -> &Draft {
        &self.draft
    }
}

impl Each {
    fn name(&mut self, words: &str) {
        let on = match (&self.only, self.draft.changes.len()) {
            (Some(name), _) => name.clone(),
            (None, count) => counted(count, self.noun),
        };
        self.draft.label = format!("{} on {on}", sentence(words));
        self.draft.skipped = self.gone.len();
    }
}

impl From<Each> for Draft {
    fn from(each: Each) -> Self {
        each.draft
    }
}

/// What `change` makes of each record. Where it gives nothing the record is put aside.
fn each<T: Kept>(
    connection: &mut SqliteConnection,
    project: i32,
    ids: &[i32],
    change: impl Fn(&T) -> Result<Option<T>, Error>,
) -> Answer<Each> {
    let mut out = Each { draft: Draft::default(), noun: T::NOUN, only: None, gone: Vec::new() };
    let mut seen = HashSet::new();
    for id in ids {
        if !seen.insert(*id) {
            continue;
        }
        let record = find::<T>(connection, project, *id)?;
        let subject = Subject::There { id: *id, state: Some(record.state) };
        match change(&record.value).map_err(|why| refused(&record.value, why))? {
            Some(after) if after == record.value => out.draft.unchanged += 1,
            Some(after) => {
                after.check(connection, project, Some(*id))?;
                out.draft.changes.push(Change { record: subject, after: Some(after.body()) });
            }
            None => out.gone.push(Change { record: subject, after: None }),
        }
        out.only = if seen.len() == 1 { Some(record.value.title()) } else { None };
    }
    Ok(out)
}

/// What each of some conversions becomes.
fn conversions(
    connection: &mut SqliteConnection,
    project: i32,
    pairs: &[Pair],
    words: &str,
    become_of: impl Fn(Pair, &Footage, &Deliverable, &Choice) -> Choice,
) -> Answer<Draft> {
    let mut sources: HashMap<i32, Footage> = HashMap::new();
    let mut frames: HashMap<i32, Deliverable> = HashMap::new();
    for pair in pairs {
        if let Entry::Vacant(free) = sources.entry(pair.source) {
            free.insert(find::<Footage>(connection, project, pair.source)?.value);
        }
        if let Entry::Vacant(free) = frames.entry(pair.frame) {
            free.insert(find::<Deliverable>(connection, project, pair.frame)?.value);
        }
    }
    type Known = (i32, Option<i32>, Option<i32>, Option<i32>, Option<String>);
    let known: Vec<Known> = records::table
        .left_join(states::table.on(records::state_id.eq(states::id.nullable())))
        .filter(records::project_id.eq(project))
        .filter(records::kind.eq(Choice::KIND))
        .select((records::id, records::source_id, records::frame_id, records::state_id, states::body.nullable()))
        .load(connection)?;
    let known: HashMap<_, _> =
        known.into_iter().map(|(id, source, frame, state, body)| ((source, frame), (id, state, body))).collect();
    let mut draft = Draft::default();
    let mut seen = HashSet::new();
    for pair in pairs.iter().filter(|pair| seen.insert(**pair)) {
        let row = known.get(&(Some(pair.source), Some(pair.frame)));
        let before = match row {
            Some((id, _, Some(body))) => value(*id, body)?,
            _ => Choice::default(),
        };
        let after = become_of(*pair, &sources[&pair.source], &frames[&pair.frame], &before);
        if before == after {
            draft.unchanged += 1;
            continue;
        }
        let record = match row {
            Some((id, state, _)) => Subject::There { id: *id, state: *state },
            None => Subject::New { kind: Choice::KIND, pair: Some(*pair) },
        };
        let body = (!after.is_empty()).then(|| after.body());
        draft.changes.push(Change { record, after: body });
    }
    let on = match pairs {
        [Pair { source, frame }] => format!("{} into {}", sources[source].title(), frames[frame].title()),
        _ => counted(draft.changes.len(), Choice::NOUN),
    };
    draft.label = format!("{} on {on}", sentence(words));
    Ok(draft)
}

/// A choice with one finding judged. Where that is not found nothing changes.
fn judged(choice: &Choice, code: &str, reason: Option<&Name>, crossing: &Crossing) -> Choice {
    let mut choice = choice.clone();
    let found = crossing.plan.findings.iter().find(|finding| finding.code() == code);
    match (reason, found) {
        (Some(reason), Some(finding)) => {
            choice.accepted.retain(|acceptance| acceptance.code != code);
            let (code, said) = (code.to_owned(), finding.to_string());
            choice.accepted.push(Acceptance { code, reason: reason.clone(), said });
        }
        (None, _) => choice.accepted.retain(|acceptance| acceptance.code != code),
        (Some(_), None) => {}
    }
    choice
}

/// The value of a body that a row holds.
pub(crate) fn value<T: Kept>(id: i32, body: &str) -> Answer<T> {
    from_body(body).map_err(|why| StoreError::Corrupt { table: "records", id, why })
}
