//! What the resources of single things have in common: they come with their version, a write names the
//! version that it starts from, and a stale one is refused with what stands now.

use axum::http::StatusCode;
use ratiomet_core::project::{Edit, ProjectId};
use ratiomet_store::{Contents, Expected, Store, StoreError, Subject};
use ratiomet_wire::project::refused_at;
use serde::Serialize;

use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::Version;

/// Carries out an edit; what it refuses is said at the field of its request.
pub fn edit(
    store: &Store,
    project: ProjectId,
    edit: &Edit,
    expected: Option<Expected>,
) -> Result<ratiomet_store::Outcome, Refusal> {
    store.edit(project, edit, expected).map_err(|error| refused(edit, error))
}

/// Why an edit is not carried out, at the field of its request.
pub fn refused(edit: &Edit, error: StoreError) -> Refusal {
    match error {
        StoreError::Refused(why) => Refusal::not_sound(refused_at(edit, &why), &why),
        other => other.into(),
    }
}

/// One thing of a project, with its version.
pub fn read<R: Serialize>(
    store: &Store,
    project: ProjectId,
    subject: Subject,
    show: impl FnOnce(&Contents) -> Option<R>,
) -> Result<Reply, Refusal> {
    let contents = store.contents(project)?;
    let shown = show(&contents).zip(contents.version(subject));
    let (resource, version) = shown.ok_or_else(|| store.missing(project, subject))?;
    Ok(Reply::json(&resource).of_version(version))
}

/// Changes one thing, if it still is as the caller saw it last. Gives what it is then; nothing where it is gone.
pub fn change<R: Serialize>(
    store: &Store,
    (project, subject): (ProjectId, Subject),
    version: &Version,
    change: &Edit,
    show: impl Fn(&Contents) -> Option<R>,
) -> Result<Reply, Refusal> {
    let before = store.contents(project)?;
    let current = before.version(subject).ok_or_else(|| store.missing(project, subject))?;
    if !version.is(current) {
        return Err(Refusal::stale(show(&before)));
    }
    let changed = edit(store, project, change, Some(Expected { subject, version: current }));
    let after = store.contents(project)?;
    match changed {
        Err(refusal) if refusal.is_stale() => Err(Refusal::stale(show(&after))),
        Err(refusal) => Err(refusal),
        Ok(_) => Ok(match show(&after).zip(after.version(subject)) {
            Some((resource, version)) => Reply::json(&resource).of_version(version),
            None => Reply::nothing(),
        }),
    }
}

/// Something new, of the first version.
pub fn created(resource: Option<impl Serialize>, version: Option<i32>) -> Result<Reply, Refusal> {
    let (resource, version) = resource.zip(version).ok_or_else(Refusal::internal)?;
    Ok(Reply::json(&resource).of_version(version).with(StatusCode::CREATED))
}
