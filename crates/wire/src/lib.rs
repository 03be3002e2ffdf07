//! Requests and results of Ratiomet as JSON, with their OpenAPI schemas.
//!
//! Every door (HTTP, command line, the data file) reads and writes through this crate, so that the same
//! request gives the same answer and the same refusal everywhere. It holds no rules: those are the core's.
//!
//! [`describe`] is how a request is described once; [`read`] how it is read; [`geometry`], [`calc`] and
//! [`project`] are what requests are made of, [`shapes`] and [`number`] what answers are; [`kept`] is what is
//! stored, in every format that ever was.

pub mod calc;
pub mod describe;
mod described;
pub mod file;
pub mod geometry;
pub mod kept;
pub mod names;
pub mod number;
pub mod problem;
pub mod project;
pub mod read;
mod resampling;
pub mod schema;
pub mod shapes;
pub mod tables;
mod values;
pub mod whole;

pub use values::{Count, SpokenRate, Text};
pub use whole::{Bytes, Whole};
