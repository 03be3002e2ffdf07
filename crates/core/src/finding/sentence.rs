//! Findings in sentences.

use std::fmt;

use super::{Finding, SEEN_DISTORTION, Squeezing};
use crate::Exact;
use crate::signal::SignalRange;
use crate::space::{Axes, Axis, Delivery, Factor};

/// A share in percent, as fine as it is shown.
pub(super) fn percent(value: &Exact) -> String {
    let value = value * Exact::whole(100);
    // Small shares keep three digits that count.
    let places = if value.abs() < Exact::ONE { 3 } else { 1 };
    value.to_short_decimal(places)
}

/// Percent of both axes: `"120 %"`, or `"120 % across and 110 % up and down"`.
fn both(axes: &Axes<Factor>) -> String {
    let (x, y) = (percent(&axes.x), percent(&axes.y));
    if x == y { format!("{x} %") } else { format!("{x} % across and {y} % up and down") }
}

/// The axes on which a length is over 0, as a phrase: `"12 px across and 4 px up and down"`.
fn lengths(axes: &Axes<Delivery>, across: &str, down: &str) -> String {
    let part =
        |value: &Exact, words: &str| value.is_positive().then(|| format!("{} px {words}", value.to_short_decimal(2)));
    let parts: Vec<_> = [part(&axes.x, across), part(&axes.y, down)].into_iter().flatten().collect();
    parts.join(" and ")
}

impl fmt::Display for Finding {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Bars { each_side } => write!(
                f,
                "The picture does not cover its area: bars of {}.",
                lengths(each_side, "left and right", "top and bottom")
            ),
            Self::OffEdge { beyond, travel } => write!(
                f,
                "Moved past the end of its travel by {}; {} px across and {} px up and down are free either way.",
                lengths(beyond, "across", "up and down"),
                travel.x.to_short_decimal(2),
                travel.y.to_short_decimal(2)
            ),
            Self::DoubleBoxed { black } => write!(
                f,
                "Boxed on both axes: {} px of black across, {} px up and down. A player will box it once more or crop it.",
                black.x.to_short_decimal(2),
                black.y.to_short_decimal(2)
            ),
            Self::Distorted { distortion } => {
                let word = if distortion.is_negative() { "narrower" } else { "wider" };
                let share = percent(&distortion.abs());
                if distortion.abs() > SEEN_DISTORTION {
                    write!(f, "Circles come out {share} % {word} than they are high.")
                } else {
                    write!(f, "Circles come out {share} % {word} than they are high: too little to be seen.")
                }
            }
            Self::Enlarged { scale, whole, remainder, .. } => write!(
                f,
                "Enlarged to {} of its stored pixels. The smallest whole enlargement that covers it is {whole}x, \
                 then scaled to {}.",
                both(scale),
                both(remainder)
            ),
            Self::EnlargedOneWay { axis, scale } => write!(
                f,
                "{} only, pixels are enlarged to {} %, as squeeze and pixel shape do by nature.",
                match axis {
                    Axis::X => "Across",
                    Axis::Y => "Up and down",
                },
                percent(scale)
            ),
            Self::OddSize { raster, step } => write!(
                f,
                "{}×{} is off its step: both sides should be multiples of {}.",
                raster.width(),
                raster.height(),
                step.pixels()
            ),
            Self::MostlyLost { kept, .. } => {
                write!(f, "Only {} % of the picture stays, {} % is cut.", percent(kept), percent(&(Exact::ONE - kept)))
            }
            Self::Sideways { now, turned } => write!(
                f,
                "The picture seems to lie on its side: a further quarter turn would make it match the frame by {} % \
                 instead of {} %.",
                percent(turned),
                percent(now)
            ),
            Self::NearPublished { raster, published } => write!(
                f,
                "{}×{} is almost {}, which is {}×{}: was that meant?",
                raster.width(),
                raster.height(),
                published.name,
                published.width,
                published.height
            ),
            Self::SubjectCut { shown } if shown.is_zero() => write!(f, "Nothing of the subject is seen in this frame."),
            Self::SubjectCut { shown } => {
                write!(f, "{} % of the subject is cut off in this frame.", percent(&(Exact::ONE - shown)))
            }
            Self::NoSubject => {
                write!(f, "Placed around the subject, but none is marked on the source: the frame is only filled.")
            }
            Self::Squeeze(Squeezing::Missing { squeeze }) => write!(
                f,
                "Desqueezed {}x this picture would match the frame: was it stored squeezed?",
                squeeze.to_short_decimal(3)
            ),
            Self::Squeeze(Squeezing::Twice { pixel_aspect, squeeze }) => write!(
                f,
                "Pixel aspect {} and squeeze {} are both set, and say the same: is one squeeze taken out twice?",
                pixel_aspect.to_short_decimal(3),
                squeeze.to_short_decimal(3)
            ),
            Self::Detour { detail, direct, through } => write!(
                f,
                "On its way through {through} only {} % of the detail across and {} % up and down arrive; straight from \
                 the source it would be {} % and {} %.",
                percent(&detail.x),
                percent(&detail.y),
                percent(&direct.x),
                percent(&direct.y)
            ),
            Self::RateMixed { from, to, cadence } => write!(
                f,
                "{} frames a second do not go evenly into {}: {cadence}. Movement is uneven or blended, unless every \
                 frame is shown once and the speed changes.",
                from.to_short_decimal(3),
                to.to_short_decimal(3)
            ),
            Self::Interlaced => write!(
                f,
                "The source is interlaced and the frame progressive: lines of two moments show as combs where \
                 something moves, until they are deinterlaced."
            ),
            Self::Range { from, to } => write!(
                f,
                "The source uses the {} signal range and the frame the {} one: unconverted, black and white come out \
                 {}.",
                from.word(),
                to.word(),
                if *to == SignalRange::Narrow { "clipped" } else { "grey" }
            ),
        }
    }
}
