//! Projects.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ratiomet_core::project::Name;
use ratiomet_store::{ProjectInfo, StoreError};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{
    Project, ProjectContents, ProjectDocument, ProjectValues, read_project_document, read_project_values,
};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, LongBody, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(list, add))
        .routes(routes!(get, set, delete))
        .routes(routes!(restore))
        .routes(routes!(duplicate))
        .routes(routes!(export))
        .routes(routes!(import))
}

/// The resource of a stored project.
pub fn resource(info: &ProjectInfo) -> Project {
    Project::new(info.id, info.version, &info.settings, [info.sources, info.frames], info.changed_at)
}

/// List the projects, the last changed first
#[utoipa::path(get, path = "/projects", tag = "projects", responses((status = 200, body = Vec<Project>)))]
async fn list(State(app): State<App>) -> Result<Json<Vec<Project>>, Refusal> {
    let projects = app.with_store(ratiomet_store::Store::projects).await?;
    Ok(Json(projects.iter().map(resource).collect()))
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
    let settings = body.read(read_project_values)?;
    let empty = ProjectContents { settings, sources: Vec::new(), frames: Vec::new(), conversions: Vec::new() };
    let project = app.with_store(move |store| store.add_project(&empty, "The beginning")).await?;
    Ok((StatusCode::CREATED, Json(resource(&project))))
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
    Ok(Json(resource(&app.with_store(move |store| store.project(project)).await?)))
}

/// Change the name or the board method of a project
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
async fn set(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Version(version): Version,
    body: Body,
) -> Result<Json<Project>, Refusal> {
    let settings = body.read(read_project_values)?;
    let changed = app
        .with_store(move |store| match store.set_project(project, version, &settings) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.project(project)?)),
            changed => changed.map(Ok),
        })
        .await?;
    changed.map(|info| Json(resource(&info))).map_err(|current| Refusal::stale(resource(&current)))
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
    deleted.map(|()| StatusCode::NO_CONTENT).map_err(|current| Refusal::stale(resource(&current)))
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
    Ok(Json(resource(&app.with_store(move |store| store.restore_project(project)).await?)))
}

/// Make a copy of a project, its history left behind
#[utoipa::path(
    post,
    path = "/projects/{project}/duplicate",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 201, body = Project),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn duplicate(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
) -> Result<(StatusCode, Json<Project>), Refusal> {
    let copy = app
        .with_store(move |store| {
            let mut contents = store.contents(project)?.without_numbers();
            let original = contents.settings.name.as_str().to_owned();
            // A name that is too long for the addition stays as it is.
            if let Some(name) = Name::new(&format!("{original} copy")) {
                contents.settings.name = name;
            }
            store.add_project(&contents, &format!("Copied from {original}"))
        })
        .await?;
    Ok((StatusCode::CREATED, Json(resource(&copy))))
}

/// Read a project as a file
///
/// Everything that people entered. Read back it gives the same plans; the history is not in it.
#[utoipa::path(
    get,
    path = "/projects/{project}/export",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = ProjectDocument),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn export(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Json<ProjectDocument>, Refusal> {
    let contents = app.with_store(move |store| store.contents(project)).await?;
    Ok(Json(ProjectDocument::new(&contents.without_numbers())))
}

/// Make a project of a file
#[utoipa::path(
    post,
    path = "/projects/import",
    tag = "projects",
    request_body = ProjectDocument,
    responses(
        (status = 201, body = Project),
        (status = 400, description = "Truncated, or no JSON", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field; nothing was taken in", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn import(State(app): State<App>, body: LongBody) -> Result<(StatusCode, Json<Project>), Refusal> {
    let contents = body.read(read_project_document)?;
    let project = app.with_store(move |store| store.add_project(&contents, "Imported from a file")).await?;
    Ok((StatusCode::CREATED, Json(resource(&project))))
}
