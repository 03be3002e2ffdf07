//! Lists of footage, before they become sources.

use ratiomet_exchange::list::{ListReading, ListRequest};
use ratiomet_wire::describe::Values;
use ratiomet_wire::problem::Problem;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::LongBody;
use crate::server::{App, off_threads};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(read))
}

type ListValues = Values<ListRequest>;

/// Read a list of footage, without storing it
///
/// Every row comes back: with the source that it describes, or with what is wrong with it.
#[utoipa::path(
    post,
    path = "/list",
    tag = "calculations",
    request_body = ListValues,
    responses(
        (status = 200, body = ListReading),
        (status = 413, description = "Too long", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Too many rows or columns, or no list", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn read(LongBody(list): LongBody<ListRequest>) -> Result<Reply, Refusal> {
    off_threads(move || {
        let place = if matches!(list, ListRequest::Text(_)) { "/text" } else { "/rows" };
        let reading = list.understand().map_err(|accepted| Refusal::field(place, accepted))?;
        Ok(Reply::json(&reading))
    })
    .await
}
