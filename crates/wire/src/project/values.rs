//! What people enter: the values of projects, sources, frames and conversions, and their readers.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{
    Acceptance, Choice, ChoicePatch, Deliverable, Footage, FramingSpec, Name, Note, Placing, Playback, ProjectSettings,
    Scan, SignalRange,
};
use ratiomet_core::safe_area::{Percent, SafeArea};
use ratiomet_core::subject::SubjectSpec;
use ratiomet_core::{DisplayRatio, Finding, FrameRate, Method};
use serde::Serialize;
use utoipa::ToSchema;

use crate::calc::{SubjectBox, read_subject_box};
use crate::geometry::{DeliveryGeometry, SourceGeometry, read_delivery, read_shift, read_source, unmoved};
use crate::number::FractionText;
use crate::read::{Field, Object};

/// How a project places a picture.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum PlacingName {
    /// All of the picture is seen.
    Fit,
    /// All of the picture area is covered.
    Fill,
    /// As wide as the picture area.
    Width,
    /// As high as the picture area.
    Height,
    /// One upright unit on one delivery line.
    Native,
    /// Each axis by itself; circles do not stay round.
    Stretch,
    /// All of the area is covered, slid so that the source's subject is whole.
    Subject,
}

impl From<Placing> for PlacingName {
    fn from(placing: Placing) -> Self {
        match placing {
            Placing::By(Method::Fit) => Self::Fit,
            Placing::By(Method::Fill) => Self::Fill,
            Placing::By(Method::Width) => Self::Width,
            Placing::By(Method::Height) => Self::Height,
            Placing::By(Method::Native) => Self::Native,
            Placing::By(Method::Stretch) => Self::Stretch,
            Placing::AroundSubject => Self::Subject,
        }
    }
}

pub(super) fn read_placing(field: &Field<'_>) -> Option<Placing> {
    field.word(&Placing::ALL.map(|placing| (placing.word(), placing)))
}

/// Where a project puts a picture in a frame.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FramingChoice {
    /// How it is placed.
    #[schema(default = "fit", required = false)]
    pub method: PlacingName,
    /// Enlargement on top of the method, from 1/1000 to 1000.
    #[schema(default = "1", required = false)]
    pub zoom: FractionText,
    /// Delivery pixels right and down from the centre of the picture area, within 1,000,000 either way;
    /// around a subject, the place to stay near.
    #[schema(default = json!(["0", "0"]), required = false)]
    pub shift: [FractionText; 2],
}

impl From<&FramingSpec> for FramingChoice {
    fn from(spec: &FramingSpec) -> Self {
        Self {
            method: spec.method.into(),
            zoom: FractionText(spec.zoom.text().to_owned()),
            shift: [&spec.shift_x, &spec.shift_y].map(|shift| FractionText(shift.text().to_owned())),
        }
    }
}

/// Reads where a project puts a picture.
pub(super) fn read_framing_choice(field: &Field<'_>) -> Option<FramingSpec> {
    let object = field.object()?;
    let method = object.optional("method", Placing::default, read_placing);
    let zoom = object.fraction("zoom", "1", ratiomet_core::Zoom::parse);
    let shift = object.optional("shift", || (unmoved(), unmoved()), read_shift);
    object.done()?;
    let (shift_x, shift_y) = shift?;
    Some(FramingSpec { method: method?, zoom: zoom?, shift_x, shift_y })
}

/// The values of a project.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ProjectValues {
    /// What it is called: 1 to 120 characters.
    #[schema(example = "The Kiln at Saltreed")]
    pub name: String,
    /// The method of every conversion for which nothing nearer has one.
    #[schema(default = "fit", required = false)]
    pub method: PlacingName,
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
    /// What every frame should show whole; null when it is not marked.
    #[schema(required = false)]
    pub subject: Option<SubjectBox>,
    /// The method of every conversion of it that has none of its own; null to follow the frame.
    #[schema(required = false)]
    pub method: Option<PlacingName>,
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
            subject: footage.subject.as_ref().map(Into::into),
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
    /// The rules for its safe areas, at most 6: "ebu_r95", "smpte_st2046_1", or a percentage of both
    /// sides such as "80".
    #[schema(default = json!([]), required = false, example = json!(["ebu_r95", "80"]))]
    pub safe_areas: Vec<String>,
    /// Ratios whose outline is drawn in it, at most 8.
    #[schema(default = json!([]), required = false, example = json!(["1.85", "4:5"]))]
    pub guides: Vec<FractionText>,
    /// The number of the frame of the same project through which pictures reach it; null when they
    /// come straight from the source.
    #[schema(required = false)]
    pub through: Option<i32>,
    /// The method of every conversion into it for which neither the conversion nor the source has
    /// one; null to follow the board.
    #[schema(required = false)]
    pub method: Option<PlacingName>,
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
            safe_areas: safe_area_texts(&frame.safe_areas),
            guides: frame.guides.iter().map(|guide| FractionText(guide.text().to_owned())).collect(),
            through: frame.through,
            method: frame.method.map(Into::into),
        }
    }
}

pub(super) fn safe_area_texts(rules: &[SafeArea]) -> Vec<String> {
    rules.iter().map(|rule| rule.text().to_owned()).collect()
}

/// What a conversion adds to its source and its frame.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChoiceValues {
    /// Its own framing; null to follow its source, its frame or the board.
    pub own: Option<FramingChoice>,
    /// What was accepted of its findings.
    pub accepted: Vec<AcceptedFinding>,
    /// Framings to compare with, at most 6.
    pub pins: Vec<FramingChoice>,
}

/// Parts of what a conversion adds; what is left out stays.
#[derive(Debug, Default, Serialize, ToSchema)]
pub struct ChoiceSet {
    /// Its own framing; null to follow its source, its frame or the board.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub own: Option<FramingChoice>,
    /// What is accepted of its findings, each code once.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub accepted: Option<Vec<AcceptedFinding>>,
    /// Framings to compare with, at most 6.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub pins: Option<Vec<FramingChoice>>,
}

/// A finding that may stay.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct AcceptedFinding {
    /// The finding's code.
    #[schema(example = "enlarged")]
    pub code: String,
    /// Why it may stay: 1 to 120 characters.
    #[schema(example = "Archive; the client has seen it")]
    pub reason: String,
    /// The sentence of the finding that was accepted. When it says something else, it is open again.
    pub said: String,
}

impl From<&Acceptance> for AcceptedFinding {
    fn from(acceptance: &Acceptance) -> Self {
        Self {
            code: acceptance.code.clone(),
            reason: acceptance.reason.as_str().to_owned(),
            said: acceptance.said.clone(),
        }
    }
}

impl From<&Choice> for ChoiceValues {
    fn from(choice: &Choice) -> Self {
        Self {
            own: choice.own.as_ref().map(Into::into),
            accepted: choice.accepted.iter().map(Into::into).collect(),
            pins: choice.pins.iter().map(Into::into).collect(),
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
    let method = object.optional("method", Placing::default, read_placing);
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
    let subject = object.nullable("subject", read_subject);
    let method = object.nullable("method", read_placing);
    object.done()?;
    Some(Footage {
        name: name?,
        note: note?,
        geometry: geometry?,
        rate: rate?,
        scan: scan?,
        signal_range: signal_range?,
        playback: playback?,
        subject: subject?,
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
    let safe_areas = object.optional("safe_areas", Vec::new, read_safe_areas);
    let guides = object.optional("guides", Vec::new, read_guides);
    let through = object.nullable("through", read_through);
    let method = object.nullable("method", read_placing);
    object.done()?;
    Some(Deliverable {
        name: name?,
        note: note?,
        geometry: geometry?,
        rate: rate?,
        scan: scan?,
        signal_range: signal_range?,
        safe_areas: safe_areas?,
        guides: guides?,
        through: through?,
        method: method?,
    })
}

/// Reads parts of what a conversion adds.
pub fn read_choice_patch(field: &Field<'_>) -> Option<ChoicePatch> {
    let object = field.object()?;
    let patch = read_choice_parts(&object);
    object.done()?;
    patch
}

/// Reads a framing of its own, or none, if that is given.
pub(super) fn read_own(object: &Object<'_>) -> Option<Option<Option<FramingSpec>>> {
    object.optional(
        "own",
        || None,
        |field| {
            if field.is_null() { Some(Some(None)) } else { read_framing_choice(field).map(|own| Some(Some(own))) }
        },
    )
}

pub(super) fn read_choice_parts(object: &Object<'_>) -> Option<ChoicePatch> {
    let own = read_own(object);
    let accepted = object.optional("accepted", || None, |field| read_accepted(field).map(Some));
    let pins = object.optional(
        "pins",
        || None,
        |field| few(field, Choice::MOST_PINS, "framings", read_framing_choice).map(Some),
    );
    Some(ChoicePatch { own: own?, accepted: accepted?, pins: pins? })
}

/// Reads what a conversion adds.
pub fn read_choice(field: &Field<'_>) -> Option<Choice> {
    Some(read_choice_patch(field)?.apply(&Choice::default()))
}

fn read_accepted(field: &Field<'_>) -> Option<Vec<Acceptance>> {
    let accepted = few(field, Finding::CODES.len(), "accepted findings", |field| {
        let object = field.object()?;
        let code = object.required("code", read_code);
        let reason = object.required("reason", |field| {
            let accepted = "a reason of 1 to 120 characters on one line";
            Name::new(&field.string(accepted)?).or_else(|| field.refuse(accepted))
        });
        let said = object.required("said", |field| {
            let accepted = "the sentence of the finding, at most 1000 characters";
            let said = field.string(accepted)?;
            if said.chars().count() <= 1000 { Some(said.into_owned()) } else { field.refuse(accepted) }
        });
        object.done()?;
        Some(Acceptance { code: code?, reason: reason?, said: said? })
    })?;
    let mut codes: Vec<_> = accepted.iter().map(|acceptance| &acceptance.code).collect();
    codes.sort();
    if codes.windows(2).any(|pair| pair[0] == pair[1]) {
        return field.refuse("each code once");
    }
    Some(accepted)
}

pub(super) fn read_code(field: &Field<'_>) -> Option<String> {
    field.word(&Finding::CODES.map(|code| (code, code))).map(str::to_owned)
}

/// Reads an array of at most so many.
fn few<'r, T>(field: &Field<'r>, most: usize, what: &str, read: impl Fn(&Field<'r>) -> Option<T>) -> Option<Vec<T>> {
    let accepted = format!("an array of at most {most} {what}");
    let items = field.array(&accepted)?;
    if items.len() > most {
        return field.refuse(accepted);
    }
    // All of them are read before any is given up, so that every fault is named.
    let read: Vec<Option<T>> = items.iter().map(read).collect();
    read.into_iter().collect()
}

pub(super) fn read_safe_areas(field: &Field<'_>) -> Option<Vec<SafeArea>> {
    let accepted = "a rule: ebu_r95, smpte_st2046_1, or a percentage from 1 to 100";
    few(field, SafeArea::MOST, "rules", |field| {
        let text = field.string(accepted)?;
        if let Some((_, rule)) = SafeArea::PUBLISHED.into_iter().find(|(word, _)| *word == text) {
            return Some(rule);
        }
        Written::parse(&text, Percent::parse).ok().map(SafeArea::Own).or_else(|| field.refuse(accepted))
    })
}

pub(super) fn read_guides(field: &Field<'_>) -> Option<Vec<Written<DisplayRatio>>> {
    few(field, Deliverable::MOST_GUIDES, "ratios", |field| field.fraction(DisplayRatio::parse))
}

pub(super) fn read_subject(field: &Field<'_>) -> Option<SubjectSpec> {
    read_subject_box(field)
}

pub(super) fn read_through(field: &Field<'_>) -> Option<i32> {
    super::history::number(field, "the number of a frame of this project")
}
