//! Changes of many things at once through the API, and the history that they make.

use serde_json::{Value, json};

use crate::support::Server;

fn pointers(problem: &Value) -> Vec<&str> {
    let errors = problem["errors"].as_array().expect("errors");
    errors.iter().map(|error| error["pointer"].as_str().expect("a pointer")).collect()
}

async fn edit(server: &Server, body: Value) -> Value {
    server.post("/projects/1/edits", &body).await.ok()
}

/// A source of the demo project.
async fn source(server: &Server, id: i64) -> Value {
    server.get(&format!("/projects/1/sources/{id}")).await.ok()["values"].clone()
}

async fn go(server: &Server, turn: &str) -> Value {
    let head = server.get("/projects/1/history/head").await.ok();
    let body = json!({ "from": head["at"], "to": head[turn]["to"] });
    server.post("/projects/1/history/go", &body).await.ok()
}

#[tokio::test]
async fn a_preview_counts_and_changes_nothing() {
    let server = Server::demo();
    let before = server.get("/projects/1/export").await.ok();
    let change = json!({ "edit": "set_sources", "sources": [1, 2, 3, 8], "set": { "squeeze": "2" } });
    let would = server.post("/projects/1/edits/preview", &change).await.ok();
    assert_eq!(would["label"], "Squeeze 2 on 3 sources");
    assert_eq!((&would["changed"], &would["unchanged"], &would["step"]), (&json!(3), &json!(1), &json!(null)));
    assert_eq!(server.get("/projects/1/export").await.ok(), before);
    assert_eq!(server.get("/projects/1/history/head").await.ok()["undo"], json!(null));

    let done = edit(&server, change.clone()).await;
    assert!(done["step"].is_i64());
    for id in [1, 2, 3, 8] {
        assert_eq!(source(&server, id).await["geometry"]["squeeze"], "2");
    }
    // A second time there is nothing to do, and no step is made of it.
    let again = edit(&server, change).await;
    assert_eq!((&again["changed"], &again["step"]), (&json!(0), &json!(null)));
    assert_eq!(go(&server, "undo").await["redo"]["label"], "Squeeze 2 on 3 sources");
    assert_eq!(server.get("/projects/1/export").await.ok(), before);
}

#[tokio::test]
async fn only_what_is_given_is_set() {
    let server = Server::demo();
    let before = source(&server, 5).await;
    let set = json!({ "active": { "top": 20 }, "rate": null, "method": "fill", "signal_range": "full" });
    edit(&server, json!({ "edit": "set_sources", "sources": [5], "set": set })).await;
    let after = source(&server, 5).await;
    let old = &before["geometry"]["active"];
    let expected = json!({ "left": old["left"], "top": 20, "right": old["right"], "bottom": old["bottom"] });
    assert_eq!(after["geometry"]["active"], expected);
    assert_eq!((&after["rate"], &after["method"]), (&json!(null), &json!("fill")));
    assert_eq!((&after["scan"], &after["name"]), (&before["scan"], &before["name"]));
    edit(&server, json!({ "edit": "set_sources", "sources": [5], "set": { "method": null } })).await;
    assert_eq!(source(&server, 5).await["method"], json!(null));
}

#[tokio::test]
async fn a_bad_edit_changes_nothing_and_says_why() {
    let server = Server::demo();
    let before = server.get("/projects/1/export").await.ok();
    let case = async |body: Value, status: u16, at: &[&str]| {
        let refused = server.post("/projects/1/edits", &body).await.refusal(status);
        if status == 422 {
            assert_eq!(pointers(&refused), at, "{body}");
        }
        // The preview says the same.
        server.post("/projects/1/edits/preview", &body).await.refusal(status);
    };
    case(json!({}), 422, &["/edit"]).await;
    case(json!({ "edit": "paint" }), 422, &["/edit"]).await;
    case(json!({ "edit": "set_sources", "sources": [1], "set": { "colour": 1 } }), 422, &["/set/colour"]).await;
    case(json!({ "edit": "set_sources", "sources": 1, "set": {} }), 422, &["/sources"]).await;
    case(
        json!({ "edit": "set_sources", "sources": [1], "set": { "squeeze": "0", "rotation": 45, "rate": "x" } }),
        422,
        &["/set/squeeze", "/set/rotation", "/set/rate"],
    )
    .await;
    // Unknown, or of the other kind.
    case(json!({ "edit": "set_sources", "sources": [1, 999], "set": { "squeeze": "2" } }), 404, &[]).await;
    case(json!({ "edit": "set_sources", "sources": [17], "set": { "squeeze": "2" } }), 404, &[]).await;
    case(json!({ "edit": "turn_frames", "frames": [1] }), 404, &[]).await;
    case(json!({ "edit": "set_conversions", "conversions": [[1, 2]], "own": null }), 404, &[]).await;
    case(json!({ "edit": "set_conversions", "conversions": [[1]], "own": null }), 422, &["/conversions/0"]).await;
    case(json!({ "edit": "set_conversions", "conversions": [[1, 17]], "own": { "zoom": "0" } }), 422, &["/own/zoom"])
        .await;
    // Sound for all but one: none is changed.
    let insets = json!({ "edit": "set_sources", "sources": [1, 5], "set": { "active": { "left": 715 } } });
    let refused = server.post("/projects/1/edits", &insets).await.refusal(422);
    assert!(refused["errors"][0]["detail"].as_str().expect("words").contains("T1987"), "{refused}");
    assert_eq!(server.get("/projects/1/export").await.ok(), before);
}

#[tokio::test]
async fn methods_follow_the_nearest_that_has_one() {
    let server = Server::demo();
    let speaker = async |frame: i64| {
        let crossing = server.get(&format!("/projects/1/conversions/9/{frame}")).await.ok()["crossing"].clone();
        (crossing["speaker"].as_str().expect("a word").to_owned(), crossing["method"].as_str().expect("one").to_owned())
    };
    let said = |who: &str, method: &str| (who.to_owned(), method.to_owned());
    assert_eq!(speaker(17).await, said("frame", "fill"));
    assert_eq!(speaker(23).await, said("board", "fill"));
    let board = server.get("/projects/1").await.ok();
    let values = json!({ "name": board["values"]["name"], "method": "height" });
    server.put("/projects/1", board["version"].as_i64().expect("a version"), &values).await.ok();
    assert_eq!(speaker(23).await, said("board", "height"));
    edit(&server, json!({ "edit": "set_sources", "sources": [9], "set": { "method": "width" } })).await;
    assert_eq!(speaker(17).await, said("source", "width"));
    assert_eq!(speaker(23).await, said("source", "width"));
    let own = json!({ "edit": "set_conversions", "conversions": [[9, 17]], "own": { "method": "native" } });
    edit(&server, own).await;
    assert_eq!(speaker(17).await, said("own", "native"));
    // Each level can be returned to following.
    edit(&server, json!({ "edit": "set_conversions", "conversions": [[9, 17]], "own": null })).await;
    assert_eq!(speaker(17).await, said("source", "width"));
    edit(&server, json!({ "edit": "set_sources", "sources": [9], "set": { "method": null } })).await;
    assert_eq!(speaker(17).await, said("frame", "fill"));
    edit(&server, json!({ "edit": "set_frames", "frames": [17], "set": { "method": null } })).await;
    assert_eq!(speaker(17).await, said("board", "height"));
}

#[tokio::test]
async fn parts_of_a_framing_leave_the_others() {
    let server = Server::demo();
    let own = json!({ "method": "fit", "zoom": "1.25", "shift": ["-12.5", "3"] });
    edit(&server, json!({ "edit": "set_conversions", "conversions": [[2, 18], [3, 18]], "own": own })).await;
    let part = json!({ "edit": "set_framing_parts", "conversions": [[2, 18], [3, 18]], "set": { "method": "fill" } });
    assert_eq!(edit(&server, part).await["changed"], 2);
    for id in [2, 3] {
        let framing = server.get(&format!("/projects/1/conversions/{id}/18")).await.ok()["framing"].clone();
        assert_eq!(framing, json!({ "method": "fill", "zoom": "1.25", "shift": ["-12.5", "3"] }));
    }
}

#[tokio::test]
async fn a_stale_undo_is_refused_and_says_where_things_stand() {
    let server = Server::demo();
    let first = server.get("/projects/1/history/head").await.ok();
    edit(&server, json!({ "edit": "set_sources", "sources": [1], "set": { "squeeze": "1.5" } })).await;
    let stale = json!({ "from": first["at"], "to": first["at"] });
    let refused = server.post("/projects/1/history/go", &stale).await.refusal(412);
    assert_eq!(refused["current"], server.get("/projects/1/history/head").await.ok());
    let head = refused["current"].clone();
    for to in [json!(999_999), json!(-1)] {
        let answer = server.post("/projects/1/history/go", &json!({ "from": head["at"], "to": to })).await;
        assert!(answer.status.is_client_error(), "{answer:?}");
    }
    server.post("/projects/1/history/go", &json!({ "from": "x" })).await.refusal(422);
    server.get("/projects/999/history").await.refusal(404);
    assert_eq!(source(&server, 1).await["geometry"]["squeeze"], "1.5");
}

#[tokio::test]
async fn the_history_reads_like_a_diary() {
    let server = Server::demo();
    edit(&server, json!({ "edit": "set_sources", "sources": [1, 2, 3], "set": { "squeeze": "2", "rotation": 90 } }))
        .await;
    edit(&server, json!({ "edit": "turn_frames", "frames": [17, 18] })).await;
    edit(&server, json!({ "edit": "set_frames", "frames": [17], "set": { "rate": "23.976" } })).await;
    edit(&server, json!({ "edit": "delete", "sources": [4, 5], "frames": [19] })).await;
    go(&server, "undo").await;
    go(&server, "undo").await;
    edit(&server, json!({ "edit": "set_conversions", "conversions": [[1, 17], [2, 17]], "own": null })).await;
    let history = server.get("/projects/1/history").await.ok();
    let steps = history["steps"].as_array().expect("steps");
    let told: Vec<_> =
        steps.iter().map(|step| (step["label"].as_str().expect("words"), step["on_line"] == true)).collect();
    assert_eq!(
        told,
        [
            ("Follow on 1 conversion", true),
            ("Delete 2 sources and 1 frame", false),
            ("Rate 23.976 on Festival scope", false),
            ("Add 2 rotated frames", true),
            ("Squeeze 2, rotate 90° on 3 sources", true),
            ("The demo project", true),
        ]
    );
    // The branch that was left is still in reach.
    server.post("/projects/1/history/go", &json!({ "from": history["at"], "to": steps[1]["id"] })).await.ok();
    server.get("/projects/1/sources/4").await.refusal(410);
    assert_eq!(server.get("/projects/1/frames/17").await.ok()["values"]["rate"], "23.976");
}

#[tokio::test]
async fn the_bin_against_a_frame_is_grouped_by_kind() {
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let clip = |name: String, raster: [u32; 2], rate: &str| json!({ "name": name, "geometry": { "raster": raster }, "rate": rate });
    let mut values: Vec<_> = (0..11).map(|number| clip(format!("D{number:02}"), [5120, 2700], "25")).collect();
    values.extend((0..3).map(|number| clip(format!("P{number}"), [1920, 1080], "30")));
    values.push(clip("Match".to_owned(), [1080, 1920], "25"));
    edit(&server, json!({ "edit": "add_sources", "values": values })).await;
    let frame = json!({ "name": "Story", "geometry": { "raster": [1080, 1920] }, "rate": "25", "method": "fill" });
    let frame = server.post("/projects/1/frames", &frame).await.ok()["id"].clone();
    let bin = server.get(&format!("/projects/1/frames/{frame}/bin")).await.ok();
    assert_eq!((&bin["sources"], &bin["matching"]), (&json!(15), &json!(1)));
    assert_eq!(bin["differing"], json!([["size", 14], ["ratio", 14], ["orientation", 14], ["rate", 3]]));
    let groups = bin["groups"].as_array().expect("groups");
    let told: Vec<_> = groups
        .iter()
        .map(|group| (group["words"].as_str().expect("words"), group["sources"].as_array().map_or(0, Vec::len)))
        .collect();
    assert_eq!(told, [("5120×2700 25 fps", 11), ("1920×1080 30 fps", 3), ("1080×1920 25 fps", 1)]);
    // Phones that may lie sideways are never turned all at once; their rate can be settled for all.
    let remedy = &groups[1]["remedy"];
    assert_eq!(remedy["words"], "Play every frame, in slow motion");
    edit(&server, remedy["edit"].clone()).await;
    let bin = server.get(&format!("/projects/1/frames/{frame}/bin")).await.ok();
    assert_eq!(bin["groups"][1]["remedy"], json!(null));
    server.get("/projects/1/frames/999/bin").await.refusal(404);
}

#[tokio::test]
async fn conversions_tell_what_becomes_of_the_frames() {
    let server = Server::demo();
    let cadence = async |source: i64, frame: i64| {
        let crossing = server.get(&format!("/projects/1/conversions/{source}/{frame}")).await.ok()["crossing"].clone();
        (crossing["cadence"]["words"].clone(), crossing["findings"].as_array().cloned().unwrap_or_default())
    };
    // 24 at 24, and at 25.
    assert_eq!(cadence(1, 17).await.0, "frame for frame");
    let (words, findings) = cadence(1, 19).await;
    assert_eq!(words, "mixed, 24 into 25");
    assert!(!findings.contains(&json!("rate_mixed")), "these rates are fine in this project: {findings:?}");
    assert!(cadence(1, 20).await.1.contains(&json!("rate_mixed")));
    // Slow motion: every frame once.
    assert_eq!(cadence(9, 17).await.0, "20 % speed, 5 times as long");
    // An interlaced tape into progressive frames.
    assert!(cadence(5, 18).await.1.contains(&json!("interlaced")));
    // The calculation says the same as the crossing.
    let asked = json!({ "kind": "cadence", "from": "24", "to": "30", "intent": "real_time" });
    let answer = server.post("/calc", &asked).await.ok();
    assert_eq!((&answer["relation"], &answer["cycle"]), (&json!("mixed"), &json!([2, 1, 1, 1])));
    let refused = server.post("/calc", &json!({ "kind": "cadence", "from": "0", "to": "fast" })).await.refusal(422);
    assert_eq!(pointers(&refused), ["/from", "/to", "/intent"]);
}

#[tokio::test]
async fn every_and_some_frame_are_those_of_the_framings_that_count() {
    let server = Server::demo();
    let common = async || server.get("/projects/1/sources/2/common").await.ok();
    let before = common().await;
    assert_eq!(before["windows"].as_array().map(Vec::len), Some(7));
    // The same as the calculation says of these framings.
    let geometry = async |path: &str| server.get(path).await.ok()["values"]["geometry"].clone();
    let mut frames = Vec::new();
    for frame in 17..=23 {
        let framing = server.get(&format!("/projects/1/conversions/2/{frame}")).await.ok()["framing"].clone();
        frames.push(json!({ "delivery": geometry(&format!("/projects/1/frames/{frame}")).await, "framing": framing }));
    }
    let request = json!({ "kind": "common", "source": geometry("/projects/1/sources/2").await, "frames": frames });
    assert_eq!(server.calculated(&request).await, before);
    // A framing of its own changes what is left in common.
    let own = json!({ "method": "fill", "zoom": "2", "shift": ["300", "0"] });
    edit(&server, json!({ "edit": "set_conversions", "conversions": [[2, 20]], "own": own })).await;
    let after = common().await;
    let share = |common: &Value| common["every_share"]["value"].as_f64().expect("a share");
    assert!(share(&after) < share(&before), "{after}");
    server.get("/projects/1/sources/17/common").await.refusal(404);
    server.get("/projects/9/sources/1/common").await.refusal(404);
}

#[tokio::test]
async fn one_list_of_a_thousand_is_one_step() {
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let clip = |number| json!({ "name": format!("C{number}"), "geometry": { "raster": [1920, 1080] } });
    let values: Vec<_> = (0..1_000).map(clip).collect();
    let added = edit(&server, json!({ "edit": "add_sources", "values": values })).await;
    assert_eq!((&added["changed"], &added["label"]), (&json!(1000), &json!("Add 1000 sources")));
    assert_eq!(added["sources"].as_array().map(Vec::len), Some(1000));
    go(&server, "undo").await;
    assert_eq!(server.get("/projects/1").await.ok()["sources"], 0);
    go(&server, "redo").await;
    assert_eq!(server.get("/projects/1").await.ok()["sources"], 1000);
}
