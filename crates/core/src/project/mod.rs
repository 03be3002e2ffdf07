//! What a project keeps and how it is changed: footage, delivery frames and framings, in the
//! spelling of the person who entered them, each with the checked geometry that plans are made of.
//!
//! Start at [`Project`]: [`Project::apply`] works out an edit, [`Project::conversion`] and
//! [`Project::board`] what comes of it all. [`House`] is what is kept across projects.

mod alone;
mod apply;
mod bin;
mod bring;
mod changes;
mod choice;
mod contents;
mod conversion;
mod deliverable;
mod edit;
mod follow;
mod footage;
mod frame_patch;
mod frame_spec;
mod framing_spec;
mod house;
mod ids;
mod look;
mod neighbours;
mod on_sphere;
mod onward;
mod origin;
mod package;
mod placing;
mod points;
mod proposal;
mod renewal;
mod settings;
mod source_patch;
mod squeeze_check;
mod still;
mod text;
mod unchanged;
mod ways;

pub use alone::{Alone, OwnSize};
pub use bin::{Alike, Bin, BinGroup, Mismatch, Remedy};
pub use bring::{BroughtFraming, Framed};
pub use changes::{Change, Changes, EditError, Party};
pub use choice::{Acceptance, Choice, ChoicePatch};
pub use contents::Project;
pub use conversion::{Apart, Conversion, Judgement, Speaker};
pub use deliverable::Deliverable;
pub use edit::Edit;
pub use follow::Followed;
pub use footage::{Footage, SourceSpec};
pub use frame_patch::FramePatch;
pub use frame_spec::FrameSpec;
pub use framing_spec::{FramingPatch, FramingSpec};
pub use house::{House, HouseActivePicture, HouseChange, HouseChanges, HouseEdit, HouseFrame, HouseProfile, NotKept};
pub use ids::{ActivePictureId, FrameId, HouseFrameId, Pair, ProfileId, ProjectId, SourceId, StateId, StepId};
pub use look::{Looking, Pictured, ViewSpec};
pub use on_sphere::OnSphere;
pub use onward::Onward;
pub use origin::{Aspect, Origin, Witness};
pub use package::{Conversions, Package, Packaged, Selection, Settled, Standing, Through};
pub use placing::Placing;
pub use points::{Affected, Cause, Point, PointRemedy, Share};
pub use proposal::{Proposal, Reach};
pub use renewal::{Difference, Renewal};
pub use settings::{ProjectSettings, Tolerances};
pub use source_patch::SourcePatch;
pub use still::{Content, Scene, StillFile, StillSpec};
pub use text::{Name, Note};
pub use unchanged::Unchanged;
pub use ways::{FrameWay, LONGEST_WAY, Passage, Ways, way};
