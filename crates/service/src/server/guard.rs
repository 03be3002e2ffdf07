//! Who may call: only pages of this server, under a name that it was told.
//!
//! A page elsewhere can make a browser call a local address, or point a name of its own at it. Both
//! show in the `Host` and `Origin` headers.

use std::net::{IpAddr, SocketAddr};
use std::sync::Arc;

use axum::extract::{Request, State};
use axum::http::header::{self, HeaderName};
use axum::http::{HeaderMap, HeaderValue};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};

use super::refusal::Refusal;

/// The names under which the server may be called.
#[derive(Clone)]
pub struct AllowedHosts {
    address: SocketAddr,
    names: Arc<[String]>,
}

impl AllowedHosts {
    /// The address itself and further names.
    pub fn new(address: SocketAddr, names: Vec<String>) -> Self {
        Self { address, names: names.iter().map(|name| name.to_ascii_lowercase()).collect() }
    }

    fn allow(&self, host: &str) -> bool {
        let (name, port) = match host.rsplit_once(':') {
            Some((name, port)) if !port.ends_with(']') => (name, port.parse().ok()),
            _ => (host, Some(80)),
        };
        if port != Some(self.address.port()) {
            return false;
        }
        let name = name.trim_start_matches('[').trim_end_matches(']').to_ascii_lowercase();
        let listening = self.address.ip();
        match name.parse::<IpAddr>() {
            // An address, unlike a name, cannot be pointed here by a stranger.
            Ok(ip) => ip == listening || listening.is_unspecified() || (ip.is_loopback() && listening.is_loopback()),
            Err(_) => {
                let local = name == "localhost" && (listening.is_loopback() || listening.is_unspecified());
                local || self.names.contains(&name)
            }
        }
    }
}

fn text(headers: &HeaderMap, name: HeaderName) -> Option<&str> {
    headers.get(name)?.to_str().ok()
}

/// Refuses foreign hosts and foreign origins.
pub async fn check(State(allowed): State<AllowedHosts>, request: Request, next: Next) -> Response {
    let headers = request.headers();
    let host = text(headers, header::HOST).unwrap_or_default().to_owned();
    if !allowed.allow(&host) {
        return Refusal::foreign_host().into_response();
    }
    if let Some(origin) = headers.get(header::ORIGIN) {
        let own = origin.to_str().ok().and_then(|origin| origin.strip_prefix("http://"));
        if own.is_none_or(|own| !own.eq_ignore_ascii_case(&host)) {
            return Refusal::foreign_origin().into_response();
        }
    }
    next.run(request).await
}

const POLICY: &str = "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; \
                      media-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

/// Tells the browser what the pages may do: nothing but load their own files.
pub async fn add_headers(request: Request, next: Next) -> Response {
    let mut response = next.run(request).await;
    let headers = response.headers_mut();
    headers.insert(header::CONTENT_SECURITY_POLICY, HeaderValue::from_static(POLICY));
    headers.insert(header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff"));
    // Answers change; browsers may keep even a refusal (410) when they are not told.
    headers.entry(header::CACHE_CONTROL).or_insert(HeaderValue::from_static("no-store"));
    headers.insert("cross-origin-resource-policy", HeaderValue::from_static("same-origin"));
    headers.insert("cross-origin-opener-policy", HeaderValue::from_static("same-origin"));
    headers.insert(header::REFERRER_POLICY, HeaderValue::from_static("no-referrer"));
    response
}

#[cfg(test)]
mod tests {
    use super::AllowedHosts;

    #[track_caller]
    fn case(listening: &str, names: &[&str], host: &str, allowed: bool) {
        let address = listening.parse().expect("a socket address");
        let hosts = AllowedHosts::new(address, names.iter().map(ToString::to_string).collect());
        assert_eq!(hosts.allow(host), allowed, "{host} at {listening}");
    }

    #[test]
    fn only_names_of_the_listening_address_are_answered() {
        case("127.0.0.1:7239", &[], "127.0.0.1:7239", true);
        case("127.0.0.1:7239", &[], "localhost:7239", true);
        case("127.0.0.1:7239", &[], "LocalHost:7239", true);
        // A stranger's name that points here.
        case("127.0.0.1:7239", &[], "rebound.example:7239", false);
        // Another port is another site.
        case("127.0.0.1:7239", &[], "127.0.0.1:80", false);
        case("127.0.0.1:7239", &[], "127.0.0.1", false);
        case("127.0.0.1:7239", &[], "", false);
        case("127.0.0.1:7239", &[], "192.168.1.5:7239", false);
        case("[::1]:7239", &[], "[::1]:7239", true);
        // Without a port the port is 80.
        case("127.0.0.1:80", &[], "localhost", true);
        // Listening everywhere: addresses, but names only when told.
        case("0.0.0.0:7239", &[], "192.168.1.5:7239", true);
        case("0.0.0.0:7239", &[], "suite.example:7239", false);
        case("0.0.0.0:7239", &["suite.example"], "suite.example:7239", true);
    }
}
