//! Kind `recipe`: a conversion in whole pixels, ready to be carried out.

use ratiomet_core::project::FramingSpec;
use ratiomet_core::recipe::{Chroma, Recipe, RecipeStep};
use ratiomet_core::space::Axis;
use ratiomet_core::{DeliveryFrame, Method};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use crate::geometry::{DeliveryGeometry, FramingValues, SourceGeometry, read_delivery, read_framing, read_source};
use crate::number::{ExactNumber, RectResult};
use crate::read::Object;

/// One source into one delivery frame, in whole pixels.
#[derive(Debug, Serialize, ToSchema)]
pub struct RecipeRequest {
    /// The footage.
    pub source: SourceGeometry,
    /// The frame; its sides and its step lie on the chroma grid.
    pub delivery: DeliveryGeometry,
    /// Where the picture is put; fit and centred when left out.
    #[schema(required = false)]
    pub framing: FramingValues,
    /// How the colour is sampled, 4:2:0 when left out.
    #[schema(required = false)]
    pub chroma: ChromaName,
}

/// How many pixels share one sample of colour.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub enum ChromaName {
    /// Two columns and two lines.
    #[serde(rename = "4:2:0")]
    Quarter,
    /// Two columns.
    #[serde(rename = "4:2:2")]
    Half,
    /// None.
    #[serde(rename = "4:4:4")]
    Full,
}

/// What to do, in order.
#[derive(Debug, Serialize, ToSchema)]
pub struct RecipeResult {
    /// Each in whole pixels of the picture before it.
    pub steps: Vec<RecipeStepResult>,
    /// The same as a filter chain for the ffmpeg command line. It starts from the picture as it is
    /// stored: a program that turns pictures by itself must be told not to (`-noautorotate`).
    #[schema(
        example = "crop=702:566:8:4,scale=1460:1080:flags=lanczos,pad=1920:1080:230:0:black,setsar=sar=1/1:max=1"
    )]
    pub filter: String,
    /// Where the whole active picture lands, in delivery pixels; it may pass the frame.
    pub image: RectResult,
    /// Width to height of a circle against the plan's, less 1: what whole pixels cost.
    pub distortion: ExactNumber,
}

/// One thing to do.
#[derive(Debug, Serialize, ToSchema)]
#[serde(tag = "op", rename_all = "lowercase")]
pub enum RecipeStepResult {
    /// Keep a part.
    Crop {
        /// Pixels left of it.
        x: u32,
        /// Pixels above it.
        y: u32,
        /// Its pixels across.
        width: u32,
        /// Its pixels down.
        height: u32,
    },
    /// Turn it clockwise.
    Turn {
        /// 90, 180 or 270.
        degrees: u32,
    },
    /// Give it another size.
    Scale {
        /// Pixels across.
        width: u32,
        /// Pixels down.
        height: u32,
    },
    /// Put it on black.
    Pad {
        /// Pixels across of the black.
        width: u32,
        /// Pixels down of the black.
        height: u32,
        /// Pixels of black left of the picture.
        x: u32,
        /// Pixels of black above it.
        y: u32,
    },
}

impl From<RecipeStep> for RecipeStepResult {
    fn from(step: RecipeStep) -> Self {
        match step {
            RecipeStep::Crop { x, y, width, height } => Self::Crop { x, y, width, height },
            RecipeStep::Turn(rotation) => Self::Turn { degrees: rotation.degrees() },
            RecipeStep::Scale { width, height } => Self::Scale { width, height },
            RecipeStep::Pad { width, height, x, y } => Self::Pad { width, height, x, y },
        }
    }
}

impl From<Recipe> for RecipeResult {
    fn from(recipe: Recipe) -> Self {
        Self {
            filter: recipe.filter(),
            steps: recipe.steps.into_iter().map(Into::into).collect(),
            image: recipe.image.into(),
            distortion: ExactNumber(recipe.distortion),
        }
    }
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let source = object.required("source", read_source);
    let delivery = object.required("delivery", read_delivery);
    let framing = object.optional("framing", || FramingSpec::of(Method::default()), read_framing);
    let chroma = object.optional("chroma", Chroma::default, |field| field.word(&Chroma::ALL));
    object.done()?;
    let (source, delivery, framing, chroma) = (source?, delivery?, framing?, chroma?);
    on_grid(object, delivery.frame(), chroma)?;
    let recipe = Recipe::of(source.source(), delivery.frame(), &framing.framing(), chroma);
    let recipe = match recipe {
        // The field that holds the insets, not the whole source.
        Err(error) if error.parameter() == "source.active" => {
            let field = object.take("source")?.object()?.take("active")?;
            return field.refuse(error.to_string());
        }
        other => object.as_field().settle(other)?,
    };
    Some(CalcResult::Recipe(Box::new(recipe.into())))
}

/// Refuses each side, and the step, that does not lie on the chroma grid.
fn on_grid(object: &Object<'_>, frame: &DeliveryFrame, chroma: Chroma) -> Option<()> {
    let delivery = object.take("delivery")?.object()?;
    let sides = delivery.take("raster")?.array("two sides")?;
    let raster = frame.raster();
    let [width, height] = sides.as_slice() else { return None };
    let width = width.settle(chroma.check_side(Axis::X, raster.width()));
    let height = height.settle(chroma.check_side(Axis::Y, raster.height()));
    let step = match delivery.take("step") {
        Some(field) => field.settle(chroma.check_step(frame.step())),
        None => Some(()),
    };
    width.and(height).and(step)
}
