//! Drawings as PNG, at true size.

use std::sync::{Arc, LazyLock};

use resvg::tiny_skia::{Pixmap, Transform};
use resvg::usvg::{Options, Tree, fontdb};

use crate::drawing::{Drawing, Face};
use crate::svg;

static FACES: LazyLock<Arc<fontdb::Database>> = LazyLock::new(|| {
    let mut faces = fontdb::Database::new();
    for face in Face::ALL {
        faces.load_font_data(face.file().to_vec());
    }
    Arc::new(faces)
});

/// The most pixels of a picture.
const MOST_PIXELS: u64 = 1 << 27;

/// The drawing as a PNG file; none where it is too large for one.
pub(crate) fn file(drawing: &Drawing) -> Option<Vec<u8>> {
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "sides are those of frames")]
    let (width, height) = (drawing.width.round() as u32, drawing.height.round() as u32);
    if u64::from(width) * u64::from(height) > MOST_PIXELS {
        return None;
    }
    let options = Options { fontdb: FACES.clone(), ..Options::default() };
    let tree = Tree::from_str(&svg::document(drawing), &options).ok()?;
    let mut pixmap = Pixmap::new(width, height)?;
    resvg::render(&tree, Transform::identity(), &mut pixmap.as_mut());
    encoded(&pixmap)
}

fn encoded(pixmap: &Pixmap) -> Option<Vec<u8>> {
    let mut bytes = Vec::new();
    let mut encoder = ::png::Encoder::new(&mut bytes, pixmap.width(), pixmap.height());
    encoder.set_color(::png::ColorType::Rgb);
    encoder.set_depth(::png::BitDepth::Eight);
    encoder.set_compression(::png::Compression::Fast);
    let mut writer = encoder.write_header().ok()?;
    // Charts have no holes: what is not drawn on is white.
    let rgb: Vec<u8> = pixmap.data().chunks_exact(4).flat_map(|pixel| [pixel[0], pixel[1], pixel[2]]).collect();
    writer.write_image_data(&rgb).ok()?;
    writer.finish().ok()?;
    Some(bytes)
}
