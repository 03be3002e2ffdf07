//! Outcomes against the definition of the filters and against Pillow, stills of many writers against other readers,
//! borders against ffmpeg's cropdetect, readings against what is known, damaged files.

#![expect(
    clippy::cast_possible_truncation,
    clippy::cast_precision_loss,
    clippy::cast_sign_loss,
    reason = "pictures of tests are small, and their samples are made of any numbers"
)]

mod against_pillow;
mod borders;
mod hostile;
mod outcomes;
mod proof;
mod scenes;
mod spheres;
mod stills;
mod support;
