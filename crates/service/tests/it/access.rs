//! Every screen, by day and by night and on a phone: no violation of accessibility rules that is
//! more than minor, as axe-core knows them, and nothing in the console.

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const SCREENS: &[(&str, &str)] = &[
    ("/", "Export"),
    ("/about", "Packages"),
    ("/projects/1/footage?source=5", "as stored"),
    ("/projects/1/footage?source=new", "Add source"),
    ("/projects/1/footage/paste", "List"),
    ("/projects/1/footage/6/sphere", "sharp up to"),
    ("/projects/1/footage/files", "Files on this computer"),
    ("/projects/1/handoff", "Nothing blocks this hand-off."),
    ("/projects/1/deliveries", "drawn to one scale"),
    ("/projects/1/deliveries/library", "From a clip"),
    ("/projects/1/deliveries?frame=new", "Add frame"),
    ("/projects/1/board", "126 conversions"),
    ("/projects/1/board/points", "What helps"),
    ("/projects/1/board/5/18", "Type this"),
    ("/projects/1/board/10/18/proof", "Same place, pixel by pixel"),
    ("/projects/1/footage/10/chart", "Camera chart"),
    ("/projects/1/board/proof", "Proof of the board"),
    ("/nowhere", "no page"),
    ("/projects/1/deliveries/ways?source=2", "loses detail"),
    ("/slide-rule", "Rounded"),
    ("/slide-rule?q=PAL%20into%20HD", "seen at 16:9 fitted into"),
    ("/slide-rule?of=screen", "bars on all four sides"),
    ("/slide-rule?of=rates", "unevenly"),
    ("/manual", "noted so that nobody wonders"),
    ("/tables", "whole cinema container"),
    ("/tables?of=squeeze", "keeps"),
];

/// Widths of phones, in pixels.
const PHONE: u32 = 390;
const SMALLEST_PHONE: u32 = 320;

/// What is opened on top of a screen: where, by which button, and what it then says.
const DIALOGS: &[(&str, &str, &str)] = &[
    ("/projects/1/board", "Help", "Single-character keys"),
    ("/projects/1/board", "History", "you are here"),
    ("/projects/1/board", "Find", "opens the screen"),
    ("/projects/1/deliveries/library", "New profile", "What does your program ask for?"),
    ("/slide-rule?of=push", "Add as framing", "which conversion?"),
];

async fn violations(browser: &Browser) -> Vec<String> {
    broken(browser, "document", "").await
}

/// Of the rules that go by colours and sizes: what is changed by the light, and on a phone.
async fn violations_of_looks(browser: &Browser, of: &str) -> Vec<String> {
    let looks = "runOnly: { type: 'rule', values: ['color-contrast', 'link-in-text-block', 'target-size', \
                 'scrollable-region-focusable', 'region'] }, rules: { 'target-size': { enabled: true } }";
    broken(browser, of, looks).await
}

/// What is broken in a part of the page.
async fn broken(browser: &Browser, of: &str, rules: &str) -> Vec<String> {
    // Until everything has come to rest and has its last colour.
    let rest = "const done = arguments[0]; const rest = () => { \
                const moving = document.getAnimations().filter(one => Number.isFinite(one.effect.getComputedTiming().endTime)); \
                moving.length ? Promise.allSettled(moving.map(one => one.finished)).then(rest) : done() }; \
                document.fonts.ready.then(() => requestAnimationFrame(() => requestAnimationFrame(rest)))";
    browser.run_async(rest).await;
    if browser.run("return Boolean(window.axe)").await == false {
        browser.run(include_str!("../../../../web/node_modules/axe-core/axe.min.js")).await;
    }
    let found = browser
        .run_async(&format!(
            "const done = arguments[0]; axe.run({of}, {{ resultTypes: ['violations'], {rules} }}).then(r => done(r.violations \
             .filter(v => v.impact !== 'minor') \
             .map(v => v.id + ': ' + v.nodes.map(n => n.target + ' ' + n.failureSummary).slice(0, 4).join(' | '))))"
        ))
        .await;
    found.as_array().into_iter().flatten().map(Value::to_string).collect()
}

#[tokio::test]
async fn no_screen_shuts_anybody_out_or_runs_off_the_side() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    let mut all = Vec::new();
    browser.open("/").await;
    for (path, says) in SCREENS {
        browser.size(1280, 800).await;
        browser.by("light").await;
        // A question in the address is only read when the page is opened.
        if path.contains("?q=") {
            browser.open(path).await
        } else {
            browser.go(path).await
        }
        browser.says(says).await;
        if path.contains("/board/") && !path.ends_with("proof") {
            // With all that opens there.
            browser.keys("sed").await;
            browser.run("document.querySelector('.check-tools button')?.click()").await;
        }
        all.extend(violations(&browser).await.iter().map(|each| format!("by day {path}: {each}")));
        browser.by("dark").await;
        browser.size(PHONE, 800).await;
        all.extend(
            violations_of_looks(&browser, "document")
                .await
                .iter()
                .map(|each| format!("by night on a phone {path}: {each}")),
        );
        fits_on_a_phone(&browser, path).await;
        has_room_for_large_letters(&browser, path).await;
    }
    assert!(all.is_empty(), "{}", all.join("\n"));
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn no_dialog_shuts_anybody_out() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    let mut all = Vec::new();
    for (path, button, says) in DIALOGS {
        browser.by("dark").await;
        browser.open(path).await;
        browser.press(button).await;
        browser.says(says).await;
        // What lies behind it is looked at by itself.
        let dialog = "'.modal'";
        all.extend(broken(&browser, dialog, "").await.iter().map(|each| format!("by night {button}: {each}")));
        browser.by("light").await;
        all.extend(violations_of_looks(&browser, dialog).await.iter().map(|each| format!("by day {button}: {each}")));
    }
    browser.size(PHONE, 800).await;
    browser.open("/projects/1/board").await;
    browser.press("Menu").await;
    browser.says("Deliveries").await;
    all.extend(violations(&browser).await);
    assert!(all.is_empty(), "{}", all.join("\n"));
    // Escape closes, and the focus is where it was.
    browser.size(1280, 800).await;
    browser.open("/projects/1/board").await;
    browser.press("History").await;
    browser.says("you are here").await;
    browser.keys("\u{e00c}").await;
    browser.until("!document.querySelector('.modal')").await;
    browser.until("document.activeElement.innerText?.startsWith('History')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

/// Nothing runs off the side there nor on the smallest, and the head is one row.
async fn fits_on_a_phone(browser: &Browser, path: &str) {
    for (width, height) in [(PHONE, 844), (SMALLEST_PHONE, 640)] {
        browser.size(width, height).await;
        browser.painted().await;
        holds_all(browser, path).await;
        let head = browser.run("return document.querySelector('.head').offsetHeight").await;
        assert!(head.as_i64().is_some_and(|head| head <= 60), "at {width} the head of {path} is {head} px high");
    }
}

/// Nothing runs off the side of the window.
async fn holds_all(browser: &Browser, path: &str) {
    let over = browser.run("return document.documentElement.scrollWidth - innerWidth").await;
    assert!(over.as_i64().is_some_and(|over| over <= 0), "{path} is {over} px too wide");
    let over =
        browser.run("const p = document.querySelector('.page'); return p ? p.scrollWidth - p.clientWidth : 0").await;
    assert!(over.as_i64().is_some_and(|over| over <= 0), "the page of {path} is {over} px too wide");
    // Lists and sheets go up and down; only tables and drawings go sideways too.
    let over = "return [...document.querySelectorAll('.scroll')].filter(each => !each.querySelector('table, [role=grid]') && \
                !each.matches('.drawing-box, .lines') && each.scrollWidth > each.clientWidth + 1).map(each => each.className)";
    assert_eq!(browser.run(over).await, json!([]), "of {path} goes sideways");
}

/// Letters of twice the size have their room.
async fn has_room_for_large_letters(browser: &Browser, path: &str) {
    browser.size(1280, 800).await;
    browser.letters(32).await;
    browser.painted().await;
    assert_eq!(browser.run("return getComputedStyle(document.documentElement).fontSize").await, "32px");
    holds_all(browser, path).await;
    browser.letters(16).await;
}

#[tokio::test]
async fn what_the_board_draws_in_rows_is_not_cut_by_large_letters() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.letters(32).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.until("document.fonts.status === 'loaded'").await;
    let cut = "return [...document.querySelectorAll('.cell, .board-source')].filter(each => \
               each.scrollHeight > each.clientHeight + 1).map(each => each.ariaLabel || each.innerText)";
    assert_eq!(browser.run(cut).await, json!([]));
    browser.close().await;
}

#[tokio::test]
async fn the_light_can_be_chosen_and_is_remembered() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/").await;
    browser.press("Theme: system").await;
    browser.press("Theme: light").await;
    browser.until("document.documentElement.dataset.bsTheme === 'dark'").await;
    // In a dark room it does not begin white.
    let first = json!({ "source": "new MutationObserver((_, watch) => { if (document.body) { \
        window.first = document.documentElement.dataset.bsTheme; watch.disconnect() } }) \
        .observe(document, { childList: true, subtree: true })" });
    browser.devtools("Page.addScriptToEvaluateOnNewDocument", first).await;
    browser.client.refresh().await.expect("a reload");
    browser.until("window.first === 'dark'").await;
    browser.until("document.querySelector('[aria-label=\"Theme: dark\"]') !== null").await;
    browser.until("document.documentElement.dataset.bsTheme === 'dark'").await;
    browser.close().await;
}
