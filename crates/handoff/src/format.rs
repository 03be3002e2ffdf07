//! [`Format`]: what can be written.

use ratiomet_wire::describe::words;

/// What can be written.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Format {
    /// Plan sheets and a board as one page for browsers, which prints as pages.
    Html,
    /// The same as PDF.
    Pdf,
    /// Every number for spreadsheets.
    Csv,
    /// Every number for programs, exact.
    Json,
    /// ASC Framing Decision List.
    Fdl,
    /// OpenTimelineIO.
    Otio,
    /// Framing charts and leaders as SVG.
    ChartsSvg,
    /// The same as PNG at true size.
    ChartsPng,
    /// Recipes as a shell script and a list.
    Recipes,
    /// What streams are to signal.
    Signals,
    /// Each conversion carried out on the still of its source, as PNG.
    Outcomes,
}

impl Format {
    /// Every format.
    pub const ALL: [Self; 11] = [
        Self::Html,
        Self::Pdf,
        Self::Csv,
        Self::Json,
        Self::Fdl,
        Self::Otio,
        Self::ChartsSvg,
        Self::ChartsPng,
        Self::Recipes,
        Self::Signals,
        Self::Outcomes,
    ];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Html => "html",
            Self::Pdf => "pdf",
            Self::Csv => "csv",
            Self::Json => "json",
            Self::Fdl => "fdl",
            Self::Otio => "otio",
            Self::ChartsSvg => "charts_svg",
            Self::ChartsPng => "charts_png",
            Self::Recipes => "recipes",
            Self::Signals => "signals",
            Self::Outcomes => "outcomes",
        }
    }

    /// What is written when nobody says what: all but the pictures, which are many and large.
    pub fn usual() -> Vec<Self> {
        Self::ALL.into_iter().filter(|format| *format != Self::Outcomes).collect()
    }

    /// The formats that are asked for, in their order, each once.
    pub(crate) fn of(asked: &[Self]) -> impl Iterator<Item = Self> {
        Self::ALL.into_iter().filter(|format| asked.contains(format))
    }
}

words!(
    /// What can be written.
    "HandoffFormat" for Format, Format::ALL, Format::word
);
