//! One archive of everything: the same package gives the same bytes.

use std::collections::{HashMap, HashSet};
use std::io::{Cursor, Write};

use base64::Engine;
use ratiomet_core::project::Package;
use ratiomet_exchange::{fdl, otio};
use ratiomet_wire::describe::words;
use serde::Serialize;
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, DateTime, ZipWriter};

use crate::drawing::Drawing;
use crate::names::{Names, safe};
use crate::{chart, numbers, pdf, png, script, sheet, svg};

/// What can be written.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Format {
    /// Plan sheets and a board as one page for browsers, which prints as pages.
    Html,
    /// The same as PDF.
    Pdf,
    /// Every number for spreadsheets.
    Csv,
    /// Every number for programs, exact.
    Json,
    /// ASC Framing Decision List.
    Fdl,
    /// OpenTimelineIO.
    Otio,
    /// Framing charts and leaders as SVG.
    ChartsSvg,
    /// The same as PNG at true size.
    ChartsPng,
    /// Recipes as a shell script and a list.
    Recipes,
    /// What streams are to signal.
    Signals,
}

impl Format {
    /// Every format.
    pub const ALL: [Self; 10] = [
        Self::Html,
        Self::Pdf,
        Self::Csv,
        Self::Json,
        Self::Fdl,
        Self::Otio,
        Self::ChartsSvg,
        Self::ChartsPng,
        Self::Recipes,
        Self::Signals,
    ];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Html => "html",
            Self::Pdf => "pdf",
            Self::Csv => "csv",
            Self::Json => "json",
            Self::Fdl => "fdl",
            Self::Otio => "otio",
            Self::ChartsSvg => "charts_svg",
            Self::ChartsPng => "charts_png",
            Self::Recipes => "recipes",
            Self::Signals => "signals",
        }
    }

    /// The formats that are asked for, in their order, each once.
    fn of(asked: &[Self]) -> impl Iterator<Item = Self> {
        Self::ALL.into_iter().filter(|format| asked.contains(format))
    }
}

words!(
    /// What can be written.
    "HandoffFormat" for Format, Format::ALL, Format::word
);

/// Is told of each step of the work; the work ends when it answers `false`.
pub type Progress<'a> = &'a (dyn Fn() -> bool + Sync);

/// A file of the archive.
#[derive(Debug)]
pub struct Written {
    /// Its path in the archive.
    pub path: String,
    /// Its bytes.
    pub bytes: Vec<u8>,
}

/// A file that is asked for and not written.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct LeftOut {
    /// The path that it would have.
    pub path: String,
    /// Why it is left out, and what stands in for it.
    pub why: String,
}

/// What is asked for and would not be written.
pub fn left_out(package: &Package, formats: &[Format]) -> Vec<LeftOut> {
    if !formats.contains(&Format::ChartsPng) {
        return Vec::new();
    }
    let left = |(name, chart): (String, Chart)| {
        let [width, height] = size(package, chart);
        png::is_too_large([width, height]).then(|| LeftOut {
            path: format!("charts/{name}.png"),
            why: format!("{width}x{height} is too large for a picture; take the chart as SVG (charts_svg)"),
        })
    };
    charts(package).into_iter().filter_map(left).collect()
}

/// The paths of all that would be written.
pub fn paths(package: &Package, formats: &[Format]) -> Vec<(String, Format)> {
    let mut paths = Vec::new();
    for format in Format::of(formats) {
        let mut add = |path: &str| paths.push((path.to_owned(), format));
        match format {
            Format::Html => add("plan.html"),
            Format::Pdf => add("plan.pdf"),
            Format::Csv => {
                add("conversions.csv");
                add("points.csv");
            }
            Format::Json => add("conversions.json"),
            Format::Fdl => add("framing.fdl"),
            Format::Otio => add("sources.otio"),
            Format::Recipes => {
                add("recipes/convert.sh");
                add("recipes/list.tsv");
            }
            Format::Signals => add("signals.csv"),
            Format::ChartsSvg | Format::ChartsPng => {
                let ending = if format == Format::ChartsSvg { "svg" } else { "png" };
                for (name, _) in drawable(package, format) {
                    add(&format!("charts/{name}.{ending}"));
                }
            }
        }
    }
    paths
}

/// A chart that is to be drawn: of a source, with how many are like it, or of a frame.
#[derive(Clone, Copy, PartialEq, Eq, Hash)]
enum Chart {
    Camera(usize, usize),
    Leader(usize),
    Overlay(usize),
}

/// The charts and their names: one for each source and two for each frame. Sources of the same geometry that are framed
/// alike have the same one, each under its own name.
fn charts(package: &Package) -> Vec<(String, Chart)> {
    let mut names = Names::default();
    let mut charts = Vec::new();
    let mut windows: Vec<String> = vec![String::new(); package.sources.len()];
    for packaged in &package.conversions {
        windows[packaged.source] += &format!("{:?}", packaged.conversion.plan.window);
    }
    let kinds: Vec<String> = package
        .sources
        .iter()
        .zip(windows)
        .map(|((_, footage), windows)| format!("{:?} {windows}", footage.geometry.source()))
        .collect();
    let mut groups: HashMap<&str, (usize, usize)> = HashMap::new();
    for (at, kind) in kinds.iter().enumerate() {
        groups.entry(kind.as_str()).or_insert((at, 0)).1 += 1;
    }
    for ((_, footage), kind) in package.sources.iter().zip(&kinds) {
        let (first, alike) = groups[kind.as_str()];
        charts.push((names.unique(&format!("camera {}", footage.name.as_str())), Chart::Camera(first, alike)));
    }
    for (at, (_, frame)) in package.frames.iter().enumerate() {
        charts.push((names.unique(&format!("leader {}", frame.name.as_str())), Chart::Leader(at)));
        charts.push((names.unique(&format!("overlay {}", frame.name.as_str())), Chart::Overlay(at)));
    }
    charts
}

/// The charts that can be written in a format.
fn drawable(package: &Package, format: Format) -> Vec<(String, Chart)> {
    let mut charts = charts(package);
    charts.retain(|(_, chart)| format == Format::ChartsSvg || !png::is_too_large(size(package, *chart)));
    charts
}

/// How large a chart is: as the raster that it is for.
fn size(package: &Package, chart: Chart) -> [u32; 2] {
    match chart {
        Chart::Camera(at, _) => {
            let raster = package.sources[at].1.geometry.raster();
            [raster.width(), raster.height()]
        }
        Chart::Leader(at) | Chart::Overlay(at) => {
            let raster = package.frames[at].1.geometry.frame().raster();
            [raster.width(), raster.height()]
        }
    }
}

fn drawn(package: &Package, chart: Chart) -> Drawing {
    match chart {
        Chart::Camera(at, alike) => chart::camera(package, at, alike),
        Chart::Leader(at) => chart::leader(package, &package.frames[at].1),
        Chart::Overlay(at) => chart::overlay(package, &package.frames[at].1),
    }
}

/// How many steps the work has, for a share that is done.
pub fn steps(package: &Package, formats: &[Format]) -> usize {
    let charts = charts(package).len();
    let pages = package.conversions.len().div_ceil(sheet::ON_A_PAGE).max(package.sources.len()) + 1;
    let of = |format: &Format| match format {
        Format::ChartsSvg | Format::ChartsPng => charts,
        Format::Pdf => pages,
        _ => 1,
    };
    formats.iter().map(of).sum()
}

/// Takes each file as soon as it is made.
type Take<'a> = &'a mut dyn FnMut(&str, Vec<u8>) -> Result<(), String>;

/// Everything that was asked for, without the manifest.
///
/// # Errors
/// A sentence when something cannot be made; an empty one when the work was stopped.
pub fn files(package: &Package, formats: &[Format], progress: Progress<'_>) -> Result<Vec<Written>, String> {
    let mut files = Vec::new();
    make(package, formats, progress, &mut |path, bytes| {
        files.push(Written { path: path.to_owned(), bytes });
        Ok(())
    })?;
    Ok(files)
}

fn make(package: &Package, formats: &[Format], progress: Progress<'_>, take: Take<'_>) -> Result<(), String> {
    let stopped = || String::new();
    let wants = |format| formats.contains(&format);
    let pages = if wants(Format::Html) || wants(Format::Pdf) { sheet::pages(package) } else { Vec::new() };
    let charts_png = if wants(Format::ChartsPng) { drawable(package, Format::ChartsPng) } else { Vec::new() };
    // What takes longest is made meanwhile; files are taken in their order all the same.
    std::thread::scope(|scope| {
        let mut pdf = wants(Format::Pdf).then(|| scope.spawn(|| pdf::file(&pages, progress)));
        let mut drawing = wants(Format::ChartsPng).then(|| scope.spawn(|| pictures(package, &charts_png, progress)));
        for format in Format::of(formats) {
            match format {
                Format::Html => take("plan.html", html(package, &pages))?,
                Format::Pdf => take("plan.pdf", joined(pdf.take())?)?,
                Format::Csv => {
                    take("conversions.csv", numbers::conversions_csv(package))?;
                    take("points.csv", numbers::points_csv(package))?;
                }
                Format::Json => take("conversions.json", numbers::json(package))?,
                Format::Fdl => take("framing.fdl", fdl::write(package))?,
                Format::Otio => take("sources.otio", otio::write(package))?,
                Format::Recipes => {
                    take("recipes/convert.sh", script::shell(package).into_bytes())?;
                    take("recipes/list.tsv", script::list(package).into_bytes())?;
                }
                Format::Signals => take("signals.csv", numbers::signals_csv(package))?,
                Format::ChartsSvg => {
                    let mut known: HashMap<Chart, String> = HashMap::new();
                    for (name, chart) in charts(package) {
                        let svg = known.entry(chart).or_insert_with(|| svg::document(&drawn(package, chart)));
                        take(&format!("charts/{name}.svg"), svg.clone().into_bytes())?;
                        if !progress() {
                            return Err(stopped());
                        }
                    }
                }
                Format::ChartsPng => {
                    let pictures = joined(drawing.take())?;
                    for (name, chart) in &charts_png {
                        take(&format!("charts/{name}.png"), pictures[chart].clone())?;
                    }
                }
            }
            if !progress() {
                return Err(stopped());
            }
        }
        Ok(())
    })
}

/// What a thread has made.
fn joined<T>(thread: Option<std::thread::ScopedJoinHandle<'_, Result<T, String>>>) -> Result<T, String> {
    let broken = || Err("a part of the hand-off cannot be made".to_owned());
    thread.map_or_else(broken, |thread| thread.join().unwrap_or_else(|_| broken()))
}

/// The charts as pictures, each drawn once, on as many threads as there are cores.
fn pictures(
    package: &Package,
    charts: &[(String, Chart)],
    progress: Progress<'_>,
) -> Result<HashMap<Chart, Vec<u8>>, String> {
    let mut each: Vec<Chart> = Vec::new();
    let mut seen = HashSet::new();
    each.extend(charts.iter().map(|(_, chart)| *chart).filter(|chart| seen.insert(*chart)));
    let threads = std::thread::available_parallelism().map_or(1, usize::from).min(each.len()).max(1);
    let each = &each;
    std::thread::scope(|scope| {
        let workers: Vec<_> = (0..threads)
            .map(|first| {
                scope.spawn(move || {
                    let mut mine = Vec::new();
                    for chart in each.iter().skip(first).step_by(threads) {
                        mine.push((*chart, png::file(&drawn(package, *chart))?));
                        if !progress() {
                            return Err(String::new());
                        }
                    }
                    Ok(mine)
                })
            })
            .collect();
        let joined = workers
            .into_iter()
            .map(|worker| worker.join().unwrap_or_else(|_| Err("a chart cannot be drawn".to_owned())));
        joined.collect::<Result<Vec<_>, String>>().map(|parts| parts.into_iter().flatten().collect())
    })
}

/// The sheets as one page that prints as pages; its fonts are inside.
fn html(package: &Package, pages: &[Drawing]) -> Vec<u8> {
    // About as long as it becomes: growing into it would take as much again.
    let shapes: usize = pages.iter().map(|page| page.items.len()).sum();
    let mut out = String::with_capacity((1 << 20) + shapes * 128);
    out += "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n";
    let title = svg::escaped(&package.project);
    out += &format!("<title>{title}</title>\n<style>\n");
    for face in Drawing::faces(pages) {
        let (family, weight) = face.css();
        let (kind, bytes) = face.carried();
        let data = base64::engine::general_purpose::STANDARD.encode(bytes);
        out += &format!(
            "@font-face {{ font-family: \"{family}\"; font-weight: {weight}; src: url(data:{kind};base64,{data}); }}\n"
        );
    }
    out += "@page { size: A4 landscape; margin: 0; }\nbody { margin: 0; background: #efebe1; }\n\
            svg { display: block; width: 297mm; height: 209.9mm; margin: 0 auto 6mm; background: #fff; }\n\
            @media print { svg { margin: 0; break-after: page; } body { background: none; } }\n</style>\n</head>\n<body>\n";
    for page in pages {
        out += &svg::document(page);
    }
    out += "</body>\n</html>\n";
    out.into_bytes()
}

/// What an archive holds.
#[derive(Serialize, ToSchema)]
#[schema(as = HandoffManifest)]
pub struct Manifest<'a> {
    format: &'static str,
    format_version: u32,
    project: &'a str,
    day: &'a str,
    sources: Vec<&'a str>,
    frames: Vec<&'a str>,
    open_stops: usize,
    accepted: Vec<AcceptedStop<'a>>,
    files: Vec<ManifestFile>,
    /// What was asked for and is not here, and why.
    left_out: Vec<LeftOut>,
}

/// A finding that was accepted.
#[derive(Serialize, ToSchema)]
#[schema(as = ManifestFinding)]
struct AcceptedStop<'a> {
    source: &'a str,
    frame: &'a str,
    finding: &'a str,
    reason: &'a str,
}

/// A file of the archive.
#[derive(Serialize, ToSchema)]
struct ManifestFile {
    path: String,
    bytes: usize,
    sha256: String,
}

fn manifest(package: &Package, files: Vec<ManifestFile>, left_out: Vec<LeftOut>) -> Vec<u8> {
    let accepted = package.conversions.iter().flat_map(|packaged| {
        packaged.findings.iter().filter_map(|finding| {
            Some(AcceptedStop {
                source: package.source_of(packaged).name.as_str(),
                frame: package.frame_of(packaged).name.as_str(),
                finding: &finding.message,
                reason: finding.accepted.as_deref()?,
            })
        })
    });
    let manifest = Manifest {
        format: "ratiomet hand-off manifest",
        format_version: 1,
        project: &package.project,
        day: &package.day,
        sources: package.sources.iter().map(|(_, source)| source.name.as_str()).collect(),
        frames: package.frames.iter().map(|(_, frame)| frame.name.as_str()).collect(),
        open_stops: package.conversions.iter().map(|packaged| packaged.stops().count()).sum(),
        accepted: accepted.collect(),
        files,
        left_out,
    };
    serde_json::to_vec_pretty(&manifest).expect("plain data with text keys")
}

/// The archive, a ZIP file with everything in a folder of the project's name.
///
/// # Errors
/// Those of [`files`].
pub fn write(package: &Package, formats: &[Format], progress: Progress<'_>) -> Result<Vec<u8>, String> {
    let folder = safe(&package.project);
    let failed = |why: &dyn std::fmt::Display| format!("the archive cannot be made: {why}");
    let mut archive = ZipWriter::new(Cursor::new(Vec::new()));
    let mut pack = |path: &str, bytes: &[u8]| {
        // Pictures are packed already.
        let packed = path.ends_with(".png") || path.ends_with(".pdf");
        let method = if packed { CompressionMethod::Stored } else { CompressionMethod::Deflated };
        let options = SimpleFileOptions::default()
            .compression_method(method)
            .compression_level((!packed).then_some(3))
            .last_modified_time(DateTime::default())
            .unix_permissions(0o644);
        archive.start_file(format!("{folder}/{path}"), options).map_err(|error| failed(&error))?;
        archive.write_all(bytes).map_err(|error| failed(&error))
    };
    let mut listed = Vec::new();
    make(package, formats, progress, &mut |path, bytes| {
        pack(path, &bytes)?;
        let sha256 = Sha256::digest(&bytes).iter().map(|byte| format!("{byte:02x}")).collect();
        listed.push(ManifestFile { path: path.to_owned(), bytes: bytes.len(), sha256 });
        Ok(())
    })?;
    pack("manifest.json", &manifest(package, listed, left_out(package, formats)))?;
    archive.finish().map(Cursor::into_inner).map_err(|error| failed(&error))
}
