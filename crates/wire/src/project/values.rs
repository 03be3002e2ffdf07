//! What people enter: the values of projects, sources, frames and conversions.

use std::collections::BTreeMap;

use ratiomet_core::cadence::Intent;
use ratiomet_core::file::FileSpec;
use ratiomet_core::finding::FindingKey;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::{
    Acceptance, Aspect, Choice, ChoicePatch, Content, Deliverable, Footage, FrameId, FrameSpec, FramingSpec, Name,
    Note, OnSphere, Origin, Placing, ProjectSettings, Scene, SourceId, SourceSpec, StillFile, StillSpec, Tolerances,
    ViewSpec, Witness,
};
use ratiomet_core::resampling::Resampling;
use ratiomet_core::safe_area::{Percent, SafeArea};
use ratiomet_core::signal::{Projection, RangePlan, RatePlan, Scan, SignalRange};
use ratiomet_core::space::Stored;
use ratiomet_core::sphere::{Eyes, FieldOfView, Latitude, Layout, Orientation, Span, SphereForm, Turn};
use ratiomet_core::subject::{Margin, SubjectSpec};
use ratiomet_core::{DisplayRatio, Finding, FrameRate, Raster, Tolerance};
use serde::ser::{Serialize, Serializer};
use utoipa::openapi::schema::{AdditionalProperties, ArrayBuilder, ObjectBuilder, Schema, Type};

use crate::describe::{As, Given, Json, List, Refused, record, reference, words};
use crate::read::Field;
use crate::values::{Code, SpokenRate};
use crate::whole::Whole;

/// Two rates that go together, a source's and a frame's.
impl Json for [Written<FrameRate>; 2] {
    const PLURAL: &'static str = "pairs of rates";

    fn read(field: &Field<'_>) -> Option<Self> {
        let parts = field
            .array_within(2, 2, || "the rate of sources and that of frames, such as [\"25\", \"24\"]".to_owned())?;
        let (from, to) = (SpokenRate::read(&parts[0]), SpokenRate::read(&parts[1]));
        Some([from?.0, to?.0])
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let rates = self.clone().map(SpokenRate);
        rates.each_ref().map(As).serialize(serializer)
    }

    fn describe() -> Schema {
        ArrayBuilder::new().items(reference::<SpokenRate>()).min_items(Some(2)).max_items(Some(2)).into()
    }
}

record!(
    /// How far something needs no look in a project.
    "ProjectTolerances", "tolerances" for Tolerances {
        /// Delivery pixels per stored pixel up to which an enlargement is only noted.
        enlarged: Written<Tolerance> = Default(r#""1.1""#), |tolerances| tolerances.enlarged.clone();
        /// Pairs of rates that are fine as they are: that of sources, and that of frames.
        rates: List<[Written<FrameRate>; 2], 0, { Tolerances::MOST_RATES }> = Default("[]"),
            |tolerances| List(tolerances.rates.clone());
        /// What should stay free on each side of a subject, as a share of the picture area.
        margin: Written<Margin> = Default(r#""1/20""#), |tolerances| tolerances.margin.clone();
    }
    |enlarged, rates, margin| Ok(Tolerances { enlarged, rates: rates.0, margin })
);

record!(
    /// The values of a project.
    "ProjectValues", "projects" for ProjectSettings {
        /// What it is called.
        name: Name = Required, |settings| settings.name.clone();
        /// The method of every conversion for which nothing nearer has one.
        method: Placing = Default(r#""fill""#), |settings| settings.method;
        /// How far something needs no look.
        tolerances: Tolerances = Default("{}"), |settings| settings.tolerances.clone();
    }
    |name, method, tolerances| Ok(ProjectSettings { name, method, tolerances })
);

words!(
    /// What a value that was read is of.
    "Aspect" for Aspect, Aspect::ALL, Aspect::word
);

record!(
    /// A value as it was read, and where it stood.
    "Witness", "values that were read" for Witness {
        /// Of what it is a value.
        of: Aspect = Required, |witness| witness.of;
        /// The value, as a source writes it.
        value: Note = Required, |witness| witness.value.clone();
        /// Where it stood.
        by: Note = Required, |witness| witness.by.clone();
    }
    |of, value, by| Ok(Witness { of, value, by })
);

record!(
    /// Where a source was read, and what stood there.
    "Origin", "origins" for Origin {
        /// The file, with the folders that were named with it.
        file: Note = Required, |origin| origin.file.clone();
        /// What stood in it; what is not there was not said.
        said: List<Witness, 0, { Origin::MOST }> = Default("[]"), |origin| List(origin.said.clone());
        /// Whether the file is the footage itself, and not a list that tells of it.
        footage: bool = Default("false"), |origin| origin.footage;
        /// How many pictures it has; null when it does not say so.
        frames: Option<Whole<1, { u32::MAX }>> = Default("null"), |origin| origin.frames.map(Whole::new);
    }
    |file, said, footage, frames| Ok(Origin { file, said: said.0, footage, frames: frames.map(Whole::get) })
);

words!(
    /// A scene that the stand-in camera draws.
    "Scene" for Scene, Scene::ALL, Scene::word
);

impl Json for Content {
    const NAME: Option<&'static str> = Some("Content");

    fn read(field: &Field<'_>) -> Option<Self> {
        let accepted = "the SHA-256 of a file, in 64 small hexadecimal digits";
        let text = field.string(accepted)?;
        Self::parse(&text).or_else(|| field.refuse(accepted))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }

    fn describe() -> Schema {
        ObjectBuilder::new().schema_type(Type::String).pattern(Some("^[0-9a-f]{64}$")).into()
    }
}

record!(
    /// The picture that a source shows: a scene of the stand-in camera, or a still that is kept by its content.
    "StillValues", "stills" for StillSpec {
        /// The scene; null for a still.
        scene: Option<Scene> = Default("null"), |still| still.scene();
        /// What the file of the still holds; null for a scene.
        content: Option<Content> = Default("null"), |still| still.file().map(|file| file.content);
        /// What that file was called.
        file: Note = Default(r#""""#), |still| still.file().map_or_else(Note::default, |file| file.name.clone());
        /// Pixels of the still across and down, before turning; null for a scene.
        raster: Option<Raster<Stored>> = Default("null"), |still| still.file().map(|file| file.raster);
    }
    |scene, content, file, raster| Ok(StillSpec::new(scene, content, file, raster)?)
);

record!(
    /// How a sphere lies in its frame; it means nothing of a flat picture.
    "SphereForm", "forms of spheres" for SphereForm {
        /// Degrees across and up that each eye's picture holds.
        span: Span = Default("[360,180]"), |form| form.span.clone();
        /// One picture for both eyes, or one for each.
        layout: Layout = Default(r#""mono""#), |form| form.layout;
        /// Which eye comes first, above or at the left.
        eyes: Eyes = Default(r#""left_first""#), |form| form.eyes;
    }
    |span, layout, eyes| Ok(SphereForm { span, layout, eyes })
);

record!(
    /// A turn: first it rolls, then pitches, then yaws. Degrees.
    "Orientation", "turns" for Orientation {
        /// To the right.
        yaw: Turn = Default("0"), |turn| turn.yaw.clone();
        /// Upwards.
        pitch: Latitude = Default("0"), |turn| turn.pitch.clone();
        /// Clockwise, as seen from behind.
        roll: Turn = Default("0"), |turn| turn.roll.clone();
    }
    |yaw, pitch, roll| Ok(Orientation { yaw, pitch, roll })
);

record!(
    /// Where a flat view out of a sphere looks.
    "ViewSpec", "views" for ViewSpec {
        /// The number of the sphere, a source of the same project.
        sphere: SourceId = Required, |view| view.sphere;
        /// Degrees that it is wide.
        fov: FieldOfView = Required, |view| view.fov.clone();
        /// Where it looks, in the sphere as it is turned.
        orientation: Orientation = Default("{}"), |view| view.orientation.clone();
    }
    |sphere, fov, orientation| Ok(ViewSpec { sphere, fov, orientation })
);

record!(
    /// A flat picture that stands on a sphere and touches it in its middle.
    "OnSphere", "pictures on a sphere" for OnSphere {
        /// What the file of the picture holds.
        content: Content = Required, |picture| picture.still.content;
        /// What that file was called.
        file: Note = Default(r#""""#), |picture| picture.still.name.clone();
        /// Pixels of the picture across and down.
        raster: Raster<Stored> = Required, |picture| picture.still.raster;
        /// Degrees that it is seen to be wide.
        width: FieldOfView = Required, |picture| picture.width.clone();
        /// Where its middle stands in the sphere as it is turned: yaw is the longitude, pitch the latitude.
        orientation: Orientation = Default("{}"), |picture| picture.orientation.clone();
    }
    |content, file, raster, width, orientation| {
        Ok(OnSphere { still: StillFile { content, name: file, raster }, width, orientation })
    }
);

/// The pictures that stand on one sphere.
pub(super) type PicturesOnSphere = List<OnSphere, 0, { OnSphere::MOST }>;

record!(
    /// The values of a source.
    "SourceValues", "values of sources" for Footage {
        /// What it is called.
        name: Name = Required, |source| source.name.clone();
        /// Free words.
        note: Note = Default(r#""""#), |source| source.note.clone();
        /// How it is stored and what it shows.
        geometry: SourceSpec = Required, |source| source.geometry.clone();
        /// Frames a second; null when not known. The decimal names of the NTSC rates (23.976, 29.97 ...) mean
        /// the exact rates over 1001.
        rate: Option<SpokenRate> = Default("null"), |source| SpokenRate::of(source.rate.as_ref());
        /// Progressive or interlaced; null when nothing says so.
        scan: Option<Scan> = Default("null"), |source| source.scan;
        /// Which code values it uses; null when nothing says so.
        signal_range: Option<SignalRange> = Default("null"), |source| source.signal_range;
        /// At which speed it runs.
        playback: Intent = Default(r#""real_time""#), |source| source.playback;
        /// A flat picture, or a sphere.
        projection: Projection = Default(r#""flat""#), |source| source.projection;
        /// How the sphere lies in its frame, where it is one.
        sphere: SphereForm = Default("{}"), |source| source.sphere.clone();
        /// How the sphere is turned, so that it is level and its middle where it should be: a direction d of the turned
        /// sphere is found at Ry(yaw) Rx(pitch) Rz(roll) d in the stored one.
        turn: Orientation = Default("{}"), |source| source.turn.clone();
        /// The pictures that stand on the sphere, where it is one; what comes later lies above.
        on_sphere: PicturesOnSphere = Default("[]"), |source| List(source.on_sphere.clone());
        /// Where it looks, if it is a flat view out of another source; its raster is the size of the view. A view has
        /// square pixels, no squeeze and no rotation, whatever its geometry says.
        view: Option<ViewSpec> = Default("null"), |source| source.view.clone();
        /// Whether it is known which way up it is stored: then nobody is asked.
        upright_known: bool = Default("false"), |source| source.upright_known;
        /// Whether its fields are made into whole pictures for progressive frames.
        deinterlace: bool = Default("false"), |source| source.deinterlace;
        /// What is done for frames of another signal range.
        range_plan: RangePlan = Default(r#""open""#), |source| source.range_plan;
        /// What is shown between its frames where a frame has another rate.
        rate_plan: RatePlan = Default(r#""open""#), |source| source.rate_plan;
        /// What every frame should show whole; null when it is not marked.
        subject: Option<SubjectSpec> = Default("null"), |source| source.subject.clone();
        /// The method of every conversion of it that has none of its own; null to follow the frame.
        method: Option<Placing> = Default("null"), |source| source.method;
        /// Where it was read, and what stood there; null for one that was typed.
        origin: Option<Origin> = Default("null"), |source| source.origin.clone();
        /// The picture that it shows; null for a drawing.
        still: Option<StillSpec> = Default("null"), |source| source.still.clone();
    }
    |name, note, geometry, rate, scan, signal_range, playback, projection, sphere, turn, on_sphere, view, upright_known,
     deinterlace, range_plan, rate_plan, subject, method, origin, still| {
        Ok(Footage {
            name,
            note,
            geometry,
            rate: rate.map(|rate| rate.0),
            scan,
            signal_range,
            playback,
            projection,
            sphere,
            turn,
            on_sphere: on_sphere.0,
            view,
            upright_known,
            deinterlace,
            range_plan,
            rate_plan,
            subject,
            method,
            origin,
            still,
        }
        .without_lens_of_view())
    }
);

/// The rules for the safe areas of a frame.
pub(super) type SafeAreas = List<SafeArea, 0, { SafeArea::MOST }>;
/// Ratios whose outline is drawn in a frame.
pub(super) type Guides = List<Written<DisplayRatio>, 0, { Deliverable::MOST_GUIDES }>;

impl Json for SafeArea {
    const PLURAL: &'static str = "rules";

    fn read(field: &Field<'_>) -> Option<Self> {
        let accepted = "a rule: ebu_r95, smpte_st2046_1, or a percentage from 1 to 100";
        let text = field.string(accepted)?;
        if let Some((_, rule)) = Self::PUBLISHED.into_iter().find(|(word, _)| *word == text) {
            return Some(rule);
        }
        Written::parse(&text, Percent::parse).ok().map(Self::Own).or_else(|| field.refuse(accepted))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.text())
    }

    fn describe() -> Schema {
        ObjectBuilder::new().schema_type(Type::String).examples(["ebu_r95", "smpte_st2046_1", "80"]).into()
    }
}

record!(
    /// The values of a delivery frame.
    "FrameValues", "values of frames" for Deliverable {
        /// What it is called.
        name: Name = Required, |frame| frame.name.clone();
        /// Free words.
        note: Note = Default(r#""""#), |frame| frame.note.clone();
        /// Its raster and the picture in it.
        geometry: FrameSpec = Required, |frame| frame.geometry.clone();
        /// Frames a second; null when not settled. The decimal names of the NTSC rates (23.976, 29.97 ...) mean
        /// the exact rates over 1001.
        rate: Option<SpokenRate> = Default("null"), |frame| SpokenRate::of(frame.rate.as_ref());
        /// Progressive or interlaced.
        scan: Scan = Default(r#""progressive""#), |frame| frame.scan;
        /// Which code values it uses.
        signal_range: SignalRange = Default(r#""narrow""#), |frame| frame.signal_range;
        /// A flat picture, or a sphere.
        projection: Projection = Default(r#""flat""#), |frame| frame.projection;
        /// How the sphere lies in it, where it is for one.
        sphere: SphereForm = Default("{}"), |frame| frame.sphere.clone();
        /// The rules for its safe areas: "ebu_r95", "smpte_st2046_1", or a percentage of both sides such as "80".
        safe_areas: SafeAreas = Default("[]"), |frame| List(frame.safe_areas.clone());
        /// Ratios whose outline is drawn in it.
        guides: Guides = Default("[]"), |frame| List(frame.guides.clone());
        /// The number of the frame of the same project through which pictures reach it; null when they come
        /// straight from the source.
        through: Option<FrameId> = Default("null"), |frame| frame.through;
        /// The method of every conversion into it for which neither the conversion nor the source has one; null
        /// to follow the board.
        method: Option<Placing> = Default("null"), |frame| frame.method;
        /// How its file is made; null where nobody has said so.
        file: Option<FileSpec> = Default("null"), |frame| frame.file.clone();
    }
    |name, note, geometry, rate, scan, signal_range, projection, sphere, safe_areas, guides, through, method, file| {
        let (rate, safe_areas, guides) = (rate.map(|rate| rate.0), safe_areas.0, guides.0);
        Ok(Deliverable {
            name,
            note,
            geometry,
            rate,
            scan,
            signal_range,
            projection,
            sphere,
            safe_areas,
            guides,
            through,
            method,
            file,
        })
    }
);

/// The numbers of a finding by their names.
impl Json for FindingKey {
    const NAME: Option<&'static str> = Some("FindingNumbers");

    fn read(field: &Field<'_>) -> Option<Self> {
        let accepted = "the numbers of the finding by their names, as its answer has them";
        let numbers: Option<BTreeMap<String, String>> = field.strings(accepted);
        Self::new(numbers?).or_else(|| field.refuse(accepted))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.numbers().serialize(serializer)
    }

    fn describe() -> Schema {
        let text = ObjectBuilder::new().schema_type(Type::String).max_length(Some(Self::LONGEST));
        ObjectBuilder::new()
            .schema_type(Type::Object)
            .description(Some("The numbers of a finding by their names, as fine as they are shown."))
            .max_properties(Some(Self::MOST))
            .additional_properties(Some(AdditionalProperties::<Schema>::RefOr(text.into())))
            .into()
    }
}

record!(
    /// A finding that may stay.
    "AcceptedFinding", "accepted findings" for Acceptance {
        /// The finding's code.
        code: Code = Required, |accepted| Code(accepted.code);
        /// Why it may stay.
        reason: Name = Required, |accepted| accepted.reason.clone();
        /// The numbers of the finding that was accepted. When it has others, it is open again.
        numbers: FindingKey = Required, |accepted| accepted.key.clone();
    }
    |code, reason, key| Ok(Acceptance { code: code.0, reason, key })
);

/// What is accepted of the findings of a conversion.
type Accepted = List<Acceptance, 0, { Finding::CODES.len() }>;
/// What is pinned to a conversion.
type Pins = List<FramingSpec, 0, { Choice::MOST_PINS }>;

fn each_once(accepted: &[Acceptance]) -> Result<(), Refused> {
    let again = |at: usize| accepted[..at].iter().any(|earlier| earlier.code == accepted[at].code);
    if (0..accepted.len()).any(again) {
        Err(Refused::Field("accepted", "each code of accepted findings once"))
    } else {
        Ok(())
    }
}

record!(
    /// What a conversion adds to its source and its frame.
    "ChoiceValues", "choices" for Choice {
        /// Its own framing; null to follow its source, its frame or the board.
        own: Option<FramingSpec> = Default("null"), |choice| choice.own.clone();
        /// What was accepted of its findings, each code once.
        accepted: Accepted = Default("[]"), |choice| List(choice.accepted.clone());
        /// Framings to compare with.
        pins: Pins = Default("[]"), |choice| List(choice.pins.clone());
        /// The framing with which it was imported, such as the one from set; null where it was not.
        imported: Option<FramingSpec> = Default("null"), |choice| choice.imported.clone();
        /// How its samples are worked out, if somebody has decided; null while nobody has.
        taken: Option<Resampling> = Default("null"), |choice| choice.taken.clone();
    }
    |own, accepted, pins, imported, taken| {
        each_once(&accepted.0)?;
        Ok(Choice { own, accepted: accepted.0, pins: pins.0, imported, taken })
    }
);

record!(
    /// Parts of what a conversion adds; what is left out stays.
    "ChoiceSet", "choices" for ChoicePatch {
        /// Its own framing; null to follow its source, its frame or the board.
        own: Given<Option<FramingSpec>> = Optional, |patch| Given(patch.own.clone());
        /// What is accepted of its findings, each code once.
        accepted: Given<Accepted> = Optional, |patch| Given(patch.accepted.clone().map(List));
        /// Framings to compare with.
        pins: Given<Pins> = Optional, |patch| Given(patch.pins.clone().map(List));
        /// The framing with which it was imported; null to forget it.
        imported: Given<Option<FramingSpec>> = Optional, |patch| Given(patch.imported.clone());
        /// How its samples are worked out; null to leave it undecided.
        taken: Given<Option<Resampling>> = Optional, |patch| Given(patch.taken.clone());
    }
    |own, accepted, pins, imported, taken| {
        let accepted = accepted.0.map(|accepted| accepted.0);
        if let Some(accepted) = &accepted {
            each_once(accepted)?;
        }
        let pins = pins.0.map(|pins| pins.0);
        Ok(ChoicePatch { own: own.0, accepted, pins, imported: imported.0, taken: taken.0 })
    }
);
