//! [`Boards`]: boards as JSON, of which only what has changed is worked out, written and sent again.

use std::collections::{HashMap, HashSet, VecDeque};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError};

use axum::response::{IntoResponse, Response};
use ratiomet_core::cores;
use ratiomet_core::project::{FrameId, Pair, ProjectId, SourceId, Unchanged};
use ratiomet_store::{Contents, Subject};
use ratiomet_wire::project::{Board, Crossing};
use serde::Serialize;
use serde_json::value::{RawValue, to_raw_value};

use super::reply::Reply;
use super::routes::{frames, projects, sources};
use super::streamed;

/// The most boards that are kept written, and how many bytes of them; a larger one is written as it is sent.
const MOST_WRITTEN: usize = 8;
const MOST_BYTES: usize = 20_000_000;
/// The most parts of boards of which it is remembered what they were: some 40 MB.
const MOST_MARKS: usize = 1_000_000;

/// Boards of the projects that are worked on, the latest at the end.
#[derive(Default)]
pub struct Boards {
    written: Mutex<VecDeque<Arc<Written>>>,
    sent: Mutex<VecDeque<Arc<Sent>>>,
}

/// A part of a board, by the numbers of its source and of its frame.
type Key = (Option<i32>, Option<i32>);

/// A part as it is sent.
struct Part {
    key: Key,
    /// The version of what it is of.
    version: i32,
    text: Box<RawValue>,
    /// Another one whenever the text is.
    mark: u64,
}

impl Part {
    fn new(key: Key, version: i32, value: &impl Serialize) -> Arc<Self> {
        let text = to_raw_value(value).expect("plain data with text keys");
        let mut hasher = DefaultHasher::new();
        text.get().hash(&mut hasher);
        Arc::new(Self { key, version, text, mark: hasher.finish() })
    }
}

/// A board of which every part is written, each kind in its order.
struct Written {
    contents: Arc<Contents>,
    sources: Vec<Arc<Part>>,
    frames: Vec<Arc<Part>>,
    crossings: Vec<Arc<Part>>,
    sent: Arc<Sent>,
    /// All of it as an answer: plain, and packed.
    replies: [OnceLock<Reply>; 2],
}

/// What is remembered of a board: enough to tell what has changed since.
struct Sent {
    project: ProjectId,
    revision: String,
    marks: HashMap<Key, u64>,
}

/// What is there of an earlier board of the same project.
struct Earlier<'a> {
    unchanged: Unchanged<'a>,
    parts: HashMap<Key, &'a Arc<Part>>,
}

impl Earlier<'_> {
    fn part(&self, key: Key, version: i32, is_unchanged: impl FnOnce(&Unchanged<'_>) -> bool) -> Option<Arc<Part>> {
        let part = self.parts.get(&key).filter(|part| part.version == version)?;
        is_unchanged(&self.unchanged).then(|| Arc::clone(part))
    }
}

impl Written {
    fn new(contents: &Arc<Contents>, before: Option<&Self>) -> Self {
        let earlier = before.map(|before| Earlier {
            unchanged: Unchanged::since(&before.contents.project, &contents.project),
            parts: before.parts().map(|part| (part.key, part)).collect(),
        });
        let earlier = earlier.as_ref();
        let source = |id: SourceId| {
            let (key, version) = ((Some(id.number()), None), contents.version(Subject::Source(id))?);
            let known = earlier.and_then(|earlier| earlier.part(key, version, |unchanged| unchanged.source(id)));
            known.or_else(|| Some(Part::new(key, version, &sources::resource(contents, id)?)))
        };
        let frame = |id: FrameId| {
            let (key, version) = ((None, Some(id.number())), contents.version(Subject::Frame(id))?);
            let known = earlier.and_then(|earlier| earlier.part(key, version, |unchanged| unchanged.frame(id)));
            known.or_else(|| Some(Part::new(key, version, &frames::resource(contents, id)?)))
        };
        let crossing = |pair: Pair| {
            let key = (Some(pair.source.number()), Some(pair.frame.number()));
            let version = contents.version(Subject::Choice(pair)).unwrap_or(0);
            let known = earlier.and_then(|earlier| earlier.part(key, version, |unchanged| unchanged.conversion(pair)));
            known.or_else(|| {
                let conversion = contents.project.conversion(pair)?;
                Some(Part::new(key, version, &Crossing::new(pair, version, &conversion)))
            })
        };
        let source_ids: Vec<_> = contents.project.sources().map(|(id, _)| id).collect();
        let frame_ids: Vec<_> = contents.project.frames().map(|(id, _)| id).collect();
        let row = |at: usize| {
            let source = source_ids[at];
            frame_ids.iter().map(move |frame| Pair::new(source, *frame)).filter_map(crossing)
        };
        let sources: Vec<_> = cores::shared(0..source_ids.len(), |at| source(source_ids[at]));
        let crossings: Vec<_> = cores::shared(0..source_ids.len(), row);
        let frames: Vec<_> = frame_ids.iter().copied().filter_map(frame).collect();
        let all = || [&sources, &frames, &crossings].into_iter().flatten().map(|part| (part.key, part.mark));
        let mut hasher = DefaultHasher::new();
        all().for_each(|part| part.hash(&mut hasher));
        let revision = format!("{:016x}", hasher.finish());
        let sent = Arc::new(Sent { project: contents.id, revision, marks: all().collect() });
        Self { contents: Arc::clone(contents), sources, frames, crossings, sent, replies: Default::default() }
    }

    fn parts(&self) -> impl Iterator<Item = &Arc<Part>> {
        [&self.sources, &self.frames, &self.crossings].into_iter().flatten()
    }

    fn bytes(&self) -> usize {
        self.parts().map(|part| part.text.get().len()).sum()
    }

    /// All of it, or what has changed since another one.
    fn told(&self, since: Option<&Sent>) -> Board<'_> {
        let numbers =
            |parts: &[Arc<Part>], of: fn(&Key) -> Option<i32>| parts.iter().filter_map(|part| of(&part.key)).collect();
        let is_new = |part: &&Arc<Part>| since.is_none_or(|sent| sent.marks.get(&part.key) != Some(&part.mark));
        fn told<'a>(parts: &'a [Arc<Part>], is_new: impl FnMut(&&'a Arc<Part>) -> bool) -> Vec<&'a RawValue> {
            parts.iter().filter(is_new).map(|part| &*part.text).collect()
        }
        Board {
            project: projects::resource(&self.contents.info()),
            revision: self.sent.revision.clone(),
            since: since.map(|sent| sent.revision.clone()),
            source_ids: numbers(&self.sources, |key| key.0),
            frame_ids: numbers(&self.frames, |key| key.1),
            sources: told(&self.sources, is_new),
            frames: told(&self.frames, is_new),
            crossings: told(&self.crossings, is_new),
            set_aside: self.contents.set_aside.len(),
        }
    }

    fn reply(&self, since: Option<&Sent>, takes_gzip: bool) -> Reply {
        Reply::json(&self.told(since)).packed(takes_gzip)
    }
}

impl Boards {
    /// The board of a project; of one that was sent at a revision before, if that is still remembered, what has changed.
    pub fn answer(&self, contents: &Arc<Contents>, since: Option<&str>, takes_gzip: bool) -> Response {
        let board = self.written(contents);
        let is_known = |sent: &&Arc<Sent>| sent.project == contents.id && Some(&*sent.revision) == since;
        let before = held(&self.sent).iter().find(is_known).cloned();
        self.remember(&board.sent);
        if board.bytes() > MOST_BYTES {
            return streamed::json(takes_gzip, move |out| {
                serde_json::to_writer(out, &board.told(before.as_deref())).map_err(Into::into)
            });
        }
        let whole = || board.replies[usize::from(takes_gzip)].get_or_init(|| board.reply(None, takes_gzip)).clone();
        before.map_or_else(whole, |before| board.reply(Some(&before), takes_gzip)).into_response()
    }

    /// Forgets what is written, and of what was sent all but the latest of each project.
    pub fn forget(&self) {
        held(&self.written).clear();
        let mut sent = held(&self.sent);
        let mut seen = HashSet::new();
        let latest: Vec<_> = sent.drain(..).rev().filter(|board| seen.insert(board.project)).collect();
        sent.extend(latest.into_iter().rev());
        sent.shrink_to_fit();
    }

    fn written(&self, contents: &Arc<Contents>) -> Arc<Written> {
        let before = held(&self.written).iter().find(|board| board.contents.id == contents.id).cloned();
        if let Some(board) = before.as_ref().filter(|board| Arc::ptr_eq(&board.contents, contents)) {
            return Arc::clone(board);
        }
        let board = Arc::new(Written::new(contents, before.as_deref()));
        let mut written = held(&self.written);
        written.retain(|board| board.contents.id != contents.id);
        written.push_back(Arc::clone(&board));
        while written.len() > MOST_WRITTEN || written.iter().map(|board| board.bytes()).sum::<usize>() > MOST_BYTES {
            written.pop_front();
        }
        board
    }

    fn remember(&self, board: &Arc<Sent>) {
        let mut sent = held(&self.sent);
        sent.retain(|sent| sent.project != board.project || sent.revision != board.revision);
        sent.push_back(Arc::clone(board));
        while sent.len() > 1 && sent.iter().map(|sent| sent.marks.len()).sum::<usize>() > MOST_MARKS {
            sent.pop_front();
        }
    }
}

/// Nothing that is done under these locks leaves anything half done.
fn held<T>(lock: &Mutex<T>) -> MutexGuard<'_, T> {
    lock.lock().unwrap_or_else(PoisonError::into_inner)
}
