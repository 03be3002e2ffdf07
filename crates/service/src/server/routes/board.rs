//! The board of a project and its single conversions.

use std::collections::HashMap;

use axum::Json;
use axum::extract::State;
use ratiomet_core::common::Common;
use ratiomet_core::project::{self, Choice, Deliverable, Footage, Mismatch, Pair, Remedy, group};
use ratiomet_core::{Finding, Severity};
use ratiomet_store::{Contents, Record, Store, StoreError};
use ratiomet_wire::calc::CommonResult;
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{
    BinGroup, BinSummary, Board, ChoiceValues, Conversion, Crossing, RemedyResult, read_choice,
};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{frames, projects, sources};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(board))
        .routes(routes!(bin))
        .routes(routes!(common))
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
    let contents = app.with_store(move |store| store.contents(project)).await?;
    let choices = choices(&contents);
    let mut crossings = Vec::with_capacity(contents.sources.len() * contents.frames.len());
    for source in &contents.sources {
        for frame in &contents.frames {
            let (version, crossing) = crossing(&contents, &choices, source, frame);
            crossings.push(Crossing::new((source.id, frame.id), version, &crossing));
        }
    }
    Ok(Json(Board {
        project: projects::resource(&contents.info),
        sources: contents.sources.iter().map(sources::resource).collect(),
        frames: contents.frames.iter().map(frames::resource).collect(),
        crossings,
    }))
}

type Choices<'a> = HashMap<Pair, (i32, &'a Choice)>;

fn choices(contents: &Contents) -> Choices<'_> {
    contents.choices.iter().map(|(pair, version, choice)| (*pair, (*version, choice))).collect()
}

fn crossing(
    contents: &Contents,
    choices: &Choices<'_>,
    source: &Record<Footage>,
    frame: &Record<Deliverable>,
) -> (i32, project::Crossing) {
    let pair = Pair { source: source.id, frame: frame.id };
    let (version, choice) = choices.get(&pair).copied().unwrap_or((0, &Choice::Follows));
    (version, project::Crossing::of(&source.value, &frame.value, choice, contents.info.settings.method))
}

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
async fn bin(
    State(app): State<App>,
    Numbers((project, frame)): Numbers<(i32, i32)>,
) -> Result<Json<BinSummary>, Refusal> {
    let (contents, frame) =
        app.with_store(move |store| Ok((store.contents(project)?, store.get::<Deliverable>(project, frame)?))).await?;
    let choices = choices(&contents);
    let mut differing: Vec<(&'static str, usize)> = Vec::new();
    let mut matching = 0;
    let mut groups = Vec::new();
    for (kind, places) in group(contents.sources.iter().map(|source| &source.value)) {
        let members: Vec<_> = places.iter().map(|place| &contents.sources[*place]).collect();
        let Some(first) = members.first() else { continue };
        let mismatch = Mismatch::of(&first.value, &frame.value);
        if mismatch.is_none() {
            matching += members.len();
        }
        for word in mismatch.words() {
            match differing.iter_mut().find(|(known, _)| *known == word) {
                Some((_, count)) => *count += members.len(),
                None => differing.push((word, members.len())),
            }
        }
        let crossings: Vec<_> = members.iter().map(|source| crossing(&contents, &choices, source, &frame).1).collect();
        let worst = |crossing: &project::Crossing| crossing.plan.findings.iter().map(Finding::severity).max();
        let count = |severity| crossings.iter().filter(|crossing| worst(crossing) == Some(severity)).count();
        let ids: Vec<i32> = members.iter().map(|source| source.id).collect();
        let remedy = crossings.iter().find_map(|crossing| Remedy::of(&first.value, &frame.value, crossing));
        let (caution, stop) = (count(Severity::Caution), count(Severity::Stop));
        groups.push(BinGroup {
            words: kind.words(),
            differs: mismatch.words(),
            clean: members.len() - caution - stop,
            caution,
            stop,
            remedy: remedy.map(|remedy| RemedyResult::new(remedy, &ids, frame.id)),
            sources: ids,
        });
    }
    Ok(Json(BinSummary { frame: frame.id, sources: contents.sources.len(), matching, differing, groups }))
}

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
    ),
    responses(
        (status = 200, description = "Windows in the order of the frames", body = CommonResult),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn common(
    State(app): State<App>,
    Numbers((project, source)): Numbers<(i32, i32)>,
) -> Result<Json<CommonResult>, Refusal> {
    let (contents, source) =
        app.with_store(move |store| Ok((store.contents(project)?, store.get::<Footage>(project, source)?))).await?;
    let choices = choices(&contents);
    let placed = |frame: &Record<Deliverable>| {
        let pair = Pair { source: source.id, frame: frame.id };
        let choice = choices.get(&pair).map_or(&Choice::Follows, |(_, choice)| *choice);
        let board = contents.info.settings.method;
        let (_, framing) = project::Crossing::framing_of(&source.value, &frame.value, choice, board);
        (frame.value.geometry.frame().clone(), framing.framing())
    };
    let frames: Vec<_> = contents.frames.iter().map(placed).collect();
    Ok(Json(Common::of(source.value.geometry.source(), &frames).into()))
}

/// A conversion as it stands, or as it would be with another choice.
fn conversion(store: &mut Store, project: i32, pair: Pair, other: Option<Choice>) -> Result<Conversion, StoreError> {
    let board = store.project(project)?.settings.method;
    let source = store.get::<Footage>(project, pair.source)?;
    let frame = store.get::<Deliverable>(project, pair.frame)?;
    let (version, stored) = store.choice(project, pair)?;
    let crossing = project::Crossing::of(&source.value, &frame.value, &other.unwrap_or(stored), board);
    Ok(Conversion::new(source.id, frame.id, version, crossing))
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
    Ok(Json(app.with_store(move |store| conversion(store, project, Pair { source, frame }, None)).await?))
}

/// Give a conversion a framing of its own, or let it follow
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
    let key = Pair { source, frame };
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
    let key = Pair { source, frame };
    Ok(Json(app.with_store(move |store| conversion(store, project, key, Some(choice))).await?))
}
