//! Footage and frames of a project, plain but for what a test changes.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::*;
use ratiomet_core::signal::{Scan, SignalRange};
use ratiomet_core::*;

pub fn name(text: &str) -> Name {
    Name::new(text).expect("a name")
}

pub fn rate(text: &str) -> Written<FrameRate> {
    Written::parse(text, FrameRate::spoken).expect("a rate")
}

pub fn squeeze(text: &str) -> Written<Squeeze> {
    Written::parse(text, Squeeze::parse).expect("a squeeze")
}

/// A progressive clip at 25 with square pixels.
pub fn clip(called: &str, width: u32, height: u32) -> Footage {
    let raster = Raster::new(width, height).expect("a raster");
    let square = Written::parse("1", PixelAspect::parse).expect("a shape");
    let geometry = SourceSpec::new(raster, square, squeeze("1"), Insets::default(), Rotation::None);
    Footage {
        rate: Some(rate("25")),
        scan: Some(Scan::Progressive),
        signal_range: Some(SignalRange::Narrow),
        ..Footage::of(name(called), geometry.expect("a geometry"))
    }
}

/// The clip with some of its values changed.
#[track_caller]
pub fn with(clip: &Footage, patch: &SourcePatch) -> Footage {
    patch.apply(clip).expect("values that go together")
}

/// A progressive frame at 25 with square pixels.
pub fn delivered(called: &str, width: u32, height: u32) -> Deliverable {
    let square = Written::parse("1", PixelAspect::parse).expect("a shape");
    let raster = Raster::new(width, height).expect("a raster");
    let geometry = FrameSpec::new(raster, square, None, Step::Two).expect("a geometry");
    Deliverable { rate: Some(rate("25")), ..Deliverable::of(name(called), geometry) }
}

/// The frame with some of its values changed.
#[track_caller]
pub fn framed(frame: &Deliverable, patch: &FramePatch) -> Deliverable {
    patch.apply(frame).expect("values that go together")
}

/// The conversion of a clip into a frame as a project has it, on a board with this method.
pub fn converted(footage: &Footage, frame: &Deliverable, choice: &Choice, board: Placing) -> Conversion {
    project(footage, frame, choice, board).conversion(PAIR).expect("both are there")
}

/// The only conversion of [`project`].
pub const PAIR: Pair = Pair::new(SourceId::new(1), FrameId::new(1));

/// A project with one clip, one frame and what their conversion adds.
pub fn project(footage: &Footage, frame: &Deliverable, choice: &Choice, board: Placing) -> Project {
    let mut project = Project::new(ProjectSettings { method: board, ..ProjectSettings::named(name("P")) });
    project.put_source(PAIR.source, Some(footage.clone()));
    project.put_frame(PAIR.frame, Some(frame.clone()));
    project.put_choice(PAIR, choice.clone());
    project
}
