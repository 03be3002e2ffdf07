//! From words to a calculation.

use ratiomet_core::cadence::Intent;
use ratiomet_core::calculation::Calculation;
use ratiomet_core::space::Delivery;
use ratiomet_core::sphere::{EyeSize, FieldOfView, Latitude, Layout, Span, SphereViewRequest, Turn};
use ratiomet_core::viewing::Show;
use ratiomet_core::weight::{Kilobits, Megabits, Seconds};
use ratiomet_core::{
    DeliveryFrame, DesqueezeRequest, DisplayRatio, Error, Exact, ExtractionRequest, FrameRate, Keep, PixelAspect,
    Raster, Rounding, Squeeze, Step,
};

use super::words::{Key, Word};

/// What is asked: how it was understood, and the calculation, or what it would accept.
pub(super) struct Question {
    pub understood: String,
    pub calculation: Result<Calculation, Error>,
}

impl Question {
    fn new(understood: String, calculation: impl FnOnce() -> Result<Calculation, Error>) -> Option<Self> {
        Some(Self { understood, calculation: calculation() })
    }
}

/// Everything of one sort, in the order of the question.
struct Parts<'a> {
    words: &'a [Word],
    sizes: Vec<[u32; 2]>,
    ratios: Vec<&'a str>,
    factors: Vec<&'a str>,
    numbers: Vec<&'a str>,
    rates: Vec<&'a str>,
    seconds: Vec<&'a str>,
    megabits: Vec<&'a str>,
    kilobits: Vec<&'a str>,
    keys: Vec<Key>,
}

impl<'a> Parts<'a> {
    fn of(words: &'a [Word]) -> Self {
        let mut parts = Self {
            words,
            sizes: Vec::new(),
            ratios: Vec::new(),
            factors: Vec::new(),
            numbers: Vec::new(),
            rates: Vec::new(),
            seconds: Vec::new(),
            megabits: Vec::new(),
            kilobits: Vec::new(),
            keys: Vec::new(),
        };
        for word in words {
            match word {
                Word::Size(size) => parts.sizes.push(*size),
                Word::Ratio(text) => parts.ratios.push(text),
                Word::Factor(text) => parts.factors.push(text),
                Word::Number(text) => parts.numbers.push(text),
                Word::Rate(text) => parts.rates.push(text),
                Word::Seconds(text) => parts.seconds.push(text),
                Word::Megabits(text) => parts.megabits.push(text),
                Word::Kilobits(text) => parts.kilobits.push(text),
                Word::Key(key) => parts.keys.push(*key),
                Word::Other(_) => {}
            }
        }
        parts
    }

    fn has(&self, key: Key) -> bool {
        self.keys.contains(&key)
    }

    /// The ratio that is meant: with a colon, or a bare number.
    fn ratio(&self) -> Option<&'a str> {
        self.ratios.first().or(self.numbers.first()).copied()
    }

    fn rate(&self, at: usize) -> Option<&'a str> {
        self.rates.get(at).or_else(|| self.numbers.get(at.checked_sub(self.rates.len())?)).copied()
    }

    /// The number that stands next to a word of the grammar, the one before it first.
    fn beside(&self, key: Key) -> Option<&'a str> {
        let at = self.words.iter().position(|word| *word == Word::Key(key))?;
        let number = |at: usize| match self.words.get(at) {
            Some(Word::Number(text)) => Some(text.as_str()),
            _ => None,
        };
        at.checked_sub(1).and_then(number).or_else(|| number(at + 1))
    }
}

fn raster<S>([width, height]: [u32; 2]) -> Result<Raster<S>, Error> {
    Raster::new(width, height)
}

fn size_text([width, height]: [u32; 2]) -> String {
    format!("{width}×{height}")
}

/// What is asked; none for what is no question.
pub(super) fn of(words: &[Word]) -> Option<Question> {
    let parts = Parts::of(words);
    if parts.has(Key::Sphere) {
        sphere(&parts)
    } else if parts.has(Key::Level) {
        let (size, rate) = (*parts.sizes.first()?, parts.rate(0)?);
        let understood = format!("decoder level of {} at {rate}", size_text(size));
        Question::new(understood, || Ok(Calculation::Levels(raster(size)?, FrameRate::spoken(rate)?)))
    } else if !parts.megabits.is_empty() {
        weight(&parts)
    } else if parts.has(Key::Screen) {
        screen(&parts)
    } else if let Some(squeeze) = parts.factors.first() {
        squeezed(&parts, squeeze)
    } else if parts.sizes.is_empty() {
        rates(&parts)
    } else if let [from, to] = parts.sizes[..] {
        let understood = format!("{} into {}", size_text(from), size_text(to));
        Question::new(understood, || Ok(Calculation::Scale(raster(from)?, raster(to)?)))
    } else {
        one_size(&parts)
    }
}

fn weight(parts: &Parts<'_>) -> Option<Question> {
    let (size, rate, seconds) = (*parts.sizes.first()?, parts.rate(0)?, parts.seconds.first()?);
    let video = parts.megabits.first()?;
    let audio = parts.kilobits.first().unwrap_or(&"0");
    let understood = format!("{seconds} s of {} at {rate} with {video} Mbit/s", size_text(size));
    Question::new(understood, || {
        let (seconds, video, audio) = (Seconds::parse(seconds)?, Megabits::parse(video)?, Kilobits::parse(audio)?);
        Ok(Calculation::Weight(raster(size)?, FrameRate::spoken(rate)?, seconds, video, audio))
    })
}

fn screen(parts: &Parts<'_>) -> Option<Question> {
    let [frame, screen] = parts.sizes[..] else { return None };
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
    let (from, to) = (parts.rate(0)?, parts.rate(1)?);
    if !(parts.has(Key::At) || parts.has(Key::Into) || parts.has(Key::From)) {
        return None;
    }
    let (intent, how) =
        if parts.has(Key::Slow) { (Intent::EveryFrame, ", every frame once") } else { (Intent::RealTime, "") };
    let understood = format!("{from} fps shown at {to} fps{how}");
    Question::new(understood, || Ok(Calculation::Cadence(FrameRate::spoken(from)?, FrameRate::spoken(to)?, intent)))
}

fn sphere(parts: &Parts<'_>) -> Option<Question> {
    let width = parts.beside(Key::Sphere).or(parts.numbers.first().copied());
    let width = width.and_then(|number| number.parse::<u32>().ok());
    if !parts.has(Key::View) {
        let width = parts.sizes.first().map(|[width, _]| *width).or(width)?;
        let rate = parts.rates.first().copied();
        return Question::new(format!("a sphere {width} pixels wide"), || {
            // A width is held to what a side of a frame may be.
            raster::<Delivery>([width, 1])?;
            let rate = rate.map(FrameRate::spoken).transpose()?;
            Ok(Calculation::SphereFrame(EyeSize::Width(width), Span::FULL, Layout::default(), Step::Two, rate))
        });
    }
    let (eye, view) = match parts.sizes[..] {
        [eye, view] => (eye, view),
        [view] => (width.map(|width| [width, width.div_ceil(2)])?, view),
        _ => return None,
    };
    let fov = parts.beside(Key::View).or_else(|| parts.numbers.last().copied())?;
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

fn squeezed(parts: &Parts<'_>, squeeze: &str) -> Option<Question> {
    let mut ratios = parts.ratios.iter().chain(&parts.numbers).copied();
    // A sensor by its shape alone is taken a thousand lines high.
    let (size, shape) = match parts.sizes.first() {
        Some(size) => (*size, size_text(*size)),
        None => {
            let shape = ratios.next()?;
            let value = DisplayRatio::parse(shape).ok()?;
            let width = (value.value() * Exact::whole(1_000)).to_decimal(0).parse().ok()?;
            ([width, 1_000], format!("{shape} (as {width}×1000)"))
        }
    };
    let target = ratios.next();
    let into = target.map(|target| format!(" into {target}")).unwrap_or_default();
    Question::new(format!("{squeeze}x squeeze on {shape}{into}"), || {
        Ok(Calculation::Desqueeze(DesqueezeRequest {
            raster: raster(size)?,
            pixel_aspect: PixelAspect::SQUARE,
            squeeze: Squeeze::parse(squeeze)?,
            target: target.map(DisplayRatio::parse).transpose()?,
            step: Step::Two,
            rounding: Rounding::Down,
        }))
    })
}

fn one_size(parts: &Parts<'_>) -> Option<Question> {
    let size = *parts.sizes.first()?;
    let ratio = parts.ratio()?;
    // A shape written behind the size with a colon speaks of its pixels, unless "in" or "from" says otherwise.
    let behind = matches!(parts.words, [.., Word::Size(_), Word::Ratio(_)]);
    let related = parts.has(Key::From) || parts.has(Key::Into);
    if behind && !related {
        return Question::new(format!("{} with {ratio} pixels", size_text(size)), || {
            Ok(Calculation::Desqueeze(DesqueezeRequest {
                raster: raster(size)?,
                pixel_aspect: PixelAspect::parse(ratio)?,
                squeeze: Squeeze::NONE,
                target: None,
                step: Step::Two,
                rounding: Rounding::Down,
            }))
        });
    }
    let keep = match (parts.has(Key::High), parts.has(Key::Wide)) {
        (true, false) => Keep::Width,
        (false, true) => Keep::Height,
        _ => Keep::Inside,
    };
    Question::new(format!("{ratio} out of {}", size_text(size)), || {
        Ok(Calculation::Extraction(ExtractionRequest {
            container: raster(size)?,
            pixel_aspect: PixelAspect::SQUARE,
            ratio: DisplayRatio::parse(ratio)?,
            keep,
            step: Step::Two,
            rounding: Rounding::Down,
        }))
    })
}
