//! Numbers in sentences: ordinals and plurals, the same everywhere.

/// A number that counts places: `"2nd"`, `"21st"`, `"112th"`.
///
/// ```
/// use ratiomet_core::words::ordinal;
/// assert_eq!([1, 2, 3, 4, 11, 12, 13, 21, 111].map(ordinal), [
///     "1st", "2nd", "3rd", "4th", "11th", "12th", "13th", "21st", "111th",
/// ]);
/// ```
pub fn ordinal(number: i64) -> String {
    let ending = match (number % 10, number % 100) {
        (_, 11..=13) => "th",
        (1, _) => "st",
        (2, _) => "nd",
        (3, _) => "rd",
        _ => "th",
    };
    format!("{number}{ending}")
}

/// So many of something: `"1 clip"`, `"2 clips"`. The plural is made with an s.
///
/// ```
/// use ratiomet_core::words::counted;
/// assert_eq!((counted(1, "clip"), counted(0, "clip")), ("1 clip".to_owned(), "0 clips".to_owned()));
/// ```
pub fn counted(count: usize, noun: &str) -> String {
    if count == 1 { format!("1 {noun}") } else { format!("{count} {noun}s") }
}

/// The first letter made a capital.
pub fn sentence(words: &str) -> String {
    let mut letters = words.chars();
    match letters.next() {
        Some(first) => first.to_uppercase().chain(letters).collect(),
        None => String::new(),
    }
}
