//! `ratiomet render`: a conversion carried out on a still.

use std::fs;
use std::path::Path;
use std::process::ExitCode;
use std::time::Instant;

use ratiomet_core::Plan;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::resampling::Resampling;
use ratiomet_picture::carry;
use ratiomet_picture::{Still, limits};
use ratiomet_wire::calc;
use ratiomet_wire::problem::{FieldError, Problem};

use crate::whole_file;

/// How long a part of the work took.
struct Times {
    since: Instant,
    stages: serde_json::Map<String, serde_json::Value>,
}

impl Times {
    fn new() -> Self {
        Self { since: Instant::now(), stages: serde_json::Map::new() }
    }

    /// A stage has ended, and the next one begins.
    fn ended(&mut self, stage: &str) {
        let milliseconds = self.since.elapsed().as_secs_f64() * 1000.0;
        self.stages.insert(format!("{stage}_ms"), (((milliseconds * 1000.0).round()) / 1000.0).into());
        self.since = Instant::now();
    }
}

/// A refused request as a sentence: what is wrong in it, and where.
fn sentence(problem: &Problem) -> String {
    let named = |error: &FieldError| match error.pointer.as_str() {
        "" => error.detail.clone(),
        pointer => format!("{pointer}: {}", error.detail),
    };
    let fields: Vec<String> = problem.errors.iter().map(named).collect();
    if fields.is_empty() { problem.detail.clone() } else { fields.join("; ") }
}

/// Reads a file that is no larger than stills may be.
pub fn bytes_of(file: &Path) -> Result<Vec<u8>, String> {
    let failed = |error: std::io::Error| format!("{} cannot be read: {error}", file.display());
    let length = fs::metadata(file).map_err(failed)?;
    if !length.is_file() {
        return Err(format!("{} is no file", file.display()));
    }
    if length.len() > limits::MOST_BYTES {
        return Err(format!("{} has more than {} MB", file.display(), limits::MOST_BYTES >> 20));
    }
    fs::read(file).map_err(failed)
}

/// Carries a conversion out; the error is a sentence for the person who typed it.
pub fn run(request: &str, still: &Path, out: &Path, how: &Resampling, times: bool) -> Result<ExitCode, String> {
    let request = match request.strip_prefix('@') {
        Some(file) => fs::read(file).map_err(|error| format!("{file} cannot be read: {error}"))?,
        None => request.as_bytes().to_vec(),
    };
    let asked = calc::asked(&request).map_err(|problem| format!("the request is refused: {}", sentence(&problem)))?;
    let Calculation::Conversion(source, frame, framing, _) = asked else {
        return Err("the request is refused: /kind: Must be conversion.".to_owned());
    };
    let float = match out.extension().and_then(|ending| ending.to_str()).map(str::to_ascii_lowercase).as_deref() {
        Some("png") => false,
        Some("exr") => true,
        _ => return Err(format!("{} must end in .png or .exr", out.display())),
    };
    let mut stages = Times::new();
    let bytes = bytes_of(still)?;
    stages.ended("read");
    let named = |problem: ratiomet_picture::Problem| format!("{}: {problem}", still.display());
    let picture = Still::read(&bytes).map_err(named)?;
    stages.ended("decode");
    drop(bytes);
    stages.since = Instant::now();
    let outcome = carry::out(&picture, &source, &frame, &Plan::of(&source, &frame, &framing), how).map_err(named)?;
    stages.ended("resample");
    let failed = |problem: ratiomet_picture::Problem| format!("{} cannot be written: {problem}", out.display());
    whole_file::write(out, |file| {
        if float { outcome.write_exr(file) } else { outcome.write_png(file) }.map_err(failed)
    })?;
    stages.ended("encode");
    if outcome.is_float() && !float {
        eprintln!(
            "ratiomet: the still holds floats; PNG holds 16 bit, from 0 to 1 (name the outcome .exr to keep them)"
        );
    }
    if times {
        eprintln!("{}", serde_json::Value::Object(stages.stages));
    }
    Ok(ExitCode::SUCCESS)
}
