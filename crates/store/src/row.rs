//! Rows of the tables, and their way to and from the core's types.

use diesel::prelude::*;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::{
    Choice, Deliverable, Footage, FrameSpec, FramingSpec, Name, Note, Scan, SignalRange, SourceSpec,
};
use ratiomet_core::{
    DisplayRatio, Error, FrameRate, Insets, Method, PixelAspect, Raster, Rotation, Shift, Squeeze, Step, Zoom,
};

use crate::error::StoreError;
use crate::schema::{conversions, frames, sources};

#[derive(Insertable, AsChangeset)]
#[diesel(table_name = sources, treat_none_as_null = true)]
pub(crate) struct SourceValues {
    name: String,
    note: String,
    width: i32,
    height: i32,
    pixel_aspect: String,
    squeeze: String,
    inset_left: i32,
    inset_top: i32,
    inset_right: i32,
    inset_bottom: i32,
    rotation: i32,
    rate: Option<String>,
    scan: &'static str,
    signal_range: &'static str,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = sources)]
pub(crate) struct SourceRow {
    pub id: i32,
    pub project_id: i32,
    pub version: i32,
    name: String,
    note: String,
    width: i32,
    height: i32,
    pixel_aspect: String,
    squeeze: String,
    inset_left: i32,
    inset_top: i32,
    inset_right: i32,
    inset_bottom: i32,
    rotation: i32,
    rate: Option<String>,
    scan: String,
    signal_range: String,
    pub deleted_at: Option<i64>,
}

#[derive(Insertable, AsChangeset)]
#[diesel(table_name = frames, treat_none_as_null = true)]
pub(crate) struct FrameValues {
    name: String,
    note: String,
    width: i32,
    height: i32,
    pixel_aspect: String,
    picture_ratio: Option<String>,
    step: i32,
    default_method: &'static str,
    rate: Option<String>,
    scan: &'static str,
    signal_range: &'static str,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = frames)]
pub(crate) struct FrameRow {
    pub id: i32,
    pub project_id: i32,
    pub version: i32,
    name: String,
    note: String,
    width: i32,
    height: i32,
    pixel_aspect: String,
    picture_ratio: Option<String>,
    step: i32,
    default_method: String,
    rate: Option<String>,
    scan: String,
    signal_range: String,
    pub deleted_at: Option<i64>,
}

#[derive(Insertable, AsChangeset)]
#[diesel(table_name = conversions, treat_none_as_null = true)]
pub(crate) struct ConversionValues {
    method: Option<&'static str>,
    zoom: String,
    shift_x: String,
    shift_y: String,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = conversions)]
pub(crate) struct ConversionRow {
    pub source_id: i32,
    pub frame_id: i32,
    pub version: i32,
    method: Option<String>,
    zoom: String,
    shift_x: String,
    shift_y: String,
}

/// A whole number of the core as SQLite keeps it.
fn stored(value: u32) -> i32 {
    // OK because every raster, inset, step and turn of the core is far below `i32::MAX`.
    i32::try_from(value).unwrap_or(i32::MAX)
}

fn from_word<T: Copy, const N: usize>(all: [T; N], spell: fn(T) -> &'static str, word: &str) -> Result<T, String> {
    all.into_iter().find(|known| spell(*known) == word).ok_or_else(|| format!("the word {word} is not known"))
}

fn method(word: &str) -> Result<Method, String> {
    from_word(Method::ALL, Method::word, word)
}

fn whole(value: i32) -> Result<u32, String> {
    u32::try_from(value).map_err(|_| format!("{value} is negative"))
}

fn written<T>(text: &str, rule: impl FnOnce(&str) -> Result<T, Error>) -> Result<Written<T>, String> {
    Written::parse(text, rule).map_err(|error| error.to_string())
}

fn rate(text: Option<&str>) -> Result<Option<Written<FrameRate>>, String> {
    text.map(|text| written(text, FrameRate::parse)).transpose()
}

fn titles(name: &str, note: &str) -> Result<(Name, Note), String> {
    Ok((Name::new(name).ok_or("its name is not sound")?, Note::new(note).ok_or("its note is not sound")?))
}

impl From<&Footage> for SourceValues {
    fn from(footage: &Footage) -> Self {
        let geometry = &footage.geometry;
        let insets = geometry.insets();
        Self {
            name: footage.name.as_str().to_owned(),
            note: footage.note.as_str().to_owned(),
            width: stored(geometry.raster().width()),
            height: stored(geometry.raster().height()),
            pixel_aspect: geometry.pixel_aspect().text().to_owned(),
            squeeze: geometry.squeeze().text().to_owned(),
            inset_left: stored(insets.left),
            inset_top: stored(insets.top),
            inset_right: stored(insets.right),
            inset_bottom: stored(insets.bottom),
            rotation: stored(geometry.rotation().degrees()),
            rate: footage.rate.as_ref().map(|rate| rate.text().to_owned()),
            scan: footage.scan.word(),
            signal_range: footage.signal_range.word(),
        }
    }
}

impl SourceRow {
    pub fn footage(&self) -> Result<Footage, StoreError> {
        self.read().map_err(|why| StoreError::Corrupt { table: "sources", id: self.id, why })
    }

    fn read(&self) -> Result<Footage, String> {
        let text = |error: Error| error.to_string();
        let insets = Insets {
            left: whole(self.inset_left)?,
            top: whole(self.inset_top)?,
            right: whole(self.inset_right)?,
            bottom: whole(self.inset_bottom)?,
        };
        let geometry = SourceSpec::new(
            Raster::new(whole(self.width)?, whole(self.height)?).map_err(text)?,
            written(&self.pixel_aspect, PixelAspect::parse)?,
            written(&self.squeeze, Squeeze::parse)?,
            insets,
            Rotation::new(whole(self.rotation)?).map_err(text)?,
        );
        let (name, note) = titles(&self.name, &self.note)?;
        Ok(Footage {
            name,
            note,
            geometry: geometry.map_err(text)?,
            rate: rate(self.rate.as_deref())?,
            scan: from_word(Scan::ALL, Scan::word, &self.scan)?,
            signal_range: from_word(SignalRange::ALL, SignalRange::word, &self.signal_range)?,
        })
    }
}

impl From<&Deliverable> for FrameValues {
    fn from(frame: &Deliverable) -> Self {
        let geometry = &frame.geometry;
        let raster = geometry.frame().raster();
        Self {
            name: frame.name.as_str().to_owned(),
            note: frame.note.as_str().to_owned(),
            width: stored(raster.width()),
            height: stored(raster.height()),
            pixel_aspect: geometry.pixel_aspect().text().to_owned(),
            picture_ratio: geometry.picture_ratio().map(|ratio| ratio.text().to_owned()),
            step: stored(geometry.frame().step().pixels()),
            default_method: frame.default_method.word(),
            rate: frame.rate.as_ref().map(|rate| rate.text().to_owned()),
            scan: frame.scan.word(),
            signal_range: frame.signal_range.word(),
        }
    }
}

impl FrameRow {
    pub fn deliverable(&self) -> Result<Deliverable, StoreError> {
        self.read().map_err(|why| StoreError::Corrupt { table: "frames", id: self.id, why })
    }

    fn read(&self) -> Result<Deliverable, String> {
        let text = |error: Error| error.to_string();
        let picture_ratio = self.picture_ratio.as_deref().map(|ratio| written(ratio, DisplayRatio::parse));
        let geometry = FrameSpec::new(
            Raster::new(whole(self.width)?, whole(self.height)?).map_err(text)?,
            written(&self.pixel_aspect, PixelAspect::parse)?,
            picture_ratio.transpose()?,
            Step::new(whole(self.step)?).map_err(text)?,
        );
        let (name, note) = titles(&self.name, &self.note)?;
        Ok(Deliverable {
            name,
            note,
            geometry: geometry.map_err(text)?,
            rate: rate(self.rate.as_deref())?,
            scan: from_word(Scan::ALL, Scan::word, &self.scan)?,
            signal_range: from_word(SignalRange::ALL, SignalRange::word, &self.signal_range)?,
            default_method: method(&self.default_method)?,
        })
    }
}

impl From<&Choice> for ConversionValues {
    fn from(choice: &Choice) -> Self {
        let (method, framing) = match choice {
            Choice::Follows => (None, FramingSpec::of(Method::default())),
            Choice::Own(framing) => (Some(framing.method.word()), framing.clone()),
        };
        Self {
            method,
            zoom: framing.zoom.text().to_owned(),
            shift_x: framing.shift_x.text().to_owned(),
            shift_y: framing.shift_y.text().to_owned(),
        }
    }
}

impl ConversionRow {
    pub fn choice(&self) -> Result<Choice, StoreError> {
        self.read().map_err(|why| StoreError::Corrupt { table: "conversions", id: self.source_id, why })
    }

    fn read(&self) -> Result<Choice, String> {
        let Some(word) = self.method.as_deref() else {
            return Ok(Choice::Follows);
        };
        Ok(Choice::Own(FramingSpec {
            method: method(word)?,
            zoom: written(&self.zoom, Zoom::parse)?,
            shift_x: written(&self.shift_x, Shift::parse)?,
            shift_y: written(&self.shift_y, Shift::parse)?,
        }))
    }
}
