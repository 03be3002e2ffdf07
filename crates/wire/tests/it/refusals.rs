//! Every way in which a request can be wrong, and the pointer at which that is said.

use ratiomet_wire::calc::answer;

/// The pointers of a refusal, in order.
#[track_caller]
fn pointers(request: &str) -> Vec<String> {
    let problem = answer(request.as_bytes()).expect_err(request);
    assert!(problem.errors.iter().all(|error| !error.detail.is_empty()), "{request}");
    let mut pointers: Vec<_> = problem.errors.iter().map(|error| error.pointer.clone()).collect();
    pointers.sort();
    pointers
}

#[track_caller]
fn case(request: &str, expected: &[&str]) {
    assert_eq!(pointers(request), expected, "{request}");
}

/// A conversion whose source has this field.
fn with(field: &str) -> String {
    format!(r#"{{"kind":"conversion","source":{{"raster":[100,100],{field}}},"delivery":{{"raster":[10,10]}}}}"#)
}

#[test]
fn what_is_no_json_is_refused_as_a_whole() {
    for text in ["", " ", "{", "nul", "{'kind':1}", "{\"kind\":\"scale\",}", "[1,2", "{}{}", "NaN", "\u{feff}{}"] {
        let problem = answer(text.as_bytes()).expect_err(text);
        assert_eq!((problem.status, problem.errors[0].pointer.as_str()), (400, ""), "{text:?}");
    }
    assert_eq!(answer(b"\xff").expect_err("no UTF-8").status, 400);
}

#[test]
fn what_is_no_request_is_refused_where_it_stands() {
    for text in ["null", "1", "\"x\"", "[]", "true"] {
        case(text, &[""]);
    }
    case("{}", &["/kind"]);
    for kind in ["7", "null", "\"\"", "\"Conversion\"", "\"conversion \"", "{}", "[\"scale\"]"] {
        case(&format!("{{\"kind\":{kind}}}"), &["/kind"]);
    }
}

#[test]
fn numbers_are_read_by_their_digits_or_refused() {
    for good in ["1", "1.8", "\"1.8\"", "\"9:5\"", "\"9/5\"", "\"1.8:1.0\"", "0.1", "10", "\"010\"", "1.00000000000"] {
        answer(with(&format!("\"squeeze\":{good}")).as_bytes()).expect(good);
    }
    for bad in [
        "0",
        "-1",
        "0.09",
        "10.1",
        "1e0",
        "1E1",
        "\"1e0\"",
        "\"+1\"",
        "\" 1\"",
        "\"1 \"",
        "\".5\"",
        "\"5.\"",
        "\"\"",
        "\"1:0\"",
        "\"0:1\"",
        "\"1:2:3\"",
        "\"one\"",
        "null",
        "true",
        "[]",
        "{}",
        "[1]",
        "1.000000000000",
        "\"1234567890123\"",
    ] {
        case(&with(&format!("\"squeeze\":{bad}")), &["/source/squeeze"]);
        case(&with(&format!("\"pixel_aspect\":{bad}")), &["/source/pixel_aspect"]);
    }
}

#[test]
fn whole_numbers_are_json_integers() {
    for bad in ["90.0", "\"90\"", "9e1", "-90", "45", "360", "null", "[90]"] {
        case(&with(&format!("\"rotation\":{bad}")), &["/source/rotation"]);
    }
    for bad in ["-1", "1.0", "\"1\"", "null", "5000000000"] {
        case(&with(&format!("\"active\":{{\"top\":{bad}}}")), &["/source/active/top"]);
    }
    for bad in ["[0,1]", "[1.0,1]", "[65537,1]", "[\"1\",1]", "[-1,1]", "[null,1]"] {
        case(&format!("{{\"kind\":\"scale\",\"from\":{bad},\"to\":[1,1]}}"), &["/from/0"]);
    }
    for bad in ["[]", "[1]", "[1,1,1]", "{}", "1", "\"1x1\"", "null"] {
        case(&format!("{{\"kind\":\"scale\",\"from\":{bad},\"to\":[1,1]}}"), &["/from"]);
    }
    for bad in ["0", "3", "32", "-2", "2.0", "\"2\"", "null"] {
        let request = format!("{{\"kind\":\"extraction\",\"container\":[16,9],\"ratio\":1,\"step\":{bad}}}");
        case(&request, &["/step"]);
    }
}

#[test]
fn unknown_fields_and_keys_given_twice_are_refused_at_every_depth() {
    case(&with("\"lens\":1"), &["/source/lens"]);
    case(&with("\"active\":{\"left\":1,\"lefts\":1}"), &["/source/active/lefts"]);
    case(&with("\"squeeze\":1,\"squeeze\":1"), &["/source/squeeze"]);
    case(&with("\"a/b~c\":1"), &["/source/a~1b~0c"]);
    case("{\"kind\":\"scale\",\"kind\":\"scale\",\"from\":[1,1],\"to\":[1,1]}", &["/kind"]);
    // The same key in another spelling is the same key.
    case("{\"kind\":\"scale\",\"from\":[1,1],\"to\":[1,1],\"t\\u006f\":[1,1]}", &["/to"]);
}

#[test]
fn null_is_a_value_only_for_the_two_ratios() {
    let conversion = |field: &str| {
        format!(r#"{{"kind":"conversion","source":{{"raster":[9,9]}},"delivery":{{"raster":[9,9],{field}}}}}"#)
    };
    answer(conversion("\"picture_ratio\":null").as_bytes()).expect("no ratio");
    case(&conversion("\"step\":null"), &["/delivery/step"]);
    answer(br#"{"kind":"desqueeze","raster":[9,9],"target_ratio":null}"#).expect("no target");
    case(r#"{"kind":"extraction","container":[9,9],"ratio":null}"#, &["/ratio"]);
    case(
        r#"{"kind":"conversion","source":null,"delivery":null,"framing":null}"#,
        &["/delivery", "/framing", "/source"],
    );
}

#[test]
fn a_framing_is_checked_in_every_part() {
    let framing = |text: &str| {
        format!(r#"{{"kind":"conversion","source":{{"raster":[9,9]}},"delivery":{{"raster":[9,9]}},"framing":{text}}}"#)
    };
    for good in
        ["{}", "{\"shift\":[\"5\"]}", "{\"shift\":[-1.5,\"1/3\"]}", "{\"zoom\":\"1000\",\"method\":\"stretch\"}"]
    {
        answer(framing(good).as_bytes()).expect(good);
    }
    case(&framing("{\"method\":null}"), &["/framing/method"]);
    case(&framing("{\"method\":\"Fill\",\"zoom\":0}"), &["/framing/method", "/framing/zoom"]);
    case(&framing("{\"zoom\":\"-1\"}"), &["/framing/zoom"]);
    case(&framing("{\"zoom\":\"1001\"}"), &["/framing/zoom"]);
    for bad in ["[]", "[1,2,3]", "5", "\"5\"", "{}", "null"] {
        case(&framing(&format!("{{\"shift\":{bad}}}")), &["/framing/shift"]);
    }
    case(&framing("{\"shift\":[\"1000001\",\"x\"]}"), &["/framing/shift/0", "/framing/shift/1"]);
    case(&framing("{\"shift\":[\"--1\"]}"), &["/framing/shift/0"]);
}

#[test]
fn what_does_not_fit_together_is_said_at_the_cause() {
    case(&with("\"active\":{\"left\":50,\"right\":49}"), &["/source/active"]);
    let masked = r#"{"kind":"conversion","source":{"raster":[9,9]},"delivery":{"raster":[8,9],"picture_ratio":"100"}}"#;
    answer(masked.as_bytes()).expect("a line is left");
    let masked = r#"{"kind":"conversion","source":{"raster":[9,9]},"delivery":{"raster":[8,8],"picture_ratio":"100"}}"#;
    case(masked, &["/delivery/picture_ratio"]);
    case(r#"{"kind":"extraction","container":[65536,9],"ratio":"0.9","keep":"width"}"#, &["/ratio"]);
    case(r#"{"kind":"desqueeze","raster":[65536,9],"squeeze":"1.1"}"#, &["/squeeze"]);
    // Everything wrong is said at once.
    case(
        r#"{"kind":"desqueeze","raster":[0,0],"squeeze":0,"target_ratio":"x","round":"floor","step":5,"more":1}"#,
        &["/more", "/raster/0", "/raster/1", "/round", "/squeeze", "/step", "/target_ratio"],
    );
}

#[test]
fn a_hostile_text_is_refused_in_a_few_words() {
    let deep = format!("{{\"kind\":{}{}}}", "[".repeat(50_000), "]".repeat(50_000));
    answer(deep.as_bytes()).expect_err("too deep for a kind");
    let many = |count: usize| {
        let keys: Vec<_> = (0..count).map(|at| format!("\"k{at}\":1")).collect();
        let text = format!("{{\"kind\":\"scale\",\"from\":[1,1],\"to\":[1,1],{}}}", keys.join(","));
        answer(text.as_bytes()).expect_err("unknown fields")
    };
    let problem = many(900);
    assert_eq!((problem.errors.len(), problem.more_errors), (50, 850));
    let problem = many(20_000);
    assert_eq!((problem.errors.len(), problem.more_errors), (1, 0), "it is not even taken apart");
    assert!(problem.detail.contains("at most 1000 fields"), "{problem:?}");
    // A long key comes back no longer than it helps.
    let long = format!("{{\"kind\":\"scale\",\"from\":[1,1],\"to\":[1,1],\"{}\":1}}", "k".repeat(100_000));
    let problem = answer(long.as_bytes()).expect_err("an unknown field");
    assert!(serde_json::to_string(&problem).expect("JSON").len() < 5_000);
}

#[test]
fn steps_and_frames_are_checked_one_by_one() {
    let chain = |steps: &str| format!(r#"{{"kind":"chain","source":{{"raster":[9,9]}},"steps":{steps}}}"#);
    let step = r#"{"delivery":{"raster":[9,9]}}"#;
    answer(chain(&format!("[{step}]")).as_bytes()).expect("one step");
    answer(chain(&format!("[{}]", [step; 8].join(","))).as_bytes()).expect("eight steps");
    case(&chain(&format!("[{}]", [step; 9].join(","))), &["/steps"]);
    for bad in ["[]", "{}", "null", "5"] {
        case(&chain(bad), &["/steps"]);
    }
    case(&chain(&format!("[{step},{{}},5]")), &["/steps/1/delivery", "/steps/2"]);
    case(
        &chain(r#"[{"delivery":{"raster":[0,9],"lens":1},"framing":{"zoom":0},"more":1}]"#),
        &["/steps/0/delivery/lens", "/steps/0/delivery/raster/0", "/steps/0/framing/zoom", "/steps/0/more"],
    );
    // A frame of one line can be delivered, not handed on.
    let line = r#"{"delivery":{"raster":[9,1]}}"#;
    answer(chain(&format!("[{step},{line}]")).as_bytes()).expect("at the end");
    case(&chain(&format!("[{step},{line},{step}]")), &["/steps/1/delivery/raster"]);

    let common = |frames: &str| format!(r#"{{"kind":"common","source":{{"raster":[9,9]}},"frames":{frames}}}"#);
    case(&common("[]"), &["/frames"]);
    case(&common(&format!("[{}]", vec![step; 101].join(","))), &["/frames"]);
    case(&common("[{}]"), &["/frames/0/delivery"]);
    case(r#"{"kind":"proxy","raster":[9,0],"step":3}"#, &["/raster/1", "/step"]);
    case(r#"{"kind":"proxy","raster":[9,9],"n":2}"#, &["/n"]);
}

#[test]
fn a_subject_outside_the_picture_is_refused() {
    let subject = |text: &str| {
        format!(
            r#"{{"kind":"subject","source":{{"raster":[9,9]}},"delivery":{{"raster":[9,9]}},"framing":{{}},"subject":{text}}}"#
        )
    };
    answer(subject(r#"{"x":0,"y":"1/2","width":1,"height":"0.5"}"#).as_bytes()).expect("inside");
    case(&subject(r#"{"x":"0.5","y":0,"width":"0.6","height":1}"#), &["/subject/width"]);
    case(&subject(r#"{"x":0,"y":"0.5","width":1,"height":"0.6"}"#), &["/subject/height"]);
    case(&subject(r#"{"x":0,"y":0,"width":0,"height":1}"#), &["/subject/width"]);
    case(&subject(r#"{"x":"-0.1","y":2,"width":"x","height":1}"#), &["/subject/width", "/subject/x", "/subject/y"]);
    case(&subject("{}"), &["/subject/height", "/subject/width", "/subject/x", "/subject/y"]);
    case(&subject("null"), &["/subject"]);
    let bare = r#"{"kind":"subject","source":{"raster":[9,9]},"delivery":{"raster":[9,9]}}"#;
    case(bare, &["/framing", "/subject"]);
}
