//! Answers in a sentence, out of the results of the calculations.

use serde_json::Value;

/// A number with at most so many decimals.
fn short(value: &Value, places: usize) -> String {
    let text = format!("{:.places$}", value.as_f64().unwrap_or_default());
    if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}

fn exact(value: &Value, places: usize) -> String {
    short(&value["value"], places)
}

fn percent(value: &Value) -> String {
    short(&Value::from(value["value"].as_f64().unwrap_or_default() * 100.0), 1)
}

fn size(pair: &Value) -> String {
    format!("{}×{}", pair[0], pair[1])
}

/// The answer to a request in a sentence.
pub fn of(request: &Value, result: &Value) -> String {
    match request["kind"].as_str().unwrap_or_default() {
        "extraction" => extraction(request, result),
        "desqueeze" => desqueeze(request, result),
        "scale" => scale(result),
        "cadence" => cadence(result),
        "sphere_frame" => format!(
            "{} pixels, {} for each degree{}.",
            size(&result["frame"]),
            exact(&result["pixels_per_degree"]["x"], 3),
            levels(&result["levels"]).map(|levels| format!("; {levels}")).unwrap_or_default()
        ),
        "sphere_view" => format!(
            "{}° high; in the middle {} view pixels for each pixel of the sphere: {}; native from a sphere {} wide.",
            short(&result["vertical_fov"], 2),
            short(&result["centre_scale"], 3),
            if result["centre_scale"].as_f64() > Some(1.0) { "it is enlarged" } else { "no pixel is enlarged" },
            short(&result["width_for_native"], 0)
        ),
        "levels" => levels(result).map_or_else(|| "No level takes it.".to_owned(), |levels| format!("{levels}.")),
        "viewing" => viewing(result),
        _ => weight(result),
    }
}

fn extraction(request: &Value, result: &Value) -> String {
    let exactly = match (&result["exact"][0]["value"], &request["container"][0]) {
        (width, container) if width.as_f64() == container.as_f64() => {
            format!("exactly {} lines", exact(&result["exact"][1], 3))
        }
        _ => format!("exactly {} pixels wide", exact(&result["exact"][0], 3)),
    };
    let kept = match &result["kept"] {
        Value::Null => String::new(),
        kept => format!("; keeps {} %", percent(kept)),
    };
    format!("{}, {exactly}, shows {}{kept}.", size(&result["frame"]), exact(&result["ratio"], 4))
}

fn desqueeze(request: &Value, result: &Value) -> String {
    let shows = format!(
        "Shows {}:1. Square as {} with all lines, or {} with all columns",
        exact(&result["ratio"], 3),
        size(&result["widened"]["frame"]),
        size(&result["flattened"]["frame"])
    );
    let target = &result["target"];
    if target.is_null() {
        return format!("{shows}.");
    }
    format!(
        "{shows}. {} keeps {} % of it: a window of {}×{} stored pixels, square as {} or {}.",
        request["target_ratio"].as_str().unwrap_or_default(),
        percent(&target["kept"]),
        exact(&target["window"]["width"], 2),
        exact(&target["window"]["height"], 2),
        size(&target["widened"]),
        size(&target["flattened"])
    )
}

fn scale(result: &Value) -> String {
    let factor = if result["uniform"] == true {
        format!("{}x", exact(&result["x"], 4))
    } else {
        format!("{}x across and {}x up and down", exact(&result["x"], 4), exact(&result["y"], 4))
    };
    let whole = &result["whole"];
    let enlarger = match whole["factor"].as_i64() {
        Some(1) | None => String::new(),
        Some(factor) if whole["residual"]["exact"] == "1" => format!("; a {factor}x enlarger does it exactly"),
        Some(factor) => format!("; a {factor}x enlarger, then {} %", percent(&whole["residual"])),
    };
    format!("{factor}, {}x the area{enlarger}.", exact(&result["area"], 4))
}

fn cadence(result: &Value) -> String {
    if let Some(relation) = result["relation"].as_str() {
        let cycle: Vec<_> = result["cycle"].as_array().into_iter().flatten().map(Value::to_string).collect();
        return match relation {
            "same" => "Frame for frame.".to_owned(),
            "drop" => format!("Every {} frame is shown.", ordinal(&result["ratio"])),
            "repeat" => format!("Each frame is shown {} times.", exact(&result["ratio"], 0)),
            _ if cycle.is_empty() => "Unevenly, in a pattern longer than a thousand frames.".to_owned(),
            _ => format!("Unevenly: frames appear {} times in turn.", cycle.join(":")),
        };
    }
    format!(
        "At {} % of the speed; it lasts {} times as long.",
        percent(&result["speed"]),
        exact(&result["duration"], 4)
    )
}

fn ordinal(ratio: &Value) -> String {
    let every = (1.0 / ratio["value"].as_f64().unwrap_or(1.0)).round();
    match every {
        2.0 => "2nd".to_owned(),
        3.0 => "3rd".to_owned(),
        every => format!("{every}th"),
    }
}

fn levels(levels: &Value) -> Option<String> {
    let named = |name: &str, level: &Value| level.as_str().map(|level| format!("{name} level {level}"));
    let both: Vec<_> =
        [named("H.264", &levels["h264"]), named("H.265", &levels["h265"])].into_iter().flatten().collect();
    (!both.is_empty()).then(|| both.join(", "))
}

fn viewing(result: &Value) -> String {
    let bars = |edges: &Value, whose: &str| {
        let pair = |a: &str, b: &str, where_: &str| {
            let (one, other) = (edges[a]["value"].as_f64()?, edges[b]["value"].as_f64()?);
            (one + other > 0.0).then(|| format!("{whose} bars of {} px {where_}", exact(&edges[a], 1)))
        };
        [pair("top", "bottom", "above and below"), pair("left", "right", "at the sides")]
    };
    let all: Vec<_> = [bars(&result["player_bars"], "the player's"), bars(&result["baked_bars"], "baked")]
        .into_iter()
        .flatten()
        .flatten()
        .collect();
    let bars = if all.is_empty() { "no bars".to_owned() } else { all.join(", ") };
    let boxed = if result["double_boxed"] == true { ": boxed on all four sides" } else { "" };
    format!("Picture on {} % of the screen; {bars}{boxed}.", percent(&result["picture_share"]))
}

fn weight(result: &Value) -> String {
    let bytes = result["bytes"].as_f64().unwrap_or_default();
    let (value, unit) = if bytes >= 1e9 { (bytes / 1e9, "GB") } else { (bytes / 1e6, "MB") };
    format!(
        "{} {unit} ({} bytes); {} bits for each pixel.",
        short(&Value::from(value), 2),
        result["bytes"],
        exact(&result["bits_per_pixel"], 4)
    )
}
