//! Ratiomet: plans frame geometry conversions for post-production.

mod borders;
mod calc_lines;
mod cli;
mod demo;
mod handoff;
mod import;
mod media_folder;
mod probe;
mod render;
mod server;
mod stills;

use std::process::ExitCode;

fn main() -> ExitCode {
    match cli::run() {
        Ok(code) => code,
        Err(message) => {
            eprintln!("ratiomet: {message}");
            ExitCode::FAILURE
        }
    }
}
