//! [`Subject`]: the part of a picture that every frame should show, and placing frames around it with some room.

use crate::bounded::bounded;
use crate::error::Parameter;
use crate::fraction::{Sign, Written, writable, writable_text};
use crate::placement::Placement;
use crate::safe_area::Percent;
use crate::space::{Axes, Axis, Delivery, Rect, Size, Upright};
use crate::{DeliveryFrame, Error, Exact, Framing, Plan, Shift, Source, limits};

bounded! {
    /// A place or a length in a picture, as a share of its side.
    ///
    /// # Guarantees
    /// From 0 to 1.
    Share, limits::SHARE, Sign::Never
}

bounded! {
    /// What should stay free on each side of a subject, as a share of the frame's side.
    ///
    /// # Guarantees
    /// From 0 to 9/20.
    Margin, limits::MARGIN, Sign::Never
}

impl Default for Margin {
    /// A twentieth.
    fn default() -> Self {
        Self(Exact::fraction(1, 20))
    }
}

/// Where a subject should stand in a frame.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Room {
    /// What should stay free on each side, as a share of the picture area.
    pub margin: Margin,
    /// The safe area in which it should stand when it fits, as a percentage of the raster's sides.
    pub safe: Option<Percent>,
}

impl Room {
    /// The smallest of these along an axis that takes so much, and their last when none does: the safe area, the
    /// picture area less the margin, the picture area. All of them are in the middle of the frame.
    fn along(&self, axis: Axis, frame: &DeliveryFrame, length: &Exact) -> [Exact; 2] {
        let area = frame.picture_area().rect();
        let whole = area.size.along(axis);
        let safe = self.safe.as_ref().map(|percent| {
            let side = frame.raster().size().along(axis) * percent.value() / Exact::whole(100);
            side.min(whole.clone())
        });
        let free = whole - whole * self.margin.value() * Exact::whole(2);
        let held = safe.into_iter().chain([free]).find(|held| length <= held).unwrap_or_else(|| whole.clone());
        let centre = area.centre(axis);
        [&centre - held.half(), centre + held.half()]
    }
}

/// A box in a picture, in shares of its upright width and height; x to the right, y downwards.
///
/// # Guarantees
/// It has some area and lies inside the picture.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Subject {
    corner: [Share; 2],
    size: [Share; 2],
}

impl Subject {
    /// The box with this corner and size.
    ///
    /// # Errors
    /// [`Error::is_range`] at `width` or `height` when that is 0 or the box passes the picture.
    ///
    /// ```
    /// use ratiomet_core::subject::{Share, Subject};
    /// let share = |text| Share::parse(text).unwrap();
    /// assert!(Subject::new([share("0.5"), share("0")], [share("1/2"), share("1")]).is_ok());
    /// assert!(Subject::new([share("0.6"), share("0")], [share("1/2"), share("1")]).is_err());
    /// ```
    pub fn new(corner: [Share; 2], size: [Share; 2]) -> Result<Self, Error> {
        for (axis, name) in [(0, Parameter::Width), (1, Parameter::Height)] {
            let length = size[axis].value();
            if length.is_zero() || corner[axis].value() + length > Exact::ONE {
                return Err(Error::outside_picture().at(name));
            }
        }
        Ok(Self { corner, size })
    }

    /// The part of the picture area's side that a plan leaves free beside the box where that is least; under 0 when
    /// the box passes the area.
    pub fn free(&self, plan: &Plan) -> Exact {
        let area = plan.picture_area.rect();
        let [across, down] = Axis::BOTH.map(|axis| {
            let (image, at) = (plan.image.size.along(axis), usize::from(axis == Axis::Y));
            let start = plan.image.start(axis) + self.corner[at].value() * image;
            let end = &start + self.size[at].value() * image;
            (start - area.start(axis)).min(area.end(axis) - end) / area.size.along(axis)
        });
        across.min(down).reduced()
    }

    /// The box in the units of a picture of this size.
    pub fn within(&self, picture: &Size<Upright>) -> Rect<Upright> {
        let [x, y] = [&self.corner[0], &self.corner[1]].map(Share::value);
        let [width, height] = [&self.size[0], &self.size[1]].map(Share::value);
        Rect::new(x * &picture.width, y * &picture.height, Size::new(width * &picture.width, height * &picture.height))
    }
}

/// A subject with the spelling in which it was entered.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SubjectSpec {
    sides: [Written<Share>; 4],
    subject: Subject,
}

impl From<Subject> for SubjectSpec {
    fn from(subject: Subject) -> Self {
        let Subject { corner: [x, y], size: [width, height] } = subject.clone();
        let sides = [x, y, width, height].map(|side| Written::of(side, Share::value));
        Self { sides, subject }
    }
}

impl SubjectSpec {
    /// The subject of these shares: x, y, width and height.
    ///
    /// # Errors
    /// Those of [`Subject::new`].
    pub fn new(sides: [Written<Share>; 4]) -> Result<Self, Error> {
        let [x, y, width, height] = [0, 1, 2, 3].map(|side: usize| sides[side].value().clone());
        Ok(Self { subject: Subject::new([x, y], [width, height])?, sides })
    }

    /// The same box after the picture was turned clockwise, by so many quarters.
    ///
    /// ```
    /// use ratiomet_core::{fraction::Written, subject::{Share, SubjectSpec}};
    /// let sides = ["0.1", "0.2", "0.3", "0.5"].map(|side| Written::parse(side, Share::parse).unwrap());
    /// let turned = SubjectSpec::new(sides).unwrap().turned(1);
    /// assert_eq!(turned.texts(), ["0.3", "0.1", "0.5", "0.3"]);
    /// ```
    #[must_use]
    pub fn turned(&self, quarters: u32) -> Self {
        if quarters.is_multiple_of(4) {
            return self.clone();
        }
        let [x, y, width, height] = &self.sides;
        let left = Exact::ONE - y.value().value() - height.value().value();
        // OK because the box lies inside: what is left beside it is a share again.
        let left = Share::new(writable(&left)).map(|share| Written::plain(&writable_text(share.value()), share));
        let turned = left.and_then(|left| Self::new([left, x.clone(), height.clone(), width.clone()]));
        turned.map_or_else(|_| self.clone(), |turned| turned.turned(quarters - 1))
    }

    /// x, y, width and height.
    pub const fn sides(&self) -> &[Written<Share>; 4] {
        &self.sides
    }

    /// The spellings of x, y, width and height.
    pub fn texts(&self) -> [&str; 4] {
        [0, 1, 2, 3].map(|side: usize| self.sides[side].text())
    }

    /// The checked box.
    pub const fn subject(&self) -> &Subject {
        &self.subject
    }
}

/// A frame placed around a subject.
#[derive(Clone, Debug)]
pub struct Around {
    /// The framing: method and zoom as asked, the shift that was found.
    pub framing: Framing,
    /// What comes of it.
    pub plan: Plan,
    /// The part of the subject's area that the frame shows, 0 to 1; 1 when it is whole.
    pub shown: Exact,
    /// How far the subject's middle stands from that of the picture area, in delivery pixels right and down.
    pub off_middle: Axes<Delivery>,
    /// The part of the picture area's side that is free beside the subject where that is least; under 0 when
    /// the subject passes the area.
    pub free: Exact,
}

impl Around {
    /// The frame around the subject. The size is that of the framing: nothing is pushed in further
    /// than it asks. Each axis by itself, within the travel (so that no bar appears that was not there): the
    /// subject stands in the middle of the picture area, or as near to it as that allows. The shift of the
    /// framing is counted from the middle, and taken as far as the subject keeps its room.
    ///
    /// ```
    /// use ratiomet_core::{subject::{Around, Room, Share, Subject}, *};
    /// let source = Source::new(
    ///     Raster::new(3840, 2160)?,
    ///     PixelAspect::SQUARE,
    ///     Squeeze::NONE,
    ///     Insets::default(),
    ///     Rotation::None,
    /// )?;
    /// let story = DeliveryFrame::new(Raster::new(1080, 1920)?, PixelAspect::SQUARE, None, Step::Two)?;
    /// let share = |text| Share::parse(text).unwrap();
    /// // Somebody in the left third.
    /// let subject = Subject::new([share("1/8"), share("1/4")], [share("1/8"), share("3/4")])?;
    /// let around = Around::of(&source, &story, &Framing::of(Method::Fill), &subject, &Room::default());
    /// assert_eq!(around.shown, Exact::ONE);
    /// assert_eq!(around.off_middle.x, Exact::ZERO);
    /// # Ok::<(), Error>(())
    /// ```
    pub fn of(source: &Source, frame: &DeliveryFrame, framing: &Framing, subject: &Subject, room: &Room) -> Self {
        let upright = source.upright();
        let size = Placement::of(&upright, frame, framing).size;
        let area = frame.picture_area().rect();
        let share = subject;
        let subject = share.within(&upright);
        let asked = framing.shift();
        // The subject's edges when the shift is 0.
        let edges = |axis| {
            let image = size.along(axis);
            let unit = image / upright.along(axis);
            let left = area.centre(axis) - image.half();
            [&left + subject.start(axis) * &unit, &left + subject.end(axis) * &unit]
        };
        let off = |axis, shift: &Exact| {
            let [start, end] = edges(axis);
            (start + end).half() + shift - area.centre(axis)
        };
        let found: Axes<Delivery> = Axes::each(|axis| {
            let [start, end] = edges(axis);
            let reach = (size.along(axis) - area.size.along(axis)).abs().half().min(limits::SHIFT.high());
            // Between these shifts the subject keeps its room, or the area holds nothing but subject.
            let [room_start, room_end] = room.along(axis, frame, &(&end - &start));
            let (first, second) = (room_start - start, room_end - end);
            let (low, high) = if first < second { (first, second) } else { (second, first) };
            let wished = asked.of(axis) - off(axis, &Exact::ZERO);
            nearest(&wished, &low, &high, &reach).reduced()
        });
        let shift = |axis| Shift::new(found.of(axis).clone()).expect("within the reach, and that within the bounds");
        let framing = Framing { shift_x: shift(Axis::X), shift_y: shift(Axis::Y), ..framing.clone() };
        let plan = Plan::of(source, frame, &framing);
        let seen = plan.seen().and_then(|seen| seen.intersection(&subject));
        let shown = seen.map_or(Exact::ZERO, |seen| (seen.size.area() / subject.size.area()).reduced());
        let free = share.free(&plan);
        let off_middle = Axes::each(|axis| off(axis, found.of(axis)).reduced());
        Self { framing, plan, shown, off_middle, free }
    }

    /// Whether all of the subject is seen.
    pub fn is_whole(&self) -> bool {
        self.shown == Exact::ONE
    }
}

/// The value nearest to `asked` among those within `reach` either way of 0 that lie between `low`
/// and `high`, or come nearest to lying there.
fn nearest(asked: &Exact, low: &Exact, high: &Exact, reach: &Exact) -> Exact {
    let least = Exact::ZERO - reach;
    let held = |value: Exact| value.max(least.clone()).min(reach.clone());
    held(asked.clone().max(held(low.clone())).min(held(high.clone())))
}
