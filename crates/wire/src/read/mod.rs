//! Reading requests: every bad field is found, each with its JSON pointer and what is accepted.
//!
//! Values are kept as the raw text of the JSON until the reader of a field knows what it wants.
//! That is how a number is read by its decimal digits, `1920.0` is told from `1920`, and a key
//! given twice is seen.

mod field;
mod object;
mod parameter;
mod path;

use std::cell::RefCell;

use serde_json::value::RawValue;

pub use field::Field;
pub use object::Object;
pub(crate) use parameter::name_of;

use crate::describe::Json;
use crate::problem::{FieldErrors, Problem};
use path::Path;

/// Collects what is wrong with a request.
#[derive(Debug, Default)]
pub struct Reader {
    errors: RefCell<FieldErrors>,
    /// Whether whole numbers stand between quotation marks, as in the query of an address everything does.
    quoted: bool,
}

impl Reader {
    /// Reads a request: parses the text, lets `read` take the fields, and gives back either what
    /// it made of them or everything that was wrong.
    ///
    /// # Errors
    /// Status 400 for text that is no JSON, 422 with the bad fields otherwise.
    pub fn read<T>(text: &[u8], read: impl FnOnce(&Field<'_>) -> Option<T>) -> Result<T, Box<Problem>> {
        Self::default().run(text, read)
    }

    /// Reads the query of an address, as names and values, by its description: as an object of texts.
    ///
    /// # Errors
    /// Status 422 with the bad parameters; their pointers are their names.
    pub fn query<T: Json>(pairs: &[(String, String)]) -> Result<T, Box<Problem>> {
        let text = |text: &str| serde_json::Value::from(text).to_string();
        let fields: Vec<_> = pairs.iter().map(|(name, value)| format!("{}:{}", text(name), text(value))).collect();
        let reader = Self { quoted: true, ..Self::default() };
        reader.run(format!("{{{}}}", fields.join(",")).as_bytes(), T::read)
    }

    fn run<T>(self, text: &[u8], read: impl FnOnce(&Field<'_>) -> Option<T>) -> Result<T, Box<Problem>> {
        let text = std::str::from_utf8(text).map_err(|_| Problem::syntax("the text is not UTF-8"))?;
        let raw: &RawValue = serde_json::from_str(text).map_err(|error| Problem::syntax(&error.to_string()))?;
        let root = Field::new(raw.get(), Path::default(), &self);
        let value = read(&root);
        let errors = self.errors.into_inner();
        match value {
            Some(value) if errors.is_empty() => Ok(value),
            _ => Err(Problem::fields(errors).into()),
        }
    }

    /// Reads a request by its description.
    ///
    /// # Errors
    /// As [`Reader::read`].
    pub fn request<T: Json>(text: &[u8]) -> Result<T, Box<Problem>> {
        Self::read(text, T::read)
    }

    /// Reads a request by its description, and what the core makes of it.
    ///
    /// # Errors
    /// As [`Reader::read`]; what the core refuses stands at the field that was sent for its parameter.
    pub fn made<T: Json, U>(
        text: &[u8],
        make: impl FnOnce(T) -> Result<U, ratiomet_core::Error>,
    ) -> Result<U, Box<Problem>> {
        Self::read(text, |field| field.settle(make(T::read(field)?)))
    }

    fn refuse(&self, pointer: String, detail: impl Into<String>) {
        self.errors.borrow_mut().add(pointer, detail);
    }
}
