//! Projects.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ratiomet_store::{ProjectInfo, Record, StoreError};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{Project, ProjectValues, read_project_values};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(list, add)).routes(routes!(get, rename, delete)).routes(routes!(restore))
}

/// The resource of a stored project.
pub fn resource(record: Record<ProjectInfo>) -> Project {
    Project {
        id: record.id,
        version: record.version,
        name: record.value.name.as_str().to_owned(),
        changed_at: record.value.changed_at,
        sources: record.value.sources,
        frames: record.value.frames,
    }
}

/// List the projects, the last changed first
#[utoipa::path(get, path = "/projects", tag = "projects", responses((status = 200, body = Vec<Project>)))]
async fn list(State(app): State<App>) -> Result<Json<Vec<Project>>, Refusal> {
    let projects = app.with_store(ratiomet_store::Store::projects).await?;
    Ok(Json(projects.into_iter().map(resource).collect()))
}

/// Begin a project
#[utoipa::path(
    post,
    path = "/projects",
    tag = "projects",
    request_body = ProjectValues,
    responses(
        (status = 201, body = Project),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add(State(app): State<App>, body: Body) -> Result<(StatusCode, Json<Project>), Refusal> {
    let name = body.read(read_project_values)?;
    let project = app.with_store(move |store| store.add_project(&name)).await?;
    Ok((StatusCode::CREATED, Json(resource(project))))
}

/// Read a project
#[utoipa::path(
    get,
    path = "/projects/{project}",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = Project),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn get(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Json<Project>, Refusal> {
    Ok(Json(resource(app.with_store(move |store| store.project(project)).await?)))
}

/// Rename a project
#[utoipa::path(
    put,
    path = "/projects/{project}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("If-Match" = String, Header, description = "The version that the change starts from"),
    ),
    request_body = ProjectValues,
    responses(
        (status = 200, body = Project),
        (status = 412, description = "Changed meanwhile; current holds the project", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn rename(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Version(version): Version,
    body: Body,
) -> Result<Json<Project>, Refusal> {
    let name = body.read(read_project_values)?;
    let renamed = app
        .with_store(move |store| match store.rename_project(project, version, &name) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.project(project)?)),
            renamed => renamed.map(Ok),
        })
        .await?;
    renamed.map(|record| Json(resource(record))).map_err(|current| Refusal::stale(resource(current)))
}

/// Delete a project; it can be restored
#[utoipa::path(
    delete,
    path = "/projects/{project}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("If-Match" = String, Header, description = "The version that is meant"),
    ),
    responses(
        (status = 204, description = "Deleted"),
        (status = 412, description = "Changed meanwhile; current holds the project", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn delete(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Version(version): Version,
) -> Result<StatusCode, Refusal> {
    let deleted = app
        .with_store(move |store| match store.delete_project(project, version) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.project(project)?)),
            deleted => deleted.map(Ok),
        })
        .await?;
    deleted.map(|()| StatusCode::NO_CONTENT).map_err(|current| Refusal::stale(resource(current)))
}

/// Bring a deleted project back
#[utoipa::path(
    post,
    path = "/projects/{project}/restore",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = Project),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn restore(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Json<Project>, Refusal> {
    Ok(Json(resource(app.with_store(move |store| store.restore_project(project)).await?)))
}
