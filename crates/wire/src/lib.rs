//! Requests and results of Ratiomet as JSON, with their OpenAPI schemas.
//!
//! Every door (HTTP, command line) reads and writes through this crate, so that the same request
//! gives the same answer and the same refusal everywhere. It holds no rules: those are the core's.

pub mod ask;
pub mod calc;
pub mod geometry;
pub mod list;
pub mod number;
pub mod problem;
pub mod project;
pub mod read;
pub mod tables;
