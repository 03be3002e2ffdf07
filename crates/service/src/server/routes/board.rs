//! The board of a project and its single conversions.

use std::collections::HashMap;

use axum::Json;
use axum::extract::State;
use ratiomet_core::project::{Choice, plan};
use ratiomet_store::{Contents, ConversionKey, Record, Store, StoreError};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{Board, ChoiceValues, Conversion, Crossing, read_choice};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{frames, projects, sources};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(board))
        .routes(routes!(get_conversion, set_conversion))
        .routes(routes!(preview_conversion))
}

/// Read every conversion of a project
#[utoipa::path(
    get,
    path = "/projects/{project}/board",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = Board),
        (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn board(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Json<Board>, Refusal> {
    let (info, contents) = app.with_store(move |store| Ok((store.project(project)?, store.contents(project)?))).await?;
    let crossings = crossings(&contents);
    Ok(Json(Board {
        project: projects::resource(info),
        sources: contents.sources.iter().map(sources::resource).collect(),
        frames: contents.frames.iter().map(frames::resource).collect(),
        crossings,
    }))
}

fn crossings(contents: &Contents) -> Vec<Crossing> {
    let choices: HashMap<_, _> = contents.choices.iter().map(|(key, record)| (*key, record)).collect();
    let mut crossings = Vec::with_capacity(contents.sources.len() * contents.frames.len());
    for source in &contents.sources {
        for frame in &contents.frames {
            let key = ConversionKey { source: source.id, frame: frame.id };
            let (version, choice) =
                choices.get(&key).map_or((0, &Choice::Follows), |record| (record.version, &record.value));
            let plan = plan(&source.value, &frame.value, choice);
            crossings.push(Crossing::new((source.id, frame.id), version, choice, &frame.value, &plan));
        }
    }
    crossings
}

/// A conversion as it stands, or as it would be with another choice.
fn conversion(
    store: &mut Store,
    project: i32,
    key: ConversionKey,
    other: Option<Choice>,
) -> Result<Conversion, StoreError> {
    let source = store.source(project, key.source)?;
    let frame = store.frame(project, key.frame)?;
    let Record { version, value, .. } = store.choice(project, key)?;
    Ok(Conversion::new((source.id, &source.value), (frame.id, &frame.value), version, &other.unwrap_or(value)))
}

/// Read a conversion with its whole plan
#[utoipa::path(
    get,
    path = "/projects/{project}/conversions/{source}/{frame}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("frame" = i32, Path, description = "The frame's number"),
    ),
    responses(
        (status = 200, body = Conversion),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn get_conversion(
    State(app): State<App>,
    Numbers((project, source, frame)): Numbers<(i32, i32, i32)>,
) -> Result<Json<Conversion>, Refusal> {
    Ok(Json(app.with_store(move |store| conversion(store, project, ConversionKey { source, frame }, None)).await?))
}

/// Give a conversion a framing of its own, or let it follow its frame
#[utoipa::path(
    put,
    path = "/projects/{project}/conversions/{source}/{frame}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("frame" = i32, Path, description = "The frame's number"),
        ("If-Match" = String, Header, description = "The version that the change starts from; 0 while untouched"),
    ),
    request_body = ChoiceValues,
    responses(
        (status = 200, body = Conversion),
        (status = 412, description = "Changed meanwhile; current holds the conversion", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn set_conversion(
    State(app): State<App>,
    Numbers((project, source, frame)): Numbers<(i32, i32, i32)>,
    Version(version): Version,
    body: Body,
) -> Result<Json<Conversion>, Refusal> {
    let choice = body.read(read_choice)?;
    let key = ConversionKey { source, frame };
    let set = app
        .with_store(move |store| match store.set_choice(project, key, version, &choice) {
            Err(StoreError::Stale { .. }) => Ok(Err(conversion(store, project, key, None)?)),
            Err(error) => Err(error),
            Ok(_) => conversion(store, project, key, None).map(Ok),
        })
        .await?;
    set.map(Json).map_err(Refusal::stale)
}

/// Read what a conversion would be with another framing, without changing it
#[utoipa::path(
    post,
    path = "/projects/{project}/conversions/{source}/{frame}/preview",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("frame" = i32, Path, description = "The frame's number"),
    ),
    request_body = ChoiceValues,
    responses(
        (status = 200, body = Conversion),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn preview_conversion(
    State(app): State<App>,
    Numbers((project, source, frame)): Numbers<(i32, i32, i32)>,
    body: Body,
) -> Result<Json<Conversion>, Refusal> {
    let choice = body.read(read_choice)?;
    let key = ConversionKey { source, frame };
    Ok(Json(app.with_store(move |store| conversion(store, project, key, Some(choice))).await?))
}
