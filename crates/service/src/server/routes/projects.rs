//! Projects.

use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use ratiomet_core::project::{Edit, Name, Project, ProjectId, ProjectSettings};
use ratiomet_exchange::project_file::{self, ProjectDocument};
use ratiomet_handoff::names;
use ratiomet_store::{Contents, ProjectInfo, StoreError, Subject};
use ratiomet_wire::names::ProjectValues;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::ProjectResource;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::one;
use super::stills::refused;
use crate::download::disposition;
use crate::project_archive;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, FileText, Numbers, TakesGzip, Upload, Version};
use crate::server::{App, streamed};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(list, add))
        .routes(routes!(get, set, delete))
        .routes(routes!(restore))
        .routes(routes!(duplicate))
        .routes(routes!(export))
        .routes(routes!(export_archive))
        .routes(routes!(import_archive))
        .routes(routes!(import))
        .routes(routes!(demo))
}

/// The resource of a stored project.
pub fn resource(info: &ProjectInfo) -> ProjectResource {
    ProjectResource::new(info.id, info.version, &info.settings, [info.sources, info.frames], info.changed_at)
}

fn reply(contents: &Contents) -> Reply {
    let info = contents.info();
    Reply::json(&resource(&info)).of_version(info.version)
}

/// List the projects, the last changed first
#[utoipa::path(get, path = "/projects", tag = "projects", responses((status = 200, body = Vec<ProjectResource>)))]
async fn list(State(app): State<App>) -> Result<Reply, Refusal> {
    app.run(|store| Ok(Reply::json(&store.projects()?.iter().map(resource).collect::<Vec<_>>()))).await
}

/// Begin a project
#[utoipa::path(
    post,
    path = "/projects",
    tag = "projects",
    request_body = ProjectValues,
    responses(
        (status = 201, body = ProjectResource),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add(State(app): State<App>, Body(settings): Body<ProjectSettings>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let contents = store.add_project(&Project::new(settings), "The beginning")?;
        Ok(reply(&contents).with(StatusCode::CREATED))
    })
    .await
}

/// Read a project
#[utoipa::path(
    get,
    path = "/projects/{project}",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = ProjectResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn get(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Reply, Refusal> {
    app.run(move |store| Ok(reply(&*store.contents(ProjectId::new(project))?))).await
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
        (status = 200, body = ProjectResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 412, description = "Changed meanwhile; current holds the project", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn set(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    version: Version,
    Body(settings): Body<ProjectSettings>,
) -> Result<Reply, Refusal> {
    let subject = (ProjectId::new(project), Subject::Settings);
    let edit = Edit::SetProject(settings);
    let show = |contents: &Contents| Some(resource(&contents.info()));
    app.run(move |store| one::change(store, subject, &version, &edit, show)).await
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
async fn delete(State(app): State<App>, Numbers(project): Numbers<i32>, version: Version) -> Result<Reply, Refusal> {
    let id = ProjectId::new(project);
    app.run(move |store| {
        let current = store.contents(id)?.info();
        if !version.is(current.version) {
            return Err(Refusal::stale(resource(&current)));
        }
        match store.delete_project(id, current.version) {
            Err(StoreError::Stale { .. }) => Err(Refusal::stale(resource(&store.contents(id)?.info()))),
            deleted => Ok(deleted.map(|()| Reply::nothing())?),
        }
    })
    .await
}

/// Bring a deleted project back
#[utoipa::path(
    post,
    path = "/projects/{project}/restore",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = ProjectResource),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn restore(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Reply, Refusal> {
    app.run(move |store| Ok(reply(&*store.restore_project(ProjectId::new(project))?))).await
}

/// Make a copy of a project, its history left behind
#[utoipa::path(
    post,
    path = "/projects/{project}/duplicate",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 201, body = ProjectResource),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn duplicate(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let mut copy = store.contents(ProjectId::new(project))?.project.renumbered();
        let settings = copy.settings().clone();
        let label = format!("Copied from {}", settings.name.as_str());
        // A name that is too long for the addition stays as it is.
        if let Some(name) = Name::new(&format!("{} copy", settings.name.as_str())) {
            copy.put_settings(ProjectSettings { name, ..settings });
        }
        Ok(reply(&*store.add_project(&copy, &label)?).with(StatusCode::CREATED))
    })
    .await
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
async fn export(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    TakesGzip(takes_gzip): TakesGzip,
) -> Result<Response, Refusal> {
    app.run(move |store| {
        let contents = store.contents(ProjectId::new(project))?;
        let written = streamed::json(takes_gzip, move |out| project_file::write_to(&contents.project, out));
        Ok(([(header::CONTENT_DISPOSITION, disposition("project.json"))], written).into_response())
    })
    .await
}

/// Make a project of a file
#[utoipa::path(
    post,
    path = "/projects/import",
    tag = "projects",
    request_body = ProjectDocument,
    responses(
        (status = 201, body = ProjectResource),
        (status = 400, description = "Truncated, or no JSON", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field; nothing was taken in", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn import(State(app): State<App>, FileText(text): FileText) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let project = project_file::read(&text)?;
        Ok(reply(&*store.add_project(&project, "Imported from a file")?).with(StatusCode::CREATED))
    })
    .await
}

/// Read a project with its stills, as a ZIP file
///
/// `project.json` is the file of the project; the stills that its sources show lie in `stills/`, by their content (SHA-256).
#[utoipa::path(
    get,
    path = "/projects/{project}/archive",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, description = "A ZIP file", content_type = "application/zip", body = Vec<u8>),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "A still is no longer there", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn export_archive(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Response, Refusal> {
    let stills = app.stills.clone();
    let (archive, name) = app
        .run(move |store| {
            let contents = store.contents(ProjectId::new(project))?;
            let archive = project_archive::write(&contents.project, &stills).map_err(|why| refused(&why))?;
            Ok((archive, format!("{}.zip", names::safe(contents.project.settings().name.as_str()))))
        })
        .await?;
    archive.into_response(&name).map_err(|error| {
        tracing::error!(%error, "an archive cannot be opened");
        Refusal::internal()
    })
}

/// Make a project of a ZIP file with its stills
#[utoipa::path(
    post,
    path = "/projects/import/archive",
    tag = "projects",
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 201, body = ProjectResource),
        (status = 413, description = "Too long", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No such file, or every bad field of it", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn import_archive(State(app): State<App>, upload: Upload) -> Result<Reply, Refusal> {
    app.run_on_stills(move |store, stills| {
        let text = project_archive::read(&upload.read()?, stills).map_err(|why| refused(&why))?;
        let project = project_file::read(&text)?;
        Ok(reply(&*store.add_project(&project, "Imported from a file")?).with(StatusCode::CREATED))
    })
    .await
}

/// Make a project of the demo
#[utoipa::path(
    post,
    path = "/projects/demo",
    tag = "projects",
    responses((status = 201, body = ProjectResource, description = "A project like any other, to try things on"))
)]
async fn demo(State(app): State<App>) -> Result<Reply, Refusal> {
    let stills = app.stills.clone();
    app.run(move |store| {
        // OK because a test reads the same texts; were they not sound, nothing of the caller would mend it.
        let project = crate::demo::kiln(&stills).map_err(|_| Refusal::internal())?;
        Ok(reply(&*store.add_project(&project, "The demo project")?).with(StatusCode::CREATED))
    })
    .await
}
