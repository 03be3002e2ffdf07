//! What is computed over all of a project: its board, the bin against a frame, what frames have in common,
//! the ways through working frames.

use std::collections::HashMap;

use axum::Json;
use axum::extract::{Query, State};
use ratiomet_core::common::Common;
use ratiomet_core::project::{Deliverable, Footage, Mismatch, Pair, Remedy, group};
use ratiomet_core::proxy::Proxies;
use ratiomet_core::{Severity, Step};
use ratiomet_store::Record;
use ratiomet_wire::calc::CommonResult;
use ratiomet_wire::problem::{FieldError, Problem};
use ratiomet_wire::project::{BinGroup, BinSummary, Board, Crossing, FrameWay, RemedyResult, WaySource, WaysResult};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{frames, projects, sources};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::Numbers;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(board)).routes(routes!(bin)).routes(routes!(common)).routes(routes!(ways))
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
    let layout = contents.layout();
    let versions: HashMap<Pair, i32> = contents.choices.iter().map(|(pair, version, _)| (*pair, *version)).collect();
    let mut crossings = Vec::with_capacity(contents.sources.len() * contents.frames.len());
    for source in &contents.sources {
        for frame in &contents.frames {
            let version = versions.get(&Pair { source: source.id, frame: frame.id }).copied().unwrap_or(0);
            let crossing = layout.crossing(source.id, &source.value, frame.id, None);
            crossings.extend(crossing.map(|crossing| Crossing::new((source.id, frame.id), version, &crossing)));
        }
    }
    Ok(Json(Board {
        project: projects::resource(&contents.info),
        sources: contents.sources.iter().map(sources::resource).collect(),
        frames: contents.frames.iter().map(frames::resource).collect(),
        crossings,
    }))
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
    let layout = contents.layout();
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
        let crossing = |source: &&Record<Footage>| layout.crossing(source.id, &source.value, frame.id, None);
        let crossings: Vec<_> = members.iter().filter_map(crossing).collect();
        let count = |severity| crossings.iter().filter(|crossing| crossing.severity() == Some(severity)).count();
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

/// Which frames count.
#[derive(serde::Deserialize)]
struct FramesThatCount {
    frames: Option<String>,
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
    Query(FramesThatCount { frames: named }): Query<FramesThatCount>,
) -> Result<Json<CommonResult>, Refusal> {
    let (contents, source) =
        app.with_store(move |store| Ok((store.contents(project)?, store.get::<Footage>(project, source)?))).await?;
    let layout = contents.layout();
    let all: Vec<i32> = contents.frames.iter().map(|frame| frame.id).collect();
    let counts = match named {
        None => all,
        Some(named) => {
            let read: Option<Vec<i32>> = named.split(',').map(|number| number.trim().parse().ok()).collect();
            read.filter(|read| read.iter().all(|id| all.contains(id))).ok_or_else(|| {
                let detail = "numbers of frames of this project with commas between, such as 17,18".to_owned();
                Problem::fields(vec![FieldError { pointer: "/frames".to_owned(), detail }])
            })?
        }
    };
    let frames: Vec<_> = counts.into_iter().filter_map(|id| layout.framing(source.id, &source.value, id)).collect();
    Ok(Json(Common::of(source.value.geometry.source(), &frames).into()))
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
async fn ways(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Json<WaysResult>, Refusal> {
    let contents = app.with_store(move |store| store.contents(project)).await?;
    let layout = contents.layout();
    let passed: Vec<i32> = contents
        .frames
        .iter()
        .flat_map(|frame| layout.way(frame.id).into_iter().filter(move |id| *id != frame.id))
        .collect();
    let frames = contents.frames.iter().map(|frame| FrameWay {
        frame: frame.id,
        way: layout.way(frame.id),
        works: passed.contains(&frame.id),
        broken: layout.is_broken(frame.id),
        sources: contents
            .sources
            .iter()
            .filter_map(|source| Some(WaySource::new(source.id, layout.chain(source.id, &source.value, frame.id)?)))
            .collect(),
    });
    let proxies = contents.sources.iter().map(|source| {
        let raster = source.value.geometry.raster();
        // A raster that is too small to be made smaller has none.
        let proxies = Proxies::of(raster, Step::Two);
        proxies.unwrap_or_else(|_| Proxies { sizes: Vec::new(), largest_true: None }).into()
    });
    Ok(Json(WaysResult { frames: frames.collect(), proxies: proxies.collect() }))
}
