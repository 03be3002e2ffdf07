//! Kind `viewing`: the delivered frame on a screen.

use ratiomet_core::Raster;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::project::FrameSpec;
use ratiomet_core::viewing::{Screen, Show, Viewing};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;
use crate::number::{ExactNumber, RectResult};
use crate::shapes::EdgesResult;

/// The request.
#[derive(Clone, Debug)]
pub struct ViewingRequest {
    delivery: FrameSpec,
    screen: Raster<Screen>,
    show: Show,
}

record!(
    /// A frame on a screen of square pixels.
    "ViewingRequest", "frames on screens" for ViewingRequest {
        /// The frame.
        delivery: FrameSpec = Required, |request| request.delivery.clone();
        /// Screen pixels across and down.
        screen: Raster<Screen> = Required, |request| request.screen;
        /// What the player does.
        show: Show = Default(r#""fit""#), |request| request.show;
    }
    |delivery, screen, show| Ok(ViewingRequest { delivery, screen, show })
);

impl Kind for ViewingRequest {
    fn calculation(self) -> Calculation {
        Calculation::Viewing(self.delivery.into_frame(), self.screen, self.show)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Viewing(delivery, screen, show) = calculation.clone() else { return None };
        Some(Self { delivery: delivery.into(), screen, show })
    }
}

/// What is seen, in exact screen pixels.
#[derive(Debug, Serialize, ToSchema)]
pub struct ViewingResult {
    /// The whole frame; it may pass the screen.
    pub frame: RectResult,
    /// The picture area in it.
    pub picture: RectResult,
    /// Black that the player adds.
    pub player_bars: EdgesResult,
    /// Black of the frame itself, as far as the screen shows it.
    pub baked_bars: EdgesResult,
    /// The part of the screen that shows picture.
    pub picture_share: ExactNumber,
    /// The part of the picture area that is lost.
    pub cut: ExactNumber,
    /// Whether black of either sort stands on both axes.
    pub double_boxed: bool,
}

impl From<Viewing> for ViewingResult {
    fn from(viewing: Viewing) -> Self {
        Self {
            frame: viewing.frame.into(),
            picture: viewing.picture.into(),
            player_bars: viewing.player_bars.into(),
            baked_bars: viewing.baked_bars.into(),
            picture_share: ExactNumber(viewing.picture_share),
            cut: ExactNumber(viewing.cut),
            double_boxed: viewing.double_boxed,
        }
    }
}
