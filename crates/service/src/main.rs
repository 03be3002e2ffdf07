//! Ratiomet: plans frame geometry conversions for post-production.

mod archive;
mod borders;
mod calc_lines;
mod cli;
mod demo;
mod download;
mod handoff;
mod import;
mod jobs;
mod keeping;
mod media_folder;
mod movie;
mod people;
mod probe;
mod project_archive;
mod proof;
mod render;
mod secret;
mod server;
mod serving;
mod stills;
mod tag;
mod version;
mod whole_file;

use std::process::ExitCode;

/// Gives memory back to the system while nobody needs it, where that of the C library keeps it.
#[global_allocator]
static MEMORY: tikv_jemallocator::Jemalloc = tikv_jemallocator::Jemalloc;

fn main() -> ExitCode {
    match cli::run() {
        Ok(code) => code,
        Err(message) => {
            // Names in it come from anywhere: nothing may steer a terminal.
            let plain: String =
                message.chars().map(|each| if each.is_control() && each != '\n' { '?' } else { each }).collect();
            eprintln!("ratiomet: {plain}");
            ExitCode::FAILURE
        }
    }
}
