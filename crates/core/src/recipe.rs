//! [`Recipe`]: a conversion in whole pixels, ready to be carried out.
//!
//! A plan is exact; pictures are stored in whole pixels, and their colour often in pairs of them. A
//! recipe cuts, turns, scales, cuts again and pads, each time by whole steps of the chroma grid, so
//! that what comes out is the delivery raster with the picture where the plan puts it, and the
//! shape that it has there.

use std::fmt::Write as _;

use crate::limits::LARGEST_SIDE;
use crate::space::{Axis, Delivery, Rect, Size};
use crate::{DeliveryFrame, Error, Exact, Framing, Plan, Rotation, Source};

/// How many pixels share one sample of colour.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Chroma {
    /// 4:2:0, two columns and two lines.
    #[default]
    Quarter,
    /// 4:2:2, two columns.
    Half,
    /// 4:4:4, none.
    Full,
}

impl Chroma {
    /// Every sampling by its word.
    pub const ALL: [(&'static str, Self); 3] = [("4:2:0", Self::Quarter), ("4:2:2", Self::Half), ("4:4:4", Self::Full)];

    /// The word of it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Quarter => "4:2:0",
            Self::Half => "4:2:2",
            Self::Full => "4:4:4",
        }
    }

    /// Pixels to a sample of colour along an axis of the stored raster.
    pub const fn grid(self, axis: Axis) -> u32 {
        match (self, axis) {
            (Self::Quarter, _) | (Self::Half, Axis::X) => 2,
            _ => 1,
        }
    }

    /// Accepts a side of a frame that lies on the grid.
    ///
    /// # Errors
    /// For a side that does not.
    pub fn check_side(self, axis: Axis, side: u32) -> Result<(), Error> {
        if side.is_multiple_of(self.grid(axis)) { Ok(()) } else { Err(Error::chroma(self.word(), side)) }
    }

    /// Accepts the step of a frame whose bars then lie on the grid.
    ///
    /// # Errors
    /// For a step that is no multiple of the grid.
    pub fn check_step(self, step: crate::Step) -> Result<(), Error> {
        self.check_side(Axis::X, step.pixels())
    }
}

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
    /// insets cut never shows. A frame off the grid ([`Chroma::check_side`]) is not for this.
    ///
    /// # Errors
    /// At `framing` when nothing shows, or when what shows must be enlarged past the largest side; at
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
        let plan = Plan::of(source, frame, framing);
        let visible =
            plan.image.intersection(&plan.picture_area.rect()).ok_or_else(|| Error::nothing_shown().at("framing"))?;
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
        let along = |axis| {
            let (stored, backwards) = stored_axis(rotation, axis);
            let length = i64::from(match stored {
                Axis::X => raster.width(),
                Axis::Y => raster.height(),
            });
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
            .ways()
        };
        let (x, y) = truest(&along(Axis::X)?, &along(Axis::Y)?);
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
        let mut chain = String::new();
        for step in &self.steps {
            // OK because writing to a string does not fail.
            let _ = match step {
                RecipeStep::Crop { x, y, width, height } => write!(chain, "crop={width}:{height}:{x}:{y},"),
                RecipeStep::Turn(Rotation::None) => Ok(()),
                RecipeStep::Turn(Rotation::Quarter) => write!(chain, "transpose=clock,"),
                RecipeStep::Turn(Rotation::Half) => write!(chain, "hflip,vflip,"),
                RecipeStep::Turn(Rotation::ThreeQuarters) => write!(chain, "transpose=cclock,"),
                RecipeStep::Scale { width, height } => write!(chain, "scale={width}:{height}:flags=lanczos,"),
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

/// The largest term of a sample aspect that the filter keeps.
const LARGEST_TERM: u64 = 2_147_483_647;

/// The stored axis that runs along an axis of the delivery, and whether it runs backwards.
const fn stored_axis(rotation: Rotation, axis: Axis) -> (Axis, bool) {
    match (rotation, axis) {
        (Rotation::None, Axis::X) => (Axis::X, false),
        (Rotation::None, Axis::Y) => (Axis::Y, false),
        (Rotation::Half, Axis::X) => (Axis::X, true),
        (Rotation::Half, Axis::Y) => (Axis::Y, true),
        (Rotation::Quarter, Axis::X) => (Axis::Y, true),
        (Rotation::Quarter, Axis::Y) => (Axis::X, false),
        (Rotation::ThreeQuarters, Axis::X) => (Axis::Y, false),
        (Rotation::ThreeQuarters, Axis::Y) => (Axis::X, true),
    }
}

/// What a plan asks for along one axis of the delivery. Source positions count turned pixels.
struct Track {
    /// Where the active picture begins and ends.
    active: (i64, i64),
    /// Turned pixels to a sample of colour, and where that grid begins.
    source_grid: i64,
    phase: i64,
    /// Whether nothing may be cut.
    whole: bool,
    /// Delivery pixels to a sample of colour.
    grid: i64,
    /// Where the active picture begins, in delivery pixels.
    place: Exact,
    /// Delivery pixels to a source pixel.
    scale: Exact,
    /// Where the picture area begins and ends.
    area: (i64, i64),
    /// Where the picture is seen in it.
    visible: (Exact, Exact),
}

/// What is done along one axis.
#[derive(Clone, Debug)]
struct Laid {
    /// What is cut from the source, before scaling: start and end.
    cut: (i64, i64),
    /// The pixels that this becomes.
    scaled: i64,
    /// The pixels left off before what is kept of that.
    offset: i64,
    /// Where that lands in the delivery: start and end.
    target: (i64, i64),
    /// Delivery pixels to a source pixel, as it comes out.
    scale: Exact,
    /// Where the active picture begins and how long it is, in delivery pixels.
    image: (Exact, Exact),
    /// How far places are from the plan's, in parts of what is allowed.
    miss: Exact,
    /// Picture left off though its own edge is seen, in parts of 1.5 delivery pixels.
    lost: Exact,
    /// The scale over the plan's.
    shape: Exact,
}

impl Laid {
    /// Truth of one axis by itself.
    fn rank(&self) -> Rank {
        Rank::of(&self.miss, &(self.shape_off() * Exact::whole(500)).max(self.lost.clone()), self.scaled)
    }

    /// Pixels that show, of the source or of the delivery.
    fn fewest(&self) -> Exact {
        let kept = Exact::from(self.target.1 - self.target.0);
        (&kept / &self.scale).min(kept)
    }

    fn shape_off(&self) -> Exact {
        (&self.shape - Exact::ONE).abs()
    }
}

/// How good a way is, the best first: how far promises are broken, then truth in eighths of what is
/// allowed, then work.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
struct Rank {
    broken: i64,
    off: i64,
    work: i64,
}

impl Rank {
    fn of(promised: &Exact, wished: &Exact, work: i64) -> Self {
        let eighths = |part: &Exact| (part * Exact::whole(8)).floor_whole();
        let broken = if *promised < Exact::ONE { 0 } else { eighths(promised) };
        Self { broken, off: eighths(promised).max(eighths(wished)), work }
    }

    /// Whether it is not worth to look further.
    fn is_good(self) -> bool {
        self.off <= 3
    }
}

/// The ways of both axes that are truest together: a circle cares for both.
fn truest(x: &[Laid], y: &[Laid]) -> (Laid, Laid) {
    let rank = |x: &Laid, y: &Laid| {
        let round = (&x.shape / &y.shape - Exact::ONE).abs() / roundness(x.fewest().min(y.fewest()));
        let work = x.scaled.saturating_mul(y.scaled);
        let lost = x.lost.clone().max(y.lost.clone());
        let each = [&x.miss, &y.miss, &round].map(|promised| Rank::of(promised, &lost, work));
        let off = each.iter().map(|rank| rank.off).max().unwrap_or_default();
        let mut rank = Rank { broken: each.iter().map(|rank| rank.broken).sum(), off, work };
        let made = (x.target.1 - x.target.0).saturating_mul(y.target.1 - y.target.0);
        if work > LARGE_PICTURE.max(2 * made) {
            rank.broken += i64::from(LARGEST_SIDE);
        }
        rank
    };
    let (mut best, mut least) = ((&x[0], &y[0]), rank(&x[0], &y[0]));
    if least.broken > 0 || !least.is_good() {
        for pair in x.iter().flat_map(|x| y.iter().map(move |y| (x, y))) {
            let rank = rank(pair.0, pair.1);
            if rank < least {
                (best, least) = (pair, rank);
            }
        }
    }
    (best.0.clone(), best.1.clone())
}

/// How far from round a circle may come out where so few pixels show: a step of the grid, or 1/500.
fn roundness(fewest: Exact) -> Exact {
    if fewest < Exact::whole(250) { Exact::whole(2) / fewest } else { Exact::fraction(1, 500) }
}

/// How many ways of an axis are paired with those of the other one.
const KEPT: usize = 24;

/// How many cells further than needed a cut may reach, so that whole pixels agree better.
const REACH: [i64; 18] = [0, 1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64, 96, 128, 256, 512, 1024];
/// How many lengths of a cut are looked at where none of the first ones is true enough.
const MOST_LENGTHS: usize = 4096;
/// A picture of more pixels is made between only where nothing smaller will do: software has limits.
const LARGE_PICTURE: i64 = 1 << 27;

impl Track {
    /// The ways within the bounds, the truest first; of ways that are as true the one that scales least.
    fn ways(&self) -> Result<Vec<Laid>, Error> {
        let (from, to) = self.inner()?;
        let mut ways: Vec<(Rank, Laid)> = Vec::new();
        let targets = self.targets((from, to));
        for &(start, end) in &targets {
            let needed = (self.source_at(start), self.source_at(end));
            let first = self.cell_before(&needed.0).clamp(from, (to - self.source_grid).max(from));
            let last = self.cell_after(&needed.1).clamp((first + self.source_grid).min(to), to);
            let widest = (first - from).max(to - last) / self.source_grid;
            for reach in REACH.into_iter().filter(|reach| *reach < widest).chain([widest]) {
                // A little further in is worth a look where the picture ends inside the frame.
                let further_in = if reach == 0 { &[(-1, 0), (0, -1), (-1, -1)][..] } else { &[] };
                for (before, after) in [(reach, reach), (reach, 0), (0, reach)].iter().chain(further_in) {
                    let cut =
                        ((first - before * self.source_grid).max(from), (last + after * self.source_grid).min(to));
                    if cut.0 < cut.1 && (!self.whole || cut == self.active) {
                        ways.extend(self.scaled(cut, (start, end)).into_iter().map(|laid| (laid.rank(), laid)));
                    }
                }
                if ways.iter().any(|(rank, _)| rank.off == 0 || (reach >= 4 && rank.is_good())) {
                    break;
                }
            }
        }
        if ways.iter().all(|(rank, _)| rank.broken > 0) {
            for &target in &targets {
                for cut in self.lengths((from, to), target) {
                    ways.extend(self.scaled(cut, target).into_iter().map(|laid| (laid.rank(), laid)));
                }
            }
        }
        if ways.is_empty() {
            return Err(Error::too_large("scaled picture").at("framing"));
        }
        ways.sort_by_key(|(rank, _)| *rank);
        Ok(ways.into_iter().map(|(_, laid)| laid).take(KEPT).collect())
    }

    /// The active picture without the parts of cells at its ends.
    fn inner(&self) -> Result<(i64, i64), Error> {
        if self.whole {
            return Ok(self.active);
        }
        let before = |at: i64| at - (at - self.phase).rem_euclid(self.source_grid);
        let (from, to) = (before(self.active.0 + self.source_grid - 1), before(self.active.1));
        if from < to { Ok((from, to)) } else { Err(Error::no_cell().at("source.active")) }
    }

    /// The lines of the delivery's grid between which the picture may show, those of the plan first.
    fn targets(&self, (from, to): (i64, i64)) -> Vec<(i64, i64)> {
        let grid = Exact::from(self.grid);
        let lines = |at: &Exact, edge: i64, whole_cells: i64| {
            // A sliver beside the picture that is thinner than half a step is none.
            if (at - Exact::from(edge)).abs() < grid.half() {
                return vec![edge];
            }
            // The picture's own edge, and that of its whole cells.
            let mut lines: Vec<i64> = [at.clone(), self.delivery_at(&Exact::from(whole_cells))]
                .iter()
                .map(|at| at / &grid)
                .flat_map(|at| [at.floor_whole(), at.ceil_whole()])
                .map(|line| line.saturating_mul(self.grid))
                .collect();
            lines.dedup();
            lines
        };
        let (starts, ends) = (lines(&self.visible.0, self.area.0, from), lines(&self.visible.1, self.area.1, to));
        let mut targets: Vec<(i64, i64)> = Vec::new();
        for &start in &starts {
            for &end in &ends {
                if start >= self.area.0 && end <= self.area.1 && start < end {
                    targets.push((start, end));
                }
            }
        }
        if targets.is_empty() {
            // Thinner than a step, or beside a line: one step about its middle.
            let middle = (&self.visible.0 + &self.visible.1).half();
            let start =
                ((&middle / &grid).floor_whole().saturating_mul(self.grid)).clamp(self.area.0, self.area.1 - self.grid);
            targets.push((start, start + self.grid));
        }
        targets
    }

    /// Cuts of lengths that become whole steps of the delivery almost by themselves: what is far outside
    /// the frame is then where the plan has it, too.
    fn lengths(&self, (from, to): (i64, i64), target: (i64, i64)) -> Vec<(i64, i64)> {
        let first = self.cell_before(&self.source_at(target.0)).max(from);
        let last = self.cell_after(&self.source_at(target.1)).min(to);
        let grid = Exact::from(self.grid);
        let mut found: Vec<(Exact, i64)> = Vec::new();
        let needed = ((last - first) / self.source_grid).max(1);
        for cells in (needed..=(to - from) / self.source_grid).take(MOST_LENGTHS) {
            let length = Exact::from(cells * self.source_grid);
            let steps = &length * &self.scale / &grid;
            if steps > Exact::from(i64::from(LARGEST_SIDE) / self.grid) {
                break;
            }
            let nearest = Exact::from((&steps + Exact::fraction(1, 2)).floor_whole());
            found.push((((nearest - steps).abs() / length).reduced(), cells * self.source_grid));
        }
        found.sort();
        let starts = |length: i64| {
            let earliest = (last - length).max(from);
            (0..4).map(move |cells| (earliest + cells * self.source_grid, length))
        };
        let fits = |&(start, length): &(i64, i64)| start <= first && start + length <= to && start + length >= last;
        let cuts = found.into_iter().take(12).flat_map(|(_, length)| starts(length)).filter(fits);
        cuts.map(|(start, length)| (start, start + length)).collect()
    }

    /// The source position that the plan puts at a delivery pixel's edge.
    fn source_at(&self, delivery: i64) -> Exact {
        ((Exact::from(delivery) - &self.place) / &self.scale + Exact::from(self.active.0)).reduced()
    }

    /// Where the plan puts a source position.
    fn delivery_at(&self, source: &Exact) -> Exact {
        &self.place + (source - Exact::from(self.active.0)) * &self.scale
    }

    fn cell_before(&self, at: &Exact) -> i64 {
        let whole = at.floor_whole();
        whole - (whole - self.phase).rem_euclid(self.source_grid)
    }

    fn cell_after(&self, at: &Exact) -> i64 {
        let whole = at.ceil_whole();
        whole + (self.phase - whole).rem_euclid(self.source_grid)
    }

    /// The ways to scale a cut so that it covers a part of the delivery.
    fn scaled(&self, cut: (i64, i64), target: (i64, i64)) -> Vec<Laid> {
        let (length, kept) = (cut.1 - cut.0, target.1 - target.0);
        let wanted = Exact::from(length) * &self.scale / Exact::from(self.grid);
        let below = wanted.floor_whole().saturating_mul(self.grid);
        let above = wanted.ceil_whole().saturating_mul(self.grid);
        let mut ways = Vec::new();
        for scaled in [below, above, kept] {
            if scaled < kept || scaled > i64::from(LARGEST_SIDE) {
                continue;
            }
            let scale = (Exact::from(scaled) / Exact::from(length)).reduced();
            // Where the kept part should begin, by the middle of what is seen.
            let middle = (self.source_at(target.0) + self.source_at(target.1)).half();
            let offset = (middle - Exact::from(cut.0)) * &scale - Exact::from(kept).half();
            let nearest = (offset / Exact::from(self.grid) + Exact::fraction(1, 2)).floor_whole() * self.grid;
            let offset = nearest.clamp(0, scaled - kept);
            let begin = (Exact::from(target.0 - offset) - Exact::from(cut.0 - self.active.0) * &scale).reduced();
            let whole = (Exact::from(self.active.1 - self.active.0) * &scale).reduced();
            let mut laid = Laid {
                cut,
                scaled,
                offset,
                target,
                shape: (&scale / &self.scale).reduced(),
                scale,
                image: (begin, whole),
                miss: Exact::ZERO,
                lost: Exact::ZERO,
            };
            (laid.miss, laid.lost) = self.misses(&laid);
            ways.push(laid);
        }
        ways
    }

    /// How far a way is from the plan, in parts of what is allowed: 1.5 delivery pixels for what shows,
    /// a step of the grid for the picture's edges. And what it loses.
    fn misses(&self, laid: &Laid) -> (Exact, Exact) {
        let (begin, length) = &laid.image;
        let at = |source: &Exact| begin + (source - Exact::from(self.active.0)) * &laid.scale;
        let first = Exact::from(laid.cut.0) + Exact::from(laid.offset) / &laid.scale;
        let last = &first + Exact::from(laid.target.1 - laid.target.0) / &laid.scale;
        // Where half a cell had to go, one source pixel more is allowed.
        let more = match self.inner() {
            Ok(inner) if inner == self.active => Exact::ZERO,
            _ => self.scale.clone(),
        };
        let allowed = Exact::fraction(3, 2) + &more;
        let shown = |source: &Exact| (at(source) - self.delivery_at(source)).abs() / &allowed;
        let whole = Exact::from(self.active.1 - self.active.0) * &self.scale;
        let grid = Exact::from(self.grid);
        let edges = (begin - &self.place).abs().max((begin + length - &self.place - whole).abs()) / (&grid + &more);
        // Picture that is left off though its own edge is seen in the plan.
        let lost = |own_edge: bool, length: Exact| {
            if own_edge { length * &self.scale / Exact::fraction(3, 2) } else { Exact::ZERO }
        };
        let before = lost(self.visible.0 > Exact::from(self.area.0), &first - Exact::from(self.active.0));
        let after = lost(self.visible.1 < Exact::from(self.area.1), Exact::from(self.active.1) - &last);
        (shown(&first).max(shown(&last)).max(edges).reduced(), before.max(after).reduced())
    }
}

fn steps(source: &Source, frame: &DeliveryFrame, x: &Laid, y: &Laid) -> Vec<RecipeStep> {
    // OK because all of these are sides of rasters and parts of them.
    let pixels = |value: i64| u32::try_from(value).unwrap_or_default();
    let (raster, rotation) = (source.raster(), source.rotation());
    let mut steps = Vec::new();
    let stored = |axis: Axis, length: u32| {
        // The delivery axis that the stored one runs along.
        let laid = if stored_axis(rotation, Axis::X).0 == axis { x } else { y };
        let (_, backwards) = stored_axis(rotation, if std::ptr::eq(laid, x) { Axis::X } else { Axis::Y });
        let (start, end) = laid.cut;
        let length = i64::from(length);
        if backwards { (length - end, end - start) } else { (start, end - start) }
    };
    let (across, down) = (stored(Axis::X, raster.width()), stored(Axis::Y, raster.height()));
    let (width, height) = (pixels(across.1), pixels(down.1));
    if (width, height) != (raster.width(), raster.height()) {
        steps.push(RecipeStep::Crop { x: pixels(across.0), y: pixels(down.0), width, height });
    }
    if rotation != Rotation::None {
        steps.push(RecipeStep::Turn(rotation));
    }
    let size = |laid: &Laid| laid.cut.1 - laid.cut.0;
    if (x.scaled, y.scaled) != (size(x), size(y)) {
        steps.push(RecipeStep::Scale { width: pixels(x.scaled), height: pixels(y.scaled) });
    }
    let kept = |laid: &Laid| laid.target.1 - laid.target.0;
    if (kept(x), kept(y)) != (x.scaled, y.scaled) {
        let (width, height) = (pixels(kept(x)), pixels(kept(y)));
        steps.push(RecipeStep::Crop { x: pixels(x.offset), y: pixels(y.offset), width, height });
    }
    let (width, height) = (frame.raster().width(), frame.raster().height());
    if (pixels(kept(x)), pixels(kept(y))) != (width, height) {
        steps.push(RecipeStep::Pad { width, height, x: pixels(x.target.0), y: pixels(y.target.0) });
    }
    steps
}
