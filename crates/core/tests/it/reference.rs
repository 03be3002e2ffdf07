//! A second way to the same plan: every point of the stored raster is carried into the frame by one
//! affine map, and back. It shares no code with the core: it takes bare numbers, and computes with
//! num-rational's `BigRational` throughout.

use num_rational::BigRational;
use num_traits::{One, Signed, Zero};

type Number = BigRational;

fn whole(value: u32) -> Number {
    Number::from_integer(value.into())
}

fn half() -> Number {
    Number::new(1.into(), 2.into())
}

/// A rectangle by its edges.
#[derive(Clone, Debug, PartialEq)]
pub struct Edges {
    pub left: Number,
    pub top: Number,
    pub right: Number,
    pub bottom: Number,
}

impl Edges {
    fn area(&self) -> Number {
        (&self.right - &self.left) * (&self.bottom - &self.top)
    }

    fn overlap(&self, other: &Self) -> Option<Self> {
        let larger = |a: &Number, b: &Number| if a > b { a.clone() } else { b.clone() };
        let smaller = |a: &Number, b: &Number| if a < b { a.clone() } else { b.clone() };
        let both = Self {
            left: larger(&self.left, &other.left),
            top: larger(&self.top, &other.top),
            right: smaller(&self.right, &other.right),
            bottom: smaller(&self.bottom, &other.bottom),
        };
        (both.left < both.right && both.top < both.bottom).then_some(both)
    }
}

/// `x' = a x + b y + c`, `y' = d x + e y + f`.
struct Map {
    a: Number,
    b: Number,
    c: Number,
    d: Number,
    e: Number,
    f: Number,
}

impl Map {
    fn point(&self, x: &Number, y: &Number) -> (Number, Number) {
        (&self.a * x + &self.b * y + &self.c, &self.d * x + &self.e * y + &self.f)
    }

    fn then(&self, sx: &Number, sy: &Number, tx: &Number, ty: &Number) -> Self {
        Self {
            a: &self.a * sx,
            b: &self.b * sx,
            c: &self.c * sx + tx,
            d: &self.d * sy,
            e: &self.e * sy,
            f: &self.f * sy + ty,
        }
    }

    fn inverse(&self) -> Self {
        let det = &self.a * &self.e - &self.b * &self.d;
        let (a, b, d, e) = (&self.e / &det, -&self.b / &det, -&self.d / &det, &self.a / &det);
        let c = -(&a * &self.c + &b * &self.f);
        let f = -(&d * &self.c + &e * &self.f);
        Self { a, b, c, d, e, f }
    }

    fn rect(&self, rect: &Edges) -> Edges {
        let (x1, y1) = self.point(&rect.left, &rect.top);
        let (x2, y2) = self.point(&rect.right, &rect.bottom);
        let order = |a: Number, b: Number| if a < b { (a, b) } else { (b, a) };
        let ((left, right), (top, bottom)) = (order(x1, x2), order(y1, y2));
        Edges { left, top, right, bottom }
    }
}

/// What a plan is made of, in bare numbers.
#[derive(Clone, Debug)]
pub struct Inputs {
    /// Stored pixels across and down.
    pub stored: [u32; 2],
    /// Off left, top, right and bottom.
    pub insets: [u32; 4],
    /// Pixel aspect times squeeze.
    pub shape: Number,
    /// Clockwise.
    pub degrees: u32,
    /// Delivery pixels across and down.
    pub delivered: [u32; 2],
    /// Width over height of one of them.
    pub delivered_shape: Number,
    /// The ratio of the picture inside.
    pub ratio: Option<Number>,
    /// The grid of its bars.
    pub step: u32,
    /// The word of the method.
    pub method: &'static str,
    /// On top of it.
    pub zoom: Number,
    /// Delivery pixels right and down.
    pub shift: [Number; 2],
}

impl Inputs {
    /// The part of the delivery that the picture should fill: even bars on the grid, a tie up.
    fn area(&self) -> Edges {
        let [width, height] = self.delivered.map(whole);
        let all = Edges { left: Number::zero(), top: Number::zero(), right: width.clone(), bottom: height.clone() };
        let Some(ratio) = &self.ratio else { return all };
        let bar = |side: &Number, wanted: Number| {
            let step = whole(self.step);
            ((side - wanted) * half() / &step + half()).floor() * step
        };
        let shown = &width * &self.delivered_shape / &height;
        if *ratio > shown {
            let bar = bar(&height, &width * &self.delivered_shape / ratio);
            Edges { top: bar.clone(), bottom: height - bar, ..all }
        } else if *ratio < shown {
            let bar = bar(&width, &height * ratio / &self.delivered_shape);
            Edges { left: bar.clone(), right: width - bar, ..all }
        } else {
            all
        }
    }
}

/// The geometry of a plan.
pub struct Reference {
    pub image: Edges,
    pub window: Option<Edges>,
    pub kept: Number,
    pub covered: Number,
    pub distortion: Number,
}

/// The map from stored pixels to delivery pixels, the active picture, the picture area, and the distortion.
fn placed(inputs: &Inputs) -> (Map, Edges, Edges, Number) {
    let [left, top, right, bottom] = inputs.insets;
    let stored = Edges {
        left: whole(left),
        top: whole(top),
        right: whole(inputs.stored[0] - right),
        bottom: whole(inputs.stored[1] - bottom),
    };
    let s = &inputs.shape;
    let (w, h) = ((&stored.right - &stored.left) * s, &stored.bottom - &stored.top);
    let (zero, one) = (Number::zero(), Number::one());
    // From a stored pixel to the upright picture.
    let (ox, oy) = (-(&stored.left * s), -stored.top.clone());
    let seen = match inputs.degrees {
        0 => Map { a: s.clone(), b: zero.clone(), c: ox, d: zero.clone(), e: one.clone(), f: oy },
        // Clockwise: what was at the bottom comes to the left.
        90 => Map { a: zero.clone(), b: -one.clone(), c: &h - oy, d: s.clone(), e: zero.clone(), f: ox },
        180 => Map { a: -s.clone(), b: zero.clone(), c: &w - ox, d: zero.clone(), e: -one.clone(), f: &h - oy },
        _ => Map { a: zero.clone(), b: one.clone(), c: oy, d: -s.clone(), e: zero.clone(), f: &w - ox },
    };
    let (uw, uh) = if inputs.degrees % 180 == 90 { (h, w) } else { (w, h) };
    let area = inputs.area();
    let pd = &inputs.delivered_shape;
    let across = (&area.right - &area.left) * pd / &uw;
    let down = (&area.bottom - &area.top) / &uh;
    let (ux, uy) = match inputs.method {
        "fit" if across < down => (across.clone(), across),
        "fit" => (down.clone(), down),
        "fill" if across > down => (across.clone(), across),
        "fill" => (down.clone(), down),
        "width" => (across.clone(), across),
        "height" => (down.clone(), down),
        "native" => (one.clone(), one.clone()),
        "stretch" => (across, down),
        other => panic!("{other} is no method"),
    };
    let (ux, uy) = (ux * &inputs.zoom, uy * &inputs.zoom);
    let (sx, sy) = (&ux / pd, uy.clone());
    let middle = |a: &Number, b: &Number| (a + b) * half();
    let tx = middle(&area.left, &area.right) + &inputs.shift[0] - &uw * &sx * half();
    let ty = middle(&area.top, &area.bottom) + &inputs.shift[1] - &uh * &sy * half();
    let map = seen.then(&sx, &sy, &tx, &ty);
    (map, stored, area, ux / uy - one)
}

/// Where the whole stored raster would lie, borders and all.
#[allow(dead_code, reason = "the benchmark compares less")]
pub fn whole_image(inputs: &Inputs) -> Edges {
    let [width, height] = inputs.stored.map(whole);
    placed(inputs).0.rect(&Edges { left: Number::zero(), top: Number::zero(), right: width, bottom: height })
}

pub fn plan(inputs: &Inputs) -> Reference {
    let (map, stored, area, distortion) = placed(inputs);
    let image = map.rect(&stored);
    let visible = image.overlap(&area);
    let part = |of: &Edges| visible.as_ref().map_or_else(Number::zero, |visible| visible.area() / of.area());
    Reference {
        kept: part(&image),
        covered: part(&area),
        window: visible.as_ref().map(|visible| map.inverse().rect(visible)),
        distortion,
        image,
    }
}

/// Whether a value is the double nearest to a fraction, by comparing with its neighbours.
pub fn is_nearest_double(value: f64, exact: &Number) -> bool {
    let off = |double: f64| Number::from_float(double).map(|double| (double - exact).abs());
    let Some(here) = off(value) else { return false };
    [value.next_up(), value.next_down()].into_iter().filter_map(off).all(|neighbour| here <= neighbour)
}
