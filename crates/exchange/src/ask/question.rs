//! From words to a calculation.

use std::cell::RefCell;

use ratiomet_core::cadence::Intent;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::space::{Delivery, Stored};
use ratiomet_core::sphere::{EyeSize, FieldOfView, Latitude, Layout, Span, SphereViewRequest, Turn};
use ratiomet_core::viewing::Show;
use ratiomet_core::weight::{Kilobits, Megabits, Seconds};
use ratiomet_core::{
    DeliveryFrame, DesqueezeRequest, DisplayRatio, Error, Exact, ExtractionRequest, FrameRate, Framing, Insets, Keep,
    Method, PixelAspect, Raster, Rotation, Rounding, Source, Squeeze, Step, Tolerance,
};

use super::words::{Key, Word};

/// What is asked: how it was understood, and the calculation, or what it would accept.
pub(super) struct Question {
    pub understood: String,
    pub calculation: Result<Calculation, Error>,
    /// What was taken for granted.
    pub remarks: Vec<String>,
}

impl Question {
    fn new(understood: String, calculation: impl FnOnce() -> Result<Calculation, Error>) -> Option<Self> {
        Some(Self { understood, calculation: calculation(), remarks: Vec::new() })
    }

    fn noting(mut self, remark: impl Into<String>) -> Self {
        self.remarks.push(remark.into());
        self
    }
}

/// The words of a question, of which each is used once.
pub(super) struct Parts<'a> {
    words: &'a [Word],
    used: RefCell<Vec<bool>>,
}

impl<'a> Parts<'a> {
    pub fn of(words: &'a [Word]) -> Self {
        Self { words, used: RefCell::new(vec![false; words.len()]) }
    }

    /// The values and unknown words that no answer has used, as they were written.
    pub fn unused(&self) -> Vec<String> {
        let used = self.used.borrow();
        let left = self.words.iter().zip(used.iter()).filter(|(_, used)| !**used);
        left.filter_map(|(word, _)| word.text()).collect()
    }

    fn has(&self, key: Key) -> bool {
        self.words.contains(&Word::Key(key))
    }

    fn any(&self, keys: &[Key]) -> bool {
        keys.iter().any(|key| self.has(*key))
    }

    /// The next word that is not used and holds such a value.
    fn take<T>(&self, value: impl Fn(&'a Word) -> Option<T>) -> Option<T> {
        let mut used = self.used.borrow_mut();
        let (at, found) = self
            .words
            .iter()
            .enumerate()
            .filter(|(at, _)| !used[*at])
            .find_map(|(at, word)| Some((at, value(word)?)))?;
        used[at] = true;
        Some(found)
    }

    fn count(&self, is: impl Fn(&Word) -> bool) -> usize {
        self.words.iter().filter(|word| is(word)).count()
    }

    fn sizes(&self) -> usize {
        self.count(|word| matches!(word, Word::Size(_)))
    }

    fn size(&self) -> Option<[u32; 2]> {
        self.take(|word| if let Word::Size(size) = word { Some(*size) } else { None })
    }

    fn number(&self) -> Option<&'a str> {
        self.take(|word| if let Word::Number(text) = word { Some(text.as_str()) } else { None })
    }

    /// A ratio: with a colon, or else a bare number.
    fn ratio(&self) -> Option<&'a str> {
        let colon = self.take(|word| if let Word::Ratio(text) = word { Some(text.as_str()) } else { None });
        colon.or_else(|| self.number())
    }

    fn rate(&self) -> Option<&'a str> {
        self.take(|word| match word {
            Word::Rate(text) | Word::Number(text) => Some(text.as_str()),
            // 24000/1001 is a rate too.
            Word::Ratio(text) if text.contains('/') => Some(text.as_str()),
            _ => None,
        })
    }

    fn said_rate(&self) -> Option<&'a str> {
        self.take(|word| if let Word::Rate(text) = word { Some(text.as_str()) } else { None })
    }

    fn factor(&self) -> Option<&'a str> {
        self.take(|word| if let Word::Factor(text) = word { Some(text.as_str()) } else { None })
    }

    /// The place of the first word that is like this.
    fn place(&self, is: impl Fn(&Word) -> bool) -> Option<usize> {
        self.words.iter().position(is)
    }

    /// The number that stands next to a word of the grammar, the one before it first.
    fn beside(&self, key: Key) -> Option<&'a str> {
        let at = self.place(|word| *word == Word::Key(key))?;
        let number = |at: usize| match self.words.get(at) {
            Some(Word::Number(text)) if !self.used.borrow()[at] => Some((at, text.as_str())),
            _ => None,
        };
        let (at, text) = at.checked_sub(1).and_then(number).or_else(|| number(at + 1))?;
        self.used.borrow_mut()[at] = true;
        Some(text)
    }

    /// Whether a word of the grammar stands right behind a number.
    fn behind_number(&self, key: Key) -> bool {
        self.words.windows(2).any(|pair| matches!(pair, [Word::Number(_), Word::Key(found)] if *found == key))
    }

    /// Whether the first size comes out of the second one.
    fn reversed(&self) -> bool {
        let mut sizes = self.words.iter().enumerate().filter(|(_, word)| matches!(word, Word::Size(_)));
        let (Some((first, _)), Some((second, _))) = (sizes.next(), sizes.next()) else { return false };
        let between = &self.words[first..second];
        between.contains(&Word::Key(Key::From))
            || (self.words[..first].contains(&Word::Key(Key::Into)) && between.contains(&Word::Key(Key::From)))
    }

    /// The two sizes, from the one into the other: "B from A" is "A into B".
    fn both_sizes(&self) -> Option<([u32; 2], [u32; 2])> {
        let reversed = self.reversed();
        let (one, other) = (self.size()?, self.size()?);
        Some(if reversed { (other, one) } else { (one, other) })
    }
}

fn raster<S>([width, height]: [u32; 2]) -> Result<Raster<S>, Error> {
    Raster::new(width, height)
}

fn size_text([width, height]: [u32; 2]) -> String {
    format!("{width}×{height}")
}

fn value(text: &str) -> Option<Exact> {
    ratiomet_core::fraction::parse(text, ratiomet_core::fraction::Sign::Never).ok()
}

/// What is asked; none for what is no question.
pub(super) fn of(parts: &Parts<'_>) -> Option<Question> {
    let factors = parts.count(|word| matches!(word, Word::Factor(_)));
    let sizes = parts.sizes();
    if parts.any(&[Key::Sphere, Key::View]) {
        sphere(parts)
    } else if parts.has(Key::Level) {
        let (size, rate) = (parts.size()?, parts.rate()?);
        let understood = format!("decoder level of {} at {rate}", size_text(size));
        Question::new(understood, || Ok(Calculation::Levels(raster(size)?, FrameRate::spoken(rate)?)))
    } else if parts.count(|word| matches!(word, Word::Megabits(_) | Word::Kilobits(_))) > 0 {
        weight(parts)
    } else if parts.has(Key::Screen) {
        screen(parts)
    } else if parts.has(Key::Proxy) {
        let size = parts.size()?;
        Question::new(format!("proxies of {}", size_text(size)), || {
            Ok(Calculation::Proxy(raster::<Stored>(size)?, Step::Two))
        })
    } else if factors > 0 || (parts.has(Key::Squeeze) && parts.count(|word| matches!(word, Word::Number(_))) > 0) {
        squeezed(parts)
    } else if sizes >= 2 && parts.any(&[Key::Room, Key::Fill, Key::Fit, Key::Rotate]) {
        placed(parts)
    } else if sizes == 1 && (parts.has(Key::Half) || parts.count(|word| matches!(word, Word::Percent(_))) > 0) {
        share(parts)
    } else if sizes == 0 {
        without_size(parts)
    } else if sizes >= 2 {
        let (from, to) = parts.both_sizes()?;
        let understood = format!("{} into {}", size_text(from), size_text(to));
        Question::new(understood, || Ok(Calculation::Scale(raster(from)?, raster(to)?)))
    } else {
        one_size(parts)
    }
}

fn weight(parts: &Parts<'_>) -> Option<Question> {
    let video = parts.take(|word| if let Word::Megabits(text) = word { Some(text.as_str()) } else { None })?;
    let seconds = parts.take(|word| if let Word::Seconds(text) = word { Some(text.as_str()) } else { None })?;
    let audio = parts.take(|word| if let Word::Kilobits(text) = word { Some(text.as_str()) } else { None });
    let (audio, size) = (audio.unwrap_or("0"), parts.size());
    let rate = parts.rate();
    let (frame, fps) = (size.unwrap_or([1920, 1080]), rate.unwrap_or("25"));
    let understood = format!("{seconds} s of {} at {fps} with {video} Mbit/s", size_text(frame));
    let question = Question::new(understood, || {
        let (seconds, video, audio) = (Seconds::parse(seconds)?, Megabits::parse(video)?, Kilobits::parse(audio)?);
        Ok(Calculation::Weight(raster(frame)?, FrameRate::spoken(fps)?, seconds, video, audio))
    })?;
    Some(match (size, rate) {
        (Some(_), Some(_)) => question,
        _ => question.noting(format!("bits per pixel are those of {} at {fps}", size_text(frame))),
    })
}

fn screen(parts: &Parts<'_>) -> Option<Question> {
    let (frame, screen) = (parts.size()?, parts.size()?);
    let ratio = parts.ratio();
    let picture = ratio.map(|ratio| format!(" with a {ratio} picture")).unwrap_or_default();
    let understood = format!("{}{picture} on a {} screen", size_text(frame), size_text(screen));
    Question::new(understood, || {
        let ratio = ratio.map(DisplayRatio::parse).transpose()?;
        let frame = DeliveryFrame::new(raster::<Delivery>(frame)?, PixelAspect::SQUARE, ratio, Step::Two)?;
        Ok(Calculation::Viewing(frame, raster(screen)?, Show::default()))
    })
}

fn rates(parts: &Parts<'_>) -> Option<Question> {
    if !parts.any(&[Key::At, Key::Into, Key::From, Key::In, Key::Slow]) {
        return None;
    }
    let reversed = parts.has(Key::From) && !parts.any(&[Key::At, Key::Into, Key::In]);
    let (one, other) = (parts.rate()?, parts.rate()?);
    let (from, to) = if reversed { (other, one) } else { (one, other) };
    let (intent, how) =
        if parts.has(Key::Slow) { (Intent::EveryFrame, ", every frame once") } else { (Intent::RealTime, "") };
    let understood = format!("{from} fps shown at {to} fps{how}");
    Question::new(understood, || Ok(Calculation::Cadence(FrameRate::spoken(from)?, FrameRate::spoken(to)?, intent)))
}

/// Numbers alone: rates, a side and a ratio, or a pocket calculator.
fn without_size(parts: &Parts<'_>) -> Option<Question> {
    let numbers: Vec<&str> = parts
        .words
        .iter()
        .filter_map(|word| match word {
            Word::Number(text) | Word::Ratio(text) => Some(text.as_str()),
            _ => None,
        })
        .collect();
    let rates_said = parts.count(|word| matches!(word, Word::Rate(_)));
    if let ([only], 0) = (&numbers[..], rates_said) {
        // 1920/2.35 in one word.
        let (side, ratio) = only.split_once('/')?;
        let (side, ratio) = (value(side).filter(|side| *side >= Exact::whole(100))?, ratio);
        let across = u32::try_from(side.ceil_whole()).ok()?;
        parts.ratio()?;
        return if value(ratio)? < Exact::whole(16) {
            side_and_ratio(Side::Width(across), ratio)
        } else {
            ratio_of([across, ratio.parse().ok()?])
        };
    }
    let is_side =
        |text: &str| value(text).is_some_and(|value| value >= Exact::whole(100)) && text.parse::<u32>().is_ok();
    let [one, other] = numbers[..] else { return rates(parts) };
    let asks = |key| parts.has(Key::How) && parts.has(key);
    match (is_side(one), is_side(other)) {
        _ if rates_said > 0 => rates(parts),
        (true, true) if parts.any(&[Key::Over, Key::RatioOf, Key::Times]) => {
            let (width, height) = (parts.number()?.parse().ok()?, parts.number()?.parse().ok()?);
            ratio_of([width, height])
        }
        (side, other_side) if side != other_side => {
            let (side, ratio) = if side { (one, other) } else { (other, one) };
            // 60 at 24, or 120 at 24: no side is that small.
            if parts.has(Key::Slow) || value(ratio)? >= Exact::whole(16) {
                return rates(parts);
            }
            let pixels: u32 = side.parse().ok()?;
            let held = if parts.has(Key::Over)
                || asks(Key::High)
                || (!parts.has(Key::How) && parts.behind_number(Key::Wide))
            {
                Side::Width(pixels)
            } else if parts.has(Key::Times)
                || asks(Key::Wide)
                || (!parts.has(Key::How) && parts.behind_number(Key::High))
            {
                Side::Height(pixels)
            } else if parts.has(Key::High) || !HEIGHTS.contains(&pixels) {
                Side::Width(pixels)
            } else {
                Side::Height(pixels)
            };
            parts.take(|word| matches!(word, Word::Number(text) if text == side).then_some(()));
            parts.ratio()?;
            side_and_ratio(held, ratio)
        }
        _ => rates(parts),
    }
}

/// Heights by which rasters are called; other sides are widths.
const HEIGHTS: [u32; 10] = [480, 486, 540, 576, 720, 858, 1080, 1440, 2160, 4320];

/// A side that is held.
enum Side {
    Width(u32),
    Height(u32),
}

fn side_and_ratio(held: Side, ratio: &str) -> Option<Question> {
    let number = value(ratio).filter(Exact::is_positive)?;
    let up = |value: Exact| u32::try_from(value.ceil_whole()).unwrap_or(u32::MAX).max(1);
    let (container, keep, understood) = match held {
        Side::Width(width) => {
            ([width, up(Exact::whole(width) / &number)], Keep::Width, format!("{ratio}, {width} pixels wide"))
        }
        Side::Height(height) => {
            ([up(Exact::whole(height) * &number), height], Keep::Height, format!("{ratio}, {height} lines high"))
        }
    };
    extraction(understood, container, ratio, keep)
}

fn extraction(understood: String, container: [u32; 2], ratio: &str, keep: Keep) -> Option<Question> {
    Question::new(understood, || {
        Ok(Calculation::Extraction(ExtractionRequest {
            container: raster(container)?,
            pixel_aspect: PixelAspect::SQUARE,
            ratio: DisplayRatio::parse(ratio)?,
            keep,
            step: Step::Two,
            rounding: Rounding::Down,
        }))
    })
}

fn shaped(understood: String, size: [u32; 2], aspect: &str) -> Option<Question> {
    Question::new(understood, || {
        Ok(Calculation::Desqueeze(DesqueezeRequest {
            raster: raster(size)?,
            pixel_aspect: PixelAspect::parse(aspect)?,
            squeeze: Squeeze::NONE,
            target: None,
            step: Step::Two,
            rounding: Rounding::Down,
        }))
    })
}

fn ratio_of(size: [u32; 2]) -> Option<Question> {
    shaped(format!("the ratio of {}", size_text(size)), size, "1")
}

/// A part of a size: half of it, or so many percent.
fn share(parts: &Parts<'_>) -> Option<Question> {
    let size = parts.size()?;
    let percent = parts.take(|word| if let Word::Percent(text) = word { Some(text.as_str()) } else { None });
    let share = percent.map_or(Some(Exact::fraction(50, 1)), value)?;
    // On whole pairs of pixels.
    let side = |side: u32| {
        let pairs = (Exact::whole(side) * &share / Exact::whole(200) + Exact::fraction(1, 2)).reduced();
        u32::try_from(pairs.floor_whole().saturating_mul(2)).unwrap_or(u32::MAX).max(2)
    };
    let words = percent.map_or_else(|| "half".to_owned(), |percent| format!("{percent} %"));
    Question::new(format!("{words} of {}", size_text(size)), || {
        Ok(Calculation::Scale(raster(size)?, raster([side(size[0]), side(size[1])])?))
    })
}

/// A frame placed in another one, by a method.
fn placed(parts: &Parts<'_>) -> Option<Question> {
    let turned = parts.has(Key::Rotate);
    let (from, to) = parts.both_sizes()?;
    let (method, words) = if parts.has(Key::Fit) { (Method::Fit, "fitted into") } else { (Method::Fill, "filling") };
    let turn = if turned { ", rotated 90°" } else { "" };
    let understood = format!("{}{turn} {words} {}", size_text(from), size_text(to));
    Question::new(understood, || {
        let rotation = if turned { Rotation::Quarter } else { Rotation::None };
        let source = Source::new(raster(from)?, PixelAspect::SQUARE, Squeeze::NONE, Insets::default(), rotation)?;
        let frame = DeliveryFrame::new(raster(to)?, PixelAspect::SQUARE, None, Step::Two)?;
        Ok(Calculation::Conversion(source, frame, Framing::of(method), Tolerance::default()))
    })
}

fn sphere(parts: &Parts<'_>) -> Option<Question> {
    let thousands = || parts.take(|word| if let Word::Thousands(across) = word { Some(*across) } else { None });
    if !parts.has(Key::View) {
        let across = parts.beside(Key::Sphere).and_then(|text| text.parse::<u32>().ok());
        let across = across.or_else(thousands).or_else(|| parts.size().map(|[width, _]| width));
        let width = across.or_else(|| parts.number().and_then(|text| text.parse().ok()))?;
        let rate = parts.said_rate();
        let (layout, words) = match (parts.has(Key::SideBySide), parts.has(Key::TopBottom)) {
            (true, _) => (Layout::SideBySide, ", two eyes side by side"),
            (_, true) => (Layout::TopBottom, ", two eyes one above the other"),
            _ => (Layout::default(), ""),
        };
        return Question::new(format!("a sphere {width} pixels wide{words}"), || {
            // A width is held to what a side of a frame may be.
            raster::<Delivery>([width, 1])?;
            let rate = rate.map(FrameRate::spoken).transpose()?;
            Ok(Calculation::SphereFrame(EyeSize::Width(width), Span::FULL, layout, Step::Two, rate))
        });
    }
    let fov = parts.beside(Key::View);
    let across = parts.beside(Key::Sphere).and_then(|text| text.parse::<u32>().ok()).or_else(thousands);
    let sphere = |width: u32| [width, width.div_ceil(2)];
    let (eye, view) = match (parts.sizes(), across) {
        (2.., _) => {
            let reversed = parts.reversed();
            let (one, other) = (parts.size()?, parts.size()?);
            if reversed { (other, one) } else { (one, other) }
        }
        (1, Some(width)) => (sphere(width), parts.size()?),
        (1, None) => {
            let view = parts.size()?;
            let width = parts.number().and_then(|text| text.parse::<u32>().ok()).filter(|width| *width > 360)?;
            (sphere(width), view)
        }
        (_, Some(width)) => (sphere(width), [1920, 1080]),
        _ => return None,
    };
    let fov = fov.or_else(|| parts.number()).unwrap_or("90");
    let understood = format!("a {fov}° view, {}, out of a {} sphere", size_text(view), size_text(eye));
    Question::new(understood, || {
        Ok(Calculation::SphereView(SphereViewRequest {
            eye: raster(eye)?,
            span: Span::FULL,
            view: raster(view)?,
            fov: FieldOfView::parse(fov)?,
            yaw: Turn::NONE,
            pitch: Latitude::NONE,
            roll: Turn::NONE,
        }))
    })
}

fn squeezed(parts: &Parts<'_>) -> Option<Question> {
    let said = parts.factor();
    let size = parts.size();
    let squeeze = said.or_else(|| parts.number())?;
    // A sensor by its shape alone is taken a thousand lines high.
    let (size, shape) = match size {
        Some(size) => (size, size_text(size)),
        None => {
            let shape = parts.ratio()?;
            let value = DisplayRatio::parse(shape).ok()?;
            let width = (value.value() * Exact::whole(1_000)).to_decimal(0).parse().ok()?;
            ([width, 1_000], format!("{shape} (as {width}×1000)"))
        }
    };
    let target = parts.ratio().map(str::to_owned).or_else(|| {
        // Into a frame: its ratio.
        let [width, height] = parts.size()?;
        Some(format!("{width}:{height}"))
    });
    let into = target.as_ref().map(|target| format!(" into {target}")).unwrap_or_default();
    Question::new(format!("{squeeze}x squeeze on {shape}{into}"), || {
        Ok(Calculation::Desqueeze(DesqueezeRequest {
            raster: raster(size)?,
            pixel_aspect: PixelAspect::SQUARE,
            squeeze: Squeeze::parse(squeeze)?,
            target: target.as_deref().map(DisplayRatio::parse).transpose()?,
            step: Step::Two,
            rounding: Rounding::Down,
        }))
    })
}

/// The pixel shape with which a standard raster is seen at a ratio (ITU-T H.264, Table E-1), and the columns that
/// are picture.
fn standard(size: [u32; 2], ratio: &str) -> Option<(&'static str, [u32; 2])> {
    Some(match (size, ratio) {
        ([720, 576], "16:9") => ("16:11", [704, 576]),
        ([720, 576], "4:3") => ("12:11", [704, 576]),
        ([720, 480], "16:9") => ("40:33", [704, 480]),
        ([720, 480], "4:3") => ("10:11", [704, 480]),
        ([1440, 1080], "16:9" | "4:3") => ("4:3", [1440, 1080]),
        _ => return None,
    })
}

fn one_size(parts: &Parts<'_>) -> Option<Question> {
    let at = parts.place(|word| matches!(word, Word::Size(_)))?;
    let size = parts.size()?;
    let related = parts.any(&[Key::From, Key::In, Key::Into, Key::Fill, Key::Fit]);
    let behind = matches!(parts.words.get(at + 1), Some(Word::Ratio(_)));
    let first = || {
        parts.take(|word| match word {
            Word::Number(text) | Word::Ratio(text) => Some(text.as_str()),
            _ => None,
        })
    };
    let ratio = if related { first() } else { parts.ratio() };
    let Some(ratio) = ratio else {
        if parts.any(&[Key::Upright, Key::Rotate]) {
            let turned = [size[1], size[0]];
            return shaped(format!("{} turned upright: {}", size_text(size), size_text(turned)), turned, "1");
        }
        return ratio_of(size);
    };
    if let Some((aspect, picture)) = standard(size, ratio).filter(|_| !related) {
        let understood = format!("{} shown at {ratio}: pixels {aspect}", size_text(size));
        let question = shaped(understood, picture, aspect)?;
        return Some(if picture == size {
            question
        } else {
            question.noting(format!("{} of its {} columns are picture (ITU-R BT.601)", picture[0], size[0]))
        });
    }
    // A shape written behind the size with a colon speaks of its pixels, unless it is a ratio that is taken out.
    if (behind && !related) || parts.has(Key::PixelShape) {
        return shaped(format!("{} with {ratio} pixels", size_text(size)), size, ratio);
    }
    let keep = match (parts.has(Key::High), parts.has(Key::Wide)) {
        (true, false) => Keep::Width,
        (false, true) => Keep::Height,
        _ => Keep::Inside,
    };
    extraction(format!("{ratio} out of {}", size_text(size)), size, ratio, keep)
}
