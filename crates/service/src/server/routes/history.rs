//! The history of a project, and that of the house.

use axum::Json;
use axum::extract::{Query, State};
use ratiomet_store::{HOUSE, Head, Step, Steps, StoreError};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{GoRequest, History, HistoryHead, HistoryStep, Turn, read_go};
use serde::Deserialize;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, Numbers};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(history))
        .routes(routes!(history_head))
        .routes(routes!(go))
        .routes(routes!(go_in_library))
}

/// The resource of where a history stands.
pub fn head(head: Head) -> HistoryHead {
    let turn = |(to, label)| Turn { to, label };
    HistoryHead { at: head.at, undo: head.undo.map(turn), redo: head.redo.map(turn) }
}

/// Which steps are asked for.
#[derive(Deserialize)]
struct Older {
    before: Option<i32>,
}

/// Read the history of a project, the newest step first
#[utoipa::path(
    get,
    path = "/projects/{project}/history",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("before" = Option<i32>, Query, description = "Only steps with a smaller number"),
    ),
    responses(
        (status = 200, body = History),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn history(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Query(Older { before }): Query<Older>,
) -> Result<Json<History>, Refusal> {
    let Steps { at, steps, more } = app.with_store(move |store| store.steps(project, before)).await?;
    let step = |step: Step| HistoryStep {
        id: step.id,
        parent: step.parent,
        label: step.label,
        made_at: step.made_at,
        changes: step.changes,
        on_line: step.on_line,
    };
    Ok(Json(History { at, steps: steps.into_iter().map(step).collect(), more }))
}

/// Read where the history of a project stands: what undo and redo would do
#[utoipa::path(
    get,
    path = "/projects/{project}/history/head",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = HistoryHead),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn history_head(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Json<HistoryHead>, Refusal> {
    Ok(Json(head(app.with_store(move |store| store.head(project)).await?)))
}

/// Go to a step of the history: undo, redo, or any other
#[utoipa::path(
    post,
    path = "/projects/{project}/history/go",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = GoRequest,
    responses(
        (status = 200, body = HistoryHead),
        (status = 412, description = "The history has moved on; current says where it stands", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn go(State(app): State<App>, Numbers(project): Numbers<i32>, body: Body) -> Result<Json<HistoryHead>, Refusal> {
    go_to(&app, project, &body).await
}

/// Go to a step of the library's history
#[utoipa::path(
    post,
    path = "/library/history/go",
    tag = "library",
    request_body = GoRequest,
    responses(
        (status = 200, body = HistoryHead),
        (status = 412, description = "The history has moved on; current says where it stands", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn go_in_library(State(app): State<App>, body: Body) -> Result<Json<HistoryHead>, Refusal> {
    go_to(&app, HOUSE, &body).await
}

async fn go_to(app: &App, project: i32, body: &Body) -> Result<Json<HistoryHead>, Refusal> {
    let (from, to) = body.read(read_go)?;
    let gone = app
        .with_store(move |store| match store.go(project, from, to) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.head(project)?)),
            gone => gone.map(Ok),
        })
        .await?;
    gone.map(|at| Json(head(at))).map_err(|current| Refusal::stale(head(current)))
}
