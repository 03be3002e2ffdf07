//! [`Point`]: one cause behind findings, with everything that has them.

mod cause;
mod remedy;
mod says;

use std::cmp::Reverse;
use std::collections::BTreeMap;

use crate::project::{Conversion, Judgement, Pair, Project};
use crate::{Finding, Severity};

pub use cause::Cause;
use cause::{by_cause, cause};
pub use remedy::PointRemedy;

/// A conversion that has the findings of a point.
#[derive(Clone, Debug)]
pub struct Affected {
    /// The conversion.
    pub pair: Pair,
    /// What it finds.
    pub finding: Finding,
    /// Why it may stay, if somebody has accepted it.
    pub accepted: Option<String>,
}

/// The share that a conversion has in the points of its project.
#[derive(Clone, Debug)]
pub struct Share {
    /// Its findings that have a part in points.
    pub affected: Vec<Affected>,
    /// Whether it needs a look or must not go out, for something of its own.
    pub is_flagged: bool,
    /// Whether it loses most of the picture.
    pub is_mostly_lost: bool,
}

impl Share {
    /// That of a conversion.
    pub fn of(pair: Pair, conversion: &Conversion) -> Self {
        let accepted = |finding: &Finding| match conversion.judgement(finding) {
            Judgement::Accepted(acceptance) => Some(acceptance.reason.as_str().to_owned()),
            Judgement::Open | Judgement::Lapsed(_) => None,
        };
        let affected = |finding: &Finding| Affected { pair, finding: finding.clone(), accepted: accepted(finding) };
        Self {
            affected: conversion.findings.iter().filter(|finding| is_point(finding)).map(affected).collect(),
            is_flagged: conversion.severity() > Some(Severity::Note),
            is_mostly_lost: conversion.findings.iter().any(|finding| matches!(finding, Finding::MostlyLost { .. })),
        }
    }
}

/// One cause behind findings.
#[derive(Clone, Debug)]
pub struct Point {
    /// The code of its findings.
    pub code: &'static str,
    /// What is behind them.
    pub cause: Cause,
    /// How much it matters: as much as the heaviest that nobody has accepted, or of all where all are.
    pub severity: Severity,
    /// Who is affected, in the order of the board.
    pub affected: Vec<Affected>,
    /// What it is, in a few words.
    pub title: String,
    /// What that means, with its numbers.
    pub detail: String,
}

impl Point {
    /// What it is known by while its cause is there.
    pub fn key(&self) -> String {
        match &self.cause {
            Cause::Source(id) => format!("{}-source-{id}", self.code),
            Cause::Frame(id) => format!("{}-frame-{id}", self.code),
            Cause::Unsaid => self.code.to_owned(),
            Cause::Rates(from, to) => format!("{}-{}-{}", self.code, from.replace('/', ":"), to.replace('/', ":")),
        }
    }

    /// Whether some of it has not been accepted.
    pub fn is_open(&self) -> bool {
        self.affected.iter().any(|affected| affected.accepted.is_none())
    }

    /// Why it may stay, where all of it was accepted: the reason given first.
    pub fn reason(&self) -> Option<&str> {
        if self.is_open() { None } else { self.affected.first().and_then(|first| first.accepted.as_deref()) }
    }
}

impl Project {
    /// What stands open in the project, by its cause: the heaviest first, then what affects most. What was
    /// accepted everywhere comes last.
    pub fn points(&self) -> Vec<Point> {
        self.points_of(self.board().flat_map(|(pair, conversion)| Share::of(pair, &conversion).affected))
    }

    /// The points behind what was found in conversions, which come in the order of the board.
    pub fn points_of(&self, found: impl IntoIterator<Item = Affected>) -> Vec<Point> {
        let mut settled: BTreeMap<(usize, Cause), Vec<Affected>> = BTreeMap::new();
        // Findings of source and frame together: either may be what they have in common.
        let mut shared: BTreeMap<usize, Vec<Affected>> = BTreeMap::new();
        for affected in found {
            let code = place(&affected.finding);
            match cause(&affected.finding, affected.pair) {
                Some(cause) => settled.entry((code, cause)).or_default().push(affected),
                None => shared.entry(code).or_default().push(affected),
            }
        }
        let mut points: Vec<Point> = Vec::new();
        for ((_, cause), affected) in settled {
            points.extend(self.point(cause, affected));
        }
        for affected in shared.into_values() {
            points.extend(by_cause(affected).into_iter().filter_map(|(cause, affected)| self.point(cause, affected)));
        }
        points.sort_by_cached_key(|point| {
            let open = point.affected.iter().filter(|affected| affected.accepted.is_none()).count();
            (!point.is_open(), Reverse(point.severity), Reverse(open), point.key())
        });
        points
    }

    fn point(&self, cause: Cause, affected: Vec<Affected>) -> Option<Point> {
        let open = || affected.iter().filter(|each| each.accepted.is_none());
        let heaviest = open().map(|each| each.finding.weight()).max();
        let severity = heaviest.or_else(|| affected.iter().map(|each| each.finding.weight()).max())?;
        let code = affected.first()?.finding.code();
        let (title, detail) = self.says(&cause, &affected)?;
        Some(Point { code, cause, severity, affected, title, detail })
    }
}

/// Whether a finding is a point of the project: what needs a look somewhere, and the questions which way up it is
/// and what nobody has said.
fn is_point(finding: &Finding) -> bool {
    finding.weight() > Severity::Note
        || matches!(finding, Finding::Sideways { .. } | Finding::RateMixed { .. } | Finding::NotSaid(_))
}

/// The place of its code among all.
fn place(finding: &Finding) -> usize {
    Finding::CODES.iter().position(|code| *code == finding.code()).unwrap_or(Finding::CODES.len())
}
