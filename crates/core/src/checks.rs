//! What there is to say about a plan: the rules that find it.

use crate::finding::Finding;
use crate::placement::{self, Placement};
use crate::space::{Axes, Axis, Factor, Size};
use crate::{DeliveryFrame, Exact, Framing, Method, Plan, Severity, Source, Tolerance, published};

/// Below this kept part most of the picture is lost.
const MOSTLY: Exact = Exact::fraction(2, 5);
/// How well a turned picture must match its area before it is worth to speak of turning.
const SUITS: Exact = Exact::fraction(9, 10);

/// A plan with what there is to say about it.
#[derive(Clone, Debug)]
pub struct Checked {
    /// The plan.
    pub plan: Plan,
    /// What there is to say.
    pub findings: Vec<Finding>,
}

impl Checked {
    /// The plan of one source in one frame under one framing, checked with the usual tolerance.
    pub fn of(source: &Source, frame: &DeliveryFrame, framing: &Framing) -> Self {
        Self::within(source, frame, framing, &Tolerance::default())
    }

    /// The same with a tolerance of one's own.
    pub fn within(source: &Source, frame: &DeliveryFrame, framing: &Framing, tolerance: &Tolerance) -> Self {
        let plan = Plan::of(source, frame, framing);
        Self { findings: of(&plan, frame, framing, tolerance), plan }
    }

    /// Whether nothing has to stop and nothing needs a look.
    pub fn is_clean(&self) -> bool {
        self.findings.iter().all(|finding| finding.severity() == Severity::Note)
    }
}

/// Everything that there is to say about the plan of a source in a frame under a framing.
pub fn of(plan: &Plan, frame: &DeliveryFrame, framing: &Framing, tolerance: &Tolerance) -> Vec<Finding> {
    let area = plan.picture_area.rect().size;
    let short = |axis| plan.image.size.along(axis) < area.along(axis);
    let mut found = Vec::new();

    if short(Axis::X) || short(Axis::Y) {
        let bar = |axis| if short(axis) { plan.travel.of(axis).clone() } else { Exact::ZERO };
        found.push(Finding::Bars { each_side: Axes::each(bar), by_hand: false });
    }

    let past = |axis| framing.shift_along(axis).abs() > *plan.travel.of(axis);
    if past(Axis::X) || past(Axis::Y) {
        let beyond =
            |axis| if past(axis) { framing.shift_along(axis).abs() - plan.travel.of(axis) } else { Exact::ZERO };
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

    found.extend(enlargement(&plan.scale, tolerance));

    if !frame.step().holds(frame.raster().width()) || !frame.step().holds(frame.raster().height()) {
        found.push(Finding::OddSize { raster: frame.raster(), step: frame.step() });
    }

    if plan.kept.is_positive() && plan.kept < MOSTLY {
        let filled = Placement::of(&plan.upright, frame, &Framing::of(Method::Fill));
        let by_ratio = placement::match_with(&filled.size, &area);
        found.push(Finding::MostlyLost { kept: plan.kept.clone(), by_ratio });
    }

    let seen_as = plan.upright.width.cmp(&plan.upright.height);
    let frame_as = frame.ratio().cmp(&Exact::ONE);
    if seen_as.is_ne() && frame_as == seen_as.reverse() {
        let on_its_side = Size::new(plan.upright.height.clone(), plan.upright.width.clone());
        let turned = placement::match_with(&Placement::of(&on_its_side, frame, framing).size, &area);
        if turned >= SUITS {
            let now = placement::match_with(&plan.image.size, &area);
            if turned >= &now * Exact::whole(2) {
                found.push(Finding::Sideways { now, turned });
            }
        }
    }

    if let Some(published) = published::near(frame.raster().width(), frame.raster().height()) {
        found.push(Finding::NearPublished { raster: frame.raster(), published });
    }
    found
}

fn enlargement(scale: &Axes<Factor>, tolerance: &Tolerance) -> Option<Finding> {
    let up = |axis| *scale.of(axis) > Exact::ONE;
    match (up(Axis::X), up(Axis::Y)) {
        (true, true) => {
            let whole = scale.x.clone().max(scale.y.clone()).ceil_whole();
            Some(Finding::Enlarged {
                scale: scale.clone(),
                whole,
                remainder: Axes::each(|axis| scale.of(axis) / Exact::from(whole)),
                tolerance: tolerance.clone(),
            })
        }
        (true, false) => Some(Finding::EnlargedOneWay { axis: Axis::X, scale: scale.x.clone() }),
        (false, true) => Some(Finding::EnlargedOneWay { axis: Axis::Y, scale: scale.y.clone() }),
        (false, false) => None,
    }
}
