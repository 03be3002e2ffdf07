//! Frames and pixel shapes that standards and common practice have settled, each with its source.

use crate::space::Delivery;
use crate::{Exact, Raster};

/// What sort of frame it is, for a list.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum FrameGroup {
    /// Television and streaming, 16:9.
    Television,
    /// Cinema containers and the pictures inside them.
    Cinema,
    /// Standard definition, whose pixels are not square.
    Standard,
    /// 16:9 turned upright.
    Upright,
    /// Portrait and square.
    Portrait,
    /// Wide pictures cut out of a 16:9 raster.
    Wide,
    /// Equirectangular spheres, one eye.
    Sphere,
}

impl FrameGroup {
    /// Every group, in the order in which they are offered.
    pub const ALL: [Self; 7] =
        [Self::Television, Self::Cinema, Self::Wide, Self::Upright, Self::Portrait, Self::Standard, Self::Sphere];

    /// Its title.
    pub const fn title(self) -> &'static str {
        match self {
            Self::Television => "UHD and HD",
            Self::Cinema => "Cinema containers, flat and scope",
            Self::Standard => "Standard definition, with its pixel shapes",
            Self::Upright => "Upright",
            Self::Portrait => "Portrait and square",
            Self::Wide => "Wide, out of UHD and HD",
            Self::Sphere => "Spheres (equirectangular, one eye)",
        }
    }
}

/// A frame that others publish.
#[derive(Debug, PartialEq)]
pub struct PublishedFrame {
    /// What sort of frame it is.
    pub group: FrameGroup,
    /// What the trade calls it.
    pub name: &'static str,
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// Width over height of one pixel, as a pair of whole numbers.
    pub pixel_aspect: (u32, u32),
    /// Where it is laid down.
    pub source: &'static str,
}

impl PublishedFrame {
    /// Width over height, as seen.
    pub fn ratio(&self) -> Exact {
        let (across, down) = self.pixel_aspect;
        Exact::whole(self.width) * Exact::whole(across) / (Exact::whole(self.height) * Exact::whole(down))
    }
}

const fn square(
    group: FrameGroup,
    name: &'static str,
    width: u32,
    height: u32,
    source: &'static str,
) -> PublishedFrame {
    PublishedFrame { group, name, width, height, pixel_aspect: (1, 1), source }
}

const fn standard(
    name: &'static str,
    width: u32,
    height: u32,
    pixel_aspect: (u32, u32),
    source: &'static str,
) -> PublishedFrame {
    PublishedFrame { group: FrameGroup::Standard, name, width, height, pixel_aspect, source }
}

use FrameGroup::{Cinema, Portrait, Sphere, Television, Upright, Wide};

const UHD: &str = "Recommendation ITU-R BT.2020-2, Table 1";
const HD: &str = "Recommendation ITU-R BT.709-6, Part 1 (picture characteristics)";
const HD720: &str = "SMPTE ST 296 (from memory)";
const CINEMA: &str = "SMPTE ST 428-1, image container (from memory)";
const CINEMA_PICTURE: &str = "Cinema flat and scope inside SMPTE ST 428-1 (from memory)";
const SD: &str = "Recommendation ITU-R BT.601-7, Table 1; pixel shape: ITU-T H.264, Table E-1";
const PRACTICE: &str = "common practice";

/// Every published frame that the core knows.
pub const FRAMES: &[PublishedFrame] = &[
    square(Television, "UHD 8K", 7680, 4320, UHD),
    square(Television, "UHD", 3840, 2160, UHD),
    square(Television, "HD", 1920, 1080, HD),
    square(Television, "HD 720", 1280, 720, HD720),
    square(Cinema, "Cinema container 4K", 4096, 2160, CINEMA),
    square(Cinema, "Cinema container 2K", 2048, 1080, CINEMA),
    square(Cinema, "Cinema flat 4K", 3996, 2160, CINEMA_PICTURE),
    square(Cinema, "Cinema flat 2K", 1998, 1080, CINEMA_PICTURE),
    square(Cinema, "Cinema scope 4K", 4096, 1716, CINEMA_PICTURE),
    square(Cinema, "Cinema scope 2K", 2048, 858, CINEMA_PICTURE),
    standard("SD 625 lines 4:3", 720, 576, (12, 11), SD),
    standard("SD 625 lines 16:9", 720, 576, (16, 11), SD),
    standard("SD 525 lines 4:3", 720, 480, (10, 11), SD),
    standard("SD 525 lines 16:9", 720, 480, (40, 33), SD),
    standard("SD 525 lines 4:3, all 486", 720, 486, (10, 11), SD),
    square(Upright, "UHD upright", 2160, 3840, PRACTICE),
    square(Upright, "HD upright", 1080, 1920, PRACTICE),
    square(Upright, "HD 720 upright", 720, 1280, PRACTICE),
    square(Portrait, "Portrait 4:5", 1080, 1350, PRACTICE),
    square(Portrait, "Portrait 2:3", 1080, 1620, PRACTICE),
    square(Portrait, "Portrait 4:5 of HD", 864, 1080, PRACTICE),
    square(Portrait, "Square", 1080, 1080, PRACTICE),
    square(Portrait, "Square UHD", 2160, 2160, PRACTICE),
    square(Wide, "HD scope 2.40", 1920, 800, PRACTICE),
    square(Wide, "HD scope 2.39", 1920, 804, PRACTICE),
    square(Wide, "UHD scope 2.40", 3840, 1600, PRACTICE),
    square(Wide, "HD scope 2.35", 1920, 816, PRACTICE),
    square(Wide, "HD 720 scope 2.35", 1280, 544, PRACTICE),
    square(Wide, "HD 2.66", 1920, 720, PRACTICE),
    square(Wide, "UHD 2.00", 3840, 1920, "common practice; also the equirectangular sphere 4K"),
    square(Wide, "HD 2.00", 1920, 960, PRACTICE),
    square(Sphere, "Sphere 5.7K", 5760, 2880, PRACTICE),
    square(Sphere, "Sphere 8K", 7680, 3840, PRACTICE),
];

/// A ratio that pictures are asked for in.
#[derive(Debug, PartialEq, Eq)]
pub struct PublishedRatio {
    /// As the trade writes it.
    pub ratio: &'static str,
    /// What it is used for.
    pub name: &'static str,
    /// Where it is laid down.
    pub source: &'static str,
}

const fn ratio(ratio: &'static str, name: &'static str, source: &'static str) -> PublishedRatio {
    PublishedRatio { ratio, name, source }
}

const BT601: &str = "Recommendation ITU-R BT.601-7, Part A";
const SHEET_FILM: &str = "SMPTE ST 195, 35 mm projection apertures (from memory)";

/// Ratios from the highest picture to the widest.
pub const RATIOS: &[PublishedRatio] = &[
    ratio("9:16", "upright", PRACTICE),
    ratio("2:3", "portrait", PRACTICE),
    ratio("4:5", "portrait", PRACTICE),
    ratio("1", "square", PRACTICE),
    ratio("4:3", "older television, silent film", BT601),
    ratio("1.375", "sound film of four holes", SHEET_FILM),
    ratio("3:2", "still cameras", PRACTICE),
    ratio("1.66", "flat, widest in Europe", SHEET_FILM),
    ratio("16:9", "television, streaming", HD),
    ratio("1.85", "cinema flat", CINEMA_PICTURE),
    ratio("256:135", "the whole cinema container", CINEMA),
    ratio("2", "between flat and scope; a sphere", PRACTICE),
    ratio("2.2", "wide film of five holes", PRACTICE),
    ratio("2.35", "older scope, a name for 2.39", PRACTICE),
    ratio("2.39", "scope", CINEMA_PICTURE),
    ratio("2.4", "scope on discs", PRACTICE),
    ratio("2.76", "wide film with a squeeze", PRACTICE),
];

/// The shape of a sensor, with a raster that has it.
#[derive(Debug, PartialEq, Eq)]
pub struct SensorShape {
    /// Its sides.
    pub name: &'static str,
    /// Pixels across and down of the raster that stands for it.
    pub raster: [u32; 2],
}

const fn sensor(name: &'static str, raster: [u32; 2]) -> SensorShape {
    SensorShape { name, raster }
}

/// Shapes in which cameras record, the widest first (common practice).
pub const SENSORS: &[SensorShape] = &[
    sensor("256:135", [4096, 2160]),
    sensor("16:9", [3840, 2160]),
    sensor("3:2", [6240, 4160]),
    sensor("4:3", [2880, 2160]),
    sensor("6:5", [2592, 2160]),
    sensor("1:1", [2160, 2160]),
    sensor("9:16", [2160, 3840]),
];

/// How many times anamorphic lenses narrow the picture (common practice).
pub const SQUEEZES: &[&str] = &["1", "1.25", "4/3", "1.5", "1.6", "1.8", "2"];

/// Whether a stored picture has a shape that is often filled by an anamorphic lens: from 1.15 to 1.40 wide
/// for its height, which holds 6:5 and 4:3 (common practice).
pub fn is_often_squeezed(stored: &Exact) -> bool {
    *stored >= Exact::fraction(115, 100) && *stored <= Exact::fraction(140, 100)
}

/// A size that goes by a name, as somebody says it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NamedSize {
    /// Pixels across and down.
    pub size: [u32; 2],
    /// What else the name could mean; none when it means this and nothing else.
    pub doubt: Option<&'static str>,
    /// The size that it could mean as well.
    pub other: Option<[u32; 2]>,
}

/// A short name of a size.
struct ShortName {
    name: &'static str,
    size: [u32; 2],
    doubt: Option<&'static str>,
    other: Option<[u32; 2]>,
}

const fn short(name: &'static str, size: [u32; 2]) -> ShortName {
    ShortName { name, size, doubt: None, other: None }
}

const fn either(name: &'static str, size: [u32; 2], other: [u32; 2], doubt: &'static str) -> ShortName {
    ShortName { name, size, doubt: Some(doubt), other: Some(other) }
}

const TWO_STANDARDS: &str = "625 lines are meant; 525 lines are 720×480 (say ntsc)";

/// Short names of sizes, in small letters (common practice).
const SHORT_NAMES: &[ShortName] = &[
    either("4k", [3840, 2160], [4096, 2160], "the cinema container 4K is 4096×2160 (say dci4k)"),
    either("2k", [2048, 1080], [1920, 1080], "the cinema container is meant; HD is 1920×1080"),
    either("8k", [7680, 4320], [8192, 4320], "UHD 8K is meant; cinema cameras record 8192×4320 under this name"),
    short("dci4k", [4096, 2160]),
    short("dci2k", [2048, 1080]),
    short("2160p", [3840, 2160]),
    short("1080p", [1920, 1080]),
    short("1080i", [1920, 1080]),
    short("720p", [1280, 720]),
    short("fullhd", [1920, 1080]),
    short("fhd", [1920, 1080]),
    short("pal", [720, 576]),
    short("ntsc", [720, 480]),
    either("sd", [720, 576], [720, 480], TWO_STANDARDS),
    either("dv", [720, 576], [720, 480], TWO_STANDARDS),
    ShortName { name: "hdv", size: [1440, 1080], doubt: Some("its pixels are 4:3 wide"), other: None },
    either("dci", [4096, 2160], [2048, 1080], "the cinema container 4K is meant; 2K is 2048×1080 (say dci2k)"),
    short("4320p", [7680, 4320]),
    short("1440p", [2560, 1440]),
    short("qhd", [2560, 1440]),
];

/// The size that a name means: a short one of the trade, or that of a published frame.
///
/// ```
/// use ratiomet_core::published::named_size;
/// assert_eq!(named_size("UHD").unwrap().size, [3840, 2160]);
/// assert!(named_size("4k").unwrap().doubt.is_some());
/// assert!(named_size("large").is_none());
/// ```
pub fn named_size(name: &str) -> Option<NamedSize> {
    let name = name.trim().to_lowercase();
    let short = SHORT_NAMES.iter().find(|known| known.name == name);
    let short = short.map(|known| NamedSize { size: known.size, doubt: known.doubt, other: known.other });
    short.or_else(|| {
        let frame = FRAMES.iter().find(|frame| frame.name.to_lowercase() == name)?;
        Some(NamedSize { size: [frame.width, frame.height], doubt: None, other: None })
    })
}

/// The pixel shapes of ITU-T H.264, Table E-1, in the order of `aspect_ratio_idc` 1 to 16.
pub const PIXEL_ASPECTS: &[(u32, u32)] = &[
    (1, 1),
    (12, 11),
    (10, 11),
    (16, 11),
    (40, 33),
    (24, 11),
    (20, 11),
    (32, 11),
    (80, 33),
    (18, 11),
    (15, 11),
    (64, 33),
    (160, 99),
    (4, 3),
    (3, 2),
    (2, 1),
];

/// The published frame that a raster misses by at most 1 % on each side; none when the raster is
/// published itself.
pub fn near(width: u32, height: u32) -> Option<&'static PublishedFrame> {
    let off = |side: u32, published: u32| side.abs_diff(published);
    let mut nearest: Option<(u32, &PublishedFrame)> = None;
    for frame in FRAMES {
        let (across, down) = (off(width, frame.width), off(height, frame.height));
        if across == 0 && down == 0 {
            return None;
        }
        let close = |off: u32, side: u32| off * 100 <= side;
        if close(across, frame.width)
            && close(down, frame.height)
            && nearest.is_none_or(|(best, _)| across + down < best)
        {
            nearest = Some((across + down, frame));
        }
    }
    nearest.map(|(_, frame)| frame)
}

/// Published frames that share the held side of a container and come within 1 % of a ratio.
pub(crate) fn with_side(container: Raster<Delivery>, width_held: bool, ratio: &Exact) -> Vec<&'static PublishedFrame> {
    let shares = |frame: &&PublishedFrame| {
        if width_held { frame.width == container.width() } else { frame.height == container.height() }
    };
    let close = |frame: &&PublishedFrame| (frame.ratio() / ratio - Exact::ONE).abs() <= Exact::fraction(1, 100);
    FRAMES.iter().filter(shares).filter(close).collect()
}
