//! Values in answers, under the names of their schemas.

use ratiomet_core::finding::FindingKey;
use ratiomet_core::project::{
    Acceptance, Choice, ChoicePatch, Deliverable, Edit, Footage, FramingSpec, HouseActivePicture, HouseFrame,
    HouseProfile, Placing, ProjectSettings,
};
use ratiomet_core::resampling::Resampling;

use crate::calc::{CalcRequest, CalcRequests};
use crate::describe::Values;
use crate::project::{GoRequest, PreviewRequest, TakeBackRequest};
use crate::values::Code;

/// A finding that may stay.
pub type AcceptedFinding = Values<Acceptance>;
/// The values of an active picture of the house.
pub type ActivePictureValues = Values<HouseActivePicture>;
/// A request of a calculation.
pub type CalcRequestValues = Values<CalcRequest>;
/// Several requests.
pub type CalcRequestsValues = Values<CalcRequests>;
/// Parts of what a conversion adds.
pub type ChoiceSet = Values<ChoicePatch>;
/// What a conversion adds.
pub type ChoiceValues = Values<Choice>;
/// A change of many things.
pub type EditRequest = Values<Edit>;
/// The code of a finding.
pub type FindingCode = Values<Code>;
/// The numbers of a finding.
pub type FindingNumbers = Values<FindingKey>;
/// Where a project puts a picture.
pub type FramingChoice = Values<FramingSpec>;
/// The values of a frame.
pub type FrameValues = Values<Deliverable>;
/// The values of a frame of the house.
pub type HouseFrameValues = Values<HouseFrame>;
/// The values of a typing profile.
pub type HouseProfileValues = Values<HouseProfile>;
/// A wish to go to a step.
pub type GoValues = Values<GoRequest>;
/// A wish to take a step back.
pub type TakeBackValues = Values<TakeBackRequest>;
/// What a conversion would be.
pub type PreviewValues = Values<PreviewRequest>;
/// How a project places a picture.
pub type PlacingName = Values<Placing>;
/// The values of a project.
pub type ProjectValues = Values<ProjectSettings>;
/// How samples are worked out.
pub type ResamplingValues = Values<Resampling>;
/// The values of a source.
pub type SourceValues = Values<Footage>;
