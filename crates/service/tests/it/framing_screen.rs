//! The framing screen: dials that are typed into, the subject, candidates, findings, guides, and what
//! happens when the world changes under the hand.

use std::io::Write;
use std::process::Stdio;

use serde_json::{Value, json};

use crate::support::{Browser, Server, program};

const ENTER: &str = "\u{e007}";
const ESCAPE: &str = "\u{e00c}";
const RIGHT: char = '\u{e014}';
const CONTROL: char = '\u{e009}';

async fn open(server: &Server, source: i64, frame: i64) -> Browser {
    let browser = Browser::at(server.url()).await;
    // With every convention in sight.
    browser.open("/about").await;
    browser.run("localStorage.setItem('ratiomet.conventions', 'true')").await;
    browser.open(&format!("/projects/1/board/{source}/{frame}")).await;
    browser.see(&format!("[data-of='{source}/{frame}']")).await;
    browser
}

async fn conversion(server: &Server, source: i64, frame: i64) -> Value {
    server.get(&format!("/projects/1/conversions/{source}/{frame}")).await.ok()
}

/// Waits until something about the conversion is so.
async fn until(server: &Server, pair: (i64, i64), so: impl Fn(&Value) -> bool) -> Value {
    let start = std::time::Instant::now();
    loop {
        let now = conversion(server, pair.0, pair.1).await;
        if so(&now) {
            return now;
        }
        assert!(start.elapsed() < std::time::Duration::from_secs(15), "not reached: {}", now["framing"]);
        tokio::time::sleep(std::time::Duration::from_millis(10)).await;
    }
}

/// What `ratiomet calc` says to each of some requests.
fn calc(requests: &[Value]) -> Vec<Value> {
    let mut child =
        program().arg("calc").stdin(Stdio::piped()).stdout(Stdio::piped()).spawn().expect("the program starts");
    let mut input = child.stdin.take().expect("its input");
    let lines: String = requests.iter().map(|request| format!("{request}\n")).collect();
    let writer = std::thread::spawn(move || input.write_all(lines.as_bytes()));
    let output = child.wait_with_output().expect("it ends");
    writer.join().expect("written").expect("written");
    String::from_utf8(output.stdout)
        .expect("UTF-8")
        .lines()
        .map(|line| serde_json::from_str(line).expect("JSON"))
        .collect()
}

/// Presses on the picture in the frame and begins to move it; `at` goes on.
const PRESS: &str = "const svg = document.querySelector('.in-frame svg.grip'), b = svg.getBoundingClientRect(); \
     window.at = (type, by) => svg.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, button: 0, \
     buttons: 1, clientX: b.x + b.width / 2 + by, clientY: b.y + b.height / 2 })); \
     svg.setPointerCapture = () => {}; at('pointerdown', 0); at('pointermove', 20)";

#[tokio::test]
async fn at_rest_the_screen_says_what_the_command_line_says() {
    let server = Server::demo();
    // Framings of all sorts: every method, zooms, shifts, turned and squeezed sources.
    let framings = [
        json!({ "method": "fit", "zoom": "1.37", "shift": ["12.5", "-3"] }),
        json!({ "method": "native", "zoom": "3/7" }),
        json!({ "method": "stretch", "shift": ["0", "41"] }),
        json!({ "method": "subject", "zoom": "1.1" }),
        json!({ "method": "width", "zoom": "0.9" }),
        json!({ "method": "height", "shift": ["-77", "0"] }),
    ];
    let every = (1..=16).step_by(2).chain([2, 4, 10]).flat_map(|s| (17..=23).map(move |f| (s, f)));
    let pairs: Vec<(i64, i64)> = every.step_by(2).collect();
    for (at, (source, frame)) in pairs.iter().enumerate().filter(|(at, _)| at % 3 != 0) {
        let path = format!("/projects/1/conversions/{source}/{frame}");
        let version = conversion(&server, *source, *frame).await["version"].as_i64().expect("a version");
        server.put(&path, version, &json!({ "own": framings[at % framings.len()] })).await.ok();
    }
    let mut requests = Vec::new();
    for (source, frame) in &pairs {
        requests.push(json!({
            "kind": "conversion",
            "source": server.get(&format!("/projects/1/sources/{source}")).await.ok()["values"]["geometry"],
            "delivery": server.get(&format!("/projects/1/frames/{frame}")).await.ok()["values"]["geometry"],
            "framing": conversion(&server, *source, *frame).await["placed"],
        }));
    }
    let plans = calc(&requests);
    let browser = open(&server, 1, 17).await;
    let script = "return Object.fromEntries([...document.querySelectorAll('.dial-number input')].map(input => \
                  [input.getAttribute('aria-label'), [input.dataset.exact, input.value]]))";
    // Figures of the measures that lie over each other.
    let over = "return [...document.querySelectorAll('.drawing-box svg')].flatMap(svg => { \
                const all = [...svg.querySelectorAll('.measure:not(.blue .d-other) > text')].filter(t => t.textContent.trim()) \
                .map(t => [t.textContent, t.getBoundingClientRect()]); \
                return all.flatMap(([a, one], at) => all.slice(at + 1).filter(([, other]) => one.left + 1 < other.right && \
                other.left + 1 < one.right && one.top + 2 < other.bottom && other.top + 2 < one.bottom).map(([b]) => `${a} / ${b}`)) })";
    let mut compared = 0;
    for ((source, frame), plan) in pairs.iter().zip(&plans) {
        browser.go(&format!("/projects/1/board/{source}/{frame}")).await;
        browser.see(&format!("[data-of='{source}/{frame}']")).await;
        let shown = browser.run(script).await;
        let case = |name: &str, number: &Value| {
            let [exact, text] = [&shown[name][0], &shown[name][1]].map(|part| part.as_str().unwrap_or_default());
            assert_eq!(exact, number["exact"], "{name} of {source}/{frame}: {shown}");
            let (text, value): (f64, _) = (text.parse().expect(name), number["value"].as_f64().expect("a number"));
            assert!((text - value).abs() <= 0.000_050_000_1, "{name}: {text} is not {value}");
        };
        // For a program that holds the whole clip.
        let mut dial = plan["dial"]["uncut"].clone();
        dial["native_percent"] = plan["dial"]["native_percent"].clone();
        for (name, field) in
            [("percent of native", "native_percent"), ("over fit", "over_fit"), ("over fill", "over_fill")]
        {
            if dial[field]["x"]["exact"] == dial[field]["y"]["exact"] {
                case(name, &dial[field]["y"]);
            } else {
                case(&format!("{name}, across"), &dial[field]["x"]);
                case(&format!("{name}, up"), &dial[field]["y"]);
            }
        }
        case("if squeeze is not set, across", &dial["uncorrected"]["x"]);
        case("if squeeze is not set, up", &dial["uncorrected"]["y"]);
        case("centre offset, right", &dial["centre_offset"]["x"]);
        case("top left corner, down", &dial["top_left"]["y"]);
        if let Some(window) = plan["window"].as_object() {
            case("window from, left", &window["x"]);
            case("window from, top", &window["y"]);
            case("window size, width", &window["width"]);
            case("window size, height", &window["height"]);
        }
        assert_eq!(browser.run(over).await, json!([]), "figures lie over each other in {source}/{frame}");
        compared += 1;
    }
    println!("{compared} conversions say on the screen what the command line says");
    assert_eq!(compared, 39);
    browser.close().await;
}

#[tokio::test]
async fn any_dial_can_be_typed_into_and_the_rest_follows() {
    let server = Server::demo();
    let browser = open(&server, 2, 20).await;
    let dial = async |name: &str| {
        let value = format!("return document.querySelector('.dial-number input[aria-label=\"{name}\"]').value");
        browser.run(&value).await.as_str().unwrap_or_default().to_owned()
    };
    browser.fill("percent of native", "75").await;
    // Told before it is stored.
    browser.until("document.querySelector('input[aria-label=\"window size, height\"]').value === '2560'").await;
    assert_eq!(conversion(&server, 2, 20).await["version"], 0);
    browser.keys(ENTER).await;
    let set = until(&server, (2, 20), |now| now["version"] == 1).await;
    assert_eq!(set["plan"]["dial"]["native_percent"]["y"]["exact"], "75");
    assert_eq!(dial("percent of native").await, "75");
    // A window of stored pixels.
    browser.fill("window from, left", "1000").await;
    browser.keys(ENTER).await;
    let set = until(&server, (2, 20), |now| now["version"] == 2).await;
    assert_eq!(set["plan"]["window"]["x"]["exact"], "1000");
    // Places as parts of the frame.
    browser.press("Fractions").await;
    browser.fill("centre position, across", "0.5").await;
    browser.keys(ENTER).await;
    let set = until(&server, (2, 20), |now| now["version"] == 3).await;
    assert_eq!(set["plan"]["dial"]["centre_offset"]["x"]["exact"], "0");

    // A decimal comma and a unit are taken as they are meant.
    browser.fill("over fit", "1,34x").await;
    browser.until("!document.querySelector('.dial-number .wrong')").await;
    browser.keys(ENTER).await;
    let set = until(&server, (2, 20), |now| now["version"] == 4).await;
    assert_eq!(set["plan"]["dial"]["over_fit"]["y"]["exact"], "67/50");
    // What no framing gives says what would do; Escape goes back.
    browser.fill("window size, width", "90000").await;
    browser.says("a number from 0 to 4608").await;
    browser.keys(ESCAPE).await;
    browser.until("!document.querySelector('.dial-number .wrong')").await;
    assert_eq!(conversion(&server, 2, 20).await["version"], 4);
    browser.fill("percent of native", "words").await;
    browser.says("a number such as 104.5").await;
    browser.keys(ESCAPE).await;
    assert!(browser.path().await.ends_with("/board/2/20"), "Escape in a dial leaves the dial alone");

    // What rounding costs, with as many decimals as the program keeps.
    browser.run("document.activeElement.blur()").await;
    let select = browser.field("Decimals").await;
    select.select_by_value("0").await.expect("no decimals");
    browser.says("rounded: off by").await;
    let costs = server.get("/projects/1/conversions/2/20/rounding/0").await.ok();
    let edge = costs[4]["edge"]["value"].as_f64().expect("a number");
    assert_eq!(costs[4]["convention"], "centre_offset");
    assert!(edge < 0.5, "a half pixel at most");
    // All of it as text.
    browser.press("Copy all").await;
    browser.says("Numbers copied.").await;
    browser.press("Which number does my program want?").await;
    browser.says("first fits every clip into the frame").await;
    assert_eq!(browser.run("return document.querySelectorAll('.dial-help svg').length").await, 10);
    browser.keys(ESCAPE).await;
    browser.until("!document.querySelector('.modal')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_subject_is_marked_once_and_every_frame_keeps_it() {
    let server = Server::demo();
    // A source without a subject.
    let browser = open(&server, 3, 20).await;
    browser.keys("s").await;
    browser.says("draw a box around the subject").await;
    browser.painted().await;
    let whole = "const b = document.querySelector('.on-source .d-reach').getBoundingClientRect(); \
                 return [b.x, b.y, b.width, b.height]";
    let whole = browser.run(whole).await;
    let side = |at: usize| whole[at].as_f64().expect("a number");
    browser.drag(".on-source .d-reach", side(2) * 0.3, side(3) * 0.3, 8).await;
    browser.says("Mark the subject on D021 Reed beds").await;
    let subject = server.get("/projects/1/sources/3").await.ok()["values"]["subject"].clone();
    let share = |subject: &Value, name: &str| {
        subject[name].as_str().and_then(|text| text.parse::<f64>().ok()).expect("a share")
    };
    for (name, expected) in [("x", 0.5), ("y", 0.5), ("width", 0.3), ("height", 0.3)] {
        assert!((share(&subject, name) - expected).abs() < 0.02, "{name}: {subject}");
    }
    browser.says("of the subject is cut off").await;
    // It moves by its inside: taken at the middle of the picture, where its corner is, it grows.
    browser.drag(".on-source .d-reach", -side(2) * 0.1, 0.0, 6).await;
    browser.until("document.querySelector('.subject-fields input').value.startsWith('0.4') || document.querySelector('.subject-fields input').value.startsWith('0.39')").await;
    let mut grown = subject.clone();
    for _ in 0..200 {
        grown = server.get("/projects/1/sources/3").await.ok()["values"]["subject"].clone();
        if grown != subject {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    assert!((share(&grown, "x") - 0.4).abs() < 0.02 && (share(&grown, "width") - 0.4).abs() < 0.02, "{grown}");
    // By numbers, and a wrong one.
    browser.fill("subject left", "0.9").await;
    browser.keys(ENTER).await;
    browser.says("a box inside the picture").await;
    browser.fill("subject left", "0.1").await;
    browser.keys(ENTER).await;
    browser.until("!document.querySelector('.subject-fields .wrong')").await;
    assert_eq!(server.get("/projects/1/sources/3").await.ok()["values"]["subject"]["x"], "0.1");
    // Around it: whole in this frame, in which half of it was cut.
    browser.run("document.activeElement.blur()").await;
    browser.keys("a").await;
    browser.see(".choose[aria-keyshortcuts=A][aria-pressed=true]").await;
    let around = until(&server, (3, 20), |now| now["framing"]["method"] == "subject").await;
    assert_eq!(around["plan"]["covered"]["exact"], "1");
    // Taken hold of, it leaves the subject's place and is a framing of its own.
    browser.keys("s").await;
    browser.drag(".in-frame svg.grip", 25.0, 0.0, 6).await;
    let own = until(&server, (3, 20), |now| now["framing"]["method"] == "fill").await;
    assert_ne!(own["plan"]["image"]["x"], around["plan"]["image"]["x"]);
    // Pushed in by key, it stays around the subject.
    browser.keys("a").await;
    let again = until(&server, (3, 20), |now| now["framing"]["method"] == "subject").await;
    browser.keys("++").await;
    let pushed = until(&server, (3, 20), |now| now["version"] != again["version"]).await;
    assert_eq!((&pushed["framing"]["method"], &pushed["framing"]["zoom"]), (&json!("subject"), &json!("1.0201")));
    // Removed, it is said that there is none.
    browser.keys("s").await;
    browser.press("Remove").await;
    browser.says("No subject is marked on the source").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn candidates_are_pinned_looked_at_and_flicked_between() {
    let server = Server::demo();
    let browser = open(&server, 2, 22).await;
    browser.keys("p").await;
    browser.see("[aria-label='Remove pin 1']").await;
    browser.drag(".in-frame svg.grip", 40.0, 0.0, 6).await;
    let moved = until(&server, (2, 22), |now| now["framing"]["shift"][0] != "0").await;
    browser.keys("p").await;
    browser.see("[aria-label='Remove pin 2']").await;
    assert_eq!(conversion(&server, 2, 22).await["choice"]["pins"].as_array().map(Vec::len), Some(2));
    // One key flicks between what it is and the first pin; nothing is stored by looking.
    let picture = "document.querySelector('.in-frame .d-subject path').getAttribute('d')";
    let here = browser.run(&format!("return {picture}")).await;
    browser.keys("c").await;
    browser.says("Preview of Pin 1: Fill").await;
    browser.until(&format!("{picture} !== {here}")).await;
    browser.keys("c").await;
    browser.until(&format!("{picture} === {here}")).await;
    assert_eq!(conversion(&server, 2, 22).await["framing"], moved["framing"]);
    // Stretch is shown for what it is before it is taken.
    browser.press("Preview Stretch").await;
    browser.says("Circles come out").await;
    browser.see(".in-frame .d-round.bent").await;
    browser.keys("c").await;
    browser.says("Circles stay round").await;
    // The key goes back to what was looked at last.
    browser.keys("c").await;
    browser.says("Preview of Stretch").await;
    browser.press("Preview Pin 1: Fill").await;
    browser.press("Use it").await;
    let taken = until(&server, (2, 22), |now| now["version"].as_i64() > moved["version"].as_i64().map(|v| v + 1)).await;
    assert_eq!(taken["framing"]["shift"], json!(["0", "0"]));
    browser.press("Remove pin 1").await;
    browser.until("document.querySelectorAll('[aria-label^=\"Remove pin\"]').length === 1").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_finding_shows_what_helps_and_can_be_accepted() {
    let server = Server::demo();
    let browser = open(&server, 1, 21).await;
    browser.says("The picture leaves bars").await;
    browser.press("Remedies").await;
    browser.see(".remedy svg").await;
    browser.says("Fill instead").await;
    let shown = browser.run("return document.querySelector('.remedy .num').innerText").await;
    browser.press("Apply: Fill instead").await;
    let filled = until(&server, (1, 21), |now| now["framing"]["method"] == "fill").await;
    let kept = filled["plan"]["kept"]["value"].as_f64().expect("a number") * 100.0;
    assert!((kept - 30.0).abs() < 1e-9 && shown == "keeps 30 %, covers 100 %", "{shown}, {kept}");
    // What is left is accepted with a reason, stays on the list, and counts no more.
    browser.says("Only 30 % of the picture").await;
    browser.press("Accept …").await;
    browser.keys("The client asked for it").await;
    browser.keys(ENTER).await;
    browser.says("Accepted: The client asked for it").await;
    browser.says("1 accepted").await;
    browser.press("Reopen").await;
    browser.until("!document.body.innerText.includes('Accepted: The client')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn source_and_frame_are_looked_at_in_other_ways_without_moving_anything() {
    let server = Server::demo();
    // Squeezed, and stored sideways.
    let browser = open(&server, 1, 18).await;
    let start = conversion(&server, 1, 18).await;
    browser.keys("o").await;
    browser.says("2880 stored").await;
    // The drawing alone has a circle of the scene.
    browser.keys("i").await;
    browser.see(".on-source ellipse").await;
    let ellipse =
        "const e = document.querySelector('.on-source ellipse'); return e.getAttribute('rx') / e.getAttribute('ry')";
    assert_eq!(browser.run(ellipse).await.as_f64().map(|round| (round * 1000.0).round()), Some(500.0));
    // Taken hold of there as well: the window goes with the pointer.
    let k = "return document.querySelector('.on-source .d-edge').getBoundingClientRect().width / 2880";
    let k = browser.run(k).await.as_f64().expect("a number");
    browser.drag(".on-source svg.grip", 30.0, 0.0, 6).await;
    let moved = until(&server, (1, 18), |now| now["version"] != start["version"]).await;
    let left = |conversion: &Value| conversion["plan"]["window"]["x"]["value"].as_f64().expect("a number");
    assert!((left(&moved) - left(&start) - 30.0 / k).abs() < 12.0, "{} from {}", left(&moved), left(&start));
    browser.keys("o").await;
    browser.says("5760 shown · 2880 stored").await;
    // A corner at 800 %: whole pixels, and the edge of the picture with its fraction.
    browser.keys("v").await;
    browser.see(".in-frame .d-pixels").await;
    browser.says("edge x").await;
    assert_eq!(conversion(&server, 1, 18).await["framing"], moved["framing"]);
    for corner in ["top right", "bottom left", "bottom right"] {
        browser.keys("v").await;
        browser.until(&format!("document.querySelector('[aria-label=\"Corner\"]').value === '{corner}'")).await;
    }
    browser.chord('\u{e008}', 'V').await;
    browser.see("[aria-label='Magnification in percent'] .active").await;
    browser.keys("v").await;
    browser.until("!document.querySelector('.in-frame .d-pixels')").await;
    // Guides by frame, and thirds.
    browser.until("document.querySelectorAll('.in-frame .d-safe').length === 2").await;
    browser.see(".in-frame .d-ratio").await;
    browser.keys("d").await;
    browser.click(browser.see("#guide-thirds").await).await;
    browser.see(".in-frame .d-third").await;
    browser.click(browser.see("#guide-safe").await).await;
    browser.until("!document.querySelector('.in-frame .d-safe')").await;
    // They are kept from visit to visit.
    browser.open("/projects/1/board/1/18").await;
    browser.see(".in-frame .d-third").await;
    assert_eq!(browser.run("return document.querySelectorAll('.in-frame .d-safe').length").await, 0);
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn the_same_place_is_carried_on_by_key() {
    let server = Server::demo();
    let put = json!({ "own": { "method": "fill", "zoom": "1.5", "shift": ["200", "-100"] } });
    server.put("/projects/1/conversions/2/20", 0, &put).await.ok();
    let browser = open(&server, 2, 20).await;
    browser.keys("]").await;
    browser.see("[data-of='2/21']").await;
    browser.until("!document.querySelector('button[aria-keyshortcuts=K]').disabled").await;
    browser.keys("k").await;
    let carried = until(&server, (2, 21), |now| now["framing"]["zoom"] == "1.5").await;
    let asked = server.post("/projects/1/conversions/2/21/preview", &json!({ "like": [2, 20] })).await.ok();
    assert_eq!(carried["framing"], asked["framing"]);
    // Left, it is not carried on.
    browser.keys("]").await;
    browser.see("[data-of='2/22']").await;
    assert_eq!(conversion(&server, 2, 22).await["version"], 0);
    browser.close().await;
}

#[tokio::test]
async fn nudges_go_by_the_chroma_step_and_sizes_to_the_next_clean_one() {
    let server = Server::demo();
    let step = json!({ "edit": "set_frames", "frames": [22], "set": { "step": 8 } });
    server.post("/projects/1/edits", &step).await.ok();
    let browser = open(&server, 2, 22).await;
    browser.chord(CONTROL, RIGHT).await;
    let moved = until(&server, (2, 22), |now| now["version"] == 1).await;
    assert_eq!(moved["framing"]["shift"], json!(["8", "0"]));
    // 34.13 % of native: the next clean sizes are 40 and then 50 %.
    browser.keys("..").await;
    let pushed = until(&server, (2, 22), |now| now["version"] == 2).await;
    assert_eq!(pushed["plan"]["dial"]["native_percent"]["y"]["exact"], "50");
    browser.says("clean").await;
    browser.keys(",").await;
    let back = until(&server, (2, 22), |now| now["version"] == 3).await;
    assert_eq!(back["plan"]["dial"]["native_percent"]["y"]["exact"], "40");
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn fingers_drag_and_push_as_the_mouse_does() {
    let server = Server::demo();
    let browser = open(&server, 2, 20).await;
    let middle = "const b = document.querySelector('.in-frame svg.grip').getBoundingClientRect(); \
                  return [b.x + b.width / 2, b.y + b.height / 2]";
    let middle = browser.run(middle).await;
    let (x, y) = (middle[0].as_f64().expect("x"), middle[1].as_f64().expect("y"));
    browser.touch(&[&[(x, y)], &[(x + 20.0, y)], &[(x + 45.0, y)]]).await;
    let dragged = until(&server, (2, 20), |now| now["version"] == 1).await;
    assert!(dragged["plan"]["dial"]["centre_offset"]["x"]["value"].as_f64().is_some_and(|by| by > 100.0));
    // Two fingers, from 100 to 150 pixels apart.
    let apart = |by: f64| [(x - by, y), (x + by, y)];
    browser.touch(&[&apart(50.0), &apart(60.0), &apart(75.0)]).await;
    let pushed = until(&server, (2, 20), |now| now["version"] == 2).await;
    let zoom: f64 = pushed["framing"]["zoom"].as_str().and_then(|zoom| zoom.parse().ok()).expect("a zoom");
    assert!((zoom - 1.5).abs() < 0.03, "{zoom}");
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_server_that_goes_in_mid_drag_loses_nothing() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = folder.path().join("kept.db");
    let server = Server::start_on("demo", &data, &[]);
    let address = server.url().trim_start_matches("http://").to_owned();
    let browser = open(&server, 2, 20).await;
    browser.run(PRESS).await;
    server.kill();
    browser.run("at('pointermove', 40); at('pointermove', 62)").await;
    browser.says("The server does not answer. Your change is kept here").await;
    let set = browser.value("shift right").await;
    browser.run("at('pointerup', 62)").await;
    // Still drawn and still in its field.
    assert_eq!(browser.value("shift right").await, set);
    let again = Server::start_at("demo", &address, &data, &[]);
    let stored = until(&again, (2, 20), |now| now["version"] == 1).await;
    assert_eq!(stored["framing"]["shift"][0].as_str(), Some(set.as_str()));
    browser.until("!document.body.innerText.includes('does not answer')").await;
    browser.close().await;
}

#[tokio::test]
async fn a_frame_deleted_under_the_hand_is_said() {
    let server = Server::demo();
    let browser = open(&server, 2, 20).await;
    browser.run(PRESS).await;
    server.delete("/projects/1/frames/20", 1).await;
    browser.run("at('pointermove', 62)").await;
    browser.says("The frame with the number 20 was deleted, perhaps in another window.").await;
    browser.run("at('pointerup', 62)").await;
    // Nothing crashed: undo brings it back.
    let head = server.get("/projects/1/history/head").await.ok();
    server.post("/projects/1/history/go", &json!({ "from": head["at"], "to": head["undo"]["to"] })).await.ok();
    assert_eq!(conversion(&server, 2, 20).await["version"], 0);
    browser.close().await;
}

#[tokio::test]
async fn two_windows_frame_the_same_conversion() {
    let server = Server::demo();
    let browser = open(&server, 2, 20).await;
    // The other window is quicker: it changes while the hand is on.
    browser.run(PRESS).await;
    let other = json!({ "own": { "method": "fill", "shift": ["55", "0"] } });
    server.put("/projects/1/conversions/2/20", 0, &other).await.ok();
    browser.run("at('pointermove', 40); at('pointerup', 40)").await;
    browser.says("was changed in another window").await;
    assert_eq!(conversion(&server, 2, 20).await["framing"]["shift"][0], "55");
    // What was set here is still here, and goes in when it is wanted all the same.
    let set = browser.value("shift right").await;
    assert_ne!(set, "55");
    browser.click(browser.field("shift right").await).await;
    browser.keys(ENTER).await;
    until(&server, (2, 20), |now| now["framing"]["shift"][0] == set.as_str()).await;
    browser.close().await;
}

#[tokio::test]
async fn ways_are_drawn_and_sent_elsewhere() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/deliveries").await;
    browser.press("Working frames").await;
    browser.says("1 frame loses detail").await;
    browser.says("11 of 18").await;
    browser.says("6 of 18 lose picture").await;
    // Frames that others go through stand before these.
    assert_eq!(browser.run("return document.querySelectorAll('.d-way').length").await, 7);
    // The first source, fitted, loses nothing on its way; an open gate does.
    assert_eq!(browser.run("return document.querySelectorAll('.d-way.lost').length").await, 0);
    browser.field("Source").await.select_by_label("B003 Harbour wall").await.expect("a source");
    browser.until("document.querySelectorAll('.d-way.lost').length === 1").await;
    let select = browser.field("Portrait feed is made from").await;
    select.select_by_value("18").await.expect("UHD");
    browser.says("no detail lost").await;
    assert_eq!(server.get("/projects/1/frames/21").await.ok()["values"]["through"], 18);
    // A frame cannot go through one that goes through it.
    let select = browser.field("Streaming UHD is made from").await;
    select.select_by_value("21").await.expect("a frame");
    browser.says("that one is made from this frame").await;
    assert_eq!(server.get("/projects/1/frames/18").await.ok()["values"]["through"], json!(null));
    // Proxies of the source that is drawn.
    let select = browser.field("Source").await;
    select.select_by_value("3").await.expect("a source");
    browser.says("2560×1350").await;
    let proxies = server.post("/calc", &json!({ "kind": "proxy", "raster": [5120, 2700] })).await.ok();
    for size in proxies["sizes"].as_array().expect("sizes") {
        browser.says(&format!("{}×{}", size["frame"][0], size["frame"][1])).await;
    }
    browser.close().await;
}
