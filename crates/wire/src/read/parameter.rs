//! From a parameter of the core to the field of a request that was sent for it.

use ratiomet_core::error::Parameter;

use super::Field;

/// The names of a parameter in requests, and of the fields that can cause the same refusal where it was not
/// sent; the likeliest first. A number is a place in an array.
const fn names(parameter: Parameter) -> &'static [&'static str] {
    match parameter {
        Parameter::Active => &["active", "insets", "raster"],
        Parameter::AverageRate => &["average_mbps"],
        Parameter::Centre => &["centre"],
        Parameter::Chroma => &["chroma", "profile"],
        Parameter::ConstantQuality => &["constant_quality"],
        Parameter::Container => &["container"],
        Parameter::Depth => &["depth"],
        Parameter::Framing => &["framing", "delivery"],
        Parameter::Height => &["height", "raster/1", "raster"],
        Parameter::HighestRate => &["highest_mbps"],
        Parameter::Horizon => &["horizon"],
        Parameter::KeyframeDistance => &["keyframe_distance"],
        Parameter::Level => &["level"],
        Parameter::PictureRatio => &["picture_ratio", "raster"],
        Parameter::PixelsPerDegree => &["pixels_per_degree"],
        Parameter::Profile => &["profile"],
        Parameter::Raster => &["raster"],
        Parameter::Ratio => &["ratio"],
        Parameter::Sound => &["sound"],
        Parameter::Squeeze => &["squeeze", "pixel_aspect", "raster"],
        Parameter::Step => &["step", "raster"],
        Parameter::Through => &["through"],
        Parameter::Uprights => &["uprights"],
        Parameter::Value => &["value"],
        Parameter::Width => &["width", "raster/0", "raster"],
    }
}

/// The name of a parameter in requests.
pub(crate) const fn name_of(parameter: Parameter) -> &'static str {
    names(parameter)[0]
}

/// The pointer to the field that was sent for a parameter: in the value itself, or in one of its parts.
pub(super) fn sent(whole: &Field<'_>, parameter: Parameter) -> Option<String> {
    names(parameter).iter().find_map(|name| {
        let (key, place) = name.split_once('/').map_or((*name, None), |(key, place)| (key, Some(place)));
        let pointer = find(whole, key, 3)?;
        Some(place.map_or_else(|| pointer.clone(), |place| format!("{pointer}/{place}")))
    })
}

/// A field of this name, the nearest to the top first.
fn find(field: &Field<'_>, key: &str, depth: usize) -> Option<String> {
    let object = field.peek()?;
    if object.given().any(|given| given == key) {
        return Some(format!("{}/{key}", field.pointer()));
    }
    if depth == 0 {
        return None;
    }
    object.parts().find_map(|part| find(&part, key, depth - 1))
}
