//! The framing of a conversion, taken hold of: drags, nudges, the wheel.

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const RIGHT: &str = "\u{e014}";

const CONVERSION: &str = "/projects/1/conversions/2/20";

async fn open(server: &Server) -> Browser {
    opened(Browser::at(server.url()).await).await
}

async fn opened(browser: Browser) -> Browser {
    browser.open("/projects/1/board/2/20").await;
    browser.says("In the frame").await;
    browser.see(".in-frame svg.grip").await;
    browser
}

async fn stored(server: &Server) -> Value {
    server.get(CONVERSION).await.ok()
}

async fn steps(server: &Server) -> usize {
    server.get("/projects/1/history").await.ok()["steps"].as_array().map_or(0, Vec::len)
}

/// Waits until the conversion is stored in another version, and gives it.
async fn changed(server: &Server, from: &Value) -> Value {
    let start = std::time::Instant::now();
    loop {
        let now = stored(server).await;
        if now["version"] != from["version"] {
            return now;
        }
        assert!(start.elapsed() < std::time::Duration::from_secs(10), "nothing was stored");
        tokio::time::sleep(std::time::Duration::from_millis(10)).await;
    }
}

/// Screen pixels per delivery pixel of the frame.
async fn scale(browser: &Browser) -> f64 {
    let width = "return document.querySelector('.in-frame .d-edge').getBoundingClientRect().width / 1080";
    browser.run(width).await.as_f64().expect("a number")
}

fn shift(conversion: &Value) -> [f64; 2] {
    let of = |at: usize| conversion["plan"]["dial"]["centre_offset"][["x", "y"][at]]["value"].as_f64().expect("one");
    [of(0), of(1)]
}

#[tokio::test]
async fn a_drag_is_one_change_and_rests_where_it_should() {
    let server = Server::demo();
    let browser = open(&server).await;
    let k = scale(&browser).await;
    let start = stored(&server).await;
    browser.drag(".in-frame svg.grip", 60.0, 0.0, 12).await;
    let moved = changed(&server, &start).await;
    let expected = (60.0 / k).round();
    assert!((shift(&moved)[0] - expected).abs() <= 1.0, "{} is not {expected}", shift(&moved)[0]);
    assert_eq!(shift(&moved)[1].abs(), 0.0);
    assert_eq!(steps(&server).await, 2, "a whole drag is one step");
    // At rest the screen shows what the calculation says, digit for digit.
    let request = json!({
        "kind": "conversion",
        "source": server.get("/projects/1/sources/2").await.ok()["values"]["geometry"],
        "delivery": server.get("/projects/1/frames/20").await.ok()["values"]["geometry"],
        "framing": moved["framing"],
    });
    let (mut alone, mut in_project) = (server.calculated(&request).await, moved["plan"].clone());
    // The project finds more than geometry alone: rates, scan.
    for plan in [&mut alone, &mut in_project] {
        plan["findings"].take();
    }
    assert_eq!(alone, in_project);
    let shown = browser.value("shift right").await;
    assert_eq!(json!(shown), moved["framing"]["shift"][0]);

    // Past the end of its travel it stops exactly there; only who means it goes on.
    let travel = moved["plan"]["travel"]["x"]["value"].as_f64().expect("a number");
    let way = ((travel - shift(&moved)[0]) * k).round();
    browser.drag(".in-frame svg.grip", way + 150.0, 0.0, 10).await;
    let held = changed(&server, &moved).await;
    assert_eq!(held["framing"]["shift"][0], held["plan"]["travel"]["x"]["exact"]);
    assert_eq!(held["plan"]["covered"]["exact"], "1");
    let arrow = "for (const [ctrlKey, shiftKey] of [[false, false], [true, true]]) \
                 document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', ctrlKey, shiftKey, bubbles: true }))";
    browser.run(arrow).await;
    browser.says("The picture ends here.").await;
    let past = changed(&server, &held).await;
    assert!(past["plan"]["bars"]["left"]["value"].as_f64().is_some_and(|bar| (0.9..1.1).contains(&bar)));
    browser.says("Shifted too far").await;

    // Undone one drag at a time.
    browser.keys("uu").await;
    browser.until(&format!("[...document.querySelectorAll('.in-frame input')][1].value === '{shown}'")).await;
    browser.keys("u").await;
    browser.says("set on its frame").await;
    assert_eq!(stored(&server).await["framing"], start["framing"]);
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn the_window_on_the_source_is_the_other_end_of_the_same_thing() {
    let server = Server::demo();
    let browser = open(&server).await;
    let start = stored(&server).await;
    let window = |conversion: &Value| conversion["plan"]["window"]["x"]["value"].as_f64().expect("a number");
    let pixels =
        "const b = document.querySelector('.on-source .d-edge').getBoundingClientRect(); return b.width / 4608";
    browser.painted().await;
    let k = browser.run(pixels).await.as_f64().expect("a number");
    browser.drag(".on-source svg.grip", 56.0, 0.0, 10).await;
    let moved = changed(&server, &start).await;
    // The window goes with the pointer, the picture in the frame the other way.
    assert!(window(&moved) > window(&start), "{} is not right of {}", window(&moved), window(&start));
    assert!(shift(&moved)[0] < 0.0);
    // The drawing has kept its place and size meanwhile.
    assert_eq!(browser.run(pixels).await.as_f64(), Some(k));
    let expected = window(&start) + 56.0 / k;
    assert!((window(&moved) - expected).abs() <= 3.0, "{} is not {expected}", window(&moved));
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn what_every_frame_shows_is_drawn_and_follows_the_framing() {
    let server = Server::demo();
    let browser = open(&server).await;
    browser.keys("e").await;
    browser.says("in every frame").await;
    let common = server.get("/projects/1/sources/2/common").await.ok();
    let share = common["every_share"]["value"].as_f64().expect("a share") * 100.0;
    browser.says(&format!("every frame keeps {share:.1} %")).await;
    assert_eq!(browser.run("return document.querySelectorAll('.d-other').length").await, 7);
    // It stays while conversions are stepped through, and follows a change.
    let start = stored(&server).await;
    browser.keys("]").await;
    browser.says("Portrait feed").await;
    browser.says("in every frame").await;
    browser.keys("[").await;
    browser.says("Upright story").await;
    browser.drag(".in-frame svg.grip", 60.0, 0.0, 6).await;
    changed(&server, &start).await;
    let after = server.get("/projects/1/sources/2/common").await.ok();
    assert_ne!(after["every"], common["every"]);
    let share = after["every_share"]["value"].as_f64().expect("a share") * 100.0;
    browser.says(&format!("every frame keeps {share:.1} %")).await;
    browser.keys("e").await;
    browser.until("!document.querySelector('.d-every')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn nudges_that_follow_each_other_are_one_change() {
    let server = Server::demo();
    let browser = open(&server).await;
    let start = stored(&server).await;
    // At once, however slow the way from here to the browser is.
    let burst = "for (const [key, shiftKey] of [['ArrowRight'], ['ArrowRight'], ['ArrowRight'], ['ArrowRight', true]]) \
                 document.body.dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true }))";
    browser.run(burst).await;
    let moved = changed(&server, &start).await;
    assert_eq!(moved["framing"]["shift"], json!(["13", "0"]));
    assert_eq!(steps(&server).await, 2);
    assert_eq!(browser.value("shift right").await, "13");
    // Pushed in about the middle: what stood there stays there.
    browser.keys("+").await;
    let pushed = changed(&server, &moved).await;
    assert_eq!(pushed["framing"]["zoom"], "1.01");
    assert_eq!(pushed["framing"]["shift"], json!(["13.1", "0"]));
    // Undone before the keys rest: it is the nudge that is undone.
    let undone = "for (const key of ['ArrowLeft', 'u']) \
                  document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))";
    browser.run(undone).await;
    browser.until("document.querySelector('.toasts').innerText.includes('Undone')").await;
    browser.until("[...document.querySelectorAll('.in-frame input')][1].value === '13.1'").await;
    let pushed = stored(&server).await;
    assert_eq!(pushed["framing"]["shift"], json!(["13.1", "0"]));
    // Left before the keys rest: nothing is lost.
    browser.keys(&format!("{RIGHT}]")).await;
    browser.says("Portrait feed").await;
    let last = changed(&server, &pushed).await;
    assert!(shift(&last)[0] > shift(&pushed)[0]);
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_drag_follows_the_pointer_at_the_screens_rate() {
    let server = Server::demo();
    let browser = opened(Browser::alone_at(server.url()).await).await;
    // The pointer moves with every frame; the time from frame to frame is what a hand feels.
    let script = "const done = arguments[0], svg = document.querySelector('.in-frame svg.grip'), gaps = []; \
        const box = svg.getBoundingClientRect(), y = box.y + box.height / 2; let x = box.x + box.width / 2, n = 0; \
        const send = (type, buttons) => svg.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, \
          isPrimary: true, button: type === 'pointermove' ? -1 : 0, buttons, clientX: x, clientY: y })); \
        svg.setPointerCapture = () => {}; send('pointerdown', 1); let last = performance.now(); \
        const step = () => { const now = performance.now(); gaps.push(now - last); last = now; \
          x += n++ % 60 < 30 ? 2 : -2; send('pointermove', 1); \
          if (n < 120) requestAnimationFrame(step); else { send('pointerup', 0); done(gaps.slice(1)) } }; \
        requestAnimationFrame(step)";
    let start = stored(&server).await;
    browser.run("performance.clearResourceTimings()").await;
    let gaps = browser.run_async(script).await;
    let asked = "return performance.getEntriesByType('resource').filter(({ name }) => name.endsWith('/preview'))\
                 .map(({ duration }) => duration).sort((a, b) => a - b)";
    let trips: Vec<f64> =
        browser.run(asked).await.as_array().expect("times").iter().filter_map(Value::as_f64).collect();
    assert!(trips.len() > 20, "the server was asked {} times", trips.len());
    println!(
        "{} answers while dragging: {:.1} ms (median), {:.1} ms (99 of 100)",
        trips.len(),
        trips[trips.len() / 2],
        trips[trips.len() * 99 / 100]
    );
    let mut gaps: Vec<f64> = gaps.as_array().expect("times").iter().filter_map(Value::as_f64).collect();
    gaps.sort_by(f64::total_cmp);
    println!(
        "a drag: {:.1} ms between frames (median), {:.1} ms (19 of 20)",
        gaps[gaps.len() / 2],
        gaps[gaps.len() * 19 / 20]
    );
    // Back where it began, give or take the last step: nothing to store, or one small shift.
    browser.until("!document.body.innerText.includes('blocking')").await;
    let end = stored(&server).await;
    assert!(shift(&end)[0].abs() < 60.0, "{end}");
    assert!(steps(&server).await <= 2 && end["framing"]["zoom"] == start["framing"]["zoom"]);
    browser.console_is_empty().await;
    browser.close().await;
}
