//! [`Cadence`]: what becomes of the frames of one rate at another.

use std::fmt;

use crate::words::ordinal;
use crate::{Exact, FrameRate};

/// What is to be kept: the running time, or every frame.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Intent {
    /// The running time stays; frames are repeated or left out.
    #[default]
    RealTime,
    /// Each frame is shown once; the running time changes.
    EveryFrame,
}

impl Intent {
    /// Both intents.
    pub const ALL: [Self; 2] = [Self::RealTime, Self::EveryFrame];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::RealTime => "real_time",
            Self::EveryFrame => "every_frame",
        }
    }
}

/// How the frames of one rate are shown at another that keeps the running time.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Relation {
    /// Both rates are equal.
    Same,
    /// Every k-th frame is shown.
    Drop,
    /// Each frame is shown k times.
    Repeat,
    /// Some frames are shown more often than others: movement is uneven, or frames are blended.
    Mixed,
}

/// What becomes of the frames of one rate at another.
///
/// Its `Display` is a phrase such as `"every 2nd frame"`.
///
/// ```
/// use ratiomet_core::{FrameRate, cadence::{Cadence, Intent}};
/// let rate = |text| FrameRate::parse(text).unwrap();
/// let pulldown = Cadence::of(&rate("24"), &rate("60"), Intent::RealTime);
/// assert_eq!(pulldown.to_string(), "pattern 3:2");
/// let slow = Cadence::of(&rate("120"), &rate("24"), Intent::EveryFrame);
/// assert_eq!(slow.to_string(), "20 % speed, 5 times as long");
/// ```
#[derive(Clone, Debug, PartialEq)]
pub enum Cadence {
    /// The running time stays.
    RealTime {
        /// The rate after over the rate before.
        ratio: Exact,
        /// How many times each frame of a cycle appears: with the ratio `a/n` in lowest terms there
        /// are `n` frames in a cycle, and frame `i` appears `ceil((i+1)a/n) - ceil(ia/n)` times.
        /// None when the cycle is longer than [`Cadence::LONGEST_CYCLE`].
        cycle: Option<Vec<i64>>,
        /// What that amounts to.
        relation: Relation,
        /// Seconds between two frames that are left out or repeated; none where the rates are equal.
        slip: Option<Exact>,
    },
    /// Each frame is shown once.
    EveryFrame {
        /// The speed of all movement, 1 for as it was: the rate after over the rate before.
        speed: Exact,
        /// The running time, 1 for as it was: the rate before over the rate after.
        duration: Exact,
    },
}

impl Cadence {
    /// The most frames of a cycle that are listed.
    pub const LONGEST_CYCLE: i64 = 1_000;

    /// What becomes of frames of the rate `from` at the rate `to`.
    pub fn of(from: &FrameRate, to: &FrameRate, intent: Intent) -> Self {
        let ratio = (to.value() / from.value()).reduced();
        match intent {
            Intent::EveryFrame => Self::EveryFrame { speed: ratio, duration: (from.value() / to.value()).reduced() },
            Intent::RealTime => {
                // Rates lie between 1/1000 and 1000, so where the cycle is short both terms are.
                let terms = ratio.short_terms();
                let relation = match terms {
                    Some((1, 1)) => Relation::Same,
                    Some((1, _)) => Relation::Drop,
                    Some((_, 1)) => Relation::Repeat,
                    _ => Relation::Mixed,
                };
                let cycle = terms.filter(|(_, frames)| *frames <= Self::LONGEST_CYCLE).map(|(shown, frames)| {
                    let begins = |frame: i64| (frame * shown + frames - 1).div_euclid(frames);
                    (0..frames).map(|frame| begins(frame + 1) - begins(frame)).collect()
                });
                let apart = (to.value() - from.value()).abs();
                let slip = (!apart.is_zero()).then(|| (Exact::ONE / apart).reduced());
                Self::RealTime { ratio, cycle, relation, slip }
            }
        }
    }

    /// Whether some frames are shown more often than others.
    pub const fn is_mixed(&self) -> bool {
        matches!(self, Self::RealTime { relation: Relation::Mixed, .. })
    }
}

impl fmt::Display for Cadence {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::EveryFrame { speed, .. } if *speed == Exact::ONE => write!(f, "every frame at normal speed"),
            Self::EveryFrame { speed, duration } => {
                let percent = (speed * Exact::whole(100)).to_short_decimal(2);
                write!(f, "{percent} % speed, {} times as long", duration.to_short_decimal(3))
            }
            Self::RealTime { ratio, cycle, relation, .. } => match relation {
                Relation::Same => write!(f, "frame for frame"),
                Relation::Drop => {
                    let every = (Exact::ONE / ratio).ceil_whole();
                    write!(f, "every {} frame", ordinal(every))
                }
                Relation::Repeat => write!(f, "each frame {} times", ratio.ceil_whole()),
                Relation::Mixed => match cycle {
                    Some(cycle) if cycle.len() <= 6 => {
                        let pattern: Vec<_> = cycle.iter().map(ToString::to_string).collect();
                        write!(f, "pattern {}", pattern.join(":"))
                    }
                    Some(cycle) => {
                        let shown: i64 = cycle.iter().sum();
                        write!(f, "mixed, {} into {shown}", cycle.len())
                    }
                    // Too long to be listed, and yet it comes again.
                    None => match ratio.short_terms() {
                        Some((shown, frames)) => write!(f, "mixed, {frames} into {shown}"),
                        None => write!(f, "mixed, no repeating pattern"),
                    },
                },
            },
        }
    }
}
