//! Spheres carried out: against a reference of our own in double precision that shares no code with them, and against
//! the sphere filter of ffmpeg.

use std::f64::consts::PI;
use std::path::Path;
use std::process::Command;

use image::DynamicImage;
use ratiomet_core::Raster;
use ratiomet_core::resampling::{Filter, Transfer};
use ratiomet_core::sphere::{
    Eyes, FieldOfView, Latitude, Layout, Matrix, Orientation, Span, SphereForm, SpherePlaceRequest, Turn,
};
use ratiomet_picture::Still;
use ratiomet_picture::sphere::{How, Look, eyes, laid, placed, put_on, turned, view};

use crate::support::{busy, kernel, still};

const PLAIN: How = How { filter: Filter::CatmullRom, light: None };

/// A turn as the contract of views defines it: rolled, then pitched, then yawed.
fn matrix([yaw, pitch, roll]: [f64; 3]) -> Matrix {
    let (sy, cy) = yaw.to_radians().sin_cos();
    let (sp, cp) = pitch.to_radians().sin_cos();
    let (sr, cr) = roll.to_radians().sin_cos();
    let ry = [[cy, 0.0, sy], [0.0, 1.0, 0.0], [-sy, 0.0, cy]];
    let rx = [[1.0, 0.0, 0.0], [0.0, cp, sp], [0.0, -sp, cp]];
    let rz = [[cr, sr, 0.0], [-sr, cr, 0.0], [0.0, 0.0, 1.0]];
    let times = |a: Matrix, b: Matrix| -> Matrix {
        std::array::from_fn(|row| std::array::from_fn(|column| (0..3).map(|k| a[row][k] * b[k][column]).sum()))
    };
    times(times(ry, rx), rz)
}

fn orientation([yaw, pitch, roll]: [f64; 3]) -> Orientation {
    Orientation {
        yaw: Turn::parse(&yaw.to_string()).expect("a turn"),
        pitch: Latitude::parse(&pitch.to_string()).expect("a latitude"),
        roll: Turn::parse(&roll.to_string()).expect("a turn"),
    }
}

fn raster<S>(width: u32, height: u32) -> Raster<S> {
    Raster::new(width, height).expect("a raster")
}

fn fov(degrees: f64) -> FieldOfView {
    FieldOfView::parse(&degrees.to_string()).expect("a field of view")
}

fn apply(m: &Matrix, v: [f64; 3]) -> [f64; 3] {
    std::array::from_fn(|row| (0..3).map(|k| m[row][k] * v[k]).sum())
}

/// The sphere in a direction, each sample within reach weighted by itself.
fn seen(sphere: &image::Rgb32FImage, [x, y, z]: [f64; 3], step: f64, filter: Filter) -> [f64; 3] {
    let (width, height) = (f64::from(sphere.width()), f64::from(sphere.height()));
    let at = [(x.atan2(z) / (2.0 * PI) + 0.5) * width, (0.5 - y.atan2(x.hypot(z)) / PI) * height];
    let step = step.max(1.0);
    let reach = (3.0 * step).ceil() as i64 + 1;
    let (mut sum, mut made) = (0.0, [0.0; 3]);
    for row in at[1] as i64 - reach..=at[1] as i64 + reach {
        for column in at[0] as i64 - reach..=at[0] as i64 + reach {
            let weight = if filter == Filter::Nearest {
                f64::from(u8::from(at[0].floor() == column as f64 && at[1].floor() == row as f64))
            } else {
                kernel(filter, (column as f64 + 0.5 - at[0]) / step) * kernel(filter, (row as f64 + 0.5 - at[1]) / step)
            };
            if weight == 0.0 {
                continue;
            }
            let (rows, columns) = (i64::from(sphere.height()), i64::from(sphere.width()));
            // Over a pole it goes on at the other side.
            let (row, column) = match row {
                _ if row < 0 => (-1 - row, column + columns / 2),
                _ if row >= rows => (2 * rows - 1 - row, column + columns / 2),
                _ => (row, column),
            };
            let pixel = sphere.get_pixel(column.rem_euclid(columns) as u32, row as u32);
            sum += weight;
            for (made, sample) in made.iter_mut().zip(pixel.0) {
                *made += weight * f64::from(sample);
            }
        }
    }
    made.map(|made| made / sum)
}

/// How many samples differ by more than 2 of 255, of how many.
fn apart(outcome: &Still, reference: &[[f64; 3]]) -> (usize, usize) {
    let samples = outcome.samples.to_rgb32f();
    let pairs = samples.as_raw().iter().zip(reference.iter().flatten());
    let off = pairs.filter(|(ours, theirs)| (f64::from(**ours) - theirs.clamp(0.0, 1.0)).abs() > 2.0 / 255.0).count();
    (off, samples.as_raw().len())
}

fn any_turn(random: &mut fastrand::Rng) -> [f64; 3] {
    let degrees = |random: &mut fastrand::Rng, most: i32| f64::from(random.i32(-most * 10..=most * 10)) / 10.0;
    [degrees(random, 180), degrees(random, 90), degrees(random, 180)]
}

const FILTERS: [Filter; 5] =
    [Filter::Nearest, Filter::Bilinear, Filter::CatmullRom, Filter::Mitchell, Filter::Lanczos3];

#[test]
fn views_and_turned_spheres_are_those_of_the_definition() {
    let mut random = fastrand::Rng::with_seed(17);
    for round in 0..40 {
        let filter = FILTERS[round % FILTERS.len()];
        let width = random.u32(40..120) * 2;
        let picture = DynamicImage::ImageRgb8(busy(width, width / 2, &mut random));
        let picture = if round % 2 == 0 { picture } else { DynamicImage::ImageRgb16(picture.to_rgb16()) };
        let (sphere, samples) = (still(picture.clone()), picture.to_rgb32f());
        let (turn, how) = (any_turn(&mut random), How { filter, light: None });
        let m = matrix(turn);
        let size = [random.u32(20..90), random.u32(20..90)];
        let degrees = f64::from(random.u32(20..140));
        let look = Look { raster: raster(size[0], size[1]), fov: fov(degrees), matrix: orientation(turn).matrix() };
        let outcome = view(&sphere, &Span::FULL, &look, how).expect("a view");
        let t = 2.0 * (degrees / 2.0).to_radians().tan() / f64::from(size[0]);
        let mut reference = Vec::new();
        for y in 0..size[1] {
            for x in 0..size[0] {
                let [half_x, half_y] = size.map(|side| f64::from(side) / 2.0);
                let v = [(f64::from(x) + 0.5 - half_x) * t, -(f64::from(y) + 0.5 - half_y) * t, 1.0];
                // The coarsest way: around, not outwards.
                let step = f64::from(width / 2) / PI * t / (v[0] * v[0] + v[1] * v[1] + 1.0).sqrt();
                reference.push(seen(&samples, apply(&m, v), step, filter));
            }
        }
        let (off, of) = apart(&outcome, &reference);
        // A place on the line between two samples may go to either.
        let allowed = if filter == Filter::Nearest { of / 100 } else { of / 1000 };
        assert!(off <= allowed, "view {round}, {filter:?}, {turn:?}, {degrees}: {off} of {of}");

        let outcome = turned(&sphere, &Span::FULL, &orientation(turn).matrix(), how).expect("a sphere");
        let mut reference = Vec::new();
        for y in 0..width / 2 {
            for x in 0..width {
                let longitude = ((f64::from(x) + 0.5) / f64::from(width) - 0.5) * 2.0 * PI;
                let latitude = (0.5 - (f64::from(y) + 0.5) / f64::from(width / 2)) * PI;
                let d = [latitude.cos() * longitude.sin(), latitude.sin(), latitude.cos() * longitude.cos()];
                reference.push(seen(&samples, apply(&m, d), 1.0, filter));
            }
        }
        let (off, of) = apart(&outcome, &reference);
        let allowed = if filter == Filter::Nearest { of / 100 } else { of / 1000 };
        assert!(off <= allowed, "turned {round}, {filter:?}, {turn:?}: {off} of {of}");
    }
}

#[test]
fn a_sphere_that_is_not_turned_keeps_every_sample() {
    let mut random = fastrand::Rng::with_seed(3);
    let sphere = still(DynamicImage::ImageRgb8(busy(256, 128, &mut random)));
    for filter in [Filter::Nearest, Filter::Bilinear, Filter::CatmullRom, Filter::Lanczos3, Filter::Area] {
        let same = turned(&sphere, &Span::FULL, &Orientation::NONE.matrix(), How { filter, light: None });
        assert_eq!(same.expect("a sphere"), sphere, "{filter:?}");
    }
    // A quarter turn moves whole columns, through the seam.
    let quarter = turned(&sphere, &Span::FULL, &orientation([90.0, 0.0, 0.0]).matrix(), PLAIN).expect("a sphere");
    let (before, after) = (sphere.samples.to_rgb8(), quarter.samples.to_rgb8());
    for (x, y, pixel) in after.enumerate_pixels() {
        let was = before.get_pixel((x + 64) % 256, y);
        let apart = pixel.0.iter().zip(was.0).map(|(one, other)| one.abs_diff(other)).max();
        assert!(apart <= Some(1), "{x}, {y}");
    }
}

#[test]
fn what_lies_outside_the_span_is_black() {
    let half = still(DynamicImage::ImageRgb8(image::RgbImage::from_pixel(90, 90, image::Rgb([200, 90, 40]))));
    let look =
        |yaw: f64| Look { raster: raster(60, 40), fov: fov(40.0), matrix: orientation([yaw, 0.0, 0.0]).matrix() };
    let inside = view(&half, &Span::FRONT, &look(30.0), PLAIN).expect("a view").samples.to_rgb8();
    assert!(inside.pixels().all(|pixel| pixel.0 == [200, 90, 40]));
    let edge = view(&half, &Span::FRONT, &look(90.0), PLAIN).expect("a view").samples.to_rgb8();
    assert_eq!((edge.get_pixel(29, 20).0, edge.get_pixel(30, 20).0), ([200, 90, 40], [0, 0, 0]));
    let behind = view(&half, &Span::FRONT, &look(180.0), PLAIN).expect("a view").samples.to_rgb8();
    assert!(behind.pixels().all(|pixel| pixel.0 == [0, 0, 0]));
}

fn place(eye: [u32; 2], picture: [u32; 2], [longitude, latitude, roll]: [f64; 3], wide: f64) -> SpherePlaceRequest {
    let Orientation { yaw, pitch, roll } = orientation([longitude, latitude, roll]);
    SpherePlaceRequest {
        eye: raster(eye[0], eye[1]),
        picture: raster(picture[0], picture[1]),
        longitude: yaw,
        latitude: pitch,
        roll,
        width: fov(wide),
    }
}

#[test]
fn a_picture_stands_where_its_outline_says_and_lets_through_what_is_clear() {
    let mut random = fastrand::Rng::with_seed(8);
    for round in 0..24 {
        let [longitude, latitude, roll] = any_turn(&mut random);
        let request = place([240, 120], [60, 40], [longitude, latitude, roll], f64::from(random.u32(10..120)));
        let ground = still(DynamicImage::ImageRgb8(image::RgbImage::from_pixel(240, 120, image::Rgb([10, 20, 30]))));
        let solid = still(DynamicImage::ImageRgb8(image::RgbImage::from_pixel(60, 40, image::Rgb([210, 100, 50]))));
        let outcome = placed(&ground, &solid, &request, PLAIN).expect("a sphere").samples.to_rgb8();
        let m = matrix([longitude, latitude, roll]);
        let half = (request.width.value().to_f64().to_radians() / 2.0).tan();
        for (x, y, pixel) in outcome.enumerate_pixels() {
            let lon = ((f64::from(x) + 0.5) / 240.0 - 0.5) * 2.0 * PI;
            let lat = (0.5 - (f64::from(y) + 0.5) / 120.0) * PI;
            let d = [lat.cos() * lon.sin(), lat.sin(), lat.cos() * lon.cos()];
            // Turned back, by the transposed matrix.
            let v: [f64; 3] = std::array::from_fn(|row| (0..3).map(|k| m[k][row] * d[k]).sum());
            let [across, up] = [v[0] / v[2] / half, v[1] / v[2] / half * 1.5];
            let rim = (across.abs().max(up.abs()) - 1.0).abs() < 1e-4;
            let inside = v[2] > 0.0 && across.abs() < 1.0 && up.abs() < 1.0;
            let expected = if inside { [210, 100, 50] } else { [10, 20, 30] };
            assert!(rim || pixel.0 == expected, "round {round}, {x}, {y}: {:?}", pixel.0);
        }
        // Half seen, both are mixed.
        let half_seen =
            still(DynamicImage::ImageRgba8(image::RgbaImage::from_pixel(60, 40, image::Rgba([210, 100, 50, 128]))));
        let mixed = placed(&ground, &half_seen, &request, PLAIN).expect("a sphere").samples.to_rgb8();
        for (mixed, whole) in mixed.pixels().zip(outcome.pixels()) {
            let expected = if whole.0 == [210, 100, 50] { [110, 60, 40] } else { [10, 20, 30] };
            assert!(mixed.0.iter().zip(expected).all(|(one, other)| one.abs_diff(other) <= 1), "round {round}");
        }
    }
}

#[test]
fn a_picture_on_a_part_of_a_sphere_is_that_on_the_whole_cut_out() {
    let mut random = fastrand::Rng::with_seed(21);
    let picture = still(DynamicImage::ImageRgb8(image::RgbImage::from_fn(60, 40, |_, _| {
        image::Rgb(std::array::from_fn(|_| random.u8(..)))
    })));
    for _ in 0..12 {
        let at = orientation(any_turn(&mut random));
        let wide = fov(f64::from(random.u32(10..120)));
        let on = |width, span: &Span| {
            let mut eye = still(DynamicImage::ImageRgb8(image::RgbImage::from_pixel(width, 120, image::Rgb([9; 3]))));
            put_on(&mut eye, span, &picture, &at, &wide, PLAIN).expect("a sphere");
            eye.samples
        };
        // The half in front of a frame of 240 pixels begins at its pixel 60.
        let whole = on(240, &Span::FULL).crop_imm(60, 0, 120, 120);
        let rim = |(one, other): (&u8, &u8)| one.abs_diff(*other) > 2;
        let half = on(120, &Span::FRONT);
        let apart = whole.as_bytes().iter().zip(half.as_bytes()).filter(|pair| rim(*pair)).count();
        assert!(apart < 30, "{apart} samples differ");
    }
}

#[test]
fn what_stands_on_a_sphere_laid_over_it_is_the_sphere_with_it() {
    let ground = still(DynamicImage::ImageRgb8(smooth(240)));
    let picture = still(DynamicImage::ImageRgba8(image::RgbaImage::from_fn(60, 40, |x, y| {
        image::Rgba([200, 90, (x * 4) as u8, if y < 20 { 255 } else { 120 }])
    })));
    let at = orientation([170.0, 20.0, 12.0]);
    let mut with = ground.clone();
    put_on(&mut with, &Span::FULL, &picture, &at, &fov(50.0), PLAIN).expect("a sphere");
    let mut overlay = Still::clear([240, 120]);
    put_on(&mut overlay, &Span::FULL, &picture, &at, &fov(50.0), PLAIN).expect("a sphere");
    let (under, over, with) = (ground.samples.to_rgb8(), overlay.samples.to_rgba8(), with.samples.to_rgb8());
    assert!(over.pixels().any(|pixel| pixel.0[3] == 255) && over.pixels().any(|pixel| pixel.0[3] == 0));
    for ((under, over), with) in under.pixels().zip(over.pixels()).zip(with.pixels()) {
        let seen = f64::from(over.0[3]) / 255.0;
        for channel in 0..3 {
            let laid = f64::from(over.0[channel]) * seen + f64::from(under.0[channel]) * (1.0 - seen);
            assert!((laid - f64::from(with.0[channel])).abs() <= 2.0, "{under:?} {over:?} {with:?}");
        }
    }
}

#[test]
fn a_still_of_another_size_is_refused_and_a_smaller_one_stands_for_it() {
    let ground = |width| still(DynamicImage::ImageRgb8(image::RgbImage::new(width, width / 2)));
    let caption = still(DynamicImage::ImageRgb8(image::RgbImage::from_pixel(30, 20, image::Rgb([255; 3]))));
    let request = place([240, 120], [60, 40], [0.0; 3], 40.0);
    let small = placed(&ground(120), &caption, &request, PLAIN).expect("half of each").samples.to_rgb8();
    assert_eq!((small.get_pixel(60, 30).0, small.get_pixel(20, 30).0), ([255; 3], [0; 3]));
    let why = placed(&ground(200), &caption, &request, PLAIN).expect_err("another size").to_string();
    assert!(why.contains("200x100") && why.contains("240x120"), "{why}");
}

#[test]
fn eyes_are_taken_apart() {
    let frame = image::RgbImage::from_fn(8, 8, |x, y| image::Rgb([u8::from(x > 3), u8::from(y > 3), 0]));
    let frame = still(DynamicImage::ImageRgb8(frame));
    let form = |layout, eyes| SphereForm { layout, eyes, ..SphereForm::default() };
    let marks = |layout, order| -> Vec<[u8; 3]> {
        let eyes = eyes(&frame, &form(layout, order)).expect("eyes");
        eyes.iter().map(|eye| eye.samples.to_rgb8().get_pixel(0, 0).0).collect()
    };
    assert_eq!(marks(Layout::TopBottom, Eyes::LeftFirst), [[0, 0, 0], [0, 1, 0]]);
    assert_eq!(marks(Layout::TopBottom, Eyes::RightFirst), [[0, 1, 0], [0, 0, 0]]);
    assert_eq!(marks(Layout::SideBySide, Eyes::LeftFirst), [[0, 0, 0], [1, 0, 0]]);
    assert_eq!(marks(Layout::Mono, Eyes::LeftFirst), [[0, 0, 0]]);
}

#[test]
fn both_eyes_are_turned_alike_and_stay_where_they_are() {
    let mut random = fastrand::Rng::with_seed(5);
    let eyes = [(); 2].map(|()| busy(128, 64, &mut random));
    let matrix = orientation([30.0, 20.0, 10.0]).matrix();
    for layout in [Layout::TopBottom, Layout::SideBySide] {
        let form = SphereForm { layout, eyes: Eyes::RightFirst, ..SphereForm::default() };
        let [across, down] = form.pictures();
        let mut frame = image::RgbImage::new(128 * across, 64 * down);
        for (place, eye) in (0_i64..).zip(&eyes) {
            let [x, y] = if layout == Layout::TopBottom { [0, 64 * place] } else { [128 * place, 0] };
            image::imageops::replace(&mut frame, eye, x, y);
        }
        let frame = still(DynamicImage::ImageRgb8(frame));
        let turn = |eye: &Still| turned(eye, &Span::FULL, &matrix, PLAIN);
        let whole = ratiomet_picture::sphere::each_eye(&frame, &form, turn).expect("a frame");
        let [right, left] =
            eyes.each_ref().map(|eye| turn(&still(DynamicImage::ImageRgb8(eye.clone()))).expect("an eye"));
        let parts = ratiomet_picture::sphere::eyes(&whole, &form).expect("eyes");
        assert_eq!(parts, [left, right], "{layout:?}");
    }
}

#[test]
fn each_eye_finds_its_place_in_every_other_layout() {
    let mut random = fastrand::Rng::with_seed(6);
    let [left, right] = [(); 2].map(|()| busy(128, 64, &mut random));
    let forms: Vec<SphereForm> = Layout::ALL
        .into_iter()
        .flat_map(|layout| Eyes::ALL.map(|eyes| SphereForm { layout, eyes, ..SphereForm::default() }))
        .collect();
    let frame = |form: &SphereForm| {
        let [across, down] = form.pictures();
        let mut frame = image::RgbImage::new(128 * across, 64 * down);
        let mut both = [&left, &right];
        if form.eyes == Eyes::RightFirst && form.layout != Layout::Mono {
            both.reverse();
        }
        for (place, eye) in (0_i64..i64::from(across * down)).zip(both) {
            let [x, y] = if form.layout == Layout::TopBottom { [0, 64 * place] } else { [128 * place, 0] };
            image::imageops::replace(&mut frame, eye, x, y);
        }
        still(DynamicImage::ImageRgb8(frame))
    };
    for (from, to) in forms.iter().flat_map(|from| forms.iter().map(move |to| (from, to))) {
        let [across, down] = to.pictures();
        let made = laid(&frame(from), from, to, [128 * across, 64 * down], PLAIN).expect("a frame");
        let seen = ratiomet_picture::sphere::eyes(&made, to).expect("eyes");
        let right = if from.layout == Layout::Mono { &left } else { &right };
        for (eye, expected) in seen.iter().zip([&left, right]) {
            assert!(eye.samples.to_rgb8() == *expected, "{from:?} to {to:?}");
        }
    }
    // A half out of a whole is its middle; a whole out of a half is black behind.
    let half = SphereForm { span: Span::FRONT, ..SphereForm::default() };
    let whole = SphereForm::default();
    let flat = still(DynamicImage::ImageRgb8(left.clone()));
    let front = laid(&flat, &whole, &half, [64, 64], PLAIN).expect("a frame");
    assert!(front.samples == flat.samples.crop_imm(32, 0, 64, 64));
    let back = laid(&front, &half, &whole, [128, 64], PLAIN).expect("a frame").samples.to_rgb8();
    assert!(back.get_pixel(10, 30).0 == [0; 3] && back.get_pixel(64, 30) == left.get_pixel(64, 30));
}

#[test]
fn light_is_averaged_as_light_on_a_sphere_too() {
    let stripes = image::RgbImage::from_fn(512, 256, |x, _| image::Rgb([if x % 2 == 0 { 255 } else { 0 }; 3]));
    let look = Look { raster: raster(16, 16), fov: fov(90.0), matrix: Orientation::NONE.matrix() };
    let middle = |light| {
        let how = How { filter: Filter::Bilinear, light };
        let seen = view(&still(DynamicImage::ImageRgb8(stripes.clone())), &Span::FULL, &look, how);
        seen.expect("a view").samples.to_rgb8().get_pixel(8, 8).0[0]
    };
    // Half of the light of white: 188 in sRGB (IEC 61966-2-1), 128 in the signal.
    assert!(middle(None).abs_diff(128) <= 2 && middle(Some(Transfer::Srgb)).abs_diff(188) <= 2);
}

/// A smooth sphere, as lenses make them.
fn smooth(width: u32) -> image::RgbImage {
    image::RgbImage::from_fn(width, width / 2, |x, y| {
        let lon = ((f64::from(x) + 0.5) / f64::from(width) - 0.5) * 2.0 * PI;
        let lat = (0.5 - (f64::from(y) + 0.5) / f64::from(width / 2)) * PI;
        let [a, b, c] = [lat.cos() * lon.sin(), lat.sin(), lat.cos() * lon.cos()];
        let wave = |value: f64| (127.5 + 110.0 * value.clamp(-1.0, 1.0)).round() as u8;
        image::Rgb([wave((9.0 * a).sin() * (7.0 * b).cos()), wave((11.0 * b + 4.0 * c).sin()), wave((8.0 * c).cos())])
    })
}

fn filtered(folder: &Path, input: &[&str], filter: &str, output: &str) {
    let run = Command::new("ffmpeg")
        .args(["-hide_banner", "-loglevel", "error", "-nostdin", "-y"])
        .current_dir(folder)
        .args(input.iter().flat_map(|file| ["-i", file]))
        .args(["-filter_complex", filter, "-frames:v", "1", output])
        .output()
        .expect("ffmpeg is installed");
    assert!(run.status.success(), "{}", String::from_utf8_lossy(&run.stderr));
}

/// How alike two pictures are, in decibels.
fn decibels(one: &image::RgbImage, other: &image::RgbImage) -> f64 {
    assert_eq!(one.dimensions(), other.dimensions());
    let pairs = one.as_raw().iter().zip(other.as_raw());
    let sum: f64 = pairs.map(|(one, other)| f64::from(one.abs_diff(*other)).powi(2)).sum();
    10.0 * (255.0 * 255.0 / (sum / one.as_raw().len() as f64).max(1e-9)).log10()
}

#[test]
fn views_turns_and_placements_are_those_of_the_sphere_filter_of_ffmpeg() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = |name: &str| folder.path().join(name);
    let sphere = smooth(720);
    sphere.save(file("sphere.png")).expect("written");
    let sphere = still(DynamicImage::ImageRgb8(sphere));
    let read = |name: &str| image::open(file(name)).expect("theirs").to_rgb8();
    let mut random = fastrand::Rng::with_seed(360);
    for round in 0..12 {
        let turn = any_turn(&mut random);
        let [yaw, pitch, roll] = turn;
        let degrees = f64::from(random.u32(40..110));
        let (width, height) = (320, 180);
        let high = 2.0 * ((degrees / 2.0).to_radians().tan() * f64::from(height) / f64::from(width)).atan();
        filtered(
            folder.path(),
            &["sphere.png"],
            &format!(
                "format=gbrp,v360=e:flat:interp=cubic:w={width}:h={height}:h_fov={degrees}:v_fov={}:yaw={yaw}:pitch={pitch}:roll={roll}",
                high.to_degrees()
            ),
            "view.png",
        );
        let look = Look { raster: raster(width, height), fov: fov(degrees), matrix: orientation(turn).matrix() };
        let ours = view(&sphere, &Span::FULL, &look, PLAIN).expect("a view").samples.to_rgb8();
        let alike = decibels(&ours, &read("view.png"));
        assert!(alike > 40.0, "view {round}, {turn:?}, {degrees}: {alike:.1} dB");

        let filter = format!("format=gbrp,v360=e:e:interp=cubic:yaw={yaw}:pitch={pitch}:roll={roll}");
        filtered(folder.path(), &["sphere.png"], &filter, "turned.png");
        let ours =
            turned(&sphere, &Span::FULL, &orientation(turn).matrix(), PLAIN).expect("a sphere").samples.to_rgb8();
        let alike = decibels(&ours, &read("turned.png"));
        assert!(alike > 40.0, "turned {round}, {turn:?}: {alike:.1} dB");
    }
}
