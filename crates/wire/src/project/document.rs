//! The file of a project: everything that people entered, and nothing that can be computed.

use std::collections::HashMap;

use ratiomet_core::project::{Choice, Deliverable, Footage, ProjectSettings};
use serde::Serialize;
use utoipa::ToSchema;

use super::edit::many;
use super::history::number;
use super::values::{
    ChoiceValues, FrameValues, ProjectValues, SourceValues, read_choice_parts, read_frame_values, read_project_values,
    read_source_values,
};
use crate::read::{Field, Object};

/// What a file of ours says of itself.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DocumentHead {
    /// What it is.
    #[schema(example = "ratiomet project")]
    pub format: String,
    /// The version of the format; a program refuses a newer one than it knows.
    #[schema(example = 1)]
    pub format_version: u32,
}

/// The newest version of the formats that this program knows.
const NEWEST: u32 = 1;

impl DocumentHead {
    pub(super) fn of(format: &str) -> Self {
        Self { format: format.to_owned(), format_version: NEWEST }
    }
}

/// Checks what a file says of itself, before anything else in it is read.
pub(super) fn read_head(object: &Object<'_>, format: &'static str) -> Option<()> {
    object.required("format", |field| field.word(&[(format, ())]))?;
    object.required("format_version", |field| {
        let accepted = format!("a format version from 1 to {NEWEST}");
        match field.whole(&accepted)? {
            version if version > NEWEST => field.refuse(format!(
                "{accepted}; this file was written by a newer version of Ratiomet (format {version}): open it with that \
                 version"
            )),
            0 => field.refuse(accepted),
            _ => Some(()),
        }
    })
}

/// The file of a project.
#[derive(Debug, Serialize, ToSchema)]
pub struct ProjectDocument {
    /// What the file is.
    #[serde(flatten)]
    pub head: DocumentHead,
    /// The project's own values.
    pub project: ProjectValues,
    /// Its sources, in order.
    pub sources: Vec<DocumentSource>,
    /// Its frames, in order.
    pub frames: Vec<DocumentFrame>,
    /// The conversions that add something of their own.
    pub conversions: Vec<DocumentConversion>,
}

/// A source in a file.
#[derive(Debug, Serialize, ToSchema)]
pub struct DocumentSource {
    /// A number that no other source in the file has.
    pub id: i32,
    /// What was entered.
    pub values: SourceValues,
}

/// A frame in a file.
#[derive(Debug, Serialize, ToSchema)]
pub struct DocumentFrame {
    /// A number that no other frame in the file has.
    pub id: i32,
    /// What was entered.
    pub values: FrameValues,
}

/// A conversion in a file.
#[derive(Debug, Serialize, ToSchema)]
pub struct DocumentConversion {
    /// The source's number in the file.
    pub source: i32,
    /// The frame's number in the file.
    pub frame: i32,
    /// What it adds.
    #[serde(flatten)]
    pub adds: ChoiceValues,
}

/// What a project holds, free of any numbers: conversions name the places of their source and frame
/// in the lists, and frames that go through others name the place of those, counted from 1.
#[derive(Clone, Debug, PartialEq)]
pub struct ProjectContents {
    /// The project's own values.
    pub settings: ProjectSettings,
    /// Its footage, in order.
    pub sources: Vec<Footage>,
    /// Its frames, in order.
    pub frames: Vec<Deliverable>,
    /// The conversions that have something of their own.
    pub conversions: Vec<(usize, usize, Choice)>,
}

fn numbered<T, U>(items: &[T], make: impl Fn(i32, &T) -> U) -> Vec<U> {
    (1..).zip(items).map(|(id, item)| make(id, item)).collect()
}

impl ProjectDocument {
    /// What the file says it is.
    pub const FORMAT: &'static str = "ratiomet project";

    /// The file of these contents. The same contents give the same text.
    pub fn new(contents: &ProjectContents) -> Self {
        // OK because a project holds far fewer records than `i32` counts.
        let id = |place: usize| i32::try_from(place + 1).unwrap_or(i32::MAX);
        let mut own: Vec<_> = contents
            .conversions
            .iter()
            .filter(|(_, _, choice)| !choice.is_empty())
            .map(|(source, frame, choice)| DocumentConversion {
                source: id(*source),
                frame: id(*frame),
                adds: choice.into(),
            })
            .collect();
        own.sort_by_key(|conversion| (conversion.source, conversion.frame));
        Self {
            head: DocumentHead::of(Self::FORMAT),
            project: (&contents.settings).into(),
            sources: numbered(&contents.sources, |id, footage| DocumentSource { id, values: footage.into() }),
            frames: numbered(&contents.frames, |id, frame| DocumentFrame { id, values: frame.into() }),
            conversions: own,
        }
    }
}

/// Reads the file of a project.
pub fn read_project_document(field: &Field<'_>) -> Option<ProjectContents> {
    let object = field.object()?;
    read_head(&object, ProjectDocument::FORMAT)?;
    let settings = object.required("project", read_project_values);
    let sources = object.optional("sources", Default::default, |field| listed(field, "sources", read_source_values));
    let frames = object.optional("frames", Default::default, |field| listed(field, "frames", read_frame_values));
    let (source_places, sources) = sources?;
    let (frame_places, mut frames) = frames?;
    for frame in &mut frames {
        // A way through a frame that the file does not hold is left out: there is none to go through.
        let place = frame.through.and_then(|id| frame_places.get(&id));
        frame.through = place.and_then(|place| i32::try_from(place + 1).ok());
    }
    let mut seen = std::collections::HashSet::new();
    let conversions = object.optional("conversions", Vec::new, |field| {
        let read: Option<Vec<_>> = many(field, "conversions", |field| {
            let object = field.object()?;
            let source = object.required("source", |field| place(field, &source_places, "source"));
            let frame = object.required("frame", |field| place(field, &frame_places, "frame"));
            let adds = read_choice_parts(&object);
            object.done()?;
            Some((source?, frame?, adds?.apply(&Choice::default())))
        });
        let read = read?;
        for (at, (source, frame, _)) in read.iter().enumerate() {
            if !seen.insert((*source, *frame)) {
                return field.refuse(format!("each conversion once; number {at} comes a second time"));
            }
        }
        Some(read)
    });
    object.done()?;
    Some(ProjectContents { settings: settings?, sources, frames, conversions: conversions? })
}

/// The places of records by their numbers in the file, and the records.
type Listed<T> = (HashMap<i32, usize>, Vec<T>);

fn listed<T>(field: &Field<'_>, what: &str, read: impl Fn(&Field<'_>) -> Option<T>) -> Option<Listed<T>> {
    let places = std::cell::RefCell::new(HashMap::new());
    let values = many(field, what, |field| {
        let object = field.object()?;
        let id = object.required("id", |field| {
            let id = number(field, "a whole number")?;
            let mut places = places.borrow_mut();
            let place = places.len();
            if places.insert(id, place).is_some() {
                return field.refuse(format!("a number that comes once; {id} is given twice"));
            }
            Some(())
        });
        let values = object.required("values", &read);
        object.done()?;
        id?;
        values
    })?;
    Some((places.into_inner(), values))
}

fn place(field: &Field<'_>, places: &HashMap<i32, usize>, what: &str) -> Option<usize> {
    let accepted = format!("the number of a {what} in this file");
    let id = number(field, &accepted)?;
    places.get(&id).copied().or_else(|| field.refuse(accepted))
}
