//! The numbers of stored things, each of its own type: a source's number names no frame.

use std::fmt;

macro_rules! ids {
    ($($(#[$doc:meta])* $name:ident, $noun:literal;)*) => {$(
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
        pub struct $name(i32);

        impl $name {
            /// What it is the number of, in a sentence.
            pub const NOUN: &'static str = $noun;

            /// The thing of this number.
            pub const fn new(number: i32) -> Self {
                Self(number)
            }

            /// The bare number.
            pub const fn number(self) -> i32 {
                self.0
            }
        }

        impl fmt::Display for $name {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                self.0.fmt(f)
            }
        }
    )*};
}

ids! {
    /// The number of a project.
    ProjectId, "project";
    /// The number of a source, the same in no other project.
    ///
    /// ```compile_fail
    /// # use ratiomet_core::project::{FrameId, SourceId};
    /// let frame: FrameId = SourceId::new(1);
    /// ```
    SourceId, "source";
    /// The number of a delivery frame.
    FrameId, "frame";
    /// The number of a step in a history.
    StepId, "step";
    /// The number of a state that a record has, or had.
    StateId, "state";
    /// The number of a frame of the house.
    HouseFrameId, "house frame";
    /// The number of an active picture of the house.
    ActivePictureId, "active picture";
    /// The number of a typing profile of the house.
    ProfileId, "typing profile";
}

/// A conversion, by the numbers of its source and its frame.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Pair {
    /// The source's number.
    pub source: SourceId,
    /// The frame's number.
    pub frame: FrameId,
}

impl Pair {
    /// The conversion of this source into this frame.
    pub const fn new(source: SourceId, frame: FrameId) -> Self {
        Self { source, frame }
    }
}
