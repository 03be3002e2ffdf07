//! Connections: how long a stranger may take over a request, and how many there may be at once.

use std::collections::HashMap;
use std::future::Future;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use axum::body::Body;
use axum::extract::Request;
use axum::{Extension, Router};
use hyper::body::Incoming;
use hyper::server::conn::http1;
use hyper::service::service_fn;
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::{GracefulShutdown, Watcher};
use tokio::io::{AsyncRead, AsyncWrite};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::Notify;
use tokio_io_timeout::TimeoutStream;
use tokio_rustls::TlsAcceptor;
use tower::ServiceExt;

use super::entrance::Peer;
use super::tls::Tls;

/// How long the head of a request may take, and how long a connection may wait for its next one.
const HEAD: Duration = Duration::from_secs(20);
/// How long an answer waits for somebody to take some of it.
const TAKEN: Duration = Duration::from_secs(30);
/// The most connections: well below the files that a system lets a program have open.
const MOST: usize = 512;
/// How long what is running may take to end once the server is told to stop.
const TO_END: Duration = Duration::from_secs(4);

/// What a connection waits for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Waits {
    /// Its first request: nobody knows whether it ever makes one.
    First,
    /// Its next request.
    Next,
    /// Its answer.
    Answer,
}

/// A connection that is open.
struct Open {
    waits: Waits,
    since: Instant,
    end: Arc<Notify>,
}

/// The connections that are open.
#[derive(Default)]
struct Connections {
    open: Mutex<HashMap<u64, Open>>,
}

impl Connections {
    fn open(&self) -> MutexGuard<'_, HashMap<u64, Open>> {
        self.open.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Takes a new one in. Where there are too many, the one that has waited longest for a first request makes room, or
    /// else for a next one; none when all wait for answers.
    fn enter(&self, number: u64) -> Option<Arc<Notify>> {
        let mut open = self.open();
        if open.len() >= MOST {
            let waiting = open.iter().filter(|(_, each)| each.waits != Waits::Answer);
            let longest = waiting.min_by_key(|(_, each)| (each.waits, each.since)).map(|(number, _)| *number)?;
            open.remove(&longest)?.end.notify_one();
        }
        let end = Arc::new(Notify::new());
        open.insert(number, Open { waits: Waits::First, since: Instant::now(), end: end.clone() });
        Some(end)
    }

    fn now(&self, number: u64, waits: Waits) {
        if let Some(each) = self.open().get_mut(&number) {
            (each.waits, each.since) = (waits, Instant::now());
        }
    }
}

/// Serves until `stop`; then what is running may end, and what does not end soon is given up.
pub async fn serve(listener: TcpListener, tls: Option<Tls>, router: Router, stop: impl Future<Output = ()>) {
    let (connections, graceful) = (Arc::new(Connections::default()), GracefulShutdown::new());
    let mut stop = std::pin::pin!(stop);
    let mut number = 0;
    loop {
        let (stream, peer) = tokio::select! {
            accepted = listener.accept() => match accepted {
                Ok(accepted) => accepted,
                Err(error) => {
                    // Such as too many open files: it passes, and asking again at once would only take the processor.
                    tracing::warn!(%error, "a connection cannot be accepted");
                    tokio::time::sleep(Duration::from_millis(50)).await;
                    continue;
                }
            },
            () = &mut stop => break,
        };
        number += 1;
        let Some(end) = connections.enter(number) else { continue };
        let (connections, watcher) = (connections.clone(), graceful.watcher());
        let router = router.clone().layer(Extension(Peer(peer)));
        let acceptor = tls.as_ref().map(Tls::acceptor);
        tokio::spawn(async move {
            tokio::select! {
                () = one(stream, acceptor, number, &connections, router, watcher) => {}
                () = end.notified() => {}
            }
            connections.open().remove(&number);
        });
    }
    drop(listener);
    if tokio::time::timeout(TO_END, graceful.shutdown()).await.is_err() {
        tracing::warn!("some requests were not over in time and are given up");
    }
}

async fn one(
    stream: TcpStream,
    acceptor: Option<TlsAcceptor>,
    number: u64,
    connections: &Arc<Connections>,
    router: Router,
    watcher: Watcher,
) {
    // OK because it only makes small answers a little later.
    let _ = stream.set_nodelay(true);
    let mut stream = TimeoutStream::new(stream);
    stream.set_write_timeout(Some(TAKEN));
    let stream = Box::pin(stream);
    let Some(acceptor) = acceptor else { return talk(stream, number, connections, router, watcher).await };
    match tokio::time::timeout(HEAD, acceptor.accept(stream)).await {
        Ok(Ok(stream)) => talk(stream, number, connections, router, watcher).await,
        Ok(Err(error)) => tracing::debug!(%error, "a connection without TLS"),
        Err(_) => tracing::debug!("a connection that began no TLS"),
    }
}

async fn talk(
    stream: impl AsyncRead + AsyncWrite + Unpin + Send + 'static,
    number: u64,
    connections: &Arc<Connections>,
    router: Router,
    watcher: Watcher,
) {
    let service = service_fn(|request: Request<Incoming>| {
        let (connections, router) = (connections.clone(), router.clone());
        async move {
            connections.now(number, Waits::Answer);
            let answer = router.oneshot(request.map(Body::new)).await;
            connections.now(number, Waits::Next);
            answer
        }
    });
    let connection = http1::Builder::new()
        .timer(TokioTimer::new())
        .header_read_timeout(HEAD)
        .serve_connection(TokioIo::new(stream), service);
    if let Err(error) = watcher.watch(connection).await {
        tracing::debug!(%error, "a connection ended");
    }
}

#[cfg(test)]
mod tests {
    use super::{Connections, MOST, Waits};

    #[test]
    fn strangers_make_room_first_and_nobody_who_waits_for_an_answer() {
        let connections = Connections::default();
        let most = MOST as u64;
        let ends: Vec<_> = (0..most).map(|number| connections.enter(number).expect("room")).collect();
        connections.now(0, Waits::Answer);
        connections.now(1, Waits::Next);
        // The oldest that has never asked for anything.
        assert!(connections.enter(most).is_some());
        let gone = |number: u64| !connections.open().contains_key(&number);
        assert!(gone(2) && !gone(0) && !gone(1) && !gone(3));
        drop(ends);
        for number in 3..=most {
            connections.now(number, Waits::Answer);
        }
        assert!(connections.enter(most + 1).is_some() && gone(1), "then one that waits for its next request");
        connections.now(most + 1, Waits::Answer);
        assert!(connections.enter(most + 2).is_none(), "those that wait for answers stay");
    }
}
