//! Tables: published figures in their cells, own rows, order, words, and the way to the slide rule.

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const ENTER: &str = "\u{e007}";

/// What a cell says: its row by the first cell, its column by the head.
async fn cell(browser: &Browser, row: &str, column: &str) -> String {
    let script = format!(
        "const heads = [...document.querySelectorAll('.look-up th')].map(head => head.innerText.split('\\n')[0].trim());\
         const row = document.querySelector(`.look-up tr[data-row=${{JSON.stringify({})}}]`);\
         return row?.cells[heads.indexOf({})]?.innerText ?? ''",
        json!(row),
        json!(column)
    );
    browser.run(&script).await.as_str().unwrap_or_default().to_owned()
}

async fn table(browser: &Browser, of: &str) {
    browser.open(&format!("/tables?of={of}")).await;
    browser.see(".look-up tbody tr").await;
}

// 2.39 of UHD is 1606.69 lines, flat and scope containers are those of SMPTE ST 428-1 (from memory); a
// squeeze of 2 on 6:5 shows 2.4; levels of ITU-T H.264 and H.265 (from memory); 704 columns of 12:11 pixels
// on 576 lines are exactly 4:3 (ITU-T H.264, Table E-1); 3.5 % of 1920 is 67.2 (EBU R 95, from memory).
#[tokio::test]
async fn every_table_holds_published_figures() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    let cases: &[(&str, &str, &str, &str)] = &[
        ("ratio", "2.39", "3840×2160", "3840×1606\n1606.69 · +0.04 %"),
        ("ratio", "1.85", "4096×2160", "3996×2160\n3996 · 0 %"),
        ("ratio", "1.896", "2048×1080", "2048×1080\n1080 · 0 %"),
        ("squeeze", "6:5", "2×", "● 2.4\nkeeps 99.6 %"),
        ("squeeze", "16:9", "1.333×", "● 2.37\nkeeps 99.2 %"),
        ("pixels", "2", "704×576 shows", "1.3333\n4:3"),
        ("pixels", "2", "720×576", "786×576"),
        ("pixels", "5", "704×480 shows", "1.7778\n16:9"),
        ("frames", "Cinema scope 4K", "pixels", "4096×1716"),
        ("frames", "SD 625 lines 16:9", "ratio", "1.818\n20:11"),
        ("levels", "HD", "60 a second", "4.2\nH.265 4.1"),
        ("levels", "UHD", "30 a second", "5.1\nH.265 5"),
        ("safe", "EBU R 95 action", "on 1920×1080", "1785.6×1004.4\n67.2, 37.8"),
    ];
    let mut open = "";
    for (of, row, column, expected) in cases {
        if open != *of {
            table(&browser, of).await;
            open = of;
        }
        assert_eq!(cell(&browser, row, column).await, *expected, "{of}: {row} in {column}");
    }
    // Nothing is cut off: every cell is as wide as its words.
    table(&browser, "ratio").await;
    browser
        .until("[...document.querySelectorAll('.look-up td')].every(cell => cell.scrollWidth <= cell.clientWidth + 1)")
        .await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_table_is_arranged_and_leads_to_the_slide_rule() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    table(&browser, "squeeze").await;
    browser.fill("target ratio", "2").await;
    browser.until("document.querySelector('.look-up').innerText.includes('keeps 100 %')").await;
    assert_eq!(cell(&browser, "4:3", "1.5×").await, "● 2\nkeeps 100 %");
    // Up, down, and as it was.
    let head = "document.querySelector('.look-up th:nth-child(1) button')";
    let first = "document.querySelector('.look-up tbody tr').cells[0].innerText.split('\\n')[0]";
    let sorts = |way: &'static str| format!("document.querySelector('.look-up th:nth-child(1)').ariaSort === {way}");
    browser.run(&format!("{head}.click()")).await;
    browser.until(&sorts("'ascending'")).await;
    assert_eq!(browser.run(&format!("return {first}")).await, "9:16");
    browser.run(&format!("{head}.click()")).await;
    browser.until(&sorts("'descending'")).await;
    assert_eq!(browser.run(&format!("return {first}")).await, "256:135");
    // The address brings the arrangement back.
    browser.client.refresh().await.expect("a page");
    browser.see(".look-up tbody tr").await;
    browser.until(&sorts("'descending'")).await;
    assert_eq!(browser.value("target ratio").await, "2");
    browser.fill("Filter rows", "3:2").await;
    browser.until("document.querySelectorAll('.look-up tbody tr').length === 1").await;
    browser.press("Copy").await;
    browser.says("Table copied").await;
    // A cell opens its question.
    browser.run("document.querySelector('.look-up tbody tr').cells[4].querySelector('a').click()").await;
    browser.until("document.querySelector('.asked h2')?.innerText === 'Squeeze'").await;
    assert_eq!(browser.value("lens squeeze").await, "1.5");
    assert_eq!(browser.value("target ratio").await, "2");
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn rows_of_ones_own_are_kept_and_bad_ones_are_told() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    table(&browser, "ratio").await;
    browser.fill("Add to the table", "2.55").await;
    browser.keys(ENTER).await;
    browser.until("document.querySelector('.look-up').innerText.includes('your own')").await;
    assert!(cell(&browser, "2.55", "1920×1080").await.starts_with("1920×752\n752.94"));
    browser.fill("Add to the table", "5120x2700").await;
    browser.keys(ENTER).await;
    browser.until("document.querySelector('.look-up').innerText.includes('5120×2142')").await;
    for (bad, told) in [("wide", "Must be"), ("3000", "a ratio from 1/100 to 100"), ("99999x10", "Must be")] {
        browser.fill("Add to the table", bad).await;
        browser.keys(ENTER).await;
        browser.says(told).await;
        assert_eq!(browser.run("return document.querySelectorAll('.own-rows .own').length").await, json!(2), "{bad}");
    }
    // A target that is half typed leaves the last good table.
    table(&browser, "squeeze").await;
    browser.fill("target ratio", "2..").await;
    browser.says("a ratio such as 2.39 or 16:9").await;
    assert_eq!(cell(&browser, "4:3", "2×").await.lines().next(), Some("2.667"));
    table(&browser, "ratio").await;
    browser.says("2.55").await;
    browser.run("document.querySelectorAll('.own-rows .own button').forEach(button => button.click())").await;
    browser.until("document.querySelectorAll('.own-rows .own').length < 2").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn safe_areas_and_frames_of_ones_own_stand_with_the_published() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    table(&browser, "safe").await;
    for own in ["88.5", "2048x1080"] {
        browser.fill("Add to the table", own).await;
        browser.keys(ENTER).await;
        let count = "document.querySelectorAll('.own-rows .own').length";
        browser.until(&format!("{count} === {}", if own == "88.5" { 1 } else { 2 })).await;
    }
    // 2048 times 0.885 is 1812.48; EBU R 95 leaves 90 % for graphics (from memory), 1843.2 by 972.
    browser.until("document.querySelector('.look-up').innerText.includes('1812.48×955.8')").await;
    assert_eq!(cell(&browser, "EBU R 95 action", "on 2048×1080").await.lines().next(), Some("1904.64×1004.4"));
    for (bad, told) in [
        ("0", "a percentage from 1 to 100; 0 is outside"),
        ("70000x10", "a frame side from 1 to 65536 pixels; 70000 is outside"),
    ] {
        browser.fill("Add to the table", bad).await;
        browser.keys(ENTER).await;
        browser.says(told).await;
    }
    // They are kept; what somebody else has written there instead is left out, not fallen over.
    browser.client.refresh().await.expect("a page");
    browser.until("document.querySelector('.look-up')?.innerText.includes('1812.48×955.8')").await;
    for damaged in
        ["{", "null", "[]", r#"{"safe":7}"#, r#"{"safe":{"sizes":[[1,"2"],null,[2048.5,1]],"numbers":[3,{},null]}}"#]
    {
        browser.run(&format!("localStorage.setItem('ratiomet.tables', {})", json!(damaged))).await;
        browser.client.refresh().await.expect("a page");
        browser.until("document.querySelectorAll('.look-up tbody tr').length === 4").await;
        assert_eq!(browser.run("return document.querySelectorAll('.own-rows .own').length").await, json!(0));
    }
    // One that is refused can be taken off again.
    browser.run(r#"localStorage.setItem('ratiomet.tables', '{"safe":{"sizes":[],"numbers":["500"]}}')"#).await;
    browser.client.refresh().await.expect("a page");
    browser.says("One of your rows is not valid").await;
    browser.press("Remove your rows").await;
    browser.until("document.querySelectorAll('.look-up tbody tr').length === 4").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_table_prints_on_a_page_without_its_tools() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    table(&browser, "ratio").await;
    browser.devtools("Emulation.setEmulatedMedia", json!({ "media": "print" })).await;
    browser.until("getComputedStyle(document.querySelector('.families')).display === 'none'").await;
    for gone in [".families", ".own-rows", ".sheet-head .end"] {
        let display = format!("return getComputedStyle(document.querySelector('{gone}')).display");
        assert_eq!(browser.run(&display).await, json!("none"), "{gone}");
    }
    // Nothing is cut off at the side or hidden below a fold.
    let whole = "const box = document.querySelector('.tables .scroll'); \
                 return [box.scrollWidth <= box.clientWidth + 1, box.scrollHeight <= box.clientHeight + 1]";
    assert_eq!(browser.run(whole).await, json!([true, true]));
    browser.close().await;
}

#[tokio::test]
async fn many_calculations_are_answered_at_once_or_refused_by_place() {
    let server = Server::empty();
    let ratios = ["2.39", "1.85", "x"];
    let requests = |of: &[&str]| -> Value {
        json!({ "requests": of.iter().map(|ratio| json!({ "kind": "extraction", "container": [3840, 2160], "ratio": ratio })).collect::<Vec<_>>() })
    };
    let answer = server.post("/calc/many", &requests(&ratios[..2])).await.ok();
    assert_eq!(answer["results"][0]["frame"], json!([3840, 1606]));
    assert_eq!(answer["results"][1]["frame"], json!([3840, 2074]));
    let refused = server.post("/calc/many", &requests(&ratios)).await.refusal(422);
    assert_eq!(refused["errors"][0]["pointer"], "/requests/2/ratio");
    server.post("/calc/many", &requests(&["2"; 2001])).await.refusal(422);
    server.post("/calc/many", &json!({})).await.refusal(422);
    let tables = server.get("/tables").await.ok();
    assert_eq!(tables["pixel_shapes"][1]["pixel_aspect"], "12:11");
    assert_eq!(tables["safe_areas"][1]["on"][0]["rect"]["width"]["value"], 1728.0);
    let own = server.get("/tables?safe=50&frames=100x60,70x90").await.ok();
    assert_eq!(own["safe_areas"][4]["on"][5]["rect"]["height"]["exact"], "45");
    let refused = server.get("/tables?safe=50,x&frames=100x60,9x").await.refusal(422);
    let pointers: Vec<_> =
        refused["errors"].as_array().expect("errors").iter().map(|error| &error["pointer"]).collect();
    assert_eq!(pointers, ["/safe/1", "/frames/1"]);
}
