//! What helps against findings, what was accepted, subjects, and ways through working frames.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::*;
use ratiomet_core::safe_area::SafeArea;
use ratiomet_core::subject::{Share, SubjectSpec};
use ratiomet_core::*;

use crate::clips::{PAIR, clip, converted, delivered, framed, name, project, squeeze, with};

const FIT: Placing = Placing::By(Method::Fit);
const FILL: Placing = Placing::By(Method::Fill);

fn codes(crossing: &Conversion) -> Vec<&'static str> {
    crossing.findings.iter().map(Finding::code).collect()
}

fn subject(sides: [&str; 4]) -> SubjectSpec {
    SubjectSpec::new(sides.map(|side| Written::parse(side, Share::parse).expect("a share"))).expect("a subject")
}

fn marked(footage: &Footage, sides: [&str; 4]) -> Footage {
    Footage { subject: Some(subject(sides)), ..footage.clone() }
}

/// The words of what helps against a finding, each with what is found afterwards.
#[track_caller]
fn helps(
    footage: &Footage,
    frame: &Deliverable,
    choice: &Choice,
    board: Placing,
    code: &str,
) -> Vec<(String, Vec<&'static str>)> {
    let now = converted(footage, frame, choice, board);
    assert!(codes(&now).contains(&code), "{code} is not in {:?}", codes(&now));
    let (_, all) = project(footage, frame, choice, board).proposals(PAIR).expect("both are there");
    all.into_iter()
        .filter(|proposal| proposal.against == code)
        .map(|proposal| (proposal.words, codes(&proposal.after)))
        .collect()
}

fn framing(method: Method, zoom: &str, shift: [&str; 2]) -> Choice {
    let shift = shift.map(|shift| Written::parse(shift, Shift::parse).expect("a shift"));
    let [shift_x, shift_y] = shift;
    let zoom = Written::parse(zoom, Zoom::parse).expect("a zoom");
    Choice::of(FramingSpec { method: method.into(), zoom, shift_x, shift_y })
}

#[test]
fn each_finding_has_its_remedies_and_they_help() {
    #[track_caller]
    fn case(footage: &Footage, frame: &Deliverable, choice: &Choice, code: &str, expected: &[&str]) {
        let helps = helps(footage, frame, choice, FIT, code);
        let words: Vec<_> = helps.iter().map(|(words, _)| words.as_str()).collect();
        assert_eq!(words, expected, "{code}");
    }
    let follows = Choice::default();
    let hd = delivered("HD", 1920, 1080);
    let ratio = |text: &str| Written::parse(text, DisplayRatio::parse).expect("a ratio");
    let masked = framed(&hd, &FramePatch { picture_ratio: Some(Some(ratio("2.00"))), ..FramePatch::default() });
    case(&clip("scope", 4096, 1716), &hd, &follows, "bars", &["Fill instead"]);
    // 4:3 into a masked frame has black on both axes; without the baked bars only at the sides.
    let fourthree = clip("4:3", 1440, 1080);
    case(
        &fourthree,
        &masked,
        &follows,
        "double_boxed",
        &["Deliver 1920×960 without bars in the frame", "Fill instead"],
    );
    case(
        &clip("UHD", 3840, 2160),
        &hd,
        &framing(Method::Fill, "1", ["5", "0"]),
        "off_edge",
        &["Shift back to the limit"],
    );
    case(
        &clip("scope", 4096, 1716),
        &hd,
        &framing(Method::Stretch, "1", ["0", "0"]),
        "distorted",
        &["Fill instead of stretching", "Fit instead of stretching"],
    );
    // 2.5 times as large: 3 times exactly. At 1:1 it would have bars on all four sides, which is worse.
    let small = clip("small", 768, 432);
    case(&small, &hd, &follows, "enlarged", &["Exactly 3x, cropped"]);
    case(
        &clip("UHD", 3840, 2160),
        &delivered("odd", 1921, 1080),
        &follows,
        "odd_size",
        &["Deliver 1922×1080, rounded to 2 pixels"],
    );
    case(&clip("UHD", 3840, 2160), &delivered("near", 1910, 1074), &follows, "near_published", &["Use HD"]);
    case(
        &clip("phone", 1920, 1080),
        &delivered("Story", 1080, 1920),
        &follows,
        "sideways",
        &["It is upright as stored", "Rotate 90° clockwise", "Rotate 90° anticlockwise"],
    );
    let fast = SourcePatch { rate: Some(Some(crate::clips::rate("59.94"))), ..SourcePatch::default() };
    case(
        &with(&clip("fast", 1920, 1080), &fast),
        &hd,
        &follows,
        "rate_mixed",
        &["Play every frame once, at another speed", "Blend frames on hand-off", "Drop or repeat frames on hand-off"],
    );
    let story = delivered("Story", 1080, 1920);
    case(
        &clip("UHD", 3840, 2160),
        &story,
        &framing(Method::Fill, "1", ["0", "0"]),
        "mostly_lost",
        &["Show the whole picture (Fit)"],
    );
}

#[test]
fn a_remedy_gives_what_it_shows() {
    let hd = delivered("HD", 1920, 1080);
    let small = clip("small", 768, 432);
    let before = project(&small, &hd, &Choice::default(), FIT);
    let (_, proposals) = before.proposals(PAIR).expect("both are there");
    for proposal in &proposals {
        // Carried out as an edit it gives what it showed.
        let changes = before.apply(&proposal.edit).expect("it can be done");
        let after = before.with(&changes).conversion(PAIR).expect("both are there");
        assert_eq!(after.plan, proposal.after.plan, "{}", proposal.words);
        assert_eq!(after.findings, proposal.after.findings, "{}", proposal.words);
    }
    // Exactly three times: the scale is 3, nothing is left over.
    let three = proposals;
    let three = three.iter().find(|proposal| proposal.words.starts_with("Exactly")).expect("3x");
    assert_eq!(three.after.plan.scale.x, Exact::whole(3));
}

#[test]
fn a_squeeze_that_is_set_twice_is_asked_about() {
    #[track_caller]
    fn case(footage: &Footage, frame: &Deliverable, expected: Option<&str>) {
        let found = codes(&converted(footage, frame, &Choice::default(), FILL));
        let squeeze = found.iter().find(|code| code.starts_with("squeeze"));
        assert_eq!(squeeze.copied(), expected, "{}", footage.name.as_str());
    }
    let set = |footage: &Footage, lens: &str, aspect: &str| {
        let aspect = Written::parse(aspect, PixelAspect::parse).expect("an aspect");
        let patch = SourcePatch { squeeze: Some(squeeze(lens)), pixel_aspect: Some(aspect), ..SourcePatch::default() };
        with(footage, &patch)
    };
    let scope = delivered("scope", 4096, 1716);
    // 6:5 stored, shot at 2x: 2.4, and so the scope frame. By itself it may as well be what it is.
    let sensor = clip("6:5", 2592, 2160);
    case(&sensor, &scope, None);
    case(&set(&sensor, "2", "1"), &scope, None);
    case(&set(&sensor, "2", "2"), &scope, Some("squeeze_twice"));
    case(&set(&clip("tape", 720, 576), "1", "16:11"), &scope, None);
    let twice = helps(&set(&sensor, "2", "2"), &scope, &Choice::default(), FILL, "squeeze_twice");
    assert_eq!(twice.len(), 2);
    assert!(twice.iter().all(|(_, after)| !after.contains(&"squeeze_twice")));
}

#[test]
fn the_subject_is_kept_whole_or_its_loss_is_told() {
    let story = delivered("Story", 1080, 1920);
    let plain = clip("UHD", 3840, 2160);
    // Somebody at the left.
    let person = marked(&plain, ["0.1", "0.2", "0.15", "0.7"]);
    let filled = converted(&person, &story, &Choice::default(), FILL);
    assert!(codes(&filled).contains(&"subject_cut"));
    assert!(filled.findings.iter().any(|finding| finding.to_string() == "The subject is outside this frame."));
    let around = converted(&person, &story, &Choice::default(), Placing::AroundSubject);
    assert!(!codes(&around).contains(&"subject_cut"));
    assert_eq!((around.plan.covered.clone(), around.framing.method), (Exact::ONE, Placing::AroundSubject));
    // The frame is 1215 stored columns wide; the subject is wider.
    let group = marked(&plain, ["0.1", "0.2", "0.5", "0.7"]);
    let cut = converted(&group, &story, &Choice::default(), Placing::AroundSubject);
    let told: Vec<_> = cut.findings.iter().map(Finding::to_string).collect();
    assert!(told.contains(&"36.7 % of the subject is cut off.".to_owned()), "{told:?}");
    // Without a subject it is filled, and said.
    let nobody = converted(&plain, &story, &Choice::default(), Placing::AroundSubject);
    assert!(codes(&nobody).contains(&"no_subject"));
    assert_eq!(nobody.placed, Framing::of(Method::Fill));
}

#[test]
fn what_was_marked_stays_marked_when_the_picture_is_turned() {
    let phone = marked(&clip("phone", 1920, 1080), ["0.1", "0.2", "0.25", "0.5"]);
    let turn = |degrees: u32| SourcePatch { rotation: Rotation::new(degrees).ok(), ..SourcePatch::default() };
    let sides = |footage: &Footage| footage.subject.as_ref().map(|subject| subject.texts().map(str::to_owned));
    let turned = with(&phone, &turn(90));
    assert_eq!(sides(&turned), Some(["0.3", "0.1", "0.5", "0.25"].map(str::to_owned)));
    assert_eq!(sides(&with(&turned, &turn(270))), Some(["0.2", "0.65", "0.5", "0.25"].map(str::to_owned)));
    // The same stored pixels: turned all the way round it is the same box.
    assert_eq!(sides(&with(&turned, &turn(0))), sides(&phone));
}

#[test]
fn what_was_accepted_holds_until_it_says_something_else() {
    let hd = delivered("HD", 1920, 1080);
    let small = clip("small", 1280, 720);
    let open = converted(&small, &hd, &Choice::default(), FIT);
    assert_eq!(open.severity(), Some(Severity::Caution));
    let finding = open.findings.iter().find(|finding| finding.code() == "enlarged").expect("it is enlarged");
    let accepted = Acceptance { code: "enlarged", reason: name("archive"), key: finding.key() };
    let choice = Choice { accepted: vec![accepted], ..Choice::default() };
    let judged = converted(&small, &hd, &choice, FIT);
    assert_eq!((judged.severity(), codes(&judged)), (None, codes(&open)));
    assert!(
        matches!(judged.judgement(finding), Judgement::Accepted(acceptance) if acceptance.reason.as_str() == "archive")
    );
    // Smaller still: what was accepted was another enlargement.
    let smaller = converted(&clip("smaller", 640, 360), &hd, &choice, FIT);
    assert_eq!(smaller.severity(), Some(Severity::Caution));
    assert!(smaller.findings.iter().any(|finding| matches!(smaller.judgement(finding), Judgement::Lapsed(_))));
}

#[test]
fn a_way_through_a_smaller_frame_is_told_where_detail_is_lost() {
    let (uhd, proxy, master) = (clip("UHD", 3840, 2160), delivered("offline", 1280, 720), delivered("UHD", 3840, 2160));
    let through = |frame: &Deliverable, id: i32| Deliverable { through: Some(FrameId::new(id)), ..frame.clone() };
    let whole = |frames: &[(i32, Deliverable)]| {
        let mut project = Project::new(ProjectSettings { method: FIT, ..ProjectSettings::named(name("P")) });
        project.put_source(SourceId::new(1), Some(uhd.clone()));
        for (id, frame) in frames {
            project.put_frame(FrameId::new(*id), Some(frame.clone()));
        }
        project
    };
    let to = |frame: i32| Pair::new(SourceId::new(1), FrameId::new(frame));
    let all = whole(&[(7, proxy), (8, through(&master, 7)), (9, through(&delivered("HD", 1920, 1080), 8))]);
    assert_eq!(all.way(FrameId::new(9)), [7, 8, 9].map(FrameId::new));
    let ways = all.ways();
    let (_, chain) = &ways.frames[1].sources[0];
    assert_eq!((chain.detail.x.clone(), chain.direct.x.clone()), (Exact::fraction(1, 3), Exact::ONE));
    let conversion = all.conversion(to(8)).expect("a conversion");
    assert_eq!(codes(&conversion), ["detour"]);
    let said = conversion.findings[0].to_string();
    assert!(said.contains("Made from offline, it keeps 33.3 %"), "{said}");
    // 1920 of 3840 pixels were enough, 1280 arrive.
    let onward = all.conversion(to(9)).expect("a conversion");
    assert!(onward.findings[0].to_string().contains("Made from offline and UHD"));
    // What helps leads straight from the source.
    let (_, proposals) = all.proposals(to(8)).expect("both are there");
    assert!(
        proposals
            .iter()
            .any(|proposal| proposal.words == "Make it from the source" && proposal.after.findings.is_empty())
    );
    // With a framing of its own the end needs more than its frame's method: 1:1 out of UHD by an HD that is half of it.
    let mut native = whole(&[(7, delivered("edit", 1920, 1080)), (8, through(&delivered("HD", 1920, 1080), 7))]);
    assert!(codes(&native.conversion(to(8)).expect("a conversion")).is_empty());
    native.put_choice(to(8), Choice::of(FramingSpec::of(Method::Native)));
    let conversion = native.conversion(to(8)).expect("a conversion");
    let told = conversion.findings.iter().find(|finding| finding.code() == "detour").expect("a detour").to_string();
    assert!(
        told.contains("it keeps 50 % of the detail across and 50 % up and down; made from the source, 100 %"),
        "{told}"
    );
    // The working frame shows all of the picture, this one a part of it; the other way round something is missing.
    let (_, passage) = &native.ways().frames[1].sources[0];
    assert_eq!((passage.lacks, passage.scales.len()), (None, 2));
    native.put_choice(to(7), Choice::of(FramingSpec::of(Method::Native)));
    native.put_choice(to(8), Choice::of(FramingSpec::of(Method::Fit)));
    let (_, passage) = &native.ways().frames[1].sources[0];
    assert_eq!((passage.lacks, passage.is_detour()), (Some(0), false));
    // A frame that is gone cuts the way, and that is known.
    let cut = whole(&[(8, through(&master, 7))]);
    assert_eq!((cut.way(FrameId::new(8)), cut.ways().frames[0].broken), (vec![FrameId::new(8)], true));
    let around = whole(&[(1, through(&master, 2)), (2, through(&master, 1))]);
    assert_eq!(
        (around.way(FrameId::new(1)), around.ways().frames[0].broken),
        ([2, 1].map(FrameId::new).to_vec(), true)
    );
}

// EBU R 95 (2017), table of production areas for 1920x1080 (from memory): action safe begins 67 pixels
// in and ends at 1852, graphics safe at 96 and 1823. SMPTE ST 2046-1:2009 gives 93 % and 90 % (from memory).
#[test]
fn safe_areas_are_those_of_the_standards() {
    let hd = Deliverable { safe_areas: vec![SafeArea::EbuR95, SafeArea::SmpteSt2046], ..delivered("HD", 1920, 1080) };
    let zones = hd.safe_zones();
    let names: Vec<_> = zones.iter().map(|zone| zone.name.as_str()).collect();
    assert_eq!(names, ["EBU R 95 action", "EBU R 95 graphics", "ST 2046-1 action", "ST 2046-1 title"]);
    let first_and_last = |zone: &ratiomet_core::safe_area::Zone| {
        (zone.rect.x.to_f64().floor(), zone.rect.end(space::Axis::X).to_f64().floor())
    };
    assert_eq!(first_and_last(&zones[0]), (67.0, 1852.0));
    assert_eq!(zones[0].rect.y, Exact::fraction(378, 10));
    assert_eq!((zones[1].rect.x.clone(), zones[1].rect.end(space::Axis::X)), (Exact::whole(96), Exact::whole(1824)));
    assert_eq!(zones[2].rect, zones[0].rect);
    // A guide stands where a mask of that ratio would: 2.39 in HD leaves 804 lines on the step of 2.
    let ratio = Written::parse("2.39", DisplayRatio::parse).expect("a ratio");
    let guided = Deliverable { guides: vec![ratio], ..hd };
    let [(text, area)] = guided.guide_areas()[..] else { panic!("one guide") };
    assert_eq!((text, area.y, area.height), ("2.39", 138, 804));
}
