//! Answers in a sentence.

use ratiomet_core::cadence::{Cadence, Relation};
use ratiomet_core::calculation::{Answer, Calculation};
use ratiomet_core::levels::Levels;
use ratiomet_core::proxy::{Proxies, Proxy};
use ratiomet_core::space::Edges;
use ratiomet_core::sphere::{EquirectangularFrame, SphereView};
use ratiomet_core::viewing::{Screen, Viewing};
use ratiomet_core::weight::Weight;
use ratiomet_core::words::ordinal;
use ratiomet_core::{
    Desqueeze, DesqueezeRequest, Enlargement, Exact, Extraction, ExtractionRequest, Keep, Plan, Raster,
};

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
        (_, Answer::Conversion(checked)) => placed(&checked.plan),
        (_, Answer::Proxy(proxies)) => smaller(proxies),
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
    let (exact, chosen, container) = (&extraction.exact, &extraction.chosen, request.container);
    let asked = container.size();
    let width_held = exact.width == asked.width && (request.keep != Keep::Height || exact.height != asked.height);
    let exactly = if width_held {
        format!("exactly {} lines", exact.height.to_short_decimal(3))
    } else {
        format!("exactly {} pixels wide", exact.width.to_short_decimal(3))
    };
    // A container that was made for the question is no container.
    let made = |exact: &Exact, side: &Exact| request.keep != Keep::Inside && (side - exact).abs() < Exact::ONE;
    let is_made = if width_held { made(&exact.height, &asked.height) } else { made(&exact.width, &asked.width) };
    let out_of = |frame: [u32; 2]| {
        let cut = cut(frame, [container.width(), container.height()])?;
        let share = Exact::whole(frame[0]) * Exact::whole(frame[1]) / asked.area();
        Some(format!("; {cut}keeps {} %", percent(&share)))
    };
    let out_of = |frame: [u32; 2]| out_of(frame).filter(|_| !is_made).unwrap_or_default();
    let rounded = [chosen.frame.width(), chosen.frame.height()];
    let ratio = chosen.ratio.to_short_decimal(4);
    match extraction.proposed() {
        Some(frame) if [frame.width, frame.height] == rounded => {
            format!("{} ({}), {exactly}, shows {ratio}{}.", size(chosen.frame), frame.name, out_of(rounded))
        }
        Some(frame) => format!(
            "{}×{} ({}), or {} rounded down; {exactly}; shows {}, or {ratio}{}.",
            frame.width,
            frame.height,
            frame.name,
            size(chosen.frame),
            frame.ratio().to_short_decimal(4),
            out_of([frame.width, frame.height])
        ),
        None => format!("{}, {exactly}, shows {ratio}{}.", size(chosen.frame), out_of(rounded)),
    }
}

/// What a centred cut takes off, on even pixels; none where the frame is larger.
fn cut(frame: [u32; 2], container: [u32; 2]) -> Option<String> {
    let [across, down] = [container[0].checked_sub(frame[0])?, container[1].checked_sub(frame[1])?];
    let off = |total: u32, one: &str, other: &str| {
        let first = total / 4 * 2;
        let second = total - first;
        match (first == second, total) {
            (_, 0) => String::new(),
            (true, _) => format!("{first} px off {one} and {other}; "),
            // In whole pixels the halves may be even, and on even ones they are not.
            (false, _) if total.is_multiple_of(2) => {
                format!("{} px off {one} and {other}, {first} and {second} on even pixels; ", total / 2)
            }
            (false, _) => format!("{first} px off {one} and {second} off {other}; "),
        }
    };
    Some(off(down, "top", "bottom") + &off(across, "left", "right"))
}

fn desqueezed(request: &DesqueezeRequest, desqueeze: &Desqueeze) -> String {
    if desqueeze.factor == Exact::ONE && request.target.is_none() {
        let million = (request.raster.size().area() / Exact::whole(1_000_000)).to_short_decimal(3);
        let (ratio, exact) = (desqueeze.ratio.to_short_decimal(4), &desqueeze.ratio);
        return format!("{ratio}:1, exactly {exact}; {million} million pixels.");
    }
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
    let factor = if enlargement.uniform {
        format!("{x}x ({} %)", fine(&enlargement.factor.x))
    } else {
        let (across, down) = (fine(&enlargement.factor.x), fine(&enlargement.factor.y));
        format!("{x}x across ({across} %) and {y}x up and down ({down} %)")
    };
    let enlarger = match enlargement.whole {
        1 => String::new(),
        whole if enlargement.residual == Exact::ONE => format!("; exactly a {whole}x enlargement"),
        whole => format!("; a {whole}x enlargement, then {} %", percent(&enlargement.residual)),
    };
    format!("{factor}, {}x the area{enlarger}.", enlargement.area.to_short_decimal(4))
}

fn placed(plan: &Plan) -> String {
    let (scale, reserve) = (&plan.scale, &plan.reserve);
    let size = if scale.x == scale.y {
        format!("{} %", fine(&scale.x))
    } else {
        format!("{} % across and {} % up and down", fine(&scale.x), fine(&scale.y))
    };
    let least = reserve.x.clone().min(reserve.y.clone());
    let room = if least >= Exact::ONE {
        format!("{}x to push in until 1:1", least.to_short_decimal(3))
    } else {
        "no room to push in: it is enlarged".to_owned()
    };
    let bars = [("left and right", &plan.bars.left), ("top and bottom", &plan.bars.top)];
    let bars: Vec<_> = bars
        .into_iter()
        .filter(|(_, bar)| bar.is_positive())
        .map(|(place, bar)| format!("bars of {} px {place}", bar.to_short_decimal(1)))
        .collect();
    let bars = if bars.is_empty() { String::new() } else { format!(", {}", bars.join(" and ")) };
    format!("At {size}, keeps {} %{bars}; {room}.", percent(&plan.kept))
}

fn smaller(proxies: &Proxies) -> String {
    let each = |proxy: &Proxy| {
        let exact = if proxy.distortion.is_zero() { "" } else { " (not quite its shape)" };
        format!("1/{}: {}{exact}", proxy.n, size(proxy.frame))
    };
    let all: Vec<_> = proxies.sizes.iter().map(each).collect();
    format!("{}.", all.join(", "))
}

/// A share in percent with as many digits as are typed.
fn fine(share: &Exact) -> String {
    (share * &Exact::whole(100)).to_short_decimal(4)
}

fn shown(cadence: &Cadence) -> String {
    match cadence {
        Cadence::RealTime { ratio, cycle, relation, slip } => match relation {
            Relation::Same => "Frame for frame.".to_owned(),
            Relation::Drop => format!("Every {} frame is shown.", ordinal((Exact::ONE / ratio).ceil_whole())),
            Relation::Repeat => format!("Each frame is shown {} times.", ratio.to_short_decimal(0)),
            Relation::Mixed => uneven(ratio, cycle.as_deref(), slip.as_ref()),
        },
        Cadence::EveryFrame { speed, duration } => {
            format!("{} % speed; {} times as long.", fine(speed), duration.to_short_decimal(4))
        }
    }
}

/// A pattern as it is, or what a long one comes to.
fn uneven(ratio: &Exact, cycle: Option<&[i64]>, slip: Option<&Exact>) -> String {
    if let Some(cycle) = cycle.filter(|cycle| cycle.len() <= 12) {
        let cycle: Vec<_> = cycle.iter().map(i64::to_string).collect();
        return format!("Uneven: frames repeat {} times in turn.", cycle.join(":"));
    }
    let Some((shown, frames)) = ratio.short_terms() else {
        return "Uneven, without a pattern that repeats.".to_owned();
    };
    let apart = (shown - frames).abs();
    let what = if shown < frames { "left out" } else { "repeated" };
    let verb = if apart == 1 { "is" } else { "are" };
    let rare = slip.filter(|slip| **slip >= Exact::fraction(1, 10));
    let every = rare.map(|slip| format!("; one about every {} s", slip.to_short_decimal(2))).unwrap_or_default();
    format!("Uneven: of every {frames} frames {apart} {verb} {what}, {shown} are shown{every}.")
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
        match (view.centre_scale > 1.0, view.edge_scale > 1.0) {
            (true, _) => "it is enlarged".to_owned(),
            (false, true) => format!("enlarged towards the edge, {} there", short(view.edge_scale, 2)),
            (false, false) => "no pixel is enlarged".to_owned(),
        },
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
