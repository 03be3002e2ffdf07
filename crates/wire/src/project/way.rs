//! The ways of a project through its working frames, as JSON.

use ratiomet_core::project::{FrameWay, Passage, SourceId, Ways};
use serde::Serialize;
use utoipa::ToSchema;

use crate::calc::ProxyResult;
use crate::number::AxesResult;

/// How pictures reach the frames of a project.
#[derive(Debug, Serialize, ToSchema)]
pub struct WaysResult {
    /// One for each frame, in order.
    pub frames: Vec<FrameWayResult>,
    /// Smaller working copies of each source, in the order of the sources.
    pub proxies: Vec<ProxyResult>,
}

/// The way to one frame.
#[derive(Debug, Serialize, ToSchema)]
#[schema(as = FrameWay)]
pub struct FrameWayResult {
    /// The frame's number.
    pub frame: i32,
    /// The numbers of the frames on the way, the frame itself last; only itself when pictures come
    /// straight from the source.
    pub way: Vec<i32>,
    /// Whether some other frame goes through it: a working frame.
    pub works: bool,
    /// Whether the way names a frame that is gone, or leads back to itself, and was cut there.
    pub broken: bool,
    /// What is left of each source, in the order of the sources.
    pub sources: Vec<WaySource>,
}

/// What is left of a source at the end of a way.
#[derive(Debug, Serialize, ToSchema)]
pub struct WaySource {
    /// The source's number.
    pub source: i32,
    /// How much of the source's resolution is left, at most 1.
    pub detail: AxesResult,
    /// How much of it the frame has when it is made from the source.
    pub direct: AxesResult,
    /// Pixels of each frame on the way per stored pixel, so that one sees where detail is lost.
    pub after: Vec<[f64; 2]>,
    /// Whether the way threw away detail that the frame needed.
    pub detour: bool,
    /// The number of the first frame on the way that lacks some of the picture that the frame shows; null when
    /// none does.
    pub lacks: Option<i32>,
}

impl WaySource {
    /// What is left of a source at the end of a way.
    fn new(source: SourceId, passage: Passage, way: &[i32]) -> Self {
        let after = passage.scales.iter().map(|scale| [scale.x.to_f64(), scale.y.to_f64()]).collect();
        Self {
            source: source.number(),
            detour: passage.is_detour(),
            detail: passage.detail.into(),
            direct: passage.direct.into(),
            lacks: passage.lacks.and_then(|place| way.get(place).copied()),
            after,
        }
    }
}

impl From<FrameWay> for FrameWayResult {
    fn from(way: FrameWay) -> Self {
        let numbers: Vec<i32> = way.way.iter().map(|id| id.number()).collect();
        let of = |(source, passage)| WaySource::new(source, passage, &numbers);
        Self {
            frame: way.frame.number(),
            works: way.works,
            broken: way.broken,
            sources: way.sources.into_iter().map(of).collect(),
            way: numbers,
        }
    }
}

impl From<Ways> for WaysResult {
    fn from(ways: Ways) -> Self {
        Self {
            frames: ways.frames.into_iter().map(Into::into).collect(),
            proxies: ways.proxies.into_iter().map(Into::into).collect(),
        }
    }
}
