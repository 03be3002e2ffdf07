//! Findings in sentences.

use std::fmt;

use super::{Finding, SEEN_DISTORTION, Squeezing, is_slip};
use crate::signal::{Projection, Signal, SignalRange};
use crate::space::{Axes, Axis, Delivery, Factor};
use crate::{Exact, Insets, Rotation};

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
            Self::Bars { each_side, .. } => {
                write!(f, "The picture leaves bars of {}.", lengths(each_side, "left and right", "top and bottom"))
            }
            Self::OffEdge { beyond, travel } => write!(
                f,
                "Shifted too far by {}; the limits are ±{} px across and ±{} px up and down.",
                lengths(beyond, "across", "up and down"),
                travel.x.to_short_decimal(2),
                travel.y.to_short_decimal(2)
            ),
            Self::DoubleBoxed { black } => write!(
                f,
                "Bars on all four sides: {} px of black across, {} px up and down. A player will add more bars or crop.",
                black.x.to_short_decimal(2),
                black.y.to_short_decimal(2)
            ),
            Self::Distorted { distortion } => {
                let word = if distortion.is_negative() { "narrower" } else { "wider" };
                let share = percent(&distortion.abs());
                if distortion.abs() > SEEN_DISTORTION {
                    write!(f, "Circles come out {share} % {word} than they are high.")
                } else {
                    write!(f, "Circles come out {share} % {word} than they are high, too little to see.")
                }
            }
            Self::Enlarged { scale, whole, remainder, .. } => write!(
                f,
                "Enlarged to {} of its stored size. The smallest whole enlargement that covers it is {whole}x, then \
                 scaled to {}.",
                both(scale),
                both(remainder)
            ),
            Self::EnlargedOneWay { axis, scale } => write!(
                f,
                "Desqueezing stretches each pixel to {} % of its {}; the {} is not enlarged.",
                percent(scale),
                match axis {
                    Axis::X => "width",
                    Axis::Y => "height",
                },
                match axis {
                    Axis::X => "height",
                    Axis::Y => "width",
                }
            ),
            Self::OddSize { raster, step } => write!(
                f,
                "{}×{} does not fit its rounding: both sides should be multiples of {}.",
                raster.width(),
                raster.height(),
                step.pixels()
            ),
            Self::MostlyLost { kept, .. } => {
                write!(
                    f,
                    "Only {} % of the picture is kept; {} % is cut.",
                    percent(kept),
                    percent(&(Exact::ONE - kept))
                )
            }
            Self::Sideways { now, turned } => write!(
                f,
                "The picture may be stored sideways: rotated by 90°, {} % of it would match the frame instead of {} %.",
                percent(turned),
                percent(now)
            ),
            Self::NearPublished { raster, published } => write!(
                f,
                "{}×{} is close to {}, which is {}×{}.",
                raster.width(),
                raster.height(),
                published.name,
                published.width,
                published.height
            ),
            Self::SubjectCut { shown } if shown.is_zero() => write!(f, "The subject is outside this frame."),
            Self::SubjectCut { shown } => {
                write!(f, "{} % of the subject is cut off.", percent(&(Exact::ONE - shown)))
            }
            Self::SubjectTight { free, margin } => write!(
                f,
                "The subject stands {} % of the frame from the edge; the margin of this project is {} %.",
                percent(free),
                percent(margin)
            ),
            Self::NoSubject => {
                write!(f, "No subject is marked on the source; Around subject works like Fill.")
            }
            Self::Squeeze(Squeezing::Missing { squeeze, set, alike, of }) => {
                let squeeze = squeeze.to_short_decimal(3);
                write!(f, "{alike} of {of} clips like this one have squeeze {squeeze}; this one has ")?;
                if *set == Exact::ONE { write!(f, "none.") } else { write!(f, "{}.", set.to_short_decimal(3)) }
            }
            Self::Projection { to: Projection::Flat, .. } => write!(
                f,
                "The source is a sphere: this flat frame shows it unrolled, and nothing straight stays straight. Take a \
                 flat view out of it."
            ),
            Self::Projection { .. } => write!(
                f,
                "The source is flat: a frame for a sphere wraps it around the viewer. Place it on the sphere instead."
            ),
            Self::SphereForm { from, to } => write!(
                f,
                "The source is a {from}; the frame is for a {to}. Each eye's picture is put in its place there, whatever the framing; \
                 correct what is set if that is not meant."
            ),
            Self::SphereShape { of_frame, shape } => write!(
                f,
                "{} a sphere of this span and layout, its pixels are {} % as wide as they should be.",
                if *of_frame { "In this frame for" } else { "In this source, for" },
                percent(&(Exact::ONE / shape))
            ),
            Self::SphereCut { insets, rotation } => {
                let cut = (*insets != Insets::default()).then(|| "has insets".to_owned());
                let turned = (*rotation != Rotation::None).then(|| format!("is rotated by {}°", rotation.degrees()));
                let both = [cut, turned].into_iter().flatten().collect::<Vec<_>>().join(" and ");
                write!(
                    f,
                    "The sphere {both}; it is turned and looked out of as it is stored, and that comes after. Set none, and roll the sphere where it should be turned."
                )
            }
            Self::SphereUnsaid => write!(
                f,
                "Nothing in the file says that it is a sphere; a player shows it flat. Tag the file for delivery."
            ),
            Self::SphereEnlarged { scale } => {
                write!(f, "Enlarged to {} % of the sphere's own pixels in the middle of the view.", percent(scale))
            }
            Self::SphereGone => write!(
                f,
                "This view looks out of a sphere that is not in the project, or is set to flat. Undo, or set the sphere."
            ),
            Self::Squeeze(Squeezing::Twice { pixel_aspect, squeeze }) => write!(
                f,
                "Pixel aspect {} and squeeze {} are both set and are equal; the picture may be desqueezed twice.",
                pixel_aspect.to_short_decimal(3),
                squeeze.to_short_decimal(3)
            ),
            Self::Detour { detail, direct, through } => write!(
                f,
                "Made from {through}, it keeps {} % of the detail across and {} % up and down; made from the source, {} % \
                 and {} %.",
                percent(&detail.x),
                percent(&detail.y),
                percent(&direct.x),
                percent(&direct.y)
            ),
            Self::RateMixed { from, to, .. } if is_slip(from, to) => {
                let apart = (to - from).abs();
                write!(
                    f,
                    "{} fps into {} fps: one frame is {} every {} s, or run it 0.1 % {}.",
                    from.to_short_decimal(3),
                    to.to_short_decimal(3),
                    if to < from { "dropped" } else { "repeated" },
                    (Exact::ONE / apart).to_short_decimal(1),
                    if to < from { "slower" } else { "faster" }
                )
            }
            Self::RateMixed { from, to, cadence } => write!(
                f,
                "{} fps does not go evenly into {} fps: {cadence}. Motion will be uneven or blended unless every frame \
                 plays once at another speed.",
                from.to_short_decimal(3),
                to.to_short_decimal(3)
            ),
            Self::Interlaced => write!(
                f,
                "The source is interlaced and the frame is progressive: motion will show combing unless it is \
                 deinterlaced."
            ),
            Self::NotSaid(Signal::Scan) => {
                write!(
                    f,
                    "Scan is unknown: nothing says whether the clip is progressive or interlaced. It is planned as progressive."
                )
            }
            Self::NotSaid(Signal::Range) => write!(
                f,
                "Signal range is unknown: nothing says whether it is narrow or full. The values are passed on unchanged."
            ),
            Self::Range { from, to } => write!(
                f,
                "The source has {} range and the frame {} range: without conversion, black and white come out {}.",
                from.word(),
                to.word(),
                if *to == SignalRange::Narrow { "clipped" } else { "grey" }
            ),
            Self::OverLevel { codec, set: Some(set), needed: Some(needed) } => write!(
                f,
                "The file of the frame is set to {codec} level {set}; its size, rate and bit rate need level {needed}."
            ),
            Self::OverLevel { codec, .. } => {
                write!(f, "No level of {codec} takes a file of this size, rate and bit rate: decoders may not play it.")
            }
        }
    }
}
