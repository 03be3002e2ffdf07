//! Outcomes: what conversions, and sources by themselves, look like when they are carried out on stills.

use std::sync::Arc;

use axum::body::Bytes;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use ratiomet_core::project::{
    Alone, Deliverable, Footage, FrameId, FramingSpec, OwnSize, Pair, Placing, ProjectId, SourceId,
};
use ratiomet_core::resampling::{Amount, Filter, Radius, Resampling, Sharpening, Smoothing, Steps, Transfer};
use ratiomet_core::{Error, Plan};
use ratiomet_picture::Still;
use ratiomet_store::{Store, Subject};
use ratiomet_wire::describe::record;
use ratiomet_wire::number::{AxesResult, RectResult};
use ratiomet_wire::problem::Problem;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::stills::refused;
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Numbers, Query};
use crate::stills::Stills;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(outcome)).routes(routes!(alone)).routes(routes!(outcome_alone))
}

/// How an outcome is worked out.
#[derive(Clone, Debug)]
pub(super) struct Variant {
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

/// What is carried out.
#[derive(Clone, Copy)]
pub(super) enum Wanted {
    Conversion(Pair),
    Alone(SourceId, OwnSize),
}

impl Wanted {
    pub(super) fn conversion(source: i32, frame: i32) -> Self {
        Self::Conversion(Pair::new(SourceId::new(source), FrameId::new(frame)))
    }

    pub(super) fn alone(source: i32, percent: u32) -> Result<Self, Refusal> {
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
pub(super) struct Made {
    pub footage: Footage,
    pub frame: Deliverable,
    pub plan: Plan,
    pub how: Resampling,
    pub outcome: Arc<Still>,
}

impl Made {
    pub(super) fn of(
        store: &Store,
        stills: &Stills,
        project: i32,
        wanted: Wanted,
        variant: Variant,
    ) -> Result<Self, Refusal> {
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
