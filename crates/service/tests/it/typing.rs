//! What to type, proved from outside: ffmpeg does what a program with these answers does to the whole clip (cut,
//! desqueeze, fit, size, turn, place), with the numbers as they are typed, and the picture is the recipe's.

use serde_json::{Value, json};

use crate::recipes::{calc, picture_of, real, value, whole};

/// A fraction of a request as a number.
fn number(value: &Value, default: f64) -> f64 {
    let Some(text) = value.as_str() else { return default };
    let (over, under) = text.split_once([':', '/']).unwrap_or((text, "1"));
    over.parse::<f64>().expect("a number") / under.parse::<f64>().expect("a number")
}

fn is(profile: &Value, question: &str, answer: &str) -> bool {
    profile[question] == answer
}

/// Whole pixels, as programs that show them have them.
fn pixels(value: f64) -> i64 {
    #[expect(clippy::cast_possible_truncation, reason = "pictures of some hundred pixels")]
    let rounded = value.round() as i64;
    rounded
}

/// The filter chain of a program with these answers, with these numbers typed into it.
fn program(request: &Value, typed: &Value, plan: &Value) -> String {
    let (source, delivery, profile) = (&request["source"], &request["delivery"], &request["profile"]);
    let side = |at: usize| real(whole(&source["raster"][at]));
    let inset =
        |name: &str| source["active"][name].as_u64().map_or(0.0, |inset| real(usize::try_from(inset).expect("small")));
    let (full_width, full_height) = (side(0), side(1));
    let mut filter = String::new();
    // It holds the clip whole, or cuts it first.
    let (mut width, mut height) = (full_width, full_height);
    if is(profile, "borders", "before") {
        (width, height) = (width - inset("left") - inset("right"), height - inset("top") - inset("bottom"));
        filter += &format!("crop={width}:{height}:{}:{},", inset("left"), inset("top"));
    }
    // The squeeze is set on the clip, or unknown to it.
    let shape = number(&source["pixel_aspect"], 1.0) * number(&source["squeeze"], 1.0);
    let wide = if is(profile, "squeeze", "apart") { 1.0 } else { shape };
    let degrees = source["rotation"].as_u64().unwrap_or(0);
    let quarter = degrees % 180 == 90;
    let turned_last = is(profile, "turned", "last");
    // What it calls 100 %, of the picture as it stands when that is asked.
    let pixel = number(&delivery["pixel_aspect"], 1.0);
    let (frame_width, frame_height) = (real(whole(&delivery["raster"][0])), real(whole(&delivery["raster"][1])));
    let upright = quarter && !turned_last;
    let (held_width, held_height) = if upright { (height, width * wide) } else { (width * wide, height) };
    let (across, down) = (frame_width * pixel / held_width, frame_height / held_height);
    let hundred = match profile["hundred"].as_str() {
        Some("native") => 1.0,
        Some("filled") => across.max(down),
        _ => across.min(down),
    };
    let unit = if is(profile, "zoom_unit", "factor") { 1.0 } else { 100.0 };
    let numbers = if typed["safe"].is_null() { &typed["rounded"] } else { &typed["safe"] };
    let zoom = |axis: &str| value(&numbers["zoom"][axis]) / unit * hundred;
    // Lines of the frame, of the picture as it lies: sized apart, its axes are those that it has then.
    let (lying_width, lying_height) = if upright {
        (width * wide * zoom("y"), height * zoom("x"))
    } else {
        (width * wide * zoom("x"), height * zoom("y"))
    };
    let (lying_width, lying_height) =
        if quarter { (lying_width, lying_height / pixel) } else { (lying_width / pixel, lying_height) };
    filter += &format!("scale={}:{}:flags=bicubic,", pixels(lying_width), pixels(lying_height));
    filter += match degrees {
        90 => "transpose=clock,",
        180 => "hflip,vflip,",
        270 => "transpose=cclock,",
        _ => "",
    };
    let (width, height) = if quarter { (lying_height, lying_width) } else { (lying_width, lying_height) };
    // Where it is put.
    let parts = is(profile, "unit", "parts");
    let place = |axis: &str, side: f64| value(&numbers["place"][axis]) * if parts { side } else { 1.0 };
    let (x, mut y) = (place("x", frame_width), place("y", frame_height));
    let up = is(profile, "upwards", "up");
    if up {
        y = -y;
    }
    let (left, top) = match profile["zero"].as_str() {
        Some("corner") => (x, if up { frame_height + y - height } else { y }),
        Some("corner_to_centre") => (x - width / 2.0, if up { frame_height + y } else { y } - height / 2.0),
        _ => (frame_width / 2.0 + x - width / 2.0, frame_height / 2.0 + y - height / 2.0),
    };
    let (left, top) = (pixels(left), pixels(top));
    let (width, height) = (pixels(width), pixels(height));
    let (frame_width, frame_height) = (pixels(frame_width), pixels(frame_height));
    let seen = |start: i64, side: i64, frame: i64| (start.max(0), (start + side).min(frame));
    let ((from_x, to_x), (from_y, to_y)) = (seen(left, width, frame_width), seen(top, height, frame_height));
    filter += &format!("crop={}:{}:{}:{}:exact=1,", to_x - from_x, to_y - from_y, from_x - left, from_y - top);
    filter += &format!("pad={frame_width}:{frame_height}:{from_x}:{from_y},");
    // The mask of the frame, whatever the picture is.
    let area = &plan["picture_area"];
    let [x, y, width, height] = ["x", "y", "width", "height"].map(|part| area[part].as_u64().expect("whole"));
    filter + &format!("crop={width}:{height}:{x}:{y}:exact=1,pad={frame_width}:{frame_height}:{x}:{y}")
}

/// Whether a program with these answers shows what the recipe makes, to the pixel.
fn check(request: &Value, typed: &Value, plan: &Value, planned: &[[u16; 3]]) {
    let filter = program(request, typed, plan);
    let made = picture_of(request, &filter);
    let (width, height) = (whole(&request["delivery"]["raster"][0]), whole(&request["delivery"]["raster"][1]));
    assert_eq!((made.len(), planned.len()), (width * height, width * height), "{filter}");
    let stored = [0, 1].map(|at: usize| real(whole(&request["source"]["raster"][at])));
    let scale = ["x", "y"].map(|axis| value(&plan["scale"][axis]));
    let quarter = request["source"]["rotation"].as_u64().unwrap_or(0) % 180 == 90;
    let along = |at: usize| if quarter { scale[1 - at] } else { scale[at] };
    let (mut farthest, mut sum, mut both, mut one) = (0.0_f64, 0.0, 0_usize, 0_usize);
    for (made, planned) in made.iter().zip(planned) {
        // Blue is full where there is picture, none where there is not, and between on the seam.
        match (made[2], planned[2]) {
            (65_000.., 65_000..) => {
                let off = |at: usize| f64::from(made[at].abs_diff(planned[at])) / 65_534.0 * stored[at] * along(at);
                let off = off(0).max(off(1));
                farthest = farthest.max(off);
                sum += off;
                both += 1;
            }
            (65_000.., ..500) | (..500, 65_000..) => one += 1,
            _ => {}
        }
    }
    assert!(both > width * height / 10, "hardly a picture: {both} of {} pixels by {filter}", width * height);
    let mean = sum / real(both);
    let seam = width + height;
    assert!(
        farthest <= 2.0 && mean <= 0.75 && one <= seam,
        "{request}: {farthest} px off at most, {mean} on average, {one} pixels without picture in one of both, by {filter}"
    );
}

// Insets, turns, squeezes, pixel shapes, masks, zoomed and shifted; each with a profile for each answer to each question.
#[test]
fn numbers_typed_into_a_program_give_the_picture_of_the_recipe() {
    let cases = [
        // The cut clip of 1920x1080 into scope, at a fifth: 143/96 over fitted.
        json!({ "source": { "raster": [384, 216], "squeeze": "2", "active": { "left": 48, "right": 48 } },
            "delivery": { "raster": [820, 344] }, "framing": { "method": "fill" } }),
        // HD stored sideways into an upright frame, at a fifth: 16/9 after the turn.
        json!({ "source": { "raster": [384, 216], "rotation": 90 }, "delivery": { "raster": [216, 384] },
            "framing": { "method": "fill" } }),
        // A tape with borders into a masked frame.
        json!({ "source": { "raster": [360, 288], "pixel_aspect": "12:11", "active": { "left": 4, "top": 2, "right": 6, "bottom": 4 } },
            "delivery": { "raster": [480, 270], "picture_ratio": "2.00" }, "framing": { "method": "fill", "zoom": "1.1", "shift": ["-7.5", "3"] } }),
        // A squeezed clip, turned, with borders, boxed into a frame with pixels of its own.
        json!({ "source": { "raster": [300, 200], "squeeze": "1.5", "rotation": 270, "active": { "left": 10, "top": 6, "right": 2, "bottom": 0 } },
            "delivery": { "raster": [360, 288], "pixel_aspect": "16:11" }, "framing": { "method": "fit" } }),
        // Upside down, pushed in and shifted, in an upright frame.
        json!({ "source": { "raster": [320, 240], "squeeze": "1.33", "rotation": 180 }, "delivery": { "raster": [216, 270] },
            "framing": { "method": "fill", "zoom": "1.25", "shift": ["20", "-9"] } }),
    ];
    let mut profiles = vec![json!({})];
    for (question, answers) in [
        ("hundred", &["native", "filled"][..]),
        ("squeeze", &["apart"]),
        ("borders", &["before"]),
        ("turned", &["last"]),
        ("zero", &["corner_to_centre", "corner"]),
        ("upwards", &["up"]),
        ("zoom_unit", &["factor"]),
    ] {
        profiles.extend(answers.iter().map(|answer| {
            // A factor of two decimals is a hundredth of a percentage: nobody keeps a frame filled with that.
            let decimals = if question == "zoom_unit" { 4 } else { 2 };
            json!({ question: answer, "zoom_decimals": decimals })
        }));
    }
    profiles.push(json!({ "unit": "parts", "place_decimals": 4, "zero": "corner", "upwards": "up" }));
    profiles.push(json!({ "squeeze": "apart", "borders": "before", "turned": "last", "hundred": "filled" }));
    let without_profile = |case: &Value, kind: &str| {
        let mut request = case.clone();
        for side in ["left", "top", "right", "bottom"] {
            let inset = request["source"]["active"][side].as_u64().unwrap_or(0);
            request["source"]["active"][side] = json!(inset);
        }
        request["kind"] = json!(kind);
        request
    };
    let recipes = cases.each_ref().map(|case| {
        let mut request = without_profile(case, "recipe");
        request["chroma"] = json!("4:4:4");
        request
    });
    let made = calc(&recipes);
    let plans = calc(&cases.each_ref().map(|case| without_profile(case, "conversion")));
    for (at, case) in cases.iter().enumerate() {
        let planned = picture_of(&recipes[at], made[at]["filter"].as_str().expect("a filter"));
        let requests: Vec<_> = profiles
            .iter()
            .map(|profile| {
                let mut request = without_profile(case, "typing");
                request["profile"] = profile.clone();
                request
            })
            .collect();
        for (request, typed) in requests.iter().zip(calc(&requests)) {
            check(request, &typed, &plans[at], &planned);
        }
    }
}
