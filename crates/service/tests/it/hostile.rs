//! What strangers send: it does not unfold in memory, and does not keep others waiting.

use std::io::{ErrorKind, Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Command, Output, Stdio};
use std::time::{Duration, Instant};

use serde_json::json;

use crate::support::{Server, program};

/// The program with no more than so much memory for all that it maps.
fn confined(megabytes: u32, arguments: &[&str], file: &Path) -> Output {
    Command::new("sh")
        .arg("-c")
        .arg(format!("ulimit -v {}; exec \"$@\"", u64::from(megabytes) * 1024))
        .arg("sh")
        .arg(program().get_program())
        .args(arguments)
        .arg(file)
        .output()
        .expect("sh runs")
}

/// A file that a script of Python writes to the path that it is given.
fn written_by(script: &str, file: &Path) {
    let written = Command::new("python3").args(["-c", script]).arg(file).status().expect("python3 is installed");
    assert!(written.success());
}

/// A picture whose text unfolds to 1 GB.
const UNFOLDING: &str = r"
import struct, sys, zlib
chunk = lambda kind, data: struct.pack('>I', len(data)) + kind + data + struct.pack('>I', zlib.crc32(kind + data))
packer, packed = zlib.compressobj(9), b''
for _ in range(1024): packed += packer.compress(bytes(1 << 20))
packed += packer.flush()
head = struct.pack('>IIBBBBB', 64, 64, 8, 2, 0, 0, 0)
open(sys.argv[1], 'wb').write(b'\x89PNG\r\n\x1a\n' + chunk(b'IHDR', head) +
    chunk(b'iTXt', b'XML:com.adobe.xmp\0\1\0\0\0' + packed) +
    chunk(b'IDAT', zlib.compress(bytes(64 * 193))) + chunk(b'IEND', b''))
";

/// A picture of half floats with 200,000 attributes.
const MANY_ATTRIBUTES: &str = r"
import struct, sys
attribute = lambda name, kind, value: name + b'\0' + kind + b'\0' + struct.pack('<I', len(value)) + value
box = struct.pack('<iiii', 0, 0, 1, 0)
file = struct.pack('<II', 20000630, 2)
file += attribute(b'channels', b'chlist', b'Y\0' + struct.pack('<IBxxxII', 1, 0, 1, 1) + b'\0')
file += attribute(b'compression', b'compression', b'\0') + attribute(b'lineOrder', b'lineOrder', b'\0')
file += attribute(b'dataWindow', b'box2i', box) + attribute(b'displayWindow', b'box2i', box)
file += attribute(b'pixelAspectRatio', b'float', struct.pack('<f', 1))
file += attribute(b'screenWindowCenter', b'v2f', bytes(8)) + attribute(b'screenWindowWidth', b'float', struct.pack('<f', 1))
file += b''.join(attribute(b'a%06d' % at, b'int', bytes(4)) for at in range(int(sys.argv[2])))
file += b'\0'
file += struct.pack('<Q', len(file) + 8) + struct.pack('<iI', 0, 4) + bytes(4)
open(sys.argv[1], 'wb').write(file)
";

#[test]
fn headers_do_not_unfold() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("unfolding.png");
    written_by(UNFOLDING, &file);
    let output = confined(600, &["probe"], &file);
    let said = String::from_utf8_lossy(&output.stdout).into_owned();
    assert!(said.contains("64x64") && said.contains("unfolds to more than 1 MB"), "{said} {output:?}");
    let many = folder.path().join("many.exr");
    for (count, read) in [(4, true), (200_000, false)] {
        let made = Command::new("python3").args(["-c", MANY_ATTRIBUTES]).arg(&many).arg(count.to_string()).status();
        assert!(made.expect("python3 is installed").success());
        let output = confined(600, &["probe"], &many);
        let said = String::from_utf8_lossy(&output.stdout).into_owned();
        assert_eq!(said.contains("2x1"), read, "{count}: {said} {output:?}");
        assert_eq!(said.contains("more than 4096 attributes"), !read, "{count}: {said}");
    }
}

/// The most memory that a server has had so far, in MB, as the system counts it.
fn peak(server: &Server) -> u64 {
    let status = std::fs::read_to_string(format!("/proc/{}/status", server.id())).expect("it runs");
    let line = status.lines().find(|line| line.starts_with("VmHWM:")).expect("a peak");
    line.split_whitespace().nth(1).expect("a number").parse::<u64>().expect("a number") / 1024
}

#[tokio::test]
async fn bodies_are_counted_before_anything_is_made_of_them() {
    let server = Server::demo();
    let zeros = format!("[{}0]", "0,".repeat(6_000_000));
    let text = |text: String| json!({ "text": text }).to_string();
    let project =
        format!(r#"{{"format":"ratiomet project","format_version":1,"project":{{"name":"A"}},"sources":{zeros}}}"#);
    let library = format!(r#"{{"format":"ratiomet library","format_version":1,"frames":{zeros}}}"#);
    let timeline = format!(r#"{{"OTIO_SCHEMA":"Timeline.1","tracks":{{"children":{zeros}}}}}"#);
    let fields = format!("{{{}\"a\":0}}", "\"b\":0,".repeat(2_000_000));
    for (path, body, said) in [
        ("/projects/1/edits", format!(r#"{{"edit":"set_sources","sources":{zeros},"set":{{}}}}"#), "at most 100000"),
        ("/projects/import", project, "at most 2000000 values"),
        ("/library/import", library, "at most 2000000 values"),
        ("/projects/import", fields, "at most 1000 fields"),
        ("/list", text(timeline), "at most 2000000 values"),
        ("/list", text(",".repeat(12_000_000)), "at most 200 columns"),
        ("/list", text("a\n".repeat(6_000_000)), "at most 20000 rows"),
        ("/list", text(format!("{}\n", "a,".repeat(1_000)).repeat(6_000)), "at most 200 columns"),
    ] {
        let request = server.request(http::Method::POST, path).header("content-type", "application/json");
        let refused = server.send(request, &body).await.refusal(422);
        assert!(refused["detail"].as_str().is_some_and(|detail| detail.contains(said)), "{path}: {refused}");
        assert!(refused.to_string().len() < 64 << 10, "{path}: a short refusal");
    }
    let most = peak(&server);
    assert!(most < 200, "{most} MB");
}

/// How much of a core a server has used so far, in hundredths of a second.
fn used(server: &Server) -> u64 {
    let line = std::fs::read_to_string(format!("/proc/{}/stat", server.id())).expect("it runs");
    let fields = line.rsplit(')').next().expect("its fields").split_whitespace();
    fields.skip(11).take(2).map(|ticks| ticks.parse::<u64>().expect("a number")).sum()
}

#[tokio::test]
async fn nothing_is_worked_out_for_who_is_gone() {
    let server = Server::empty();
    let project = server.post("/projects", &json!({ "name": "Large" })).await.ok()["id"].clone();
    let source = |at: usize| {
        let (raster, squeeze) = ([1920 + 2 * (at % 700), 1080 + 2 * (at % 311)], (1 + at % 2).to_string());
        json!({ "name": format!("C{at}"), "geometry": { "raster": raster, "squeeze": squeeze } })
    };
    let frame =
        |at: usize| json!({ "name": format!("F{at}"), "geometry": { "raster": [1280 + 64 * at, 720 + 34 * at] } });
    let edits = format!("/projects/{project}/edits");
    let sources: Vec<_> = (0..6_000).map(source).collect();
    server.post(&edits, &json!({ "edit": "add_sources", "values": sources })).await.ok();
    let frames: Vec<_> = (0..12).map(frame).collect();
    server.post(&edits, &json!({ "edit": "add_frames", "values": frames })).await.ok();
    // What a hand-off would hold needs a recipe for each of 72,000 conversions.
    let address = server.url().trim_start_matches("http://").to_owned();
    let mut client = TcpStream::connect(&address).expect("connected");
    let begins = used(&server);
    write!(
        client,
        "POST /api/v1/projects/{project}/handoff/preview HTTP/1.1\r\nHost: {address}\r\n\
         Content-Type: application/json\r\nContent-Length: 2\r\n\r\n{{}}"
    )
    .expect("asked");
    let waiting = Instant::now();
    while used(&server) < begins + 50 {
        assert!(waiting.elapsed() < Duration::from_secs(60), "it is worked out");
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    client.set_nonblocking(true).expect("set");
    assert!(client.read(&mut [0; 1]).is_err_and(|error| error.kind() == ErrorKind::WouldBlock), "it is not there yet");
    drop(client);
    // It is quiet when some hundred conversions that were begun are done, and long before all are.
    let gone = Instant::now();
    loop {
        let before = used(&server);
        tokio::time::sleep(Duration::from_secs(1)).await;
        if used(&server) < before + 20 {
            break;
        }
        assert!(gone.elapsed() < Duration::from_secs(8), "it goes on after everybody has gone");
    }
}

#[tokio::test]
async fn half_requests_lock_nobody_out() {
    let server = Server::demo();
    let address = server.url().trim_start_matches("http://").to_owned();
    let halves: Vec<TcpStream> = (0..700)
        .map(|_| {
            let mut half = TcpStream::connect(&address).expect("a connection");
            half.write_all(b"GET /api/v1/health HTTP/1.1\r\nHost: ").expect("sent");
            half
        })
        .collect();
    let asked = Instant::now();
    server.get("/health").await.ok();
    server.get("/projects/1/board").await.ok();
    assert!(asked.elapsed() < Duration::from_secs(5), "{:?}", asked.elapsed());
    // The oldest of them have made room.
    let gone = halves.iter().take(100).filter(|half| {
        half.set_read_timeout(Some(Duration::from_millis(200))).expect("set");
        matches!((&mut &**half).read(&mut [0]), Ok(0)) || is_reset(half)
    });
    assert!(gone.count() > 90);
}

fn is_reset(half: &TcpStream) -> bool {
    let mut half = half;
    half.read(&mut [0]).is_err_and(|error| matches!(error.kind(), ErrorKind::ConnectionReset | ErrorKind::BrokenPipe))
}

#[test]
fn told_to_stop_it_ends_whatever_strangers_have_begun() {
    for (signals, code) in [(1, Some(0)), (2, Some(130))] {
        let folder = tempfile::tempdir().expect("a folder");
        let server = Server::start_on("serve", &folder.path().join("stop.db"), &[]);
        let address = server.url().trim_start_matches("http://").to_owned();
        let mut begun = TcpStream::connect(&address).expect("a connection");
        let head = format!(
            "POST /api/v1/calc HTTP/1.1\r\nHost: {address}\r\nContent-Type: application/json\r\nContent-Length: 99\r\n\r\n{{"
        );
        begun.write_all(head.as_bytes()).expect("sent");
        // Until it has begun, on a busy machine too.
        std::thread::sleep(Duration::from_secs(1));
        let told = Instant::now();
        for _ in 0..signals {
            let kill = Command::new("kill").arg("-TERM").arg(server.id().to_string()).status().expect("kill runs");
            assert!(kill.success());
            std::thread::sleep(Duration::from_millis(200));
        }
        assert_eq!(server.ended(), code, "told {signals} times");
        assert!(told.elapsed() < Duration::from_secs(6), "{:?}", told.elapsed());
    }
}

#[test]
fn names_are_only_names() {
    // A name that would steer a terminal, in a message.
    let output = program()
        .args(["export", "--project", "P", "--data", "no\u{1b}[31m.db", "--out", "x.zip"])
        .stdin(Stdio::null())
        .output()
        .expect("it runs");
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(!said.contains('\u{1b}') && said.contains("no?[31m.db"), "{said}");
}

#[tokio::test]
async fn uploads_wait_on_disk_and_not_in_memory() {
    let server = Server::demo();
    let noise = hyper::body::Bytes::from(vec![7; 60 << 20]);
    let sent: Vec<_> = (0..8)
        .map(|_| {
            let (caller, noise) = (server.clone(), noise.clone());
            tokio::spawn(async move {
                let request = caller.request(http::Method::POST, "/projects/1/sources/1/still?file=noise.png");
                caller.try_send_bytes(request, noise).await.expect("an answer")
            })
        })
        .collect();
    for answer in sent {
        let refused = answer.await.expect("sent").refusal(422);
        assert!(refused["detail"].as_str().is_some_and(|detail| detail.contains("no picture")), "{refused}");
    }
    let most = peak(&server);
    assert!(most < 300, "{most} MB of 480");
}
