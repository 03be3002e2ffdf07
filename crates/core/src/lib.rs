//! Rules and exact arithmetic of frame geometry conversion.
//!
//! This crate knows nothing of JSON, HTTP, SQL, files, clocks or screens, and it holds no state:
//! every answer is a function of its arguments. Geometry is computed with exact fractions; nothing
//! is rounded before a rule says so.
//!
//! Start at [`Plan::of`]: one [`Source`] in one [`DeliveryFrame`] under one [`Framing`]. The single
//! calculations are [`Extraction`], [`Desqueeze`], [`Enlargement`], [`cadence::Cadence`],
//! [`chain::Chain`], [`proxy::Proxies`], [`recipe::Recipe`], [`subject::Around`] and [`common::Common`]. [`project`] is
//! what people keep and change.

pub mod active_picture;
mod bounded;
pub mod cadence;
pub mod chain;
pub mod common;
mod delivery;
mod desqueeze;
mod dial;
pub mod dial_in;
mod display_ratio;
mod enlargement;
mod error;
mod exact;
mod extraction;
pub mod finding;
pub mod fraction;
mod framing;
pub mod levels;
pub mod limits;
mod pixel_aspect;
mod plan;
pub mod project;
pub mod proxy;
pub mod published;
mod raster;
mod rate;
pub mod recipe;
pub mod rests;
mod rounding;
pub mod safe_area;
mod source;
pub mod space;
pub mod sphere;
mod squeeze;
pub mod subject;
pub mod viewing;
pub mod weight;

pub use delivery::{DeliveryFrame, PictureArea};
pub use desqueeze::{Desqueeze, DesqueezeRequest, SquareFrame, TargetCut};
pub use dial::Dial;
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
pub use rounding::{Rounding, Step};
pub use source::{Insets, Rotation, Source};
pub use squeeze::Squeeze;
