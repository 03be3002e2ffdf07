//! [`Choice`]: what one conversion adds to its source and its frame.

use crate::Finding;
use crate::finding::FindingKey;
use crate::project::{FramingSpec, Name};
use crate::resampling::Resampling;

/// A finding that somebody has accepted, and why.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Acceptance {
    /// The finding's code.
    pub code: &'static str,
    /// Why it may stay.
    pub reason: Name,
    /// The numbers that the finding had then. When it has others now, it is open again.
    pub key: FindingKey,
}

impl Acceptance {
    /// Whether it holds for what is found now.
    pub fn holds(&self, finding: &Finding) -> bool {
        self.code == finding.code() && self.key == finding.key()
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
    /// The framing with which it was imported, such as the one from set. It stays when it gets another one.
    pub imported: Option<FramingSpec>,
    /// How its samples are worked out, if somebody has looked and decided.
    pub taken: Option<Resampling>,
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
    /// The framing with which it was imported, or none.
    pub imported: Option<Option<FramingSpec>>,
    /// How its samples are worked out, or undecided.
    pub taken: Option<Option<Resampling>>,
}

impl ChoicePatch {
    /// The choice with these parts.
    pub fn apply(&self, choice: &Choice) -> Choice {
        Choice {
            own: self.own.as_ref().unwrap_or(&choice.own).clone(),
            accepted: self.accepted.as_ref().unwrap_or(&choice.accepted).clone(),
            pins: self.pins.as_ref().unwrap_or(&choice.pins).clone(),
            imported: self.imported.as_ref().unwrap_or(&choice.imported).clone(),
            taken: self.taken.as_ref().unwrap_or(&choice.taken).clone(),
        }
    }
}

/// That a way of resampling is taken, or none any more, in words.
pub(super) fn taken_words(taken: Option<&Resampling>) -> String {
    taken.map_or_else(|| "resampling undecided".to_owned(), |taken| format!("take {}", taken.words()))
}

impl Choice {
    /// What makes it of an earlier one, in words.
    pub(super) fn words_since(&self, before: &Self) -> String {
        if self.own != before.own {
            return self.own.as_ref().map_or_else(|| "follow".to_owned(), FramingSpec::words);
        }
        if self.taken != before.taken {
            return taken_words(self.taken.as_ref());
        }
        let new = self.accepted.iter().find(|acceptance| !before.accepted.contains(acceptance));
        match new {
            Some(new) => format!("accept {} ({})", new.code.replace('_', " "), new.reason.as_str()),
            None if self.accepted.len() < before.accepted.len() => "reopen a finding".to_owned(),
            None if self.imported != before.imported => "forget the imported framing".to_owned(),
            None if self.pins.len() < before.pins.len() => "remove a pin".to_owned(),
            None => "pin a framing".to_owned(),
        }
    }

    /// The same with one finding judged: accepted for a reason, or open again. What is not found cannot be
    /// accepted.
    pub(super) fn judged(&self, code: &'static str, reason: Option<&Name>, found: &[Finding]) -> Self {
        let mut choice = self.clone();
        match (reason, found.iter().find(|finding| finding.code() == code)) {
            (Some(reason), Some(finding)) => {
                choice.accepted.retain(|acceptance| acceptance.code != code);
                choice.accepted.push(Acceptance { code, reason: reason.clone(), key: finding.key() });
            }
            (None, _) => choice.accepted.retain(|acceptance| acceptance.code != code),
            (Some(_), None) => {}
        }
        choice
    }
}
