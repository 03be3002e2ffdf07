//! Changes of many things at once.

use axum::Json;
use axum::extract::State;
use ratiomet_core::project::Edit;
use ratiomet_store::Outcome;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{EditRequest, EditResult, read_edit};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{LongBody, Numbers};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(edit)).routes(routes!(preview_edit))
}

fn result(outcome: Outcome, edit: &Edit) -> EditResult {
    let Outcome { step, label, changed, unchanged, skipped, added } = outcome;
    let (sources, frames) = match edit {
        Edit::AddSources(_) => (added, Vec::new()),
        _ => (Vec::new(), added),
    };
    EditResult { step, label, changed, unchanged, skipped, sources, frames }
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
    body: LongBody,
) -> Result<Json<EditResult>, Refusal> {
    let edit = body.read(read_edit)?;
    Ok(Json(app.with_store(move |store| Ok(result(store.edit(project, &edit)?, &edit))).await?))
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
    body: LongBody,
) -> Result<Json<EditResult>, Refusal> {
    let edit = body.read(read_edit)?;
    Ok(Json(app.with_store(move |store| Ok(result(store.preview(project, &edit)?, &edit))).await?))
}
