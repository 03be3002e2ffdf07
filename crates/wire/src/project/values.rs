//! What people enter: the values of projects, sources, frames and conversions, and their readers.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Choice, Deliverable, Footage, Name, Note, Playback, ProjectSettings, Scan, SignalRange};
use ratiomet_core::{FrameRate, Method};
use serde::Serialize;
use utoipa::ToSchema;

use crate::geometry::{
    DeliveryGeometry, FramingValues, MethodName, SourceGeometry, read_delivery, read_framing, read_method, read_source,
};
use crate::number::FractionText;
use crate::read::{Field, Object};

/// The values of a project.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ProjectValues {
    /// What it is called: 1 to 120 characters.
    #[schema(example = "The Kiln at Saltreed")]
    pub name: String,
    /// The method of every conversion for which nothing nearer has one.
    #[schema(default = "fit", required = false)]
    pub method: MethodName,
}

impl From<&ProjectSettings> for ProjectValues {
    fn from(settings: &ProjectSettings) -> Self {
        Self { name: settings.name.as_str().to_owned(), method: settings.method.into() }
    }
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

/// At which speed a source runs in the frames.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum PlaybackName {
    /// Its running time stays.
    RealTime,
    /// Each frame is shown once: slow or fast motion.
    EveryFrame,
}

impl From<Playback> for PlaybackName {
    fn from(playback: Playback) -> Self {
        match playback {
            Playback::RealTime => Self::RealTime,
            Playback::EveryFrame => Self::EveryFrame,
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
    /// Frames a second, from 1/1000 to 1000; null when not known. The decimal names of the NTSC rates
    /// (23.976, 29.97 ...) mean the exact rates over 1001.
    #[schema(required = false)]
    pub rate: Option<FractionText>,
    /// Progressive or interlaced.
    #[schema(default = "progressive", required = false)]
    pub scan: ScanName,
    /// Which code values it uses.
    #[schema(default = "narrow", required = false)]
    pub signal_range: SignalRangeName,
    /// At which speed it runs.
    #[schema(default = "real_time", required = false)]
    pub playback: PlaybackName,
    /// The method of every conversion of it that has none of its own; null to follow the frame.
    #[schema(required = false)]
    pub method: Option<MethodName>,
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
            playback: footage.playback.into(),
            method: footage.method.map(Into::into),
        }
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
    /// Frames a second, from 1/1000 to 1000; null when not settled. The decimal names of the NTSC
    /// rates (23.976, 29.97 ...) mean the exact rates over 1001.
    #[schema(required = false)]
    pub rate: Option<FractionText>,
    /// Progressive or interlaced.
    #[schema(default = "progressive", required = false)]
    pub scan: ScanName,
    /// Which code values it uses.
    #[schema(default = "narrow", required = false)]
    pub signal_range: SignalRangeName,
    /// The method of every conversion into it for which neither the conversion nor the source has
    /// one; null to follow the board.
    #[schema(required = false)]
    pub method: Option<MethodName>,
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
            method: frame.method.map(Into::into),
        }
    }
}

/// What a conversion adds to its source and its frame.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChoiceValues {
    /// Its own framing; null to follow its source, its frame or the board.
    pub own: Option<FramingValues>,
}

impl From<&Choice> for ChoiceValues {
    fn from(choice: &Choice) -> Self {
        Self {
            own: match choice {
                Choice::Own(framing) => Some(framing.into()),
                Choice::Follows => None,
            },
        }
    }
}

fn rate_text(rate: Option<&Written<FrameRate>>) -> Option<FractionText> {
    rate.map(|rate| FractionText(rate.text().to_owned()))
}

pub(super) fn read_name(field: &Field<'_>) -> Option<Name> {
    let accepted = "a name of 1 to 120 characters on one line";
    let text = field.string(accepted)?;
    Name::new(&text).or_else(|| field.refuse(accepted))
}

pub(super) fn read_note(field: &Field<'_>) -> Option<Note> {
    let accepted = "a text of at most 1000 characters";
    let text = field.string(accepted)?;
    Note::new(&text).or_else(|| field.refuse(accepted))
}

pub(super) fn read_rate(field: &Field<'_>) -> Option<Written<FrameRate>> {
    field.fraction(FrameRate::spoken)
}

pub(super) fn read_scan(field: &Field<'_>) -> Option<Scan> {
    field.word(&Scan::ALL.map(|scan| (scan.word(), scan)))
}

pub(super) fn read_signal_range(field: &Field<'_>) -> Option<SignalRange> {
    field.word(&SignalRange::ALL.map(|range| (range.word(), range)))
}

pub(super) fn read_playback(field: &Field<'_>) -> Option<Playback> {
    field.word(&Playback::ALL.map(|playback| (playback.word(), playback)))
}

/// What sources and frames have in common: rate, scan and signal range.
fn read_signal(object: &Object<'_>) -> (Option<Option<Written<FrameRate>>>, Option<Scan>, Option<SignalRange>) {
    (
        object.nullable("rate", read_rate),
        object.optional("scan", Scan::default, read_scan),
        object.optional("signal_range", SignalRange::default, read_signal_range),
    )
}

/// Reads the values of a project.
pub fn read_project_values(field: &Field<'_>) -> Option<ProjectSettings> {
    let object = field.object()?;
    let name = object.required("name", read_name);
    let method = object.optional("method", Method::default, read_method);
    object.done()?;
    Some(ProjectSettings { name: name?, method: method? })
}

/// Reads the values of a source.
pub fn read_source_values(field: &Field<'_>) -> Option<Footage> {
    let object = field.object()?;
    let name = object.required("name", read_name);
    let note = object.optional("note", Note::default, read_note);
    let geometry = object.required("geometry", read_source);
    let (rate, scan, signal_range) = read_signal(&object);
    let playback = object.optional("playback", Playback::default, read_playback);
    let method = object.nullable("method", read_method);
    object.done()?;
    Some(Footage {
        name: name?,
        note: note?,
        geometry: geometry?,
        rate: rate?,
        scan: scan?,
        signal_range: signal_range?,
        playback: playback?,
        method: method?,
    })
}

/// Reads the values of a delivery frame.
pub fn read_frame_values(field: &Field<'_>) -> Option<Deliverable> {
    let object = field.object()?;
    let name = object.required("name", read_name);
    let note = object.optional("note", Note::default, read_note);
    let geometry = object.required("geometry", read_delivery);
    let (rate, scan, signal_range) = read_signal(&object);
    let method = object.nullable("method", read_method);
    object.done()?;
    Some(Deliverable {
        name: name?,
        note: note?,
        geometry: geometry?,
        rate: rate?,
        scan: scan?,
        signal_range: signal_range?,
        method: method?,
    })
}

/// Reads what a conversion adds.
pub fn read_choice(field: &Field<'_>) -> Option<Choice> {
    let object = field.object()?;
    let own = match object.take("own") {
        Some(field) if !field.is_null() => read_framing(&field).map(Choice::Own),
        Some(_) => Some(Choice::Follows),
        None => field.refuse("an object with the field own: a framing, or null to follow"),
    };
    object.done()?;
    own
}
