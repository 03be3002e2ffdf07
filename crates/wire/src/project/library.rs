//! The library as JSON: published frames, house frames and active pictures, and the file that
//! carries them from house to house.

use ratiomet_core::active_picture::ActivePicture;
use ratiomet_core::project::{Deliverable, HouseActivePicture, HouseFrame};
use ratiomet_core::published::{FRAMES, FrameGroup, PublishedFrame};
use ratiomet_core::space::Stored;
use ratiomet_core::{DisplayRatio, PixelAspect};
use serde::Serialize;
use utoipa::ToSchema;

use super::document::{DocumentHead, read_head};
use super::edit::many;
use super::history::HistoryHead;
use super::values::{FrameValues, ScanName, SignalRangeName, read_frame_values, read_name};
use crate::geometry::{ActiveInsets, DeliveryGeometry, read_insets};
use crate::number::FractionText;
use crate::read::{Field, flag};

/// All that can be taken into a project.
#[derive(Debug, Serialize, ToSchema)]
pub struct Library {
    /// Where the history of the house's own part stands.
    pub history: HistoryHead,
    /// Published frames by sort.
    pub published: Vec<PublishedGroup>,
    /// The frames of the house.
    pub frames: Vec<HouseFrameResource>,
    /// The active pictures of the house.
    pub active_pictures: Vec<ActivePictureResource>,
}

/// Published frames of one sort.
#[derive(Debug, Serialize, ToSchema)]
pub struct PublishedGroup {
    /// What sort.
    pub title: &'static str,
    /// The frames.
    pub frames: Vec<PublishedEntry>,
}

/// A published frame, ready to be taken into a project.
#[derive(Debug, Serialize, ToSchema)]
pub struct PublishedEntry {
    /// Where it is laid down.
    pub source: &'static str,
    /// The frame.
    pub values: FrameValues,
}

impl PublishedGroup {
    /// Every published frame, by sort.
    pub fn all() -> Vec<Self> {
        let group = |group: FrameGroup| Self {
            title: group.title(),
            frames: FRAMES.iter().filter(|frame| frame.group == group).map(Into::into).collect(),
        };
        FrameGroup::ALL.into_iter().map(group).collect()
    }
}

impl From<&PublishedFrame> for PublishedEntry {
    fn from(frame: &PublishedFrame) -> Self {
        let pixel_aspect = match frame.pixel_aspect {
            (1, 1) => "1".to_owned(),
            (across, down) => format!("{across}:{down}"),
        };
        Self {
            source: frame.source,
            values: FrameValues {
                name: frame.name.to_owned(),
                note: String::new(),
                geometry: DeliveryGeometry {
                    raster: [frame.width, frame.height],
                    pixel_aspect: FractionText(pixel_aspect),
                    picture_ratio: None,
                    step: 2,
                },
                rate: None,
                scan: ScanName::Progressive,
                signal_range: SignalRangeName::Narrow,
                safe_areas: Vec::new(),
                guides: Vec::new(),
                through: None,
                method: None,
            },
        }
    }
}

/// A frame of the house.
#[derive(Debug, Serialize, ToSchema)]
pub struct HouseFrameResource {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change; `If-Match` names it.
    pub version: i32,
    /// What was entered.
    pub values: HouseFrameValues,
}

/// The values of a frame of the house.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct HouseFrameValues {
    /// The heading under which it is listed: 1 to 120 characters.
    #[schema(example = "Festivals")]
    pub group: String,
    /// The frame.
    pub frame: FrameValues,
}

impl From<&HouseFrame> for HouseFrameValues {
    fn from(house: &HouseFrame) -> Self {
        Self { group: house.group.as_str().to_owned(), frame: (&house.frame).into() }
    }
}

/// An active picture of the house.
#[derive(Debug, Serialize, ToSchema)]
pub struct ActivePictureResource {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change; `If-Match` names it.
    pub version: i32,
    /// What was entered.
    pub values: ActivePictureValues,
}

/// The values of an active picture: either a raster with insets, or a guide.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ActivePictureValues {
    /// What it is called: 1 to 120 characters.
    #[schema(example = "Desk recorder border")]
    pub name: String,
    /// The stored raster that the insets are for.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub raster: Option<[u32; 2]>,
    /// Stored pixels that are no picture.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub insets: Option<ActiveInsets>,
    /// Whether more is cut, as little as possible, so that the picture keeps the ratio of the raster.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub keep_ratio: Option<bool>,
    /// Instead of raster and insets: the ratio of the largest centred part, before a squeeze is undone.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(required = false)]
    pub guide: Option<FractionText>,
}

impl From<&HouseActivePicture> for ActivePictureValues {
    fn from(house: &HouseActivePicture) -> Self {
        let nothing =
            Self { name: house.name.as_str().to_owned(), raster: None, insets: None, keep_ratio: None, guide: None };
        match &house.picture {
            ActivePicture::Guide { ratio } => Self { guide: Some(FractionText(ratio.text().to_owned())), ..nothing },
            ActivePicture::Insets { raster, insets, keep_ratio } => Self {
                raster: Some([raster.width(), raster.height()]),
                insets: Some((*insets).into()),
                keep_ratio: Some(*keep_ratio),
                ..nothing
            },
        }
    }
}

/// Reads a frame of the house.
pub fn read_house_frame(field: &Field<'_>) -> Option<HouseFrame> {
    let object = field.object()?;
    let group = object.required("group", read_name);
    let frame = object.required("frame", read_frame_values);
    object.done()?;
    // The house knows no working frames of a project.
    Some(HouseFrame { group: group?, frame: Deliverable { through: None, ..frame? } })
}

/// Reads an active picture.
pub fn read_active_picture(field: &Field<'_>) -> Option<HouseActivePicture> {
    let object = field.object()?;
    let name = object.required("name", read_name);
    let guide = object.nullable("guide", |field| field.fraction(DisplayRatio::parse));
    let raster = object.nullable("raster", Field::raster::<Stored>);
    let insets = object.nullable("insets", read_insets);
    let keep_ratio = object.optional("keep_ratio", || false, flag);
    object.done()?;
    let (name, guide, raster, insets, keep_ratio) = (name?, guide?, raster?, insets?, keep_ratio?);
    let picture = match (guide, raster, insets) {
        (Some(ratio), None, None) => ActivePicture::Guide { ratio },
        (None, Some(raster), Some(insets)) => {
            let picture = ActivePicture::Insets { raster, insets, keep_ratio };
            // Insets must leave a picture in their own raster.
            field.settle(picture.insets_for(raster, &PixelAspect::SQUARE))?;
            picture
        }
        _ => return field.refuse("either guide, a ratio, or both raster and insets"),
    };
    Some(HouseActivePicture { name, picture })
}

/// The file that carries a library.
#[derive(Debug, Serialize, ToSchema)]
pub struct LibraryDocument {
    /// What the file is.
    #[serde(flatten)]
    pub head: DocumentHead,
    /// The frames of the house.
    pub frames: Vec<HouseFrameValues>,
    /// The active pictures of the house.
    pub active_pictures: Vec<ActivePictureValues>,
}

impl LibraryDocument {
    /// What the file says it is.
    pub const FORMAT: &'static str = "ratiomet library";

    /// The file for these records.
    pub fn new<'a>(
        frames: impl Iterator<Item = &'a HouseFrame>,
        active_pictures: impl Iterator<Item = &'a HouseActivePicture>,
    ) -> Self {
        Self {
            head: DocumentHead::of(Self::FORMAT),
            frames: frames.map(Into::into).collect(),
            active_pictures: active_pictures.map(Into::into).collect(),
        }
    }
}

/// What an import has done.
#[derive(Debug, Serialize, ToSchema)]
pub struct ImportResult {
    /// How many things came in.
    pub added: usize,
    /// How many were there already.
    pub known: usize,
}

/// Reads such a file.
pub fn read_library_document(field: &Field<'_>) -> Option<(Vec<HouseFrame>, Vec<HouseActivePicture>)> {
    let object = field.object()?;
    read_head(&object, LibraryDocument::FORMAT)?;
    let frames = object.optional("frames", Vec::new, |field| many(field, "house frames", read_house_frame));
    let pictures =
        object.optional("active_pictures", Vec::new, |field| many(field, "active pictures", read_active_picture));
    object.done()?;
    Some((frames?, pictures?))
}
