//! What happens now, as events that a page listens to.

use std::convert::Infallible;
use std::time::Duration;

use axum::extract::State;
use axum::http::HeaderMap;
use axum::response::sse::{Event, KeepAlive, Sse};
use ratiomet_core::project::ProjectId;
use ratiomet_wire::Text;
use ratiomet_wire::describe::record;
use ratiomet_wire::problem::Problem;
use serde::Serialize;
use tokio::sync::broadcast::error::RecvError;
use tokio::sync::mpsc;
use tokio_stream::wrappers::ReceiverStream;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::entrance;
use crate::server::live::{News, Presence, Present};
use crate::server::refusal::Refusal;
use crate::server::request::Query;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(events))
}

/// How often it is looked whether whoever listens is still logged in, and still there.
const LOOKED_EVERY: Duration = Duration::from_secs(10);

/// What somebody listens to.
struct Wanted {
    project: Option<ProjectId>,
    at: Text<60>,
}

record!(
    /// What somebody listens to.
    "WantedEvents", "queries" for Wanted {
        /// Only of this project; of all where it is left out.
        project: Option<ProjectId> = Default("null"), |wanted| wanted.project;
        /// The screen that is open, as others are told.
        at: Text<60> = Default(r#""""#), |wanted| wanted.at.clone();
    }
    |project, at| Ok(Wanted { project, at })
);

/// The data of a `project` event: a project has changed, or is shown to whoever has just come
#[derive(Serialize, ToSchema)]
pub(super) struct ProjectNews {
    /// The project.
    project: i32,
    /// The step after which it is as it is now; null when it is deleted.
    at: Option<i32>,
}

/// An event as it is sent
#[derive(ToSchema)]
#[expect(dead_code, reason = "it describes what is written line by line")]
struct Happening {
    /// `project`, `people` or `all`.
    #[schema(example = "project")]
    event: String,
    /// What there is to say of it, as JSON.
    data: String,
}

/// Listen to what happens: server-sent events
///
/// `project` events say that a project has changed (data: `ProjectNews`), `people` events who else looks at it now
/// (data: a list of `Present`), an `all` event that so much has changed that everything should be read again.
#[utoipa::path(
    get,
    path = "/events",
    tag = "projects",
    params(
        ("project" = Option<i32>, Query, description = "Only of this project; of all where it is left out"),
        ("at" = Option<String>, Query, description = "The screen that is open, as others are told"),
    ),
    responses(
        (status = 200, description = "Events, as they happen", body = Happening, content_type = "text/event-stream"),
        (status = 422, description = "A query that is not known", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn events(
    State(app): State<App>,
    headers: HeaderMap,
    Query(Wanted { project, at }): Query<Wanted>,
) -> Result<Sse<impl tokio_stream::Stream<Item = Result<Event, Infallible>>>, Refusal> {
    let (events, taken) = mpsc::channel(16);
    let news = app.live.listen();
    let presence = entrance::caller()
        .zip(project)
        .map(|(caller, project)| app.live.enter(project, Present { name: caller.name, at: at.0 }));
    tokio::spawn(async move {
        let Some(mut news) = news else { return };
        let mut looked = tokio::time::interval(LOOKED_EVERY);
        let first = match project {
            Some(project) => vec![Some(News::Changed(project)), Some(News::Moved(project))],
            None => Vec::new(),
        };
        let mut first = first.into_iter();
        loop {
            let heard = match first.next() {
                Some(first) => Ok(first),
                None => tokio::select! {
                    heard = news.recv() => heard.map(Some),
                    _ = looked.tick() => {
                        if !app.entrance.is_in(&headers) {
                            return;
                        }
                        continue;
                    }
                    () = events.closed() => return,
                },
            };
            let event = match heard {
                Ok(Some(news)) => event(&app, project, presence.as_ref(), news).await,
                Ok(None) => None,
                Err(RecvError::Lagged(_)) => Some(Event::default().event("all").data("{}")),
                Err(RecvError::Closed) => return,
            };
            if let Some(event) = event
                && events.send(Ok(event)).await.is_err()
            {
                return;
            }
        }
    });
    Ok(Sse::new(ReceiverStream::new(taken)).keep_alive(KeepAlive::new().interval(LOOKED_EVERY)))
}

/// What somebody is told who listens to a project, or to all.
async fn event(app: &App, wanted: Option<ProjectId>, presence: Option<&Presence>, news: News) -> Option<Event> {
    match news {
        News::Changed(project) if wanted.is_none_or(|wanted| wanted == project) => {
            let at = app.run(move |store| Ok(store.contents(project)?.at.number())).await.ok();
            let data = ProjectNews { project: project.number(), at };
            Event::default().event("project").json_data(data).ok()
        }
        News::Moved(project) if wanted == Some(project) => {
            Event::default().event("people").json_data(presence?.others()).ok()
        }
        News::Changed(_) | News::Moved(_) => None,
    }
}
