//! Requests made from the API's own description, right ones and wrong ones: each is answered as the description says.
//! They are made by schemathesis, from PyPI.

use std::path::Path;
use std::process::Command;

use crate::support::Server;

/// How many for each operation; `RATIOMET_FUZZED` asks for more.
const EXAMPLES: u32 = 2;

fn asked<T: std::str::FromStr>(name: &str, usual: T) -> T {
    std::env::var(name).ok().and_then(|text| text.parse().ok()).unwrap_or(usual)
}

#[test]
fn requests_made_from_the_description_are_answered_as_it_says() {
    let server = Server::demo();
    let folder = tempfile::tempdir().expect("a folder");
    let target = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target");
    let (examples, seed) = (asked("RATIOMET_FUZZED", EXAMPLES), asked("RATIOMET_SEED", 2_u32));
    println!("{examples} for each operation, RATIOMET_SEED={seed}");
    let output = Command::new("python3")
        .args(["-m", "schemathesis.cli", "run"])
        .arg(format!("{}/api/v1/openapi.json", server.url()))
        .args(["--max-examples", &examples.to_string(), "--seed", &seed.to_string()])
        .args(["--phases", "fuzzing", "--checks", "all", "--workers", "1", "--no-shrink", "--continue-on-failure"])
        // A schema cannot say everything: that a version is an old one, or that bars leave no picture.
        .args(["--exclude-checks", "positive_data_acceptance", "--warnings", "off"])
        // What is listened to has no end.
        .args(["--exclude-path", "/api/v1/events"])
        .args(["--generation-database", "none"])
        .env("PYTHONPATH", target.join("python"))
        // Its tables of characters are made once.
        .env("HYPOTHESIS_STORAGE_DIRECTORY", target.join("hypothesis"))
        // It leaves what it has learned where it stands.
        .current_dir(folder.path())
        .output()
        .expect("python3 runs");
    let said = String::from_utf8_lossy(&output.stdout);
    let failed = said.lines().filter(|line| !line.trim().is_empty()).take(200).collect::<Vec<_>>().join("\n");
    assert!(
        output.status.success(),
        "{failed}\n{}\n(cargo xtask test installs the libraries into target/python)",
        String::from_utf8_lossy(&output.stderr)
    );
    assert!(said.contains("Tested: ") && said.contains("passed"), "{failed}");
}
