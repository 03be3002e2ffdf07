//! Reading requests: every bad field is found, each with its JSON pointer and what is accepted.
//!
//! Values are kept as the raw text of the JSON until the reader of a field knows what it wants.
//! That is how a number is read by its decimal digits, `1920.0` is told from `1920`, and a key
//! given twice is seen.

use std::borrow::Cow;
use std::cell::RefCell;
use std::collections::HashSet;
use std::fmt;

use ratiomet_core::fraction::Written;
use ratiomet_core::{Error, Raster};
use serde::de::{Deserializer, MapAccess, Visitor};
use serde_json::value::RawValue;

use crate::problem::{FieldError, Problem};

/// Collects what is wrong with a request.
#[derive(Debug, Default)]
pub struct Reader {
    errors: RefCell<Vec<FieldError>>,
}

impl Reader {
    /// Reads a request: parses the text, lets `read` take the fields, and gives back either what
    /// it made of them or everything that was wrong.
    ///
    /// # Errors
    /// Status 400 for text that is no JSON, 422 with every bad field otherwise.
    pub fn read<T>(text: &[u8], read: impl FnOnce(&Field<'_>) -> Option<T>) -> Result<T, Box<Problem>> {
        let text = std::str::from_utf8(text).map_err(|_| Problem::syntax("the text is not UTF-8"))?;
        let raw: &RawValue = serde_json::from_str(text).map_err(|error| Problem::syntax(&error.to_string()))?;
        let reader = Self::default();
        let root = Field { raw: raw.get(), path: Path::default(), reader: &reader };
        let value = read(&root);
        let errors = reader.errors.into_inner();
        match value {
            Some(value) if errors.is_empty() => Ok(value),
            _ => Err(Problem::fields(errors).into()),
        }
    }

    fn refuse(&self, pointer: String, detail: impl Into<String>) {
        self.errors.borrow_mut().push(FieldError { pointer, detail: detail.into() });
    }
}

/// Where a value stands. It becomes a JSON pointer (RFC 6901) only when something is refused.
#[derive(Clone, Copy, Debug, Default)]
struct Path {
    steps: [Option<PathStep>; Path::DEEPEST],
}

#[derive(Clone, Copy, Debug)]
enum PathStep {
    Name(&'static str),
    Index(usize),
}

impl Path {
    /// No request nests its fields deeper.
    const DEEPEST: usize = 7;

    fn then(mut self, step: PathStep) -> Self {
        if let Some(free) = self.steps.iter_mut().find(|step| step.is_none()) {
            *free = Some(step);
        }
        self
    }

    fn pointer(&self) -> String {
        let mut text = String::new();
        for step in self.steps.iter().flatten() {
            text.push('/');
            match step {
                PathStep::Name(name) => text.push_str(name),
                PathStep::Index(at) => text.push_str(&at.to_string()),
            }
        }
        text
    }

    /// The pointer of a key that a stranger chose.
    fn pointer_to(&self, key: &str) -> String {
        format!("{}/{}", self.pointer(), key.replace('~', "~0").replace('/', "~1"))
    }
}

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
        self.reader.refuse(self.path.pointer(), accepted);
        None
    }

    /// The value of a core answer; a refusal is noted at the parameter that it names.
    pub fn settle<T>(&self, answer: Result<T, Error>) -> Option<T> {
        answer
            .map_err(|error| {
                let pointer = match error.parameter() {
                    "" => self.path.pointer(),
                    parameter => self.path.pointer_to(parameter),
                };
                self.reader.refuse(pointer, error.to_string());
            })
            .ok()
    }

    /// Whether the value is `null`.
    pub fn is_null(&self) -> bool {
        self.raw == "null"
    }

    fn child(&self, step: PathStep, raw: &'r str) -> Self {
        Self { raw, path: self.path.then(step), reader: self.reader }
    }

    /// The value as an object whose keys differ.
    pub fn object(&self) -> Option<Object<'r>> {
        if !self.raw.starts_with('{') {
            return self.refuse("an object");
        }
        let Ok(Entries(entries)) = serde_json::from_str::<Entries<'r>>(self.raw) else {
            return self.refuse("an object");
        };
        let mut seen = HashSet::with_capacity(entries.len());
        let mut distinct = true;
        for (key, _) in &entries {
            if !seen.insert(key.as_ref()) {
                self.reader.refuse(self.path.pointer_to(key), "each key once; this one is given twice");
                distinct = false;
            }
        }
        drop(seen);
        distinct.then(|| Object { fields: entries, taken: RefCell::default(), whole: *self })
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

    /// A whole number, written as a JSON integer without a sign.
    pub fn whole(&self, accepted: &str) -> Option<u32> {
        let digits = !self.raw.is_empty() && self.raw.bytes().all(|byte| byte.is_ascii_digit());
        match self.raw.parse() {
            Ok(value) if digits => Some(value),
            _ => self.refuse(accepted),
        }
    }

    /// A checked number: a string such as `"16:9"`, or a JSON number read by its decimal digits.
    pub fn fraction<T>(&self, rule: impl FnOnce(&str) -> Result<T, Error>) -> Option<Written<T>> {
        let number = self.raw.starts_with(|first: char| first == '-' || first.is_ascii_digit());
        let text = if number {
            Cow::Borrowed(self.raw)
        } else {
            self.string("a number such as 2.39, or a string such as \"16:9\" or \"24000/1001\"")?
        };
        self.settle(Written::parse(&text, rule))
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

    /// Two whole sides, `[width, height]`.
    pub fn raster<S>(&self) -> Option<Raster<S>> {
        let accepted = "two whole numbers of pixels, [width, height], each from 1 to 65536";
        let sides = self.array(accepted)?;
        let [width, height] = sides.as_slice() else {
            return self.refuse(accepted);
        };
        let side = "a whole number of pixels from 1 to 65536";
        let check = |field: &Self| {
            let value = field.whole(side)?;
            if (1..=ratiomet_core::limits::LARGEST_SIDE).contains(&value) { Some(value) } else { field.refuse(side) }
        };
        let (width, height) = (check(width), check(height));
        self.settle(Raster::new(width?, height?))
    }
}

/// Yes or no, as JSON has it.
pub fn flag(field: &Field<'_>) -> Option<bool> {
    match field.raw {
        "true" => Some(true),
        "false" => Some(false),
        _ => field.refuse("true or false"),
    }
}

/// An object of a request; fields are taken by name, and [`Object::done`] refuses what was not.
#[derive(Debug)]
pub struct Object<'r> {
    fields: Vec<(Cow<'r, str>, &'r str)>,
    taken: RefCell<Vec<&'static str>>,
    whole: Field<'r>,
}

impl<'r> Object<'r> {
    /// The object as a value of its own.
    pub fn as_field(&self) -> &Field<'r> {
        &self.whole
    }

    /// The field of that name, if it is given.
    pub fn take(&self, name: &'static str) -> Option<Field<'r>> {
        self.taken.borrow_mut().push(name);
        let (_, raw) = self.fields.iter().find(|(key, _)| key == name)?;
        Some(self.whole.child(PathStep::Name(name), raw))
    }

    /// What `read` makes of a field that must be given.
    pub fn required<T>(&self, name: &'static str, read: impl FnOnce(&Field<'r>) -> Option<T>) -> Option<T> {
        match self.take(name) {
            Some(field) => read(&field),
            None => self.whole.child(PathStep::Name(name), "").refuse("this field is required"),
        }
    }

    /// What `read` makes of a field, or its default when it is left out.
    pub fn optional<T>(
        &self,
        name: &'static str,
        default: impl FnOnce() -> T,
        read: impl FnOnce(&Field<'r>) -> Option<T>,
    ) -> Option<T> {
        match self.take(name) {
            Some(field) => read(&field),
            None => Some(default()),
        }
    }

    /// What `read` makes of a field that may be left out or `null`.
    pub fn nullable<T>(&self, name: &'static str, read: impl FnOnce(&Field<'r>) -> Option<T>) -> Option<Option<T>> {
        match self.take(name) {
            Some(field) if !field.is_null() => read(&field).map(Some),
            _ => Some(None),
        }
    }

    /// A checked number that is `default` when left out.
    pub fn fraction<T>(
        &self,
        name: &'static str,
        default: &str,
        rule: impl Fn(&str) -> Result<T, Error>,
    ) -> Option<Written<T>> {
        match self.take(name) {
            Some(field) => field.fraction(rule),
            None => self.whole.settle(Written::parse(default, rule)),
        }
    }

    /// Refuses every field that no reader asked for. To be called last.
    pub fn done(&self) -> Option<()> {
        let taken = self.taken.borrow();
        let mut sound = Some(());
        for (key, _) in &self.fields {
            if !taken.iter().any(|name| name == key) {
                let names = taken.join(", ");
                let pointer = self.whole.path.pointer_to(key);
                self.whole.reader.refuse(pointer, format!("no field of this name; known are {names}"));
                sound = None;
            }
        }
        sound
    }
}

/// The entries of an object in their order, keys given twice included.
struct Entries<'a>(Vec<(Cow<'a, str>, &'a str)>);

impl<'de: 'a, 'a> serde::Deserialize<'de> for Entries<'a> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct Walk;
        impl<'de> Visitor<'de> for Walk {
            type Value = Entries<'de>;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("an object")
            }

            fn visit_map<M: MapAccess<'de>>(self, mut map: M) -> Result<Self::Value, M::Error> {
                let mut entries = Vec::new();
                while let Some((key, value)) = map.next_entry::<Key<'de>, &'de RawValue>()? {
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
