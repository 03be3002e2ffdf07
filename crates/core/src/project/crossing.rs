//! [`Crossing`]: one conversion of a project, with the method that counts and its whole plan.

use crate::cadence::Cadence;
use crate::project::{Choice, Deliverable, Footage, FramingSpec, Scan};
use crate::{Finding, Method, Plan};

/// Who decides the method of a conversion. The nearest that has one does.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Speaker {
    /// The conversion itself.
    Own,
    /// Its source.
    Source,
    /// Its frame.
    Frame,
    /// The board.
    Board,
}

/// One conversion of a project: what its project adds to a [`Plan`].
#[derive(Clone, Debug)]
pub struct Crossing {
    /// Who decides the method.
    pub speaker: Speaker,
    /// The framing that counts.
    pub framing: FramingSpec,
    /// The plan, its findings followed by those about rate, scan and signal range.
    pub plan: Plan,
    /// What becomes of the frames, where both rates are known.
    pub cadence: Option<Cadence>,
}

impl Crossing {
    /// The framing that counts, and who decides its method.
    pub fn framing_of(
        footage: &Footage,
        frame: &Deliverable,
        choice: &Choice,
        board: Method,
    ) -> (Speaker, FramingSpec) {
        match (choice, footage.method, frame.method) {
            (Choice::Own(framing), _, _) => (Speaker::Own, framing.clone()),
            (Choice::Follows, Some(method), _) => (Speaker::Source, FramingSpec::of(method)),
            (Choice::Follows, None, Some(method)) => (Speaker::Frame, FramingSpec::of(method)),
            (Choice::Follows, None, None) => (Speaker::Board, FramingSpec::of(board)),
        }
    }

    /// The conversion of a clip into a frame, on a board with this method.
    pub fn of(footage: &Footage, frame: &Deliverable, choice: &Choice, board: Method) -> Self {
        let (speaker, framing) = Self::framing_of(footage, frame, choice, board);
        let mut plan = Plan::of(footage.geometry.source(), frame.geometry.frame(), &framing.framing());
        let rates = footage.rate.as_ref().zip(frame.rate.as_ref());
        let cadence = rates.map(|(from, to)| Cadence::of(from.value(), to.value(), footage.playback.intent()));
        if let Some((cadence, (from, to))) = cadence.as_ref().zip(rates).filter(|(cadence, _)| cadence.is_mixed()) {
            plan.findings.push(Finding::RateMixed {
                from: from.value().value().clone(),
                to: to.value().value().clone(),
                cadence: cadence.clone(),
            });
        }
        if footage.scan == Scan::Interlaced && frame.scan == Scan::Progressive {
            plan.findings.push(Finding::Interlaced);
        }
        if footage.signal_range != frame.signal_range {
            plan.findings.push(Finding::Range { from: footage.signal_range, to: frame.signal_range });
        }
        Self { speaker, framing, plan, cadence }
    }
}
