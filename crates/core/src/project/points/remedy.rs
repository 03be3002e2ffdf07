//! [`PointRemedy`]: what would help against a point.

use std::cmp::Reverse;
use std::collections::HashSet;

use super::{Cause, Point};
use crate::fraction::Written;
use crate::project::{
    Conversion, Edit, FrameId, FramePatch, FramingSpec, Pair, Project, SourceId, SourcePatch, Tolerances,
};
use crate::{Exact, Finding, FrameRate, Tolerance};

/// What would help against a point, for all at once.
#[derive(Clone, Debug)]
pub struct PointRemedy {
    /// In words.
    pub words: String,
    /// The edit that does it.
    pub edit: Edit,
    /// How many of the affected conversions are rid of the finding.
    pub solves: usize,
    /// The affected conversions as they would be.
    pub after: Vec<(Pair, Conversion)>,
}

/// The most affected conversions that are asked what would help them, each for itself.
const ASKED: usize = 600;

impl Project {
    /// What would help against a point, for all at once. Nothing is offered that makes any conversion worse
    /// than it is.
    pub fn remedies(&self, point: &Point) -> Vec<PointRemedy> {
        let mut ideas: Vec<(String, Idea)> = Vec::new();
        for affected in point.affected.iter().filter(|affected| affected.accepted.is_none()).take(ASKED) {
            let Some((_, proposals)) = self.proposals(affected.pair) else { continue };
            for proposal in proposals.into_iter().filter(|proposal| proposal.against == point.code) {
                let Some(idea) = Idea::of(proposal.edit) else { continue };
                match ideas.iter_mut().find(|(words, known)| *words == proposal.words && known.goes_with(&idea)) {
                    Some((_, known)) => known.take(idea),
                    None => ideas.push((proposal.words, idea)),
                }
            }
        }
        let mut edits: Vec<(String, Edit)> = ideas.into_iter().map(|(words, idea)| (words, idea.edit())).collect();
        edits.extend(self.tolerating(point));
        let found = edits.into_iter().filter_map(|(words, edit)| self.remedy(point, words, edit));
        let mut found: Vec<PointRemedy> = found.collect();
        found.sort_by_key(|remedy| Reverse(remedy.solves));
        found
    }

    fn remedy(&self, point: &Point, words: String, edit: Edit) -> Option<PointRemedy> {
        let changes = self.apply(&edit).ok()?;
        let after = self.with(&changes);
        // What the edit touches beside the point must not become worse either.
        let touched = changes.touched();
        let others = self.board().map(|(pair, _)| pair).filter(|pair| touched(*pair));
        let affected: HashSet<Pair> = point.affected.iter().map(|affected| affected.pair).collect();
        let worse = |pair: Pair| {
            let (before, after) = (self.conversion(pair), after.conversion(pair));
            before.zip(after).is_some_and(|(before, after)| after.severity() > before.severity())
        };
        if others.filter(|pair| !affected.contains(pair)).any(worse) {
            return None;
        }
        let mut solves = 0;
        let mut outcome = Vec::new();
        for affected in &point.affected {
            let (before, now) = (self.conversion(affected.pair)?, after.conversion(affected.pair)?);
            if now.severity() > before.severity() {
                return None;
            }
            let still = now.findings.iter().find(|finding| finding.code() == point.code);
            if still.is_none_or(|still| still.weight() < affected.finding.weight()) {
                solves += 1;
            }
            outcome.push((affected.pair, now));
        }
        (solves > 0).then_some(PointRemedy { words, edit, solves, after: outcome })
    }

    /// Saying that it is fine in this project.
    fn tolerating(&self, point: &Point) -> Option<(String, Edit)> {
        let mut settings = self.settings().clone();
        let words = match &point.cause {
            Cause::Rates(from, to) => {
                let rate = |text: &str| Written::parse(text, FrameRate::spoken).ok();
                let pair = [rate(from)?, rate(to)?];
                let Finding::RateMixed { from, to, .. } = &point.affected.first()?.finding else { return None };
                let words = format!(
                    "{} fps into {} fps is fine in this project",
                    from.to_short_decimal(3),
                    to.to_short_decimal(3)
                );
                if settings.tolerances.rates.len() >= Tolerances::MOST_RATES {
                    return None;
                }
                settings.tolerances.rates.push(pair);
                words
            }
            _ if point.code == "enlarged" => {
                let scales = point.affected.iter().filter_map(|each| match &each.finding {
                    Finding::Enlarged { scale, .. } => Some(scale.x.clone().min(scale.y.clone())),
                    _ => None,
                });
                // In steps of five percent, and not past what nobody would leave unseen.
                let twenty = Exact::whole(20);
                let up_to = Exact::from((scales.max()? * &twenty).ceil_whole()) / twenty;
                if up_to > Exact::whole(2) {
                    return None;
                }
                let percent = (&up_to * Exact::whole(100)).to_short_decimal(0);
                settings.tolerances.enlarged =
                    Written::of(Tolerance::new(crate::fraction::writable(&up_to)).ok()?, Tolerance::value);
                format!("Enlarging needs no look up to {percent} % in this project")
            }
            _ => return None,
        };
        Some((words, Edit::SetProject(settings)))
    }
}

/// An edit for one conversion that can be made one for many.
enum Idea {
    Sources(Vec<SourceId>, Box<SourcePatch>),
    Frames(Vec<FrameId>, Box<FramePatch>),
    Framings(Vec<(Pair, FramingSpec)>),
}

impl Idea {
    fn of(edit: Edit) -> Option<Self> {
        match edit {
            Edit::SetSources { ids, patch } => Some(Self::Sources(ids, patch)),
            Edit::SetFrames { ids, patch } => Some(Self::Frames(ids, patch)),
            Edit::SetConversions { pairs, own: Some(own) } => {
                Some(Self::Framings(pairs.into_iter().map(|pair| (pair, own.clone())).collect()))
            }
            _ => None,
        }
    }

    fn goes_with(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Sources(_, one), Self::Sources(_, other)) => one == other,
            (Self::Frames(_, one), Self::Frames(_, other)) => one == other,
            (Self::Framings(_), Self::Framings(_)) => true,
            _ => false,
        }
    }

    fn take(&mut self, other: Self) {
        match (self, other) {
            (Self::Sources(ids, _), Self::Sources(more, _)) => {
                ids.extend(more.into_iter().filter(|id| !ids.contains(id)).collect::<Vec<_>>());
            }
            (Self::Frames(ids, _), Self::Frames(more, _)) => {
                ids.extend(more.into_iter().filter(|id| !ids.contains(id)).collect::<Vec<_>>());
            }
            (Self::Framings(each), Self::Framings(more)) => each.extend(more),
            _ => {}
        }
    }

    fn edit(self) -> Edit {
        match self {
            Self::Sources(ids, patch) => Edit::SetSources { ids, patch },
            Self::Frames(ids, patch) => Edit::SetFrames { ids, patch },
            Self::Framings(each) => Edit::SetFramings(each),
        }
    }
}
