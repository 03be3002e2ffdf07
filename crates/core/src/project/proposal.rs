//! [`Proposal`]: what would help against a finding, with what would come of it.

use crate::cadence::Intent;
use crate::dial_in::shift_within;
use crate::file::{FileParts, FileSpec};
use crate::finding::Squeezing;
use crate::fraction::{Written, writable};
use crate::project::{
    Choice, Conversion, Deliverable, Edit, Footage, FramePatch, FramingSpec, Pair, Placing, Project, SourcePatch,
};
use crate::signal::{RangePlan, RatePlan, Scan, Signal, SignalRange};

use crate::space::{Axes, Axis};
use crate::sphere::{Orientation, Turn};
use crate::{Exact, Finding, Framing, Insets, Method, PixelAspect, Raster, Rotation, Rounding, Shift, Squeeze, Zoom};

/// How far a proposal reaches.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reach {
    /// The source, in every frame.
    Source,
    /// The frame, for every source.
    Frame,
    /// This conversion alone.
    Conversion,
}

impl Reach {
    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Source => "source",
            Self::Frame => "frame",
            Self::Conversion => "conversion",
        }
    }
}

/// What would help against a finding.
#[derive(Clone, Debug)]
pub struct Proposal {
    /// The finding's code.
    pub against: &'static str,
    /// In words.
    pub words: String,
    /// How far it reaches.
    pub reach: Reach,
    /// The edit that does it.
    pub edit: Edit,
    /// The conversion as it would be.
    pub after: Conversion,
    /// The frame as it would be.
    pub frame: Deliverable,
}

/// What a proposal changes.
enum ProposedChange {
    Source(Box<SourcePatch>),
    Frame(Box<FramePatch>),
    Framing(Box<FramingSpec>),
}

impl ProposedChange {
    fn edit(self, pair: Pair) -> (Reach, Edit) {
        match self {
            Self::Source(patch) => (Reach::Source, Edit::SetSources { ids: vec![pair.source], patch }),
            Self::Frame(patch) => (Reach::Frame, Edit::SetFrames { ids: vec![pair.frame], patch }),
            Self::Framing(own) => (Reach::Conversion, Edit::SetConversions { pairs: vec![pair], own: Some(*own) }),
        }
    }
}

/// The parties of a conversion.
struct Parties<'a> {
    project: &'a Project,
    pair: Pair,
    footage: &'a Footage,
    frame: &'a Deliverable,
    choice: &'a Choice,
    now: &'a Conversion,
}

impl Proposal {
    /// Everything that would help, in the order of the findings. What would not take its finding away
    /// or lighten it is left out.
    pub(super) fn all(
        project: &Project,
        pair: Pair,
        (footage, frame): (&Footage, &Deliverable),
        choice: &Choice,
        now: &Conversion,
    ) -> Vec<Self> {
        let parties = Parties { project, pair, footage, frame, choice, now };
        let mut found = Vec::new();
        for finding in &now.findings {
            for (words, change) in parties.against(finding) {
                found.extend(parties.proposal(finding, words, change));
            }
        }
        found
    }
}

type Idea = (String, ProposedChange);

fn source(patch: SourcePatch) -> ProposedChange {
    ProposedChange::Source(Box::new(patch))
}

fn frame(patch: FramePatch) -> ProposedChange {
    ProposedChange::Frame(Box::new(patch))
}

fn framing(spec: FramingSpec) -> ProposedChange {
    ProposedChange::Framing(Box::new(spec))
}

fn written<T>(text: &str, rule: impl FnOnce(&str) -> Result<T, crate::Error>) -> Option<Written<T>> {
    Written::parse(text, rule).ok()
}

impl Parties<'_> {
    fn proposal(&self, finding: &Finding, words: String, change: ProposedChange) -> Option<Proposal> {
        let (mut footage, mut frame) = (self.footage.clone(), self.frame.clone());
        let mut choice = Choice { own: self.choice.own.clone(), ..Choice::default() };
        match &change {
            ProposedChange::Source(patch) => footage = patch.apply(&footage).ok()?,
            ProposedChange::Frame(patch) => frame = patch.apply(&frame).ok()?,
            ProposedChange::Framing(own) => choice.own = Some((**own).clone()),
        }
        let mut after = Conversion::of(&footage, &frame, &choice, self.project.settings());
        after.heed(self.project.neighbours(), self.pair.source, &footage, &frame);
        if !matches!(finding, Finding::Detour { .. }) {
            // The way stays as it is.
            let detour = self.now.findings.iter().filter(|found| matches!(found, Finding::Detour { .. }));
            after.findings.extend(detour.cloned());
        }
        after.accepted.clone_from(&self.choice.accepted);
        let still = after.findings.iter().find(|other| other.code() == finding.code());
        // What does not help is no proposal.
        let helps = still.is_none_or(|still| {
            still.severity() < finding.severity()
                || matches!(still, Finding::Enlarged { remainder, .. } if remainder.x.clone().max(remainder.y.clone()) == Exact::ONE)
        });
        if !helps || after.severity() > self.now.severity() {
            return None;
        }
        let (reach, edit) = change.edit(self.pair);
        Some(Proposal { against: finding.code(), words, reach, edit, after, frame })
    }

    fn against(&self, finding: &Finding) -> Vec<Idea> {
        match finding {
            Finding::Bars { .. } => [Some(fill("Fill instead")), self.true_ratio()].into_iter().flatten().collect(),
            Finding::OffEdge { .. } => vec![self.back_to_the_edge()],
            Finding::DoubleBoxed { .. } => {
                [self.true_ratio(), Some(fill("Fill instead"))].into_iter().flatten().collect()
            }
            Finding::Distorted { .. } => {
                vec![
                    fill("Fill instead of stretching"),
                    ("Fit instead of stretching".to_owned(), framing(FramingSpec::of(Method::Fit))),
                ]
            }
            Finding::Enlarged { whole, .. } => self.enlargements(*whole),
            Finding::OddSize { .. } => self.even().into_iter().collect(),
            Finding::Sideways { .. } => self.turns(),
            Finding::NearPublished { published, .. } => {
                let raster = Raster::new(published.width, published.height).ok();
                let patch = FramePatch { raster, ..FramePatch::default() };
                vec![(format!("Use {}", published.name), frame(patch))]
            }
            Finding::SubjectCut { .. } => {
                let plain = FramingSpec::of(Placing::AroundSubject);
                let spec = FramingSpec { zoom: self.now.framing.zoom.clone(), ..plain.clone() };
                let mut ideas = vec![
                    ("Shift to show the subject".to_owned(), framing(spec.clone())),
                    ("Show the whole picture (Fit)".to_owned(), framing(FramingSpec::of(Method::Fit))),
                ];
                if spec != plain {
                    ideas.insert(1, ("Use Around subject".to_owned(), framing(plain)));
                }
                ideas
            }
            Finding::Squeeze(Squeezing::Missing { squeeze, .. }) => {
                let text = squeeze.to_string();
                let set = written(&text, Squeeze::parse);
                let patch = SourcePatch { squeeze: set, ..SourcePatch::default() };
                vec![(format!("Set squeeze {}", squeeze.to_short_decimal(3)), source(patch))]
            }
            Finding::Squeeze(Squeezing::Twice { .. }) => {
                let squeeze = written("1", Squeeze::parse);
                let aspect = written("1", PixelAspect::parse);
                vec![
                    (
                        "Keep the pixel aspect, remove the squeeze".to_owned(),
                        source(SourcePatch { squeeze, ..SourcePatch::default() }),
                    ),
                    (
                        "Keep the squeeze, set square pixels".to_owned(),
                        source(SourcePatch { pixel_aspect: aspect, ..SourcePatch::default() }),
                    ),
                ]
            }
            Finding::Detour { .. } => {
                let patch = FramePatch { through: Some(None), ..FramePatch::default() };
                vec![("Make it from the source".to_owned(), frame(patch))]
            }
            Finding::RateMixed { .. } => {
                let patch = SourcePatch { playback: Some(Intent::EveryFrame), ..SourcePatch::default() };
                let mut ideas = vec![("Play every frame once, at another speed".to_owned(), source(patch))];
                ideas.extend(
                    [
                        ("Blend frames on hand-off", RatePlan::Blend),
                        ("Drop or repeat frames on hand-off", RatePlan::Drop),
                    ]
                    .map(|(words, plan)| {
                        let patch = SourcePatch { rate_plan: Some(plan), ..SourcePatch::default() };
                        (words.to_owned(), source(patch))
                    }),
                );
                ideas
            }
            Finding::MostlyLost { .. } => {
                vec![("Show the whole picture (Fit)".to_owned(), framing(FramingSpec::of(Method::Fit)))]
            }
            Finding::Interlaced => {
                let patch = SourcePatch { deinterlace: Some(true), ..SourcePatch::default() };
                vec![("Deinterlace on hand-off".to_owned(), source(patch))]
            }
            Finding::Range { .. } => [
                ("Convert the range on hand-off", RangePlan::Convert),
                ("Keep the values and declare the range", RangePlan::Declare),
            ]
            .map(|(words, plan)| {
                (words.to_owned(), source(SourcePatch { range_plan: Some(plan), ..SourcePatch::default() }))
            })
            .into(),
            Finding::NotSaid(Signal::Scan) => {
                [("Set to progressive", Scan::Progressive), ("Set to interlaced", Scan::Interlaced)]
                    .map(|(words, scan)| {
                        (words.to_owned(), source(SourcePatch { scan: Some(Some(scan)), ..SourcePatch::default() }))
                    })
                    .into()
            }
            Finding::NotSaid(Signal::Range) => {
                [("Set to narrow range", SignalRange::Narrow), ("Set to full range", SignalRange::Full)]
                    .map(|(words, range)| {
                        let patch = SourcePatch { signal_range: Some(Some(range)), ..SourcePatch::default() };
                        (words.to_owned(), source(patch))
                    })
                    .into()
            }
            Finding::OverLevel { needed, .. } => {
                let file = self.frame.file.as_ref().map(FileSpec::parts);
                let idea = file.zip(*needed).and_then(|(parts, needed)| {
                    let file = FileSpec::new(FileParts { level: Some(needed.to_owned()), ..parts.clone() }).ok()?;
                    let patch = FramePatch { file: Some(Some(file)), ..FramePatch::default() };
                    Some((format!("Set level {needed}"), frame(patch)))
                });
                idea.into_iter().collect()
            }
            Finding::SphereForm { .. } => {
                let form = self.footage.sphere.clone();
                vec![(
                    format!("Make the frame one for a {}", form.words()),
                    frame(FramePatch { sphere: Some(form), ..FramePatch::default() }),
                )]
            }
            // That of a view is another source.
            Finding::SphereCut { .. } if self.footage.view.is_some() => Vec::new(),
            Finding::SphereCut { rotation, .. } => vec![self.whole_sphere(*rotation)],
            Finding::SphereShape { .. }
            | Finding::SphereUnsaid
            | Finding::SphereEnlarged { .. }
            | Finding::SphereGone
            | Finding::EnlargedOneWay { .. }
            | Finding::NoSubject
            | Finding::SubjectTight { .. }
            | Finding::Projection { .. } => Vec::new(),
        }
    }

    /// A sphere with nothing cut off or rotated; upside down it is rolled instead.
    fn whole_sphere(&self, rotation: Rotation) -> Idea {
        let whole = SourcePatch { rotation: Some(Rotation::None), ..SourcePatch::insets(Insets::default()) };
        match Turn::new(Exact::whole(180)) {
            Ok(roll) if rotation == Rotation::Half => {
                let over = Orientation { roll, ..Orientation::NONE };
                let turn = Some(over.within(&self.footage.turn));
                (
                    "Roll the sphere by 180°, and take all of the stored frame".to_owned(),
                    source(SourcePatch { turn, ..whole }),
                )
            }
            _ => ("Take all of the stored frame, as it is stored".to_owned(), source(whole)),
        }
    }

    /// The raster cut down to its picture, so that the player makes the bars.
    fn true_ratio(&self) -> Option<Idea> {
        self.frame.geometry.picture_ratio()?;
        let area = self.frame.geometry.frame().picture_area();
        let raster = Raster::new(area.width, area.height).ok()?;
        let patch = FramePatch { raster: Some(raster), picture_ratio: Some(None), ..FramePatch::default() };
        Some((format!("Deliver {raster} without bars in the frame"), frame(patch)))
    }

    fn even(&self) -> Option<Idea> {
        let geometry = self.frame.geometry.frame();
        let side = |side: u32| Rounding::Nearest.side(&Exact::whole(side), geometry.step(), "raster");
        let raster = Raster::new(side(geometry.raster().width()).ok()?, side(geometry.raster().height()).ok()?).ok()?;
        let patch = FramePatch { raster: Some(raster), ..FramePatch::default() };
        Some((format!("Deliver {raster}, rounded to {} pixels", geometry.step().pixels()), frame(patch)))
    }

    /// A quarter turn either way, or none: the numbers alone do not tell which. Any answer settles it.
    fn turns(&self) -> Vec<Idea> {
        let now = self.footage.geometry.rotation().degrees();
        let turn = |(by, word): (u32, &str)| {
            let rotation = Rotation::new((now + by) % 360).ok();
            (format!("Rotate 90° {word}"), source(SourcePatch { rotation, ..SourcePatch::default() }))
        };
        let upright = SourcePatch { upright_known: Some(true), ..SourcePatch::default() };
        let mut ideas = vec![("It is upright as stored".to_owned(), source(upright))];
        ideas.extend([(90, "clockwise"), (270, "anticlockwise")].map(turn));
        ideas
    }

    fn back_to_the_edge(&self) -> Idea {
        let held = |axis: Axis| {
            let shift = match axis {
                Axis::X => self.now.placed.shift_x.value(),
                Axis::Y => self.now.placed.shift_y.value(),
            };
            shift_within(shift, self.now.plan.travel.of(axis))
        };
        let placed = Framing { shift_x: held(Axis::X), shift_y: held(Axis::Y), ..self.now.placed.clone() };
        ("Shift back to the limit".to_owned(), framing(FramingSpec::written(&placed)))
    }

    /// Another size: the whole enlargement itself, or none.
    fn enlargements(&self, whole: i64) -> Vec<Idea> {
        let Axes { x, y, .. } = &self.now.plan.scale;
        let largest = x.clone().max(y.clone());
        let zoomed = |to: &Exact| {
            let placed = &self.now.placed;
            let factor = to / &largest;
            let zoom = Zoom::new(writable(&(placed.zoom.value() * &factor))).ok()?;
            let shift = |shift: &Shift| Shift::new(writable(&(shift.value() * &factor))).ok();
            let (shift_x, shift_y) = (shift(&placed.shift_x)?, shift(&placed.shift_y)?);
            Some(FramingSpec::written(&Framing { zoom, shift_x, shift_y, ..placed.clone() }))
        };
        let none = zoomed(&Exact::ONE).map(|spec| ("No enlargement (1:1)".to_owned(), framing(spec)));
        let whole_only = (Exact::from(whole) != largest)
            .then(|| zoomed(&Exact::from(whole)))
            .flatten()
            .map(|spec| (format!("Exactly {whole}x, cropped"), framing(spec)));
        [none, whole_only].into_iter().flatten().collect()
    }
}

fn fill(words: &str) -> Idea {
    (words.to_owned(), framing(FramingSpec::of(Method::Fill)))
}
