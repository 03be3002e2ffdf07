//! What to type, in words: cut, turn, size and place, in the order in which they are typed.

use ratiomet_core::Exact;
use ratiomet_core::project::{Package, Packaged};
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
