//! Captions: words as a picture, to be put onto spheres.

use crate::drawing::{Anchor, Drawing, Ink, count};
use crate::face::{Face, text_width, wrapped};
use crate::png;

/// How high its letters are, in pixels, and how far its lines are apart.
const SIZE: f32 = 120.0;
const APART: f32 = 150.0;
/// The room of a line, and what is left free around all of them.
const ROOM: f32 = 1600.0;
const AROUND: f32 = 60.0;
const MOST_LINES: usize = 4;

/// Words as a PNG file: white on a dark plate that is as large as they need.
///
/// # Errors
/// A sentence when they cannot be drawn.
pub fn caption(text: &str) -> Result<Vec<u8>, String> {
    let face = Face::Bold;
    let lines = wrapped(text, ROOM, SIZE, face, MOST_LINES);
    let widest = lines.iter().map(|line| text_width(line, SIZE, face)).fold(SIZE, f32::max);
    // Whole pixels, and even ones: halves stay whole.
    let even = |side: f32| (side / 2.0).ceil() * 2.0;
    let (width, height) = (even(widest + 2.0 * AROUND), even(count(lines.len()) * APART + 2.0 * AROUND - 30.0));
    let mut drawing = Drawing::new(width, height);
    drawing.rect([0.0, 0.0, width, height], Some(Ink::Dark), None);
    for (at, line) in lines.into_iter().enumerate() {
        let y = AROUND + SIZE * 0.86 + count(at) * APART;
        drawing.anchored([width / 2.0, y], SIZE, face, Ink::White, Anchor::Middle, line);
    }
    png::file(&drawing)
}
