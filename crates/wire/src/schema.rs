//! JSON Schema of the files that are written, out of the same descriptions as that of the API.

use serde_json::{Map, Value, json};
use utoipa::ToSchema;

/// The schema of a file, with all that it is made of (JSON Schema 2020-12, which the schemas of OpenAPI 3.1 are).
pub fn of<T: ToSchema>(title: &str) -> Value {
    let mut named = vec![(T::name().into_owned(), T::schema())];
    T::schemas(&mut named);
    let plain = |value| serde_json::to_value(value).expect("a schema is plain data");
    let parts: Map<String, Value> = named.into_iter().map(|(name, schema)| (name, plain(schema))).collect();
    let mut parts = Value::Object(parts);
    inside(&mut parts);
    json!({
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": title,
        "$ref": format!("#/$defs/{}", T::name()),
        "$defs": parts,
    })
}

/// References to parts of the API's description become those to parts of this one.
fn inside(value: &mut Value) {
    match value {
        Value::Object(fields) => {
            if let Some(Value::String(to)) = fields.get_mut("$ref") {
                *to = to.replace("#/components/schemas/", "#/$defs/");
            }
            fields.values_mut().for_each(inside);
        }
        Value::Array(parts) => parts.iter_mut().for_each(inside),
        _ => {}
    }
}
