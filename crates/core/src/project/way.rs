//! [`Layout`]: the conversions of a project, and the ways through its working frames.

use std::collections::HashMap;

use crate::chain::Chain;
use crate::project::{Choice, Crossing, Deliverable, Footage, FramingSpec, Pair, Placing};
use crate::{DeliveryFrame, Framing};

/// The most frames of a way, the last one included.
pub const LONGEST_WAY: usize = Chain::LONGEST;

/// The numbers of the frames on the way to a frame, which comes last. A way that leads back to a frame
/// that it has passed, or that is too long, is cut there.
///
/// ```
/// use ratiomet_core::project::way;
/// let through = |frame| match frame {
///     1 => Some(2),
///     2 => Some(3),
///     _ => None,
/// };
/// assert_eq!(way(1, through), [3, 2, 1]);
/// // Two that go through each other.
/// assert_eq!(way(1, |frame| Some(3 - frame)), [2, 1]);
/// ```
pub fn way(frame: i32, through: impl Fn(i32) -> Option<i32>) -> Vec<i32> {
    let mut back = vec![frame];
    let mut at = frame;
    while let Some(next) = through(at).filter(|next| back.len() < LONGEST_WAY && !back.contains(next)) {
        back.push(next);
        at = next;
    }
    back.reverse();
    back
}

/// What the conversions of a project are computed from, but for the footage: frames and choices by
/// their numbers, and the method of the board.
#[derive(Debug)]
pub struct Layout<'a> {
    frames: HashMap<i32, &'a Deliverable>,
    choices: HashMap<Pair, &'a Choice>,
    board: Placing,
}

impl<'a> Layout<'a> {
    /// The layout of these frames and choices.
    pub fn new(
        frames: impl IntoIterator<Item = (i32, &'a Deliverable)>,
        choices: impl IntoIterator<Item = (Pair, &'a Choice)>,
        board: Placing,
    ) -> Self {
        Self { frames: frames.into_iter().collect(), choices: choices.into_iter().collect(), board }
    }

    /// The numbers of the frames on the way to a frame, which comes last. Frames that are gone are
    /// left out, and what lay before them.
    pub fn way(&self, frame: i32) -> Vec<i32> {
        let there = |id: &i32| self.frames.contains_key(id);
        way(frame, |id| self.frames.get(&id).and_then(|frame| frame.through).filter(there))
    }

    /// Whether the way to a frame names one that is gone, or leads back, and is cut there.
    pub fn is_broken(&self, frame: i32) -> bool {
        let first = self.way(frame).first().copied();
        first.and_then(|first| self.frames.get(&first)).is_some_and(|first| first.through.is_some())
    }

    fn choice(&self, pair: Pair) -> Choice {
        self.choices.get(&pair).map_or_else(Choice::default, |choice| (*choice).clone())
    }

    /// The framing that counts for a clip in a frame, as it is planned.
    pub fn framing(&self, source: i32, footage: &Footage, id: i32) -> Option<(DeliveryFrame, Framing)> {
        let frame = self.frames.get(&id)?;
        let choice = self.choice(Pair { source, frame: id });
        let (_, spec) = Crossing::framing_of(footage, frame, &choice, self.board);
        Some((frame.geometry.frame().clone(), Crossing::placed(footage, frame, &spec)))
    }

    /// A clip through all frames on the way to a frame: into the first one by the framing of that
    /// conversion, the whole frame into each further one by that frame's own method. None when a frame
    /// on the way cannot be handed on.
    pub fn chain(&self, source: i32, footage: &Footage, frame: i32) -> Option<Chain> {
        let way = self.way(frame);
        let mut steps = vec![self.framing(source, footage, *way.first()?)?];
        for id in way.iter().skip(1) {
            let frame = self.frames.get(id)?;
            let method = FramingSpec::of(frame.method.unwrap_or(self.board));
            steps.push((frame.geometry.frame().clone(), method.framing()));
        }
        Chain::of(footage.geometry.source(), &steps).ok()
    }

    /// The conversion of a clip into a frame, with what the way to the frame finds; with another choice
    /// than the one that is kept, if one is given.
    pub fn crossing(&self, source: i32, footage: &Footage, id: i32, other: Option<&Choice>) -> Option<Crossing> {
        let frame = self.frames.get(&id)?;
        let kept = self.choices.get(&Pair { source, frame: id }).copied();
        let nothing = Choice::default();
        let choice = other.or(kept).unwrap_or(&nothing);
        let mut crossing = Crossing::of(footage, frame, choice, self.board);
        let way = self.way(id);
        if way.len() > 1
            && let Some(chain) = self.chain(source, footage, id)
        {
            let names: Vec<_> = way.iter().filter(|each| **each != id).collect();
            let names: Vec<_> = names.into_iter().filter_map(|id| Some(self.frames.get(id)?.name.as_str())).collect();
            crossing.note_chain(&chain, &names.join(" and "));
        }
        Some(crossing)
    }
}
