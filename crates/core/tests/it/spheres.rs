//! Spheres, levels, screens and bits: brute force, published tables, worked examples.

use proptest::prelude::*;
use ratiomet_core::error::Parameter;
use ratiomet_core::levels::{Levels, Rung, h264_table, h265_table, ladder};
use ratiomet_core::sphere::*;
use ratiomet_core::viewing::{Screen, Show, Viewing};
use ratiomet_core::weight::{Kilobits, Megabits, Seconds, Weight};
use ratiomet_core::*;

use crate::inputs::{frame, raster};

fn size<S: std::fmt::Debug>(width: u32, height: u32) -> Raster<S> {
    Raster::new(width, height).expect("a raster")
}

fn turn(degrees: f64) -> Turn {
    Turn::parse(&format!("{degrees:.3}")).expect("an angle")
}

fn latitude(degrees: f64) -> Latitude {
    Latitude::parse(&format!("{degrees:.3}")).expect("a latitude")
}

fn field_of_view(degrees: f64) -> FieldOfView {
    FieldOfView::parse(&format!("{degrees:.3}")).expect("an angle")
}

fn span(across: &str, up: &str) -> Span {
    Span { across: Across::parse(across).expect("an angle"), up: UpAndDown::parse(up).expect("an angle") }
}

fn view(eye: [u32; 2], view: [u32; 2], fov: f64, [yaw, pitch, roll]: [f64; 3], span: Span) -> SphereView {
    SphereView::of(&SphereViewRequest {
        eye: size(eye[0], eye[1]),
        span,
        view: size(view[0], view[1]),
        fov: field_of_view(fov),
        yaw: turn(yaw),
        pitch: latitude(pitch),
        roll: turn(roll),
    })
}

fn place(eye: [u32; 2], picture: [u32; 2], width: f64, [longitude, latitude, roll]: [f64; 3]) -> SpherePlace {
    SpherePlace::of(&SpherePlaceRequest {
        eye: size(eye[0], eye[1]),
        picture: size(picture[0], picture[1]),
        longitude: turn(longitude),
        latitude: self::latitude(latitude),
        roll: turn(roll),
        width: field_of_view(width),
    })
}

/// The direction of a point of the sphere.
fn direction([longitude, latitude]: Point) -> [f64; 3] {
    let (lon, lat) = (longitude.to_radians(), latitude.to_radians());
    [lat.cos() * lon.sin(), lat.sin(), lat.cos() * lon.cos()]
}

fn apart(one: Point, other: Point) -> f64 {
    let (a, b) = (direction(one), direction(other));
    a.iter().zip(b).map(|(a, b)| (a - b).powi(2)).sum::<f64>().sqrt().to_degrees()
}

/// Where a point of a flat view lies on the sphere, turned by matrices written out: x right, y up, z forward.
fn by_matrices(x: f64, y: f64, [yaw, pitch, roll]: [f64; 3]) -> Point {
    let (yaw, pitch, roll) = (yaw.to_radians(), pitch.to_radians(), roll.to_radians());
    let times = |m: [[f64; 3]; 3], v: [f64; 3]| m.map(|row| row.iter().zip(v).map(|(a, b)| a * b).sum::<f64>());
    let rz = [[roll.cos(), roll.sin(), 0.0], [-roll.sin(), roll.cos(), 0.0], [0.0, 0.0, 1.0]];
    let rx = [[1.0, 0.0, 0.0], [0.0, pitch.cos(), pitch.sin()], [0.0, -pitch.sin(), pitch.cos()]];
    let ry = [[yaw.cos(), 0.0, yaw.sin()], [0.0, 1.0, 0.0], [-yaw.sin(), 0.0, yaw.cos()]];
    let [x, y, z] = times(ry, times(rx, times(rz, [x, y, 1.0])));
    [x.atan2(z).to_degrees(), (y / (x * x + y * y + z * z).sqrt()).asin().to_degrees()]
}

fn turns() -> impl Strategy<Value = [f64; 3]> {
    (-360.0..360.0_f64, -90.0..90.0_f64, -360.0..360.0_f64)
        .prop_map(|(a, b, c)| [a, b, c].map(|v| (v * 1000.0).round() / 1000.0))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(600))]

    #[test]
    fn a_view_looks_where_matrices_say(turn in turns(), fov in 1.0..170.0_f64, shape in (1_u32..4000, 1_u32..4000)) {
        let fov = (fov * 1000.0).round() / 1000.0;
        let seen = view([5760, 2880], [shape.0, shape.1], fov, turn, Span::FULL);
        let half = (fov.to_radians() / 2.0).tan();
        let high = half * f64::from(shape.1) / f64::from(shape.0);
        prop_assert!(apart(seen.centre, by_matrices(0.0, 0.0, turn)) < 1e-7);
        for (corner, [x, y]) in seen.corners.iter().zip([[-1.0, 1.0], [1.0, 1.0], [1.0, -1.0], [-1.0, -1.0]]) {
            prop_assert!(apart(*corner, by_matrices(x * half, y * high, turn)) < 1e-6);
            prop_assert!(corner[0] > -180.0 && corner[0] <= 180.0);
        }
        prop_assert!(seen.outline.len() >= 64 && !seen.outside);
        // A picture of that shape, put where the camera looks, covers exactly what it sees.
        let put = place([5760, 2880], [shape.0, shape.1], fov, turn);
        for (one, other) in put.corners.iter().zip(seen.corners) {
            prop_assert!(apart(*one, other) < 1e-9);
        }
    }

}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(150))]

    /// The bounds hold every point of the picture, and none of their sides could be moved in.
    #[test]
    fn bounds_are_as_tight_as_pixels_allow(turn in turns(), width in 0.5..150.0_f64, shape in (1_u32..400, 1_u32..400)) {
        let width = (width * 1000.0).round() / 1000.0;
        let eye = [2000_u32, 1000];
        let put = place(eye, [shape.0, shape.1], width, turn);
        let half = (width.to_radians() / 2.0).tan();
        let high = half * f64::from(shape.1) / f64::from(shape.0);
        let Bounds { x, y, width: columns, height: lines } = put.bounds;
        prop_assert!(x < eye[0] && columns <= eye[0] && y + lines <= eye[1]);
        let (mut first, mut last) = (f64::MAX, f64::MIN);
        let (mut top, mut bottom) = (f64::MAX, f64::MIN);
        // All along the border, and a net within.
        let border = (0..=1500).flat_map(move |n| {
            // Evenly by angle, so that long sides are not sampled thinly in their middle.
            let even = |side: f64| ((f64::from(n) / 750.0 - 1.0) * side.atan()).tan() / side;
            let (across, down) = (even(half), even(high));
            [[across, 1.0], [across, -1.0], [1.0, down], [-1.0, down]]
        });
        let net = (0..400).map(|n| [f64::from(n / 20) / 10.0 - 1.0, f64::from(n % 20) / 10.0 - 1.0]);
        for [i, j] in border.chain(net) {
                let [lon, lat] = by_matrices(i * half, j * high, turn);
                let line = (0.5 - lat / 180.0) * f64::from(eye[1]);
                prop_assert!(line > f64::from(y) - 1e-4 && line < f64::from(y + lines) + 1e-4);
                (top, bottom) = (top.min(line), bottom.max(line));
                // From the left side of the bounds, round the sphere.
                let column = ((lon / 360.0 + 0.5) * f64::from(eye[0]) - f64::from(x)).rem_euclid(f64::from(eye[0]));
                let near_left = column > f64::from(eye[0]) - 1e-4;
                prop_assert!(near_left || column < f64::from(columns) + 1e-4, "{column} of {columns}");
                if !near_left {
                    (first, last) = (first.min(column), last.max(column));
                }
        }
        // A pole lies inside, where no border is.
        let pole = columns == eye[0];
        prop_assert!((pole && y == 0) || top - f64::from(y) < 1.1, "{top} {y}");
        prop_assert!((pole && y + lines == eye[1]) || f64::from(y + lines) - bottom < 1.1, "{bottom} {y} {lines}");
        // Around a pole all columns are needed.
        if columns < eye[0] {
            prop_assert!(first < 1.1 && f64::from(columns) - last < 1.1, "{first} {last} {columns}");
            prop_assert_eq!(put.wraps, x + columns > eye[0]);
        }
    }

}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(600))]

    /// Black, picture and what is cut add up to the whole.
    #[test]
    fn a_screen_is_picture_and_black(frame in frame(), screen in raster::<Screen>(), fill in any::<bool>()) {
        let viewing = Viewing::of(&frame, screen, if fill { Show::Fill } else { Show::Fit });
        let whole = screen.size();
        prop_assert!(viewing.picture_share >= Exact::ZERO && viewing.picture_share <= Exact::ONE);
        prop_assert!(viewing.cut >= Exact::ZERO && viewing.cut < Exact::ONE);
        let across = &whole.width - &viewing.player_bars.left - &viewing.player_bars.right
            - &viewing.baked_bars.left - &viewing.baked_bars.right;
        let down = &whole.height - &viewing.player_bars.top - &viewing.player_bars.bottom
            - &viewing.baked_bars.top - &viewing.baked_bars.bottom;
        prop_assert_eq!(&viewing.picture_share * whole.area(), across * down);
        let seen = (Exact::ONE - &viewing.cut) * viewing.picture.size.area();
        prop_assert_eq!(seen, &viewing.picture_share * whole.area());
        if fill {
            prop_assert!(!viewing.player_bars.any_along(space::Axis::X) && !viewing.player_bars.any_along(space::Axis::Y));
        } else {
            prop_assert!(viewing.cut.is_zero());
        }
        // The frame keeps its shape.
        prop_assert_eq!(&viewing.frame.size.width / &viewing.frame.size.height, frame.ratio());
    }
}

#[test]
fn a_view_out_of_part_of_a_sphere_may_pass_it() {
    let half = span("180", "180");
    let case = |fov: f64, turn: [f64; 3], outside: bool| {
        assert_eq!(view([4096, 4096], [1600, 900], fov, turn, half.clone()).outside, outside, "{fov} {turn:?}");
    };
    case(90.0, [0.0, 0.0, 0.0], false);
    case(90.0, [44.9, 0.0, 0.0], false);
    case(90.0, [45.1, 0.0, 0.0], true);
    case(90.0, [180.0, 0.0, 0.0], true);
    // Over the pole there is every longitude.
    case(60.0, [0.0, 80.0, 0.0], true);
    let low = span("360", "120");
    // The top border of a level view is highest in its middle.
    assert!(!view([4096, 1366], [1000, 1000], 119.9, [0.0, 0.0, 0.0], low.clone()).outside);
    assert!(view([4096, 1366], [1000, 1000], 120.1, [0.0, 0.0, 0.0], low).outside);
}

#[test]
fn spheres_are_sized_by_their_span() {
    #[track_caller]
    fn case(given: EyeSize, span: [u32; 2], layout: Layout, eye: [u32; 2], frame: [u32; 2]) {
        let span = self::span(&span[0].to_string(), &span[1].to_string());
        let sphere = EquirectangularFrame::of(&given, &span, layout, Step::Two).expect("a sphere");
        assert_eq!([sphere.eye.width(), sphere.eye.height()], eye);
        assert_eq!([sphere.frame.width(), sphere.frame.height()], frame);
    }
    // Worked examples of the trade: 5.7K mono, two eyes one above the other, half a sphere side by side.
    case(EyeSize::Width(5760), [360, 180], Layout::Mono, [5760, 2880], [5760, 2880]);
    case(EyeSize::Width(3840), [360, 180], Layout::TopBottom, [3840, 1920], [3840, 3840]);
    case(EyeSize::Height(2160), [180, 180], Layout::SideBySide, [2160, 2160], [4320, 2160]);
    let fine = PixelsPerDegree::parse("16").expect("a sampling");
    case(EyeSize::PixelsPerDegree(fine), [360, 180], Layout::Mono, [5760, 2880], [5760, 2880]);
    let large = EquirectangularFrame::of(&EyeSize::Width(40_000), &Span::FULL, Layout::SideBySide, Step::Two);
    assert!(large.is_err_and(|error| error.is_too_large() && error.parameter() == Some(Parameter::Width)));
}

// ITU-T H.264 (2021), Annex A, the examples of Table A-6 (from memory); ITU-T H.265 (2021), Table A.10
// (from memory): the largest usual frames of each level.
#[test]
fn levels_take_what_the_standards_say_they_take() {
    #[track_caller]
    fn case(width: u32, height: u32, rate: &str, h264: Option<&str>, h265: Option<&str>) {
        let levels = Levels::of(size(width, height), &FrameRate::parse(rate).expect("a rate"));
        assert_eq!((levels.h264, levels.h265), (h264, h265), "{width}x{height} at {rate}");
    }
    case(176, 144, "15", Some("1"), Some("1"));
    case(352, 288, "30", Some("1.3"), Some("2"));
    case(720, 576, "25", Some("3"), Some("3"));
    case(1280, 720, "30", Some("3.1"), Some("3.1"));
    case(1280, 720, "60", Some("3.2"), Some("4"));
    case(1920, 1080, "30", Some("4"), Some("4"));
    case(1920, 1080, "60", Some("4.2"), Some("4.1"));
    case(3840, 2160, "30", Some("5.1"), Some("5"));
    case(3840, 2160, "60", Some("5.2"), Some("5.1"));
    case(4096, 2160, "60", Some("5.2"), Some("5.1"));
    case(7680, 4320, "30", Some("6"), Some("6"));
    case(7680, 4320, "60", Some("6.1"), Some("6.1"));
    case(7680, 4320, "120", Some("6.2"), Some("6.2"));
    // A long strip: few pixels, and a side that no lower level takes.
    case(8000, 16, "10", Some("5.1"), Some("5"));
    case(30_000, 30_000, "1", None, None);
    // Both tables only grow.
    assert!(h264_table().zip(h264_table().skip(1)).all(|(one, next)| one.1 <= next.1 && one.2 <= next.2));
    assert!(h265_table().zip(h265_table().skip(1)).all(|(one, next)| one.1 <= next.1 && one.2 <= next.2));
}

// Worked by hand: 12 Mbit/s and 192 kbit/s for 90 s are 1,097,280,000 bits; 12,000,000 bits over
// 1920 x 1080 x 25 pixels.
#[test]
fn bits_are_counted_and_bytes_rounded_up() {
    let case = |seconds: &str, video: &str, audio: &str| {
        Weight::of(
            size(1920, 1080),
            &FrameRate::parse("25").expect("a rate"),
            &Seconds::parse(seconds).expect("seconds"),
            &Megabits::parse(video).expect("bits"),
            &Kilobits::parse(audio).expect("bits"),
        )
    };
    assert_eq!(case("90", "12", "192").bytes, 137_160_000);
    assert_eq!(case("0.000001", "0.000001", "0").bytes, 1);
    assert_eq!(case("1000000000", "1000000", "1000000").bytes, 125_125_000_000_000_000_000);
    assert_eq!(case("90", "12", "192").bits_per_pixel, Exact::fraction(25, 108));
    assert!(Seconds::parse("0").is_err() && Seconds::parse("1000000001").is_err());
}

#[test]
fn a_rung_of_the_ladder_is_the_largest_of_its_level() {
    for (layout, span) in
        [(Layout::Mono, Span::FULL), (Layout::TopBottom, Span::FULL), (Layout::SideBySide, Span::FRONT)]
    {
        let form = SphereForm { span, layout, ..SphereForm::default() };
        for rate in ["24", "30000/1001", "60"] {
            let rate = FrameRate::parse(rate).expect("a rate");
            let ladder = ladder(&form, &rate);
            assert!(ladder.len() > 2, "{ladder:?}");
            let mut known = std::collections::HashSet::new();
            for Rung { frame, levels } in &ladder {
                assert_eq!(*levels, Levels::of(*frame, &rate));
                let [width, height] = form.eye([frame.width(), frame.height()]);
                assert_eq!(width % 16, 0);
                // Degrees are as wide as they are high, to the even line.
                let shape = f64::from(width) / f64::from(height);
                let wanted = form.span.across.value().to_f64() / form.span.up.value().to_f64();
                assert!((shape / wanted - 1.0).abs() < 2.0 / f64::from(height), "{width}x{height}");
                // The next one is too large for one of the two levels.
                let [across, down] = form.pictures();
                let (wide, high) = if form.span == Span::FULL { (2, 1) } else { (1, 1) };
                let next_height = 2 * (((width + 16) * high + wide) / (2 * wide));
                let next = size((width + 16) * across, next_height * down);
                assert_ne!(Levels::of(next, &rate), *levels, "{frame:?}");
                assert!(known.insert([frame.width(), frame.height()]), "each once");
            }
            let areas: Vec<u64> =
                ladder.iter().map(|rung| u64::from(rung.frame.width()) * u64::from(rung.frame.height())).collect();
            assert!(areas.is_sorted());
        }
    }
}

#[test]
fn a_sliver_of_a_sphere_that_no_frame_holds_has_no_rungs() {
    for across in ["8/809486", "0.0001", "1/1000000"] {
        let span = Span { across: Across::parse(across).expect("a span"), ..Span::FULL };
        let form = SphereForm { span, layout: Layout::TopBottom, ..SphereForm::default() };
        assert!(ladder(&form, &FrameRate::parse("1/20").expect("a rate")).is_empty(), "{across}");
    }
}
