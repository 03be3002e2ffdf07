//! The server itself: that it answers, what it is, and its description.

use axum::extract::State;
use ratiomet_store::{DAYS, MOST_STEPS};
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::keeping;
use crate::server::App;
use crate::server::openapi_json;
use crate::server::reply::Reply;
use crate::version::VERSION;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(health)).routes(routes!(about)).routes(routes!(openapi))
}

/// That the server answers.
#[derive(Serialize, ToSchema)]
struct Health {
    /// Always "ready".
    status: &'static str,
    /// The version of the program; strangers on a network are not told.
    #[serde(skip_serializing_if = "Option::is_none")]
    version: Option<&'static str>,
}

/// Answers when the server is ready
#[utoipa::path(get, path = "/health", tag = "server", responses((status = 200, body = Health)))]
async fn health(State(app): State<App>) -> Reply {
    Reply::json(&Health { status: "ready", version: app.is_local.then_some(VERSION) })
}

/// What serves, and where it keeps things.
#[derive(Serialize, ToSchema)]
struct About {
    /// The version of the program.
    version: &'static str,
    /// The data file.
    data_file: String,
    /// Copies of it that were made before it was brought up to date, and that are still beside it.
    backups: Vec<String>,
    /// The daily copies beside it, the newest first.
    copies: Vec<String>,
    /// For how many days a branch of a history is kept after it was left, and a project after it was deleted.
    days: i64,
    /// The most steps that are kept of a history.
    most_steps: usize,
}

/// What serves, and where it keeps things
#[utoipa::path(get, path = "/about", tag = "server", responses((status = 200, body = About)))]
async fn about(State(app): State<App>) -> Reply {
    let whole = std::path::absolute(app.store.path()).unwrap_or_else(|_| app.store.path().to_owned());
    Reply::json(&About {
        version: VERSION,
        data_file: whole.display().to_string(),
        backups: app.store.backups().iter().map(|copy| copy.display().to_string()).collect(),
        copies: keeping::copies_of(app.store.path()).iter().map(|copy| copy.display().to_string()).collect(),
        days: DAYS,
        most_steps: MOST_STEPS,
    })
}

/// This description
#[utoipa::path(get, path = "/openapi.json", tag = "server", responses((status = 200, description = "OpenAPI 3.1", body = serde_json::Value)))]
async fn openapi() -> Reply {
    Reply::text("application/json", openapi_json())
}
