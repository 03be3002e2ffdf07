//! Frames of movies as stills: opened in the browser, or taken by ffmpeg out of the media folder; projects with their stills.

use std::path::Path;
use std::process::Command;

use http::Method;
use serde_json::{Value, json};

use crate::support::{Browser, Server};

/// A movie of 48 frames at 24 a second, each of one shade of gray: frame n has the code value 2 n + 40.
fn movie(file: &Path, coder: &[&str]) {
    let made = Command::new("ffmpeg")
        .args(["-v", "error", "-y", "-f", "lavfi", "-i", "color=black:s=320x180:r=24:d=2,format=gray,geq=lum=2*N+40"])
        .args(coder)
        .arg(file)
        .status();
    assert!(made.expect("ffmpeg is installed").success());
}

/// The middle sample of a source's picture as it is stored.
async fn shade(server: &Server, source: &str) -> u8 {
    let answer = server.get(&format!("{source}/picture?of=stored&form=png&side=320")).await;
    assert!(answer.status.is_success() && answer.kind == "image/png", "{answer:?}");
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("picture.png");
    std::fs::write(&file, &answer.bytes).expect("written");
    let output = Command::new("ffmpeg")
        .args(["-v", "error", "-i"])
        .arg(&file)
        .args(["-vf", "format=rgb24,crop=1:1:100:90", "-f", "rawvideo", "-"])
        .output()
        .expect("ffmpeg is installed");
    *output.stdout.first().expect("a sample")
}

async fn camera(server: &Server, geometry: Value) -> (String, String) {
    let project = server.post("/projects", &json!({ "name": "Movies" })).await.ok()["id"].to_string();
    let base = format!("/projects/{project}");
    let values = json!({ "name": "A001", "geometry": geometry, "rate": "24" });
    let source = server.post(&format!("{base}/sources"), &values).await.ok()["id"].to_string();
    (base.clone(), format!("{base}/sources/{source}"))
}

#[tokio::test]
async fn an_exact_frame_is_taken_out_of_the_media_folder() {
    let folder = tempfile::tempdir().expect("a folder");
    let media = folder.path().join("media");
    std::fs::create_dir(&media).expect("a folder");
    movie(&media.join("A001 $(x).mkv"), &["-c:v", "ffv1", "-pix_fmt", "gray"]);
    std::fs::write(media.join("words.txt"), "no movie").expect("written");
    movie(&media.join("frame_0001.png"), &["-frames:v", "1"]);
    let arguments = ["--media", media.to_str().expect("a plain name")];
    let server = Server::start_on("serve", &folder.path().join("data.db"), &arguments);
    let (_, source) = camera(&server, json!({ "raster": [320, 180] })).await;
    let take = |path: &str, at: &str| {
        let (server, source, body) = (&server, &source, json!({ "path": path, "at": at }));
        async move { server.post(&format!("{source}/still/media"), &body).await }
    };
    // By timecode the frame of that number, by seconds the one that is there.
    for (at, frame) in [("00:00:00:00", 0_u8), ("00:00:00:07", 7), ("00:00:01:23", 47), ("0.5", 12)] {
        let taken = take("A001 $(x).mkv", at).await.ok();
        assert_eq!(taken["values"]["still"]["file"], format!("A001 $(x).mkv at {at}"));
        assert_eq!(taken["values"]["still"]["raster"], json!([320, 180]));
        assert_eq!(shade(&server, &source).await, 2 * frame + 40, "{at}");
    }
    // A picture of the folder, such as one of a sequence, is kept as it is.
    let taken = take("frame_0001.png", "0").await.ok();
    assert_eq!(taken["values"]["still"]["file"], "frame_0001.png");
    for (path, at, pointer) in [
        ("A001 $(x).mkv", "00:00:00:24", "/at"),
        ("A001 $(x).mkv", "noon", "/at"),
        ("../data.db", "0", "/path"),
        ("nowhere.mov", "0", "/path"),
        ("", "0", "/path"),
    ] {
        let refused = take(path, at).await.refusal(422);
        assert_eq!(refused["errors"][0]["pointer"], pointer, "{refused}");
    }
    let beyond = take("A001 $(x).mkv", "00:01:00:00").await.refusal(422);
    assert!(beyond["detail"].as_str().is_some_and(|why| why.contains("no frame there")), "{beyond}");
    let words = take("words.txt", "0").await.refusal(422);
    assert!(words["detail"].as_str().is_some_and(|why| why.starts_with("ffmpeg does not read it")), "{words}");
    let bare = Server::empty();
    let (_, lonely) = camera(&bare, json!({ "raster": [320, 180] })).await;
    bare.post(&format!("{lonely}/still/media"), &json!({ "path": "a.mov" })).await.refusal(404);
}

#[tokio::test]
async fn a_movie_is_opened_in_the_browser_and_a_frame_of_it_used() {
    let server = Server::empty();
    let folder = tempfile::tempdir().expect("a folder");
    // Squeezed and lying: what the browser shows is brought back to how the source is stored.
    let (base, source) = camera(&server, json!({ "raster": [180, 240], "rotation": 90, "squeeze": "1" })).await;
    let file = folder.path().join("clip.webm");
    movie(&file, &["-c:v", "libvpx", "-b:v", "2M", "-pix_fmt", "yuv420p"]);
    let browser = Browser::at(server.url()).await;
    browser.open(&format!("{base}/footage?source={}", source.rsplit('/').next().expect("a number"))).await;
    let file = file.to_str().expect("a plain name").to_owned();
    browser.see("input[aria-label='Choose a still']").await.send_keys(&file).await.expect("chosen");
    browser.says("Eight bit, as the browser shows it, brought back to 180×240 as stored.").await;
    browser.until("!document.querySelector('[aria-label=Moment]').disabled").await;
    browser
        .run(
            "const at = document.querySelector('[aria-label=Moment]');\
             Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(at, '1');\
             at.dispatchEvent(new Event('input', { bubbles: true }));",
        )
        .await;
    browser.says("1.000 s").await;
    browser
        .until("!document.querySelector('video').seeking && document.querySelector('video').currentTime > 0.9")
        .await;
    browser.press("Use this frame").await;
    // Not while it is read yet.
    browser.until("/^clip.webm at 1.000 s.png/m.test(document.querySelector('main').innerText)").await;
    let values = server.get(&source).await.ok()["values"]["still"].clone();
    assert_eq!(values["raster"], json!([180, 240]));
    // One that does not play says what to do.
    let broken = folder.path().join("broken.webm");
    std::fs::write(&broken, "no movie").expect("written");
    let broken = broken.to_str().expect("a plain name").to_owned();
    browser.see("input[aria-label='Choose a still']").await.send_keys(&broken).await.expect("chosen");
    browser.says("broken.webm does not play in this browser.").await;
    browser.press("Close").await;
    browser.close().await;
}

#[tokio::test]
async fn a_frame_of_a_movie_is_put_on_a_sphere() {
    let server = Server::empty();
    let folder = tempfile::tempdir().expect("a folder");
    let project = server.post("/projects", &json!({ "name": "Walk" })).await.ok()["id"].to_string();
    let base = format!("/projects/{project}");
    let sphere = json!({
        "name": "S002", "geometry": { "raster": [640, 320] }, "projection": "sphere", "still": { "scene": "kiln" },
    });
    let source = server.post(&format!("{base}/sources"), &sphere).await.ok()["id"].clone();
    let file = folder.path().join("clip.webm");
    movie(&file, &["-c:v", "libvpx", "-b:v", "2M", "-pix_fmt", "yuv420p"]);
    let browser = Browser::at(server.url()).await;
    browser.open(&format!("{base}/footage/{source}/sphere")).await;
    browser.until("document.querySelectorAll('.sphere image').length === 2").await;
    browser.keys("p").await;
    let file = file.to_str().expect("a plain name").to_owned();
    browser.see("input[aria-label='A picture for the sphere']").await.send_keys(&file).await.expect("chosen");
    browser.says("Eight bit, as the browser shows it.").await;
    browser.until("!document.querySelector('[aria-label=Moment]').disabled").await;
    browser.press("Use this frame").await;
    browser.says("clip.webm at 0.000 s.png").await;
    let stands = server.get(&format!("{base}/sources/{source}")).await.ok()["values"]["on_sphere"].clone();
    assert_eq!((stands[0]["raster"].clone(), stands[0]["width"].clone()), (json!([320, 180]), json!("40")), "{stands}");
    // One key takes it back.
    browser.run("document.activeElement.blur()").await;
    browser.keys("u").await;
    browser.says("is put where the view looks").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn a_project_goes_elsewhere_with_its_stills() {
    let server = Server::empty();
    let (base, source) = camera(&server, json!({ "raster": [320, 180] })).await;
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("still.png");
    movie(&file, &["-frames:v", "1"]);
    let request = server.request(Method::POST, &format!("{source}/still?file=still.png"));
    let bytes = std::fs::read(&file).expect("a picture");
    server.try_send_bytes(request, bytes.into()).await.expect("an answer").ok();
    let archive = server.get(&format!("{base}/archive")).await;
    assert_eq!(archive.kind, "application/zip");
    // Another house, which has never seen the still.
    let other = Server::empty();
    let send = |bytes: Vec<u8>| {
        let request = other.request(Method::POST, "/projects/import/archive");
        let other = &*other;
        async move { other.try_send_bytes(request, bytes.into()).await.expect("an answer") }
    };
    let imported = send(archive.bytes.to_vec()).await;
    assert_eq!(imported.status.as_u16(), 201);
    let project = imported.ok()["id"].to_string();
    let board = other.get(&format!("/projects/{project}/board")).await.ok();
    let there = format!("/projects/{project}/sources/{}", board["sources"][0]["id"]);
    assert_eq!(shade(&other, &there).await, 40);
    for (bytes, why) in [
        (b"PK no".to_vec(), "this is no archive of a project"),
        (archive.bytes[..archive.bytes.len() / 2].to_vec(), "this is no archive of a project"),
    ] {
        let refused = send(bytes).await.refusal(422);
        assert!(refused["detail"].as_str().is_some_and(|said| said.starts_with(why)), "{refused}");
    }
}

#[tokio::test]
async fn stills_of_earlier_versions_are_found_and_each_file_has_its_own() {
    let folder = tempfile::tempdir().expect("a folder");
    let picture = folder.path().join("still.png");
    movie(&picture, &["-frames:v", "1"]);
    let picture = std::fs::read(&picture).expect("a picture");
    let start = |name: &str| Server::start_on("serve", &folder.path().join(name), &[]);
    let server = start("data.db");
    let (_, source) = camera(&server, json!({ "raster": [320, 180] })).await;
    let request = server.request(Method::POST, &format!("{source}/still?file=still.png"));
    server.try_send_bytes(request, picture.into()).await.expect("an answer").ok();
    drop(server);
    assert!(folder.path().join("data.db.stills").is_dir(), "beside the file, under its whole name");
    // As the first versions named it.
    std::fs::rename(folder.path().join("data.db.stills"), folder.path().join("data.stills")).expect("renamed");
    let server = start("data.db");
    assert_eq!(shade(&server, &source).await, 40);
}
