//! [`Crossing`]: one conversion of a project, with the method that counts and its whole plan.

use crate::cadence::Cadence;
use crate::chain::Chain;
use crate::finding::Squeezing;
use crate::project::{Acceptance, Choice, Deliverable, Footage, FramingSpec, Placing, Scan};
use crate::subject::Around;
use crate::{Exact, Finding, Framing, PixelAspect, Plan, Severity, Source, Squeeze};

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
    /// The framing that counts, as it was entered.
    pub framing: FramingSpec,
    /// The same as it is planned: around a subject, with the shift that was found.
    pub placed: Framing,
    /// The plan, its findings followed by those about subject, squeeze, rate, scan and signal range.
    pub plan: Plan,
    /// What becomes of the frames, where both rates are known.
    pub cadence: Option<Cadence>,
    /// What was accepted of its findings.
    pub accepted: Vec<Acceptance>,
}

/// How somebody has judged a finding.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Judgement<'a> {
    /// Nobody has.
    Open,
    /// It may stay.
    Accepted(&'a Acceptance),
    /// It was accepted when it said something else.
    Lapsed(&'a Acceptance),
}

impl Crossing {
    /// The framing that counts, and who decides its method.
    pub fn framing_of(
        footage: &Footage,
        frame: &Deliverable,
        choice: &Choice,
        board: Placing,
    ) -> (Speaker, FramingSpec) {
        match (&choice.own, footage.method, frame.method) {
            (Some(framing), _, _) => (Speaker::Own, framing.clone()),
            (None, Some(method), _) => (Speaker::Source, FramingSpec::of(method)),
            (None, None, Some(method)) => (Speaker::Frame, FramingSpec::of(method)),
            (None, None, None) => (Speaker::Board, FramingSpec::of(board)),
        }
    }

    /// A framing as it is planned for a clip in a frame.
    pub fn placed(footage: &Footage, frame: &Deliverable, framing: &FramingSpec) -> Framing {
        let plain = framing.framing();
        match (framing.method, &footage.subject) {
            (Placing::AroundSubject, Some(subject)) => {
                Around::of(footage.geometry.source(), frame.geometry.frame(), &plain, subject.subject()).framing
            }
            _ => plain,
        }
    }

    /// The conversion of a clip into a frame, on a board with this method.
    pub fn of(footage: &Footage, frame: &Deliverable, choice: &Choice, board: Placing) -> Self {
        let (speaker, framing) = Self::framing_of(footage, frame, choice, board);
        let placed = Self::placed(footage, frame, &framing);
        let mut plan = Plan::of(footage.geometry.source(), frame.geometry.frame(), &placed);
        let rates = footage.rate.as_ref().zip(frame.rate.as_ref());
        let cadence = rates.map(|(from, to)| Cadence::of(from.value(), to.value(), footage.playback.intent()));
        plan.findings.extend(subject(footage, framing.method, &plan));
        plan.findings.extend(squeezing(footage, frame, &placed));
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
        Self { speaker, framing, placed, plan, cadence, accepted: choice.accepted.clone() }
    }

    /// Adds what the way through working frames finds.
    pub fn note_chain(&mut self, chain: &Chain, through: &str) {
        if chain.is_detour() {
            self.plan.findings.push(Finding::Detour {
                detail: chain.detail.clone(),
                direct: chain.direct.clone(),
                through: through.to_owned(),
            });
        }
    }

    /// How somebody has judged one of its findings.
    pub fn judgement(&self, finding: &Finding) -> Judgement<'_> {
        match self.accepted.iter().find(|acceptance| acceptance.code == finding.code()) {
            Some(acceptance) if acceptance.holds(finding) => Judgement::Accepted(acceptance),
            Some(acceptance) => Judgement::Lapsed(acceptance),
            None => Judgement::Open,
        }
    }

    /// The heaviest finding that nobody has accepted.
    pub fn severity(&self) -> Option<Severity> {
        let open = |finding: &&Finding| !matches!(self.judgement(finding), Judgement::Accepted(_));
        self.plan.findings.iter().filter(open).map(Finding::severity).max()
    }
}

/// What becomes of the subject.
fn subject(footage: &Footage, method: Placing, plan: &Plan) -> Option<Finding> {
    let Some(subject) = &footage.subject else {
        return (method == Placing::AroundSubject).then_some(Finding::NoSubject);
    };
    let subject = subject.subject().within(&plan.upright);
    let seen = plan.seen().and_then(|seen| seen.intersection(&subject));
    let shown = seen.map_or(Exact::ZERO, |seen| (seen.size.area() / subject.size.area()).reduced());
    (shown < Exact::ONE).then_some(Finding::SubjectCut { shown })
}

/// Squeezes of lenses and pixel shapes of recordings that are met often (common practice).
const USUAL_SQUEEZES: [&str; 4] = ["4/3", "1.5", "1.8", "2"];
/// Shapes of stored pictures, width over height, that are often squeezed on purpose: 6:5 to 4:3.
const SENSOR_SHAPES: [Exact; 2] = [Exact::fraction(115, 100), Exact::fraction(140, 100)];
/// How well a picture and its area match where the squeeze explains the difference, and where it does not.
const MATCHES: [Exact; 2] = [Exact::fraction(98, 100), Exact::fraction(80, 100)];

/// Whether the numbers look as if a squeeze was forgotten, or set twice.
fn squeezing(footage: &Footage, frame: &Deliverable, placed: &Framing) -> Option<Finding> {
    let geometry = &footage.geometry;
    let (aspect, squeeze) = (geometry.pixel_aspect().value(), geometry.squeeze().value());
    let square = *aspect == PixelAspect::SQUARE;
    if !square && *squeeze != Squeeze::NONE {
        let apart = (aspect.value() / squeeze.value() - Exact::ONE).abs();
        return (apart <= Exact::fraction(1, 50)).then(|| {
            Finding::Squeeze(Squeezing::Twice {
                pixel_aspect: aspect.value().clone(),
                squeeze: squeeze.value().clone(),
            })
        });
    }
    let source = geometry.source();
    let upright = source.upright();
    let shape = &upright.width / &upright.height;
    let stored = if geometry.rotation().swaps_axes() { Exact::ONE / shape } else { shape };
    if !square || *squeeze != Squeeze::NONE || stored < SENSOR_SHAPES[0] || stored > SENSOR_SHAPES[1] {
        return None;
    }
    let matches = |source: &Source| crate::plan::match_of(source, frame.geometry.frame(), placed);
    if matches(source) >= MATCHES[1] {
        return None;
    }
    USUAL_SQUEEZES.into_iter().find_map(|text| {
        let squeeze = Squeeze::parse(text).ok()?;
        let squeezed = Source::new(
            geometry.raster(),
            PixelAspect::SQUARE,
            squeeze.clone(),
            geometry.insets(),
            geometry.rotation(),
        )
        .ok()?;
        (matches(&squeezed) >= MATCHES[0])
            .then(|| Finding::Squeeze(Squeezing::Missing { squeeze: squeeze.value().clone() }))
    })
}
