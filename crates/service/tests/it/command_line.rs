//! The command line, `ratiomet calc` above all.

use std::io::{BufRead, BufReader, Write};
use std::path::Path;
use std::process::{Output, Stdio};

use serde_json::Value;

use crate::support::program;

fn calc(input: &[u8]) -> Output {
    let mut child =
        program().arg("calc").stdin(Stdio::piped()).stdout(Stdio::piped()).spawn().expect("the program starts");
    let mut to = child.stdin.take().expect("its input");
    let input = input.to_vec();
    let writing = std::thread::spawn(move || to.write_all(&input));
    let output = child.wait_with_output().expect("it ends");
    writing.join().expect("written").expect("written");
    output
}

fn lines(output: &Output) -> Vec<Value> {
    let text = std::str::from_utf8(&output.stdout).expect("UTF-8");
    text.lines().map(|line| serde_json::from_str(line).expect("JSON")).collect()
}

const GOOD: &str = r#"{"kind":"scale","from":[1920,1080],"to":[3840,2160]}"#;

#[test]
fn every_line_has_its_answer_in_its_place() {
    let input = format!("{GOOD}\n\n   \nnot json\n{GOOD}\r\n{{\"kind\":\"nothing\"}}\n{GOOD}");
    let output = calc(input.as_bytes());
    assert_eq!(output.status.code(), Some(1), "some lines were bad");
    let answers = lines(&output);
    let refused: Vec<_> = answers.iter().map(|answer| answer["error"]["status"].as_u64()).collect();
    assert_eq!(refused, [None, Some(400), None, Some(422), None]);
    assert_eq!(answers[1]["error"]["errors"][0]["pointer"], "");
    assert_eq!(answers[3]["error"]["errors"][0]["pointer"], "/kind");
    assert_eq!(answers[4]["x"]["exact"], "2");
}

#[test]
fn good_lines_end_with_status_0() {
    let output = calc(format!("{GOOD}\n{GOOD}\n").as_bytes());
    assert_eq!((output.status.code(), lines(&output).len()), (Some(0), 2));
    assert_eq!(calc(b"").status.code(), Some(0));
}

#[test]
fn thousands_of_lines_keep_their_order() {
    let mut input = String::new();
    for width in 1..=20_000 {
        input += &format!("{{\"kind\":\"scale\",\"from\":[1,1],\"to\":[{width},1]}}\n");
    }
    let output = calc(input.as_bytes());
    let widths: Vec<_> = lines(&output).iter().map(|answer| answer["x"]["value"].as_f64()).collect();
    assert!(widths.iter().zip(1..).all(|(width, at)| *width == Some(f64::from(at))));
    assert_eq!(widths.len(), 20_000);
}

#[test]
fn hostile_lines_are_refused_in_words() {
    let long = format!("{{\"kind\":\"{}\"}}", "x".repeat(3 << 20));
    let deep = "[".repeat(200_000);
    let cases: [&[u8]; 8] = [
        long.as_bytes(),
        deep.as_bytes(),
        b"\xff\xfe",
        br#"{"kind":"scale","kind":"scale","from":[1,1],"to":[1,1]}"#,
        br#"{"kind":"scale","from":[1e3,1],"to":[1,1]}"#,
        br#"{"kind":"scale","from":[-1,1],"to":[1,1]}"#,
        br#"{"kind":"scale","from":[1,1,1],"to":[1]}"#,
        br#"{"kind":"scale","\u0066rom":[1,1],"to":[1,1],"\ud800":1}"#,
    ];
    let mut input = Vec::new();
    for case in cases {
        input.extend_from_slice(case);
        input.push(b'\n');
    }
    input.extend_from_slice(GOOD.as_bytes());
    let output = calc(&input);
    let answers = lines(&output);
    assert_eq!(answers.len(), cases.len() + 1);
    for answer in &answers[..cases.len()] {
        let errors = answer["error"]["errors"].as_array().expect("errors");
        assert!(
            errors.iter().all(|error| error["detail"].as_str().is_some_and(|detail| !detail.is_empty())),
            "{answer}"
        );
    }
    assert_eq!(answers[cases.len()]["x"]["exact"], "2");
}

#[test]
fn a_program_that_waits_gets_its_answer() {
    let mut child =
        program().arg("calc").stdin(Stdio::piped()).stdout(Stdio::piped()).spawn().expect("the program starts");
    let mut to = child.stdin.take().expect("its input");
    let mut from = BufReader::new(child.stdout.take().expect("its output"));
    for _ in 0..3 {
        writeln!(to, "{GOOD}").expect("written");
        let mut answer = String::new();
        from.read_line(&mut answer).expect("an answer before the next line");
        assert!(answer.contains("\"whole\""), "{answer}");
    }
    drop(to);
    assert!(child.wait().expect("it ends").success());
}

#[test]
fn a_file_is_read_and_a_missing_one_named() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("requests.jsonl");
    std::fs::write(&file, GOOD).expect("written");
    let output = program().arg("calc").arg(&file).output().expect("it runs");
    assert_eq!((output.status.code(), lines(&output).len()), (Some(0), 1));
    let output = program().args(["calc", "/nowhere.jsonl"]).output().expect("it runs");
    assert_eq!(output.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&output.stderr).contains("/nowhere.jsonl cannot be read"));
}

#[test]
fn help_names_every_command() {
    let output = program().arg("--help").output().expect("it runs");
    let help = String::from_utf8_lossy(&output.stdout).into_owned();
    for command in ["serve", "demo", "calc", "ask", "openapi"] {
        assert!(help.contains(command), "{command} is missing from {help}");
    }
}

fn import(data: &Path, more: &[&str]) -> (Option<i32>, String) {
    let output =
        program().args(["import", "--project", "From set", "--data"]).arg(data).args(more).output().expect("it runs");
    let said = [output.stdout, output.stderr].concat();
    (output.status.code(), String::from_utf8(said).expect("UTF-8"))
}

#[test]
fn files_of_any_kind_are_taken_into_a_project_by_their_content() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = folder.path().join("set.db");
    let file = |name: &str, content: &[u8]| {
        let path = folder.path().join(name);
        std::fs::write(&path, content).expect("written");
        path.display().to_string()
    };
    let tape = file("T1.y4m", b"YUV4MPEG2 W720 H576 F25:1 It A12:11\nFRAME\n");
    // A list with titles, as an older spreadsheet writes it.
    let list = file("slate.csv", b"Saltreed\nClip;Aufl\xF6sung;Bildrate;Entzerrung\nA014;2880x2160;24;2\nA015;;24;2\n");
    let framing = serde_json::json!({
        "contexts": [{ "clip_id": { "clip_name": "A014" }, "canvases": [{
            "id": "a", "dimensions": { "width": 2880, "height": 2160 }, "anamorphic_squeeze": 2.0,
            "framing_decisions": [{ "framing_intent_id": "s", "dimensions": { "width": 2580, "height": 2160 },
                                    "anchor_point": { "x": 100, "y": 0 } }],
        }] }],
        "framing_intents": [{ "id": "s", "label": "Scope", "aspect_ratio": { "width": 5160, "height": 2160 } }],
    });
    let framing = file("set.fdl", framing.to_string().as_bytes());
    let other = file("notes.bin", b"\x00\x01\x02 nothing");
    let (status, said) = import(&data, &[&tape, &list, &framing, &other]);
    assert_eq!(status, Some(1), "a row and a file were not taken: {said}");
    for words in [
        "is new",
        "T1.y4m: 1 source",
        "slate.csv: 1 source, 1 not imported",
        "line 4: Must have a stored size",
        "set.fdl: 1 source, 1 frame, 1 framing",
        "notes.bin: not imported",
        "2 sources, 1 frame, 1 framing",
    ] {
        assert!(said.contains(words), "{words}: {said}");
    }
    // Again: nothing comes twice, and what has changed on disk is told, taken only when that is asked for.
    let (status, said) = import(&data, &[&tape, &framing]);
    assert_eq!((status, said.contains("Nothing new; 3 already there")), (Some(0), true), "{said}");
    std::fs::write(&tape, b"YUV4MPEG2 W720 H576 F50:1 Ip A12:11\nFRAME\n").expect("written");
    let (_, said) = import(&data, &[&tape]);
    assert!(
        said.contains(
            "T1 already exists with other values: rate 25 to 50, scan interlaced to progressive (kept; use --update"
        ),
        "{said}"
    );
    let (_, said) = import(&data, &["--update", &tape]);
    assert!(said.contains("(taken)"), "{said}");
    let (_, said) = import(&data, &[&tape]);
    assert!(!said.contains("other values"), "{said}");
    let (status, said) = import(&data, &[&other]);
    assert_eq!((status, said.contains("nothing in these files can be imported")), (Some(1), true), "{said}");
}

#[test]
fn a_question_in_plain_words_is_answered() {
    let ask = |words: &[&str]| program().arg("ask").args(words).output().expect("it runs");
    let answer = ask(&["2.39", "from", "UHD"]);
    assert!(answer.status.success());
    let said = String::from_utf8(answer.stdout).expect("UTF-8");
    let sentence = "2.39 out of 3840×2160: 3840×1606, exactly 1606.695 lines, shows 2.391; 277 px off top and bottom, \
                    276 and 278 on even pixels; keeps 74.4 %.\n";
    assert_eq!(said, sentence);
    // What may have been meant as well has a line of its own.
    let both = String::from_utf8(ask(&["2.39", "from", "4K"]).stdout).expect("UTF-8");
    assert!(both.lines().nth(1).is_some_and(|line| line.starts_with("or 4K as 4096×2160")), "{both}");
    let json = ask(&["--json", "60 at 24"]);
    let value: serde_json::Value = serde_json::from_slice(&json.stdout).expect("JSON");
    assert_eq!((&value["request"]["kind"], &value["result"]["relation"]), (&"cadence".into(), &"mixed".into()));
    let no = ask(&["what", "now"]);
    assert_eq!(no.status.code(), Some(1));
    assert!(String::from_utf8_lossy(&no.stderr).contains("2.39 from UHD"));
    let no = ask(&["--json", "what now"]);
    let value: serde_json::Value = serde_json::from_slice(&no.stdout).expect("JSON");
    assert!(no.status.code() == Some(1) && value["examples"].is_array());
    assert_eq!(ask(&[]).status.code(), Some(2));
}
