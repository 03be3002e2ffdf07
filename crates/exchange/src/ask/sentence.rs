//! Answers in a sentence.

use ratiomet_core::cadence::{Cadence, Relation};
use ratiomet_core::calculation::{Answer, Calculation};
use ratiomet_core::levels::Levels;
use ratiomet_core::space::Edges;
use ratiomet_core::sphere::{EquirectangularFrame, SphereView};
use ratiomet_core::viewing::{Screen, Viewing};
use ratiomet_core::weight::Weight;
use ratiomet_core::words::ordinal;
use ratiomet_core::{Desqueeze, DesqueezeRequest, Enlargement, Exact, Extraction, ExtractionRequest, Raster};

fn percent(share: &Exact) -> String {
    (share * &Exact::whole(100)).to_short_decimal(1)
}

fn size<S>(raster: Raster<S>) -> String {
    format!("{}×{}", raster.width(), raster.height())
}

/// A double with at most so many decimals.
fn short(value: f64, places: usize) -> String {
    let text = format!("{value:.places$}");
    if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}

/// The answer to a calculation in a sentence. Calculations that nobody can ask for have none.
pub(super) fn of(asked: &Calculation, answer: &Answer) -> String {
    match (asked, answer) {
        (Calculation::Extraction(request), Answer::Extraction(extraction)) => extracted(request, extraction),
        (Calculation::Desqueeze(request), Answer::Desqueeze(desqueeze)) => desqueezed(request, desqueeze),
        (_, Answer::Scale(enlargement)) => scaled(enlargement),
        (_, Answer::Cadence(cadence)) => shown(cadence),
        (_, Answer::SphereFrame(sphere, levels)) => sphere_frame(sphere, levels.as_ref()),
        (_, Answer::SphereView(view)) => sphere_view(view),
        (_, Answer::Levels(levels)) => {
            level_words(*levels).map_or_else(|| "No level allows it.".to_owned(), |levels| format!("{levels}."))
        }
        (_, Answer::Viewing(viewing)) => viewed(viewing),
        (_, Answer::Weight(weight)) => weighed(weight),
        _ => String::new(),
    }
}

fn extracted(request: &ExtractionRequest, extraction: &Extraction) -> String {
    let exact = &extraction.exact;
    let exactly = if exact.width == Exact::whole(request.container.width()) {
        format!("exactly {} lines", exact.height.to_short_decimal(3))
    } else {
        format!("exactly {} pixels wide", exact.width.to_short_decimal(3))
    };
    let kept = extraction.kept.as_ref().map(|kept| format!("; keeps {} %", percent(kept))).unwrap_or_default();
    let (frame, ratio) = (size(extraction.chosen.frame), extraction.chosen.ratio.to_short_decimal(4));
    format!("{frame}, {exactly}, shows {ratio}{kept}.")
}

fn desqueezed(request: &DesqueezeRequest, desqueeze: &Desqueeze) -> String {
    let shows = format!(
        "Shows {}:1. With square pixels {} keeping all lines, or {} keeping all columns",
        desqueeze.ratio.to_short_decimal(3),
        size(desqueeze.widened.frame),
        size(desqueeze.flattened.frame)
    );
    let (Some(target), Some(ratio)) = (&desqueeze.target, &request.target) else { return format!("{shows}.") };
    format!(
        "{shows}. {} keeps {} % of it: a window of {}×{} stored pixels, {} or {} with square pixels.",
        ratio.value().to_short_decimal(4),
        percent(&target.kept),
        target.window.size.width.to_short_decimal(2),
        target.window.size.height.to_short_decimal(2),
        size(target.widened),
        size(target.flattened)
    )
}

fn scaled(enlargement: &Enlargement) -> String {
    let (x, y) = (enlargement.factor.x.to_short_decimal(4), enlargement.factor.y.to_short_decimal(4));
    let factor = if enlargement.uniform { format!("{x}x") } else { format!("{x}x across and {y}x up and down") };
    let enlarger = match enlargement.whole {
        1 => String::new(),
        whole if enlargement.residual == Exact::ONE => format!("; exactly a {whole}x enlargement"),
        whole => format!("; a {whole}x enlargement, then {} %", percent(&enlargement.residual)),
    };
    format!("{factor}, {}x the area{enlarger}.", enlargement.area.to_short_decimal(4))
}

fn shown(cadence: &Cadence) -> String {
    match cadence {
        Cadence::RealTime { ratio, cycle, relation, .. } => match relation {
            Relation::Same => "Frame for frame.".to_owned(),
            Relation::Drop => format!("Every {} frame is shown.", ordinal((Exact::ONE / ratio).ceil_whole())),
            Relation::Repeat => format!("Each frame is shown {} times.", ratio.to_short_decimal(0)),
            Relation::Mixed => match cycle {
                Some(cycle) => {
                    let cycle: Vec<_> = cycle.iter().map(i64::to_string).collect();
                    format!("Uneven: frames repeat {} times in turn.", cycle.join(":"))
                }
                None => "Uneven, in a pattern longer than a thousand frames.".to_owned(),
            },
        },
        Cadence::EveryFrame { speed, duration } => {
            format!("{} % speed; {} times as long.", percent(speed), duration.to_short_decimal(4))
        }
    }
}

fn level_words(levels: Levels) -> Option<String> {
    let named = |name: &str, level: Option<&str>| level.map(|level| format!("{name} level {level}"));
    let both: Vec<_> = [named("H.264", levels.h264), named("H.265", levels.h265)].into_iter().flatten().collect();
    (!both.is_empty()).then(|| both.join(", "))
}

fn sphere_frame(sphere: &EquirectangularFrame, levels: Option<&Levels>) -> String {
    let levels = levels.copied().and_then(level_words).map(|levels| format!("; {levels}")).unwrap_or_default();
    let fine = sphere.pixels_per_degree.x.to_short_decimal(3);
    format!("{} pixels, {fine} per degree{levels}.", size(sphere.frame))
}

fn sphere_view(view: &SphereView) -> String {
    format!(
        "{}° high; in the middle {} view pixels per sphere pixel: {}; native from a sphere {} wide.",
        short(view.vertical_fov, 2),
        short(view.centre_scale, 3),
        if view.centre_scale > 1.0 { "it is enlarged" } else { "no pixel is enlarged" },
        short(view.width_for_native, 0)
    )
}

fn viewed(viewing: &Viewing) -> String {
    let bars = |edges: &Edges<Screen>, whose: &str| {
        let pair = |one: &Exact, other: &Exact, place: &str| {
            (one + other).is_positive().then(|| format!("{whose} bars of {} px {place}", one.to_short_decimal(1)))
        };
        [pair(&edges.top, &edges.bottom, "above and below"), pair(&edges.left, &edges.right, "at the sides")]
    };
    let all = [bars(&viewing.player_bars, "the player's"), bars(&viewing.baked_bars, "baked")];
    let all: Vec<_> = all.into_iter().flatten().flatten().collect();
    let bars = if all.is_empty() { "no bars".to_owned() } else { all.join(", ") };
    let boxed = if viewing.double_boxed { ", bars on all four sides" } else { "" };
    format!("Picture on {} % of the screen; {bars}{boxed}.", percent(&viewing.picture_share))
}

fn weighed(weight: &Weight) -> String {
    #[expect(clippy::cast_precision_loss, reason = "two decimals of a count of megabytes are shown")]
    let bytes = weight.bytes as f64;
    let (value, unit) = if bytes >= 1e9 { (bytes / 1e9, "GB") } else { (bytes / 1e6, "MB") };
    let bits = weight.bits_per_pixel.to_short_decimal(4);
    format!("{} {unit} ({} bytes); {bits} bits per pixel.", short(value, 2), weight.bytes)
}
