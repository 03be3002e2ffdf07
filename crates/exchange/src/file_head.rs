//! What files of our own say of themselves, and old ones brought up to the newest version.

use std::borrow::Cow;

use ratiomet_wire::kept;
use ratiomet_wire::problem::Problem;
use serde::Deserialize;
use serde_json::Value;

/// The version in which files are written: the format of what is kept.
pub(crate) const NEWEST: u32 = kept::FORMAT.unsigned_abs();

#[derive(Deserialize)]
struct Head {
    format: String,
    format_version: u32,
}

/// The text of a file in the newest version; `upgrade` brings up what an older one holds. A text that does
/// not say what it is comes back as it stands, for its reader to refuse.
///
/// # Errors
/// For a file that a newer program wrote, and for one that is no JSON.
pub(crate) fn newest<'a>(
    text: &'a [u8],
    format: &str,
    upgrade: impl Fn(i32, &mut Value) -> Result<(), String>,
) -> Result<Cow<'a, [u8]>, Box<Problem>> {
    let Ok(head) = serde_json::from_slice::<Head>(text) else { return Ok(Cow::Borrowed(text)) };
    let version = head.format_version;
    if head.format != format || version == 0 || version == NEWEST {
        return Ok(Cow::Borrowed(text));
    }
    let refused = |why: String| Box::new(Problem::field("/format_version", why));
    if version > NEWEST {
        return Err(refused(format!(
            "a format version from 1 to {NEWEST}; this file was written by a newer version of Ratiomet (format \
             {version}): open it with that version"
        )));
    }
    let mut file: Value = serde_json::from_slice(text).map_err(|error| Problem::syntax(&error.to_string()))?;
    upgrade(version.cast_signed(), &mut file).map_err(refused)?;
    file["format_version"] = NEWEST.into();
    Ok(Cow::Owned(file.to_string().into_bytes()))
}
