//! Drawings as PNG, at true size.

use std::collections::HashMap;
use std::io::Write;
use std::sync::{Arc, LazyLock};

use ::png::EncodingError;
use resvg::tiny_skia::{Pixmap, PremultipliedColorU8, Transform};
use resvg::usvg::{Options, Tree, fontdb};

use crate::drawing::{Drawing, Ink};
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
static USUAL: LazyLock<Arc<fontdb::Database>> = LazyLock::new(|| faces(Drawing::faces(&[])));

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
    let needed = Drawing::faces(std::slice::from_ref(drawing));
    let fontdb = if needed == Drawing::faces(&[]) { USUAL.clone() } else { faces(needed) };
    let options = Options { fontdb, ..Options::default() };
    let tree = Tree::from_str(&svg::document(drawing), &options).map_err(|error| failed(&error))?;
    let encoded = if drawing.has_pictures() { in_full } else { in_numbers };
    encoded(&tree, [width, height], drawing.clear).map_err(|error| failed(&error))
}

/// Lines that are drawn at once: a large chart is never in memory as a whole in four bytes a pixel. Pictures in it are
/// unpacked once for each band.
const BAND: u32 = 256;
const BAND_WITH_PICTURES: u32 = 1024;

/// The colours of a picture, each with its number. Inks are kept as they are; of the shades at the edges of letters and
/// circles those that nobody tells apart are one.
struct Colours {
    known: HashMap<u32, u8>,
    /// By the pixels as they are drawn, whose colours are multiplied by how much is seen.
    drawn: HashMap<u32, u8>,
    list: Vec<[u8; 4]>,
    last: (u32, u8),
}

impl Colours {
    const MOST: usize = 256;

    fn new(clear: bool) -> Self {
        let mut colours = Self { known: HashMap::new(), drawn: HashMap::new(), list: Vec::new(), last: (0, 0) };
        // What most of a picture is comes first: runs of 0 are packed best.
        let ground = if clear { [0; 4] } else { [255; 4] };
        colours.last = (u32::from_le_bytes(ground), colours.number(ground));
        for ink in Ink::ALL {
            let [r, g, b] = ink.rgb();
            let number = colours.number([r, g, b, 255]);
            colours.drawn.insert(u32::from_le_bytes([r, g, b, 255]), number);
        }
        colours
    }

    /// The number of a colour, which is as it is.
    fn number(&mut self, colour: [u8; 4]) -> u8 {
        let key = u32::from_le_bytes(colour);
        if let Some(number) = self.known.get(&key) {
            return *number;
        }
        let number = if self.list.len() < Self::MOST {
            self.list.push(colour);
            self.list.len() - 1
        } else {
            let apart = |other: &[u8; 4]| -> u32 {
                other.iter().zip(colour).map(|(one, other)| u32::from(one.abs_diff(other)).pow(2)).sum()
            };
            (0..self.list.len()).min_by_key(|at| apart(&self.list[*at])).unwrap_or(0)
        };
        let number = u8::try_from(number).unwrap_or(u8::MAX);
        self.known.insert(key, number);
        number
    }

    /// The number of a pixel as it was drawn.
    fn of(&mut self, drawn: [u8; 4]) -> u8 {
        let key = u32::from_le_bytes(drawn);
        if key == self.last.0 {
            return self.last.1;
        }
        let number = match self.drawn.get(&key) {
            Some(number) => *number,
            None => {
                let shade = |part: u8| (part & 0xF0) | (part >> 4);
                let [r, g, b, seen] = drawn;
                let plain = PremultipliedColorU8::from_rgba(r, g, b, seen).map_or(drawn, |pixel| {
                    let plain = pixel.demultiply();
                    [plain.red(), plain.green(), plain.blue(), plain.alpha()]
                });
                let number = self.number(plain.map(shade));
                self.drawn.insert(key, number);
                number
            }
        };
        self.last = (key, number);
        number
    }
}

/// Draws a picture, one band of lines after the other.
fn drawn(
    tree: &Tree,
    [width, height]: [u32; 2],
    most: u32,
    mut take: impl FnMut(&Pixmap) -> Result<(), EncodingError>,
) -> Result<(), EncodingError> {
    let mut from = 0;
    while from < height {
        let lines = most.min(height - from);
        let mut band = Pixmap::new(width, lines).ok_or(EncodingError::LimitsExceeded)?;
        #[expect(clippy::cast_precision_loss, reason = "sides are those of frames, at most 65,536")]
        let up = Transform::from_translate(0.0, -(from as f32));
        resvg::render(tree, up, &mut band.as_mut());
        take(&band)?;
        from += lines;
    }
    Ok(())
}

/// A drawing in which there are pictures, on an opaque ground: every colour as it is.
fn in_full(tree: &Tree, size: [u32; 2], _: bool) -> Result<Vec<u8>, EncodingError> {
    let mut bytes = Vec::new();
    let mut encoder = ::png::Encoder::new(&mut bytes, size[0], size[1]);
    encoder.set_color(::png::ColorType::Rgb);
    encoder.set_depth(::png::BitDepth::Eight);
    encoder.set_deflate_compression(::png::DeflateCompression::Level(1));
    encoder.set_filter(::png::Filter::Sub);
    let mut writer = encoder.write_header()?;
    let mut stream = writer.stream_writer()?;
    let mut lines = Vec::new();
    drawn(tree, size, BAND_WITH_PICTURES, |band| {
        lines.clear();
        lines.extend(band.data().as_chunks::<4>().0.iter().flat_map(|[r, g, b, _]| [*r, *g, *b]));
        Ok(stream.write_all(&lines)?)
    })?;
    stream.finish()?;
    writer.finish()?;
    Ok(bytes)
}

/// A drawing of few colours, by their numbers.
fn in_numbers(tree: &Tree, [width, height]: [u32; 2], clear: bool) -> Result<Vec<u8>, EncodingError> {
    let mut colours = Colours::new(clear);
    let mut numbers = Vec::with_capacity(width as usize * height as usize);
    let long = width as usize * 4;
    drawn(tree, [width, height], BAND, |band| {
        for (at, row) in band.data().chunks_exact(long).enumerate() {
            // Most lines are as the one above.
            if at > 0 && band.data()[(at - 1) * long..at * long] == *row {
                numbers.extend_from_within(numbers.len() - width as usize..);
            } else {
                numbers.extend(row.as_chunks::<4>().0.iter().map(|pixel| colours.of(*pixel)));
            }
        }
        Ok(())
    })?;
    let mut bytes = Vec::new();
    let mut encoder = ::png::Encoder::new(&mut bytes, width, height);
    encoder.set_color(::png::ColorType::Indexed);
    encoder.set_depth(::png::BitDepth::Eight);
    encoder.set_palette(colours.list.iter().flat_map(|[r, g, b, _]| [*r, *g, *b]).collect::<Vec<u8>>());
    if clear {
        encoder.set_trns(colours.list.iter().map(|colour| colour[3]).collect::<Vec<u8>>());
    }
    encoder.set_deflate_compression(::png::DeflateCompression::Level(1));
    // So that lines as the one above are nothing.
    encoder.set_filter(::png::Filter::Up);
    let mut writer = encoder.write_header()?;
    // As a stream, which needs no second picture for its filter.
    let mut stream = writer.stream_writer()?;
    stream.write_all(&numbers)?;
    stream.finish()?;
    writer.finish()?;
    Ok(bytes)
}
