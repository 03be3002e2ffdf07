//! Framing charts: for the camera, what every frame takes of a source; as a leader, each frame by itself.

use std::sync::Arc;

use ratiomet_core::project::{Deliverable, Footage, Package, Packaged};
use ratiomet_core::space::Rect;

use crate::drawing::{Drawing, Ink, count, side};
use crate::face::{Face, text_width};

/// A picture behind a chart.
pub(crate) type Jpeg = Arc<Vec<u8>>;

#[expect(clippy::cast_possible_truncation, reason = "a drawing is as fine as it is seen")]
fn rect<S>(rect: &Rect<S>) -> [f32; 4] {
    [&rect.x, &rect.y, &rect.size.width, &rect.size.height].map(|side| side.to_f64() as f32)
}

/// How thick a line is that is seen on a raster of this size.
fn pen_of(width: f32, height: f32) -> f32 {
    (width.min(height) / 540.0).max(1.0)
}

/// An edge that is seen from afar, and beside it a hairline in exactly the outermost pixels of what it encloses: who
/// frames by it frames by the hairline.
fn edged(drawing: &mut Drawing, [x, y, width, height]: [f32; 4], ink: Ink, pen: f32) {
    let (left, top, right, bottom) = (x.floor(), y.floor(), (x + width).ceil(), (y + height).ceil());
    let hair = [left + 0.5, top + 0.5, right - left - 1.0, bottom - top - 1.0];
    if hair[2] > 0.0 && hair[3] > 0.0 {
        drawing.rect(hair, None, Some((ink, 1.0)));
    }
    // Inside, so that it is seen where the edge is that of the raster.
    let gap = 1.0 + 2.0 * pen;
    let inner = [left + gap + pen, top + gap + pen, right - left - 2.0 * (gap + pen), bottom - top - 2.0 * (gap + pen)];
    if inner[2] > 0.0 && inner[3] > 0.0 {
        drawing.rect(inner, None, Some((ink, 2.0 * pen)));
    }
}

/// A grid, the middle and its corners, as thick as the raster needs, on white or on a picture.
fn ground(width: f32, height: f32, picture: Option<Jpeg>) -> (Drawing, f32) {
    let pen = pen_of(width, height);
    let mut drawing = Drawing::new(width, height);
    drawing.rect([0.0, 0.0, width, height], Some(Ink::White), None);
    if let Some(picture) = picture {
        drawing.behind(picture);
    }
    for part in 1_u8..12 {
        let part = f32::from(part) / 12.0;
        drawing.line([width * part, 0.0], [width * part, height], Ink::Faint, pen * 0.6);
        drawing.line([0.0, height * part], [width, height * part], Ink::Faint, pen * 0.6);
    }
    drawing.rect([pen, pen, width - 2.0 * pen, height - 2.0 * pen], None, Some((Ink::Dark, 2.0 * pen)));
    (drawing, pen)
}

fn cross(drawing: &mut Drawing, [x, y]: [f32; 2], arm: f32, pen: f32) {
    drawing.line([x - arm, y], [x + arm, y], Ink::Dark, pen);
    drawing.line([x, y - arm], [x, y + arm], Ink::Dark, pen);
}

const INKS: [Ink; 4] = [Ink::Blue, Ink::Cut, Ink::Ok, Ink::Caution];

/// What the chosen frames take of a source, on its stored raster: to be shot, or laid over the picture. It is the chart of
/// `alike` sources that are stored and framed alike, and names the first.
/// A circle is drawn as the squeeze stores it, so that it is round where everything is right.
pub(crate) fn camera(package: &Package, at: usize, alike: usize, picture: Option<Jpeg>) -> Drawing {
    let footage: &Footage = package.sources[at].1;
    let raster = footage.geometry.raster();
    let (width, height) = (side(raster.width()), side(raster.height()));
    let (mut drawing, pen) = ground(width, height, picture);
    let active = rect(&footage.geometry.source().active());
    if active != [0.0, 0.0, width, height] {
        drawing.dashed(active, (Ink::Muted, 2.0 * pen));
    }
    let middle = [active[0] + active[2] / 2.0, active[1] + active[3] / 2.0];
    cross(&mut drawing, middle, 24.0 * pen, 2.0 * pen);
    #[expect(clippy::cast_possible_truncation, reason = "a drawing is as fine as it is seen")]
    let shape = (footage.geometry.pixel_aspect().value().value().to_f64()
        * footage.geometry.squeeze().value().value().to_f64()) as f32;
    let radius = (active[3] * 0.35).min(active[2] * shape * 0.35);
    drawing.ellipse(middle, [radius / shape, radius], Ink::Muted, 1.5 * pen);
    let size = 13.0 * pen;
    let mine = package.of_source(at);
    let ink = |packaged: &Packaged| INKS[packaged.frame % INKS.len()];
    for packaged in mine.iter() {
        if let Some(window) = &packaged.conversion.plan.window {
            edged(&mut drawing, rect(window), ink(packaged), pen);
        }
    }
    let more = if alike > 1 { format!(" and {} alike", alike - 1) } else { String::new() };
    let label = format!("{}{more}  {}x{}", footage.name.as_str(), raster.width(), raster.height());
    let mut down = height - 14.0 * pen;
    drawing.label([16.0 * pen, down], size * 1.2, Face::Bold, Ink::Dark, label);
    let mut tags: Vec<[f32; 2]> = Vec::new();
    for (number, packaged) in mine.iter().enumerate().rev() {
        let Some(window) = &packaged.conversion.plan.window else { continue };
        let (window, ink) = (rect(window), ink(packaged));
        // Its number at its upper edge, none above another; the name in the list at the lower left.
        let tag = (number + 1).to_string();
        let across = window[0] + size * (0.6 + 1.3 * count(number));
        let mut across = across.min(window[0] + window[2] - size * 1.3);
        let top = window[1] + size * 1.3;
        let lies_on =
            |across: f32| move |[x, y]: &[f32; 2]| (x - across).abs() < size * 1.3 && (y - top).abs() < size * 1.4;
        while tags.iter().any(lies_on(across)) {
            across += size * 1.3;
        }
        tags.push([across, top]);
        drawing.label([across, top], size, Face::BoldFigures, ink, &tag);
        down -= size * 1.4;
        let name = format!("{tag}  {}", package.frame_of(packaged).name.as_str());
        drawing.label([16.0 * pen, down], size, Face::Bold, ink, name);
    }
    drawing
}

/// A frame by itself: its picture, safe areas, middle, circle and name; with what comes out of a source in it, and the
/// name of that.
pub(crate) fn leader(package: &Package, frame: &Deliverable, shown: Option<(&str, Jpeg)>) -> Drawing {
    let raster = frame.geometry.frame().raster();
    let (of, picture) = shown.unzip();
    let (mut drawing, pen) = ground(side(raster.width()), side(raster.height()), picture);
    marks(&mut drawing, frame, pen);
    words(&mut drawing, package, frame, of, pen);
    drawing
}

/// The same to be laid over a picture: what is not drawn on is clear.
pub(crate) fn overlay(package: &Package, frame: &Deliverable) -> Drawing {
    let raster = frame.geometry.frame().raster();
    let (width, height) = (side(raster.width()), side(raster.height()));
    let mut drawing = Drawing::new(width, height);
    drawing.clear = true;
    let pen = pen_of(width, height);
    marks(&mut drawing, frame, pen);
    words(&mut drawing, package, frame, None, pen);
    drawing
}

/// Picture, mask, safe areas, guides, middle and circle of a frame.
fn marks(drawing: &mut Drawing, frame: &Deliverable, pen: f32) {
    let geometry = frame.geometry.frame();
    let (width, height) = (drawing.width, drawing.height);
    let area = rect(&geometry.picture_area().rect());
    let masks = [
        [0.0, 0.0, width, area[1]],
        [0.0, area[1] + area[3], width, height - area[1] - area[3]],
        [0.0, area[1], area[0], area[3]],
        [area[0] + area[2], area[1], width - area[0] - area[2], area[3]],
    ];
    for mask in masks.into_iter().filter(|mask| mask[2] > 0.0 && mask[3] > 0.0) {
        drawing.rect(mask, Some(Ink::Black), None);
    }
    edged(drawing, area, Ink::Blue, pen);
    let size = 14.0 * pen;
    for (line, zone) in frame.safe_zones().into_iter().enumerate() {
        let at = rect(&zone.rect);
        drawing.dashed(at, (Ink::Ok, 1.5 * pen));
        // One name below the other, inside the innermost of them.
        let down = area[1].max(at[1]) + size * (1.6 + 1.2 * count(line));
        drawing.label([area[0] + area[2] * 0.06, down], size * 0.8, Face::Words, Ink::Ok, zone.name);
    }
    for (guide, at) in frame.guide_areas() {
        let at = rect(&at.rect());
        drawing.dashed(at, (Ink::Caution, 1.5 * pen));
        drawing.label([at[0] + 6.0 * pen, at[1] + at[3] - 6.0 * pen], size * 0.8, Face::Figures, Ink::Caution, guide);
    }
    let middle = [width / 2.0, height / 2.0];
    cross(drawing, middle, 30.0 * pen, 2.0 * pen);
    #[expect(clippy::cast_possible_truncation, reason = "a drawing is as fine as it is seen")]
    let shape = geometry.pixel_aspect().value().to_f64() as f32;
    let radius = (area[3] * 0.35).min(area[2] * shape * 0.35);
    drawing.ellipse(middle, [radius / shape, radius], Ink::Dark, 2.0 * pen);
}

/// What the frame is and whose picture is in it, in the corner at the lower left, as a title block.
fn words(drawing: &mut Drawing, package: &Package, frame: &Deliverable, of: Option<&str>, pen: f32) {
    let geometry = frame.geometry.frame();
    let area = rect(&geometry.picture_area().rect());
    let (width, size) = (drawing.width, 14.0 * pen);
    let mut words =
        vec![frame.name.as_str().to_owned(), format!("{}x{}", geometry.raster().width(), geometry.raster().height())];
    if let Some(ratio) = frame.geometry.picture_ratio() {
        words.push(format!("picture {}", ratio.text()));
    }
    if let Some(rate) = &frame.rate {
        words.push(format!("{} fps", rate.value().value().to_short_decimal(3)));
    }
    words.extend(of.map(|source| format!("picture of {source}")));
    words.push(package.project.clone());
    for (line, text) in words.iter().rev().enumerate() {
        let name = line + 1 == words.len();
        let (face, large) = if name { (Face::Bold, size * 1.5) } else { (Face::Words, size) };
        let large = large.min(large * width * 0.45 / text_width(text, large, face).max(1.0));
        let at = [area[0] + area[2] * 0.06, area[1] + area[3] * 0.93 - size * 1.5 * count(line)];
        drawing.label(at, large, face, Ink::Dark, text);
    }
}
