//! From the core's inputs to the bare numbers of the reference.

use num_rational::BigRational;
use ratiomet_core::{DeliveryFrame, Exact, Framing, Source};

use crate::reference::Inputs;

/// The fraction that a number is written as.
pub fn big(value: &Exact) -> BigRational {
    value.to_string().parse().expect("a fraction in digits")
}

/// What a plan is made of, as people would write it down.
pub fn inputs(source: &Source, frame: &DeliveryFrame, framing: &Framing) -> Inputs {
    let insets = source.insets();
    Inputs {
        stored: [source.raster().width(), source.raster().height()],
        insets: [insets.left, insets.top, insets.right, insets.bottom],
        shape: big(source.pixel_aspect().value()) * big(source.squeeze().value()),
        degrees: source.rotation().degrees(),
        delivered: [frame.raster().width(), frame.raster().height()],
        delivered_shape: big(frame.pixel_aspect().value()),
        ratio: frame.picture_ratio().map(|ratio| big(ratio.value())),
        step: frame.step().pixels(),
        method: framing.method.word(),
        zoom: big(framing.zoom.value()),
        shift: [big(framing.shift_x.value()), big(framing.shift_y.value())],
    }
}
