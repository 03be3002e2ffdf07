//! What goes along with a late change: framings keep what they show when a frame or a source changes its size.

use std::collections::HashMap;

use crate::dial_in::{Carried, carried};
use crate::project::{
    Change, Changes, Choice, Conversion, Deliverable, Footage, FrameId, FramingSpec, Pair, Project, SourceId,
};
use crate::space::Axes;
use crate::words::counted;
use crate::{Exact, Framing};

/// A conversion whose framing of its own went along with a change of its frame or its source.
#[derive(Clone, Debug, PartialEq)]
pub struct Followed {
    /// The conversion.
    pub pair: Pair,
    /// Delivery pixels by which it could not follow, because the picture ends there; 0 where it follows exactly.
    pub short: Axes<crate::space::Delivery>,
    /// The part of the picture that was kept before, and is kept now.
    pub kept: [Exact; 2],
    /// The part of the area that was covered before, and is covered now.
    pub covered: [Exact; 2],
}

impl Followed {
    /// Whether it shows exactly what it showed, as far as the ratios let it.
    pub fn is_exact(&self) -> bool {
        self.short.x.is_zero() && self.short.y.is_zero()
    }

    /// Whether less of the picture is kept, or less of the area covered.
    pub fn loses(&self) -> bool {
        self.kept[1] < self.kept[0] || self.covered[1] < self.covered[0]
    }
}

/// Source and frame of a conversion.
type Parties<'a> = (&'a Footage, &'a Deliverable);

impl Project {
    /// Adds to changes of sources and frames what the framings in them become: they keep what stands in the
    /// middle of the picture area, at a size in proportion. What the changes set anew stays as they set it.
    pub(super) fn let_follow(&self, changes: &mut Changes) {
        let mut sources: HashMap<SourceId, &Footage> = HashMap::new();
        let mut frames: HashMap<FrameId, &Deliverable> = HashMap::new();
        for change in &changes.changes {
            match change {
                Change::Source(id, Some(after)) if self.source(*id).is_some_and(|now| is_resized(now, after)) => {
                    sources.insert(*id, after);
                }
                Change::Frame(id, Some(after)) if self.frame(*id).is_some_and(|now| is_reshaped(now, after)) => {
                    frames.insert(*id, after);
                }
                _ => {}
            }
        }
        if sources.is_empty() && frames.is_empty() {
            return;
        }
        let set = |(at, change): (usize, &Change)| match change {
            Change::Choice(pair, choice) => Some((*pair, (at, choice.as_ref().clone()))),
            _ => None,
        };
        let set: HashMap<Pair, (usize, Choice)> = changes.changes.iter().enumerate().filter_map(set).collect();
        let mut moved = Vec::new();
        let mut followed = Vec::new();
        let mut mended = Vec::new();
        for (pair, choice) in self.choices() {
            let (new_source, new_frame) = (sources.get(&pair.source), frames.get(&pair.frame));
            if new_source.is_none() && new_frame.is_none() {
                continue;
            }
            let (Some(footage), Some(frame)) = (self.source(pair.source), self.frame(pair.frame)) else { continue };
            let from = (footage, frame);
            let to = (new_source.copied().unwrap_or(footage), new_frame.copied().unwrap_or(frame));
            let now = set.get(&pair).map_or(choice, |(_, now)| now);
            let follows = |spec: &FramingSpec| following(spec, from, to).0;
            let kept = |now: &Option<FramingSpec>, before: &Option<FramingSpec>| {
                if now == before { now.as_ref().map(follows) } else { now.clone() }
            };
            let after = Choice {
                own: kept(&now.own, &choice.own),
                pins: now.pins.iter().map(follows).collect(),
                imported: kept(&now.imported, &choice.imported),
                ..now.clone()
            };
            if let Some(own) = choice.own.as_ref().filter(|_| now.own == choice.own) {
                let (next, short) = following(own, from, to);
                followed.push(self.followed(pair, (own, from), (&next, to), short));
            }
            match set.get(&pair) {
                Some((at, now)) if after != *now => mended.push((*at, pair, after)),
                None if after != *choice => moved.push(Change::Choice(pair, Box::new(after))),
                _ => {}
            }
        }
        for (at, pair, after) in mended {
            changes.changes[at] = Change::Choice(pair, Box::new(after));
        }
        if !moved.is_empty() && !followed.is_empty() {
            let (count, verb) = (followed.len(), if followed.len() == 1 { "follows" } else { "follow" });
            changes.label = format!("{}; {} {verb}", changes.label, counted(count, "framing"));
        }
        changes.along += moved.len();
        changes.changes.extend(moved);
        changes.followed = followed;
    }

    fn followed(
        &self,
        pair: Pair,
        (before, from): (&FramingSpec, Parties<'_>),
        (after, to): (&FramingSpec, Parties<'_>),
        short: Axes<crate::space::Delivery>,
    ) -> Followed {
        let plan = |spec: &FramingSpec, (footage, frame): Parties<'_>| {
            let choice = Choice::of(spec.clone());
            Conversion::of(footage, frame, &choice, self.settings()).plan
        };
        let (before, after) = (plan(before, from), plan(after, to));
        Followed { pair, short, kept: [before.kept, after.kept], covered: [before.covered, after.covered] }
    }
}

/// Whether a source is the same picture at another size.
fn is_resized(before: &Footage, after: &Footage) -> bool {
    let (old, new) = (&before.geometry, &after.geometry);
    let same = old.rotation() == new.rotation()
        && old.squeeze().value() == new.squeeze().value()
        && old.pixel_aspect().value() == new.pixel_aspect().value();
    same && old.raster() != new.raster() && old.raster().is_shaped_like(new.raster())
}

/// Whether pictures land in a frame otherwise than before.
fn is_reshaped(before: &Deliverable, after: &Deliverable) -> bool {
    before.geometry.frame() != after.geometry.frame()
}

/// A framing that shows in the new conversion what it showed in the old one, and by how much it falls short.
fn following(
    spec: &FramingSpec,
    (footage, frame): Parties<'_>,
    (to_footage, to_frame): Parties<'_>,
) -> (FramingSpec, Axes<crate::space::Delivery>) {
    let geometry =
        |footage: &Footage, frame: &Deliverable| (footage.geometry.source().clone(), frame.geometry.frame().clone());
    let ((source, old), (to_source, new)) = (geometry(footage, frame), geometry(to_footage, to_frame));
    let plain = spec.framing();
    let Carried { framing, short } = carried((&source, &old, &plain), (&to_source, &new));
    if framing == plain {
        return (spec.clone(), short);
    }
    // The spelling of what stays is kept.
    let Framing { zoom, shift_x, shift_y, .. } = &framing;
    let written = FramingSpec::written(&framing);
    let next = FramingSpec {
        method: spec.method,
        zoom: if *zoom == plain.zoom { spec.zoom.clone() } else { written.zoom },
        shift_x: if *shift_x == plain.shift_x { spec.shift_x.clone() } else { written.shift_x },
        shift_y: if *shift_y == plain.shift_y { spec.shift_y.clone() } else { written.shift_y },
    };
    (next, short)
}
