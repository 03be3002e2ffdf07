//! Lists of footage, before they become sources.

use axum::Json;
use ratiomet_wire::list::{ListReading, ListRequest, read_list};
use ratiomet_wire::problem::Problem;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::LongBody;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(read))
}

/// Read a list of footage, without storing it
///
/// Every row comes back: with the source that it describes, or with what is wrong with it.
#[utoipa::path(
    post,
    path = "/list",
    tag = "calculations",
    request_body = ListRequest,
    responses(
        (status = 200, body = ListReading),
        (status = 413, description = "Too long", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Too many rows or columns, or no list", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn read(body: LongBody) -> Result<Json<ListReading>, Refusal> {
    let reading = tokio::task::spawn_blocking(move || {
        body.read(|field| {
            let list = read_list(field)?;
            list.understand().map_or_else(|accepted| field.refuse(accepted), Some)
        })
    });
    reading.await.map_err(|_| Refusal::internal())?.map(Json)
}
