//! A list that somebody else brings: canvases as clips, intents and templates as frames, decisions as framings.

use std::collections::HashMap;

use ratiomet_core::project::{Deliverable, Footage, Framed, FramingSpec, Name, Note};
use ratiomet_core::showing::Showing;
use ratiomet_core::space::{Rect, Size, Stored};
use ratiomet_core::words::counted;
use ratiomet_core::{DeliveryFrame, DisplayRatio, Exact, Plan as Placed, Raster, fraction};
use ratiomet_wire::describe::Json;
use ratiomet_wire::read::Reader;
use serde_json::Value;

use super::fit::{Fit, Takes};
use super::{FRAME, FRAMING, SOURCE};
use crate::added::file_of;
use crate::clip::{Clip, MOST_CLIPS, Plan, PlannedFraming, decimal, deliverable, pixels, text};

/// The most remarks of one kind that are told one by one.
const MOST_TOLD: usize = 20;

/// The clips, frames and framings of a list.
///
/// # Errors
/// A sentence, for a list without canvases, and one with too many.
pub(crate) fn read(json: &Value) -> Result<Plan, String> {
    let mut reading = Reading { plan: Plan::default(), frames: HashMap::new(), told: 0 };
    let canvases = reading.canvases(json)?;
    reading.templates(json);
    reading.intents(json, &canvases);
    for canvas in &canvases {
        reading.decisions(json, canvas);
    }
    Ok(reading.plan)
}

/// A canvas that is a clip.
struct Canvas<'a> {
    json: &'a Value,
    /// Its place among the clips.
    clip: usize,
    /// How many times wider a pixel of it is seen than high.
    squeeze: f64,
    /// What it was where this program wrote it, else as far as it says; to see what its framings show.
    source: Option<Footage>,
    /// Whether this program wrote it.
    is_ours: bool,
}

/// What a frame is for.
#[derive(PartialEq, Eq, Hash)]
enum For<'a> {
    Intent(&'a str),
    Template(&'a str),
}

/// A frame, and how it is filled.
#[derive(Clone, Copy)]
struct Target {
    /// Its place among the frames.
    frame: usize,
    fit: Fit,
}

struct Reading<'a> {
    plan: Plan,
    frames: HashMap<For<'a>, Target>,
    told: usize,
}

fn all<'a>(of: &'a Value, name: &str) -> impl Iterator<Item = &'a Value> {
    of[name].as_array().into_iter().flatten()
}

/// The label of a part, or its id.
fn called(part: &Value) -> Option<String> {
    [&part["label"], &part["id"]].into_iter().map(text).find(|name| !name.is_empty())
}

fn id(part: &Value) -> &str {
    part["id"].as_str().unwrap_or_default()
}

fn two(size: &Value, names: [&str; 2]) -> Option<(f64, f64)> {
    let side = |name: &str| size[name].as_f64().filter(|side| (0.0..=1e6).contains(side));
    Some((side(names[0])?, side(names[1])?))
}

fn sides(size: &Value) -> Option<(f64, f64)> {
    two(size, ["width", "height"]).filter(|(width, height)| *width > 0.0 && *height > 0.0)
}

/// A double in millionths, which is finer than anything that is framed.
fn exact(value: f64) -> Exact {
    #[expect(clippy::cast_possible_truncation, reason = "callers keep within a million either way")]
    let millionths = (value * 1e6).round() as i64;
    (Exact::from(millionths) / Exact::whole(1_000_000)).reduced()
}

/// What this program has written into an attribute of its own.
fn ours<T: Json>(part: &Value, attribute: &str) -> Option<T> {
    Reader::request(part[attribute].as_str()?.as_bytes()).ok()
}

impl<'a> Reading<'a> {
    fn tell(&mut self, remark: impl Into<String>) {
        self.told += 1;
        if self.told <= MOST_TOLD {
            self.plan.remarks.push(remark.into());
        }
    }

    /// The canvases that are clips. One that was made of another is what comes of it.
    fn canvases(&mut self, json: &'a Value) -> Result<Vec<Canvas<'a>>, String> {
        let mut canvases = Vec::new();
        let mut derived = Vec::new();
        for context in all(json, "contexts") {
            let first = |canvas: &Value| {
                let source = canvas["source_canvas_id"].as_str();
                source.is_none_or(|source| source == id(canvas))
            };
            let several = all(context, "canvases").filter(|canvas| first(canvas)).count() > 1;
            for canvas in all(context, "canvases") {
                if !first(canvas) {
                    derived.extend(called(canvas));
                    continue;
                }
                if canvases.len() >= MOST_CLIPS {
                    return Err(format!("at most {MOST_CLIPS} canvases"));
                }
                let ours: Option<Footage> = ours(canvas, SOURCE).filter(|footage| agrees(footage, canvas));
                let clip = match &ours {
                    Some(footage) => Clip::of(footage),
                    None => self.clip(context, canvas, several),
                };
                let squeeze = canvas["anamorphic_squeeze"].as_f64().filter(|squeeze| *squeeze > 0.0).unwrap_or(1.0);
                let is_ours = ours.is_some();
                let source = ours.or_else(|| source_of(&clip));
                canvases.push(Canvas { json: canvas, clip: self.plan.clips.len(), squeeze, source, is_ours });
                self.plan.clips.push(clip);
            }
        }
        if canvases.is_empty() {
            return Err("a Framing Decision List with canvases; this one has none".to_owned());
        }
        if !derived.is_empty() {
            let names = derived.iter().take(6).cloned().collect::<Vec<_>>().join(", ");
            self.plan.remarks.push(format!(
                "Not imported: {} ({names}).",
                counted(derived.len(), "derived canvas").replace("canvass", "canvases")
            ));
        }
        Ok(canvases)
    }

    fn clip(&mut self, context: &Value, canvas: &Value, several: bool) -> Clip {
        let clip_id = &context["clip_id"];
        let of_clip = [text(&clip_id["clip_name"]), file_of(clip_id["file"].as_str().unwrap_or_default())];
        let of_clip = of_clip.into_iter().find(|name| !name.is_empty());
        let own = called(canvas).unwrap_or_default();
        let name = match of_clip {
            Some(clip) if several => format!("{clip} {own}"),
            Some(clip) => clip,
            None => own.clone(),
        };
        let mut clip = Clip { name, ..Clip::default() };
        let side = |size: &Value, axis: &str| pixels(&size[axis]);
        let whole = (side(&canvas["dimensions"], "width"), side(&canvas["dimensions"], "height"));
        if let (Some((width, _)), Some((height, _))) = whole {
            clip.size = format!("{width}x{height}");
            let (effective, anchor) = (&canvas["effective_dimensions"], &canvas["effective_anchor_point"]);
            if let (Some((across, a)), Some((down, b))) = (side(effective, "width"), side(effective, "height")) {
                let (left, c) = side(anchor, "x").unwrap_or((0, true));
                let (top, d) = side(anchor, "y").unwrap_or((0, true));
                let right = width.saturating_sub(across).saturating_sub(left);
                let bottom = height.saturating_sub(down).saturating_sub(top);
                clip.insets = format!("{left}/{top}/{right}/{bottom}");
                if !(a && b && c && d) {
                    self.tell(format!("The effective dimensions of {} were widened to whole pixels.", clip.name));
                }
            }
        }
        if let Some(squeeze) = canvas["anamorphic_squeeze"].as_f64() {
            clip.squeeze = decimal(squeeze, 6);
        }
        let mut facts = Vec::new();
        if !own.is_empty() && !clip.name.contains(&own) {
            facts.push(format!("canvas {own}"));
        }
        if let Some((width, height)) = sides(&canvas["photosite_dimensions"]) {
            facts.push(format!("photosites {}x{}", decimal(width, 2), decimal(height, 2)));
        }
        if let Some((width, height)) = sides(&canvas["physical_dimensions"]) {
            facts.push(format!("sensor {} x {} mm", decimal(width, 3), decimal(height, 3)));
        }
        clip.note = facts.join("; ");
        clip
    }

    /// The frames of templates.
    fn templates(&mut self, json: &'a Value) {
        for template in all(json, "canvas_templates") {
            let Some(frame) = ours::<Deliverable>(template, FRAME).or_else(|| frame_of(template)) else {
                self.tell(format!(
                    "The template {} has no size that a frame can have.",
                    called(template).unwrap_or_default()
                ));
                continue;
            };
            let (fit, lost) = Fit::of(template);
            if !lost.is_empty() {
                self.tell(format!("Not imported from template {}: {}.", frame.name.as_str(), lost.join(", ")));
            }
            let frame = self.frame(frame);
            self.frames.insert(For::Template(id(template)), Target { frame, fit });
        }
    }

    /// A frame in its place; one that is there already is the same.
    fn frame(&mut self, frame: Deliverable) -> usize {
        self.plan.frames.iter().position(|known| *known == frame).unwrap_or_else(|| {
            self.plan.frames.push(frame);
            self.plan.frames.len() - 1
        })
    }

    /// The frames of intents: that of the template of the same id, else one as large as the largest decision.
    fn intents(&mut self, json: &'a Value, canvases: &[Canvas<'_>]) {
        for intent in all(json, "framing_intents") {
            if let Some(&target) = self.frames.get(&For::Template(id(intent))) {
                self.frames.insert(For::Intent(id(intent)), target);
                continue;
            }
            let decisions = canvases.iter().flat_map(|canvas| {
                let of_intent = move |decision: &&Value| decision["framing_intent_id"].as_str() == Some(id(intent));
                all(canvas.json, "framing_decisions").filter(of_intent).map(|decision| (canvas.squeeze, decision))
            });
            let seen = decisions.filter_map(|(squeeze, decision)| {
                let (width, height) = sides(&decision["dimensions"])?;
                Some((width * squeeze, height))
            });
            let Some((width, height)) = seen.max_by(|one, other| (one.0 * one.1).total_cmp(&(other.0 * other.1)))
            else {
                continue;
            };
            let name = called(intent).unwrap_or_else(|| "intent".to_owned());
            let ratio = sides(&intent["aspect_ratio"]).map_or(width / height, |(across, down)| across / down);
            #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a cast that saturates")]
            let even = |side: f64| ((side / 2.0).round() as u32 * 2).max(2);
            let raster = (even(height * ratio), even(height));
            let Some(mut frame) = deliverable(&name, raster, "1", None) else {
                self.tell(format!("The intent {name} has no size that a frame can have."));
                continue;
            };
            let protection = intent["protection"].as_f64().filter(|part| *part > 0.0);
            let mut note = format!(
                "Intent of ratio {} without a size; {}x{} is taken from its largest decision",
                decimal(ratio, 4),
                raster.0,
                raster.1
            );
            if let Some(part) = protection {
                note.push_str(&format!("; protection {} %", decimal(part * 100.0, 2)));
            }
            self.tell(format!("{name}: {}.", note.replacen("Intent", "intent", 1)));
            frame.note = Note::new(&note).unwrap_or_default();
            let frame = self.frame(frame);
            self.frames.insert(For::Intent(id(intent)), Target { frame, fit: Fit::default() });
        }
    }

    /// The framings of a canvas.
    fn decisions(&mut self, json: &'a Value, canvas: &Canvas<'a>) {
        let intents = all(json, "framing_intents").count();
        let usual = json["default_framing_intent"].as_str();
        let mut protected = 0;
        for decision in all(canvas.json, "framing_decisions") {
            let intent = decision["framing_intent_id"].as_str().unwrap_or_default();
            if part(&decision["dimensions"], &decision["anchor_point"]).is_none() {
                self.tell(format!("A decision of {} has no size.", self.plan.clips[canvas.clip].name.clone()));
                continue;
            }
            let Some(&target) = self.frames.get(&For::Intent(intent)) else {
                self.tell(format!(
                    "A decision of {} is for an intent {intent} that the list does not have.",
                    self.plan.clips[canvas.clip].name.clone()
                ));
                continue;
            };
            if let Some((width, height)) = sides(&decision["protection_dimensions"]) {
                protected += 1;
                self.protect(target.frame, width * canvas.squeeze / height);
            }
            self.framing(canvas, target, decision, ours(decision, FRAMING));
            // A template without an intent of its own is for the one that is meant when none is named.
            if usual == Some(intent) || (usual.is_none() && intents == 1) {
                let apart = all(json, "canvas_templates")
                    .filter(|template| !self.frames.contains_key(&For::Intent(id(template))));
                let targets: Vec<Target> =
                    apart.filter_map(|template| self.frames.get(&For::Template(id(template)))).copied().collect();
                for target in targets {
                    self.framing(canvas, target, decision, None);
                }
            }
        }
        if protected > 0 {
            self.tell(format!(
                "{}: {} drawn as a guide of its frame, where its ratio is another one.",
                self.plan.clips[canvas.clip].name.clone(),
                if protected == 1 {
                    "protection is".to_owned()
                } else {
                    format!("the protection of {protected} decisions is")
                }
            ));
        }
    }

    /// The ratio of what is protected as a guide of a frame.
    fn protect(&mut self, frame: usize, ratio: f64) {
        let frame = &mut self.plan.frames[frame];
        let own = frame.geometry.frame().ratio().to_f64();
        let guide = fraction::Written::parse(&decimal(ratio, 4), DisplayRatio::parse);
        let Ok(guide) = guide else { return };
        let new = (ratio / own - 1.0).abs() > 0.002
            && frame.guides.iter().all(|known| (known.value().value().to_f64() / ratio - 1.0).abs() > 0.002);
        if new && frame.guides.len() < Deliverable::MOST_GUIDES {
            frame.guides.push(guide);
        }
    }

    /// A framing by a decision, or as this program has written it beside it.
    fn framing(&mut self, canvas: &Canvas<'_>, target: Target, decision: &Value, own: Option<FramingSpec>) {
        let Target { frame, fit } = target;
        let decided = part(&decision["dimensions"], &decision["anchor_point"]);
        let Some(taken) = taken(fit.takes, canvas.json, decision).or_else(|| decided.clone()) else { return };
        let geometry = self.plan.frames[frame].geometry.frame();
        let area = geometry.picture_area().rect().size;
        let shape = area.width * geometry.pixel_aspect().value() / area.height / exact(canvas.squeeze);
        let shown = fit.shown(taken, &shape);
        let framed = match (&canvas.source, own, decided) {
            (Some(footage), Some(own), Some(part)) if canvas.is_ours && shows(footage, geometry, &own, &part) => {
                Framed::Own(own)
            }
            _ => Framed::Part(shown),
        };
        if let (Framed::Part(part), Some(source)) = (&framed, &canvas.source) {
            let shown = Showing::of(source.geometry.source(), geometry, part);
            let more = shown.map(|shown| shown.more).filter(|more| more.x > Exact::ONE || more.y > Exact::ONE);
            if let Some(more) = more {
                self.tell(format!(
                    "{} into {}: the decision and the frame have different ratios; the frame shows {} px more.",
                    self.plan.clips[canvas.clip].name.clone(),
                    self.plan.frames[frame].name.as_str().to_owned(),
                    more.x.max(more.y).to_short_decimal(1)
                ));
            }
        }
        self.plan.framings.push(PlannedFraming { clip: canvas.clip, frame, framed });
    }
}

/// Whether what this program knew of a source is still what the canvas says.
fn agrees(footage: &Footage, canvas: &Value) -> bool {
    let raster = footage.geometry.raster();
    let active = footage.geometry.source().active();
    let near = |said: Option<(f64, f64)>, width: &Exact, height: &Exact| {
        said.is_none_or(|(across, down)| (across - width.to_f64()).abs() < 0.5 && (down - height.to_f64()).abs() < 0.5)
    };
    let whole = |side: u32| Exact::whole(side);
    near(sides(&canvas["dimensions"]), &whole(raster.width()), &whole(raster.height()))
        && near(sides(&canvas["effective_dimensions"]), &active.size.width, &active.size.height)
}

/// Whether a framing still shows what a decision says.
fn shows(footage: &Footage, frame: &DeliveryFrame, own: &FramingSpec, part: &Rect<Stored>) -> bool {
    let plan = Placed::of(footage.geometry.source(), frame, &own.framing());
    let near = |one: &Exact, other: &Exact| (one - other).abs() < Exact::fraction(1, 100);
    plan.window.is_some_and(|window| {
        near(&window.x, &part.x)
            && near(&window.y, &part.y)
            && near(&window.size.width, &part.size.width)
            && near(&window.size.height, &part.size.height)
    })
}

/// The source that a clip is, as far as it says.
fn source_of(clip: &Clip) -> Option<Footage> {
    let (width, height) = clip.size.split_once('x')?;
    let raster = Raster::new(width.parse().ok()?, height.parse().ok()?).ok()?;
    let squeeze = if clip.squeeze.is_empty() { "1" } else { &clip.squeeze };
    let aspect = if clip.pixel_aspect.is_empty() { "1" } else { &clip.pixel_aspect };
    let insets: Vec<u32> = clip.insets.split('/').filter_map(|side| side.parse().ok()).collect();
    let insets: [u32; 4] = insets.try_into().unwrap_or_default();
    let turn = clip.rotation.parse().ok().and_then(|turn| ratiomet_core::Rotation::new(turn).ok()).unwrap_or_default();
    let geometry = ratiomet_core::project::SourceSpec::new(
        raster,
        fraction::Written::parse(aspect, ratiomet_core::PixelAspect::parse).ok()?,
        fraction::Written::parse(squeeze, ratiomet_core::Squeeze::parse).ok()?,
        insets.into(),
        turn,
    );
    Some(Footage::of(Name::new("clip")?, geometry.ok()?))
}

/// The part of a canvas that a template takes; none where the canvas, or its decision, does not say it.
fn taken(takes: Takes, canvas: &Value, decision: &Value) -> Option<Rect<Stored>> {
    match takes {
        Takes::Decision => part(&decision["dimensions"], &decision["anchor_point"]),
        Takes::Protection => part(&decision["protection_dimensions"], &decision["protection_anchor_point"]),
        Takes::Effective => part(&canvas["effective_dimensions"], &canvas["effective_anchor_point"]),
        Takes::Canvas => part(&canvas["dimensions"], &Value::Null),
    }
}

fn part(size: &Value, anchor: &Value) -> Option<Rect<Stored>> {
    let (width, height) = sides(size)?;
    let side = |name: &str| anchor[name].as_f64().filter(|side| side.abs() <= 1e6).unwrap_or(0.0);
    Some(Rect::new(exact(side("x")), exact(side("y")), Size::new(exact(width), exact(height))))
}

fn frame_of(template: &Value) -> Option<Deliverable> {
    let side = |size: &Value| Some((pixels(&size["width"])?.0, pixels(&size["height"])?.0));
    let target = side(&template["target_dimensions"])?;
    let most = side(&template["maximum_dimensions"]).filter(|_| template["pad_to_maximum"] == Value::Bool(true));
    let squeeze = template["target_anamorphic_squeeze"].as_f64().filter(|squeeze| *squeeze > 0.0).unwrap_or(1.0);
    let aspect = decimal(squeeze, 6);
    let ratio = most.filter(|most| *most != target).and_then(|_| {
        let across = Exact::whole(target.0) * ratiomet_core::PixelAspect::parse(&aspect).ok()?.value();
        Some((across / Exact::whole(target.1)).reduced().to_string())
    });
    deliverable(&called(template)?, most.unwrap_or(target), &aspect, ratio.as_deref())
}
