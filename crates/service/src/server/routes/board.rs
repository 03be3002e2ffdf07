//! What is computed over all of a project: its board, the bin against a frame, what frames have in common,
//! the ways through working frames; and what of it cannot be read.

use axum::extract::State;
use axum::response::Response;
use ratiomet_core::project::{FrameId, ProjectId, SourceId};
use ratiomet_store::Subject;
use ratiomet_wire::Text;
use ratiomet_wire::calc::CommonResult;
use ratiomet_wire::describe::record;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{BinSummary, Board, PointRemedyResult, PointsResult, SetAside, WaysResult};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Numbers, Query, TakesGzip};
use crate::server::{App, streamed};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(board))
        .routes(routes!(bin))
        .routes(routes!(common))
        .routes(routes!(ways))
        .routes(routes!(points))
        .routes(routes!(remedies))
        .routes(routes!(set_aside))
}

/// Read every conversion of a project
#[utoipa::path(
    get,
    path = "/projects/{project}/board",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("since" = Option<String>, Query, description = "The revision of a board that was read before: if it is still known, only what has changed is answered"),
    ),
    responses(
        (status = 200, body = Board),
        (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn board(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Query(Seen { since }): Query<Seen>,
    TakesGzip(takes_gzip): TakesGzip,
) -> Result<Response, Refusal> {
    let boards = app.boards.clone();
    app.run(move |store| Ok(boards.answer(&store.contents(ProjectId::new(project))?, since.as_deref(), takes_gzip)))
        .await
}

/// What is known of a board already.
#[derive(Debug)]
pub struct Seen {
    since: Option<String>,
}

record!(
    /// What is known of a board already.
    "BoardSeen", "queries" for Seen {
        /// The revision of a board that was read before: of one that the server still knows, only what has changed is answered.
        since: Option<Text<64>> = Default("null"), |seen| seen.since.clone().map(Text);
    }
    |since| Ok(Seen { since: since.map(|since| since.0) })
);

/// Read how the bin of a project suits one of its frames
///
/// The sources grouped by kind. The answer does not depend on when or how they were added.
#[utoipa::path(
    get,
    path = "/projects/{project}/frames/{frame}/bin",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("frame" = i32, Path, description = "The frame's number"),
    ),
    responses(
        (status = 200, body = BinSummary),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn bin(State(app): State<App>, Numbers((project, frame)): Numbers<(i32, i32)>) -> Result<Reply, Refusal> {
    let (project, frame) = (ProjectId::new(project), FrameId::new(frame));
    app.run(move |store| {
        let bin = store.contents(project)?.project.bin(frame);
        let bin = bin.ok_or_else(|| store.missing(project, Subject::Frame(frame)))?;
        Ok(Reply::json(&BinSummary::new(frame, bin)))
    })
    .await
}

/// Which frames count.
struct Counted {
    frames: Option<String>,
}

record!(
    /// Which frames count.
    "FramesThatCount", "queries" for Counted {
        /// The numbers of the frames that count, with commas between; all of them when left out.
        frames: Option<Text<100_000>> = Default("null"), |counted| counted.frames.clone().map(Text);
    }
    |frames| Ok(Counted { frames: frames.map(|frames| frames.0) })
);

/// Read what the frames of a project show of one source
///
/// What every frame shows and what some frame shows, each under the framing that counts.
#[utoipa::path(
    get,
    path = "/projects/{project}/sources/{source}/common",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("frames" = Option<String>, Query, description = "The numbers of the frames that count, such as 17,18; all of them when left out"),
    ),
    responses(
        (status = 200, description = "Windows in the order of the frames", body = CommonResult),
        (status = 422, description = "A number that is no frame of the project", body = Problem, content_type = "application/problem+json"),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn common(
    State(app): State<App>,
    Numbers((project, source)): Numbers<(i32, i32)>,
    Query(Counted { frames }): Query<Counted>,
) -> Result<Reply, Refusal> {
    let (project, source) = (ProjectId::new(project), SourceId::new(source));
    app.run(move |store| {
        let contents = store.contents(project)?;
        let all: Vec<FrameId> = contents.project.frames().map(|(id, _)| id).collect();
        let counted = match frames {
            None => all,
            Some(named) => {
                let number = |text: &str| text.trim().parse().ok().map(FrameId::new);
                let read: Option<Vec<FrameId>> = named.split(',').map(number).collect();
                read.filter(|read| read.iter().all(|id| all.contains(id))).ok_or_else(|| {
                    Refusal::field("/frames", "numbers of frames of this project with commas between, such as 17,18")
                })?
            }
        };
        let common = contents.project.common(source, &counted);
        let common = common.ok_or_else(|| store.missing(project, Subject::Source(source)))?;
        Ok(Reply::json(&CommonResult::from(common)))
    })
    .await
}

/// Read the ways of a project through its working frames
///
/// For each frame which others pictures pass on their way to it, and what is left of every source there;
/// and the sizes of smaller working copies.
#[utoipa::path(
    get,
    path = "/projects/{project}/ways",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = WaysResult),
        (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn ways(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let ways = store.contents(ProjectId::new(project))?.project.ways();
        Ok(Reply::json(&WaysResult::from(ways)))
    })
    .await
}

/// Read what stands open in a project, by its cause
///
/// Findings grouped by what is behind them: a source, a frame, a pair of rates. What was accepted everywhere
/// comes last.
#[utoipa::path(
    get,
    path = "/projects/{project}/points",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = PointsResult),
        (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn points(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    TakesGzip(takes_gzip): TakesGzip,
) -> Result<Response, Refusal> {
    let points = app.points.clone();
    app.run(move |store| Ok(streamed::resource(takes_gzip, points.of(&store.contents(ProjectId::new(project))?)))).await
}

/// Which point.
struct Asked {
    key: String,
}

record!(
    /// Which point.
    "PointAsked", "queries" for Asked {
        /// What the point is known by.
        key: Text<200> = Required, |asked| Text(asked.key.clone());
    }
    |key| Ok(Asked { key: key.0 })
);

/// Read what would help against a point, for all at once
///
/// Each with its outcome. Nothing is offered that makes any conversion worse.
#[utoipa::path(
    get,
    path = "/projects/{project}/points/remedies",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("key" = String, Query, description = "What the point is known by"),
    ),
    responses(
        (status = 200, description = "Those that help most first; none when the point is gone", body = Vec<PointRemedyResult>),
        (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn remedies(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Query(Asked { key }): Query<Asked>,
) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let contents = store.contents(ProjectId::new(project))?;
        let point = contents.project.points().into_iter().find(|point| point.key() == key);
        let found = point.map_or_else(Vec::new, |point| contents.project.remedies(&point));
        let found: Vec<PointRemedyResult> = found.into_iter().map(Into::into).collect();
        Ok(Reply::json(&found))
    })
    .await
}

/// Read what of a project cannot be read, as it is kept
///
/// Such records are set aside: they stay in the data file, and all else goes on without them.
#[utoipa::path(
    get,
    path = "/projects/{project}/set-aside",
    tag = "projects",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 200, body = Vec<SetAside>),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn set_aside(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let contents = store.contents(ProjectId::new(project))?;
        Ok(Reply::json(&aside(&contents.set_aside)).downloaded("set-aside.json"))
    })
    .await
}

/// The resources of things that cannot be read.
pub fn aside(all: &[ratiomet_store::SetAside]) -> Vec<SetAside> {
    let each =
        |aside: &ratiomet_store::SetAside| SetAside::new(&aside.kind, aside.id, &aside.why, aside.format, &aside.body);
    all.iter().map(each).collect()
}
