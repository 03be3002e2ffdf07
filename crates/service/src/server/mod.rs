//! The HTTP server: the API under `/api/v1`, the application for everything else.

mod assets;
mod connections;
mod description;
mod guard;
mod refusal;
mod reply;
mod request;
mod routes;

use std::net::SocketAddr;
use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use axum::middleware;
use ratiomet_store::{Store, StoreError};
use tokio::net::TcpListener;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::trace::TraceLayer;

use crate::archive::Archive;
use crate::jobs::Jobs;
use crate::media_folder::MediaFolder;
use crate::proof::Proved;
use crate::stills::Stills;
pub use description::openapi_json;
use guard::AllowedHosts;
use refusal::Refusal;

/// What the handlers share.
#[derive(Clone)]
struct App {
    store: Arc<Store>,
    media: Option<Arc<MediaFolder>>,
    handoffs: Arc<Jobs<Archive>>,
    proofs: Arc<Jobs<Arc<Proved>>>,
    stills: Arc<Stills>,
    /// Whether only this machine can call.
    is_local: bool,
}

impl App {
    /// Work with the store, off the threads that answer requests.
    async fn run<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Store) -> Result<T, Refusal> + Send + 'static,
    ) -> Result<T, Refusal> {
        let store = self.store.clone();
        off_threads(move || work(&store)).await
    }
}

/// Work that takes its time, off the threads that answer requests.
async fn off_threads<T: Send + 'static>(
    work: impl FnOnce() -> Result<T, Refusal> + Send + 'static,
) -> Result<T, Refusal> {
    tokio::task::spawn_blocking(work).await.unwrap_or_else(|_| {
        tracing::error!("the work for a request panicked");
        Err(Refusal::internal())
    })
}

/// A bound address, ready to serve.
pub struct Site {
    listener: TcpListener,
    address: SocketAddr,
    hosts: Vec<String>,
    stop: Stop,
}

impl Site {
    /// Takes the address. The error is a sentence that says what to do.
    pub async fn bind(address: SocketAddr, hosts: Vec<String>) -> Result<Self, String> {
        let refuse = |error: std::io::Error| {
            let remedy = match error.kind() {
                std::io::ErrorKind::AddrInUse => {
                    "another program uses this port; name another one, or port 0 for any free one, with --listen"
                }
                std::io::ErrorKind::PermissionDenied => {
                    "ports under 1024 need more rights; name a higher one with --listen"
                }
                std::io::ErrorKind::AddrNotAvailable => "this machine has no such address; try --listen 127.0.0.1:7239",
                _ => "name another address with --listen",
            };
            format!("cannot listen on {address}: {error}; {remedy}")
        };
        let listener = TcpListener::bind(address).await.map_err(refuse)?;
        let address = listener.local_addr().map_err(refuse)?;
        let stop = Stop::new().map_err(|error| format!("the server cannot be told to stop: {error}"))?;
        Ok(Self { listener, address, hosts, stop })
    }

    /// Where a browser finds it.
    pub fn url(&self) -> String {
        format!("http://{}/", self.address)
    }

    /// Serves until it is told to stop by Ctrl-C or a termination signal. Told again, it ends at once.
    pub async fn serve(self, store: Store, media: Option<MediaFolder>) {
        let stills = Arc::new(Stills::beside(store.path()));
        let (store, media) = (Arc::new(store), media.map(Arc::new));
        let app = App {
            store,
            media,
            handoffs: Arc::default(),
            proofs: Arc::default(),
            stills,
            is_local: self.address.ip().is_loopback(),
        };
        tokio::spawn(keep_tidy(app.store.clone(), app.stills.clone()));
        let allowed = AllowedHosts::new(self.address, self.hosts);
        let (handoffs, proofs) = (app.handoffs.clone(), app.proofs.clone());
        let mut told = self.stop;
        let stop = async move {
            told.told().await;
            handoffs.stop();
            proofs.stop();
            tokio::spawn(async move {
                told.told().await;
                std::process::exit(130);
            });
        };
        connections::serve(self.listener, router(app, allowed), stop).await;
    }
}

/// How often a running server tidies its data file up.
const TIDY_EVERY: Duration = Duration::from_secs(3_600);

async fn keep_tidy(store: Arc<Store>, stills: Arc<Stills>) {
    loop {
        tokio::time::sleep(TIDY_EVERY).await;
        let (store, stills) = (store.clone(), stills.clone());
        let tidy = move || {
            let tidied = store.tidy()?;
            let used = store.stills()?;
            let taken = stills.collect(|content| used.contains(&content));
            Ok::<_, StoreError>((tidied, taken))
        };
        match tokio::task::spawn_blocking(tidy).await {
            Ok(Ok(tidied)) => tracing::debug!(?tidied, "the data file was tidied up"),
            Ok(Err(error)) => tracing::error!(%error, "the data file cannot be tidied up"),
            Err(_) => tracing::error!("tidying up panicked"),
        }
    }
}

/// What tells the server to stop: it is heard from before the server says that it is there.
struct Stop {
    #[cfg(unix)]
    interrupt: tokio::signal::unix::Signal,
    #[cfg(unix)]
    terminate: tokio::signal::unix::Signal,
}

impl Stop {
    #[cfg(unix)]
    fn new() -> std::io::Result<Self> {
        use tokio::signal::unix::{SignalKind, signal};
        Ok(Self { interrupt: signal(SignalKind::interrupt())?, terminate: signal(SignalKind::terminate())? })
    }

    #[cfg(unix)]
    async fn told(&mut self) {
        tokio::select! {
            _ = self.interrupt.recv() => {}
            _ = self.terminate.recv() => {}
        }
    }

    #[cfg(not(unix))]
    #[expect(clippy::unnecessary_wraps, reason = "as on other systems")]
    fn new() -> std::io::Result<Self> {
        Ok(Self {})
    }

    #[cfg(not(unix))]
    async fn told(&mut self) {
        // OK because without the signal there is only nothing to wait for.
        let _ = tokio::signal::ctrl_c().await;
    }
}

fn router(app: App, allowed: AllowedHosts) -> Router {
    let (api, _) = routes::api().split_for_parts();
    let pages = Router::new().fallback(assets::serve).layer(CompressionLayer::new());
    Router::new()
        .merge(api.with_state(app))
        .route("/api/{*rest}", axum::routing::any(routes::unknown))
        .fallback_service(pages)
        .method_not_allowed_fallback(routes::wrong_method)
        .layer(CatchPanicLayer::custom(refusal::after_panic))
        .layer(middleware::from_fn_with_state(allowed, guard::check))
        .layer(middleware::from_fn(guard::add_headers))
        .layer(TraceLayer::new_for_http())
}
