//! [`Outcome`]: what comes out when a plan is carried out small on the chart, against what the plan says.

use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::space::Axis;
use ratiomet_core::{DeliveryFrame, Plan, Source};

use crate::proof::{Ellipse, black, level, ring};
use crate::scene::Marks;
use crate::{Problem, Still, carry};

/// How long the longer side of a small outcome is, at most about.
const SMALL: u32 = 960;
/// How far a bar or a middle may be off, in pixels of the small outcome.
const PIXELS: f64 = 1.0;
/// How much a side of a circle may differ.
const ROUND: f64 = 0.01;
/// How much a gray step may differ, in code values.
const GRAY: f64 = 20.0;

/// What a small outcome shows, beside what was planned.
#[derive(Clone, Debug, PartialEq)]
pub struct Outcome {
    /// By how much it is smaller than the frame.
    pub times: u32,
    /// Black lines at each side as measured: left, top, right, bottom.
    pub bars: [u32; 4],
    /// As planned.
    pub planned_bars: [u32; 4],
    /// The circle as measured, where enough of it is seen.
    pub ring: Option<Ellipse>,
    /// As planned.
    pub planned_ring: Ellipse,
    /// How many gray steps and sides of the edge were found in their places, and how many were looked for.
    pub grays: [usize; 2],
}

impl Outcome {
    /// Carries a plan out on a picture of the chart.
    ///
    /// # Errors
    /// Those of [`carry::out`].
    pub fn of(chart: &Still, source: &Source, frame: &DeliveryFrame, plan: &Plan) -> Result<Self, Problem> {
        let [width, height] = [frame.raster().width(), frame.raster().height()];
        let times = width.max(height).div_ceil(SMALL).max(1);
        let made = carry::small(chart, source, frame, plan, &Resampling::by(Filter::Area), times)?;
        let less = f64::from(times);
        let marks = Marks::of(source, plan);
        let small = |place: [f64; 2]| place.map(|along| along / less);
        let planned_ring = Ellipse { centre: small(marks.ring.centre), radii: small(marks.ring.radii) };
        let area = plan.picture_area.rect();
        // Pixels whose middle lies before the picture, and behind it.
        let bars = |axis: Axis, side: u32| {
            let start = plan.image.start(axis).to_f64().max(area.start(axis).to_f64());
            let end = plan.image.end(axis).to_f64().min(area.end(axis).to_f64());
            let middle = |pixel: u32| (f64::from(pixel) + 0.5) * less;
            let count = |outside: &dyn Fn(f64) -> bool| {
                u32::try_from((0..side).filter(|pixel| outside(middle(*pixel))).count()).unwrap_or(u32::MAX)
            };
            [count(&|place| place < start), count(&|place| place >= end)]
        };
        let [left, right] = bars(Axis::X, made.samples.width());
        let [top, bottom] = bars(Axis::Y, made.samples.height());
        let mut grays = [0, 0];
        if small(marks.gray).iter().all(|side| *side >= 5.0) {
            let seen = |[x, y]: [f64; 2]| {
                let inside = |place: f64, before: u32, after: u32, side: u32| {
                    place > f64::from(before) + 2.0 && place < f64::from(side.saturating_sub(after)) - 2.0
                };
                inside(x, left, right, made.samples.width()) && inside(y, top, bottom, made.samples.height())
            };
            for (place, gray) in
                marks.grays.iter().map(|(place, gray)| (small(*place), gray)).filter(|(at, _)| seen(*at))
            {
                grays[1] += 1;
                grays[0] += usize::from(level(&made, place).is_some_and(|found| (found - gray).abs() <= GRAY));
            }
        }
        Ok(Self {
            times,
            bars: black(&made),
            planned_bars: [left, top, right, bottom],
            ring: ring(&made, planned_ring),
            planned_ring,
            grays,
        })
    }

    /// By how much the circle is less round than planned, as a share; none where it is not measured.
    pub fn apart(&self) -> Option<f64> {
        let round = |ring: Ellipse| ring.radii[0] / ring.radii[1];
        self.ring.map(|ring| (round(ring) / round(self.planned_ring) - 1.0).abs())
    }

    /// What differs from the plan, as sentences; none where all is as it was planned.
    pub fn differences(&self) -> Vec<String> {
        let mut differences = Vec::new();
        let sides = ["left", "top", "right", "bottom"];
        for ((measured, planned), side) in self.bars.into_iter().zip(self.planned_bars).zip(sides) {
            if f64::from(measured.abs_diff(planned)) > PIXELS {
                let [measured, planned] = [measured, planned].map(|lines| u64::from(lines) * u64::from(self.times));
                differences.push(format!("about {measured} px of black {side}, planned are {planned}"));
            }
        }
        if let Some(ring) = self.ring {
            let planned = self.planned_ring;
            let off = f64::hypot(ring.centre[0] - planned.centre[0], ring.centre[1] - planned.centre[1]);
            if off > PIXELS {
                differences.push(format!("the circle lies about {:.1} px off its place", off * f64::from(self.times)));
            }
            let large = |axis: usize| ring.radii[axis] / planned.radii[axis];
            let allowed = |axis: usize| ROUND + 0.5 / planned.radii[axis];
            for (axis, side) in ["wide", "high"].into_iter().enumerate() {
                if (large(axis) - 1.0).abs() > allowed(axis) {
                    let percent = large(axis) * 100.0;
                    differences.push(format!("the circle is {percent:.1} % as {side} as planned"));
                }
            }
        }
        let [found, sought] = self.grays;
        if found < sought {
            let missing = sought - found;
            differences.push(format!("{missing} of {sought} known shades are not in their places: turned or mirrored"));
        }
        differences
    }
}
