//! Refusals as problem documents (RFC 9457).

use std::any::Any;
use std::time::Duration;

use axum::body::Body;
use axum::http::{HeaderValue, Response as HttpResponse, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ratiomet_core::project::EditError;
use ratiomet_store::{StoreError, Trouble};
use ratiomet_wire::problem::{FieldError, Problem};

/// A request that is not carried out, and why.
#[derive(Debug)]
pub struct Refusal {
    problem: Box<Problem>,
    /// After how long it is worth asking again.
    again: Option<Duration>,
}

/// Too much of something waits already.
pub fn too_many(what: &str) -> Refusal {
    Problem::new(
        429,
        "too_many",
        "Too many wait",
        format!("So many {what} wait already that no more are taken."),
        "Wait until some are done, or stop some.",
    )
    .into()
}

impl Refusal {
    /// Something failed that the caller cannot mend.
    pub fn internal() -> Self {
        Self::from(Problem::new(
            500,
            "internal",
            "Internal error",
            "The request failed.",
            "Try again. If it fails again, start the server with RUST_LOG=debug and check its output.",
        ))
    }

    /// The `Host` header names another site.
    pub fn foreign_host() -> Self {
        Self::from(Problem::new(
            421,
            "foreign_host",
            "Unrecognised host name",
            "The Host header names a host that this server does not answer to.",
            "Use the address that the server prints when it starts, or start it with --host NAME.",
        ))
    }

    /// The request comes from a page of another site.
    pub fn foreign_origin() -> Self {
        Self::from(Problem::new(
            403,
            "foreign_origin",
            "Requests from other sites are not allowed",
            "The Origin header names another site.",
            "Open Ratiomet at its own address.",
        ))
    }

    /// Nobody is known to ask.
    pub fn login_required() -> Self {
        Self::from(Problem::new(
            401,
            "login_required",
            "You are not logged in",
            "This server is shared: it must know who asks.",
            "Log in, or send Authorization: Bearer with a token of ratiomet people token.",
        ))
    }

    /// Name and password do not go together.
    pub fn wrong_password() -> Self {
        Self::from(Problem::new(
            401,
            "wrong_password",
            "Name or password is wrong",
            "Nobody is known by this name and this password.",
            "Check both. Whoever looks after the server can give you a new password.",
        ))
    }

    /// Too many wrong passwords came.
    pub fn too_many_tries(again: Duration) -> Self {
        let seconds = again.as_secs().max(1);
        let problem = Problem::new(
            429,
            "too_many_tries",
            "Too many tries",
            format!("Several wrong passwords came; the next one is read in {seconds} s."),
            "Wait, then try again.",
        );
        Self { problem: Box::new(problem), again: Some(Duration::from_secs(seconds)) }
    }

    /// Somebody may not do that.
    pub fn not_allowed(what: &str, needed: impl std::fmt::Display) -> Self {
        Self::from(Problem::new(
            403,
            "not_allowed",
            "You may not do this",
            format!("{what} Nothing was changed."),
            format!("Whoever looks after the server can give you the role {needed}."),
        ))
    }

    /// No such place.
    pub fn unknown_path(path: &str) -> Self {
        Self::from(Problem::new(
            404,
            "unknown_path",
            "Nothing at this address",
            format!("{path} is not part of the API."),
            "GET /api/v1/openapi.json lists every address.",
        ))
    }

    /// The method is not one of this address.
    pub fn wrong_method() -> Self {
        Self::from(Problem::new(
            405,
            "wrong_method",
            "This address does not take this method",
            "The address exists, but does not take this HTTP method.",
            "GET /api/v1/openapi.json lists the methods of every address.",
        ))
    }

    /// A write must name the version that it changes.
    pub fn version_required() -> Self {
        Self::from(Problem::new(
            428,
            "version_required",
            "No version given",
            "A change must say in If-Match which version of the resource it starts from.",
            "Send If-Match with the version you last read, such as If-Match: \"3\".",
        ))
    }

    /// The body of a request does not come.
    pub fn too_slow() -> Self {
        Self::from(Problem::new(
            408,
            "too_slow",
            "The request takes too long",
            "The body of the request paused for 20 seconds, or comes with less than 16 kB a second.",
            "Send it again over a better connection.",
        ))
    }

    /// One bad field.
    pub fn field(pointer: impl Into<String>, accepted: impl Into<String>) -> Self {
        Problem::field(pointer, accepted).into()
    }

    /// Something would not be sound after an edit.
    pub fn not_sound(pointer: String, error: &EditError) -> Self {
        let mut problem = Problem::new(
            422,
            "fields",
            "Some values are not valid",
            format!("{error}. Nothing was changed."),
            "Leave this one out, or choose a value that is valid for all.",
        );
        let detail = match error {
            EditError::Refused { name, why, .. } => format!("Must be {why} (for {name})."),
            other => other.to_string(),
        };
        problem.errors.push(FieldError { pointer, detail });
        problem.into()
    }

    /// Whether it is that somebody else was quicker.
    pub const fn is_stale(&self) -> bool {
        self.problem.status == 412
    }

    /// The record has moved on since the version that the write names.
    ///
    /// # Panics
    /// Never: resources are plain data with text keys.
    pub fn stale(current: impl serde::Serialize) -> Self {
        let mut problem = Problem::new(
            412,
            "stale",
            "This was changed in another window",
            "It has changed since you last read it. Your change was not saved.",
            "Check the latest version (in current) and make your change again.",
        );
        problem.current = Some(serde_json::to_value(current).expect("plain data with text keys"));
        problem.into()
    }
}

impl From<Problem> for Refusal {
    fn from(problem: Problem) -> Self {
        Self { problem: Box::new(problem), again: None }
    }
}

impl From<Box<Problem>> for Refusal {
    fn from(problem: Box<Problem>) -> Self {
        Self { problem, again: None }
    }
}

impl From<StoreError> for Refusal {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::Unknown { what, id } => Self::from(Problem::new(
                404,
                "unknown",
                &format!("This {what} does not exist"),
                format!("No {what} has the number {id}."),
                "Go back to the list and open another one.",
            )),
            StoreError::Deleted { what, id } => Self::from(Problem::new(
                410,
                "deleted",
                &format!("This {what} is deleted"),
                format!("The {what} with the number {id} was deleted, perhaps in another window."),
                "Undo the deletion in the history of the project, or restore the project.",
            )),
            StoreError::Stale { current } => Self::stale(serde_json::json!({ "version": current })),
            StoreError::Refused(why) => Self::not_sound(String::new(), &why),
            StoreError::Unreadable { what, id, why } => Self::from(Problem::new(
                409,
                "set_aside",
                &format!("This {what} is set aside"),
                format!("The {what} with the number {id} is kept in a form that cannot be read: {why}."),
                "A newer version of Ratiomet may read it; as it is kept it comes with the things set aside.",
            )),
            StoreError::Corrupt { table, id, why } => Self::from(Problem::new(
                500,
                "corrupt",
                "A row in the data file is damaged",
                format!("Row {id} of {table} cannot be read: {why}."),
                "It was written by another program. Mend the row, or restore the data file from a copy.",
            )),
            StoreError::Looped => Self::from(Problem::new(
                409,
                "looped",
                "This cannot be undone by itself",
                "Working frames would lead to each other, as others have set them since. Nothing was changed.",
                "Set the working frames by hand, or go to an earlier step in the history.",
            )),
            StoreError::Busy => Self::from(Problem::new(
                503,
                "busy",
                "The project is busy",
                "It changed again before this change could be saved.",
                "Try again in a moment.",
            )),
            StoreError::Database(error) => {
                tracing::error!(%error, "the data file refuses");
                let (why, hint) = match Trouble::of(&error.to_string()) {
                    Some(Trouble::InUse) => ("another program works on it", "Try again in a moment."),
                    Some(Trouble::ReadOnly) => ("it may not be written", "Allow writing to it and to its folder."),
                    Some(Trouble::Full) => ("the disk is full", "Make room on the disk, then try again."),
                    Some(Trouble::Damaged | Trouble::NoDatabase) => {
                        ("it is damaged", "Stop the server, and restore the file from a copy.")
                    }
                    None => ("it cannot be used", "The server prints why; check the disk, then try again."),
                };
                Self::from(Problem::new(
                    503,
                    "data_file",
                    "The data file is not available",
                    format!("The data file is not available: {why}. Nothing was changed."),
                    hint,
                ))
            }
            StoreError::Gone => Self::from(Problem::new(
                503,
                "data_file",
                "The data file is gone",
                "The data file is no longer where it was when the server started. Nothing was changed.",
                "Put it back where it was, or stop the server and start it with the file that you mean.",
            )),
        }
    }
}

impl IntoResponse for Refusal {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.problem.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let body = serde_json::to_vec(&self.problem).expect("a problem is plain data with text keys");
        let mut response =
            (status, [(header::CONTENT_TYPE, "application/problem+json; charset=utf-8")], body).into_response();
        if let Some(again) = self.again {
            response.headers_mut().insert(header::RETRY_AFTER, HeaderValue::from(again.as_secs()));
        }
        if status == StatusCode::UNAUTHORIZED {
            response.headers_mut().insert(header::WWW_AUTHENTICATE, HeaderValue::from_static("Bearer"));
        }
        response
    }
}

/// The answer to a request whose handler panicked.
pub fn after_panic(_: Box<dyn Any + Send + 'static>) -> HttpResponse<Body> {
    tracing::error!("a request handler panicked");
    Refusal::internal().into_response()
}
