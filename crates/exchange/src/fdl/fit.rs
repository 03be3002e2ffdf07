//! [`Fit`]: how a template lays what it takes of a canvas into its frame.

use ratiomet_core::Exact;
use ratiomet_core::space::{Rect, Size, Stored};
use serde_json::Value;

/// Which part of a canvas a template takes.
#[derive(Clone, Copy, Default, PartialEq, Eq)]
pub(super) enum Takes {
    #[default]
    Decision,
    Protection,
    Effective,
    Canvas,
}

/// What of that part is as large as the frame.
#[derive(Clone, Copy, Default, PartialEq, Eq)]
enum Method {
    /// The part is seen whole.
    #[default]
    All,
    /// The frame is filled by it.
    Fill,
    Width,
    Height,
}

/// Where the part lies along an axis when the other one is fitted.
#[derive(Clone, Copy, Default, PartialEq, Eq)]
enum Aligned {
    Start,
    #[default]
    Middle,
    End,
}

impl Aligned {
    /// Where a stretch begins that is put to one that is longer or shorter.
    fn start(self, start: &Exact, length: &Exact, shown: &Exact) -> Exact {
        let over = length - shown;
        match self {
            Self::Start => start.clone(),
            Self::Middle => start + over.half(),
            Self::End => start + over,
        }
    }
}

/// How a template lays what it takes of a canvas into its frame.
#[derive(Clone, Copy, Default, PartialEq, Eq)]
pub(super) struct Fit {
    pub takes: Takes,
    method: Method,
    across: Aligned,
    down: Aligned,
}

impl Fit {
    /// What a template says, and in words what of it is not understood.
    pub(super) fn of(template: &Value) -> (Self, Vec<String>) {
        let mut unknown = Vec::new();
        let mut word = |field: &str, what: &str, known: &[&str]| {
            let said = template[field].as_str().filter(|said| !said.is_empty())?;
            let place = known.iter().position(|word| *word == said);
            if place.is_none() {
                unknown.push(format!("{what} {said}"));
            }
            place
        };
        let takes = match word(
            "fit_source",
            "fit source",
            &[
                "framing_decision.dimensions",
                "framing_decision.protection_dimensions",
                "canvas.effective_dimensions",
                "canvas.dimensions",
            ],
        ) {
            Some(1) => Takes::Protection,
            Some(2) => Takes::Effective,
            Some(3) => Takes::Canvas,
            _ => Takes::Decision,
        };
        let method = match word("fit_method", "fit method", &["fit_all", "fill", "width", "height"]) {
            Some(1) => Method::Fill,
            Some(2) => Method::Width,
            Some(3) => Method::Height,
            _ => Method::All,
        };
        let mut aligned = |field: &str, ends: [&str; 2]| match word(field, "alignment", &["center", ends[0], ends[1]]) {
            Some(1) => Aligned::Start,
            Some(2) => Aligned::End,
            _ => Aligned::Middle,
        };
        let across = aligned("alignment_method_horizontal", ["left", "right"]);
        let down = aligned("alignment_method_vertical", ["top", "bottom"]);
        if template["preserve_from_source_canvas"].as_str().is_some_and(|kept| !matches!(kept, "" | "none")) {
            unknown.push(format!("preserve {}", template["preserve_from_source_canvas"].as_str().unwrap_or_default()));
        }
        (Self { takes, method, across, down }, unknown)
    }

    /// The part of a canvas that fills a picture of this shape (width over height, in stored pixels of the canvas), for a part
    /// that is fitted. One that is seen whole in the middle stays as it is: what more is shown is told of it.
    pub(super) fn shown(self, part: Rect<Stored>, shape: &Exact) -> Rect<Stored> {
        if self == (Self { takes: self.takes, ..Self::default() }) {
            return part;
        }
        let Size { width, height, .. } = &part.size;
        let is_wider = width / height > *shape;
        let by_width = match self.method {
            Method::All => is_wider,
            Method::Fill => !is_wider,
            Method::Width => true,
            Method::Height => false,
        };
        let size: Size<Stored> = if by_width {
            Size::new(width.clone(), (width / shape).reduced())
        } else {
            Size::new((height * shape).reduced(), height.clone())
        };
        let x = self.across.start(&part.x, width, &size.width).reduced();
        let y = self.down.start(&part.y, height, &size.height).reduced();
        Rect::new(x, y, size)
    }
}
