//! [`Points`]: what was found in the conversions of projects, of which only what has changed is worked out again.

use std::collections::{HashMap, VecDeque};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use ratiomet_core::cores;
use ratiomet_core::project::{FrameId, Pair, Share, SourceId, Unchanged};
use ratiomet_store::Contents;
use ratiomet_wire::project::PointsResult;

/// Of how many projects, and of how many conversions, it is kept: some 40 MB.
const MOST_PROJECTS: usize = 8;
const MOST_CONVERSIONS: usize = 100_000;

/// What was found in the projects that are worked on, the latest at the end.
#[derive(Default)]
pub struct Points(Mutex<VecDeque<Arc<Kept>>>);

/// What was found in a project, in the order of its board.
struct Kept {
    contents: Arc<Contents>,
    found: Vec<(Pair, Arc<Share>)>,
}

impl Kept {
    fn new(contents: &Arc<Contents>, before: Option<&Self>) -> Self {
        let project = &contents.project;
        let earlier = before.map(|before| {
            let known: HashMap<Pair, &Arc<Share>> = before.found.iter().map(|(pair, found)| (*pair, found)).collect();
            (Unchanged::since(&before.contents.project, project), known)
        });
        let found = |pair: Pair| {
            let known = earlier.as_ref().and_then(|(unchanged, known)| {
                let found = known.get(&pair)?;
                unchanged.conversion(pair).then(|| Arc::clone(found))
            });
            known.or_else(|| Some(Arc::new(Share::of(pair, &project.conversion(pair)?)))).map(|found| (pair, found))
        };
        let sources: Vec<SourceId> = project.sources().map(|(id, _)| id).collect();
        let frames: Vec<FrameId> = project.frames().map(|(id, _)| id).collect();
        let row = |at: usize| {
            let source = sources[at];
            frames.iter().map(move |frame| Pair::new(source, *frame)).filter_map(found)
        };
        Self { contents: Arc::clone(contents), found: cores::shared(0..sources.len(), row) }
    }
}

impl Points {
    /// What stands open in a project.
    pub fn of(&self, contents: &Arc<Contents>) -> PointsResult {
        let kept = self.kept(contents);
        PointsResult::of(&contents.project, kept.found.iter().map(|(_, found)| &**found))
    }

    /// Forgets what was found.
    pub fn forget(&self) {
        self.held().clear();
    }

    fn kept(&self, contents: &Arc<Contents>) -> Arc<Kept> {
        let before = self.held().iter().find(|kept| kept.contents.id == contents.id).cloned();
        if let Some(kept) = before.as_ref().filter(|kept| Arc::ptr_eq(&kept.contents, contents)) {
            return Arc::clone(kept);
        }
        let now = Arc::new(Kept::new(contents, before.as_deref()));
        let mut all = self.held();
        all.retain(|kept| kept.contents.id != contents.id);
        all.push_back(Arc::clone(&now));
        let count = |all: &VecDeque<Arc<Kept>>| all.iter().map(|kept| kept.found.len()).sum::<usize>();
        while all.len() > MOST_PROJECTS || count(&all) > MOST_CONVERSIONS {
            all.pop_front();
        }
        now
    }

    /// Nothing that is done under the lock leaves anything half done.
    fn held(&self) -> MutexGuard<'_, VecDeque<Arc<Kept>>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }
}
