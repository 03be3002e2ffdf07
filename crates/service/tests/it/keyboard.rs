//! Keys that go where they belong, and writes that are done once: each of these went wrong before.

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const ENTER: &str = "\u{e007}";
const ESCAPE: &str = "\u{e00c}";
const UP: char = '\u{e013}';
const DOWN: char = '\u{e015}';
const RIGHT: char = '\u{e014}';
const PAGE_UP: char = '\u{e00e}';
const SHIFT: char = '\u{e008}';

async fn conversion(server: &Server, source: i64, frame: i64) -> Value {
    server.get(&format!("/projects/1/conversions/{source}/{frame}")).await.ok()
}

/// As long as a nudge rests before it is stored, and longer.
async fn rest(browser: &Browser) {
    browser.run_async("setTimeout(arguments[0], 1200)").await;
}

async fn framing(server: &Server, source: i64, frame: i64) -> Browser {
    let browser = Browser::at(server.url()).await;
    browser.open(&format!("/projects/1/board/{source}/{frame}")).await;
    browser.see(&format!("[data-of='{source}/{frame}']")).await;
    browser
}

#[tokio::test]
async fn enter_on_a_button_presses_it_and_takes_no_framing() {
    let server = Server::demo();
    let browser = framing(&server, 3, 17).await;
    let start = conversion(&server, 3, 17).await;
    browser.press("Preview Stretch").await;
    browser.says("Preview of Stretch").await;
    browser.run("[...document.querySelectorAll('button')].find(b => b.innerText.startsWith('Corner')).focus()").await;
    browser.keys(ENTER).await;
    browser.see("[aria-label='Corner']").await;
    rest(&browser).await;
    assert_eq!(conversion(&server, 3, 17).await["version"], start["version"]);
    // With the focus on no button it takes what is previewed.
    browser.run("document.activeElement.blur()").await;
    browser.keys(ENTER).await;
    browser.until("document.querySelector('.level').innerText.includes('Stretch')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn escape_takes_back_a_nudge_and_only_then_leaves() {
    let server = Server::demo();
    let browser = framing(&server, 3, 17).await;
    let start = conversion(&server, 3, 17).await;
    // At once: a nudge that has come to rest is stored.
    browser.keys(&format!("{DOWN}{ESCAPE}")).await;
    rest(&browser).await;
    assert_eq!(conversion(&server, 3, 17).await["version"], start["version"], "nothing was stored");
    assert_eq!(browser.path().await, "/projects/1/board/3/17", "the framing is still open");
    browser.keys(ESCAPE).await;
    browser.until("location.pathname.endsWith('/board')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_wheel_that_scrolls_past_reframes_nothing() {
    let server = Server::demo();
    let browser = framing(&server, 3, 17).await;
    let start = conversion(&server, 3, 17).await;
    let middle = browser
        .run("const b = document.querySelector('.in-frame svg.grip').getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]")
        .await;
    let turn = |modifiers: u32| json!({ "type": "mouseWheel", "x": middle[0], "y": middle[1], "deltaX": 0, "deltaY": -240, "modifiers": modifiers });
    browser.devtools("Input.dispatchMouseEvent", turn(0)).await;
    rest(&browser).await;
    assert_eq!(conversion(&server, 3, 17).await["version"], start["version"]);
    // With Control it is meant.
    browser.devtools("Input.dispatchMouseEvent", turn(2)).await;
    rest(&browser).await;
    assert_ne!(conversion(&server, 3, 17).await["framing"]["zoom"], start["framing"]["zoom"]);
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn keys_work_after_a_click_on_a_tool_and_page_up_stays_at_the_headings() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.press("Rates").await;
    browser.press("Frames").await;
    // The focus is on a tool of the board; its keys work all the same.
    browser.keys(&RIGHT.to_string()).await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Streaming UHD']").await;
    browser.keys("w").await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Streaming UHD: Width*']").await;
    // From the heading of the column up is nowhere.
    browser.keys(&format!("{UP}{PAGE_UP}")).await;
    browser.see(".board-frame[data-here=true]").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn what_a_filter_hides_is_neither_lost_nor_changed() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.keys(&format!("{DOWN}{DOWN}{DOWN}")).await;
    browser.chord(SHIFT, DOWN).await;
    browser.says("2 selected").await;
    // Only one of the two is shown now, and only that is changed.
    browser.fill("Filter sources", "market").await;
    browser.until("document.querySelectorAll('.board-source').length === 1").await;
    browser.run("document.activeElement.blur()").await;
    browser.keys("h").await;
    browser.see("[aria-label^='P007 Market stall into Festival scope: Height*']").await;
    let speaker = async |source| conversion(&server, source, 17).await["crossing"]["speaker"].clone();
    assert_eq!((speaker(4).await, speaker(5).await), (json!("own"), json!("frame")));
    // Where the row at hand is filtered away, the next to it is at hand, and not the first of all.
    browser.fill("Filter sources", "").await;
    browser.until("document.querySelectorAll('.board-source').length > 3").await;
    browser.run("document.activeElement.blur()").await;
    browser.keys(ESCAPE).await;
    browser.until("document.querySelector('.board-source:not([data-here=true])') !== null").await;
    let place = "return document.querySelector('.cell[data-here=true]').id";
    let before = browser.run(place).await;
    let rows = browser.run("return document.querySelectorAll('.board-source').length").await;
    browser.click(browser.field("set by hand").await).await;
    browser.until(&format!("document.querySelectorAll('.board-source').length < {rows}")).await;
    browser.see(".cell[data-here=true]").await;
    let after = browser.run(place).await;
    assert!(before != json!("cell-0-0") && after != json!("cell-0-0"), "{before} {after}");
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn hints_are_shown_to_those_who_point_and_to_those_who_do_not() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board/1/20").await;
    let stored = browser.see("[aria-keyshortcuts^='O'][data-tip]").await;
    let hint = "The picture as stored: squeezed and not rotated, with the window in stored pixels";
    // It is read out with its button, seen or not.
    assert_eq!(stored.attr("aria-description").await.expect("an attribute").as_deref(), Some(hint));
    browser.hover(&stored).await;
    browser.until(&format!("document.querySelector('.tooltip')?.innerText === {}", json!(hint))).await;
    // Any key takes it away.
    browser.keys(&SHIFT.to_string()).await;
    browser.until("!document.querySelector('.tooltip')").await;
    // By keys alone: where the focus comes by Tab.
    browser.run("document.querySelector(\"[aria-keyshortcuts^='E'][data-tip]\").previousElementSibling.focus()").await;
    browser.keys("\u{e004}").await;
    browser.until("document.querySelector('.tooltip')?.innerText.startsWith('What every frame shows')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn enter_twice_makes_one_record() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage?source=new").await;
    browser.fill("name", "Once").await;
    browser.fill("stored width", "1920").await;
    browser.fill("stored height", "1080").await;
    browser.keys(&format!("{ENTER}{ENTER}{ENTER}")).await;
    browser.says("19 sources").await;
    rest(&browser).await;
    let board = server.get("/projects/1/board").await.ok();
    let once = board["sources"].as_array().expect("sources").iter().filter(|each| each["values"]["name"] == "Once");
    assert_eq!(once.count(), 1);
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn single_characters_are_switched_off_and_damaged_preferences_do_no_harm() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.keys("?").await;
    // The dialog comes in from the side: it is pressed where it rests.
    browser.until("document.querySelector('.modal.show')?.getAnimations().length === 0").await;
    let was = browser.run("return document.querySelector('#single-keys').checked").await;
    browser.click(browser.see("#single-keys").await).await;
    browser.until(&format!("document.querySelector('#single-keys').checked !== {was}")).await;
    browser.keys(ESCAPE).await;
    browser.until("!document.querySelector('.modal')").await;
    browser.keys("w").await;
    browser.keys(&RIGHT.to_string()).await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Streaming UHD']").await;
    assert_eq!(conversion(&server, 1, 17).await["crossing"]["speaker"], "frame", "no letter is a command");
    // Whatever a browser has kept, the pages come up.
    for key in ["theme", "guides", "tables", "screens", "digits", "fractions", "single-keys", "project"] {
        browser.run(&format!("localStorage.setItem('ratiomet.{key}', '{{\"a\":[')")).await;
        browser.run(&format!("sessionStorage.setItem('ratiomet.{key}', '[1,null]')")).await;
    }
    browser.run("localStorage.setItem('ratiomet.screens', '[null, 7]')").await;
    for (path, says) in [
        ("/projects/1/board/1/18", "Type this"),
        ("/tables?of=safe", "EBU R 95"),
        ("/projects/1/deliveries?frame=18", "On screens"),
        ("/slide-rule", "Ratio and frame"),
    ] {
        browser.open(path).await;
        browser.says(says).await;
    }
    browser.open("/projects/1/deliveries?frame=18").await;
    browser.press("On screens").await;
    browser.says("Wide television").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn the_demo_is_offered_to_somebody_who_has_no_project() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    browser.open("/").await;
    browser.says("Ratiomet plans how footage fills delivery frames").await;
    browser.press("Open demo project").await;
    browser.says("126 conversions").await;
    browser.until("document.title.includes('Board of The Kiln at Saltreed')").await;
    browser.console_is_empty().await;
    browser.close().await;
}
