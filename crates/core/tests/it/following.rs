//! A late change keeps the framing: what framings become when a frame or a source changes its size under them.

use proptest::prelude::*;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::*;
use ratiomet_core::*;

use crate::clips::{PAIR, clip, delivered, project, squeeze, with};

fn spec(method: Method, zoom: &str, [x, y]: [&str; 2]) -> FramingSpec {
    let shift = |text: &str| Written::parse(text, Shift::parse).expect("a shift");
    let zoom = Written::parse(zoom, Zoom::parse).expect("a zoom");
    FramingSpec { zoom, shift_x: shift(x), shift_y: shift(y), ..FramingSpec::of(method) }
}

fn frame_becomes(width: u32, height: u32) -> Edit {
    let raster = Raster::new(width, height).ok();
    Edit::SetFrames { ids: vec![PAIR.frame], patch: Box::new(FramePatch { raster, ..FramePatch::default() }) }
}

fn source_becomes(width: u32, height: u32) -> Edit {
    let raster = Raster::new(width, height).ok();
    Edit::SetSources { ids: vec![PAIR.source], patch: Box::new(SourcePatch { raster, ..SourcePatch::default() }) }
}

/// A clip in a frame with a framing of its own, after an edit.
fn after(footage: &Footage, frame: &Deliverable, own: FramingSpec, edit: &Edit) -> (Project, Changes) {
    let before = project(footage, frame, &Choice::of(own), Placing::By(Method::Fill));
    let changes = before.apply(edit).expect("a sound edit");
    (before.with(&changes), changes)
}

fn scope() -> (Footage, Deliverable) {
    let patch = SourcePatch { squeeze: Some(squeeze("1.8")), ..SourcePatch::default() };
    (with(&clip("A", 3840, 2160), &patch), delivered("Scope", 4096, 1716))
}

#[test]
fn half_the_frame_is_half_the_shift() {
    let (footage, frame) = scope();
    let (after, changes) = after(&footage, &frame, spec(Method::Fill, "1", ["-600", "0"]), &frame_becomes(2048, 858));
    let conversion = after.conversion(PAIR).expect("both are there");
    assert_eq!(conversion.framing, spec(Method::Fill, "1", ["-300", "0"]));
    assert_eq!(conversion.plan.covered, Exact::ONE, "no black comes in");
    assert_eq!(changes.label, "2048×858 on Scope; 1 framing follows");
    assert_eq!((changes.named(), changes.followed.len()), (1, 1));
    assert!(changes.followed[0].is_exact() && !changes.followed[0].loses());
}

#[test]
fn pins_follow_and_what_does_not_move_keeps_its_spelling() {
    let (footage, frame) = scope();
    let choice = Choice {
        own: Some(spec(Method::Fill, "1.10", ["0", "0"])),
        pins: vec![spec(Method::Fill, "1", ["-600", "0.0"])],
        ..Choice::default()
    };
    let before = project(&footage, &frame, &choice, Placing::By(Method::Fill));
    let after = before.with(&before.apply(&frame_becomes(2048, 858)).expect("a sound edit"));
    let choice = after.choice(PAIR);
    assert_eq!(choice.own, Some(spec(Method::Fill, "1.10", ["0", "0"])));
    assert_eq!(choice.pins, [spec(Method::Fill, "1", ["-300", "0.0"])]);
}

#[test]
fn a_framing_that_cannot_follow_stops_where_the_picture_ends_and_says_so() {
    let (footage, frame) = scope();
    // A wider frame leaves less to slide across.
    let (after, changes) = after(&footage, &frame, spec(Method::Fill, "1", ["-600", "0"]), &frame_becomes(4096, 1440));
    let conversion = after.conversion(PAIR).expect("both are there");
    assert_eq!(conversion.plan.covered, Exact::ONE);
    assert!(conversion.findings.iter().all(|finding| finding.code() != "off_edge"));
    let [followed] = &changes.followed[..] else { panic!("one follows") };
    assert!(!followed.is_exact(), "{followed:?}");
    assert!(followed.short.x.is_positive());
}

#[test]
fn what_was_past_the_edge_stays_as_far_past_it() {
    let (footage, frame) = scope();
    let (after, _) = after(&footage, &frame, spec(Method::Fill, "1", ["-1000", "0"]), &frame_becomes(2048, 858));
    assert_eq!(after.choice(PAIR).own, Some(spec(Method::Fill, "1", ["-500", "0"])));
}

#[test]
fn the_same_picture_at_another_size_is_framed_as_before() {
    let (footage, frame) = scope();
    let keeps = |own: FramingSpec, expected: FramingSpec| {
        let (after, _) = after(&footage, &frame, own, &source_becomes(1920, 1080));
        assert_eq!(after.choice(PAIR).own, Some(expected));
    };
    keeps(spec(Method::Fill, "1.2", ["-600", "10"]), spec(Method::Fill, "1.2", ["-600", "10"]));
    keeps(spec(Method::Native, "0.75", ["-20", "0"]), spec(Method::Native, "1.5", ["-20", "0"]));
    // Nobody who asks for 1:1 wants it enlarged.
    keeps(spec(Method::Native, "1", ["-20", "0"]), spec(Method::Native, "1", ["-10", "0"]));
}

#[test]
fn borders_follow_the_raster_of_the_same_picture() {
    let bordered =
        with(&clip("T", 1440, 1080), &SourcePatch::insets(Insets { left: 16, top: 8, right: 20, bottom: 12 }));
    let frame = delivered("F", 1920, 1080);
    let (after, _) = after(&bordered, &frame, FramingSpec::of(Method::Fill), &source_becomes(720, 540));
    let insets = after.source(PAIR.source).expect("it is there").geometry.insets();
    assert_eq!(insets, Insets { left: 8, top: 4, right: 10, bottom: 6 });
}

#[test]
fn another_picture_is_not_followed() {
    let (footage, frame) = scope();
    let own = spec(Method::Fill, "1", ["-600", "0"]);
    let (after, changes) = after(&footage, &frame, own.clone(), &source_becomes(4096, 2160));
    assert_eq!(after.choice(PAIR).own, Some(own));
    assert_eq!(changes.followed, []);
}

#[test]
fn a_framing_given_to_others_stops_where_their_picture_ends() {
    let (footage, frame) = scope();
    let before = project(&footage, &frame, &Choice::default(), Placing::By(Method::Fill));
    let own = Some(spec(Method::Fill, "1", ["-5000", "40"]));
    let given = before.with(&before.apply(&Edit::SetConversions { pairs: vec![PAIR], own }).expect("a sound edit"));
    let conversion = given.conversion(PAIR).expect("both are there");
    assert_eq!(conversion.plan.covered, Exact::ONE);
    let shift = spec(Method::Fill, "1", ["-5000", "40"]);
    let patch = FramingPatch { shift: Some([shift.shift_x, shift.shift_y]), ..FramingPatch::default() };
    let given = before.apply(&Edit::SetFramingParts { pairs: vec![PAIR], patch }).expect("a sound edit");
    assert_eq!(before.with(&given).conversion(PAIR).expect("both are there").plan.covered, Exact::ONE);
}

proptest! {
    #[test]
    fn what_covered_covers_and_the_middle_stays(
        (width, height) in (2_u32..4_000, 2_u32..4_000),
        (wide, high) in (2_u32..4_000, 2_u32..4_000),
        (zoom, x, y) in (1_000_u32..3_000, -100_i32..=100, -100_i32..=100),
    ) {
        let (footage, frame) = (clip("A", width, height), delivered("F", wide, high));
        let zoom = Exact::from(zoom) / Exact::whole(1000);
        let fill = Framing { zoom: Zoom::new(zoom).expect("a zoom"), ..Framing::of(Method::Fill) };
        // Somewhere within the travel, which twice the frame doubles: within the bounds of a shift.
        let plan = Plan::of(footage.geometry.source(), frame.geometry.frame(), &fill);
        let bound = Exact::whole(400_000);
        prop_assume!(plan.travel.x < bound && plan.travel.y < bound);
        let part = |share: i32, travel: &Exact| {
            let at = (Exact::from(i64::from(share)) / Exact::whole(100) * travel).to_decimal(3);
            dial_in::shift_within(&fraction::parse(&at, fraction::Sign::Allowed).expect("a number"), travel)
        };
        let own = Framing { shift_x: part(x, &plan.travel.x), shift_y: part(y, &plan.travel.y), ..fill };
        let edit = frame_becomes(wide * 2, high * 2);
        let (after, changes) = after(&footage, &frame, FramingSpec::written(&own), &edit);
        let (before, now) = (Plan::of(footage.geometry.source(), frame.geometry.frame(), &own), after.conversion(PAIR));
        let now = now.expect("both are there");
        prop_assert_eq!(&now.plan.covered, &Exact::ONE);
        // Twice the frame shows the same part, but for what cannot be written in twelve digits: of the shift,
        // a millionth of a delivery pixel.
        let hair = Exact::fraction(1, 100_000);
        let (was, is) = (before.image, now.plan.image);
        for axis in space::Axis::BOTH {
            let apart = (was.start(axis) * Exact::whole(2) - is.start(axis)).abs();
            let scale = was.start(axis).abs().max(Exact::ONE);
            prop_assert!(apart < &hair * scale, "{} {}", was.start(axis), is.start(axis));
        }
        prop_assert!(changes.followed.iter().all(|each| each.short.x < hair && each.short.y < hair));
    }
}
