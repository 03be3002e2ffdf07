//! The API: resources, versions, refusals, and who may call.

use std::io::Read;

use http::Method;
use serde_json::{Value, json};

use crate::support::{Answer, Server};

fn source(name: &str, raster: [u32; 2]) -> Value {
    json!({ "name": name, "geometry": { "raster": raster } })
}

fn pointers(problem: &Value) -> Vec<&str> {
    let errors = problem["errors"].as_array().expect("errors");
    errors.iter().map(|error| error["pointer"].as_str().expect("a pointer")).collect()
}

async fn project(server: &Server) -> i64 {
    server.post("/projects", &json!({ "name": "Test" })).await.ok()["id"].as_i64().expect("a number")
}

#[tokio::test]
async fn the_server_says_when_it_is_ready() {
    let server = Server::empty();
    assert_eq!(server.get("/health").await.ok()["status"], "ready");
}

#[tokio::test]
async fn a_calculation_is_the_same_through_http() {
    let server = Server::empty();
    let request = json!({"kind":"extraction","container":[3840,2160],"ratio":"2.35","keep":"width"});
    let answer = server.post("/calc", &request).await.ok();
    assert_eq!(answer["frame"], json!([3840, 1634]));
    assert_eq!(answer["exact"][1]["exact"], "76800/47");
    assert!(answer["exact"][1]["value"].as_f64().is_some_and(|value| (value - 76_800.0 / 47.0).abs() < 1e-9));

    let refused = server.send(server.request(Method::POST, "/calc"), "{").await.refusal(400);
    assert_eq!(pointers(&refused), [""]);
    let refused = server.post("/calc", &json!({"kind":"scale","from":[0,"x"],"too":1})).await.refusal(422);
    assert_eq!(pointers(&refused), ["/from/0", "/from/1", "/to", "/too"]);
}

#[tokio::test]
async fn projects_are_made_renamed_deleted_and_restored() {
    let server = Server::empty();
    let made = server.post("/projects", &json!({ "name": " Reed film " })).await;
    assert_eq!(made.status, 201);
    let made = made.ok();
    assert_eq!((&made["values"]["name"], &made["version"]), (&json!("Reed film"), &json!(1)));
    let path = format!("/projects/{}", made["id"]);
    let renamed = server.put(&path, 1, &json!({ "name": "Reed beds" })).await.ok();
    assert_eq!((&renamed["values"]["name"], &renamed["version"]), (&json!("Reed beds"), &json!(2)));
    // A stale name is refused, with what stands now.
    let stale = server.put(&path, 1, &json!({ "name": "Other" })).await.refusal(412);
    assert_eq!(stale["current"], renamed);
    server.delete(&path, 1).await.refusal(412);
    assert_eq!(server.delete(&path, 2).await.status, 204);
    server.get(&path).await.refusal(410);
    server.get(&format!("{path}/board")).await.refusal(410);
    server.post(&format!("{path}/sources"), &source("Late", [16, 9])).await.refusal(410);
    assert_eq!(server.get("/projects").await.ok(), json!([]));
    assert_eq!(server.post(&format!("{path}/restore"), &json!({})).await.ok()["values"]["name"], "Reed beds");
    assert_eq!(server.get("/projects").await.ok().as_array().map(Vec::len), Some(1));
}

#[tokio::test]
async fn a_source_keeps_the_spelling_it_was_given() {
    let server = Server::empty();
    let project = project(&server).await;
    let values = json!({
        "name": "Tape", "note": "two\nlines",
        "geometry": { "raster": [720, 576], "pixel_aspect": "12:11", "squeeze": 1.10,
                      "active": { "left": 8, "top": 4, "right": 10, "bottom": 6 }, "rotation": 270 },
        "rate": "30000/1001", "scan": "interlaced", "signal_range": "full"
    });
    let made = server.post(&format!("/projects/{project}/sources"), &values).await.ok();
    assert_eq!(made["values"]["geometry"]["pixel_aspect"], "12:11");
    // A JSON number is kept by its own digits.
    assert_eq!(made["values"]["geometry"]["squeeze"], "1.1");
    assert_eq!(made["shape"]["active"], json!({ "x": 8, "y": 4, "width": 702, "height": 566 }));
    assert_eq!(made["shape"]["upright"]["size"][1]["exact"], "4212/5");
    let read = server.get(&format!("/projects/{project}/sources/{}", made["id"])).await.ok();
    assert_eq!(read, made);
}

#[tokio::test]
async fn every_bad_field_is_named_at_once() {
    let server = Server::empty();
    let project = project(&server).await;
    let bad = json!({
        "name": "", "note": 5, "rate": "0",
        "geometry": { "raster": [0, 1.5], "squeeze": "NaN", "pixel_aspect": null, "rotation": 45,
                      "active": { "left": -1, "middle": 3 } },
        "scan": "both", "colour": "red"
    });
    let refused = server.post(&format!("/projects/{project}/sources"), &bad).await.refusal(422);
    let mut found = pointers(&refused);
    found.sort_unstable();
    assert_eq!(
        found,
        [
            "/colour",
            "/geometry/active/left",
            "/geometry/active/middle",
            "/geometry/pixel_aspect",
            "/geometry/raster/0",
            "/geometry/raster/1",
            "/geometry/rotation",
            "/geometry/squeeze",
            "/name",
            "/note",
            "/rate",
            "/scan",
        ]
    );
    let none = json!({ "name": "A", "geometry": { "raster": [100, 100], "active": { "left": 99 } } });
    let refused = server.post(&format!("/projects/{project}/sources"), &none).await.refusal(422);
    assert_eq!(pointers(&refused), ["/geometry/active"]);
    let masked = json!({ "name": "B", "geometry": { "raster": [10, 1000], "picture_ratio": "100", "step": 16 } });
    // One pixel of height is left: still a picture. With a coarser step nothing is.
    server.post(&format!("/projects/{project}/frames"), &masked).await.ok();
    let masked = json!({ "name": "B", "geometry": { "raster": [10, 992], "picture_ratio": "100", "step": 16 } });
    let refused = server.post(&format!("/projects/{project}/frames"), &masked).await.refusal(422);
    assert_eq!(pointers(&refused), ["/geometry/picture_ratio"]);
}

#[tokio::test]
async fn a_conversion_follows_its_frame_until_it_has_its_own() {
    let server = Server::empty();
    let project = project(&server).await;
    let source =
        server.post(&format!("/projects/{project}/sources"), &source("A", [3840, 2160])).await.ok()["id"].clone();
    let frame = json!({ "name": "Scope", "geometry": { "raster": [4096, 1716] }, "method": "fill" });
    let frame = server.post(&format!("/projects/{project}/frames"), &frame).await.ok();
    let path = format!("/projects/{project}/conversions/{source}/{}", frame["id"]);
    let first = server.get(&path).await.ok();
    assert_eq!(
        (&first["crossing"]["speaker"], &first["version"], &first["framing"]["method"]),
        (&json!("frame"), &json!(0), &json!("fill"))
    );

    let own = json!({ "own": { "method": "fit", "zoom": "1.05", "shift": ["-12.5"] } });
    let set = server.put(&path, 0, &own).await.ok();
    assert_eq!((&set["crossing"]["speaker"], &set["version"]), (&json!("own"), &json!(1)));
    assert_eq!(set["framing"], json!({ "method": "fit", "zoom": "1.05", "shift": ["-12.5", "0"] }));
    assert_eq!(server.put(&path, 0, &own).await.refusal(412)["current"], set);

    // A preview changes nothing.
    let preview = server.post(&format!("{path}/preview"), &json!({ "own": { "method": "stretch" } })).await.ok();
    assert_ne!(preview["plan"]["distortion"]["exact"], "0");
    assert_eq!(server.get(&path).await.ok(), set);

    // The plan is the one that the calculation gives.
    let request = json!({
        "kind": "conversion",
        "source": { "raster": [3840, 2160] },
        "delivery": frame["values"]["geometry"],
        "framing": set["framing"],
    });
    let (mut alone, mut in_project) = (server.calculated(&request).await, set["plan"].clone());
    // The bars of a fit that somebody has set are a note in a project.
    assert_eq!(
        (&alone["findings"][0]["severity"], &in_project["findings"][0]["severity"]),
        (&json!("caution"), &json!("note"))
    );
    for plan in [&mut alone, &mut in_project] {
        plan["findings"].take();
    }
    assert_eq!(alone, in_project);

    let follows = server.put(&path, 1, &json!({ "own": null })).await.ok();
    assert_eq!((&follows["crossing"]["speaker"], &follows["version"]), (&json!("frame"), &json!(2)));
    // What is left out stays.
    assert_eq!(server.put(&path, 2, &json!({})).await.ok(), follows);

    let board = server.get(&format!("/projects/{project}/board")).await.ok();
    assert_eq!(board["crossings"], json!([follows["crossing"]]));
}

#[tokio::test]
async fn deleted_parts_leave_the_board_and_come_back() {
    let server = Server::demo();
    let crossings = async || server.get("/projects/1/board").await.ok()["crossings"].as_array().map_or(0, Vec::len);
    assert_eq!(crossings().await, 18 * 7);
    assert_eq!(server.delete("/projects/1/sources/1", 1).await.status, 204);
    assert_eq!(crossings().await, 17 * 7);
    server.get("/projects/1/conversions/1/18").await.refusal(410);
    server.put("/projects/1/sources/1", 2, &source("A", [16, 9])).await.refusal(410);
    let history = server.get("/projects/1/history/head").await.ok();
    assert_eq!(history["undo"]["label"], "Delete A014 Furnace mouth");
    server.post("/projects/1/history/go", &json!({ "from": history["at"], "to": history["undo"]["to"] })).await.ok();
    assert_eq!(crossings().await, 18 * 7);
    // Its own framings are still there.
    assert_eq!(server.get("/projects/1/conversions/1/18").await.ok()["crossing"]["speaker"], "own");
    server.delete("/projects/1/frames/19", 1).await;
    assert_eq!(crossings().await, 18 * 6);
}

#[tokio::test]
async fn strangers_records_are_not_to_be_had() {
    let server = Server::demo();
    let other = project(&server).await;
    // A source of one project is unknown in another.
    server.get(&format!("/projects/{other}/sources/1")).await.refusal(404);
    server
        .put(&format!("/projects/{other}/frames/17"), 1, &json!({ "name": "X", "geometry": { "raster": [16, 9] } }))
        .await
        .refusal(404);
    server.get(&format!("/projects/{other}/conversions/1/17")).await.refusal(404);
    // The library keeps its history like a project, and is reached by its own doors alone.
    for path in ["/projects/0", "/projects/0/board", "/projects/0/history", "/projects/0/history/head"] {
        server.get(path).await.refusal(404);
    }
    let go = json!({ "from": 1, "to": 1 });
    assert_eq!(server.post("/projects/0/history/go", &go).await.refusal(404)["title"], "This project does not exist");
    let source = json!({ "name": "Ghost", "geometry": { "raster": [16, 9] } });
    server.post("/projects/0/sources", &source).await.refusal(404);
    server.delete("/projects/0", 1).await.refusal(404);
    for path in
        ["/projects/999", "/projects/x", "/projects/99999999999", "/projects/-1", "/nowhere", "/projects/1/sources/0"]
    {
        server.get(path).await.refusal(404);
    }
}

#[tokio::test]
async fn what_is_no_sound_request_is_refused() {
    let server = Server::demo();
    let send = async |request: http::request::Builder, body: &str| -> Answer { server.send(request, body).await };
    let plain = http::Request::builder().method("POST").uri(format!("{}/api/v1/calc", server.url()));
    send(plain, "{}").await.refusal(415);
    let large = format!("\"{}\"", "x".repeat(2 << 20));
    send(server.request(Method::POST, "/calc"), &large).await.refusal(413);
    send(server.request(Method::PATCH, "/projects/1"), "{}").await.refusal(405);
    // A write without a version, or with one that is no number.
    send(server.request(Method::PUT, "/projects/1"), r#"{"name":"X"}"#).await.refusal(428);
    send(server.request(Method::DELETE, "/projects/1").header("if-match", "*"), "").await.refusal(428);
    for body in ["", "nul", "[", "{\"a\":}", "{} {}", "\u{1}"] {
        send(server.request(Method::POST, "/projects"), body).await.refusal(400);
    }
    for body in ["null", "[]", "5", "\"x\"", "{\"name\":\"a\",\"name\":\"b\"}", "{\"name\":\"a\\nb\"}"] {
        send(server.request(Method::POST, "/projects"), body).await.refusal(422);
    }
    let deep = format!("{}{}", "[".repeat(100_000), "]".repeat(100_000));
    let refused = send(server.request(Method::POST, "/calc"), &deep).await;
    assert!([400, 422].contains(&refused.status.as_u16()), "{refused:?}");
    assert_eq!(server.get("/health").await.ok()["status"], "ready");
}

#[tokio::test]
async fn only_its_own_pages_may_call() {
    let server = Server::demo();
    let host = server.url().trim_start_matches("http://").to_owned();
    let request = |name: &str, value: &str| server.request(Method::GET, "/projects").header(name, value);
    server.send(request("host", "rebound.example"), "").await.refusal(421);
    server.send(request("origin", "http://elsewhere.example"), "").await.refusal(403);
    server.send(request("origin", "null"), "").await.refusal(403);
    server.send(request("origin", &format!("https://{host}")), "").await.refusal(403);
    server.send(request("origin", &format!("http://{host}")), "").await.ok();
}

#[tokio::test]
async fn pages_are_served_under_a_strict_policy() {
    let server = Server::empty();
    let get = async |path: &str| {
        let request = http::Request::builder().uri(format!("{}{path}", server.url()));
        server.send(request, "").await
    };
    let page = get("/projects/1/board").await;
    assert_eq!((page.status.as_u16(), page.kind.as_str()), (200, "text/html; charset=utf-8"));
    assert_eq!(get("/assets/missing.js").await.status, 404);
    assert_eq!(get("/favicon.svg").await.kind, "image/svg+xml");
    get("/api/v2/anything").await.refusal(404);
}

fn of_the_project(code: &Value) -> bool {
    ["subject_cut", "no_subject", "squeeze_missing", "squeeze_twice", "detour", "rate_mixed", "interlaced", "range"]
        .iter()
        .any(|own| code == own)
}

#[tokio::test]
async fn every_crossing_of_the_demo_is_what_the_calculation_gives() {
    let server = Server::demo();
    let board = server.get("/projects/1/board").await.ok();
    let by_id = |list: &str, id: &Value| -> Value {
        let list = board[list].as_array().expect(list);
        list.iter().find(|each| each["id"] == *id).expect("listed")["values"]["geometry"].clone()
    };
    for crossing in board["crossings"].as_array().expect("crossings") {
        let path = format!("/projects/1/conversions/{}/{}", crossing["source"], crossing["frame"]);
        let conversion = server.get(&path).await.ok();
        assert_eq!(conversion["crossing"], *crossing, "{path}");
        let request = json!({
            "kind": "conversion",
            "source": by_id("sources", &crossing["source"]),
            "delivery": by_id("frames", &crossing["frame"]),
            "framing": conversion["placed"],
        });
        let mut plan = server.calculated(&request).await;
        // The project adds what it knows of rate, scan and range; it knows which bars are meant, which way up clips
        // are stored, and of what they are.
        let mut own = conversion["plan"].clone();
        let codes = |plan: &Value| -> Vec<Value> {
            let all = plan["findings"].as_array().expect("findings").iter().map(|finding| finding["code"].clone());
            all.filter(|code| !of_the_project(code) && code != "sideways").collect()
        };
        // A view counts the pixels of its sphere, not its own.
        let is_view = [24, 25].iter().any(|view| crossing["source"] == *view);
        if !is_view && codes(&own) != codes(&plan) {
            assert!(
                conversion["plan"]["findings"].as_array().expect("all").iter().any(|each| each["code"] == "projection")
                    || by_id("frames", &crossing["frame"])["raster"] == json!([3840, 1920]),
                "{path}"
            );
        }
        own["findings"].take();
        plan["findings"].take();
        assert_eq!(own, plan, "{path}");
        for (part, at) in [("x", 0), ("y", 1), ("width", 2), ("height", 3)] {
            assert_eq!(crossing["image"][at], plan["image"][part]["value"], "{path} {part}");
        }
        for (part, at) in [("left", 0), ("top", 1), ("right", 2), ("bottom", 3)] {
            assert_eq!(crossing["bars"][at], plan["bars"][part]["value"], "{path} {part}");
        }
        assert_eq!(crossing["kept"], plan["kept"]["value"], "{path}");
        let codes: Vec<_> = conversion["plan"]["findings"]
            .as_array()
            .expect("findings")
            .iter()
            .map(|each| each["code"].clone())
            .collect();
        assert_eq!(crossing["findings"], Value::Array(codes), "{path}");
    }
}

#[tokio::test]
async fn of_many_writes_at_once_exactly_one_wins() {
    let server = std::sync::Arc::new(Server::demo());
    let mut writes = tokio::task::JoinSet::new();
    for number in 0..12 {
        let server = server.clone();
        writes.spawn(async move {
            server.put("/projects/1/sources/1", 1, &source(&format!("Writer {number}"), [100, 100])).await
        });
    }
    let (mut won, mut refused) = (Vec::new(), 0);
    while let Some(answer) = writes.join_next().await {
        let answer = answer.expect("an answer");
        if answer.status == 200 {
            won.push(answer.body["values"]["name"].clone());
        } else {
            answer.refusal(412);
            refused += 1;
        }
    }
    assert_eq!((won.len(), refused), (1, 11));
    let stored = server.get("/projects/1/sources/1").await.ok();
    assert_eq!((&stored["values"]["name"], &stored["version"]), (&won[0], &json!(2)));
}

#[tokio::test]
async fn a_frame_answers_for_its_picture_area() {
    let server = Server::empty();
    let shape =
        async |geometry: Value| server.post("/shape/frame", &json!({ "name": "F", "geometry": geometry })).await.ok();
    let hd = shape(json!({ "raster": [1920, 1080], "picture_ratio": "2.39" })).await;
    // 1920 / 2.39 is 803.3; bars of 138 on the step leave 804.
    assert_eq!(hd["picture_area"], json!({ "x": 0, "y": 138, "width": 1920, "height": 804 }));
    assert_eq!((&hd["ratio"]["exact"], &hd["published"]["name"]), (&json!("16/9"), &json!("HD")));
    let upright = shape(json!({ "raster": [1920, 1080], "picture_ratio": "9:16", "step": 16 })).await;
    // 607.5 wide; bars of 656 on a step of 16 leave 608.
    assert_eq!(upright["picture_area"], json!({ "x": 656, "y": 0, "width": 608, "height": 1080 }));
    let tape = shape(json!({ "raster": [720, 576], "pixel_aspect": "16:11" })).await;
    assert_eq!((&tape["ratio"]["exact"], &tape["published"]["name"]), (&json!("20/11"), &json!("SD 625 lines 16:9")));
    let odd = shape(json!({ "raster": [1921, 1080] })).await;
    assert_eq!((&odd["on_step"], &odd["published"]), (&json!(false), &Value::Null));
}

#[tokio::test]
async fn a_large_board_is_packed_for_those_who_take_it() {
    let server = Server::demo();
    let asked = async |path: &str, takes: &str| {
        let request = server.request(Method::GET, path).header("accept-encoding", takes);
        let answer = server.send(request, "").await;
        let coding = answer.headers.get("content-encoding").map(|coding| coding.to_str().expect("text").to_owned());
        (coding, answer)
    };
    for takes in ["", "identity", "br", "gzip;q=0, br"] {
        let (coding, answer) = asked("/projects/1/board", takes).await;
        assert_eq!(coding, None, "{takes}");
        assert_eq!(answer.headers.get("vary").expect("a header"), "accept-encoding");
    }
    let plain = server.get("/projects/1/board").await;
    // What is kept of the answer is not mixed up with that for others, and a second time it is the same.
    for takes in ["gzip", "deflate, gzip;q=0.5, br", "GZIP"] {
        let (coding, answer) = asked("/projects/1/board", takes).await;
        assert_eq!(coding.as_deref(), Some("gzip"));
        assert!(answer.bytes.len() * 5 < plain.bytes.len(), "{} of {}", answer.bytes.len(), plain.bytes.len());
        let mut unpacked = Vec::new();
        flate2::read::GzDecoder::new(&answer.bytes[..]).read_to_end(&mut unpacked).expect("gzip");
        assert_eq!(unpacked, plain.bytes);
    }
    let path = format!("/projects/1/board?since={}", plain.body["revision"].as_str().expect("a revision"));
    let (coding, answer) = asked(&path, "gzip").await;
    assert_eq!((coding, &answer.body["crossings"]), (None, &json!([])), "what is short is not packed");
}
