//! Recipes as a shell script and as a plain list.

use std::io::{self, Write};

use ratiomet_core::Exact;
use ratiomet_core::cadence::Intent;
use ratiomet_core::file::{Codec, Container};
use ratiomet_core::project::{Deliverable, Footage, Package, Packaged};
use ratiomet_core::recipe::{Chroma, Recipe};
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::signal::{Projection, RangePlan, RatePlan, Scan, SignalRange};
use ratiomet_core::sphere::{Eyes, Layout};

use crate::coding;
use crate::names::Names;
use crate::progress::{Progress, told};
use crate::spherical::{self, Before};

/// A text as one word of a POSIX shell, whatever is in it. Lines are not broken: names have none, and
/// comments must not end early.
fn word(text: &str) -> String {
    let plain: String = text.chars().map(|each| if each.is_control() { ' ' } else { each }).collect();
    format!("'{}'", plain.replace('\'', r"'\''"))
}

/// The proposed name of a converted file, for each conversion in its order.
pub(crate) fn outcomes(package: &Package) -> impl Iterator<Item = String> {
    let mut names = Names::default();
    let pairs = package.sources.iter().flat_map(|source| package.frames.iter().map(move |frame| (source, frame)));
    pairs.map(move |((_, source), (_, frame))| {
        names.unique(&format!("{} {}", source.name.as_str(), frame.name.as_str()))
    })
}

/// A file that is made: of what, for what, and how its picture gets there.
struct Making<'a> {
    source: &'a Footage,
    frame: &'a Deliverable,
    recipe: &'a Recipe,
    resampling: Filter,
    /// What is done with a sphere before the geometry.
    sphere: Before,
}

impl Making<'_> {
    /// The whole chain of filters: the signal, then the geometry.
    fn filter(&self) -> String {
        let (recipe, filter) = (self.recipe, self.resampling);
        let geometry = if self.keeps_fields() { recipe.filter_of_fields(filter) } else { recipe.filter_by(filter) };
        self.signal_filter() + &self.sphere.then(&geometry)
    }

    /// What is done to the signal before the geometry: whole pictures out of fields, the code values of the frame
    /// where the source says so, and the frame's rate.
    fn signal_filter(&self) -> String {
        let Self { source, frame, .. } = self;
        let mut filter = String::new();
        if source.deinterlace && source.scan == Some(Scan::Interlaced) && frame.scan == Scan::Progressive {
            // A picture for each frame, all of them, whatever the file says of its fields.
            filter += "bwdif=mode=send_frame:deint=all,";
        }
        if let Some(range) = source.signal_range
            && source.range_plan == RangePlan::Convert
            && range != frame.signal_range
        {
            let (from, to) = (range_word(range), range_word(frame.signal_range));
            filter += &format!("scale=in_range={from}:out_range={to},");
        }
        filter + &rate_filter(source, frame)
    }

    /// Whether a picture of two fields goes into a frame that has them, at its rate: then they stay what they are, in
    /// the order that the file has.
    fn keeps_fields(&self) -> bool {
        self.source.scan == Some(Scan::Interlaced)
            && !self.source.deinterlace
            && self.frame.scan == Scan::Interlaced
            && !self.recipe.disturbs_fields()
            && rate_filter(self.source, self.frame).is_empty()
    }

    /// Which code values the outcome has: those of the frame where they are converted, else those of the source; what
    /// is not said stays as the file has it.
    fn range(&self) -> &'static str {
        match self.source.signal_range {
            Some(_) if self.source.range_plan == RangePlan::Convert => range_word(self.frame.signal_range),
            Some(range) => range_word(range),
            None => "unsaid",
        }
    }

    /// What the script is told of it, after its name.
    fn words(&self) -> String {
        let file = self.frame.file.as_ref();
        let sound = match file {
            _ if !keeps_sound(self.source, self.frame) => "none".to_owned(),
            Some(file) => coding::sound(&file.parts().sound),
            None => "copy".to_owned(),
        };
        let marked = file.is_none_or(|file| coding::marks_fields(file.parts().codec));
        let scan = if self.keeps_fields() && marked { "fields" } else { "frames" };
        let (ending, picture) = match file {
            Some(file) => (file.parts().container.word(), coding::picture(file)),
            None => ("as_set", "as_set".to_owned()),
        };
        let [filter, sound, picture] = [&self.filter(), &sound, &picture].map(|text| word(text));
        format!("{filter} {} {scan} {ending} {picture} {sound}", self.range())
    }
}

/// How a conversion is made straight from its source.
///
/// # Errors
/// Why there is no recipe for it.
fn straight<'a>(package: &'a Package, packaged: &'a Packaged) -> Result<Making<'a>, String> {
    let (source, frame) = (package.source_of(packaged), package.frame_of(packaged));
    let resampling = filter_of(packaged);
    let recipe = package.recipe(packaged).map_err(ToString::to_string)?;
    let sphere = spherical::before(package, packaged, resampling)?;
    Ok(Making { source, frame, recipe, resampling, sphere })
}

/// The filter that somebody has taken, or the usual one.
pub(crate) fn filter_of(packaged: &Packaged) -> Filter {
    packaged.conversion.taken.as_ref().map_or_else(Filter::default, |taken| taken.filter)
}

/// Each frame once at the frame's rate, or the frame of the source that stands at each moment, as kind `cadence` counts
/// them: frame j shows frame floor(j x from / to). Nothing where a rate is not known, or both are the same.
fn rate_filter(source: &Footage, frame: &Deliverable) -> String {
    let rates = source.rate.as_ref().zip(frame.rate.as_ref());
    let Some((from, to)) = rates.map(|(from, to)| (from.value().value(), to.value().value())) else {
        return String::new();
    };
    let seconds = || (Exact::ONE / to).reduced();
    match source.playback {
        _ if from == to => String::new(),
        Intent::EveryFrame => format!("settb={},setpts=N,fps={to},", seconds()),
        // First onto the times that the rate gives: files keep them rounded, and rounding up would skip a frame.
        Intent::RealTime if source.rate_plan == RatePlan::Blend => {
            format!("fps={from},framerate=fps={to}:interp_start=0:interp_end=255:scene=100,")
        }
        Intent::RealTime => format!("fps={from},fps={to}:round=up,"),
    }
}

/// Whether sound still fits the picture: not when that runs at another speed.
fn keeps_sound(source: &Footage, frame: &Deliverable) -> bool {
    source.playback == Intent::RealTime || rate_filter(source, frame).is_empty()
}

const fn range_word(range: SignalRange) -> &'static str {
    match range {
        SignalRange::Narrow => "tv",
        SignalRange::Full => "pc",
    }
}

/// All that is the same in every script: it carries out what the lines after it name.
const HEAD: &str = include_str!("convert.sh");

/// Everything as a shell script. It runs only what stands in it: names are single words.
pub(crate) fn shell(package: &Package, progress: Progress<'_>, out: &mut dyn Write) -> io::Result<()> {
    let codec = match package.chroma {
        Chroma::Quarter => "-c:v libx264 -preset slow -crf 12 -pix_fmt yuv420p",
        Chroma::Half => "-c:v prores_ks -profile:v 3 -pix_fmt yuv422p10le",
        Chroma::Full => "-c:v prores_ks -profile:v 4444 -pix_fmt yuv444p10le",
    };
    let head = HEAD.replace("@CODEC@", codec).replace("@TOTAL@", &package.count().to_string());
    out.write_all(head.as_bytes())?;
    let names: Vec<String> = outcomes(package).collect();
    for (source, names) in told(progress, names.chunks(package.frames.len().max(1)).enumerate()) {
        let conversions = package.of_source(source);
        let of_source: Vec<_> = conversions.iter().zip(names).collect();
        let (mut always, mut straightly) = (String::new(), String::new());
        for (packaged, outcome) in &of_source {
            let outcome = word(outcome);
            for note in notes(package, packaged) {
                writeln!(out, "note {outcome} {}", word(&note))?;
            }
            match straight(package, packaged) {
                Ok(making) => {
                    if let Some(Ok(options)) = signalled(making.source, making.frame) {
                        writeln!(out, "sphere {outcome} {options}")?;
                    }
                    let made = format!(" \\\n    {outcome} {}", making.words());
                    *(if package.onward(packaged).is_some() { &mut straightly } else { &mut always }) += &made;
                }
                Err(why) => writeln!(out, "lacking {outcome} {}", word(&why))?,
            }
        }
        if let Some((packaged, _)) = of_source.first() {
            let source = spherical::file_of(package.pictured(packaged));
            let raster = source.geometry.source().raster();
            let file = format!("{} {}x{}", word(source.name.as_str()), raster.width(), raster.height());
            for (what, made) in [("convert", always), ("straight", straightly)] {
                if !made.is_empty() {
                    writeln!(out, "{what} {file}{made}")?;
                }
            }
        }
        out.write_all(onward(package, &of_source).as_bytes())?;
    }
    out.write_all(TAIL.as_bytes())
}

/// What is made of the files of working frames where the script is asked to: those that are nearest to the source first,
/// as others are made of them in turn.
fn onward(package: &Package, of_source: &[(&Packaged, &String)]) -> String {
    let mut steps: Vec<_> = of_source
        .iter()
        .filter_map(|(packaged, outcome)| {
            let onward = package.onward(packaged)?;
            let working = of_source.iter().find(|(other, _)| other.frame == onward.from)?;
            Some((
                packaged.through.as_ref().map_or(0, |through| through.names.len()),
                working.1,
                onward,
                packaged,
                outcome,
            ))
        })
        .collect();
    steps.sort_by_key(|(depth, ..)| *depth);
    let each = steps.into_iter().map(|(_, working, onward, packaged, outcome)| {
        let (source, frame, resampling) = (&onward.footage, package.frame_of(packaged), filter_of(packaged));
        let making = Making { source, frame, recipe: &onward.recipe, resampling, sphere: Before::nothing() };
        let raster = onward.footage.geometry.source().raster();
        format!(
            "onward {} {}x{} \\\n    {} {}\n",
            word(working),
            raster.width(),
            raster.height(),
            word(outcome),
            making.words()
        )
    });
    each.collect()
}

/// What was done, and whether all is there.
const TAIL: &str = r#"
done=made
[ -z "$dry" ] || done="would be made"
echo "$made $done, $there there already, $failed failed"
if [ -n "$stopped" ]; then
    echo "stopped at $at of $total: started again it goes on from there" >&2
    exit 130
fi
[ "$failed" -eq 0 ]
"#;

/// How the file of a frame says that it shows a sphere, as options of `ratiomet tag`, or why it cannot; none where no sphere is
/// shown.
fn signalled(source: &Footage, frame: &Deliverable) -> Option<Result<String, &'static str>> {
    if [source.projection, frame.projection] != [Projection::Sphere; 2] {
        return None;
    }
    let container = frame.file.as_ref().map(|file| file.parts().container);
    if container == Some(Container::Mxf) {
        return Some(Err("an MXF file cannot say that it is a sphere"));
    }
    let form = &frame.sphere;
    let right_first = form.layout != Layout::Mono && form.eyes == Eyes::RightFirst;
    if right_first && !matches!(container, Some(Container::Matroska)) {
        return Some(Err("only a Matroska file can say that the right eye comes first"));
    }
    let eyes = match form.layout {
        Layout::Mono => "mono",
        Layout::TopBottom => "top-bottom",
        Layout::SideBySide => "side-by-side",
    };
    let [across, up] = [form.span.across.value(), form.span.up.value()].map(|side| side.to_short_decimal(4));
    let first = if right_first { " --right-eye-first" } else { "" };
    Some(Ok(format!("--stereo {eyes}{first} --span {across}x{up}")))
}

/// What whoever carries a recipe out should know of it.
fn notes(package: &Package, packaged: &Packaged) -> Vec<String> {
    let (source, frame) = (package.source_of(packaged), package.frame_of(packaged));
    let mut notes: Vec<String> = packaged.through.iter().map(ToString::to_string).collect();
    if let Some(onward) = package.onward(packaged) {
        let working = onward.footage.name.as_str();
        notes.push(format!("with --from-working it is made from the file of {working} instead"));
    }
    if package.recipe(packaged).is_ok() && !keeps_sound(source, frame) {
        notes.push("the sound is left out: the picture runs at another speed".to_owned());
    }
    if source.rate.is_none() || frame.rate.is_none() {
        let which = if source.rate.is_none() { "source" } else { "frame" };
        notes.push(format!("it keeps the rate of its file: that of the {which} is not known"));
    }
    let rates = source.rate.as_ref().zip(frame.rate.as_ref()).map(|(from, to)| (from.value(), to.value()));
    if let Some((from, to)) = rates.filter(|(from, to)| from != to && source.playback == Intent::RealTime) {
        let (from, to) = (from.value().to_short_decimal(3), to.value().to_short_decimal(3));
        notes.push(match source.rate_plan {
            RatePlan::Blend => format!("frames are blended: {from} to {to} fps"),
            RatePlan::Drop => format!("frames are dropped or repeated: {from} to {to} fps"),
            RatePlan::Open => {
                format!("frames are dropped or repeated (not decided): {from} to {to} fps")
            }
        });
    }
    match signalled(source, frame).filter(|_| package.recipe(packaged).is_ok()) {
        Some(Ok(options)) => notes.push(format!(
            "it is tagged as a sphere where ratiomet is installed; else: ratiomet tag FILE --out TAGGED --projection \
             equirectangular {options}"
        )),
        Some(Err(why)) => notes.push(format!("it is not tagged: {why}")),
        None => {}
    }
    if let Ok(making) = straight(package, packaged)
        && making.sphere.filters.contains("overlay")
    {
        notes.push("the pictures on the sphere lie beside the script, in on_spheres".to_owned());
    }
    if let Some(sphere) = package.pictured(packaged).sphere {
        notes.push(format!("a view out of {}: its file is what is converted", sphere.name.as_str()));
    }
    if let Some(taken) = packaged.conversion.taken.as_ref().filter(|taken| **taken != Resampling::by(taken.filter)) {
        notes.push(format!("taken is: {}; of that the recipe takes the filter alone", taken.words()));
    }
    if matches!(filter_of(packaged), Filter::CatmullRom | Filter::Mitchell) {
        notes.push("the cubic of the recipe is that of its scaler, B = 0 and C = 0.6".to_owned());
    }
    if let Some(file) = &frame.file {
        notes.push(format!("its file is made as the frame says: {}", file.words()));
        if file.parts().codec == Codec::Prores && file.parts().depth > 10 {
            notes.push("the encoder that is used here takes 10 bits of each sample".to_owned());
        }
    }
    if straight(package, packaged).is_ok_and(|making| making.keeps_fields()) {
        let unmarked = frame.file.as_ref().map(|file| file.parts().codec).filter(|codec| !coding::marks_fields(*codec));
        notes.push(match unmarked {
            None => "the fields are kept, in the order of the file".to_owned(),
            Some(codec) => format!("the fields are kept, but {} here does not say so in the file", codec.title()),
        });
    } else if source.scan == Some(Scan::Interlaced) && !source.deinterlace {
        notes.push("fields are scaled as if they were one picture: deinterlace the source, or do it before".to_owned());
    }
    notes
}

/// Everything as a list: outcome, source, and what is done, a line each, with tabs between; quoted as CSV is where a cell
/// needs it.
pub(crate) fn list(package: &Package, progress: Progress<'_>, out: &mut dyn Write) -> io::Result<()> {
    let mut list = csv::WriterBuilder::new().delimiter(b'\t').from_writer(out);
    list.write_record(["outcome", "source", "filter", "notes"])?;
    let plain = |text: &str| text.chars().map(|each| if each.is_control() { ' ' } else { each }).collect::<String>();
    let row = |packaged: &Packaged| {
        let source = plain(spherical::file_of(package.pictured(packaged)).name.as_str());
        let done = straight(package, packaged).map_or_else(|why| format!("no recipe: {why}"), |making| making.filter());
        let notes = plain(&notes(package, packaged).join("; "));
        [source, done, notes].map(|cell| ratiomet_exchange::list::neutral(&cell))
    };
    package.each(row, |rows| {
        for ([source, done, notes], outcome) in told(progress, rows).zip(outcomes(package)) {
            list.write_record([outcome, source, done, notes])?;
        }
        io::Result::Ok(())
    })?;
    list.flush()
}
