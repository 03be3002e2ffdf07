//! The library: published frames, and what the house keeps across projects.

use axum::extract::State;
use ratiomet_core::project::{
    ActivePictureId, HouseActivePicture, HouseEdit, HouseFrame, HouseFrameId, HouseProfile, ProfileId,
};
use ratiomet_exchange::library_file::{self, LibraryDocument, LibraryFile};
use ratiomet_store::{HouseContents, HouseExpected, HouseSubject, Store};
use ratiomet_wire::names::{ActivePictureValues, HouseFrameValues, HouseProfileValues};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::{
    ActivePictureResource, HouseFrameResource, HouseProfileResource, ImportResult, Library, PublishedGroup, SetAside,
};
use serde::Serialize;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{board, history, one};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, FileText, Numbers, Version};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(library))
        .routes(routes!(add_house_frame))
        .routes(routes!(replace_house_frame, delete_house_frame))
        .routes(routes!(add_active_picture))
        .routes(routes!(replace_active_picture, delete_active_picture))
        .routes(routes!(add_profile))
        .routes(routes!(replace_profile, delete_profile))
        .routes(routes!(export_library))
        .routes(routes!(import_library))
        .routes(routes!(library_set_aside))
}

fn house_frame(contents: &HouseContents, id: HouseFrameId) -> Option<HouseFrameResource> {
    let (_, frame) = contents.house.frames().find(|(each, _)| *each == id)?;
    Some(HouseFrameResource::new(id, contents.version(HouseSubject::Frame(id))?, frame))
}

fn active_picture(contents: &HouseContents, id: ActivePictureId) -> Option<ActivePictureResource> {
    let (_, picture) = contents.house.pictures().find(|(each, _)| *each == id)?;
    Some(ActivePictureResource::new(id, contents.version(HouseSubject::Picture(id))?, picture))
}

fn profile(contents: &HouseContents, id: ProfileId) -> Option<HouseProfileResource> {
    let (_, profile) = contents.house.profiles().find(|(each, _)| *each == id)?;
    Some(HouseProfileResource::new(id, contents.version(HouseSubject::Profile(id))?, profile))
}

/// Changes one thing of the house, if it still is as the caller saw it last.
fn change<R: Serialize>(
    store: &Store,
    subject: HouseSubject,
    version: &Version,
    edit: &HouseEdit,
    show: impl Fn(&HouseContents) -> Option<R>,
) -> Result<Reply, Refusal> {
    let before = store.house()?;
    let current = before.version(subject).ok_or_else(|| store.missing_in_house(subject))?;
    if !version.is(current) {
        return Err(Refusal::stale(show(&before)));
    }
    let changed = store.edit_house(edit, Some(HouseExpected { subject, version: current }));
    let after = store.house()?;
    match changed.map_err(Refusal::from) {
        Err(refusal) if refusal.is_stale() => Err(Refusal::stale(show(&after))),
        Err(refusal) => Err(refusal),
        Ok(_) => Ok(match show(&after).zip(after.version(subject)) {
            Some((resource, version)) => Reply::json(&resource).of_version(version),
            None => Reply::nothing(),
        }),
    }
}

/// Read the library
#[utoipa::path(get, path = "/library", tag = "library", responses((status = 200, body = Library)))]
async fn library(State(app): State<App>) -> Result<Reply, Refusal> {
    app.run(|store| {
        let contents = store.house()?;
        let frames = contents.house.frames().filter_map(|(id, _)| house_frame(&contents, id)).collect();
        let pictures = contents.house.pictures().filter_map(|(id, _)| active_picture(&contents, id)).collect();
        Ok(Reply::json(&Library {
            history: history::head(contents.head.clone()),
            published: PublishedGroup::all(),
            frames,
            active_pictures: pictures,
            profiles: contents.house.profiles().filter_map(|(id, _)| profile(&contents, id)).collect(),
            set_aside: contents.set_aside.len(),
        }))
    })
    .await
}

/// Keep a frame in the house
#[utoipa::path(
    post,
    path = "/library/frames",
    tag = "library",
    request_body = HouseFrameValues,
    responses(
        (status = 201, body = HouseFrameResource),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_house_frame(State(app): State<App>, Body(frame): Body<HouseFrame>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let added = store.edit_house(&HouseEdit::AddFrame(Box::new(frame)), None)?.written;
        let resource = added.first().and_then(|id| house_frame(&store.house().ok()?, HouseFrameId::new(*id)));
        one::created(resource, Some(1))
    })
    .await
}

/// Change a frame of the house
#[utoipa::path(
    put,
    path = "/library/frames/{frame}",
    tag = "library",
    params(
        ("frame" = i32, Path, description = "The frame's number"),
        ("If-Match" = String, Header, description = "The version that the change starts from"),
    ),
    request_body = HouseFrameValues,
    responses(
        (status = 200, body = HouseFrameResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 412, description = "Changed meanwhile; current holds the frame", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn replace_house_frame(
    State(app): State<App>,
    Numbers(id): Numbers<i32>,
    version: Version,
    Body(frame): Body<HouseFrame>,
) -> Result<Reply, Refusal> {
    let id = HouseFrameId::new(id);
    let edit = HouseEdit::SetFrame(id, Some(Box::new(frame)));
    let show = move |contents: &HouseContents| house_frame(contents, id);
    app.run(move |store| change(store, HouseSubject::Frame(id), &version, &edit, show)).await
}

/// Take a frame out of the house; undo brings it back
#[utoipa::path(
    delete,
    path = "/library/frames/{frame}",
    tag = "library",
    params(
        ("frame" = i32, Path, description = "The frame's number"),
        ("If-Match" = String, Header, description = "The version that is meant"),
    ),
    responses(
        (status = 204, description = "Deleted"),
        (status = 412, description = "Changed meanwhile; current holds the frame", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn delete_house_frame(
    State(app): State<App>,
    Numbers(id): Numbers<i32>,
    version: Version,
) -> Result<Reply, Refusal> {
    let id = HouseFrameId::new(id);
    let show = move |contents: &HouseContents| house_frame(contents, id);
    app.run(move |store| change(store, HouseSubject::Frame(id), &version, &HouseEdit::SetFrame(id, None), show)).await
}

/// Keep an active picture
#[utoipa::path(
    post,
    path = "/library/active-pictures",
    tag = "library",
    request_body = ActivePictureValues,
    responses(
        (status = 201, body = ActivePictureResource),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_active_picture(State(app): State<App>, Body(picture): Body<HouseActivePicture>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let added = store.edit_house(&HouseEdit::AddPicture(Box::new(picture)), None)?.written;
        let resource = added.first().and_then(|id| active_picture(&store.house().ok()?, ActivePictureId::new(*id)));
        one::created(resource, Some(1))
    })
    .await
}

/// Change an active picture
#[utoipa::path(
    put,
    path = "/library/active-pictures/{picture}",
    tag = "library",
    params(
        ("picture" = i32, Path, description = "The active picture's number"),
        ("If-Match" = String, Header, description = "The version that the change starts from"),
    ),
    request_body = ActivePictureValues,
    responses(
        (status = 200, body = ActivePictureResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 412, description = "Changed meanwhile; current holds the active picture", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn replace_active_picture(
    State(app): State<App>,
    Numbers(id): Numbers<i32>,
    version: Version,
    Body(picture): Body<HouseActivePicture>,
) -> Result<Reply, Refusal> {
    let id = ActivePictureId::new(id);
    let edit = HouseEdit::SetPicture(id, Some(Box::new(picture)));
    let show = move |contents: &HouseContents| active_picture(contents, id);
    app.run(move |store| change(store, HouseSubject::Picture(id), &version, &edit, show)).await
}

/// Delete an active picture; undo brings it back
#[utoipa::path(
    delete,
    path = "/library/active-pictures/{picture}",
    tag = "library",
    params(
        ("picture" = i32, Path, description = "The active picture's number"),
        ("If-Match" = String, Header, description = "The version that is meant"),
    ),
    responses(
        (status = 204, description = "Deleted"),
        (status = 412, description = "Changed meanwhile; current holds the active picture", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn delete_active_picture(
    State(app): State<App>,
    Numbers(id): Numbers<i32>,
    version: Version,
) -> Result<Reply, Refusal> {
    let id = ActivePictureId::new(id);
    let show = move |contents: &HouseContents| active_picture(contents, id);
    app.run(move |store| change(store, HouseSubject::Picture(id), &version, &HouseEdit::SetPicture(id, None), show))
        .await
}

/// Keep a typing profile
#[utoipa::path(
    post,
    path = "/library/profiles",
    tag = "library",
    request_body = HouseProfileValues,
    responses(
        (status = 201, body = HouseProfileResource),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_profile(State(app): State<App>, Body(values): Body<HouseProfile>) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let added = store.edit_house(&HouseEdit::AddProfile(Box::new(values)), None)?.written;
        let resource = added.first().and_then(|id| profile(&store.house().ok()?, ProfileId::new(*id)));
        one::created(resource, Some(1))
    })
    .await
}

/// Change a typing profile
#[utoipa::path(
    put,
    path = "/library/profiles/{profile}",
    tag = "library",
    params(
        ("profile" = i32, Path, description = "The profile's number"),
        ("If-Match" = String, Header, description = "The version that the change starts from"),
    ),
    request_body = HouseProfileValues,
    responses(
        (status = 200, body = HouseProfileResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 412, description = "Changed meanwhile; current holds the profile", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn replace_profile(
    State(app): State<App>,
    Numbers(id): Numbers<i32>,
    version: Version,
    Body(values): Body<HouseProfile>,
) -> Result<Reply, Refusal> {
    let id = ProfileId::new(id);
    let edit = HouseEdit::SetProfile(id, Some(Box::new(values)));
    let show = move |contents: &HouseContents| profile(contents, id);
    app.run(move |store| change(store, HouseSubject::Profile(id), &version, &edit, show)).await
}

/// Delete a typing profile; undo brings it back
#[utoipa::path(
    delete,
    path = "/library/profiles/{profile}",
    tag = "library",
    params(
        ("profile" = i32, Path, description = "The profile's number"),
        ("If-Match" = String, Header, description = "The version that is meant"),
    ),
    responses(
        (status = 204, description = "Deleted"),
        (status = 412, description = "Changed meanwhile; current holds the profile", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn delete_profile(State(app): State<App>, Numbers(id): Numbers<i32>, version: Version) -> Result<Reply, Refusal> {
    let id = ProfileId::new(id);
    let show = move |contents: &HouseContents| profile(contents, id);
    app.run(move |store| change(store, HouseSubject::Profile(id), &version, &HouseEdit::SetProfile(id, None), show))
        .await
}

/// Read what the house keeps as a file
#[utoipa::path(get, path = "/library/export", tag = "library", responses((status = 200, body = LibraryDocument)))]
async fn export_library(State(app): State<App>) -> Result<Reply, Refusal> {
    app.run(|store| {
        let text = library_file::write(&LibraryFile::from(&store.house()?.house));
        Ok(Reply::text("application/json", text).downloaded("library.json"))
    })
    .await
}

/// Take in the file of another house
///
/// What is here already is left as it is; another thing of the same name comes in beside it.
#[utoipa::path(
    post,
    path = "/library/import",
    tag = "library",
    request_body = LibraryDocument,
    responses(
        (status = 200, body = ImportResult),
        (status = 422, description = "Every bad field; nothing was taken in", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn import_library(State(app): State<App>, FileText(text): FileText) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let LibraryFile { frames, pictures, profiles } = library_file::read(&text)?;
        let done = store.edit_house(&HouseEdit::Import(frames, pictures, profiles), None)?;
        Ok(Reply::json(&ImportResult { added: done.written.len(), known: done.known }))
    })
    .await
}

/// Read what of the library cannot be read, as it is kept
#[utoipa::path(get, path = "/library/set-aside", tag = "library", responses((status = 200, body = Vec<SetAside>)))]
async fn library_set_aside(State(app): State<App>) -> Result<Reply, Refusal> {
    app.run(|store| Ok(Reply::json(&board::aside(&store.house()?.set_aside)).downloaded("set-aside.json"))).await
}
