//! The HTTP server: the API under `/api/v1`, the application for everything else.

mod assets;
mod guard;
mod refusal;
mod request;
mod routes;

use std::net::SocketAddr;
use std::sync::{Arc, Mutex, PoisonError};

use axum::Router;
use axum::middleware;
use ratiomet_store::{Store, StoreError};
use tokio::net::TcpListener;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::trace::TraceLayer;

use crate::handoff::Handoffs;
use crate::media_folder::MediaFolder;
use guard::AllowedHosts;

/// What the handlers share.
#[derive(Clone)]
struct App {
    store: Arc<Mutex<Store>>,
    media: Option<Arc<MediaFolder>>,
    handoffs: Arc<Handoffs>,
}

impl App {
    /// Work on the store, off the threads that answer requests.
    async fn with_store<T: Send + 'static>(
        &self,
        work: impl FnOnce(&mut Store) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, refusal::Refusal> {
        let store = self.store.clone();
        let done = tokio::task::spawn_blocking(move || {
            // OK because every write is a transaction: a panic in one leaves the store sound.
            work(&mut store.lock().unwrap_or_else(PoisonError::into_inner))
        });
        match done.await {
            Ok(answer) => answer.map_err(refusal::Refusal::from),
            Err(_) => Err(refusal::Refusal::internal()),
        }
    }
}

/// A bound address, ready to serve.
pub struct Site {
    listener: TcpListener,
    address: SocketAddr,
    hosts: Vec<String>,
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
        Ok(Self { listener, address, hosts })
    }

    /// Where a browser finds it.
    pub fn url(&self) -> String {
        format!("http://{}/", self.address)
    }

    /// Serves until it is told to stop by Ctrl-C or a termination signal.
    pub async fn serve(self, store: Store, media: Option<MediaFolder>) -> Result<(), String> {
        let app = App { store: Arc::new(Mutex::new(store)), media: media.map(Arc::new), handoffs: Arc::default() };
        let allowed = AllowedHosts::new(self.address, self.hosts);
        axum::serve(self.listener, router(app, allowed))
            .with_graceful_shutdown(stop_signal())
            .await
            .map_err(|error| format!("the server stopped: {error}"))
    }
}

async fn stop_signal() {
    let interrupt = async {
        // OK because without the signal there is only nothing to wait for.
        let _ = tokio::signal::ctrl_c().await;
    };
    #[cfg(unix)]
    let terminate = async {
        match tokio::signal::unix::signal(tokio::signal::unix::SignalKind::terminate()) {
            Ok(mut signal) => {
                signal.recv().await;
            }
            Err(_) => std::future::pending().await,
        }
    };
    #[cfg(not(unix))]
    let terminate = std::future::pending::<()>();
    tokio::select! {
        () = interrupt => {}
        () = terminate => {}
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

/// The description of the API.
pub fn openapi_json() -> String {
    let (_, document) = routes::api().split_for_parts();
    // OK because the document is plain data with text keys.
    document.to_pretty_json().unwrap_or_default()
}
