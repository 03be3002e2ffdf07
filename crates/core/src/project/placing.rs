//! [`Placing`]: the methods of a project.

use crate::Method;

/// How a project places a picture: by a rule of the geometry alone, or around the subject.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Placing {
    /// By this rule.
    By(Method),
    /// The area is filled, and slid so that the subject of the source is whole; a source without a
    /// subject is only filled.
    AroundSubject,
}

impl Placing {
    /// Every method, in the order in which they are offered.
    pub const ALL: [Self; 7] = [
        Self::By(Method::Fit),
        Self::By(Method::Fill),
        Self::By(Method::Width),
        Self::By(Method::Height),
        Self::By(Method::Native),
        Self::By(Method::Stretch),
        Self::AroundSubject,
    ];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::By(method) => method.word(),
            Self::AroundSubject => "subject",
        }
    }

    /// What setting it is called.
    pub fn words(self) -> String {
        match self {
            Self::AroundSubject => "method around subject".to_owned(),
            Self::By(method) => format!("method {}", method.word()),
        }
    }

    /// The same where there may be none, and another one is followed.
    pub(super) fn words_or(method: Option<Self>, followed: &str) -> String {
        method.map_or_else(|| format!("follow {followed}"), Self::words)
    }

    /// The rule that sets the size.
    pub const fn rule(self) -> Method {
        match self {
            Self::By(method) => method,
            Self::AroundSubject => Method::Fill,
        }
    }
}

impl Default for Placing {
    fn default() -> Self {
        Self::By(Method::default())
    }
}

impl From<Method> for Placing {
    fn from(method: Method) -> Self {
        Self::By(method)
    }
}
