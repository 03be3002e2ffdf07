//! [`Package`]: what is handed over, computed once for all formats.

use std::collections::HashSet;

use ratiomet_core::project::{Crossing, Deliverable, Footage, Judgement, Layout};
use ratiomet_core::recipe::{Chroma, Recipe};
use ratiomet_core::space::Axis;
use ratiomet_core::{Error, Severity};

/// Which part of a project is handed over. Empty lists mean all.
#[derive(Clone, Debug, Default)]
pub struct Selection {
    /// The sources' numbers.
    pub sources: Vec<i32>,
    /// The frames' numbers.
    pub frames: Vec<i32>,
    /// How the colour of recipes is sampled.
    pub chroma: Chroma,
}

/// A finding as it stands at the hand-off.
#[derive(Clone, Debug)]
pub struct Standing {
    /// The stable code.
    pub code: &'static str,
    /// How much it matters.
    pub severity: Severity,
    /// Its sentence.
    pub message: String,
    /// Why it may stay, if somebody accepted it as it is now.
    pub accepted: Option<String>,
}

/// One source in one frame.
#[derive(Debug)]
pub struct Conversion {
    /// The place of its source in [`Package::sources`].
    pub source: usize,
    /// The place of its frame in [`Package::frames`].
    pub frame: usize,
    /// The plan and the framing that counts.
    pub crossing: Crossing,
    /// The plan in whole pixels, or why there is none.
    pub recipe: Result<Recipe, Error>,
    /// Its findings.
    pub findings: Vec<Standing>,
}

impl Conversion {
    /// Findings that must not go out and that nobody has accepted.
    pub fn stops(&self) -> impl Iterator<Item = &Standing> {
        self.findings.iter().filter(|finding| finding.severity == Severity::Stop && finding.accepted.is_none())
    }
}

/// What is handed over.
#[derive(Debug)]
pub struct Package {
    /// The project's name.
    pub project: String,
    /// The day of its last change, such as `2026-11-26`.
    pub day: String,
    /// The sources, in their order, each with its number.
    pub sources: Vec<(i32, Footage)>,
    /// The frames, in their order, each with its number.
    pub frames: Vec<(i32, Deliverable)>,
    /// Every one of the sources in every one of the frames, source by source.
    pub conversions: Vec<Conversion>,
    /// How the colour of the recipes is sampled.
    pub chroma: Chroma,
}

impl Package {
    /// The package of a part of a project. `done` is told of each conversion, and ends the work by `false`;
    /// then there is no package.
    pub fn of(
        (project, day): (&str, &str),
        sources: Vec<(i32, Footage)>,
        frames: Vec<(i32, Deliverable)>,
        layout: &Layout<'_>,
        selection: &Selection,
        mut done: impl FnMut() -> bool,
    ) -> Option<Self> {
        let chosen = |of: &[i32], id: i32| of.is_empty() || of.contains(&id);
        let sources: Vec<_> = sources.into_iter().filter(|(id, _)| chosen(&selection.sources, *id)).collect();
        let frames: Vec<_> = frames.into_iter().filter(|(id, _)| chosen(&selection.frames, *id)).collect();
        let mut conversions = Vec::with_capacity(sources.len() * frames.len());
        for (source, (source_id, footage)) in sources.iter().enumerate() {
            for (frame, (frame_id, deliverable)) in frames.iter().enumerate() {
                let Some(crossing) = layout.crossing(*source_id, footage, *frame_id, None) else { continue };
                let recipe = recipe(footage, deliverable, &crossing, selection.chroma);
                let findings = standings(&crossing);
                conversions.push(Conversion { source, frame, crossing, recipe, findings });
                if !done() {
                    return None;
                }
            }
        }
        let chroma = selection.chroma;
        Some(Self { project: project.to_owned(), day: day.to_owned(), sources, frames, conversions, chroma })
    }

    /// The source of a conversion.
    pub fn source_of(&self, conversion: &Conversion) -> &Footage {
        &self.sources[conversion.source].1
    }

    /// The frame of a conversion.
    pub fn frame_of(&self, conversion: &Conversion) -> &Deliverable {
        &self.frames[conversion.frame].1
    }

    /// Whether nothing stands that must be answered first.
    pub fn is_ready(&self) -> bool {
        self.conversions.iter().all(|conversion| conversion.stops().next().is_none())
    }
}

fn recipe(footage: &Footage, deliverable: &Deliverable, crossing: &Crossing, chroma: Chroma) -> Result<Recipe, Error> {
    let frame = deliverable.geometry.frame();
    chroma.check_side(Axis::X, frame.raster().width())?;
    chroma.check_side(Axis::Y, frame.raster().height())?;
    chroma.check_step(frame.step())?;
    Recipe::of(footage.geometry.source(), frame, &crossing.placed, chroma)
}

fn standings(crossing: &Crossing) -> Vec<Standing> {
    let standing = |finding: &ratiomet_core::Finding| Standing {
        code: finding.code(),
        severity: finding.severity(),
        message: finding.to_string(),
        accepted: match crossing.judgement(finding) {
            Judgement::Accepted(acceptance) => Some(acceptance.reason.as_str().to_owned()),
            Judgement::Open | Judgement::Lapsed(_) => None,
        },
    };
    crossing.plan.findings.iter().map(standing).collect()
}

/// A file of somebody else with ours added.
#[derive(Debug, Default)]
pub struct Added {
    /// The file.
    pub bytes: Vec<u8>,
    /// How many of its clips or canvases have the name of a source.
    pub found: usize,
    /// The sources of which it has none.
    pub missing: Vec<String>,
    seen: HashSet<usize>,
}

impl Added {
    pub(crate) fn found(&mut self, source: usize) {
        self.found += 1;
        self.seen.insert(source);
    }

    /// Writes the file down; one in which nothing was found is refused.
    pub(crate) fn settle(mut self, package: &Package, file: &serde_json::Value) -> Result<Self, String> {
        let sources = package.sources.iter().enumerate();
        self.missing = sources
            .filter(|(at, _)| !self.seen.contains(at))
            .map(|(_, (_, footage))| footage.name.as_str().to_owned())
            .collect();
        if self.found == 0 {
            return Err("nothing in this file has the name of a source that goes along".to_owned());
        }
        self.bytes = serde_json::to_vec_pretty(file).map_err(|error| error.to_string())?;
        Ok(self)
    }
}
