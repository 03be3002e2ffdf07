//! The stand-in camera takes scenes as a source would: squeezed, turned and bordered, so that plans undo it.

use ratiomet_core::project::Scene;
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::{
    DeliveryFrame, Framing, Insets, Method, PixelAspect, Plan, Raster, Rotation, Source, Squeeze, Step,
};
use ratiomet_picture::carry::out;
use ratiomet_picture::{borders, scene};

fn source(size: [u32; 2], squeeze: &str, insets: Insets, rotation: Rotation) -> Source {
    let raster = Raster::new(size[0], size[1]).expect("a raster");
    let squeeze = Squeeze::parse(squeeze).expect("a squeeze");
    Source::new(raster, PixelAspect::SQUARE, squeeze, insets, rotation).expect("a source")
}

#[test]
fn a_circle_comes_out_round_and_numbers_stand_in_their_corners() {
    let insets = Insets { left: 20, top: 6, right: 12, bottom: 10 };
    for (size, squeeze, rotation) in [
        ([960, 720], "1", Rotation::None),
        ([960, 720], "2", Rotation::None),
        ([960, 540], "1", Rotation::Quarter),
        ([960, 540], "1.5", Rotation::Half),
        ([540, 960], "1", Rotation::ThreeQuarters),
    ] {
        let source = source(size, squeeze, insets, rotation);
        let still = scene::taken(Scene::Chart, &source, None, false, 1).expect("a scene");
        assert_eq!(still.size(), size);
        let frame = DeliveryFrame::new(Raster::new(800, 800).expect("a raster"), PixelAspect::SQUARE, None, Step::Two);
        let frame = frame.expect("a frame");
        let plan = Plan::of(&source, &frame, &Framing::of(Method::Fit));
        let how = Resampling::by(Filter::Bilinear);
        let outcome = out(&still, &source, &frame, &plan, &how).expect("an outcome").samples.to_luma8();
        // From the middle outwards the white circle is met as far across as down.
        let bright = |x: u32, y: u32| outcome.get_pixel(x, y).0[0] > 205;
        let far = |step: [i32; 2]| {
            (60..400).find(|far| {
                let at = |axis: usize| u32::try_from(400 + step[axis] * far).expect("inside");
                bright(at(0), at(1))
            })
        };
        let (up, down) = (far([0, -1]).expect("met"), far([0, 1]));
        let (left, right) = (far([-1, 0]), far([1, 0]));
        // To the left and right stand the slanted edge and the wedge, which are white as well.
        assert!(down.is_some_and(|down| down.abs_diff(up) <= 2), "{rotation:?} {squeeze}: {up} {down:?}");
        assert!(left.is_some() && right.is_some());
        // The diagonals meet nothing but the circle.
        let slope = (up * 4 / 5..400).find(|far: &i32| {
            let along = f64::from(*far) * std::f64::consts::FRAC_1_SQRT_2;
            bright((400.0 + along) as u32, (400.0 - along) as u32)
        });
        assert!(slope.is_some_and(|slope| slope.abs_diff(up) <= 3), "{rotation:?} {squeeze}: {up} {slope:?}");
    }
}

#[test]
fn borders_of_a_scene_are_found() {
    let insets = Insets { left: 8, top: 4, right: 10, bottom: 6 };
    let tape = source([720, 576], "1", insets, Rotation::None);
    for scene in Scene::ALL {
        let still = scene::taken(scene, &tape, None, false, 1).expect("a scene");
        let found = borders::find(&[still]).expect("borders");
        assert_eq!(found.insets, [8, 4, 10, 6], "{scene:?}: {found:?}");
    }
}

#[test]
fn a_part_of_a_scene_is_that_scene() {
    let camera = source([640, 480], "2", Insets::default(), Rotation::None);
    for scene in Scene::ALL {
        let whole = scene::taken(scene, &camera, None, false, 1).expect("a scene").samples.to_rgb8();
        let part = scene::taken(scene, &camera, None, false, 4).expect("a scene").samples.to_rgb8();
        assert_eq!(part.dimensions(), (160, 120));
        let alike = part.enumerate_pixels().filter(|(x, y, pixel)| {
            let other = whole.get_pixel(x * 4 + 2, y * 4 + 2).0;
            pixel.0.iter().zip(other).all(|(one, other)| one.abs_diff(other) < 40)
        });
        assert!(alike.count() > 160 * 120 * 8 / 10, "{scene:?}");
    }
    let tiny = source([40, 40], "1", Insets { left: 18, top: 0, right: 18, bottom: 0 }, Rotation::None);
    let refused = scene::taken(Scene::Chart, &tiny, None, false, 16).expect_err("nothing is left");
    assert_eq!(refused.to_string(), "nothing of the picture is left at this size");
    let sphere = scene::taken(Scene::Kiln, &source([400, 200], "1", Insets::default(), Rotation::None), None, true, 1);
    assert_eq!(sphere.expect("a sphere").size(), [400, 200]);
}
