//! Plan sheets: dimensioned drawings with their numbers and a title block, and a board of all of them.

use std::sync::Arc;

use ratiomet_core::project::{Package, Packaged, Standing};
use ratiomet_core::space::{Axes, Rect};
use ratiomet_core::words::counted;
use ratiomet_core::{Exact, Severity};

use crate::drawing::{Anchor, Drawing, Ink, count, side};
use crate::face::{Face, fitted, text_width, wrapped};
use crate::progress::{Progress, told};

/// A4 lying, in points (ISO 216).
const PAGE: [f32; 2] = [842.0, 595.0];
const MARGIN: f32 = 24.0;
/// The height of the title block at the foot of a page.
const TITLE: f32 = 42.0;
/// Conversions on a page.
pub(crate) const ON_A_PAGE: usize = 6;
/// The most conversions of which sheets are drawn: some 4,000 pages, that nobody reads and memory holds at once.
pub(crate) const MOST: usize = 24_000;
const ROWS: usize = 21;
/// The most frames on a page of the board.
const COLUMNS: usize = 8;

#[expect(clippy::cast_possible_truncation, reason = "a drawing is as fine as it is seen")]
fn real(value: &Exact) -> f32 {
    value.to_f64() as f32
}

/// The longest side of a picture on a sheet, in pixels.
pub(crate) const SIDE: u32 = 480;

/// Every page: the board first, then the sheets, source by source.
pub(crate) fn pages(package: &Package, progress: Progress<'_>, shown: Shown<'_>) -> Vec<Drawing> {
    let mut pages = board(package);
    pages.extend(points(package));
    for at in told(progress, 0..package.sources.len()) {
        let mine = package.of_source(at);
        for some in mine.chunks(ON_A_PAGE) {
            pages.push(sheet(package, at, some, shown));
        }
    }
    let all = pages.len();
    for (number, page) in pages.iter_mut().enumerate() {
        let text = format!("{} / {all}", number + 1);
        let at = [PAGE[0] - MARGIN - 8.0, PAGE[1] - MARGIN - 8.0];
        page.anchored(at, 8.0, Face::Figures, Ink::Dark, Anchor::End, text);
    }
    pages
}

/// An empty page with its title block, as on an engineering sheet.
fn page(package: &Package, about: &[(&str, String)]) -> Drawing {
    let mut drawing = Drawing::new(PAGE[0], PAGE[1]);
    drawing.rect([0.0, 0.0, PAGE[0], PAGE[1]], Some(Ink::White), None);
    let (width, height) = (PAGE[0] - 2.0 * MARGIN, PAGE[1] - 2.0 * MARGIN);
    drawing.rect([MARGIN, MARGIN, width, height], None, Some((Ink::Dark, 1.0)));
    let top = PAGE[1] - MARGIN - TITLE;
    drawing.line([MARGIN, top], [MARGIN + width, top], Ink::Dark, 1.0);
    let open = if package.is_ready() { "none" } else { "blocking findings: not for delivery" };
    let mut fields = vec![("project", package.project.clone())];
    fields.extend(about.iter().map(|(name, value)| (*name, value.clone())));
    fields.extend([("day", package.day.clone()), ("open stops", open.to_owned()), ("sheet", String::new())]);
    let widths: Vec<f32> = fields
        .iter()
        .map(|(name, _)| match *name {
            "day" | "sheet" => 0.7,
            "project" => 1.3,
            _ => 1.0,
        })
        .collect();
    let whole: f32 = widths.iter().sum();
    let mut x = MARGIN;
    for ((name, value), share) in fields.iter().zip(&widths) {
        let room = width * share / whole;
        drawing.text([x + 6.0, top + 12.0], 6.5, Face::Words, Ink::Muted, *name);
        // A long value is written smaller before it is cut short.
        let size = (10.0 * (room - 12.0) / text_width(value, 10.0, Face::Bold).max(1.0)).clamp(6.5, 10.0);
        drawing.text([x + 6.0, top + 28.0], size, Face::Bold, Ink::Dark, fitted(value, room - 12.0, size, Face::Bold));
        x += room;
        if x < MARGIN + width - 1.0 {
            drawing.line([x, top], [x, top + TITLE], Ink::Dark, 0.6);
        }
    }
    drawing
}

/// The outcome of a conversion as a small picture (JPEG), where sheets are to show it.
pub(crate) type Shown<'a> = &'a dyn Fn(&Packaged) -> Option<Arc<Vec<u8>>>;

/// A source with some of its conversions.
fn sheet(package: &Package, at: usize, some: &[Packaged], shown: Shown<'_>) -> Drawing {
    let footage = package.sources[at].1;
    let raster = footage.geometry.raster();
    let mut about = vec![("source", footage.name.as_str().to_owned())];
    let mut stored = format!("{}x{}", raster.width(), raster.height());
    if footage.geometry.squeeze().text() != "1" {
        stored += &format!(", {}x squeeze", footage.geometry.squeeze().text());
    }
    if footage.geometry.pixel_aspect().text() != "1" {
        stored += &format!(", {} pixels", footage.geometry.pixel_aspect().text());
    }
    if footage.geometry.rotation().degrees() != 0 {
        stored += &format!(", turned {}", footage.geometry.rotation().degrees());
    }
    about.push(("stored", stored));
    about.push(("to type in", package.profile.name.as_str().to_owned()));
    let mut page = page(package, &about);
    let (columns, rows) = match some.len() {
        1 => (1, 1),
        2 => (2, 1),
        3 | 4 => (2, 2),
        _ => (3, 2),
    };
    let width = (PAGE[0] - 2.0 * MARGIN) / count(columns);
    let height = (PAGE[1] - 2.0 * MARGIN - TITLE) / count(rows);
    for (place, packaged) in some.iter().enumerate() {
        let (column, row) = (place % columns, place / columns);
        let (x, y) = (MARGIN + width * count(column), MARGIN + height * count(row));
        page.place(cell(package, packaged, [width, height], shown(packaged)), [x, y]);
        if column > 0 {
            page.line([x, y], [x, y + height], Ink::Faint, 0.6);
        }
        if row > 0 {
            page.line([x, y], [x + width, y], Ink::Faint, 0.6);
        }
    }
    page
}

/// So many lines no text has: it is written whole.
const WHOLE: usize = 1_000;

/// Every open point, whole, with who is affected; those that were accepted last, with the reason.
fn points(package: &Package) -> Vec<Drawing> {
    let open = package.points.iter().filter(|point| point.is_open()).count();
    let accepted = package.points.len() - open;
    let about = [("open points", format!("{}, {accepted} accepted", counted(open, "point")))];
    let (left, right) = (MARGIN + 26.0, PAGE[0] - MARGIN - 8.0);
    let (top, foot) = (MARGIN + 16.0, PAGE[1] - MARGIN - TITLE - 6.0);
    let mut pages: Vec<Drawing> = Vec::new();
    let mut down = foot;
    for point in &package.points {
        let [sources, frames] = package.affected_by(point);
        let mut lines = vec![(point.title.clone(), 8.0, Face::Bold, Ink::Dark)];
        let mut add = |text: &str, ink| {
            let wrapped = wrapped(text, right - left, 7.0, Face::Words, WHOLE);
            lines.extend(wrapped.into_iter().map(|line| (line, 7.0, Face::Words, ink)));
        };
        add(&point.detail, Ink::Dark);
        add(&format!("{} into {}", sources.join(", "), frames.join(", ")), Ink::Muted);
        if let Some(reason) = point.reason() {
            add(&format!("Accepted: {reason}"), Ink::Ok);
        }
        let mut lines = lines.into_iter().peekable();
        // A point stays together where it has room on a page.
        let room: f32 = 6.0 + lines.clone().map(|(_, size, ..)| size * 1.4).sum::<f32>();
        if down + room > foot && room < foot - top {
            down = foot;
        }
        let mut marked = false;
        while let Some((text, size, face, ink)) = lines.next() {
            if down + size * 1.4 > foot {
                pages.push(page(package, &about));
                down = top;
            }
            let Some(page) = pages.last_mut() else { continue };
            down += size * 1.4;
            if !marked {
                let severity = if point.is_open() { Some(point.severity) } else { None };
                severity_mark(page, severity, [MARGIN + 14.0, down - 2.5]);
                marked = true;
            }
            page.text([left, down], size, face, ink, text);
            if lines.peek().is_none() {
                down += 6.0;
                page.line([MARGIN, down], [PAGE[0] - MARGIN, down], Ink::Faint, 0.5);
            }
        }
    }
    pages
}

/// The dimensioned drawing of a conversion and the numbers that are typed elsewhere.
fn cell(package: &Package, packaged: &Packaged, [width, height]: [f32; 2], picture: Option<Arc<Vec<u8>>>) -> Drawing {
    let frame = package.frame_of(packaged);
    let mut drawing = Drawing::new(width, height);
    let raster = frame.geometry.frame().raster();
    let head = format!("{}  {}x{}", frame.name.as_str(), raster.width(), raster.height());
    drawing.text([8.0, 14.0], 9.0, Face::Bold, Ink::Dark, fitted(&head, width * 0.62, 9.0, Face::Bold));
    let method = format!(
        "{}, kept {} %",
        packaged.conversion.framing.method.word(),
        (&packaged.conversion.plan.kept * Exact::whole(100)).to_short_decimal(1)
    );
    drawing.anchored([width - 8.0, 14.0], 7.5, Face::Words, Ink::Muted, Anchor::End, method);
    let size = 6.6;
    let indent = 74.0;
    let mut lines = lines(package, packaged);
    let signal = ("signal", crate::typed::signal(package, packaged), Ink::Dark);
    let file = crate::typed::file(package, packaged).map(|words| ("file", words, Ink::Dark));
    let taken = packaged.conversion.taken.as_ref().map(|taken| ("taken", taken.words(), Ink::Dark));
    for (mark, text, ink) in std::iter::once(signal).chain(file).chain(taken).chain(notes(packaged)) {
        let some = wrapped(&text, width - indent - 8.0, size, Face::Words, WHOLE);
        let marks = std::iter::once(mark).chain(std::iter::repeat(""));
        lines.extend(marks.zip(some).map(|(mark, text)| (mark, text, Face::Words, ink)));
    }
    let room = size * 1.35 * count(lines.len()) + 6.0;
    let upper = [24.0, 24.0, width - 40.0, (height - room - 34.0).max(40.0)];
    place(&mut drawing, packaged, frame.geometry.frame(), upper, picture);
    let top = height - room;
    for (line, (name, value, face, ink)) in lines.iter().enumerate() {
        let down = top + size * 1.35 * (count(line) + 0.8);
        drawing.text([8.0, down], size, Face::Words, *ink, *name);
        drawing.text([indent, down], size, *face, *ink, fitted(value, width - indent - 6.0, size, *face));
    }
    drawing
}

type NumberLine = (&'static str, String, Face, Ink);

fn lines(package: &Package, packaged: &Packaged) -> Vec<NumberLine> {
    let plan = &packaged.conversion.plan;
    fn pair<U>(axes: &Axes<U>, places: u32, unit: &str) -> String {
        let (x, y) = (axes.x.to_short_decimal(places), axes.y.to_short_decimal(places));
        if x == y { format!("{x}{unit}") } else { format!("{x}{unit} x, {y}{unit} y") }
    }
    let mut lines = crate::typed::lines(package, packaged);
    lines.push(("percent of native", pair(&plan.dial.native_percent, 4, " %")));
    if let Some(Rect { x, y, size, .. }) = &plan.window {
        let text = |value: &Exact| value.to_short_decimal(2);
        lines.push((
            "stored window",
            format!("{} x {} at {}, {}", text(&size.width), text(&size.height), text(x), text(y)),
        ));
    }
    lines.into_iter().map(|(name, value)| (name, value, Face::Figures, Ink::Dark)).collect()
}

/// What has to be known of it: cautions and stops, the heaviest first.
fn notes(packaged: &Packaged) -> Vec<(&'static str, String, Ink)> {
    let mut findings: Vec<_> = packaged.findings.iter().filter(|finding| finding.severity > Severity::Note).collect();
    findings.sort_by_key(|finding| std::cmp::Reverse(finding.severity));
    let note = |finding: &Standing| {
        let (mark, ink) =
            if finding.severity == Severity::Stop { ("stop", Ink::Cut) } else { ("caution", Ink::Caution) };
        match &finding.accepted {
            Some(reason) => (mark, format!("{} Accepted: {reason}", finding.message), Ink::Muted),
            None => (mark, finding.message.clone(), ink),
        }
    };
    findings.into_iter().map(note).collect()
}

/// The frame at true proportion: what is cut hatched, bars in ink, a circle, and its dimensions.
fn place(
    drawing: &mut Drawing,
    packaged: &Packaged,
    frame: &ratiomet_core::DeliveryFrame,
    [left, top, across, down]: [f32; 4],
    picture: Option<Arc<Vec<u8>>>,
) {
    let plan = &packaged.conversion.plan;
    let pixel = real(frame.pixel_aspect().value());
    let raster = frame.raster();
    let (width, height) = (side(raster.width()), side(raster.height()));
    // What lies around the frame is drawn as far as it is as large again.
    let image = [&plan.image.x, &plan.image.y, &plan.image.size.width, &plan.image.size.height].map(real);
    let low = [image[0].max(-width * 0.5).min(0.0), image[1].max(-height * 0.5).min(0.0)];
    let high = [(image[0] + image[2]).min(width * 1.5).max(width), (image[1] + image[3]).min(height * 1.5).max(height)];
    let (room_across, room_down) = (across - 14.0, down - 14.0);
    let scale = (room_across / ((high[0] - low[0]) * pixel)).min(room_down / (high[1] - low[1]));
    let (sx, sy) = (scale * pixel, scale);
    let origin = [
        left + 14.0 + (room_across - (high[0] - low[0]) * sx) / 2.0 - low[0] * sx,
        top + 14.0 + (room_down - (high[1] - low[1]) * sy) / 2.0 - low[1] * sy,
    ];
    let at = |[x, y, w, h]: [f32; 4]| [origin[0] + x * sx, origin[1] + y * sy, w * sx, h * sy];
    let seen = [image[0].max(low[0]), image[1].max(low[1])];
    let seen =
        [seen[0], seen[1], (image[0] + image[2]).min(high[0]) - seen[0], (image[1] + image[3]).min(high[1]) - seen[1]];
    if seen[2] > 0.0 && seen[3] > 0.0 {
        drawing.hatch(at(seen), 4.0, Ink::Cut);
        drawing.rect(at(seen), None, Some((Ink::Cut, 0.5)));
    }
    drawing.rect(at([0.0, 0.0, width, height]), Some(Ink::Bars), None);
    let area = frame.picture_area();
    let area = [area.x, area.y, area.width, area.height].map(side);
    let inner = [image[0].max(area[0]), image[1].max(area[1])];
    let inner = [
        inner[0],
        inner[1],
        (image[0] + image[2]).min(area[0] + area[2]) - inner[0],
        (image[1] + image[3]).min(area[1] + area[3]) - inner[1],
    ];
    if inner[2] > 0.0 && inner[3] > 0.0 {
        let inner = at(inner);
        let pictured = picture.is_some();
        match picture {
            Some(jpeg) => drawing.picture(at([0.0, 0.0, width, height]), jpeg),
            None => drawing.rect(inner, Some(Ink::Wash), Some((Ink::Blue, 0.8))),
        }
        let round = 1.0 + real(&plan.distortion);
        let radius = (inner[3] * 0.3).min(inner[2] * 0.3 / round.max(0.01));
        // Over a picture only where it tells something: whoever looks sees whether it is round.
        if !pictured || !plan.distortion.is_zero() {
            let middle = [inner[0] + inner[2] / 2.0, inner[1] + inner[3] / 2.0];
            drawing.ellipse(middle, [radius * round, radius], Ink::Blue, 0.6);
        }
    }
    let whole = at([0.0, 0.0, width, height]);
    drawing.rect(whole, None, Some((Ink::Dark, 1.0)));
    let (above, before) = (whole[1] - 6.0, whole[0] - 7.0);
    drawing.dimension([whole[0], above], [whole[0] + whole[2], above], &raster.width().to_string(), 6.5, Ink::Dark);
    // The figure of the height stands beside its line, where there is no room to turn it.
    drawing.line([before, whole[1]], [before, whole[1] + whole[3]], Ink::Dark, 0.5);
    drawing.line([before - 2.0, whole[1]], [before + 2.0, whole[1]], Ink::Dark, 0.5);
    drawing.line([before - 2.0, whole[1] + whole[3]], [before + 2.0, whole[1] + whole[3]], Ink::Dark, 0.5);
    let figure = raster.height().to_string();
    let half = text_width(&figure, 6.5, Face::Figures) / 2.0;
    drawing.rect([before - half - 1.0, whole[1] + whole[3] / 2.0 - 4.0, half * 2.0 + 2.0, 8.0], Some(Ink::White), None);
    drawing.anchored([before, whole[1] + whole[3] / 2.0 + 2.4], 6.5, Face::Figures, Ink::Dark, Anchor::Middle, figure);
}

/// Sources down, frames across: how large, how much is kept, and what stands.
fn board(package: &Package) -> Vec<Drawing> {
    let mut pages = Vec::new();
    for (from, some) in package.sources.chunks(ROWS).enumerate() {
        for (column, frames) in package.frames.chunks(COLUMNS).enumerate() {
            let mut page = page(
                package,
                &[(
                    "summary",
                    format!("{}, {}", counted(package.sources.len(), "source"), counted(package.frames.len(), "frame")),
                )],
            );
            let first = 126.0;
            let each = (PAGE[0] - 2.0 * MARGIN - first) / count(package.frames.len().clamp(4, COLUMNS));
            let row = (PAGE[1] - 2.0 * MARGIN - TITLE - 34.0) / count(ROWS);
            for (at, (_, frame)) in frames.iter().enumerate() {
                let x = MARGIN + first + each * count(at);
                let raster = frame.geometry.frame().raster();
                page.text(
                    [x + 4.0, MARGIN + 14.0],
                    7.5,
                    Face::Bold,
                    Ink::Dark,
                    fitted(frame.name.as_str(), each - 8.0, 7.5, Face::Bold),
                );
                page.text(
                    [x + 4.0, MARGIN + 26.0],
                    7.0,
                    Face::Figures,
                    Ink::Muted,
                    format!("{}x{}", raster.width(), raster.height()),
                );
            }
            for (line, (_, source)) in some.iter().enumerate() {
                let y = MARGIN + 34.0 + row * count(line);
                page.line([MARGIN, y], [PAGE[0] - MARGIN, y], Ink::Faint, 0.5);
                let middle = y + row * 0.65;
                page.text(
                    [MARGIN + 6.0, middle],
                    7.5,
                    Face::Bold,
                    Ink::Dark,
                    fitted(source.name.as_str(), first - 10.0, 7.5, Face::Bold),
                );
                let mine = package.of_source(from * ROWS + line);
                for (at, packaged) in mine.iter().skip(column * COLUMNS).take(frames.len()).enumerate() {
                    let x = MARGIN + first + each * count(at);
                    mark(&mut page, packaged, [x + 8.0, middle - 2.5]);
                    let plan = &packaged.conversion.plan;
                    let percent = plan.dial.native_percent.x.to_short_decimal(1);
                    let kept = (&plan.kept * Exact::whole(100)).to_short_decimal(0);
                    page.text(
                        [x + 16.0, middle],
                        6.4,
                        Face::Figures,
                        Ink::Dark,
                        fitted(&format!("{percent}% keeps {kept}%"), each - 18.0, 6.4, Face::Figures),
                    );
                }
            }
            pages.push(page);
        }
    }
    pages
}

/// What stands open of a conversion.
fn mark(page: &mut Drawing, packaged: &Packaged, at: [f32; 2]) {
    let open = packaged.findings.iter().filter(|finding| finding.accepted.is_none());
    severity_mark(page, open.map(|finding| finding.severity).max(), at);
}

/// A ring for clean, a triangle for caution, a square for stop: shape and colour say the same.
fn severity_mark(page: &mut Drawing, severity: Option<Severity>, [x, y]: [f32; 2]) {
    match severity {
        Some(Severity::Stop) => page.rect([x - 2.5, y - 2.5, 5.0, 5.0], Some(Ink::Cut), None),
        Some(Severity::Caution) => {
            let (top, left, right) = ([x, y - 3.0], [x - 3.0, y + 2.5], [x + 3.0, y + 2.5]);
            for (from, to) in [(top, left), (left, right), (right, top)] {
                page.line(from, to, Ink::Caution, 0.9);
            }
        }
        _ => page.ellipse([x, y], [2.5, 2.5], Ink::Ok, 0.9),
    }
}
