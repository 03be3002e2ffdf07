//! The ways to bring the picture into whole pixels along one axis.

use super::laid::{Laid, Rank, Ways};
use crate::error::Parameter;
use crate::limits::LARGEST_SIDE;
use crate::{Error, Exact};

/// What a plan asks for along one axis of the delivery. Source positions count turned pixels.
pub(super) struct Track {
    /// Where the active picture begins and ends.
    pub active: (i64, i64),
    /// Turned pixels to a sample of colour, and where that grid begins.
    pub source_grid: i64,
    pub phase: i64,
    /// Whether nothing may be cut.
    pub whole: bool,
    /// Delivery pixels to a sample of colour.
    pub grid: i64,
    /// Where the active picture begins, in delivery pixels.
    pub place: Exact,
    /// Delivery pixels to a source pixel.
    pub scale: Exact,
    /// Where the picture area begins and ends.
    pub area: (i64, i64),
    /// Where the picture is seen in it.
    pub visible: (Exact, Exact),
}

/// How many cells further than needed a cut may reach, so that whole pixels agree better.
const REACH: [i64; 18] = [0, 1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64, 96, 128, 256, 512, 1024];
/// How many lengths of a cut are looked at where none of the first ones is true enough.
const MOST_LENGTHS: usize = 4096;

impl Track {
    /// The ways within the bounds, at least one. Looking further takes long, and is for pictures to which no way is true.
    pub fn ways(&self, further: bool) -> Result<Ways, Error> {
        let (from, to) = self.inner()?;
        let mut ways: Vec<(Rank, Laid)> = Vec::new();
        // Where half a cell had to go, one source pixel more is allowed.
        let more = if (from, to) == self.active { Exact::ZERO } else { self.scale.clone() };
        let targets: Vec<Aim> =
            self.targets((from, to), further).into_iter().map(|target| self.aim(target, &more)).collect();
        for aim in &targets {
            let first = self.cell_before(&aim.needed.0).clamp(from, (to - self.source_grid).max(from));
            let last = self.cell_after(&aim.needed.1).clamp((first + self.source_grid).min(to), to);
            let widest = (first - from).max(to - last) / self.source_grid;
            let mut seen: Vec<(i64, i64)> = Vec::new();
            for reach in REACH.into_iter().filter(|reach| *reach < widest).chain([widest]) {
                // A little further in is worth a look where the picture ends inside the frame.
                let further_in = if reach == 0 { &[(-1, 0), (0, -1), (-1, -1)][..] } else { &[] };
                for (before, after) in [(reach, reach), (reach, 0), (0, reach)].iter().chain(further_in) {
                    let cut =
                        ((first - before * self.source_grid).max(from), (last + after * self.source_grid).min(to));
                    if cut.0 < cut.1 && (!self.whole || cut == self.active) && !seen.contains(&cut) {
                        seen.push(cut);
                        ways.extend(self.scaled(cut, aim).map(|laid| (laid.rank(), laid)));
                    }
                }
                if ways.iter().any(|(rank, _)| rank.off == 0 || (reach >= 4 && rank.is_good())) {
                    break;
                }
            }
        }
        if !self.whole && (further || ways.iter().all(|(rank, _)| rank.broken > 0)) {
            for aim in &targets {
                for cut in self.lengths((from, to), aim) {
                    ways.extend(self.scaled(cut, aim).map(|laid| (laid.rank(), laid)));
                }
            }
        }
        if ways.is_empty() {
            return Err(Error::too_large("scaled picture").at(Parameter::Framing));
        }
        Ok(Ways(ways))
    }

    /// The active picture without the parts of cells at its ends.
    fn inner(&self) -> Result<(i64, i64), Error> {
        if self.whole {
            return Ok(self.active);
        }
        let before = |at: i64| at - (at - self.phase).rem_euclid(self.source_grid);
        let (from, to) = (before(self.active.0 + self.source_grid - 1), before(self.active.1));
        if from < to { Ok((from, to)) } else { Err(Error::no_cell().at(Parameter::Active)) }
    }

    /// The lines of the delivery's grid between which the picture may show, those of the plan first; `further`
    /// also those beside them.
    fn targets(&self, (from, to): (i64, i64), further: bool) -> Vec<(i64, i64)> {
        let beside: &[i64] = if further { &[0, -1, 1] } else { &[0] };
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
                .flat_map(|line| beside.iter().map(move |beside| line.saturating_add(*beside)))
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
    fn lengths(&self, (from, to): (i64, i64), aim: &Aim) -> Vec<(i64, i64)> {
        let first = self.cell_before(&aim.needed.0).max(from);
        let last = self.cell_after(&aim.needed.1).min(to);
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

    /// What the plan puts at both ends of a part of the delivery, and what is allowed to be off there.
    fn aim(&self, target: (i64, i64), more: &Exact) -> Aim {
        let needed = (self.source_at(target.0), self.source_at(target.1));
        let middle = (&needed.0 + &needed.1).half().reduced();
        let of_shown = (&self.scale / (Exact::fraction(3, 2) + more)).reduced();
        let of_edges = (Exact::ONE / (Exact::from(self.grid) + more)).reduced();
        let planned = (Exact::from(self.active.1 - self.active.0) * &self.scale).reduced();
        Aim { target, needed, middle, of_shown, of_edges, planned }
    }

    /// The ways to scale a cut so that it covers a part of the delivery.
    fn scaled(&self, cut: (i64, i64), aim: &Aim) -> impl Iterator<Item = Laid> {
        let (length, kept) = (cut.1 - cut.0, aim.target.1 - aim.target.0);
        let wanted = Exact::from(length) * &self.scale / Exact::from(self.grid);
        let below = wanted.floor_whole().saturating_mul(self.grid);
        let above = wanted.ceil_whole().saturating_mul(self.grid);
        let fits = move |scaled: &i64| *scaled >= kept && *scaled <= i64::from(LARGEST_SIDE);
        // Where one is the other it is looked at once.
        let sizes = [Some(below), (above != below).then_some(above), (kept != below && kept != above).then_some(kept)];
        sizes.into_iter().flatten().filter(fits).map(move |scaled| self.laid(cut, aim, scaled))
    }

    /// A cut scaled to so many pixels, of which the part of the delivery is kept.
    fn laid(&self, cut: (i64, i64), aim: &Aim, scaled: i64) -> Laid {
        let (length, kept) = (cut.1 - cut.0, aim.target.1 - aim.target.0);
        let scale = (Exact::from(scaled) / Exact::from(length)).kept_short();
        // Where the kept part should begin, by the middle of what is seen.
        let offset = (&aim.middle - Exact::from(cut.0)) * &scale - Exact::from(kept).half();
        let nearest = (offset / Exact::from(self.grid) + Exact::fraction(1, 2)).floor_whole() * self.grid;
        let offset = nearest.clamp(0, scaled - kept);
        let begin = (Exact::from(aim.target.0 - offset) - Exact::from(cut.0 - self.active.0) * &scale).kept_short();
        let whole = (Exact::from(self.active.1 - self.active.0) * &scale).kept_short();
        // The source that comes out at both ends of the target.
        let first = (Exact::from(cut.0) + Exact::from(offset) / &scale).kept_short();
        let last = (Exact::from(cut.0) + Exact::from(offset + kept) / &scale).kept_short();
        let apart = (&first - &aim.needed.0).abs().max((&last - &aim.needed.1).abs());
        let shown = apart * &aim.of_shown;
        let starts = (&begin - &self.place).kept_short();
        let longer = (&whole - &aim.planned).kept_short();
        let edges = starts.clone().abs().max((starts + longer).abs()) * &aim.of_edges;
        // Picture that is left off though its own edge is seen in the plan.
        let lost = |own_edge: bool, length: Exact| {
            if own_edge { length * &self.scale / Exact::fraction(3, 2) } else { Exact::ZERO }
        };
        let before = lost(self.visible.0 > Exact::from(self.area.0), &first - Exact::from(self.active.0));
        let after = lost(self.visible.1 < Exact::from(self.area.1), Exact::from(self.active.1) - &last);
        Laid {
            cut,
            scaled,
            offset,
            target: aim.target,
            shape: &scale / &self.scale,
            scale,
            image: (begin, whole),
            miss: shown.max(edges),
            lost: before.max(after),
        }
    }
}

/// A part of the delivery in which the picture is to show.
struct Aim {
    /// Where it begins and ends.
    target: (i64, i64),
    /// The source positions that the plan puts there, and their middle.
    needed: (Exact, Exact),
    middle: Exact,
    /// What is allowed to be off, as parts of it: to a source pixel of what shows, and to a delivery pixel of the
    /// picture's edges.
    of_shown: Exact,
    of_edges: Exact,
    /// How long the plan has the active picture, in delivery pixels.
    planned: Exact,
}
