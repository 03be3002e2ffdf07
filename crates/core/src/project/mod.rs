//! What a project keeps and how it is changed: footage, delivery frames and framings, in the
//! spelling of the person who entered them, each with the checked geometry that plans are made of.

mod crossing;
mod deliverable;
mod edit;
mod footage;
mod framing_spec;
mod house;
mod mismatch;
mod patch;
mod placing;
mod proposal;
mod signal;
mod text;
mod way;

pub use crossing::{Crossing, Judgement, Speaker};
pub use deliverable::{Deliverable, FrameSpec};
pub use edit::{Edit, Pair};
pub use footage::{Footage, SourceSpec};
pub use framing_spec::{Acceptance, Choice, ChoicePatch, FramingSpec};
pub use house::{HouseActivePicture, HouseFrame};
pub use mismatch::{Alike, Mismatch, Remedy, group};
pub use patch::{FramePatch, FramingPatch, ProjectSettings, SourcePatch};
pub use placing::Placing;
pub use proposal::{Proposal, ProposedChange};
pub use signal::{Playback, Scan, SignalRange};
pub use text::{Name, Note};
pub use way::{LONGEST_WAY, Layout, way};
