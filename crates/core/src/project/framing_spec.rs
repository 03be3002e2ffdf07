//! [`FramingSpec`]: how a picture is placed, as it was entered.

use crate::fraction::{Written, writable_text};
use crate::project::Placing;
use crate::{Exact, Framing, Shift, Zoom};

/// A framing as it was entered.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FramingSpec {
    /// How the picture is placed.
    pub method: Placing,
    /// Enlargement on top of it.
    pub zoom: Written<Zoom>,
    /// Displacement to the right, in delivery pixels; around a subject, where it should stay near.
    pub shift_x: Written<Shift>,
    /// Displacement downwards, in delivery pixels; likewise.
    pub shift_y: Written<Shift>,
}

impl FramingSpec {
    /// A method alone, centred.
    pub fn of(method: impl Into<Placing>) -> Self {
        let unmoved = || Written::plain("0", Shift::NONE);
        Self { method: method.into(), zoom: Written::plain("1", Zoom::NONE), shift_x: unmoved(), shift_y: unmoved() }
    }

    /// A framing that was computed, in the spelling of its numbers.
    pub fn written(framing: &Framing) -> Self {
        Self {
            method: framing.method.into(),
            zoom: Written::plain(&writable_text(framing.zoom.value()), framing.zoom.clone()),
            shift_x: Written::plain(&writable_text(framing.shift_x.value()), framing.shift_x.clone()),
            shift_y: Written::plain(&writable_text(framing.shift_y.value()), framing.shift_y.clone()),
        }
    }

    /// The checked framing, before it is placed around any subject.
    pub fn framing(&self) -> Framing {
        Framing {
            method: self.method.rule(),
            zoom: self.zoom.value().clone(),
            shift_x: self.shift_x.value().clone(),
            shift_y: self.shift_y.value().clone(),
        }
    }
}

impl FramingSpec {
    /// What it does, in words: `"fill, zoom 1.1, shift -90 0"`.
    pub fn words(&self) -> String {
        let mut words = match self.method {
            Placing::AroundSubject => "around subject".to_owned(),
            Placing::By(method) => method.word().to_owned(),
        };
        if *self.zoom.value().value() != Exact::ONE {
            words = format!("{words}, zoom {}", self.zoom.text());
        }
        if [&self.shift_x, &self.shift_y].iter().any(|shift| !shift.value().value().is_zero()) {
            words = format!("{words}, shift {} {}", self.shift_x.text(), self.shift_y.text());
        }
        words
    }
}

/// Parts of a framing to set; what is `None` stays.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct FramingPatch {
    /// The rule that sets the size.
    pub method: Option<Placing>,
    /// Enlargement on top of it.
    pub zoom: Option<Written<Zoom>>,
    /// Displacement to the right and downwards, in delivery pixels.
    pub shift: Option<[Written<Shift>; 2]>,
}

impl FramingPatch {
    /// The framing with these parts.
    pub fn apply(&self, framing: &FramingSpec) -> FramingSpec {
        let [shift_x, shift_y] =
            self.shift.clone().unwrap_or_else(|| [framing.shift_x.clone(), framing.shift_y.clone()]);
        FramingSpec {
            method: self.method.unwrap_or(framing.method),
            zoom: self.zoom.as_ref().unwrap_or(&framing.zoom).clone(),
            shift_x,
            shift_y,
        }
    }

    /// What it sets, in words: `"zoom 1.1, shift -90 0"`.
    pub fn words(&self) -> String {
        let mut words = Vec::new();
        if let Some(method) = self.method {
            words.push(method.words());
        }
        if let Some(zoom) = &self.zoom {
            words.push(format!("zoom {}", zoom.text()));
        }
        if let Some([x, y]) = &self.shift {
            words.push(format!("shift {} {}", x.text(), y.text()));
        }
        words.join(", ")
    }
}
