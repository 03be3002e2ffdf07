//! Footage and frames of a project, plain but for what a test changes.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::*;
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
        name: name(called),
        note: Note::default(),
        geometry: geometry.expect("a geometry"),
        rate: Some(rate("25")),
        scan: Scan::Progressive,
        signal_range: SignalRange::Narrow,
        playback: Playback::RealTime,
        subject: None,
        method: None,
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
    Deliverable {
        name: name(called),
        note: Note::default(),
        geometry: FrameSpec::new(raster, square, None, Step::Two).expect("a geometry"),
        rate: Some(rate("25")),
        scan: Scan::Progressive,
        signal_range: SignalRange::Narrow,
        safe_areas: Vec::new(),
        guides: Vec::new(),
        through: None,
        method: None,
    }
}

/// The frame with some of its values changed.
#[track_caller]
pub fn framed(frame: &Deliverable, patch: &FramePatch) -> Deliverable {
    patch.apply(frame).expect("values that go together")
}
