//! [`Boards`]: boards as JSON, of which only what has changed is worked out, written and sent again.

use std::cell::RefCell;
use std::collections::{HashMap, HashSet, VecDeque};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::io;
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError};

use axum::response::{IntoResponse, Response};
use ratiomet_core::cores;
use ratiomet_core::project::{FrameId, Pair, ProjectId, SourceId, Unchanged};
use ratiomet_store::{Contents, Subject};
use ratiomet_wire::project::{Board, Crossing, Known, Parts, Take};
use serde::Serialize;
use serde_json::value::{RawValue, to_raw_value};

use super::reply::Reply;
use super::routes::{frames, projects, sources};
use super::streamed;

/// The most boards that are kept written, and how many bytes of them.
const MOST_WRITTEN: usize = 8;
const MOST_BYTES: usize = 20_000_000;
/// The most conversions of a board that is written before it is sent: some 20 MB. Those of a larger one are worked out while
/// it is, so many at a time.
const MOST_CONVERSIONS: usize = 16_000;
const AT_A_TIME: usize = 256;
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

/// Makes the parts of a board; those of an earlier one serve again where nothing has changed.
struct Maker<'a> {
    contents: &'a Contents,
    sources: Vec<SourceId>,
    frames: Vec<FrameId>,
    earlier: Option<Earlier<'a>>,
}

impl<'a> Maker<'a> {
    fn new(contents: &'a Contents, before: Option<&'a Written>) -> Self {
        let earlier = before.map(|before| Earlier {
            unchanged: Unchanged::since(&before.contents.project, &contents.project),
            parts: before.parts().map(|part| (part.key, part)).collect(),
        });
        let sources = contents.project.sources().map(|(id, _)| id).collect();
        let frames = contents.project.frames().map(|(id, _)| id).collect();
        Self { contents, sources, frames, earlier }
    }

    /// A part, made where the earlier one does not serve.
    fn part<T: Serialize>(
        &self,
        key: Key,
        version: i32,
        is_unchanged: impl FnOnce(&Unchanged<'_>) -> bool,
        make: impl FnOnce() -> Option<T>,
    ) -> Option<Arc<Part>> {
        let known = self.earlier.as_ref().and_then(|earlier| earlier.part(key, version, is_unchanged));
        known.or_else(|| Some(Part::new(key, version, &make()?)))
    }

    fn source(&self, id: SourceId) -> Option<Arc<Part>> {
        let version = self.contents.version(Subject::Source(id))?;
        let make = || sources::resource(self.contents, id);
        self.part((Some(id.number()), None), version, |unchanged| unchanged.source(id), make)
    }

    fn frame(&self, id: FrameId) -> Option<Arc<Part>> {
        let version = self.contents.version(Subject::Frame(id))?;
        let make = || frames::resource(self.contents, id);
        self.part((None, Some(id.number())), version, |unchanged| unchanged.frame(id), make)
    }

    /// The crossings of a source, by its place.
    fn row(&self, at: usize) -> impl Iterator<Item = Arc<Part>> {
        let pairs = self.frames.iter().map(move |frame| Pair::new(self.sources[at], *frame));
        pairs.filter_map(|pair| {
            let key = (Some(pair.source.number()), Some(pair.frame.number()));
            let version = self.contents.version(Subject::Choice(pair)).unwrap_or(0);
            self.part(
                key,
                version,
                |unchanged| unchanged.conversion(pair),
                || Some(Crossing::new(pair, version, &self.contents.project.conversion(pair)?)),
            )
        })
    }

    /// Sends the board while it is worked out: all of it, or what has changed since another one. Gives what is to be
    /// remembered of it.
    fn send(&self, since: Option<&Sent>, out: &mut dyn io::Write) -> io::Result<Sent> {
        let (marks, hasher) = (RefCell::new(HashMap::new()), RefCell::new(DefaultHasher::new()));
        let pass_on = |take: Take<'_>, part: &Part| {
            (part.key, part.mark).hash(&mut *hasher.borrow_mut());
            marks.borrow_mut().insert(part.key, part.mark);
            !is_new(since, part) || take(&part.text)
        };
        let each = |take: Take<'_>, parts: &mut dyn Iterator<Item = Arc<Part>>| {
            for part in parts {
                if !pass_on(take, &part) {
                    break;
                }
            }
        };
        let share = AT_A_TIME.div_ceil(self.frames.len().max(1));
        let rows = |at: usize| {
            let places = at * share..((at + 1) * share).min(self.sources.len());
            places.flat_map(|at| self.row(at)).collect::<Vec<_>>()
        };
        let revision = || format!("{:016x}", hasher.borrow().finish());
        let board = Board {
            project: projects::resource(&self.contents.info()),
            since: since.map(|sent| &*sent.revision),
            source_ids: self.sources.iter().map(|id| id.number()).collect(),
            frame_ids: self.frames.iter().map(|id| id.number()).collect(),
            sources: Parts(&|take| each(take, &mut self.sources.iter().filter_map(|id| self.source(*id)))),
            frames: Parts(&|take| each(take, &mut self.frames.iter().filter_map(|id| self.frame(*id)))),
            crossings: Parts(&|take| {
                cores::ahead(self.sources.len().div_ceil(share), rows, |parts| each(take, &mut parts.flatten()));
            }),
            set_aside: self.contents.set_aside.len(),
            revision: Known(&revision),
        };
        serde_json::to_writer(out, &board)?;
        let revision = revision();
        Ok(Sent { project: self.contents.id, revision, marks: marks.into_inner() })
    }
}

/// Whether a part is to be told to who has another board.
fn is_new(since: Option<&Sent>, part: &Part) -> bool {
    since.is_none_or(|sent| sent.marks.get(&part.key) != Some(&part.mark))
}

impl Written {
    fn new(contents: &Arc<Contents>, before: Option<&Self>) -> Self {
        let maker = Maker::new(contents, before);
        let sources = cores::shared(0..maker.sources.len(), |at| maker.source(maker.sources[at]));
        let frames = maker.frames.iter().filter_map(|id| maker.frame(*id)).collect();
        let crossings = cores::shared(0..maker.sources.len(), |at| maker.row(at));
        let parts = [&sources, &frames, &crossings];
        let all = || parts.into_iter().flatten().map(|part| (part.key, part.mark));
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
    fn reply(&self, since: Option<&Sent>, takes_gzip: bool) -> Reply {
        let numbers =
            |parts: &[Arc<Part>], of: fn(&Key) -> Option<i32>| parts.iter().filter_map(|part| of(&part.key)).collect();
        let told = |parts: &[Arc<Part>], take: Take<'_>| {
            let _ = parts.iter().filter(|part| is_new(since, part)).all(|part| take(&part.text));
        };
        let board = Board {
            project: projects::resource(&self.contents.info()),
            since: since.map(|sent| &*sent.revision),
            source_ids: numbers(&self.sources, |key| key.0),
            frame_ids: numbers(&self.frames, |key| key.1),
            sources: Parts(&|take| told(&self.sources, take)),
            frames: Parts(&|take| told(&self.frames, take)),
            crossings: Parts(&|take| told(&self.crossings, take)),
            set_aside: self.contents.set_aside.len(),
            revision: Known(&|| self.sent.revision.clone()),
        };
        Reply::json(&board).packed(takes_gzip)
    }
}

impl Boards {
    /// The board of a project; of one that was sent at a revision before, if that is still remembered, what has changed.
    pub fn answer(self: &Arc<Self>, contents: &Arc<Contents>, since: Option<&str>, takes_gzip: bool) -> Response {
        let is_known = |sent: &&Arc<Sent>| sent.project == contents.id && Some(&*sent.revision) == since;
        let before = held(&self.sent).iter().find(is_known).cloned();
        let (sources, frames) = (contents.project.sources().len(), contents.project.frames().len());
        if sources * frames > MOST_CONVERSIONS {
            let (boards, contents) = (Arc::clone(self), Arc::clone(contents));
            return streamed::json(takes_gzip, move |out| {
                let sent = Maker::new(&contents, None).send(before.as_deref(), out)?;
                boards.remember(&Arc::new(sent));
                Ok(())
            });
        }
        let board = self.written(contents);
        self.remember(&board.sent);
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
