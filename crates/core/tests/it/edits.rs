//! What edits make of a project: worked out without being carried out, all or nothing, and the same twice.

use proptest::prelude::*;
use ratiomet_core::project::*;
use ratiomet_core::space::{Rect, Size};
use ratiomet_core::*;

use crate::clips::{clip, delivered, name, rate, squeeze, with};

const PLACINGS: [Placing; 4] =
    [Placing::By(Method::Fit), Placing::By(Method::Fill), Placing::By(Method::Native), Placing::AroundSubject];

/// A project of some clips and frames, some of which go through others.
fn project() -> impl Strategy<Value = Project> {
    let size = prop::sample::select(&[(1920, 1080), (3840, 2160), (720, 576), (1080, 1920)][..]);
    let frame = (size.clone(), prop::option::of(1_i32..7));
    (prop::collection::vec(size, 1..5), prop::collection::vec(frame, 1..6)).prop_map(|(clips, frames)| {
        let mut project =
            Project::new(ProjectSettings { method: Placing::By(Method::Fit), ..ProjectSettings::named(name("P")) });
        for (number, (width, height)) in (1..).zip(clips) {
            project.put_source(SourceId::new(number), Some(clip(&format!("C{number}"), width, height)));
        }
        for (number, ((width, height), through)) in (1..).zip(frames) {
            // Ways may be broken, as after a frame was deleted; circles are none that an edit could make.
            let through = through.filter(|through| *through < number || *through == 6).map(FrameId::new);
            let frame = Deliverable { through, ..delivered(&format!("F{number}"), width, height) };
            project.put_frame(FrameId::new(number), Some(frame));
        }
        project
    })
}

fn edit() -> impl Strategy<Value = Edit> {
    let sources = || prop::collection::vec((1_i32..6).prop_map(SourceId::new), 0..4);
    let frames = || prop::collection::vec((1_i32..8).prop_map(FrameId::new), 0..4);
    let pairs = (1_i32..6, 1_i32..8).prop_map(|(source, frame)| Pair::new(SourceId::new(source), FrameId::new(frame)));
    let pairs = || prop::collection::vec(pairs.clone(), 0..5);
    let placing = || prop::sample::select(&PLACINGS[..]);
    prop_oneof![
        (sources(), prop::sample::select(&["1", "1.5", "2"][..])).prop_map(|(ids, lens)| {
            let patch = SourcePatch { squeeze: Some(squeeze(lens)), ..SourcePatch::default() };
            Edit::SetSources { ids, patch: Box::new(patch) }
        }),
        (sources(), 0_u32..2_000).prop_map(|(ids, left)| {
            let patch = SourcePatch { insets: [Some(left), None, None, None], ..SourcePatch::default() };
            Edit::SetSources { ids, patch: Box::new(patch) }
        }),
        (frames(), prop::option::of(1_i32..8)).prop_map(|(ids, through)| {
            let patch = FramePatch { through: Some(through.map(FrameId::new)), ..FramePatch::default() };
            Edit::SetFrames { ids, patch: Box::new(patch) }
        }),
        (frames(), placing()).prop_map(|(ids, method)| {
            let patch = FramePatch { method: Some(Some(method)), name: Some(name("Other")), ..FramePatch::default() };
            Edit::SetFrames { ids, patch: Box::new(patch) }
        }),
        (pairs(), placing())
            .prop_map(|(pairs, method)| Edit::SetConversions { pairs, own: Some(FramingSpec::of(method)) }),
        (pairs(), prop::sample::select(&Finding::CODES[..]), any::<bool>()).prop_map(|(pairs, code, accept)| {
            Edit::JudgeFinding { pairs, code, reason: accept.then(|| name("seen")) }
        }),
        (sources(), frames()).prop_map(|(sources, frames)| Edit::Delete { sources, frames }),
        frames().prop_map(Edit::TurnFrames),
    ]
}

/// Whether a way leads nowhere it should not.
fn is_sound(project: &Project, id: FrameId) -> bool {
    let ways = project.ways();
    ways.frames.iter().find(|way| way.frame == id).is_some_and(|way| !way.broken)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(500))]

    #[test]
    fn an_edit_is_all_or_nothing_and_breaks_no_way(project in project(), edits in prop::collection::vec(edit(), 1..6)) {
        let mut project = project;
        for edit in edits {
            let before = project.clone();
            let worked_out = project.apply(&edit);
            prop_assert_eq!(&project, &before, "working out changes nothing");
            let Ok(changes) = worked_out else { continue };
            let after = project.with(&changes);
            prop_assert_eq!(after == before, changes.changes.is_empty(), "{:?} {:?}", edit, changes);
            prop_assert!(changes.changes.is_empty() || !changes.label.is_empty());
            // A way that was sound is sound, unless what it went through was deleted.
            if !matches!(edit, Edit::Delete { .. }) {
                for (id, _) in before.frames() {
                    prop_assert!(!is_sound(&before, id) || is_sound(&after, id), "{edit:?} breaks {id}");
                }
            }
            // The same once more is no change, where it adds nothing.
            if !matches!(edit, Edit::TurnFrames(_) | Edit::Delete { .. }) {
                let again = after.apply(&edit).expect("it was sound");
                prop_assert!(again.changes.is_empty(), "{again:?}");
            }
            project = after;
        }
    }

    /// What is said to be unchanged comes out as before; what an edit does not touch is said to be.
    #[test]
    fn what_is_unchanged_comes_out_as_before(project in project(), edits in prop::collection::vec(edit(), 1..4)) {
        let mut now = project.clone();
        for edit in edits {
            if let Ok(changes) = now.apply(&edit) {
                now = now.with(&changes);
            }
        }
        let unchanged = Unchanged::since(&project, &now);
        for (pair, conversion) in now.board().filter(|(pair, _)| unchanged.conversion(*pair)) {
            let before = project.conversion(pair).map(|before| format!("{before:?}"));
            prop_assert_eq!(before, Some(format!("{conversion:?}")));
        }
        for (id, source) in now.sources() {
            prop_assert_eq!(unchanged.source(id), project.source(id) == Some(source));
        }
        let same = Unchanged::since(&now, &now);
        prop_assert!(now.board().all(|(pair, _)| same.conversion(pair)));
    }

    /// Whatever was deleted: what is left can be renamed.
    #[test]
    fn what_goes_through_a_frame_that_is_gone_can_still_be_edited(project in project(), gone in 1_i32..6) {
        let gone = FrameId::new(gone);
        prop_assume!(project.frame(gone).is_some());
        let deleted = Edit::Delete { sources: Vec::new(), frames: vec![gone] };
        let left = project.with(&project.apply(&deleted).expect("it is there"));
        for (id, _) in left.frames() {
            let patch = FramePatch { name: Some(name("Renamed")), ..FramePatch::default() };
            let renamed = left.apply(&Edit::SetFrames { ids: vec![id], patch: Box::new(patch) });
            prop_assert_eq!(renamed.map(|changes| changes.changes.len()), Ok(1));
        }
    }

    /// The board is every conversion by itself, the bins hold every source, the file the same plans.
    #[test]
    fn all_that_is_computed_of_a_project_agrees(project in project(), edits in prop::collection::vec(edit(), 0..4)) {
        let mut project = project;
        for edit in edits {
            if let Ok(changes) = project.apply(&edit) {
                project = project.with(&changes);
            }
        }
        let board: Vec<_> = project.board().collect();
        prop_assert_eq!(board.len(), project.sources().len() * project.frames().len());
        for (pair, conversion) in &board {
            let alone = project.conversion(*pair).expect("both are there");
            prop_assert_eq!((&alone.plan, &alone.findings), (&conversion.plan, &conversion.findings));
        }
        for (id, _) in project.frames() {
            let bin = project.bin(id).expect("the frame is there");
            prop_assert_eq!(bin.groups.iter().map(|group| group.sources.len()).sum::<usize>(), project.sources().len());
        }
        let plans = |project: &Project| project.board().map(|(_, each)| each.plan).collect::<Vec<_>>();
        prop_assert_eq!(plans(&project.renumbered()), plans(&project));
        prop_assert_eq!(project.renumbered().renumbered(), project.renumbered());
        // What stops a hand-off is what the board shows.
        let stopped = board.iter().filter(|(_, each)| each.severity() == Some(Severity::Stop)).count();
        prop_assert_eq!(project.stopped(&Selection::default()), stopped);
    }
}

#[test]
fn an_edit_that_names_nothing_that_is_there_says_what() {
    let mut project =
        Project::new(ProjectSettings { method: Placing::By(Method::Fit), ..ProjectSettings::named(name("P")) });
    project.put_source(SourceId::new(3), Some(clip("A", 1920, 1080)));
    let frames = Edit::SetFrames { ids: vec![FrameId::new(3)], patch: Box::default() };
    assert_eq!(project.apply(&frames), Err(EditError::NoFrame(FrameId::new(3))));
    let pairs = vec![Pair::new(SourceId::new(3), FrameId::new(4))];
    let framed = Edit::SetConversions { pairs, own: None };
    assert_eq!(project.apply(&framed), Err(EditError::NoFrame(FrameId::new(4))));
    assert!(project.conversion(Pair::new(SourceId::new(3), FrameId::new(4))).is_none());
}

#[test]
fn what_files_say_now_is_taken_but_for_what_was_typed_over() {
    let read = |footage: Footage| {
        let said = [Aspect::Raster, Aspect::Rate].map(|aspect| (aspect, "header".to_owned()));
        footage.read_from("A.mov", said)
    };
    let mut project = Project::new(ProjectSettings::named(name("P")));
    let id = SourceId::new(1);
    let typed = SourcePatch { rate: Some(Some(rate("24"))), ..SourcePatch::default() };
    project.put_source(id, Some(with(&read(clip("A", 1920, 1080)), &typed)));
    let faster = SourcePatch { rate: Some(Some(rate("50"))), ..SourcePatch::default() };
    let now = read(with(&clip("A", 3840, 2160), &faster));
    let renewals = project.renewals(&[clip("B", 16, 9), now.clone()]);
    assert_eq!(renewals.len(), 1);
    assert_eq!(renewals[0].words(), "raster 1920x1080 to 3840x2160, rate 24 to 50, typed over since: it stays");
    let edit = |update| Edit::Bring { sources: vec![now.clone()], frames: vec![], framings: vec![], update };
    let kept = project.apply(&edit(false)).expect("an edit");
    assert_eq!((kept.label.as_str(), kept.skipped), ("Import nothing new", 1));
    let changes = project.apply(&edit(true)).expect("an edit");
    assert_eq!(changes.label, "Update 1 source from files");
    let after = project.with(&changes);
    let source = after.source(id).expect("a source");
    assert_eq!(source.geometry.raster(), Raster::new(3840, 2160).expect("a raster"));
    assert_eq!(source.rate, Some(rate("24")));
    // The second time there is nothing left to take.
    assert_eq!(after.apply(&edit(true)).expect("an edit").label, "Import nothing new");
}

fn shown(x: u32, width: u32, height: u32) -> Framed {
    let [x, y, width, height] = [x, 0, width, height].map(Exact::whole);
    Framed::Part(Rect::new(x, y, Size::new(width, height)))
}

/// A list from set: clips of this name by the sizes at which they are stored, and what the frame "HD" shows of each.
fn from_set(clips: &[([u32; 2], Framed)], update: bool) -> Edit {
    let sources = clips.iter().map(|([width, height], _)| {
        let clip = clip("A001", *width, *height);
        clip.read_from("day.fdl", [(Aspect::Raster, "canvas".to_owned())])
    });
    let framing =
        |(source, (_, framed)): (usize, &(_, Framed))| BroughtFraming { source, frame: 0, framed: framed.clone() };
    Edit::Bring {
        sources: sources.collect(),
        frames: vec![delivered("HD", 1920, 1080)],
        framings: clips.iter().enumerate().map(framing).collect(),
        update,
    }
}

#[test]
fn a_list_from_set_that_comes_again_stored_otherwise_doubles_nothing() {
    let edit = |project: &Project, edit: &Edit| {
        let changes = project.apply(edit).expect("an edit");
        (project.with(&changes), changes)
    };
    let windows = |project: &Project| -> Vec<[f64; 3]> {
        let window = |conversion: Conversion| {
            let window = conversion.plan.window.expect("a window");
            [window.x, window.size.width, window.size.height].map(|side| side.to_f64())
        };
        project.board().map(|(_, conversion)| window(conversion)).collect()
    };
    let empty = Project::new(ProjectSettings::named(name("P")));
    let first = from_set(&[([4608, 3164], shown(0, 3840, 2160))], false);
    let (project, _) = edit(&empty, &first);
    assert_eq!(windows(&project), [[0.0, 3840.0, 2160.0]]);
    // Without a word it stays as it is: what is framed by other pixels is left out, and told.
    let again = |update| from_set(&[([4608, 2592], shown(200, 1920, 1080))], update);
    let (kept, changes) = edit(&project, &again(false));
    assert_eq!((changes.label.as_str(), changes.left_out), ("Import nothing new", 1));
    assert_eq!(windows(&kept), windows(&project));
    let (renewed, changes) = edit(&project, &again(true));
    assert_eq!((changes.label.as_str(), changes.left_out), ("Import 1 framing; update 1 source from files", 0));
    assert_eq!(windows(&renewed), [[200.0, 1920.0, 1080.0]]);
    assert!(edit(&renewed, &again(true)).1.changes.is_empty());
    // Half as large in the same shape framings would follow: those that the list brings do not.
    let half = from_set(&[([2304, 1296], shown(50, 1152, 648))], true);
    let (halved, _) = edit(&renewed, &half);
    assert_eq!(windows(&halved), [[50.0, 1152.0, 648.0]]);
    // Two of one name are told apart by their size, whichever comes first; a third one is new.
    let [large, small, third] =
        [([4608, 3164], shown(0, 3840, 2160)), ([2880, 2160], shown(0, 1920, 1080)), ([640, 480], shown(0, 320, 180))];
    let (two, _) = edit(&project, &from_set(&[small.clone(), large.clone()], false));
    assert_eq!(windows(&two), [[0.0, 3840.0, 2160.0], [0.0, 1920.0, 1080.0]]);
    for order in [[large.clone(), small.clone()], [small.clone(), large.clone()]] {
        let (_, changes) = edit(&two, &from_set(&order, true));
        assert!(changes.changes.is_empty(), "{:?}", changes.changes);
    }
    let (three, changes) = edit(&two, &from_set(&[third, small, large], true));
    assert_eq!((three.sources().len(), changes.label.as_str()), (3, "Import 1 source, 1 framing"));
}

#[test]
fn what_a_hand_has_framed_stays_when_a_list_from_set_comes_again() {
    let list = |x| from_set(&[([4608, 3164], shown(x, 1920, 1080))], false);
    let empty = Project::new(ProjectSettings::named(name("P")));
    let project = empty.with(&empty.apply(&list(0)).expect("an edit"));
    let framed = |project: &Project| {
        let (found, _) = project.board().next().expect("a conversion");
        let choice = project.choice(found);
        (found, choice.own.expect("a framing"), choice.imported.expect("a framing"))
    };
    let (pair, imported, _) = framed(&project);
    // What nobody has touched follows the list.
    let followed = project.with(&project.apply(&list(100)).expect("an edit"));
    let (_, own, newer) = framed(&followed);
    assert!(own == newer && newer != imported);
    // What somebody has set stays, beside what the list says now.
    let mine = FramingSpec::of(Placing::By(Method::Fit));
    let by_hand = Edit::SetConversions { pairs: vec![pair], own: Some(mine.clone()) };
    let project = project.with(&project.apply(&by_hand).expect("an edit"));
    assert!(project.apply(&list(0)).expect("an edit").changes.is_empty(), "the same list again brings nothing");
    let after = project.with(&project.apply(&list(100)).expect("an edit"));
    assert_eq!(framed(&after), (pair, mine, newer));
}
