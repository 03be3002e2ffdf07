//! What standards and common practice have settled, as JSON for tables, each with its source.

use ratiomet_core::fraction::Written;
use ratiomet_core::published::{PIXEL_ASPECTS, RATIOS, SENSORS, SQUEEZES};
use ratiomet_core::safe_area::{Percent, SafeArea, Zone};
use ratiomet_core::space::Delivery;
use ratiomet_core::{DeliveryFrame, Exact, PixelAspect, Raster, Step};
use serde::Serialize;
use utoipa::ToSchema;

use crate::file::FileChoices;
use crate::number::{ExactNumber, RectResult};
use crate::problem::{FieldErrors, Problem, must_be};
use crate::project::PublishedGroup;

/// Everything that stands in a table before anything is calculated.
#[derive(Debug, Serialize, ToSchema)]
pub struct Tables {
    /// Ratios that are asked for, from the highest picture to the widest.
    pub ratios: Vec<RatioEntry>,
    /// Shapes in which cameras record, the widest first (common practice).
    pub sensors: Vec<SensorEntry>,
    /// How many times anamorphic lenses narrow the picture (common practice).
    pub squeezes: &'static [&'static str],
    /// The pixel shapes of ITU-T H.264, Table E-1.
    pub pixel_shapes: Vec<PixelShapeEntry>,
    /// Published frames by sort.
    pub frames: Vec<PublishedGroup>,
    /// The published safe areas.
    pub safe_areas: Vec<SafeAreaEntry>,
    /// What files can be made of.
    pub files: FileChoices,
}

/// A ratio that is asked for.
#[derive(Debug, Serialize, ToSchema)]
pub struct RatioEntry {
    /// As the trade writes it, to be put in a request.
    #[schema(example = "2.39")]
    pub ratio: &'static str,
    /// What it is used for.
    pub name: &'static str,
    /// Where it is laid down.
    pub source: &'static str,
}

/// The shape of a sensor.
#[derive(Debug, Serialize, ToSchema)]
pub struct SensorEntry {
    /// Its sides.
    #[schema(example = "3:2")]
    pub name: &'static str,
    /// Pixels across and down of a raster that has it.
    pub raster: [u32; 2],
}

/// A pixel shape of ITU-T H.264, Table E-1.
#[derive(Debug, Serialize, ToSchema)]
pub struct PixelShapeEntry {
    /// `aspect_ratio_idc`.
    pub idc: usize,
    /// Width to height of one pixel, to be put in a request.
    #[schema(example = "12:11")]
    pub pixel_aspect: String,
    /// Width over height of one pixel.
    pub ratio: ExactNumber,
}

/// One area of a rule for safe areas.
#[derive(Debug, Serialize, ToSchema)]
pub struct SafeAreaEntry {
    /// The rule and what the area is for.
    #[schema(example = "EBU R 95 action")]
    pub name: String,
    /// The part of both sides, in percent.
    pub percent: ExactNumber,
    /// Where it lies on published frames.
    pub on: Vec<SafeAreaPlace>,
    /// Where it is laid down.
    pub source: &'static str,
}

/// A safe area on one frame.
#[derive(Debug, Serialize, ToSchema)]
pub struct SafeAreaPlace {
    /// Pixels across and down of the frame.
    pub frame: [u32; 2],
    /// Pixels of that frame.
    pub rect: RectResult,
}

/// Frames on which safe areas are listed.
const SAFE_ON: [[u32; 2]; 4] = [[1920, 1080], [3840, 2160], [1080, 1920], [1080, 1080]];

/// Safe areas of one's own, and frames of one's own that they are shown on.
#[derive(Debug, Default)]
pub struct OwnSafeAreas {
    percents: Vec<Written<Percent>>,
    frames: Vec<[u32; 2]>,
}

impl OwnSafeAreas {
    /// The most of either.
    const MOST: usize = 24;

    /// Reads percents such as `88,80.5` and frames such as `2048x1080`, apart by commas.
    ///
    /// # Errors
    /// 422 with every part that is not accepted.
    pub fn read(percents: &str, frames: &str) -> Result<Self, Box<Problem>> {
        let mut own = Self::default();
        let mut errors = FieldErrors::default();
        let mut refuse = |of: &str, at: usize, detail: String| {
            errors.add(format!("/{of}/{at}"), must_be(&detail));
        };
        for (at, text) in parts(percents) {
            match Written::parse(text, Percent::parse) {
                Ok(percent) => own.percents.push(percent),
                Err(error) => refuse("safe", at, error.to_string()),
            }
        }
        for (at, text) in parts(frames) {
            let sides = text.split_once('x').and_then(|(w, h)| Some((w.parse().ok()?, h.parse().ok()?)));
            match sides.map(|(w, h)| Raster::<Delivery>::new(w, h).map(|_| [w, h])) {
                Some(Ok(frame)) => own.frames.push(frame),
                Some(Err(error)) => refuse("frames", at, error.to_string()),
                None => refuse("frames", at, "a frame such as 2048x1080".to_owned()),
            }
        }
        for (of, count) in [("safe", own.percents.len()), ("frames", own.frames.len())] {
            if count > Self::MOST {
                refuse(of, Self::MOST, format!("at most {}", Self::MOST));
            }
        }
        if errors.is_empty() { Ok(own) } else { Err(Problem::fields(errors).into()) }
    }
}

fn parts(list: &str) -> impl Iterator<Item = (usize, &str)> {
    list.split(',').map(str::trim).filter(|text| !text.is_empty()).enumerate()
}

impl Tables {
    /// All of it, with safe areas of one's own and frames of one's own that they lie on.
    pub fn with(own: &OwnSafeAreas) -> Self {
        let frames: Vec<[u32; 2]> = SAFE_ON.into_iter().chain(own.frames.iter().copied()).collect();
        let rules = SafeArea::PUBLISHED.into_iter().map(|(_, rule)| rule);
        let rules = rules.chain(own.percents.iter().cloned().map(SafeArea::Own));
        Self {
            ratios: RATIOS
                .iter()
                .map(|ratio| RatioEntry { ratio: ratio.ratio, name: ratio.name, source: ratio.source })
                .collect(),
            sensors: SENSORS.iter().map(|sensor| SensorEntry { name: sensor.name, raster: sensor.raster }).collect(),
            squeezes: SQUEEZES,
            pixel_shapes: PIXEL_ASPECTS.iter().enumerate().map(pixel_shape).collect(),
            frames: PublishedGroup::all(),
            safe_areas: rules.flat_map(|rule| areas(&rule, &frames)).collect(),
            files: FileChoices::all(),
        }
    }
}

fn pixel_shape((at, &(across, down)): (usize, &(u32, u32))) -> PixelShapeEntry {
    PixelShapeEntry {
        idc: at + 1,
        pixel_aspect: format!("{across}:{down}"),
        ratio: ExactNumber(Exact::whole(across) / Exact::whole(down)),
    }
}

fn areas(rule: &SafeArea, frames: &[[u32; 2]]) -> Vec<SafeAreaEntry> {
    let source = match rule {
        SafeArea::EbuR95 => "EBU R 95 (2017), safe areas for 16:9 (from memory)",
        SafeArea::SmpteSt2046 => "SMPTE ST 2046-1:2009, clause 5 (from memory)",
        SafeArea::Own(_) => "one's own",
    };
    let places: Vec<_> = frames
        .iter()
        .filter_map(|&[width, height]| {
            let raster = Raster::new(width, height).ok()?;
            let frame = DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::Two).ok()?;
            Some(([width, height], rule.zones(&frame)))
        })
        .collect();
    let Some((_, first)) = places.first() else {
        return Vec::new();
    };
    let area = |(at, zone): (usize, &Zone)| SafeAreaEntry {
        name: zone.name.clone(),
        percent: ExactNumber(zone.percent.clone()),
        on: places
            .iter()
            .filter_map(|(frame, zones)| {
                Some(SafeAreaPlace { frame: *frame, rect: zones.get(at)?.rect.clone().into() })
            })
            .collect(),
        source,
    };
    first.iter().enumerate().map(area).collect()
}
