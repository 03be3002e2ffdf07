//! Readings held against ffprobe on files that ffmpeg makes, against headers built by hand from the
//! standards, and against files that are damaged in every way.

mod against_ffprobe;
pub mod built;
mod damaged;
mod made;
