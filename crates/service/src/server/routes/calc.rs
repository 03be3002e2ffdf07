//! Single calculations.

use axum::Json;
use axum::extract::Query;
use ratiomet_core::project::Deliverable;
use ratiomet_wire::ask;
use ratiomet_wire::calc::{self, CalcRequest, CalcRequests, CalcResult, CalcResults};
use ratiomet_wire::geometry::{FrameShape, SourceShape};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{FrameValues, SourceValues, read_frame_values, read_source_values};
use ratiomet_wire::tables::{OwnSafeAreas, Tables};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::Body;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(answer))
        .routes(routes!(answer_many))
        .routes(routes!(tables))
        .routes(routes!(ask))
        .routes(routes!(source_shape))
        .routes(routes!(frame_shape))
        .routes(routes!(turned))
        .routes(routes!(as_footage))
}

/// Answer one calculation
///
/// The same requests and results as a line of `ratiomet calc`.
#[utoipa::path(
    post,
    path = "/calc",
    tag = "calculations",
    request_body = CalcRequest,
    responses(
        (status = 200, body = CalcResult),
        (status = 400, description = "The body is no JSON", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn answer(body: Body) -> Result<Json<CalcResult>, Refusal> {
    Ok(Json(calc::answer(body.bytes())?))
}

/// Answer several calculations at once, all or none
///
/// A pointer to a bad field begins with the place of its request, such as `/requests/3/ratio`.
#[utoipa::path(
    post,
    path = "/calc/many",
    tag = "calculations",
    request_body = CalcRequests,
    responses(
        (status = 200, body = CalcResults),
        (status = 400, description = "The body is no JSON", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn answer_many(body: Body) -> Result<Json<CalcResults>, Refusal> {
    Ok(Json(calc::answer_many(body.bytes())?))
}

/// Read what stands in the tables: ratios, sensors, lenses, pixel shapes, frames, safe areas
#[utoipa::path(
    get,
    path = "/tables",
    tag = "calculations",
    params(
        ("safe" = Option<String>, Query, description = "Safe areas of one's own, in percent of both sides, such as 88,80.5"),
        ("frames" = Option<String>, Query, description = "Frames of one's own on which safe areas are shown, such as 2048x1080"),
    ),
    responses(
        (status = 200, body = Tables),
        (status = 422, description = "Every bad part", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn tables(Query(own): Query<Own>) -> Result<Json<Tables>, Refusal> {
    Ok(Json(Tables::with(&OwnSafeAreas::read(&own.safe, &own.frames)?)))
}

/// What somebody added to the published safe areas.
#[derive(serde::Deserialize)]
struct Own {
    #[serde(default)]
    safe: String,
    #[serde(default)]
    frames: String,
}

/// Which question.
#[derive(serde::Deserialize)]
struct Question {
    q: String,
}

/// Answer a question in plain words
///
/// Such as "2.39 from UHD" or "60 at 24". Never refused: what is not understood comes back with examples.
#[utoipa::path(
    get,
    path = "/ask",
    tag = "calculations",
    params(("q" = String, Query, description = "The question, at most 200 characters")),
    responses((status = 200, body = AskResult))
)]
async fn ask(Query(Question { q }): Query<Question>) -> Json<AskResult> {
    Json(match ask::ask(&q) {
        Ok(answer) => AskResult { answer: Some(answer), no_answer: None },
        Err(no) => AskResult { answer: None, no_answer: Some(no) },
    })
}

/// What comes of a question: one of the two.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct AskResult {
    /// The answer.
    answer: Option<ask::Answer>,
    /// Why there is none.
    no_answer: Option<ask::NoAnswer>,
}

/// What the geometry of a source amounts to, before it is stored
#[utoipa::path(
    post,
    path = "/shape/source",
    tag = "calculations",
    request_body = SourceValues,
    responses(
        (status = 200, body = SourceShape),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn source_shape(body: Body) -> Result<Json<SourceShape>, Refusal> {
    Ok(Json((&body.read(read_source_values)?.geometry).into()))
}

/// What the geometry of a frame amounts to, before it is stored
#[utoipa::path(
    post,
    path = "/shape/frame",
    tag = "calculations",
    request_body = FrameValues,
    responses(
        (status = 200, body = FrameShape),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn frame_shape(body: Body) -> Result<Json<FrameShape>, Refusal> {
    Ok(Json((&body.read(read_frame_values)?).into()))
}

/// The same frame with its sides exchanged, under a name made of its numbers
#[utoipa::path(
    post,
    path = "/shape/frame/turned",
    tag = "calculations",
    request_body = FrameValues,
    responses(
        (status = 200, body = FrameValues),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn turned(body: Body) -> Result<Json<FrameValues>, Refusal> {
    let frame = body.read(|field| field.settle(read_frame_values(field)?.turned()))?;
    Ok(Json((&frame).into()))
}

/// A frame that shows all of a source upright with square pixels, under a name made of its numbers
#[utoipa::path(
    post,
    path = "/shape/source/frame",
    tag = "calculations",
    request_body = SourceValues,
    responses(
        (status = 200, body = FrameValues),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn as_footage(body: Body) -> Result<Json<FrameValues>, Refusal> {
    let frame = body.read(|field| field.settle(Deliverable::as_footage(&read_source_values(field)?)))?;
    Ok(Json((&frame).into()))
}
