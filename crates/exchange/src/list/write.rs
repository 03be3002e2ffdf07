//! Sources as a list that a spreadsheet opens and that can be pasted back.

use ratiomet_core::Insets;
use ratiomet_core::project::{Aspect, Footage};
use ratiomet_core::signal::{Scan, SignalRange};

const HEADINGS: [&str; 13] = [
    "name",
    "size",
    "pixel aspect",
    "squeeze",
    "insets",
    "rotation",
    "rate",
    "scan",
    "signal range",
    "projection",
    "subject",
    "note",
    "shows",
];

/// A cell that no spreadsheet runs: an apostrophe stands before what would be a formula. Plain
/// numbers, negative ones too, stay as they are.
///
/// ```
/// # use ratiomet_exchange::list::neutral;
/// assert_eq!(neutral("=1+2"), "'=1+2");
/// assert_eq!(neutral("-12.5"), "-12.5");
/// assert_eq!(neutral("-12.5+cmd"), "'-12.5+cmd");
/// ```
pub fn neutral(cell: &str) -> String {
    let number = |text: &str| {
        !text.is_empty()
            && text.bytes().all(|byte| byte.is_ascii_digit() || byte == b'.')
            && text.matches('.').count() <= 1
            && text != "."
    };
    let plain = number(cell.strip_prefix(['-', '+']).unwrap_or(cell));
    let runs = cell.starts_with(['=', '+', '-', '@', '\t', '\r', '\n']) && !plain;
    // What is protected already is protected once more, so that reading takes off exactly one.
    let again = cell.strip_prefix('\'').is_some_and(|rest| rest.starts_with(['=', '+', '-', '@', '\'']));
    if runs || again { format!("'{cell}") } else { cell.to_owned() }
}

/// The sources as CSV (RFC 4180, UTF-8, headings in the first row).
///
/// # Panics
/// Never: memory takes all that is written.
pub fn sources_csv<'a>(sources: impl IntoIterator<Item = &'a Footage>) -> String {
    let mut writer = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    writer.write_record(HEADINGS).expect("memory takes all that is written");
    for footage in sources {
        let geometry = &footage.geometry;
        let Insets { left, top, right, bottom } = geometry.insets();
        let upright = geometry.source().upright();
        let cells = [
            footage.name.as_str().to_owned(),
            format!("{}x{}", geometry.raster().width(), geometry.raster().height()),
            geometry.pixel_aspect().text().to_owned(),
            geometry.squeeze().text().to_owned(),
            format!("{left}/{top}/{right}/{bottom}"),
            geometry.rotation().degrees().to_string(),
            footage.rate.as_ref().map(|rate| rate.text().to_owned()).unwrap_or_default(),
            footage.scan.map(Scan::word).unwrap_or_default().to_owned(),
            footage.signal_range.map(SignalRange::word).unwrap_or_default().to_owned(),
            footage.written(Aspect::Projection),
            footage.subject.as_ref().map(|subject| subject.texts().join(" ")).unwrap_or_default(),
            footage.note.as_str().to_owned(),
            (&upright.width / &upright.height).to_decimal(4),
        ];
        writer.write_record(cells.iter().map(|cell| neutral(cell))).expect("memory takes all that is written");
    }
    let bytes = writer.into_inner().expect("memory takes all that is written");
    String::from_utf8(bytes).expect("cells are text")
}
