//! [`FrameSpec`]: the geometry of a delivery frame as it was entered.

use crate::fraction::Written;
use crate::published::{self, PublishedFrame};
use crate::space::Delivery;
use crate::{DeliveryFrame, DisplayRatio, Error, PixelAspect, Raster, Step};

/// The geometry of a delivery frame as it was entered.
///
/// # Guarantees
/// The picture ratio leaves a picture.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FrameSpec {
    picture_ratio: Option<Written<DisplayRatio>>,
    pixel_aspect: Written<PixelAspect>,
    frame: DeliveryFrame,
}

impl FrameSpec {
    /// The geometry of these values.
    ///
    /// # Errors
    /// Those of [`DeliveryFrame::new`].
    pub fn new(
        raster: Raster<Delivery>,
        pixel_aspect: Written<PixelAspect>,
        picture_ratio: Option<Written<DisplayRatio>>,
        step: Step,
    ) -> Result<Self, Error> {
        let ratio = picture_ratio.as_ref().map(|ratio| ratio.value().clone());
        let frame = DeliveryFrame::new(raster, pixel_aspect.value().clone(), ratio, step)?;
        Ok(Self { picture_ratio, pixel_aspect, frame })
    }

    /// The shape of the delivered pixels.
    pub const fn pixel_aspect(&self) -> &Written<PixelAspect> {
        &self.pixel_aspect
    }

    /// The ratio of the picture inside the raster, if it does not fill it.
    pub const fn picture_ratio(&self) -> Option<&Written<DisplayRatio>> {
        self.picture_ratio.as_ref()
    }

    /// The checked geometry.
    pub const fn frame(&self) -> &DeliveryFrame {
        &self.frame
    }

    /// The checked geometry, for itself.
    pub fn into_frame(self) -> DeliveryFrame {
        self.frame
    }
}

impl From<DeliveryFrame> for FrameSpec {
    fn from(frame: DeliveryFrame) -> Self {
        Self {
            pixel_aspect: Written::of(frame.pixel_aspect().clone(), PixelAspect::value),
            picture_ratio: frame.picture_ratio().map(|ratio| Written::of(ratio.clone(), DisplayRatio::value)),
            frame,
        }
    }
}

impl FrameSpec {
    /// The frame with its sides exchanged, and with them the shapes of pixels and picture.
    pub(super) fn turned(&self) -> Result<Self, Error> {
        let raster = Raster::new(self.frame.raster().height(), self.frame.raster().width())?;
        let pixel_aspect = Written::parse(&upside_down(self.pixel_aspect.text()), PixelAspect::parse)?;
        let ratio = self.picture_ratio.as_ref().map(|ratio| upside_down(ratio.text()));
        let ratio = ratio.map(|text| Written::parse(&text, DisplayRatio::parse)).transpose()?;
        Self::new(raster, pixel_aspect, ratio, self.frame.step())
    }

    /// The published frame of this raster and pixel shape, if there is one.
    pub fn published(&self) -> Option<&'static PublishedFrame> {
        let raster = self.frame.raster();
        published::FRAMES.iter().find(|known| {
            known.width == raster.width() && known.height == raster.height() && known.ratio() == self.frame.ratio()
        })
    }
}

/// The fraction whose value is 1 over that of a written one.
fn upside_down(text: &str) -> String {
    match text.split_once(['/', ':']) {
        Some((above, "1")) => above_one(above),
        Some(("1", below)) => below.to_owned(),
        Some((above, below)) => format!("{below}:{above}"),
        None => above_one(text),
    }
}

fn above_one(below: &str) -> String {
    if below == "1" { "1".to_owned() } else { format!("1:{below}") }
}
