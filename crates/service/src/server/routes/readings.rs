//! [`Readings`]: what is measured in outcomes.

use axum::extract::State;
use ratiomet_core::signal::Projection;
use ratiomet_picture::carry;
use ratiomet_picture::proof::{self, Ellipse, Region};
use ratiomet_picture::scene::Marks;
use ratiomet_wire::describe::{Values, record};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::whole::Whole;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::outcomes::{Made, Variant, Wanted};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(readings)).routes(routes!(readings_alone))
}

/// A mark around an edge.
#[derive(Clone, Copy, Debug)]
struct Mark(Region);

type Side = Whole<0, 65_536>;

record!(
    /// A mark around an edge, in delivery pixels.
    "EdgeMark", "marks" for Mark {
        /// Its first column.
        left: Side = Required, |mark| Whole::new(mark.0.left);
        /// Its first line.
        top: Side = Required, |mark| Whole::new(mark.0.top);
        /// How many columns.
        width: Side = Required, |mark| Whole::new(mark.0.width);
        /// How many lines.
        height: Side = Required, |mark| Whole::new(mark.0.height);
    }
    |left, top, width, height| {
        Ok(Mark(Region { left: left.get(), top: top.get(), width: width.get(), height: height.get() }))
    }
);

/// What is to be measured.
#[derive(Clone, Debug)]
struct Asked {
    variant: Variant,
    mark: Option<Mark>,
}

record!(
    /// What is to be measured.
    "ReadingsRequest", "readings" for Asked {
        /// In which outcome.
        variant: Variant = Default("{}"), |asked| asked.variant.clone();
        /// Around which edge; null for the slanted edge of a test scene.
        mark: Option<Mark> = Default("null"), |asked| asked.mark;
    }
    |variant, mark| Ok(Asked { variant, mark })
);

type ReadingsRequest = Values<Asked>;

/// What is measured in an outcome.
#[derive(Debug, Serialize, ToSchema)]
struct Readings {
    /// How its samples are worked out, in words.
    #[schema(example = "Lanczos, one step")]
    how: String,
    /// How much the picture is enlarged across and down.
    scale: [f64; 2],
    /// Lines without any picture at each side: left, top, right, bottom.
    black: [u32; 4],
    /// As planned.
    planned_black: [u32; 4],
    /// The circle of a test scene; null where there is none, or too little of it is seen.
    ring: Option<RingReading>,
    /// The edge; null where there is none.
    edge: Option<EdgeReading>,
    /// Why no edge was measured.
    no_edge: Option<String>,
    /// The mark around the edge, in delivery pixels: left, top, width, height.
    mark: Option<[u32; 4]>,
}

/// What a circle tells.
#[derive(Debug, Serialize, ToSchema)]
struct RingReading {
    /// What it spans across over what it spans down, as it is seen.
    roundness: f64,
    /// The same as planned.
    planned: f64,
    /// How far its middle lies from where it was planned, in delivery pixels.
    off: f64,
    /// Its middle, in delivery pixels.
    centre: [f64; 2],
    /// Half of what it spans across and down, in delivery pixels.
    radii: [f64; 2],
}

/// What an edge tells.
#[derive(Debug, Serialize, ToSchema)]
struct EdgeReading {
    /// Delivery pixels across it from 10 to 90 % of its height.
    width: f64,
    /// How much of a contrast is left at 0, 1/64 and so on up to 32/64 cycles a pixel; empty where the edge does not lean.
    response: Vec<f64>,
    /// Where half of the contrast is left, in cycles a pixel; null where it does not come down to it.
    half: Option<f64>,
    /// By how much it swings over, in percent of its height.
    ringing: f64,
    /// The standard deviation of what should be flat beside it, in code values of 255.
    noise: f64,
}

impl From<proof::Edge> for EdgeReading {
    fn from(proof::Edge { width, response, half, ringing, noise }: proof::Edge) -> Self {
        Self { width, response, half, ringing, noise }
    }
}

/// The part of a frame that the slanted edge of a scene takes, where it is inside and large enough.
fn scene_edge(marks: &Marks, [width, height]: [u32; 2]) -> Option<Region> {
    let [left, top, right, bottom] = marks.edge.map(f64::round);
    let inside = left >= 0.0 && top >= 0.0 && right <= f64::from(width) && bottom <= f64::from(height);
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "inside a raster")]
    let pixels = |place: f64| place as u32;
    inside.then(|| {
        let (left, top) = (pixels(left), pixels(top));
        Region { left, top, width: pixels(right) - left, height: pixels(bottom) - top }
    })
}

impl Readings {
    /// What is measured in what was made, and around which mark.
    fn of(made: &Made, mark: Option<Region>) -> Self {
        let plan = &made.plan;
        let (source, frame) = (made.footage.geometry.source(), made.frame.geometry.frame());
        // What a sphere shows is no chart.
        let flat = made.footage.view.is_none() && made.footage.projection == Projection::Flat;
        let scene = flat && made.footage.still.as_ref().is_some_and(|still| still.scene().is_some());
        let marks = Marks::of(source, plan);
        let size = made.outcome.size();
        let aspect = frame.pixel_aspect().value().to_f64();
        let ring = scene.then(|| proof::ring(&made.outcome, marks.ring)).flatten().map(|found| {
            let Ellipse { centre, radii } = found;
            let roundness = |ring: Ellipse| ring.radii[0] * aspect / ring.radii[1];
            let off = f64::hypot(centre[0] - marks.ring.centre[0], centre[1] - marks.ring.centre[1]);
            RingReading { roundness: roundness(found), planned: roundness(marks.ring), off, centre, radii }
        });
        let region = mark.or_else(|| scene.then(|| scene_edge(&marks, size)).flatten());
        let edge = region.map(|region| proof::edge(&made.outcome, region));
        let (edge, no_edge) = match edge {
            Some(Ok(edge)) => (Some(edge.into()), None),
            Some(Err(why)) => (None, Some(why.to_string())),
            None => (None, Some("mark an edge in the picture: dark on one side, bright on the other".to_owned())),
        };
        Self {
            how: made.how.words(),
            scale: [plan.scale.x.to_f64(), plan.scale.y.to_f64()],
            black: proof::black(&made.outcome),
            planned_black: carry::black(plan, frame),
            ring,
            edge,
            no_edge,
            mark: region.map(|region| [region.left, region.top, region.width, region.height]),
        }
    }

    /// What is measured in something that is carried out.
    async fn measured(app: App, project: i32, wanted: Wanted, asked: Asked) -> Result<Reply, Refusal> {
        app.run_on_stills(move |store, stills| {
            let made = Made::of(store, stills, project, wanted, asked.variant)?;
            Ok(Reply::json(&Self::of(&made, asked.mark.map(|mark| mark.0))))
        })
        .await
    }
}

/// What is measured in an outcome: bars, a circle, an edge
///
/// The edge is measured from 10 to 90 % and by its response as ISO 12233 has it for a slanted edge, in code values.
#[utoipa::path(
    post,
    path = "/projects/{project}/conversions/{source}/{frame}/readings",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("frame" = i32, Path, description = "The frame's number"),
    ),
    request_body = ReadingsRequest,
    responses(
        (status = 200, body = Readings),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No still that goes with the source, or bad fields", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn readings(
    State(app): State<App>,
    Numbers((project, source, frame)): Numbers<(i32, i32, i32)>,
    Body(asked): Body<Asked>,
) -> Result<Reply, Refusal> {
    Readings::measured(app, project, Wanted::conversion(source, frame), asked).await
}

/// What is measured in a source carried out by itself: a circle, an edge
#[utoipa::path(
    post,
    path = "/projects/{project}/sources/{source}/alone/{percent}/readings",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("percent" = u32, Path, description = "How large, in percent of its own size: 10 to 400"),
    ),
    request_body = ReadingsRequest,
    responses(
        (status = 200, body = Readings),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No still that goes with the source, not at this size, or bad fields", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn readings_alone(
    State(app): State<App>,
    Numbers((project, source, percent)): Numbers<(i32, i32, u32)>,
    Body(asked): Body<Asked>,
) -> Result<Reply, Refusal> {
    Readings::measured(app, project, Wanted::alone(source, percent)?, asked).await
}
