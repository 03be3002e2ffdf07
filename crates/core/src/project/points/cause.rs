//! [`Cause`]: what findings have in common.

use std::cmp::Reverse;
use std::collections::{BinaryHeap, HashMap};

use super::Affected;
use crate::Finding;
use crate::project::{FrameId, Pair, SourceId};
use crate::signal::Projection;

/// What is behind findings of one code.
#[derive(Clone, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Cause {
    /// A source, wherever it goes.
    Source(SourceId),
    /// A frame, whatever comes.
    Frame(FrameId),
    /// Two rates, as fractions: that of sources and that of frames.
    Rates(String, String),
    /// Every source that leaves something unsaid.
    Unsaid,
}

/// The cause of a finding that has one by its nature.
pub(super) fn cause(finding: &Finding, pair: Pair) -> Option<Cause> {
    match finding {
        Finding::RateMixed { from, to, .. } => Some(Cause::Rates(from.to_string(), to.to_string())),
        Finding::NotSaid(_) => Some(Cause::Unsaid),
        Finding::Interlaced
        | Finding::Range { .. }
        | Finding::Squeeze(_)
        | Finding::Sideways { .. }
        | Finding::NoSubject
        | Finding::EnlargedOneWay { .. }
        | Finding::SphereShape { of_frame: false, .. }
        | Finding::SphereCut { .. }
        | Finding::SphereUnsaid
        | Finding::SphereGone
        | Finding::Projection { from: Projection::Sphere, .. } => Some(Cause::Source(pair.source)),
        Finding::Detour { .. }
        | Finding::OddSize { .. }
        | Finding::OverLevel { .. }
        | Finding::SphereForm { .. }
        | Finding::SphereShape { .. }
        | Finding::NearPublished { .. }
        | Finding::Projection { .. } => Some(Cause::Frame(pair.frame)),
        Finding::Bars { .. }
        | Finding::OffEdge { .. }
        | Finding::DoubleBoxed { .. }
        | Finding::Distorted { .. }
        | Finding::Enlarged { .. }
        | Finding::SphereEnlarged { .. }
        | Finding::MostlyLost { .. }
        | Finding::SubjectTight { .. }
        | Finding::SubjectCut { .. } => None,
    }
}

/// The conversions by what most of them share, source or frame, as long as any is left.
pub(super) fn by_cause(affected: Vec<Affected>) -> Vec<(Cause, Vec<Affected>)> {
    let causes = |each: &Affected| [Cause::Source(each.pair.source), Cause::Frame(each.pair.frame)];
    let mut members: HashMap<Cause, Vec<usize>> = HashMap::new();
    for (at, each) in affected.iter().enumerate() {
        for cause in causes(each) {
            members.entry(cause).or_default().push(at);
        }
    }
    let mut counts: HashMap<Cause, usize> = members.iter().map(|(cause, of)| (cause.clone(), of.len())).collect();
    // The one that most share is on top; some counts are those of before others were taken out.
    let mut most: BinaryHeap<(usize, Reverse<Cause>)> =
        counts.iter().map(|(cause, count)| (*count, Reverse(cause.clone()))).collect();
    let mut left: Vec<Option<Affected>> = affected.into_iter().map(Some).collect();
    let mut groups = Vec::new();
    while let Some((count, Reverse(cause))) = most.pop() {
        let now = counts[&cause];
        if now < count {
            most.push((now, Reverse(cause)));
            continue;
        }
        let taken: Vec<Affected> = members[&cause].iter().filter_map(|at| left[*at].take()).collect();
        if taken.is_empty() {
            continue;
        }
        for cause in taken.iter().flat_map(causes) {
            counts.entry(cause).and_modify(|count| *count -= 1);
        }
        groups.push((cause, taken));
    }
    groups
}
