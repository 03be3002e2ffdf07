//! [`Proxies`]: smaller working copies of a raster.

use num_integer::Integer;

use crate::space::{Size, Stored};
use crate::{Error, Exact, Raster, Rounding, Step};

/// A working copy with 1/n of the sides.
#[derive(Clone, Debug)]
pub struct Proxy {
    /// How many times smaller each side is.
    pub n: u32,
    /// The sides before rounding.
    pub exact: Size<Stored>,
    /// Both sides rounded to the nearest multiple of the step.
    pub frame: Raster<Stored>,
    /// Its ratio over that of the raster, less 1; 0 when it shows exactly the same shape.
    pub distortion: Exact,
}

/// The working copies of a raster.
#[derive(Clone, Debug)]
pub struct Proxies {
    /// One for each of [`Proxies::TIMES`].
    pub sizes: Vec<Proxy>,
    /// The largest frame on the step, not over half the raster, of exactly the raster's ratio.
    pub largest_true: Option<Raster<Stored>>,
}

impl Proxies {
    /// How many times smaller the copies are.
    pub const TIMES: [u32; 5] = [2, 3, 4, 6, 8];

    /// The working copies of a raster, their sides on a step.
    ///
    /// # Errors
    /// Never for a step up to 16: a side of at most 65,536 is halved and rounded.
    ///
    /// ```
    /// use ratiomet_core::{Raster, Step, proxy::Proxies};
    /// let open_gate = Proxies::of(Raster::new(4608, 3164)?, Step::Two)?;
    /// assert_eq!(open_gate.sizes[0].frame, Raster::new(2304, 1582)?);
    /// assert!(open_gate.sizes[0].distortion.is_zero());
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(raster: Raster<Stored>, step: Step) -> Result<Self, Error> {
        let whole = raster.size();
        let ratio = &whole.width / &whole.height;
        let smaller = |n: u32| -> Result<Proxy, Error> {
            let exact =
                Size::new((&whole.width / Exact::whole(n)).reduced(), (&whole.height / Exact::whole(n)).reduced());
            let side = |side: &Exact| Rounding::Nearest.side(side, step, "raster");
            let frame = Raster::new(side(&exact.width)?, side(&exact.height)?)?;
            let size = frame.size();
            let distortion = (size.width / size.height / &ratio - Exact::ONE).reduced();
            Ok(Proxy { n, exact, frame, distortion })
        };
        let sizes = Self::TIMES.into_iter().map(smaller).collect::<Result<_, _>>()?;
        Ok(Self { sizes, largest_true: largest_true(raster, step) })
    }
}

/// The largest multiple of the raster's lowest terms that lies on the step on both axes and is at
/// most half the raster.
fn largest_true(raster: Raster<Stored>, step: Step) -> Option<Raster<Stored>> {
    let times = raster.width().gcd(&raster.height());
    let (across, down) = (raster.width() / times, raster.height() / times);
    let pixels = step.pixels();
    // A side is on the step when the multiple holds what its lowest term lacks of it.
    let every = (pixels / across.gcd(&pixels)).lcm(&(pixels / down.gcd(&pixels)));
    let multiple = times / 2 / every * every;
    if multiple == 0 { None } else { Raster::new(across * multiple, down * multiple).ok() }
}
