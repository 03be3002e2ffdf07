//! Kind `typing`: what to type into a program for one source in one frame.

use ratiomet_core::Framing;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::project::{FrameSpec, SourceSpec};
use ratiomet_core::space::{Axes, Factor};
use ratiomet_core::typing::{
    BordersCut, Hundred, MOST_DECIMALS, PlaceUnit, Rounded, SqueezeSet, ToType, TurnSign, Turned, TypingProfile,
    Upwards, Zero, ZoomUnit,
};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::{Values, record};
use crate::number::{AxesResult, ExactNumber};
use crate::shapes::ActiveInsets;
use crate::whole::{Plain, Whole};

type Decimals = Whole<0, MOST_DECIMALS, Plain>;

record!(
    /// What a program asks for.
    "TypingProfile", "typing profiles" for TypingProfile {
        /// What it calls 100 %.
        hundred: Hundred = Default(r#""fitted""#), |profile| profile.hundred;
        /// Where squeeze and pixel shape are set.
        squeeze: SqueezeSet = Default(r#""on_clip""#), |profile| profile.squeeze;
        /// When borders are cut off.
        borders: BordersCut = Default(r#""after""#), |profile| profile.borders;
        /// When a clip is turned.
        turned: Turned = Default(r#""first""#), |profile| profile.turned;
        /// From where to where a place is measured.
        zero: Zero = Default(r#""centre""#), |profile| profile.zero;
        /// In what.
        unit: PlaceUnit = Default(r#""pixels""#), |profile| profile.unit;
        /// Which way it grows.
        upwards: Upwards = Default(r#""down""#), |profile| profile.upwards;
        /// Which turns are positive.
        turn_sign: TurnSign = Default(r#""clockwise""#), |profile| profile.turn_sign;
        /// How a size is written.
        zoom_unit: ZoomUnit = Default(r#""percent""#), |profile| profile.zoom_unit;
        /// The decimals of a size.
        zoom_decimals: Decimals = Default("2"), |profile| Whole::new(profile.zoom_decimals);
        /// The decimals of a place.
        place_decimals: Decimals = Default("1"), |profile| Whole::new(profile.place_decimals);
    }
    |hundred, squeeze, borders, turned, zero, unit, upwards, turn_sign, zoom_unit, zoom_decimals, place_decimals| {
        Ok(TypingProfile {
            hundred,
            squeeze,
            borders,
            turned,
            zero,
            unit,
            upwards,
            turn_sign,
            zoom_unit,
            zoom_decimals: zoom_decimals.get(),
            place_decimals: place_decimals.get(),
        })
    }
);

/// The request.
#[derive(Clone, Debug)]
pub struct TypingRequest {
    source: SourceSpec,
    delivery: FrameSpec,
    framing: Framing,
    profile: TypingProfile,
}

record!(
    /// What to type into a program for one source in one frame.
    "TypingRequest", "questions of what to type" for TypingRequest {
        /// The footage.
        source: SourceSpec = Required, |request| request.source.clone();
        /// The frame.
        delivery: FrameSpec = Required, |request| request.delivery.clone();
        /// Where the picture is put; fit and centred when left out.
        framing: Framing = Default("{}"), |request| request.framing.clone();
        /// What the program asks for.
        profile: TypingProfile = Default("{}"), |request| request.profile.clone();
    }
    |source, delivery, framing, profile| Ok(TypingRequest { source, delivery, framing, profile })
);

impl Kind for TypingRequest {
    fn calculation(self) -> Calculation {
        let (source, frame) = (self.source.into_source(), self.delivery.into_frame());
        Calculation::Typing(source, frame, self.framing, self.profile)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Typing(source, frame, framing, profile) = calculation.clone() else { return None };
        Some(Self { source: source.into(), delivery: frame.into(), framing, profile })
    }
}

/// The numbers to type, in the order in which they are typed.
#[derive(Debug, Serialize, ToSchema)]
pub struct TypingResult {
    /// Stored pixels to cut off each side; null where nothing is.
    pub cut: Option<ActiveInsets>,
    /// Degrees to turn by, in the profile's sign; 0 for none.
    pub turn: i32,
    /// The exact size, in the profile's unit.
    pub zoom: AxesResult,
    /// Whether one number serves width and height.
    pub uniform: bool,
    /// Whether width and height are those of the clip as it lies, before it is turned.
    pub as_it_lies: bool,
    /// The exact place, in the profile's unit.
    pub place: AxesResult,
    /// The same with the decimals that the program takes.
    pub rounded: RoundedResult,
    /// The nearest numbers of as many decimals that leave nothing uncovered, where the rounded ones do.
    pub safe: Option<RoundedResult>,
    /// Further zoom until an axis reaches one delivery pixel per stored pixel.
    pub reserve: AxesResult,
    /// The smaller of the two: how far one may push in until some pixel is enlarged.
    pub reserve_both: ExactNumber,
}

/// Numbers with as many decimals as a program takes.
#[derive(Debug, Serialize, ToSchema)]
pub struct RoundedResult {
    /// The size.
    pub zoom: AxesResult,
    /// The place.
    pub place: AxesResult,
    /// Delivery pixels of the picture area that are uncovered at a side that the plan covers, at most.
    pub uncovered: ExactNumber,
    /// How much larger the picture is than planned, less 1.
    pub larger: ExactNumber,
}

impl From<Rounded> for RoundedResult {
    fn from(Rounded { zoom, place, uncovered, larger }: Rounded) -> Self {
        Self { zoom: zoom.into(), place: place.into(), uncovered: ExactNumber(uncovered), larger: ExactNumber(larger) }
    }
}

impl TypingResult {
    /// What to type, and what may still be pushed in.
    pub fn of(typed: ToType, reserve: Axes<Factor>) -> Self {
        Self {
            cut: typed.cut.map(Values),
            turn: typed.turn,
            zoom: typed.zoom.into(),
            uniform: typed.is_uniform,
            as_it_lies: typed.as_it_lies,
            place: typed.place.into(),
            rounded: typed.rounded.into(),
            safe: typed.safe.map(Into::into),
            reserve_both: ExactNumber(reserve.x.clone().min(reserve.y.clone())),
            reserve: reserve.into(),
        }
    }
}
