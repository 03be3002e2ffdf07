//! Proof of the board: every conversion carried out on the chart, in the background.

use std::sync::Arc;

use axum::extract::State;
use axum::http::StatusCode;
use ratiomet_core::project::{Pair, ProjectId};
use ratiomet_wire::problem::Problem;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::jobs::{Job, Progress, Stage};
use crate::proof::{Differs, Proved};
use crate::server::App;
use crate::server::refusal::{Refusal, too_many};
use crate::server::reply::Reply;
use crate::server::request::Numbers;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(begin_proof)).routes(routes!(proof_state, stop_proof))
}

/// How far a proof of a board is, and what has come of it.
#[derive(Serialize, ToSchema)]
struct ProofState {
    /// Its number.
    id: u64,
    /// `waiting`, `working`, `ready`, `stopped` or `failed`.
    state: &'static str,
    /// How many proofs are made before it, while it waits.
    before: usize,
    /// Conversions that are done.
    done: usize,
    /// Conversions that there are.
    all: usize,
    /// What has come of it, when it is ready.
    result: Option<ProofResult>,
    /// Why it failed.
    error: Option<String>,
}

/// What has come of a proof of a board.
#[derive(Serialize, ToSchema)]
struct ProofResult {
    /// The conversions that were carried out.
    conversions: Vec<CarriedOut>,
    /// What differs from its plan.
    differs: Vec<Different>,
}

/// A conversion that was carried out.
#[derive(Serialize, ToSchema)]
struct CarriedOut {
    /// The source's number.
    source: i32,
    /// The frame's number.
    frame: i32,
    /// By how many percent the circle is less round than planned; null where too little of it is seen.
    less_round: Option<f64>,
}

/// A conversion that does not come out as planned.
#[derive(Serialize, ToSchema)]
struct Different {
    /// The source's number.
    source: i32,
    /// The frame's number.
    frame: i32,
    /// Both names.
    conversion: String,
    /// What differs, or why it cannot be carried out.
    what: Vec<String>,
}

impl From<&Proved> for ProofResult {
    fn from(proved: &Proved) -> Self {
        let carried_out = |(pair, apart): &(Pair, Option<f64>)| CarriedOut {
            source: pair.source.number(),
            frame: pair.frame.number(),
            less_round: apart.map(|apart| apart * 100.0),
        };
        let different = |differs: &Differs| Different {
            source: differs.pair.source.number(),
            frame: differs.pair.frame.number(),
            conversion: differs.name.clone(),
            what: differs.what.clone(),
        };
        Self {
            conversions: proved.conversions.iter().map(carried_out).collect(),
            differs: proved.differs.iter().map(different).collect(),
        }
    }
}

type Underway = (Arc<Job<Arc<Proved>>>, Stage<Arc<Proved>>);

fn find(app: &App, id: u64) -> Result<Underway, Refusal> {
    app.proofs.get(id).ok_or_else(|| {
        Problem::new(
            404,
            "unknown",
            "This proof does not exist",
            format!("Proof {id} is unknown: the latest four are kept while the server runs."),
            "Start it again.",
        )
        .into()
    })
}

impl ProofState {
    fn told(app: &App, id: u64) -> Result<Reply, Refusal> {
        let (job, stage) = find(app, id)?;
        let Progress { done, all } = job.progress();
        let state = stage.word();
        let (before, result, error) = match stage {
            Stage::Waiting(before) => (before, None, None),
            Stage::Ready(proved) => (0, Some((&*proved).into()), None),
            Stage::Failed(why) => (0, None, Some(why)),
            Stage::Working | Stage::Stopped => (0, None, None),
        };
        Ok(Reply::json(&Self { id, state, before, done, all, result, error }))
    }
}

/// Prove the board: carry every conversion out, small, on the chart of the stand-in camera, and measure what comes out
///
/// Bars, the circle's place and roundness and the gray steps are held against the plan. It is made in the background; the
/// latest four are kept.
#[utoipa::path(
    post,
    path = "/projects/{project}/proofs",
    tag = "pictures",
    params(("project" = i32, Path, description = "The project's number")),
    responses(
        (status = 202, body = ProofState),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
        (status = 429, description = "Too many wait", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn begin_proof(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Reply, Refusal> {
    let proofs = app.proofs.clone();
    let begun = app.run(move |store| {
        let contents = store.contents(ProjectId::new(project))?;
        crate::proof::begin(&proofs, contents).ok_or_else(|| too_many("proofs"))
    });
    Ok(ProofState::told(&app, begun.await?)?.with(StatusCode::ACCEPTED))
}

/// How far a proof of a board is
#[utoipa::path(
    get,
    path = "/proofs/{proof}",
    tag = "pictures",
    params(("proof" = u64, Path, description = "The proof's number")),
    responses(
        (status = 200, body = ProofState),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn proof_state(State(app): State<App>, Numbers(id): Numbers<u64>) -> Result<Reply, Refusal> {
    ProofState::told(&app, id)
}

/// Stop a proof of a board
#[utoipa::path(
    delete,
    path = "/proofs/{proof}",
    tag = "pictures",
    params(("proof" = u64, Path, description = "The proof's number")),
    responses(
        (status = 200, body = ProofState),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn stop_proof(State(app): State<App>, Numbers(id): Numbers<u64>) -> Result<Reply, Refusal> {
    find(&app, id)?.0.stop();
    ProofState::told(&app, id)
}
