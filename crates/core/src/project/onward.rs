//! [`Onward`]: a conversion carried on from the file of the working frame before it.

use crate::project::{Deliverable, Footage, SourceSpec};
use crate::recipe::{Chroma, Recipe};
use crate::signal::RangePlan;
use crate::space::Axis;
use crate::{Exact, Framing, Insets, Method, Plan, Rotation, Shift, Squeeze, Zoom};

/// A conversion whose picture comes out of the file of the working frame before it, and lands where the plan has it.
#[derive(Clone, Debug)]
pub struct Onward {
    /// The place of the working frame among the frames of the package.
    pub from: usize,
    /// Its file as a source.
    pub footage: Footage,
    /// What is done to it.
    pub recipe: Recipe,
}

impl Onward {
    /// From the working frame at a place, into which the source has the plan `before`. None where its file cannot
    /// give the same picture: it lacks some, or one of the two is stretched more than the other.
    pub(super) fn of(
        from: usize,
        (footage, working, before): (&Footage, &Deliverable, &Plan),
        (frame, plan): (&Deliverable, &Plan),
        chroma: Chroma,
    ) -> Option<Self> {
        let made = made(footage, working, before)?;
        let source = made.geometry.source();
        let active = source.active();
        let geometry = frame.geometry.frame();
        // Where the picture in the working frame's file comes to lie, by where the source's lies in both.
        let wanted = |axis| {
            let by = plan.scale.of(axis) / before.scale.of(axis);
            let (start, end) = (active.start(axis).clone(), active.end(axis));
            let at = |edge: Exact| (plan.image.start(axis) + (edge - before.image.start(axis)) * &by).reduced();
            (at(start), at(end))
        };
        let at_rest = Framing::of(Method::Native);
        let now = Plan::of(source, geometry, &at_rest).image;
        let zoom = |axis| {
            let (start, end) = wanted(axis);
            ((end - start) / (now.end(axis) - now.start(axis))).reduced()
        };
        if zoom(Axis::X) != zoom(Axis::Y) {
            return None;
        }
        let sized = Framing { zoom: Zoom::new(zoom(Axis::X)).ok()?, ..at_rest };
        let now = Plan::of(source, geometry, &sized).image;
        let shift = |axis| Shift::new(wanted(axis).0 - now.start(axis)).ok();
        let placed = Framing { shift_x: shift(Axis::X)?, shift_y: shift(Axis::Y)?, ..sized };
        let recipe = Recipe::of(source, geometry, &placed, chroma).ok()?;
        Some(Self { from, footage: made, recipe })
    }
}

/// The file that is made of a source in a frame, as a source of its own.
fn made(footage: &Footage, working: &Deliverable, plan: &Plan) -> Option<Footage> {
    let raster = working.geometry.frame().raster();
    let seen = plan.image.intersection(&plan.picture_area.rect())?;
    let whole = |value: i64| u32::try_from(value.max(0)).ok();
    let inside = |axis, side: u32| {
        let (start, end) = (whole(seen.start(axis).ceil_whole())?, whole(seen.end(axis).floor_whole())?);
        Some((start, side.checked_sub(end)?))
    };
    let ((left, right), (top, bottom)) = (inside(Axis::X, raster.width())?, inside(Axis::Y, raster.height())?);
    let geometry = SourceSpec::new(
        crate::Raster::new(raster.width(), raster.height()).ok()?,
        working.geometry.pixel_aspect().clone(),
        crate::fraction::Written::plain("1", Squeeze::NONE),
        Insets { left, top, right, bottom },
        Rotation::None,
    )
    .ok()?;
    let range = match (footage.signal_range, footage.range_plan) {
        (Some(_), RangePlan::Convert) => Some(working.signal_range),
        (range, _) => range,
    };
    Some(Footage {
        rate: working.rate.clone().or_else(|| footage.rate.clone()),
        scan: Some(working.scan),
        signal_range: range,
        playback: footage.playback,
        range_plan: footage.range_plan,
        rate_plan: footage.rate_plan,
        deinterlace: footage.deinterlace,
        projection: working.projection,
        ..Footage::of(working.name.clone(), geometry)
    })
}
