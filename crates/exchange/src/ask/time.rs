//! Questions of time: rates, decoder levels, bytes.

use ratiomet_core::cadence::Intent;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::fraction::writable_text;
use ratiomet_core::weight::{Kilobits, Megabits, Seconds};
use ratiomet_core::{Exact, FrameRate};

use super::parts::Parts;
use super::question::{Question, raster, size_text, value};
use super::words::{Key, Word};

/// What is no ratio may be a rate, and no side of a frame.
pub(super) fn may_be_rate(text: &str) -> bool {
    value(text).is_some_and(|value| value >= Exact::whole(12) && value <= Exact::whole(1_000))
}

/// Whether two rates are asked about: two that are said to be rates, or numbers that are nothing else.
pub(super) fn is_cadence(parts: &Parts<'_>) -> bool {
    let said = parts.count(|word| matches!(word, Word::Rate(_)));
    let numbers = parts.count(|word| matches!(word, Word::Number(text) if may_be_rate(text)));
    said + numbers >= 2 && (said > 0 || parts.has(Key::Slow) || parts.sizes() > 0)
}

/// The frames of one rate at another.
pub(super) fn cadence(parts: &Parts<'_>) -> Option<Question> {
    if !parts.any(&[Key::At, Key::Into, Key::From, Key::In, Key::Slow, Key::On, Key::With])
        && parts.count(|word| matches!(word, Word::Rate(_))) < 2
    {
        return None;
    }
    let reversed = parts.has(Key::From) && !parts.any(&[Key::At, Key::Into, Key::In]);
    let (one, other) = (parts.rate()?, parts.rate()?);
    let (from, to) = if reversed { (other, one) } else { (one, other) };
    let running = parts.take(|word| if let Word::Seconds(text) = word { Some(text.as_str()) } else { None });
    let understood = |intent| match intent {
        Intent::EveryFrame => format!("{from} fps shown at {to} fps, every frame once"),
        Intent::RealTime => format!("{from} fps shown at {to} fps"),
    };
    let at = |intent| Ok(Calculation::Cadence(FrameRate::spoken(from)?, FrameRate::spoken(to)?, intent));
    let (meant, other) = if parts.has(Key::Slow) || running.is_some() {
        (Intent::EveryFrame, Intent::RealTime)
    } else {
        (Intent::RealTime, Intent::EveryFrame)
    };
    // The rasters that the rates are said with are another question.
    let sizes = parts.both_sizes().filter(|(from, to)| from != to);
    let mut question = Question::new(understood(meant), || at(meant));
    if value(from) != value(to) {
        question = question.or(understood(other), at(other));
    }
    if let Some((from, to)) = sizes {
        let scale = raster(from).and_then(|from| Ok(Calculation::Scale(from, raster(to)?)));
        question = question.or(format!("{} into {}", size_text(from), size_text(to)), scale);
    }
    if let Some(lead) = running.and_then(|running| becomes(running, from, to)) {
        question = question.leading(lead);
    }
    Some(question)
}

/// What a running time becomes where every frame is shown once.
fn becomes(seconds: &str, from: &str, to: &str) -> Option<String> {
    let after = value(seconds)? * FrameRate::spoken(from).ok()?.value() / FrameRate::spoken(to).ok()?.value();
    Some(format!("{seconds} s become {}.", running(&after)))
}

/// Seconds, and what they are in hours and minutes.
fn running(seconds: &Exact) -> String {
    let whole = seconds.floor_whole();
    let (hours, minutes, rest) = (whole / 3600, whole / 60 % 60, whole % 60);
    let clock = if hours > 0 { format!("{hours} h {minutes} min {rest} s") } else { format!("{minutes} min {rest} s") };
    let short = seconds.to_short_decimal(3);
    if whole < 60 { format!("{short} s") } else { format!("{short} s ({clock})") }
}

/// What a decoder must take of a frame at a rate.
pub(super) fn level_at(size: [u32; 2], rate: &str) -> Question {
    Question::new(format!("decoder level of {} at {rate}", size_text(size)), || {
        Ok(Calculation::Levels(raster(size)?, FrameRate::spoken(rate)?))
    })
}

/// What a decoder must take.
pub(super) fn level(parts: &Parts<'_>) -> Option<Question> {
    let size = parts.size()?;
    Some(match parts.rate() {
        Some(rate) => level_at(size, rate),
        None => ["50", "60"]
            .into_iter()
            .fold(level_at(size, "25"), |question, rate| question.or_all(level_at(size, rate)))
            .noting("no rate was said; 25, 50 and 60 are answered"),
    })
}

/// Bytes, a running time and a bit rate: two of them give the third.
pub(super) fn weight(parts: &Parts<'_>) -> Option<Question> {
    let video = parts.take(|word| if let Word::Megabits(text) = word { Some(text.as_str()) } else { None });
    let seconds = parts.take(|word| if let Word::Seconds(text) = word { Some(text.as_str()) } else { None });
    let bytes = parts.take(|word| if let Word::Gigabytes(text) = word { Some(text.as_str()) } else { None });
    let audio = parts.take(|word| if let Word::Kilobits(text) = word { Some(text.as_str()) } else { None });
    let (audio, size) = (audio.unwrap_or("0"), parts.size());
    let rate = parts.rate();
    let (frame, fps) = (size.unwrap_or([1920, 1080]), rate.unwrap_or("25"));
    // Thousand millions of bytes are so many millions of bits, less those of the sound.
    let bits = |bytes: &str| Some(value(bytes)? * Exact::whole(8_000));
    let sound = value(audio)? / Exact::whole(1_000);
    let (mut lead, said_long) = (None, seconds.is_some());
    let (seconds, video) = match (seconds, video, bytes) {
        (Some(seconds), Some(video), _) => (seconds.to_owned(), video.to_owned()),
        (Some(seconds), None, Some(bytes)) => {
            let length = value(seconds).filter(Exact::is_positive)?;
            let video = bits(bytes)? / length - &sound;
            if video.is_negative() {
                return None;
            }
            lead = Some(format!("{} Mbit/s.", video.to_short_decimal(4)));
            (seconds.to_owned(), writable_text(&video))
        }
        (None, Some(video), Some(bytes)) => {
            let flow = value(video).map(|video| video + &sound).filter(Exact::is_positive)?;
            let seconds = bits(bytes)? / flow;
            lead = Some(format!("{}.", running(&seconds)));
            (writable_text(&seconds), video.to_owned())
        }
        // A bit rate alone is weighed for an hour.
        (None, Some(video), None) => ("3600".to_owned(), video.to_owned()),
        _ => return None,
    };
    let long = value(&seconds).map_or_else(|| seconds.clone(), |value| value.to_short_decimal(3));
    let fast = value(&video).map_or_else(|| video.clone(), |value| value.to_short_decimal(4));
    let understood = match (bytes, &lead) {
        (Some(bytes), Some(_)) if said_long => format!("{bytes} GB in {long} s"),
        (Some(bytes), Some(_)) => format!("{bytes} GB with {fast} Mbit/s"),
        _ => format!("{long} s of {} at {fps} with {fast} Mbit/s", size_text(frame)),
    };
    let mut question = Question::new(understood, || {
        let (seconds, video, audio) = (Seconds::parse(&seconds)?, Megabits::parse(&video)?, Kilobits::parse(audio)?);
        Ok(Calculation::Weight(raster(frame)?, FrameRate::spoken(fps)?, seconds, video, audio))
    });
    question.lead = lead;
    Some(match (size, rate) {
        (Some(_), Some(_)) => question,
        _ => question.noting(format!("bits per pixel are those of {} at {fps}", size_text(frame))),
    })
}
