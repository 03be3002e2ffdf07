//! What the screens of a project show: its records, and the conversions computed from them.

use ratiomet_core::project::{
    Alike, Aspect, Conversion, Deliverable, Footage, FrameId, Pair, ProjectId, ProjectSettings, SourceId, Speaker,
};
use ratiomet_core::space::Axes;
use ratiomet_core::{Exact, cadence};
use serde::ser::SerializeSeq;
use serde::{Serialize, Serializer};
use serde_json::value::RawValue;
use utoipa::ToSchema;

use crate::calc::SeverityName;
use crate::describe::Values;
use crate::names::{FrameValues, PlacingName, ProjectValues, SourceValues};
use crate::shapes::{FrameShape, SourceShape};

/// A project without its contents.
#[derive(Debug, Serialize, ToSchema)]
#[schema(as = Project)]
pub struct ProjectResource {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change of its own values; `If-Match` names it.
    pub version: i32,
    /// What was entered.
    pub values: ProjectValues,
    /// When it or anything in it was last changed, in milliseconds since 1970, UTC.
    pub changed_at: i64,
    /// How many sources it has.
    pub sources: usize,
    /// How many frames it has.
    pub frames: usize,
}

/// A record that cannot be read, as it was kept.
#[derive(Debug, Serialize, ToSchema)]
pub struct SetAside {
    /// What it is: project, source, frame, conversion, `house_frame` or `active_picture`.
    pub kind: String,
    /// The number of its record.
    pub id: i32,
    /// What it seems to be called.
    pub name: Option<String>,
    /// Why it cannot be read.
    pub why: String,
    /// The format that it was written in.
    pub format: i32,
    /// The text as it was kept.
    pub body: String,
}

impl SetAside {
    /// A record as it is kept.
    pub fn new(kind: &str, id: i32, why: &str, format: i32, body: &str) -> Self {
        let said: Option<serde_json::Value> = serde_json::from_str(body).ok();
        let name = said.as_ref().and_then(|said| said.get("name")).and_then(serde_json::Value::as_str);
        Self {
            kind: kind.to_owned(),
            id,
            name: name.map(str::to_owned),
            why: why.to_owned(),
            format,
            body: body.to_owned(),
        }
    }
}

/// Of what a value is, in an answer.
type AspectName = Values<Aspect>;

/// A source of a project.
#[derive(Debug, Serialize, ToSchema)]
#[schema(as = Source)]
pub struct SourceResource {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change; `If-Match` names it.
    pub version: i32,
    /// What was entered.
    pub values: SourceValues,
    /// What that amounts to; computed, never stored.
    pub shape: SourceShape,
    /// What kind of clip it is: the same words for all that differ in name and note alone.
    #[schema(example = "5120x2700 at 25")]
    pub alike: String,
    /// Which of the values that were read from its origin have another value now.
    pub corrected: Vec<AspectName>,
    /// By what its picture is known, if it has a still: another one when it looks otherwise.
    pub picture: Option<String>,
}

impl SourceResource {
    /// The resource of a stored source.
    pub fn new(id: SourceId, version: i32, footage: &Footage, picture: Option<String>) -> Self {
        let alike = Alike::of(footage).words();
        let shape = (&footage.geometry).into();
        let corrected = footage.corrected().map(Values).collect();
        let values = Values(footage.clone());
        Self { id: id.number(), version, values, shape, alike, corrected, picture }
    }
}

/// A delivery frame of a project.
#[derive(Debug, Serialize, ToSchema)]
#[schema(as = Frame)]
pub struct FrameResource {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change; `If-Match` names it.
    pub version: i32,
    /// What was entered.
    pub values: FrameValues,
    /// What that amounts to; computed, never stored.
    pub shape: FrameShape,
}

impl FrameResource {
    /// The resource of a stored frame.
    pub fn new(id: FrameId, version: i32, frame: &Deliverable) -> Self {
        Self { id: id.number(), version, values: Values(frame.clone()), shape: frame.into() }
    }
}

/// Who decides the method of a conversion. The nearest that has one does.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum SpeakerName {
    /// The conversion itself.
    Own,
    /// Its source.
    Source,
    /// Its frame.
    Frame,
    /// The board.
    Board,
}

impl From<Speaker> for SpeakerName {
    fn from(speaker: Speaker) -> Self {
        match speaker {
            Speaker::Own => Self::Own,
            Speaker::Source => Self::Source,
            Speaker::Frame => Self::Frame,
            Speaker::Board => Self::Board,
        }
    }
}

/// Takes a part, and tells whether to go on.
pub type Take<'a> = &'a mut dyn FnMut(&RawValue) -> bool;

/// Parts that are written already, each by itself, and handed over one after the other as long as they are taken.
#[derive(Clone, Copy)]
pub struct Parts<'a>(pub &'a dyn Fn(Take<'_>));

impl Serialize for Parts<'_> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut list = serializer.serialize_seq(None)?;
        let mut written = Ok(());
        (self.0)(&mut |part| {
            written = list.serialize_element(part);
            written.is_ok()
        });
        written.and_then(|()| list.end())
    }
}

/// A text that is known when its turn comes.
#[derive(Clone, Copy)]
pub struct Known<'a>(pub &'a dyn Fn() -> String);

impl Serialize for Known<'_> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(&(self.0)())
    }
}

/// Every conversion of a project at once, or what has changed of them.
#[derive(Serialize, ToSchema)]
pub struct Board<'a> {
    /// The project.
    pub project: ProjectResource,
    /// The revision since which only what has changed is told here; null where everything is.
    pub since: Option<&'a str>,
    /// The numbers of its sources, in order.
    pub source_ids: Vec<i32>,
    /// The numbers of its frames, in order.
    pub frame_ids: Vec<i32>,
    /// Its sources, in order; of a board that changed, those that are new or other ones.
    #[schema(value_type = Vec<SourceResource>)]
    pub sources: Parts<'a>,
    /// Its frames, in order; of a board that changed, those that are new or other ones.
    #[schema(value_type = Vec<FrameResource>)]
    pub frames: Parts<'a>,
    /// One crossing for each source and frame: all frames of the first source, then of the next. Of a board that changed, those
    /// that are new or other ones.
    #[schema(value_type = Vec<Crossing>)]
    pub crossings: Parts<'a>,
    /// How many of its records cannot be read; they are set aside as they are kept.
    pub set_aside: usize,
    /// What this board is known by; another one has another. It comes last: it is known when all parts are.
    #[schema(value_type = String, example = "5d1f0a7c3e9b2468")]
    pub revision: Known<'a>,
}

/// A conversion as it stands on the board: what its small drawing and its numbers need, as doubles.
#[derive(Debug, Serialize, ToSchema)]
pub struct Crossing {
    /// The source's number.
    pub source: i32,
    /// The frame's number.
    pub frame: i32,
    /// 0 while nobody has touched it.
    pub version: i32,
    /// Who decides the method.
    pub speaker: SpeakerName,
    /// The method that counts.
    pub method: PlacingName,
    /// Where the picture lands: x, y, width and height in delivery pixels.
    pub image: [f64; 4],
    /// Percent across and up, where 100 puts one upright unit on one delivery line.
    pub native_percent: [f64; 2],
    /// Delivery pixels per stored pixel, across and up.
    pub scale: [f64; 2],
    /// The visible part of the picture, 0 to 1.
    pub kept: f64,
    /// The part of the picture area that is covered, 0 to 1.
    pub covered: f64,
    /// Uncovered delivery pixels at left, top, right and bottom.
    pub bars: [f64; 4],
    /// How much wider than high a circle comes out, less 1.
    pub distortion: f64,
    /// The heaviest finding that nobody has accepted; null when there is none.
    pub severity: Option<SeverityName>,
    /// The codes of its findings, those accepted too.
    pub findings: Vec<&'static str>,
    /// How many of them are accepted.
    pub accepted: usize,
    /// What becomes of the frames; null while a rate is not known.
    pub cadence: Option<CadenceSummary>,
    /// Of a view: delivery pixels for each pixel of the sphere behind it, in its middle; null for other sources.
    pub sphere_scale: Option<f64>,
    /// Where the picture lies by the framing with which it was imported; null where it was not.
    pub imported: Option<ImportedSummary>,
}

/// A framing that was imported, beside the one that counts.
#[derive(Debug, Serialize, ToSchema)]
pub struct ImportedSummary {
    /// Where the picture lies by it: x, y, width and height in delivery pixels.
    pub image: [f64; 4],
    /// Delivery pixels that the picture's middle lies to the right of and below it; null where it lies there.
    pub moved: Option<[f64; 2]>,
    /// How many times as large the picture is, by its width.
    pub size: f64,
}

impl ImportedSummary {
    fn of(conversion: &Conversion) -> Option<Self> {
        let image = conversion.imported.as_ref()?;
        let apart = conversion.apart();
        Some(Self {
            image: [&image.x, &image.y, &image.size.width, &image.size.height].map(Exact::to_f64),
            moved: apart.as_ref().map(|apart| [apart.moved.x.to_f64(), apart.moved.y.to_f64()]),
            size: apart.map_or(1.0, |apart| apart.size.to_f64()),
        })
    }
}

/// What becomes of the frames, in short.
#[derive(Debug, Serialize, ToSchema)]
pub struct CadenceSummary {
    /// In words.
    #[schema(example = "every 2nd frame")]
    pub words: String,
    /// How many times each frame of a cycle appears, where the cycle is short.
    pub cycle: Option<Vec<i64>>,
    /// The speed of all movement, 1 for as it was.
    pub speed: f64,
    /// Whether some frames appear more often than others.
    pub mixed: bool,
}

impl CadenceSummary {
    /// The most frames of a cycle that a small drawing shows.
    const LONGEST_CYCLE: usize = 12;
}

impl From<&cadence::Cadence> for CadenceSummary {
    fn from(cadence: &cadence::Cadence) -> Self {
        let (cycle, speed) = match cadence {
            cadence::Cadence::RealTime { cycle, .. } => {
                (cycle.clone().filter(|cycle| cycle.len() <= Self::LONGEST_CYCLE), 1.0)
            }
            cadence::Cadence::EveryFrame { speed, .. } => (Some(vec![1]), speed.to_f64()),
        };
        Self { words: cadence.to_string(), cycle, speed, mixed: cadence.is_mixed() }
    }
}

impl Crossing {
    /// The crossing of a source and a frame, by their numbers.
    pub fn new(pair: Pair, version: i32, conversion: &Conversion) -> Self {
        let doubles = |values: [&Exact; 4]| values.map(Exact::to_f64);
        fn axes<U>(axes: &Axes<U>) -> [f64; 2] {
            [axes.x.to_f64(), axes.y.to_f64()]
        }
        let plan = &conversion.plan;
        Self {
            source: pair.source.number(),
            frame: pair.frame.number(),
            version,
            speaker: conversion.speaker.into(),
            method: Values(conversion.framing.method),
            image: doubles([&plan.image.x, &plan.image.y, &plan.image.size.width, &plan.image.size.height]),
            native_percent: axes(&plan.dial.native_percent),
            scale: axes(&plan.scale),
            kept: plan.kept.to_f64(),
            covered: plan.covered.to_f64(),
            bars: doubles([&plan.bars.left, &plan.bars.top, &plan.bars.right, &plan.bars.bottom]),
            distortion: plan.distortion.to_f64(),
            severity: conversion.severity().map(Into::into),
            findings: conversion.findings.iter().map(ratiomet_core::Finding::code).collect(),
            accepted: conversion.findings.iter().filter(|finding| conversion.is_accepted(finding)).count(),
            cadence: conversion.cadence.as_ref().map(Into::into),
            sphere_scale: conversion.sphere_scale.as_ref().map(Exact::to_f64),
            imported: ImportedSummary::of(conversion),
        }
    }
}

impl ProjectResource {
    /// The resource of a stored project.
    pub fn new(id: ProjectId, version: i32, settings: &ProjectSettings, counts: [usize; 2], changed_at: i64) -> Self {
        let [sources, frames] = counts;
        let (id, values) = (id.number(), Values(settings.clone()));
        Self { id, version, values, changed_at, sources, frames }
    }
}
