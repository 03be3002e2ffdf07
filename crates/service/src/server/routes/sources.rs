//! The sources of a project.

use axum::extract::State;
use ratiomet_core::project::{Edit, Footage, ProjectId, SourceId};
use ratiomet_exchange::list;
use ratiomet_store::{Contents, Subject};
use ratiomet_wire::describe::List;
use ratiomet_wire::names::SourceValues;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{RenewalResult, SourceResource};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::one;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, LongBody, Numbers, Version};

/// As many sources as an edit may bring.
type ManySources = List<Footage, 0, 100_000>;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(add_source))
        .routes(routes!(renewals))
        .routes(routes!(get_source, replace_source, delete_source))
        .routes(routes!(sources_list))
}

/// The resource of a source, if it is there.
pub fn resource(contents: &Contents, id: SourceId) -> Option<SourceResource> {
    let version = contents.version(Subject::Source(id))?;
    let footage = contents.project.source(id)?;
    Some(SourceResource::new(id, version, footage, contents.project.pictured(footage).key()))
}

/// Add a source
#[utoipa::path(
    post,
    path = "/projects/{project}/sources",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = SourceValues,
    responses(
        (status = 201, body = SourceResource),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_source(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Body(footage): Body<ratiomet_core::project::Footage>,
) -> Result<Reply, Refusal> {
    let project = ProjectId::new(project);
    app.run(move |store| {
        let added = one::edit(store, project, &Edit::AddSources(vec![footage]), None)?.sources;
        let contents = store.contents(project)?;
        let id = added.first().copied();
        let resource = id.and_then(|id| resource(&contents, id));
        one::created(resource, id.and_then(|id| contents.version(Subject::Source(id))))
    })
    .await
}

/// Of which sources files say something else now, known by their names
///
/// What was typed over since a source was read is told, and would stay. An edit `import` with `update` takes the rest.
#[utoipa::path(
    post,
    path = "/projects/{project}/sources/renewals",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = Vec<SourceValues>,
    responses(
        (status = 200, body = Vec<RenewalResult>),
        (status = 413, description = "Too long", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn renewals(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    LongBody(read): LongBody<ManySources>,
) -> Result<Reply, Refusal> {
    let project = ProjectId::new(project);
    app.run(move |store| {
        let contents = store.contents(project)?;
        let found = contents.project.renewals(&read.0);
        Ok(Reply::json(&found.iter().map(RenewalResult::from).collect::<Vec<_>>()))
    })
    .await
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
        (status = 200, body = SourceResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn get_source(State(app): State<App>, Numbers((project, id)): Numbers<(i32, i32)>) -> Result<Reply, Refusal> {
    let (project, id) = (ProjectId::new(project), SourceId::new(id));
    app.run(move |store| one::read(store, project, Subject::Source(id), |contents| resource(contents, id))).await
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
        (status = 200, body = SourceResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 412, description = "Changed meanwhile; current holds the source", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn replace_source(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    version: Version,
    Body(footage): Body<ratiomet_core::project::Footage>,
) -> Result<Reply, Refusal> {
    let id = SourceId::new(id);
    let subject = (ProjectId::new(project), Subject::Source(id));
    let edit = Edit::ReplaceSource { id, footage: Box::new(footage) };
    app.run(move |store| one::change(store, subject, &version, &edit, |contents| resource(contents, id))).await
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
    version: Version,
) -> Result<Reply, Refusal> {
    let id = SourceId::new(id);
    let subject = (ProjectId::new(project), Subject::Source(id));
    let edit = Edit::Delete { sources: vec![id], frames: Vec::new() };
    app.run(move |store| one::change(store, subject, &version, &edit, |contents| resource(contents, id))).await
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
async fn sources_list(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let contents = store.contents(ProjectId::new(project))?;
        let text = list::sources_csv(contents.project.sources().map(|(_, footage)| footage));
        Ok(Reply::text("text/csv; charset=utf-8", text).downloaded("sources.csv"))
    })
    .await
}
