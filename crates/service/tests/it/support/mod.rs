//! What the tests need: the running program, a way to ask it, and a browser.

mod browser;
mod server;

pub use browser::Browser;
pub use server::{Answer, Caller, Server, program};
