//! [`Calculation`]: every single calculation, and its answer.

use crate::cadence::{Cadence, Intent};
use crate::chain::Chain;
use crate::checks::{self, Checked};
use crate::common::Common;
use crate::levels::Levels;
use crate::proxy::Proxies;
use crate::recipe::{Chroma, Recipe};
use crate::space::{Axes, Delivery, Factor, Stored};
use crate::sphere::{
    EquirectangularFrame, EyeSize, Layout, Span, SphereLevel, SphereLevelRequest, SpherePlace, SpherePlaceRequest,
    SphereView, SphereViewRequest,
};
use crate::subject::{Around, Room, Subject};
use crate::typing::{ToType, TypingProfile};
use crate::viewing::{Screen, Show, Viewing};
use crate::weight::{Kilobits, Megabits, Seconds, Weight};
use crate::{
    DeliveryFrame, Desqueeze, DesqueezeRequest, Enlargement, Error, Extraction, ExtractionRequest, Finding, FrameRate,
    Framing, Raster, Source, Step, Tolerance,
};

/// A frame with the framing of a picture in it.
pub type PlacedFrame = (DeliveryFrame, Framing);

/// What is asked.
#[derive(Clone, Debug)]
pub enum Calculation {
    /// One source into one delivery frame.
    Conversion(Source, DeliveryFrame, Framing, Tolerance),
    /// A frame of a ratio out of a container.
    Extraction(ExtractionRequest),
    /// Stored pixels made into square ones.
    Desqueeze(DesqueezeRequest),
    /// The factors from one frame to another.
    Scale(Raster<Delivery>, Raster<Delivery>),
    /// What becomes of the frames of one rate at another.
    Cadence(FrameRate, FrameRate, Intent),
    /// A picture through working frames, at least one.
    Chain(Source, Vec<PlacedFrame>),
    /// Smaller working copies.
    Proxy(Raster<Stored>, Step),
    /// A frame around a subject.
    Subject(Source, Subject, DeliveryFrame, Framing, Room),
    /// What to type into a program for one source in one frame.
    Typing(Source, DeliveryFrame, Framing, TypingProfile),
    /// What several frames show of one picture.
    Common(Source, Vec<PlacedFrame>),
    /// Sizes of an equirectangular frame, with the levels at a rate.
    SphereFrame(EyeSize, Span, Layout, Step, Option<FrameRate>),
    /// A flat view out of a sphere.
    SphereView(SphereViewRequest),
    /// A flat picture onto a sphere.
    SpherePlace(SpherePlaceRequest),
    /// The turn that levels a sphere.
    SphereLevel(SphereLevelRequest),
    /// What a decoder must take.
    Levels(Raster<Delivery>, FrameRate),
    /// A delivered frame on a screen.
    Viewing(DeliveryFrame, Raster<Screen>, Show),
    /// How many bytes a delivery has.
    Weight(Raster<Delivery>, FrameRate, Seconds, Megabits, Kilobits),
    /// A conversion in whole pixels, ready to be carried out.
    Recipe(Source, DeliveryFrame, Framing, Chroma),
}

/// What comes of it, under the name of the question.
#[derive(Clone, Debug)]
pub enum Answer {
    /// How the source lands in the frame.
    Conversion(Box<Checked>),
    /// The frame of that ratio.
    Extraction(Box<Extraction>),
    /// Both ways of making it square.
    Desqueeze(Box<Desqueeze>),
    /// The factors.
    Scale(Box<Enlargement>),
    /// What becomes of the frames.
    Cadence(Box<Cadence>),
    /// What is left of the picture.
    Chain(Box<Chain>),
    /// The working copies.
    Proxy(Box<Proxies>),
    /// The frame around it, and what there is to say about its plan.
    Subject(Box<Around>, Vec<Finding>),
    /// The numbers to type, and what may still be pushed in.
    Typing(Box<ToType>, Axes<Factor>),
    /// What they have in common.
    Common(Box<Common>),
    /// The sizes, and the levels where a rate was given.
    SphereFrame(Box<EquirectangularFrame>, Option<Levels>),
    /// What is seen.
    SphereView(Box<SphereView>),
    /// Where it lands.
    SpherePlace(Box<SpherePlace>),
    /// The turn.
    SphereLevel(Box<SphereLevel>),
    /// The levels.
    Levels(Levels),
    /// What is seen on the screen.
    Viewing(Box<Viewing>),
    /// The bytes.
    Weight(Box<Weight>),
    /// What to do, in order.
    Recipe(Box<Recipe>),
}

impl Calculation {
    /// The answer.
    ///
    /// # Errors
    /// What the values do not allow together, at the parameter that caused it. For a chain also the place of
    /// the step.
    pub fn answer(self) -> Result<Answer, (Option<usize>, Error)> {
        let plain = |error: Error| (None, error);
        Ok(match self {
            Self::Conversion(source, frame, framing, tolerance) => {
                Answer::Conversion(Box::new(Checked::within(&source, &frame, &framing, &tolerance)))
            }
            Self::Extraction(request) => Answer::Extraction(Box::new(Extraction::of(&request).map_err(plain)?)),
            Self::Desqueeze(request) => Answer::Desqueeze(Box::new(Desqueeze::of(&request).map_err(plain)?)),
            Self::Scale(from, to) => Answer::Scale(Box::new(Enlargement::of(from, to))),
            Self::Cadence(from, to, intent) => Answer::Cadence(Box::new(Cadence::of(&from, &to, intent))),
            Self::Chain(source, steps) => {
                let chain = Chain::of(&source, &steps).map_err(|(place, error)| (Some(place), error))?;
                Answer::Chain(Box::new(chain))
            }
            Self::Proxy(raster, step) => Answer::Proxy(Box::new(Proxies::of(raster, step).map_err(plain)?)),
            Self::Typing(source, frame, framing, profile) => {
                let plan = crate::Plan::of(&source, &frame, &framing);
                Answer::Typing(Box::new(ToType::of(&profile, &source, &frame, &plan)), plan.reserve)
            }
            Self::Subject(source, subject, frame, framing, room) => {
                let around = Around::of(&source, &frame, &framing, &subject, &room);
                let findings = checks::of(&around.plan, &frame, &around.framing, &Tolerance::default());
                Answer::Subject(Box::new(around), findings)
            }
            Self::Common(source, frames) => Answer::Common(Box::new(Common::of(&source, &frames))),
            Self::SphereFrame(size, span, layout, step, rate) => {
                let sphere = EquirectangularFrame::of(&size, &span, layout, step).map_err(plain)?;
                let levels = rate.map(|rate| Levels::of(sphere.frame, &rate));
                Answer::SphereFrame(Box::new(sphere), levels)
            }
            Self::SphereView(request) => Answer::SphereView(Box::new(SphereView::of(&request))),
            Self::SpherePlace(request) => Answer::SpherePlace(Box::new(SpherePlace::of(&request))),
            Self::SphereLevel(request) => Answer::SphereLevel(Box::new(SphereLevel::of(&request).map_err(plain)?)),
            Self::Levels(frame, rate) => Answer::Levels(Levels::of(frame, &rate)),
            Self::Viewing(frame, screen, show) => Answer::Viewing(Box::new(Viewing::of(&frame, screen, show))),
            Self::Weight(frame, rate, seconds, video, audio) => {
                Answer::Weight(Box::new(Weight::of(frame, &rate, &seconds, &video, &audio)))
            }
            Self::Recipe(source, frame, framing, chroma) => {
                Answer::Recipe(Box::new(Recipe::of(&source, &frame, &framing, chroma).map_err(plain)?))
            }
        })
    }
}
