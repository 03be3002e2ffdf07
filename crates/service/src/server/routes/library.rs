//! The library: published frames, and what the house keeps across projects.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ratiomet_core::project::{HouseActivePicture, HouseFrame};
use ratiomet_store::{HOUSE, Record};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{
    ActivePictureResource, ActivePictureValues, HouseFrameResource, HouseFrameValues, ImportResult, Library,
    LibraryDocument, PublishedGroup, read_active_picture, read_house_frame, read_library_document,
};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{history, record};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, LongBody, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(library))
        .routes(routes!(add_house_frame))
        .routes(routes!(replace_house_frame, delete_house_frame))
        .routes(routes!(add_active_picture))
        .routes(routes!(replace_active_picture, delete_active_picture))
        .routes(routes!(export_library))
        .routes(routes!(import_library))
}

fn house_frame(record: &Record<HouseFrame>) -> HouseFrameResource {
    HouseFrameResource { id: record.id, version: record.version, values: (&record.value).into() }
}

fn active_picture(record: &Record<HouseActivePicture>) -> ActivePictureResource {
    ActivePictureResource { id: record.id, version: record.version, values: (&record.value).into() }
}

/// Read the library
#[utoipa::path(get, path = "/library", tag = "library", responses((status = 200, body = Library)))]
async fn library(State(app): State<App>) -> Result<Json<Library>, Refusal> {
    let (head, frames, pictures) = app
        .with_store(|store| {
            Ok((store.head(HOUSE)?, store.list::<HouseFrame>(HOUSE)?, store.list::<HouseActivePicture>(HOUSE)?))
        })
        .await?;
    Ok(Json(Library {
        history: history::head(head),
        published: PublishedGroup::all(),
        frames: frames.iter().map(house_frame).collect(),
        active_pictures: pictures.iter().map(active_picture).collect(),
    }))
}

/// Keep a frame in the house
#[utoipa::path(
    post,
    path = "/library/frames",
    tag = "library",
    request_body = HouseFrameValues,
    responses(
        (status = 201, body = HouseFrameResource),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_house_frame(
    State(app): State<App>,
    body: Body,
) -> Result<(StatusCode, Json<HouseFrameResource>), Refusal> {
    record::add(&app, HOUSE, body.read(read_house_frame)?, house_frame).await
}

/// Change a frame of the house
#[utoipa::path(
    put,
    path = "/library/frames/{frame}",
    tag = "library",
    params(
        ("frame" = i32, Path, description = "The frame's number"),
        ("If-Match" = String, Header, description = "The version that the change starts from"),
    ),
    request_body = HouseFrameValues,
    responses(
        (status = 200, body = HouseFrameResource),
        (status = 412, description = "Changed meanwhile; current holds the frame", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn replace_house_frame(
    State(app): State<App>,
    Numbers(id): Numbers<i32>,
    Version(version): Version,
    body: Body,
) -> Result<Json<HouseFrameResource>, Refusal> {
    record::replace(&app, HOUSE, id, version, body.read(read_house_frame)?, house_frame).await
}

/// Take a frame out of the house; undo brings it back
#[utoipa::path(
    delete,
    path = "/library/frames/{frame}",
    tag = "library",
    params(
        ("frame" = i32, Path, description = "The frame's number"),
        ("If-Match" = String, Header, description = "The version that is meant"),
    ),
    responses(
        (status = 204, description = "Deleted"),
        (status = 412, description = "Changed meanwhile; current holds the frame", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn delete_house_frame(
    State(app): State<App>,
    Numbers(id): Numbers<i32>,
    Version(version): Version,
) -> Result<StatusCode, Refusal> {
    record::delete(&app, HOUSE, id, version, house_frame).await
}

/// Keep an active picture
#[utoipa::path(
    post,
    path = "/library/active-pictures",
    tag = "library",
    request_body = ActivePictureValues,
    responses(
        (status = 201, body = ActivePictureResource),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_active_picture(
    State(app): State<App>,
    body: Body,
) -> Result<(StatusCode, Json<ActivePictureResource>), Refusal> {
    record::add(&app, HOUSE, body.read(read_active_picture)?, active_picture).await
}

/// Change an active picture
#[utoipa::path(
    put,
    path = "/library/active-pictures/{picture}",
    tag = "library",
    params(
        ("picture" = i32, Path, description = "The active picture's number"),
        ("If-Match" = String, Header, description = "The version that the change starts from"),
    ),
    request_body = ActivePictureValues,
    responses(
        (status = 200, body = ActivePictureResource),
        (status = 412, description = "Changed meanwhile; current holds the active picture", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn replace_active_picture(
    State(app): State<App>,
    Numbers(id): Numbers<i32>,
    Version(version): Version,
    body: Body,
) -> Result<Json<ActivePictureResource>, Refusal> {
    record::replace(&app, HOUSE, id, version, body.read(read_active_picture)?, active_picture).await
}

/// Delete an active picture; undo brings it back
#[utoipa::path(
    delete,
    path = "/library/active-pictures/{picture}",
    tag = "library",
    params(
        ("picture" = i32, Path, description = "The active picture's number"),
        ("If-Match" = String, Header, description = "The version that is meant"),
    ),
    responses(
        (status = 204, description = "Deleted"),
        (status = 412, description = "Changed meanwhile; current holds the active picture", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn delete_active_picture(
    State(app): State<App>,
    Numbers(id): Numbers<i32>,
    Version(version): Version,
) -> Result<StatusCode, Refusal> {
    record::delete(&app, HOUSE, id, version, active_picture).await
}

/// Read what the house keeps as a file
#[utoipa::path(get, path = "/library/export", tag = "library", responses((status = 200, body = LibraryDocument)))]
async fn export_library(State(app): State<App>) -> Result<Json<LibraryDocument>, Refusal> {
    let (frames, pictures) = app
        .with_store(|store| Ok((store.list::<HouseFrame>(HOUSE)?, store.list::<HouseActivePicture>(HOUSE)?)))
        .await?;
    Ok(Json(LibraryDocument::new(
        frames.iter().map(|record| &record.value),
        pictures.iter().map(|record| &record.value),
    )))
}

/// Take in the file of another house
///
/// What is here already is left as it is; another thing of the same name comes in beside it.
#[utoipa::path(
    post,
    path = "/library/import",
    tag = "library",
    request_body = LibraryDocument,
    responses(
        (status = 200, body = ImportResult),
        (status = 422, description = "Every bad field; nothing was taken in", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn import_library(State(app): State<App>, body: LongBody) -> Result<Json<ImportResult>, Refusal> {
    let (frames, pictures) = body.read(read_library_document)?;
    let given = frames.len() + pictures.len();
    let added = app.with_store(move |store| store.import_library(&frames, &pictures)).await?;
    Ok(Json(ImportResult { added, known: given - added }))
}
