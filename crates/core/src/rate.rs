//! [`FrameRate`]: frames a second.

use crate::bounded::bounded;
use crate::fraction::Sign;
use crate::{Error, Exact, limits};

bounded! {
    /// Frames a second, exact: the NTSC rates are `24000/1001`, `30000/1001` and `60000/1001`.
    ///
    /// # Guarantees
    /// From 1/1000 to 1000.
    ///
    /// ```
    /// # use ratiomet_core::FrameRate;
    /// assert!(FrameRate::parse("24000/1001").is_ok());
    /// assert!(FrameRate::parse("0").is_err());
    /// ```
    FrameRate, limits::RATE, Sign::Never
}

/// Whole rates that footage is shot and shown at (common practice).
const WHOLE: [u32; 23] =
    [8, 10, 12, 15, 16, 18, 20, 24, 25, 30, 48, 50, 60, 72, 90, 96, 100, 120, 144, 150, 180, 200, 240];
/// Whole rates that have a relative of 1000/1001 of them, as the colour television of 525 lines has it
/// (SMPTE ST 170, from memory).
const WITH_RELATIVE: [u32; 11] = [12, 15, 24, 30, 48, 60, 72, 96, 120, 144, 240];
/// By so much, in proportion, a measured rate may be off a known one.
const OFF: Exact = Exact::fraction(1, 10_000);

fn relatives() -> impl Iterator<Item = Exact> {
    WITH_RELATIVE.into_iter().map(|whole| Exact::whole(whole * 1_000) / Exact::whole(1_001))
}

impl FrameRate {
    /// The rate that a person means: as [`FrameRate::parse`], but the decimal names of the NTSC
    /// rates, rounded or cut short, are the exact rates.
    ///
    /// # Errors
    /// Those of [`FrameRate::parse`].
    ///
    /// ```
    /// # use ratiomet_core::FrameRate;
    /// assert_eq!(FrameRate::spoken("23.976")?, FrameRate::parse("24000/1001")?);
    /// assert_eq!(FrameRate::spoken("29.97")?, FrameRate::parse("30000/1001")?);
    /// assert_eq!(FrameRate::spoken("12.5")?, FrameRate::parse("12.5")?);
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn spoken(text: &str) -> Result<Self, Error> {
        let plain = Self::parse(text)?;
        let Some((_, decimals)) = text.split_once('.').filter(|_| !text.contains(['/', ':'])) else {
            return Ok(plain);
        };
        if !(2..=3).contains(&decimals.len()) {
            return Ok(plain);
        }
        let unit = if decimals.len() == 2 { Exact::fraction(1, 100) } else { Exact::fraction(1, 1_000) };
        let near = |rate: &Exact| {
            let off = (plain.value() - rate) / &unit;
            // Rounded: half a unit either way. Cut short: up to a whole unit below.
            off > Exact::fraction(-1, 1) && off <= Exact::fraction(1, 2)
        };
        relatives().find(near).map_or(Ok(plain), Self::new)
    }

    /// The known rate that a measured one was meant to be; none when no known rate is near.
    ///
    /// ```
    /// # use ratiomet_core::{Exact, FrameRate};
    /// // A duration of 41,708,333 whole nanoseconds.
    /// let measured = Exact::fraction(1_000_000_000, 41_708_333);
    /// assert_eq!(FrameRate::known(&measured), Some(FrameRate::parse("24000/1001").unwrap()));
    /// assert_eq!(FrameRate::known(&Exact::fraction(173, 10)), None);
    /// ```
    pub fn known(measured: &Exact) -> Option<Self> {
        let off = |known: &Exact| (measured / known - Exact::ONE).abs();
        let all = WHOLE.into_iter().map(Exact::whole).chain(relatives());
        let nearest = all.min_by(|one, other| off(one).cmp(&off(other)))?;
        if off(&nearest) < OFF { Self::new(nearest).ok() } else { None }
    }
}
