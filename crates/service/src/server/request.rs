//! Parts of a request, each refused with a problem document when it is not sound.

use std::convert::Infallible;
use std::fs::File;
use std::io::{Read, Seek, SeekFrom};
use std::time::{Duration, Instant};

use axum::body::Bytes;
use axum::extract::{FromRequest, FromRequestParts, Path, Request};
use axum::http::{header, request::Parts};
use headers::{ETag, HeaderMapExt, IfMatch};
use http_body_util::BodyExt;
use ratiomet_wire::describe::Json;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::read::Reader;
use serde::de::DeserializeOwned;
use tokio::io::{AsyncWrite, AsyncWriteExt};

use super::refusal::Refusal;

/// The largest body of a plain request.
const LARGEST_BODY: usize = 1 << 20;
/// The largest file or list that is read.
const LARGEST_FILE: usize = 32 << 20;
/// The most bytes of slices of files that one request holds.
const LARGEST_SLICES: usize = 24 << 20;
/// The longest still that is read.
const LARGEST_STILL: usize = 512 << 20;
/// How long a body may pause, and how many bytes a second of it must come on the whole.
const PAUSE: Duration = Duration::from_secs(20);
const SLOWEST: u64 = 16 << 10;
/// How much of a longer one is read all the same.
const THROWN_AWAY: usize = 64 << 20;
/// Longer bodies than this are not read on the threads that answer requests.
const QUICK: usize = 1 << 14;

/// A JSON body, by its description.
pub struct Body<T>(pub T);

impl<S: Send + Sync, T: Json + Send + 'static> FromRequest<S> for Body<T> {
    type Rejection = Refusal;

    async fn from_request(request: Request, _: &S) -> Result<Self, Refusal> {
        read(json(request, LARGEST_BODY).await?).await.map(Self)
    }
}

/// A JSON body that may be long: a list, an edit of many records.
pub struct LongBody<T>(pub T);

impl<S: Send + Sync, T: Json + Send + 'static> FromRequest<S> for LongBody<T> {
    type Rejection = Refusal;

    async fn from_request(request: Request, _: &S) -> Result<Self, Refusal> {
        read(json(request, LARGEST_FILE).await?).await.map(Self)
    }
}

/// A JSON body that is not interpreted yet.
pub struct Text(pub Bytes);

impl<S: Send + Sync> FromRequest<S> for Text {
    type Rejection = Refusal;

    async fn from_request(request: Request, _: &S) -> Result<Self, Refusal> {
        json(request, LARGEST_BODY).await.map(Self)
    }
}

/// A file of ours, which may be long.
pub struct FileText(pub Bytes);

impl<S: Send + Sync> FromRequest<S> for FileText {
    type Rejection = Refusal;

    async fn from_request(request: Request, _: &S) -> Result<Self, Refusal> {
        json(request, LARGEST_FILE).await.map(Self)
    }
}

/// Slices of a file of somebody else, one after the other.
pub struct Slices(pub Bytes);

impl<S: Send + Sync> FromRequest<S> for Slices {
    type Rejection = Refusal;

    async fn from_request(request: Request, _: &S) -> Result<Self, Refusal> {
        collect(request.into_body(), LARGEST_SLICES).await.map(Self)
    }
}

/// A still or an archive of stills, which may be long: it lies on disk until there is room to work on it.
pub struct Upload {
    file: File,
    length: usize,
}

impl Upload {
    /// Its bytes.
    pub fn read(mut self) -> Result<Vec<u8>, Refusal> {
        let mut bytes = Vec::with_capacity(self.length);
        self.file.seek(SeekFrom::Start(0)).and_then(|_| self.file.read_to_end(&mut bytes)).map_err(no_disk)?;
        Ok(bytes)
    }
}

impl<S: Send + Sync> FromRequest<S> for Upload {
    type Rejection = Refusal;

    async fn from_request(request: Request, _: &S) -> Result<Self, Refusal> {
        let file = tempfile::tempfile().map_err(no_disk)?;
        let mut file = tokio::fs::File::from_std(file);
        let length = receive(request.into_body(), LARGEST_STILL, &mut file).await?;
        Ok(Self { file: file.into_std().await, length })
    }
}

#[expect(clippy::needless_pass_by_value, reason = "the shape that errors are mapped by")]
fn no_disk(error: std::io::Error) -> Refusal {
    let folder = std::env::temp_dir();
    Problem::new(
        503,
        "no_room",
        "The file cannot be kept",
        format!("It cannot be written in {} for now: {error}.", folder.display()),
        "Make room there, or start the server with TMPDIR set to a folder with room.",
    )
    .into()
}

async fn read<T: Json + Send + 'static>(text: Bytes) -> Result<T, Refusal> {
    if text.len() <= QUICK {
        return Ok(Reader::request(&text)?);
    }
    let read = tokio::task::spawn_blocking(move || Reader::request(&text));
    Ok(read.await.map_err(|_| Refusal::internal())??)
}

async fn json(request: Request, largest: usize) -> Result<Bytes, Refusal> {
    let kind = request.headers().get(header::CONTENT_TYPE).and_then(|kind| kind.to_str().ok()).unwrap_or("");
    let essence = kind.split(';').next().unwrap_or("").trim();
    if !essence.eq_ignore_ascii_case("application/json") {
        return Err(Problem::new(
            415,
            "content_type",
            "The body is not announced as JSON",
            format!("The Content-Type is {essence:?}."),
            "Send Content-Type: application/json.",
        )
        .into());
    }
    collect(request.into_body(), largest).await
}

async fn collect(body: axum::body::Body, largest: usize) -> Result<Bytes, Refusal> {
    let mut kept = Vec::new();
    receive(body, largest, &mut kept).await?;
    Ok(kept.into())
}

/// The whole body, and how long it is. One that is too long is read on, up to a point, and thrown away: a caller who
/// is cut off while sending never sees the answer.
async fn receive(
    mut body: axum::body::Body,
    largest: usize,
    kept: &mut (impl AsyncWrite + Unpin),
) -> Result<usize, Refusal> {
    let mut length = 0;
    let began = Instant::now();
    loop {
        let frame = tokio::time::timeout(PAUSE, body.frame()).await.map_err(|_| Refusal::too_slow())?;
        let Some(frame) = frame else { break };
        if began.elapsed().as_secs() > PAUSE.as_secs() + length as u64 / SLOWEST {
            return Err(Refusal::too_slow());
        }
        let frame = frame.map_err(|error| Problem::syntax(&format!("the body broke off: {error}")))?;
        let Ok(data) = frame.into_data() else { continue };
        length += data.len();
        if length <= largest {
            kept.write_all(&data).await.map_err(no_disk)?;
        } else if length > THROWN_AWAY {
            break;
        }
    }
    if length > largest {
        return Err(Problem::too_long(largest).into());
    }
    kept.flush().await.map_err(no_disk)?;
    Ok(length)
}

/// Numbers in the address.
pub struct Numbers<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequestParts<S> for Numbers<T> {
    type Rejection = Refusal;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Refusal> {
        match Path::<T>::from_request_parts(parts, state).await {
            Ok(Path(numbers)) => Ok(Self(numbers)),
            Err(_) => Err(Refusal::unknown_path(parts.uri.path())),
        }
    }
}

/// The query of the address, by its description.
pub struct Query<T>(pub T);

impl<S: Send + Sync, T: Json> FromRequestParts<S> for Query<T> {
    type Rejection = Refusal;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Refusal> {
        let query = parts.uri.query().unwrap_or("");
        let pairs: Vec<_> = form_urlencoded::parse(query.as_bytes()).into_owned().collect();
        Ok(Self(Reader::query(&pairs)?))
    }
}

/// Whether who asks takes answers that are packed by gzip.
pub struct TakesGzip(pub bool);

impl<S: Send + Sync> FromRequestParts<S> for TakesGzip {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Infallible> {
        let given = parts.headers.get_all(header::ACCEPT_ENCODING).iter().filter_map(|value| value.to_str().ok());
        let takes = |coding: &str| {
            let (name, weight) = coding.split_once(';').unwrap_or((coding, "q=1"));
            let weight = weight.trim().strip_prefix("q=").and_then(|weight| weight.parse::<f32>().ok());
            name.trim().eq_ignore_ascii_case("gzip") && weight.is_none_or(|weight| weight > 0.0)
        };
        Ok(Self(given.flat_map(|codings| codings.split(',')).any(takes)))
    }
}

/// The entity tag of a version (RFC 9110).
pub fn entity_tag(version: i32) -> ETag {
    format!("\"{version}\"").parse().expect("a number between quotation marks is an entity tag")
}

/// The version that a write starts from, as `If-Match` names it.
pub struct Version(IfMatch);

impl Version {
    /// Whether it is this one.
    pub fn is(&self, version: i32) -> bool {
        self.0.precondition_passes(&entity_tag(version))
    }
}

impl<S: Send + Sync> FromRequestParts<S> for Version {
    type Rejection = Refusal;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Refusal> {
        let given =
            parts.headers.get(header::IF_MATCH).and_then(|value| value.to_str().ok()).unwrap_or_default().trim();
        let is_number = |text: &str| !text.is_empty() && text.bytes().all(|byte| byte.is_ascii_digit());
        // A bare number is meant as the tag of that version.
        if let Some(version) = Some(given).filter(|given| is_number(given)).and_then(|given| given.parse().ok()) {
            return Ok(Self(entity_tag(version).into()));
        }
        // Tags are those of versions; "any version" is none that somebody has seen.
        let is_tag =
            |tag: &str| tag.trim().strip_prefix('"').and_then(|tag| tag.strip_suffix('"')).is_some_and(is_number);
        let named = parts.headers.typed_get::<IfMatch>().filter(|_| given.split(',').all(is_tag));
        named.map(Self).ok_or_else(Refusal::version_required)
    }
}
