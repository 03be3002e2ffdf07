//! [`Edit`]: a change of a project, which is undone as one.

use crate::project::{
    BroughtFraming, ChoicePatch, Deliverable, Footage, FrameId, FramePatch, FramingPatch, FramingSpec,
    HouseActivePicture, Name, Pair, ProjectSettings, SourceId, SourcePatch,
};
use crate::resampling::Resampling;

/// A change of a project.
#[derive(Clone, Debug)]
pub enum Edit {
    /// Other values of the project itself.
    SetProject(ProjectSettings),
    /// Another value for one source.
    ReplaceSource {
        /// The source.
        id: SourceId,
        /// What it becomes.
        footage: Box<Footage>,
    },
    /// Another value for one frame.
    ReplaceFrame {
        /// The frame.
        id: FrameId,
        /// What it becomes.
        frame: Box<Deliverable>,
    },
    /// Parts of what one conversion adds.
    SetChoice {
        /// The conversion.
        pair: Pair,
        /// What is set.
        patch: Box<ChoicePatch>,
    },
    /// The same values for many sources.
    SetSources {
        /// The sources.
        ids: Vec<SourceId>,
        /// What is set.
        patch: Box<SourcePatch>,
    },
    /// The same values for many frames.
    SetFrames {
        /// The frames.
        ids: Vec<FrameId>,
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
    /// How the samples of many conversions are worked out.
    SetResampling {
        /// The conversions.
        pairs: Vec<Pair>,
        /// What is taken; none leaves it undecided.
        taken: Option<Resampling>,
    },
    /// A framing of its own for each of some conversions.
    SetFramings(Vec<(Pair, FramingSpec)>),
    /// A finding accepted, or opened again, wherever many conversions have it.
    JudgeFinding {
        /// The conversions.
        pairs: Vec<Pair>,
        /// The finding's code.
        code: &'static str,
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
        /// The sources.
        ids: Vec<SourceId>,
        /// The active picture.
        picture: Box<HouseActivePicture>,
    },
    /// New sources.
    AddSources(Vec<Footage>),
    /// New frames.
    AddFrames(Vec<Deliverable>),
    /// Sources, frames, and framings between them that come from elsewhere, such as a list from set. What is there
    /// already, by its name and for a frame its raster, is not added again: the framings go to it. A framing that comes
    /// is also kept as the imported one, to be compared with.
    Bring {
        /// The sources.
        sources: Vec<Footage>,
        /// The frames.
        frames: Vec<Deliverable>,
        /// The framings between them.
        framings: Vec<BroughtFraming>,
        /// Whether sources that are there take what they say now, but for what was typed over.
        update: bool,
    },
    /// A turned copy of each of these frames.
    TurnFrames(Vec<FrameId>),
    /// Fewer sources and frames.
    Delete {
        /// The sources.
        sources: Vec<SourceId>,
        /// The frames.
        frames: Vec<FrameId>,
    },
}
