//! Kind `recipe`: a conversion in whole pixels, ready to be carried out.

use ratiomet_core::Framing;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::project::{FrameSpec, SourceSpec};
use ratiomet_core::recipe::{Chroma, Recipe, RecipeStep};
use serde::Serialize;
use utoipa::ToSchema;

use super::Kind;
use crate::describe::record;
use crate::number::{ExactNumber, RectResult};

/// The request.
#[derive(Clone, Debug)]
pub struct RecipeRequest {
    source: SourceSpec,
    delivery: FrameSpec,
    framing: Framing,
    chroma: Chroma,
}

record!(
    /// One source into one delivery frame, in whole pixels.
    "RecipeRequest", "recipes" for RecipeRequest {
        /// The footage.
        source: SourceSpec = Required, |request| request.source.clone();
        /// The frame; its sides and its step lie on the chroma grid.
        delivery: FrameSpec = Required, |request| request.delivery.clone();
        /// Where the picture is put; fit and centred when left out.
        framing: Framing = Default("{}"), |request| request.framing.clone();
        /// How the colour is sampled.
        chroma: Chroma = Default(r#""4:2:0""#), |request| request.chroma;
    }
    |source, delivery, framing, chroma| Ok(RecipeRequest { source, delivery, framing, chroma })
);

impl Kind for RecipeRequest {
    fn calculation(self) -> Calculation {
        let (source, frame) = (self.source.into_source(), self.delivery.into_frame());
        Calculation::Recipe(source, frame, self.framing, self.chroma)
    }

    fn of(calculation: &Calculation) -> Option<Self> {
        let Calculation::Recipe(source, frame, framing, chroma) = calculation.clone() else { return None };
        Some(Self { source: source.into(), delivery: frame.into(), framing, chroma })
    }
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
