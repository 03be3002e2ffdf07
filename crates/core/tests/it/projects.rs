//! What a project adds to a plan: whose method counts, what differs, names made of numbers, words
//! for changes.

use proptest::prelude::*;
use ratiomet_core::cadence::Intent;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::*;
use ratiomet_core::signal::{Scan, SignalRange};
use ratiomet_core::*;

use crate::clips::{clip, converted, delivered, framed, name, rate, squeeze, with};

fn codes(conversion: &Conversion) -> Vec<&'static str> {
    conversion.findings.iter().map(Finding::code).collect()
}

#[test]
fn the_nearest_that_has_a_method_speaks() {
    let (own, follows) = (Choice::of(FramingSpec::of(Placing::By(Method::Native))), Choice::default());
    let case = |choice: &Choice, source, frame, expected: (Speaker, Placing)| {
        let clip = with(&clip("A", 1920, 1080), &SourcePatch { method: Some(source), ..SourcePatch::default() });
        let frame = framed(&delivered("F", 1080, 1920), &FramePatch { method: Some(frame), ..FramePatch::default() });
        let conversion = converted(&clip, &frame, choice, Placing::By(Method::Fit));
        assert_eq!((conversion.speaker, conversion.framing.method), expected);
    };
    case(
        &own,
        Some(Placing::By(Method::Width)),
        Some(Placing::By(Method::Fill)),
        (Speaker::Own, Placing::By(Method::Native)),
    );
    case(&own, None, None, (Speaker::Own, Placing::By(Method::Native)));
    case(
        &follows,
        Some(Placing::By(Method::Width)),
        Some(Placing::By(Method::Fill)),
        (Speaker::Source, Placing::By(Method::Width)),
    );
    case(&follows, Some(Placing::By(Method::Width)), None, (Speaker::Source, Placing::By(Method::Width)));
    case(&follows, None, Some(Placing::By(Method::Fill)), (Speaker::Frame, Placing::By(Method::Fill)));
    case(&follows, None, None, (Speaker::Board, Placing::By(Method::Fit)));
}

#[test]
fn rate_scan_and_range_are_found_by_the_project() {
    let frame = delivered("F", 1920, 1080);
    let case = |patch: SourcePatch, expected: &[&str]| {
        let found = codes(&converted(
            &with(&clip("A", 1920, 1080), &patch),
            &frame,
            &Choice::default(),
            Placing::By(Method::Fit),
        ));
        assert_eq!(found, expected, "{}", patch.words());
    };
    case(SourcePatch::default(), &[]);
    case(SourcePatch { rate: Some(Some(rate("50"))), ..SourcePatch::default() }, &[]);
    case(SourcePatch { rate: Some(Some(rate("23.976"))), ..SourcePatch::default() }, &["rate_mixed"]);
    case(SourcePatch { rate: Some(None), ..SourcePatch::default() }, &[]);
    let conformed =
        SourcePatch { rate: Some(Some(rate("120"))), playback: Some(Intent::EveryFrame), ..SourcePatch::default() };
    case(conformed, &[]);
    case(SourcePatch { scan: Some(Some(Scan::Interlaced)), ..SourcePatch::default() }, &["interlaced"]);
    case(SourcePatch { signal_range: Some(Some(SignalRange::Full)), ..SourcePatch::default() }, &["range"]);
    // Interlaced lines stay interlaced lines.
    let interlaced = framed(&frame, &FramePatch { scan: Some(Scan::Interlaced), ..FramePatch::default() });
    let tape =
        with(&clip("A", 1920, 1080), &SourcePatch { scan: Some(Some(Scan::Interlaced)), ..SourcePatch::default() });
    assert_eq!(codes(&converted(&tape, &interlaced, &Choice::default(), Placing::By(Method::Fit))), [""; 0]);
}

#[test]
fn a_mismatch_names_all_that_differs_and_nothing_else() {
    let uhd = delivered("UHD", 3840, 2160);
    let case = |clip: &Footage, frame: &Deliverable, expected: &[&str]| {
        let mismatch = Mismatch::of(clip, frame);
        assert_eq!(mismatch.words(), expected, "{}", clip.name.as_str());
        assert_eq!(mismatch.is_none(), expected.is_empty());
    };
    let plain = clip("plain", 3840, 2160);
    let set = |patch| with(&plain, &patch);
    case(&plain, &uhd, &[]);
    case(&clip("HD", 1920, 1080), &uhd, &["size"]);
    case(&clip("open gate", 4608, 3164), &uhd, &["size", "ratio"]);
    case(&clip("upright", 2160, 3840), &uhd, &["size", "ratio", "orientation"]);
    // Stored sideways, but it stands as the frame lies once it is turned.
    let turned = SourcePatch { rotation: Some(Rotation::new(90).expect("a turn")), ..SourcePatch::default() };
    case(&with(&clip("sideways", 2160, 3840), &turned), &uhd, &[]);
    case(&set(turned), &uhd, &["size", "ratio", "orientation"]);
    // 1.5 times as wide: another ratio, and pixels of another shape.
    case(
        &set(SourcePatch { squeeze: Some(squeeze("1.5")), ..SourcePatch::default() }),
        &uhd,
        &["size", "ratio", "pixel shape"],
    );
    // 2880 by 2160 squeezed 4:3 is seen as UHD, from other pixels.
    let narrow =
        with(&clip("narrow", 2880, 2160), &SourcePatch { squeeze: Some(squeeze("4:3")), ..SourcePatch::default() });
    case(&narrow, &uhd, &["pixel shape"]);
    case(&set(SourcePatch { rate: Some(Some(rate("24"))), ..SourcePatch::default() }), &uhd, &["rate"]);
    case(&set(SourcePatch { rate: Some(None), ..SourcePatch::default() }), &uhd, &[]);
    case(&set(SourcePatch { scan: Some(Some(Scan::Interlaced)), ..SourcePatch::default() }), &uhd, &["scan"]);
    case(
        &set(SourcePatch { signal_range: Some(Some(SignalRange::Full)), ..SourcePatch::default() }),
        &uhd,
        &["signal range"],
    );
    // A border makes it smaller and, here, narrower.
    case(&set(SourcePatch::insets(Insets { left: 10, ..Insets::default() })), &uhd, &["size", "ratio"]);
    // A masked frame is measured by its picture.
    let ratio = Written::parse("2", DisplayRatio::parse).expect("a ratio");
    let masked =
        framed(&delivered("HD", 1920, 1080), &FramePatch { picture_ratio: Some(Some(ratio)), ..FramePatch::default() });
    case(&clip("2.00", 1920, 960), &masked, &[]);
}

#[test]
fn remedies_are_one_for_each_trouble() {
    let hd = delivered("HD", 1920, 1080);
    let remedy = |clip: &Footage, frame: &Deliverable| {
        Remedy::of(clip, frame, &converted(clip, frame, &Choice::default(), Placing::By(Method::Fit)))
    };
    assert_eq!(remedy(&clip("same", 1920, 1080), &hd), None);
    let sideways = clip("phone", 1920, 1080);
    let upright = delivered("Story", 1080, 1920);
    assert_eq!(remedy(&sideways, &upright), Some(Remedy::Turn));
    // What somebody has turned already is left as it is.
    let turned = SourcePatch { rotation: Some(Rotation::new(180).expect("a turn")), ..SourcePatch::default() };
    assert_eq!(remedy(&with(&sideways, &turned), &upright), Some(Remedy::Fill));
    assert_eq!(remedy(&clip("scope", 4096, 1716), &hd), Some(Remedy::Fill));
    let fast = SourcePatch { rate: Some(Some(rate("59.94"))), ..SourcePatch::default() };
    assert_eq!(remedy(&with(&clip("fast", 1920, 1080), &fast), &hd), Some(Remedy::EveryFrame));
}

#[test]
fn kinds_are_worded_by_what_is_not_plain() {
    let case = |patch: SourcePatch, expected: &str| {
        assert_eq!(Alike::of(&with(&clip("A", 5120, 2700), &patch)).words(), expected);
    };
    case(SourcePatch::default(), "5120×2700 25 fps");
    case(SourcePatch { rate: Some(Some(rate("23.98"))), ..SourcePatch::default() }, "5120×2700 23.976 fps");
    let aspect = Written::parse("12:11", PixelAspect::parse).expect("a shape");
    case(SourcePatch { pixel_aspect: Some(aspect), ..SourcePatch::default() }, "5120×2700 pixels 12:11 25 fps");
    let all = SourcePatch {
        squeeze: Some(squeeze("9:5")),
        rotation: Some(Rotation::new(180).expect("a turn")),
        insets: [Some(8), Some(0), Some(0), Some(4)],
        rate: Some(None),
        scan: Some(Some(Scan::Interlaced)),
        signal_range: Some(Some(SignalRange::Full)),
        playback: Some(Intent::EveryFrame),
        ..SourcePatch::default()
    };
    case(all, "5120×2700 squeezed 1.8× insets 8/0/0/4 rotated 180° interlaced full range plays every frame");
}

/// A bin of a few kinds, many of each.
fn bin() -> impl Strategy<Value = Vec<Footage>> {
    let kinds = prop::sample::select(
        &[(1920, 1080, "25", "1"), (1920, 1080, "25", "2"), (3840, 2160, "24", "1"), (2160, 3840, "30", "1")][..],
    );
    prop::collection::vec((kinds, 0_u32..1_000), 0..40).prop_map(|drawn| {
        let clip = |((width, height, at, lens), number): ((u32, u32, &str, &str), u32)| {
            let patch =
                SourcePatch { rate: Some(Some(rate(at))), squeeze: Some(squeeze(lens)), ..SourcePatch::default() };
            with(&clip(&format!("C{number:03}"), width, height), &patch)
        };
        drawn.into_iter().map(clip).collect()
    })
}

/// How clips suit a frame.
fn suits(clips: &[Footage]) -> (Project, Bin) {
    let mut project =
        Project::new(ProjectSettings { method: Placing::By(Method::Fit), ..ProjectSettings::named(name("P")) });
    for (number, clip) in (1..).zip(clips) {
        project.put_source(SourceId::new(number), Some(clip.clone()));
    }
    project.put_frame(FrameId::new(1), Some(delivered("F", 1920, 1080)));
    let bin = project.bin(FrameId::new(1)).expect("the frame is there");
    (project, bin)
}

/// The groups with the names of their clips.
fn grouped(clips: &[Footage]) -> Vec<(String, Vec<String>)> {
    let (project, bin) = suits(clips);
    let name = |id: &SourceId| project.source(*id).expect("a source").name.as_str().to_owned();
    bin.groups.iter().map(|group| (group.kind.words(), group.sources.iter().map(name).collect())).collect()
}

proptest! {
    #[test]
    fn grouping_does_not_depend_on_when_footage_was_added((sorted, shuffled) in bin().prop_flat_map(|clips| (Just(clips.clone()), Just(clips).prop_shuffle()))) {
        prop_assert_eq!(grouped(&sorted), grouped(&shuffled));
    }

    #[test]
    fn every_clip_is_in_one_group_and_the_largest_is_first(clips in bin()) {
        let (project, bin) = suits(&clips);
        let mut members: Vec<_> = bin.groups.iter().flat_map(|group| group.sources.clone()).collect();
        members.sort_unstable();
        prop_assert_eq!(members, project.sources().map(|(id, _)| id).collect::<Vec<_>>());
        prop_assert!(bin.groups.windows(2).all(|pair| pair[0].sources.len() >= pair[1].sources.len()));
        for group in &bin.groups {
            prop_assert!(group.sources.iter().all(|id| Alike::of(project.source(*id).expect("a source")) == group.kind));
            prop_assert_eq!(group.clean + group.caution + group.stop, group.sources.len());
        }
        let matching = bin.groups.iter().filter(|group| group.mismatch.is_none()).map(|group| group.sources.len());
        prop_assert_eq!(bin.matching, matching.sum::<usize>());
    }

    #[test]
    fn a_patch_between_two_clips_makes_one_of_the_other(before in bin(), after in bin()) {
        for (before, after) in before.iter().zip(&after) {
            prop_assert_eq!(&SourcePatch::between(before, after).apply(before).expect("sound"), after);
        }
    }

    #[test]
    fn turning_twice_gives_the_frame_again(frame in crate::inputs::frame(), ratio in prop::option::of(prop::sample::select(&["2", "2.39", "16:9", "1/2", "1.8:1", "1:2.00"][..]))) {
        let raster = frame.raster();
        let ratio = ratio.map(|text| Written::parse(text, DisplayRatio::parse).expect("a ratio"));
        let aspect = Written::parse("12:11", PixelAspect::parse).expect("a shape");
        let Ok(geometry) = FrameSpec::new(raster, aspect, ratio, frame.step()) else { return Ok(()) };
        let first = Deliverable { geometry, ..delivered("F", 16, 9) };
        let Ok(turned) = first.turned() else { return Ok(()) };
        let shape = turned.geometry.frame();
        prop_assert_eq!((shape.raster().width(), shape.raster().height()), (raster.height(), raster.width()));
        // The ratio as seen is upside down, and so is that of the picture.
        prop_assert_eq!(shape.ratio() * first.geometry.frame().ratio(), Exact::ONE);
        let again = turned.turned().expect("it came from there");
        prop_assert_eq!(again.geometry.frame(), first.geometry.frame());
    }
}

#[test]
fn names_are_made_of_the_numbers() {
    let case = |frame: &Deliverable, expected: &str| assert_eq!(frame.proposed_name().as_str(), expected);
    let at = |frame: &Deliverable, text: &str| {
        framed(frame, &FramePatch { rate: Some(Some(rate(text))), ..FramePatch::default() })
    };
    let open = |frame: &Deliverable| framed(frame, &FramePatch { rate: Some(None), ..FramePatch::default() });
    let uhd = delivered("x", 3840, 2160);
    case(&at(&uhd, "23.98"), "UHD 23.976");
    case(&at(&uhd.turned().expect("it turns"), "24000/1001"), "UHD upright 23.976");
    case(&open(&uhd), "UHD");
    case(&at(&delivered("x", 1234, 568), "25"), "1234x568 25");
    let ratio = Written::parse("2.00", DisplayRatio::parse).expect("a ratio");
    let tape = FramePatch { picture_ratio: Some(Some(ratio)), scan: Some(Scan::Interlaced), ..FramePatch::default() };
    case(&framed(&delivered("x", 1920, 1080), &tape), "HD with 2.00 25i");
    case(
        &framed(&uhd, &FramePatch { signal_range: Some(SignalRange::Full), ..FramePatch::default() }),
        "UHD 25 full range",
    );
}

#[test]
fn a_frame_as_the_footage_shows_all_of_it_upright() {
    let lens = SourcePatch {
        squeeze: Some(squeeze("1.8")),
        rotation: Some(Rotation::new(90).expect("a turn")),
        ..SourcePatch::default()
    };
    let footage = with(&clip("A", 3840, 2160), &lens);
    let frame = Deliverable::as_footage(&footage).expect("a frame");
    let raster = frame.geometry.frame().raster();
    assert_eq!((raster.width(), raster.height()), (2160, 6912));
    assert_eq!(frame.rate, footage.rate);
    // The clip goes into it without loss, bars or distortion.
    let plan = converted(&footage, &frame, &Choice::default(), Placing::By(Method::Fit)).plan;
    assert_eq!((plan.kept, plan.covered, plan.distortion), (Exact::ONE, Exact::ONE, Exact::ZERO));
    let wide = SourcePatch { squeeze: Some(squeeze("10")), ..SourcePatch::default() };
    assert!(Deliverable::as_footage(&with(&clip("B", 65_000, 100), &wide)).expect_err("too wide").is_too_large());
}

#[test]
fn a_source_by_itself_is_round_and_without_bars_at_any_size() {
    let lens = SourcePatch {
        squeeze: Some(squeeze("1.3")),
        rotation: Some(Rotation::new(90).expect("a turn")),
        insets: [Some(10), None, None, Some(6)],
        ..SourcePatch::default()
    };
    let footage = with(&clip("A", 1920, 1080), &lens);
    // 1910 x 1074 upright: 1074 x 2483.
    for (percent, sides) in [(10, (108, 248)), (50, (538, 1242)), (100, (1074, 2484)), (400, (4296, 9932))] {
        let size = OwnSize::new(percent).expect("a size");
        let Alone { frame, plan } = Alone::of(&footage, size).expect("a frame");
        let raster = frame.geometry.frame().raster();
        assert_eq!((raster.width(), raster.height()), sides, "{percent} %");
        assert_eq!((plan.covered, plan.distortion), (Exact::ONE, Exact::ZERO), "{percent} %");
        assert!(plan.kept > Exact::fraction(99, 100), "{percent} %: {}", plan.kept);
    }
    for percent in [0, 9, 401] {
        assert!(OwnSize::new(percent).expect_err("no size").is_range(), "{percent} %");
    }
    let twice = OwnSize::new(200).expect("a size");
    assert!(Alone::of(&clip("B", 40_000, 100), twice).expect_err("too wide").is_too_large());
    let smallest = OwnSize::new(10).expect("a size");
    assert!(Alone::of(&clip("C", 2, 2), smallest).is_ok(), "at least two pixels");
}

#[test]
fn a_large_package_gives_the_same_as_a_small_one_and_ends_when_told() {
    let mut project = Project::new(ProjectSettings::named(name("P")));
    let sources = 2_001;
    for number in 1..=sources {
        let width = 1280 + 2 * (u32::try_from(number).expect("few") % 900);
        project.put_source(SourceId::new(number), Some(clip(&format!("S{number}"), width, 1080)));
    }
    for number in 1..=10 {
        let height = 2 * (300 + 40 * u32::try_from(number).expect("few"));
        project.put_frame(FrameId::new(sources + number), Some(delivered(&format!("F{number}"), 1920, height)));
    }
    let all = Selection::default();
    let large = Package::of(&project, "2026-11-26", &all, || true).expect("not stopped");
    assert_eq!((large.count(), large.conversions().count()), (20_010, 20_010));
    let told = |packaged: &Packaged| format!("{packaged:?}");
    let some = Selection { sources: [1, 7, 1999].map(SourceId::new).to_vec(), ..Selection::default() };
    let small = Package::of(&project, "2026-11-26", &some, || true).expect("not stopped");
    for (place, at) in [(0, 0), (1, 6), (2, 1998)] {
        let (few, same) = (small.of_source(place), large.of_source(at));
        assert_eq!((few.len(), same.len()), (10, 10));
        for (one, other) in few.iter().zip(same.iter()) {
            // Of sources that are stored alike it is worked out once.
            let recipes = [small.recipe(one), large.recipe(other)].map(|recipe| format!("{recipe:?}"));
            assert_eq!(recipes[0], recipes[1]);
            let mut other = other.clone();
            other.source = place;
            assert_eq!(told(one), told(&other));
        }
    }
    let names = |packaged: &Packaged| (large.source_of(packaged).name.clone(), large.frame_of(packaged).name.clone());
    assert!(large.each(names, |all| all.eq(large.conversions().map(|packaged| names(&packaged)))));
    // One after the other they are in the order of the board.
    for (packaged, (pair, conversion)) in large.conversions().zip(project.board()).step_by(997) {
        assert_eq!(large.pair(&packaged), pair);
        assert_eq!(format!("{:?}", packaged.conversion), format!("{conversion:?}"));
    }
    let points = |package: &Package<'_>| package.points.iter().map(|point| point.affected.len()).sum::<usize>();
    assert!(points(&large) > points(&small), "{}", points(&large));
    let asked = std::sync::atomic::AtomicUsize::new(0);
    let stopped =
        Package::of(&project, "2026-11-26", &all, || asked.fetch_add(1, std::sync::atomic::Ordering::Relaxed) < 700);
    assert!(stopped.is_none() && asked.into_inner() < 1_000, "it ends soon");
}

#[test]
fn changes_are_told_in_words() {
    let patch = SourcePatch {
        squeeze: Some(squeeze("2")),
        rotation: Some(Rotation::new(90).expect("a turn")),
        insets: [Some(8), None, None, Some(0)],
        rate: Some(Some(rate("29.97"))),
        scan: Some(Some(Scan::Interlaced)),
        method: Some(None),
        ..SourcePatch::default()
    };
    assert_eq!(patch.words(), "squeeze 2, insets 8/·/·/0, rotate 90°, rate 29.97, interlaced, follow the frame");
    let patch = FramePatch {
        step: Some(Step::Sixteen),
        rate: Some(None),
        method: Some(Some(Placing::By(Method::Fill))),
        ..FramePatch::default()
    };
    assert_eq!(patch.words(), "step 16, no rate, method fill");
    let zoom = Written::parse("1.1", Zoom::parse).expect("a zoom");
    let patch = FramingPatch { zoom: Some(zoom), ..FramingPatch::default() };
    assert_eq!(patch.words(), "zoom 1.1");
    // A part that is not given stays as it was.
    let before = FramingSpec::of(Placing::By(Method::Height));
    assert_eq!(patch.apply(&before).method, Placing::By(Method::Height));
    let before = ProjectSettings { method: Placing::By(Method::Fit), ..ProjectSettings::named(name("A")) };
    let after = ProjectSettings { method: Placing::By(Method::Fill), ..ProjectSettings::named(name("B")) };
    assert_eq!(after.words_since(&before), "method fill, rename the project to B");
}

#[test]
fn a_project_says_when_it_is_full() {
    let empty = Project::new(ProjectSettings::named(name("P")));
    let room = |project: &Project, sources, frames| project.has_room(sources, frames).map_err(|full| full.to_string());
    assert_eq!(room(&empty, Project::MOST_SOURCES, 12), Ok(()));
    assert!(room(&empty, Project::MOST_SOURCES + 1, 1).is_err_and(|why| why.contains("at most 25000 sources")));
    assert!(room(&empty, 1, 1_001).is_err_and(|why| why.contains("at most 1000 frames")));
    assert!(room(&empty, 1_000, 301).is_err_and(|why| why.contains("at most 300000 conversions")));
    let mut full = empty;
    for id in 1..=1_000 {
        full.put_frame(FrameId::new(id), Some(delivered("F", 1920, 1080)));
    }
    let more = Edit::AddFrames(vec![delivered("G", 1920, 1080)]);
    assert!(matches!(full.apply(&more), Err(EditError::Full { what: "frames", .. })));
    // What is full can still be changed, and made smaller.
    let shorter = Edit::Delete { sources: Vec::new(), frames: vec![FrameId::new(1)] };
    let smaller = full.with(&full.apply(&shorter).expect("sound"));
    assert!(smaller.apply(&more).is_ok());
}
