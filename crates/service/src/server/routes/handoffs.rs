//! Handing a project over: what would be written, the work itself, the archive.

use std::sync::Arc;

use axum::extract::State;
use axum::http::StatusCode;
use axum::response::Response;
use ratiomet_core::project::{FrameId, HouseProfile, Packaged, ProjectId, Selection, SourceId};
use ratiomet_core::recipe::Chroma;
use ratiomet_exchange::{Added, Unmatched};
use ratiomet_handoff::{Format, LeftOut, Order, names};
use ratiomet_wire::Text;
use ratiomet_wire::describe::{Given, List, Values, record};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::PointResource;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::archive::Archive;
use crate::handoff::{self, CarriedOut, Wanted, add_to, package};
use crate::jobs::{Job, Progress, Stage};
use crate::server::refusal::{Refusal, too_many};
use crate::server::reply::Reply;
use crate::server::request::{Body, LongBody, Numbers, TakesGzip};
use crate::server::{App, streamed};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(preview))
        .routes(routes!(begin))
        .routes(routes!(into))
        .routes(routes!(state, stop))
        .routes(routes!(fetch))
}

/// The most records that a hand-off names.
const MOST: usize = 100_000;

record!(
    /// What is handed over.
    "HandoffRequest", "hand-offs" for Wanted {
        /// The numbers of the sources; all when left out or empty.
        sources: List<SourceId, 0, MOST> = Default("[]"), |wanted| List(wanted.selection.sources.clone());
        /// The numbers of the frames; all when left out or empty.
        frames: List<FrameId, 0, MOST> = Default("[]"), |wanted| List(wanted.selection.frames.clone());
        /// The formats; when left out all but `outcomes`.
        formats: Given<List<Format, 0, 100>> = Optional, |wanted| Given(Some(List(wanted.formats.clone())));
        /// How the colour of recipes is sampled.
        chroma: Chroma = Default("\"4:2:0\""), |wanted| wanted.selection.chroma;
        /// Whether plan sheets and charts show the stills of the sources and what comes out of them.
        pictures: bool = Default("false"), |wanted| wanted.pictures;
        /// What the program of whoever gets it asks for; null for what most programs ask for.
        profile: Option<HouseProfile> = Default("null"), |wanted| wanted.selection.profile.clone();
    }
    |sources, frames, formats, chroma, pictures, profile| Ok(Wanted {
        selection: Selection { sources: sources.0, frames: frames.0, chroma, profile },
        formats: formats.0.map_or_else(Format::usual, |formats| formats.0),
        pictures,
    })
);

type HandoffRequest = Values<Wanted>;

/// A file that would be written.
#[derive(Serialize, ToSchema)]
struct PlannedFile {
    /// Its path in the archive.
    path: String,
    /// The format that it belongs to.
    format: &'static str,
}

/// A finding that stands in the way.
#[derive(Serialize, ToSchema)]
struct OpenStop {
    /// The source's number.
    source: i32,
    /// The frame's number.
    frame: i32,
    /// Both names.
    conversion: String,
    /// The finding's stable code.
    code: &'static str,
    /// Its sentence.
    message: String,
}

/// What a hand-off would hold.
#[derive(Serialize, ToSchema)]
struct HandoffPreview {
    /// The name of the archive.
    name: String,
    /// How many conversions are in it.
    conversions: usize,
    /// The files, the manifest left out.
    files: Vec<PlannedFile>,
    /// Stop findings that nobody has accepted: with any of them there is no hand-off.
    stops: Vec<OpenStop>,
    /// What stands open of it, by its cause, and what was accepted.
    points: Vec<PointResource>,
    /// Conversions that have no recipe, each with the reason.
    without_recipe: Vec<String>,
    /// What is asked for and cannot be written, each with the reason.
    left_out: Vec<LeftOut>,
}

impl HandoffPreview {
    /// None when it was ended by `go_on`, which is asked at each conversion.
    fn of(order: &Order<'_>, go_on: impl Fn() -> bool + Sync) -> Option<Self> {
        let package = order.package;
        let stop = |packaged: &Packaged| {
            let stop = |stop: &ratiomet_core::project::Standing| OpenStop {
                source: package.sources[packaged.source].0.number(),
                frame: package.frames[packaged.frame].0.number(),
                conversion: package.name_of(packaged),
                code: stop.code,
                message: stop.message.clone(),
            };
            packaged.stops().map(stop).collect::<Vec<_>>()
        };
        let lacking = |packaged: &Packaged| {
            let why = package.recipe(packaged).err();
            why.map(|why| format!("{}: {why}", package.name_of(packaged)))
        };
        let (mut without_recipe, mut stops) = (Vec::new(), Vec::new());
        let is_over = package.each(
            |packaged| (lacking(packaged), stop(packaged)),
            |all| {
                for (lacking, stopped) in all {
                    without_recipe.extend(lacking);
                    stops.extend(stopped);
                    if !go_on() {
                        return true;
                    }
                }
                false
            },
        );
        if is_over {
            return None;
        }
        let planned = |(path, format): (String, Format)| PlannedFile { path, format: format.word() };
        let (paths, left_out) = (order.paths(&go_on), order.left_out(&go_on));
        go_on().then(|| Self {
            name: format!("{}.zip", names::safe(&package.project)),
            conversions: package.count(),
            files: paths.into_iter().map(planned).collect(),
            points: package.points.iter().map(PointResource::from).collect(),
            without_recipe,
            stops,
            left_out,
        })
    }
}

/// What a hand-off would hold, before it is made
#[utoipa::path(
    post,
    path = "/projects/{project}/handoff/preview",
    tag = "hand-off",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = HandoffRequest,
    responses(
        (status = 200, body = HandoffPreview),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn preview(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    TakesGzip(takes_gzip): TakesGzip,
    Body(Wanted { selection, formats, pictures }): Body<Wanted>,
) -> Result<Response, Refusal> {
    let stills = app.stills.clone();
    app.run_while_waited_for(move |store, gone| {
        let contents = store.contents(ProjectId::new(project))?;
        let go_on = || !gone.is_cancelled();
        // OK because nobody is there who would see it refused.
        let package = package(&contents, &selection, go_on).ok_or_else(Refusal::internal)?;
        let outcomes = CarriedOut::new(&package, &stills);
        let order = Order { package: &package, formats: &formats, outcomes: &outcomes, pictures };
        let preview = HandoffPreview::of(&order, go_on).ok_or_else(Refusal::internal)?;
        Ok(streamed::resource(takes_gzip, preview))
    })
    .await
}

/// A file of somebody else that takes ours in.
struct Into {
    text: String,
    wanted: Option<Wanted>,
}

record!(
    /// A file of somebody else that takes ours in.
    "IntoRequest", "files" for Into {
        /// An OpenTimelineIO file or an ASC Framing Decision List.
        text: Text<{ usize::MAX }> = Required, |into| Text(into.text.clone());
        /// What is handed over; its formats do not count here.
        wanted: Option<Wanted> = Default("null"), |into| into.wanted.clone();
    }
    |text, wanted| Ok(Into { text: text.0, wanted })
);

type IntoRequest = Values<Into>;

/// The file with ours added.
#[derive(Serialize, ToSchema)]
struct IntoResult {
    /// The file.
    text: String,
    /// How many of its clips or canvases are a source, by their file or their name.
    found: usize,
    /// How many placements or framing decisions they have got.
    placements: usize,
    /// The sources of which it has none.
    missing: Vec<String>,
    /// Its clips or canvases that are no source, each name once, of many the first 50.
    unmatched: Vec<Unmatched>,
}

/// Add what is known to a timeline or a framing list of somebody else
///
/// Clips of an OpenTimelineIO file, or canvases of a Framing Decision List, that have the file or the name of a source
/// (with or without an ending, in whatever capitals) get its placements; everything else in the file stays as it was. What an earlier hand-off of the same project has
/// added is brought up to date.
#[utoipa::path(
    post,
    path = "/projects/{project}/handoff/into",
    tag = "hand-off",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = IntoRequest,
    responses(
        (status = 200, body = IntoResult),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No such file, or nothing in it is known", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn into(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    LongBody(Into { text, wanted }): LongBody<Into>,
) -> Result<Reply, Refusal> {
    app.run_while_waited_for(move |store, gone| {
        let contents = store.contents(ProjectId::new(project))?;
        let selection = wanted.map(|wanted| wanted.selection).unwrap_or_default();
        let added = add_to(&contents, &selection, &text, || !gone.is_cancelled()).map_err(|why| {
            Refusal::field("/text", format!("an OpenTimelineIO file or an ASC Framing Decision List: {why}"))
        })?;
        let Added { bytes, found, placements, missing, unmatched, .. } = added;
        let text = String::from_utf8(bytes).expect("JSON is UTF-8");
        Ok(Reply::json(&IntoResult { text, found, placements, missing, unmatched }))
    })
    .await
}

/// How far a hand-off is.
#[derive(Serialize, ToSchema)]
struct HandoffState {
    /// Its number.
    id: u64,
    /// The name of the archive.
    name: String,
    /// `waiting`, `working`, `ready`, `stopped` or `failed`.
    state: &'static str,
    /// How many hand-offs are made before it, while it waits.
    before: usize,
    /// Steps that are done.
    done: usize,
    /// Steps that there are, as far as it is known.
    all: usize,
    /// The length of the archive, when it is ready.
    bytes: Option<u64>,
    /// Why it failed.
    error: Option<String>,
}

impl HandoffState {
    fn told(app: &App, id: u64) -> Result<Reply, Refusal> {
        let (job, stage) = find(app, id)?;
        let Progress { done, all } = job.progress();
        let state = stage.word();
        let (before, bytes, error) = match stage {
            Stage::Waiting(before) => (before, None, None),
            Stage::Ready(archive) => (0, Some(archive.bytes), None),
            Stage::Failed(why) => (0, None, Some(why)),
            Stage::Working | Stage::Stopped => (0, None, None),
        };
        Ok(Reply::json(&Self { id, name: job.name.clone(), state, before, done, all, bytes, error }))
    }
}

/// Begin a hand-off
///
/// It is made in the background, one after the other; ask for its state, then fetch its archive. The latest four are kept.
/// One that nobody asks for during an hour is stopped.
#[utoipa::path(
    post,
    path = "/projects/{project}/handoff",
    tag = "hand-off",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = HandoffRequest,
    responses(
        (status = 202, body = HandoffState),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 409, description = "Stop findings stand that nobody has accepted", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
        (status = 429, description = "Too many wait", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn begin(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Body(wanted): Body<Wanted>,
) -> Result<Reply, Refusal> {
    let (handoffs, stills) = (app.handoffs.clone(), app.stills.clone());
    let begun = app.run(move |store| {
        let contents = store.contents(ProjectId::new(project))?;
        let stops = contents.project.stopped(&wanted.selection);
        if stops > 0 {
            return Err(open_stops(stops));
        }
        let name = format!("{}.zip", names::safe(contents.project.settings().name.as_str()));
        let begun = handoff::begin(&handoffs, name, contents, wanted, stills);
        begun.ok_or_else(|| too_many("hand-offs"))
    });
    Ok(HandoffState::told(&app, begun.await?)?.with(StatusCode::ACCEPTED))
}

fn open_stops(count: usize) -> Refusal {
    let have = if count == 1 { "1 conversion has" } else { &format!("{count} conversions have") };
    Problem::new(
        409,
        "open_stops",
        "Blocking findings",
        format!("{have} a stop finding that nobody has answered or accepted."),
        "Fix each of them, or accept it with a reason.",
    )
    .into()
}

fn find(app: &App, id: u64) -> Result<(Arc<Job<Archive>>, Stage<Archive>), Refusal> {
    app.handoffs.get(id).ok_or_else(|| {
        Problem::new(
            404,
            "unknown",
            "This hand-off does not exist",
            format!("Hand-off {id} is unknown: the latest four are kept while the server runs."),
            "Start it again.",
        )
        .into()
    })
}

/// How far a hand-off is
#[utoipa::path(
    get,
    path = "/handoffs/{handoff}",
    tag = "hand-off",
    params(("handoff" = u64, Path, description = "The hand-off's number")),
    responses(
        (status = 200, body = HandoffState),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn state(State(app): State<App>, Numbers(id): Numbers<u64>) -> Result<Reply, Refusal> {
    HandoffState::told(&app, id)
}

/// Stop a hand-off
#[utoipa::path(
    delete,
    path = "/handoffs/{handoff}",
    tag = "hand-off",
    params(("handoff" = u64, Path, description = "The hand-off's number")),
    responses(
        (status = 200, body = HandoffState),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn stop(State(app): State<App>, Numbers(id): Numbers<u64>) -> Result<Reply, Refusal> {
    find(&app, id)?.0.stop();
    HandoffState::told(&app, id)
}

/// Fetch the archive of a hand-off that is ready
#[utoipa::path(
    get,
    path = "/handoffs/{handoff}/archive",
    tag = "hand-off",
    params(("handoff" = u64, Path, description = "The hand-off's number")),
    responses(
        (status = 200, description = "A ZIP file", content_type = "application/zip", body = Vec<u8>),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 409, description = "Not ready", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn fetch(State(app): State<App>, Numbers(id): Numbers<u64>) -> Result<Response, Refusal> {
    let (job, stage) = find(&app, id)?;
    match stage {
        Stage::Ready(archive) => {
            let sent = archive.into_response(&job.name);
            sent.map_err(|error| {
                tracing::error!(%error, "an archive cannot be opened");
                Refusal::internal()
            })
        }
        _ => Err(Problem::new(
            409,
            "not_ready",
            "The archive is not ready",
            format!("Hand-off {id} is still being made, was stopped, or has failed."),
            "Ask for its state first.",
        )
        .into()),
    }
}
