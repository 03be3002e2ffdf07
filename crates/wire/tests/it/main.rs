//! Requests as JSON: what is read, what is refused and where, and whole worked examples.

mod asking;
mod documents;
mod examples;
mod lists;
mod refusals;
