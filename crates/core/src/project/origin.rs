//! [`Origin`]: where the values of a source were read, and what stood there.

use crate::project::{Footage, Note, SourceSpec};
use crate::signal::Projection;
use crate::{Error, Insets};

/// A value that is read and not typed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Aspect {
    /// Stored pixels across and down.
    Raster,
    /// The shape of the stored pixels.
    PixelAspect,
    /// What the lens did.
    Squeeze,
    /// What is no picture at the edges.
    Insets,
    /// The turn that makes it stand upright.
    Rotation,
    /// Frames a second.
    Rate,
    /// Progressive or interlaced.
    Scan,
    /// Which code values it uses.
    SignalRange,
    /// Flat or sphere.
    Projection,
}

impl Aspect {
    /// Every one.
    pub const ALL: [Self; 9] = [
        Self::Raster,
        Self::PixelAspect,
        Self::Squeeze,
        Self::Insets,
        Self::Rotation,
        Self::Rate,
        Self::Scan,
        Self::SignalRange,
        Self::Projection,
    ];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Raster => "raster",
            Self::PixelAspect => "pixel_aspect",
            Self::Squeeze => "squeeze",
            Self::Insets => "insets",
            Self::Rotation => "rotation",
            Self::Rate => "rate",
            Self::Scan => "scan",
            Self::SignalRange => "signal_range",
            Self::Projection => "projection",
        }
    }
}

/// A value as it was read, and where it stood.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Witness {
    /// Of what it is a value.
    pub of: Aspect,
    /// The value, as a source writes it.
    pub value: Note,
    /// Where it stood: a box of a file, a column of a list.
    pub by: Note,
}

/// Where a source was read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Origin {
    /// The file, with the folders that were named with it.
    pub file: Note,
    /// What stood in it. What is not there was not said.
    pub said: Vec<Witness>,
    /// Whether the file is the footage itself, and not a list that tells of it.
    pub footage: bool,
    /// How many pictures it has, if it is footage that says so.
    pub frames: Option<u32>,
}

impl Origin {
    /// The most values of one.
    pub const MOST: usize = Aspect::ALL.len();

    /// The file of footage without the folders that it is in.
    pub fn footage_file(&self) -> Option<&str> {
        let file = self.file.as_str();
        self.footage.then(|| file.rsplit(['/', '\\']).next().unwrap_or(file)).filter(|file| !file.is_empty())
    }
}

impl Footage {
    /// A value as a source writes it: `"1920x1080"`, `"12:11"`, `"8/4/10/6"`; empty for what is not known.
    pub fn written(&self, of: Aspect) -> String {
        let geometry = &self.geometry;
        match of {
            Aspect::Raster => format!("{}x{}", geometry.raster().width(), geometry.raster().height()),
            Aspect::PixelAspect => geometry.pixel_aspect().text().to_owned(),
            Aspect::Squeeze => geometry.squeeze().text().to_owned(),
            Aspect::Insets => {
                let Insets { left, top, right, bottom } = geometry.insets();
                format!("{left}/{top}/{right}/{bottom}")
            }
            Aspect::Rotation => geometry.rotation().degrees().to_string(),
            Aspect::Rate => self.rate.as_ref().map(|rate| rate.text().to_owned()).unwrap_or_default(),
            Aspect::Scan => self.scan.map(|scan| scan.word().to_owned()).unwrap_or_default(),
            Aspect::SignalRange => self.signal_range.map(|range| range.word().to_owned()).unwrap_or_default(),
            Aspect::Projection => match self.projection {
                Projection::Flat => "flat".to_owned(),
                Projection::Sphere => format!("sphere {}", self.sphere.written()).trim_end().to_owned(),
            },
        }
    }

    /// Which of the values that were read have another value now.
    pub fn corrected(&self) -> impl Iterator<Item = Aspect> {
        let said = self.origin.iter().flat_map(|origin| &origin.said);
        // Sizes that were read out of lists before format 5 have another sign between their sides.
        let as_read = |witness: &Witness| witness.value.as_str().replace('×', "x");
        said.filter(move |witness| self.written(witness.of) != as_read(witness)).map(|witness| witness.of)
    }

    /// With these values of what its file says now, but for those that were typed over.
    ///
    /// # Errors
    /// Those of [`SourceSpec::new`], when the values do not go with the others of the source.
    pub fn updated(&self, now: &Self, aspects: &[Aspect]) -> Result<Self, Error> {
        let typed: Vec<Aspect> = self.corrected().collect();
        let takes = |of: Aspect| aspects.contains(&of) && !typed.contains(&of);
        let of = |aspect: Aspect| if takes(aspect) { &now.geometry } else { &self.geometry };
        let geometry = SourceSpec::new(
            of(Aspect::Raster).raster(),
            of(Aspect::PixelAspect).pixel_aspect().clone(),
            of(Aspect::Squeeze).squeeze().clone(),
            of(Aspect::Insets).insets(),
            of(Aspect::Rotation).rotation(),
        );
        Ok(Self {
            geometry: geometry?,
            rate: if takes(Aspect::Rate) { now.rate.clone() } else { self.rate.clone() },
            scan: if takes(Aspect::Scan) { now.scan } else { self.scan },
            signal_range: if takes(Aspect::SignalRange) { now.signal_range } else { self.signal_range },
            projection: if takes(Aspect::Projection) { now.projection } else { self.projection },
            sphere: if takes(Aspect::Projection) { now.sphere.clone() } else { self.sphere.clone() },
            origin: now.origin.clone(),
            ..self.clone()
        })
    }

    /// With where it was read: each of these values as it stands now, and by what.
    #[must_use]
    pub fn read_from(mut self, file: &str, said: impl IntoIterator<Item = (Aspect, String)>) -> Self {
        let witness = |(of, by): (Aspect, String)| {
            Some(Witness { of, value: Note::new(&self.written(of))?, by: Note::new(&by)? })
        };
        let said = said.into_iter().filter_map(witness).collect();
        self.origin = Note::new(file).map(|file| Origin { file, said, footage: false, frames: None });
        self
    }
}
