//! What a project hands over to the next person and the next program: plan sheets to print, tables
//! of every number, open interchange files, recipes that carry the plan out, framing charts, and the
//! facts that streams are to signal.
//!
//! Everything is computed from a [`Package`], and the same package gives the same bytes. Nothing that
//! is written is active: no scripts in pages, no formulas in tables, nothing in a name that a shell
//! would run.
//!
//! Start at [`Package::of`] and [`archive::write`].

pub mod archive;
pub mod fdl;
pub mod names;
pub mod otio;

mod chart;
mod drawing;
mod numbers;
mod package;
mod pdf;
mod png;
mod script;
mod sheet;
mod signalling;
mod svg;

pub use archive::{Format, Progress, Written};
pub use package::{Added, Conversion, Package, Selection, Standing};
