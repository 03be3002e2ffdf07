//! Requests as JSON: what is read, what is refused and where, and whole worked examples.

mod examples;
mod numbers;
mod refusals;
