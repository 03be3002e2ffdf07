//! Open points: every cause once, what helps for all at once, accepting, and a late change that framings follow.

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const DOWN: char = '\u{e015}';

async fn points(server: &Server) -> Value {
    server.get("/projects/1/points").await.ok()
}

fn open(points: &Value) -> Vec<String> {
    let all = points["points"].as_array().expect("points").iter();
    all.filter(|point| point["open"] != 0).map(|point| point["key"].as_str().expect("a key").to_owned()).collect()
}

async fn back(server: &Server) {
    let head = server.get("/projects/1/history/head").await.ok();
    let body = json!({ "from": head["at"], "to": head["undo"]["to"] });
    server.post("/projects/1/history/go", &body).await.ok();
}

#[tokio::test]
async fn the_demo_has_few_points_each_with_a_cause_and_what_helps_makes_nothing_worse() {
    let server = Server::demo();
    let before = points(&server).await;
    assert!(open(&before).len() <= 20, "{:?}", open(&before));
    assert!(before["flagged"].as_u64().is_some_and(|flagged| flagged <= 35));
    let board = server.get("/projects/1/board").await.ok();
    let weight = |severity: &Value| ["note", "caution", "stop"].iter().position(|word| *word == severity);
    let mut helped = 0;
    for key in open(&before) {
        let remedies = server.get(&format!("/projects/1/points/remedies?key={key}")).await.ok();
        for remedy in remedies.as_array().expect("remedies") {
            let done = server.post("/projects/1/edits", &remedy["edit"]).await.ok();
            assert!(done["step"].is_i64(), "{remedy}");
            let after = server.get("/projects/1/board").await.ok();
            for (was, is) in
                board["crossings"].as_array().expect("all").iter().zip(after["crossings"].as_array().expect("all"))
            {
                assert!(weight(&is["severity"]) <= weight(&was["severity"]), "{} makes {is} worse", remedy["words"]);
            }
            let solved = remedy["solves"].as_u64().expect("a number");
            let size = |points: &Value| {
                let all = points["points"].as_array().expect("points").iter();
                let mine = all
                    .filter(|point| point["key"] == key.as_str())
                    .map(|point| point["conversions"].as_array().expect("pairs").len());
                mine.sum::<usize>() as u64
            };
            let now = points(&server).await;
            // What is kept of before is what is worked out anew for a hand-off.
            let handed = json!({ "formats": ["csv"] });
            let preview = server.post("/projects/1/handoff/preview", &handed).await.ok();
            assert_eq!(preview["points"], now["points"], "{}", remedy["words"]);
            assert!(
                size(&before) - size(&now) >= solved.min(size(&before)) || key.starts_with("enlarged"),
                "{}",
                remedy["words"]
            );
            back(&server).await;
            helped += 1;
        }
    }
    assert!(helped >= 20, "{helped} remedies");
    assert_eq!(points(&server).await, before, "all of it is undone");
}

#[tokio::test]
async fn a_point_is_accepted_for_all_and_hand_off_lists_it() {
    let server = Server::demo();
    let all = points(&server).await;
    let point = &all["points"][0];
    let judge = json!({ "edit": "judge_finding", "conversions": point["conversions"], "code": point["code"], "reason": "agreed" });
    let done = server.post("/projects/1/edits", &judge).await.ok();
    assert_eq!(done["changed"], json!(point["conversions"].as_array().expect("pairs").len()));
    let after = points(&server).await;
    let same = after["points"].as_array().expect("points").iter().find(|each| each["key"] == point["key"]);
    assert_eq!(same.map(|same| (&same["open"], &same["reason"])), Some((&json!(0), &json!("agreed"))));
    let preview = server.post("/projects/1/handoff/preview", &json!({ "formats": ["csv"] })).await.ok();
    let listed = preview["points"].as_array().expect("points");
    assert!(listed.iter().any(|each| each["key"] == point["key"] && each["reason"] == "agreed"));
    back(&server).await;
    assert_eq!(points(&server).await, all);
    // A key that names nothing helps with nothing.
    assert_eq!(server.get("/projects/1/points/remedies?key=nothing").await.ok(), json!([]));
    assert_eq!(server.get("/projects/1/points/remedies").await.status, 422);
}

#[tokio::test]
async fn points_are_worked_through_by_keys_and_mouse() {
    let server = Server::demo();
    let before = open(&points(&server).await);
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says(&format!("{} open points", before.len())).await;
    browser.run("[...document.querySelectorAll('a')].find(a => a.innerText.includes('open points')).click()").await;
    browser.see(".point[aria-current]").await;
    // What helps is drawn small, before and after.
    browser.run("document.querySelector('[data-point^=subject_cut]').click()").await;
    browser.see(".outcomes .drawing").await;
    let small =
        "[...document.querySelectorAll('.outcomes .drawing')].every(each => each.getBoundingClientRect().width < 80)";
    browser.until(&format!("document.querySelector('.point-sheet .scroll').scrollWidth <= document.querySelector('.point-sheet .scroll').clientWidth && {small}")).await;
    browser.run("document.querySelector('.point').click()").await;
    browser.keys(&DOWN.to_string()).await;
    browser.until(&format!("document.querySelector('.point[aria-current]').dataset.point === '{}'", before[1])).await;
    // The point of the interlaced reel, by its remedy.
    let key = "interlaced-source-12";
    browser.run(&format!("document.querySelector('[data-point={key}]').click()")).await;
    browser.press("Apply: Deinterlace on hand-off").await;
    browser.until(&format!("!document.querySelector('[data-point={key}]')")).await;
    assert_eq!(server.get("/projects/1/sources/12").await.ok()["values"]["deinterlace"], true);
    browser.keys("u").await;
    browser.see(&format!("[data-point={key}]")).await;
    assert_eq!(open(&points(&server).await), before);

    // Accepted with a reason, and opened again.
    browser.run(&format!("document.querySelector('[data-point={key}]').click()")).await;
    browser.fill("or accept it, because", "seen on the big screen").await;
    browser.press("Accept for 7 conversions").await;
    browser.says("Accepted: seen on the big screen").await;
    browser.press("Reopen").await;
    browser.see(".accept-all").await;
    assert_eq!(open(&points(&server).await), before);

    // What is fine in this project is no point, and can be made one again.
    browser.press("Tolerances").await;
    browser.fill("enlarging needs no look up to", "170 %").await;
    browser.keys("\u{e007}").await;
    browser.until("!document.querySelector('[data-point=enlarged-source-10]')").await;
    assert_eq!(server.get("/projects/1").await.ok()["values"]["tolerances"]["enlarged"], "1.70");
    browser.fill("enlarging needs no look up to", "20").await;
    browser.keys("\u{e007}").await;
    browser.says("Must be from 100 to 1000").await;
    browser.keys("\u{e00c}").await;
    browser.press("24 into 25 fps needs a look again").await;
    browser.see("[data-point=rate_mixed-24-25]").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_late_change_says_how_many_framings_follow_and_is_one_undo() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/deliveries?frame=17").await;
    browser.says("Festival scope").await;
    let own = server.get("/projects/1/conversions/2/17").await.ok()["framing"].clone();
    assert_eq!(own["shift"], json!(["0", "-220"]));
    browser.fill("width", "2048x858").await;
    browser.says("1 framing follows in proportion, nothing is lost.").await;
    browser.keys("\u{e007}").await;
    browser.until("document.querySelector('.raster-fields input').value === '2048'").await;
    browser.says("2048×858").await;
    let start = std::time::Instant::now();
    let after = loop {
        let now = server.get("/projects/1/conversions/2/17").await.ok();
        if now["framing"] != own || start.elapsed() > std::time::Duration::from_secs(10) {
            break now;
        }
    };
    assert_eq!(after["framing"]["shift"], json!(["0", "-110"]));
    assert_eq!(after["plan"]["covered"]["exact"], "1");
    back(&server).await;
    assert_eq!(server.get("/projects/1/conversions/2/17").await.ok()["framing"], own);
    assert_eq!(server.get("/projects/1/frames/17").await.ok()["values"]["geometry"]["raster"], json!([4096, 1716]));
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_typing_profile_is_answered_once_and_its_numbers_are_shown() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    // Stored sideways: turned first, then it fits as it is.
    browser.open("/projects/1/board/4/20").await;
    browser.says("Type this").await;
    let typed = "[...document.querySelectorAll('.type-this .figure')].map(f => f.innerText.trim()).join(' | ')";
    browser.until(&format!("{typed} === '90° | 100.00 % | 0.0 px | 0.0 px'")).await;
    browser.run("const s = document.querySelector('#typing-profile'); s.value = 'new'; s.dispatchEvent(new Event('change', { bubbles: true }))").await;
    browser.says("What does your program ask for?").await;
    browser.press("Save profile").await;
    browser.says("Must be").await;
    browser.fill("name of this profile", "Online room").await;
    for answer in ["fitted, then turned", "anticlockwise", "corner to middle", "parts of the frame", "as a factor"] {
        browser.press(answer).await;
    }
    browser.press("Save profile").await;
    browser.until("!document.querySelector('.modal')").await;
    browser.until(&format!("{typed} === '-90° | 1.78× | 0.5 | 0.5'")).await;
    let kept = server.get("/library").await.ok()["profiles"].clone();
    assert_eq!(
        (&kept[0]["values"]["name"], &kept[0]["values"]["profile"]["turned"]),
        (&json!("Online room"), &json!("last"))
    );
    // It is still the one after a reload, and every convention is one key away.
    browser.client.refresh().await.expect("a reload");
    browser.until(&format!("{typed} === '-90° | 1.78× | 0.5 | 0.5'")).await;
    browser.keys("y").await;
    browser.says("All conventions").await;
    browser.see("input[aria-label='percent of native']").await;
    // A clip that is cut: what to cut stands first, and the whole clip is fitted.
    browser.open("/projects/1/board/5/19").await;
    browser.until("document.querySelector('.type-this .figure')?.innerText.trim() === '8 / 4 / 10 / 6 px'").await;
    // In the library it can be changed and removed, and it travels in its file.
    let file = server.get("/library/export").await.ok();
    assert_eq!(file["profiles"][0]["name"], "Online room");
    let other = Server::empty();
    let done = other.post("/library/import", &file).await.ok();
    assert_eq!(done["added"], 1);
    assert_eq!(other.get("/library").await.ok()["profiles"][0]["values"], kept[0]["values"]);
    browser.open("/projects/1/deliveries/library").await;
    browser.press("Remove Online room from the library").await;
    browser.says("None yet: what does your program ask for?").await;
    browser.console_is_empty().await;
    browser.close().await;
}
