//! [`Weight`]: how many bytes a delivery has, and how many bits each pixel gets.

use crate::bounded::bounded;
use crate::fraction::Sign;
use crate::space::Delivery;
use crate::{Exact, FrameRate, Raster, limits};

bounded! {
    /// A running time in seconds.
    ///
    /// # Guarantees
    /// Over 0, up to 1,000,000,000.
    Seconds, limits::SECONDS, Sign::Never
}

bounded! {
    /// Bits a second of the picture, in millions.
    ///
    /// # Guarantees
    /// From 0 to 1,000,000.
    Megabits, limits::BITS, Sign::Never
}

bounded! {
    /// Bits a second of the sound, in thousands.
    ///
    /// # Guarantees
    /// From 0 to 1,000,000.
    Kilobits, limits::BITS, Sign::Never
}

/// A delivery weighed.
#[derive(Clone, Debug)]
pub struct Weight {
    /// Bytes of picture and sound together, rounded up.
    pub bytes: i128,
    /// Bits of the picture for each of its pixels.
    pub bits_per_pixel: Exact,
}

impl Weight {
    /// What so many seconds weigh. Mega is 10^6 and kilo 10^3.
    ///
    /// ```
    /// use ratiomet_core::{Exact, FrameRate, Raster, weight::*};
    /// let weight = Weight::of(
    ///     Raster::new(1920, 1080)?,
    ///     &FrameRate::parse("25")?,
    ///     &Seconds::parse("90")?,
    ///     &Megabits::parse("12")?,
    ///     &Kilobits::parse("192")?,
    /// );
    /// assert_eq!(weight.bytes, 137_160_000);
    /// assert_eq!(weight.bits_per_pixel, Exact::fraction(25, 108));
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(
        frame: Raster<Delivery>,
        rate: &FrameRate,
        seconds: &Seconds,
        video: &Megabits,
        audio: &Kilobits,
    ) -> Self {
        let picture = video.value() * Exact::whole(1_000_000);
        let sound = audio.value() * Exact::whole(1_000);
        let bits = (&picture + sound) * seconds.value();
        let pixels = frame.size().area() * rate.value();
        Self { bytes: (bits / Exact::whole(8)).reduced().ceil(), bits_per_pixel: (picture / pixels).reduced() }
    }
}
