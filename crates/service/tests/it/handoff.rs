//! Handing over: the screen, the API behind it, and the same without a browser.

use std::time::{Duration, Instant};

use serde_json::{Value, json};

use crate::support::{Browser, Server, program};

async fn ready(server: &Server, id: u64) -> Value {
    let start = Instant::now();
    loop {
        let state = server.get(&format!("/handoffs/{id}")).await.ok();
        if state["state"] != "working" {
            return state;
        }
        assert!(start.elapsed() < Duration::from_secs(120), "{state}");
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

/// A project with one conversion that blocking: the picture is slid off its frame.
async fn stopping(server: &Server) {
    server.post("/projects", &json!({ "name": "Off edge", "method": "fill" })).await.ok();
    let source = json!({ "name": "A001", "geometry": { "raster": [1920, 1080] } });
    let frame = json!({ "name": "Square", "geometry": { "raster": [1080, 1080] } });
    server.post("/projects/1/edits", &json!({ "edit": "add_sources", "values": [source] })).await.ok();
    server.post("/projects/1/edits", &json!({ "edit": "add_frames", "values": [frame] })).await.ok();
    let board = server.get("/projects/1/board").await.ok();
    let pair = json!([board["sources"][0]["id"], board["frames"][0]["id"]]);
    // To many at once it would stop where the picture ends.
    let own = json!({ "own": { "method": "fill", "shift": ["500", "0"] } });
    server.put(&format!("/projects/1/conversions/{}/{}", pair[0], pair[1]), 0, &own).await.ok();
}

#[tokio::test]
async fn an_archive_is_the_same_from_the_screen_and_from_the_command_line() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = folder.path().join("demo.db");
    let server = Server::start_on("demo", &data, &[]);
    let wanted = json!({ "sources": [1, 5], "frames": [17, 19], "formats": ["csv", "json", "fdl", "otio", "recipes", "signals", "pdf"] });
    let preview = server.post("/projects/1/handoff/preview", &wanted).await.ok();
    assert_eq!((&preview["conversions"], preview["files"].as_array().map(Vec::len)), (&json!(4), Some(9)));
    let begun = server.post("/projects/1/handoff", &wanted).await;
    assert_eq!(begun.status.as_u16(), 202);
    let id = begun.ok()["id"].as_u64().expect("a number");
    let state = ready(&server, id).await;
    assert_eq!(state["state"], "ready", "{state}");
    let archive = server.get(&format!("/handoffs/{id}/archive")).await;
    assert_eq!(archive.kind, "application/zip");
    let out = folder.path().join("out.zip");
    let output = program()
        .args(["export", "--project", "The Kiln at Saltreed", "--formats", "csv,json,fdl,otio,recipes,signals,pdf"])
        .args(["--sources", "A014 Furnace mouth,5", "--frames", "17,Broadcast 2.00", "--data"])
        .arg(&data)
        .arg("--out")
        .arg(&out)
        .output()
        .expect("it runs");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let bytes = std::fs::read(&out).expect("an archive");
    assert_eq!(state["bytes"].as_u64(), Some(bytes.len() as u64));
    assert_eq!(&bytes[..4], b"PK\x03\x04");
}

#[tokio::test]
async fn stops_stand_in_the_way_until_they_are_accepted() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = folder.path().join("a.db");
    let server = Server::start_on("serve", &data, &[]);
    stopping(&server).await;
    let preview = server.post("/projects/1/handoff/preview", &json!({})).await.ok();
    assert_eq!(preview["stops"][0]["code"], "off_edge");
    let refused = server.post("/projects/1/handoff", &json!({})).await.refusal(409);
    assert_eq!(refused["type"], "urn:ratiomet:problem:open_stops");
    let export = || {
        let out = folder.path().join("out.zip");
        program()
            .args(["export", "--project", "1", "--formats", "csv", "--data"])
            .arg(&data)
            .arg("--out")
            .arg(out)
            .output()
            .expect("it runs")
    };
    let output = export();
    assert_eq!(output.status.code(), Some(1));
    assert!(String::from_utf8_lossy(&output.stderr).contains("A001 into Square"));
    assert!(!folder.path().join("out.zip").exists());

    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/handoff").await;
    browser.says("1 blocking finding: fix or accept first").await;
    browser.until("[...document.querySelectorAll('button')].find(b => b.innerText === 'Hand off').disabled").await;
    browser.press("A001 into Square").await;
    browser.until("location.pathname.startsWith('/projects/1/board/')").await;

    let board = server.get("/projects/1/board").await.ok();
    let pair = json!([board["sources"][0]["id"], board["frames"][0]["id"]]);
    let judge = json!({ "edit": "judge_finding", "conversions": [pair], "code": "off_edge", "reason": "black at the side is wanted" });
    server.post("/projects/1/edits", &judge).await.ok();
    browser.open("/projects/1/handoff").await;
    browser.says("Nothing blocks this hand-off.").await;
    browser.says("1 point accepted").await;
    assert!(export().status.success());
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn everything_is_handed_over_from_the_screen() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.press("Hand-off").await;
    browser.says("126 conversions, 77 files").await;
    browser.says("camera_A014_Furnace_mouth.png").await;
    // Fewer sources, fewer formats: what will be written follows.
    // Twice where not everything was asked for: outcomes are many and large.
    for name in ["Select all", "Clear"] {
        let press = "[...document.querySelectorAll('.handoff legend button')].filter(button => button.innerText === 'NAME')\
            .forEach(button => button.click())";
        browser.run(&press.replace("NAME", name)).await;
    }
    browser.says("Nothing to write").await;
    browser.says("Choose at least one source.").await;
    for label in [
        "A014 Furnace mouth",
        "Festival scope",
        "Upright story",
        "ASC Framing Decision List",
        "Recipes",
        "Plan sheets, PDF",
    ] {
        let tick = format!(
            "[...document.querySelectorAll('.handoff label')].find(label => label.innerText.startsWith('{label}')).click()"
        );
        browser.run(&tick).await;
    }
    browser.says("2 conversions, 5 files").await;
    browser.press("Hand off").await;
    browser.says("Handed off.").await;
    browser.says("Download The_Kiln_at_Saltreed.zip again").await;
    let link = browser.run("return document.querySelector('.verdict a').getAttribute('href')").await;
    let archive = server.get(link.as_str().expect("a link").trim_start_matches("/api/v1")).await;
    assert_eq!(archive.kind, "application/zip");
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_hand_off_is_stopped_and_bad_wishes_are_told() {
    let server = Server::demo();
    let id = server.post("/projects/1/handoff", &json!({})).await.ok()["id"].as_u64().expect("a number");
    server.send(server.request(http::Method::DELETE, &format!("/handoffs/{id}")), "").await.ok();
    let state = ready(&server, id).await;
    assert_eq!(state["state"], "stopped", "{state}");
    server.get(&format!("/handoffs/{id}/archive")).await.refusal(409);
    server.get("/handoffs/999").await.refusal(404);
    let refused = server
        .post("/projects/1/handoff", &json!({ "formats": ["docx"], "chroma": "4:1:1", "sources": ["x"] }))
        .await
        .refusal(422);
    let named: Vec<_> = refused["errors"]
        .as_array()
        .expect("errors")
        .iter()
        .map(|error| error["pointer"].as_str().unwrap_or_default())
        .collect();
    assert_eq!(named, ["/sources/0", "/formats/0", "/chroma"]);
    server.post("/projects/99/handoff", &json!({})).await.refusal(404);
    let export = |arguments: &[&str]| program().arg("export").args(arguments).output().expect("it runs");
    let none = export(&["--data", "/nowhere/none.db", "--project", "x", "--out", "/nowhere/x.zip"]);
    assert!(!none.status.success() && String::from_utf8_lossy(&none.stderr).contains("there is no data file"));
}

#[tokio::test]
async fn a_timeline_of_somebody_else_takes_it_in() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = folder.path().join("demo.db");
    let server = Server::start_on("demo", &data, &[]);
    let timeline = json!({ "OTIO_SCHEMA": "Timeline.1", "theirs": true, "tracks": { "OTIO_SCHEMA": "Stack.1", "children": [
        { "OTIO_SCHEMA": "Clip.2", "name": "B003 Harbour wall", "metadata": { "grade": 3 } },
        { "OTIO_SCHEMA": "Clip.2", "name": "B003 Harbor walls.mov" } ] } });
    let file = folder.path().join("cut.otio");
    std::fs::write(&file, timeline.to_string()).expect("written");
    let out = folder.path().join("planned.otio");
    let output = program()
        .args(["export", "--project", "1", "--frames", "Square", "--data"])
        .arg(&data)
        .args(["--into".as_ref(), file.as_os_str(), "--out".as_ref(), out.as_os_str()])
        .output()
        .expect("it runs");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let planned: Value = serde_json::from_slice(&std::fs::read(&out).expect("a file")).expect("JSON");
    let metadata = &planned["tracks"]["children"][0]["metadata"];
    assert_eq!((&planned["theirs"], &metadata["grade"]), (&json!(true), &json!(3)));
    assert_eq!(metadata["ratiomet"]["placements"][0]["frame"], "Square");
    let none = server.post("/projects/1/handoff/into", &json!({ "text": "{}" })).await.refusal(422);
    assert_eq!(none["errors"][0]["pointer"], "/text");

    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/handoff").await;
    browser.says("Nothing blocks this hand-off.").await;
    let input = fantoccini::Locator::Css("[aria-label='A timeline or a framing list']");
    let input = browser.client.find(input).await.expect("an entry");
    input.send_keys(&file.display().to_string()).await.expect("a file");
    browser.says("Added 7 placements to cut.otio.").await;
    browser.says("B003 Harbor walls.mov did you mean B003 Harbour wall?").await;
    browser.says("Not in the file: A014 Furnace mouth").await;
    let wrong = folder.path().join("notes.json");
    std::fs::write(&wrong, "{}").expect("written");
    input.send_keys(&wrong.display().to_string()).await.expect("a file");
    browser.says("notes.json was not changed:").await;
    browser.console_is_empty().await;
    browser.close().await;
}
