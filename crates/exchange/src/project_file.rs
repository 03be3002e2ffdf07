//! The file of a project: everything that people entered, and nothing that can be computed.

use std::collections::{HashMap, HashSet};
use std::hash::Hash;
use std::io::{self, Write};

use ratiomet_core::project::{Choice, Deliverable, Footage, FrameId, Name, Pair, Project, ProjectSettings, SourceId};
use ratiomet_wire::Whole;
use ratiomet_wire::describe::{As, Json, List, Record, Schemas, Values, record, reference, with_field, words};
use ratiomet_wire::kept::{self, Kind};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::read::{Field, Object, Reader};
use serde::Serializer;
use serde::ser::SerializeMap;
use serde_json::Value;
use utoipa::openapi::schema::Schema;

use crate::file_head::{NEWEST, newest};

/// The most records of a sort in one file.
const MOST: usize = 100_000;

/// What such a file says it is.
pub const FORMAT: &str = "ratiomet project";

#[derive(Clone, Copy, Debug)]
struct Format;

words!(
    /// What the file is.
    "ProjectFormat" for Format, [Format], |_| FORMAT
);

/// A source in a file.
#[derive(Clone, Debug)]
struct FileSource {
    id: SourceId,
    footage: Footage,
}

record!(
    /// A source in a file.
    "DocumentSource", "sources" for FileSource {
        /// A number that no other source in the file has.
        id: SourceId = Required, |source| source.id;
        /// What was entered. A view out of a sphere that the file does not hold is no view.
        values: Footage = Required, |source| source.footage.clone();
    }
    |id, footage| Ok(FileSource { id, footage })
);

/// A frame in a file.
#[derive(Clone, Debug)]
struct FileFrame {
    id: FrameId,
    frame: Deliverable,
}

record!(
    /// A frame in a file.
    "DocumentFrame", "frames" for FileFrame {
        /// A number that no other frame in the file has.
        id: FrameId = Required, |frame| frame.id;
        /// What was entered. A way through a frame that the file does not hold is left out.
        values: Deliverable = Required, |frame| frame.frame.clone();
    }
    |id, frame| Ok(FileFrame { id, frame })
);

/// A conversion in a file: what it adds, and of which source and frame.
#[derive(Clone, Debug)]
struct FileConversion {
    pair: Pair,
    choice: Choice,
}

impl Json for FileConversion {
    const NAME: Option<&'static str> = Some("DocumentConversion");
    const PLURAL: &'static str = "conversions";

    fn read(field: &Field<'_>) -> Option<Self> {
        Self::read_object(&field.object()?)
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut map = serializer.serialize_map(None)?;
        self.write_fields(&mut map)?;
        map.end()
    }

    fn describe() -> Schema {
        let mut schema = with_field::<Choice>("frame", reference::<FrameId>());
        if let Schema::Object(object) = &mut schema {
            object.required.insert(0, "source".to_owned());
            object.properties.shift_insert(0, "source".to_owned(), reference::<SourceId>());
            object.description = Some("What a conversion adds, by the numbers of its source and frame.".to_owned());
        }
        schema
    }

    fn refers(schemas: &mut Schemas) {
        Choice::refers(schemas);
    }
}

impl Record for FileConversion {
    fn read_object(object: &Object<'_>) -> Option<Self> {
        use ratiomet_wire::describe::Presence::Required;
        let (source, frame) = (object.field("source", Required), object.field("frame", Required));
        let choice = Choice::read_object(object);
        Some(Self { pair: Pair::new(source?, frame?), choice: choice? })
    }

    fn write_fields<M: SerializeMap>(&self, map: &mut M) -> Result<(), M::Error> {
        map.serialize_entry("source", &self.pair.source.number())?;
        map.serialize_entry("frame", &self.pair.frame.number())?;
        self.choice.write_fields(map)
    }
}

/// The file of a project, as it stands.
#[derive(Clone, Debug)]
pub struct ProjectFile {
    settings: ProjectSettings,
    sources: List<FileSource, 0, MOST>,
    frames: List<FileFrame, 0, MOST>,
    conversions: List<FileConversion, 0, MOST>,
}

record!(
    /// The file of a project.
    "ProjectDocument", "project files" for ProjectFile {
        /// What the file is.
        format: Format = Required, |_| Format;
        /// The version of the format; a program refuses a newer one than it knows, and reads every older one.
        format_version: Whole<1, NEWEST> = Required, |_| Whole::new(NEWEST);
        /// The project's own values.
        project: ProjectSettings = Required, |file| file.settings.clone();
        /// Its sources, in order.
        sources: List<FileSource, 0, MOST> = Default("[]"), |file| file.sources.clone();
        /// Its frames, in order.
        frames: List<FileFrame, 0, MOST> = Default("[]"), |file| file.frames.clone();
        /// The conversions that add something of their own.
        conversions: List<FileConversion, 0, MOST> = Default("[]"), |file| file.conversions.clone();
    }
    |_, _, settings, sources, frames, conversions| Ok(ProjectFile { settings, sources, frames, conversions })
);

/// The file of a project in the description of the API.
pub type ProjectDocument = Values<ProjectFile>;

/// The file of a project. The same contents give the same text.
///
/// # Panics
/// Never: memory takes what is written.
pub fn write(project: &Project) -> String {
    let mut text = Vec::new();
    write_to(project, &mut text).expect("memory takes what is written");
    String::from_utf8(text).expect("JSON is UTF-8")
}

/// The same, to be written somewhere.
///
/// # Errors
/// Those of whoever takes it.
pub fn write_to(project: &Project, mut out: impl Write) -> io::Result<()> {
    let project = project.renumbered();
    let file = ProjectFile {
        settings: project.settings().clone(),
        sources: List(project.sources().map(|(id, footage)| FileSource { id, footage: footage.clone() }).collect()),
        frames: List(project.frames().map(|(id, frame)| FileFrame { id, frame: frame.clone() }).collect()),
        conversions: List(
            project.choices().map(|(pair, choice)| FileConversion { pair, choice: choice.clone() }).collect(),
        ),
    };
    serde_json::to_writer_pretty(&mut out, &As(&file))?;
    out.write_all(b"\n")
}

/// Reads the file of a project, of any version that ever was. Its records get the numbers 1, 2, 3 and so on,
/// in the order of the file.
///
/// # Errors
/// A problem with everything that is not sound.
pub fn read(text: &[u8]) -> Result<Project, Box<Problem>> {
    let text = newest(text, FORMAT, |version, file| {
        if let Some(settings) = file.get_mut("project") {
            *settings = kept::upgrade(Kind::Project, version, settings.take())?;
        }
        for (list, kind) in [("sources", Kind::Source), ("frames", Kind::Frame)] {
            for each in file.get_mut(list).and_then(Value::as_array_mut).into_iter().flatten() {
                if let Some(values) = each.get_mut("values") {
                    *values = kept::upgrade(kind, version, values.take())?;
                }
            }
        }
        for conversion in file.get_mut("conversions").and_then(Value::as_array_mut).into_iter().flatten() {
            *conversion = kept::upgrade(Kind::Conversion, version, conversion.take())?;
        }
        Ok(())
    })?;
    Reader::read(&text, |field| ProjectFile::read(field)?.project(field))
}

/// The places of numbers, counted from 1; where one comes twice, its second place from 0.
fn places<I: Copy + Eq + Hash>(ids: impl Iterator<Item = I>) -> Result<HashMap<I, i32>, (usize, I)> {
    let mut places = HashMap::new();
    for (number, (at, id)) in (1..).zip(ids.enumerate()) {
        if places.insert(id, number).is_some() {
            return Err((at, id));
        }
    }
    Ok(places)
}

/// A field of a member of one of the file's lists.
fn refuse<T>(file: &Field<'_>, list: &'static str, at: usize, name: &'static str, accepted: String) -> Option<T> {
    file.member(list, at)?.peek()?.take(name)?.refuse(accepted)
}

impl ProjectFile {
    /// The project, if the numbers in the file hold together.
    fn project(self, file: &Field<'_>) -> Option<Project> {
        let twice = |id: i32| format!("a number that comes once; {id} is given twice");
        let sources = match places(self.sources.0.iter().map(|source| source.id)) {
            Ok(places) => places,
            Err((at, id)) => return refuse(file, "sources", at, "id", twice(id.number())),
        };
        let frames = match places(self.frames.0.iter().map(|frame| frame.id)) {
            Ok(places) => places,
            Err((at, id)) => return refuse(file, "frames", at, "id", twice(id.number())),
        };
        let mut project = Project::new(self.settings);
        for FileSource { id, footage } in self.sources.0 {
            let footage = footage.renumbered(|sphere| sources.get(&sphere).copied().map(SourceId::new));
            project.put_source(SourceId::new(sources[&id]), Some(footage));
        }
        for FileFrame { id, frame } in self.frames.0 {
            let through = frame.through.and_then(|through| frames.get(&through)).copied().map(FrameId::new);
            project.put_frame(FrameId::new(frames[&id]), Some(Deliverable { through, ..frame }));
        }
        if let Some((id, why)) = project.faulty_way() {
            let at = usize::try_from(id.number() - 1).ok()?;
            return file.member("frames", at)?.peek()?.take("values")?.peek()?.take("through")?.refuse(why.to_string());
        }
        if let Err(why) = project.has_room(0, 0) {
            return file.refuse(why.to_string());
        }
        let mut seen = HashSet::new();
        for (at, FileConversion { pair, choice }) in self.conversions.0.into_iter().enumerate() {
            let known = |what: &str| format!("the number of a {what} in this file");
            let Some(source) = sources.get(&pair.source) else {
                return refuse(file, "conversions", at, "source", known("source"));
            };
            let Some(frame) = frames.get(&pair.frame) else {
                return refuse(file, "conversions", at, "frame", known("frame"));
            };
            if !seen.insert(pair) {
                return file
                    .member("conversions", at)?
                    .refuse("a conversion that is not listed before; this one is listed twice");
            }
            project.put_choice(Pair::new(SourceId::new(*source), FrameId::new(*frame)), choice);
        }
        Some(project)
    }
}

/// A project under another name, for one that comes in beside it.
#[must_use]
pub fn named(mut project: Project, name: Name) -> Project {
    let settings = ProjectSettings { name, ..project.settings().clone() };
    project.put_settings(settings);
    project
}
