//! [`Bin`]: how the footage of a project suits one of its frames.

use std::cmp::Ordering;

use crate::cadence::Intent;
use crate::project::{
    Conversion, Deliverable, Edit, Footage, FrameId, FramingSpec, Pair, Placing, Project, SourceId, SourcePatch,
};
use crate::signal::{Scan, SignalRange};
use crate::space::Stored;
use crate::{Exact, Finding, Insets, Method, Raster, Rotation, Severity};

/// In what a clip differs from a frame. It depends on the two alone.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[expect(clippy::struct_excessive_bools, reason = "seven independent answers, each yes or no")]
pub struct Mismatch {
    /// The upright picture has another size than the picture area, both in lines.
    pub size: bool,
    /// They have another ratio.
    pub ratio: bool,
    /// Stored pixels, squeeze included, have another shape than delivered ones.
    pub pixel_shape: bool,
    /// Both rates are known, and they differ.
    pub rate: bool,
    /// One is interlaced, the other progressive.
    pub scan: bool,
    /// They use other code values.
    pub signal_range: bool,
    /// One lies and the other stands.
    pub orientation: bool,
}

impl Mismatch {
    /// In what this clip differs from this frame.
    pub fn of(footage: &Footage, frame: &Deliverable) -> Self {
        let source = footage.geometry.source();
        let upright = source.upright();
        let area = frame.geometry.frame().picture_lines();
        let seen = &upright.width / &upright.height;
        let wanted = &area.width / &area.height;
        let stored = footage.geometry.pixel_aspect().value().value() * footage.geometry.squeeze().value().value();
        let pixel = if footage.geometry.rotation().swaps_axes() { Exact::ONE / stored } else { stored };
        let rates = footage.rate.as_ref().zip(frame.rate.as_ref());
        let orientation = |ratio: &Exact| ratio.cmp(&Exact::ONE);
        Self {
            size: upright.width != area.width || upright.height != area.height,
            ratio: seen != wanted,
            pixel_shape: pixel != *frame.geometry.pixel_aspect().value().value(),
            rate: rates.is_some_and(|(from, to)| from.value() != to.value()),
            scan: footage.scan.is_some_and(|scan| scan != frame.scan),
            signal_range: footage.signal_range.is_some_and(|range| range != frame.signal_range),
            orientation: matches!(
                (orientation(&seen), orientation(&wanted)),
                (Ordering::Less, Ordering::Greater) | (Ordering::Greater, Ordering::Less)
            ),
        }
    }

    /// Whether the clip can go into the frame as it is.
    pub fn is_none(self) -> bool {
        self == Self::default()
    }

    /// The words for what differs, in a fixed order.
    pub fn words(self) -> Vec<&'static str> {
        let each = [
            (self.size, "size"),
            (self.ratio, "ratio"),
            (self.pixel_shape, "pixel shape"),
            (self.rate, "rate"),
            (self.scan, "scan"),
            (self.signal_range, "signal range"),
            (self.orientation, "orientation"),
        ];
        each.into_iter().filter(|(differs, _)| *differs).map(|(_, word)| word).collect()
    }
}

/// One thing to do about a group of clips that do not suit a frame.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Remedy {
    /// Turn them a quarter clockwise.
    Turn,
    /// Show each frame once, in slow motion.
    EveryFrame,
    /// Fill this frame with them, so that no bars stay.
    Fill,
}

impl Remedy {
    /// What helps most, judged by what the conversion finds; none when nothing simple does.
    pub fn of(footage: &Footage, frame: &Deliverable, conversion: &Conversion) -> Option<Self> {
        let found = |code: &str| conversion.findings.iter().any(|finding| finding.code() == code);
        let rates = footage.rate.as_ref().zip(frame.rate.as_ref());
        // Only numbers are known: a picture that lies may lie on purpose. Where somebody has turned
        // it already, that stands.
        if found("sideways") && footage.geometry.rotation() == Rotation::None {
            Some(Self::Turn)
        } else if conversion.findings.iter().any(|finding| matches!(finding, Finding::Bars { .. }))
            && conversion.framing.method != Placing::By(Method::Fill)
        {
            Some(Self::Fill)
        } else if found("rate_mixed") && rates.is_some_and(|(from, to)| from.value() > to.value()) {
            Some(Self::EveryFrame)
        } else {
            None
        }
    }

    /// In words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Turn => "Stored sideways? Rotate 90°",
            Self::EveryFrame => "Play every frame, in slow motion",
            Self::Fill => "Fill the frame",
        }
    }

    /// The edit that does it for these sources in this frame.
    pub fn edit(self, sources: &[SourceId], frame: FrameId) -> Edit {
        let set = |patch| Edit::SetSources { ids: sources.to_vec(), patch: Box::new(patch) };
        match self {
            Self::Turn => set(SourcePatch { rotation: Some(Rotation::Quarter), ..SourcePatch::default() }),
            Self::EveryFrame => set(SourcePatch { playback: Some(Intent::EveryFrame), ..SourcePatch::default() }),
            Self::Fill => Edit::SetConversions {
                pairs: sources.iter().map(|source| Pair::new(*source, frame)).collect(),
                own: Some(FramingSpec::of(Method::Fill)),
            },
        }
    }
}

/// What clips of one kind have in common: all but their names and notes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Alike {
    raster: Raster<Stored>,
    pixel_aspect: Exact,
    squeeze: Exact,
    insets: Insets,
    rotation: Rotation,
    rate: Option<Exact>,
    scan: Option<Scan>,
    signal_range: Option<SignalRange>,
    playback: Intent,
}

impl Alike {
    /// The kind of a clip.
    pub fn of(footage: &Footage) -> Self {
        let geometry = &footage.geometry;
        Self {
            raster: geometry.raster(),
            pixel_aspect: geometry.pixel_aspect().value().value().clone(),
            squeeze: geometry.squeeze().value().value().clone(),
            insets: geometry.insets(),
            rotation: geometry.rotation(),
            rate: footage.rate.as_ref().map(|rate| rate.value().value().clone()),
            scan: footage.scan,
            signal_range: footage.signal_range,
            playback: footage.playback,
        }
    }

    /// What kind that is, in words: `"5120x2700 at 25"`.
    pub fn words(&self) -> String {
        let mut words = vec![self.raster.to_string()];
        if self.pixel_aspect != Exact::ONE {
            words.push(format!("pixels {}", self.pixel_aspect.to_string().replace('/', ":")));
        }
        if self.squeeze != Exact::ONE {
            words.push(format!("squeezed {}×", self.squeeze.to_short_decimal(3)));
        }
        if self.insets != Insets::default() {
            let Insets { left, top, right, bottom } = self.insets;
            words.push(format!("insets {left}/{top}/{right}/{bottom}"));
        }
        if self.rotation != Rotation::None {
            words.push(format!("rotated {}°", self.rotation.degrees()));
        }
        if let Some(rate) = &self.rate {
            words.push(format!("{} fps", rate.to_short_decimal(3)));
        }
        if self.scan == Some(Scan::Interlaced) {
            words.push("interlaced".to_owned());
        }
        if self.signal_range == Some(SignalRange::Full) {
            words.push("full range".to_owned());
        }
        if self.playback == Intent::EveryFrame {
            words.push("plays every frame".to_owned());
        }
        words.join(" ")
    }

    /// An order that depends on the kinds alone.
    fn order(&self) -> (std::cmp::Reverse<u64>, String) {
        let pixels = u64::from(self.raster.width()) * u64::from(self.raster.height());
        // The words shorten; the exact values tell kinds apart that are worded alike.
        let exact = format!("{} {} {} {:?}", self.words(), self.pixel_aspect, self.squeeze, self.rate);
        (std::cmp::Reverse(pixels), exact)
    }
}

/// How the bin of a project suits one of its frames.
#[derive(Clone, Debug)]
pub struct Bin {
    /// How many sources there are.
    pub sources: usize,
    /// How many can go into the frame as they are.
    pub matching: usize,
    /// How many differ in what.
    pub differing: Vec<(&'static str, usize)>,
    /// The sources by kind, the largest group first.
    pub groups: Vec<BinGroup>,
}

/// Sources of one kind against a frame.
#[derive(Clone, Debug)]
pub struct BinGroup {
    /// What they are.
    pub kind: Alike,
    /// The sources, in the order of their names.
    pub sources: Vec<SourceId>,
    /// In what they differ from the frame.
    pub mismatch: Mismatch,
    /// How many of their conversions are clean.
    pub clean: usize,
    /// How many need a look.
    pub caution: usize,
    /// How many must stop.
    pub stop: usize,
    /// What would help; none when nothing simple does.
    pub remedy: Option<Remedy>,
}

impl Project {
    /// How its sources suit one of its frames. The answer does not depend on when or how they were added.
    pub fn bin(&self, id: FrameId) -> Option<Bin> {
        let frame = self.frame(id)?;
        let clips: Vec<(SourceId, &Footage)> = self.sources().collect();
        let mut bin = Bin { sources: clips.len(), matching: 0, differing: Vec::new(), groups: Vec::new() };
        for (kind, places) in group(clips.iter().map(|(_, footage)| *footage)) {
            let members: Vec<(SourceId, &Footage)> = places.iter().map(|place| clips[*place]).collect();
            let Some((_, first)) = members.first() else { continue };
            let mismatch = Mismatch::of(first, frame);
            if mismatch.is_none() {
                bin.matching += members.len();
            }
            for word in mismatch.words() {
                match bin.differing.iter_mut().find(|(known, _)| *known == word) {
                    Some((_, count)) => *count += members.len(),
                    None => bin.differing.push((word, members.len())),
                }
            }
            let conversions: Vec<_> =
                members.iter().filter_map(|(source, _)| self.conversion(Pair::new(*source, id))).collect();
            let count = |severity| conversions.iter().filter(|each| each.severity() == Some(severity)).count();
            let (caution, stop) = (count(Severity::Caution), count(Severity::Stop));
            bin.groups.push(BinGroup {
                kind,
                mismatch,
                clean: members.len() - caution - stop,
                caution,
                stop,
                remedy: conversions
                    .iter()
                    .find_map(|each| Remedy::of(first, frame, each))
                    .filter(|remedy| *remedy != Remedy::Turn || members.len() == 1),
                sources: members.iter().map(|(source, _)| *source).collect(),
            });
        }
        Some(bin)
    }
}

/// The clips grouped by kind, the largest group first. The places of the clips in each group are
/// in the order of their names: nothing depends on the order in which they are given.
pub(super) fn group<'a>(clips: impl IntoIterator<Item = &'a Footage>) -> Vec<(Alike, Vec<usize>)> {
    let clips: Vec<&Footage> = clips.into_iter().collect();
    let mut groups: Vec<(Alike, Vec<usize>)> = Vec::new();
    let mut known: std::collections::HashMap<String, Vec<usize>> = std::collections::HashMap::new();
    for (place, clip) in clips.iter().enumerate() {
        let kind = Alike::of(clip);
        let same_words = known.entry(kind.words()).or_default();
        match same_words.iter().find(|at| groups[**at].0 == kind) {
            Some(at) => groups[*at].1.push(place),
            None => {
                same_words.push(groups.len());
                groups.push((kind, vec![place]));
            }
        }
    }
    for (_, members) in &mut groups {
        members.sort_by(|a, b| (clips[*a].name.as_str(), a).cmp(&(clips[*b].name.as_str(), b)));
    }
    groups.sort_by_cached_key(|(kind, members)| (std::cmp::Reverse(members.len()), kind.order()));
    groups
}
