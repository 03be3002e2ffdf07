//! What is written down is true: the examples of the API guide, the questions of the manual, its pages, and every link.

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

use http::{Method, Request};
use ratiomet_core::Finding;
use serde_json::Value;

use crate::support::{Browser, Server};

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

fn text(path: &Path) -> String {
    std::fs::read_to_string(path).unwrap_or_else(|error| panic!("{}: {error}", path.display()))
}

/// The Markdown files of a folder, without those below it.
fn pages(folder: &str) -> Vec<(PathBuf, String)> {
    let entries = std::fs::read_dir(root().join(folder)).expect("a folder");
    let paths = entries.map(|entry| entry.expect("an entry").path());
    paths
        .filter(|path| path.extension().is_some_and(|ending| ending == "md"))
        .map(|path| (path.clone(), text(&path)))
        .collect()
}

/// The blocks of a page that are fenced in a language.
fn blocks(page: &str, language: &str) -> Vec<String> {
    let fence = format!("```{language}\n");
    page.split(&fence).skip(1).filter_map(|rest| rest.split_once("\n```")).map(|(block, _)| block.to_owned()).collect()
}

/// Whether all that is expected is in an answer; lists begin alike.
fn holds(answer: &Value, expected: &Value) -> bool {
    match (answer, expected) {
        (Value::Object(answer), Value::Object(expected)) => {
            expected.iter().all(|(name, value)| answer.get(name).is_some_and(|found| holds(found, value)))
        }
        (Value::Array(answer), Value::Array(expected)) => {
            answer.len() >= expected.len() && answer.iter().zip(expected).all(|(found, value)| holds(found, value))
        }
        _ => answer == expected,
    }
}

#[tokio::test]
async fn the_examples_of_the_api_guide_are_answered_as_they_say() {
    let server = Server::demo();
    let guide = text(&root().join("docs/API.md"));
    let (asked, answered) = (blocks(&guide, "http"), blocks(&guide, "json"));
    assert!(asked.len() > 8 && asked.len() == answered.len(), "{} and {}", asked.len(), answered.len());
    for (request, expected) in asked.iter().zip(&answered) {
        let mut lines = request.lines();
        let (method, address) = lines.next().and_then(|line| line.split_once(' ')).expect("a request line");
        let method: Method = method.parse().expect("a method");
        let mut sent = Request::builder().method(method).uri(format!("{}{address}", server.url()));
        sent = sent.header("content-type", "application/json");
        let mut body = String::new();
        for line in lines {
            match line.split_once(": ") {
                Some((name, value)) if !line.starts_with('{') => sent = sent.header(name, value),
                _ => body += line,
            }
        }
        let answer = server.send(sent, &body).await;
        let expected: Value = serde_json::from_str(expected).unwrap_or_else(|error| panic!("{expected}: {error}"));
        let status = expected.get("status").and_then(Value::as_u64).unwrap_or(200);
        assert_eq!(u64::from(answer.status.as_u16()), status, "{request}: {}", answer.body);
        assert!(holds(&answer.body, &expected), "{request} gives {:#}", answer.body);
    }
}

#[tokio::test]
async fn every_question_of_the_manual_is_answered_and_every_page_is_there() {
    let server = Server::empty();
    let mut addresses = BTreeSet::new();
    let (mut questions, mut linked) = (0, Vec::new());
    for (path, page) in pages("web/src/manual/pages") {
        for question in blocks(&page, "ask") {
            let query: String = form_urlencoded::Serializer::new(String::new()).append_pair("q", &question).finish();
            let answer = server.get(&format!("/ask?{query}")).await.ok();
            assert!(answer["answer"]["sentence"].is_string(), "{}: {question}: {answer}", path.display());
            questions += 1;
        }
        for address in page.split("{#").skip(1) {
            let address = address.split_once('}').expect("an end").0;
            assert!(addresses.insert(address.to_owned()), "{address} twice");
        }
        linked.extend(page.split("](#").skip(1).map(|rest| rest.split_once(')').expect("an end").0.to_owned()));
    }
    assert!(questions > 5);
    for link in linked {
        assert!(addresses.contains(&link), "#{link} is nowhere");
    }
    let findings: BTreeSet<String> = Finding::CODES.iter().map(|code| format!("finding/{code}")).collect();
    let written: BTreeSet<String> = addresses.iter().filter(|each| each.starts_with("finding/")).cloned().collect();
    assert_eq!(written, findings);
}

#[tokio::test]
async fn help_is_there_where_one_is_and_the_tour_leads_through_the_screens() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/").await;
    for (path, title) in [
        ("/", "Projects"),
        ("/projects/1/board", "Board"),
        ("/projects/1/board/1/17", "Framing"),
        ("/projects/1/board/points", "Open points"),
        ("/projects/1/board/proof", "Proof of the board"),
        ("/projects/1/board/1/17/proof", "Proof"),
        ("/projects/1/footage", "Footage"),
        ("/projects/1/footage/files", "Read files"),
        ("/projects/1/footage/paste", "Paste list"),
        ("/projects/1/footage/6/sphere", "Sphere"),
        ("/projects/1/deliveries", "Deliveries"),
        ("/projects/1/deliveries/ways", "Working frames"),
        ("/projects/1/deliveries/library", "Frame library"),
        ("/projects/1/handoff", "Hand-off"),
        ("/slide-rule", "Slide rule"),
        ("/tables", "Tables"),
        ("/about", "About"),
    ] {
        browser.go(path).await;
        browser.press("Help").await;
        browser.until(&format!("document.querySelector('#help-title')?.innerText === '{title}'")).await;
        browser.keys("\u{e00c}").await;
        browser.until("!document.querySelector('.modal')").await;
    }
    // From a finding to its page, from there to the manual, which is searched.
    browser.open("/projects/1/board/1/17").await;
    browser.press("What is this? Enlarged on one axis").await;
    browser.says("noted so that nobody wonders").await;
    // By its key: a pointer may miss it while its example arrives above it.
    browser
        .run("[...document.querySelectorAll('.modal a')].find(a => a.innerText === 'Open the manual here').focus()")
        .await;
    browser.keys("\u{e007}").await;
    browser.until("document.getElementById('finding/enlarged_one_way')?.getBoundingClientRect().top < 400").await;
    browser.says("keeps 74.4 %").await;
    browser.until("document.querySelectorAll('.worked svg.drawing').length > 4").await;
    browser.see("[aria-label='Search the manual']").await.send_keys("anamorphic").await.expect("typed");
    browser.until("document.querySelectorAll('.manual article').length === 1").await;
    // It is also found from anywhere.
    browser.open("/projects/1/board").await;
    browser.press("Find").await;
    browser.keys("horizon").await;
    browser.says("screens, in the manual").await;
    browser.keys("\u{e00c}").await;

    browser.press("Help").await;
    browser.press("Take the tour").await;
    for path in ["/board", "/board/points", "/board/1/17", "/footage", "/handoff"] {
        if path != "/board" {
            browser.press("Next").await;
        } else {
            browser.says("1 of 7").await;
            browser.press("Next").await;
            browser.says("2 of 7").await;
        }
        browser.until(&format!("location.pathname === '/projects/1{path}'")).await;
    }
    browser.press("Back").await;
    browser.until("location.pathname === '/projects/1/footage'").await;
    // Out of the way of what it covers, and back.
    let left = "return document.querySelector('.tour').getBoundingClientRect().left";
    let before = browser.run(left).await.as_f64();
    browser.press("Move aside").await;
    assert!(browser.run(left).await.as_f64() < before.map(|left| left / 2.0));
    browser.press("Leave tour").await;
    browser.until("document.querySelector('.tour') === null").await;
    browser.client.refresh().await.expect("a reload");
    browser.says("A014 Furnace mouth").await;
    assert_eq!(browser.run("return document.querySelector('.tour')").await, Value::Null);
    browser.close().await;
}

/// As headings are addressed where Markdown is shown: small letters, hyphens for blanks, without punctuation.
fn anchors(page: &str) -> BTreeSet<String> {
    let headings =
        page.lines().filter_map(|line| line.strip_prefix('#')).map(|line| line.trim_start_matches('#').trim());
    let anchor = |heading: &str| {
        let kept = heading
            .to_lowercase()
            .chars()
            .filter(|each| each.is_alphanumeric() || " -_".contains(*each))
            .collect::<String>();
        kept.replace(' ', "-")
    };
    headings.map(anchor).collect()
}

#[test]
fn every_link_of_the_documents_leads_somewhere() {
    let mut checked = 0;
    for (path, page) in pages(".").into_iter().chain(pages("docs")) {
        for link in page.split("](").skip(1) {
            let link = link.split_once(')').expect("an end").0;
            if link.starts_with("http") {
                continue;
            }
            let (file, anchor) = link.split_once('#').unwrap_or((link, ""));
            let to = if file.is_empty() { path.clone() } else { path.parent().expect("a folder").join(file) };
            assert!(to.exists(), "{}: {link}", path.display());
            assert!(anchor.is_empty() || anchors(&text(&to)).contains(anchor), "{}: {link}", path.display());
            checked += 1;
        }
    }
    assert!(checked > 30, "{checked}");
}

/// Every file and folder under a folder, as paths from the root of the project; without what is installed and built.
fn paths(folder: &Path, under: &str, all: &mut Vec<String>) {
    for entry in std::fs::read_dir(folder).expect("a folder") {
        let entry = entry.expect("an entry");
        let path = format!("{under}/{}", entry.file_name().to_string_lossy());
        if path.ends_with("/node_modules") || path.ends_with("/dist") {
            continue;
        }
        if entry.file_type().expect("a type").is_dir() {
            all.push(format!("{path}/"));
            paths(&entry.path(), &path, all);
        } else {
            all.push(path);
        }
    }
}

#[test]
fn the_map_names_what_is_there() {
    let mut there = Vec::new();
    for part in ["crates", "web", "xtask"] {
        paths(&root().join(part), &format!("/{part}"), &mut there);
    }
    let map = text(&root().join("docs/ARCHITECTURE.md"));
    let is_place = |name: &&str| {
        !name.contains([' ', ':'])
            && (name.ends_with('/') || [".rs", ".tsx", ".ts", ".json"].iter().any(|end| name.ends_with(end)))
    };
    let named: BTreeSet<&str> = map.split('`').skip(1).step_by(2).filter(is_place).collect();
    // A crate is named by itself, without its folder of sources.
    let is_there = |name: &&&str| {
        let end = format!("/{name}");
        let of_crate = name.split_once('/').map(|(part, rest)| format!("/{part}/src/{rest}"));
        there.iter().any(|path| path.ends_with(&end) || of_crate.as_ref().is_some_and(|of| path.ends_with(of)))
    };
    let missing: Vec<_> = named.iter().filter(|name| !is_there(name)).collect();
    assert!(missing.is_empty() && named.len() > 60, "{missing:?} of {}", named.len());
}
