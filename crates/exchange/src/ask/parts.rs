//! What a question is taken apart by: its words, of which each is used once.

use std::cell::RefCell;

use super::words::{Key, Word};

/// The words of a question, of which each is used once.
pub(super) struct Parts<'a> {
    words: &'a [Word],
    used: RefCell<Vec<bool>>,
}

impl<'a> Parts<'a> {
    pub fn of(words: &'a [Word]) -> Self {
        Self { words, used: RefCell::new(vec![false; words.len()]) }
    }

    /// The values and unknown words that no answer has used, as they were written.
    pub fn unused(&self) -> Vec<String> {
        let used = self.used.borrow();
        let left = self.words.iter().zip(used.iter()).filter(|(_, used)| !**used);
        left.filter_map(|(word, _)| word.text()).collect()
    }

    pub fn has(&self, key: Key) -> bool {
        self.words.contains(&Word::Key(key))
    }

    pub fn any(&self, keys: &[Key]) -> bool {
        keys.iter().any(|key| self.has(*key))
    }

    /// The next word that is not used and holds such a value.
    pub fn take<T>(&self, value: impl Fn(&'a Word) -> Option<T>) -> Option<T> {
        let mut used = self.used.borrow_mut();
        let (at, found) = self
            .words
            .iter()
            .enumerate()
            .filter(|(at, _)| !used[*at])
            .find_map(|(at, word)| Some((at, value(word)?)))?;
        used[at] = true;
        Some(found)
    }

    pub fn count(&self, is: impl Fn(&Word) -> bool) -> usize {
        self.words.iter().filter(|word| is(word)).count()
    }

    pub fn sizes(&self) -> usize {
        self.count(|word| matches!(word, Word::Size(_)))
    }

    pub fn size(&self) -> Option<[u32; 2]> {
        self.take(|word| if let Word::Size(size) = word { Some(*size) } else { None })
    }

    pub fn number(&self) -> Option<&'a str> {
        self.take(|word| if let Word::Number(text) = word { Some(text.as_str()) } else { None })
    }

    /// A ratio: with a colon, or else a bare number.
    pub fn ratio(&self) -> Option<&'a str> {
        let colon = self.take(|word| if let Word::Ratio(text) = word { Some(text.as_str()) } else { None });
        colon.or_else(|| self.number())
    }

    pub fn rate(&self) -> Option<&'a str> {
        self.take(|word| match word {
            Word::Rate(text) | Word::Number(text) => Some(text.as_str()),
            // 24000/1001 is a rate too.
            Word::Ratio(text) if text.contains('/') => Some(text.as_str()),
            _ => None,
        })
    }

    pub fn said_rate(&self) -> Option<&'a str> {
        self.take(|word| if let Word::Rate(text) = word { Some(text.as_str()) } else { None })
    }

    pub fn factor(&self) -> Option<&'a str> {
        self.take(|word| if let Word::Factor(text) = word { Some(text.as_str()) } else { None })
    }

    /// The percentage that is said.
    pub fn percent(&self) -> Option<&'a str> {
        self.take(|word| if let Word::Percent(text) = word { Some(text.as_str()) } else { None })
    }

    /// The share that has a name: the name, and the number.
    pub fn named_share(&self) -> Option<(&'static str, &'static str)> {
        self.take(|word| if let Word::Share(name, share) = word { Some((*name, *share)) } else { None })
    }

    /// So many thousands of pixels across.
    pub fn thousands(&self) -> Option<u32> {
        self.take(|word| if let Word::Thousands(across) = word { Some(*across) } else { None })
    }

    /// A bare number that is more than this, as a count of pixels.
    pub fn pixels_over(&self, least: u32) -> Option<u32> {
        self.take(|word| match word {
            Word::Number(text) => text.parse::<u32>().ok().filter(|pixels| *pixels > least),
            _ => None,
        })
    }

    /// The size that stands next to a factor, which is what is squeezed; else the one that goes into the other.
    pub fn squeezed_size(&self, reversed: bool) -> Option<[u32; 2]> {
        let factor = self.place(|word| matches!(word, Word::Factor(_)))?;
        let is_size = |at: &usize| matches!(self.words.get(*at), Some(Word::Size(_)));
        let on = usize::from(matches!(self.words.get(factor + 1), Some(Word::Key(Key::On | Key::Squeeze))));
        let beside = factor.checked_sub(1).filter(is_size).or_else(|| Some(factor + 1 + on).filter(is_size));
        let at = beside.or_else(|| {
            self.words
                .iter()
                .enumerate()
                .filter(|(_, word)| matches!(word, Word::Size(_)))
                .nth(usize::from(reversed))
                .map(|(at, _)| at)
        })?;
        let Word::Size(size) = &self.words[at] else { return None };
        self.used.borrow_mut()[at] = true;
        Some(*size)
    }

    /// Whether one word of the grammar stands somewhere before another.
    pub fn has_before(&self, key: Key, before: impl Fn(&Word) -> bool) -> bool {
        let at = self.place(|word| *word == Word::Key(key));
        at.zip(self.place(before)).is_some_and(|(key, other)| key < other)
    }

    /// The place of the first word that is like this.
    pub fn place(&self, is: impl Fn(&Word) -> bool) -> Option<usize> {
        self.words.iter().position(is)
    }

    /// The number that stands next to a word of the grammar, the one before it first.
    pub fn beside(&self, key: Key) -> Option<&'a str> {
        let at = self.place(|word| *word == Word::Key(key))?;
        let number = |at: usize| match self.words.get(at) {
            Some(Word::Number(text)) if !self.used.borrow()[at] => Some((at, text.as_str())),
            _ => None,
        };
        let (at, text) = at.checked_sub(1).and_then(number).or_else(|| number(at + 1))?;
        self.used.borrow_mut()[at] = true;
        Some(text)
    }

    /// Whether a number that may be meant stands next to a word of the grammar.
    pub fn has_beside(&self, key: Key, may_be: impl Fn(&str) -> bool) -> bool {
        let pair = |pair: &[Word]| match pair {
            [Word::Number(text), Word::Key(found)] | [Word::Key(found), Word::Number(text)] => {
                *found == key && may_be(text)
            }
            _ => false,
        };
        self.words.windows(2).any(pair)
    }

    /// The bare numbers and ratios, in order.
    pub fn numbers(&self) -> Vec<&'a str> {
        let text = |word: &'a Word| match word {
            Word::Number(text) | Word::Ratio(text) => Some(text.as_str()),
            _ => None,
        };
        self.words.iter().filter_map(text).collect()
    }

    /// Whether a ratio with a colon stands right behind the first size.
    pub fn ratio_behind_size(&self) -> bool {
        self.words.windows(2).any(|pair| matches!(pair, [Word::Size(_), Word::Ratio(_)]))
    }

    /// Whether a question begins with a word of the grammar.
    pub fn begins_with(&self, key: Key) -> bool {
        self.words.first() == Some(&Word::Key(key))
    }

    /// A ratio, or a number, whichever comes first.
    pub fn first_ratio(&self) -> Option<&'a str> {
        self.take(|word| match word {
            Word::Number(text) | Word::Ratio(text) => Some(text.as_str()),
            _ => None,
        })
    }

    /// The next ratio that a picture may have, or that is written with a colon.
    pub fn next_picture_ratio(&self) -> Option<&'a str> {
        self.take(|word| match word {
            Word::Ratio(text) => Some(text.as_str()),
            Word::Number(text) => Some(text.as_str()).filter(|text| {
                ratiomet_core::fraction::parse(text, ratiomet_core::fraction::Sign::Never)
                    .is_ok_and(|value| value < ratiomet_core::Exact::whole(12))
            }),
            _ => None,
        })
    }

    /// Marks a number that is written so as used.
    pub fn use_number(&self, number: &str) {
        self.take(|word| matches!(word, Word::Number(text) if text == number).then_some(()));
    }

    /// Whether the first size comes out of the second one.
    pub fn reversed(&self) -> bool {
        let mut sizes = self.words.iter().enumerate().filter(|(_, word)| matches!(word, Word::Size(_)));
        let (Some((first, _)), Some((second, _))) = (sizes.next(), sizes.next()) else { return false };
        let between = &self.words[first..second];
        // "B from A", "B bigger than A", "fill B with A".
        let said = |key| between.contains(&Word::Key(key));
        said(Key::From) || said(Key::Than) || (said(Key::With) && self.words[..first].contains(&Word::Key(Key::Fill)))
    }

    /// The two sizes, from the one into the other: "B from A" is "A into B".
    pub fn both_sizes(&self) -> Option<([u32; 2], [u32; 2])> {
        let reversed = self.reversed();
        let (one, other) = (self.size()?, self.size()?);
        Some(if reversed { (other, one) } else { (one, other) })
    }
}
