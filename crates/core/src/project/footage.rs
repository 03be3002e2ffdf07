//! [`Footage`]: a clip or a camera setup, with its geometry as it was entered.

use crate::cadence::Intent;
use crate::fraction::Written;
use crate::project::{Name, Note, OnSphere, Origin, Placing, StillSpec, ViewSpec};
use crate::signal::{Projection, RangePlan, RatePlan, Scan, SignalRange};
use crate::space::Stored;
use crate::sphere::{Orientation, SphereForm};
use crate::subject::SubjectSpec;
use crate::{Error, FrameRate, Insets, PixelAspect, Raster, Rotation, Source, Squeeze};

/// The geometry of footage as it was entered.
///
/// # Guarantees
/// The insets leave a picture.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SourceSpec {
    pixel_aspect: Written<PixelAspect>,
    squeeze: Written<Squeeze>,
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
        Ok(Self { pixel_aspect, squeeze, source })
    }

    /// The stored raster.
    pub const fn raster(&self) -> Raster<Stored> {
        self.source.raster()
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
        self.source.insets()
    }

    /// The turn that makes it stand upright.
    pub const fn rotation(&self) -> Rotation {
        self.source.rotation()
    }

    /// The checked geometry.
    pub const fn source(&self) -> &Source {
        &self.source
    }

    /// The checked geometry, for itself.
    pub fn into_source(self) -> Source {
        self.source
    }
}

impl From<Source> for SourceSpec {
    fn from(source: Source) -> Self {
        Self {
            pixel_aspect: Written::of(source.pixel_aspect().clone(), PixelAspect::value),
            squeeze: Written::of(source.squeeze().clone(), Squeeze::value),
            source,
        }
    }
}

impl SourceSpec {
    /// Flat footage with square pixels that shows all that it stores.
    ///
    /// # Errors
    /// Those of [`Source::new`]: a raster of under 2 pixels on an axis.
    pub fn plain(raster: Raster<Stored>) -> Result<Self, Error> {
        let (aspect, squeeze) = (Written::plain("1", PixelAspect::SQUARE), Written::plain("1", Squeeze::NONE));
        Self::new(raster, aspect, squeeze, Insets::default(), Rotation::None)
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
    /// Progressive or interlaced, if anything says so.
    pub scan: Option<Scan>,
    /// Which code values it uses, if anything says so.
    pub signal_range: Option<SignalRange>,
    /// At which speed it is meant to run.
    pub playback: Intent,
    /// A flat picture, or a sphere.
    pub projection: Projection,
    /// How the sphere lies in its frame, where it is one.
    pub sphere: SphereForm,
    /// How the sphere is turned, where it is one: so that it is level, and its middle where it should be.
    pub turn: Orientation,
    /// The pictures that stand on the sphere, where it is one: what comes later lies above.
    pub on_sphere: Vec<OnSphere>,
    /// Where it looks, if it is a view out of another source.
    pub view: Option<ViewSpec>,
    /// Whether it is known which way up it is stored: its header or somebody has said so.
    pub upright_known: bool,
    /// Whether its fields are made into whole pictures for progressive frames.
    pub deinterlace: bool,
    /// What is done for frames of another signal range.
    pub range_plan: RangePlan,
    /// What is shown between its frames where a frame has another rate.
    pub rate_plan: RatePlan,
    /// What every frame should show whole, if it is marked.
    pub subject: Option<SubjectSpec>,
    /// The method of every conversion of it that has none of its own; without one it follows the
    /// frame.
    pub method: Option<Placing>,
    /// Where it was read, if it was.
    pub origin: Option<Origin>,
    /// The picture that it shows, if it has one.
    pub still: Option<StillSpec>,
}

impl Footage {
    /// Footage of this name and geometry of which nothing else is known.
    pub fn of(name: Name, geometry: SourceSpec) -> Self {
        Self {
            name,
            note: Note::default(),
            geometry,
            rate: None,
            scan: None,
            signal_range: None,
            playback: Intent::default(),
            projection: Projection::default(),
            sphere: SphereForm::default(),
            turn: Orientation::NONE,
            on_sphere: Vec::new(),
            view: None,
            upright_known: false,
            deinterlace: false,
            range_plan: RangePlan::default(),
            rate_plan: RatePlan::default(),
            subject: None,
            method: None,
            origin: None,
            still: None,
        }
    }

    /// The same without a lens where it is a view: that has none, its pixels are square, and it is upright as it is.
    #[must_use]
    pub fn without_lens_of_view(self) -> Self {
        if self.view.is_none() {
            return self;
        }
        let (raster, insets) = (self.geometry.raster(), self.geometry.insets());
        let geometry = SourceSpec::plain(raster)
            .and_then(|plain| SourceSpec::new(raster, plain.pixel_aspect, plain.squeeze, insets, Rotation::None));
        // OK to keep what there is because insets that leave a picture leave one in whatever shape of its pixels.
        Self { geometry: geometry.unwrap_or(self.geometry), ..self }
    }
}
