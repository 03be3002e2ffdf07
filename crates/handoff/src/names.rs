//! Names of files: in anybody's letters, safe on every system, in every shell, and each once.

use std::collections::{HashMap, HashSet};

use unicode_normalization::UnicodeNormalization;
use unicode_normalization::char::is_combining_mark;

/// The most characters of a proposed name, without its ending.
const LONGEST: usize = 80;
/// The most bytes of it as UTF-8: systems keep 255, and a number and an ending follow.
const MOST_BYTES: usize = 200;

/// A name made of letters and digits of any script, dots, dashes and underlines, that begins with a letter or a digit.
///
/// ```
/// use ratiomet_handoff::names::safe;
/// assert_eq!(safe("A014 Furnace mouth"), "A014_Furnace_mouth");
/// assert_eq!(safe("Öfen – 日没"), "Öfen_日没");
/// assert_eq!(safe("-rf $(x); 'q'\n../.."), "rf_x_q");
/// assert_eq!(safe("***"), "unnamed");
/// ```
pub fn safe(name: &str) -> String {
    let mut safe = String::new();
    // Composed, as most systems and archives have it: one that takes letters apart finds the same file.
    for each in name.nfc() {
        match each {
            '.' | '-' => safe.push(each),
            _ if each.is_alphanumeric() => safe.push(each),
            // Part of the letter before it.
            _ if is_combining_mark(each) && safe.ends_with(|last| !is_mark(last)) => safe.push(each),
            _ if safe.ends_with('_') => {}
            _ => safe.push('_'),
        }
    }
    let safe = safe.trim_matches(is_mark);
    let mut short: String = safe.chars().take(LONGEST).collect();
    short.truncate(short.floor_char_boundary(MOST_BYTES));
    let short = short.trim_end_matches(is_mark);
    // Names that some systems keep for devices get an underline, whatever ending follows.
    let stem = short.split('.').next().unwrap_or_default();
    match short {
        "" => "unnamed".to_owned(),
        _ if is_device(stem) => format!("{stem}_{}", &short[stem.len()..]),
        short => short.to_owned(),
    }
}

const fn is_mark(each: char) -> bool {
    matches!(each, '.' | '-' | '_')
}

/// Names of devices on Windows, as Microsoft documents them under "Naming Files".
fn is_device(stem: &str) -> bool {
    let stem = stem.to_ascii_lowercase();
    let numbered = stem.strip_prefix("com").or_else(|| stem.strip_prefix("lpt"));
    matches!(stem.as_str(), "con" | "prn" | "aux" | "nul")
        || numbered.is_some_and(|number| number.len() == 1 && number.bytes().all(|digit| digit.is_ascii_digit()))
}

/// Names that were given already.
#[derive(Debug, Default)]
pub struct Names {
    given: HashSet<String>,
    /// The number that a name which was taken gets next.
    next: HashMap<String, u32>,
}

impl Names {
    /// A safe name that nobody has yet, not in other capitals either: with a number where it was taken.
    pub fn unique(&mut self, name: &str) -> String {
        let safe = safe(name);
        if self.given.insert(safe.to_lowercase()) {
            return safe;
        }
        let next = self.next.entry(safe.to_lowercase()).or_insert(2);
        loop {
            let unique = format!("{safe}_{next}");
            *next += 1;
            if self.given.insert(unique.to_lowercase()) {
                return unique;
            }
        }
    }
}
