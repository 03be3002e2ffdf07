//! Single calculations.

use axum::response::Response;
use ratiomet_core::file::Practice;
use ratiomet_core::levels;
use ratiomet_core::project::{Deliverable, Footage};
use ratiomet_core::sphere::SphereForm;
use ratiomet_exchange::ask;
use ratiomet_wire::calc::{self, CalcResult, CalcResults, LevelsResult};
use ratiomet_wire::describe::{Values, record};
use ratiomet_wire::file::UsualFile;
use ratiomet_wire::names::{CalcRequestValues, CalcRequestsValues, FrameValues, SourceValues};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::read::Reader;
use ratiomet_wire::shapes::{FrameShape, SourceShape};
use ratiomet_wire::tables::{OwnSafeAreas, Tables};
use ratiomet_wire::{SpokenRate, Text as Words};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Query, TakesGzip, Text};
use crate::server::{App, off_threads, streamed};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(answer))
        .routes(routes!(answer_many))
        .routes(routes!(tables))
        .routes(routes!(ask))
        .routes(routes!(source_shape))
        .routes(routes!(frame_shape))
        .routes(routes!(usual_files))
        .routes(routes!(sphere_ladder))
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
    request_body = CalcRequestValues,
    responses(
        (status = 200, body = CalcResult),
        (status = 400, description = "The body is no JSON", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn answer(Text(body): Text) -> Result<Reply, Refusal> {
    off_threads(move || Ok(Reply::json(&calc::answer(&body)?))).await
}

/// Answer several calculations at once, all or none
///
/// A pointer to a bad field begins with the place of its request, such as `/requests/3/ratio`.
#[utoipa::path(
    post,
    path = "/calc/many",
    tag = "calculations",
    request_body = CalcRequestsValues,
    responses(
        (status = 200, body = CalcResults),
        (status = 400, description = "The body is no JSON", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn answer_many(TakesGzip(takes_gzip): TakesGzip, Text(body): Text) -> Result<Response, Refusal> {
    off_threads(move || Ok(streamed::resource(takes_gzip, calc::answer_many(&body)?))).await
}

/// What somebody adds to the published safe areas.
struct Own {
    safe: String,
    frames: String,
}

record!(
    /// What somebody adds to the published safe areas.
    "OwnSafeAreas", "queries" for Own {
        /// Safe areas of one's own, in percent of both sides.
        safe: Words<1000> = Default("\"\""), |own| Words(own.safe.clone());
        /// Frames of one's own on which safe areas are shown.
        frames: Words<1000> = Default("\"\""), |own| Words(own.frames.clone());
    }
    |safe, frames| Ok(Own { safe: safe.0, frames: frames.0 })
);

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
async fn tables(Query(own): Query<Own>) -> Result<Reply, Refusal> {
    off_threads(move || Ok(Reply::json(&Tables::with(&OwnSafeAreas::read(&own.safe, &own.frames)?)))).await
}

/// Which question.
struct Question {
    q: String,
}

record!(
    /// Which question.
    "Question", "queries" for Question {
        /// The question.
        q: Words<100_000> = Required, |question| Words(question.q.clone());
    }
    |q| Ok(Question { q: q.0 })
);

/// Answer a question in plain words
///
/// Such as "2.39 from UHD" or "60 at 24". What is not understood comes back with examples.
#[utoipa::path(
    get,
    path = "/ask",
    tag = "calculations",
    params(("q" = String, Query, description = "The question, at most 200 characters")),
    responses(
        (status = 200, body = AskResult),
        (status = 422, description = "No question at all", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn ask(Query(Question { q }): Query<Question>) -> Result<Reply, Refusal> {
    off_threads(move || {
        Ok(Reply::json(&match ask::ask(&q) {
            Ok(answer) => AskResult { answer: Some(answer), no_answer: None },
            Err(no) => AskResult { answer: None, no_answer: Some(no) },
        }))
    })
    .await
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
async fn source_shape(Body(footage): Body<Footage>) -> Reply {
    Reply::json(&SourceShape::from(&footage.geometry))
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
async fn frame_shape(Body(frame): Body<Deliverable>) -> Reply {
    Reply::json(&FrameShape::from(&frame))
}

/// How the file of a frame is usually made, the likeliest way first (common practice)
#[utoipa::path(
    post,
    path = "/shape/frame/files",
    tag = "calculations",
    request_body = FrameValues,
    responses(
        (status = 200, body = Vec<UsualFile>),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn usual_files(Body(frame): Body<Deliverable>) -> Reply {
    Reply::json(&Practice::of(&frame).into_iter().map(UsualFile::from).collect::<Vec<_>>())
}

/// What the sizes of a sphere's frame depend on.
#[derive(Clone, Debug)]
struct Climbed {
    sphere: SphereForm,
    rate: SpokenRate,
}

record!(
    /// What the sizes of a sphere's frame depend on.
    "SphereLadder", "ladders" for Climbed {
        /// How the sphere lies in the frame.
        sphere: SphereForm = Default("{}"), |climbed| climbed.sphere.clone();
        /// Frames a second.
        rate: SpokenRate = Required, |climbed| climbed.rate.clone();
    }
    |sphere, rate| Ok(Climbed { sphere, rate })
);

type SphereLadder = Values<Climbed>;

/// A frame for a sphere that is the largest which some level of a decoder takes.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct SphereRung {
    /// Pixels across and down.
    raster: [u32; 2],
    /// The lowest levels that take it.
    levels: LevelsResult,
}

/// The sizes of a sphere's frame that decoders take at a rate: for each level the largest, in growing order
#[utoipa::path(
    post,
    path = "/shape/frame/ladder",
    tag = "calculations",
    request_body = SphereLadder,
    responses(
        (status = 200, body = Vec<SphereRung>),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn sphere_ladder(Body(Climbed { sphere, rate }): Body<Climbed>) -> Reply {
    let rung = |rung: levels::Rung| SphereRung {
        raster: [rung.frame.width(), rung.frame.height()],
        levels: rung.levels.into(),
    };
    Reply::json(&levels::ladder(&sphere, rate.0.value()).into_iter().map(rung).collect::<Vec<_>>())
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
async fn turned(Text(body): Text) -> Result<Reply, Refusal> {
    let frame = Reader::made(&body, |frame: Deliverable| frame.turned())?;
    Ok(Reply::json(&Values(frame)))
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
async fn as_footage(Text(body): Text) -> Result<Reply, Refusal> {
    let frame = Reader::made(&body, |footage: Footage| Deliverable::as_footage(&footage))?;
    Ok(Reply::json(&Values(frame)))
}
