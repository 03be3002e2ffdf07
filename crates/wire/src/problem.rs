//! Problem documents (RFC 9457).

use ratiomet_core::words::counted;
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
    /// The bad fields of the request, at most 50.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub errors: Vec<FieldError>,
    /// How many more there are than are named.
    #[serde(skip_serializing_if = "is_nothing")]
    #[schema(required = false)]
    pub more_errors: usize,
    /// For a stale write: the resource as it stands now.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub current: Option<serde_json::Value>,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "the shape that serde asks for")]
const fn is_nothing(count: &usize) -> bool {
    *count == 0
}

/// One bad field.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct FieldError {
    /// Where it stands, as a JSON pointer (RFC 6901); empty for the whole text.
    #[schema(example = "/source/raster/0")]
    pub pointer: String,
    /// What is wrong, and what would be right.
    pub detail: String,
}

/// The bad fields of a request: the first ones by name, and how many more there are.
#[derive(Debug, Default)]
pub struct FieldErrors {
    named: Vec<FieldError>,
    more: usize,
}

impl FieldErrors {
    /// The most fields that a refusal names.
    pub const MOST: usize = 50;

    /// One bad field.
    pub fn one(pointer: impl Into<String>, detail: impl Into<String>) -> Self {
        let mut errors = Self::default();
        errors.add(pointer, detail);
        errors
    }

    /// Adds a bad field; past the most it is only counted.
    pub fn add(&mut self, pointer: impl Into<String>, detail: impl Into<String>) {
        if self.named.len() < Self::MOST {
            self.named.push(FieldError { pointer: shortened(pointer.into()), detail: shortened(detail.into()) });
        } else {
            self.more += 1;
        }
    }

    /// Whether nothing is wrong.
    pub const fn is_empty(&self) -> bool {
        self.named.is_empty()
    }
}

/// The longest pointer or detail, in characters: what a stranger sends comes back no longer.
const LONGEST: usize = 500;

fn shortened(text: String) -> String {
    match text.char_indices().nth(LONGEST) {
        Some((end, _)) => format!("{}…", &text[..end]),
        None => text,
    }
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
            more_errors: 0,
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
    pub fn fields(errors: FieldErrors) -> Self {
        let place = |error: &FieldError| {
            let place = if error.pointer.is_empty() { "the request" } else { &error.pointer };
            format!("{place}: {}", error.detail)
        };
        // A few in one sentence; all of them stand in `errors`.
        let mut list: Vec<_> = errors.named.iter().take(5).map(place).collect();
        let left = errors.named.len() + errors.more - list.len();
        if left > 0 {
            list.push(format!("and {}", counted(left, "more bad field")));
        }
        let mut problem = Self::new(
            422,
            "fields",
            "Some values are not valid",
            list.join("; "),
            "Correct the fields named in errors.",
        );
        problem.errors = errors.named;
        problem.more_errors = errors.more;
        problem
    }

    /// One field that is not accepted.
    pub fn field(pointer: impl Into<String>, accepted: impl Into<String>) -> Self {
        Self::fields(FieldErrors::one(pointer, must_be(&accepted.into())))
    }
}

/// What is accepted, as the sentence of a refusal.
pub fn must_be(accepted: &str) -> String {
    format!("Must be {accepted}.")
}
