//! [`Unchanged`]: what of a project is as it was before, so that it need not be worked out again.

use std::collections::BTreeSet;

use crate::project::{Footage, FrameId, Pair, Project, SourceId};

/// What of a project is as it was in another one.
#[derive(Debug)]
pub struct Unchanged<'a> {
    now: &'a Project,
    /// Sources that are, with the spheres that they look out of.
    sources: BTreeSet<SourceId>,
    /// Frames that are, with the frames on the way to them.
    frames: BTreeSet<FrameId>,
    /// Conversions with something else added to them.
    choices: BTreeSet<Pair>,
    /// Whether settings, and what the clips say of each other, are.
    common: bool,
}

impl<'a> Unchanged<'a> {
    /// What of a project is as it was before.
    pub fn since(before: &Project, now: &'a Project) -> Self {
        let same_source = |(id, footage): (SourceId, &Footage)| {
            let other = before.source(id)?;
            let [now, before] =
                [now.looking(footage), before.looking(other)].map(|looking| looking.map(|it| it.sphere));
            (footage == other && now == before).then_some(id)
        };
        let same_frame = |id: FrameId| {
            let way = now.way(id);
            (way == before.way(id) && way.iter().all(|id| now.frame(*id) == before.frame(*id))).then_some(id)
        };
        let others = |one: &Project, other: &Project| -> BTreeSet<Pair> {
            one.choices().filter(|(pair, choice)| other.added(*pair) != Some(*choice)).map(|(pair, _)| pair).collect()
        };
        Self {
            now,
            sources: now.sources().filter_map(same_source).collect(),
            frames: now.frames().filter_map(|(id, _)| same_frame(id)).collect(),
            choices: others(now, before).union(&others(before, now)).copied().collect(),
            common: before.settings() == now.settings() && before.neighbours() == now.neighbours(),
        }
    }

    /// Whether a source is, with the sphere that it looks out of.
    pub fn source(&self, id: SourceId) -> bool {
        self.sources.contains(&id)
    }

    /// Whether a frame is, with the frames on the way to it.
    pub fn frame(&self, id: FrameId) -> bool {
        self.frames.contains(&id)
    }

    /// Whether everything is that [`Project::conversion`] works a conversion out of.
    pub fn conversion(&self, pair: Pair) -> bool {
        let added = |frame: FrameId| self.choices.contains(&Pair::new(pair.source, frame));
        let nothing_added = || self.choices.is_empty() || !self.now.way(pair.frame).into_iter().any(added);
        self.common && self.source(pair.source) && self.frame(pair.frame) && nothing_added()
    }
}
