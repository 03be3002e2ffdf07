//! Kind `weight`: how many bytes a delivery has.

use ratiomet_core::FrameRate;
use ratiomet_core::weight::{Kilobits, Megabits, Seconds, Weight};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use crate::number::{ExactNumber, FractionText};
use crate::read::{Field, Object};

/// A delivery of so many seconds. Mega is 10^6, kilo 10^3.
#[derive(Debug, Serialize, ToSchema)]
pub struct WeightRequest {
    /// Pixels across and down.
    #[schema(example = json!([1920, 1080]), minimum = 1, maximum = 65536)]
    pub frame: [u32; 2],
    /// Frames a second, from 1/1000 to 1000.
    pub rate: FractionText,
    /// The running time in seconds, over 0, up to 10^9.
    pub seconds: FractionText,
    /// Megabits a second of the picture, 0 to 10^6.
    pub video_mbps: FractionText,
    /// Kilobits a second of the sound, 0 to 10^6.
    #[schema(default = "0", required = false)]
    pub audio_kbps: FractionText,
}

/// What it weighs.
#[derive(Debug, Serialize, ToSchema)]
pub struct WeightResult {
    /// Bytes of picture and sound, rounded up.
    #[schema(value_type = u64)]
    pub bytes: i128,
    /// Bits of the picture for each of its pixels.
    pub bits_per_pixel: ExactNumber,
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let frame = object.required("frame", Field::raster);
    let rate = object.required("rate", |field| field.fraction(FrameRate::parse));
    let seconds = object.required("seconds", |field| field.fraction(Seconds::parse));
    let video = object.required("video_mbps", |field| field.fraction(Megabits::parse));
    let audio = object.fraction("audio_kbps", "0", Kilobits::parse);
    object.done()?;
    let weight = Weight::of(frame?, rate?.value(), seconds?.value(), video?.value(), audio?.value());
    Some(CalcResult::Weight(Box::new(WeightResult {
        bytes: weight.bytes,
        bits_per_pixel: ExactNumber(weight.bits_per_pixel),
    })))
}
