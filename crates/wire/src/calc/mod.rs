//! Single calculations: one JSON object in, one out.

mod cadence;
mod chain;
mod common;
mod conversion;
mod desqueeze;
mod extraction;
mod finding;
mod levels;
mod proxy;
mod recipe;
mod scale;
mod sphere_frame;
mod sphere_level;
mod sphere_place;
mod sphere_view;
mod subject;
mod typing;
mod viewing;
mod weight;

use ratiomet_core::calculation::{Answer, Calculation};
use ratiomet_core::{DesqueezeRequest, ExtractionRequest, sphere};
use serde::Serialize;
use serde::ser::{SerializeMap, Serializer};
use utoipa::ToSchema;
use utoipa::openapi::schema::{OneOfBuilder, Schema};

use crate::describe::{Json, List, Record, Schemas, collect_tagged, record, reference};
use crate::problem::Problem;
use crate::read::{Field, Object, Reader};

pub use cadence::{CadenceRequest, CadenceResult, RelationName};
pub use chain::{ChainRequest, ChainResult};
pub use common::{CommonRequest, CommonResult};
pub use conversion::{ConversionRequest, ConversionResult, DialResult, SizesResult, TypedResult};
pub use desqueeze::{DesqueezeResult, SquareFrameResult, TargetCutResult};
pub use extraction::{CandidateResult, CutResult, ExtractionResult};
pub use finding::{FindingData, FindingResult, SeverityName};
pub use levels::{LevelsRequest, LevelsResult};
pub use proxy::{ProxyRequest, ProxyResult, ProxySize};
pub use recipe::{RecipeRequest, RecipeResult, RecipeStepResult};
pub use scale::{DirectionName, ScaleRequest, ScaleResult, WholeEnlargement};
pub use sphere_frame::{SphereFrameRequest, SphereFrameResult};
pub use sphere_level::SphereLevelResult;
pub use sphere_place::{SphereBounds, SpherePlaceResult};
pub use sphere_view::SphereViewResult;
pub use subject::{SubjectRequest, SubjectResult};
pub use typing::{RoundedResult, TypingRequest, TypingResult};
pub use viewing::{ViewingRequest, ViewingResult};
pub use weight::{WeightRequest, WeightResult};

/// The most requests that are answered at once.
pub const MOST_AT_ONCE: usize = 2_000;

/// The request of one kind of calculation.
trait Kind: Record {
    /// What it asks.
    fn calculation(self) -> Calculation;

    /// The request of a calculation, if it is of this kind.
    fn of(calculation: &Calculation) -> Option<Self>;
}

/// A request of `/calc`, told apart by its `kind`.
#[derive(Clone, Debug)]
pub struct CalcRequest(pub Calculation);

macro_rules! kinds {
    ($($word:literal: $type:ty,)*) => {
        const KINDS: &[(&str, fn(&Object<'_>) -> Option<Calculation>)] = &[
            $(($word, |object| Some(<$type>::read_object(object)?.calculation())),)*
        ];

        impl Json for CalcRequest {
            const NAME: Option<&'static str> = Some("CalcRequest");
            const PLURAL: &'static str = "requests";

            fn read(field: &Field<'_>) -> Option<Self> {
                let object = field.object()?;
                let Some(kind) = object.take("kind") else { return object.missing("kind") };
                kind.word(KINDS)?(&object).map(Self)
            }

            fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                let mut map = serializer.serialize_map(None)?;
                $(if let Some(request) = <$type>::of(&self.0) {
                    map.serialize_entry("kind", $word)?;
                    request.write_fields(&mut map)?;
                })*
                map.end()
            }

            fn describe() -> Schema {
                OneOfBuilder::new()
                    .description(Some("A request of a calculation, told apart by its kind."))
                    $(.item(reference::<$type>()))*
                    .into()
            }

            fn refers(schemas: &mut Schemas) {
                $(collect_tagged::<$type>(schemas, "kind", $word);)*
            }
        }
    };
}

kinds! {
    "conversion": ConversionRequest,
    "extraction": ExtractionRequest,
    "desqueeze": DesqueezeRequest,
    "scale": ScaleRequest,
    "cadence": CadenceRequest,
    "chain": ChainRequest,
    "proxy": ProxyRequest,
    "subject": SubjectRequest,
    "typing": TypingRequest,
    "common": CommonRequest,
    "sphere_frame": SphereFrameRequest,
    "sphere_view": sphere::SphereViewRequest,
    "sphere_place": sphere::SpherePlaceRequest,
    "sphere_level": sphere::SphereLevelRequest,
    "levels": LevelsRequest,
    "viewing": ViewingRequest,
    "weight": WeightRequest,
    "recipe": RecipeRequest,
}

/// Several requests.
#[derive(Clone, Debug)]
pub struct CalcRequests(List<CalcRequest, 0, MOST_AT_ONCE>);

record!(
    /// Several requests, answered all or none.
    "CalcRequests", "lists of requests" for CalcRequests {
        /// In the order in which they are answered.
        requests: List<CalcRequest, 0, MOST_AT_ONCE> = Required, |requests| requests.0.clone();
    }
    |requests| Ok(CalcRequests(requests))
);

/// Their results.
#[derive(Debug, Serialize, ToSchema)]
pub struct CalcResults {
    /// In the order of the requests.
    pub results: Vec<CalcResult>,
}

/// The result of a request, under its kind.
#[derive(Debug, Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
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
    /// The numbers to type.
    Typing(Box<TypingResult>),
    /// What they have in common.
    Common(Box<CommonResult>),
    /// The sizes.
    SphereFrame(Box<SphereFrameResult>),
    /// What is seen.
    SphereView(Box<SphereViewResult>),
    /// Where it lands.
    SpherePlace(Box<SpherePlaceResult>),
    /// The turn that levels it.
    SphereLevel(Box<SphereLevelResult>),
    /// The levels.
    Levels(LevelsResult),
    /// What is seen on the screen.
    Viewing(Box<ViewingResult>),
    /// The bytes.
    Weight(Box<WeightResult>),
    /// What to do, in order.
    Recipe(Box<RecipeResult>),
}

impl From<Answer> for CalcResult {
    fn from(answer: Answer) -> Self {
        match answer {
            Answer::Conversion(checked) => Self::Conversion(Box::new((*checked).into())),
            Answer::Extraction(extraction) => Self::Extraction(Box::new((*extraction).into())),
            Answer::Desqueeze(desqueeze) => Self::Desqueeze(Box::new((*desqueeze).into())),
            Answer::Scale(enlargement) => Self::Scale(Box::new((*enlargement).into())),
            Answer::Cadence(cadence) => Self::Cadence(Box::new((*cadence).into())),
            Answer::Chain(chain) => Self::Chain(Box::new((*chain).into())),
            Answer::Proxy(proxies) => Self::Proxy(Box::new((*proxies).into())),
            Answer::Subject(around, findings) => Self::Subject(Box::new(SubjectResult::of(*around, &findings))),
            Answer::Typing(typed, reserve) => Self::Typing(Box::new(TypingResult::of(*typed, reserve))),
            Answer::Common(common) => Self::Common(Box::new((*common).into())),
            Answer::SphereFrame(sphere, levels) => Self::SphereFrame(Box::new(SphereFrameResult::of(*sphere, levels))),
            Answer::SphereView(view) => Self::SphereView(Box::new((*view).into())),
            Answer::SpherePlace(place) => Self::SpherePlace(Box::new((*place).into())),
            Answer::SphereLevel(level) => Self::SphereLevel(Box::new((*level).into())),
            Answer::Levels(levels) => Self::Levels(levels.into()),
            Answer::Viewing(viewing) => Self::Viewing(Box::new((*viewing).into())),
            Answer::Weight(weight) => Self::Weight(Box::new((*weight).into())),
            Answer::Recipe(recipe) => Self::Recipe(Box::new((*recipe).into())),
        }
    }
}

/// Answers one request.
///
/// # Errors
/// A problem with status 400 for text that is no JSON, 422 with the bad fields otherwise.
///
/// ```
/// let request = br#"{"kind":"scale","from":[1920,1080],"to":[3840,2160]}"#;
/// let result = serde_json::to_value(ratiomet_wire::calc::answer(request).unwrap()).unwrap();
/// assert_eq!((&result["kind"], &result["x"]["exact"]), (&"scale".into(), &"2".into()));
/// assert_eq!(ratiomet_wire::calc::answer(b"{").unwrap_err().status, 400);
/// ```
pub fn answer(request: &[u8]) -> Result<CalcResult, Box<Problem>> {
    Reader::read(request, one)
}

/// What a request asks, without the answer.
///
/// # Errors
/// Those of [`answer`].
pub fn asked(request: &[u8]) -> Result<Calculation, Box<Problem>> {
    Reader::read(request, |field| CalcRequest::read(field).map(|CalcRequest(calculation)| calculation))
}

/// Answers several requests, all or none.
///
/// # Errors
/// Those of [`answer`]; a pointer begins with the place of the request, such as `/requests/3/ratio`.
pub fn answer_many(requests: &[u8]) -> Result<CalcResults, Box<Problem>> {
    Reader::read(requests, |root: &Field<'_>| {
        let object = root.object()?;
        let accepted = || format!("an array of at most {MOST_AT_ONCE} {}", CalcRequest::PLURAL);
        let requests = match object.take("requests") {
            Some(field) => field.array_within(0, MOST_AT_ONCE, accepted),
            None => object.missing("requests"),
        };
        object.done()?;
        // Each is answered, so that all that is wrong is said.
        let results: Vec<Option<CalcResult>> = requests?.iter().map(one).collect();
        Some(CalcResults { results: results.into_iter().collect::<Option<_>>()? })
    })
}

fn one(field: &Field<'_>) -> Option<CalcResult> {
    let CalcRequest(calculation) = CalcRequest::read(field)?;
    // Every part of a frame that is off the chroma grid is named, not only the first.
    if let Calculation::Recipe(_, frame, _, chroma) = &calculation {
        let misfits = chroma.misfits(frame);
        if !misfits.is_empty() {
            for misfit in misfits {
                field.settle::<()>(Err(misfit));
            }
            return None;
        }
    }
    match calculation.answer() {
        Ok(answer) => Some(answer.into()),
        Err((None, error)) => field.settle(Err(error)),
        Err((Some(step), error)) => field.member("steps", step)?.settle(Err(error)),
    }
}
