//! Handing a project over: what would be written, the work itself, the archive.

use std::sync::atomic::Ordering;

use axum::Json;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use ratiomet_core::Severity;
use ratiomet_core::recipe::Chroma;
use ratiomet_handoff::{Format, Selection, archive, names};
use ratiomet_wire::calc::ChromaName;
use ratiomet_wire::problem::{FieldError, Problem};
use ratiomet_wire::read::Field;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::handoff::{Job, package};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, LongBody, Numbers};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(preview))
        .routes(routes!(begin))
        .routes(routes!(into))
        .routes(routes!(state, stop))
        .routes(routes!(fetch))
}

/// What is handed over.
#[derive(Serialize, ToSchema)]
struct HandoffRequest {
    /// The numbers of the sources; all when left out or empty.
    #[schema(required = false)]
    sources: Vec<i32>,
    /// The numbers of the frames; all when left out or empty.
    #[schema(required = false)]
    frames: Vec<i32>,
    /// The formats: html, pdf, csv, json, fdl, otio, `charts_svg`, `charts_png`, recipes, signals; all when
    /// left out.
    #[schema(required = false)]
    formats: Vec<String>,
    /// How the colour of recipes is sampled, 4:2:0 when left out.
    #[schema(required = false)]
    chroma: ChromaName,
}

struct Wanted {
    selection: Selection,
    formats: Vec<Format>,
}

fn read_wanted(field: &Field<'_>) -> Option<Wanted> {
    let object = field.object()?;
    let numbers = |field: &Field<'_>| {
        let each = field.array("an array of numbers")?;
        let number = |field: &Field<'_>| {
            let accepted = "the number of a record";
            field.whole(accepted).and_then(|id| i32::try_from(id).ok().or_else(|| field.refuse(accepted)))
        };
        each.iter().map(number).collect::<Vec<_>>().into_iter().collect::<Option<Vec<i32>>>()
    };
    let sources = object.optional("sources", Vec::new, numbers);
    let frames = object.optional("frames", Vec::new, numbers);
    let formats = object.optional(
        "formats",
        || Format::ALL.iter().map(|(_, format)| *format).collect(),
        |field| {
            let each = field.array("an array of formats")?;
            let formats: Vec<_> = each.iter().map(|field| field.word(&Format::ALL)).collect();
            formats.into_iter().collect::<Option<Vec<Format>>>()
        },
    );
    let chroma = object.optional("chroma", Chroma::default, |field| field.word(&Chroma::ALL));
    object.done()?;
    Some(Wanted { selection: Selection { sources: sources?, frames: frames?, chroma: chroma? }, formats: formats? })
}

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
    /// How many cautions stand open.
    cautions: usize,
    /// How many findings were accepted.
    accepted: usize,
    /// Conversions that have no recipe, each with the reason.
    without_recipe: Vec<String>,
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
    body: Body,
) -> Result<Json<HandoffPreview>, Refusal> {
    let Wanted { selection, formats } = body.read(read_wanted)?;
    let contents = app.with_store(move |store| store.contents(project)).await?;
    let made = tokio::task::spawn_blocking(move || {
        let package = package(&contents, &selection, || true)?;
        let names = |conversion| {
            let (source, frame) = (package.source_of(conversion), package.frame_of(conversion));
            format!("{} into {}", source.name.as_str(), frame.name.as_str())
        };
        let stops = package
            .conversions
            .iter()
            .flat_map(|conversion| conversion.stops().map(move |stop| (conversion, stop)).collect::<Vec<_>>());
        let stops = stops.map(|(conversion, stop)| OpenStop {
            source: package.sources[conversion.source].0,
            frame: package.frames[conversion.frame].0,
            conversion: names(conversion),
            code: stop.code,
            message: stop.message.clone(),
        });
        let findings = || package.conversions.iter().flat_map(|conversion| &conversion.findings);
        let open = |severity| findings().filter(|each| each.severity == severity && each.accepted.is_none()).count();
        let without = package.conversions.iter().filter_map(|conversion| {
            conversion.recipe.as_ref().err().map(|why| format!("{}: {why}", names(conversion)))
        });
        Some(HandoffPreview {
            name: format!("{}.zip", names::safe(&package.project)),
            conversions: package.conversions.len(),
            files: archive::paths(&package, &formats)
                .into_iter()
                .map(|(path, format)| PlannedFile { path, format: format.word() })
                .collect(),
            cautions: open(Severity::Caution),
            accepted: findings().filter(|each| each.accepted.is_some()).count(),
            without_recipe: without.collect(),
            stops: stops.collect(),
        })
    });
    made.await.ok().flatten().map(Json).ok_or_else(Refusal::internal)
}

/// A file of somebody else that takes ours in.
#[derive(Serialize, ToSchema)]
struct IntoRequest {
    /// An OpenTimelineIO file or an ASC Framing Decision List.
    text: String,
    /// What is handed over; its formats do not count here.
    #[schema(required = false)]
    wanted: HandoffRequest,
}

/// The file with ours added.
#[derive(Serialize, ToSchema)]
struct IntoResult {
    /// The file.
    text: String,
    /// How many of its clips or canvases have the name of a source.
    found: usize,
    /// The sources of which it has none.
    missing: Vec<String>,
}

/// Add what is known to a timeline or a framing list of somebody else
///
/// Clips of an OpenTimelineIO file, or canvases of a Framing Decision List, that have the name of a source
/// get its placements; everything else in the file stays as it was.
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
    body: LongBody,
) -> Result<Json<IntoResult>, Refusal> {
    let (text, wanted) = body.read(|field| {
        let object = field.object()?;
        let text = object.required("text", |field| field.string("the text of a file").map(|text| text.into_owned()));
        let wanted = object.nullable("wanted", read_wanted);
        object.done()?;
        Some((text?, wanted?))
    })?;
    let contents = app.with_store(move |store| store.contents(project)).await?;
    let selection = wanted.map(|wanted| wanted.selection).unwrap_or_default();
    let made = tokio::task::spawn_blocking(move || crate::handoff::add_to(&contents, &selection, &text));
    let added = made.await.map_err(|_| Refusal::internal())?.map_err(|why| {
        let detail = format!("an OpenTimelineIO file or an ASC Framing Decision List: {why}");
        Refusal::from(Problem::fields(vec![FieldError { pointer: "/text".to_owned(), detail }]))
    })?;
    Ok(Json(IntoResult {
        text: String::from_utf8(added.bytes).unwrap_or_default(),
        found: added.found,
        missing: added.missing,
    }))
}

/// How far a hand-off is.
#[derive(Serialize, ToSchema)]
struct HandoffState {
    /// Its number.
    id: u64,
    /// The name of the archive.
    name: String,
    /// `working`, `ready`, `stopped` or `failed`.
    state: &'static str,
    /// Steps that are done.
    done: usize,
    /// Steps that there are, as far as it is known.
    all: usize,
    /// The length of the archive, when it is ready.
    bytes: Option<usize>,
    /// Why it failed.
    error: Option<String>,
}

impl HandoffState {
    fn of(id: u64, job: &Job) -> Self {
        let (done, all) = (job.done.load(Ordering::Relaxed), job.all.load(Ordering::Relaxed));
        let (state, bytes, error) = match job.outcome() {
            None => ("working", None, None),
            Some(Ok(archive)) => ("ready", Some(archive.len()), None),
            Some(Err(why)) if why.is_empty() => ("stopped", None, None),
            Some(Err(why)) => ("failed", None, Some(why)),
        };
        Self { id, name: job.name.clone(), state, done: done.min(all), all, bytes, error }
    }
}

/// Begin a hand-off
///
/// It is made in the background; ask for its state, then fetch its archive. The latest four are kept.
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
    )
)]
async fn begin(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    body: Body,
) -> Result<(StatusCode, Json<HandoffState>), Refusal> {
    let Wanted { selection, formats } = body.read(read_wanted)?;
    let contents = app.with_store(move |store| store.contents(project)).await?;
    let name = format!("{}.zip", names::safe(contents.info.settings.name.as_str()));
    let count = |chosen: &[i32], all: usize| if chosen.is_empty() { all } else { chosen.len() };
    let conversions =
        count(&selection.sources, contents.sources.len()) * count(&selection.frames, contents.frames.len());
    let checked = tokio::task::spawn_blocking(move || {
        // Findings alone: recipes and drawings are made later.
        let layout = contents.layout();
        let chosen = |of: &[i32], id: i32| of.is_empty() || of.contains(&id);
        let mut stops = 0;
        for source in contents.sources.iter().filter(|source| chosen(&selection.sources, source.id)) {
            for frame in contents.frames.iter().filter(|frame| chosen(&selection.frames, frame.id)) {
                let crossing = layout.crossing(source.id, &source.value, frame.id, None);
                stops += usize::from(crossing.is_some_and(|crossing| crossing.severity() == Some(Severity::Stop)));
            }
        }
        drop(layout);
        (stops, contents, selection)
    });
    let (stops, contents, selection) = checked.await.map_err(|_| Refusal::internal())?;
    if stops > 0 {
        return Err(Problem::new(
            409,
            "open_stops",
            "Stop findings stand",
            format!("{stops} conversions have a stop finding that nobody has answered or accepted."),
            "Open each of them, mend it, or accept the finding with a reason.",
        )
        .into());
    }
    let (id, job) = app.handoffs.begin(name, conversions);
    let state = HandoffState::of(id, &job);
    tokio::task::spawn_blocking(move || job.work(&contents, &selection, &formats));
    Ok((StatusCode::ACCEPTED, Json(state)))
}

fn find(app: &App, id: u64) -> Result<std::sync::Arc<Job>, Refusal> {
    app.handoffs.get(id).ok_or_else(|| {
        Problem::new(
            404,
            "unknown",
            "There is no such hand-off",
            format!("Hand-off {id} is not known: the latest four are kept, until the server ends."),
            "Begin it again.",
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
async fn state(State(app): State<App>, Path(id): Path<u64>) -> Result<Json<HandoffState>, Refusal> {
    Ok(Json(HandoffState::of(id, &*find(&app, id)?)))
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
async fn stop(State(app): State<App>, Path(id): Path<u64>) -> Result<Json<HandoffState>, Refusal> {
    let job = find(&app, id)?;
    job.stop();
    Ok(Json(HandoffState::of(id, &job)))
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
async fn fetch(State(app): State<App>, Path(id): Path<u64>) -> Result<Response, Refusal> {
    let job = find(&app, id)?;
    match job.outcome() {
        Some(Ok(archive)) => {
            let name = format!("attachment; filename=\"{}\"", job.name);
            let headers = [(header::CONTENT_TYPE, "application/zip".to_owned()), (header::CONTENT_DISPOSITION, name)];
            Ok((headers, archive.to_vec()).into_response())
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
