//! [`Object`]: an object of a request.

use std::borrow::Cow;
use std::cell::RefCell;
use std::fmt;

use serde::de::{Deserializer, MapAccess, SeqAccess, Visitor};
use serde_json::value::RawValue;

use super::Field;
use super::path::PathStep;

/// An object of a request; fields are taken by name, and [`Object::done`] refuses what was not.
#[derive(Debug)]
pub struct Object<'r> {
    pub(super) fields: Vec<(Cow<'r, str>, &'r str)>,
    pub(super) taken: RefCell<Vec<&'static str>>,
    pub(super) whole: Field<'r>,
}

impl<'r> Object<'r> {
    /// The object as a value of its own.
    pub const fn as_field(&self) -> &Field<'r> {
        &self.whole
    }

    /// The field of that name, if it is given.
    pub fn take(&self, name: &'static str) -> Option<Field<'r>> {
        self.taken.borrow_mut().push(name);
        let (_, raw) = self.fields.iter().find(|(key, _)| key == name)?;
        Some(self.whole.child(PathStep::Name(name), raw))
    }

    /// A field that is not given, with the JSON that stands for it.
    pub(crate) fn instead(&self, name: &'static str, text: &'r str) -> Field<'r> {
        self.whole.child(PathStep::Name(name), text)
    }

    /// Its fields that are known by name to a request.
    pub(super) fn parts(&self) -> impl Iterator<Item = Field<'r>> {
        const PARTS: [&str; 4] = ["source", "delivery", "geometry", "frame"];
        let part = |(name, raw): &(Cow<'r, str>, &'r str)| {
            let known = PARTS.into_iter().find(|known| known == name)?;
            Some(self.whole.child(PathStep::Name(known), raw))
        };
        self.fields.iter().filter_map(part)
    }

    /// Notes that a field must be given; always `None`.
    pub fn missing<T>(&self, name: &'static str) -> Option<T> {
        self.whole.child(PathStep::Name(name), "").missing()
    }

    /// The names of the fields that are given.
    pub(super) fn given(&self) -> impl Iterator<Item = &str> {
        self.fields.iter().map(|(name, _)| name.as_ref())
    }

    /// Refuses every field that no reader asked for. To be called last.
    pub fn done(&self) -> Option<()> {
        let taken = self.taken.borrow();
        let mut sound = Some(());
        for (key, _) in &self.fields {
            if !taken.iter().any(|name| name == key) {
                self.whole.refuse_key(key, &format!("Unknown field; the fields here are {}.", taken.join(", ")));
                sound = None;
            }
        }
        sound
    }
}

/// The most fields of an object: far more than any that is read has.
pub(super) const MOST: usize = 1000;

/// No fewer fields have most requests and their parts.
const USUAL: usize = 8;

/// The entries of an object in their order, keys given twice included.
pub(super) struct Entries<'a>(pub Vec<(Cow<'a, str>, &'a str)>);

impl<'de: 'a, 'a> serde::Deserialize<'de> for Entries<'a> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct Walk;
        impl<'de> Visitor<'de> for Walk {
            type Value = Entries<'de>;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("an object")
            }

            fn visit_map<M: MapAccess<'de>>(self, mut map: M) -> Result<Self::Value, M::Error> {
                let mut entries = Vec::with_capacity(USUAL);
                while let Some((key, value)) = map.next_entry::<Key<'de>, &'de RawValue>()? {
                    if entries.len() == MOST {
                        return Err(serde::de::Error::custom("too many"));
                    }
                    entries.push((key.0, value.get()));
                }
                Ok(Entries(entries))
            }
        }
        deserializer.deserialize_map(Walk)
    }
}

/// A key, borrowed where it holds no escape.
#[derive(serde::Deserialize)]
struct Key<'a>(#[serde(borrow)] Cow<'a, str>);

/// The members of an array, no more than are accepted.
pub(super) struct Members<'a>(pub Vec<&'a str>);

impl<'a> Members<'a> {
    /// The members of the text of an array.
    ///
    /// # Errors
    /// When there are more than `most`; no more than these are kept.
    pub fn within(text: &'a str, most: usize) -> Result<Self, serde_json::Error> {
        struct Walk(usize);
        impl<'de> Visitor<'de> for Walk {
            type Value = Members<'de>;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                write!(f, "an array of at most {}", self.0)
            }

            fn visit_seq<A: SeqAccess<'de>>(self, mut sequence: A) -> Result<Self::Value, A::Error> {
                let mut members = Vec::new();
                while let Some(member) = sequence.next_element::<&'de RawValue>()? {
                    if members.len() == self.0 {
                        return Err(serde::de::Error::custom("too many"));
                    }
                    members.push(member.get());
                }
                Ok(Members(members))
            }
        }
        serde_json::Deserializer::from_str(text).deserialize_seq(Walk(most))
    }
}
