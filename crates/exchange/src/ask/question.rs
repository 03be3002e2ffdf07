//! [`Question`]: what is asked, as a calculation or a figure.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::{Error, Exact, Raster};

/// What is asked for.
pub(super) enum Asked {
    /// One of the calculations.
    Calculation(Box<Calculation>),
    /// A figure that needs none, as a sentence.
    Figure(String),
}

/// What is asked: how it was understood, and the calculation, or what it would accept.
pub(super) struct Question {
    pub understood: String,
    pub asked: Result<Asked, Error>,
    /// What stands before the answer.
    pub lead: Option<String>,
    /// What was taken for granted.
    pub remarks: Vec<String>,
    /// What may have been meant as well.
    pub others: Vec<(String, Calculation)>,
}

impl Question {
    pub fn new(understood: String, calculation: impl FnOnce() -> Result<Calculation, Error>) -> Self {
        let asked = calculation().map(|calculation| Asked::Calculation(Box::new(calculation)));
        Self { understood, asked, lead: None, remarks: Vec::new(), others: Vec::new() }
    }

    pub fn figure(understood: String, sentence: String) -> Self {
        let asked = Ok(Asked::Figure(sentence));
        Self { understood, asked, lead: None, remarks: Vec::new(), others: Vec::new() }
    }

    pub fn noting(mut self, remark: impl Into<String>) -> Self {
        self.remarks.push(remark.into());
        self
    }

    /// With a sentence before the answer.
    pub fn leading(mut self, lead: String) -> Self {
        self.lead = Some(lead);
        self
    }

    /// With what may have been meant as well, where that can be answered.
    pub fn or(mut self, understood: impl Into<String>, calculation: Result<Calculation, Error>) -> Self {
        self.others.extend(calculation.ok().map(|calculation| (understood.into(), calculation)));
        self
    }

    /// With the reading of another question, and its own.
    pub fn or_all(mut self, other: Self) -> Self {
        if let Ok(Asked::Calculation(calculation)) = other.asked {
            self.others.push((other.understood, *calculation));
        }
        self.others.extend(other.others);
        self
    }
}

pub(super) fn raster<S>([width, height]: [u32; 2]) -> Result<Raster<S>, Error> {
    Raster::new(width, height)
}

pub(super) fn size_text([width, height]: [u32; 2]) -> String {
    format!("{width}×{height}")
}

pub(super) fn value(text: &str) -> Option<Exact> {
    ratiomet_core::fraction::parse(text, ratiomet_core::fraction::Sign::Never).ok()
}
