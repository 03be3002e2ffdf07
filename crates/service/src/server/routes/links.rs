//! Links that show the plan of a project to whoever has them, until a day; and what they show.

use axum::extract::{Path, State};
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use jiff::{SignedDuration, Timestamp};
use ratiomet_core::project::{Name, ProjectId, Selection};
use ratiomet_handoff::{Format, Order};
use ratiomet_store::Link;
use ratiomet_wire::Count;
use ratiomet_wire::describe::{Values, record};
use ratiomet_wire::problem::Problem;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::handoff::{self, CarriedOut};
use crate::secret;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(links, add_link)).routes(routes!(remove_link))
}

/// For how many days a link shows a plan.
type Days = Count<365>;

/// A link that is wanted.
struct Wanted {
    name: Name,
    days: Days,
}

record!(
    /// A link that is wanted.
    "LinkValues", "values" for Wanted {
        /// For whom it is.
        name: Name = Required, |wanted| wanted.name.clone();
        /// For how many days it shows the plan.
        days: Days = Default("14"), |wanted| wanted.days;
    }
    |name, days| Ok(Wanted { name, days })
);

type LinkValues = Values<Wanted>;

/// A link that shows a plan
#[derive(Serialize, ToSchema)]
struct SharedLink {
    /// Its number.
    id: i32,
    /// For whom it is.
    name: String,
    /// When it ends, in milliseconds since 1970, UTC.
    until: i64,
    /// When it was made, in milliseconds since 1970, UTC.
    made_at: i64,
    /// By whom; null where people are not known.
    made_by: Option<String>,
    /// Where it leads, below the address of the server; only when it has just been made.
    #[serde(skip_serializing_if = "Option::is_none")]
    path: Option<String>,
}

fn shown(link: Link, path: Option<String>) -> SharedLink {
    let Link { id, name, until, made_at, made_by } = link;
    SharedLink { id, name, until, made_at, made_by, path }
}

/// Read the links that show the plan of a project, the newest first
#[utoipa::path(
    get,
    path = "/projects/{project}/links",
    tag = "hand-off",
    params(("project" = i32, Path, description = "The project's number")),
    responses((status = 200, body = Vec<SharedLink>), (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"))
)]
async fn links(State(app): State<App>, Numbers(project): Numbers<i32>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let links = store.links(ProjectId::new(project))?;
        Ok(Reply::json(&links.into_iter().map(|link| shown(link, None)).collect::<Vec<_>>()))
    })
    .await
}

/// Make a link that shows the plan of a project to whoever has it
#[utoipa::path(
    post,
    path = "/projects/{project}/links",
    tag = "hand-off",
    params(("project" = i32, Path, description = "The project's number")),
    request_body = LinkValues,
    responses((status = 201, body = SharedLink), (status = 410, description = "The project is deleted", body = Problem, content_type = "application/problem+json"))
)]
async fn add_link(
    State(app): State<App>,
    Numbers(project): Numbers<i32>,
    Body(Wanted { name, days }): Body<Wanted>,
) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let made = secret::random::<24>();
        let until = Timestamp::now() + SignedDuration::from_hours(24 * i64::from(days.0));
        let digest = secret::digest(&made);
        let link = store.add_link(ProjectId::new(project), name.as_str(), &digest, until.as_millisecond())?;
        Ok(Reply::json(&shown(link, Some(format!("/shared/{made}")))).with(StatusCode::CREATED))
    })
    .await
}

/// Take a link back: it shows nothing any more
#[utoipa::path(
    delete,
    path = "/projects/{project}/links/{link}",
    tag = "hand-off",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("link" = i32, Path, description = "The link's number"),
    ),
    responses((status = 204, description = "It is taken back"))
)]
async fn remove_link(State(app): State<App>, Numbers((project, link)): Numbers<(i32, i32)>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        store.remove_link(ProjectId::new(project), link)?;
        Ok(Reply::nothing())
    })
    .await
}

/// What a plan may load: nothing but what stands in it.
const POLICY: &str = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; frame-ancestors 'none'; base-uri 'none'";

/// The plan that a link shows, as it is now: sheets to be read and printed, and nothing else of the server.
pub async fn shared(State(app): State<App>, Path(given): Path<String>) -> Response {
    let stills = app.stills.clone();
    let page = app
        .run_while_waited_for(move |store, gone| {
            let go_on = || !gone.is_cancelled();
            let Some(project) = store.linked(&secret::digest(&given))? else { return Ok(None) };
            let contents = store.contents(project)?;
            let package = handoff::package(&contents, &Selection::default(), go_on).ok_or_else(Refusal::internal)?;
            let outcomes = CarriedOut::new(&package, &stills);
            let order = Order { package: &package, formats: &[Format::Html], outcomes: &outcomes, pictures: false };
            let files = order.files(&go_on).map_err(|why| {
                tracing::error!("a shared plan cannot be written: {why}");
                Refusal::internal()
            })?;
            Ok(Some(files.into_iter().next().map_or_else(|| TOO_LARGE.into(), |file| file.bytes)))
        })
        .await;
    let (status, body) = match page {
        Ok(Some(page)) => (StatusCode::OK, page),
        Ok(None) => (StatusCode::NOT_FOUND, ENDED.as_bytes().to_vec()),
        Err(refusal) => return refusal.into_response(),
    };
    let headers = [
        (header::CONTENT_TYPE, HeaderValue::from_static("text/html; charset=utf-8")),
        (header::CONTENT_SECURITY_POLICY, HeaderValue::from_static(POLICY)),
        (header::HeaderName::from_static("x-robots-tag"), HeaderValue::from_static("noindex")),
    ];
    (status, headers, body).into_response()
}

macro_rules! told {
    ($title:literal, $words:literal) => {
        concat!(
            "<!DOCTYPE html><html lang=\"en\"><meta charset=\"utf-8\"><title>",
            $title,
            "</title><meta name=\"viewport\" content=\"width=device-width\"><style>body{font:1rem/1.5 system-ui,sans-serif;\
             margin:15vh auto;max-width:30rem;padding:0 1rem;color:#1d2a33;background:#efebe1}</style><h1>",
            $title,
            "</h1><p>",
            $words,
            "</p></html>"
        )
    };
}

/// What is shown where a link shows nothing any more.
const ENDED: &str =
    told!("This link has ended", "It has come to its last day, or was taken back. Ask whoever sent it for a new one.");
/// What is shown of a plan that has too many sheets to be read.
const TOO_LARGE: &str = told!(
    "This plan is too large for sheets",
    "It has more conversions than sheets are drawn of. Ask whoever sent the link for a hand-off of the part that you need."
);
