//! The single conversions of a project.

use axum::extract::State;
use ratiomet_core::project::{Choice, ChoicePatch, Edit, FrameId, Pair, ProjectId, SourceId};
use ratiomet_store::{Contents, Subject};
use ratiomet_wire::names::{ChoiceSet, PreviewValues};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{ConversionResource, PreviewRequest, ProposalResult, RoundingCostResult};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::one;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(get_conversion, set_conversion))
        .routes(routes!(preview_conversion))
        .routes(routes!(proposals))
        .routes(routes!(rounding))
}

const fn pair(source: i32, frame: i32) -> Pair {
    Pair::new(SourceId::new(source), FrameId::new(frame))
}

/// The resource of a conversion with what a choice adds, if its source and frame are there.
fn with_choice(contents: &Contents, pair: Pair, choice: &Choice) -> Option<ConversionResource> {
    let project = &contents.project;
    let conversion = project.conversion_with(pair, choice)?;
    let rests = project.rests(pair, &conversion.placed)?;
    let frame = project.frame(pair.frame)?.geometry.frame();
    let version = contents.version(Subject::Choice(pair))?;
    Some(ConversionResource::new(pair, version, choice, conversion, frame, rests))
}

fn resource(contents: &Contents, pair: Pair) -> Option<ConversionResource> {
    with_choice(contents, pair, &contents.project.choice(pair))
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
        (status = 200, body = ConversionResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn get_conversion(
    State(app): State<App>,
    Numbers((project, source, frame)): Numbers<(i32, i32, i32)>,
) -> Result<Reply, Refusal> {
    let (project, pair) = (ProjectId::new(project), pair(source, frame));
    app.run(move |store| one::read(store, project, Subject::Choice(pair), |contents| resource(contents, pair))).await
}

/// Set parts of what a conversion adds: its framing, what was accepted, its pins
///
/// What is left out stays. `own` null lets it follow.
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
    request_body = ChoiceSet,
    responses(
        (status = 200, body = ConversionResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 412, description = "Changed meanwhile; current holds the conversion", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn set_conversion(
    State(app): State<App>,
    Numbers((project, source, frame)): Numbers<(i32, i32, i32)>,
    version: Version,
    Body(patch): Body<ChoicePatch>,
) -> Result<Reply, Refusal> {
    let pair = pair(source, frame);
    let subject = (ProjectId::new(project), Subject::Choice(pair));
    let edit = Edit::SetChoice { pair, patch: Box::new(patch) };
    app.run(move |store| one::change(store, subject, &version, &edit, |contents| resource(contents, pair))).await
}

/// Read what a conversion would be, without changing it
///
/// With another framing, with a number typed into one of its dials, or with the place of the picture
/// that another conversion shows. The framing that comes of it is in `framing`, ready to be put.
#[utoipa::path(
    post,
    path = "/projects/{project}/conversions/{source}/{frame}/preview",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("frame" = i32, Path, description = "The frame's number"),
    ),
    request_body = PreviewValues,
    responses(
        (status = 200, body = ConversionResource),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn preview_conversion(
    State(app): State<App>,
    Numbers((project, source, frame)): Numbers<(i32, i32, i32)>,
    Body(PreviewRequest { own, entry, like }): Body<PreviewRequest>,
) -> Result<Reply, Refusal> {
    let (project, pair) = (ProjectId::new(project), pair(source, frame));
    app.run(move |store| {
        let contents = store.contents(project)?;
        let missing = |pair| store.missing(project, Subject::Choice(pair));
        let mut choice = contents.project.choice(pair);
        if let Some(own) = own {
            choice.own = own;
        }
        if let Some(other) = like {
            choice.own = Some(
                contents
                    .project
                    .like(pair, other)
                    .ok_or_else(|| missing(if contents.project.holds(pair) { other } else { pair }))?,
            );
        }
        if let Some(entry) = entry {
            let found = contents.project.dialled(pair, &choice, &entry).ok_or_else(|| missing(pair))?;
            choice.own = Some(found.map_err(|why| Refusal::field("/entry/value", why.to_string()))?);
        }
        let resource = with_choice(&contents, pair, &choice).ok_or_else(|| missing(pair))?;
        Ok(Reply::json(&resource))
    })
    .await
}

/// Read what would help against the findings of a conversion
///
/// Each with the edit that does it and what would come of it.
#[utoipa::path(
    get,
    path = "/projects/{project}/conversions/{source}/{frame}/proposals",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("frame" = i32, Path, description = "The frame's number"),
    ),
    responses(
        (status = 200, description = "In the order of the findings", body = Vec<ProposalResult>),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn proposals(
    State(app): State<App>,
    Numbers((project, source, frame)): Numbers<(i32, i32, i32)>,
) -> Result<Reply, Refusal> {
    let (project, pair) = (ProjectId::new(project), pair(source, frame));
    app.run(move |store| {
        let found = store.contents(project)?.project.proposals(pair);
        let (now, proposals) = found.ok_or_else(|| store.missing(project, Subject::Choice(pair)))?;
        let results: Vec<_> = proposals.into_iter().map(|proposal| ProposalResult::new(pair, &now, proposal)).collect();
        Ok(Reply::json(&results))
    })
    .await
}

/// Read what it costs when a program rounds the numbers of a conversion
#[utoipa::path(
    get,
    path = "/projects/{project}/conversions/{source}/{frame}/rounding/{decimals}",
    tag = "projects",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("frame" = i32, Path, description = "The frame's number"),
        ("decimals" = u32, Path, description = "How many decimals the program keeps, 0 to 4"),
    ),
    responses(
        (status = 200, description = "One for each convention that can be read", body = Vec<RoundingCostResult>),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "More decimals than 4", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn rounding(
    State(app): State<App>,
    Numbers((project, source, frame, decimals)): Numbers<(i32, i32, i32, u32)>,
) -> Result<Reply, Refusal> {
    if decimals > 4 {
        return Err(Refusal::field("/decimals", "0 to 4 decimals"));
    }
    let (project, pair) = (ProjectId::new(project), pair(source, frame));
    app.run(move |store| {
        let costs = store.contents(project)?.project.rounding_costs(pair, decimals);
        let costs = costs.ok_or_else(|| store.missing(project, Subject::Choice(pair)))?;
        let results: Vec<RoundingCostResult> = costs.into_iter().map(Into::into).collect();
        Ok(Reply::json(&results))
    })
    .await
}
