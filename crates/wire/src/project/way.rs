//! The ways of a project through its working frames, as JSON.

use ratiomet_core::chain::Chain;
use ratiomet_core::project::{FrameWay, SourceId, Ways};
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
    /// Pixels of the frame per stored pixel, along the frame's axes.
    pub scale: AxesResult,
    /// How much of the source's resolution is left, at most 1.
    pub detail: AxesResult,
    /// How much the same size would have left straight from the source.
    pub direct: AxesResult,
    /// Pixels of each frame on the way per stored pixel, so that one sees where detail is lost.
    pub after: Vec<[f64; 2]>,
    /// Whether the way threw away detail that the frame needed.
    pub detour: bool,
}

impl WaySource {
    /// What a chain leaves of a source.
    fn new(source: SourceId, chain: Chain) -> Self {
        let mut so_far = [1.0, 1.0];
        let after = chain
            .steps
            .iter()
            .map(|step| {
                let plan = &step.plan;
                so_far = [so_far[0] * plan.scale.x.to_f64(), so_far[1] * plan.scale.y.to_f64()];
                so_far
            })
            .collect();
        Self {
            source: source.number(),
            detour: chain.is_detour(),
            scale: chain.scale.into(),
            detail: chain.detail.into(),
            direct: chain.direct.into(),
            after,
        }
    }
}

impl From<FrameWay> for FrameWayResult {
    fn from(way: FrameWay) -> Self {
        Self {
            frame: way.frame.number(),
            way: way.way.iter().map(|id| id.number()).collect(),
            works: way.works,
            broken: way.broken,
            sources: way.sources.into_iter().map(|(source, chain)| WaySource::new(source, chain)).collect(),
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
