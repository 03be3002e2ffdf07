//! How the files of frames are made: chosen, edited, taken by many at once, kept in the library, handed over.

use serde_json::{Value, json};

use crate::support::{Browser, Server, comes_to};

async fn file(server: &Server, frame: u32) -> Value {
    server.get(&format!("/projects/1/frames/{frame}")).await.ok()["values"]["file"].clone()
}

#[tokio::test]
async fn a_file_is_chosen_changed_and_left_open() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/deliveries?frame=20").await;
    browser.press("File").await;
    browser.says("Nobody has said how the file of this frame is made").await;
    browser.press("Online").await;
    browser.says("MP4, H.264 High, 8 bit 4:2:0, 12 Mb/s").await;
    browser.says("level needed").await;
    assert_eq!(file(&server, 20).await["average_mbps"], "12");
    // 12 and 0.32 million bits for an hour are 5.544 GB.
    browser.says("5.54 GB").await;
    // Less than the average at most is refused where it stands, and nothing is stored.
    browser.fill("highest bit rate", "5").await;
    browser.keys("\u{e007}").await;
    browser.says("Must be a bit rate over 0 and no less than the average.").await;
    assert_eq!(file(&server, 20).await["highest_mbps"], "18");
    browser.fill("highest bit rate", "30").await;
    browser.keys("\u{e007}").await;
    browser.until("document.querySelector('.file-facts').innerText.includes('4.1')").await;
    comes_to(&json!("30"), async || file(&server, 20).await["highest_mbps"].clone()).await;
    // Another codec takes what of the rest it can; the rest follows.
    browser.field("codec").await.select_by_value("prores").await.expect("a choice");
    browser.until("document.querySelector('.file-facts').innerText.includes('about')").await;
    comes_to(&json!("mov"), async || file(&server, 20).await["container"].clone()).await;
    let prores = file(&server, 20).await;
    assert_eq!(
        (&prores["container"], &prores["depth"], &prores["chroma"]),
        (&json!("mov"), &json!(10), &json!("4:2:2"))
    );
    assert_eq!((&prores["average_mbps"], &prores["sound"]["coding"]), (&Value::Null, &json!("aac")));
    browser.press("Undo").await;
    browser.until("document.querySelector('.file-sheet').innerText.includes('highest bit rate')").await;
    browser.press("Leave it open").await;
    browser.says("Nobody has said how the file of this frame is made").await;
    comes_to(&Value::Null, async || file(&server, 20).await).await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn many_frames_take_a_file_at_once_and_a_level_too_low_is_a_point() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/deliveries").await;
    browser.see(".records, .record-list, [role=grid]").await;
    browser.chord('\u{e009}', 'a').await;
    browser.press("Files").await;
    browser.says("The files of these frames differ").await;
    browser.press("Screening copy").await;
    browser.until("!document.querySelector('.file-sheet').innerText.includes('differ')").await;
    for frame in 17..24 {
        assert_eq!(file(&server, frame).await["codec"], "h265", "frame {frame}");
    }
    browser.field("decoder level").await.select_by_value("4").await.expect("a choice");
    browser.open("/projects/1/board/points").await;
    browser.says("Streaming UHD is over H.265 level 4").await;
    let points = server.get("/projects/1/points").await.ok();
    let over = points["points"].as_array().expect("points").iter().filter(|point| point["code"] == "over_level");
    // ITU-T H.265, Table A.9: level 4 takes 12 Mb/s in the Main tier (from memory), and at most 30 were chosen.
    assert_eq!(over.count(), 7);
    browser.press("Undo").await;
    browser.until("!document.body.innerText.includes('is over H.265')").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn the_interface_refuses_files_that_cannot_be_made() {
    let server = Server::demo();
    let wrong = json!({ "edit": "set_frames", "frames": [18], "set": { "file": {
        "container": "mxf", "codec": "h265", "profile": "main", "depth": 8, "chroma": "4:2:0", "constant_quality": 18,
    } } });
    let problem = server.post("/projects/1/edits", &wrong).await.refusal(422);
    assert_eq!(problem["errors"][0]["pointer"], "/set/file/container");
    assert_eq!(problem["errors"][0]["detail"], "Must be mp4, mov or mkv for H.265.");
    let frame = server.get("/projects/1/frames/18").await.ok();
    let usual = server.post("/shape/frame/files", &frame["values"]).await.ok();
    assert_eq!(usual[0]["title"], "Online");
    // A frame of the library keeps its file, and brings it along.
    let kept = json!({ "group": "House", "frame": frame["values"] });
    server.post("/library/frames", &kept).await.ok();
    let library = server.get("/library").await.ok();
    assert_eq!(library["frames"][0]["values"]["frame"]["file"], frame["values"]["file"]);
}
