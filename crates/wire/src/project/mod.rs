//! Projects as JSON: what people enter, what they see, and how they change it.

mod bin;
mod conversion;
mod edit;
mod history;
mod house;
mod points;
mod renewal;
mod resources;
mod values;
mod way;

pub use bin::{BinGroupResult, BinSummary, RemedyResult};
pub use conversion::{
    ConversionResource, JudgedFinding, PreviewRequest, ProposalResult, Rest, RestsResult, RoundingCostResult,
    SharesResult,
};
pub use edit::{EditResult, refused_at};
pub use history::{GoRequest, History, HistoryHead, HistoryStep, InTheWay, TakeBackRequest, Turn, UndoTurn};
pub use house::{
    ActivePictureResource, HouseFrameResource, HouseProfileResource, ImportResult, Library, PublishedEntry,
    PublishedGroup,
};
pub use points::{CauseName, PointRemedyResult, PointResource, PointsResult};
pub use renewal::{DifferenceResult, RenewalResult};
pub use resources::{
    Board, CadenceSummary, Crossing, FrameResource, Known, Parts, ProjectResource, SetAside, SourceResource,
    SpeakerName, Take,
};
pub use way::{FrameWayResult, WaySource, WaysResult};
