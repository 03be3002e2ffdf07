//! [`Reply`]: an answer whose text is ready.

use std::io::Write;

use axum::body::{Body, Bytes};
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use flate2::Compression;
use flate2::write::GzEncoder;
use headers::HeaderMapExt;
use serde::Serialize;

use super::request::entity_tag;
use crate::download::disposition;

/// From how many bytes on an answer is packed.
const WORTH_PACKING: usize = 16_384;

/// An answer, written already: writing a large one takes as long as working it out.
#[derive(Clone)]
pub struct Reply {
    status: StatusCode,
    version: Option<i32>,
    body: Bytes,
    /// Whether it is packed by gzip; none where nobody was asked what they take.
    is_packed: Option<bool>,
    kind: &'static str,
    file: Option<String>,
}

impl Reply {
    /// A resource as JSON.
    ///
    /// # Panics
    /// Never: resources are plain data with text keys.
    pub fn json(resource: &impl Serialize) -> Self {
        Self::written(serde_json::to_vec(resource).expect("plain data with text keys"))
    }

    /// A resource that has been written as JSON.
    pub fn written(json: Vec<u8>) -> Self {
        Self::new("application/json", json.into())
    }

    /// A text of another kind.
    pub fn text(kind: &'static str, text: String) -> Self {
        Self::new(kind, text.into())
    }

    /// Nothing.
    pub const fn nothing() -> Self {
        Self::new("", Bytes::new()).with(StatusCode::NO_CONTENT)
    }

    const fn new(kind: &'static str, body: Bytes) -> Self {
        Self { status: StatusCode::OK, version: None, body, is_packed: None, kind, file: None }
    }

    /// Packed by gzip for those who take it, quickly rather than well, if it is worth it.
    ///
    /// # Panics
    /// Never: memory is written to.
    #[must_use]
    pub fn packed(mut self, takes: bool) -> Self {
        let is_packed = takes && self.body.len() >= WORTH_PACKING;
        if is_packed {
            let mut packed = GzEncoder::new(Vec::new(), Compression::fast());
            packed.write_all(&self.body).expect("memory takes everything");
            self.body = packed.finish().expect("memory takes everything").into();
        }
        Self { is_packed: Some(is_packed), ..self }
    }

    /// With the version of the resource, which a write names in `If-Match`.
    #[must_use]
    pub const fn of_version(mut self, version: i32) -> Self {
        self.version = Some(version);
        self
    }

    /// With another status.
    #[must_use]
    pub const fn with(mut self, status: StatusCode) -> Self {
        self.status = status;
        self
    }

    /// To be kept as a file of this name.
    #[must_use]
    pub fn downloaded(mut self, name: &str) -> Self {
        self.file = Some(disposition(name));
        self
    }
}

impl IntoResponse for Reply {
    fn into_response(self) -> Response {
        let mut response = (self.status, Body::from(self.body)).into_response();
        let headers = response.headers_mut();
        if self.kind.is_empty() {
            headers.remove(header::CONTENT_TYPE);
        } else {
            headers.insert(header::CONTENT_TYPE, HeaderValue::from_static(self.kind));
        }
        if let Some(is_packed) = self.is_packed {
            headers.insert(header::VARY, HeaderValue::from_static("accept-encoding"));
            if is_packed {
                headers.insert(header::CONTENT_ENCODING, HeaderValue::from_static("gzip"));
            }
        }
        if let Some(version) = self.version {
            headers.typed_insert(entity_tag(version));
        }
        if let Some(name) = self.file.and_then(|name| HeaderValue::try_from(name).ok()) {
            headers.insert(header::CONTENT_DISPOSITION, name);
        }
        response
    }
}
