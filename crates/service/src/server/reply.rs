//! [`Reply`]: an answer whose text is ready.

use axum::body::Body;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use headers::HeaderMapExt;
use serde::Serialize;

use super::request::entity_tag;
use crate::download::disposition;

/// An answer, written already: writing a large one takes as long as working it out.
pub struct Reply {
    status: StatusCode,
    version: Option<i32>,
    body: Vec<u8>,
    kind: &'static str,
    file: Option<String>,
}

impl Reply {
    /// A resource as JSON.
    ///
    /// # Panics
    /// Never: resources are plain data with text keys.
    pub fn json(resource: &impl Serialize) -> Self {
        let body = serde_json::to_vec(resource).expect("plain data with text keys");
        Self { status: StatusCode::OK, version: None, body, kind: "application/json", file: None }
    }

    /// A text of another kind.
    pub fn text(kind: &'static str, text: String) -> Self {
        Self { status: StatusCode::OK, version: None, body: text.into_bytes(), kind, file: None }
    }

    /// Nothing.
    pub const fn nothing() -> Self {
        Self { status: StatusCode::NO_CONTENT, version: None, body: Vec::new(), kind: "", file: None }
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
        if let Some(version) = self.version {
            headers.typed_insert(entity_tag(version));
        }
        if let Some(name) = self.file.and_then(|name| HeaderValue::try_from(name).ok()) {
            headers.insert(header::CONTENT_DISPOSITION, name);
        }
        response
    }
}
