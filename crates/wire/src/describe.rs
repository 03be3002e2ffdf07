//! What requests and kept values are made of, each described once: the reader, the writer, the schema of the
//! API's description, the defaults and the texts of refusals all come out of one [`record!`], [`words!`] or
//! implementation of [`Json`].

use serde::ser::{Serialize, SerializeMap, Serializer};
use utoipa::openapi::schema::{
    AdditionalProperties, AllOf, ArrayBuilder, ObjectBuilder, OneOf, OneOfBuilder, Ref, Schema, Type,
};
use utoipa::openapi::{RefOr, schema::Array, schema::Object as ObjectSchema};

use crate::read::{Field, Object};

/// Named schemas, as they are collected for the API's description.
pub type Schemas = Vec<(String, RefOr<Schema>)>;

/// A value that is read from JSON, written as JSON, and described in the API.
pub trait Json: Sized {
    /// The name of its schema; none where it is described in its place.
    const NAME: Option<&'static str> = None;
    /// What several of it are called.
    const PLURAL: &'static str = "values";

    /// Reads it; every bad part is noted.
    fn read(field: &Field<'_>) -> Option<Self>;

    /// Writes it, so that reading gives the same.
    ///
    /// # Errors
    /// Those of the serializer.
    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error>;

    /// Its schema.
    fn describe() -> Schema;

    /// Adds the named schemas that its own refers to.
    fn refers(_schemas: &mut Schemas) {}

    /// What it is where it is left out, if that is possible.
    fn absent() -> Option<Self> {
        None
    }

    /// Whether it is left out when it is written.
    fn is_absent(&self) -> bool {
        false
    }
}

/// A value whose JSON is an object.
pub trait Record: Json {
    /// Reads it from an object of which other fields may have been taken.
    fn read_object(object: &Object<'_>) -> Option<Self>;

    /// Writes its fields.
    ///
    /// # Errors
    /// Those of the serializer.
    fn write_fields<M: SerializeMap>(&self, map: &mut M) -> Result<(), M::Error>;
}

/// Whether a field must be given, and what it is otherwise.
#[derive(Clone, Copy, Debug)]
pub enum Presence {
    /// It must be given.
    Required,
    /// The JSON that it is otherwise.
    Default(&'static str),
    /// Left out it is absent.
    Optional,
}

/// Why fields that are sound each by itself make no value together.
#[derive(Debug)]
pub enum Refused {
    /// What the core says.
    Core(ratiomet_core::Error),
    /// What is accepted.
    Accepted(&'static str),
    /// What is accepted in one of the fields.
    Field(&'static str, &'static str),
}

impl From<ratiomet_core::Error> for Refused {
    fn from(error: ratiomet_core::Error) -> Self {
        Self::Core(error)
    }
}

impl Refused {
    /// Notes the refusal.
    pub fn at<T>(self, field: &Field<'_>) -> Option<T> {
        match self {
            Self::Core(error) => field.settle(Err(error)),
            Self::Accepted(accepted) => field.refuse(accepted),
            Self::Field(name, accepted) => match field.peek().and_then(|object| object.take(name)) {
                Some(part) => part.refuse(accepted),
                None => field.refuse(accepted),
            },
        }
    }
}

/// A reference to the schema of `T`, or the schema itself where it has no name.
pub fn reference<T: Json>() -> RefOr<Schema> {
    match T::NAME {
        Some(name) => RefOr::Ref(Ref::from_schema_name(name)),
        None => RefOr::T(T::describe()),
    }
}

/// Adds the schema of `T`, if it has a name, and all that it refers to.
pub fn collect<T: Json>(schemas: &mut Schemas) {
    match T::NAME {
        Some(name) if schemas.iter().any(|(known, _)| known == name) => {}
        Some(name) => {
            schemas.push((name.to_owned(), RefOr::T(T::describe())));
            T::refers(schemas);
        }
        None => T::refers(schemas),
    }
}

/// The schema of a record with one more field, which must be given and comes first.
pub fn with_field<T: Record>(name: &str, field: impl Into<RefOr<Schema>>) -> Schema {
    let mut schema = T::describe();
    if let Schema::Object(object) = &mut schema {
        object.required.insert(0, name.to_owned());
        object.properties.shift_insert(0, name.to_owned(), field.into());
    }
    schema
}

/// The schema of a word that is always the same.
pub fn tag(word: &str) -> Schema {
    ObjectBuilder::new().schema_type(Type::String).enum_values(Some([word])).into()
}

/// Adds the schema of a record that is told apart from others by a word, and all that it refers to.
pub fn collect_tagged<T: Record>(schemas: &mut Schemas, name: &str, word: &str) {
    let schema = T::NAME.expect("a record that is told apart has a name");
    schemas.push((schema.to_owned(), RefOr::T(with_field::<T>(name, tag(word)))));
    T::refers(schemas);
}

/// The schema of a field: that of its type, with what the field says and what it is by default.
pub fn property<T: Json>(doc: &str, presence: Presence) -> RefOr<Schema> {
    let default = match presence {
        Presence::Default(text) if text != "null" => {
            Some(serde_json::from_str(text).expect("a default of the description is JSON"))
        }
        _ => None,
    };
    let mut schema = reference::<T>();
    let (description, place) = match &mut schema {
        RefOr::Ref(reference) => {
            reference.description = doc.to_owned();
            reference.default = default;
            return schema;
        }
        RefOr::T(Schema::Object(ObjectSchema { description, default, .. })) => (description, default),
        RefOr::T(Schema::Array(Array { description, default, .. })) => (description, default),
        RefOr::T(Schema::OneOf(OneOf { description, default, .. })) => (description, default),
        RefOr::T(Schema::AllOf(AllOf { description, default, .. })) => (description, default),
        RefOr::T(_) => return schema,
    };
    let own = description.take().map(|own| format!(" {own}")).unwrap_or_default();
    *description = Some(format!("{doc}{own}"));
    *place = default;
    schema
}

/// The beginning of the schema of an object.
pub fn object_schema(doc: &str) -> ObjectBuilder {
    ObjectBuilder::new()
        .schema_type(Type::Object)
        .description(Some(doc))
        .additional_properties(Some(AdditionalProperties::<Schema>::FreeForm(false)))
}

/// The lines of a doc comment as one text.
pub fn doc(lines: &[&str]) -> String {
    lines.iter().map(|line| line.trim()).collect::<Vec<_>>().join(" ")
}

/// A value for a serializer.
pub struct As<'a, T>(pub &'a T);

impl<T: Json> Serialize for As<'_, T> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.0.write(serializer)
    }
}

/// A value in an answer, written and described as it is in requests.
#[derive(Clone, Debug, PartialEq)]
pub struct Values<T>(pub T);

impl<T: Json> Serialize for Values<T> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.0.write(serializer)
    }
}

impl<T: Json> utoipa::PartialSchema for Values<T> {
    fn schema() -> RefOr<Schema> {
        RefOr::T(T::describe())
    }
}

impl<T: Json> utoipa::ToSchema for Values<T> {
    fn name() -> std::borrow::Cow<'static, str> {
        T::NAME.expect("only values that have a name stand by themselves").into()
    }

    fn schemas(schemas: &mut Schemas) {
        T::refers(schemas);
    }
}

impl<T: Json> From<T> for Values<T> {
    fn from(value: T) -> Self {
        Self(value)
    }
}

/// Or `null`.
impl<T: Json> Json for Option<T> {
    fn read(field: &Field<'_>) -> Option<Self> {
        if field.is_null() { Some(None) } else { T::read(field).map(Some) }
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        match self {
            Some(value) => value.write(serializer),
            None => serializer.serialize_none(),
        }
    }

    fn describe() -> Schema {
        OneOfBuilder::new().item(ObjectBuilder::new().schema_type(Type::Null)).item(reference::<T>()).into()
    }

    fn refers(schemas: &mut Schemas) {
        collect::<T>(schemas);
    }
}

/// A value that is given or left out.
#[derive(Clone, Debug, PartialEq)]
pub struct Given<T>(pub Option<T>);

impl<T: Json> Json for Given<T> {
    const NAME: Option<&'static str> = T::NAME;

    fn read(field: &Field<'_>) -> Option<Self> {
        T::read(field).map(|value| Self(Some(value)))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        match &self.0 {
            Some(value) => value.write(serializer),
            None => serializer.serialize_none(),
        }
    }

    fn describe() -> Schema {
        T::describe()
    }

    fn refers(schemas: &mut Schemas) {
        T::refers(schemas);
    }

    fn absent() -> Option<Self> {
        Some(Self(None))
    }

    fn is_absent(&self) -> bool {
        self.0.is_none()
    }
}

/// A list of so many.
#[derive(Clone, Debug, PartialEq)]
pub struct List<T, const LEAST: usize, const MOST: usize>(pub Vec<T>);

impl<T: Json, const LEAST: usize, const MOST: usize> Json for List<T, LEAST, MOST> {
    fn read(field: &Field<'_>) -> Option<Self> {
        let accepted = || match LEAST {
            0 => format!("an array of at most {MOST} {}", T::PLURAL),
            least => format!("an array of {least} to {MOST} {}", T::PLURAL),
        };
        let items = field.array_within(LEAST, MOST, accepted)?;
        // All of them are read before any is given up, so that every fault is named.
        let read: Vec<Option<T>> = items.iter().map(T::read).collect();
        read.into_iter().collect::<Option<_>>().map(Self)
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_seq(self.0.iter().map(As))
    }

    fn describe() -> Schema {
        let items = ArrayBuilder::new().items(reference::<T>()).max_items(Some(MOST));
        items.min_items((LEAST > 0).then_some(LEAST)).into()
    }

    fn refers(schemas: &mut Schemas) {
        collect::<T>(schemas);
    }
}

/// Describes a value whose JSON is an object: the name of its schema, what several are called, and for each
/// field its type, whether it must be given, and where it stands in the value; then how the fields make it.
#[macro_export]
macro_rules! record {
    (
        $(#[doc = $doc:literal])*
        $schema:literal, $plural:literal for $type:ty {
            $(
                $(#[doc = $field_doc:literal])*
                $field:ident: $field_type:ty = $presence:expr, $get:expr;
            )*
        }
        $build:expr
    ) => {
        impl $crate::describe::Json for $type {
            const NAME: Option<&'static str> = Some($schema);
            const PLURAL: &'static str = $plural;

            fn read(field: &$crate::read::Field<'_>) -> Option<Self> {
                <Self as $crate::describe::Record>::read_object(&field.object()?)
            }

            fn write<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                let mut map = serializer.serialize_map(None)?;
                $crate::describe::Record::write_fields(self, &mut map)?;
                serde::ser::SerializeMap::end(map)
            }

            fn describe() -> utoipa::openapi::schema::Schema {
                #[allow(unused_imports, reason = "some records have fields of one presence only")]
                use $crate::describe::Presence::{Default, Optional, Required};
                let mut schema = $crate::describe::object_schema(&$crate::describe::doc(&[$($doc),*]));
                $(
                    let presence = $presence;
                    let doc = $crate::describe::doc(&[$($field_doc),*]);
                    let property = $crate::describe::property::<$field_type>(&doc, presence);
                    schema = schema.property(stringify!($field), property);
                    if matches!(presence, Required) {
                        schema = schema.required(stringify!($field));
                    }
                )*
                schema.into()
            }

            fn refers(schemas: &mut $crate::describe::Schemas) {
                $($crate::describe::collect::<$field_type>(schemas);)*
            }
        }

        impl $crate::describe::Record for $type {
            fn read_object(object: &$crate::read::Object<'_>) -> Option<Self> {
                #[allow(unused_imports, reason = "some records have fields of one presence only")]
                use $crate::describe::Presence::{Default, Optional, Required};
                $(let $field = object.field::<$field_type>(stringify!($field), $presence);)*
                object.done()?;
                let build: fn($($field_type),*) -> Result<Self, $crate::describe::Refused> = $build;
                match build($($field?),*) {
                    Ok(value) => Some(value),
                    Err(refused) => refused.at(object.as_field()),
                }
            }

            fn write_fields<M: serde::ser::SerializeMap>(&self, map: &mut M) -> Result<(), M::Error> {
                $(
                    let get: fn(&$type) -> $field_type = $get;
                    let value = get(self);
                    if !$crate::describe::Json::is_absent(&value) {
                        map.serialize_entry(stringify!($field), &$crate::describe::As(&value))?;
                    }
                )*
                Ok(())
            }
        }
    };
}
pub use record;

/// Describes a value that is one of some words.
#[macro_export]
macro_rules! words {
    ($(#[doc = $doc:literal])* $schema:literal for $type:ty, $all:expr, $word:expr) => {
        impl $crate::describe::Json for $type {
            const NAME: Option<&'static str> = Some($schema);

            fn read(field: &$crate::read::Field<'_>) -> Option<Self> {
                let word: fn($type) -> &'static str = $word;
                field.word(&$all.map(|each| (word(each), each)))
            }

            fn write<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                let word: fn($type) -> &'static str = $word;
                serializer.serialize_str(word(*self))
            }

            fn describe() -> utoipa::openapi::schema::Schema {
                let word: fn($type) -> &'static str = $word;
                utoipa::openapi::schema::ObjectBuilder::new()
                    .schema_type(utoipa::openapi::schema::Type::String)
                    .description(Some($crate::describe::doc(&[$($doc),*])))
                    .enum_values(Some($all.map(word)))
                    .into()
            }
        }
    };
}
pub use words;
