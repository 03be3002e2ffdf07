//! Whole requests with whole answers, worked out by hand.

use ratiomet_wire::calc::answer;
use serde_json::{Value, json};

fn ask(request: &Value) -> Value {
    let answer = answer(request.to_string().as_bytes()).expect("an answer");
    serde_json::to_value(answer).expect("JSON")
}

/// An answer with every exact number as its text alone.
fn texts(value: &Value) -> Value {
    match value {
        Value::Object(fields) if fields.len() == 2 && fields.contains_key("exact") && fields.contains_key("value") => {
            fields["exact"].clone()
        }
        Value::Object(fields) => fields.iter().map(|(name, value)| (name.clone(), texts(value))).collect(),
        Value::Array(items) => items.iter().map(texts).collect(),
        other => other.clone(),
    }
}

/// A part of an answer, its exact numbers as text.
#[track_caller]
fn part(answer: &Value, pointer: &str, expected: &Value) {
    assert_eq!(texts(answer.pointer(pointer).unwrap_or(&Value::Null)), *expected, "{pointer}");
}

#[test]
fn a_2x_scope_picture_in_a_masked_hd_frame() {
    // 2880x2160 behind a 2x lens shows 5760x2160. The 2.00 picture of HD is 1920x960, 60 down.
    // To fill it the scale is 960/2160 = 4/9 both ways: 2560 wide, 320 over at each side.
    let answer = ask(&json!({
        "kind": "conversion",
        "source": { "raster": [2880, 2160], "squeeze": 2 },
        "delivery": { "raster": [1920, 1080], "picture_ratio": "2.00" },
        "framing": { "method": "fill" }
    }));
    part(&answer, "/upright", &json!({ "size": ["5760", "2160"], "ratio": "8/3" }));
    part(&answer, "/picture_area", &json!({ "x": 0, "y": 60, "width": 1920, "height": 960 }));
    part(&answer, "/image", &json!({ "x": "-320", "y": "60", "width": "2560", "height": "960" }));
    // Stored columns become 8/9 of a delivery pixel, lines 4/9.
    part(&answer, "/scale", &json!({ "x": "8/9", "y": "4/9" }));
    part(&answer, "/reserve", &json!({ "x": "9/8", "y": "9/4" }));
    part(&answer, "/bars", &json!({ "left": "0", "top": "0", "right": "0", "bottom": "0" }));
    part(&answer, "/window", &json!({ "x": "360", "y": "0", "width": "2160", "height": "2160" }));
    part(&answer, "/kept", &json!("3/4"));
    part(&answer, "/covered", &json!("1"));
    part(&answer, "/travel", &json!({ "x": "320", "y": "0" }));
    // Against the whole raster: it fits at 1/3, fills at 1/2.
    part(&answer, "/dial/native_percent", &json!({ "x": "400/9", "y": "400/9" }));
    part(&answer, "/dial/over_fit", &json!({ "x": "4/3", "y": "4/3" }));
    part(&answer, "/dial/over_fill", &json!({ "x": "8/9", "y": "8/9" }));
    // Taken as square, 2880x2160 fits HD as 1440x1080.
    part(&answer, "/dial/uncorrected", &json!({ "x": "16/9", "y": "8/9" }));
    part(&answer, "/dial/centre_offset", &json!({ "x": "0", "y": "0" }));
    part(&answer, "/dial/top_left", &json!({ "x": "-320", "y": "60" }));
    part(&answer, "/findings", &json!([]));
}

#[test]
fn the_window_goes_back_through_every_turn() {
    // A 200x100 picture with 10 cut at the left fills a square of 100: of 190 columns 100 stay.
    // Moved 20 to the right, what is seen begins 20 earlier along the delivery's x.
    let window = |rotation: u32, shift: [&str; 2]| {
        let answer = ask(&json!({
            "kind": "conversion",
            "source": { "raster": [200, 100], "active": { "left": 10 }, "rotation": rotation },
            "delivery": { "raster": [100, 100] },
            "framing": { "method": "fill", "shift": shift }
        }));
        texts(&answer["window"])
    };
    let rect = |x: &str| json!({ "x": x, "y": "0", "width": "100", "height": "100" });
    assert_eq!(window(0, ["0", "0"]), rect("55"));
    assert_eq!(window(0, ["20", "0"]), rect("35"));
    // Upside down: right in the frame is left in the file.
    assert_eq!(window(180, ["20", "0"]), rect("75"));
    // A quarter clockwise: down in the frame is right in the file.
    assert_eq!(window(90, ["0", "20"]), rect("35"));
    // A quarter anticlockwise: down in the frame is left in the file.
    assert_eq!(window(270, ["0", "20"]), rect("75"));
}

#[test]
fn bars_are_counted_on_each_axis_also_when_the_picture_misses() {
    let answer = ask(&json!({
        "kind": "conversion",
        "source": { "raster": [100, 100] },
        "delivery": { "raster": [400, 100] },
        "framing": { "shift": ["300", "-25"] }
    }));
    // 100x100 in the middle of 400x100, moved 300 right: it begins at 450 and is out of sight.
    part(&answer, "/bars", &json!({ "left": "400", "top": "0", "right": "0", "bottom": "25" }));
    part(&answer, "/window", &Value::Null);
    part(&answer, "/kept", &json!("0"));
    let codes: Vec<_> =
        answer["findings"].as_array().expect("findings").iter().map(|each| each["code"].clone()).collect();
    assert_eq!(codes, ["bars", "off_edge", "double_boxed"]);
    part(&answer, "/findings/1/data/beyond", &json!({ "x": "150", "y": "25" }));
}

#[test]
fn pixel_aspects_on_both_sides_keep_circles_round() {
    // 625-line 4:3 tape into a 16:9 frame of the same lines: 12:11 pixels into 16:11 ones.
    let answer = ask(&json!({
        "kind": "conversion",
        "source": { "raster": [720, 576], "pixel_aspect": "12:11" },
        "delivery": { "raster": [720, 576], "pixel_aspect": "16:11" },
        "framing": { "method": "fit" }
    }));
    part(&answer, "/distortion", &json!("0"));
    part(&answer, "/image", &json!({ "x": "90", "y": "0", "width": "540", "height": "576" }));
    part(&answer, "/scale", &json!({ "x": "3/4", "y": "1" }));
    part(&answer, "/dial/native_percent", &json!({ "x": "100", "y": "100" }));
}

#[test]
fn an_extraction_in_full() {
    let answer =
        ask(&json!({ "kind": "extraction", "container": [3840, 2160], "ratio": "2.39", "step": 4, "round": "up" }));
    let candidate = |step: u32, height: u32, deviation: &str| (step, height, deviation.to_owned());
    let found: Vec<_> = answer["candidates"]
        .as_array()
        .expect("candidates")
        .iter()
        .map(|each| {
            let number = |value: &Value| u32::try_from(value.as_u64().unwrap_or(0)).unwrap_or(0);
            (
                number(&each["step"]),
                number(&each["frame"][1]),
                each["deviation"]["exact"].as_str().unwrap_or("").to_owned(),
            )
        })
        .collect();
    // 3840 / 2.39 = 384000/239 = 1606.69...
    part(&answer, "/exact", &json!(["3840", "384000/239"]));
    part(&answer, "/frame", &json!([3840, 1608]));
    part(&answer, "/lost", &json!({ "left": 0, "top": 276, "right": 0, "bottom": 276 }));
    part(&answer, "/kept", &json!("67/90"));
    assert_eq!(
        found,
        [
            candidate(1, 1607, "-73/384073"),
            candidate(2, 1606, "83/191917"),
            candidate(4, 1608, "-13/16013"),
            candidate(8, 1608, "-13/16013"),
            candidate(16, 1600, "1/239"),
        ]
    );
    assert_eq!(answer["published"][0]["name"], "UHD scope 2.40");
}

#[test]
fn a_desqueeze_in_full() {
    // 6240x4160 at 1.5x shows 9360x4160 = 9:4; 2.39 of that cuts the height.
    let answer = ask(&json!({ "kind": "desqueeze", "raster": [6240, 4160], "squeeze": "1.5", "target_ratio": "2.39" }));
    part(&answer, "/factor", &json!("3/2"));
    part(&answer, "/ratio", &json!("9/4"));
    part(&answer, "/widened", &json!({ "frame": [9360, 4160], "distortion": "0" }));
    // 4160 / 1.5 = 2773.33..., rounded down to 2772.
    part(&answer, "/flattened", &json!({ "frame": [6240, 2772], "distortion": "1/2079" }));
    part(&answer, "/target/window", &json!({ "x": "0", "y": "29120/239", "width": "6240", "height": "936000/239" }));
    part(&answer, "/target/kept", &json!("225/239"));
    part(&answer, "/target/widened", &json!([9360, 3916]));
    part(&answer, "/target/flattened", &json!([6240, 2610]));
    // Without a target there is none in the answer.
    assert_eq!(ask(&json!({ "kind": "desqueeze", "raster": [16, 9] })).get("target"), None);
}

#[test]
fn a_scale_in_full() {
    let answer = ask(&json!({ "kind": "scale", "from": [1440, 1080], "to": [3840, 2160] }));
    let expected = json!({
        "kind": "scale", "x": "8/3", "y": "2", "area": "16/3", "uniform": false, "direction": "up",
        "whole": { "factor": 3, "residual": "8/9" }
    });
    assert_eq!(texts(&answer), expected);
}

#[test]
fn values_too_long_for_machine_words_stay_exact() {
    let answer = ask(&json!({
        "kind": "conversion",
        "source": { "raster": [65536, 65535], "pixel_aspect": "999999999989/999999999961", "squeeze": "999999999959/999999999937" },
        "delivery": { "raster": [65521, 65519], "pixel_aspect": "999999999899/999999999877" },
        "framing": { "method": "native", "zoom": "999999999863/999999999857", "shift": ["999999.999991", "-1/999999999989"] }
    }));
    // 65536 times both fractions, whose parts share no divisor with one another or with 65536.
    let numerator = 65_536_u128 * 999_999_999_989 * 999_999_999_959;
    let denominator = 999_999_999_961_u128 * 999_999_999_937;
    part(&answer, "/upright/size/0", &json!(format!("{numerator}/{denominator}")));
    part(&answer, "/kept", &json!("0"));
}

#[test]
fn a_chain_through_a_small_working_frame() {
    // UHD to 720 lines is 1/3, back to UHD 3: all the size is there and a third of the detail.
    let answer = ask(&json!({
        "kind": "chain",
        "source": { "raster": [3840, 2160] },
        "steps": [{ "delivery": { "raster": [1280, 720] } }, { "delivery": { "raster": [3840, 2160] } }]
    }));
    part(&answer, "/scale", &json!({ "x": "1", "y": "1" }));
    part(&answer, "/detail", &json!({ "x": "1/3", "y": "1/3" }));
    part(&answer, "/direct", &json!({ "x": "1", "y": "1" }));
    part(&answer, "/detour", &json!(true));
    part(&answer, "/steps/0/scale", &json!({ "x": "1/3", "y": "1/3" }));
    part(&answer, "/steps/1/upright", &json!({ "size": ["1280", "720"], "ratio": "16/9" }));
}

#[test]
fn proxies_of_an_open_gate() {
    // 4608x3164 is 1152:791; its half is on the even grid, its third is 1536 by 1054 2/3.
    let answer = ask(&json!({ "kind": "proxy", "raster": [4608, 3164] }));
    part(
        &answer,
        "/sizes/0",
        &json!({ "n": 2, "exact": ["2304", "1582"], "frame": [2304, 1582], "distortion": "0", "true": true }),
    );
    part(&answer, "/sizes/1/exact", &json!(["1536", "3164/3"]));
    part(&answer, "/sizes/1/frame", &json!([1536, 1054]));
    part(&answer, "/sizes/1/distortion", &json!("1/1581"));
    part(&answer, "/largest_true", &json!([2304, 1582]));
    // On a grid of 16 only whole multiples of 16 times the lowest terms are true.
    part(&ask(&json!({ "kind": "proxy", "raster": [4608, 3164], "step": 16 })), "/largest_true", &json!(null));
    part(&ask(&json!({ "kind": "proxy", "raster": [3840, 2160], "step": 16 })), "/largest_true", &json!([1792, 1008]));
}

#[test]
fn a_frame_around_a_subject_at_the_right() {
    // 1080x1920 filled out of UHD shows 1215 columns; with 13/16 of 3840, 3120, in their middle they begin at
    // 2512.5. The centre moves by 1200 columns, at 8/9 1066 2/3 delivery pixels to the left.
    let request = json!({
        "kind": "subject",
        "source": { "raster": [3840, 2160] },
        "subject": { "x": "3/4", "y": 0, "width": "1/8", "height": 1 },
        "delivery": { "raster": [1080, 1920] },
        "framing": { "method": "fill" }
    });
    let answer = ask(&request);
    part(&answer, "/shift", &json!({ "x": "-3200/3", "y": "0" }));
    part(&answer, "/off_middle", &json!({ "x": "0", "y": "0" }));
    part(&answer, "/free", &json!("0"));
    part(&answer, "/whole", &json!(true));
    part(&answer, "/plan/window", &json!({ "x": "5025/2", "y": "0", "width": "1215", "height": "2160" }));
    // 367.5 of the columns seen are free on either side. A twentieth of the frame stays free when it should stand
    // as far right as that permits.
    let mut right = request.clone();
    right["framing"]["shift"] = json!(["1000", 0]);
    right["subject"]["height"] = json!("1/2");
    right["subject"]["y"] = json!("1/4");
    let answer = ask(&right);
    part(&answer, "/free", &json!("1/20"));
    right["margin"] = json!("3/10");
    part(&ask(&right), "/free", &json!("1/4"));
    right["safe"] = json!("90");
    right["margin"] = json!(0);
    part(&ask(&right), "/free", &json!("1/20"));
    // Half of the picture does not go into 1215 of 3840 columns: 1215 of 1920 are seen.
    let mut wide = request;
    wide["subject"] = json!({ "x": "1/4", "y": 0, "width": "1/2", "height": 1 });
    let answer = ask(&wide);
    part(&answer, "/shown", &json!("81/128"));
    part(&answer, "/whole", &json!(false));
    part(&answer, "/shift", &json!({ "x": "0", "y": "0" }));
}

#[test]
fn what_scope_and_square_have_in_common() {
    // UHD: the 2.40 band is 1600 lines, the square 2160 columns. Both: 2160x1600 of 3840x2160.
    let answer = ask(&json!({
        "kind": "common",
        "source": { "raster": [3840, 2160] },
        "frames": [
            { "delivery": { "raster": [3840, 1600] }, "framing": { "method": "fill" } },
            { "delivery": { "raster": [1080, 1080] }, "framing": { "method": "fill" } }
        ]
    }));
    part(&answer, "/every", &json!({ "x": "7/32", "y": "7/54", "width": "9/16", "height": "20/27" }));
    part(&answer, "/every_share", &json!("5/12"));
    part(&answer, "/some_share", &json!("383/432"));
    part(&answer, "/some/1", &json!({ "x": "0", "y": "7/54", "width": "1", "height": "20/27" }));
    part(&answer, "/windows/0", &json!({ "x": "0", "y": "7/54", "width": "1", "height": "20/27" }));
    assert_eq!(answer["some"].as_array().map(Vec::len), Some(3));
    // A frame that shows nothing leaves nothing in common.
    let away = ask(&json!({
        "kind": "common",
        "source": { "raster": [100, 100] },
        "frames": [{ "delivery": { "raster": [10, 10] } }, { "delivery": { "raster": [10, 10] }, "framing": { "shift": ["900", "0"] } }]
    }));
    part(&away, "/every", &json!(null));
    part(&away, "/windows/1", &json!(null));
    part(&away, "/some_share", &json!("1"));
}
