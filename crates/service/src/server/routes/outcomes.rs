//! Outcomes: what conversions, and sources by themselves, look like when they are carried out on stills, and what is
//! measured in them.

use std::sync::Arc;

use axum::body::Bytes;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use ratiomet_core::project::{
    Alone, Deliverable, Footage, FrameId, FramingSpec, OwnSize, Pair, Placing, ProjectId, SourceId,
};
use ratiomet_core::resampling::{Amount, Filter, Radius, Resampling, Sharpening, Smoothing, Steps, Transfer};
use ratiomet_core::signal::Projection;
use ratiomet_core::space::Axis;
use ratiomet_core::{Error, Plan};
use ratiomet_picture::Still;
use ratiomet_picture::proof::{self, Ellipse, Region};
use ratiomet_picture::scene::Marks;
use ratiomet_store::{Store, Subject};
use ratiomet_wire::describe::{Values, record};
use ratiomet_wire::number::{AxesResult, RectResult};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::whole::Whole;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::stills::refused;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers, Query};
use crate::stills::Stills;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(outcome))
        .routes(routes!(readings))
        .routes(routes!(alone))
        .routes(routes!(outcome_alone))
        .routes(routes!(readings_alone))
}

/// How an outcome is worked out.
#[derive(Clone, Debug)]
struct Variant {
    method: Option<Placing>,
    /// None for what is taken.
    how: Option<Resampling>,
}

/// The fields of a way of resampling, each by itself.
struct Flat {
    radius: Radius,
    amount: Option<Amount>,
}

impl Variant {
    fn flat(&self) -> Flat {
        let sharpening = self.how.as_ref().and_then(|how| how.sharpening.clone());
        let radius = || Radius::parse("1").expect("a radius within the bounds");
        Flat {
            amount: sharpening.as_ref().map(|sharpening| sharpening.amount.clone()),
            radius: sharpening.map_or_else(radius, |sharpening| sharpening.radius),
        }
    }

    fn how(&self) -> Resampling {
        self.how.clone().unwrap_or_default()
    }
}

record!(
    /// How an outcome is worked out.
    "OutcomeVariant", "variants" for Variant {
        /// By this method, centred; null for the framing that counts.
        method: Option<Placing> = Default("null"), |variant| variant.method;
        /// The filter; null for the way that is taken, or Lanczos in one step: then nothing else counts.
        filter: Option<Filter> = Default("null"), |variant| variant.how.as_ref().map(|how| how.filter);
        /// In light, by this transfer function; null for the signal as stored.
        linear: Option<Transfer> = Default("null"), |variant| variant.how().light;
        /// At once, or by the smallest whole enlargement that reaches and then down by what remains.
        steps: Steps = Default(r#""one""#), |variant| variant.how().steps;
        /// What is done against noise before.
        smoothing: Smoothing = Default(r#""none""#), |variant| variant.how().smoothing;
        /// How wide sharpening reaches.
        radius: Radius = Default(r#""1""#), |variant| variant.flat().radius;
        /// How much is sharpened; null for not at all.
        amount: Option<Amount> = Default("null"), |variant| variant.flat().amount;
    }
    |method, filter, linear, steps, smoothing, radius, amount| {
        let sharpening = amount.map(|amount| Sharpening { radius, amount });
        let how = filter.map(|filter| Resampling { filter, light: linear, steps, smoothing, sharpening });
        Ok(Variant { method, how })
    }
);

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

/// What is carried out.
#[derive(Clone, Copy)]
enum Wanted {
    Conversion(Pair),
    Alone(SourceId, OwnSize),
}

impl Wanted {
    fn conversion(source: i32, frame: i32) -> Self {
        Self::Conversion(Pair::new(SourceId::new(source), FrameId::new(frame)))
    }

    fn alone(source: i32, percent: u32) -> Result<Self, Refusal> {
        Ok(Self::Alone(SourceId::new(source), own_size(percent)?))
    }

    const fn source(self) -> SourceId {
        match self {
            Self::Conversion(pair) => pair.source,
            Self::Alone(source, _) => source,
        }
    }
}

fn own_size(percent: u32) -> Result<OwnSize, Refusal> {
    OwnSize::new(percent).map_err(|error| wrong_size(&error))
}

fn wrong_size(error: &Error) -> Refusal {
    Problem::new(
        422,
        "wrong_size",
        "The source is not carried out at this size",
        format!("{error}."),
        "Name a whole percentage of its own size, such as 100 or 200.",
    )
    .into()
}

/// What was carried out, with what it is made of.
struct Made {
    footage: Footage,
    frame: Deliverable,
    plan: Plan,
    how: Resampling,
    outcome: Arc<Still>,
}

impl Made {
    fn of(store: &Store, stills: &Stills, project: i32, wanted: Wanted, variant: Variant) -> Result<Self, Refusal> {
        let project = ProjectId::new(project);
        let contents = store.contents(project)?;
        let missing = |subject| Refusal::from(store.missing(project, subject));
        let source = wanted.source();
        let footage = contents.project.source(source).cloned();
        let footage = footage.ok_or_else(|| missing(Subject::Source(source)))?;
        let (frame, plan, taken) = match wanted {
            Wanted::Conversion(pair) => {
                let frame = contents.project.frame(pair.frame).cloned();
                let frame = frame.ok_or_else(|| missing(Subject::Frame(pair.frame)))?;
                let mut choice = contents.project.choice(pair);
                if let Some(method) = variant.method {
                    choice.own = Some(FramingSpec::of(method));
                }
                let conversion = contents.project.conversion_with(pair, &choice);
                let conversion = conversion.ok_or_else(|| missing(Subject::Source(source)))?;
                (frame, conversion.plan, conversion.taken)
            }
            Wanted::Alone(_, size) => {
                let Alone { frame, plan } = Alone::of(&footage, size).map_err(|error| wrong_size(&error))?;
                (frame, plan, None)
            }
        };
        let how = variant.how.or(taken).unwrap_or_default();
        let pictured = contents.project.pictured(&footage);
        let outcome = stills.outcome(pictured, &frame, &plan, &how).map_err(|why| refused(&why))?;
        Ok(Self { footage, frame, plan, how, outcome })
    }

    /// As a picture: PNG, as deep as the still.
    async fn picture(app: App, project: i32, wanted: Wanted, variant: Variant) -> Result<Response, Refusal> {
        let png = app
            .run_on_stills(move |store, stills| {
                let made = Self::of(store, stills, project, wanted, variant)?;
                let mut png = Vec::new();
                made.outcome.write_png(&mut png).map_err(|why| refused(&why.to_string()))?;
                Ok(png)
            })
            .await?;
        let head = [(header::CONTENT_TYPE, "image/png"), (header::CACHE_CONTROL, "no-store")];
        Ok((head, Bytes::from(png)).into_response())
    }

    /// What is measured in it.
    async fn measured(app: App, project: i32, wanted: Wanted, asked: Asked) -> Result<Reply, Refusal> {
        app.run_on_stills(move |store, stills| {
            let made = Self::of(store, stills, project, wanted, asked.variant)?;
            Ok(Reply::json(&Readings::of(&made, asked.mark.map(|mark| mark.0))))
        })
        .await
    }
}

/// A conversion carried out on the still of its source: PNG at the raster of the frame, as deep as the still
#[utoipa::path(
    get,
    path = "/projects/{project}/conversions/{source}/{frame}/outcome",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("frame" = i32, Path, description = "The frame's number"),
        ("method" = Option<String>, Query, description = "By this method, centred, instead of the framing that counts"),
        ("filter" = Option<String>, Query, description = "nearest, bilinear, catmull-rom, mitchell, lanczos3 or area; without one the way that is taken, or Lanczos in one step"),
        ("linear" = Option<String>, Query, description = "In light, by srgb, bt1886 or bt709"),
        ("steps" = Option<String>, Query, description = "one, or whole_first"),
        ("smoothing" = Option<String>, Query, description = "none, median3 or median5"),
        ("radius" = Option<String>, Query, description = "How wide sharpening reaches, in pixels"),
        ("amount" = Option<String>, Query, description = "How much is sharpened"),
    ),
    responses(
        (status = 200, description = "A picture", content_type = "image/png", body = Vec<u8>),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No still that goes with the source", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn outcome(
    State(app): State<App>,
    Numbers((project, source, frame)): Numbers<(i32, i32, i32)>,
    Query(variant): Query<Variant>,
) -> Result<Response, Refusal> {
    Made::picture(app, project, Wanted::conversion(source, frame), variant).await
}

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
        let area = plan.picture_area.rect();
        let bars = |axis: Axis| {
            let start = plan.image.start(axis).clone().max(area.start(axis).clone());
            let end = plan.image.end(axis).min(area.end(axis));
            let side = i64::from(frame.raster().along(axis));
            let lines = |lines: i64| u32::try_from(lines.clamp(0, side)).unwrap_or(0);
            let before = (start - ratiomet_core::Exact::ONE.half()).ceil_whole();
            [lines(before), lines(side - (end - ratiomet_core::Exact::ONE.half()).ceil_whole())]
        };
        let ([left, right], [top, bottom]) = (bars(Axis::X), bars(Axis::Y));
        Self {
            how: made.how.words(),
            scale: [plan.scale.x.to_f64(), plan.scale.y.to_f64()],
            black: proof::black(&made.outcome),
            planned_black: [left, top, right, bottom],
            ring,
            edge,
            no_edge,
            mark: region.map(|region| [region.left, region.top, region.width, region.height]),
        }
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
    Made::measured(app, project, Wanted::conversion(source, frame), asked).await
}

/// A source by itself, upright in square pixels, at some share of its own size.
#[derive(Debug, Serialize, ToSchema)]
#[schema(as = SourceAlone)]
struct AloneResult {
    /// How large, in percent of its own size.
    percent: u32,
    /// The frame that it makes: width and height.
    raster: [u32; 2],
    /// Where its picture lies in there, in pixels of that frame: less than a pixel is cut where a side was rounded.
    image: RectResult,
    /// Pixels of that frame for each of its own.
    scale: AxesResult,
}

/// What a source makes by itself, upright in square pixels
///
/// It is judged by itself before there is any frame for it: its outcome and readings are those of a conversion into the
/// frame that it makes.
#[utoipa::path(
    get,
    path = "/projects/{project}/sources/{source}/alone/{percent}",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("percent" = u32, Path, description = "How large, in percent of its own size: 10 to 400"),
    ),
    responses(
        (status = 200, body = AloneResult),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 410, description = "Deleted", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Not at this size", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn alone(
    State(app): State<App>,
    Numbers((project, source, percent)): Numbers<(i32, i32, u32)>,
) -> Result<Reply, Refusal> {
    let size = own_size(percent)?;
    app.run(move |store| {
        let (project, source) = (ProjectId::new(project), SourceId::new(source));
        let contents = store.contents(project)?;
        let footage = contents.project.source(source);
        let footage = footage.ok_or_else(|| Refusal::from(store.missing(project, Subject::Source(source))))?;
        let Alone { frame, plan } = Alone::of(footage, size).map_err(|error| wrong_size(&error))?;
        let raster = frame.geometry.frame().raster();
        let raster = [raster.width(), raster.height()];
        Ok(Reply::json(&AloneResult { percent, raster, image: plan.image.into(), scale: plan.scale.into() }))
    })
    .await
}

/// A source carried out by itself: PNG, upright in square pixels, as deep as its still
#[utoipa::path(
    get,
    path = "/projects/{project}/sources/{source}/alone/{percent}/outcome",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("percent" = u32, Path, description = "How large, in percent of its own size: 10 to 400"),
        ("filter" = Option<String>, Query, description = "nearest, bilinear, catmull-rom, mitchell, lanczos3 or area; without one Lanczos in one step"),
        ("linear" = Option<String>, Query, description = "In light, by srgb, bt1886 or bt709"),
        ("steps" = Option<String>, Query, description = "one, or whole_first"),
        ("smoothing" = Option<String>, Query, description = "none, median3 or median5"),
        ("radius" = Option<String>, Query, description = "How wide sharpening reaches, in pixels"),
        ("amount" = Option<String>, Query, description = "How much is sharpened"),
    ),
    responses(
        (status = 200, description = "A picture", content_type = "image/png", body = Vec<u8>),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No still that goes with the source, or not at this size", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn outcome_alone(
    State(app): State<App>,
    Numbers((project, source, percent)): Numbers<(i32, i32, u32)>,
    Query(variant): Query<Variant>,
) -> Result<Response, Refusal> {
    Made::picture(app, project, Wanted::alone(source, percent)?, variant).await
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
    Made::measured(app, project, Wanted::alone(source, percent)?, asked).await
}
