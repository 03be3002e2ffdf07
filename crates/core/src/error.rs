//! What the core refuses, and why.

use std::fmt;

use crate::Exact;
use crate::fraction::Sign;
use crate::limits::{Bounds, DIGITS, LARGEST_SIDE, SMALLEST_ACTIVE_SIDE};

/// A refusal: which parameter, and what would be accepted.
///
/// The `Display` text is a phrase that says what is accepted, ready for a person.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Error {
    kind: Kind,
    parameter: Option<Parameter>,
}

/// The parameter that a refusal is about, where it is a part of what was given.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Parameter {
    /// The insets of a source.
    Active,
    /// Bits a second on average.
    AverageRate,
    /// The point that comes into the middle.
    Centre,
    /// How colour is sampled.
    Chroma,
    /// A quality that stays the same.
    ConstantQuality,
    /// What holds picture and sound.
    Container,
    /// Bits of a sample.
    Depth,
    /// How a picture is placed.
    Framing,
    /// A height.
    Height,
    /// The most bits a second.
    HighestRate,
    /// Points of a horizon.
    Horizon,
    /// From one whole picture to the next.
    KeyframeDistance,
    /// What a decoder must take.
    Level,
    /// The ratio of the picture inside a frame.
    PictureRatio,
    /// How finely a sphere is sampled.
    PixelsPerDegree,
    /// How far a codec goes.
    Profile,
    /// The raster of a frame.
    Raster,
    /// A ratio that is wanted.
    Ratio,
    /// What becomes of the sound.
    Sound,
    /// What a lens did.
    Squeeze,
    /// The grid for sides and bars.
    Step,
    /// The frame through which pictures reach another.
    Through,
    /// Lines that should stand upright.
    Uprights,
    /// A number that was typed.
    Value,
    /// A width.
    Width,
}

#[derive(Clone, Debug, PartialEq, Eq)]
enum Kind {
    Syntax { signed: bool, of: Option<Box<Bounds>> },
    Range { bounds: Box<Bounds>, given: String },
    Step,
    Rotation,
    NothingLeft { left: (i64, i64) },
    NoPicture,
    ResultTooLarge { side: &'static str },
    OutsidePicture,
    Entry { low: String, high: String, given: String },
    NoWindow,
    NothingShown,
    NoCell,
    Chroma { sampling: &'static str, given: u32 },
    Unsettled,
    Pole,
    Way { why: &'static str },
    File { accepted: String },
}

impl Error {
    pub(crate) fn syntax(sign: Sign) -> Self {
        Self::of(Kind::Syntax { signed: sign == Sign::Allowed, of: None })
    }

    /// The same, with what the number is: its example fits then.
    pub(crate) fn in_place_of(mut self, bounds: Bounds) -> Self {
        if let Kind::Syntax { of, .. } = &mut self.kind {
            *of = Some(Box::new(bounds));
        }
        self
    }

    pub(crate) fn range(bounds: &Bounds, given: &Exact) -> Self {
        Self::of(Kind::Range { bounds: Box::new(*bounds), given: given.to_string() })
    }

    pub(crate) fn step() -> Self {
        Self::of(Kind::Step)
    }

    pub(crate) fn rotation() -> Self {
        Self::of(Kind::Rotation)
    }

    pub(crate) fn nothing_left(left: (i64, i64)) -> Self {
        Self::of(Kind::NothingLeft { left })
    }

    pub(crate) fn no_picture() -> Self {
        Self::of(Kind::NoPicture)
    }

    pub(crate) fn too_large(side: &'static str) -> Self {
        Self::of(Kind::ResultTooLarge { side })
    }

    pub(crate) fn outside_picture() -> Self {
        Self::of(Kind::OutsidePicture)
    }

    pub(crate) fn entry(low: &Exact, high: &Exact, given: &Exact) -> Self {
        let short = |value: &Exact| value.to_short_decimal(4);
        Self::of(Kind::Entry { low: short(low), high: short(high), given: short(given) })
    }

    pub(crate) fn no_window() -> Self {
        Self::of(Kind::NoWindow)
    }

    pub(crate) fn nothing_shown() -> Self {
        Self::of(Kind::NothingShown)
    }

    pub(crate) fn no_cell() -> Self {
        Self::of(Kind::NoCell)
    }

    pub(crate) fn chroma(sampling: &'static str, given: u32) -> Self {
        Self::of(Kind::Chroma { sampling, given })
    }

    pub(crate) fn unsettled() -> Self {
        Self::of(Kind::Unsettled)
    }

    pub(crate) fn pole() -> Self {
        Self::of(Kind::Pole)
    }

    pub(crate) fn way(why: &'static str) -> Self {
        Self::of(Kind::Way { why }).at(Parameter::Through)
    }

    /// A part of a file that does not go with the others: what would.
    pub(crate) fn file(accepted: String) -> Self {
        Self::of(Kind::File { accepted })
    }

    const fn of(kind: Kind) -> Self {
        Self { kind, parameter: None }
    }

    /// The same refusal, laid at the door of a parameter.
    #[must_use]
    pub(crate) const fn at(mut self, parameter: Parameter) -> Self {
        self.parameter = Some(parameter);
        self
    }

    /// The parameter that caused it; none when the refused value itself is meant.
    pub const fn parameter(&self) -> Option<Parameter> {
        self.parameter
    }

    /// The text is not a fraction.
    pub const fn is_syntax(&self) -> bool {
        matches!(self.kind, Kind::Syntax { .. })
    }

    /// The value is one of its kind, but not one that can be here.
    pub const fn is_range(&self) -> bool {
        matches!(
            self.kind,
            Kind::Range { .. }
                | Kind::Step
                | Kind::Rotation
                | Kind::OutsidePicture
                | Kind::Entry { .. }
                | Kind::NoWindow
                | Kind::NothingShown
                | Kind::NoCell
                | Kind::Chroma { .. }
                | Kind::File { .. }
        )
    }

    /// Insets or a ratio leave no picture.
    pub const fn is_nothing_left(&self) -> bool {
        matches!(self.kind, Kind::NothingLeft { .. } | Kind::NoPicture)
    }

    /// A side of the result would pass the largest side of a frame.
    pub const fn is_too_large(&self) -> bool {
        matches!(self.kind, Kind::ResultTooLarge { .. })
    }

    /// Marks on a sphere settle no turn.
    pub const fn is_unsettled(&self) -> bool {
        matches!(self.kind, Kind::Unsettled | Kind::Pole)
    }

    /// A frame cannot go through the one that it names.
    pub const fn is_way(&self) -> bool {
        matches!(self.kind, Kind::Way { .. })
    }
}

impl fmt::Display for Error {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match &self.kind {
            Kind::Syntax { signed, of } => {
                let (name, example) =
                    of.as_ref().map_or(("a number", "2.39 or 24000/1001"), |bounds| (bounds.name(), bounds.example()));
                write!(
                    f,
                    "{name} such as {example}: digits with at most one decimal point between them, at most {DIGITS} \
                     digits in each part"
                )?;
                if *signed { write!(f, ", a minus sign allowed in front") } else { Ok(()) }
            }
            Kind::Range { bounds, given } => write!(f, "{bounds}; {given} is outside"),
            Kind::Step => write!(f, "1, 2, 4, 8 or 16 pixels"),
            Kind::Rotation => write!(f, "a clockwise rotation of 0, 90, 180 or 270 degrees"),
            Kind::NothingLeft { left: (width, height) } => write!(
                f,
                "insets that leave at least {SMALLEST_ACTIVE_SIDE} × {SMALLEST_ACTIVE_SIDE} stored pixels; these leave {} × {}",
                (*width).max(0),
                (*height).max(0)
            ),
            Kind::NoPicture => {
                write!(f, "a visible ratio closer to the frame's own; with this one the bars leave no picture")
            }
            Kind::OutsidePicture => {
                write!(f, "a box inside the picture: left plus width and top plus height at most 1")
            }
            Kind::Entry { low, high, given } if low == high => {
                write!(f, "{low}, because the whole side is visible; {given} is not possible")
            }
            Kind::Entry { low, high, given } => {
                write!(f, "a number from {low} to {high} for this conversion; {given} is outside")
            }
            Kind::NoWindow => {
                write!(f, "a number for a visible picture; this one lies outside the picture area")
            }
            Kind::NothingShown => {
                write!(f, "a framing that shows some of the picture; this one leaves the picture area empty")
            }
            Kind::NoCell => {
                write!(f, "insets that leave at least one whole chroma sample")
            }
            Kind::Chroma { sampling, given } => {
                write!(f, "an even number of pixels for {sampling}; {given} is odd")
            }
            Kind::Unsettled => write!(f, "marks that define which way is up: two that differ, with up off the equator"),
            Kind::Pole => write!(f, "a point off the pole that the marks find"),
            Kind::File { accepted } => write!(f, "{accepted}"),
            Kind::Way { why } => {
                write!(f, "another frame of this project that is not made from this one: {why}")
            }
            Kind::ResultTooLarge { side } => {
                write!(f, "values that keep each side within {LARGEST_SIDE} pixels; the {side} would be larger")
            }
        }
    }
}

impl std::error::Error for Error {}
