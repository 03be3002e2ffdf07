//! What geometry amounts to: shapes that the answers of calculations and projects share.

use ratiomet_core::project::{Deliverable, SourceSpec};
use ratiomet_core::published::PublishedFrame;
use ratiomet_core::space::{Edges, Size, Upright};
use ratiomet_core::{Exact, Insets, PictureArea, Raster, active_picture};
use serde::Serialize;
use utoipa::ToSchema;

use crate::describe::Values;
use crate::file::FileShape;
use crate::number::{ExactNumber, RectResult, pair};

/// Insets of a source.
pub type ActiveInsets = Values<Insets>;

pub(crate) const fn sides<S>(raster: Raster<S>) -> [u32; 2] {
    [raster.width(), raster.height()]
}

/// The picture as it is seen: desqueezed, pixel shape corrected, turned.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct UprightResult {
    /// Width and height, in units of the height of one stored pixel.
    pub size: [ExactNumber; 2],
    /// Width over height.
    pub ratio: ExactNumber,
}

impl From<Size<Upright>> for UprightResult {
    fn from(size: Size<Upright>) -> Self {
        Self { ratio: ExactNumber(&size.width / &size.height), size: pair(size) }
    }
}

/// Exact lengths at each side.
#[derive(Debug, Serialize, ToSchema)]
pub struct EdgesResult {
    /// At the left.
    pub left: ExactNumber,
    /// At the top.
    pub top: ExactNumber,
    /// At the right.
    pub right: ExactNumber,
    /// At the bottom.
    pub bottom: ExactNumber,
}

impl<S> From<Edges<S>> for EdgesResult {
    fn from(edges: Edges<S>) -> Self {
        Self {
            left: ExactNumber(edges.left),
            top: ExactNumber(edges.top),
            right: ExactNumber(edges.right),
            bottom: ExactNumber(edges.bottom),
        }
    }
}

/// A published frame.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PublishedResult {
    /// What the trade calls it.
    pub name: &'static str,
    /// Width and height.
    pub frame: [u32; 2],
    /// Width over height, as seen.
    pub ratio: ExactNumber,
    /// Where it is laid down.
    pub source: &'static str,
}

impl From<&'static PublishedFrame> for PublishedResult {
    fn from(frame: &'static PublishedFrame) -> Self {
        Self {
            name: frame.name,
            frame: [frame.width, frame.height],
            ratio: ExactNumber(frame.ratio()),
            source: frame.source,
        }
    }
}

/// What the geometry of a source amounts to.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SourceShape {
    /// The active picture in stored pixels: x, y, width, height.
    pub active: WholeRect,
    /// The upright picture, in units of one stored line, and its ratio.
    pub upright: UprightResult,
    /// How much wider the picture inside the insets is than the raster, in proportion, less 1; 0 when
    /// the insets keep its ratio.
    pub inset_stretch: ExactNumber,
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
            inset_stretch: ExactNumber(stretch),
            ratio_keeping: keeping.map(Values),
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
    pub percent: ExactNumber,
    /// Where it lies, in delivery pixels.
    pub rect: RectResult,
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
    pub ratio: ExactNumber,
    /// The part that the picture should fill, in delivery pixels.
    pub picture_area: WholeRect,
    /// Width of that part over its height, as seen.
    pub picture_ratio: ExactNumber,
    /// Whether both sides lie on the step.
    pub on_step: bool,
    /// The safe areas, in delivery pixels.
    pub safe_areas: Vec<SafeZone>,
    /// Where a mask of each guide ratio would stand.
    pub guides: Vec<GuideArea>,
    /// The published frame of exactly this raster, if there is one.
    pub published: Option<PublishedResult>,
    /// A name made of the numbers.
    #[schema(example = "UHD upright 23.976")]
    pub proposed_name: String,
    /// What its file amounts to; null where nobody has said how it is made.
    pub file: Option<FileShape>,
}

impl From<&Deliverable> for FrameShape {
    fn from(deliverable: &Deliverable) -> Self {
        let spec = &deliverable.geometry;
        let frame = spec.frame();
        let area = frame.picture_area();
        let (width, height) = (frame.raster().width(), frame.raster().height());
        let seen = Exact::whole(area.width) * frame.pixel_aspect().value() / Exact::whole(area.height);
        Self {
            ratio: ExactNumber(frame.ratio()),
            picture_area: area.into(),
            picture_ratio: ExactNumber(seen),
            on_step: frame.step().holds(width) && frame.step().holds(height),
            safe_areas: deliverable
                .safe_zones()
                .into_iter()
                .map(|zone| SafeZone { name: zone.name, percent: ExactNumber(zone.percent), rect: zone.rect.into() })
                .collect(),
            guides: deliverable
                .guide_areas()
                .into_iter()
                .map(|(ratio, area)| GuideArea { ratio: ratio.to_owned(), area: area.into() })
                .collect(),
            published: spec.published().map(Into::into),
            proposed_name: deliverable.proposed_name().as_str().to_owned(),
            file: FileShape::of(deliverable),
        }
    }
}

impl From<PictureArea> for WholeRect {
    fn from(area: PictureArea) -> Self {
        Self { x: area.x, y: area.y, width: area.width, height: area.height }
    }
}
