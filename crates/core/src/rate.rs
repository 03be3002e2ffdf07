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

/// Rates whose NTSC relatives, 1000/1001 of them, are written with two or three decimals.
const WHOLE_RATES: [u32; 11] = [12, 15, 24, 30, 48, 60, 72, 96, 120, 144, 240];

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
        let meant = WHOLE_RATES.into_iter().map(|whole| Exact::whole(whole * 1_000) / Exact::whole(1_001)).find(near);
        meant.map_or(Ok(plain), Self::new)
    }
}
