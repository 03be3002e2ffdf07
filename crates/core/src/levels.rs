//! [`Levels`]: what a decoder must take, by the tables of ITU-T H.264 and H.265.

use crate::space::Delivery;
use crate::{Exact, FrameRate, Raster};

/// One row of ITU-T H.264 (2021), Table A-1 (from memory).
struct H264 {
    level: &'static str,
    /// Macroblocks a second.
    rate: u64,
    /// Macroblocks a frame.
    frame: u64,
}

/// One row of ITU-T H.265 (2021), Tables A.8 and A.9, Main tier limits that do not concern bits (from memory).
struct H265 {
    level: &'static str,
    /// Luma samples a second.
    rate: u64,
    /// Luma samples a picture.
    picture: u64,
}

const fn h264(level: &'static str, rate: u64, frame: u64) -> H264 {
    H264 { level, rate, frame }
}

const fn h265(level: &'static str, rate: u64, picture: u64) -> H265 {
    H265 { level, rate, picture }
}

/// Without level 1b, which differs from level 1 in bits alone.
const H264_LEVELS: [H264; 19] = [
    h264("1", 1_485, 99),
    h264("1.1", 3_000, 396),
    h264("1.2", 6_000, 396),
    h264("1.3", 11_880, 396),
    h264("2", 11_880, 396),
    h264("2.1", 19_800, 792),
    h264("2.2", 20_250, 1_620),
    h264("3", 40_500, 1_620),
    h264("3.1", 108_000, 3_600),
    h264("3.2", 216_000, 5_120),
    h264("4", 245_760, 8_192),
    h264("4.1", 245_760, 8_192),
    h264("4.2", 522_240, 8_704),
    h264("5", 589_824, 22_080),
    h264("5.1", 983_040, 36_864),
    h264("5.2", 2_073_600, 36_864),
    h264("6", 4_177_920, 139_264),
    h264("6.1", 8_355_840, 139_264),
    h264("6.2", 16_711_680, 139_264),
];

const H265_LEVELS: [H265; 13] = [
    h265("1", 552_960, 36_864),
    h265("2", 3_686_400, 122_880),
    h265("2.1", 7_372_800, 245_760),
    h265("3", 16_588_800, 552_960),
    h265("3.1", 33_177_600, 983_040),
    h265("4", 66_846_720, 2_228_224),
    h265("4.1", 133_693_440, 2_228_224),
    h265("5", 267_386_880, 8_912_896),
    h265("5.1", 534_773_760, 8_912_896),
    h265("5.2", 1_069_547_520, 8_912_896),
    h265("6", 1_069_547_520, 35_651_584),
    h265("6.1", 2_139_095_040, 35_651_584),
    h265("6.2", 4_278_190_080, 35_651_584),
];

/// The lowest level of each standard that takes a frame at a rate, progressive; none when no level does.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Levels {
    /// Of ITU-T H.264, in whole macroblocks of 16 by 16.
    pub h264: Option<&'static str>,
    /// Of ITU-T H.265, the frame as it is.
    pub h265: Option<&'static str>,
}

impl Levels {
    /// The levels for a frame at a rate.
    ///
    /// ```
    /// use ratiomet_core::{FrameRate, Raster, levels::Levels};
    /// let sphere = Raster::new(3840, 1920)?;
    /// let levels = Levels::of(sphere, &FrameRate::parse("30")?);
    /// assert_eq!((levels.h264, levels.h265), (Some("5.1"), Some("5")));
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(frame: Raster<Delivery>, rate: &FrameRate) -> Self {
        let sides = [u64::from(frame.width()), u64::from(frame.height())];
        let blocks = sides.map(|side| side.div_ceil(16));
        let takes = |sides: [u64; 2], most: u64, most_a_second: u64| {
            let area = sides[0] * sides[1];
            // No side is over the root of eight times the area.
            let longest = sides[0].max(sides[1]);
            area <= most && longest * longest <= 8 * most && a_second(area, rate) <= whole(most_a_second)
        };
        let h264 = H264_LEVELS.iter().find(|row| takes(blocks, row.frame, row.rate));
        let h265 = H265_LEVELS.iter().find(|row| takes(sides, row.picture, row.rate));
        Self { h264: h264.map(|row| row.level), h265: h265.map(|row| row.level) }
    }
}

fn whole(value: u64) -> Exact {
    // OK because areas and table entries stay far under an i64.
    Exact::from(i64::try_from(value).unwrap_or(i64::MAX))
}

fn a_second(area: u64, rate: &FrameRate) -> Exact {
    whole(area) * rate.value()
}

/// Every level of H.264 with its macroblocks a second and a frame, for tables.
pub fn h264_table() -> impl Iterator<Item = (&'static str, u64, u64)> {
    H264_LEVELS.iter().map(|row| (row.level, row.rate, row.frame))
}

/// Every level of H.265 with its luma samples a second and a picture, for tables.
pub fn h265_table() -> impl Iterator<Item = (&'static str, u64, u64)> {
    H265_LEVELS.iter().map(|row| (row.level, row.rate, row.picture))
}
