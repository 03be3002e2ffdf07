//! Drawings as PNG, at true size.

use std::io::Write;
use std::sync::{Arc, LazyLock};

use ::png::EncodingError;
use resvg::tiny_skia::{Pixmap, Transform};
use resvg::usvg::{Options, Tree, fontdb};

use crate::drawing::Drawing;
use crate::face::Face;
use crate::svg;

fn faces(faces: &[Face]) -> Arc<fontdb::Database> {
    let mut loaded = fontdb::Database::new();
    for face in faces {
        loaded.load_font_data(face.file().to_vec());
    }
    Arc::new(loaded)
}

/// The faces that most drawings need: they are loaded once.
static USUAL: LazyLock<Arc<fontdb::Database>> = LazyLock::new(|| faces(Face::of(&[])));

/// The most pixels of a picture.
const MOST_PIXELS: u64 = 1 << 27;

/// Whether a drawing of this size is too large for a picture.
pub(crate) fn is_too_large([width, height]: [u32; 2]) -> bool {
    u64::from(width) * u64::from(height) > MOST_PIXELS
}

/// The drawing as a PNG file.
///
/// # Errors
/// A sentence, when it cannot be drawn.
pub(crate) fn file(drawing: &Drawing) -> Result<Vec<u8>, String> {
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "sides are those of frames")]
    let (width, height) = (drawing.width.round() as u32, drawing.height.round() as u32);
    let failed = |why: &dyn std::fmt::Display| format!("a chart cannot be drawn: {why}");
    let needed = Face::of(std::slice::from_ref(drawing));
    let fontdb = if needed == Face::of(&[]) { USUAL.clone() } else { faces(needed) };
    let options = Options { fontdb, ..Options::default() };
    let tree = Tree::from_str(&svg::document(drawing), &options).map_err(|error| failed(&error))?;
    encoded(&tree, width, height, drawing.clear).map_err(|error| failed(&error))
}

/// Lines that are drawn at once: a large chart is never in memory as a whole.
const BAND: u32 = 256;

fn encoded(tree: &Tree, width: u32, height: u32, clear: bool) -> Result<Vec<u8>, EncodingError> {
    let mut bytes = Vec::new();
    let mut encoder = ::png::Encoder::new(&mut bytes, width, height);
    encoder.set_color(if clear { ::png::ColorType::Rgba } else { ::png::ColorType::Rgb });
    encoder.set_depth(::png::BitDepth::Eight);
    encoder.set_compression(::png::Compression::Fast);
    let mut writer = encoder.write_header()?;
    let mut stream = writer.stream_writer()?;
    let mut from = 0;
    while from < height {
        let lines = BAND.min(height - from);
        let mut band = Pixmap::new(width, lines).ok_or(EncodingError::LimitsExceeded)?;
        #[expect(clippy::cast_precision_loss, reason = "sides are those of frames, at most 65,536")]
        let up = Transform::from_translate(0.0, -(from as f32));
        resvg::render(tree, up, &mut band.as_mut());
        let bytes: Vec<u8> = if clear {
            let plain = band.pixels().iter().map(|pixel| pixel.demultiply());
            plain.flat_map(|pixel| [pixel.red(), pixel.green(), pixel.blue(), pixel.alpha()]).collect()
        } else {
            band.data().chunks_exact(4).flat_map(|pixel| [pixel[0], pixel[1], pixel[2]]).collect()
        };
        stream.write_all(&bytes)?;
        from += lines;
    }
    stream.finish()?;
    writer.finish()?;
    Ok(bytes)
}
