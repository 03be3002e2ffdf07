//! OpenTimelineIO: a clip for each source, with what each frame takes of it in metadata of our own
//! (namespace `ratiomet`, described in docs/FORMATS.md).

use std::collections::HashSet;
use std::io::{self, Write};

use percent_encoding::{AsciiSet, NON_ALPHANUMERIC, utf8_percent_encode};
use ratiomet_core::Exact;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Aspect, Footage, Package, Packaged};
use ratiomet_core::signal::{Scan, SignalRange};
use ratiomet_core::words::counted;
use serde::Serialize;
use serde_json::{Map, Value, json};

use crate::added::{Added, SourceNames, file_of};
use crate::clip::{Clip, MOST_CLIPS, Plan, decimal, deliverable, pixels, text};
use crate::crowded;
use crate::one_by_one::{OneByOne, write_pretty};

/// Whether a JSON text is a timeline.
pub(crate) fn is(json: &Value) -> bool {
    json["OTIO_SCHEMA"].is_string()
}

/// The clips of a timeline, and the frames of one of ours.
///
/// # Errors
/// A sentence, for a timeline without clips, and one with too many.
pub(crate) fn read(json: &Value) -> Result<Plan, String> {
    let mut plan = Plan::default();
    let mut seen = HashSet::new();
    let mut unsized_clips = 0;
    let mut left: Vec<&Value> = vec![json];
    while let Some(object) = left.pop() {
        if object["OTIO_SCHEMA"].as_str().is_some_and(|schema| schema.starts_with("Clip.")) {
            let clip = clip_of(object);
            unsized_clips += usize::from(clip.size.is_empty());
            // The same footage is cut into many clips.
            if seen.insert(clip.clone()) {
                if plan.clips.len() >= MOST_CLIPS {
                    return Err(format!("at most {MOST_CLIPS} clips"));
                }
                plan.clips.push(clip);
            }
            continue;
        }
        // In the order of the file: what is put on the pile last comes first.
        left.extend(object["children"].as_array().into_iter().flatten().rev());
        left.extend([&object["tracks"], &object["clips"]].into_iter().filter(|part| part.is_object()));
    }
    if plan.clips.is_empty() {
        return Err("an OpenTimelineIO file with clips; this one has none".to_owned());
    }
    if unsized_clips > 0 {
        let (say, their) =
            if unsized_clips == 1 { ("does not say its", "its file") } else { ("do not say their", "their files") };
        plan.remarks.push(format!(
            "{} {say} size in pixels (available_image_bounds): enter it, or read {their}.",
            counted(unsized_clips, "clip")
        ));
    }
    for frame in json["metadata"]["ratiomet"]["frames"].as_array().into_iter().flatten() {
        if let (Some((width, _)), Some((height, _))) = (pixels(&frame["raster"][0]), pixels(&frame["raster"][1])) {
            let (name, aspect) = (text(&frame["name"]), text(&frame["pixel_aspect"]));
            plan.frames.extend(deliverable(&name, (width, height), &aspect, frame["picture_ratio"].as_str()));
        }
    }
    Ok(plan)
}

fn clip_of(clip: &Value) -> Clip {
    let own = &clip["metadata"]["ratiomet"]["source"];
    let references = &clip["media_references"];
    let key = clip["active_media_reference_key"].as_str().unwrap_or("DEFAULT_MEDIA");
    let media = if references.is_object() { &references[key] } else { &clip["media_reference"] };
    let mut said = Clip { name: text(&clip["name"]), ..Clip::default() };
    if own.is_object() {
        said.size = format!("{}x{}", text(&own["raster"][0]), text(&own["raster"][1]));
        said.pixel_aspect = text(&own["pixel_aspect"]);
        said.squeeze = text(&own["squeeze"]);
        said.insets = (0..4).map(|side| text(&own["active"][side])).collect::<Vec<_>>().join("/");
        said.rotation = text(&own["rotation"]);
        said.rate = text(&own["rate"]);
        said.scan = text(&own["scan"]);
        said.signal_range = text(&own["signal_range"]);
        said.projection = text(&own["projection"]);
        return said;
    }
    let bounds = &media["available_image_bounds"];
    let side = |axis: &str| Some(bounds["max"][axis].as_f64()? - bounds["min"][axis].as_f64()?);
    // Bounds may be in any unit; only whole pixels of some number are taken for pixels.
    let size = side("x").zip(side("y")).filter(|(width, height)| {
        [width, height].iter().all(|side| (64.0..=65_536.0).contains(*side) && side.fract() == 0.0)
    });
    if let Some((width, height)) = size {
        said.size = format!("{width}x{height}");
    }
    let rates = [&clip["source_range"]["start_time"]["rate"], &media["available_range"]["start_time"]["rate"]];
    if let Some(rate) = rates.into_iter().rev().find_map(Value::as_f64).filter(|rate| *rate > 0.0) {
        said.rate = decimal(rate, 3);
    }
    said.note = text(&media["target_url"]);
    said
}

/// A timeline of somebody else, with what we know added to each clip that has the name of a source. All
/// else in it stays as it was.
///
/// # Errors
/// A sentence, for what is no timeline.
pub fn add_to(package: &Package, text: &str) -> Result<Added, String> {
    crowded::refuse(text.as_bytes())?;
    let mut timeline: Value = serde_json::from_str(text).map_err(|error| format!("this is not JSON: {error}"))?;
    if !is(&timeline) {
        return Err("this is not an OpenTimelineIO file".to_owned());
    }
    let mut added = Added::default();
    add_to_clips(package, &SourceNames::of(package), &mut timeline, &mut added);
    if let Some(fields) = timeline.as_object_mut() {
        set_ours(fields, metadata(package));
    }
    added.settle(package, &timeline)
}

fn add_to_clips(package: &Package, known: &SourceNames<'_>, part: &mut Value, added: &mut Added) {
    match part {
        Value::Object(fields) => {
            if fields.get("OTIO_SCHEMA").and_then(Value::as_str).is_some_and(|schema| schema.starts_with("Clip.")) {
                let names = names_of(fields);
                if let Some(at) = known.find(&names) {
                    let footage = package.sources[at].1;
                    let placements = placements(package, at);
                    added.found(at, placements.len());
                    set_ours(fields, json!({ "source": geometry(footage), "placements": placements }));
                } else {
                    added.not_found(package, &names);
                }
                return;
            }
            for (_, inner) in fields.iter_mut().filter(|(name, _)| *name == "children" || *name == "tracks") {
                add_to_clips(package, known, inner, added);
            }
        }
        Value::Array(parts) => parts.iter_mut().for_each(|inner| add_to_clips(package, known, inner, added)),
        _ => {}
    }
}

/// What a clip goes by: the file that it is of, and what it is called.
fn names_of(clip: &Map<String, Value>) -> Vec<String> {
    let key = clip.get("active_media_reference_key").map(text).unwrap_or_default();
    let active = clip.get("media_references").map(|references| &references[key.as_str()]);
    let references = [active, clip.get("media_reference")].into_iter().flatten();
    let files = references.filter_map(|reference| Some(file_of(reference["target_url"].as_str()?)));
    files.chain(clip.get("name").map(text)).collect()
}

/// Puts our part into the metadata of an object; that of others stays.
fn set_ours(fields: &mut Map<String, Value>, ours: Value) {
    match fields.get_mut("metadata").and_then(Value::as_object_mut) {
        Some(metadata) => drop(metadata.insert("ratiomet".to_owned(), ours)),
        None => drop(fields.insert("metadata".to_owned(), json!({ "ratiomet": ours }))),
    }
}

fn metadata(package: &Package) -> Value {
    let frames = package.frames.iter().map(|(_, frame)| {
        let geometry = frame.geometry.frame();
        json!({
            "name": frame.name.as_str(),
            "raster": [geometry.raster().width(), geometry.raster().height()],
            "pixel_aspect": frame.geometry.pixel_aspect().text(),
            "picture_ratio": frame.geometry.picture_ratio().map(Written::text),
            "rate": frame.rate.as_ref().map(Written::text),
        })
    });
    json!({ "version": 1, "day": package.day, "frames": frames.collect::<Vec<_>>() })
}

/// A timeline as it is written.
#[derive(Serialize)]
struct Timeline<'a> {
    #[serde(rename = "OTIO_SCHEMA")]
    schema: &'static str,
    metadata: Value,
    name: &'a str,
    global_start_time: Option<()>,
    tracks: Composed<'a, [Composed<'a, OneByOne<'a>>; 1]>,
}

/// What is composed of other parts.
#[derive(Serialize)]
struct Composed<'a, C> {
    #[serde(rename = "OTIO_SCHEMA")]
    schema: &'static str,
    metadata: Map<String, Value>,
    name: &'a str,
    source_range: Option<()>,
    effects: [(); 0],
    markers: [(); 0],
    enabled: bool,
    children: C,
    #[serde(skip_serializing_if = "Option::is_none")]
    kind: Option<&'static str>,
}

impl<'a, C> Composed<'a, C> {
    fn new(schema: &'static str, name: &'a str, kind: Option<&'static str>, children: C) -> Self {
        let (metadata, source_range, effects, markers) = (Map::new(), None, [], []);
        Self { schema, metadata, name, source_range, effects, markers, enabled: true, children, kind }
    }
}

/// The timeline as JSON. A source of which no rate is known counts 24 a second. `go_on` is asked at each source, and ends
/// the work by `false`; what was written then is no whole timeline.
///
/// # Errors
/// Those of whoever takes it.
pub fn write(package: &Package, go_on: &dyn Fn() -> bool, out: &mut dyn Write) -> io::Result<()> {
    let make = |at: usize| clip(package, at, package.sources[at].1);
    let clips = OneByOne::new(package.sources.len(), &make, go_on);
    let track = Composed::new("Track.1", "Sources", Some("Video"), clips);
    let timeline = Timeline {
        schema: "Timeline.1",
        metadata: json!({ "ratiomet": metadata(package) }),
        name: &package.project,
        global_start_time: None,
        tracks: Composed::new("Stack.1", "tracks", None, [track]),
    };
    write_pretty(&timeline, out)
}

fn point(x: f64, y: f64) -> Value {
    json!({ "OTIO_SCHEMA": "V2d.1", "x": x, "y": y })
}

fn time(value: f64, rate: f64) -> Value {
    json!({ "OTIO_SCHEMA": "RationalTime.1", "rate": rate, "value": value })
}

fn clip(package: &Package, at: usize, footage: &Footage) -> Value {
    let rate = footage.rate.as_ref().map_or(24.0, |rate| rate.value().value().to_f64());
    let raster = footage.geometry.raster();
    let (width, height) = (f64::from(raster.width()), f64::from(raster.height()));
    let frames = footage.origin.as_ref().and_then(|origin| origin.frames);
    let range = |frames: u32| {
        let duration = time(f64::from(frames), rate);
        json!({ "OTIO_SCHEMA": "TimeRange.1", "duration": duration, "start_time": time(0.0, rate) })
    };
    let bounds = json!({ "OTIO_SCHEMA": "Box2d.1", "min": point(0.0, 0.0), "max": point(width, height) });
    let mut media = reference(footage, rate);
    media["name"] = json!(footage.name.as_str());
    media["metadata"] = json!({});
    media["available_range"] = json!(frames.map(range));
    media["available_image_bounds"] = bounds;
    json!({
        "OTIO_SCHEMA": "Clip.2",
        "metadata": { "ratiomet": { "source": geometry(footage), "placements": placements(package, at) } },
        "name": footage.name.as_str(),
        "source_range": range(frames.unwrap_or(1)),
        "effects": [],
        "markers": [],
        "enabled": true,
        "media_references": { "DEFAULT_MEDIA": media },
        "active_media_reference_key": "DEFAULT_MEDIA",
    })
}

/// Where the footage is: its file, a sequence of numbered stills, or not known.
fn reference(footage: &Footage, rate: f64) -> Value {
    const KEPT: &AsciiSet = &NON_ALPHANUMERIC.remove(b'/').remove(b'.').remove(b'-').remove(b'_').remove(b'~');
    let Some(file) = footage.origin.as_ref().filter(|origin| origin.footage).map(|origin| origin.file.as_str()) else {
        return json!({ "OTIO_SCHEMA": "MissingReference.1" });
    };
    let url = |path: &str| {
        let path = path.replace('\\', "/");
        let root = if path.starts_with('/') { "file://" } else { "" };
        format!("{root}{}", utf8_percent_encode(&path, KEPT))
    };
    match numbered(file) {
        None => json!({ "OTIO_SCHEMA": "ExternalReference.1", "target_url": url(file) }),
        Some((before, digits, after, first)) => {
            let (folder, prefix) = before.rsplit_once('/').map_or(("", before), |(folder, prefix)| (folder, prefix));
            let folder = if folder.is_empty() { String::new() } else { format!("{}/", url(folder)) };
            json!({
                "OTIO_SCHEMA": "ImageSequenceReference.1",
                "target_url_base": folder,
                "name_prefix": prefix,
                "name_suffix": after,
                "start_frame": first,
                "frame_step": 1,
                "rate": rate,
                "frame_zero_padding": digits,
                "missing_frame_policy": "error",
            })
        }
    }
}

/// A sequence of stills by its name, such as `"A/shot.####.exr 100-120"`: what stands before the number, how many digits
/// that has, what stands behind it, and the first.
fn numbered(file: &str) -> Option<(&str, usize, &str, u64)> {
    let (pattern, numbers) = file.rsplit_once(' ')?;
    let first = numbers.split_once('-')?.0.parse().ok()?;
    let start = pattern.find('#')?;
    let digits = pattern[start..].chars().take_while(|each| *each == '#').count();
    Some((&pattern[..start], digits, &pattern[start + digits..], first))
}

/// What each frame takes of a source.
fn placements(package: &Package, at: usize) -> Vec<Value> {
    let typed = |value: &Exact| value.to_short_decimal(6);
    let placement = |packaged: &Packaged| {
        let (plan, placed) = (&packaged.conversion.plan, &packaged.conversion.placed);
        let window = plan.window.as_ref().map(|window| {
            [&window.x, &window.y, &window.size.width, &window.size.height]
                .map(|side| side.clone().reduced().to_string())
        });
        let dial = &plan.dial;
        json!({
            "frame": package.frame_of(packaged).name.as_str(),
            "method": placed.method.word(),
            "zoom": typed(placed.zoom.value()),
            "shift": [typed(placed.shift_x.value()), typed(placed.shift_y.value())],
            "window": window,
            "native_percent": [typed(&dial.native_percent.x), typed(&dial.native_percent.y)],
            "centre_offset": [typed(&dial.cut.centre_offset.x), typed(&dial.cut.centre_offset.y)],
        })
    };
    package.of_source(at).iter().map(placement).collect()
}

/// How a source is stored.
fn geometry(footage: &Footage) -> Value {
    let (raster, insets) = (footage.geometry.raster(), footage.geometry.insets());
    json!({
        "raster": [raster.width(), raster.height()],
        "pixel_aspect": footage.geometry.pixel_aspect().text(),
        "squeeze": footage.geometry.squeeze().text(),
        "active": [insets.left, insets.top, insets.right, insets.bottom],
        "rotation": footage.geometry.rotation().degrees(),
        "rate": footage.rate.as_ref().map(Written::text),
        "scan": footage.scan.map(Scan::word),
        "signal_range": footage.signal_range.map(SignalRange::word),
        "projection": footage.written(Aspect::Projection),
    })
}
