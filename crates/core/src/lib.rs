//! Rules and exact arithmetic of frame geometry conversion.
//!
//! This crate knows nothing of JSON, HTTP, SQL, files, clocks or screens, and it holds no state:
//! every answer is a function of its arguments. Geometry is computed with exact fractions; nothing
//! is rounded before a rule says so.
//!
//! Start at [`Checked::of`]: one [`Source`] in one [`DeliveryFrame`] under one [`Framing`], as a [`Plan`] with
//! what there is to say about it. [`calculation`] has the single calculations, [`project`] what people keep and
//! change.

pub mod active_picture;
pub mod bounded;
pub mod cadence;
pub mod calculation;
pub mod chain;
pub mod checks;
pub mod common;
pub mod cores;
mod delivery;
mod desqueeze;
mod dial;
pub mod dial_in;
mod display_ratio;
mod enlargement;
pub mod error;
mod exact;
mod extraction;
pub mod file;
pub mod finding;
pub mod fraction;
mod framing;
pub mod levels;
pub mod limits;
mod pixel_aspect;
mod placement;
mod plan;
pub mod project;
pub mod proxy;
pub mod published;
mod raster;
mod rate;
pub mod recipe;
pub mod resampling;
pub mod rests;
mod rotation;
mod rounding;
pub mod safe_area;
pub mod showing;
pub mod signal;
mod source;
pub mod space;
pub mod sphere;
mod squeeze;
pub mod subject;
mod tolerance;
pub mod typing;
pub mod viewing;
pub mod weight;
pub mod words;

pub use checks::Checked;
pub use delivery::{DeliveryFrame, PictureArea};
pub use desqueeze::{Desqueeze, DesqueezeRequest, SquareFrame, TargetCut};
pub use dial::{Dial, Sizes, Typed};
pub use display_ratio::DisplayRatio;
pub use enlargement::{Direction, Enlargement};
pub use error::Error;
pub use exact::Exact;
pub use extraction::{Candidate, Cut, Extraction, ExtractionRequest, Keep};
pub use finding::{Finding, Severity};
pub use framing::{Framing, Method, Shift, Zoom};
pub use pixel_aspect::PixelAspect;
pub use plan::Plan;
pub use raster::Raster;
pub use rate::FrameRate;
pub use rotation::{Rotation, StoredAxis};
pub use rounding::{Rounding, Step};
pub use source::{Insets, Source};
pub use squeeze::Squeeze;
pub use tolerance::Tolerance;
