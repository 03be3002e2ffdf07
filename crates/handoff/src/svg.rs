//! Drawings as SVG: shapes and words, nothing active.

use std::fmt::{self, Display, Formatter, Write};

use base64::Engine;

use crate::drawing::{Anchor, Drawing, Item, PALE};
use crate::face::{Face, parts, text_width};

/// Text as it stands in XML.
pub(crate) fn escaped(text: &str) -> String {
    let mut safe = String::with_capacity(text.len());
    for each in text.chars() {
        match each {
            '&' => safe.push_str("&amp;"),
            '<' => safe.push_str("&lt;"),
            '>' => safe.push_str("&gt;"),
            '"' => safe.push_str("&quot;"),
            '\'' => safe.push_str("&#39;"),
            // XML 1.0 has no place for these.
            each if each.is_control() || matches!(each, '\u{fffe}' | '\u{ffff}') => safe.push(' '),
            each => safe.push(each),
        }
    }
    safe
}

/// A number with as many places as are seen: hundredths.
struct Short(f32);

impl Display for Short {
    fn fmt(&self, out: &mut Formatter<'_>) -> fmt::Result {
        #[expect(clippy::cast_possible_truncation, reason = "a drawing is at most some hundred thousand wide")]
        let hundredths = (f64::from(self.0) * 100.0).round_ties_even() as i64;
        if hundredths < 0 {
            out.write_char('-')?;
        }
        let (whole, rest) = (hundredths.unsigned_abs() / 100, hundredths.unsigned_abs() % 100);
        write!(out, "{whole}")?;
        match (rest / 10, rest % 10) {
            (0, 0) => Ok(()),
            (tenths, 0) => write!(out, ".{tenths}"),
            (tenths, last) => write!(out, ".{tenths}{last}"),
        }
    }
}

/// The drawing as an SVG document of its size in pixels.
pub(crate) fn document(drawing: &Drawing) -> String {
    let mut out = String::with_capacity(256 + drawing.items.len() * 128);
    write(drawing, &mut out).expect("a text takes what is written");
    out
}

fn write(drawing: &Drawing, out: &mut String) -> fmt::Result {
    let (width, height) = (Short(drawing.width), Short(drawing.height));
    write!(out, "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width}\" height=\"{height}\" ")?;
    writeln!(out, "viewBox=\"0 0 {width} {height}\">")?;
    for item in &drawing.items {
        match item {
            Item::Rect { at, fill, stroke, dashed } => {
                let [x, y, width, height] = at.map(Short);
                write!(out, "<rect x=\"{x}\" y=\"{y}\" width=\"{width}\" height=\"{height}\" fill=\"")?;
                match fill {
                    Some(ink) => write!(out, "{ink}\"")?,
                    None => out.push_str("none\""),
                }
                if let Some((ink, width)) = stroke {
                    write!(out, " stroke=\"{ink}\" stroke-width=\"{}\"", Short(*width))?;
                    if *dashed {
                        write!(out, " stroke-dasharray=\"{} {}\"", Short(width * 5.0), Short(width * 3.0))?;
                    }
                }
                out.push_str("/>\n");
            }
            Item::Line { from, to, ink, width } => {
                let ([x1, y1], [x2, y2], width) = (from.map(Short), to.map(Short), Short(*width));
                write!(out, "<line x1=\"{x1}\" y1=\"{y1}\" x2=\"{x2}\" y2=\"{y2}\" ")?;
                writeln!(out, "stroke=\"{ink}\" stroke-width=\"{width}\"/>")?;
            }
            Item::Ellipse { centre, radius, ink, width } => {
                let ([cx, cy], [rx, ry], width) = (centre.map(Short), radius.map(Short), Short(*width));
                write!(out, "<ellipse cx=\"{cx}\" cy=\"{cy}\" rx=\"{rx}\" ry=\"{ry}\" fill=\"none\" ")?;
                writeln!(out, "stroke=\"{ink}\" stroke-width=\"{width}\"/>")?;
            }
            Item::Picture { at, jpeg, pale } => {
                let [x, y, width, height] = at.map(Short);
                let data = base64::engine::general_purpose::STANDARD.encode(jpeg.as_slice());
                write!(out, "<image x=\"{x}\" y=\"{y}\" width=\"{width}\" height=\"{height}\" ")?;
                if *pale {
                    write!(out, "opacity=\"{PALE}\" ")?;
                }
                writeln!(out, "preserveAspectRatio=\"none\" href=\"data:image/jpeg;base64,{data}\"/>")?;
            }
            Item::Text { at, size, face, ink, anchor, text } => {
                // As wide as it was laid out, whatever face whoever shows it has.
                let length = Short(text_width(text, *size, *face));
                let ([x, y], size, (family, weight)) = (at.map(Short), Short(*size), face.css());
                let anchor = match anchor {
                    Anchor::Start => "start",
                    Anchor::Middle => "middle",
                    Anchor::End => "end",
                };
                write!(out, "<text x=\"{x}\" y=\"{y}\" font-family=\"{family}")?;
                if face.needs_spare(text) {
                    write!(out, ", {}", Face::Spare.css().0)?;
                }
                write!(out, "\" font-weight=\"{weight}\" font-size=\"{size}\" fill=\"{ink}\" ")?;
                write!(out, "text-anchor=\"{anchor}\" textLength=\"{length}\" lengthAdjust=\"spacingAndGlyphs\">")?;
                for (_, part) in parts(text, *face) {
                    out.push_str(&escaped(&part));
                }
                out.push_str("</text>\n");
            }
        }
    }
    out.push_str("</svg>\n");
    Ok(())
}
