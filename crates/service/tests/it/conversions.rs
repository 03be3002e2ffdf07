//! Single conversions through the API: dials, places that are carried on, what was accepted, what helps,
//! working frames.

use serde_json::{Value, json};

use crate::support::Server;

const HARBOUR_STORY: &str = "/projects/1/conversions/2/20";

async fn preview(server: &Server, path: &str, ask: Value) -> Value {
    server.post(&format!("{path}/preview"), &ask).await.ok()
}

#[tokio::test]
async fn a_number_typed_into_a_dial_is_what_the_dial_then_says() {
    let server = Server::demo();
    let cases = [
        ("native_percent", "y", "101.3", "/plan/dial/native_percent/y"),
        ("over_fit", "x", "3", "/plan/dial/over_fit/x"),
        ("over_fill", "y", "1.25", "/plan/dial/over_fill/y"),
        ("uncorrected", "x", "2.75", "/plan/dial/uncorrected/x"),
        ("centre_offset", "x", "-90.5", "/plan/dial/centre_offset/x"),
        ("centre_share", "x", "0.25", "/shares/centre/x"),
        ("top_left", "x", "-700", "/plan/dial/top_left/x"),
        ("top_left_share", "x", "-0.5", "/shares/top_left/x"),
        ("window_corner", "x", "1000", "/plan/window/x"),
        ("window_size", "y", "2000", "/plan/window/height"),
    ];
    for (convention, axis, value, pointer) in cases {
        let entry = json!({ "convention": convention, "axis": axis, "value": value });
        let found = preview(&server, HARBOUR_STORY, json!({ "entry": entry })).await;
        let read = found.pointer(pointer).expect(pointer)["value"].as_f64();
        assert_eq!(read, value.parse().ok(), "{convention}");
        // The framing can be put as it stands, and gives the same.
        let again = preview(&server, HARBOUR_STORY, json!({ "own": found["framing"] })).await;
        assert_eq!(again["plan"], found["plan"], "{convention}");
    }
    // Nothing was changed by asking.
    assert_eq!(server.get(HARBOUR_STORY).await.ok()["version"], 0);
}

#[tokio::test]
async fn dials_say_what_they_accept() {
    let server = Server::demo();
    let path = format!("{HARBOUR_STORY}/preview");
    let case = async |entry: Value, pointer: &str, says: &str| {
        let refused = server.post(&path, &json!({ "entry": entry })).await.refusal(422);
        let error = &refused["errors"][0];
        assert_eq!(error["pointer"], pointer, "{error}");
        assert!(error["detail"].as_str().is_some_and(|detail| detail.contains(says)), "{error}");
    };
    let entry = |convention: &str, value: Value| json!({ "convention": convention, "axis": "x", "value": value });
    case(entry("native_percent", "1,34".into()), "/entry/value", "a number such as 104.5").await;
    case(entry("native_percent", "-5".into()), "/entry/value", "a number from 0.0607 to").await;
    case(entry("window_corner", "4000".into()), "/entry/value", "a number from 0 to 2828.25").await;
    case(entry("window_size", "0".into()), "/entry/value", "from 0 to 4608").await;
    case(entry("centre_offset", "9999999".into()), "/entry/value", "1000000").await;
    case(entry("magic", "1".into()), "/entry/convention", "native_percent").await;
    case(json!({ "convention": "over_fit", "axis": "z", "value": "1" }), "/entry/axis", "x").await;
    let refused = server.post(&path, &json!({ "like": [2] })).await.refusal(422);
    assert_eq!(refused["errors"][0]["pointer"], "/like");
    server.post(&path, &json!({ "like": [2, 99] })).await.refusal(404);
}

#[tokio::test]
async fn the_same_place_is_carried_to_another_frame() {
    let server = Server::demo();
    let put = json!({ "own": { "method": "fill", "zoom": "1.5", "shift": ["200", "-100"] } });
    server.put(HARBOUR_STORY, 0, &put).await.ok();
    let from = server.get(HARBOUR_STORY).await.ok();
    let there = preview(&server, "/projects/1/conversions/2/22", json!({ "like": [2, 20] })).await;
    // The same point of the picture stands in the middle of the frame.
    let middle = |conversion: &Value, size: [f64; 2]| {
        let image = |side: &str| conversion["plan"]["image"][side]["value"].as_f64().expect("a number");
        [(size[0] / 2.0 - image("x")) / image("width"), (size[1] / 2.0 - image("y")) / image("height")]
    };
    let (one, other) = (middle(&from, [1080.0, 1920.0]), middle(&there, [1080.0, 1080.0]));
    assert!((one[0] - other[0]).abs() < 1e-9 && (one[1] - other[1]).abs() < 1e-9, "{one:?} {other:?}");
    assert_eq!(there["framing"]["zoom"], "1.5");
}

#[tokio::test]
async fn rounding_is_told_for_every_convention() {
    let server = Server::demo();
    let costs = server.get(&format!("{HARBOUR_STORY}/rounding/0")).await.ok();
    let cost = |convention: &str| {
        let all = costs.as_array().expect("costs");
        all.iter().find(|cost| cost["convention"] == convention).expect(convention).clone()
    };
    assert_eq!(costs.as_array().map(Vec::len), Some(10));
    // 60.68 % as 61 %: 2796.26 px of width become 2810.88, half of the rest on each side.
    assert_eq!(cost("native_percent")["rounded"]["y"]["value"], 61.0);
    let edge = cost("native_percent")["edge"]["value"].as_f64().expect("a number");
    let exact = 4608.0 * (0.61 - 1920.0 / 3164.0) / 2.0;
    assert!((edge - exact).abs() < 1e-9, "{edge} is not {exact}");
    server.get(&format!("{HARBOUR_STORY}/rounding/5")).await.refusal(422);
}

#[tokio::test]
async fn a_finding_is_accepted_with_a_reason_and_opened_again() {
    let server = Server::demo();
    let tape = "/projects/1/conversions/4/19";
    let board = async || server.get("/projects/1/board").await.ok();
    let crossing = |board: &Value| {
        let all = board["crossings"].as_array().expect("crossings");
        all.iter().find(|each| each["source"] == 4 && each["frame"] == 19).expect("it").clone()
    };
    assert_eq!(crossing(&board().await)["severity"], "caution");
    let judge = |code: &str, reason: Value| json!({ "edit": "judge_finding", "conversions": [[4, 19], [2, 17]], "code": code, "reason": reason });
    // It is accepted where it is found, and elsewhere nothing happens.
    let done = server.post("/projects/1/edits", &judge("rate_mixed", "archive".into())).await.ok();
    assert_eq!((&done["changed"], &done["unchanged"]), (&json!(1), &json!(1)), "{done}");
    assert!(done["label"].as_str().is_some_and(|label| label.starts_with("Accept rate mixed (archive)")));
    server.post("/projects/1/edits", &judge("enlarged", "seen by the client".into())).await.ok();
    let after = crossing(&board().await);
    // What is left is a note: the ratios cost most of the picture.
    assert_eq!((&after["severity"], &after["accepted"]), (&json!("note"), &json!(2)));
    let conversion = server.get(tape).await.ok();
    let findings = conversion["findings"].as_array().expect("findings");
    assert!(findings.iter().all(|finding| finding["lapsed"] == false));
    assert!(findings.iter().any(|finding| finding["accepted"]["reason"] == "archive"));
    // It stays accepted while the framing follows or changes elsewhere, and lapses when it says something else.
    let own = json!({ "own": { "method": "fill", "zoom": "1.2" } });
    let zoomed = server.put(tape, conversion["version"].as_i64().expect("a version"), &own).await.ok();
    let state = |code: &str| {
        let all = zoomed["findings"].as_array().expect("findings");
        all.iter().find(|finding| finding["code"] == code).map(|finding| finding["lapsed"].clone())
    };
    assert_eq!((state("rate_mixed"), state("enlarged")), (Some(json!(false)), Some(json!(true))));
    assert_eq!(zoomed["crossing"]["severity"], "caution");
    // Opened again, and undone: accepted once more.
    server.post("/projects/1/edits", &judge("rate_mixed", json!(null))).await.ok();
    assert_eq!(server.get(tape).await.ok()["choice"]["accepted"].as_array().map(Vec::len), Some(1));
    let head = server.get("/projects/1/history/head").await.ok();
    let back = json!({ "from": head["at"], "to": head["undo"]["to"] });
    server.post("/projects/1/history/go", &back).await.ok();
    assert_eq!(server.get(tape).await.ok()["choice"]["accepted"].as_array().map(Vec::len), Some(2));
    for (code, reason, pointer) in [("rate_mixed", json!(""), "/reason"), ("rubbish", json!("x"), "/code")] {
        let refused = server.post("/projects/1/edits", &judge(code, reason)).await.refusal(422);
        assert_eq!(refused["errors"][0]["pointer"], pointer);
    }
}

#[tokio::test]
async fn every_remedy_of_the_demo_does_what_it_shows() {
    let server = Server::demo();
    let mut taken = 0;
    for (source, frame) in [(1, 21), (2, 20), (2, 21), (4, 18), (5, 19), (8, 23), (10, 17), (13, 18)] {
        let path = format!("/projects/1/conversions/{source}/{frame}");
        let proposals = server.get(&format!("{path}/proposals")).await.ok();
        for proposal in proposals.as_array().expect("proposals") {
            let done = server.post("/projects/1/edits", &proposal["edit"]).await.ok();
            assert_eq!(done["changed"], 1, "{proposal}");
            let now = server.get(&path).await.ok();
            for part in ["image", "bars", "kept", "covered", "distortion", "scale"] {
                assert_eq!(now["crossing"][part], proposal["after"][part], "{part} of {proposal}");
            }
            let severe = |findings: &Value| {
                let all = findings.as_array().expect("findings");
                all.iter()
                    .find(|finding| finding["code"] == proposal["against"])
                    .map(|finding| finding["severity"].clone())
            };
            taken += usize::from(severe(&now["findings"]).is_none());
            let head = server.get("/projects/1/history/head").await.ok();
            let back = json!({ "from": head["at"], "to": head["undo"]["to"] });
            server.post("/projects/1/history/go", &back).await.ok();
        }
    }
    assert!(taken > 12, "only {taken} findings were taken away");
}

#[tokio::test]
async fn pins_are_kept_with_the_conversion() {
    let server = Server::demo();
    let pin = |zoom: &str| json!({ "method": "fill", "zoom": zoom, "shift": ["0", "0"] });
    let set = server.put(HARBOUR_STORY, 0, &json!({ "pins": [pin("1.1"), pin("1.2")] })).await.ok();
    assert_eq!(set["choice"]["pins"][1]["zoom"], "1.2");
    // It follows as before: a pin is no framing of its own.
    assert_eq!((&set["crossing"]["speaker"], &set["choice"]["own"]), (&json!("frame"), &json!(null)));
    let own = server.put(HARBOUR_STORY, 1, &json!({ "own": pin("2") })).await.ok();
    assert_eq!(own["choice"]["pins"].as_array().map(Vec::len), Some(2));
    let many = json!({ "pins": vec![pin("1"); 7] });
    let refused = server.put(HARBOUR_STORY, 2, &many).await.refusal(422);
    assert_eq!(refused["errors"][0]["pointer"], "/pins");
    // They go out and come in with the project.
    let exported = server.get("/projects/1/export").await.ok();
    let all = exported["conversions"].as_array().expect("conversions");
    assert!(all.iter().any(|each| each["pins"].as_array().is_some_and(|pins| pins.len() == 2)));
}

#[tokio::test]
async fn around_subject_is_a_method_of_the_whole_project() {
    let server = Server::demo();
    let board = async || server.get("/projects/1/board").await.ok()["crossings"].as_array().expect("crossings").clone();
    let cut = |crossings: &[Value]| {
        let found = |each: &&Value| each["findings"].as_array().is_some_and(|all| all.contains(&json!("subject_cut")));
        crossings.iter().filter(found).count()
    };
    let before = cut(&board().await);
    assert!(before > 0);
    for source in [1, 2] {
        let edit = json!({ "edit": "set_sources", "sources": [source], "set": { "method": "subject" } });
        server.post("/projects/1/edits", &edit).await.ok();
    }
    for frame in 17..=23 {
        let edit = json!({ "edit": "set_conversions", "conversions": [[1, frame], [2, frame]], "own": null });
        server.post("/projects/1/edits", &edit).await.ok();
    }
    let after = board().await;
    // Only where it is higher than what the frame shows it cannot be whole: 0.66 of 3164 lines in 1930.5.
    assert_eq!(cut(&after), 1, "{before} before");
    let scope = server.get("/projects/1/conversions/2/17").await.ok();
    let told = scope["findings"].as_array().expect("findings").iter().find(|each| each["code"] == "subject_cut");
    assert_eq!(told.expect("it is told")["message"], "7.6 % of the subject is cut off.");
    // It follows the subject.
    let at = async || server.get(HARBOUR_STORY).await.ok();
    let first = at().await;
    assert_eq!((&first["framing"]["method"], &first["placed"]["method"]), (&json!("subject"), &json!("fill")));
    let moved = json!({ "x": "0.8", "y": "0.2", "width": "0.1", "height": "0.5" });
    let edit = json!({ "edit": "set_sources", "sources": [2], "set": { "subject": moved } });
    server.post("/projects/1/edits", &edit).await.ok();
    assert_ne!(at().await["plan"]["image"], first["plan"]["image"]);
    let outside = json!({ "x": "0.8", "y": "0.2", "width": "0.3", "height": "0.5" });
    let edit = json!({ "edit": "set_sources", "sources": [2], "set": { "subject": outside } });
    let refused = server.post("/projects/1/edits", &edit).await.refusal(422);
    assert_eq!(refused["errors"][0]["pointer"], "/set/subject/width");
}

#[tokio::test]
async fn frames_go_through_working_frames_that_are_there() {
    let server = Server::demo();
    let ways = server.get("/projects/1/ways").await.ok();
    let way = |ways: &Value, frame: i64| {
        let all = ways["frames"].as_array().expect("frames");
        all.iter().find(|each| each["frame"] == frame).expect("it").clone()
    };
    assert_eq!(way(&ways, 21)["way"], json!([18, 22, 21]));
    assert_eq!((&way(&ways, 18)["works"], &way(&ways, 21)["works"]), (&json!(true), &json!(false)));
    // What is left is what each frame on the way has of the source, by its own framing.
    let conversion = async |frame: i64| server.get(&format!("/projects/1/conversions/2/{frame}")).await.ok();
    let here = &way(&ways, 21)["sources"][1];
    let mut least = [1.0_f64; 2];
    for (at, frame) in [18, 22, 21].into_iter().enumerate() {
        let scale = conversion(frame).await["plan"]["scale"].clone();
        let scale = [&scale["x"]["value"], &scale["y"]["value"]].map(|value| value.as_f64().expect("a number"));
        assert_eq!(here["after"][at], json!(scale));
        least = [least[0].min(scale[0]), least[1].min(scale[1])];
    }
    assert_eq!([&here["detail"]["x"]["value"], &here["detail"]["y"]["value"]], [&json!(least[0]), &json!(least[1])]);
    // The open gate is 3164 high; UHD cuts some of it, 1350 lines of a portrait show all.
    assert_eq!((&here["direct"]["y"]["exact"], &here["detour"]), (&json!("675/1582"), &json!(true)));
    assert_eq!(here["lacks"], 18);
    assert!(
        conversion(21).await["findings"].as_array().is_some_and(|all| all.iter().any(|each| each["code"] == "detour"))
    );

    // Wrong ways are refused with the reason.
    let send =
        |frame: i64, through: Value| json!({ "edit": "set_frames", "frames": [frame], "set": { "through": through } });
    for (frame, through, says) in
        [(18, json!(21), "made from this frame"), (18, json!(18), "made from itself"), (17, json!(99), "no such frame")]
    {
        let refused = server.post("/projects/1/edits", &send(frame, through)).await.refusal(422);
        assert_eq!(refused["errors"][0]["pointer"], "/set/through");
        assert!(refused["detail"].as_str().is_some_and(|detail| detail.contains(says)), "{refused}");
    }
    let values =
        |name: &str, through: i64| json!({ "name": name, "geometry": { "raster": [640, 360] }, "through": through });
    server.post("/projects/1/frames", &values("lost", 2)).await.refusal(422);
    let added = server.post("/projects/1/frames", &values("small", 21)).await.ok();
    assert_eq!(added["values"]["through"], 21);
    // A working frame that is deleted cuts the way; undone, it is whole again.
    server.delete("/projects/1/frames/22", 1).await;
    let cut = server.get("/projects/1/ways").await.ok();
    assert_eq!((&way(&cut, 21)["way"], &way(&cut, 21)["broken"]), (&json!([21]), &json!(true)));
    let head = server.get("/projects/1/history/head").await.ok();
    server.post("/projects/1/history/go", &json!({ "from": head["at"], "to": head["undo"]["to"] })).await.ok();
    assert_eq!(way(&server.get("/projects/1/ways").await.ok(), 21)["way"], json!([18, 22, 21]));
}

#[tokio::test]
async fn what_chosen_frames_have_in_common() {
    let server = Server::demo();
    let all = server.get("/projects/1/sources/2/common").await.ok();
    let two = server.get("/projects/1/sources/2/common?frames=17,22").await.ok();
    assert_eq!((all["windows"].as_array().map(Vec::len), two["windows"].as_array().map(Vec::len)), (Some(7), Some(2)));
    assert_eq!(two["windows"][1], all["windows"][5]);
    let share = |common: &Value| common["every_share"]["value"].as_f64().expect("a share");
    assert!(share(&two) > share(&all));
    for wrong in ["99", "17,x", ""] {
        let refused = server.get(&format!("/projects/1/sources/2/common?frames={wrong}")).await.refusal(422);
        assert_eq!(refused["errors"][0]["pointer"], "/frames");
    }
}
