//! [`FramingSpec`] and [`Choice`]: what one conversion adds to its source and its frame.

use crate::fraction::{Written, writable_text};
use crate::project::{Name, Placing};
use crate::{Finding, Framing, Shift, Zoom};

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

/// A finding that somebody has accepted, and why.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Acceptance {
    /// The finding's code.
    pub code: String,
    /// Why it may stay.
    pub reason: Name,
    /// What the finding said then. When it says something else now, it is open again.
    pub said: String,
}

impl Acceptance {
    /// Whether it holds for what is found now.
    pub fn holds(&self, finding: &Finding) -> bool {
        self.code == finding.code() && self.said == finding.to_string()
    }
}

/// What one conversion of a project adds to its source and its frame.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Choice {
    /// A framing of its own; without one the method is its source's, else its frame's, else the
    /// board's.
    pub own: Option<FramingSpec>,
    /// What was accepted of its findings, each code once.
    pub accepted: Vec<Acceptance>,
    /// Framings to compare with, in the order in which they were pinned.
    pub pins: Vec<FramingSpec>,
}

impl Choice {
    /// The most framings that are pinned to one conversion.
    pub const MOST_PINS: usize = 6;

    /// A framing of its own and nothing else.
    pub fn of(framing: FramingSpec) -> Self {
        Self { own: Some(framing), ..Self::default() }
    }

    /// Whether it adds nothing.
    pub fn is_empty(&self) -> bool {
        *self == Self::default()
    }
}

/// Parts of a choice to set; what is `None` stays.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct ChoicePatch {
    /// A framing of its own, or none.
    pub own: Option<Option<FramingSpec>>,
    /// What was accepted.
    pub accepted: Option<Vec<Acceptance>>,
    /// What is pinned.
    pub pins: Option<Vec<FramingSpec>>,
}

impl ChoicePatch {
    /// The choice with these parts.
    pub fn apply(&self, choice: &Choice) -> Choice {
        Choice {
            own: self.own.as_ref().unwrap_or(&choice.own).clone(),
            accepted: self.accepted.as_ref().unwrap_or(&choice.accepted).clone(),
            pins: self.pins.as_ref().unwrap_or(&choice.pins).clone(),
        }
    }
}
