//! Kind `weight`: bits.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::space::Delivery;
use ratiomet_core::weight::{Kilobits, Megabits, Seconds, Weight};
use ratiomet_core::{FrameRate, Raster};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;
use crate::number::ExactNumber;

/// The request.
#[derive(Clone, Debug)]
pub struct WeightRequest {
    frame: Raster<Delivery>,
    rate: FrameRate,
    seconds: Seconds,
    video_mbps: Megabits,
    audio_kbps: Kilobits,
}

record!(
    /// A delivery of so many seconds. Mega is 10^6, kilo 10^3.
    "WeightRequest", "deliveries" for WeightRequest {
        /// Pixels across and down.
        frame: Raster<Delivery> = Required, |request| request.frame;
        /// Frames a second.
        rate: FrameRate = Required, |request| request.rate.clone();
        /// The running time in seconds.
        seconds: Seconds = Required, |request| request.seconds.clone();
        /// Megabits a second of the picture.
        video_mbps: Megabits = Required, |request| request.video_mbps.clone();
        /// Kilobits a second of the sound.
        audio_kbps: Kilobits = Default(r#""0""#), |request| request.audio_kbps.clone();
    }
    |frame, rate, seconds, video_mbps, audio_kbps| Ok(WeightRequest { frame, rate, seconds, video_mbps, audio_kbps })
);

impl Kind for WeightRequest {
    fn calculation(self) -> Calculation {
        Calculation::Weight(self.frame, self.rate, self.seconds, self.video_mbps, self.audio_kbps)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Weight(frame, rate, seconds, video_mbps, audio_kbps) = calculation.clone() else {
            return None;
        };
        Some(Self { frame, rate, seconds, video_mbps, audio_kbps })
    }
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

impl From<Weight> for WeightResult {
    fn from(weight: Weight) -> Self {
        Self { bytes: weight.bytes, bits_per_pixel: ExactNumber(weight.bits_per_pixel) }
    }
}
