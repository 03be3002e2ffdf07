//! Drawings as SVG: shapes and words, nothing active.

use crate::drawing::{Anchor, Drawing, Item};
use crate::face::{Face, parts};

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

/// A number with as many places as are seen.
fn short(value: f32) -> String {
    let text = format!("{value:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// The drawing as an SVG document of its size in pixels.
pub(crate) fn document(drawing: &Drawing) -> String {
    let (width, height) = (short(drawing.width), short(drawing.height));
    format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width}\" height=\"{height}\" viewBox=\"0 0 {width} {height}\">\n{}</svg>\n",
        body(drawing)
    )
}

/// Its shapes alone.
fn body(drawing: &Drawing) -> String {
    let mut out = String::new();
    for item in &drawing.items {
        out += &match item {
            Item::Rect { at: [x, y, width, height], fill, stroke, dashed } => {
                let fill = fill.map_or_else(|| "none".to_owned(), |ink| ink.hex());
                let stroke = stroke.map_or_else(String::new, |(ink, width)| {
                    let dash = if *dashed {
                        format!(" stroke-dasharray=\"{} {}\"", short(width * 5.0), short(width * 3.0))
                    } else {
                        String::new()
                    };
                    format!(" stroke=\"{}\" stroke-width=\"{}\"{dash}", ink.hex(), short(width))
                });
                format!(
                    "<rect x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" fill=\"{fill}\"{stroke}/>\n",
                    short(*x),
                    short(*y),
                    short(*width),
                    short(*height)
                )
            }
            Item::Line { from, to, ink, width } => format!(
                "<line x1=\"{}\" y1=\"{}\" x2=\"{}\" y2=\"{}\" stroke=\"{}\" stroke-width=\"{}\"/>\n",
                short(from[0]),
                short(from[1]),
                short(to[0]),
                short(to[1]),
                ink.hex(),
                short(*width)
            ),
            Item::Ellipse { centre, radius, ink, width } => format!(
                "<ellipse cx=\"{}\" cy=\"{}\" rx=\"{}\" ry=\"{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"{}\"/>\n",
                short(centre[0]),
                short(centre[1]),
                short(radius[0]),
                short(radius[1]),
                ink.hex(),
                short(*width)
            ),
            Item::Text { at, size, face, ink, anchor, text } => {
                let (family, weight) = face.css();
                let spare = if face.needs_spare(text) { format!(", {}", Face::Spare.css().0) } else { String::new() };
                let shown: String = parts(text, *face).into_iter().map(|(_, part)| part).collect();
                let anchor = match anchor {
                    Anchor::Start => "start",
                    Anchor::Middle => "middle",
                    Anchor::End => "end",
                };
                format!(
                    "<text x=\"{}\" y=\"{}\" font-family=\"{family}{spare}\" font-weight=\"{weight}\" font-size=\"{}\" fill=\"{}\" text-anchor=\"{anchor}\">{}</text>\n",
                    short(at[0]),
                    short(at[1]),
                    short(*size),
                    ink.hex(),
                    escaped(&shown)
                )
            }
        };
    }
    out
}
