//! What happens now: which projects change, and who looks at which.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use ratiomet_core::project::ProjectId;
use serde::Serialize;
use tokio::sync::broadcast;
use utoipa::ToSchema;

/// How many news may wait for somebody who does not take them; then all is read anew.
const WAITING: usize = 256;

/// Something that has happened.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum News {
    /// A project has changed.
    Changed(ProjectId),
    /// Somebody has come, gone, or opened another screen of a project.
    Moved(ProjectId),
}

/// Somebody who looks at a project.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Present {
    /// Their name.
    pub name: String,
    /// The screen that they have open.
    pub at: String,
}

/// What happens now.
pub struct Live {
    present: Mutex<BTreeMap<u64, (ProjectId, Present)>>,
    news: Mutex<Option<broadcast::Sender<News>>>,
}

impl Default for Live {
    fn default() -> Self {
        Self { present: Mutex::default(), news: Mutex::new(Some(broadcast::channel(WAITING).0)) }
    }
}

impl Live {
    fn present(&self) -> MutexGuard<'_, BTreeMap<u64, (ProjectId, Present)>> {
        self.present.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn news(&self) -> MutexGuard<'_, Option<broadcast::Sender<News>>> {
        self.news.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn say(&self, news: News) {
        if let Some(sender) = &*self.news() {
            // OK because it only fails where nobody listens.
            let _ = sender.send(news);
        }
    }

    /// A project has changed.
    pub fn changed(&self, project: ProjectId) {
        self.say(News::Changed(project));
    }

    /// What happens from now on; none once the server stops.
    pub fn listen(&self) -> Option<broadcast::Receiver<News>> {
        self.news().as_ref().map(broadcast::Sender::subscribe)
    }

    /// Nothing more happens: whoever listens is let go.
    pub fn stop(&self) {
        self.news().take();
    }

    /// Somebody looks at a project, until what this gives is dropped.
    pub fn enter(self: &Arc<Self>, project: ProjectId, who: Present) -> Presence {
        let mut present = self.present();
        let number = present.last_key_value().map_or(1, |(number, _)| number + 1);
        present.insert(number, (project, who));
        drop(present);
        self.say(News::Moved(project));
        Presence { live: self.clone(), number, project }
    }
}

/// Somebody looks at a project as long as this is there.
pub struct Presence {
    live: Arc<Live>,
    number: u64,
    project: ProjectId,
}

impl Presence {
    /// Who else looks at it, each once, with the screen opened last.
    pub fn others(&self) -> Vec<Present> {
        let present = self.live.present();
        let Some((_, own)) = present.get(&self.number) else { return Vec::new() };
        let here = present.values().filter(|(project, who)| *project == self.project && who.name != own.name);
        let by_name: BTreeMap<&str, &Present> = here.map(|(_, who)| (who.name.as_str(), who)).collect();
        by_name.into_values().cloned().collect()
    }
}

impl Drop for Presence {
    fn drop(&mut self) {
        self.live.present().remove(&self.number);
        self.live.say(News::Moved(self.project));
    }
}

#[cfg(test)]
mod tests {
    use std::sync::Arc;

    use ratiomet_core::project::ProjectId;

    use super::{Live, News, Present};

    fn who(name: &str, at: &str) -> Present {
        Present { name: name.to_owned(), at: at.to_owned() }
    }

    #[test]
    fn each_sees_who_else_looks_at_the_same_project() {
        let live = Arc::new(Live::default());
        let mut news = live.listen().expect("it goes on");
        let (kiln, other) = (ProjectId::new(1), ProjectId::new(2));
        let ada = live.enter(kiln, who("Ada", "Board"));
        let ben = live.enter(kiln, who("Ben", "Footage"));
        let _cleo = live.enter(other, who("Cleo", "Board"));
        let again = live.enter(kiln, who("Ben", "Hand-off"));
        assert_eq!(ada.others(), [who("Ben", "Hand-off")], "once, where he is now");
        assert_eq!(again.others(), [who("Ada", "Board")]);
        drop((ben, again));
        assert_eq!(ada.others(), []);
        live.changed(kiln);
        let mut heard = Vec::new();
        while let Ok(each) = news.try_recv() {
            heard.push(each);
        }
        assert_eq!(heard.last(), Some(&News::Changed(kiln)));
        live.stop();
        assert!(live.listen().is_none());
    }
}
