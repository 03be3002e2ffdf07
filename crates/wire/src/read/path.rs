//! Where a value of a request stands.

use std::cell::RefCell;

/// Where a value stands, among the places of its request.
#[derive(Clone, Copy, Debug)]
pub(super) struct Path(Option<usize>);

#[derive(Clone, Copy, Debug)]
pub(super) enum PathStep {
    Name(&'static str),
    Index(usize),
}

/// The places that were visited, each one step further than another. A place becomes a JSON pointer
/// (RFC 6901) only when something is refused there.
#[derive(Debug, Default)]
pub(super) struct Places(RefCell<Vec<(Path, PathStep)>>);

impl Path {
    /// The request itself.
    pub const ROOT: Self = Self(None);
}

impl Places {
    pub fn then(&self, path: Path, step: PathStep) -> Path {
        let mut places = self.0.borrow_mut();
        places.push((path, step));
        Path(Some(places.len() - 1))
    }

    pub fn pointer(&self, path: Path) -> String {
        let Path(Some(place)) = path else { return String::new() };
        let (before, step) = self.0.borrow()[place];
        let before = self.pointer(before);
        match step {
            PathStep::Name(name) => format!("{before}/{name}"),
            PathStep::Index(at) => format!("{before}/{at}"),
        }
    }

    /// The pointer of a key that a stranger chose.
    pub fn pointer_to(&self, path: Path, key: &str) -> String {
        format!("{}/{}", self.pointer(path), key.replace('~', "~0").replace('/', "~1"))
    }
}
