//! The commands of the project. `cargo xtask demo` and `cargo xtask test` do all set-up themselves.

mod licences;
mod setup;
#[cfg(test)]
mod tests;

use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, ExitCode};

use clap::{Parser, Subcommand};

#[derive(Parser)]
#[command(name = "cargo xtask")]
struct Cli {
    #[command(subcommand)]
    command: Task,
}

#[derive(Subcommand)]
enum Task {
    /// Build everything and serve the demo project; further arguments go to `ratiomet demo`
    Demo {
        /// Such as --fresh, or --listen 127.0.0.1:8000
        #[arg(trailing_var_arg = true, allow_hyphen_values = true)]
        arguments: Vec<String>,
    },
    /// Build everything into one program that needs nothing else, and make a Debian package of it in target/package
    Package,
    /// Install what the tests need and run every check
    Test,
    /// Write web/openapi.json and the API types again, from the code
    Types,
    /// Write the list of shipped packages and their licences again
    Licences,
    /// Feed every reader with files that a coverage-guided fuzzer makes, each for so long
    Fuzz {
        /// Seconds for each reader
        #[arg(default_value_t = 60)]
        seconds: u32,
    },
    /// Take the pictures in docs/screenshots again, from the demo project
    Screenshots,
}

type Done = Result<(), String>;

fn main() -> ExitCode {
    let done = match Cli::parse().command {
        Task::Demo { arguments } => demo(&arguments),
        Task::Package => package(),
        Task::Test => test(),
        Task::Types => types(),
        Task::Licences => licences::write(&root()),
        Task::Fuzz { seconds } => fuzz(seconds),
        Task::Screenshots => screenshots(),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("xtask: {message}");
            ExitCode::FAILURE
        }
    }
}

fn root() -> PathBuf {
    // OK because this package lies one folder below the root.
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().map(Path::to_owned).unwrap_or_default()
}

fn web() -> PathBuf {
    root().join("web")
}

/// Runs a program and fails when it does.
fn run(folder: &Path, program: &str, arguments: &[&str]) -> Done {
    run_with(folder, program, arguments, &[])
}

/// The same with something set in its environment.
fn run_with(folder: &Path, program: &str, arguments: &[&str], set: &[(&str, &str)]) -> Done {
    eprintln!("$ {program} {}", arguments.join(" "));
    let mut command = Command::new(program);
    command.args(arguments).envs(set.iter().copied()).current_dir(folder);
    // What cargo tells this program of itself would have others compiled anew whose builds heed it.
    for (name, _) in std::env::vars_os() {
        if name.to_str().is_some_and(|name| name.starts_with("CARGO_PKG_") || name.starts_with("CARGO_MANIFEST_")) {
            command.env_remove(name);
        }
    }
    match command.status() {
        Ok(status) if status.success() => Ok(()),
        Ok(status) => Err(format!("{program} {} ended with {status}", arguments.join(" "))),
        Err(error) => Err(format!("{program} cannot be run: {error}")),
    }
}

/// Runs a tool that the pages have brought along.
fn run_of_pages(tool: &str, arguments: &[&str]) -> Done {
    let program = web().join("node_modules/.bin").join(tool);
    run(&web(), program.to_str().ok_or("the path of this checkout is not UTF-8")?, arguments)
}

fn pages() -> Done {
    setup::make()?;
    setup::node_packages(&web())?;
    run_of_pages("vite", &["build"])
}

/// The helpers of the pages, bundled for the test that asks them.
fn helpers() -> Done {
    run_of_pages("vite", &["build", "--config", "vite.tests.config.ts"])
}

fn program() -> Done {
    pages()?;
    run(&root(), "cargo", &["build", "--release", "--package", "ratiomet"])
}

/// What the compiler makes programs for, where nobody says it. Named, it keeps flags out of what only compiles.
fn host() -> Result<String, String> {
    let told = Command::new("rustc").arg("-vV").output().map_err(|error| format!("rustc: {error}"))?;
    let told = String::from_utf8_lossy(&told.stdout).into_owned();
    let host = told.lines().find_map(|line| line.strip_prefix("host: "));
    host.map(str::to_owned).ok_or_else(|| "rustc does not name its host".to_owned())
}

/// The program needs nothing of the machine that it is installed on, the C library neither.
fn package() -> Done {
    pages()?;
    let host = host()?;
    let build = ["build", "--release", "--locked", "--package", "ratiomet", "--target", &host];
    run_with(&root(), "cargo", &build, &[("RUSTFLAGS", "-Ctarget-feature=+crt-static")])?;
    run(&root(), "packaging/deb.sh", &[&format!("target/{host}/release/ratiomet"), "target/package"])
}

fn demo(arguments: &[String]) -> Done {
    program()?;
    let data = root().join("target/demo");
    fs::create_dir_all(&data).map_err(|error| format!("{} cannot be made: {error}", data.display()))?;
    let data = data.join("kiln.db");
    let data = data.to_str().ok_or("the path of this checkout is not UTF-8")?;
    let mut all = vec!["demo", "--data", data];
    all.extend(arguments.iter().map(String::as_str));
    let program = root().join("target/release/ratiomet");
    run(&root(), program.to_str().ok_or("the path of this checkout is not UTF-8")?, &all)
}

/// What lints a crate compiles it too, so that nothing is compiled for one and then for the other. Warnings are denied as
/// `cargo clippy -- --deny warnings` says it.
const LINTING: [(&str, &str); 2] = [
    ("RUSTC_WORKSPACE_WRAPPER", "clippy-driver"),
    ("CLIPPY_ARGS", "--deny__CLIPPY_HACKERY__warnings__CLIPPY_HACKERY__"),
];

fn linting(arguments: &[&str]) -> Done {
    run_with(&root(), "cargo", arguments, &LINTING)
}

fn test() -> Done {
    run(&root(), "cargo", &["fmt", "--all", "--check"])?;
    pages()?;
    // What else there is to do is done while the rest is compiled.
    std::thread::scope(|scope| {
        let others = [
            scope.spawn(|| setup::programs().and_then(|()| setup::reference_libraries(&root()))),
            scope.spawn(pages_typed),
            scope.spawn(|| run_of_pages("biome", &["check", "--error-on-warnings", "."]).and_then(|()| helpers())),
        ];
        // All targets would be the libraries once more, for tests that they do not have.
        linting(&["test", "--workspace", "--tests", "--benches", "--locked", "--no-run"])?;
        others.into_iter().try_for_each(|other| other.join().map_err(|_| "a check broke off".to_owned())?)
    })?;
    // Much of a test is waiting for a browser or another program.
    let threads = std::thread::available_parallelism().map_or(2, |cores| 2 * cores.get()).to_string();
    linting(&["test", "--workspace", "--locked", "--", "--test-threads", &threads])
}

/// The types of the pages, and those of the API in them.
fn pages_typed() -> Done {
    check_types()?;
    // What it knows of files that have not changed is kept.
    run_of_pages("tsc", &["--noEmit", "--incremental", "--tsBuildInfoFile", "node_modules/.tsc"])
}

/// The readers that are fuzzed: the binaries of `fuzz/`.
const READERS: [&str; 5] = ["headers", "stills", "lists", "documents", "questions"];
/// What puts counters into every branch, as libFuzzer reads them; the stable compiler takes it.
const COUNTERS: &str = "-Cpasses=sancov-module -Ccodegen-units=1 -Cllvm-args=-sanitizer-coverage-level=4 \
     -Cllvm-args=-sanitizer-coverage-inline-8bit-counters -Cllvm-args=-sanitizer-coverage-pc-table \
     -Cllvm-args=-sanitizer-coverage-trace-compares";

/// What it has learned stays in `target/fuzz/READER`, where files to begin with may be put; what it finds is written
/// beside that and ends the run.
fn fuzz(seconds: u32) -> Done {
    let (folder, target) = (root().join("fuzz"), root().join("target/fuzz"));
    let host = host()?;
    let build = Command::new("cargo")
        .args(["build", "--release", "--target", &host])
        .current_dir(&folder)
        .env("RUSTFLAGS", COUNTERS)
        .env("CARGO_TARGET_DIR", target.join("build"))
        .status();
    if !build.map_err(|error| format!("cargo: {error}"))?.success() {
        return Err("the fuzzers were not built: libFuzzer needs a C++ compiler".to_owned());
    }
    for reader in READERS {
        let learned = target.join(reader);
        fs::create_dir_all(&learned).map_err(|error| format!("{}: {error}", learned.display()))?;
        let program = target.join("build").join(&host).join("release").join(reader);
        let [program, learned] = [&program, &learned].map(|path| path.to_string_lossy().into_owned());
        let bounds = [format!("-max_total_time={seconds}"), format!("-artifact_prefix={learned}-")];
        let limits = ["-timeout=10", "-rss_limit_mb=2048", "-max_len=131072"];
        let arguments: Vec<&str> =
            std::iter::once(learned.as_str()).chain(bounds.iter().map(String::as_str)).chain(limits).collect();
        run(&target, &program, &arguments)?;
    }
    Ok(())
}

const TYPES: &str = "src/api/schema.d.ts";

/// The committed API types are those of the committed API document. That the document is the
/// program's own is a test of the service.
fn check_types() -> Done {
    let made = "node_modules/.schema.d.ts";
    run_of_pages("openapi-typescript", &["openapi.json", "--output", made])?;
    let read = |file: &str| {
        let path = web().join(file);
        fs::read_to_string(&path).map_err(|error| format!("{} cannot be read: {error}", path.display()))
    };
    if read(made)? == read(TYPES)? {
        Ok(())
    } else {
        Err(format!("web/{TYPES} is not made from web/openapi.json; run: cargo xtask types"))
    }
}

fn types() -> Done {
    setup::make()?;
    setup::node_packages(&web())?;
    let printed = Command::new("cargo")
        .args(["run", "--quiet", "--package", "ratiomet", "--", "openapi"])
        .current_dir(root())
        .output()
        .map_err(|error| format!("cargo cannot be run: {error}"))?;
    if !printed.status.success() {
        return Err(String::from_utf8_lossy(&printed.stderr).into_owned());
    }
    fs::write(web().join("openapi.json"), printed.stdout).map_err(|error| error.to_string())?;
    run_of_pages("openapi-typescript", &["openapi.json", "--output", TYPES])
}

fn screenshots() -> Done {
    setup::programs()?;
    pages()?;
    run(
        &root(),
        "cargo",
        &[
            "test",
            "--package",
            "ratiomet",
            "--test",
            "it",
            "--",
            "--ignored",
            "--exact",
            "screenshots::of_the_main_views",
        ],
    )
}
