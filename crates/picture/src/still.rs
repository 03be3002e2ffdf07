//! [`Still`]: one picture as a file holds it.

use std::borrow::Cow;
use std::io::{Cursor, Write};

use image::codecs::png::{CompressionType, FilterType, PngEncoder};
use image::{DynamicImage, ImageDecoder, ImageFormat, ImageReader, Limits};
use jpeg_encoder::{ColorType, Encoder};
use ratiomet_core::Raster;
use ratiomet_core::space::Stored;

use crate::limits::{MOST_BYTES, MOST_SIDE, MOST_UNPACKED, room};
use crate::{Problem, dpx, exr_file};

/// A picture: its samples as they are stored, before turning, with what the file says of its colours.
#[derive(Clone, Debug, PartialEq)]
pub struct Still {
    /// The samples: gray, with alpha or without, or colours; 8 or 16 bit, or float.
    pub samples: DynamicImage,
    /// The colour profile (ICC) of the file.
    pub profile: Option<Vec<u8>>,
    /// What the format of the file is called.
    pub format: &'static str,
}

/// How the size of a still goes with the raster of its source.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Fit {
    /// The same size.
    Same,
    /// Smaller by a whole number on both axes.
    Part(u32),
    /// Another size: it is not carried out, since that would stretch it.
    Other,
}

impl Fit {
    /// How a size goes with a raster.
    pub fn of([width, height]: [u32; 2], raster: Raster<Stored>) -> Self {
        let part = raster.width() / width.max(1);
        if part == 0
            || width.checked_mul(part) != Some(raster.width())
            || height.checked_mul(part) != Some(raster.height())
        {
            Self::Other
        } else if part == 1 {
            Self::Same
        } else {
            Self::Part(part)
        }
    }
}

/// What a file may be, by its first bytes.
fn format(bytes: &[u8]) -> Option<(Option<ImageFormat>, &'static str)> {
    let at = |offset: usize, magic: &[u8]| bytes.get(offset..).is_some_and(|rest| rest.starts_with(magic));
    match () {
        () if at(0, b"\x89PNG\r\n\x1a\n") => Some((Some(ImageFormat::Png), "PNG")),
        () if at(0, &[0xFF, 0xD8, 0xFF]) => Some((Some(ImageFormat::Jpeg), "JPEG")),
        () if at(0, b"RIFF") && at(8, b"WEBP") => Some((Some(ImageFormat::WebP), "WebP")),
        () if at(0, b"II*\0") || at(0, b"MM\0*") => Some((Some(ImageFormat::Tiff), "TIFF")),
        () if at(0, &[0x76, 0x2F, 0x31, 0x01]) => Some((None, "OpenEXR")),
        () if at(0, b"SDPX") || at(0, b"XPDS") => Some((None, "DPX")),
        () => None,
    }
}

impl Still {
    /// Reads a file: PNG, JPEG, TIFF, WebP, OpenEXR or DPX, known by its first bytes.
    ///
    /// # Errors
    /// A sentence for a file that is none of these, is damaged, or is larger than pictures may be.
    pub fn read(bytes: &[u8]) -> Result<Self, Problem> {
        if bytes.len() as u64 > MOST_BYTES {
            return Err(Problem::new(format!("the file has more than {} MB", MOST_BYTES >> 20)));
        }
        let Some((format, name)) = format(bytes) else {
            return Err(Problem::new("this is no picture that is read: PNG, JPEG, TIFF, WebP, OpenEXR and DPX are"));
        };
        let still = match (format, name) {
            (Some(format), _) => Self::unpacked(bytes, format, name)?,
            (None, "DPX") => Self { samples: dpx::read(bytes)?, profile: None, format: name },
            (None, _) => Self { samples: exr_file::read(bytes)?, profile: None, format: name },
        };
        Ok(still)
    }

    /// Whether a file that begins like this is one that is read.
    pub fn is_known(head: &[u8]) -> bool {
        format(head).is_some()
    }

    fn unpacked(bytes: &[u8], format: ImageFormat, name: &'static str) -> Result<Self, Problem> {
        let failed = |error: image::ImageError| Problem::new(format!("this {name} file cannot be read: {error}"));
        let mut reader = ImageReader::with_format(Cursor::new(bytes), format);
        let mut limits = Limits::no_limits();
        (limits.max_image_width, limits.max_image_height) = (Some(MOST_SIDE), Some(MOST_SIDE));
        limits.max_alloc = Some(MOST_UNPACKED);
        reader.limits(limits);
        let mut decoder = reader.into_decoder().map_err(failed)?;
        let ([width, height], total) = (<[u32; 2]>::from(decoder.dimensions()), decoder.total_bytes());
        room([width, height], total)?;
        let profile = decoder.icc_profile().ok().flatten();
        let samples = DynamicImage::from_decoder(decoder).map_err(failed)?;
        Ok(Self { samples, profile, format: name })
    }

    /// What is known of it beside its samples.
    pub(crate) fn without_samples(&self) -> Self {
        Self { samples: DynamicImage::default(), profile: self.profile.clone(), format: self.format }
    }

    /// A picture of this size that is clear.
    pub fn clear([width, height]: [u32; 2]) -> Self {
        Self { samples: DynamicImage::new_rgba8(width, height), profile: None, format: "PNG" }
    }

    /// The same in eight bit and colours, for the eye.
    #[must_use]
    pub fn for_the_eye(&self) -> Self {
        Self { samples: DynamicImage::ImageRgb8(self.samples.to_rgb8()), ..self.without_samples() }
    }

    /// Its size.
    pub fn size(&self) -> [u32; 2] {
        [self.samples.width(), self.samples.height()]
    }

    /// Whether its samples are floats, which PNG cannot hold.
    pub const fn is_float(&self) -> bool {
        matches!(self.samples, DynamicImage::ImageRgb32F(_) | DynamicImage::ImageRgba32F(_))
    }

    /// Writes it as PNG, of 8 or 16 bit as it is; floats become 16 bit, held between 0 and 1.
    ///
    /// # Errors
    /// A sentence when the file cannot be written.
    pub fn write_png(&self, to: impl Write) -> Result<(), Problem> {
        let failed = |error: image::ImageError| Problem::new(format!("the PNG file cannot be written: {error}"));
        let mut encoder = PngEncoder::new_with_quality(to, CompressionType::Fast, FilterType::Adaptive);
        if let Some(profile) = &self.profile {
            image::ImageEncoder::set_icc_profile(&mut encoder, profile.clone())
                .map_err(|error| failed(image::ImageError::Unsupported(error)))?;
        }
        match &self.samples {
            DynamicImage::ImageRgb32F(_) => {
                DynamicImage::ImageRgb16(self.samples.to_rgb16()).write_with_encoder(encoder)
            }
            DynamicImage::ImageRgba32F(_) => {
                DynamicImage::ImageRgba16(self.samples.to_rgba16()).write_with_encoder(encoder)
            }
            whole => whole.write_with_encoder(encoder),
        }
        .map_err(failed)
    }

    /// The picture as JPEG, in eight bit, for the eye; what is clear stands on black.
    ///
    /// # Errors
    /// A sentence when it cannot be written.
    pub fn as_jpeg(&self, quality: u8) -> Result<Vec<u8>, Problem> {
        let failed = |why: String| Problem::new(format!("the picture cannot be written as JPEG: {why}"));
        let picture = match &self.samples {
            DynamicImage::ImageRgb8(picture) => Cow::Borrowed(picture),
            other => Cow::Owned(other.to_rgb8()),
        };
        let side = |pixels: u32| u16::try_from(pixels).map_err(|_| failed(format!("a side of {pixels} pixels")));
        let (width, height) = (side(picture.width())?, side(picture.height())?);
        let mut bytes = Vec::new();
        Encoder::new(&mut bytes, quality)
            .encode(picture.as_raw(), width, height, ColorType::Rgb)
            .map_err(|error| failed(error.to_string()))?;
        Ok(bytes)
    }

    /// Writes it as OpenEXR, floats as they are.
    ///
    /// # Errors
    /// A sentence when the file cannot be written.
    pub fn write_exr(&self, mut to: impl Write + std::io::Seek) -> Result<(), Problem> {
        let float = match &self.samples {
            DynamicImage::ImageRgb32F(_) | DynamicImage::ImageRgba32F(_) => self.samples.clone(),
            other if other.color().has_alpha() => DynamicImage::ImageRgba32F(other.to_rgba32f()),
            other => DynamicImage::ImageRgb32F(other.to_rgb32f()),
        };
        float
            .write_to(&mut to, ImageFormat::OpenExr)
            .map_err(|error| Problem::new(format!("the OpenEXR file cannot be written: {error}")))
    }
}
