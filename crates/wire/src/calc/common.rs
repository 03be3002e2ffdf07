//! Kind `common`: what several frames have of one picture in common.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::common::Common;
use ratiomet_core::project::SourceSpec;
use ratiomet_core::space::{Rect, Size, Upright};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::{List, record};
use crate::geometry::PlacedFrame;
use crate::number::{ExactNumber, RectResult};

/// The most frames of one request.
const MOST: usize = 100;

type Frames = List<PlacedFrame, 1, MOST>;

/// The request.
#[derive(Clone, Debug)]
pub struct CommonRequest {
    source: SourceSpec,
    frames: Frames,
}

record!(
    /// Several frames of one picture.
    "CommonRequest", "lists of frames" for CommonRequest {
        /// The footage.
        source: SourceSpec = Required, |request| request.source.clone();
        /// From 1 to 100 frames, each with its framing.
        frames: Frames = Required, |request| request.frames.clone();
    }
    |source, frames| Ok(CommonRequest { source, frames })
);

impl Kind for CommonRequest {
    fn calculation(self) -> Calculation {
        let frames = self.frames.0.into_iter().map(PlacedFrame::parts).collect();
        Calculation::Common(self.source.into_source(), frames)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Common(source, frames) = calculation.clone() else { return None };
        let frames = List(frames.into_iter().map(PlacedFrame::of).collect());
        Some(Self { source: source.into(), frames })
    }
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
