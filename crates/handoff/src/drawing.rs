//! [`Drawing`]: lines, rectangles, circles and words on a sheet, for every kind of paper.

use std::fmt::{self, Display, Formatter};
use std::sync::Arc;

use crate::face::{Face, cleaned, text_width};

/// The inks of the drawing office.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Ink {
    Dark,
    Muted,
    Faint,
    Blue,
    Wash,
    Cut,
    Ok,
    Caution,
    Bars,
    /// What a picture has where there is none: bars of charts are not ink.
    Black,
    White,
}

impl Ink {
    pub const ALL: [Self; 11] = [
        Self::Dark,
        Self::Muted,
        Self::Faint,
        Self::Blue,
        Self::Wash,
        Self::Cut,
        Self::Ok,
        Self::Caution,
        Self::Bars,
        Self::Black,
        Self::White,
    ];

    pub const fn rgb(self) -> [u8; 3] {
        match self {
            Self::Dark => [0x1D, 0x2A, 0x33],
            Self::Muted => [0x5A, 0x66, 0x6E],
            Self::Faint => [0xC9, 0xC7, 0xBD],
            Self::Blue => [0x23, 0x57, 0x7F],
            Self::Wash => [0xDC, 0xE7, 0xEC],
            Self::Cut => [0xC4, 0x47, 0x2B],
            Self::Ok => [0x2F, 0x7A, 0x58],
            Self::Caution => [0xA9, 0x69, 0x0A],
            Self::Bars => [0x1A, 0x22, 0x28],
            Self::Black => [0, 0, 0],
            Self::White => [0xFF, 0xFF, 0xFF],
        }
    }
}

/// As styles name it.
impl Display for Ink {
    fn fmt(&self, out: &mut Formatter<'_>) -> fmt::Result {
        let [r, g, b] = self.rgb();
        write!(out, "#{r:02x}{g:02x}{b:02x}")
    }
}

/// A side of a frame as a length of a drawing.
#[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 pixels, which are exact")]
pub(crate) const fn side(pixels: u32) -> f32 {
    pixels as f32
}

/// So many of something on a sheet.
#[expect(clippy::cast_precision_loss, reason = "rows and columns of a sheet are few")]
pub(crate) const fn count(number: usize) -> f32 {
    number as f32
}

/// Where a text stands against its point.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Anchor {
    Start,
    Middle,
    End,
}

#[derive(Clone, Debug)]
pub(crate) enum Item {
    Rect {
        at: [f32; 4],
        fill: Option<Ink>,
        stroke: Option<(Ink, f32)>,
        dashed: bool,
    },
    Line {
        from: [f32; 2],
        to: [f32; 2],
        ink: Ink,
        width: f32,
    },
    Ellipse {
        centre: [f32; 2],
        radius: [f32; 2],
        ink: Ink,
        width: f32,
    },
    Text {
        at: [f32; 2],
        size: f32,
        face: Face,
        ink: Ink,
        anchor: Anchor,
        text: String,
    },
    /// A picture (JPEG) that fills a rectangle; pale where lines and words stand on it.
    Picture {
        at: [f32; 4],
        jpeg: Arc<Vec<u8>>,
        pale: bool,
    },
}

/// How much of a pale picture is seen on the white behind it.
pub(crate) const PALE: f32 = 0.4;

#[derive(Clone, Debug)]
pub(crate) struct Drawing {
    pub width: f32,
    pub height: f32,
    pub items: Vec<Item>,
    /// Whether what is not drawn on is seen through.
    pub clear: bool,
}

impl Drawing {
    pub fn new(width: f32, height: f32) -> Self {
        Self { width, height, items: Vec::new(), clear: false }
    }

    /// The faces that drawings need, in order: all, or all but the spare one, which is the last.
    pub fn faces(drawings: &[Self]) -> &'static [Face] {
        let spare = |item: &Item| matches!(item, Item::Text { face, text, .. } if face.needs_spare(text));
        let needed = drawings.iter().any(|drawing| drawing.items.iter().any(spare));
        if needed { &Face::ALL } else { &Face::ALL[..4] }
    }

    /// A rectangle: left, top, width, height.
    pub fn rect(&mut self, at: [f32; 4], fill: Option<Ink>, stroke: Option<(Ink, f32)>) {
        self.items.push(Item::Rect { at, fill, stroke, dashed: false });
    }

    pub fn picture(&mut self, at: [f32; 4], jpeg: Arc<Vec<u8>>) {
        self.items.push(Item::Picture { at, jpeg, pale: false });
    }

    /// A picture that fills everything, as the ground of what is drawn.
    pub fn behind(&mut self, jpeg: Arc<Vec<u8>>) {
        self.items.push(Item::Picture { at: [0.0, 0.0, self.width, self.height], jpeg, pale: true });
    }

    /// Whether there are pictures in it.
    pub fn has_pictures(&self) -> bool {
        self.items.iter().any(|item| matches!(item, Item::Picture { .. }))
    }

    pub fn dashed(&mut self, at: [f32; 4], stroke: (Ink, f32)) {
        self.items.push(Item::Rect { at, fill: None, stroke: Some(stroke), dashed: true });
    }

    pub fn line(&mut self, from: [f32; 2], to: [f32; 2], ink: Ink, width: f32) {
        self.items.push(Item::Line { from, to, ink, width });
    }

    pub fn ellipse(&mut self, centre: [f32; 2], radius: [f32; 2], ink: Ink, width: f32) {
        self.items.push(Item::Ellipse { centre, radius, ink, width });
    }

    pub fn text(&mut self, at: [f32; 2], size: f32, face: Face, ink: Ink, text: impl Into<String>) {
        self.anchored(at, size, face, ink, Anchor::Start, text);
    }

    pub fn anchored(&mut self, at: [f32; 2], size: f32, face: Face, ink: Ink, anchor: Anchor, text: impl Into<String>) {
        let text = cleaned(&text.into());
        self.items.push(Item::Text { at, size, face, ink, anchor, text });
    }

    /// A text on white, where lines run behind it.
    pub fn label(&mut self, [x, y]: [f32; 2], size: f32, face: Face, ink: Ink, text: impl Into<String>) {
        let text: String = text.into();
        let width = text_width(&text, size, face);
        self.rect([x - size * 0.2, y - size, width + size * 0.4, size * 1.35], Some(Ink::White), None);
        self.text([x, y], size, face, ink, text);
    }

    /// Slanted lines over a rectangle: what is cut away.
    pub fn hatch(&mut self, [x, y, width, height]: [f32; 4], apart: f32, ink: Ink) {
        let mut along = apart;
        while along < width + height && width > 0.0 && height > 0.0 {
            let from = if along <= height { [x, y + along] } else { [x + along - height, y + height] };
            let to = if along <= width { [x + along, y] } else { [x + width, y + along - width] };
            self.line(from, to, ink, 0.4);
            along += apart;
        }
    }

    /// A dimension line with arrows and its figure, along an edge.
    pub fn dimension(&mut self, from: [f32; 2], to: [f32; 2], figure: &str, size: f32, ink: Ink) {
        self.line(from, to, ink, 0.5);
        let across = (from[1] - to[1]).abs() < 0.01;
        let tip = 3.0;
        for (end, way) in [(from, 1.0), (to, -1.0)] {
            let wings = if across {
                [[end[0] + way * tip, end[1] - 1.2], [end[0] + way * tip, end[1] + 1.2]]
            } else {
                [[end[0] - 1.2, end[1] + way * tip], [end[0] + 1.2, end[1] + way * tip]]
            };
            for wing in wings {
                self.line(end, wing, ink, 0.5);
            }
        }
        let middle = [(from[0] + to[0]) / 2.0, (from[1] + to[1]) / 2.0];
        let half = text_width(figure, size, Face::Figures) / 2.0 + 2.0;
        let background = [middle[0] - half, middle[1] - size * 0.6, half * 2.0, size * 1.2];
        self.rect(background, Some(Ink::White), None);
        self.anchored([middle[0], middle[1] + size * 0.35], size, Face::Figures, ink, Anchor::Middle, figure);
    }

    /// Puts a smaller drawing at a place.
    pub fn place(&mut self, other: Self, [x, y]: [f32; 2]) {
        let moved = other.items.into_iter().map(|item| match item {
            Item::Rect { at: [left, top, width, height], fill, stroke, dashed } => {
                Item::Rect { at: [left + x, top + y, width, height], fill, stroke, dashed }
            }
            Item::Line { from, to, ink, width } => {
                Item::Line { from: [from[0] + x, from[1] + y], to: [to[0] + x, to[1] + y], ink, width }
            }
            Item::Ellipse { centre, radius, ink, width } => {
                Item::Ellipse { centre: [centre[0] + x, centre[1] + y], radius, ink, width }
            }
            Item::Text { at, size, face, ink, anchor, text } => {
                Item::Text { at: [at[0] + x, at[1] + y], size, face, ink, anchor, text }
            }
            Item::Picture { at: [left, top, width, height], jpeg, pale } => {
                Item::Picture { at: [left + x, top + y, width, height], jpeg, pale }
            }
        });
        self.items.extend(moved);
    }
}
