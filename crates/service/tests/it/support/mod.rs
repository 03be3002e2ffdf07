//! What the tests need: the running program, a way to ask it, and a browser.

mod browser;
mod server;

pub use browser::Browser;
pub use server::{Answer, Caller, Server, program};

/// Waits until what is asked for again and again is what it should be: a write may be on its way.
pub async fn comes_to(expected: &serde_json::Value, ask: impl AsyncFn() -> serde_json::Value) {
    comes(&expected.to_string(), ask, |last| last == expected).await;
}

/// The same until it is as it should be; gives it.
pub async fn comes(
    what: &str,
    ask: impl AsyncFn() -> serde_json::Value,
    is_so: impl Fn(&serde_json::Value) -> bool,
) -> serde_json::Value {
    let mut last = serde_json::Value::Null;
    for _ in 0..200 {
        last = ask().await;
        if is_so(&last) {
            return last;
        }
        tokio::time::sleep(std::time::Duration::from_millis(25)).await;
    }
    panic!("{what} did not come: {last}");
}
