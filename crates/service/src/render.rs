//! `ratiomet render`: a conversion carried out on a still, or a view, a turn or a placement on a sphere.

use std::fs;
use std::path::Path;
use std::process::ExitCode;
use std::time::Instant;

use ratiomet_core::Plan;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::resampling::Resampling;
use ratiomet_core::sphere::{Span, SphereLevel};
use ratiomet_picture::{Still, carry, limits, sphere};
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
        // Two files may be read.
        let name = format!("{stage}_ms");
        let before = self.stages.get(&name).and_then(serde_json::Value::as_f64).unwrap_or_default();
        self.stages.insert(name, (((before + milliseconds) * 1000.0).round() / 1000.0).into());
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

/// A still out of a file.
fn opened(file: &Path, stages: &mut Times) -> Result<Still, String> {
    stages.since = Instant::now();
    let bytes = bytes_of(file)?;
    stages.ended("read");
    let picture = Still::read(&bytes).map_err(|problem| format!("{}: {problem}", file.display()))?;
    stages.ended("decode");
    Ok(picture)
}

/// What is carried out on which files.
pub struct Order<'a> {
    /// The request, or @ and the file that it stands in.
    pub request: &'a str,
    /// The still.
    pub still: &'a Path,
    /// The sphere that a flat picture is put onto.
    pub onto: Option<&'a Path>,
    /// Where the outcome goes.
    pub out: &'a Path,
}

/// Carries a request out; the error is a sentence for the person who typed it.
pub fn run(order: &Order<'_>, how: &Resampling, times: bool) -> Result<ExitCode, String> {
    let Order { request, still, onto, out } = *order;
    let request = match request.strip_prefix('@') {
        Some(file) => fs::read(file).map_err(|error| format!("{file} cannot be read: {error}"))?,
        None => request.as_bytes().to_vec(),
    };
    let asked = calc::asked(&request).map_err(|problem| format!("the request is refused: {}", sentence(&problem)))?;
    let float = match out.extension().and_then(|ending| ending.to_str()).map(str::to_ascii_lowercase).as_deref() {
        Some("png") => false,
        Some("exr") => true,
        _ => return Err(format!("{} must end in .png or .exr", out.display())),
    };
    match (&asked, onto) {
        (Calculation::SpherePlace(_), None) => {
            return Err("sphere_place needs the sphere that the picture is put onto: --onto SPHERE".to_owned());
        }
        (Calculation::SpherePlace(_), Some(_)) | (_, None) => {}
        (_, Some(_)) => return Err("--onto goes with sphere_place alone".to_owned()),
    }
    let mut stages = Times::new();
    let picture = opened(still, &mut stages)?;
    let named = |problem: ratiomet_picture::Problem| format!("{}: {problem}", still.display());
    let on_sphere = sphere::How { filter: how.filter, light: how.light };
    let outcome = match asked {
        Calculation::Conversion(source, frame, framing, _) => {
            stages.since = Instant::now();
            carry::out(&picture, &source, &frame, &Plan::of(&source, &frame, &framing), how).map_err(named)?
        }
        Calculation::SphereView(request) => {
            sphere::goes_with(&picture, "eye", [request.eye.width(), request.eye.height()]).map_err(named)?;
            let matrix = request.orientation().matrix();
            let look = sphere::Look { raster: request.view, fov: request.fov, matrix };
            stages.since = Instant::now();
            sphere::view(&picture, &request.span, &look, on_sphere).map_err(named)?
        }
        Calculation::SphereLevel(request) => {
            let level = SphereLevel::of(&request).map_err(|error| format!("the request is refused: {error}"))?;
            stages.since = Instant::now();
            sphere::turned(&picture, &Span::FULL, &level.matrix, on_sphere).map_err(named)?
        }
        Calculation::SpherePlace(request) => {
            let onto = onto.ok_or_else(|| "sphere_place needs --onto SPHERE".to_owned())?;
            let ground = opened(onto, &mut stages)?;
            stages.since = Instant::now();
            sphere::placed(&ground, &picture, &request, on_sphere).map_err(|problem| problem.to_string())?
        }
        _ => {
            return Err(
                "the request is refused: /kind: Must be conversion, sphere_view, sphere_level or sphere_place."
                    .to_owned(),
            );
        }
    };
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
