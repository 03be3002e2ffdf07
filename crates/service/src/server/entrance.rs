//! The entrance of a shared server: who calls, and whether they may do what they ask for. A server that only its own
//! machine can call has none: everything is open there.

use std::collections::HashMap;
use std::hash::Hash;
use std::net::{IpAddr, SocketAddr};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use axum::extract::{Request, State};
use axum::http::HeaderMap;
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use headers::authorization::Bearer;
use headers::{Authorization, Cookie, HeaderMapExt};
use jiff::Timestamp;
use tokio::sync::Semaphore;

use super::refusal::Refusal;
use super::rights;
use crate::people::{self, Caller, Password, People, PeopleFile, Person};
use crate::secret;

/// How long a session lasts without a request, and altogether.
const IDLE: Duration = Duration::from_secs(12 * 3_600);
const WHOLE: Duration = Duration::from_secs(7 * 24 * 3_600);
/// The most sessions; the one that was idle longest makes room.
const MOST: usize = 10_000;
/// How many passwords are checked at once: each takes 19 MB and a twentieth of a second.
const AT_ONCE: usize = 2;

tokio::task_local! {
    static CALLER: Option<Caller>;
}

/// Who asks for what is worked on; nobody where nobody need be known.
pub fn caller() -> Option<Caller> {
    CALLER.try_with(Clone::clone).ok().flatten()
}

/// The address from which a connection comes.
#[derive(Clone, Copy)]
pub struct Peer(pub SocketAddr);

/// How a shared server is reached and who may enter.
pub struct Entrance {
    people: Option<PeopleFile>,
    sessions: Mutex<HashMap<String, Session>>,
    by_address: Tries<IpAddr>,
    by_name: Tries<String>,
    checking: Semaphore,
    cookie: String,
    is_secure: bool,
    proxies: Vec<IpAddr>,
}

struct Session {
    name: String,
    /// As it was kept at the login: another one ends the session.
    password: String,
    began: Instant,
    used: Instant,
}

impl Session {
    /// Whether it has not come to its end.
    fn lasts(&self, now: Instant) -> bool {
        now - self.used < IDLE && now - self.began < WHOLE
    }

    /// Whose it is, if they are still known as they were at the login.
    fn person<'p>(&self, people: &'p People) -> Option<&'p Person> {
        people.person(&self.name).filter(|person| person.password == self.password)
    }
}

impl Entrance {
    /// With the people that are known, or none; the port tells the cookies of servers on one machine apart.
    pub fn new(people: Option<PeopleFile>, port: u16, is_secure: bool, proxies: Vec<IpAddr>) -> Self {
        let prefix = if is_secure { "__Host-" } else { "" };
        Self {
            people,
            sessions: Mutex::default(),
            by_address: Tries::from(10),
            by_name: Tries::from(5),
            checking: Semaphore::new(AT_ONCE),
            cookie: format!("{prefix}ratiomet-{port}"),
            is_secure,
            proxies,
        }
    }

    /// Whether people must be known.
    pub const fn is_guarded(&self) -> bool {
        self.people.is_some()
    }

    fn sessions(&self) -> MutexGuard<'_, HashMap<String, Session>> {
        self.sessions.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn key(&self, headers: &HeaderMap) -> Option<String> {
        headers.typed_get::<Cookie>()?.get(&self.cookie).map(str::to_owned)
    }

    /// Who calls, by a token or by the cookie of a session.
    pub fn who(&self, headers: &HeaderMap) -> Option<Caller> {
        let people = self.people.as_ref()?.now();
        if let Some(Authorization(bearer)) = headers.typed_get::<Authorization<Bearer>>() {
            return people.of_token(bearer.token(), Timestamp::now());
        }
        let key = self.key(headers)?;
        let now = Instant::now();
        let mut sessions = self.sessions();
        let session = sessions.get_mut(&key)?;
        match session.person(&people) {
            Some(person) if session.lasts(now) => {
                session.used = now;
                Some(Caller { name: person.name.clone(), role: person.role })
            }
            _ => {
                sessions.remove(&key);
                None
            }
        }
    }

    /// Whether whoever has these headers may still be here; asking does not make a session last longer.
    pub fn is_in(&self, headers: &HeaderMap) -> bool {
        let Some(people) = &self.people else { return true };
        let people = people.now();
        if let Some(Authorization(bearer)) = headers.typed_get::<Authorization<Bearer>>() {
            return people.of_token(bearer.token(), Timestamp::now()).is_some();
        }
        let sessions = self.sessions();
        let session = self.key(headers).and_then(|key| sessions.get(&key));
        session.is_some_and(|session| session.lasts(Instant::now()) && session.person(&people).is_some())
    }

    /// Lets somebody in: gives who it is, and the cookie of the session.
    pub async fn log_in(
        self: &Arc<Self>,
        name: &str,
        password: String,
        from: IpAddr,
    ) -> Result<(Caller, String), Refusal> {
        let person = self.checked(name, password, from).await?;
        let (key, now) = (secret::random::<32>(), Instant::now());
        let mut sessions = self.sessions();
        sessions.retain(|_, session| session.lasts(now));
        if sessions.len() >= MOST {
            let idle = sessions.iter().min_by_key(|(_, session)| session.used).map(|(key, _)| key.clone());
            idle.and_then(|key| sessions.remove(&key));
        }
        let session = Session { name: person.name.clone(), password: person.password, began: now, used: now };
        sessions.insert(key.clone(), session);
        Ok((Caller { name: person.name, role: person.role }, self.set_cookie(&key, WHOLE)))
    }

    /// Ends the session; gives the cookie that is none.
    pub fn log_out(&self, headers: &HeaderMap) -> String {
        if let Some(key) = self.key(headers) {
            self.sessions().remove(&key);
        }
        self.set_cookie("", Duration::ZERO)
    }

    /// Gives somebody who is logged in another password; the other sessions of that person end.
    pub async fn change_password(
        self: &Arc<Self>,
        headers: &HeaderMap,
        (current, new): (String, String),
        from: IpAddr,
    ) -> Result<(), Refusal> {
        let who = self.key(headers).and_then(|_| self.who(headers)).ok_or_else(Refusal::login_required)?;
        let new = Password::new(&new, &who.name).map_err(|must| Refusal::field("/new", format!("Must be {must}.")))?;
        self.checked(&who.name, current, from).await?;
        let (entrance, key) = (self.clone(), self.key(headers).unwrap_or_default());
        super::off_threads(move || {
            let people = entrance.people.as_ref().ok_or_else(Refusal::login_required)?;
            people.change(|people| people.set_password(&who.name, &new)).map_err(|why| {
                tracing::error!("{why}");
                Refusal::internal()
            })?;
            let kept = people.now().person(&who.name).map(|person| person.password.clone());
            if let Some((session, password)) = entrance.sessions().get_mut(&key).zip(kept) {
                session.password = password;
            }
            Ok(())
        })
        .await
    }

    /// The person of a name and a password.
    async fn checked(self: &Arc<Self>, name: &str, password: String, from: IpAddr) -> Result<Person, Refusal> {
        let people = self.people.as_ref().ok_or_else(Refusal::login_required)?.now();
        let known = name.to_lowercase();
        // A try counts as wrong until it turns out to be right: many at once gain nothing.
        self.by_address.count(&from)?;
        self.by_name.count(&known)?;
        let permit = self.checking.acquire().await.map_err(|_| Refusal::internal())?;
        let person = people.person(name).cloned();
        let right = super::off_threads(move || {
            let kept = person.as_ref().map(|person| person.password.as_str());
            Ok(people::is_password(&password, kept).then_some(person).flatten())
        })
        .await?;
        drop(permit);
        let Some(person) = right else {
            tracing::warn!(%from, "a wrong password");
            return Err(Refusal::wrong_password());
        };
        self.by_address.forget(&from);
        self.by_name.forget(&known);
        Ok(person)
    }

    fn set_cookie(&self, key: &str, age: Duration) -> String {
        let secure = if self.is_secure { "; Secure" } else { "" };
        format!("{}={key}; Path=/; HttpOnly; SameSite=Strict; Max-Age={}{secure}", self.cookie, age.as_secs())
    }

    /// From where a request comes: what a proxy says counts only where it is one of ours.
    pub fn address(&self, headers: &HeaderMap, peer: Option<Peer>) -> IpAddr {
        let peer = peer.map_or(IpAddr::from([0, 0, 0, 0]), |Peer(peer)| peer.ip().to_canonical());
        if !self.proxies.contains(&peer) {
            return peer;
        }
        let said = headers.get_all("x-forwarded-for").iter().filter_map(|value| value.to_str().ok());
        let hops: Vec<IpAddr> =
            said.flat_map(|value| value.split(',')).filter_map(|hop| hop.trim().parse().ok()).collect();
        hops.into_iter().rev().find(|hop| !self.proxies.contains(hop)).unwrap_or(peer)
    }
}

/// Lets through who may do what they ask for. The pages themselves hold nothing of anybody.
pub async fn check(State(entrance): State<Arc<Entrance>>, request: Request, next: Next) -> Response {
    let place = request.uri().path().strip_prefix("/api/v1/");
    let needed = place.and_then(|place| rights::needed(request.method(), place));
    let caller = entrance.is_guarded().then(|| entrance.who(request.headers())).flatten();
    if let Some(needed) = needed.filter(|_| entrance.is_guarded()) {
        match &caller {
            None => return Refusal::login_required().into_response(),
            Some(caller) if caller.role < needed => {
                return Refusal::not_allowed(rights::said(needed), needed).into_response();
            }
            Some(_) => {}
        }
    }
    CALLER.scope(caller, next.run(request)).await
}

/// Wrong tries by what they have in common.
struct Tries<K> {
    free: u32,
    counted: Mutex<HashMap<K, Tried>>,
}

struct Tried {
    wrong: u32,
    last: Instant,
}

/// After how long wrong tries are forgotten, how long the longest wait is, and of how many it is known.
const FORGOTTEN: Duration = Duration::from_secs(3_600);
const LONGEST_WAIT: Duration = Duration::from_secs(60);
const MOST_TRIED: usize = 20_000;

impl<K: Clone + Eq + Hash> Tries<K> {
    /// So many are free of any wait.
    fn from(free: u32) -> Self {
        Self { free, counted: Mutex::default() }
    }

    fn counted(&self) -> MutexGuard<'_, HashMap<K, Tried>> {
        self.counted.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Counts a try, or says how long the next one has to wait.
    fn count(&self, key: &K) -> Result<(), Refusal> {
        let mut counted = self.counted();
        let now = Instant::now();
        if counted.len() >= MOST_TRIED {
            counted.retain(|_, tried| now - tried.last < FORGOTTEN);
            if counted.len() >= MOST_TRIED {
                return Err(Refusal::too_many_tries(LONGEST_WAIT));
            }
        }
        let tried = counted.entry(key.clone()).or_insert(Tried { wrong: 0, last: now });
        if now - tried.last > FORGOTTEN {
            tried.wrong = 0;
        }
        if let Some(over) = tried.wrong.checked_sub(self.free) {
            let wait = Duration::from_secs(1 << over.min(6)).min(LONGEST_WAIT);
            if let Some(left) = wait.checked_sub(now - tried.last).filter(|left| !left.is_zero()) {
                return Err(Refusal::too_many_tries(left + Duration::from_millis(999)));
            }
        }
        tried.wrong += 1;
        tried.last = now;
        Ok(())
    }

    fn forget(&self, key: &K) {
        self.counted().remove(key);
    }
}

#[cfg(test)]
mod tests {
    use super::{Entrance, Peer, Tries};
    use axum::http::HeaderMap;

    #[test]
    fn wrong_tries_wait_longer_and_longer_and_a_right_one_forgets_them() {
        let tries = Tries::from(3);
        for _ in 0..3 {
            assert!(tries.count(&"ada").is_ok());
        }
        assert!(tries.count(&"ada").is_err());
        assert!(tries.count(&"ben").is_ok(), "another name is not kept waiting");
        tries.forget(&"ada");
        assert!(tries.count(&"ada").is_ok());
    }

    #[test]
    fn what_is_said_of_an_address_counts_only_from_a_proxy_of_ours() {
        let entrance = Entrance::new(None, 7239, true, vec!["10.0.0.2".parse().expect("an address")]);
        let mut headers = HeaderMap::new();
        headers.insert("x-forwarded-for", "1.1.1.1, 192.168.7.7".parse().expect("a value"));
        let from = |peer: &str| {
            let peer = Peer(format!("{peer}:5000").parse().expect("an address"));
            entrance.address(&headers, Some(peer)).to_string()
        };
        assert_eq!(from("10.0.0.2"), "192.168.7.7", "the last hop, which the proxy itself has seen");
        assert_eq!(from("10.0.0.3"), "10.0.0.3");
        assert!(
            entrance
                .set_cookie("k", super::WHOLE)
                .starts_with("__Host-ratiomet-7239=k; Path=/; HttpOnly; SameSite=Strict")
        );
    }
}
