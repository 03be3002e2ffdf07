//! What a point is called, and what it means.

use std::collections::HashSet;

use super::{Affected, Cause};
use crate::finding::{Squeezing, is_slip};
use crate::project::Project;
use crate::signal::{Projection, Signal, SignalRange};
use crate::words::counted;
use crate::{Exact, Finding};

impl Project {
    /// What a point is called, and what it means.
    pub(super) fn says(&self, cause: &Cause, affected: &[Affected]) -> Option<(String, String)> {
        let name = match cause {
            Cause::Source(id) => self.source(*id)?.name.as_str(),
            Cause::Frame(id) => self.frame(*id)?.name.as_str(),
            Cause::Rates(..) | Cause::Unsaid => "",
        };
        let frames = affected.iter().map(|each| each.pair.frame).collect::<HashSet<_>>().len();
        let clips = affected.iter().map(|each| each.pair.source).collect::<HashSet<_>>().len();
        let of_source = matches!(cause, Cause::Source(_));
        let among = if of_source { format!("in {}", counted(frames, "frame")) } else { counted(clips, "clip") };
        let first = &affected.first()?.finding;
        let range = |numbers: Vec<Exact>, unit: &str| spread(numbers, unit);
        Some(match first {
            Finding::RateMixed { from, to, cadence } => {
                let (a, b) = (from.to_short_decimal(3), to.to_short_decimal(3));
                let meaning =
                    if is_slip(from, to) { first.to_string() } else { faster(from, to, &cadence.to_string()) };
                (format!("{a} fps into {b} fps: {}", counted(clips, "clip")), meaning)
            }
            Finding::NotSaid(signal) => {
                let (what, meaning) = match signal {
                    Signal::Scan => ("Scan", "nothing says progressive or interlaced; planned as progressive"),
                    Signal::Range => {
                        ("Signal range", "nothing says narrow or full; the values are passed on unchanged")
                    }
                };
                (format!("{what} unknown: {}", counted(clips, "clip")), meaning.to_owned())
            }
            Finding::Interlaced => (
                format!("{name} is interlaced: {}", counted(frames, "frame")),
                "the frames are progressive: motion will show combing".to_owned(),
            ),
            Finding::Range { from, to } => (
                format!("{name} has {} range: {}", from.word(), counted(frames, "frame")),
                format!(
                    "the frames have {} range: black and white come out {}",
                    to.word(),
                    if *to == SignalRange::Narrow { "clipped" } else { "grey" }
                ),
            ),
            Finding::OverLevel { codec, set, needed } => (
                match set {
                    Some(set) => format!("{name} is over {codec} level {set}"),
                    None => format!("{name} is over every level of {codec}"),
                },
                match needed {
                    Some(needed) => format!("its size, rate and bit rate need level {needed}"),
                    None => "no level takes its size, rate and bit rate: decoders may not play it".to_owned(),
                },
            ),
            Finding::Detour { through, .. } => {
                let left = affected.iter().filter_map(|each| match &each.finding {
                    Finding::Detour { detail, .. } => Some(detail.x.clone().min(detail.y.clone())),
                    _ => None,
                });
                (
                    format!("Detour on the way to {name}: {}", counted(clips, "clip")),
                    format!("made from {through}, {} of the detail is left", range(left.collect(), " %")),
                )
            }
            Finding::Squeeze(Squeezing::Missing { squeeze, set, alike, .. }) => {
                let squeeze = squeeze.to_short_decimal(3);
                let has = if *set == Exact::ONE {
                    "no squeeze".to_owned()
                } else {
                    format!("squeeze {}", set.to_short_decimal(3))
                };
                (
                    format!("{name} has {has}, {alike} clips like it have {squeeze}"),
                    "same raster, pixel aspect and camera".to_owned(),
                )
            }
            Finding::Squeeze(Squeezing::Twice { .. }) => (format!("{name} may be desqueezed twice"), first.to_string()),
            Finding::Sideways { .. } => (
                format!("Which way up is {name} stored?"),
                format!("by its numbers it may lie on its side: asked once, {among}"),
            ),
            Finding::Projection { from: Projection::Sphere, .. } => (
                format!("{name} is a sphere in {}", counted(frames, "flat frame")),
                "unrolled, nothing straight stays straight: take a flat view out of it".to_owned(),
            ),
            Finding::Projection { .. } => (
                format!("{name} is for a sphere: {}", counted(clips, "flat clip")),
                "a flat picture would be wrapped around the viewer: place it on the sphere instead".to_owned(),
            ),
            Finding::SphereForm { from, to } => (
                format!("{name} wants a sphere that lies otherwise: {}", counted(clips, "clip")),
                format!("a {from}, where a {to} is wanted"),
            ),
            Finding::SphereShape { .. } => (format!("{name} has not the shape of a sphere"), first.to_string()),
            Finding::SphereCut { .. } => (format!("The sphere of {name} is cut or rotated"), first.to_string()),
            Finding::SphereUnsaid => (format!("{name} does not say that it is a sphere"), first.to_string()),
            Finding::SphereEnlarged { .. } => {
                let scales = affected.iter().filter_map(|each| match &each.finding {
                    Finding::SphereEnlarged { scale } => Some(scale.clone()),
                    _ => None,
                });
                let title =
                    if of_source { format!("{name} is enlarged {among}") } else { format!("{name} enlarges {among}") };
                (title, format!("to {} of the sphere's own pixels", range(scales.collect(), " %")))
            }
            Finding::SphereGone => (format!("{name} looks out of a sphere that is not there"), first.to_string()),
            Finding::OddSize { .. } | Finding::NearPublished { .. } => {
                (format!("The size of {name}"), first.to_string())
            }
            Finding::Enlarged { .. } => {
                let scales = affected.iter().filter_map(|each| match &each.finding {
                    Finding::Enlarged { scale, .. } => Some(scale.x.clone().min(scale.y.clone())),
                    _ => None,
                });
                let title =
                    if of_source { format!("{name} is enlarged {among}") } else { format!("{name} enlarges {among}") };
                (title, format!("to {} of the stored size", range(scales.collect(), " %")))
            }
            Finding::SubjectCut { .. } => {
                let cut = affected.iter().filter_map(|each| match &each.finding {
                    Finding::SubjectCut { shown } => Some(Exact::ONE - shown),
                    _ => None,
                });
                let title = if of_source {
                    format!("The subject of {name} is cut {among}")
                } else {
                    format!("{name} cuts the subject of {among}")
                };
                (title, format!("{} of it is cut off", range(cut.collect(), " %")))
            }
            Finding::MostlyLost { .. } => {
                let kept = affected.iter().filter_map(|each| match &each.finding {
                    Finding::MostlyLost { kept, .. } => Some(kept.clone()),
                    _ => None,
                });
                let title = if of_source {
                    format!("Little is left of {name} {among}")
                } else {
                    format!("{name} keeps little of {among}")
                };
                (title, format!("{} of the picture is kept, less than the ratios cost", range(kept.collect(), " %")))
            }
            Finding::Bars { .. } => {
                let title =
                    if of_source { format!("{name} leaves bars {among}") } else { format!("{name} has bars: {among}") };
                (
                    title,
                    if affected.len() == 1 {
                        first.to_string()
                    } else {
                        "the picture does not fill the frame".to_owned()
                    },
                )
            }
            Finding::DoubleBoxed { .. } => (
                if of_source {
                    format!("{name} has bars on all four sides {among}")
                } else {
                    format!("Bars on all four sides of {name}: {among}")
                },
                "a player will add more bars, or crop".to_owned(),
            ),
            Finding::OffEdge { .. } => (
                if of_source {
                    format!("{name} is shifted past its edge {among}")
                } else {
                    format!("Shifted past the edge in {name}: {among}")
                },
                if affected.len() == 1 { first.to_string() } else { "black shows beside the picture".to_owned() },
            ),
            Finding::Distorted { .. } => (
                if of_source { format!("{name} is stretched {among}") } else { format!("{name} stretches {among}") },
                if affected.len() == 1 { first.to_string() } else { "circles do not stay round".to_owned() },
            ),
            Finding::EnlargedOneWay { .. } | Finding::NoSubject | Finding::SubjectTight { .. } => return None,
        })
    }
}

/// Shares from the smallest to the largest: `"12.8 to 40 %"`.
fn spread(mut numbers: Vec<Exact>, unit: &str) -> String {
    numbers.sort();
    let percent = |value: &Exact| (value * Exact::whole(100)).to_short_decimal(1);
    match (numbers.first().map(percent), numbers.last().map(percent)) {
        (Some(least), Some(most)) if least != most => format!("{least} to {most}{unit}"),
        (Some(only), _) => format!("{only}{unit}"),
        _ => String::new(),
    }
}

/// What can be done about two rates that do not go evenly into each other.
fn faster(from: &Exact, to: &Exact, cadence: &str) -> String {
    let speed = to / from;
    let by = ((&speed - Exact::ONE).abs() * Exact::whole(100)).to_short_decimal(2);
    let way = if speed > Exact::ONE { "faster" } else { "slower" };
    format!("uneven motion ({cadence}), or run every frame {by} % {way}")
}
