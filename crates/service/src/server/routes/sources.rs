//! Sources of a project.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ratiomet_core::project::Footage;
use ratiomet_store::{Record, StoreError};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{Source, SourceValues, read_source_values};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(list_sources, add_source))
        .routes(routes!(get_source, replace_source, delete_source))
        .routes(routes!(restore_source))
}

/// The resource of a stored source.
pub fn resource(record: &Record<Footage>) -> Source {
    Source::new(record.id, record.version, &record.value)
}

/// List the sources of a project, in the order of entry
#[utoipa::path(
    get,
    path = "/projects/{project}/sources",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = Vec<Source>),
        (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn list_sources(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Json<Vec<Source>>, Refusal> {
    let sources = app.with_store(move |store| store.sources(project)).await?;
    Ok(Json(sources.iter().map(resource).collect()))
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
    let value = body.read(read_source_values)?;
    let added = app.with_store(move |store| store.add_source(project, &value)).await?;
    Ok((StatusCode::CREATED, Json(resource(&added))))
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
    Ok(Json(resource(&app.with_store(move |store| store.source(project, id)).await?)))
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
    let value = body.read(read_source_values)?;
    let replaced = app
        .with_store(move |store| match store.replace_source(project, id, version, &value) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.source(project, id)?)),
            replaced => replaced.map(Ok),
        })
        .await?;
    replaced.map(|record| Json(resource(&record))).map_err(|current| Refusal::stale(resource(&current)))
}

/// Delete a source; it can be restored
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
    let deleted = app
        .with_store(move |store| match store.delete_source(project, id, version) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.source(project, id)?)),
            deleted => deleted.map(Ok),
        })
        .await?;
    deleted.map(|()| StatusCode::NO_CONTENT).map_err(|current| Refusal::stale(resource(&current)))
}

/// Bring a deleted source back
#[utoipa::path(
    post,
    path = "/projects/{project}/sources/{source}/restore",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
    ),
    responses(
        (status = 200, body = Source),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn restore_source(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
) -> Result<Json<Source>, Refusal> {
    Ok(Json(resource(&app.with_store(move |store| store.restore_source(project, id)).await?)))
}
