//! Frames of a project.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ratiomet_core::project::Deliverable;
use ratiomet_store::{Record, StoreError};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{Frame, FrameValues, read_frame_values};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(list_frames, add_frame))
        .routes(routes!(get_frame, replace_frame, delete_frame))
        .routes(routes!(restore_frame))
}

/// The resource of a stored frame.
pub fn resource(record: &Record<Deliverable>) -> Frame {
    Frame::new(record.id, record.version, &record.value)
}

/// List the frames of a project, in the order of entry
#[utoipa::path(
    get,
    path = "/projects/{project}/frames",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = Vec<Frame>),
        (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn list_frames(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Json<Vec<Frame>>, Refusal> {
    let frames = app.with_store(move |store| store.frames(project)).await?;
    Ok(Json(frames.iter().map(resource).collect()))
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
    let value = body.read(read_frame_values)?;
    let added = app.with_store(move |store| store.add_frame(project, &value)).await?;
    Ok((StatusCode::CREATED, Json(resource(&added))))
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
    Ok(Json(resource(&app.with_store(move |store| store.frame(project, id)).await?)))
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
    let value = body.read(read_frame_values)?;
    let replaced = app
        .with_store(move |store| match store.replace_frame(project, id, version, &value) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.frame(project, id)?)),
            replaced => replaced.map(Ok),
        })
        .await?;
    replaced.map(|record| Json(resource(&record))).map_err(|current| Refusal::stale(resource(&current)))
}

/// Delete a frame; it can be restored
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
    let deleted = app
        .with_store(move |store| match store.delete_frame(project, id, version) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.frame(project, id)?)),
            deleted => deleted.map(Ok),
        })
        .await?;
    deleted.map(|()| StatusCode::NO_CONTENT).map_err(|current| Refusal::stale(resource(&current)))
}

/// Bring a deleted frame back
#[utoipa::path(
    post,
    path = "/projects/{project}/frames/{frame}/restore",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("frame" = i32, Path, description = "The frame's number"),
    ),
    responses(
        (status = 200, body = Frame),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn restore_frame(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
) -> Result<Json<Frame>, Refusal> {
    Ok(Json(resource(&app.with_store(move |store| store.restore_frame(project, id)).await?)))
}
