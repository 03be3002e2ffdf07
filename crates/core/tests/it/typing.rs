//! What to type: the numbers of a profile, carried out as a program with these answers does, give the plan.

use proptest::prelude::*;
use ratiomet_core::space::{Axis, Delivery, Rect, Size};
use ratiomet_core::typing::*;
use ratiomet_core::*;

fn source(raster: [u32; 2], aspect: &str, squeeze: &str, insets: [u32; 4], degrees: u32) -> Source {
    let raster = Raster::new(raster[0], raster[1]).expect("a raster");
    let aspect = PixelAspect::parse(aspect).expect("an aspect");
    let squeeze = Squeeze::parse(squeeze).expect("a squeeze");
    Source::new(raster, aspect, squeeze, Insets::from(insets), Rotation::new(degrees).expect("a turn"))
        .expect("a source")
}

fn frame(raster: [u32; 2], aspect: &str, ratio: Option<&str>) -> DeliveryFrame {
    let raster = Raster::new(raster[0], raster[1]).expect("a raster");
    let aspect = PixelAspect::parse(aspect).expect("an aspect");
    let ratio = ratio.map(|ratio| DisplayRatio::parse(ratio).expect("a ratio"));
    DeliveryFrame::new(raster, aspect, ratio, Step::Two).expect("a frame")
}

fn profiles() -> Vec<TypingProfile> {
    let mut all = Vec::new();
    for hundred in Hundred::ALL {
        for squeeze in SqueezeSet::ALL {
            for borders in BordersCut::ALL {
                for turned in Turned::ALL {
                    for zero in Zero::ALL {
                        for unit in PlaceUnit::ALL {
                            for upwards in Upwards::ALL {
                                let zoom_unit =
                                    if upwards == Upwards::Up { ZoomUnit::Factor } else { ZoomUnit::Percent };
                                let rest = TypingProfile { zoom_unit, zoom_decimals: 3, ..TypingProfile::default() };
                                all.push(TypingProfile {
                                    hundred,
                                    squeeze,
                                    borders,
                                    turned,
                                    zero,
                                    unit,
                                    upwards,
                                    ..rest
                                });
                            }
                        }
                    }
                }
            }
        }
    }
    all
}

/// A program with these answers, in plain doubles and in its own order: it cuts or does not, fits what it holds as
/// it holds it, sizes that, turns it and puts it into its place. Gives the four edges of the active picture.
fn carried_out(profile: &TypingProfile, typed: &ToType, source: &Source, frame: &DeliveryFrame) -> [f64; 4] {
    let value = |exact: &Exact| exact.to_f64();
    let Insets { left, top, right, bottom } = source.insets();
    let cut = [left, top, right, bottom].map(f64::from);
    let [full_w, full_h] = [source.raster().width(), source.raster().height()].map(f64::from);
    let first = profile.borders == BordersCut::Before;
    // What it holds, in stored pixels, and where its picture lies in that.
    let (w, h) = if first { (full_w - cut[0] - cut[2], full_h - cut[1] - cut[3]) } else { (full_w, full_h) };
    let inner = if first { [0.0, 0.0, w, h] } else { [cut[0], cut[1], full_w - cut[2], full_h - cut[3]] };
    let wide = match profile.squeeze {
        SqueezeSet::OnClip => value(source.pixel_aspect().value()) * value(source.squeeze().value()),
        SqueezeSet::Apart => 1.0,
    };
    let quarter = source.rotation().swaps_axes();
    let lies = quarter && profile.turned == Turned::Last;
    let (fw, fh) = if quarter && !lies { (h, w * wide) } else { (w * wide, h) };
    let pixel = value(frame.pixel_aspect().value());
    let [rw, rh] = [frame.raster().width(), frame.raster().height()].map(f64::from);
    let (across, down) = (rw * pixel / fw, rh / fh);
    let base = match profile.hundred {
        Hundred::Native => 1.0,
        Hundred::Fitted => across.min(down),
        Hundred::Filled => across.max(down),
    };
    let hundred = if profile.zoom_unit == ZoomUnit::Percent { 100.0 } else { 1.0 };
    let (zx, zy) = (value(&typed.zoom.x) / hundred * base, value(&typed.zoom.y) / hundred * base);
    // Lines that a stored pixel takes, along the axes of the clip as it lies.
    let (sx, sy) = match (quarter, profile.turned, profile.squeeze) {
        // Sized after the turn: across the frame runs what was down in the clip.
        (true, Turned::First, _) | (true, Turned::Last, SqueezeSet::OnClip) => (zy * wide, zx),
        _ => (zx * wide, zy),
    };
    // The corners of the picture from the middle of what is held, turned clockwise.
    let turned = |x: f64, y: f64| {
        let (x, y) = ((x - w / 2.0) * sx, (y - h / 2.0) * sy);
        match source.rotation() {
            Rotation::None => (x, y),
            Rotation::Quarter => (-y, x),
            Rotation::Half => (-x, -y),
            Rotation::ThreeQuarters => (y, -x),
        }
    };
    let (one, other) = (turned(inner[0], inner[1]), turned(inner[2], inner[3]));
    let half = {
        let (a, b) = (turned(0.0, 0.0), turned(w, h));
        ((a.0 - b.0).abs() / 2.0 / pixel, (a.1 - b.1).abs() / 2.0)
    };
    let (mut px, mut py) = (value(&typed.place.x), value(&typed.place.y));
    if profile.unit == PlaceUnit::Parts {
        (px, py) = (px * rw, py * rh);
    }
    let middle = match (profile.zero, profile.upwards) {
        (Zero::Centre, Upwards::Down) => (rw / 2.0 + px, rh / 2.0 + py),
        (Zero::Centre, Upwards::Up) => (rw / 2.0 + px, rh / 2.0 - py),
        (Zero::CornerToCentre, Upwards::Down) => (px, py),
        (Zero::CornerToCentre, Upwards::Up) => (px, rh - py),
        (Zero::Corner, Upwards::Down) => (px + half.0, py + half.1),
        (Zero::Corner, Upwards::Up) => (px + half.0, rh - py - half.1),
    };
    let x = |lines: f64| middle.0 + lines / pixel;
    [x(one.0.min(other.0)), middle.1 + one.1.min(other.1), x(one.0.max(other.0)), middle.1 + one.1.max(other.1)]
}

fn edges(rect: &Rect<Delivery>) -> [f64; 4] {
    [rect.start(Axis::X).to_f64(), rect.start(Axis::Y).to_f64(), rect.end(Axis::X).to_f64(), rect.end(Axis::Y).to_f64()]
}

#[track_caller]
fn lands(source: &Source, frame: &DeliveryFrame, framing: &Framing) {
    let plan = Plan::of(source, frame, framing);
    for profile in profiles() {
        let typed = ToType::of(&profile, source, frame, &plan);
        let found = carried_out(&profile, &typed, source, frame);
        for (found, planned) in found.into_iter().zip(edges(&plan.image)) {
            assert!(
                (found - planned).abs() < 1e-6 * planned.abs().max(1_000.0),
                "{profile:?}: {found} is not {planned}"
            );
        }
    }
}

#[test]
fn every_profile_gives_the_planned_picture() {
    let fill = Framing::of(Method::Fill);
    let moved = Framing {
        zoom: Zoom::parse("1.2").expect("a zoom"),
        shift_x: Shift::parse("-37.5").expect("a shift"),
        shift_y: Shift::parse("12").expect("a shift"),
        ..Framing::of(Method::Fit)
    };
    for framing in [&fill, &moved] {
        lands(&source([1920, 1080], "1", "2", [240, 0, 240, 0], 0), &frame([4096, 1716], "1", None), framing);
        lands(&source([1920, 1080], "1", "1", [0; 4], 90), &frame([1080, 1920], "1", None), framing);
        lands(&source([720, 576], "12:11", "1", [8, 4, 10, 6], 0), &frame([1920, 1080], "1", Some("2.00")), framing);
        lands(&source([720, 576], "12:11", "1", [8, 4, 10, 6], 270), &frame([1440, 1080], "4:3", None), framing);
        lands(&source([2880, 2160], "1", "2", [10, 20, 30, 40], 180), &frame([1080, 1350], "1", None), framing);
    }
}

// Recomputed by hand: a clip of 1920x1080 with 240 columns cut at each side, squeeze 2, into 4096x1716 by fill.
// Whole it is 3840 by 1080; fitted, 4096 over 3840; filled to its cut 2880 across: 4096 over 2880.
#[test]
fn a_cut_clip_is_typed_for_the_whole_one() {
    let clip = source([1920, 1080], "1", "2", [240, 0, 240, 0], 0);
    let scope = frame([4096, 1716], "1", None);
    let plan = Plan::of(&clip, &scope, &Framing::of(Method::Fill));
    let factor = TypingProfile { zoom_unit: ZoomUnit::Factor, ..TypingProfile::default() };
    let typed = ToType::of(&factor, &clip, &scope, &plan);
    assert_eq!((typed.zoom.x.to_string(), typed.turn), ("143/96".to_owned(), 0));
    assert_eq!(typed.cut, Some(Insets { left: 240, top: 0, right: 240, bottom: 0 }));
    // A program that cuts first fits the rest: 1716 over 1080, over 4096 over 2880.
    let cut_first = ToType::of(&TypingProfile { borders: BordersCut::Before, ..factor }, &clip, &scope, &plan);
    assert_eq!(cut_first.zoom.x.to_string(), "143/128");
}

#[test]
fn a_clip_stored_sideways_is_typed_for_how_its_program_turns() {
    let phone = source([1920, 1080], "1", "1", [0; 4], 90);
    let story = frame([1080, 1920], "1", None);
    let plan = Plan::of(&phone, &story, &Framing::of(Method::Fill));
    let profile = TypingProfile { zoom_unit: ZoomUnit::Factor, ..TypingProfile::default() };
    let of = |profile: &TypingProfile| ToType::of(profile, &phone, &story, &plan);
    assert_eq!((of(&profile).zoom.x.to_string(), of(&profile).turn), ("1".to_owned(), 90));
    let last = of(&TypingProfile { turned: Turned::Last, turn_sign: TurnSign::Anticlockwise, ..profile });
    assert_eq!((last.zoom.x.to_string(), last.turn), ("16/9".to_owned(), -90));
}

#[test]
fn what_rounding_uncovers_has_a_safe_number_beside_it() {
    // 1716 of 1280 lines: 1.340625 times.
    let clip = source([3840, 1280], "1", "1", [0; 4], 0);
    let scope = frame([4096, 1716], "1", None);
    let plan = Plan::of(&clip, &scope, &Framing::of(Method::Fill));
    let native = TypingProfile { hundred: Hundred::Native, zoom_unit: ZoomUnit::Factor, ..TypingProfile::default() };
    let typed = ToType::of(&native, &clip, &scope, &plan);
    assert_eq!(
        (typed.rounded.zoom.x.to_string(), typed.rounded.uncovered.to_short_decimal(2)),
        ("67/50".to_owned(), "0.4".to_owned())
    );
    let safe = typed.safe.expect("a safe number");
    assert_eq!((safe.zoom.x.to_string(), safe.uncovered.clone()), ("27/20".to_owned(), Exact::ZERO));
    assert_eq!((safe.larger * Exact::whole(100)).to_short_decimal(1), "0.7");
    // What covers when it is rounded needs none.
    let whole = TypingProfile { hundred: Hundred::Filled, ..native };
    assert_eq!(ToType::of(&whole, &clip, &scope, &plan).safe, None);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn any_clip_lands_and_safe_numbers_cover(
        (width, height) in (8_u32..5_000, 8_u32..5_000),
        (wide, high) in (8_u32..5_000, 8_u32..5_000),
        insets in prop::array::uniform4(0_u32..3),
        (turn, squeezed, method) in (0_u32..4, 0_usize..4, 0_usize..2),
        decimals in 0_u32..4,
    ) {
        let squeeze = ["1", "1.33", "1.8", "2"][squeezed];
        let clip = source([width, height], "1", squeeze, insets, turn * 90);
        let target = frame([wide, high], "1", None);
        let framing = Framing::of([Method::Fill, Method::Fit][method]);
        let plan = Plan::of(&clip, &target, &framing);
        for profile in profiles().into_iter().step_by(7) {
            let profile = TypingProfile { zoom_decimals: decimals, place_decimals: decimals, ..profile };
            let typed = ToType::of(&profile, &clip, &target, &plan);
            let found = carried_out(&profile, &typed, &clip, &target);
            for (found, planned) in found.into_iter().zip(edges(&plan.image)) {
                prop_assert!((found - planned).abs() < 1e-6 * planned.abs().max(1_000.0), "{:?}: {} is not {}", profile, found, planned);
            }
            if let Some(safe) = &typed.safe {
                prop_assert!(typed.rounded.uncovered.is_positive() && safe.uncovered.is_zero());
                let tried = ToType { zoom: safe.zoom.clone(), place: safe.place.clone(), ..typed.clone() };
                let [left, top, right, bottom] = carried_out(&profile, &tried, &clip, &target);
                let [pl, pt, pr, pb] = edges(&plan.image);
                let (w, h) = (f64::from(wide), f64::from(high));
                let bare = |planned: bool, by: f64| !planned || by < 1e-6;
                prop_assert!(bare(pl <= 0.0, left) && bare(pt <= 0.0, top), "{:?}", profile);
                prop_assert!(bare(pr >= w, w - right) && bare(pb >= h, h - bottom), "{:?}", profile);
            }
        }
    }
}

#[test]
fn a_place_is_said_as_its_profile_has_it() {
    let clip = source([1920, 1080], "1", "1", [0; 4], 0);
    let hd = frame([1920, 1080], "1", None);
    let framing = Framing { shift_y: Shift::parse("54").expect("a shift"), ..Framing::of(Method::Fill) };
    let plan = Plan::of(&clip, &hd, &framing);
    let place = |profile: TypingProfile| {
        let Size { width, height, .. } = {
            let typed = ToType::of(&profile, &clip, &hd, &plan);
            Size::<Delivery>::new(typed.place.x, typed.place.y)
        };
        format!("{} {}", width.to_short_decimal(4), height.to_short_decimal(4))
    };
    let usual = TypingProfile::default();
    assert_eq!(place(usual.clone()), "0 54");
    assert_eq!(place(TypingProfile { upwards: Upwards::Up, ..usual.clone() }), "0 -54");
    assert_eq!(place(TypingProfile { zero: Zero::CornerToCentre, ..usual.clone() }), "960 594");
    assert_eq!(
        place(TypingProfile { zero: Zero::CornerToCentre, unit: PlaceUnit::Parts, ..usual.clone() }),
        "0.5 0.55"
    );
    assert_eq!(place(TypingProfile { zero: Zero::Corner, upwards: Upwards::Up, ..usual }), "0 -54");
}
