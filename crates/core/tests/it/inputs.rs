//! Random requests for the property tests, drawn from the bounds that the core itself checks.

use proptest::prelude::*;
use proptest::strategy::Union;
use ratiomet_core::limits::{self, Bounds};
use ratiomet_core::*;

/// Fractions within bounds: the ones people write, and unwieldy ones with 12 digits in each part.
fn within(bounds: Bounds, written: &'static [&'static str]) -> impl Strategy<Value = Exact> {
    let signed = bounds.low().is_negative();
    let sign = if signed { fraction::Sign::Allowed } else { fraction::Sign::Never };
    let written = prop::sample::select(written).prop_map(move |text| fraction::parse(text, sign).expect("a fraction"));
    let long = (1_i64..1_000_000_000_000, 1_i64..1_000_000_000_000)
        .prop_map(|(a, b)| Exact::from(a) / Exact::from(b))
        .prop_filter("within bounds", move |value| bounds.hold(value));
    Union::new_weighted(vec![(3, written.boxed()), (1, long.boxed())])
}

fn side() -> impl Strategy<Value = u32> {
    Union::new_weighted(vec![
        (4, prop::sample::select(&[720_u32, 576, 1080, 1920, 2160, 3840, 4096, 1716, 858][..]).boxed()),
        (2, (1_u32..=400).boxed()),
        (1, (1..=limits::LARGEST_SIDE).boxed()),
    ])
}

pub fn pixel_aspect() -> impl Strategy<Value = PixelAspect> {
    within(limits::PIXEL_ASPECT, &["1", "12:11", "10:11", "16:11", "40:33", "4/3", "0.1", "10"])
        .prop_map(|value| PixelAspect::new(value).expect("within bounds"))
}

fn squeeze() -> impl Strategy<Value = Squeeze> {
    within(limits::SQUEEZE, &["1", "1.33", "1.5", "1.8", "2", "0.5"])
        .prop_map(|value| Squeeze::new(value).expect("within bounds"))
}

pub fn ratio() -> impl Strategy<Value = DisplayRatio> {
    within(limits::DISPLAY_RATIO, &["1", "16:9", "2.35", "2.39", "9:16", "0.8", "100", "0.01"])
        .prop_map(|value| DisplayRatio::new(value).expect("within bounds"))
}

pub fn step() -> impl Strategy<Value = Step> {
    prop::sample::select(&Step::ALL[..])
}

pub fn raster<S: std::fmt::Debug>() -> impl Strategy<Value = Raster<S>> {
    (side(), side()).prop_map(|(width, height)| Raster::new(width, height).expect("within bounds"))
}

pub fn source() -> impl Strategy<Value = Source> {
    let inset = || Union::new_weighted(vec![(3, Just(0_u32).boxed()), (1, (0_u32..60).boxed())]);
    let rotation = prop::sample::select(&[0_u32, 90, 180, 270][..]);
    (raster(), pixel_aspect(), squeeze(), (inset(), inset(), inset(), inset()), rotation).prop_filter_map(
        "insets leave a picture",
        |(raster, pixel_aspect, squeeze, (left, top, right, bottom), rotation)| {
            let rotation = Rotation::new(rotation).expect("a quarter turn");
            Source::new(raster, pixel_aspect, squeeze, Insets { left, top, right, bottom }, rotation).ok()
        },
    )
}

pub fn frame() -> impl Strategy<Value = DeliveryFrame> {
    (raster(), pixel_aspect(), prop::option::weighted(0.4, ratio()), step())
        .prop_filter_map("the ratio leaves a picture", |(raster, pixel_aspect, ratio, step)| {
            DeliveryFrame::new(raster, pixel_aspect, ratio, step).ok()
        })
}

pub fn framing() -> impl Strategy<Value = Framing> {
    let zoom = within(limits::ZOOM, &["1", "1.1", "2", "0.5", "3/4"]).prop_map(|value| Zoom::new(value).expect("zoom"));
    let shift = || {
        within(limits::SHIFT, &["0", "-90", "12.5", "1/3", "2000", "-2000"])
            .prop_map(|value| Shift::new(value).expect("shift"))
    };
    (prop::sample::select(&Method::ALL[..]), zoom, shift(), shift())
        .prop_map(|(method, zoom, shift_x, shift_y)| Framing { method, zoom, shift_x, shift_y })
}
