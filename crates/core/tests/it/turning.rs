//! Spheres that are turned by hands, views out of them, and what a project says of both.

use proptest::prelude::*;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::*;
use ratiomet_core::signal::Projection;
use ratiomet_core::sphere::*;
use ratiomet_core::{Exact, Insets, Raster, Rotation, Squeeze};

use crate::clips::{clip, delivered, framed, name, with};

fn orientation([yaw, pitch, roll]: [f64; 3]) -> Orientation {
    Orientation {
        yaw: Turn::parse(&format!("{yaw:.4}")).expect("a turn"),
        pitch: Latitude::parse(&format!("{pitch:.4}")).expect("a latitude"),
        roll: Turn::parse(&format!("{roll:.4}")).expect("a turn"),
    }
}

fn direction([longitude, latitude]: [f64; 2]) -> [f64; 3] {
    let (lon, lat) = (longitude.to_radians(), latitude.to_radians());
    [lat.cos() * lon.sin(), lat.sin(), lat.cos() * lon.cos()]
}

fn apply(matrix: &Matrix, v: [f64; 3]) -> [f64; 3] {
    std::array::from_fn(|row| (0..3).map(|k| matrix[row][k] * v[k]).sum())
}

/// Degrees between two directions.
fn between(one: [f64; 3], other: [f64; 3]) -> f64 {
    let [x, y, z] =
        [0, 1, 2].map(|k: usize| one[(k + 1) % 3] * other[(k + 2) % 3] - one[(k + 2) % 3] * other[(k + 1) % 3]);
    let dot: f64 = (0..3).map(|k| one[k] * other[k]).sum();
    (x * x + y * y + z * z).sqrt().atan2(dot).to_degrees()
}

/// The definition of a turn, written out.
fn defined([yaw, pitch, roll]: [f64; 3]) -> Matrix {
    let ((sy, cy), (sp, cp), (sr, cr)) =
        (yaw.to_radians().sin_cos(), pitch.to_radians().sin_cos(), roll.to_radians().sin_cos());
    [
        [cy * cr + sy * sp * sr, cy * sr - sy * sp * cr, sy * cp],
        [-cp * sr, cp * cr, sp],
        [cy * sp * sr - sy * cr, -sy * sr - cy * sp * cr, cy * cp],
    ]
}

fn angles() -> impl Strategy<Value = [f64; 3]> {
    [-180.0..180.0, -89.0..89.0, -180.0..180.0]
}

fn points() -> impl Strategy<Value = [f64; 2]> {
    [-180.0..180.0, -89.0..89.0]
}

proptest! {
    #[test]
    fn a_turn_is_its_matrix_and_the_matrix_is_its_turn(turn in angles()) {
        let matrix = orientation(turn).matrix();
        for (row, defined) in matrix.iter().flatten().zip(defined(turn).iter().flatten()) {
            prop_assert!((row - defined).abs() < 1e-5, "{turn:?}: {matrix:?}");
        }
        let again = Orientation::of_matrix(&matrix).matrix();
        for (one, other) in matrix.iter().flatten().zip(again.iter().flatten()) {
            prop_assert!((one - other).abs() < 1e-7);
        }
    }

    #[test]
    fn what_a_free_hand_took_comes_to_lie_under_it(turn in angles(), from in points(), to in points()) {
        let before = orientation(turn);
        let after = before.dragged(from, to, Hold::Free);
        // The same place of the stored sphere.
        let (was, is) = (apply(&before.matrix(), direction(from)), apply(&after.matrix(), direction(to)));
        prop_assert!(between(was, is) < 1e-4, "{} degrees", between(was, is));
        // On the shortest way: no point moves further than the one that was taken.
        let moved = |point: [f64; 2]| between(direction(after.lies(before.found(point))), direction(point));
        let most = between(direction(from), direction(to));
        for point in [[0.0, 0.0], [90.0, 0.0], [0.0, 80.0], [-120.0, -40.0]] {
            prop_assert!(moved(point) <= most + 1e-4);
        }
    }

    #[test]
    fn held_around_what_is_level_stays_level_and_the_longitude_follows(
        turn in angles(), from in points(), to in points(), point in points(),
    ) {
        let before = orientation(turn);
        let after = before.dragged(from, to, Hold::Around);
        let lies = after.lies(before.found(point));
        prop_assert!((lies[1] - point[1]).abs() < 1e-4, "{lies:?}");
        let moved = after.lies(before.found(from));
        let off = (moved[0] - to[0] + 540.0).rem_euclid(360.0) - 180.0;
        prop_assert!(off.abs() < 1e-3, "{moved:?} to {to:?}");
    }

    #[test]
    fn held_in_the_middle_the_middle_stays(turn in angles(), from in points(), to in points()) {
        let before = orientation(turn);
        let after = before.dragged(from, to, Hold::Roll);
        prop_assert!(between(direction(before.found([0.0, 0.0])), direction(after.found([0.0, 0.0]))) < 1e-4);
    }

    #[test]
    fn a_point_is_found_where_it_lies(turn in angles(), point in points()) {
        let turn = orientation(turn);
        prop_assert!(between(direction(turn.lies(turn.found(point))), direction(point)) < 1e-5);
        prop_assert!(between(direction(turn.inverse().found(point)), direction(turn.lies(point))) < 1e-4);
    }

    #[test]
    fn a_view_within_a_turned_sphere_sees_through_both(outer in angles(), inner in angles(), point in points()) {
        let (outer, inner) = (orientation(outer), orientation(inner));
        let both = inner.within(&outer);
        prop_assert!(between(direction(both.found(point)), direction(outer.found(inner.found(point)))) < 1e-4);
    }

    // Near the poles a camera that keeps its roll cannot have everything anywhere.
    #[test]
    fn what_a_hand_took_in_a_view_comes_to_lie_under_it(
        yaw in -180.0..180.0_f64, pitch in -25.0..25.0_f64, roll in -15.0..15.0_f64, wide in 30.0..80.0_f64,
        places in [[-0.4..0.4_f64, -0.2..0.2_f64], [-0.4..0.4_f64, -0.2..0.2_f64]],
    ) {
        let before = orientation([yaw, pitch, roll]);
        let fov = FieldOfView::parse(&format!("{wide:.4}")).expect("a field of view");
        let [from, to] = places.map(|[right, up]| InView { right, up });
        let after = before.looked(&fov, from, to);
        prop_assert_eq!(&after.roll, &before.roll);
        let t = 2.0 * (wide / 2.0).to_radians().tan();
        let ray = |orientation: &Orientation, at: InView| {
            apply(&orientation.matrix(), [at.right * t, at.up * t, 1.0])
        };
        let off = between(ray(&before, from), ray(&after, to));
        prop_assert!(off < 1e-3, "{off} degrees");
    }

    #[test]
    fn a_form_is_its_words(
        across in 1_u32..=360, up in 1_u32..=180, layout in prop::sample::select(Layout::ALL.to_vec()), right_first in any::<bool>(),
    ) {
        let eyes = if right_first && layout != Layout::Mono { Eyes::RightFirst } else { Eyes::LeftFirst };
        let span = Span {
            across: Across::parse(&across.to_string()).expect("a span"),
            up: UpAndDown::parse(&up.to_string()).expect("a span"),
        };
        let form = SphereForm { span, layout, eyes };
        prop_assert_eq!(SphereForm::parse(&form.written()), Some(form));
    }
}

#[test]
fn words_that_say_no_form_are_refused() {
    assert_eq!(SphereForm::parse(""), Some(SphereForm::default()));
    for text in ["cube", "361x180", "180x", "0x90", "180x181", "top_bottom sideways"] {
        assert_eq!(SphereForm::parse(text), None, "{text}");
    }
    assert_eq!(SphereForm::default().words(), "full sphere, one picture for both eyes");
    let half = SphereForm { span: Span::FRONT, layout: Layout::SideBySide, eyes: Eyes::RightFirst };
    assert_eq!(half.words(), "180° by 180°, eyes side by side, right eye first");
}

fn sphere(width: u32, height: u32) -> Footage {
    let patch = SourcePatch {
        projection: Some(Projection::Sphere),
        still: Some(Some(StillSpec::Scene(Scene::Kiln))),
        ..SourcePatch::default()
    };
    with(&clip("S002", width, height), &patch)
}

fn view(of: i32, width: u32, height: u32, fov: &str) -> Footage {
    let view = ViewSpec {
        sphere: SourceId::new(of),
        fov: FieldOfView::parse(fov).expect("wide"),
        orientation: Orientation::NONE,
    };
    with(&clip("S002 view", width, height), &SourcePatch { view: Some(Some(view)), ..SourcePatch::default() })
}

#[test]
fn a_view_has_no_lens_and_changes_of_one_leave_it_as_it_is() {
    let project = project(&[clip("A", 1920, 1080), view(3, 1920, 1080, "75"), sphere(5760, 2880)], &[]);
    let squeeze = Some(Written::parse("2", Squeeze::parse).expect("a squeeze"));
    let ids = [1, 2, 3].map(SourceId::new).to_vec();
    let patch = SourcePatch { squeeze: squeeze.clone(), ..SourcePatch::default() };
    let changes = project.apply(&Edit::SetSources { ids: ids.clone(), patch: Box::new(patch) }).expect("changes");
    assert_eq!((changes.changes.len(), changes.skipped, changes.unchanged), (2, 1, 0));
    // What else is set with it is set.
    let both = SourcePatch { squeeze, name: Some(name("seen")), ..SourcePatch::default() };
    let changes = project.apply(&Edit::SetSources { ids, patch: Box::new(both) }).expect("changes");
    assert_eq!((changes.changes.len(), changes.skipped), (3, 0));
    let after = project.with(&changes);
    let seen = after.source(SourceId::new(2)).expect("the view");
    assert_eq!((seen.name.as_str(), seen.geometry.squeeze().text()), ("seen", "1"));
    // A clip that becomes a view loses the lens that it had.
    let tape = with(&clip("T", 720, 576), &SourcePatch { rotation: Some(Rotation::Quarter), ..SourcePatch::default() });
    let looks = view(3, 1920, 1080, "75").view;
    let became = with(&tape, &SourcePatch { view: Some(looks), ..SourcePatch::default() });
    assert_eq!(became.geometry.rotation(), Rotation::None);
}

fn project(sources: &[Footage], frames: &[Deliverable]) -> Project {
    let mut project = Project::new(ProjectSettings::named(name("P")));
    for (id, footage) in (1..).zip(sources) {
        project.put_source(SourceId::new(id), Some(footage.clone()));
    }
    for (id, frame) in (1..).zip(frames) {
        project.put_frame(FrameId::new(id), Some(frame.clone()));
    }
    project
}

fn codes(project: &Project, source: i32, frame: i32) -> Vec<&'static str> {
    let pair = Pair::new(SourceId::new(source), FrameId::new(frame));
    let found = project.conversion(pair).expect("a conversion");
    found.findings.iter().map(ratiomet_core::Finding::code).filter(|code| code.starts_with("sphere")).collect()
}

fn spherical(frame: &Deliverable, form: SphereForm) -> Deliverable {
    let patch = FramePatch { projection: Some(Projection::Sphere), sphere: Some(form), ..FramePatch::default() };
    framed(frame, &patch)
}

#[test]
fn a_view_is_as_fine_as_the_sphere_behind_it() {
    // Worked example: 90 degrees of a sphere of 5760 pixels hold 5760 / (2 pi) pixels a radian, a view of 1920 pixels
    // 1920 / 2 in its middle.
    let walk = project(
        &[sphere(5760, 2880), view(1, 1920, 1080, "90"), view(1, 960, 540, "90")],
        &[delivered("HD", 1920, 1080), delivered("Small", 640, 360)],
    );
    let density = 960.0 / (5760.0 / std::f64::consts::TAU);
    let scale = |source, frame| {
        let found = walk.conversion(Pair::new(SourceId::new(source), FrameId::new(frame))).expect("a conversion");
        found.sphere_scale.expect("of the sphere").to_f64()
    };
    assert!((scale(2, 1) - density).abs() < 1e-3, "{}", scale(2, 1));
    assert!((scale(2, 2) - density / 3.0).abs() < 1e-3);
    // Half as large a view in the same frame shows no more and no less of the sphere.
    assert!((scale(3, 1) - density).abs() < 1e-3);
    assert_eq!((codes(&walk, 2, 1), codes(&walk, 2, 2)), (vec!["sphere_enlarged"], vec![]));
    let enlarged = walk.conversion(Pair::new(SourceId::new(3), FrameId::new(1))).expect("a conversion");
    assert!(enlarged.findings.iter().all(|finding| finding.code() != "enlarged"), "said once, of the sphere");
    assert_eq!(walk.views(SourceId::new(1)).count(), 2);
}

#[test]
fn a_view_has_the_picture_of_its_sphere_as_it_is_turned() {
    let mut walk = project(&[sphere(5760, 2880), view(1, 1920, 1080, "90")], &[delivered("HD", 1920, 1080)]);
    let key = |project: &Project| {
        let footage = project.source(SourceId::new(2)).expect("the view");
        project.pictured(footage).key()
    };
    let before = key(&walk);
    assert!(before.is_some());
    let turn = SourcePatch { turn: Some(orientation([10.0, 0.0, 5.0])), ..SourcePatch::default() };
    let edit = Edit::SetSources { ids: vec![SourceId::new(1)], patch: Box::new(turn) };
    let changes = walk.apply(&edit).expect("sound");
    assert_eq!(changes.label, "Sphere turned yaw 10°, pitch 0°, roll 5° on S002; 1 view follows");
    assert_eq!((changes.changes.len(), changes.named()), (2, 1), "the view goes along, and is not what was named");
    walk = walk.with(&changes);
    assert_ne!(key(&walk), before);
    let delete = Edit::Delete { sources: vec![SourceId::new(1)], frames: Vec::new() };
    let gone = walk.with(&walk.apply(&delete).expect("sound"));
    assert_eq!((key(&gone), codes(&gone, 2, 1)), (None, vec!["sphere_gone"]));
    // It can still be edited.
    let rename = SourcePatch { name: Some(name("Other")), ..SourcePatch::default() };
    let edit = Edit::SetSources { ids: vec![SourceId::new(2)], patch: Box::new(rename) };
    assert!(gone.apply(&edit).is_ok());
    let point = gone.points().into_iter().find(|point| point.code == "sphere_gone").expect("a point");
    assert_eq!(point.title, "S002 view looks out of a sphere that is not there");
}

#[test]
fn spheres_are_held_against_the_frames_they_go_into() {
    let above = SphereForm { layout: Layout::TopBottom, ..SphereForm::default() };
    let stereo = with(&sphere(5760, 5760), &SourcePatch { sphere: Some(above.clone()), ..SourcePatch::default() });
    let mono = spherical(&delivered("One eye", 3840, 1920), SphereForm::default());
    let both = spherical(&delivered("Two eyes", 3840, 3840), above.clone());
    let flat = spherical(&delivered("Not 2:1", 3840, 2160), SphereForm::default());
    let walk = project(&[sphere(5760, 2880), stereo, sphere(5760, 3240)], &[mono, both, flat]);
    assert_eq!(codes(&walk, 1, 1), Vec::<&str>::new());
    assert_eq!(codes(&walk, 1, 2), ["sphere_form"]);
    assert_eq!(codes(&walk, 1, 3), ["sphere_shape"]);
    assert_eq!(codes(&walk, 2, 2), Vec::<&str>::new());
    assert_eq!(codes(&walk, 2, 1), ["sphere_form"]);
    assert_eq!(codes(&walk, 3, 1), ["sphere_shape"], "the source is not 2:1");
    let pair = Pair::new(SourceId::new(2), FrameId::new(1));
    let (conversion, proposals) = walk.proposals(pair).expect("a conversion");
    let said = conversion.findings.iter().find(|finding| finding.code() == "sphere_form").expect("said").to_string();
    assert!(said.contains("eyes one above the other") && said.contains("one picture for both eyes"), "{said}");
    let remedy = proposals.iter().find(|each| each.against == "sphere_form").expect("a remedy");
    assert_eq!(remedy.words, "Make the frame one for a full sphere, eyes one above the other, left eye first");
}

#[test]
fn a_sphere_is_neither_cut_nor_rotated() {
    let over = SourcePatch { rotation: Some(Rotation::Half), ..SourcePatch::default() };
    let cut = SourcePatch::insets(Insets { top: 16, ..Insets::default() });
    let turned = SourcePatch { turn: Some(orientation([30.0, 10.0, 0.0])), ..over };
    let headset = spherical(&delivered("Headset", 3840, 1920), SphereForm::default());
    let walk = project(
        &[with(&sphere(5760, 2880), &turned), view(1, 1920, 1080, "90"), with(&sphere(5760, 2880), &cut)],
        &[headset, delivered("Small", 640, 360)],
    );
    assert_eq!(codes(&walk, 1, 1), ["sphere_cut"]);
    assert_eq!(codes(&walk, 2, 2), ["sphere_cut"], "its sphere is looked out of as it is stored");
    assert!(codes(&walk, 3, 1).contains(&"sphere_cut"));
    let (conversion, proposals) = walk.proposals(Pair::new(SourceId::new(1), FrameId::new(1))).expect("a conversion");
    assert!(conversion.findings[0].to_string().starts_with("The sphere is rotated by 180°; "));
    let remedy = proposals.iter().find(|each| each.against == "sphere_cut").expect("a remedy");
    // The picture that was rotated is the one that is now rolled.
    let mended = walk.with(&walk.apply(&remedy.edit).expect("sound"));
    assert_eq!(codes(&mended, 1, 1), Vec::<&str>::new());
    let turn = &mended.source(SourceId::new(1)).expect("the sphere").turn;
    for [longitude, latitude] in [[0.0, 0.0], [50.0, 20.0], [-120.0, -70.0]] {
        let rotated = orientation([30.0, 10.0, 0.0]).found([-longitude, -latitude]);
        let rolled = turn.found([longitude, latitude]);
        assert!((0..2).all(|axis| (rotated[axis] - rolled[axis]).abs() < 1e-9), "{rotated:?} {rolled:?}");
    }
}

#[test]
fn a_file_that_does_not_say_it_is_a_sphere_is_told_of() {
    let read = |said: Vec<(Aspect, String)>| {
        let mut footage = sphere(5760, 2880).read_from("S002.mp4", said);
        if let Some(origin) = &mut footage.origin {
            origin.footage = true;
        }
        footage
    };
    let headset = spherical(&delivered("Headset", 3840, 1920), SphereForm::default());
    let silent = read(vec![(Aspect::Raster, "tkhd".to_owned())]);
    let said = read(vec![(Aspect::Projection, "sv3d".to_owned())]);
    let walk = project(&[silent, said, sphere(5760, 2880)], &[headset, delivered("HD", 1920, 1080)]);
    assert_eq!(codes(&walk, 1, 1), ["sphere_unsaid"]);
    assert_eq!(codes(&walk, 2, 1), Vec::<&str>::new());
    assert_eq!(codes(&walk, 3, 1), Vec::<&str>::new(), "typed, nobody knows its file");
    assert_eq!(codes(&walk, 1, 2), Vec::<&str>::new(), "a flat frame needs no such word");
}

#[test]
fn the_shape_of_a_sphere_is_that_of_its_span() {
    let shape = |form: &SphereForm, width, height| {
        let raster = Raster::<ratiomet_core::space::Stored>::new(width, height).expect("a raster");
        form.shape(&raster.size())
    };
    let half = SphereForm { span: Span::FRONT, ..SphereForm::default() };
    let pair = SphereForm { layout: Layout::SideBySide, ..half.clone() };
    assert_eq!(shape(&SphereForm::default(), 5760, 2880), Exact::ONE);
    assert_eq!(shape(&half, 2880, 2880), Exact::ONE);
    assert_eq!(shape(&pair, 5760, 2880), Exact::ONE);
    assert_eq!(shape(&SphereForm::default(), 3840, 2160), Exact::fraction(8, 9));
}

fn on_sphere(turn: [f64; 3], degrees: &str) -> OnSphere {
    let raster = Raster::new(400, 100).expect("a raster");
    OnSphere {
        still: StillFile { content: Content::new([7; 32]), name: Note::default(), raster },
        width: FieldOfView::parse(degrees).expect("wide"),
        orientation: orientation(turn),
    }
}

proptest! {
    #[test]
    fn what_was_looked_at_is_looked_at_after_another_turn(
        look in angles(), before in angles(), now in angles(),
    ) {
        prop_assume!(look[1].abs() < 89.0);
        let (look, before, now) = (orientation(look), orientation(before), orientation(now));
        let carried = look.carried(&before, &now);
        let middle = |look: &Orientation, turn: &Orientation| direction(look.within(turn).found([0.0, 0.0]));
        prop_assert!(between(middle(&look, &before), middle(&carried, &now)) < 1e-5);
        let upright = carried.pitch.value().to_f64().abs() < 89.9;
        prop_assert!(!upright || carried.roll == look.roll, "it rolls as before");
        prop_assert_eq!(look.carried(&before, &before), look);
    }

    #[test]
    fn a_distance_is_the_width_that_is_seen(distance in 0.02_f64..500.0) {
        let distance = Distance::parse(&format!("{distance:.4}")).expect("a distance");
        let standing = OnSphere { width: FieldOfView::at(&distance), ..on_sphere([0.0; 3], "40") };
        let place = SpherePlace::of(&standing.request(Raster::new(5760, 2880).expect("a raster")));
        let apart = place.distance / distance.value().to_f64();
        prop_assert!((apart - 1.0).abs() < 1e-4, "{apart}");
    }
}

#[test]
fn views_and_pictures_stay_where_they_are_when_a_sphere_is_turned() {
    let standing = with(
        &sphere(5760, 2880),
        &SourcePatch { on_sphere: Some(vec![on_sphere([30.0, 10.0, 4.0], "40")]), ..SourcePatch::default() },
    );
    let walk = project(&[standing, view(1, 1920, 1080, "90"), view(1, 960, 540, "60")], &[]);
    let turned = |patch: SourcePatch| {
        let edit = Edit::SetSources { ids: vec![SourceId::new(1)], patch: Box::new(patch) };
        let changes = walk.apply(&edit).expect("sound");
        (changes.label.clone(), walk.with(&changes))
    };
    let turn = orientation([25.0, 0.0, 0.0]);
    let (label, after) = turned(SourcePatch { turn: Some(turn.clone()), ..SourcePatch::default() });
    assert_eq!(label, "Sphere turned yaw 25°, pitch 0°, roll 0° on S002; 2 views and 1 picture follow");
    let look = |project: &Project, id: i32| {
        let view = project.source(SourceId::new(id)).expect("there").view.clone().expect("a view");
        view.orientation.yaw.value().to_f64()
    };
    assert!((look(&after, 2) + 25.0).abs() < 1e-4 && (look(&after, 3) + 25.0).abs() < 1e-4);
    let picture = &after.source(SourceId::new(1)).expect("there").on_sphere[0];
    assert!((picture.orientation.yaw.value().to_f64() - 5.0).abs() < 1e-4);
    assert_eq!(picture.orientation.roll, orientation([0.0, 0.0, 4.0]).roll);
    // What is said of the pictures with the turn counts.
    let said = vec![on_sphere([-90.0, 0.0, 0.0], "20")];
    let (label, after) =
        turned(SourcePatch { turn: Some(turn), on_sphere: Some(said.clone()), ..SourcePatch::default() });
    assert!(label.ends_with("1 picture on the sphere on S002; 2 views follow"), "{label}");
    assert_eq!(after.source(SourceId::new(1)).expect("there").on_sphere, said);
}

#[test]
fn a_picture_on_half_a_sphere_is_as_fine_as_its_whole_would_be() {
    // 2880 pixels hold 180 degrees: a whole turn has 5760, as in the worked example of kind `sphere_place`.
    let half = SphereForm { span: Span::FRONT, layout: Layout::SideBySide, eyes: Eyes::LeftFirst };
    let patch =
        SourcePatch { sphere: Some(half), on_sphere: Some(vec![on_sphere([0.0; 3], "40")]), ..SourcePatch::default() };
    let [place] = with(&sphere(5760, 2880), &patch).places().expect("eyes").try_into().expect("one picture");
    let scale = 5760.0 / std::f64::consts::TAU * 2.0 * 20.0_f64.to_radians().tan() / 400.0;
    assert!((place.picture_scale - scale).abs() < 1e-9, "{} and {scale}", place.picture_scale);
    assert!(!place.wraps && !place.holds_pole);
    let at = |turn| {
        let patch = SourcePatch { on_sphere: Some(vec![on_sphere(turn, "40")]), ..SourcePatch::default() };
        let [place] = with(&sphere(5760, 2880), &patch).places().expect("an eye").try_into().expect("one picture");
        (place.wraps, place.holds_pole)
    };
    assert_eq!((at([175.0, 0.0, 0.0]), at([10.0, 88.0, 0.0])), ((true, false), (true, true)));
}
