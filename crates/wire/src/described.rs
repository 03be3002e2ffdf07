//! Reading by description: a whole request, a query, a field of an object.

use crate::describe::{Json, Presence};
use crate::problem::Problem;
use crate::read::{Object, Reader};

impl Reader {
    /// Reads the query of an address, as names and values, by its description: as an object of texts.
    ///
    /// # Errors
    /// Status 422 with the bad parameters; their pointers are their names.
    pub fn query<T: Json>(pairs: &[(String, String)]) -> Result<T, Box<Problem>> {
        let text = |text: &str| serde_json::Value::from(text).to_string();
        let fields: Vec<_> = pairs.iter().map(|(name, value)| format!("{}:{}", text(name), text(value))).collect();
        Self::of_quoted().run(format!("{{{}}}", fields.join(",")).as_bytes(), T::read)
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
}

impl Object<'_> {
    /// A field of the description: read where it is given, else what it is by default.
    pub fn field<T: Json>(&self, name: &'static str, presence: Presence) -> Option<T> {
        match (self.take(name), presence) {
            (Some(field), _) => T::read(&field),
            (None, Presence::Required) => self.missing(name),
            (None, Presence::Default(text)) => T::read(&self.instead(name, text)),
            (None, Presence::Optional) => T::absent(),
        }
    }
}
