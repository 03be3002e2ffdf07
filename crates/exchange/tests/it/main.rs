//! What comes in and goes out: lists as people paste them, questions, files of our own.

mod asking;
mod documents;
mod lists;
