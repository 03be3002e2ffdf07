//! From words to the question that they ask.

use super::parts::Parts;
use super::question::Question;
use super::words::{Key, Word};
use super::{frames, numbers, placed, shapes, sphere, time};

/// What is asked; none for what is no question.
pub(super) fn of(parts: &Parts<'_>) -> Option<Question> {
    let sizes = parts.sizes();
    if parts.count(|word| matches!(word, Word::Megabits(_) | Word::Kilobits(_) | Word::Gigabytes(_))) > 0 {
        time::weight(parts)
    } else if sphere::is_asked(parts) {
        sphere::of(parts)
    } else if parts.has(Key::Level) {
        time::level(parts)
    } else if parts.has(Key::Screen) && sizes >= 2 {
        frames::screen(parts)
    } else if parts.has(Key::Proxy) {
        frames::proxies(parts)
    } else if parts.has(Key::Safe) {
        frames::safe(parts)
    } else if shapes::is_squeeze_wanted(parts) {
        shapes::squeeze_wanted(parts)
    } else if frames::is_share(parts) {
        frames::share(parts)
    } else if shapes::is_squeezed(parts) {
        if sizes >= 2 { placed::squeezed(parts) } else { shapes::squeezed(parts) }
    } else if time::is_cadence(parts) {
        time::cadence(parts)
    } else if sizes >= 2 {
        placed::two(parts)
    } else if sizes == 1 {
        frames::one(parts)
    } else {
        numbers::of(parts)
    }
}
