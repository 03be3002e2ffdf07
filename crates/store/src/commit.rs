//! Committing: new states, the records that point to them, and the step that says so.

use std::collections::HashMap;

use diesel::prelude::*;
use ratiomet_core::project::{Change, Changes, FrameId, Pair, Party, ProjectId, SourceId, StepId};
use ratiomet_wire::kept::{self, FORMAT, Kept, Kind};

use crate::contents::Contents;
use crate::error::Answer;
use crate::history;
use crate::rows::RecordRow;
use crate::schema::{changes, records, states};
use crate::store::Made;

/// The record that is written.
pub(crate) enum Place {
    /// It is there.
    There(RecordRow),
    /// It has to be made.
    New(Kind, Option<Pair>),
    /// It has to be made for a conversion of which one side at least is written before it.
    Between(Party<SourceId>, Party<FrameId>),
}

/// One record that a step changes, and what it becomes; nothing takes it out.
pub(crate) struct Write {
    pub place: Place,
    pub after: Option<String>,
}

impl Write {
    /// A new record.
    pub fn new<T: Kept>(value: &T) -> Self {
        Self { place: Place::New(T::KIND, None), after: Some(kept::write(value)) }
    }

    /// Another value for a record that is there.
    pub fn to<T: Kept>(row: &RecordRow, value: Option<&T>) -> Self {
        Self { place: Place::There(row.clone()), after: value.map(kept::write) }
    }
}

/// States that were written in one step: what becomes the same, such as a framing, shares one.
#[derive(Default)]
pub(crate) struct States(HashMap<String, i32>);

impl States {
    fn of(&mut self, connection: &mut SqliteConnection, body: String) -> Answer<i32> {
        if let Some(state) = self.0.get(&body) {
            return Ok(*state);
        }
        let state = diesel::insert_into(states::table)
            .values((states::body.eq(&body), states::format.eq(FORMAT)))
            .returning(states::id)
            .get_result(connection)?;
        self.0.insert(body, state);
        Ok(state)
    }
}

/// Makes a record with its first state.
pub(crate) fn plant(
    connection: &mut SqliteConnection,
    project: ProjectId,
    kind: Kind,
    pair: Option<Pair>,
    body: String,
    written: &mut States,
) -> Answer<RecordRow> {
    let state = written.of(connection, body)?;
    let id = diesel::insert_into(records::table)
        .values((
            records::project_id.eq(project.number()),
            records::kind.eq(kind.word()),
            records::source_id.eq(pair.map(|pair| pair.source.number())),
            records::frame_id.eq(pair.map(|pair| pair.frame.number())),
            records::state_id.eq(state),
        ))
        .returning(records::id)
        .get_result(connection)?;
    Ok(RecordRow { id, version: 1, state: Some(state) })
}

/// Makes a record whose first state is not known yet.
pub(crate) fn reserve(connection: &mut SqliteConnection, project: ProjectId, kind: Kind) -> Answer<i32> {
    Ok(diesel::insert_into(records::table)
        .values((records::project_id.eq(project.number()), records::kind.eq(kind.word())))
        .returning(records::id)
        .get_result(connection)?)
}

/// Gives a record its first state.
pub(crate) fn fill(connection: &mut SqliteConnection, record: i32, body: String, written: &mut States) -> Answer<()> {
    let state = written.of(connection, body)?;
    diesel::update(records::table.find(record)).set(records::state_id.eq(state)).execute(connection)?;
    Ok(())
}

/// Carries out a step. Gives its number and the records as they are then, in the order of the writes.
pub(crate) fn step(
    connection: &mut SqliteConnection,
    project: ProjectId,
    label: &str,
    writes: Vec<Write>,
    made: &Made,
) -> Answer<(StepId, Vec<RecordRow>)> {
    let step = history::add_step(connection, project, label, made)?;
    let mut written = States::default();
    let mut rows = Vec::with_capacity(writes.len());
    let (mut sources, mut frames) = (Vec::new(), Vec::new());
    for Write { place, after } in writes {
        let (row, before) = match place {
            Place::There(before) => {
                let state = after.map(|body| written.of(connection, body)).transpose()?;
                diesel::update(records::table.find(before.id))
                    .set((records::state_id.eq(state), records::version.eq(records::version + 1)))
                    .execute(connection)?;
                (RecordRow { id: before.id, version: before.version + 1, state }, before.state)
            }
            Place::New(kind, pair) => {
                let body = after.expect("what is new has a value");
                let row = plant(connection, project, kind, pair, body, &mut written)?;
                match kind {
                    Kind::Source => sources.push(SourceId::new(row.id)),
                    Kind::Frame => frames.push(FrameId::new(row.id)),
                    _ => {}
                }
                (row, None)
            }
            Place::Between(source, frame) => {
                // OK because the changes of an edit name what comes after it has come.
                let pair = Pair::new(
                    source.among(&sources).expect("a source that was written before"),
                    frame.among(&frames).expect("a frame that was written before"),
                );
                let body = after.expect("what is new has a value");
                (plant(connection, project, Kind::Conversion, Some(pair), body, &mut written)?, None)
            }
        };
        diesel::insert_into(changes::table)
            .values((
                changes::step_id.eq(step.number()),
                changes::record_id.eq(row.id),
                changes::before_id.eq(before),
                changes::after_id.eq(row.state),
            ))
            .execute(connection)?;
        rows.push(row);
    }
    Ok((step, rows))
}

/// What changes of a project write, in their order.
pub(crate) fn writes(contents: &Contents, changes: &Changes) -> Vec<Write> {
    let write = |change: &Change| match change {
        Change::Settings(settings) => Write::to(&contents.settings, Some(settings)),
        // OK because the changes are those of what was loaded with these rows.
        Change::Source(id, footage) => Write::to(&contents.sources[id], footage.as_deref()),
        Change::Frame(id, frame) => Write::to(&contents.frames[id], frame.as_deref()),
        Change::Choice(pair, choice) => {
            let kept = (!choice.is_empty()).then(|| kept::write(&**choice));
            match contents.choices.get(pair) {
                Some(row) => Write { place: Place::There(row.clone()), after: kept },
                None => Write { place: Place::New(Kind::Conversion, Some(*pair)), after: kept },
            }
        }
        Change::NewSource(footage) => Write::new(&**footage),
        Change::NewFrame(frame) => Write::new(&**frame),
        Change::NewChoice(source, frame, choice) => {
            Write { place: Place::Between(*source, *frame), after: Some(kept::write(&**choice)) }
        }
    };
    changes.changes.iter().map(write).collect()
}

/// Puts into the contents what was written. Gives the numbers of new sources and frames.
pub(crate) fn settle(
    contents: &mut Contents,
    changes: &Changes,
    rows: Vec<RecordRow>,
) -> (Vec<SourceId>, Vec<FrameId>) {
    let (mut new_sources, mut new_frames) = (Vec::new(), Vec::new());
    for (change, row) in changes.changes.iter().cloned().zip(rows) {
        // What could not be read before has a value again.
        contents.set_aside.retain(|aside| aside.id != row.id);
        match change {
            Change::Settings(settings) => {
                contents.settings = row;
                contents.project.put_settings(settings);
            }
            Change::Source(id, footage) => put_source(contents, id, footage.map(|footage| *footage), row),
            Change::Frame(id, frame) => put_frame(contents, id, frame.map(|frame| *frame), row),
            Change::Choice(pair, choice) => {
                contents.choices.insert(pair, row);
                contents.project.put_choice(pair, *choice);
            }
            Change::NewSource(footage) => {
                let id = SourceId::new(row.id);
                put_source(contents, id, Some(*footage), row);
                new_sources.push(id);
            }
            Change::NewFrame(frame) => {
                let id = FrameId::new(row.id);
                put_frame(contents, id, Some(*frame), row);
                new_frames.push(id);
            }
            Change::NewChoice(source, frame, choice) => {
                if let (Some(source), Some(frame)) = (source.among(&new_sources), frame.among(&new_frames)) {
                    let pair = Pair::new(source, frame);
                    contents.choices.insert(pair, row);
                    contents.project.put_choice(pair, *choice);
                }
            }
        }
    }
    (new_sources, new_frames)
}

fn put_source(contents: &mut Contents, id: SourceId, footage: Option<ratiomet_core::project::Footage>, row: RecordRow) {
    match footage {
        Some(_) => drop(contents.sources.insert(id, row)),
        None => drop(contents.sources.remove(&id)),
    }
    contents.project.put_source(id, footage);
}

fn put_frame(contents: &mut Contents, id: FrameId, frame: Option<ratiomet_core::project::Deliverable>, row: RecordRow) {
    match frame {
        Some(_) => drop(contents.frames.insert(id, row)),
        None => drop(contents.frames.remove(&id)),
    }
    contents.project.put_frame(id, frame);
}
