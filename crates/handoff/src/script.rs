//! Recipes as a shell script and as a plain list.

use ratiomet_core::project::{Package, Packaged};
use ratiomet_core::recipe::Chroma;
use ratiomet_core::signal::{RangePlan, Scan, SignalRange};

use crate::names::Names;

/// A text as one word of a POSIX shell, whatever is in it. Lines are not broken: names have none, and
/// comments must not end early.
fn word(text: &str) -> String {
    let plain: String = text.chars().map(|each| if each.is_control() { ' ' } else { each }).collect();
    format!("'{}'", plain.replace('\'', r"'\''"))
}

/// The proposed name of a converted file, for each conversion in its order.
pub(crate) fn outcomes(package: &Package) -> Vec<String> {
    let mut names = Names::default();
    let each = package.conversions.iter().map(|packaged| {
        let (source, frame) = (package.source_of(packaged), package.frame_of(packaged));
        names.unique(&format!("{} {}", source.name.as_str(), frame.name.as_str()))
    });
    each.collect()
}

/// What is done to the signal before the geometry: whole pictures out of fields, and the code values of the frame,
/// where the source says so.
fn signal_filter(package: &Package, packaged: &Packaged) -> String {
    let (source, frame) = (package.source_of(packaged), package.frame_of(packaged));
    let mut filter = String::new();
    if source.deinterlace && source.scan == Scan::Interlaced && frame.scan == Scan::Progressive {
        // A picture for each frame, all of them, whatever the file says of its fields.
        filter += "bwdif=mode=send_frame:deint=all,";
    }
    if source.range_plan == RangePlan::Convert && source.signal_range != frame.signal_range {
        let (from, to) = (range_word(source.signal_range), range_word(frame.signal_range));
        filter += &format!("scale=in_range={from}:out_range={to},");
    }
    filter
}

/// Which code values the outcome has: those of the frame where they are converted, else those of the source.
fn outcome_range(package: &Package, packaged: &Packaged) -> SignalRange {
    let (source, frame) = (package.source_of(packaged), package.frame_of(packaged));
    if source.range_plan == RangePlan::Convert { frame.signal_range } else { source.signal_range }
}

const fn range_word(range: SignalRange) -> &'static str {
    match range {
        SignalRange::Narrow => "tv",
        SignalRange::Full => "pc",
    }
}

const HEAD: &str = r#"#!/bin/sh
# Converts footage as planned: sh convert.sh FOOTAGE_FOLDER OUTPUT_FOLDER
#
# A source is the file in FOOTAGE_FOLDER that has its name, with any ending; of several the first counts.
# What is there already is not written again. CODEC and ENDING can be set in the environment.
set -eu
if [ "$#" -ne 2 ]; then
    echo "usage: sh convert.sh FOOTAGE_FOLDER OUTPUT_FOLDER" >&2
    exit 2
fi
from=$1
to=$2
mkdir -p -- "$to"
missing=0

convert() { # name of the source, name of the outcome, filter chain, signal range
    for file in "$from"/"$1".*; do
        if [ -f "$file" ]; then
            # ./ so that no name is taken for an option
            case $file in /*) ;; *) file=./$file ;; esac
            case $to in /*) out=$to ;; *) out=./$to ;; esac
            echo "$2"
            ffmpeg -nostdin -v error -n -noautorotate -i "$file" -map 0:v:0 -map '0:a?' -vf "$3" \
                $CODEC -color_range "$4" -c:a copy "$out/$2.$ENDING" || missing=1
            return 0
        fi
    done
    echo "no file for $1" >&2
    missing=1
}

"#;

/// Everything as a shell script. It runs only what stands in it: names are single words.
pub(crate) fn shell(package: &Package) -> String {
    let codec = match package.chroma {
        Chroma::Quarter => "-c:v libx264 -preset slow -crf 12 -pix_fmt yuv420p",
        Chroma::Half => "-c:v prores_ks -profile:v 3 -pix_fmt yuv422p10le",
        Chroma::Full => "-c:v prores_ks -profile:v 4444 -pix_fmt yuv444p10le",
    };
    let mut script =
        HEAD.replacen("missing=0\n", &format!("CODEC=${{CODEC:-{codec}}}\nENDING=${{ENDING:-mov}}\nmissing=0\n"), 1);
    for (packaged, outcome) in package.conversions.iter().zip(outcomes(package)) {
        let source = package.source_of(packaged).name.as_str();
        script += &match &packaged.recipe {
            Ok(recipe) => {
                let filter = signal_filter(package, packaged) + &recipe.filter();
                let range = range_word(outcome_range(package, packaged));
                format!("convert {} {} {} {range}\n", word(source), word(&outcome), word(&filter))
            }
            Err(why) => format!("# {} has no recipe: {}\n", word(&outcome), word(&why.to_string())),
        };
    }
    script.push_str("\nexit $missing\n");
    script
}

/// Everything as a list: outcome, source, and what is done, a line each, with tabs between.
pub(crate) fn list(package: &Package) -> String {
    let mut list = String::from("outcome\tsource\tfilter\n");
    let plain = |text: &str| text.chars().map(|each| if each.is_control() { ' ' } else { each }).collect::<String>();
    for (packaged, outcome) in package.conversions.iter().zip(outcomes(package)) {
        let source = plain(package.source_of(packaged).name.as_str());
        let done = packaged.recipe.as_ref().map_or_else(
            |why| format!("no recipe: {why}"),
            |recipe| signal_filter(package, packaged) + &recipe.filter(),
        );
        let source = ratiomet_exchange::list::neutral(&source);
        list += &format!("{outcome}\t{source}\t{done}\n");
    }
    list
}
