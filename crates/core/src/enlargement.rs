//! [`Enlargement`]: the factors from one frame to another.

use crate::space::{Axes, Axis, Delivery, Factor};
use crate::{Exact, Raster};

/// Which way the pixels go.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Direction {
    /// Both frames are equal.
    Same,
    /// Neither factor is under 1.
    Up,
    /// Neither factor is over 1.
    Down,
    /// One axis grows, the other shrinks.
    Mixed,
}

/// From one frame to another.
#[derive(Clone, Debug)]
pub struct Enlargement {
    /// The factor of each axis.
    pub factor: Axes<Factor>,
    /// The factor of the area.
    pub area: Exact,
    /// Whether both axes have the same factor.
    pub uniform: bool,
    /// Which way the pixels go.
    pub direction: Direction,
    /// The smallest whole enlargement that reaches the larger factor; 1 when nothing is enlarged.
    pub whole: i64,
    /// What remains after it: the larger factor over the whole one.
    pub residual: Exact,
}

impl Enlargement {
    /// The factors from one frame to another.
    ///
    /// ```
    /// use ratiomet_core::{Enlargement, Raster};
    /// let up = Enlargement::of(Raster::new(1920, 1080)?, Raster::new(5760, 2880)?);
    /// assert_eq!((up.whole, up.residual.to_string()), (3, "1".to_owned()));
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(from: Raster<Delivery>, to: Raster<Delivery>) -> Self {
        let (from, to) = (from.size(), to.size());
        let factor = Axes::each(|axis: Axis| to.along(axis) / from.along(axis));
        let (x, y) = (factor.x.cmp(&Exact::ONE), factor.y.cmp(&Exact::ONE));
        let direction = match (x.is_eq() && y.is_eq(), x.is_ge() && y.is_ge(), x.is_le() && y.is_le()) {
            (true, ..) => Direction::Same,
            (_, true, _) => Direction::Up,
            (.., true) => Direction::Down,
            _ => Direction::Mixed,
        };
        let largest = factor.x.clone().max(factor.y.clone());
        let whole = largest.ceil_whole().max(1);
        Self {
            area: &factor.x * &factor.y,
            uniform: factor.x == factor.y,
            direction,
            residual: largest / Exact::from(whole),
            whole,
            factor,
        }
    }
}
