//! The pictures in `docs/screenshots`, taken from the demo project: `cargo xtask screenshots`.

use std::path::Path;

use serde_json::json;

use crate::support::{Browser, Server};

const VIEWS: &[(&str, &str, &str, &str)] = &[
    ("projects", "/", "last changed", "light"),
    ("footage", "/projects/1/footage?source=5", "as stored", "light"),
    ("deliveries", "/projects/1/deliveries?frame=19", "at one scale", "light"),
    ("new-frame", "/projects/1/deliveries?frame=new", "Add the frame", "light"),
    ("board", "/projects/1/board", "112 conversions", "light"),
    ("framing", "/projects/1/board/1/20", "Circles stay round", "light"),
    ("framing-night", "/projects/1/board/5/18", "Circles stay round", "dark"),
    ("about", "/about", "Packages", "light"),
];

#[tokio::test]
#[ignore = "writes pictures; run by cargo xtask screenshots"]
async fn of_the_main_views() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots");
    std::fs::create_dir_all(&folder).expect("a folder");
    for (name, path, says, scheme) in VIEWS {
        let media = json!({ "features": [{ "name": "prefers-color-scheme", "value": scheme }] });
        browser.devtools("Emulation.setEmulatedMedia", media).await;
        browser.open(path).await;
        browser.says(says).await;
        if *name == "new-frame" {
            browser.press("By ratio out of a container").await;
            browser.press("Take 3840 by 1606").await;
        }
        browser.until("document.fonts.status === 'loaded'").await;
        // Two frames later every drawing knows its room.
        browser.run_async("const done = arguments[0]; setTimeout(done, 400)").await;
        let picture = browser.client.screenshot().await.expect("a picture");
        std::fs::write(folder.join(format!("{name}.png")), picture).expect("written");
    }
    browser.close().await;
}
