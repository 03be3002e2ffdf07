//! Footage read from files: dropped onto the page, out of the media folder, on the command line.

use std::fs;
use std::path::Path;
use std::process::Command;
use std::time::Instant;

use serde_json::{Value, json};

use crate::support::{Browser, Server, program};

const ENTER: &str = "\u{e007}";
const CONTROL: char = '\u{e009}';

fn film(file: &Path, size: &str, rate: &str, more: &[&str]) {
    let chart = format!("testsrc2=size={size}:rate={rate}");
    let status = Command::new("ffmpeg")
        .args(["-v", "error", "-y", "-f", "lavfi", "-i", &chart, "-frames:v", "2"])
        .args(more)
        .arg(file)
        .status()
        .expect("ffmpeg is installed: apt-get install ffmpeg");
    assert!(status.success(), "{}", file.display());
}

/// A folder of footage: a squeezed film, a sequence in a folder, and things that are no footage.
fn shoot() -> tempfile::TempDir {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    fs::create_dir(at("day 1")).expect("a folder");
    film(&at("A014 Furnace.mov"), "960x720", "24000/1001", &["-vf", "setsar=2/1", "-c:v", "prores_ks"]);
    film(&at("B003.mp4"), "1280x960", "25", &["-c:v", "libx264", "-pix_fmt", "yuv420p"]);
    film(&at("day 1/plate.%04d.png"), "640x480", "25", &[]);
    fs::write(at("=cmd.mp4"), "no film at all").expect("a file");
    fs::write(at("cut.mp4"), &fs::read(at("B003.mp4")).expect("a film")[..2000]).expect("a file");
    folder
}

fn states(rows: &Value) -> Vec<(&str, &str)> {
    let text = |value: &'_ Value| -> &str { value.as_str().unwrap_or_default().to_owned().leak() };
    rows.as_array().expect("rows").iter().map(|row| (text(&row["cells"][0]), text(&row["state"]))).collect()
}

#[tokio::test]
async fn the_media_folder_is_looked_into_and_never_out_of() {
    let shoot = shoot();
    let outside = tempfile::tempdir().expect("a folder");
    film(&outside.path().join("secret.mp4"), "320x240", "25", &["-c:v", "libx264", "-pix_fmt", "yuv420p"]);
    #[cfg(unix)]
    {
        std::os::unix::fs::symlink(outside.path(), shoot.path().join("away")).expect("a link");
        std::os::unix::fs::symlink(outside.path().join("secret.mp4"), shoot.path().join("link.mp4")).expect("a link");
    }
    let data = tempfile::tempdir().expect("a folder");
    let media = shoot.path().display().to_string();
    let server = Server::start_on("serve", &data.path().join("a.db"), &["--media", &media]);
    let top = server.get("/media").await.ok();
    assert_eq!(top["folders"], json!(["day 1"]), "a link that leads out is no folder: {top}");
    let below = server.get("/media?folder=day%201").await.ok();
    let clip = json!({ "first": "day 1/plate.0001.png", "name": "day 1/plate.####.png 1-2", "count": 2 });
    assert_eq!(below["clips"], json!([clip]));

    let clips: Vec<Value> = [
        "A014 Furnace.mov",
        "B003.mp4",
        "=cmd.mp4",
        "cut.mp4",
        "link.mp4",
        "away/secret.mp4",
        "../secret.mp4",
        "/etc/passwd",
        "day 1",
        "none.mov",
    ]
    .map(|first| json!({ "first": first }))
    .into();
    let read = server.post("/media/probe", &json!({ "clips": clips })).await.ok();
    let expected = [
        ("A014 Furnace", "good"),
        // Stored 4:3 with square pixels: a lens may have squeezed it.
        ("B003", "doubtful"),
        ("'=cmd", "bad"),
        ("cut", "bad"),
        ("link", "bad"),
        ("secret", "bad"),
        ("secret", "bad"),
        ("passwd", "bad"),
        ("day 1", "bad"),
        ("none", "bad"),
    ];
    assert_eq!(states(&read["rows"]), expected);
    let text = read.to_string();
    assert!(!text.contains("320x240") && text.contains("leads out of the media folder"), "{text}");
    let furnace = &read["rows"][0];
    assert_eq!(furnace["values"]["geometry"]["pixel_aspect"], "2:1");
    let remark = json!({ "column": 2, "state": "good", "text": "from pasp" });
    assert!(furnace["remarks"].as_array().expect("remarks").contains(&remark), "{furnace}");

    for folder in ["..", "away", "/etc", "day%201/..%2F..", "none"] {
        server.get(&format!("/media?folder={folder}")).await.refusal(404);
    }
    server.post("/media/probe", &json!({ "clips": [{ "name": "x" }] })).await.refusal(422);
    let without = Server::empty();
    assert_eq!(without.get("/media").await.ok()["available"], json!(false));
    let none = without.post("/media/probe", &json!({ "clips": [] })).await.refusal(404);
    assert_eq!(none["type"], "urn:ratiomet:problem:no_media");
}

#[tokio::test]
async fn slices_that_do_not_fit_are_refused() {
    let server = Server::empty();
    let send = async |query: &str, body: &str| {
        let request = server.request(http::Method::POST, &format!("/probe?{query}"));
        server.send(request.header("content-type", "application/octet-stream"), body).await
    };
    let line = "YUV4MPEG2 W720 H576 F25:1 A12:11\n";
    let read = send("name=a.y4m&length=33&slices=0:33", line).await.ok();
    assert_eq!(read["reading"]["rows"][0]["values"]["geometry"]["pixel_aspect"], "12:11");
    let more = send("name=a.y4m&length=33&slices=0:20", &line[..20]).await.ok();
    assert!(more["needs"].is_array() && more["reading"].is_null(), "{more}");
    for slices in ["0:99", "0:20", "0:33,0:1", "x", "0", "9:33", "18446744073709551615:33", "-1:33"] {
        send(&format!("name=a.y4m&length=33&slices={slices}"), line).await.refusal(422);
    }
}

#[tokio::test]
async fn files_are_chosen_looked_at_mended_and_added() {
    let shoot = shoot();
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage").await;
    browser.press("Read files").await;
    browser.says("This server has no media folder.").await;
    let names = ["A014 Furnace.mov", "B003.mp4", "=cmd.mp4", "cut.mp4", "day 1/plate.0001.png", "day 1/plate.0002.png"];
    let paths: Vec<String> = names.iter().map(|name| shoot.path().join(name).display().to_string()).collect();
    let input = browser.client.find(fantoccini::Locator::Css("[aria-label='Choose files']")).await.expect("an entry");
    input.send_keys(&paths.join("\n")).await.expect("files");
    browser.says("All 5").await;
    browser.says("2 not understood").await;
    browser.says("this format is not read").await;
    // Where a value stands is told of the row that is looked at.
    let cell = browser.see("[aria-label='pixel aspect in line 1']").await;
    cell.click().await.expect("the cell");
    browser.says("from pasp").await;
    // The lens is a suggestion until somebody types it.
    let cell = browser.see("[aria-label='squeeze in line 2']").await;
    cell.click().await.expect("the cell");
    browser.says("If it is anamorphic, enter the squeeze (2 would show 2.67)").await;
    browser.chord(CONTROL, 'a').await;
    browser.keys(&format!("1.8{ENTER}")).await;
    browser.says("1280×960 · 1.8× · 25 fps").await;
    browser.says("from the sample entry").await;
    // The file that is no film is described by hand.
    let cell = browser.see("[aria-label='stored size in line 4']").await;
    cell.click().await.expect("the cell");
    browser.keys(&format!("1280x960{ENTER}")).await;
    browser.says("1 not understood").await;
    browser.press("Add 4 sources").await;
    // What is not understood is left.
    browser.says("All 1").await;
    let board = server.get("/projects/1/board").await.ok();
    let sources = board["sources"].as_array().expect("sources");
    let of = |name: &str| {
        let found = sources.iter().find(|source| source["values"]["name"] == name);
        found.unwrap_or_else(|| panic!("{name} is not there"))["values"].clone()
    };
    assert_eq!(of("A014 Furnace")["rate"], "24000/1001");
    assert_eq!(of("B003")["geometry"]["squeeze"], "1.8");
    assert_eq!(of("plate.#### 1-2")["geometry"]["raster"], json!([640, 480]));
    browser.console_is_empty().await;
    browser.close().await;
}

// A vast file with its index at the end: only slices travel, and at once.
#[tokio::test]
async fn a_vast_file_is_read_in_the_browser_by_slices() {
    let shoot = shoot();
    let small = fs::read(shoot.path().join("B003.mp4")).expect("a film");
    let place = |kind: &[u8]| small.windows(4).position(|four| four == kind).expect("a box") - 4;
    let (mdat, moov) = (place(b"mdat"), place(b"moov"));
    let vast: u64 = 20 << 30;
    let path = shoot.path().join("vast.mp4");
    {
        use std::io::{Seek, SeekFrom, Write};
        let mut file = fs::File::create(&path).expect("a file");
        file.write_all(&small[..mdat]).expect("written");
        file.write_all(&[&1_u32.to_be_bytes()[..], b"mdat", &vast.to_be_bytes()].concat()).expect("written");
        file.seek(SeekFrom::Start(mdat as u64 + vast)).expect("sparse");
        file.write_all(&small[moov..]).expect("written");
    }
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage/files").await;
    browser.says("Files on this computer").await;
    // Every body that is sent, slices that are sent again counted again.
    let count = "window.sent = 0; const Plain = Blob; window.Blob = function (parts, options) { \
                 const blob = new Plain(parts, options); window.sent += blob.size; return blob; };";
    browser.run(count).await;
    let input = browser.client.find(fantoccini::Locator::Css("[aria-label='Choose files']")).await.expect("an entry");
    let start = Instant::now();
    input.send_keys(&path.display().to_string()).await.expect("a file");
    browser.says("1280×960").await;
    let took = start.elapsed();
    let sent = browser.run("return window.sent").await.as_u64().expect("bytes");
    assert!((65_536..4 << 20).contains(&sent), "{sent} bytes of 20 GB were sent");
    println!("a 20 GB file with its index at the end: {sent} bytes sent, read in {} ms", took.as_millis());
    browser.console_is_empty().await;
    browser.close().await;
}

#[test]
fn the_command_line_tells_what_files_say_and_where() {
    let shoot = shoot();
    let probe = |arguments: &[&str]| {
        program().arg("probe").args(arguments).current_dir(shoot.path()).output().expect("it runs")
    };
    let good = probe(&["A014 Furnace.mov", "day 1/plate.0002.png", "day 1/plate.0001.png"]);
    let text = String::from_utf8(good.stdout).expect("UTF-8");
    assert_eq!(good.status.code(), Some(0), "{text}");
    assert!(text.contains("pixel aspect  2:1   (pasp)\n"), "{text}");
    assert!(text.contains("plate.####.png 1-2\n"), "{text}");
    let mixed = probe(&["--json", "cut.mp4", "B003.mp4", "none.mov"]);
    assert_eq!(mixed.status.code(), Some(1));
    let lines: Vec<Value> = String::from_utf8(mixed.stdout)
        .expect("UTF-8")
        .lines()
        .map(|line| serde_json::from_str(line).expect("JSON"))
        .collect();
    let states: Vec<_> = lines.iter().map(|line| line["row"]["state"].as_str().expect("a state")).collect();
    assert_eq!(states, ["bad", "doubtful", "bad"]);
    // A name cannot steer the terminal.
    let steering = probe(&["\u{1b}[31mred.mov"]);
    assert!(!steering.stdout.contains(&0x1b));
    assert_eq!(probe(&[]).status.code(), Some(2));
}

/// A pipe to which nobody writes is no footage, and nothing waits for it.
#[test]
fn a_pipe_is_told_apart_from_a_file_at_once() {
    let folder = tempfile::tempdir().expect("a folder");
    let pipe = folder.path().join("A001.mov");
    assert!(Command::new("mkfifo").arg(&pipe).status().expect("mkfifo").success());
    let mut probe = program().arg("probe").arg(&pipe).stdout(std::process::Stdio::null()).spawn().expect("it runs");
    let start = Instant::now();
    let code = loop {
        if let Some(status) = probe.try_wait().expect("a child") {
            break status.code();
        }
        if start.elapsed().as_secs() > 20 {
            probe.kill().expect("stopped");
            panic!("it still waits for the pipe");
        }
        std::thread::sleep(std::time::Duration::from_millis(20));
    };
    assert_eq!(code, Some(1));
}

/// What a file is called is for the system to say: it is read all the same.
#[cfg(unix)]
#[test]
fn a_name_that_is_not_utf_8_is_read() {
    use std::os::unix::ffi::OsStrExt;
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join(std::ffi::OsStr::from_bytes(b"M\xFCller.y4m"));
    fs::write(&file, "YUV4MPEG2 W1920 H1080 F25:1 A1:1\nFRAME\n").expect("written");
    let output = program().arg("probe").arg(&file).output().expect("it runs");
    let text = String::from_utf8(output.stdout).expect("UTF-8");
    assert_eq!(output.status.code(), Some(0), "{text}");
    assert!(text.contains("1920x1080"), "{text}");
}

// A framing list from set, dropped: its clip, its frame and its framing come as one step, and what it does not say is
// asked once.
#[tokio::test]
async fn a_framing_list_is_dropped_and_what_it_leaves_unsaid_is_settled() {
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let list = json!({
        "contexts": [{ "clip_id": { "clip_name": "C061 Salt pans" }, "canvases": [{
            "id": "c", "dimensions": { "width": 4448, "height": 3096 },
            "framing_decisions": [{ "framing_intent_id": "s", "dimensions": { "width": 4000, "height": 1674 },
                                    "anchor_point": { "x": 124, "y": 700 } }],
        }] }],
        "framing_intents": [{ "id": "s", "label": "Set scope", "aspect_ratio": { "width": 4000, "height": 1674 } }],
    });
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage/files").await;
    browser.says("Drop files or folders here").await;
    let drop = "const drop = new DataTransfer(); drop.items.add(new File([LIST], 'set.fdl')); \
                document.querySelector('.drop-files').dispatchEvent(new DragEvent('drop', { dataTransfer: drop, bubbles: true }))";
    browser.run(&drop.replace("LIST", &json!(list.to_string()).to_string())).await;
    browser.says("The list also has 1 frame: Set scope").await;
    browser.press("Add 1 source and 1 framing").await;
    browser.says("Import 1 source, 1 frame, 1 framing.").await;
    let board = server.get("/projects/1/board").await.ok();
    let (source, frame) = (&board["sources"][0]["id"], &board["frames"][0]["id"]);
    let conversion = server.get(&format!("/projects/1/conversions/{source}/{frame}")).await.ok();
    let [x, y] = ["x", "y"].map(|axis| conversion["plan"]["window"][axis]["value"].as_f64().expect("a number"));
    assert!((x - 124.0).abs() < 0.1 && (y - 700.0).abs() < 0.1, "{conversion}");
    assert_eq!(conversion["choice"]["imported"], conversion["choice"]["own"], "{conversion}");
    // Moved by hand, the board tells how far from set it is, and its framing is still there to go back to.
    browser.open("/projects/1/board").await;
    browser.see(".cell[aria-label$='as imported']").await;
    let mut moved = conversion["choice"]["own"].clone();
    let shift = |at: usize| moved["shift"][at].as_str().map(str::to_owned).unwrap_or_default();
    let [x, y] = [shift(0), shift(1)];
    moved["shift"] = json!([format!("{}", x.parse::<f64>().unwrap_or(0.0) + 12.0), y]);
    let path = format!("/projects/1/conversions/{source}/{frame}");
    let version = conversion["version"].as_i64().expect("a version");
    let now = server.put(&path, version, &json!({ "own": moved })).await.ok();
    assert!((now["crossing"]["imported"]["moved"][0].as_f64().expect("pixels") - 12.0).abs() < 0.01, "{now}");
    browser.open("/projects/1/board").await;
    browser.see(".cell[aria-label*='12 right of the imported framing']").await;
    browser.field("not as imported").await.click().await.expect("a filter");
    browser.see(".cell[data-faded=false]").await;
    browser.open(&format!("/projects/1/board/{source}/{frame}")).await;
    browser.press("Imported").await;
    // The list comes again, and stores the clip at another size: nothing is doubled, and both go together or neither.
    let mut again = list.clone();
    let canvas = &mut again["contexts"][0]["canvases"][0];
    canvas["dimensions"]["height"] = json!(2502);
    canvas["framing_decisions"][0]["anchor_point"]["y"] = json!(400);
    for update in [false, true] {
        browser.open("/projects/1/footage/files").await;
        browser.says("Drop files or folders here").await;
        browser.run(&drop.replace("LIST", &json!(again.to_string()).to_string())).await;
        browser.says("1 clip of the project is stored otherwise now.").await;
        browser.says("raster 4448x3096 to 4448x2502").await;
        if update {
            browser.field("update it too").await.click().await.expect("a choice");
        }
        browser.press("Add 1 framing").await;
        browser.says(if update { "Import 1 framing; update 1 source from files." } else { "1 framing left out" }).await;
    }
    let board = server.get("/projects/1/board").await.ok();
    assert_eq!(board["sources"].as_array().map(Vec::len), Some(1), "{board}");
    let conversion = server.get(&path).await.ok();
    let y = conversion["plan"]["window"]["y"]["value"].as_f64().expect("a number");
    assert!((y - 400.0).abs() < 0.1, "{conversion}");
    browser.open("/projects/1/board").await;
    browser.open("/projects/1/board/points").await;
    browser.says("Scan unknown: 1 clip").await;
    browser.run("[...document.querySelectorAll('main *')].find((each) => each.children.length === 0 && each.textContent.startsWith('Scan unknown')).click()").await;
    browser.says("Set to progressive").await;
    browser.run("[...document.querySelectorAll('main button')].find((each) => each.textContent === 'Apply' && each.closest('li, div')?.textContent.includes('Set to progressive')).click()").await;
    browser.until("!document.body.innerText.includes('Scan unknown')").await;
    let source = server.get("/projects/1/board").await.ok()["sources"][0].clone();
    assert_eq!(source["values"]["scan"], "progressive");
    assert_eq!(source["values"]["signal_range"], Value::Null);
    // Where it was read stands on its sheet.
    browser.open(&format!("/projects/1/footage?source={}", source["id"])).await;
    browser.says("Read from set.fdl").await;
    browser.console_is_empty().await;
    browser.close().await;
}

// The second week: the same folder again. What is stored otherwise now is told, what was typed over stays, and one step
// takes the rest.
#[tokio::test]
async fn a_folder_that_is_read_again_tells_what_has_changed() {
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let browser = Browser::at(server.url()).await;
    let dropped = async |files: &[(&str, &str)]| {
        browser.open("/projects/1/footage/files").await;
        browser.says("Drop files or folders here").await;
        let files: Vec<_> = files.iter().map(|(name, head)| json!([format!("{name}.y4m"), head])).collect();
        let drop = "const drop = new DataTransfer(); \
                    for (const [name, head] of FILES) drop.items.add(new File([`YUV4MPEG2 ${head}\\n`], name)); \
                    document.querySelector('.drop-files').dispatchEvent(new DragEvent('drop', { dataTransfer: drop, bubbles: true }))";
        browser.run(&drop.replace("FILES", &json!(files).to_string())).await;
    };
    dropped(&[("A001", "W1920 H1080 F25:1 Ip A1:1"), ("A002", "W1280 H720 F25:1 Ip A1:1")]).await;
    browser.press("Add 2 sources").await;
    browser.until("location.pathname.endsWith('/footage')").await;
    let board = server.get("/projects/1/board").await.ok();
    // Files are read side by side: the order in which they are added is not always theirs.
    let named = |source: &&Value| source["values"]["name"].as_str().is_some_and(|name| name.starts_with("A001"));
    let first = &board["sources"].as_array().and_then(|all| all.iter().find(named)).expect("A001")["id"];
    let path = format!("/projects/1/sources/{first}");
    let typed = json!({ "edit": "set_sources", "sources": [first], "set": { "rate": "24" } });
    server.post("/projects/1/edits", &typed).await.ok();
    dropped(&[
        ("A001", "W3840 H2160 F50:1 Ip A1:1"),
        ("A002", "W1280 H720 F25:1 Ip A1:1"),
        ("A003", "W720 H576 F25:1 Ip A12:11"),
    ])
    .await;
    browser.says("1 clip of the project is stored otherwise now.").await;
    browser.says("raster 1920x1080 to 3840x2160").await;
    browser.says("rate 24 to 50, typed over since: it stays").await;
    // Only the clip that is new would be added, unless it is said that the others are others.
    browser.says("Add 1 source").await;
    browser.press("Update 1 source").await;
    browser.says("Update 1 source from files").await;
    let source = server.get(&path).await.ok();
    assert_eq!(source["values"]["geometry"]["raster"], json!([3840, 2160]));
    assert_eq!(source["values"]["rate"], "24");
    // What is new is still there to be added, and all of it can be undone in one step.
    browser.says("Add 1 source").await;
    browser.press("Undo").await;
    browser.says("Undone").await;
    let source = server.get(&path).await.ok();
    assert_eq!(source["values"]["geometry"]["raster"], json!([1920, 1080]));
    browser.press("Add 1 source").await;
    browser.until("location.pathname.endsWith('/footage')").await;
    let names = async || -> Vec<String> {
        let board = server.get("/projects/1/board").await.ok();
        let sources = board["sources"].as_array().cloned().unwrap_or_default();
        let mut names: Vec<_> =
            sources.iter().filter_map(|each| Some(each["values"]["name"].as_str()?.to_owned())).collect();
        names.sort();
        names
    };
    assert_eq!(names().await, ["A001", "A002", "A003"]);
    // Another clip of a name that exists comes in when that is said.
    dropped(&[("A002", "W640 H360 F25:1 Ip A1:1")]).await;
    browser
        .until("[...document.querySelectorAll('button')].some(b => b.innerText === 'Add 0 sources' && b.disabled)")
        .await;
    browser.run("document.getElementById('with-known').click()").await;
    browser.press("Add 1 source").await;
    browser.until("location.pathname.endsWith('/footage')").await;
    assert_eq!(names().await, ["A001", "A002", "A002", "A003"]);
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn files_are_dropped_onto_the_page_and_reading_can_be_stopped() {
    let server = Server::empty();
    server.post("/projects", &json!({ "name": "Bin" })).await.ok();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage/files").await;
    browser.says("Drop files or folders here").await;
    // What a hand drops, made by the page itself.
    let drop = "const drop = new DataTransfer(); for (let n = 0; n < COUNT; n++) \
                drop.items.add(new File([`YUV4MPEG2 W1920 H1080 F25:1 A1:1 X${n}\\n`], `D${n}.y4m`)); \
                document.querySelector('.drop-files').dispatchEvent(new DragEvent('drop', { dataTransfer: drop, bubbles: true }))";
    browser.run(&drop.replace("COUNT", "3")).await;
    browser.says("All 3").await;
    browser.says("3 understood").await;
    browser.press("Other files").await;
    browser.says("Drop files or folders here").await;
    browser.run(&drop.replace("COUNT", "900")).await;
    browser.see(".reading-progress progress").await;
    browser.press("Stop").await;
    browser.until("!document.querySelector('.reading-progress')").await;
    // What was read until then is there, and can be added.
    let some = "const all = document.querySelector('.page-head button')?.innerText ?? ''; return Number(all.replace(/\\D/g, ''))";
    let read = browser.run(some).await.as_u64().expect("a number");
    assert!(read < 900, "{read}");
    // Nothing in it at all.
    browser.open("/projects/1/footage/files").await;
    browser.says("Drop files or folders here").await;
    browser.run(&drop.replace("COUNT", "0")).await;
    browser.says("There are no files in it.").await;
    browser.console_is_empty().await;
    browser.close().await;
}
