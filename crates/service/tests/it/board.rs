//! Stories of the board: many crossings at once, filters, groups, rates, the find box, files.

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const ENTER: &str = "\u{e007}";
const ESCAPE: &str = "\u{e00c}";
const HOME: &str = "\u{e011}";
const LEFT: &str = "\u{e012}";
const UP: &str = "\u{e013}";
const RIGHT: char = '\u{e014}';
const DOWN: char = '\u{e015}';
const SHIFT: char = '\u{e008}';
const CONTROL: char = '\u{e009}';

async fn board(server: &Server) -> Value {
    server.get("/projects/1/board").await.ok()
}

/// The method of a crossing, and who decides it.
async fn method(server: &Server, source: i64, frame: i64) -> (String, String) {
    let crossing = server.get(&format!("/projects/1/conversions/{source}/{frame}")).await.ok()["crossing"].clone();
    let word = |field: &str| crossing[field].as_str().expect("a word").to_owned();
    (word("method"), word("speaker"))
}

fn said(method: &str, speaker: &str) -> (String, String) {
    (method.to_owned(), speaker.to_owned())
}

/// Waits until the server says so.
async fn comes_true(holds: impl AsyncFn() -> bool) {
    let start = std::time::Instant::now();
    while !holds().await {
        assert!(start.elapsed() < std::time::Duration::from_secs(10), "it has not come true");
        tokio::time::sleep(std::time::Duration::from_millis(10)).await;
    }
}

/// The three counts at the head of the board.
async fn counts(browser: &Browser) -> Vec<u64> {
    let counts = browser.run("return ['.ok', '.caution', '.stop'].map(c => parseInt(document.querySelector('.tally' + c)?.innerText ?? '0'))").await;
    serde_json::from_value(counts).expect("numbers")
}

#[tokio::test]
async fn a_selection_a_row_and_a_column_take_a_method() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Festival scope']").await;
    // Two by two, by shift and arrows.
    browser.chord(SHIFT, RIGHT).await;
    browser.chord(SHIFT, DOWN).await;
    browser.says("4 selected").await;
    browser.keys("w").await;
    browser.says("Width on 4 conversions").await;
    for (source, frame) in [(1, 17), (1, 18), (2, 17), (2, 18)] {
        assert_eq!(method(&server, source, frame).await, said("width", "own"));
    }
    assert_eq!(method(&server, 3, 17).await, said("fill", "frame"));
    // One of them is let off by control and a click, the others follow again.
    let actions = "const c = document.querySelector(\"[aria-label^='B003 Harbour wall into Streaming']\"); \
                   c.dispatchEvent(new MouseEvent('click', { bubbles: true, ctrlKey: true }))";
    browser.run(actions).await;
    browser.says("3 selected").await;
    browser.keys("f").await;
    browser.says("Follow on 3 conversions").await;
    assert_eq!(method(&server, 1, 17).await, said("fill", "frame"));
    assert_eq!(method(&server, 2, 18).await, said("width", "own"));

    // The head of a row, by the arrow past its first cell; what has its own keeps it.
    browser.keys(ESCAPE).await;
    browser.keys(&format!("{HOME}{LEFT}")).await;
    browser.says("whole row").await;
    browser.keys("h").await;
    browser.see("[aria-label^='B003 Harbour wall into Square: Height']").await;
    assert_eq!(method(&server, 2, 17).await, said("height", "source"));
    assert_eq!(method(&server, 2, 18).await, said("width", "own"));
    browser.keys("f").await;
    browser.see("[aria-label^='B003 Harbour wall into Square: Fill']").await;
    assert_eq!(method(&server, 2, 17).await, said("fill", "frame"));

    // The corner is the whole board: only the column that follows it changes.
    browser.keys(&format!("{UP}{UP}")).await;
    browser.says("whole board").await;
    browser.keys("t").await;
    browser.says("board: Fit").await;
    assert_eq!(method(&server, 1, 23).await, said("fit", "board"));
    // All of that is undone, step by step, by key.
    for _ in 0..5 {
        let before = server.get("/projects/1/history/head").await.ok()["at"].clone();
        browser.keys("u").await;
        comes_true(async || server.get("/projects/1/history/head").await.ok()["at"] != before).await;
    }
    browser.says("board: Fill").await;
    assert_eq!(server.get("/projects/1/history/head").await.ok()["undo"], json!(null));
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn filters_show_what_needs_a_look_and_the_counts_follow() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    let all = counts(&browser).await;
    assert_eq!(all.iter().sum::<u64>(), 126);
    let crossings = board(&server).await["crossings"].as_array().expect("crossings").clone();
    let count = |holds: &dyn Fn(&Value) -> bool| crossings.iter().filter(|crossing| holds(crossing)).count();

    browser.click(browser.field("not clean").await).await;
    browser.says(&format!("{} of 126 conversions", all[1] + all[2])).await;
    assert_eq!(counts(&browser).await, [0, all[1], all[2]]);
    browser.click(browser.field("not clean").await).await;
    browser.click(browser.field("enlarged").await).await;
    let enlarged = |code: &Value| code == "enlarged" || code == "sphere_enlarged";
    let enlarged = count(&|each| each["findings"].as_array().is_some_and(|found| found.iter().any(enlarged)));
    browser.says(&format!("{enlarged} of 126 conversions")).await;
    browser.click(browser.field("enlarged").await).await;
    browser.click(browser.field("set by hand").await).await;
    let own = count(&|each| each["speaker"] == "own");
    browser.says(&format!("{own} of 126 conversions")).await;
    // All that is shown, and nothing else, is selected.
    browser.run("document.querySelector('.board').focus()").await;
    browser.chord(CONTROL, 'a').await;
    browser.says(&format!("{own} selected")).await;
    browser.keys(ESCAPE).await;
    browser.click(browser.field("set by hand").await).await;

    let limit = browser.see(".cut-over input").await;
    limit.click().await.expect("the field");
    browser.keys("60").await;
    let lost = count(&|each| each["kept"].as_f64().is_some_and(|kept| (1.0 - kept) * 100.0 > 60.0));
    assert!(lost > 0);
    browser.says(&format!("{lost} of 126 conversions")).await;
    browser.keys("x").await;
    browser.see(".cut-over input[aria-invalid=true]").await;
    browser.says("126 conversions").await;
    browser.chord(CONTROL, 'a').await;
    browser.keys("100").await;
    browser.says("No conversion matches this filter").await;
    browser.press("Clear filters").await;
    browser.says("126 conversions").await;

    // Words, groups and order.
    browser.fill("Filter sources", "kiln").await;
    browser.says("of 126 conversions").await;
    let rows = browser.run("return document.querySelectorAll('.board-source').length").await;
    assert!(rows.as_u64().is_some_and(|rows| (1..5).contains(&rows)), "{rows}");
    browser.fill("Filter sources", "").await;
    browser.field("Grouping").await.select_by_value("rate").await.expect("a choice");
    browser.says("24 fps").await;
    browser.see(".board-row.heading").await;
    browser.field("Grouping").await.select_by_value("none").await.expect("a choice");
    browser.field("Order").await.select_by_value("ratio").await.expect("a choice");
    browser.until("document.querySelector('.board-source').innerText.includes('C044')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn one_framing_is_given_to_others_in_parts() {
    let server = Server::demo();
    let own = json!({ "own": { "method": "fill", "zoom": "1.25", "shift": ["40", "-10"] } });
    server.put("/projects/1/conversions/1/18", 1, &own).await.ok();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board?source=1&frame=18").await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Streaming UHD']").await;
    browser.keys("c").await;
    browser.says("Framing of").await;
    // Not the method, nor the shift.
    browser.click(browser.field("method").await).await;
    browser.click(browser.field("shift").await).await;
    browser.run("document.querySelector('.board').focus()").await;
    browser.keys(&DOWN.to_string()).await;
    browser.chord(SHIFT, DOWN).await;
    browser.says("Apply to 2 conversions").await;
    browser.keys("p").await;
    browser.says("Zoom 1.25 on 2 conversions").await;
    for source in [2, 3] {
        let framing = server.get(&format!("/projects/1/conversions/{source}/18")).await.ok()["framing"].clone();
        assert_eq!(framing, json!({ "method": "fill", "zoom": "1.25", "shift": ["0", "0"] }));
    }
    browser.press("Done").await;
    browser.until("!document.body.innerText.includes('Framing of')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn the_rates_are_drawn_and_told() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.keys("d").await;
    browser.says("frame for frame").await;
    browser.says("pattern 2:1:1:1").await;
    browser.says("source frames above, delivered frames below").await;
    browser.keys("d").await;
    browser.says("cut away").await;
    // On the framing it stands among the checks.
    browser.open("/projects/1/board/9/17").await;
    browser.says("20 % speed, 5 times as long").await;
    browser.open("/projects/1/board/5/18").await;
    browser.says("interlaced").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn one_box_finds_sources_frames_conversions_and_actions() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    let find = async |words: &str| {
        browser.keys("/").await;
        browser.see("[role=combobox]").await;
        browser.keys(words).await;
    };
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    find("ferry 720").await;
    browser.see("[role=option][aria-selected=true]").await;
    browser.keys(ENTER).await;
    browser.until("location.pathname.endsWith('/footage')").await;
    browser.see("tr[aria-current=true][data-id='5']").await;
    // Another source while that screen is open.
    find("harbour").await;
    browser.keys(ENTER).await;
    browser.see("tr[aria-current=true][data-id='2']").await;
    find("upright story").await;
    browser.keys(ENTER).await;
    browser.until("location.pathname.endsWith('/deliveries')").await;
    browser.says("Upright story").await;
    // A word of each is their conversion.
    find("kiln headset").await;
    browser.says("S002 Kiln walk into Headset sphere").await;
    browser.keys(&format!("{DOWN}{UP}{ENTER}")).await;
    browser.says("In the frame").await;
    find("paste").await;
    browser.keys(ENTER).await;
    browser.until("location.pathname.endsWith('/footage/paste')").await;
    browser.see("textarea").await;
    browser.run("document.activeElement.blur()").await;
    find("width whole board").await;
    browser.keys(ENTER).await;
    browser.until("!document.querySelector('.modal')").await;
    comes_true(async || board(&server).await["project"]["values"]["method"] == "width").await;
    find("zzz").await;
    browser.says("Nothing found").await;
    browser.keys(ESCAPE).await;
    browser.until("!document.querySelector('.modal')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn files_come_in_through_the_screens_or_say_what_is_wrong() {
    let server = Server::demo();
    let folder = tempfile::tempdir().expect("a folder");
    let write = |name: &str, text: &str| {
        let file = folder.path().join(name);
        std::fs::write(&file, text).expect("written");
        file.to_string_lossy().into_owned()
    };
    let project = server.get("/projects/1/export").await.ok();
    let good = write("good.json", &project.to_string());
    let cut = write("cut.json", &project.to_string()[..500]);
    let mut newer = project.clone();
    newer["format_version"] = json!(99);
    let newer = write("newer.json", &newer.to_string());
    let browser = Browser::at(server.url()).await;
    browser.open("/").await;
    browser.says("last changed").await;
    let chosen = async |file: &str| {
        browser.see("input[type=file]").await.send_keys(file).await.expect("a file");
    };
    chosen(&cut).await;
    browser.says("Nothing was imported").await;
    chosen(&newer).await;
    browser.says("written by a newer version of Ratiomet").await;
    chosen(&good).await;
    browser.until("location.pathname.endsWith('/projects/2/board')").await;
    browser.says("126 conversions").await;

    // The library likewise.
    let library = json!({ "format": "ratiomet library", "format_version": 1,
                          "active_pictures": [{ "name": "Desk recorder", "raster": [2560, 1440], "insets": { "top": 9 } }] });
    let library = write("library.json", &library.to_string());
    browser.open("/projects/2/deliveries/library").await;
    browser.says("None yet").await;
    chosen(&good).await;
    browser.says("Nothing was imported").await;
    chosen(&library).await;
    browser.says("Desk recorder").await;
    // A list as a file.
    let list = write("list.tsv", "Clip\tSize\nZ1\t16x9\nZ2\t32x18\n");
    browser.open("/projects/2/footage/paste").await;
    chosen(&list).await;
    browser.press("Add 2 sources").await;
    browser.says("20 sources").await;
    // Refused files are told in the console by the browser itself.
    let log = browser.console().await;
    assert!(log.iter().all(|line| line.contains("status of 400")), "{log:?}");
    browser.close().await;
}

#[tokio::test]
async fn on_paper_all_of_the_board_stands_and_paper_is_white() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.by("dark").await;
    browser.size(1280, 800).await;
    browser.open("/projects/1/board").await;
    browser.see(".cell").await;
    let seen = "return [document.querySelectorAll('.board-paper tbody tr').length, document.querySelectorAll('.board-paper td svg').length, \
         document.documentElement.dataset.bsTheme]";
    assert_eq!(browser.run(seen).await, json!([0, 0, "dark"]));
    browser.run("window.dispatchEvent(new Event('beforeprint'))").await;
    let printed = browser.run(seen).await;
    assert_eq!((&printed[0], &printed[2]), (&json!(18), &json!("light")));
    assert!(printed[1].as_u64() >= Some(18 * 7), "{printed}");
    browser.run("window.dispatchEvent(new Event('afterprint'))").await;
    browser.until("!document.querySelector('.board-paper')").await;
    assert_eq!(browser.run(seen).await, json!([0, 0, "dark"]));
    // What is filtered away is not on paper either, and more frames than fit beside each other go on below.
    for number in 0..3 {
        let values = json!({ "name": format!("More {number}"), "geometry": { "raster": [1280, 720 - 2 * number] } });
        server.post("/projects/1/frames", &values).await.ok();
    }
    browser.open("/projects/1/board").await;
    browser.fill("Filter sources", "Ferry").await;
    browser.says("10 of 180 conversions").await;
    browser.run("window.dispatchEvent(new Event('beforeprint'))").await;
    let rows = "return [...document.querySelectorAll('.board-paper')].map((table) => [table.tHead.rows[0].cells.length, table.tBodies[0].rows.length])";
    assert_eq!(browser.run(rows).await, json!([[8, 1], [4, 1]]));
    // A list is whole on paper too, of which a screen draws what fits.
    let clips: Vec<_> =
        (0..60).map(|number| json!({ "name": format!("Z{number}"), "geometry": { "raster": [1920, 1080] } })).collect();
    for clip in &clips {
        server.post("/projects/1/sources", clip).await.ok();
    }
    browser.open("/projects/1/footage").await;
    browser.says("78 sources").await;
    let drawn = "return document.querySelectorAll('[data-list=Sources] tbody tr:not(.gap)').length";
    assert!(browser.run(drawn).await.as_u64() < Some(40));
    browser.run("window.dispatchEvent(new Event('beforeprint'))").await;
    assert_eq!(browser.run(drawn).await, json!(78));
    browser.console_is_empty().await;
    browser.close().await;
}
