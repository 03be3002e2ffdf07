//! Questions in plain words: understood as a request of the calculations, forgiving, and honest about
//! what was not understood.

use proptest::prelude::*;
use ratiomet_exchange::ask::{EXAMPLES, ask};
use ratiomet_wire::calc::CalcRequest;
use ratiomet_wire::describe::As;
use ratiomet_wire::read::Reader;
use serde_json::{Value, json};

#[track_caller]
fn case(question: &str, request: Value, says: &str) {
    let answer = ask(question).unwrap_or_else(|no| panic!("{question}: {}", no.why));
    let text = request.to_string();
    let expected: CalcRequest = Reader::request(text.as_bytes()).expect("a request");
    let written = serde_json::to_string(answer.request.as_ref().expect("a calculation")).expect("JSON");
    assert_eq!(written, serde_json::to_string(&As(&expected)).expect("JSON"), "{question}");
    assert!(answer.sentence.contains(says), "{question}: {}", answer.sentence);
    // It is the answer of the calculation, and nobody else's.
    let text = |result| serde_json::to_string(result).expect("JSON");
    let result = ratiomet_wire::calc::answer(written.as_bytes()).expect("a result");
    assert_eq!(text(answer.result.as_ref().expect("a result")), text(&result), "{question}");
}

#[test]
fn questions_of_the_trade_are_understood() {
    let extraction = |ratio: &str, size: [u32; 2], keep: &str| json!({ "kind": "extraction", "container": size, "ratio": ratio, "keep": keep });
    let uhd = [3840, 2160];
    // However it is said.
    for question in [
        "2.39 from UHD",
        "2.39 out of 3840x2160",
        "2.39 in 3840 x 2160?",
        "  2.39 FROM  3840×2160 ",
        "what is 2.39 out of a UHD frame",
        "from uhd a ratio of 2.39",
        "2,39 out of 3840 by 2160",
    ] {
        case(question, extraction("2.39", uhd, "inside"), "3840×1606, exactly 1606.695 lines");
    }
    case("2.39 out of UHD, how high?", extraction("2.39", uhd, "width"), "3840×1606");
    case(
        "4:5 in HD wide",
        extraction("4:5", [1920, 1080], "height"),
        "864×1080 (Portrait 4:5 of HD), exactly 864 pixels wide",
    );
    case("16:9 from dci4k", extraction("16:9", [4096, 2160], "inside"), "3840×2160 (UHD)");
    // Worked by hand: 3840 times 1.8 is 6912; 2.39 of 3.2 is 74.7 %.
    let desqueeze = |more: Value| {
        let mut request = json!({ "kind": "desqueeze", "raster": uhd, "squeeze": "1.8" });
        request.as_object_mut().expect("an object").extend(more.as_object().expect("an object").clone());
        request
    };
    case("1.8x on 3840x2160 into 2.39", desqueeze(json!({ "target_ratio": "2.39" })), "keeps 74.7 %");
    case("uhd 1.8x", desqueeze(json!({})), "Shows 3.2:1");
    // A sensor by its shape: 3:2 times 1.5.
    let sensor = json!({ "kind": "desqueeze", "raster": [1500, 1000], "squeeze": "1.5" });
    case("1.5x on a 3:2 sensor, what do I get?", sensor, "Shows 2.25:1");
    let tape = json!({ "kind": "desqueeze", "raster": [720, 576], "pixel_aspect": "12:11" });
    case("720x576 12:11", tape.clone(), "784×576");
    case("PAL 12:11 pixels", tape.clone(), "Shows 1.364:1");
    case("pixel aspect 12:11 on 720x576", tape, "784×576");
    let up = json!({ "kind": "scale", "from": [1920, 1080], "to": uhd });
    case("HD to UHD, what factor", up.clone(), "2x (200 %), 4x the area; exactly a 2x enlargement");
    case("1080p into 4K", up, "2x");
    let tape_up = json!({ "kind": "scale", "from": [1280, 720], "to": [1920, 1080] });
    case("720p into HD", tape_up, "a 2x enlargement, then 75 %");
    let cadence =
        |from: &str, to: &str, intent: &str| json!({ "kind": "cadence", "from": from, "to": to, "intent": intent });
    case("60 at 24", cadence("60", "24", "real_time"), "1:0:1:0:0");
    case("60 shown at 30", cadence("60", "30", "real_time"), "Every 2nd frame");
    case("25fps to 50", cadence("25", "50", "real_time"), "Each frame is shown 2 times");
    case("120 at 24 slow", cadence("120", "24", "every_frame"), "20 % speed; 5 times as long");
    case("5760 sphere", json!({ "kind": "sphere_frame", "width": 5760 }), "5760×2880 pixels, 16 per degree");
    case("sphere 7680 60fps", json!({ "kind": "sphere_frame", "width": 7680, "rate": "60" }), "H.265 level 6.1");
    let view = json!({ "kind": "sphere_view", "eye": [5760, 2880], "view": [1920, 1080], "fov": "90" });
    case("5760 sphere 90 view 1920x1080", view.clone(), "58.72° high");
    case("90 degree view as HD out of a 5760 sphere", view, "native from a sphere 6032 wide");
    let levels = json!({ "kind": "levels", "frame": [3840, 1920], "rate": "30" });
    case("level 3840x1920 30p", levels, "H.264 level 5.1, H.265 level 5");
    let viewing = json!({ "kind": "viewing", "delivery": { "raster": [1920, 1080], "picture_ratio": "2.00" }, "screen": [2340, 1080] });
    case("HD 2.00 on screen 2340x1080", viewing, "bars on all four sides");
    let weight = json!({
        "kind": "weight", "frame": [1920, 1080], "rate": "25", "seconds": "90", "video_mbps": "12", "audio_kbps": "192",
    });
    case("HD 25p 90s 12mbps 192 kbps", weight.clone(), "137.16 MB");
    case("1.5 minutes of HD 25fps with 12 mbps and 192kbps", weight, "0.2315 bits per pixel");
}

// A pocket calculator and what else people type; the figures are reckoned by hand.
#[test]
fn people_ask_as_they_like() {
    #[track_caller]
    fn says(question: &str, kind: &str, words: &str) {
        let answer = ask(question).unwrap_or_else(|no| panic!("{question}: {}", no.why));
        let request = serde_json::to_value(&answer.request).expect("JSON");
        assert_eq!(request["kind"], kind, "{question}");
        assert!(answer.sentence.contains(words), "{question}: {}", answer.sentence);
    }
    // 1920 over 2.35 is 817.02, published as 816; 1080 times 2.66 is 2872.8.
    for question in ["1920 / 2.35", "1920/2.35", "1920 divided by 2.35", "how high is 1920 at 2.35", "1920 wide 2.35"] {
        says(question, "extraction", "1920×816 (HD scope 2.35), exactly 817.021 lines");
    }
    for question in ["1080 * 2.66", "1080*2.66", "1080 x 2.66", "how wide is 1080 at 2.66", "1080 high 2.66"] {
        says(question, "extraction", "2872×1080, exactly 2872.8 pixels wide");
    }
    // One rule everywhere: the published frame first, then what rounding gives.
    for question in ["2.39 in HD", "letterbox 2.39 in HD", "crop HD to 2.39", "1920 wide 2.39", "scope from HD"] {
        says(question, "extraction", "1920×804 (HD scope 2.39), or 1920×802 rounded down; exactly 803.347 lines");
        says(question, "extraction", "shows 2.3881, or 2.394");
    }
    says("flat out of dci 4k", "extraction", "3996×2160 (Cinema flat 4K)");
    says("scope out of 4096x2160", "extraction", "4096×1716 (Cinema scope 4K)");
    // 2160 less 1606 is 554; 1080 less 804 is 276.
    says("how high are the bars of 2.39 in UHD", "extraction", "277 px off top and bottom, 276 and 278 on even pixels");
    says("black bars 2.39 1080p", "extraction", "138 px off top and bottom; keeps 74.4 %");
    says("2.35 out of 3840x2160", "extraction", "3840×1634, exactly 1634.043 lines");
    for question in ["1920x816", "aspect ratio of 1920x816", "1920 / 816", "ratio 1920x816"] {
        says(question, "desqueeze", "2.3529:1, exactly 40/17; 1.567 million pixels.");
    }
    // The same, from either end.
    for question in ["UHD into HD", "HD from UHD", "HD out of UHD", "UHD in HD", "downscale UHD to 1080p"] {
        says(question, "scale", "0.5x (50 %), 0.25x the area.");
    }
    says("UHD fill 1080x1920", "conversion", "At 88.8889 %, keeps 31.6 %; 1.125x to push in until 1:1.");
    says("fit 4096x1716 into HD", "conversion", "bars of 137.8 px top and bottom");
    says("rotate 1920x1080 into 1080x1920", "conversion", "At 100 %, keeps 100 %");
    says("how far can I push in UHD into HD", "conversion", "2x to push in until 1:1");
    says("how far can I push in HD into UHD", "conversion", "no room to push in");
    says("half UHD", "scale", "0.5x");
    says("25 percent of 3840x2160", "scale", "0.25x");
    says("proxies of 4608x3164", "proxy", "1/2: 2304×1582, 1/3: 1536×1054 (not quite its shape)");
    says("360 at 8k", "sphere_frame", "7680×3840 pixels");
    says("360 5.7k top bottom 30fps", "sphere_frame", "5760×5760 pixels, 16 per degree; H.264 level 6");
    says("8k sphere side by side", "sphere_frame", "15360×3840 pixels");
    says("5.7k sphere flat view 1920x1080", "sphere_view", "it is enlarged");
    says("HD out of a 5.7k sphere 110 view", "sphere_view", "enlarged towards the edge, 2.23 there");
    says("60 to 24 slow", "cadence", "40 % speed");
    says("120fps slowed to 24", "cadence", "20 % speed; 5 times as long");
    says("25 at 24 every frame once", "cadence", "96 % speed");
    says("24 from 25", "cadence", "of every 25 frames 1 is left out, 24 are shown");
    says("23.976 at 24 slow", "cadence", "100.1 % speed");
    says("24 at 25 slow motion", "cadence", "104.1667 % speed");
    says("level for 4k60", "levels", "H.264 level 5.2, H.265 level 5.1");
    says("1080i50 level", "levels", "H.264 level 4");
    says("16:9 PAL", "desqueeze", "1024×576");
    says("pal 4:3", "desqueeze", "768×576");
    says("ntsc 4:3", "desqueeze", "640×480");
    says("HDV 16:9", "desqueeze", "1920×1080");
    says("desqueeze 2880x2160 by 2", "desqueeze", "Shows 2.667:1");
    says("2x anamorphic on 2880x2160 to 2.39", "desqueeze", "keeps 89.6 %");
    says("vertical HD", "desqueeze", "0.5625:1");
    says("file size of 10 min at 50 mbps", "weight", "3.75 GB");
    says("1 hour 100 mbps", "weight", "45 GB");
    says("4:5 from HD", "extraction", "864×1080 (Portrait 4:5 of HD)");
    says("2.35 out of 3840x2160 16:9", "extraction", "3840×1634");
    // Either way round, and what is larger.
    says("fill UHD with 2880x2160 2x", "conversion", "At 200 % across and 100 % up and down, keeps 66.7 %");
    says("how much bigger is UHD than HD", "scale", "2x (200 %)");
    says("how many percent is HD of UHD", "scale", "0.5x (50 %)");
    says("1920 x 1080 -> 3840 x 2160", "scale", "2x (200 %)");
    says("UHD into HD 2.39", "conversion", "keeps 74.4 %");
    says("can I zoom 120% 4K in HD", "conversion", "At 60 %, keeps 69.4 %; 1.667x to push in until 1:1.");
    says("UHD to vertical HD", "scale", "0.2813x across (28.125 %) and 0.8889x up and down (88.8889 %)");
    // A camera's thousands are a width; 4096 over 6144 is 2/3, and 3840 over 6144 is 5/8.
    says("6K to 4K", "scale", "0.625x (62.5 %)");
    says("6K open gate 3:2 into UHD scope", "conversion", "At 62.5 %, keeps 62.8 %");
    says("resize 4096x2160 to 1920", "scale", "0.4688x across");
    says("scale UHD by 0.5", "scale", "0.5x (50 %)");
    says("double HD", "scale", "2x (200 %)");
    says("quarter of UHD", "scale", "0.25x (25 %)");
    // Pixels that are not square: 704 columns of 12:11 are 768.
    says("DV NTSC", "desqueeze", "640×480");
    says("anamorphic PAL", "desqueeze", "1024×576");
    says("1440x1080 in square pixels", "desqueeze", "1920×1080");
    says("PAL 16:9 into HD", "conversion", "At 272.7273 % across and 187.5 % up and down, keeps 100 %");
    says("what squeeze makes 2.39 from 16:9", "desqueeze", "A squeeze of 1.3444x. Shows 2.39:1.");
    says("is 1920x1080 16:9", "desqueeze", "Yes, exactly 16:9.");
    says("is 1920x1080 1.85", "desqueeze", "No, it is 3.9 % narrower than 1.85.");
    says("2.39 in 16:9", "extraction", "1920×804 (HD scope 2.39)");
    says("16:9 to 4:5", "extraction", "864×1080 (Portrait 4:5 of HD)");
    says("2.39", "extraction", "1920×804 (HD scope 2.39)");
    says("portrait 4:5 1080", "extraction", "1080×1350 (Portrait 4:5)");
    says("DCI scope 2K", "extraction", "2048×858 (Cinema scope 2K)");
    // Rates with their rasters, fields, long patterns.
    says("1080p60", "levels", "H.264 level 4.2");
    says("1080p60 to 24", "cadence", "1:0:1:0:0");
    says("1080i50 to 25p", "cadence", "Frame for frame.");
    says("3:2 pulldown", "cadence", "3:2");
    says("29.97 into 25", "cadence", "of every 1200 frames 199 are left out, 1001 are shown");
    says("24 to 23.976", "cadence", "one about every 41.71 s");
    says("90 min 24 to 25", "cadence", "5400 s become 5184 s (1 h 26 min 24 s).");
    // 10 GB are 80,000 million bits in 5,400 s; 64 GB at 100 Mbit/s are 5,120 s.
    says("10 GB in 90 min", "weight", "14.8148 Mbit/s.");
    says("how long fits 64 GB at 100 mbps", "weight", "5120 s (1 h 25 min 20 s).");
    says("50 mbps", "weight", "22.5 GB");
    says("5.7k", "sphere_frame", "5760×2880 pixels");
    says("360 top bottom 5.7k", "sphere_frame", "5760×5760 pixels");
    says("vr180 at 8k", "sphere_frame", "7680×3840 pixels, 21.333 per degree");
    says("sphere of 16 pixels per degree", "sphere_frame", "5760×2880 pixels");
    says("110° out of 5.7k into HD", "sphere_view", "2.23 there");
    says("HD from 5760x2880 at 90", "sphere_view", "58.72° high");
}

#[test]
fn sums_are_reckoned_exactly() {
    #[track_caller]
    fn comes_to(sum: &str, says: &str) {
        let answer = ask(sum).unwrap_or_else(|no| panic!("{sum}: {}", no.why));
        assert_eq!(answer.sentence, says, "{sum}");
        assert!(answer.request.is_none() && answer.result.is_none(), "{sum}");
    }
    comes_to("2160 - 276", "1884.");
    comes_to("(1920-240)/2", "840.");
    comes_to("3840*0.75 =", "2880.");
    comes_to("1080 × 16 ÷ 9", "1920.");
    comes_to("1 - 2*3", "-5.");
    comes_to("100/3", "33.3333, exactly 100/3.");
    assert!(ask("1/0").is_err());
    assert!(ask("(1+2").is_err());
    assert!(ask("1 + + 2").is_err());
}

// Other figures that are no calculation of their own.
#[test]
fn figures_are_said_in_a_sentence() {
    let says = |question: &str| ask(question).expect(question).sentence;
    assert_eq!(says("2048 to 1920"), "0.9375x, 93.75 % on each side.");
    // EBU R 95: 3.5 % of 1920 are 67.2, and 5 % are 96.
    assert!(says("title safe of HD").contains("title 90 %: 1728×972, 96 px and 54 lines in"));
    // 118:81 is the older shape of 16:9 at 625 lines (from memory).
    assert!(says("pixel aspect 1.4587").contains("16:11, which is 1.4545; 0.28 % away"));
}

// What may have been meant as well is answered too.
#[test]
fn both_meanings_are_answered() {
    let others = |question: &str| -> Vec<String> {
        let answer = ask(question).unwrap_or_else(|no| panic!("{question}: {}", no.why));
        answer.others.into_iter().map(|other| format!("{}: {}", other.understood, other.sentence)).collect()
    };
    let [cinema] = &others("2.39 from 4K")[..] else { panic!("two meanings") };
    assert!(cinema.starts_with("4K as 4096×2160, 2.39 out of 4096×2160: 4096×1716"), "{cinema}");
    // Scope is a picture of cinema: its container comes first.
    assert!(ask("scope in 4K").expect("an answer").understood.ends_with("4096×2160"));
    assert!(others("scope in 4K")[0].starts_with("4K as 3840×2160"));
    assert!(others("60 at 24")[0].contains("40 % speed; 2.5 times as long"));
    assert!(others("120 at 24 slow")[0].contains("Every 5th frame"));
    assert!(others("PAL")[0].contains("1024×576"));
    let unlike = others("UHD into 1080x1350");
    assert!(unlike[0].contains("keeps 45 %") && unlike[1].contains("bars of 371.3 px"), "{unlike:?}");
    assert_eq!(others("2.39").len(), 3);
    assert!(others("2.39 from UHD").is_empty());
}

#[test]
fn what_was_taken_for_granted_is_said() {
    let remarks = |question: &str| ask(question).map(|answer| answer.remarks).unwrap_or_default();
    assert_eq!(remarks("2,39 from UHD"), ["2,39 is read as 2.39"]);
    assert!(remarks("2.39 from 4K")[0].contains("the cinema container 4K is 4096×2160"));
    assert!(remarks("scope from UHD")[0].contains("older scope is 2.35"));
    assert!(remarks("21:9 from UHD")[0].contains("2.33, 2.37 and 2.39"));
    assert_eq!(remarks("pal 16:9"), ["704 of its 720 columns are picture (ITU-R BT.601)"]);
    assert!(remarks("2.39 from UHD").is_empty());
    // What was not used is named, and never dropped.
    assert_eq!(remarks("hello, 2.39 from UHD"), ["hello was not used"]);
    assert_eq!(remarks("UHD into HD 12 mm 2.39"), ["12 was not used"]);
}

#[test]
fn what_is_not_understood_is_named_and_examples_are_given() {
    #[track_caller]
    fn refused(question: &str, says: &str) {
        let no = ask(question).expect_err(question);
        assert!(no.why.contains(says), "{question}: {}", no.why);
        assert_eq!(no.examples.len(), EXAMPLES.len());
    }
    refused("", "the question was not understood");
    refused("hello there", "\"hello\" was not understood");
    refused("24p", "24 fps was understood, and what is asked was not");
    refused("how far can I push in", "two frames are needed");
    refused("60 24", "60, 24 was understood, and what is asked was not");
    refused("400 view 1920x1080 out of a 5760 sphere", "an angle over 0 and under 180 degrees");
    refused("0.001 from UHD", "a ratio from 1/100 to 100");
    refused("2.39 from 99999x10", "from 1 to 65536");
    refused(&"2.39 from UHD ".repeat(40), "at most 200 characters");
}

#[test]
fn every_example_is_understood() {
    for example in EXAMPLES {
        assert!(ask(example).is_ok(), "{example}");
    }
}

proptest! {
    #[test]
    fn what_is_typed_is_answered_or_refused_in_words(text in "\\PC{0,60}", more in "[0-9xX.,:/ a-z]{0,40}") {
        for question in [text, more] {
            match ask(&question) {
                Ok(answer) => prop_assert!(answer.sentence.ends_with('.') && !answer.understood.is_empty()),
                Err(no) => prop_assert!(!no.why.is_empty() && no.examples.len() == EXAMPLES.len()),
            }
        }
    }
}
