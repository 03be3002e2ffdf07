//! What files of our own say of themselves, and old ones brought up to the newest version.

use std::borrow::Cow;
use std::fmt;

use ratiomet_wire::kept;
use ratiomet_wire::problem::Problem;
use serde::Deserialize;
use serde::de::{Deserializer, Error, MapAccess, SeqAccess, Visitor};
use serde_json::{Map, Value};

use crate::crowded;

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
    crowded::refuse(text).map_err(|why| Box::new(Problem::field("", why)))?;
    let Distinct(mut file) = serde_json::from_slice(text).map_err(|error| match twice(&error) {
        Some(key) => Problem::field("", format!("an object whose keys differ; {key} is given twice")),
        None => Problem::syntax(&error.to_string()),
    })?;
    upgrade(version.cast_signed(), &mut file).map_err(refused)?;
    file["format_version"] = NEWEST.into();
    Ok(Cow::Owned(file.to_string().into_bytes()))
}

/// JSON in which no object gives a key twice: of two values nobody knows which was meant.
struct Distinct(Value);

/// What stands before the key in the error of one that is given twice.
const TWICE: &str = "given twice: ";

/// The key that an error says is given twice.
fn twice(error: &serde_json::Error) -> Option<String> {
    let said = error.to_string();
    let (_, rest) = said.split_once(TWICE)?;
    Some(rest.split(" at line ").next().unwrap_or(rest).to_owned())
}

impl<'de> Deserialize<'de> for Distinct {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct Walk;
        impl<'de> Visitor<'de> for Walk {
            type Value = Distinct;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("JSON")
            }

            fn visit_bool<E>(self, value: bool) -> Result<Distinct, E> {
                Ok(Distinct(value.into()))
            }

            fn visit_i64<E>(self, value: i64) -> Result<Distinct, E> {
                Ok(Distinct(value.into()))
            }

            fn visit_u64<E>(self, value: u64) -> Result<Distinct, E> {
                Ok(Distinct(value.into()))
            }

            fn visit_f64<E>(self, value: f64) -> Result<Distinct, E> {
                Ok(Distinct(value.into()))
            }

            fn visit_str<E>(self, value: &str) -> Result<Distinct, E> {
                Ok(Distinct(value.into()))
            }

            fn visit_unit<E>(self) -> Result<Distinct, E> {
                Ok(Distinct(Value::Null))
            }

            fn visit_seq<A: SeqAccess<'de>>(self, mut items: A) -> Result<Distinct, A::Error> {
                let mut all = Vec::new();
                while let Some(Distinct(item)) = items.next_element()? {
                    all.push(item);
                }
                Ok(Distinct(Value::Array(all)))
            }

            fn visit_map<A: MapAccess<'de>>(self, mut entries: A) -> Result<Distinct, A::Error> {
                let mut all = Map::new();
                while let Some((key, Distinct(value))) = entries.next_entry::<String, Distinct>()? {
                    if all.contains_key(&key) {
                        return Err(A::Error::custom(format!("{TWICE}{key}")));
                    }
                    all.insert(key, value);
                }
                Ok(Distinct(Value::Object(all)))
            }
        }
        deserializer.deserialize_any(Walk)
    }
}
