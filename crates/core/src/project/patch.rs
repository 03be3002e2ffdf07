//! What an edit sets: [`SourcePatch`] and [`FramePatch`] name only the values that change.

use crate::fraction::Written;
use crate::project::{
    Deliverable, Footage, FrameSpec, FramingSpec, Name, Note, Placing, Playback, Scan, SignalRange, SourceSpec,
};
use crate::safe_area::SafeArea;
use crate::space::{Delivery, Stored};
use crate::subject::SubjectSpec;
use crate::{DisplayRatio, Error, FrameRate, Insets, PixelAspect, Raster, Rotation, Shift, Squeeze, Step, Zoom};

/// What a project itself keeps.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ProjectSettings {
    /// What it is called.
    pub name: Name,
    /// The method of every conversion for which nothing nearer has one.
    pub method: Placing,
}

impl ProjectSettings {
    /// What differs from earlier settings, in words.
    pub fn words_since(&self, before: &Self) -> String {
        let mut words = Vec::new();
        if self.method != before.method {
            words.push(method_words(Some(self.method), "the board"));
        }
        if self.name != before.name {
            words.push(format!("rename the project to {}", self.name.as_str()));
        }
        words.join(", ")
    }
}

/// Values to set in a source; what is `None` stays.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct SourcePatch {
    /// What it is called.
    pub name: Option<Name>,
    /// Free words.
    pub note: Option<Note>,
    /// The stored raster.
    pub raster: Option<Raster<Stored>>,
    /// The shape of the stored pixels.
    pub pixel_aspect: Option<Written<PixelAspect>>,
    /// What the lens did.
    pub squeeze: Option<Written<Squeeze>>,
    /// What is cut off at the left, top, right and bottom, each by itself.
    pub insets: [Option<u32>; 4],
    /// The turn that makes it stand upright.
    pub rotation: Option<Rotation>,
    /// Frames a second, or not known.
    pub rate: Option<Option<Written<FrameRate>>>,
    /// Progressive or interlaced.
    pub scan: Option<Scan>,
    /// Which code values it uses.
    pub signal_range: Option<SignalRange>,
    /// At which speed it runs.
    pub playback: Option<Playback>,
    /// The subject, or none.
    pub subject: Option<Option<SubjectSpec>>,
    /// A method of its own, or none.
    pub method: Option<Option<Placing>>,
}

/// The value where it differs.
fn other<T: PartialEq + Clone>(before: &T, after: &T) -> Option<T> {
    (before != after).then(|| after.clone())
}

fn sides(insets: Insets) -> [u32; 4] {
    [insets.left, insets.top, insets.right, insets.bottom]
}

impl SourcePatch {
    /// A patch that sets all four insets.
    pub fn insets(insets: Insets) -> Self {
        Self { insets: sides(insets).map(Some), ..Self::default() }
    }

    /// What makes one value of the other.
    pub fn between(before: &Footage, after: &Footage) -> Self {
        let (old, new) = (&before.geometry, &after.geometry);
        let (old_sides, new_sides) = (sides(old.insets()), sides(new.insets()));
        Self {
            name: other(&before.name, &after.name),
            note: other(&before.note, &after.note),
            raster: other(&old.raster(), &new.raster()),
            pixel_aspect: other(old.pixel_aspect(), new.pixel_aspect()),
            squeeze: other(old.squeeze(), new.squeeze()),
            insets: std::array::from_fn(|side| other(&old_sides[side], &new_sides[side])),
            rotation: other(&old.rotation(), &new.rotation()),
            rate: other(&before.rate, &after.rate),
            scan: other(&before.scan, &after.scan),
            signal_range: other(&before.signal_range, &after.signal_range),
            playback: other(&before.playback, &after.playback),
            subject: other(&before.subject, &after.subject),
            method: other(&before.method, &after.method),
        }
    }

    /// The source with these values.
    ///
    /// # Errors
    /// Those of [`SourceSpec::new`], when the values do not go with the others of the source.
    pub fn apply(&self, footage: &Footage) -> Result<Footage, Error> {
        let old = &footage.geometry;
        let [left, top, right, bottom] = sides(old.insets());
        let geometry = SourceSpec::new(
            self.raster.unwrap_or(old.raster()),
            self.pixel_aspect.as_ref().unwrap_or(old.pixel_aspect()).clone(),
            self.squeeze.as_ref().unwrap_or(old.squeeze()).clone(),
            Insets {
                left: self.insets[0].unwrap_or(left),
                top: self.insets[1].unwrap_or(top),
                right: self.insets[2].unwrap_or(right),
                bottom: self.insets[3].unwrap_or(bottom),
            },
            self.rotation.unwrap_or(old.rotation()),
        )?;
        Ok(Footage {
            name: self.name.as_ref().unwrap_or(&footage.name).clone(),
            note: self.note.as_ref().unwrap_or(&footage.note).clone(),
            geometry,
            rate: self.rate.as_ref().unwrap_or(&footage.rate).clone(),
            scan: self.scan.unwrap_or(footage.scan),
            signal_range: self.signal_range.unwrap_or(footage.signal_range),
            playback: self.playback.unwrap_or(footage.playback),
            subject: self.subject.clone().unwrap_or_else(|| {
                // What was marked stays marked when the picture is turned.
                let by = geometry_turn(old.rotation(), self.rotation.unwrap_or(old.rotation()));
                footage.subject.as_ref().map(|subject| subject.turned(by))
            }),
            method: self.method.unwrap_or(footage.method),
        })
    }

    /// What it sets, in words: `"squeeze 2, turn 90°"`.
    pub fn words(&self) -> String {
        let mut words = Vec::new();
        if let Some(name) = &self.name {
            words.push(format!("name {}", name.as_str()));
        }
        if let Some(raster) = &self.raster {
            words.push(format!("stored as {raster}"));
        }
        if let Some(aspect) = &self.pixel_aspect {
            words.push(format!("pixel aspect {}", aspect.text()));
        }
        if let Some(squeeze) = &self.squeeze {
            words.push(format!("squeeze {}", squeeze.text()));
        }
        if self.insets.iter().any(Option::is_some) {
            let cut: Vec<_> =
                self.insets.iter().map(|side| side.map_or("·".to_owned(), |side| side.to_string())).collect();
            words.push(format!("active picture {}", cut.join("/")));
        }
        if let Some(rotation) = self.rotation {
            words.push(format!("turn {}°", rotation.degrees()));
        }
        words.extend(signal_words(self.rate.as_ref(), self.scan, self.signal_range));
        match self.playback {
            Some(Playback::EveryFrame) => words.push("every frame once".to_owned()),
            Some(Playback::RealTime) => words.push("real time".to_owned()),
            None => {}
        }
        match &self.subject {
            Some(Some(_)) => words.push("mark the subject".to_owned()),
            Some(None) => words.push("no subject".to_owned()),
            None => {}
        }
        if let Some(method) = self.method {
            words.push(method_words(method, "the frame"));
        }
        if self.note.is_some() {
            words.push("note".to_owned());
        }
        words.join(", ")
    }
}

/// Parts of a framing to set; what is `None` stays.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct FramingPatch {
    /// The rule that sets the size.
    pub method: Option<Placing>,
    /// Enlargement on top of it.
    pub zoom: Option<Written<Zoom>>,
    /// Displacement to the right and downwards, in delivery pixels.
    pub shift: Option<[Written<Shift>; 2]>,
}

impl FramingPatch {
    /// The framing with these parts.
    pub fn apply(&self, framing: &FramingSpec) -> FramingSpec {
        let [shift_x, shift_y] =
            self.shift.clone().unwrap_or_else(|| [framing.shift_x.clone(), framing.shift_y.clone()]);
        FramingSpec {
            method: self.method.unwrap_or(framing.method),
            zoom: self.zoom.as_ref().unwrap_or(&framing.zoom).clone(),
            shift_x,
            shift_y,
        }
    }

    /// What it sets, in words: `"zoom 1.1, shift -90 0"`.
    pub fn words(&self) -> String {
        let mut words = Vec::new();
        if let Some(method) = self.method {
            words.push(method_words(Some(method), ""));
        }
        if let Some(zoom) = &self.zoom {
            words.push(format!("zoom {}", zoom.text()));
        }
        if let Some([x, y]) = &self.shift {
            words.push(format!("shift {} {}", x.text(), y.text()));
        }
        words.join(", ")
    }
}

/// Values to set in a frame; what is `None` stays.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct FramePatch {
    /// What it is called.
    pub name: Option<Name>,
    /// Free words.
    pub note: Option<Note>,
    /// The raster that is delivered.
    pub raster: Option<Raster<Delivery>>,
    /// The shape of its pixels.
    pub pixel_aspect: Option<Written<PixelAspect>>,
    /// The ratio of the picture inside, or none of its own.
    pub picture_ratio: Option<Option<Written<DisplayRatio>>>,
    /// The grid for sides and bars.
    pub step: Option<Step>,
    /// Frames a second, or open.
    pub rate: Option<Option<Written<FrameRate>>>,
    /// Progressive or interlaced.
    pub scan: Option<Scan>,
    /// Which code values it uses.
    pub signal_range: Option<SignalRange>,
    /// The rules for its safe areas.
    pub safe_areas: Option<Vec<SafeArea>>,
    /// Ratios whose outline is drawn.
    pub guides: Option<Vec<Written<DisplayRatio>>>,
    /// The working frame through which pictures reach it, or none.
    pub through: Option<Option<i32>>,
    /// A method of its own, or none.
    pub method: Option<Option<Placing>>,
}

impl FramePatch {
    /// What makes one value of the other.
    pub fn between(before: &Deliverable, after: &Deliverable) -> Self {
        let (old, new) = (&before.geometry, &after.geometry);
        Self {
            name: other(&before.name, &after.name),
            note: other(&before.note, &after.note),
            raster: other(&old.frame().raster(), &new.frame().raster()),
            pixel_aspect: other(old.pixel_aspect(), new.pixel_aspect()),
            picture_ratio: other(&old.picture_ratio().cloned(), &new.picture_ratio().cloned()),
            step: other(&old.frame().step(), &new.frame().step()),
            rate: other(&before.rate, &after.rate),
            scan: other(&before.scan, &after.scan),
            signal_range: other(&before.signal_range, &after.signal_range),
            safe_areas: other(&before.safe_areas, &after.safe_areas),
            guides: other(&before.guides, &after.guides),
            through: other(&before.through, &after.through),
            method: other(&before.method, &after.method),
        }
    }

    /// The frame with these values.
    ///
    /// # Errors
    /// Those of [`FrameSpec::new`], when the values do not go with the others of the frame.
    pub fn apply(&self, frame: &Deliverable) -> Result<Deliverable, Error> {
        let old = &frame.geometry;
        let geometry = FrameSpec::new(
            self.raster.unwrap_or(old.frame().raster()),
            self.pixel_aspect.as_ref().unwrap_or(old.pixel_aspect()).clone(),
            self.picture_ratio.clone().unwrap_or(old.picture_ratio().cloned()),
            self.step.unwrap_or(old.frame().step()),
        )?;
        Ok(Deliverable {
            name: self.name.as_ref().unwrap_or(&frame.name).clone(),
            note: self.note.as_ref().unwrap_or(&frame.note).clone(),
            geometry,
            rate: self.rate.as_ref().unwrap_or(&frame.rate).clone(),
            scan: self.scan.unwrap_or(frame.scan),
            signal_range: self.signal_range.unwrap_or(frame.signal_range),
            safe_areas: self.safe_areas.as_ref().unwrap_or(&frame.safe_areas).clone(),
            guides: self.guides.as_ref().unwrap_or(&frame.guides).clone(),
            through: self.through.unwrap_or(frame.through),
            method: self.method.unwrap_or(frame.method),
        })
    }

    /// What it sets, in words: `"1080x1920, rate 25"`.
    pub fn words(&self) -> String {
        let mut words = Vec::new();
        if let Some(name) = &self.name {
            words.push(format!("name {}", name.as_str()));
        }
        if let Some(raster) = &self.raster {
            words.push(raster.to_string());
        }
        if let Some(aspect) = &self.pixel_aspect {
            words.push(format!("pixel aspect {}", aspect.text()));
        }
        match &self.picture_ratio {
            Some(Some(ratio)) => words.push(format!("picture {}", ratio.text())),
            Some(None) => words.push("picture all over the frame".to_owned()),
            None => {}
        }
        if let Some(step) = self.step {
            words.push(format!("step {}", step.pixels()));
        }
        words.extend(signal_words(self.rate.as_ref(), self.scan, self.signal_range));
        if self.safe_areas.is_some() {
            words.push("safe areas".to_owned());
        }
        if let Some(guides) = &self.guides {
            let ratios: Vec<_> = guides.iter().map(Written::text).collect();
            words.push(format!("guides {}", if ratios.is_empty() { "none".to_owned() } else { ratios.join(" ") }));
        }
        match self.through {
            Some(Some(_)) => words.push("through a working frame".to_owned()),
            Some(None) => words.push("straight from the source".to_owned()),
            None => {}
        }
        if let Some(method) = self.method {
            words.push(method_words(method, "the board"));
        }
        if self.note.is_some() {
            words.push("note".to_owned());
        }
        words.join(", ")
    }
}

/// The clockwise quarters from one turn to another.
fn geometry_turn(from: Rotation, to: Rotation) -> u32 {
    (to.degrees() + 360 - from.degrees()) / 90 % 4
}

fn signal_words(
    rate: Option<&Option<Written<FrameRate>>>,
    scan: Option<Scan>,
    signal_range: Option<SignalRange>,
) -> impl Iterator<Item = String> {
    let rate = rate.map(|rate| match rate {
        Some(rate) => format!("rate {}", rate.text()),
        None => "no rate".to_owned(),
    });
    let scan = scan.map(|scan| scan.word().to_owned());
    let range = signal_range.map(|range| format!("{} range", range.word()));
    [rate, scan, range].into_iter().flatten()
}

fn method_words(method: Option<Placing>, followed: &str) -> String {
    match method {
        Some(Placing::AroundSubject) => "method around subject".to_owned(),
        Some(method) => format!("method {}", method.word()),
        None => format!("follow {followed}"),
    }
}
