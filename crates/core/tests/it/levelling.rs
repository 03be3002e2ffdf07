//! Levelling a sphere: the turn is found again from points that it moved, and keeps its promises.

use proptest::prelude::*;
use ratiomet_core::sphere::{Latitude, Mark, Marks, SphereLevel, SphereLevelRequest, Turn};

type Vector = [f64; 3];

fn mark(longitude: f64, latitude: f64) -> Mark {
    Mark {
        longitude: Turn::parse(&format!("{longitude:.6}")).expect("an angle"),
        latitude: Latitude::parse(&format!("{latitude:.6}")).expect("a latitude"),
    }
}

/// The direction of a point, x right, y up, z forward.
fn direction(longitude: f64, latitude: f64) -> Vector {
    let (lon, lat) = (longitude.to_radians(), latitude.to_radians());
    [lat.cos() * lon.sin(), lat.sin(), lat.cos() * lon.cos()]
}

fn point([x, y, z]: Vector) -> Mark {
    mark(x.atan2(z).to_degrees(), y.clamp(-1.0, 1.0).asin().to_degrees())
}

fn times(matrix: [[f64; 3]; 3], vector: Vector) -> Vector {
    matrix.map(|row| row.iter().zip(vector).map(|(a, b)| a * b).sum())
}

fn product(a: [[f64; 3]; 3], b: [[f64; 3]; 3]) -> [[f64; 3]; 3] {
    let column = |at: usize| b.map(|row| row[at]);
    let columns = [0, 1, 2].map(|at| times(a, column(at)));
    [0, 1, 2].map(|row| columns.map(|column| column[row]))
}

/// Ry(yaw) Rx(pitch) Rz(roll), written out, in degrees.
fn turned(yaw: f64, pitch: f64, roll: f64) -> [[f64; 3]; 3] {
    let (y, p, r) = (yaw.to_radians(), pitch.to_radians(), roll.to_radians());
    let ry = [[y.cos(), 0.0, y.sin()], [0.0, 1.0, 0.0], [-y.sin(), 0.0, y.cos()]];
    let rx = [[1.0, 0.0, 0.0], [0.0, p.cos(), p.sin()], [0.0, -p.sin(), p.cos()]];
    let rz = [[r.cos(), r.sin(), 0.0], [-r.sin(), r.cos(), 0.0], [0.0, 0.0, 1.0]];
    product(product(ry, rx), rz)
}

fn level(marks: Marks, centre: Option<Mark>) -> Result<SphereLevel, ratiomet_core::Error> {
    SphereLevel::of(&SphereLevelRequest { marks, centre })
}

fn is_near(one: [[f64; 3]; 3], other: [[f64; 3]; 3], off: f64) -> bool {
    one.iter().flatten().zip(other.iter().flatten()).all(|(a, b)| (a - b).abs() < off)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    /// A level sphere is tilted; points of its horizon are marked; the tilt is found.
    #[test]
    fn a_tilt_is_found_again_from_its_horizon(
        pitch in -80.0..80.0_f64, roll in -80.0..80.0_f64, first in -180.0..180.0_f64, apart in 20.0..160.0_f64, more in 0_usize..5,
    ) {
        let tilt = turned(0.0, pitch, roll);
        let up = times(tilt, [0.0, 1.0, 0.0]);
        prop_assume!(up[1] > 0.05);
        let mut longitudes = vec![first, first + apart];
        longitudes.extend((0..more).map(|n| first + 37.0 * f64::from(u32::try_from(n).expect("few"))));
        let horizon = longitudes.iter().map(|longitude| point(times(tilt, direction(*longitude, 0.0)))).collect();
        let found = level(Marks::Horizon(horizon), None).expect("a turn");
        let column = |at: usize| found.matrix.map(|row| row[at]);
        prop_assert!(column(1).iter().zip(up).all(|(a, b)| (a - b).abs() < 1e-5), "{:?} {up:?}", column(1));
        prop_assert!((found.tilt - up[1].clamp(-1.0, 1.0).acos().to_degrees()).abs() < 1e-3);
        prop_assert!(found.residual < 1e-4, "{}", found.residual);
        // The angles say the same as the matrix.
        prop_assert!(is_near(turned(found.angles[0], found.angles[1], found.angles[2]), found.matrix, 1e-9));
    }

    /// The same from things that stand upright; the middle stays where it is wished.
    #[test]
    fn a_tilt_is_found_again_from_what_stands_upright(
        pitch in -80.0..80.0_f64, roll in -80.0..80.0_f64, first in -180.0..180.0_f64, apart in 20.0..160.0_f64, middle in -180.0..180.0_f64,
    ) {
        let tilt = turned(0.0, pitch, roll);
        let up = times(tilt, [0.0, 1.0, 0.0]);
        prop_assume!(up[1] > 0.05);
        let upright = |longitude: f64| [-30.0, 40.0].map(|latitude| point(times(tilt, direction(longitude, latitude))));
        let centre = point(times(tilt, direction(middle, 12.0)));
        let found = level(Marks::Uprights(vec![upright(first), upright(first + apart)]), Some(centre)).expect("a turn");
        let column = |at: usize| found.matrix.map(|row| row[at]);
        prop_assert!(column(1).iter().zip(up).all(|(a, b)| (a - b).abs() < 1e-5));
        // What was to come into the middle lies straight ahead, as high above the horizon as it was.
        let ahead = times([column(0), column(1), column(2)], times(tilt, direction(middle, 12.0)));
        prop_assert!(ahead[0].abs() < 1e-5 && (ahead[1] - 12.0_f64.to_radians().sin()).abs() < 1e-5, "{ahead:?}");
    }
}

#[test]
fn what_settles_nothing_is_refused_at_its_field() {
    use ratiomet_core::error::Parameter;
    let refused = |marks, centre| level(marks, centre).expect_err("refused").parameter();
    let horizon = |points: &[(f64, f64)]| Marks::Horizon(points.iter().map(|(lon, lat)| mark(*lon, *lat)).collect());
    assert_eq!(refused(horizon(&[(10.0, 5.0), (10.0, 5.0)]), None), Some(Parameter::Horizon));
    assert_eq!(refused(horizon(&[(10.0, 5.0), (-170.0, -5.0)]), None), Some(Parameter::Horizon));
    // Points along a meridian put up on the equator: which way is up is not settled.
    assert_eq!(refused(horizon(&[(0.0, 0.0), (0.0, 90.0)]), None), Some(Parameter::Horizon));
    let line = [mark(20.0, 10.0), mark(20.0, 10.0)];
    assert_eq!(refused(Marks::Uprights(vec![line]), None), Some(Parameter::Uprights));
    let level_points = horizon(&[(0.0, 0.0), (90.0, 0.0)]);
    assert_eq!(refused(level_points, Some(mark(0.0, 90.0))), Some(Parameter::Centre));
}
