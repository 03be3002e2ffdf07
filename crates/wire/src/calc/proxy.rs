//! Kind `proxy`: smaller working copies.

use ratiomet_core::proxy::{Proxies, Proxy};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use crate::geometry::read_step;
use crate::number::{ExactNumber, pair};
use crate::read::{Field, Object};

/// Smaller working copies of a raster.
#[derive(Debug, Serialize, ToSchema)]
pub struct ProxyRequest {
    /// Pixels across and down.
    #[schema(example = json!([4608, 3164]), minimum = 1, maximum = 65536)]
    pub raster: [u32; 2],
    /// The grid for the sides of the copies: 1, 2, 4, 8 or 16.
    #[schema(default = 2, required = false)]
    pub step: u32,
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

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let raster = object.required("raster", Field::raster);
    let step = read_step(object);
    object.done()?;
    let proxies = object.as_field().settle(Proxies::of(raster?, step?))?;
    Some(CalcResult::Proxy(Box::new(proxies.into())))
}
