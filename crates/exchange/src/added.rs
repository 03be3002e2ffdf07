//! [`Added`]: a file of somebody else with ours added.

use std::collections::{HashMap, HashSet};

use percent_encoding::percent_decode_str;
use ratiomet_core::project::Package;
use serde::Serialize;
use serde_json::Value;
use utoipa::ToSchema;

/// The most clips without a source that are named.
const MOST_NAMED: usize = 50;
/// How alike two names are at least that may mean the same, by Jaro and Winkler: 1 is equal.
const ALIKE: f64 = 0.75;

/// A file of somebody else with ours added.
#[derive(Debug, Default)]
pub struct Added {
    /// The file.
    pub bytes: Vec<u8>,
    /// How many of its clips or canvases are a source.
    pub found: usize,
    /// How many framings they have got.
    pub placements: usize,
    /// The sources of which it has none.
    pub missing: Vec<String>,
    /// Its clips or canvases that are no source, each name once, of many the first ones.
    pub unmatched: Vec<Unmatched>,
    seen: HashSet<usize>,
}

/// A clip or canvas that is no source.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Unmatched {
    /// What it is called in the file.
    pub name: String,
    /// The source whose name is most like it, if one is.
    pub nearest: Option<String>,
}

impl Added {
    /// Notes a clip or canvas that is a source, and how many framings it gets.
    pub(crate) fn found(&mut self, source: usize, placements: usize) {
        self.found += 1;
        self.placements += placements;
        self.seen.insert(source);
    }

    /// Notes one that is none, called as the last of its names that says something.
    pub(crate) fn not_found(&mut self, package: &Package, names: &[String]) {
        let Some(name) = names.iter().rev().find(|name| !name.is_empty()) else { return };
        if self.unmatched.len() < MOST_NAMED && self.unmatched.iter().all(|known| known.name != *name) {
            self.unmatched.push(Unmatched { name: name.clone(), nearest: nearest(package, names) });
        }
    }

    /// Writes the file down; one in which nothing was found is refused.
    pub(crate) fn settle(mut self, package: &Package, file: &Value) -> Result<Self, String> {
        let sources = package.sources.iter().enumerate();
        self.missing = sources
            .filter(|(at, _)| !self.seen.contains(at))
            .map(|(_, (_, footage))| footage.name.as_str().to_owned())
            .collect();
        if self.found == 0 {
            let near = self.unmatched.iter().find_map(|each| Some((&each.name, each.nearest.as_ref()?)));
            let near = near.map_or_else(String::new, |(name, source)| format!("; its {name} is most like {source}"));
            return Err(format!("no name in this file matches a selected source{near}"));
        }
        self.bytes = pretty(file);
        Ok(self)
    }
}

/// The sources of a package by what they are called.
pub(crate) struct SourceNames<'a> {
    exact: HashMap<&'a str, usize>,
    /// Those that are the only ones of their name without the ending of a file.
    stems: HashMap<&'a str, Option<usize>>,
    /// The same in small letters.
    small: HashMap<String, Option<usize>>,
}

impl<'a> SourceNames<'a> {
    pub fn of(package: &Package<'a>) -> Self {
        let mut names = Self { exact: HashMap::new(), stems: HashMap::new(), small: HashMap::new() };
        for (at, (_, source)) in package.sources.iter().enumerate() {
            let name = source.name.as_str();
            names.exact.entry(name).or_insert(at);
            names.stems.entry(stem(name)).and_modify(|only| *only = None).or_insert(Some(at));
            names.small.entry(stem(name).to_lowercase()).and_modify(|only| *only = None).or_insert(Some(at));
        }
        names
    }

    /// The source that goes by one of these names, the first of them counting most: as it stands, else without the ending
    /// of a file, else in other capitals. Where several would do that way, none does.
    pub fn find(&self, names: &[String]) -> Option<usize> {
        let find = |by: &dyn Fn(&str) -> Option<usize>| names.iter().find_map(|name| by(name));
        find(&|name| self.exact.get(name).copied())
            .or_else(|| find(&|name| self.stems.get(stem(name)).copied().flatten()))
            .or_else(|| find(&|name| self.small.get(&stem(name).to_lowercase()).copied().flatten()))
    }
}

/// The file that an address names, without the folders it is in.
pub(crate) fn file_of(url: &str) -> String {
    let path = url.split(['?', '#']).next().unwrap_or_default();
    let file = path.rsplit(['/', '\\']).next().unwrap_or_default();
    percent_decode_str(file).decode_utf8_lossy().into_owned()
}

/// A name without the ending of a file. The number of a version is none.
fn stem(name: &str) -> &str {
    let is_ending = |ending: &str| {
        let version = ending.trim_start_matches(['v', 'V']);
        (2..=4).contains(&ending.len())
            && ending.bytes().all(|byte| byte.is_ascii_alphanumeric())
            && !version.bytes().all(|byte| byte.is_ascii_digit())
    };
    name.rsplit_once('.').filter(|(_, ending)| is_ending(ending)).map_or(name, |(stem, _)| stem)
}

/// The source whose name is most like one of these, if it is like it.
fn nearest(package: &Package, names: &[String]) -> Option<String> {
    let plain = |name: &str| stem(name).to_lowercase();
    let names: Vec<String> = names.iter().map(|name| plain(name)).collect();
    let like = |source: &str| names.iter().map(|name| strsim::jaro_winkler(name, &plain(source))).fold(0.0, f64::max);
    let sources = package.sources.iter().map(|(_, footage)| footage.name.as_str());
    let (best, source) = sources.map(|source| (like(source), source)).max_by(|one, other| one.0.total_cmp(&other.0))?;
    (best >= ALIKE).then(|| source.to_owned())
}

/// A file as it is written.
fn pretty(file: &Value) -> Vec<u8> {
    serde_json::to_vec_pretty(file).expect("JSON values have text keys")
}

#[cfg(test)]
mod tests {
    use super::{file_of, stem};

    #[test]
    fn files_are_known_by_their_names() {
        for (url, file) in [
            ("file:///mnt/day%203/A014%20Furnace.mov", "A014 Furnace.mov"),
            ("D:\\footage\\T1987.mxf", "T1987.mxf"),
            ("clip.mov?frame=1#t", "clip.mov"),
            ("", ""),
        ] {
            assert_eq!(file_of(url), file);
        }
        for (name, without) in [("A014.mov", "A014"), ("A014.v2", "A014.v2"), ("take 1.5", "take 1.5"), (".mp4", "")] {
            assert_eq!(stem(name), without);
        }
    }
}
