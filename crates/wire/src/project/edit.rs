//! Changes of many things at once, which are undone as one.

use ratiomet_core::cadence::Intent;
use ratiomet_core::dial_in::Entered;
use ratiomet_core::file::FileSpec;
use ratiomet_core::fraction::{Written, writable};
use ratiomet_core::project::{
    BroughtFraming, Deliverable, Edit, EditError, Followed, Footage, FrameId, FramePatch, Framed, FramingPatch,
    FramingSpec, HouseActivePicture, Name, Note, Pair, Placing, ProjectSettings, SourceId, SourcePatch, StillSpec,
    ViewSpec,
};
use ratiomet_core::resampling::Resampling;
use ratiomet_core::signal::{Projection, RangePlan, RatePlan, Scan, SignalRange};
use ratiomet_core::space::{Delivery, Rect, Size, Stored};
use ratiomet_core::sphere::{Orientation, SphereForm};
use ratiomet_core::subject::SubjectSpec;
use ratiomet_core::{DisplayRatio, PixelAspect, Raster, Rotation, Shift, Squeeze, Step, Zoom};
use serde::Serialize;
use serde::ser::{SerializeMap, Serializer};
use utoipa::ToSchema;
use utoipa::openapi::schema::{OneOfBuilder, Schema};

use super::values::{Guides, PicturesOnSphere, SafeAreas};
use crate::describe::{Given, Json, List, Record, Refused, Schemas, collect_tagged, record, reference};
use crate::number::{AxesResult, ExactNumber};
use crate::read::{Field, Object};
use crate::values::{Code, SpokenRate};
use crate::whole::{StoredPixels, Whole};

/// The most records that one edit may name or add.
const MOST: usize = 100_000;

type Many<T> = List<T, 0, MOST>;
type Inset = Given<Whole<0, { u32::MAX }, StoredPixels>>;

/// Insets of which some are set.
#[derive(Clone, Debug)]
struct SomeInsets([Option<u32>; 4]);

record!(
    /// Stored pixels to leave off at each side; a side that is left out stays.
    "InsetsSet", "insets" for SomeInsets {
        /// Off the left.
        left: Inset = Optional, |insets| Given(insets.0[0].map(Whole::new));
        /// Off the top.
        top: Inset = Optional, |insets| Given(insets.0[1].map(Whole::new));
        /// Off the right.
        right: Inset = Optional, |insets| Given(insets.0[2].map(Whole::new));
        /// Off the bottom.
        bottom: Inset = Optional, |insets| Given(insets.0[3].map(Whole::new));
    }
    |left, top, right, bottom| Ok(SomeInsets([left, top, right, bottom].map(|side| side.0.map(|side| side.get()))))
);

record!(
    /// Values to set in sources; what is left out stays.
    "SourceSet", "sets of values" for SourcePatch {
        /// What they are called.
        name: Given<Name> = Optional, |set| Given(set.name.clone());
        /// Free words.
        note: Given<Note> = Optional, |set| Given(set.note.clone());
        /// Stored pixels across and down.
        raster: Given<Raster<Stored>> = Optional, |set| Given(set.raster);
        /// Width of one stored pixel over its height.
        pixel_aspect: Given<Written<PixelAspect>> = Optional, |set| Given(set.pixel_aspect.clone());
        /// How many times the lens narrowed the picture.
        squeeze: Given<Written<Squeeze>> = Optional, |set| Given(set.squeeze.clone());
        /// Stored pixels that are no picture; a side that is left out stays.
        active: Given<SomeInsets> = Optional,
            |set| Given(set.insets.iter().any(Option::is_some).then_some(SomeInsets(set.insets)));
        /// Degrees clockwise to stand upright.
        rotation: Given<Rotation> = Optional, |set| Given(set.rotation);
        /// Frames a second; null when not known.
        rate: Given<Option<SpokenRate>> = Optional, |set| Given(set.rate.clone().map(|rate| rate.map(SpokenRate)));
        /// Progressive or interlaced; null when nothing says so.
        scan: Given<Option<Scan>> = Optional, |set| Given(set.scan);
        /// Which code values they use; null when nothing says so.
        signal_range: Given<Option<SignalRange>> = Optional, |set| Given(set.signal_range);
        /// At which speed they run.
        playback: Given<Intent> = Optional, |set| Given(set.playback);
        /// A flat picture, or a sphere.
        projection: Given<Projection> = Optional, |set| Given(set.projection);
        /// How the sphere lies in its frame.
        sphere: Given<SphereForm> = Optional, |set| Given(set.sphere.clone());
        /// How the sphere is turned.
        turn: Given<Orientation> = Optional, |set| Given(set.turn.clone());
        /// The pictures that stand on the sphere.
        on_sphere: Given<PicturesOnSphere> = Optional, |set| Given(set.on_sphere.clone().map(List));
        /// Where they look; null for no view.
        view: Given<Option<ViewSpec>> = Optional, |set| Given(set.view.clone());
        /// Whether it is known which way up they are stored; a rotation that is set settles it.
        upright_known: Given<bool> = Optional, |set| Given(set.upright_known);
        /// Whether their fields are made into whole pictures for progressive frames.
        deinterlace: Given<bool> = Optional, |set| Given(set.deinterlace);
        /// What is done for frames of another signal range.
        range_plan: Given<RangePlan> = Optional, |set| Given(set.range_plan);
        /// What is shown between their frames where a frame has another rate.
        rate_plan: Given<RatePlan> = Optional, |set| Given(set.rate_plan);
        /// The subject; null for none.
        subject: Given<Option<SubjectSpec>> = Optional, |set| Given(set.subject.clone());
        /// A method of their own; null to follow the frames.
        method: Given<Option<Placing>> = Optional, |set| Given(set.method);
        /// The picture that they show; null for a drawing.
        still: Given<Option<StillSpec>> = Optional, |set| Given(set.still.clone());
    }
    |name, note, raster, pixel_aspect, squeeze, active, rotation, rate, scan, signal_range, playback, projection,
     sphere, turn, on_sphere, view, upright_known, deinterlace, range_plan, rate_plan, subject, method, still| {
        Ok(SourcePatch {
            name: name.0,
            note: note.0,
            raster: raster.0,
            pixel_aspect: pixel_aspect.0,
            squeeze: squeeze.0,
            insets: active.0.map_or([None; 4], |insets| insets.0),
            rotation: rotation.0,
            rate: rate.0.map(|rate| rate.map(|rate| rate.0)),
            scan: scan.0,
            signal_range: signal_range.0,
            playback: playback.0,
            projection: projection.0,
            sphere: sphere.0,
            turn: turn.0,
            on_sphere: on_sphere.0.map(|pictures| pictures.0),
            view: view.0,
            upright_known: upright_known.0,
            deinterlace: deinterlace.0,
            range_plan: range_plan.0,
            rate_plan: rate_plan.0,
            subject: subject.0,
            method: method.0,
            still: still.0,
        })
    }
);

record!(
    /// Values to set in frames; what is left out stays.
    "FrameSet", "sets of values" for FramePatch {
        /// What they are called.
        name: Given<Name> = Optional, |set| Given(set.name.clone());
        /// Free words.
        note: Given<Note> = Optional, |set| Given(set.note.clone());
        /// Delivery pixels across and down.
        raster: Given<Raster<Delivery>> = Optional, |set| Given(set.raster);
        /// Width of one delivery pixel over its height.
        pixel_aspect: Given<Written<PixelAspect>> = Optional, |set| Given(set.pixel_aspect.clone());
        /// Ratio of the picture inside the raster; null when it fills it.
        picture_ratio: Given<Option<Written<DisplayRatio>>> = Optional, |set| Given(set.picture_ratio.clone());
        /// The grid for sides and bars, in pixels.
        step: Given<Step> = Optional, |set| Given(set.step);
        /// Frames a second; null when not settled.
        rate: Given<Option<SpokenRate>> = Optional, |set| Given(set.rate.clone().map(|rate| rate.map(SpokenRate)));
        /// Progressive or interlaced.
        scan: Given<Scan> = Optional, |set| Given(set.scan);
        /// Which code values they use.
        signal_range: Given<SignalRange> = Optional, |set| Given(set.signal_range);
        /// A flat picture, or a sphere.
        projection: Given<Projection> = Optional, |set| Given(set.projection);
        /// How the sphere lies in them.
        sphere: Given<SphereForm> = Optional, |set| Given(set.sphere.clone());
        /// The rules for their safe areas.
        safe_areas: Given<SafeAreas> = Optional, |set| Given(set.safe_areas.clone().map(List));
        /// Ratios whose outline is drawn.
        guides: Given<Guides> = Optional, |set| Given(set.guides.clone().map(List));
        /// The frame through which pictures reach them; null when they come straight from the source.
        through: Given<Option<FrameId>> = Optional, |set| Given(set.through);
        /// A method of their own; null to follow the board.
        method: Given<Option<Placing>> = Optional, |set| Given(set.method);
        /// How their files are made; null for nothing of it.
        file: Given<Option<FileSpec>> = Optional, |set| Given(set.file.clone());
    }
    |name, note, raster, pixel_aspect, picture_ratio, step, rate, scan, signal_range, projection, sphere, safe_areas, guides,
     through, method, file| {
        Ok(FramePatch {
            name: name.0,
            note: note.0,
            raster: raster.0,
            pixel_aspect: pixel_aspect.0,
            picture_ratio: picture_ratio.0,
            step: step.0,
            rate: rate.0.map(|rate| rate.map(|rate| rate.0)),
            scan: scan.0,
            signal_range: signal_range.0,
            projection: projection.0,
            sphere: sphere.0,
            safe_areas: safe_areas.0.map(|rules| rules.0),
            guides: guides.0.map(|guides| guides.0),
            through: through.0,
            method: method.0,
            file: file.0,
        })
    }
);

record!(
    /// Parts of a framing to set; what is left out stays.
    "FramingSet", "sets of parts" for FramingPatch {
        /// The rule that sets the size.
        method: Given<Placing> = Optional, |set| Given(set.method);
        /// Enlargement on top of it.
        zoom: Given<Written<Zoom>> = Optional, |set| Given(set.zoom.clone());
        /// Delivery pixels right and down.
        shift: Given<[Written<Shift>; 2]> = Optional, |set| Given(set.shift.clone());
    }
    |method, zoom, shift| Ok(FramingPatch { method: method.0, zoom: zoom.0, shift: shift.0 })
);

/// A conversion with a framing of its own.
#[derive(Clone, Debug)]
struct ConversionFraming {
    conversion: Pair,
    own: FramingSpec,
}

record!(
    /// A conversion with a framing of its own.
    "ConversionFraming", "framings" for ConversionFraming {
        /// The source's and the frame's number.
        conversion: Pair = Required, |framing| framing.conversion;
        /// Its framing.
        own: FramingSpec = Required, |framing| framing.own.clone();
    }
    |conversion, own| Ok(ConversionFraming { conversion, own })
);

impl From<(Pair, FramingSpec)> for ConversionFraming {
    fn from((conversion, own): (Pair, FramingSpec)) -> Self {
        Self { conversion, own }
    }
}

impl From<ConversionFraming> for (Pair, FramingSpec) {
    fn from(framing: ConversionFraming) -> Self {
        (framing.conversion, framing.own)
    }
}

/// A part of a stored raster, in stored pixels.
#[derive(Clone, Debug)]
struct StoredPart([Entered; 4]);

record!(
    /// A part of a stored raster, in stored pixels, before it is turned.
    "StoredPart", "parts" for StoredPart {
        /// Of its left edge, from the left of the raster.
        x: Entered = Required, |part| part.0[0].clone();
        /// Of its upper edge, from the top of the raster.
        y: Entered = Required, |part| part.0[1].clone();
        /// How wide it is.
        width: Entered = Required, |part| part.0[2].clone();
        /// How high it is.
        height: Entered = Required, |part| part.0[3].clone();
    }
    |x, y, width, height| Ok(StoredPart([x, y, width, height]))
);

record!(
    /// A framing that comes with its source and its frame: as a framing, or by the part that the frame shows.
    "BroughtFraming", "framings" for BroughtFraming {
        /// The place of the source among those that come with it, from 0.
        source: Whole<0, MOST_PLACES> = Required, |framing| place(framing.source);
        /// The place of the frame among those that come with it, from 0.
        frame: Whole<0, MOST_PLACES> = Required, |framing| place(framing.frame);
        /// Its framing.
        own: Option<FramingSpec> = Default("null"), |framing| match &framing.framed {
            Framed::Own(own) => Some(own.clone()),
            Framed::Part(_) => None,
        };
        /// The part of the stored raster that the frame shows.
        part: Option<StoredPart> = Default("null"), |framing| match &framing.framed {
            Framed::Own(_) => None,
            Framed::Part(part) => {
                let sides = [&part.x, &part.y, &part.size.width, &part.size.height];
                Some(StoredPart(sides.map(|side| Entered::new(writable(side)).expect("a side within the bounds"))))
            }
        };
    }
    |source, frame, own, part| {
        let framed = match (own, part) {
            (Some(own), None) => Framed::Own(own),
            (None, Some(StoredPart(sides))) => {
                let [x, y, width, height] = sides.map(|side| side.value().clone());
                Framed::Part(Rect::new(x, y, Size::new(width, height)))
            }
            _ => return Err(Refused::Accepted("either own or part")),
        };
        Ok(BroughtFraming { source: source.get() as usize, frame: frame.get() as usize, framed })
    }
);

/// The last place that a framing may name.
const MOST_PLACES: u32 = 99_999;

fn place(of: usize) -> Whole<0, MOST_PLACES> {
    Whole::new(u32::try_from(of).unwrap_or(MOST_PLACES))
}

/// Describes the edits: their words, their fields, and how these make an [`Edit`].
macro_rules! edits {
    ($(
        $(#[doc = $doc:literal])*
        $word:literal, $schema:literal, $name:ident {
            $($(#[doc = $field_doc:literal])* $field:ident: $type:ty = $presence:ident $(($default:literal))?;)*
        }
        $pattern:pat => $fields:expr; $make:expr;
    )*) => {
        $(
            #[derive(Clone, Debug)]
            struct $name { $($field: $type,)* }

            record!(
                $(#[doc = $doc])*
                $schema, "edits" for $name {
                    $($(#[doc = $field_doc])* $field: $type = $presence $(($default))?, |edit| edit.$field.clone();)*
                }
                |$($field),*| Ok($name { $($field),* })
            );

            impl $name {
                fn edit(self) -> Edit {
                    let make: fn(Self) -> Edit = $make;
                    make(self)
                }

                fn of(edit: &Edit) -> Option<Self> {
                    if let $pattern = edit {
                        let ($($field,)*) = $fields;
                        return Some(Self { $($field,)* });
                    }
                    None
                }
            }
        )*

        const EDITS: &[(&str, fn(&Object<'_>) -> Option<Edit>)] = &[
            $(($word, |object| Some($name::read_object(object)?.edit())),)*
        ];

        /// A change of many things at once, told apart by `edit`.
        impl Json for Edit {
            const NAME: Option<&'static str> = Some("EditRequest");

            fn read(field: &Field<'_>) -> Option<Self> {
                let object = field.object()?;
                let Some(word) = object.take("edit") else { return object.missing("edit") };
                word.word(EDITS)?(&object)
            }

            fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                let mut map = serializer.serialize_map(None)?;
                $(if let Some(edit) = $name::of(self) {
                    map.serialize_entry("edit", $word)?;
                    edit.write_fields(&mut map)?;
                })*
                map.end()
            }

            fn describe() -> Schema {
                OneOfBuilder::new()
                    .description(Some("A change of many things at once, told apart by edit."))
                    $(.item(reference::<$name>()))*
                    .into()
            }

            fn refers(schemas: &mut Schemas) {
                $(collect_tagged::<$name>(schemas, "edit", $word);)*
            }
        }
    };
}

edits! {
    /// The same values for many sources.
    "set_sources", "SetSources", SetSources {
        /// The sources' numbers.
        sources: Many<SourceId> = Required;
        /// What is set; what is left out stays.
        set: SourcePatch = Required;
    }
    Edit::SetSources { ids, patch } => (List(ids.clone()), (**patch).clone());
    |edit| Edit::SetSources { ids: edit.sources.0, patch: Box::new(edit.set) };

    /// The same values for many frames.
    "set_frames", "SetFrames", SetFrames {
        /// The frames' numbers.
        frames: Many<FrameId> = Required;
        /// What is set; what is left out stays.
        set: FramePatch = Required;
    }
    Edit::SetFrames { ids, patch } => (List(ids.clone()), (**patch).clone());
    |edit| Edit::SetFrames { ids: edit.frames.0, patch: Box::new(edit.set) };

    /// The same framing for many conversions.
    "set_conversions", "SetConversions", SetConversions {
        /// Pairs of the source's and the frame's number.
        conversions: Many<Pair> = Required;
        /// A framing of their own; null to follow.
        own: Option<FramingSpec> = Required;
    }
    Edit::SetConversions { pairs, own } => (List(pairs.clone()), own.clone());
    |edit| Edit::SetConversions { pairs: edit.conversions.0, own: edit.own };

    /// How the samples of many conversions are worked out.
    "set_resampling", "SetResampling", SetResampling {
        /// Pairs of the source's and the frame's number.
        conversions: Many<Pair> = Required;
        /// What is taken; null to leave it undecided.
        taken: Option<Resampling> = Required;
    }
    Edit::SetResampling { pairs, taken } => (List(pairs.clone()), taken.clone());
    |edit| Edit::SetResampling { pairs: edit.conversions.0, taken: edit.taken };

    /// A framing of its own for each of some conversions.
    "set_framings", "SetFramings", SetFramings {
        /// The conversions, each with its framing.
        framings: Many<ConversionFraming> = Required;
    }
    Edit::SetFramings(each) => (List(each.iter().cloned().map(ConversionFraming::from).collect()),);
    |edit| Edit::SetFramings(edit.framings.0.into_iter().map(Into::into).collect());

    /// Other values of the project itself.
    "set_project", "SetProject", SetProject {
        /// All its values.
        values: ProjectSettings = Required;
    }
    Edit::SetProject(settings) => (settings.clone(),);
    |edit| Edit::SetProject(edit.values);

    /// A finding accepted wherever some conversions have it, or opened again.
    "judge_finding", "JudgeFinding", JudgeFinding {
        /// Pairs of the source's and the frame's number.
        conversions: Many<Pair> = Required;
        /// The finding's code.
        code: Code = Required;
        /// Why it may stay; null opens it again.
        reason: Option<Name> = Default("null");
    }
    Edit::JudgeFinding { pairs, code, reason } => (List(pairs.clone()), Code(code), reason.clone());
    |edit| Edit::JudgeFinding { pairs: edit.conversions.0, code: edit.code.0, reason: edit.reason };

    /// Parts of a framing for many conversions; each keeps its other parts as one of its own.
    "set_framing_parts", "SetFramingParts", SetFramingParts {
        /// Pairs of the source's and the frame's number.
        conversions: Many<Pair> = Required;
        /// What is set; what is left out stays.
        set: FramingPatch = Required;
    }
    Edit::SetFramingParts { pairs, patch } => (List(pairs.clone()), patch.clone());
    |edit| Edit::SetFramingParts { pairs: edit.conversions.0, patch: edit.set };

    /// The insets of an active picture, for the sources that it is for.
    "apply_active_picture", "ApplyActivePicture", ApplyActivePicture {
        /// The sources' numbers.
        sources: Many<SourceId> = Required;
        /// The active picture.
        picture: HouseActivePicture = Required;
    }
    Edit::ApplyActivePicture { ids, picture } => (List(ids.clone()), (**picture).clone());
    |edit| Edit::ApplyActivePicture { ids: edit.sources.0, picture: Box::new(edit.picture) };

    /// New sources.
    "add_sources", "AddSources", AddSources {
        /// Their values.
        values: Many<Footage> = Required;
    }
    Edit::AddSources(values) => (List(values.clone()),);
    |edit| Edit::AddSources(edit.values.0);

    /// New frames.
    "add_frames", "AddFrames", AddFrames {
        /// Their values.
        values: Many<Deliverable> = Required;
    }
    Edit::AddFrames(values) => (List(values.clone()),);
    |edit| Edit::AddFrames(edit.values.0);

    /// Sources, frames, and framings between them that come from elsewhere, as one step. What is there already by its
    /// name, and for a frame its raster, is not added again: the framings go to it.
    "import", "ImportEdit", ImportEdit {
        /// The sources.
        sources: Many<Footage> = Default("[]");
        /// The frames.
        frames: Many<Deliverable> = Default("[]");
        /// The framings, each kept as the imported one as well.
        framings: Many<BroughtFraming> = Default("[]");
        /// Whether sources that are there take what they say now, but for what was typed over.
        update: bool = Default("false");
    }
    Edit::Bring { sources, frames, framings, update } => (
        List(sources.clone()),
        List(frames.clone()),
        List(framings.clone()),
        *update
    );
    |edit| Edit::Bring {
        sources: edit.sources.0,
        frames: edit.frames.0,
        framings: edit.framings.0,
        update: edit.update,
    };

    /// A copy of each of these frames with its sides exchanged, under a name made of its numbers.
    "turn_frames", "TurnFrames", TurnFrames {
        /// The frames' numbers.
        frames: Many<FrameId> = Required;
    }
    Edit::TurnFrames(ids) => (List(ids.clone()),);
    |edit| Edit::TurnFrames(edit.frames.0);

    /// Fewer sources and frames.
    "delete", "DeleteRecords", DeleteRecords {
        /// The sources' numbers.
        sources: Many<SourceId> = Default("[]");
        /// The frames' numbers.
        frames: Many<FrameId> = Default("[]");
    }
    Edit::Delete { sources, frames } => (List(sources.clone()), List(frames.clone()));
    |edit| Edit::Delete { sources: edit.sources.0, frames: edit.frames.0 };
}

/// Where in the request of an edit the reason of a refusal stands.
pub fn refused_at(edit: &Edit, error: &EditError) -> String {
    let EditError::Refused { place, why, .. } = error else { return String::new() };
    let name = why.parameter().map(crate::read::name_of);
    let of = |parent: String| name.map_or_else(|| parent.clone(), |name| format!("{parent}/{name}"));
    match edit {
        Edit::SetSources { .. } | Edit::SetFrames { .. } => of("/set".to_owned()),
        Edit::AddSources(_) | Edit::AddFrames(_) => of(format!("/values/{place}")),
        Edit::TurnFrames(_) => format!("/frames/{place}"),
        Edit::ApplyActivePicture { .. } => format!("/sources/{place}"),
        _ => of(String::new()),
    }
}

/// What an edit has done, or would do.
#[derive(Debug, Serialize, ToSchema)]
pub struct EditResult {
    /// The step in the history; null when nothing changed, or in a preview.
    pub step: Option<i32>,
    /// What was done, in words.
    #[schema(example = "Squeeze 2 on 14 sources")]
    pub label: String,
    /// How many records changed.
    pub changed: usize,
    /// How many of those named stayed as they were, because they already had these values.
    pub unchanged: usize,
    /// How many of those named the edit is not for, such as sources of another raster.
    pub skipped: usize,
    /// How many framings are left out: they come for another size than that at which their source is stored.
    pub left_out: usize,
    /// The numbers of new sources.
    pub sources: Vec<i32>,
    /// The numbers of new frames.
    pub frames: Vec<i32>,
    /// What becomes of framings of their own when frames or sources change their size under them.
    pub framings: FollowResult,
}

/// How framings went along with a change of size.
#[derive(Debug, Default, Serialize, ToSchema)]
pub struct FollowResult {
    /// How many did: they show what they showed, in proportion.
    pub follow: usize,
    /// How many of them keep less of the picture, or cover less of the area, than before.
    pub lose: usize,
    /// Those that lose something or could not follow exactly, at most 50 of them.
    pub limited: Vec<LimitedFraming>,
}

/// A framing that could not follow exactly, or loses something.
#[derive(Debug, Serialize, ToSchema)]
pub struct LimitedFraming {
    /// The source's number.
    pub source: i32,
    /// The frame's number.
    pub frame: i32,
    /// Delivery pixels by which it fell short on each axis, because the picture ends there.
    pub short: AxesResult,
    /// The part of the picture that was kept, and is kept now.
    pub kept: [ExactNumber; 2],
    /// The part of the area that was covered, and is covered now.
    pub covered: [ExactNumber; 2],
}

impl FollowResult {
    /// The most that are listed.
    const MOST: usize = 50;
}

impl From<Vec<Followed>> for FollowResult {
    fn from(all: Vec<Followed>) -> Self {
        let limited = |each: &Followed| !each.is_exact() || each.loses();
        Self {
            follow: all.len(),
            lose: all.iter().filter(|each| each.loses()).count(),
            limited: all.into_iter().filter(limited).take(Self::MOST).map(LimitedFraming::from).collect(),
        }
    }
}

impl From<Followed> for LimitedFraming {
    fn from(Followed { pair, short, kept, covered }: Followed) -> Self {
        Self {
            source: pair.source.number(),
            frame: pair.frame.number(),
            short: short.into(),
            kept: kept.map(ExactNumber),
            covered: covered.map(ExactNumber),
        }
    }
}
