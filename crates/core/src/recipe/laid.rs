//! What is done along one axis, and how true it is.

use std::collections::BTreeSet;

use crate::Exact;
use crate::limits::LARGEST_SIDE;

/// A picture of more pixels is made between only where nothing smaller will do: software has limits.
const LARGE_PICTURE: i64 = 1 << 27;

/// What is done along one axis.
#[derive(Clone, Debug)]
pub(super) struct Laid {
    /// What is cut from the source, before scaling: start and end.
    pub cut: (i64, i64),
    /// The pixels that this becomes.
    pub scaled: i64,
    /// The pixels left off before what is kept of that.
    pub offset: i64,
    /// Where that lands in the delivery: start and end.
    pub target: (i64, i64),
    /// Delivery pixels to a source pixel, as it comes out.
    pub scale: Exact,
    /// Where the active picture begins and how long it is, in delivery pixels.
    pub image: (Exact, Exact),
    /// How far places are from the plan's, in parts of what is allowed: 1.5 delivery pixels for what shows, a step of
    /// the grid for the picture's edges.
    pub miss: Exact,
    /// Picture left off though its own edge is seen, in parts of 1.5 delivery pixels.
    pub lost: Exact,
    /// The scale over the plan's.
    pub shape: Exact,
}

impl Laid {
    /// Truth of one axis by itself.
    pub fn rank(&self) -> Rank {
        Rank::of(&self.miss, &(self.shape_off() * Exact::whole(500)).max(self.lost.clone()), self.scaled)
    }

    /// Pixels that show, of the source or of the delivery.
    pub fn fewest(&self) -> Exact {
        let kept = Exact::from(self.target.1 - self.target.0);
        (&kept / &self.scale).min(kept)
    }

    /// How far from round the picture comes out by this axis alone, in eighths of what is allowed.
    pub fn shape_eighths(&self) -> i64 {
        ((&self.shape - Exact::ONE) * Exact::whole(4000)).floor_whole()
    }

    fn shape_off(&self) -> Exact {
        (&self.shape - Exact::ONE).abs()
    }
}

/// How good a way is, the best first: how far promises are broken, then truth in eighths of what is
/// allowed, then work.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Rank {
    pub broken: i64,
    pub off: i64,
    pub work: i64,
}

impl Rank {
    pub fn of(promised: &Exact, wished: &Exact, work: i64) -> Self {
        let eighths = |part: &Exact| (part * Exact::whole(8)).floor_whole();
        let broken = if *promised < Exact::ONE { 0 } else { eighths(promised) };
        Self { broken, off: eighths(promised).max(eighths(wished)), work }
    }

    /// Whether it is not worth to look further.
    pub fn is_good(self) -> bool {
        self.off <= 3
    }
}

/// The ways of an axis, at least one, with how true each is.
pub(super) struct Ways(pub Vec<(Rank, Laid)>);

/// How many ways of an axis are paired with those of the other one.
const KEPT: usize = 48;

impl Ways {
    /// The truest; of ways that are as true the one that scales least.
    fn truest(&self) -> &Laid {
        self.0.iter().min_by_key(|(rank, _)| *rank).map(|(_, laid)| laid).expect("at least one way")
    }

    /// Those that come out as large in different ways, the truest first. Of ways that come out as large the truest will
    /// do: what is left to choose is how both axes agree.
    fn different(mut self) -> Vec<Laid> {
        self.0.sort_by_key(|(rank, _)| *rank);
        let mut shapes = BTreeSet::new();
        let truest = self.0.into_iter().map(|(_, laid)| laid).filter(|laid| shapes.insert(laid.shape_eighths()));
        truest.take(KEPT).collect()
    }
}

/// The ways of both axes that are truest together, and how true they are: a circle cares for both.
pub(super) fn truest(x: Ways, y: Ways) -> (Rank, [Laid; 2]) {
    let rank = |x: &Laid, y: &Laid| {
        let round = (&x.shape / &y.shape - Exact::ONE).abs() / roundness(x.fewest().min(y.fewest()));
        let work = x.scaled.saturating_mul(y.scaled);
        let lost = x.lost.clone().max(y.lost.clone());
        let each = [&x.miss, &y.miss, &round].map(|promised| Rank::of(promised, &lost, work));
        let off = each.iter().map(|rank| rank.off).fold(0, i64::max);
        let mut rank = Rank { broken: each.iter().map(|rank| rank.broken).sum(), off, work };
        let made = (x.target.1 - x.target.0).saturating_mul(y.target.1 - y.target.0);
        if work > LARGE_PICTURE.max(2 * made) {
            rank.broken += i64::from(LARGEST_SIDE);
        }
        rank
    };
    let first = (x.truest(), y.truest());
    let mut least = rank(first.0, first.1);
    if least.broken == 0 && least.is_good() {
        return (least, [first.0.clone(), first.1.clone()]);
    }
    let (x, y) = (x.different(), y.different());
    let mut best = (&x[0], &y[0]);
    for pair in x.iter().flat_map(|x| y.iter().map(move |y| (x, y))) {
        let rank = rank(pair.0, pair.1);
        if rank < least {
            (best, least) = (pair, rank);
        }
    }
    (least, [best.0.clone(), best.1.clone()])
}

/// How far from round a circle may come out where so few pixels show: a step of the grid, or 1/500.
fn roundness(fewest: Exact) -> Exact {
    if fewest < Exact::whole(250) { Exact::whole(2) / fewest } else { Exact::fraction(1, 500) }
}
