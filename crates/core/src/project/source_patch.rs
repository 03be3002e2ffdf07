//! [`SourcePatch`]: what an edit sets in sources.

use crate::cadence::Intent;
use crate::fraction::Written;
use crate::project::{Footage, Name, Note, OnSphere, Placing, SourceSpec, StillSpec, ViewSpec};
use crate::signal::{Projection, RangePlan, RatePlan, Scan, SignalRange};
use crate::space::Stored;
use crate::sphere::{Orientation, SphereForm};
use crate::subject::SubjectSpec;
use crate::words::counted;
use crate::{Error, FrameRate, Insets, PixelAspect, Raster, Rotation, Squeeze};

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
    /// Progressive or interlaced, or not said.
    pub scan: Option<Option<Scan>>,
    /// Which code values it uses, or not said.
    pub signal_range: Option<Option<SignalRange>>,
    /// At which speed it runs.
    pub playback: Option<Intent>,
    /// A flat picture, or a sphere.
    pub projection: Option<Projection>,
    /// How the sphere lies in its frame.
    pub sphere: Option<SphereForm>,
    /// How the sphere is turned.
    pub turn: Option<Orientation>,
    /// The pictures that stand on the sphere.
    pub on_sphere: Option<Vec<OnSphere>>,
    /// Where it looks, or that it is no view.
    pub view: Option<Option<ViewSpec>>,
    /// Whether it is known which way up it is stored. A turn that is set settles it.
    pub upright_known: Option<bool>,
    /// Whether its fields are made into whole pictures.
    pub deinterlace: Option<bool>,
    /// What is done for frames of another signal range.
    pub range_plan: Option<RangePlan>,
    /// What is shown between their frames where a frame has another rate.
    pub rate_plan: Option<RatePlan>,
    /// The subject, or none.
    pub subject: Option<Option<SubjectSpec>>,
    /// A method of its own, or none.
    pub method: Option<Option<Placing>>,
    /// A picture, or none.
    pub still: Option<Option<StillSpec>>,
}

/// The value where it differs.
pub(super) fn other<T: PartialEq + Clone>(before: &T, after: &T) -> Option<T> {
    (before != after).then(|| after.clone())
}

impl SourcePatch {
    /// A patch that sets all four insets.
    pub fn insets(insets: Insets) -> Self {
        Self { insets: insets.sides().map(Some), ..Self::default() }
    }

    /// What makes one value of the other.
    pub fn between(before: &Footage, after: &Footage) -> Self {
        let (old, new) = (&before.geometry, &after.geometry);
        let (old_sides, new_sides) = (old.insets().sides(), new.insets().sides());
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
            projection: other(&before.projection, &after.projection),
            sphere: other(&before.sphere, &after.sphere),
            turn: other(&before.turn, &after.turn),
            on_sphere: other(&before.on_sphere, &after.on_sphere),
            view: other(&before.view, &after.view),
            upright_known: other(&before.upright_known, &after.upright_known),
            deinterlace: other(&before.deinterlace, &after.deinterlace),
            range_plan: other(&before.range_plan, &after.range_plan),
            rate_plan: other(&before.rate_plan, &after.rate_plan),
            subject: other(&before.subject, &after.subject),
            method: other(&before.method, &after.method),
            still: other(&before.still, &after.still),
        }
    }

    /// The source with these values.
    ///
    /// # Errors
    /// Those of [`SourceSpec::new`], when the values do not go with the others of the source.
    pub fn apply(&self, footage: &Footage) -> Result<Footage, Error> {
        let old = &footage.geometry;
        let raster = self.raster.unwrap_or(old.raster());
        // The same picture at another size has its borders in proportion.
        let sides = old.insets().resized(old.raster(), raster).sides();
        let geometry = SourceSpec::new(
            raster,
            self.pixel_aspect.as_ref().unwrap_or(old.pixel_aspect()).clone(),
            self.squeeze.as_ref().unwrap_or(old.squeeze()).clone(),
            Insets::from(std::array::from_fn(|side| self.insets[side].unwrap_or(sides[side]))),
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
            projection: self.projection.unwrap_or(footage.projection),
            sphere: self.sphere.as_ref().unwrap_or(&footage.sphere).clone(),
            turn: self.turn.as_ref().unwrap_or(&footage.turn).clone(),
            on_sphere: self.on_sphere.as_ref().unwrap_or(&footage.on_sphere).clone(),
            view: self.view.as_ref().unwrap_or(&footage.view).clone(),
            upright_known: self.upright_known.unwrap_or(footage.upright_known || self.rotation.is_some()),
            deinterlace: self.deinterlace.unwrap_or(footage.deinterlace),
            range_plan: self.range_plan.unwrap_or(footage.range_plan),
            rate_plan: self.rate_plan.unwrap_or(footage.rate_plan),
            subject: self.subject.clone().unwrap_or_else(|| {
                // What was marked stays marked when the picture is turned.
                let by = geometry_turn(old.rotation(), self.rotation.unwrap_or(old.rotation()));
                footage.subject.as_ref().map(|subject| subject.turned(by))
            }),
            method: self.method.unwrap_or(footage.method),
            origin: footage.origin.clone(),
            still: self.still.as_ref().unwrap_or(&footage.still).clone(),
        }
        .without_lens_of_view())
    }

    /// Whether it sets something of a lens or of how it was held, which a view does not have.
    pub const fn is_of_lens(&self) -> bool {
        self.pixel_aspect.is_some() || self.squeeze.is_some() || self.rotation.is_some()
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
            words.push(format!("insets {}", cut.join("/")));
        }
        if let Some(rotation) = self.rotation {
            words.push(format!("rotate {}°", rotation.degrees()));
        }
        words.extend(signal_words(self.rate.as_ref(), self.scan.flatten(), self.signal_range.flatten()));
        if self.scan == Some(None) {
            words.push("scan unknown".to_owned());
        }
        if self.signal_range == Some(None) {
            words.push("range unknown".to_owned());
        }
        match self.playback {
            Some(Intent::EveryFrame) => words.push("play every frame".to_owned()),
            Some(Intent::RealTime) => words.push("real time".to_owned()),
            None => {}
        }
        if let Some(projection) = self.projection {
            words.push(projection.word().to_owned());
        }
        words.extend(self.sphere.as_ref().map(SphereForm::words));
        match &self.turn {
            Some(turn) if turn.is_none() => words.push("sphere not turned".to_owned()),
            Some(turn) => words.push(format!("sphere turned {}", turn.words())),
            None => {}
        }
        match self.on_sphere.as_deref() {
            Some([]) => words.push("no pictures on the sphere".to_owned()),
            Some(pictures) => words.push(format!("{} on the sphere", counted(pictures.len(), "picture"))),
            None => {}
        }
        match &self.view {
            Some(Some(view)) => {
                let wide = view.fov.value().to_short_decimal(1);
                words.push(format!("view {}, {wide}° wide", view.orientation.words()));
            }
            Some(None) => words.push("no view".to_owned()),
            None => {}
        }
        match (self.upright_known, self.rotation) {
            (Some(true), None) => words.push("upright as stored".to_owned()),
            (Some(false), _) => words.push("which way up is open".to_owned()),
            _ => {}
        }
        match self.deinterlace {
            Some(true) => words.push("deinterlace".to_owned()),
            Some(false) => words.push("keep the fields".to_owned()),
            None => {}
        }
        match self.rate_plan {
            Some(RatePlan::Drop) => words.push("drop or repeat at other rates".to_owned()),
            Some(RatePlan::Blend) => words.push("blend at other rates".to_owned()),
            Some(RatePlan::Open) => words.push("rates left open".to_owned()),
            None => {}
        }
        match self.range_plan {
            Some(RangePlan::Convert) => words.push("convert the range".to_owned()),
            Some(RangePlan::Declare) => words.push("declare the range".to_owned()),
            Some(RangePlan::Open) => words.push("range left open".to_owned()),
            None => {}
        }
        match &self.subject {
            Some(Some(_)) => words.push("mark the subject".to_owned()),
            Some(None) => words.push("no subject".to_owned()),
            None => {}
        }
        if let Some(method) = self.method {
            words.push(Placing::words_or(method, "the frame"));
        }
        match &self.still {
            Some(Some(still)) => words.push(still.words()),
            Some(None) => words.push("no still".to_owned()),
            None => {}
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

/// What is set of rate, scan and signal range, in words.
pub(super) fn signal_words(
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
