//! The board proved: every conversion carried out small on the chart, and what comes out held against its plan.

use std::sync::Arc;

use ratiomet_core::project::{Footage, Pair, Scene};
use ratiomet_picture::board::Outcome;
use ratiomet_picture::{Still, scene};
use ratiomet_store::Contents;

use crate::jobs::Jobs;

/// A conversion that does not come out as planned, or that cannot be carried out.
#[derive(Clone, Debug)]
pub struct Differs {
    /// Which.
    pub pair: Pair,
    /// Both names.
    pub name: String,
    /// What differs.
    pub what: Vec<String>,
}

/// What has come of proving a board.
#[derive(Clone, Debug, Default)]
pub struct Proved {
    /// The conversions that were carried out, and by how much the circle of each is less round than planned, as a share;
    /// none where too little of it is seen.
    pub conversions: Vec<(Pair, Option<f64>)>,
    /// What differs.
    pub differs: Vec<Differs>,
}

/// The chart as a source takes it, as small as a whole part of its raster allows.
fn chart(footage: &Footage) -> Result<Still, String> {
    const ENOUGH: u32 = 800;
    let source = footage.geometry.source();
    let (width, height) = (source.raster().width(), source.raster().height());
    let fits = |part: &u32| width.is_multiple_of(*part) && height.is_multiple_of(*part);
    let part = (1..=width.max(height) / ENOUGH).rev().find(fits).unwrap_or(1);
    scene::taken(Scene::Chart, source, None, false, part).map_err(|problem| problem.to_string())
}

/// Begins to prove a board and gives the number of the job; none when too many wait.
pub fn begin(proofs: &Jobs<Arc<Proved>>, contents: Arc<Contents>) -> Option<u64> {
    let project = &contents.project;
    let all = project.sources().len() * project.frames().len();
    proofs.begin(project.settings().name.as_str().to_owned(), all, move |job| {
        let project = &contents.project;
        let mut proved = Proved::default();
        for (source, footage) in project.sources() {
            let chart = chart(footage);
            for (frame, deliverable) in project.frames() {
                let pair = Pair::new(source, frame);
                let Some(conversion) = project.conversion(pair) else { continue };
                let geometry = deliverable.geometry.frame();
                let outcome = chart.as_ref().map_err(Clone::clone).and_then(|chart| {
                    Outcome::of(chart, footage.geometry.source(), geometry, &conversion.plan)
                        .map_err(|problem| problem.to_string())
                });
                let what = match &outcome {
                    Ok(outcome) => outcome.differences(),
                    Err(why) => vec![why.clone()],
                };
                proved.conversions.push((pair, outcome.ok().and_then(|outcome| outcome.apart())));
                if !what.is_empty() {
                    let name = format!("{} into {}", footage.name.as_str(), deliverable.name.as_str());
                    proved.differs.push(Differs { pair, name, what });
                }
                if !job.step() {
                    return Err(String::new());
                }
            }
        }
        Ok(Arc::new(proved))
    })
}
