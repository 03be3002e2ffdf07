//! The frames of a project.

use axum::extract::State;
use ratiomet_core::project::{Edit, FrameId, ProjectId};
use ratiomet_store::{Contents, Subject};
use ratiomet_wire::names::FrameValues;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::FrameResource;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::one;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(add_frame)).routes(routes!(get_frame, replace_frame, delete_frame))
}

/// The resource of a frame, if it is there.
pub fn resource(contents: &Contents, id: FrameId) -> Option<FrameResource> {
    let version = contents.version(Subject::Frame(id))?;
    Some(FrameResource::new(id, version, contents.project.frame(id)?))
}

/// Add a frame
#[utoipa::path(
    post,
    path = "/projects/{project}/frames",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = FrameValues,
    responses(
        (status = 201, body = FrameResource),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_frame(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Body(frame): Body<ratiomet_core::project::Deliverable>,
) -> Result<Reply, Refusal> {
    let project = ProjectId::new(project);
    app.run(move |store| {
        let added = one::edit(store, project, &Edit::AddFrames(vec![frame]), None)?.frames;
        let contents = store.contents(project)?;
        let id = added.first().copied();
        let resource = id.and_then(|id| resource(&contents, id));
        one::created(resource, id.and_then(|id| contents.version(Subject::Frame(id))))
    })
    .await
}

/// Read a frame
#[utoipa::path(
    get,
    path = "/projects/{project}/frames/{frame}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("frame" = i32, Path, description = "The frame's number"),
    ),
    responses(
        (status = 200, body = FrameResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn get_frame(State(app): State<App>, Numbers((project, id)): Numbers<(i32, i32)>) -> Result<Reply, Refusal> {
    let (project, id) = (ProjectId::new(project), FrameId::new(id));
    app.run(move |store| one::read(store, project, Subject::Frame(id), |contents| resource(contents, id))).await
}

/// Change a frame: all its values at once
#[utoipa::path(
    put,
    path = "/projects/{project}/frames/{frame}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("frame" = i32, Path, description = "The frame's number"),
        ("If-Match" = String, Header, description = "The version that the change starts from"),
    ),
    request_body = FrameValues,
    responses(
        (status = 200, body = FrameResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 412, description = "Changed meanwhile; current holds the frame", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn replace_frame(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    version: Version,
    Body(frame): Body<ratiomet_core::project::Deliverable>,
) -> Result<Reply, Refusal> {
    let id = FrameId::new(id);
    let subject = (ProjectId::new(project), Subject::Frame(id));
    let edit = Edit::ReplaceFrame { id, frame: Box::new(frame) };
    app.run(move |store| one::change(store, subject, &version, &edit, |contents| resource(contents, id))).await
}

/// Delete a frame; undo brings it back
#[utoipa::path(
    delete,
    path = "/projects/{project}/frames/{frame}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("frame" = i32, Path, description = "The frame's number"),
        ("If-Match" = String, Header, description = "The version that is meant"),
    ),
    responses(
        (status = 204, description = "Deleted"),
        (status = 412, description = "Changed meanwhile; current holds the frame", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn delete_frame(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    version: Version,
) -> Result<Reply, Refusal> {
    let id = FrameId::new(id);
    let subject = (ProjectId::new(project), Subject::Frame(id));
    let edit = Edit::Delete { sources: Vec::new(), frames: vec![id] };
    app.run(move |store| one::change(store, subject, &version, &edit, |contents| resource(contents, id))).await
}
