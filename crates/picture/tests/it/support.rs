//! Pictures to work on, and programs that know them.

use std::f64::consts::PI;
use std::path::Path;
use std::process::Command;

use image::DynamicImage;
use ratiomet_core::resampling::Filter;
use ratiomet_core::{
    DeliveryFrame, DisplayRatio, Framing, Insets, Method, PixelAspect, Raster, Rotation, Shift, Source, Squeeze, Step,
    Zoom,
};
use ratiomet_picture::Still;

/// Runs a script of Python with the libraries that tests have, and gives what it prints.
pub fn python(script: &str, folder: &Path) -> String {
    let libraries = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/python");
    let output = Command::new("python3")
        .args(["-c", script])
        .current_dir(folder)
        .env("PYTHONPATH", libraries)
        .output()
        .expect("python3 is installed");
    let said = String::from_utf8_lossy(&output.stderr);
    assert!(output.status.success(), "{said}\n(cargo xtask test installs the libraries into target/python)");
    String::from_utf8(output.stdout).expect("text")
}

pub fn still(samples: DynamicImage) -> Still {
    Still { samples, profile: None, format: "PNG" }
}

/// A picture of noise and edges: what filters make most of.
pub fn busy(width: u32, height: u32, random: &mut fastrand::Rng) -> image::RgbImage {
    let [a, b, c] = [random.u32(3..9), random.u32(3..9), random.u32(2..40)];
    image::RgbImage::from_fn(width, height, |x, y| {
        let edge = if (x / a + y / b) % 2 == 0 { 235 } else { 20 };
        let noise = random.u8(0..40);
        let slope = u8::try_from((x * c + y) % 256).unwrap_or(0);
        image::Rgb([edge.max(noise), slope, noise.wrapping_mul(6)])
    })
}

/// A source, a frame and a framing of any kind, small enough for a slow reference.
pub fn any_conversion(random: &mut fastrand::Rng) -> (Source, DeliveryFrame, Framing) {
    loop {
        let raster = Raster::new(random.u32(12..90), random.u32(12..90)).expect("a raster");
        let inset = |random: &mut fastrand::Rng| if random.bool() { 0 } else { random.u32(0..5) };
        let insets = Insets { left: inset(random), top: inset(random), right: inset(random), bottom: inset(random) };
        let rotation = random.choice(Rotation::ALL).expect("one of four");
        let aspect =
            PixelAspect::parse(random.choice(["1", "12/11", "16/15", "1/2"]).expect("one")).expect("an aspect");
        let squeeze = Squeeze::parse(random.choice(["1", "1.5", "2"]).expect("one")).expect("a squeeze");
        let Ok(source) = Source::new(raster, aspect, squeeze, insets, rotation) else { continue };
        let size = Raster::new(random.u32(8..120), random.u32(8..120)).expect("a raster");
        let ratio = random.bool().then(|| DisplayRatio::parse(random.choice(["1", "2.39", "9/16"]).expect("one")));
        let ratio = ratio.map(|ratio| ratio.expect("a ratio"));
        let shape = PixelAspect::parse(random.choice(["1", "12/11"]).expect("one")).expect("an aspect");
        let Ok(frame) = DeliveryFrame::new(size, shape, ratio, Step::Two) else { continue };
        let method = random.choice(Method::ALL).expect("one of the methods");
        let zoom = Zoom::parse(random.choice(["1", "1.25", "0.7"]).expect("one")).expect("a zoom");
        let shift = [random.i32(-9..9), random.i32(-9..9)].map(|shift| format!("{shift}.{}", random.u8(0..9)));
        let [shift_x, shift_y] = shift.map(|shift| Shift::parse(&shift).expect("a shift"));
        return (source, frame, Framing { method, zoom, shift_x, shift_y });
    }
}

/// The value of a filter, by the papers that define them.
pub fn kernel(filter: Filter, x: f64) -> f64 {
    let x = x.abs();
    match filter {
        Filter::Bilinear => (1.0 - x).max(0.0),
        // Keys 1981 with a = -1/2.
        Filter::CatmullRom if x < 1.0 => 1.5 * x * x * x - 2.5 * x * x + 1.0,
        Filter::CatmullRom if x < 2.0 => -0.5 * x * x * x + 2.5 * x * x - 4.0 * x + 2.0,
        // Mitchell and Netravali 1988, the coefficients worked out for B = C = 1/3.
        Filter::Mitchell if x < 1.0 => (7.0 * x * x * x - 12.0 * x * x + 16.0 / 3.0) / 6.0,
        Filter::Mitchell if x < 2.0 => (-7.0 / 3.0 * x * x * x + 12.0 * x * x - 20.0 * x + 32.0 / 3.0) / 6.0,
        Filter::Lanczos3 if x == 0.0 => 1.0,
        Filter::Lanczos3 if x < 3.0 => 3.0 * (PI * x).sin() * (PI * x / 3.0).sin() / (PI * PI * x * x),
        _ => 0.0,
    }
}
