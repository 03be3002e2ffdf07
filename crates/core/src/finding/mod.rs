//! [`Finding`]: what a plan says about itself.

mod key;
mod sentence;

use crate::cadence::Cadence;
use crate::published::PublishedFrame;
use crate::signal::{Projection, Signal, SignalRange};
use crate::space::{Axes, Axis, Delivery, Factor};
use crate::{Exact, Insets, Raster, Rotation, Step, Tolerance};

pub use key::FindingKey;

/// How much a finding matters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Severity {
    /// Good to know.
    Note,
    /// Needs a look.
    Caution,
    /// Must not go out like this.
    Stop,
}

impl Severity {
    /// Every severity, the lightest first.
    pub const ALL: [Self; 3] = [Self::Note, Self::Caution, Self::Stop];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Note => "note",
            Self::Caution => "caution",
            Self::Stop => "stop",
        }
    }
}

/// One thing to know about a plan, with its numbers. Its `Display` is a sentence.
#[derive(Clone, Debug, PartialEq)]
pub enum Finding {
    /// Part of the picture area is uncovered even with the picture centred.
    Bars {
        /// Delivery pixels at each of the two sides, picture centred.
        each_side: Axes<Delivery>,
        /// Whether somebody has asked for all of the picture here, and so for them.
        by_hand: bool,
    },
    /// The shift goes beyond the travel.
    OffEdge {
        /// Delivery pixels past the travel; 0 on an axis that stays within it.
        beyond: Axes<Delivery>,
        /// How far the shift may go either way.
        travel: Axes<Delivery>,
    },
    /// Black on both axes.
    DoubleBoxed {
        /// Delivery pixels of black along each axis, both sides together.
        black: Axes<Delivery>,
    },
    /// Circles do not stay round.
    Distorted {
        /// How much wider than high they come out, less 1.
        distortion: Exact,
    },
    /// More delivery pixels than stored ones, both ways.
    Enlarged {
        /// Delivery pixels per stored pixel; the smaller of the two decides how serious it is.
        scale: Axes<Factor>,
        /// The smallest whole enlargement that covers both axes.
        whole: i64,
        /// What remains after it: each scale over that enlargement.
        remainder: Axes<Factor>,
        /// Up to which scale it is only noted.
        tolerance: Tolerance,
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
        /// The part that stays when the area is only just filled, centred: what the ratios cost.
        by_ratio: Exact,
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
    /// Of a project: placed around a subject that is nearer to the edge than the project wants.
    SubjectTight {
        /// The part of the picture area's side that is free beside it.
        free: Exact,
        /// The part that should be.
        margin: Exact,
    },
    /// Of a project: placed around a subject, and none is marked.
    NoSubject,
    /// Of a project: a squeeze may be missing, or set twice.
    Squeeze(Squeezing),
    /// Of a project: a sphere in a flat frame, or a flat picture in one for a sphere.
    Projection {
        /// What the source is.
        from: Projection,
        /// What the frame is for.
        to: Projection,
    },
    /// Of a project: a sphere lies otherwise in its source than in the frame.
    SphereForm {
        /// How it lies in the source, in words.
        from: String,
        /// How it should lie in the frame.
        to: String,
    },
    /// Of a project: the picture of an eye has not the shape of what it holds.
    SphereShape {
        /// Whether it is the frame's.
        of_frame: bool,
        /// How much more finely it is sampled across than up and down.
        shape: Exact,
    },
    /// Of a project: a sphere has insets or is rotated, and is turned and looked out of as it is stored.
    SphereCut {
        /// Its insets, from the left around by the top.
        insets: Insets,
        /// How it is rotated.
        rotation: Rotation,
    },
    /// Of a project: nothing in the file of the source says that it is a sphere.
    SphereUnsaid,
    /// Of a project: a view whose frame has more pixels than the sphere behind it.
    SphereEnlarged {
        /// Delivery pixels for each pixel of the sphere, in the middle of the view.
        scale: Exact,
    },
    /// Of a project: a view whose sphere is not there.
    SphereGone,
    /// Of a project: the way through working frames loses detail that the frame needs.
    Detour {
        /// What is left of the detail, across and up and down.
        detail: Axes<Factor>,
        /// What would be left without the way.
        direct: Axes<Factor>,
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
    /// Of a project: nothing says how the signal of the source is.
    NotSaid(Signal),
    /// Of a project: black and white have other code values in the frame.
    Range {
        /// What the source uses.
        from: SignalRange,
        /// What the frame uses.
        to: SignalRange,
    },
    /// Of a project: the level of the frame's file does not take its size, rate and bit rate.
    OverLevel {
        /// What the codec is called.
        codec: &'static str,
        /// The level that is set, if one is.
        set: Option<String>,
        /// The lowest that would do, if there is one.
        needed: Option<&'static str>,
    },
}

/// What looks wrong with a squeeze.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Squeezing {
    /// The clips like it have another one.
    Missing {
        /// That of the others.
        squeeze: Exact,
        /// What this one is said to have.
        set: Exact,
        /// How many others have it.
        alike: usize,
        /// How many clips like it there are, itself among them.
        of: usize,
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
    pub const CODES: [&'static str; 29] = [
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
        "subject_tight",
        "no_subject",
        "squeeze_missing",
        "squeeze_twice",
        "projection",
        "sphere_form",
        "sphere_shape",
        "sphere_cut",
        "sphere_unsaid",
        "sphere_enlarged",
        "sphere_gone",
        "detour",
        "rate_mixed",
        "interlaced",
        "scan_unknown",
        "range",
        "range_unknown",
        "over_level",
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
            Self::SubjectTight { .. } => "subject_tight",
            Self::NoSubject => "no_subject",
            Self::Squeeze(Squeezing::Missing { .. }) => "squeeze_missing",
            Self::Squeeze(Squeezing::Twice { .. }) => "squeeze_twice",
            Self::Projection { .. } => "projection",
            Self::SphereForm { .. } => "sphere_form",
            Self::SphereShape { .. } => "sphere_shape",
            Self::SphereCut { .. } => "sphere_cut",
            Self::SphereUnsaid => "sphere_unsaid",
            Self::SphereEnlarged { .. } => "sphere_enlarged",
            Self::SphereGone => "sphere_gone",
            Self::Detour { .. } => "detour",
            Self::RateMixed { .. } => "rate_mixed",
            Self::Interlaced => "interlaced",
            Self::NotSaid(Signal::Scan) => "scan_unknown",
            Self::NotSaid(Signal::Range) => "range_unknown",
            Self::Range { .. } => "range",
            Self::OverLevel { .. } => "over_level",
        }
    }

    /// How much it matters in one conversion. What has its cause outside of it, in a source, a pair of rates
    /// or a way, is a note there and weighs as a point of the project: see [`Finding::weight`].
    pub fn severity(&self) -> Severity {
        match self {
            Self::Bars { by_hand: true, .. } => Severity::Note,
            Self::OffEdge { .. } | Self::DoubleBoxed { .. } => Severity::Stop,
            Self::Distorted { distortion } if distortion.abs() > SEEN_DISTORTION => Severity::Stop,
            Self::Enlarged { scale, tolerance, .. } if scale.x > *tolerance.value() && scale.y > *tolerance.value() => {
                Severity::Caution
            }
            Self::Bars { each_side, .. } if each_side.x >= SEEN_BAR || each_side.y >= SEEN_BAR => Severity::Caution,
            Self::MostlyLost { kept, by_ratio } if *kept < by_ratio * MOST_OF => Severity::Caution,
            Self::SphereGone => Severity::Stop,
            Self::OddSize { .. }
            | Self::SubjectCut { .. }
            | Self::Squeeze(_)
            | Self::Projection { .. }
            | Self::SphereForm { .. }
            | Self::SphereShape { .. }
            | Self::SphereCut { .. }
            | Self::SphereEnlarged { .. } => Severity::Caution,
            Self::Bars { .. }
            | Self::MostlyLost { .. }
            | Self::Sideways { .. }
            | Self::Distorted { .. }
            | Self::Enlarged { .. }
            | Self::EnlargedOneWay { .. }
            | Self::SubjectTight { .. }
            | Self::NoSubject
            | Self::SphereUnsaid
            | Self::Detour { .. }
            | Self::RateMixed { .. }
            | Self::Interlaced
            | Self::NotSaid(_)
            | Self::Range { .. }
            | Self::OverLevel { .. }
            | Self::NearPublished { .. } => Severity::Note,
        }
    }

    /// How much it matters as a point of the project: once for all conversions that have it.
    pub fn weight(&self) -> Severity {
        match self {
            Self::RateMixed { from, to, .. } if is_slip(from, to) => Severity::Note,
            Self::RateMixed { .. }
            | Self::Detour { .. }
            | Self::SphereUnsaid
            | Self::Interlaced
            | Self::Range { .. }
            | Self::OverLevel { .. } => Severity::Caution,
            _ => self.severity(),
        }
    }
}

/// Whether two rates are apart by 1000 over 1001: the eye does not see one, and sound is run slower with ease.
pub(crate) fn is_slip(from: &Exact, to: &Exact) -> bool {
    let slower = Exact::fraction(1000, 1001);
    *to == from * &slower || *from == to * &slower
}

/// Above this, either way, a circle is seen not to be round.
pub(crate) const SEEN_DISTORTION: Exact = Exact::fraction(1, 1_000);
/// From this on a strip is seen: whole pixels do not cover it, in delivery pixels.
const SEEN_BAR: Exact = Exact::fraction(1, 2);
/// The part of what the ratios leave from which on a loss is theirs and not the framing's.
const MOST_OF: Exact = Exact::fraction(3, 4);
