//! [`Renewal`]: what a file says of a source now, other than when it was read.

use std::collections::{BTreeMap, HashMap, HashSet, VecDeque};

use crate::Error;
use crate::project::{Aspect, Footage, Project, SourceId};

/// A source of the project of which its file says something else now.
#[derive(Clone, Debug, PartialEq)]
pub struct Renewal {
    /// The source.
    pub id: SourceId,
    /// The place of what was read among all that was.
    pub place: usize,
    /// What differs.
    pub differences: Vec<Difference>,
}

/// One value that differs.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Difference {
    /// Of what.
    pub of: Aspect,
    /// As the source has it; empty for what is not known.
    pub before: String,
    /// As the file has it.
    pub after: String,
    /// Whether somebody has typed over what was read: then it stays.
    pub typed: bool,
}

impl Difference {
    /// In words: `"raster 1920x1080 to 3840x2160"`.
    pub fn words(&self) -> String {
        let before = if self.before.is_empty() { "unknown" } else { &self.before };
        let stays = if self.typed { ", typed over since: it stays" } else { "" };
        format!("{} {before} to {}{stays}", self.of.word().replace('_', " "), self.after)
    }
}

impl Renewal {
    /// Whether anything of it would be taken.
    pub fn changes(&self) -> bool {
        self.differences.iter().any(|difference| !difference.typed)
    }

    /// What differs, in words.
    pub fn words(&self) -> String {
        self.differences.iter().map(Difference::words).collect::<Vec<_>>().join(", ")
    }
}

impl Project {
    /// Which of its sources each that was read is, by name. Of several of one name it is that of the same stored size; what
    /// has none of its size is the next that nothing else is, stored otherwise now. None for what is new.
    pub fn known(&self, read: &[Footage]) -> Vec<Option<SourceId>> {
        // What is read of one name and size is one, however often it comes.
        fn as_is(footage: &Footage) -> (&str, [u32; 2]) {
            let raster = footage.geometry.raster();
            (footage.name.as_str(), [raster.width(), raster.height()])
        }
        let mut found = HashMap::new();
        let mut there = HashMap::new();
        for (id, footage) in self.sources() {
            there.entry(as_is(footage)).or_insert(id);
        }
        for now in read.iter().map(as_is) {
            if let Some(id) = there.get(&now) {
                found.insert(now, *id);
            }
        }
        let taken: HashSet<SourceId> = found.values().copied().collect();
        let mut left: HashMap<&str, VecDeque<SourceId>> = HashMap::new();
        for (id, footage) in self.sources().filter(|(id, _)| !taken.contains(id)) {
            left.entry(footage.name.as_str()).or_default().push_back(id);
        }
        for now in read.iter().map(as_is) {
            if !found.contains_key(&now)
                && let Some(id) = left.get_mut(now.0).and_then(VecDeque::pop_front)
            {
                found.insert(now, id);
            }
        }
        read.iter().map(|now| found.get(&as_is(now)).copied()).collect()
    }

    /// Of which of its sources files say something else now. Each source once: what was read last counts.
    pub fn renewals(&self, read: &[Footage]) -> Vec<Renewal> {
        let mut last: BTreeMap<SourceId, usize> = BTreeMap::new();
        for (place, id) in self.known(read).into_iter().enumerate() {
            if let Some(id) = id {
                last.insert(id, place);
            }
        }
        let found = last.into_iter().filter_map(|(id, place)| {
            let differences = differences(self.source(id)?, &read[place]);
            (!differences.is_empty()).then_some(Renewal { id, place, differences })
        });
        found.collect()
    }

    /// A source as its file has it now, but for what was typed over; none where nothing of it changes.
    ///
    /// # Errors
    /// As [`Footage::updated`].
    pub fn renewed(&self, renewal: &Renewal, read: &[Footage]) -> Result<Option<Footage>, Error> {
        let (Some(there), Some(now)) = (self.source(renewal.id), read.get(renewal.place)) else { return Ok(None) };
        let aspects: Vec<Aspect> = renewal.differences.iter().map(|difference| difference.of).collect();
        let after = there.updated(now, &aspects)?;
        Ok((after != *there).then_some(after))
    }
}

fn differences(there: &Footage, now: &Footage) -> Vec<Difference> {
    let typed: Vec<Aspect> = there.corrected().collect();
    let said = now.origin.iter().flat_map(|origin| &origin.said);
    let differing = said.filter_map(|witness| {
        let of = witness.of;
        let (before, after) = (there.written(of), now.written(of));
        (before != after).then(|| Difference { of, before, after, typed: typed.contains(&of) })
    });
    differing.collect()
}
