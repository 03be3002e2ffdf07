//! Parts of a request, each refused with a problem document when it is not sound.

use axum::body::Bytes;
use axum::extract::{FromRequest, FromRequestParts, Path, Request};
use axum::http::{header, request::Parts};
use http_body_util::BodyExt;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::read::{Field, Reader};
use serde::de::DeserializeOwned;

use super::refusal::Refusal;

/// The largest body of a plain request.
pub const LARGEST_BODY: usize = 1 << 20;
/// The largest file or list that is read.
pub const LARGEST_FILE: usize = 32 << 20;
/// How much of a longer one is read all the same.
const THROWN_AWAY: usize = 64 << 20;

/// A JSON body, not yet interpreted.
pub struct Body(Bytes);

impl Body {
    /// What `read` makes of the body, or every bad field of it.
    pub fn read<T>(&self, read: impl FnOnce(&Field<'_>) -> Option<T>) -> Result<T, Refusal> {
        Ok(Reader::read(&self.0, read)?)
    }

    /// The text.
    pub fn bytes(&self) -> &[u8] {
        &self.0
    }
}

/// A JSON body that may be long: a file, a list, an edit of many records.
pub struct LongBody(Body);

impl LongBody {
    /// What `read` makes of the body, or every bad field of it.
    pub fn read<T>(&self, read: impl FnOnce(&Field<'_>) -> Option<T>) -> Result<T, Refusal> {
        self.0.read(read)
    }
}

impl<S: Send + Sync> FromRequest<S> for Body {
    type Rejection = Refusal;

    async fn from_request(request: Request, _: &S) -> Result<Self, Refusal> {
        json(request, LARGEST_BODY).await
    }
}

impl<S: Send + Sync> FromRequest<S> for LongBody {
    type Rejection = Refusal;

    async fn from_request(request: Request, _: &S) -> Result<Self, Refusal> {
        json(request, LARGEST_FILE).await.map(Self)
    }
}

async fn json(request: Request, largest: usize) -> Result<Body, Refusal> {
    let kind = request.headers().get(header::CONTENT_TYPE).and_then(|kind| kind.to_str().ok()).unwrap_or_default();
    let essence = kind.split(';').next().unwrap_or_default().trim();
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
    collect(request.into_body(), largest).await.map(Body)
}

/// The whole body. One that is too long is read on, up to a point, and thrown away: a caller who
/// is cut off while sending never sees the answer.
async fn collect(mut body: axum::body::Body, largest: usize) -> Result<Bytes, Refusal> {
    let mut kept = Vec::new();
    let mut length = 0;
    while let Some(frame) = body.frame().await {
        let frame = frame.map_err(|error| Problem::syntax(&format!("the body broke off: {error}")))?;
        let Ok(data) = frame.into_data() else { continue };
        length += data.len();
        if length <= largest {
            kept.extend_from_slice(&data);
        } else if length > THROWN_AWAY {
            break;
        }
    }
    if length > largest { Err(Problem::too_long(largest).into()) } else { Ok(kept.into()) }
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

/// The version that a write starts from, as `If-Match` names it.
pub struct Version(pub i32);

impl<S: Send + Sync> FromRequestParts<S> for Version {
    type Rejection = Refusal;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Refusal> {
        let named = parts.headers.get(header::IF_MATCH).and_then(|value| value.to_str().ok());
        named
            .and_then(|value| value.trim().trim_matches('"').parse().ok())
            .map(Self)
            .ok_or_else(Refusal::version_required)
    }
}
