//! Real pictures: stills are read, plans are carried out on them at full size, borders are found, outcomes are written.
//!
//! Geometry comes from the core, exact; here it meets samples. Whatever a file says of itself, memory is bounded before
//! it is taken: see [`limits`].
//!
//! Start at [`Still::read`], [`carry::out`] and [`borders::find`].

pub mod board;
pub mod borders;
pub mod carry;
pub mod limits;
pub mod proof;
pub mod scene;
pub mod sphere;
pub mod still;

mod dpx;
mod exr_file;
mod filter;
mod finish;
mod light;
mod pen;
mod resample;
mod sphere_scene;

pub use still::Still;

/// Why a picture is not read, carried out or written, as a sentence.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{0}")]
pub struct Problem(pub String);

impl Problem {
    pub(crate) fn new(why: impl Into<String>) -> Self {
        Self(why.into())
    }
}
