//! What stands open in a project, by its cause; what neighbours say of a clip; what helps for all at once.

use std::cmp::Reverse;
use std::collections::BTreeMap;

use proptest::prelude::*;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::*;
use ratiomet_core::signal::{Projection, RangePlan, Scan, SignalRange};
use ratiomet_core::*;

use crate::clips::{clip, delivered, framed, name, rate, squeeze, with};

/// A project of these clips and frames, its board filling.
fn of(clips: &[Footage], frames: &[Deliverable]) -> Project {
    let mut project = Project::new(ProjectSettings::named(name("P")));
    for (id, footage) in (1..).zip(clips) {
        project.put_source(SourceId::new(id), Some(footage.clone()));
    }
    for (id, frame) in (1..).zip(frames) {
        project.put_frame(FrameId::new(id), Some(frame.clone()));
    }
    project
}

fn titles(project: &Project) -> Vec<String> {
    project.points().iter().map(|point| point.title.clone()).collect()
}

fn codes_of(project: &Project, source: i32) -> Vec<&'static str> {
    let of = |(pair, each): (Pair, Conversion)| (pair.source.number() == source).then_some(each.findings);
    project.board().filter_map(of).flatten().map(|finding| finding.code()).collect()
}

fn at(text: &str) -> SourcePatch {
    SourcePatch { rate: Some(Some(rate(text))), ..SourcePatch::default() }
}

#[test]
fn a_pair_of_rates_is_one_point_however_many_clips_have_it() {
    let clips: Vec<_> = (0..12).map(|n| clip(&format!("B{n:03}"), 1920, 1080)).collect();
    let film =
        framed(&delivered("Film", 1920, 1080), &FramePatch { rate: Some(Some(rate("24"))), ..FramePatch::default() });
    let project = of(&clips, &[film.clone(), delivered("HD", 1920, 1080)]);
    let points = project.points();
    let [point] = &points[..] else { panic!("{:?}", titles(&project)) };
    assert_eq!((point.title.as_str(), point.severity), ("25 fps into 24 fps: 12 clips", Severity::Caution));
    assert_eq!(point.key(), "rate_mixed-25-24");
    // It needs a decision once: no conversion is flagged for it.
    assert!(project.board().all(|(_, each)| each.severity() < Some(Severity::Caution)));

    let remedies = project.remedies(point);
    let words: Vec<_> = remedies.iter().map(|remedy| (remedy.words.as_str(), remedy.solves)).collect();
    assert_eq!(
        words,
        [
            ("Play every frame once, at another speed", 12),
            ("Blend frames on hand-off", 12),
            ("Drop or repeat frames on hand-off", 12),
            ("25 fps into 24 fps is fine in this project", 12),
        ]
    );
    for remedy in remedies {
        let after = project.with(&project.apply(&remedy.edit).expect("a sound edit"));
        assert_eq!(after.points().len(), 0, "{}", remedy.words);
    }

    // 24 and its slower twin: a note, with what it costs.
    let slip = of(&[with(&clip("A001", 1920, 1080), &at("23.976"))], &[film]);
    let points = slip.points();
    assert_eq!((points[0].severity, points.len()), (Severity::Note, 1));
    assert_eq!(points[0].detail, "23.976 fps into 24 fps: one frame is repeated every 41.7 s, or run it 0.1 % faster.");
}

#[test]
fn what_nothing_says_is_asked_once_for_all_clips() {
    let unsaid = SourcePatch { scan: Some(None), signal_range: Some(None), ..SourcePatch::default() };
    let mut clips: Vec<_> = (0..5).map(|n| with(&clip(&format!("B{n:03}"), 1920, 1080), &unsaid)).collect();
    clips.push(clip("C001", 1920, 1080));
    let mut project = of(&clips, &[delivered("HD", 1920, 1080), delivered("UHD", 3840, 2160)]);
    let asked = ["Signal range unknown: 5 clips", "Scan unknown: 5 clips"];
    let is_unsaid = |point: &Point| point.code.ends_with("_unknown");
    let points: Vec<_> = project.points().into_iter().filter(is_unsaid).collect();
    let [range, scan] = &points[..] else { panic!("two points") };
    assert_eq!([range.title.as_str(), scan.title.as_str()], asked);
    assert_eq!((range.severity, scan.severity), (Severity::Note, Severity::Note));
    assert_eq!((range.key().as_str(), scan.key().as_str()), ("range_unknown", "scan_unknown"));
    // A range that is not said does not differ from that of a frame.
    let full = FramePatch { signal_range: Some(SignalRange::Full), ..FramePatch::default() };
    let other = of(&clips[..1], &[framed(&delivered("HD", 1920, 1080), &full)]);
    assert!(other.board().all(|(_, each)| each.findings.iter().all(|finding| finding.code() != "range")));
    // One action settles it for all.
    for (code, words) in [("range_unknown", "Set to narrow range"), ("scan_unknown", "Set to progressive")] {
        let point = project.points().into_iter().find(|point| point.code == code).expect("a point");
        let remedy = project.remedies(&point).into_iter().find(|remedy| remedy.words == words).expect("a remedy");
        assert_eq!(remedy.solves, 10);
        project = project.with(&project.apply(&remedy.edit).expect("a sound edit"));
    }
    assert!(titles(&project).iter().all(|title| !title.contains("unknown")), "{:?}", titles(&project));
    assert_eq!(project.source(SourceId::new(3)).expect("it is there").scan, Some(Scan::Progressive));
}

#[test]
fn fields_and_range_are_asked_of_the_source_once_and_can_be_settled() {
    let patch = SourcePatch {
        scan: Some(Some(Scan::Interlaced)),
        signal_range: Some(Some(SignalRange::Full)),
        ..SourcePatch::default()
    };
    let tape = with(&clip("N1994", 1920, 1080), &patch);
    let frames: Vec<_> = (0..7).map(|n| delivered(&format!("F{n}"), 1920, 1080)).collect();
    let mut project = of(&[tape], &frames);
    assert_eq!(titles(&project), ["N1994 is interlaced: 7 frames", "N1994 has full range: 7 frames"]);
    assert!(project.board().all(|(_, each)| each.severity() == Some(Severity::Note)));
    let [interlaced, range] = &project.points()[..] else { panic!("two points") };
    assert_eq!(project.remedies(interlaced)[0].words, "Deinterlace on hand-off");
    let plans: Vec<_> = project.remedies(range).into_iter().map(|remedy| remedy.words).collect();
    assert_eq!(plans, ["Convert the range on hand-off", "Keep the values and declare the range"]);
    for point in project.points() {
        let remedy = &project.remedies(&point)[0];
        project = project.with(&project.apply(&remedy.edit).expect("a sound edit"));
    }
    assert_eq!(titles(&project), [""; 0]);
    let settled = project.source(SourceId::new(1)).expect("it is there");
    assert_eq!((settled.deinterlace, settled.range_plan), (true, RangePlan::Convert));
}

#[test]
fn a_squeeze_forgotten_on_one_of_forty_is_found_by_its_neighbours() {
    let shot = |n: i32, lens: &str| {
        let patch = SourcePatch { squeeze: Some(squeeze(lens)), ..SourcePatch::default() };
        with(&clip(&format!("A{n:03}C001_261128"), 2880, 2160), &patch)
    };
    let mut clips: Vec<_> = (1..=40).map(|n| shot(n, if n == 17 { "1" } else { "2" })).collect();
    let scope = delivered("Scope", 4096, 1716);
    let project = of(&clips, std::slice::from_ref(&scope));
    let flagged: Vec<_> = (1..=40).filter(|n| codes_of(&project, *n).contains(&"squeeze_missing")).collect();
    assert_eq!(flagged, [17]);
    let conversion = project.conversion(Pair::new(SourceId::new(17), FrameId::new(1))).expect("it is there");
    assert_eq!(conversion.severity(), Some(Severity::Caution), "it must not pass as clean");
    assert!(
        conversion.findings.iter().any(|finding| {
            finding.to_string() == "39 of 40 clips like this one have squeeze 2; this one has none."
        })
    );
    let points = project.points();
    let point = points.iter().find(|point| point.code == "squeeze_missing").expect("a point");
    assert_eq!(point.title, "A017C001_261128 has no squeeze, 39 clips like it have 2");
    let remedy = &project.remedies(point)[0];
    assert_eq!((remedy.words.as_str(), remedy.solves), ("Set squeeze 2", 1));
    let mended = project.with(&project.apply(&remedy.edit).expect("a sound edit"));
    assert!(mended.points().iter().all(|point| point.code != "squeeze_missing"));

    // Another camera, another day, another raster: no neighbours.
    for apart in
        [clip("B001C001_261128", 2880, 2160), clip("A041C001_261127", 2880, 2160), clip("A041C001_261128", 3840, 2160)]
    {
        clips.push(apart);
        let project = of(&clips, std::slice::from_ref(&scope));
        assert!(!codes_of(&project, 41).contains(&"squeeze_missing"));
        clips.pop();
    }
    // Half and half says nothing of either.
    let mixed: Vec<_> = (1..=40).map(|n| shot(n, if n % 2 == 0 { "1" } else { "2" })).collect();
    assert!(of(&mixed, &[scope]).points().iter().all(|point| point.code != "squeeze_missing"));
}

#[test]
fn of_forty_clips_exactly_the_one_stored_sideways_is_asked_about() {
    let known = SourcePatch { upright_known: Some(true), ..SourcePatch::default() };
    let turned = SourcePatch { rotation: Some(Rotation::Quarter), ..SourcePatch::default() };
    let story = delivered("Story", 1080, 1920);
    let hd = delivered("HD", 1920, 1080);
    let asked = |clips: &[Footage], frames: &[Deliverable]| -> Vec<i32> {
        let project = of(clips, frames);
        let found: Vec<i32> = (1..=40).filter(|n| codes_of(&project, *n).contains(&"sideways")).collect();
        assert_eq!(project.points().iter().filter(|point| point.code == "sideways").count(), found.len());
        found
    };
    let with_odd_one = |usual: &dyn Fn(i32) -> Footage, odd: Footage| -> Vec<Footage> {
        (1..=40).map(|n| if n == 23 { odd.clone() } else { usual(n) }).collect()
    };
    let lying = |n: i32| clip(&format!("P{n:03}"), 1920, 1080);
    // Phones: all but one say in their headers that they are turned.
    let phones = with_odd_one(&|n| with(&lying(n), &turned), lying(23));
    assert_eq!(asked(&phones, std::slice::from_ref(&story)), [23]);
    // Headers that say that they lie, and a list that says nothing of one.
    let headed = with_odd_one(&|n| with(&lying(n), &known), lying(23));
    assert_eq!(asked(&headed, &[hd.clone(), story.clone()]), [23]);
    // One stands among those that lie; the upright frame costs them by its shape.
    let one_stands = with_odd_one(&lying, clip("P023", 1080, 1920));
    assert_eq!(asked(&one_stands, &[hd, story.clone()]), [23]);
    // Once it is answered nobody asks again, and forty at once are never turned.
    let answered = with_odd_one(&|n| with(&lying(n), &turned), with(&lying(23), &known));
    assert_eq!(asked(&answered, std::slice::from_ref(&story)), [0; 0]);
    let all_lie: Vec<_> = (1..=40).map(lying).collect();
    assert_eq!(asked(&all_lie, std::slice::from_ref(&story)), [0; 0]);
    let bin = of(&all_lie, &[story]).bin(FrameId::new(1)).expect("it is there");
    assert!(bin.groups.iter().all(|group| group.remedy != Some(Remedy::Turn)));
}

#[test]
fn a_sphere_in_a_flat_frame_is_no_flat_picture() {
    let sphere = SourcePatch { projection: Some(Projection::Sphere), ..SourcePatch::default() };
    let walk = with(&clip("S002", 5760, 2880), &sphere);
    let headset = framed(
        &delivered("Headset", 3840, 1920),
        &FramePatch { projection: Some(Projection::Sphere), ..FramePatch::default() },
    );
    let project = of(&[walk, clip("A001", 1920, 1080)], &[delivered("HD", 1920, 1080), headset]);
    let titles = titles(&project);
    assert_eq!(titles, ["Headset is for a sphere: 1 flat clip", "S002 is a sphere in 1 flat frame"]);
    let into = |source: i32, frame: i32| {
        project.conversion(Pair::new(SourceId::new(source), FrameId::new(frame))).expect("it is there")
    };
    let codes = |each: &Conversion| each.findings.iter().map(Finding::code).collect::<Vec<_>>();
    assert_eq!(codes(&into(1, 1)), ["projection"]);
    assert_eq!(codes(&into(1, 2)), [""; 0]);
    assert_eq!(codes(&into(2, 2)), ["projection"]);
}

#[test]
fn bars_that_somebody_asked_for_and_enlarging_within_bounds_are_notes() {
    let fit = Choice::of(FramingSpec::of(Method::Fit));
    let mut project = of(&[clip("A", 1440, 1080)], &[delivered("HD", 1920, 1080)]);
    let pair = Pair::new(SourceId::new(1), FrameId::new(1));
    project.put_choice(pair, fit);
    let severity = |project: &Project| project.conversion(pair).expect("it is there").severity();
    assert_eq!(severity(&project), Some(Severity::Note));
    // A board that fits is nobody's wish for these bars.
    project.put_choice(pair, Choice::default());
    project.put_settings(ProjectSettings { method: Method::Fit.into(), ..project.settings().clone() });
    assert_eq!(severity(&project), Some(Severity::Caution));

    let mut small = of(&[clip("small", 1280, 720)], &[delivered("HD", 1920, 1080)]);
    assert_eq!(titles(&small), ["small is enlarged in 1 frame"]);
    let point = &small.points()[0];
    assert_eq!(point.detail, "to 150 % of the stored size");
    let tolerated =
        small.remedies(point).into_iter().find(|remedy| remedy.words.starts_with("Enlarging")).expect("one");
    assert_eq!(tolerated.words, "Enlarging needs no look up to 150 % in this project");
    small = small.with(&small.apply(&tolerated.edit).expect("a sound edit"));
    assert_eq!(titles(&small), [""; 0]);
    assert_eq!(small.settings().tolerances.enlarged.text(), "1.5");
}

#[test]
fn a_point_that_was_accepted_everywhere_stands_last_with_its_reason() {
    let clips: Vec<_> = (0..3).map(|n| clip(&format!("small {n}"), 640 + 2 * n, 360)).collect();
    let mut project = of(&clips, &[delivered("HD", 1920, 1080), delivered("Square", 1080, 1080)]);
    let [first, ..] = &project.points()[..] else { panic!("points") };
    let judge = Edit::JudgeFinding {
        pairs: first.affected.iter().map(|each| each.pair).collect(),
        code: first.code,
        reason: Some(name("archive")),
    };
    let key = first.key();
    project = project.with(&project.apply(&judge).expect("a sound edit"));
    let points = project.points();
    let last = points.last().expect("points");
    assert_eq!((last.key(), last.is_open(), last.reason()), (key, false, Some("archive")));
}

/// What most share, counted anew each time.
fn counted_anew(mut left: Vec<Pair>) -> BTreeMap<Cause, Vec<Pair>> {
    let mut groups = BTreeMap::new();
    while !left.is_empty() {
        let mut counts: BTreeMap<Cause, usize> = BTreeMap::new();
        for cause in left.iter().flat_map(|pair| [Cause::Source(pair.source), Cause::Frame(pair.frame)]) {
            *counts.entry(cause).or_default() += 1;
        }
        let most = counts.into_iter().max_by_key(|(cause, count)| (*count, Reverse(cause.clone())));
        let (cause, _) = most.expect("some are left");
        let has_it = |pair: &Pair| cause == Cause::Source(pair.source) || cause == Cause::Frame(pair.frame);
        let (taken, rest) = left.into_iter().partition(has_it);
        left = rest;
        groups.insert(cause, taken);
    }
    groups
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn causes_are_those_that_most_share(pairs in prop::collection::btree_set((1..=9, 1..=9), 0..60)) {
        let clips: Vec<_> = (1..=9).map(|n| clip(&format!("C{n}"), 1920, 1080)).collect();
        let frames: Vec<_> = (1..=9).map(|n| delivered(&format!("F{n}"), 1920, 1080)).collect();
        let pairs: Vec<Pair> =
            pairs.into_iter().map(|(source, frame)| Pair::new(SourceId::new(source), FrameId::new(frame))).collect();
        let cut = Finding::SubjectCut { shown: Exact::from(0_u32) };
        let found = pairs.iter().map(|pair| Affected { pair: *pair, finding: cut.clone(), accepted: None });
        let points = of(&clips, &frames).points_of(found);
        let groups: BTreeMap<Cause, Vec<Pair>> = points
            .into_iter()
            .map(|point| (point.cause, point.affected.iter().map(|each| each.pair).collect()))
            .collect();
        prop_assert_eq!(groups, counted_anew(pairs));
    }
}

fn some_project() -> impl Strategy<Value = Project> {
    let sides = || {
        prop::sample::select(vec![
            (1920_u32, 1080_u32),
            (720, 576),
            (1080, 1920),
            (3840, 2160),
            (5760, 2880),
            (1440, 1080),
        ])
    };
    let rates = || prop::sample::select(vec!["24", "25", "23.976", "30", "59.94"]);
    let source = (sides(), rates(), any::<[bool; 4]>(), prop::sample::select(vec!["1", "1.5", "2"]));
    let frame = (
        sides(),
        rates(),
        any::<bool>(),
        prop::sample::select(vec![Method::Fit, Method::Fill, Method::Native, Method::Stretch]),
    );
    (prop::collection::vec(source, 1..7), prop::collection::vec(frame, 1..5)).prop_map(|(sources, frames)| {
        let clips: Vec<_> = (0..)
            .zip(sources)
            .map(|(n, ((width, height), fps, [interlaced, full, sphere, turned], lens))| {
                let patch = SourcePatch {
                    rate: Some(Some(rate(fps))),
                    scan: Some(Some(if interlaced { Scan::Interlaced } else { Scan::Progressive })),
                    signal_range: Some(Some(if full { SignalRange::Full } else { SignalRange::Narrow })),
                    projection: Some(if sphere { Projection::Sphere } else { Projection::Flat }),
                    rotation: turned.then_some(Rotation::Quarter),
                    squeeze: Some(squeeze(lens)),
                    ..SourcePatch::default()
                };
                with(&clip(&format!("A{n:03}"), width, height), &patch)
            })
            .collect();
        let frames: Vec<_> = (0..)
            .zip(frames)
            .map(|(n, ((width, height), fps, sphere, method))| {
                let patch = FramePatch {
                    rate: Some(Some(rate(fps))),
                    projection: Some(if sphere { Projection::Sphere } else { Projection::Flat }),
                    method: Some(Some(method.into())),
                    through: Some((n == 2).then_some(FrameId::new(1))),
                    ..FramePatch::default()
                };
                framed(&delivered(&format!("F{n}"), width, height), &patch)
            })
            .collect();
        of(&clips, &frames)
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn every_finding_that_weighs_is_in_exactly_one_point(project in some_project()) {
        let mut weighing: Vec<(Pair, &'static str)> = Vec::new();
        for (pair, conversion) in project.board() {
            let heavy = conversion.findings.iter().filter(|finding| finding.weight() > Severity::Note);
            weighing.extend(heavy.map(|finding| (pair, finding.code())));
        }
        let mut pointed: Vec<(Pair, &'static str)> = Vec::new();
        let mut keys = std::collections::HashSet::new();
        for point in project.points() {
            prop_assert!(keys.insert(point.key()), "{} stands twice", point.key());
            prop_assert!(!point.title.contains('…') && !point.detail.contains('…'));
            pointed.extend(point.affected.iter().filter(|each| each.finding.weight() > Severity::Note).map(|each| (each.pair, point.code)));
        }
        weighing.sort_unstable();
        pointed.sort_unstable();
        prop_assert_eq!(weighing, pointed);
    }

    #[test]
    fn no_remedy_makes_any_conversion_worse(project in some_project()) {
        for point in project.points() {
            for remedy in project.remedies(&point) {
                let after = project.with(&project.apply(&remedy.edit).expect("a sound edit"));
                for (pair, before) in project.board() {
                    let now = after.conversion(pair).expect("it is still there");
                    prop_assert!(now.severity() <= before.severity(), "{} makes {:?} worse", remedy.words, pair);
                }
                for (pair, shown) in &remedy.after {
                    let now = after.conversion(*pair).expect("it is still there");
                    prop_assert_eq!(&now.findings, &shown.findings, "{} gives what it shows", remedy.words);
                }
            }
        }
    }
}

#[test]
fn tolerances_are_told_in_the_history() {
    let before = ProjectSettings::named(name("P"));
    let mut after = before.clone();
    after.tolerances.enlarged = Written::parse("1.25", Tolerance::parse).expect("a tolerance");
    after.tolerances.rates = vec![[rate("25"), rate("24")]];
    assert_eq!(after.words_since(&before), "enlarging needs no look up to 125 %, 25 fps into 24 fps is fine");
    assert_eq!(before.words_since(&after), "enlarging needs no look up to 110 %, fewer rates are fine");
}
