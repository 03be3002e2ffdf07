//! Files of projects and libraries: they come back exactly, or are refused with the reason.

use proptest::prelude::*;
use ratiomet_core::Finding;
use ratiomet_core::cadence::Intent;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::*;
use ratiomet_core::signal::{Scan, SignalRange};
use ratiomet_exchange::{library_file, project_file};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::ConversionResource;
use serde_json::{Value, json};

fn text(document: &impl serde::Serialize) -> String {
    serde_json::to_string_pretty(document).expect("JSON")
}

fn refusals(problem: &Problem) -> Vec<String> {
    problem.errors.iter().map(|error| format!("{}: {}", error.pointer, error.detail)).collect()
}

fn project(text: &str) -> Result<Project, Vec<String>> {
    project_file::read(text.as_bytes()).map_err(|problem| refusals(&problem))
}

/// Numbers as people write them, with the digits that they give.
fn written(choices: &'static [&'static str]) -> impl Strategy<Value = String> {
    prop::sample::select(choices).prop_map(str::to_owned)
}

fn word(text: &'static str) -> impl Strategy<Value = String> {
    proptest::string::string_regex(text).expect("an expression")
}

/// Some were read from a file, which said other things than what was typed since.
fn lens_origin(lens: &str) -> Value {
    let said =
        json!([{ "of": "squeeze", "value": "1.3", "by": "a lens" }, { "of": "rate", "value": "25", "by": "stts" }]);
    if lens.starts_with('1') { json!({ "file": "day 1/A014 ä.mov", "said": said }) } else { json!(null) }
}

fn source() -> impl Strategy<Value = Value> {
    let raster = (16_u32..8_000, 16_u32..8_000);
    let insets = (0_u32..7, 0_u32..7, 0_u32..7, 0_u32..7);
    let pixel = written(&["1", "12:11", "40:33", "1.0950", "4/3", "0.1", "1.00"]);
    let lens = written(&["1", "2", "1.33", "9:5", "1.80", "5/3", "10"]);
    let rate = prop::option::of(written(&["24", "23.976", "24000/1001", "29.97", "25.00", "59.94", "119.88", "12.5"]));
    let words = (
        prop::option::of(prop::sample::select(&["progressive", "interlaced"][..])),
        prop::option::of(prop::sample::select(&["narrow", "full"][..])),
        prop::sample::select(&["real_time", "every_frame"][..]),
        prop::option::of(prop::sample::select(&["fit", "fill", "native", "subject"][..])),
        prop::option::of((
            written(&["0", "0.25", "1/3"]),
            written(&["0", "0.10"]),
            written(&["0.5", "1/8", "0.250"]),
            written(&["0.9", "2/3"]),
        )),
        prop::option::of(prop::sample::select(
            &[
                ["360", "180", "mono", "left_first"],
                ["360", "180", "top_bottom", "right_first"],
                ["180", "180", "side_by_side", "left_first"],
                ["200.5", "100", "side_by_side", "right_first"],
            ][..],
        )),
    );
    let turn = prop::sample::select(&[0, 90, 180, 270][..]);
    (
        word("[A-Za-z0-9=@+-][A-Za-z0-9 äß,;\"']{0,18}[a-z]"),
        word("[a-z,;\" ]{0,20}"),
        raster,
        insets,
        pixel,
        lens,
        rate,
        words,
        turn,
    )
        .prop_map(
            |(
                name,
                note,
                (w, h),
                (left, top, right, bottom),
                pixel,
                lens,
                rate,
                (scan, range, playback, method, subject, sphere),
                turn,
            )| {
                let subject = subject.map(|(x, y, width, height)| json!({ "x": x, "y": y, "width": width, "height": height }));
                let form = |[across, up, layout, eyes]: [&str; 4]| json!({ "span": [across, up], "layout": layout, "eyes": eyes });
                json!({
                    "projection": if sphere.is_some() { "sphere" } else { "flat" }, "sphere": sphere.map_or(json!({}), form),
                    "turn": sphere.map_or(json!({}), |_| json!({ "yaw": "12.5", "pitch": "-3", "roll": "1/3" })),
                    "subject": subject, "name": name, "note": note.trim(), "rate": rate, "scan": scan, "signal_range": range,
                    "playback": playback, "method": method,
                    "origin": lens_origin(&lens),
                    "geometry": { "raster": [w, h], "pixel_aspect": pixel, "squeeze": lens, "rotation": turn,
                                  "active": { "left": left, "top": top, "right": right, "bottom": bottom } },
                })
            },
        )
}

fn frame() -> impl Strategy<Value = Value> {
    let raster = (200_u32..5_000, 200_u32..5_000);
    let picture = prop::option::of(written(&["2", "2.39", "16:9", "1.90", "1:1"]));
    let step = prop::sample::select(&[1, 2, 4, 8, 16][..]);
    let rate = prop::option::of(written(&["24", "23.976", "25", "30000/1001"]));
    let method = prop::option::of(prop::sample::select(&["fit", "fill", "stretch", "subject"][..]));
    let safe = prop::collection::vec(written(&["ebu_r95", "smpte_st2046_1", "80", "92.5"]), 0..3);
    let guides = prop::collection::vec(written(&["1.85", "4:5", "2.390"]), 0..3);
    let through = prop::option::of(prop::sample::select(&[1, 3, 5, 99][..]));
    let help = (safe, guides, through);
    (word("[A-Za-z0-9 ]{0,18}[a-z]"), raster, picture, step, rate, method, help).prop_map(
        |(name, (w, h), picture, step, rate, method, (safe, guides, through))| {
            json!({
                "name": name, "rate": rate, "method": method,
                "safe_areas": safe, "guides": guides, "through": through,
                "geometry": { "raster": [w, h], "picture_ratio": picture, "step": step },
            })
        },
    )
}

fn framing() -> impl Strategy<Value = Value> {
    let method = prop::sample::select(&["fit", "fill", "width", "height", "native", "stretch", "subject"][..]);
    let zoom = written(&["1", "1.10", "3/4", "2", "1000/999"]);
    let shift = || written(&["0", "-90", "12.50", "1/3", "-2000"]);
    (method, zoom, shift(), shift())
        .prop_map(|(method, zoom, x, y)| json!({ "method": method, "zoom": zoom, "shift": [x, y] }))
}

/// What a conversion adds: a framing, pins, findings that were accepted.
fn added() -> impl Strategy<Value = Value> {
    let reason = word("[A-Za-z][a-z ]{0,20}[a-z]");
    let accepted = prop::collection::vec((prop::sample::select(&Finding::CODES[..]), reason), 0..3);
    (prop::option::of(framing()), prop::collection::vec(framing(), 0..3), accepted).prop_map(|(own, pins, accepted)| {
        let mut seen = std::collections::HashSet::new();
        let accepted: Vec<_> = accepted
            .into_iter()
            .filter(|(code, _)| seen.insert(*code))
            .map(|(code, reason)| json!({ "code": code, "reason": reason, "numbers": { "percent": "12.5" } }))
            .collect();
        json!({ "own": own, "pins": pins, "accepted": accepted })
    })
}

/// The file of a project that people could have made.
fn file() -> impl Strategy<Value = Value> {
    let parts = (prop::collection::vec(source(), 0..6), prop::collection::vec(frame(), 0..4));
    (parts, prop::sample::select(&["fit", "fill", "width"][..])).prop_flat_map(|((sources, frames), method)| {
        let (many_sources, many_frames) = (sources.len(), frames.len());
        let pair = (0..many_sources.max(1), 0..many_frames.max(1), added());
        let conversions = prop::collection::vec(pair, 0..8);
        (Just((sources, frames)), conversions).prop_map(move |((sources, frames), drawn)| {
            let mut seen = std::collections::HashSet::new();
            let sound = |source: usize, frame: usize| source < many_sources && frame < many_frames;
            let conversions: Vec<_> = drawn
                .into_iter()
                .filter(|(source, frame, _)| sound(*source, *frame) && seen.insert((*source, *frame)))
                .map(|(source, frame, mut adds)| {
                    adds["source"] = json!(source * 3 + 5);
                    adds["frame"] = json!(frame * 2 + 1);
                    adds
                })
                .collect();
            let numbered = |list: Vec<Value>, step: usize, first: usize| -> Vec<Value> {
                list.into_iter()
                    .enumerate()
                    .map(|(at, values)| json!({ "id": at * step + first, "values": values }))
                    .collect()
            };
            json!({
                "format": "ratiomet project", "format_version": 2,
                "project": { "name": "The Kiln", "method": method },
                "sources": numbered(sources, 3, 5), "frames": numbered(frames, 2, 1), "conversions": conversions,
            })
        })
    })
}

/// What such a file holds; files whose bars leave no picture are left out.
pub fn contents() -> impl Strategy<Value = Project> {
    file().prop_filter_map("a picture is left", |file| project(&file.to_string()).ok())
}

/// Every conversion of a project, in full, as the API gives them.
fn plans(project: &Project) -> Vec<String> {
    let plan = |(pair, conversion): (Pair, Conversion)| {
        let frame = project.frame(pair.frame).expect("a frame").geometry.frame();
        let rests = project.rests(pair, &conversion.placed).expect("rests");
        text(&ConversionResource::new(pair, 1, &project.choice(pair), conversion, frame, rests))
    };
    project.board().map(plan).collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    #[test]
    fn an_imported_export_gives_the_same_plans_bit_for_bit(contents in contents()) {
        let exported = project_file::write(&contents);
        let imported = project(&exported).expect("what was exported can be imported");
        prop_assert_eq!(plans(&imported), plans(&contents));
        // Not only the plans: every word and every spelling, and the file itself.
        prop_assert_eq!(&imported, &contents);
        prop_assert_eq!(project_file::write(&imported), exported);
    }

    #[test]
    fn a_truncated_file_is_refused_as_a_whole(contents in contents(), cut in 2_usize..10_000) {
        let exported = project_file::write(&contents);
        let mut end = exported.len().saturating_sub(cut % exported.len()).max(2) - 2;
        while !exported.is_char_boundary(end) { end -= 1; }
        let problem = project_file::read(&exported.as_bytes()[..end]).expect_err("truncated");
        prop_assert_eq!(problem.status, 400);
    }

    #[test]
    fn a_library_comes_back_exactly(frames in prop::collection::vec(frame(), 0..5), insets in prop::collection::vec((100_u32..5_000, 100_u32..5_000, 0_u32..40, any::<bool>()), 0..5)) {
        let pictures: Vec<_> = insets.into_iter().map(|(w, h, left, keep)| json!({ "name": format!("R{left}"), "raster": [w, h], "insets": { "left": left }, "keep_ratio": keep }))
            .chain([json!({ "name": "4:3 guide", "guide": "4:3" })]).collect();
        let frames: Vec<_> = frames.into_iter().map(|frame| json!({ "group": "House", "frame": frame })).collect();
        let file = json!({ "format": "ratiomet library", "format_version": 1, "frames": frames, "active_pictures": pictures });
        // A picture ratio that leaves nothing, or a raster that holds no smaller one of its ratio, is no library.
        let Ok(library) = library_file::read(file.to_string().as_bytes()) else { return Ok(()) };
        let exported = library_file::write(&library);
        let again = library_file::read(exported.as_bytes()).expect("it comes back");
        prop_assert_eq!(&again, &library);
        prop_assert_eq!(library_file::write(&again), exported);
    }
}

fn sound() -> Value {
    json!({
        "format": "ratiomet project", "format_version": 9,
        "project": { "name": "A", "method": "fill" },
        "sources": [{ "id": 1, "values": { "name": "S", "geometry": { "raster": [16, 9] } } }],
        "frames": [{ "id": 1, "values": { "name": "F", "geometry": { "raster": [16, 9] } } }],
        "conversions": [{ "source": 1, "frame": 1, "own": { "method": "fit" } }],
    })
}

/// The sound file with one value changed.
#[track_caller]
fn refused(pointer: &str, value: Value, at: &str, says: &str) {
    let mut file = sound();
    match file.pointer_mut(pointer) {
        Some(place) => *place = value,
        None => {
            let (parent, name) = pointer.rsplit_once('/').expect("a pointer");
            file.pointer_mut(parent).expect("a parent")[name] = value;
        }
    }
    let errors = project(&file.to_string()).expect_err("refused");
    assert!(
        errors.iter().any(|error| error.starts_with(&format!("{at}: ")) && error.contains(says)),
        "{pointer} gives {errors:?}"
    );
}

#[test]
fn a_file_that_is_not_sound_says_where_and_why() {
    assert!(project(&sound().to_string()).is_ok());
    refused("/format", json!("ratiomet library"), "/format", "ratiomet project");
    refused("/format_version", json!(10), "/format_version", "written by a newer version of Ratiomet");
    refused("/format_version", json!(0), "/format_version", "from 1 to 9");
    refused("/colour", json!("red"), "/colour", "the fields here are");
    refused("/sources/0/values/colour", json!("red"), "/sources/0/values/colour", "the fields here are");
    refused("/sources/0/shape", json!({}), "/sources/0/shape", "the fields here are");
    refused("/conversions/0/source", json!(9), "/conversions/0/source", "source");
    refused("/conversions/0/frame", json!(-1), "/conversions/0/frame", "");
    refused("/conversions/0/own", json!(7), "/conversions/0/own", "");
    refused("/conversions/0/pins", json!([{}, { "zoom": "0" }]), "/conversions/0/pins/1/zoom", "from 1/1000");
    let twice =
        json!([{ "code": "bars", "reason": "a", "numbers": {} }, { "code": "bars", "reason": "c", "numbers": {} }]);
    refused("/conversions/0/accepted", twice, "/conversions/0/accepted", "each code of accepted findings once");
    refused(
        "/sources/0/values/subject",
        json!({ "x": "0.5", "y": "0", "width": "0.6", "height": "1" }),
        "/sources/0/values/subject/width",
        "inside the picture",
    );
    refused("/frames/0/values/safe_areas", json!(["ebu"]), "/frames/0/values/safe_areas/0", "percentage");
    refused("/sources", json!({}), "/sources", "array");
    refused("/project", json!([]), "/project", "");
    let twin = json!([sound()["sources"][0], sound()["sources"][0]]);
    refused("/sources", twin, "/sources/1/id", "1 is given twice");
    // Working frames that are made of each other.
    let frame = |id: i32, through: i32| json!({ "id": id, "values": { "name": "F", "geometry": { "raster": [16, 9] }, "through": through } });
    let frames = json!([frame(1, 1)]);
    refused("/frames", frames, "/frames/0/values/through", "cannot be made from itself");
    let frames = json!([sound()["frames"][0], frame(7, 8), frame(8, 7)]);
    refused("/frames", frames, "/frames/1/values/through", "made from this frame");
    let twin = json!([sound()["conversions"][0], sound()["conversions"][0]]);
    refused("/conversions", twin, "/conversions/1", "is listed twice");
    refused(
        "/sources/0/values/geometry/raster",
        json!([0, 9]),
        "/sources/0/values/geometry/raster/0",
        "from 1 to 65536",
    );
}

#[test]
fn hostile_files_are_refused_without_harm() {
    let deep = format!("{}{}", "[".repeat(200_000), "]".repeat(200_000));
    let nested = format!("{}1{}", "{\"sources\":".repeat(100_000), "}".repeat(100_000));
    for file in [
        deep.clone(),
        nested,
        format!("{{\"format\":{deep}}}"),
        format!(
            "{{\"format\":\"ratiomet project\",\"format_version\":2,\"project\":{{\"name\":\"A\"}},\"sources\":{deep}}}"
        ),
    ] {
        let problem = project_file::read(file.as_bytes()).expect_err("hostile");
        assert!(matches!(problem.status, 400 | 422), "{}", problem.status);
    }
    // A key given twice is seen, wherever it is.
    let twice = sound().to_string().replacen("\"name\":\"S\"", "\"name\":\"S\",\"name\":\"T\"", 1);
    let problem = project_file::read(twice.as_bytes()).expect_err("twice");
    assert_eq!(problem.errors[0].pointer, "/sources/0/values/name");
    // In files of earlier versions too, which are brought up before they are read.
    for version in [1, 2, 3, 4, 5, 6, 7, 8] {
        let old = twice.replacen("\"format_version\":9", &format!("\"format_version\":{version}"), 1);
        assert_ne!(old, twice);
        let problem = project_file::read(old.as_bytes()).expect_err("twice");
        assert!(problem.errors[0].detail.contains("name is given twice"), "{problem:?}");
    }
    // Far more than any project has.
    let many = format!(
        "{{\"format\":\"ratiomet project\",\"format_version\":2,\"project\":{{\"name\":\"A\"}},\"sources\":[{}0]}}",
        "0,".repeat(100_001)
    );
    let errors = project(&many).expect_err("too many");
    assert!(errors.len() < 200 && errors[0].contains("at most"), "{} errors: {}", errors.len(), errors[0]);
}

#[test]
fn a_library_that_is_not_sound_says_where() {
    let case = |picture: Value, at: &str| {
        let file = json!({ "format": "ratiomet library", "format_version": 1, "active_pictures": [picture] });
        let problem = library_file::read(file.to_string().as_bytes()).expect_err("refused");
        let pointers: Vec<_> = problem.errors.iter().map(|error| error.pointer.as_str()).collect();
        assert!(pointers.contains(&at), "{picture} gives {pointers:?}");
    };
    case(json!({ "name": "A" }), "/active_pictures/0");
    case(json!({ "name": "A", "guide": "4:3", "raster": [16, 9] }), "/active_pictures/0");
    case(json!({ "name": "A", "guide": "0" }), "/active_pictures/0/guide");
    case(json!({ "name": "A", "raster": [16, 9], "insets": { "left": 16 } }), "/active_pictures/0");
    case(json!({ "name": "", "guide": "1" }), "/active_pictures/0/name");
    case(json!({ "name": "A", "guide": "1", "more": 1 }), "/active_pictures/0/more");
    let newer = json!({ "format": "ratiomet library", "format_version": 99 });
    let problem = library_file::read(newer.to_string().as_bytes()).expect_err("newer");
    assert!(problem.errors[0].detail.contains("newer version"), "{problem:?}");
}

#[test]
fn what_a_file_leaves_out_takes_its_default() {
    let least = json!({ "format": "ratiomet project", "format_version": 2, "project": { "name": "A" } });
    let contents = project(&least.to_string()).expect("sound");
    // A file of that version meant a board that fits; a new one fills.
    assert_eq!((contents.settings().method, contents.sources().len()), (Placing::By(ratiomet_core::Method::Fit), 0));
    let newest = json!({ "format": "ratiomet project", "format_version": 3, "project": { "name": "A" } });
    let contents = project(&newest.to_string()).expect("sound");
    assert_eq!(contents.settings().method, Placing::By(ratiomet_core::Method::Fill));
    let square = Written::parse("1", ratiomet_core::PixelAspect::parse).expect("a shape");
    let new = project(&sound().to_string()).expect("sound");
    let source = new.source(SourceId::new(1)).expect("a source");
    assert_eq!(source.geometry.pixel_aspect(), &square);
    assert_eq!(
        (source.scan, source.signal_range, source.playback, &source.rate),
        (None, None, Intent::RealTime, &None)
    );
    // Until the version before, nothing could be left unsaid.
    let mut older = sound();
    older["format_version"] = json!(3);
    let older = project(&older.to_string()).expect("sound");
    let source = older.source(SourceId::new(1)).expect("a source");
    assert_eq!((source.scan, source.signal_range), (Some(Scan::Progressive), Some(SignalRange::Narrow)));
}

#[test]
fn records_keep_the_order_of_the_file_whatever_their_numbers() {
    let mut file = sound();
    let source =
        |id: i32, name: &str| json!({ "id": id, "values": { "name": name, "geometry": { "raster": [16, 9] } } });
    file["sources"] = json!([source(7, "first"), source(3, "second")]);
    file["conversions"] = json!([{ "source": 3, "frame": 1, "own": { "method": "fit" } }]);
    let project = project(&file.to_string()).expect("sound");
    let names: Vec<_> = project.sources().map(|(id, footage)| (id.number(), footage.name.as_str())).collect();
    assert_eq!(names, [(1, "first"), (2, "second")]);
    assert!(project.choice(Pair::new(SourceId::new(2), FrameId::new(1))).own.is_some());
}

#[test]
fn what_was_accepted_in_a_file_of_version_1_is_still_accepted() {
    // 16:9 fitted into 1:1 leaves bars of 3.5 lines each.
    let mut file = sound();
    file["format_version"] = json!(1);
    file["frames"][0]["values"]["geometry"]["raster"] = json!([16, 16]);
    file["conversions"][0]["accepted"] =
        json!([{ "code": "bars", "reason": "wanted", "said": "Bars in the area: 3.5 px top and bottom." }]);
    let project = project(&file.to_string()).expect("sound");
    let (_, conversion) = project.board().next().expect("a conversion");
    let bars = conversion.findings.iter().find(|finding| finding.code() == "bars").expect("bars");
    assert!(matches!(conversion.judgement(bars), Judgement::Accepted(_)), "{:?} {:?}", bars.key(), conversion.findings);
}
