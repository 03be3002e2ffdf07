//! The bin against a frame, as JSON.

use ratiomet_core::Rotation;
use ratiomet_core::project::Remedy;
use serde::Serialize;
use utoipa::ToSchema;

use super::edit::{EditRequest, SourceSet};
use super::values::{FramingChoice, PlacingName, PlaybackName};
use crate::number::FractionText;

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
    pub groups: Vec<BinGroup>,
}

/// Sources of one kind.
#[derive(Debug, Serialize, ToSchema)]
pub struct BinGroup {
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
    #[schema(example = "Stored sideways? Turn 90°")]
    pub words: String,
    /// The edit that does it.
    pub edit: EditRequest,
}

impl RemedyResult {
    /// The remedy for these sources in this frame.
    pub fn new(remedy: Remedy, sources: &[i32], frame: i32) -> Self {
        let set = |set: SourceSet| EditRequest::SetSources { sources: sources.to_vec(), set: Box::new(set) };
        match remedy {
            Remedy::Turn => Self {
                words: format!("Stored sideways? Turn {}°", Rotation::Quarter.degrees()),
                edit: set(SourceSet { rotation: Some(Rotation::Quarter.degrees()), ..SourceSet::default() }),
            },
            Remedy::EveryFrame => Self {
                words: "Show every frame once, in slow motion".to_owned(),
                edit: set(SourceSet { playback: Some(PlaybackName::EveryFrame), ..SourceSet::default() }),
            },
            Remedy::Fill => Self {
                words: "Fill the frame with them".to_owned(),
                edit: EditRequest::SetConversions {
                    conversions: sources.iter().map(|source| [*source, frame]).collect(),
                    own: Some(FramingChoice {
                        method: PlacingName::Fill,
                        zoom: FractionText("1".to_owned()),
                        shift: [FractionText("0".to_owned()), FractionText("0".to_owned())],
                    }),
                },
            },
        }
    }
}
