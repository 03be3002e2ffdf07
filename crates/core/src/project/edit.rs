//! [`Edit`]: a change of many things at once, which is undone as one.

use crate::project::{
    Deliverable, Footage, FramePatch, FramingPatch, FramingSpec, HouseActivePicture, Name, SourcePatch,
};

/// A conversion, by the numbers of its source and its frame.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Pair {
    /// The source's number.
    pub source: i32,
    /// The frame's number.
    pub frame: i32,
}

/// A change of a project.
#[derive(Clone, Debug)]
pub enum Edit {
    /// The same values for many sources.
    SetSources {
        /// The sources' numbers.
        ids: Vec<i32>,
        /// What is set.
        patch: Box<SourcePatch>,
    },
    /// The same values for many frames.
    SetFrames {
        /// The frames' numbers.
        ids: Vec<i32>,
        /// What is set.
        patch: Box<FramePatch>,
    },
    /// The same framing, or none of their own, for many conversions; pins and what was accepted stay.
    SetConversions {
        /// The conversions.
        pairs: Vec<Pair>,
        /// The framing that each has of its own from now on.
        own: Option<FramingSpec>,
    },
    /// A finding accepted, or opened again, wherever many conversions have it.
    JudgeFinding {
        /// The conversions.
        pairs: Vec<Pair>,
        /// The finding's code.
        code: String,
        /// Why it may stay; none opens it again.
        reason: Option<Name>,
    },
    /// Parts of a framing for many conversions; each keeps its other parts.
    SetFramingParts {
        /// The conversions.
        pairs: Vec<Pair>,
        /// What is set.
        patch: FramingPatch,
    },
    /// The insets of an active picture, for the sources that it is for.
    ApplyActivePicture {
        /// The sources' numbers.
        ids: Vec<i32>,
        /// The active picture.
        picture: Box<HouseActivePicture>,
    },
    /// New sources.
    AddSources(Vec<Footage>),
    /// New frames.
    AddFrames(Vec<Deliverable>),
    /// A turned copy of each of these frames.
    TurnFrames(Vec<i32>),
    /// Fewer sources and frames.
    Delete {
        /// The sources' numbers.
        sources: Vec<i32>,
        /// The frames' numbers.
        frames: Vec<i32>,
    },
}
