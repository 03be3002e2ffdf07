//! Readings held against ffprobe on files that ffmpeg makes, against headers built by hand from the
//! standards, and against files that are damaged in every way.

mod against_ffprobe;
mod against_others;
pub mod built;
mod damaged;
mod made;
mod tags;
