//! What the resources of records have in common: a write names the version that it starts from, and a
//! stale one is refused with what stands now.

use axum::Json;
use axum::http::StatusCode;
use ratiomet_store::{Kept, Record, StoreError};
use serde::Serialize;

use crate::server::App;
use crate::server::refusal::Refusal;

/// The resource of a record.
type Show<T, R> = fn(&Record<T>) -> R;

/// Adds a record.
pub async fn add<T, R>(app: &App, project: i32, value: T, show: Show<T, R>) -> Result<(StatusCode, Json<R>), Refusal>
where
    T: Kept + Send + 'static,
{
    let added = app.with_store(move |store| store.add(project, &value)).await?;
    Ok((StatusCode::CREATED, Json(show(&added))))
}

/// Puts a value in the place of the one that has this version.
pub async fn replace<T, R>(
    app: &App,
    project: i32,
    id: i32,
    version: i32,
    value: T,
    show: Show<T, R>,
) -> Result<Json<R>, Refusal>
where
    T: Kept + Send + 'static,
    R: Serialize,
{
    let replaced = app
        .with_store(move |store| match store.replace(project, id, version, &value) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.get::<T>(project, id)?)),
            replaced => replaced.map(Ok),
        })
        .await?;
    replaced.map(|record| Json(show(&record))).map_err(|current| Refusal::stale(show(&current)))
}

/// Deletes a record.
pub async fn delete<T, R>(
    app: &App,
    project: i32,
    id: i32,
    version: i32,
    show: Show<T, R>,
) -> Result<StatusCode, Refusal>
where
    T: Kept + Send + 'static,
    R: Serialize,
{
    let deleted = app
        .with_store(move |store| match store.delete::<T>(project, id, version) {
            Err(StoreError::Stale { .. }) => Ok(Err(store.get::<T>(project, id)?)),
            deleted => deleted.map(Ok),
        })
        .await?;
    deleted.map(|()| StatusCode::NO_CONTENT).map_err(|current| Refusal::stale(show(&current)))
}
