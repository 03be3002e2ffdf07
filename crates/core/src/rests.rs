//! [`Rests`]: where a picture that is moved or pushed by hand likes to come to rest.

use crate::fraction::writable;
use crate::space::{Axes, Axis, Factor};
use crate::subject::Subject;
use crate::{DeliveryFrame, Exact, Framing, Plan, Source, limits};

/// Why a picture rests at a place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reason {
    /// In the middle of the picture area.
    Middle,
    /// At the end of its travel.
    End,
    /// A third line of the picture lies on the same third line of the area.
    Third,
    /// The subject stands in the middle of the area.
    SubjectMiddle,
    /// The subject's middle stands on a third line of the area.
    SubjectThird,
    /// At the size of the method.
    Method,
    /// One upright unit on one delivery line.
    OneToOne,
    /// All of the picture is just seen.
    Fits,
    /// The area is just covered.
    Covers,
    /// A whole tenth of native size.
    Clean,
}

impl Reason {
    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Middle => "middle",
            Self::End => "end",
            Self::Third => "third",
            Self::SubjectMiddle => "subject_middle",
            Self::SubjectThird => "subject_third",
            Self::Method => "method",
            Self::OneToOne => "one_to_one",
            Self::Fits => "fits",
            Self::Covers => "covers",
            Self::Clean => "clean",
        }
    }
}

/// A place to rest: a shift in delivery pixels, or a zoom.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Rest {
    /// The shift or the zoom.
    pub at: Exact,
    /// Why there.
    pub reason: Reason,
}

impl Rest {
    /// The place as it can be written, held to the side on which it keeps its promise: an end within
    /// the travel, a size that covers or fits.
    pub fn typed(&self) -> Exact {
        let typed = writable(&self.at);
        let hair = Exact::fraction(1, 1_000_000);
        match self.reason {
            Reason::End if typed.abs() > self.at.abs() => {
                if typed.is_negative() {
                    typed + hair
                } else {
                    typed - hair
                }
            }
            Reason::Covers if typed < self.at => typed + hair,
            Reason::Fits if typed > self.at => typed - hair,
            _ => typed,
        }
    }
}

/// The places to rest around a placement.
#[derive(Clone, Debug)]
pub struct Rests {
    /// Shifts across, from left to right, each once.
    pub x: Vec<Rest>,
    /// Shifts down, from top to bottom, each once.
    pub y: Vec<Rest>,
    /// Zooms between half and twice the present one, the smallest first.
    pub zoom: Vec<Rest>,
}

impl Rests {
    /// The places to rest. Where two reasons name one place the weightier stands: the middle before
    /// the ends, these before the subject, the thirds last; a method's own size and 1:1 before others.
    pub fn of(source: &Source, frame: &DeliveryFrame, framing: &Framing, subject: Option<&Subject>) -> Self {
        let plan = Plan::of(source, frame, framing);
        Self { x: shifts(&plan, subject, Axis::X), y: shifts(&plan, subject, Axis::Y), zoom: zooms(&plan, framing) }
    }
}

fn shifts(plan: &Plan, subject: Option<&Subject>, axis: Axis) -> Vec<Rest> {
    let travel = plan.travel.of(axis);
    let mut found = vec![(Exact::ZERO, Reason::Middle), (-travel, Reason::End), (travel.clone(), Reason::End)];
    if let Some(subject) = subject {
        let area = plan.picture_area.rect().size;
        let unit = plan.image.size.along(axis) / plan.upright.along(axis);
        let middle = (subject.within(&plan.upright).centre(axis) - plan.upright.along(axis).half()) * unit;
        let third = area.along(axis) / Exact::whole(6);
        found.push((-&middle, Reason::SubjectMiddle));
        found.push((-&middle - &third, Reason::SubjectThird));
        found.push((third - middle, Reason::SubjectThird));
    }
    let third = travel / Exact::whole(3);
    found.push((-&third, Reason::Third));
    found.push((third, Reason::Third));
    ordered(found.into_iter().filter(|(at, _)| at.abs() <= *travel))
}

fn zooms(plan: &Plan, framing: &Framing) -> Vec<Rest> {
    let zoom = framing.zoom.value();
    // The zoom at which a size of now becomes another.
    let at = |now: &Exact, then: &Exact| zoom * then / now;
    let area = plan.picture_area.rect().size;
    let over: Axes<Factor> = Axes::each(|axis| at(plan.image.size.along(axis), area.along(axis)));
    let percent = &plan.dial.native_percent.y;
    let mut found = vec![
        (Exact::ONE, Reason::Method),
        (at(percent, &Exact::whole(100)), Reason::OneToOne),
        (over.x.clone().min(over.y.clone()), Reason::Fits),
        (over.x.max(over.y), Reason::Covers),
    ];
    let tens = |share: Exact| (percent * share / Exact::whole(10)).floor_whole();
    // At tiny sizes tenths are far apart, at huge ones they are many: some forty are enough.
    let (first, last) = (tens(Exact::fraction(1, 2)).max(1), tens(Exact::whole(2)).max(1));
    let stride = ((last - first) / 40).max(1);
    let mut ten = first / stride * stride;
    while ten <= last.saturating_add(stride) {
        if ten > 0 {
            found.push((at(percent, &Exact::from(ten.saturating_mul(10))), Reason::Clean));
        }
        ten = ten.saturating_add(stride);
    }
    let near = |at: &Exact| *at >= zoom.half() && *at <= zoom * Exact::whole(2) && limits::ZOOM.hold(at);
    ordered(found.into_iter().filter(|(at, _)| near(at)))
}

/// In order, of one place only the first.
fn ordered(found: impl Iterator<Item = (Exact, Reason)>) -> Vec<Rest> {
    let mut rests: Vec<Rest> = Vec::new();
    for (at, reason) in found {
        let at = at.reduced();
        if let Err(place) = rests.binary_search_by(|rest| rest.at.cmp(&at)) {
            rests.insert(place, Rest { at, reason });
        }
    }
    rests
}
