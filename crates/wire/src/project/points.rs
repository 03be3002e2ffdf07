//! The open points of a project, and what would help against one.

use ratiomet_core::project::{Cause, Pair, Point, PointRemedy, Project, Share};
use serde::Serialize;
use utoipa::ToSchema;

use super::resources::Crossing;
use crate::calc::SeverityName;
use crate::describe::Values;
use crate::names::{EditRequest, FindingCode};
use crate::values::Code;

/// What stands open in a project.
#[derive(Debug, Serialize, ToSchema)]
pub struct PointsResult {
    /// The causes, the heaviest first; those accepted everywhere last.
    pub points: Vec<PointResource>,
    /// How many conversions the project has.
    pub conversions: usize,
    /// How many of them need a look or must not go out for something of their own.
    pub flagged: usize,
    /// How many lose over 60 % of the picture by the ratios alone.
    pub mostly_lost: usize,
}

/// What is behind the findings of a point.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum CauseName {
    /// A source.
    Source,
    /// A frame.
    Frame,
    /// Two rates.
    Rates,
    /// Every source that leaves something unsaid.
    Unsaid,
}

/// One cause behind findings.
#[derive(Debug, Serialize, ToSchema)]
#[schema(as = Point)]
pub struct PointResource {
    /// What it is known by while its cause is there.
    #[schema(example = "interlaced-source-5")]
    pub key: String,
    /// The code of its findings.
    pub code: FindingCode,
    /// How much it matters.
    pub severity: SeverityName,
    /// What it is, in a few words.
    #[schema(example = "25 fps into 24 fps: 12 clips")]
    pub title: String,
    /// What that means, with its numbers.
    pub detail: String,
    /// What is behind it.
    pub cause: CauseName,
    /// The conversions that have it, as pairs of the source's and the frame's number.
    pub conversions: Vec<[i32; 2]>,
    /// How many of them nobody has accepted.
    pub open: usize,
    /// Why it may stay, where all of it was accepted.
    pub reason: Option<String>,
}

impl From<&Point> for PointResource {
    fn from(point: &Point) -> Self {
        Self {
            key: point.key(),
            code: Values(Code(point.code)),
            severity: point.severity.into(),
            title: point.title.clone(),
            detail: point.detail.clone(),
            cause: match point.cause {
                Cause::Source(_) => CauseName::Source,
                Cause::Frame(_) => CauseName::Frame,
                Cause::Rates(..) => CauseName::Rates,
                Cause::Unsaid => CauseName::Unsaid,
            },
            conversions: point.affected.iter().map(|each| numbers(each.pair)).collect(),
            open: point.affected.iter().filter(|each| each.accepted.is_none()).count(),
            reason: point.reason().map(str::to_owned),
        }
    }
}

const fn numbers(pair: Pair) -> [i32; 2] {
    [pair.source.number(), pair.frame.number()]
}

impl PointsResult {
    /// What stands open, by what was found in each conversion.
    pub fn of<'a>(project: &Project, found: impl Iterator<Item = &'a Share> + Clone) -> Self {
        let points = project.points_of(found.clone().flat_map(|found| found.affected.iter().cloned()));
        Self {
            conversions: found.clone().count(),
            flagged: found.clone().filter(|found| found.is_flagged).count(),
            mostly_lost: found.filter(|found| found.is_mostly_lost).count(),
            points: points.iter().map(Into::into).collect(),
        }
    }
}

/// What would help against a point, for all at once.
#[derive(Debug, Serialize, ToSchema)]
pub struct PointRemedyResult {
    /// In words.
    #[schema(example = "Deinterlace on hand-off")]
    pub words: String,
    /// The edit that does it.
    pub edit: EditRequest,
    /// How many of the conversions are rid of the finding.
    pub solves: usize,
    /// The conversions as they would be, at most 24 of them.
    pub after: Vec<Crossing>,
}

impl PointRemedyResult {
    /// The most outcomes that are drawn.
    const MOST: usize = 24;
}

impl From<PointRemedy> for PointRemedyResult {
    fn from(remedy: PointRemedy) -> Self {
        let drawn = remedy.after.iter().take(Self::MOST);
        Self {
            words: remedy.words,
            solves: remedy.solves,
            after: drawn.map(|(pair, conversion)| Crossing::new(*pair, 0, conversion)).collect(),
            edit: Values(remedy.edit),
        }
    }
}
