//! [`Field`]: one value of a request.

use std::borrow::Cow;
use std::cell::RefCell;
use std::collections::{BTreeMap, HashSet};

use ratiomet_core::Error;
use serde_json::value::RawValue;

use super::object::{Entries, Members};
use super::path::{Path, PathStep};
use super::{Object, Reader, parameter};
use crate::problem::must_be;

/// One value of a request, not yet interpreted.
#[derive(Clone, Copy, Debug)]
pub struct Field<'r> {
    raw: &'r str,
    path: Path,
    reader: &'r Reader,
}

impl<'r> Field<'r> {
    /// Notes that the value is not accepted, and says what is; always `None`.
    pub fn refuse<T>(&self, accepted: impl Into<String>) -> Option<T> {
        self.reader.refuse(self.pointer(), must_be(&accepted.into()));
        None
    }

    /// The value of a core answer; a refusal is noted at the field that was sent for the parameter that it
    /// names, or else at the value itself.
    pub fn settle<T>(&self, answer: Result<T, Error>) -> Option<T> {
        answer
            .map_err(|error| {
                let sent = error.parameter().and_then(|parameter| parameter::sent(self, parameter));
                self.reader.refuse(sent.unwrap_or_else(|| self.pointer()), must_be(&error.to_string()));
            })
            .ok()
    }

    /// Whether the value is `null`.
    pub fn is_null(&self) -> bool {
        self.raw == "null"
    }

    pub(super) const fn root(raw: &'r str, reader: &'r Reader) -> Self {
        Self { raw, path: Path::ROOT, reader }
    }

    pub(super) fn pointer(&self) -> String {
        self.reader.places.pointer(self.path)
    }

    /// Notes that a field must be given; always `None`.
    pub(super) fn missing<T>(&self) -> Option<T> {
        self.reader.refuse(self.pointer(), "This field is required.");
        None
    }

    /// Notes that a key is not accepted.
    pub(super) fn refuse_key(&self, key: &str, why: &str) {
        self.reader.refuse(self.reader.places.pointer_to(self.path, key), why);
    }

    pub(super) fn child(&self, step: PathStep, raw: &'r str) -> Self {
        Self { raw, path: self.reader.places.then(self.path, step), reader: self.reader }
    }

    /// The value as an object whose keys differ.
    pub fn object(&self) -> Option<Object<'r>> {
        if !self.raw.starts_with('{') {
            return self.refuse("an object");
        }
        let Ok(Entries(entries)) = serde_json::from_str::<Entries<'r>>(self.raw) else {
            return self.refuse(format!("an object of at most {} fields", super::object::MOST));
        };
        let mut distinct = true;
        for key in twice(&entries) {
            self.refuse_key(key, "Give each key once; this one is given twice.");
            distinct = false;
        }
        distinct.then(|| Object { fields: entries, taken: RefCell::default(), whole: *self })
    }

    /// The value as an object, nothing refused.
    pub fn peek(&self) -> Option<Object<'r>> {
        let Entries(fields) = serde_json::from_str::<Entries<'r>>(self.raw).ok()?;
        Some(Object { fields, taken: RefCell::default(), whole: *self })
    }

    /// A member of an array in one of its fields.
    pub fn member(&self, name: &'static str, place: usize) -> Option<Self> {
        self.peek()?.take(name)?.array_within(0, usize::MAX, String::new)?.into_iter().nth(place)
    }

    /// Yes or no, as JSON has it; in a query it is text.
    pub fn flag(&self) -> Option<bool> {
        match self.bare() {
            "true" => Some(true),
            "false" => Some(false),
            _ => self.refuse("true or false"),
        }
    }

    /// What it holds, where everything is text without what makes it text.
    fn bare(&self) -> &'r str {
        if self.reader.quoted { self.raw.trim_matches('"') } else { self.raw }
    }

    /// The members of an array.
    pub fn array(&self, accepted: &str) -> Option<Vec<Self>> {
        if !self.raw.starts_with('[') {
            return self.refuse(accepted);
        }
        match serde_json::from_str::<Vec<&'r RawValue>>(self.raw) {
            Ok(items) => {
                Some(items.iter().enumerate().map(|(at, raw)| self.child(PathStep::Index(at), raw.get())).collect())
            }
            Err(_) => self.refuse(accepted),
        }
    }

    /// The members of an array that has from so many to so many; they are counted before they are kept.
    pub fn array_within(&self, least: usize, most: usize, accepted: impl FnOnce() -> String) -> Option<Vec<Self>> {
        if !self.raw.starts_with('[') {
            return self.refuse(accepted());
        }
        let Ok(Members(items)) = Members::within(self.raw, most) else { return self.refuse(accepted()) };
        if items.len() < least {
            return self.refuse(accepted());
        }
        Some(items.into_iter().enumerate().map(|(at, raw)| self.child(PathStep::Index(at), raw)).collect())
    }

    /// The text of a JSON string.
    pub fn string(&self, accepted: &str) -> Option<Cow<'r, str>> {
        if !self.raw.starts_with('"') {
            return self.refuse(accepted);
        }
        // Most strings hold no escape and can be taken as they stand.
        let inner = &self.raw[1..self.raw.len() - 1];
        if !inner.contains('\\') {
            return Some(Cow::Borrowed(inner));
        }
        match serde_json::from_str(self.raw) {
            Ok(text) => Some(Cow::Owned(text)),
            Err(_) => self.refuse(accepted),
        }
    }

    /// Texts by their names, each name once.
    pub fn strings(&self, accepted: &str) -> Option<BTreeMap<String, String>> {
        let object = self.object()?;
        let mut texts = BTreeMap::new();
        for (name, raw) in &object.fields {
            let text = self.with_text(raw).string(accepted)?;
            texts.insert(name.to_string(), text.into_owned());
        }
        Some(texts)
    }

    /// A whole number, written as a JSON integer without a sign; nothing is refused.
    pub fn whole_number(&self) -> Option<u32> {
        self.long_number().and_then(|number| u32::try_from(number).ok())
    }

    /// The same, of twice as many bits.
    pub fn long_number(&self) -> Option<u64> {
        let bare = self.bare();
        let digits = !bare.is_empty() && bare.bytes().all(|byte| byte.is_ascii_digit());
        if digits { bare.parse().ok() } else { None }
    }

    /// The same place with the text of a default.
    pub(crate) const fn with_text(&self, text: &'r str) -> Self {
        Self { raw: text, path: self.path, reader: self.reader }
    }

    /// The text of a number: of a string such as `"16:9"`, or the digits of a JSON number.
    pub fn fraction(&self) -> Option<Cow<'r, str>> {
        if self.raw.starts_with(|first: char| first == '-' || first.is_ascii_digit()) {
            return Some(Cow::Borrowed(self.raw));
        }
        self.string("a number such as 2.39, or a string such as \"16:9\" or \"24000/1001\"")
    }

    /// One of a list of words.
    pub fn word<T: Copy>(&self, words: &[(&str, T)]) -> Option<T> {
        let accepted = || {
            let list: Vec<_> = words.iter().map(|(word, _)| format!("\"{word}\"")).collect();
            format!("one of {}", list.join(", "))
        };
        if self.raw.starts_with('"') {
            let text = self.string("a word")?;
            if let Some((_, value)) = words.iter().find(|(word, _)| *word == text) {
                return Some(*value);
            }
        }
        self.refuse(accepted())
    }
}

/// The keys that stood there before, in their order.
fn twice<'a>(entries: &'a [(Cow<'_, str>, &str)]) -> Vec<&'a str> {
    // Few keys are compared faster than they are hashed.
    const FEW: usize = 16;
    if entries.len() <= FEW {
        let keys = entries.iter().enumerate();
        return keys
            .filter(|(at, (key, _))| entries[..*at].iter().any(|(before, _)| before == key))
            .map(|(_, (key, _))| key.as_ref())
            .collect();
    }
    let mut seen = HashSet::with_capacity(entries.len());
    entries.iter().map(|(key, _)| key.as_ref()).filter(|key| !seen.insert(*key)).collect()
}
