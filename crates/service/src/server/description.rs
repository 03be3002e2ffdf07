//! The description of the API, with the refusals that many of its operations have in common.

use axum::http::Method;
use utoipa::openapi::extensions::ExtensionsBuilder;
use utoipa::openapi::path::{Operation, Parameter, ParameterIn};
use utoipa::openapi::{Components, Content, OpenApi, Ref, RefOr, Response, ResponseBuilder, Schema};

use super::{rights, routes};

/// The description of the API.
///
/// # Panics
/// Never: it is plain data with text keys.
pub fn openapi_json() -> String {
    let (_, mut document) = routes::api().split_for_parts();
    complete(&mut document);
    document.to_pretty_json().expect("plain data with text keys")
}

/// What operations refuse, whatever they do: status, name and words.
const REFUSALS: [(&str, &str, &str); 13] = [
    ("400", "NoJson", "The body is no JSON"),
    ("401", "LoginRequired", "Nobody is known to ask, on a server that is shared"),
    ("403", "NotAllowed", "Whoever asks may not do this, or a page of another site asks"),
    ("404", "Missing", "No such record"),
    ("408", "TooSlow", "The body does not come"),
    ("410", "Deleted", "The project, or what is named in it, is deleted"),
    ("413", "TooLong", "The body is too long"),
    ("415", "NoContentType", "The body is not announced as JSON"),
    ("421", "ForeignHost", "The Host header names another site"),
    ("422", "BadFields", "Every bad field"),
    ("428", "VersionRequired", "If-Match names no version"),
    ("500", "Internal", "The program is at fault"),
    ("503", "Unavailable", "The data file is not available, or there is no room"),
];

fn problem(words: &str) -> Response {
    let content = Content::new(Some(Ref::from_schema_name("Problem")));
    ResponseBuilder::new().description(words).content("application/problem+json", content).build()
}

fn complete(document: &mut OpenApi) {
    let components = document.components.get_or_insert_with(Components::default);
    for (_, name, words) in REFUSALS {
        components.responses.insert(name.to_owned(), RefOr::T(problem(words)));
    }
    for (path, item) in &mut document.paths.paths {
        let place = path.strip_prefix("/api/v1").unwrap_or(path);
        let operations = [
            (Method::GET, &mut item.get),
            (Method::PUT, &mut item.put),
            (Method::POST, &mut item.post),
            (Method::DELETE, &mut item.delete),
        ];
        for (method, operation) in operations {
            let Some(operation) = operation else { continue };
            let needed = rights::needed(&method, place);
            refuse(operation, needed.is_some());
            if let Some(needed) = needed {
                let role = ExtensionsBuilder::new().add("x-role", needed.to_string()).build();
                operation.extensions.get_or_insert_with(|| ExtensionsBuilder::new().build()).merge(role);
            }
        }
    }
}

/// Adds what an operation refuses by what it is sent. What it says of itself stays.
fn refuse(operation: &mut Operation, is_guarded: bool) {
    let mut statuses = vec!["403", "421", "500", "503"];
    if is_guarded {
        statuses.push("401");
    }
    for parameter in operation.parameters.iter_mut().flatten() {
        let RefOr::T(parameter) = parameter else { continue };
        match parameter.parameter_in {
            ParameterIn::Path => {
                statuses.push("404");
                // Whatever is asked of a project, it may be deleted.
                if parameter.name == "project" {
                    statuses.push("410");
                }
            }
            ParameterIn::Header => {
                describe_version(parameter);
                statuses.push("428");
            }
            _ => statuses.push("422"),
        }
    }
    if let Some(RefOr::T(body)) = &operation.request_body {
        statuses.extend(["408", "413"]);
        if body.content.contains_key("application/json") {
            statuses.extend(["400", "415", "422"]);
        }
    }
    for (status, name, _) in REFUSALS {
        if statuses.contains(&status) {
            let refusal = RefOr::Ref(Ref::from_response_name(name));
            operation.responses.responses.entry(status.to_owned()).or_insert(refusal);
        }
    }
}

/// The version of a record as `If-Match` names it.
fn describe_version(parameter: &mut Parameter) {
    if let Some(RefOr::T(Schema::Object(schema))) = &mut parameter.schema {
        schema.pattern = Some(r#"^([0-9]+|"[0-9]+"( ?, ?"[0-9]+")*)$"#.to_owned());
    }
}
