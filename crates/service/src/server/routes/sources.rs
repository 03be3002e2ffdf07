//! The sources of a project.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use ratiomet_core::project::Footage;
use ratiomet_store::Record;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{Source, SourceValues, read_source_values};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::record;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(add_source))
        .routes(routes!(get_source, replace_source, delete_source))
        .routes(routes!(sources_list))
}

/// The resource of a stored source.
pub fn resource(record: &Record<Footage>) -> Source {
    Source::new(record.id, record.version, &record.value)
}

/// Add a source
#[utoipa::path(
    post,
    path = "/projects/{project}/sources",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = SourceValues,
    responses(
        (status = 201, body = Source),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_source(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    body: Body,
) -> Result<(StatusCode, Json<Source>), Refusal> {
    record::add(&app, project, body.read(read_source_values)?, resource).await
}

/// Read a source
#[utoipa::path(
    get,
    path = "/projects/{project}/sources/{source}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
    ),
    responses(
        (status = 200, body = Source),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn get_source(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
) -> Result<Json<Source>, Refusal> {
    Ok(Json(resource(&app.with_store(move |store| store.get(project, id)).await?)))
}

/// Change a source: all its values at once
#[utoipa::path(
    put,
    path = "/projects/{project}/sources/{source}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("If-Match" = String, Header, description = "The version that the change starts from"),
    ),
    request_body = SourceValues,
    responses(
        (status = 200, body = Source),
        (status = 412, description = "Changed meanwhile; current holds the source", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn replace_source(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Version(version): Version,
    body: Body,
) -> Result<Json<Source>, Refusal> {
    record::replace(&app, project, id, version, body.read(read_source_values)?, resource).await
}

/// Delete a source; undo brings it back
#[utoipa::path(
    delete,
    path = "/projects/{project}/sources/{source}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("If-Match" = String, Header, description = "The version that is meant"),
    ),
    responses(
        (status = 204, description = "Deleted"),
        (status = 412, description = "Changed meanwhile; current holds the source", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn delete_source(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Version(version): Version,
) -> Result<StatusCode, Refusal> {
    record::delete(&app, project, id, version, resource).await
}

/// Read the sources as a list for a spreadsheet
///
/// CSV (RFC 4180) in UTF-8. Cells that a spreadsheet would run as a formula begin with an apostrophe;
/// reading the list back takes it off.
#[utoipa::path(
    get,
    path = "/projects/{project}/sources.csv",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, description = "The list", body = String, content_type = "text/csv"),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn sources_list(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Response, Refusal> {
    let sources = app.with_store(move |store| store.list::<Footage>(project)).await?;
    let text = ratiomet_wire::list::sources_csv(sources.iter().map(|record| &record.value));
    let kind = [
        (header::CONTENT_TYPE, "text/csv; charset=utf-8"),
        (header::CONTENT_DISPOSITION, "attachment; filename=\"sources.csv\""),
    ];
    Ok((kind, text).into_response())
}
