//! Spheres: looked around in, turned by a hand, levelled by marks.

use axum::body::Bytes;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use ratiomet_core::Raster;
use ratiomet_core::project::{Footage, Looking, ProjectId, SourceId, ViewSpec};
use ratiomet_core::resampling::Filter;
use ratiomet_core::sphere::{
    FieldOfView, Hold, InView, Latitude, Mark, Marks, Orientation, Point, SphereLevel, SphereLevelRequest, SphereView,
    Turn,
};
use ratiomet_picture::sphere::{self, How, Look};
use ratiomet_wire::Whole;
use ratiomet_wire::calc::SphereViewResult;
use ratiomet_wire::describe::{List, Values, record, words};
use ratiomet_wire::problem::Problem;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::standing::{Moved, OnSphereSeen, OrientationValues, in_hand, places, sphere_of};
use super::stills::{refused, source_of};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers, Query};
use crate::stills::put_on;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(sphere_picture))
        .routes(routes!(sphere_seen))
        .routes(routes!(drag_sphere))
        .routes(routes!(drag_view))
        .routes(routes!(point_of_view))
        .routes(routes!(level_sphere))
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

/// At which scales a view has a ring.
const RINGS: [f64; 8] = [0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0, 4.0];

/// The rings of a view with this scale in its middle, half so wide at distance 1, whose corners are so far out.
fn rings(middle: f64, half: f64, corner: f64) -> Vec<[f64; 2]> {
    RINGS
        .into_iter()
        .filter(|scale| *scale > middle)
        .map(|scale| [scale, (scale / middle - 1.0).sqrt()])
        .filter(|[_, out]| *out < corner)
        .map(|[scale, out]| [scale, out / (2.0 * half)])
        .collect()
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
        let found = SphereView::of(&request);
        let found_scale = found.centre_scale;
        let half = (view.fov.value().to_f64().to_radians() / 2.0).tan();
        let high = half * f64::from(seen.raster.height()) / f64::from(seen.raster.width());
        // Outwards, in a corner, a step of the view is the smallest step of the sphere.
        let corner_scale = found.centre_scale * (1.0 + half * half + high * high);
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "fewer than the view has")]
        let native_width = (f64::from(seen.raster.width()) / corner_scale).clamp(0.0, 65_536.0) as u32;
        let [seam, zenith] = [
            (0..=24).map(|step| seen.turn.lies([180.0, f64::from(step) * 7.5 - 90.0])).collect(),
            vec![seen.turn.lies([0.0, 90.0])],
        ];
        Ok(Reply::json(&SphereLookResult {
            seen: found.into(),
            corner_scale,
            rings: rings(found_scale, half, half.hypot(high)),
            native_width,
            seam,
            zenith: zenith[0],
            on_sphere: places(&shown)?,
        }))
    })
    .await
}

fn point(mark: &Mark) -> Point {
    [mark.longitude.value().to_f64(), mark.latitude.value().to_f64()]
}

/// A hand on a sphere.
#[derive(Clone, Debug)]
struct Drag {
    turn: Orientation,
    from: Mark,
    to: Mark,
    hold: Hold,
}

record!(
    /// A hand on an unrolled sphere.
    "SphereDrag", "drags" for Drag {
        /// How the sphere is turned.
        turn: Orientation = Default("{}"), |drag| drag.turn.clone();
        /// The point of the turned sphere that the hand took.
        from: Mark = Required, |drag| drag.from.clone();
        /// Where the hand is now.
        to: Mark = Required, |drag| drag.to.clone();
        /// Which way it may turn.
        hold: Hold = Default(r#""free""#), |drag| drag.hold;
    }
    |turn, from, to, hold| Ok(Drag { turn, from, to, hold })
);

type SphereDrag = Values<Drag>;

/// How a sphere is turned after a hand has moved a point of it
#[utoipa::path(
    post,
    path = "/sphere/drag",
    tag = "calculations",
    request_body = SphereDrag,
    responses(
        (status = 200, body = OrientationValues),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn drag_sphere(Body(drag): Body<Drag>) -> Reply {
    let turned = drag.turn.dragged(point(&drag.from), point(&drag.to), drag.hold);
    Reply::json(&Values(turned))
}

/// A flat view that is shown at some size, and a pixel of it.
#[derive(Clone, Debug)]
struct InShown {
    look: Orientation,
    fov: FieldOfView,
    size: [u32; 2],
    at: [u32; 2],
}

record!(
    /// A flat view that is shown at some size, and a pixel of it.
    "LookPixel", "pixels of views" for InShown {
        /// Where the view looks.
        look: Orientation = Default("{}"), |shown| shown.look.clone();
        /// Degrees that it is wide.
        fov: FieldOfView = Required, |shown| shown.fov.clone();
        /// Pixels across in which it is shown.
        width: Whole<1, 65536> = Required, |shown| Whole::new(shown.size[0]);
        /// Pixels down.
        height: Whole<1, 65536> = Required, |shown| Whole::new(shown.size[1]);
        /// The pixel, across.
        x: Whole<0, 65536> = Required, |shown| Whole::new(shown.at[0]);
        /// The pixel, down.
        y: Whole<0, 65536> = Required, |shown| Whole::new(shown.at[1]);
    }
    |look, fov, width, height, x, y| {
        Ok(InShown { look, fov, size: [width.get(), height.get()], at: [x.get(), y.get()] })
    }
);

/// A place of a view out of a pixel in which it is shown.
fn in_view(size: [u32; 2], [x, y]: [u32; 2]) -> InView {
    let [width, height] = size.map(f64::from);
    InView { right: f64::from(x) / width - 0.5, up: (height / 2.0 - f64::from(y)) / width }
}

type LookPixelRequest = Values<InShown>;

/// A point of a sphere.
#[derive(Debug, Serialize, ToSchema)]
struct SpherePoint {
    /// Longitude and latitude.
    point: [f64; 2],
}

/// The point of the sphere that stands at a pixel of a view
#[utoipa::path(
    post,
    path = "/sphere/point",
    tag = "calculations",
    request_body = LookPixelRequest,
    responses(
        (status = 200, body = SpherePoint),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn point_of_view(Body(shown): Body<InShown>) -> Reply {
    Reply::json(&SpherePoint { point: shown.look.sees(&shown.fov, in_view(shown.size, shown.at)) })
}

/// A hand on a flat view.
#[derive(Clone, Debug)]
struct LookDrag {
    look: Orientation,
    fov: FieldOfView,
    size: [u32; 2],
    from: [u32; 2],
    to: [u32; 2],
}

record!(
    /// A hand on a flat view that is shown at some size.
    "LookDrag", "drags" for LookDrag {
        /// Where the view looks.
        look: Orientation = Default("{}"), |drag| drag.look.clone();
        /// Degrees that it is wide.
        fov: FieldOfView = Required, |drag| drag.fov.clone();
        /// Pixels across in which it is shown.
        width: Whole<1, 65536> = Required, |drag| Whole::new(drag.size[0]);
        /// Pixels down.
        height: Whole<1, 65536> = Required, |drag| Whole::new(drag.size[1]);
        /// The pixel that the hand took, across.
        from_x: Whole<0, 65536> = Required, |drag| Whole::new(drag.from[0]);
        /// The same down.
        from_y: Whole<0, 65536> = Required, |drag| Whole::new(drag.from[1]);
        /// The pixel where the hand is now, across.
        to_x: Whole<0, 65536> = Required, |drag| Whole::new(drag.to[0]);
        /// The same down.
        to_y: Whole<0, 65536> = Required, |drag| Whole::new(drag.to[1]);
    }
    |look, fov, width, height, from_x, from_y, to_x, to_y| {
        let [size, from, to] = [[width.get(), height.get()], [from_x.get(), from_y.get()], [to_x.get(), to_y.get()]];
        Ok(LookDrag { look, fov, size, from, to })
    }
);

type LookDragRequest = Values<LookDrag>;

/// Where a view looks after a hand has moved what is seen in it
#[utoipa::path(
    post,
    path = "/sphere/look",
    tag = "calculations",
    request_body = LookDragRequest,
    responses(
        (status = 200, body = OrientationValues),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn drag_view(Body(drag): Body<LookDrag>) -> Reply {
    let [from, to] = [drag.from, drag.to].map(|at| in_view(drag.size, at));
    Reply::json(&Values(drag.look.looked(&drag.fov, from, to)))
}

/// Marks in a turned sphere.
#[derive(Clone, Debug)]
struct Levelling {
    turn: Orientation,
    horizon: List<Mark, 0, { Marks::MOST_POINTS }>,
    uprights: List<[Mark; 2], 0, { Marks::MOST_LINES }>,
}

record!(
    /// Marks along the horizon, or along things that should stand upright, in a sphere as it is turned now.
    "SphereMarks", "sets of marks" for Levelling {
        /// How the sphere is turned.
        turn: Orientation = Default("{}"), |asked| asked.turn.clone();
        /// Points that should come to lie on the horizon: two or more, or none where there are uprights.
        horizon: List<Mark, 0, { Marks::MOST_POINTS }> = Default("[]"), |asked| asked.horizon.clone();
        /// Lines along things that should stand upright.
        uprights: List<[Mark; 2], 0, { Marks::MOST_LINES }> = Default("[]"), |asked| asked.uprights.clone();
    }
    |turn, horizon, uprights| Ok(Levelling { turn, horizon, uprights })
);

type SphereMarks = Values<Levelling>;

/// A turn that levels.
#[derive(Debug, Serialize, ToSchema)]
struct LevelFound {
    /// How the stored sphere is to be turned; the middle of the frame keeps its direction.
    turn: OrientationValues,
    /// The same the other way: how the levelled sphere is turned back.
    back: OrientationValues,
    /// The turn as three rows: a direction d of the levelled frame is found at it times d in the stored one.
    matrix: [[f64; 3]; 3],
    /// The horizon that was found, in the sphere as it is turned now.
    horizon: Vec<[f64; 2]>,
    /// Degrees between the up that was found and that of the sphere as it is turned now.
    tilt: f64,
    /// By how many degrees the mark that fits worst misses.
    residual: f64,
}

/// The turn that levels a sphere by marks in it
#[utoipa::path(
    post,
    path = "/sphere/level",
    tag = "calculations",
    request_body = SphereMarks,
    responses(
        (status = 200, body = LevelFound),
        (status = 422, description = "Every bad field, or marks that settle nothing", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn level_sphere(Body(asked): Body<Levelling>) -> Result<Reply, Refusal> {
    let Levelling { turn, horizon, uprights } = asked;
    let (marks, field) = match (horizon.0.len(), uprights.0.len()) {
        (0, 0) => {
            return Err(Refusal::field("/horizon", "two points along the horizon, or a line along something upright"));
        }
        (1, 0) => return Err(Refusal::field("/horizon", "two points or more: one settles no horizon")),
        (_, 0) => (Marks::Horizon(horizon.0), "/horizon"),
        (0, _) => (Marks::Uprights(uprights.0), "/uprights"),
        _ => return Err(Refusal::field("/uprights", "none where there are points along the horizon")),
    };
    let found = SphereLevel::of(&SphereLevelRequest { marks, centre: None })
        .map_err(|error| Refusal::field(field, format!("marks that settle which way is up: {error}")))?;
    // Found in the sphere as it is turned; that turn comes first.
    let level = Orientation::of_matrix(&found.matrix);
    let horizon = (0..=72).map(|step| level.found([f64::from(step) * 5.0 - 180.0, 0.0])).collect();
    let turn = level.within(&turn);
    Ok(Reply::json(&LevelFound {
        back: Values(turn.inverse()),
        matrix: turn.matrix(),
        turn: Values(turn),
        horizon,
        tilt: found.tilt,
        residual: found.residual,
    }))
}
