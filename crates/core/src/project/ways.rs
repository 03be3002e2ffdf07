//! The ways of a project through its working frames.

use crate::chain::Chain;
use crate::project::{Footage, FrameId, Project, SourceId};
use crate::proxy::Proxies;
use crate::space::{Axes, Axis, Factor};
use crate::{Error, Exact, Plan, Step};

/// The most frames of a way, the last one included.
pub const LONGEST_WAY: usize = Chain::LONGEST;

/// The frames on the way to a frame, which comes last. A way that leads back to a frame that it has passed,
/// or that is too long, is cut there.
///
/// ```
/// use ratiomet_core::project::{FrameId, way};
/// let id = FrameId::new;
/// let through = |frame: FrameId| match frame.number() {
///     1 => Some(id(2)),
///     2 => Some(id(3)),
///     _ => None,
/// };
/// assert_eq!(way(id(1), through), [id(3), id(2), id(1)]);
/// // Two that go through each other.
/// assert_eq!(way(id(1), |frame| Some(id(3 - frame.number()))), [id(2), id(1)]);
/// ```
pub fn way(frame: FrameId, through: impl Fn(FrameId) -> Option<FrameId>) -> Vec<FrameId> {
    let mut back = vec![frame];
    let mut at = frame;
    while let Some(next) = through(at).filter(|next| back.len() < LONGEST_WAY && !back.contains(next)) {
        back.push(next);
        at = next;
    }
    back.reverse();
    back
}

/// What is wrong with the way to a frame, if anything is.
pub(super) fn fault(
    frame: FrameId,
    there: impl Fn(FrameId) -> bool,
    through: impl Fn(FrameId) -> Option<FrameId>,
) -> Option<Error> {
    let mut passed = vec![frame];
    while let Some(next) = passed.last().and_then(|last| through(*last)) {
        match () {
            () if !there(next) => return Some(Error::way("there is no such frame")),
            () if passed.len() == 1 && next == frame => return Some(Error::way("a frame cannot be made from itself")),
            () if passed.contains(&next) => return Some(Error::way("that one is made from this frame")),
            () if passed.len() >= LONGEST_WAY => return Some(Error::way("the chain would be too long")),
            () => passed.push(next),
        }
    }
    None
}

/// How pictures reach one frame.
#[derive(Clone, Debug)]
pub struct FrameWay {
    /// The frame.
    pub frame: FrameId,
    /// The frames on the way, the frame itself last; only itself when pictures come straight from the source.
    pub way: Vec<FrameId>,
    /// Whether some other frame goes through it: a working frame.
    pub works: bool,
    /// Whether the way names a frame that is gone, or leads back to itself, and was cut there.
    pub broken: bool,
    /// What is left of each source at the end of the way.
    pub sources: Vec<(SourceId, Passage)>,
}

/// What is left of a source at the end of a way. Each frame on it is made from the one before, and shows what the
/// source's own conversion into it shows.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Passage {
    /// Pixels of each frame on the way per stored pixel of the source, along the frame's axes.
    pub scales: Vec<Axes<Factor>>,
    /// How much of the source's resolution is left at the end, at most 1: the smallest scale on the way.
    pub detail: Axes<Factor>,
    /// How much of it the last frame has when it is made from the source: its scale, at most 1.
    pub direct: Axes<Factor>,
    /// The place on the way of the first frame that lacks some of the picture that the last one shows.
    pub lacks: Option<usize>,
}

impl Passage {
    /// Through the frames of these plans to that of the last, all of one source.
    fn of(before: &[Plan], last: &Plan) -> Self {
        let scales: Vec<_> = before.iter().chain([last]).map(|plan| plan.scale.clone()).collect();
        let least = |axis| scales.iter().map(|scale| scale.of(axis).clone()).fold(Exact::ONE, Exact::min);
        let wanted = last.seen();
        let holds = |plan: &Plan| match (&wanted, plan.seen()) {
            (None, _) => true,
            (Some(wanted), Some(seen)) => seen.intersection(wanted).is_some_and(|both| both == *wanted),
            (Some(_), None) => false,
        };
        Self {
            detail: Axes::each(least),
            direct: Axes::each(|axis| last.scale.of(axis).clone().min(Exact::ONE)),
            lacks: before.iter().position(|plan| !holds(plan)),
            scales,
        }
    }

    /// Whether a frame on the way threw away detail that the end needed.
    pub fn is_detour(&self) -> bool {
        Axis::BOTH.into_iter().any(|axis| self.detail.of(axis) < self.direct.of(axis))
    }
}

/// How pictures reach the frames of a project.
#[derive(Clone, Debug)]
pub struct Ways {
    /// One for each frame, in order.
    pub frames: Vec<FrameWay>,
    /// Smaller working copies of each source, in the order of the sources.
    pub proxies: Vec<Proxies>,
}

impl Project {
    /// The first frame whose way leads through itself, or is too long, and why.
    pub fn faulty_way(&self) -> Option<(FrameId, Error)> {
        let through = |id: FrameId| self.frame(id)?.through;
        self.frames().find_map(|(id, _)| Some((id, fault(id, |id| self.frame(id).is_some(), through)?)))
    }

    /// How pictures reach its frames, and what is left of each source there.
    pub fn ways(&self) -> Ways {
        let passed = |id: FrameId| self.frames().any(|(frame, _)| frame != id && self.way(frame).contains(&id));
        let frames = self.frames().map(|(id, _)| {
            let way = self.way(id);
            let first = way.first().and_then(|first| self.frame(*first));
            let passage = |(source, footage)| Some((source, self.passage(source, footage, &way)?));
            FrameWay {
                frame: id,
                works: passed(id),
                broken: first.is_some_and(|first| first.through.is_some()),
                sources: self.sources().filter_map(passage).collect(),
                way,
            }
        });
        let proxies = |footage: &Footage| {
            // A raster that is too small to be made smaller has none.
            let proxies = Proxies::of(footage.geometry.raster(), Step::Two);
            proxies.unwrap_or(Proxies { sizes: Vec::new(), largest_true: None })
        };
        Ways { frames: frames.collect(), proxies: self.sources().map(|(_, footage)| proxies(footage)).collect() }
    }

    /// A clip through the frames of a way, in each by the framing that its conversion into that frame has.
    fn passage(&self, source: SourceId, footage: &Footage, way: &[FrameId]) -> Option<Passage> {
        let (last, before) = way.split_last()?;
        self.passage_to(source, footage, before, &self.plan(source, footage, *last)?)
    }

    /// The same, with these frames before that of a plan.
    pub(super) fn passage_to(
        &self,
        source: SourceId,
        footage: &Footage,
        before: &[FrameId],
        plan: &Plan,
    ) -> Option<Passage> {
        let plans = before.iter().map(|id| self.plan(source, footage, *id)).collect::<Option<Vec<_>>>()?;
        Some(Passage::of(&plans, plan))
    }

    fn plan(&self, source: SourceId, footage: &Footage, frame: FrameId) -> Option<Plan> {
        let (frame, framing) = self.placed(source, footage, frame)?;
        Some(Plan::of(footage.geometry.source(), &frame, &framing))
    }
}
