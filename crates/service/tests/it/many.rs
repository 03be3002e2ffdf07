//! Stories of a bin as it arrives: messy lists, many sources at once, the same again upright.

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const ENTER: &str = "\u{e007}";
const ESCAPE: &str = "\u{e00c}";
const DOWN: char = '\u{e015}';
const SHIFT: char = '\u{e008}';
const CONTROL: char = '\u{e009}';

/// A list as people paste it: a byte-order mark, Windows line ends, semicolons, stray quotes,
/// spellings of every kind, a formula, an empty line.
const MESSY: &str = "\u{feff}Clip name;Resolution;Anamorphic;FPS;Scan;Comment\r\n\
    K101;3840x2160;1.8x;23.98;p;first roll\r\n\
    K102;3840×2160;9:5;23.976;progressive;\r\n\
    \"K103 \"\"late\"\"\";\"3840 2160\";1.8;24000/1001;;\r\n\
    \r\n\
    OLD1;720x576;;25i;;tape \"one\"\r\n\
    OLD2;720x480;;29.97df;interlaced;\r\n\
    FORM;1920x1080;;25;;=SUM(A1)\r\n\
    BAD1;thousand;;24;;\r\n\
    BAD2;1920x1080;20;25;;\r\n";

/// A project of one frame and so many alike sources, with a phone after them; their numbers.
async fn bin(server: &Server, many: usize) -> Vec<i64> {
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let mut values: Vec<Value> = (1..=many)
        .map(|number| json!({ "name": format!("C{number:03}"), "geometry": { "raster": [2880, 2160] }, "rate": "25" }))
        .collect();
    values.push(json!({ "name": "Phone", "geometry": { "raster": [1920, 1080], "rotation": 90 } }));
    let ids = add(server, &values).await;
    let frame = json!({ "name": "Scope", "geometry": { "raster": [4096, 1716] }, "rate": "25", "method": "fill" });
    server.post("/projects/1/frames", &frame).await.ok();
    ids
}

async fn add(server: &Server, values: &[Value]) -> Vec<i64> {
    let added = server.post("/projects/1/edits", &json!({ "edit": "add_sources", "values": values })).await.ok();
    serde_json::from_value(added["sources"].clone()).expect("numbers")
}

/// Waits until the row of a source says something, or does not.
async fn row(browser: &Browser, id: i64, says: bool, text: &str) {
    let row = format!("document.querySelector('tr[data-id=\"{id}\"]')");
    browser.until(&format!("{row} && {row}.innerText.includes('{text}') === {says}")).await;
}

async fn click_row(browser: &Browser, id: i64) {
    browser.click(browser.see(&format!("tr[data-id='{id}']")).await).await;
}

/// The squeezes of all sources, in the order of the board.
async fn squeezes(server: &Server) -> Vec<String> {
    let board = server.get("/projects/1/board").await.ok();
    let sources = board["sources"].as_array().expect("sources");
    sources.iter().map(|s| s["values"]["geometry"]["squeeze"].as_str().expect("a squeeze").to_owned()).collect()
}

async fn selected(browser: &Browser) -> u64 {
    browser.run("return document.querySelectorAll('tr[aria-selected=true]').length").await.as_u64().expect("a number")
}

#[tokio::test]
async fn a_messy_list_is_pasted_and_mended() {
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage/paste").await;
    browser.see("textarea").await;
    browser.paste(MESSY).await;

    // What was understood, and what not: nothing is dropped.
    browser.says("All 8").await;
    browser.says("5 understood").await;
    browser.says("1 doubtful").await;
    browser.says("2 not understood").await;
    browser.says("23.976 means exactly 24000/1001").await;
    browser.says("29.97 means exactly 30000/1001").await;
    browser.says("Must be a squeeze from 1/10 to 10; 20 is outside").await;

    // One bad cell is mended where it stands.
    let cell = browser.see("[aria-label='Resolution in line 9']").await;
    cell.click().await.expect("the cell");
    browser.chord(CONTROL, 'a').await;
    browser.keys(&format!("1440 x 1080{ENTER}")).await;
    browser.says("1 not understood").await;
    browser.says("6 understood").await;

    // The formula is told apart, and left out when the doubtful ones are.
    browser.says("Looks like a formula").await;
    browser.press("Add 7 sources").await;
    browser.says("7 sources").await;
    // The bad row is still there.
    browser.says("All 1").await;
    browser.see("tr[data-line='10'][data-state=bad]").await;
    let cell = browser.see("[aria-label='Anamorphic in line 10']").await;
    cell.click().await.expect("the cell");
    browser.chord(CONTROL, 'a').await;
    browser.keys(&format!("2{ENTER}")).await;
    browser.press("Add 1 source").await;
    browser.until("location.pathname.endsWith('/footage')").await;
    browser.says("8 sources").await;

    let board = server.get("/projects/1/board").await.ok();
    let sources = board["sources"].as_array().expect("sources");
    let of = |name: &str| {
        let found = sources.iter().find(|source| source["values"]["name"] == name);
        found.unwrap_or_else(|| panic!("{name} is not there"))["values"].clone()
    };
    for name in ["K101", "K102", "K103 \"late\""] {
        // However the rate is spelled, they are of one kind.
        let kind = sources.iter().find(|source| source["values"]["name"] == name).expect("it")["alike"].clone();
        assert_eq!(kind, "3840×2160 squeezed 1.8× 23.976 fps", "{name}");
        assert_eq!(of(name)["geometry"]["raster"], json!([3840, 2160]), "{name}");
    }
    assert_eq!(of("K102")["geometry"]["squeeze"], "9:5");
    assert_eq!((&of("OLD1")["rate"], &of("OLD1")["scan"]), (&json!("25"), &json!("interlaced")));
    assert_eq!((&of("OLD2")["rate"], &of("OLD2")["scan"]), (&json!("29.97"), &json!("interlaced")));
    assert_eq!(of("FORM")["note"], "=SUM(A1)");
    assert_eq!(of("BAD1")["geometry"]["raster"], json!([1440, 1080]));
    assert_eq!(of("BAD2")["geometry"]["squeeze"], "2");
    // Out again as a list: the formula is harmless.
    let csv = server.get("/projects/1/sources.csv").await.ok();
    assert!(csv.as_str().expect("text").contains("'=SUM(A1)"), "{csv}");
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_column_whose_heading_is_unknown_is_named_by_hand() {
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage/paste").await;
    browser.see("textarea").await;
    browser.paste("Clip\tFrame\tGlass\nA001\t2880x2160\tone 1.5\nA002\t2880x2160\t1.5\n").await;
    // The size was known by its cells; of the glass nothing is taken until it is named.
    browser.says("2 understood").await;
    assert_eq!(browser.value("Content of Frame").await, "size");
    assert_eq!(browser.value("Content of Glass").await, "");
    let column = browser.see("select[aria-label='Content of Glass']").await;
    column.select_by_value("squeeze").await.expect("a choice");
    browser.says("1 not understood").await;
    browser.fill("Glass in line 2", &format!("1.5{ENTER}")).await;
    browser.says("2 understood").await;
    browser.press("Add 2 sources").await;
    // They are selected on the screen that opens.
    browser.says("2 sources").await;
    browser.until("document.querySelectorAll('tr[aria-selected=true]').length === 2").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn forty_are_set_and_one_stays_different() {
    let server = Server::empty();
    let ids = bin(&server, 40).await;
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage").await;
    browser.says("41 sources").await;
    browser.see("tr[aria-current=true]").await;
    // All of this kind, by one key; the phone is something else.
    browser.keys("s").await;
    browser.says("40 sources").await;
    browser.says("all alike").await;
    browser.fill("lens squeeze", "2").await;
    // How many will change is said before it happens.
    browser.says("Squeeze 2 on 40 sources: changes 40").await;
    assert_eq!(squeezes(&server).await.iter().filter(|each| *each == "2").count(), 0);
    browser.keys(ENTER).await;
    browser.says("Squeeze 2 on 40 sources.").await;
    row(&browser, ids[0], true, "2×").await;

    // One of them is different.
    click_row(&browser, ids[2]).await;
    browser.says("C003").await;
    browser.fill("lens squeeze", "1.5").await;
    browser.keys(ENTER).await;
    row(&browser, ids[2], true, "1.5×").await;
    let now = squeezes(&server).await;
    assert_eq!(now.iter().filter(|each| *each == "2").count(), 39);
    assert_eq!((now[2].as_str(), now[40].as_str()), ("1.5", "1"));

    // Where they differ it says so.
    browser.run("document.querySelector('[data-list] table').focus()").await;
    browser.chord(CONTROL, 'a').await;
    browser.says("41 sources").await;
    browser.click(browser.field("lens squeeze").await).await;
    browser.says("lens squeeze now: 2 on 39, 1.5 on 1, 1 on 1").await;
    browser.until("document.activeElement.placeholder === 'mixed'").await;
    browser.keys("0").await;
    browser.says("a squeeze from 1/10 to 10; 0 is outside").await;
    browser.keys(ESCAPE).await;
    browser.until("!document.querySelector('[aria-invalid=true]')").await;

    // A treatment is taken from the exception and given to two others, the squeeze alone.
    click_row(&browser, ids[2]).await;
    browser.press("Copy settings").await;
    click_row(&browser, ids[4]).await;
    browser.chord(SHIFT, DOWN).await;
    assert_eq!(selected(&browser).await, 2);
    browser.says("Settings of C003").await;
    browser.press("Apply to 2 sources").await;
    row(&browser, ids[5], true, "1.5×").await;
    assert_eq!(squeezes(&server).await[4..6], ["1.5", "1.5"]);
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn undo_goes_on_after_a_restart() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = folder.path().join("a.db");
    let server = Server::start_on("serve", &data, &[]);
    let ids = bin(&server, 14).await;
    let first = json!({ "edit": "set_sources", "sources": ids[..14], "set": { "squeeze": "2" } });
    server.post("/projects/1/edits", &first).await.ok();
    let second = json!({ "edit": "set_sources", "sources": ids[..2], "set": { "rotation": 180 } });
    server.post("/projects/1/edits", &second).await.ok();
    drop(server);

    let server = Server::start_on("serve", &data, &[]);
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage").await;
    row(&browser, ids[0], true, "180°").await;
    browser.keys("u").await;
    row(&browser, ids[0], false, "180°").await;
    browser.keys("u").await;
    row(&browser, ids[0], false, "2×").await;
    assert!(squeezes(&server).await.iter().all(|each| each == "1"));
    browser.client.refresh().await.expect("a reload");
    browser.says("Redo").await;
    browser.chord(SHIFT, 'U').await;
    row(&browser, ids[0], true, "2×").await;

    // A change after an undo leaves the old branch in reach.
    browser.field("rotate upright").await.select_by_value("90").await.expect("a turn");
    row(&browser, ids[0], true, "90°").await;
    browser.press("History").await;
    browser.says("Squeeze 2 on 14 sources").await;
    browser.says("on an abandoned branch").await;
    browser.click(browser.see("[aria-label='Go to Rotate 180° on 2 sources']").await).await;
    row(&browser, ids[1], true, "180°").await;
    browser.keys(ESCAPE).await;
    let board = server.get("/projects/1/board").await.ok();
    assert_eq!(board["sources"][0]["values"]["geometry"]["rotation"], 180);
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn the_upright_set_is_built_from_the_landscape_one() {
    let server = Server::empty();
    bin(&server, 2).await;
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/deliveries").await;
    browser.says("Scope").await;
    // Two more out of the library.
    browser.press("Frame library").await;
    browser.see("[aria-label='Select UHD']").await;
    browser.fill("Filter frames", "hd").await;
    browser.click(browser.see("[aria-label='Select UHD']").await).await;
    browser.click(browser.see("[aria-label='Select HD']").await).await;
    browser.press("Add 2 frames").await;
    browser.says("3 frames").await;
    // A new one is started from any other; without a name it gets the one that its numbers propose.
    browser.keys("n").await;
    let start = browser.field("start from").await;
    start.select_by_label("Scope (4096×1716)").await.expect("a frame");
    browser.until("document.querySelector('input[placeholder=\"Cinema scope 4K 25\"]')").await;
    browser.fill("frame rate", "23.976").await;
    browser.see("input[placeholder='Cinema scope 4K 23.976']").await;
    browser.press("Add frame").await;
    browser.says("4 frames").await;
    browser.says("Cinema scope 4K 23.976").await;
    browser.press("Delete").await;
    browser.says("3 frames").await;
    // All of them, turned.
    browser.run("document.querySelector('[data-list] table').focus()").await;
    browser.chord(CONTROL, 'a').await;
    browser.press("Rotate copies: add 3").await;
    browser.says("6 frames").await;
    let board = server.get("/projects/1/board").await.ok();
    let frames: Vec<_> = board["frames"].as_array().expect("frames").iter().map(|f| &f["values"]).collect();
    assert_eq!(frames[3]["geometry"]["raster"], json!([1716, 4096]));
    assert_eq!(frames[4]["geometry"]["raster"], json!([2160, 3840]));
    assert_eq!(frames[3]["rate"], "25");
    assert_eq!(frames[3]["method"], "fill");
    let names: Vec<_> = frames.iter().map(|values| values["name"].as_str().expect("a name")).collect();
    assert!(names.iter().collect::<std::collections::HashSet<_>>().len() == 6, "{names:?}");
    // Kept for the next job, they are in the library of another project.
    browser.press("Save 3 frames").await;
    browser.says("3 frames saved to the library under House").await;
    server.post("/projects", &json!({ "name": "Next" })).await.ok();
    browser.open("/projects/2/deliveries/library").await;
    browser.see(&format!("[aria-label='Select {}']", names[4])).await;
    // There it is called otherwise, under another heading, and is taken under that name.
    browser.fill(&format!("name of {}", names[4]), "Story UHD").await;
    browser.keys(ENTER).await;
    browser.see("[aria-label='Select Story UHD']").await;
    browser.fill("heading of Story UHD", "Social").await;
    browser.keys(ENTER).await;
    browser.until("[...document.querySelectorAll('th')].some(th => th.innerText === 'Social')").await;
    browser.click(browser.see("[aria-label='Select Story UHD']").await).await;
    browser.click(browser.see(&format!("[aria-label='Select {}']", names[3])).await).await;
    browser.press("Add rotated").await;
    browser.says("2 frames").await;
    browser.until("location.pathname === '/projects/2/deliveries'").await;
    // Both are selected where they have come.
    browser.until("document.querySelectorAll('tr[aria-selected=true]').length === 2").await;
    browser.client.back().await.expect("the way back");
    browser.press("Remove Story UHD from the library").await;
    browser.says("removed from the library").await;
    browser.press("Undo library change").await;
    browser.see("[aria-label='Select Story UHD']").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_recorder_with_a_border_is_told_once() {
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Desk" })).await.ok();
    let values: Vec<Value> = ["R1", "R2", "R3"]
        .iter()
        .map(|name| json!({ "name": name, "geometry": { "raster": [2560, 1440] } }))
        .chain([json!({ "name": "Other", "geometry": { "raster": [1920, 1080] } })])
        .collect();
    let ids = add(&server, &values).await;
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage").await;
    for (label, value) in [("left inset", "60"), ("top inset", "40"), ("right inset", "60"), ("bottom inset", "20")] {
        browser.fill(label, value).await;
        browser.keys(ENTER).await;
        browser.until("!document.body.innerText.includes('Enter saves')").await;
    }
    // These would stretch what fills the frame; the nearest that do not are offered.
    browser.says("These insets change the ratio by").await;
    browser.press("Keep ratio:").await;
    browser.says("These insets keep the ratio of the raster").await;
    let kept =
        server.get(&format!("/projects/1/sources/{}", ids[0])).await.ok()["values"]["geometry"]["active"].clone();
    let side = |name: &str| kept[name].as_u64().expect("an inset");
    assert_eq!((2560 - side("left") - side("right")) * 9, (1440 - side("top") - side("bottom")) * 16);
    assert!(side("left") >= 60 && side("top") >= 40 && side("right") >= 60 && side("bottom") >= 20, "{kept}");

    let label = format!("name for {}/{}/{}/{}", side("left"), side("top"), side("right"), side("bottom"));
    browser.fill(&label, "Desk recorder").await;
    browser.keys(ENTER).await;
    browser.says("“Desk recorder” saved for 2560×1440 sources").await;
    // To all of them at once; the one of another raster is left as it is.
    browser.run("document.querySelector('[data-list] table').focus()").await;
    browser.chord(CONTROL, 'a').await;
    browser.press("Apply to 3 of 4").await;
    browser.says("1 it does not apply to").await;
    let board = server.get("/projects/1/board").await.ok();
    for source in board["sources"].as_array().expect("sources") {
        let expected = if source["values"]["name"] == "Other" {
            json!({ "left": 0, "top": 0, "right": 0, "bottom": 0 })
        } else {
            kept.clone()
        };
        assert_eq!(source["values"]["geometry"]["active"], expected, "{}", source["values"]["name"]);
    }
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn the_bin_is_summed_up_against_a_frame_and_acted_on() {
    let server = Server::empty();
    bin(&server, 11).await;
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/deliveries").await;
    browser.press("Footage check").await;
    browser.says("0 of 12 sources match this frame").await;
    browser.says("11 clips").await;
    browser.says("2880×2160 25 fps").await;
    // A source of the same geometry and rate matches; the summary does not depend on when it came.
    let same = json!({ "name": "Late", "geometry": { "raster": [4096, 1716] }, "rate": "25" });
    server.post("/projects/1/sources", &same).await.ok();
    browser.client.refresh().await.expect("a reload");
    browser.press("Footage check").await;
    browser.says("1 of 13 sources match this frame").await;
    browser.says("matches").await;
    // One action: pick the group, on the footage screen.
    browser.click(browser.see("[aria-label^='Select 11 clips']").await).await;
    browser.says("11 selected").await;
    browser.console_is_empty().await;
    browser.close().await;
}
