//! The running program, on a port and a data file of its own.

use std::io::{BufRead, BufReader};
use std::ops::Deref;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::Duration;

use http::{Method, Request, StatusCode};
use http_body_util::{BodyExt, Full};
use hyper::body::Bytes;
use hyper_util::client::legacy::{Client, connect::HttpConnector};
use hyper_util::rt::TokioExecutor;
use serde_json::Value;

/// The program under test; RATIOMET_PROGRAM names another build of it.
pub fn program() -> Command {
    Command::new(std::env::var_os("RATIOMET_PROGRAM").unwrap_or_else(|| env!("CARGO_BIN_EXE_ratiomet").into()))
}

pub struct Server {
    child: Child,
    caller: Caller,
    _folder: Option<tempfile::TempDir>,
}

/// Asks a server, which may meanwhile be gone.
#[derive(Clone)]
pub struct Caller {
    url: String,
    client: Client<HttpConnector, Full<Bytes>>,
}

impl Deref for Server {
    type Target = Caller;

    fn deref(&self) -> &Caller {
        &self.caller
    }
}

/// Status, headers and body of an answer.
#[derive(Debug)]
pub struct Answer {
    pub status: StatusCode,
    pub headers: http::HeaderMap,
    pub kind: String,
    pub body: Value,
    pub bytes: Bytes,
}

impl Answer {
    #[track_caller]
    pub fn ok(self) -> Value {
        assert!(self.status.is_success(), "{self:?}");
        self.body
    }

    /// The body of a refusal, after the checks that every refusal must pass.
    #[track_caller]
    pub fn refusal(self, status: u16) -> Value {
        assert_eq!(self.status.as_u16(), status, "{self:?}");
        assert_eq!(self.kind, "application/problem+json; charset=utf-8");
        assert_eq!(self.body["status"], status);
        for field in ["type", "title", "detail", "hint"] {
            assert!(self.body[field].as_str().is_some_and(|text| !text.is_empty()), "{field}: {self:?}");
        }
        self.body
    }
}

impl Server {
    /// An empty program.
    pub fn empty() -> Self {
        Self::start("serve")
    }

    /// The demo project.
    pub fn demo() -> Self {
        Self::start("demo")
    }

    fn start(command: &str) -> Self {
        let folder = tempfile::tempdir().expect("a folder");
        let mut server = Self::start_on(command, &folder.path().join("test.db"), &[]);
        server._folder = Some(folder);
        server
    }

    pub fn start_on(command: &str, data: &Path, more: &[&str]) -> Self {
        Self::start_at(command, "127.0.0.1:0", data, more)
    }

    /// Starts at an address, such as that of a server which has gone.
    pub fn start_at(command: &str, listen: &str, data: &Path, more: &[&str]) -> Self {
        let mut child = program()
            .args([command, "--listen", listen, "--data"])
            .arg(data)
            .args(more)
            .stdout(Stdio::piped())
            .spawn()
            .expect("the program starts");
        let mut said = String::new();
        let mut output = BufReader::new(child.stdout.take().expect("its output"));
        output.read_line(&mut said).expect("its first line");
        let url = said.trim().strip_prefix("Ratiomet is at ").unwrap_or_else(|| panic!("it said {said:?}"));
        let url = url.trim_end_matches('/').to_owned();
        // The server closes what is idle after 20 s: a connection must not be taken up just then.
        let client = Client::builder(TokioExecutor::new()).pool_idle_timeout(Duration::from_secs(5)).build_http();
        Self { child, caller: Caller { url, client }, _folder: None }
    }

    /// The number of its process.
    pub fn id(&self) -> u32 {
        self.child.id()
    }

    /// Waits until it has ended by itself, and tells its exit status.
    pub fn ended(mut self) -> Option<i32> {
        self.child.wait().expect("it ends").code()
    }

    /// Ends the program at once, as a power cut would (SIGKILL).
    pub fn kill(mut self) {
        self.child.kill().expect("it runs");
        self.child.wait().expect("it ends");
    }
}

impl Caller {
    pub fn url(&self) -> &str {
        &self.url
    }

    pub async fn send(&self, request: http::request::Builder, body: &str) -> Answer {
        self.try_send(request, body).await.expect("an answer")
    }

    /// The whole answer, or none when the server has gone before it was given.
    pub async fn try_send(&self, request: http::request::Builder, body: &str) -> Option<Answer> {
        self.try_send_bytes(request, body.to_owned().into()).await
    }

    /// The same for what is no text.
    pub async fn try_send_bytes(&self, request: http::request::Builder, body: Bytes) -> Option<Answer> {
        let (status, headers, bytes) = self.try_raw(request, body).await?;
        let kind = headers.get("content-type").and_then(|kind| kind.to_str().ok()).unwrap_or("").to_owned();
        let body = serde_json::from_slice(&bytes)
            .unwrap_or_else(|_| Value::String(String::from_utf8_lossy(&bytes).into_owned()));
        Some(Answer { status, headers, kind, body, bytes })
    }

    /// An answer of which nothing is read but what it begins with.
    pub async fn try_raw(
        &self,
        request: http::request::Builder,
        body: Bytes,
    ) -> Option<(StatusCode, http::HeaderMap, Bytes)> {
        let request = request.body(Full::new(body)).expect("a request");
        let response = self.client.request(request).await.ok()?;
        let (status, headers) = (response.status(), response.headers().clone());
        // Events never end.
        let ends = headers.get("content-type").is_none_or(|kind| !kind.as_bytes().starts_with(b"text/event-stream"));
        let bytes = if ends { response.into_body().collect().await.ok()?.to_bytes() } else { Bytes::new() };
        Some((status, headers, bytes))
    }

    pub fn request(&self, method: Method, path: &str) -> http::request::Builder {
        Request::builder()
            .method(method)
            .uri(format!("{}/api/v1{path}", self.url))
            .header("content-type", "application/json")
    }

    pub async fn get(&self, path: &str) -> Answer {
        self.send(self.request(Method::GET, path), "").await
    }

    pub async fn post(&self, path: &str, body: &Value) -> Answer {
        self.send(self.request(Method::POST, path), &body.to_string()).await
    }

    /// What the calculation answers to `request`, without its kind, which is that of the request.
    pub async fn calculated(&self, request: &Value) -> Value {
        let mut answer = self.post("/calc", request).await.ok();
        let kind = answer.as_object_mut().and_then(|answer| answer.remove("kind"));
        assert_eq!(kind.as_ref(), request.get("kind"));
        answer
    }

    pub async fn put(&self, path: &str, version: i64, body: &Value) -> Answer {
        let request = self.request(Method::PUT, path).header("if-match", format!("\"{version}\""));
        self.send(request, &body.to_string()).await
    }

    pub async fn delete(&self, path: &str, version: i64) -> Answer {
        self.send(self.request(Method::DELETE, path).header("if-match", format!("\"{version}\"")), "").await
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        // OK because a program that has ended needs no end.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}
