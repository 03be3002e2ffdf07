//! What each role may do: one table for the guard and for the description of the API.

use axum::http::Method;

use crate::people::Role;

/// The role that a request needs, by its method and its place under `/api/v1`; none where nobody need be known.
pub fn needed(method: &Method, place: &str) -> Option<Role> {
    let parts: Vec<&str> = place.trim_matches('/').split('/').collect();
    if let ["health"] | ["session", ..] = *parts {
        return None;
    }
    let reads = [Method::GET, Method::HEAD, Method::OPTIONS].contains(method);
    Some(if reads || (method == Method::POST && only_answers(&parts)) {
        Role::Look
    } else {
        match *parts {
            // Whoever may begin them may stop them.
            ["handoffs" | "proofs", ..] => Role::Look,
            ["library", ..] => Role::House,
            _ => Role::Plan,
        }
    })
}

/// Whether what is posted there is only answered, and kept nowhere.
fn only_answers(parts: &[&str]) -> bool {
    match *parts {
        ["calc" | "list" | "probe" | "shape" | "sphere", ..]
        | ["media", "probe"]
        | ["projects", _, "handoff" | "proofs", ..] => true,
        ["projects", _, .., last] => ["preview", "outcome", "readings", "renewals", "look"].contains(&last),
        _ => false,
    }
}

/// What somebody without the role is told.
pub const fn said(needed: Role) -> &'static str {
    match needed {
        Role::Look => "This is not for you to read.",
        Role::Plan => "You may look at projects, and not change them.",
        Role::House => "You may plan, and not change the library of the house.",
    }
}

#[cfg(test)]
mod tests {
    use super::needed;
    use crate::people::Role;
    use axum::http::Method;

    #[test]
    fn reading_needs_less_than_changing_and_the_house_most() {
        for (method, place, role) in [
            (Method::GET, "/health", None),
            (Method::POST, "/session", None),
            (Method::GET, "/projects/3/board", Some(Role::Look)),
            (Method::POST, "/calc", Some(Role::Look)),
            (Method::POST, "/projects/3/edits/preview", Some(Role::Look)),
            (Method::POST, "/projects/3/handoff", Some(Role::Look)),
            (Method::DELETE, "/handoffs/3", Some(Role::Look)),
            (Method::POST, "/projects/3/edits", Some(Role::Plan)),
            (Method::POST, "/projects/3/sources/preview/still", Some(Role::Plan)),
            (Method::PUT, "/projects/3", Some(Role::Plan)),
            (Method::GET, "/library", Some(Role::Look)),
            (Method::POST, "/library/frames", Some(Role::House)),
            // What is new is for planners until it is said otherwise.
            (Method::POST, "/what/comes/later", Some(Role::Plan)),
        ] {
            assert_eq!(needed(&method, place), role, "{method} {place}");
        }
    }
}
