//! What is kept for those who work is given back when nobody does.

use std::sync::Arc;
use std::time::Duration;

use axum::extract::{Request, State};
use axum::middleware::Next;
use axum::response::Response;
use tokio::sync::watch;

/// How long nobody asks for anything until then.
pub const QUIET: Duration = Duration::from_secs(30);

/// Tells that somebody asks for something; whether the server is there does not count.
pub async fn heard(State(asked): State<watch::Sender<()>>, request: Request, next: Next) -> Response {
    if request.uri().path() != "/api/v1/health" {
        asked.send_replace(());
    }
    next.run(request).await
}

/// Whenever nobody has asked for so long, gives back what is kept, once: off the threads that take requests, for there
/// may be much of it.
pub async fn keep_small(mut asked: watch::Receiver<()>, quiet: Duration, give_back: impl Fn() + Send + Sync + 'static) {
    let give_back = Arc::new(give_back);
    loop {
        let heard = match tokio::time::timeout(quiet, asked.changed()).await {
            Ok(heard) => heard,
            Err(_) => {
                let give_back = give_back.clone();
                if let Err(error) = tokio::task::spawn_blocking(move || give_back()).await {
                    tracing::error!("what is kept is not given back: {error}");
                }
                asked.changed().await
            }
        };
        if heard.is_err() {
            return;
        }
    }
}

#[cfg(test)]
mod tests {
    use std::sync::Arc;
    use std::sync::atomic::{AtomicUsize, Ordering};
    use std::time::Duration;

    use tokio::sync::watch;
    use tokio::time::sleep;

    use super::keep_small;

    #[tokio::test(start_paused = true)]
    async fn what_is_kept_is_given_back_once_when_it_is_quiet() {
        let (asked, hears) = watch::channel(());
        let given = Arc::new(AtomicUsize::new(0));
        let count = given.clone();
        let keeping = tokio::spawn(keep_small(hears, Duration::from_secs(60), move || {
            count.fetch_add(1, Ordering::Relaxed);
        }));
        for _ in 0..10 {
            sleep(Duration::from_secs(50)).await;
            asked.send_replace(());
        }
        assert_eq!(given.load(Ordering::Relaxed), 0, "somebody works");
        sleep(Duration::from_secs(600)).await;
        assert_eq!(given.load(Ordering::Relaxed), 1, "once");
        asked.send_replace(());
        sleep(Duration::from_secs(61)).await;
        assert_eq!(given.load(Ordering::Relaxed), 2, "again after somebody has worked");
        drop(asked);
        assert!(keeping.await.is_ok());
    }
}
