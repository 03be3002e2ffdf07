//! Answers that a browser keeps as files.

use percent_encoding::{NON_ALPHANUMERIC, utf8_percent_encode};

/// What has a browser keep an answer as a file (RFC 6266): its name as it is, and for what reads ASCII alone one
/// with underlines.
pub fn disposition(name: &str) -> String {
    let ascii: String = name.chars().map(|each| if each.is_ascii() { each } else { '_' }).collect();
    let whole = utf8_percent_encode(name, NON_ALPHANUMERIC);
    format!("attachment; filename=\"{ascii}\"; filename*=UTF-8''{whole}")
}
