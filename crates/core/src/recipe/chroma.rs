//! [`Chroma`]: how the colour of a picture is sampled.

use crate::error::Parameter;
use crate::space::Axis;
use crate::{DeliveryFrame, Error};

/// How many pixels share one sample of colour.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Chroma {
    /// 4:2:0, two columns and two lines.
    #[default]
    Quarter,
    /// 4:2:2, two columns.
    Half,
    /// 4:4:4, none.
    Full,
}

impl Chroma {
    /// Every sampling.
    pub const ALL: [Self; 3] = [Self::Quarter, Self::Half, Self::Full];

    /// The word of it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Quarter => "4:2:0",
            Self::Half => "4:2:2",
            Self::Full => "4:4:4",
        }
    }

    /// Pixels to a sample of colour along an axis of the stored raster.
    pub const fn grid(self, axis: Axis) -> u32 {
        match (self, axis) {
            (Self::Quarter, _) | (Self::Half, Axis::X) => 2,
            _ => 1,
        }
    }

    /// What of a frame does not lie on the grid: its sides, and the step on which its bars lie.
    pub fn misfits(self, frame: &DeliveryFrame) -> Vec<Error> {
        let check = |parameter, pixels: u32, axis| {
            let fits = pixels.is_multiple_of(self.grid(axis));
            (!fits).then(|| Error::chroma(self.word(), pixels).at(parameter))
        };
        let raster = frame.raster();
        let parts = [
            check(Parameter::Width, raster.width(), Axis::X),
            check(Parameter::Height, raster.height(), Axis::Y),
            check(Parameter::Step, frame.step().pixels(), Axis::X),
        ];
        parts.into_iter().flatten().collect()
    }
}
