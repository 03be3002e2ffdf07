//! Kind `viewing`: a delivered frame on a screen.

use ratiomet_core::viewing::{Show, Viewing};
use serde::Serialize;
use utoipa::ToSchema;

use super::{CalcResult, EdgesResult};
use crate::geometry::{DeliveryGeometry, read_delivery};
use crate::number::{ExactNumber, RectResult};
use crate::read::{Field, Object};

/// What a player does with a frame of another shape.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum ShowName {
    /// All of the frame is seen.
    Fit,
    /// The screen is filled.
    Fill,
}

/// A frame on a screen of square pixels.
#[derive(Debug, Serialize, ToSchema)]
pub struct ViewingRequest {
    /// The frame.
    pub delivery: DeliveryGeometry,
    /// Screen pixels across and down.
    #[schema(example = json!([2340, 1080]), minimum = 1, maximum = 65536)]
    pub screen: [u32; 2],
    /// What the player does.
    #[schema(default = "fit", required = false)]
    pub show: ShowName,
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

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let delivery = object.required("delivery", read_delivery);
    let screen = object.required("screen", Field::raster);
    let show = object.optional("show", Show::default, |field| field.word(&[("fit", Show::Fit), ("fill", Show::Fill)]));
    object.done()?;
    Some(CalcResult::Viewing(Box::new(Viewing::of(delivery?.frame(), screen?, show?).into())))
}
