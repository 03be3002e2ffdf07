//! How files are made: what goes with what, levels, weights, and what is usual.

use proptest::prelude::*;
use ratiomet_core::file::*;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::*;
use ratiomet_core::recipe::Chroma;
use ratiomet_core::weight::{Kilobits, Megabits, Seconds, Weight};
use ratiomet_core::*;

use crate::clips::{clip, converted, delivered, framed, rate};

fn megabits(text: &str) -> Written<Megabits> {
    Written::parse(text, Megabits::parse).expect("a rate")
}

/// A file that goes by a bit rate.
fn streamed(codec: Codec, profile: &str, average: &str) -> FileParts {
    FileParts {
        container: Container::Mp4,
        codec,
        profile: profile.to_owned(),
        depth: 8,
        chroma: Chroma::Quarter,
        level: None,
        constant_quality: None,
        average: Some(megabits(average)),
        highest: None,
        keyframe_distance: None,
        sound: Sound::None,
    }
}

fn any_file() -> impl Strategy<Value = FileParts> {
    let sound = prop_oneof![
        Just(Sound::None),
        Just(Sound::AsSource),
        (0usize..2, 0u8..40, 0u32..4).prop_map(|(codec, bits, rate)| Sound::Coded {
            codec: SoundCodec::ALL[codec],
            rate: [32_000, 44_100, 48_000, 8_000][rate as usize],
            amount: if codec == 0 {
                SoundAmount::Sample(bits)
            } else {
                SoundAmount::Rate(Written::parse("192", Kilobits::parse).expect("a rate"))
            },
            channels: (bits % 2 == 0).then_some(bits),
        }),
    ];
    let rates = proptest::option::of(0u32..200);
    (0usize..4, 0usize..7, 0usize..8, 6u8..18, 0usize..3, proptest::option::of(0u8..80), rates.clone(), rates, sound)
        .prop_map(|(container, codec, profile, depth, chroma, quality, average, highest, sound)| {
            let codec = Codec::ALL[codec];
            let profile = codec.profiles().get(profile).map_or("none of them", |profile| profile.word);
            FileParts {
                container: Container::ALL[container],
                codec,
                profile: profile.to_owned(),
                depth: depth / 2 * 2,
                chroma: Chroma::ALL[chroma],
                level: None,
                constant_quality: quality,
                average: average.map(|rate| megabits(&rate.to_string())),
                highest: highest.map(|rate| megabits(&rate.to_string())),
                keyframe_distance: None,
                sound,
            }
        })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(2000))]

    // What is refused names a part and what would go; what is taken keeps its promises.
    #[test]
    fn a_file_is_one_that_can_be_made(parts in any_file()) {
        match FileSpec::new(parts.clone()) {
            Err(refusal) => prop_assert!(refusal.parameter().is_some() && !refusal.to_string().is_empty()),
            Ok(file) => {
                prop_assert!(parts.codec.containers().contains(&parts.container));
                prop_assert!(file.profile().depths.contains(&parts.depth));
                prop_assert!(file.profile().chromas.contains(&parts.chroma));
                prop_assert!(parts.constant_quality.is_none() || parts.average.is_none());
                let (rates, quality) = (parts.average.is_some(), parts.constant_quality.is_some());
                let chosen = match parts.codec.budget() {
                    Budget::Profile => !rates && !quality,
                    Budget::Rate => rates,
                    Budget::QualityOrRate { .. } => rates || quality,
                };
                prop_assert!(chosen);
                prop_assert_eq!(file.parts(), &parts);
            }
        }
    }

    // The level that is needed takes the file, and none below it does; no more is needed for a smaller load.
    #[test]
    fn the_level_needed_is_the_lowest_that_takes_it(
        (width, height) in (16u32..9000, 16u32..5000),
        fps in 1u32..121,
        megabit in 1u32..900,
        h265 in any::<bool>(),
    ) {
        let codec = if h265 { Codec::H265 } else { Codec::H264 };
        let parts = streamed(codec, "main", &megabit.to_string());
        let file = FileSpec::new(parts.clone()).expect("a file");
        let (raster, fps) = (Raster::new(width, height).expect("a raster"), rate(&fps.to_string()));
        let with = |level: &str| {
            FileSpec::new(FileParts { level: Some(level.to_owned()), ..parts.clone() }).expect("a level")
        };
        let names: Vec<_> = levels::names(codec).collect();
        let takes = |level: &&str| with(level).is_within_level(raster, Some(fps.value()));
        let needed = file.level_needed(raster, Some(fps.value()));
        prop_assert_eq!(names.iter().copied().find(|level| takes(level)), needed);
        prop_assert_eq!(file.is_within_level(raster, Some(fps.value())), needed.is_some());
        let place = |level: Option<&str>| level.and_then(|level| names.iter().position(|name| *name == level));
        let lighter = file.level_needed(raster, None);
        prop_assert!(needed.is_none() || place(lighter) <= place(needed));
    }
}

#[test]
fn refusals_say_what_would_be_right() {
    let plain = streamed(Codec::H264, "high", "12");
    let says = |parts: FileParts| FileSpec::new(parts).expect_err("refused").to_string();
    assert_eq!(
        says(FileParts { container: Container::Mxf, codec: Codec::H265, ..plain.clone() }),
        "mp4, mov or mkv for H.265"
    );
    assert_eq!(
        says(FileParts { profile: "main_10".into(), ..plain.clone() }),
        "main, high, high_10, high_422 or high_444 for H.264"
    );
    assert_eq!(says(FileParts { chroma: Chroma::Half, ..plain.clone() }), "4:2:0 for H.264 High");
    assert_eq!(
        says(FileParts { constant_quality: Some(18), ..plain.clone() }),
        "left out where there is a constant quality"
    );
    assert_eq!(
        says(FileParts { average: None, constant_quality: Some(52), ..plain.clone() }),
        "0, the best, to 51 for H.264"
    );
    assert_eq!(
        says(FileParts { highest: Some(megabits("11.9")), ..plain.clone() }),
        "a bit rate over 0 and no less than the average"
    );
    assert_eq!(says(FileParts { keyframe_distance: Some(0), ..plain.clone() }), "1 to 1000 frames");
    assert_eq!(
        says(FileParts { sound: Sound::AsSource, ..plain.clone() }),
        "coded anew, or none: mp4 does not hold every sound of a source"
    );
    let whole =
        FileParts { container: Container::Mxf, codec: Codec::Vc3, profile: "hq".into(), chroma: Chroma::Half, ..plain };
    assert_eq!(says(whole.clone()), "left out: the profile of VC-3 sets it");
    let sound = Sound::Coded { codec: SoundCodec::Pcm, rate: 44_100, amount: SoundAmount::Sample(16), channels: None };
    assert_eq!(says(FileParts { average: None, sound, ..whole }), "16 or 24 bits at 48000 samples a second in mxf");
}

// ITU-T H.264, Tables: 1080p at 25 needs level 4, whose 20 Mb/s High takes as 25; more needs 4.1
// (from memory). ITU-T H.265, Table A.9: UHD at 60 needs 5.1 with 40 Mb/s in the Main tier (from memory).
#[test]
fn bit_rates_count_for_the_level() {
    let needs = |parts: FileParts, raster: [u32; 2], fps: &str| {
        let file = FileSpec::new(parts).expect("a file");
        file.level_needed(Raster::new(raster[0], raster[1]).expect("a raster"), Some(rate(fps).value()))
    };
    let hd = [1920, 1080];
    assert_eq!(needs(streamed(Codec::H264, "main", "20"), hd, "25"), Some("4"));
    assert_eq!(needs(streamed(Codec::H264, "main", "20.1"), hd, "25"), Some("4.1"));
    assert_eq!(needs(streamed(Codec::H264, "high", "25"), hd, "25"), Some("4"));
    assert_eq!(needs(streamed(Codec::H264, "high", "25.1"), hd, "25"), Some("4.1"));
    let highest = FileParts { highest: Some(megabits("70")), ..streamed(Codec::H264, "high", "20") };
    assert_eq!(needs(highest, hd, "25"), Some("5"));
    assert_eq!(needs(streamed(Codec::H265, "main", "40"), [3840, 2160], "60"), Some("5.1"));
    assert_eq!(needs(streamed(Codec::H265, "main", "40.1"), [3840, 2160], "60"), Some("5.2"));
    // What no level of the Main tier takes, the High tier may.
    assert_eq!(needs(streamed(Codec::H265, "main", "300"), [3840, 2160], "60"), Some("6.1 high"));
    assert_eq!(needs(streamed(Codec::H265, "main", "900"), [3840, 2160], "60"), None);
}

#[test]
fn a_file_by_rate_weighs_what_the_calculation_says() {
    let raster = Raster::new(1920, 1080).expect("a raster");
    let sound = Sound::Coded {
        codec: SoundCodec::Aac,
        rate: 48_000,
        amount: SoundAmount::Rate(Written::parse("192", Kilobits::parse).expect("a rate")),
        channels: Some(2),
    };
    let file = FileSpec::new(FileParts { sound, ..streamed(Codec::H264, "high", "12.5") }).expect("a file");
    let seconds = Seconds::parse("91").expect("seconds");
    let weight = file.weight(raster, rate("25").value(), &seconds).expect("a weight");
    let (video, audio) = (Megabits::parse("12.5").expect("bits"), Kilobits::parse("192").expect("bits"));
    assert_eq!(weight.bytes, Weight::of(raster, rate("25").value(), &seconds, &video, &audio).bytes);
    assert_eq!(weight.to_string(), "144.37 MB");
    // A quality weighs what the picture asks for.
    let quality = FileParts { average: None, constant_quality: Some(18), ..streamed(Codec::H264, "high", "1") };
    assert_eq!(FileSpec::new(quality).expect("a file").weight(raster, rate("25").value(), &seconds), None);
}

#[test]
fn what_is_usual_fits_its_frame_and_is_never_over_its_level() {
    for (width, height) in
        [(1920, 1080), (3840, 2160), (1080, 1920), (720, 576), (2048, 858), (4096, 2160), (1081, 1081)]
    {
        for fps in [None, Some("24000/1001"), Some("25"), Some("60")] {
            let patch = FramePatch { rate: Some(fps.map(rate)), ..FramePatch::default() };
            let frame = framed(&delivered("F", width, height), &patch);
            let usual = Practice::of(&frame);
            assert!(width % 2 == 1 || usual.len() > 1, "{width}x{height}");
            for Practice { title, file } in usual {
                let raster = frame.geometry.frame().raster();
                assert!(file.is_within_level(raster, fps.map(rate).as_ref().map(Written::value)), "{title}");
                assert!(file.parts().chroma.misfits(frame.geometry.frame()).is_empty(), "{title}");
                let words = file.words();
                assert!(words.contains(file.parts().codec.title()), "{words}");
            }
        }
    }
}

#[test]
fn a_level_that_does_not_take_the_frame_is_a_point_with_a_remedy() {
    let low = FileParts { level: Some("4".into()), ..streamed(Codec::H264, "high", "12") };
    let file = FileSpec::new(low).expect("a file");
    let patch = FramePatch { file: Some(Some(file)), rate: Some(Some(rate("25"))), ..FramePatch::default() };
    let frame = framed(&delivered("F", 3840, 2160), &patch);
    let found = converted(&clip("A", 3840, 2160), &frame, &Choice::default(), Placing::By(Method::Fit)).findings;
    let over: Vec<_> = found.iter().filter(|finding| finding.code() == "over_level").collect();
    assert_eq!(over.len(), 1, "{found:?}");
    assert!(over[0].to_string().contains("level 4; its size, rate and bit rate need level 5.1"), "{}", over[0]);
    let mut project = Project::new(ProjectSettings::named(Name::new("P").expect("a name")));
    project.put_source(SourceId::new(1), Some(clip("A", 3840, 2160)));
    project.put_frame(FrameId::new(1), Some(frame));
    let point = project.points().into_iter().find(|point| point.code == "over_level").expect("a point");
    assert_eq!(point.title, "F is over H.264 level 4");
    let remedies = project.remedies(&point);
    assert_eq!(remedies.first().map(|remedy| remedy.words.as_str()), Some("Set level 5.1"));
    let after = project.with(&project.apply(&remedies[0].edit).expect("an edit"));
    assert!(after.points().iter().all(|point| point.code != "over_level"));
    // Without a level of its own the file takes the one that it needs.
    let open = FramePatch {
        file: Some(Some(FileSpec::new(streamed(Codec::H264, "high", "12")).expect("a file"))),
        ..FramePatch::default()
    };
    let after = project
        .with(&project.apply(&Edit::SetFrames { ids: vec![FrameId::new(1)], patch: Box::new(open) }).expect("an edit"));
    assert!(after.points().iter().all(|point| point.code != "over_level"));
}
