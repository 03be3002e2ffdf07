//! Headless Chromium, driven as a person would: by pointer and keys. Three at most are started and kept
//! for all tests, which take turns; each gets a window of its own, and nothing that another left.

use std::io::{BufRead, BufReader};
use std::process::{Child, ChildStdin, Command, Stdio};
use std::sync::{LazyLock, Mutex};
use std::time::Duration;

use fantoccini::actions::{InputSource, KeyAction, KeyActions, MOUSE_BUTTON_LEFT, MouseActions, PointerAction};
use fantoccini::elements::Element;
use fantoccini::error::CmdError;
use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, ClientBuilder, Locator};
use serde_json::{Value, json};
use tokio::runtime::Runtime;
use tokio::sync::{Semaphore, SemaphorePermit};

/// How many tests may drive a browser at the same time.
const AT_ONCE: u32 = 3;
static TURNS: Semaphore = Semaphore::const_new(AT_ONCE as usize);

/// The browsers that no test drives at the moment.
static KEPT: Mutex<Vec<Session>> = Mutex::new(Vec::new());

/// What carries the commands of sessions that outlive the runtime of the test they were started in.
static CARRIER: LazyLock<Runtime> = LazyLock::new(|| {
    tokio::runtime::Builder::new_multi_thread().worker_threads(1).enable_all().build().expect("a runtime")
});

/// How long something may take to appear.
const PATIENCE: Duration = Duration::from_secs(30);
const LOOK_AGAIN: Duration = Duration::from_millis(20);

pub struct Browser {
    pub client: Client,
    base: String,
    session: Session,
    _turn: SemaphorePermit<'static>,
}

struct Session {
    client: Client,
    _driver: Driver,
}

/// ChromeDriver in a process group of its own, behind a shell that ends the group and removes the
/// browser's files when this process is gone, however it went.
struct Driver {
    shell: Child,
    line: Option<ChildStdin>,
    port: u16,
}

impl Driver {
    /// Starts it; one that dies before it has said its port is started again.
    fn start() -> Self {
        (0..3).find_map(|_| Self::try_start()).expect("chromedriver starts")
    }

    fn try_start() -> Option<Self> {
        // The shell lets go of the output, so that it ends when the driver does.
        let script = "set -m; chromedriver --port=0 & driver=$!; exec >&-; read -r _; kill -- -$driver 2>/dev/null; wait; \
             rm -rf \"$1\" || { sleep 1; rm -rf \"$1\"; }";
        let files = tempfile::tempdir().expect("a folder").keep().display().to_string();
        let mut shell = Command::new("bash")
            .args(["-c", script, "bash", &files])
            .env("TMPDIR", &files)
            .current_dir(&files)
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .expect("bash starts");
        let line = shell.stdin.take();
        let mut output = BufReader::new(shell.stdout.take().expect("its output"));
        let mut said = String::new();
        let port = loop {
            said.clear();
            if output.read_line(&mut said).expect("its output") == 0 {
                drop(line);
                // OK because the shell ends when its line is cut.
                let _ = shell.wait();
                return None;
            }
            if let Some((_, rest)) = said.split_once("successfully on port ") {
                break rest.trim().trim_end_matches('.').parse().expect("a port");
            }
        };
        // Its further words must be read, or it stops when the pipe is full.
        std::thread::spawn(move || std::io::copy(&mut output, &mut std::io::sink()));
        Some(Self { shell, line, port })
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        drop(self.line.take());
        // OK because the shell ends when its line is cut.
        let _ = self.shell.wait();
    }
}

/// A command of the browser's own protocol.
#[derive(Debug)]
struct Devtools(&'static str, Value);

impl WebDriverCompatibleCommand for Devtools {
    fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
        base.join(&format!("session/{}/goog/cdp/execute", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(json!({ "cmd": self.0, "params": self.1 }).to_string()))
    }
}

/// What the page has written to its console since it was last asked.
#[derive(Debug)]
struct ConsoleLog;

impl WebDriverCompatibleCommand for ConsoleLog {
    fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
        base.join(&format!("session/{}/se/log", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(json!({ "type": "browser" }).to_string()))
    }
}

impl Session {
    async fn start() -> Self {
        let driver = Driver::start();
        let arguments = [
            "--headless",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--disable-dev-shm-usage",
            "--force-device-scale-factor=1",
            "--window-size=1280,800",
        ];
        let capabilities = json!({
            "goog:loggingPrefs": { "browser": "ALL" },
            "goog:chromeOptions": { "binary": "/usr/bin/chromium-headless-shell", "args": arguments },
        });
        let Value::Object(capabilities) = capabilities else { unreachable!() };
        let address = format!("http://127.0.0.1:{}", driver.port);
        let connecting = CARRIER.spawn(async move {
            let connector = hyper_util::client::legacy::connect::HttpConnector::new();
            ClientBuilder::new(connector).capabilities(capabilities).connect(&address).await
        });
        let client = connecting.await.expect("a session").expect("a browser session");
        Self { client, _driver: driver }
    }

    /// Leaves the windows of the test before behind, for one that nothing was done in.
    async fn renew(&self) -> Result<(), CmdError> {
        let before = self.client.windows().await?;
        let new = self.client.new_window(true).await?.handle;
        for window in before {
            self.client.switch_to_window(window).await?;
            self.client.close_window().await?;
        }
        self.client.switch_to_window(new).await?;
        // OK to read and forget because it is what the test before has left.
        self.client.issue_cmd(ConsoleLog).await?;
        Ok(())
    }
}

impl Browser {
    /// A browser of exactly 1280 by 800 for the pages at an address.
    pub async fn at(base: &str) -> Self {
        Self::start(base, 1).await
    }

    /// The same while no other is driven, for what is watched frame by frame.
    pub async fn alone_at(base: &str) -> Self {
        Self::start(base, AT_ONCE).await
    }

    async fn start(base: &str, turns: u32) -> Self {
        let turn = TURNS.acquire_many(turns).await.expect("turns never end");
        let kept = KEPT.lock().expect("no test fails while it holds it").pop();
        let session = match kept {
            Some(kept) if kept.renew().await.is_ok() => kept,
            _ => Session::start().await,
        };
        let browser = Self { client: session.client.clone(), base: base.to_owned(), session, _turn: turn };
        browser.size(1280, 800).await;
        // A port may come again, and with it what its pages have remembered.
        let origin = json!({ "origin": base, "storageTypes": "all" });
        browser.devtools("Storage.clearDataForOrigin", origin).await;
        browser
    }

    pub async fn devtools(&self, command: &'static str, parameters: Value) {
        self.client.issue_cmd(Devtools(command, parameters)).await.expect(command);
    }

    pub async fn size(&self, width: u32, height: u32) {
        let metrics = json!({ "width": width, "height": height, "deviceScaleFactor": 1, "mobile": false });
        self.devtools("Emulation.setDeviceMetricsOverride", metrics).await;
    }

    /// By day (`light`) or by night (`dark`), as the system says that the browser runs on.
    pub async fn by(&self, scheme: &str) {
        let media = json!({ "features": [{ "name": "prefers-color-scheme", "value": scheme }] });
        self.devtools("Emulation.setEmulatedMedia", media).await;
    }

    /// Letters of a size that somebody has set in the browser; 16 is what it has by itself.
    pub async fn letters(&self, size: u32) {
        self.devtools("Page.setFontSizes", json!({ "fontSizes": { "standard": size } })).await;
    }

    pub async fn open(&self, path: &str) {
        self.client.goto(&format!("{}{path}", self.base)).await.expect("the page");
    }

    /// Goes on to another screen of the page that is open, as its links do.
    pub async fn go(&self, path: &str) {
        let there = json!(path);
        let step = format!("history.pushState({{ key: crypto.randomUUID() }}, '', {there})");
        self.run(&format!("{step}; dispatchEvent(new PopStateEvent('popstate'))")).await;
    }

    pub async fn path(&self) -> String {
        self.client.current_url().await.expect("an address").path().to_owned()
    }

    pub async fn see(&self, css: &str) -> Element {
        self.find(Locator::Css(css)).await
    }

    async fn find(&self, what: Locator<'_>) -> Element {
        match self.client.wait().at_most(PATIENCE).every(LOOK_AGAIN).for_element(what).await {
            Ok(element) => element,
            Err(error) => panic!("{what:?} did not appear: {error}; the page says: {}", self.text().await),
        }
    }

    /// All that is written on the page.
    pub async fn text(&self) -> String {
        self.run("return document.body.innerText").await.as_str().unwrap_or_default().to_owned()
    }

    pub async fn run(&self, script: &str) -> Value {
        self.client.execute(script, vec![]).await.unwrap_or_else(|error| panic!("{script}: {error}"))
    }

    pub async fn run_async(&self, script: &str) -> Value {
        self.client.execute_async(script, vec![]).await.unwrap_or_else(|error| panic!("{script}: {error}"))
    }

    /// Waits until a condition is met. The page itself looks again and again: asking it from outside takes longer than
    /// looking. Where it makes way for another page meanwhile, that one is asked.
    pub async fn until(&self, condition: &str) {
        let start = std::time::Instant::now();
        loop {
            let left = PATIENCE.saturating_sub(start.elapsed()).as_millis();
            let script = format!(
                "const [done, end] = [arguments[0], Date.now() + {left}];
                const met = () => {{ try {{ return Boolean({condition}) }} catch {{ return false }} }};
                const look = () => met() ? done(true) : Date.now() > end ? done(false) : setTimeout(look, 25);
                look()"
            );
            match self.client.execute_async(&script, vec![]).await {
                Ok(Value::Bool(true)) => return,
                Err(_) if start.elapsed() < PATIENCE => tokio::time::sleep(LOOK_AGAIN).await,
                other => panic!("not reached: {condition} ({other:?}); the page says: {}", self.text().await),
            }
        }
    }

    /// Waits until what the page has come to is on the screen, in its final place.
    pub async fn painted(&self) {
        self.run_async("const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => done()))")
            .await;
    }

    /// Waits until the page says something.
    pub async fn says(&self, text: &str) {
        self.until(&format!("document.body.innerText.includes({})", json!(text))).await;
    }

    /// Clicks on the button or link of that name.
    pub async fn press(&self, name: &str) {
        let by_name = format!(
            "//*[self::a or self::button][@aria-label='{name}' or normalize-space(.)='{name}' or \
             starts-with(normalize-space(.), '{name} ')]"
        );
        loop {
            match self.find(Locator::XPath(&by_name)).await.click().await {
                // The page has drawn it anew since it was found.
                Err(error) if error.is_stale_element_reference() => {}
                done => return done.unwrap_or_else(|error| panic!("cannot press {name}: {error}")),
            }
        }
    }

    pub async fn click(&self, element: Element) {
        if let Err(error) = element.click().await {
            panic!("cannot click: {error}");
        }
    }

    /// The field behind a label.
    pub async fn field(&self, label: &str) -> Element {
        let by_label = format!(
            "//label[normalize-space(.)='{label}']/..//*[self::input or self::select] | \
             //*[self::input or self::select][@aria-label='{label}']"
        );
        self.find(Locator::XPath(&by_label)).await
    }

    /// Types over what stands in a field, without leaving it.
    pub async fn fill(&self, label: &str, text: &str) {
        let field = self.field(label).await;
        field.click().await.expect("the field");
        self.chord('\u{e009}', 'a').await;
        self.keys(if text.is_empty() { "\u{e017}" } else { text }).await;
    }

    /// Pastes text into what has the focus.
    pub async fn paste(&self, text: &str) {
        let script = "const data = new DataTransfer(); data.setData('text/plain', arguments[0]); \
                      document.activeElement.dispatchEvent(new ClipboardEvent('paste', \
                      { clipboardData: data, bubbles: true, cancelable: true }))";
        self.client.execute(script, vec![json!(text)]).await.expect("a paste");
    }

    /// What stands in a field.
    pub async fn value(&self, label: &str) -> String {
        self.field(label).await.prop("value").await.expect("a value").unwrap_or_default()
    }

    /// Presses keys, wherever the focus is.
    pub async fn keys(&self, text: &str) {
        let mut actions = KeyActions::new("keys".to_owned());
        for value in text.chars() {
            actions = actions.then(KeyAction::Down { value }).then(KeyAction::Up { value });
        }
        self.perform(actions).await.expect("keys");
    }

    pub async fn chord(&self, held: char, value: char) {
        self.chord_of(&[held], value).await;
    }

    /// A key while others are held.
    pub async fn chord_of(&self, held: &[char], value: char) {
        let mut actions = KeyActions::new("keys".to_owned());
        for value in held.iter().copied().chain([value]) {
            actions = actions.then(KeyAction::Down { value });
        }
        for value in held.iter().copied().chain([value]).rev() {
            actions = actions.then(KeyAction::Up { value });
        }
        self.perform(actions).await.expect("keys");
    }

    /// Rests the pointer on a thing.
    pub async fn hover(&self, element: &Element) {
        let element = element.clone();
        let rest = PointerAction::MoveToElement { element, duration: None, x: 0.0, y: 0.0 };
        self.client.perform_actions(MouseActions::new("mouse".to_owned()).then(rest)).await.expect("a move");
    }

    /// Whatever a mouse does.
    pub async fn mouse(&self, actions: MouseActions) {
        self.client.perform_actions(actions).await.expect("done");
    }

    /// Takes hold of a thing in its middle and drags it so many pixels, in steps of a screen each.
    pub async fn drag(&self, css: &str, x: f64, y: f64, steps: u32) {
        loop {
            let element = self.see(css).await;
            let rest = PointerAction::MoveToElement { element, duration: None, x: 0.0, y: 0.0 };
            match self.client.perform_actions(MouseActions::new("mouse".to_owned()).then(rest)).await {
                // The page has drawn it anew since it was found.
                Err(error) if error.is_stale_element_reference() => {}
                done => break done.unwrap_or_else(|error| panic!("cannot take hold of {css}: {error}")),
            }
        }
        let mut actions = MouseActions::new("mouse".to_owned()).then(PointerAction::Down { button: MOUSE_BUTTON_LEFT });
        for step in 1..=steps {
            // Each step goes on from where the one before has ended, so that nothing is lost by rounding.
            let at = |way: f64, step: u32| (way * f64::from(step) / f64::from(steps)).round();
            let along = |way: f64| at(way, step) - at(way, step - 1);
            let duration = Some(Duration::from_millis(16));
            actions = actions.then(PointerAction::MoveBy { duration, x: along(x), y: along(y) });
        }
        let actions = actions.then(PointerAction::Up { button: MOUSE_BUTTON_LEFT });
        self.client.perform_actions(actions).await.expect("a drag");
    }

    /// Fingers on the page: each step says where all of them are; the last one lifts them.
    pub async fn touch(&self, steps: &[&[(f64, f64)]]) {
        for (at, fingers) in steps.iter().enumerate() {
            let kind = if at == 0 { "touchStart" } else { "touchMove" };
            let points: Vec<_> = (0..).zip(*fingers).map(|(id, (x, y))| json!({ "x": x, "y": y, "id": id })).collect();
            self.devtools("Input.dispatchTouchEvent", json!({ "type": kind, "touchPoints": points })).await;
        }
        self.devtools("Input.dispatchTouchEvent", json!({ "type": "touchEnd", "touchPoints": [] })).await;
    }

    async fn perform(&self, actions: KeyActions) -> Result<(), CmdError> {
        self.client.perform_actions(actions).await
    }

    /// Presses Tab until the thing of that name, label or title has the focus.
    pub async fn tab_to(&self, name: &str) {
        let focused = "const e = document.activeElement; return e === document.body ? '' : \
                       [e.getAttribute('aria-label'), e.labels && e.labels[0] && e.labels[0].innerText, e.innerText]\
                       .filter(Boolean).join('|')";
        let mut seen = Vec::new();
        for _ in 0..90 {
            self.keys("\u{e004}").await;
            let now = self.run(focused).await.as_str().unwrap_or_default().to_owned();
            if now.split('|').any(|part| part.trim() == name || part.trim().starts_with(&format!("{name} "))) {
                return;
            }
            seen.push(now);
        }
        panic!("Tab never reached {name}; it reached {seen:?}");
    }

    /// What the page has written to its console since it was last asked. The browser writes a line
    /// for every refused request; those of drafts (status 422) belong to the work and are left out.
    pub async fn console(&self) -> Vec<String> {
        let log = self.client.issue_cmd(ConsoleLog).await.expect("the console");
        let entries = log.as_array().cloned().unwrap_or_default();
        let messages = entries.iter().map(|entry| entry["message"].as_str().unwrap_or_default().to_owned());
        messages.filter(|message| !message.contains("responded with a status of 422")).collect()
    }

    pub async fn console_is_empty(&self) {
        assert_eq!(self.console().await, [""; 0], "the console is not empty");
    }

    /// Leaves the browser to the next test. A test that fails does not come so far, and its browser
    /// ends with it.
    pub async fn close(self) {
        KEPT.lock().expect("no test fails while it holds it").push(self.session);
    }
}
