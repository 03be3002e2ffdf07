//! [`Conversion`]: one source into one frame of a project, with the method that counts and its whole plan.

use super::neighbours::Neighbours;
use super::squeeze_check;
use super::ways::Passage;
use crate::cadence::Cadence;
use crate::checks::Checked;
use crate::finding::Squeezing;
use crate::fraction::Written;
use crate::project::{
    Acceptance, Aspect, Choice, Deliverable, Footage, FramingSpec, Looking, Origin, Placing, ProjectSettings, SourceId,
};
use crate::resampling::Resampling;
use crate::signal::{Projection, RangePlan, RatePlan, Scan, Signal};
use crate::space::{Axes, Delivery, Rect};
use crate::subject::{Around, Margin, Room};
use crate::{Exact, Finding, Framing, Insets, Method, Plan, Rotation, Severity};

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
pub struct Conversion {
    /// Who decides the method.
    pub speaker: Speaker,
    /// The framing that counts, as it was entered.
    pub framing: FramingSpec,
    /// The same as it is planned: around a subject, with the shift that was found.
    pub placed: Framing,
    /// The plan.
    pub plan: Plan,
    /// What the plan says about itself, followed by what is said of subject, squeeze, rate, scan, signal
    /// range and the way through working frames.
    pub findings: Vec<Finding>,
    /// What becomes of the frames, where both rates are known.
    pub cadence: Option<Cadence>,
    /// What was accepted of its findings.
    pub accepted: Vec<Acceptance>,
    /// How its samples are worked out, if somebody has decided.
    pub taken: Option<Resampling>,
    /// Of a view: delivery pixels for each pixel of the sphere behind it, in its middle.
    pub sphere_scale: Option<Exact>,
    /// Where the picture lies by the framing with which it was imported, if it was.
    pub imported: Option<Rect<Delivery>>,
}

/// How far a picture lies from where it was imported.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Apart {
    /// Delivery pixels that its middle lies to the right and down.
    pub moved: Axes<Delivery>,
    /// How many times as large it is, by its width.
    pub size: Exact,
}

/// How somebody has judged a finding.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Judgement<'a> {
    /// Nobody has.
    Open,
    /// It may stay.
    Accepted(&'a Acceptance),
    /// It was accepted when it had other numbers.
    Lapsed(&'a Acceptance),
}

impl Conversion {
    /// The framing that counts, and who decides its method.
    pub(super) fn framing_of(
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
    pub(super) fn placed(footage: &Footage, frame: &Deliverable, framing: &FramingSpec, margin: &Margin) -> Framing {
        let plain = framing.framing();
        match (framing.method, &footage.subject) {
            (Placing::AroundSubject, Some(subject)) => {
                let room = Room { margin: margin.clone(), safe: frame.smallest_safe() };
                let (source, frame) = (footage.geometry.source(), frame.geometry.frame());
                Around::of(source, frame, &plain, subject.subject(), &room).framing
            }
            _ => plain,
        }
    }

    /// The conversion of a clip into a frame, as far as the two and the settings of the project tell.
    pub(super) fn of(footage: &Footage, frame: &Deliverable, choice: &Choice, settings: &ProjectSettings) -> Self {
        let (speaker, framing) = Self::framing_of(footage, frame, choice, settings.method);
        let margin = settings.tolerances.margin.value();
        let placed = Self::placed(footage, frame, &framing, margin);
        let (source, geometry) = (footage.geometry.source(), frame.geometry.frame());
        let tolerance = settings.tolerances.enlarged.value();
        let Checked { plan, mut findings } = Checked::within(source, geometry, &placed, tolerance);
        let rates = footage.rate.as_ref().zip(frame.rate.as_ref());
        let cadence = rates.map(|(from, to)| Cadence::of(from.value(), to.value(), footage.playback));
        for finding in &mut findings {
            if let Finding::Bars { by_hand, .. } = finding {
                *by_hand = speaker != Speaker::Board && framing.method == Placing::By(Method::Fit);
            }
        }
        if footage.projection == Projection::Flat && frame.projection == Projection::Flat {
            findings.retain(|finding| !(footage.upright_known && matches!(finding, Finding::Sideways { .. })));
            findings.extend(subject(footage, framing.method, &plan, margin));
            findings.extend(squeeze_check::of(&footage.geometry));
        } else {
            let alike = footage.projection == frame.projection && !footage.is_laid_anew_in(frame);
            findings.retain(|finding| says_of_spheres(finding, alike));
        }
        if footage.projection == Projection::Sphere {
            findings.extend(spheres(footage, frame));
        }
        if footage.projection != frame.projection {
            findings.push(Finding::Projection { from: footage.projection, to: frame.projection });
        }
        if let Some((cadence, (from, to))) = cadence.as_ref().zip(rates).filter(|(cadence, _)| cadence.is_mixed()) {
            let (from, to) = (from.value().value(), to.value().value());
            if footage.rate_plan == RatePlan::Open && !settings.tolerances.takes(from, to) {
                findings.push(Finding::RateMixed { from: from.clone(), to: to.clone(), cadence: cadence.clone() });
            }
        }
        match footage.scan {
            Some(Scan::Interlaced) if frame.scan == Scan::Progressive && !footage.deinterlace => {
                findings.push(Finding::Interlaced);
            }
            Some(_) => {}
            None => findings.push(Finding::NotSaid(Signal::Scan)),
        }
        match footage.signal_range {
            Some(range) if range != frame.signal_range && footage.range_plan == RangePlan::Open => {
                findings.push(Finding::Range { from: range, to: frame.signal_range });
            }
            Some(_) => {}
            None => findings.push(Finding::NotSaid(Signal::Range)),
        }
        findings.extend(over_level(frame));
        let imported = choice
            .imported
            .as_ref()
            .map(|imported| Plan::of(source, geometry, &Self::placed(footage, frame, imported, margin)).image);
        let (accepted, taken) = (choice.accepted.clone(), choice.taken.clone());
        Self { speaker, framing, placed, plan, findings, cadence, accepted, taken, sphere_scale: None, imported }
    }

    /// How far the picture lies from where it was imported; nothing where it lies there, or was not imported.
    pub fn apart(&self) -> Option<Apart> {
        let (imported, image) = (self.imported.as_ref()?, &self.plan.image);
        let middle = |rect: &Rect<Delivery>, axis| (rect.start(axis) + rect.end(axis)).half();
        let moved = Axes::each(|axis| (middle(image, axis) - middle(imported, axis)).reduced());
        let size = (&image.size.width / &imported.size.width).reduced();
        (imported != image).then_some(Apart { moved, size })
    }

    /// Heeds what the other clips of the project say of its source.
    pub(super) fn heed(&mut self, neighbours: &Neighbours, id: SourceId, footage: &Footage, frame: &Deliverable) {
        if !neighbours.asks_upright(footage, frame) {
            self.findings.retain(|finding| !matches!(finding, Finding::Sideways { .. }));
        }
        let set = footage.geometry.squeeze().value().value();
        let usual = |finding: &&Finding| matches!(finding, Finding::Squeeze(Squeezing::Missing { squeeze, .. }) if squeeze != set);
        self.findings.extend(neighbours.squeeze(id).filter(usual).cloned());
    }

    /// Heeds how many pixels the sphere has behind a view.
    pub(super) fn look(&mut self, footage: &Footage, looking: Option<&Looking<'_>>) {
        let Some(looking) = looking else {
            self.findings.push(Finding::SphereGone);
            return;
        };
        self.findings.extend(cut(looking.sphere));
        let Some(density) = looking.density(footage.geometry.raster()) else { return };
        let scale = self.plan.scale.x.clone().min(self.plan.scale.y.clone());
        let sphere = (scale * &density).reduced();
        if sphere > Exact::ONE {
            // The view's own pixels are made of those of the sphere: these say how much detail there is.
            self.findings.retain(|finding| !matches!(finding, Finding::Enlarged { .. }));
            self.findings.push(Finding::SphereEnlarged { scale: sphere.clone() });
        }
        self.sphere_scale = Some(sphere);
    }

    /// Adds what the way through working frames finds.
    pub(super) fn note_passage(&mut self, passage: &Passage, through: &str) {
        if passage.is_detour() {
            self.findings.push(Finding::Detour {
                detail: passage.detail.clone(),
                direct: passage.direct.clone(),
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

    /// Whether somebody has accepted one of its findings as it is.
    pub fn is_accepted(&self, finding: &Finding) -> bool {
        matches!(self.judgement(finding), Judgement::Accepted(_))
    }

    /// The findings that nobody has accepted.
    pub fn open(&self) -> impl Iterator<Item = &Finding> {
        self.findings.iter().filter(|finding| !self.is_accepted(finding))
    }

    /// The heaviest finding that nobody has accepted.
    pub fn severity(&self) -> Option<Severity> {
        self.open().map(Finding::severity).max()
    }
}

/// Whether a finding of flat pictures means something where a sphere takes part: of the frame alone, or of how a
/// sphere fills one in which it lies alike.
const fn says_of_spheres(finding: &Finding, alike: bool) -> bool {
    match finding {
        Finding::OddSize { .. } | Finding::NearPublished { .. } => true,
        Finding::Sideways { .. } | Finding::MostlyLost { .. } => false,
        _ => alike,
    }
}

/// What there is to say of a sphere, and of a sphere frame that it goes into.
fn spheres(footage: &Footage, frame: &Deliverable) -> Vec<Finding> {
    let mut found = Vec::new();
    // Nothing but a sphere that is carried on as one must be said to be one.
    let said = |origin: &Origin| origin.said.iter().any(|witness| witness.of == Aspect::Projection);
    if frame.projection == Projection::Sphere {
        if !footage.sphere.is_like(&frame.sphere) {
            found.push(Finding::SphereForm { from: footage.sphere.words(), to: frame.sphere.words() });
        }
        let area = frame.geometry.frame().picture_area().rect().size;
        let shape = frame.sphere.shape(&area) * frame.geometry.frame().pixel_aspect().value();
        found.extend(off_shape(&shape).then_some(Finding::SphereShape { of_frame: true, shape }));
        if footage.origin.as_ref().is_some_and(|origin| origin.footage && !said(origin)) {
            found.push(Finding::SphereUnsaid);
        }
    }
    let shape = footage.sphere.shape(&footage.geometry.source().upright());
    found.extend(off_shape(&shape).then_some(Finding::SphereShape { of_frame: false, shape }));
    found.extend(cut(footage));
    found
}

/// What is cut off a sphere, or rotated: neither means anything where it is turned or looked out of.
fn cut(sphere: &Footage) -> Option<Finding> {
    let (insets, rotation) = (sphere.geometry.source().insets(), sphere.geometry.source().rotation());
    let is_cut = insets != Insets::default() || rotation != Rotation::None;
    is_cut.then_some(Finding::SphereCut { insets, rotation })
}

/// Whether pixels are wider or narrower than a whole pixel of a side explains: a fiftieth.
fn off_shape(shape: &Exact) -> bool {
    (shape - Exact::ONE).abs() > Exact::fraction(1, 50)
}

/// Whether the level of the frame's file takes it.
fn over_level(frame: &Deliverable) -> Option<Finding> {
    let file = frame.file.as_ref()?;
    let (raster, rate) = (frame.geometry.frame().raster(), frame.rate.as_ref().map(Written::value));
    (!file.is_within_level(raster, rate)).then(|| Finding::OverLevel {
        codec: file.parts().codec.title(),
        set: file.parts().level.clone(),
        needed: file.level_needed(raster, rate),
    })
}

/// What becomes of the subject.
fn subject(footage: &Footage, method: Placing, plan: &Plan, margin: &Margin) -> Option<Finding> {
    let Some(subject) = &footage.subject else {
        return (method == Placing::AroundSubject).then_some(Finding::NoSubject);
    };
    let share = subject.subject();
    let subject = share.within(&plan.upright);
    let seen = plan.seen().and_then(|seen| seen.intersection(&subject));
    let shown = seen.map_or(Exact::ZERO, |seen| (seen.size.area() / subject.size.area()).reduced());
    if shown < Exact::ONE {
        return Some(Finding::SubjectCut { shown });
    }
    // Only where somebody asks for the subject: how near any picture comes to an edge is for the eye.
    let (free, margin) = (share.free(plan), margin.value());
    (method == Placing::AroundSubject && free < *margin).then(|| Finding::SubjectTight { free, margin: margin.clone() })
}
