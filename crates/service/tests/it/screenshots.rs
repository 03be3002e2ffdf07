//! The pictures in `docs/screenshots`, taken from the demo project: `cargo xtask screenshots`.

use std::path::Path;

use crate::support::{Browser, Server};

/// A picture, the address of its view, what it says when it is there, and the light.
const VIEWS: &[(&str, &str, &str, &str)] = &[
    ("projects", "/", "last changed", "light"),
    ("footage", "/projects/1/footage?source=5", "as stored", "light"),
    ("footage-many", "/projects/1/footage", "as stored", "light"),
    ("paste", "/projects/1/footage/paste", "List", "light"),
    ("deliveries", "/projects/1/deliveries?frame=19", "drawn to one scale", "light"),
    ("library", "/projects/1/deliveries/library", "From a clip", "light"),
    ("board", "/projects/1/board", "126 conversions", "light"),
    ("points", "/projects/1/board/points", "What helps", "light"),
    ("framing", "/projects/1/board/1/20", "Circles stay round", "light"),
    ("framing-all-frames", "/projects/1/board/2/20", "Circles stay round", "light"),
    ("read-files", "/projects/1/footage/files", "Files on this computer", "light"),
    ("handoff", "/projects/1/handoff", "Nothing blocks this hand-off", "light"),
    ("ways", "/projects/1/deliveries/ways?source=2", "loses detail", "light"),
    ("proof", "/projects/1/board/10/18/proof", "Same place, pixel by pixel", "light"),
    ("framing-night", "/projects/1/board/5/18", "Circles stay round", "dark"),
    ("sphere", "/projects/1/footage/6/sphere", "sharp up to", "light"),
    ("slide-rule", "/slide-rule?of=squeeze", "6912×2160", "light"),
    ("manual", "/manual#screen/deliveries", "keeps 74.4 %", "light"),
    ("tables", "/tables", "whole cinema container", "light"),
];

/// A list with most of what lists have wrong.
const LIST: &str = "Clip name;Resolution;Anamorphic;FPS;Scan;Comment\n\
    A015_C001;2880x2160;2x;23.98;p;Furnace, second day\nA015_C002;2880×2160;2;23.976;p;\n\
    B004_C001;4608 3164;;24000/1001;;Harbour\nC050;6240x4160;3:2;24;;\nT1988;720x576;;25i;;Ferry, return\n\
    N1995;720x480;;29.97df;i;\nQ001;4K;;25;;a guess\nX001;1920x1080;20;25;;\nX002;thousand;;24;;\n";

/// Headers of footage that is not in the project yet.
const HEADERS: [(&str, &str); 6] = [
    ("A016 Furnace late.y4m", "YUV4MPEG2 W2880 H2160 F24:1 Ip A2:1 C420jpeg\n"),
    ("B005 Harbour dawn.y4m", "YUV4MPEG2 W4608 H3164 F24000:1001 Ip A1:1 C422\n"),
    ("T1988 Ferry return.y4m", "YUV4MPEG2 W720 H576 F25:1 It A12:11 C420mpeg2\n"),
    ("C051 Blowpipe.y4m", "YUV4MPEG2 W3424 H2570 F24:1 Ip A1:1 C444\n"),
    ("R011 Tide screen.y4m", "YUV4MPEG2 W2560 H1440 F60:1 Ip A1:1 C444 XCOLORRANGE=FULL\n"),
    ("call sheet.txt", "Day 3, the kiln\n"),
];

/// What is done on a view before its picture is taken.
async fn prepare(browser: &Browser, name: &str) {
    match name {
        "footage-many" => {
            browser.see("tr[aria-current=true]").await;
            browser.chord('\u{e009}', 'a').await;
            browser.fill("lens squeeze", "2").await;
            browser.says("changes 14").await;
        }
        "paste" => {
            browser.see("textarea").await;
            browser.paste(LIST).await;
            browser.says("All 9").await;
        }
        "proof" => {
            let edge =
                "[...document.querySelectorAll('.readings td')].every((cell) => /\\d|none/.test(cell.innerText))";
            browser.until(edge).await;
            browser.until("!document.body.innerText.includes('Carrying out')").await;
        }
        "framing-all-frames" => {
            browser.keys("a").await;
            browser.says("set on this conversion").await;
            browser.keys("e").await;
            browser.says("in every frame").await;
            browser.press("Remedies").await;
            browser.see(".remedy").await;
        }
        "read-files" => {
            let folder = tempfile::tempdir().expect("a folder");
            let paths = HEADERS.map(|(name, header)| {
                let path = folder.path().join(name);
                std::fs::write(&path, header).expect("written");
                path.display().to_string()
            });
            let input = fantoccini::Locator::Css("[aria-label='Choose files']");
            let input = browser.client.find(input).await.expect("an entry");
            input.send_keys(&paths.join("\n")).await.expect("files");
            browser.says("All 6").await;
            browser.run("document.querySelector('tr[data-line=\"3\"] input').focus()").await;
            browser.says("from A of the stream header").await;
        }
        "sphere" => {
            browser.until("document.querySelectorAll('.sphere image').length === 2").await;
            browser.keys("p").await;
            browser.says("sharp").await;
            browser.painted().await;
        }
        _ => {}
    }
}

#[tokio::test]
#[ignore = "writes pictures; run by cargo xtask screenshots"]
async fn of_the_main_views() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots");
    std::fs::create_dir_all(&folder).expect("a folder");
    for (name, path, says, scheme) in VIEWS {
        browser.by(scheme).await;
        browser.open(path).await;
        browser.says(says).await;
        prepare(&browser, name).await;
        browser.until("document.fonts.status === 'loaded'").await;
        // Two frames later every drawing knows its room.
        browser.run_async("const done = arguments[0]; setTimeout(done, 400)").await;
        let picture = browser.client.screenshot().await.expect("a picture");
        std::fs::write(folder.join(format!("{name}.png")), picture).expect("written");
    }
    browser.close().await;
}
