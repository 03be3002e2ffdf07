//! The HTTP server: the API under `/api/v1`, the application for everything else.

mod assets;
mod boards;
mod connections;
mod description;
mod entrance;
mod guard;
mod live;
mod points;
mod quiet;
mod refusal;
mod reply;
mod request;
mod rights;
mod routes;
mod streamed;
mod tls;

use std::net::{IpAddr, SocketAddr};
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use axum::middleware;
use jiff::Timestamp;
use ratiomet_store::{Store, StoreError};
use tokio::net::TcpListener;
use tokio::sync::watch;
use tokio_util::sync::CancellationToken;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::trace::TraceLayer;

use crate::archive::Archive;
use crate::jobs::Jobs;
use crate::keeping::{self, Copies};
use crate::media_folder::MediaFolder;
use crate::people::PeopleFile;
use crate::proof::Proved;
use crate::stills::Stills;
use boards::Boards;
pub use description::openapi_json;
use entrance::Entrance;
use guard::Names;
pub use guard::Public;
use live::Live;
use points::Points;
use refusal::Refusal;
use tls::Tls;

/// What the handlers share.
#[derive(Clone)]
struct App {
    store: Store,
    media: Option<Arc<MediaFolder>>,
    handoffs: Arc<Jobs<Archive>>,
    proofs: Arc<Jobs<Arc<Proved>>>,
    stills: Arc<Stills>,
    entrance: Arc<Entrance>,
    live: Arc<Live>,
    boards: Arc<Boards>,
    points: Arc<Points>,
    /// Whether only this machine can call.
    is_local: bool,
}

impl App {
    /// Work with the store, off the threads that answer requests.
    async fn run<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Store) -> Result<T, Refusal> + Send + 'static,
    ) -> Result<T, Refusal> {
        let who = entrance::caller();
        let store = self.store.in_hands_of(who.as_ref().map(|who| who.name.as_str()));
        off_threads(move || work(&store)).await
    }

    /// The same for work that unpacks stills. Little of it is done at once, also where nobody waits for it any more.
    async fn run_on_stills<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Store, &Stills) -> Result<T, Refusal> + Send + 'static,
    ) -> Result<T, Refusal> {
        let stills = self.stills.clone();
        let room = stills.room().await;
        self.run(move |store| {
            let _room = room;
            work(store, &stills)
        })
        .await
    }

    /// The same for work that can take long: it is told when nobody waits for its answer any more.
    async fn run_while_waited_for<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Store, &CancellationToken) -> Result<T, Refusal> + Send + 'static,
    ) -> Result<T, Refusal> {
        let gone = CancellationToken::new();
        let _waits = gone.clone().drop_guard();
        self.run(move |store| work(store, &gone)).await
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

/// How a server is reached, and by whom.
pub struct Reached {
    /// The address that it listens at.
    pub listen: SocketAddr,
    /// Further names that it answers to.
    pub hosts: Vec<String>,
    /// The address that people know it by.
    pub public: Option<Public>,
    /// What stands before it, and is believed when it says from where requests come.
    pub proxies: Vec<IpAddr>,
    /// The files of its certificate and of its key.
    pub tls: Option<(PathBuf, PathBuf)>,
    /// The file of the people that it knows.
    pub people: Option<PathBuf>,
}

/// A bound address, ready to serve.
pub struct Site {
    listener: TcpListener,
    address: SocketAddr,
    names: Names,
    public: Option<Public>,
    tls: Option<Tls>,
    entrance: Arc<Entrance>,
    stop: Stop,
}

impl Site {
    /// Takes the address. The error is a sentence that says what to do.
    pub async fn bind(reached: Reached) -> Result<Self, String> {
        let Reached { listen: address, hosts, public, proxies, tls, people } = reached;
        if people.is_none() && (public.is_some() || !address.ip().is_loopback()) {
            return Err(format!(
                "{} can be reached by others, who would see and change everything; make a file of the people who may, with \
                 ratiomet people add NAME --people FILE, and start with --people FILE",
                public.map_or_else(|| address.to_string(), |public| public.url()),
            ));
        }
        let people = people.as_deref().map(PeopleFile::open).transpose()?;
        let tls = tls.map(|(certificate, key)| Tls::open(certificate, key)).transpose()?;
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
        let is_secure = tls.is_some() || public.as_ref().is_some_and(Public::is_tls);
        if !is_secure && !address.ip().is_loopback() {
            tracing::warn!(
                "passwords and plans travel unencrypted; use --tls-certificate and --tls-key, or --public-url"
            );
        }
        let names = Names::new(address, tls.is_some(), &hosts, public.clone());
        let entrance = Arc::new(Entrance::new(people, address.port(), is_secure, proxies));
        Ok(Self { listener, address, names, public, tls, entrance, stop })
    }

    /// Where a browser finds it.
    pub fn url(&self) -> String {
        let scheme = if self.tls.is_some() { "https" } else { "http" };
        self.public.as_ref().map_or_else(|| format!("{scheme}://{}/", self.address), Public::url)
    }

    /// Where it listens.
    pub const fn address(&self) -> SocketAddr {
        self.address
    }

    /// Serves until it is told to stop by Ctrl-C or a termination signal. Told again, it ends at once.
    pub async fn serve(self, store: Store, media: Option<MediaFolder>, copies: Copies) {
        let stills = Arc::new(Stills::beside(store.path()));
        let live = Arc::new(Live::default());
        let heard = live.clone();
        store.tell(move |project| heard.changed(project));
        let app = App {
            store,
            media: media.map(Arc::new),
            handoffs: Arc::default(),
            proofs: Arc::default(),
            stills,
            live: live.clone(),
            boards: Arc::default(),
            points: Arc::default(),
            is_local: self.address.ip().is_loopback() && !self.entrance.is_guarded(),
            entrance: self.entrance,
        };
        tokio::spawn(keep_tidy(app.store.clone(), app.stills.clone()));
        tokio::spawn(keep_copies(app.store.path().to_owned(), copies));
        let (asked, hears) = watch::channel(());
        let (stills, store) = (app.stills.clone(), app.store.clone());
        let (boards, points) = (app.boards.clone(), app.points.clone());
        tokio::spawn(quiet::keep_small(hears, quiet::QUIET, move || {
            stills.forget();
            boards.forget();
            points.forget();
            store.forget();
        }));
        let (handoffs, proofs) = (app.handoffs.clone(), app.proofs.clone());
        let mut told = self.stop;
        let stop = async move {
            told.told().await;
            handoffs.stop();
            proofs.stop();
            live.stop();
            tokio::spawn(async move {
                told.told().await;
                std::process::exit(130);
            });
        };
        connections::serve(self.listener, self.tls, router(app, self.names, asked), stop).await;
    }
}

/// How often a running server tidies its data file up.
const TIDY_EVERY: Duration = Duration::from_secs(3_600);

async fn keep_tidy(store: Store, stills: Arc<Stills>) {
    loop {
        tokio::time::sleep(TIDY_EVERY).await;
        let (store, stills) = (store.clone(), stills.clone());
        let tidy = move || {
            let tidied = store.tidy()?;
            let used = store.stills()?;
            let taken = stills.files.collect(|content| used.contains(&content));
            Ok::<_, StoreError>((tidied, taken))
        };
        match tokio::task::spawn_blocking(tidy).await {
            Ok(Ok(tidied)) => tracing::debug!(?tidied, "the data file was tidied up"),
            Ok(Err(error)) => tracing::error!(%error, "the data file cannot be tidied up"),
            Err(_) => tracing::error!("tidying up panicked"),
        }
    }
}

/// How long after the start, and then how often, it is looked whether a copy of the day is needed.
const COPY_FIRST: Duration = Duration::from_secs(10);
const COPY_EVERY: Duration = Duration::from_secs(900);

async fn keep_copies(data: PathBuf, copies: Copies) {
    let mut after = COPY_FIRST;
    loop {
        tokio::time::sleep(std::mem::replace(&mut after, COPY_EVERY)).await;
        let data = data.clone();
        match tokio::task::spawn_blocking(move || keeping::copy_daily(&data, copies, Timestamp::now())).await {
            Ok(Ok(Some(copy))) => tracing::info!(copy = %copy.display(), "a copy of the day was made"),
            Ok(Ok(None)) => {}
            Ok(Err(why)) => tracing::error!("the copy of the day cannot be made: {why}"),
            Err(_) => tracing::error!("making a copy panicked"),
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

fn router(app: App, names: Names, asked: watch::Sender<()>) -> Router {
    let entrance = app.entrance.clone();
    let (api, _) = routes::api().split_for_parts();
    let pages = Router::new().fallback(assets::serve).layer(CompressionLayer::new());
    Router::new()
        .route("/shared/{secret}", axum::routing::get(routes::shared).with_state(app.clone()))
        .merge(api.with_state(app))
        .route("/api/{*rest}", axum::routing::any(routes::unknown))
        .fallback_service(pages)
        .method_not_allowed_fallback(routes::wrong_method)
        .layer(CatchPanicLayer::custom(refusal::after_panic))
        .layer(middleware::from_fn_with_state(entrance, entrance::check))
        .layer(middleware::from_fn_with_state(names.clone(), guard::check))
        .layer(middleware::from_fn_with_state(names, guard::add_headers))
        .layer(middleware::from_fn_with_state(asked, quiet::heard))
        .layer(TraceLayer::new_for_http())
}
