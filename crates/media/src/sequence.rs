//! Image sequences: many numbered stills that are one clip.

use std::collections::BTreeMap;

/// A clip: one file, or the stills of a sequence.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Clip {
    /// The file, or the first of the sequence.
    pub first: String,
    /// What it is called: for a sequence the name with a mark for each digit, and the numbers.
    pub name: String,
    /// How many files it has.
    pub count: usize,
}

/// The endings of stills that come in sequences.
const STILLS: [&str; 9] = ["png", "jpg", "jpeg", "tif", "tiff", "exr", "dpx", "dng", "cin"];
/// How many stills of one name make a sequence.
const FEWEST: usize = 2;

/// Puts the stills of sequences together; the order is that of the first files.
///
/// ```
/// let files = ["b.mov", "A/shot.0101.exr", "A/shot.0100.exr", "A/one.png"].map(String::from);
/// let clips = ratiomet_media::sequence::clips(&files);
/// assert_eq!(clips[1].name, "A/shot.####.exr 100-101");
/// assert_eq!((clips[1].first.as_str(), clips[1].count, clips.len()), ("A/shot.0100.exr", 2, 3));
/// ```
pub fn clips(files: &[String]) -> Vec<Clip> {
    let mut groups: BTreeMap<(String, String, usize), Vec<(u64, usize)>> = BTreeMap::new();
    for (at, file) in files.iter().enumerate() {
        if let Some((before, digits, after)) = numbered(file) {
            // OK because digits of this many fit.
            let number = digits.parse().unwrap_or(0);
            groups.entry((before.to_owned(), after.to_owned(), digits.len())).or_default().push((number, at));
        }
    }
    let mut clips: BTreeMap<usize, Clip> = files
        .iter()
        .enumerate()
        .map(|(at, file)| (at, Clip { first: file.clone(), name: file.clone(), count: 1 }))
        .collect();
    for ((before, after, digits), mut members) in groups {
        if members.len() < FEWEST {
            continue;
        }
        members.sort_unstable();
        let place = members.iter().map(|(_, at)| *at).min().unwrap_or_default();
        let (first, last) = (members[0], members[members.len() - 1]);
        let name = format!("{before}{}{after} {}-{}", "#".repeat(digits), first.0, last.0);
        for (_, at) in &members {
            clips.remove(at);
        }
        clips.insert(place, Clip { first: files[first.1].clone(), name, count: members.len() });
    }
    clips.into_values().collect()
}

/// A still's name before its last digits, those, and what follows.
fn numbered(file: &str) -> Option<(&str, &str, &str)> {
    let (stem, ending) = file.rsplit_once('.')?;
    if !STILLS.contains(&ending.to_ascii_lowercase().as_str()) {
        return None;
    }
    let before = stem.trim_end_matches(|digit: char| digit.is_ascii_digit());
    let digits = &stem[before.len()..];
    if (2..=12).contains(&digits.len()) { Some((before, digits, &file[stem.len()..])) } else { None }
}
