//! Stills of several writers, sample by sample as other readers give them.

use std::path::Path;
use std::process::Command;

use image::DynamicImage;
use ratiomet_core::Raster;
use ratiomet_picture::Still;
use ratiomet_picture::still::Fit;

use crate::support::python;

fn read(file: &Path) -> Still {
    Still::read(&std::fs::read(file).expect("the file"))
        .unwrap_or_else(|problem| panic!("{}: {problem}", file.display()))
}

/// The samples of a file as ffmpeg decodes them, in one of its raw forms.
fn raw(file: &Path, form: &str) -> Vec<u8> {
    let output = Command::new("ffmpeg")
        .args(["-v", "error", "-i"])
        .arg(file)
        .args(["-frames:v", "1", "-f", "rawvideo", "-pix_fmt", form, "-"])
        .output()
        .expect("ffmpeg is installed");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    output.stdout
}

fn make(folder: &Path, name: &str, form: &str) -> std::path::PathBuf {
    let file = folder.join(name);
    let output = Command::new("ffmpeg")
        .args([
            "-v",
            "error",
            "-y",
            "-f",
            "lavfi",
            "-i",
            "testsrc2=size=640x360,crop=131:77:30:40:exact=1",
            "-frames:v",
            "1",
            "-pix_fmt",
            form,
        ])
        .arg(&file)
        .output()
        .expect("ffmpeg is installed");
    assert!(output.status.success(), "{name}: {}", String::from_utf8_lossy(&output.stderr));
    file
}

#[test]
fn stills_of_ffmpeg_hold_the_samples_that_ffmpeg_reads() {
    let folder = tempfile::tempdir().expect("a folder");
    let cases = [
        ("rgb.png", "rgb24", "rgb24"),
        ("deep.png", "rgb48be", "rgb48le"),
        ("gray.png", "gray", "gray"),
        ("clear.png", "rgba", "rgba"),
        ("rgb.tiff", "rgb24", "rgb24"),
        ("deep.tiff", "rgb48le", "rgb48le"),
        ("gray.dpx", "gray", "gray"),
        ("rgb.dpx", "rgb24", "rgb24"),
        ("deep.dpx", "rgb48be", "rgb48le"),
    ];
    for (name, form, raw_form) in cases {
        let file = make(folder.path(), name, form);
        let ours = read(&file);
        assert_eq!(ours.size(), [131, 77], "{name}");
        let theirs = raw(&file, raw_form);
        assert!(ours.samples.as_bytes() == theirs, "{name}: {:?}", ours.samples.color());
    }
    // 10 and 12 bit are spread over 16: code values stay in proportion.
    for (name, form, planes, most) in
        [("ten.dpx", "gbrp10le", "gbrp10le", 1023_u32), ("twelve.dpx", "gbrp12le", "gbrp12le", 4095)]
    {
        let file = make(folder.path(), name, form);
        let theirs = raw(&file, planes);
        let words: Vec<u32> =
            theirs.chunks_exact(2).map(|two| u32::from(u16::from_le_bytes([two[0], two[1]]))).collect();
        let DynamicImage::ImageRgb16(ours) = read(&file).samples else { panic!("{name} is 16 bit") };
        let plane = words.len() / 3;
        for (at, pixel) in ours.pixels().enumerate() {
            // ffmpeg's planes are green, blue, red.
            let wanted =
                [words[2 * plane + at], words[at], words[plane + at]].map(|value| (value * 65_535 + most / 2) / most);
            assert_eq!(pixel.0.map(u32::from), wanted, "{name}, pixel {at}");
        }
    }
}

#[test]
fn stills_of_python_hold_what_was_written() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    let script = r#"
import numpy, OpenEXR, tifffile
from PIL import Image
y, x = numpy.mgrid[0:40, 0:60]
rgb = numpy.stack([x * 4, y * 6, (x + y) * 2], axis=-1)
Image.fromarray(rgb.astype(numpy.uint8)).save("lossless.webp", lossless=True)
Image.fromarray(rgb.astype(numpy.uint8)).quantize(64).save("palette.png")
Image.open("palette.png").convert("RGB").save("palette-plain.png")
Image.fromarray(((x + y) % 2 * 255).astype(numpy.uint8)).convert("1").save("bits.png")
tifffile.imwrite("float.tif", (rgb / 255).astype(numpy.float32), photometric="rgb")
tifffile.imwrite("strips.tif", (rgb * 200).astype(numpy.uint16), photometric="rgb", compression="zlib", rowsperstrip=7)
header = {"compression": OpenEXR.PIZ_COMPRESSION, "type": OpenEXR.scanlineimage,
          "displayWindow": ((0, 0), (79, 49)), "dataWindow": ((10, 5), (69, 44))}
OpenEXR.File(header, {"RGB": (rgb * 10).astype(numpy.float32)}).write("part.exr")
OpenEXR.File({"compression": OpenEXR.NO_COMPRESSION, "type": OpenEXR.scanlineimage}, {"Y": (x / 60).astype(numpy.float16)}).write("gray.exr")
"#;
    python(script, folder);
    let wanted = |x: u32, y: u32| [x * 4, y * 6, (x + y) * 2];
    for (x, y, pixel) in read(&folder.join("lossless.webp")).samples.to_rgb8().enumerate_pixels() {
        assert_eq!(pixel.0.map(u32::from), wanted(x, y));
    }
    let plain = image::open(folder.join("palette-plain.png")).expect("a picture").to_rgb8();
    assert_eq!(read(&folder.join("palette.png")).samples.to_rgb8(), plain);
    for (x, y, pixel) in read(&folder.join("bits.png")).samples.to_luma8().enumerate_pixels() {
        assert_eq!(u32::from(pixel.0[0]), (x + y) % 2 * 255);
    }
    let DynamicImage::ImageRgb16(deep) = read(&folder.join("strips.tif")).samples else { panic!("16 bit") };
    let DynamicImage::ImageRgb32F(float) = read(&folder.join("float.tif")).samples else { panic!("float") };
    for (x, y, pixel) in deep.enumerate_pixels() {
        assert_eq!(pixel.0.map(u32::from), wanted(x, y).map(|value| value * 200));
        assert_eq!(float.get_pixel(x, y).0, wanted(x, y).map(|value| (f64::from(value) / 255.0) as f32));
    }
    // The data stand where their window says, in the display window; floats over 1 stay what they are.
    let DynamicImage::ImageRgb32F(part) = read(&folder.join("part.exr")).samples else { panic!("float") };
    assert_eq!(part.dimensions(), (80, 50));
    for (x, y, pixel) in part.enumerate_pixels() {
        let inside = (10..70).contains(&x) && (5..45).contains(&y);
        let wanted = if inside { wanted(x - 10, y - 5).map(|value| (value * 10) as f32) } else { [0.0; 3] };
        assert_eq!(pixel.0, wanted, "{x} {y}");
    }
    let gray = read(&folder.join("gray.exr")).samples.to_rgb32f();
    assert!((gray.get_pixel(30, 3).0[1] - 0.5).abs() < 1e-3);
}

#[test]
fn a_png_of_an_outcome_is_as_deep_as_its_picture_and_keeps_its_profile() {
    let deep = image::ImageBuffer::<image::Rgb<u16>, _>::from_fn(33, 21, |x, y| {
        image::Rgb([x as u16 * 999, y as u16, 65_535])
    });
    let mut still = Still { samples: deep.into(), profile: Some(b"a profile of colours".to_vec()), format: "TIFF" };
    let written = |still: &Still| {
        let mut bytes = Vec::new();
        still.write_png(&mut bytes).expect("written");
        bytes
    };
    let back = Still::read(&written(&still)).expect("read");
    assert_eq!((&back.samples, &back.profile), (&still.samples, &still.profile));
    still.samples =
        DynamicImage::ImageRgb32F(image::ImageBuffer::from_fn(4, 4, |x, _| image::Rgb([x as f32 - 1.0, 0.5, 2.0])));
    let DynamicImage::ImageRgb16(held) = Still::read(&written(&still)).expect("read").samples else { panic!("16 bit") };
    assert_eq!(held.get_pixel(0, 0).0, [0, 32_768, 65_535]);
    let mut exr = std::io::Cursor::new(Vec::new());
    still.write_exr(&mut exr).expect("written");
    assert_eq!(Still::read(&exr.into_inner()).expect("read").samples, still.samples, "floats stay what they are");
}

#[test]
fn sizes_go_together_by_whole_numbers_alone() {
    let raster = Raster::new(4608, 3164).expect("a raster");
    assert_eq!(Fit::of([4608, 3164], raster), Fit::Same);
    assert_eq!(Fit::of([1152, 791], raster), Fit::Part(4));
    assert_eq!(Fit::of([1536, 1055], raster), Fit::Other, "1054.67 lines would be a third");
    assert_eq!(Fit::of([3164, 4608], raster), Fit::Other);
    assert_eq!(Fit::of([9216, 6328], raster), Fit::Other, "a larger one would be stretched");
    assert_eq!(Fit::of([u32::MAX, 1], raster), Fit::Other);
}
