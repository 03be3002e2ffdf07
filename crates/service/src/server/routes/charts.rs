//! Framing charts, to be held before a camera or laid over its picture.

use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use ratiomet_core::project::{ProjectId, Selection, SourceId};
use ratiomet_handoff::{Outcomes, camera_chart};
use ratiomet_store::Subject;
use ratiomet_wire::describe::record;
use ratiomet_wire::problem::Problem;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::handoff::{CarriedOut, package};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::{Numbers, Query};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(chart))
}

/// How a chart is drawn.
struct Asked {
    pictures: bool,
}

record!(
    /// How a chart is drawn.
    "ChartAsked", "queries" for Asked {
        /// Whether the still of the source shows behind it.
        pictures: bool = Default("false"), |asked| asked.pictures;
    }
    |pictures| Ok(Asked { pictures })
);

/// What every frame takes of a source, on its stored raster: the camera chart of a hand-off, as SVG
#[utoipa::path(
    get,
    path = "/projects/{project}/sources/{source}/chart",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("pictures" = Option<bool>, Query, description = "Whether the still of the source shows behind it"),
    ),
    responses(
        (status = 200, description = "A drawing", content_type = "image/svg+xml", body = String),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn chart(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Query(Asked { pictures }): Query<Asked>,
) -> Result<Response, Refusal> {
    let (project, id) = (ProjectId::new(project), SourceId::new(id));
    app.run_on_stills(move |store, stills| {
        let contents = store.contents(project)?;
        if contents.project.source(id).is_none() {
            return Err(store.missing(project, Subject::Source(id)).into());
        }
        let selection = Selection { sources: vec![id], ..Selection::default() };
        // OK because nobody ends it.
        let package = package(&contents, &selection, || true).ok_or_else(Refusal::internal)?;
        let outcomes = CarriedOut::new(&package, stills);
        let outcomes: &dyn Outcomes = &outcomes;
        let drawn = camera_chart(&package, 0, pictures.then_some(outcomes));
        Ok(([(header::CONTENT_TYPE, "image/svg+xml"), (header::CACHE_CONTROL, "no-store")], drawn).into_response())
    })
    .await
}
