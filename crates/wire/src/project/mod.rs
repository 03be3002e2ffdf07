//! Projects as JSON: what people enter, what they see, how they change it, and how it is kept in
//! files.

mod bin;
mod document;
mod edit;
mod history;
mod library;
mod screens;
mod values;

pub use bin::{BinGroup, BinSummary, RemedyResult};
pub use document::{ProjectContents, ProjectDocument, read_project_document};
pub use edit::{EditRequest, EditResult, FrameSet, FramingSet, SourceSet, read_edit};
pub use history::{GoRequest, History, HistoryHead, HistoryStep, Turn, read_go};
pub use library::{
    ActivePictureResource, ActivePictureValues, HouseFrameResource, HouseFrameValues, ImportResult, Library,
    LibraryDocument, PublishedEntry, PublishedGroup, read_active_picture, read_house_frame, read_library_document,
};
pub use screens::{Board, CadenceSummary, Conversion, Crossing, Frame, Project, Source, SpeakerName};
pub use values::{
    ChoiceValues, FrameValues, PlaybackName, ProjectValues, ScanName, SignalRangeName, SourceValues, read_choice,
    read_frame_values, read_project_values, read_source_values,
};
