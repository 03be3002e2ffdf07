//! [`Name`] and [`Note`]: words that people enter.

/// What a project, a clip or a frame is called.
///
/// # Guarantees
/// From 1 to 120 characters, none of them a control character, no spaces at the ends.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Name(String);

impl Name {
    /// The most characters that a name may have.
    pub const LONGEST: usize = 120;

    /// The name, with spaces at the ends taken off; `None` when it breaks the guarantee.
    ///
    /// ```
    /// # use ratiomet_core::project::Name;
    /// assert_eq!(Name::new(" Harbour wall ").unwrap().as_str(), "Harbour wall");
    /// assert!(Name::new("  ").is_none());
    /// ```
    pub fn new(text: &str) -> Option<Self> {
        let text = text.trim();
        let length = text.chars().count();
        let sound = (1..=Self::LONGEST).contains(&length) && !text.chars().any(char::is_control);
        sound.then(|| Self(text.to_owned()))
    }

    /// The name as text.
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

/// Free words beside a clip or a frame.
///
/// # Guarantees
/// At most 1,000 characters, control characters only as line ends.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Note(String);

impl Note {
    /// The most characters that a note may have.
    pub const LONGEST: usize = 1_000;

    /// The note; `None` when it breaks the guarantee.
    pub fn new(text: &str) -> Option<Self> {
        let sound = text.chars().count() <= Self::LONGEST && !text.chars().any(|c| c.is_control() && c != '\n');
        sound.then(|| Self(text.to_owned()))
    }

    /// The note as text.
    pub fn as_str(&self) -> &str {
        &self.0
    }
}
