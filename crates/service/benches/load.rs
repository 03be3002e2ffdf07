//! Many clients at once on one project, for a minute: `cargo bench --package ratiomet --bench load`. How long answers
//! take, what is refused, and the server's memory then and afterwards, as the system counts it.
//!
//! `RATIOMET_CLIENTS`, `RATIOMET_SECONDS`, and `RATIOMET_BOARD` as SOURCESxFRAMES ask for other amounts.

#[path = "../tests/it/support/server.rs"]
#[expect(dead_code, reason = "tests need more of it")]
mod server;

use std::collections::BTreeMap;
use std::time::{Duration, Instant};

use http::Method;
use serde_json::{Value, json};

use server::{Caller, Server};

/// How long answers took, by what was asked, and how many of them had each status.
#[derive(Default)]
struct Told {
    times: BTreeMap<&'static str, Vec<Duration>>,
    statuses: BTreeMap<u16, usize>,
    lost: usize,
}

impl Told {
    fn add(&mut self, other: Self) {
        for (what, times) in other.times {
            self.times.entry(what).or_default().extend(times);
        }
        for (status, count) in other.statuses {
            *self.statuses.entry(status).or_default() += count;
        }
        self.lost += other.lost;
    }
}

/// A project that is worked on.
#[derive(Clone)]
struct Worked {
    project: i64,
    sources: Vec<i64>,
    frames: Vec<i64>,
}

impl Worked {
    async fn new(server: &Server, sources: usize, frames: usize) -> Self {
        let made = server.post("/projects", &json!({ "name": "Load", "method": "fill" })).await.ok();
        let project = made["id"].as_i64().expect("a number");
        let rates = ["24", "25", "30", "50"];
        let source = |at: usize| {
            let raster = [1920 + 2 * (at % 700), 1080 + 2 * (at % 311)];
            let (squeeze, rate) = (["1", "2", "1.5"][at % 3], rates[at % 4]);
            json!({ "name": format!("C{at:05}"), "geometry": { "raster": raster, "squeeze": squeeze }, "rate": rate })
        };
        let frame = |at: usize| {
            let geometry = json!({ "raster": [1280 + 64 * at, 720 + 34 * at] });
            let rate = rates[at % 4];
            json!({ "name": format!("F{at}"), "geometry": geometry, "rate": rate })
        };
        let edits = format!("/projects/{project}/edits");
        let numbers = |answer: &Value, what: &str| -> Vec<i64> {
            answer[what].as_array().into_iter().flatten().filter_map(Value::as_i64).collect()
        };
        let values: Vec<Value> = (0..sources).map(source).collect();
        let added = server.post(&edits, &json!({ "edit": "add_sources", "values": values })).await.ok();
        let sources = numbers(&added, "sources");
        let values: Vec<Value> = (0..frames).map(frame).collect();
        let added = server.post(&edits, &json!({ "edit": "add_frames", "values": values })).await.ok();
        Self { project, sources, frames: numbers(&added, "frames") }
    }

    /// Asks and changes things until the time is over, as somebody would whose screen is open.
    async fn work(self, caller: Caller, seed: u64, until: Instant) -> Told {
        let (mut told, mut dice) = (Told::default(), fastrand::Rng::with_seed(seed));
        let (mut revision, mut squeeze) = (String::new(), 1_000);
        let project = format!("/projects/{}", self.project);
        while Instant::now() < until {
            let source = *dice.choice(&self.sources).expect("some");
            let frame = *dice.choice(&self.frames).expect("some");
            let (what, method, path, body) = match dice.u8(..10) {
                0 => ("board", Method::GET, format!("{project}/board"), json!(null)),
                1..4 => ("changes", Method::GET, format!("{project}/board?since={revision}"), json!(null)),
                4 => ("points", Method::GET, format!("{project}/points"), json!(null)),
                5..7 => ("conversion", Method::GET, format!("{project}/conversions/{source}/{frame}"), json!(null)),
                7 => ("history", Method::GET, format!("{project}/history"), json!(null)),
                8 => {
                    squeeze += 1;
                    let set = json!({ "squeeze": format!("{squeeze}/1000") });
                    let edit = json!({ "edit": "set_sources", "sources": [source], "set": set });
                    ("edit", Method::POST, format!("{project}/edits"), edit)
                }
                _ => {
                    // Whoever names a version that is no longer the newest is refused.
                    let known = caller.get(&format!("{project}/sources/{source}")).await;
                    let (version, values) = (known.body["version"].as_i64(), known.body["values"].clone());
                    let began = Instant::now();
                    let answer =
                        caller.put(&format!("{project}/sources/{source}"), version.unwrap_or(0), &values).await;
                    told.times.entry("put").or_default().push(began.elapsed());
                    *told.statuses.entry(answer.status.as_u16()).or_default() += 1;
                    continue;
                }
            };
            let began = Instant::now();
            let request = caller.request(method, &path);
            let text = if body.is_null() { String::new() } else { body.to_string() };
            let Some((status, _, bytes)) = caller.try_raw(request, text.into()).await else {
                told.lost += 1;
                continue;
            };
            told.times.entry(what).or_default().push(began.elapsed());
            *told.statuses.entry(status.as_u16()).or_default() += 1;
            revision = revision_of(&bytes).unwrap_or(revision);
        }
        told
    }
}

/// The revision of a board, which stands before all that is long in it.
fn revision_of(board: &[u8]) -> Option<String> {
    let head = String::from_utf8_lossy(board.get(..board.len().min(4096))?);
    let (_, after) = head.split_once("\"revision\":\"")?;
    Some(after.split('"').next()?.to_owned())
}

/// A figure of the server's process, in MB.
fn memory(server: &Server, figure: &str) -> u64 {
    let status = std::fs::read_to_string(format!("/proc/{}/status", server.id())).expect("it runs");
    let line = status.lines().find(|line| line.starts_with(figure)).expect("a figure");
    line.split_whitespace().nth(1).expect("a number").parse::<u64>().expect("a number") / 1024
}

/// How long the given share of all answers took at most, in milliseconds.
fn within(sorted: &[Duration], thousandths: usize) -> u128 {
    sorted.get((sorted.len() * thousandths / 1000).min(sorted.len().saturating_sub(1))).map_or(0, Duration::as_millis)
}

fn asked_for(name: &str, usual: u64) -> u64 {
    std::env::var(name).ok().and_then(|number| number.parse().ok()).unwrap_or(usual)
}

#[tokio::main]
async fn main() {
    let server = Server::empty();
    let board = std::env::var("RATIOMET_BOARD").unwrap_or_else(|_| "300x12".to_owned());
    let (sources, frames) = board.split_once('x').expect("SOURCESxFRAMES");
    let (sources, frames) = (sources.parse().expect("a number"), frames.parse().expect("a number"));
    let worked = Worked::new(&server, sources, frames).await;
    let (clients, seconds) = (asked_for("RATIOMET_CLIENTS", 64), asked_for("RATIOMET_SECONDS", 60));
    println!("{clients} clients for {seconds} s on {board}; before it {} MB", memory(&server, "VmRSS"));
    let until = Instant::now() + Duration::from_secs(seconds);
    let work = |seed| tokio::spawn(worked.clone().work(Caller::clone(&server), seed, until));
    let working: Vec<_> = (0..clients).map(work).collect();
    let mut told = Told::default();
    for each in working {
        told.add(each.await.expect("it ends"));
    }
    let mut all: Vec<Duration> = told.times.values().flatten().copied().collect();
    told.times.insert("all", std::mem::take(&mut all));
    for (what, mut times) in told.times {
        times.sort_unstable();
        let [half, most, nearly, longest] = [500, 950, 990, 1000].map(|share| within(&times, share));
        println!(
            "{what:>10}: {:>6} answers, median {half} ms, 95 % {most} ms, 99 % {nearly} ms, longest {longest} ms",
            times.len()
        );
    }
    println!("statuses {:?}, no answer {}", told.statuses, told.lost);
    println!("memory at its peak {} MB, at the end {} MB", memory(&server, "VmHWM"), memory(&server, "VmRSS"));
    for waited in [5, 35] {
        tokio::time::sleep(Duration::from_secs(waited)).await;
        println!("{waited} s later {} MB", memory(&server, "VmRSS"));
    }
    let unexpected: usize =
        told.statuses.iter().filter(|(status, _)| !matches!(status, 200..300 | 412)).map(|(_, count)| count).sum();
    assert_eq!(unexpected + told.lost, 0, "something else than 412 was refused");
}
