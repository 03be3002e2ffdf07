//! Exact numbers in results.

use std::borrow::Cow;

use arrayvec::ArrayString;
use ratiomet_core::Exact;
use ratiomet_core::space::{Axes, Rect, Size};
use serde::ser::{Serialize, SerializeStruct, Serializer};
use utoipa::ToSchema;
use utoipa::openapi::{ObjectBuilder, RefOr, Schema, schema::Type};

/// A number as the fraction that it is and as the nearest double.
#[derive(Clone, Debug, PartialEq)]
pub struct ExactNumber(pub Exact);

impl Serialize for ExactNumber {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut both = serializer.serialize_struct("ExactNumber", 2)?;
        // Results hold some hundred numbers: going through the formatter and the heap for each would
        // take a third of the time of an answer.
        match self.0.short_terms() {
            Some((whole, 1)) => both.serialize_field("exact", itoa::Buffer::new().format(whole))?,
            Some((numerator, denominator)) => {
                let mut text = ArrayString::<TWO_TERMS>::new();
                text.push_str(itoa::Buffer::new().format(numerator));
                text.push('/');
                text.push_str(itoa::Buffer::new().format(denominator));
                both.serialize_field("exact", text.as_str())?;
            }
            None => both.serialize_field("exact", &self.0.to_string())?,
        }
        both.serialize_field("value", &self.0.to_f64())?;
        both.end()
    }
}

/// Two times 19 digits, a sign and the stroke.
const TWO_TERMS: usize = 40;

impl utoipa::PartialSchema for ExactNumber {
    fn schema() -> RefOr<Schema> {
        ObjectBuilder::new()
            .description(Some("A number as the fraction that it is and as the nearest double."))
            .property(
                "exact",
                ObjectBuilder::new()
                    .schema_type(Type::String)
                    .description(Some("In lowest terms, without /1 for a whole number."))
                    .examples(["76800/47"]),
            )
            .property(
                "value",
                ObjectBuilder::new()
                    .schema_type(Type::Number)
                    .description(Some("The nearest double."))
                    .examples([76_800.0 / 47.0]),
            )
            .required("exact")
            .required("value")
            .into()
    }
}

impl ToSchema for ExactNumber {
    fn name() -> Cow<'static, str> {
        "ExactNumber".into()
    }
}

/// One exact number for each axis.
#[derive(Clone, Debug, PartialEq, serde::Serialize, ToSchema)]
pub struct AxesResult {
    /// Across.
    pub x: ExactNumber,
    /// Up and down.
    pub y: ExactNumber,
}

impl<U> From<Axes<U>> for AxesResult {
    fn from(axes: Axes<U>) -> Self {
        Self { x: ExactNumber(axes.x), y: ExactNumber(axes.y) }
    }
}

/// An exact rectangle, from its top left corner.
#[derive(Clone, Debug, PartialEq, serde::Serialize, ToSchema)]
pub struct RectResult {
    /// The left edge; x grows to the right.
    pub x: ExactNumber,
    /// The top edge; y grows downwards.
    pub y: ExactNumber,
    /// Across.
    pub width: ExactNumber,
    /// Down.
    pub height: ExactNumber,
}

impl<S> From<Rect<S>> for RectResult {
    fn from(rect: Rect<S>) -> Self {
        Self {
            x: ExactNumber(rect.x),
            y: ExactNumber(rect.y),
            width: ExactNumber(rect.size.width),
            height: ExactNumber(rect.size.height),
        }
    }
}

pub(crate) fn pair<S>(size: Size<S>) -> [ExactNumber; 2] {
    [ExactNumber(size.width), ExactNumber(size.height)]
}
