//! The frames of a project.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ratiomet_core::project::Deliverable;
use ratiomet_store::Record;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{Frame, FrameValues, read_frame_values};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::record;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(add_frame)).routes(routes!(get_frame, replace_frame, delete_frame))
}

/// The resource of a stored frame.
pub fn resource(record: &Record<Deliverable>) -> Frame {
    Frame::new(record.id, record.version, &record.value)
}

/// Add a frame
#[utoipa::path(
    post,
    path = "/projects/{project}/frames",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = FrameValues,
    responses(
        (status = 201, body = Frame),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_frame(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    body: Body,
) -> Result<(StatusCode, Json<Frame>), Refusal> {
    record::add(&app, project, body.read(read_frame_values)?, resource).await
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
        (status = 200, body = Frame),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn get_frame(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
) -> Result<Json<Frame>, Refusal> {
    Ok(Json(resource(&app.with_store(move |store| store.get(project, id)).await?)))
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
        (status = 200, body = Frame),
        (status = 412, description = "Changed meanwhile; current holds the frame", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn replace_frame(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Version(version): Version,
    body: Body,
) -> Result<Json<Frame>, Refusal> {
    record::replace(&app, project, id, version, body.read(read_frame_values)?, resource).await
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
    Version(version): Version,
) -> Result<StatusCode, Refusal> {
    record::delete(&app, project, id, version, resource).await
}
