//! Whole stories in the browser, by pointer and again by keys.

use serde_json::json;

use crate::support::{Browser, Server};

const ENTER: &str = "\u{e007}";
const ESCAPE: &str = "\u{e00c}";
const LEFT: &str = "\u{e012}";
const UP: &str = "\u{e013}";
const RIGHT: &str = "\u{e014}";
const DOWN: &str = "\u{e015}";
const END: &str = "\u{e010}";
const PAGE_DOWN: &str = "\u{e00f}";

/// What the cell of a crossing says, for those who do not see its drawing.
async fn crossing(browser: &Browser, name: &str) -> String {
    let cell = browser.see(&format!("[role=gridcell][aria-label^='{name}:']")).await;
    cell.attr("aria-label").await.expect("a label").expect("a label")
}

/// What a figure of the dial copies.
async fn dial(browser: &Browser, name: &str) -> String {
    let figure = browser.see(&format!("button[aria-label^='Copy {name}:']")).await;
    figure.attr("data-copies").await.expect("a value").expect("a value")
}

#[tokio::test]
async fn by_pointer_from_footage_to_the_numbers_to_type() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/").await;
    browser.press("Open The Kiln at Saltreed").await;
    browser.says("126 conversions").await;

    // A source by hand; the drawing answers while it is typed.
    browser.press("Footage").await;
    browser.press("New source").await;
    browser.fill("name", "Z001 Tide mill").await;
    browser.fill("stored width", "4448").await;
    browser.fill("stored height", "3096").await;
    browser.fill("lens squeeze", "2").await;
    browser.see("[aria-label='Stored 4448 by 3096, seen as 2.87:1']").await;
    browser.press("Add source").await;
    browser.says("19 sources").await;

    // A frame from a container and a ratio.
    browser.press("Deliveries").await;
    browser.press("New frame").await;
    browser.press("By ratio").await;
    browser.fill("ratio", "2.35").await;
    browser.says("exactly 3840 × 76800/47").await;
    browser.press("Use 3840 by 1634").await;
    assert_eq!(browser.value("name").await, "2.35 out of 3840×2160");
    browser.fill("name", "Island scope").await;
    browser.press("Add frame").await;
    browser.says("8 frames").await;

    // The crossing of the two, and another method for it.
    browser.press("Board").await;
    browser.says("152 conversions").await;
    let at = "document.querySelector('.board')";
    browser.run(&format!("{at}.scrollTo({at}.scrollWidth, {at}.scrollHeight)")).await;
    assert_eq!(
        crossing(&browser, "Z001 Tide mill into Island scope").await,
        "Z001 Tide mill into Island scope: Fill, 52.8%, keeps 82%"
    );
    browser.click(browser.see("[aria-label^='Z001 Tide mill into Island scope']").await).await;
    browser.press("Fit").await;
    browser.see("[aria-label^='Z001 Tide mill into Island scope: Fit*']").await;
    browser.press("Fill").await;
    browser.see("[aria-label^='Z001 Tide mill into Island scope: Fill*']").await;
    assert_eq!(
        crossing(&browser, "Z001 Tide mill into Island scope").await,
        "Z001 Tide mill into Island scope: Fill*, 52.8%, keeps 82%"
    );

    // Its framing: the numbers are those of the calculation, and copy with a click.
    browser.run("document.querySelector('.cell[data-here=true]').dispatchEvent(new MouseEvent('dblclick', {bubbles: true}))").await;
    browser.says("Circles stay round.").await;
    browser.keys("y").await;
    let request = json!({
        "kind": "conversion",
        "source": { "raster": [4448, 3096], "squeeze": "2" },
        "delivery": { "raster": [3840, 1634] },
        "framing": { "method": "fill" },
    });
    let plan = server.post("/calc", &request).await.ok();
    let expected = plan["dial"]["over_fit"]["y"]["value"].as_f64().expect("a number");
    let shown: f64 = dial(&browser, "over fit").await.parse().expect("a number");
    assert!((shown - expected).abs() < 0.000_05, "{shown} is not {expected}");
    let width = plan["window"]["width"]["value"].as_f64().expect("a number");
    let copied: f64 = dial(&browser, "window size, width").await.parse().expect("a number");
    assert!((copied - width).abs() < 0.000_05, "{copied} is not {width}");
    browser.click(browser.see("button[aria-label^='Copy over fit:']").await).await;
    browser.says("copied").await;

    // All of it is there after a reload.
    browser.client.refresh().await.expect("a reload");
    browser.says("Circles stay round.").await;
    assert_eq!(dial(&browser, "window size, width").await, copied.to_string());
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn by_keys_from_an_empty_project_to_the_numbers_to_type() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    browser.open("/").await;
    browser.says("Open demo project").await;
    browser.tab_to("project name").await;
    browser.keys("Salt works").await;
    browser.keys(ENTER).await;
    browser.says("Enter the first source").await;

    // The name has the focus; the other fields follow by Tab.
    browser.until("document.activeElement.labels?.[0]?.innerText === 'name'").await;
    browser.keys("A001 Pan").await;
    browser.tab_to("stored width").await;
    browser.chord('\u{e009}', 'a').await;
    browser.keys("2880").await;
    browser.tab_to("stored height").await;
    browser.chord('\u{e009}', 'a').await;
    browser.keys("2160").await;
    browser.tab_to("lens squeeze").await;
    browser.chord('\u{e009}', 'a').await;
    browser.keys("2").await;
    browser.see("[aria-label='Stored 2880 by 2160, seen as 2.67:1']").await;
    browser.keys(ENTER).await;
    browser.says("1 source").await;

    browser.tab_to("Deliveries").await;
    browser.keys(ENTER).await;
    browser.says("Enter the first one").await;
    browser.until("document.activeElement.labels?.[0]?.innerText === 'name'").await;
    for name in ["UHD", "Upright"] {
        browser.keys(name).await;
        browser.tab_to("width").await;
        browser.chord('\u{e009}', 'a').await;
        browser.keys(if name == "UHD" { "3840" } else { "1080" }).await;
        browser.tab_to("height").await;
        browser.chord('\u{e009}', 'a').await;
        browser.keys(if name == "UHD" { "2160" } else { "1920" }).await;
        browser.keys(ENTER).await;
        browser.says(if name == "UHD" { "1 frame," } else { "2 frames," }).await;
        if name == "UHD" {
            browser.open("/projects/1/deliveries").await;
            browser.says("UHD").await;
            browser.keys("n").await;
            browser.until("document.activeElement.labels?.[0]?.innerText === 'name'").await;
        }
    }

    browser.open("/projects/1/deliveries").await;
    browser.tab_to("Board").await;
    browser.keys(ENTER).await;
    browser.see("[data-here=true][aria-label^='A001 Pan into UHD: Fill']").await;
    // One key a method.
    for (key, method) in [("l", "Fill"), ("w", "Width"), ("h", "Height"), ("n", "1:1"), ("x", "Stretch"), ("t", "Fit")]
    {
        browser.keys(key).await;
        browser.see(&format!("[data-here=true][aria-label^='A001 Pan into UHD: {method}']")).await;
    }
    browser.keys("f").await;
    browser.until("!document.querySelector('.cell-method')").await;
    // Arrows move, and stop at the edge.
    browser.keys(RIGHT).await;
    browser.see("[data-here=true][aria-label^='A001 Pan into Upright']").await;
    browser.keys(&format!("{RIGHT}{DOWN}")).await;
    browser.see("[data-here=true][aria-label^='A001 Pan into Upright']").await;
    // Above the first row stand the heads: a key there is for the whole column.
    browser.keys(&format!("{UP}w")).await;
    browser.says("Method width on Upright").await;
    browser.keys(&format!("f{DOWN}")).await;
    browser.see("[data-here=true][aria-label^='A001 Pan into Upright: Fill']").await;
    browser.keys(&format!("{LEFT}l")).await;
    browser.see("[data-here=true][aria-label^='A001 Pan into UHD: Fill']").await;

    // Enter opens the framing; its figures copy by key; brackets step; Escape goes back.
    browser.keys(ENTER).await;
    browser.says("In the frame").await;
    browser.keys("y").await;
    assert_eq!(dial(&browser, "percent of native").await, "100");
    browser.tab_to("Copy percent of native: 100").await;
    browser.keys(ENTER).await;
    browser.says("copied").await;
    browser.keys("]").await;
    browser.says("A001 Pan into Upright").await;
    browser.keys("[").await;
    browser.says("A001 Pan into UHD").await;
    browser.keys("t").await;
    browser.says("leaves bars").await;
    browser.keys(ESCAPE).await;
    browser.see("[data-here=true][aria-label^='A001 Pan into UHD: Fit']").await;

    // The sheet of keys.
    browser.keys("?").await;
    browser.says("select everything shown").await;
    browser.keys(ESCAPE).await;
    browser.until("!document.querySelector('.modal')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn keys_that_come_fast_are_all_carried_out_in_order() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Festival scope']").await;
    // Four changes of one conversion without a pause; none is taken for that of another window.
    browser.keys("twhn").await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Festival scope: 1:1*']").await;
    // Undone without a pause, each by itself.
    browser.keys("uuu").await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Festival scope: Fit*']").await;
    browser.chord('\u{e008}', 'U').await;
    browser.chord('\u{e008}', 'U').await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Festival scope: Height*']").await;
    // A change and its undo at once.
    browser.keys("xu").await;
    browser
        .until(
            "document.querySelector('.toasts').innerText.includes('Undone: Method stretch')\
        || document.querySelector('.toasts').innerText.includes('Undone: Stretch')",
        )
        .await;
    browser.see("[data-here=true][aria-label^='A014 Furnace mouth into Festival scope: Height*']").await;
    assert!(!browser.text().await.contains("another window"));
    let history = server.get("/projects/1/history").await.ok();
    assert_eq!(history["steps"].as_array().map(Vec::len), Some(6), "{history}");
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn an_undo_of_what_another_window_changed_is_asked_for_again() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    // A window that has not heard of it yet.
    let deaf = json!({ "source": "window.EventSource = class { addEventListener() {} close() {} }" });
    browser.devtools("Page.addScriptToEvaluateOnNewDocument", deaf).await;
    browser.open("/projects/1/footage?source=2").await;
    browser.says("B003 Harbour wall").await;
    browser.fill("lens squeeze", "1.5").await;
    browser.keys(ENTER).await;
    browser.until("!document.body.innerText.includes('Enter saves')").await;
    browser.until("!document.querySelector('[aria-keyshortcuts^=\"U\"]').disabled").await;
    let edit = json!({ "edit": "set_sources", "sources": [3], "set": { "rotation": 90 } });
    server.post("/projects/1/edits", &edit).await.ok();
    browser.run("document.activeElement.blur()").await;
    browser.keys("u").await;
    browser.says("was changed in another window").await;
    assert_eq!(server.get("/projects/1/sources/2").await.ok()["values"]["geometry"]["squeeze"], "1.5");
    // Now that it is seen, undo takes the newest change first.
    browser.until("document.querySelector('[aria-keyshortcuts^=\"U\"]').dataset.tip.includes('90°')").await;
    browser.keys("uu").await;
    browser.until("document.querySelector('[aria-keyshortcuts^=\"U\"]').disabled").await;
    assert_eq!(server.get("/projects/1/sources/2").await.ok()["values"]["geometry"]["squeeze"], "1");
    browser.close().await;
}

#[tokio::test]
async fn zoom_and_shift_answer_while_they_are_typed() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board/2/22").await;
    browser.says("In the frame").await;
    browser.keys("y").await;
    browser.fill("shift right", "-400").await;
    // Not yet stored, but already told.
    browser.says("Shifted too far by 153.55 px across").await;
    assert_eq!(server.get("/projects/1/conversions/2/22").await.ok()["version"], 0);
    browser.fill("shift right", "-120").await;
    browser.until("!document.body.innerText.includes('Shifted too far')").await;
    assert_eq!(dial(&browser, "centre offset, right").await, "-120");
    browser.keys(ENTER).await;
    browser.until("document.querySelector('button[aria-keyshortcuts=F]').disabled === false").await;
    let stored = server.get("/projects/1/conversions/2/22").await.ok();
    assert_eq!(stored["framing"], json!({ "method": "fill", "zoom": "1", "shift": ["-120", "0"] }));

    // A method key takes the shift away, and offers it back.
    browser.run("document.activeElement.blur()").await;
    browser.keys("t").await;
    browser.says("its zoom and shift were reset").await;
    browser.press("Undo").await;
    browser.says("Fill, 120 left set on this conversion").await;
    assert_eq!(server.get("/projects/1/conversions/2/22").await.ok()["framing"], stored["framing"]);
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn what_is_deleted_can_be_brought_back() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/").await;
    browser.press("Delete The Kiln at Saltreed").await;
    browser.says("Open demo project").await;
    browser.press("Undo").await;
    browser.see("[aria-label='Open The Kiln at Saltreed']").await;
    // Renamed where it stands.
    browser.fill("name", "The Kiln, second cut").await;
    browser.keys(ENTER).await;
    browser.see("[aria-label='Open The Kiln, second cut']").await;

    browser.open("/projects/1/footage?source=3").await;
    browser.press("Delete").await;
    browser.says("Delete D021 Reed beds.").await;
    browser.says("17 sources").await;
    browser.press("Undo").await;
    browser.says("18 sources").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn two_windows_do_not_overwrite_each_other() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage?source=2").await;
    browser.says("B003 Harbour wall").await;
    let first = browser.client.window().await.expect("a window");

    // In a second window the name is changed meanwhile.
    let second = browser.client.new_window(true).await.expect("a window").handle;
    browser.client.switch_to_window(second).await.expect("the window");
    browser.open("/projects/1/footage?source=2").await;
    browser.fill("name", "B003 Harbour steps").await;
    browser.keys(ENTER).await;
    browser.until("document.querySelector('h2').innerText === 'B003 Harbour steps'").await;
    browser.console_is_empty().await;

    // What the first window sets beside it goes in, and takes nothing away.
    browser.client.switch_to_window(first).await.expect("the window");
    browser.fill("lens squeeze", "1.5").await;
    browser.keys(ENTER).await;
    browser.until("!document.body.innerText.includes('Enter saves')").await;
    browser.says("B003 Harbour steps").await;
    let stored = server.get("/projects/1/sources/2").await.ok();
    assert_eq!(
        (&stored["values"]["name"], &stored["values"]["geometry"]["squeeze"]),
        (&json!("B003 Harbour steps"), &json!("1.5"))
    );
    let log = browser.console().await;
    assert!(log.iter().all(|line| line.contains("412")), "{log:?}");
    // What both have set is refused, said so, and still there.
    browser.fill("lens squeeze", "1.6").await;
    let edit = json!({ "edit": "set_sources", "sources": [2], "set": { "squeeze": "1.3" } });
    server.post("/projects/1/edits", &edit).await.ok();
    browser.keys(ENTER).await;
    browser.says("changed in another window").await;
    assert_eq!(browser.value("lens squeeze").await, "1.6");
    assert_eq!(server.get("/projects/1/sources/2").await.ok()["values"]["geometry"]["squeeze"], "1.3");
    // Once the person has seen what the other window did, Enter stores the entry on top of it.
    browser.click(browser.field("lens squeeze").await).await;
    browser.keys(ENTER).await;
    browser.until("!document.body.innerText.includes('Enter saves')").await;
    let stored = server.get("/projects/1/sources/2").await.ok();
    assert_eq!(stored["values"]["geometry"]["squeeze"], "1.6");
    assert_eq!(stored["values"]["name"], "B003 Harbour steps");
    browser.close().await;
}

#[tokio::test]
async fn a_project_deleted_elsewhere_is_told_and_restored() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    server.delete("/projects/1", 1).await;
    browser.keys("t").await;
    browser.says("was deleted, perhaps in another window").await;
    browser.client.refresh().await.expect("a reload");
    browser.says("This project was deleted").await;
    browser.press("Restore project").await;
    browser.says("126 conversions").await;
    browser.keys(&format!("{END}{PAGE_DOWN}")).await;
    browser.see("[data-here=true][aria-label*='into Headset sphere']").await;
    assert!(browser.path().await.ends_with("/projects/1/board"));
    let log = browser.console().await;
    assert!(log.iter().all(|entry| entry.contains("410")), "{log:?}");
    browser.close().await;
}

#[tokio::test]
async fn a_frame_changed_where_it_stands_changes_its_column() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/deliveries?frame=22").await;
    browser.says("The whole frame is 1:1").await;
    // Linked numbers answer while they are typed, before anything is stored.
    browser.fill("height", "1440").await;
    browser.says("The whole frame is 0.75:1").await;
    assert_eq!(server.get("/projects/1/frames/22").await.ok()["version"], 1);
    browser.keys(ENTER).await;
    browser.until("!document.body.innerText.includes('Enter saves')").await;
    browser.fill("visible ratio", "1").await;
    browser.says("1080×1080 at 0, 180").await;
    browser.keys(ENTER).await;
    browser.until("[...document.querySelectorAll('tr')].some(row => row.innerText.includes('1080×1080'))").await;
    let method = browser.field("method for this frame").await;
    method.select_by_value("fit").await.expect("a method");
    browser.until("document.querySelector('tr[aria-selected=true]').innerText.includes('Fit')").await;
    let stored = server.get("/projects/1/frames/22").await.ok();
    assert_eq!(stored["values"]["geometry"]["raster"], json!([1080, 1440]));
    assert_eq!((&stored["values"]["geometry"]["picture_ratio"], &stored["version"]), (&json!("1"), &json!(4)));

    browser.press("Board").await;
    assert_eq!(
        crossing(&browser, "B003 Harbour wall into Square").await,
        "B003 Harbour wall into Square: Fit, 23.4%, bars 169, keeps 100%"
    );
    // What has a framing of its own does not follow.
    assert!(crossing(&browser, "D021 Reed beds into Square").await.contains(": Fill*,"));
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_row_is_chosen_by_keys_and_its_source_edited() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage").await;
    browser.see("tr[aria-selected=true][data-id='1']").await;
    browser.run("document.querySelector('[data-list] table').focus()").await;
    browser.keys(&format!("{DOWN}{DOWN}{DOWN}{UP}")).await;
    browser.see("tr[aria-selected=true][data-id='3']").await;
    browser.tab_to("lens squeeze").await;
    browser.chord('\u{e009}', 'a').await;
    browser.keys("4:3").await;
    browser.says("shows 2.53:1").await;
    // Escape drops it, and nothing was stored.
    browser.keys(ESCAPE).await;
    browser.says("shows 1.90:1").await;
    assert_eq!(browser.value("lens squeeze").await, "1");
    browser.chord('\u{e009}', 'a').await;
    browser.keys(&format!("4:3{ENTER}")).await;
    browser.until("document.querySelector('tr[aria-selected=true]').innerText.includes('4:3×')").await;
    assert_eq!(server.get("/projects/1/sources/3").await.ok()["values"]["geometry"]["squeeze"], "4:3");
    // A turn is stored as soon as it is chosen.
    browser.field("rotate upright").await.select_by_value("90").await.expect("a turn");
    browser.until("document.querySelector('tr[aria-selected=true]').innerText.includes('90°')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn braces_and_brackets_step_through_the_conversions() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board/2/17").await;
    browser.says("In the frame").await;
    for (key, path) in [("]", "/board/2/18"), ("}", "/board/3/18"), ("[", "/board/3/17"), ("{", "/board/2/17")] {
        browser.keys(key).await;
        browser.until(&format!("location.pathname.endsWith('{path}')")).await;
        browser.says("In the frame").await;
    }
    // At the ends they stay.
    browser.keys("{").await;
    browser.until("location.pathname.endsWith('/board/1/17')").await;
    browser.keys("{[").await;
    browser.says("A014 Furnace mouth").await;
    assert!(browser.path().await.ends_with("/board/1/17"));
    // A card of the methods side by side chooses its method.
    browser.click(browser.see(".choose[data-tip^='scales each axis']").await).await;
    browser.until("document.querySelector('.level').innerText.startsWith('Stretch')").await;
    browser.says("Circles come out").await;
    assert_eq!(server.get("/projects/1/conversions/1/17").await.ok()["framing"]["method"], "stretch");
    browser.press("Follow").await;
    browser.says("Circles stay round").await;
    browser.console_is_empty().await;
    browser.close().await;
}
