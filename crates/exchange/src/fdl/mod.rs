//! ASC Framing Decision List, version 2.0: sources as canvases, frames as intents, windows as decisions,
//! and a template for each frame. Field names are those of the public specification. `read` is the way in.

mod fit;
mod read;

use std::collections::HashSet;
use std::io::{self, Write};

use ratiomet_core::Exact;
use ratiomet_core::project::{Deliverable, Footage, FrameId, FramingSpec, Note, Origin, Package, Packaged};
use ratiomet_wire::describe::{As, Json};
use serde::Serialize;
use serde_json::{Map, Value, json};
use sha2::{Digest, Sha256};

use crate::added::{Added, SourceNames, file_of};
use crate::clip::text;
use crate::crowded;
use crate::one_by_one::{OneByOne, write_pretty};

pub(crate) use read::read;

/// Whether a JSON text is such a list.
pub(crate) fn is(json: &Value) -> bool {
    json["contexts"].is_array()
}

/// A list as it is written.
#[derive(Serialize)]
struct List<'a> {
    uuid: String,
    version: Version,
    fdl_creator: &'static str,
    default_framing_intent: Option<&'a str>,
    framing_intents: Vec<Value>,
    contexts: OneByOne<'a>,
    canvas_templates: Vec<Value>,
}

#[derive(Serialize)]
struct Version {
    major: u32,
    minor: u32,
}

/// The list of a package. `go_on` is asked at each source, twice, and ends the work by `false`; what was written then is no
/// whole list.
///
/// # Errors
/// Those of whoever takes it.
pub fn write(package: &Package, go_on: &dyn Fn() -> bool, out: &mut dyn Write) -> io::Result<()> {
    let intents = Intents::of(package, &Value::Null);
    let mut ids = Ids::default();
    let ids: Vec<String> = package.sources.iter().map(|(_, footage)| ids.of(footage.name.as_str())).collect();
    let make = |at| context(package, at, &ids[at], &intents);
    let mut list = List {
        uuid: String::new(),
        version: Version { major: 2, minor: 0 },
        fdl_creator: "Ratiomet",
        default_framing_intent: intents.0.first().map(|intent| &*intent.id),
        framing_intents: intents.parts(package, intent),
        contexts: OneByOne::new(package.sources.len(), &make, go_on),
        canvas_templates: intents.parts(package, template),
    };
    list.uuid = uuid(&list, &package.day)?;
    write_pretty(&list, out)
}

/// A list of somebody else, with our intents, templates, and decisions for each canvas that has the name of
/// a source. What is theirs stays as it was, and ours gets ids that nothing of theirs has; what an earlier hand-off
/// of the same project has put there is brought up to date.
///
/// # Errors
/// A sentence, for what is no Framing Decision List.
pub fn add_to(package: &Package, text: &str) -> Result<Added, String> {
    let no_list = || "this is not a Framing Decision List: it has no contexts with canvases".to_owned();
    crowded::refuse(text.as_bytes())?;
    let list: Value = serde_json::from_str(text).map_err(|error| format!("this is not JSON: {error}"))?;
    let intents = Intents::of(package, &list);
    let Value::Object(mut list) = list else { return Err(no_list()) };
    let (mut added, known) = (Added::default(), SourceNames::of(package));
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
            let Some(at) = known.find(&names) else {
                added.not_found(package, &names);
                continue;
            };
            let decisions = decisions(package, at, &id, &intents);
            added.found(at, decisions.len());
            put(package, canvas, "framing_decisions", decisions);
        }
    }
    put(package, &mut list, "framing_intents", intents.parts(package, intent));
    put(package, &mut list, "canvas_templates", intents.parts(package, template));
    added.settle(package, &Value::Object(list))
}

/// The custom attribute by which a part is known as ours: names of custom attributes begin with an underline.
const MARK: &str = "_ratiomet";
/// The attributes in which stands exactly what the standard has no words for: how a source is stored and turned, what a
/// frame is, and how a conversion is framed. Each is a text of JSON, as the interface of this program has it.
const SOURCE: &str = "_ratiomet_source";
const FRAME: &str = "_ratiomet_frame";
const FRAMING: &str = "_ratiomet_framing";

/// Which frame of which project a part is for, as its mark says it.
fn mark(package: &Package, frame: FrameId) -> String {
    format!("{}, frame {}", package.project, frame.number())
}

/// What the pictures of a frame are framed for.
struct Intent {
    id: String,
    /// The place of the frame.
    frame: usize,
    mark: String,
    /// The size of a picture that leaves bars, in delivery pixels; none for one that fills the area.
    padded: Option<(u32, u32)>,
    /// Its ratio, as it is seen.
    ratio: Exact,
}

/// The intents of a package: one for each frame, and one for each other ratio of pictures that leave bars there.
struct Intents(Vec<Intent>);

impl Intents {
    /// With the ids that an earlier hand-off has given them in a list, else ones that nothing there has.
    fn of(package: &Package, list: &Value) -> Self {
        let all = |of: &Value, name: &str| of[name].as_array().cloned().unwrap_or_default();
        let parts = [all(list, "framing_intents"), all(list, "canvas_templates")].concat();
        let canvases = all(list, "contexts").into_iter().flat_map(|context| all(&context, "canvases"));
        let decisions = canvases.flat_map(|canvas| all(&canvas, "framing_decisions"));
        let mut ids = Ids(parts.iter().map(|part| text(&part["id"])).collect());
        ids.0.extend(decisions.map(|decision| text(&decision["framing_intent_id"])));
        let mut id_of = |mark: &str, name: &str| {
            let known = parts.iter().find(|part| part[MARK] == mark).map(|part| text(&part["id"]));
            known.unwrap_or_else(|| ids.of(name))
        };
        let mut intents: Vec<Intent> = Vec::new();
        for (place, (frame_id, frame)) in package.frames.iter().enumerate() {
            let mark = mark(package, *frame_id);
            let id = id_of(&mark, frame.name.as_str());
            let area = frame.geometry.frame().picture_area();
            let ratio = seen_as(frame, &Exact::whole(area.width), &Exact::whole(area.height));
            intents.push(Intent { id, frame: place, mark, padded: None, ratio });
        }
        for packaged in package.conversions() {
            let Some((ratio, size)) = with_bars(package, &packaged) else { continue };
            if intents.iter().any(|known| known.frame == packaged.frame && known.ratio == ratio) {
                continue;
            }
            let (frame_id, frame) = &package.frames[packaged.frame];
            let (width, height) = size;
            let mark = format!("{}, {width}x{height}", mark(package, *frame_id));
            let id = id_of(&mark, &format!("{} {width}x{height}", frame.name.as_str()));
            intents.push(Intent { id, frame: packaged.frame, mark, padded: Some(size), ratio });
        }
        Self(intents)
    }

    /// What a conversion is framed for.
    fn of_conversion(&self, package: &Package, packaged: &Packaged) -> &Intent {
        let ratio = with_bars(package, packaged).map(|(ratio, _)| ratio);
        let own = |intent: &&Intent| intent.frame == packaged.frame && ratio.as_ref() == Some(&intent.ratio);
        self.0.iter().find(own).unwrap_or(&self.0[packaged.frame])
    }

    /// What there is once for each, marked.
    fn parts(&self, package: &Package, part: fn(&Intent, &Deliverable) -> Value) -> Vec<Value> {
        let marked = |intent: &Intent| {
            let mut part = part(intent, package.frames[intent.frame].1);
            part[MARK] = json!(intent.mark);
            part
        };
        self.0.iter().map(marked).collect()
    }
}

/// Width to height of a part of a frame, as it is seen.
fn seen_as(frame: &Deliverable, width: &Exact, height: &Exact) -> Exact {
    (width * frame.geometry.frame().pixel_aspect().value() / height).reduced()
}

/// The ratio and the size in whole pixels of a picture that does not fill its area.
fn with_bars(package: &Package, packaged: &Packaged) -> Option<(Exact, (u32, u32))> {
    let plan = &packaged.conversion.plan;
    let frame = package.frame_of(packaged);
    let seen = plan.image.intersection(&plan.picture_area.rect())?.size;
    let area = plan.picture_area.rect().size;
    if seen == area {
        return None;
    }
    let side = |side: &Exact| u32::try_from((side + Exact::fraction(1, 2)).floor_whole()).unwrap_or(1).max(1);
    Some((seen_as(frame, &seen.width, &seen.height), (side(&seen.width), side(&seen.height))))
}

/// Puts ours into a list of theirs: where ours for the same frame stands, else at the end. Of the frames that are
/// handed over nothing older is left.
fn put(package: &Package, of: &mut Map<String, Value>, name: &str, mut ours: Vec<Value>) {
    let list = of.entry(name).or_insert_with(|| json!([]));
    if !list.is_array() {
        *list = json!([]);
    }
    let marks: Vec<String> = package.frames.iter().map(|(id, _)| mark(package, *id)).collect();
    let is_ours = |known: &Value| {
        let known = known[MARK].as_str();
        known.is_some_and(|known| {
            marks.iter().any(|mark| {
                known.strip_prefix(mark.as_str()).is_some_and(|rest| rest.is_empty() || rest.starts_with(", "))
            })
        })
    };
    if let Some(list) = list.as_array_mut() {
        list.retain_mut(|known| {
            let newer = ours.iter().position(|each| each[MARK] == known[MARK]);
            newer.map(|at| *known = ours.remove(at)).is_some() || !is_ours(known)
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
        _ => {
            let thousandths = |of: &Exact| (of * Exact::whole(1000) + Exact::fraction(1, 2)).floor_whole();
            // The smaller side is the one that is a thousand, so that neither is coarse.
            if *ratio < Exact::ONE { (1000, thousandths(&(Exact::ONE / ratio))) } else { (thousandths(ratio), 1000) }
        }
    }
}

/// Sixteen bytes of what is handed over, as a UUID of version 8 (RFC 9562): the same package has the same.
fn uuid(list: &List<'_>, day: &str) -> io::Result<String> {
    let mut hash = Sha256::new();
    hash.update(day);
    serde_json::to_writer(&mut hash, list)?;
    let mut bytes = [0; 16];
    bytes.copy_from_slice(&hash.finalize()[..16]);
    bytes[6] = bytes[6] & 0x0F | 0x80;
    bytes[8] = bytes[8] & 0x3F | 0x80;
    let hex: String = bytes.iter().map(|byte| format!("{byte:02X}")).collect();
    Ok(format!("{}-{}-{}-{}-{}", &hex[..8], &hex[8..12], &hex[12..16], &hex[16..20], &hex[20..]))
}

/// What a list says of the source at a place.
fn context(package: &Package, at: usize, id: &str, intents: &Intents) -> Value {
    let footage = package.sources[at].1;
    let name = footage.name.as_str();
    let mut clip_id = json!({ "clip_name": name });
    if let Some(file) = footage.origin.as_ref().and_then(Origin::footage_file) {
        clip_id["file"] = json!(file);
    }
    let canvases = [canvas(package, at, id, intents)];
    json!({ "label": name, "context_creator": "Ratiomet", "clip_id": clip_id, "canvases": canvases })
}

fn label(intent: &Intent, frame: &Deliverable) -> String {
    match intent.padded {
        Some((width, height)) => format!("{}, picture {width}x{height}", frame.name.as_str()),
        None => frame.name.as_str().to_owned(),
    }
}

fn intent(intent: &Intent, frame: &Deliverable) -> Value {
    let (width, height) = whole_ratio(&intent.ratio);
    json!({
        "id": intent.id,
        "label": label(intent, frame),
        "aspect_ratio": { "width": width, "height": height },
        "protection": 0.0,
    })
}

fn template(intent: &Intent, frame: &Deliverable) -> Value {
    let geometry = frame.geometry.frame();
    let (raster, area) = (geometry.raster(), geometry.picture_area());
    let target = intent.padded.unwrap_or((area.width, area.height));
    let mut template = json!({
        "id": intent.id,
        "label": label(intent, frame),
        "target_dimensions": { "width": target.0, "height": target.1 },
        "target_anamorphic_squeeze": geometry.pixel_aspect().value().to_f64(),
        "fit_source": "framing_decision.dimensions",
        "fit_method": "fit_all",
        "alignment_method_vertical": "center",
        "alignment_method_horizontal": "center",
        "round": { "even": if geometry.step().pixels() == 1 { "whole" } else { "even" }, "mode": "round" },
    });
    if target != (raster.width(), raster.height()) {
        template["maximum_dimensions"] = json!({ "width": raster.width(), "height": raster.height() });
        template["pad_to_maximum"] = json!(true);
    }
    template[FRAME] = json!(exactly(&Deliverable { note: Note::default(), through: None, ..frame.clone() }));
    template
}

/// A value in the form of the interface, as one text.
fn exactly<T: Json>(value: &T) -> String {
    serde_json::to_string(&As(value)).expect("plain data with text keys")
}

/// What every frame shows of a source.
fn decisions(package: &Package, source: usize, canvas: &str, intents: &Intents) -> Vec<Value> {
    let decision = |packaged: &Packaged| {
        let window = packaged.conversion.plan.window.as_ref()?;
        let intent = intents.of_conversion(package, packaged);
        Some(json!({
            "id": format!("{canvas}-{}", intent.id),
            "label": package.frame_of(packaged).name.as_str(),
            "framing_intent_id": intent.id,
            "dimensions": { "width": window.size.width.to_f64(), "height": window.size.height.to_f64() },
            "anchor_point": { "x": window.x.to_f64(), "y": window.y.to_f64() },
            MARK: intent.mark,
            FRAMING: exactly(&FramingSpec::written(&packaged.conversion.placed)),
        }))
    };
    package.of_source(source).iter().filter_map(decision).collect()
}

fn canvas(package: &Package, at: usize, id: &str, intents: &Intents) -> Value {
    let footage = package.sources[at].1;
    let raster = footage.geometry.raster();
    let active = footage.geometry.source().active();
    let squeeze = footage.geometry.pixel_aspect().value().value() * footage.geometry.squeeze().value().value();
    // What is about the file and the plan, and not about the picture, stays here.
    let told = Footage { note: Note::default(), origin: None, method: None, subject: None, ..footage.clone() };
    json!({
        "id": id,
        "label": footage.name.as_str(),
        "source_canvas_id": id,
        "dimensions": { "width": raster.width(), "height": raster.height() },
        "effective_dimensions": { "width": active.size.width.to_f64(), "height": active.size.height.to_f64() },
        "effective_anchor_point": { "x": active.x.to_f64(), "y": active.y.to_f64() },
        "anamorphic_squeeze": squeeze.to_f64(),
        "framing_decisions": decisions(package, at, id, intents),
        SOURCE: exactly(&told),
    })
}
