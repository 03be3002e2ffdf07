//! Spheres as they are seen: turned and unrolled, or through a flat view.

use axum::body::Bytes;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use ratiomet_core::Raster;
use ratiomet_core::project::{Footage, Looking, ProjectId, SourceId, ViewSpec};
use ratiomet_core::resampling::Filter;
use ratiomet_core::sphere::{Detail, FieldOfView, Latitude, Orientation, SphereView, Turn};
use ratiomet_picture::sphere::{self, How, Look};
use ratiomet_wire::Whole;
use ratiomet_wire::calc::SphereViewResult;
use ratiomet_wire::describe::{Values, record, words};
use ratiomet_wire::problem::Problem;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::standing::{Moved, OnSphereSeen, in_hand, places, sphere_of};
use super::stills::{refused, source_of};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers, Query};
use crate::stills::put_on;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(sphere_picture)).routes(routes!(sphere_seen))
}

/// What is shown of a sphere.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
enum Show {
    Unrolled,
    View,
}

words!(
    /// What is shown of a sphere: all of it unrolled, or a flat view out of it.
    "SphereShow" for Show, [Show::Unrolled, Show::View], |show: Show| match show {
        Show::Unrolled => "unrolled",
        Show::View => "view",
    }
);

/// A picture of a sphere while hands turn it.
#[derive(Clone, Debug)]
struct Asked {
    show: Show,
    width: Whole<32, 2048>,
    height: Whole<32, 2048>,
    turn: Orientation,
    look: Orientation,
    fov: FieldOfView,
    kept: bool,
    moved: Option<Moved>,
}

record!(
    /// A picture of a sphere while hands turn it.
    "SpherePicture", "pictures of spheres" for Asked {
        /// All of it unrolled, or a flat view.
        show: Show = Default(r#""unrolled""#), |asked| asked.show;
        /// Pixels across.
        width: Whole<32, 2048> = Default("960"), |asked| asked.width;
        /// Pixels down.
        height: Whole<32, 2048> = Default("480"), |asked| asked.height;
        /// How the sphere is turned: yaw.
        yaw: Turn = Default("0"), |asked| asked.turn.yaw.clone();
        /// How the sphere is turned: pitch.
        pitch: Latitude = Default("0"), |asked| asked.turn.pitch.clone();
        /// How the sphere is turned: roll.
        roll: Turn = Default("0"), |asked| asked.turn.roll.clone();
        /// Where the view looks in the turned sphere: yaw.
        look_yaw: Turn = Default("0"), |asked| asked.look.yaw.clone();
        /// Where the view looks: pitch.
        look_pitch: Latitude = Default("0"), |asked| asked.look.pitch.clone();
        /// How the view rolls.
        look_roll: Turn = Default("0"), |asked| asked.look.roll.clone();
        /// Degrees that the view is wide.
        fov: FieldOfView = Default("90"), |asked| asked.fov.clone();
        /// Whether the look is one into the sphere as the project turns it: it stays at what it shows.
        kept: bool = Default("false"), |asked| asked.kept;
        /// Which of the pictures on it a hand moves, from 0.
        moved: Option<Whole<0, 63>> = Default("null"), |asked| asked.moved.as_ref().map(Moved::picture);
        /// Where that one stands: yaw.
        moved_yaw: Turn = Default("0"), |asked| moved_to(asked).yaw;
        /// Where it stands: pitch.
        moved_pitch: Latitude = Default("0"), |asked| moved_to(asked).pitch;
        /// How it rolls.
        moved_roll: Turn = Default("0"), |asked| moved_to(asked).roll;
        /// Degrees that it is wide.
        moved_width: FieldOfView = Default("40"),
            |asked| asked.moved.as_ref().map_or_else(|| asked.fov.clone(), Moved::width);
    }
    |show, width, height, yaw, pitch, roll, look_yaw, look_pitch, look_roll, fov, kept, moved, moved_yaw, moved_pitch,
     moved_roll, moved_width| {
        let (turn, look) = (Orientation { yaw, pitch, roll }, Orientation { yaw: look_yaw, pitch: look_pitch, roll: look_roll });
        let at = Orientation { yaw: moved_yaw, pitch: moved_pitch, roll: moved_roll };
        let moved = moved.map(|picture| Moved::new(picture, moved_width, at));
        Ok(Asked { show, width, height, turn, look, fov, kept, moved })
    }
);

fn moved_to(asked: &Asked) -> Orientation {
    asked.moved.as_ref().map_or(Orientation::NONE, Moved::orientation)
}

/// Where a look goes while a sphere is turned otherwise than the project turns it.
fn look_of(footage: &Footage, look: &Orientation, turn: &Orientation, kept: bool) -> Orientation {
    if kept { look.carried(&footage.turn, turn) } else { look.clone() }
}

/// A sphere as a picture: turned and unrolled, or a flat view out of it; of the left eye where it has two
///
/// Eight bit, out of a smaller copy that is kept at hand: for the eye, while a hand moves. For the whole picture see the
/// outcome of a conversion.
#[utoipa::path(
    get,
    path = "/projects/{project}/sources/{source}/sphere",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("show" = Option<String>, Query, description = "unrolled or view"),
        ("width" = Option<u32>, Query, description = "Pixels across, 32 to 2048"),
        ("height" = Option<u32>, Query, description = "Pixels down, 32 to 2048"),
        ("yaw" = Option<String>, Query, description = "How the sphere is turned, in degrees: yaw"),
        ("pitch" = Option<String>, Query, description = "How the sphere is turned: pitch"),
        ("roll" = Option<String>, Query, description = "How the sphere is turned: roll"),
        ("look_yaw" = Option<String>, Query, description = "Where the view looks in the turned sphere: yaw"),
        ("look_pitch" = Option<String>, Query, description = "Where the view looks: pitch"),
        ("look_roll" = Option<String>, Query, description = "How the view rolls"),
        ("fov" = Option<String>, Query, description = "Degrees that the view is wide"),
        ("kept" = Option<bool>, Query, description = "Whether the look is one into the sphere as the project turns it: it stays at what it shows"),
        ("moved" = Option<u32>, Query, description = "Which of the pictures on it a hand moves, from 0"),
        ("moved_yaw" = Option<String>, Query, description = "Where that one stands: yaw"),
        ("moved_pitch" = Option<String>, Query, description = "Where it stands: pitch"),
        ("moved_roll" = Option<String>, Query, description = "How it rolls"),
        ("moved_width" = Option<String>, Query, description = "Degrees that it is wide"),
    ),
    responses(
        (status = 200, description = "A picture", content_type = "image/jpeg", body = Vec<u8>),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No sphere, or one without a still", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn sphere_picture(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Query(asked): Query<Asked>,
) -> Result<Response, Refusal> {
    const HOW: How = How { filter: Filter::Bilinear, light: None };
    let stills = app.stills.clone();
    let picture = app
        .run(move |store| {
            let footage = source_of(store, ProjectId::new(project), SourceId::new(id))?;
            sphere_of(&footage)?;
            let small = stills.quick(&footage).map_err(|why| refused(&why))?;
            let shown = in_hand(&footage, &asked.turn, asked.moved.clone());
            let pictures = stills.quick_on_it(&shown).map_err(|why| refused(&why))?;
            let (span, size) = (&footage.sphere.span, [asked.width.get(), asked.height.get()]);
            let made = match asked.show {
                Show::Unrolled => {
                    sphere::turned_to(&small, span, size, &asked.turn.matrix(), HOW).and_then(|mut whole| {
                        put_on(&mut whole, span, (&shown.on_sphere, &pictures), HOW)?;
                        Ok(whole)
                    })
                }
                Show::View => {
                    let raster = Raster::new(size[0], size[1]).map_err(|error| refused(&error.to_string()))?;
                    let look = look_of(&footage, &asked.look, &asked.turn, asked.kept);
                    let look = Look { raster, fov: asked.fov, matrix: look.within(&asked.turn).matrix() };
                    if pictures.is_empty() {
                        sphere::view(&small, span, &look, HOW)
                    } else {
                        let mut with = small.as_ref().clone();
                        put_on(&mut with, span, (&shown.on_it_as_stored(), &pictures), HOW)
                            .and_then(|()| sphere::view(&with, span, &look, HOW))
                    }
                }
            };
            made.and_then(|made| made.as_jpeg(80)).map_err(|why| refused(&why.to_string()))
        })
        .await?;
    let headers = [(header::CONTENT_TYPE, "image/jpeg"), (header::CACHE_CONTROL, "no-store")];
    Ok((headers, Bytes::from(picture)).into_response())
}

/// A view that is looked at.
#[derive(Clone, Debug)]
struct Seen {
    raster: Raster<ratiomet_core::space::Stored>,
    look: Orientation,
    fov: FieldOfView,
    turn: Orientation,
    kept: bool,
    moved: Option<Moved>,
}

record!(
    /// A view that is looked at.
    "SphereLook", "views" for Seen {
        /// Pixels of the view across and down.
        raster: Raster<ratiomet_core::space::Stored> = Required, |seen| seen.raster;
        /// Where it looks in the turned sphere.
        look: Orientation = Default("{}"), |seen| seen.look.clone();
        /// Degrees that it is wide.
        fov: FieldOfView = Required, |seen| seen.fov.clone();
        /// How the sphere is turned.
        turn: Orientation = Default("{}"), |seen| seen.turn.clone();
        /// Whether the look is one into the sphere as the project turns it: it stays at what it shows.
        kept: bool = Default("false"), |seen| seen.kept;
        /// One of the pictures on it, as a hand has moved it.
        moved: Option<Moved> = Default("null"), |seen| seen.moved.clone();
    }
    |raster, look, fov, turn, kept, moved| Ok(Seen { raster, look, fov, turn, kept, moved })
);

type SphereLookRequest = Values<Seen>;

/// What a view sees, and how finely.
#[derive(Debug, Serialize, ToSchema)]
struct SphereLookResult {
    /// What it sees, of the turned sphere.
    seen: SphereViewResult,
    /// View pixels for each pixel of the sphere in its corners, the coarsest way.
    corner_scale: f64,
    /// The width of the view at which nothing in it is enlarged; 0 where there is none.
    native_width: u32,
    /// Circles around the middle of the view on which it has so many pixels for each of the sphere: scale, and radius in
    /// widths of the view. Those that reach into it.
    rings: Vec<[f64; 2]>,
    /// Where the seam of the stored frame comes to lie in the turned one, from pole to pole.
    seam: Vec<[f64; 2]>,
    /// Where the zenith of the stored frame comes to lie.
    zenith: [f64; 2],
    /// Where the pictures on it stand, in their order.
    on_sphere: Vec<OnSphereSeen>,
}

/// What a view out of a sphere sees: its outline, how finely it is sampled, and where the stored seam lies
#[utoipa::path(
    post,
    path = "/projects/{project}/sources/{source}/sphere/look",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
    ),
    request_body = SphereLookRequest,
    responses(
        (status = 200, body = SphereLookResult),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field, or no sphere", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn sphere_seen(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Body(seen): Body<Seen>,
) -> Result<Reply, Refusal> {
    app.run(move |store| {
        let footage = source_of(store, ProjectId::new(project), SourceId::new(id))?;
        sphere_of(&footage)?;
        let shown = in_hand(&footage, &seen.turn, seen.moved);
        let orientation = look_of(&footage, &seen.look, &seen.turn, seen.kept);
        let view = ViewSpec { sphere: SourceId::new(id), fov: seen.fov, orientation };
        let looking = Looking { view: &view, sphere: &footage };
        let request = looking.request(seen.raster).map_err(|error| refused(&error.to_string()))?;
        let view = SphereView::of(&request);
        let Detail { corner_scale, native_width, rings } = Detail::of(&request, &view);
        Ok(Reply::json(&SphereLookResult {
            seen: view.into(),
            corner_scale,
            native_width,
            rings,
            seam: seen.turn.seam(),
            zenith: seen.turn.zenith(),
            on_sphere: places(&shown)?,
        }))
    })
    .await
}
