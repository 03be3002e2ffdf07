//! A board of 500 sources by 12 frames: all of it is answered, only what is visible is drawn.

use std::time::{Duration, Instant};

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const PAGE_DOWN: &str = "\u{e00f}";
const CONTROL: char = '\u{e009}';
const END: char = '\u{e010}';
const HOME: char = '\u{e011}';
const SHIFT: char = '\u{e008}';
const ESCAPE: &str = "\u{e00c}";

/// 500 sources of a few kinds and 12 frames.
async fn fill(server: &Server) {
    server.post("/projects", &json!({ "name": "Large" })).await.ok();
    let kinds = [([2880, 2160], "2", 0), ([4608, 3164], "1", 0), ([1920, 1080], "1", 90), ([6240, 4160], "1.5", 0)];
    for number in 1..=500_usize {
        let (raster, squeeze, rotation) = kinds[number % kinds.len()];
        let geometry = json!({ "raster": raster, "squeeze": squeeze, "rotation": rotation });
        let values = json!({ "name": format!("C{number:03}"), "geometry": geometry });
        server.post("/projects/1/sources", &values).await.ok();
    }
    for number in 1..=12 {
        let raster = [1080 + 64 * number, 1920 - 96 * number];
        let values = json!({ "name": format!("F{number:02}"), "geometry": { "raster": raster }, "method": "fill" });
        server.post("/projects/1/frames", &values).await.ok();
    }
}

/// How long from a script to what it brings about, both in the page.
async fn timed(browser: &Browser, act: &str, seen: &str) -> Duration {
    let script = format!(
        "const done = arguments[0], start = performance.now(); {act}; \
         const look = () => {seen} ? requestAnimationFrame(() => done(performance.now() - start)) \
         : requestAnimationFrame(look); look()"
    );
    Duration::from_secs_f64(browser.run_async(&script).await.as_f64().expect("a time") / 1000.0)
}

#[tokio::test]
async fn three_hundred_sources_change_at_once_and_two_thousand_rows_are_read() {
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let clip = |number: usize| {
        let raster = [[2880, 2160], [4608, 3164], [3840, 2160]][number % 3];
        json!({ "name": format!("C{number:03}"), "geometry": { "raster": raster }, "rate": "24" })
    };
    let values: Vec<_> = (0..300).map(clip).collect();
    server.post("/projects/1/edits", &json!({ "edit": "add_sources", "values": values })).await.ok();
    let frame =
        |number: u32| json!({ "name": format!("F{number}"), "geometry": { "raster": [1080 + 64 * number, 1080] } });
    let values: Vec<_> = (0..12).map(frame).collect();
    server.post("/projects/1/edits", &json!({ "edit": "add_frames", "values": values })).await.ok();

    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage").await;
    browser.see("tr[aria-current=true]").await;
    let first = "(document.querySelector('tr[data-id]').innerText.match(/([0-9.]+)×\\s/g) || []).join()";
    let (mut changed, mut undone) = (Vec::new(), Vec::new());
    browser.chord('\u{e009}', 'a').await;
    browser.says("300 sources").await;
    for squeeze in ["1.3", "1.5", "1.8", "2"] {
        browser.fill("lens squeeze", squeeze).await;
        browser.says("changes 300").await;
        let act = "document.querySelector('.would button').click()";
        changed.push(timed(&browser, act, &format!("{first}.includes('{squeeze}×')")).await);
    }
    browser.run("document.activeElement.blur()").await;
    for squeeze in ["1.8", "1.5", "1.3"] {
        let act = "document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'u', bubbles: true }))";
        undone.push(timed(&browser, act, &format!("{first}.includes('{squeeze}×')")).await);
    }
    let board = server.get("/projects/1/board").await.ok();
    let sources = board["sources"].as_array().expect("sources");
    assert!(sources.len() == 300 && sources.iter().all(|source| source["values"]["geometry"]["squeeze"] == "1.3"));
    println!(
        "300 by 12: squeeze of all saved and redrawn in {:.0} ms, undo {:.0} ms (medians)",
        median(changed),
        median(undone)
    );

    browser.open("/projects/1/footage/paste").await;
    browser.see("textarea").await;
    let row = |number: usize| {
        format!("P{number}\\t{}\\t1.8x\\t23.98\\n", ["3840x2160", "2880×2160", "4608 3164"][number % 3])
    };
    let rows: String = (0..2_000).map(row).collect();
    let act = format!(
        "const data = new DataTransfer(); data.setData('text/plain', 'Clip\\tSize\\tLens\\tfps\\n{rows}'); \
         document.querySelector('textarea').dispatchEvent(new ClipboardEvent('paste', \
         {{ clipboardData: data, bubbles: true, cancelable: true }}))"
    );
    let read = timed(&browser, &act, "document.querySelector('tr[data-line=\"2\"]')").await;
    println!("2,000 rows: preview in {:.0} ms", read.as_secs_f64() * 1000.0);
    browser.says("2000 understood").await;
    browser.press("Add 2000 sources").await;
    browser.says("2300 sources").await;
    browser.until("document.querySelector('.list-foot').innerText.includes('2000 selected')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

/// The middle of some times, in milliseconds.
fn median(mut times: Vec<Duration>) -> f64 {
    times.sort_unstable();
    times[times.len() / 2].as_secs_f64() * 1000.0
}

#[tokio::test]
async fn six_thousand_conversions_are_answered_and_few_are_drawn() {
    let server = Server::empty();
    fill(&server).await;
    let mut times = Vec::new();
    let mut board = Value::Null;
    for _ in 0..5 {
        let start = Instant::now();
        board = server.get("/projects/1/board").await.ok();
        times.push(start.elapsed());
    }
    println!("board of 6,000: {:.0} ms to the parsed answer (median of 5)", median(times));
    let crossings = board["crossings"].as_array().expect("crossings");
    assert_eq!(crossings.len(), 6_000);
    for (at, crossing) in crossings.iter().enumerate() {
        assert_eq!(crossing["source"], board["sources"][at / 12]["id"]);
        assert_eq!(crossing["frame"], board["frames"][at % 12]["id"]);
    }

    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("6000 conversions").await;
    let drawn = browser.run("return document.querySelectorAll('.cell').length").await.as_u64().expect("a number");
    assert!((20..=250).contains(&drawn), "{drawn} cells are drawn");

    // By pages, then to the last source and back by keys; the cell that is chosen is always drawn.
    for _ in 0..12 {
        browser.keys(PAGE_DOWN).await;
    }
    browser
        .until("Number(/^C(\\d+) into F01/.exec(document.querySelector('[data-here=true]').ariaLabel)?.[1]) > 36")
        .await;
    browser.chord(CONTROL, END).await;
    browser.see("[data-here=true][aria-label^='C500 into F12']").await;
    browser.chord(CONTROL, HOME).await;
    browser.see("[data-here=true][aria-label^='C001 into F01']").await;
    browser.chord_of(&[CONTROL, SHIFT], END).await;
    browser.says("6000 selected").await;
    browser.keys(ESCAPE).await;
    browser.until("!document.body.innerText.includes('6000 selected')").await;
    browser.chord(CONTROL, HOME).await;
    browser.see("[data-here=true][aria-label^='C001 into F01']").await;
    browser.chord(CONTROL, END).await;
    browser.see("[data-here=true][aria-label^='C500 into F12']").await;

    // From a method key to its new drawing, measured in the page itself.
    let mut times = Vec::new();
    for (key, name) in [("t", "Fit"), ("l", "Fill"), ("w", "Width"), ("h", "Height"), ("t", "Fit"), ("l", "Fill")] {
        let script = format!(
            "const done = arguments[0], board = document.querySelector('.board'), start = performance.now(); \
             const look = () => document.querySelector('.cell[data-here=true]').ariaLabel.includes(': {name}*,') \
             ? requestAnimationFrame(() => done(performance.now() - start)) : requestAnimationFrame(look); \
             board.dispatchEvent(new KeyboardEvent('keydown', {{ key: '{key}', bubbles: true }})); look()"
        );
        let took = browser.run_async(&script).await.as_f64().expect("a time");
        times.push(Duration::from_secs_f64(took / 1000.0));
    }
    println!("method key to new drawing: {:.0} ms (median of 6)", median(times));

    // Scrolling the whole board a screen a frame: the time between frames.
    let gaps = browser
        .run_async(
            "const done = arguments[0], board = document.querySelector('.board'), gaps = []; let last = performance.now(); \
             board.scrollTop = 0; const step = () => { const now = performance.now(); gaps.push(now - last); last = now; \
             board.scrollTop += 120; gaps.length < 120 ? requestAnimationFrame(step) : done(gaps) }; \
             requestAnimationFrame(step)",
        )
        .await;
    let gaps: Vec<_> = gaps
        .as_array()
        .expect("times")
        .iter()
        .map(|gap| Duration::from_secs_f64(gap.as_f64().unwrap_or(0.0) / 1000.0))
        .collect();
    println!("scrolling: {:.1} ms between frames (median of 120)", median(gaps));
    let drawn = browser.run("return document.querySelectorAll('.cell').length").await.as_u64().expect("a number");
    assert!((20..=250).contains(&drawn), "{drawn} cells are drawn");
    browser.console_is_empty().await;
    browser.close().await;
}

/// From 16,000 conversions on they are worked out while they are sent: what is remembered of them is the same.
#[tokio::test]
async fn a_vast_board_and_a_smaller_one_know_what_the_other_has_told() {
    const SOURCES: usize = 1_340;
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Vast", "method": "fill" })).await.ok();
    let geometry = |width: usize| json!({ "raster": [width, 1080] });
    let clip = |number: usize| json!({ "name": format!("C{number}"), "geometry": geometry(1280 + 2 * (number % 640)) });
    let frame = |number: usize| json!({ "name": format!("F{number}"), "geometry": geometry(1280 + 64 * number) });
    let edit = async |edit: Value| server.post("/projects/1/edits", &edit).await.ok();
    edit(json!({ "edit": "add_sources", "values": (0..SOURCES).map(clip).collect::<Vec<_>>() })).await;
    let added = edit(json!({ "edit": "add_frames", "values": (0..12).map(frame).collect::<Vec<_>>() })).await;
    let board = async |since: &Value| {
        let since = since.as_str().map(|since| format!("?since={since}")).unwrap_or_default();
        let board = server.get(&format!("/projects/1/board{since}")).await.ok();
        let count = |list: &str| board[list].as_array().expect(list).len();
        let told = ["source_ids", "frame_ids", "sources", "frames", "crossings"].map(count);
        (board["revision"].clone(), board["since"].clone(), told)
    };

    let (vast, since, told) = board(&Value::Null).await;
    assert_eq!((since, told), (Value::Null, [SOURCES, 12, SOURCES, 12, SOURCES * 12]));
    assert_eq!(board(&vast).await, (vast.clone(), vast.clone(), [SOURCES, 12, 0, 0, 0]), "nothing has changed");
    edit(json!({ "edit": "delete", "sources": [], "frames": [added["frames"][11]] })).await;
    let (smaller, since, told) = board(&vast).await;
    assert_eq!((since, told), (vast.clone(), [SOURCES, 11, 0, 0, 0]), "one frame is gone");
    let head = server.get("/projects/1/history/head").await.ok();
    server.post("/projects/1/history/go", &json!({ "from": head["at"], "to": head["undo"]["to"] })).await.ok();
    let (_, since, told) = board(&smaller).await;
    assert_eq!((since, told), (smaller, [SOURCES, 12, 0, 1, SOURCES]), "it is back with all that goes into it");
    let (_, since, told) = board(&vast).await;
    assert_eq!(
        (since, told),
        (vast, [SOURCES, 12, 0, 1, 0]),
        "it has another version, and its conversions are as they were"
    );
}
