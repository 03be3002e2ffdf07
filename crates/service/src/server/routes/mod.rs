//! The API, one file for each resource. Handlers parse, call and answer; nothing else.

mod board;
mod calc;
mod charts;
mod conversions;
mod edits;
mod events;
pub(super) mod frames;
mod handoffs;
mod hands;
mod history;
mod library;
mod links;
mod lists;
mod media;
mod media_stills;
mod on_spheres;
mod one;
mod outcomes;
pub(super) mod projects;
mod proofs;
mod readings;
mod server;
mod session;
pub(super) mod sources;
mod spheres;
mod standing;
mod stills;

use axum::http::Uri;
use utoipa::OpenApi;
use utoipa_axum::router::OpenApiRouter;

use super::App;
use super::refusal::Refusal;

/// The head of the API's description.
#[derive(OpenApi)]
#[openapi(
    components(schemas(super::live::Present, events::ProjectNews)),
    info(
        title = "Ratiomet",
        description = "Plans frame geometry conversions: how footage of any shape lands in the frames to deliver. \
                       Lengths are pixels of the space that a field names; angles are degrees; fractions are exact. \
                       Refusals are problem documents (RFC 9457)."
    ),
    tags(
        (name = "calculations", description = "Single calculations, without a project"),
        (name = "projects", description = "Projects and what they hold"),
        (name = "footage", description = "What the headers of files say"),
        (name = "pictures", description = "Stills of sources, and conversions carried out on them"),
        (name = "hand-off", description = "Sheets, interchange files and recipes of a project, in one archive"),
        (name = "library", description = "What is kept across projects"),
        (name = "server", description = "The server itself"),
    )
)]
struct Description;

/// Every route under `/api/v1`, with its description.
pub fn api() -> OpenApiRouter<App> {
    let v1 = OpenApiRouter::new()
        .merge(server::routes())
        .merge(session::routes())
        .merge(calc::routes())
        .merge(projects::routes())
        .merge(sources::routes())
        .merge(stills::routes())
        .merge(media_stills::routes())
        .merge(spheres::routes())
        .merge(hands::routes())
        .merge(on_spheres::routes())
        .merge(frames::routes())
        .merge(board::routes())
        .merge(conversions::routes())
        .merge(outcomes::routes())
        .merge(readings::routes())
        .merge(proofs::routes())
        .merge(charts::routes())
        .merge(edits::routes())
        .merge(history::routes())
        .merge(events::routes())
        .merge(lists::routes())
        .merge(media::routes())
        .merge(handoffs::routes())
        .merge(links::routes())
        .merge(library::routes());
    OpenApiRouter::with_openapi(Description::openapi()).nest("/api/v1", v1)
}

/// The plan that a link shows: a page and no part of the API.
pub use links::shared;

/// Anything under `/api` that is not there.
pub async fn unknown(uri: Uri) -> Refusal {
    Refusal::unknown_path(uri.path())
}

/// A method that an address does not take.
pub async fn wrong_method() -> Refusal {
    Refusal::wrong_method()
}
