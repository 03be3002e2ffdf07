//! Names of files: safe on every system, in every shell, and each once.

use std::collections::HashSet;

/// The most characters of a proposed name, without its ending.
const LONGEST: usize = 80;

/// A name made of letters, digits, dots, dashes and underlines, that begins with a letter or a digit.
///
/// ```
/// use ratiomet_handoff::names::safe;
/// assert_eq!(safe("A014 Furnace mouth"), "A014_Furnace_mouth");
/// assert_eq!(safe("-rf $(x); 'q'\n../.."), "rf_x_q");
/// assert_eq!(safe("***"), "unnamed");
/// ```
pub fn safe(name: &str) -> String {
    let mut safe = String::new();
    for each in name.chars() {
        match each {
            'a'..='z' | 'A'..='Z' | '0'..='9' | '.' | '-' => safe.push(each),
            _ if safe.ends_with('_') => {}
            _ => safe.push('_'),
        }
    }
    let safe = safe.trim_matches(['.', '-', '_', ' ']);
    let short: String = safe.chars().take(LONGEST).collect();
    let short = short.trim_end_matches(['.', '-', '_']);
    // Names that some systems keep for devices get an underline.
    let device = matches!(short.to_ascii_lowercase().as_str(), "con" | "prn" | "aux" | "nul");
    match short {
        "" => "unnamed".to_owned(),
        short if device => format!("{short}_"),
        short => short.to_owned(),
    }
}

/// Names that were given already.
#[derive(Debug, Default)]
pub struct Names(HashSet<String>);

impl Names {
    /// A safe name that nobody has yet: with a number where it was taken.
    pub fn unique(&mut self, name: &str) -> String {
        let safe = safe(name);
        let mut unique = safe.clone();
        let mut number = 2;
        while !self.0.insert(unique.to_ascii_lowercase()) {
            unique = format!("{safe}_{number}");
            number += 1;
        }
        unique
    }
}
