//! The description of the API against what the program does.

use serde_json::Value;

use crate::support::{Server, program};

fn printed() -> Value {
    let output = program().arg("openapi").output().expect("the document");
    serde_json::from_slice(&output.stdout).expect("JSON")
}

#[test]
fn the_committed_document_is_the_programs_own() {
    let committed = include_str!("../../../../web/openapi.json");
    let committed: Value = serde_json::from_str(committed).expect("JSON");
    assert_eq!(committed, printed(), "run: cargo xtask types");
}

#[tokio::test]
async fn the_served_document_describes_every_route() {
    let server = Server::empty();
    let served = server.get("/openapi.json").await.ok();
    assert_eq!(served, printed());
    let paths = served["paths"].as_object().expect("paths");
    for (path, methods) in paths {
        for (method, operation) in methods.as_object().expect("methods") {
            assert!(operation["summary"].is_string(), "{method} {path} says what it does");
            // Each is really there: whatever it answers, it is not an unknown address.
            let filled: Vec<_> = path.split('/').map(|part| if part.starts_with('{') { "1" } else { part }).collect();
            let filled = filled.join("/");
            let local = filled.strip_prefix("/api/v1").expect("under v1");
            let verb = method.to_uppercase().parse().expect("a method");
            let answer = server.send(server.request(verb, local), "{}").await;
            assert_ne!(answer.status, 405, "{method} {path}");
            assert_ne!(answer.body["type"], "urn:ratiomet:problem:unknown_path", "{method} {path}");
        }
    }
}

/// Whatever is wrong with a request, its answer is one that the document knows, and says what would be right.
#[tokio::test]
async fn every_answer_to_what_is_wrong_is_described() {
    let server = Server::demo();
    let document = printed();
    let paths = document["paths"].as_object().expect("paths");
    let mut seen = std::collections::BTreeSet::new();
    for (path, methods) in paths {
        for (method, operation) in methods.as_object().expect("methods") {
            let local = path.strip_prefix("/api/v1").expect("under v1");
            let fill = |with: &str| -> String {
                let part = |part: &str| if part.starts_with('{') { with.to_owned() } else { part.to_owned() };
                local.split('/').map(part).collect::<Vec<_>>().join("/")
            };
            let verb: http::Method = method.to_uppercase().parse().expect("a method");
            let plain = |address: &str| {
                let uri = format!("{}/api/v1{address}", server.url());
                http::Request::builder().method(verb.clone()).uri(uri)
            };
            let json = |address: &str| plain(address).header("content-type", "application/json");
            for (request, body) in [
                (plain(&fill("1")), "{}"),
                (json(&fill("1")), "["),
                (json(&fill("1")), "{}"),
                (json(&fill("1")), "[[1,{\"a\":null}]]"),
                (json(&fill("999999")), "{}"),
                (json(&fill("999999")).header("if-match", "\"1\""), "{}"),
                (json(&fill("1")).header("if-match", "*"), "{}"),
                (json(&format!("{}?unknown=1", fill("1"))), "{}"),
                (json(&fill("1")).header("origin", "http://elsewhere.example"), "{}"),
            ] {
                let answer = server.send(request, body).await;
                let status = answer.status.as_u16();
                let known = operation["responses"].as_object().expect("responses").contains_key(&status.to_string());
                assert!(known, "{method} {path} answers {status}: {}", answer.body);
                assert_ne!(status, 500, "{method} {path}: {}", answer.body);
                if status >= 400 {
                    answer.refusal(status);
                }
                seen.insert(status);
            }
        }
    }
    assert!([400, 403, 404, 415, 422, 428].iter().all(|status| seen.contains(status)), "{seen:?}");
}

/// The fields of a schema, with those of the schemas that it is made of.
fn properties<'d>(document: &'d Value, schema: &str) -> Vec<&'d str> {
    let schema = &document["components"]["schemas"][schema];
    let parts = schema["allOf"].as_array().into_iter().flatten().chain([schema]);
    let mut names = Vec::new();
    for part in parts {
        if let Some((_, of)) = part["$ref"].as_str().and_then(|path| path.rsplit_once('/')) {
            names.extend(properties(document, of));
        }
        names.extend(part["properties"].as_object().into_iter().flatten().map(|(name, _)| name.as_str()));
    }
    names
}

/// The fields that a request is documented to have are exactly those that its reader knows: the
/// refusal of an unknown field lists them.
#[tokio::test]
async fn documented_fields_are_the_fields_that_are_read() {
    let server = Server::demo();
    let document = printed();
    let case = async |schema: &str, path: &str, body: Value, at: &str| {
        let refused = server.post(path, &body).await.refusal(422);
        let errors = refused["errors"].as_array().expect("errors");
        let unknown = errors.iter().find(|error| error["pointer"] == format!("{at}/unknown").as_str());
        let detail =
            unknown.and_then(|error| error["detail"].as_str()).unwrap_or_else(|| panic!("{schema}: {errors:?}"));
        let (_, names) = detail.split_once("the fields here are ").expect("a list");
        let names = names.trim_end_matches('.');
        let mut read: Vec<_> = names.split(", ").collect();
        let mut documented = properties(&document, schema);
        read.sort_unstable();
        documented.sort_unstable();
        assert_eq!(read, documented, "{schema}");
    };
    let calc = |kind: &str| serde_json::json!({ "kind": kind, "unknown": 1 });
    case("ConversionRequest", "/calc", calc("conversion"), "").await;
    case("ExtractionRequest", "/calc", calc("extraction"), "").await;
    case("DesqueezeRequest", "/calc", calc("desqueeze"), "").await;
    case("ScaleRequest", "/calc", calc("scale"), "").await;
    let unknown = serde_json::json!({ "unknown": 1 });
    let nested = |field: &str| serde_json::json!({ "kind": "conversion", field: unknown });
    case("SourceGeometry", "/calc", nested("source"), "/source").await;
    case("DeliveryGeometry", "/calc", nested("delivery"), "/delivery").await;
    case("FramingValues", "/calc", nested("framing"), "/framing").await;
    let insets = serde_json::json!({ "kind": "conversion", "source": { "active": unknown } });
    case("ActiveInsets", "/calc", insets, "/source/active").await;
    case("ProjectValues", "/projects", unknown.clone(), "").await;
    case("SourceValues", "/shape/source", unknown.clone(), "").await;
    case("FrameValues", "/shape/frame", unknown.clone(), "").await;
    case("PreviewRequest", "/projects/1/conversions/1/17/preview", unknown.clone(), "").await;
    case("GoRequest", "/projects/1/history/go", unknown.clone(), "").await;
    case("TakeBackRequest", "/projects/1/history/take-back", unknown.clone(), "").await;
    case("LinkValues", "/projects/1/links", unknown.clone(), "").await;
    case("LogIn", "/session", unknown.clone(), "").await;
    let preview = |field: &str| serde_json::json!({ field: unknown });
    case("FramingChoice", "/projects/1/conversions/1/17/preview", preview("own"), "/own").await;
    case("EntryRequest", "/projects/1/conversions/1/17/preview", preview("entry"), "/entry").await;
    for (schema, kind) in [
        ("CadenceRequest", "cadence"),
        ("ChainRequest", "chain"),
        ("ProxyRequest", "proxy"),
        ("SubjectRequest", "subject"),
        ("CommonRequest", "common"),
        ("SphereFrameRequest", "sphere_frame"),
        ("SphereViewRequest", "sphere_view"),
        ("SpherePlaceRequest", "sphere_place"),
        ("SphereLevelRequest", "sphere_level"),
        ("RecipeRequest", "recipe"),
        ("LevelsRequest", "levels"),
        ("ViewingRequest", "viewing"),
        ("WeightRequest", "weight"),
    ] {
        case(schema, "/calc", calc(kind), "").await;
    }
    case("PlacedFrame", "/calc", serde_json::json!({ "kind": "chain", "steps": [unknown] }), "/steps/0").await;
    case("SubjectBox", "/calc", serde_json::json!({ "kind": "subject", "subject": unknown }), "/subject").await;
    let edit = |edit: &str, list: &str| serde_json::json!({ "edit": edit, list: [], "set": unknown });
    case("SourceSet", "/projects/1/edits/preview", edit("set_sources", "sources"), "/set").await;
    case("FrameSet", "/projects/1/edits/preview", edit("set_frames", "frames"), "/set").await;
    case("FramingSet", "/projects/1/edits/preview", edit("set_framing_parts", "conversions"), "/set").await;
    for (schema, word) in [
        ("SetSources", "set_sources"),
        ("SetFrames", "set_frames"),
        ("SetConversions", "set_conversions"),
        ("JudgeFinding", "judge_finding"),
        ("SetFramingParts", "set_framing_parts"),
        ("ApplyActivePicture", "apply_active_picture"),
        ("AddSources", "add_sources"),
        ("AddFrames", "add_frames"),
        ("TurnFrames", "turn_frames"),
        ("DeleteRecords", "delete"),
    ] {
        case(schema, "/projects/1/edits/preview", serde_json::json!({ "edit": word, "unknown": 1 }), "").await;
    }
    case("HandoffRequest", "/projects/1/handoff", unknown.clone(), "").await;
    case("IntoRequest", "/projects/1/handoff/into", unknown.clone(), "").await;
    case("FileNames", "/probe/clips", unknown.clone(), "").await;
    case("CalcRequests", "/calc/many", unknown.clone(), "").await;
    case("GoRequest", "/projects/1/history/go", unknown.clone(), "").await;
    case("ListRequest", "/list", unknown.clone(), "").await;
    case("ListCells", "/list", serde_json::json!({ "columns": [], "rows": [unknown] }), "/rows/0").await;
    case("HouseFrameValues", "/library/frames", unknown.clone(), "").await;
    case("ActivePictureValues", "/library/active-pictures", unknown.clone(), "").await;
    let project = |field: &str, value: Value| {
        let head = serde_json::json!({ "format": "ratiomet project", "format_version": 2 });
        let mut file = serde_json::json!({ "project": { "name": "A" }, field: value });
        file.as_object_mut().expect("an object").extend(head.as_object().expect("an object").clone());
        file
    };
    case("ProjectDocument", "/projects/import", project("unknown", 1.into()), "").await;
    case("DocumentSource", "/projects/import", project("sources", serde_json::json!([unknown])), "/sources/0").await;
    case("DocumentFrame", "/projects/import", project("frames", serde_json::json!([unknown])), "/frames/0").await;
    let conversions = project("conversions", serde_json::json!([unknown]));
    case("DocumentConversion", "/projects/import", conversions, "/conversions/0").await;
    let library = serde_json::json!({ "format": "ratiomet library", "format_version": 2, "unknown": 1 });
    case("LibraryDocument", "/library/import", library, "").await;
}

/// What is wrong in a query is said like anything else, and what is not known there is refused.
#[tokio::test]
async fn queries_are_held_to_their_description() {
    let server = Server::demo();
    let case = async |path: &str, pointer: &str, says: &str| {
        let refused = server.get(path).await.refusal(422);
        let error = &refused["errors"][0];
        assert_eq!(error["pointer"], pointer, "{path}: {refused}");
        assert!(error["detail"].as_str().is_some_and(|detail| detail.contains(says)), "{path}: {refused}");
    };
    case("/projects/1/history?before=x", "/before", "steps").await;
    case("/projects/1/history?before=-1", "/before", "steps").await;
    case("/projects/1/history?after=3", "/after", "the fields here are before").await;
    case("/projects/1/history?before=3&before=4", "/before", "given twice").await;
    case("/ask", "/q", "required").await;
    case("/ask?q=2.39+from+UHD&fast=1", "/fast", "the fields here are q").await;
    case("/tables?safe=x", "/safe/0", "a percentage such as 90").await;
    case("/media?below=x", "/below", "the fields here are folder").await;
    case("/projects/1/sources/1/common?frames=99", "/frames", "frames of this project").await;
    server.get("/projects/1/history?before=3").await.ok();
    server.get("/ask?q=60").await.ok();
    // An address whose number is none is none.
    server.get("/projects/one").await.refusal(404);
    server.get("/handoffs/x").await.refusal(404);
}

/// A resource comes with its version as an entity tag, and a write may name exactly that.
#[tokio::test]
async fn a_resource_comes_with_the_tag_that_a_write_names() {
    let server = Server::demo();
    for path in ["/projects/1", "/projects/1/sources/1", "/projects/1/frames/17", "/projects/1/conversions/3/17"] {
        let answer = server.get(path).await;
        let tag = answer.headers.get("etag").expect("a tag").to_str().expect("text").to_owned();
        assert_eq!(tag, format!("\"{}\"", answer.body["version"]), "{path}");
        let values = if path.contains("conversions") { serde_json::json!({}) } else { answer.body["values"].clone() };
        let put = |tag: &str| server.request(http::Method::PUT, path).header("if-match", tag.to_owned());
        let same = server.send(put(&tag), &values.to_string()).await;
        assert_eq!((same.status.as_u16(), same.headers.get("etag")), (200, answer.headers.get("etag")), "{path}");
        // A bare number is the same, and one of several tags is enough.
        for also in [answer.body["version"].to_string(), format!("\"999\", {tag}")] {
            assert_eq!(server.send(put(&also), &values.to_string()).await.status, 200, "{path}");
        }
        server.send(put("\"999\""), &values.to_string()).await.refusal(412);
        for bad in ["*", "", "x y", "W/", "W/\"1\"", "\"one\"", "-1", "1, 2", "\"1\";"] {
            server.send(put(bad), &values.to_string()).await.refusal(428);
        }
    }
}

/// Whatever is asked of a project that is deleted, the answer is one that the document knows.
#[tokio::test]
async fn what_a_deleted_project_answers_is_described() {
    let server = Server::demo();
    let delete = server.request(http::Method::DELETE, "/projects/1").header("if-match", "\"1\"");
    assert!(server.send(delete, "").await.status.is_success());
    let document = printed();
    let mut gone = 0;
    for (path, methods) in document["paths"].as_object().expect("paths") {
        let Some(local) = path.strip_prefix("/api/v1").filter(|path| path.contains("{project}/")) else { continue };
        let part = |part: &str| if part.starts_with('{') { "1".to_owned() } else { part.to_owned() };
        let address = local.split('/').map(part).collect::<Vec<_>>().join("/");
        // What is posted may bring it back.
        for method in ["get", "put", "delete"] {
            let Some(operation) = methods.get(method) else { continue };
            let verb: http::Method = method.to_uppercase().parse().expect("a method");
            let request =
                server.request(verb, &address).header("content-type", "application/json").header("if-match", "\"0\"");
            let status = server.send(request, "{}").await.status.as_u16();
            assert!(operation["responses"].get(status.to_string()).is_some(), "{method} {path} answered {status}");
            gone += u32::from(status == 410);
        }
    }
    assert!(gone > 10, "{gone} said that it is deleted");
}
