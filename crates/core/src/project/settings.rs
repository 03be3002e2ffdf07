//! [`ProjectSettings`]: what a project itself keeps.

use crate::fraction::Written;
use crate::project::{Name, Placing};
use crate::subject::Margin;
use crate::{Exact, FrameRate, Tolerance};

/// What a project itself keeps.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ProjectSettings {
    /// What it is called.
    pub name: Name,
    /// The method of every conversion for which nothing nearer has one.
    pub method: Placing,
    /// How far something needs no look.
    pub tolerances: Tolerances,
}

/// How far something needs no look in a project.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Tolerances {
    /// Delivery pixels per stored pixel up to which an enlargement is only noted.
    pub enlarged: Written<Tolerance>,
    /// Pairs of rates that are fine as they are, from a source's to a frame's.
    pub rates: Vec<[Written<FrameRate>; 2]>,
    /// What should stay free around subjects.
    pub margin: Written<Margin>,
}

impl Default for Tolerances {
    fn default() -> Self {
        Self {
            enlarged: Written::of(Tolerance::default(), Tolerance::value),
            rates: Vec::new(),
            margin: Written::of(Margin::default(), Margin::value),
        }
    }
}

impl Tolerances {
    /// The most pairs of rates that are kept.
    pub const MOST_RATES: usize = 40;

    /// Whether somebody has said that these rates go together.
    pub fn takes(&self, from: &Exact, to: &Exact) -> bool {
        self.rates.iter().any(|[source, frame]| source.value().value() == from && frame.value().value() == to)
    }
}

impl ProjectSettings {
    /// Settings with this name; a board that fills its frames: nobody comes for bars.
    pub fn named(name: Name) -> Self {
        Self { name, method: Placing::By(crate::Method::Fill), tolerances: Tolerances::default() }
    }

    /// What differs from earlier settings, in words.
    pub fn words_since(&self, before: &Self) -> String {
        let mut words = Vec::new();
        if self.method != before.method {
            words.push(self.method.words());
        }
        if self.tolerances.enlarged != before.tolerances.enlarged {
            let percent = self.tolerances.enlarged.value().value() * Exact::whole(100);
            words.push(format!("enlarging needs no look up to {} %", percent.to_short_decimal(1)));
        }
        if self.tolerances.rates != before.tolerances.rates {
            let new = self.tolerances.rates.iter().filter(|pair| !before.tolerances.rates.contains(pair));
            let new: Vec<_> = new.map(|[from, to]| format!("{} fps into {} fps", from.text(), to.text())).collect();
            words.push(if new.is_empty() {
                "fewer rates are fine".to_owned()
            } else {
                format!("{} is fine", new.join(", "))
            });
        }
        if self.tolerances.margin != before.tolerances.margin {
            let percent = self.tolerances.margin.value().value() * Exact::whole(100);
            words.push(format!("subjects keep {} % of the frame free around them", percent.to_short_decimal(2)));
        }
        if self.name != before.name {
            words.push(format!("rename the project to {}", self.name.as_str()));
        }
        words.join(", ")
    }
}
