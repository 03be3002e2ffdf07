//! Lanczos from UHD to HD and back, decoded to decoded, beside libvips (through pyvips, from PyPI: `pip install
//! "pyvips[binary]" --target target/python`) in the same run, both on two threads.

use std::path::Path;
use std::process::Command;
use std::time::Instant;

use image::DynamicImage;
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::{
    DeliveryFrame, Framing, Insets, Method, PixelAspect, Plan, Raster, Rotation, Source, Squeeze, Step,
};
use ratiomet_picture::Still;
use ratiomet_picture::carry::out;

const ROUNDS: usize = 21;

/// Milliseconds of the fastest round, and of the middle one.
fn timed(mut work: impl FnMut()) -> [f64; 2] {
    let mut rounds: Vec<f64> = (0..ROUNDS)
        .map(|_| {
            let since = Instant::now();
            work();
            since.elapsed().as_secs_f64() * 1000.0
        })
        .collect();
    rounds.sort_by(f64::total_cmp);
    [rounds[0], rounds[ROUNDS / 2]]
}

fn ours(from: [u32; 2], to: [u32; 2], deep: bool) -> [f64; 2] {
    let picture = image::RgbImage::from_fn(from[0], from[1], |x, y| {
        let part = |value: u32| u8::try_from(value % 256).unwrap_or(0);
        image::Rgb([part(x / 8), part(y / 6), part(x * y / 5000)])
    });
    let samples = DynamicImage::ImageRgb8(picture);
    let samples = if deep { DynamicImage::ImageRgb16(samples.to_rgb16()) } else { samples };
    let still = Still { samples, profile: None, format: "PNG" };
    let raster = Raster::new(from[0], from[1]).expect("a raster");
    let source = Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, Insets::default(), Rotation::None);
    let source = source.expect("a source");
    let raster = Raster::new(to[0], to[1]).expect("a raster");
    let frame = DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::Two).expect("a frame");
    let plan = Plan::of(&source, &frame, &Framing::of(Method::Fit));
    let how = Resampling::by(Filter::Lanczos3);
    timed(|| drop(out(&still, &source, &frame, &plan, &how).expect("an outcome")))
}

fn theirs(from: [u32; 2], scale: f64, deep: bool) -> Option<[f64; 2]> {
    let form = if deep { "ushort" } else { "uchar" };
    let script = format!(
        "import pyvips, time\n\
         x = pyvips.Image.xyz({}, {})\n\
         a = (x[0] / 8 % 256).bandjoin([x[1] / 6 % 256, x[0] * x[1] / 5000 % 256]).cast('{form}').copy_memory()\n\
         rounds = []\n\
         for _ in range({ROUNDS}):\n    \
             s = time.perf_counter()\n    \
             a.resize({scale}, kernel='lanczos3').copy_memory()\n    \
             rounds.append((time.perf_counter() - s) * 1000)\n\
         rounds.sort()\n\
         print(rounds[0], rounds[len(rounds) // 2])\n",
        from[0], from[1]
    );
    let libraries = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/python");
    let output = Command::new("python3")
        .args(["-c", &script])
        .envs([("PYTHONPATH", libraries.as_os_str()), ("VIPS_CONCURRENCY", "2".as_ref())])
        .output()
        .ok()?;
    let text = String::from_utf8(output.stdout).ok()?;
    let mut numbers = text.split_whitespace().filter_map(|number| number.parse().ok());
    Some([numbers.next()?, numbers.next()?])
}

fn main() {
    let (uhd, hd) = ([3840, 2160], [1920, 1080]);
    for (name, from, to, scale) in [("UHD to HD", uhd, hd, 0.5), ("HD to UHD", hd, uhd, 2.0)] {
        for deep in [false, true] {
            let bits = if deep { 16 } else { 8 };
            let [least, middle] = ours(from, to, deep);
            print!("{name}, Lanczos, RGB {bits} bit: {least:.1} ms (middle {middle:.1})");
            match theirs(from, scale, deep) {
                Some([theirs, middle]) => {
                    println!("; libvips {theirs:.1} ({middle:.1}): {:.2} of its time", least / theirs)
                }
                None => println!("; libvips is not there (see the head of this file)"),
            }
        }
    }
}
