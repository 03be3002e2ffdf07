//! The ways of a project through its working frames.

use crate::chain::Chain;
use crate::project::{Footage, FrameId, FramingSpec, Project, SourceId};
use crate::proxy::Proxies;
use crate::{Error, Step};

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
    pub sources: Vec<(SourceId, Chain)>,
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
    /// How pictures reach its frames, and what is left of each source there.
    pub fn ways(&self) -> Ways {
        let passed = |id: FrameId| self.frames().any(|(frame, _)| frame != id && self.way(frame).contains(&id));
        let frames = self.frames().map(|(id, _)| {
            let way = self.way(id);
            let first = way.first().and_then(|first| self.frame(*first));
            let chain = |(source, footage)| Some((source, self.chain_on(source, footage, &way)?));
            FrameWay {
                frame: id,
                works: passed(id),
                broken: first.is_some_and(|first| first.through.is_some()),
                sources: self.sources().filter_map(chain).collect(),
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

    /// A clip through the frames of a way: into the first one by the framing of that conversion, the whole
    /// frame into each further one by that frame's own method. None when a frame on the way cannot be
    /// handed on.
    pub(super) fn chain_on(&self, source: SourceId, footage: &Footage, way: &[FrameId]) -> Option<Chain> {
        let (first, further) = way.split_first()?;
        let mut steps = vec![self.placed(source, footage, *first)?];
        for id in further {
            let frame = self.frame(*id)?;
            let method = FramingSpec::of(frame.method.unwrap_or(self.settings().method));
            steps.push((frame.geometry.frame().clone(), method.framing()));
        }
        Chain::of(footage.geometry.source(), &steps).ok()
    }
}
