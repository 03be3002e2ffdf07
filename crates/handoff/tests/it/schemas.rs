//! Every file that is written keeps to the JSON Schema that is printed for it, and the schemas say something: held by
//! the package jsonschema from PyPI, 4.26.0.

use ratiomet_exchange::library_file::{self, LibraryDocument, LibraryFile};
use ratiomet_exchange::project_file::{self, ProjectDocument};
use ratiomet_handoff::{Format, Manifest, Numbers};
use ratiomet_wire::schema;
use serde_json::{Value, json};

use crate::formats::{opened, python};
use crate::packages::{package, small, written, zipped};

/// What is wrong with each of some values by a schema: where, of each.
fn faults(schema: &Value, values: &[Value]) -> Vec<Vec<String>> {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("values.json");
    std::fs::write(&file, json!({ "schema": schema, "values": values }).to_string()).expect("written");
    let lines = "import json, sys, jsonschema\n\
                 both = json.load(open(sys.argv[1]))\n\
                 jsonschema.Draft202012Validator.check_schema(both['schema'])\n\
                 v = jsonschema.Draft202012Validator(both['schema'])\n\
                 print(json.dumps([[e.json_path for e in v.iter_errors(x)] for x in both['values']]))\n";
    serde_json::from_str(&python(lines, &file)).expect("JSON")
}

fn with(value: &Value, pointer: &str, instead: Value) -> Value {
    let mut value = value.clone();
    *value.pointer_mut(pointer).expect("a part") = instead;
    value
}

/// A project with a file for one of its frames, a working frame and an origin.
fn full() -> Value {
    let mut project = small();
    project["format_version"] = json!(ratiomet_wire::kept::FORMAT);
    project["frames"][1]["values"]["through"] = json!(1);
    project["frames"][0]["values"]["file"] = json!({
        "container": "mp4", "codec": "h264", "profile": "high", "depth": 8, "chroma": "4:2:0", "average_mbps": "12.5",
        "sound": { "coding": "aac", "rate": 48000, "kbps": "192" },
    });
    project["sources"][0]["values"]["origin"] = json!({ "file": "A014.mov", "footage": true, "frames": 240, "said": [{ "of": "raster", "value": "960x720", "by": "tkhd" }] });
    project
}

#[test]
fn what_is_handed_over_keeps_to_its_schemas() {
    let package = package(&full());
    let read = |path: &str| -> Value { serde_json::from_slice(&written(&package, Format::Json, path)).expect("JSON") };
    let conversions = read("conversions.json");
    assert_eq!(conversions["frames"][0]["file"]["level_needed"], "3.1");
    let bad = [
        with(&conversions, "/conversions/0/plan", Value::Null),
        with(&conversions, "/frames/0/file/level_needed", json!(5)),
        with(&conversions, "/frames/0/values/geometry/raster", json!("1024x428")),
        with(&conversions, "/conversions/0/findings", json!({})),
    ];
    let found = faults(&schema::of::<Numbers<'_>>("numbers"), &[&[conversions], &bad[..]].concat());
    assert_eq!(found[0], Vec::<String>::new());
    assert!(found[1..].iter().all(|faults| faults.len() == 1), "{found:?}");
    let (_, manifest) = opened(zipped(&package, &[Format::Json]));
    let cut = with(&manifest, "/files", json!(3));
    assert_eq!(
        faults(&schema::of::<Manifest<'_>>("manifest"), &[manifest, cut]),
        [Vec::<String>::new(), vec!["$.files".to_owned()]]
    );
}

#[test]
fn files_of_our_own_keep_to_their_schemas() {
    let project = project_file::read(full().to_string().as_bytes()).expect("a project");
    let file: Value = serde_json::from_str(&project_file::write(&project)).expect("JSON");
    let codec = with(&file, "/frames/0/values/file/codec", json!("none of them"));
    let version = with(&file, "/format_version", json!(ratiomet_wire::kept::FORMAT + 1));
    let found = faults(&schema::of::<ProjectDocument>("project"), &[file, codec, version]);
    assert_eq!((found[0].len(), found[1].len(), found[2].as_slice()), (0, 1, &["$.format_version".to_owned()][..]));
    let library = LibraryFile { frames: Vec::new(), pictures: Vec::new(), profiles: Vec::new() };
    let file: Value = serde_json::from_str(&library_file::write(&library)).expect("JSON");
    let other = with(&file, "/format", json!("ratiomet project"));
    assert_eq!(faults(&schema::of::<LibraryDocument>("library"), &[file, other])[1], ["$.format"]);
}
