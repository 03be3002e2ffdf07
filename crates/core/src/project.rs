//! What a project keeps: footage, delivery frames and framings, in the spelling of the person who
//! entered them, each with the checked geometry that plans are made of.

use crate::fraction::Written;
use crate::space::{Delivery, Stored};
use crate::{
    DeliveryFrame, DisplayRatio, Error, FrameRate, Framing, Insets, Method, PixelAspect, Plan, Raster, Rotation, Shift,
    Source, Squeeze, Step, Zoom,
};

/// What a project, a clip or a frame is called.
///
/// # Guarantees
/// From 1 to 120 characters, none of them a control character, no spaces at the ends.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Name(String);

impl Name {
    /// The most characters that a name may have.
    pub const LONGEST: usize = 120;

    /// The name, with spaces at the ends taken off; `None` when it breaks the guarantee.
    ///
    /// ```
    /// # use ratiomet_core::project::Name;
    /// assert_eq!(Name::new(" Harbour wall ").unwrap().as_str(), "Harbour wall");
    /// assert!(Name::new("  ").is_none());
    /// ```
    pub fn new(text: &str) -> Option<Self> {
        let text = text.trim();
        let length = text.chars().count();
        let sound = (1..=Self::LONGEST).contains(&length) && !text.chars().any(char::is_control);
        sound.then(|| Self(text.to_owned()))
    }

    /// The name as text.
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

/// Free words beside a clip or a frame.
///
/// # Guarantees
/// At most 1,000 characters, control characters only as line ends.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Note(String);

impl Note {
    /// The most characters that a note may have.
    pub const LONGEST: usize = 1_000;

    /// The note; `None` when it breaks the guarantee.
    pub fn new(text: &str) -> Option<Self> {
        let sound = text.chars().count() <= Self::LONGEST && !text.chars().any(|c| c.is_control() && c != '\n');
        sound.then(|| Self(text.to_owned()))
    }

    /// The note as text.
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

/// Whether a picture holds all its lines at one moment.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Scan {
    /// All lines belong to one moment.
    #[default]
    Progressive,
    /// Odd and even lines belong to two moments.
    Interlaced,
}

impl Scan {
    /// Both ways.
    pub const ALL: [Self; 2] = [Self::Progressive, Self::Interlaced];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Progressive => "progressive",
            Self::Interlaced => "interlaced",
        }
    }
}

/// Which code values stand for black and white.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum SignalRange {
    /// 16 to 235 of 255, with head and foot room (ITU-R BT.709, narrow range).
    #[default]
    Narrow,
    /// 0 to 255 of 255.
    Full,
}

impl SignalRange {
    /// Both ranges.
    pub const ALL: [Self; 2] = [Self::Narrow, Self::Full];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Narrow => "narrow",
            Self::Full => "full",
        }
    }
}

/// The geometry of footage as it was entered.
///
/// # Guarantees
/// The insets leave a picture.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SourceSpec {
    raster: Raster<Stored>,
    pixel_aspect: Written<PixelAspect>,
    squeeze: Written<Squeeze>,
    insets: Insets,
    rotation: Rotation,
    source: Source,
}

impl SourceSpec {
    /// The geometry of these values.
    ///
    /// # Errors
    /// Those of [`Source::new`].
    pub fn new(
        raster: Raster<Stored>,
        pixel_aspect: Written<PixelAspect>,
        squeeze: Written<Squeeze>,
        insets: Insets,
        rotation: Rotation,
    ) -> Result<Self, Error> {
        let source = Source::new(raster, pixel_aspect.value().clone(), squeeze.value().clone(), insets, rotation)?;
        Ok(Self { raster, pixel_aspect, squeeze, insets, rotation, source })
    }

    /// The stored raster.
    pub const fn raster(&self) -> Raster<Stored> {
        self.raster
    }

    /// The shape of the stored pixels.
    pub const fn pixel_aspect(&self) -> &Written<PixelAspect> {
        &self.pixel_aspect
    }

    /// What the lens did.
    pub const fn squeeze(&self) -> &Written<Squeeze> {
        &self.squeeze
    }

    /// What is cut off the stored raster.
    pub const fn insets(&self) -> Insets {
        self.insets
    }

    /// The turn that makes it stand upright.
    pub const fn rotation(&self) -> Rotation {
        self.rotation
    }

    /// The checked geometry.
    pub const fn source(&self) -> &Source {
        &self.source
    }
}

/// The geometry of a delivery frame as it was entered.
///
/// # Guarantees
/// The picture ratio leaves a picture.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FrameSpec {
    picture_ratio: Option<Written<DisplayRatio>>,
    pixel_aspect: Written<PixelAspect>,
    frame: DeliveryFrame,
}

impl FrameSpec {
    /// The geometry of these values.
    ///
    /// # Errors
    /// Those of [`DeliveryFrame::new`].
    pub fn new(
        raster: Raster<Delivery>,
        pixel_aspect: Written<PixelAspect>,
        picture_ratio: Option<Written<DisplayRatio>>,
        step: Step,
    ) -> Result<Self, Error> {
        let ratio = picture_ratio.as_ref().map(|ratio| ratio.value().clone());
        let frame = DeliveryFrame::new(raster, pixel_aspect.value().clone(), ratio, step)?;
        Ok(Self { picture_ratio, pixel_aspect, frame })
    }

    /// The shape of the delivered pixels.
    pub const fn pixel_aspect(&self) -> &Written<PixelAspect> {
        &self.pixel_aspect
    }

    /// The ratio of the picture inside the raster, if it does not fill it.
    pub const fn picture_ratio(&self) -> Option<&Written<DisplayRatio>> {
        self.picture_ratio.as_ref()
    }

    /// The checked geometry.
    pub const fn frame(&self) -> &DeliveryFrame {
        &self.frame
    }
}

/// A framing as it was entered.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FramingSpec {
    /// The rule that sets the size.
    pub method: Method,
    /// Enlargement on top of it.
    pub zoom: Written<Zoom>,
    /// Displacement to the right, in delivery pixels.
    pub shift_x: Written<Shift>,
    /// Displacement downwards, in delivery pixels.
    pub shift_y: Written<Shift>,
}

impl FramingSpec {
    /// A method alone, centred.
    pub fn of(method: Method) -> Self {
        let unmoved = || Written::plain("0", Shift::NONE);
        Self { method, zoom: Written::plain("1", Zoom::NONE), shift_x: unmoved(), shift_y: unmoved() }
    }

    /// The checked framing.
    pub fn framing(&self) -> Framing {
        Framing {
            method: self.method,
            zoom: self.zoom.value().clone(),
            shift_x: self.shift_x.value().clone(),
            shift_y: self.shift_y.value().clone(),
        }
    }
}

/// A clip or a camera setup of a project.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Footage {
    /// What it is called.
    pub name: Name,
    /// Free words.
    pub note: Note,
    /// How it is stored and what it shows.
    pub geometry: SourceSpec,
    /// Frames a second, if known.
    pub rate: Option<Written<FrameRate>>,
    /// Progressive or interlaced.
    pub scan: Scan,
    /// Which code values it uses.
    pub signal_range: SignalRange,
}

/// A frame that a project delivers.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Deliverable {
    /// What it is called.
    pub name: Name,
    /// Free words.
    pub note: Note,
    /// Its raster and the picture in it.
    pub geometry: FrameSpec,
    /// Frames a second, if settled.
    pub rate: Option<Written<FrameRate>>,
    /// Progressive or interlaced.
    pub scan: Scan,
    /// Which code values it uses.
    pub signal_range: SignalRange,
    /// The method of every conversion into it that has none of its own.
    pub default_method: Method,
}

/// What one conversion of a project adds to its source and its frame.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Choice {
    /// It follows the frame's default method.
    Follows,
    /// It has a framing of its own.
    Own(FramingSpec),
}

impl Choice {
    /// The framing that counts for a conversion into this frame.
    pub fn framing(&self, frame: &Deliverable) -> FramingSpec {
        match self {
            Self::Follows => FramingSpec::of(frame.default_method),
            Self::Own(framing) => framing.clone(),
        }
    }
}

/// The plan of one conversion of a project.
pub fn plan(footage: &Footage, frame: &Deliverable, choice: &Choice) -> Plan {
    Plan::of(footage.geometry.source(), frame.geometry.frame(), &choice.framing(frame).framing())
}
