//! ASC Framing Decision List, version 2.0: sources as canvases, frames as intents, windows as decisions,
//! and a template for each frame. Field names are those of the public specification.

use std::collections::HashSet;

use ratiomet_core::project::{Deliverable, FrameId, Package, Packaged};
use ratiomet_core::words::counted;
use ratiomet_core::{Exact, PixelAspect};
use serde_json::{Map, Value, json};
use sha2::{Digest, Sha256};

use crate::added::{Added, file_of, pretty, source_named};
use crate::clip::{Clip, MOST_CLIPS, Plan, decimal, deliverable, pixels, text};

/// Whether a JSON text is such a list.
pub(crate) fn is(json: &Value) -> bool {
    json["contexts"].is_array()
}

/// The canvases of a list as clips, its templates as frames.
///
/// # Errors
/// A sentence, for a list without canvases, and one with too many.
pub(crate) fn read(json: &Value) -> Result<Plan, String> {
    let mut plan = Plan::default();
    let contexts = json["contexts"].as_array().into_iter().flatten();
    let mut decisions = 0;
    for canvas in contexts.flat_map(|context| context["canvases"].as_array().into_iter().flatten()) {
        if plan.clips.len() >= MOST_CLIPS {
            return Err(format!("at most {MOST_CLIPS} canvases"));
        }
        decisions += canvas["framing_decisions"].as_array().map_or(0, Vec::len);
        let clip = clip_of(canvas, &mut plan.remarks);
        plan.clips.push(clip);
    }
    if plan.clips.is_empty() {
        return Err("a Framing Decision List with canvases; this one has none".to_owned());
    }
    if decisions > 0 {
        let (decisions, stand) =
            (counted(decisions, "framing decision"), if decisions == 1 { "stands" } else { "stand" });
        plan.remarks.push(format!("{decisions} {stand} in the list; framings are planned again here."));
    }
    plan.frames = json["canvas_templates"].as_array().into_iter().flatten().filter_map(frame_of).collect();
    Ok(plan)
}

/// The label of a part, or its id.
fn called(part: &Value) -> Option<String> {
    [&part["label"], &part["id"]].into_iter().map(text).find(|name| !name.is_empty())
}

fn clip_of(canvas: &Value, remarks: &mut Vec<String>) -> Clip {
    let mut clip = Clip { name: called(canvas).unwrap_or_default(), ..Clip::default() };
    let side = |size: &Value, axis: &str| pixels(&size[axis]);
    let whole = (side(&canvas["dimensions"], "width"), side(&canvas["dimensions"], "height"));
    if let (Some((width, _)), Some((height, _))) = whole {
        clip.size = format!("{width}x{height}");
        let effective = &canvas["effective_dimensions"];
        let anchor = &canvas["effective_anchor_point"];
        if let (Some((across, a)), Some((down, b))) = (side(effective, "width"), side(effective, "height")) {
            let (left, c) = side(anchor, "x").unwrap_or((0, true));
            let (top, d) = side(anchor, "y").unwrap_or((0, true));
            let right = width.saturating_sub(across).saturating_sub(left);
            let bottom = height.saturating_sub(down).saturating_sub(top);
            clip.insets = format!("{left}/{top}/{right}/{bottom}");
            if !(a && b && c && d) {
                remarks.push(format!("The effective dimensions of {} were widened to whole pixels.", clip.name));
            }
        }
    }
    if let Some(squeeze) = canvas["anamorphic_squeeze"].as_f64() {
        clip.squeeze = decimal(squeeze, 6);
    }
    clip
}

fn frame_of(template: &Value) -> Option<Deliverable> {
    let side = |size: &Value| Some((pixels(&size["width"])?.0, pixels(&size["height"])?.0));
    let target = side(&template["target_dimensions"])?;
    let most = side(&template["maximum_dimensions"]).filter(|_| template["pad_to_maximum"] == Value::Bool(true));
    let squeeze = template["target_anamorphic_squeeze"].as_f64().filter(|squeeze| *squeeze > 0.0).unwrap_or(1.0);
    let aspect = decimal(squeeze, 6);
    let ratio = most.filter(|most| *most != target).and_then(|_| {
        let across = Exact::whole(target.0) * PixelAspect::parse(&aspect).ok()?.value();
        Some((across / Exact::whole(target.1)).reduced().to_string())
    });
    deliverable(&called(template)?, most.unwrap_or(target), &aspect, ratio.as_deref())
}

/// The list of a package.
///
/// # Panics
/// Never.
pub fn write(package: &Package) -> Vec<u8> {
    pretty(&list_of(package))
}

/// A list of somebody else, with our intents, templates, and decisions for each canvas that has the name of
/// a source. What is theirs stays as it was, and ours gets ids that nothing of theirs has; what an earlier hand-off
/// of the same project has put there is brought up to date.
///
/// # Errors
/// A sentence, for what is no Framing Decision List.
pub fn add_to(package: &Package, text: &str) -> Result<Added, String> {
    let no_list = || "this is not a Framing Decision List: it has no contexts with canvases".to_owned();
    let list: Value = serde_json::from_str(text).map_err(|error| format!("this is not JSON: {error}"))?;
    let intents = intent_ids(package, &list);
    let Value::Object(mut list) = list else { return Err(no_list()) };
    let mut added = Added::default();
    let contexts = list.get_mut("contexts").and_then(Value::as_array_mut).ok_or_else(no_list)?;
    for context in contexts {
        let clip = &context["clip_id"];
        let clip = [self::text(&clip["clip_name"]), file_of(clip["file"].as_str().unwrap_or_default())];
        let canvases = context.get_mut("canvases").and_then(Value::as_array_mut).into_iter().flatten();
        for canvas in canvases.filter_map(Value::as_object_mut) {
            let Some(id) = canvas.get("id").and_then(Value::as_str).map(str::to_owned) else { continue };
            // One that is made of another is no source.
            if canvas.get("source_canvas_id").is_some_and(|source| *source != id.as_str() && !source.is_null()) {
                continue;
            }
            let label = canvas.get("label").map(self::text).unwrap_or_default();
            let names = [std::slice::from_ref(&id), &clip[..], &[label]].concat();
            let Some(at) = source_named(package, &names) else {
                added.not_found(package, &names);
                continue;
            };
            let decisions = decisions(package, at, &id, &intents);
            added.found(at, decisions.len());
            put(package, canvas, "framing_decisions", decisions);
        }
    }
    put(package, &mut list, "framing_intents", parts(package, &intents, intent));
    put(package, &mut list, "canvas_templates", parts(package, &intents, template));
    added.settle(package, &Value::Object(list))
}

/// The custom attribute by which a part is known as ours: names of custom attributes begin with an underline.
const MARK: &str = "_ratiomet";

/// Which frame of which project a part is for, as its mark says it.
fn mark(package: &Package, frame: FrameId) -> Value {
    json!(format!("{}, frame {}", package.project, frame.number()))
}

/// An id for each frame: the one that an earlier hand-off has given it in a list, else one that nothing there has.
fn intent_ids(package: &Package, list: &Value) -> Vec<String> {
    let all = |of: &Value, name: &str| of[name].as_array().cloned().unwrap_or_default();
    let parts = [all(list, "framing_intents"), all(list, "canvas_templates")].concat();
    let canvases = all(list, "contexts").into_iter().flat_map(|context| all(&context, "canvases"));
    let decisions = canvases.flat_map(|canvas| all(&canvas, "framing_decisions"));
    let mut ids = Ids(parts.iter().map(|part| text(&part["id"])).collect());
    ids.0.extend(decisions.map(|decision| text(&decision["framing_intent_id"])));
    let known = |frame| parts.iter().find(|part| part[MARK] == mark(package, frame)).map(|part| text(&part["id"]));
    let each = package.frames.iter();
    each.map(|(id, frame)| known(*id).unwrap_or_else(|| ids.of(frame.name.as_str()))).collect()
}

/// Puts ours into a list of theirs: where ours for the same frame stands, else at the end. Of the frames that are
/// handed over nothing older is left.
fn put(package: &Package, of: &mut Map<String, Value>, name: &str, mut ours: Vec<Value>) {
    let list = of.entry(name).or_insert_with(|| json!([]));
    if !list.is_array() {
        *list = json!([]);
    }
    let marks: Vec<Value> = package.frames.iter().map(|(id, _)| mark(package, *id)).collect();
    if let Some(list) = list.as_array_mut() {
        list.retain_mut(|known| {
            let newer = ours.iter().position(|each| each[MARK] == known[MARK]);
            newer.map(|at| *known = ours.remove(at)).is_some() || !marks.contains(&known[MARK])
        });
        list.append(&mut ours);
    }
}

/// Letters, digits and underlines, each once: what an identifier may be.
#[derive(Default)]
struct Ids(HashSet<String>);

impl Ids {
    /// The most characters of one.
    const LONGEST: usize = 32;

    /// An identifier made of a name: with a number where it was given to another one.
    fn of(&mut self, name: &str) -> String {
        let mut plain = String::new();
        for each in name.chars() {
            match each {
                'a'..='z' | 'A'..='Z' | '0'..='9' => plain.push(each),
                _ if plain.ends_with('_') || plain.is_empty() => {}
                _ => plain.push('_'),
            }
        }
        let plain = match plain.trim_end_matches('_') {
            "" => "unnamed",
            plain => plain,
        };
        let numbered = |number: usize| {
            let ending = if number == 1 { String::new() } else { format!("_{number}") };
            let front: String = plain.chars().take(Self::LONGEST - ending.len()).collect();
            format!("{front}{ending}")
        };
        let mut ids = (1..).map(numbered);
        let id = ids.find(|id| !self.0.contains(id)).expect("there are more numbers than names");
        self.0.insert(id.clone());
        id
    }
}

/// Width to height in whole numbers, as small as they are exact, or in thousandths.
fn whole_ratio(ratio: &Exact) -> (i64, i64) {
    match ratio.clone().reduced().short_terms() {
        Some((above, below)) if above < 100_000 && below < 100_000 => (above, below),
        _ => ((ratio * Exact::whole(1000) + Exact::fraction(1, 2)).ceil_whole() - 1, 1000),
    }
}

/// Sixteen bytes of what is handed over, as a UUID of version 8 (RFC 9562): the same package has the same.
fn uuid(list: &Value, day: &str) -> String {
    let mut hash = Sha256::new();
    hash.update(day);
    hash.update(list.to_string());
    let mut bytes = [0; 16];
    bytes.copy_from_slice(&hash.finalize()[..16]);
    bytes[6] = bytes[6] & 0x0F | 0x80;
    bytes[8] = bytes[8] & 0x3F | 0x80;
    let hex: String = bytes.iter().map(|byte| format!("{byte:02X}")).collect();
    format!("{}-{}-{}-{}-{}", &hex[..8], &hex[8..12], &hex[12..16], &hex[16..20], &hex[20..])
}

fn list_of(package: &Package) -> Value {
    let intents = intent_ids(package, &Value::Null);
    let mut ids = Ids::default();
    let sources = package.sources.iter().enumerate();
    let contexts: Vec<Value> = sources
        .map(|(at, (_, footage))| {
            let name = footage.name.as_str();
            let canvases = [canvas(package, at, &ids.of(name), &intents)];
            json!({ "label": name, "context_creator": "Ratiomet", "clip_id": { "clip_name": name }, "canvases": canvases })
        })
        .collect();
    let mut list = json!({
        "uuid": "",
        "version": { "major": 2, "minor": 0 },
        "fdl_creator": "Ratiomet",
        "default_framing_intent": intents.first(),
        "framing_intents": parts(package, &intents, intent),
        "contexts": contexts,
        "canvas_templates": parts(package, &intents, template),
    });
    list["uuid"] = json!(uuid(&list, &package.day));
    list
}

/// What there is once for each frame, marked.
fn parts(package: &Package, intents: &[String], part: fn(&str, &Deliverable) -> Value) -> Vec<Value> {
    let marked = |((frame_id, frame), id): (&(FrameId, Deliverable), &String)| {
        let mut part = part(id, frame);
        part[MARK] = mark(package, *frame_id);
        part
    };
    package.frames.iter().zip(intents).map(marked).collect()
}

fn intent(id: &str, frame: &Deliverable) -> Value {
    let geometry = frame.geometry.frame();
    let area = geometry.picture_area();
    let ratio = Exact::whole(area.width) * geometry.pixel_aspect().value() / Exact::whole(area.height);
    let (width, height) = whole_ratio(&ratio);
    json!({
        "id": id,
        "label": frame.name.as_str(),
        "aspect_ratio": { "width": width, "height": height },
        "protection": 0.0,
    })
}

fn template(id: &str, frame: &Deliverable) -> Value {
    let geometry = frame.geometry.frame();
    let (raster, area) = (geometry.raster(), geometry.picture_area());
    let masked = area.width != raster.width() || area.height != raster.height();
    let mut template = json!({
        "id": id,
        "label": frame.name.as_str(),
        "target_dimensions": { "width": area.width, "height": area.height },
        "target_anamorphic_squeeze": geometry.pixel_aspect().value().to_f64(),
        "fit_source": "framing_decision.dimensions",
        "fit_method": "fit_all",
        "alignment_method_vertical": "center",
        "alignment_method_horizontal": "center",
        "round": { "even": if geometry.step().pixels() == 1 { "whole" } else { "even" }, "mode": "round" },
    });
    if masked {
        template["maximum_dimensions"] = json!({ "width": raster.width(), "height": raster.height() });
        template["pad_to_maximum"] = json!(true);
    }
    template
}

/// What every frame shows of a source.
fn decisions(package: &Package, source: usize, canvas: &str, intents: &[String]) -> Vec<Value> {
    let decision = |packaged: &Packaged| {
        let window = packaged.conversion.plan.window.as_ref()?;
        let (intent, (frame, _)) = (&intents[packaged.frame], &package.frames[packaged.frame]);
        Some(json!({
            "id": format!("{canvas}-{intent}"),
            "label": package.frame_of(packaged).name.as_str(),
            "framing_intent_id": intent,
            "dimensions": { "width": window.size.width.to_f64(), "height": window.size.height.to_f64() },
            "anchor_point": { "x": window.x.to_f64(), "y": window.y.to_f64() },
            MARK: mark(package, *frame),
        }))
    };
    package.conversions.iter().filter(|packaged| packaged.source == source).filter_map(decision).collect()
}

fn canvas(package: &Package, at: usize, id: &str, intents: &[String]) -> Value {
    let footage = &package.sources[at].1;
    let raster = footage.geometry.raster();
    let active = footage.geometry.source().active();
    let squeeze = footage.geometry.pixel_aspect().value().value() * footage.geometry.squeeze().value().value();
    json!({
        "id": id,
        "label": footage.name.as_str(),
        "source_canvas_id": id,
        "dimensions": { "width": raster.width(), "height": raster.height() },
        "effective_dimensions": { "width": active.size.width.to_f64(), "height": active.size.height.to_f64() },
        "effective_anchor_point": { "x": active.x.to_f64(), "y": active.y.to_f64() },
        "anamorphic_squeeze": squeeze.to_f64(),
        "framing_decisions": decisions(package, at, id, intents),
    })
}
