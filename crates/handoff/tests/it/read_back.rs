//! What is written is read again as the same footage and the same frames.

use proptest::prelude::*;
use ratiomet_core::Exact;
use ratiomet_core::project::{Aspect, Edit, Name, Pair, Project, ProjectSettings};
use ratiomet_exchange::list::{ListReading, ListRequest};
use ratiomet_handoff::Format;
use ratiomet_wire::read::Reader;
use serde_json::{Value, json};

use crate::packages::{package, small, written};

fn read(text: &str) -> Result<ListReading, String> {
    let request = json!({ "text": text }).to_string();
    let list = Reader::request::<ListRequest>(request.as_bytes()).map_err(|problem| problem.detail.clone())?;
    list.understand()
}

fn values(reading: &ListReading) -> Vec<Value> {
    reading.rows.iter().map(|row| serde_json::to_value(&row.values).expect("JSON")).collect()
}

/// What an empty project becomes when a list is brought into it, doubtful rows too.
fn brought(text: &str) -> Project {
    let reading = read(text).expect("a list");
    let edit = Edit::Bring {
        sources: reading.rows.iter().filter_map(|row| row.source()).collect(),
        frames: reading.frames.iter().map(|frame| frame.0.clone()).collect(),
        framings: reading.framings.iter().map(|framing| framing.0.clone()).collect(),
        update: false,
    };
    let empty = Project::new(ProjectSettings::named(Name::new("From set").expect("a name")));
    let changes = empty.apply(&edit).expect("sound");
    empty.with(&changes)
}

/// Whether every decision of a list has the ratio of its intent, and its template the room that it pads to.
fn decisions_have_the_shape_of_their_intents(list: &Value) -> Result<(), String> {
    let of =
        |all: &Value, id: &Value| all.as_array().and_then(|all| all.iter().find(|each| each["id"] == *id)).cloned();
    let ratio = |size: &Value| size["width"].as_f64().unwrap_or(0.0) / size["height"].as_f64().unwrap_or(1.0);
    for context in list["contexts"].as_array().into_iter().flatten() {
        for canvas in context["canvases"].as_array().into_iter().flatten() {
            let rotated = canvas["_ratiomet_source"].as_str().unwrap_or_default().contains("\"rotation\":90")
                || canvas["_ratiomet_source"].as_str().unwrap_or_default().contains("\"rotation\":270");
            for decision in canvas["framing_decisions"].as_array().into_iter().flatten() {
                let id = &decision["framing_intent_id"];
                let intent = of(&list["framing_intents"], id).ok_or("a decision without its intent")?;
                let template = of(&list["canvas_templates"], id).ok_or("an intent without its template")?;
                let seen = ratio(&decision["dimensions"]) * canvas["anamorphic_squeeze"].as_f64().unwrap_or(1.0);
                let seen = if rotated { 1.0 / seen } else { seen };
                let meant = ratio(&intent["aspect_ratio"]);
                if (seen / meant - 1.0).abs() > 0.002 {
                    return Err(format!("{} is {seen}, its intent {meant}", decision["id"]));
                }
                let (target, most) = (&template["target_dimensions"], &template["maximum_dimensions"]);
                if most.is_object() && (template["pad_to_maximum"] != true || ratio(target) == ratio(most)) {
                    return Err(format!("{} does not pad", template["id"]));
                }
            }
        }
    }
    Ok(())
}

fn source() -> impl Strategy<Value = Value> {
    let inset = || 0_u32..40;
    (
        (100_u32..5000, 100_u32..5000),
        prop::sample::select(&["1", "12:11", "16:11", "10:11"][..]),
        prop::sample::select(&["1", "1.33", "1.5", "1.8", "2"][..]),
        (inset(), inset(), inset(), inset()),
        prop::sample::select(&[0_u32, 90, 180, 270][..]),
        prop::sample::select(&["24", "25", "24000/1001", "30000/1001", "120"][..]),
        prop::sample::select(&["progressive", "interlaced"][..]),
        "[A-Za-z0-9 =+@'\"<&-]{1,20}",
    )
        .prop_filter_map("a name", |((width, height), aspect, squeeze, (l, t, r, b), turn, rate, scan, name)| {
            let name = name.trim().to_owned();
            (!name.is_empty()).then(|| {
                json!({
                    "name": name,
                    "geometry": {
                        "raster": [width, height], "pixel_aspect": aspect, "squeeze": squeeze, "rotation": turn,
                        "active": { "left": l, "top": t, "right": r, "bottom": b },
                    },
                    "rate": rate, "scan": scan, "signal_range": "narrow",
                })
            })
        })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    // A timeline of ours keeps everything that a source's geometry is made of.
    #[test]
    fn a_timeline_comes_back_as_the_same_sources(sources in prop::collection::vec(source(), 1..5)) {
        let mut project = small();
        project["sources"] = sources.iter().zip(1..).map(|(values, id)| json!({ "id": id, "values": values })).collect();
        project["conversions"] = json!([]);
        let package = package(&project);
        let text = String::from_utf8(written(&package, Format::Otio, "sources.otio")).expect("UTF-8");
        let back = values(&read(&text).expect("a list"));
        // The same footage twice is one source.
        let mut seen: Vec<&Value> = Vec::new();
        for source in &sources {
            if !seen.contains(&source) {
                seen.push(source);
            }
        }
        prop_assert_eq!(back.len(), seen.len());
        for (source, back) in seen.iter().zip(&back) {
            for field in ["name", "rate", "scan", "signal_range"] {
                prop_assert_eq!(&back[field], &source[field]);
            }
            prop_assert_eq!(&back["geometry"], &source["geometry"]);
        }
    }

    // A framing list of ours comes back as the same geometry: sources, frames, and what every frame shows of each.
    #[test]
    fn a_framing_list_comes_back_as_the_same_project(
        sources in prop::collection::vec(source(), 1..4),
        board in prop::sample::select(&["fit", "fill", "width", "native", "stretch"][..]),
        own in prop::option::of((prop::sample::select(&["fit", "fill", "height"][..]), 80_u32..300, -40_i32..40)),
    ) {
        let mut project = small();
        project["project"]["method"] = json!(board);
        project["sources"] = sources.iter().zip(1..).map(|(values, id)| {
            let mut values = values.clone();
            // A list goes by names.
            values["name"] = json!(format!("{} {id}", values["name"].as_str().expect("a name")));
            json!({ "id": id, "values": values })
        }).collect();
        project["conversions"] = match own {
            Some((method, zoom, shift)) => json!([{ "source": 1, "frame": 2, "own": {
                "method": method, "zoom": format!("{}.{:02}", zoom / 100, zoom % 100), "shift": [shift.to_string(), "3"],
            } }]),
            None => json!([]),
        };
        let package = package(&project);
        let text = String::from_utf8(written(&package, Format::Fdl, "framing.fdl")).expect("UTF-8");
        let list: Value = serde_json::from_str(&text).expect("JSON");
        let shaped = decisions_have_the_shape_of_their_intents(&list);
        prop_assert!(shaped.is_ok() || board == "stretch", "{:?}", shaped);
        let back = brought(&text);
        for packaged in package.conversions() {
            let Some(window) = &packaged.conversion.plan.window else { continue };
            let (source, frame) = (package.source_of(&packaged), package.frame_of(&packaged));
            let (pair, _) = back.board().find(|(pair, _)| {
                let names = |pair: &Pair| Some((&back.source(pair.source)?.name, &back.frame(pair.frame)?.name));
                names(pair) == Some((&source.name, &frame.name))
            }).expect("the same conversion");
            let conversion = back.conversion(pair).expect("a conversion");
            prop_assert_eq!(conversion.plan.window.as_ref(), Some(window), "{} in {}", source.name.as_str(), frame.name.as_str());
            prop_assert_eq!(&conversion.plan.image, &packaged.conversion.plan.image);
            prop_assert_eq!(&back.source(pair.source).expect("a source").geometry, &source.geometry);
            prop_assert_eq!(&back.frame(pair.frame).expect("a frame").geometry, &frame.geometry);
        }
        prop_assert_eq!(back.frames().len(), 3);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    // Damaged plans are rows or a refusal, never anything else.
    #[test]
    fn damaged_plans_settle(
        timeline in any::<bool>(),
        changes in prop::collection::vec((any::<prop::sample::Index>(), prop::sample::select(&b"0-9.eE{}[],:\"xn"[..])), 1..10),
        cut in prop::option::of(any::<prop::sample::Index>()),
    ) {
        let package = package(&small());
        let (format, path) = if timeline { (Format::Otio, "sources.otio") } else { (Format::Fdl, "framing.fdl") };
        let mut text = written(&package, format, path);
        for (at, byte) in &changes {
            let at = at.index(text.len());
            text[at] = *byte;
        }
        if let Some(cut) = cut {
            text.truncate(cut.index(text.len()));
        }
        match read(&String::from_utf8_lossy(&text)) {
            Ok(reading) => prop_assert!(reading.rows.iter().all(|row| row.values.is_some() || !row.remarks.is_empty())),
            Err(why) => prop_assert!(!why.is_empty()),
        }
    }
}

#[test]
fn a_masked_frame_comes_back_with_its_raster_and_its_picture() {
    let text = String::from_utf8(written(&package(&small()), Format::Fdl, "framing.fdl")).expect("UTF-8");
    let frames = serde_json::to_value(read(&text).expect("a list").frames).expect("JSON");
    assert_eq!(frames[1]["geometry"]["raster"], json!([640, 360]));
    assert_eq!(frames[1]["geometry"]["picture_ratio"], "2.00");
    assert_eq!(frames[0]["geometry"]["picture_ratio"], Value::Null);
}

#[test]
fn a_list_from_set_becomes_sources_frames_and_framings() {
    let canvas = |id: &str, of: &str, decisions: Value| {
        json!({
            "id": id, "label": format!("{id} open gate"), "source_canvas_id": of,
            "dimensions": { "width": 4448, "height": 3096 },
            "effective_dimensions": { "width": 4448, "height": 3000 }, "effective_anchor_point": { "x": 0, "y": 48 },
            "photosite_dimensions": { "width": 4448, "height": 3096 }, "physical_dimensions": { "width": 36.7, "height": 25.54 },
            "anamorphic_squeeze": 1.0, "framing_decisions": decisions,
        })
    };
    let scope = json!({
        "id": "c1-i1", "label": "2.39", "framing_intent_id": "i1",
        "dimensions": { "width": 4004.0, "height": 1676.0 }, "anchor_point": { "x": 222.0, "y": 710.0 },
        "protection_dimensions": { "width": 4448.0, "height": 1856.0 }, "protection_anchor_point": { "x": 0.0, "y": 620.0 },
    });
    let unknown = json!({ "id": "c1-i9", "framing_intent_id": "i9", "dimensions": { "width": 10, "height": 10 } });
    let list = json!({
        "uuid": "0", "version": { "major": 2, "minor": 0 }, "fdl_creator": "somebody", "default_framing_intent": "i1",
        "framing_intents": [{ "id": "i1", "label": "2.39 scope", "aspect_ratio": { "width": 239, "height": 100 }, "protection": 0.1 }],
        "contexts": [
            { "label": "A cam", "clip_id": { "clip_name": "A014C002" }, "canvases": [
                canvas("c1", "c1", json!([scope, unknown])), canvas("c2", "c1", json!([])),
            ] },
        ],
        "canvas_templates": [{
            "id": "t1", "label": "Dailies", "target_dimensions": { "width": 1920, "height": 804 }, "target_anamorphic_squeeze": 1.0,
            "fit_source": "framing_decision.dimensions", "fit_method": "width", "alignment_method_vertical": "center",
            "preserve_from_source_canvas": "canvas.dimensions",
            "maximum_dimensions": { "width": 1920, "height": 1080 }, "pad_to_maximum": true,
        }],
    });
    let reading = read(&list.to_string()).expect("a list");
    let said = reading.remarks.join(" ");
    for words in ["c2 open gate", "intent of ratio 2.39", "protection", "Dailies: preserve canvas.dimensions", "i9"] {
        assert!(said.contains(words), "{words}: {said}");
    }
    let project = brought(&list.to_string());
    let (id, source) = project.sources().next().expect("a source");
    assert_eq!((source.name.as_str(), project.sources().len()), ("A014C002", 1));
    assert_eq!(source.written(Aspect::Insets), "0/48/0/48");
    assert!(source.note.as_str().contains("photosites 4448x3096; sensor 36.7 x 25.54 mm"), "{:?}", source.note);
    let named = |name: &str| project.frames().find(|(_, frame)| frame.name.as_str() == name).expect("a frame");
    let window = |frame| {
        let plan = project.conversion(Pair::new(id, frame)).expect("a conversion").plan;
        let window = plan.window.expect("a window");
        [window.x, window.y, window.size.width, window.size.height].map(|side| side.to_f64())
    };
    let close = |one: [f64; 4], other: [f64; 4]| one.iter().zip(other).all(|(one, other)| (one - other).abs() < 2.5);
    let (frame, scope) = named("2.39 scope");
    assert_eq!(scope.geometry.frame().raster().height(), 1676);
    assert!(close(window(frame), [222.0, 710.0, 4004.0, 1676.0]), "{:?}", window(frame));
    assert_eq!(scope.guides.len(), 1, "what is protected has another ratio: 2.397");
    let (frame, dailies) = named("Dailies");
    assert_eq!(dailies.geometry.frame().raster().height(), 1080);
    assert!(close(window(frame), [222.0, 710.0, 4004.0, 1676.0]), "{:?}", window(frame));
    // What was framed on set stays to be compared with.
    let choice = project.choice(Pair::new(id, frame));
    assert!(choice.imported.is_some() && choice.imported == choice.own);
    // A second time nothing comes twice.
    let changes = project.apply(&Edit::Bring {
        sources: reading.rows.iter().filter_map(|row| row.source()).collect(),
        frames: reading.frames.iter().map(|frame| frame.0.clone()).collect(),
        framings: reading.framings.iter().map(|framing| framing.0.clone()).collect(),
        update: false,
    });
    let changes = changes.expect("sound");
    assert!(changes.changes.is_empty(), "{:?}", changes.changes);
}

// By the definitions of the Framing Decision List for the methods of canvas templates, from memory.
#[test]
fn templates_lay_a_decision_into_their_frames_as_they_say() {
    let wanted = [
        // Fit source, fit method, across, down, the frame, and the part of the canvas that it shows.
        ("framing_decision.dimensions", "fit_all", "center", "bottom", [1000, 1000], [1000.0, 0.0, 2000.0, 2000.0]),
        ("framing_decision.dimensions", "fit_all", "left", "center", [4000, 1000], [1000.0, 1000.0, 4000.0, 1000.0]),
        ("framing_decision.dimensions", "fill", "center", "center", [1000, 1000], [1500.0, 1000.0, 1000.0, 1000.0]),
        ("framing_decision.dimensions", "fill", "right", "top", [1000, 1000], [2000.0, 1000.0, 1000.0, 1000.0]),
        ("framing_decision.dimensions", "width", "right", "top", [1000, 1000], [1000.0, 1000.0, 2000.0, 2000.0]),
        ("framing_decision.dimensions", "height", "right", "top", [1000, 500], [1000.0, 1000.0, 2000.0, 1000.0]),
        ("framing_decision.dimensions", "height", "left", "top", [500, 1000], [1000.0, 1000.0, 500.0, 1000.0]),
        (
            "framing_decision.protection_dimensions",
            "fill",
            "center",
            "center",
            [1100, 1100],
            [1450.0, 950.0, 1100.0, 1100.0],
        ),
        ("canvas.effective_dimensions", "fill", "left", "center", [1400, 1400], [100.0, 100.0, 2800.0, 2800.0]),
        ("canvas.dimensions", "fit_all", "center", "center", [2000, 1500], [0.0, 0.0, 4000.0, 3000.0]),
    ];
    let templates = wanted.iter().enumerate().map(|(at, (of, method, across, down, [width, height], _))| {
        json!({
            "id": format!("t{at}"), "label": format!("Template {at}"),
            "target_dimensions": { "width": width, "height": height }, "fit_source": of, "fit_method": method,
            "alignment_method_horizontal": across, "alignment_method_vertical": down,
        })
    });
    let list = json!({
        "uuid": "0", "version": { "major": 2, "minor": 0 },
        "framing_intents": [{ "id": "i1", "label": "2.00", "aspect_ratio": { "width": 2, "height": 1 } }],
        "contexts": [{ "clip_id": { "clip_name": "A001" }, "canvases": [{
            "id": "c1", "source_canvas_id": "c1", "dimensions": { "width": 4000, "height": 3000 },
            "effective_dimensions": { "width": 3800, "height": 2800 }, "effective_anchor_point": { "x": 100, "y": 100 },
            "framing_decisions": [{
                "id": "c1-i1", "framing_intent_id": "i1",
                "dimensions": { "width": 2000, "height": 1000 }, "anchor_point": { "x": 1000, "y": 1000 },
                "protection_dimensions": { "width": 2200, "height": 1100 },
                "protection_anchor_point": { "x": 900, "y": 950 },
            }],
        }] }],
        "canvas_templates": templates.collect::<Vec<_>>(),
    });
    let reading = read(&list.to_string()).expect("a list");
    assert!(reading.remarks.iter().all(|remark| !remark.contains("Not imported")), "{:?}", reading.remarks);
    let project = brought(&list.to_string());
    let (source, _) = project.sources().next().expect("a source");
    for (at, (.., expected)) in wanted.iter().enumerate() {
        let name = format!("Template {at}");
        let (frame, _) = project.frames().find(|(_, frame)| frame.name.as_str() == name).expect("a frame");
        let choice = project.choice(Pair::new(source, frame));
        let plan = project.conversion(Pair::new(source, frame)).expect("a conversion").plan;
        // What is shown is as far as the footage goes, which has borders that are no picture.
        let window = plan.window.expect("a window");
        let shown = [&window.x, &window.y, &window.size.width, &window.size.height].map(Exact::to_f64);
        let [x, y, width, height] = *expected;
        let [right, bottom] = [f64::min(x + width, 3900.0), f64::min(y + height, 2900.0)];
        let [left, top] = [x.max(100.0), y.max(100.0)];
        let inside = [left, top, right - left, bottom - top];
        let close = shown.iter().zip(inside).all(|(shown, inside)| (shown - inside).abs() < 0.01);
        assert!(close && choice.imported.is_some(), "{at}: {shown:?} instead of {inside:?}");
    }
}

#[test]
fn timelines_of_others_give_what_they_say() {
    // A cut of two clips of the same footage, a nested stack, one clip without bounds.
    let clip = |name: &str, bounds: Value| {
        json!({ "OTIO_SCHEMA": "Clip.1", "name": name, "source_range": { "start_time": { "rate": 23.976, "value": 3 } },
                "media_reference": { "OTIO_SCHEMA": "ExternalReference.1", "target_url": format!("file:///{name}.mov"), "available_image_bounds": bounds } })
    };
    let bounds =
        json!({ "OTIO_SCHEMA": "Box2d.1", "min": { "x": 0.0, "y": 0.0 }, "max": { "x": 3840.0, "y": 2160.0 } });
    let unit = json!({ "min": { "x": -0.5, "y": -0.5 }, "max": { "x": 0.5, "y": 0.5 } });
    let timeline = json!({ "OTIO_SCHEMA": "Timeline.1", "tracks": { "OTIO_SCHEMA": "Stack.1", "children": [
        { "OTIO_SCHEMA": "Track.1", "children": [clip("B003", bounds.clone()), { "OTIO_SCHEMA": "Gap.1" }, clip("B003", bounds)] },
        { "OTIO_SCHEMA": "Track.1", "children": [{ "OTIO_SCHEMA": "Stack.1", "children": [clip("C041", unit)] }] },
    ] } });
    let reading = read(&timeline.to_string()).expect("a list");
    let cells: Vec<_> =
        reading.rows.iter().map(|row| (row.cells[0].as_str(), row.cells[1].as_str(), row.cells[6].as_str())).collect();
    assert_eq!(cells, [("B003", "3840x2160", "23.976"), ("C041", "", "23.976")]);
    assert!(reading.remarks[0].starts_with("1 clip does not say its size"), "{:?}", reading.remarks);
    assert_eq!((reading.good, reading.bad), (1, 1));
}

// What others keep in their files is still there, to the last field.
#[test]
fn a_file_of_somebody_else_keeps_what_is_theirs() {
    let package = package(&small());
    let clip = json!({ "OTIO_SCHEMA": "Clip.2", "name": "T1987 Tape", "metadata": { "grade": { "lift": [0.1, 0.2] } }, "effects": [{ "OTIO_SCHEMA": "Effect.1", "effect_name": "blur" }] });
    let other = json!({ "OTIO_SCHEMA": "Clip.2", "name": "X999", "media_reference": null });
    let theirs = json!({ "OTIO_SCHEMA": "Timeline.1", "name": "Cut 7", "metadata": { "shop": { "order": 12 } },
        "tracks": { "OTIO_SCHEMA": "Stack.1", "children": [{ "OTIO_SCHEMA": "Track.1", "children": [clip, other] }] } });
    let added = ratiomet_exchange::otio::add_to(&package, &theirs.to_string()).expect("added");
    assert_eq!(
        (added.found, added.placements, added.missing),
        (1, 3, vec!["A014 Furnace".to_owned(), "P007 Phone".to_owned()])
    );
    let mut back: Value = serde_json::from_slice(&added.bytes).expect("JSON");
    let children = &mut back["tracks"]["children"][0]["children"];
    assert_eq!(children[0]["metadata"]["ratiomet"]["source"]["pixel_aspect"], "12:11");
    assert_eq!(children[0]["metadata"]["ratiomet"]["placements"].as_array().map(Vec::len), Some(3));
    children[0]["metadata"].as_object_mut().expect("fields").remove("ratiomet");
    back["metadata"].as_object_mut().expect("fields").remove("ratiomet");
    assert_eq!(back, theirs);

    let theirs = json!({ "uuid": "X", "version": { "major": 2, "minor": 0 }, "custom": [1, 2],
        "framing_intents": [{ "id": "Scope", "label": "theirs", "aspect_ratio": { "width": 239, "height": 100 } }],
        "contexts": [{ "label": "Day 1", "canvases": [{ "id": "c1", "label": "A014 Furnace", "note": "keep me",
            "framing_decisions": [{ "id": "c1-own", "framing_intent_id": "own" }] }] }] });
    let added = ratiomet_exchange::fdl::add_to(&package, &theirs.to_string()).expect("added");
    let back: Value = serde_json::from_slice(&added.bytes).expect("JSON");
    let canvas = &back["contexts"][0]["canvases"][0];
    assert_eq!(
        (&back["custom"], &canvas["note"], &back["framing_intents"][0]["label"]),
        (&json!([1, 2]), &json!("keep me"), &json!("theirs"))
    );
    let ids: Vec<_> =
        canvas["framing_decisions"].as_array().expect("decisions").iter().map(|decision| &decision["id"]).collect();
    // Their Scope is not ours.
    assert_eq!(ids, ["c1-own", "c1-Scope_2", "c1-Masked", "c1-Upright"]);
    assert_eq!((added.found, added.placements), (1, 3));
    for (text, why) in [
        ("{", "is not JSON"),
        ("{}", "is not"),
        (r#"{"OTIO_SCHEMA":"Timeline.1","contexts":[]}"#, "no name in this file"),
    ] {
        for add in [ratiomet_exchange::otio::add_to, ratiomet_exchange::fdl::add_to] {
            assert!(add(&package, text).expect_err(text).contains(why), "{text}");
        }
    }
}

#[test]
fn a_file_that_is_not_made_as_it_should_be_is_refused_and_nothing_is_put_into_it() {
    let package = package(&small());
    for text in ["[]", "null", "7", "\"x\"", r#"{"contexts":{}}"#, r#"{"contexts":null}"#] {
        for add in [ratiomet_exchange::otio::add_to, ratiomet_exchange::fdl::add_to] {
            assert!(add(&package, text).expect_err(text).contains("is no"), "{text}");
        }
    }
    // Contexts and canvases that are none of ours stay as they are.
    let ours = json!({ "id": "c1", "label": "A014 Furnace" });
    let theirs = json!({ "contexts": [7, null, "x", { "label": "empty" }, { "canvases": 3 }, { "canvases": [null, 4, { "label": "A014 Furnace" }, ours] }] });
    let added = ratiomet_exchange::fdl::add_to(&package, &theirs.to_string()).expect("added");
    let mut back: Value = serde_json::from_slice(&added.bytes).expect("JSON");
    let canvas = back["contexts"][5]["canvases"][3].as_object_mut().expect("a canvas");
    assert_eq!(canvas.remove("framing_decisions").and_then(|all| all.as_array().map(Vec::len)), Some(3));
    assert_eq!(back["contexts"], theirs["contexts"]);
}

// Clips go by their file, by their name with or without its ending, in any capitals; the others are told with what is
// most like them.
#[test]
fn clips_of_somebody_else_are_known_by_file_and_name() {
    let mut project = small();
    project["sources"][2]["values"]["name"] = json!("P007 Phone.mp4");
    let package = package(&project);
    let clip = |name: &str, url: Option<&str>| {
        let file = json!({ "OTIO_SCHEMA": "ExternalReference.1", "target_url": url });
        json!({ "OTIO_SCHEMA": "Clip.2", "name": name, "media_references": { "cut": file }, "active_media_reference_key": "cut" })
    };
    let clips = [
        clip("shot 010", Some("file:///mnt/day%203/A014%20Furnace.mov")),
        clip("t1987 TAPE.mxf", None),
        clip("P007 Phone", None),
        clip("A014 Furnance mouth", Some("file:///mnt/x/slate.mov")),
        clip("Credits", None),
    ];
    let timeline = json!({ "OTIO_SCHEMA": "Track.1", "children": clips });
    let added = ratiomet_exchange::otio::add_to(&package, &timeline.to_string()).expect("added");
    assert_eq!((added.found, added.placements, added.missing.len()), (3, 9, 0));
    let said: Vec<_> = added.unmatched.iter().map(|each| (each.name.as_str(), each.nearest.as_deref())).collect();
    assert_eq!(said, [("A014 Furnance mouth", Some("A014 Furnace")), ("Credits", None)]);

    let canvas = |id: &str, more: Value| {
        let mut canvas = json!({ "id": id, "label": "" });
        canvas.as_object_mut().expect("an object").extend(more.as_object().expect("an object").clone());
        canvas
    };
    let list = json!({ "contexts": [
        { "clip_id": { "clip_name": "A014 Furnace" }, "canvases": [
            canvas("c1", json!({ "source_canvas_id": "c1" })),
            // Made of the first: what it shows is another picture.
            canvas("c2", json!({ "source_canvas_id": "c1" })),
        ] },
        { "canvases": [canvas("c3", json!({ "label": "A041 Furnace" }))] },
    ] });
    let added = ratiomet_exchange::fdl::add_to(&package, &list.to_string()).expect("added");
    assert_eq!((added.found, added.placements), (1, 3));
    assert_eq!(added.unmatched[0].nearest.as_deref(), Some("A014 Furnace"));
    let back: Value = serde_json::from_slice(&added.bytes).expect("JSON");
    assert_eq!(back["contexts"][0]["canvases"][1], list["contexts"][0]["canvases"][1]);
    let far = json!({ "OTIO_SCHEMA": "Clip.2", "name": "A014 Furnance" });
    let why = ratiomet_exchange::otio::add_to(&package, &far.to_string()).expect_err("nothing matches");
    assert_eq!(why, "no name in this file matches a selected source; its A014 Furnance is most like A014 Furnace");
}

// The second hand-off into the same list: what we have put there follows the project, what is theirs does not.
#[test]
fn what_an_earlier_hand_off_has_added_is_brought_up_to_date() {
    let theirs = json!({ "framing_intents": [{ "id": "Scope", "label": "theirs" }],
        "contexts": [{ "canvases": [{ "id": "c1", "label": "A014 Furnace", "framing_decisions": [] }] }] });
    let add = |project: &Value, list: &str| {
        let added = ratiomet_exchange::fdl::add_to(&package(project), list).expect("added");
        (added.placements, String::from_utf8(added.bytes).expect("UTF-8"))
    };
    let mut project = small();
    let (count, first) = add(&project, &theirs.to_string());
    assert_eq!(count, 3);
    assert_eq!(add(&project, &first), (3, first.clone()), "the same again changes nothing");
    // One frame has another name and raster, one shows nothing of it, one is as it was.
    project["frames"][0]["values"]["name"] = json!("Festival scope");
    project["frames"][0]["values"]["geometry"]["raster"] = json!([2048, 858]);
    let away = json!({ "method": "fill", "zoom": "1", "shift": ["5000", "0"] });
    let own = project["conversions"].as_array_mut().expect("a list");
    own.push(json!({ "source": 1, "frame": 2, "own": away }));
    let (count, second) = add(&project, &first);
    assert_eq!(count, 2);
    let back: Value = serde_json::from_str(&second).expect("JSON");
    let labels = |part: &str| {
        let all = back.pointer(part).and_then(Value::as_array).expect("a list");
        all.iter()
            .map(|each| (each["id"].as_str().expect("an id"), each["label"].as_str().expect("a label")))
            .collect::<Vec<_>>()
    };
    assert_eq!(
        labels("/framing_intents"),
        [("Scope", "theirs"), ("Scope_2", "Festival scope"), ("Masked", "Masked"), ("Upright", "Upright")]
    );
    assert_eq!(back["canvas_templates"][0]["target_dimensions"]["width"], 2048);
    assert_eq!(
        labels("/contexts/0/canvases/0/framing_decisions"),
        [("c1-Scope_2", "Festival scope"), ("c1-Upright", "Upright")]
    );
    // Another project of the same names is another one.
    project["project"]["name"] = json!("Second kiln");
    let (count, third) = add(&project, &second);
    let back: Value = serde_json::from_str(&third).expect("JSON");
    assert_eq!((count, back["framing_intents"].as_array().map(Vec::len)), (2, Some(7)));
}

// A, A 2 and A again would otherwise be A, A_2 and A_2.
#[test]
fn every_id_of_a_framing_list_comes_once() {
    let mut project = small();
    let names =
        ["A", "A 2", "A", "a-very-long-name-of-a-camera-number-one", "a-very-long-name-of-a-camera-number-two", "***"];
    let frame = |(at, name): (usize, &&str)| json!({ "id": at + 1, "values": { "name": name, "geometry": { "raster": [640, 360] } } });
    let source = |(at, name): (usize, &&str)| json!({ "id": at + 1, "values": { "name": name, "geometry": { "raster": [960, 720] } } });
    project["frames"] = names.iter().enumerate().map(frame).collect();
    project["sources"] = names.iter().enumerate().map(source).collect();
    project["conversions"] = json!([]);
    let list: Value = serde_json::from_slice(&written(&package(&project), Format::Fdl, "framing.fdl")).expect("JSON");
    let contexts = list["contexts"].as_array().expect("contexts");
    let canvases = contexts.iter().map(|context| context["canvases"][0].clone()).collect();
    for (part, all) in [
        ("intents", list["framing_intents"].clone()),
        ("templates", list["canvas_templates"].clone()),
        ("canvases", canvases),
        ("decisions", contexts[2]["canvases"][0]["framing_decisions"].clone()),
    ] {
        let all = all.as_array().expect("a list");
        let ids: Vec<_> = all.iter().map(|each| each["id"].as_str().expect("an id")).collect();
        let mut once = ids.clone();
        once.sort_unstable();
        once.dedup();
        assert_eq!((ids.len(), once.len()), (names.len(), names.len()), "{part}: {ids:?}");
        assert!(part.ends_with("decisions") || ids.iter().all(|id| id.len() <= 32), "{ids:?}");
    }
}

#[test]
fn what_is_no_plan_is_refused_in_words() {
    let refused = |text: &str| read(text).expect_err(text);
    assert!(refused("{\"a\": 1}").contains("something else"));
    assert!(refused("{\"OTIO_SCHEMA\": \"Timeline.1\"").contains("is not valid"));
    assert!(refused("{\"OTIO_SCHEMA\": \"Timeline.1\"}").contains("has none"));
    assert!(refused("{\"contexts\": []}").contains("has none"));
    let deep = format!("{}{}", "{\"OTIO_SCHEMA\":\"Stack.1\",\"children\":[".repeat(200), "]}".repeat(200));
    assert!(refused(&deep).contains("is not valid"));
}
