//! [`Clock`]: what tells the time to a store.

use std::fmt;
use std::sync::Arc;
use std::time::{SystemTime, UNIX_EPOCH};

/// Tells the time in milliseconds since 1970, UTC; one that can be set, for those who cannot wait 30 days.
#[derive(Clone)]
pub struct Clock(Arc<dyn Fn() -> i64 + Send + Sync>);

impl Clock {
    /// A clock that tells what `time` says.
    pub fn new(time: impl Fn() -> i64 + Send + Sync + 'static) -> Self {
        Self(Arc::new(time))
    }

    pub(crate) fn now(&self) -> i64 {
        (self.0)()
    }
}

/// The clock of the machine.
impl Default for Clock {
    fn default() -> Self {
        Self::new(|| {
            let since = SystemTime::now().duration_since(UNIX_EPOCH);
            // A machine whose clock stands before 1970 is taken to stand at it.
            since.map_or(0, |since| i64::try_from(since.as_millis()).unwrap_or(i64::MAX))
        })
    }
}

impl fmt::Debug for Clock {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_tuple("Clock").field(&self.now()).finish()
    }
}
