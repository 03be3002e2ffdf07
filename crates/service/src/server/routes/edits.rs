//! Changes of many things at once.

use axum::extract::State;
use ratiomet_core::project::{Edit, ProjectId};
use ratiomet_store::Outcome;
use ratiomet_wire::names::EditRequest;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::EditResult;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::one;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{LongBody, Numbers};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(edit)).routes(routes!(preview_edit))
}

fn result(outcome: Outcome) -> EditResult {
    let Outcome { step, label, changed, unchanged, skipped, left_out, sources, frames, followed } = outcome;
    EditResult {
        step: step.map(|step| step.number()),
        label,
        changed,
        unchanged,
        skipped,
        left_out,
        sources: sources.into_iter().map(|id| id.number()).collect(),
        frames: frames.into_iter().map(|id| id.number()).collect(),
        framings: followed.into(),
    }
}

/// Change many things at once, as one step of the history
#[utoipa::path(
    post,
    path = "/projects/{project}/edits",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = EditRequest,
    responses(
        (status = 200, body = EditResult),
        (status = 404, description = "A record that it names is unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "A record that it names is deleted", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field, or the record that would not be sound; nothing was changed", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn edit(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    LongBody(edit): LongBody<Edit>,
) -> Result<Reply, Refusal> {
    let project = ProjectId::new(project);
    app.run(move |store| Ok(Reply::json(&result(one::edit(store, project, &edit, None)?)))).await
}

/// Read what an edit would do, without doing it
#[utoipa::path(
    post,
    path = "/projects/{project}/edits/preview",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = EditRequest,
    responses(
        (status = 200, body = EditResult),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn preview_edit(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    LongBody(edit): LongBody<Edit>,
) -> Result<Reply, Refusal> {
    let project = ProjectId::new(project);
    app.run(move |store| {
        let outcome = store.preview(project, &edit).map_err(|error| one::refused(&edit, error))?;
        Ok(Reply::json(&result(outcome)))
    })
    .await
}
