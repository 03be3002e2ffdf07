//! A flat view, and a whole turned sphere, out of 5760x2880, beside ffmpeg's sphere filter and OpenCV's remap (through
//! `pip install opencv-python-headless --target target/python`) in the same run, all on two threads.

use std::path::Path;
use std::process::Command;
use std::time::Instant;

use image::DynamicImage;
use ratiomet_core::Raster;
use ratiomet_core::resampling::Filter;
use ratiomet_core::sphere::{FieldOfView, Latitude, Orientation, Span, Turn};
use ratiomet_picture::Still;
use ratiomet_picture::sphere::{How, Look, smaller, turned, view};

const ROUNDS: u32 = 15;
const SPHERE: [u32; 2] = [5760, 2880];

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
    [rounds[0], rounds[rounds.len() / 2]]
}

/// What ffmpeg takes for a frame: the time of many, less that of few.
fn ffmpeg(filter: &str) -> Option<f64> {
    let run = |frames: u32| {
        let since = Instant::now();
        let source = format!("color=gray:s={}x{}:r=25,format=gbrp,{filter}", SPHERE[0], SPHERE[1]);
        let status = Command::new("ffmpeg")
            .args(["-loglevel", "quiet", "-nostdin", "-filter_threads", "2", "-f", "lavfi", "-i", &source])
            .args(["-frames:v", &frames.to_string(), "-f", "null", "-"])
            .status();
        status.ok().filter(std::process::ExitStatus::success).map(|_| since.elapsed().as_secs_f64() * 1000.0)
    };
    Some((run(21)? - run(1)?) / 20.0)
}

fn opencv() -> Option<[f64; 2]> {
    let script = format!(
        "import cv2, numpy, time\n\
         cv2.setNumThreads(2)\n\
         a = numpy.random.default_rng(1).integers(0, 255, ({}, {}, 3), dtype=numpy.uint8)\n\
         def maps():\n    \
             x, y = numpy.meshgrid((numpy.arange(1920, dtype=numpy.float32) - 959.5) / 960, (539.5 - numpy.arange(1080, dtype=numpy.float32)) / 960)\n    \
             return (numpy.arctan2(x, 1) / 6.2831853 + 0.5) * 5760 - 0.5, (0.5 - numpy.arctan2(y, numpy.hypot(x, 1)) / 3.14159265) * 2880 - 0.5\n\
         def best(work):\n    \
             rounds = []\n    \
             for _ in range({ROUNDS}):\n        \
                 s = time.perf_counter(); work(); rounds.append((time.perf_counter() - s) * 1000)\n    \
             return min(rounds)\n\
         m = maps()\n\
         print(best(lambda: cv2.remap(a, *m, cv2.INTER_CUBIC)), best(lambda: cv2.remap(a, *maps(), cv2.INTER_CUBIC)))\n",
        SPHERE[1], SPHERE[0]
    );
    let libraries = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/python");
    let output = Command::new("python3").args(["-c", &script]).env("PYTHONPATH", libraries).output().ok()?;
    let text = String::from_utf8(output.stdout).ok()?;
    let mut numbers = text.split_whitespace().filter_map(|number| number.parse().ok());
    Some([numbers.next()?, numbers.next()?])
}

fn main() {
    let picture = image::RgbImage::from_fn(SPHERE[0], SPHERE[1], |x, y| {
        let part = |value: u32| u8::try_from(value % 256).unwrap_or(0);
        image::Rgb([part(x / 8), part(y / 6), part(x * y / 5000)])
    });
    let sphere = Still { samples: DynamicImage::ImageRgb8(picture), profile: None, format: "PNG" };
    let how = How { filter: Filter::CatmullRom, light: None };
    let orientation = |yaw: &str, pitch: &str, roll: &str| Orientation {
        yaw: Turn::parse(yaw).expect("a turn"),
        pitch: Latitude::parse(pitch).expect("a latitude"),
        roll: Turn::parse(roll).expect("a turn"),
    };
    let look = |width, height| Look {
        raster: Raster::new(width, height).expect("a raster"),
        fov: FieldOfView::parse("90").expect("a field of view"),
        matrix: orientation("20", "-10", "5").matrix(),
    };
    let [least, middle] = timed(|| drop(view(&sphere, &Span::FULL, &look(1920, 1080), how).expect("a view")));
    println!("view 1920x1080, cubic, 90 degrees: {least:.1} ms (middle {middle:.1})");
    match ffmpeg("v360=e:flat:interp=cubic:w=1920:h=1080:h_fov=90:v_fov=58.7155:yaw=20:pitch=-10:roll=5") {
        Some(theirs) => println!("  ffmpeg: {theirs:.1} ms a frame, its map made once: {:.2} of it", least / theirs),
        None => println!("  ffmpeg is not there"),
    }
    match opencv() {
        Some([map, whole]) => println!(
            "  OpenCV: {map:.1} ms with its map, {whole:.1} with making it: {:.2} and {:.2} of it",
            least / map,
            least / whole
        ),
        None => println!("  OpenCV is not there (see the head of this file)"),
    }
    let fine = How { filter: Filter::Lanczos3, ..how };
    let [least, middle] = timed(|| drop(view(&sphere, &Span::FULL, &look(1920, 1080), fine).expect("a view")));
    println!("the same by Lanczos: {least:.1} ms (middle {middle:.1})");
    let small = smaller(&sphere, 3).expect("a smaller one");
    let [least, middle] = timed(|| drop(view(&small, &Span::FULL, &look(640, 360), how).expect("a view")));
    println!("preview 640x360 out of a third: {least:.2} ms (middle {middle:.2})");
    let jpeg = view(&small, &Span::FULL, &look(640, 360), how).expect("a view");
    let [least, middle] = timed(|| drop(jpeg.as_jpeg(80).expect("a picture")));
    println!("  as JPEG: {least:.2} ms (middle {middle:.2})");
    let matrix = orientation("20", "-10", "5").matrix();
    let [least, middle] = timed(|| drop(turned(&sphere, &Span::FULL, &matrix, how).expect("a sphere")));
    println!("turned 5760x2880, cubic: {least:.1} ms (middle {middle:.1})");
    if let Some(theirs) = ffmpeg("v360=e:e:interp=cubic:yaw=20:pitch=-10:roll=5") {
        println!("  ffmpeg: {theirs:.1} ms a frame: {:.2} of it", least / theirs);
    }
}
