//! [`FramePatch`]: what an edit sets in frames.

use super::source_patch::{other, signal_words};
use crate::file::FileSpec;
use crate::fraction::Written;
use crate::project::{Deliverable, FrameId, FrameSpec, Name, Note, Placing};
use crate::safe_area::SafeArea;
use crate::signal::{Projection, Scan, SignalRange};
use crate::space::Delivery;
use crate::sphere::SphereForm;
use crate::{DisplayRatio, Error, FrameRate, PixelAspect, Raster, Step};

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
    /// A flat picture, or a sphere.
    pub projection: Option<Projection>,
    /// How the sphere lies in it.
    pub sphere: Option<SphereForm>,
    /// The rules for its safe areas.
    pub safe_areas: Option<Vec<SafeArea>>,
    /// Ratios whose outline is drawn.
    pub guides: Option<Vec<Written<DisplayRatio>>>,
    /// The working frame through which pictures reach it, or none.
    pub through: Option<Option<FrameId>>,
    /// A method of its own, or none.
    pub method: Option<Option<Placing>>,
    /// How their files are made, or nothing of it.
    pub file: Option<Option<FileSpec>>,
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
            projection: other(&before.projection, &after.projection),
            sphere: other(&before.sphere, &after.sphere),
            safe_areas: other(&before.safe_areas, &after.safe_areas),
            guides: other(&before.guides, &after.guides),
            through: other(&before.through, &after.through),
            method: other(&before.method, &after.method),
            file: other(&before.file, &after.file),
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
            projection: self.projection.unwrap_or(frame.projection),
            sphere: self.sphere.as_ref().unwrap_or(&frame.sphere).clone(),
            safe_areas: self.safe_areas.as_ref().unwrap_or(&frame.safe_areas).clone(),
            guides: self.guides.as_ref().unwrap_or(&frame.guides).clone(),
            through: self.through.unwrap_or(frame.through),
            method: self.method.unwrap_or(frame.method),
            file: self.file.as_ref().unwrap_or(&frame.file).clone(),
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
            Some(None) => words.push("whole frame visible".to_owned()),
            None => {}
        }
        if let Some(step) = self.step {
            words.push(format!("step {}", step.pixels()));
        }
        words.extend(signal_words(self.rate.as_ref(), self.scan, self.signal_range));
        if let Some(projection) = self.projection {
            words.push(projection.word().to_owned());
        }
        words.extend(self.sphere.as_ref().map(SphereForm::words));
        if self.safe_areas.is_some() {
            words.push("safe areas".to_owned());
        }
        if let Some(guides) = &self.guides {
            let ratios: Vec<_> = guides.iter().map(Written::text).collect();
            words.push(format!("guides {}", if ratios.is_empty() { "none".to_owned() } else { ratios.join(" ") }));
        }
        match self.through {
            Some(Some(_)) => words.push("made from a working frame".to_owned()),
            Some(None) => words.push("made from the source".to_owned()),
            None => {}
        }
        if let Some(method) = self.method {
            words.push(Placing::words_or(method, "the board"));
        }
        match &self.file {
            Some(Some(file)) => words.push(format!("file {}", file.words())),
            Some(None) => words.push("file open".to_owned()),
            None => {}
        }
        if self.note.is_some() {
            words.push("note".to_owned());
        }
        words.join(", ")
    }
}
