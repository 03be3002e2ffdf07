//! Single calculations: one JSON object in, one out.

mod cadence;
mod chain;
mod common;
mod conversion;
mod desqueeze;
mod extraction;
mod levels;
mod proxy;
mod recipe;
mod scale;
mod sphere_frame;
mod sphere_place;
mod sphere_view;
mod subject;
mod viewing;
mod weight;

use serde::Serialize;
use utoipa::ToSchema;

pub use cadence::{CadenceRequest, CadenceResult, IntentName, RelationName};
pub use chain::{ChainRequest, ChainResult};
pub use common::{CommonRequest, CommonResult};
pub use conversion::{
    ConversionRequest, ConversionResult, DialResult, EdgesResult, FindingData, FindingResult, SeverityName,
    UprightResult,
};
pub use desqueeze::{DesqueezeRequest, DesqueezeResult, SquareFrameResult, TargetCutResult};
pub use extraction::{
    CandidateResult, CutResult, ExtractionRequest, ExtractionResult, KeepName, PublishedResult, RoundName,
};
pub use levels::{LevelsRequest, LevelsResult};
pub use proxy::{ProxyRequest, ProxyResult, ProxySize};
pub use recipe::{ChromaName, RecipeRequest, RecipeResult, RecipeStepResult};
pub use scale::{DirectionName, ScaleRequest, ScaleResult, WholeEnlargement};

pub use sphere_frame::{LayoutName, SphereFrameRequest, SphereFrameResult};
pub use sphere_place::{SphereBounds, SpherePlaceRequest, SpherePlaceResult};
pub use sphere_view::{SphereViewRequest, SphereViewResult};
pub(crate) use subject::read_subject_box;
pub use subject::{SubjectBox, SubjectRequest, SubjectResult};
pub use viewing::{ShowName, ViewingRequest, ViewingResult};
pub use weight::{WeightRequest, WeightResult};

use crate::problem::Problem;
use crate::read::{Field, Object, Reader};

/// The most requests that are answered at once.
pub const MOST_AT_ONCE: usize = 2_000;

/// Several requests.
#[derive(Debug, Serialize, ToSchema)]
pub struct CalcRequests {
    /// At most 2,000.
    pub requests: Vec<CalcRequest>,
}

/// Their results.
#[derive(Debug, Serialize, ToSchema)]
pub struct CalcResults {
    /// In the order of the requests.
    pub results: Vec<CalcResult>,
}

/// A request of `/calc`, told apart by its `kind`.
#[derive(Debug, Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum CalcRequest {
    /// One source into one delivery frame.
    Conversion(ConversionRequest),
    /// A frame of a ratio out of a container.
    Extraction(ExtractionRequest),
    /// Stored pixels made into square ones.
    Desqueeze(DesqueezeRequest),
    /// The factors from one frame to another.
    Scale(ScaleRequest),
    /// What becomes of the frames of one rate at another.
    Cadence(CadenceRequest),
    /// A picture through working frames.
    Chain(ChainRequest),
    /// Smaller working copies.
    Proxy(ProxyRequest),
    /// A frame around a subject.
    Subject(SubjectRequest),
    /// What several frames show of one picture.
    Common(CommonRequest),
    /// Sizes of an equirectangular frame.
    SphereFrame(SphereFrameRequest),
    /// A flat view out of a sphere.
    SphereView(SphereViewRequest),
    /// A flat picture onto a sphere.
    SpherePlace(SpherePlaceRequest),
    /// What a decoder must take.
    Levels(LevelsRequest),
    /// A delivered frame on a screen.
    Viewing(ViewingRequest),
    /// How many bytes a delivery has.
    Weight(WeightRequest),
    /// A conversion in whole pixels, ready to be carried out.
    Recipe(RecipeRequest),
}

/// The result of a request of the same kind.
#[derive(Debug, Serialize, ToSchema)]
#[serde(untagged)]
pub enum CalcResult {
    /// How the source lands in the frame.
    Conversion(Box<ConversionResult>),
    /// The frame of that ratio.
    Extraction(Box<ExtractionResult>),
    /// Both ways of making it square.
    Desqueeze(Box<DesqueezeResult>),
    /// The factors.
    Scale(Box<ScaleResult>),
    /// What becomes of the frames.
    Cadence(Box<CadenceResult>),
    /// What is left of the picture.
    Chain(Box<ChainResult>),
    /// The working copies.
    Proxy(Box<ProxyResult>),
    /// The frame around it.
    Subject(Box<SubjectResult>),
    /// What they have in common.
    Common(Box<CommonResult>),
    /// The sizes.
    SphereFrame(Box<SphereFrameResult>),
    /// What is seen.
    SphereView(Box<SphereViewResult>),
    /// Where it lands.
    SpherePlace(Box<SpherePlaceResult>),
    /// The levels.
    Levels(LevelsResult),
    /// What is seen on the screen.
    Viewing(Box<ViewingResult>),
    /// The bytes.
    Weight(Box<WeightResult>),
    /// What to do, in order.
    Recipe(Box<RecipeResult>),
}

type ReadKind = fn(&Object<'_>) -> Option<CalcResult>;

const KINDS: [(&str, ReadKind); 16] = [
    ("conversion", conversion::answer),
    ("extraction", extraction::answer),
    ("desqueeze", desqueeze::answer),
    ("scale", scale::answer),
    ("cadence", cadence::answer),
    ("chain", chain::answer),
    ("proxy", proxy::answer),
    ("subject", subject::answer),
    ("common", common::answer),
    ("sphere_frame", sphere_frame::answer),
    ("sphere_view", sphere_view::answer),
    ("sphere_place", sphere_place::answer),
    ("levels", levels::answer),
    ("viewing", viewing::answer),
    ("weight", weight::answer),
    ("recipe", recipe::answer),
];

/// Answers one request.
///
/// # Errors
/// A problem with status 400 for text that is no JSON, 422 with every bad field otherwise.
///
/// ```
/// let request = br#"{"kind":"scale","from":[1920,1080],"to":[3840,2160]}"#;
/// let result = serde_json::to_value(ratiomet_wire::calc::answer(request).unwrap()).unwrap();
/// assert_eq!(result["x"]["exact"], "2");
/// assert_eq!(ratiomet_wire::calc::answer(b"{").unwrap_err().status, 400);
/// ```
pub fn answer(request: &[u8]) -> Result<CalcResult, Box<Problem>> {
    Reader::read(request, one)
}

/// Answers several requests, all or none.
///
/// # Errors
/// Those of [`answer`]; a pointer begins with the place of the request, such as `/requests/3/ratio`.
pub fn answer_many(requests: &[u8]) -> Result<CalcResults, Box<Problem>> {
    Reader::read(requests, |root: &Field<'_>| {
        let object = root.object()?;
        let results = object.required("requests", |field| {
            let accepted = format!("an array of requests, at most {MOST_AT_ONCE}");
            let requests = field.array(&accepted)?;
            if requests.len() > MOST_AT_ONCE {
                return field.refuse(accepted);
            }
            // Each is read, so that all that is wrong is said.
            let results: Vec<Option<CalcResult>> = requests.iter().map(one).collect();
            results.into_iter().collect()
        });
        object.done()?;
        Some(CalcResults { results: results? })
    })
}

fn one(field: &Field<'_>) -> Option<CalcResult> {
    let object = field.object()?;
    let kind = object.required("kind", |field| field.word(&KINDS))?;
    kind(&object)
}
