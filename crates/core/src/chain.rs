//! [`Chain`]: a picture through working frames, one after the other.

use crate::checks::Checked;
use crate::error::Parameter;
use crate::space::{Axes, Axis, Factor};
use crate::{DeliveryFrame, Error, Exact, Framing, Insets, Rotation, Source, Squeeze};

/// A source in a first frame, that whole frame in the next, and so on.
#[derive(Clone, Debug)]
pub struct Chain {
    /// The plan of each step, checked.
    pub steps: Vec<Checked>,
    /// Pixels of the last frame per stored pixel of the source, along the axes of the frames.
    pub scale: Axes<Factor>,
    /// How much of the source's resolution is left at the end, at most 1: the smallest that any step
    /// leaves. Enlarging later brings none of it back.
    pub detail: Axes<Factor>,
    /// How much the same size would have left without the steps between: the scale, at most 1.
    pub direct: Axes<Factor>,
}

impl Chain {
    /// The most steps of a chain.
    pub const LONGEST: usize = 8;

    /// The chain through these frames. After the first step the whole frame is handed on: its raster
    /// and pixel shape, unturned, without squeeze or insets.
    ///
    /// # Errors
    /// The place of a frame that cannot be handed on, and why: a side of under 2 pixels.
    ///
    /// ```
    /// use ratiomet_core::{chain::Chain, *};
    /// let hd = |width, height| DeliveryFrame::new(Raster::new(width, height)?, PixelAspect::SQUARE, None, Step::Two);
    /// let uhd = Source::new(
    ///     Raster::new(3840, 2160)?,
    ///     PixelAspect::SQUARE,
    ///     Squeeze::NONE,
    ///     Insets::default(),
    ///     Rotation::None,
    /// )?;
    /// // Squashed to a small working frame and enlarged again.
    /// let steps = [(hd(1280, 720)?, Framing::default()), (hd(3840, 2160)?, Framing::default())];
    /// let chain = Chain::of(&uhd, &steps).unwrap();
    /// assert_eq!((chain.scale.x.to_string(), chain.detail.x.to_string()), ("1".to_owned(), "1/3".to_owned()));
    /// assert!(chain.is_detour());
    /// # Ok::<(), Error>(())
    /// ```
    pub fn of(source: &Source, steps: &[(DeliveryFrame, Framing)]) -> Result<Self, (usize, Error)> {
        let mut made: Vec<Checked> = Vec::with_capacity(steps.len());
        let mut scale = Axes::new(Exact::ONE, Exact::ONE);
        let mut detail = scale.clone();
        let mut handed = source.clone();
        for (place, (frame, framing)) in steps.iter().enumerate() {
            if place > 0 {
                handed = handed_on(&steps[place - 1].0).map_err(|error| (place - 1, error))?;
            }
            let step = Checked::of(&handed, frame, framing);
            scale = Axes::each(|axis| (scale.of(axis) * step.plan.scale.of(axis)).reduced());
            detail = Axes::each(|axis| detail.of(axis).clone().min(scale.of(axis).clone()));
            made.push(step);
        }
        let direct = Axes::each(|axis| scale.of(axis).clone().min(Exact::ONE));
        Ok(Self { steps: made, scale, detail, direct })
    }

    /// Whether a step threw away detail that the end needed.
    pub fn is_detour(&self) -> bool {
        Axis::BOTH.into_iter().any(|axis| self.detail.of(axis) < self.direct.of(axis))
    }
}

/// A frame as the source of the next step.
fn handed_on(frame: &DeliveryFrame) -> Result<Source, Error> {
    let raster = frame.raster().handed_on();
    let aspect = frame.pixel_aspect().clone();
    Source::new(raster, aspect, Squeeze::NONE, Insets::default(), Rotation::None)
        .map_err(|error| error.at(Parameter::Raster))
}
