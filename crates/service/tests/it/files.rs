//! Projects, libraries and lists out of the program and in again.

use http::Method;
use serde_json::{Value, json};

use crate::support::Server;

/// A board without the numbers of its records, which are new after an import.
fn plans(board: &Value) -> Value {
    let mut board = board.clone();
    // Ways name frames by their numbers: here by their places.
    let numbers: Vec<Value> =
        board["frames"].as_array().expect("a list").iter().map(|frame| frame["id"].clone()).collect();
    for frame in board["frames"].as_array_mut().expect("a list") {
        let through = &mut frame["values"]["through"];
        *through = json!(numbers.iter().position(|number| number == through));
    }
    // And views the sphere that they look out of.
    let numbers: Vec<Value> =
        board["sources"].as_array().expect("a list").iter().map(|source| source["id"].clone()).collect();
    for source in board["sources"].as_array_mut().expect("a list") {
        if let Some(sphere) = source["values"].get_mut("view").and_then(|view| view.get_mut("sphere")) {
            *sphere = json!(numbers.iter().position(|number| number == sphere));
            // By the number of that it is known, too.
            source["picture"].take();
        }
    }
    for list in ["sources", "frames"] {
        for record in board[list].as_array_mut().expect("a list") {
            record["id"].take();
            record["version"].take();
        }
    }
    for crossing in board["crossings"].as_array_mut().expect("crossings") {
        for number in ["source", "frame", "version"] {
            crossing[number].take();
        }
    }
    for number in ["project", "revision", "source_ids", "frame_ids"] {
        board[number].take();
    }
    board
}

async fn board(server: &Server, project: &Value) -> Value {
    server.get(&format!("/projects/{project}/board")).await.ok()
}

#[tokio::test]
async fn a_project_goes_out_and_comes_in_the_same() {
    let server = Server::demo();
    let exported = server.get("/projects/1/export").await.ok();
    assert_eq!((&exported["format"], &exported["format_version"]), (&json!("ratiomet project"), &json!(9)));
    let elsewhere = Server::empty();
    let imported = elsewhere.post("/projects/import", &exported).await;
    assert_eq!(imported.status, 201);
    let imported = imported.ok();
    assert_eq!(imported["values"]["name"], "The Kiln at Saltreed");
    assert_eq!(plans(&board(&elsewhere, &imported["id"]).await), plans(&board(&server, &json!(1)).await));
    let again = elsewhere.get(&format!("/projects/{}/export", imported["id"])).await.ok();
    assert_eq!(again, exported);
    // It is a project of its own, with a history of its own.
    let head = elsewhere.get(&format!("/projects/{}/history/head", imported["id"])).await.ok();
    assert_eq!(head["undo"], json!(null));
}

#[tokio::test]
async fn a_copy_goes_its_own_way() {
    let server = Server::demo();
    let copy = server.post("/projects/1/duplicate", &json!({})).await.ok();
    assert_ne!(copy["values"]["name"], "The Kiln at Saltreed");
    assert_eq!(plans(&board(&server, &copy["id"]).await), plans(&board(&server, &json!(1)).await));
    let source = board(&server, &copy["id"]).await["sources"][0]["id"].clone();
    let change = json!({ "edit": "set_sources", "sources": [source], "set": { "squeeze": "1.1" } });
    server.post(&format!("/projects/{}/edits", copy["id"]), &change).await.ok();
    assert_eq!(server.get("/projects/1/sources/1").await.ok()["values"]["geometry"]["squeeze"], "2");
    server.post("/projects/999/duplicate", &json!({})).await.refusal(404);
}

#[tokio::test]
async fn a_bad_file_brings_in_nothing() {
    let server = Server::demo();
    let good = server.get("/projects/1/export").await.ok();
    let text = good.to_string();
    let import = async |text: &str| server.send(server.request(Method::POST, "/projects/import"), text).await;
    import(&text[..text.len() / 2]).await.refusal(400);
    import("").await.refusal(400);
    import("PK\u{3}\u{4}").await.refusal(400);
    import("{}").await.refusal(422);
    let case = async |change: &dyn Fn(&mut Value), at: &str| {
        let mut bad = good.clone();
        change(&mut bad);
        let refused = import(&bad.to_string()).await.refusal(422);
        let errors = refused["errors"].as_array().expect("errors");
        assert!(errors.iter().any(|error| error["pointer"] == at), "{at} is not in {errors:?}");
    };
    case(&|file| file["format_version"] = json!(10), "/format_version").await;
    case(&|file| file["more"] = json!(1), "/more").await;
    case(&|file| file["sources"][3]["id"] = file["sources"][2]["id"].clone(), "/sources/3/id").await;
    case(&|file| file["conversions"][0]["frame"] = json!(999), "/conversions/0/frame").await;
    case(&|file| file["frames"][0]["values"]["geometry"]["step"] = json!(3), "/frames/0/values/geometry/step").await;
    let deep = format!("{}{}", "[".repeat(100_000), "]".repeat(100_000));
    assert!(import(&deep).await.status.is_client_error());
    // Larger than any project is.
    let large = format!("{{\"note\":\"{}\"}}", "x".repeat(33 << 20));
    import(&large).await.refusal(413);
    assert_eq!(server.get("/projects").await.ok().as_array().map(Vec::len), Some(1));
}

#[tokio::test]
async fn the_house_library_goes_from_house_to_house() {
    let server = Server::demo();
    let frame = json!({ "name": "UHD upright 23.976", "geometry": { "raster": [2160, 3840] }, "rate": "23.976" });
    let house = json!({ "group": "Festivals", "frame": frame });
    let kept = server.post("/library/frames", &house).await;
    assert_eq!(kept.status, 201);
    let kept = kept.ok();
    let border = json!({ "name": "Desk recorder", "raster": [2560, 1440], "insets": { "left": 64, "top": 48, "right": 64, "bottom": 24 } });
    server.post("/library/active-pictures", &border).await.ok();
    server.post("/library/active-pictures", &json!({ "name": "4:3 guide", "guide": "4:3" })).await.ok();
    let refused = server.post("/library/active-pictures", &json!({ "name": "Bad", "guide": "0" })).await.refusal(422);
    assert_eq!(refused["errors"][0]["pointer"], "/guide");

    let file = server.get("/library/export").await.ok();
    let elsewhere = Server::empty();
    assert_eq!(elsewhere.post("/library/import", &file).await.ok(), json!({ "added": 3, "known": 0 }));
    // A second time all of it is known, and nothing is doubled.
    assert_eq!(elsewhere.post("/library/import", &file).await.ok(), json!({ "added": 0, "known": 3 }));
    assert_eq!(elsewhere.get("/library/export").await.ok(), file);
    let bad = json!({ "format": "ratiomet library", "format_version": 1, "frames": [house, { "group": "" }] });
    elsewhere.post("/library/import", &bad).await.refusal(422);
    assert_eq!(elsewhere.get("/library/export").await.ok(), file);

    // Changed, taken out, and brought back by undo.
    let path = format!("/library/frames/{}", kept["id"]);
    let mut other = house.clone();
    other["group"] = json!("House");
    assert_eq!(server.put(&path, 1, &other).await.ok()["values"]["group"], "House");
    server.put(&path, 1, &house).await.refusal(412);
    assert_eq!(server.delete(&path, 2).await.status, 204);
    let library = server.get("/library").await.ok();
    assert_eq!(library["frames"], json!([]));
    let head = &library["history"];
    server.post("/library/history/go", &json!({ "from": head["at"], "to": head["undo"]["to"] })).await.ok();
    assert_eq!(server.get("/library").await.ok()["frames"][0]["values"]["group"], "House");
}

#[tokio::test]
async fn published_frames_have_their_names_and_sources() {
    let server = Server::empty();
    let library = server.get("/library").await.ok();
    let groups = library["published"].as_array().expect("groups");
    let mut names = Vec::new();
    for group in groups {
        for frame in group["frames"].as_array().expect("frames") {
            assert!(frame["source"].as_str().is_some_and(|source| source.len() > 5), "{frame}");
            names.push(frame["values"]["name"].as_str().expect("a name").to_owned());
            // Each can be taken as it stands.
            server.post("/shape/frame", &frame["values"]).await.ok();
        }
    }
    for name in ["UHD", "HD", "Cinema scope 4K", "Cinema flat 2K"] {
        assert!(names.iter().any(|each| each == name), "{name} is not in {names:?}");
    }
    assert!(groups.len() >= 5, "{groups:?}");
}

#[tokio::test]
async fn frames_are_started_from_others() {
    let server = Server::demo();
    let scope = server.get("/projects/1/frames/17").await.ok()["values"].clone();
    let turned = server.post("/shape/frame/turned", &scope).await.ok();
    assert_eq!(turned["geometry"]["raster"], json!([1716, 4096]));
    let phone = server.get("/projects/1/sources/4").await.ok()["values"].clone();
    let as_footage = server.post("/shape/source/frame", &phone).await.ok();
    assert_eq!(as_footage["geometry"]["raster"], json!([1080, 1920]));
    assert_eq!(as_footage["rate"], phone["rate"]);
    server.post("/shape/source/frame", &json!({ "name": "x" })).await.refusal(422);
}

#[tokio::test]
async fn lists_are_read_and_written() {
    let server = Server::demo();
    let csv = server.get("/projects/1/sources.csv").await;
    assert!(csv.kind.starts_with("text/csv"), "{}", csv.kind);
    let csv = csv.ok().as_str().expect("text").to_owned();
    assert!(csv.starts_with("name,size,pixel aspect,squeeze,insets"), "{csv}");
    assert!(csv.is_ascii() && csv.contains("2880x2160"));
    let reading = server.post("/list", &json!({ "text": csv })).await.ok();
    assert_eq!((&reading["good"], &reading["doubtful"], &reading["bad"]), (&json!(18), &json!(0), &json!(0)));
    let values: Vec<_> = reading["rows"].as_array().expect("rows").iter().map(|row| row["values"].clone()).collect();
    server.post("/projects", &json!({ "name": "Again" })).await.ok();
    server.post("/projects/2/edits", &json!({ "edit": "add_sources", "values": values })).await.ok();
    let (before, after) = (board(&server, &json!(1)).await, board(&server, &json!(2)).await);
    for (before, after) in
        before["sources"].as_array().expect("some").iter().zip(after["sources"].as_array().expect("some"))
    {
        assert_eq!(before["shape"], after["shape"], "{}", before["values"]["name"]);
    }
    // A cell of ten megabytes is one bad row among good ones.
    let text = format!("name,size\nA,16x9\nB,{}\nC,16x9\n", "9".repeat(10 << 20));
    let reading = server.post("/list", &json!({ "text": text })).await.ok();
    assert_eq!((&reading["good"], &reading["bad"]), (&json!(2), &json!(1)));
    let large = json!({ "text": "x".repeat(33 << 20) });
    server.post("/list", &large).await.refusal(413);
    server.post("/list", &json!({ "text": null })).await.refusal(422);
}
