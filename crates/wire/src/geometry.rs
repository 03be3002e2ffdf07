//! Sources, frames and framings as JSON, the same in single calculations and in projects.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Deliverable, FrameSpec, FramingSpec, SourceSpec};
use ratiomet_core::space::{Delivery, Stored};
use ratiomet_core::{
    DeliveryFrame, DisplayRatio, Exact, Framing, Insets, Method, PixelAspect, Raster, Rotation, Shift, Squeeze, Step,
    Zoom, active_picture,
};
use serde::Serialize;
use utoipa::ToSchema;

use crate::number::FractionText;
use crate::read::{Field, Object};

/// How footage is stored and what it shows.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SourceGeometry {
    /// Stored pixels across and down, each from 1 to 65,536.
    #[schema(example = json!([2880, 2160]), minimum = 1, maximum = 65536)]
    pub raster: [u32; 2],
    /// Width of one stored pixel over its height, from 1/10 to 10.
    #[schema(default = "1", required = false)]
    pub pixel_aspect: FractionText,
    /// How many times the lens narrowed the picture, from 1/10 to 10.
    #[schema(default = "1", required = false)]
    pub squeeze: FractionText,
    /// Stored pixels that are no picture; at least 2 must stay each way.
    #[schema(default = json!({"left": 0, "top": 0, "right": 0, "bottom": 0}), required = false)]
    pub active: ActiveInsets,
    /// Degrees clockwise to stand upright: 0, 90, 180 or 270.
    #[schema(default = 0, required = false)]
    pub rotation: u32,
}

/// Stored pixels to leave off at each side.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
pub struct ActiveInsets {
    /// Off the left.
    #[schema(default = 0, required = false)]
    pub left: u32,
    /// Off the top.
    #[schema(default = 0, required = false)]
    pub top: u32,
    /// Off the right.
    #[schema(default = 0, required = false)]
    pub right: u32,
    /// Off the bottom.
    #[schema(default = 0, required = false)]
    pub bottom: u32,
}

impl From<Insets> for ActiveInsets {
    fn from(insets: Insets) -> Self {
        let Insets { left, top, right, bottom } = insets;
        Self { left, top, right, bottom }
    }
}

impl From<&SourceSpec> for SourceGeometry {
    fn from(spec: &SourceSpec) -> Self {
        Self {
            raster: sides(spec.raster()),
            pixel_aspect: FractionText(spec.pixel_aspect().text().to_owned()),
            squeeze: FractionText(spec.squeeze().text().to_owned()),
            active: spec.insets().into(),
            rotation: spec.rotation().degrees(),
        }
    }
}

/// A frame to deliver.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DeliveryGeometry {
    /// Delivery pixels across and down, each from 1 to 65,536.
    #[schema(example = json!([1920, 1080]), minimum = 1, maximum = 65536)]
    pub raster: [u32; 2],
    /// Width of one delivery pixel over its height, from 1/10 to 10.
    #[schema(default = "1", required = false)]
    pub pixel_aspect: FractionText,
    /// Ratio of the picture inside the raster, from 1/100 to 100; null when it fills the raster.
    #[schema(required = false)]
    pub picture_ratio: Option<FractionText>,
    /// The grid for sides and bars, in pixels: 1, 2, 4, 8 or 16.
    #[schema(default = 2, required = false)]
    pub step: u32,
}

impl From<&FrameSpec> for DeliveryGeometry {
    fn from(spec: &FrameSpec) -> Self {
        Self {
            raster: sides(spec.frame().raster()),
            pixel_aspect: FractionText(spec.pixel_aspect().text().to_owned()),
            picture_ratio: spec.picture_ratio().map(|ratio| FractionText(ratio.text().to_owned())),
            step: spec.frame().step().pixels(),
        }
    }
}

/// The rule that sets the size of the picture.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum MethodName {
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
}

/// Where the picture is put in the frame.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FramingValues {
    /// The rule that sets the size.
    #[schema(default = "fit", required = false)]
    pub method: MethodName,
    /// Enlargement on top of the method, from 1/1000 to 1000.
    #[schema(default = "1", required = false)]
    pub zoom: FractionText,
    /// Delivery pixels right and down from the centre of the picture area, within 1,000,000 either way.
    #[schema(default = json!(["0", "0"]), required = false)]
    pub shift: [FractionText; 2],
}

fn sides<S>(raster: Raster<S>) -> [u32; 2] {
    [raster.width(), raster.height()]
}

/// Reads a source.
pub fn read_source(field: &Field<'_>) -> Option<SourceSpec> {
    let object = field.object()?;
    let raster = object.required("raster", Field::raster::<Stored>);
    let pixel_aspect = object.fraction("pixel_aspect", "1", PixelAspect::parse);
    let squeeze = object.fraction("squeeze", "1", Squeeze::parse);
    let insets = object.optional("active", Insets::default, read_insets);
    let rotation = object.optional("rotation", Rotation::default, |field| {
        let accepted = "a clockwise turn of 0, 90, 180 or 270 degrees, as a whole number";
        field.settle(Rotation::new(field.whole(accepted)?))
    });
    object.done()?;
    field.settle(SourceSpec::new(raster?, pixel_aspect?, squeeze?, insets?, rotation?))
}

pub(crate) fn read_insets(field: &Field<'_>) -> Option<Insets> {
    let object = field.object()?;
    let side = |name| object.optional(name, || 0, |field| field.whole("a whole number of stored pixels, 0 or more"));
    let insets = (side("left"), side("top"), side("right"), side("bottom"));
    object.done()?;
    Some(Insets { left: insets.0?, top: insets.1?, right: insets.2?, bottom: insets.3? })
}

/// Reads a delivery frame.
pub fn read_delivery(field: &Field<'_>) -> Option<FrameSpec> {
    let object = field.object()?;
    let raster = object.required("raster", Field::raster::<Delivery>);
    let pixel_aspect = object.fraction("pixel_aspect", "1", PixelAspect::parse);
    let picture_ratio = object.nullable("picture_ratio", |field| field.fraction(DisplayRatio::parse));
    let step = read_step(&object);
    object.done()?;
    field.settle(FrameSpec::new(raster?, pixel_aspect?, picture_ratio?, step?))
}

pub(crate) fn read_step(object: &Object<'_>) -> Option<Step> {
    object.optional("step", Step::default, |field| {
        field.settle(Step::new(field.whole("a step of 1, 2, 4, 8 or 16 pixels, as a whole number")?))
    })
}

pub(crate) fn read_method(field: &Field<'_>) -> Option<Method> {
    field.word(&Method::ALL.map(|method| (method.word(), method)))
}

/// Reads a framing.
pub fn read_framing(field: &Field<'_>) -> Option<FramingSpec> {
    let object = field.object()?;
    let method = object.optional("method", Method::default, read_method);
    let zoom = object.fraction("zoom", "1", Zoom::parse);
    let shift = object.optional("shift", || (unmoved(), unmoved()), read_shift);
    object.done()?;
    let (shift_x, shift_y) = shift?;
    Some(FramingSpec { method: method?.into(), zoom: zoom?, shift_x, shift_y })
}

/// A frame with the framing of a picture in it.
#[derive(Debug, Serialize, ToSchema)]
pub struct PlacedFrame {
    /// The frame.
    pub delivery: DeliveryGeometry,
    /// Where the picture is put; fit and centred when left out.
    #[schema(required = false)]
    pub framing: FramingValues,
}

fn read_placed_frame(field: &Field<'_>) -> Option<(DeliveryFrame, Framing)> {
    let object = field.object()?;
    let delivery = object.required("delivery", read_delivery);
    let framing = object.optional("framing", || FramingSpec::of(Method::default()), read_framing);
    object.done()?;
    Some((delivery?.frame().clone(), framing?.framing()))
}

/// The frames of an array, and the fields in which they stand.
pub(crate) type PlacedFrames<'r> = (Vec<Field<'r>>, Vec<(DeliveryFrame, Framing)>);

/// Reads from 1 to so many frames, each with its framing.
pub(crate) fn read_placed_frames<'r>(field: &Field<'r>, most: usize, what: &str) -> Option<PlacedFrames<'r>> {
    let accepted = format!("an array of 1 to {most} {what}");
    let fields = field.array(&accepted)?;
    if !(1..=most).contains(&fields.len()) {
        return field.refuse(accepted);
    }
    // All of them are read before any is given up, so that every fault is named.
    let frames: Vec<_> = fields.iter().map(read_placed_frame).collect();
    Some((fields, frames.into_iter().collect::<Option<_>>()?))
}

pub(crate) fn unmoved() -> Written<Shift> {
    FramingSpec::of(Method::Fit).shift_x
}

pub(crate) fn read_shift(field: &Field<'_>) -> Option<(Written<Shift>, Written<Shift>)> {
    let accepted = "delivery pixels right and down, such as [\"-90\", \"0\"]";
    let parts = field.array(accepted)?;
    let read = |part: &Field<'_>| part.fraction(Shift::parse);
    match parts.as_slice() {
        [x] => Some((read(x)?, unmoved())),
        [x, y] => {
            let (x, y) = (read(x), read(y));
            Some((x?, y?))
        }
        _ => field.refuse(accepted),
    }
}

/// What the geometry of a source amounts to.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SourceShape {
    /// The active picture in stored pixels: x, y, width, height.
    pub active: WholeRect,
    /// The upright picture, in units of one stored line, and its ratio.
    pub upright: crate::calc::UprightResult,
    /// How much wider the picture inside the insets is than the raster, in proportion, less 1; 0 when
    /// the insets keep its ratio.
    pub inset_stretch: crate::number::ExactNumber,
    /// The nearest larger insets that keep the ratio; null when these do, or none can.
    pub ratio_keeping: Option<ActiveInsets>,
}

/// A rectangle of whole pixels.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct WholeRect {
    /// The left edge; x grows to the right.
    pub x: u32,
    /// The top edge; y grows downwards.
    pub y: u32,
    /// Across.
    pub width: u32,
    /// Down.
    pub height: u32,
}

impl From<&SourceSpec> for SourceShape {
    fn from(spec: &SourceSpec) -> Self {
        let insets = spec.insets();
        let Insets { left, top, right, bottom } = insets;
        let stretch = active_picture::stretch(spec.raster(), insets);
        let keeping = if stretch.is_zero() { None } else { active_picture::keeping_ratio(spec.raster(), insets) };
        Self {
            inset_stretch: crate::number::ExactNumber(stretch),
            ratio_keeping: keeping.map(Into::into),
            active: WholeRect {
                x: left,
                y: top,
                // OK because the source has checked that its insets leave a picture.
                width: spec.raster().width() - left - right,
                height: spec.raster().height() - top - bottom,
            },
            upright: spec.source().upright().into(),
        }
    }
}

/// A safe area of a frame.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SafeZone {
    /// What it is for.
    #[schema(example = "EBU R 95 action")]
    pub name: String,
    /// The part of both sides, in percent.
    pub percent: crate::number::ExactNumber,
    /// Where it lies, in delivery pixels.
    pub rect: crate::number::RectResult,
}

/// The outline of a ratio in a frame.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct GuideArea {
    /// The ratio as it was entered.
    #[schema(example = "1.85")]
    pub ratio: String,
    /// Where a mask of that ratio would stand, in delivery pixels.
    pub area: WholeRect,
}

/// What the geometry of a frame amounts to.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FrameShape {
    /// Width of the whole frame over its height, as seen.
    pub ratio: crate::number::ExactNumber,
    /// The part that the picture should fill, in delivery pixels.
    pub picture_area: WholeRect,
    /// Width of that part over its height, as seen.
    pub picture_ratio: crate::number::ExactNumber,
    /// Whether both sides lie on the step.
    pub on_step: bool,
    /// The safe areas, in delivery pixels.
    pub safe_areas: Vec<SafeZone>,
    /// Where a mask of each guide ratio would stand.
    pub guides: Vec<GuideArea>,
    /// The published frame of exactly this raster, if there is one.
    pub published: Option<crate::calc::PublishedResult>,
    /// A name made of the numbers.
    #[schema(example = "UHD upright 23.976")]
    pub proposed_name: String,
}

impl From<&Deliverable> for FrameShape {
    fn from(deliverable: &Deliverable) -> Self {
        let spec = &deliverable.geometry;
        let frame = spec.frame();
        let area = frame.picture_area();
        let (width, height) = (frame.raster().width(), frame.raster().height());
        let seen = Exact::whole(area.width) * frame.pixel_aspect().value() / Exact::whole(area.height);
        Self {
            ratio: crate::number::ExactNumber(frame.ratio()),
            picture_area: area.into(),
            picture_ratio: crate::number::ExactNumber(seen),
            on_step: frame.step().holds(width) && frame.step().holds(height),
            safe_areas: deliverable
                .safe_zones()
                .into_iter()
                .map(|zone| SafeZone {
                    name: zone.name,
                    percent: crate::number::ExactNumber(zone.percent),
                    rect: zone.rect.into(),
                })
                .collect(),
            guides: deliverable
                .guide_areas()
                .into_iter()
                .map(|(ratio, area)| GuideArea { ratio: ratio.to_owned(), area: area.into() })
                .collect(),
            published: spec.published().map(Into::into),
            proposed_name: deliverable.proposed_name().as_str().to_owned(),
        }
    }
}

impl From<ratiomet_core::PictureArea> for WholeRect {
    fn from(area: ratiomet_core::PictureArea) -> Self {
        Self { x: area.x, y: area.y, width: area.width, height: area.height }
    }
}
