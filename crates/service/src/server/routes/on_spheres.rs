//! Pictures that stand on spheres: files and captions come in; where they stand is set with the source.

use axum::extract::State;
use ratiomet_core::project::{Edit, Footage, Name, Note, OnSphere, ProjectId, SourceId, SourcePatch, StillFile};
use ratiomet_core::sphere::{Distance, FieldOfView, Latitude, Orientation, SpherePlace, Turn};
use ratiomet_store::{Store, Subject};
use ratiomet_wire::Whole;
use ratiomet_wire::describe::{Values, record};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::SourceResource;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::spheres::{OrientationValues, sphere_of};
use super::stills::{refused, source_of};
use super::{one, sources};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers, Query, StillBytes};
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
    StillBytes(bytes): StillBytes,
) -> Result<Reply, Refusal> {
    let stills = app.stills.clone();
    let _room = app.stills.room().await;
    app.run(move |store| add(store, &stills, ProjectId::new(project), SourceId::new(id), &bytes, put)).await
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
    let (content, raster) = stills.keep(bytes).map_err(|why| refused(&why))?;
    let Put { file: name, yaw, pitch } = put;
    let width = FieldOfView::new(WIDE.into()).map_err(|error| refused(&error.to_string()))?;
    let orientation = Orientation { yaw, pitch, roll: Turn::NONE };
    let mut on_sphere = footage.on_sphere;
    on_sphere.push(OnSphere { still: StillFile { content, name, raster }, width, orientation });
    let patch = SourcePatch { on_sphere: Some(on_sphere), ..SourcePatch::default() };
    one::edit(store, project, &Edit::SetSources { ids: vec![id], patch: Box::new(patch) }, None)?;
    one::read(store, project, Subject::Source(id), |contents| sources::resource(contents, id))
}

/// A picture that a hand moves.
#[derive(Clone, Debug)]
pub(super) struct Moved {
    picture: Whole<0, 63>,
    width: FieldOfView,
    orientation: Orientation,
}

record!(
    /// One of the pictures on a sphere as a hand has moved it.
    "MovedOnSphere", "moved pictures" for Moved {
        /// Which of them, from 0.
        picture: Whole<0, 63> = Required, |moved| moved.picture;
        /// Degrees that it is seen to be wide.
        width: FieldOfView = Required, |moved| moved.width.clone();
        /// Where its middle stands.
        orientation: Orientation = Default("{}"), |moved| moved.orientation.clone();
    }
    |picture, width, orientation| Ok(Moved { picture, width, orientation })
);

impl Moved {
    pub const fn new(picture: Whole<0, 63>, width: FieldOfView, orientation: Orientation) -> Self {
        Self { picture, width, orientation }
    }

    pub const fn picture(&self) -> Whole<0, 63> {
        self.picture
    }

    pub fn width(&self) -> FieldOfView {
        self.width.clone()
    }

    pub fn orientation(&self) -> Orientation {
        self.orientation.clone()
    }
}

/// A sphere while hands are on it: turned, with what stands on it where it stood, and one of that moved.
pub(super) fn in_hand(footage: &Footage, turn: &Orientation, moved: Option<Moved>) -> Footage {
    let mut shown = footage.turned(turn);
    if let Some(Moved { picture, width, orientation }) = moved
        && let Some(picture) = shown.on_sphere.get_mut(picture.get() as usize)
    {
        (picture.width, picture.orientation) = (width, orientation);
    }
    shown
}

/// Where a picture stands on a sphere.
#[derive(Debug, Serialize, ToSchema)]
pub(super) struct OnSphereSeen {
    /// Where its middle stands.
    orientation: OrientationValues,
    /// Its border, longitudes and latitudes.
    outline: Vec<[f64; 2]>,
    /// Degrees that it is seen to be high.
    height: f64,
    /// How far it stands, in its own widths.
    distance: f64,
    /// Pixels of the sphere, on the equator, for each of the picture in its middle: over 1 it is enlarged.
    scale: f64,
    /// How wide the picture must be to be neither enlarged nor reduced there.
    native_width: f64,
    /// Whether it crosses the seam of the turned sphere.
    crosses_seam: bool,
    /// Whether a pole lies in it.
    holds_pole: bool,
}

/// Where the pictures of a sphere stand.
pub(super) fn places(shown: &Footage) -> Result<Vec<OnSphereSeen>, Refusal> {
    let places = shown.places().map_err(|error| refused(&error.to_string()))?;
    let seen = |(picture, place): (&OnSphere, SpherePlace)| {
        let pole = place.holds_pole;
        OnSphereSeen {
            orientation: Values(picture.orientation.clone()),
            outline: place.outline,
            height: place.height_degrees,
            distance: place.distance,
            scale: place.picture_scale,
            native_width: place.picture_width_for_native,
            crosses_seam: place.wraps && !pole,
            holds_pole: pole,
        }
    };
    Ok(shown.on_sphere.iter().zip(places).map(seen).collect())
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
