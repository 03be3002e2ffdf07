//! Projects as JSON: what people enter, what they see, how they change it, and how it is kept in
//! files.

mod bin;
mod conversion;
mod document;
mod edit;
mod history;
mod library;
mod screens;
mod values;
mod way;

pub use bin::{BinGroup, BinSummary, RemedyResult};
pub use conversion::{
    Conversion, EntryRequest, JudgedFinding, Preview, PreviewRequest, ProposalResult, Rest, RestsResult,
    RoundingCostResult, SharesResult, read_preview,
};
pub use document::{ProjectContents, ProjectDocument, read_project_document};
pub use edit::{EditRequest, EditResult, FrameSet, FramingSet, SourceSet, read_edit};
pub use history::{GoRequest, History, HistoryHead, HistoryStep, Turn, read_go};
pub use library::{
    ActivePictureResource, ActivePictureValues, HouseFrameResource, HouseFrameValues, ImportResult, Library,
    LibraryDocument, PublishedEntry, PublishedGroup, read_active_picture, read_house_frame, read_library_document,
};
pub use screens::{Board, CadenceSummary, Crossing, Frame, Project, Source, SpeakerName};
pub use values::{
    AcceptedFinding, ChoiceSet, ChoiceValues, FrameValues, FramingChoice, PlacingName, PlaybackName, ProjectValues,
    ScanName, SignalRangeName, SourceValues, read_choice, read_choice_patch, read_frame_values, read_project_values,
    read_source_values,
};
pub use way::{FrameWay, WaySource, WaysResult};
