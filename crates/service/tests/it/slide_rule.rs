//! The slide rule: questions without a project, by fields, by plain words, by a link.

use serde_json::{Value, json};

use crate::support::{Browser, Server};

const ENTER: &str = "\u{e007}";

/// What the answer says at a name.
async fn answer(browser: &Browser, name: &str) -> String {
    let script = format!(
        "const line = [...document.querySelectorAll('.lines > div')].find(line => \
         line.querySelector('dt').innerText === '{name}'); return line ? line.querySelector('.figure').innerText : ''"
    );
    browser.run(&script).await.as_str().unwrap_or_default().to_owned()
}

async fn says(browser: &Browser, name: &str, expected: &str) {
    let start = std::time::Instant::now();
    loop {
        let now = answer(browser, name).await;
        if now == expected {
            return;
        }
        assert!(start.elapsed() < std::time::Duration::from_secs(30), "{name}: {now} is not {expected}");
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
}

/// Puts a text into a field at once, so that no part of it was ever an answer.
async fn paste_over(browser: &Browser, label: &str, text: &str) {
    let script = format!(
        "const input = [...document.querySelectorAll('.asked .field')].find(field => field.innerText.startsWith('{label}'))\
         .querySelector('input'); input.focus(); input.select(); document.execCommand('insertText', false, '{text}')"
    );
    browser.run(&script).await;
}

// Handbook and worked cases: 2.39 of UHD is 3840 x 1606.69; 1.8x on 16:9 is 3.2:1; 720 x 12/11 is
// 785.45 (ITU-T H.264, Table E-1); a square seen 90 degrees wide stands off by half its width (tan 45 = 1); HD to UHD is 2x and 4x the area; film in 30 is 2:1:1:1 (common
// practice); 5760 is 16 pixels a degree; levels of ITU-T H.264 and H.265 (from memory).
#[tokio::test]
async fn each_family_answers_a_known_case() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    let cases: &[(&str, &str, &str)] = &[
        ("?of=ratio", "frame", "3840×1606"),
        ("?of=ratio&ratio=1.85&w=4096&h=2160", "frame", "3996×2160"),
        ("?of=squeeze", "shows", "3.2 : 1"),
        ("?of=squeeze&w=6240&h=4160&squeeze=1.5&target=", "square pixels, all lines kept", "9360×4160"),
        ("?of=pixels", "square pixels, all lines kept", "786×576"),
        ("?of=pixels", "part that was meant, stored pixels", "704×576"),
        ("?of=pixels&h=480&aspect=10:11", "part that was meant, stored pixels", "704×480"),
        ("?of=scale", "factor", "2 ×"),
        ("?of=scale&w=1280&h=720&tw=1920&th=1080", "then scaled to", "75 %"),
        ("?of=push", "of the source, native pixels", "2560×1440"),
        ("?of=push", "push in further before a pixel is enlarged", "1.3333 ×"),
        ("?of=push&w=1920&h=1080&tw=3840&th=2160&zoom=1", "frame pixels for each of them", "2"),
        ("?of=place&degrees=90&pw=1000&ph=1000", "height on the sphere", "90°"),
        ("?of=place&degrees=90&pw=1000&ph=1000", "stands off, in its own widths", "0.5"),
        ("?of=rates&from=24&to=30", "each source frame appears", "2 : 1 : 1 : 1 times"),
        ("?of=rates&from=120&to=24&intent=every_frame", "speed", "20 %"),
        ("?of=sphere", "pixels for each degree", "16×16"),
        ("?of=view", "sphere width for 1:1", "6031.9 px"),
        ("?of=decoder", "ITU-T H.264", "level 5.1"),
        ("?of=bits", "file size", "137.16 MB"),
        ("?of=screen", "bars on all four sides", "yes: bars on both axes"),
    ];
    browser.open("/slide-rule").await;
    for (address, name, expected) in cases {
        browser.go(&format!("/slide-rule{address}")).await;
        says(&browser, name, expected).await;
        browser.see(".asked .drawing-box svg").await;
    }
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn fields_are_linked_and_the_address_holds_the_answer() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    browser.open("/slide-rule").await;
    says(&browser, "frame", "3840×1606").await;
    // The ratio moves the height, the height the ratio.
    browser.fill("ratio", "2").await;
    says(&browser, "frame", "3840×1920").await;
    browser.fill("or the height", "1600").await;
    says(&browser, "frame", "3840×1600").await;
    says(&browser, "shows", "2.4 : 1").await;
    let select = browser.field("rounding").await;
    select.select_by_value("up").await.expect("a rounding");
    // A link brings all of it back.
    browser.until("location.search.includes('round=up')").await;
    let address = browser.client.current_url().await.expect("an address");
    let link = format!("{}?{}", address.path(), address.query().unwrap_or_default());
    browser.open("/about").await;
    browser.open(&link).await;
    says(&browser, "frame", "3840×1600").await;
    assert_eq!(browser.value("rounding").await, "up");
    // A bad number says what would be right, and the last good answer stays.
    paste_over(&browser, "ratio", "wide").await;
    browser.says("a ratio such as 2.39 or 16:9").await;
    assert_eq!(answer(&browser, "frame").await, "3840×1600");
    // As lists are read: a decimal comma, and both sides in either field.
    paste_over(&browser, "ratio", "1,85").await;
    says(&browser, "frame", "3840×2076").await;
    assert_eq!(browser.value("ratio").await, "1,85");
    paste_over(&browser, "container height", "1920x1080").await;
    says(&browser, "frame", "1920×1038").await;
    assert_eq!(browser.value("container width").await, "1920");
    paste_over(&browser, "container width", "3840x2160").await;
    says(&browser, "frame", "3840×2076").await;
    // A name with two meanings: what may be meant is one click away.
    paste_over(&browser, "container width", "4K").await;
    browser.press("4096, cinema").await;
    says(&browser, "frame", "4096×2216").await;
    paste_over(&browser, "container width", "4k").await;
    browser.press("3840, UHD").await;
    says(&browser, "frame", "3840×2076").await;
    browser.fill("ratio", "3000").await;
    browser.says("a ratio from 1/100 to 100; 3000 is outside").await;
    // Back goes to the question before.
    browser.click(browser.see(".families button:nth-child(4)").await).await;
    says(&browser, "factor", "2 ×").await;
    browser.client.back().await.expect("back");
    browser.until("document.querySelector('.asked h2').innerText === 'Ratio and frame'").await;
    browser.open("/slide-rule?of=view").await;
    says(&browser, "vertical field of view", "58.716°").await;
    paste_over(&browser, "field of view", "400").await;
    browser.says("an angle over 0 and under 180 degrees").await;
    assert_eq!(answer(&browser, "vertical field of view").await, "58.716°");
    browser.open("/slide-rule?of=push&zoom=2").await;
    says(&browser, "of the source, native pixels", "1920×1080").await;
    paste_over(&browser, "push in", "0").await;
    browser.says("a zoom from 1/1000 to 1000; 0 is outside").await;
    assert_eq!(answer(&browser, "frame pixels for each of them").await, "1");
    // At 1 : 1 there is nothing left to push in.
    assert_eq!(answer(&browser, "push in further before a pixel is enlarged").await, "1 ×");
    browser.open("/slide-rule?of=place&latitude=80").await;
    says(&browser, "crosses the seam or holds a pole", "yes").await;
    paste_over(&browser, "latitude", "91").await;
    browser.says("an angle of at most 90 degrees either way; 91 is outside").await;
    assert_eq!(answer(&browser, "crosses the seam or holds a pole").await, "yes");
    browser.run("document.activeElement.blur()").await;
    browser.keys("c").await;
    browser.says("Question and answer copied.").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_question_in_plain_words_is_laid_out() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    browser.open("/slide-rule").await;
    says(&browser, "frame", "3840×1606").await;
    browser.keys("/").await;
    browser.keys("1.8x on 3840x2160 into 2.39").await;
    browser.says("1.8x squeeze on 3840×2160 into 2.39:").await;
    browser.says("2.39 keeps 74.7 % of it").await;
    browser.keys(ENTER).await;
    says(&browser, "the target keeps", "74.7 %").await;
    assert_eq!(browser.value("lens squeeze").await, "1.8");
    // Every question that is understood has its fields.
    for (question, family) in [
        ("60 at 24", "Rates"),
        ("720x576 12:11", "Pixel shape"),
        ("UHD into HD", "Scale"),
        ("5760 sphere", "Sphere"),
        ("5760 sphere 90 view 1920x1080", "View of a sphere"),
        ("level 3840x1920 30p", "Decoder level"),
        ("HD 25p 90s 12mbps", "File size"),
        ("HD 2.00 on screen 2340x1080", "On a screen"),
        ("proxies of 4608x3164", "Proxies"),
        ("how far can I push in UHD into HD", "Push in"),
        ("2.39 from 4K", "Ratio and frame"),
    ] {
        browser.fill("Ask a question", question).await;
        browser.says("Press Enter to open it below.").await;
        browser.until(&format!("!document.querySelector('.ask-answer').innerText.startsWith('For') && document.querySelector('.ask input').value === {}", json!(question))).await;
        let understood = server.get(&format!("/ask?q={}", question.replace(' ', "%20"))).await.ok();
        browser.says(understood["answer"]["sentence"].as_str().expect("a sentence")).await;
        browser.keys(ENTER).await;
        browser.until(&format!("document.querySelector('.asked h2').innerText === '{family}'")).await;
    }
    // The other size that the name means is answered too; two eyes stay two.
    browser.says("4K as 4096×2160, 2.39 out of 4096×2160: 4096×1716").await;
    browser.fill("Ask a question", "5760 sphere side by side").await;
    browser.says("11520×2880 pixels").await;
    browser.keys(ENTER).await;
    says(&browser, "frame", "11520×2880").await;
    // A sum has no fields below.
    browser.fill("Ask a question", "(2160 - 1606) / 2").await;
    browser.says("277.").await;
    browser.until("!document.querySelector('.ask-answer').innerText.includes('Press Enter')").await;
    // What help asks for an example is opened, though the rule is there already; Back leads to what was before.
    browser.run("document.activeElement.blur()").await;
    browser.keys("?").await;
    browser.press("1.8x on 3840x2160 into 2.39").await;
    browser.until("document.querySelector('.asked h2').innerText === 'Squeeze'").await;
    browser.until("document.querySelector('.modal') === null").await;
    browser.client.back().await.expect("a page back");
    browser.until("document.querySelector('.asked h2').innerText === 'Sphere'").await;
    browser.fill("Ask a question", "how do you feel").await;
    browser.says("\"feel\" was not understood").await;
    browser.press("UHD into HD").await;
    browser.says("0.5x (50 %), 0.25x the area").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn an_answer_goes_into_the_project() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.press("Slide rule").await;
    says(&browser, "frame", "3840×1606").await;
    browser.press("Add as frame").await;
    browser.says("Add 2.39 out of 3840x2160").await;
    browser.open("/slide-rule?of=pixels").await;
    browser.press("Add as source").await;
    browser.says("Add 720x576 with 12:11 pixels").await;
    let board = server.get("/projects/1/board").await.ok();
    let last =
        |list: &str| board[list].as_array().and_then(|all| all.last()).expect("it")["values"]["geometry"].clone();
    assert_eq!(last("frames")["raster"], json!([3840, 1606]));
    assert_eq!((&last("sources")["raster"], &last("sources")["pixel_aspect"]), (&json!([720, 576]), &json!("12:11")));
    browser.press("Undo").await;
    let start = std::time::Instant::now();
    while server.get("/projects/1/board").await.ok()["sources"].as_array().map(Vec::len) != Some(18) {
        assert!(start.elapsed() < std::time::Duration::from_secs(10), "not undone");
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn an_answer_frames_a_conversion_of_the_project() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.open("/slide-rule?of=push&w=5120&h=2700&tw=1080&th=1350&zoom=1.2").await;
    browser.press("Add as framing").await;
    browser.says("Fill, push in 1.2×: which conversion?").await;
    // Those of the same sizes are offered first.
    browser.until("document.querySelector('.which select').selectedOptions[0].innerText.startsWith('D021')").await;
    browser.press("Apply framing").await;
    browser.until("!document.querySelector('.which')").await;
    let own = &server.get("/projects/1/conversions/3/21").await.ok()["choice"]["own"];
    assert_eq!((&own["method"], &own["zoom"]), (&json!("fill"), &json!("1.2")));
    browser.press("Undo").await;
    let start = std::time::Instant::now();
    while !server.get("/projects/1/conversions/3/21").await.ok()["choice"]["own"].is_null() {
        assert!(start.elapsed() < std::time::Duration::from_secs(10), "not undone");
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn the_find_box_answers_questions_too() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.keys("/").await;
    browser.keys("HD into UHD").await;
    browser
        .until("document.querySelector('.found [data-kind=answer]')?.innerText.includes('2x (200 %), 4x the area')")
        .await;
    browser.keys(ENTER).await;
    browser.until("document.querySelector('.asked h2')?.innerText === 'Scale'").await;
    says(&browser, "factor", "2 ×").await;
    // The names of a source and a frame are no question.
    browser.open("/projects/1/board").await;
    browser.says("126 conversions").await;
    browser.keys("/").await;
    browser.keys("furnace headset").await;
    browser.until("document.querySelector('.found')?.innerText.includes('into Headset sphere')").await;
    assert_eq!(browser.run("return document.querySelectorAll('[data-kind=answer]').length").await, json!(0));
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn an_answer_is_there_as_soon_as_it_is_typed() {
    let server = Server::empty();
    let browser = Browser::at(server.url()).await;
    browser.open("/slide-rule").await;
    says(&browser, "frame", "3840×1606").await;
    // From the key to the changed answer, in the page.
    let script = "const done = arguments[0], times = []; const input = [...document.querySelectorAll('.asked .field')]\
        .find(f => f.innerText.startsWith('ratio')).querySelector('input'); \
        const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set; \
        const figure = () => document.querySelector('.lines .main .figure').innerText; \
        const next = n => { if (n === 30) return done(times); const before = figure(), start = performance.now(); \
          set.call(input, (1.4 + n * 0.05).toFixed(2)); input.dispatchEvent(new Event('input', { bubbles: true })); \
          const wait = () => figure() !== before ? (times.push(performance.now() - start), setTimeout(() => next(n + 1), 30)) \
            : performance.now() - start > 3000 ? done(times) : requestAnimationFrame(wait); wait() }; next(0)";
    let times = browser.run_async(script).await;
    let mut times: Vec<f64> = times.as_array().expect("times").iter().filter_map(Value::as_f64).collect();
    assert_eq!(times.len(), 30, "every key brought an answer");
    times.sort_by(f64::total_cmp);
    println!("an answer after a key: {:.0} ms (median), {:.0} ms at most", times[15], times[29]);
    browser.close().await;
}

#[tokio::test]
async fn a_frame_is_seen_on_the_screens_of_those_who_watch_it() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/deliveries?frame=19").await;
    browser.press("On screens").await;
    let shown = "return Object.fromEntries([...document.querySelectorAll('.on-screens li')].map(li => \
                 [li.querySelector('span.num').innerText, li.innerText.replaceAll('\\n', ' ')]))";
    browser.until("document.querySelectorAll('.on-screens li .d-edge, .on-screens li .d-window').length >= 7").await;
    let delivery = json!({ "raster": [1920, 1080], "picture_ratio": "2.00" });
    for (button, show) in [("Shows all", "fit"), ("Fills the screen", "fill")] {
        browser.press(button).await;
        for screen in [[3840, 2160], [4096, 1716], [2340, 1080], [1080, 2340], [1080, 1080]] {
            let request = json!({ "kind": "viewing", "delivery": delivery, "screen": screen, "show": show });
            let viewing = server.post("/calc", &request).await.ok();
            let share = viewing["picture_share"]["value"].as_f64().expect("a share") * 100.0;
            let share = if share == share.round() { format!("{share:.0} %") } else { format!("{share:.1} %") };
            let name = format!("{}×{}", screen[0], screen[1]);
            let start = std::time::Instant::now();
            loop {
                let text = browser.run(shown).await[&name].as_str().unwrap_or_default().to_owned();
                let boxed = text.contains("bars on all four sides");
                if text.contains(&format!("picture on {share}")) && json!(boxed) == viewing["double_boxed"] {
                    break;
                }
                assert!(start.elapsed() < std::time::Duration::from_secs(10), "{name} {show}: {text}, not {share}");
                tokio::time::sleep(std::time::Duration::from_millis(20)).await;
            }
        }
    }
    // A screen of one's own; a bad size says what is right.
    browser.fill("Size of a screen", "1920 by").await;
    browser.keys(ENTER).await;
    browser.says("Must be a size such as 1920x1200").await;
    browser.fill("Size of a screen", "1920x1200").await;
    browser.keys(ENTER).await;
    browser.says("Screen 1920x1200").await;
    browser.client.refresh().await.expect("a reload");
    browser.press("On screens").await;
    browser.says("Screen 1920x1200").await;
    browser.press("Remove Screen 1920x1200").await;
    browser.until("!document.body.innerText.includes('Screen 1920x1200')").await;
    browser.console_is_empty().await;
    browser.close().await;
}
