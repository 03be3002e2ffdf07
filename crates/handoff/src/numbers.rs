//! Every number, as CSV for spreadsheets and as JSON for programs.

use std::io::{self, BufWriter, Write};

use ratiomet_core::Exact;
use ratiomet_core::file::FileSpec;
use ratiomet_core::project::{Deliverable, Package, Packaged, Point, Standing};
use ratiomet_core::resampling::Resampling;
use ratiomet_core::space::{Axes, Axis, Rect};
use ratiomet_exchange::list::neutral;
use ratiomet_wire::calc::{ConversionResult, RecipeResult, TypingResult};
use ratiomet_wire::describe::Values;
use ratiomet_wire::file::{FileShape, FileWeightResult};
use ratiomet_wire::names::{FrameValues, HouseProfileValues, ResamplingValues, SourceValues};
use serde::Serialize;
use serde_json::value::to_raw_value;
use utoipa::ToSchema;

use crate::progress::{Progress, told};
use crate::script;
use crate::signalling::{self, PictureSignals, Signals};
use crate::spherical;

/// A number with as many digits as matter to whoever types it.
fn typed(value: &Exact) -> String {
    value.to_short_decimal(6)
}

const HEADINGS: [&str; 48] = [
    "source",
    "frame",
    "method",
    "zoom",
    "shift x",
    "shift y",
    "stored width",
    "stored height",
    "delivery width",
    "delivery height",
    "native % x",
    "native % y",
    "over fit x",
    "over fit y",
    "over fill x",
    "over fill y",
    "uncorrected x",
    "uncorrected y",
    "centre offset x",
    "centre offset y",
    "top left x",
    "top left y",
    "scale x",
    "scale y",
    "image x",
    "image y",
    "image width",
    "image height",
    "window x",
    "window y",
    "window width",
    "window height",
    "kept",
    "covered",
    "bar left",
    "bar top",
    "bar right",
    "bar bottom",
    "distortion",
    "reserve x",
    "reserve y",
    "findings",
    "accepted",
    "filter",
    "resampling",
    "to type",
    "file",
    "file bytes",
];

/// A row for each conversion (RFC 4180, UTF-8, headings first). Units: pixels of the space that the
/// heading names, percent where it says so, factors otherwise.
pub(crate) fn conversions_csv(package: &Package, progress: Progress<'_>, out: &mut dyn Write) -> io::Result<()> {
    package.each(|packaged| row(package, packaged), |rows| table(out, &HEADINGS, told(progress, rows)))
}

/// A table with headings (RFC 4180); no cell of it is one that a spreadsheet runs.
fn table(out: &mut dyn Write, headings: &[&str], rows: impl Iterator<Item = Vec<String>>) -> io::Result<()> {
    let mut writer = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(out);
    writer.write_record(headings)?;
    for cells in rows {
        writer.write_record(cells.iter().map(|cell| neutral(cell)))?;
    }
    writer.flush()
}

fn row(package: &Package, packaged: &Packaged) -> Vec<String> {
    let (source, frame) = (package.source_of(packaged), package.frame_of(packaged));
    let (plan, framing) = (&packaged.conversion.plan, &packaged.conversion.framing);
    let stored = source.geometry.raster();
    let raster = frame.geometry.frame().raster();
    fn axes<U>(axes: &Axes<U>) -> [String; 2] {
        [typed(&axes.x), typed(&axes.y)]
    }
    fn rect<S>(rect: &Rect<S>) -> [String; 4] {
        [typed(&rect.x), typed(&rect.y), typed(&rect.size.width), typed(&rect.size.height)]
    }
    let mut cells = vec![source.name.as_str().to_owned(), frame.name.as_str().to_owned()];
    cells.push(framing.method.word().to_owned());
    let placed = &packaged.conversion.placed;
    cells.push(typed(placed.zoom.value()));
    cells.extend([typed(placed.shift_x.value()), typed(placed.shift_y.value())]);
    cells.extend([stored.width(), stored.height(), raster.width(), raster.height()].map(|side| side.to_string()));
    let typed_in = &plan.dial.cut;
    cells.extend(axes(&plan.dial.native_percent));
    cells.extend(
        [axes(&typed_in.sizes.over_fit), axes(&typed_in.sizes.over_fill), axes(&typed_in.uncorrected)].concat(),
    );
    cells.extend([axes(&typed_in.centre_offset), axes(&typed_in.top_left)].concat());
    cells.extend(axes(&plan.scale));
    cells.extend(rect(&plan.image));
    cells.extend(plan.window.as_ref().map_or_else(|| [const { String::new() }; 4], rect));
    cells.extend([typed(&plan.kept), typed(&plan.covered)]);
    cells.extend([&plan.bars.left, &plan.bars.top, &plan.bars.right, &plan.bars.bottom].map(typed));
    cells.push(typed(&plan.distortion));
    cells.extend(axes(&plan.reserve));
    let of = |accepted: bool| {
        let mine = packaged.findings.iter().filter(|finding| finding.accepted.is_some() == accepted);
        mine.map(|finding| format!("{}: {}", finding.severity.word(), finding.message)).collect::<Vec<_>>().join(" | ")
    };
    cells.extend([of(false), of(true)]);
    let filter = script::filter_of(packaged);
    let sphere = spherical::before(package, packaged, filter);
    cells.push(match (package.recipe(packaged), sphere) {
        (Ok(recipe), Ok(sphere)) => sphere.then(&recipe.filter_by(filter)),
        (Err(why), _) => format!("none: {why}"),
        (_, Err(why)) => format!("none: {why}"),
    });
    cells.push(packaged.conversion.taken.as_ref().map_or_else(String::new, Resampling::words));
    let typed = crate::typed::lines(package, packaged);
    cells.push(typed.into_iter().map(|(name, text)| format!("{name}: {text}")).collect::<Vec<_>>().join(" | "));
    cells.push(frame.file.as_ref().map(FileSpec::words).unwrap_or_default());
    cells.push(package.weight_of(packaged).map(|weight| weight.bytes.to_string()).unwrap_or_default());
    cells
}

/// The signals of every frame as CSV.
pub(crate) fn signals_csv(package: &Package, out: &mut dyn Write) -> io::Result<()> {
    let headings = [
        "frame",
        "width",
        "height",
        "aspect_ratio_idc (H.264 Table E-1)",
        "pixel aspect (pasp)",
        "clean aperture width (clap)",
        "clean aperture height",
        "clean aperture right",
        "clean aperture down",
        "active format (ST 2016-1)",
        "bar left",
        "bar top",
        "bar right",
        "bar bottom",
        "left bar, last pixel",
        "top bar, last line",
        "right bar, first pixel",
        "bottom bar, first line",
        "H.264 level",
        "H.265 level",
    ];
    let row = |frame: &Deliverable| {
        let signals = signalling::of(frame);
        let mut cells = vec![signals.frame];
        cells.extend(signals.raster.map(|side| side.to_string()));
        cells.extend([signals.aspect_ratio_idc.to_string(), signals.pixel_aspect]);
        cells.extend(signals.clean_aperture);
        let picture = signals.picture;
        cells.push(picture.active_format.unwrap_or_default().to_owned());
        cells.extend(picture.bars.map_or_else(|| [const { String::new() }; 4], |bars| bars.map(|bar| bar.to_string())));
        let data = picture.bar_data.unwrap_or_default();
        cells.extend(data.map(|edge| edge.map(|edge| edge.to_string()).unwrap_or_default()));
        cells.extend([signals.h264_level, signals.h265_level].map(Option::unwrap_or_default));
        cells
    };
    table(out, &headings, package.frames.iter().map(|(_, frame)| row(frame)))
}

/// All numbers of a hand-off, exact.
#[derive(Serialize, ToSchema)]
#[schema(as = HandoffNumbers)]
pub struct Everything<'a> {
    format: &'static str,
    format_version: u32,
    project: &'a str,
    day: &'a str,
    sources: Vec<SourceValues>,
    frames: Vec<FrameEntry>,
    points: Vec<PointEntry<'a>>,
    profile: HouseProfileValues,
    /// Made one by one while they are written: all at once would fill the memory.
    #[serde(serialize_with = "entries")]
    #[schema(value_type = Vec<Entry>)]
    conversions: (&'a Package<'a>, Progress<'a>),
}

fn entries<S: serde::Serializer>(of: &(&Package, Progress<'_>), serializer: S) -> Result<S::Ok, S::Error> {
    let (package, progress) = *of;
    let raw = |packaged: &Packaged| to_raw_value(&entry(package, packaged)).expect("plain data with text keys");
    package.each(raw, |all| serializer.collect_seq(told(progress, all)))
}

fn entry<'a>(package: &'a Package<'a>, packaged: &'a Packaged) -> Entry<'a> {
    Entry {
        source: package.source_of(packaged).name.as_str(),
        frame: package.frame_of(packaged).name.as_str(),
        method: packaged.conversion.framing.method.word(),
        taken: packaged.conversion.taken.clone().map(Values),
        plan: ConversionResult::of(packaged.conversion.plan.clone(), &packaged.conversion.findings),
        recipe: package.recipe(packaged).ok().map(|recipe| recipe.clone().into()),
        sphere: spherical::before(package, packaged, script::filter_of(packaged))
            .ok()
            .map(|before| before.filters)
            .filter(|filter| !filter.is_empty()),
        findings: packaged.findings.iter().map(Into::into).collect(),
        typing: TypingResult::of(package.to_type(packaged), packaged.conversion.plan.reserve.clone()),
        picture: own_bars(package, packaged),
        weight: package.weight_of(packaged).map(Into::into),
    }
}

/// A point that stands open, by its cause, or that was accepted.
#[derive(Serialize, ToSchema)]
#[schema(as = HandoffPoint)]
struct PointEntry<'a> {
    code: &'static str,
    severity: &'static str,
    title: &'a str,
    detail: &'a str,
    sources: Vec<&'a str>,
    frames: Vec<&'a str>,
    conversions: usize,
    accepted: Option<&'a str>,
}

fn point<'a>(package: &'a Package, point: &'a Point) -> PointEntry<'a> {
    let [sources, frames] = package.affected_by(point);
    PointEntry {
        code: point.code,
        severity: point.severity.word(),
        title: &point.title,
        detail: &point.detail,
        sources,
        frames,
        conversions: point.affected.len(),
        accepted: point.reason(),
    }
}

/// What stands open, by its cause, as CSV.
pub(crate) fn points_csv(package: &Package, out: &mut dyn Write) -> io::Result<()> {
    let headings = ["severity", "point", "meaning", "conversions", "sources", "frames", "accepted"];
    let row = |each: &Point| {
        let PointEntry { severity, title, detail, sources, frames, conversions, accepted, .. } = point(package, each);
        let texts = [severity, title, detail].map(str::to_owned);
        let rest =
            [conversions.to_string(), sources.join(", "), frames.join(", "), accepted.unwrap_or_default().to_owned()];
        [&texts[..], &rest[..]].concat()
    };
    table(out, &headings, package.points.iter().map(row))
}

/// A frame, with what its stream signals and what its file amounts to.
#[derive(Serialize, ToSchema)]
#[schema(as = HandoffFrame)]
struct FrameEntry {
    values: FrameValues,
    signals: Signals,
    /// What its file amounts to, where somebody has said how it is made.
    file: Option<FileShape>,
}

/// One source in one frame.
#[derive(Serialize, ToSchema)]
#[schema(as = HandoffConversion)]
struct Entry<'a> {
    source: &'a str,
    frame: &'a str,
    method: &'static str,
    /// How its samples are worked out, if somebody has decided.
    taken: Option<ResamplingValues>,
    plan: ConversionResult,
    recipe: Option<RecipeResult>,
    /// Filters of ffmpeg that stand before the recipe: a view out of a sphere, or a sphere turned. Null where there are none.
    sphere: Option<String>,
    findings: Vec<Judged<'a>>,
    typing: TypingResult,
    /// What its picture signals, where bars of its own show.
    picture: Option<PictureSignals>,
    /// What its file weighs, where the frame says how it is made and the source how long it is.
    weight: Option<FileWeightResult>,
}

/// The signals of a picture that does not fill its area, in whole pixels.
fn own_bars(package: &Package, packaged: &Packaged) -> Option<PictureSignals> {
    let plan = &packaged.conversion.plan;
    let area = plan.picture_area.rect();
    let seen = plan.image.intersection(&area)?;
    let whole = |side: &Exact| u32::try_from((side + Exact::fraction(1, 2)).floor_whole()).unwrap_or(0);
    let (left, top) = (whole(&seen.x), whole(&seen.y));
    let (right, bottom) = (whole(&seen.end(Axis::X)), whole(&seen.end(Axis::Y)));
    let sides = [left, top, right.saturating_sub(left), bottom.saturating_sub(top)];
    (seen != area).then(|| signalling::of_picture(package.frame_of(packaged), sides))
}

/// A finding, and why it may stay where it was accepted.
#[derive(Serialize, ToSchema)]
#[schema(as = HandoffFinding)]
struct Judged<'a> {
    code: &'static str,
    severity: &'static str,
    message: &'a str,
    accepted: Option<&'a str>,
}

impl<'a> From<&'a Standing> for Judged<'a> {
    fn from(standing: &'a Standing) -> Self {
        Self {
            code: standing.code,
            severity: standing.severity.word(),
            message: &standing.message,
            accepted: standing.accepted.as_deref(),
        }
    }
}

/// Everything, exact, as JSON.
pub(crate) fn json(package: &Package, progress: Progress<'_>, out: &mut dyn Write) -> io::Result<()> {
    let everything = Everything {
        format: "ratiomet hand-off",
        format_version: 1,
        project: &package.project,
        day: &package.day,
        sources: package.sources.iter().map(|(_, source)| Values((*source).clone())).collect(),
        frames: package
            .frames
            .iter()
            .map(|(_, frame)| FrameEntry {
                values: Values((*frame).clone()),
                signals: signalling::of(frame),
                file: FileShape::of(frame),
            })
            .collect(),
        points: package.points.iter().map(|each| point(package, each)).collect(),
        profile: Values(package.profile.clone()),
        conversions: (package, progress),
    };
    let mut out = BufWriter::with_capacity(1 << 16, out);
    serde_json::to_writer(&mut out, &everything)?;
    out.flush()
}
