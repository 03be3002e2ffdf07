//! The application's own files, built into the program.

use axum::http::{StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
struct Pages;

/// What is text says in which letters.
fn with_charset(kind: &str) -> String {
    let is_text = kind.starts_with("text/") || kind.ends_with("/javascript") || kind.ends_with("/json");
    if is_text { format!("{kind}; charset=utf-8") } else { kind.to_owned() }
}

/// A file of the application. Addresses that are no files are the application's screens and get
/// its one page; a missing asset is an error.
pub async fn serve(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    if let Some(file) = Pages::get(path).filter(|_| !path.is_empty()) {
        let kind = with_charset(file.metadata.mimetype());
        // The names of built assets hold a hash of their contents.
        let keep = if path.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
        return ([(header::CONTENT_TYPE, kind.as_str()), (header::CACHE_CONTROL, keep)], file.data).into_response();
    }
    if path.starts_with("assets/") {
        return StatusCode::NOT_FOUND.into_response();
    }
    match Pages::get("index.html") {
        Some(page) => {
            ([(header::CONTENT_TYPE, "text/html; charset=utf-8"), (header::CACHE_CONTROL, "no-cache")], page.data)
                .into_response()
        }
        None => (StatusCode::NOT_FOUND, "This program was built without its pages. Build it with: cargo xtask demo\n")
            .into_response(),
    }
}
