//! The library as JSON: published frames, house frames and active pictures.

use ratiomet_core::active_picture::ActivePicture;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::{
    ActivePictureId, Deliverable, FrameSpec, HouseActivePicture, HouseFrame, HouseFrameId, HouseProfile, Name,
    ProfileId,
};
use ratiomet_core::published::{FRAMES, FrameGroup, PublishedFrame};
use ratiomet_core::space::Stored;
use ratiomet_core::typing::TypingProfile;
use ratiomet_core::{DisplayRatio, Insets, PixelAspect, Raster, Step};
use serde::Serialize;
use utoipa::ToSchema;

use super::history::HistoryHead;
use crate::describe::{Given, Refused, Values, record};
use crate::names::{ActivePictureValues, FrameValues, HouseFrameValues, HouseProfileValues};

record!(
    /// The values of a frame of the house.
    "HouseFrameValues", "house frames" for HouseFrame {
        /// The heading under which it is listed.
        group: Name = Required, |house| house.group.clone();
        /// The frame. The house knows no working frames of a project: a way is left out.
        frame: Deliverable = Required, |house| house.frame.clone();
    }
    |group, frame| Ok(HouseFrame { group, frame: Deliverable { through: None, ..frame } })
);

record!(
    /// The values of an active picture: either a raster with insets, or a guide.
    "ActivePictureValues", "active pictures" for HouseActivePicture {
        /// What it is called.
        name: Name = Required, |house| house.name.clone();
        /// The stored raster that the insets are for.
        raster: Given<Raster<Stored>> = Optional, |house| match &house.picture {
            ActivePicture::Insets { raster, .. } => Given(Some(*raster)),
            ActivePicture::Guide { .. } => Given(None),
        };
        /// Stored pixels that are no picture.
        insets: Given<Insets> = Optional, |house| match &house.picture {
            ActivePicture::Insets { insets, .. } => Given(Some(*insets)),
            ActivePicture::Guide { .. } => Given(None),
        };
        /// Whether more is cut, as little as possible, so that the picture keeps the ratio of the raster.
        keep_ratio: Given<bool> = Optional, |house| match &house.picture {
            ActivePicture::Insets { keep_ratio, .. } => Given(Some(*keep_ratio)),
            ActivePicture::Guide { .. } => Given(None),
        };
        /// Instead of raster and insets: the ratio of the largest centred part, before a squeeze is undone.
        guide: Given<Written<DisplayRatio>> = Optional, |house| match &house.picture {
            ActivePicture::Guide { ratio } => Given(Some(ratio.clone())),
            ActivePicture::Insets { .. } => Given(None),
        };
    }
    |name, raster, insets, keep_ratio, guide| {
        let picture = match (guide.0, raster.0, insets.0) {
            (Some(ratio), None, None) => ActivePicture::Guide { ratio },
            (None, Some(raster), Some(insets)) => {
                let picture = ActivePicture::Insets { raster, insets, keep_ratio: keep_ratio.0 == Some(true) };
                // Insets must leave a picture in their own raster.
                picture.insets_for(raster, &PixelAspect::SQUARE)?;
                picture
            }
            _ => return Err(Refused::Accepted("either guide, a ratio, or both raster and insets")),
        };
        Ok(HouseActivePicture { name, picture })
    }
);

record!(
    /// The values of a typing profile.
    "HouseProfileValues", "typing profiles" for HouseProfile {
        /// What it is called.
        name: Name = Required, |house| house.name.clone();
        /// The answers.
        profile: TypingProfile = Default("{}"), |house| house.profile.clone();
    }
    |name, profile| Ok(HouseProfile { name, profile })
);

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
    /// The typing profiles of the house.
    pub profiles: Vec<HouseProfileResource>,
    /// How many of its records cannot be read; they are set aside as they are kept.
    pub set_aside: usize,
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
    fn from(published: &PublishedFrame) -> Self {
        let (across, down) = published.pixel_aspect;
        let spelled = if across == down { "1".to_owned() } else { format!("{across}:{down}") };
        let aspect = Written::parse(&spelled, PixelAspect::parse).expect("a published pixel aspect is sound");
        let raster = Raster::new(published.width, published.height).expect("a published raster is sound");
        let geometry = FrameSpec::new(raster, aspect, None, Step::Two).expect("without a ratio there is a picture");
        let name = Name::new(published.name).expect("a published name is short");
        Self { source: published.source, values: Values(Deliverable::of(name, geometry)) }
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

impl HouseFrameResource {
    /// The resource of a stored frame.
    pub fn new(id: HouseFrameId, version: i32, frame: &HouseFrame) -> Self {
        Self { id: id.number(), version, values: Values(frame.clone()) }
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

impl ActivePictureResource {
    /// The resource of a stored active picture.
    pub fn new(id: ActivePictureId, version: i32, picture: &HouseActivePicture) -> Self {
        Self { id: id.number(), version, values: Values(picture.clone()) }
    }
}

/// A typing profile of the house.
#[derive(Debug, Serialize, ToSchema)]
pub struct HouseProfileResource {
    /// Its number.
    pub id: i32,
    /// Grows by 1 with every change; `If-Match` names it.
    pub version: i32,
    /// What was entered.
    pub values: HouseProfileValues,
}

impl HouseProfileResource {
    /// The resource of a stored profile.
    pub fn new(id: ProfileId, version: i32, profile: &HouseProfile) -> Self {
        Self { id: id.number(), version, values: Values(profile.clone()) }
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
