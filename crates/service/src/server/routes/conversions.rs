//! The single conversions of a project.

use axum::Json;
use axum::extract::State;
use ratiomet_core::dial_in::{self, Entry};
use ratiomet_core::project::{Choice, Crossing, Deliverable, Footage, FramingSpec, Layout, Pair, Placing, Proposal};
use ratiomet_core::rests::Rests;
use ratiomet_core::subject::SubjectSpec;
use ratiomet_store::{Record, Store, StoreError};
use ratiomet_wire::problem::{FieldError, Problem};
use ratiomet_wire::project::{
    ChoiceSet, Conversion, Preview, PreviewRequest, ProposalResult, RoundingCostResult, read_choice_patch, read_preview,
};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Body, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(get_conversion, set_conversion))
        .routes(routes!(preview_conversion))
        .routes(routes!(proposals))
        .routes(routes!(rounding))
}

/// What a conversion is computed from.
struct Parties {
    pair: Pair,
    source: Record<Footage>,
    frame: Record<Deliverable>,
    version: i32,
    choice: Choice,
    board: Placing,
    /// All frames and choices, where the frame is reached through others.
    whole: Option<ratiomet_store::Contents>,
}

impl Parties {
    fn read(store: &mut Store, project: i32, pair: Pair) -> Result<Self, StoreError> {
        let board = store.project(project)?.settings.method;
        let source = store.get::<Footage>(project, pair.source)?;
        let frame = store.get::<Deliverable>(project, pair.frame)?;
        let (version, choice) = store.choice(project, pair)?;
        let whole = frame.value.through.is_some().then(|| store.contents(project)).transpose()?;
        Ok(Self { pair, source, frame, version, choice, board, whole })
    }

    fn crossing(&self, choice: &Choice) -> Crossing {
        let (source, footage, frame) = (self.source.id, &self.source.value, self.frame.id);
        let through = self.whole.as_ref().map(ratiomet_store::Contents::layout);
        let alone = || Layout::new([(frame, &self.frame.value)], [], self.board);
        through
            .unwrap_or_else(alone)
            .crossing(source, footage, frame, Some(choice))
            .unwrap_or_else(|| Crossing::of(footage, &self.frame.value, choice, self.board))
    }

    fn conversion(&self, choice: &Choice) -> Conversion {
        let crossing = self.crossing(choice);
        let frame = self.frame.value.geometry.frame();
        let subject = self.source.value.subject.as_ref().map(SubjectSpec::subject);
        let rests = Rests::of(self.source.value.geometry.source(), frame, &crossing.placed, subject);
        Conversion::new(self.pair, self.version, choice, crossing, frame, rests)
    }

    /// The framing that the choice gives, with a number typed into its dial.
    fn dialled(&self, choice: &Choice, entry: &Entry) -> Result<FramingSpec, ratiomet_core::Error> {
        let (footage, frame) = (&self.source.value, &self.frame.value);
        let (_, spec) = Crossing::framing_of(footage, frame, choice, self.board);
        let placed = Crossing::placed(footage, frame, &spec);
        let (source, frame) = (footage.geometry.source(), frame.geometry.frame());
        let found = dial_in::framing_for(source, frame, &placed, entry)?;
        let written = FramingSpec::written(&found);
        // A size alone does not take the picture off its subject.
        let still = spec.method == Placing::AroundSubject && entry.convention.is_scale();
        Ok(if still { FramingSpec { zoom: written.zoom, ..spec } } else { written })
    }

    /// The framing that shows the place which another conversion shows.
    fn like(&self, other: &Self) -> FramingSpec {
        let placed = other.crossing(&other.choice).placed;
        let geometry = |parties: &Self| {
            (parties.source.value.geometry.source().clone(), parties.frame.value.geometry.frame().clone())
        };
        let ((from_source, from_frame), (source, frame)) = (geometry(other), geometry(self));
        FramingSpec::written(&dial_in::carried((&from_source, &from_frame, &placed), (&source, &frame)))
    }
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
    let parties = app.with_store(move |store| Parties::read(store, project, Pair { source, frame })).await?;
    Ok(Json(parties.conversion(&parties.choice)))
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
    let patch = body.read(read_choice_patch)?;
    let pair = Pair { source, frame };
    let (stale, parties) = app
        .with_store(move |store| match store.set_choice(project, pair, version, &patch) {
            Err(StoreError::Stale { .. }) => Ok((true, Parties::read(store, project, pair)?)),
            Err(error) => Err(error),
            Ok(_) => Ok((false, Parties::read(store, project, pair)?)),
        })
        .await?;
    let conversion = parties.conversion(&parties.choice);
    if stale { Err(Refusal::stale(conversion)) } else { Ok(Json(conversion)) }
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
    request_body = PreviewRequest,
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
    let Preview { patch, entry, like } = body.read(read_preview)?;
    let (parties, other) = app
        .with_store(move |store| {
            let parties = Parties::read(store, project, Pair { source, frame })?;
            Ok((parties, like.map(|pair| Parties::read(store, project, pair)).transpose()?))
        })
        .await?;
    let mut choice = patch.apply(&parties.choice);
    if let Some(other) = other {
        choice.own = Some(parties.like(&other));
    }
    if let Some(entry) = entry {
        choice.own = Some(parties.dialled(&choice, &entry).map_err(|why| Refusal::no_framing(&why))?);
    }
    Ok(Json(parties.conversion(&choice)))
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
) -> Result<Json<Vec<ProposalResult>>, Refusal> {
    let pair = Pair { source, frame };
    let parties = app.with_store(move |store| Parties::read(store, project, pair)).await?;
    let now = parties.crossing(&parties.choice);
    let found = Proposal::all(&parties.source.value, &parties.frame.value, &parties.choice, parties.board, &now);
    Ok(Json(found.into_iter().map(|proposal| ProposalResult::new(pair, &now, proposal)).collect()))
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
) -> Result<Json<Vec<RoundingCostResult>>, Refusal> {
    if decimals > 4 {
        let error = FieldError { pointer: "/decimals".to_owned(), detail: "0 to 4 decimals".to_owned() };
        return Err(Problem::fields(vec![error]).into());
    }
    let parties = app.with_store(move |store| Parties::read(store, project, Pair { source, frame })).await?;
    let plan = parties.crossing(&parties.choice).plan;
    let (source, frame) = (parties.source.value.geometry.source(), parties.frame.value.geometry.frame());
    let costs = dial_in::rounding_costs(source, frame, &plan, decimals);
    Ok(Json(costs.into_iter().map(Into::into).collect()))
}
