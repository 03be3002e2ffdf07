//! Where a value of a request stands.

/// Where a value stands. It becomes a JSON pointer (RFC 6901) only when something is refused.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Path {
    steps: [Option<PathStep>; Path::DEEPEST],
}

#[derive(Clone, Copy, Debug)]
pub(super) enum PathStep {
    Name(&'static str),
    Index(usize),
}

impl Path {
    /// No request nests its fields deeper.
    const DEEPEST: usize = 8;

    pub fn then(mut self, step: PathStep) -> Self {
        if let Some(free) = self.steps.iter_mut().find(|step| step.is_none()) {
            *free = Some(step);
        }
        self
    }

    pub fn pointer(&self) -> String {
        let mut text = String::new();
        for step in self.steps.iter().flatten() {
            text.push('/');
            match step {
                PathStep::Name(name) => text.push_str(name),
                PathStep::Index(at) => text.push_str(&at.to_string()),
            }
        }
        text
    }

    /// The pointer of a key that a stranger chose.
    pub fn pointer_to(&self, key: &str) -> String {
        format!("{}/{}", self.pointer(), key.replace('~', "~0").replace('/', "~1"))
    }
}
