//! [`ActivePicture`]: which part of a stored raster holds picture, by itself or by a ratio.

use crate::fraction::Written;
use crate::limits::SMALLEST_ACTIVE_SIDE;
use crate::space::Stored;
use crate::{DisplayRatio, Error, Exact, Insets, PixelAspect, Raster, Rounding, Step};

/// A rule that gives insets: the border of a recorder, or a framing guide.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum ActivePicture {
    /// So many stored pixels at each side of one raster.
    Insets {
        /// The raster that it is for.
        raster: Raster<Stored>,
        /// What is cut.
        insets: Insets,
        /// Whether more is cut, as little as possible, so that the picture keeps the ratio of the
        /// raster and nothing is stretched where it fills the frame.
        keep_ratio: bool,
    },
    /// The largest centred part of any raster that has this ratio before a lens squeeze is undone:
    /// 4:3 is the frame that a 2x lens was framed for.
    Guide {
        /// Width over height, in the shape of the stored pixels.
        ratio: Written<DisplayRatio>,
    },
}

impl ActivePicture {
    /// The insets that it gives for footage of this raster and pixel shape; none when it is for
    /// another raster.
    ///
    /// # Errors
    /// [`Error::is_nothing_left`] when no picture would be left.
    pub fn insets_for(&self, raster: Raster<Stored>, pixel_aspect: &PixelAspect) -> Result<Option<Insets>, Error> {
        match self {
            Self::Insets { raster: own, .. } if *own != raster => Ok(None),
            Self::Insets { insets, keep_ratio: false, .. } => checked(raster, *insets).map(Some),
            Self::Insets { insets, keep_ratio: true, .. } => {
                let kept = keeping_ratio(raster, *insets).ok_or_else(|| left_over(raster, *insets))?;
                checked(raster, kept).map(Some)
            }
            Self::Guide { ratio } => checked(raster, guide(raster, pixel_aspect, ratio.value().value())).map(Some),
        }
    }
}

/// How much wider the picture inside the insets is than the raster, in proportion, less 1: by so
/// much everything is stretched where both fill the same frame. 0 when the insets keep the ratio.
///
/// ```
/// use ratiomet_core::{Exact, Insets, Raster, active_picture::stretch};
/// let raster = Raster::new(1920, 1080).unwrap();
/// assert_eq!(stretch(raster, Insets { left: 16, right: 16, top: 9, bottom: 9 }), Exact::ZERO);
/// assert_ne!(stretch(raster, Insets { left: 16, ..Insets::default() }), Exact::ZERO);
/// ```
pub fn stretch(raster: Raster<Stored>, insets: Insets) -> Exact {
    let (width, height) = left(raster, insets);
    if height <= 0 {
        return Exact::ZERO;
    }
    let whole = raster.size();
    (Exact::from(width) * whole.height / (Exact::from(height) * whole.width) - Exact::ONE).reduced()
}

/// The insets that cut at least these and leave exactly the ratio of the raster, cutting as little
/// more as possible, half of it at each side (the odd pixel right and below).
///
/// None when no whole pixels inside have that ratio.
///
/// ```
/// use ratiomet_core::{Insets, Raster, active_picture::{keeping_ratio, stretch}};
/// let tape = Raster::new(720, 576).unwrap();
/// let border = Insets { left: 8, top: 4, right: 10, bottom: 6 };
/// let kept = keeping_ratio(tape, border).unwrap();
/// assert_eq!((720 - kept.left - kept.right, 576 - kept.top - kept.bottom), (700, 560));
/// assert!(stretch(tape, kept).is_zero());
/// ```
pub fn keeping_ratio(raster: Raster<Stored>, insets: Insets) -> Option<Insets> {
    let (width, height) = left(raster, insets);
    let (width, height) = (u32::try_from(width).ok()?, u32::try_from(height).ok()?);
    let common = num_integer::gcd(raster.width(), raster.height());
    let (across, down) = (raster.width() / common, raster.height() / common);
    let times = (width / across).min(height / down);
    if times == 0 {
        return None;
    }
    let (more_across, more_down) = (width - across * times, height - down * times);
    Some(Insets {
        left: insets.left + more_across / 2,
        right: insets.right + more_across.div_ceil(2),
        top: insets.top + more_down / 2,
        bottom: insets.bottom + more_down.div_ceil(2),
    })
}

/// The centred cut to a ratio, each side an even number of pixels and never larger than asked.
fn guide(raster: Raster<Stored>, pixel_aspect: &PixelAspect, ratio: &Exact) -> Insets {
    let whole = raster.size();
    let follows = &whole.width * pixel_aspect.value() / ratio;
    let even = |value: &Exact| u32::try_from(Rounding::Down.to_step(value, Step::Two)).unwrap_or(0);
    if follows <= whole.height {
        let cut = raster.height() - even(&follows);
        Insets { top: cut / 2, bottom: cut.div_ceil(2), ..Insets::default() }
    } else {
        let cut = raster.width() - even(&(whole.height * ratio / pixel_aspect.value()));
        Insets { left: cut / 2, right: cut.div_ceil(2), ..Insets::default() }
    }
}

fn left(raster: Raster<Stored>, insets: Insets) -> (i64, i64) {
    let left = |side: u32, first: u32, last: u32| i64::from(side) - i64::from(first) - i64::from(last);
    (left(raster.width(), insets.left, insets.right), left(raster.height(), insets.top, insets.bottom))
}

fn left_over(raster: Raster<Stored>, insets: Insets) -> Error {
    Error::nothing_left(left(raster, insets))
}

fn checked(raster: Raster<Stored>, insets: Insets) -> Result<Insets, Error> {
    let (width, height) = left(raster, insets);
    let least = i64::from(SMALLEST_ACTIVE_SIDE);
    if width >= least && height >= least { Ok(insets) } else { Err(left_over(raster, insets)) }
}
