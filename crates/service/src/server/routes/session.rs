//! Who is logged in.

use axum::extract::{Extension, State};
use axum::http::{HeaderMap, HeaderValue, header};
use axum::response::IntoResponse;
use ratiomet_wire::Text;
use ratiomet_wire::describe::{Values, record};
use ratiomet_wire::problem::Problem;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::people::Role;
use crate::server::App;
use crate::server::entrance::{self, Peer};
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::Body;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(session, log_in, log_out)).routes(routes!(change_password))
}

/// Who is logged in
#[derive(Serialize, ToSchema)]
struct SessionNow {
    /// Whether people must be known here; on a server that only its own machine can call they need not.
    guarded: bool,
    /// Who it is; none when nobody is logged in.
    name: Option<String>,
    /// What is allowed; none when nobody is logged in.
    role: Option<Role>,
}

/// Who wants in.
struct Credentials {
    name: Text<200>,
    password: Text<1024>,
}

record!(
    /// Who wants in.
    "LogIn", "values" for Credentials {
        /// The name.
        name: Text<200> = Required, |given| given.name.clone();
        /// The password.
        password: Text<1024> = Required, |given| given.password.clone();
    }
    |name, password| Ok(Credentials { name, password })
);

type LogIn = Values<Credentials>;

/// Another password.
struct Replaced {
    current: Text<1024>,
    new: Text<1024>,
}

record!(
    /// Another password.
    "NewPassword", "values" for Replaced {
        /// The one that counts until now.
        current: Text<1024> = Required, |given| given.current.clone();
        /// The one that counts from now on: 12 characters at least.
        new: Text<1024> = Required, |given| given.new.clone();
    }
    |current, new| Ok(Replaced { current, new })
);

type NewPassword = Values<Replaced>;

/// Read who is logged in
#[utoipa::path(get, path = "/session", tag = "server", responses((status = 200, body = SessionNow)))]
async fn session(State(app): State<App>) -> Reply {
    let (name, role) = entrance::caller().map(|caller| (caller.name, caller.role)).unzip();
    Reply::json(&SessionNow { guarded: app.entrance.is_guarded(), name, role })
}

/// Log in: the answer sets the cookie of a session
#[utoipa::path(
    post,
    path = "/session",
    tag = "server",
    request_body = LogIn,
    responses(
        (status = 200, body = SessionNow),
        (status = 401, description = "Name or password is wrong", body = Problem, content_type = "application/problem+json"),
        (status = 429, description = "Too many wrong tries; Retry-After says how long to wait", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn log_in(
    State(app): State<App>,
    peer: Option<Extension<Peer>>,
    headers: HeaderMap,
    Body(Credentials { name, password }): Body<Credentials>,
) -> Result<impl IntoResponse, Refusal> {
    let from = app.entrance.address(&headers, peer.map(|Extension(peer)| peer));
    let (caller, cookie) = app.entrance.log_in(&name.0, password.0, from).await?;
    let now = SessionNow { guarded: true, name: Some(caller.name), role: Some(caller.role) };
    Ok((with_cookie(cookie)?, Reply::json(&now)))
}

/// Log out
#[utoipa::path(delete, path = "/session", tag = "server", responses((status = 204, description = "Nobody is logged in any more")))]
async fn log_out(State(app): State<App>, headers: HeaderMap) -> Result<impl IntoResponse, Refusal> {
    Ok((with_cookie(app.entrance.log_out(&headers))?, Reply::nothing()))
}

/// Change your own password; your other sessions end
#[utoipa::path(
    put,
    path = "/session/password",
    tag = "server",
    request_body = NewPassword,
    responses(
        (status = 204, description = "It counts from now on"),
        (status = 401, description = "Nobody is logged in, or the password until now is another one", body = Problem, content_type = "application/problem+json"),
        (status = 429, description = "Too many wrong tries; Retry-After says how long to wait", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn change_password(
    State(app): State<App>,
    peer: Option<Extension<Peer>>,
    headers: HeaderMap,
    Body(Replaced { current, new }): Body<Replaced>,
) -> Result<Reply, Refusal> {
    let from = app.entrance.address(&headers, peer.map(|Extension(peer)| peer));
    app.entrance.change_password(&headers, (current.0, new.0), from).await?;
    Ok(Reply::nothing())
}

fn with_cookie(cookie: String) -> Result<[(header::HeaderName, HeaderValue); 1], Refusal> {
    let value = HeaderValue::try_from(cookie).map_err(|_| Refusal::internal())?;
    Ok([(header::SET_COOKIE, value)])
}
