//! A shared server: nobody gets in who is not known, each may do what their role allows, and people do not tread on each
//! other.

use std::io::{BufRead, BufReader, Write};
use std::path::{Path, PathBuf};
use std::process::Stdio;
use std::sync::Arc;
use std::time::Duration;

use http::Method;
use http_body_util::{BodyExt, Empty};
use hyper::body::Bytes;
use serde_json::{Value, json};
use tokio::io::{AsyncReadExt, AsyncWriteExt};

use crate::support::{Browser, Caller, Server, program};

const PASSWORD: &str = "kiln tide lantern seven";

/// A folder with a file of people, and with data.
struct House {
    folder: tempfile::TempDir,
}

impl House {
    /// Ada looks after it, Ben plans, Cleo looks.
    fn new() -> Self {
        let house = Self { folder: tempfile::tempdir().expect("a folder") };
        for (name, role) in [("Ada", "house"), ("Ben", "plan"), ("Cleo", "look")] {
            let (code, said) = house.people(&["add", name, "--role", role], PASSWORD);
            assert_eq!(code, 0, "{said}");
        }
        house
    }

    fn file(&self) -> PathBuf {
        self.folder.path().join("people.json")
    }

    fn data(&self) -> PathBuf {
        self.folder.path().join("test.db")
    }

    /// What `ratiomet people` says.
    fn people(&self, words: &[&str], typed: &str) -> (i32, String) {
        let mut child = program()
            .arg("people")
            .args(words)
            .arg("--people")
            .arg(self.file())
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .expect("the program starts");
        let mut input = child.stdin.take().expect("its input");
        // OK because what asks for no password does not read.
        let _ = writeln!(input, "{typed}");
        drop(input);
        let output = child.wait_with_output().expect("it ends");
        let said = [output.stdout, output.stderr].concat();
        (output.status.code().expect("a code"), String::from_utf8_lossy(&said).into_owned())
    }

    fn serve(&self, more: &[&str]) -> Server {
        let file = self.file();
        let mut words = vec!["--people", file.to_str().expect("UTF-8")];
        words.extend(more);
        Server::start_on("demo", &self.data(), &words)
    }
}

async fn log_in(server: &Caller, name: &str) -> String {
    let answer = server.post("/session", &json!({ "name": name, "password": PASSWORD })).await;
    assert_eq!(answer.status, 200, "{answer:?}");
    let cookie = answer.headers["set-cookie"].to_str().expect("text");
    for part in ["HttpOnly", "SameSite=Strict", "Path=/"] {
        assert!(cookie.contains(part), "{cookie}");
    }
    cookie.split(';').next().expect("a pair").to_owned()
}

async fn ask(server: &Caller, cookie: &str, method: Method, path: &str, body: &Value) -> crate::support::Answer {
    let request = server.request(method, path).header("cookie", cookie);
    server.send(request, &if body.is_null() { String::new() } else { body.to_string() }).await
}

/// What a start says that is refused.
fn refused(words: &[&str]) -> String {
    let folder = tempfile::tempdir().expect("a folder");
    let output = program()
        .args(["serve", "--data"])
        .arg(folder.path().join("test.db"))
        .args(words)
        .output()
        .expect("the program runs");
    assert_eq!(output.status.code(), Some(1), "{words:?}");
    String::from_utf8_lossy(&output.stderr).into_owned()
}

#[test]
fn nothing_is_served_to_others_without_people() {
    let said = refused(&["--listen", "0.0.0.0:0"]);
    assert!(said.contains("ratiomet people add") && said.contains("--people"), "{said}");
    let said = refused(&["--listen", "127.0.0.1:0", "--public-url", "https://plans.example"]);
    assert!(said.contains("https://plans.example/ can be reached by others"), "{said}");
    let said = refused(&["--listen", "127.0.0.1:0", "--people", "/nowhere/people.json"]);
    assert!(said.contains("cannot be read"), "{said}");
    let folder = tempfile::tempdir().expect("a folder");
    let nobody = folder.path().join("people.json");
    std::fs::write(&nobody, r#"{"format":1,"people":[]}"#).expect("written");
    let said = refused(&["--listen", "127.0.0.1:0", "--people", nobody.to_str().expect("UTF-8")]);
    assert!(said.contains("nobody in"), "{said}");
    std::fs::write(&nobody, r#"{"format":1,"people":[{"name":"Eve","role":"plan","password":"plain"}]}"#)
        .expect("written");
    let said = refused(&["--listen", "127.0.0.1:0", "--people", nobody.to_str().expect("UTF-8")]);
    assert!(said.contains("not kept as Argon2id"), "{said}");
}

#[test]
fn a_server_without_tls_says_what_that_means_in_plain_letters() {
    let house = House::new();
    let mut server = program()
        .args(["serve", "--listen", "0.0.0.0:0", "--data"])
        .arg(house.data())
        .arg("--people")
        .arg(house.file())
        .stdout(Stdio::null())
        .stderr(Stdio::piped())
        .spawn()
        .expect("the program starts");
    let mut line = String::new();
    BufReader::new(server.stderr.take().expect("what it says")).read_line(&mut line).expect("a line");
    server.kill().expect("stopped");
    server.wait().expect("ended");
    assert!(line.contains("travel unencrypted") && !line.contains('\u{1b}'), "{line:?}");
}

#[test]
fn the_file_of_people_is_made_by_commands_that_say_what_is_wrong() {
    let house = House::new();
    let kept = std::fs::read_to_string(house.file()).expect("a file");
    assert!(kept.contains("$argon2id$") && !kept.contains("lantern"), "{kept}");
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        let mode = std::fs::metadata(house.file()).expect("a file").permissions().mode();
        assert_eq!(mode & 0o777, 0o600, "nobody else reads it");
    }
    for (words, typed, why) in [
        (&["add", "ada"][..], PASSWORD, "known already"),
        (&["add", "Dora"], "short", "must be at least 12 characters long"),
        (&["add", ""], PASSWORD, "1 to 60 characters"),
        (&["password", "Dora"], PASSWORD, "nobody is called Dora; known are: Ada, Ben, Cleo"),
        (&["remove", "Dora"], "", "nobody is called Dora"),
        (&["role", "Dora", "look"], "", "nobody is called Dora"),
    ] {
        let (code, said) = house.people(words, typed);
        assert!(code == 1 && said.contains(why), "{words:?}: {said}");
    }
    assert_eq!(std::fs::read_to_string(house.file()).expect("a file"), kept, "nothing was changed");
    let (_, said) = house.people(&["list"], "");
    assert!(said.contains("Ada\thouse") && said.contains("Cleo\tlook"), "{said}");
}

#[tokio::test]
async fn nobody_gets_in_who_is_not_known() {
    let house = House::new();
    let server = house.serve(&[]);
    server.get("/projects").await.refusal(401);
    let session = server.get("/session").await.ok();
    assert_eq!(session, json!({ "guarded": true, "name": null, "role": null }));
    assert!(server.get("/health").await.ok()["version"].is_null());
    for (name, password) in [("Ada", "something else entirely"), ("Eve", PASSWORD), ("Ada", "")] {
        let wrong = server.post("/session", &json!({ "name": name, "password": password })).await.refusal(401);
        assert_eq!(wrong["type"], "urn:ratiomet:problem:wrong_password", "the same for both");
    }
    let cookie = log_in(&server, "ADA").await;
    assert!(ask(&server, &cookie, Method::GET, "/projects", &Value::Null).await.ok().is_array());
    // Its last digit is another one: not always 0, or one run in sixteen would forge nothing.
    let other = if cookie.ends_with('0') { '1' } else { '0' };
    let forged = format!("{}{other}", &cookie[..cookie.len() - 1]);
    ask(&server, &forged, Method::GET, "/projects", &Value::Null).await.refusal(401);
    let out = ask(&server, &cookie, Method::DELETE, "/session", &Value::Null).await;
    assert_eq!(out.status, 204);
    assert!(out.headers["set-cookie"].to_str().expect("text").contains("Max-Age=0"));
    ask(&server, &cookie, Method::GET, "/projects", &Value::Null).await.refusal(401);
}

#[tokio::test]
async fn wrong_passwords_are_slowed_down() {
    let house = House::new();
    let server = house.serve(&[]);
    let guess = json!({ "name": "Ben", "password": "not the right one" });
    for _ in 0..5 {
        server.post("/session", &guess).await.refusal(401);
    }
    let answer = server.post("/session", &guess).await;
    let wait: u64 = answer.headers["retry-after"].to_str().expect("text").parse().expect("seconds");
    assert!((1..=60).contains(&wait));
    answer.refusal(429);
    // The right one has to wait as well, or it could be told from the others.
    server.post("/session", &json!({ "name": "Ben", "password": PASSWORD })).await.refusal(429);
    log_in(&server, "Cleo").await;
}

#[tokio::test]
async fn each_role_may_do_what_it_is_for() {
    let house = House::new();
    let server = house.serve(&[]);
    let edit = json!({ "edit": "set_sources", "sources": [1], "set": { "squeeze": "1.5" } });
    let calc = json!({ "kind": "scale", "from": [1920, 1080], "to": [3840, 2160] });
    let profile = json!({});
    for (name, calculates, edits, keeps) in [("Cleo", true, 403, 403), ("Ben", true, 200, 403), ("Ada", true, 200, 422)]
    {
        let cookie = log_in(&server, name).await;
        let answer = ask(&server, &cookie, Method::POST, "/calc", &calc).await;
        assert_eq!(answer.status != 403, calculates, "{answer:?}");
        let answer = ask(&server, &cookie, Method::POST, "/projects/1/edits", &edit).await;
        assert_eq!(answer.status, edits, "{name}: {answer:?}");
        let answer = ask(&server, &cookie, Method::POST, "/library/profiles", &profile).await;
        assert_eq!(answer.status, keeps, "{name}: {answer:?}");
        if keeps == 403 {
            assert!(answer.refusal(403)["hint"].as_str().expect("text").contains("role house"));
        }
    }
}

#[tokio::test]
async fn scripts_use_tokens_and_whoever_is_taken_off_is_out_at_once() {
    let house = House::new();
    let (_, said) = house.people(&["token", "nightly", "--role", "look", "--days", "1"], "");
    let token = said.lines().find(|line| line.starts_with("rtm_")).expect("a token").to_owned();
    assert!(!std::fs::read_to_string(house.file()).expect("a file").contains(&token));
    let server = house.serve(&[]);
    let bearer =
        |token: &str| server.request(Method::GET, "/projects").header("authorization", format!("Bearer {token}"));
    server.send(bearer(&token), "").await.ok();
    server.send(bearer("rtm_0000"), "").await.refusal(401);
    let cookie = log_in(&server, "Ben").await;
    assert_eq!(house.people(&["remove", "nightly"], "").0, 0);
    assert_eq!(house.people(&["remove", "Ben"], "").0, 0);
    server.send(bearer(&token), "").await.refusal(401);
    ask(&server, &cookie, Method::GET, "/projects", &Value::Null).await.refusal(401);
}

#[tokio::test]
async fn a_password_is_changed_by_whom_it_belongs_to() {
    let house = House::new();
    let server = house.serve(&[]);
    let (cookie, other) = (log_in(&server, "Ben").await, log_in(&server, "Ben").await);
    let change = async |current: &str, new: &str| {
        ask(&server, &cookie, Method::PUT, "/session/password", &json!({ "current": current, "new": new })).await
    };
    change("wrong wrong wrong", "salt works at dawn").await.refusal(401);
    let short = change(PASSWORD, "short").await.refusal(422);
    assert_eq!(short["errors"][0]["pointer"], "/new");
    assert_eq!(change(PASSWORD, "salt works at dawn").await.status, 204);
    ask(&server, &cookie, Method::GET, "/projects", &Value::Null).await.ok();
    ask(&server, &other, Method::GET, "/projects", &Value::Null).await.refusal(401);
    server.post("/session", &json!({ "name": "Ben", "password": PASSWORD })).await.refusal(401);
}

#[tokio::test]
async fn history_says_who_and_each_undoes_their_own() {
    let house = House::new();
    let server = house.serve(&[]);
    let (ada, ben) = (log_in(&server, "Ada").await, log_in(&server, "Ben").await);
    let squeeze = |source: i32| json!({ "edit": "set_sources", "sources": [source], "set": { "squeeze": "1.65" } });
    ask(&server, &ada, Method::POST, "/projects/1/edits", &squeeze(1)).await.ok();
    ask(&server, &ben, Method::POST, "/projects/1/edits", &squeeze(2)).await.ok();
    let head = ask(&server, &ada, Method::GET, "/projects/1/history/head", &Value::Null).await.ok();
    let wish = json!({ "from": head["at"], "step": head["undo"]["takes_back"] });
    ask(&server, &ben, Method::POST, "/projects/1/history/take-back", &wish).await.refusal(412);
    ask(&server, &ada, Method::POST, "/projects/1/history/take-back", &wish).await.ok();
    let board = ask(&server, &ada, Method::GET, "/projects/1/board", &Value::Null).await.ok();
    let squeeze_of = |at: usize| board["sources"][at]["values"]["geometry"]["squeeze"].clone();
    assert_ne!(squeeze_of(0), "1.65");
    assert_eq!(squeeze_of(1), "1.65");
    let history = ask(&server, &ben, Method::GET, "/projects/1/history", &Value::Null).await.ok();
    let by: Vec<_> = history["steps"].as_array().expect("steps").iter().take(3).map(|step| &step["made_by"]).collect();
    assert_eq!(by, ["Ada", "Ben", "Ada"]);
    assert_eq!(history["people"], json!(["Ada", "Ben"]));
    let hers = ask(&server, &ben, Method::GET, "/projects/1/history?by=Ada", &Value::Null).await.ok();
    assert!(hers["steps"].as_array().is_some_and(|steps| steps.len() == 2), "{hers}");
}

/// The events of a stream until some text has come.
async fn heard(body: &mut hyper::body::Incoming, text: &str) -> String {
    let mut said = String::new();
    let wait = async {
        while !said.contains(text) {
            let frame = body.frame().await.expect("it goes on").expect("a frame");
            said += &String::from_utf8_lossy(frame.data_ref().expect("data"));
        }
    };
    let heard = tokio::time::timeout(Duration::from_secs(10), wait).await;
    assert!(heard.is_ok(), "{text} in {said}");
    said
}

#[tokio::test]
async fn changes_of_others_are_told_and_so_is_who_looks() {
    let house = House::new();
    let server = house.serve(&[]);
    let client = hyper_util::client::legacy::Client::builder(hyper_util::rt::TokioExecutor::new()).build_http();
    let listen = async |cookie: &str, at: &str| {
        let request = server.request(Method::GET, &format!("/events?project=1&at={at}")).header("cookie", cookie);
        let request = request.body(Empty::<Bytes>::new()).expect("a request");
        let response = client.request(request).await.expect("an answer");
        assert_eq!(response.headers()["content-type"], "text/event-stream");
        response.into_body()
    };
    let (ada, ben) = (log_in(&server, "Ada").await, log_in(&server, "Ben").await);
    let mut hers = listen(&ada, "Board").await;
    heard(&mut hers, "event: people").await;
    let mut his = listen(&ben, "Footage").await;
    let said = heard(&mut his, r#""name":"Ada""#).await;
    assert!(said.contains(r#""at":"Board""#), "{said}");
    heard(&mut hers, r#""name":"Ben""#).await;
    let edit = json!({ "edit": "set_sources", "sources": [1], "set": { "squeeze": "1.65" } });
    let step = ask(&server, &ben, Method::POST, "/projects/1/edits", &edit).await.ok()["step"].clone();
    heard(&mut hers, &format!(r#"{{"project":1,"at":{step}}}"#)).await;
    drop(his);
    heard(&mut hers, "data: []").await;
    // Told to stop, it does not wait for those who only listen.
    let began = std::time::Instant::now();
    std::process::Command::new("kill").arg(server.id().to_string()).status().expect("kill runs");
    server.ended();
    assert!(began.elapsed() < Duration::from_secs(4), "{:?}", began.elapsed());
}

async fn type_in(browser: &Browser, password: &str) {
    browser.fill("Password", password).await;
    browser.keys("\u{e007}").await;
}

#[tokio::test]
async fn on_the_screen_people_see_each_other_and_each_others_work() {
    let house = House::new();
    let server = house.serve(&[]);
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage").await;
    browser.fill("Name", "Ada").await;
    type_in(&browser, "not the right one").await;
    browser.says("Nobody is known by this name and this password.").await;
    type_in(&browser, PASSWORD).await;
    browser.says("A014 Furnace mouth").await;

    // What Ben does is there without a reload, and so is he.
    let ben = log_in(&server, "Ben").await;
    let client = hyper_util::client::legacy::Client::builder(hyper_util::rt::TokioExecutor::new()).build_http();
    let listening = server.request(Method::GET, "/events?project=1&at=Board").header("cookie", &ben);
    let listening = client.request(listening.body(Empty::<Bytes>::new()).expect("a request")).await.expect("an answer");
    browser.until("document.querySelector('.others')?.innerText === 'Ben'").await;
    let rename = async |version: i64, part: &str, value: &str| {
        let mut values = server
            .send(server.request(Method::GET, "/projects/1/sources/1").header("cookie", &ben), "")
            .await
            .ok()["values"]
            .clone();
        values[part] = json!(value);
        let request = server.request(Method::PUT, "/projects/1/sources/1").header("cookie", &ben);
        server.send(request.header("if-match", format!("\"{version}\"")), &values.to_string()).await.ok();
    };
    rename(1, "name", "A014 by Ben").await;
    browser.says("A014 by Ben").await;

    // Different values of one source both stay; of the same one the later is asked.
    browser.open("/projects/1/footage?source=1").await;
    browser.fill("note", "hers").await;
    rename(2, "name", "A014 again").await;
    browser.fill("note", "hers indeed").await;
    browser.keys("\u{e007}").await;
    let stored = async |note: &str| {
        let mut values = Value::Null;
        for _ in 0..200 {
            let request = server.request(Method::GET, "/projects/1/sources/1").header("cookie", &ben);
            values = server.send(request, "").await.ok()["values"].clone();
            if values["note"] == note {
                return values;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("{note} in {values}")
    };
    assert_eq!(stored("hers indeed").await["name"], "A014 again");
    browser.fill("note", "hers at last").await;
    rename(4, "note", "his").await;
    browser.keys("\u{e007}").await;
    browser.says("This was changed in another window").await;
    browser.keys("\u{e007}").await;
    stored("hers at last").await;

    // A session that ends is begun again where she is, with what she has typed.
    browser.fill("note", "typed on").await;
    assert_eq!(house.people(&["password", "Ada"], "another good long word").0, 0);
    browser.keys("\u{e007}").await;
    browser.says("Log in again").await;
    browser.fill("Name", "Ada").await;
    type_in(&browser, "another good long word").await;
    browser.until("!document.body.innerText.includes('Log in again')").await;
    assert_eq!(browser.value("note").await, "typed on");

    browser.press("History").await;
    browser.says("by Ben").await;
    browser.says("by Ada").await;
    browser.keys("\u{e00c}").await;
    browser.press("Ada").await;
    browser.press("Log out").await;
    browser.says("log in to open the projects").await;
    // Who may only look is told so before trying.
    browser.fill("Name", "Cleo").await;
    type_in(&browser, PASSWORD).await;
    browser.says("look only").await;
    drop(listening);
    browser.close().await;
}

/// Presses, chooses and types everything on a page that is given to somebody, each once.
const EVERYTHING: &str = r#"
    const done = arguments[0];
    window.print = () => {};
    const rest = () => new Promise((go) => setTimeout(go, 12));
    const given = "main :is(button, input:not([type=file]), select, textarea):not(:disabled), .modal :is(button, input, select)";
    const named = (each) => `${each.tagName} ${each.id || each.ariaLabel || each.innerText}`;
    const type = (each, text) => {
      const kind = each instanceof HTMLTextAreaElement ? HTMLTextAreaElement : HTMLInputElement;
      Object.getOwnPropertyDescriptor(kind.prototype, "value").set.call(each, text);
      each.dispatchEvent(new InputEvent("input", { bubbles: true }));
    };
    const use = async (each) => {
      each.focus();
      if (each instanceof HTMLSelectElement) {
        each.selectedIndex = each.selectedIndex === 0 ? each.options.length - 1 : 0;
        each.dispatchEvent(new Event("change", { bubbles: true }));
      } else if (each.matches("button, [type=checkbox], [type=radio]")) each.click();
      else {
        type(each, each.inputMode === "decimal" ? "2" : "kiln");
        await rest();
        each.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", bubbles: true }));
        each.blur();
      }
    };
    (async () => {
      const used = new Set();
      while (used.size < 30) {
        const each = [...document.querySelectorAll(given)].find((one) => one.checkVisibility() && !used.has(named(one)));
        if (!each) break;
        used.add(named(each));
        await use(each);
        await rest();
      }
      done(used.size);
    })();
"#;

/// What the server has refused, for want of a right, to a page that used everything it is given.
async fn refused_on(browser: &Browser, path: &str) -> Vec<String> {
    browser.open(path).await;
    browser
        .until("document.querySelector('main :is(button, a[href])') && !document.querySelector('main[aria-busy]')")
        .await;
    browser.keys("tlwhnxafupcdesvoky+.,i").await;
    let used = browser.run_async(EVERYTHING).await;
    assert!(used.as_u64() > Some(0), "nothing could be used on {path}");
    let console = browser.console().await;
    console.into_iter().filter(|said| said.contains("403")).map(|said| format!("{path}: {said}")).collect()
}

#[tokio::test]
async fn what_somebody_is_given_on_a_page_is_never_refused() {
    let house = House::new();
    let server = house.serve(&[]);
    let ada = log_in(&server, "Ada").await;
    let stands = async || {
        let history = ask(&server, &ada, Method::GET, "/projects/1/history", &Value::Null).await.ok();
        let library = ask(&server, &ada, Method::GET, "/library", &Value::Null).await.ok();
        let projects = ask(&server, &ada, Method::GET, "/projects", &Value::Null).await.ok();
        (history["steps"].clone(), library, projects)
    };
    let before = stands().await;
    let browser = Browser::at(server.url()).await;
    let enter = async |name: &str| {
        browser.open("/").await;
        browser.fill("Name", name).await;
        type_in(&browser, PASSWORD).await;
        browser.see(".account").await;
    };
    enter("Cleo").await;
    let mut refused = Vec::new();
    for path in [
        "/projects/1/footage?source=5",
        "/projects/1/footage/6/sphere",
        "/projects/1/deliveries",
        "/projects/1/deliveries/library",
        "/projects/1/board",
        "/projects/1/board/points",
        "/projects/1/board/5/18",
        "/projects/1/board/10/18/proof",
    ] {
        refused.extend(refused_on(&browser, path).await);
    }
    assert!(refused.is_empty(), "{}", refused.join("\n"));
    assert_eq!(stands().await, before, "who may only look has changed something");

    // A framing is tried out all the same: its numbers come, and nothing is kept.
    browser.open("/projects/1/board/5/18").await;
    browser.fill("zoom", "1.5").await;
    browser.says("Not saved: you can look, not change.").await;
    browser.until("document.querySelector('.type-this').innerText.includes('152.6')").await;
    browser.keys("\u{e007}\u{e00c}").await;
    browser.until("!document.body.innerText.includes('Not saved')").await;
    browser.press("Fill").await;
    browser.says("Preview of Fill").await;
    assert_eq!(stands().await, before);

    // Who plans is not given what is the house's.
    browser.press("Cleo").await;
    browser.press("Log out").await;
    browser.says("log in to open the projects").await;
    enter("Ben").await;
    for path in ["/projects/1/deliveries/library", "/projects/1/deliveries?frame=18", "/projects/1/board/5/18"] {
        refused.extend(refused_on(&browser, path).await);
    }
    assert!(refused.is_empty(), "{}", refused.join("\n"));
    browser.close().await;
}

#[tokio::test]
async fn a_link_shows_the_plan_and_nothing_else_until_it_ends() {
    let house = House::new();
    let server = house.serve(&[]);
    let (ben, cleo) = (log_in(&server, "Ben").await, log_in(&server, "Cleo").await);
    let wanted = json!({ "name": "The festival", "days": 3 });
    ask(&server, &cleo, Method::POST, "/projects/1/links", &wanted).await.refusal(403);
    let long = json!({ "name": "The festival", "days": 366 });
    ask(&server, &ben, Method::POST, "/projects/1/links", &long).await.refusal(422);
    let made = ask(&server, &ben, Method::POST, "/projects/1/links", &wanted).await.ok();
    assert_eq!(made["made_by"], "Ben");
    let path = made["path"].as_str().expect("a path").to_owned();
    let look = async |path: &str| {
        let request = http::Request::get(format!("{}{path}", server.url()));
        server.send(request, "").await
    };
    let plan = look(&path).await;
    assert_eq!(plan.status, 200);
    let text = String::from_utf8_lossy(&plan.bytes).into_owned();
    assert!(text.contains("The Kiln at Saltreed") && text.contains("Festival scope") && !text.contains("<script"));
    let policy = plan.headers["content-security-policy"].to_str().expect("text");
    assert!(policy.starts_with("default-src 'none'"), "{policy}");
    // It opens nothing else.
    let cookie = plan.headers.get("set-cookie");
    assert_eq!(cookie, None);
    server.get("/projects/1/board").await.refusal(401);
    // What it is known by is not in what others read.
    let listed = ask(&server, &cleo, Method::GET, "/projects/1/links", &Value::Null).await.ok();
    assert_eq!((&listed[0]["name"], &listed[0]["path"]), (&json!("The festival"), &Value::Null));
    let number = &listed[0]["id"];
    let gone = ask(&server, &ben, Method::DELETE, &format!("/projects/1/links/{number}"), &Value::Null).await;
    assert_eq!(gone.status, 204);
    for path in [path.as_str(), "/shared/0000"] {
        let ended = look(path).await;
        assert_eq!(ended.status, 404);
        assert!(String::from_utf8_lossy(&ended.bytes).contains("This link has ended"));
    }
}

/// A certificate of its own for this machine, and the files of it and its key.
fn certificate(folder: &Path) -> (rcgen::CertifiedKey<rcgen::KeyPair>, [PathBuf; 2]) {
    let made = rcgen::generate_simple_self_signed(vec!["localhost".to_owned()]).expect("a certificate");
    let files = ["certificate.pem", "key.pem"].map(|name| folder.join(name));
    std::fs::write(&files[0], made.cert.pem()).expect("written");
    std::fs::write(&files[1], made.signing_key.serialize_pem()).expect("written");
    (made, files)
}

#[tokio::test]
async fn by_tls_cookies_are_secure_and_plain_words_get_nowhere() {
    use tokio_rustls::rustls::pki_types::ServerName;
    use tokio_rustls::rustls::{ClientConfig, RootCertStore, crypto::ring};

    let house = House::new();
    let (made, [certificate, key]) = certificate(house.folder.path());
    let [certificate, key] = [&certificate, &key].map(|path| path.to_str().expect("UTF-8").to_owned());
    let wrong = refused(&["--listen", "127.0.0.1:0", "--tls-certificate", &key, "--tls-key", &key]);
    assert!(wrong.contains("cannot be used for TLS"), "{wrong}");
    let server = house.serve(&["--tls-certificate", &certificate, "--tls-key", &key]);
    assert!(server.url().starts_with("https://127.0.0.1:"), "{}", server.url());
    let address = server.url().trim_start_matches("https://").to_owned();
    let port = address.rsplit_once(':').expect("a port").1;

    let mut roots = RootCertStore::empty();
    roots.add(made.cert.der().clone()).expect("a root");
    let config = ClientConfig::builder_with_provider(Arc::new(ring::default_provider()))
        .with_safe_default_protocol_versions()
        .expect("versions")
        .with_root_certificates(roots)
        .with_no_client_auth();
    let connector = tokio_rustls::TlsConnector::from(Arc::new(config));
    let stream = tokio::net::TcpStream::connect(&address).await.expect("a connection");
    let name = ServerName::try_from("localhost").expect("a name");
    let mut stream = connector.connect(name, stream).await.expect("TLS");
    let body = json!({ "name": "Ada", "password": PASSWORD }).to_string();
    let request = format!(
        "POST /api/v1/session HTTP/1.1\r\nHost: localhost:{port}\r\nOrigin: https://localhost:{port}\r\n\
         Content-Type: application/json\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}",
        body.len()
    );
    stream.write_all(request.as_bytes()).await.expect("sent");
    let mut answer = String::new();
    // OK because some close without saying so.
    let _ = stream.read_to_string(&mut answer).await;
    assert!(answer.starts_with("HTTP/1.1 200"), "{answer}");
    assert!(answer.contains("strict-transport-security: max-age="), "{answer}");
    assert!(answer.contains("set-cookie: __Host-ratiomet-") && answer.contains("; Secure"), "{answer}");

    let mut plain = tokio::net::TcpStream::connect(&address).await.expect("a connection");
    plain.write_all(b"GET /api/v1/health HTTP/1.1\r\nHost: localhost\r\n\r\n").await.expect("sent");
    let mut answer = Vec::new();
    // OK because it may be cut off.
    let _ = plain.read_to_end(&mut answer).await;
    assert!(!String::from_utf8_lossy(&answer).contains("HTTP/1.1 200"));
}

#[tokio::test]
async fn behind_a_proxy_the_public_address_is_ours() {
    let house = House::new();
    let file = house.file();
    let words = ["--people", file.to_str().expect("UTF-8"), "--public-url", "https://plans.example"];
    let folder = tempfile::tempdir().expect("a folder");
    // What it prints first is the address that people know, then where it listens.
    let mut child = program()
        .args(["serve", "--listen", "127.0.0.1:0", "--data"])
        .arg(folder.path().join("test.db"))
        .args(words)
        .stdout(Stdio::piped())
        .spawn()
        .expect("the program starts");
    let output = BufReader::new(child.stdout.take().expect("its output"));
    let said: Vec<String> = output.lines().take(2).map(|line| line.expect("a line")).collect();
    assert_eq!(said[0], "Ratiomet is at https://plans.example/");
    let own = said[1].strip_prefix("It listens on ").and_then(|rest| rest.split_once(". ")).expect("an address").0;
    let client = hyper_util::client::legacy::Client::builder(hyper_util::rt::TokioExecutor::new()).build_http();
    let mut statuses = Vec::new();
    for (host, origin) in [
        ("plans.example", "https://plans.example"),
        (own, "https://plans.example"),
        ("other.example", "https://plans.example"),
        ("plans.example", "https://other.example"),
    ] {
        let body = json!({ "name": "Ada", "password": PASSWORD }).to_string();
        let request = http::Request::post(format!("http://{own}/api/v1/session"))
            .header("host", host)
            .header("origin", origin)
            .header("content-type", "application/json")
            .body(http_body_util::Full::new(Bytes::from(body)))
            .expect("a request");
        let response = client.request(request).await.expect("an answer");
        if response.status() == 200 {
            assert!(response.headers()["set-cookie"].to_str().expect("text").ends_with("; Secure"));
        }
        statuses.push(response.status().as_u16());
    }
    child.kill().expect("it runs");
    child.wait().expect("it ends");
    assert_eq!(statuses, [200, 200, 421, 403]);
}
