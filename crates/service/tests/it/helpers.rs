//! The helpers of the pages, bundled for Node and asked over a pipe. Where there is arithmetic in them,
//! its truth is the core's.

use std::io::{BufRead, BufReader, Write};
use std::path::Path;
use std::process::{Child, ChildStdin, ChildStdout, Command, Stdio};

use ratiomet_wire::calc;
use serde_json::{Value, json};

use crate::support::Server;

struct Helpers {
    node: Child,
    line: Option<ChildStdin>,
    output: BufReader<ChildStdout>,
}

impl Helpers {
    fn start() -> Self {
        let bundle = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/node_modules/.tests/pipe.js");
        assert!(bundle.exists(), "the helpers are not bundled: run cargo xtask test once");
        let mut node =
            Command::new("node").arg(bundle).stdin(Stdio::piped()).stdout(Stdio::piped()).spawn().expect("node starts");
        let line = node.stdin.take();
        let output = BufReader::new(node.stdout.take().expect("its output"));
        Self { node, line, output }
    }

    fn ask(&mut self, helper: &str, given: &Value) -> Value {
        let line = self.line.as_mut().expect("its input");
        writeln!(line, "{}", json!({ "helper": helper, "given": given })).expect("node reads");
        let mut answer = String::new();
        self.output.read_line(&mut answer).expect("node answers");
        serde_json::from_str(&answer).unwrap_or_else(|_| panic!("{helper} of {given} gives {answer:?}"))
    }
}

impl Drop for Helpers {
    fn drop(&mut self) {
        drop(self.line.take());
        // OK because node ends when its input does.
        let _ = self.node.wait();
    }
}

fn calculated(request: &Value) -> Value {
    let answer = calc::answer(request.to_string().as_bytes()).expect("a sound request");
    serde_json::to_value(answer).expect("plain data")
}

/// A random conversion, with a framing that it has and another that it is moved to.
fn random(random: &mut fastrand::Rng) -> (Value, Value, Value) {
    let squeeze = ["1", "1.33", "1.8", "2"][random.usize(..4)];
    let rotation = 90 * random.u32(..4);
    let source =
        json!({ "raster": [random.u32(640..8000), random.u32(480..6000)], "squeeze": squeeze, "rotation": rotation });
    let delivery = json!({ "raster": [2 * random.u32(200..2500), 2 * random.u32(200..2500)] });
    let method = ["fit", "fill", "width", "height", "native"][random.usize(..5)];
    let mut framing = || {
        json!({
            "method": method,
            "zoom": format!("{}", f64::from(random.u32(50..300)) / 100.0),
            "shift": [random.i32(-900..900).to_string(), random.i32(-900..900).to_string()],
        })
    };
    let (from, to) = (framing(), framing());
    let of =
        |framing: &Value| json!({ "kind": "conversion", "source": source, "delivery": delivery, "framing": framing });
    (of(&from), of(&to), to)
}

#[test]
fn a_picture_that_is_drawn_ahead_of_the_answer_lands_where_the_answer_puts_it() {
    let mut helpers = Helpers::start();
    let mut rng = fastrand::Rng::with_seed(2026);
    for _ in 0..400 {
        let (from, to, framing) = random(&mut rng);
        let plan = calculated(&from);
        let conversion = json!({ "plan": plan, "placed": from["framing"] });
        let moved = json!({ "zoom": framing["zoom"], "x": framing["shift"][0], "y": framing["shift"][1] });
        let drawn = helpers.ask("ahead", &json!({ "conversion": conversion, "move": moved }));
        let truth = &calculated(&to)["image"];
        for side in ["x", "y", "width", "height"] {
            let (drawn, truth) =
                (drawn[side].as_f64().expect("a number"), truth[side]["value"].as_f64().expect("a number"));
            assert!((drawn - truth).abs() < 1e-6 * truth.abs().max(1.0), "{side} {drawn} for {truth} of {to}");
        }
    }
}

/// A conversion that may be shifted so far either way across, and not up or down.
fn free_to(pixels: i32) -> Value {
    let exact = |value: i32| json!({ "exact": value.to_string(), "value": value });
    let end = |value: i32| json!({ "at": exact(value), "text": value.to_string(), "reason": "end" });
    json!({
        "plan": { "travel": { "x": exact(pixels), "y": exact(0) } },
        "rests": { "x": [end(-pixels), end(pixels)], "y": [], "zoom": [] },
    })
}

#[test]
fn a_drag_uncovers_no_edge_however_far_it_goes() {
    let mut helpers = Helpers::start();
    let mut rng = fastrand::Rng::with_seed(7);
    for _ in 0..300 {
        let (from, _, _) = random(&mut rng);
        let mut from = from;
        from["framing"] = json!({ "method": "fill", "zoom": "1.2", "shift": ["0", "0"] });
        let plan = calculated(&from);
        let end = |axis: &str| {
            let travel = &plan["travel"][axis];
            let at = |sign: &str| {
                let text = format!("{sign}{}", travel["exact"].as_str().expect("text"));
                json!({ "at": { "exact": text, "value": travel["value"].as_f64().expect("a number") * if sign == "-" { -1.0 } else { 1.0 } },
                        "text": text, "reason": "end" })
            };
            json!([at("-"), at("")])
        };
        let conversion =
            json!({ "plan": plan, "placed": from["framing"], "rests": { "x": end("x"), "y": end("y"), "zoom": [] } });
        let travel = |axis: &str| plan["travel"][axis]["value"].as_f64().expect("a number");
        // However far past its end.
        let mut by = |axis: &str| (rng.f64() * 2.0 - 1.0) * (travel(axis) * 3.0 + 2_000.0);
        let given = json!({
            "start": { "zoom": "1.2", "x": "0", "y": "0" },
            "by": { "x": by("x"), "y": by("y") },
            "conversion": conversion, "k": 1.0, "straight": false, "free": false,
        });
        let to = helpers.ask("dragged", &given);
        from["framing"]["shift"] = json!([to["x"], to["y"]]);
        let bars = &calculated(&from)["bars"];
        for side in ["left", "top", "right", "bottom"] {
            assert_eq!(bars[side]["exact"], "0", "{side} of {from} after {given}");
        }
    }
}

#[test]
fn a_point_that_is_pushed_about_stays_where_it_is() {
    let mut helpers = Helpers::start();
    for (zoom, x, about) in [("2", "100", 40.0), ("1.5", "-300", 250.0), ("0.5", "0", -90.0)] {
        let given = json!({ "move": { "zoom": "1", "x": x, "y": "0" }, "zoom": zoom, "about": { "x": about, "y": 0 } });
        let to = helpers.ask("sized", &given);
        // A point of the picture lies at shift + zoom times its place.
        let (before, zoom): (f64, f64) = (x.parse().expect("a number"), zoom.parse().expect("a number"));
        let after: f64 = to["x"].as_str().expect("text").parse().expect("a number");
        assert!((after + zoom * (about - before) - about).abs() < 0.06, "{to} for {given}");
    }
    let clean = json!([
        { "at": { "exact": "1/2", "value": 0.5 }, "text": "1/2", "reason": "clean" },
        { "at": { "exact": "1", "value": 1.0 }, "text": "1", "reason": "one_to_one" },
        { "at": { "exact": "2", "value": 2.0 }, "text": "2", "reason": "clean" },
    ]);
    let mut next = |zoom: &str, up: bool| {
        helpers.ask("nextClean", &json!({ "zoom": zoom, "rests": clean, "up": up }))["text"].clone()
    };
    assert_eq!(next("1", true), "2");
    assert_eq!(next("1", false), "1/2");
    assert_eq!(next("2", true), Value::Null);
}

#[test]
fn a_key_goes_to_the_innermost_scope_that_takes_it() {
    let mut helpers = Helpers::start();
    let mut case = |says: &str, scopes: Value, key: Value, extra: Value, taken: Value| {
        let mut press = json!({ "key": "", "shiftKey": false, "ctrlKey": false, "metaKey": false, "altKey": false });
        for (name, value) in key.as_object().expect("an object") {
            press[name] = value.clone();
        }
        let mut given = json!({ "scopes": scopes, "press": press, "dialog": false, "single": true,
            "focus": { "typing": false, "pressable": false } });
        for (name, value) in extra.as_object().expect("an object") {
            given[name] = value.clone();
        }
        assert_eq!(helpers.ask("pressed", &given), taken, "{says}");
    };
    let screen = json!([["application", { "help": true }], ["project", { "undo": true, "redo": true }],
        ["screen", { "back": true, "move": true }], ["drawing", { "back": false, "nudge": true, "fill": true, "take": true }]]);
    let none = json!({});
    case(
        "the drawing has the arrows before the screen",
        screen.clone(),
        json!({ "key": "ArrowLeft" }),
        none.clone(),
        json!("3 nudge"),
    );
    case("what is passed on goes outwards", screen.clone(), json!({ "key": "Escape" }), none.clone(), json!("2 back"));
    case(
        "a key of the project works on a screen",
        screen.clone(),
        json!({ "key": "u" }),
        none.clone(),
        json!("1 undo"),
    );
    case("with Caps Lock too", screen.clone(), json!({ "key": "U" }), none.clone(), json!("1 undo"));
    case(
        "Shift makes another of it",
        screen.clone(),
        json!({ "key": "U", "shiftKey": true }),
        none.clone(),
        json!("1 redo"),
    );
    case(
        "the key of the platform",
        screen.clone(),
        json!({ "key": "z", "ctrlKey": true }),
        none.clone(),
        json!("1 undo"),
    );
    case(
        "on a Mac",
        screen.clone(),
        json!({ "key": "z", "metaKey": true, "shiftKey": true }),
        none.clone(),
        json!("1 redo"),
    );
    case(
        "a sign comes with Shift or without",
        screen.clone(),
        json!({ "key": "?", "shiftKey": true }),
        none.clone(),
        json!("0 help"),
    );
    case("Alt belongs to the system", screen.clone(), json!({ "key": "u", "altKey": true }), none.clone(), Value::Null);
    case(
        "a letter with Control belongs to the browser",
        screen.clone(),
        json!({ "key": "l", "ctrlKey": true }),
        none.clone(),
        Value::Null,
    );
    let focus = |typing: bool, pressable: bool| json!({ "focus": { "typing": typing, "pressable": pressable } });
    case("typing is never a command", screen.clone(), json!({ "key": "l" }), focus(true, false), Value::Null);
    case(
        "Enter on a button presses the button",
        screen.clone(),
        json!({ "key": "Enter" }),
        focus(false, true),
        Value::Null,
    );
    case(
        "a letter on a button is a command",
        screen.clone(),
        json!({ "key": "l" }),
        focus(false, true),
        json!("3 fill"),
    );
    case(
        "Enter elsewhere takes what is previewed",
        screen.clone(),
        json!({ "key": "Enter" }),
        none.clone(),
        json!("3 take"),
    );
    case(
        "single characters can be switched off",
        screen.clone(),
        json!({ "key": "l" }),
        json!({ "single": false }),
        Value::Null,
    );
    case(
        "with Shift too",
        screen.clone(),
        json!({ "key": "U", "shiftKey": true }),
        json!({ "single": false }),
        Value::Null,
    );
    case(
        "Escape and arrows stay",
        screen.clone(),
        json!({ "key": "Escape" }),
        json!({ "single": false }),
        json!("2 back"),
    );
    case(
        "beneath a dialog nothing is asked",
        screen.clone(),
        json!({ "key": "l" }),
        json!({ "dialog": true }),
        Value::Null,
    );
    let with_dialog = json!([["project", { "find": true, "undo": true }], ["dialog", { "undo": true }]]);
    case(
        "a dialog has keys of its own",
        with_dialog.clone(),
        json!({ "key": "u" }),
        json!({ "dialog": true }),
        json!("1 undo"),
    );
    case("and no others", with_dialog, json!({ "key": "/" }), json!({ "dialog": true }), Value::Null);
}

#[test]
fn the_hand_is_on_with_one_thing_at_a_time_and_loses_none() {
    let mut helpers = Helpers::start();
    let shift = |x: &str| json!({ "is": "move", "move": { "zoom": "1", "x": x, "y": "0" } });
    let peek = json!({ "is": "peek", "candidate": { "name": "Fit", "framing": { "method": "fit", "zoom": "1", "shift": ["0", "0"] } } });
    let enter = json!({ "is": "enter", "entry": { "convention": "over_fit", "axis": "x", "value": "1.2" } });
    let drop = json!({ "is": "drop" });
    let stored = json!({ "is": "stored" });
    let mut case = |says: &str, events: Value, on: &str, must_store: Value| {
        let hand = helpers.ask("handled", &events);
        assert_eq!((&hand["hand"]["on"], &hand["stored"]), (&json!(on), &must_store), "{says}");
    };
    let first = json!([{ "zoom": "1", "x": "5", "y": "0" }]);
    case("Escape drops a nudge and stores nothing", json!([shift("5"), drop]), "resting", json!([]));
    case("a look stores the nudge first", json!([shift("5"), peek]), "peeking", first.clone());
    case("so does the dial", json!([shift("5"), enter]), "entering", first);
    case("a nudge ends a look without taking it", json!([peek, shift("5")]), "moving", json!([]));
    case("nudges add up to one", json!([shift("5"), shift("6")]), "moving", json!([]));
    case("what is stored rests", json!([shift("5"), stored]), "resting", json!([]));
    case("Escape ends a look", json!([peek, drop]), "resting", json!([]));
    case("and an entry", json!([enter, drop]), "resting", json!([]));
}

#[test]
fn rows_that_were_mended_while_files_are_read_stay_mended() {
    let mut helpers = Helpers::start();
    let row = |line: u32, name: &str| json!({ "line": line, "cells": [name], "state": "good", "values": null, "remarks": [] });
    let reading = |rows: Value| json!({ "columns": [], "rows": rows, "good": 0, "doubtful": 0, "bad": 0, "frames": [], "remarks": [] });
    let now = reading(json!([row(1, "mended"), row(2, "b")]));
    let newer = reading(json!([row(1, "as read"), row(2, "b"), row(3, "c")]));
    let all = helpers.ask("withNew", &json!({ "now": now, "newer": newer }));
    let names: Vec<_> =
        all["rows"].as_array().expect("an array").iter().map(|row| row["cells"][0].as_str().expect("text")).collect();
    assert_eq!((names, &all["good"]), (vec!["mended", "b", "c"], &json!(3)));
}

#[test]
fn rows_that_are_copied_out_are_read_again_as_the_same() {
    let mut helpers = Helpers::start();
    let text = "Clip\tResolution\tSqueeze\tfps\nA015\t2880x2160\t2x\t23.976\nX\tthousand\t\t24\n";
    let request = json!({ "text": text }).to_string();
    let read = |request: &str| -> Value {
        let list = ratiomet_wire::read::Reader::read(request.as_bytes(), |field| {
            use ratiomet_wire::describe::Json;
            ratiomet_exchange::list::ListRequest::read(field)
        })
        .expect("a sound request");
        serde_json::to_value(list.understand().expect("a list")).expect("plain data")
    };
    let first = read(&request);
    let out = helpers.ask("asText", &json!({ "columns": first["columns"], "rows": first["rows"] }));
    let again = read(&json!({ "text": out }).to_string());
    for key in ["rows", "good", "bad"] {
        assert_eq!(first[key], again[key], "{key}");
    }
}

#[test]
fn what_the_slide_rule_asks_by_default_is_answered_and_its_address_keeps_it() {
    let mut helpers = Helpers::start();
    for pair in helpers.ask("addresses", &Value::Null).as_array().expect("an array") {
        assert_eq!(pair[0], pair[1], "an address gives back what was entered");
    }
    let asked = helpers.ask("requests", &Value::Null);
    let asked = asked.as_array().expect("an array");
    assert_eq!(asked.len(), 13);
    for pair in asked {
        let (id, request) = (&pair[0], &pair[1]);
        let answer = calculated(request);
        assert_eq!(answer["kind"], request["kind"]);
        // Every line says something, and copies a plain number or word.
        let lines = helpers.ask("lines", &json!({ "id": id, "result": answer }));
        let lines = lines.as_array().expect("lines");
        assert!(lines.iter().any(|line| line["main"] == true), "{id} answers its own question");
        for line in lines {
            let shown = line["shown"].as_str().expect("text");
            assert!(!shown.is_empty() && !shown.contains("NaN") && !shown.contains("undefined"), "{id}: {line}");
        }
        // An answer of another kind is not taken for one's own.
        let other = calculated(&asked[usize::from(id == "ratio")][1]);
        if other["kind"] != request["kind"] {
            assert_eq!(helpers.ask("lines", &json!({ "id": id, "result": other })), json!([]));
        }
        let again = helpers.ask("again", request);
        if !again.is_null() && again["kind"] == request["kind"] {
            assert_eq!(calculated(&again), answer, "{request} by way of its address");
        }
    }
}

#[test]
fn drafts_of_sources_are_the_sources() {
    let mut helpers = Helpers::start();
    for values in [
        json!({ "name": "A", "note": "n", "geometry": { "raster": [2880, 2160], "pixel_aspect": "1", "squeeze": "1.8",
            "active": { "left": 8, "top": 4, "right": 10, "bottom": 6 }, "rotation": 90 }, "rate": "24000/1001",
            "scan": "interlaced", "signal_range": "full", "playback": "every_frame", "projection": "sphere", "sphere": { "span": ["200", "180"], "layout": "side_by_side", "eyes": "right_first" }, "turn": { "yaw": "1", "pitch": "-2", "roll": "3" }, "view": null, "upright_known": true, "deinterlace": true, "range_plan": "declare", "rate_plan": "blend",
            "origin": { "file": "A.mov", "footage": true, "frames": 240, "said": [{ "of": "rate", "value": "24", "by": "stts" }] },
            "subject": { "x": "0.1", "y": "0.2", "width": "0.3", "height": "0.4" }, "method": "fill",
            "still": { "scene": null, "content": "5f".repeat(32), "file": "A.png", "raster": [2880, 2160] } }),
        json!({ "name": "B", "note": "", "geometry": { "raster": [1, 65536], "pixel_aspect": "12:11", "squeeze": "1",
            "active": { "left": 0, "top": 0, "right": 0, "bottom": 0 }, "rotation": 0 }, "rate": null,
            "scan": null, "signal_range": null, "playback": "real_time", "projection": "flat", "sphere": { "span": ["360", "180"], "layout": "mono", "eyes": "left_first" }, "turn": { "yaw": "0", "pitch": "0", "roll": "0" }, "view": { "sphere": 3, "fov": "70", "orientation": { "yaw": "1", "pitch": "2", "roll": "3" } }, "upright_known": false, "deinterlace": false, "range_plan": "open", "rate_plan": "open", "origin": null, "subject": null, "method": null, "still": null }),
    ] {
        assert_eq!(helpers.ask("draft", &values), values);
    }
}

#[test]
fn small_helpers_do_what_they_say() {
    let mut helpers = Helpers::start();
    let mut case = |helper: &str, given: Value, gives: Value| {
        assert_eq!(helpers.ask(helper, &given), gives, "{helper} of {given}")
    };
    case("between", json!({ "ids": [4, 5, 6, 7], "from": 2, "to": 1 }), json!([5, 6]));
    case("hasWords", json!({ "text": "B003 Harbour wall 4608×3164", "words": "HARB 4608" }), json!(true));
    case("hasWords", json!({ "text": "B003 Harbour wall", "words": "harbour kiln" }), json!(false));
    case(
        "meanings",
        json!("4K"),
        json!([{ "value": "3840", "says": "3840, UHD" }, { "value": "4096", "says": "4096, cinema" }]),
    );
    for (text, unit, number) in [
        ("1,8x", "×", "1.8"),
        ("1,8", "", "1.8"),
        ("24p", "fps", "24"),
        ("23.976 fps", "fps", "23.976"),
        ("16:9", "", "16:9"),
        ("2,39:1", ": 1", "2.39:1"),
        ("-12,5 px", "px", "-12.5"),
        ("1,920", "px", "1920"),
        ("1,920", "×", "1.920"),
        ("1080p", "px", "1080"),
        ("90°", "", "90"),
        // What is no number, or may be several, stays as it is.
        ("50i", "fps", "50i"),
        ("4K", "px", "4K"),
        ("1.", "", "1."),
        ("a lot", "", "a lot"),
        ("", "", ""),
    ] {
        case("plainNumber", json!([text, unit]), json!(number));
    }
    case("meanings", json!("a lot"), json!([]));
    // What a browser has kept may be anything, and it may keep nothing at all.
    case("kept", json!("\"dark\""), json!("dark"));
    case("kept", json!("{broken"), json!("first"));
    case("kept", json!("7"), json!("first"));
    case("kept", Value::Null, json!("first"));
    case("keptNowhere", Value::Null, json!("first"));
    case(
        "nudged",
        json!({ "move": { "zoom": "1", "x": "1/3", "y": "2" }, "by": [1, 0], "conversion": free_to(40), "free": false }),
        json!({ "zoom": "1", "x": "1.333", "y": "2" }),
    );
    for (x, by, free, to) in [
        ("39.5", 1, false, "40"),
        ("40", 1, false, "40"),
        ("40", -1, false, "39"),
        ("40", 1, true, "41"),
        // What is past the edge already goes no farther, and comes back.
        ("60", 10, false, "60"),
        ("60", -10, false, "50"),
        ("-60", 10, false, "-50"),
    ] {
        case(
            "nudged",
            json!({ "move": { "zoom": "1", "x": x, "y": "0" }, "by": [by, 0], "conversion": free_to(40), "free": free }),
            json!({ "zoom": "1", "x": to, "y": "0" }),
        );
    }
    // On an axis without travel nothing moves.
    case(
        "nudged",
        json!({ "move": { "zoom": "1", "x": "0", "y": "0" }, "by": [0, 1], "conversion": free_to(40), "free": false }),
        json!({ "zoom": "1", "x": "0", "y": "0" }),
    );
    case("sidesIn", json!({ "width": "1920", "height": " 3840 x 2160" }), json!({ "width": "3840", "height": "2160" }));
    case("sidesIn", json!({ "width": "3840", "height": "x" }), json!({ "width": "3840", "height": "x" }));
    case(
        "zoomNear",
        json!({ "raw": 0.999, "rests": [{ "at": { "exact": "1", "value": 1.0 }, "text": "1", "reason": "one_to_one" }] }),
        json!("1"),
    );
    case("zoomNear", json!({ "raw": 1e9, "rests": [] }), json!("1000"));
    // Forms of spheres as one text, the usual ones by name, others by their span.
    for text in ["360x180 mono left_first", "180x180 side_by_side right_first", "200.5x100 top_bottom left_first"] {
        case("form", json!(text), json!(text));
    }
    case("form", json!("180×180"), json!("180x180 mono left_first"));
    case("formName", json!("180x180 side_by_side left_first"), json!("half, left eye left"));
    case("formName", json!("200x180 top_bottom right_first"), json!("200° × 180°, right eye above"));
    // Looking on goes around, and ends straight up and down.
    let look = |yaw: &str, pitch: &str| json!({ "yaw": yaw, "pitch": pitch, "roll": "5" });
    case("turnedBy", json!({ "look": look("175", "0"), "right": 10, "up": 0 }), look("-175", "0"));
    case("turnedBy", json!({ "look": look("-175.5", "85"), "right": -10, "up": 10 }), look("174.5", "90"));
    case("turnedBy", json!({ "look": look("0", "-12.25"), "right": 0, "up": 1 }), look("0", "-11.25"));
    case("widened", json!({ "fov": "90", "times": 1.1 }), json!("99"));
    case("widened", json!({ "fov": "169", "times": 1.1 }), json!("170"));
    case("widened", json!({ "fov": "1.05", "times": 0.5 }), json!("1"));
    // A place of the drawing is a point of the sphere, and the other way round; lines go on past the seam.
    let sheet = json!({ "x": 10, "y": 20, "width": 720, "height": 360 });
    for (point, span) in [([0, 0], [360, 180]), ([-90, 45], [360, 180]), ([45, -90], [180, 180])] {
        case("unrolledThere", json!({ "point": point, "box": sheet, "span": span }), json!(point));
    }
    let line = json!({ "points": [[170, 0], [-170, 10]], "box": sheet });
    case("unrolledLine", line, json!("M710.0 200.0L750.0 180.0"));
}

#[tokio::test]
async fn a_board_told_in_changes_is_the_whole_one() {
    let server = Server::demo();
    let board = async |since: &str| server.get(&format!("/projects/1/board?since={since}")).await.ok();
    let mut helpers = Helpers::start();
    let mut renewed =
        |before: &Value, changes: &Value| helpers.ask("renewed", &json!({ "before": before, "changes": changes }));
    let mut shown = board("").await;
    assert_eq!(shown["since"], json!(null), "of a revision that nobody knows everything is told");
    let clip = json!({ "name": "Late", "geometry": { "raster": [1998, 1080] } });
    let first = server.get("/projects/1/history/head").await.ok()["at"].clone();
    let edits = [
        (json!({ "edit": "set_sources", "sources": [2], "set": { "squeeze": "1.5" } }), 8),
        (json!({ "edit": "add_sources", "values": [clip] }), 8),
        (json!({ "edit": "delete", "sources": [1, 3], "frames": [] }), 100),
        (json!({ "edit": "delete", "sources": [], "frames": [18] }), 100),
    ];
    let before = shown.clone();
    for (edit, most) in edits {
        server.post("/projects/1/edits", &edit).await.ok();
        let changes = board(shown["revision"].as_str().expect("a revision")).await;
        assert_eq!(changes["since"], shown["revision"]);
        let told = changes["crossings"].as_array().expect("crossings").len();
        assert!(told <= most, "{edit} tells {told} crossings");
        shown = renewed(&shown, &changes);
        let whole = board("").await;
        assert_eq!(shown, renewed(&whole, &whole), "after {edit}");
    }
    // Back to how it was at first, in one go.
    let head = server.get("/projects/1/history/head").await.ok();
    server.post("/projects/1/history/go", &json!({ "from": head["at"], "to": first })).await.ok();
    let changes = board(shown["revision"].as_str().expect("a revision")).await;
    let again = renewed(&shown, &changes);
    assert_eq!(again, renewed(&board("").await, &changes));
    assert_eq!(again["crossings"], renewed(&before, &before)["crossings"]);
    let nothing = board(before["revision"].as_str().expect("a revision")).await;
    assert_eq!(nothing["crossings"], json!([]));
    // Only how often each was changed is another number.
    let told: Vec<_> = nothing["sources"].as_array().expect("sources").iter().map(|source| &source["id"]).collect();
    assert_eq!(told, [1, 2, 3], "{nothing}");
}
