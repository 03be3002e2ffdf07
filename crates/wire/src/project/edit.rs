//! Changes of many things at once, which are undone as one.

use ratiomet_core::project::{Edit, FramePatch, FramingPatch, HouseActivePicture, Pair, SourcePatch};
use ratiomet_core::space::{Delivery, Stored};
use ratiomet_core::{DisplayRatio, PixelAspect, Rotation, Squeeze, Step, Zoom};
use serde::Serialize;
use utoipa::ToSchema;

use super::history::number;
use super::library::{ActivePictureValues, read_active_picture};
use super::values::{
    FrameValues, FramingChoice, PlacingName, PlaybackName, ScanName, SignalRangeName, SourceValues, read_code,
    read_frame_values, read_framing_choice, read_guides, read_name, read_note, read_placing, read_playback, read_rate,
    read_safe_areas, read_scan, read_signal_range, read_source_values, read_subject, read_through,
};
use crate::calc::SubjectBox;
use crate::geometry::{ActiveInsets, read_shift};
use crate::number::FractionText;
use crate::read::{Field, Object};

/// The most records that one edit may name or add.
const MOST: usize = 100_000;

/// A change of many things at once, told apart by `edit`.
#[derive(Debug, Serialize, ToSchema)]
#[serde(tag = "edit", rename_all = "snake_case")]
pub enum EditRequest {
    /// The same values for many sources.
    SetSources {
        /// The sources' numbers.
        sources: Vec<i32>,
        /// What is set; what is left out stays.
        set: Box<SourceSet>,
    },
    /// The same values for many frames.
    SetFrames {
        /// The frames' numbers.
        frames: Vec<i32>,
        /// What is set; what is left out stays.
        set: Box<FrameSet>,
    },
    /// The same framing for many conversions.
    SetConversions {
        /// Pairs of the source's and the frame's number.
        conversions: Vec<[i32; 2]>,
        /// A framing of their own; null to follow.
        own: Option<FramingChoice>,
    },
    /// A finding accepted wherever some conversions have it, or opened again.
    JudgeFinding {
        /// Pairs of the source's and the frame's number.
        conversions: Vec<[i32; 2]>,
        /// The finding's code.
        #[schema(example = "enlarged")]
        code: String,
        /// Why it may stay: 1 to 120 characters; null opens it again.
        reason: Option<String>,
    },
    /// Parts of a framing for many conversions; each keeps its other parts as one of its own.
    SetFramingParts {
        /// Pairs of the source's and the frame's number.
        conversions: Vec<[i32; 2]>,
        /// What is set; what is left out stays.
        set: FramingSet,
    },
    /// The insets of an active picture, for the sources that it is for.
    ApplyActivePicture {
        /// The sources' numbers.
        sources: Vec<i32>,
        /// The active picture.
        picture: Box<ActivePictureValues>,
    },
    /// New sources.
    AddSources {
        /// Their values.
        values: Vec<SourceValues>,
    },
    /// New frames.
    AddFrames {
        /// Their values.
        values: Vec<FrameValues>,
    },
    /// A copy of each of these frames with its sides exchanged, under a name made of its numbers.
    TurnFrames {
        /// The frames' numbers.
        frames: Vec<i32>,
    },
    /// Fewer sources and frames.
    Delete {
        /// The sources' numbers.
        #[schema(default = json!([]), required = false)]
        sources: Vec<i32>,
        /// The frames' numbers.
        #[schema(default = json!([]), required = false)]
        frames: Vec<i32>,
    },
}

/// Values to set in sources; what is left out stays.
#[derive(Debug, Default, Serialize, ToSchema)]
pub struct SourceSet {
    /// What they are called.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub name: Option<String>,
    /// Free words.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub note: Option<String>,
    /// Stored pixels across and down.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub raster: Option<[u32; 2]>,
    /// Width of one stored pixel over its height.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub pixel_aspect: Option<FractionText>,
    /// How many times the lens narrowed the picture.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub squeeze: Option<FractionText>,
    /// Stored pixels that are no picture; a side that is left out stays.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub active: Option<ActiveInsets>,
    /// Degrees clockwise to stand upright.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub rotation: Option<u32>,
    /// Frames a second; null when not known.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub rate: Option<FractionText>,
    /// Progressive or interlaced.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub scan: Option<ScanName>,
    /// Which code values they use.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub signal_range: Option<SignalRangeName>,
    /// At which speed they run.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub playback: Option<PlaybackName>,
    /// The subject; null for none.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub subject: Option<SubjectBox>,
    /// A method of their own; null to follow the frames.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub method: Option<PlacingName>,
}

/// Values to set in frames; what is left out stays.
#[derive(Debug, Default, Serialize, ToSchema)]
pub struct FrameSet {
    /// What they are called.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub name: Option<String>,
    /// Free words.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub note: Option<String>,
    /// Delivery pixels across and down.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub raster: Option<[u32; 2]>,
    /// Width of one delivery pixel over its height.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub pixel_aspect: Option<FractionText>,
    /// Ratio of the picture inside the raster; null when it fills it.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false, value_type = Option<FractionText>)]
    pub picture_ratio: Option<Option<FractionText>>,
    /// The grid for sides and bars, in pixels.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub step: Option<u32>,
    /// Frames a second; null when not settled.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub rate: Option<FractionText>,
    /// Progressive or interlaced.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub scan: Option<ScanName>,
    /// Which code values they use.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub signal_range: Option<SignalRangeName>,
    /// The rules for their safe areas.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub safe_areas: Option<Vec<String>>,
    /// Ratios whose outline is drawn.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub guides: Option<Vec<FractionText>>,
    /// The frame through which pictures reach them; null when they come straight from the source.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false, value_type = Option<i32>)]
    pub through: Option<Option<i32>>,
    /// A method of their own; null to follow the board.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub method: Option<PlacingName>,
}

/// Parts of a framing to set; what is left out stays.
#[derive(Debug, Default, Serialize, ToSchema)]
pub struct FramingSet {
    /// The rule that sets the size.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub method: Option<PlacingName>,
    /// Enlargement on top of it.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub zoom: Option<FractionText>,
    /// Delivery pixels right and down.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub shift: Option<[FractionText; 2]>,
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
    /// The numbers of new sources.
    pub sources: Vec<i32>,
    /// The numbers of new frames.
    pub frames: Vec<i32>,
}

type ReadEdit = fn(&Object<'_>) -> Option<Edit>;

const EDITS: [(&str, ReadEdit); 10] = [
    ("set_sources", |object| {
        let ids = object.required("sources", |field| numbers(field, "source"));
        let patch = object.required("set", read_source_set);
        object.done()?;
        Some(Edit::SetSources { ids: ids?, patch: Box::new(patch?) })
    }),
    ("set_frames", |object| {
        let ids = object.required("frames", |field| numbers(field, "frame"));
        let patch = object.required("set", read_frame_set);
        object.done()?;
        Some(Edit::SetFrames { ids: ids?, patch: Box::new(patch?) })
    }),
    ("set_conversions", |object| {
        let pairs = object.required("conversions", pairs);
        let own = match object.take("own") {
            Some(field) if !field.is_null() => read_framing_choice(&field).map(Some),
            Some(_) => Some(None),
            None => object.as_field().refuse("a field own: a framing, or null to follow"),
        };
        object.done()?;
        Some(Edit::SetConversions { pairs: pairs?, own: own? })
    }),
    ("judge_finding", |object| {
        let pairs = object.required("conversions", pairs);
        let code = object.required("code", read_code);
        let reason = object.nullable("reason", read_name);
        object.done()?;
        Some(Edit::JudgeFinding { pairs: pairs?, code: code?, reason: reason? })
    }),
    ("set_framing_parts", |object| {
        let pairs = object.required("conversions", pairs);
        let patch = object.required("set", read_framing_set);
        object.done()?;
        Some(Edit::SetFramingParts { pairs: pairs?, patch: patch? })
    }),
    ("apply_active_picture", |object| {
        let ids = object.required("sources", |field| numbers(field, "source"));
        let picture: Option<HouseActivePicture> = object.required("picture", read_active_picture);
        object.done()?;
        Some(Edit::ApplyActivePicture { ids: ids?, picture: Box::new(picture?) })
    }),
    ("add_sources", |object| {
        let values = object.required("values", |field| many(field, "values of sources", read_source_values));
        object.done()?;
        Some(Edit::AddSources(values?))
    }),
    ("add_frames", |object| {
        let values = object.required("values", |field| many(field, "values of frames", read_frame_values));
        object.done()?;
        Some(Edit::AddFrames(values?))
    }),
    ("turn_frames", |object| {
        let ids = object.required("frames", |field| numbers(field, "frame"));
        object.done()?;
        Some(Edit::TurnFrames(ids?))
    }),
    ("delete", |object| {
        let sources = object.optional("sources", Vec::new, |field| numbers(field, "source"));
        let frames = object.optional("frames", Vec::new, |field| numbers(field, "frame"));
        object.done()?;
        Some(Edit::Delete { sources: sources?, frames: frames? })
    }),
];

/// Reads an edit.
pub fn read_edit(field: &Field<'_>) -> Option<Edit> {
    let object = field.object()?;
    let read = object.required("edit", |field| field.word(&EDITS))?;
    read(&object)
}

/// Everything that `read` makes of the members of an array; all that is wrong is noted.
pub(super) fn many<'r, T>(field: &Field<'r>, what: &str, read: impl Fn(&Field<'r>) -> Option<T>) -> Option<Vec<T>> {
    let accepted = format!("an array of {what}, at most {MOST}");
    let items = field.array(&accepted)?;
    if items.len() > MOST {
        return field.refuse(accepted);
    }
    let read: Vec<Option<T>> = items.iter().map(read).collect();
    read.into_iter().collect()
}

fn numbers(field: &Field<'_>, what: &str) -> Option<Vec<i32>> {
    let accepted = format!("the number of a {what}");
    many(field, &format!("numbers of {what}s"), |field| number(field, &accepted))
}

fn pairs(field: &Field<'_>) -> Option<Vec<Pair>> {
    let accepted = "a pair of numbers, [source, frame]";
    many(field, "pairs of numbers, [source, frame]", |field| match field.array(accepted)?.as_slice() {
        [source, frame] => Some(Pair { source: number(source, accepted)?, frame: number(frame, accepted)? }),
        _ => field.refuse(accepted),
    })
}

/// What `read` makes of a field, if it is given.
fn given<'r, T>(
    object: &Object<'r>,
    name: &'static str,
    read: impl FnOnce(&Field<'r>) -> Option<T>,
) -> Option<Option<T>> {
    object.optional(name, || None, |field| read(field).map(Some))
}

/// What `read` makes of a field that may be `null`, if it is given.
fn given_or_null<'r, T>(
    object: &Object<'r>,
    name: &'static str,
    read: impl FnOnce(&Field<'r>) -> Option<T>,
) -> Option<Option<Option<T>>> {
    given(object, name, |field| if field.is_null() { Some(None) } else { read(field).map(Some) })
}

fn read_source_set(field: &Field<'_>) -> Option<SourcePatch> {
    let object = field.object()?;
    let name = given(&object, "name", read_name);
    let note = given(&object, "note", read_note);
    let raster = given(&object, "raster", Field::raster::<Stored>);
    let pixel_aspect = given(&object, "pixel_aspect", |field| field.fraction(PixelAspect::parse));
    let squeeze = given(&object, "squeeze", |field| field.fraction(Squeeze::parse));
    let insets = object.optional("active", || [None; 4], read_some_insets);
    let rotation = given(&object, "rotation", |field| {
        field.settle(Rotation::new(field.whole("a clockwise turn of 0, 90, 180 or 270 degrees")?))
    });
    let rate = given_or_null(&object, "rate", read_rate);
    let scan = given(&object, "scan", read_scan);
    let signal_range = given(&object, "signal_range", read_signal_range);
    let playback = given(&object, "playback", read_playback);
    let subject = given_or_null(&object, "subject", read_subject);
    let method = given_or_null(&object, "method", read_placing);
    object.done()?;
    Some(SourcePatch {
        name: name?,
        note: note?,
        raster: raster?,
        pixel_aspect: pixel_aspect?,
        squeeze: squeeze?,
        insets: insets?,
        rotation: rotation?,
        rate: rate?,
        scan: scan?,
        signal_range: signal_range?,
        playback: playback?,
        subject: subject?,
        method: method?,
    })
}

fn read_some_insets(field: &Field<'_>) -> Option<[Option<u32>; 4]> {
    let object = field.object()?;
    let sides = ["left", "top", "right", "bottom"]
        .map(|side| given(&object, side, |field| field.whole("a whole number of stored pixels, 0 or more")));
    object.done()?;
    let [left, top, right, bottom] = sides;
    Some([left?, top?, right?, bottom?])
}

fn read_framing_set(field: &Field<'_>) -> Option<FramingPatch> {
    let object = field.object()?;
    let method = given(&object, "method", read_placing);
    let zoom = given(&object, "zoom", |field| field.fraction(Zoom::parse));
    let shift = given(&object, "shift", read_shift);
    object.done()?;
    Some(FramingPatch { method: method?, zoom: zoom?, shift: shift?.map(|(x, y)| [x, y]) })
}

fn read_frame_set(field: &Field<'_>) -> Option<FramePatch> {
    let object = field.object()?;
    let name = given(&object, "name", read_name);
    let note = given(&object, "note", read_note);
    let raster = given(&object, "raster", Field::raster::<Delivery>);
    let pixel_aspect = given(&object, "pixel_aspect", |field| field.fraction(PixelAspect::parse));
    let picture_ratio = given_or_null(&object, "picture_ratio", |field| field.fraction(DisplayRatio::parse));
    let step = given(&object, "step", |field| {
        field.settle(Step::new(field.whole("a step of 1, 2, 4, 8 or 16 pixels, as a whole number")?))
    });
    let rate = given_or_null(&object, "rate", read_rate);
    let scan = given(&object, "scan", read_scan);
    let signal_range = given(&object, "signal_range", read_signal_range);
    let safe_areas = given(&object, "safe_areas", read_safe_areas);
    let guides = given(&object, "guides", read_guides);
    let through = given_or_null(&object, "through", read_through);
    let method = given_or_null(&object, "method", read_placing);
    object.done()?;
    Some(FramePatch {
        name: name?,
        note: note?,
        raster: raster?,
        pixel_aspect: pixel_aspect?,
        picture_ratio: picture_ratio?,
        step: step?,
        rate: rate?,
        scan: scan?,
        signal_range: signal_range?,
        safe_areas: safe_areas?,
        guides: guides?,
        through: through?,
        method: method?,
    })
}
