//! What to type, in words: cut, turn, size and place, in the order in which they are typed.

use ratiomet_core::Exact;
use ratiomet_core::cadence::Intent;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Package, Packaged};
use ratiomet_core::signal::{RangePlan, RatePlan, Scan};
use ratiomet_core::typing::{PlaceUnit, Upwards, ZoomUnit};

/// What to type for a conversion, each with what it is called.
pub(crate) fn lines(package: &Package, packaged: &Packaged) -> Vec<(&'static str, String)> {
    let profile = &package.profile.profile;
    let typed = package.to_type(packaged);
    let numbers = typed.safe.as_ref().unwrap_or(&typed.rounded);
    let zoom = |value: &Exact| {
        let unit = if profile.zoom_unit == ZoomUnit::Percent { " %" } else { "x" };
        format!("{}{unit}", value.to_decimal(profile.zoom_decimals))
    };
    let place = |value: &Exact| {
        let unit = if profile.unit == PlaceUnit::Pixels { " px" } else { "" };
        format!("{}{unit}", value.to_decimal(profile.place_decimals))
    };
    let mut lines = Vec::new();
    if let Some(cut) = typed.cut {
        let [left, top, right, bottom] = cut.sides();
        lines.push(("cut l/t/r/b", format!("{left} / {top} / {right} / {bottom} stored px")));
    }
    if typed.turn != 0 {
        lines.push(("rotate", format!("{} degrees, {}", typed.turn, profile.turn_sign.word())));
    }
    if typed.is_uniform {
        lines.push(("zoom", zoom(&numbers.zoom.y)));
    } else {
        lines.push(("width, height", format!("{}, {}", zoom(&numbers.zoom.x), zoom(&numbers.zoom.y))));
    }
    let up = if profile.upwards == Upwards::Up { "up" } else { "down" };
    lines.push(("position", format!("{} right, {} {up}", place(&numbers.place.x), place(&numbers.place.y))));
    lines
}

/// How the file of a conversion is made, the level that it needs and what it weighs; none where nobody has said how.
pub(crate) fn file(package: &Package, packaged: &Packaged) -> Option<String> {
    let frame = package.frame_of(packaged);
    let file = frame.file.as_ref()?;
    let mut words = file.words();
    let (raster, rate) = (frame.geometry.frame().raster(), frame.rate.as_ref().map(Written::value));
    if let (None, Some(level)) = (&file.parts().level, file.level_needed(raster, rate)) {
        words += &format!("; needs level {level}");
    }
    if let Some(weight) = package.weight_of(packaged) {
        words += &format!("; {weight}");
    }
    Some(words)
}

/// Rate, scan and range of a conversion, and what is done where source and frame differ.
pub(crate) fn signal(package: &Package, packaged: &Packaged) -> String {
    let (source, frame) = (package.source_of(packaged), package.frame_of(packaged));
    let rate = match (&source.rate, &frame.rate) {
        (Some(from), Some(to)) if from.value() == to.value() => {
            format!("{} fps", to.value().value().to_short_decimal(3))
        }
        (Some(from), Some(to)) => {
            let how = match (source.playback, source.rate_plan) {
                (Intent::EveryFrame, _) => "every frame once",
                (Intent::RealTime, RatePlan::Blend) => "blended",
                (Intent::RealTime, RatePlan::Drop) => "drop or repeat",
                (Intent::RealTime, RatePlan::Open) => "drop or repeat, not decided",
            };
            let fps = |rate: &ratiomet_core::FrameRate| rate.value().to_short_decimal(3);
            format!("{} to {} fps ({how})", fps(from.value()), fps(to.value()))
        }
        (None, _) => "source rate not known".to_owned(),
        (_, None) => "frame rate open".to_owned(),
    };
    let scan = match source.scan {
        None => format!("scan unknown, to {}", frame.scan.word()),
        Some(scan) if scan == frame.scan => scan.word().to_owned(),
        Some(Scan::Interlaced) if source.deinterlace => "interlaced to progressive (deinterlaced)".to_owned(),
        Some(scan) => format!("{} to {} (as stored)", scan.word(), frame.scan.word()),
    };
    let range = match source.signal_range {
        None => "range unknown".to_owned(),
        Some(range) if range == frame.signal_range => format!("{} range", range.word()),
        Some(range) => {
            let how = match source.range_plan {
                RangePlan::Convert => "converted",
                RangePlan::Declare => "kept and declared",
                RangePlan::Open => "not decided",
            };
            format!("{} to {} range ({how})", range.word(), frame.signal_range.word())
        }
    };
    format!("{rate}; {scan}; {range}")
}
