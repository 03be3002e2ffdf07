//! Proof: outcomes compared and measured, what is taken, and the whole board.

use std::time::Duration;

use serde_json::{Value, json};

use crate::support::{Browser, Server};

/// A project with a camera that takes the chart, and two frames.
async fn charted(server: &Server) -> (String, Value, [Value; 2]) {
    let project = server.post("/projects", &json!({ "name": "Proof", "method": "fill" })).await.ok()["id"].to_string();
    let base = format!("/projects/{project}");
    let camera = json!({
        "name": "A001", "geometry": { "raster": [960, 540], "rotation": 180 }, "still": { "scene": "chart" },
    });
    let source = server.post(&format!("{base}/sources"), &camera).await.ok()["id"].clone();
    let mut frames = Vec::new();
    for (name, raster) in [("Large", [1600, 900]), ("Scope", [1024, 428])] {
        let frame = json!({ "name": name, "geometry": { "raster": raster } });
        frames.push(server.post(&format!("{base}/frames"), &frame).await.ok()["id"].clone());
    }
    let [large, scope] = frames.try_into().expect("two");
    (base, source, [large, scope])
}

fn number(value: &Value) -> f64 {
    value.as_f64().unwrap_or_else(|| panic!("no number: {value}"))
}

#[tokio::test]
async fn outcomes_are_measured_and_a_way_is_taken() {
    let server = Server::empty();
    let (base, source, [large, _]) = charted(&server).await;
    let conversion = format!("{base}/conversions/{source}/{large}");
    let readings = |variant: Value| {
        let (server, conversion) = (&server, &conversion);
        async move { server.post(&format!("{conversion}/readings"), &json!({ "variant": variant })).await.ok() }
    };
    let lanczos = readings(json!({ "filter": "lanczos3" })).await;
    let bilinear = readings(json!({ "filter": "bilinear" })).await;
    let sharp = readings(json!({ "filter": "lanczos3", "amount": "1", "radius": "1.2" })).await;
    assert_eq!(lanczos["how"], "Lanczos, one step");
    assert_eq!(sharp["how"], "Lanczos, one step, sharpened 1 at 1.2 px");
    let width = |reading: &Value| number(&reading["edge"]["width"]);
    assert!(width(&bilinear) > width(&lanczos) && width(&lanczos) > width(&sharp), "{lanczos} {bilinear} {sharp}");
    assert!(number(&bilinear["edge"]["half"]) < number(&lanczos["edge"]["half"]));
    assert!(number(&sharp["edge"]["ringing"]) > number(&bilinear["edge"]["ringing"]) + 2.0);
    for reading in [&lanczos, &bilinear, &sharp] {
        assert!((number(&reading["ring"]["roundness"]) - 1.0).abs() < 0.002, "{reading}");
        assert!(number(&reading["ring"]["off"]) < 0.5, "{reading}");
        assert_eq!((&reading["black"], &reading["planned_black"]), (&json!([0, 0, 0, 0]), &json!([0, 0, 0, 0])));
    }
    // By another method: bars are where they are planned, and a stretched circle is as little round as planned.
    let fit = readings(json!({ "filter": "area", "method": "native" })).await;
    assert_eq!((&fit["black"], &fit["planned_black"]), (&json!([320, 180, 320, 180]), &json!([320, 180, 320, 180])));
    // An edge that somebody marks, and a mark in which there is none.
    let marked = |mark: Value| {
        let (server, conversion) = (&server, &conversion);
        async move { server.post(&format!("{conversion}/readings"), &json!({ "mark": mark })).await }
    };
    let edge = lanczos["mark"].as_array().expect("a mark").clone();
    let same = json!({ "left": edge[0], "top": edge[1], "width": edge[2], "height": edge[3] });
    assert_eq!(marked(same).await.ok()["edge"], lanczos["edge"]);
    let none = marked(json!({ "left": 5000, "top": 0, "width": 20, "height": 20 })).await.ok();
    assert_eq!((&none["edge"], &none["no_edge"]), (&Value::Null, &json!("the mark lies outside the picture")));
    marked(json!({ "left": -1, "top": 0, "width": 20 })).await.refusal(422);
    for (query, pointer) in [("amount=9", "/amount"), ("filter=best", "/filter"), ("radius=0.1&amount=1", "/radius")] {
        let refused = server.get(&format!("{conversion}/outcome?{query}")).await.refusal(422);
        assert_eq!(refused["errors"][0]["pointer"], pointer, "{refused}");
    }
    // What is taken counts from then on where nothing else is asked for, and undo takes it back.
    let taken = json!({ "filter": "mitchell", "steps": "whole_first", "sharpening": { "amount": "0.4" } });
    let edit = json!({ "edit": "set_resampling", "conversions": [[source, large]], "taken": taken });
    let done = server.post(&format!("{base}/edits"), &edit).await.ok();
    assert_eq!(done["label"], "Take Mitchell, whole enlargement first, sharpened 0.4 at 1 px on A001 into Large");
    assert_eq!(readings(json!({})).await["how"], "Mitchell, whole enlargement first, sharpened 0.4 at 1 px");
    let kept = server.get(&conversion).await.ok()["choice"]["taken"].clone();
    assert_eq!((&kept["filter"], &kept["sharpening"]["radius"]), (&json!("mitchell"), &json!("1")));
    let head = server.get(&format!("{base}/history/head")).await.ok();
    let go = json!({ "from": head["at"], "to": head["undo"]["to"] });
    server.post(&format!("{base}/history/go"), &go).await.ok();
    assert_eq!(readings(json!({})).await["how"], "Lanczos, one step");
}

#[tokio::test]
async fn a_board_is_proved_and_can_be_stopped() {
    let server = Server::empty();
    let (base, source, [large, _]) = charted(&server).await;
    let begun = server.post(&format!("{base}/proofs"), &json!({})).await;
    assert_eq!(begun.status.as_u16(), 202);
    let id = begun.ok()["id"].as_u64().expect("a number");
    let over = |id: u64| {
        let server = &server;
        async move {
            loop {
                let state = server.get(&format!("/proofs/{id}")).await.ok();
                if !matches!(state["state"].as_str(), Some("waiting" | "working")) {
                    return state;
                }
                tokio::time::sleep(Duration::from_millis(50)).await;
            }
        }
    };
    let state = over(id).await;
    assert_eq!((&state["state"], &state["done"]), (&json!("ready"), &json!(2)), "{state}");
    assert_eq!(state["result"]["differs"], json!([]), "{state}");
    let first = &state["result"]["conversions"][0];
    assert_eq!((&first["source"], &first["frame"]), (&source, &large));
    assert!(number(&first["less_round"]) < 1.0, "{state}");
    // One that is stopped ends as stopped, whether it has begun or not.
    let id = server.post(&format!("{base}/proofs"), &json!({})).await.ok()["id"].as_u64().expect("a number");
    server.send(server.request(http::Method::DELETE, &format!("/proofs/{id}")), "").await.ok();
    let state = over(id).await;
    assert!(matches!(state["state"].as_str(), Some("stopped" | "ready")), "{state}");
    // What waits is bounded: who asks for too much is told what to do about it.
    let mut waiting = Vec::new();
    let refused = loop {
        let answer = server.post(&format!("{base}/proofs"), &json!({})).await;
        if !answer.status.is_success() {
            break answer.refusal(429);
        }
        waiting.push(answer.ok()["id"].clone());
        assert!(waiting.len() < 100);
    };
    assert_eq!(refused["hint"], "Wait until some are done, or stop some.");
    for id in waiting {
        server.send(server.request(http::Method::DELETE, &format!("/proofs/{id}")), "").await.ok();
    }
    server.get("/proofs/9999").await.refusal(404);
    server.post("/projects/99/proofs", &json!({})).await.refusal(404);
}

#[tokio::test]
async fn variants_are_compared_in_one_place_and_one_is_taken() {
    let server = Server::empty();
    let (base, source, [large, scope]) = charted(&server).await;
    let browser = Browser::at(server.url()).await;
    browser.open(&format!("{base}/board/{source}/{large}")).await;
    browser.says("In the frame").await;
    browser.keys("r").await;
    browser.says("Same place, pixel by pixel").await;
    // The source and three ways to enlarge, each measured.
    browser.until("document.querySelectorAll('.card-of').length === 4").await;
    browser.until("!document.body.innerText.includes('Carrying out')").await;
    browser
        .until("[...document.querySelectorAll('.readings tbody tr:first-child td')].every((cell) => Number(cell.innerText) > 0)")
        .await;
    browser.until("document.querySelectorAll('.response .curve').length === 3").await;
    // Every loupe shows something other than one colour, at the edge.
    let shades = "[...document.querySelectorAll('.card-of canvas')].every((canvas) => { \
        const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height); \
        return new Set(data.filter((_, at) => at % 4 === 0)).size > 2; })";
    browser.until(shades).await;
    // A wrong amount says what would be right; a right one is a variant at once.
    browser.fill("sharpened", "9").await;
    browser.says("Must be from 0 to 5, such as 0.4").await;
    browser.fill("sharpened", "0.7").await;
    browser.keys("\u{e007}").await;
    browser.says("Lanczos, sharpened 0.7").await;
    browser.press("Add a variant").await;
    browser.until("document.querySelectorAll('.card-of').length === 5").await;
    browser.press("Difference").await;
    browser.says("what differs, four times as strong").await;
    browser.press("Switch").await;
    browser.see("h1").await.click().await.expect("pressed");
    browser.keys("c").await;
    browser.says("Source is shown").await;
    browser.keys("1").await;
    browser.says("A Lanczos, sharpened 0.7").await;
    browser.press("Take it").await;
    browser.says("Take Lanczos, one step, sharpened 0.7 at 1 px on A001 into Large.").await;
    browser.until("document.querySelector('.card-of.v-A small').innerText === 'taken'").await;
    // An edge is marked by hand: what is flat has none.
    browser.press("Mark an edge").await;
    browser.drag(".proof-whole svg.marking", 60.0, 12.0, 3).await;
    browser.says("Remove mark").await;
    browser.press("Remove mark").await;
    // On to the next frame, and back to the framing.
    browser.see("h1").await.click().await.expect("pressed");
    browser.keys("]").await;
    browser.says("1024×428").await;
    assert_eq!(browser.path().await, format!("{base}/board/{source}/{scope}/proof"));
    browser.keys("\u{e00c}").await;
    browser.says("In the frame").await;
    // The whole board.
    browser.open(&format!("{base}/board")).await;
    browser.press("Prove all").await;
    browser.press("Prove 2 conversions").await;
    browser.says("All 2 conversions come out as planned.").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_source_is_proved_by_itself() {
    let server = Server::empty();
    let (base, source, [large, _]) = charted(&server).await;
    let alone = |percent: u32| format!("{base}/sources/{source}/alone/{percent}");
    let shape = server.get(&alone(150)).await.ok();
    assert_eq!((&shape["raster"], &shape["scale"]["x"]["value"]), (&json!([1440, 810]), &json!(1.5)));
    // Its outcome is that of a conversion into a frame of the same size, with the same readings.
    let own = json!({ "name": "Own", "geometry": { "raster": [1440, 810] } });
    let own = server.post(&format!("{base}/frames"), &own).await.ok()["id"].clone();
    let conversion = format!("{base}/conversions/{source}/{own}");
    let picture = server.get(&format!("{}/outcome?filter=mitchell&amount=0.5", alone(150))).await;
    assert_eq!((picture.status.as_u16(), picture.kind.as_str()), (200, "image/png"));
    assert!(picture.bytes == server.get(&format!("{conversion}/outcome?filter=mitchell&amount=0.5")).await.bytes);
    let asked = json!({ "variant": { "filter": "bilinear" } });
    let readings = server.post(&format!("{}/readings", alone(150)), &asked).await.ok();
    assert_eq!(readings, server.post(&format!("{conversion}/readings"), &asked).await.ok());
    assert!(number(&readings["edge"]["width"]) > 1.0, "{readings}");
    // What is taken for a conversion is not asked here.
    let edit = json!({
        "edit": "set_resampling", "conversions": [[source, large]], "taken": { "filter": "nearest" },
    });
    server.post(&format!("{base}/edits"), &edit).await.ok();
    assert_eq!(server.post(&format!("{}/readings", alone(100)), &json!({})).await.ok()["how"], "Lanczos, one step");
    for percent in [9, 401] {
        for path in ["", "/outcome"] {
            let refused = server.get(&format!("{}{path}", alone(percent))).await.refusal(422);
            assert!(refused["detail"].as_str().expect("text").contains("10 to 400 percent"), "{refused}");
        }
    }
    let wide = json!({ "name": "W", "geometry": { "raster": [40000, 20] } });
    let wide = server.post(&format!("{base}/sources"), &wide).await.ok()["id"].clone();
    server.get(&format!("{base}/sources/{wide}/alone/400")).await.refusal(422);
    server.get(&format!("{base}/sources/{wide}/alone/100/outcome")).await.refusal(422);
    server.get(&format!("{base}/sources/99/alone/100")).await.refusal(404);

    let browser = Browser::at(server.url()).await;
    browser.open(&format!("{base}/footage?source={source}")).await;
    browser.press("Proof").await;
    browser.says("960×540, pixels at 100 × 100 %").await;
    browser.until("document.querySelectorAll('.response .curve').length === 3").await;
    browser.fill("sharpened", "0.7").await;
    browser.keys("\u{e007}").await;
    browser.says("Lanczos, sharpened 0.7").await;
    // At twice its size the variants are those that were set up.
    browser.field("How large").await.select_by_value("200").await.expect("a choice");
    browser.says("1920×1080, pixels at 200 × 200 %").await;
    browser.says("Lanczos, sharpened 0.7").await;
    browser.press("Take it into 3 frames").await;
    browser.says("Take Lanczos, one step, sharpened 0.7 at 1 px on 3 conversions").await;
    let taken = server.get(&conversion).await.ok()["choice"]["taken"]["sharpening"]["amount"].clone();
    assert_eq!(taken, "0.7");
    browser.keys("\u{e00c}").await;
    browser.says("Choose a still").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_source_without_a_picture_is_offered_the_chart() {
    let server = Server::empty();
    let (base, _, [large, _]) = charted(&server).await;
    let bare = json!({ "name": "B002", "geometry": { "raster": [960, 540] } });
    let bare = server.post(&format!("{base}/sources"), &bare).await.ok()["id"].clone();
    let browser = Browser::at(server.url()).await;
    browser.open(&format!("{base}/board/{bare}/{large}/proof")).await;
    browser.says("B002 has no picture yet").await;
    browser.press("Use the chart").await;
    browser.says("Same place, pixel by pixel").await;
    browser.close().await;
}
