//! [`SafeArea`]: the parts of a frame that should be seen on every screen.

use crate::bounded::bounded;
use crate::fraction::{Sign, Written};
use crate::space::{Delivery, Rect, Size};
use crate::{DeliveryFrame, Exact, limits};

bounded! {
    /// A part of both sides of a frame, in percent.
    ///
    /// # Guarantees
    /// From 1 to 100.
    Percent, limits::PERCENT, Sign::Never
}

/// A rule for safe areas.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum SafeArea {
    /// EBU R 95 (2017): 3.5 % off each side for action, 5 % for graphics (from memory).
    EbuR95,
    /// SMPTE ST 2046-1:2009: 93 % of each side for action, 90 % for titles (from memory).
    SmpteSt2046,
    /// A part of both sides of one's own.
    Own(Written<Percent>),
}

/// One area of a rule, in the middle of a frame.
#[derive(Clone, Debug)]
pub struct Zone {
    /// What it is for.
    pub name: String,
    /// The part of both sides, in percent.
    pub percent: Exact,
    /// Delivery pixels, exact.
    pub rect: Rect<Delivery>,
}

impl SafeArea {
    /// The most rules that a frame keeps.
    pub const MOST: usize = 6;

    /// The published rules by their words.
    pub const PUBLISHED: [(&'static str, Self); 2] = [("ebu_r95", Self::EbuR95), ("smpte_st2046_1", Self::SmpteSt2046)];

    /// The rule as it is written in files.
    pub fn text(&self) -> &str {
        match self {
            Self::EbuR95 => "ebu_r95",
            Self::SmpteSt2046 => "smpte_st2046_1",
            Self::Own(percent) => percent.text(),
        }
    }

    /// Its areas, the larger first. They are parts of the whole raster, whatever picture stands in it.
    pub fn zones(&self, frame: &DeliveryFrame) -> Vec<Zone> {
        let zone = |name: &str, percent: Exact| {
            let raster = frame.raster().size();
            let side = |whole: &Exact| (whole * &percent / Exact::whole(100)).reduced();
            let (width, height) = (side(&raster.width), side(&raster.height));
            let (x, y) = ((&raster.width - &width).half(), (&raster.height - &height).half());
            Zone { name: name.to_owned(), rect: Rect::new(x, y, Size::new(width, height)), percent }
        };
        match self {
            Self::EbuR95 => {
                vec![zone("EBU R 95 action", Exact::whole(93)), zone("EBU R 95 graphics", Exact::whole(90))]
            }
            Self::SmpteSt2046 => {
                vec![zone("ST 2046-1 action", Exact::whole(93)), zone("ST 2046-1 title", Exact::whole(90))]
            }
            Self::Own(percent) => vec![zone(&format!("{} %", percent.text()), percent.value().value().clone())],
        }
    }
}
