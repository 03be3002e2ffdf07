//! [`Deliverable`]: a frame to deliver, with its geometry as it was entered.

use crate::fraction::Written;
use crate::project::{Footage, Name, Note, Placing, Scan, SignalRange};
use crate::published::{self, PublishedFrame};
use crate::safe_area::{SafeArea, Zone};
use crate::space::Delivery;
use crate::{DeliveryFrame, DisplayRatio, Error, Exact, FrameRate, PictureArea, PixelAspect, Raster, Rounding, Step};

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
    /// The rules for its safe areas.
    pub safe_areas: Vec<SafeArea>,
    /// Ratios whose outline helps to frame for later cuts.
    pub guides: Vec<Written<DisplayRatio>>,
    /// The number of the working frame of the project through which pictures reach it; without one
    /// they come straight from the source.
    pub through: Option<i32>,
    /// The method of every conversion into it for which neither the conversion nor the source has
    /// one; without one it follows the board.
    pub method: Option<Placing>,
}

impl FrameSpec {
    /// The frame with its sides exchanged, and with them the shapes of pixels and picture.
    fn turned(&self) -> Result<Self, Error> {
        let raster = Raster::new(self.frame.raster().height(), self.frame.raster().width())?;
        let pixel_aspect = Written::parse(&upside_down(self.pixel_aspect.text()), PixelAspect::parse)?;
        let ratio = self.picture_ratio.as_ref().map(|ratio| upside_down(ratio.text()));
        let ratio = ratio.map(|text| Written::parse(&text, DisplayRatio::parse)).transpose()?;
        Self::new(raster, pixel_aspect, ratio, self.frame.step())
    }

    /// The published frame of this raster and pixel shape, if there is one.
    pub fn published(&self) -> Option<&'static PublishedFrame> {
        let raster = self.frame.raster();
        published::FRAMES.iter().find(|known| {
            known.width == raster.width() && known.height == raster.height() && known.ratio() == self.frame.ratio()
        })
    }
}

/// The fraction whose value is 1 over that of a written one.
fn upside_down(text: &str) -> String {
    match text.split_once(['/', ':']) {
        Some((above, "1")) => above_one(above),
        Some(("1", below)) => below.to_owned(),
        Some((above, below)) => format!("{below}:{above}"),
        None => above_one(text),
    }
}

fn above_one(below: &str) -> String {
    if below == "1" { "1".to_owned() } else { format!("1:{below}") }
}

impl Deliverable {
    /// The most ratio guides that a frame keeps.
    pub const MOST_GUIDES: usize = 8;

    /// All its safe areas, rule by rule.
    pub fn safe_zones(&self) -> Vec<Zone> {
        self.safe_areas.iter().flat_map(|rule| rule.zones(self.geometry.frame())).collect()
    }

    /// The part of the frame that each guide leaves, where it leaves one: where a mask of that ratio
    /// would stand.
    pub fn guide_areas(&self) -> Vec<(&str, PictureArea)> {
        let frame = self.geometry.frame();
        let area = |guide: &Written<DisplayRatio>| {
            let ratio = Some(guide.value().clone());
            DeliveryFrame::new(frame.raster(), frame.pixel_aspect().clone(), ratio, frame.step())
        };
        self.guides.iter().filter_map(|guide| Some((guide.text(), area(guide).ok()?.picture_area()))).collect()
    }

    /// The same frame upright, or lying again: sides exchanged, under the name that its numbers
    /// propose. The note stays behind: it speaks of the other one.
    ///
    /// # Errors
    /// When the exchanged picture ratio leaves no picture on the step.
    pub fn turned(&self) -> Result<Self, Error> {
        let mut turned = Self { geometry: self.geometry.turned()?, note: Note::default(), ..self.clone() };
        turned.name = turned.proposed_name();
        Ok(turned)
    }

    /// A frame that shows all of a clip upright with square pixels: its upright picture, each side
    /// rounded to the nearest even number, at the clip's rate, scan and signal range.
    ///
    /// # Errors
    /// [`Error::is_too_large`] when a side would pass the largest side of a frame.
    pub fn as_footage(footage: &Footage) -> Result<Self, Error> {
        let upright = footage.geometry.source().upright();
        let side = |value: &Exact, name| Rounding::Nearest.side(value, Step::Two, name);
        let raster = Raster::new(side(&upright.width, "width")?, side(&upright.height, "height")?)?;
        let mut frame = Self {
            name: footage.name.clone(),
            note: Note::default(),
            geometry: FrameSpec::new(raster, Written::plain("1", PixelAspect::SQUARE), None, Step::Two)?,
            rate: footage.rate.clone(),
            scan: footage.scan,
            signal_range: footage.signal_range,
            safe_areas: Vec::new(),
            guides: Vec::new(),
            through: None,
            method: None,
        };
        frame.name = frame.proposed_name();
        Ok(frame)
    }

    /// A name made of the numbers, such as `"UHD upright 23.976"`.
    ///
    /// ```
    /// # use ratiomet_core::project::*;
    /// # use ratiomet_core::{*, fraction::Written};
    /// let upright = Deliverable {
    ///     name: Name::new("x").unwrap(),
    ///     note: Note::default(),
    ///     geometry: FrameSpec::new(
    ///         Raster::new(2160, 3840)?,
    ///         Written::parse("1", PixelAspect::parse)?,
    ///         None,
    ///         Step::Two,
    ///     )?,
    ///     rate: Some(Written::parse("24000/1001", FrameRate::spoken)?),
    ///     scan: Scan::Progressive,
    ///     signal_range: SignalRange::Narrow,
    ///     safe_areas: Vec::new(),
    ///     guides: Vec::new(),
    ///     through: None,
    ///     method: None,
    /// };
    /// assert_eq!(upright.proposed_name().as_str(), "UHD upright 23.976");
    /// # Ok::<(), Error>(())
    /// ```
    pub fn proposed_name(&self) -> Name {
        let raster = self.geometry.frame().raster();
        let mut words = match self.geometry.published() {
            Some(published) => vec![published.name.to_owned()],
            None => vec![format!("{}x{}", raster.width(), raster.height())],
        };
        if self.geometry.published().is_none() && *self.geometry.pixel_aspect().value() != PixelAspect::SQUARE {
            words.push(format!("{} pixels", self.geometry.pixel_aspect().text()));
        }
        if let Some(ratio) = self.geometry.picture_ratio() {
            words.push(format!("with {}", ratio.text()));
        }
        if let Some(rate) = &self.rate {
            let fields = if self.scan == Scan::Interlaced { "i" } else { "" };
            words.push(format!("{}{fields}", rate.value().value().to_short_decimal(3)));
        }
        if self.signal_range == SignalRange::Full {
            words.push("full range".to_owned());
        }
        // OK because every part is short, on one line, and the first is never empty.
        Name::new(&words.join(" ")).unwrap_or_else(|| self.name.clone())
    }
}
