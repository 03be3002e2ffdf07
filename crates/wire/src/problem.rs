//! Problem documents (RFC 9457).

use serde::Serialize;
use utoipa::ToSchema;

/// What went wrong, as `application/problem+json` (RFC 9457).
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Problem {
    /// A name for this sort of problem that stays the same.
    #[serde(rename = "type")]
    #[schema(example = "urn:ratiomet:problem:fields")]
    pub kind: String,
    /// The sort of problem in words.
    pub title: String,
    /// The HTTP status.
    pub status: u16,
    /// What happened here.
    pub detail: String,
    /// What to do next.
    pub hint: String,
    /// Every bad field of the request.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub errors: Vec<FieldError>,
    /// For a stale write: the resource as it stands now.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub current: Option<serde_json::Value>,
}

/// One bad field.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct FieldError {
    /// Where it stands, as a JSON pointer (RFC 6901); empty for the whole text.
    #[schema(example = "/source/raster/0")]
    pub pointer: String,
    /// What is accepted there.
    pub detail: String,
}

impl Problem {
    /// A problem of a sort, with the status that goes with it.
    pub fn new(status: u16, code: &str, title: &str, detail: impl Into<String>, hint: impl Into<String>) -> Self {
        Self {
            kind: format!("urn:ratiomet:problem:{code}"),
            title: title.to_owned(),
            status,
            detail: detail.into(),
            hint: hint.into(),
            errors: Vec::new(),
            current: None,
        }
    }

    /// The text is no JSON.
    pub fn syntax(why: &str) -> Self {
        let mut problem = Self::new(
            400,
            "syntax",
            "The request is not JSON",
            format!("The text cannot be read as JSON: {why}."),
            "Send one JSON object in UTF-8.",
        );
        problem.errors.push(FieldError { pointer: String::new(), detail: "one JSON object".to_owned() });
        problem
    }

    /// The text is longer than what is read.
    pub fn too_long(bytes: usize) -> Self {
        let mut problem = Self::new(
            413,
            "too_long",
            "The request is too long",
            format!("A request of at most {bytes} bytes is accepted."),
            "Send one request at a time; a calculation takes a few hundred bytes.",
        );
        problem.errors.push(FieldError { pointer: String::new(), detail: format!("at most {bytes} bytes") });
        problem
    }

    /// Fields that are not accepted.
    pub fn fields(errors: Vec<FieldError>) -> Self {
        let list: Vec<_> = errors
            .iter()
            .map(|error| {
                let place = if error.pointer.is_empty() { "the request" } else { &error.pointer };
                format!("{place}: {}", error.detail)
            })
            .collect();
        let mut problem = Self::new(
            422,
            "fields",
            "Some values are not accepted",
            list.join("; "),
            "Correct the fields named in errors; each says what is accepted there.",
        );
        problem.errors = errors;
        problem
    }
}
