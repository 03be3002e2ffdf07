//! Questions about frames: a ratio out of one, a part of one, one in another.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::safe_area::SafeArea;
use ratiomet_core::space::{Delivery, Stored};
use ratiomet_core::viewing::Show;
use ratiomet_core::{DeliveryFrame, DisplayRatio, Error, Exact, ExtractionRequest, Keep, PixelAspect, Rounding, Step};

use super::parts::Parts;
use super::placed::picture_words;
use super::question::{Question, raster, size_text, value};
use super::shapes::{is_pixel_shape, ratio_of, shaped, standard};
use super::time;
use super::words::{Key, Word};

/// A delivered frame on somebody's screen.
pub(super) fn screen(parts: &Parts<'_>) -> Option<Question> {
    let (frame, screen) = (parts.size()?, parts.size()?);
    let ratio = parts.ratio();
    let understood = format!("{}{} on a {} screen", size_text(frame), picture_words(ratio), size_text(screen));
    Some(Question::new(understood, || {
        let ratio = ratio.map(DisplayRatio::parse).transpose()?;
        let frame = DeliveryFrame::new(raster::<Delivery>(frame)?, PixelAspect::SQUARE, ratio, Step::Two)?;
        Ok(Calculation::Viewing(frame, raster(screen)?, Show::default()))
    }))
}

pub(super) fn proxies(parts: &Parts<'_>) -> Option<Question> {
    let size = parts.size()?;
    // All of them are listed, whichever share was named.
    parts.first_ratio();
    while parts.named_share().map(|(name, _)| name).or_else(|| parts.percent()).is_some() {}
    Some(Question::new(format!("proxies of {}", size_text(size)), || {
        Ok(Calculation::Proxy(raster::<Stored>(size)?, Step::Two))
    }))
}

/// The safe areas of the published rules.
pub(super) fn safe(parts: &Parts<'_>) -> Option<Question> {
    let size = parts.size()?;
    let understood = format!("safe areas of {}", size_text(size));
    let frame = match raster(size).and_then(|raster| DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::Two)) {
        Ok(frame) => frame,
        Err(error) => return Some(Question::new(understood, || Err(error))),
    };
    let zone = |zone: ratiomet_core::safe_area::Zone| {
        let short = |side: &Exact| side.to_short_decimal(2);
        let (rect, percent) = (&zone.rect, zone.percent.to_short_decimal(2));
        let (across, down) = (short(&rect.size.width), short(&rect.size.height));
        format!("{} {percent} %: {across}×{down}, {} px and {} lines in", zone.name, short(&rect.x), short(&rect.y))
    };
    let zones: Vec<_> = SafeArea::PUBLISHED.iter().flat_map(|(_, rule)| rule.zones(&frame)).map(zone).collect();
    Some(Question::figure(understood, format!("{}.", zones.join("; "))))
}

/// Whether a part or a multiple of one size is asked for.
pub(super) fn is_share(parts: &Parts<'_>) -> bool {
    let said = parts.count(|word| matches!(word, Word::Share(..) | Word::Percent(_))) > 0;
    let factor = parts.count(|word| matches!(word, Word::Factor(_))) > 0;
    let small =
        |word: &Word| matches!(word, Word::Number(text) if value(text).is_some_and(|value| value < Exact::whole(16)));
    let times = parts.has(Key::By) && parts.count(small) > 0 && !parts.has(Key::Squeeze);
    parts.sizes() == 1 && (said || (parts.any(&[Key::Scale, Key::Room]) && (factor || times)))
}

/// A part of a size: half of it, so many percent, so many times.
pub(super) fn share(parts: &Parts<'_>) -> Option<Question> {
    let size = parts.size()?;
    let named = parts.count(|word| matches!(word, Word::Share(..))) > 0;
    let (words, share) = if named {
        let (name, share) = parts.named_share()?;
        (name.to_owned(), value(share)?)
    } else if let Some(percent) = parts.percent() {
        (format!("{percent} %"), value(percent)? / Exact::whole(100))
    } else {
        let factor = parts.factor().or_else(|| parts.number())?;
        (format!("{factor} times"), value(factor)?)
    };
    // On whole pairs of pixels.
    let side = |side: u32| {
        let pairs = ((Exact::whole(side) * &share).half() + Exact::fraction(1, 2)).reduced();
        u32::try_from(pairs.floor_whole().saturating_mul(2)).unwrap_or(u32::MAX).max(2)
    };
    let part = [side(size[0]), side(size[1])];
    let of =
        if named && words != "twice" && words != "double" { format!("a {words} of ") } else { format!("{words} ") };
    let of = if words == "half" {
        "half of ".to_owned()
    } else if words.ends_with('%') {
        format!("{words} of ")
    } else {
        of
    };
    let question = Question::new(format!("{of}{}: {}", size_text(size), size_text(part)), || {
        Ok(Calculation::Scale(raster(size)?, raster(part)?))
    });
    Some(if named && share < Exact::ONE { question.noting("each side, not the area") } else { question })
}

pub(super) fn extraction(understood: String, container: [u32; 2], ratio: &str, keep: Keep) -> Question {
    Question::new(understood, || extracted(container, ratio, keep))
}

fn extracted(container: [u32; 2], ratio: &str, keep: Keep) -> Result<Calculation, Error> {
    Ok(Calculation::Extraction(ExtractionRequest {
        container: raster(container)?,
        pixel_aspect: PixelAspect::SQUARE,
        ratio: DisplayRatio::parse(ratio)?,
        keep,
        step: Step::Two,
        rounding: Rounding::Down,
    }))
}

/// A ratio out of a frame.
pub(super) fn out_of(ratio: &str, size: [u32; 2]) -> (String, Result<Calculation, Error>) {
    (format!("{ratio} out of {}", size_text(size)), extracted(size, ratio, Keep::Inside))
}

/// Heights by which rasters are called; other sides are widths.
pub(super) const HEIGHTS: [u32; 10] = [480, 486, 540, 576, 720, 858, 1080, 1440, 2160, 4320];

/// A frame and what is asked of it.
pub(super) fn one(parts: &Parts<'_>) -> Option<Question> {
    let size = parts.size()?;
    let related = parts.any(&[Key::From, Key::In, Key::Into, Key::Fill, Key::Fit]);
    let behind = parts.ratio_behind_size();
    let side = parts.pixels_over(99);
    let Some(ratio) = (if related { parts.first_ratio() } else { parts.ratio() }) else {
        return Some(side.map_or_else(|| alone(parts, size, related), |side| resized(parts, size, side)));
    };
    if parts.begins_with(Key::Is) {
        return compared(size, ratio);
    }
    // A number that is no ratio of pictures is a rate.
    if value(ratio).is_some_and(|value| value >= Exact::whole(16) && value <= Exact::whole(1_000)) && !related {
        return Some(time::level_at(size, ratio));
    }
    if let Some(question) = standard(size, Some(ratio)).filter(|_| !related) {
        return Some(question);
    }
    // A shape written behind the size with a colon speaks of its pixels, unless it is a ratio of pictures.
    if (behind && !related && is_pixel_shape(ratio)) || parts.has(Key::PixelShape) {
        return Some(shaped(format!("{} with {ratio} pixels", size_text(size)), size, ratio));
    }
    let keep = match (parts.has(Key::High), parts.has(Key::Wide)) {
        (true, false) => Keep::Width,
        (false, true) => Keep::Height,
        _ => Keep::Inside,
    };
    let (understood, _) = out_of(ratio, size);
    let mut question = extraction(understood, size, ratio, keep);
    // "2.39 or 2.35 in HD": each of them.
    while let Some(more) = parts.next_picture_ratio() {
        let (understood, calculation) = out_of(more, size);
        question = question.or(understood, calculation);
    }
    Some(question)
}

/// A frame that stands alone: its shape.
fn alone(parts: &Parts<'_>, size: [u32; 2], related: bool) -> Question {
    if let Some(rate) = parts.said_rate() {
        return time::level_at(size, rate);
    }
    if parts.any(&[Key::Upright, Key::Rotate]) {
        let turned = [size[1], size[0]];
        let upright = shaped(format!("{} turned upright: {}", size_text(size), size_text(turned)), turned, "1");
        if !related || parts.has(Key::Rotate) {
            return upright;
        }
        let (understood, calculation) = out_of("9:16", size);
        return Question::new(understood, || calculation).or_all(upright);
    }
    // "Anamorphic PAL" is seen at 16:9 (common practice).
    let seen = parts.has(Key::Squeeze).then_some("16:9");
    if let Some(question) = standard(size, seen) {
        return question.or_all(ratio_of(size));
    }
    let question = ratio_of(size);
    if parts.any(&[Key::SquarePixels, Key::PixelShape]) { question.noting("its pixels are square") } else { question }
}

/// Whether a frame has a ratio.
fn compared(size: [u32; 2], ratio: &str) -> Option<Question> {
    let (wanted, own) = (DisplayRatio::parse(ratio).ok()?, Exact::whole(size[0]) / Exact::whole(size[1].max(1)));
    let off = ((&own / wanted.value() - Exact::ONE) * Exact::whole(100)).reduced();
    let lead = if off.is_zero() {
        format!("Yes, exactly {ratio}.")
    } else {
        format!(
            "No, it is {} % {} than {ratio}.",
            off.abs().to_short_decimal(2),
            if off.is_negative() { "narrower" } else { "wider" }
        )
    };
    Some(ratio_of(size).leading(lead))
}

/// A frame brought to a side, in its own shape.
fn resized(parts: &Parts<'_>, size: [u32; 2], side: u32) -> Question {
    let is_height = parts.has(Key::High) || (!parts.has(Key::Wide) && HEIGHTS.contains(&side));
    let [held, other] = if is_height { [size[1], size[0]] } else { size };
    let follows = Exact::whole(other) * Exact::whole(side) / Exact::whole(held.max(1));
    let pairs = (follows.half() + Exact::fraction(1, 2)).reduced().floor_whole().saturating_mul(2);
    let even = u32::try_from(pairs).unwrap_or(u32::MAX).max(2);
    let to = if is_height { [even, side] } else { [side, even] };
    let exactly = follows.to_short_decimal(3);
    let axis = if is_height { "pixels wide" } else { "lines" };
    let question = Question::new(format!("{} into {}", size_text(size), size_text(to)), || {
        Ok(Calculation::Scale(raster(size)?, raster(to)?))
    });
    if follows == Exact::whole(even) { question } else { question.noting(format!("exactly {exactly} {axis}")) }
}
