//! [`Reading`]: what the headers of a file say, and where they say it.

use num_integer::gcd;
use ratiomet_core::FrameRate;
use ratiomet_core::fraction::{self, Sign};

use crate::Failure;

/// A value with the place where it stands.
#[derive(Clone, Debug, PartialEq)]
pub struct Said<T> {
    /// What is said.
    pub value: T,
    /// Where: a box, an element, a tag.
    pub by: String,
}

/// A picture that is meant to be seen from inside.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Sphere {
    /// The projection in the words of its standard, such as `equirectangular`.
    pub projection: String,
    /// How the eyes share the frame.
    pub stereo: Stereo,
    /// Whether the right eye comes first of two, which only some formats can say.
    pub right_first: bool,
    /// Width, height, left and top of the whole sphere against the picture of one eye, in stored pixels,
    /// where it is only a part.
    pub part_of: Option<[u32; 4]>,
}

impl Sphere {
    /// What one eye's picture is a part of, by the bounds of the published box: what lies outside it at top, bottom, left
    /// and right, as shares of 2^32; none where it is all there is.
    pub(crate) fn part_by(bounds: [u32; 4], (width, height): (u32, u32), stereo: Stereo) -> Option<[u32; 4]> {
        if bounds == [0; 4] {
            return None;
        }
        let [top, bottom, left, right] = bounds.map(|share| f64::from(share) / 4_294_967_296.0);
        let [beside, above] = stereo.eyes();
        let whole = |side: u32, shares: f64| (f64::from(side) / (1.0 - shares).max(0.001)).round();
        let (across, down) = (whole(width / beside, left + right), whole(height / above, top + bottom));
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "a cast that saturates, at least 0"
        )]
        let pixels = [across, down, across * left, down * top].map(|side| side.round() as u32);
        Some(pixels)
    }
}

/// How two eyes share a frame.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Stereo {
    /// One picture for both.
    #[default]
    Mono,
    /// One eye above the other, the left one on top where nothing else is said.
    TopBottom,
    /// One eye beside the other, the left one at the left where nothing else is said.
    SideBySide,
}

impl Stereo {
    /// How many pictures lie side by side, and above each other.
    pub const fn eyes(self) -> [u32; 2] {
        match self {
            Self::Mono => [1, 1],
            Self::SideBySide => [2, 1],
            Self::TopBottom => [1, 2],
        }
    }

    /// The word for it, as requests have it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Mono => "mono",
            Self::TopBottom => "top_bottom",
            Self::SideBySide => "side_by_side",
        }
    }
}

/// What the headers of a file say of its picture. What they do not say is `None`.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Reading {
    /// The format of the file.
    pub format: &'static str,
    /// The coding of the picture, by the file's own name for it.
    pub codec: Option<String>,
    /// Stored pixels across and down.
    pub raster: Option<Said<(u32, u32)>>,
    /// Width to height of one stored pixel.
    pub pixel_aspect: Option<Said<(u32, u32)>>,
    /// Stored pixels left, top, right, bottom that are not meant to be seen.
    pub insets: Option<Said<[u32; 4]>>,
    /// Degrees clockwise that make it stand upright.
    pub rotation: Option<Said<u32>>,
    /// Frames a second.
    pub rate: Option<Said<(u32, u32)>>,
    /// How many pictures it has.
    pub frames: Option<Said<u64>>,
    /// Whether lines belong to two moments.
    pub interlaced: Option<Said<bool>>,
    /// Whether code values run over all their range.
    pub full_range: Option<Said<bool>>,
    /// How it is meant to be seen from inside.
    pub sphere: Option<Said<Sphere>>,
    /// What somebody should look at: places that contradict each other, and what cannot be kept.
    pub remarks: Vec<String>,
}

impl Reading {
    pub(crate) fn of(format: &'static str) -> Self {
        Self { format, ..Self::default() }
    }

    pub(crate) fn remark(&mut self, text: impl Into<String>) {
        self.remarks.push(text.into());
    }

    /// A value said once more, by somebody else: a contradiction is told, and the first one stays.
    pub(crate) fn second<T: PartialEq + Clone>(
        &mut self,
        of: impl Fn(&mut Self) -> &mut Option<Said<T>>,
        name: &str,
        said: Said<T>,
        words: impl Fn(&T) -> String,
    ) {
        match of(self).clone() {
            None => *of(self) = Some(said),
            Some(first) if first.value != said.value => self.remark(format!(
                "{name} is {} by {} and {} by {}; the first is used.",
                words(&first.value),
                first.by,
                words(&said.value),
                said.by
            )),
            Some(_) => {}
        }
    }

    /// The reading, if it holds together.
    pub(crate) fn sound(mut self) -> Result<Self, Failure> {
        let unreadable = |why: String| Err(Failure::Unreadable(why));
        let Some(Said { value: (width, height), .. }) = self.raster else {
            return unreadable(format!("this {} file has no picture", self.format));
        };
        if width == 0 || height == 0 || width > 65_536 || height > 65_536 {
            return unreadable(format!(
                "this {} file gives its picture as {width} × {height} pixels; each side must be 1 to 65,536",
                self.format
            ));
        }
        if let Some(Said { value: (across, down), by }) = self.pixel_aspect.take() {
            let (across, down) = lowest(across, down);
            let ratio = f64::from(across) / f64::from(down);
            if across == 0 || down == 0 {
                // Not known, as standards have it.
            } else if (0.1..=10.0).contains(&ratio) {
                self.pixel_aspect = Some(Said { value: (across, down), by });
            } else {
                self.remark(format!("pixels of {across}:{down} by {by} cannot be: from 1/10 to 10 can"));
            }
        }
        if let Some(Said { value: [left, top, right, bottom], by }) = &self.insets {
            let (across, down) = (u64::from(*left) + u64::from(*right), u64::from(*top) + u64::from(*bottom));
            if across + 2 > u64::from(width) || down + 2 > u64::from(height) {
                let text = format!("Nothing of the picture is left by {by}; ignored.");
                (self.insets, _) = (None, self.remark(text));
            } else if across + down == 0 {
                self.insets = None;
            }
        }
        if let Some(Said { value: (above, below), by }) = self.rate.take() {
            // 29.97 in hundredths is the rate that is meant, rounded.
            let rounded = !matches!(below, 1 | 1001) && above > 0 && below > 0;
            let known = rounded.then(|| near(f64::from(above) / f64::from(below))).flatten();
            let value = known.unwrap_or((above, below));
            self.rate = (above > 0 && below > 0).then_some(Said { value, by });
        }
        Ok(self)
    }
}

impl<T> Said<T> {
    pub(crate) fn new(value: T, by: impl Into<String>) -> Self {
        Self { value, by: by.into() }
    }
}

/// A fraction in lowest terms; 0:0 stays as it is.
pub(crate) fn lowest(a: u32, b: u32) -> (u32, u32) {
    let common = gcd(a, b).max(1);
    (a / common, b / common)
}

/// A fraction whose terms may be long, in terms of 32 bits if it has such.
pub(crate) fn lowest64(a: u64, b: u64) -> Option<(u32, u32)> {
    let common = gcd(a, b).max(1);
    Some((u32::try_from(a / common).ok()?, u32::try_from(b / common).ok()?))
}

/// The rate that was meant: within a ten-thousandth of a known one it is that one, exactly; else it is kept
/// in thousandths. A rate that cannot be is 0:0.
pub(crate) fn known_rate(rate: f64) -> (u32, u32) {
    let scaled = (rate * 1000.0).round();
    if !(1.0..=4e9).contains(&scaled) {
        return (0, 0);
    }
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "from 1 to 4,000,000,000")]
    let scaled = scaled as u32;
    near(rate).unwrap_or_else(|| lowest(scaled, 1000))
}

/// The known rate that one is within a ten-thousandth of.
fn near(rate: f64) -> Option<(u32, u32)> {
    let measured = fraction::parse(&format!("{rate:.6}"), Sign::Never).ok()?;
    let (above, below) = FrameRate::known(&measured)?.value().clone().reduced().short_terms()?;
    Some((u32::try_from(above).ok()?, u32::try_from(below).ok()?))
}
