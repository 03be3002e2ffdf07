//! What a project hands over to the next person and the next program: plan sheets to print, tables
//! of every number, open interchange files, recipes that carry the plan out, framing charts, and the
//! facts that streams are to signal.
//!
//! Everything is written of a [`Package`], and the same package gives the same bytes. Nothing that is written
//! is active: no scripts in pages, no formulas in tables, nothing in a name that a shell would run.
//!
//! Start at [`Package::of`] and [`Order::write`].
//!
//! [`Package`]: ratiomet_core::project::Package
//! [`Package::of`]: ratiomet_core::project::Package::of

pub mod names;

mod archive;
mod caption;
mod chart;
mod charts;
mod coding;
mod drawing;
mod face;
mod format;
mod numbers;
mod outcomes;
mod pdf;
mod png;
mod progress;
mod script;
mod sheet;
mod signalling;
mod spherical;
mod svg;
mod typed;

pub use archive::{LeftOut, Manifest, Order, Written};
pub use caption::caption;
pub use charts::camera_chart;
pub use format::Format;
pub use numbers::Everything as Numbers;
pub use outcomes::Outcomes;
pub use progress::Progress;
