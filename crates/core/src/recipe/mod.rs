//! [`Recipe`]: a conversion in whole pixels, ready to be carried out.
//!
//! A plan is exact; pictures are stored in whole pixels, and their colour often in pairs of them. A
//! recipe cuts, turns, scales, cuts again and pads, each time by whole steps of the chroma grid, so
//! that what comes out is the delivery raster with the picture where the plan puts it, and the
//! shape that it has there.

mod chroma;
mod laid;
mod track;

use std::fmt::Write as _;

use crate::error::Parameter;
use crate::resampling::Filter;
use crate::rotation::StoredAxis;
use crate::space::{Axis, Delivery, Rect, Size};
use crate::{DeliveryFrame, Error, Exact, Framing, Plan, Rotation, Source};

pub use chroma::Chroma;
use laid::{Laid, truest};
use track::Track;

/// One thing to do to a picture.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum RecipeStep {
    /// Keep a part.
    Crop {
        /// Pixels left of it.
        x: u32,
        /// Pixels above it.
        y: u32,
        /// Its pixels across.
        width: u32,
        /// Its pixels down.
        height: u32,
    },
    /// Turn it clockwise.
    Turn(Rotation),
    /// Give it another size.
    Scale {
        /// Pixels across.
        width: u32,
        /// Pixels down.
        height: u32,
    },
    /// Put it on black.
    Pad {
        /// Pixels across of the black.
        width: u32,
        /// Pixels down of the black.
        height: u32,
        /// Pixels of black left of the picture.
        x: u32,
        /// Pixels of black above it.
        y: u32,
    },
}

/// A conversion in whole pixels.
#[derive(Clone, Debug)]
pub struct Recipe {
    /// What to do, in order.
    pub steps: Vec<RecipeStep>,
    /// Where the whole active picture lands, in delivery pixels; it may pass the frame.
    pub image: Rect<Delivery>,
    /// Width to height of a circle against the plan's, less 1: what whole pixels cost.
    pub distortion: Exact,
    /// Width to height of one pixel of the outcome.
    pub pixel_aspect: Exact,
}

impl Recipe {
    /// The recipe of a plan.
    ///
    /// The outcome has exactly the frame's raster. Each edge of [`Recipe::image`] lies within a step of
    /// the chroma grid of the plan's, and what shows within 1.5 delivery pixels of its place. What the
    /// insets cut never shows.
    ///
    /// # Errors
    /// What [`Chroma::misfits`] finds in the frame; at `framing` when nothing shows, or when what shows must be enlarged past the largest side; at
    /// `active` when the insets leave no whole cell of the chroma grid.
    ///
    /// ```
    /// use ratiomet_core::recipe::{Chroma, Recipe};
    /// use ratiomet_core::*;
    /// let tape = Source::new(
    ///     Raster::new(720, 576)?,
    ///     PixelAspect::parse("12:11")?,
    ///     Squeeze::NONE,
    ///     Insets { left: 8, top: 4, right: 10, bottom: 6 },
    ///     Rotation::None,
    /// )?;
    /// let hd = DeliveryFrame::new(Raster::new(1920, 1080)?, PixelAspect::SQUARE, None, Step::Two)?;
    /// let recipe = Recipe::of(&tape, &hd, &Framing::of(Method::Fit), Chroma::Quarter)?;
    /// assert!(recipe.filter().starts_with("crop=702:566:8:4"));
    /// assert!(recipe.filter().ends_with("pad=1920:1080:230:0:black,setsar=sar=1/1:max=1"));
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(source: &Source, frame: &DeliveryFrame, framing: &Framing, chroma: Chroma) -> Result<Self, Error> {
        if let Some(misfit) = chroma.misfits(frame).into_iter().next() {
            return Err(misfit);
        }
        let plan = Plan::of(source, frame, framing);
        let visible = plan
            .image
            .intersection(&plan.picture_area.rect())
            .ok_or_else(|| Error::nothing_shown().at(Parameter::Framing))?;
        let raster = source.raster();
        let insets = source.active();
        // A raster off the grid is used whole where nothing of it must go.
        let off_grid = !raster.width().is_multiple_of(chroma.grid(Axis::X))
            || !raster.height().is_multiple_of(chroma.grid(Axis::Y));
        let whole = off_grid
            && plan.window.as_ref().is_some_and(|window| {
                window.size.width == Exact::whole(raster.width()) && window.size.height == Exact::whole(raster.height())
            });
        let rotation = source.rotation();
        let along = |axis, whole, further| {
            let StoredAxis { axis: stored, backwards } = rotation.stored_along(axis);
            let length = i64::from(raster.along(stored));
            // OK because insets are whole pixels.
            let (start, end) = (insets.start(stored).floor_whole(), insets.end(stored).floor_whole());
            let (start, end) = if backwards { (length - end, length - start) } else { (start, end) };
            Track {
                active: (start, end),
                source_grid: i64::from(chroma.grid(stored)),
                phase: if backwards { length } else { 0 },
                whole,
                grid: i64::from(chroma.grid(axis)),
                place: plan.image.start(axis).clone(),
                scale: plan.scale.of(axis).clone(),
                area: (
                    plan.picture_area.rect().start(axis).floor_whole(),
                    plan.picture_area.rect().end(axis).floor_whole(),
                ),
                visible: (visible.start(axis).clone(), visible.end(axis)),
            }
            .ways(further)
        };
        let both =
            |whole, further| Ok::<_, Error>(truest(along(Axis::X, whole, further)?, along(Axis::Y, whole, further)?));
        let (mut rank, [mut x, mut y]) = both(whole, false)?;
        if whole && [&x, &y].iter().any(|laid| laid.rank().broken > 0) {
            // Where whole pixels cannot be true to all of it, both axes are cut to their cells; not one alone.
            (rank, [x, y]) = both(false, false).unwrap_or((rank, [x, y]));
        }
        if rank.broken > 0 {
            let (better, ways) = both(false, true)?;
            if better < rank {
                [x, y] = ways;
            }
        }
        let image = Rect::new(x.image.0.clone(), y.image.0.clone(), Size::new(x.image.1.clone(), y.image.1.clone()));
        let distortion = (&x.scale / plan.scale.of(Axis::X)) / (&y.scale / plan.scale.of(Axis::Y)) - Exact::ONE;
        Ok(Self {
            steps: steps(source, frame, &x, &y),
            image,
            distortion: distortion.reduced(),
            pixel_aspect: frame.pixel_aspect().value().clone().reduced(),
        })
    }

    /// The same as a filter chain for the ffmpeg command line. It speaks of the picture as it is
    /// stored: a program that turns pictures by itself must be told not to.
    pub fn filter(&self) -> String {
        self.filter_by(Filter::default())
    }

    /// The same by another filter for resampling.
    pub fn filter_by(&self, filter: Filter) -> String {
        self.chain(scaler(filter))
    }

    /// The same for a picture of two fields, each of which is scaled by itself.
    pub fn filter_of_fields(&self, filter: Filter) -> String {
        self.chain(&format!("{}:interl=1", scaler(filter)))
    }

    /// Whether it cuts or places by an odd number of lines, or turns: then the fields change their order, or are none.
    pub fn disturbs_fields(&self) -> bool {
        self.steps.iter().any(|step| match step {
            RecipeStep::Crop { y, .. } | RecipeStep::Pad { y, .. } => y % 2 == 1,
            RecipeStep::Turn(rotation) => *rotation != Rotation::None,
            RecipeStep::Scale { .. } => false,
        })
    }

    fn chain(&self, scaling: &str) -> String {
        let mut chain = String::new();
        for step in &self.steps {
            // OK because writing to a string does not fail.
            let _ = match step {
                RecipeStep::Crop { x, y, width, height } => write!(chain, "crop={width}:{height}:{x}:{y},"),
                RecipeStep::Turn(Rotation::None) => Ok(()),
                RecipeStep::Turn(Rotation::Quarter) => write!(chain, "transpose=clock,"),
                RecipeStep::Turn(Rotation::Half) => write!(chain, "hflip,vflip,"),
                RecipeStep::Turn(Rotation::ThreeQuarters) => write!(chain, "transpose=cclock,"),
                RecipeStep::Scale { width, height } => {
                    write!(chain, "scale={width}:{height}:flags={scaling},")
                }
                RecipeStep::Pad { width, height, x, y } => write!(chain, "pad={width}:{height}:{x}:{y}:black,"),
            };
        }
        chain + &self.sample_aspect()
    }

    /// The filter that notes the shape of the pixels. The largest term is named, or a fraction with
    /// terms over 100 would be shortened.
    fn sample_aspect(&self) -> String {
        let text = self.pixel_aspect.to_string();
        let (across, down) = text.split_once('/').unwrap_or((&text, "1"));
        let term = |digits: &str| digits.parse::<u64>().unwrap_or(u64::MAX).min(LARGEST_TERM);
        format!("setsar=sar={across}/{down}:max={}", term(across).max(term(down)))
    }
}

/// A filter as the scaler of the ffmpeg command line calls it. It has one cubic, of B = 0 and C = 0.6: other ones can be
/// named, but versions of it cut their fractions off.
const fn scaler(filter: Filter) -> &'static str {
    match filter {
        Filter::Nearest => "neighbor",
        Filter::Bilinear => "bilinear",
        Filter::CatmullRom | Filter::Mitchell => "bicubic",
        Filter::Lanczos3 => "lanczos",
        Filter::Area => "area",
    }
}

/// The largest term of a sample aspect that the filter keeps.
const LARGEST_TERM: u64 = 2_147_483_647;

fn steps(source: &Source, frame: &DeliveryFrame, x: &Laid, y: &Laid) -> Vec<RecipeStep> {
    let pixels = |value: i64| u32::try_from(value).expect("a side of a raster, or a part of one");
    let (raster, rotation) = (source.raster(), source.rotation());
    let mut steps = Vec::new();
    // Where the cut begins, and how long it is, along an axis of the stored raster.
    let stored = |axis: Axis| {
        let upright = rotation.upright_along(axis);
        let (start, end) = if upright.axis == Axis::X { x.cut } else { y.cut };
        let first = if upright.backwards { i64::from(raster.along(axis)) - end } else { start };
        (pixels(first), pixels(end - start))
    };
    let ((left, width), (top, height)) = (stored(Axis::X), stored(Axis::Y));
    if (width, height) != (raster.width(), raster.height()) {
        steps.push(RecipeStep::Crop { x: left, y: top, width, height });
    }
    if rotation != Rotation::None {
        steps.push(RecipeStep::Turn(rotation));
    }
    let size = |laid: &Laid| laid.cut.1 - laid.cut.0;
    if (x.scaled, y.scaled) != (size(x), size(y)) {
        steps.push(RecipeStep::Scale { width: pixels(x.scaled), height: pixels(y.scaled) });
    }
    let kept = |laid: &Laid| laid.target.1 - laid.target.0;
    let (width, height) = (pixels(kept(x)), pixels(kept(y)));
    if (kept(x), kept(y)) != (x.scaled, y.scaled) {
        steps.push(RecipeStep::Crop { x: pixels(x.offset), y: pixels(y.offset), width, height });
    }
    let whole = frame.raster();
    if (width, height) != (whole.width(), whole.height()) {
        let (x, y) = (pixels(x.target.0), pixels(y.target.0));
        steps.push(RecipeStep::Pad { width: whole.width(), height: whole.height(), x, y });
    }
    steps
}
