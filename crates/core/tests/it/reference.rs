//! A second way to the same plan: every point of the stored raster is carried into the frame by one
//! affine map, and back. It shares no code with the core but the parsed inputs, and computes with
//! num-rational's `BigRational` throughout.

use num_rational::BigRational;
use num_traits::{One, Signed, Zero};
use ratiomet_core::{DeliveryFrame, Framing, Method, Source};

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

/// The geometry of a plan.
pub struct Reference {
    pub image: Edges,
    pub window: Option<Edges>,
    pub kept: Number,
    pub covered: Number,
    pub distortion: Number,
}

pub fn plan(source: &Source, squeeze_times_aspect: &Number, frame: &DeliveryFrame, framing: &Framing) -> Reference {
    let active = source.active();
    let number = |value: &ratiomet_core::Exact| Number::from(value);
    let stored = Edges {
        left: number(&active.x),
        top: number(&active.y),
        right: number(&active.x) + number(&active.size.width),
        bottom: number(&active.y) + number(&active.size.height),
    };
    let (w, h) = (number(&active.size.width) * squeeze_times_aspect, number(&active.size.height));
    let (zero, one) = (Number::zero(), Number::one());
    // From a stored pixel to the upright picture.
    let s = squeeze_times_aspect;
    let (ox, oy) = (-(&stored.left * s), -stored.top.clone());
    let seen = match source.rotation().degrees() {
        0 => Map { a: s.clone(), b: zero.clone(), c: ox, d: zero.clone(), e: one.clone(), f: oy },
        // Clockwise: what was at the bottom comes to the left.
        90 => Map { a: zero.clone(), b: -one.clone(), c: &h - oy, d: s.clone(), e: zero.clone(), f: ox },
        180 => Map { a: -s.clone(), b: zero.clone(), c: &w - ox, d: zero.clone(), e: -one.clone(), f: &h - oy },
        _ => Map { a: zero.clone(), b: one.clone(), c: oy, d: -s.clone(), e: zero.clone(), f: &w - ox },
    };
    let (uw, uh) = if source.rotation().swaps_axes() { (h, w) } else { (w, h) };
    let area = frame.picture_area();
    let area = Edges {
        left: whole(area.x),
        top: whole(area.y),
        right: whole(area.x + area.width),
        bottom: whole(area.y + area.height),
    };
    let pd = number(frame.pixel_aspect().value());
    let across = (&area.right - &area.left) * &pd / &uw;
    let down = (&area.bottom - &area.top) / &uh;
    let zoom = number(framing.zoom.value());
    let (ux, uy) = match framing.method {
        Method::Fit if across < down => (across.clone(), across),
        Method::Fit => (down.clone(), down),
        Method::Fill if across > down => (across.clone(), across),
        Method::Fill => (down.clone(), down),
        Method::Width => (across.clone(), across),
        Method::Height => (down.clone(), down),
        Method::Native => (one.clone(), one.clone()),
        Method::Stretch => (across, down),
    };
    let (ux, uy) = (ux * &zoom, uy * &zoom);
    let (sx, sy) = (&ux / &pd, uy.clone());
    let middle = |a: &Number, b: &Number| (a + b) * half();
    let tx = middle(&area.left, &area.right) + number(framing.shift_x.value()) - &uw * &sx * half();
    let ty = middle(&area.top, &area.bottom) + number(framing.shift_y.value()) - &uh * &sy * half();
    let map = seen.then(&sx, &sy, &tx, &ty);

    let image = map.rect(&stored);
    let visible = image.overlap(&area);
    let part = |of: &Edges| visible.as_ref().map_or_else(Number::zero, |visible| visible.area() / of.area());
    Reference {
        kept: part(&image),
        covered: part(&area),
        window: visible.as_ref().map(|visible| map.inverse().rect(visible)),
        distortion: ux / uy - one,
        image,
    }
}

/// Whether a value is the double nearest to a fraction, by comparing with its neighbours.
pub fn is_nearest_double(value: f64, exact: &Number) -> bool {
    let off = |double: f64| Number::from_float(double).map(|double| (double - exact).abs());
    let Some(here) = off(value) else { return false };
    [value.next_up(), value.next_down()].into_iter().filter_map(off).all(|neighbour| here <= neighbour)
}
