//! What cannot be read and is kept all the same.

/// A record that cannot be read, as it is kept.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SetAside {
    /// The word for what it is.
    pub kind: String,
    /// Its number.
    pub id: i32,
    /// Why it cannot be read.
    pub why: String,
    /// The format in which it was written.
    pub format: i32,
    /// Its text.
    pub body: String,
}
