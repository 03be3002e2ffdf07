//! The program is killed at random moments of a stream of writes, again and again: what it has
//! acknowledged is there, the database is sound, and the history leads where it led.

use std::collections::BTreeMap;
use std::path::Path;
use std::time::Duration;

use diesel::prelude::*;
use diesel::sql_types::Text;
use http::Method;
use serde_json::{Value, json};

use crate::support::{Caller, Server, program};

/// So often it is killed, unless RATIOMET_KILLS says how often.
const KILLS: usize = 50;
const WRITERS: usize = 4;

/// What a project shows: the squeeze of each source by its name.
type State = BTreeMap<String, String>;

/// A project, and all that its one writer knows of it.
#[derive(Clone)]
struct Story {
    project: i64,
    /// What it showed after each step from its beginning to the newest that redo leads to.
    line: Vec<State>,
    /// Where on that line it stands.
    at: usize,
    /// The numbers of its sources.
    ids: BTreeMap<String, i64>,
    /// Writes that were acknowledged.
    acknowledged: usize,
    /// Counts up, so that no two writes are alike.
    written: u32,
    /// Its own dice.
    dice: fastrand::Rng,
}

impl Story {
    fn now(&self) -> &State {
        &self.line[self.at]
    }

    /// The story after one more step.
    fn changed(&self, change: impl FnOnce(&mut State)) -> Self {
        let mut next = self.clone();
        next.line.truncate(self.at + 1);
        let mut state = self.now().clone();
        change(&mut state);
        next.line.push(state);
        next.at += 1;
        next
    }

    fn api(&self, rest: &str) -> String {
        format!("/projects/{}{rest}", self.project)
    }
}

/// Writes until the server is gone. Gives the story as acknowledged, and as it would be had the
/// last write, to which no answer came, been carried out.
async fn write(caller: Caller, mut story: Story) -> (Story, Option<Story>) {
    loop {
        story.written += 1;
        let number = story.written;
        let names: Vec<String> = story.now().keys().cloned().collect();
        let mut some = names.clone();
        some.retain(|_| story.dice.u8(..) < 120);
        let turn = story.dice.u8(..10);
        let more = story.dice.usize(..3);
        let ids = |names: &[String]| names.iter().map(|name| story.ids[name]).collect::<Vec<_>>();
        // Every squeeze comes once, so that every state is told from every other.
        let squeeze = format!("{}/1000", 1_000 + number);
        let (path, body, after) = if turn < 3 || some.is_empty() {
            let added: Vec<String> = (0..=more).map(|at| format!("S{number}-{at}")).collect();
            let values = |name| json!({ "name": name, "geometry": { "raster": [1920, 1080], "squeeze": squeeze } });
            let values: Vec<Value> = added.iter().map(values).collect();
            let after = story.changed(|state| state.extend(added.into_iter().map(|name| (name, squeeze.clone()))));
            (story.api("/edits"), json!({ "edit": "add_sources", "values": values }), after)
        } else if turn < 6 {
            let body = json!({ "edit": "set_sources", "sources": ids(&some), "set": { "squeeze": squeeze } });
            let after = story.changed(|state| state.extend(some.into_iter().map(|name| (name, squeeze.clone()))));
            (story.api("/edits"), body, after)
        } else if turn < 7 {
            let body = json!({ "edit": "delete", "sources": ids(&some[..1]), "frames": [] });
            (story.api("/edits"), body, story.changed(|state| drop(state.remove(&some[0]))))
        } else {
            let to = if turn < 9 { story.at.checked_sub(1) } else { Some(story.at + 1) };
            let Some(to) = to.filter(|to| *to < story.line.len()) else { continue };
            let Some(head) = ask(&caller, Method::GET, &story.api("/history/head"), &json!(null)).await else {
                return (story, None);
            };
            let turn = if to < story.at { "undo" } else { "redo" };
            let body = json!({ "from": head["at"], "to": head[turn]["to"] });
            (story.api("/history/go"), body, Story { at: to, ..story.clone() })
        };
        let Some(answer) = ask(&caller, Method::POST, &path, &body).await else {
            return (story, Some(after));
        };
        let acknowledged = story.acknowledged + 1;
        story = Story { acknowledged, ..after };
        if let Some(added) = answer["sources"].as_array().filter(|_| body["edit"] == "add_sources") {
            for (values, id) in body["values"].as_array().into_iter().flatten().zip(added) {
                let name = values["name"].as_str().expect("a name").to_owned();
                story.ids.insert(name, id.as_i64().expect("a number"));
            }
        }
    }
}

/// The body of a good answer, or none when the server is gone.
async fn ask(caller: &Caller, method: Method, path: &str, body: &Value) -> Option<Value> {
    caller.try_send(caller.request(method, path), &body.to_string()).await.map(|answer| answer.ok())
}

/// What a project shows, and the numbers of its sources.
async fn shown(server: &Server, project: i64) -> (State, BTreeMap<String, i64>) {
    let board = server.get(&format!("/projects/{project}/board")).await.ok();
    let sources = board["sources"].as_array().expect("sources").iter();
    sources
        .map(|source| {
            let values = &source["values"];
            let name = values["name"].as_str().expect("a name").to_owned();
            let squeeze = values["geometry"]["squeeze"].as_str().expect("a squeeze").to_owned();
            ((name.clone(), squeeze), (name, source["id"].as_i64().expect("a number")))
        })
        .unzip()
}

/// The steps from the beginning to where a project stands.
async fn line(server: &Server, project: i64) -> Vec<i64> {
    let mut parents = BTreeMap::new();
    let (mut at, mut before) = (Value::Null, String::new());
    loop {
        let page = server.get(&format!("/projects/{project}/history{before}")).await.ok();
        at = if at.is_null() { page["at"].clone() } else { at };
        let steps = page["steps"].as_array().expect("steps");
        for step in steps {
            parents.insert(step["id"].as_i64().expect("a number"), step["parent"].as_i64());
        }
        if page["more"] != true {
            break;
        }
        before = format!("?before={}", steps.last().expect("a step")["id"]);
    }
    let mut line = Vec::new();
    let mut step = at.as_i64();
    while let Some(id) = step {
        line.push(id);
        step = *parents.get(&id).expect("every step has its parent");
    }
    line.reverse();
    line
}

#[derive(QueryableByName)]
struct Checked {
    #[diesel(sql_type = Text)]
    integrity_check: String,
}

#[derive(QueryableByName)]
struct Orphan {
    #[diesel(sql_type = Text)]
    #[expect(dead_code, reason = "it is shown when there is one")]
    table: String,
}

/// Checks a copy of the files as they were left, so that the program itself mends the original.
fn is_sound(data: &Path) {
    let folder = tempfile::tempdir().expect("a folder");
    for end in ["", "-wal", "-shm"] {
        let file = data.with_file_name(format!("{}{end}", data.file_name().expect("a name").to_string_lossy()));
        if file.exists() {
            std::fs::copy(&file, folder.path().join(format!("copy.db{end}"))).expect("copied");
        }
    }
    let copy = folder.path().join("copy.db");
    let mut connection = SqliteConnection::establish(copy.to_str().expect("UTF-8")).expect("opened");
    let checked: Vec<Checked> =
        diesel::sql_query("PRAGMA integrity_check").load(&mut connection).expect("the check runs");
    assert_eq!(checked.iter().map(|each| each.integrity_check.as_str()).collect::<Vec<_>>(), ["ok"]);
    let orphans: Vec<Orphan> =
        diesel::sql_query("SELECT \"table\" FROM pragma_foreign_key_check").load(&mut connection).expect("it runs");
    assert!(orphans.is_empty(), "{} rows refer to rows that are not there", orphans.len());
}

#[tokio::test(flavor = "multi_thread")]
async fn fifty_kills_lose_nothing_that_was_acknowledged() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = folder.path().join("killed.db");
    let mut server = Server::start_on("serve", &data, &[]);
    // The dice can be thrown the same way again: RATIOMET_SEED=... cargo test power_cut.
    let seed = std::env::var("RATIOMET_SEED").ok().and_then(|seed| seed.parse().ok());
    let seed = seed.unwrap_or_else(|| fastrand::u64(..));
    println!("RATIOMET_SEED={seed}");
    let mut dice = fastrand::Rng::with_seed(seed);
    let mut stories = Vec::new();
    for _ in 0..WRITERS {
        let project =
            server.post("/projects", &json!({ "name": "Killed" })).await.ok()["id"].as_i64().expect("a number");
        let (line, ids) = (vec![State::new()], BTreeMap::new());
        stories.push(Story { project, line, at: 0, ids, acknowledged: 0, written: 0, dice: dice.fork() });
    }
    let mut in_doubt = [0, 0];
    let kills = std::env::var("RATIOMET_KILLS").ok().and_then(|kills| kills.parse().ok()).unwrap_or(KILLS);
    for kill in 0..kills {
        let writers: Vec<_> =
            stories.drain(..).map(|story| tokio::spawn(write(Caller::clone(&server), story))).collect();
        tokio::time::sleep(Duration::from_millis(dice.u64(3..120))).await;
        server.kill();
        is_sound(&data);
        if kill % 10 == 0 {
            let checked = program().arg("check").arg(&data).output().expect("it runs");
            assert!(checked.status.success(), "{}", String::from_utf8_lossy(&checked.stdout));
        }
        server = Server::start_on("serve", &data, &[]);
        for writer in writers {
            let (acknowledged, doubtful) = writer.await.expect("the writer ends");
            let (state, ids) = shown(&server, acknowledged.project).await;
            // All that was acknowledged, and the last write either wholly or not at all.
            let mut story = match doubtful {
                Some(doubtful) if state == *doubtful.now() => {
                    in_doubt[1] += 1;
                    doubtful
                }
                doubtful => {
                    in_doubt[0] += usize::from(doubtful.is_some());
                    assert_eq!(state, *acknowledged.now(), "after kill {kill}");
                    acknowledged
                }
            };
            story.ids.extend(ids);
            let steps = line(&server, story.project).await;
            assert_eq!(steps.len(), story.at + 1, "after kill {kill}");
            if kill % 10 == 9 {
                go_through(&server, &story, &steps).await;
            }
            stories.push(story);
        }
    }
    let written: usize = stories.iter().map(|story| story.acknowledged).sum();
    println!(
        "{kills} kills, {written} acknowledged writes all there; of the last ones {} carried out, {} not",
        in_doubt[1], in_doubt[0]
    );
    assert!(written > kills, "too few writes to say anything: {written}");
}

/// Every step that leads here shows what it showed when it was made; then back again.
async fn go_through(server: &Server, story: &Story, steps: &[i64]) {
    let path = story.api("/history/go");
    let mut at = *steps.last().expect("a step");
    let wanted = (0..steps.len()).rev().step_by(1 + steps.len() / 12);
    for place in wanted.chain([steps.len() - 1]) {
        if steps[place] != at {
            server.post(&path, &json!({ "from": at, "to": steps[place] })).await.ok();
            at = steps[place];
        }
        assert_eq!(shown(server, story.project).await.0, story.line[place], "step {place} of {}", steps.len());
    }
}
