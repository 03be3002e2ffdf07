//! Readings of an outcome: how soft an edge is, how round a circle, where bars are. What is measured knows nothing of how
//! it was worked out.

use std::f64::consts::{PI, TAU};

use image::DynamicImage;

use crate::resample::{Sample, each_depth};
use crate::{Problem, Still};

/// A part of a picture, in its pixels.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Region {
    /// The first column.
    pub left: u32,
    /// The first line.
    pub top: u32,
    /// How many columns.
    pub width: u32,
    /// How many lines.
    pub height: u32,
}

/// The luminance of a part of a picture, in code values from 0 to 255.
struct Luminance {
    width: usize,
    height: usize,
    values: Vec<f32>,
}

impl Luminance {
    fn of(picture: &DynamicImage, region: Region) -> Option<Self> {
        fn values<P: image::Pixel>(picture: &image::ImageBuffer<P, Vec<P::Subpixel>>, region: Region) -> Vec<f32>
        where
            P::Subpixel: Sample,
        {
            let channels = usize::from(P::CHANNEL_COUNT);
            let (line, scale) = (picture.width() as usize * channels, 255.0 / P::Subpixel::FULL);
            // ITU-R BT.709, 3.2.
            let luminance = |pixel: &[P::Subpixel]| match pixel {
                [red, green, blue, ..] => 0.2126 * red.number() + 0.7152 * green.number() + 0.0722 * blue.number(),
                [gray, ..] => gray.number(),
                [] => 0.0,
            };
            let rows = picture.as_raw().chunks_exact(line).skip(region.top as usize).take(region.height as usize);
            let (from, many) = (region.left as usize * channels, region.width as usize * channels);
            rows.flat_map(|row| row[from..from + many].chunks_exact(channels))
                .map(|pixel| luminance(pixel) * scale)
                .collect()
        }
        let inside = region.left.checked_add(region.width)? <= picture.width()
            && region.top.checked_add(region.height)? <= picture.height();
        let (width, height) = (region.width as usize, region.height as usize);
        inside.then(|| Self { width, height, values: each_depth!(picture, samples => values(samples, region)) })
    }

    fn at(&self, x: usize, y: usize) -> f64 {
        f64::from(self.values[y * self.width + x])
    }

    /// Between the middles of pixels, by straight lines.
    fn between(&self, x: f64, y: f64) -> Option<f64> {
        let (x, y) = (x - 0.5, y - 0.5);
        let (left, top) = (x.floor(), y.floor());
        if left < 0.0 || top < 0.0 || left + 1.0 >= number(self.width) || top + 1.0 >= number(self.height) {
            return None;
        }
        let (column, row) = (whole(left), whole(top));
        let (across, down) = (x - left, y - top);
        let line = |row| self.at(column, row) * (1.0 - across) + self.at(column + 1, row) * across;
        Some(line(row) * (1.0 - down) + line(row + 1) * down)
    }

    /// Lines for columns.
    fn turned(&self) -> Self {
        let values = (0..self.width).flat_map(|x| (0..self.height).map(move |y| self.values[y * self.width + x]));
        Self { width: self.height, height: self.width, values: values.collect() }
    }
}

#[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 pixels")]
const fn number(count: usize) -> f64 {
    count as f64
}

#[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a place inside a picture")]
const fn whole(place: f64) -> usize {
    place.max(0.0) as usize
}

/// What an edge tells.
#[derive(Clone, Debug, PartialEq)]
pub struct Edge {
    /// Pixels across it from 10 to 90 % of its height.
    pub width: f64,
    /// How much of a contrast is left at 0, 1/64, 2/64 and so on cycles a pixel up to 1/2; empty where the edge does not lean.
    pub response: Vec<f64>,
    /// Where half of the contrast is left, in cycles a pixel.
    pub half: Option<f64>,
    /// By how much it swings over, in percent of its height.
    pub ringing: f64,
    /// The standard deviation of what should be flat beside it, in code values of 255.
    pub noise: f64,
}

/// How finely the profile of an edge is gathered: places a pixel (ISO 12233).
const FINE: f64 = 4.0;
/// How far beside an edge its profile is looked at, in pixels.
const FAR: f64 = 24.0;

/// Measures the edge in a part of a picture: nearly upright or nearly level, dark on one side and bright on the other.
/// The response is that of a slanted edge (ISO 12233), in code values as they are.
///
/// # Errors
/// A sentence when there is no such edge.
pub fn edge(still: &Still, region: Region) -> Result<Edge, Problem> {
    let picture =
        Luminance::of(&still.samples, region).ok_or_else(|| Problem::new("the mark lies outside the picture"))?;
    if picture.width < 8 || picture.height < 8 {
        return Err(Problem::new("the mark is too small: take at least 8 by 8 pixels around an edge"));
    }
    let steep = |picture: &Luminance| -> f64 {
        (0..picture.height)
            .map(|y| {
                (picture.at(picture.width - 1, y) - picture.at(0, y)).abs()
                    + (picture.at(picture.width * 3 / 4, y) - picture.at(picture.width / 4, y)).abs()
            })
            .sum::<f64>()
            / number(picture.height)
    };
    let turned = picture.turned();
    let picture = if steep(&turned) > steep(&picture) { turned } else { picture };
    let Line { start, slope } = line(&picture).ok_or_else(no_edge)?;
    let upright = (1.0 + slope * slope).sqrt();
    let beside = |x: usize, y: usize| (number(x) + 0.5 - start - slope * (number(y) + 0.5)) / upright;
    // As far as every line reaches.
    let ends = [0, picture.height - 1].map(|y| (-beside(0, y)).min(beside(picture.width - 1, y)));
    let reach = ends[0].min(ends[1]).min(FAR);
    if reach < 3.0 {
        return Err(Problem::new("the edge must lie in the middle of the mark, with room on both sides"));
    }
    let places = whole((reach * FINE).floor()) * 2 + 1;
    let middle = number(places / 2);
    let mut bins = vec![(0.0, 0.0); places];
    for y in 0..picture.height {
        for x in 0..picture.width {
            let place = (beside(x, y) * FINE + middle).round();
            if place >= 0.0 && place < number(places) {
                let bin = &mut bins[whole(place)];
                *bin = (bin.0 + picture.at(x, y), bin.1 + 1.0);
            }
        }
    }
    let filled = bins.iter().filter(|bin| bin.1 > 0.0).count();
    let leans = filled * 10 >= places * 9;
    let mut profile = filled_up(&bins);
    let flat = (places / 5).max(1);
    let mean = |part: &[f64]| part.iter().sum::<f64>() / number(part.len());
    let (mut low, mut high) = (mean(&profile[..flat]), mean(&profile[places - flat..]));
    if low > high {
        profile.reverse();
        (low, high) = (high, low);
    }
    let step = high - low;
    if step < 8.0 {
        return Err(no_edge());
    }
    // The last place below 10 %, and the first over 90 %, around the middle.
    let crossing = |level: f64| {
        let level = low + step * level;
        let pairs: Vec<f64> = profile
            .windows(2)
            .enumerate()
            .filter(|(_, pair)| pair[0] < level && pair[1] >= level)
            .map(|(at, pair)| number(at) + (level - pair[0]) / (pair[1] - pair[0]))
            .collect();
        pairs.into_iter().min_by(|one, other| (one - middle).abs().total_cmp(&(other - middle).abs()))
    };
    let (Some(ten), Some(ninety)) = (crossing(0.1), crossing(0.9)) else { return Err(no_edge()) };
    let over = profile.iter().copied().fold(high, f64::max) - high;
    let under = low - profile.iter().copied().fold(low, f64::min);
    let response = if leans { response(&profile) } else { Vec::new() };
    let half = response.windows(2).enumerate().find(|(_, pair)| pair[0] >= 0.5 && pair[1] < 0.5);
    let half = half.map(|(at, pair)| (number(at) + (pair[0] - 0.5) / (pair[0] - pair[1])) / 64.0);
    // What differs from its neighbours along the edge, where that should be flat.
    let calm = (reach / 3.0).max(2.0);
    let mut noise = (0.0, 0.0);
    for y in 1..picture.height {
        for x in 0..picture.width {
            if beside(x, y).abs() > calm && beside(x, y - 1).abs() > calm {
                noise = (noise.0 + (picture.at(x, y) - picture.at(x, y - 1)).powi(2) / 2.0, noise.1 + 1.0);
            }
        }
    }
    let noise = if noise.1 > 0.0 { f64::sqrt(noise.0 / noise.1) } else { 0.0 };
    Ok(Edge { width: (ninety - ten).max(0.0) / FINE, response, half, ringing: over.max(under) / step * 100.0, noise })
}

fn no_edge() -> Problem {
    Problem::new("there is no edge in the mark: take a place that is dark on one side and bright on the other")
}

/// A line through a picture: its column at the top, and how far that moves with each line.
struct Line {
    start: f64,
    slope: f64,
}

/// The line of an edge: through the middles of what changes in each row.
fn line(picture: &Luminance) -> Option<Line> {
    let changes = |y: usize, near: Option<f64>| {
        let (mut sum, mut places) = (0.0, 0.0);
        for x in 0..picture.width - 1 {
            let place = number(x) + 1.0;
            // Close by what is known already, or noise far off counts.
            let weight = near.map_or(1.0, |near| (1.0 - ((place - near) / 8.0).powi(2)).max(0.0));
            let change = (picture.at(x + 1, y) - picture.at(x, y)) * weight;
            sum += change;
            places += change * place;
        }
        (sum.abs() > 4.0).then(|| places / sum).filter(|place| (0.0..=number(picture.width)).contains(place))
    };
    let fit = |near: Option<&Line>| {
        let points: Vec<(f64, f64)> = (0..picture.height)
            .filter_map(|y| {
                let down = number(y) + 0.5;
                Some((down, changes(y, near.map(|line| line.start + line.slope * down))?))
            })
            .collect();
        if points.len() * 2 < picture.height {
            return None;
        }
        let many = number(points.len());
        let mean = points.iter().fold((0.0, 0.0), |sum, point| (sum.0 + point.0 / many, sum.1 + point.1 / many));
        let (both, along) = points
            .iter()
            .fold((0.0, 0.0), |sum, (y, x)| (sum.0 + (y - mean.0) * (x - mean.1), sum.1 + (y - mean.0).powi(2)));
        let slope = both / along;
        Some(Line { start: mean.1 - slope * mean.0, slope })
    };
    let mut found = fit(None)?;
    for _ in 0..3 {
        found = fit(Some(&found))?;
    }
    (found.slope.abs() < 1.0).then_some(found)
}

/// The means of bins; empty ones lie on a straight line between their neighbours.
fn filled_up(bins: &[(f64, f64)]) -> Vec<f64> {
    let known: Vec<(usize, f64)> =
        bins.iter().enumerate().filter(|(_, bin)| bin.1 > 0.0).map(|(at, bin)| (at, bin.0 / bin.1)).collect();
    (0..bins.len())
        .map(|at| {
            let after = known.partition_point(|(place, _)| *place < at);
            match (after.checked_sub(1).map(|before| known[before]), known.get(after)) {
                (_, Some((place, value))) if *place == at => *value,
                (Some((from, low)), Some((to, high))) => low + (high - low) * number(at - from) / number(to - from),
                (Some((_, only)), None) | (None, Some(&(_, only))) => only,
                (None, None) => 0.0,
            }
        })
        .collect()
}

/// The response of a profile: the spectrum of its derivative in a window, freed from what the derivative itself takes away.
fn response(profile: &[f64]) -> Vec<f64> {
    let change: Vec<f64> = profile.windows(3).map(|three| (three[2] - three[0]) / 2.0).collect();
    let peak = (0..change.len()).max_by(|one, other| change[*one].total_cmp(&change[*other])).unwrap_or(0);
    let (peak, half) = (number(peak), number(change.len()) / 2.0);
    // Flat around the peak, and gently down where the profile ends: a narrow one would make wide edges narrower.
    let window = |place: f64| {
        let outer = ((place - peak).abs() / half - 0.6) / 0.4;
        if outer <= 0.0 { 1.0 } else { 0.5 * (1.0 + (PI * outer.min(1.0)).cos()) }
    };
    let windowed: Vec<f64> = change.iter().enumerate().map(|(at, change)| change * window(number(at))).collect();
    let spectrum = |cycles: f64| {
        let turn = TAU * cycles / FINE;
        let (real, imaginary) = windowed.iter().enumerate().fold((0.0, 0.0), |sum, (at, value)| {
            let angle = turn * number(at);
            (sum.0 + value * angle.cos(), sum.1 + value * angle.sin())
        });
        f64::hypot(real, imaginary)
    };
    let none = spectrum(0.0);
    // The derivative over two places, and the place itself, which gathers a quarter of a pixel.
    let taken = |cycles: f64| {
        let sinc = |x: f64| if x == 0.0 { 1.0 } else { (PI * x).sin() / (PI * x) };
        sinc(2.0 * cycles / FINE) * sinc(cycles / FINE)
    };
    (0..=32_u8)
        .map(|at| f64::from(at) / 64.0)
        .map(|cycles| if none > 0.0 { spectrum(cycles) / none / taken(cycles) } else { 0.0 })
        .collect()
}

/// An ellipse whose axes may lean, by what it spans.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Ellipse {
    /// Its middle, in pixels from the top left corner.
    pub centre: [f64; 2],
    /// Half of what it spans across and down.
    pub radii: [f64; 2],
}

/// How many rays look for a ring, and how many of them must find an end of it.
const RAYS: u32 = 360;
const ENDS: usize = 20;

/// Finds the bright ring that lies near an ellipse; none where too little of it is seen.
pub fn ring(still: &Still, near: Ellipse) -> Option<Ellipse> {
    let (width, height) = (still.samples.width(), still.samples.height());
    let picture = Luminance::of(&still.samples, Region { left: 0, top: 0, width, height })?;
    let reach = near.radii[0].min(near.radii[1]) * 0.05 + 1.5;
    let place = |angle: f64, off: f64| {
        let [across, down] = near.radii;
        // Outwards as the ellipse runs.
        let normal = [angle.cos() / across, angle.sin() / down];
        let long = f64::hypot(normal[0], normal[1]);
        [
            near.centre[0] + across * angle.cos() + off * normal[0] / long,
            near.centre[1] + down * angle.sin() + off * normal[1] / long,
        ]
    };
    let points: Vec<[f64; 2]> = (0..RAYS)
        .filter_map(|ray| {
            let angle = f64::from(ray) / f64::from(RAYS) * TAU;
            let many = whole(reach * 8.0);
            let offs: Vec<f64> = (0..=many).map(|at| (number(at) / number(many) * 2.0 - 1.0) * reach).collect();
            let values: Vec<f64> = offs
                .iter()
                .map(|off| {
                    let [x, y] = place(angle, *off);
                    picture.between(x, y)
                })
                .collect::<Option<_>>()?;
            let (first, last) = (values.first()?, values.last()?);
            let ground = |at: usize| first + (last - first) * number(at) / number(many);
            let over: Vec<f64> = values.iter().enumerate().map(|(at, value)| (value - ground(at)).max(0.0)).collect();
            let peak = over.iter().copied().fold(0.0, f64::max);
            let (sum, far) = over
                .iter()
                .zip(&offs)
                .filter(|(over, _)| **over > peak / 2.0)
                .fold((0.0, 0.0), |sum, (over, off)| (sum.0 + over, sum.1 + over * off));
            (peak > 10.0 && sum > 0.0).then(|| place(angle, far / sum))
        })
        .collect();
    // An ellipse is as wide and as high as what is seen of it says: its ends must be among that.
    let ends = |axis: usize| {
        let off = |point: &&[f64; 2]| (point[axis] - near.centre[axis]).abs() > 0.9 * near.radii[axis];
        points.iter().filter(off).count()
    };
    if ends(0) < ENDS || ends(1) < ENDS {
        return None;
    }
    let mut kept = points;
    let mut found = None;
    for _ in 0..4 {
        if kept.len() < RAYS as usize / 4 {
            return None;
        }
        let ellipse = fitted(&kept, near)?;
        let off = |point: &[f64; 2]| {
            let [x, y] = [0, 1].map(|axis| (point[axis] - ellipse.centre[axis]) / ellipse.radii[axis]);
            (f64::hypot(x, y) - 1.0).abs()
        };
        let mut offs: Vec<f64> = kept.iter().map(off).collect();
        let middle = offs.len() / 2;
        let usual = *offs.select_nth_unstable_by(middle, f64::total_cmp).1;
        kept.retain(|point| off(point) <= usual.max(1e-4) * 3.0);
        found = Some(ellipse);
    }
    found
}

/// The ellipse through points, by least squares of its equation.
fn fitted(points: &[[f64; 2]], near: Ellipse) -> Option<Ellipse> {
    let mut system = [[0.0; 6]; 5];
    for point in points {
        let [u, v] = [0, 1].map(|axis| (point[axis] - near.centre[axis]) / near.radii[axis]);
        let terms = [u * u, u * v, v * v, u, v];
        for (row, one) in system.iter_mut().zip(terms) {
            for (sum, other) in row.iter_mut().zip(terms) {
                *sum += one * other;
            }
            row[5] += one;
        }
    }
    let [a, b, c, d, e] = solved(system)?;
    // a u² + b uv + c v² + d u + e v = 1.
    let apart = 4.0 * a * c - b * b;
    if apart <= 0.0 {
        return None;
    }
    let (u, v) = ((b * e - 2.0 * c * d) / apart, (b * d - 2.0 * a * e) / apart);
    let level = 1.0 + a * u * u + b * u * v + c * v * v;
    let radii = [4.0 * c * level / apart, 4.0 * a * level / apart].map(f64::sqrt);
    let centre = [near.centre[0] + u * near.radii[0], near.centre[1] + v * near.radii[1]];
    let radii = [radii[0] * near.radii[0], radii[1] * near.radii[1]];
    radii.iter().all(|radius| radius.is_finite() && *radius > 0.0).then_some(Ellipse { centre, radii })
}

/// Solves five equations by elimination.
fn solved(mut system: [[f64; 6]; 5]) -> Option<[f64; 5]> {
    for column in 0..5 {
        let best =
            (column..5).max_by(|one, other| system[*one][column].abs().total_cmp(&system[*other][column].abs()))?;
        system.swap(column, best);
        if system[column][column].abs() < 1e-12 {
            return None;
        }
        let pivot = system[column];
        for (_, row) in system.iter_mut().enumerate().filter(|(at, _)| *at != column) {
            let share = row[column] / pivot[column];
            row.iter_mut().zip(pivot).for_each(|(value, pivot)| *value -= share * pivot);
        }
    }
    Some(std::array::from_fn(|at| system[at][5] / system[at][at]))
}

/// Lines without any picture at each side: left, top, right, bottom.
pub fn black(still: &Still) -> [u32; 4] {
    let picture = still.samples.to_luma8();
    let (width, height) = picture.dimensions();
    let column = |x: u32| (0..height).all(|y| picture.get_pixel(x, y).0[0] <= 2);
    let row = |y: u32| (0..width).all(|x| picture.get_pixel(x, y).0[0] <= 2);
    let count = |many: usize| u32::try_from(many).unwrap_or(u32::MAX);
    [
        count((0..width).take_while(|x| column(*x)).count()),
        count((0..height).take_while(|y| row(*y)).count()),
        count((0..width).rev().take_while(|x| column(*x)).count()),
        count((0..height).rev().take_while(|y| row(*y)).count()),
    ]
}

/// The luminance around a place, in code values of 255: the mean of three by three pixels. None outside.
pub fn level(still: &Still, [x, y]: [f64; 2]) -> Option<f64> {
    let (left, top) = (whole((x - 1.5).round()), whole((y - 1.5).round()));
    let place = |side: usize| u32::try_from(side).unwrap_or(u32::MAX);
    let region = Region { left: place(left), top: place(top), width: 3, height: 3 };
    let part = Luminance::of(&still.samples, region)?;
    Some(part.values.iter().map(|value| f64::from(*value)).sum::<f64>() / 9.0)
}
