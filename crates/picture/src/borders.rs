//! [`find`]: black edges of a picture, measured to the pixel.

use image::DynamicImage;

use crate::resample::{Sample, each_depth};
use crate::{Problem, Still};

/// Black edges of a picture.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Borders {
    /// Stored pixels left, top, right, bottom.
    pub insets: [u32; 4],
    /// How sure each of them is, 0 to 1.
    pub sides: [f64; 4],
}

impl Borders {
    /// How sure all of them are: as sure as the least.
    pub fn confidence(&self) -> f64 {
        self.sides.into_iter().fold(1.0, f64::min)
    }
}

/// Levels of a picture: its brightest channel, 0 to 255.
struct Levels {
    width: usize,
    height: usize,
    values: Vec<f32>,
}

impl Levels {
    fn of(picture: &DynamicImage) -> Self {
        fn levels<P: image::Pixel>(picture: &image::ImageBuffer<P, Vec<P::Subpixel>>) -> Vec<f32>
        where
            P::Subpixel: Sample,
        {
            let channels = usize::from(P::CHANNEL_COUNT);
            let colours = if matches!(channels, 2 | 4) { channels - 1 } else { channels };
            let scale = 255.0 / P::Subpixel::FULL;
            let brightest = |pixel: &[P::Subpixel]| {
                pixel[..colours].iter().map(|sample| sample.number() * scale).fold(0.0, f32::max)
            };
            picture.as_raw().chunks_exact(channels).map(brightest).collect()
        }
        let (width, height) = (picture.width() as usize, picture.height() as usize);
        Self { width, height, values: each_depth!(picture, samples => levels(samples)) }
    }

    /// The brighter of two pictures, point by point.
    fn join(&mut self, other: &Self) {
        for (one, other) in self.values.iter_mut().zip(&other.values) {
            *one = one.max(*other);
        }
    }

    fn at(&self, side: Side, deep: usize, along: usize) -> f32 {
        let (x, y) = match side {
            Side::Left => (deep, along),
            Side::Right => (self.width - 1 - deep, along),
            Side::Top => (along, deep),
            Side::Bottom => (along, self.height - 1 - deep),
        };
        self.values[y * self.width + x]
    }

    /// How far a side goes in, and how long it is.
    const fn reach(&self, side: Side) -> (usize, usize) {
        match side {
            Side::Left | Side::Right => (self.width, self.height),
            Side::Top | Side::Bottom => (self.height, self.width),
        }
    }
}

#[derive(Clone, Copy)]
enum Side {
    Left,
    Top,
    Right,
    Bottom,
}

/// Sides in the order of insets, each with the two that it runs between.
const SIDES: [(Side, [usize; 2]); 4] =
    [(Side::Left, [1, 3]), (Side::Top, [0, 2]), (Side::Right, [1, 3]), (Side::Bottom, [0, 2])];

/// The brightest that black is, of 255: limited range begins at 16, and noise and lifted blacks stand above it.
const BLACKEST: f32 = 48.0;
/// The least by which a picture differs from its border, of 255.
const LEAST: f32 = 2.0;
/// How many parts an edge is looked at in.
const PARTS: usize = 28;
/// How steep a tilted edge may be.
const STEEPEST: f64 = 0.035;

/// The borders of a picture, or of several of the same source: what is black in all of them.
///
/// # Errors
/// A sentence when there is none, or when they are not of one size.
pub fn find(stills: &[Still]) -> Result<Borders, Problem> {
    let (first, others) = stills.split_first().ok_or_else(|| Problem::new("no picture to look at"))?;
    let mut levels = Levels::of(&first.samples);
    for other in others {
        if other.size() != first.size() {
            let ([w, h], [v, g]) = (first.size(), other.size());
            return Err(Problem::new(format!("the pictures are not of one size: {w}x{h} and {v}x{g}")));
        }
        levels.join(&Levels::of(&other.samples));
    }
    // Once over all of each side, then between the borders of the others: what is black there tells nothing.
    let mut found = [(0, 0.0); 4];
    for _ in 0..2 {
        let before = found;
        let between = |ends: [usize; 2]| ends.map(|end| before[end].0);
        let blacks = SIDES.map(|(side, ends)| Black::of(&levels, side, between(ends)));
        // Black is the same all around.
        let black = blacks.into_iter().min_by(|one, other| one.level.total_cmp(&other.level)).unwrap_or(blacks[0]);
        for (at, (side, ends)) in SIDES.into_iter().enumerate() {
            let over = blacks[at].level - black.level.min(BLACKEST / 2.0);
            let lit = black.level > BLACKEST || blacks[at].level - black.level > 2.0 + 2.0 * black.noise;
            found[at] = if lit {
                (0, f64::from((over / 16.0).clamp(0.0, 0.3)) + 0.7)
            } else {
                edge(&levels, side, between(ends), black)
            };
        }
    }
    let mut borders = Borders { insets: [0; 4], sides: found.map(|(_, sure)| sure) };
    for (inset, (deep, _)) in borders.insets.iter_mut().zip(found) {
        *inset = u32::try_from(deep).unwrap_or(0);
    }
    let [width, height] = first.size();
    let [left, top, right, bottom] = borders.insets;
    if left + right + 2 > width || top + bottom + 2 > height {
        return Ok(Borders { insets: [0; 4], sides: [0.0; 4] });
    }
    Ok(borders)
}

/// One part of an edge: where its picture begins, and how much it stands out there.
struct Part {
    middle: f64,
    deep: f64,
    contrast: f32,
}

/// The parts of an edge between the borders at its ends: where each begins and ends.
fn parts_of(levels: &Levels, side: Side, [from, to]: [usize; 2]) -> Vec<(usize, usize)> {
    let (_, long) = levels.reach(side);
    let end = long.saturating_sub(to).max(from + 1);
    let count = PARTS.min(end - from);
    (0..count).map(|part| (from + (end - from) * part / count, from + (end - from) * (part + 1) / count)).collect()
}

#[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 pixels")]
const fn pixels(count: usize) -> f32 {
    count as f32
}

/// What black is at a side, and how noisy.
#[derive(Clone, Copy)]
struct Black {
    level: f32,
    noise: f32,
}

impl Black {
    /// The darkest of the outermost lines: one of them may hold signals.
    fn of(levels: &Levels, side: Side, ends: [usize; 2]) -> Self {
        let parts = parts_of(levels, side, ends);
        let line = |deep: usize| {
            let (mut means, mut spreads): (Vec<f32>, Vec<f32>) = parts
                .iter()
                .map(|(begin, end)| {
                    let values = || (*begin..*end).map(|along| levels.at(side, deep, along));
                    let length = pixels(end - begin);
                    let mean = values().sum::<f32>() / length;
                    let spread = values().map(|value| (value - mean).powi(2)).sum::<f32>() / length;
                    (mean, spread.sqrt())
                })
                .unzip();
            Self { level: median(&mut means), noise: median(&mut spreads) }
        };
        let lines = (0..3.min(levels.reach(side).0)).map(line);
        let darkest = lines.min_by(|one, other| (one.level + one.noise).total_cmp(&(other.level + other.noise)));
        darkest.unwrap_or(Self { level: 255.0, noise: 0.0 })
    }
}

/// How deep a border is, and how sure that is.
fn edge(levels: &Levels, side: Side, ends: [usize; 2], black: Black) -> (usize, f64) {
    let (reach, _) = levels.reach(side);
    let parts = parts_of(levels, side, ends);
    let most = reach * 9 / 20;
    let mut found = Vec::with_capacity(parts.len());
    for (begin, end) in &parts {
        let length = pixels(end - begin);
        let stands_out = LEAST.max(4.5 * black.noise / length.sqrt());
        let over = |deep: usize| {
            let sum: f32 = (*begin..*end).map(|along| levels.at(side, deep, along)).sum();
            sum / length - black.level
        };
        let mut ahead: Vec<f32> = (0..4.min(most)).map(over).collect();
        for deep in 0..most.saturating_sub(4) {
            // Lines that stand out and go on doing so: a line of signals in the border does not.
            let goes_on = ahead[0] > stands_out && ahead[1..].iter().filter(|next| **next > stands_out).count() >= 2;
            if goes_on {
                // A line that is lit only by the next one, by coding or by a filter, is border still.
                let lit = usize::from(ahead[0] < ahead[1] * 0.3 && ahead[1] > 8.0);
                let contrast = ahead[lit..].iter().copied().fold(0.0, f32::max);
                let (middle, deep) = (f64::from(pixels(begin + end)) / 2.0, f64::from(pixels(deep + lit)));
                found.push(Part { middle, deep, contrast });
                break;
            }
            ahead.remove(0);
            ahead.push(over(deep + 4));
        }
    }
    let (from, end) = (parts.first().map_or(0, |part| part.0), parts.last().map_or(1, |part| part.1));
    straight(&found, parts.len(), end - from, from, f64::from(black.noise))
}

/// The straight edge that lies below all parts and touches most: where a picture is dark at its edge a part lies deeper,
/// but never less deep than its border.
fn straight(parts: &[Part], count: usize, length: usize, from: usize, noise: f64) -> (usize, f64) {
    #[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 pixels")]
    let (count, length, from) = (count as f64, length as f64, from as f64);
    #[expect(clippy::cast_precision_loss, reason = "few parts")]
    let share = |parts: usize| parts as f64 / count;
    if parts.is_empty() {
        return (0, 0.0);
    }
    let touched = |start: f64, slope: f64, within: f64| {
        let off = |part: &Part| part.deep - (start + slope * (part.middle - from));
        let below = parts.iter().filter(|part| off(part) < -1.2).count();
        let touching = parts.iter().filter(|part| off(part).abs() <= within).count();
        (touching, below)
    };
    let allowed = parts.len() / 12;
    // Level first: the least deep that more than a stray part has.
    let mut level: Option<(f64, usize)> = None;
    for part in parts {
        let (touching, below) = touched(part.deep, 0.0, 0.5);
        let better = level.is_none_or(|(deep, most)| touching > most || (touching == most && part.deep < deep));
        if below <= allowed && better {
            level = Some((part.deep, touching));
        }
    }
    let mut tilted: Option<(f64, f64, usize)> = None;
    for (at, one) in parts.iter().enumerate() {
        for other in &parts[at + 1..] {
            let slope = (other.deep - one.deep) / (other.middle - one.middle);
            if slope == 0.0 || slope.abs() > STEEPEST || (slope * length).abs() < 1.5 {
                continue;
            }
            let start = one.deep - slope * (one.middle - from);
            let (touching, below) = touched(start, slope, 0.75);
            if below <= allowed && tilted.is_none_or(|(_, _, most)| touching > most) {
                tilted = Some((start, slope, touching));
            }
        }
    }
    let (level_deep, level_touching) = level.unwrap_or((0.0, 0));
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "between 0 and half a side")]
    let whole = |deep: f64| deep.max(0.0) as usize;
    let contrast = |touching: &dyn Fn(&Part) -> bool| {
        let mut levels: Vec<f32> = parts.iter().filter(|part| touching(part)).map(|part| part.contrast).collect();
        if levels.is_empty() { 0.0 } else { f64::from(median(&mut levels)) }
    };
    let sure = |touching: usize, contrast: f64| {
        let clear = (contrast / (12.0 + 2.0 * noise)).min(1.0);
        (share(touching).min(0.5) * 2.0).sqrt() * clear.mul_add(0.5, 0.5)
    };
    if let Some((start, slope, touching)) = tilted
        && share(touching) > 0.6
        && touching * 2 > level_touching * 3
    {
        let off = |part: &Part| (part.deep - (start + slope * (part.middle - from))).abs() <= 0.75;
        let deepest = start.max(start + slope * length);
        return (whole((deepest - 0.25).ceil()), sure(touching, contrast(&off)) * 0.9);
    }
    if level_deep == 0.0 {
        return (0, sure(level_touching, contrast(&|part: &Part| part.deep <= 0.5)));
    }
    // A dark picture has no straight edge.
    if level_touching < 3 || share(level_touching) < 0.12 {
        return (0, 0.3);
    }
    (whole(level_deep), sure(level_touching, contrast(&|part: &Part| (part.deep - level_deep).abs() <= 0.5)))
}

fn median(values: &mut [f32]) -> f32 {
    let middle = values.len() / 2;
    *values.select_nth_unstable_by(middle, f32::total_cmp).1
}
