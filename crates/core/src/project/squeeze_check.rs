//! Whether one correction was set in two places.

use crate::finding::Squeezing;
use crate::project::SourceSpec;
use crate::{Exact, Finding, PixelAspect, Squeeze};

/// Whether pixel shape and squeeze look as if they were one correction that was set twice.
pub(super) fn of(geometry: &SourceSpec) -> Option<Finding> {
    let (aspect, squeeze) = (geometry.pixel_aspect().value(), geometry.squeeze().value());
    if *aspect == PixelAspect::SQUARE || *squeeze == Squeeze::NONE {
        return None;
    }
    let apart = (aspect.value() / squeeze.value() - Exact::ONE).abs();
    (apart <= Exact::fraction(1, 50)).then(|| {
        Finding::Squeeze(Squeezing::Twice { pixel_aspect: aspect.value().clone(), squeeze: squeeze.value().clone() })
    })
}
