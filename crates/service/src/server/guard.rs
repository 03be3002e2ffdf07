//! Who may call: only pages of this server, under a name that it was told.
//!
//! A page elsewhere can make a browser call a local address, or point a name of its own at it. Both
//! show in the `Host` and `Origin` headers.

use std::net::{IpAddr, SocketAddr};
use std::str::FromStr;
use std::sync::Arc;

use axum::extract::{Request, State};
use axum::http::header::{self, HeaderName};
use axum::http::{HeaderMap, HeaderValue, Uri};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};

use super::refusal::Refusal;

/// The names under which the server may be called.
#[derive(Clone)]
pub struct Names {
    address: SocketAddr,
    is_tls: bool,
    names: Arc<[String]>,
    public: Option<Public>,
}

/// An address that people know the server by, when something else stands before it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Public {
    origin: String,
    host: String,
}

impl Public {
    /// Whether it is reached through TLS.
    pub fn is_tls(&self) -> bool {
        self.origin.starts_with("https:")
    }

    /// As a browser is pointed there.
    pub fn url(&self) -> String {
        format!("{}/", self.origin)
    }
}

impl FromStr for Public {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let wrong = || "it must be an address such as https://ratiomet.example, without a path".to_owned();
        let uri: Uri = text.parse().map_err(|_| wrong())?;
        let (Some(scheme @ ("http" | "https")), Some(authority)) = (uri.scheme_str(), uri.authority()) else {
            return Err(wrong());
        };
        if !["", "/"].contains(&uri.path()) || uri.query().is_some() || authority.as_str().contains('@') {
            return Err(wrong());
        }
        let usual = if scheme == "https" { ":443" } else { ":80" };
        let host = authority.as_str().to_ascii_lowercase();
        let host = host.strip_suffix(usual).unwrap_or(&host).to_owned();
        Ok(Self { origin: format!("{scheme}://{host}"), host })
    }
}

impl Names {
    /// The address itself, further names, and the public address.
    pub fn new(address: SocketAddr, is_tls: bool, names: &[String], public: Option<Public>) -> Self {
        let names = names.iter().map(|name| name.to_ascii_lowercase()).collect();
        Self { address, is_tls, names, public }
    }

    fn allow(&self, host: &str) -> bool {
        if self.public.as_ref().is_some_and(|public| public.host.eq_ignore_ascii_case(host)) {
            return true;
        }
        let usual = if self.is_tls { 443 } else { 80 };
        let (name, port) = match host.rsplit_once(':') {
            Some((name, port)) if !port.ends_with(']') => (name, port.parse().ok()),
            _ => (host, Some(usual)),
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

    /// Whether a page of that origin is ours, asking under that host.
    fn is_own(&self, origin: &str, host: &str) -> bool {
        let scheme = if self.is_tls { "https://" } else { "http://" };
        let own = origin.strip_prefix(scheme).is_some_and(|own| own.eq_ignore_ascii_case(host));
        own || self.public.as_ref().is_some_and(|public| public.origin.eq_ignore_ascii_case(origin))
    }
}

fn text(headers: &HeaderMap, name: HeaderName) -> Option<&str> {
    headers.get(name)?.to_str().ok()
}

/// Refuses foreign hosts and foreign origins.
pub async fn check(State(names): State<Names>, request: Request, next: Next) -> Response {
    let headers = request.headers();
    let host = text(headers, header::HOST).unwrap_or_default();
    if !names.allow(host) {
        return Refusal::foreign_host().into_response();
    }
    if let Some(origin) = headers.get(header::ORIGIN)
        && !origin.to_str().is_ok_and(|origin| names.is_own(origin, host))
    {
        return Refusal::foreign_origin().into_response();
    }
    next.run(request).await
}

const POLICY: &str = "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; \
                      media-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

/// Tells the browser what the pages may do: nothing but load their own files.
pub async fn add_headers(State(names): State<Names>, request: Request, next: Next) -> Response {
    let mut response = next.run(request).await;
    let headers = response.headers_mut();
    headers.entry(header::CONTENT_SECURITY_POLICY).or_insert(HeaderValue::from_static(POLICY));
    headers.insert(header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff"));
    // Answers change; browsers may keep even a refusal (410) when they are not told.
    headers.entry(header::CACHE_CONTROL).or_insert(HeaderValue::from_static("no-store"));
    headers.insert("cross-origin-resource-policy", HeaderValue::from_static("same-origin"));
    headers.insert("cross-origin-opener-policy", HeaderValue::from_static("same-origin"));
    if names.is_tls || names.public.as_ref().is_some_and(Public::is_tls) {
        headers.insert(header::STRICT_TRANSPORT_SECURITY, HeaderValue::from_static("max-age=31536000"));
    }
    headers.insert(header::REFERRER_POLICY, HeaderValue::from_static("no-referrer"));
    response
}

#[cfg(test)]
mod tests {
    use super::{Names, Public};

    #[track_caller]
    fn case(listening: &str, names: &[&str], host: &str, allowed: bool) {
        let address = listening.parse().expect("a socket address");
        let names: Vec<String> = names.iter().map(ToString::to_string).collect();
        assert_eq!(Names::new(address, false, &names, None).allow(host), allowed, "{host} at {listening}");
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

    #[test]
    fn behind_a_proxy_the_public_address_counts() {
        let public = |text: &str| text.parse::<Public>();
        for wrong in ["ratiomet.example", "ftp://ratiomet.example", "https://a@b.example", "https://b.example/at"] {
            assert!(public(wrong).is_err(), "{wrong}");
        }
        let known = public("https://Plans.example:443").expect("an address");
        assert_eq!(known.url(), "https://plans.example/");
        let address = "127.0.0.1:7239".parse().expect("a socket address");
        let names = Names::new(address, false, &[], Some(known));
        assert!(names.allow("plans.example") && names.allow("127.0.0.1:7239") && !names.allow("other.example"));
        // Whether the proxy passes its name on or not.
        assert!(names.is_own("https://plans.example", "plans.example"));
        assert!(names.is_own("https://plans.example", "127.0.0.1:7239"));
        assert!(!names.is_own("http://plans.example", "127.0.0.1:7239"));
        assert!(!names.is_own("https://other.example", "plans.example"));
        let tls =
            Names::new("0.0.0.0:443".parse().expect("a socket address"), true, &["plans.example".to_owned()], None);
        assert!(tls.allow("plans.example") && tls.is_own("https://plans.example", "plans.example"));
        assert!(!tls.is_own("http://plans.example", "plans.example"));
    }
}
