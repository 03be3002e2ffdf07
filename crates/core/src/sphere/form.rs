//! [`SphereForm`]: how a sphere lies in its frame.

use super::angle::{Across, Span, UpAndDown};
use super::equirectangular::Layout;
use crate::Exact;
use crate::space::Size;

/// Which eye comes first, above or at the left.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Eyes {
    /// The left one.
    #[default]
    LeftFirst,
    /// The right one.
    RightFirst,
}

impl Eyes {
    /// Both orders.
    pub const ALL: [Self; 2] = [Self::LeftFirst, Self::RightFirst];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::LeftFirst => "left_first",
            Self::RightFirst => "right_first",
        }
    }
}

/// How a sphere lies in its frame; it means nothing of a flat picture.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SphereForm {
    /// How much of the sphere each eye's picture holds.
    pub span: Span,
    /// One picture, or one for each eye.
    pub layout: Layout,
    /// Which eye comes first.
    pub eyes: Eyes,
}

impl Default for SphereForm {
    fn default() -> Self {
        Self { span: Span::FULL, layout: Layout::Mono, eyes: Eyes::LeftFirst }
    }
}

impl SphereForm {
    /// Across and down, how many pictures stand in the frame.
    pub const fn pictures(&self) -> [u32; 2] {
        match self.layout {
            Layout::Mono => [1, 1],
            Layout::TopBottom => [1, 2],
            Layout::SideBySide => [2, 1],
        }
    }

    /// The picture of one eye in a frame of this size, to the whole pixel.
    pub const fn eye(&self, [width, height]: [u32; 2]) -> [u32; 2] {
        let [across, down] = self.pictures();
        [width / across, height / down]
    }

    /// How large a picture of all around would be of which one eye's picture is a part.
    pub fn whole(&self, [width, height]: [u32; 2]) -> [u32; 2] {
        let sides = [(width, 360, self.span.across.value()), (height, 180, self.span.up.value())];
        sides.map(|(side, all, held)| {
            let whole = Exact::whole(side) * Exact::whole(all) / held;
            // OK because larger ones are no raster, which says so.
            u32::try_from((whole + Exact::fraction(1, 2)).floor_whole()).unwrap_or(u32::MAX)
        })
    }

    /// How much more finely a picture is sampled across than up and down, by the degree: 1 where its shape goes with its
    /// span.
    pub fn shape<S>(&self, picture: &Size<S>) -> Exact {
        let [across, down] = self.pictures().map(Exact::whole);
        let degrees = self.span.up.value() / self.span.across.value();
        (&picture.width / across / (&picture.height / down) * degrees).reduced()
    }

    /// What differs from a full sphere of one picture, in a few words for lists: `"180x180 side_by_side right_first"`;
    /// empty for such a one.
    pub fn written(&self) -> String {
        let mut words = Vec::new();
        if self.span != Span::FULL {
            let degrees = |side: &Exact| side.to_short_decimal(4);
            words.push(format!("{}x{}", degrees(self.span.across.value()), degrees(self.span.up.value())));
        }
        if self.layout != Layout::Mono {
            words.push(self.layout.word().to_owned());
            words.extend((self.eyes == Eyes::RightFirst).then(|| self.eyes.word().to_owned()));
        }
        words.join(" ")
    }

    /// What such words say.
    pub fn parse(text: &str) -> Option<Self> {
        let mut form = Self::default();
        for word in text.split_whitespace() {
            if let Some(layout) = Layout::ALL.into_iter().find(|layout| layout.word() == word) {
                form.layout = layout;
            } else if let Some(eyes) = Eyes::ALL.into_iter().find(|eyes| eyes.word() == word) {
                form.eyes = eyes;
            } else {
                let (across, up) = word.split_once('x')?;
                form.span = Span { across: Across::parse(across).ok()?, up: UpAndDown::parse(up).ok()? };
            }
        }
        Some(form)
    }

    /// How it is said: `"180° × 180°, side by side, right eye first"`.
    pub fn words(&self) -> String {
        let span = match &self.span {
            full if *full == Span::FULL => "full sphere".to_owned(),
            Span { across, up } => {
                format!("{}° by {}°", across.value().to_short_decimal(3), up.value().to_short_decimal(3))
            }
        };
        let layout = match self.layout {
            Layout::Mono => return format!("{span}, one picture for both eyes"),
            Layout::TopBottom => "eyes one above the other",
            Layout::SideBySide => "eyes side by side",
        };
        let first = match self.eyes {
            Eyes::LeftFirst => "left",
            Eyes::RightFirst => "right",
        };
        format!("{span}, {layout}, {first} eye first")
    }
}
