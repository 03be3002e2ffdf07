//! One archive of everything: the same package gives the same bytes.

use std::borrow::Cow;
use std::collections::HashMap;
use std::io::{self, Seek, Write};

use base64::Engine;
use ratiomet_core::project::{Package, Packaged};
use ratiomet_exchange::{fdl, otio};
use serde::Serialize;
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, DateTime, ZipWriter};

use crate::charts::{Chart, Charts};
use crate::drawing::Drawing;
use crate::format::Format;
use crate::names::safe;
use crate::outcomes::Outcomes;
use crate::progress::{Progress, told};
use crate::spherical::Overlay;
use crate::{numbers, pdf, png, script, sheet, svg};

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

/// What is handed over: of which package, in which formats, with whose outcomes.
pub struct Order<'a> {
    /// What is computed.
    pub package: &'a Package<'a>,
    /// What is asked for.
    pub formats: &'a [Format],
    /// What carries conversions out.
    pub outcomes: &'a dyn Outcomes,
    /// Whether plan sheets and charts show what comes out.
    pub pictures: bool,
}

impl Order<'_> {
    fn wants(&self, format: Format) -> bool {
        self.formats.contains(&format)
    }

    fn charts(&self) -> Charts<'_> {
        Charts { package: self.package, pictures: self.pictures.then_some(self.outcomes) }
    }

    /// The conversions with the path of the outcome of each.
    fn outcomes(&self) -> impl Iterator<Item = (String, Cow<'_, Packaged>)> {
        let paths = script::outcomes(self.package).map(|name| format!("outcomes/{name}.png"));
        paths.zip(self.package.conversions())
    }

    /// Whether sheets of all of it can be drawn.
    const fn has_sheets(&self) -> bool {
        self.package.count() <= sheet::MOST
    }

    /// What is asked for and would not be written; less of it where the work was stopped.
    pub fn left_out(&self, progress: Progress<'_>) -> Vec<LeftOut> {
        let mut left_out = Vec::new();
        for (format, path) in [(Format::Html, "plan.html"), (Format::Pdf, "plan.pdf")] {
            if self.wants(format) && !self.has_sheets() {
                let (all, most) = (self.package.count(), sheet::MOST);
                let why = format!(
                    "sheets are drawn of at most {most} conversions, and these are {all}; choose fewer sources or frames"
                );
                left_out.push(LeftOut { path: path.to_owned(), why });
            }
        }
        if self.wants(Format::ChartsPng) {
            let charts = self.charts();
            left_out.extend(charts.all(progress).into_iter().filter_map(|(name, chart)| {
                let [width, height] = charts.size(chart);
                png::is_too_large([width, height]).then(|| LeftOut {
                    path: format!("charts/{name}.png"),
                    why: format!("{width}x{height} is too large for a picture; take the chart as SVG (charts_svg)"),
                })
            }));
        }
        if self.wants(Format::Outcomes) {
            left_out.extend(
                told(progress, self.outcomes())
                    .filter_map(|(path, packaged)| self.outcomes.lacks(&packaged).map(|why| LeftOut { path, why })),
            );
        }
        left_out
    }

    /// The paths of all that would be written; less of them where the work was stopped.
    pub fn paths(&self, progress: Progress<'_>) -> Vec<(String, Format)> {
        let mut paths = Vec::new();
        for format in Format::of(self.formats) {
            let mut add = |path: &str| paths.push((path.to_owned(), format));
            match format {
                Format::Html | Format::Pdf if !self.has_sheets() => {}
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
                    Overlay::all(self.package).iter().for_each(|overlay| add(&format!("recipes/{}", overlay.path())));
                }
                Format::Signals => add("signals.csv"),
                Format::ChartsSvg => {
                    self.charts().all(progress).iter().for_each(|(name, _)| add(&format!("charts/{name}.svg")));
                }
                Format::ChartsPng => {
                    self.charts().drawable(progress).iter().for_each(|(name, _)| add(&format!("charts/{name}.png")));
                }
                Format::Outcomes => told(progress, self.outcomes())
                    .filter(|(_, packaged)| self.outcomes.lacks(packaged).is_none())
                    .for_each(|(path, _)| add(&path)),
            }
        }
        paths
    }

    /// How many steps the work has, for a share that is done.
    pub fn steps(&self) -> usize {
        let charts = self.charts().count();
        let (conversions, sources) = (self.package.count(), self.package.sources.len());
        let pages = conversions.div_ceil(sheet::ON_A_PAGE).max(sources) + 1;
        let sheets = self.has_sheets() && (self.wants(Format::Html) || self.wants(Format::Pdf));
        let drawn = if sheets { sources } else { 0 };
        let pictured = if self.pictures && sheets { conversions } else { 0 };
        let of = |format: &Format| match format {
            // Which of them are alike is looked up in the conversions, and once more which are left out.
            Format::ChartsSvg => conversions + charts,
            Format::ChartsPng => 2 * conversions + charts,
            Format::Outcomes => 2 * conversions,
            Format::Pdf => pages,
            Format::Csv | Format::Json => conversions,
            Format::Recipes => conversions + sources,
            Format::Fdl => 2 * sources,
            Format::Otio => sources,
            _ => 1,
        };
        drawn + pictured + self.formats.iter().map(of).sum::<usize>()
    }

    /// Everything that was asked for, without the manifest.
    ///
    /// # Errors
    /// A sentence when something cannot be made; an empty one when the work was stopped.
    pub fn files(&self, progress: Progress<'_>) -> Result<Vec<Written>, String> {
        let mut files = Vec::new();
        self.make(progress, &mut |path, content| {
            let mut bytes = Vec::new();
            content(&mut bytes).map_err(|error| failed(&error))?;
            files.push(Written { path: path.to_owned(), bytes });
            Ok(())
        })?;
        Ok(files)
    }

    fn make(&self, progress: Progress<'_>, take: Take<'_>) -> Result<(), String> {
        let package = self.package;
        let go_on = || if progress() { Ok(()) } else { Err(String::new()) };
        let sheets = self.has_sheets() && (self.wants(Format::Html) || self.wants(Format::Pdf));
        let shown = |packaged: &Packaged| {
            if self.pictures && progress() { self.outcomes.small(packaged, sheet::SIDE) } else { None }
        };
        let pages = if sheets { sheet::pages(package, progress, &shown) } else { Vec::new() };
        go_on()?;
        let charts = self.charts();
        let drawable = if self.wants(Format::ChartsPng) { charts.drawable(progress) } else { Vec::new() };
        // What takes longest is made meanwhile; files are taken in their order all the same.
        std::thread::scope(|scope| {
            let mut pdf = (sheets && self.wants(Format::Pdf)).then(|| scope.spawn(|| pdf::file(&pages, progress)));
            let mut pictures = charts.begin(scope, &drawable, progress);
            for format in Format::of(self.formats) {
                match format {
                    Format::Html | Format::Pdf if !sheets => {}
                    Format::Html => take("plan.html", &|out| html(package, &pages, out))?,
                    Format::Pdf => whole(take, "plan.pdf", &joined(pdf.take())?)?,
                    Format::Csv => {
                        take("conversions.csv", &|out| numbers::conversions_csv(package, progress, out))?;
                        take("points.csv", &|out| numbers::points_csv(package, out))?;
                    }
                    Format::Json => take("conversions.json", &|out| numbers::json(package, progress, out))?,
                    Format::Fdl => take("framing.fdl", &|out| fdl::write(package, progress, out))?,
                    Format::Otio => take("sources.otio", &|out| otio::write(package, progress, out))?,
                    Format::Recipes => {
                        take("recipes/convert.sh", &|out| script::shell(package, progress, out))?;
                        take("recipes/list.tsv", &|out| script::list(package, progress, out))?;
                        for overlay in Overlay::all(package) {
                            let made = self.outcomes.overlay(overlay.sphere, overlay.stored);
                            let name = overlay.sphere.name.as_str();
                            let png = made.map_err(|why| format!("the pictures on {name}: {why}"))?;
                            whole(take, &format!("recipes/{}", overlay.path()), &png)?;
                            go_on()?;
                        }
                    }
                    Format::Signals => take("signals.csv", &|out| numbers::signals_csv(package, out))?,
                    Format::ChartsSvg => {
                        let mut known: HashMap<Chart, String> = HashMap::new();
                        for (name, chart) in charts.all(progress) {
                            let svg = known.entry(chart);
                            let svg = svg.or_insert_with(|| svg::document(&charts.drawn(chart)));
                            whole(take, &format!("charts/{name}.svg"), svg.as_bytes())?;
                            go_on()?;
                        }
                    }
                    Format::ChartsPng => {
                        for (name, chart) in &drawable {
                            whole(take, &format!("charts/{name}.png"), &pictures.take(*chart)?)?;
                        }
                    }
                    Format::Outcomes => {
                        for (path, packaged) in self.outcomes() {
                            if self.outcomes.lacks(&packaged).is_none() {
                                let png = self.outcomes.png(&packaged);
                                let png = png.map_err(|why| format!("{}: {why}", package.name_of(&packaged)))?;
                                whole(take, &path, &png)?;
                            }
                            go_on()?;
                        }
                    }
                }
                go_on()?;
            }
            Ok(())
        })
    }

    /// Writes the archive, a ZIP file with everything in a folder of the project's name.
    ///
    /// # Errors
    /// Those of [`Order::files`], and a sentence when it cannot be written.
    pub fn write(&self, progress: Progress<'_>, out: impl Write + Seek) -> Result<(), String> {
        let folder = safe(&self.package.project);
        let mut archive = ZipWriter::new(out);
        let mut pack = |path: &str, content: Content<'_>| {
            // Pictures are packed already.
            let packed = path.ends_with(".png") || path.ends_with(".pdf");
            let method = if packed { CompressionMethod::Stored } else { CompressionMethod::Deflated };
            let options = SimpleFileOptions::default()
                .compression_method(method)
                .compression_level((!packed).then_some(3))
                .last_modified_time(DateTime::default())
                .unix_permissions(0o644);
            archive.start_file(format!("{folder}/{path}"), options).map_err(|error| failed(&error))?;
            let mut weighed = Weighed { to: &mut archive, bytes: 0, hash: Sha256::new() };
            content(&mut weighed).map_err(|error| failed(&error))?;
            let sha256 = weighed.hash.finalize().iter().map(|byte| format!("{byte:02x}")).collect();
            Ok::<_, String>(ManifestFile { path: path.to_owned(), bytes: weighed.bytes, sha256 })
        };
        let mut listed = Vec::new();
        self.make(progress, &mut |path, content| {
            listed.push(pack(path, content)?);
            Ok(())
        })?;
        let manifest = manifest(self.package, listed, self.left_out(progress));
        pack("manifest.json", &|out| out.write_all(&manifest))?;
        archive.finish().and_then(|mut out| Ok(out.flush()?)).map_err(|error| failed(&error))
    }
}

/// Writes a file that is made.
type Content<'a> = &'a dyn Fn(&mut dyn Write) -> io::Result<()>;

/// Takes each file as soon as it is made.
type Take<'a> = &'a mut dyn FnMut(&str, Content<'_>) -> Result<(), String>;

fn failed(why: &dyn std::fmt::Display) -> String {
    format!("the archive cannot be made: {why}")
}

/// Hands over a file that is made already.
fn whole(take: Take<'_>, path: &str, bytes: &[u8]) -> Result<(), String> {
    take(path, &|out| out.write_all(bytes))
}

/// What a thread has made.
fn joined<T>(thread: Option<std::thread::ScopedJoinHandle<'_, Result<T, String>>>) -> Result<T, String> {
    let broken = || Err("a part of the hand-off cannot be made".to_owned());
    thread.map_or_else(broken, |thread| thread.join().unwrap_or_else(|_| broken()))
}

/// The sheets as one page that prints as pages; its fonts are inside.
fn html(package: &Package, pages: &[Drawing], out: &mut dyn Write) -> io::Result<()> {
    let title = svg::escaped(&package.project);
    writeln!(out, "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">")?;
    writeln!(out, "<title>{title}</title>\n<style>")?;
    for face in Drawing::faces(pages) {
        let (family, weight) = face.css();
        let (kind, bytes) = face.carried();
        let data = base64::engine::general_purpose::STANDARD.encode(bytes);
        let source = format!("url(data:{kind};base64,{data})");
        writeln!(out, "@font-face {{ font-family: \"{family}\"; font-weight: {weight}; src: {source}; }}")?;
    }
    out.write_all(
        b"@page { size: A4 landscape; margin: 0; }\nbody { margin: 0; background: #efebe1; }\n\
          svg { display: block; width: 297mm; height: 209.9mm; margin: 0 auto 6mm; background: #fff; }\n\
          @media print { svg { margin: 0; break-after: page; } body { background: none; } }\n</style>\n</head>\n<body>\n",
    )?;
    for page in pages {
        out.write_all(svg::document(page).as_bytes())?;
    }
    out.write_all(b"</body>\n</html>\n")
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
    let accepted = package.settled.iter().map(|settled| AcceptedStop {
        source: package.sources[settled.source].1.name.as_str(),
        frame: package.frames[settled.frame].1.name.as_str(),
        finding: &settled.message,
        reason: &settled.reason,
    });
    let manifest = Manifest {
        format: "ratiomet hand-off manifest",
        format_version: 1,
        project: &package.project,
        day: &package.day,
        sources: package.sources.iter().map(|(_, source)| source.name.as_str()).collect(),
        frames: package.frames.iter().map(|(_, frame)| frame.name.as_str()).collect(),
        open_stops: package.open_stops,
        accepted: accepted.collect(),
        files,
        left_out,
    };
    serde_json::to_vec_pretty(&manifest).expect("plain data with text keys")
}

/// Passes on what is written, and keeps its length and its hash.
struct Weighed<W> {
    to: W,
    bytes: usize,
    hash: Sha256,
}

impl<W: Write> Write for Weighed<W> {
    fn write(&mut self, part: &[u8]) -> io::Result<usize> {
        let taken = self.to.write(part)?;
        self.hash.update(&part[..taken]);
        self.bytes += taken;
        Ok(taken)
    }

    fn flush(&mut self) -> io::Result<()> {
        self.to.flush()
    }
}
