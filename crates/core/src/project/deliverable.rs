//! [`Deliverable`]: a frame to deliver.

use crate::file::FileSpec;
use crate::fraction::Written;
use crate::project::{Footage, FrameId, FrameSpec, Name, Note, Placing};
use crate::safe_area::{Percent, SafeArea, Zone};
use crate::signal::{Projection, Scan, SignalRange};
use crate::sphere::SphereForm;
use crate::{DeliveryFrame, DisplayRatio, Error, Exact, FrameRate, PictureArea, PixelAspect, Raster, Rounding, Step};

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
    /// A flat picture, or a sphere.
    pub projection: Projection,
    /// How the sphere lies in it, where it is for one.
    pub sphere: SphereForm,
    /// The rules for its safe areas.
    pub safe_areas: Vec<SafeArea>,
    /// Ratios whose outline helps to frame for later cuts.
    pub guides: Vec<Written<DisplayRatio>>,
    /// The working frame of the project through which pictures reach it; without one they come straight
    /// from the source.
    pub through: Option<FrameId>,
    /// The method of every conversion into it for which neither the conversion nor the source has
    /// one; without one it follows the board.
    pub method: Option<Placing>,
    /// How its file is made, where somebody has said so.
    pub file: Option<FileSpec>,
}

impl Deliverable {
    /// The most ratio guides that a frame keeps.
    pub const MOST_GUIDES: usize = 8;

    /// A frame of this name and geometry of which nothing else is settled.
    pub fn of(name: Name, geometry: FrameSpec) -> Self {
        Self {
            name,
            note: Note::default(),
            geometry,
            rate: None,
            scan: Scan::default(),
            signal_range: SignalRange::default(),
            projection: Projection::default(),
            sphere: SphereForm::default(),
            safe_areas: Vec::new(),
            guides: Vec::new(),
            through: None,
            method: None,
            file: None,
        }
    }

    /// The smallest of its safe areas, as a percentage of its sides.
    pub fn smallest_safe(&self) -> Option<Percent> {
        let smallest = self.safe_zones().into_iter().map(|zone| zone.percent).min()?;
        Percent::new(smallest).ok()
    }

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
    /// rounded to the nearest even number, at the clip's rate, scan and signal range; progressive and narrow where
    /// the clip does not say.
    ///
    /// # Errors
    /// [`Error::is_too_large`] when a side would pass the largest side of a frame.
    pub fn as_footage(footage: &Footage) -> Result<Self, Error> {
        Self::as_footage_at(footage, &Exact::ONE)
    }

    /// The same, so many times as large.
    pub(super) fn as_footage_at(footage: &Footage, times: &Exact) -> Result<Self, Error> {
        let upright = footage.geometry.source().upright();
        let side = |value: &Exact, name| Rounding::Nearest.side(&(value * times), Step::Two, name);
        let raster = Raster::new(side(&upright.width, "width")?, side(&upright.height, "height")?)?;
        let geometry = FrameSpec::new(raster, Written::plain("1", PixelAspect::SQUARE), None, Step::Two)?;
        let mut frame = Self {
            rate: footage.rate.clone(),
            scan: footage.scan.unwrap_or_default(),
            signal_range: footage.signal_range.unwrap_or_default(),
            projection: footage.projection,
            sphere: footage.sphere.clone(),
            ..Self::of(footage.name.clone(), geometry)
        };
        frame.name = frame.proposed_name();
        Ok(frame)
    }

    /// A name made of the numbers, such as `"UHD upright 23.976"`.
    ///
    /// ```
    /// # use ratiomet_core::project::*;
    /// # use ratiomet_core::{*, fraction::Written};
    /// let aspect = Written::parse("1", PixelAspect::parse)?;
    /// let geometry = FrameSpec::new(Raster::new(2160, 3840)?, aspect, None, Step::Two)?;
    /// let rate = Some(Written::parse("24000/1001", FrameRate::spoken)?);
    /// let upright = Deliverable { rate, ..Deliverable::of(Name::new("x").unwrap(), geometry) };
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
