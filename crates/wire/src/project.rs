//! Projects, their footage, frames and conversions as JSON.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Choice, Deliverable, Footage, Name, Note, Scan, SignalRange, plan};
use ratiomet_core::space::Axes;
use ratiomet_core::{Exact, FrameRate, Method, Plan};
use serde::Serialize;
use utoipa::ToSchema;

use crate::calc::{ConversionResult, EdgesResult, SeverityName};
use crate::geometry::{
    DeliveryGeometry, FrameShape, FramingValues, MethodName, SourceGeometry, SourceShape, read_delivery, read_framing,
    read_method, read_source,
};
use crate::number::{FractionText, RectResult};
use crate::read::{Field, Object};

/// A project without its contents.
#[derive(Debug, Serialize, ToSchema)]
pub struct Project {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change of the project itself; `If-Match` names it.
    pub version: i32,
    /// What it is called.
    #[schema(example = "The Kiln at Saltreed")]
    pub name: String,
    /// When it or anything in it was last changed, in milliseconds since 1970, UTC.
    pub changed_at: i64,
    /// How many sources it has.
    pub sources: i64,
    /// How many frames it has.
    pub frames: i64,
}

/// The values of a project.
#[derive(Debug, Serialize, ToSchema)]
pub struct ProjectValues {
    /// What it is called: 1 to 120 characters.
    #[schema(example = "The Kiln at Saltreed")]
    pub name: String,
}

/// Progressive or interlaced.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum ScanName {
    /// All lines belong to one moment.
    Progressive,
    /// Odd and even lines belong to two moments.
    Interlaced,
}

impl From<Scan> for ScanName {
    fn from(scan: Scan) -> Self {
        match scan {
            Scan::Progressive => Self::Progressive,
            Scan::Interlaced => Self::Interlaced,
        }
    }
}

/// Which code values stand for black and white.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum SignalRangeName {
    /// 16 to 235 of 255 (ITU-R BT.709).
    Narrow,
    /// 0 to 255 of 255.
    Full,
}

impl From<SignalRange> for SignalRangeName {
    fn from(range: SignalRange) -> Self {
        match range {
            SignalRange::Narrow => Self::Narrow,
            SignalRange::Full => Self::Full,
        }
    }
}

/// The values of a source.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SourceValues {
    /// What it is called: 1 to 120 characters.
    #[schema(example = "A014 Furnace mouth")]
    pub name: String,
    /// Free words, at most 1,000 characters.
    #[schema(default = "", required = false)]
    pub note: String,
    /// How it is stored and what it shows.
    pub geometry: SourceGeometry,
    /// Frames a second, from 1/1000 to 1000; null when not known.
    #[schema(required = false)]
    pub rate: Option<FractionText>,
    /// Progressive or interlaced.
    #[schema(default = "progressive", required = false)]
    pub scan: ScanName,
    /// Which code values it uses.
    #[schema(default = "narrow", required = false)]
    pub signal_range: SignalRangeName,
}

impl From<&Footage> for SourceValues {
    fn from(footage: &Footage) -> Self {
        Self {
            name: footage.name.as_str().to_owned(),
            note: footage.note.as_str().to_owned(),
            geometry: (&footage.geometry).into(),
            rate: rate_text(footage.rate.as_ref()),
            scan: footage.scan.into(),
            signal_range: footage.signal_range.into(),
        }
    }
}

/// A source of a project.
#[derive(Debug, Serialize, ToSchema)]
pub struct Source {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change; `If-Match` names it.
    pub version: i32,
    /// What was entered.
    pub values: SourceValues,
    /// What that amounts to; computed, never stored.
    pub shape: SourceShape,
}

impl Source {
    /// The resource of a stored source.
    pub fn new(id: i32, version: i32, footage: &Footage) -> Self {
        Self { id, version, values: footage.into(), shape: (&footage.geometry).into() }
    }
}

/// The values of a delivery frame.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FrameValues {
    /// What it is called: 1 to 120 characters.
    #[schema(example = "Festival scope")]
    pub name: String,
    /// Free words, at most 1,000 characters.
    #[schema(default = "", required = false)]
    pub note: String,
    /// Its raster and the picture in it.
    pub geometry: DeliveryGeometry,
    /// Frames a second, from 1/1000 to 1000; null when not settled.
    #[schema(required = false)]
    pub rate: Option<FractionText>,
    /// Progressive or interlaced.
    #[schema(default = "progressive", required = false)]
    pub scan: ScanName,
    /// Which code values it uses.
    #[schema(default = "narrow", required = false)]
    pub signal_range: SignalRangeName,
    /// The method of every conversion into it that has none of its own.
    #[schema(default = "fit", required = false)]
    pub default_method: MethodName,
}

impl From<&Deliverable> for FrameValues {
    fn from(frame: &Deliverable) -> Self {
        Self {
            name: frame.name.as_str().to_owned(),
            note: frame.note.as_str().to_owned(),
            geometry: (&frame.geometry).into(),
            rate: rate_text(frame.rate.as_ref()),
            scan: frame.scan.into(),
            signal_range: frame.signal_range.into(),
            default_method: frame.default_method.into(),
        }
    }
}

/// A delivery frame of a project.
#[derive(Debug, Serialize, ToSchema)]
pub struct Frame {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change; `If-Match` names it.
    pub version: i32,
    /// What was entered.
    pub values: FrameValues,
    /// What that amounts to; computed, never stored.
    pub shape: FrameShape,
}

impl Frame {
    /// The resource of a stored frame.
    pub fn new(id: i32, version: i32, frame: &Deliverable) -> Self {
        Self { id, version, values: frame.into(), shape: (&frame.geometry).into() }
    }
}

/// What a conversion adds to its source and its frame.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChoiceValues {
    /// Its own framing; null to follow the frame's default method.
    pub own: Option<FramingValues>,
}

/// One source into one frame of a project, with its whole plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct Conversion {
    /// The source's number.
    pub source: i32,
    /// The frame's number.
    pub frame: i32,
    /// 0 while nobody has touched it; `If-Match` names it.
    pub version: i32,
    /// Whether it has a framing of its own.
    pub own: bool,
    /// The framing that counts.
    pub framing: FramingValues,
    /// The part of the upright picture that reaches the picture area, in units of one stored line.
    pub seen: Option<RectResult>,
    /// What is cut off each side of the upright picture, in the same units; null when all of it is.
    pub cut: Option<EdgesResult>,
    /// The plan; computed, never stored.
    pub plan: ConversionResult,
    /// The same as it stands on the board.
    pub crossing: Crossing,
}

impl Conversion {
    /// The resource of a conversion between two stored records, given with their numbers.
    pub fn new(source: (i32, &Footage), frame: (i32, &Deliverable), version: i32, choice: &Choice) -> Self {
        let plan = plan(source.1, frame.1, choice);
        Self {
            source: source.0,
            frame: frame.0,
            version,
            own: matches!(choice, Choice::Own(_)),
            framing: (&choice.framing(frame.1)).into(),
            crossing: Crossing::new((source.0, frame.0), version, choice, frame.1, &plan),
            seen: plan.seen().map(Into::into),
            cut: plan.cut().map(Into::into),
            plan: plan.into(),
        }
    }
}

/// Every conversion of a project at once.
#[derive(Debug, Serialize, ToSchema)]
pub struct Board {
    /// The project.
    pub project: Project,
    /// Its sources, in order.
    pub sources: Vec<Source>,
    /// Its frames, in order.
    pub frames: Vec<Frame>,
    /// One crossing for each source and frame: all frames of the first source, then of the next.
    pub crossings: Vec<Crossing>,
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
    /// Whether it has a framing of its own.
    pub own: bool,
    /// The method that counts.
    pub method: MethodName,
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
    /// The heaviest finding; null when there is none.
    pub severity: Option<SeverityName>,
    /// The codes of its findings.
    pub findings: Vec<&'static str>,
}

impl Crossing {
    /// The crossing of a source and a frame, by their numbers, with its plan.
    pub fn new(key: (i32, i32), version: i32, choice: &Choice, frame: &Deliverable, plan: &Plan) -> Self {
        let doubles = |values: [&Exact; 4]| values.map(Exact::to_f64);
        let axes = |axes: &Axes| [axes.x.to_f64(), axes.y.to_f64()];
        let method = match choice {
            Choice::Follows => frame.default_method,
            Choice::Own(framing) => framing.method,
        };
        Self {
            source: key.0,
            frame: key.1,
            version,
            own: matches!(choice, Choice::Own(_)),
            method: method.into(),
            image: doubles([&plan.image.x, &plan.image.y, &plan.image.size.width, &plan.image.size.height]),
            native_percent: axes(&plan.dial.native_percent),
            scale: axes(&plan.scale),
            kept: plan.kept.to_f64(),
            covered: plan.covered.to_f64(),
            bars: doubles([&plan.bars.left, &plan.bars.top, &plan.bars.right, &plan.bars.bottom]),
            distortion: plan.distortion.to_f64(),
            severity: plan.findings.iter().map(ratiomet_core::Finding::severity).max().map(Into::into),
            findings: plan.findings.iter().map(ratiomet_core::Finding::code).collect(),
        }
    }
}

fn rate_text(rate: Option<&Written<FrameRate>>) -> Option<FractionText> {
    rate.map(|rate| FractionText(rate.text().to_owned()))
}

fn read_name(field: &Field<'_>) -> Option<Name> {
    let accepted = "a name of 1 to 120 characters on one line";
    let text = field.string(accepted)?;
    Name::new(&text).or_else(|| field.refuse(accepted))
}

fn read_note(field: &Field<'_>) -> Option<Note> {
    let accepted = "a text of at most 1000 characters";
    let text = field.string(accepted)?;
    Note::new(&text).or_else(|| field.refuse(accepted))
}

/// What sources and frames have in common: rate, scan and signal range.
fn read_signal(object: &Object<'_>) -> (Option<Option<Written<FrameRate>>>, Option<Scan>, Option<SignalRange>) {
    (
        object.nullable("rate", |field| field.fraction(FrameRate::parse)),
        object.optional("scan", Scan::default, |field| field.word(&Scan::ALL.map(|scan| (scan.word(), scan)))),
        object.optional("signal_range", SignalRange::default, |field| {
            field.word(&SignalRange::ALL.map(|range| (range.word(), range)))
        }),
    )
}

/// Reads the values of a project.
pub fn read_project_values(field: &Field<'_>) -> Option<Name> {
    let object = field.object()?;
    let name = object.required("name", read_name);
    object.done()?;
    name
}

/// Reads the values of a source.
pub fn read_source_values(field: &Field<'_>) -> Option<Footage> {
    let object = field.object()?;
    let name = object.required("name", read_name);
    let note = object.optional("note", Note::default, read_note);
    let geometry = object.required("geometry", read_source);
    let (rate, scan, signal_range) = read_signal(&object);
    object.done()?;
    Some(Footage {
        name: name?,
        note: note?,
        geometry: geometry?,
        rate: rate?,
        scan: scan?,
        signal_range: signal_range?,
    })
}

/// Reads the values of a delivery frame.
pub fn read_frame_values(field: &Field<'_>) -> Option<Deliverable> {
    let object = field.object()?;
    let name = object.required("name", read_name);
    let note = object.optional("note", Note::default, read_note);
    let geometry = object.required("geometry", read_delivery);
    let (rate, scan, signal_range) = read_signal(&object);
    let default_method = object.optional("default_method", Method::default, read_method);
    object.done()?;
    Some(Deliverable {
        name: name?,
        note: note?,
        geometry: geometry?,
        rate: rate?,
        scan: scan?,
        signal_range: signal_range?,
        default_method: default_method?,
    })
}

/// Reads what a conversion adds.
pub fn read_choice(field: &Field<'_>) -> Option<Choice> {
    let object = field.object()?;
    let own = match object.take("own") {
        Some(field) if !field.is_null() => read_framing(&field).map(Choice::Own),
        Some(_) => Some(Choice::Follows),
        None => field.refuse("an object with the field own: a framing, or null to follow the frame"),
    };
    object.done()?;
    own
}
