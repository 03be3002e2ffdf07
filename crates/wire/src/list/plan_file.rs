//! Plans of other programs as lists: OpenTimelineIO timelines and ASC Framing Decision Lists. Their clips
//! and canvases become rows, their templates frames. Field names are those of the public specifications.

use serde_json::Value;

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Deliverable, FrameSpec, Name, Note, Scan, SignalRange};
use ratiomet_core::{DisplayRatio, Exact, PixelAspect, Raster, Step};

use super::{COLUMNS, ListCells, MOST_ROWS};

/// What a plan holds.
pub(super) struct PlanFile {
    pub remarks: Vec<String>,
    pub rows: Vec<ListCells>,
    pub frames: Vec<Deliverable>,
}

/// Reads a text that is a plan; none for any other text.
///
/// # Errors
/// A sentence, for JSON that is damaged or that is no plan.
pub(super) fn read(text: &str) -> Option<Result<PlanFile, String>> {
    let text = text.trim_start_matches('\u{feff}').trim_start();
    if !text.starts_with('{') {
        return None;
    }
    Some(match serde_json::from_str::<Value>(text) {
        Err(error) => Err(format!(
            "a list, an OpenTimelineIO file or a Framing Decision List; this begins like the latter two, but is no JSON: {error}"
        )),
        Ok(json) if json["OTIO_SCHEMA"].is_string() => timeline(&json),
        Ok(json) if json["contexts"].is_array() => framing_decisions(&json),
        Ok(_) => Err("a list, an OpenTimelineIO file or a Framing Decision List; this JSON is none of them".to_owned()),
    })
}

fn text(value: &Value) -> String {
    match value {
        Value::String(text) => text.clone(),
        Value::Number(number) => number.to_string(),
        _ => String::new(),
    }
}

/// A length in whole pixels, and whether it is one.
fn pixels(value: &Value) -> Option<(u32, bool)> {
    let real = value.as_f64().filter(|real| (0.0..=70_000.0).contains(real))?;
    let whole = (real + 1e-6).floor();
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "from 0 to 70,000")]
    let side = whole as u32;
    Some((side, (real - whole).abs() < 1e-3))
}

fn timeline(json: &Value) -> Result<PlanFile, String> {
    let mut plan = PlanFile { remarks: Vec::new(), rows: Vec::new(), frames: Vec::new() };
    let mut seen = std::collections::HashSet::new();
    let mut unsized_clips = 0;
    let mut left: Vec<&Value> = vec![json];
    while let Some(object) = left.pop() {
        let schema = object["OTIO_SCHEMA"].as_str().unwrap_or_default();
        if schema.starts_with("Clip.") {
            let (cells, sized) = clip(object);
            unsized_clips += usize::from(!sized);
            // The same footage is cut into many clips.
            if seen.insert(cells.clone()) {
                if plan.rows.len() >= MOST_ROWS {
                    return Err(format!("at most {MOST_ROWS} clips"));
                }
                let line = u32::try_from(plan.rows.len() + 1).unwrap_or(u32::MAX);
                plan.rows.push(ListCells { line, cells });
            }
            continue;
        }
        // In the order of the file: what is put on the pile last comes first.
        left.extend(object["children"].as_array().into_iter().flatten().rev());
        left.extend([&object["tracks"], &object["clips"]].into_iter().filter(|part| part.is_object()));
    }
    if plan.rows.is_empty() {
        return Err("an OpenTimelineIO file with clips; this one has none".to_owned());
    }
    if unsized_clips > 0 {
        plan.remarks.push(format!(
            "{unsized_clips} clips do not say their size in pixels (available_image_bounds): type it, or read their files."
        ));
    }
    for frame in json["metadata"]["ratiomet"]["frames"].as_array().into_iter().flatten() {
        let raster = [pixels(&frame["raster"][0]), pixels(&frame["raster"][1])];
        let ratio = frame["picture_ratio"].as_str().map(str::to_owned);
        if let [Some((width, _)), Some((height, _))] = raster {
            plan.frames.extend(deliverable(
                &text(&frame["name"]),
                (width, height),
                &text(&frame["pixel_aspect"]),
                ratio,
            ));
        }
    }
    Ok(plan)
}

fn clip(clip: &Value) -> (Vec<String>, bool) {
    let own = &clip["metadata"]["ratiomet"]["source"];
    let references = &clip["media_references"];
    let key = clip["active_media_reference_key"].as_str().unwrap_or("DEFAULT_MEDIA");
    let media = if references.is_object() { &references[key] } else { &clip["media_reference"] };
    let mut cells = vec![String::new(); COLUMNS.len()];
    cells[0] = super::neutral(&text(&clip["name"]));
    if own.is_object() {
        cells[1] = format!("{}x{}", text(&own["raster"][0]), text(&own["raster"][1]));
        cells[2] = text(&own["pixel_aspect"]);
        cells[3] = text(&own["squeeze"]);
        cells[4] = (0..4).map(|side| text(&own["active"][side])).collect::<Vec<_>>().join("/");
        for (at, field) in [(5, "rotation"), (6, "rate"), (7, "scan"), (8, "signal_range")] {
            cells[at] = text(&own[field]);
        }
        return (cells, true);
    }
    let bounds = &media["available_image_bounds"];
    let side = |axis: &str| Some(bounds["max"][axis].as_f64()? - bounds["min"][axis].as_f64()?);
    // Bounds may be in any unit; only whole pixels of some number are taken for pixels.
    let size = side("x").zip(side("y")).filter(|(width, height)| {
        [width, height].iter().all(|side| (64.0..=65_536.0).contains(*side) && side.fract() == 0.0)
    });
    if let Some((width, height)) = size {
        cells[1] = format!("{width}x{height}");
    }
    let rates = [&clip["source_range"]["start_time"]["rate"], &media["available_range"]["start_time"]["rate"]];
    if let Some(rate) = rates.into_iter().rev().find_map(Value::as_f64).filter(|rate| *rate > 0.0) {
        cells[6] = format!("{rate:.3}").trim_end_matches('0').trim_end_matches('.').to_owned();
    }
    cells[9] = super::neutral(&text(&media["target_url"]));
    (cells, size.is_some())
}

fn framing_decisions(json: &Value) -> Result<PlanFile, String> {
    let mut plan = PlanFile { remarks: Vec::new(), rows: Vec::new(), frames: Vec::new() };
    let contexts = json["contexts"].as_array().into_iter().flatten();
    let mut decisions = 0;
    for canvas in contexts.flat_map(|context| context["canvases"].as_array().into_iter().flatten()) {
        if plan.rows.len() >= MOST_ROWS {
            return Err(format!("at most {MOST_ROWS} canvases"));
        }
        decisions += canvas["framing_decisions"].as_array().map_or(0, Vec::len);
        let line = u32::try_from(plan.rows.len() + 1).unwrap_or(u32::MAX);
        plan.rows.push(ListCells { line, cells: self::canvas(canvas, &mut plan.remarks) });
    }
    if plan.rows.is_empty() {
        return Err("a Framing Decision List with canvases; this one has none".to_owned());
    }
    if decisions > 0 {
        plan.remarks.push(format!("{decisions} framing decisions stand in the list; framings are planned anew here."));
    }
    for template in json["canvas_templates"].as_array().into_iter().flatten() {
        plan.frames.extend(self::template(template));
    }
    Ok(plan)
}

fn canvas(canvas: &Value, remarks: &mut Vec<String>) -> Vec<String> {
    let mut cells = vec![String::new(); COLUMNS.len()];
    let name = [&canvas["label"], &canvas["id"]].into_iter().map(text).find(|name| !name.is_empty());
    let name = name.unwrap_or_default();
    let side = |size: &Value, axis: &str| pixels(&size[axis]);
    let whole = (side(&canvas["dimensions"], "width"), side(&canvas["dimensions"], "height"));
    if let (Some((width, _)), Some((height, _))) = whole {
        cells[1] = format!("{width}x{height}");
        let effective = &canvas["effective_dimensions"];
        let anchor = &canvas["effective_anchor_point"];
        if let (Some((across, a)), Some((down, b))) = (side(effective, "width"), side(effective, "height")) {
            let (left, c) = side(anchor, "x").unwrap_or((0, true));
            let (top, d) = side(anchor, "y").unwrap_or((0, true));
            let right = width.saturating_sub(across).saturating_sub(left);
            let bottom = height.saturating_sub(down).saturating_sub(top);
            cells[4] = format!("{left}/{top}/{right}/{bottom}");
            if !(a && b && c && d) {
                remarks.push(format!(
                    "The effective dimensions of {name} cut through pixels; they were widened to whole ones."
                ));
            }
        }
    }
    cells[0] = super::neutral(&name);
    if let Some(squeeze) = canvas["anamorphic_squeeze"].as_f64() {
        cells[3] = format!("{squeeze:.6}").trim_end_matches('0').trim_end_matches('.').to_owned();
    }
    cells
}

fn template(template: &Value) -> Option<Deliverable> {
    let name = [&template["label"], &template["id"]].into_iter().map(text).find(|name| !name.is_empty())?;
    let side = |size: &Value| Some((pixels(&size["width"])?.0, pixels(&size["height"])?.0));
    let target = side(&template["target_dimensions"])?;
    let most = side(&template["maximum_dimensions"]).filter(|_| template["pad_to_maximum"] == Value::Bool(true));
    let squeeze = template["target_anamorphic_squeeze"].as_f64().filter(|squeeze| *squeeze > 0.0).unwrap_or(1.0);
    let aspect = format!("{squeeze:.6}").trim_end_matches('0').trim_end_matches('.').to_owned();
    let ratio = most.filter(|most| *most != target).and_then(|_| {
        let across = Exact::whole(target.0) * PixelAspect::parse(&aspect).ok()?.value();
        Some((across / Exact::whole(target.1)).reduced().to_string())
    });
    deliverable(&name, most.unwrap_or(target), &aspect, ratio)
}

fn deliverable(name: &str, (width, height): (u32, u32), aspect: &str, ratio: Option<String>) -> Option<Deliverable> {
    let aspect = if aspect.is_empty() { "1" } else { aspect };
    let aspect = Written::parse(aspect, PixelAspect::parse).ok()?;
    let ratio = ratio.map(|ratio| Written::parse(&ratio, DisplayRatio::parse)).transpose().ok()?;
    let geometry = FrameSpec::new(Raster::new(width, height).ok()?, aspect, ratio, Step::Two).ok()?;
    Some(Deliverable {
        name: Name::new(name)?,
        note: Note::default(),
        geometry,
        rate: None,
        scan: Scan::Progressive,
        signal_range: SignalRange::Narrow,
        safe_areas: Vec::new(),
        guides: Vec::new(),
        through: None,
        method: None,
    })
}
