//! What hands on spheres do: they turn them, look elsewhere, and level them by marks.

use ratiomet_core::sphere::{
    FieldOfView, Hold, InView, Mark, Marks, Orientation, Point, SphereLevel, SphereLevelRequest,
};
use ratiomet_wire::Whole;
use ratiomet_wire::describe::{List, Values, record};
use ratiomet_wire::problem::Problem;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::standing::OrientationValues;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::Body;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(drag_sphere))
        .routes(routes!(drag_view))
        .routes(routes!(point_of_view))
        .routes(routes!(level_sphere))
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
    Reply::json(&SpherePoint { point: shown.look.sees(&shown.fov, InView::of_pixel(shown.size, shown.at)) })
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
    let [from, to] = [drag.from, drag.to].map(|at| InView::of_pixel(drag.size, at));
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
    let turn = level.within(&turn);
    Ok(Reply::json(&LevelFound {
        back: Values(turn.inverse()),
        matrix: turn.matrix(),
        turn: Values(turn),
        horizon: level.horizon(),
        tilt: found.tilt,
        residual: found.residual,
    }))
}
