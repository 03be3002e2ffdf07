//! [`StillSpec`]: the picture that a source shows where pictures are shown.

use std::fmt;
use std::hash::{DefaultHasher, Hash, Hasher};

use crate::project::{Footage, Note};
use crate::signal::Projection;
use crate::space::Stored;
use crate::{Error, Raster};

/// A scene that the stand-in camera draws.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Scene {
    /// Nothing but what is measured.
    #[default]
    Chart,
    /// The mouth of the furnace.
    Furnace,
    /// The wall of the harbour.
    Harbour,
    /// Reeds from above.
    Reeds,
    /// A stall at the market.
    Market,
    /// The ferry.
    Ferry,
    /// The kilns of the island.
    Kiln,
    /// Pages of the kiln's log.
    Pages,
    /// A map of the island.
    Map,
}

impl Scene {
    /// Every scene.
    pub const ALL: [Self; 9] = [
        Self::Chart,
        Self::Furnace,
        Self::Harbour,
        Self::Reeds,
        Self::Market,
        Self::Ferry,
        Self::Kiln,
        Self::Pages,
        Self::Map,
    ];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Chart => "chart",
            Self::Furnace => "furnace",
            Self::Harbour => "harbour",
            Self::Reeds => "reeds",
            Self::Market => "market",
            Self::Ferry => "ferry",
            Self::Kiln => "kiln",
            Self::Pages => "pages",
            Self::Map => "map",
        }
    }
}

/// What a file holds, by the SHA-256 of its bytes: by it a still is kept and found again.
#[derive(Clone, Copy, PartialEq, Eq, Hash)]
pub struct Content([u8; 32]);

impl Content {
    /// The content of this sum.
    pub const fn new(sum: [u8; 32]) -> Self {
        Self(sum)
    }

    /// The content that is written in 64 small hexadecimal digits.
    pub fn parse(text: &str) -> Option<Self> {
        let digits = text.as_bytes();
        let digit = |digit: u8| match digit {
            b'0'..=b'9' => Some(digit - b'0'),
            b'a'..=b'f' => Some(digit - b'a' + 10),
            _ => None,
        };
        if digits.len() != 64 {
            return None;
        }
        let mut sum = [0; 32];
        for (byte, pair) in sum.iter_mut().zip(digits.chunks_exact(2)) {
            *byte = digit(pair[0])? << 4 | digit(pair[1])?;
        }
        Some(Self(sum))
    }
}

impl fmt::Display for Content {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.iter().try_for_each(|byte| write!(f, "{byte:02x}"))
    }
}

impl fmt::Debug for Content {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{self}")
    }
}

/// A still that is kept as a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct StillFile {
    /// What the file holds.
    pub content: Content,
    /// What the file was called.
    pub name: Note,
    /// Its size, before turning.
    pub raster: Raster<Stored>,
}

/// The picture of a source.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum StillSpec {
    /// A scene of the stand-in camera, taken as the source would have taken it.
    Scene(Scene),
    /// A real picture.
    File(StillFile),
}

impl StillSpec {
    /// A scene, or a file with its size.
    ///
    /// # Errors
    /// For both of them, or neither.
    pub fn new(
        scene: Option<Scene>,
        content: Option<Content>,
        name: Note,
        raster: Option<Raster<Stored>>,
    ) -> Result<Self, Error> {
        match (scene, content, raster) {
            (Some(scene), None, None) => Ok(Self::Scene(scene)),
            (None, Some(content), Some(raster)) => Ok(Self::File(StillFile { content, name, raster })),
            _ => Err(Error::file("a scene by itself, or the content of a still with its raster".to_owned())),
        }
    }

    /// The scene, if it is one.
    pub const fn scene(&self) -> Option<Scene> {
        match self {
            Self::Scene(scene) => Some(*scene),
            Self::File(_) => None,
        }
    }

    /// The file, if it is one.
    pub const fn file(&self) -> Option<&StillFile> {
        match self {
            Self::Scene(_) => None,
            Self::File(file) => Some(file),
        }
    }

    /// What it is, in words.
    pub fn words(&self) -> String {
        match self {
            Self::Scene(scene) => format!("test scene {}", scene.word()),
            Self::File(file) => format!("still {}", file.name.as_str()),
        }
    }
}

impl Footage {
    /// By what its picture is known, if it has one: another word for everything that makes it look otherwise.
    pub fn picture_key(&self) -> Option<String> {
        let still = self.still.as_ref()?;
        let geometry = &self.geometry;
        let mut hasher = DefaultHasher::new();
        format!("{still:?}").hash(&mut hasher);
        [geometry.pixel_aspect().text(), geometry.squeeze().text()].hash(&mut hasher);
        [geometry.raster().width(), geometry.raster().height(), geometry.rotation().degrees()].hash(&mut hasher);
        geometry.insets().sides().hash(&mut hasher);
        // A sphere is shown as it is turned.
        if self.projection == Projection::Sphere {
            format!("{:?} {:?} {:?}", self.turn, self.sphere, self.on_sphere).hash(&mut hasher);
        }
        // A scene shows the subject, and a sphere where the source is one.
        if still.scene().is_some() {
            self.projection.word().hash(&mut hasher);
            self.subject.as_ref().map(|subject| subject.texts().map(str::to_owned)).hash(&mut hasher);
        }
        Some(format!("{:016x}", hasher.finish()))
    }

    /// By what the picture of a view is known, where that of its sphere has this key.
    pub(super) fn view_key(&self, sphere: &str) -> String {
        let mut hasher = DefaultHasher::new();
        let raster = self.geometry.raster();
        format!("{sphere} {:?} {}x{}", self.view, raster.width(), raster.height()).hash(&mut hasher);
        format!("{:016x}", hasher.finish())
    }
}
