//! The bin against a frame, as JSON.

use ratiomet_core::project::{Bin, BinGroup, FrameId};
use serde::Serialize;
use utoipa::ToSchema;

use crate::describe::Values;
use crate::names::EditRequest;

/// The bin of a project against one of its frames.
#[derive(Debug, Serialize, ToSchema)]
pub struct BinSummary {
    /// The frame's number.
    pub frame: i32,
    /// How many sources there are.
    pub sources: usize,
    /// How many can go into the frame as they are.
    pub matching: usize,
    /// How many differ in what, by the words of `differs`.
    pub differing: Vec<(&'static str, usize)>,
    /// The sources by kind, the largest group first.
    pub groups: Vec<BinGroupResult>,
}

/// Sources of one kind.
#[derive(Debug, Serialize, ToSchema)]
#[schema(as = BinGroup)]
pub struct BinGroupResult {
    /// What they are.
    #[schema(example = "5120x2700 at 25")]
    pub words: String,
    /// Their numbers, in the order of their names.
    pub sources: Vec<i32>,
    /// In what they differ from the frame; empty when they match it.
    pub differs: Vec<&'static str>,
    /// How many of their conversions are clean, need a look, must stop.
    pub clean: usize,
    /// How many need a look.
    pub caution: usize,
    /// How many must stop.
    pub stop: usize,
    /// What would help; null when nothing simple does.
    pub remedy: Option<RemedyResult>,
}

/// One thing to do about a group.
#[derive(Debug, Serialize, ToSchema)]
pub struct RemedyResult {
    /// In words.
    #[schema(example = "Stored sideways? Rotate 90°")]
    pub words: &'static str,
    /// The edit that does it.
    pub edit: EditRequest,
}

impl BinSummary {
    /// The bin against this frame.
    pub fn new(frame: FrameId, bin: Bin) -> Self {
        let group = |group: BinGroup| BinGroupResult {
            words: group.kind.words(),
            differs: group.mismatch.words(),
            clean: group.clean,
            caution: group.caution,
            stop: group.stop,
            remedy: group
                .remedy
                .map(|remedy| RemedyResult { words: remedy.words(), edit: Values(remedy.edit(&group.sources, frame)) }),
            sources: group.sources.iter().map(|source| source.number()).collect(),
        };
        Self {
            frame: frame.number(),
            sources: bin.sources,
            matching: bin.matching,
            differing: bin.differing,
            groups: bin.groups.into_iter().map(group).collect(),
        }
    }
}
