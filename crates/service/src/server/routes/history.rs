//! The history of a project, and that of the house.

use axum::extract::State;
use ratiomet_core::project::{Name, ProjectId, StepId};
use ratiomet_store::{DAYS, Head, InTheWay, MOST_STEPS, Step, Steps, StoreError, Undo, Which};
use ratiomet_wire::describe::record;
use ratiomet_wire::names::{GoValues, TakeBackValues};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{self, GoRequest, History, HistoryHead, HistoryStep, TakeBackRequest, Turn, UndoTurn};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers, Query};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(history))
        .routes(routes!(history_head))
        .routes(routes!(go))
        .routes(routes!(take_back))
        .routes(routes!(go_in_library))
}

/// The resource of where a history stands.
pub fn head(head: Head) -> HistoryHead {
    let undo = |Undo { to, label, takes_back }: Undo| UndoTurn {
        to: to.number(),
        label,
        takes_back: takes_back.map(StepId::number),
    };
    let redo = |(to, label): (StepId, String)| Turn { to: to.number(), label };
    let in_the_way = |InTheWay { undo, label, by }: InTheWay| project::InTheWay { undo, label, by };
    HistoryHead {
        at: head.at.number(),
        undo: head.undo.map(undo),
        redo: head.redo.map(redo),
        in_the_way: head.in_the_way.map(in_the_way),
    }
}

/// Which steps are asked for.
struct Older {
    before: Option<StepId>,
    by: Option<Name>,
}

record!(
    /// Which steps are asked for.
    "OlderSteps", "queries" for Older {
        /// Only steps with a smaller number.
        before: Option<StepId> = Default("null"), |older| older.before;
        /// Only steps of this person.
        by: Option<Name> = Default("null"), |older| older.by.clone();
    }
    |before, by| Ok(Older { before, by })
);

/// Read the history of a project, the newest step first
#[utoipa::path(
    get,
    path = "/projects/{project}/history",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("before" = Option<i32>, Query, description = "Only steps with a smaller number"),
        ("by" = Option<String>, Query, description = "Only steps of this person"),
    ),
    responses(
        (status = 200, body = History),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "A query that is not known", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn history(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Query(Older { before, by }): Query<Older>,
) -> Result<Reply, Refusal> {
    let step = |step: Step| HistoryStep {
        id: step.id.number(),
        parent: step.parent.map(StepId::number),
        label: step.label,
        made_at: step.made_at,
        made_by: step.made_by,
        takes_back: step.takes_back.map(StepId::number),
        changes: step.changes,
        on_line: step.on_line,
    };
    app.run(move |store| {
        let which = Which { before, by: by.map(|name| name.as_str().to_owned()) };
        let Steps { at, steps, more, people } = store.steps(ProjectId::new(project), which)?;
        let steps = steps.into_iter().map(step).collect();
        Ok(Reply::json(&History { at: at.number(), steps, more, people, most_steps: MOST_STEPS, branch_days: DAYS }))
    })
    .await
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
async fn history_head(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Reply, Refusal> {
    app.run(move |store| Ok(Reply::json(&head(store.head(ProjectId::new(project))?)))).await
}

/// Go to a step of the history: undo, redo, or any other
#[utoipa::path(
    post,
    path = "/projects/{project}/history/go",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = GoValues,
    responses(
        (status = 200, body = HistoryHead),
        (status = 412, description = "The history has moved on; current says where it stands", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn go(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Body(GoRequest { from, to }): Body<GoRequest>,
) -> Result<Reply, Refusal> {
    let project = ProjectId::new(project);
    app.run(move |store| gone(store.go(project, from, to), || store.head(project))).await
}

/// Take your newest change back when others have made steps since: what it changed becomes what it was before, by a new step
#[utoipa::path(
    post,
    path = "/projects/{project}/history/take-back",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = TakeBackValues,
    responses(
        (status = 200, body = HistoryHead),
        (status = 409, description = "Working frames would lead to each other", body = Problem, content_type = "application/problem+json"),
        (status = 412, description = "The history has moved on, or undo takes another step back; current says where it stands", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn take_back(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Body(TakeBackRequest { from, step }): Body<TakeBackRequest>,
) -> Result<Reply, Refusal> {
    let project = ProjectId::new(project);
    app.run(move |store| gone(store.take_back(project, from, step), || store.head(project))).await
}

/// Go to a step of the library's history
#[utoipa::path(
    post,
    path = "/library/history/go",
    tag = "library",
    request_body = GoValues,
    responses(
        (status = 200, body = HistoryHead),
        (status = 412, description = "The history has moved on; current says where it stands", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn go_in_library(
    State(app): State<App>,
    Body(GoRequest { from, to }): Body<GoRequest>,
) -> Result<Reply, Refusal> {
    app.run(move |store| gone(store.go_in_house(from, to), || store.house_head())).await
}

fn gone(gone: Result<Head, StoreError>, now: impl FnOnce() -> Result<Head, StoreError>) -> Result<Reply, Refusal> {
    match gone {
        Err(StoreError::Stale { .. }) => Err(Refusal::stale(head(now()?))),
        gone => Ok(Reply::json(&head(gone?))),
    }
}
