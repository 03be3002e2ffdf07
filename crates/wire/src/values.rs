//! The smallest parts of requests: numbers within their bounds, rasters, words, names, numbers of records.

use ratiomet_core::bounded::Bounded;
use ratiomet_core::cadence::Intent;
use ratiomet_core::dial_in::{Convention, Entered};
use ratiomet_core::fraction::{Sign, Written};
use ratiomet_core::limits::{self, Bounds};
use ratiomet_core::project::{
    ActivePictureId, FrameId, HouseFrameId, Name, Note, Pair, Placing, ProfileId, ProjectId, SourceId, StepId,
};
use ratiomet_core::recipe::Chroma;
use ratiomet_core::resampling::{Amount, Radius};
use ratiomet_core::safe_area::Percent;
use ratiomet_core::signal::{Projection, RangePlan, RatePlan, Scan, SignalRange};
use ratiomet_core::space::Axis;
use ratiomet_core::sphere::{
    Across, Distance, Eyes, FieldOfView, Hold, Latitude, Layout, Mark, PixelsPerDegree, Span, Turn, UpAndDown,
};
use ratiomet_core::subject::{Margin, Share};
use ratiomet_core::typing::{BordersCut, Hundred, PlaceUnit, SqueezeSet, TurnSign, Turned, Upwards, Zero, ZoomUnit};
use ratiomet_core::viewing::Show;
use ratiomet_core::weight::{Kilobits, Megabits, Seconds};
use ratiomet_core::{
    DisplayRatio, Exact, FrameRate, Keep, Method, PixelAspect, Raster, Rotation, Rounding, Shift, Squeeze, Step,
    Tolerance, Zoom, fraction,
};
use serde::ser::{Serialize, Serializer};
use utoipa::openapi::schema::{ArrayBuilder, ObjectBuilder, OneOfBuilder, Schema, Type};

use crate::describe::{As, Json, Schemas, collect, reference, words};
use crate::read::Field;
use crate::whole::Side;

/// A fraction as text or as a JSON number, within its bounds.
fn fraction_schema(bounds: &Bounds, sign: Sign) -> Schema {
    let number = ObjectBuilder::new().schema_type(Type::Number);
    let (low, high) = (bounds.low().to_f64(), bounds.high().to_f64());
    let number = if bounds.holds_low() { number.minimum(Some(low)) } else { number.exclusive_minimum(Some(low)) };
    let number = if bounds.holds_high() { number.maximum(Some(high)) } else { number.exclusive_maximum(Some(high)) };
    let digits = r"(\d+(\.\d+)?)([/:]\d+(\.\d+)?)?";
    let minus = if sign == Sign::Allowed { "-?" } else { "" };
    OneOfBuilder::new()
        .description(Some(format!("Must be {bounds}.")))
        .item(ObjectBuilder::new().schema_type(Type::String).pattern(Some(format!("^{minus}{digits}$"))))
        .item(number)
        .into()
}

/// How the number is written where its spelling is not kept.
trait Spelled: Bounded {
    fn exact(&self) -> &Exact;

    /// A decimal number where that is exact, else a fraction.
    fn text(&self) -> String {
        fraction::writable_text(self.exact())
    }
}

macro_rules! fractions {
    ($($type:ty),* $(,)?) => {$(
        impl Spelled for $type {
            fn exact(&self) -> &Exact {
                self.value()
            }
        }

        impl Json for $type {
            fn read(field: &Field<'_>) -> Option<Self> {
                let text = field.fraction()?;
                field.settle(<$type>::parse(&text))
            }

            fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                serializer.serialize_str(&Spelled::text(self))
            }

            fn describe() -> Schema {
                fraction_schema(&<$type>::BOUNDS, <$type>::SIGN)
            }
        }
    )*};
}

fractions!(
    Across,
    DisplayRatio,
    Distance,
    Entered,
    FieldOfView,
    FrameRate,
    Kilobits,
    Latitude,
    Megabits,
    PixelAspect,
    PixelsPerDegree,
    Seconds,
    Margin,
    Percent,
    Share,
    Shift,
    Squeeze,
    Amount,
    Radius,
    Tolerance,
    Turn,
    UpAndDown,
    Zoom,
);

/// A fraction whose spelling is kept.
impl<T: Bounded> Json for Written<T> {
    const PLURAL: &'static str = "ratios";

    fn read(field: &Field<'_>) -> Option<Self> {
        let text = field.fraction()?;
        field.settle(Self::parse(&text, T::parse))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.text())
    }

    fn describe() -> Schema {
        fraction_schema(&T::BOUNDS, T::SIGN)
    }
}

/// A frame rate as people say it: the decimal names of the NTSC rates mean the exact ones.
#[derive(Clone, Debug, PartialEq)]
pub struct SpokenRate(pub Written<FrameRate>);

impl Json for SpokenRate {
    fn read(field: &Field<'_>) -> Option<Self> {
        let text = field.fraction()?;
        field.settle(Written::parse(&text, FrameRate::spoken)).map(Self)
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.0.text())
    }

    fn describe() -> Schema {
        <Written<FrameRate> as Json>::describe()
    }
}

impl SpokenRate {
    /// The rate of a record.
    pub fn of(rate: Option<&Written<FrameRate>>) -> Option<Self> {
        rate.cloned().map(Self)
    }
}

/// Two whole sides, `[width, height]`.
impl<S> Json for Raster<S> {
    const PLURAL: &'static str = "pairs of sides";

    fn read(field: &Field<'_>) -> Option<Self> {
        let accepted = || {
            let most = limits::LARGEST_SIDE;
            format!("two whole numbers of pixels, [width, height], each from 1 to {most}")
        };
        let sides = field.array_within(2, 2, accepted)?;
        let (width, height) = (Side::read(&sides[0]), Side::read(&sides[1]));
        field.settle(Self::new(width?.get(), height?.get()))
    }

    fn write<Z: Serializer>(&self, serializer: Z) -> Result<Z::Ok, Z::Error> {
        [self.width(), self.height()].serialize(serializer)
    }

    fn describe() -> Schema {
        ArrayBuilder::new().items(reference::<Side>()).min_items(Some(2)).max_items(Some(2)).into()
    }
}

/// A whole number that is one of some.
macro_rules! chosen {
    ($($type:ty, $all:expr, $number:expr, $new:expr, $accepted:literal;)*) => {$(
        impl Json for $type {
            fn read(field: &Field<'_>) -> Option<Self> {
                match field.whole_number() {
                    Some(value) => field.settle($new(value)),
                    None => field.refuse($accepted),
                }
            }

            fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                serializer.serialize_u32($number(*self))
            }

            fn describe() -> Schema {
                ObjectBuilder::new().schema_type(Type::Integer).enum_values(Some($all.map($number))).into()
            }
        }
    )*};
}

chosen! {
    Step, Step::ALL, Step::pixels, Step::new, "a step of 1, 2, 4, 8 or 16 pixels, as a whole number";
    Rotation, Rotation::ALL, Rotation::degrees, Rotation::new,
        "a clockwise turn of 0, 90, 180 or 270 degrees, as a whole number";
}

impl Json for bool {
    fn read(field: &Field<'_>) -> Option<Self> {
        field.flag()
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_bool(*self)
    }

    fn describe() -> Schema {
        ObjectBuilder::new().schema_type(Type::Boolean).into()
    }
}

/// A text of at most so many characters.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Text<const MOST: usize>(pub String);

impl<const MOST: usize> Json for Text<MOST> {
    const PLURAL: &'static str = "texts";

    fn read(field: &Field<'_>) -> Option<Self> {
        let accepted =
            || if MOST == usize::MAX { "a text".to_owned() } else { format!("a text of at most {MOST} characters") };
        let text = field.string(&accepted())?;
        if text.len() <= MOST || text.chars().count() <= MOST {
            Some(Self(text.into_owned()))
        } else {
            field.refuse(accepted())
        }
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(&self.0)
    }

    fn describe() -> Schema {
        let most = (MOST < usize::MAX).then_some(MOST);
        ObjectBuilder::new().schema_type(Type::String).max_length(most).into()
    }
}

/// A whole number from 1 to some.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Count<const MOST: u32>(pub u32);

impl<const MOST: u32> Json for Count<MOST> {
    const PLURAL: &'static str = "whole numbers";

    fn read(field: &Field<'_>) -> Option<Self> {
        let within = field.whole_number().filter(|number| (1..=MOST).contains(number));
        within.map(Self).or_else(|| field.refuse(format!("a whole number from 1 to {MOST}")))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_u32(self.0)
    }

    fn describe() -> Schema {
        ObjectBuilder::new().schema_type(Type::Integer).minimum(Some(1)).maximum(Some(MOST)).into()
    }
}

impl Json for Name {
    fn read(field: &Field<'_>) -> Option<Self> {
        let accepted = "a name of 1 to 120 characters on one line";
        let text = field.string(accepted)?;
        Self::new(&text).or_else(|| field.refuse(accepted))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.as_str())
    }

    fn describe() -> Schema {
        ObjectBuilder::new().schema_type(Type::String).min_length(Some(1)).max_length(Some(Self::LONGEST)).into()
    }
}

impl Json for Note {
    fn read(field: &Field<'_>) -> Option<Self> {
        let accepted = "a text of at most 1000 characters";
        let text = field.string(accepted)?;
        Self::new(&text).or_else(|| field.refuse(accepted))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.as_str())
    }

    fn describe() -> Schema {
        ObjectBuilder::new().schema_type(Type::String).max_length(Some(Self::LONGEST)).into()
    }
}

/// The code of a finding.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Code(pub &'static str);

impl Json for Code {
    const NAME: Option<&'static str> = Some("FindingCode");

    fn read(field: &Field<'_>) -> Option<Self> {
        field.word(&ratiomet_core::Finding::CODES.map(|code| (code, Self(code))))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.0)
    }

    fn describe() -> Schema {
        ObjectBuilder::new().schema_type(Type::String).enum_values(Some(ratiomet_core::Finding::CODES)).into()
    }
}

macro_rules! ids {
    ($($type:ident, $plural:literal;)*) => {$(
        impl Json for $type {
            const PLURAL: &'static str = $plural;

            fn read(field: &Field<'_>) -> Option<Self> {
                let number = field.whole_number().and_then(|number| i32::try_from(number).ok());
                number.map(Self::new).or_else(|| field.refuse(concat!("one of the ", $plural)))
            }

            fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                serializer.serialize_i32(self.number())
            }

            fn describe() -> Schema {
                ObjectBuilder::new().schema_type(Type::Integer).minimum(Some(0)).maximum(Some(i32::MAX)).into()
            }
        }
    )*};
}

ids! {
    ProjectId, "numbers of projects";
    SourceId, "numbers of sources";
    FrameId, "numbers of frames";
    StepId, "numbers of steps";
    HouseFrameId, "numbers of house frames";
    ActivePictureId, "numbers of active pictures";
    ProfileId, "numbers of typing profiles";
}

/// `[source, frame]`.
impl Json for Pair {
    const PLURAL: &'static str = "pairs of numbers, [source, frame]";

    fn read(field: &Field<'_>) -> Option<Self> {
        let parts = field.array_within(2, 2, || "a pair of numbers, [source, frame]".to_owned())?;
        let (source, frame) = (SourceId::read(&parts[0]), FrameId::read(&parts[1]));
        Some(Self::new(source?, frame?))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        [self.source.number(), self.frame.number()].serialize(serializer)
    }

    fn describe() -> Schema {
        ArrayBuilder::new().items(reference::<SourceId>()).min_items(Some(2)).max_items(Some(2)).into()
    }
}

/// Two parts of which the last may be left out, and is then what it is by default.
macro_rules! pairs {
    ($($type:ty, $first:ty, $second:ty, $default:literal, $accepted:literal, $make:expr, $parts:expr;)*) => {$(
        impl Json for $type {
            fn read(field: &Field<'_>) -> Option<Self> {
                let parts = field.array_within(1, 2, || $accepted.to_owned())?;
                let first = <$first as Json>::read(&parts[0]);
                let second = match parts.get(1) {
                    Some(part) => <$second as Json>::read(part),
                    None => <$second as Json>::read(&field.with_text($default)),
                };
                let make: fn($first, $second) -> $type = $make;
                Some(make(first?, second?))
            }

            fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                let parts: fn(&$type) -> (&$first, &$second) = $parts;
                let (first, second) = parts(self);
                (As(first), As(second)).serialize(serializer)
            }

            fn describe() -> Schema {
                ArrayBuilder::new().items(reference::<$first>()).min_items(Some(1)).max_items(Some(2)).into()
            }

            fn refers(schemas: &mut Schemas) {
                collect::<$first>(schemas);
            }
        }
    )*};
}

pairs! {
    [Written<Shift>; 2], Written<Shift>, Written<Shift>, "0",
        "delivery pixels right and down, such as [\"-90\", \"0\"]", |x, y| [x, y], |[x, y]| (x, y);
    [Shift; 2], Shift, Shift, "0",
        "delivery pixels right and down, such as [\"-90\", \"0\"]", |x, y| [x, y], |[x, y]| (x, y);
    Span, Across, UpAndDown, "180", "degrees across and up, such as [360, 180]",
        |across, up| Span { across, up }, |span| (&span.across, &span.up);
}

/// `[longitude, latitude]`.
impl Json for Mark {
    const PLURAL: &'static str = "points, [longitude, latitude]";

    fn read(field: &Field<'_>) -> Option<Self> {
        let parts = field.array_within(2, 2, || "a point in degrees, [longitude, latitude]".to_owned())?;
        let (longitude, latitude) = (Turn::read(&parts[0]), Latitude::read(&parts[1]));
        Some(Self { longitude: longitude?, latitude: latitude? })
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        (As(&self.longitude), As(&self.latitude)).serialize(serializer)
    }

    fn describe() -> Schema {
        ArrayBuilder::new().items(reference::<Turn>()).min_items(Some(2)).max_items(Some(2)).into()
    }
}

/// A line between two points.
impl Json for [Mark; 2] {
    const PLURAL: &'static str = "lines of two points each";

    fn read(field: &Field<'_>) -> Option<Self> {
        let parts = field.array_within(2, 2, || "a line of two points, each [longitude, latitude]".to_owned())?;
        let (from, to) = (Mark::read(&parts[0]), Mark::read(&parts[1]));
        Some([from?, to?])
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.each_ref().map(As).serialize(serializer)
    }

    fn describe() -> Schema {
        ArrayBuilder::new().items(reference::<Mark>()).min_items(Some(2)).max_items(Some(2)).into()
    }
}

words!(
    /// The rule that sets the size of the picture.
    "MethodName" for Method, Method::ALL, Method::word
);
words!(
    /// How a project places a picture: by the rule that sets its size, or filled and slid so that the source's
    /// subject is whole.
    "PlacingName" for Placing, Placing::ALL, Placing::word
);
words!(
    /// Whether all lines belong to one moment, or odd and even ones to two.
    "ScanName" for Scan, Scan::ALL, Scan::word
);
words!(
    /// Which code values stand for black and white: 16 to 235 of 255 (ITU-R BT.709), or 0 to 255.
    "SignalRangeName" for SignalRange, SignalRange::ALL, SignalRange::word
);
words!(
    /// What is done for frames of another signal range: nothing has been said, the values are converted, or they
    /// stay and the file declares them.
    "RangePlanName" for RangePlan, RangePlan::ALL, RangePlan::word
);

words!(
    /// What is shown between the frames of a source where the frame has another rate: not decided, whole frames left
    /// out or repeated, or neighbouring ones blended.
    "RatePlanName" for RatePlan, RatePlan::ALL, RatePlan::word
);
words!(
    /// A flat picture, or a sphere unrolled: longitude across, latitude down.
    "ProjectionName" for Projection, Projection::ALL, Projection::word
);
words!(
    /// What is to be kept: the running time, or every frame.
    "IntentName" for Intent, Intent::ALL, Intent::word
);
words!(
    /// How the colour is sampled: two columns and two lines share a sample, two columns, or none.
    "ChromaName" for Chroma, Chroma::ALL, Chroma::word
);
words!(
    /// Which side of the container is held; inside: whichever stays within it.
    "KeepName" for Keep, Keep::ALL, Keep::word
);
words!(
    /// How an exact side becomes a multiple of the step: not above it, not below it, or the nearest, a tie up.
    "RoundName" for Rounding, Rounding::ALL, Rounding::word
);
words!(
    /// What a player does with a frame of another shape: all of it is seen, or the screen is filled.
    "ShowName" for Show, Show::ALL, Show::word
);
words!(
    /// How the pictures for two eyes stand in one frame: one for both, the left above, or the left beside.
    "LayoutName" for Layout, Layout::ALL, Layout::word
);
words!(
    /// Which way a sphere may be turned by a hand: any way, so that the point stays under it; around the upright axis alone,
    /// so that what is level stays level; or around the middle of the frame alone.
    "HoldName" for Hold, Hold::ALL, Hold::word
);
words!(
    /// Which eye comes first, above or at the left.
    "EyesName" for Eyes, Eyes::ALL, Eyes::word
);
words!(
    /// What a program calls 100 %: one upright unit on one delivery line, the picture fitted, or the frame filled.
    "HundredName" for Hundred, Hundred::ALL, Hundred::word
);
words!(
    /// Where squeeze and pixel shape are set: on the clip, or nowhere, so that width and height are scaled apart.
    "SqueezeSetName" for SqueezeSet, SqueezeSet::ALL, SqueezeSet::word
);
words!(
    /// When borders are cut off: before the program scales, or after it or not at all.
    "BordersCutName" for BordersCut, BordersCut::ALL, BordersCut::word
);
words!(
    /// When a clip is turned: first, and then fitted, or fitted as it lies and turned last.
    "TurnedName" for Turned, Turned::ALL, Turned::word
);
words!(
    /// From where to where a place is measured: middle to middle, a corner of the frame to the middle of the
    /// picture, or corner to corner.
    "ZeroName" for Zero, Zero::ALL, Zero::word
);
words!(
    /// In what a place is measured: delivery pixels, or sides of the frame.
    "PlaceUnitName" for PlaceUnit, PlaceUnit::ALL, PlaceUnit::word
);
words!(
    /// Which way a place grows: down from the top left, or up from the bottom left.
    "UpwardsName" for Upwards, Upwards::ALL, Upwards::word
);
words!(
    /// Which turns are positive.
    "TurnSignName" for TurnSign, TurnSign::ALL, TurnSign::word
);
words!(
    /// How a size is written.
    "ZoomUnitName" for ZoomUnit, ZoomUnit::ALL, ZoomUnit::word
);
words!(
    /// In which of its numbers a placement was typed.
    "ConventionName" for Convention, Convention::ALL, Convention::word
);
words!(
    /// Of the delivery, or of the stored raster for a window.
    "AxisName" for Axis, Axis::BOTH, Axis::word
);
