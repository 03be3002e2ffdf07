//! Kind `common`: what several frames have of one picture in common.

use ratiomet_core::common::Common;
use ratiomet_core::space::{Rect, Size, Upright};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use crate::geometry::{PlacedFrame, SourceGeometry, read_placed_frames, read_source};
use crate::number::{ExactNumber, RectResult};
use crate::read::Object;

/// The most frames of one request.
const MOST: usize = 100;

/// Several frames of one picture.
#[derive(Debug, Serialize, ToSchema)]
pub struct CommonRequest {
    /// The footage.
    pub source: SourceGeometry,
    /// From 1 to 100 frames, each with its framing.
    #[schema(min_items = 1, max_items = 100)]
    pub frames: Vec<PlacedFrame>,
}

/// What they have in common. All rectangles are in shares of the upright picture, 0 to 1.
#[derive(Debug, Serialize, ToSchema)]
pub struct CommonResult {
    /// What each frame shows; null where it shows nothing.
    pub windows: Vec<Option<RectResult>>,
    /// What every frame shows: keep the action there; null when there is no such part.
    pub every: Option<RectResult>,
    /// Its share of the picture's area.
    pub every_share: ExactNumber,
    /// What some frame shows, in rectangles that do not overlap: keep the boom out of there.
    pub some: Vec<RectResult>,
    /// Its share of the picture's area.
    pub some_share: ExactNumber,
}

fn shares(rect: &Rect<Upright>, picture: &Size<Upright>) -> RectResult {
    RectResult {
        x: ExactNumber(&rect.x / &picture.width),
        y: ExactNumber(&rect.y / &picture.height),
        width: ExactNumber(&rect.size.width / &picture.width),
        height: ExactNumber(&rect.size.height / &picture.height),
    }
}

impl From<Common> for CommonResult {
    fn from(common: Common) -> Self {
        let shares = |rect: &Rect<Upright>| shares(rect, &common.upright);
        Self {
            windows: common.windows.iter().map(|window| window.as_ref().map(shares)).collect(),
            every: common.every.as_ref().map(shares),
            every_share: ExactNumber(common.every_share()),
            some: common.some.iter().map(shares).collect(),
            some_share: ExactNumber(common.some_share()),
        }
    }
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let source = object.required("source", read_source);
    let read = object.required("frames", |field| read_placed_frames(field, MOST, "frames"));
    object.done()?;
    let (_, frames) = read?;
    Some(CalcResult::Common(Box::new(Common::of(source?.source(), &frames).into())))
}
