//! Wrong input in the browser: said in words, no detail lost, the last good drawing stays.

use crate::support::{Browser, Server};

const ENTER: &str = "\u{e007}";
const ESCAPE: &str = "\u{e00c}";

/// What is said below a field.
async fn wrong(browser: &Browser, label: &str) -> String {
    let field = browser.field(label).await;
    browser.until("document.querySelector('[aria-invalid=true]')").await;
    assert_eq!(field.attr("aria-invalid").await.expect("an attribute").as_deref(), Some("true"), "{label}");
    let id = field.attr("aria-describedby").await.expect("an attribute").expect("a description");
    browser.see(&format!("[id='{id}']")).await.text().await.expect("text")
}

#[tokio::test]
async fn every_bad_value_says_what_would_be_right() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage?source=1").await;
    let good = "[aria-label='Stored 2880 by 2160, seen as 2.67:1']";
    browser.see(good).await;
    // The example fits the field.
    let squeeze = "a squeeze such as 1.8 or 4/3";
    for (label, entry, says) in [
        ("lens squeeze", "0", "a squeeze from 1/10 to 10; 0 is outside"),
        ("lens squeeze", "1:0", squeeze),
        ("lens squeeze", "-2", squeeze),
        ("lens squeeze", "NaN", squeeze),
        ("lens squeeze", "1,34,5", squeeze),
        ("lens squeeze", "", squeeze),
        ("pixel aspect", "11", "a pixel aspect from 1/10 to 10; 11 is outside"),
        ("stored width", "0", "a whole number of pixels from 1 to 65536"),
        ("stored width", "-5", "a whole number of pixels from 1 to 65536"),
        ("stored width", "1920.0", "a whole number of pixels from 1 to 65536"),
        ("stored height", "99999999999999999999", "a whole number of pixels from 1 to 65536"),
        ("stored height", "tall", "a whole number of pixels from 1 to 65536"),
        ("top inset", "x", "a whole number of stored pixels, 0 or more"),
        ("frame rate", "fast", "a frame rate such as 25, 23.976 or 24000/1001"),
        ("pixel aspect", "wide", "a pixel aspect such as 12:11 or 1.5"),
    ] {
        browser.fill(label, entry).await;
        let said = wrong(&browser, label).await;
        assert!(said.contains(says), "{label} {entry:?} says {said:?}");
        // The last good drawing stays: that of the stored source, or of what was typed on the way.
        browser.see("[role=img][aria-label^='Stored ']").await;
        browser.keys(ESCAPE).await;
        browser.see(good).await;
        browser.until("!document.querySelector('[aria-invalid=true]')").await;
    }
    // Insets that leave nothing are said where the insets are.
    browser.fill("left inset", "2879").await;
    browser.says("insets that leave at least 2 × 2 stored pixels; these leave 1 × 2160").await;
    browser.see("[role=img][aria-label^='Stored 2880 by 2160']").await;
    // Pressing Enter all the same stores nothing and loses nothing.
    browser.keys(ENTER).await;
    assert_eq!(browser.value("left inset").await, "2879");
    assert_eq!(server.get("/projects/1/sources/1").await.ok()["version"], 1);
    browser.keys(ESCAPE).await;
    assert_eq!(browser.value("left inset").await, "0");
    browser.close().await;
}

#[tokio::test]
async fn names_are_asked_for_in_words() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/").await;
    browser.press("Create project").await;
    browser.says("a name of 1 to 120 characters on one line").await;
    browser.open("/projects/1/footage?source=new").await;
    browser.press("Add source").await;
    browser.says("a name of 1 to 120 characters on one line").await;
    browser.open("/projects/1/deliveries?frame=new").await;
    browser.fill("name", &"long ".repeat(30)).await;
    browser.press("Add frame").await;
    browser.says("a name of 1 to 120 characters on one line").await;
    browser.fill("name", "Banner").await;
    browser.fill("visible ratio", "0.001").await;
    let said = wrong(&browser, "visible ratio").await;
    assert!(said.contains("a ratio from 1/100 to 100"), "{said}");
    browser.fill("visible ratio", "100").await;
    browser.fill("height", "20").await;
    browser.fill("width", "8").await;
    browser.says("with this one the bars leave no picture").await;
    browser.close().await;
}

#[tokio::test]
async fn wrong_values_for_many_change_none_of_them() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage").await;
    browser.see("tr[aria-current=true]").await;
    browser.chord('\u{e009}', 'a').await;
    browser.says("18 sources").await;
    for (label, entry, says) in [
        ("lens squeeze", "0", "a squeeze from 1/10 to 10; 0 is outside"),
        ("lens squeeze", "wide", "a squeeze such as 1.8 or 4/3"),
        ("pixel aspect", "11", "a pixel aspect from 1/10 to 10"),
        ("frame rate", "0", "a frame rate from 1/1000 to 1000"),
        ("left inset", "-3", "a whole number of stored pixels"),
        ("top inset", "65000", "insets that leave at least 2 × 2 stored pixels"),
    ] {
        browser.fill(label, entry).await;
        let said = wrong(&browser, label).await;
        assert!(said.contains(says), "{label} {entry:?} says {said:?}");
        // Enter all the same does nothing, and the entry stays.
        browser.keys(ENTER).await;
        assert_eq!(browser.value(label).await, entry);
        browser.keys(ESCAPE).await;
        browser.until("!document.querySelector('[aria-invalid=true]')").await;
    }
    assert_eq!(server.get("/projects/1/history/head").await.ok()["undo"], serde_json::Value::Null);
    // A guide that leaves nothing, or is none.
    browser.fill("guide ratio, as stored", "0").await;
    browser.keys(ENTER).await;
    let said = wrong(&browser, "guide ratio, as stored").await;
    assert!(said.contains("a ratio from 1/100 to 100"), "{said}");
    browser.close().await;
}

#[tokio::test]
async fn what_the_house_keeps_needs_a_name() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage?source=10").await;
    browser.says("R010 Tide table screen").await;
    browser.press("Save").await;
    browser.says("a name of 1 to 120 characters on one line").await;
    browser.open("/projects/1/deliveries?frame=18").await;
    browser.says("Streaming UHD").await;
    browser.fill("heading in the library", "").await;
    browser.press("Save").await;
    browser.says("a name of 1 to 120 characters on one line").await;
    let library = server.get("/library").await.ok();
    assert_eq!((&library["frames"], &library["active_pictures"]), (&serde_json::json!([]), &serde_json::json!([])));
    browser.close().await;
}

#[tokio::test]
async fn a_list_of_nothing_says_so_and_a_refused_one_stays() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage/paste").await;
    browser.see("textarea").await;
    browser
        .until("[...document.querySelectorAll('button')].some(b => b.innerText === 'Read list' && b.disabled)")
        .await;
    browser.keys("just words").await;
    browser.press("Read list").await;
    browser.says("1 not understood").await;
    browser.says("a stored size such as 3840x2160; this row has none").await;
    browser.press("Another list").await;
    browser.see("textarea").await;
    browser.paste(&format!("name\tsize\n{}", "A\t16x9\n".repeat(20_001))).await;
    browser.says("at most 20000 rows at once").await;
    browser.close().await;
}

#[tokio::test]
async fn an_extraction_keeps_its_last_good_answer() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/deliveries?frame=new").await;
    browser.press("By ratio").await;
    browser.see("[aria-label='Use 3840 by 1606']").await;
    browser.fill("ratio", "2.39.1").await;
    let said = wrong(&browser, "ratio").await;
    assert!(said.contains("a ratio such as 2.39 or 16:9"), "{said}");
    browser.see("[aria-label='Use 3840 by 1606']").await;
    browser.fill("ratio", "1/100").await;
    browser.fill("container height", "1").await;
    browser.see("[aria-label='Use 2 by 1']").await;
    browser.close().await;
}

#[tokio::test]
async fn addresses_that_lead_nowhere_say_so() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    for (path, says) in [
        ("/nowhere", "There is no page at this address"),
        ("/projects/999/board", "No project has the number 999"),
        ("/projects/abc/board", "This project does not exist"),
        ("/projects/1/board/999/17", "This conversion no longer exists"),
    ] {
        browser.open(path).await;
        browser.says(says).await;
    }
    browser.close().await;
}

#[tokio::test]
async fn a_silent_server_is_named_and_the_entry_kept() {
    let folder = tempfile::tempdir().expect("a folder");
    let server = Server::start_on("demo", &folder.path().join("a.db"), &[]);
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage?source=1").await;
    browser.fill("lens squeeze", "1.8").await;
    browser.see("[aria-label='Stored 2880 by 2160, seen as 2.40:1']").await;
    drop(server);
    browser.keys(ENTER).await;
    browser.says("The server does not answer").await;
    assert_eq!(browser.value("lens squeeze").await, "1.8");
    browser.close().await;
}
