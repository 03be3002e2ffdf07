//! Drawings as the pages of a PDF.

use krilla::Document;
use krilla::color::rgb;
use krilla::geom::{PathBuilder, Point, Rect, Size, Transform};
use krilla::image::Image;
use krilla::num::NormalizedF32;
use krilla::page::PageSettings;
use krilla::paint::{Fill, FillRule, Stroke, StrokeDash};
use krilla::text::{Font, GlyphId, KrillaGlyph, TextDirection};

use crate::drawing::{Anchor, Drawing, Ink, Item, PALE};
use crate::face::{Face, parts, text_width};

fn colour(ink: Ink) -> rgb::Color {
    let [r, g, b] = ink.rgb();
    rgb::Color::new(r, g, b)
}

fn fill(ink: Ink) -> Fill {
    Fill { paint: colour(ink).into(), opacity: NormalizedF32::ONE, rule: FillRule::default() }
}

fn stroke(ink: Ink, width: f32, dashed: bool) -> Stroke {
    let dash = dashed.then(|| StrokeDash { array: vec![width * 5.0, width * 3.0], offset: 0.0 });
    Stroke { paint: colour(ink).into(), width, dash, ..Stroke::default() }
}

/// The letters of a text side by side, as wide as they are measured: only the spare face has scripts that join letters or
/// run from right to left.
fn glyphs(text: &str, face: Face) -> Vec<KrillaGlyph> {
    let glyph = |(at, letter): (usize, char)| {
        let range = at..at + letter.len_utf8();
        KrillaGlyph::new(GlyphId::new(face.glyph(letter).into()), face.advance(letter), 0.0, 0.0, 0.0, range, None)
    };
    text.char_indices().map(glyph).collect()
}

/// A PDF file with a page for each drawing; `done` is told of each, and ends the work by `false`.
///
/// # Errors
/// A sentence, when the file cannot be made; an empty one when it was stopped.
pub(crate) fn file(pages: &[Drawing], mut done: impl FnMut() -> bool) -> Result<Vec<u8>, String> {
    let mut document = Document::new();
    let faces: Vec<Font> = Drawing::faces(pages)
        .iter()
        .map(|face| {
            Font::new(face.file().to_vec().into(), 0).ok_or_else(|| "a font that is shipped is damaged".to_owned())
        })
        .collect::<Result<_, _>>()?;
    let font = |face: Face| faces[face as usize].clone();
    for drawing in pages {
        let settings = PageSettings::from_wh(drawing.width, drawing.height).ok_or("a page has no size")?;
        let mut page = document.start_page_with(settings);
        let mut surface = page.surface();
        for item in &drawing.items {
            let mut path = PathBuilder::new();
            match item {
                Item::Rect { at: [x, y, width, height], fill: inside, stroke: edge, dashed } => {
                    let Some(rect) = Rect::from_xywh(*x, *y, width.max(0.01), height.max(0.01)) else { continue };
                    path.push_rect(rect);
                    surface.set_fill(inside.map(fill));
                    surface.set_stroke(edge.map(|(ink, width)| stroke(ink, width, *dashed)));
                }
                Item::Line { from, to, ink, width } => {
                    path.move_to(from[0], from[1]);
                    path.line_to(to[0], to[1]);
                    surface.set_fill(None);
                    surface.set_stroke(Some(stroke(*ink, *width, false)));
                }
                Item::Ellipse { centre: [x, y], radius: [across, down], ink, width } => {
                    // Four curves: the usual approximation of a quarter circle (from memory).
                    let (k, l) = (across * 0.552_284_8, down * 0.552_284_8);
                    path.move_to(x + across, *y);
                    path.cubic_to(x + across, y + l, x + k, y + down, *x, y + down);
                    path.cubic_to(x - k, y + down, x - across, y + l, x - across, *y);
                    path.cubic_to(x - across, y - l, x - k, y - down, *x, y - down);
                    path.cubic_to(x + k, y - down, x + across, y - l, x + across, *y);
                    path.close();
                    surface.set_fill(None);
                    surface.set_stroke(Some(stroke(*ink, *width, false)));
                }
                Item::Picture { at: [x, y, width, height], jpeg, pale } => {
                    let failed = |why| format!("a picture cannot be put on a sheet: {why}");
                    let image = Image::from_jpeg(jpeg.as_ref().clone().into(), true).map_err(failed)?;
                    let Some(size) = Size::from_wh(*width, *height) else { continue };
                    surface.push_transform(&Transform::from_translate(*x, *y));
                    let seen = if *pale { PALE } else { 1.0 };
                    surface.push_opacity(NormalizedF32::new(seen).unwrap_or(NormalizedF32::ONE));
                    surface.draw_image(image, size);
                    surface.pop();
                    surface.pop();
                    continue;
                }
                Item::Text { at: [x, y], size, face, ink, anchor, text } => {
                    let width = text_width(text, *size, *face);
                    let x = match anchor {
                        Anchor::Start => *x,
                        Anchor::Middle => x - width / 2.0,
                        Anchor::End => x - width,
                    };
                    surface.set_stroke(None);
                    surface.set_fill(Some(fill(*ink)));
                    let mut from = x;
                    for (face, part) in parts(text, *face) {
                        let at = Point::from_xy(from, *y);
                        if face == Face::Spare {
                            surface.draw_text(at, font(face), *size, &part, false, TextDirection::Auto);
                        } else {
                            surface.draw_glyphs(at, &glyphs(&part, face), font(face), &part, *size, false);
                        }
                        from += text_width(&part, *size, face);
                    }
                    continue;
                }
            }
            if let Some(path) = path.finish() {
                surface.draw_path(&path);
            }
        }
        surface.finish();
        page.finish();
        if !done() {
            return Err(String::new());
        }
    }
    document.finish().map_err(|error| format!("the PDF cannot be made: {error:?}"))
}
