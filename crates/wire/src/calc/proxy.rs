//! Kind `proxy`: smaller working copies.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::proxy::{Proxies, Proxy};
use ratiomet_core::space::Stored;
use ratiomet_core::{Raster, Step};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;
use crate::number::{ExactNumber, pair};

/// The request.
#[derive(Clone, Debug)]
pub struct ProxyRequest {
    raster: Raster<Stored>,
    step: Step,
}

record!(
    /// Smaller working copies of a raster.
    "ProxyRequest", "rasters" for ProxyRequest {
        /// Pixels across and down.
        raster: Raster<Stored> = Required, |request| request.raster;
        /// The grid for the sides of the copies.
        step: Step = Default("2"), |request| request.step;
    }
    |raster, step| Ok(ProxyRequest { raster, step })
);

impl Kind for ProxyRequest {
    fn calculation(self) -> Calculation {
        Calculation::Proxy(self.raster, self.step)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        if let Calculation::Proxy(raster, step) = calculation.clone() { Some(Self { raster, step }) } else { None }
    }
}

/// The working copies.
#[derive(Debug, Serialize, ToSchema)]
pub struct ProxyResult {
    /// One for each of 2, 3, 4, 6 and 8.
    pub sizes: Vec<ProxySize>,
    /// The largest frame on the step, not over half the raster, of exactly the raster's ratio.
    pub largest_true: Option<[u32; 2]>,
}

/// A working copy with 1/n of the sides.
#[derive(Debug, Serialize, ToSchema)]
pub struct ProxySize {
    /// How many times smaller each side is.
    pub n: u32,
    /// The sides before rounding.
    pub exact: [ExactNumber; 2],
    /// Both sides rounded to the nearest multiple of the step.
    pub frame: [u32; 2],
    /// Its ratio over that of the raster, less 1.
    pub distortion: ExactNumber,
    /// Whether it shows exactly the same shape.
    #[serde(rename = "true")]
    pub is_true: bool,
}

impl From<Proxy> for ProxySize {
    fn from(proxy: Proxy) -> Self {
        Self {
            n: proxy.n,
            exact: pair(proxy.exact),
            frame: [proxy.frame.width(), proxy.frame.height()],
            is_true: proxy.distortion.is_zero(),
            distortion: ExactNumber(proxy.distortion),
        }
    }
}

impl From<Proxies> for ProxyResult {
    fn from(proxies: Proxies) -> Self {
        Self {
            sizes: proxies.sizes.into_iter().map(Into::into).collect(),
            largest_true: proxies.largest_true.map(|frame| [frame.width(), frame.height()]),
        }
    }
}
