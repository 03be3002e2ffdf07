//! OpenTimelineIO: a clip for each source, with what each frame takes of it in metadata of our own
//! (namespace `ratiomet`, described in docs/FORMATS.md).

use ratiomet_core::project::Footage;
use serde_json::{Value, json};

use crate::numbers::typed;
use crate::package::{Added, Package};

fn point(x: f64, y: f64) -> Value {
    json!({ "OTIO_SCHEMA": "V2d.1", "x": x, "y": y })
}

fn time(value: f64, rate: f64) -> Value {
    json!({ "OTIO_SCHEMA": "RationalTime.1", "rate": rate, "value": value })
}

/// A timeline of somebody else, with what we know added to each clip that has the name of a source. All
/// else in it stays as it was.
///
/// # Errors
/// A sentence, for what is no timeline.
pub fn add_to(package: &Package, text: &str) -> Result<Added, String> {
    let mut timeline: Value = serde_json::from_str(text).map_err(|error| format!("this is no JSON: {error}"))?;
    if !timeline["OTIO_SCHEMA"].is_string() {
        return Err("this is no OpenTimelineIO file".to_owned());
    }
    let mut added = Added::default();
    add_to_clips(package, &mut timeline, &mut added);
    let ours = metadata(package);
    match &mut timeline["metadata"] {
        Value::Object(fields) => {
            fields.insert("ratiomet".to_owned(), ours);
        }
        other => *other = json!({ "ratiomet": ours }),
    }
    added.settle(package, &timeline)
}

fn add_to_clips(package: &Package, part: &mut Value, added: &mut Added) {
    if part["OTIO_SCHEMA"].as_str().is_some_and(|schema| schema.starts_with("Clip.")) {
        let place = package.sources.iter().position(|(_, footage)| part["name"] == footage.name.as_str());
        if let Some((at, (_, footage))) = place.and_then(|at| Some((at, package.sources.get(at)?))) {
            let ours = json!({ "source": geometry(footage), "placements": placements(package, at) });
            match &mut part["metadata"] {
                Value::Object(fields) => {
                    fields.insert("ratiomet".to_owned(), ours);
                }
                other => *other = json!({ "ratiomet": ours }),
            }
            added.found(at);
        }
        return;
    }
    match part {
        Value::Object(fields) => {
            for (name, inner) in fields.iter_mut() {
                if name == "children" || name == "tracks" {
                    add_to_clips(package, inner, added);
                }
            }
        }
        Value::Array(parts) => parts.iter_mut().for_each(|inner| add_to_clips(package, inner, added)),
        _ => {}
    }
}

fn metadata(package: &Package) -> Value {
    let frames = package.frames.iter().map(|(_, frame)| {
        let geometry = frame.geometry.frame();
        json!({
            "name": frame.name.as_str(),
            "raster": [geometry.raster().width(), geometry.raster().height()],
            "pixel_aspect": frame.geometry.pixel_aspect().text(),
            "picture_ratio": frame.geometry.picture_ratio().map(ratiomet_core::fraction::Written::text),
            "rate": frame.rate.as_ref().map(ratiomet_core::fraction::Written::text),
        })
    });
    json!({ "version": 1, "day": package.day, "frames": frames.collect::<Vec<_>>() })
}

/// The timeline as JSON. A source of which no rate is known counts 24 a second.
pub fn write(package: &Package) -> Vec<u8> {
    let clips: Vec<Value> =
        package.sources.iter().enumerate().map(|(at, (_, footage))| clip(package, at, footage)).collect();
    let track = json!({
        "OTIO_SCHEMA": "Track.1", "metadata": {}, "name": "Sources", "source_range": null, "effects": [], "markers": [],
        "enabled": true, "children": clips, "kind": "Video",
    });
    let stack = json!({
        "OTIO_SCHEMA": "Stack.1", "metadata": {}, "name": "tracks", "source_range": null, "effects": [], "markers": [],
        "enabled": true, "children": [track],
    });
    let timeline = json!({
        "OTIO_SCHEMA": "Timeline.1",
        "metadata": { "ratiomet": metadata(package) },
        "name": package.project,
        "global_start_time": null,
        "tracks": stack,
    });
    serde_json::to_vec_pretty(&timeline).unwrap_or_default()
}

fn clip(package: &Package, at: usize, footage: &Footage) -> Value {
    let rate = footage.rate.as_ref().map_or(24.0, |rate| rate.value().value().to_f64());
    let raster = footage.geometry.raster();
    let (width, height) = (f64::from(raster.width()), f64::from(raster.height()));
    let range = json!({ "OTIO_SCHEMA": "TimeRange.1", "duration": time(1.0, rate), "start_time": time(0.0, rate) });
    json!({
        "OTIO_SCHEMA": "Clip.2",
        "metadata": { "ratiomet": { "source": geometry(footage), "placements": placements(package, at) } },
        "name": footage.name.as_str(),
        "source_range": range,
        "effects": [],
        "markers": [],
        "enabled": true,
        "media_references": {
            "DEFAULT_MEDIA": {
                "OTIO_SCHEMA": "MissingReference.1",
                "metadata": {},
                "name": footage.name.as_str(),
                "available_range": null,
                "available_image_bounds": {
                    "OTIO_SCHEMA": "Box2d.1",
                    "min": point(0.0, 0.0),
                    "max": point(width, height),
                },
            }
        },
        "active_media_reference_key": "DEFAULT_MEDIA",
    })
}

/// What each frame takes of a source.
fn placements(package: &Package, at: usize) -> Vec<Value> {
    package
        .conversions
        .iter()
        .filter(|conversion| conversion.source == at)
        .map(|conversion| {
            let (plan, placed) = (&conversion.crossing.plan, &conversion.crossing.placed);
            let window = plan.window.as_ref().map(|window| {
                [&window.x, &window.y, &window.size.width, &window.size.height]
                    .map(|side| side.clone().reduced().to_string())
            });
            json!({
                "frame": package.frame_of(conversion).name.as_str(),
                "method": placed.method.word(),
                "zoom": typed(placed.zoom.value()),
                "shift": [typed(placed.shift_x.value()), typed(placed.shift_y.value())],
                "window": window,
                "native_percent": [typed(&plan.dial.native_percent.x), typed(&plan.dial.native_percent.y)],
                "centre_offset": [typed(&plan.dial.centre_offset.x), typed(&plan.dial.centre_offset.y)],
            })
        })
        .collect()
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
        "rate": footage.rate.as_ref().map(ratiomet_core::fraction::Written::text),
        "scan": footage.scan.word(),
        "signal_range": footage.signal_range.word(),
    })
}
