//! Outcomes against Pillow, which resamples a box of a picture by its own code.

use image::DynamicImage;
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::space::Axis;
use ratiomet_core::{
    DeliveryFrame, Framing, Insets, Method, PixelAspect, Plan, Raster, Rotation, Source, Squeeze, Step,
};
use ratiomet_picture::carry::out;

use crate::support::{busy, python, still};

#[test]
fn outcomes_are_those_of_pillow() {
    let folder = tempfile::tempdir().expect("a folder");
    let mut random = fastrand::Rng::with_seed(55);
    // In float: between its two passes Pillow would cut off what overshoots in 8 bit.
    let mut script = String::from(
        "import numpy\nfrom PIL import Image\n\
         def resized(name, size, how, box):\n    \
             bands = [band.convert('F').resize(size, how, box=box) for band in Image.open(name).split()]\n    \
             whole = numpy.stack([numpy.asarray(band) for band in bands], axis=-1)\n    \
             return Image.fromarray(numpy.clip(numpy.rint(whole), 0, 255).astype(numpy.uint8))\n",
    );
    let mut kept = Vec::new();
    for round in 0..48 {
        let [width, height] = [random.u32(60..300), random.u32(60..300)];
        let source = Source::new(
            Raster::new(width, height).expect("a raster"),
            PixelAspect::parse(["1", "12/11"][round % 2]).expect("an aspect"),
            Squeeze::parse(["1", "2", "1.33"][round % 3]).expect("a squeeze"),
            Insets::default(),
            Rotation::None,
        )
        .expect("a source");
        let raster = Raster::new(random.u32(40..400), random.u32(40..400)).expect("a raster");
        let frame = DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::Two).expect("a frame");
        // The frame is covered, so that all of it is a box of the picture.
        let plan = Plan::of(&source, &frame, &Framing::of(Method::Fill));
        let (filter, theirs) =
            [(Filter::Bilinear, "BILINEAR"), (Filter::CatmullRom, "BICUBIC"), (Filter::Lanczos3, "LANCZOS")]
                [round / 2 % 3];
        let picture = DynamicImage::ImageRgb8(busy(width, height, &mut random));
        let outcome =
            out(&still(picture.clone()), &source, &frame, &plan, &Resampling::by(filter)).expect("an outcome");
        picture.save(folder.path().join(format!("{round}.png"))).expect("written");
        let window = plan.window.as_ref().expect("a window");
        let place = |axis| (window.start(axis).to_f64(), window.end(axis).to_f64());
        let ((left, right), (top, bottom)) = (place(Axis::X), place(Axis::Y));
        script += &format!(
            "resized('{round}.png', ({}, {}), Image.Resampling.{theirs}, ({left}, {top}, {right}, {bottom}))\
             .save('{round}-theirs.png')\n",
            raster.width(),
            raster.height()
        );
        kept.push((round, filter, outcome));
    }
    python(&script, folder.path());
    for (round, filter, outcome) in kept {
        let theirs = image::open(folder.path().join(format!("{round}-theirs.png"))).expect("theirs").to_rgb8();
        let ours = outcome.samples.to_rgb8();
        let off = ours.as_raw().iter().zip(theirs.as_raw()).filter(|(one, other)| one.abs_diff(**other) > 1).count();
        let allowed = ours.as_raw().len() / 1000;
        assert!(off <= allowed, "{round}, {filter:?}: {off} of {} samples", ours.as_raw().len());
    }
}
