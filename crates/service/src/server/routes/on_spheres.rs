//! Pictures that stand on spheres: files and captions come in; where they stand is set with the source.

use axum::extract::State;
use ratiomet_core::project::{Edit, Name, Note, OnSphere, ProjectId, SourceId, SourcePatch, StillFile};
use ratiomet_core::sphere::{Distance, FieldOfView, Latitude, Orientation, Turn};
use ratiomet_store::{Store, Subject};
use ratiomet_wire::describe::{Values, record};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::SourceResource;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::standing::sphere_of;
use super::stills::{refused, source_of};
use super::{one, sources};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers, Query, Upload};
use crate::stills::Stills;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(add_on_sphere)).routes(routes!(add_caption)).routes(routes!(seen_at))
}

/// Where a picture is put, and what it is called.
#[derive(Clone, Debug)]
struct Put {
    file: Note,
    yaw: Turn,
    pitch: Latitude,
}

record!(
    /// Where a picture is put, and what it is called.
    "PutOnSphere", "places of pictures" for Put {
        /// The name of the file.
        file: Note = Default(r#""""#), |put| put.file.clone();
        /// The longitude of its middle, in the sphere as it is turned.
        yaw: Turn = Default("0"), |put| put.yaw.clone();
        /// The latitude of its middle.
        pitch: Latitude = Default("0"), |put| put.pitch.clone();
    }
    |file, yaw, pitch| Ok(Put { file, yaw, pitch })
);

/// Put a picture onto a sphere: the bytes of a PNG, JPEG, TIFF, WebP, OpenEXR or DPX file
///
/// At most 512 MB. It stands 40 degrees wide and upright; where, how wide and how it rolls is set with the source
/// (`on_sphere`). What is clear in it lets the sphere through. Undo takes it back.
#[utoipa::path(
    post,
    path = "/projects/{project}/sources/{source}/on-sphere",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("file" = Option<String>, Query, description = "The name of the file"),
        ("yaw" = Option<String>, Query, description = "The longitude of its middle, in the sphere as it is turned"),
        ("pitch" = Option<String>, Query, description = "The latitude of its middle"),
    ),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 200, body = SourceResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 413, description = "Too long", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No picture that is read, or no sphere", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_on_sphere(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Query(put): Query<Put>,
    upload: Upload,
) -> Result<Reply, Refusal> {
    let work = move |store: &Store, stills: &Stills| {
        add(store, stills, ProjectId::new(project), SourceId::new(id), &upload.read()?, put)
    };
    app.run_on_stills(work).await
}

/// A caption that is put onto a sphere.
#[derive(Clone, Debug)]
struct Caption {
    text: Name,
    yaw: Turn,
    pitch: Latitude,
}

record!(
    /// A caption that is put onto a sphere.
    "CaptionOnSphere", "captions" for Caption {
        /// What it says.
        text: Name = Required, |caption| caption.text.clone();
        /// The longitude of its middle, in the sphere as it is turned.
        yaw: Turn = Default("0"), |caption| caption.yaw.clone();
        /// The latitude of its middle.
        pitch: Latitude = Default("0"), |caption| caption.pitch.clone();
    }
    |text, yaw, pitch| Ok(Caption { text, yaw, pitch })
);

type CaptionOnSphere = Values<Caption>;

/// Put a caption onto a sphere
///
/// The words are drawn as a picture, white on dark, on up to four lines, and put as `/on-sphere` puts one.
#[utoipa::path(
    post,
    path = "/projects/{project}/sources/{source}/on-sphere/caption",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
    ),
    request_body = CaptionOnSphere,
    responses(
        (status = 200, body = SourceResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field, or no sphere", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_caption(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Body(caption): Body<Caption>,
) -> Result<Reply, Refusal> {
    let stills = app.stills.clone();
    app.run(move |store| {
        let Caption { text, yaw, pitch } = caption;
        let drawn = ratiomet_handoff::caption(text.as_str()).map_err(|why| refused(&why))?;
        let file = Note::new(text.as_str()).unwrap_or_default();
        add(store, &stills, ProjectId::new(project), SourceId::new(id), &drawn, Put { file, yaw, pitch })
    })
    .await
}

/// How wide a picture is seen to be that is put onto a sphere.
const WIDE: u32 = 40;

fn add(
    store: &Store,
    stills: &Stills,
    project: ProjectId,
    id: SourceId,
    bytes: &[u8],
    put: Put,
) -> Result<Reply, Refusal> {
    let footage = source_of(store, project, id)?;
    sphere_of(&footage)?;
    if footage.on_sphere.len() >= OnSphere::MOST {
        return Err(refused(&format!("{} pictures stand on this sphere already, the most that may", OnSphere::MOST)));
    }
    let (content, raster, _) = stills.keep(bytes).map_err(|why| refused(&why))?;
    let Put { file: name, yaw, pitch } = put;
    let width = FieldOfView::new(WIDE.into()).map_err(|error| refused(&error.to_string()))?;
    let orientation = Orientation { yaw, pitch, roll: Turn::NONE };
    let mut on_sphere = footage.on_sphere;
    on_sphere.push(OnSphere { still: StillFile { content, name, raster }, width, orientation });
    let patch = SourcePatch { on_sphere: Some(on_sphere), ..SourcePatch::default() };
    one::edit(store, project, &Edit::SetSources { ids: vec![id], patch: Box::new(patch) }, None)?;
    one::read(store, project, Subject::Source(id), |contents| sources::resource(contents, id))
}

/// How far a flat picture stands.
#[derive(Clone, Debug)]
struct Standing(Distance);

record!(
    /// How far a flat picture stands.
    "PictureDistance", "distances" for Standing {
        /// In its own widths.
        distance: Distance = Required, |standing| standing.0.clone();
    }
    |distance| Ok(Standing(distance))
);

type PictureDistance = Values<Standing>;

/// How wide a picture is seen to be.
#[derive(Debug, Serialize, ToSchema)]
struct SeenWide {
    /// In degrees.
    width: String,
}

/// How wide a flat picture is seen to be that stands so far
#[utoipa::path(
    post,
    path = "/sphere/distance",
    tag = "calculations",
    request_body = PictureDistance,
    responses(
        (status = 200, body = SeenWide),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn seen_at(Body(Standing(distance)): Body<Standing>) -> Reply {
    Reply::json(&SeenWide { width: FieldOfView::at(&distance).value().to_short_decimal(6) })
}
