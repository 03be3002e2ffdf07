//! [`Finding`]: what a plan says about itself.

use std::fmt;

use crate::cadence::Cadence;
use crate::plan::{Placement, Plan};
use crate::project::SignalRange;
use crate::published::{self, PublishedFrame};
use crate::space::{Axes, Axis, Delivery};
use crate::{DeliveryFrame, Exact, Framing, Raster, Source, Step};

/// How much a finding matters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Severity {
    /// Good to know.
    Note,
    /// Needs a look.
    Caution,
    /// Must not go out like this.
    Stop,
}

/// One thing to know about a plan, with its numbers. Its `Display` is a sentence.
#[derive(Clone, Debug, PartialEq)]
pub enum Finding {
    /// Part of the picture area is uncovered even with the picture centred.
    Bars {
        /// Delivery pixels at each of the two sides, picture centred.
        each_side: Axes,
    },
    /// The shift goes beyond the travel.
    OffEdge {
        /// Delivery pixels past the travel; 0 on an axis that stays within it.
        beyond: Axes,
        /// How far the shift may go either way.
        travel: Axes,
    },
    /// Black on both axes.
    DoubleBoxed {
        /// Delivery pixels of black along each axis, both sides together.
        black: Axes,
    },
    /// Circles do not stay round.
    Distorted {
        /// How much wider than high they come out, less 1.
        distortion: Exact,
    },
    /// More delivery pixels than stored ones, both ways.
    Enlarged {
        /// The smaller of the two scales, which decides how serious it is.
        scale: Exact,
        /// The smallest whole enlargement that covers both axes.
        whole: i64,
        /// The larger scale over that enlargement.
        remainder: Exact,
    },
    /// More delivery pixels than stored ones on one axis only.
    EnlargedOneWay {
        /// The axis, in the delivery.
        axis: Axis,
        /// Delivery pixels per stored pixel along it.
        scale: Exact,
    },
    /// A side of the delivery raster is off its step.
    OddSize {
        /// The raster.
        raster: Raster<Delivery>,
        /// The step that it should lie on.
        step: Step,
    },
    /// Under two fifths of the picture stays.
    MostlyLost {
        /// The part that stays.
        kept: Exact,
    },
    /// A further quarter turn would suit the frame far better.
    Sideways {
        /// Kept times covered as it stands, picture centred.
        now: Exact,
        /// The same after a further quarter turn.
        turned: Exact,
    },
    /// The raster is almost a published one.
    NearPublished {
        /// The raster.
        raster: Raster<Delivery>,
        /// The frame that may have been meant.
        published: &'static PublishedFrame,
    },
    /// Of a project: part of the subject is not seen.
    SubjectCut {
        /// The part of its area that is seen.
        shown: Exact,
    },
    /// Of a project: placed around a subject, and none is marked.
    NoSubject,
    /// Of a project: a squeeze may be missing, or set twice.
    Squeeze(Squeezing),
    /// Of a project: the way through working frames loses detail that the frame needs.
    Detour {
        /// What is left of the detail, across and up and down.
        detail: Axes,
        /// What would be left without the way.
        direct: Axes,
        /// The working frame.
        through: String,
    },
    /// Of a project: at the frame's rate some frames are shown more often than others.
    RateMixed {
        /// Frames a second of the source.
        from: Exact,
        /// Frames a second of the frame.
        to: Exact,
        /// What becomes of the frames.
        cadence: Cadence,
    },
    /// Of a project: lines of two moments would stand in one progressive picture.
    Interlaced,
    /// Of a project: black and white have other code values in the frame.
    Range {
        /// What the source uses.
        from: SignalRange,
        /// What the frame uses.
        to: SignalRange,
    },
}

/// What looks wrong with a squeeze.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Squeezing {
    /// With it the picture would match the frame.
    Missing {
        /// The squeeze that would.
        squeeze: Exact,
    },
    /// Pixel shape and squeeze say the same, as if one correction were set in both places.
    Twice {
        /// Width of a stored pixel over its height.
        pixel_aspect: Exact,
        /// What the lens is said to have done.
        squeeze: Exact,
    },
}

impl Finding {
    /// The code of every finding.
    pub const CODES: [&'static str; 18] = [
        "bars",
        "off_edge",
        "double_boxed",
        "distorted",
        "enlarged",
        "enlarged_one_way",
        "odd_size",
        "mostly_lost",
        "sideways",
        "near_published",
        "subject_cut",
        "no_subject",
        "squeeze_missing",
        "squeeze_twice",
        "detour",
        "rate_mixed",
        "interlaced",
        "range",
    ];

    /// The stable code.
    pub const fn code(&self) -> &'static str {
        match self {
            Self::Bars { .. } => "bars",
            Self::OffEdge { .. } => "off_edge",
            Self::DoubleBoxed { .. } => "double_boxed",
            Self::Distorted { .. } => "distorted",
            Self::Enlarged { .. } => "enlarged",
            Self::EnlargedOneWay { .. } => "enlarged_one_way",
            Self::OddSize { .. } => "odd_size",
            Self::MostlyLost { .. } => "mostly_lost",
            Self::Sideways { .. } => "sideways",
            Self::NearPublished { .. } => "near_published",
            Self::SubjectCut { .. } => "subject_cut",
            Self::NoSubject => "no_subject",
            Self::Squeeze(Squeezing::Missing { .. }) => "squeeze_missing",
            Self::Squeeze(Squeezing::Twice { .. }) => "squeeze_twice",
            Self::Detour { .. } => "detour",
            Self::RateMixed { .. } => "rate_mixed",
            Self::Interlaced => "interlaced",
            Self::Range { .. } => "range",
        }
    }

    /// How much it matters.
    pub fn severity(&self) -> Severity {
        match self {
            Self::OffEdge { .. } | Self::DoubleBoxed { .. } => Severity::Stop,
            Self::Distorted { distortion } if distortion.abs() > SEEN_DISTORTION => Severity::Stop,
            Self::Enlarged { scale, .. } if *scale > SOFT_ENLARGEMENT => Severity::Caution,
            Self::Bars { .. }
            | Self::OddSize { .. }
            | Self::MostlyLost { .. }
            | Self::Sideways { .. }
            | Self::SubjectCut { .. }
            | Self::Squeeze(Squeezing::Twice { .. })
            | Self::Detour { .. }
            | Self::RateMixed { .. }
            | Self::Interlaced
            | Self::Range { .. } => Severity::Caution,
            Self::Distorted { .. }
            | Self::Enlarged { .. }
            | Self::EnlargedOneWay { .. }
            | Self::NoSubject
            | Self::Squeeze(Squeezing::Missing { .. })
            | Self::NearPublished { .. } => Severity::Note,
        }
    }
}

/// Above this, either way, a circle is seen not to be round.
const SEEN_DISTORTION: Exact = Exact::fraction(1, 1_000);
/// Up to this scale an enlargement is only noted.
const SOFT_ENLARGEMENT: Exact = Exact::fraction(11, 10);
/// Below this kept part most of the picture is lost.
const MOSTLY: Exact = Exact::fraction(2, 5);

/// Everything that a plan has to say about itself.
pub(crate) fn of(
    plan: &Plan,
    source: &Source,
    frame: &DeliveryFrame,
    framing: &Framing,
    placement: &Placement,
) -> Vec<Finding> {
    let area = plan.picture_area.rect().size;
    let short = |axis| plan.image.size.along(axis) < area.along(axis);
    let mut found = Vec::new();

    if short(Axis::X) || short(Axis::Y) {
        let bar = |axis| if short(axis) { plan.travel.of(axis).clone() } else { Exact::ZERO };
        found.push(Finding::Bars { each_side: Axes::each(bar) });
    }

    let shift = framing.shift();
    let past = |axis| shift.of(axis).abs() > *plan.travel.of(axis);
    if past(Axis::X) || past(Axis::Y) {
        let beyond = |axis| if past(axis) { shift.of(axis).abs() - plan.travel.of(axis) } else { Exact::ZERO };
        found.push(Finding::OffEdge { beyond: Axes::each(beyond), travel: plan.travel.clone() });
    }

    let raster = frame.raster().size();
    let masked = |axis| area.along(axis) < raster.along(axis);
    if [Axis::X, Axis::Y].into_iter().all(|axis| masked(axis) || plan.bars.any_along(axis)) {
        let black = |axis| {
            let (before, after) = match axis {
                Axis::X => (&plan.bars.left, &plan.bars.right),
                Axis::Y => (&plan.bars.top, &plan.bars.bottom),
            };
            raster.along(axis) - area.along(axis) + (before + after).min(area.along(axis).clone())
        };
        found.push(Finding::DoubleBoxed { black: Axes::each(black) });
    }

    if !plan.distortion.is_zero() {
        found.push(Finding::Distorted { distortion: plan.distortion.clone() });
    }

    found.extend(enlargement(&plan.scale));

    if !frame.step().holds(frame.raster().width()) || !frame.step().holds(frame.raster().height()) {
        found.push(Finding::OddSize { raster: frame.raster(), step: frame.step() });
    }

    if plan.kept.is_positive() && plan.kept < MOSTLY {
        found.push(Finding::MostlyLost { kept: plan.kept.clone() });
    }

    let seen_as = plan.upright.width.cmp(&plan.upright.height);
    let frame_as = frame.ratio().cmp(&Exact::ONE);
    if seen_as.is_ne() && frame_as == seen_as.reverse() {
        let turned = Placement::of(&source.turned_further().upright(), frame, framing);
        let (now, turned) = (placement.match_with(&area), turned.match_with(&area));
        if turned >= &now * Exact::whole(2) {
            found.push(Finding::Sideways { now, turned });
        }
    }

    if let Some(published) = published::near(frame.raster().width(), frame.raster().height()) {
        found.push(Finding::NearPublished { raster: frame.raster(), published });
    }
    found
}

fn enlargement(scale: &Axes) -> Option<Finding> {
    let up = |axis| *scale.of(axis) > Exact::ONE;
    match (up(Axis::X), up(Axis::Y)) {
        (true, true) => {
            let largest = scale.x.clone().max(scale.y.clone());
            let whole = largest.ceil_whole();
            Some(Finding::Enlarged {
                scale: scale.x.clone().min(scale.y.clone()),
                whole,
                remainder: largest / Exact::from(whole),
            })
        }
        (true, false) => Some(Finding::EnlargedOneWay { axis: Axis::X, scale: scale.x.clone() }),
        (false, true) => Some(Finding::EnlargedOneWay { axis: Axis::Y, scale: scale.y.clone() }),
        (false, false) => None,
    }
}

fn percent(value: &Exact) -> String {
    let value = value * Exact::whole(100);
    // Small shares keep three digits that count.
    let places = if value.abs() < Exact::ONE { 3 } else { 1 };
    value.to_short_decimal(places)
}

/// The axes on which a length is over 0, as a phrase: `"12 px across and 4 px up and down"`.
fn lengths(axes: &Axes, across: &str, down: &str) -> String {
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
            Self::Enlarged { scale, whole, remainder } => write!(
                f,
                "Enlarged to {} % of its stored pixels. The smallest whole enlargement that covers it is {whole}x, \
                 then scaled to {} %.",
                percent(scale),
                percent(remainder)
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
            Self::MostlyLost { kept } => {
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
