//! Whether a squeeze was forgotten, or set twice.

use crate::finding::Squeezing;
use crate::placement::match_of;
use crate::project::SourceSpec;
use crate::published::{SQUEEZES, is_often_squeezed};
use crate::{DeliveryFrame, Exact, Finding, Framing, PixelAspect, Source, Squeeze};

/// How well a picture and its area match where the squeeze explains the difference, and where it does not.
const MATCHES: [Exact; 2] = [Exact::fraction(98, 100), Exact::fraction(80, 100)];

/// Whether the numbers look as if a squeeze was forgotten, or set twice.
pub(super) fn of(geometry: &SourceSpec, frame: &DeliveryFrame, placed: &Framing) -> Option<Finding> {
    let (aspect, squeeze) = (geometry.pixel_aspect().value(), geometry.squeeze().value());
    let square = *aspect == PixelAspect::SQUARE;
    if !square && *squeeze != Squeeze::NONE {
        let apart = (aspect.value() / squeeze.value() - Exact::ONE).abs();
        return (apart <= Exact::fraction(1, 50)).then(|| {
            Finding::Squeeze(Squeezing::Twice {
                pixel_aspect: aspect.value().clone(),
                squeeze: squeeze.value().clone(),
            })
        });
    }
    let source = geometry.source();
    let upright = source.upright();
    let shape = &upright.width / &upright.height;
    let stored = if geometry.rotation().swaps_axes() { Exact::ONE / shape } else { shape };
    if !square || *squeeze != Squeeze::NONE || !is_often_squeezed(&stored) {
        return None;
    }
    let matches = |source: &Source| match_of(source, frame, placed);
    if matches(source) >= MATCHES[1] {
        return None;
    }
    SQUEEZES.iter().filter(|text| **text != "1").find_map(|text| {
        let squeeze = Squeeze::parse(text).ok()?;
        let squeezed = Source::new(
            geometry.raster(),
            PixelAspect::SQUARE,
            squeeze.clone(),
            geometry.insets(),
            geometry.rotation(),
        )
        .ok()?;
        (matches(&squeezed) >= MATCHES[0])
            .then(|| Finding::Squeeze(Squeezing::Missing { squeeze: squeeze.value().clone() }))
    })
}
