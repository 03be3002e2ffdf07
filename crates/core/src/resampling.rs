//! [`Resampling`]: how the samples of an outcome are worked out, as somebody has decided it.

use crate::bounded::bounded;
use crate::fraction::{Sign, writable_text};
use crate::{Plan, limits};

/// A filter for resampling. Making a picture smaller widens it by the same factor.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Filter {
    /// The stored sample whose pixel holds the point.
    Nearest,
    /// Straight lines between samples: a triangle of radius 1.
    Bilinear,
    /// The cubic with B = 0, C = 1/2 (Mitchell and Netravali 1988).
    CatmullRom,
    /// The cubic with B = C = 1/3 (Mitchell and Netravali 1988).
    Mitchell,
    /// A sinc in the window of a wider one, radius 3.
    #[default]
    Lanczos3,
    /// The mean over what an outcome's pixel covers.
    Area,
}

impl Filter {
    /// Every filter.
    pub const ALL: [Self; 6] =
        [Self::Nearest, Self::Bilinear, Self::CatmullRom, Self::Mitchell, Self::Lanczos3, Self::Area];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Nearest => "nearest",
            Self::Bilinear => "bilinear",
            Self::CatmullRom => "catmull-rom",
            Self::Mitchell => "mitchell",
            Self::Lanczos3 => "lanczos3",
            Self::Area => "area",
        }
    }

    /// What it is called.
    pub const fn title(self) -> &'static str {
        match self {
            Self::Nearest => "nearest",
            Self::Bilinear => "bilinear",
            Self::CatmullRom => "Catmull-Rom",
            Self::Mitchell => "Mitchell",
            Self::Lanczos3 => "Lanczos",
            Self::Area => "area",
        }
    }
}

/// A transfer function, between code values and light, both from 0 to 1.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Transfer {
    /// IEC 61966-2-1, as stills for screens have it.
    #[default]
    Srgb,
    /// ITU-R BT.1886 with black at 0: what a display of video makes of code values, a power of 2.4.
    Bt1886,
    /// ITU-R BT.709, 1.2: what a camera makes of light.
    Bt709,
}

impl Transfer {
    /// Every transfer function.
    pub const ALL: [Self; 3] = [Self::Srgb, Self::Bt1886, Self::Bt709];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Srgb => "srgb",
            Self::Bt1886 => "bt1886",
            Self::Bt709 => "bt709",
        }
    }

    /// What it is called.
    pub const fn title(self) -> &'static str {
        match self {
            Self::Srgb => "sRGB",
            Self::Bt1886 => "BT.1886",
            Self::Bt709 => "BT.709",
        }
    }
}

/// By how many steps a picture is enlarged.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Steps {
    /// At once.
    #[default]
    One,
    /// First by the smallest whole number that reaches, then down by what remains.
    WholeFirst,
}

impl Steps {
    /// Both.
    pub const ALL: [Self; 2] = [Self::One, Self::WholeFirst];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::One => "one",
            Self::WholeFirst => "whole_first",
        }
    }
}

/// How noise is taken away before anything is resampled.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Smoothing {
    /// Not at all.
    #[default]
    None,
    /// The median of three by three stored samples.
    Median3,
    /// The median of five by five.
    Median5,
}

impl Smoothing {
    /// Each of them.
    pub const ALL: [Self; 3] = [Self::None, Self::Median3, Self::Median5];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::None => "none",
            Self::Median3 => "median3",
            Self::Median5 => "median5",
        }
    }

    /// How many samples of a side take part.
    pub const fn side(self) -> u32 {
        match self {
            Self::None => 1,
            Self::Median3 => 3,
            Self::Median5 => 5,
        }
    }
}

bounded! {
    /// How wide the blur is against which a picture is sharpened: its standard deviation, in pixels of the outcome.
    ///
    /// # Guarantees
    /// From 0.3 to 20.
    Radius, limits::RADIUS, Sign::Never
}

bounded! {
    /// How much of the difference to the blur is added.
    ///
    /// # Guarantees
    /// From 0 to 5.
    Amount, limits::AMOUNT, Sign::Never
}

/// Sharpening by an unsharp mask, after resampling.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Sharpening {
    /// How wide.
    pub radius: Radius,
    /// How much.
    pub amount: Amount,
}

/// How the samples of an outcome are worked out.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Resampling {
    /// The filter.
    pub filter: Filter,
    /// In light instead of code values, by this transfer function.
    pub light: Option<Transfer>,
    /// Enlarged at once or by a whole number first.
    pub steps: Steps,
    /// What is done against noise before.
    pub smoothing: Smoothing,
    /// What is done against softness after.
    pub sharpening: Option<Sharpening>,
}

impl Resampling {
    /// A filter and nothing else.
    pub fn by(filter: Filter) -> Self {
        Self { filter, ..Self::default() }
    }

    /// The whole number by which a plan enlarges first; 1 where it goes at once.
    ///
    /// ```
    /// use ratiomet_core::resampling::{Resampling, Steps};
    /// use ratiomet_core::{DeliveryFrame, Framing, Insets, Method, PixelAspect, Plan, Raster, Rotation, Source, Squeeze, Step};
    /// let square = PixelAspect::SQUARE;
    /// let (raster, none) = (Raster::new(1280, 720)?, Insets::default());
    /// let source = Source::new(raster, square.clone(), Squeeze::NONE, none, Rotation::None)?;
    /// let frame = DeliveryFrame::new(Raster::new(3840, 2160)?, square, None, Step::One)?;
    /// let plan = Plan::of(&source, &frame, &Framing::of(Method::Fill));
    /// let how = Resampling { steps: Steps::WholeFirst, ..Resampling::default() };
    /// assert_eq!((how.whole(&plan), Resampling::default().whole(&plan)), (3, 1));
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn whole(&self, plan: &Plan) -> u32 {
        let largest = plan.scale.x.clone().max(plan.scale.y.clone());
        match self.steps {
            Steps::One => 1,
            Steps::WholeFirst => u32::try_from(largest.ceil_whole().max(1)).unwrap_or(1),
        }
    }

    /// What it is, in words: `"Lanczos, one step, sharpened 0.4 at 1 px"`.
    pub fn words(&self) -> String {
        let mut words = self.filter.title().to_owned();
        if let Some(transfer) = self.light {
            words += &format!(" in light ({})", transfer.title());
        }
        words += match self.steps {
            Steps::One => ", one step",
            Steps::WholeFirst => ", whole enlargement first",
        };
        if self.smoothing != Smoothing::None {
            words += &format!(", median {0}x{0}", self.smoothing.side());
        }
        if let Some(Sharpening { radius, amount }) = &self.sharpening {
            let [amount, radius] = [amount.value(), radius.value()].map(writable_text);
            words += &format!(", sharpened {amount} at {radius} px");
        }
        words
    }
}
