//! A board of 500 sources by 12 frames: all of it is answered, only what is visible is drawn.

use std::time::{Duration, Instant};

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const PAGE_DOWN: &str = "\u{e00f}";

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

    // Down to the last source by keys; the cell that is chosen is always drawn.
    for _ in 0..140 {
        browser.keys(PAGE_DOWN).await;
    }
    browser.see("[aria-selected=true][aria-label^='C500 into F01']").await;

    // From a method key to its new drawing, measured in the page itself.
    let mut times = Vec::new();
    for (key, name) in [("t", "Fit"), ("l", "Fill"), ("w", "Width"), ("h", "Height"), ("t", "Fit"), ("l", "Fill")] {
        let script = format!(
            "const done = arguments[0], board = document.querySelector('.board'), start = performance.now(); \
             const look = () => document.querySelector('[aria-selected=true]').ariaLabel.includes(': {name}*,') \
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
