//! Exact numbers in results.

use std::borrow::Cow;
use std::cell::RefCell;

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
        Written::of(&self.0).serialize(serializer)
    }
}

/// The JSON of a number. Results hold some hundred numbers, and most of the time that an answer takes
/// goes into writing them: each is brought to lowest terms and put together once, and written as it stands.
struct Written(Text);

/// Half of the numbers of a result stand in it several times, or stood in the one before: those that were written
/// last are remembered, each in the place that its terms give it.
const REMEMBERED: usize = 256;

/// A number that was written, by its terms.
struct Remembered {
    terms: (i64, i64),
    text: ArrayString<MOST>,
}

thread_local! {
    static WRITTEN: RefCell<[Option<Remembered>; REMEMBERED]> = const { RefCell::new([const { None }; REMEMBERED]) };
}

/// The place in which terms are remembered: the upper bits of a multiple by the golden ratio's odd neighbour.
const fn place((numerator, denominator): (i64, i64)) -> usize {
    let mixed = numerator.cast_unsigned() ^ denominator.cast_unsigned().rotate_left(32);
    (mixed.wrapping_mul(0x9E37_79B9_7F4A_7C15) >> 56) as usize
}

/// What a number is put together in: on the stack, unless it is too long.
enum Text {
    Short(ArrayString<MOST>),
    Long(String),
}

/// Two times 19 digits, two signs, the stroke, a double of at most 24 characters, and what stands around them.
const MOST: usize = 96;

/// A struct of this name with one field of this name is taken by serde_json as JSON that is written already:
/// that is how its `RawValue` writes itself, which could only be made by parsing the text again.
const RAW: &str = "$serde_json::private::RawValue";

impl Written {
    fn of(number: &Exact) -> Self {
        let Some(terms) = number.terms() else { return Self::made(number) };
        WRITTEN.with_borrow_mut(|all| {
            let place = &mut all[place(terms)];
            if let Some(kept) = place.as_ref().filter(|kept| kept.terms == terms) {
                return Self(Text::Short(kept.text));
            }
            let made = Self::made(number);
            if let Text::Short(text) = made.0 {
                *place = Some(Remembered { terms, text });
            }
            made
        })
    }

    fn made(number: &Exact) -> Self {
        let number = number.clone().reduced();
        let value = number.to_f64();
        let mut double = zmij::Buffer::new();
        // A number that is past the doubles is as JSON has no number for it.
        let double = if value.is_finite() { double.format_finite(value) } else { "null" };
        let Some((numerator, denominator)) = number.terms() else {
            return Self(Text::Long(format!(r#"{{"exact":"{number}","value":{double}}}"#)));
        };
        let mut text = ArrayString::new();
        text.push_str(r#"{"exact":""#);
        text.push_str(itoa::Buffer::new().format(numerator));
        if denominator != 1 {
            text.push('/');
            text.push_str(itoa::Buffer::new().format(denominator));
        }
        text.push_str(r#"","value":"#);
        text.push_str(double);
        text.push('}');
        Self(Text::Short(text))
    }
}

impl Serialize for Written {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let text = match &self.0 {
            Text::Short(text) => text.as_str(),
            Text::Long(text) => text,
        };
        let mut raw = serializer.serialize_struct(RAW, 1)?;
        raw.serialize_field(RAW, text)?;
        raw.end()
    }
}

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
#[derive(Clone, Debug, PartialEq, ToSchema)]
pub struct AxesResult {
    /// Across.
    pub x: ExactNumber,
    /// Up and down.
    pub y: ExactNumber,
}

impl Serialize for AxesResult {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut both = serializer.serialize_struct("AxesResult", 2)?;
        let x = Written::of(&self.x.0);
        both.serialize_field("x", &x)?;
        // Nearly always the axes agree.
        if self.x.0.is_same_fraction(&self.y.0) {
            both.serialize_field("y", &x)?;
        } else {
            both.serialize_field("y", &Written::of(&self.y.0))?;
        }
        both.end()
    }
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
