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

use crate::problem::{FieldErrors, Problem};
use path::Places;

/// Collects what is wrong with a request.
#[derive(Debug, Default)]
pub struct Reader {
    errors: RefCell<FieldErrors>,
    places: Places,
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

    /// A reader of texts in which whole numbers stand between quotation marks.
    pub(crate) fn of_quoted() -> Self {
        Self { quoted: true, ..Self::default() }
    }

    pub(crate) fn run<T>(self, text: &[u8], read: impl FnOnce(&Field<'_>) -> Option<T>) -> Result<T, Box<Problem>> {
        let text = std::str::from_utf8(text).map_err(|_| Problem::syntax("the text is not UTF-8"))?;
        let raw: &RawValue = serde_json::from_str(text).map_err(|error| Problem::syntax(&error.to_string()))?;
        let root = Field::root(raw.get(), &self);
        let value = read(&root);
        let errors = self.errors.into_inner();
        match value {
            Some(value) if errors.is_empty() => Ok(value),
            _ => Err(Problem::fields(errors).into()),
        }
    }

    fn refuse(&self, pointer: String, detail: impl Into<String>) {
        self.errors.borrow_mut().add(pointer, detail);
    }
}
