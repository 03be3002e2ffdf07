//! ASC Framing Decision List, version 2.0: sources as canvases, frames as intents, windows as decisions,
//! and a template for each frame. Field names are those of the public specification.

use std::collections::HashMap;

use ratiomet_core::Exact;
use serde_json::{Value, json};
use sha2::{Digest, Sha256};

use crate::package::{Added, Package};

/// Letters, digits and underlines, at most 32, each once: what an identifier may be.
struct Ids(HashMap<String, usize>);

impl Ids {
    fn of(&mut self, name: &str, longest: usize) -> String {
        let plain: String = crate::names::safe(name)
            .chars()
            .map(|each| if each.is_ascii_alphanumeric() { each } else { '_' })
            .collect();
        let short: String = plain.chars().take(longest.saturating_sub(4)).collect();
        let count = self.0.entry(short.clone()).or_insert(0);
        *count += 1;
        if *count == 1 { short } else { format!("{short}_{count}") }
    }
}

/// Sixteen bytes of what is handed over, as a UUID of version 8 (RFC 9562): the same package has the same.
fn uuid(package: &Package) -> String {
    let mut hash = Sha256::new();
    hash.update(package.project.as_bytes());
    hash.update(crate::numbers::conversions_csv(package));
    let mut bytes = [0; 16];
    bytes.copy_from_slice(&hash.finalize()[..16]);
    bytes[6] = bytes[6] & 0x0F | 0x80;
    bytes[8] = bytes[8] & 0x3F | 0x80;
    let hex: String = bytes.iter().map(|byte| format!("{byte:02X}")).collect();
    format!("{}-{}-{}-{}-{}", &hex[..8], &hex[8..12], &hex[12..16], &hex[16..20], &hex[20..])
}

/// Width to height in whole numbers, as small as they are exact, or in thousandths.
fn whole_ratio(ratio: &Exact) -> (i64, i64) {
    match ratio.clone().reduced().short_terms() {
        Some((above, below)) if above < 100_000 && below < 100_000 => (above, below),
        _ => ((ratio * Exact::whole(1000) + Exact::fraction(1, 2)).ceil_whole() - 1, 1000),
    }
}

/// A list of somebody else, with our intents, templates, and decisions for each canvas that has the name of
/// a source. All else in it stays as it was; what has the same `id` already is left alone.
///
/// # Errors
/// A sentence, for what is no Framing Decision List.
pub fn add_to(package: &Package, text: &str) -> Result<Added, String> {
    let mut list: Value = serde_json::from_str(text).map_err(|error| format!("this is no JSON: {error}"))?;
    let ours = list_of(package);
    let mut added = Added::default();
    let Some(contexts) = list["contexts"].as_array_mut() else {
        return Err("this is no Framing Decision List".to_owned());
    };
    let canvases = contexts.iter_mut().filter_map(|context| context["canvases"].as_array_mut()).flatten();
    for canvas in canvases {
        let named = |name: &str| canvas["label"] == name || canvas["id"] == name;
        let Some(at) = package.sources.iter().position(|(_, footage)| named(footage.name.as_str())) else { continue };
        let id = canvas["id"].as_str().unwrap_or_default().to_owned();
        let mut decisions = ours["contexts"][0]["canvases"][at]["framing_decisions"].clone();
        for decision in decisions.as_array_mut().into_iter().flatten() {
            let intent = decision["framing_intent_id"].as_str().unwrap_or_default();
            decision["id"] = json!(format!("{id}-{intent}"));
        }
        add_new(&mut canvas["framing_decisions"], &decisions);
        added.found(at);
    }
    for part in ["framing_intents", "canvas_templates"] {
        add_new(&mut list[part], &ours[part]);
    }
    added.settle(package, &list)
}

/// Adds to a list what it has not got.
fn add_new(list: &mut Value, more: &Value) {
    if !list.is_array() {
        *list = json!([]);
    }
    if let Some(list) = list.as_array_mut() {
        for each in more.as_array().into_iter().flatten() {
            if !list.iter().any(|known| known["id"] == each["id"]) {
                list.push(each.clone());
            }
        }
    }
}

/// The list as JSON.
pub fn write(package: &Package) -> Vec<u8> {
    serde_json::to_vec_pretty(&list_of(package)).unwrap_or_default()
}

fn list_of(package: &Package) -> Value {
    let (mut intent_ids, mut canvas_ids) = (Ids(HashMap::new()), Ids(HashMap::new()));
    let intents: Vec<String> = package.frames.iter().map(|(_, frame)| intent_ids.of(frame.name.as_str(), 32)).collect();
    let size = |width: f64, height: f64| json!({ "width": width, "height": height });
    let framing_intents: Vec<Value> = package
        .frames
        .iter()
        .zip(&intents)
        .map(|((_, frame), id)| {
            let area = frame.geometry.frame().picture_area();
            let ratio = Exact::whole(area.width) * frame.geometry.frame().pixel_aspect().value() / Exact::whole(area.height);
            let (width, height) = whole_ratio(&ratio);
            json!({ "id": id, "label": frame.name.as_str(), "aspect_ratio": { "width": width, "height": height }, "protection": 0.0 })
        })
        .collect();
    let canvases: Vec<Value> = package
        .sources
        .iter()
        .enumerate()
        .map(|(at, (_, footage))| {
            let id = canvas_ids.of(footage.name.as_str(), 32);
            let raster = footage.geometry.raster();
            let active = footage.geometry.source().active();
            let squeeze = footage.geometry.pixel_aspect().value().value() * footage.geometry.squeeze().value().value();
            let decisions: Vec<Value> = package
                .conversions
                .iter()
                .filter(|conversion| conversion.source == at)
                .filter_map(|conversion| {
                    let window = conversion.crossing.plan.window.as_ref()?;
                    let intent = &intents[conversion.frame];
                    Some(json!({
                        "id": format!("{id}-{intent}"),
                        "label": package.frame_of(conversion).name.as_str(),
                        "framing_intent_id": intent,
                        "dimensions": size(window.size.width.to_f64(), window.size.height.to_f64()),
                        "anchor_point": { "x": window.x.to_f64(), "y": window.y.to_f64() },
                    }))
                })
                .collect();
            json!({
                "id": id,
                "label": footage.name.as_str(),
                "source_canvas_id": id,
                "dimensions": { "width": raster.width(), "height": raster.height() },
                "effective_dimensions": { "width": active.size.width.to_f64(), "height": active.size.height.to_f64() },
                "effective_anchor_point": { "x": active.x.to_f64(), "y": active.y.to_f64() },
                "anamorphic_squeeze": squeeze.to_f64(),
                "framing_decisions": decisions,
            })
        })
        .collect();
    let templates: Vec<Value> = package
        .frames
        .iter()
        .zip(&intents)
        .map(|((_, frame), id)| {
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
        })
        .collect();
    json!({
        "uuid": uuid(package),
        "version": { "major": 2, "minor": 0 },
        "fdl_creator": "Ratiomet",
        "default_framing_intent": intents.first(),
        "framing_intents": framing_intents,
        "contexts": [{ "label": package.project, "context_creator": "Ratiomet", "canvases": canvases }],
        "canvas_templates": templates,
    })
}
