//! [`Levels`]: what a decoder must take, by the tables of ITU-T H.264 and H.265.

use crate::file::codec::Codec;
use crate::space::Delivery;
use crate::sphere::SphereForm;
use crate::{Exact, FrameRate, Raster};

/// A row of the tables of a standard.
struct Row {
    level: &'static str,
    /// Units a second: macroblocks for H.264, luma samples for H.265.
    rate: u64,
    /// Units a picture.
    picture: u64,
    /// Thousands of bits a second, of the plainest profile.
    kilobits: u32,
}

const fn row(level: &'static str, rate: u64, picture: u64, kilobits: u32) -> Row {
    Row { level, rate, picture, kilobits }
}

impl Row {
    /// Whether it takes pictures of these sides, at a rate and with so many thousands of bits a second, where
    /// these are known.
    fn takes(&self, sides: [u64; 2], rate: Option<&FrameRate>, kilobits: Option<&Exact>) -> bool {
        let area = sides[0] * sides[1];
        // No side is over the root of eight times the area.
        let longest = sides[0].max(sides[1]);
        area <= self.picture
            && longest * longest <= 8 * self.picture
            && rate.is_none_or(|rate| whole(area) * rate.value() <= whole(self.rate))
            && kilobits.is_none_or(|kilobits| *kilobits <= Exact::whole(self.kilobits))
    }
}

/// ITU-T H.264 (2021), Table A-1 (from memory), without level 1b, which differs from level 1 in bits alone.
static H264_LEVELS: [Row; 19] = [
    row("1", 1_485, 99, 64),
    row("1.1", 3_000, 396, 192),
    row("1.2", 6_000, 396, 384),
    row("1.3", 11_880, 396, 768),
    row("2", 11_880, 396, 2_000),
    row("2.1", 19_800, 792, 4_000),
    row("2.2", 20_250, 1_620, 4_000),
    row("3", 40_500, 1_620, 10_000),
    row("3.1", 108_000, 3_600, 14_000),
    row("3.2", 216_000, 5_120, 20_000),
    row("4", 245_760, 8_192, 20_000),
    row("4.1", 245_760, 8_192, 50_000),
    row("4.2", 522_240, 8_704, 50_000),
    row("5", 589_824, 22_080, 135_000),
    row("5.1", 983_040, 36_864, 240_000),
    row("5.2", 2_073_600, 36_864, 240_000),
    row("6", 4_177_920, 139_264, 240_000),
    row("6.1", 8_355_840, 139_264, 480_000),
    row("6.2", 16_711_680, 139_264, 800_000),
];

/// ITU-T H.265 (2021), Tables A.8 and A.9 (from memory): the Main tier, then the High tier, which fewer decoders
/// have.
static H265_LEVELS: [Row; 21] = [
    row("1", 552_960, 36_864, 128),
    row("2", 3_686_400, 122_880, 1_500),
    row("2.1", 7_372_800, 245_760, 3_000),
    row("3", 16_588_800, 552_960, 6_000),
    row("3.1", 33_177_600, 983_040, 10_000),
    row("4", 66_846_720, 2_228_224, 12_000),
    row("4.1", 133_693_440, 2_228_224, 20_000),
    row("5", 267_386_880, 8_912_896, 25_000),
    row("5.1", 534_773_760, 8_912_896, 40_000),
    row("5.2", 1_069_547_520, 8_912_896, 60_000),
    row("6", 1_069_547_520, 35_651_584, 60_000),
    row("6.1", 2_139_095_040, 35_651_584, 120_000),
    row("6.2", 4_278_190_080, 35_651_584, 240_000),
    row("4 high", 66_846_720, 2_228_224, 30_000),
    row("4.1 high", 133_693_440, 2_228_224, 50_000),
    row("5 high", 267_386_880, 8_912_896, 100_000),
    row("5.1 high", 534_773_760, 8_912_896, 160_000),
    row("5.2 high", 1_069_547_520, 8_912_896, 240_000),
    row("6 high", 1_069_547_520, 35_651_584, 240_000),
    row("6.1 high", 2_139_095_040, 35_651_584, 480_000),
    row("6.2 high", 4_278_190_080, 35_651_584, 800_000),
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
        let load = Load { frame, rate: Some(rate), kilobits: None };
        Self { h264: lowest(Codec::H264, &load), h265: lowest(Codec::H265, &load) }
    }
}

/// A frame for a sphere that is the largest which some level takes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Rung {
    /// The frame.
    pub frame: Raster<Delivery>,
    /// The lowest levels that take it.
    pub levels: Levels,
}

/// The widest eye that is looked at, and the step of its width: whole macroblocks.
const WIDEST_EYE: u32 = 16_384;
const EYE_STEP: u32 = 16;
/// Below this width nobody makes spheres (common practice).
const NARROWEST_EYE: u32 = 1_440;

/// The sizes of a sphere's frame that decoders take at a rate: for each level the largest, in growing order, each once.
///
/// ```
/// use ratiomet_core::{FrameRate, levels, sphere::SphereForm};
/// let ladder = levels::ladder(&SphereForm::default(), &FrameRate::parse("60")?);
/// let largest = |level| ladder.iter().filter(|rung| rung.levels.h264 == Some(level)).last();
/// // ITU-T H.264: level 5.2 takes 2,073,600 macroblocks a second, 34,560 at 60; 4192x2096 has 262 by 131.
/// let frame = largest("5.2").unwrap().frame;
/// assert_eq!((frame.width(), frame.height()), (4192, 2096));
/// # Ok::<(), ratiomet_core::Error>(())
/// ```
pub fn ladder(form: &SphereForm, rate: &FrameRate) -> Vec<Rung> {
    let mut rungs: Vec<Rung> = Vec::new();
    for codec in [Codec::H264, Codec::H265] {
        for row in rows(codec).iter().filter(|row| !row.level.ends_with("high")) {
            let fits = |steps: u32| {
                let frame = frame_of(form, steps * EYE_STEP);
                frame.filter(|frame| Load { frame: *frame, rate: Some(rate), kilobits: None }.is_for(codec, row))
            };
            // What takes a larger one takes every smaller one.
            let (mut low, mut high) = (0, WIDEST_EYE / EYE_STEP + 1);
            while high - low > 1 {
                let middle = low.midpoint(high);
                *(if fits(middle).is_some() { &mut low } else { &mut high }) = middle;
            }
            let frame = fits(low).filter(|_| low * EYE_STEP >= NARROWEST_EYE);
            rungs.extend(frame.map(|frame| Rung { frame, levels: Levels::of(frame, rate) }));
        }
    }
    rungs.sort_by_key(|rung| (u64::from(rung.frame.width()) * u64::from(rung.frame.height()), rung.frame.width()));
    rungs.dedup_by_key(|rung| rung.frame);
    rungs
}

/// The frame of a sphere whose eyes are so wide, to even lines; none where that is no frame.
fn frame_of(form: &SphereForm, width: u32) -> Option<Raster<Delivery>> {
    let high = Exact::whole(width) * form.span.up.value() / form.span.across.value();
    let height = u32::try_from((high.half() + Exact::fraction(1, 2)).floor_whole()).ok()?.checked_mul(2)?;
    let [across, down] = form.pictures();
    Raster::new(width.checked_mul(across)?, height.checked_mul(down)?).ok()
}

/// What a decoder has to take.
pub(crate) struct Load<'a> {
    /// The picture.
    pub frame: Raster<Delivery>,
    /// Pictures a second, where that is known.
    pub rate: Option<&'a FrameRate>,
    /// Thousands of bits a second as the plainest profile counts them, where that is known.
    pub kilobits: Option<Exact>,
}

impl Load<'_> {
    fn is_for(&self, codec: Codec, row: &Row) -> bool {
        let side = |pixels: u32| if codec == Codec::H264 { pixels.div_ceil(16) } else { pixels };
        let sides = [self.frame.width(), self.frame.height()].map(|pixels| u64::from(side(pixels)));
        row.takes(sides, self.rate, self.kilobits.as_ref())
    }
}

/// The rows of a codec, the lowest level first; none for one without levels.
fn rows(codec: Codec) -> &'static [Row] {
    match codec {
        Codec::H264 => &H264_LEVELS,
        Codec::H265 => &H265_LEVELS,
        _ => &[],
    }
}

/// The names of the levels of a codec, with those of the high tier.
pub fn names(codec: Codec) -> impl Iterator<Item = &'static str> {
    rows(codec).iter().map(|row| row.level)
}

/// The lowest level that takes a load.
pub(crate) fn lowest(codec: Codec, load: &Load<'_>) -> Option<&'static str> {
    rows(codec).iter().find(|row| load.is_for(codec, row)).map(|row| row.level)
}

/// Whether a level takes a load.
pub(crate) fn takes(codec: Codec, level: &str, load: &Load<'_>) -> bool {
    rows(codec).iter().any(|row| row.level == level && load.is_for(codec, row))
}

fn whole(value: u64) -> Exact {
    // OK because areas and table entries stay far under an i64.
    Exact::from(i64::try_from(value).unwrap_or(i64::MAX))
}

/// Every level of H.264 with its macroblocks a second and a frame, for tables.
pub fn h264_table() -> impl Iterator<Item = (&'static str, u64, u64)> {
    H264_LEVELS.iter().map(|row| (row.level, row.rate, row.picture))
}

/// Every level of H.265 with its luma samples a second and a picture, for tables. The tiers differ in bits alone.
pub fn h265_table() -> impl Iterator<Item = (&'static str, u64, u64)> {
    let one_tier = H265_LEVELS.iter().filter(|row| !row.level.ends_with("high"));
    one_tier.map(|row| (row.level, row.rate, row.picture))
}
