//! On a phone: the board as a list, the slide rule under the thumb, the camera chart over all of the screen.

use serde_json::json;

use crate::support::{Browser, Server};

/// The conversions that are listed of the first source.
const OF_FIRST: &str = "(() => { const all = [...document.querySelectorAll('.glance li')].sort((a, b) => \
     a.dataset.index - b.dataset.index); const next = all.findIndex((each, at) => at > 0 && each.className === 'source'); \
     return next < 0 ? all.length - 1 : next - 1 })()";

#[tokio::test]
async fn the_board_lists_what_is_to_be_looked_at_and_unfolds_the_rest() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.size(390, 844).await;
    browser.open("/projects/1/board").await;
    browser.says("Sphere into a flat frame").await;
    browser.until(&format!("{OF_FIRST} === 1")).await;
    browser.press("6 clean").await;
    browser.until(&format!("{OF_FIRST} === 7")).await;
    browser.press("6 clean").await;
    browser.until(&format!("{OF_FIRST} === 1")).await;

    // Who asks for some is shown all of them, and is told that not all is shown while the fields are folded.
    browser.run("document.querySelector('.folded summary').click()").await;
    browser.fill("Filter sources", "harbour").await;
    browser.run("document.querySelector('#only-byHand').click()").await;
    browser.run("document.querySelector('.folded summary').click()").await;
    browser.says("Filter and order: on").await;
    browser.until("document.querySelectorAll('.glance li.source').length === 1").await;
    browser.until("document.querySelectorAll('.glance li.conversion').length === 1").await;

    // No row lies over the next, however many lines it has.
    let over = "return (() => { const all = [...document.querySelectorAll('.glance li')].map(each => \
         each.getBoundingClientRect()).sort((a, b) => a.top - b.top); \
         return all.filter((each, at) => at > 0 && each.top < all[at - 1].bottom - 1).length })()";
    assert_eq!(browser.run(over).await, 0);

    browser.run("document.querySelector('.glance li.conversion a').click()").await;
    browser.says("Type this").await;
    assert_eq!(browser.path().await, "/projects/1/board/2/17");
    // Wider, the board is all of it again.
    browser.size(1280, 800).await;
    browser.open("/projects/1/board").await;
    browser.see(".board[role=grid]").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn the_slide_rule_is_typed_at_the_foot_of_the_screen() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    browser.size(390, 844).await;
    browser.open("/slide-rule").await;
    browser.says("Rounded").await;
    let place = "(() => { const { top, bottom } = document.querySelector('.asked .fields').getBoundingClientRect(); \
         return top > 400 && bottom <= 845 })()";
    browser.until(place).await;
    browser.fill("ratio", "2").await;
    browser.says("1920").await;
    browser.run("document.querySelector('.page').scrollTop = 10000").await;
    browser.until(place).await;
    // The question at hand is in sight among the others.
    browser.open("/slide-rule?of=rates").await;
    browser.says("unevenly").await;
    let seen = "(() => { const row = document.querySelector('.families').getBoundingClientRect(); \
         const { left } = document.querySelector('.families [aria-current]').getBoundingClientRect(); \
         return left >= row.left - 2 && left < row.right - 40 })()";
    browser.until(seen).await;
    browser.close().await;
}

#[tokio::test]
async fn a_camera_chart_fills_the_screen_and_follows_the_plan() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage?source=1").await;
    browser.press("Camera chart").await;
    let drawn = "(document.querySelector('.chart-stage img')?.naturalWidth ?? 0) === 2880";
    browser.until(drawn).await;
    assert_eq!(browser.path().await, "/projects/1/footage/1/chart");
    // It lies on its side where the phone stands upright, and fills it either way.
    let fills = |sides: &str| {
        format!(
            "(() => {{ const stage = document.querySelector('.chart-stage').getBoundingClientRect(); \
             const chart = document.querySelector('.chart-stage img').getBoundingClientRect(); \
             return {sides} && (Math.abs(chart.width - stage.width) < 2 || Math.abs(chart.height - stage.height) < 2) }})()"
        )
    };
    browser.until(&fills("chart.width > chart.height")).await;
    browser.size(390, 844).await;
    browser.until(&fills("chart.width < chart.height")).await;
    browser.says("Full screen").await;

    // The same chart as a hand-off has, with the windows as they are now.
    let chart = server.get("/projects/1/sources/1/chart").await;
    assert_eq!((chart.status.as_u16(), chart.kind.as_str()), (200, "image/svg+xml"));
    let text = |answer: &crate::support::Answer| String::from_utf8_lossy(&answer.bytes).into_owned();
    assert!(text(&chart).contains("A014 Furnace mouth") && text(&chart).contains("Festival scope"));
    assert!(!text(&chart).contains("<image"));
    let pictured = server.get("/projects/1/sources/1/chart?pictures=true").await;
    assert!(text(&pictured).contains("<image"));
    let edit = json!({ "edit": "set_frames", "frames": [17], "set": { "method": "fit" } });
    server.post("/projects/1/edits", &edit).await.ok();
    assert_ne!(text(&server.get("/projects/1/sources/1/chart").await), text(&chart));
    server.get("/projects/1/sources/999/chart").await.refusal(404);
    browser.console_is_empty().await;
    browser.close().await;
}
